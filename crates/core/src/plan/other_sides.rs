//! What the other sides of a job give to one: mirrored pieces, and the same marks elsewhere.

use uuid::Uuid;

use crate::art::typeface::Typefaces;
use crate::ground::tape::Unit;
use crate::place::rules::PlaceRule;
use crate::plan::around::JobAround;
use crate::plan::piece::Piece;
use crate::plan::place_all::place_all;
use crate::vehicle::feature::SideFeature;
use crate::vehicle::measured::measure::measure;
use crate::vehicle::side::Side;

/// A side as it is stored, with what is on it.
#[derive(Debug, Clone, Copy)]
pub struct SideParts<'s> {
    /// The side.
    pub side: &'s Side,
    /// Its features.
    pub features: &'s [SideFeature],
    /// Its pieces.
    pub pieces: &'s [(Uuid, Piece)],
}

impl JobAround {
    /// What a side needs to know of the other sides of its job: the figures of the side that mirrors it.
    pub fn of(
        side: &Side,
        others: &[SideParts<'_>],
        typefaces: &Typefaces,
        unit: Unit,
    ) -> JobAround {
        let alone = JobAround {
            typefaces: typefaces.clone(),
            ..JobAround::default()
        };
        let there = others
            .iter()
            .find(|o| side.kind.mirror() == Some(o.side.kind) && o.side.facing != side.facing);
        let Some(there) = there else {
            return alone;
        };
        let mut around = JobAround {
            words_there: Some(
                there
                    .pieces
                    .iter()
                    .filter_map(|(_, p)| p.lettering())
                    .map(|l| l.words())
                    .collect(),
            ),
            ..alone.clone()
        };
        let Ok(measured) = measure(there.side, there.features) else {
            return around;
        };
        let (placed, _) = place_all(&measured, there.pieces, &alone, unit);
        for (id, piece) in there.pieces {
            if let PlaceRule::Mirrored { .. } = piece.place {
                around.mirroring.insert(*id, piece.called());
            }
            if let Some((_, drawn, place)) = placed.pieces.get(id) {
                let figures =
                    crate::place::placed::mirror_figures(drawn, place, there.side.direction());
                let reference = there.side.datum_name(piece.place.reference()).to_owned();
                around.mirrored.insert(*id, (figures, reference));
            }
        }
        around
    }
}
