//! What is on a side that matters to film, as a fitter measures it: back along a reference, then plumb down from it (a *drop*).
//!
//! A feature is a *kind* (what it is to film) and a *form* (how it is measured); most forms repeat by pitch.

mod check;
pub mod form;
pub mod kind;

use serde::{Deserialize, Serialize};
use uuid::Uuid;

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
    pub clearance_mm: f64,
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
            clearance_mm: kind.usual_clearance_mm(),
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::vehicle::body::readings::Reading;
    use crate::vehicle::feature::form::MeasuredTo;
    use crate::vehicle::feature::form::Repeat;
    use crate::vehicle::feature::kind::FeatureClass;

    fn field(feature: Feature) -> Option<&'static str> {
        feature.check().err().map(|e| e.field)
    }

    fn rectangle(width_mm: f64) -> Form {
        Form::Rectangle {
            back_mm: 100.0,
            drop_mm: 100.0,
            to: MeasuredTo::Corner,
            width_mm,
            height_mm: 50.0,
            repeat: Repeat::ONCE,
        }
    }

    #[test]
    fn a_kind_is_measured_in_its_own_ways() {
        for kind in FeatureKind::ALL {
            let form = match kind.class() {
                FeatureClass::Heads => Form::Heads {
                    first_mm: 10.0,
                    pitch_mm: 0.0,
                    columns: 1,
                    first_head_mm: 10.0,
                    head_pitch_mm: 0.0,
                    heads: 1,
                    head_mm: 12.0,
                },
                FeatureClass::Line => Form::Upright {
                    first_mm: 10.0,
                    pitch_mm: 0.0,
                    count: 1,
                },
                FeatureClass::KeepOff | FeatureClass::Zone => rectangle(60.0),
            };
            assert_eq!(field(Feature::new(kind, form)), None, "{kind:?}");
        }
        let upright = Form::Upright {
            first_mm: 10.0,
            pitch_mm: 0.0,
            count: 1,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::Lamp, upright)),
            Some("form")
        );
        let bare = Feature {
            details: None,
            ..Feature::new(FeatureKind::Recess, rectangle(60.0))
        };
        assert_eq!(field(bare), Some("details"));
    }

    #[test]
    fn sizes_and_pitches_of_nothing_are_refused_by_field() {
        assert_eq!(
            field(Feature::new(FeatureKind::Handle, rectangle(0.0))),
            Some("width_mm")
        );
        assert_eq!(
            field(Feature::new(FeatureKind::Handle, rectangle(f64::NAN))),
            Some("width_mm")
        );
        let seams = |pitch_mm, count| Form::Upright {
            first_mm: 10.0,
            pitch_mm,
            count,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::PanelSeam, seams(0.0, 2))),
            Some("pitch_mm")
        );
        assert_eq!(
            field(Feature::new(FeatureKind::PanelSeam, seams(10.0, 0))),
            Some("count")
        );
        let dot = Form::Straight {
            back_mm: 5.0,
            drop_mm: 5.0,
            to_back_mm: 5.0,
            to_drop_mm: 5.0,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::Crease, dot)),
            Some("to_back_mm")
        );
    }

    #[test]
    fn a_zone_that_crosses_itself_is_refused() {
        let reading = |back_mm, drop_mm| Reading {
            back_mm,
            drop_mm,
            rounded: false,
        };
        let points = vec![
            reading(0.0, 0.0),
            reading(100.0, 100.0),
            reading(100.0, 0.0),
            reading(0.0, 100.0),
        ];
        let zone = Feature::new(
            FeatureKind::TexturedZone,
            Form::Path {
                points,
                closed: true,
            },
        );
        assert!(
            zone.check()
                .is_err_and(|e| e.sentence.contains("crosses itself"))
        );
    }
}
