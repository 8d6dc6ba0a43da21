//! A mail to the owner, in words.

use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::entries::unread::cannot_be_read;

/// What went to the owner.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct Mailed {
    /// To whom.
    pub to: String,
    /// What the owner was told: each date with what it is about.
    pub told: Vec<String>,
}

/// An entry in words, for the record.
pub fn in_words(body: &Value) -> String {
    serde_json::from_value::<Mailed>(body.clone()).map_or_else(
        |_| cannot_be_read(body),
        |m| format!("Mailed to {}: {}.", m.to, m.told.join("; ")),
    )
}
