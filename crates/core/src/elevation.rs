//! A side put together from its measurements: every seam, rivet column and piece of hardware in the picture frame.

use kurbo::{Point, Rect, Vec2};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::feature::{Feature, LampColour, SideFeature};
use crate::outline::Shape;
use crate::side::{BoxSide, Datum, MeasureError};

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
    use crate::side::VehicleSide;

    const BODY: BoxSide = BoxSide {
        side: VehicleSide::Left,
        length_mm: 7315.2,
        height_mm: 2184.4,
        fall_mm: 0.0,
    };

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
