//! A surface that film holds on: cleaned, primed, warm and dry, and whether the bay is fit to start.
//!
//! Everything is an entry of the job's record; [`stand`] works out how a job's preparation stands.

pub mod clean;
pub mod dew;
pub mod gate;
pub mod promoter;
pub mod warm;

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::floor::prep::clean::Been;
use crate::floor::prep::gate::{PanelSpot, ReadBy, SurfaceRead};
use crate::ground::measure_error::{MeasureError, require};

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
    },
    /// It must be done again.
    NotCleaned {
        /// The side.
        side: Uuid,
        /// The step's key.
        step: String,
    },
    /// A run of promoter is on.
    Promoted {
        /// The piece.
        piece: Uuid,
        /// The run's name.
        run: String,
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
            PrepEntry::Been { .. } | PrepEntry::Hands { .. } => Ok(()),
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
    /// Steps of cleaning that are done, by side, with when.
    pub cleaned: BTreeMap<(Uuid, String), OffsetDateTime>,
    /// Runs of promoter that are on, by piece, with when.
    pub promoted: BTreeMap<(Uuid, String), OffsetDateTime>,
    /// Since when hands are clean.
    pub hands: Option<OffsetDateTime>,
    /// Sides whose gate the lead passed: the entry, when, why.
    pub passed: BTreeMap<Uuid, (Uuid, OffsetDateTime, String)>,
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
/// # use windrift_core::floor::prep::{PrepEntry, stand};
/// let at = datetime!(2026-11-27 10:00 UTC);
/// let side = Uuid::nil();
/// let prep = stand(&[
///     (Uuid::from_u128(1), at, PrepEntry::Cleaned { side, step: "wash".into() }),
///     (Uuid::from_u128(2), at, PrepEntry::Hands { clean: true }),
/// ]);
/// assert!(prep.cleaned.contains_key(&(side, "wash".into())) && prep.hands_clean(at));
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
            PrepEntry::Cleaned { side, step } => {
                prep.cleaned.insert((*side, step.clone()), *at);
            }
            PrepEntry::NotCleaned { side, step } => {
                prep.cleaned.remove(&(*side, step.clone()));
            }
            PrepEntry::Promoted { piece, run } => {
                prep.promoted.insert((*piece, run.clone()), *at);
            }
            PrepEntry::Hands { clean } => prep.hands = clean.then_some(*at),
            PrepEntry::Passed { side, reason } => {
                prep.passed.insert(*side, (*id, *at, reason.clone()));
            }
        }
    }
    prep
}
