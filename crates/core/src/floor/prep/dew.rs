//! Dew point, and how far a surface must stay above it.

/// A surface stays above the dew point by this, °C: ISO 8502-4 says so of paint on steel; for film it is taken by analogy.
pub const DEW_MARGIN_CELSIUS: f64 = 3.0;

/// The dew point over water, °C, of air at a temperature, °C, and relative humidity, percent: Magnus's form with Sonntag's constants (17.62 and
/// 243.12, from memory), within 0.1 °C of the psychrometric tables from 1 to 50 °C. Below 0 °C it is the dew point, not the frost point.
///
/// `None` for air outside -45 to 60 °C, and for humidity that is none.
///
/// ```
/// # use windrift_core::floor::prep::dew::dew_point;
/// assert!((dew_point(20.0, 50.0).unwrap() - 9.3).abs() < 0.1);
/// assert!(dew_point(20.0, 140.0).is_none());
/// ```
pub fn dew_point(celsius: f64, humidity: f64) -> Option<f64> {
    if !(-45.0..=60.0).contains(&celsius) || !(1.0..=100.0).contains(&humidity) {
        return None;
    }
    let (a, b) = (17.62, 243.12);
    let g = (humidity / 100.0).ln() + a * celsius / (b + celsius);
    Some(b * g / (a - g))
}
