//! What the web application is given: plans as drawings, readings and words.

mod drawing;
mod job;
mod side;

pub use drawing::{AreaDrawing, ColumnDrawing, LineDrawing, PathData, SCREEN_MM, SideDrawing};
pub use job::{FilmDrawing, JobPage, JobView, SideSummary, job_view};
pub use side::{
    Evaluation, FailedPiece, FeatureView, PieceView, SideView, UnderlayView, evaluation,
    lock_state, parts_of, side_view, underlay_area,
};

use serde_json::Value;
use uuid::Uuid;
use windrift_core::feature::SideFeature;
use windrift_core::plan::{Piece, SidePlan, plan_side};
use windrift_core::settings::WorkSettings;
use windrift_core::side::Side;
use windrift_core::tape::Unit;
use windrift_store::{SideRows, StoreError};

use crate::problem::Problem;

/// A side's rows as types of the core.
pub struct SideInput {
    /// The side as measured.
    pub side: Side,
    /// Its features.
    pub features: Vec<SideFeature>,
    /// Its pieces.
    pub pieces: Vec<(Uuid, Piece)>,
    /// The unit of the job's tape.
    pub unit: Unit,
}

/// Reads the job's unit.
pub fn unit_of(word: &str) -> Unit {
    serde_json::from_value(Value::from(word)).unwrap_or(Unit::InchSixteenth)
}

/// Reads a stored value.
pub fn stored<T: serde::de::DeserializeOwned>(value: &Value) -> Result<T, Problem> {
    serde_json::from_value(value.clone()).map_err(|e| StoreError::from(e).into())
}

impl SideInput {
    /// Reads a side's rows.
    pub fn of(rows: &SideRows) -> Result<SideInput, Problem> {
        Ok(SideInput {
            side: stored(&rows.side.spec)?,
            features: rows
                .features
                .iter()
                .map(|f| {
                    Ok(SideFeature {
                        id: f.id,
                        feature: stored(&f.spec)?,
                    })
                })
                .collect::<Result<_, Problem>>()?,
            pieces: rows
                .pieces
                .iter()
                .map(|p| Ok((p.id, stored(&p.spec)?)))
                .collect::<Result<_, Problem>>()?,
            unit: unit_of(&rows.job.unit),
        })
    }

    /// Plans the side.
    pub fn plan(&self, settings: &WorkSettings) -> Result<SidePlan, Problem> {
        Ok(plan_side(
            &self.side,
            &self.features,
            &self.pieces,
            settings,
            self.unit,
        )?)
    }
}
