//! What was cut from which roll, in the record.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;
use windrift_core::ground::tape::{Unit, print};
use windrift_store::{EntryKind, NewEntry, StoreError};

use crate::entries::unread::cannot_be_read;
use crate::job_pieces::CutEntry;

/// What was cut of one film.
#[derive(Debug, Serialize, Deserialize)]
pub struct FilmCut {
    /// What the film is called.
    pub film: String,
    /// From each roll.
    pub rolls: Vec<CutFrom>,
}

/// What was cut from one roll.
#[derive(Debug, Serialize, Deserialize)]
pub struct CutFrom {
    /// Its lot.
    pub lot: String,
    /// Length that was taken, mm.
    pub length_mm: f64,
    /// What was cut, as it is called.
    pub pieces: Vec<String>,
}

impl CutFrom {
    /// What a roll gave.
    pub(crate) fn of(entry: &CutEntry) -> CutFrom {
        CutFrom {
            lot: entry.taken.lot.clone(),
            length_mm: entry.length_mm,
            pieces: (entry.taken.pieces.iter())
                .map(|p| p.called.clone())
                .collect(),
        }
    }
}

impl FilmCut {
    /// The entry of the record, once however often it is asked for.
    pub(crate) fn entry(&self, id: Uuid, crew: Uuid) -> Result<NewEntry, StoreError> {
        Ok(NewEntry {
            id,
            kind: EntryKind::Cut,
            crew,
            piece: None,
            body: serde_json::to_value(self)?,
            read_at: None,
        })
    }
}

/// An entry in words, for the record.
pub fn in_words(body: &Value, unit: Unit) -> String {
    let Ok(cut) = serde_json::from_value::<FilmCut>(body.clone()) else {
        return cannot_be_read(body);
    };
    let rolls: Vec<String> = (cut.rolls.iter())
        .map(|r| {
            format!(
                "{} of lot {} for {}",
                print(r.length_mm, unit).text,
                r.lot,
                r.pieces.join(", ")
            )
        })
        .collect();
    format!("Cut from {}: {}.", cut.film, rolls.join("; "))
}
