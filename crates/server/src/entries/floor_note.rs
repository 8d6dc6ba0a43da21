//! What the floor records beside readings: that a piece lies, waits, troubles, rivets.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use windrift_core::floor::hang::upright::TrueTo;
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
        /// Why it is recorded although nobody locked its hinge; nothing where it was locked.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        why: Option<String>,
    },
    /// A wait that has ended.
    Waited {
        /// Minutes.
        minutes: u32,
        /// For what.
        reason: String,
        /// Why it was shorter than the film asks; nothing where it was not.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        why: Option<String>,
    },
    /// A group of rivet heads was worked down.
    Rivets {
        /// The group, from 1.
        group: u32,
        /// All groups of the piece.
        groups: u32,
        /// Heads in it.
        heads: u32,
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
    /// It was looked at once more before it leaves, and is right there.
    Looked {
        /// Where: a name of the final look's list.
        look: String,
    },
    /// The upright edge of a first panel was checked.
    UprightEdge {
        /// What it is out by over its height, as it was typed.
        out_by: String,
        /// What the panel was hung by, where its top and its edge contradicted each other.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        settled: Option<TrueTo>,
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
        Ok(FloorNote::Laid { strokes, why }) => {
            let told = body["against"].as_array().into_iter().flatten();
            let against: Vec<&str> = told.filter_map(Value::as_str).collect();
            let against = match against.is_empty() {
                true => String::new(),
                false => format!(" Against what was said: {}", against.join(" ")),
            };
            let why = because(" Its hinge was not locked", why);
            format!("Laid down with {strokes} strokes.{why}{against}")
        }
        Ok(FloorNote::Waited {
            minutes,
            reason,
            why,
        }) => format!(
            "Waited {minutes} minutes: {}.{}",
            reason.trim_end_matches('.'),
            because(" Shorter than the film asks", why)
        ),
        Ok(FloorNote::Rivets {
            group,
            groups,
            heads,
        }) => format!("Rivets worked down: group {group} of {groups}, {heads} heads."),
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
        Ok(FloorNote::Looked { look }) => format!("Final look: {look}, right."),
        Ok(FloorNote::UprightEdge { out_by, settled }) => {
            let settled = settled.map_or_else(String::new, |to| format!(" Hung {}.", to.name()));
            format!("Upright edge of the panel checked: out by {out_by}.{settled}")
        }
        Err(_) => crate::entries::unread::cannot_be_read(body),
    }
}

fn because(what: &str, why: Option<String>) -> String {
    why.map_or_else(String::new, |why| {
        format!("{what}: {}.", why.trim().trim_end_matches('.'))
    })
}
