//! A side read from its rows and planned: what every answer about it is made of.

use kurbo::Rect;
use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::art::typeface::Typefaces;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::around::JobAround;
use windrift_core::plan::other_sides::SideParts;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::planned::{PlannedPiece, SidePlan, SideSketch};
use windrift_core::plan::{plan_side, sketch_side};
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_store::edits::RowKind;
use windrift_store::stored::Kind;
use windrift_store::{JobRows, SideRows, StoreError};

use crate::problem::Problem;
use crate::ways::Ways;

/// A side's rows as types of the core.
#[derive(Debug, Clone)]
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
    /// Features and pieces on it that cannot be read: the others go on without them.
    pub unreadable: Vec<Unreadable>,
}

/// Something that is kept and cannot be read.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Unreadable {
    /// What kind of row it is.
    pub kind: RowKind,
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// As it is kept.
    pub kept: Value,
    /// Why it cannot be read.
    pub why: String,
}

/// A side as it was planned, with what it was planned from.
#[derive(Debug)]
pub struct PlannedSide {
    /// Its rows as types of the core.
    pub input: SideInput,
    /// Its plan.
    pub plan: SidePlan,
}

impl PlannedSide {
    /// Boxes of the film that is laid out on it, in the picture frame.
    pub fn boxes(&self) -> Vec<Rect> {
        let boxed = |p: &PlannedPiece| p.placed.to_picture.transform_rect_bbox(p.drawn.bounds);
        self.plan.pieces.iter().map(boxed).collect()
    }
}

/// A side for a picture of it: its film in place, and of its pieces those planned that hang locked.
#[derive(Debug)]
pub struct SketchedSide {
    /// Its rows as types of the core.
    pub input: SideInput,
    /// Its film, and the planned pieces.
    pub sketch: SideSketch,
}

impl SketchedSide {
    /// Sketches a side among the others of its job. Computes: called where computation is done.
    pub fn of(job: &JobRows, side: Uuid, ways: &Ways) -> Result<SketchedSide, Problem> {
        let rows = rows_of(job, side)?;
        let input = SideInput::of(rows)?.among(&job.sides, &ways.faces);
        let locked = |piece: Uuid| rows.locks.iter().any(|l| l.piece_id == piece);
        let sketch = sketch_side(
            &input.side,
            &input.features,
            &input.pieces,
            &input.job,
            &ways.settings,
            input.unit,
            locked,
        )?;
        Ok(SketchedSide { input, sketch })
    }
}

fn rows_of(job: &JobRows, side: Uuid) -> Result<&SideRows, StoreError> {
    let mut sides = job.sides.iter();
    sides
        .find(|s| s.side.id == side)
        .ok_or(StoreError::NotFound("side"))
}

impl PlannedSide {
    /// Plans a side among the others of its job. Computes: called where computation is done.
    pub fn of(job: &JobRows, side: Uuid, ways: &Ways) -> Result<PlannedSide, Problem> {
        let rows = rows_of(job, side)?;
        let input = SideInput::of(rows)?.among(&job.sides, &ways.faces);
        let plan = input.plan(ways)?;
        Ok(PlannedSide { input, plan })
    }
}

/// Reads the job's unit. One that cannot be read is said to be so: a job in millimetres never becomes one in inches.
pub fn unit_of(word: &str) -> Result<Unit, Problem> {
    serde_json::from_value(Value::from(word)).map_err(|_| {
        StoreError::unreadable("job", format!("its unit is \u{201c}{word}\u{201d}")).into()
    })
}

impl SideInput {
    /// Reads a side's rows.
    ///
    /// Errors: a side that cannot be read. A feature or piece that cannot is left out and named.
    pub fn of(rows: &SideRows) -> Result<SideInput, Problem> {
        let mut unreadable = Vec::new();
        let mut features = Vec::new();
        for row in &rows.features {
            match Kind::Feature.read::<Feature>(&row.spec) {
                Ok(feature) => features.push(SideFeature {
                    id: row.id,
                    feature,
                }),
                Err(error) => unreadable.push(Unreadable {
                    kind: RowKind::Feature,
                    id: row.id,
                    revision: row.revision,
                    kept: row.spec.clone(),
                    why: error.to_string(),
                }),
            }
        }
        let mut pieces = Vec::new();
        for row in &rows.pieces {
            match Kind::Piece.read::<Piece>(&row.spec) {
                Ok(piece) => pieces.push((row.id, piece)),
                Err(error) => unreadable.push(Unreadable {
                    kind: RowKind::Piece,
                    id: row.id,
                    revision: row.revision,
                    kept: row.spec.clone(),
                    why: error.to_string(),
                }),
            }
        }
        Ok(SideInput {
            side: Kind::Side.read(&rows.side.spec)?,
            features,
            pieces,
            unit: unit_of(&rows.job.unit)?,
            job: JobAround::default(),
            unreadable,
        })
    }

    /// The same among the sides of its job, so that mirrored pieces find each other.
    pub fn among(mut self, siblings: &[SideRows], faces: &Typefaces) -> SideInput {
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
        self.job = JobAround::of(&self.side, &parts, faces, self.unit);
        self
    }

    /// Plans the side.
    pub fn plan(&self, ways: &Ways) -> Result<SidePlan, Problem> {
        Ok(plan_side(
            &self.side,
            &self.features,
            &self.pieces,
            &self.job,
            &ways.settings,
            self.unit,
        )?)
    }
}
