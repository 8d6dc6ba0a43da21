//! The straight reference from which distances are read: *back* along it, *down* square to it, a *drop* plumb.

use kurbo::{Point, Vec2};

/// The straight reference on a side from which distances are read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Datum {
    /// Its front end: the zero of the tape.
    pub zero: Point,
    /// Unit vector towards the rear.
    pub back: Vec2,
    /// Unit vector square to it, downwards.
    pub down: Vec2,
    /// Its length, mm.
    pub length_mm: f64,
}

impl Datum {
    /// The datum from its zero to its other end.
    pub fn between(zero: Point, end: Point) -> Datum {
        let back = (end - zero).normalize();
        // Square to it and downwards, whichever way it runs.
        let down = if back.x >= 0.0 {
            Vec2::new(-back.y, back.x)
        } else {
            Vec2::new(back.y, -back.x)
        };
        Datum {
            zero,
            back,
            down,
            length_mm: zero.distance(end),
        }
    }

    /// The point that lies so far back and down, mm.
    pub fn at(&self, back: f64, down: f64) -> Point {
        self.zero + self.back * back + self.down * down
    }

    /// How far back and how far down a point is, mm: what a tape would read.
    pub fn read(&self, point: Point) -> (f64, f64) {
        let from_zero = point - self.zero;
        (from_zero.dot(self.back), from_zero.dot(self.down))
    }

    /// The point found by going back along the datum and then dropping plumb, mm.
    pub fn drop_point(&self, back: f64, drop: f64) -> Point {
        self.at(back, 0.0) + Vec2::new(0.0, drop)
    }

    /// How far back along the datum a point is that was found by dropping plumb, and how far it drops, mm.
    pub fn read_plumb(&self, point: Point) -> (f64, f64) {
        let from_zero = point - self.zero;
        let back = from_zero.x / self.back.x;
        (back, from_zero.y - back * self.back.y)
    }

    /// How far it falls from its zero to its other end against level, mm; less than 0 where it rises.
    pub fn fall_mm(&self) -> f64 {
        self.back.y * self.length_mm
    }
}
