//! Thermometers that read film behind the heat by themselves, with a key of their own.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::heat::SHOWN;
use windrift_core::floor::heat::stream::{RawReading, is_believed};

use crate::desk::Desk;
use crate::devices::{DeviceClock, DeviceKey, Reads};
use crate::problem::Problem;
use crate::request::{read_as, read_json};
use crate::routes::Answer;

/// Most readings in one request.
const MOST_AT_ONCE: usize = 600;
/// How far a thermometer's clock is believed: older readings belong to no walk that anybody remembers.
const CLOCK: DeviceClock = DeviceClock {
    device: "thermometer",
    ahead: Duration::seconds(5),
    oldest: Duration::days(1),
    oldest_in_words: "a day",
};

/// What a thermometer showed.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct HeatReading {
    /// When, RFC 3339; nothing for now, where it is the only one in its request.
    #[serde(with = "time::serde::rfc3339::option", default)]
    #[schema(value_type = Option<String>)]
    pub at: Option<OffsetDateTime>,
    /// °C.
    pub celsius: f64,
}

/// Readings of one thermometer.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct HeatReadings {
    /// In any order.
    pub readings: Vec<HeatReading>,
}

/// What came of readings.
#[derive(Debug, Serialize, ToSchema)]
pub struct KeptHeat {
    /// How many were not here before.
    pub kept: u64,
    /// How many are kept and not believed: they jump as no film does.
    pub doubted: u64,
}

/// A thermometer that may be chosen for a walk.
#[derive(Debug, Serialize, ToSchema)]
pub struct Thermometer {
    /// Its key in addresses.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// When it read last that it was believed, RFC 3339.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(value_type = Option<String>)]
    pub last: Option<OffsetDateTime>,
    /// What it showed then, °C.
    pub celsius: Option<f64>,
}

/// Thermometers whose keys are good.
#[utoipa::path(get, path = "/api/thermometers", responses((status = 200, body = Vec<Thermometer>)))]
#[get("/thermometers")]
pub async fn thermometers(desk: &Desk) -> Answer<Vec<Thermometer>> {
    let mut all = Vec::new();
    for d in desk.devices().await? {
        if d.withdrawn || Reads::of(&d.reads) != Reads::Heat {
            continue;
        }
        let newest = desk.newest_heat_reading(d.id).await?;
        all.push(Thermometer {
            id: d.id,
            name: d.name,
            last: newest.as_ref().map(|r| r.at),
            celsius: newest.map(|r| r.celsius),
        });
    }
    Ok(Json(all))
}

/// Takes what a thermometer read behind the heat. Sent with its key as `Device-Key`; at most 30 requests a second from one device. Everything is kept; what
/// jumps is marked and not believed.
#[utoipa::path(post, path = "/api/heat-readings", request_body = HeatReadings, params(("Device-Key" = String, Header)), responses((status = 200, body = KeptHeat), (status = 401, body = Problem), (status = 422, body = Problem), (status = 429, body = Problem)))]
#[post("/heat-readings", data = "<data>")]
pub async fn heat_readings(desk: &Desk, device: DeviceKey, data: Data<'_>) -> Answer<KeptHeat> {
    let known = device.known(desk, Reads::Heat).await?;
    let new: HeatReadings = read_as(read_json(data).await?)?;
    if new.readings.is_empty() || new.readings.len() > MOST_AT_ONCE {
        return Err(Problem::input(
            "readings",
            format!("Send from 1 to {MOST_AT_ONCE} readings at once."),
        ));
    }
    let now = OffsetDateTime::now_utc();
    let mut readings = Vec::new();
    for (n, r) in new.readings.iter().enumerate() {
        let wrong = |field: &str, says: String| {
            Err(Problem::input("readings", says).at(format!("/readings/{n}/{field}")))
        };
        if !SHOWN.contains(&r.celsius) {
            return wrong(
                "celsius",
                format!(
                    "That is no reading of warm film: from {:.0} to {:.0} \u{b0}C. Look at the thermometer.",
                    SHOWN.start(),
                    SHOWN.end()
                ),
            );
        }
        if r.at.is_none() && new.readings.len() > 1 {
            return wrong(
                "at",
                "Several readings at once each say when they were taken. Send the time with each, or one reading at a time.".into(),
            );
        }
        let at = CLOCK.taken(n, r.at, now)?;
        // As PostgreSQL keeps it.
        let at = at
            .replace_nanosecond(at.nanosecond() / 1000 * 1000)
            .unwrap_or(at);
        readings.push((at, r.celsius));
    }
    readings.sort_by_key(|r| r.0);
    readings.dedup_by_key(|r| r.0);
    let as_raw = |at: OffsetDateTime, celsius| RawReading {
        at_s: (at.unix_timestamp_nanos() / 1_000) as f64 / 1e6,
        celsius,
    };
    let newest = desk.newest_heat_reading(known.id).await?;
    let mut before = newest.map(|r| as_raw(r.at, r.celsius));
    let rows: Vec<(OffsetDateTime, f64, bool)> = readings
        .into_iter()
        .map(|(at, celsius)| {
            let reading = as_raw(at, celsius);
            let believed = is_believed(before, reading);
            if believed {
                before = Some(reading);
            }
            (at, celsius, believed)
        })
        .collect();
    let kept = desk.keep_heat_readings(known.id, &rows).await?;
    let doubted = rows.iter().filter(|r| !r.2).count() as u64;
    Ok(Json(KeptHeat { kept, doubted }))
}
