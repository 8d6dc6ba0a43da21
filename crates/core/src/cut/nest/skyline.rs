//! Boxes on a skyline: each time the lowest notch takes the piece that fits it best, the first of the order where several do.

use kurbo::Point;

use super::problem::{Bin, Laid, Nest, NestPiece};
use crate::ground::outline::bounds_of_shapes;

/// Two lengths that differ by less are one, mm.
pub(super) const SAME_MM: f64 = 1e-6;

/// The boxes of pieces, a gap wider and longer than they are.
#[derive(Debug, Clone)]
pub struct Boxes {
    /// Of each piece: every way it may lie, along and across, with the quarter turns.
    ways: Vec<Vec<(f64, f64, u8)>>,
    gap_mm: f64,
}

/// A stretch of the skyline: from y, so wide, filled up to x.
#[derive(Debug, Clone, Copy)]
pub(super) struct Step {
    pub y: f64,
    pub wide: f64,
    pub x: f64,
}

impl Boxes {
    /// Boxes of these pieces.
    pub fn of(pieces: &[NestPiece], gap_mm: f64) -> Boxes {
        let ways = pieces.iter().map(|p| {
            let b = bounds_of_shapes(&p.shapes);
            let (w, h) = (b.width() + gap_mm, b.height() + gap_mm);
            let mut ways: Vec<(f64, f64, u8)> = Vec::new();
            for quarters in p.turns.quarters() {
                let (along, across) = if quarters % 2 == 0 { (w, h) } else { (h, w) };
                if !ways
                    .iter()
                    .any(|(a, c, _)| (a - along).abs() < SAME_MM && (c - across).abs() < SAME_MM)
                {
                    ways.push((along, across, *quarters));
                }
            }
            ways
        });
        Boxes {
            ways: ways.collect(),
            gap_mm,
        }
    }

    /// Every way a piece may lie, along and across, with the quarter turns.
    pub(super) fn ways(&self, piece: usize) -> &[(f64, f64, u8)] {
        self.ways.get(piece).map_or(&[], Vec::as_slice)
    }

    /// By how much they are wider and longer, mm.
    pub(super) fn gap_mm(&self) -> f64 {
        self.gap_mm
    }

    /// Whether a piece fits a roll at all.
    pub fn fits(&self, piece: usize, bin: &Bin) -> bool {
        let (width, length) = (bin.width_mm + self.gap_mm, bin.length_mm + self.gap_mm);
        self.ways.get(piece).is_some_and(|ways| {
            ways.iter()
                .any(|(along, across, _)| *along <= length + SAME_MM && *across <= width + SAME_MM)
        })
    }

    /// Lays pieces in this order: offcuts and rolls are filled one after the other.
    pub fn lay(&self, order: &[usize], bins: &[Bin]) -> Nest {
        let mut left: Vec<usize> = order.to_vec();
        let mut nest = Nest {
            laid: Vec::new(),
            used_mm: vec![0.0; bins.len()],
            walled_in_mm2: 0.0,
        };
        let mut widths = Widths::of(self, &left);
        for (n, bin) in bins.iter().enumerate() {
            if left.is_empty() {
                break;
            }
            let used = self.fill(n, bin, &mut left, &mut widths, &mut nest);
            if let Some(cell) = nest.used_mm.get_mut(n) {
                *cell = used;
            }
        }
        nest
    }

    fn fill(
        &self,
        number: usize,
        bin: &Bin,
        left: &mut Vec<usize>,
        widths: &mut Widths,
        nest: &mut Nest,
    ) -> f64 {
        let (width, length) = (bin.width_mm + self.gap_mm, bin.length_mm + self.gap_mm);
        let mut line = vec![Step {
            y: 0.0,
            wide: width,
            x: 0.0,
        }];
        let mut used: f64 = 0.0;
        while !left.is_empty() {
            let Some((at, low)) = lowest(&line) else {
                break;
            };
            if low.x >= length - SAME_MM {
                break;
            }
            let walls = walls(&line, at);
            match self.best_for(&low, walls, length, left, widths) {
                Some((slot, along, across, quarters, to_far)) => {
                    let piece = left.remove(slot);
                    widths.take(self, piece);
                    let y = if to_far {
                        low.y + low.wide - across
                    } else {
                        low.y
                    };
                    nest.laid.push(Laid {
                        piece,
                        bin: number,
                        at: Point::new(low.x, y),
                        quarters,
                    });
                    used = used.max(low.x + along - self.gap_mm);
                    raise(&mut line, at, y, across, low.x + along);
                }
                None => {
                    // Nothing fits: the notch is filled up to its lower wall.
                    let to = walls[0].min(walls[1]);
                    if !to.is_finite() {
                        break;
                    }
                    nest.walled_in_mm2 += low.wide * (to - low.x);
                    raise(&mut line, at, low.y, low.wide, to);
                }
            }
        }
        used
    }

    /// The piece for a notch: what fills its width, ends level with a wall, or both.
    fn best_for(
        &self,
        low: &Step,
        walls: [f64; 2],
        length: f64,
        left: &[usize],
        widths: &Widths,
    ) -> Option<(usize, f64, f64, u8, bool)> {
        let mut best: Option<(u8, usize, f64, f64, u8, bool)> = None;
        for (slot, piece) in left.iter().enumerate() {
            for (along, across, quarters) in self.ways.get(*piece)? {
                if *across > low.wide + SAME_MM || low.x + along > length + SAME_MM {
                    continue;
                }
                let level = walls.map(|w| (low.x + along - w).abs() < SAME_MM);
                let fills = low.wide - across < SAME_MM;
                let walls_met = u8::from(level[0]) + u8::from(level[1]);
                let score = if fills {
                    5 + walls_met
                } else {
                    // What is left of the notch is filled by another piece.
                    let rest = widths.has(low.wide - across);
                    2 * walls_met.min(1) + u8::from(rest)
                };
                // Beside the higher wall, so that the notch that is left is open.
                let to_far = if level[0] != level[1] {
                    level[1]
                } else {
                    walls[1] > walls[0]
                };
                if best.as_ref().is_none_or(|b| score > b.0) {
                    best = Some((score, slot, *along, *across, *quarters, to_far));
                }
            }
        }
        best.map(|(_, slot, along, across, quarters, to_far)| {
            (slot, along, across, quarters, to_far)
        })
    }
}

/// How many pieces that are still to be laid have a width across, in tenths of a millimetre.
struct Widths(Vec<u16>);

impl Widths {
    fn of(boxes: &Boxes, left: &[usize]) -> Widths {
        let mut widths = Widths(Vec::new());
        for piece in left {
            for (_, across, _) in boxes.ways.get(*piece).into_iter().flatten() {
                let at = Widths::place(*across);
                if widths.0.len() <= at + 1 {
                    widths.0.resize(at + 2, 0);
                }
                if let Some(count) = widths.0.get_mut(at) {
                    *count += 1;
                }
            }
        }
        widths
    }

    fn place(mm: f64) -> usize {
        (mm * 10.0).round().max(0.0) as usize
    }

    fn take(&mut self, boxes: &Boxes, piece: usize) {
        for (_, across, _) in boxes.ways.get(piece).into_iter().flatten() {
            if let Some(count) = self.0.get_mut(Widths::place(*across)) {
                *count = count.saturating_sub(1);
            }
        }
    }

    fn has(&self, mm: f64) -> bool {
        self.0.get(Widths::place(mm)).is_some_and(|n| *n > 0)
    }
}

/// The lowest step, the first of them where there are several.
pub(super) fn lowest(line: &[Step]) -> Option<(usize, Step)> {
    let steps = line.iter().copied().enumerate();
    steps.min_by(|a, b| a.1.x.total_cmp(&b.1.x))
}

/// How far what lies before and after a step reaches; the edges of the roll never end.
pub(super) fn walls(line: &[Step], at: usize) -> [f64; 2] {
    [at.checked_sub(1), Some(at + 1)]
        .map(|n| n.and_then(|n| line.get(n)).map_or(f64::INFINITY, |s| s.x))
}

/// Raises part of a stretch to x, and joins stretches that are level.
pub(super) fn raise(line: &mut Vec<Step>, at: usize, y: f64, wide: f64, x: f64) {
    let Some(old) = line.get(at).copied() else {
        return;
    };
    let mut new = Vec::with_capacity(3);
    if y - old.y > SAME_MM {
        new.push(Step {
            wide: y - old.y,
            ..old
        });
    }
    new.push(Step { y, wide, x });
    let rest = old.y + old.wide - (y + wide);
    if rest > SAME_MM {
        new.push(Step {
            y: y + wide,
            wide: rest,
            x: old.x,
        });
    }
    line.splice(at..=at, new);
    let mut joined: Vec<Step> = Vec::with_capacity(line.len());
    for step in line.drain(..) {
        match joined.last_mut() {
            Some(last) if (last.x - step.x).abs() < SAME_MM => last.wide += step.wide,
            _ => joined.push(step),
        }
    }
    *line = joined;
}
