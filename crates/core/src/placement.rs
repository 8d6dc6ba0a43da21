//! Where a piece goes, by rule: one rule each for along, down and angle.

use kurbo::{Affine, Point, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::elevation::MeasuredSide;
use crate::lettering::DrawnLettering;
use crate::side::VehicleSide;
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
    /// A panel seam.
    Seam {
        /// The seams' feature.
        feature: Uuid,
        /// Number of the seam in that feature, from 1.
        number: u32,
    },
    /// The front edge of a locker door.
    DoorFront {
        /// The door's feature.
        feature: Uuid,
    },
    /// The rear edge of a locker door.
    DoorRear {
        /// The door's feature.
        feature: Uuid,
    },
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
    /// How far back the edge is at the rail, mm.
    pub fn back_mm(&self, side: &MeasuredSide) -> Option<f64> {
        let door = |feature: &Uuid| side.hardware.iter().find(|h| h.source == *feature);
        let at = |x: f64| side.datum.read(Point::new(x, 0.0)).0;
        match self {
            EdgeRef::FrontEdge => Some(0.0),
            EdgeRef::RearEdge => Some(side.body.length_mm),
            EdgeRef::Seam { feature, number } => side
                .seams
                .iter()
                .find(|s| s.source == (*feature, *number))
                .map(|s| s.back_mm),
            EdgeRef::DoorFront { feature } | EdgeRef::DoorRear { feature } => {
                let bounds = door(feature)?.outline.bounds;
                let (a, b) = (at(bounds.x0), at(bounds.x1));
                Some(if matches!(self, EdgeRef::DoorFront { .. }) {
                    a.min(b)
                } else {
                    a.max(b)
                })
            }
        }
    }
}

/// A piece in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// From the piece's own frame to the picture frame: a turn and a shift, never a mirror.
    pub to_picture: Affine,
    /// Nearest and farthest film from the front, mm along the datum.
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
    if width > side.body.length_mm {
        return Err(PlaceError::WiderThanSide {
            width: print(width, unit).text,
            side: print(side.body.length_mm, unit).text,
        });
    }
    let datum = &side.datum;
    let direction = side.body.side.direction();
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
            let a = from.back_mm(side).ok_or(PlaceError::EdgeGone)?;
            let b = to.back_mm(side).ok_or(PlaceError::EdgeGone)?;
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
    let bottom = hull.iter().map(|p| p.y).fold(f64::NEG_INFINITY, f64::max);
    if far <= 0.0
        || near >= side.body.length_mm
        || rule.down.cap_line_mm >= side.body.height_mm
        || bottom <= 0.0
    {
        return Err(PlaceError::OffTheSide {
            length: print(side.body.length_mm, unit).text,
            height: print(side.body.height_mm, unit).text,
        });
    }
    Ok(Placed {
        to_picture,
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
    side: VehicleSide,
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
                    if side == VehicleSide::Left { near } else { far },
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
