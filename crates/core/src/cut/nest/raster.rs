//! True shapes on a fine grid: a piece covers every cell that it comes within half the gap of, so that two of them never come closer than
//! the gap, and lies as near the roll's free end as there is room.

use kurbo::{Point, Rect};

use super::problem::{Bin, Laid, Nest, NestPiece};
use crate::ground::outline::{Shape, bounds_of_shapes};

/// Cells along the side of a piece of middling size, and no more than so many across the widest roll: finer for few pieces, so that one round takes
/// hundredths of a second with many too.
fn cells(pieces: usize) -> (f64, f64) {
    match pieces {
        0..=30 => (60.0, 400.0),
        31..=100 => (50.0, 240.0),
        _ => (30.0, 140.0),
    }
}

/// Which cells a piece covers.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Covers {
    /// All that it comes within half the gap of.
    Touched,
    /// Those whose centres it comes within half the gap of, or little more.
    Centres,
}

/// A cell's centre counts from so far outside, as a share of the cell (ours: with less, pieces are spread too far afterwards; with more, they lie no
/// closer than cells that are touched).
const CENTRE_REACH: f64 = 0.35;

/// A piece one way round: the cells that it covers, column by column along the roll.
#[derive(Debug, Clone)]
pub(super) struct Mask {
    pub(super) quarters: u8,
    /// Cells across.
    pub(super) across: usize,
    /// Of each column, the cells as bits.
    pub(super) columns: Vec<Vec<u64>>,
    /// Of each column, its first cell.
    nearest: Vec<usize>,
    /// Length of its film along the roll, mm.
    pub(super) along_mm: f64,
    /// Width of its film across the roll, mm.
    across_mm: f64,
    /// How much farther than half the gap its film begins from the corner of the cells, along and across, mm: less than a cell.
    pub(super) inset_mm: (f64, f64),
}

impl Mask {
    /// The same cells, turned by a quarter: what lay farthest across comes to lie nearest along the roll.
    fn turned(&self, cell_mm: f64, half_gap_mm: f64) -> Mask {
        let (along, across) = (self.across, self.columns.len());
        let mut columns = vec![vec![0_u64; across / 64 + 1]; along];
        for (x, column) in self.columns.iter().enumerate() {
            for y in (0..along).filter(|y| is_set(column, *y)) {
                if let Some(word) = (columns.get_mut(along - 1 - y)).and_then(|c| c.get_mut(x / 64))
                {
                    *word |= 1 << (x % 64);
                }
            }
        }
        let over = along as f64 * cell_mm - self.across_mm - 2.0 * half_gap_mm;
        Mask {
            quarters: (self.quarters + 1) % 4,
            across,
            nearest: columns.iter().map(|c| first_of(c)).collect(),
            columns,
            along_mm: self.across_mm,
            across_mm: self.along_mm,
            inset_mm: (over - self.inset_mm.1, self.inset_mm.0),
        }
    }

    /// Where the corner of its film lies with the corner of its cells there, mm. It never reaches past the edge of a roll that its film fits.
    pub(super) fn at(&self, x: usize, y: usize, cell_mm: f64, bin: &Bin) -> Point {
        let across = y as f64 * cell_mm + self.inset_mm.1;
        Point::new(
            x as f64 * cell_mm + self.inset_mm.0,
            across.min(bin.width_mm - self.across_mm).max(0.0),
        )
    }

    /// The last cell along at which its film ends before so many mm; nothing where it is longer.
    pub(super) fn last_along(&self, length_mm: f64, cell_mm: f64) -> Option<usize> {
        let last = ((length_mm - self.along_mm - self.inset_mm.0) / cell_mm + 1e-9).floor();
        (last >= 0.0).then_some(last as usize)
    }
}

fn is_set(column: &[u64], n: usize) -> bool {
    column.get(n / 64).is_some_and(|w| (w >> (n % 64)) & 1 == 1)
}

/// Runs of set cells: where each begins, and where it ends.
pub(super) fn runs(column: &[u64]) -> Vec<(usize, usize)> {
    let mut found: Vec<(usize, usize)> = Vec::new();
    for n in (0..column.len() * 64).filter(|n| is_set(column, *n)) {
        match found.last_mut() {
            Some((_, to)) if *to == n => *to = n + 1,
            _ => found.push((n, n + 1)),
        }
    }
    found
}

fn first_of(column: &[u64]) -> usize {
    let words = column.iter().enumerate().find(|(_, bits)| **bits != 0);
    words.map_or(0, |(w, bits)| w * 64 + bits.trailing_zeros() as usize)
}

/// Pieces as they cover cells.
#[derive(Debug, Clone)]
pub struct Raster {
    cell_mm: f64,
    half_gap_mm: f64,
    /// Cells that a piece comes within half the gap of, never one too few.
    masks: Vec<Vec<Mask>>,
    /// About the cells whose centres it comes within half the gap of: now and then one too few.
    centred: Vec<Vec<Mask>>,
}

impl Raster {
    /// Masks of these pieces.
    pub fn of(pieces: &[NestPiece], bins: &[Bin], gap_mm: f64) -> Raster {
        Raster::finer(pieces, bins, gap_mm, 1.0)
    }

    /// Masks with cells so many times smaller.
    pub fn finer(pieces: &[NestPiece], bins: &[Bin], gap_mm: f64, times: f64) -> Raster {
        let area: f64 = pieces.iter().map(NestPiece::area).sum();
        let side = (area / pieces.len().max(1) as f64).sqrt();
        let widest = bins.iter().map(|b| b.width_mm).fold(1.0, f64::max);
        let (along_a_piece, across_a_roll) = cells(pieces.len());
        let cell_mm = (side / along_a_piece)
            .max((widest + gap_mm) / across_a_roll)
            .max(0.5)
            / times;
        let half_gap_mm = gap_mm / 2.0;
        let masks = |covers: Covers| {
            let of = |p: &NestPiece| {
                // Looked at once and turned, so that all ways round cover the same cells.
                let mut mask = mask(&p.turned(0), cell_mm, half_gap_mm, covers);
                let mut ways: Vec<Mask> = Vec::new();
                for quarters in 0..4 {
                    let turned = mask.turned(cell_mm, half_gap_mm);
                    let now = std::mem::replace(&mut mask, turned);
                    let new = !ways.iter().any(|m| m.columns == now.columns);
                    if p.turns.quarters().contains(&quarters) && new {
                        ways.push(now);
                    }
                }
                ways
            };
            pieces.iter().map(of).collect()
        };
        Raster {
            cell_mm,
            half_gap_mm,
            masks: masks(Covers::Touched),
            centred: masks(Covers::Centres),
        }
    }

    /// Width of a cell, mm.
    pub(super) fn cell_mm(&self) -> f64 {
        self.cell_mm
    }

    /// Cells across a roll.
    pub(super) fn cells_across(&self, bin: &Bin) -> usize {
        ((bin.width_mm + 2.0 * self.half_gap_mm) / self.cell_mm + 1e-9).floor() as usize
    }

    /// A piece in each of its ways round, by the centres of cells where its place is looked at again by its outline.
    pub(super) fn masks_of(&self, piece: usize, looked_at_again: bool) -> &[Mask] {
        let all = if looked_at_again {
            &self.centred
        } else {
            &self.masks
        };
        all.get(piece).map_or(&[], Vec::as_slice)
    }

    /// A piece turned by none to three quarters, also where it may not be laid so; `looked_at_again` as in [`Raster::masks_of`].
    pub(super) fn all_round(&self, piece: usize, looked_at_again: bool) -> Option<[Mask; 4]> {
        let first = self.masks_of(piece, looked_at_again).first()?.clone();
        let turned = |m: &Mask| m.turned(self.cell_mm, self.half_gap_mm);
        let (second, third) = (turned(&first), turned(&turned(&first)));
        let fourth = turned(&third);
        Some([first, second, third, fourth])
    }

    /// Lays pieces in this order, each in the first roll or offcut with room for it, as near the free end as it goes.
    pub fn lay(&self, order: &[usize], bins: &[Bin]) -> Nest {
        let mut nest = Nest {
            laid: Vec::new(),
            used_mm: vec![0.0; bins.len()],
            walled_in_mm2: 0.0,
        };
        let mut taken: Vec<Vec<Vec<u64>>> = vec![Vec::new(); bins.len()];
        for piece in order {
            let masks = self.masks.get(*piece).map_or(&[][..], Vec::as_slice);
            for (n, (bin, taken)) in bins.iter().zip(&mut taken).enumerate() {
                let cells = self.cells_across(bin);
                let place = masks
                    .iter()
                    .filter_map(|m| Some((self.first_place(m, taken, cells, bin)?, m)))
                    .min_by(|((x, y), m), ((u, v), k)| {
                        let end = |at: usize, m: &Mask| {
                            at as f64 * self.cell_mm + m.inset_mm.0 + m.along_mm
                        };
                        end(*x, m)
                            .total_cmp(&end(*u, k))
                            .then(x.cmp(u))
                            .then(y.cmp(v))
                    });
                let Some(((x, y), m)) = place else { continue };
                cover(taken, m, x, y, cells);
                let at = m.at(x, y, self.cell_mm, bin);
                nest.laid.push(Laid {
                    piece: *piece,
                    bin: n,
                    at,
                    quarters: m.quarters,
                });
                if let Some(used) = nest.used_mm.get_mut(n) {
                    *used = used.max(at.x + m.along_mm);
                }
                break;
            }
        }
        nest
    }

    /// The first column, and the first row of it, at which a mask covers nothing that is taken.
    fn first_place(
        &self,
        mask: &Mask,
        taken: &[Vec<u64>],
        cells: usize,
        bin: &Bin,
    ) -> Option<(usize, usize)> {
        let room = cells.checked_sub(mask.across).or_else(|| {
            // Its film fits, and only the space round it reaches past the edge of the roll: it lies where its cells say only if both begin there.
            (mask.across_mm <= bin.width_mm + 1e-6 && mask.inset_mm.1 <= 1e-9).then_some(0)
        })?;
        let last = mask.last_along(bin.length_mm, self.cell_mm)?;
        (0..=last.min(taken.len())).find_map(|x| {
            let mut y = 0;
            while y <= room {
                match conflict(mask, taken, x, y) {
                    None => return Some((x, y)),
                    Some(skip) => y += skip,
                }
            }
            None
        })
    }
}

/// Whether a mask meets what is taken; then, how far it moves across at least: until its nearest cell in that column is past the farthest one that
/// it met. What would lie in a hollow of the mask meanwhile is passed over.
fn conflict(mask: &Mask, taken: &[Vec<u64>], x: usize, y: usize) -> Option<usize> {
    let (word, bit) = (y / 64, y % 64);
    for (n, (column, nearest)) in mask.columns.iter().zip(&mask.nearest).enumerate() {
        let Some(there) = taken.get(x + n) else { break };
        let word_of = |w: usize| there.get(word + w).copied().unwrap_or(0);
        let mut met: Option<usize> = None;
        for (w, bits) in column.iter().enumerate().filter(|(_, bits)| **bits != 0) {
            let low = word_of(w) & (bits << bit);
            let high = if bit == 0 {
                0
            } else {
                word_of(w + 1) & (bits >> (64 - bit))
            };
            for (bits, at) in [(low, word + w), (high, word + w + 1)] {
                if bits != 0 {
                    met = Some(at * 64 + 63 - bits.leading_zeros() as usize);
                }
            }
        }
        if let Some(met) = met {
            return Some((met + 1).saturating_sub(y + nearest).max(1));
        }
    }
    None
}

fn cover(taken: &mut Vec<Vec<u64>>, mask: &Mask, x: usize, y: usize, cells: usize) {
    let words = cells / 64 + 2;
    let (word, bit) = (y / 64, y % 64);
    if taken.len() < x + mask.columns.len() {
        taken.resize(x + mask.columns.len(), vec![0; words]);
    }
    for (there, column) in taken.iter_mut().skip(x).zip(&mask.columns) {
        for (w, bits) in column.iter().enumerate() {
            if let Some(cell) = there.get_mut(word + w) {
                *cell |= bits << bit;
            }
            if bit > 0
                && let Some(cell) = there.get_mut(word + w + 1)
            {
                *cell |= bits >> (64 - bit);
            }
        }
    }
}

/// The cells that come within half a gap of the film. The film's box begins half a gap into the first cell.
fn mask(shapes: &[Shape], cell_mm: f64, half_gap_mm: f64, covers: Covers) -> Mask {
    let b = bounds_of_shapes(shapes);
    let count = |mm: f64| ((mm + 2.0 * half_gap_mm) / cell_mm - 1e-9).ceil().max(1.0) as usize;
    let (along, across) = (count(b.width()), count(b.height()));
    let words = across / 64 + 1;
    let mut columns = vec![vec![0_u64; words]; along];
    let mut set = |x: usize, y: usize| {
        if let Some(cell) = columns.get_mut(x).and_then(|c| c.get_mut(y / 64)) {
            *cell |= 1 << (y % 64);
        }
    };
    let cell_of = |mm: f64, most: usize| {
        ((mm / cell_mm).floor().max(0.0) as usize).min(most.saturating_sub(1))
    };
    for shape in shapes {
        // Inside, row by row along the roll: between every odd and even crossing of its outline.
        for x in 0..along {
            let at = (x as f64 + 0.5) * cell_mm - half_gap_mm;
            let mut crossings: Vec<f64> = shape
                .edges()
                .filter(|(p, q)| (p.x <= at) != (q.x <= at))
                .map(|(p, q)| p.y + (q.y - p.y) * (at - p.x) / (q.x - p.x))
                .collect();
            crossings.sort_by(f64::total_cmp);
            for pair in crossings.chunks(2) {
                if let [from, to] = pair {
                    // Between the centres of the first and the last cell, where those count.
                    let half = match covers {
                        Covers::Touched => 0.0,
                        Covers::Centres => cell_mm / 2.0,
                    };
                    let (from, to) = (from + half_gap_mm + half, to + half_gap_mm - half);
                    if from <= to || covers == Covers::Touched {
                        let (a, b) = (cell_of(from, across), cell_of(to, across));
                        (a..=b).for_each(|y| set(x, y));
                    }
                }
            }
        }
        // Its rim, with half a gap round it.
        for (p, q) in shape.edges() {
            let box_of = Rect::from_points(p, q).inflate(half_gap_mm, half_gap_mm);
            let (x0, x1) = (
                cell_of(box_of.x0 + half_gap_mm, along),
                cell_of(box_of.x1 + half_gap_mm - 1e-9, along),
            );
            let (y0, y1) = (
                cell_of(box_of.y0 + half_gap_mm, across),
                cell_of(box_of.y1 + half_gap_mm - 1e-9, across),
            );
            for x in x0..=x1 {
                for y in y0..=y1 {
                    let corner = Point::new(
                        x as f64 * cell_mm - half_gap_mm,
                        y as f64 * cell_mm - half_gap_mm,
                    );
                    let cell = Rect::from_origin_size(corner, (cell_mm, cell_mm));
                    if near(p, q, cell, half_gap_mm, covers) {
                        set(x, y);
                    }
                }
            }
        }
    }
    Mask {
        quarters: 0,
        across,
        nearest: columns.iter().map(|c| first_of(c)).collect(),
        columns,
        along_mm: b.width(),
        across_mm: b.height(),
        inset_mm: (0.0, 0.0),
    }
}

/// Whether an edge comes within a distance of a cell, or closer: never no where it does. Of its centre, where centres count.
fn near(p: Point, q: Point, cell: Rect, distance: f64, covers: Covers) -> bool {
    let reach = match covers {
        Covers::Touched => distance + cell.width() * std::f64::consts::FRAC_1_SQRT_2,
        Covers::Centres => distance + cell.width() * CENTRE_REACH,
    };
    let (d, c) = (q - p, cell.center());
    let t = if d.hypot2() > 0.0 {
        ((c - p).dot(d) / d.hypot2()).clamp(0.0, 1.0)
    } else {
        0.0
    };
    (p + d * t).distance(c) <= reach
}
