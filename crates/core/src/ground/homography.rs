//! The map of one plane to another by four points: a photo of a flat side to that side.

use kurbo::Point;

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
