//! A job with its sides and stages.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::plan_view::{VehiclePlan, plan_view};
use windrift_core::progress::{Done, StageProgress, progress};
use windrift_core::settings::WorkSettings;
use windrift_core::side::{Side, SideKind};
use windrift_core::tape::{Unit, print};
use windrift_formats::svg::screen_path;
use windrift_store::JobRows;

use super::{PathData, SCREEN_MM, SideDrawing, SideInput, lock_state, unit_of};
use crate::problem::Problem;

/// A side in a job's plan view.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideSummary {
    /// Its key.
    pub id: Uuid,
    /// Which side it is.
    pub kind: SideKind,
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
    /// The vehicle from above.
    pub plan: VehiclePlan,
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

/// A job with its sides and stages.
pub fn job_view(rows: &JobRows, settings: &WorkSettings) -> Result<JobView, Problem> {
    let mut done = Done::default();
    let mut newest_lock = None;
    let mut sides = Vec::new();
    let mut specs: Vec<(Uuid, Side)> = Vec::new();
    for side in &rows.sides {
        let input = SideInput::of(side)?.among(&rows.sides);
        let plan = input.plan(settings)?;
        done.features += side.features.len() as u64;
        done.pieces += side.pieces.len() as u64;
        done.locked += side
            .pieces
            .iter()
            .filter(|p| lock_state(side, p.id, p.revision).0)
            .count() as u64;
        done.laid += side.laid.len() as u64;
        newest_lock = newest_lock.max(side.locks.iter().map(|l| l.at).max());
        let bounds = plan.side.outline.bounds;
        sides.push(SideSummary {
            id: side.side.id,
            kind: input.side.kind,
            name: input.side.name(settings.side_words),
            drawing: SideDrawing::of(&plan.side),
            film: plan
                .pieces
                .iter()
                .map(|p| FilmDrawing {
                    path: screen_path(&p.film().collect::<Vec<_>>(), SCREEN_MM),
                    colour: p.piece.colour().to_owned(),
                })
                .collect(),
            pieces: side.pieces.len() as u32,
            features: side.features.len() as u32,
            length: print(plan.side.datum.length_mm.max(bounds.width()), input.unit).text,
        });
        specs.push((side.side.id, input.side));
    }
    done.issued = u64::from(
        rows.newest_plan
            .is_some_and(|at| newest_lock.is_none_or(|lock| at >= lock)),
    );
    let named: Vec<(Uuid, &Side)> = specs.iter().map(|(id, side)| (*id, side)).collect();
    Ok(JobView {
        id: rows.job.id,
        title: rows.job.title.clone(),
        customer: rows.job.customer.clone(),
        vehicle: rows.job.vehicle_kind.clone(),
        unit: unit_of(&rows.job.unit),
        stages: progress(done).to_vec(),
        plan: plan_view(&named),
        sides,
    })
}
