//! The bay that a vehicle stands in: its air, and what is wet in it, whichever job it belongs to.

use serde::{Deserialize, Serialize};

use crate::floor::prep::open_air::{Rain, Wind};
use crate::floor::wet::Wet;
use crate::ground::measure_error::{MeasureError, require};

/// One entry about a bay.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum BayEntry {
    /// The job's vehicle stands in this bay.
    StandsIn {
        /// What the bay is called.
        bay: String,
        /// It is no bay, but a place in the open.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        open_air: bool,
    },
    /// Something was put on that flashes off, or a flame went out.
    Wet {
        /// What.
        wet: Wet,
        /// Where.
        place: String,
        /// The bay, as it stood then. The server fills it in.
        #[serde(default)]
        bay: String,
    },
    /// The air was read.
    Air {
        /// °C.
        celsius: f64,
        /// Relative humidity, percent.
        humidity: f64,
        /// The bay, as it stood then. The server fills it in.
        #[serde(default)]
        bay: String,
    },
    /// Wind and rain in the open, as somebody sees them.
    Weather {
        /// Wind.
        wind: Wind,
        /// Rain.
        rain: Rain,
        /// The place, as it stood then. The server fills it in.
        #[serde(default)]
        bay: String,
    },
}

/// What a bay is called where nobody has said.
pub const FIRST_BAY: &str = "Bay 1";
/// Longest name, in characters.
const LONGEST: usize = 60;

/// Whether the air of a hall or yard can be like this.
///
/// Errors: the field, and a sentence.
pub fn check_air(celsius: f64, humidity: f64) -> Result<(), MeasureError> {
    require(
        (-40.0..=60.0).contains(&celsius),
        "celsius",
        "The air of a bay is from -40 to 60 \u{b0}C (-40 to 140 \u{b0}F). Read it again.",
    )?;
    require(
        (1.0..=100.0).contains(&humidity),
        "humidity",
        "Relative humidity is from 1 to 100 percent. Read it again.",
    )
}

impl BayEntry {
    /// Checks what can be checked of it alone.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        match self {
            BayEntry::StandsIn { bay, .. } => require(
                (1..=LONGEST).contains(&bay.trim().chars().count()),
                "bay",
                "Say which bay, in 1 to 60 characters.",
            ),
            BayEntry::Wet { place, .. } => require(
                place.chars().count() <= LONGEST,
                "place",
                "Say where it is wet in at most 60 characters.",
            ),
            BayEntry::Air {
                celsius, humidity, ..
            } => check_air(*celsius, *humidity),
            BayEntry::Weather { .. } => Ok(()),
        }
    }
}
