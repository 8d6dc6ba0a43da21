//! A feature to begin with: every kind, measured in one of its ways, where it can be seen on that side.

use serde::{Deserialize, Serialize};

use crate::ground::outline::Shape;
use crate::ground::tape::Unit;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::feature::kind::{ComesOff, FeatureClass, FeatureKind};
use crate::vehicle::side::Side;
use crate::vehicle::start::shapes::INCH;

/// Ways of measuring a feature, as they are offered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FormKind {
    /// Heads in a grid.
    Heads,
    /// Upright over the whole height.
    Upright,
    /// Straight between two readings.
    Straight,
    /// A line by readings.
    OpenPath,
    /// An outline by readings.
    Outline,
    /// Rectangles.
    Rectangle,
    /// Round.
    Round,
    /// An arch on the bottom edge.
    Arch,
}

/// The ways in which a kind of feature is measured, the usual one first.
pub fn forms_of(kind: FeatureKind) -> &'static [FormKind] {
    match (kind.class(), kind) {
        (FeatureClass::Heads, _) => &[FormKind::Heads],
        (_, FeatureKind::PanelSeam) => &[FormKind::Upright, FormKind::Straight, FormKind::OpenPath],
        (_, FeatureKind::DoorGap) => &[
            FormKind::Rectangle,
            FormKind::Upright,
            FormKind::Straight,
            FormKind::Outline,
        ],
        (_, FeatureKind::FilmEdge) => &[FormKind::Straight],
        (FeatureClass::Line, FeatureKind::Waterline | FeatureKind::BodyLine) => {
            &[FormKind::Straight, FormKind::OpenPath]
        }
        (FeatureClass::Line, _) => &[FormKind::Straight, FormKind::OpenPath, FormKind::Upright],
        (_, FeatureKind::WheelArch) => &[FormKind::Arch, FormKind::Outline],
        (_, FeatureKind::Socket) => &[FormKind::Round, FormKind::Rectangle, FormKind::Outline],
        _ => &[FormKind::Rectangle, FormKind::Round, FormKind::Outline],
    }
}

/// A feature of this kind to begin with, of a size that fits the side, near `at` (back and plumb down, mm) or in its middle.
pub fn feature(
    kind: FeatureKind,
    form: FormKind,
    side: &Side,
    at: Option<(f64, f64)>,
    unit: Unit,
) -> Feature {
    let outline: Shape = side.outline();
    let bounds = outline.bounds;
    let datum = side.datum();
    let (length, height) = (bounds.width(), bounds.height());
    let step = if unit == Unit::Millimetre {
        5.0
    } else {
        INCH / 4.0
    };
    let whole = |mm: f64| (mm / step).round().max(1.0) * step;
    // The middle, within the bounds by a tenth at least.
    let (back, drop) = at.unwrap_or_else(|| {
        let (back, _) = datum.read_plumb(bounds.center());
        (back, datum.read_plumb(bounds.center()).1)
    });
    let place = |mm: f64| (mm / step).round() * step;
    let (back, drop) = (place(back), place(drop));
    let size =
        |wanted_inches: f64, share: f64, of: f64| whole((wanted_inches * INCH).min(of * share));
    let (width, high) = match kind {
        FeatureKind::Handle => (size(7.0, 0.2, length), size(2.5, 0.1, height)),
        FeatureKind::Hinge => (size(4.0, 0.1, length), size(5.0, 0.2, height)),
        FeatureKind::Latch => (size(3.0, 0.1, length), size(8.0, 0.3, height)),
        FeatureKind::Lamp => (size(4.0, 0.1, length), size(2.0, 0.1, height)),
        FeatureKind::LockerDoor | FeatureKind::DoorGap | FeatureKind::Glass => {
            (size(24.0, 0.3, length), size(24.0, 0.4, height))
        }
        FeatureKind::Moulding | FeatureKind::Rubber => {
            (size(60.0, 0.5, length), size(1.5, 0.05, height))
        }
        FeatureKind::OldFilm
        | FeatureKind::Recess
        | FeatureKind::CurvedZone
        | FeatureKind::ConcaveZone
        | FeatureKind::TexturedZone => (size(40.0, 0.35, length), size(24.0, 0.35, height)),
        _ => (size(6.0, 0.15, length), size(4.0, 0.15, height)),
    };
    // A pitch that fits at least once more, so that a count can be typed first.
    let along = |wanted_inches: f64| whole((wanted_inches * INCH).min(length * 0.2));
    let repeat = Repeat {
        pitch_mm: along(24.0).into(),
        row_pitch_mm: whole((12.0 * INCH).min(height * 0.2)).into(),
        ..Repeat::ONCE
    };
    let reading = |dx: f64, dy: f64| Reading {
        back_mm: (back + dx).into(),
        drop_mm: (drop + dy).into(),
        rounded: false,
    };
    let form = match form {
        FormKind::Heads => Form::Heads {
            first_mm: back.into(),
            pitch_mm: along(48.0).into(),
            columns: 1,
            first_head_mm: drop.into(),
            head_pitch_mm: whole((6.0 * INCH).min(height * 0.1)).into(),
            heads: 1,
            head_mm: (INCH / 2.0).into(),
        },
        FormKind::Upright => Form::Upright {
            first_mm: back.into(),
            pitch_mm: along(48.0).into(),
            count: 1,
        },
        // The edge of film runs down it; everything else that is straight begins along the side.
        FormKind::Straight if kind == FeatureKind::FilmEdge => Form::Straight {
            back_mm: back.into(),
            drop_mm: (drop - high / 2.0).into(),
            to_back_mm: back.into(),
            to_drop_mm: (drop + high / 2.0).into(),
        },
        FormKind::Straight => Form::Straight {
            back_mm: (back - width / 2.0).into(),
            drop_mm: drop.into(),
            to_back_mm: (back + width / 2.0).into(),
            to_drop_mm: drop.into(),
        },
        FormKind::OpenPath => Form::Path {
            points: vec![
                reading(-width / 2.0, 0.0),
                reading(0.0, high / 4.0),
                reading(width / 2.0, 0.0),
            ],
            closed: false,
        },
        FormKind::Outline => Form::Path {
            points: vec![
                reading(-width / 2.0, -high / 2.0),
                reading(width / 2.0, -high / 2.0),
                reading(width / 2.0, high / 2.0),
                reading(-width / 2.0, high / 2.0),
            ],
            closed: true,
        },
        FormKind::Rectangle => Form::Rectangle {
            back_mm: (place(back - width / 2.0)).into(),
            drop_mm: (place(drop - high / 2.0)).into(),
            to: MeasuredTo::Corner,
            width_mm: width.into(),
            height_mm: high.into(),
            repeat,
        },
        FormKind::Round => Form::Round {
            back_mm: back.into(),
            drop_mm: drop.into(),
            across_mm: high.into(),
            repeat,
        },
        FormKind::Arch => Form::Arch {
            centre_mm: back.into(),
            width_mm: (size(36.0, 0.4, length)).into(),
            height_mm: (size(16.0, 0.4, height)).into(),
        },
    };
    Feature {
        comes_off: usual_comes_off(kind),
        ..Feature::new(kind, form)
    }
}

/// Whether a kind usually comes off before film goes on (common practice, no source).
pub fn usual_comes_off(kind: FeatureKind) -> ComesOff {
    match kind {
        FeatureKind::Badge | FeatureKind::Handle | FeatureKind::Lamp | FeatureKind::Socket => {
            ComesOff::GoesBack
        }
        _ => ComesOff::Stays,
    }
}
