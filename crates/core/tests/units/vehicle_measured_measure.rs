//! `vehicle::measured::measure` by itself.

use uuid::Uuid;
use windrift_core::ground::measure_error::MeasureError;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::side::Side;

use kurbo::Point;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::form::MeasuredTo;
use windrift_core::vehicle::feature::form::Repeat;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::measured::measure::*;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

fn side(kind: SideKind) -> Side {
    let body = Body::Box {
        length_mm: 7315.2.into(),
        height_mm: 2184.4.into(),
        fall_mm: 0.0.into(),
    };
    Side::new(kind, body, Surface::default())
}

fn on(side: &Side, feature: Feature) -> Result<MeasuredSide, MeasureError> {
    measure(
        side,
        &[SideFeature {
            id: Uuid::nil(),
            feature,
        }],
    )
}

fn columns(first_mm: f64, pitch_mm: f64, columns: u32, heads: u32) -> Feature {
    Feature::new(
        FeatureKind::Rivets,
        Form::Heads {
            first_mm: first_mm.into(),
            pitch_mm: pitch_mm.into(),
            columns,
            first_head_mm: 100.0.into(),
            head_pitch_mm: 150.0.into(),
            heads,
            head_mm: 12.7.into(),
        },
    )
}

fn lamps(rows: u32) -> Feature {
    let form = Form::Rectangle {
        back_mm: 150.0.into(),
        drop_mm: 2000.0.into(),
        to: MeasuredTo::Middle,
        width_mm: 100.0.into(),
        height_mm: 50.0.into(),
        repeat: Repeat {
            count: 3,
            pitch_mm: 3400.0.into(),
            rows,
            row_pitch_mm: 80.0.into(),
        },
    };
    Feature::new(FeatureKind::Lamp, form)
}

#[test]
fn hardware_is_numbered_from_the_front_and_downwards() {
    let names = |rows| {
        on(&side(SideKind::Right), lamps(rows)).map(|s| {
            s.areas
                .iter()
                .map(|a| {
                    (
                        a.name.clone(),
                        a.outline.bounds.center().x.round(),
                        a.outline.bounds.center().y.round(),
                    )
                })
                .collect::<Vec<_>>()
        })
    };
    let lamp = |n: u32, x: f64, y: f64| (format!("lamp {n}"), x, y);
    assert_eq!(
        names(1),
        Ok(vec![
            lamp(1, -150.0, 2000.0),
            lamp(2, -3550.0, 2000.0),
            lamp(3, -6950.0, 2000.0)
        ])
    );
    assert_eq!(
        names(2).map(|n| n[..3].to_vec()),
        Ok(vec![
            lamp(1, -150.0, 2000.0),
            lamp(2, -150.0, 2080.0),
            lamp(3, -3550.0, 2000.0)
        ])
    );
}

#[test]
fn features_off_the_side_are_refused_by_field() {
    let field = |f: Feature| on(&side(SideKind::Left), f).err().map(|e| e.field);
    assert_eq!(field(columns(1200.0, 1220.0, 5, 13)), None);
    assert_eq!(field(columns(1200.0, 1220.0, 7, 13)), Some("pitch_mm"));
    assert_eq!(field(columns(9000.0, 0.0, 1, 13)), Some("first_mm"));
    assert_eq!(field(columns(1200.0, 1220.0, 5, 20)), Some("head_pitch_mm"));
    assert_eq!(field(columns(1200.0, 0.0, 5, 13)), Some("pitch_mm"));
    assert_eq!(field(lamps(4)), Some("row_pitch_mm"));
}

#[test]
fn a_sentence_says_which_one_is_off_and_where() {
    let told = on(&side(SideKind::Left), columns(1200.0, 1220.0, 7, 13))
        .err()
        .map(|e| e.sentence);
    assert_eq!(
        told.as_deref(),
        Some(
            "Number 7 of these rivet columns would be 27' 11 7/16 in (8520 mm) back, past the rear edge. Check the pitch and how many there are."
        )
    );
}

#[test]
fn what_hangs_in_the_air_beside_a_bonnet_is_refused() {
    let body = Body::Van {
        length_mm: 6000.0.into(),
        height_mm: 2400.0.into(),
        bonnet_mm: 900.0.into(),
        bonnet_height_mm: 1100.0.into(),
        screen_mm: 700.0.into(),
        tail_mm: 60.0.into(),
    };
    let van = Side::new(SideKind::Left, body, Surface::default());
    let handle = |back_mm| {
        let form = Form::Round {
            back_mm,
            drop_mm: 300.0.into(),
            across_mm: 40.0.into(),
            repeat: Repeat::ONCE,
        };
        on(&van, Feature::new(FeatureKind::Socket, form))
            .err()
            .map(|e| e.sentence)
    };
    assert!(handle(300.0.into()).is_some_and(|s| s.contains("in the air")));
    assert_eq!(handle(3000.0.into()), None);
}

#[test]
fn a_seam_runs_from_edge_to_edge_of_any_outline() {
    let body = Body::Tank {
        length_mm: 4000.0.into(),
        height_mm: 1800.0.into(),
        end_mm: 400.0.into(),
    };
    let tank = Side::new(SideKind::Left, body, Surface::default());
    let seam = Form::Upright {
        first_mm: 2000.0.into(),
        pitch_mm: 0.0.into(),
        count: 1,
    };
    let line =
        on(&tank, Feature::new(FeatureKind::PanelSeam, seam)).map(|s| s.lines[0].points.clone());
    assert_eq!(
        line,
        Ok(vec![Point::new(2000.0, 0.0), Point::new(2000.0, 1800.0)])
    );
}

#[test]
fn a_feature_hangs_on_the_reference_that_it_was_measured_from() {
    let mut side = side(SideKind::Left);
    let id = Uuid::from_u128(5);
    side.references
        .push(windrift_core::vehicle::side::Reference {
            id,
            name: "body line".into(),
            front_drop_mm: 1000.0.into(),
            rear_drop_mm: 1100.0.into(),
        });
    let handle = Feature {
        reference: Some(id),
        ..Feature::new(
            FeatureKind::Handle,
            Form::Round {
                back_mm: side
                    .datum_of(Some(id))
                    .map_or(0.0.into(), |d| d.length_mm.into()),
                drop_mm: (-50.0).into(),
                across_mm: 40.0.into(),
                repeat: Repeat::ONCE,
            },
        )
    };
    let at = on(&side, handle.clone()).map(|s| s.areas[0].outline.bounds.center());
    assert!(at.is_ok_and(|p| p.distance(Point::new(7315.2, 1050.0)) < 0.1));
    side.references.clear();
    assert!(
        on(&side, handle)
            .is_err_and(|e| e.field == "reference" && e.sentence.contains("no longer there"))
    );
}
