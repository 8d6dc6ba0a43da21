//! Entries of the record in words.

pub mod audit;
pub mod call_back;
pub mod cut;
pub mod floor_note;
pub mod heat;
pub mod made;
pub mod mailed;
pub mod prep;
pub mod round;
pub mod strip;
pub mod unread;
pub mod walk;

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;
use windrift_store::{EntryKind, RecordEntry};

pub use call_back::said as call_back_in_words;

use crate::desk::Desk;
use crate::entries::round::RoundView;
use crate::entries::unread::cannot_be_read;
use crate::problem::Problem;

/// An entry of the record, in words.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct EntryView {
    /// Number in the record.
    pub seq: i64,
    /// When it was written, by the shop's clock: `24 Nov 2026 14:05`. Where it was read some time before, that stands with it.
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

fn in_words(entry: &RecordEntry, unit: Unit, zone: Zone) -> String {
    match entry.kind {
        EntryKind::Unreadable => cannot_be_read(&entry.body),
        EntryKind::Reading => match serde_json::from_value::<RoundView>(entry.body.clone()) {
            Ok(round) => {
                let end = |e: &round::EndReading| {
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
            Err(_) => cannot_be_read(&entry.body),
        },
        EntryKind::Lock => "Hinge locked with both ends right.".into(),
        EntryKind::WalkRound => walk::in_words(&entry.body, unit),
        EntryKind::Marking => audit::in_words(&entry.body),
        EntryKind::Cut => cut::in_words(&entry.body, unit),
        EntryKind::Strip => strip::in_words(&entry.body, unit),
        EntryKind::Prep => prep::in_words(&entry.body, unit),
        EntryKind::Bay => prep::bay_in_words(&entry.body, unit),
        EntryKind::Heat => heat::in_words(&entry.body, unit),
        EntryKind::CallBack => call_back::in_words(&entry.body),
        EntryKind::Made => made::in_words(&entry.body, zone),
        EntryKind::Mailed => mailed::in_words(&entry.body),
        EntryKind::Laid | EntryKind::Floor => floor_note::in_words(&entry.body),
        EntryKind::Plan => format!(
            "Plan {} issued.",
            entry.body.get("number").unwrap_or(&serde_json::Value::Null)
        ),
    }
}

/// Longest between reading and writing that is not worth telling, in seconds.
const AT_ONCE: i64 = 90;

fn times(entry: &RecordEntry, zone: Zone) -> String {
    let written = zone.in_words(entry.at);
    match entry.read_at {
        Some(read) if (entry.at - read).whole_seconds() > AT_ONCE => {
            format!("{written} (read {})", zone.in_words(read))
        }
        _ => written,
    }
}

/// Entries in words, with the names of who made them.
pub async fn entries_in_words(
    desk: &Desk,
    entries: &[RecordEntry],
    unit: Unit,
) -> Result<Vec<EntryView>, Problem> {
    let crew = desk.crew().await?;
    let zone = desk.ways().await?.zone;
    Ok(entries
        .iter()
        .map(|e| EntryView {
            seq: e.seq,
            at: times(e, zone),
            who: crew
                .iter()
                .find(|c| c.id == e.crew)
                .map_or_else(|| "somebody".into(), |c| c.name.clone()),
            kind: e.kind,
            piece: e.piece,
            what: in_words(e, unit, zone),
            hash: e.hash.clone(),
        })
        .collect())
}
