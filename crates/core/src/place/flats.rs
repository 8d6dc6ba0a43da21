//! Flats: the straight edges of a piece that a tape can be read to, and what it must read at two of them.
//!
//! Round letters overshoot the cap line, so a tape read to them lies. Only an edge that was drawn straight counts.

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::art::drawn::Drawn;
use crate::ground::datum::Datum;
use crate::ground::outline::Shape;
use crate::ground::tape::{Length, Unit, print};
use crate::place::placed::Placed;
use crate::vehicle::side::words::Ends;

/// An edge counts as parallel to the datum within this angle.
const PARALLEL_WITHIN_DEGREES: f64 = 0.25;
/// Shortest edge that a tape can be read to, mm; or this share of the capital height, whichever is more.
const SHORTEST_MM: f64 = 3.0;
const SHORTEST_SHARE_OF_CAPITAL: f64 = 0.05;
/// Two flats must be this near to the same height, mm.
const SAME_HEIGHT_MM: f64 = 0.2;
/// Film this far beyond an edge is in the way of the tape's end, mm.
const BEYOND_MM: f64 = 0.1;
/// A letter's flat lies at its very top or foot, within this share of its height: an arm farther in, or the underside of a serif, is no flat.
const AT_ITS_END: f64 = 0.02;
/// The tape crosses film on its way to a foot, so feet are used only when they lie this much farther apart than tops.
const FEET_FARTHER_BY: f64 = 1.1;
/// Marks on a trim line stand this share of the panel's width in from its ends.
const TRIM_MARK_SHARE: f64 = 0.1;
/// Two flats nearer together than this share of the film's width say too little about level.
const LEAST_SPREAD: f64 = 0.25;

/// Where the two readings are taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FlatsAt {
    /// Flat tops of letters.
    Tops,
    /// Flat feet of letters.
    Feet,
    /// Nothing has a usable flat: two registration marks that are cut beside the film.
    Marks,
    /// The upper corners of a stripe that runs along nothing that is measured from: they read differently.
    Corners,
    /// Neither flats nor marks: the upper corners of the box round the film, marked with slips of tape.
    BoxCorners,
    /// Marks on the trim line of a print: its own edge is bleed, which lies over the body's edge or is cut off.
    TrimMarks,
}

/// One place to which the tape is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Flat {
    /// The letter that the flat belongs to; `None` for a corner of the box.
    pub letter: Option<String>,
    /// What the tape is read to, in words: `flat of R`, `its edge`, `corner of the box`, `mark on its trim line`.
    #[serde(default)]
    pub to: String,
    /// What the tape must read from the datum, square to it.
    pub wanted: Length,
    /// How far back along the datum to hold the tape.
    pub back: Length,
    /// Exact distance back, mm.
    pub back_mm: f64,
    /// Exact distance down, mm.
    pub down_mm: f64,
    /// Length of the flat, mm; 0 for a corner.
    pub length_mm: f64,
    /// Middle of the flat in the picture frame, mm.
    pub at: [f64; 2],
}

/// The two flats of a piece, the one nearer the front first.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Flats {
    /// What kind of edge they are.
    pub at: FlatsAt,
    /// Nearer the front.
    pub front: Flat,
    /// Nearer the rear.
    pub rear: Flat,
    /// How far apart they are along the datum.
    pub apart: Length,
    /// What the two ends are called on this side: `front` and `rear`, `street` and `curb`, `port` and `starboard`.
    #[serde(default)]
    pub ends: [String; 2],
}

struct Candidate {
    part: usize,
    top: bool,
    middle: Point,
    back: f64,
    down: f64,
    length: f64,
}

/// Finds the two flats farthest apart at the same height. Falls back to the marks that are cut beside the film, where it has
/// some for that, and to the corners of the box round it; and says so.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_piece, plan_side, around::JobAround, piece::Piece, planned::PlannedPiece};
/// # use windrift_core::vehicle::{body::Body, measured::{MeasuredSide, measure::measure}, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let settings = WorkSettings::default();
/// # // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # // Letters 10 in high, 18 in from the front, their cap line 2 ft below the rail.
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let measured = measure(&side, &[]).unwrap();
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// # use windrift_core::{place::flats, vehicle::side::words::Ends};
/// let flats = flats::find(&planned.drawn, &planned.placed, &planned.placed.datum, Ends(["front", "rear"]), unit);
/// // The tape is held against the flat tops of the first and the last letter that have one, and must read the same there.
/// assert_eq!((flats.front.wanted.text.as_str(), flats.rear.wanted.text.as_str()), ("24", "24"));
/// ```
pub fn find(lettering: &Drawn, placed: &Placed, datum: &Datum, ends: Ends, unit: Unit) -> Flats {
    let candidates = candidates(lettering, placed, datum);
    let least = lettering.bounds.width() * LEAST_SPREAD;
    let tops = farthest(&candidates, true).filter(|(_, _, apart)| *apart >= least);
    let feet = farthest(&candidates, false).filter(|(_, _, apart)| *apart >= least);
    let chosen = match (tops, feet) {
        (Some(t), Some(f)) if f.2 > t.2 * FEET_FARTHER_BY => Some((FlatsAt::Feet, f)),
        (Some(t), _) => Some((FlatsAt::Tops, t)),
        (None, Some(f)) => Some((FlatsAt::Feet, f)),
        (None, None) => None,
    };
    let bleeds = !lettering.has_letters && lettering.nominal.y0 > lettering.bounds.y0 + 0.5;
    let flat = |middle: Point, letter: Option<String>, length_mm: f64| {
        let to = match &letter {
            Some(letter) => format!("flat of {letter}"),
            None if bleeds => "mark on its trim line".to_owned(),
            None if length_mm == 0.0 && lettering.upper_corners.is_some() => {
                "its upper corner".to_owned()
            }
            None if lettering.marks_to_read && length_mm == 0.0 => "registration mark".to_owned(),
            None if length_mm > 0.0 => "its edge".to_owned(),
            None => "corner of the box".to_owned(),
        };
        let at = placed.to_picture * middle;
        let (back_mm, down_mm) = datum.read(at);
        Flat {
            letter,
            to,
            wanted: print(down_mm, unit),
            back: print(back_mm, unit),
            back_mm,
            down_mm,
            length_mm,
            at: [at.x, at.y],
        }
    };
    let (at, mut front, mut rear) = match chosen {
        _ if bleeds => {
            let trim = lettering.nominal;
            let aside = trim.width() * TRIM_MARK_SHARE;
            (
                FlatsAt::TrimMarks,
                flat(Point::new(trim.x0 + aside, trim.y0), None, 0.0),
                flat(Point::new(trim.x1 - aside, trim.y0), None, 0.0),
            )
        }
        Some((at, (a, b, _))) => {
            let lettered = |c: &Candidate| {
                flat(
                    c.middle,
                    lettering
                        .parts
                        .get(c.part)
                        .filter(|_| lettering.has_letters)
                        .map(|p| lettering.name_of(p)),
                    c.length,
                )
            };
            (at, lettered(a), lettered(b))
        }
        None if let Some([left, right]) = lettering.upper_corners => (
            FlatsAt::Corners,
            flat(left, None, 0.0),
            flat(right, None, 0.0),
        ),
        None if lettering.marks_to_read && lettering.marks.len() >= 2 => {
            let ends = [lettering.marks.first(), lettering.marks.last()];
            let [first, last] = ends.map(|p| p.copied().unwrap_or_default());
            (
                FlatsAt::Marks,
                flat(first, None, 0.0),
                flat(last, None, 0.0),
            )
        }
        None => {
            // Bleed and wrapped film lie beyond the body: what is read to is what shows.
            let bounds = lettering.nominal;
            (
                FlatsAt::BoxCorners,
                flat(Point::new(bounds.x0, bounds.y0), None, 0.0),
                flat(Point::new(bounds.x1, bounds.y0), None, 0.0),
            )
        }
    };
    if front.back_mm > rear.back_mm {
        std::mem::swap(&mut front, &mut rear);
    }
    // The difference of the two printed figures, so that the three agree on paper.
    let apart = print(rear.back.mm - front.back.mm, unit);
    Flats {
        at,
        front,
        rear,
        apart,
        ends: ends.0.map(str::to_owned),
    }
}

fn farthest(candidates: &[Candidate], top: bool) -> Option<(&Candidate, &Candidate, f64)> {
    let mut best: Option<(&Candidate, &Candidate, f64)> = None;
    let of_kind: Vec<&Candidate> = candidates.iter().filter(|c| c.top == top).collect();
    for (n, a) in of_kind.iter().enumerate() {
        for b in of_kind.iter().skip(n + 1) {
            let apart = (a.back - b.back).abs();
            if (a.down - b.down).abs() <= SAME_HEIGHT_MM && best.is_none_or(|(_, _, d)| apart > d) {
                best = Some((a, b, apart));
            }
        }
    }
    best
}

fn candidates(lettering: &Drawn, placed: &Placed, datum: &Datum) -> Vec<Candidate> {
    let shortest = SHORTEST_MM.max(SHORTEST_SHARE_OF_CAPITAL * lettering.capital_height_mm);
    let parallel = PARALLEL_WITHIN_DEGREES.to_radians().sin();
    let mut found = Vec::new();
    for (part, edge) in &lettering.straight {
        let (from, to) = (placed.to_picture * edge.from, placed.to_picture * edge.to);
        let length = from.distance(to);
        if length < shortest || ((to - from).dot(datum.down) / length).abs() > parallel {
            continue;
        }
        let middle = edge.from.midpoint(edge.to);
        let (x0, x1) = (edge.from.x.min(edge.to.x), edge.from.x.max(edge.to.x));
        let in_the_way = |above: bool| {
            lettering
                .parts
                .iter()
                .filter(|p| p.bounds.x0 < x1 && p.bounds.x1 > x0)
                .flat_map(|p| &p.shapes)
                .any(|shape| reaches_beyond(shape, x0, x1, middle.y, above))
        };
        let (film_above, film_below) = (in_the_way(true), in_the_way(false));
        if film_above && film_below || !film_above && !film_below {
            continue;
        }
        if lettering.has_letters && !at_its_end(lettering, *part, middle.y, film_below) {
            continue;
        }
        // One edge that runs along much of the piece (a stripe, a panel, a bar) is read near both of its ends.
        let places = if length >= LEAST_SPREAD * lettering.bounds.width() {
            vec![edge.from.lerp(edge.to, 0.1), edge.from.lerp(edge.to, 0.9)]
        } else {
            vec![middle]
        };
        for middle in places {
            let (back, down) = datum.read(placed.to_picture * middle);
            found.push(Candidate {
                part: *part,
                top: film_below,
                middle,
                back,
                down,
                length,
            });
        }
    }
    found
}

/// Whether a letter ends at this height, at the top or at the foot.
fn at_its_end(lettering: &Drawn, part: usize, y: f64, top: bool) -> bool {
    lettering.parts.get(part).is_some_and(|p| {
        let end = if top { p.bounds.y0 } else { p.bounds.y1 };
        (y - end).abs() <= AT_ITS_END * p.bounds.height() + BEYOND_MM
    })
}

/// Whether any cut edge of the shape within the strip x0..x1 lies beyond `y`, upwards or downwards.
fn reaches_beyond(shape: &Shape, x0: f64, x1: f64, y: f64, above: bool) -> bool {
    let beyond = |at: f64| {
        if above {
            at < y - BEYOND_MM
        } else {
            at > y + BEYOND_MM
        }
    };
    let bounds = shape.bounds;
    if bounds.x1 <= x0 || bounds.x0 >= x1 || !beyond(if above { bounds.y0 } else { bounds.y1 }) {
        return false;
    }
    // The outermost hundredth at each end is left out: corners may be rounded or meet a neighbour.
    let inset = (x1 - x0) * 0.01;
    let (x0, x1) = (x0 + inset, x1 - inset);
    shape.edges().any(|(a, b)| {
        let (left, right) = if a.x <= b.x { (a, b) } else { (b, a) };
        if right.x <= x0 || left.x >= x1 {
            return false;
        }
        let at = |x: f64| {
            if right.x - left.x < 1e-9 {
                left.y
            } else {
                left.y + (right.y - left.y) * (x - left.x) / (right.x - left.x)
            }
        };
        if right.x - left.x < 1e-9 {
            beyond(left.y) || beyond(right.y)
        } else {
            beyond(at(left.x.max(x0))) || beyond(at(right.x.min(x1)))
        }
    })
}
