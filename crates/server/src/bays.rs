//! The bay that a job's vehicle stands in, as it is now: what is wet there, whichever job it belongs to, and its air.

use std::collections::BTreeMap;

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::floor::bay::{BayEntry, FIRST_BAY};
use windrift_core::floor::drift::{Beside, beside};
use windrift_core::floor::prep::gate::AirRead;
use windrift_core::floor::prep::open_air::WeatherRead;
use windrift_core::floor::wet::{WetPlace, heat_locked};
use windrift_core::ground::degrees::apart;
use windrift_core::ground::tape::Unit;
use windrift_store::entity::device_reading;
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
    pub doubt: Option<Doubt>,
}

/// Why a sensor is not believed.
pub enum Doubt {
    NeverRead,
    /// For so many minutes.
    Silent(i64),
    /// By so much, °C.
    Jumps(f64),
    /// Beside another reading of the same air, and which one: `was read by hand`.
    Off(Beside, String),
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
    /// Whether it is no bay, but a place in the open.
    pub open_air: bool,
    /// Since when the vehicle stands there; nothing where nobody has said.
    pub since: Option<OffsetDateTime>,
    /// Wind and rain there, as somebody saw them last.
    pub weather: Option<WeatherRead>,
    /// All other bays and places that anybody has named, with whether they lie in the open.
    pub others: BTreeMap<String, bool>,
}

impl Bay {
    /// The bay of a job.
    pub async fn of(desk: &Desk, job: Uuid, now: OffsetDateTime) -> Result<Bay, Problem> {
        let own = desk.record_of_kind(job, EntryKind::Bay, MOST).await?;
        let read = |e: &RecordEntry| serde_json::from_value::<BayEntry>(e.body.clone()).ok();
        let (mut name, mut open_air, mut since) = (FIRST_BAY.to_owned(), false, None);
        for e in &own {
            if let Some(BayEntry::StandsIn {
                bay,
                open_air: open,
            }) = read(e)
                && (&bay, open) != (&name, open_air)
            {
                (name, open_air, since) = (bay, open, Some(done_at(e)));
            }
        }
        let mut bay = Bay {
            wet: Vec::new(),
            air: Vec::new(),
            probe: Vec::new(),
            sensors: Vec::new(),
            others: BTreeMap::from([(FIRST_BAY.into(), false)]),
            weather: None,
            open_air,
            since,
            name,
        };
        let all = desk
            .record_since(EntryKind::Bay, now - LOOK_BACK, MOST)
            .await?;
        for (of, entry) in &all {
            let at = done_at(entry);
            match read(entry) {
                Some(BayEntry::StandsIn {
                    bay: name,
                    open_air,
                }) => {
                    bay.others.insert(name, open_air);
                }
                Some(BayEntry::Weather {
                    wind,
                    rain,
                    bay: name,
                }) if name == bay.name => bay.weather = Some(WeatherRead { wind, rain, at }),
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
        bay.others.remove(&bay.name);
        Ok(bay)
    }

    async fn read_sensors(&mut self, desk: &Desk, now: OffsetDateTime) -> Result<(), Problem> {
        let devices = desk.devices().await?;
        for d in &devices {
            self.others.entry(d.bay.clone()).or_default();
        }
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
            let doubt = match last {
                None => Some(Doubt::NeverRead),
                Some(at) if now - at > SILENT => Some(Doubt::Silent((now - at).whole_minutes())),
                Some(_) => jumps(own).or_else(|| drifts(device.id, &read, &by_hand, now)),
            };
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

impl Doubt {
    /// In a sentence, degrees as the shop of that tape tells them.
    pub fn says(&self, unit: Unit) -> String {
        match self {
            Doubt::NeverRead => "It has not read anything yet.".into(),
            Doubt::Silent(minutes) => {
                format!("Silent for {minutes} min: what it read then says nothing of now.")
            }
            Doubt::Jumps(celsius) => format!(
                "It jumps by {} within a minute: it is not believed. Look at the sensor.",
                apart(*celsius, unit)
            ),
            Doubt::Off(found, other) => format!(
                "It reads {} than {other}: one of both is wrong. Read the air by hand; what the sensor says counts again once both agree.",
                found.in_words(unit)
            ),
        }
    }
}

/// Air does not jump: a sensor that says so is kept, marked, and not believed.
fn jumps(own: &[device_reading::Model]) -> Option<Doubt> {
    let newest = own.iter().rev().take(6);
    let (low, high) = newest.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), r| {
        (l.min(r.celsius), h.max(r.celsius))
    });
    (high - low > JUMP_CELSIUS).then_some(Doubt::Jumps(high - low))
}

/// Why a sensor that goes on sending is not believed: somebody read the same air otherwise, or another sensor does and nobody read it.
fn drifts(
    device: Uuid,
    read: &[(Uuid, String, Vec<AirRead>)],
    by_hand: &[AirRead],
    now: OffsetDateTime,
) -> Option<Doubt> {
    let (.., own) = read.iter().find(|(id, ..)| *id == device)?;
    let off = |found: Beside, other: String| found.is_off().then_some(Doubt::Off(found, other));
    if let Some(found) = beside(own, by_hand, now) {
        return off(found, "was read by hand".into());
    }
    let others = read.iter().filter(|(id, ..)| *id != device);
    others
        .filter_map(|(_, name, air)| {
            // The newest of the other one, not all of a day.
            let newest = air.last()?;
            off(
                beside(own, std::slice::from_ref(newest), now)?,
                format!("{name} does"),
            )
        })
        .next()
}

/// Air of a hall does not change by more within six readings, °C (ours).
const JUMP_CELSIUS: f64 = 12.0;
