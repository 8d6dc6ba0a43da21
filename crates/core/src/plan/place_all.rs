//! Every piece of a side drawn and put in its place.

use std::sync::Arc;

use uuid::Uuid;

use crate::ground::tape::Unit;
use crate::place::error::PlaceError;
use crate::place::place;
use crate::place::placed::Around;
use crate::place::rules::PlaceRule;
use crate::plan::around::JobAround;
use crate::plan::piece::Piece;
use crate::plan::planned::PieceError;
use crate::plan::{order, piece};
use crate::vehicle::measured::MeasuredSide;

/// Draws and places every piece of a side. Returns what is placed, and the pieces that cannot be with the reason.
pub fn place_all(
    side: &MeasuredSide,
    pieces: &[(Uuid, Piece)],
    job: &JobAround,
    unit: Unit,
) -> (Around, Vec<(Uuid, PieceError)>) {
    let mut failed: Vec<(Uuid, PieceError)> = Vec::new();
    let mut drawn: Vec<order::DrawnPiece<'_>> = Vec::new();
    for (id, piece) in pieces {
        match piece::draw(piece, side, &job.typefaces) {
            Ok(art) => drawn.push((*id, piece, art)),
            Err(error) => failed.push((*id, error.into())),
        }
    }
    let (rows, wrong) = order::rows(&drawn, side, unit);
    failed.extend(wrong.into_iter().map(|(id, e)| (id, e.into())));
    let (sequence, round) = order::sequence(pieces);
    failed.extend(round.into_iter().map(|(n, e)| (pieces[n].0, e.into())));
    let mut around = Around {
        rows,
        mirrored: job.mirrored.clone(),
        ..Around::default()
    };
    for n in sequence {
        let (id, piece) = &pieces[n];
        if failed.iter().any(|(f, _)| f == id) {
            continue;
        }
        let Some((_, _, art)) = drawn.iter().find(|(d, _, _)| d == id) else {
            continue;
        };
        if let PlaceRule::Mirrored { of } = piece.place
            && let Some(there) = job.mirroring.get(&of)
        {
            let this = piece.called();
            let told = |a: &str, b: &str| {
                format!("\u{201c}{a}\u{201d} mirrors \u{201c}{b}\u{201d} on the other side")
            };
            failed.push((
                *id,
                PlaceError::Cycle(told(&this, there), told(there, &this)).into(),
            ));
            continue;
        }
        match place(art, &piece.place, *id, side, &around, unit) {
            Ok(placed) => {
                around
                    .pieces
                    .insert(*id, (piece.called(), Arc::clone(art), placed));
            }
            Err(error) => failed.push((*id, error.into())),
        }
    }
    (around, failed)
}
