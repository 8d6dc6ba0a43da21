//! Devices: made with a key that is shown once, withdrawn from a list, and what sensors read in the bays, posted with that key.

use rocket::data::Data;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::bay::check_air;
use windrift_store::entity::device_reading;

use crate::access::hash_of;
use crate::desk::Desk;
use crate::devices::{DeviceClock, DeviceKey, Reads};
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json};
use crate::routes::Answer;

/// Most readings in one request.
const MOST_AT_ONCE: usize = 600;
/// How far a sensor's clock is believed.
const CLOCK: DeviceClock = DeviceClock {
    device: "sensor",
    ahead: Duration::minutes(2),
    oldest: Duration::days(7),
    oldest_in_words: "a week",
};
/// Coldest and warmest that a probe on a panel is believed, °C.
const SURFACE: std::ops::RangeInclusive<f64> = -40.0..=90.0;

/// A device to be made.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewDevice {
    /// Made by the client.
    pub id: Uuid,
    /// The bay that it hangs in.
    pub bay: String,
    /// What it is called.
    pub name: String,
    /// What it reads.
    #[serde(default)]
    pub reads: Reads,
}

/// A device that was made, with its key. The key is never shown again.
#[derive(Debug, Serialize, ToSchema)]
pub struct MadeDevice {
    /// The device.
    pub id: Uuid,
    /// Its key: what it sends as `Device-Key`.
    pub key: String,
}

/// A device.
#[derive(Debug, Serialize, ToSchema)]
pub struct DeviceView {
    /// Its key in addresses.
    pub id: Uuid,
    /// The bay that it hangs in.
    pub bay: String,
    /// What it is called.
    pub name: String,
    /// What it reads.
    pub reads: Reads,
    /// When it was made, in words.
    pub made: String,
    /// Whether its key was withdrawn.
    pub withdrawn: bool,
}

/// What a sensor read.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SensorReading {
    /// When, RFC 3339; nothing for now.
    #[serde(with = "time::serde::rfc3339::option", default)]
    #[schema(value_type = Option<String>)]
    pub at: Option<OffsetDateTime>,
    /// Air, °C.
    pub celsius: f64,
    /// Relative humidity, percent.
    pub humidity: f64,
    /// The panel, °C, where it has a probe there.
    #[serde(default)]
    pub surface: Option<f64>,
}

/// Readings of one sensor.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SensorReadings {
    /// Oldest first.
    pub readings: Vec<SensorReading>,
}

/// What came of readings.
#[derive(Debug, Serialize, ToSchema)]
pub struct KeptReadings {
    /// How many were kept: one in ten seconds.
    pub kept: u64,
}

/// A reading as it is plotted.
#[derive(Debug, Serialize, ToSchema)]
pub struct BayReading {
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// °C.
    pub celsius: f64,
    /// Percent.
    pub humidity: f64,
    /// °C of the panel.
    pub surface: Option<f64>,
}

/// Devices of the shop, withdrawn ones too.
#[utoipa::path(get, path = "/api/devices", responses((status = 200, body = Vec<DeviceView>)))]
#[get("/devices")]
pub async fn devices(desk: &Desk) -> Answer<Vec<DeviceView>> {
    let zone = desk.ways().await?.zone;
    let all = desk.devices().await?;
    Ok(Json(
        all.into_iter()
            .map(|d| DeviceView {
                id: d.id,
                bay: d.bay,
                name: d.name,
                reads: Reads::of(&d.reads),
                made: zone.in_words(d.at),
                withdrawn: d.withdrawn,
            })
            .collect(),
    ))
}

/// Makes a device. Its key is in this answer and nowhere else.
#[utoipa::path(post, path = "/api/devices", request_body = NewDevice, responses((status = 200, body = MadeDevice), (status = 403, body = Problem), (status = 422, body = Problem)))]
#[post("/devices", data = "<data>")]
pub async fn make_device(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<MadeDevice> {
    let who = caller.lead()?.id;
    let new: NewDevice = read_as(read_json(data).await?)?;
    let bay = named(&new.bay, 60, "bay", "Say which bay it hangs in.")?;
    let name = named(&new.name, 60, "name", "Give it a name: by the door.")?;
    if desk.devices().await?.iter().any(|d| d.id == new.id) {
        return Err(Problem::new(
            Status::Conflict,
            "made",
            "This device was made already, and its key is not shown again. Withdraw it and make another.",
        ));
    }
    // Two random keys of 122 bits each; what is kept of them is a hash.
    let secret = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
    desk.make_device(new.id, who, &bay, &name, new.reads.word(), hash_of(&secret))
        .await?;
    let about = format!("key made for {name} in {bay}");
    desk.note_audit("key", Some(who), &about, &desk.address())
        .await?;
    Ok(Json(MadeDevice {
        id: new.id,
        key: secret,
    }))
}

/// Withdraws a device's key for good.
#[utoipa::path(post, path = "/api/devices/{id}/withdraw", params(("id" = Uuid, Path)), responses((status = 200, body = bool), (status = 403, body = Problem), (status = 404, body = Problem)))]
#[post("/devices/<id>/withdraw")]
pub async fn withdraw_device(desk: &Desk, caller: Caller, id: &str) -> Answer<bool> {
    let (who, id) = (caller.lead()?.id, key(id)?);
    desk.withdraw_device(id).await?;
    let all = desk.devices().await?;
    if let Some(device) = all.iter().find(|d| d.id == id) {
        let about = format!("key of {} in {} withdrawn", device.name, device.bay);
        desk.note_audit("key", Some(who), &about, &desk.address())
            .await?;
    }
    Ok(Json(true))
}

/// Takes what a sensor read. Sent with its key as `Device-Key`; at most 30 requests a second from one device.
#[utoipa::path(post, path = "/api/readings", request_body = SensorReadings, params(("Device-Key" = String, Header)), responses((status = 200, body = KeptReadings), (status = 401, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/readings", data = "<data>")]
pub async fn readings(desk: &Desk, device: DeviceKey, data: Data<'_>) -> Answer<KeptReadings> {
    let known = device.known(desk, Reads::Air).await?;
    let new: SensorReadings = read_as(read_json(data).await?)?;
    if new.readings.is_empty() || new.readings.len() > MOST_AT_ONCE {
        return Err(Problem::input(
            "readings",
            format!("Send from 1 to {MOST_AT_ONCE} readings at once."),
        ));
    }
    let now = OffsetDateTime::now_utc();
    let mut rows = Vec::new();
    for (n, r) in new.readings.iter().enumerate() {
        let field = |f: &str| format!("/readings/{n}/{f}");
        check_air(r.celsius, r.humidity)
            .map_err(|e| Problem::input("readings", e.sentence).at(field(e.field)))?;
        if r.surface.is_some_and(|s| !SURFACE.contains(&s)) {
            return Err(Problem::input(
                "readings",
                format!(
                    "A panel is from {:.0} to {:.0} \u{b0}C. Look at the probe.",
                    SURFACE.start(),
                    SURFACE.end()
                ),
            )
            .at(field("surface")));
        }
        let at = CLOCK.taken(n, r.at, now)?;
        rows.push(device_reading::Model {
            device_id: known.id,
            at: at.min(now),
            received: now,
            celsius: r.celsius,
            humidity: r.humidity,
            surface: r.surface,
        });
    }
    let kept = desk.keep_readings(known.id, rows).await?;
    Ok(Json(KeptReadings { kept }))
}

/// Readings of a device in the last hours, oldest first: at most a week.
#[utoipa::path(get, path = "/api/devices/{id}/readings", params(("id" = Uuid, Path), ("hours" = Option<u32>, Query, description = "How far back, at most 168")), responses((status = 200, body = Vec<BayReading>)))]
#[get("/devices/<id>/readings?<hours>")]
pub async fn device_readings(desk: &Desk, id: &str, hours: Option<u32>) -> Answer<Vec<BayReading>> {
    let hours = hours.unwrap_or(24).clamp(1, 168);
    let since = OffsetDateTime::now_utc() - Duration::hours(i64::from(hours));
    let all = desk.readings_since(vec![key(id)?], since).await?;
    Ok(Json(
        all.into_iter()
            .map(|r| BayReading {
                at: r.at,
                celsius: r.celsius,
                humidity: r.humidity,
                surface: r.surface,
            })
            .collect(),
    ))
}
