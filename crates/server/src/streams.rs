//! What thermometers read on the way from mark to mark, given its place.

use std::collections::{BTreeMap, HashMap};
use std::fmt::Write as _;
use std::sync::{LazyLock, Mutex, PoisonError};
use std::time::{Duration, Instant};

use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;
use windrift_core::floor::heat::stream::{Leg, MarkAt, RawReading, leg};
use windrift_core::floor::heat::{HeatEntry, RawKept};
use windrift_store::entity::heat_reading;
use windrift_store::heat_readings::Window;
use windrift_store::{RecordEntry, hex};

use crate::bays::done_at;
use crate::desk::Desk;
use crate::problem::Problem;

/// Readings of a leg may still come for so long after its second mark.
const STILL_COMES: time::Duration = time::Duration::seconds(60);
/// A leg is looked at again after so long: a thermometer that had no signal sends later.
const KNOWN_FOR: Duration = Duration::from_secs(300);
/// Legs that are kept; above that all are worked out anew.
const MOST_KEPT: usize = 5_000;

/// Legs by the entry of their second mark.
type Known = HashMap<Uuid, (Instant, Option<Leg>)>;
static KNOWN: LazyLock<Mutex<Known>> = LazyLock::new(Mutex::default);

/// A mark of the record.
struct Marked<'e> {
    entry: Uuid,
    piece: Option<Uuid>,
    run: &'e str,
    walk: Uuid,
    device: Uuid,
    at: OffsetDateTime,
    along_mm: f64,
}

fn marks(entries: &[(RecordEntry, HeatEntry)]) -> Vec<Marked<'_>> {
    entries
        .iter()
        .filter_map(|(row, entry)| match entry {
            HeatEntry::Mark {
                run,
                along_mm,
                walk,
                device,
                ..
            } => Some(Marked {
                entry: row.id,
                piece: row.piece,
                run,
                walk: *walk,
                device: *device,
                at: done_at(row),
                along_mm: along_mm.mm(),
            }),
            _ => None,
        })
        .collect()
}

fn seconds(at: OffsetDateTime) -> f64 {
    (at.unix_timestamp_nanos() / 1_000) as f64 / 1e6
}

/// The heat entries of a job with their rows, those that can be read.
pub fn entries_of(rows: Vec<RecordEntry>) -> Vec<(RecordEntry, HeatEntry)> {
    rows.into_iter()
        .filter_map(|row| {
            let entry = serde_json::from_value(row.body.clone()).ok()?;
            Some((row, entry))
        })
        .collect()
}

/// What was read on the way to each mark, by the entry of the mark; nothing for the first one of a walk.
pub async fn legs(
    desk: &Desk,
    entries: &[(RecordEntry, HeatEntry)],
) -> Result<BTreeMap<Uuid, Leg>, Problem> {
    let marks = marks(entries);
    let mut found = BTreeMap::new();
    let mut before: HashMap<(Uuid, Uuid), &Marked<'_>> = HashMap::new();
    let mut open = Vec::new();
    for mark in &marks {
        let Some(from) = before.insert((mark.walk, mark.device), mark) else {
            continue;
        };
        let known = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
        match known.get(&mark.entry) {
            Some((at, leg)) if at.elapsed() < KNOWN_FOR => {
                found.extend(leg.clone().map(|leg| (mark.entry, leg)));
            }
            _ => open.push((from, mark)),
        }
    }
    let windows: Vec<Window> = open
        .iter()
        .map(|(from, to)| Window {
            device: to.device,
            from: from.at,
            to: to.at,
        })
        .collect();
    let read = desk.heat_readings(&windows).await?;
    let now = OffsetDateTime::now_utc();
    for ((from, to), window) in open.iter().zip(&windows) {
        let raw: Vec<RawReading> = read
            .iter()
            .filter(|r| r.believed && window.has(r.device_id, r.at))
            .map(|r| RawReading {
                at_s: seconds(r.at),
                celsius: r.celsius,
            })
            .collect();
        let mark = |m: &Marked<'_>| MarkAt {
            at_s: seconds(m.at),
            along_mm: m.along_mm,
        };
        let leg = leg(mark(from), mark(to), &raw);
        if now - to.at > STILL_COMES {
            let mut known = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
            if known.len() >= MOST_KEPT {
                known.clear();
            }
            known.insert(to.entry, (Instant::now(), leg.clone()));
        }
        found.extend(leg.map(|leg| (to.entry, leg)));
    }
    Ok(found)
}

/// When thermometers read on along a run of a piece.
pub fn windows_of_run(entries: &[(RecordEntry, HeatEntry)], piece: Uuid, run: &str) -> Vec<Window> {
    let mut windows = Vec::new();
    for m in marks(entries) {
        if m.piece == Some(piece) && m.run == run {
            Window::add(&mut windows, m.walk, m.device, m.at);
        }
    }
    windows.into_iter().map(|(_, window)| window).collect()
}

/// Readings as a table that any spreadsheet opens: what is hashed where a run is closed.
pub fn table(readings: &[heat_reading::Model]) -> String {
    let mut text = String::from("device,at,celsius,believed\n");
    for r in readings {
        let at = r.at.format(&Rfc3339).unwrap_or_default();
        let _ = writeln!(text, "{},{at},{},{}", r.device_id, r.celsius, r.believed);
    }
    text
}

/// What is kept of readings in the entry that closes their run; nothing where there are none.
pub fn kept(readings: &[heat_reading::Model]) -> Option<RawKept> {
    (!readings.is_empty()).then(|| RawKept {
        readings: readings.len() as u32,
        sha256: hex(&Sha256::digest(table(readings))),
    })
}

/// The readings that were there when a run was closed: the first ones that came, so many, oldest first.
pub fn as_closed(
    mut readings: Vec<heat_reading::Model>,
    kept: &RawKept,
) -> Vec<heat_reading::Model> {
    readings.sort_by_key(|r| r.seq);
    readings.truncate(kept.readings as usize);
    readings.sort_by_key(|r| (r.at, r.device_id));
    readings
}
