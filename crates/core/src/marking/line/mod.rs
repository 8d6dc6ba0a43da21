//! Whole modules of a stock spaced along one line, proven best over every place to which a tape is read.
//!
//! Goals in strict order, each counted so coarsely that what follows still decides:
//!
//! 1. the film that is asked, and what is wanted to spare;
//! 2. the first strip as near the front and the last as near the rear as can be, counted in 1/2 in;
//! 3. the largest gap within the shop's limit, or as little over it as can be, counted in 1 in;
//! 4. fewest strips, none longer than the shop's;
//! 5. smallest largest gap, then largest smallest gap, both counted in 1 in;
//! 6. least difference between the longest strip and the shortest;
//! 7. fewest strip edges on rivet heads, then fewest heads under the tape;
//! 8. least film; fewest strips that are turned round; gaps as even as can be.
//!
//! All lengths inside are whole micrometres: sums and comparisons are exact.

mod last;
mod made;
mod problem;
mod window;

pub use made::{Line, Needs};
pub use problem::{
    Blocked, Cost, Goals, LineHead, LineHeads, LineLayout, LineProblem, MOST_MODULES, NoLayout,
    Placed, free,
};

/// The best layout of one line, rivets weighed.
///
/// ```
/// use windrift_core::marking::line::{LineHeads, LineProblem, spaced};
/// use windrift_core::marking::{ColourRun, TapeColour};
/// let pattern = [TapeColour::Red, TapeColour::White].map(|colour| ColourRun { colour, length_mm: 304.8.into() }).to_vec();
/// // A bare side of 48 ft: half of it covered, one pattern to spare, strips of two patterns.
/// let bare = LineProblem {
///     ends_mm: (0.0, 14_630.4), blocked_mm: vec![], pattern, least_film_mm: 7315.2, spare_mm: 609.6, longest: 2,
///     gap_limit_mm: 1219.2, step_mm: 25.4 / 16.0,
/// };
/// let (goals, layout) = spaced(&bare, &LineHeads::default()).unwrap();
/// assert_eq!((goals.strips, layout.strips.len()), (7, 7));
/// assert!(layout.strips.iter().all(|s| s.modules == 2));
/// assert!(goals.largest - goals.spread >= 39 && goals.largest <= 40, "gaps of 39 to 40 in: {goals:?}");
/// ```
///
/// Errors: nowhere a module's length free; less film fits than is asked.
pub fn spaced(p: &LineProblem, heads: &LineHeads) -> Result<(Goals, LineLayout), NoLayout> {
    let line = Line::of(p)?;
    let (needs, goals) = line.goals()?;
    Ok((goals, line.layout(&needs, &goals, heads)))
}
