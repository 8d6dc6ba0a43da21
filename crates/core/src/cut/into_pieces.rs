//! A print made into its panels: each a piece of its own, laid out where it lies, so that it is hung, laid down and recorded by itself.

use kurbo::{Point, Rect, Vec2};
use thiserror::Error;
use uuid::Uuid;

use crate::art::Art;
use crate::art::printed_panel::{Bleeds, KeyFeature, Picture, PrintedPanel, Window, key_rect};
use crate::cut::panels::PanelPlan;
use crate::film::work::Work;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::Unit;
use crate::place::rules::{Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules};
use crate::plan::piece::Piece;
use crate::plan::plan_piece;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;

/// A print that cannot be made into panels. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum IntoPanelsError {
    /// One panel.
    #[error("It goes in one: there is nothing to part.")]
    One,
    /// It begins where no tape can be held.
    #[error(
        "The print begins ahead of the front edge or above its reference: its panels cannot be measured from there. Move it in first; what stands over the edge is bleed."
    )]
    Ahead,
    /// A panel that cannot be placed by itself.
    #[error("Panel {0} cannot be placed by itself: {1}")]
    Panel(u32, String),
}

/// The panels as pieces, the first to go on first: all of the print's own order, so that what lies over the print lies over every panel, and
/// among themselves they go on like shingles. Each keeps what of the picture lies on it, what must stay clear in it, and its bleed; what it
/// laps under the next one is bleed of that edge.
///
/// Errors: one panel alone; a panel that cannot be placed.
pub fn into_pieces(
    planned: &PlannedPiece,
    plan: &PanelPlan,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<Vec<Piece>, IntoPanelsError> {
    let Art::Panel(print) = &planned.piece.art else {
        return Err(IntoPanelsError::One);
    };
    if plan.panels.len() < 2 {
        return Err(IntoPanelsError::One);
    }
    let front_left = side.side.direction() > 0.0;
    let trim = print.trim(front_left);
    let of = |[x0, y0, x1, y1]: [f64; 4]| Rect::new(x0, y0, x1, y1);
    (plan.panels.iter())
        .map(|panel| {
            let film = of(panel.film);
            let shows = of(panel.shows);
            let art = part(print, panel.number, film, shows.intersect(trim), front_left);
            let piece = Piece {
                art: Art::Panel(art),
                group: Some(planned.piece.called()),
                work: Work {
                    // It is parted now.
                    parted_at: Vec::new(),
                    stand: Some(panel.stand),
                    ..planned.piece.work.clone()
                },
                ..planned.piece.clone()
            };
            let number = panel.number;
            placed(
                planned,
                number,
                piece,
                shows.intersect(trim),
                side,
                settings,
                unit,
            )
        })
        .collect()
}

/// What of a print is one panel. `film` and `shows` in the print's film frame.
fn part(
    print: &PrintedPanel,
    number: u32,
    film: Rect,
    shows: Rect,
    front_left: bool,
) -> PrintedPanel {
    let (left, right) = (shows.x0 - film.x0, film.x1 - shows.x1);
    let (front, rear) = if front_left {
        (left, right)
    } else {
        (right, left)
    };
    let keys = print.keys.iter().filter_map(|key| {
        let r = key_rect(print, key, front_left);
        let inside = shows.inflate(1e-6, 1e-6).union(r) == shows.inflate(1e-6, 1e-6);
        inside.then(|| KeyFeature {
            right_mm: (r.x0 - shows.x0).into(),
            down_mm: (r.y0 - shows.y0).into(),
            ..key.clone()
        })
    });
    PrintedPanel {
        name: format!("{} {number}", print.name),
        width_mm: shows.width().into(),
        height_mm: shows.height().into(),
        bleed_mm: 0.0.into(),
        bleeds: Some(Bleeds {
            front_mm: front.into(),
            rear_mm: rear.into(),
            top_mm: (shows.y0 - film.y0).into(),
            foot_mm: (film.y1 - shows.y1).into(),
        }),
        colour: print.colour.clone(),
        picture: print.picture.map(|picture| {
            let filled = print.picture_fills(&picture, front_left);
            Picture {
                window: Some(Window {
                    right_mm: (filled.x0 - film.x0).into(),
                    down_mm: (filled.y0 - film.y0).into(),
                    width_mm: filled.width().into(),
                    height_mm: filled.height().into(),
                }),
                ..picture
            }
        }),
        keys: keys.collect(),
    }
}

/// The piece placed so that its trimmed corner lies where it lay in the print.
fn placed(
    planned: &PlannedPiece,
    number: u32,
    piece: Piece,
    shows: Rect,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<Piece, IntoPanelsError> {
    let datum = &planned.placed.datum;
    // By its end nearer the front, whichever letter's end that is.
    let front_left = side.side.direction() > 0.0;
    let (to, end) = if front_left {
        (LetterEnd::FirstLetter, shows.x0)
    } else {
        (LetterEnd::LastLetter, shows.x1)
    };
    let wanted = planned.placed.to_picture * Point::new(end, shows.y0);
    let degrees = planned.placed.degrees(side.side.direction());
    let at = |distance: f64, down: f64| {
        PlaceRule::Rules(Rules {
            reference: planned.piece.place.reference(),
            along: Along::FromFront {
                distance_mm: distance.into(),
                to,
            },
            down: Down::FromDatum {
                distance_mm: down.into(),
                to: DownTo::CapLine,
            },
            angle: if degrees.abs() < 1e-6 {
                Angle::AlongDatum
            } else {
                Angle::Degrees { degrees }
            },
        })
    };
    let (mut back, mut down) = datum.read(wanted);
    let mut piece = piece;
    // Placed once to see where a rule of these figures puts it, then by what is off.
    for _ in 0..2 {
        if back < -0.01 || down < -0.01 {
            return Err(IntoPanelsError::Ahead);
        }
        piece.place = at(back.max(0.0), down.max(0.0));
        let tried = plan_piece(Uuid::nil(), &piece, side, settings, unit)
            .map_err(|e| IntoPanelsError::Panel(number, e.to_string()))?;
        let corner = match &tried.piece.art {
            Art::Panel(p) => {
                let trim = p.trim(front_left);
                Point::new(if front_left { trim.x0 } else { trim.x1 }, trim.y0)
            }
            _ => Point::ORIGIN,
        };
        let off: Vec2 = wanted - tried.placed.to_picture * corner;
        let origin = Point::ORIGIN;
        let ((b0, d0), (b1, d1)) = (datum.read(origin), datum.read(origin + off));
        back += b1 - b0;
        down += d1 - d0;
    }
    Ok(piece)
}
