//! Where a piece hangs: what a lock stands on, and what a piece that lies is compared with.

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::ground::outline::Shape;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;

/// A piece that is moved by less than this hangs where it did, mm: a tenth of what a tape is read to.
const SAME_MM: f64 = 0.1;
/// Film that differs by more than this share of its area is another film.
const SAME_FILM: f64 = 0.001;

/// Where a piece hangs on its side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HangsAt {
    /// What the tape was to read at the flat nearer the front and at the other.
    pub wanted: [Length; 2],
    /// Corners of the box round its film in the picture frame, mm: upper left first, clockwise in the piece's own frame.
    pub corners: [[f64; 2]; 4],
    /// Area of its film, mm².
    pub film_mm2: f64,
}

/// That a piece no longer hangs where it hung.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Moved {
    /// How it was moved: `4 down and 1/2 to the rear`.
    pub how: String,
    /// What the tape was to read then.
    pub wanted_then: [Length; 2],
    /// Where its corners were.
    pub corners_then: [[f64; 2]; 4],
}

impl HangsAt {
    /// Where a planned piece hangs.
    pub fn of(piece: &PlannedPiece) -> HangsAt {
        let flats = &piece.readings.flats;
        let b = piece.drawn.bounds;
        let at = |x, y| {
            let p = piece.placed.to_picture * Point::new(x, y);
            [p.x, p.y]
        };
        HangsAt {
            wanted: [flats.front.wanted.clone(), flats.rear.wanted.clone()],
            corners: [
                at(b.x0, b.y0),
                at(b.x1, b.y0),
                at(b.x1, b.y1),
                at(b.x0, b.y1),
            ],
            film_mm2: piece.film().map(|s: Shape| s.area()).sum(),
        }
    }

    /// How a piece that hung here has been moved, or nothing where it hangs as it did. `direction` is 1 where the tape runs to the
    /// picture's right, -1 where it runs to the left.
    pub fn moved_to(&self, now: &HangsAt, direction: f64, unit: Unit) -> Option<Moved> {
        let shift = |n: usize| {
            let (a, b) = (self.corners[n], now.corners[n]);
            [(b[0] - a[0]) * direction, b[1] - a[1]]
        };
        let shifts = [0, 1, 2, 3].map(shift);
        let farthest = shifts.iter().map(|[x, y]| x.hypot(*y)).fold(0.0, f64::max);
        let other_film = (now.film_mm2 - self.film_mm2).abs()
            > SAME_FILM * self.film_mm2.max(now.film_mm2).max(1.0);
        // Also where a figure is not a number.
        if farthest <= SAME_MM && !other_film {
            return None;
        }
        let mean = |k: usize| shifts.iter().map(|s| s[k]).sum::<f64>() / 4.0;
        let (back, down) = (mean(0), mean(1));
        let mut ways = Vec::new();
        let mut way = |mm: f64, more: &str, less: &str| {
            if mm.abs() > SAME_MM {
                let towards = if mm > 0.0 { more } else { less };
                ways.push(format!("{} {towards}", print(mm.abs(), unit).text));
            }
        };
        way(down, "down", "up");
        way(back, "to the rear", "to the front");
        let askew = shifts
            .iter()
            .any(|s| (s[0] - back).hypot(s[1] - down) > SAME_MM);
        if other_film {
            ways.push("with other film".into());
        } else if askew {
            ways.push("turned or sized anew".into());
        }
        Some(Moved {
            how: ways.join(", "),
            wanted_then: self.wanted.clone(),
            corners_then: self.corners,
        })
    }
}
