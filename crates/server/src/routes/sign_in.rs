//! Signing in: devices and the people on them, passphrases and PINs, who may come in, and the audit list.

use rocket::data::Data;
use rocket::http::{Cookie, CookieJar, Status};
use rocket::serde::json::Json;
use rocket::{State, get, post, put};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_store::entity::crew;
use windrift_store::sign_in::Signed;

use crate::access::{COOKIE, hash_of};
use crate::desk::Desk;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json, word};
use crate::routes::Answer;
use crate::secret::{self, Try};
use crate::session::{Secure, begin};
use crate::views::CrewView;
use crate::ways;

/// What the lead makes for somebody is good for so long, once.
const CODE_LASTS: Duration = Duration::days(3);
/// Longest name of a device, characters.
const DEVICE_NAME: usize = 60;

/// What a page is told before anybody is signed in.
#[derive(Debug, Serialize, ToSchema)]
pub struct DoorView {
    /// What the shop is called; nothing where it is not set up.
    pub shop: String,
    /// Whether it is set up.
    pub set_up: bool,
    /// The made-up shop: whoever stands in `crew` signs in with one press.
    pub open: bool,
    /// Who may sign in with one press. Empty in a shop of one's own: its names are told to nobody who is not signed in.
    pub crew: Vec<CrewView>,
    /// Nobody has a passphrase yet: what to do, where that is so.
    pub nobody: Option<String>,
}

/// A sign-in.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SignIn {
    /// The name that the crew knows.
    pub name: String,
    /// The passphrase, or what the lead made for the first time; nothing in the made-up shop.
    #[serde(default)]
    pub passphrase: String,
    /// The passphrase to have from now on, where the one above was made by the lead.
    #[serde(default)]
    pub own: Option<String>,
    /// A device on the floor: signed in for a day, and people switch by PIN.
    #[serde(default)]
    pub floor: bool,
    /// What the device is called in the list.
    #[serde(default)]
    pub device: String,
}

/// Somebody else on a device that is signed in.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Join {
    /// Who.
    pub crew: Uuid,
    /// Their PIN, on the floor, or their passphrase.
    #[serde(default)]
    pub secret: String,
}

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

/// Who is signed in on this device.
#[derive(Debug, Serialize, ToSchema)]
pub struct Me {
    /// The session.
    pub session: Uuid,
    /// Who is signed in here, the first one first.
    pub people: Vec<CrewView>,
    /// Whether it is a device on the floor.
    pub floor: bool,
    /// Until when, in words.
    pub until: String,
    /// Whether this is the made-up shop, where others need no passphrase.
    pub open: bool,
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

/// What a page needs before anybody is signed in.
#[utoipa::path(get, path = "/api/door", responses((status = 200, body = DoorView)))]
#[get("/door")]
pub async fn door(desk: &Desk) -> Answer<DoorView> {
    let crew = desk.crew().await?;
    let open = desk.is_open().await?;
    let known = desk.with_passphrase().await?;
    let set_up = !crew.is_empty();
    let nobody = (set_up && !open && known.iter().all(|p| p.once)).then(|| {
        "Nobody in this shop has a passphrase yet. On the machine that Windrift runs on, type: ./windrift passphrase NAME".to_owned()
    });
    let pressed = crew
        .into_iter()
        .filter(|c| open && !known.iter().any(|p| p.crew_id == c.id));
    Ok(Json(DoorView {
        shop: desk.shop_or_empty().await?.name,
        set_up,
        open,
        crew: pressed.map(view).collect(),
        nobody,
    }))
}

fn view(member: crew::Model) -> CrewView {
    CrewView {
        id: member.id,
        name: member.name,
        role: member.role,
    }
}

fn wrong() -> Problem {
    Problem::new(
        Status::Unauthorized,
        "wrong",
        "Name and passphrase do not belong together. Look at both and type them once more.",
    )
}

/// Signs a device in.
#[utoipa::path(post, path = "/api/sign-in", request_body = SignIn, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/sign-in", data = "<data>")]
pub async fn sign_in(
    desk: &Desk,
    cookies: &CookieJar<'_>,
    secure: &State<Secure>,
    data: Data<'_>,
) -> Answer<Me> {
    let asked: SignIn = read_as(read_json(data).await?)?;
    let name = named(&asked.name, 40, "name", "Type your name.")?;
    let lower = name.to_lowercase();
    let crew = desk.crew().await?;
    let member = crew.iter().find(|c| c.name.to_lowercase() == lower);
    let kept = match member {
        Some(member) => desk.passphrase_of(member.id).await?,
        None => None,
    };
    // The made-up shop: whoever has no passphrase comes in with one press. There is nothing to guess.
    if let (Some(member), None) = (member, &kept)
        && desk.is_open().await?
    {
        return come_in(desk, cookies, secure, member, &asked).await;
    }
    let tried = Try::of_passphrase(desk, &name).await?;
    let hash = kept
        .as_ref()
        .map_or(secret::NOBODYS, |k| &k.hash)
        .to_owned();
    let typed = asked.passphrase.clone();
    let fits = desk.compute(move || secret::fits(&typed, &hash)).await?;
    let now = OffsetDateTime::now_utc();
    let (Some(member), Some(kept), true) = (member, kept, fits) else {
        desk.note_audit(
            "refused",
            None,
            &format!("sign-in as {name}"),
            &desk.address(),
        )
        .await?;
        return Err(wrong());
    };
    if kept.once {
        if kept.expires.is_some_and(|until| until < now) {
            return Err(Problem::new(
                Status::Unauthorized,
                "code_over",
                "What the lead made for you has run out. Ask the lead for another.",
            ));
        }
        let Some(own) = asked.own.as_deref() else {
            tried.right().await?;
            return Err(Problem::new(
                Status::Conflict,
                "choose_own",
                "That is right, for this once. Choose a passphrase of your own now.",
            ));
        };
        secret::good_passphrase(own, &member.name)?;
        let (own, id) = (own.to_owned(), member.id);
        let fresh = desk.compute(move || secret::kept(&own)).await??;
        if !desk.use_up(id, &kept.hash).await? {
            return Err(wrong());
        }
        desk.set_passphrase(id, &fresh, None, None).await?;
        desk.note_audit(
            "passphrase",
            Some(id),
            "own passphrase set",
            &desk.address(),
        )
        .await?;
    }
    tried.right().await?;
    come_in(desk, cookies, secure, member, &asked).await
}

/// Begins a session on the device that asks and hands it its cookie.
async fn come_in(
    desk: &Desk,
    cookies: &CookieJar<'_>,
    secure: &Secure,
    member: &crew::Model,
    asked: &SignIn,
) -> Answer<Me> {
    let device = match word(&asked.device, DEVICE_NAME) {
        unnamed if unnamed.is_empty() => "a device without a name".into(),
        device => device,
    };
    let signed = begin(desk, cookies, secure, member, asked.floor, device).await?;
    Ok(Json(me_view(desk, &signed).await?))
}

async fn me_view(desk: &Desk, signed: &Signed) -> Result<Me, Problem> {
    let zone = zone(desk).await?;
    Ok(Me {
        session: signed.session.id,
        people: signed.people.iter().cloned().map(view).collect(),
        floor: signed.session.floor,
        until: zone.in_words(signed.session.expires),
        open: desk.is_open().await?,
    })
}

/// The shop's clock, without everything else that its ways hold.
async fn zone(desk: &Desk) -> Result<windrift_core::ground::zone::Zone, Problem> {
    let shop = desk.shop_or_empty().await?;
    Ok(ways::settings_of(&shop.settings)?.zone)
}

/// Who is signed in on this device.
#[utoipa::path(get, path = "/api/me", responses((status = 200, body = Me)))]
#[get("/me")]
pub async fn me(desk: &Desk, caller: Caller) -> Answer<Me> {
    Ok(Json(me_view(desk, caller.signed()?).await?))
}

/// Signs somebody else in on this device: by PIN on the floor, by passphrase anywhere.
#[utoipa::path(post, path = "/api/me/people", request_body = Join, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 404, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/me/people", data = "<data>")]
pub async fn join(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<Me> {
    let mut signed = caller.signed()?.clone();
    let asked: Join = read_as(read_json(data).await?)?;
    let member = desk.crew_member(asked.crew).await?;
    let kept = desk.passphrase_of(member.id).await?;
    if kept.is_some() || !desk.is_open().await? {
        let (tried, pin_counts) = Try::on_device(desk, signed.session.id, member.id).await?;
        let pin = match signed.session.floor && pin_counts {
            true => desk.pin_of(member.id).await?,
            false => None,
        };
        let passphrase = kept.filter(|k| !k.once).map(|k| k.hash);
        let typed = asked.secret.clone();
        let fits = desk
            .compute(move || {
                let pin = pin.is_some_and(|hash| secret::fits(&typed, &hash));
                pin || secret::fits(&typed, passphrase.as_deref().unwrap_or(secret::NOBODYS))
            })
            .await?;
        if !fits {
            let about = format!("{} on {}", member.name, signed.session.device);
            desk.note_audit("refused", None, &about, &desk.address())
                .await?;
            return Err(Problem::new(
                Status::Unauthorized,
                "wrong",
                if pin_counts {
                    "That is not it. A PIN counts on floor devices; a passphrase counts everywhere."
                } else {
                    "The PIN was wrong too often on this device. Type the passphrase."
                },
            ));
        }
        tried.right().await?;
    }
    desk.join_session(signed.session.id, member.id).await?;
    let about = format!("signed in on {}", signed.session.device);
    desk.note_audit("sign-in", Some(member.id), &about, &desk.address())
        .await?;
    if !signed.people.iter().any(|p| p.id == member.id) {
        signed.people.push(member);
    }
    Ok(Json(me_view(desk, &signed).await?))
}

/// Signs this device out. Where nobody is signed in, nothing happens.
#[utoipa::path(post, path = "/api/sign-out", responses((status = 200, body = bool)))]
#[post("/sign-out")]
pub async fn sign_out(desk: &Desk, cookies: &CookieJar<'_>) -> Answer<bool> {
    if let Some(token) = cookies.get(COOKIE)
        && let Some(signed) = desk.session_of(&hash_of(token.value())).await?
    {
        desk.end_session(signed.session.id).await?;
        let who = signed.people.first().map(|p| p.id);
        let about = format!("signed out on {}", signed.session.device);
        desk.note_audit("sign-out", who, &about, &desk.address())
            .await?;
    }
    cookies.remove(Cookie::build(COOKIE).path("/"));
    Ok(Json(true))
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
