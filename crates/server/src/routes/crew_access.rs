//! Who of the crew may come in, and what happened at the door. The lead's.

use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::Serialize;
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_store::entity::crew;

use crate::desk::Desk;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::Caller;
use crate::routes::Answer;
use crate::secret;
use crate::session::zone;

/// What the lead makes for somebody is good for so long, once.
const CODE_LASTS: Duration = Duration::days(3);
/// How somebody may come in.
#[derive(Debug, Serialize, ToSchema)]
pub struct CrewAccess {
    /// Who.
    pub crew: Uuid,
    /// Whether they have a passphrase of their own.
    pub passphrase: bool,
    /// Until when a code that the lead made waits for them, in words.
    pub code_until: Option<String>,
    /// Whether they have a PIN.
    pub pin: bool,
}

/// What the lead made for somebody: shown once.
#[derive(Debug, Serialize, ToSchema)]
pub struct CrewCode {
    /// To be typed as the passphrase, once.
    pub code: String,
    /// Until when, in words.
    pub until: String,
}

/// A line of the audit list.
#[derive(Debug, Serialize, ToSchema)]
pub struct AuditView {
    /// Its number: a page goes on before it.
    pub n: i64,
    /// When, in words.
    pub at: String,
    /// Who, where somebody was known.
    pub who: Option<String>,
    /// What.
    pub says: String,
    /// From which machine.
    pub address: String,
}

/// How each of the crew may come in. The lead's.
#[utoipa::path(get, path = "/api/crew/access", responses((status = 200, body = Vec<CrewAccess>), (status = 403, body = Problem)))]
#[get("/crew/access")]
pub async fn crew_access(desk: &Desk) -> Answer<Vec<CrewAccess>> {
    let known = desk.with_passphrase().await?;
    let pins = desk.with_pin().await?;
    let zone = zone(desk).await?;
    let crew = desk.crew().await?;
    Ok(Json(
        crew.into_iter()
            .map(|c| {
                let kept = known.iter().find(|k| k.crew_id == c.id);
                CrewAccess {
                    crew: c.id,
                    passphrase: kept.is_some_and(|k| !k.once),
                    code_until: kept
                        .filter(|k| k.once)
                        .and_then(|k| k.expires)
                        .map(|until| zone.in_words(until)),
                    pin: pins.contains(&c.id),
                }
            })
            .collect(),
    ))
}

/// The lead who asks, and the other one that it is about.
async fn somebody_else(
    desk: &Desk,
    caller: &Caller,
    id: &str,
    yourself: &str,
) -> Result<(Uuid, crew::Model), Problem> {
    let lead = caller.lead()?.id;
    let member = desk.crew_member(key(id)?).await?;
    if member.id == lead {
        return Err(Problem::new(Status::Forbidden, "yourself", yourself));
    }
    Ok((lead, member))
}

/// Letters and digits that nobody takes for each other.
const PLAIN: &[u8] = b"abcdefghjkmnpqrstuvwxyz23456789";

/// Makes what somebody types instead of a passphrase, once, within three days: for somebody new, or who forgot theirs. What they had
/// counts no more. The lead's.
#[utoipa::path(post, path = "/api/crew/{id}/code", params(("id" = Uuid, Path)), responses((status = 200, body = CrewCode), (status = 403, body = Problem), (status = 404, body = Problem)))]
#[post("/crew/<id>/code")]
pub async fn crew_code(desk: &Desk, caller: Caller, id: &str) -> Answer<CrewCode> {
    let says = "You are signed in: set your own passphrase at the top instead.";
    let (lead, member) = somebody_else(desk, &caller, id, says).await?;
    // 12 of 31 letters: 59 bits, each drawn from a whole byte of randomness with the few that would not be even left out.
    let drawn = std::iter::repeat_with(Uuid::new_v4).flat_map(|u| {
        [
            u.as_bytes()[0],
            u.as_bytes()[1],
            u.as_bytes()[2],
            u.as_bytes()[3],
        ]
    });
    let letters: String = drawn
        .filter(|b| (*b as usize) < 256 / PLAIN.len() * PLAIN.len())
        .map(|b| PLAIN[b as usize % PLAIN.len()] as char)
        .take(12)
        .collect();
    let code = format!("{}-{}-{}", &letters[..4], &letters[4..8], &letters[8..]);
    let until = OffsetDateTime::now_utc() + CODE_LASTS;
    let typed = code.clone();
    let hash = desk.compute(move || secret::kept(&typed)).await??;
    desk.set_passphrase(member.id, &hash, Some(until), None)
        .await?;
    let about = format!("code made for {}", member.name);
    desk.note_audit("code", Some(lead), &about, &desk.address())
        .await?;
    Ok(Json(CrewCode {
        code,
        until: zone(desk).await?.in_words(until),
    }))
}

/// Lets somebody in no more. What they did stays in the record. The lead's.
#[utoipa::path(post, path = "/api/crew/{id}/shut-out", params(("id" = Uuid, Path)), responses((status = 200, body = bool), (status = 403, body = Problem), (status = 404, body = Problem)))]
#[post("/crew/<id>/shut-out")]
pub async fn shut_out(desk: &Desk, caller: Caller, id: &str) -> Answer<bool> {
    let says = "You cannot shut yourself out. Another lead can.";
    let (lead, member) = somebody_else(desk, &caller, id, says).await?;
    desk.shut_out(member.id).await?;
    let about = format!("{} may come in no more", member.name);
    desk.note_audit("shut-out", Some(lead), &about, &desk.address())
        .await?;
    Ok(Json(true))
}

/// Sign-ins, refusals, codes and keys, the newest first, a page of 100: those before number `before`. The lead's.
#[utoipa::path(get, path = "/api/audit", params(("before" = Option<i64>, Query)), responses((status = 200, body = Vec<AuditView>), (status = 403, body = Problem)))]
#[get("/audit?<before>")]
pub async fn audit(desk: &Desk, before: Option<i64>) -> Answer<Vec<AuditView>> {
    let zone = zone(desk).await?;
    let crew = desk.crew().await?;
    let lines = desk.audit_list(before).await?;
    Ok(Json(
        lines
            .into_iter()
            .map(|line| AuditView {
                n: line.n,
                at: zone.in_words(line.at),
                who: crew
                    .iter()
                    .find(|c| Some(c.id) == line.crew_id)
                    .map(|c| c.name.clone()),
                says: match line.kind.as_str() {
                    "refused" => format!("refused: {}", line.about),
                    _ => line.about,
                },
                address: line.address,
            })
            .collect(),
    ))
}
