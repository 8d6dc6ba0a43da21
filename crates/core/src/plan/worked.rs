//! What a print meets, and how each thing is worked: a print covers a side with all that stands on it, so that "move it clear" is for
//! lettering (ways of working: common practice, no source).

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::art::Art;
use crate::art::drawn::Drawn;
use crate::ground::outline::segment_within;
use crate::ground::tape::{Length, Unit, print};
use crate::place::placed::Placed;
use crate::plan::piece::Piece;
use crate::plan::relief::{ReliefAsk, ReliefCut, keys_of, relief_cuts};
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredSide};

/// Less than this of something is not met, mm.
const LEAST_MM: f64 = 5.0;

/// When something that a print meets is worked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum When {
    /// Before the film goes on.
    Before,
    /// When the strokes come to it.
    #[default]
    AsReached,
    /// Once the film lies.
    Once,
}

/// Something that a print meets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Worked {
    /// What it is called on this side: `door gap 1`.
    pub name: String,
    /// How it is worked.
    pub how: String,
    /// When that is done.
    #[serde(default)]
    pub when: When,
    /// How much of its line lies under the film.
    pub length: Length,
    /// Where it is cut, in the picture frame: each line from point to point, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
    /// Never covered, whatever anybody says.
    pub never: bool,
    /// The relief cut that lets film come round it, where it stays on within the print.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub relief: Option<ReliefCut>,
}

/// Everything that a printed panel meets, the longest first. Nothing for any other piece.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, features) = StartShape::CarSide.start(SideKind::Left);
/// # let features: Vec<_> = (1..).map(uuid::Uuid::from_u128).zip(features).map(|(id, feature)| windrift_core::vehicle::feature::SideFeature { id, feature }).collect();
/// # let measured = measure(&side, &features).unwrap();
/// # let print = PrintedPanel { name: "wrap".into(), width_mm: 2400.0.into(), height_mm: 700.0.into(), bleed_mm: 20.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// // A half wrap over both doors of a car.
/// let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(1400.0, LetterEnd::FirstLetter, 400.0));
/// let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::InchSixteenth).unwrap();
/// assert!(planned.worked.iter().any(|w| w.how.contains("down the middle of the gap")));
/// assert!(!planned.troubles.iter().any(|t| t.contains("door gap")));
/// ```
pub fn worked(
    piece: &Piece,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<Worked> {
    let Art::Panel(panel) = &piece.art else {
        return Vec::new();
    };
    // A film that must not be stretched is not worked into anything either, and not warmed for it.
    let stiff = piece.film_figures().stretch <= 0.0;
    let to_piece = placed.to_picture.inverse();
    let film = drawn.bounds;
    let clipped = |a: Point, b: Point| {
        let (a, b) = segment_within(film, to_piece * a, to_piece * b)?;
        Some((placed.to_picture * a, placed.to_picture * b))
    };
    let mut met = Vec::new();
    let mut meet = |name: &str,
                    kind: FeatureKind,
                    (when, how): Way,
                    edges: &mut dyn Iterator<Item = (Point, Point)>| {
        let lines: Vec<(Point, Point)> = edges.filter_map(|(a, b)| clipped(a, b)).collect();
        let long: f64 = lines.iter().map(|(a, b)| a.distance(*b)).sum();
        if long >= LEAST_MM {
            met.push(Worked {
                name: name.to_owned(),
                how: how.to_owned(),
                when,
                length: print(long, unit),
                lines: lines
                    .into_iter()
                    .map(|(a, b)| vec![[a.x, a.y], [b.x, b.y]])
                    .collect(),
                never: kind.never_covered().is_some(),
                relief: None,
            });
        }
    };
    for line in &side.lines {
        if let Some(way) = over_line(line.kind, stiff) {
            let mut edges = line.points.windows(2).filter_map(|pair| match pair {
                [a, b] => Some((*a, *b)),
                _ => None,
            });
            meet(&line.name, line.kind, way, &mut edges);
        }
    }
    for area in &side.areas {
        if let Some(way) = over_area(area, stiff) {
            meet(&area.name, area.kind, way, &mut area.outline.edges());
        }
    }
    let trim = panel.trim(side.side.direction() > 0.0);
    let ask = ReliefAsk {
        film,
        // Bleed is trimmed off.
        covered_mm: [
            trim.x0 - film.x0,
            trim.y0 - film.y0,
            film.x1 - trim.x1,
            film.y1 - trim.y1,
        ],
        keys: &keys_of(panel, side),
        layered: piece.film_figures().layered_reflective,
    };
    for cut in relief_cuts(&ask, placed, side, unit) {
        if let Some(w) = met.iter_mut().find(|w| w.name == cut.name) {
            if cut.before_the_liner {
                w.when = When::Before;
            }
            w.how = if w.never {
                format!("{} {}", w.how, cut.told())
            } else {
                format!("It stays. {} Then cut round it.", cut.told())
            };
            w.relief = Some(cut);
        }
    }
    met.sort_by(|a, b| b.length.mm.total_cmp(&a.length.mm));
    met
}

/// What is to be done, and when.
type Way = (When, &'static str);

fn over_line(kind: FeatureKind, stiff: bool) -> Option<Way> {
    use When::{AsReached, Before, Once};
    Some(match kind {
        FeatureKind::DoorGap => (
            Once,
            "Cut down the middle of the gap and turn both edges in.",
        ),
        FeatureKind::PanelSeam if stiff => {
            (Once, "Cut it at the seam: this film is not worked in.")
        }
        FeatureKind::PanelSeam => (
            AsReached,
            "Work it down into the seam from its middle; the last of it with gentle heat and the brush.",
        ),
        FeatureKind::Waterline => (
            Before,
            "Stop above it: below the waterline water works under every edge.",
        ),
        FeatureKind::Crease | FeatureKind::BodyLine => (
            AsReached,
            "Work it from the line outwards to both sides, so that no air is shut in along it.",
        ),
        _ => return None,
    })
}

fn over_area(area: &Area, stiff: bool) -> Option<Way> {
    use When::{AsReached, Before, Once};
    if area.kind.never_covered().is_some() {
        // What lies flat is cut out once the film lies; what stands out holds it off, and is freed before.
        let flat = matches!(
            area.kind,
            FeatureKind::Plate | FeatureKind::SafetyLabel | FeatureKind::Exit
        );
        return Some((
            if flat { Once } else { AsReached },
            "Cut it out: it is never covered.",
        ));
    }
    if area.comes_off == ComesOff::ForGood {
        return None;
    }
    Some(match area.kind {
        FeatureKind::WheelArch => (
            Once,
            "Trim along its edge; thick film flush with it, thin film turned in.",
        ),
        FeatureKind::LockerDoor | FeatureKind::DoorGap => (
            Once,
            "Cut down the middle of the gap and turn both edges in.",
        ),
        FeatureKind::Moulding => (
            AsReached,
            "Work over it: thumb the crease first while the other side is held off.",
        ),
        FeatureKind::OldFilm => (
            Before,
            "Strip it before the panel goes on: what lies over old film lifts with it.",
        ),
        FeatureKind::Glass => (Once, "Cut it out along its edge."),
        FeatureKind::Recess | FeatureKind::CurvedZone | FeatureKind::ConcaveZone if stiff => (
            AsReached,
            "Cut it there, or give it relief cuts: this film is neither warmed nor stretched.",
        ),
        FeatureKind::TexturedZone if stiff => {
            (AsReached, "Press it firmly: this film is not warmed.")
        }
        FeatureKind::Recess => (
            AsReached,
            "Its deepest line first, then its walls, as it is told before the first stroke.",
        ),
        FeatureKind::CurvedZone | FeatureKind::ConcaveZone => (
            AsReached,
            "Form it with heat, spread over as much film as there is.",
        ),
        FeatureKind::TexturedZone => (AsReached, "Warm and press it into the texture."),
        _ if area.comes_off != ComesOff::Stays => {
            (Before, "It comes off first and goes back on afterwards.")
        }
        FeatureKind::Handle
        | FeatureKind::Hinge
        | FeatureKind::Latch
        | FeatureKind::Badge
        | FeatureKind::Socket
        | FeatureKind::Bracket => (
            AsReached,
            "It stays: cut in to it from the film\u{2019}s own edge, then round it.",
        ),
        _ => return None,
    })
}
