//! Where each measure of a side or of a feature stands in the picture: the two places between which the tape is held.

use kurbo::{Point, Rect};
use serde::Serialize;

use crate::ground::datum::Datum;
use crate::vehicle::body::Body;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::side::Side;

/// A measure in the picture.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Dimension {
    /// Path of the field in what was measured: `/body/length_mm`, `/form/back_mm`.
    pub at: String,
    /// Where the tape is held, in the picture frame, mm.
    pub from: [f64; 2],
    /// Where it is read.
    pub to: [f64; 2],
}

fn dimension(at: &str, from: Point, to: Point) -> Dimension {
    Dimension {
        at: at.to_owned(),
        from: [from.x, from.y],
        to: [to.x, to.y],
    }
}

/// The measures of a side's shape, in the order in which they are typed. None for an outline by readings or from a file: its figures are a
/// list of their own.
///
/// ```
/// # use windrift_core::vehicle::{body::Body, dimensions::of_side, side::{Side, words::SideKind}, surface::Surface};
/// let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let all = of_side(&Side::new(SideKind::Left, body, Surface::default()));
/// assert_eq!((all[0].at.as_str(), all[0].to[0] - all[0].from[0]), ("/body/length_mm", 3657.6));
/// assert_eq!((all[1].at.as_str(), all[1].to[1] - all[1].from[1]), ("/body/height_mm", 1828.8));
/// ```
pub fn of_side(side: &Side) -> Vec<Dimension> {
    of_body(&side.body)
        .into_iter()
        .map(|(field, from, to)| {
            dimension(
                &format!("/body/{field}"),
                side.to_picture(from),
                side.to_picture(to),
            )
        })
        .collect()
}

/// In the run frame.
fn of_body(body: &Body) -> Vec<(&'static str, Point, Point)> {
    let p = Point::new;
    match *body {
        Body::Box {
            height_mm, fall_mm, ..
        } => {
            let (_, end) = body.rail();
            let foot = height_mm.mm().max(end.y);
            vec![
                ("length_mm", p(0.0, foot), p(end.x, foot)),
                ("height_mm", p(0.0, 0.0), p(0.0, height_mm.mm())),
                ("fall_mm", p(end.x, 0.0), p(end.x, fall_mm.mm())),
            ]
        }
        Body::TravelTrailer {
            length_mm,
            height_mm,
            nose_mm,
            nose_height_mm,
            tail_mm,
            undercut_mm,
        } => {
            let (length, height) = (length_mm.mm(), height_mm.mm());
            vec![
                ("length_mm", p(0.0, height), p(length, height)),
                ("height_mm", p(length, 0.0), p(length, height)),
                ("nose_mm", p(0.0, 0.0), p(nose_mm.mm(), 0.0)),
                ("nose_height_mm", p(0.0, 0.0), p(0.0, nose_height_mm.mm())),
                ("tail_mm", p(length - tail_mm, 0.0), p(length, 0.0)),
                ("undercut_mm", p(0.0, height), p(undercut_mm.mm(), height)),
            ]
        }
        Body::Van {
            length_mm,
            height_mm,
            bonnet_mm,
            bonnet_height_mm,
            screen_mm,
            tail_mm,
        } => {
            let (length, height) = (length_mm.mm(), height_mm.mm());
            let edge = height - bonnet_height_mm;
            vec![
                ("length_mm", p(0.0, height), p(length, height)),
                ("height_mm", p(length, 0.0), p(length, height)),
                ("bonnet_mm", p(0.0, edge), p(bonnet_mm.mm(), edge)),
                ("bonnet_height_mm", p(0.0, edge), p(0.0, height)),
                (
                    "screen_mm",
                    p(bonnet_mm.mm(), 0.0),
                    p(bonnet_mm + screen_mm, 0.0),
                ),
                ("tail_mm", p(length - tail_mm, 0.0), p(length, 0.0)),
            ]
        }
        Body::Panel {
            top_mm,
            bottom_mm,
            height_mm,
            bottom_starts_mm,
            corner_mm,
            top_bow_mm,
            bottom_bow_mm,
        } => {
            let (top, height, starts) = (top_mm.mm(), height_mm.mm(), bottom_starts_mm.mm());
            let middle = starts + bottom_mm / 2.0;
            vec![
                ("top_mm", p(0.0, 0.0), p(top, 0.0)),
                (
                    "bottom_mm",
                    p(starts, height),
                    p(starts + bottom_mm, height),
                ),
                ("height_mm", p(0.0, 0.0), p(0.0, height)),
                ("bottom_starts_mm", p(0.0, height), p(starts, height)),
                ("corner_mm", p(top - corner_mm, 0.0), p(top, corner_mm.mm())),
                (
                    "top_bow_mm",
                    p(top / 2.0, 0.0),
                    p(top / 2.0, -top_bow_mm.mm()),
                ),
                (
                    "bottom_bow_mm",
                    p(middle, height),
                    p(middle, height + bottom_bow_mm),
                ),
            ]
        }
        Body::Hull {
            length_mm,
            bow_mm,
            middle_mm,
            stern_mm,
            stem_rake_mm,
            transom_rake_mm,
        } => {
            let (length, foot) = (length_mm.mm(), bow_mm.mm());
            vec![
                ("length_mm", p(0.0, foot), p(length, foot)),
                ("bow_mm", p(0.0, 0.0), p(0.0, foot)),
                (
                    "middle_mm",
                    p(length / 2.0, bow_mm - middle_mm),
                    p(length / 2.0, foot),
                ),
                ("stern_mm", p(length, bow_mm - stern_mm), p(length, foot)),
                ("stem_rake_mm", p(0.0, foot), p(stem_rake_mm.mm(), foot)),
                (
                    "transom_rake_mm",
                    p(length - transom_rake_mm, foot),
                    p(length, foot),
                ),
            ]
        }
        Body::Transom {
            width_mm,
            chine_width_mm,
            side_height_mm,
            vee_mm,
            crown_mm,
        } => {
            let (width, side) = (width_mm.mm(), side_height_mm.mm());
            let (middle, half) = (width / 2.0, chine_width_mm / 2.0);
            vec![
                ("width_mm", p(0.0, 0.0), p(width, 0.0)),
                (
                    "chine_width_mm",
                    p(middle - half, side),
                    p(middle + half, side),
                ),
                ("side_height_mm", p(0.0, 0.0), p(0.0, side)),
                ("vee_mm", p(middle, side), p(middle, side + vee_mm)),
                ("crown_mm", p(middle, -crown_mm.mm()), p(middle, 0.0)),
            ]
        }
        Body::Tank {
            length_mm,
            height_mm,
            end_mm,
        } => {
            let (length, height) = (length_mm.mm(), height_mm.mm());
            vec![
                ("length_mm", p(0.0, height), p(length, height)),
                ("height_mm", p(length / 2.0, 0.0), p(length / 2.0, height)),
                ("end_mm", p(0.0, height / 2.0), p(end_mm.mm(), height / 2.0)),
            ]
        }
        Body::Readings { .. } | Body::Drawn { .. } => Vec::new(),
    }
}

/// The measures of a feature from its reference, in the order in which they are typed.
///
/// ```
/// # use windrift_core::vehicle::{body::Body, dimensions::of_feature, feature::{Feature, form::Form, kind::FeatureKind}, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 7315.2.into(), height_mm: 2438.4.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// let form = Form::Upright { first_mm: 600.0.into(), pitch_mm: 1219.2.into(), count: 5 };
/// let all = of_feature(&Feature::new(FeatureKind::PanelSeam, form), &side);
/// assert_eq!(all.iter().map(|d| d.at.as_str()).collect::<Vec<_>>(), ["/form/first_mm", "/form/pitch_mm"]);
/// assert_eq!(all[1].to[0] - all[1].from[0], 1219.2);
/// ```
pub fn of_feature(feature: &Feature, side: &Side) -> Vec<Dimension> {
    let datum = side.datum_of(feature.reference).unwrap_or(side.datum());
    let bounds = side.outline().bounds;
    let found = match &feature.form {
        Form::Heads {
            first_mm,
            pitch_mm,
            columns,
            first_head_mm,
            head_pitch_mm,
            heads,
            ..
        } => {
            let (first, drop) = (first_mm.mm(), first_head_mm.mm());
            let mut all = place(&datum, ["first_mm", "first_head_mm"], first, drop);
            if *columns > 1 {
                all.push(along(&datum, "pitch_mm", first, first + pitch_mm, drop));
            }
            if *heads > 1 {
                all.push((
                    "head_pitch_mm".to_owned(),
                    datum.drop_point(first, drop),
                    datum.drop_point(first, drop + head_pitch_mm),
                ));
            }
            all
        }
        Form::Upright {
            first_mm,
            pitch_mm,
            count,
        } => {
            let first = first_mm.mm();
            let level = bounds.height() * 0.3;
            let mut all = vec![along(&datum, "first_mm", 0.0, first, level)];
            if *count > 1 {
                all.push(along(&datum, "pitch_mm", first, first + pitch_mm, level));
            }
            all
        }
        Form::Straight {
            back_mm,
            drop_mm,
            to_back_mm,
            to_drop_mm,
        } => {
            let mut all = place(&datum, ["back_mm", "drop_mm"], back_mm.mm(), drop_mm.mm());
            all.extend(place(
                &datum,
                ["to_back_mm", "to_drop_mm"],
                to_back_mm.mm(),
                to_drop_mm.mm(),
            ));
            all
        }
        Form::Path { points, .. } => points
            .iter()
            .enumerate()
            .flat_map(|(n, p)| {
                let (back, drop) = (format!("points/{n}/back_mm"), format!("points/{n}/drop_mm"));
                place(
                    &datum,
                    [back.as_str(), drop.as_str()],
                    p.back_mm.mm(),
                    p.drop_mm.mm(),
                )
            })
            .collect(),
        Form::Rectangle {
            back_mm,
            drop_mm,
            to,
            width_mm,
            height_mm,
            repeat,
        } => {
            let (back, drop, width, height) =
                (back_mm.mm(), drop_mm.mm(), width_mm.mm(), height_mm.mm());
            let corner = match to {
                MeasuredTo::Corner => (back, drop),
                MeasuredTo::Middle => (back - width / 2.0, drop - height / 2.0),
            };
            let mut all = place(&datum, ["back_mm", "drop_mm"], back, drop);
            let (near, far) = (corner.0, corner.0 + width);
            all.push(along(&datum, "width_mm", near, far, corner.1 + height));
            all.push((
                "height_mm".to_owned(),
                datum.drop_point(far, corner.1),
                datum.drop_point(far, corner.1 + height),
            ));
            all.extend(pitches(&datum, repeat, near, corner.1));
            all
        }
        Form::Round {
            back_mm,
            drop_mm,
            across_mm,
            repeat,
        } => {
            let (back, drop, half) = (back_mm.mm(), drop_mm.mm(), across_mm / 2.0);
            let mut all = place(&datum, ["back_mm", "drop_mm"], back, drop);
            all.push(along(
                &datum,
                "across_mm",
                back - half,
                back + half,
                drop + half,
            ));
            all.extend(pitches(&datum, repeat, back, drop));
            all
        }
        Form::Arch {
            centre_mm,
            width_mm,
            height_mm,
        } => {
            let centre = centre_mm.mm();
            let Rect { y1: foot, .. } = bounds;
            let x = |back: f64| datum.at(back, 0.0).x;
            let half = width_mm / 2.0;
            vec![
                along(
                    &datum,
                    "centre_mm",
                    0.0,
                    centre,
                    (foot - height_mm.mm() - datum.at(centre, 0.0).y) * 0.7,
                ),
                (
                    "width_mm".to_owned(),
                    Point::new(x(centre - half), foot),
                    Point::new(x(centre + half), foot),
                ),
                (
                    "height_mm".to_owned(),
                    Point::new(x(centre), foot - height_mm.mm()),
                    Point::new(x(centre), foot),
                ),
            ]
        }
    };
    found
        .into_iter()
        .map(|(field, from, to)| dimension(&format!("/form/{field}"), from, to))
        .collect()
}

type Found = (String, Point, Point);

/// Back along the reference and then down from it.
fn place(datum: &Datum, [back_field, drop_field]: [&str; 2], back: f64, drop: f64) -> Vec<Found> {
    vec![
        along(datum, back_field, 0.0, back, drop),
        (
            drop_field.to_owned(),
            datum.drop_point(back, 0.0),
            datum.drop_point(back, drop),
        ),
    ]
}

/// Along the reference, held so far below it.
fn along(datum: &Datum, field: &str, from: f64, to: f64, drop: f64) -> Found {
    (
        field.to_owned(),
        datum.drop_point(from, drop),
        datum.drop_point(to, drop),
    )
}

fn pitches(datum: &Datum, repeat: &Repeat, back: f64, drop: f64) -> Vec<Found> {
    let mut all = Vec::new();
    if repeat.count > 1 {
        all.push(along(
            datum,
            "repeat/pitch_mm",
            back,
            back + repeat.pitch_mm,
            drop,
        ));
    }
    if repeat.rows > 1 {
        let down = datum.drop_point(back, drop + repeat.row_pitch_mm);
        all.push((
            "repeat/row_pitch_mm".to_owned(),
            datum.drop_point(back, drop),
            down,
        ));
    }
    all
}
