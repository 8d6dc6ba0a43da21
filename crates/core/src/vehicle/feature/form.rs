//! How a feature is measured: its shape, its place, and how it is repeated.

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::ground::mm::{Mm, SignedMm};
use crate::vehicle::body::readings::Reading;

/// How many of a thing there are, at which pitch.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Repeat {
    /// How many along.
    pub count: u32,
    /// From one to the next along, mm.
    pub pitch_mm: Mm,
    /// How many down.
    pub rows: u32,
    /// From one to the next down, mm.
    pub row_pitch_mm: Mm,
}

impl Repeat {
    /// One, alone.
    pub const ONCE: Repeat = Repeat {
        count: 1,
        pitch_mm: Mm::ZERO,
        rows: 1,
        row_pitch_mm: Mm::ZERO,
    };
}

/// Which point of an upright rectangle its measures run to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MeasuredTo {
    /// Its upper corner nearer the zero of the tape.
    Corner,
    /// Its middle.
    Middle,
}

/// How a feature is measured. Distances in mm, back along the reference and plumb down from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "form", rename_all = "snake_case")]
pub enum Form {
    /// Round heads in a grid: a column is a grid one wide, a row one high, a single fastener one by one.
    Heads {
        /// Zero to the middle of the first column.
        first_mm: SignedMm,
        /// Column to column.
        pitch_mm: Mm,
        /// How many columns.
        columns: u32,
        /// Reference to the middle of the first head.
        first_head_mm: SignedMm,
        /// Head to head down the column.
        head_pitch_mm: Mm,
        /// Heads in each column.
        heads: u32,
        /// Diameter of a head.
        head_mm: Mm,
    },
    /// Upright lines over the whole height of the side.
    Upright {
        /// Zero to the first.
        first_mm: SignedMm,
        /// Line to line.
        pitch_mm: Mm,
        /// How many.
        count: u32,
    },
    /// A straight line between two readings.
    Straight {
        /// Zero to its beginning.
        back_mm: SignedMm,
        /// Reference to its beginning.
        drop_mm: SignedMm,
        /// Zero to its end.
        to_back_mm: SignedMm,
        /// Reference to its end.
        to_drop_mm: SignedMm,
    },
    /// A line or an outline by readings.
    Path {
        /// The readings in order.
        points: Vec<Reading>,
        /// Whether it closes into an outline.
        closed: bool,
    },
    /// An upright rectangle, or several.
    Rectangle {
        /// Zero to it.
        back_mm: SignedMm,
        /// Reference to it.
        drop_mm: SignedMm,
        /// Which of its points these run to.
        to: MeasuredTo,
        /// Width.
        width_mm: Mm,
        /// Height.
        height_mm: Mm,
        /// How many, at which pitch.
        repeat: Repeat,
    },
    /// A round thing, or several.
    Round {
        /// Zero to its middle.
        back_mm: SignedMm,
        /// Reference to its middle.
        drop_mm: SignedMm,
        /// Diameter.
        across_mm: Mm,
        /// How many, at which pitch.
        repeat: Repeat,
    },
    /// Half an ellipse that stands on the bottom edge.
    Arch {
        /// Zero to its middle.
        centre_mm: SignedMm,
        /// Width at the bottom.
        width_mm: Mm,
        /// Height over the bottom edge.
        height_mm: Mm,
    },
}

impl Form {
    /// Where it is measured to first: back along its reference and down from it, mm.
    pub fn begins_at(&self) -> Point {
        match self {
            Form::Heads {
                first_mm,
                first_head_mm,
                ..
            } => Point::new(first_mm.mm(), first_head_mm.mm()),
            Form::Upright { first_mm, .. } => Point::new(first_mm.mm(), 0.0),
            Form::Straight {
                back_mm, drop_mm, ..
            }
            | Form::Rectangle {
                back_mm, drop_mm, ..
            }
            | Form::Round {
                back_mm, drop_mm, ..
            } => Point::new(back_mm.mm(), drop_mm.mm()),
            Form::Path { points, .. } => points
                .first()
                .map_or(Point::ZERO, |p| Point::new(p.back_mm.mm(), p.drop_mm.mm())),
            Form::Arch { centre_mm, .. } => Point::new(centre_mm.mm(), 0.0),
        }
    }
}
