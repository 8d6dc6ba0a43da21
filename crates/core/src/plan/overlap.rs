//! Which pieces lie on which.

use crate::ground::outline::Shape;
use crate::place::rules::PlaceRule;
use crate::plan::planned::{Overlap, PlannedPiece};

/// Finds pieces whose film overlaps and says which lies on top.
pub(crate) fn overlaps(pieces: &mut [PlannedPiece]) {
    let mut found: Vec<(usize, Overlap, bool)> = Vec::new();
    for (n, a) in pieces.iter().enumerate() {
        for (m, b) in pieces.iter().enumerate().skip(n + 1) {
            let near =
                |p: &PlannedPiece| crate::ground::outline::bounds_of(p.placed.hull.iter().copied());
            if !near(a).overlaps(near(b)) || !film_meets(a, b) {
                continue;
            }
            let order = a.piece.order.cmp(&b.piece.order);
            for (own, of, other, over) in [(n, a, b, order.is_gt()), (m, b, a, order.is_lt())] {
                let (this, that) = (of.piece.called(), other.piece.called());
                let (over, sentence) = if order.is_eq() {
                    (
                        None,
                        format!(
                            "\u{201c}{this}\u{201d} and \u{201c}{that}\u{201d} overlap, and nothing says which goes on first. Give one a higher order, or move it."
                        ),
                    )
                } else if over {
                    (
                        Some(true),
                        format!("Lies over \u{201c}{that}\u{201d}: lay that one first."),
                    )
                } else {
                    (
                        Some(false),
                        format!("Lies under \u{201c}{that}\u{201d}: lay this one first."),
                    )
                };
                let by_marks = matches!(&of.piece.place, PlaceRule::Marks { of } if *of == other.id)
                    || matches!(&other.piece.place, PlaceRule::Marks { of: base } if *base == of.id);
                found.push((
                    own,
                    Overlap {
                        other: other.id,
                        over,
                        sentence,
                    },
                    by_marks,
                ));
            }
        }
    }
    for (n, overlap, by_marks) in found {
        if overlap.over.is_none() && !by_marks {
            pieces[n].troubles.insert(0, overlap.sentence.clone());
        }
        pieces[n].overlaps.push(overlap);
    }
}

fn film_meets(a: &PlannedPiece, b: &PlannedPiece) -> bool {
    let theirs: Vec<Shape> = b.film().collect();
    a.film().any(|s| {
        theirs
            .iter()
            .any(|t| s.bounds.overlaps(t.bounds) && s.distance_to(t, 0.01) <= 0.0)
    })
}
