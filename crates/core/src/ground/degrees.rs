//! Temperatures as a shop's thermometer shows them.

use crate::ground::tape::Unit;

/// °F for a tape in inches, °C for one in millimetres.
pub fn sign(unit: Unit) -> &'static str {
    match unit {
        Unit::Millimetre => "\u{b0}C",
        _ => "\u{b0}F",
    }
}

/// A temperature in words, to the whole degree.
///
/// ```
/// # use windrift_core::ground::{degrees::told, tape::Unit};
/// assert_eq!(told(20.0, Unit::InchSixteenth), "68 \u{b0}F");
/// assert_eq!(told(20.0, Unit::Millimetre), "20 \u{b0}C");
/// ```
pub fn told(celsius: f64, unit: Unit) -> String {
    let shown = match unit {
        Unit::Millimetre => celsius,
        _ => celsius * 1.8 + 32.0,
    };
    // Never "-0".
    format!("{:.0} {}", shown.round() + 0.0, sign(unit))
}

/// How far two temperatures lie apart, to a tenth: `5.4 °F`.
pub fn apart(celsius: f64, unit: Unit) -> String {
    let shown = match unit {
        Unit::Millimetre => celsius,
        _ => celsius * 1.8,
    };
    format!("{:.1} {}", shown, sign(unit))
}
