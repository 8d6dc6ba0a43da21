//! A device is signed in: its row, and the cookie that it shows from then on; the clock by which it is told.

use rocket::http::{Cookie, CookieJar, SameSite};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::ground::zone::Zone;
use windrift_store::entity::{crew, session};
use windrift_store::sign_in::Signed;

use crate::access::{COOKIE, hash_of};
use crate::desk::Desk;
use crate::problem::Problem;
use crate::ways::settings_of;

/// Whether cookies are sent over TLS alone.
pub struct Secure(pub bool);

/// A device on the floor is signed in for so long.
const FLOOR_LASTS: Duration = Duration::hours(24);
/// A desk is signed in for so long.
const DESK_LASTS: Duration = Duration::days(30);
/// Begins a session on the device that asks, with its first person, and hands it its cookie.
pub async fn begin(
    desk: &Desk,
    cookies: &CookieJar<'_>,
    secure: &Secure,
    member: &crew::Model,
    floor: bool,
    device: String,
) -> Result<Signed, Problem> {
    let now = OffsetDateTime::now_utc();
    let lasts = if floor { FLOOR_LASTS } else { DESK_LASTS };
    let token = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
    let new = session::Model {
        id: Uuid::now_v7(),
        token_hash: hash_of(&token),
        floor,
        device,
        at: now,
        seen: now,
        expires: now + lasts,
        ended: None,
    };
    // What was signed in on this browser before is signed out: a cookie that is overwritten must open nothing.
    if let Some(old) = cookies.get(COOKIE)
        && let Some(old) = desk.session_of(&hash_of(old.value())).await?
    {
        desk.end_session(old.session.id).await?;
    }
    desk.begin_session(new.clone(), member.id).await?;
    let about = format!("signed in on {}", new.device);
    desk.note_audit("sign-in", Some(member.id), &about, &desk.address())
        .await?;
    cookies.add(
        Cookie::build((COOKIE, token))
            .path("/")
            .http_only(true)
            .secure(secure.0)
            .same_site(SameSite::Strict)
            .max_age(rocket::time::Duration::seconds(lasts.whole_seconds())),
    );
    Ok(Signed {
        session: new,
        people: vec![member.clone()],
    })
}

/// The shop's clock, without everything else that its ways hold.
pub async fn zone(desk: &Desk) -> Result<Zone, Problem> {
    let shop = desk.shop_or_empty().await?;
    Ok(settings_of(&shop.settings)?.zone)
}
