//! When will the panel be warm? Two masses, the skin in minutes and the body behind it in hours, driven by the air of the bay.
//!
//! `skin' = (share·air + (1 − share)·body − skin) / skin_minutes`, `body' = (air − body) / body_minutes`. The priors by substrate are ours; readings
//! of the panel sharpen them: the best fit by Gauss and Newton with the prior as a term, its curvature as the spread, and a fixed set of draws from it
//! run forwards. From now on the air is as it was read last, or comes back from an open door ([`super::door`]); of doors that will be opened nothing is known.

use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use time::{Duration, OffsetDateTime};

use super::door::AirAhead;
use crate::film::classes::Span;
use crate::vehicle::surface::Material;

/// Air at a time, °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AirAt {
    /// When.
    pub at: OffsetDateTime,
    /// How warm, °C.
    pub celsius: f64,
}

/// A reading of the panel.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PanelAt {
    /// When.
    pub at: OffsetDateTime,
    /// How warm, °C.
    pub celsius: f64,
    /// Its error, one standard deviation, °C.
    pub error: f64,
}

/// When the panel comes into a window.
#[derive(Debug, Clone, PartialEq)]
pub struct Warming {
    /// In one case of ten by then; nothing where that is more than two days away.
    pub earliest: Option<OffsetDateTime>,
    /// In half of all cases.
    pub middle: Option<OffsetDateTime>,
    /// In nine of ten.
    pub latest: Option<OffsetDateTime>,
    /// Readings say little yet: it follows from the prior of what the panel is.
    pub prior_only: bool,
    /// How warm it will be, °C, every quarter of an hour from `now`: in one case of ten at most, half, nine of ten.
    pub path: Vec<[f64; 3]>,
    /// The air is outside the window itself: it will not come into it by waiting.
    pub never: bool,
}

/// Draws that are run forwards.
const DRAWS: usize = 160;
/// Furthest ahead, minutes.
const AHEAD: usize = 48 * 60;
/// One step, minutes.
const STEP: f64 = 5.0;
/// Steps between points of the path: a quarter of an hour.
const POINT: usize = 3;
/// Readings tell something once the panel has changed by so many of their errors (ours).
const TELLS: f64 = 3.0;

/// Parameters: ln skin minutes, ln body minutes, logit of the air's share, body at the first moment °C. And how unsure each is.
fn prior(material: Material, first: f64) -> ([f64; 4], [f64; 4]) {
    let (skin, body, share) = match material {
        Material::PaintedSteel => (8.0f64, 150.0f64, 0.7f64),
        Material::Stainless => (8.0, 150.0, 0.7),
        Material::BareAluminium | Material::PaintedAluminium => (6.0, 120.0, 0.7),
        Material::Gelcoat => (18.0, 180.0, 0.65),
        Material::Composite => (15.0, 150.0, 0.75),
        Material::LowEnergyPlastic | Material::TexturedPlastic => (20.0, 120.0, 0.7),
        Material::Glass => (12.0, 120.0, 0.7),
        Material::PaintedWood => (30.0, 240.0, 0.65),
    };
    (
        [skin.ln(), body.ln(), (share / (1.0 - share)).ln(), first],
        [0.5, 0.6, 0.6, 3.0],
    )
}

/// The air at a time: between what was read, and as it was read last from then on.
fn air_at(air: &[AirAt], at: OffsetDateTime) -> f64 {
    let after = air.iter().position(|a| a.at > at);
    match after {
        Some(0) => air[0].celsius,
        Some(n) => {
            let (a, b) = (air[n - 1], air[n]);
            let share = (at - a.at).as_seconds_f64() / (b.at - a.at).as_seconds_f64().max(1.0);
            a.celsius + (b.celsius - a.celsius) * share
        }
        None => air.last().map_or(20.0, |a| a.celsius),
    }
}

/// Minutes after which a run of steps comes into a window, between two of them.
fn comes_in(skin: &[f64], window: Span) -> Option<f64> {
    let inside = |c: &f64| (window.from..=window.to).contains(c);
    let n = skin.iter().position(inside)?;
    let Some(before) = n.checked_sub(1).map(|b| skin[b]) else {
        return Some(0.0);
    };
    let edge = if before < window.from {
        window.from
    } else {
        window.to
    };
    let share = (edge - before) / (skin[n] - before);
    Some((n as f64 - 1.0 + share) * STEP)
}

/// Runs skin and body over steps of air, each so many minutes long; both after every step.
fn run(parameters: &[f64; 4], start: [f64; 2], air: &[f64], step: f64) -> Vec<[f64; 2]> {
    let (tau_skin, tau_body) = (parameters[0].exp(), parameters[1].exp());
    let share = 1.0 / (1.0 + (-parameters[2]).exp());
    let [mut skin, mut body] = start;
    // Exact for air and target that hold over a step.
    let (keep_skin, keep_body) = ((-step / tau_skin).exp(), (-step / tau_body).exp());
    air.iter()
        .map(|a| {
            let before = body;
            body = a + (body - a) * keep_body;
            let target = share * a + (1.0 - share) * (before + body) / 2.0;
            skin = target + (skin - target) * keep_skin;
            [skin, body]
        })
        .collect()
}

/// When a panel comes into a window, from readings of the air and of the panel, oldest first, and the air from now on: as it was read last where nothing is said
/// of it. `None` without a reading of either.
///
/// ```
/// # use time::{Duration, macros::datetime};
/// # use windrift_core::film::classes::Span;
/// # use windrift_core::floor::prep::warm::{AirAt, PanelAt, warming};
/// # use windrift_core::vehicle::surface::Material;
/// let start = datetime!(2026-11-27 8:00 UTC);
/// let air = [AirAt { at: start, celsius: 21.0 }];
/// let panel = [PanelAt { at: start, celsius: 4.0, error: 0.5 }];
/// let found = warming(&air, None, &panel, Material::PaintedSteel, Span { from: 18.0, to: 24.0 }, start, 1).unwrap();
/// assert!(found.prior_only && found.earliest < found.latest);
/// // It is hours, not minutes, and not a day.
/// let hours = (found.middle.unwrap() - start).as_seconds_f64() / 3600.0;
/// assert!((0.5..8.0).contains(&hours));
/// ```
pub fn warming(
    air: &[AirAt],
    later: Option<&AirAhead>,
    panel: &[PanelAt],
    material: Material,
    window: Span,
    now: OffsetDateTime,
    seed: u64,
) -> Option<Warming> {
    let first = panel.first()?;
    air.first()?;
    let minutes = |at: OffsetDateTime| (at - first.at).as_seconds_f64() / 60.0;
    // The past in equal steps of at most STEP that end now.
    let elapsed = minutes(now).max(0.0);
    let so_far = (elapsed / STEP).ceil() as usize;
    let step = elapsed / so_far.max(1) as f64;
    let drive = |n: usize| {
        let at = first.at + Duration::seconds_f64((n as f64 + 0.5) * step * 60.0);
        air_at(air, at)
    };
    // Longer ago than two days says nothing of today.
    if so_far > AHEAD / STEP as usize {
        return None;
    }
    let past: Vec<f64> = (0..so_far).map(drive).collect();
    let (middle, spread) = prior(material, first.celsius);
    let (best, root) = fit(&past, step, panel, &middle, &spread);
    let seen = panel.iter().map(|p| p.celsius);
    let (low, high) = seen.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), c| {
        (l.min(c), h.max(c))
    });
    let error = panel.iter().map(|p| p.error).fold(0.0, f64::max);
    let last = air_at(air, now);
    // In the end it is as warm as this.
    let hold = later.map_or(last, |l| l.level.celsius);
    let ahead: Vec<f64> = (0..AHEAD / STEP as usize)
        .map(|n| later.map_or(last, |l| l.celsius((n as f64 + 0.5) * STEP)))
        .collect();
    let mut random = ChaCha8Rng::seed_from_u64(seed);
    let mut ends: Vec<Option<f64>> = Vec::with_capacity(DRAWS);
    let mut paths: Vec<Vec<f64>> = Vec::with_capacity(DRAWS);
    for _ in 0..DRAWS {
        let z: [f64; 4] = std::array::from_fn(|_| StandardNormal.sample(&mut random));
        let drawn: [f64; 4] =
            std::array::from_fn(|i| best[i] + (0..=i).map(|j| root[i][j] * z[j]).sum::<f64>());
        let noise: f64 = StandardNormal.sample(&mut random);
        let start = [first.celsius + noise * first.error, drawn[3]];
        let here = run(&drawn, start, &past, step).last().copied();
        let here = here.unwrap_or(start);
        let later = run(&drawn, here, &ahead, STEP);
        let from_now: Vec<f64> = std::iter::once(here[0])
            .chain(later.iter().map(|m| m[0]))
            .collect();
        ends.push(comes_in(&from_now, window));
        paths.push(from_now.iter().step_by(POINT).take(97).copied().collect());
    }
    ends.sort_by(|a, b| {
        let late = |e: &Option<f64>| e.unwrap_or(f64::INFINITY);
        late(a).total_cmp(&late(b))
    });
    let end = |share: f64| {
        let minutes = ends[((DRAWS as f64 * share) as usize).min(DRAWS - 1)]?;
        Some(now + Duration::seconds_f64(minutes * 60.0))
    };
    let points = paths.iter().map(Vec::len).min().unwrap_or(0);
    let path = (0..points)
        .map(|n| {
            let mut at: Vec<f64> = paths.iter().map(|p| p[n]).collect();
            at.sort_by(f64::total_cmp);
            [0.1, 0.5, 0.9].map(|s| at[((DRAWS as f64 * s) as usize).min(DRAWS - 1)])
        })
        .collect();
    Some(Warming {
        earliest: end(0.1),
        middle: end(0.5),
        latest: end(0.9),
        prior_only: high - low < TELLS * error,
        path,
        never: !(window.from..=window.to).contains(&hold),
    })
}

/// The best parameters and the lower root of their covariance. `past` is the air in steps of so many minutes, from the first reading on.
fn fit(
    past: &[f64],
    step: f64,
    panel: &[PanelAt],
    middle: &[f64; 4],
    spread: &[f64; 4],
) -> ([f64; 4], [[f64; 4]; 4]) {
    let first = panel.first();
    let skin = first.map_or(0.0, |p| p.celsius);
    // Every reading but the first, by the step after which it was read, between two of them.
    let read: Vec<(f64, f64, f64)> = panel
        .iter()
        .skip(1)
        .filter_map(|p| {
            let minutes = (p.at - first?.at).as_seconds_f64() / 60.0;
            Some((minutes / step.max(1e-9), p.celsius, p.error))
        })
        .filter(|(n, ..)| *n >= 0.0 && *n <= past.len() as f64 + 1e-6)
        .collect();
    let model = |parameters: &[f64; 4]| -> Vec<f64> {
        let skins = run(parameters, [skin, parameters[3]], past, step);
        let at = |n: usize| match n.checked_sub(1) {
            Some(before) => skins.get(before).or(skins.last()).map_or(skin, |m| m[0]),
            None => skin,
        };
        read.iter()
            .map(|(n, ..)| {
                let whole = n.floor();
                let share = n - whole;
                at(whole as usize) * (1.0 - share) + at(n.ceil() as usize) * share
            })
            .collect()
    };
    let cost = |parameters: &[f64; 4]| {
        let told = model(parameters);
        let of_readings: f64 = read
            .iter()
            .zip(&told)
            .map(|((_, c, e), t)| ((c - t) / e).powi(2))
            .sum();
        let of_prior: f64 = (0..4)
            .map(|i| ((parameters[i] - middle[i]) / spread[i]).powi(2))
            .sum();
        of_readings + of_prior
    };
    let mut best = *middle;
    let mut normal = [[0.0; 4]; 4];
    let mut damp = 1e-3;
    for _ in 0..25 {
        let told = model(&best);
        let slopes: Vec<Vec<f64>> = (0..4)
            .map(|i| {
                let step = spread[i] * 1e-3;
                let mut moved = best;
                moved[i] += step;
                let other = model(&moved);
                other
                    .iter()
                    .zip(&told)
                    .map(|(o, t)| (o - t) / step)
                    .collect()
            })
            .collect();
        let mut right = [0.0; 4];
        for i in 0..4 {
            for j in 0..4 {
                normal[i][j] = (0..read.len())
                    .map(|n| slopes[i][n] * slopes[j][n] / read[n].2.powi(2))
                    .sum();
            }
            normal[i][i] += 1.0 / spread[i].powi(2);
            right[i] = (0..read.len())
                .map(|n| slopes[i][n] * (read[n].1 - told[n]) / read[n].2.powi(2))
                .sum::<f64>()
                + (middle[i] - best[i]) / spread[i].powi(2);
        }
        let mut damped = normal;
        for (i, row) in damped.iter_mut().enumerate() {
            row[i] *= 1.0 + damp;
        }
        let Some(root) = lower_root(&damped) else {
            break;
        };
        let change = solve(&root, &right);
        let moved: [f64; 4] = std::array::from_fn(|i| best[i] + change[i]);
        if cost(&moved) <= cost(&best) {
            best = moved;
            damp = (damp / 10.0).max(1e-9);
            if (0..4).all(|i| change[i].abs() < spread[i] * 1e-4) {
                break;
            }
        } else {
            damp *= 10.0;
        }
    }
    // The covariance is the inverse of the normal matrix, column by column.
    let mut covariance = [[0.0; 4]; 4];
    if let Some(root) = lower_root(&normal) {
        for column in 0..4 {
            let mut unit = [0.0; 4];
            unit[column] = 1.0;
            let solved = solve(&root, &unit);
            for row in 0..4 {
                covariance[row][column] = solved[row];
            }
        }
    } else {
        for i in 0..4 {
            covariance[i][i] = spread[i].powi(2);
        }
    }
    let root = lower_root(&covariance).unwrap_or_else(|| {
        let mut own = [[0.0; 4]; 4];
        for i in 0..4 {
            own[i][i] = spread[i];
        }
        own
    });
    (best, root)
}

/// Cholesky's root of a symmetric matrix; nothing where it is not positive.
fn lower_root(m: &[[f64; 4]; 4]) -> Option<[[f64; 4]; 4]> {
    let mut root = [[0.0; 4]; 4];
    for i in 0..4 {
        for j in 0..=i {
            let sum: f64 = (0..j).map(|k| root[i][k] * root[j][k]).sum();
            if i == j {
                let rest = m[i][i] - sum;
                if rest.is_nan() || rest <= 0.0 {
                    return None;
                }
                root[i][i] = rest.sqrt();
            } else {
                root[i][j] = (m[i][j] - sum) / root[j][j];
            }
        }
    }
    Some(root)
}

/// Solves with a matrix whose lower root is given.
fn solve(root: &[[f64; 4]; 4], right: &[f64; 4]) -> [f64; 4] {
    let mut y = [0.0; 4];
    for i in 0..4 {
        let sum: f64 = (0..i).map(|k| root[i][k] * y[k]).sum();
        y[i] = (right[i] - sum) / root[i][i];
    }
    let mut x = [0.0; 4];
    for i in (0..4).rev() {
        let sum: f64 = (i + 1..4).map(|k| root[k][i] * x[k]).sum();
        x[i] = (y[i] - sum) / root[i][i];
    }
    x
}
