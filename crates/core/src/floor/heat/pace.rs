//! How fast the heat is walked: the fastest steady walk at which the line reaches what is wanted and nothing passes its ceiling.
//!
//! A build-up of film and panel is solved for a table of speeds and jets once ([`Warms::of`]); four thousand guns as they may be are looked up in it; readings
//! weigh them. The pace that is told reaches what is wanted in nine guns of ten and keeps the ceiling in nineteen of twenty.

use serde::Serialize;
use statrs::distribution::{ContinuousCDF, Normal};

use crate::floor::heat::burst::{Burst, PASSES, seconds_to};
use crate::floor::heat::gun::{Gun, guns};
use crate::floor::heat::moving::{Walk, bell, paused, steady};
use crate::floor::heat::panel::BuildUp;

/// Slowest walk that is worked out, mm/s: 25 s for an inch.
pub const SLOWEST: f64 = 1.0;
/// Fastest, mm/s: 0.3 s for an inch.
pub const FASTEST: f64 = 80.0;
const SPEEDS: usize = 14;
/// Weakest and strongest jet, W/(m² K).
const JETS: usize = 8;
const WEAKEST: f64 = 24.0;
const STRONGEST: f64 = 270.0;
/// A line is looked at so long after the jet, s: while a thermometer follows, and when somebody goes back.
const AFTER: [f64; 5] = [0.8, 1.3, 2.0, 3.2, 20.0];
/// What is known of a panel under a jet: at the line under the film, the most there, the most outside, and after the jet.
const KNOWN: usize = 3 + AFTER.len();
const BACK: usize = 3 + 4;
/// More readings than this count as so many: the jet's shape stays unknown however often it is read (ours).
const COUNTS: f64 = 12.0;
/// Older readings than the last so many are not looked at any more.
const LOOKED_AT: usize = 20;
/// Error of a reading beside what the gun explains: °C, and a share of the rise, for a hand that is not a machine (ours).
const READ_CELSIUS: f64 = 2.0;
const READ_SHARE: f64 = 0.06;
/// A reading outside this share of what was expected, at either end, is asked for again.
const ODD: f64 = 0.01;

/// A reading right behind the heat, and how fast that was walked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PacedReading {
    /// mm/s.
    pub speed: f64,
    /// What the thermometer showed, °C.
    pub celsius: f64,
    /// What panel and air were before, °C.
    pub start: f64,
}

/// A build-up of film and panel, solved.
pub struct Warms {
    panel: BuildUp,
    /// `ln(-ln(1 - share))` by gun and speed, nearly straight in the logarithms of both.
    by_gun: Vec<[[f32; KNOWN]; SPEEDS]>,
}

fn log_steps<const N: usize>(from: f64, to: f64) -> [f64; N] {
    std::array::from_fn(|n| (from.ln() + (to / from).ln() * n as f64 / (N - 1) as f64).exp())
}

fn bend(share: f64) -> f64 {
    (-(-share.clamp(1e-12, 1.0 - 1e-12)).ln_1p()).ln()
}

fn straight(bent: f64) -> f64 {
    -(-bent.exp()).exp_m1()
}

/// Where a value lies between the nodes of a rising row: the lower node, and how far to the next.
fn between(nodes: &[f64], value: f64) -> (usize, f64) {
    let n = nodes
        .partition_point(|x| *x <= value)
        .clamp(1, nodes.len() - 1);
    (
        n - 1,
        (value / nodes[n - 1]).ln() / (nodes[n] / nodes[n - 1]).ln(),
    )
}

impl Warms {
    /// Solves a build-up.
    pub fn of(panel: BuildUp) -> Warms {
        let speeds: [f64; SPEEDS] = log_steps(SLOWEST, FASTEST);
        let jets: [f64; JETS] = log_steps(WEAKEST, STRONGEST);
        let table: Vec<[[f64; KNOWN]; SPEEDS]> = jets
            .iter()
            .map(|h| speeds.map(|speed| bent(&panel, *h, speed)))
            .collect();
        let by_gun = guns()
            .iter()
            .map(|gun| {
                let (n, share) = between(&jets, gun.coefficient);
                std::array::from_fn(|v| {
                    std::array::from_fn(|k| {
                        (table[n][v][k] * (1.0 - share) + table[n + 1][v][k] * share) as f32
                    })
                })
            })
            .collect();
        Warms { panel, by_gun }
    }

    /// A share at any speed for a gun.
    fn share(&self, gun: usize, k: usize, speed: f64) -> f64 {
        let speeds: [f64; SPEEDS] = log_steps(SLOWEST, FASTEST);
        let (n, share) = between(&speeds, speed.clamp(SLOWEST, FASTEST));
        let row = &self.by_gun[gun];
        straight(f64::from(row[n][k]) * (1.0 - share) + f64::from(row[n + 1][k]) * share)
    }

    /// The speed at which a share is just come to by a gun; slower comes to more. 0 where no walk is slow enough, infinite where none is fast enough to stay below.
    fn speed_for(&self, gun: usize, k: usize, share: f64) -> f64 {
        if share >= 1.0 {
            return 0.0;
        }
        if share <= 0.0 {
            return f64::INFINITY;
        }
        let wanted = bend(share);
        let row = &self.by_gun[gun];
        let bent = |n: usize| f64::from(row[n][k]);
        if bent(0) < wanted {
            return 0.0;
        }
        let Some(n) = (1..SPEEDS).find(|n| bent(*n) < wanted) else {
            return f64::INFINITY;
        };
        let speeds: [f64; SPEEDS] = log_steps(SLOWEST, FASTEST);
        let along = (bent(n - 1) - wanted) / (bent(n - 1) - bent(n));
        speeds[n - 1] * (speeds[n] / speeds[n - 1]).powf(along)
    }

    /// What a thermometer would show of a gun at a speed, °C.
    fn shows(&self, n: usize, gun: &Gun, read: &PacedReading) -> f64 {
        let (k, part) = between(&AFTER[..4], gun.delay_s);
        let share = self.share(n, 3 + k, read.speed) * (1.0 - part)
            + self.share(n, 4 + k, read.speed) * part;
        let there = read.start + (gun.jet_celsius - read.start) * share;
        gun.shows(there, read.start, read.start)
    }
}

/// What is known of one jet at one speed.
fn bent(panel: &BuildUp, coefficient: f64, speed: f64) -> [f64; KNOWN] {
    let jet = bell(coefficient);
    let field = steady(
        panel,
        &Walk {
            speed,
            jet: &jet,
            finer: 1,
        },
    );
    let mut known = [0.0; KNOWN];
    known[0] = field.line_bond;
    known[1] = field.hottest_bond;
    known[2] = field.hottest_film;
    for (k, after) in AFTER.iter().enumerate() {
        known[3 + k] = field.after(speed, *after);
    }
    known.map(bend)
}

/// What one walk is asked for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wanted {
    /// At the line, °C.
    pub celsius: f64,
    /// Film is never warmer, °C.
    pub film_ceiling: f64,
    /// What is under it is never warmer, °C.
    pub face_ceiling: f64,
    /// Panel and air now, °C.
    pub start: f64,
}

/// How sure a pace is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sure {
    /// Nothing was read yet, or one reading: the slowest that keeps every ceiling in nineteen of twenty; whether it reaches is read.
    Begin,
    /// A gun as it may be passes a ceiling at any walk: less heat first. The speed is where half of all guns would keep it, and promises nothing.
    TooHot,
    /// Reaches in nine of ten, keeps the ceiling in nineteen of twenty.
    Known,
    /// Readings do not agree well enough for both: read again.
    ReadAgain,
    /// The last reading does not fit what was read before: read again before it counts.
    Odd,
    /// The slowest walk with this gun does not bring it there.
    Weak,
    /// No walk reaches it without passing a ceiling.
    Scorches,
}

/// How fast to walk.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pace {
    /// mm/s.
    pub speed: f64,
    /// How sure it is.
    pub sure: Sure,
    /// What the line comes to, °C: one case of ten at most, half, nine of ten.
    pub reaches: [f64; 3],
    /// Outside of the film after a stop of 5 s, with the gun as it most likely is, °C.
    pub paused: f64,
    /// Going back over it 20 s later, mm/s; nothing where it must cool first.
    pub back: Option<f64>,
    /// Readings that count.
    pub counted: u32,
}

/// The ceiling is kept in so many cases of the guns that are tried: what is promised is nineteen of twenty, and the jet's shape is none of those (ours).
const KEEPS: f64 = 0.97;
/// The same before two readings: a jet that is wider than planned has not shown itself yet (ours).
const KEEPS_UNREAD: f64 = 0.99;

/// A stop in the middle of a walk, s.
pub const STOP_S: f64 = 5.0;

/// What weighted values are below in a share of all cases.
fn below(mut values: Vec<(f64, f64)>, share: f64) -> f64 {
    values.sort_by(|a, b| a.0.total_cmp(&b.0));
    let all: f64 = values.iter().map(|v| v.1).sum();
    let mut sum = 0.0;
    for (value, weight) in &values {
        sum += weight;
        if sum >= share * all {
            return *value;
        }
    }
    values.last().map_or(0.0, |v| v.0)
}

/// A reading with what every gun would have shown there, and how well that fits.
struct Tried {
    read: PacedReading,
    shows: Vec<f64>,
    fits: Vec<f64>,
}

impl Tried {
    fn of(warms: &Warms, read: PacedReading) -> Tried {
        let shows: Vec<f64> = guns()
            .iter()
            .enumerate()
            .map(|(n, gun)| warms.shows(n, gun, &read))
            .collect();
        let fits = shows.iter().map(|shows| {
            let error = error(shows - read.start);
            let z = (read.celsius - shows) / error;
            // Student's t with four degrees of freedom: one wild reading does not outweigh the rest.
            -2.5 * (1.0 + z * z / 4.0).ln() - error.ln()
        });
        let fits = fits.collect();
        Tried { read, shows, fits }
    }
}

/// Guns weighed by readings.
struct Weighed(Vec<f64>);

impl Weighed {
    fn by<'t>(readings: impl Iterator<Item = &'t Tried>) -> Weighed {
        let mut logs = vec![0.0; guns().len()];
        let mut count = 0.0f64;
        for tried in readings {
            count += 1.0;
            for (l, fits) in logs.iter_mut().zip(&tried.fits) {
                *l += fits;
            }
        }
        let tempers = (COUNTS / count.max(1.0)).min(1.0);
        let most = logs.iter().copied().fold(f64::MIN, f64::max);
        for l in &mut logs {
            *l = ((*l - most) * tempers).exp();
        }
        Weighed(logs)
    }

    fn quantile(&self, share: f64, value: impl Fn(usize, &Gun) -> f64) -> f64 {
        // Guns that weigh nothing are not looked up.
        let values = guns().iter().enumerate().filter(|(n, _)| self.0[*n] > 1e-7);
        let values = values.map(|(n, gun)| (value(n, gun), self.0[n]));
        below(values.collect(), share)
    }

    /// The share of guns that would show less than a reading does.
    fn expected(&self, tried: &Tried) -> f64 {
        let Ok(normal) = Normal::new(0.0, 1.0) else {
            return 0.5;
        };
        let all: f64 = self.0.iter().sum();
        let (read, shown) = (&tried.read, tried.shows.iter());
        let less = shown.zip(&self.0).map(|(shows, weight)| {
            weight * normal.cdf((read.celsius - shows) / error(shows - read.start))
        });
        less.sum::<f64>() / all
    }

    /// The fastest walk that reaches what is wanted in so many cases.
    fn reaching(&self, warms: &Warms, wanted: &Wanted, cases: f64) -> f64 {
        self.quantile(1.0 - cases, |n, gun| {
            let share = (wanted.celsius - wanted.start) / (gun.jet_celsius - wanted.start);
            warms.speed_for(n, 0, share)
        })
    }

    /// The slowest walk that keeps the ceilings in so many cases.
    fn keeping(&self, warms: &Warms, wanted: &Wanted, cases: f64) -> f64 {
        self.quantile(cases, |n, gun| {
            let share = |ceiling: f64| (ceiling - wanted.start) / (gun.jet_celsius - wanted.start);
            let film = warms.speed_for(n, 2, share(wanted.film_ceiling));
            film.max(warms.speed_for(n, 1, share(wanted.face_ceiling)))
        })
    }

    fn at(&self, warms: &Warms, k: usize, speed: f64, start: f64, share: f64) -> f64 {
        self.quantile(share, |n, gun| {
            start + (gun.jet_celsius - start) * warms.share(n, k, speed)
        })
    }
}

fn error(rise: f64) -> f64 {
    READ_CELSIUS.hypot(READ_SHARE * rise.max(0.0))
}

/// Readings that count, oldest first, and whether the last one waits for another that agrees. One that does not fit what came before counts only when the next does
/// not fit in the same way.
fn believed(readings: &[(&Warms, PacedReading)]) -> (Vec<Tried>, bool) {
    let mut counts: Vec<Tried> = Vec::new();
    let mut waits: Option<(Tried, bool)> = None;
    for (warms, read) in &readings[readings.len().saturating_sub(LOOKED_AT)..] {
        let tried = Tried::of(warms, *read);
        let expected = Weighed::by(counts.iter()).expected(&tried);
        if (ODD..=1.0 - ODD).contains(&expected) {
            counts.push(tried);
            waits = None;
            continue;
        }
        let low = expected < 0.5;
        match waits.take() {
            Some((before, same)) if same == low => counts.extend([before, tried]),
            _ => waits = Some((tried, low)),
        }
    }
    (counts, waits.is_some())
}

/// A gun that was read. Many runs on many build-ups are asked of one.
pub struct Calibrated {
    all: Weighed,
    careful: Weighed,
    counted: usize,
    odd: bool,
}

impl Calibrated {
    /// Weighs guns by readings, the oldest first, each with what it was read over.
    pub fn by(readings: &[(&Warms, PacedReading)]) -> Calibrated {
        let (counts, odd) = believed(readings);
        let all = Weighed::by(counts.iter());
        // What keeps the ceiling must not hang on one reading that was too low.
        let heights = counts.iter().enumerate().map(|(n, t)| (all.expected(t), n));
        let lowest = heights.min_by(|a, b| a.0.total_cmp(&b.0)).map(|h| h.1);
        // That one alone: another that showed the same says the same again.
        let without = counts
            .iter()
            .enumerate()
            .filter(|(n, _)| Some(*n) != lowest)
            .map(|(_, t)| t);
        let careful = Weighed::by(without);
        Calibrated {
            careful,
            counted: counts.len(),
            all,
            odd,
        }
    }

    /// How long a burst over film of this thickness may be that does not touch the panel, begun at `start` and never above `ceiling`, °C.
    pub fn burst(&self, film_mm: f64, start: f64, ceiling: f64) -> Burst {
        let to = |gun: &Gun| seconds_to(gun, film_mm, start, ceiling);
        let longest = |guns: &Weighed| guns.quantile(PASSES, |_, g| to(g));
        let half = self.all.quantile(0.5, |_, g| to(g));
        Burst {
            longest_s: longest(&self.all).min(longest(&self.careful)),
            half_s: half.is_finite().then_some(half),
        }
    }

    /// How fast to walk a build-up for this.
    pub fn pace(&self, warms: &Warms, wanted: &Wanted) -> Pace {
        let all = &self.all;
        let cases = if self.counted < 2 {
            KEEPS_UNREAD
        } else {
            KEEPS
        };
        let keeps = all
            .keeping(warms, wanted, cases)
            .max(self.careful.keeping(warms, wanted, cases));
        let reaches = all.reaching(warms, wanted, 0.9);
        let (speed, sure) = if keeps > FASTEST {
            (all.keeping(warms, wanted, 0.5), Sure::TooHot)
        } else if self.counted < 2 {
            (keeps.max(reaches), Sure::Begin)
        } else if all.reaching(warms, wanted, 0.5) < SLOWEST.max(all.keeping(warms, wanted, 0.5)) {
            let weak = all.keeping(warms, wanted, 0.5) < SLOWEST;
            (keeps, if weak { Sure::Weak } else { Sure::Scorches })
        } else if reaches >= keeps.max(SLOWEST) {
            (reaches, Sure::Known)
        } else {
            (keeps, Sure::ReadAgain)
        };
        let sure = if self.odd && !matches!(sure, Sure::Begin | Sure::TooHot) {
            Sure::Odd
        } else {
            sure
        };
        let speed = speed.clamp(SLOWEST, FASTEST);
        let at = |share: f64| all.at(warms, 0, speed, wanted.start, share);
        let left = all.at(warms, BACK, speed, wanted.start, 0.5);
        let again = Wanted {
            start: left.min(wanted.celsius - 1.0).max(wanted.start),
            ..*wanted
        };
        let back_keeps = all.keeping(warms, &again, cases);
        let back = (back_keeps <= FASTEST).then(|| {
            let reaches = all.reaching(warms, &again, 0.9);
            reaches.max(back_keeps).clamp(speed, FASTEST)
        });
        Pace {
            speed,
            sure,
            reaches: [at(0.1), at(0.5), at(0.9)],
            paused: stopped(all, warms, speed, wanted.start),
            back,
            counted: self.counted as u32,
        }
    }
}

/// How fast to walk a build-up with a gun that was read so often, the readings oldest first.
///
/// ```
/// # use windrift_core::floor::heat::pace::{PacedReading, Sure, Wanted, Warms, pace};
/// # use windrift_core::floor::heat::panel::{BuildUp, HeatSpot};
/// # use windrift_core::vehicle::surface::{Behind, Material, Surface};
/// let mut steel = Surface::of(Material::PaintedSteel);
/// steel.behind = Some(Behind::Air);
/// let warms = Warms::of(BuildUp::of(&steel, 0.1, HeatSpot::Field).unwrap());
/// let wanted = Wanted { celsius: 85.0, film_ceiling: 150.0, face_ceiling: 110.0, start: 20.0 };
/// let first = pace(&warms, &[], &wanted);
/// assert_eq!(first.sure, Sure::Begin);
/// let after = |celsius| {
///     let read = PacedReading { speed: first.speed, celsius, start: 20.0 };
///     pace(&warms, &[read, read], &wanted).speed
/// };
/// // The colder it came out, the slower.
/// assert!(after(55.0) < after(65.0));
/// ```
pub fn pace(warms: &Warms, readings: &[PacedReading], wanted: &Wanted) -> Pace {
    let readings: Vec<(&Warms, PacedReading)> = readings.iter().map(|r| (warms, *r)).collect();
    Calibrated::by(&readings).pace(warms, wanted)
}

/// What a stop does with the gun as it most likely is, °C.
fn stopped(all: &Weighed, warms: &Warms, speed: f64, start: f64) -> f64 {
    let jet = all.quantile(0.5, |_, g| g.jet_celsius);
    let jet_shape = bell(all.quantile(0.5, |_, g| g.coefficient));
    let walk = Walk {
        speed,
        jet: &jet_shape,
        finer: 1,
    };
    start + (jet - start) * paused(&warms.panel, &walk, STOP_S)
}
