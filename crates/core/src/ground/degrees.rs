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

/// From one temperature to another, `185 to 195 °F`; one where both are told the same.
///
/// ```
/// # use windrift_core::ground::{degrees::span, tape::Unit};
/// assert_eq!(span(85.0, 90.55, Unit::InchSixteenth), "185 to 195 \u{b0}F");
/// assert_eq!(span(87.8, 87.8, Unit::Millimetre), "88 \u{b0}C");
/// ```
pub fn span(from: f64, to: f64, unit: Unit) -> String {
    let (first, last) = (told(from, unit), told(to, unit));
    if first == last {
        return first;
    }
    let number = first.split(' ').next().unwrap_or_default();
    format!("{number} to {last}")
}

/// How far two temperatures lie apart, to a tenth: `5.4 °F`.
pub fn apart(celsius: f64, unit: Unit) -> String {
    let shown = match unit {
        Unit::Millimetre => celsius,
        _ => celsius * 1.8,
    };
    format!("{:.1} {}", shown, sign(unit))
}
