//! A reading of a retroreflectometer.

use serde::{Deserialize, Serialize};

use crate::ground::told::Told;
use crate::marking::strip::TapeColour;

/// Observation angles that the tables have.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Observation {
    /// 0.2 degrees.
    Fifth,
    /// 0.33 degrees.
    Third,
    /// 0.5 degrees.
    Half,
}

impl Observation {
    pub(super) fn name(self) -> &'static str {
        match self {
            Observation::Fifth => "0.2°",
            Observation::Third => "0.33°",
            Observation::Half => "0.5°",
        }
    }
}

/// One reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RetroReading {
    /// Where it was read, as it was typed.
    pub place: String,
    /// The number of the strip that it was read on.
    #[serde(default)]
    pub strip: Option<u32>,
    /// The colour.
    pub colour: TapeColour,
    /// Observation angle.
    pub observation: Observation,
    /// Entrance angle, degrees.
    pub entrance: i32,
    /// The reading, cd/lx/m².
    pub reading: f64,
}

impl RetroReading {
    /// Whether it is a reading.
    pub fn check(&self) -> Result<(), Told> {
        if self.reading.is_finite()
            && (0.0..=5000.0).contains(&self.reading)
            && self.entrance.abs() <= 90
        {
            return Ok(());
        }
        Err(Told::new(
            "marking",
            "A reading is between 0 and 5000 cd/lx/m². Read the meter again.",
        ))
    }
}
