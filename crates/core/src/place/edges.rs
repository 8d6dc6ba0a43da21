//! What a piece can be measured from: upright edges along the datum, and heights down from it.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::datum::Datum;
use crate::ground::outline::bounds_of;
use crate::vehicle::measured::MeasuredSide;

/// A body that ends so near before its reference does ends with it, but for its round corners, mm (ours).
const ROUND_CORNER_MM: f64 = 12.7;

/// An upright edge.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "edge", rename_all = "snake_case")]
pub enum EdgeRef {
    /// The body's front edge.
    FrontEdge,
    /// The body's rear edge.
    RearEdge,
    /// A seam, a column, a door or anything else that was measured.
    Feature {
        /// The feature.
        feature: Uuid,
        /// Number of its part in that feature, from 1.
        number: u32,
        /// Which of its edges.
        part: EdgePart,
    },
}

/// Which edge of a feature is meant.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum EdgePart {
    /// Where it begins, from the front.
    Front,
    /// Its middle.
    Middle,
    /// Where it ends.
    Rear,
}

/// A height on the side.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "height", rename_all = "snake_case")]
pub enum LevelRef {
    /// The body's upper edge.
    UpperEdge,
    /// The body's lower edge.
    LowerEdge,
    /// A line, a door, a waterline or anything else that was measured.
    Feature {
        /// The feature.
        feature: Uuid,
        /// Number of its part in that feature, from 1.
        number: u32,
        /// Which of its heights.
        part: LevelPart,
    },
}

/// Which height of a feature is meant.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LevelPart {
    /// Its top.
    Top,
    /// Its middle.
    Middle,
    /// Its foot.
    Foot,
}

impl EdgeRef {
    /// The feature that the edge belongs to, if any.
    pub fn feature(&self) -> Option<Uuid> {
        match self {
            EdgeRef::Feature { feature, .. } => Some(*feature),
            EdgeRef::FrontEdge | EdgeRef::RearEdge => None,
        }
    }

    /// How far back the edge is along a datum, mm. `None` where there is no such edge.
    pub fn back_mm(&self, side: &MeasuredSide, datum: &Datum) -> Option<f64> {
        let back = |x: f64| datum.read_plumb(Point::new(x, datum.zero.y)).0;
        let bounds = side.outline.bounds;
        let ends = |x0: f64, x1: f64| {
            let (a, b) = (back(x0), back(x1));
            (a.min(b), a.max(b))
        };
        match self {
            EdgeRef::FrontEdge => Some(0.0),
            EdgeRef::RearEdge => {
                let body = ends(bounds.x0, bounds.x1).1;
                // Round corners end the body a little before its edges meet; the tape is read to where they meet, at both ends.
                let ends_there = datum.length_mm - body < ROUND_CORNER_MM;
                Some(if ends_there { datum.length_mm } else { body })
            }
            EdgeRef::Feature {
                feature,
                number,
                part,
            } => {
                let found = box_of(side, (*feature, *number))?;
                let (front, rear) = ends(found.x0, found.x1);
                Some(match part {
                    EdgePart::Front => front,
                    EdgePart::Middle => (front + rear) / 2.0,
                    EdgePart::Rear => rear,
                })
            }
        }
    }
}

impl LevelRef {
    /// The feature that the height belongs to, if any.
    pub fn feature(&self) -> Option<Uuid> {
        match self {
            LevelRef::Feature { feature, .. } => Some(*feature),
            LevelRef::UpperEdge | LevelRef::LowerEdge => None,
        }
    }

    /// How far down from a datum the height is, square to it, where the tape is `back_mm` along. `None` where there is no such
    /// height there.
    pub fn down_mm(&self, side: &MeasuredSide, datum: &Datum, back_mm: f64) -> Option<f64> {
        let x = datum.at(back_mm, 0.0).x;
        let down = |y: f64| datum.read(Point::new(x, y)).1;
        let edges = || side.outline.span_at(x);
        match self {
            LevelRef::UpperEdge => edges().map(|(top, _)| down(top)),
            LevelRef::LowerEdge => edges().map(|(_, foot)| down(foot)),
            LevelRef::Feature {
                feature,
                number,
                part,
            } => {
                let source = (*feature, *number);
                if let Some(line) = side.lines.iter().find(|l| l.source == source)
                    && let Some(y) = height_at(&line.points, x)
                {
                    return Some(down(y));
                }
                let found = box_of(side, source)?;
                Some(down(match part {
                    LevelPart::Top => found.y0,
                    LevelPart::Middle => found.center().y,
                    LevelPart::Foot => found.y1,
                }))
            }
        }
    }
}

/// Where a line that runs along the side passes an upright at `x`.
fn height_at(points: &[Point], x: f64) -> Option<f64> {
    points.windows(2).find_map(|pair| match pair {
        [a, b] if a.x != b.x && (a.x.min(b.x)..=a.x.max(b.x)).contains(&x) => {
            Some(a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x))
        }
        _ => None,
    })
}

/// The box round one part of a feature in the picture frame.
pub(crate) fn box_of(side: &MeasuredSide, source: (Uuid, u32)) -> Option<kurbo::Rect> {
    let line = side
        .lines
        .iter()
        .find(|l| l.source == source)
        .map(|l| bounds_of(l.points.iter().copied()));
    let column = || {
        side.columns
            .iter()
            .find(|c| c.source == source)
            .map(|c| bounds_of(c.heads.iter().copied()))
    };
    let area = || {
        side.areas
            .iter()
            .find(|a| a.source == source)
            .map(|a| a.outline.bounds)
    };
    line.or_else(column).or_else(area)
}
