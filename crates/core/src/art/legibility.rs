//! From how far lettering is read, standing still and in passing.
//!
//! Sources: 1 in of letter height for each 30 ft (MUTCD 2A.13, guidance for traffic signs); best effect at 10 ft for each inch
//! (trade rule of thumb); a letter of 5 minutes of arc is the threshold of 20/20 sight; reading takes about 1 s for 3 to 4 words
//! (from memory). All assume good contrast and a plain face.

use serde::{Deserialize, Serialize};

use crate::ground::tape::Unit;

/// Legibility distance over letter height by MUTCD 2A.13: 30 ft for an inch.
pub const MUTCD_RATIO: f64 = 360.0;
/// Distance of best effect over letter height: 10 ft for an inch.
pub const BEST_RATIO: f64 = 120.0;
/// Angle of a letter at the threshold of 20/20 sight, minutes of arc.
const THRESHOLD_MINUTES: f64 = 5.0;
/// Words read in a second (from memory: 3 to 4).
const WORDS_A_SECOND: f64 = 3.5;

/// Whether lettering is read in passing at a speed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InPassing {
    /// The speed between viewer and vehicle, as said: `30 mph`.
    pub speed: String,
    /// Seconds from where it becomes legible to where it is passed.
    pub seconds: f64,
    /// Seconds that reading it takes.
    pub needed: f64,
}

/// From how far lettering is read.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Legibility {
    /// Best effect up to here, m.
    pub best_m: f64,
    /// Legible up to here, m.
    pub legible_m: f64,
    /// Nobody reads it from farther, m.
    pub threshold_m: f64,
    /// In passing, slow and fast.
    pub passing: Vec<InPassing>,
    /// What that means, one sentence each, with its source.
    pub sentences: Vec<String>,
}

/// A distance in feet or metres as it is said.
fn said(metres: f64, unit: Unit) -> String {
    if unit == Unit::Millimetre {
        format!("{metres:.0} m")
    } else {
        format!("{:.0} ft", metres / 0.3048)
    }
}

/// Distance at which a letter of this height is at the threshold of 20/20 sight, in the unit of the height.
pub fn threshold(height: f64) -> f64 {
    height / (2.0 * (THRESHOLD_MINUTES / 60.0 / 2.0).to_radians().tan())
}

/// From how far lettering of this letter height (mm) and these words is read.
///
/// ```
/// # use windrift_core::{art::legibility::report, ground::tape::Unit};
/// // Letters of 12 in, four words.
/// let found = report(304.8, "HAVEN COLD STORE LTD", Unit::InchSixteenth);
/// // 30 ft for an inch of height (MUTCD 2A.13): 12 in are legible to 360 ft, 109.7 m.
/// assert!((found.legible_m - 109.728).abs() < 1e-6 && found.best_m < found.legible_m);
/// ```
pub fn report(height_mm: f64, words: &str, unit: Unit) -> Legibility {
    let metres = |ratio: f64| height_mm * ratio / 1000.0;
    let (best_m, legible_m) = (metres(BEST_RATIO), metres(MUTCD_RATIO));
    let threshold_m = threshold(height_mm) / 1000.0;
    let needed = (words.split_whitespace().count() as f64 / WORDS_A_SECOND).max(1.0);
    let speeds = if unit == Unit::Millimetre {
        [("50 km/h", 50.0 / 3.6), ("90 km/h", 90.0 / 3.6)]
    } else {
        [("30 mph", 30.0 * 0.44704), ("55 mph", 55.0 * 0.44704)]
    };
    let passing: Vec<InPassing> = speeds
        .into_iter()
        .map(|(speed, metres_a_second)| InPassing {
            speed: speed.to_owned(),
            seconds: legible_m / metres_a_second,
            needed,
        })
        .collect();
    let mut sentences = vec![format!(
        "Standing still: best up to {}, legible up to {} (1 in for each 30 ft, MUTCD 2A.13, guidance for traffic signs), not beyond {} (5 minutes of arc).",
        said(best_m, unit),
        said(legible_m, unit),
        said(threshold_m, unit)
    )];
    for pass in &passing {
        sentences.push(if pass.seconds >= pass.needed {
            format!(
                "Passing at {}: {:.1} s to read it, {:.1} s needed. It can be read.",
                pass.speed, pass.seconds, pass.needed
            )
        } else {
            format!(
                "Passing at {}: only {:.1} s to read it, {:.1} s needed. Fewer words or larger letters.",
                pass.speed, pass.seconds, pass.needed
            )
        });
    }
    sentences.push("Reading time of 3 to 4 words a second is from memory; good contrast and a plain face are assumed.".to_owned());
    Legibility {
        best_m,
        legible_m,
        threshold_m,
        passing,
        sentences,
    }
}
