//! The record of a job, in words, and whether its chain is whole.

use rocket::get;
use rocket::serde::json::Json;
use serde::Serialize;
use utoipa::ToSchema;
use windrift_store::{Broken, ChainCheck};

use crate::desk::Desk;
use crate::entries::{EntryView, entries_in_words};
use crate::keys::key;
use crate::planned::unit_of;
use crate::problem::Problem;
use crate::routes::Answer;

/// Entries on one page of the record.
const PAGE: u64 = 100;

/// A page of the record.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecordPage {
    /// Entries, oldest first.
    pub entries: Vec<EntryView>,
    /// Whether more follow: ask again with `after` set to the last `seq`.
    pub more: bool,
    /// The time zone whose clock the hours are told by.
    pub zone: &'static str,
}

/// A page of a job's record, oldest first.
#[utoipa::path(get, path = "/api/jobs/{id}/record", params(("id" = Uuid, Path), ("after" = Option<i64>, Query, description = "Entries after this number")), responses((status = 200, body = RecordPage)))]
#[get("/jobs/<id>/record?<after>")]
pub async fn record(desk: &Desk, id: &str, after: Option<i64>) -> Answer<RecordPage> {
    let job = desk.job(key(id)?).await?.job;
    let mut entries = desk.record(job.id, after.unwrap_or(0), PAGE + 1).await?;
    let more = entries.len() as u64 > PAGE;
    entries.truncate(PAGE as usize);
    Ok(Json(RecordPage {
        entries: entries_in_words(desk, &entries, unit_of(&job.unit)?).await?,
        more,
        zone: desk.ways().await?.zone.name(),
    }))
}

/// What a check of a record says.
#[derive(Debug, Serialize, ToSchema)]
pub struct RecordCheck {
    /// What was found walking the chain.
    #[serde(flatten)]
    pub chain: ChainCheck,
    /// Whether the entry that a paper names has the hash that it names; nothing where none was asked about.
    pub as_on_paper: Option<bool>,
    /// The same in a sentence.
    pub sentence: String,
}

/// Walks the chain of a job's record to the end that its head names. A printed packet names its newest entry and that entry's hash:
/// asked with both, it says whether the record still has it, which a chain that was rewritten whole has not.
#[utoipa::path(get, path = "/api/jobs/{id}/record/check", params(("id" = Uuid, Path), ("entry" = Option<i64>, Query, description = "Number of the entry that a paper names"), ("hash" = Option<String>, Query, description = "Its hash there, or how it begins")), responses((status = 200, body = RecordCheck), (status = 404, body = Problem)))]
#[get("/jobs/<id>/record/check?<entry>&<hash>")]
pub async fn check_record(
    desk: &Desk,
    id: &str,
    entry: Option<i64>,
    hash: Option<&str>,
) -> Answer<RecordCheck> {
    let job = key(id)?;
    let chain = desk.check_chain(job).await?;
    let as_on_paper = match (entry, hash) {
        (Some(entry), Some(hash)) => Some(
            desk.has_hash(job, entry, &hash.trim().to_lowercase())
                .await?,
        ),
        (None, None) => None,
        // One without the other, or a number that is none, is on no paper.
        _ => Some(false),
    };
    let entries = match chain.entries {
        1 => "1 entry".to_string(),
        many => format!("{many} entries"),
    };
    let sentence = match (&chain.why, as_on_paper) {
        (Some(why), _) => format!(
            "The record is not whole: at entry {} {}.",
            chain.broken_at.unwrap_or_default(),
            match why {
                Broken::Missing => "something is missing or out of its place",
                Broken::Changed => "what was written was changed afterwards",
                Broken::Column => "who, when or what it is about was changed afterwards",
                Broken::End => "the record ends elsewhere than its head says: entries were cut off",
            }
        ),
        (None, Some(false)) => {
            "The record hangs together, but not with this paper: it has another entry in that place, or its number or hash was copied wrongly.".into()
        }
        (None, Some(true)) => format!("{entries}, whole, and the paper's is among them."),
        (None, None) => format!("{entries}, whole: each hangs on the one before."),
    };
    Ok(Json(RecordCheck {
        chain,
        as_on_paper,
        sentence,
    }))
}
