//! A measurement that cannot stand: which field, what is wrong, what to do; and how far measurements go.

use thiserror::Error;

use crate::ground::tape::{Unit, print};

/// Longest side, mm.
pub const LONGEST_MM: f64 = 20_000.0;

/// Highest side, mm.
pub const HIGHEST_MM: f64 = 5_000.0;

/// A measurement that cannot stand. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{sentence}")]
pub struct MeasureError {
    /// The field of the form, as it is stored.
    pub field: &'static str,
    /// One sentence for the installer.
    pub sentence: String,
}

pub(crate) fn require(
    holds: bool,
    field: &'static str,
    sentence: impl Into<String>,
) -> Result<(), MeasureError> {
    if holds {
        return Ok(());
    }
    Err(MeasureError {
        field,
        sentence: sentence.into(),
    })
}

pub(crate) fn require_range(
    mm: f64,
    range: std::ops::RangeInclusive<f64>,
    field: &'static str,
    what: &str,
) -> Result<(), MeasureError> {
    let shown = |mm: f64| format!("{} in ({mm:.0} mm)", print(mm, Unit::InchSixteenth).text);
    require(
        range.contains(&mm),
        field,
        format!(
            "{what} must be from {} to {}. Measure it again.",
            shown(*range.start()),
            shown(*range.end())
        ),
    )
}
