//! What is one's own: devices on which one is signed in, the passphrase and the PIN.

use rocket::data::Data;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{get, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_store::entity::crew;

use crate::desk::Desk;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::secret::{self, Try};
use crate::session::zone;

/// A passphrase of one's own.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct OwnPassphrase {
    /// The one until now; nothing where there was none.
    #[serde(default)]
    pub before: String,
    /// The one from now on.
    pub passphrase: String,
}

/// A PIN of one's own.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct OwnPin {
    /// One's passphrase.
    #[serde(default)]
    pub passphrase: String,
    /// From 4 to 8 digits.
    pub pin: String,
}

/// A device in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct SessionView {
    /// Its key in addresses.
    pub id: Uuid,
    /// What it is called.
    pub device: String,
    /// Whether it is on the floor.
    pub floor: bool,
    /// Who is signed in on it.
    pub people: Vec<String>,
    /// Since when, in words.
    pub since: String,
    /// When it was seen last, in words.
    pub seen: String,
    /// Until when, in words.
    pub until: String,
    /// Whether it is this one.
    pub here: bool,
}

/// Devices that are signed in: all of them for the lead, one's own for others.
#[utoipa::path(get, path = "/api/sessions", responses((status = 200, body = Vec<SessionView>)))]
#[get("/sessions")]
pub async fn sessions(desk: &Desk, caller: Caller) -> Answer<Vec<SessionView>> {
    let (here, who) = (caller.signed()?.session.id, caller.acting()?);
    let zone = zone(desk).await?;
    let all = desk.sessions().await?;
    Ok(Json(
        all.into_iter()
            .filter(|s| who.role == "lead" || s.people.iter().any(|p| p.id == who.id))
            .map(|s| SessionView {
                id: s.session.id,
                device: s.session.device,
                floor: s.session.floor,
                people: s.people.into_iter().map(|p| p.name).collect(),
                since: zone.in_words(s.session.at),
                seen: zone.in_words(s.session.seen),
                until: zone.in_words(s.session.expires),
                here: s.session.id == here,
            })
            .collect(),
    ))
}

/// Ends a device's session: one's own, or for the lead anybody's.
#[utoipa::path(post, path = "/api/sessions/{id}/end", params(("id" = Uuid, Path)), responses((status = 200, body = bool), (status = 403, body = Problem), (status = 404, body = Problem)))]
#[post("/sessions/<id>/end")]
pub async fn end_session(desk: &Desk, caller: Caller, id: &str) -> Answer<bool> {
    let (id, who) = (key(id)?, caller.acting()?);
    let all = desk.sessions().await?;
    let found = all.into_iter().find(|s| s.session.id == id);
    if who.role != "lead" {
        let own = found
            .as_ref()
            .is_none_or(|s| s.people.iter().any(|p| p.id == who.id));
        if !own {
            return Err(crate::access::not_the_lead(who));
        }
    }
    desk.end_session(id).await?;
    if let Some(found) = found {
        let about = format!("ended {}", found.session.device);
        desk.note_audit("sign-out", Some(who.id), &about, &desk.address())
            .await?;
    }
    Ok(Json(true))
}

/// Whether what was typed is what somebody has; where they have nothing yet, nothing is wanted.
async fn is_own(desk: &Desk, caller: &Caller, typed: String) -> Result<crew::Model, Problem> {
    let who = caller.acting()?.clone();
    if let Some(kept) = desk.passphrase_of(who.id).await? {
        let (tried, _) = Try::on_device(desk, caller.signed()?.session.id, who.id).await?;
        if !desk
            .compute(move || secret::fits(&typed, &kept.hash))
            .await?
        {
            return Err(Problem::new(
                Status::Forbidden,
                "wrong",
                "That is not your passphrase. Type it once more.",
            ));
        }
        tried.right().await?;
    }
    Ok(who)
}

/// Sets one's own passphrase. Other devices on which one was signed in are signed out of one.
#[utoipa::path(put, path = "/api/me/passphrase", request_body = OwnPassphrase, responses((status = 200, body = bool), (status = 403, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[put("/me/passphrase", data = "<data>")]
pub async fn own_passphrase(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<bool> {
    let asked: OwnPassphrase = read_as(read_json(data).await?)?;
    let here = caller.signed()?.session.id;
    secret::good_passphrase(&asked.passphrase, &caller.acting()?.name)?;
    let who = is_own(desk, &caller, asked.before).await?;
    let hash = desk
        .compute(move || secret::kept(&asked.passphrase))
        .await??;
    desk.set_passphrase(who.id, &hash, None, Some(here)).await?;
    desk.note_audit(
        "passphrase",
        Some(who.id),
        "own passphrase set",
        &desk.address(),
    )
    .await?;
    Ok(Json(true))
}

/// Sets one's own PIN, which lets one in on floor devices that are signed in already.
#[utoipa::path(put, path = "/api/me/pin", request_body = OwnPin, responses((status = 200, body = bool), (status = 403, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[put("/me/pin", data = "<data>")]
pub async fn own_pin(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<bool> {
    let asked: OwnPin = read_as(read_json(data).await?)?;
    secret::good_pin(&asked.pin)?;
    let who = is_own(desk, &caller, asked.passphrase).await?;
    let hash = desk.compute(move || secret::kept(&asked.pin)).await??;
    desk.set_pin(who.id, &hash).await?;
    desk.note_audit("passphrase", Some(who.id), "own PIN set", &desk.address())
        .await?;
    Ok(Json(true))
}
