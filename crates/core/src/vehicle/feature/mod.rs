//! What is on a side that matters to film, as a fitter measures it: back along a reference, then plumb down from it (a *drop*).
//!
//! A feature is a *kind* (what it is to film) and a *form* (how it is measured); most forms repeat by pitch.

mod check;
pub mod form;
pub mod kind;
pub mod said;

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::mm::Mm;
use crate::vehicle::feature::form::Form;
use crate::vehicle::feature::kind::{ComesOff, Details, FeatureKind, usual_details};

/// Most rivets in one feature and on one side.
pub const MOST_RIVETS: u64 = 5_000;

/// Most parts of one repeated feature.
pub const MOST_PARTS: u32 = 500;

/// Most points in a feature's own outline.
pub const MOST_POINTS: usize = 200;

/// Something on a side, as it is measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Feature {
    /// What it is.
    pub kind: FeatureKind,
    /// What the shop calls it, where that is more than its kind.
    #[serde(default)]
    pub called: Option<String>,
    /// The reference that it is measured from; `None` is the rail.
    #[serde(default)]
    pub reference: Option<Uuid>,
    /// How it is measured.
    pub form: Form,
    /// How far film keeps off it, mm.
    #[serde(default)]
    pub clearance_mm: Mm,
    /// Whether it comes off first.
    #[serde(default)]
    pub comes_off: ComesOff,
    /// What else is measured of it.
    #[serde(default)]
    pub details: Option<Details>,
    /// A word about it: what to do where it stays, which tool takes it off.
    #[serde(default)]
    pub note: String,
}

/// A feature with the row that it is kept in.
#[derive(Debug, Clone, PartialEq)]
pub struct SideFeature {
    /// The feature's own key.
    pub id: Uuid,
    /// What was measured.
    pub feature: Feature,
}

impl Feature {
    /// A feature of this kind with its usual clearance, staying where it is.
    pub fn new(kind: FeatureKind, form: Form) -> Feature {
        Feature {
            kind,
            called: None,
            reference: None,
            form,
            clearance_mm: kind.usual_clearance_mm().into(),
            comes_off: ComesOff::Stays,
            details: usual_details(kind),
            note: String::new(),
        }
    }

    /// What it is called: the shop's own word, or its kind.
    pub fn name(&self) -> &str {
        match self.called.as_deref().map(str::trim) {
            Some(called) if !called.is_empty() => called,
            _ => self.kind.names().0,
        }
    }
}
