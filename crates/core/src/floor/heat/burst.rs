//! Short bursts over film that does not touch the panel: round a rivet head, in a hollow, over a gap. It has only itself to warm, a hundredth of what steel
//! takes, and is past its ceiling before anybody has counted to one.

use serde::Serialize;

use super::gun::Gun;
use super::panel::{STILL_AIR, film_alone_holds};

/// Film round a rivet head is formed no warmer than this, °C: 200 °F, common practice.
pub const RIVET_CEILING: f64 = 93.3;
/// The longest burst passes the ceiling with one gun in so many (ours).
pub const PASSES: f64 = 0.05;
/// Nobody moves a gun in and out faster, s (ours).
pub const FASTEST_S: f64 = 0.2;

/// How long a burst may be.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Burst {
    /// At most so long, s: with one gun in twenty film passes its ceiling sooner.
    pub longest_s: f64,
    /// Half of all guns take so long to the ceiling, s; nothing where half never bring it there.
    pub half_s: Option<f64>,
}

impl Burst {
    /// Whether somebody can move a gun in and out so fast.
    pub fn can_be_done(&self) -> bool {
        self.longest_s >= FASTEST_S
    }
}

/// How long a gun takes to bring film that lies on nothing to a temperature, s; infinite where it never does.
///
/// One temperature through the film, the jet on its face and still air behind: `c T' = h (T_jet - T) - s (T - T_start)`.
///
/// ```
/// # use windrift_core::floor::heat::{burst::seconds_to, gun::Gun};
/// let gun = Gun { jet_celsius: 260.0, coefficient: 80.0, emissivity: 0.9, lag_s: 0.5, delay_s: 2.0 };
/// let second = seconds_to(&gun, 0.1, 20.0, 93.0);
/// assert!((0.5..1.0).contains(&second));
/// // Thinner film is there sooner; what the jet is not, film never is.
/// assert!(seconds_to(&gun, 0.05, 20.0, 93.0) < second);
/// assert!(seconds_to(&gun, 0.1, 20.0, 260.0).is_infinite());
/// ```
pub fn seconds_to(gun: &Gun, film_mm: f64, start: f64, celsius: f64) -> f64 {
    let heats = gun.coefficient + STILL_AIR;
    let comes_to = (gun.coefficient * gun.jet_celsius + STILL_AIR * start) / heats;
    if celsius <= start {
        return 0.0;
    }
    if comes_to <= celsius {
        return f64::INFINITY;
    }
    film_alone_holds(film_mm) / heats * ((comes_to - start) / (comes_to - celsius)).ln()
}
