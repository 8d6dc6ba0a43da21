//! What an opened door does to the air of a bay, and how soon the air is as it was: learnt from what was read in that bay.

use time::{Duration, OffsetDateTime};

use super::dew::dew_point;
use super::gate::AirRead;

/// Air that changes by so much within [`SUDDEN`] was let in, °C (ours): heating and sun are slower.
const STEP_CELSIUS: f64 = 2.0;
/// What a door does comes within so long.
const SUDDEN: Duration = Duration::minutes(10);
/// The air before it is the middle of what was read for so long.
const BEFORE: Duration = Duration::minutes(20);
/// A recovery is looked at for so long at the most.
const FOLLOWED: Duration = Duration::minutes(120);
/// Readings on the way back that say how fast it is.
const FEWEST: usize = 4;
/// Where nothing was learnt, minutes until a bay has come back by 63 % (ours), and how unsure that is, as a standard deviation of its logarithm.
const PRIOR_MINUTES: f64 = 20.0;
const PRIOR_SPREAD: f64 = 0.7;
/// How unsure one recovery is that was read, in the same way (ours): how far a door was open, and for how long, differs.
const READ_SPREAD: f64 = 0.35;
/// Less than this from where it was, and it has come back, °C.
const BACK_CELSIUS: f64 = 0.5;

/// A time when a door was open.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Opened {
    /// When the air was furthest from what it had been.
    pub at: OffsetDateTime,
    /// The air before it.
    pub before: AirRead,
    /// The air at its furthest.
    pub furthest: AirRead,
    /// Minutes until it had come back by 63 %, where enough was read on the way back.
    pub minutes: Option<f64>,
}

/// How soon a bay's air is as it was.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Recovery {
    /// Minutes until it has come back by 63 %.
    pub minutes: f64,
    /// From so many openings.
    pub openings: usize,
}

/// The air of a bay from now on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirAhead {
    /// As it was read last.
    pub read: AirRead,
    /// Where it goes back to; the same where no door was open.
    pub level: AirRead,
    /// How soon.
    pub recovery: Recovery,
    /// Minutes since it was read.
    since: f64,
}

impl AirAhead {
    /// The share that is left of the way back after so many minutes from now.
    fn left(&self, after: f64) -> f64 {
        (-(self.since + after) / self.recovery.minutes).exp()
    }

    /// How warm after so many minutes, °C.
    pub fn celsius(&self, after: f64) -> f64 {
        self.level.celsius + (self.read.celsius - self.level.celsius) * self.left(after)
    }

    /// Its dew point after so many minutes, °C; nothing where its humidity is none. What water is in the air mixes as its warmth does, so that its dew point
    /// goes from the one to the other.
    pub fn dew(&self, after: f64) -> Option<f64> {
        let read = dew_point(self.read.celsius, self.read.humidity)?;
        let level = dew_point(self.level.celsius, self.level.humidity)?;
        Some(level + (read - level) * self.left(after))
    }

    /// Whether it is on its way back now.
    pub fn comes_back(&self) -> bool {
        (self.celsius(0.0) - self.level.celsius).abs() > BACK_CELSIUS
    }

    /// Minutes from now until nine tenths of the way back are done.
    pub fn nearly_back_minutes(&self) -> f64 {
        (10f64.ln() * self.recovery.minutes).max(0.0)
    }
}

/// The middle of what was read in the time before.
fn level(air: &[AirRead], until: usize) -> Option<AirRead> {
    let last = air.get(until)?;
    let from = last.at - BEFORE;
    // Two days of several sensors are thousands: looked up, not looked through.
    let own = air.get(air.partition_point(|a| a.at < from)..=until)?;
    let middle = |of: &dyn Fn(&AirRead) -> f64| {
        let mut all: Vec<f64> = own.iter().map(of).collect();
        all.sort_by(f64::total_cmp);
        all.get(all.len() / 2).copied()
    };
    Some(AirRead {
        celsius: middle(&|a| a.celsius)?,
        humidity: middle(&|a| a.humidity)?,
        at: last.at,
    })
}

/// Times when a door was open, from readings of the air, oldest first.
///
/// ```
/// # use time::{Duration, macros::datetime};
/// # use windrift_core::floor::prep::door::{ahead, openings};
/// # use windrift_core::floor::prep::gate::AirRead;
/// let start = datetime!(2026-11-27 8:00 UTC);
/// // 21 °C; at 8:30 a door is opened for five minutes, then the air comes back with a time of 15 min.
/// let air: Vec<AirRead> = (0..120).map(f64::from).map(|m| AirRead {
///     at: start + Duration::seconds_f64(m * 60.0),
///     celsius: if m < 30.0 { 21.0 } else if m < 35.0 { 13.0 } else { 21.0 - 8.0 * (-(m - 34.0) / 15.0_f64).exp() },
///     humidity: 50.0,
/// }).collect();
/// let found = openings(&air);
/// assert_eq!(found.len(), 1);
/// assert!((found[0].minutes.unwrap() - 15.0).abs() < 1.0);
/// // Ten minutes after it was shut the air is foretold from what was learnt.
/// let so_far = &air[..45];
/// let later = ahead(so_far, so_far[44].at).unwrap();
/// assert!(later.comes_back() && (later.celsius(600.0) - 21.0).abs() < 0.1);
/// ```
pub fn openings(air: &[AirRead]) -> Vec<Opened> {
    let mut found: Vec<Opened> = Vec::new();
    let mut n = 0;
    while n + 1 < air.len() {
        let Some(before) = level(air, n) else { break };
        // The first reading within the time that is far enough off.
        let off = |a: &AirRead| (a.celsius - before.celsius).abs();
        let sudden = air
            .iter()
            .enumerate()
            .skip(n + 1)
            .take_while(|(_, a)| a.at - before.at <= SUDDEN)
            .find(|(_, a)| off(a) >= STEP_CELSIUS);
        let Some((stepped, reading)) = sudden else {
            n += 1;
            continue;
        };
        let side = (reading.celsius - before.celsius).signum();
        let gone = |a: &AirRead| side * (a.celsius - before.celsius);
        // As far as it goes, as long as it goes on within that time.
        let mut furthest = stepped;
        for (k, a) in air.iter().enumerate().skip(stepped) {
            let Some(far) = air.get(furthest) else { break };
            if a.at - far.at > SUDDEN {
                break;
            }
            if gone(a) >= gone(far) {
                furthest = k;
            }
        }
        let Some(far) = air.get(furthest).copied() else {
            break;
        };
        // Back, until it is there or stepped again.
        let mut way: Vec<(f64, f64)> = Vec::new();
        let mut last = furthest;
        let mut lowest = 1.0_f64;
        for (k, a) in air.iter().enumerate().skip(furthest + 1) {
            if a.at - far.at > FOLLOWED {
                break;
            }
            let left = gone(a) / gone(&far).max(1e-9);
            // Opened once more on the way.
            if left > lowest + 0.25 {
                break;
            }
            lowest = lowest.min(left);
            last = k;
            if left < 0.1 {
                break;
            }
            if left < 0.95 {
                way.push(((a.at - far.at).as_seconds_f64() / 60.0, left));
            }
        }
        found.push(Opened {
            at: far.at,
            before,
            furthest: far,
            minutes: (way.len() >= FEWEST && lowest < 0.6)
                .then(|| {
                    // The line through the first moment of ln(left), each reading as sure as it is large.
                    let (mut top, mut under) = (0.0, 0.0);
                    for (t, left) in &way {
                        let weight = left * left;
                        top += weight * t * -left.max(1e-3).ln();
                        under += weight * t * t;
                    }
                    (top > 0.0).then(|| under / top)
                })
                .flatten(),
        });
        n = last.max(stepped);
    }
    found
}

/// How soon a bay's air is as it was, from all openings that were read, weighed with what is supposed of any bay.
pub fn recovery(opened: &[Opened]) -> Recovery {
    let read: Vec<f64> = opened.iter().filter_map(|o| o.minutes).collect();
    let (mut sum, mut weight) = (
        PRIOR_MINUTES.ln() / PRIOR_SPREAD.powi(2),
        PRIOR_SPREAD.powi(-2),
    );
    for minutes in &read {
        sum += minutes.ln() / READ_SPREAD.powi(2);
        weight += READ_SPREAD.powi(-2);
    }
    Recovery {
        minutes: (sum / weight).exp(),
        openings: read.len(),
    }
}

/// The air from now on, from readings of it, oldest first: back to what it was where a door was open a while ago, else as it was read last. Nothing without a
/// reading.
pub fn ahead(air: &[AirRead], now: OffsetDateTime) -> Option<AirAhead> {
    let read = *air.last()?;
    let opened = openings(air);
    let recovery = recovery(&opened);
    // Longer ago than three times that, what it was last is what it is.
    let lately = |o: &&Opened| read.at - o.at <= Duration::seconds_f64(180.0 * recovery.minutes);
    let last = opened.last().filter(lately);
    Some(AirAhead {
        read,
        level: last.map_or(read, |o| o.before),
        recovery,
        since: ((now - read.at).as_seconds_f64() / 60.0).max(0.0),
    })
}
