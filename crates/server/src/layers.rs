//! Lettering of several films: each film is a piece of work of its own, and all are edited as one.

use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::place::rules::PlaceRule;
use windrift_core::plan::piece::Piece;
use windrift_store::SideRows;
use windrift_store::edits::{Change, RowKind};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{Editing, check_pieces, make_all, require_room};
use crate::problem::Problem;
use crate::request::Caller;

/// The layers of a piece that are rows of their side: key, revision, and what they are.
pub fn layers_of(rows: &SideRows, own: Uuid) -> Vec<(Uuid, i32, Piece)> {
    let read = |row: &windrift_store::entity::piece::Model| {
        let piece = Kind::Piece.read::<Piece>(&row.spec).ok()?;
        let of_it = matches!(piece.place, PlaceRule::Marks { of } if of == own);
        (of_it && piece.layer().is_some()).then_some((row.id, row.revision, piece))
    };
    rows.pieces.iter().filter_map(read).collect()
}

/// Pieces as they would be, and the edits that make them so.
#[derive(Default)]
pub struct Whole {
    /// Each piece, its layers after it.
    pub pieces: Vec<(Uuid, Piece)>,
    /// What changes: rows and their changes, the piece itself first.
    pub changes: Vec<(Uuid, Change)>,
}

impl Whole {
    /// Takes in a piece with its layers: those that are there are changed with it, the rest added or removed. `seen` is the revision of
    /// the piece that the writer saw; nothing where it is new.
    pub fn take(
        &mut self,
        rows: &SideRows,
        own: Uuid,
        mut piece: Piece,
        seen: Option<i32>,
    ) -> Result<(), Problem> {
        if let Art::Lettering(words) = &mut piece.art {
            words.keep_to_rule();
        }
        let mut known = layers_of(rows, own);
        let wanted = piece.part_layers(own);
        let parent = rows.side.id;
        let spec = Kind::Piece.write(&piece)?;
        let change = match seen {
            Some(seen) => Change::Replace { seen, spec },
            None => Change::Add { parent, spec },
        };
        self.changes.push((own, change));
        self.pieces.push((own, piece));
        for mut layer in wanted {
            let there = known
                .iter()
                .position(|(_, _, p)| p.layer() == layer.layer());
            let (id, change) = match there {
                Some(n) => {
                    let (id, revision, before) = known.remove(n);
                    layer.work = before.work.clone();
                    if layer == before {
                        self.pieces.push((id, layer));
                        continue;
                    }
                    let spec = Kind::Piece.write(&layer)?;
                    (
                        id,
                        Change::Replace {
                            seen: revision,
                            spec,
                        },
                    )
                }
                None => {
                    let spec = Kind::Piece.write(&layer)?;
                    (Uuid::now_v7(), Change::Add { parent, spec })
                }
            };
            self.pieces.push((id, layer));
            self.changes.push((id, change));
        }
        for (id, seen, _) in known {
            self.changes.push((id, Change::Remove { seen }));
        }
        Ok(())
    }

    /// Checks all of it and makes it in one go; one undo takes all back.
    pub async fn make(self, desk: &Desk, caller: &Caller, rows: &SideRows) -> Editing {
        let added = |(_, change): &&(Uuid, Change)| matches!(change, Change::Add { .. });
        let new = self.changes.iter().filter(added).count();
        if new > 0 {
            let most = RowKind::Piece.most() + 1;
            require_room(rows.pieces.len() + new, most, "pieces on this side")?;
        }
        for (_, piece) in &self.pieces {
            let work = piece.work.check();
            work.map_err(|told| told.within("/spec/work"))?;
        }
        check_pieces(desk, rows, self.pieces).await?;
        let changes = self.changes.into_iter();
        let changes = changes.map(|(row, change)| (RowKind::Piece, row, change));
        make_all(desk, caller, changes.collect()).await
    }
}
