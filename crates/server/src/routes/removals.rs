//! By when film comes off, of all vehicles in one list.

use rocket::serde::json::Json;
use rocket::{get, post};
use serde::Serialize;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::care::CareWhat;
use windrift_store::entity::removal;

use crate::cared::cared;
use crate::desk::Desk;
use crate::keys::key;
use crate::request::Caller;
use crate::routes::Answer;

/// Jobs that are worked out for one answer: the list fills by itself where more are open.
const AT_ONCE: u64 = 20;

/// A vehicle with film on it.
#[derive(Debug, Serialize, ToSchema)]
pub struct RemovalView {
    /// The job.
    pub job: Uuid,
    /// What it is called.
    pub title: String,
    /// Whose vehicle it is.
    pub customer: String,
    /// By when film comes off.
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String)]
    pub due: OffsetDateTime,
    /// The same as a day, by the shop's clock.
    pub day: String,
    /// Days from now; below 0 it is late.
    pub days: i64,
    /// What is to be done, in words.
    pub says: String,
    /// Why then.
    pub why: String,
}

/// All vehicles with film on them.
#[derive(Debug, Serialize, ToSchema)]
pub struct RemovalsView {
    /// The first day first.
    pub list: Vec<RemovalView>,
    /// Jobs that are still to be worked out: ask again.
    pub open: bool,
}

fn day(date: Date) -> String {
    let month = date.month().to_string();
    format!(
        "{} {} {}",
        date.day(),
        month.get(..3).unwrap_or(&month),
        date.year()
    )
}

/// By when film comes off, of all vehicles, the first day first. It is worked out from when film was pressed and from the film's own sheet as they were then.
#[utoipa::path(get, path = "/api/removals", responses((status = 200, body = RemovalsView)))]
#[get("/removals")]
pub async fn removals(desk: &Desk) -> Answer<RemovalsView> {
    let open = desk.removals_to_work_out(AT_ONCE).await?;
    for (job, seq) in &open {
        // A job that cannot be planned any more has no day, and holds up nobody else's.
        let date = match cared(desk, &job.to_string()).await {
            Ok(found) => (found.view.dates.into_iter()).find(|d| d.what == CareWhat::RemoveBy),
            Err(problem) if problem.status < 500 => None,
            Err(problem) => return Err(problem),
        };
        let (due, says, why) = match date {
            Some(date) => (date.at, date.says, date.why),
            None => Default::default(),
        };
        desk.keep_removal(removal::Model {
            job_id: *job,
            seq: *seq,
            due,
            says,
            why,
            off_at: None,
            off_by: None,
        })
        .await?;
    }
    let zone = desk.ways().await?.zone;
    let now = OffsetDateTime::now_utc();
    let list = desk
        .removals()
        .await?
        .into_iter()
        .filter_map(|(r, job)| {
            let due = r.due?;
            Some(RemovalView {
                job: job.id,
                title: job.title,
                customer: job.customer,
                due,
                day: day(zone.date(due)),
                days: (due - now).whole_days(),
                says: r.says,
                why: r.why,
            })
        })
        .collect();
    Ok(Json(RemovalsView {
        list,
        open: open.len() as u64 == AT_ONCE,
    }))
}

/// Says that the film of a job is off: it leaves the list until film lies there again.
#[utoipa::path(post, path = "/api/jobs/{id}/film-off", params(("id" = Uuid, Path)), responses((status = 200, body = bool), (status = 404, body = crate::problem::Problem)))]
#[post("/jobs/<id>/film-off")]
pub async fn film_off(desk: &Desk, caller: Caller, id: &str) -> Answer<bool> {
    let who = caller.writer()?.id;
    desk.film_is_off(key(id)?, who).await?;
    Ok(Json(true))
}
