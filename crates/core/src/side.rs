//! One side of a vehicle as measured: the body, the straight reference its tape hangs on, and what is in the way of film.
//!
//! The picture frame: mm, x to the right and y down as a person sees the side, origin at the top front corner. A side whose
//! front is at the picture's right therefore runs towards negative x.
//!
//! Readings: *back* runs along the datum from the front end, *down* is square to it. Features are measured as a fitter does it:
//! back along the rail, then plumb down from the rail at that place (a *drop*).

use kurbo::{Point, Rect, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

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

fn require(
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

/// Colour of a lamp's lens.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LampColour {
    /// Amber.
    Amber,
    /// Red.
    Red,
    /// White.
    White,
}

/// Something on a side that matters to film, as it is measured. Distances in mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Feature {
    /// Panel seams at an even pitch, from the rail to the bottom edge.
    PanelSeams {
        /// Front edge to the first seam, along the rail.
        first_mm: f64,
        /// Seam to seam.
        pitch_mm: f64,
        /// How many seams.
        count: u32,
    },
    /// Columns of rivets at an even pitch.
    RivetColumns {
        /// Front edge to the first column, along the rail.
        first_mm: f64,
        /// Column to column.
        pitch_mm: f64,
        /// How many columns.
        count: u32,
        /// Rail to the middle of the first rivet.
        first_rivet_mm: f64,
        /// Rivet to rivet down the column.
        rivet_pitch_mm: f64,
        /// Rivets in each column.
        rivets: u32,
        /// Diameter of a head.
        head_mm: f64,
    },
    /// A locker door or any other upright rectangle with a gap round it.
    LockerDoor {
        /// Front edge to its front edge, along the rail.
        back_mm: f64,
        /// Rail to its top edge.
        drop_mm: f64,
        /// Width.
        width_mm: f64,
        /// Height.
        height_mm: f64,
        /// How far film keeps off it.
        clearance_mm: f64,
    },
    /// Lamps in a row at an even pitch.
    LampRow {
        /// Front edge to the middle of the first lamp, along the rail.
        first_mm: f64,
        /// Rail to the middle of the first lamp; the row runs parallel to the rail.
        drop_mm: f64,
        /// Lamp to lamp.
        pitch_mm: f64,
        /// How many lamps.
        count: u32,
        /// Width of one.
        width_mm: f64,
        /// Height of one.
        height_mm: f64,
        /// Colour of the lens.
        colour: LampColour,
        /// How far film keeps off it.
        clearance_mm: f64,
    },
    /// A wheel arch: half an ellipse standing on the bottom edge.
    WheelArch {
        /// Front edge to its middle, along the rail.
        centre_mm: f64,
        /// Width at the bottom edge.
        width_mm: f64,
        /// Height over the bottom edge.
        height_mm: f64,
        /// How far film keeps off it.
        clearance_mm: f64,
    },
}

/// A feature with the row that it is kept in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SideFeature {
    /// The feature's own key.
    pub id: Uuid,
    /// What was measured.
    pub feature: Feature,
}

/// One seam, ready to be drawn and landed on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Seam {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// Its number on the side, from the front, from 1.
    pub number: u32,
    /// Distance back along the rail, mm.
    pub back_mm: f64,
    /// Its top and its foot in the picture frame.
    pub line: (Point, Point),
}

/// One column of rivets.
#[derive(Debug, Clone, PartialEq)]
pub struct RivetColumn {
    /// The feature that it comes from.
    pub source: Uuid,
    /// Its number on the side, from the front, from 1.
    pub number: u32,
    /// Distance back along the rail, mm.
    pub back_mm: f64,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// Middles of the heads from the top, in the picture frame.
    pub heads: Vec<Point>,
}

/// What a piece of hardware is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HardwareKind {
    /// Locker door.
    LockerDoor,
    /// Lamp.
    Lamp,
    /// Wheel arch.
    WheelArch,
}

/// Something that film keeps off.
#[derive(Debug, Clone, PartialEq)]
pub struct Hardware {
    /// The feature that it comes from.
    pub source: Uuid,
    /// What it is.
    pub kind: HardwareKind,
    /// What it is called on this side: `locker door`, `lamp 2`.
    pub name: String,
    /// Its outline in the picture frame.
    pub outline: Shape,
    /// How far film keeps off it, mm.
    pub clearance_mm: f64,
    /// Lens colour of a lamp.
    pub colour: Option<LampColour>,
}

/// A side with everything on it in the picture frame.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredSide {
    /// The body as measured.
    pub body: BoxSide,
    /// The reference for readings.
    pub datum: Datum,
    /// The body's outline.
    pub outline: Shape,
    /// Seams from the front.
    pub seams: Vec<Seam>,
    /// Rivet columns from the front.
    pub columns: Vec<RivetColumn>,
    /// Doors, lamps and arches.
    pub hardware: Vec<Hardware>,
}

/// Most rivets on one side.
pub const MOST_RIVETS: u64 = 5_000;

impl Feature {
    /// Checks that the feature is whole and lies on the side. Errors name the field.
    pub fn check(&self, body: &BoxSide) -> Result<(), MeasureError> {
        let (length, height) = (
            body.length_mm,
            body.height_mm.min(body.height_mm - body.fall_mm),
        );
        let row_ends = |first: f64, pitch: f64, count: u32, what: &str| {
            require(
                (1..=200).contains(&count),
                "count",
                format!("There must be 1 to 200 {what}."),
            )?;
            require(
                count == 1 || pitch > 0.0,
                "pitch_mm",
                format!("The distance between {what} must be more than 0."),
            )?;
            let last = first + pitch * f64::from(count - 1);
            let off = format!(
                "The last of these {what} would be {} in ({last:.0} mm) back, past the rear edge. Check the pitch and how many there are.",
                print(last, Unit::InchSixteenth).text
            );
            require(
                (0.0..=length).contains(&first),
                "first_mm",
                format!(
                    "The first of these {what} would be off the side. Measure it from the front edge."
                ),
            )?;
            require(last <= length, "pitch_mm", off)
        };
        let on_side = |field: &'static str, mm: f64, limit: f64, what: &str| {
            require(
                mm.is_finite() && (0.0..=limit).contains(&mm),
                field,
                format!("{what} would be off the side. Measure it again."),
            )
        };
        let some = |field: &'static str, mm: f64, what: &str| {
            require(
                mm.is_finite() && mm >= 1.0,
                field,
                format!("{what} must be more than 0."),
            )
        };
        let clearance = |mm: f64| {
            require(
                (0.0..=500.0).contains(&mm),
                "clearance_mm",
                "The clearance must be from 0 to 500 mm.",
            )
        };
        match *self {
            Feature::PanelSeams {
                first_mm,
                pitch_mm,
                count,
            } => row_ends(first_mm, pitch_mm, count, "seams"),
            Feature::RivetColumns {
                first_mm,
                pitch_mm,
                count,
                first_rivet_mm,
                rivet_pitch_mm,
                rivets,
                head_mm,
            } => {
                row_ends(first_mm, pitch_mm, count, "rivet columns")?;
                require(
                    (1..=500).contains(&rivets),
                    "rivets",
                    "A column must have 1 to 500 rivets.",
                )?;
                require(
                    u64::from(rivets) * u64::from(count) <= MOST_RIVETS,
                    "rivets",
                    format!("A side may have {MOST_RIVETS} rivets; check how many there are."),
                )?;
                some(
                    "rivet_pitch_mm",
                    rivet_pitch_mm,
                    "The distance between rivets",
                )?;
                require(
                    (1.0..=100.0).contains(&head_mm),
                    "head_mm",
                    "A rivet head must be from 1 to 100 mm (4 in) across.",
                )?;
                on_side("first_rivet_mm", first_rivet_mm, height, "The first rivet")?;
                on_side(
                    "rivet_pitch_mm",
                    first_rivet_mm + rivet_pitch_mm * f64::from(rivets - 1),
                    height,
                    "The last rivet of each column",
                )
            }
            Feature::LockerDoor {
                back_mm,
                drop_mm,
                width_mm,
                height_mm,
                clearance_mm,
            } => {
                some("width_mm", width_mm, "The width of the door")?;
                some("height_mm", height_mm, "The height of the door")?;
                on_side("back_mm", back_mm, length, "The door")?;
                on_side(
                    "width_mm",
                    back_mm + width_mm,
                    length,
                    "The rear edge of the door",
                )?;
                on_side("drop_mm", drop_mm, height, "The door")?;
                on_side(
                    "height_mm",
                    drop_mm + height_mm,
                    height,
                    "The foot of the door",
                )?;
                clearance(clearance_mm)
            }
            Feature::LampRow {
                first_mm,
                drop_mm,
                pitch_mm,
                count,
                width_mm,
                height_mm,
                clearance_mm,
                ..
            } => {
                row_ends(first_mm, pitch_mm, count, "lamps")?;
                some("width_mm", width_mm, "The width of a lamp")?;
                some("height_mm", height_mm, "The height of a lamp")?;
                on_side("drop_mm", drop_mm, height, "The lamp row")?;
                clearance(clearance_mm)
            }
            Feature::WheelArch {
                centre_mm,
                width_mm,
                height_mm,
                clearance_mm,
            } => {
                some("width_mm", width_mm, "The width of the arch")?;
                on_side("centre_mm", centre_mm, length, "The wheel arch")?;
                some("height_mm", height_mm, "The height of the arch")?;
                on_side("height_mm", height_mm, height, "The top of the wheel arch")?;
                require(
                    width_mm <= length,
                    "width_mm",
                    "The wheel arch would be wider than the side.",
                )?;
                clearance(clearance_mm)
            }
        }
    }
}

/// Puts a side together from its measurements: every seam, column and piece of hardware in the picture frame, numbered from
/// the front.
///
/// Errors: the first measurement that cannot stand.
pub fn measure(body: BoxSide, features: &[SideFeature]) -> Result<MeasuredSide, MeasureError> {
    body.check()?;
    let datum = body.datum();
    let mut side = MeasuredSide {
        body,
        datum,
        outline: body.outline(),
        seams: Vec::new(),
        columns: Vec::new(),
        hardware: Vec::new(),
    };
    for SideFeature { id, feature } in features {
        feature.check(&body)?;
        match *feature {
            Feature::PanelSeams {
                first_mm,
                pitch_mm,
                count,
            } => {
                for n in 0..count {
                    let back_mm = first_mm + pitch_mm * f64::from(n);
                    let top = datum.at(back_mm, 0.0);
                    side.seams.push(Seam {
                        source: (*id, n + 1),
                        number: 0,
                        back_mm,
                        line: (top, Point::new(top.x, body.height_mm)),
                    });
                }
            }
            Feature::RivetColumns {
                first_mm,
                pitch_mm,
                count,
                first_rivet_mm,
                rivet_pitch_mm,
                rivets,
                head_mm,
            } => {
                for n in 0..count {
                    let back_mm = first_mm + pitch_mm * f64::from(n);
                    let heads = (0..rivets)
                        .map(|r| {
                            datum
                                .drop_point(back_mm, first_rivet_mm + rivet_pitch_mm * f64::from(r))
                        })
                        .collect();
                    side.columns.push(RivetColumn {
                        source: *id,
                        number: 0,
                        back_mm,
                        head_mm,
                        heads,
                    });
                }
            }
            Feature::LockerDoor {
                back_mm,
                drop_mm,
                width_mm,
                height_mm,
                clearance_mm,
            } => {
                let corner = datum.drop_point(back_mm, drop_mm);
                let opposite = corner + Vec2::new(body.side.direction() * width_mm, height_mm);
                side.hardware.push(Hardware {
                    source: *id,
                    kind: HardwareKind::LockerDoor,
                    name: "locker door".into(),
                    outline: Shape::rectangle(Rect::from_points(corner, opposite)),
                    clearance_mm,
                    colour: None,
                });
            }
            Feature::LampRow {
                first_mm,
                drop_mm,
                pitch_mm,
                count,
                width_mm,
                height_mm,
                colour,
                clearance_mm,
            } => {
                for n in 0..count {
                    let middle = datum.drop_point(first_mm + pitch_mm * f64::from(n), drop_mm);
                    side.hardware.push(Hardware {
                        source: *id,
                        kind: HardwareKind::Lamp,
                        name: "lamp".into(),
                        outline: Shape::rectangle(Rect::from_center_size(
                            middle,
                            (width_mm, height_mm),
                        )),
                        clearance_mm,
                        colour: Some(colour),
                    });
                }
            }
            Feature::WheelArch {
                centre_mm,
                width_mm,
                height_mm,
                clearance_mm,
            } => {
                let middle = Point::new(datum.at(centre_mm, 0.0).x, body.height_mm);
                side.hardware.push(Hardware {
                    source: *id,
                    kind: HardwareKind::WheelArch,
                    name: "wheel arch".into(),
                    outline: half_ellipse(middle, width_mm / 2.0, height_mm),
                    clearance_mm,
                    colour: None,
                });
            }
        }
    }
    number(&mut side);
    Ok(side)
}

/// Numbers everything from the front. A kind that stands there once carries no number.
fn number(side: &mut MeasuredSide) {
    side.seams.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    for (n, seam) in (1..).zip(&mut side.seams) {
        seam.number = n;
    }
    side.columns.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    for (n, column) in (1..).zip(&mut side.columns) {
        column.number = n;
    }
    let datum = side.datum;
    side.hardware.sort_by(|a, b| {
        datum
            .read(a.outline.bounds.center())
            .0
            .total_cmp(&datum.read(b.outline.bounds.center()).0)
    });
    for kind in [
        HardwareKind::LockerDoor,
        HardwareKind::Lamp,
        HardwareKind::WheelArch,
    ] {
        if side.hardware.iter().filter(|h| h.kind == kind).count() > 1 {
            for (n, hardware) in (1..).zip(side.hardware.iter_mut().filter(|h| h.kind == kind)) {
                hardware.name = format!("{} {n}", hardware.name);
            }
        }
    }
}

fn half_ellipse(middle: Point, half_width: f64, height: f64) -> Shape {
    const STEPS: i32 = 48;
    Shape::new(vec![
        (0..=STEPS)
            .map(|n| {
                let angle = std::f64::consts::PI * f64::from(n) / f64::from(STEPS);
                Point::new(
                    middle.x - half_width * angle.cos(),
                    middle.y - height * angle.sin(),
                )
            })
            .collect(),
    ])
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

    #[test]
    fn features_off_the_side_are_refused_by_field() {
        let columns = |first_mm, pitch_mm, count, rivets| Feature::RivetColumns {
            first_mm,
            pitch_mm,
            count,
            first_rivet_mm: 100.0,
            rivet_pitch_mm: 150.0,
            rivets,
            head_mm: 12.7,
        };
        let field = |f: Feature| f.check(&BODY).err().map(|e| e.field);
        assert_eq!(field(columns(1200.0, 1220.0, 5, 13)), None);
        assert_eq!(field(columns(1200.0, 1220.0, 7, 13)), Some("pitch_mm"));
        assert_eq!(field(columns(9000.0, 0.0, 1, 13)), Some("first_mm"));
        assert_eq!(
            field(columns(1200.0, 1220.0, 5, 20)),
            Some("rivet_pitch_mm")
        );
        assert_eq!(field(columns(1200.0, 0.0, 5, 13)), Some("pitch_mm"));
        let door = Feature::LockerDoor {
            back_mm: 6000.0,
            drop_mm: 900.0,
            width_mm: 0.0,
            height_mm: 900.0,
            clearance_mm: 12.0,
        };
        assert_eq!(field(door), Some("width_mm"));
    }

    #[test]
    fn hardware_is_numbered_from_the_front() {
        let lamp = Feature::LampRow {
            first_mm: 150.0,
            drop_mm: 2100.0,
            pitch_mm: 3400.0,
            count: 3,
            width_mm: 100.0,
            height_mm: 50.0,
            colour: LampColour::Amber,
            clearance_mm: 10.0,
        };
        let right = BoxSide {
            side: VehicleSide::Right,
            ..BODY
        };
        let side = measure(
            right,
            &[SideFeature {
                id: Uuid::nil(),
                feature: lamp,
            }],
        );
        let names = side.map(|s| {
            s.hardware
                .iter()
                .map(|h| (h.name.clone(), h.outline.bounds.center().x))
                .collect::<Vec<_>>()
        });
        assert_eq!(
            names,
            Ok(vec![
                ("lamp 1".into(), -150.0),
                ("lamp 2".into(), -3550.0),
                ("lamp 3".into(), -6950.0)
            ])
        );
    }
}
