//! A side with everything that is on it, worked out in the picture frame.

use uuid::Uuid;

use crate::ground::measure_error::{MeasureError, require};
use crate::vehicle::feature::kind::{FeatureClass, FeatureKind};
use crate::vehicle::feature::{Feature, MOST_RIVETS, SideFeature};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::measured::ground::Ground;
use crate::vehicle::measured::names::number;
use crate::vehicle::side::Side;

/// Puts a side together from its measurements: every line, column and area in the picture frame, numbered from the front.
///
/// Errors: the first measurement that cannot stand.
///
/// ```
/// # use windrift_core::vehicle::{body::Body, measured::measure::measure, side::{Side, words::SideKind}, surface::Surface};
/// // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let side = Side::new(SideKind::Left, body, Surface::default());
/// let measured = measure(&side, &[]).unwrap();
/// assert_eq!(measured.outline.bounds.width(), 3657.6);
/// // A body without a height is none; the error names the field.
/// let flat = Body::Box { length_mm: 3657.6.into(), height_mm: 0.0.into(), fall_mm: 0.0.into() };
/// let wrong = measure(&Side::new(SideKind::Left, flat, Surface::default()), &[]).unwrap_err();
/// assert_eq!(wrong.field, "height_mm");
/// ```
pub fn measure(side: &Side, features: &[SideFeature]) -> Result<MeasuredSide, MeasureError> {
    side.check()?;
    let mut measured = MeasuredSide {
        datum: side.datum(),
        outline: side.outline(),
        side: side.clone(),
        lines: Vec::new(),
        columns: Vec::new(),
        areas: Vec::new(),
        under_water: Vec::new(),
    };
    for SideFeature { id, feature } in features {
        add(&mut measured, *id, feature)?;
    }
    number(&mut measured);
    let waterlines = measured
        .lines
        .iter()
        .filter(|l| l.kind == FeatureKind::Waterline);
    measured.under_water = waterlines.map(|l| measured.below(l)).collect();
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
