//! Two sides of one vehicle beside each other: both are laid out alike unless something in the way says otherwise, and then it is told.

use crate::ground::tape::{Unit, print};
use crate::marking::face::{MarkSide, Obstacle};
use crate::marking::strip::Strip;
use crate::vehicle::side::words::Ends;

/// Places and lengths that differ by less are one, mm: 1/8 in (ours).
const ALIKE_MM: f64 = 3.2;
/// Most sentences: beyond, the two layouts have little in common.
const MOST: usize = 8;

/// A side with the strips that lie on it.
#[derive(Debug, Clone, Copy)]
pub struct MarkedSide<'a> {
    /// The face.
    pub side: &'a MarkSide,
    /// Its strips.
    pub strips: &'a [Strip],
}

/// What differs between the strips of this side and those of another one of the vehicle, in sentences; nothing where both are alike.
///
/// Both are told by their running distances, so that the zero of both tapes is the same end of the vehicle. After what differs comes what
/// stands on one side only, near strips that differ.
///
/// ```
/// # use windrift_core::{ground::tape::Unit, vehicle::side::words::Ends};
/// # use windrift_core::marking::{ColourRun, Face, MarkSide, Strip, TapeColour, both_sides::{MarkedSide, differences}};
/// # let side = MarkSide { face: Face::Side, ends_mm: (0.0, 6096.0), height_mm: (900.0, 2900.0), obstacles: vec![], heads: vec![] };
/// # let runs = vec![ColourRun { colour: TapeColour::Red, length_mm: 609.6.into() }];
/// # let strip = |at: f64| Strip { start_mm: at.into(), centre_mm: 1200.0.into(), width_mm: 50.8.into(), runs: runs.clone(), upright: false, split_mm: None, reflectors: None, element: Default::default() };
/// let here = [strip(0.0), strip(2540.0)];
/// let there = [strip(0.0), strip(2590.8)];
/// let of = |strips| MarkedSide { side: &side, strips };
/// let told = differences(of(&here), of(&there), "curb side", Ends(["front", "rear"]), Unit::InchSixteenth);
/// assert_eq!(told, ["Strip 2 begins 2 nearer the front than on the curb side."]);
/// assert!(differences(of(&here), of(&here), "curb side", Ends(["front", "rear"]), Unit::InchSixteenth).is_empty());
/// ```
pub fn differences(
    here: MarkedSide<'_>,
    there: MarkedSide<'_>,
    other: &str,
    Ends([zero, far]): Ends,
    unit: Unit,
) -> Vec<String> {
    let text = |mm: f64| print(mm.abs(), unit).text;
    let mut told = Vec::new();
    let longer = here.side.length_mm() - there.side.length_mm();
    if longer.abs() > ALIKE_MM {
        let word = if longer > 0.0 { "longer" } else { "shorter" };
        told.push(format!(
            "This side is {} {word} than the {other}.",
            text(longer)
        ));
    }
    if here.strips.len() != there.strips.len() {
        told.push(format!(
            "{} strips here, {} on the {other}.",
            here.strips.len(),
            there.strips.len()
        ));
    }
    let sorted = |strips: &[Strip]| {
        let mut all: Vec<(usize, Strip)> = (1..).zip(strips.iter().cloned()).collect();
        all.sort_by(|(_, a), (_, b)| {
            (a.element as u8, a.upright)
                .cmp(&(b.element as u8, b.upright))
                .then(a.start_mm.total_cmp(&b.start_mm))
        });
        all
    };
    let (ours, theirs) = (sorted(here.strips), sorted(there.strips));
    let mut apart = Vec::new();
    if ours.len() == theirs.len() {
        for ((n, a), (_, b)) in ours.iter().zip(&theirs) {
            let mut off = Vec::new();
            let (start, long) = (a.start_mm - b.start_mm, a.length_mm() - b.length_mm());
            if start.abs() > ALIKE_MM {
                let end = if start < 0.0 { zero } else { far };
                off.push(format!("begins {} nearer the {end}", text(start)));
            }
            if long.abs() > ALIKE_MM {
                let word = if long > 0.0 { "longer" } else { "shorter" };
                off.push(format!("is {} {word}", text(long)));
            }
            let up = a.centre_mm - b.centre_mm;
            if up.abs() > ALIKE_MM {
                let word = if up > 0.0 { "higher" } else { "lower" };
                off.push(format!("lies {} {word}", text(up)));
            }
            let begins = |s: &Strip| s.runs.first().map(|r| r.colour);
            let colours = begins(a).zip(begins(b)).filter(|(own, there)| own != there);
            if !off.is_empty() || colours.is_some() {
                apart.extend([a.clone(), b.clone()]);
            }
            if !off.is_empty() {
                told.push(format!(
                    "Strip {n} {} than on the {other}.",
                    off.join(" and ")
                ));
            }
            if let Some((own, there)) = colours {
                told.push(format!(
                    "Strip {n} begins {} here and {} on the {other}.",
                    own.name(),
                    there.name()
                ));
            }
        }
    } else {
        apart.extend(ours.into_iter().chain(theirs).map(|(_, s)| s));
    }
    if told.len() > MOST {
        let more = told.len() - MOST;
        told.truncate(MOST);
        told.push(format!("And {more} more."));
    }
    if !told.is_empty() {
        told.extend(only(here.side, there.side, &apart).map(|o| {
            format!(
                "Only here: {} at {}.",
                o.name,
                text(o.back_mm.0 - here.side.ends_mm.0)
            )
        }));
        told.extend(only(there.side, here.side, &apart).map(|o| {
            format!(
                "Only on the {other}: {} at {}.",
                o.name,
                text(o.back_mm.0 - there.side.ends_mm.0)
            )
        }));
    }
    told
}

/// What stands at the height of strips that differ on one side and not on the other.
fn only<'a>(
    here: &'a MarkSide,
    there: &'a MarkSide,
    apart: &'a [Strip],
) -> impl Iterator<Item = &'a Obstacle> {
    let in_band = |o: &Obstacle| {
        let beside = |s: &Strip| {
            let (low, high) = s.rect().height_mm;
            o.height_mm.0 - o.clear_mm < high && o.height_mm.1 + o.clear_mm > low
        };
        apart.iter().any(beside)
    };
    let twin = |o: &Obstacle| {
        let near = |a: (f64, f64), b: (f64, f64)| {
            (a.0 - b.0).abs() <= ALIKE_MM && (a.1 - b.1).abs() <= ALIKE_MM
        };
        (there.obstacles.iter())
            .any(|t| near(t.back_mm, o.back_mm) && near(t.height_mm, o.height_mm))
    };
    (here.obstacles.iter())
        .filter(move |o| !o.is_edge() && in_band(o) && !twin(o))
        .take(6)
}
