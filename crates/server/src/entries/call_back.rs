//! What came back, in words.

use serde_json::Value;
use windrift_core::floor::call_back::CallBack;

use crate::entries::unread::{cannot_be_read, sentence};

/// An entry in words, for the record.
pub fn in_words(body: &Value) -> String {
    serde_json::from_value(body.clone()).map_or_else(|_| cannot_be_read(body), |c| said(&c))
}

/// What came back, where, why, and what is known of that spot.
pub fn said(c: &CallBack) -> String {
    let mut words = format!(
        "Came back: {}, {}; {}.",
        c.seen.name(),
        c.place.trim(),
        c.cause.name()
    );
    if let Some(run) = &c.run {
        words.push_str(&format!(" At the run of heat \u{201c}{run}\u{201d}."));
    }
    if let Some(days) = c.days {
        words.push_str(&format!(" {days} days after it was laid."));
    }
    if !c.film.is_empty() {
        words.push_str(&format!(" Film: {}.", c.film));
    }
    words.push_str(match c.reached {
        Some(true) => " It was known to have reached its temperature.",
        Some(false) => " It was closed without all of it known to have reached.",
        None => " Nobody measured it behind the heat.",
    });
    if !c.lots.is_empty() {
        words.push_str(&format!(" Lot {}.", c.lots.join(", ")));
    }
    if !c.note.trim().is_empty() {
        words.push_str(&format!(" {}", sentence(c.note.trim().to_owned())));
    }
    words
}
