//! What is added begins where it can be seen: as large as usual, on the side, where nothing stands yet.

use kurbo::{Point, Rect, Size, Vec2};
use thiserror::Error;

use crate::art::Art;
use crate::art::lettering::Lettering;
use crate::art::printed_panel::PrintedPanel;
use crate::art::stripe::Stripe;
use crate::film::classes::FilmClass;
use crate::ground::tape::Unit;
use crate::place::between;
use crate::place::edges::EdgeRef;
use crate::place::rules::{Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules};
use crate::plan::piece::{Piece, draw};
use crate::vehicle::feature::kind::ComesOff;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::SideKind;
use crate::vehicle::surface::Material;

const INCH: f64 = 25.4;
/// Cells along and down in which room is looked for.
const CELLS: (usize, usize) = (96, 48);
/// What is kept to the side's edges, mm; on a small side this share of it.
const EDGE: (f64, f64) = (25.4, 0.03);
/// What is kept to other film, mm.
const APART_MM: f64 = 12.7;
/// Room that is nearly as good is taken where it is nearer to the usual place.
const AS_GOOD: f64 = 0.98;
/// Room that is left for the rounding of place and size.
const ROUNDED: f64 = 0.97;
/// Nothing smaller than this is begun with, mm high.
const LEAST_MM: f64 = 10.0;

/// What can be added without a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FirstKind {
    /// A line of lettering.
    Lettering,
    /// A stripe from edge to edge.
    Stripe,
    /// A printed panel.
    Panel,
    /// A section of stripe between two edges of film that stays.
    Section,
}

/// What a new piece would be like on this side: its usual size, smaller where the side or what is on it leaves less room, at the usual
/// place a foot and a half from the front and a foot down, elsewhere where that is taken. `taken` are boxes of film in the picture
/// frame.
///
/// ```
/// # use windrift_core::art::Art;
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::plan::first::{FirstKind, first_piece};
/// # use windrift_core::vehicle::{body::Body, measured::measure::measure, side::{Side, words::SideKind}, surface::Surface};
/// // A board of 24 × 10 in: a line of 8 in capitals would be three times as wide.
/// let body = Body::Box { length_mm: 609.6.into(), height_mm: 254.0.into(), fall_mm: 0.0.into() };
/// let board = measure(&Side::new(SideKind::Other, body, Surface::default()), &[]).unwrap();
/// let piece = first_piece(FirstKind::Panel, &board, &[], Unit::InchSixteenth).unwrap();
/// let Art::Panel(panel) = &piece.art else { panic!() };
/// assert!(panel.width_mm.mm() < 609.6 && panel.height_mm.mm() < 254.0);
/// ```
pub fn first_piece(
    kind: FirstKind,
    side: &MeasuredSide,
    taken: &[Rect],
    unit: Unit,
) -> Result<Piece, FirstError> {
    let piece = match kind {
        FirstKind::Lettering => lettering(side, taken, unit),
        FirstKind::Panel => panel(side, taken, unit),
        FirstKind::Stripe => stripe(side, taken, unit),
        FirstKind::Section => section(side)?,
    };
    Ok(in_film_for(piece, side))
}

/// The piece in the film that its surface asks for, where that is another than the usual one for its kind: only film made for texture holds on
/// textured plastic, and a print on a hull is one for hulls (common practice, no source). What the crew settles afterwards stands.
pub fn in_film_for(mut piece: Piece, side: &MeasuredSide) -> Piece {
    let hull = matches!(
        side.side.kind,
        SideKind::Port | SideKind::Starboard | SideKind::Transom
    );
    let film = match (side.side.surface.material, &piece.art) {
        (Material::TexturedPlastic, _) => Some(FilmClass::ThickKit),
        (_, Art::Panel(_)) if hull => Some(FilmClass::HullPrint),
        _ => None,
    };
    piece.work.film = piece.work.film.or(film);
    piece
}

/// Something that cannot be begun.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum FirstError {
    /// There is nothing for a section to meet.
    #[error(
        "A section is fitted between two edges of film that stays, and {0} measured on this side. Measure both under Look over, each from its upper to its lower corner: film edge 96 back 30 down to 96 back 34 down."
    )]
    FilmEdges(&'static str),
}

/// A section between the two foremost film edges.
fn section(side: &MeasuredSide) -> Result<Piece, FirstError> {
    let mut edges: Vec<_> = between::edges(side).collect();
    edges.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    let [front, rear, ..] = edges[..] else {
        return Err(FirstError::FilmEdges(match edges.len() {
            0 => "none is",
            _ => "only one is",
        }));
    };
    let wide = match front.points[..] {
        [a, .., b] => a.distance(b),
        _ => 100.0,
    };
    let stripe = Stripe {
        clearance_mm: (INCH / 4.0).into(),
        ..Stripe::of_width("section", "#8c1d18", wide.clamp(1.0, 3000.0))
    };
    let place = PlaceRule::Between {
        front: front.source.0,
        rear: rear.source.0,
        lap_mm: 0.0.into(),
    };
    Ok(Piece::new(Art::Stripe(stripe), place))
}

fn lettering(side: &MeasuredSide, taken: &[Rect], unit: Unit) -> Piece {
    let line = |height_mm: f64| Lettering::line("NEW LETTERING", "barlow-condensed", height_mm);
    let of = |height_mm: f64, at: Place| {
        Piece::new(Art::Lettering(line(height_mm)), at.rule(DownTo::CapLine))
    };
    let usual = usual_place(side);
    let trial = of(100.0, usual);
    let wide = draw(&trial, side, &Default::default()).map_or(6.0, |d| d.nominal.width() / 100.0);
    let found = room(side, taken, wide, in_unit(8.0 * INCH, 200.0, unit), usual);
    of(nice(found.height_mm, unit), found.place.rounded(unit))
}

fn panel(side: &MeasuredSide, taken: &[Rect], unit: Unit) -> Piece {
    let high = in_unit(24.0 * INCH, 600.0, unit);
    let bleed = in_unit(2.0 * INCH, 50.0, unit);
    // Room for the trimmed size; bleed may stand over it, but not take half of a small one.
    let found = room(side, taken, 2.0, high, usual_place(side));
    let height = nice(found.height_mm, unit).max(in_unit(INCH / 2.0, 12.0, unit));
    let panel = PrintedPanel {
        name: "printed panel".into(),
        width_mm: (2.0 * height).into(),
        height_mm: height.into(),
        bleed_mm: bleed.min(nice(height / 8.0, unit)).into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: Vec::new(),
    };
    Piece::new(
        Art::Panel(panel),
        found.place.rounded(unit).rule(DownTo::CapLine),
    )
}

fn stripe(side: &MeasuredSide, taken: &[Rect], unit: Unit) -> Piece {
    let bounds = side.outline.bounds;
    let width = in_unit(3.0 * INCH, 75.0, unit).min(nice(bounds.height() / 8.0, unit));
    let gap = in_unit(2.0 * INCH, 50.0, unit).min(nice(bounds.width() / 20.0, unit));
    // Under what is there already, where there is room for most of its length.
    let most = Size::new(0.8 * bounds.width(), width);
    let down = place_of(side, taken, most, usual_place(side))
        .rounded(unit)
        .down_mm;
    let rules = Rules {
        along: Along::SameGap {
            from: EdgeRef::FrontEdge,
            to: EdgeRef::RearEdge,
            gap_mm: gap.into(),
        },
        ..rules_at(
            Place {
                back_mm: 0.0,
                down_mm: down,
                runs_right: true,
            },
            DownTo::Top,
        )
    };
    let stripe = Stripe {
        length_mm: (bounds.width() - 2.0 * gap).max(20.0).into(),
        parted: true,
        margin_mm: (INCH / 8.0).into(),
        clearance_mm: (INCH / 4.0).into(),
        ..Stripe::of_width("stripe", "#8c1d18", width)
    };
    Piece::new(Art::Stripe(stripe), PlaceRule::Rules(rules))
}

/// Where the front upper corner of something lies: back along the side's own reference and down from it, mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// Back along the reference.
    pub back_mm: f64,
    /// Down from it.
    pub down_mm: f64,
    /// Whether the tape runs to the picture's right.
    pub runs_right: bool,
}

impl Place {
    /// The same on the next marks of the tape.
    pub fn rounded(self, unit: Unit) -> Place {
        let to = |mm: f64| (mm / unit.mark_mm()).ceil() * unit.mark_mm();
        Place {
            back_mm: to(self.back_mm.max(0.0)),
            down_mm: to(self.down_mm.max(0.0)),
            ..self
        }
    }

    /// As a rule for place.
    pub fn rule(self, to: DownTo) -> PlaceRule {
        PlaceRule::Rules(rules_at(self, to))
    }
}

fn rules_at(place: Place, to: DownTo) -> Rules {
    Rules {
        reference: None,
        along: Along::FromFront {
            distance_mm: place.back_mm.into(),
            to: if place.runs_right {
                LetterEnd::FirstLetter
            } else {
                LetterEnd::LastLetter
            },
        },
        down: Down::FromDatum {
            distance_mm: place.down_mm.into(),
            to,
        },
        angle: Angle::AlongDatum,
    }
}

/// A foot and a half back and a foot down, on a small side nearer.
pub fn usual_place(side: &MeasuredSide) -> Place {
    let bounds = side.outline.bounds;
    Place {
        back_mm: (18.0 * INCH).min(bounds.width() * 0.1),
        down_mm: (12.0 * INCH).min(bounds.height() * 0.2),
        runs_right: side.side.direction() > 0.0,
    }
}

/// Room that was found.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Room {
    /// How high what goes there can be, mm.
    pub height_mm: f64,
    /// Where its front upper corner lies.
    pub place: Place,
}

/// The best room for something `wide` times as wide as high: as high as it is `wanted`, or as high as there is room for, nearest to the
/// usual place. Looked for in cells; where nothing is free at all, on the bare side, as if nothing stood there.
pub fn room(side: &MeasuredSide, taken: &[Rect], wide: f64, wanted_mm: f64, usual: Place) -> Room {
    let found = search(side, taken, true, wide, wanted_mm, usual)
        .filter(|r| r.height_mm >= LEAST_MM)
        .or_else(|| search(side, &[], false, wide, wanted_mm, usual));
    found.unwrap_or(Room {
        height_mm: wanted_mm.min(side.outline.bounds.height() / 3.0),
        place: usual,
    })
}

/// Where something of a given size goes: where nothing stands yet, else on the bare side, else in the middle of it, or from its upper front
/// corner over its edges, where it can be seen and dragged.
pub fn place_of(side: &MeasuredSide, taken: &[Rect], size: Size, usual: Place) -> Place {
    let wide = size.width / size.height.max(1e-6);
    let fits = |among: bool, taken: &[Rect]| {
        search(side, taken, among, wide, size.height, usual)
            .filter(|r| r.height_mm > size.height - 1e-6)
    };
    let found = fits(true, taken).or_else(|| fits(false, &[]));
    let bounds = side.outline.bounds;
    found.map_or(
        Place {
            back_mm: ((bounds.width() - size.width) / 2.0).max(0.0),
            down_mm: ((bounds.height() - size.height) / 2.0).max(0.0),
            ..usual
        },
        |r| r.place,
    )
}

fn search(
    side: &MeasuredSide,
    taken: &[Rect],
    among: bool,
    wide: f64,
    wanted_mm: f64,
    usual: Place,
) -> Option<Room> {
    let bounds = side.outline.bounds;
    let (nx, ny) = CELLS;
    let cell = Vec2::new(bounds.width() / nx as f64, bounds.height() / ny as f64);
    let edge = EDGE.0.min(bounds.width().min(bounds.height()) * EDGE.1);
    let corner = |i: usize, j: usize| {
        Point::new(bounds.x0 + i as f64 * cell.x, bounds.y0 + j as f64 * cell.y)
    };
    // Corners of cells that lie on the side, and not at its very edge.
    let on: Vec<bool> = (0..=ny)
        .flat_map(|j| (0..=nx).map(move |i| (i, j)))
        .map(|(i, j)| {
            let p = corner(i, j);
            // Corners on the outline itself belong to the side; what keeps off them is kept below.
            let inward = p + (bounds.center() - p) * 1e-3;
            side.outline.contains(inward)
        })
        .collect();
    let mut away: Vec<Rect> = taken
        .iter()
        .map(|r| r.inflate(APART_MM, APART_MM))
        .collect();
    if among {
        away.extend(
            side.hardware()
                .filter(|a| a.comes_off == ComesOff::Stays)
                .map(|a| a.outline.bounds.inflate(a.clearance_mm, a.clearance_mm)),
        );
    }
    let free = |i: usize, j: usize| {
        let here = Rect::from_points(corner(i, j), corner(i + 1, j + 1));
        let at = |i: usize, j: usize| on[j * (nx + 1) + i];
        at(i, j)
            && at(i + 1, j)
            && at(i, j + 1)
            && at(i + 1, j + 1)
            && !away.iter().any(|r| r.overlaps(here))
    };
    let mut best: Option<(f64, f64, Room)> = None;
    let mut high = vec![0usize; nx];
    for j in 0..ny {
        for (i, h) in high.iter_mut().enumerate() {
            *h = if free(i, j) { *h + 1 } else { 0 };
        }
        for from in 0..nx {
            let mut rows = usize::MAX;
            for (to, column) in high.iter().enumerate().skip(from) {
                rows = rows.min(*column);
                if rows == 0 {
                    break;
                }
                let lot = Rect::from_points(corner(from, j + 1 - rows), corner(to + 1, j + 1))
                    .inset(-edge);
                if lot.width() <= 0.0 || lot.height() <= 0.0 {
                    continue;
                }
                // What hangs on a datum that falls is turned with it, and takes more room.
                let slope = side.datum.back.y.abs();
                let fits = (lot.height() / (1.0 + wide * slope)).min(lot.width() / (wide + slope));
                let height = (fits * ROUNDED).min(wanted_mm);
                if best.as_ref().is_some_and(|(h, _, _)| height < h * AS_GOOD) {
                    continue;
                }
                let (place, aside) = nearest(side, lot, height * wide, height, usual);
                let better = best
                    .as_ref()
                    .is_none_or(|(h, d, _)| height * AS_GOOD > *h || aside < *d);
                if better {
                    best = Some((
                        height,
                        aside,
                        Room {
                            height_mm: height,
                            place,
                        },
                    ));
                }
            }
        }
    }
    best.map(|(_, _, room)| room)
}

/// Where in a lot something lies nearest to the usual place, and how far from it that is, mm.
fn nearest(side: &MeasuredSide, lot: Rect, width: f64, height: f64, usual: Place) -> (Place, f64) {
    let wanted = side.datum.at(usual.back_mm, usual.down_mm);
    let falls = side.datum.back.y * width;
    let (width, height) = (
        width + side.datum.back.y.abs() * height,
        height + falls.abs(),
    );
    // Where it rises to the rear the front corner is not the highest.
    let rises = (-falls).max(0.0);
    let lowest = (lot.y1 - height).max(lot.y0);
    let y = (wanted.y - rises).clamp(lot.y0, lowest) + rises;
    // The corner nearer the front: the left one where the tape runs to the right.
    let x = if usual.runs_right {
        wanted.x.clamp(lot.x0, (lot.x1 - width).max(lot.x0))
    } else {
        wanted.x.clamp((lot.x0 + width).min(lot.x1), lot.x1)
    };
    let at = Point::new(x, y);
    let (back_mm, down_mm) = side.datum.read(at);
    (
        Place {
            back_mm,
            down_mm,
            ..usual
        },
        at.distance(wanted),
    )
}

fn in_unit(inches: f64, millimetres: f64, unit: Unit) -> f64 {
    match unit {
        Unit::Millimetre => millimetres,
        _ => inches,
    }
}

/// The next size down that somebody would say: half inches above 2 in, eighths below; tens and single millimetres.
fn nice(mm: f64, unit: Unit) -> f64 {
    let step = match (unit, mm) {
        (Unit::Millimetre, mm) if mm >= 50.0 => 10.0,
        (Unit::Millimetre, _) => 1.0,
        (_, mm) if mm >= 2.0 * INCH => INCH / 2.0,
        _ => INCH / 8.0,
    };
    ((mm + 1e-6) / step).floor().max(1.0) * step
}
