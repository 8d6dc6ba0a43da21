//! An entry of a walk round in words.

use serde_json::Value;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::vehicle::walk_round::WalkEntry;

use crate::entries::unread::{cannot_be_read, sentence};

/// An entry in words, for the record.
pub fn in_words(body: &Value, unit: Unit) -> String {
    match serde_json::from_value::<WalkEntry>(body.clone()) {
        Ok(WalkEntry::Damage(d)) => {
            let note = if d.note.is_empty() {
                String::new()
            } else {
                format!(": {}", d.note)
            };
            sentence(format!(
                "Found before work: {}, {}{note}",
                d.damage.name(),
                print(d.size_mm.mm(), unit).text
            ))
        }
        Ok(WalkEntry::PaintDoubt { note, .. }) => {
            sentence(format!("Doubt about the paint: {note}"))
        }
        Ok(WalkEntry::Photo { note, .. }) if note.is_empty() => "Photo before work.".into(),
        Ok(WalkEntry::Photo { note, .. }) => sentence(format!("Photo before work: {note}")),
        Ok(WalkEntry::Struck { note, .. }) => {
            sentence(format!("An earlier finding was struck: {note}"))
        }
        Ok(WalkEntry::HardwareOff { .. }) => "Hardware taken off.".into(),
        Ok(WalkEntry::HardwareOn { .. }) => "Hardware back on.".into(),
        Ok(WalkEntry::SignOff { name, .. }) => format!("{name} signed for what was found."),
        Ok(WalkEntry::Received { name }) => format!("{name} has the vehicle back."),
        Err(_) => cannot_be_read(body),
    }
}
