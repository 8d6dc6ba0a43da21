//! An outline as readings of the tape, typed line by line and printed the same.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::ground::mm::SignedMm;
use crate::ground::tape::{LengthError, Unit, parse_signed, print};

/// One reading of an outline: so far along the datum, so far plumb down from it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reading {
    /// Along the datum from the zero of the tape, mm.
    pub back_mm: SignedMm,
    /// Plumb down from the datum, mm; less than 0 above it.
    pub drop_mm: SignedMm,
    /// Whether the outline bends round here instead of turning a corner.
    #[serde(default)]
    pub rounded: bool,
}

/// A line of typed readings that cannot be read. Says which and why.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ReadingsError {
    /// A line that is not two lengths.
    #[error(
        "Line {0} is not two lengths. Type how far back, a comma, how far down: 6' 2, 31 1/2. An r at the end rounds it."
    )]
    NotTwo(usize),
    /// A length in a line that cannot be read.
    #[error("Line {line}: {why}")]
    Length {
        /// Number of the line, from 1.
        line: usize,
        /// What is wrong with the length.
        why: LengthError,
    },
}

/// Reads an outline typed like a list: on each line how far back, a comma, how far down, and an `r` where it bends round.
/// Empty lines are passed over.
pub fn parse_readings(text: &str, unit: Unit) -> Result<Vec<Reading>, ReadingsError> {
    let mut points = Vec::new();
    for (n, line) in text.lines().enumerate() {
        let line = line.trim();
        if line.is_empty() {
            continue;
        }
        let (line, rounded) = match line.strip_suffix(['r', 'R']) {
            Some(rest) => (rest.trim_end().trim_end_matches([',', ';']), true),
            None => (line, false),
        };
        let mut parts = line.split([',', ';', '\t']).map(str::trim);
        let (Some(back), Some(drop), None) = (parts.next(), parts.next(), parts.next()) else {
            return Err(ReadingsError::NotTwo(n + 1));
        };
        let read = |text: &str| {
            parse_signed(text, unit).map_err(|why| ReadingsError::Length { line: n + 1, why })
        };
        points.push(Reading {
            back_mm: (read(back)?).into(),
            drop_mm: (read(drop)?).into(),
            rounded,
        });
    }
    Ok(points)
}

/// Readings as the list that [`parse_readings`] reads.
pub fn print_readings(points: &[Reading], unit: Unit) -> String {
    points
        .iter()
        .map(|p| {
            let rounded = if p.rounded { " r" } else { "" };
            format!(
                "{}, {}{rounded}\n",
                print(p.back_mm.mm(), unit).text,
                print(p.drop_mm.mm(), unit).text
            )
        })
        .collect()
}
