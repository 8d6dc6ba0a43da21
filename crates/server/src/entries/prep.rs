//! Entries of the preparation and of the bay in words.

use serde_json::Value;
use windrift_core::floor::bay::BayEntry;
use windrift_core::floor::prep::clean::Been;
use windrift_core::floor::prep::{PrepEntry, ZoneOf};
use windrift_core::ground::degrees::told;
use windrift_core::ground::tape::Unit;

use crate::entries::unread::{cannot_be_read, sentence};

/// An entry of the preparation in words.
pub fn in_words(body: &Value, unit: Unit) -> String {
    let Ok(entry) = serde_json::from_value::<PrepEntry>(body.clone()) else {
        return cannot_be_read(body);
    };
    match entry {
        PrepEntry::Been { been } => match been {
            Been::OnTheRoad => "It comes off the road: cleaned by the whole sequence.".into(),
            Been::JustWashed => "It was just washed.".into(),
            Been::New => "It is new.".into(),
        },
        PrepEntry::CameIn { hours_ago } => {
            format!("Vehicle and film in the hall for {hours_ago:.0} h.")
        }
        PrepEntry::Panel {
            spot, by, celsius, ..
        } => format!(
            "Surface {} {}, {}.",
            told(celsius, unit),
            spot.name(),
            by.name()
        ),
        PrepEntry::Cleaned { step, zone, .. } => {
            format!("Cleaned: {}{}.", step_in_words(&step), in_zone(zone))
        }
        PrepEntry::NotCleaned { step, zone, .. } => {
            format!(
                "To be done again: {}{}.",
                step_in_words(&step),
                in_zone(zone)
            )
        }
        PrepEntry::Repair { needed: true, .. } => {
            "Bare or damaged wood, filler or a rough repair where film goes.".into()
        }
        PrepEntry::Repair { needed: false, .. } => {
            "Looked at: nothing bare, soft or rough where film goes.".into()
        }
        PrepEntry::Cures { step, hours, .. } => {
            format!(
                "Hardens for {hours} h by its tin: {}.",
                step_in_words(&step)
            )
        }
        PrepEntry::Promoted { run, .. } => format!("Promoter on: {run}."),
        PrepEntry::Sun { sun, .. } => format!("Sun: {}.", sun.name()),
        PrepEntry::Hands { clean: true } => "Hands washed, rings and watches off.".into(),
        PrepEntry::Hands { clean: false } => "Hands to be washed again.".into(),
        PrepEntry::Passed { reason, .. } => {
            let lines = body["against"].as_array().into_iter().flatten();
            let against: Vec<&str> = lines.filter_map(Value::as_str).collect();
            let told = sentence(format!(
                "The lead let it pass to be fitted: {}",
                reason.trim()
            ));
            if against.is_empty() {
                told
            } else {
                format!("{told} Against: {}", against.join(" "))
            }
        }
    }
}

/// An entry about the bay in words.
pub fn bay_in_words(body: &Value, unit: Unit) -> String {
    match serde_json::from_value::<BayEntry>(body.clone()) {
        Ok(BayEntry::StandsIn { bay, open_air }) => sentence(if open_air {
            format!("Stands in the open, {bay}")
        } else {
            format!("Stands in {bay}")
        }),
        Ok(BayEntry::Weather { wind, rain, .. }) => sentence(format!(
            "{}; {}",
            windrift_core::ground::told::first_capital(wind.name()),
            rain.name()
        )),
        Ok(BayEntry::Wet { wet, place, .. }) => {
            let at = if place.trim().is_empty() {
                String::new()
            } else {
                format!(": {}", place.trim())
            };
            sentence(format!(
                "{}{at}",
                windrift_core::ground::told::first_capital(wet.name())
            ))
        }
        Ok(BayEntry::Air {
            celsius, humidity, ..
        }) => format!("Air {}, {humidity:.0} %.", told(celsius, unit)),
        Err(_) => cannot_be_read(body),
    }
}

/// A step of cleaning as the record and the packet tell it; one that this Windrift does not know stands as it is kept.
fn in_zone(zone: Option<ZoneOf>) -> String {
    zone.map_or(String::new(), |z| {
        format!(", zone {} of {}", z.number, z.of)
    })
}

fn step_in_words(key: &str) -> &str {
    match key {
        "skin" => "protective skin off",
        "wash" => "washed and rinsed",
        "reach" => "wheels, fenders or shields off",
        "wood" => "bare and damaged wood seen to",
        "sand" => "sanded back",
        "fill" => "filled and flush",
        "seal" => "bare wood sealed",
        "prime" => "primed",
        "gloss" => "gloss on",
        "polish" => "polished, no wax",
        "cleaner" => "tar or adhesive cleaner",
        "mask" => "what stands out masked",
        "alcohol" => "final wipe with alcohol",
        "edges" => "edges and lips wiped again",
        "fluid" => "wiped with application fluid",
        kept => kept,
    }
}
