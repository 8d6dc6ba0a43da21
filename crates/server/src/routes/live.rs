//! What changes, as it happens, and who is where.

use std::time::Duration;

use rocket::data::Data;
use rocket::response::stream::{Event, EventStream};
use rocket::serde::json::Json;
use rocket::tokio::select;
use rocket::tokio::sync::broadcast::error::RecvError;
use rocket::tokio::time::{Instant, interval_at};
use rocket::{Shutdown, State, get, post, put};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_store::entity::presence;

use crate::desk::Desk;
use crate::keys::key;
use crate::live::{Live, MISSED};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::watched::{Figures, Listening};

/// A sign of life in so long, and whether the session still stands: shorter than any proxy's patience.
const ALIVE: Duration = Duration::from_secs(15);
/// Longest name of a stage.
const STAGE: usize = 20;

/// Where somebody is.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Here {
    /// The side.
    pub side: Uuid,
    /// The stage, as it stands in the page's address.
    pub stage: String,
}

/// Somebody else who is at the same job.
#[derive(Debug, Serialize, ToSchema)]
pub struct AlsoHere {
    /// Who.
    pub crew: Uuid,
    /// Their name.
    pub name: String,
    /// At which side.
    pub side: Uuid,
    /// At which stage.
    pub stage: String,
}

/// What changes, told as it happens, as server-sent events. Each carries JSON: `what` (`job`, `shop`, `shelf`, `templates`, `here` or `missed`), the job's key,
/// and the id of the edit or entry. What it is now is asked for.
#[utoipa::path(get, path = "/api/live", responses((status = 200, content_type = "text/event-stream")))]
#[get("/live")]
pub async fn live<'r>(
    desk: &'r Desk,
    live: &'r State<Live>,
    figures: &'r State<Figures>,
    caller: Caller,
    mut end: Shutdown,
) -> Result<EventStream![Event + 'r], Problem> {
    let session = caller.signed()?.session.token_hash.clone();
    let mut told = live.hear();
    Ok(EventStream! {
        let _counted = Listening::at(figures);
        let mut alive = interval_at(Instant::now() + ALIVE, ALIVE);
        // At once, so that a page knows that it is heard from here on.
        yield Event::comment("hears");
        loop {
            select! {
                heard = told.recv() => match heard {
                    Ok(change) => yield Event::data(change.to_string()),
                    Err(RecvError::Lagged(_)) => yield Event::data(MISSED),
                    Err(RecvError::Closed) => break,
                },
                _ = alive.tick() => {
                    // Who was signed out hears nothing more.
                    match desk.session_of(&session).await {
                        Ok(None) => break,
                        _ => yield Event::comment("alive"),
                    }
                }
                () = &mut end => break,
            }
        }
    })
}

/// Says that one is at a side of a job; answers who else is at that job.
#[utoipa::path(put, path = "/api/jobs/{id}/here", params(("id" = Uuid, Path)), request_body = Here, responses((status = 200, body = Vec<AlsoHere>), (status = 404, body = Problem)))]
#[put("/jobs/<id>/here", data = "<data>")]
pub async fn here(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<Vec<AlsoHere>> {
    let (job, who) = (key(id)?, caller.acting()?.id);
    let here: Here = read_as(read_json(data).await?)?;
    desk.side(here.side).await?;
    let session = caller.signed()?.session.id;
    desk.is_here(presence::Model {
        session_id: session,
        crew_id: who,
        job_id: job,
        side_id: here.side,
        stage: here.stage.chars().take(STAGE).collect(),
        at: OffsetDateTime::now_utc(),
    })
    .await?;
    let crew = desk.crew().await?;
    let mut others: Vec<AlsoHere> = Vec::new();
    for p in desk.who_is_at(job).await? {
        // One's own other pages are no news, and nobody is named twice.
        if p.crew_id == who || others.iter().any(|o| o.crew == p.crew_id) {
            continue;
        }
        if let Some(member) = crew.iter().find(|c| c.id == p.crew_id) {
            others.push(AlsoHere {
                crew: member.id,
                name: member.name.clone(),
                side: p.side_id,
                stage: p.stage,
            });
        }
    }
    Ok(Json(others))
}

/// Says that one has left the job.
#[utoipa::path(post, path = "/api/left", responses((status = 200, body = bool)))]
#[post("/left")]
pub async fn left(desk: &Desk, caller: Caller) -> Answer<bool> {
    desk.has_left(caller.signed()?.session.id).await?;
    Ok(Json(true))
}
