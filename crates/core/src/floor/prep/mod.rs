//! A surface that film holds on: cleaned, primed, warm and dry, and whether the bay is fit to start.
//!
//! Everything is an entry of the job's record; [`stand`] works out how a job's preparation stands.

pub mod clean;
pub mod dew;
pub mod door;
pub mod gate;
pub mod open_air;
pub mod promoter;
pub mod stands;
pub mod warm;
pub mod zones;

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::floor::prep::clean::Been;
use crate::floor::prep::gate::{PanelSpot, ReadBy, SurfaceRead};
use crate::floor::prep::open_air::Sun;
use crate::ground::measure_error::{MeasureError, require};

/// A zone of a side that is cleaned by itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ZoneOf {
    /// Its number, from 1.
    pub number: u32,
    /// How many the side had.
    pub of: u32,
}

/// One entry of a job's preparation.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum PrepEntry {
    /// Where the vehicle has been.
    Been {
        /// Where.
        been: Been,
    },
    /// Vehicle and film stand in the hall.
    CameIn {
        /// For so many hours already.
        hours_ago: f64,
    },
    /// A surface was read.
    Panel {
        /// The side.
        side: Uuid,
        /// Where on it.
        spot: PanelSpot,
        /// How.
        by: ReadBy,
        /// °C.
        celsius: f64,
    },
    /// A step of cleaning is done on a side.
    Cleaned {
        /// The side.
        side: Uuid,
        /// The step's key.
        step: String,
        /// In this zone of it alone.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        zone: Option<ZoneOf>,
    },
    /// It must be done again.
    NotCleaned {
        /// The side.
        side: Uuid,
        /// The step's key.
        step: String,
        /// In this zone of it alone.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        zone: Option<ZoneOf>,
    },
    /// Bare or damaged wood, filler or a rough repair was found where film goes, or none.
    Repair {
        /// The side.
        side: Uuid,
        /// Whether there is any.
        needed: bool,
    },
    /// What was put on hardens for so long, as its tin says.
    Cures {
        /// The side.
        side: Uuid,
        /// The step's key.
        step: String,
        /// Hours.
        hours: f64,
    },
    /// A run of promoter is on.
    Promoted {
        /// The piece.
        piece: Uuid,
        /// The run's name.
        run: String,
    },
    /// Where the sun is, as a side in the open sees it.
    Sun {
        /// The side.
        side: Uuid,
        /// Where.
        sun: Sun,
    },
    /// Hands washed, rings and watches off.
    Hands {
        /// Whether they are.
        clean: bool,
    },
    /// The lead passes the gate of a side against advice.
    Passed {
        /// The side.
        side: Uuid,
        /// Why.
        reason: String,
    },
}

/// Coldest and warmest that is believed of a panel in a hall or yard, °C.
const PANEL: std::ops::RangeInclusive<f64> = -40.0..=90.0;
/// Longest ago that a vehicle came in, hours.
const LONGEST_IN: f64 = 24.0 * 60.0;
/// Longest that anything hardens, hours.
const LONGEST_CURE: f64 = 2160.0;
/// More zones than a side is ever parted into.
const MOST_ZONES: u32 = 100;
/// Longest reason and name, in characters.
const LONGEST: usize = 300;

impl PrepEntry {
    /// Checks what can be checked of it alone.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        match self {
            PrepEntry::CameIn { hours_ago } => require(
                hours_ago.is_finite() && (0.0..=LONGEST_IN).contains(hours_ago),
                "hours_ago",
                "For how many hours has it stood in the hall? From 0 to 1440.",
            ),
            PrepEntry::Panel { celsius, .. } => require(
                PANEL.contains(celsius),
                "celsius",
                "That is no panel that film goes on: from -40 to 90 \u{b0}C (-40 to 194 \u{b0}F). Read it again.",
            ),
            PrepEntry::Cures { hours, .. } => require(
                hours.is_finite() && (0.1..=LONGEST_CURE).contains(hours),
                "hours",
                "How long does it harden, as its tin says? From a few minutes (0.1 h) to 90 days (2160 h).",
            ),
            PrepEntry::Cleaned {
                zone: Some(zone), ..
            }
            | PrepEntry::NotCleaned {
                zone: Some(zone), ..
            } if !(1..=zone.of).contains(&zone.number) || zone.of > MOST_ZONES => {
                require(false, "zone", "There is no such zone. Load the page again.")
            }
            PrepEntry::Cleaned { step: name, .. }
            | PrepEntry::NotCleaned { step: name, .. }
            | PrepEntry::Promoted { run: name, .. } => require(
                (1..=LONGEST).contains(&name.chars().count()),
                "step",
                "There is no such step. Load the page again.",
            ),
            PrepEntry::Passed { reason, .. } => require(
                (3..=LONGEST).contains(&reason.trim().chars().count()),
                "reason",
                "Say why it is fitted all the same, in 3 to 300 characters. It stands in the record.",
            ),
            PrepEntry::Been { .. }
            | PrepEntry::Hands { .. }
            | PrepEntry::Repair { .. }
            | PrepEntry::Sun { .. } => Ok(()),
        }
    }
}

/// A job's preparation as it stands.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Prep {
    /// Where the vehicle has been.
    pub been: Been,
    /// Since when it stands in the hall.
    pub came_in: Option<OffsetDateTime>,
    /// Surface readings by side, oldest first.
    pub surface: BTreeMap<Uuid, Vec<SurfaceRead>>,
    /// Where the sun was, by side, and when.
    pub sun: BTreeMap<Uuid, (Sun, OffsetDateTime)>,
    /// Steps of cleaning that are done, by side.
    pub cleaned: BTreeMap<(Uuid, String), Cleaned>,
    /// Sides with bare or damaged wood, filler or a rough repair where film goes, or of which it is known that there is none.
    pub repair: BTreeMap<Uuid, bool>,
    /// For how long what was put on hardens, hours, by side and step, where its tin was read.
    pub cures: BTreeMap<(Uuid, String), f64>,
    /// Runs of promoter that are on, by piece, with when.
    pub promoted: BTreeMap<(Uuid, String), OffsetDateTime>,
    /// Since when hands are clean.
    pub hands: Option<OffsetDateTime>,
    /// Sides whose gate the lead passed: the entry, when, why.
    pub passed: BTreeMap<Uuid, (Uuid, OffsetDateTime, String)>,
}

/// How far a step of cleaning is done on a side.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Cleaned {
    /// All of the side at once.
    whole: Option<OffsetDateTime>,
    /// Zones that were done, or undone, since.
    zones: BTreeMap<u32, Option<OffsetDateTime>>,
    /// How many zones the side had when one was done last.
    of: u32,
}

impl Cleaned {
    /// When a zone was done.
    pub fn zone(&self, number: u32) -> Option<OffsetDateTime> {
        self.zones.get(&number).copied().unwrap_or(self.whole)
    }

    /// When all of it was done, by as many zones as it was parted into then.
    pub fn all_of_it(&self) -> Option<OffsetDateTime> {
        self.all(self.of)
    }

    /// When a side of so many zones was done: when the first of them was, once all are.
    pub fn all(&self, zones: u32) -> Option<OffsetDateTime> {
        let each = (1..=zones.max(1)).map(|n| self.zone(n));
        each.collect::<Option<Vec<_>>>()?.into_iter().min()
    }
}

/// Hands stay clean for a working day at most (ours).
const HANDS_CLEAN: Duration = Duration::hours(10);

impl Prep {
    /// Whether hands are clean now.
    pub fn hands_clean(&self, now: OffsetDateTime) -> bool {
        self.hands.is_some_and(|at| now - at < HANDS_CLEAN)
    }
}

/// Works out how a job's preparation stands, from its entries in the order of the record, each with when it was done.
///
/// ```
/// # use time::macros::datetime;
/// # use uuid::Uuid;
/// # use windrift_core::floor::prep::{PrepEntry, ZoneOf, stand};
/// let at = datetime!(2026-11-27 10:00 UTC);
/// let side = Uuid::nil();
/// let prep = stand(&[
///     (Uuid::from_u128(1), at, PrepEntry::Cleaned { side, step: "wash".into(), zone: None }),
///     (Uuid::from_u128(3), at, PrepEntry::NotCleaned { side, step: "wash".into(), zone: Some(ZoneOf { number: 2, of: 3 }) }),
///     (Uuid::from_u128(2), at, PrepEntry::Hands { clean: true }),
/// ]);
/// // All of it but the second of three zones.
/// let washed = &prep.cleaned[&(side, "wash".into())];
/// assert!(washed.zone(1) == Some(at) && washed.zone(2).is_none() && washed.all_of_it().is_none());
/// assert!(prep.hands_clean(at));
/// ```
pub fn stand(entries: &[(Uuid, OffsetDateTime, PrepEntry)]) -> Prep {
    let mut prep = Prep::default();
    for (id, at, entry) in entries {
        match entry {
            PrepEntry::Been { been } => prep.been = *been,
            PrepEntry::CameIn { hours_ago } => {
                prep.came_in = Some(*at - Duration::seconds_f64(hours_ago * 3600.0));
            }
            PrepEntry::Panel {
                side,
                spot,
                by,
                celsius,
            } => prep.surface.entry(*side).or_default().push(SurfaceRead {
                spot: *spot,
                by: *by,
                celsius: *celsius,
                at: *at,
            }),
            PrepEntry::Cleaned { side, step, zone }
            | PrepEntry::NotCleaned { side, step, zone } => {
                let done = matches!(entry, PrepEntry::Cleaned { .. }).then_some(*at);
                let of = prep.cleaned.entry((*side, step.clone())).or_default();
                match zone {
                    Some(zone) => {
                        of.zones.insert(zone.number, done);
                        of.of = zone.of;
                    }
                    None => {
                        *of = Cleaned {
                            whole: done,
                            ..Cleaned::default()
                        };
                    }
                }
            }
            PrepEntry::Repair { side, needed } => {
                prep.repair.insert(*side, *needed);
            }
            PrepEntry::Cures { side, step, hours } => {
                prep.cures.insert((*side, step.clone()), *hours);
            }
            PrepEntry::Promoted { piece, run } => {
                prep.promoted.insert((*piece, run.clone()), *at);
            }
            PrepEntry::Sun { side, sun } => {
                prep.sun.insert(*side, (*sun, *at));
            }
            PrepEntry::Hands { clean } => prep.hands = clean.then_some(*at),
            PrepEntry::Passed { side, reason } => {
                prep.passed.insert(*side, (*id, *at, reason.clone()));
            }
        }
    }
    prep
}
