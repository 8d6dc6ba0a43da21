//! An entry about old film in words.

use serde_json::Value;
use windrift_core::floor::strip::StripEntry;
use windrift_core::floor::strip::rate::Phase;
use windrift_core::ground::tape::{Unit, print};

use crate::entries::unread::{cannot_be_read, sentence};

fn minutes(seconds: f64) -> String {
    let s = seconds.round() as u64;
    format!("{}:{:02}", s / 60, s % 60)
}

fn phase_name(phase: Phase) -> &'static str {
    match phase {
        Phase::Film => "Film",
        Phase::Adhesive => "Adhesive",
    }
}

/// An entry in words, for the record.
pub fn in_words(body: &Value, unit: Unit) -> String {
    let Ok(entry) = serde_json::from_value::<StripEntry>(body.clone()) else {
        return cannot_be_read(body);
    };
    match entry {
        StripEntry::Found(g) | StripEntry::Changed { graphic: g, .. } => sentence(format!(
            "Old film: {}, {}, {:.0} years, {} by {}; a cold corner {}",
            g.name.trim(),
            g.kind.name(),
            g.age_years,
            print(g.width_mm.mm(), unit).text,
            print(g.height_mm.mm(), unit).text,
            g.cold_corner.name()
        )),
        StripEntry::Gone { note, .. } => sentence(format!("Old film struck from the list: {note}")),
        StripEntry::Patch(p) => sentence(format!(
            "Test patch, {}, {:.2}: film {}{}; {}{}",
            p.stands_for.name(),
            p.amount,
            minutes(p.film_seconds),
            p.adhesive_seconds
                .map_or(String::new(), |s| format!(", adhesive {}", minutes(s))),
            p.left.name(),
            if p.ghost { ", a ghost is left" } else { "" }
        )),
        StripEntry::PatchBegan {
            stands_for, amount, ..
        } => sentence(format!(
            "Test patch begun, {}, {amount:.2}",
            stands_for.name()
        )),
        StripEntry::PatchDropped { .. } => "The test patch that ran was given up.".into(),
        StripEntry::PatchStruck { note, .. } => {
            sentence(format!("A test patch was struck: {note}"))
        }
        StripEntry::Done {
            phase,
            cells,
            seconds,
            ..
        } => format!(
            "{} off {}{}.",
            phase_name(phase),
            parts(cells.len()),
            seconds.map_or(String::new(), |s| format!(" in {}", minutes(s)))
        ),
        StripEntry::NotDone { phase, cells, .. } => {
            format!(
                "{} not off {} after all.",
                phase_name(phase),
                parts(cells.len())
            )
        }
        StripEntry::Harm {
            harm,
            back_mm,
            drop_mm,
            note,
            ..
        } => {
            let note = if note.trim().is_empty() {
                String::new()
            } else {
                format!(": {}", note.trim())
            };
            sentence(format!(
                "Came to light: {}, {} back, {} down{note}",
                harm.name(),
                print(back_mm.mm(), unit).text,
                print(drop_mm.mm(), unit).text
            ))
        }
        StripEntry::Hands { people: 1 } => "One person takes old film off.".into(),
        StripEntry::Hands { people } => format!("{people} people take old film off."),
    }
}

fn parts(n: usize) -> String {
    match n {
        1 => "1 part".into(),
        n => format!("{n} parts"),
    }
}
