//! Jobs: the yard, one job, a new job.

use rocket::data::Data;
use rocket::futures::future::join_all;
use rocket::serde::json::Json;
use rocket::{get, post, put};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::side::Side;
use windrift_store::stored::Kind;
use windrift_store::{NewSide, entity};

use crate::desk::Desk;
use crate::keys::{key, unit_word};
use crate::problem::{Problem, UNREADABLE};
use crate::request::{Caller, named, read_as, read_json};
use crate::routes::Answer;
use crate::views::{JobPage, JobView, UnreadableJob, job_view};

/// Jobs on one page of the yard.
const PAGE_SIZE: u64 = 12;

/// A job to be started.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewJob {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// Whom it is for.
    pub customer: String,
    /// What it is called; the customer and the vehicle where it is left empty.
    #[serde(default)]
    pub title: String,
    /// Plate, registration or fleet number of the vehicle, where it has one.
    #[serde(default)]
    pub plate: String,
    /// What kind of vehicle.
    pub vehicle_kind: VehicleKind,
    /// The unit of its tape.
    pub unit: Unit,
}

/// The yard: one page of jobs, newest first; or those that are finished and have left it.
#[utoipa::path(get, path = "/api/jobs", params(("page" = Option<u64>, Query, description = "From 0"), ("find" = Option<String>, Query, description = "Words of the title, the customer, the vehicle, the year or the lettering; all of them. Finds finished jobs too"), ("finished" = Option<bool>, Query, description = "Those that are finished, where nothing is looked for")), responses((status = 200, body = JobPage)))]
#[get("/jobs?<page>&<find>&<finished>")]
pub async fn yard(
    desk: &Desk,
    page: Option<u64>,
    find: Option<&str>,
    finished: Option<bool>,
) -> Answer<JobPage> {
    let page = page.unwrap_or(0).min(100_000);
    let (rows, total) = desk
        .jobs(
            page,
            PAGE_SIZE,
            &find
                .unwrap_or_default()
                .chars()
                .take(80)
                .collect::<String>(),
            finished.unwrap_or(false),
        )
        .await?;
    let ids: Vec<Uuid> = rows.iter().map(|r| r.job.id).collect();
    let finished = desk.finished(&ids).await?;
    let settings = desk.ways().await?;
    let (mut jobs, mut unreadable) = (Vec::new(), Vec::new());
    // At once: pictures that nobody has looked at lately are sketched anew, on all cores.
    let views = join_all(rows.iter().map(|rows| job_view(desk, rows, &settings))).await;
    for (rows, view) in rows.iter().zip(views) {
        match view {
            Ok(mut job) => {
                let at = finished.get(&job.id);
                job.finished = at.map(|at| settings.zone.in_words(*at));
                jobs.push(job);
            }
            Err(problem) if problem.code == UNREADABLE => unreadable.push(UnreadableJob {
                id: rows.job.id,
                title: rows.job.title.clone(),
                customer: rows.job.customer.clone(),
                why: problem.detail,
            }),
            Err(problem) => return Err(problem),
        }
    }
    Ok(Json(JobPage {
        jobs,
        unreadable,
        total,
        page,
        page_size: PAGE_SIZE,
    }))
}

/// One job.
#[utoipa::path(get, path = "/api/jobs/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = JobView), (status = 404, body = Problem)))]
#[get("/jobs/<id>")]
pub async fn job(desk: &Desk, id: &str) -> Answer<JobView> {
    Ok(Json(whole(desk, key(id)?).await?))
}

async fn whole(desk: &Desk, id: Uuid) -> Result<JobView, Problem> {
    let rows = desk.job(id).await?;
    let ways = desk.ways().await?;
    let finished = desk.finished(&[id]).await?;
    let mut view = job_view(desk, &rows, &ways).await?;
    view.finished = finished.get(&id).map(|at| ways.zone.in_words(*at));
    Ok(view)
}

/// Takes a finished job out of the yard. It stays whole and is found again.
#[utoipa::path(post, path = "/api/jobs/{id}/finish", params(("id" = Uuid, Path)), responses((status = 200, body = JobView), (status = 404, body = Problem)))]
#[post("/jobs/<id>/finish")]
pub async fn finish_job(desk: &Desk, caller: Caller, id: &str) -> Answer<JobView> {
    let (id, who) = (key(id)?, caller.writer()?.id);
    desk.finish_job(id, who).await?;
    Ok(Json(whole(desk, id).await?))
}

/// Brings a finished job back into the yard.
#[utoipa::path(post, path = "/api/jobs/{id}/reopen", params(("id" = Uuid, Path)), responses((status = 200, body = JobView), (status = 404, body = Problem)))]
#[post("/jobs/<id>/reopen")]
pub async fn reopen_job(desk: &Desk, caller: Caller, id: &str) -> Answer<JobView> {
    caller.writer()?;
    let id = key(id)?;
    desk.reopen_job(id).await?;
    Ok(Json(whole(desk, id).await?))
}

/// A job that begins as a copy of another.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct CopiedJob {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// Whom it is for.
    pub customer: String,
    /// What it is called.
    #[serde(default)]
    pub title: String,
    /// Plate, registration or fleet number of the vehicle, where it has one.
    #[serde(default)]
    pub plate: String,
    /// Another vehicle of the same kind: nobody has held a tape to it yet. Otherwise it is the same one again.
    pub another_vehicle: bool,
}

/// Starts a job with everything that was laid out on another. What was done on that one does not come along.
#[utoipa::path(post, path = "/api/jobs/{id}/copy", params(("id" = Uuid, Path)), request_body = CopiedJob, responses((status = 200, body = JobView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/copy", data = "<data>")]
pub async fn copy_job(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<JobView> {
    let (from, who) = (key(id)?, caller.writer()?.id);
    let new: CopiedJob = read_as(read_json(data).await?)?;
    let customer = named(&new.customer, 80, "customer", "Type whom the job is for.")?;
    let old = desk.job(from).await?.job;
    let title = match new.title.trim() {
        "" => format!("{customer}, {}", old.vehicle_kind.to_lowercase()),
        _ => named(&new.title, 80, "title", "Type what the job is called.")?,
    };
    let plate = plate_of(&new.plate)?;
    let row = entity::job::Model {
        id: new.id,
        revision: 1,
        customer,
        title,
        vehicle_kind: old.vehicle_kind,
        unit: old.unit,
        created_at: OffsetDateTime::now_utc(),
        created_by: who,
        plate,
    };
    let measured_anew = |spec: &mut Value| {
        // One that cannot be read is copied as it is, and said to be so where it is shown.
        if let Ok(side) = Kind::Side.read::<Side>(spec)
            && new.another_vehicle
            && let Ok(other) = Kind::Side.write(&side.not_measured())
        {
            *spec = other;
        }
    };
    let fresh = |n| derived(new.id, n);
    desk.copy_job(from, row, fresh, measured_anew).await?;
    Ok(Json(whole(desk, new.id).await?))
}

/// Starts a job with the sides of its vehicle at their usual size.
#[utoipa::path(post, path = "/api/jobs", request_body = NewJob, responses((status = 200, body = JobView), (status = 422, body = Problem)))]
#[post("/jobs", data = "<data>")]
pub async fn start_job(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<JobView> {
    let who = caller.writer()?.id;
    let new: NewJob = read_as(read_json(data).await?)?;
    let customer = named(&new.customer, 80, "customer", "Type whom the job is for.")?;
    let title = match new.title.trim() {
        "" => format!("{customer}, {}", new.vehicle_kind.name().to_lowercase()),
        _ => named(&new.title, 80, "title", "Type what the job is called.")?,
    };
    let plate = plate_of(&new.plate)?;
    let mut sides = Vec::new();
    // Keys follow from the job's own, so that a repeated request makes the same rows.
    let mut number = 0;
    let mut next_key = || {
        number += 1;
        derived(new.id, number)
    };
    // What usually stands on such a side is offered there, not put there.
    for (side, _) in new.vehicle_kind.sides() {
        sides.push(NewSide {
            id: next_key(),
            spec: Kind::Side.write(&side)?,
            features: Vec::new(),
        });
    }
    let row = entity::job::Model {
        id: new.id,
        revision: 1,
        customer,
        title,
        vehicle_kind: new.vehicle_kind.name().into(),
        unit: unit_word(new.unit),
        created_at: OffsetDateTime::now_utc(),
        created_by: who,
        plate,
    };
    let rows = desk.start_job(row, sides).await?;
    Ok(Json(job_view(desk, &rows, &desk.ways().await?).await?))
}

/// What a job is called anew.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct JobNames {
    /// Whom it is for.
    pub customer: String,
    /// What it is called.
    pub title: String,
    /// Plate, registration or fleet number; empty where it has none.
    pub plate: String,
}

/// Names a job anew. If-Match is the revision of its names. What was issued keeps the names of its day.
#[utoipa::path(put, path = "/api/jobs/{id}", params(("id" = Uuid, Path)), request_body = JobNames, responses((status = 200, body = JobView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/jobs/<id>", data = "<data>")]
pub async fn name_job(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<JobView> {
    caller.writer()?;
    let id = key(id)?;
    let names: JobNames = read_as(read_json(data).await?)?;
    let customer = named(&names.customer, 80, "customer", "Type whom the job is for.")?;
    let title = named(&names.title, 80, "title", "Type what the job is called.")?;
    let plate = plate_of(&names.plate)?;
    desk.name_job(id, caller.seen()?, &customer, &title, plate.as_deref())
        .await?;
    Ok(Json(whole(desk, id).await?))
}

/// A plate as it was typed; nothing where it is empty.
fn plate_of(typed: &str) -> Result<Option<String>, Problem> {
    match typed.trim() {
        "" => Ok(None),
        _ => named(typed, 40, "plate", "Type the plate or fleet number.").map(Some),
    }
}

/// A key made from the job's own: its last four bytes count on.
fn derived(job: Uuid, number: u32) -> Uuid {
    let bits = job.as_u128();
    let low = (bits as u32).wrapping_add(number);
    Uuid::from_u128((bits >> 32 << 32) | u128::from(low))
}
