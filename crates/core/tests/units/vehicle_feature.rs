//! `vehicle::feature` by itself.

use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::FeatureKind;

use windrift_core::vehicle::body::readings::Reading;
use windrift_core::vehicle::feature::form::MeasuredTo;
use windrift_core::vehicle::feature::form::Repeat;
use windrift_core::vehicle::feature::kind::FeatureClass;
use windrift_core::vehicle::feature::*;

fn field(feature: Feature) -> Option<&'static str> {
    feature.check().err().map(|e| e.field)
}

fn rectangle(width_mm: f64) -> Form {
    Form::Rectangle {
        back_mm: 100.0.into(),
        drop_mm: 100.0.into(),
        to: MeasuredTo::Corner,
        width_mm: width_mm.into(),
        height_mm: 50.0.into(),
        repeat: Repeat::ONCE,
    }
}

#[test]
fn a_kind_is_measured_in_its_own_ways() {
    for kind in FeatureKind::ALL {
        let form = match kind.class() {
            FeatureClass::Heads => Form::Heads {
                first_mm: 10.0.into(),
                pitch_mm: 0.0.into(),
                columns: 1,
                first_head_mm: 10.0.into(),
                head_pitch_mm: 0.0.into(),
                heads: 1,
                head_mm: 12.0.into(),
            },
            FeatureClass::Line if kind == FeatureKind::FilmEdge => Form::Straight {
                back_mm: 10.0.into(),
                drop_mm: 10.0.into(),
                to_back_mm: 12.0.into(),
                to_drop_mm: 90.0.into(),
            },
            FeatureClass::Line => Form::Upright {
                first_mm: 10.0.into(),
                pitch_mm: 0.0.into(),
                count: 1,
            },
            FeatureClass::KeepOff | FeatureClass::Zone => rectangle(60.0),
        };
        assert_eq!(field(Feature::new(kind, form)), None, "{kind:?}");
    }
    let upright = Form::Upright {
        first_mm: 10.0.into(),
        pitch_mm: 0.0.into(),
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
        first_mm: 10.0.into(),
        pitch_mm,
        count,
    };
    assert_eq!(
        field(Feature::new(FeatureKind::PanelSeam, seams(0.0.into(), 2))),
        Some("pitch_mm")
    );
    assert_eq!(
        field(Feature::new(FeatureKind::PanelSeam, seams(10.0.into(), 0))),
        Some("count")
    );
    let dot = Form::Straight {
        back_mm: 5.0.into(),
        drop_mm: 5.0.into(),
        to_back_mm: 5.0.into(),
        to_drop_mm: 5.0.into(),
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
        reading(0.0.into(), 0.0.into()),
        reading(100.0.into(), 100.0.into()),
        reading(100.0.into(), 0.0.into()),
        reading(0.0.into(), 100.0.into()),
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
