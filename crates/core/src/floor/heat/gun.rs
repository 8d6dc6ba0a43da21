//! A heat gun and a thermometer nobody measured: five things that are unknown, what is believed of them before, and what a reading would show.
//!
//! Before the first reading (ours, after handbook ranges: outlets of 50 to 650 °C, jets of 50 to 200 W/(m² K) at 1 to 3 in): jet about 260 °C, coefficient about
//! 80, both log-normal; the film's emissivity 0.85 to 0.97; the thermometer's lag 0.3 to 1 s; it is read 1 to 3 s after the jet has passed.

use std::sync::LazyLock;

use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, LogNormal, Uniform};

/// A gun with the thermometer that follows it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gun {
    /// The jet where it meets the film, °C.
    pub jet_celsius: f64,
    /// How it heats in its middle, W/(m² K).
    pub coefficient: f64,
    /// Emissivity of the film.
    pub emissivity: f64,
    /// Time constant of the thermometer, s.
    pub lag_s: f64,
    /// Read so long after the middle of the jet has passed, s.
    pub delay_s: f64,
}

/// What infrared thermometers are set to when they are unpacked.
const SET_TO: f64 = 0.95;
/// Kelvin at 0 °C.
const KELVIN: f64 = 273.15;
/// Guns that are tried side by side.
const GUNS: usize = 4000;

impl Gun {
    /// One gun as it may be; the same source of chance gives the same gun.
    pub fn as_it_may_be(chance: &mut ChaCha8Rng) -> Gun {
        let spread = |median: f64, spread: f64, chance: &mut ChaCha8Rng| {
            LogNormal::new(median.ln(), spread).map_or(median, |d| d.sample(chance))
        };
        let between = |from: f64, to: f64, chance: &mut ChaCha8Rng| {
            Uniform::new(from, to).map_or(from, |d| d.sample(chance))
        };
        Gun {
            jet_celsius: spread(260.0, 0.22, chance).clamp(120.0, 600.0),
            coefficient: spread(80.0, 0.4, chance).clamp(25.0, 260.0),
            emissivity: between(0.85, 0.97, chance),
            lag_s: between(0.3, 1.0, chance),
            delay_s: between(1.0, 3.0, chance),
        }
    }

    /// What the thermometer shows of film at `celsius` that it was aimed at from the jet's passing, having looked at `before` until then, with `air` around, °C.
    ///
    /// Grey-body radiation, `e T^4 + (1 - e) T_air^4`, read as if the emissivity were 0.95; a first-order lag.
    ///
    /// ```
    /// # use windrift_core::floor::heat::gun::Gun;
    /// let gun = Gun { jet_celsius: 260.0, coefficient: 80.0, emissivity: 0.87, lag_s: 0.5, delay_s: 2.0 };
    /// // Less emissivity than it is set to: it shows less than there is.
    /// assert!(gun.shows(90.0, 20.0, 20.0) < 86.0);
    /// assert!((Gun { emissivity: 0.95, lag_s: 0.01, ..gun }.shows(90.0, 20.0, 20.0) - 90.0).abs() < 0.01);
    /// ```
    pub fn shows(&self, celsius: f64, before: f64, air: f64) -> f64 {
        let fourth = |c: f64| (c + KELVIN).powi(4);
        let radiates = self.emissivity * fourth(celsius) + (1.0 - self.emissivity) * fourth(air);
        let still = ((radiates - (1.0 - SET_TO) * fourth(air)) / SET_TO)
            .max(0.0)
            .powf(0.25)
            - KELVIN;
        still - (still - before) * (-self.delay_s / self.lag_s).exp()
    }
}

/// Guns as they may be, the same at every start.
pub fn guns() -> &'static [Gun] {
    static ALL: LazyLock<Vec<Gun>> = LazyLock::new(|| {
        let mut chance = ChaCha8Rng::seed_from_u64(20);
        (0..GUNS).map(|_| Gun::as_it_may_be(&mut chance)).collect()
    });
    &ALL
}
