//! What is on a side that matters to film, as a fitter measures it: back along the rail, then plumb down from it (a *drop*).

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::side::{BoxSide, MeasureError, require};
use crate::tape::{Unit, print};

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
}
