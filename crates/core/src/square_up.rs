//! Squaring up a photo of a side from four known points, so that it can lie under the picture to scale.
//!
//! A flat side and its photo are related by a projective map (homography), which four points fix: the usual pinhole-camera
//! geometry, no lens distortion. What lies before or behind the plane of the side is not where it seems to be.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::body::{HIGHEST_MM, LONGEST_MM};
use crate::side::{MeasureError, Side, require};

/// A point that is known on the side and seen in the photo.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KnownPoint {
    /// Where it is seen: share of the photo's width from its left, 0 to 1.
    pub across: f64,
    /// Share of the photo's height from its top, 0 to 1.
    pub down: f64,
    /// Where it is measured: back along the rail, mm.
    pub back_mm: f64,
    /// Plumb down from the rail, mm.
    pub drop_mm: f64,
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
            .map(|p| Point::new(p.back_mm, p.drop_mm))
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

    /// The map from the side's picture frame (mm) to the photo (pixels), for a photo of this size.
    ///
    /// `None` where the points do not fix one; [`Underlay::check`] says why.
    pub fn to_photo(&self, side: &Side, width: u32, height: u32) -> Option<Homography> {
        let datum = side.datum();
        let pairs: Vec<(Point, Point)> = self
            .points
            .iter()
            .map(|p| {
                let seen = Point::new(p.across * f64::from(width), p.down * f64::from(height));
                (datum.drop_point(p.back_mm, p.drop_mm), seen)
            })
            .collect();
        Homography::through(pairs.as_slice().try_into().ok()?)
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

/// A projective map of the plane.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Homography {
    /// Rows of the matrix, scaled so that the four points lie before the camera.
    pub rows: [[f64; 3]; 3],
}

impl Homography {
    /// The map that takes the first point of each pair to the second. `None` where the points do not fix one.
    pub fn through(pairs: &[(Point, Point); 4]) -> Option<Homography> {
        // Scaled to about 1 on both sides, so that the elimination is well conditioned.
        let from = Scaling::of(pairs.map(|p| p.0));
        let to = Scaling::of(pairs.map(|p| p.1));
        let mut system = [[0.0; 9]; 8];
        for (n, (a, b)) in pairs.iter().enumerate() {
            let (a, b) = (from.apply(*a), to.apply(*b));
            system[2 * n] = [a.x, a.y, 1.0, 0.0, 0.0, 0.0, -a.x * b.x, -a.y * b.x, b.x];
            system[2 * n + 1] = [0.0, 0.0, 0.0, a.x, a.y, 1.0, -a.x * b.y, -a.y * b.y, b.y];
        }
        let h = solve(&mut system)?;
        let scaled = [[h[0], h[1], h[2]], [h[3], h[4], h[5]], [h[6], h[7], 1.0]];
        let rows = product(&product(&to.back(), &scaled), &from.matrix());
        // Scaled so that the middle of the four points lies at distance 1 before the camera: what lies behind it has less than 0.
        let middle = from.middle;
        let depth = rows[2][0] * middle.x + rows[2][1] * middle.y + rows[2][2];
        if !depth.is_finite() || depth.abs() < 1e-12 {
            return None;
        }
        Some(Homography {
            rows: rows.map(|row| row.map(|v| v / depth)),
        })
    }

    /// Where a point goes. `None` beyond the horizon of the map.
    pub fn map(&self, p: Point) -> Option<Point> {
        let [x, y, w] = self.rows.map(|r| r[0] * p.x + r[1] * p.y + r[2]);
        (w > 1e-9).then(|| Point::new(x / w, y / w))
    }
}

type Matrix = [[f64; 3]; 3];

struct Scaling {
    middle: Point,
    factor: f64,
}

impl Scaling {
    fn of(points: [Point; 4]) -> Scaling {
        let sum = points
            .iter()
            .fold(kurbo::Vec2::ZERO, |s, p| s + p.to_vec2());
        let middle = (sum / 4.0).to_point();
        let spread = points.iter().map(|p| p.distance(middle)).sum::<f64>() / 4.0;
        Scaling {
            middle,
            factor: if spread > 0.0 { 1.0 / spread } else { 1.0 },
        }
    }

    fn apply(&self, p: Point) -> Point {
        ((p - self.middle) * self.factor).to_point()
    }

    fn matrix(&self) -> Matrix {
        let f = self.factor;
        [
            [f, 0.0, -self.middle.x * f],
            [0.0, f, -self.middle.y * f],
            [0.0, 0.0, 1.0],
        ]
    }

    fn back(&self) -> Matrix {
        let f = 1.0 / self.factor;
        [
            [f, 0.0, self.middle.x],
            [0.0, f, self.middle.y],
            [0.0, 0.0, 1.0],
        ]
    }
}

fn product(a: &Matrix, b: &Matrix) -> Matrix {
    std::array::from_fn(|i| std::array::from_fn(|j| (0..3).map(|k| a[i][k] * b[k][j]).sum()))
}

/// Gaussian elimination with the largest pivot.
fn solve(system: &mut [[f64; 9]; 8]) -> Option<[f64; 8]> {
    for column in 0..8 {
        let pivot = (column..8).max_by(|a, b| {
            system[*a][column]
                .abs()
                .total_cmp(&system[*b][column].abs())
        })?;
        if system[pivot][column].abs() < 1e-10 {
            return None;
        }
        system.swap(column, pivot);
        for row in column + 1..8 {
            let factor = system[row][column] / system[column][column];
            let pivot_row = system[column];
            for (value, above) in system[row].iter_mut().zip(pivot_row).skip(column) {
                *value -= factor * above;
            }
        }
    }
    let mut solution = [0.0; 8];
    for row in (0..8).rev() {
        let known: f64 = (row + 1..8).map(|k| system[row][k] * solution[k]).sum();
        solution[row] = (system[row][8] - known) / system[row][row];
    }
    Some(solution)
}

/// A picture of pixels, three bytes each: red, green, blue.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Raster {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Row by row from the top left.
    pub rgb: Vec<u8>,
}

/// What stands where the photo does not reach: the paper of the picture.
const BLANK: [u8; 3] = [253, 252, 247];

impl Raster {
    fn pixel(&self, x: u32, y: u32) -> [f64; 3] {
        let at = (y as usize * self.width as usize + x as usize) * 3;
        let byte = |n: usize| f64::from(self.rgb.get(at + n).copied().unwrap_or_default());
        [byte(0), byte(1), byte(2)]
    }

    /// Colour at a place between pixels, whose middles are at halves; bilinear. `None` off the picture.
    pub fn sample(&self, at: Point) -> Option<[f64; 3]> {
        let (x, y) = (at.x - 0.5, at.y - 0.5);
        let (last_x, last_y) = (f64::from(self.width) - 1.0, f64::from(self.height) - 1.0);
        if !(x >= -0.5 && y >= -0.5 && x <= last_x + 0.5 && y <= last_y + 0.5) {
            return None;
        }
        let (x, y) = (x.clamp(0.0, last_x), y.clamp(0.0, last_y));
        let (x0, y0) = (x.floor(), y.floor());
        let (fx, fy) = (x - x0, y - y0);
        let (x1, y1) = ((x0 + 1.0).min(last_x), (y0 + 1.0).min(last_y));
        let [a, b, c, d] =
            [(x0, y0), (x1, y0), (x0, y1), (x1, y1)].map(|(x, y)| self.pixel(x as u32, y as u32));
        Some(std::array::from_fn(|n| {
            (a[n] * (1.0 - fx) + b[n] * fx) * (1.0 - fy) + (c[n] * (1.0 - fx) + d[n] * fx) * fy
        }))
    }
}

/// The photo squared up: the part of the side's picture frame within `area` (mm), `width` pixels across.
///
/// `to_photo` takes mm of the picture frame to pixels of the photo.
pub fn square_up(photo: &Raster, to_photo: &Homography, area: Rect, width: u32) -> Raster {
    let mm = area.width() / f64::from(width.max(1));
    let height = (area.height() / mm).round().max(1.0) as u32;
    let mut rgb = Vec::with_capacity(width as usize * height as usize * 3);
    for row in 0..height {
        for column in 0..width {
            let at = Point::new(
                area.x0 + (f64::from(column) + 0.5) * mm,
                area.y0 + (f64::from(row) + 0.5) * mm,
            );
            let colour = to_photo.map(at).and_then(|p| photo.sample(p));
            match colour {
                Some(c) => rgb.extend(c.map(|v| v.round() as u8)),
                None => rgb.extend(BLANK),
            }
        }
    }
    Raster { width, height, rgb }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn underlay(seen: [(f64, f64); 4], known: [(f64, f64); 4]) -> Underlay {
        Underlay {
            photo: Uuid::nil(),
            points: seen
                .into_iter()
                .zip(known)
                .map(|((across, down), (back_mm, drop_mm))| KnownPoint {
                    across,
                    down,
                    back_mm,
                    drop_mm,
                })
                .collect(),
        }
    }

    const SEEN: [(f64, f64); 4] = [(0.1, 0.2), (0.9, 0.1), (0.85, 0.8), (0.15, 0.9)];
    const KNOWN: [(f64, f64); 4] = [(0.0, 0.0), (4000.0, 0.0), (4000.0, 2000.0), (0.0, 2000.0)];

    #[test]
    fn four_good_points_are_taken_and_bad_ones_named() {
        assert_eq!(underlay(SEEN, KNOWN).check(), Ok(()));
        let mut line = SEEN;
        line[1] = (0.5, 0.5);
        line[2] = (0.9, 0.8);
        let told = underlay(line, KNOWN).check().err().map(|e| e.sentence);
        assert!(
            told.is_some_and(|s| s.starts_with("Points 1, 2 and 3 lie on one line in the photo"))
        );
        let mut line = KNOWN;
        line[3] = (8000.0, 0.0);
        let told = underlay(SEEN, line).check().err().map(|e| e.sentence);
        assert!(told.is_some_and(|s| s.contains("as measured")));
        let mut swapped = KNOWN;
        swapped.swap(1, 2);
        let told = underlay(SEEN, swapped).check().err().map(|e| e.sentence);
        assert!(told.is_some_and(|s| s.contains("same order")));
        let mut three = underlay(SEEN, KNOWN);
        three.points.pop();
        assert!(
            three
                .check()
                .is_err_and(|e| e.sentence.contains("there are 3"))
        );
    }

    #[test]
    fn the_four_points_go_where_they_were_shown() {
        let pairs = [0, 1, 2, 3].map(|n| {
            (
                Point::new(KNOWN[n].0, KNOWN[n].1),
                Point::new(SEEN[n].0 * 1600.0, SEEN[n].1 * 900.0),
            )
        });
        let map = Homography::through(&pairs);
        assert!(map.is_some_and(|m| {
            pairs
                .iter()
                .all(|(a, b)| m.map(*a).is_some_and(|p| p.distance(*b) < 1e-6))
        }));
    }
}
