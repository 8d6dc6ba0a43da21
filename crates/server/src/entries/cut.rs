//! What was cut from which roll, in the record.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use windrift_core::ground::tape::{Unit, print};

use crate::entries::unread::cannot_be_read;

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
