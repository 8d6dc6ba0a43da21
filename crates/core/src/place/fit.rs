//! Fitting a piece to measured points: the turn and shift, never a mirror or a scale, with the least squared error.

use kurbo::{Affine, Point, Vec2};
use serde::{Deserialize, Serialize};

use crate::ground::tape::Length;

/// How far one point misses after the fit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Miss {
    /// Number of the point, from 1.
    pub number: u32,
    /// Straight distance from where it was measured to where the piece puts it.
    pub off: Length,
    /// Along the datum: more than 0 where the piece is farther back than measured.
    pub back: Length,
    /// Down from the datum: more than 0 where the piece is lower than measured.
    pub down: Length,
}

/// How a piece fits its measured points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fit {
    /// Each point.
    pub misses: Vec<Miss>,
    /// What that means, in a sentence.
    pub sentence: String,
}

/// The rigid motion that carries `from` onto `to` with the least sum of squared distances (closed form for the plane). With
/// `pinned`, that pair meets exactly and the rest is turned about it. Fewer than two pairs, or all at one place, only shift.
///
/// ```
/// # use windrift_core::place::fit::rigid;
/// # use kurbo::Point;
/// let drawn = [Point::new(0.0, 0.0), Point::new(100.0, 0.0)];
/// let read = [Point::new(10.0, 5.0), Point::new(10.0, 105.0)];
/// // A quarter turn and a shift, never a stretch.
/// let there = rigid(&drawn, &read, None) * Point::new(50.0, 0.0);
/// assert!((there - Point::new(10.0, 55.0)).hypot() < 1e-9);
/// ```
pub fn rigid(from: &[Point], to: &[Point], pinned: Option<usize>) -> Affine {
    let pairs = from.len().min(to.len());
    if pairs == 0 {
        return Affine::IDENTITY;
    }
    let middle = |points: &[Point]| -> Vec2 {
        points
            .iter()
            .take(pairs)
            .map(|p| p.to_vec2())
            .fold(Vec2::ZERO, |a, b| a + b)
            / pairs as f64
    };
    let (a, b) = match pinned.and_then(|n| from.get(n).zip(to.get(n))) {
        Some((a, b)) => (a.to_vec2(), b.to_vec2()),
        None => (middle(from), middle(to)),
    };
    let (mut dot, mut cross) = (0.0, 0.0);
    for (p, q) in from.iter().zip(to) {
        let (p, q) = (p.to_vec2() - a, q.to_vec2() - b);
        dot += p.dot(q);
        cross += p.cross(q);
    }
    let angle = if dot == 0.0 && cross == 0.0 {
        0.0
    } else {
        cross.atan2(dot)
    };
    Affine::translate(b) * Affine::rotate(angle) * Affine::translate(-a)
}
