//! In which order the pieces of a side are placed: each after those that it is placed by; rows of equal gaps first of all.

use std::collections::HashMap;
use std::sync::Arc;

use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::tape::{Unit, print};
use crate::place::edges::EdgeRef;
use crate::place::error::PlaceError;
use crate::place::placed::{extent, turn_of};
use crate::place::row::equal_gaps;
use crate::place::rules::{Along, Down, PlaceRule};
use crate::plan::piece::Piece;
use crate::vehicle::feature::kind::ComesOff;
use crate::vehicle::measured::MeasuredSide;

/// A piece with its drawing.
pub type DrawnPiece<'p> = (Uuid, &'p Piece, Arc<Drawn>);

/// The order in which pieces can be placed; those whose rules lead back to themselves are given with both rules.
pub fn sequence(pieces: &[(Uuid, Piece)]) -> (Vec<usize>, Vec<(usize, PlaceError)>) {
    let at: HashMap<Uuid, usize> = pieces
        .iter()
        .enumerate()
        .map(|(n, (id, _))| (*id, n))
        .collect();
    let mut state = vec![0_u8; pieces.len()];
    let mut order = Vec::new();
    let mut round: Vec<(usize, PlaceError)> = Vec::new();
    for start in 0..pieces.len() {
        visit(
            start,
            pieces,
            &at,
            &mut state,
            &mut Vec::new(),
            &mut order,
            &mut round,
        );
    }
    order.retain(|n| !round.iter().any(|(m, _)| m == n));
    (order, round)
}

fn visit(
    n: usize,
    pieces: &[(Uuid, Piece)],
    at: &HashMap<Uuid, usize>,
    state: &mut [u8],
    path: &mut Vec<usize>,
    order: &mut Vec<usize>,
    round: &mut Vec<(usize, PlaceError)>,
) {
    match state[n] {
        2 => return,
        1 => {
            // Everything from where the path met itself leads back: each is told by its own rule and the next one's.
            let from = path.iter().position(|p| *p == n).unwrap_or(0);
            let ring: Vec<usize> = path[from..].to_vec();
            for (k, member) in ring.iter().enumerate() {
                let next = ring[(k + 1) % ring.len()];
                let after = ring[(k + 2) % ring.len()];
                let error =
                    PlaceError::Cycle(told(pieces, *member, next), told(pieces, next, after));
                if !round.iter().any(|(m, _)| m == member) {
                    round.push((*member, error));
                }
            }
            return;
        }
        _ => {}
    }
    state[n] = 1;
    path.push(n);
    for (other, _) in pieces[n].1.place.pieces() {
        if let Some(other) = at.get(&other) {
            visit(*other, pieces, at, state, path, order, round);
        }
    }
    path.pop();
    state[n] = 2;
    order.push(n);
}

/// The rule by which one piece hangs on another, in words.
fn told(pieces: &[(Uuid, Piece)], n: usize, on: usize) -> String {
    let (_, piece) = &pieces[n];
    let (other, other_piece) = &pieces[on];
    let how = piece
        .place
        .pieces()
        .into_iter()
        .find(|(id, _)| id == other)
        .map_or("is placed by", |(_, how)| how);
    format!(
        "\u{201c}{}\u{201d} {how} \u{201c}{}\u{201d}",
        piece.called(),
        other_piece.called()
    )
}

/// A member of a row: number of the drawn piece, its edges, its place in the row.
type Member<'p> = (usize, &'p EdgeRef, &'p EdgeRef, u32);

/// Where every piece of every row begins, mm along its datum; rows that cannot be laid are given with what is wrong.
pub fn rows(
    pieces: &[DrawnPiece<'_>],
    side: &MeasuredSide,
    unit: Unit,
) -> (HashMap<Uuid, f64>, Vec<(Uuid, PlaceError)>) {
    let mut by_name: Vec<(&str, Vec<Member<'_>>)> = Vec::new();
    for (n, (_, piece, _)) in pieces.iter().enumerate() {
        if let PlaceRule::Rules(rules) = &piece.place
            && let Along::EqualGaps {
                from,
                to,
                row,
                number,
            } = &rules.along
        {
            let member = (n, from, to, *number);
            match by_name.iter_mut().find(|(name, _)| name == row) {
                Some((_, members)) => members.push(member),
                None => by_name.push((row, vec![member])),
            }
        }
    }
    let mut places = HashMap::new();
    let mut wrong = Vec::new();
    for (_, mut members) in by_name {
        members.sort_by_key(|m| m.3);
        match lay_row(pieces, &members, side, unit) {
            Ok(found) => {
                places.extend(members.iter().zip(found).map(|(m, at)| (pieces[m.0].0, at)))
            }
            Err(error) => wrong.extend(members.iter().map(|m| (pieces[m.0].0, error.clone()))),
        }
    }
    (places, wrong)
}

fn lay_row(
    pieces: &[DrawnPiece<'_>],
    members: &[Member<'_>],
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Vec<f64>, PlaceError> {
    let Some((first, from, to, _)) = members.first() else {
        return Ok(Vec::new());
    };
    let name = |n: usize| format!("\u{201c}{}\u{201d}", pieces[n].1.called());
    for (n, a, b, _) in members {
        if a != from || b != to {
            let edges = |n: usize, a: &EdgeRef, b: &EdgeRef| {
                format!(
                    "{} stands in a row between {} and {}",
                    name(n),
                    edge_name(a, side),
                    edge_name(b, side)
                )
            };
            return Err(PlaceError::RowDisagrees(
                edges(*first, from, to),
                edges(*n, a, b),
            ));
        }
    }
    for pair in members.windows(2) {
        if let [a, b] = pair
            && a.3 == b.3
        {
            return Err(PlaceError::SameNumber(name(a.0), name(b.0), a.3));
        }
    }
    let PlaceRule::Rules(rules) = &pieces[*first].1.place else {
        return Ok(Vec::new());
    };
    let datum = side
        .side
        .datum_of(rules.reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let edge = |e: &EdgeRef| e.back_mm(side, &datum).ok_or(PlaceError::EdgeGone);
    let (a, b) = (edge(from)?, edge(to)?);
    let (start, end) = (a.min(b), a.max(b));
    if end - start < 1.0 {
        return Err(PlaceError::SameEdge);
    }
    let mut widths = Vec::new();
    let (mut top, mut foot) = (f64::INFINITY, f64::NEG_INFINITY);
    for (n, ..) in members {
        let (_, piece, drawn) = &pieces[*n];
        let PlaceRule::Rules(rules) = &piece.place else {
            continue;
        };
        let turn = turn_of(rules, drawn, side, &datum, unit)?;
        let (near, far) = extent(drawn, turn, &datum);
        widths.push(far - near);
        // Where it will be in height: what lies over or under the row is not between its pieces.
        match &rules.down {
            Down::FromDatum { distance_mm, .. } => {
                top = top.min(distance_mm - drawn.bounds.height());
                foot = foot.max(distance_mm + drawn.bounds.height());
            }
            _ => (top, foot) = (f64::NEG_INFINITY, f64::INFINITY),
        }
    }
    let mut between = Vec::new();
    let mut names = Vec::new();
    for area in side.hardware().filter(|h| h.comes_off != ComesOff::ForGood) {
        let corners = [
            area.outline.bounds.origin(),
            kurbo::Point::new(area.outline.bounds.x1, area.outline.bounds.y1),
        ];
        let read = corners.map(|p| datum.read(p));
        let (near, far) = (read[0].0.min(read[1].0), read[0].0.max(read[1].0));
        let (upper, lower) = (read[0].1.min(read[1].1), read[0].1.max(read[1].1));
        if lower < top || upper > foot || far < start || near > end {
            continue;
        }
        between.push((
            near - area.clearance_mm - start,
            far + area.clearance_mm - start,
        ));
        names.push(area.name.clone());
    }
    let room = end - start;
    equal_gaps(&widths, room, &between, unit.step_mm())
        .map(|places| places.into_iter().map(|at| start + at).collect())
        .ok_or_else(|| PlaceError::RowFull {
            widths: print(widths.iter().sum(), unit).text,
            room: print(room, unit).text,
            between: if names.is_empty() {
                String::new()
            } else {
                format!(", less the {} between", names.join(" and the "))
            },
        })
}

fn edge_name(edge: &EdgeRef, side: &MeasuredSide) -> String {
    match edge {
        EdgeRef::FrontEdge => "the front edge".to_owned(),
        EdgeRef::RearEdge => "the rear edge".to_owned(),
        EdgeRef::Feature {
            feature, number, ..
        } => {
            let source = (*feature, *number);
            let line = side
                .lines
                .iter()
                .find(|l| l.source == source)
                .map(|l| l.name.clone());
            let area = || {
                side.areas
                    .iter()
                    .find(|a| a.source == source)
                    .map(|a| a.name.clone())
            };
            line.or_else(area).map_or_else(
                || "an edge that is gone".to_owned(),
                |name| format!("the {name}"),
            )
        }
    }
}
