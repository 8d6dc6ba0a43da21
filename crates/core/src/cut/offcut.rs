//! What is left of film beside what was cut from it: the largest rectangle, which goes back on the shelf.

/// A smaller rectangle is not kept, mm either way (ours): 6 in.
const LEAST_MM: f64 = 152.4;

/// The largest rectangle of film that nothing was cut from: along the roll and across it from where, then how long and how wide, mm. `taken` are the
/// boxes of what was cut, in the same order; `gap` is kept off each. Nothing where none is worth keeping.
///
/// Exact: a largest rectangle ends at edges of boxes or of the film, so that all of them are tried on the grid of those edges, row by row as the largest
/// rectangle under a histogram.
///
/// ```
/// # use windrift_core::cut::offcut::largest_free;
/// // A piece of 600 by 300 at a corner of 1000 by 600: beside it 390 by 600 is left, under it 1000 by 290.
/// let left = largest_free(1000.0, 600.0, &[[0.0, 0.0, 600.0, 300.0]], 10.0);
/// assert_eq!(left, Some([0.0, 310.0, 1000.0, 290.0]));
/// assert_eq!(largest_free(1000.0, 600.0, &[[0.0, 0.0, 990.0, 590.0]], 10.0), None);
/// ```
pub fn largest_free(long: f64, wide: f64, taken: &[[f64; 4]], gap: f64) -> Option<[f64; 4]> {
    let edges = |most: f64, of: usize| {
        let mut all = vec![0.0, most];
        for t in taken {
            all.push((t[of] - gap).clamp(0.0, most));
            all.push((t[of] + t[of + 2] + gap).clamp(0.0, most));
        }
        all.sort_by(f64::total_cmp);
        all.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
        all
    };
    let (xs, ys) = (edges(long, 0), edges(wide, 1));
    let free = |x: f64, y: f64| {
        !taken.iter().any(|t| {
            x > t[0] - gap && x < t[0] + t[2] + gap && y > t[1] - gap && y < t[1] + t[3] + gap
        })
    };
    let mut best: Option<[f64; 4]> = None;
    // For every column of the grid, where the free film above the row at hand begins.
    let mut tops: Vec<f64> = vec![0.0; xs.len().saturating_sub(1)];
    for row in ys.windows(2) {
        let (top, foot) = (row[0], row[1]);
        for (n, column) in xs.windows(2).enumerate() {
            if !free((column[0] + column[1]) / 2.0, (top + foot) / 2.0) {
                tops[n] = foot;
            }
        }
        // Rectangles that end at this row's foot: each goes as far to both sides as the film is free from its top.
        let mut open: Vec<(f64, f64)> = Vec::new();
        for (n, at) in xs.iter().copied().enumerate() {
            let here = tops.get(n).copied().unwrap_or(f64::INFINITY);
            let mut begins = at;
            while let Some(&(x, y)) = open.last().filter(|(_, y)| *y < here) {
                let found = [x, y, at - x, foot - y];
                let area = |r: &[f64; 4]| r[2] * r[3];
                if found[2] >= LEAST_MM
                    && found[3] >= LEAST_MM
                    && best.as_ref().is_none_or(|b| area(&found) > area(b))
                {
                    best = Some(found);
                }
                begins = x;
                open.pop();
            }
            if here.is_finite() && open.last().is_none_or(|(_, y)| *y > here) {
                open.push((begins, here));
            }
        }
    }
    best
}
