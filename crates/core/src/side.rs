//! One side of a vehicle as measured: the body, and the straight reference its tape hangs on.
//!
//! The picture frame: mm, x to the right and y down as a person sees the side, origin at the top front corner. A side whose
//! front is at the picture's right therefore runs towards negative x.
//!
//! Readings: *back* runs along the datum from the front end, *down* is square to it.

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::outline::Shape;
use crate::tape::{Unit, print};

/// Side of the vehicle, as somebody sitting in it and facing forward says it. Stored; what is shown depends on the country.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum VehicleSide {
    /// The vehicle's left.
    Left,
    /// The vehicle's right.
    Right,
}

/// Words for left and right that do not depend on where one stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SideWords {
    /// Street side and curb side, where traffic keeps right.
    StreetCurbKeepRight,
    /// Street side and curb side, where traffic keeps left.
    StreetCurbKeepLeft,
    /// Near side and off side, where traffic keeps left.
    NearOffKeepLeft,
}

impl VehicleSide {
    /// What this side is called in the shop's country.
    pub fn name(self, words: SideWords) -> &'static str {
        match (words, self) {
            (SideWords::StreetCurbKeepRight, VehicleSide::Left)
            | (SideWords::StreetCurbKeepLeft, VehicleSide::Right) => "street side",
            (SideWords::StreetCurbKeepRight, VehicleSide::Right)
            | (SideWords::StreetCurbKeepLeft, VehicleSide::Left) => "curb side",
            (SideWords::NearOffKeepLeft, VehicleSide::Left) => "near side",
            (SideWords::NearOffKeepLeft, VehicleSide::Right) => "off side",
        }
    }

    /// +1 where back runs to the picture's right (front at the left), −1 where it runs to the left.
    pub fn direction(self) -> f64 {
        match self {
            VehicleSide::Left => 1.0,
            VehicleSide::Right => -1.0,
        }
    }
}

/// A box-body side as measured.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BoxSide {
    /// Which side of the vehicle it is.
    pub side: VehicleSide,
    /// Length along the top rail, mm.
    pub length_mm: f64,
    /// Height at the front edge, top rail to bottom edge, mm.
    pub height_mm: f64,
    /// How much the top rail falls from front to rear against level, mm; less than 0 where it rises.
    pub fall_mm: f64,
}

/// A measurement that cannot stand. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{sentence}")]
pub struct MeasureError {
    /// The field of the form, as it is stored.
    pub field: &'static str,
    /// One sentence for the installer.
    pub sentence: String,
}

fn wrong(field: &'static str, sentence: impl Into<String>) -> MeasureError {
    MeasureError {
        field,
        sentence: sentence.into(),
    }
}

pub(crate) fn require(
    holds: bool,
    field: &'static str,
    sentence: impl Into<String>,
) -> Result<(), MeasureError> {
    if holds {
        Ok(())
    } else {
        Err(wrong(field, sentence))
    }
}

fn require_range(
    mm: f64,
    range: std::ops::RangeInclusive<f64>,
    field: &'static str,
    what: &str,
) -> Result<(), MeasureError> {
    let shown = |mm: f64| format!("{} in ({mm:.0} mm)", print(mm, Unit::InchSixteenth).text);
    require(
        range.contains(&mm),
        field,
        format!(
            "{what} must be from {} to {}. Measure it again.",
            shown(*range.start()),
            shown(*range.end())
        ),
    )
}

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
    /// The point that lies so far back and down, mm.
    pub fn at(&self, back: f64, down: f64) -> Point {
        self.zero + self.back * back + self.down * down
    }

    /// How far back and how far down a point is, mm: what a tape would read.
    pub fn read(&self, point: Point) -> (f64, f64) {
        let from_zero = point - self.zero;
        (from_zero.dot(self.back), from_zero.dot(self.down))
    }

    /// The point found by going back along the rail and then dropping plumb, mm.
    pub fn drop_point(&self, back: f64, drop: f64) -> Point {
        self.at(back, 0.0) + Vec2::new(0.0, drop)
    }
}

impl BoxSide {
    /// Checks that the measurements describe a side. Errors name the field.
    pub fn check(&self) -> Result<(), MeasureError> {
        require_range(
            self.length_mm,
            600.0..=20_000.0,
            "length_mm",
            "The length of a side",
        )?;
        require_range(
            self.height_mm,
            300.0..=5_000.0,
            "height_mm",
            "The height of a side",
        )?;
        require(
            self.fall_mm < self.height_mm && self.fall_mm.is_finite(),
            "fall_mm",
            "The top rail would leave the side: it falls by as much as the side is high. Measure the fall again.",
        )?;
        require(
            self.fall_mm.abs() <= self.length_mm / 10.0,
            "fall_mm",
            "The top rail would slope by more than 1 in 10. Measure the fall from level again, at both ends.",
        )
    }

    /// The top rail as a datum, its zero at the front edge.
    pub fn datum(&self) -> Datum {
        let sine = self.fall_mm / self.length_mm;
        let cosine = (1.0 - sine * sine).sqrt();
        let direction = self.side.direction();
        Datum {
            zero: Point::ZERO,
            back: Vec2::new(direction * cosine, sine),
            down: Vec2::new(-direction * sine, cosine),
            length_mm: self.length_mm,
        }
    }

    /// The body's outline in the picture frame: rail, rear edge, bottom edge, front edge. Front and rear edges are plumb.
    pub fn outline(&self) -> Shape {
        let rear_top = self.datum().at(self.length_mm, 0.0);
        Shape::new(vec![vec![
            Point::ZERO,
            rear_top,
            Point::new(rear_top.x, self.height_mm),
            Point::new(0.0, self.height_mm),
        ]])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const BODY: BoxSide = BoxSide {
        side: VehicleSide::Left,
        length_mm: 7315.2,
        height_mm: 2184.4,
        fall_mm: 0.0,
    };

    #[test]
    fn back_and_down_survive_the_round_trip_on_both_sides_and_with_a_fall() {
        for side in [VehicleSide::Left, VehicleSide::Right] {
            for fall_mm in [-60.0, 0.0, 38.1] {
                let datum = BoxSide {
                    side,
                    fall_mm,
                    ..BODY
                }
                .datum();
                let (back, down) = datum.read(datum.at(1234.5, 678.9));
                assert!((back - 1234.5).abs() < 1e-9 && (down - 678.9).abs() < 1e-9);
                assert!(
                    datum.at(100.0, 0.0).x * side.direction() > 0.0,
                    "back runs away from the front"
                );
                assert!((datum.at(BODY.length_mm, 0.0).y - fall_mm).abs() < 1e-9);
            }
        }
    }

    #[test]
    fn the_shop_sees_its_own_words() {
        assert_eq!(
            VehicleSide::Left.name(SideWords::StreetCurbKeepRight),
            "street side"
        );
        assert_eq!(
            VehicleSide::Left.name(SideWords::NearOffKeepLeft),
            "near side"
        );
        assert_eq!(
            VehicleSide::Right.name(SideWords::StreetCurbKeepLeft),
            "street side"
        );
    }

    #[test]
    fn a_rail_that_leaves_the_side_is_refused() {
        let short = BoxSide {
            length_mm: 20_000.0,
            height_mm: 900.0,
            ..BODY
        };
        let field = |fall_mm| {
            BoxSide { fall_mm, ..short }
                .check()
                .err()
                .map(|e| e.sentence)
        };
        assert!(field(950.0).is_some_and(|s| s.contains("leave the side")));
        assert!(
            BoxSide {
                fall_mm: 800.0,
                ..BODY
            }
            .check()
            .is_err_and(|e| e.sentence.contains("1 in 10"))
        );
        assert_eq!(field(100.0), None);
    }
}
