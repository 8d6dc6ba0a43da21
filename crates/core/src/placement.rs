//! Where a piece goes, by rule: one rule each for along, down and angle.

use kurbo::{Affine, Point, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::elevation::MeasuredSide;
use crate::lettering::DrawnLettering;
use crate::outline::{bounds_of, rect_distance};
use crate::side::{Datum, Side};
use crate::tape::{Unit, print};

/// Which end of a line of lettering a distance runs to. Lettering reads from left to right on either side, so the first letter
/// is the one nearest the front only where the front is at the picture's left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LetterEnd {
    /// Where the first letter's film begins.
    FirstLetter,
    /// Where the last letter's film ends.
    LastLetter,
}

/// An upright edge to centre on.
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

/// The rule for where a piece is along the datum.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "rule", rename_all = "snake_case")]
pub enum Along {
    /// So far back from the front edge.
    FromFront {
        /// Distance along the datum, mm.
        distance_mm: f64,
        /// Which end of the lettering it runs to.
        to: LetterEnd,
    },
    /// In the middle between two upright edges.
    Centred {
        /// One edge.
        from: EdgeRef,
        /// The other.
        to: EdgeRef,
    },
}

/// The rule for how far down a piece is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Down {
    /// Datum to the cap line, square to the datum, mm.
    pub cap_line_mm: f64,
}

/// The rule for a piece's angle.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Angle {
    /// Parallel to the datum.
    AlongDatum,
    /// Level with the ground.
    Level,
}

/// One rule for each freedom of a piece.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlaceRule {
    /// The reference that the rules hang on; `None` is the rail.
    #[serde(default)]
    pub reference: Option<Uuid>,
    /// Along the datum.
    pub along: Along,
    /// Down from it.
    pub down: Down,
    /// Angle.
    pub angle: Angle,
}

/// A rule that cannot be followed. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PlaceError {
    /// The piece is wider than the side.
    #[error(
        "The lettering is {width} wide and the side only {side}. Make it smaller or choose a narrower typeface."
    )]
    WiderThanSide {
        /// Width of the film, printed.
        width: String,
        /// Length of the side, printed.
        side: String,
    },
    /// The rule hangs on something that is gone.
    #[error(
        "The edge that this piece is centred on is no longer there. Choose another edge or give a distance from the front."
    )]
    EdgeGone,
    /// The rule hangs on a reference that is gone.
    #[error(
        "The reference that this piece hangs on is no longer there. Choose another one under Place."
    )]
    ReferenceGone,
    /// Both edges are the same.
    #[error(
        "Both edges are at the same place, so there is nothing to centre between. Choose two different edges."
    )]
    SameEdge,
    /// The piece would lie off the side altogether.
    #[error(
        "The lettering would be off the side. Bring it back: 0 to {length} from the front, 0 to {height} down."
    )]
    OffTheSide {
        /// Length of the side, printed.
        length: String,
        /// Height of the side, printed.
        height: String,
    },
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
            EdgeRef::RearEdge => Some(ends(bounds.x0, bounds.x1).1.min(datum.length_mm)),
            EdgeRef::Feature {
                feature,
                number,
                part,
            } => {
                let source = (*feature, *number);
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
                let found = line.or_else(column).or_else(area)?;
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

impl PlaceRule {
    /// Every feature that these rules hang on.
    pub fn features(&self) -> Vec<Uuid> {
        match self.along {
            Along::FromFront { .. } => Vec::new(),
            Along::Centred { from, to } => [from, to].iter().filter_map(EdgeRef::feature).collect(),
        }
    }
}

/// A piece in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// From the piece's own frame to the picture frame: a turn and a shift, never a mirror.
    pub to_picture: Affine,
    /// The reference that it hangs on and is read from.
    pub datum: Datum,
    /// Nearest and farthest film from the zero of the tape, mm along the datum.
    pub back_mm: (f64, f64),
    /// Hull of the film in the picture frame.
    pub hull: Vec<Point>,
}

/// Puts a line of lettering on a side by its rules.
///
/// Errors: lettering wider than the side, a rule hung on an edge that is gone, or a place off the side.
pub fn place(
    lettering: &DrawnLettering,
    rule: &PlaceRule,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let width = lettering.bounds.width();
    let body = side.outline.bounds;
    let longest = body.width().max(side.datum.length_mm);
    if width > longest {
        return Err(PlaceError::WiderThanSide {
            width: print(width, unit).text,
            side: print(longest, unit).text,
        });
    }
    let datum = &side
        .side
        .datum_of(rule.reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let direction = side.side.direction();
    let turn = match rule.angle {
        Angle::AlongDatum => Affine::rotate(direction * datum.back.y.asin()),
        Angle::Level => Affine::IDENTITY,
    };
    let hull = &lettering.hull;
    // Extent along the datum of the turned film, before it is shifted into place.
    let (near, far) = hull
        .iter()
        .map(|p| (turn * *p).to_vec2().dot(datum.back))
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), e| {
            (a.min(e), b.max(e))
        });
    // The film's left end is the nearer one where back runs to the right.
    let (first, last) = if direction > 0.0 {
        (near, far)
    } else {
        (far, near)
    };
    let (shift_back, cap_line_at) = match rule.along {
        Along::FromFront {
            distance_mm,
            to: LetterEnd::FirstLetter,
        } => (distance_mm - first, 0.0),
        Along::FromFront {
            distance_mm,
            to: LetterEnd::LastLetter,
        } => (distance_mm - last, width),
        Along::Centred { from, to } => {
            let a = from.back_mm(side, datum).ok_or(PlaceError::EdgeGone)?;
            let b = to.back_mm(side, datum).ok_or(PlaceError::EdgeGone)?;
            if (a - b).abs() < 1.0 {
                return Err(PlaceError::SameEdge);
            }
            ((a + b) / 2.0 - (near + far) / 2.0, width / 2.0)
        }
    };
    let at_cap_line = (turn * Point::new(cap_line_at, 0.0))
        .to_vec2()
        .dot(datum.down);
    let shift: Vec2 = datum.zero.to_vec2()
        + datum.back * shift_back
        + datum.down * (rule.down.cap_line_mm - at_cap_line);
    let to_picture = Affine::translate(shift) * turn;
    let hull: Vec<Point> = hull.iter().map(|p| to_picture * *p).collect();
    let (near, far) = (near + shift_back, far + shift_back);
    let box_round = bounds_of(hull.iter().copied());
    if rect_distance(box_round, body) > 0.0 {
        return Err(PlaceError::OffTheSide {
            length: print(longest, unit).text,
            height: print(body.height(), unit).text,
        });
    }
    Ok(Placed {
        to_picture,
        datum: *datum,
        back_mm: (near, far),
        hull,
    })
}

/// A rule after the piece was moved in the picture by so many mm to the right and down: distances in whole steps of the unit.
///
/// A piece that was centred and is moved along gets a distance from the front instead: `placed` says where it was.
pub fn nudge(
    rule: &PlaceRule,
    placed: &Placed,
    side: &Side,
    right_mm: f64,
    down_mm: f64,
    unit: Unit,
) -> PlaceRule {
    let step = unit.step_mm();
    let stepped = |mm: f64| (mm / step).round() * step;
    let back = right_mm * side.direction();
    let mut moved = *rule;
    if right_mm != 0.0 {
        let (distance_mm, to) = match rule.along {
            Along::FromFront { distance_mm, to } => (distance_mm, to),
            Along::Centred { .. } => {
                let (near, far) = placed.back_mm;
                (
                    if side.direction() > 0.0 { near } else { far },
                    LetterEnd::FirstLetter,
                )
            }
        };
        moved.along = Along::FromFront {
            distance_mm: stepped(distance_mm + back),
            to,
        };
    }
    if down_mm != 0.0 {
        moved.down.cap_line_mm = stepped(rule.down.cap_line_mm + down_mm);
    }
    moved
}
