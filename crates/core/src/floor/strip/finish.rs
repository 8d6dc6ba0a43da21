//! When it is done: a seeded simulation of what remains, then the shop's own hours.

use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, Gamma, StandardNormal};
use time::{Duration, OffsetDateTime, Time, Weekday};

use super::rate::Rate;
use crate::ground::hours::ShopHours;
use crate::ground::zone::Zone;

/// What remains of one phase of one graphic.
#[derive(Debug, Clone, PartialEq)]
pub struct Remains {
    /// What is known of its rate.
    pub rate: Rate,
    /// The amount of every cell that is not done.
    pub cells: Vec<f64>,
}

/// Hands-on time of one pair of hands, seconds.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct HandsOn {
    /// In one case of ten it takes no longer.
    pub tenth: f64,
    /// In half of all cases.
    pub half: f64,
    /// In nine cases of ten.
    pub ninety: f64,
}

/// Cases that are tried.
const CASES: usize = 1000;

/// Cases of how long what remains takes one pair of hands, seconds each.
#[derive(Debug, Clone, PartialEq)]
pub struct Cases(Vec<f64>);

impl Default for Cases {
    /// Nothing remains.
    fn default() -> Cases {
        Cases(vec![0.0; CASES])
    }
}

impl Cases {
    /// With what remains elsewhere, tried with another seed: one pair of hands does both.
    pub fn add(&mut self, other: &Cases) {
        for (own, more) in self.0.iter_mut().zip(&other.0) {
            *own += more;
        }
    }

    /// What they say together.
    pub fn hands_on(&self) -> HandsOn {
        let mut sums = self.0.clone();
        sums.sort_unstable_by(f64::total_cmp);
        let at = |share: f64| sums[((CASES as f64 * share) as usize).min(CASES - 1)];
        HandsOn {
            tenth: at(0.1),
            half: at(0.5),
            ninety: at(0.9),
        }
    }
}

/// Tries how long what remains takes one pair of hands. The same seed gives the same answer.
///
/// In every case each rate is drawn once, as all cells of a graphic share it; the sum of its cells is drawn from the lognormal with the sum's own
/// mean and variance (Fenton's approximation), so that 500 cells cost what one does.
///
/// ```
/// # use windrift_core::floor::strip::{finish::{Remains, cases}, old::CountedIn, rate::Rate};
/// let rate = Rate::prior(30.0, CountedIn::Letters);
/// let twenty = [Remains { rate, cells: vec![1.0; 20] }];
/// let mut all = cases(&twenty, 7);
/// let found = all.hands_on();
/// // Twenty letters at about half a minute.
/// assert!(found.tenth < 600.0 && found.half > 500.0 && found.half < 800.0 && found.ninety > found.half);
/// assert_eq!(all, cases(&twenty, 7));
/// // As many again elsewhere take about twice as long, and are not slow at once as a rule.
/// all.add(&cases(&twenty, 8));
/// assert!(all.hands_on().half > 1.7 * found.half && all.hands_on().ninety < 2.0 * found.ninety);
/// ```
pub fn cases(remains: &[Remains], seed: u64) -> Cases {
    let mut random = ChaCha8Rng::seed_from_u64(seed);
    let alike: Vec<(Rate, Vec<(f64, f64)>)> =
        remains.iter().map(|r| (r.rate, alike(&r.cells))).collect();
    let mut one = || -> f64 {
        let graphics = alike.iter();
        graphics
            .map(|(rate, cells)| draw(rate, cells, &mut random))
            .sum()
    };
    Cases((0..CASES).map(|_| one()).collect())
}

/// Cells by their amount, with how many there are of each: those of one graphic are alike, and 500 cost what one does.
fn alike(cells: &[f64]) -> Vec<(f64, f64)> {
    let mut all: Vec<(f64, f64)> = Vec::new();
    for amount in cells {
        match all.iter_mut().find(|(a, _)| (a - amount).abs() < 1e-9) {
            Some((_, n)) => *n += 1.0,
            None => all.push((*amount, 1.0)),
        }
    }
    all
}

/// One case of one graphic's remaining time, seconds.
fn draw(rate: &Rate, cells: &[(f64, f64)], random: &mut ChaCha8Rng) -> f64 {
    if cells.is_empty() {
        return 0.0;
    }
    let Ok(gamma) = Gamma::new(rate.alpha, 1.0 / rate.beta) else {
        return 0.0;
    };
    let variance = 1.0 / gamma.sample(random).max(1e-9);
    let one: f64 = StandardNormal.sample(random);
    let mean = rate.mean + one * (variance / rate.kappa).sqrt();
    let (mut expected, mut squared) = (0.0, 0.0);
    for (amount, n) in cells {
        // A cell scatters the less the larger it is; never more than ten times either way.
        let v = (variance * rate.counted.patch() / amount).min(5.0);
        let e = amount * (mean + v / 2.0).exp();
        expected += n * e;
        squared += n * e * e * v.exp_m1();
    }
    let v = (squared / (expected * expected)).ln_1p();
    let other: f64 = StandardNormal.sample(random);
    expected * (v.sqrt() * other - v / 2.0).exp()
}

/// How much faster it goes with more people: each pair of hands after the first adds `adds`.
pub fn shared(seconds: f64, people: u32, adds: f64) -> f64 {
    seconds / (1.0 + adds * f64::from(people.max(1) - 1))
}

/// When work of so many seconds ends, begun at `from`: within the shop's hours, with its breaks, over nights and days off.
///
/// ```
/// # use time::macros::datetime;
/// # use windrift_core::floor::strip::finish::done_by;
/// # use windrift_core::ground::{hours::ShopHours, zone::Zone};
/// // Friday at 15:00, four hours of work: an hour and a half of them until 16:30; on Monday from 7:30 two hours, a break of a quarter of an hour,
/// // and the last half hour.
/// let hours = ShopHours::default();
/// let end = done_by(datetime!(2026-11-27 15:00 UTC), 4.0 * 3600.0, &hours, Zone::UTC);
/// assert_eq!(end, Some(datetime!(2026-11-30 10:15 UTC)));
/// ```
pub fn done_by(
    from: OffsetDateTime,
    seconds: f64,
    hours: &ShopHours,
    zone: Zone,
) -> Option<OffsetDateTime> {
    let mut left = seconds.max(0.0);
    let mut day = zone.local(from).date();
    // A break follows every stretch of work; the last one ends with the work.
    let stretch = f64::from(hours.break_every_minutes) * 60.0;
    let pause = f64::from(hours.break_minutes) * 60.0;
    let at = |day: time::Date, minutes: u32| {
        let minutes = minutes.min(24 * 60 - 1);
        let clock = Time::from_hms((minutes / 60) as u8, (minutes % 60) as u8, 0).ok()?;
        zone.at_wall_clock(&format!(
            "{:04}-{:02}-{:02}T{:02}:{:02}",
            day.year(),
            u8::from(day.month()),
            day.day(),
            clock.hour(),
            clock.minute()
        ))
    };
    // Ten years of days is more than any job takes.
    for _ in 0..3_660 {
        let off = match day.weekday() {
            Weekday::Sunday => true,
            Weekday::Saturday => !hours.saturdays,
            _ => false,
        };
        if !off {
            let (opens, closes) = (at(day, hours.from_minutes)?, at(day, hours.to_minutes)?);
            let mut now = opens.max(from);
            while now < closes {
                let room = (closes - now).as_seconds_f64();
                let work = left.min(stretch).min(room);
                now += Duration::seconds_f64(work);
                left -= work;
                if left <= 1e-6 {
                    return Some(now);
                }
                if work >= stretch {
                    now += Duration::seconds_f64(pause);
                }
            }
        }
        day = day.next_day()?;
    }
    None
}
