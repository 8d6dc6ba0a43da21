//! A length cut into panels no wider than the roll prints, the joins where they cost least: a dynamic programme over every place of a step.
//!
//! The length runs from the edge that is laid first, the rear or the foot. Panel 1 begins there; each later one begins at a join, laps over
//! the one before by the lap, and its exposed edge, which is the join, points backwards or down.

use thiserror::Error;

/// Panels are at least this wide, mm: 12 in (ours).
pub const NARROWEST_MM: f64 = 304.8;

/// Panels beyond the fewest that are tried where the fewest leave no allowed join.
const MORE: usize = 3;

/// Ways in which a join can cost something, worst first.
pub const COSTS: usize = 7;

/// What one join costs, in the order of [`COSTS`]; nothing where no join is allowed there.
pub type Cost = [u32; COSTS];

/// What is to be split. Lengths in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SplitAsk {
    /// How long it is.
    pub length_mm: f64,
    /// How wide a panel can be printed.
    pub printable_mm: f64,
    /// How far a panel laps over the one before.
    pub lap_mm: f64,
    /// Joins are tried at every multiple of this.
    pub step_mm: f64,
}

/// A length that cannot be split.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum SplitError {
    /// The lap leaves nothing of a panel.
    #[error(
        "The lap is as wide as a panel can be printed. Choose a wider roll, or check the lap of this film."
    )]
    Lap,
    /// No number of panels has an allowed join.
    #[error(
        "No join is allowed anywhere: gaps along it leave no room. Move the print, or choose a wider roll."
    )]
    NoJoin,
    /// A figure is no length.
    #[error("Length, printable width, lap and step must be more than nothing. Measure them again.")]
    Figure,
}

/// Where the joins are.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Split {
    /// Joins in steps from the edge that is laid first.
    pub joins: Vec<usize>,
    /// What they cost together.
    pub cost: Cost,
    /// The fewest panels that the widths alone would need.
    pub fewest: usize,
}

/// The best split: fewest panels that have an allowed join, then least cost in its order, then panels as equal as can be.
///
/// `cost` is asked once for each step at which a join can lie.
///
/// ```
/// use windrift_core::cut::split::{SplitAsk, split};
/// // 4 m on a roll that prints 1.3 m, lap 25 mm; no join between 1.2 and 1.4 m.
/// let ask = SplitAsk { length_mm: 4000.0, printable_mm: 1300.0, lap_mm: 25.0, step_mm: 5.0 };
/// let found = split(&ask, |at| (!(1200.0..1400.0).contains(&at)).then_some([0; 7])).unwrap();
/// assert_eq!((found.joins.len(), found.fewest), (3, 4));
/// assert!(found.joins.iter().all(|j| !(1200.0..1400.0).contains(&(*j as f64 * 5.0))));
/// ```
///
/// Errors: figures that leave no panel; no allowed join.
pub fn split(
    ask: &SplitAsk,
    mut cost: impl FnMut(f64) -> Option<Cost>,
) -> Result<Split, SplitError> {
    let figures = [ask.length_mm, ask.printable_mm, ask.step_mm];
    if figures.iter().any(|f| !(f.is_finite() && *f > 0.0))
        || ask.lap_mm.is_nan()
        || ask.lap_mm < 0.0
    {
        return Err(SplitError::Figure);
    }
    if ask.length_mm <= ask.printable_mm + 1e-9 {
        return Ok(Split {
            joins: Vec::new(),
            cost: [0; COSTS],
            fewest: 1,
        });
    }
    let net = ask.printable_mm - ask.lap_mm;
    if net < ask.step_mm {
        return Err(SplitError::Lap);
    }
    // The last panel needs no lap under another.
    let fewest = ((ask.length_mm - ask.lap_mm) / net - 1e-9).ceil().max(2.0) as usize;
    let steps = (ask.length_mm / ask.step_mm).floor() as usize;
    let costs: Vec<Option<Cost>> = (0..=steps)
        .map(|k| {
            let at = k as f64 * ask.step_mm;
            (at > 0.0 && at < ask.length_mm).then(|| cost(at)).flatten()
        })
        .collect();
    for panels in fewest..=fewest + MORE {
        if let Some((joins, cost)) = of_panels(ask, panels, &costs) {
            return Ok(Split {
                joins,
                cost,
                fewest,
            });
        }
    }
    Err(SplitError::NoJoin)
}

/// Cost so far, then the sum of squared panel widths in steps: panels as equal as can be.
type Weight = (Cost, u64);

fn add(a: Weight, b: &Cost, wide: u64) -> Weight {
    let mut sum = a.0;
    for (s, b) in sum.iter_mut().zip(b) {
        *s = s.saturating_add(*b);
    }
    (sum, a.1.saturating_add(wide * wide))
}

/// The best joins for so many panels; nothing where none are allowed.
fn of_panels(ask: &SplitAsk, panels: usize, costs: &[Option<Cost>]) -> Option<(Vec<usize>, Cost)> {
    let step = ask.step_mm;
    let in_steps = |mm: f64| (mm / step + 1e-9).floor() as usize;
    let up = |mm: f64| (mm / step - 1e-9).ceil().max(0.0) as usize;
    let narrowest = NARROWEST_MM.min(ask.length_mm / panels as f64);
    // From join to join: a panel is that and its lap.
    let (least, most) = (
        up((narrowest - ask.lap_mm).max(step)),
        in_steps(ask.printable_mm - ask.lap_mm),
    );
    // Behind the last join.
    let last_most = ask.printable_mm.min(ask.length_mm);
    let (from_last, to_last) = (
        up((ask.length_mm - last_most).max(0.0)),
        in_steps(ask.length_mm - narrowest),
    );
    let joins = panels - 1;
    // Of each join: the best weight at every place, and the place of the join before.
    let mut best: Vec<Vec<Option<(Weight, usize)>>> = Vec::with_capacity(joins);
    for m in 0..joins {
        let mut row: Vec<Option<(Weight, usize)>> = vec![None; costs.len()];
        // What is still to come must reach the end.
        let rest = joins - 1 - m;
        let low = from_last.saturating_sub(rest * most);
        let high = to_last.saturating_sub(rest * least).min((m + 1) * most);
        for k in low..=high.min(costs.len().saturating_sub(1)) {
            let Some(Some(own)) = costs.get(k) else {
                continue;
            };
            let found = if m == 0 {
                (k >= least && k <= most).then(|| (add(([0; COSTS], 0), own, k as u64), 0))
            } else {
                let before = best.last();
                (k.saturating_sub(most)..=k.saturating_sub(least))
                    .filter_map(|j| {
                        let (weight, _) = before?.get(j)?.as_ref()?;
                        Some((add(*weight, own, (k - j) as u64), j))
                    })
                    .min()
            };
            if let Some(cell) = row.get_mut(k) {
                *cell = found;
            }
        }
        best.push(row);
    }
    let end = in_steps(ask.length_mm);
    let last = best.last()?;
    let (_, mut at) = last
        .iter()
        .enumerate()
        .filter_map(|(k, cell)| {
            let (weight, _) = cell.as_ref()?;
            let wide = end.saturating_sub(k) as u64;
            Some((add(*weight, &[0; COSTS], wide), k))
        })
        .min()?;
    let cost = last.get(at)?.as_ref()?.0.0;
    let mut found = vec![at];
    for row in best.iter().skip(1).rev() {
        at = row.get(at)?.as_ref()?.1;
        found.push(at);
    }
    found.reverse();
    Some((found, cost))
}
