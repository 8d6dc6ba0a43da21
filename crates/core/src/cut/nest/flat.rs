//! A piece one way round as runs of cells, so that the cells that two have in common are counted many columns at once.

use super::raster::{Mask, runs};

/// Runs of cells that a piece covers, at most one of each column along the roll. Where they begin and where they end lie apart and in so few bits, so that
/// many columns are compared at once.
#[derive(Debug, Clone)]
struct Layer {
    /// The first of its columns.
    from: usize,
    begins: Vec<i16>,
    ends: Vec<i16>,
}

/// A piece one way round.
#[derive(Debug, Clone)]
pub(super) struct Flat {
    pub(super) mask: Mask,
    pub(super) along: usize,
    pub(super) across: usize,
    /// The first runs of all columns, the second ones of those that have several, and so on.
    layers: Vec<Layer>,
    pub(super) cells: f64,
    /// The root of its cells.
    pub(super) root: f64,
}

impl Flat {
    /// A mask's runs.
    pub(super) fn of(mask: &Mask) -> Flat {
        let mut layers: Vec<Layer> = Vec::new();
        let mut cells = 0.0;
        for (x, column) in mask.columns.iter().enumerate() {
            for (n, (begin, end)) in runs(column).into_iter().enumerate() {
                if layers.len() == n {
                    layers.push(Layer {
                        from: x,
                        begins: Vec::new(),
                        ends: Vec::new(),
                    });
                }
                let Some(layer) = layers.get_mut(n) else {
                    continue;
                };
                // Columns on the way that have none.
                layer.begins.resize(x - layer.from, 0);
                layer.ends.resize(x - layer.from, 0);
                // A roll has some hundred cells across.
                let few = |n: usize| i16::try_from(n).unwrap_or(i16::MAX - 1);
                layer.begins.push(few(begin));
                layer.ends.push(few(end));
                cells += end as f64 - begin as f64;
            }
        }
        Flat {
            along: mask.columns.len(),
            across: mask.across,
            layers,
            cells,
            root: cells.max(1.0).sqrt(),
            mask: mask.clone(),
        }
    }
}

/// Cells that two pieces have in common.
pub(super) fn common(
    a: &Flat,
    (ax, ay): (usize, usize),
    b: &Flat,
    (bx, by): (usize, usize),
) -> i32 {
    let (from, to) = (ax.max(bx), (ax + a.along).min(bx + b.along));
    if from >= to || ay + a.across <= by || by + b.across <= ay {
        return 0;
    }
    let down = (by as i32 - ay as i32) as i16;
    let mut count: i32 = 0;
    for p in &a.layers {
        for q in &b.layers {
            let (p_from, q_from) = (ax + p.from, bx + q.from);
            let from = p_from.max(q_from);
            let to = (p_from + p.begins.len()).min(q_from + q.begins.len());
            if from >= to {
                continue;
            }
            let (p_at, q_at) = (from - p_from, from - q_from);
            let n = to - from;
            let (Some(begins), Some(ends), Some(starts), Some(stops)) = (
                p.begins.get(p_at..p_at + n),
                p.ends.get(p_at..p_at + n),
                q.begins.get(q_at..q_at + n),
                q.ends.get(q_at..q_at + n),
            ) else {
                continue;
            };
            // Cells of a roll are some hundred: nothing here comes near the largest figure, and without looking for that many columns are compared at once.
            for ((begin, end), (start, stop)) in
                (begins.iter().zip(ends)).zip(starts.iter().zip(stops))
            {
                let (start, stop) = (start.wrapping_add(down), stop.wrapping_add(down));
                let both = (*end).min(stop).wrapping_sub((*begin).max(start)).max(0);
                count = count.wrapping_add(i32::from(both));
            }
        }
    }
    count
}
