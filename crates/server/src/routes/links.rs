//! Links by which a customer sees their job: made, shown once, listed, withdrawn.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::zone::Zone;
use windrift_store::entity::link;

use crate::access::hash_of;
use crate::desk::Desk;
use crate::keys::key;
use crate::links::shared;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json};
use crate::routes::Answer;
use crate::views::{JobView, job_view};

/// How long a link may last, days.
const DAYS: std::ops::RangeInclusive<u32> = 1..=180;

/// A link to be made.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewLink {
    /// Made by the client.
    pub id: Uuid,
    /// For whom.
    pub whom: String,
    /// Days that it lasts.
    pub days: u32,
}

/// A link that was made: its address is shown once.
#[derive(Debug, Serialize, ToSchema)]
pub struct MadeLink {
    /// Behind the shop's own address.
    pub path: String,
    /// Until when, in words.
    pub until: String,
}

/// A link in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct LinkView {
    /// Its key in addresses.
    pub id: Uuid,
    /// The job.
    pub job: Uuid,
    /// For whom.
    pub whom: String,
    /// Who made it.
    pub by: String,
    /// When, in words.
    pub made: String,
    /// How it stands: lasts until when, ran out, withdrawn.
    pub stands: String,
    /// Whether it still opens the job.
    pub opens: bool,
    /// When it was first opened, in words.
    pub opened: Option<String>,
}

/// What the holder of a link is shown first.
#[derive(Debug, Serialize, ToSchema)]
pub struct SharedJob {
    /// What the shop is called.
    pub shop: String,
    /// The job, its vehicle and its sides.
    pub job: JobView,
    /// Number of the newest plan, where one was issued.
    pub plan: Option<i32>,
    /// Until when the link lasts, in words.
    pub until: String,
}

async fn viewed(desk: &Desk, all: Vec<link::Model>, zone: Zone) -> Result<Vec<LinkView>, Problem> {
    let crew = desk.crew().await?;
    let now = OffsetDateTime::now_utc();
    Ok(all
        .into_iter()
        .map(|l| LinkView {
            id: l.id,
            job: l.job_id,
            by: crew
                .iter()
                .find(|c| c.id == l.crew_id)
                .map_or_else(|| "somebody".into(), |c| c.name.clone()),
            made: zone.in_words(l.at),
            stands: match (l.withdrawn, l.expires > now) {
                (true, _) => "withdrawn".into(),
                (false, true) => format!("until {}", zone.in_words(l.expires)),
                (false, false) => format!("ran out {}", zone.in_words(l.expires)),
            },
            opens: !l.withdrawn && l.expires > now,
            opened: l.opened.map(|at| zone.in_words(at)),
            whom: l.whom,
        })
        .collect())
}

/// Makes a link. Its address is in this answer and nowhere else.
#[utoipa::path(post, path = "/api/jobs/{id}/links", params(("id" = Uuid, Path)), request_body = NewLink, responses((status = 200, body = MadeLink), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/links", data = "<data>")]
pub async fn make_link(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<MadeLink> {
    let who = caller.writer()?.id;
    let new: NewLink = read_as(read_json(data).await?)?;
    let whom = named(&new.whom, 60, "whom", "Say for whom it is.")?;
    if !DAYS.contains(&new.days) {
        return Err(Problem::input(
            "days",
            format!("A link lasts from {} to {} days.", DAYS.start(), DAYS.end()),
        )
        .at("/days"));
    }
    let job = desk.job(key(id)?).await?.job;
    if desk
        .links(Some(job.id))
        .await?
        .iter()
        .any(|l| l.id == new.id)
    {
        return Err(Problem::new(
            rocket::http::Status::Conflict,
            "made",
            "This link was made already, and is not shown again. Withdraw it and make another.",
        ));
    }
    let now = OffsetDateTime::now_utc();
    let token = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
    let expires = now + Duration::days(i64::from(new.days));
    desk.make_link(link::Model {
        id: new.id,
        job_id: job.id,
        token_hash: hash_of(&token),
        whom: whom.clone(),
        crew_id: who,
        at: now,
        expires,
        opened: None,
        withdrawn: false,
    })
    .await?;
    let about = format!("link for {whom} to {}", job.title);
    desk.note_audit("link", Some(who), &about, &desk.address())
        .await?;
    Ok(Json(MadeLink {
        path: format!("/shared/{token}"),
        until: desk.ways().await?.zone.in_words(expires),
    }))
}

/// Links of a job.
#[utoipa::path(get, path = "/api/jobs/{id}/links", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<LinkView>)))]
#[get("/jobs/<id>/links")]
pub async fn job_links(desk: &Desk, id: &str) -> Answer<Vec<LinkView>> {
    let zone = desk.ways().await?.zone;
    let all = desk.links(Some(key(id)?)).await?;
    Ok(Json(viewed(desk, all, zone).await?))
}

/// All links of the shop. The lead's.
#[utoipa::path(get, path = "/api/links", responses((status = 200, body = Vec<LinkView>)))]
#[get("/links")]
pub async fn all_links(desk: &Desk) -> Answer<Vec<LinkView>> {
    let zone = desk.ways().await?.zone;
    let all = desk.links(None).await?;
    Ok(Json(viewed(desk, all, zone).await?))
}

/// Withdraws a link for good.
#[utoipa::path(post, path = "/api/links/{id}/withdraw", params(("id" = Uuid, Path)), responses((status = 200, body = bool), (status = 404, body = Problem)))]
#[post("/links/<id>/withdraw")]
pub async fn withdraw_link(desk: &Desk, caller: Caller, id: &str) -> Answer<bool> {
    let who = caller.writer()?.id;
    let link = desk.withdraw_link(key(id)?).await?;
    let about = format!("link for {} withdrawn", link.whom);
    desk.note_audit("link", Some(who), &about, &desk.address())
        .await?;
    Ok(Json(true))
}

/// The job that a link opens.
#[utoipa::path(get, path = "/api/shared/{token}", params(("token" = String, Path)), responses((status = 200, body = SharedJob), (status = 404, body = Problem)))]
#[get("/shared/<token>")]
pub async fn shared_job(desk: &Desk, token: &str) -> Answer<SharedJob> {
    let link = shared(desk, token).await?;
    let rows = desk.job(link.job_id).await?;
    let ways = desk.ways().await?;
    Ok(Json(SharedJob {
        shop: desk.shop().await?.name,
        plan: desk.newest_plan(link.job_id).await?.map(|p| p.number),
        until: ways.zone.in_words(link.expires),
        job: job_view(desk, &rows, &ways).await?,
    }))
}
