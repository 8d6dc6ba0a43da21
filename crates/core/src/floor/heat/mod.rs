//! Heat and seal: what must reach its temperature, what did as far as somebody measured it, and what is sealed.
//!
//! Readings and closings are entries of the record; [`stand`] works out how a piece's runs stand.

mod banded;
pub mod burst;
pub mod gun;
pub mod moving;
pub mod pace;
pub mod panel;
pub mod runs;
pub mod stream;

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::film::classes::Span;
use crate::floor::heat::panel::HeatSpot;
use crate::floor::heat::runs::HeatRun;
use crate::ground::measure_error::{LONGEST_MM, MeasureError, require};
use crate::ground::mm::Mm;
use crate::vehicle::surface::{Behind, Material};

/// One entry of Heat & seal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum HeatEntry {
    /// The film was read right behind the heat.
    Read {
        /// The run's name.
        run: String,
        /// Along it from where it begins, mm.
        along_mm: Mm,
        /// °C.
        celsius: f64,
        /// How fast the heat was walked then, mm/s, where it was walked by a pace.
        #[serde(default)]
        pace_mm_s: Option<f64>,
        /// What it was read over. The server fills it in.
        #[serde(default)]
        over: Option<Over>,
    },
    /// The run is done.
    Closed {
        /// The run's name.
        run: String,
        /// Why, where not all of it is known to have reached; nothing where it is.
        #[serde(default)]
        reason: Option<String>,
        /// How many runs of heat and of sealer the piece had then. The server fills it in.
        #[serde(default)]
        of: u32,
        /// What thermometers sent while it was walked. The server fills it in.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        raw: Option<RawKept>,
    },
    /// The heat passes a slip of tape while a thermometer reads on by itself.
    Mark {
        /// The run's name.
        run: String,
        /// Where the slip lies, along the run from where it begins, mm.
        along_mm: Mm,
        /// Marks of one walk follow each other; made by the client.
        walk: Uuid,
        /// The thermometer.
        device: Uuid,
        /// What it is read over. The server fills it in.
        #[serde(default)]
        over: Option<Over>,
    },
    /// A run is sealed.
    Sealed {
        /// The run's name.
        run: String,
    },
}

/// Readings of thermometers that belong to a run, as they were when it was closed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RawKept {
    /// How many.
    pub readings: u32,
    /// SHA-256 over their table as CSV, hexadecimal.
    pub sha256: String,
}

/// What a reading was taken over, for what it says of the gun.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Over {
    /// What the skin is made of.
    pub material: Material,
    /// What lies behind it.
    pub behind: Behind,
    /// How thick it is, mm, where it is not the usual one.
    pub skin_mm: Option<f64>,
    /// Film and laminate, mm.
    pub film_mm: f64,
    /// What is special about the spot.
    pub spot: HeatSpot,
    /// Panel and air before, °C.
    pub start_celsius: f64,
}

/// A reading vouches for its spot and this much either way, mm (ours): 1 in.
pub const VOUCHES_MM: f64 = 25.4;
/// What an infrared thermometer may show of film that is heated, °C; anything else is kept as a wrong reading is: not at all.
pub const SHOWN: std::ops::RangeInclusive<f64> = -20.0..=400.0;
/// Longest reason and name, in characters.
const LONGEST: usize = 300;

impl HeatEntry {
    /// Checks what can be checked of it alone.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        match self {
            HeatEntry::Read {
                along_mm,
                celsius,
                pace_mm_s,
                ..
            } => {
                require(
                    along_mm.mm() <= 20.0 * LONGEST_MM,
                    "along_mm",
                    "Where along the run? From its beginning.",
                )?;
                require(
                    pace_mm_s.is_none_or(|v| (0.2..=200.0).contains(&v)),
                    "pace_mm_s",
                    "Nobody walks heat so slowly or so fast: from 1/8 s to 2 minutes for an inch.",
                )?;
                require(
                    SHOWN.contains(celsius),
                    "celsius",
                    "That is no reading of warm film: from -20 to 400 \u{b0}C (-4 to 752 \u{b0}F). Read it again.",
                )
            }
            HeatEntry::Closed { reason, .. } => require(
                reason
                    .as_ref()
                    .is_none_or(|r| (3..=LONGEST).contains(&r.trim().chars().count())),
                "reason",
                "Say in 3 to 300 characters why it is done although not all of it is known to have reached.",
            ),
            HeatEntry::Mark { along_mm, .. } => require(
                along_mm.mm() <= 20.0 * LONGEST_MM,
                "along_mm",
                "Where along the run does the slip of tape lie? From its beginning.",
            ),
            HeatEntry::Sealed { run } => require(
                (1..=LONGEST).contains(&run.chars().count()),
                "run",
                "There is no such run. Load the page again.",
            ),
        }
    }
}

/// How a stretch of a run stands. The worse, the greater.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Reached {
    /// It reached what was wanted.
    Reached,
    /// Nobody measured it.
    NotMeasured,
    /// It did not reach it.
    NotReached,
    /// It passed its ceiling.
    Passed,
}

/// A stretch of a run.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretch {
    /// From, along the run, mm.
    pub from_mm: f64,
    /// To, mm.
    pub to_mm: f64,
    /// How it stands.
    pub is: Reached,
}

/// A reading along a run.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ReadAt {
    /// From where the run begins, mm.
    pub along_mm: f64,
    /// °C.
    pub celsius: f64,
    /// It vouches for so much either way, mm.
    pub vouches_mm: f64,
}

impl ReadAt {
    /// One that somebody took at a place that they saw.
    pub fn seen(along_mm: f64, celsius: f64) -> ReadAt {
        ReadAt {
            along_mm,
            celsius,
            vouches_mm: VOUCHES_MM,
        }
    }
}

/// A run is looked at in stretches of this, mm.
const NEAR_MM: f64 = 50.0;

/// How a run stands by its readings, the newest last, from its beginning to its end without a gap between stretches. Where two readings vouch for one place the newer
/// counts; that the ceiling was passed is never made good by a later one.
///
/// ```
/// # use windrift_core::film::classes::Span;
/// # use windrift_core::floor::heat::{ReadAt, Reached, covered};
/// let wanted = Span { from: 85.0, to: 90.0 };
/// let mut read = vec![ReadAt::seen(50.0, 88.0), ReadAt::seen(100.0, 70.0)];
/// let found = covered(200.0, &read, wanted, 110.0);
/// let is: Vec<Reached> = found.iter().map(|s| s.is).collect();
/// assert_eq!(is, [Reached::NotMeasured, Reached::Reached, Reached::NotReached, Reached::NotMeasured]);
/// // Walked again where it was too cold.
/// read.push(ReadAt::seen(100.0, 87.0));
/// let again = covered(200.0, &read, wanted, 110.0);
/// assert_eq!(again[1].is, Reached::Reached);
/// assert!((again[1].to_mm - 125.4).abs() < 1e-9);
/// ```
pub fn covered(length_mm: f64, readings: &[ReadAt], wanted: Span, ceiling: f64) -> Vec<Stretch> {
    let mut cuts = vec![0.0, length_mm];
    for r in readings {
        cuts.push((r.along_mm - r.vouches_mm).clamp(0.0, length_mm));
        cuts.push((r.along_mm + r.vouches_mm).clamp(0.0, length_mm));
    }
    cuts.sort_by(f64::total_cmp);
    // Only readings near a place are looked at there: a thermometer that reads on leaves thousands.
    let mut near: Vec<Vec<&ReadAt>> = vec![Vec::new(); (length_mm / NEAR_MM) as usize + 1];
    let cell = |mm: f64| ((mm / NEAR_MM).max(0.0) as usize).min(near.len() - 1);
    let places: Vec<(usize, usize)> = readings
        .iter()
        .map(|r| {
            (
                cell(r.along_mm - r.vouches_mm),
                cell(r.along_mm + r.vouches_mm),
            )
        })
        .collect();
    for (r, (from, to)) in readings.iter().zip(places) {
        for cell in near.iter_mut().take(to + 1).skip(from) {
            cell.push(r);
        }
    }
    let is_at = |mm: f64| {
        let here = || {
            let at = ((mm / NEAR_MM) as usize).min(near.len() - 1);
            let vouches = near.get(at).into_iter().flatten();
            let vouches = vouches.filter(|r| (r.along_mm - mm).abs() <= r.vouches_mm);
            vouches.map(|r| r.celsius)
        };
        if here().any(|c| c > ceiling) {
            return Reached::Passed;
        }
        match here().next_back() {
            None => Reached::NotMeasured,
            Some(c) if c >= wanted.from => Reached::Reached,
            Some(_) => Reached::NotReached,
        }
    };
    let mut found: Vec<Stretch> = Vec::new();
    for w in cuts.windows(2) {
        if w[1] - w[0] < 1e-9 {
            continue;
        }
        let is = is_at((w[0] + w[1]) / 2.0);
        match found.last_mut() {
            Some(last) if last.is == is => last.to_mm = w[1],
            _ => found.push(Stretch {
                from_mm: w[0],
                to_mm: w[1],
                is,
            }),
        }
    }
    found
}

/// A piece's runs as they stand.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Heated {
    /// Readings by run, the newest last.
    pub readings: BTreeMap<String, Vec<ReadAt>>,
    /// Runs that are closed, with the reason where one was given.
    pub closed: BTreeMap<String, Option<String>>,
    /// How many runs of heat and of sealer the piece had when one was closed last.
    pub of: u32,
    /// Runs that are sealed.
    pub sealed: BTreeSet<String>,
}

/// Works out how the runs of a piece stand, from its entries in the order in which they were done. A reading after a run was closed opens it again.
pub fn stand<'e>(entries: impl IntoIterator<Item = &'e HeatEntry>) -> Heated {
    stand_with(entries.into_iter().map(|e| (e, &[][..])))
}

/// The same, each mark with what a thermometer read on the way to it.
pub fn stand_with<'e>(entries: impl IntoIterator<Item = (&'e HeatEntry, &'e [ReadAt])>) -> Heated {
    let mut heated = Heated::default();
    for (entry, streamed) in entries {
        match entry {
            HeatEntry::Read {
                run,
                along_mm,
                celsius,
                ..
            } => {
                heated.closed.remove(run);
                let readings = heated.readings.entry(run.clone()).or_default();
                readings.push(ReadAt::seen(along_mm.mm(), *celsius));
            }
            HeatEntry::Mark { run, .. } => {
                heated.closed.remove(run);
                let readings = heated.readings.entry(run.clone()).or_default();
                readings.extend_from_slice(streamed);
            }
            HeatEntry::Closed {
                run, reason, of, ..
            } => {
                heated.closed.insert(run.clone(), reason.clone());
                heated.of = *of;
            }
            HeatEntry::Sealed { run } => {
                heated.sealed.insert(run.clone());
            }
        }
    }
    heated
}

impl Heated {
    /// Whether every run of heat is closed and every one of sealer is on; never before one was closed.
    pub fn is_done(&self) -> bool {
        self.of > 0 && self.closed.len() + self.sealed.len() >= self.of as usize
    }

    /// How a run stands by what was read of it.
    pub fn covered(&self, run: &HeatRun) -> Vec<Stretch> {
        let readings = self.readings.get(&run.name).map_or(&[][..], Vec::as_slice);
        covered(run.length.mm, readings, run.wanted, run.ceiling_celsius)
    }
}

/// The share of a run that is known to have reached, 0 to 1.
pub fn reached_share(stretches: &[Stretch]) -> f64 {
    let whole: f64 = stretches.iter().map(|s| s.to_mm - s.from_mm).sum();
    let reached: f64 = stretches
        .iter()
        .filter(|s| s.is == Reached::Reached)
        .map(|s| s.to_mm - s.from_mm)
        .sum();
    if whole > 0.0 {
        (reached / whole).max(0.0)
    } else {
        0.0
    }
}

/// The first stretch that is not known to have reached, where any is.
pub fn first_gap(stretches: &[Stretch]) -> Option<&Stretch> {
    stretches
        .iter()
        .find(|s| matches!(s.is, Reached::NotMeasured | Reached::NotReached))
}
