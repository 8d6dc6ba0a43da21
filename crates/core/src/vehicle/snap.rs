//! Moving a measured feature by hand: in whole steps of the tape, and onto the readings of what stands beside it.

use kurbo::Vec2;
use serde::Serialize;

use crate::ground::datum::Datum;
use crate::ground::tape::{Length, Unit, print};
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::form::{Form, MeasuredTo};
use crate::vehicle::feature::{Feature, SideFeature};
use crate::vehicle::measured::MeasuredSide;

/// Picks the readings along or down from what a feature offers.
type Pick = fn((Vec<f64>, Vec<f64>)) -> Vec<f64>;

/// A feature that comes this near to another's reading takes it, mm: about 5/16 in.
const REACH_MM: f64 = 8.0;

/// A feature after it was moved by hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MovedFeature {
    /// The feature with its new readings.
    pub feature: Feature,
    /// How far back it now is.
    pub back: Option<Length>,
    /// How far down it now is.
    pub drop: Option<Length>,
    /// What it lines up with now, one sentence each.
    pub lined_up: Vec<String>,
}

/// The readings by which a feature is placed: back, and plumb down. An upright line has no drop, an arch neither.
fn anchor(form: &Form) -> (Option<f64>, Option<f64>) {
    match form {
        Form::Heads {
            first_mm,
            first_head_mm,
            ..
        } => (Some(first_mm.mm()), Some(first_head_mm.mm())),
        Form::Upright { first_mm, .. } => (Some(first_mm.mm()), None),
        Form::Straight {
            back_mm, drop_mm, ..
        }
        | Form::Rectangle {
            back_mm, drop_mm, ..
        }
        | Form::Round {
            back_mm, drop_mm, ..
        } => (Some(back_mm.mm()), Some(drop_mm.mm())),
        Form::Path { points, .. } => (
            points.first().map(|p| p.back_mm.mm()),
            points.first().map(|p| p.drop_mm.mm()),
        ),
        Form::Arch { centre_mm, .. } => (Some(centre_mm.mm()), None),
    }
}

/// Every reading along, and every reading down, that a feature offers to line up with.
fn offers(feature: &Feature) -> (Vec<f64>, Vec<f64>) {
    match &feature.form {
        Form::Heads {
            first_mm,
            pitch_mm,
            columns,
            first_head_mm,
            head_pitch_mm,
            heads,
            ..
        } => (
            (0..*columns)
                .map(|n| first_mm + pitch_mm * f64::from(n))
                .collect(),
            (0..*heads)
                .map(|n| first_head_mm + head_pitch_mm * f64::from(n))
                .collect(),
        ),
        Form::Upright {
            first_mm,
            pitch_mm,
            count,
        } => (
            (0..*count)
                .map(|n| first_mm + pitch_mm * f64::from(n))
                .collect(),
            Vec::new(),
        ),
        Form::Rectangle {
            back_mm,
            drop_mm,
            to,
            width_mm,
            height_mm,
            ..
        } => match to {
            MeasuredTo::Corner => (
                vec![back_mm.mm(), back_mm + width_mm],
                vec![drop_mm.mm(), drop_mm + height_mm],
            ),
            MeasuredTo::Middle => (vec![back_mm.mm()], vec![drop_mm.mm()]),
        },
        form => {
            let (back, drop) = anchor(form);
            (back.into_iter().collect(), drop.into_iter().collect())
        }
    }
}

/// The form moved by so much along and down.
pub fn shifted(form: &Form, back: f64, drop: f64) -> Form {
    let mut form = form.clone();
    match &mut form {
        Form::Heads {
            first_mm,
            first_head_mm,
            ..
        } => {
            *first_mm += back;
            *first_head_mm += drop;
        }
        Form::Upright { first_mm, .. } => *first_mm += back,
        Form::Straight {
            back_mm,
            drop_mm,
            to_back_mm,
            to_drop_mm,
        } => {
            *back_mm += back;
            *to_back_mm += back;
            *drop_mm += drop;
            *to_drop_mm += drop;
        }
        Form::Path { points, .. } => {
            for Reading {
                back_mm, drop_mm, ..
            } in points
            {
                *back_mm += back;
                *drop_mm += drop;
            }
        }
        Form::Rectangle {
            back_mm, drop_mm, ..
        }
        | Form::Round {
            back_mm, drop_mm, ..
        } => {
            *back_mm += back;
            *drop_mm += drop;
        }
        Form::Arch { centre_mm, .. } => *centre_mm += back,
    }
    form
}

/// Moves a feature by so many mm to the picture's right and down. Its readings end on whole steps of the unit, or on the reading
/// of something else within reach where `line_up` is wanted.
///
/// `others` are the features of the side; the moved one is left out by its id.
///
/// ```
/// # use kurbo::Vec2;
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::vehicle::{body::Body, feature::{Feature, SideFeature, form::{Form, MeasuredTo, Repeat}, kind::FeatureKind}, measured::measure::measure, side::{Side, words::SideKind}, snap::move_by, surface::Surface};
/// let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let side = measure(&Side::new(SideKind::Left, body, Surface::default()), &[]).unwrap();
/// let form = Form::Rectangle { back_mm: 500.0.into(), drop_mm: 400.0.into(), to: MeasuredTo::Corner, width_mm: 300.0.into(), height_mm: 200.0.into(), repeat: Repeat::ONCE };
/// let hatch = SideFeature { id: Default::default(), feature: Feature::new(FeatureKind::LockerDoor, form) };
/// // Dragged 101.3 mm to the right: its reading ends on a whole sixteenth.
/// let moved = move_by(&hatch, &side, &[], Vec2::new(101.3, 0.0), false, Unit::InchSixteenth);
/// assert_eq!(moved.back.unwrap().text, "23 11/16");
/// ```
pub fn move_by(
    moved: &SideFeature,
    side: &MeasuredSide,
    others: &[SideFeature],
    by: Vec2,
    line_up: bool,
    unit: Unit,
) -> MovedFeature {
    let feature = &moved.feature;
    let datum = side.side.datum_of(feature.reference).unwrap_or(side.datum);
    let along = by.x / datum.back.x;
    let down = by.y - along * datum.back.y;
    let (back, drop) = anchor(&feature.form);
    let same_reference =
        |o: &&SideFeature| o.id != moved.id && o.feature.reference == feature.reference;
    let mut lined_up = Vec::new();
    let mut settle = |from: Option<f64>, by: f64, pick: Pick, middle: Option<f64>, way: &str| {
        let from = from?;
        if by.abs() < 1e-9 {
            return Some(0.0);
        }
        let wanted = from + by;
        let candidates = others
            .iter()
            .filter(same_reference)
            .flat_map(|o| {
                pick(offers(&o.feature))
                    .into_iter()
                    .map(|at| (at, o.feature.name().to_owned()))
            })
            .chain(middle.map(|at| (at, "middle of the side".to_owned())));
        let nearest = candidates
            .filter(|(at, _)| line_up && (at - wanted).abs() <= REACH_MM)
            .min_by(|a, b| (a.0 - wanted).abs().total_cmp(&(b.0 - wanted).abs()));
        Some(match nearest {
            Some((at, name)) => {
                lined_up.push(format!("In line {way} with the {name}."));
                at - from
            }
            None => {
                let step = unit.step_mm();
                (wanted / step).round() * step - from
            }
        })
    };
    let middle = Some(datum.length_mm / 2.0);
    let back_by = settle(back, along, |o| o.0, middle, "upright");
    let drop_by = settle(drop, down, |o| o.1, None, "level");
    let form = shifted(
        &feature.form,
        back_by.unwrap_or(0.0),
        drop_by.unwrap_or(0.0),
    );
    let (back, drop) = anchor(&form);
    MovedFeature {
        feature: Feature {
            form,
            ..feature.clone()
        },
        back: back.map(|mm| print(mm, unit)),
        drop: drop.map(|mm| print(mm, unit)),
        lined_up,
    }
}

/// The feature as it would be read from another reference of the side, at the same place.
pub fn read_from(
    feature: &Feature,
    from: &Datum,
    to: &Datum,
    reference: Option<uuid::Uuid>,
) -> Feature {
    let (back, drop) = anchor(&feature.form);
    let at = from.drop_point(back.unwrap_or(0.0), drop.unwrap_or(0.0));
    let (new_back, new_drop) = to.read_plumb(at);
    let back_by = back.map_or(0.0, |b| new_back - b);
    let drop_by = drop.map_or(0.0, |d| new_drop - d);
    Feature {
        form: shifted(&feature.form, back_by, drop_by),
        reference,
        ..feature.clone()
    }
}
