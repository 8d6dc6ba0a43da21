//! Jobs: the yard, one job, a new job.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::kinds::VehicleKind;
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
    /// What kind of vehicle.
    pub vehicle_kind: VehicleKind,
    /// The unit of its tape.
    pub unit: Unit,
}

/// The yard: one page of jobs, newest first.
#[utoipa::path(get, path = "/api/jobs", params(("page" = Option<u64>, Query, description = "From 0"), ("find" = Option<String>, Query, description = "Words of the title, the customer or the vehicle; all of them")), responses((status = 200, body = JobPage)))]
#[get("/jobs?<page>&<find>")]
pub async fn yard(desk: &Desk, page: Option<u64>, find: Option<&str>) -> Answer<JobPage> {
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
        )
        .await?;
    let settings = desk.ways().await?;
    let (mut jobs, mut unreadable) = (Vec::new(), Vec::new());
    for rows in &rows {
        match job_view(desk, rows, &settings).await {
            Ok(job) => jobs.push(job),
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
    let rows = desk.job(key(id)?).await?;
    Ok(Json(job_view(desk, &rows, &desk.ways().await?).await?))
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
    };
    let rows = desk.start_job(row, sides).await?;
    Ok(Json(job_view(desk, &rows, &desk.ways().await?).await?))
}

/// A key made from the job's own: its last four bytes count on.
fn derived(job: Uuid, number: u32) -> Uuid {
    let bits = job.as_u128();
    let low = (bits as u32).wrapping_add(number);
    Uuid::from_u128((bits >> 32 << 32) | u128::from(low))
}
