//! When a job's fitting starts, and by when it is printed, laminated, cut and rolled up for it.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, put};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::cut::by_when::{BeforeFitting, DoneStep, Fitting};
use windrift_core::film::ink::Ink;
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, NewEntry, StoreError};

use crate::desk::Desk;
use crate::keys::key;
use crate::made_by::{made_by, standing_fitting};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::views::ByWhenView;

/// Clocks may differ by this.
const CLOCKS: Duration = Duration::minutes(5);

/// What is settled of a job's fitting.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SettleFitting {
    /// Its revision as it was seen; 0 where nothing stood.
    pub seen: i32,
    /// When the fitting starts, by the shop's wall clock: `2026-12-04T08:00`.
    pub fit_at: String,
    /// Ink of its prints.
    pub ink: Ink,
    /// Steps that are done.
    #[serde(default)]
    pub done: Vec<SaidDone>,
}

/// A step that somebody says is done.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SaidDone {
    /// Which.
    pub step: BeforeFitting,
    /// When, by the shop's wall clock; nothing for now.
    #[serde(default)]
    pub at: Option<String>,
}

/// By when everything is made.
#[utoipa::path(get, path = "/api/jobs/{id}/by-when", params(("id" = Uuid, Path)), responses((status = 200, body = ByWhenView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/by-when")]
pub async fn job_by_when(desk: &Desk, id: &str) -> Answer<ByWhenView> {
    Ok(Json(made_by(desk, id).await?))
}

/// Settles when the fitting starts, the ink, and what is done.
#[utoipa::path(put, path = "/api/jobs/{id}/by-when", params(("id" = Uuid, Path)), request_body = SettleFitting, responses((status = 200, body = ByWhenView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/jobs/<id>/by-when", data = "<data>")]
pub async fn settle_by_when(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<ByWhenView> {
    let who = caller.writer()?.id;
    let new: SettleFitting = read_as(read_json(data).await?)?;
    let job = key(id)?;
    let zone = desk.ways().await?.zone;
    let now = OffsetDateTime::now_utc();
    let read = |text: &str| {
        zone.at_wall_clock(text).ok_or_else(|| {
            Problem::input(
                "by_when",
                "Say the day and the hour, such as 4 December 2026, 8:00.",
            )
        })
    };
    let standing = standing_fitting(desk, job).await?;
    let fit_at = read(&new.fit_at)?;
    let changed = standing.as_ref().is_none_or(|(_, f)| f.fit_at != fit_at);
    if changed && fit_at < now {
        return Err(Problem::input(
            "by_when",
            format!(
                "{} has passed. Choose an hour that is still to come.",
                zone.in_words(fit_at)
            ),
        ));
    }
    if fit_at > now + Duration::days(730) {
        return Err(Problem::input(
            "by_when",
            "That is more than two years away. Look at the year again.",
        ));
    }
    let mut done = Vec::new();
    for said in &new.done {
        let before = standing.as_ref().and_then(|(_, f)| {
            let known = f.done.iter().find(|d| d.step == said.step)?;
            Some(known.at)
        });
        let at = match &said.at {
            Some(text) => read(text)?,
            None => before.unwrap_or(now),
        };
        if at > now + CLOCKS {
            return Err(Problem::input(
                "by_when",
                format!(
                    "{} is still to come: nothing was done then.",
                    zone.in_words(at)
                ),
            ));
        }
        done.push(DoneStep {
            step: said.step,
            at,
        });
    }
    let fitting = Fitting {
        fit_at,
        ink: new.ink,
        done,
    };
    let spec = Kind::Fitting.write(&fitting)?;
    let entries = fitting.since(standing.as_ref().map(|(_, f)| f));
    let entries: Result<Vec<NewEntry>, StoreError> = (entries.iter())
        .map(|e| {
            Ok(NewEntry {
                id: Uuid::now_v7(),
                kind: EntryKind::Made,
                crew: who,
                piece: None,
                body: serde_json::to_value(e)?,
                read_at: None,
            })
        })
        .collect();
    desk.settle_fitting(job, new.seen, who, spec, &entries?)
        .await?;
    Ok(Json(made_by(desk, id).await?))
}
