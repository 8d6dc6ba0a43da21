//! How long a letter, a metre or a square metre of old film takes: a prior by what it is, and what timed patches say of it.
//!
//! `y = ln(time / amount)` is normal with variance `σ²/w`, `w` the amount against a usual patch; mean and variance have a normal-inverse-gamma
//! prior, whose update is in closed form (any textbook on conjugate analysis). All figures of the prior are ours; test patches replace them quickly.

use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, StudentsT};

use super::old::{ColdCorner, CountedIn, OldGraphic, OldKind};
use crate::vehicle::surface::Material;

/// The two phases of taking film off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Phase {
    /// The film.
    Film,
    /// The adhesive that stayed behind.
    Adhesive,
}

/// What a patch stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PatchAs {
    /// The worst place there is.
    Worst,
    /// As most of it is.
    Typical,
    /// An easy place.
    Easy,
}

impl PatchAs {
    /// Every one.
    pub const ALL: [PatchAs; 3] = [PatchAs::Worst, PatchAs::Typical, PatchAs::Easy];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            PatchAs::Worst => "worst place",
            PatchAs::Typical => "typical",
            PatchAs::Easy => "easy place",
        }
    }

    /// It takes so many times what is typical (ours).
    pub fn times_typical(self) -> f64 {
        match self {
            PatchAs::Worst => 1.6,
            PatchAs::Typical => 1.0,
            PatchAs::Easy => 0.65,
        }
    }
}

/// Something that was timed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Timed {
    /// How long, seconds; more than 0.
    pub seconds: f64,
    /// How much, in letters, metres or square metres; more than 0.
    pub amount: f64,
    /// What it stands for.
    pub stands_for: PatchAs,
}

/// What is known of the rate of one phase: normal-inverse-gamma over mean and variance of `ln(seconds / amount)`.
///
/// ```
/// # use windrift_core::floor::strip::old::CountedIn;
/// # use windrift_core::floor::strip::rate::{PatchAs, Rate, Timed};
/// // A prior at 20 s for each letter; then five letters took 150 s: 30 s each, and the range is narrower.
/// let before = Rate::prior(20.0, CountedIn::Letters);
/// let after = before.with(&[Timed { seconds: 150.0, amount: 5.0, stands_for: PatchAs::Typical }]);
/// let wide = |r: &Rate| r.quantile(0.9) / r.quantile(0.1);
/// assert!((before.quantile(0.5) - 20.0).abs() < 1e-6);
/// assert!(after.quantile(0.5) > 25.0 && after.quantile(0.5) < 30.0 && wide(&after) < wide(&before));
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rate {
    /// Mean of `ln(seconds / amount)`.
    pub mean: f64,
    /// How many usual patches the mean counts for.
    pub kappa: f64,
    /// Shape of the variance.
    pub alpha: f64,
    /// Scale of the variance.
    pub beta: f64,
    /// What is counted.
    pub counted: CountedIn,
}

/// Variance of `ln(time/amount)` from patch to patch of one graphic that is expected (ours): a third more or less.
const PATCH_VARIANCE: f64 = 0.1225;
/// Variance of the mean before anything is timed (ours): nearly twice or half.
const PRIOR_VARIANCE: f64 = 0.36;
/// How sure the variance is before anything is timed (ours).
const PRIOR_ALPHA: f64 = 3.0;
/// From job to job of one kind in one shop, the mean varies by this (ours).
const BETWEEN_JOBS: f64 = 0.09;

impl Rate {
    /// The prior whose median is so many seconds for one of what is counted.
    pub fn prior(seconds: f64, counted: CountedIn) -> Rate {
        Rate {
            mean: seconds.ln(),
            kappa: PATCH_VARIANCE / PRIOR_VARIANCE,
            alpha: PRIOR_ALPHA,
            beta: PATCH_VARIANCE * (PRIOR_ALPHA - 1.0),
            counted,
        }
    }

    /// The prior that a shop's own finished jobs make of it: each job says by how much, as a logarithm, it was slower than Windrift's figures, and how
    /// sure that is (variance). What jobs of a shop share and what they do not are told apart; without jobs it is the prior itself.
    ///
    /// ```
    /// # use windrift_core::floor::strip::{old::CountedIn, rate::Rate};
    /// let ours = Rate::prior(20.0, CountedIn::Letters);
    /// // Four jobs that all took twice as long.
    /// let shops = ours.learnt(&[(2f64.ln(), 0.02); 4]);
    /// assert!(shops.quantile(0.5) > 35.0 && shops.quantile(0.5) < 40.0);
    /// assert_eq!(ours.learnt(&[]), ours);
    /// ```
    pub fn learnt(self, jobs: &[(f64, f64)]) -> Rate {
        if jobs.is_empty() {
            return self;
        }
        let shared = PRIOR_VARIANCE - BETWEEN_JOBS;
        let mut precision = 1.0 / shared;
        let mut weighted = 0.0;
        for (slower, variance) in jobs {
            let p = 1.0 / (BETWEEN_JOBS + variance.max(1e-4));
            precision += p;
            weighted += p * slower;
        }
        let variance = 1.0 / precision + BETWEEN_JOBS;
        Rate {
            mean: self.mean + weighted / precision,
            kappa: PATCH_VARIANCE / variance,
            ..self
        }
    }

    /// What is known once these were timed. What is no time or no amount counts for nothing.
    pub fn with(self, timed: &[Timed]) -> Rate {
        let usable = timed.iter().filter(|t| {
            t.seconds.is_finite() && t.amount.is_finite() && t.seconds > 0.0 && t.amount > 0.0
        });
        let seen: Vec<(f64, f64)> = usable
            .map(|t| {
                let y = (t.seconds / t.amount / t.stands_for.times_typical()).ln();
                (y, t.amount / self.counted.patch())
            })
            .collect();
        let weight: f64 = seen.iter().map(|(_, w)| w).sum();
        if weight <= 0.0 {
            return self;
        }
        let middle = seen.iter().map(|(y, w)| w * y).sum::<f64>() / weight;
        let spread: f64 = seen.iter().map(|(y, w)| w * (y - middle).powi(2)).sum();
        let kappa = self.kappa + weight;
        let away = self.kappa * weight * (middle - self.mean).powi(2) / kappa;
        Rate {
            mean: (self.kappa * self.mean + weight * middle) / kappa,
            kappa,
            alpha: self.alpha + seen.len() as f64 / 2.0,
            beta: self.beta + 0.5 * (spread + away),
            counted: self.counted,
        }
    }

    /// Seconds for one of what is counted, over a whole graphic, that the rate stays under with probability `p`, from 0.001 to 0.999.
    pub fn quantile(&self, p: f64) -> f64 {
        let scale = (self.beta / self.alpha / self.kappa).sqrt();
        // Its shape is more than 0 always: a mean of 0 and a scale of 1 stand for where none is.
        let t = StudentsT::new(0.0, 1.0, 2.0 * self.alpha)
            .map_or(0.0, |t| t.inverse_cdf(p.clamp(0.001, 0.999)));
        (self.mean + scale * t).exp()
    }
}

/// Windrift's own seconds for one of it, film and adhesive, young and off the sun on sound paint (ours).
fn base(kind: OldKind, counted: CountedIn) -> (f64, f64) {
    let minutes = match (kind, counted) {
        (_, CountedIn::Letters) => (0.3, 0.25),
        (OldKind::PrismaticStrip, _) => (4.0, 4.0),
        (_, CountedIn::Metres) => (1.0, 0.75),
        (OldKind::CutLettering | OldKind::Stripe | OldKind::Print, _) => (12.0, 10.0),
        (OldKind::RemovableReflective, _) => (15.0, 8.0),
        (OldKind::PermanentReflective, _) => (40.0, 45.0),
        (OldKind::ThickKit, _) => (15.0, 15.0),
    };
    (minutes.0 * 60.0, minutes.1 * 60.0)
}

/// The prior of both phases for an old graphic on what lies under it, before anything is timed: film, adhesive.
pub fn priors(old: &OldGraphic, under: Material) -> (Rate, Rate) {
    let counted = old.counted();
    let (film, adhesive) = base(old.kind, counted);
    // At half its life as when new, at twice its life six times that (ours).
    let worn = 6f64.powf(((old.worn() - 0.5) / 1.5).clamp(0.0, 1.0));
    let corner = match old.cold_corner {
        ColdCorner::NotTried | ColdCorner::Tears => 1.0,
        ColdCorner::Whole => 0.5,
        ColdCorner::Chips => 1.8,
    };
    let careful = match under {
        Material::Glass => 0.8,
        Material::PaintedSteel
        | Material::PaintedAluminium
        | Material::BareAluminium
        | Material::Stainless => 1.0,
        _ => 1.3,
    } * if old.unknown_paint { 1.5 } else { 1.0 };
    let (mut film, mut adhesive) = (
        film * worn * corner * careful,
        adhesive * worn.sqrt() * careful,
    );
    if let Some(own) = old.own_minutes {
        let times = own * 60.0 / (film + adhesive);
        film *= times;
        adhesive *= times;
    }
    (Rate::prior(film, counted), Rate::prior(adhesive, counted))
}
