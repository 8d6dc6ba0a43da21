//! A photo under the picture of a side, with four points whose place on the side is known.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::measure_error::{HIGHEST_MM, LONGEST_MM, MeasureError, require};
use crate::ground::mm::SignedMm;

/// A point that is known on the side and seen in the photo.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KnownPoint {
    /// Where it is seen: share of the photo's width from its left, 0 to 1.
    pub across: f64,
    /// Share of the photo's height from its top, 0 to 1.
    pub down: f64,
    /// Where it is measured: back along the rail, mm.
    pub back_mm: SignedMm,
    /// Plumb down from the rail, mm.
    pub drop_mm: SignedMm,
}

/// A photo with the four points that square it up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Underlay {
    /// The photo's key.
    pub photo: Uuid,
    /// Four known points.
    pub points: Vec<KnownPoint>,
}

impl Underlay {
    /// Checks that four points fix the photo: none missing, no three on one line, in the same order round on both.
    pub fn check(&self) -> Result<(), MeasureError> {
        require(
            self.points.len() == 4,
            "photo",
            format!(
                "A photo is squared up from four known points; there are {}. Show and measure four.",
                self.points.len()
            ),
        )?;
        let fine = self.points.iter().all(|p| {
            (-0.5..=1.5).contains(&p.across)
                && (-0.5..=1.5).contains(&p.down)
                && p.back_mm.abs() <= LONGEST_MM
                && p.drop_mm.abs() <= HIGHEST_MM
        });
        require(
            fine,
            "photo",
            "One of the four points lies far off the photo or the side. Show it again.",
        )?;
        let seen = self
            .points
            .iter()
            .map(|p| Point::new(p.across, p.down))
            .collect::<Vec<_>>();
        let known = self
            .points
            .iter()
            .map(|p| Point::new(p.back_mm.mm(), p.drop_mm.mm()))
            .collect::<Vec<_>>();
        for (points, where_) in [(&seen, "in the photo"), (&known, "as measured")] {
            if let Some((a, b, c)) = three_in_line(points) {
                return require(
                    false,
                    "photo",
                    format!(
                        "Points {}, {} and {} lie on one line {where_}, so the photo cannot be squared up. Choose four corners of something large and square.",
                        a + 1,
                        b + 1,
                        c + 1
                    ),
                );
            }
        }
        let order = |points: &[Point]| -> Vec<bool> {
            (0..4)
                .map(|n| {
                    let [a, b, c] = [0, 1, 2].map(|k| points[(n + k) % 4]);
                    (b - a).cross(c - b) > 0.0
                })
                .collect()
        };
        let (seen, known) = (order(&seen), order(&known));
        let turned = known.iter().map(|turn| !turn).collect::<Vec<_>>();
        require(
            seen == known || seen == turned,
            "photo",
            "The four points do not run in the same order round the photo and the side. Check which measured point is which.",
        )
    }
}

/// Three of four points that lie on one line: the height of the triangle is under a hundredth of its longest edge.
fn three_in_line(points: &[Point]) -> Option<(usize, usize, usize)> {
    for (a, b, c) in [(0, 1, 2), (0, 1, 3), (0, 2, 3), (1, 2, 3)] {
        let (p, q, r) = (points[a], points[b], points[c]);
        let longest = p.distance(q).max(q.distance(r)).max(r.distance(p));
        let twice_area = (q - p).cross(r - p).abs();
        if twice_area <= 0.01 * longest * longest {
            return Some((a, b, c));
        }
    }
    None
}
