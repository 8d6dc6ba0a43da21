//! Regulated marks that lay themselves out and check themselves: small-craft numbers, vessel names, carrier marks.
//!
//! The figures are from memory of the published rules and are shown so: check them against the text in force. The operator and the
//! competent authority have the last word.

mod boat_number;
mod carrier_mark;
pub mod check;
pub mod lay_out;
mod vessel_name;

use serde::{Deserialize, Serialize};

use crate::art::drawn::Drawn;
use crate::art::lettering::Lettering;
use crate::ground::colour::contrast;
use crate::ground::tape::{Unit, print};
use crate::vehicle::measured::MeasuredSide;

/// Least height of a small-craft number, mm: 3 in (33 CFR 173.27(a)(2)).
pub const BOAT_NUMBER_MM: f64 = 76.2;

/// Least height of a documented vessel's name and hailing port, mm: 4 in (46 CFR 67.123(d)).
pub const VESSEL_NAME_MM: f64 = 101.6;

/// Distance at which a carrier's marks are to be legible, mm: 50 ft (49 CFR 390.21(c)(3)).
pub const CARRIER_DISTANCE_MM: f64 = 15_240.0;

/// Contrast ratio that stands for "contrasts sharply" (ours: no rule gives one; 4.5 is what WCAG 2 asks of body text).
pub const CONTRAST: f64 = 4.5;

/// Drawn and asked heights may differ by this, mm.
pub(crate) const SLACK_MM: f64 = 0.05;

/// How a clause is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Kept {
    /// It is kept.
    Yes,
    /// It is not.
    No,
    /// The plan does not tell.
    CannotTell,
}

/// One clause, checked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Which clause: `33 CFR 173.27(a)(2)`.
    pub clause: String,
    /// What it asks, in our words.
    pub asks: String,
    /// What was measured.
    pub measured: String,
    /// Whether it is kept.
    pub kept: Kept,
}

/// What the check may know beside the piece itself.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Elsewhere {
    /// Whether the same mark is on the side that mirrors this one; `None` where the job has no such side.
    pub on_other_side: Option<bool>,
}

pub(crate) fn finding(clause: &str, asks: &str, measured: String, kept: Option<bool>) -> Finding {
    Finding {
        clause: clause.to_owned(),
        asks: asks.to_owned(),
        measured,
        kept: match kept {
            Some(true) => Kept::Yes,
            Some(false) => Kept::No,
            None => Kept::CannotTell,
        },
    }
}

/// Least height of a letter or digit, mm; marks such as full stops and hyphens do not count.
pub(crate) fn least_height(drawn: &Drawn) -> f64 {
    drawn
        .parts
        .iter()
        .filter(|p| p.label.chars().all(char::is_alphanumeric))
        .map(|p| p.bounds.height())
        .fold(f64::INFINITY, f64::min)
}

pub(crate) fn height(clause: &str, asks: &str, drawn: &Drawn, least: f64, unit: Unit) -> Finding {
    let found = least_height(drawn);
    let kept = found.is_finite().then_some(found >= least - SLACK_MM);
    finding(
        clause,
        asks,
        format!("shortest letter {}", print(found.min(1e6), unit).text),
        kept,
    )
}

pub(crate) fn contrast_finding(
    clause: &str,
    lettering: &Lettering,
    side: &MeasuredSide,
) -> Finding {
    let asks = "Contrasts with the background. No rule gives a ratio: Windrift's own stand-in is 4.5 to 1.";
    let ratio = side
        .side
        .colour
        .as_deref()
        .and_then(|body| contrast(&lettering.colour, body));
    match ratio {
        Some(ratio) => finding(
            clause,
            asks,
            format!("{ratio:.1} to 1"),
            Some(ratio >= CONTRAST),
        ),
        None => finding(
            clause,
            asks,
            "the colour of this side is not known; give it under Look over".into(),
            None,
        ),
    }
}

pub(crate) fn other_side(clause: &str, asks: &str, elsewhere: Elsewhere) -> Finding {
    let measured = match elsewhere.on_other_side {
        Some(true) => "the same mark is on the other side",
        Some(false) => "it is not on the other side yet",
        None => "this job has no other side yet",
    };
    finding(clause, asks, measured.into(), elsewhere.on_other_side)
}
