//! Where a piece goes, by rule: one rule each for along, down and angle, or one rule for all three (measured points, the other
//! side's mirror, another piece's registration marks). A piece cannot be given two rules for one freedom; rules that lead back to
//! themselves, and rows that disagree, are named with both.

pub mod between;
mod by_mirror;
mod by_points;
mod by_rules;
pub mod cut_to_side;
pub mod edges;
pub mod error;
pub mod fit;
pub mod flats;
pub mod key_features;
pub mod landing;
pub mod nudge;
pub mod placed;
pub mod row;
pub mod rules;
pub mod said;
pub mod spots;

use kurbo::Point;
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::tape::Unit;
use crate::place::by_mirror::by_mirror;
use crate::place::by_points::{by_points, told_fit};
use crate::place::by_rules::by_rules;
use crate::place::error::PlaceError;
use crate::place::placed::{Around, Placed, settle};
use crate::place::rules::PlaceRule;
use crate::vehicle::measured::MeasuredSide;
use fit::rigid;

/// Puts a piece on a side by its rules.
///
/// Errors: a piece wider than the side, a rule hung on something that is gone, or a place off the side.
pub fn place(
    drawn: &Drawn,
    rule: &PlaceRule,
    own: Uuid,
    side: &MeasuredSide,
    around: &Around,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    match rule {
        PlaceRule::Rules(rules) => by_rules(drawn, rules, own, side, around, unit),
        PlaceRule::Points { reference, points } => by_points(drawn, *reference, points, side, unit),
        PlaceRule::Between {
            front,
            rear,
            lap_mm,
        } => {
            let corners = between::corners(*front, *rear, lap_mm.mm(), side)?;
            between::by_edges(drawn, &corners, side, unit)
        }
        PlaceRule::Mirrored { of } => {
            let (figures, reference) = around.mirrored.get(of).ok_or(PlaceError::MirrorGone)?;
            by_mirror(drawn, figures, reference, side, unit)
        }
        PlaceRule::Marks { of } => {
            let (name, other, placed) = around.pieces.get(of).ok_or(PlaceError::PieceGone)?;
            let (own, other) = (&drawn.marks, &other.marks);
            if own.len() != other.len() || own.len() < 2 {
                return Err(PlaceError::Marks {
                    own: own.len(),
                    other: other.len(),
                    other_name: name.clone(),
                });
            }
            let to: Vec<Point> = other.iter().map(|m| placed.to_picture * *m).collect();
            let fitted = rigid(own, &to, None);
            let mut done = settle(drawn, fitted, placed.datum, side, unit)?;
            done.fit = Some(told_fit(own, &to, None, fitted, &placed.datum, unit));
            Ok(done)
        }
    }
}
