//! A clause and whether it is kept.

use serde::{Deserialize, Serialize};

use crate::marking::rules::Confidence;
use crate::marking::strip::Element;

/// What is said of a clause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Audited {
    /// Kept.
    Pass,
    /// Not kept.
    Fail,
    /// As close as practicable, if a reason is given.
    ReasonNeeded,
    /// As close as practicable, and the reason is given.
    Reasoned,
    /// The figure itself is not sure enough to say.
    FigureUncertain,
    /// Not judged here: nothing that is measured settles it.
    Look,
}

impl Audited {
    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Audited::Pass => "kept",
            Audited::Fail => "not kept",
            Audited::ReasonNeeded => "reason needed",
            Audited::Reasoned => "as close as practicable",
            Audited::FigureUncertain => "figure uncertain",
            Audited::Look => "look",
        }
    }
}

/// One clause, judged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClauseFinding {
    /// Its stable name; a typed reason is kept under it.
    pub key: String,
    /// Which part of the face it is about.
    pub element: Element,
    /// Where it is written, as recalled.
    pub clause: String,
    /// What it asks, in our words.
    pub asks: String,
    /// What was measured.
    pub measured: String,
    /// What follows.
    pub audited: Audited,
    /// How sure what it rests on is, as recalled.
    pub sure: Confidence,
    /// The figure as recalled, where the shop uses another.
    pub corrected_from: Option<f64>,
    /// The reason that was typed.
    pub reason: Option<String>,
    /// Numbers of the strips that it is about, where it is not kept by some only.
    #[serde(default)]
    pub strips: Vec<usize>,
}
