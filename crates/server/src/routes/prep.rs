//! Prep: a side cleaned, primed, warm and dry, and whether film may go on. Everything is an entry of the record.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::bay::BayEntry;
use windrift_core::floor::prep::PrepEntry;
use windrift_core::floor::prep::gate::Stands;
use windrift_store::{EntryKind, JobRows, NewEntry, StoreError};

use crate::bay_view::bay_view;
use crate::bays::Bay;
use crate::desk::Desk;
use crate::keys::key;
use crate::planned::unit_of;
use crate::prep_view::prep_view;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::views::{BayView, PrepView};

/// An entry to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewPrepEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded.
    pub entry: PrepEntry,
}

/// An entry about the bay to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewBayEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded.
    pub entry: BayEntry,
}

/// The preparation of a side: cleaning, promoter, temperatures, and whether film may go on.
#[utoipa::path(get, path = "/api/sides/{id}/prep", params(("id" = Uuid, Path)), responses((status = 200, body = PrepView), (status = 404, body = Problem)))]
#[get("/sides/<id>/prep")]
pub async fn prep(desk: &Desk, id: &str) -> Answer<PrepView> {
    let side = key(id)?;
    let job = desk.job(desk.side(side).await?.job.id).await?;
    Ok(Json(prep_view(desk, &job, side).await?))
}

/// Records something of the preparation.
#[utoipa::path(post, path = "/api/jobs/{id}/prep", params(("id" = Uuid, Path)), request_body = NewPrepEntry, responses((status = 200, body = bool), (status = 403, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/prep", data = "<data>")]
pub async fn add_prep_entry(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<bool> {
    let who = caller.writer()?.id;
    let job = desk.job(key(id)?).await?;
    let new: NewPrepEntry = read_as(read_json(data).await?)?;
    if desk.entry_of_job(job.job.id, new.id).await?.is_some() {
        return Ok(Json(true));
    }
    new.entry
        .check()
        .map_err(|e| Problem::input("measure", e.sentence).at(format!("/entry/{}", e.field)))?;
    let mut body = serde_json::to_value(&new.entry).map_err(StoreError::from)?;
    match &new.entry {
        PrepEntry::Panel { side, .. }
        | PrepEntry::Cleaned { side, .. }
        | PrepEntry::NotCleaned { side, .. }
        | PrepEntry::Repair { side, .. }
        | PrepEntry::Sun { side, .. }
        | PrepEntry::Cures { side, .. } => of_job(&job, *side)?,
        PrepEntry::Promoted { piece, .. } => {
            let mut pieces = job.sides.iter().flat_map(|s| &s.pieces);
            if !pieces.any(|p| p.id == *piece) {
                return Err(StoreError::NotFound("piece").into());
            }
        }
        PrepEntry::Passed { side, .. } => {
            caller.lead()?;
            of_job(&job, *side)?;
            let gate = prep_view(desk, &job, *side).await?.gate;
            if gate.never {
                return Err(Problem::input(
                    "never",
                    "No reason passes this: the surface itself says no. Look over tells what.",
                ));
            }
            // What was passed stands beside the reason.
            let against: Vec<&str> = (gate.lines.iter())
                .filter(|l| l.stands != Stands::In)
                .map(|l| l.says.as_str())
                .collect();
            body["against"] = serde_json::to_value(against).map_err(StoreError::from)?;
        }
        PrepEntry::Been { .. } | PrepEntry::CameIn { .. } | PrepEntry::Hands { .. } => {}
    }
    append(desk, &job, new.id, EntryKind::Prep, who, body, &caller).await
}

/// The bay that a job's vehicle stands in: what is wet there, and whether heat may go on.
#[utoipa::path(get, path = "/api/jobs/{id}/bay", params(("id" = Uuid, Path)), responses((status = 200, body = BayView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/bay")]
pub async fn job_bay(desk: &Desk, id: &str) -> Answer<BayView> {
    let job = desk.job(key(id)?).await?.job;
    let now = OffsetDateTime::now_utc();
    let bay = Bay::of(desk, job.id, now).await?;
    let zone = desk.ways().await?.zone;
    Ok(Json(bay_view(&bay, now, zone, unit_of(&job.unit)?)))
}

/// Records something of the bay.
#[utoipa::path(post, path = "/api/jobs/{id}/bay", params(("id" = Uuid, Path)), request_body = NewBayEntry, responses((status = 200, body = bool), (status = 422, body = Problem)))]
#[post("/jobs/<id>/bay", data = "<data>")]
pub async fn add_bay_entry(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<bool> {
    let who = caller.writer()?.id;
    let job = desk.job(key(id)?).await?;
    let mut new: NewBayEntry = read_as(read_json(data).await?)?;
    if desk.entry_of_job(job.job.id, new.id).await?.is_some() {
        return Ok(Json(true));
    }
    new.entry
        .check()
        .map_err(|e| Problem::input("measure", e.sentence).at(format!("/entry/{}", e.field)))?;
    match &mut new.entry {
        BayEntry::StandsIn { bay, .. } => *bay = bay.trim().to_owned(),
        BayEntry::Wet { bay, .. } | BayEntry::Air { bay, .. } | BayEntry::Weather { bay, .. } => {
            let now = OffsetDateTime::now_utc();
            *bay = Bay::of(desk, job.job.id, now).await?.name;
        }
    }
    let body = serde_json::to_value(&new.entry).map_err(StoreError::from)?;
    append(desk, &job, new.id, EntryKind::Bay, who, body, &caller).await
}

async fn append(
    desk: &Desk,
    job: &JobRows,
    id: Uuid,
    kind: EntryKind,
    crew: Uuid,
    body: serde_json::Value,
    caller: &Caller,
) -> Answer<bool> {
    let entry = NewEntry {
        id,
        kind,
        crew,
        piece: None,
        body,
        read_at: caller.read_at(),
    };
    desk.append(job.job.id, entry).await?;
    Ok(Json(true))
}

fn of_job(job: &JobRows, side: Uuid) -> Result<(), Problem> {
    match job.sides.iter().any(|s| s.side.id == side) {
        true => Ok(()),
        false => Err(StoreError::NotFound("side").into()),
    }
}
