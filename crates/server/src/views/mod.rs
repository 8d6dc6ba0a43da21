//! What the web application is given: plans as drawings, readings and words.

mod drawing;
mod job;
mod marking;
mod side;

pub use drawing::{AreaDrawing, ColumnDrawing, LineDrawing, PathData, SCREEN_MM, SideDrawing};
pub use job::{FilmDrawing, JobPage, JobView, SideSummary, job_view};
pub use marking::{Audits, CorrectedView, MarkingFound, MarkingInput, MarkingParts, MarkingView};
pub use side::{
    Evaluation, FailedPiece, FeatureView, PieceView, SideView, UnderlayView, evaluation,
    lock_state, parts_of, side_view, underlay_area,
};

use serde_json::Value;
use uuid::Uuid;
use windrift_core::feature::SideFeature;
use windrift_core::placement::PlaceRule;
use windrift_core::plan::{JobAround, Piece, SideParts, SidePlan, plan_side};
use windrift_core::settings::WorkSettings;
use windrift_core::side::Side;
use windrift_core::tape::Unit;
use windrift_store::{SideRows, Store, StoreError};

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
    /// What its plan needs to know of the job's other sides.
    pub job: JobAround,
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
            job: JobAround::default(),
        })
    }

    /// The same among the sides of its job, so that mirrored pieces find each other.
    pub fn among(mut self, siblings: &[SideRows]) -> SideInput {
        // A sibling that cannot be read is left out: what mirrors it says so.
        let others: Vec<SideInput> = siblings
            .iter()
            .filter_map(|rows| SideInput::of(rows).ok())
            .collect();
        let parts: Vec<SideParts<'_>> = others
            .iter()
            .map(|o| SideParts {
                side: &o.side,
                features: &o.features,
                pieces: &o.pieces,
            })
            .collect();
        self.job = JobAround::of(&self.side, &parts, self.unit);
        self
    }

    /// Reads a side's rows; its job's other sides are fetched where one of its pieces asks for them.
    pub async fn fetch(store: &Store, rows: &SideRows) -> Result<SideInput, Problem> {
        let input = SideInput::of(rows)?;
        let asks = input.pieces.iter().any(|(_, p)| {
            matches!(p.place, PlaceRule::Mirrored { .. })
                || p.lettering().is_some_and(|l| l.regulated.is_some())
        });
        if !asks {
            return Ok(input);
        }
        Ok(input.among(&store.job(rows.job.id).await?.sides))
    }

    /// Plans the side.
    pub fn plan(&self, settings: &WorkSettings) -> Result<SidePlan, Problem> {
        Ok(plan_side(
            &self.side,
            &self.features,
            &self.pieces,
            &self.job,
            settings,
            self.unit,
        )?)
    }
}
