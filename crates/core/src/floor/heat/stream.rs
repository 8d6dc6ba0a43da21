//! A thermometer that reads on by itself while heat is walked.
//!
//! It knows no place. Slips of tape do: each is announced as the heat passes it, and between two of them place follows from time. How far that may be off
//! is told, and bounds what a reading vouches for; after the last slip no reading has a place yet.

use super::{ReadAt, VOUCHES_MM};

/// The thermometer looks at where the heat was so long before, s (ours).
pub const TRAILS_S: f64 = 2.0;
/// Between two marks a hand walks unevenly: a place is off by this share of the way to the nearer one (ours).
pub const UNEVEN: f64 = 0.1;
/// Readings of so long a stretch are one, mm: 1/2 in (ours).
const BIN_MM: f64 = 12.7;
/// Nobody walks heat so slowly or so fast, mm/s.
const WALKED: std::ops::RangeInclusive<f64> = 0.2..=200.0;
/// Film under a gun changes by less within a second, °C (ours): 100 µm of it that hangs free gains about 70.
const JUMP_CELSIUS: f64 = 100.0;
/// Within so long of the last reading that is believed, s.
const WITHIN_S: f64 = 1.0;

/// A slip of tape that the heat passed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MarkAt {
    /// When, s since any moment.
    pub at_s: f64,
    /// Along the run, mm.
    pub along_mm: f64,
}

/// A reading as it came.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RawReading {
    /// When, s since the same moment.
    pub at_s: f64,
    /// °C.
    pub celsius: f64,
}

/// What was read between two marks.
#[derive(Debug, Clone, PartialEq)]
pub struct Leg {
    /// Readings with their place: of each 1/2 in the highest and then the lowest, so that neither a ceiling nor a cold spot is averaged away.
    pub readings: Vec<ReadAt>,
    /// How fast it was walked, mm/s.
    pub speed: f64,
    /// What the middle third showed, its median, °C, for what it says of the gun.
    pub middle_celsius: Option<f64>,
}

/// Whether a reading is believed beside the last one that was: it is kept in either case.
///
/// ```
/// # use windrift_core::floor::heat::stream::{RawReading, is_believed};
/// let before = RawReading { at_s: 0.0, celsius: 84.0 };
/// assert!(is_believed(Some(before), RawReading { at_s: 0.5, celsius: 91.0 }));
/// assert!(!is_believed(Some(before), RawReading { at_s: 0.5, celsius: 284.0 }));
/// // The thermometer was put down meanwhile: nothing says what it was to show.
/// assert!(is_believed(Some(before), RawReading { at_s: 9.0, celsius: 21.0 }) && is_believed(None, before));
/// ```
pub fn is_believed(before: Option<RawReading>, reading: RawReading) -> bool {
    before.is_none_or(|b| {
        (reading.at_s - b.at_s).abs() > WITHIN_S
            || (reading.celsius - b.celsius).abs() <= JUMP_CELSIUS
    })
}

/// Gives readings their place between two marks; nothing where nobody walks so.
///
/// ```
/// # use windrift_core::floor::heat::stream::{MarkAt, RawReading, leg};
/// // A foot in 60 s, read five times a second: 88 °C, but for a cold spot of 20 mm in the middle.
/// let (from, to) = (MarkAt { at_s: 0.0, along_mm: 0.0 }, MarkAt { at_s: 60.0, along_mm: 304.8 });
/// let cold = |s: f64| (s * 5.08 - 152.4).abs() < 10.0;
/// let raw: Vec<RawReading> = (0..=300)
///     .map(|n| n as f64 / 5.0)
///     .map(|s| RawReading { at_s: s + 2.0, celsius: if cold(s) { 70.0 } else { 88.0 } })
///     .collect();
/// let leg = leg(from, to, &raw).unwrap();
/// assert!((leg.speed - 5.08).abs() < 1e-9);
/// let cold: Vec<f64> = leg.readings.iter().filter(|r| r.celsius < 85.0).map(|r| r.along_mm).collect();
/// assert!(!cold.is_empty() && cold.iter().all(|mm| (mm - 152.4).abs() < 20.0));
/// ```
pub fn leg(from: MarkAt, to: MarkAt, raw: &[RawReading]) -> Option<Leg> {
    let (way, seconds) = (to.along_mm - from.along_mm, to.at_s - from.at_s);
    let long = way.abs();
    let speed = long / seconds;
    if seconds <= 0.0 || !WALKED.contains(&speed) {
        return None;
    }
    let bins = (long / BIN_MM).ceil().max(1.0);
    let bin_mm = long / bins;
    let mut found: Vec<Option<(f64, f64)>> = vec![None; bins as usize];
    let mut middle = Vec::new();
    for r in raw {
        let walked = (r.at_s - TRAILS_S - from.at_s) * speed;
        if !(0.0..=long).contains(&walked) {
            continue;
        }
        if (1.0..=2.0).contains(&(3.0 * walked / long)) {
            middle.push(r.celsius);
        }
        let at = ((walked / bin_mm) as usize).min(found.len() - 1);
        if let Some(bin) = found.get_mut(at) {
            let (low, high) = bin.unwrap_or((r.celsius, r.celsius));
            *bin = Some((low.min(r.celsius), high.max(r.celsius)));
        }
    }
    let mut readings = Vec::new();
    for n in 0..found.len() {
        let middle_of = (n as f64 + 0.5) * bin_mm;
        let off = UNEVEN * middle_of.min(long - middle_of);
        // A stretch without a reading of its own is vouched for by its nearest neighbour, as far as a reading does.
        let reach = ((VOUCHES_MM - off) / bin_mm).floor().max(-1.0) as isize;
        let near = (0..=reach).find_map(|d| {
            let at = |d: isize| n.checked_add_signed(d).and_then(|k| *found.get(k)?);
            at(-d).or_else(|| at(d))
        });
        let Some((low, high)) = near else { continue };
        for celsius in [high, low] {
            readings.push(ReadAt {
                along_mm: from.along_mm + way.signum() * middle_of,
                celsius,
                vouches_mm: bin_mm / 2.0,
            });
        }
    }
    middle.sort_by(f64::total_cmp);
    Some(Leg {
        readings,
        speed,
        middle_celsius: middle.get(middle.len() / 2).copied(),
    })
}

/// How far a place may be off in the middle between two marks that lie so far apart, mm.
pub fn off_by(apart_mm: f64) -> f64 {
    UNEVEN * apart_mm / 2.0
}
