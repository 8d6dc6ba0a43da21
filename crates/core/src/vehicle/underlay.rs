//! A photo under the picture of a side, with four points whose place on the side is known and a fifth that says how far off it is.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::homography::Homography;
use crate::ground::measure_error::{HIGHEST_MM, LONGEST_MM, MeasureError, require};
use crate::ground::mm::SignedMm;
use crate::ground::tape::{Unit, print};

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
    /// One more, which the photo is not squared up by: how far off it lies says how far the photo is to be trusted.
    #[serde(default)]
    pub fifth: Option<KnownPoint>,
}

/// More than this share of a side's length off, a fifth point says that the photo is not to be measured in.
const OFF_SHARE: f64 = 0.0025;

/// How far off the fifth point lies.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Off {
    /// Between where the photo has it and where it was measured, mm.
    pub off_mm: f64,
    /// Whether the photo can be gone by.
    pub good: bool,
    /// What it says.
    pub sentence: String,
}

impl Underlay {
    /// How far the photo, squared up by its four points, has the fifth from where it was measured. `direction` is 1 where the tape runs to
    /// the picture's right, −1 where it runs to its left; `length_mm` is the side's length.
    ///
    /// ```
    /// # use uuid::Uuid;
    /// # use windrift_core::ground::tape::Unit;
    /// # use windrift_core::vehicle::underlay::{KnownPoint, Underlay};
    /// let at = |across, down, back: f64, drop: f64| KnownPoint { across, down, back_mm: back.into(), drop_mm: drop.into() };
    /// // A photo that is square already, 4 m wide; its middle was measured 8 mm lower than it is seen.
    /// let points = vec![at(0., 0., 0., 0.), at(1., 0., 4000., 0.), at(1., 1., 4000., 2000.), at(0., 1., 0., 2000.)];
    /// let photo = Underlay { photo: Uuid::nil(), points, fifth: Some(at(0.5, 0.5, 2000., 1008.)) };
    /// let off = photo.off(1.0, 4000.0, Unit::Millimetre).unwrap();
    /// assert!((off.off_mm - 8.0).abs() < 1e-6 && off.good);
    /// ```
    pub fn off(&self, direction: f64, length_mm: f64, unit: Unit) -> Option<Off> {
        let fifth = self.fifth?;
        let pairs: Vec<(Point, Point)> = self
            .points
            .iter()
            .map(|p| (p.seen(), p.measured(direction)))
            .collect();
        let to_side = Homography::through(pairs.as_slice().try_into().ok()?)?;
        let off_mm = to_side
            .map(fifth.seen())?
            .distance(fifth.measured(direction));
        let good = off_mm <= (length_mm * OFF_SHARE).max(unit.step_mm());
        let by = print(off_mm, unit).text;
        let sentence = if good {
            format!(
                "The fifth point lies {by} off where it was measured: so far the photo can be trusted, in the plane of the side."
            )
        } else {
            format!(
                "The fifth point lies {by} off where it was measured. Show and measure the points again, or take the photo from farther away: do not measure in this one."
            )
        };
        Some(Off {
            off_mm,
            good,
            sentence,
        })
    }

    /// Checks that four points fix the photo: none missing, no three on one line, in the same order round on both, not mirrored.
    /// `direction` is 1 where the tape runs to the picture's right, −1 where it runs to its left.
    pub fn check(&self, direction: f64) -> Result<(), MeasureError> {
        require(
            self.points.len() == 4,
            "photo",
            format!(
                "A photo is squared up from four known points; there are {}. Show and measure four.",
                self.points.len()
            ),
        )?;
        let fine = self.points.iter().chain(&self.fifth).all(|p| {
            (-0.5..=1.5).contains(&p.across)
                && (-0.5..=1.5).contains(&p.down)
                && p.back_mm.abs() <= LONGEST_MM
                && p.drop_mm.abs() <= HIGHEST_MM
        });
        require(
            fine,
            "photo",
            "One of the points lies far off the photo or the side. Show it again.",
        )?;
        let seen = self.points.iter().map(KnownPoint::seen).collect::<Vec<_>>();
        let known = self
            .points
            .iter()
            .map(|p| p.measured(direction))
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
            seen != turned,
            "photo",
            "The points run the other way round in the photo than on the side: the photo is mirrored, or front and rear are exchanged. Show each point where it was measured.",
        )?;
        require(
            seen == known,
            "photo",
            "The four points do not run in the same order round the photo and the side. Check which measured point is which.",
        )
    }
}

impl KnownPoint {
    /// Where it is seen, in shares of the photo.
    fn seen(&self) -> Point {
        Point::new(self.across, self.down)
    }

    /// Where it was measured, to the right and down as the side is seen, mm.
    fn measured(&self, direction: f64) -> Point {
        Point::new(self.back_mm.mm() * direction, self.drop_mm.mm())
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
