//! An entry of Heat & seal in words.

use serde_json::Value;
use windrift_core::floor::heat::HeatEntry;
use windrift_core::ground::degrees::told;
use windrift_core::ground::tape::{Unit, print};

use crate::entries::unread::{cannot_be_read, sentence};

/// An entry in words, for the record.
pub fn in_words(body: &Value, unit: Unit) -> String {
    match serde_json::from_value::<HeatEntry>(body.clone()) {
        Ok(HeatEntry::Read {
            run,
            along_mm,
            celsius,
            pace_mm_s,
            ..
        }) => format!(
            "Behind the heat, {run}, {} along: {}{}.",
            print(along_mm.mm(), unit).text,
            told(celsius, unit),
            pace_mm_s.map_or(String::new(), |v| format!(
                ", walked at {}",
                crate::paces::each(v, unit)
            ))
        ),
        Ok(HeatEntry::Mark { run, along_mm, .. }) => format!(
            "A thermometer reads on: {run}, the heat at {}.",
            print(along_mm.mm(), unit).text
        ),
        Ok(HeatEntry::Closed {
            run, reason, raw, ..
        }) => {
            let raw = raw.map_or(String::new(), |raw| {
                format!(
                    " {} readings of a thermometer, SHA-256 {}\u{2026}.",
                    raw.readings,
                    raw.sha256.get(..12).unwrap_or_default()
                )
            });
            let said = match reason {
                None => format!("Heated: {run}, all of it reached."),
                Some(why) => sentence(format!(
                    "Heat closed: {run}, not all of it known to have reached. {}",
                    why.trim()
                )),
            };
            said + &raw
        }
        Ok(HeatEntry::Sealed { run }) => format!("Sealed: {run}."),
        Err(_) => cannot_be_read(body),
    }
}
