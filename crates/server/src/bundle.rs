//! A job as one file: a zip of JSON, JSON lines, SVG and photos, that another Windrift takes in whole and that anybody can verify.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::heat::HeatEntry;
use windrift_formats::bundle::{BundleError, Named, pack, unpack};
use windrift_formats::svg;
use windrift_store::entity::heat_reading;
use windrift_store::heat_readings::Window;
use windrift_store::hex;
use windrift_store::whole::{HashedEntry, JobFile, JobWhole, TableRows, first_broken};

use crate::desk::Desk;
use crate::problem::Problem;
use crate::streams::{as_closed, table};

/// What the first file of a bundle says it is.
const FORMAT: &str = "windrift job bundle";
/// Its version: a later one is not taken in.
const VERSION: u32 = 1;
const MANIFEST: &str = "bundle.json";
const RECORD: &str = "record.jsonl";
/// How anybody makes the hashes anew with general tools.
const HOW: &str = "HOW-TO-VERIFY.txt";
const HOW_TEXT: &str = "How to verify this bundle with general tools.

1. bundle.json names every other file with its SHA-256. sha256sum FILE must give the same.
2. record.jsonl is the record, one entry a line: seq, hash, entry. The hash of an entry is SHA-256 over, one after the other:
   the 32 bytes of the hash of the entry before (32 zero bytes before the first),
   the 16 bytes of the job's key (\"job\" in bundle.json, its hexadecimal figures without the hyphens),
   the entry's number as 8 bytes, greatest first,
   the text of \"entry\" in UTF-8.
3. A packet that was printed names the newest entry of its day and that one's hash. Where the line of that number in record.jsonl
   has the same hash, nothing before it was changed since.

4. Where the entry that closes a run of heat says \"raw\", readings/ID.csv (ID is that entry's \"id\") holds what thermometers sent while it was
   walked: sha256sum of it must give that entry's \"sha256\".

For entry 1, in a shell with jq and xxd:
   (printf '%064d' 0 | xxd -r -p; jq -r .job bundle.json | tr -d - | xxd -r -p; printf '%016x' 1 | xxd -r -p
    head -1 record.jsonl | jq -j .entry) | sha256sum
";

/// The first file of a bundle.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct JobBundle {
    /// `windrift job bundle`.
    pub format: String,
    /// Version of the format.
    pub version: u32,
    /// When it was made.
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String)]
    pub made: OffsetDateTime,
    /// The shop that it comes from.
    pub shop: String,
    /// The job's key.
    pub job: Uuid,
    /// What the job is called.
    pub title: String,
    /// Entries of the record.
    pub entries: i64,
    /// Hash of the newest entry, hexadecimal; zeros where there is none.
    pub latest: String,
    /// Every other file with its SHA-256, hexadecimal.
    pub files: BTreeMap<String, String>,
    /// Rows of the job, table by table.
    pub tables: Vec<TableRows>,
}

/// What was found of a bundle.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Verified {
    /// What it is, in a sentence.
    pub says: String,
    /// Everything that is wrong with it, in sentences; nothing where it is whole.
    pub wrong: Vec<String>,
}

/// Makes the bundle of a job.
pub async fn write(desk: &Desk, job: Uuid) -> Result<Vec<u8>, Problem> {
    let rows = desk.job(job).await?;
    let whole = desk.job_whole(job).await?;
    let (shop, title) = (desk.shop().await?.name, rows.job.title.clone());
    let ways = desk.ways().await?;
    let mut sides = Vec::new();
    for s in &rows.sides {
        // A side that cannot be planned has no picture; its rows are in the bundle all the same.
        if let Ok(planned) = desk.planned(&rows, s.side.id, &ways).await {
            sides.push(planned);
        }
    }
    desk.compute(move || {
        let mut files: Vec<Named> = vec![(HOW.into(), HOW_TEXT.into())];
        let mut lines = String::new();
        for entry in &whole.record {
            lines.push_str(&serde_json::to_string(entry).unwrap_or_default());
            lines.push('\n');
        }
        files.push((RECORD.into(), lines.into_bytes()));
        for (n, planned) in sides.iter().enumerate() {
            let name = planned.plan.side.side.name(ways.side_words);
            let plain: String = name
                .chars()
                .map(|c| if c.is_ascii_alphanumeric() { c } else { '-' })
                .collect();
            let drawn = svg::side(&planned.plan, &format!("{title} {name}"));
            files.push((format!("sides/{}-{plain}.svg", n + 1), drawn.into_bytes()));
        }
        for (id, text) in readings_of(&whole) {
            files.push((format!("{READINGS}{id}.csv"), text.into_bytes()));
        }
        for file in &whole.files {
            files.push((
                format!("photos/{}.{}", file.photo, file.what),
                file.bytes.clone(),
            ));
        }
        let manifest = JobBundle {
            format: FORMAT.into(),
            version: VERSION,
            made: OffsetDateTime::now_utc(),
            shop,
            job,
            title,
            entries: whole.record.len() as i64,
            latest: whole
                .record
                .last()
                .map_or_else(|| hex(&[0; 32]), |e| e.hash.clone()),
            files: files
                .iter()
                .map(|(name, bytes)| (name.clone(), hex(&Sha256::digest(bytes))))
                .collect(),
            tables: whole.tables,
        };
        let first = serde_json::to_vec_pretty(&manifest).unwrap_or_default();
        files.insert(0, (MANIFEST.into(), first));
        pack(&files)
    })
    .await?
    .map_err(|e| Problem::input("bundle", e.to_string()))
}

/// Where the readings of runs that were closed lie.
const READINGS: &str = "readings/";

/// What an entry says.
#[derive(Deserialize)]
struct Said {
    id: Uuid,
    at: String,
    #[serde(default)]
    read_at: Option<String>,
    kind: String,
    piece: Option<Uuid>,
    body: serde_json::Value,
}

/// Entries of Heat & seal in a record; what cannot be read is left out.
fn heat_of(record: &[HashedEntry]) -> Vec<(Said, HeatEntry)> {
    record
        .iter()
        .filter_map(|e| {
            let said: Said = serde_json::from_str(&e.entry).ok()?;
            let heat = serde_json::from_value(said.body.clone()).ok()?;
            (said.kind == "heat").then_some((said, heat))
        })
        .collect()
}

/// Readings of thermometers by the entry that closed their run, as a table each.
fn readings_of(whole: &JobWhole) -> Vec<(Uuid, String)> {
    let rows: Vec<heat_reading::Model> = whole
        .rows("heat_reading")
        .filter_map(|r| {
            Some(heat_reading::Model {
                device_id: r["device_id"].as_str()?.parse().ok()?,
                at: OffsetDateTime::parse(r["at"].as_str()?, &Rfc3339).ok()?,
                seq: r["seq"].as_i64()?,
                celsius: r["celsius"].as_f64()?,
                believed: r["believed"].as_bool()?,
            })
        })
        .collect();
    let entries = heat_of(&whole.record);
    let mut tables = Vec::new();
    for (n, (said, heat)) in entries.iter().enumerate() {
        let HeatEntry::Closed {
            run,
            raw: Some(raw),
            ..
        } = heat
        else {
            continue;
        };
        let mut windows = Vec::new();
        for (of, entry) in entries.iter().take(n) {
            if let HeatEntry::Mark {
                run: marked,
                walk,
                device,
                ..
            } = entry
                && (marked, of.piece) == (run, said.piece)
                && let Ok(at) =
                    OffsetDateTime::parse(of.read_at.as_ref().unwrap_or(&of.at), &Rfc3339)
            {
                Window::add(&mut windows, *walk, *device, at);
            }
        }
        let own = rows
            .iter()
            .filter(|r| windows.iter().any(|(_, w)| w.has(r.device_id, r.at)));
        tables.push((said.id, table(&as_closed(own.cloned().collect(), raw))));
    }
    tables
}

/// A bundle that was opened: what it says of itself, its record, its files, and what does not fit.
struct Opened {
    manifest: JobBundle,
    record: Vec<HashedEntry>,
    files: Vec<Named>,
    wrong: Vec<String>,
}

fn open(bytes: &[u8]) -> Result<Opened, String> {
    let files = unpack(bytes).map_err(|e: BundleError| e.to_string())?;
    let of = |name: &str| files.iter().find(|(n, _)| n == name).map(|(_, b)| b);
    let first =
        of(MANIFEST).ok_or("This is a zip, but no job bundle: bundle.json is not in it.")?;
    let said: serde_json::Value = serde_json::from_slice(first).map_err(|e| {
        format!("bundle.json was changed or cut off, nothing in it can be read: {e}.")
    })?;
    if said["format"] != FORMAT {
        return Err("This is a zip, but no job bundle.".into());
    }
    if said["version"]
        .as_u64()
        .is_some_and(|v| v > u64::from(VERSION))
    {
        return Err(format!(
            "This bundle was written by a later Windrift (version {} of the format, this one reads {VERSION}). Bring Windrift up to date first.",
            said["version"]
        ));
    }
    let manifest: JobBundle =
        serde_json::from_value(said).map_err(|e| format!("bundle.json was changed: {e}."))?;
    let mut wrong = Vec::new();
    let mut record: Vec<HashedEntry> = Vec::new();
    let text = of(RECORD)
        .map(|b| String::from_utf8_lossy(b).into_owned())
        .unwrap_or_default();
    for (n, line) in text.lines().enumerate() {
        match serde_json::from_str(line) {
            Ok(entry) => record.push(entry),
            Err(_) => {
                wrong.push(format!(
                    "Entry {} of the record was changed: it cannot be read any more.",
                    n + 1
                ));
                break;
            }
        }
    }
    if wrong.is_empty()
        && let Some(n) = first_broken(manifest.job, &record)
    {
        wrong.push(format!("Entry {n} of the record was changed, or stands in another\u{2019}s place: its hash does not fit."));
    }
    let latest = record
        .last()
        .map_or_else(|| hex(&[0; 32]), |e| e.hash.clone());
    if wrong.is_empty() && (record.len() as i64, &latest) != (manifest.entries, &manifest.latest) {
        wrong.push(format!(
            "The record ends with entry {}; it ended with entry {} when the bundle was made.",
            record.len(),
            manifest.entries
        ));
    }
    for (name, hash) in &manifest.files {
        match of(name) {
            None => wrong.push(format!("{name} is missing.")),
            Some(bytes) if hex(&Sha256::digest(bytes)) != *hash => {
                wrong.push(format!("{name} was changed."))
            }
            Some(_) => {}
        }
    }
    for (said, heat) in heat_of(&record) {
        if let HeatEntry::Closed {
            run,
            raw: Some(raw),
            ..
        } = heat
        {
            let name = format!("{READINGS}{}.csv", said.id);
            match of(&name) {
                Some(bytes) if hex(&Sha256::digest(bytes)) == raw.sha256 => {}
                Some(_) => wrong.push(format!(
                    "{name} is not what the thermometer sent when {run} was closed: the record says another SHA-256."
                )),
                None => wrong.push(format!("{name} is missing: what the thermometer sent when {run} was closed.")),
            }
        }
    }
    for (name, _) in &files {
        if name != MANIFEST && !manifest.files.contains_key(name) {
            wrong.push(format!("{name} was not in the bundle when it was made."));
        }
    }
    Ok(Opened {
        manifest,
        record,
        files,
        wrong,
    })
}

/// Verifies a bundle without a database.
///
/// Errors: what is no bundle at all, in a sentence.
pub fn verify(bytes: &[u8]) -> Result<Verified, String> {
    let opened = open(bytes)?;
    let m = &opened.manifest;
    Ok(Verified {
        says: if opened.wrong.is_empty() {
            format!(
                "Whole: \u{201c}{}\u{201d} of {}, {} entries and {} files. The newest entry is {}, and its hash begins {}: hold it against a printed packet, which somebody who changed everything could not change.",
                m.title,
                m.shop,
                m.entries,
                m.files.len(),
                m.entries,
                &m.latest.get(..12).unwrap_or_default()
            )
        } else {
            format!("Not whole: \u{201c}{}\u{201d} of {}.", m.title, m.shop)
        },
        wrong: opened.wrong,
    })
}

/// Takes a bundle in, whole or not at all; answers the job's key.
pub async fn take_in(desk: &Desk, bytes: Vec<u8>) -> Result<(Uuid, String), Problem> {
    let wrong = |says: String| Problem::input("bundle", says);
    let opened = desk.compute(move || open(&bytes)).await?.map_err(wrong)?;
    if let Some(first) = opened.wrong.first() {
        return Err(wrong(format!("It is not taken in: {first}")));
    }
    let mut files = Vec::new();
    for (name, bytes) in opened.files {
        let Some((photo, what)) = name.strip_prefix("photos/").and_then(|n| n.split_once('.'))
        else {
            continue;
        };
        let what = ["jpg", "small.jpg", "art"].into_iter().find(|w| *w == what);
        if let (Ok(photo), Some(what)) = (photo.parse(), what) {
            files.push(JobFile { photo, what, bytes });
        }
    }
    let whole = JobWhole {
        shop: opened.manifest.shop,
        tables: opened.manifest.tables,
        record: opened.record,
        files,
    };
    match desk.take_in(&whole).await {
        Ok(job) => Ok((job, opened.manifest.title)),
        Err(windrift_store::StoreError::IdTaken) => Err(wrong(format!(
            "\u{201c}{}\u{201d} is here already, or a part of it is. A bundle is taken in once.",
            opened.manifest.title
        ))),
        Err(e) => Err(e.into()),
    }
}
