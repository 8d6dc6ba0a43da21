//! A round of readings at both ends, as it is recorded and shown.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use windrift_core::floor::hangs_at::HangsAt;
use windrift_core::floor::level::{Advice, Hanging, RoundOfReadings, advise};
use windrift_core::ground::tape::{Length, Unit, print};
use windrift_core::place::flats::Flat;
use windrift_core::plan::planned::PlannedPiece;

/// One end as it was read.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EndReading {
    /// The letter of the flat; nothing for a corner of the box.
    pub letter: Option<String>,
    /// What the tape should read.
    pub wanted: Length,
    /// What was read.
    pub read: Length,
    /// Whether that is right within the tape's tolerance. Nothing in rounds of earlier releases.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub right: Option<bool>,
}

impl EndReading {
    /// One end, judged by the tolerance of the job's tape.
    pub fn judged(letter: Option<String>, wanted_mm: f64, read_mm: f64, unit: Unit) -> EndReading {
        EndReading {
            letter,
            wanted: print(wanted_mm, unit),
            read: print(read_mm, unit),
            right: Some((read_mm - wanted_mm).abs() <= unit.tolerance_mm() + 1e-9),
        }
    }
}

/// A round of readings as it is kept in the record.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RoundView {
    /// Number of the round, from 1.
    pub round: u32,
    /// Rounds of moves made before it.
    pub rounds_moved: u32,
    /// Nearer the front.
    pub front: EndReading,
    /// Nearer the rear.
    pub rear: EndReading,
    /// What to do; nothing where the readings contradict each other.
    pub advice: Option<Advice>,
    /// What Windrift said, whole.
    pub sentence: String,
    /// Revision of the piece that was read.
    pub piece_revision: i32,
    /// Revision of its side.
    pub side_revision: i32,
    /// Where the piece hung by the plan; nothing in rounds of the first release, and where the piece was moved while it was read.
    #[serde(default)]
    pub hangs_at: Option<HangsAt>,
}

/// A first round in which both ends read as they are wanted.
pub(crate) fn first_round(
    piece: &PlannedPiece,
    unit: Unit,
    piece_revision: i32,
    side_revision: i32,
) -> RoundView {
    let flats = &piece.readings.flats;
    let end = |flat: &Flat| EndReading {
        letter: flat.letter.clone(),
        wanted: flat.wanted.clone(),
        read: flat.wanted.clone(),
        right: Some(true),
    };
    let read = RoundOfReadings {
        read_mm: [flats.front.wanted.mm, flats.rear.wanted.mm],
        asked_again_mm: None,
        rounds_moved: 0,
    };
    let advice = advise(&Hanging::of(piece), &read, unit).ok();
    RoundView {
        round: 1,
        rounds_moved: 0,
        front: end(&flats.front),
        rear: end(&flats.rear),
        sentence: advice
            .as_ref()
            .map_or_else(String::new, |a| a.sentence().to_owned()),
        advice,
        piece_revision,
        side_revision,
        hangs_at: Some(HangsAt::of(piece)),
    }
}
