//! What is done before the fitting, in words.

use serde_json::Value;
use windrift_core::cut::by_when::MadeEntry;
use windrift_core::ground::zone::Zone;

use crate::entries::unread::cannot_be_read;

/// An entry in words, by the shop's clock.
pub fn in_words(body: &Value, zone: Zone) -> String {
    match serde_json::from_value(body.clone()) {
        Ok(MadeEntry::Starts { fit_at, ink }) => format!(
            "The fitting starts {}; whatever is printed, in {} ink.",
            zone.in_words(fit_at),
            ink.name()
        ),
        Ok(MadeEntry::Done { step, at }) => format!(
            "Before the fitting: {}, done {}.",
            step.name(),
            zone.in_words(at)
        ),
        Ok(MadeEntry::NotDone { step }) => {
            format!("Before the fitting: {}, not done after all.", step.name())
        }
        Err(_) => cannot_be_read(body),
    }
}
