//! What the web application is given: plans as drawings, readings and words.

use std::collections::BTreeMap;

use serde::Serialize;
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::elevation::{HardwareKind, MeasuredSide};
use windrift_core::feature::{Feature, LampColour, SideFeature};
use windrift_core::hinge::TopHinge;
use windrift_core::landing::Landing;
use windrift_core::outline::Shape;
use windrift_core::plan::{Piece, PieceError, PlannedPiece, Readings, SidePlan, plan_side};
use windrift_core::progress::{Done, StageProgress, progress};
use windrift_core::settings::WorkSettings;
use windrift_core::side::{BoxSide, VehicleSide};
use windrift_core::tape::Unit;
use windrift_formats::svg::{path_data, screen_path};
use windrift_store::entity::piece;
use windrift_store::{JobRows, SideRows};

use crate::problem::Problem;
use crate::request::print_lengths;

/// How far film on the screen may be from the film that is cut, mm: a quarter of a pixel in the largest magnified window.
const SCREEN_MM: f64 = 0.25;

/// An outline as a path in the picture frame, mm: `M0 0L10 0Z`.
pub type PathData = String;

/// A seam to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct SeamDrawing {
    /// Number from the front.
    pub number: u32,
    /// The feature that it comes from.
    pub feature: Uuid,
    /// Number in that feature, from 1.
    pub in_feature: u32,
    /// Top and foot, mm.
    pub line: [[f64; 2]; 2],
}

/// A rivet column to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct ColumnDrawing {
    /// Number from the front.
    pub number: u32,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// Middles of the heads, mm.
    pub heads: Vec<[f64; 2]>,
}

/// A door, lamp or arch to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct HardwareDrawing {
    /// The feature that it comes from.
    pub feature: Uuid,
    /// What it is.
    pub kind: HardwareKind,
    /// What it is called.
    pub name: String,
    /// Its outline.
    pub path: PathData,
    /// Lens colour of a lamp.
    pub colour: Option<LampColour>,
}

/// A side to be drawn: the picture frame in mm, the top front corner at the origin, y down.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideDrawing {
    /// Which side of the vehicle.
    pub side: VehicleSide,
    /// The body's box: x, y, width, height.
    pub bounds: [f64; 4],
    /// The body's outline.
    pub outline: PathData,
    /// The datum: its front end (the zero of the tape) and its rear end.
    pub datum: [[f64; 2]; 2],
    /// Seams from the front.
    pub seams: Vec<SeamDrawing>,
    /// Rivet columns from the front.
    pub columns: Vec<ColumnDrawing>,
    /// Doors, lamps and arches from the front.
    pub hardware: Vec<HardwareDrawing>,
}

impl SideDrawing {
    fn of(side: &MeasuredSide) -> SideDrawing {
        let point = |p: kurbo::Point| [p.x, p.y];
        let bounds = side.outline.bounds;
        SideDrawing {
            side: side.body.side,
            bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
            outline: path_data([&side.outline]),
            datum: [
                point(side.datum.zero),
                point(side.datum.at(side.datum.length_mm, 0.0)),
            ],
            seams: side
                .seams
                .iter()
                .map(|s| SeamDrawing {
                    number: s.number,
                    feature: s.source.0,
                    in_feature: s.source.1,
                    line: [point(s.line.0), point(s.line.1)],
                })
                .collect(),
            columns: side
                .columns
                .iter()
                .map(|c| ColumnDrawing {
                    number: c.number,
                    head_mm: c.head_mm,
                    heads: c.heads.iter().copied().map(point).collect(),
                })
                .collect(),
            hardware: side
                .hardware
                .iter()
                .map(|h| HardwareDrawing {
                    feature: h.source,
                    kind: h.kind,
                    name: h.name.clone(),
                    path: path_data([&h.outline]),
                    colour: h.colour,
                })
                .collect(),
        }
    }
}

/// A feature of a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct FeatureView {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What was measured.
    pub spec: Feature,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
}

/// A piece, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct PieceView {
    /// Its key.
    pub id: Uuid,
    /// Its revision; 0 where it is not saved yet.
    pub revision: i32,
    /// What was asked for.
    pub spec: Piece,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// Film outlines in the picture frame.
    pub film: PathData,
    /// The film's box in the picture frame: x, y, width, height.
    pub bounds: [f64; 4],
    /// Readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// What is wrong, worst first.
    pub troubles: Vec<String>,
    /// Whether its hinge is locked at these revisions.
    pub locked: bool,
    /// Whether it was locked and has been changed since.
    pub lock_lost: bool,
}

/// A piece that cannot be planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct FailedPiece {
    /// Its key.
    pub id: Uuid,
    /// Its revision; 0 where it is not saved yet.
    pub revision: i32,
    /// What was asked for.
    pub spec: Value,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// What is wrong and what to do.
    pub problem: Problem,
}

/// Pieces of a side, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct Evaluation {
    /// Pieces that could be planned.
    pub pieces: Vec<PieceView>,
    /// Pieces that could not.
    pub failed: Vec<FailedPiece>,
}

/// A side with everything on it, planned.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideView {
    /// Its key.
    pub id: Uuid,
    /// The job's key.
    pub job: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What it is called here: `street side`.
    pub name: String,
    /// The job's unit.
    pub unit: Unit,
    /// The body as measured.
    pub spec: BoxSide,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// How it is drawn.
    pub drawing: SideDrawing,
    /// Its features.
    pub features: Vec<FeatureView>,
    /// Its pieces, planned.
    #[serde(flatten)]
    pub evaluation: Evaluation,
}

/// A side in a job's plan view.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideSummary {
    /// Its key.
    pub id: Uuid,
    /// What it is called here.
    pub name: String,
    /// How it is drawn.
    pub drawing: SideDrawing,
    /// Film of its pieces with their colours.
    pub film: Vec<FilmDrawing>,
    /// Pieces on it.
    pub pieces: u32,
    /// Features on it.
    pub features: u32,
    /// Its length as printed.
    pub length: String,
}

/// Film of one piece.
#[derive(Debug, Serialize, ToSchema)]
pub struct FilmDrawing {
    /// Outlines.
    pub path: PathData,
    /// Colour, `#rrggbb`.
    pub colour: String,
}

/// A job.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobView {
    /// Its key.
    pub id: Uuid,
    /// What it is called.
    pub title: String,
    /// Whom it is for.
    pub customer: String,
    /// What kind of vehicle, in words.
    pub vehicle: String,
    /// The unit of its tape.
    pub unit: Unit,
    /// Its nine stages.
    pub stages: Vec<StageProgress>,
    /// Its sides.
    pub sides: Vec<SideSummary>,
}

/// One page of jobs.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobPage {
    /// Jobs, newest first.
    pub jobs: Vec<JobView>,
    /// How many there are in all.
    pub total: u64,
    /// This page, from 0.
    pub page: u64,
    /// Jobs on a page.
    pub page_size: u64,
}

/// A side's rows as types of the core.
pub struct SideInput {
    /// The body.
    pub body: BoxSide,
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

impl SideInput {
    /// Reads a side's rows.
    pub fn of(rows: &SideRows) -> Result<SideInput, Problem> {
        let stored = |e: serde_json::Error| Problem::from(windrift_store::StoreError::from(e));
        let read_piece = |p: &piece::Model| {
            Ok((
                p.id,
                serde_json::from_value(p.spec.clone()).map_err(stored)?,
            ))
        };
        Ok(SideInput {
            body: serde_json::from_value(rows.side.spec.clone()).map_err(stored)?,
            features: rows
                .features
                .iter()
                .map(|f| {
                    Ok(SideFeature {
                        id: f.id,
                        feature: serde_json::from_value(f.spec.clone()).map_err(stored)?,
                    })
                })
                .collect::<Result<_, Problem>>()?,
            pieces: rows
                .pieces
                .iter()
                .map(read_piece)
                .collect::<Result<_, Problem>>()?,
            unit: unit_of(&rows.job.unit),
        })
    }

    /// Plans the side.
    pub fn plan(&self, settings: &WorkSettings) -> Result<SidePlan, Problem> {
        Ok(plan_side(
            self.body,
            &self.features,
            &self.pieces,
            settings,
            self.unit,
        )?)
    }
}

/// Whether a piece's hinge is locked at the revisions that stand, and whether a lock was lost by a change.
pub fn lock_state(rows: &SideRows, piece: Uuid, piece_revision: i32) -> (bool, bool) {
    match rows.locks.iter().find(|l| l.piece_id == piece) {
        Some(lock) => {
            let stands =
                lock.piece_revision == piece_revision && lock.side_revision == rows.side.revision;
            (stands, !stands)
        }
        None => (false, false),
    }
}

fn piece_view(planned: &PlannedPiece, rows: &SideRows, unit: Unit) -> PieceView {
    let revision = rows
        .pieces
        .iter()
        .find(|p| p.id == planned.id)
        .map_or(0, |p| p.revision);
    let (locked, lock_lost) = lock_state(rows, planned.id, revision);
    let film: Vec<Shape> = planned.film().collect();
    let bounds = windrift_core::outline::bounds_of_shapes(&film);
    let spec = serde_json::to_value(&planned.piece).unwrap_or_default();
    PieceView {
        id: planned.id,
        revision,
        printed: print_lengths(&spec, unit),
        spec: planned.piece.clone(),
        film: screen_path(&film, SCREEN_MM),
        bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
        readings: planned.readings.clone(),
        landing: planned.landing.clone(),
        hinge: planned.hinge.clone(),
        troubles: planned.troubles.clone(),
        locked,
        lock_lost,
    }
}

/// What a plan says of its pieces.
pub fn evaluation(plan: &SidePlan, input: &SideInput, rows: &SideRows) -> Evaluation {
    let failed = |(id, error): &(Uuid, PieceError)| {
        let spec = input
            .pieces
            .iter()
            .find(|(p, _)| p == id)
            .and_then(|(_, p)| serde_json::to_value(p).ok())
            .unwrap_or_default();
        FailedPiece {
            id: *id,
            revision: rows
                .pieces
                .iter()
                .find(|p| p.id == *id)
                .map_or(0, |p| p.revision),
            printed: print_lengths(&spec, input.unit),
            spec,
            problem: error.clone().into(),
        }
    };
    Evaluation {
        pieces: plan
            .pieces
            .iter()
            .map(|p| piece_view(p, rows, input.unit))
            .collect(),
        failed: plan.failed.iter().map(failed).collect(),
    }
}

/// A side with everything on it.
pub fn side_view(rows: &SideRows, settings: &WorkSettings) -> Result<SideView, Problem> {
    let input = SideInput::of(rows)?;
    let plan = input.plan(settings)?;
    Ok(SideView {
        id: rows.side.id,
        job: rows.job.id,
        revision: rows.side.revision,
        name: input.body.side.name(settings.side_words).into(),
        unit: input.unit,
        spec: input.body,
        printed: print_lengths(&rows.side.spec, input.unit),
        drawing: SideDrawing::of(&plan.side),
        features: rows
            .features
            .iter()
            .zip(&input.features)
            .map(|(row, f)| FeatureView {
                id: row.id,
                revision: row.revision,
                spec: f.feature,
                printed: print_lengths(&row.spec, input.unit),
            })
            .collect(),
        evaluation: evaluation(&plan, &input, rows),
    })
}

/// A job with its sides and stages.
pub fn job_view(rows: &JobRows, settings: &WorkSettings) -> Result<JobView, Problem> {
    let mut done = Done::default();
    let mut newest_lock = None;
    let mut sides = Vec::new();
    for side in &rows.sides {
        let input = SideInput::of(side)?;
        let plan = input.plan(settings)?;
        done.features += side.features.len() as u64;
        done.pieces += side.pieces.len() as u64;
        done.locked += side
            .pieces
            .iter()
            .filter(|p| lock_state(side, p.id, p.revision).0)
            .count() as u64;
        newest_lock = newest_lock.max(side.locks.iter().map(|l| l.at).max());
        sides.push(SideSummary {
            id: side.side.id,
            name: input.body.side.name(settings.side_words).into(),
            drawing: SideDrawing::of(&plan.side),
            film: plan
                .pieces
                .iter()
                .map(|p| FilmDrawing {
                    path: screen_path(&p.film().collect::<Vec<_>>(), SCREEN_MM),
                    colour: p.piece.lettering.colour.clone(),
                })
                .collect(),
            pieces: side.pieces.len() as u32,
            features: side.features.len() as u32,
            length: windrift_core::tape::print(input.body.length_mm, input.unit).text,
        });
    }
    done.issued = u64::from(
        rows.newest_plan
            .is_some_and(|at| newest_lock.is_none_or(|lock| at >= lock)),
    );
    Ok(JobView {
        id: rows.job.id,
        title: rows.job.title.clone(),
        customer: rows.job.customer.clone(),
        vehicle: rows.job.vehicle_kind.clone(),
        unit: unit_of(&rows.job.unit),
        stages: progress(done).to_vec(),
        sides,
    })
}
