//! How deep any two pieces overlap, by where they lie to each other: how far one has to be moved, whichever way is shortest, until they only touch
//! (penetration depth). Worked out once for every place to each other, it is looked up afterwards.
//!
//! Only where the second piece lies to the first counts, and by how much it is turned more: a table serves all four quarters of both.

use kurbo::Point;

use super::problem::NestPiece;
use super::raster::{Mask, Raster, runs};

/// Steps of depth in a cell.
const STEPS: f64 = 2.0;
/// No more is kept, bytes: where many different pieces would need more, their cells are compared each time instead (ours).
const MOST_BYTES: usize = 40 << 20;

/// How deep two pieces overlap, mm, with the gap that they are to keep: how far one has to be moved, whichever way is shortest, until they keep it. As
/// the search sees it, on its cells: right to two or three of them, each a sixtieth of a side of the pieces. `at` are the corners of their boxes as they
/// lie, turned by so many quarters, mm.
///
/// ```
/// use kurbo::Point;
/// use windrift_core::cut::nest::{NestPiece, Turns, overlap_depth_mm};
/// // Squares of 100 mm, 10 mm to be kept, one 60 mm and 20 mm from the other: 50 mm along is the shortest way out.
/// let square = NestPiece::rectangle(100.0, 100.0, Turns::None);
/// let lie = [Point::ORIGIN, Point::new(60.0, 20.0)];
/// assert!((overlap_depth_mm([&square, &square], [0, 0], lie, 10.0) - 50.0).abs() < 4.0);
/// ```
pub fn overlap_depth_mm(
    pieces: [&NestPiece; 2],
    quarters: [u8; 2],
    at: [Point; 2],
    gap_mm: f64,
) -> f64 {
    let both = [pieces[0].clone(), pieces[1].clone()];
    let raster = Raster::of(&both, &[], gap_mm);
    let masks: Option<Vec<Mask>> = (0..2)
        .map(|n| {
            let [first, second, third, fourth] = raster.all_round(n, true)?;
            Some(match quarters.get(n)? % 4 {
                0 => first,
                1 => second,
                2 => third,
                _ => fourth,
            })
        })
        .collect();
    let (Some(masks), Some(mut depths)) = (masks, Depths::of(&raster, 2, true)) else {
        return 0.0;
    };
    depths.grow(1);
    let [a, b] = masks.as_slice() else { return 0.0 };
    let cell_mm = raster.cell_mm();
    let cells = |mm: f64| (mm / cell_mm).round() as i32;
    let apart = (
        cells(at[1].x - b.inset_mm.0 - at[0].x + a.inset_mm.0),
        cells(at[1].y - b.inset_mm.1 - at[0].y + a.inset_mm.1),
    );
    let within =
        |apart: i32, own: usize, other: usize| apart < own as i32 && apart > -(other as i32);
    if !within(apart.0, a.columns.len(), b.columns.len()) || !within(apart.1, a.across, b.across) {
        return 0.0;
    }
    let view = depths.view((0, quarters[0] % 4), (1, quarters[1] % 4));
    depths.depth(view, apart) * cell_mm
}

/// Where in all tables two pieces are looked up, that way round each: at `zero` for corners that lie on each other, from there by cells along and across.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct View {
    zero: isize,
    along: isize,
    across: isize,
}

/// Depths of all pairs.
#[derive(Debug, Clone)]
pub(super) struct Depths {
    pieces: usize,
    /// Steps of depth, one table after the other.
    steps: Vec<u8>,
    /// By piece and quarter, and by the other piece and its quarter.
    views: Vec<View>,
    /// Pieces all round, and the pairs of them that have no tables yet.
    ways: Vec<[Mask; 4]>,
    left: Vec<(usize, usize)>,
}

impl Depths {
    /// Of pieces as these masks show them, without any table yet ([`Depths::grow`]); nothing where that is too much to keep.
    pub fn of(raster: &Raster, pieces: usize, looked_at_again: bool) -> Option<Depths> {
        let ways: Vec<[Mask; 4]> = (0..pieces)
            .map(|n| raster.all_round(n, looked_at_again))
            .collect::<Option<_>>()?;
        let size = |a: &Mask, b: &Mask| {
            (a.columns.len() + b.columns.len() - 1) * (a.across + b.across - 1)
        };
        let (mut bytes, mut left) = (0, Vec::new());
        for (i, a) in ways.iter().enumerate() {
            for (j, b) in ways.iter().enumerate().skip(i + 1) {
                bytes += b.iter().map(|b| size(&a[0], b)).sum::<usize>();
                left.push((i, j));
            }
        }
        (bytes <= MOST_BYTES).then(|| Depths {
            pieces,
            steps: Vec::with_capacity(bytes),
            views: vec![View::default(); pieces * pieces * 16],
            ways,
            left,
        })
    }

    /// Works out the tables of so many pairs more; whether all are.
    pub fn grow(&mut self, pairs: usize) -> bool {
        let ways = std::mem::take(&mut self.ways);
        for _ in 0..pairs {
            let Some((i, j)) = self.left.pop() else { break };
            if let (Some([a, ..]), Some(all_round)) = (ways.get(i), ways.get(j)) {
                for (more, b) in all_round.iter().enumerate() {
                    self.add(i, a, j, b, more);
                }
            }
        }
        let whole = self.left.is_empty();
        if !whole {
            self.ways = ways;
        }
        whole
    }

    /// The table of two pieces of which the second is turned so many quarters more, and where all quarters of both are looked up in it.
    fn add(&mut self, i: usize, a: &Mask, j: usize, b: &Mask, more: usize) {
        let from = self.steps.len() as isize;
        let (dim_a, dim_b) = (size_of(a), size_of(b));
        let wide = dim_a.1 + dim_b.1 - 1;
        self.steps.extend(table(a, b));
        for quarters in 0..4_usize {
            // Twice from centre to centre where the corners lie on each other, turned back to where the first piece is not turned.
            let turned = |d: (isize, isize)| if quarters % 2 == 0 { d } else { (d.1, d.0) };
            let back = |(x, y): (isize, isize)| match quarters {
                0 => (x, y),
                1 => (y, -x),
                2 => (-x, -y),
                _ => (-y, x),
            };
            let (sa, sb) = (turned(dim_a), turned(dim_b));
            let apart = back((sb.0 - sa.0, sb.1 - sa.1));
            let zero = (
                (apart.0 - (dim_b.0 - dim_a.0)) / 2,
                (apart.1 - (dim_b.1 - dim_a.1)) / 2,
            );
            let (along, across) = (back((1, 0)), back((0, 1)));
            let at = |(x, y): (isize, isize)| x * wide + y;
            let view = View {
                zero: from + at((zero.0 + dim_b.0 - 1, zero.1 + dim_b.1 - 1)),
                along: at(along),
                across: at(across),
            };
            let other = View {
                along: -view.along,
                across: -view.across,
                ..view
            };
            let to = (quarters + more) % 4;
            for (n, view) in [
                (self.index((i, quarters), (j, to)), view),
                (self.index((j, to), (i, quarters)), other),
            ] {
                if let Some(cell) = self.views.get_mut(n) {
                    *cell = view;
                }
            }
        }
    }

    fn index(&self, (i, a): (usize, usize), (j, b): (usize, usize)) -> usize {
        ((i * 4 + a) * self.pieces + j) * 4 + b
    }

    /// Where two pieces are looked up: each with its quarters.
    pub fn view(&self, a: (usize, u8), b: (usize, u8)) -> View {
        let n = self.index((a.0, usize::from(a.1)), (b.0, usize::from(b.1)));
        self.views.get(n).copied().unwrap_or_default()
    }

    /// How deep two pieces overlap, cells, whose boxes do: the second one's corner lies so many cells from the first one's.
    pub fn depth(&self, view: View, (along, across): (i32, i32)) -> f64 {
        let at = view.zero + along as isize * view.along + across as isize * view.across;
        let steps = usize::try_from(at).ok().and_then(|at| self.steps.get(at));
        f64::from(steps.copied().unwrap_or(0)) / STEPS
    }
}

fn size_of(mask: &Mask) -> (isize, isize) {
    (mask.columns.len() as isize, mask.across as isize)
}

/// Steps of depth by where the second piece's corner lies, column by column along; the first is where it ends one cell into the first piece.
fn table(a: &Mask, b: &Mask) -> Vec<u8> {
    let along = a.columns.len() + b.columns.len() - 1;
    let across = a.across + b.across - 1;
    // How many columns of both meet there: where it begins to be one more, and where it ends.
    let mut meet = vec![vec![0_i32; across + 1]; along];
    let of = |mask: &Mask| -> Vec<Vec<(usize, usize)>> {
        mask.columns.iter().map(|c| runs(c)).collect()
    };
    let (runs_a, runs_b) = (of(a), of(b));
    for (x, of_a) in runs_a.iter().enumerate() {
        for (u, of_b) in runs_b.iter().rev().enumerate() {
            let Some(column) = meet.get_mut(x + u) else {
                continue;
            };
            for (begin, end) in of_a {
                for (start, stop) in of_b {
                    let (from, to) = (begin + b.across - stop, end + b.across - 1 - start);
                    for (n, by) in [(from, 1), (to, -1)] {
                        if let Some(cell) = column.get_mut(n) {
                            *cell += by;
                        }
                    }
                }
            }
        }
    }
    // The square of how far it is to where they do not meet: across in each column, then along (exact distance transform of Felzenszwalb and
    // Huttenlocher, from memory). Beyond the table nothing meets.
    let mut squares = vec![vec![0.0_f32; along + 2]; across];
    for (x, column) in meet.iter().enumerate() {
        let (mut sum, mut far) = (0, 0.0);
        let mut ahead = Vec::with_capacity(across);
        for by in column.iter().take(across) {
            sum += by;
            far = if sum > 0 { far + 1.0 } else { 0.0_f32 };
            ahead.push(far);
        }
        far = 0.0;
        for (there, row) in ahead.iter().zip(&mut squares).rev() {
            far = if *there > 0.0 { far + 1.0 } else { 0.0 };
            let near = far.min(*there);
            if let Some(cell) = row.get_mut(x + 1) {
                *cell = near * near;
            }
        }
    }
    let mut steps = vec![0_u8; along * across];
    let mut lower = Lower::default();
    for (y, row) in squares.iter().enumerate() {
        lower.of(row);
        let mut at = lower.at.iter();
        let Some(mut now) = at.next().copied() else {
            continue;
        };
        let mut next = at.next();
        for x in 1..=along {
            while let Some(n) = next
                && n.0 <= x as f32
            {
                now = *n;
                next = at.next();
            }
            let by = x as f32 - now.1;
            let depth = (by * by + now.2).sqrt();
            if let Some(cell) = steps.get_mut((x - 1) * across + y) {
                *cell = (depth * STEPS as f32).round().min(255.0) as u8;
            }
        }
    }
    steps
}

/// The lower envelope of parabolas of one row: from where each is the lowest, where its lowest point lies, and its height.
#[derive(Debug, Default)]
struct Lower {
    at: Vec<(f32, f32, f32)>,
}

impl Lower {
    fn of(&mut self, row: &[f32]) {
        self.at.clear();
        for (x, height) in row.iter().enumerate() {
            let x = x as f32;
            let mut from = f32::NEG_INFINITY;
            while let Some((begins, at, own)) = self.at.last() {
                from = ((height + x * x) - (own + at * at)) / (2.0 * (x - at));
                if from > *begins {
                    break;
                }
                self.at.pop();
                from = f32::NEG_INFINITY;
            }
            self.at.push((from, x, *height));
        }
    }
}
