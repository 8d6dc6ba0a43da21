//! Pieces of a layout by their true outlines: what lies nearer than the gap is spread, and what the cells of the search left between pieces is taken
//! back.

use kurbo::{Point, Vec2};

use super::problem::{Bin, Laid, NestPiece};
use crate::ground::outline::{Shape, bounds_of_shapes};

/// Steps, mm, the largest first: about a cell down to what no plotter cuts.
const STEPS_MM: [f64; 6] = [3.2, 1.6, 0.8, 0.4, 0.2, 0.1];
/// Pieces are spread in steps so long, mm, and so many of them at most.
const SPREAD_MM: f64 = 0.4;
const SPREADS: u32 = 60;
/// Rounds over all pieces.
const ROUNDS: usize = 6;
/// More corners than this in all, and cells keep pieces apart alone: outlines of drawings may have thousands (ours).
const MOST_CORNERS: usize = 6000;

/// A piece as it lies.
struct Lies {
    shapes: Vec<Shape>,
    at: Point,
}

/// Whether so many corners can be looked at.
pub fn can_look_at(pieces: &[NestPiece]) -> bool {
    let corners = |p: &NestPiece| {
        let contours = p.shapes.iter().flat_map(|s| &s.contours);
        contours.map(Vec::len).sum::<usize>()
    };
    pieces.iter().map(corners).sum::<usize>() <= MOST_CORNERS
}

/// The layout of one roll, spread where pieces come nearer than the gap, and closed up towards the free end; nothing where they cannot be spread.
pub fn closed_up(pieces: &[NestPiece], laid: &[Laid], bin: &Bin, gap_mm: f64) -> Option<Vec<Laid>> {
    let mut all: Vec<Lies> = (laid.iter())
        .map(|l| {
            let shapes = pieces.get(l.piece)?.turned(l.quarters);
            Some(Lies { shapes, at: l.at })
        })
        .collect::<Option<_>>()?;
    let from_the_end = |all: &[Lies]| {
        let mut order: Vec<usize> = (0..all.len()).collect();
        let x = |n: &usize| all.get(*n).map_or(0.0, |l| l.at.x);
        order.sort_by(|a, b| x(a).total_cmp(&x(b)));
        order
    };
    let mut before = Vec::new();
    for n in from_the_end(&all) {
        let at = all.get(n)?.at;
        let to = spread(&all, n, &before, at, bin, gap_mm)?;
        all.get_mut(n)?.at = to;
        before.push(n);
    }
    for _ in 0..ROUNDS {
        let mut moved = false;
        for n in from_the_end(&all) {
            moved |= close_up(&mut all, n, &before, bin, gap_mm);
        }
        if !moved {
            break;
        }
    }
    Some(
        (laid.iter().zip(all))
            .map(|(l, lies)| Laid { at: lies.at, ..*l })
            .collect(),
    )
}

/// The nearest place at which a piece keeps the gap to those that lie already: to one side first, which costs no film.
fn spread(
    all: &[Lies],
    n: usize,
    before: &[usize],
    at: Point,
    bin: &Bin,
    gap_mm: f64,
) -> Option<Point> {
    (0..SPREADS).find_map(|k| {
        let by = f64::from(k) * SPREAD_MM;
        let ways = [(0.0, by), (0.0, -by), (by, 0.0), (by, by), (by, -by)];
        ways.into_iter().find_map(|(dx, dy)| {
            let to = at + Vec2::new(dx, dy);
            is_free(all, n, before, to, bin, gap_mm).then_some(to)
        })
    })
}

/// Moves one piece towards the free end as far as it goes, straight or aslant.
fn close_up(all: &mut [Lies], n: usize, others: &[usize], bin: &Bin, gap_mm: f64) -> bool {
    let mut moved = false;
    for step in STEPS_MM {
        // As far as it goes in this step, but never without an end.
        for _ in 0..64 {
            let ways = [
                (-step, 0.0),
                (-step, step),
                (-step, -step),
                (-step, 2.0 * step),
                (-step, -2.0 * step),
            ];
            let to = ways.into_iter().find_map(|(dx, dy)| {
                let to = all.get(n)?.at + Vec2::new(dx, dy);
                is_free(all, n, others, to, bin, gap_mm).then_some(to)
            });
            let (Some(to), Some(own)) = (to, all.get_mut(n)) else {
                break;
            };
            own.at = to;
            moved = true;
        }
    }
    moved
}

/// Whether a piece may lie there: on the roll, and no nearer to any other than the gap.
fn is_free(all: &[Lies], n: usize, others: &[usize], to: Point, bin: &Bin, gap_mm: f64) -> bool {
    let Some(own) = all.get(n) else { return false };
    let b = bounds_of_shapes(&own.shapes);
    if to.x < 0.0
        || to.y < 0.0
        || to.y + b.height() > bin.width_mm + 1e-9
        || to.x + b.width() > bin.length_mm + 1e-9
    {
        return false;
    }
    let there = b + to.to_vec2();
    (others.iter().filter(|m| **m != n))
        .filter_map(|m| all.get(*m))
        .all(|other| {
            let o = bounds_of_shapes(&other.shapes) + other.at.to_vec2();
            let near = o.inflate(gap_mm, gap_mm).intersect(there);
            if near.width() <= 0.0 || near.height() <= 0.0 {
                return true;
            }
            // By where the other one lies: only one of both is moved.
            let by = kurbo::Affine::translate(to.to_vec2() - other.at.to_vec2());
            own.shapes.iter().map(|s| s.transformed(by)).all(|s| {
                (other.shapes.iter()).all(|t| s.distance_to(t, gap_mm + 1.0) >= gap_mm + 1e-7)
            })
        })
}
