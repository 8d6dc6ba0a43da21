//! The bay that a job's vehicle stands in, as it is now: what is wet there, whichever job it belongs to, and its air.

use std::collections::BTreeMap;

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::floor::bay::{BayEntry, FIRST_BAY};
use windrift_core::floor::drift::{Beside, beside};
use windrift_core::floor::prep::gate::AirRead;
use windrift_core::floor::wet::{WetPlace, heat_locked};
use windrift_store::{EntryKind, RecordEntry};

use crate::desk::Desk;
use crate::problem::Problem;

/// Nothing stays wet for longer, and no older air is looked at here.
const LOOK_BACK: Duration = Duration::hours(48);
/// Of the last minutes every reading is looked at: whether a sensor jumps.
const NEWEST: Duration = Duration::minutes(5);
/// Most entries of all bays in that time.
const MOST: u64 = 4_000;
/// A sensor that has been silent for so long is not believed any more.
pub const SILENT: Duration = Duration::minutes(5);

/// When something was read or done: on the floor where that was before it was written.
pub fn done_at(entry: &RecordEntry) -> OffsetDateTime {
    entry.read_at.unwrap_or(entry.at)
}

/// A sensor of the bay as it is now.
pub struct Sensor {
    pub id: Uuid,
    pub name: String,
    /// Its newest reading.
    pub last: Option<OffsetDateTime>,
    /// Why it is not believed, where it is not.
    pub doubt: Option<String>,
}

/// A bay as it is now.
pub struct Bay {
    /// What it is called.
    pub name: String,
    /// What is wet or smoulders in it.
    pub wet: Vec<WetPlace>,
    /// Its air, oldest first: typed and by sensors that are believed.
    pub air: Vec<AirRead>,
    /// What sensors with a probe read of the panel, oldest first.
    pub probe: Vec<(OffsetDateTime, f64)>,
    /// Its sensors.
    pub sensors: Vec<Sensor>,
    /// Names of all bays that anybody has named, this one first.
    pub others: Vec<String>,
}

impl Bay {
    /// The bay of a job.
    pub async fn of(desk: &Desk, job: Uuid, now: OffsetDateTime) -> Result<Bay, Problem> {
        let own = desk.record_of_kind(job, EntryKind::Bay, MOST).await?;
        let read = |e: &RecordEntry| serde_json::from_value::<BayEntry>(e.body.clone()).ok();
        let stands_in = |entries: &mut dyn Iterator<Item = BayEntry>| {
            entries
                .filter_map(|e| match e {
                    BayEntry::StandsIn { bay } => Some(bay),
                    _ => None,
                })
                .last()
        };
        let name = stands_in(&mut own.iter().filter_map(read)).unwrap_or(FIRST_BAY.into());
        let mut bay = Bay {
            wet: Vec::new(),
            air: Vec::new(),
            probe: Vec::new(),
            sensors: Vec::new(),
            others: vec![name.clone()],
            name,
        };
        let all = desk
            .record_since(EntryKind::Bay, now - LOOK_BACK, MOST)
            .await?;
        for (of, entry) in &all {
            let at = done_at(entry);
            match read(entry) {
                Some(BayEntry::StandsIn { bay: name }) => bay.others.push(name),
                Some(BayEntry::Wet {
                    wet,
                    place,
                    bay: name,
                }) if name == bay.name => {
                    let place = match (*of == job, place.trim()) {
                        (true, _) => place,
                        (false, "") => "another job".into(),
                        (false, there) => format!("{there} on another job"),
                    };
                    let place = WetPlace {
                        wet,
                        place,
                        since: at,
                    };
                    if place.until() > now {
                        bay.wet.push(place);
                    }
                }
                Some(BayEntry::Air {
                    celsius,
                    humidity,
                    bay: name,
                }) if name == bay.name => bay.air.push(AirRead {
                    celsius,
                    humidity,
                    at,
                }),
                _ => {}
            }
        }
        bay.read_sensors(desk, now).await?;
        bay.air.sort_by_key(|a| a.at);
        bay.others.push(FIRST_BAY.into());
        let first = bay.others.remove(0);
        bay.others.sort();
        bay.others.dedup();
        bay.others.retain(|o| *o != first);
        bay.others.insert(0, first);
        Ok(bay)
    }

    async fn read_sensors(&mut self, desk: &Desk, now: OffsetDateTime) -> Result<(), Problem> {
        let devices = desk.devices().await?;
        self.others.extend(devices.iter().map(|d| d.bay.clone()));
        let here: Vec<_> = devices
            .into_iter()
            .filter(|d| d.bay == self.name && !d.withdrawn && d.reads == "air")
            .collect();
        if here.is_empty() {
            return Ok(());
        }
        let by_hand = self.air.clone();
        let mut readings: BTreeMap<Uuid, Vec<_>> = BTreeMap::new();
        for d in &here {
            let own = desk
                .readings_by_minute(d.id, now - LOOK_BACK, now - NEWEST)
                .await?;
            readings.insert(d.id, own);
        }
        let of = |id: &Uuid| readings.get(id).map_or(&[][..], Vec::as_slice);
        let air_of = |id: Uuid| -> Vec<AirRead> {
            let own = of(&id).iter().map(|r| AirRead {
                celsius: r.celsius,
                humidity: r.humidity,
                at: r.at,
            });
            own.collect()
        };
        let read: Vec<(Uuid, String, Vec<AirRead>)> = (here.iter())
            .map(|d| (d.id, d.name.clone(), air_of(d.id)))
            .collect();
        for device in here {
            let own = of(&device.id);
            let last = own.last().map(|r| r.at);
            let mut doubt = match last {
                None => Some("It has not read anything yet.".to_owned()),
                Some(at) if now - at > SILENT => Some(format!(
                    "Silent for {} min: what it read then says nothing of now.",
                    (now - at).whole_minutes()
                )),
                Some(_) => None,
            };
            // Air does not jump: a sensor that says so is kept, marked, and not believed.
            let newest = own.iter().rev().take(6);
            let (low, high) = newest.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), r| {
                (l.min(r.celsius), h.max(r.celsius))
            });
            if doubt.is_none() && high - low > JUMP_CELSIUS {
                doubt = Some(format!(
                    "It jumps by {:.0} \u{b0}C within a minute: it is not believed. Look at the sensor.",
                    high - low
                ));
            }
            if doubt.is_none() {
                doubt = drifts(device.id, &read, &by_hand, now);
            }
            if doubt.is_none() {
                // One a minute is enough for what is foretold.
                let mut before: Option<OffsetDateTime> = None;
                for r in own {
                    if before.is_some_and(|b| r.at - b < Duration::seconds(55))
                        && Some(r.at) != last
                    {
                        continue;
                    }
                    before = Some(r.at);
                    self.air.push(AirRead {
                        celsius: r.celsius,
                        humidity: r.humidity,
                        at: r.at,
                    });
                    self.probe.extend(r.surface.map(|s| (r.at, s)));
                }
            }
            self.sensors.push(Sensor {
                id: device.id,
                name: device.name,
                last,
                doubt,
            });
        }
        Ok(())
    }

    /// Why no heat goes on in this bay now.
    pub fn heat_locked(&self, now: OffsetDateTime) -> Option<&WetPlace> {
        heat_locked(&self.wet, now)
    }

    /// The newest air.
    pub fn newest_air(&self) -> Option<AirRead> {
        self.air.last().copied()
    }
}

/// Why a sensor that goes on sending is not believed: somebody read the same air otherwise, or another sensor does and nobody read it.
fn drifts(
    device: Uuid,
    read: &[(Uuid, String, Vec<AirRead>)],
    by_hand: &[AirRead],
    now: OffsetDateTime,
) -> Option<String> {
    let (.., own) = read.iter().find(|(id, ..)| *id == device)?;
    let off = |found: &Beside, beside: &str| {
        format!(
            "It reads {:.1} \u{b0}C and {:.0} points of humidity {} than {beside}: one of both is wrong. Read the air by hand; what the sensor says counts again once both agree.",
            found.celsius.abs(),
            found.humidity.abs(),
            match (found.celsius > 0.0, found.humidity > 0.0) {
                (true, true) => "more",
                (false, false) => "less",
                _ => "otherwise",
            },
        )
    };
    if let Some(found) = beside(own, by_hand, now) {
        return found.is_off().then(|| off(&found, "was read by hand"));
    }
    (read.iter())
        .filter(|(id, ..)| *id != device)
        .filter_map(|(_, name, air)| {
            // The newest of the other one, not all of a day.
            let newest = air.last()?;
            let found = beside(own, std::slice::from_ref(newest), now)?;
            found.is_off().then(|| off(&found, &format!("{name} does")))
        })
        .next()
}

/// Air of a hall does not change by more within six readings, °C (ours).
const JUMP_CELSIUS: f64 = 12.0;
