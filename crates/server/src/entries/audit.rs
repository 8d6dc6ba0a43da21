//! A recorded audit in words.

use serde_json::Value;
use windrift_core::marking::Audited;

use crate::views::Audits;

/// An entry in words, for the record.
pub fn in_words(body: &Value) -> String {
    let count = |audited: Audited| {
        let word = serde_json::to_value(audited).unwrap_or_default();
        body["audit"]
            .as_array()
            .map_or(0, |all| all.iter().filter(|f| f["audited"] == word).count())
    };
    let what = match serde_json::from_value::<Audits>(body["audits"].clone()) {
        Ok(Audits::ReadBack) => "as read back",
        Ok(Audits::Own) => "as changed by hand",
        _ => "as laid out",
    };
    let strips = body["strips"].as_array().map_or(0, Vec::len);
    let mut text = format!(
        "Marking of the {} audited {what}: {strips} strips, {} clauses kept",
        body["called"].as_str().unwrap_or("side"),
        count(Audited::Pass)
    );
    for (audited, word) in [
        (Audited::Fail, "not kept"),
        (Audited::Reasoned, "as close as practicable"),
        (Audited::ReasonNeeded, "waiting for a reason"),
        (Audited::FigureUncertain, "uncertain"),
    ] {
        let n = count(audited);
        if n > 0 {
            text.push_str(&format!(", {n} {word}"));
        }
    }
    text.push_str(". It is no approval.");
    text
}
