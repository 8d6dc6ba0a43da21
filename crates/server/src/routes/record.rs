//! The record of a job, in words, and whether its chain is whole.

use rocket::serde::json::Json;
use rocket::{State, get};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::tape::Unit;
use windrift_store::{ChainCheck, EntryKind, RecordEntry, Store};

use super::Answer;
use super::hinge::RoundView;
use super::jobs::key;
use crate::problem::Problem;
use crate::views::unit_of;

/// Entries on one page of the record.
const PAGE: u64 = 100;

/// An entry of the record, in words.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct EntryView {
    /// Number in the record.
    pub seq: i64,
    /// When, in UTC: `24 Nov 2026 14:05`.
    pub at: String,
    /// Who.
    pub who: String,
    /// What kind.
    pub kind: EntryKind,
    /// The piece it is about.
    pub piece: Option<Uuid>,
    /// What was recorded, in words.
    pub what: String,
    /// Hash of the entry, hexadecimal.
    pub hash: String,
}

/// A page of the record.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecordPage {
    /// Entries, oldest first.
    pub entries: Vec<EntryView>,
    /// Whether more follow: ask again with `after` set to the last `seq`.
    pub more: bool,
}

/// A time in words, UTC.
pub fn time_in_words(at: time::OffsetDateTime) -> String {
    at.format(time::macros::format_description!(
        "[day padding:none] [month repr:short] [year] [hour]:[minute]"
    ))
    .unwrap_or_default()
}

fn in_words(entry: &RecordEntry, unit: Unit) -> String {
    match entry.kind {
        EntryKind::Reading => match serde_json::from_value::<RoundView>(entry.body.clone()) {
            Ok(round) => {
                let end = |e: &super::hinge::EndReading| {
                    let flat = e
                        .letter
                        .as_deref()
                        .map_or("corner".into(), |l| format!("flat of {l}"));
                    format!("{} at the {flat} (wanted {})", e.read.text, e.wanted.text)
                };
                format!(
                    "Read {}, {}. {}",
                    end(&round.front),
                    end(&round.rear),
                    round.sentence
                )
            }
            Err(_) => "A reading.".into(),
        },
        EntryKind::Lock => "Hinge locked with both ends right.".into(),
        EntryKind::WalkRound => super::walk::in_words(&entry.body, unit),
        EntryKind::Marking => super::marking::in_words(&entry.body),
        EntryKind::Laid | EntryKind::Floor => super::work::in_words(&entry.body),
        EntryKind::Plan => format!(
            "Plan {} issued.",
            entry.body.get("number").unwrap_or(&serde_json::Value::Null)
        ),
    }
}

/// Entries in words, with the names of who made them.
pub async fn entries_in_words(
    store: &Store,
    entries: &[RecordEntry],
    unit: Unit,
) -> Result<Vec<EntryView>, Problem> {
    let crew = store.crew().await?;
    Ok(entries
        .iter()
        .map(|e| EntryView {
            seq: e.seq,
            at: time_in_words(e.at),
            who: crew
                .iter()
                .find(|c| c.id == e.crew)
                .map_or_else(|| "somebody".into(), |c| c.name.clone()),
            kind: e.kind,
            piece: e.piece,
            what: in_words(e, unit),
            hash: e.hash.clone(),
        })
        .collect())
}

/// A page of a job's record, oldest first.
#[utoipa::path(get, path = "/api/jobs/{id}/record", params(("id" = Uuid, Path), ("after" = Option<i64>, Query, description = "Entries after this number")), responses((status = 200, body = RecordPage)))]
#[get("/jobs/<id>/record?<after>")]
pub async fn record(store: &State<Store>, id: &str, after: Option<i64>) -> Answer<RecordPage> {
    let job = store.job(key(id)?).await?.job;
    let mut entries = store.record(job.id, after.unwrap_or(0), PAGE + 1).await?;
    let more = entries.len() as u64 > PAGE;
    entries.truncate(PAGE as usize);
    Ok(Json(RecordPage {
        entries: entries_in_words(store, &entries, unit_of(&job.unit)).await?,
        more,
    }))
}

/// Walks the chain of a job's record.
#[utoipa::path(get, path = "/api/jobs/{id}/record/check", params(("id" = Uuid, Path)), responses((status = 200, body = ChainCheck)))]
#[get("/jobs/<id>/record/check")]
pub async fn check_record(store: &State<Store>, id: &str) -> Answer<ChainCheck> {
    Ok(Json(store.check_chain(key(id)?).await?))
}
