//! Signing in and out: devices, and the people on them.

use rocket::data::Data;
use rocket::http::{Cookie, CookieJar, Status};
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_store::entity::crew;
use windrift_store::sign_in::Signed;

use crate::access::{COOKIE, hash_of};
use crate::desk::Desk;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json, word};
use crate::routes::Answer;
use crate::secret::{self, Try};
use crate::session::{Secure, begin, zone};
use crate::views::CrewView;

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
    // What follows is about the passphrase of one's own, or its time: there is nothing more to guess.
    tried.right().await?;
    if kept.once {
        if kept.expires.is_some_and(|until| until < now) {
            return Err(Problem::new(
                Status::Unauthorized,
                "code_over",
                "What the lead made for you has run out. Ask the lead for another.",
            ));
        }
        let Some(own) = asked.own.as_deref() else {
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
