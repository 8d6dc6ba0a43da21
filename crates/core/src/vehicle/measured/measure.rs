//! A side with everything that is on it, worked out in the picture frame.

use uuid::Uuid;

use crate::ground::measure_error::{MeasureError, require};
use crate::vehicle::feature::kind::FeatureClass;
use crate::vehicle::feature::{Feature, MOST_RIVETS, SideFeature};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::measured::ground::Ground;
use crate::vehicle::measured::names::number;
use crate::vehicle::side::Side;

/// Puts a side together from its measurements: every line, column and area in the picture frame, numbered from the front.
///
/// Errors: the first measurement that cannot stand.
pub fn measure(side: &Side, features: &[SideFeature]) -> Result<MeasuredSide, MeasureError> {
    side.check()?;
    let mut measured = MeasuredSide {
        datum: side.datum(),
        outline: side.outline(),
        side: side.clone(),
        lines: Vec::new(),
        columns: Vec::new(),
        areas: Vec::new(),
    };
    for SideFeature { id, feature } in features {
        add(&mut measured, *id, feature)?;
    }
    number(&mut measured);
    Ok(measured)
}

/// Checks one feature on its side without the others.
pub fn check_feature(side: &Side, feature: &Feature) -> Result<(), MeasureError> {
    let alone = SideFeature {
        id: Uuid::nil(),
        feature: feature.clone(),
    };
    measure(side, &[alone]).map(|_| ())
}

fn add(measured: &mut MeasuredSide, id: Uuid, feature: &Feature) -> Result<(), MeasureError> {
    feature.check()?;
    let datum = measured.side.datum_of(feature.reference).ok_or_else(|| MeasureError {
        field: "reference",
        sentence: format!(
            "The reference that the {} is measured from is no longer there. Measure it from the {} instead.",
            feature.name(),
            measured.side.rail
        ),
    })?;
    let there = Ground {
        side: &measured.side,
        outline: &measured.outline,
        datum,
        feature,
    };
    match feature.kind.class() {
        FeatureClass::Heads => {
            let columns = there.columns(id)?;
            measured.columns.extend(columns);
            let heads: usize = measured.columns.iter().map(|c| c.heads.len()).sum();
            require(
                heads as u64 <= MOST_RIVETS,
                "heads",
                format!(
                    "A side may have {MOST_RIVETS} rivets; with these there would be {heads}. Check how many there are."
                ),
            )
        }
        FeatureClass::Line => {
            let lines = there.lines(id)?;
            measured.lines.extend(lines);
            Ok(())
        }
        FeatureClass::KeepOff | FeatureClass::Zone => {
            let areas = there.areas(id)?;
            measured.areas.extend(areas);
            Ok(())
        }
    }
}

#[cfg(test)]
mod tests {
    use crate::vehicle::body::Body;
    use crate::vehicle::feature::form::Form;
    use crate::vehicle::feature::form::MeasuredTo;
    use crate::vehicle::feature::form::Repeat;
    use crate::vehicle::feature::kind::FeatureKind;
    use crate::vehicle::measured::measure::*;
    use crate::vehicle::side::words::SideKind;
    use crate::vehicle::surface::Surface;
    use kurbo::Point;

    fn side(kind: SideKind) -> Side {
        let body = Body::Box {
            length_mm: 7315.2,
            height_mm: 2184.4,
            fall_mm: 0.0,
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
                first_mm,
                pitch_mm,
                columns,
                first_head_mm: 100.0,
                head_pitch_mm: 150.0,
                heads,
                head_mm: 12.7,
            },
        )
    }

    fn lamps(rows: u32) -> Feature {
        let form = Form::Rectangle {
            back_mm: 150.0,
            drop_mm: 2000.0,
            to: MeasuredTo::Middle,
            width_mm: 100.0,
            height_mm: 50.0,
            repeat: Repeat {
                count: 3,
                pitch_mm: 3400.0,
                rows,
                row_pitch_mm: 80.0,
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
            length_mm: 6000.0,
            height_mm: 2400.0,
            bonnet_mm: 900.0,
            bonnet_height_mm: 1100.0,
            screen_mm: 700.0,
            tail_mm: 60.0,
        };
        let van = Side::new(SideKind::Left, body, Surface::default());
        let handle = |back_mm| {
            let form = Form::Round {
                back_mm,
                drop_mm: 300.0,
                across_mm: 40.0,
                repeat: Repeat::ONCE,
            };
            on(&van, Feature::new(FeatureKind::Socket, form))
                .err()
                .map(|e| e.sentence)
        };
        assert!(handle(300.0).is_some_and(|s| s.contains("in the air")));
        assert_eq!(handle(3000.0), None);
    }

    #[test]
    fn a_seam_runs_from_edge_to_edge_of_any_outline() {
        let body = Body::Tank {
            length_mm: 4000.0,
            height_mm: 1800.0,
            end_mm: 400.0,
        };
        let tank = Side::new(SideKind::Left, body, Surface::default());
        let seam = Form::Upright {
            first_mm: 2000.0,
            pitch_mm: 0.0,
            count: 1,
        };
        let line = on(&tank, Feature::new(FeatureKind::PanelSeam, seam))
            .map(|s| s.lines[0].points.clone());
        assert_eq!(
            line,
            Ok(vec![Point::new(2000.0, 0.0), Point::new(2000.0, 1800.0)])
        );
    }

    #[test]
    fn a_feature_hangs_on_the_reference_that_it_was_measured_from() {
        let mut side = side(SideKind::Left);
        let id = Uuid::from_u128(5);
        side.references.push(crate::vehicle::side::Reference {
            id,
            name: "body line".into(),
            front_drop_mm: 1000.0,
            rear_drop_mm: 1100.0,
        });
        let handle = Feature {
            reference: Some(id),
            ..Feature::new(
                FeatureKind::Handle,
                Form::Round {
                    back_mm: side.datum_of(Some(id)).map_or(0.0, |d| d.length_mm),
                    drop_mm: -50.0,
                    across_mm: 40.0,
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
}
