//! A place by a rule for each freedom.

use kurbo::{Affine, Point, Vec2};
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::datum::Datum;
use crate::ground::tape::Unit;
use crate::place::edges::{EdgeRef, LevelRef};
use crate::place::error::PlaceError;
use crate::place::placed::{Around, Placed, extent, height_in, settle, turn_of};
use crate::place::rules::{AheadBehind, Along, Angle, Down, DownTo, LetterEnd, Rules, UpDown};
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn by_rules(
    drawn: &Drawn,
    rules: &Rules,
    own: Uuid,
    side: &MeasuredSide,
    around: &Around,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let datum = side
        .side
        .datum_of(rules.reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let direction = side.side.direction();
    let turn = turn_of(rules, drawn, side, &datum, unit)?;
    let (near, far) = extent(drawn, turn, &datum);
    // The film's left end is the nearer one where back runs to the right.
    let (first, last) = if direction > 0.0 {
        (near, far)
    } else {
        (far, near)
    };
    let edge = |e: &EdgeRef| e.back_mm(side, &datum).ok_or(PlaceError::EdgeGone);
    let nominal = drawn.nominal;
    let middle = nominal.center().x;
    let front_x = if direction > 0.0 {
        nominal.x0
    } else {
        nominal.x1
    };
    let (shift_back, mut ruled_x) = match &rules.along {
        Along::FromFront {
            distance_mm,
            to: LetterEnd::FirstLetter,
        } => (distance_mm - first, nominal.x0),
        Along::FromFront {
            distance_mm,
            to: LetterEnd::LastLetter,
        } => (distance_mm - last, nominal.x1),
        Along::FromEdge {
            edge: e,
            distance_mm,
            way: AheadBehind::Behind,
        } => (edge(e)? + distance_mm - near, middle),
        Along::FromEdge {
            edge: e,
            distance_mm,
            way: AheadBehind::Ahead,
        } => (edge(e)? - distance_mm - far, middle),
        Along::Centred { from, to } => {
            let (a, b) = (edge(from)?, edge(to)?);
            if (a - b).abs() < 1.0 {
                return Err(PlaceError::SameEdge);
            }
            ((a + b) / 2.0 - (near + far) / 2.0, middle)
        }
        Along::SameGap { from, to, .. } => {
            let (a, b) = (edge(from)?, edge(to)?);
            ((a + b) / 2.0 - (near + far) / 2.0, middle)
        }
        Along::Beside { piece, gap_mm, way } => {
            let (_, other, placed) = around.pieces.get(piece).ok_or(PlaceError::PieceGone)?;
            let (a, b) = extent(other, placed.to_picture, &datum);
            let zero = datum.zero.to_vec2().dot(datum.back);
            match way {
                AheadBehind::Behind => (b - zero + gap_mm - near, middle),
                AheadBehind::Ahead => (a - zero - gap_mm - far, middle),
            }
        }
        Along::EqualGaps { .. } => {
            let at = around.rows.get(&own).ok_or(PlaceError::PieceGone)?;
            (at - near, middle)
        }
    };
    if matches!(rules.angle, Angle::ToDrop { .. }) {
        ruled_x = front_x;
    }
    let (down, to_y) = down_of(
        drawn,
        rules,
        side,
        &datum,
        around,
        shift_back + (near + far) / 2.0,
        turn,
    )?;
    let at_ruled = (turn * Point::new(ruled_x, to_y)).to_vec2().dot(datum.down);
    let shift: Vec2 =
        datum.zero.to_vec2() + datum.back * shift_back + datum.down * (down - at_ruled);
    settle(drawn, Affine::translate(shift) * turn, datum, side, unit)
}

/// How far down from the datum which height of the piece's own frame is to lie.
fn down_of(
    drawn: &Drawn,
    rules: &Rules,
    side: &MeasuredSide,
    datum: &Datum,
    around: &Around,
    back_mm: f64,
    turn: Affine,
) -> Result<(f64, f64), PlaceError> {
    let level = |h: &LevelRef| {
        h.down_mm(side, datum, back_mm)
            .ok_or(PlaceError::HeightGone)
    };
    Ok(match &rules.down {
        Down::FromDatum { distance_mm, to } => (distance_mm.mm(), height_in(drawn, *to)),
        Down::FromHeight {
            height,
            distance_mm,
            way,
            to,
        } => {
            let at = level(height)?;
            let signed = if *way == UpDown::Below {
                *distance_mm
            } else {
                (-*distance_mm).into()
            };
            (at + signed, height_in(drawn, *to))
        }
        Down::Centred { from, to } => {
            let (a, b) = (level(from)?, level(to)?);
            ((a + b) / 2.0, height_in(drawn, DownTo::Middle))
        }
        Down::NextTo { piece, gap_mm, way } => {
            let (_, other, placed) = around.pieces.get(piece).ok_or(PlaceError::PieceGone)?;
            let (top, foot) = other
                .hull
                .iter()
                .map(|p| datum.read(placed.to_picture * *p).1)
                .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), d| {
                    (a.min(d), b.max(d))
                });
            // Own film square to the datum, relative to the middle of the piece.
            let at_middle = |y: f64| {
                (turn * Point::new(drawn.nominal.center().x, y))
                    .to_vec2()
                    .dot(datum.down)
            };
            let own = drawn
                .hull
                .iter()
                .map(|p| (turn * *p).to_vec2().dot(datum.down));
            match way {
                UpDown::Below => {
                    let own_top = own.fold(f64::INFINITY, f64::min);
                    (foot + gap_mm + at_middle(0.0) - own_top, 0.0)
                }
                UpDown::Above => {
                    let own_foot = own.fold(f64::NEG_INFINITY, f64::max);
                    (top - gap_mm + at_middle(0.0) - own_foot, 0.0)
                }
            }
        }
    })
}
