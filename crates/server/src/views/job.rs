//! A job with its sides and stages.

use std::collections::BTreeMap;

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::heat::{self, HeatEntry};
use windrift_core::floor::prep::clean::FINAL_WIPE;
use windrift_core::floor::prep::{self, PrepEntry};
use windrift_core::floor::strip::{self, StripEntry};
use windrift_core::ground::tape::{Unit, print};
use windrift_core::shop::progress::{Done, StageProgress, progress};
use windrift_core::vehicle::plan_view::{VehiclePlan, plan_view};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_formats::svg::screen_path;
use windrift_store::edits::RowKind;
use windrift_store::{EntryKind, JobRows};

use crate::desk::Desk;
use crate::planned::{SketchedSide, Unreadable, unit_of};
use crate::problem::{Problem, UNREADABLE};
use crate::views::{PathData, SCREEN_MM, SideDrawing, lock_state};
use crate::ways::Ways;

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
    /// Plate, registration or fleet number of its vehicle, where it has one.
    pub plate: Option<String>,
    /// Revision of its names.
    pub revision: i32,
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
    /// Sides, features and pieces that cannot be read, or sides whose measurements no longer stand.
    pub unreadable: Vec<Unreadable>,
    /// Since when it is finished and out of the yard, in words.
    pub finished: Option<String>,
}

/// A job that cannot be shown.
#[derive(Debug, Serialize, ToSchema)]
pub struct UnreadableJob {
    /// Its key.
    pub id: Uuid,
    /// What it is called.
    pub title: String,
    /// Whom it is for.
    pub customer: String,
    /// Why, and what to do.
    pub why: String,
}

/// One page of jobs.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobPage {
    /// Jobs, newest first.
    pub jobs: Vec<JobView>,
    /// Jobs of this page that cannot be shown: what of them cannot be read is kept as it is.
    pub unreadable: Vec<UnreadableJob>,
    /// How many there are in all.
    pub total: u64,
    /// This page, from 0.
    pub page: u64,
    /// Jobs on a page.
    pub page_size: u64,
}

/// A job with its sides and stages. A side that cannot be read or planned is named and left out; the others go on.
pub async fn job_view(desk: &Desk, rows: &JobRows, ways: &Ways) -> Result<JobView, Problem> {
    let unit = unit_of(&rows.job.unit)?;
    let mut done = Done::default();
    let (mut worked, mut untouched) = (false, 0);
    let mut newest_lock = None;
    let mut sides = Vec::new();
    let mut specs: Vec<(Uuid, Side)> = Vec::new();
    let mut unreadable = Vec::new();
    for side in &rows.sides {
        let sketched = match desk.sketched(rows, side.side.id, ways).await {
            Ok(sketched) => sketched,
            // The shop's machine is in trouble, not the side.
            Err(problem) if problem.status >= 500 && problem.code != UNREADABLE => {
                return Err(problem);
            }
            Err(problem) => {
                unreadable.push(Unreadable {
                    kind: RowKind::Side,
                    id: side.side.id,
                    revision: side.side.revision,
                    kept: side.side.spec.clone(),
                    why: problem.detail,
                });
                continue;
            }
        };
        let SketchedSide { input, sketch } = sketched.as_ref();
        let plan = &sketch.plan;
        unreadable.extend(input.unreadable.iter().cloned());
        done.sides += 1;
        done.features += side.features.len() as u64;
        // Of the sides that are worked on; of all of them while nothing is.
        let unmeasured = input.side.unmeasured.len() as u64;
        if side.features.is_empty() && side.pieces.is_empty() {
            untouched += unmeasured;
        } else {
            worked = true;
            done.unmeasured += unmeasured;
        }
        done.pieces += side.pieces.len() as u64;
        done.not_on_it += sketch.not_on_it as u64;
        done.locked += plan
            .pieces
            .iter()
            .filter(|p| lock_state(side, p, input).locked)
            .count() as u64;
        let chosen = |p: &windrift_core::plan::piece::Piece| p.work.chosen.is_some();
        done.filmed += input.pieces.iter().filter(|(_, p)| chosen(p)).count() as u64;
        done.laid += side.laid.len() as u64;
        newest_lock = newest_lock.max(side.locks.iter().map(|l| l.at).max());
        let bounds = plan.side.outline.bounds;
        sides.push(SideSummary {
            id: side.side.id,
            kind: input.side.kind,
            name: input.side.name(ways.side_words),
            drawing: SideDrawing::of(&plan.side),
            film: sketch
                .film
                .iter()
                .map(|f| FilmDrawing {
                    path: screen_path(&f.shapes, SCREEN_MM),
                    colour: f.colour.clone(),
                })
                .collect(),
            pieces: side.pieces.len() as u32,
            features: side.features.len() as u32,
            length: print(plan.side.datum.length_mm.max(bounds.width()), input.unit).text,
        });
        specs.push((side.side.id, input.side.clone()));
    }
    let (old, off) = stripped(desk, rows.job.id).await?;
    (done.old, done.off) = (old, off);
    done.heated = heated(desk, rows.job.id).await?;
    (done.worked_sides, done.wiped_sides) = wiped(desk, rows).await?;
    if !worked {
        done.unmeasured = untouched;
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
        plate: rows.job.plate.clone(),
        revision: rows.job.revision,
        vehicle: rows.job.vehicle_kind.clone(),
        unit,
        stages: progress(done).to_vec(),
        plan: plan_view(&named),
        sides,
        unreadable,
        finished: None,
    })
}

/// Most entries of a stage that are looked at for how it stands.
const MOST_ENTRIES: u64 = 4_000;

/// Old graphics of a job, and those that are off.
async fn stripped(desk: &Desk, job: Uuid) -> Result<(u64, u64), Problem> {
    let entries = desk
        .record_of_kind(job, EntryKind::Strip, MOST_ENTRIES)
        .await?;
    let read: Vec<(Uuid, StripEntry)> = entries
        .into_iter()
        .filter_map(|e| Some((e.id, serde_json::from_value(e.body).ok()?)))
        .collect();
    let old = strip::stand(&read).old;
    let off = old.iter().filter(|o| o.is_off()).count();
    Ok((old.len() as u64, off as u64))
}

/// Sides with pieces, and those whose final wipe is done.
async fn wiped(desk: &Desk, rows: &JobRows) -> Result<(u64, u64), Problem> {
    let entries = desk
        .record_of_kind(rows.job.id, EntryKind::Prep, MOST_ENTRIES)
        .await?;
    let read: Vec<(Uuid, OffsetDateTime, PrepEntry)> = entries
        .into_iter()
        .filter_map(|e| Some((e.id, e.at, serde_json::from_value(e.body).ok()?)))
        .collect();
    let prep = prep::stand(&read);
    let worked: Vec<Uuid> = (rows.sides.iter())
        .filter(|s| !s.pieces.is_empty())
        .map(|s| s.side.id)
        .collect();
    let wiped = worked
        .iter()
        .filter(|s| {
            let wiped = prep.cleaned.get(&(**s, FINAL_WIPE.to_owned()));
            wiped.is_some_and(|w| w.all_of_it().is_some())
        })
        .count();
    Ok((worked.len() as u64, wiped as u64))
}

/// Pieces whose heat is closed and whose sealer is on.
async fn heated(desk: &Desk, job: Uuid) -> Result<u64, Problem> {
    let entries = desk
        .record_of_kind(job, EntryKind::Heat, MOST_ENTRIES)
        .await?;
    let mut by_piece: BTreeMap<Uuid, Vec<HeatEntry>> = BTreeMap::new();
    for e in entries {
        if let (Some(piece), Ok(entry)) = (e.piece, serde_json::from_value(e.body)) {
            by_piece.entry(piece).or_default().push(entry);
        }
    }
    let done = by_piece.values().filter(|e| heat::stand(*e).is_done());
    Ok(done.count() as u64)
}
