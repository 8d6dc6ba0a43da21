//! What is wet or smoulders in the bay, and that no heat goes on beside it.
//!
//! That a wiped panel is never heated until it is dry, and that what flames touched is watched, are published: 29 CFR 1910.252(a) asks for a fire watch
//! of half an hour, NFPA 51B for an hour, which is taken here. How long each liquid takes to flash off in a bay is ours; the safety sheet decides.

use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};

/// A liquid that flashes off, or a flame that went out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Wet {
    /// A wipe of alcohol.
    Alcohol,
    /// Tar or adhesive cleaner.
    Cleaner,
    /// Adhesive remover.
    Remover,
    /// Adhesion promoter.
    Promoter,
    /// Edge sealer.
    Sealer,
    /// Wood sealer, primer or paint.
    Coat,
    /// A torch went out: what it touched may smoulder.
    Flame,
}

/// Something wet in a bay.
#[derive(Debug, Clone, PartialEq)]
pub struct WetPlace {
    /// What.
    pub wet: Wet,
    /// Where, as somebody called it, with the job's name where it is another one's.
    pub place: String,
    /// Since when.
    pub since: OffsetDateTime,
}

impl Wet {
    /// Everything that can be wet.
    pub const ALL: [Wet; 7] = [
        Wet::Alcohol,
        Wet::Cleaner,
        Wet::Remover,
        Wet::Promoter,
        Wet::Sealer,
        Wet::Coat,
        Wet::Flame,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Wet::Alcohol => "alcohol wipe",
            Wet::Cleaner => "tar or adhesive cleaner",
            Wet::Remover => "adhesive remover",
            Wet::Promoter => "promoter",
            Wet::Sealer => "edge sealer",
            Wet::Coat => "primer or paint",
            Wet::Flame => "fire watch after a flame",
        }
    }

    /// Minutes until it has flashed off: ours, but for promoter (tacky in about 10: common practice) and the fire watch (NFPA 51B: 60).
    pub fn minutes(self) -> i64 {
        match self {
            Wet::Alcohol => 5,
            Wet::Cleaner => 10,
            Wet::Remover => 15,
            Wet::Promoter => 10,
            Wet::Sealer => 30,
            Wet::Coat => 60,
            Wet::Flame => 60,
        }
    }
}

impl WetPlace {
    /// Until when.
    pub fn until(&self) -> OffsetDateTime {
        self.since + Duration::minutes(self.wet.minutes())
    }
}

/// Why no heat goes on now, and until when: whatever is within reach and has not flashed off. Nothing where heat may go on. The end of a fire watch
/// does not hold up heat: a flame's watch is a duty of its own.
///
/// ```
/// # use time::macros::datetime;
/// # use windrift_core::floor::wet::{Wet, WetPlace, heat_locked};
/// let wiped = WetPlace { wet: Wet::Alcohol, place: "bow".into(), since: datetime!(2026-11-27 10:00 UTC) };
/// let wet = [wiped];
/// let locked = heat_locked(&wet, datetime!(2026-11-27 10:04 UTC)).unwrap();
/// assert_eq!(locked.until(), datetime!(2026-11-27 10:05 UTC));
/// assert!(heat_locked(&wet, datetime!(2026-11-27 10:05 UTC)).is_none());
/// ```
pub fn heat_locked(wet: &[WetPlace], now: OffsetDateTime) -> Option<&WetPlace> {
    let still = wet
        .iter()
        .filter(|w| w.wet != Wet::Flame && w.until() > now);
    still.max_by_key(|w| w.until())
}
