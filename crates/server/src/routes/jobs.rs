//! Jobs: the yard, one job, a new job.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::side::VehicleSide;
use windrift_core::tape::Unit;
use windrift_core::vehicle::VehicleKind;
use windrift_store::Store;
use windrift_store::entity;

use super::{Answer, settings};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::views::{JobPage, JobView, job_view};

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
    pub title: String,
    /// What kind of vehicle.
    pub vehicle_kind: VehicleKind,
    /// The unit of its tape.
    pub unit: Unit,
}

/// The yard: one page of jobs, newest first.
#[utoipa::path(get, path = "/api/jobs", params(("page" = Option<u64>, Query, description = "From 0")), responses((status = 200, body = JobPage)))]
#[get("/jobs?<page>")]
pub async fn yard(store: &State<Store>, page: Option<u64>) -> Answer<JobPage> {
    let page = page.unwrap_or(0).min(100_000);
    let (rows, total) = store.jobs(page, PAGE_SIZE).await?;
    let settings = settings(store).await?;
    let jobs = rows
        .iter()
        .map(|rows| job_view(rows, &settings))
        .collect::<Result<_, _>>()?;
    Ok(Json(JobPage {
        jobs,
        total,
        page,
        page_size: PAGE_SIZE,
    }))
}

/// One job.
#[utoipa::path(get, path = "/api/jobs/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = JobView), (status = 404, body = Problem)))]
#[get("/jobs/<id>")]
pub async fn job(store: &State<Store>, id: &str) -> Answer<JobView> {
    let rows = store.job(key(id)?).await?;
    Ok(Json(job_view(&rows, &settings(store).await?)?))
}

/// Starts a job with both sides of its vehicle at their usual size.
#[utoipa::path(post, path = "/api/jobs", request_body = NewJob, responses((status = 200, body = JobView), (status = 422, body = Problem)))]
#[post("/jobs", data = "<data>")]
pub async fn start_job(store: &State<Store>, caller: Caller, data: Data<'_>) -> Answer<JobView> {
    let who = caller.writer()?.id;
    let new: NewJob = read_as(read_json(data).await?)?;
    let customer = named(&new.customer, "customer", "Type whom the job is for.")?;
    let title = match new.title.trim() {
        "" => format!("{customer}, {}", new.vehicle_kind.name().to_lowercase()),
        _ => named(&new.title, "title", "Type what the job is called.")?,
    };
    let sides = [VehicleSide::Left, VehicleSide::Right]
        .iter()
        .enumerate()
        .map(|(n, side)| {
            Ok((
                derived(new.id, n as u8 + 1),
                serde_json::to_value(new.vehicle_kind.usual_side(*side))?,
            ))
        })
        .collect::<Result<Vec<_>, serde_json::Error>>()
        .map_err(windrift_store::StoreError::from)?;
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
    let rows = store.start_job(row, sides).await?;
    Ok(Json(job_view(&rows, &settings(store).await?)?))
}

/// The stored word of a unit.
pub fn unit_word(unit: Unit) -> String {
    serde_json::to_value(unit)
        .ok()
        .and_then(|v| v.as_str().map(str::to_owned))
        .unwrap_or_default()
}

/// A key made from the job's own, so that a repeated request makes the same sides.
fn derived(job: Uuid, number: u8) -> Uuid {
    let mut bytes = *job.as_bytes();
    if let Some(last) = bytes.last_mut() {
        *last = last.wrapping_add(number);
    }
    Uuid::from_bytes(bytes)
}

fn named(text: &str, field: &str, empty: &str) -> Result<String, Problem> {
    let text = text.trim();
    match text.chars().count() {
        0 => Err(Problem::input("empty", empty).at(format!("/{field}"))),
        1..=80 => Ok(text.to_owned()),
        n => Err(Problem::input(
            "too_long",
            format!("This has {n} characters; 80 is the most. Shorten it."),
        )
        .at(format!("/{field}"))),
    }
}

/// Reads a key from a path.
pub fn key(text: &str) -> Result<Uuid, Problem> {
    text.parse().map_err(|_| {
        Problem::new(
            rocket::http::Status::NotFound,
            "not_found",
            "There is nothing under this address. Go back and look again.",
        )
    })
}
