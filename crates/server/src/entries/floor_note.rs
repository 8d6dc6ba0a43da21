//! What the floor records beside readings: that a piece lies, waits, troubles, rivets.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use windrift_core::floor::lay_down::seen::Seen;
use windrift_store::EntryKind;

/// What is recorded on the floor about a piece.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum FloorNote {
    /// The piece was laid down.
    Laid {
        /// Strokes that were made.
        strokes: u32,
    },
    /// A wait that has ended.
    Waited {
        /// Minutes.
        minutes: u32,
        /// For what.
        reason: String,
    },
    /// Something went wrong.
    Trouble {
        /// What was seen.
        seen: Seen,
        /// Where, as it was typed.
        place: String,
        /// Whether the film had been heated.
        heated: bool,
        /// What came of it.
        outcome: String,
    },
    /// The upright edge of a first panel was checked.
    UprightEdge {
        /// What it is out by over its height, as it was typed.
        out_by: String,
    },
}

impl FloorNote {
    /// The kind of its entry in the record.
    pub fn kind(&self) -> EntryKind {
        match self {
            FloorNote::Laid { .. } => EntryKind::Laid,
            _ => EntryKind::Floor,
        }
    }
}

/// An entry in words, for the record.
pub fn in_words(body: &Value) -> String {
    match serde_json::from_value::<FloorNote>(body.clone()) {
        Ok(FloorNote::Laid { strokes }) => {
            let told = body["against"].as_array().into_iter().flatten();
            let against: Vec<&str> = told.filter_map(Value::as_str).collect();
            let against = match against.is_empty() {
                true => String::new(),
                false => format!(" Against what was said: {}", against.join(" ")),
            };
            format!("Laid down with {strokes} strokes.{against}")
        }
        Ok(FloorNote::Waited { minutes, reason }) => format!(
            "Waited {minutes} minutes: {}.",
            reason.trim_end_matches('.')
        ),
        Ok(FloorNote::Trouble {
            seen,
            place,
            heated,
            outcome,
        }) => {
            let heat = if heated { ", heated before" } else { "" };
            let outcome = if outcome.trim().is_empty() {
                String::new()
            } else {
                format!(" {}.", outcome.trim().trim_end_matches('.'))
            };
            format!(
                "Trouble: {} at {}{heat}.{outcome}",
                seen.name(),
                place.trim().trim_end_matches('.')
            )
        }
        Ok(FloorNote::UprightEdge { out_by }) => {
            format!("Upright edge of the panel checked: out by {out_by}.")
        }
        Err(_) => crate::entries::unread::cannot_be_read(body),
    }
}
