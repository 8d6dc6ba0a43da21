//! What a line is asked, what comes out, and where its tape may lie.

use crate::marking::strip::{ColourRun, TapeColour};

/// Most modules on one line: 53 ft in modules of 6 in are 107.
pub const MOST_MODULES: usize = 400;
/// Micrometres of a millimetre.
pub(super) const UM: f64 = 1000.0;
/// Gaps are counted in inches, µm.
pub(super) const INCH: i64 = 25_400;
/// Ends are counted in half inches, µm.
pub(super) const HALF_INCH: i64 = 12_700;
/// A span along the line where film may not lie.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Blocked {
    /// Where it begins, clearances included, mm.
    pub from_mm: f64,
    /// Where it ends, mm.
    pub to_mm: f64,
    /// The one colour that may lie there all the same.
    pub but: Option<TapeColour>,
}

/// A line on which strips are spaced. Lengths in mm along it.
#[derive(Debug, Clone, PartialEq)]
pub struct LineProblem {
    /// Where the surface begins and ends.
    pub ends_mm: (f64, f64),
    /// Where no film may lie; in any order, overlapping or not.
    pub blocked_mm: Vec<Blocked>,
    /// Colours of one module, as they come off the roll.
    pub pattern: Vec<ColourRun>,
    /// Least film, all strips together.
    pub least_film_mm: f64,
    /// Film beyond that, wanted so that a strip can be cut back later.
    pub spare_mm: f64,
    /// Modules of the longest strip.
    pub longest: usize,
    /// Largest gap that is wanted.
    pub gap_limit_mm: f64,
    /// From one place that is tried to the next: what a tape is read to.
    pub step_mm: f64,
}

/// Rivet heads that tape along a line at one height touches.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct LineHeads(pub Vec<LineHead>);

/// A head beside or under the band of a tape.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LineHead {
    /// Its middle along the line, mm.
    pub at_mm: f64,
    /// Tape that ends nearer to its middle than this touches it, mm.
    pub reach_mm: f64,
    /// Tape that ends no nearer than this on both sides covers it whole, mm; nothing where the band's own edge lies on it.
    pub whole_mm: Option<f64>,
}

/// A strip: where it begins and what it is.
#[derive(Debug, Clone, PartialEq)]
pub struct Placed {
    /// Where it begins, mm.
    pub start_mm: f64,
    /// Modules in it.
    pub modules: usize,
    /// Its colours from the front.
    pub runs: Vec<ColourRun>,
    /// Whether it is turned round or begins elsewhere in the pattern than it comes off the roll.
    pub turned: bool,
}

/// How good a line can be, before rivets: smaller is better, in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Goals {
    /// Whether what is wanted to spare cannot be had.
    pub no_spare: bool,
    /// Both ends' distances together, in half inches.
    pub ends: i64,
    /// Inches by which the largest gap must be over the limit.
    pub over_limit: i64,
    /// Strips.
    pub strips: usize,
    /// Inches that the largest gap is no longer than.
    pub largest: i64,
    /// Inches from what the smallest gap is at least to that.
    pub spread: i64,
    /// Modules between the shortest strip and the longest.
    pub strip_spread: usize,
}

/// What rivets, film and turning cost: smaller is better, in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default)]
pub struct Cost {
    /// Heads with an edge of tape on them.
    pub edges: u32,
    /// Heads under tape.
    pub under: u32,
    /// Modules.
    pub modules: u32,
    /// Strips that are turned.
    pub turned: u32,
}

/// The best layout of a line.
#[derive(Debug, Clone, PartialEq)]
pub struct LineLayout {
    /// Strips from the front.
    pub strips: Vec<Placed>,
    /// What it came to.
    pub cost: Cost,
    /// Whether rivets were weighed over every place; not so where strips could be mixed in too many ways.
    pub weighed: bool,
}

/// Why a line has no layout.
#[derive(Debug, Clone, PartialEq)]
pub enum NoLayout {
    /// Nowhere is a module's length free.
    NoRoom,
    /// Less film fits than is asked: what fits in whole modules, mm.
    TooLittle(f64),
}

/// Spans, sorted and apart, µm.
pub(super) type Spans = Vec<(i64, i64)>;

pub(super) fn um(mm: f64) -> i64 {
    (mm * UM).round() as i64
}

/// What is left of a surface beside what is blocked, in spans of at least `least_mm`, mm.
pub fn free(ends_mm: (f64, f64), blocked_mm: &[(f64, f64)], least_mm: f64) -> Vec<(f64, f64)> {
    let blocked: Vec<Blocked> = (blocked_mm.iter())
        .map(|(a, b)| Blocked {
            from_mm: *a,
            to_mm: *b,
            but: None,
        })
        .collect();
    free_for(ends_mm, &blocked, None)
        .into_iter()
        .filter(|(a, b)| b - a >= um(least_mm))
        .map(|(a, b)| (a as f64 / UM, b as f64 / UM))
        .collect()
}

/// Where tape of a colour may lie, µm; of no colour in particular, everything blocks.
pub(super) fn free_for(
    ends_mm: (f64, f64),
    blocked: &[Blocked],
    colour: Option<TapeColour>,
) -> Spans {
    let mut out: Spans = (blocked.iter())
        .filter(|b| b.but.is_none() || b.but != colour)
        .map(|b| (um(b.from_mm.min(b.to_mm)), um(b.from_mm.max(b.to_mm))))
        .collect();
    out.sort_unstable();
    let (mut from, to) = (um(ends_mm.0), um(ends_mm.1));
    let mut free = Vec::new();
    for (a, b) in out {
        if a.min(to) > from {
            free.push((from, a.min(to)));
        }
        from = from.max(b);
    }
    if to > from {
        free.push((from, to));
    }
    free
}
