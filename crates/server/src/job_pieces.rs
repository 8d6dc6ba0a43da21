//! The pieces of a job with the film that each is made of, and what of them is cut already.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::lots::{OfLot, seen_together};
use windrift_core::ground::tape::{Unit, print};
use windrift_core::plan::planned::PlannedPiece;
use windrift_store::hex;

use crate::desk::Desk;
use crate::keys::key;
use crate::planned::{PlannedSide, unit_of};
use crate::problem::{Problem, UNREADABLE};
use crate::ways::Ways;

/// What an entry of a roll says was cut.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct Taken {
    pub lot: String,
    /// How wide the roll was, mm; what was cut before this was kept does not say.
    #[serde(default)]
    pub width_mm: Option<f64>,
    /// What no piece says of marking strips.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tape: Option<TapeTaken>,
    pub pieces: Vec<TakenPiece>,
}

/// Marking strips that were cut.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct TapeTaken {
    /// The side that they are for.
    pub side: Uuid,
    /// The tape, as the side's cut list calls it.
    pub tape: String,
    /// The film of the shelf, and what it was called then.
    pub film: Uuid,
    pub film_name: String,
    /// What was laid out: another hash, and the strips are laid out otherwise by now.
    pub cuts: String,
    /// The cuts that this roll gave, by their places in the list; nothing where it gave them all.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub places: Option<Vec<usize>>,
}

/// A piece that was cut.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub(crate) struct TakenPiece {
    pub piece: Uuid,
    pub called: String,
    pub panel: Option<u32>,
    /// What it was cut as: another hash, and what was cut is no longer the piece.
    #[serde(default)]
    pub art: Option<String>,
    /// Its box on the roll, from where the roll began at that time: x, y, width, height, mm.
    pub bounds: [f64; 4],
}

/// An entry of a roll for this job.
pub(crate) struct CutEntry {
    pub id: Uuid,
    pub roll: Uuid,
    pub length_mm: f64,
    pub at: OffsetDateTime,
    pub taken: Taken,
}

/// A side with what it is called and its plan.
pub(crate) struct NamedSide {
    pub id: Uuid,
    pub name: String,
    pub planned: Arc<PlannedSide>,
}

/// A job's sides, planned, and what was cut for it.
pub(crate) struct JobPieces {
    pub id: Uuid,
    pub unit: Unit,
    pub title: String,
    pub ways: Ways,
    pub sides: Vec<NamedSide>,
    pub cut: Vec<CutEntry>,
}

/// A piece of film by what it is made as, wherever it goes.
pub(crate) fn hash_of(art: &Art) -> String {
    let bytes = serde_json::to_vec(art).unwrap_or_default();
    hex(&Sha256::digest(bytes))
}

/// What a panel of a print is called.
pub(crate) fn with_panel(called: &str, panel: Option<u32>) -> String {
    match panel {
        Some(n) => format!("{called}, panel {n}"),
        None => called.to_owned(),
    }
}

impl JobPieces {
    pub async fn of(desk: &Desk, id: &str) -> Result<JobPieces, Problem> {
        let ways = desk.ways().await?;
        let job = desk.job(key(id)?).await?;
        let mut sides = Vec::new();
        for side in &job.sides {
            let planned = match desk.planned(&job, side.side.id, &ways).await {
                Ok(planned) => planned,
                // The shop's machine is in trouble, not the side.
                Err(problem) if problem.status >= 500 && problem.code != UNREADABLE => {
                    return Err(problem);
                }
                // A side that cannot be planned is told where the job is; the others go on.
                Err(_) => continue,
            };
            sides.push(NamedSide {
                id: side.side.id,
                name: planned.input.side.name(ways.side_words),
                planned,
            });
        }
        let cut = (desk.taken_for(job.job.id).await?.into_iter())
            .filter_map(|entry| match serde_json::from_value(entry.spec) {
                Ok(taken) => Some(CutEntry {
                    id: entry.id,
                    roll: entry.roll_id,
                    length_mm: entry.length_mm.unwrap_or(0.0),
                    at: entry.at,
                    taken,
                }),
                Err(error) => {
                    tracing::error!(%error, id = %entry.id, "a cut");
                    None
                }
            })
            .collect();
        Ok(JobPieces {
            id: job.job.id,
            unit: unit_of(&job.job.unit)?,
            title: job.job.title.clone(),
            ways,
            sides,
            cut,
        })
    }

    /// A length in the job's unit.
    pub fn text(&self, mm: f64) -> String {
        print(mm, self.unit).text
    }

    /// Pieces of a film, each with its side.
    pub fn of_film(&self, film: Uuid) -> impl Iterator<Item = (&NamedSide, &PlannedPiece)> {
        let all = (self.sides.iter())
            .flat_map(|side| side.planned.plan.pieces.iter().map(move |p| (side, p)));
        all.filter(move |(_, p)| {
            let chosen = p.piece.work.chosen.as_ref();
            chosen.is_some_and(|c| c.id == film)
        })
    }

    /// The last cut of a piece: its lot, and whether the piece was made otherwise since.
    fn last_cut(&self, piece: Uuid) -> impl Iterator<Item = (&str, &TakenPiece)> {
        let newest_first = self.cut.iter().rev();
        newest_first.flat_map(move |e| {
            let own = e.taken.pieces.iter().filter(move |p| p.piece == piece);
            own.map(|p| (e.taken.lot.as_str(), p))
        })
    }

    /// Whether a piece, or one panel of it, is cut as it is made now.
    pub fn is_cut(&self, piece: &PlannedPiece, panel: Option<u32>) -> bool {
        let now = hash_of(&piece.piece.art);
        self.last_cut(piece.id)
            .any(|(_, p)| p.panel == panel && p.art.as_ref().is_none_or(|then| *then == now))
    }

    /// Whether a piece was made otherwise since it was cut last.
    pub fn changed_since_cut(&self, piece: Uuid, art: &Art) -> bool {
        let last = self.last_cut(piece).next();
        last.is_some_and(|(_, p)| p.art.as_ref().is_some_and(|then| *then != hash_of(art)))
    }

    /// Lots that a piece is cut from.
    pub fn lots_of(&self, piece: Uuid) -> Vec<String> {
        let mut lots: Vec<String> = self
            .last_cut(piece)
            .map(|(lot, _)| lot.to_owned())
            .collect();
        lots.dedup();
        lots
    }

    /// What is cut already, with its lot: of one film, or of all.
    pub fn cut_with_lots(&self, of: Option<Uuid>) -> Vec<OfLot> {
        let mut all = Vec::new();
        for side in &self.sides {
            for p in &side.planned.plan.pieces {
                let Some(film) = p.piece.work.chosen.as_ref().map(|c| c.id) else {
                    continue;
                };
                if of.is_some_and(|wanted| wanted != film) {
                    continue;
                }
                all.extend(self.last_cut(p.id).map(|(lot, taken)| OfLot {
                    side: side.name.clone(),
                    film,
                    called: taken.called.clone(),
                    lot: lot.to_owned(),
                }));
            }
        }
        all
    }

    /// Marking strips that were cut, the newest first.
    pub fn tapes(&self) -> impl Iterator<Item = (&CutEntry, &TapeTaken)> {
        let newest_first = self.cut.iter().rev();
        newest_first.filter_map(|e| Some((e, e.taken.tape.as_ref()?)))
    }

    /// What a side is called; nothing where it cannot be planned.
    pub fn side_name(&self, id: Uuid) -> String {
        let side = self.sides.iter().find(|s| s.id == id);
        side.map(|s| s.name.clone()).unwrap_or_default()
    }

    /// What one tape of a side was cut from, the newest first: from several rolls where one had too little. What was cut before that, for an earlier
    /// layout or once before, is not on the vehicle.
    pub fn tape_of(&self, side: Uuid, name: &str) -> Vec<(&CutEntry, &TapeTaken)> {
        let own = |t: &TapeTaken| t.side == side && t.tape == name;
        let mut found: Vec<(&CutEntry, &TapeTaken)> = Vec::new();
        for (entry, tape) in self.tapes().filter(|(_, t)| own(t)) {
            let again = found.iter().any(|(_, newer)| {
                let both = newer.places.as_ref().zip(tape.places.as_ref());
                newer.cuts != tape.cuts
                    || both.is_none_or(|(a, b)| a.iter().any(|place| b.contains(place)))
            });
            if again {
                break;
            }
            found.push((entry, tape));
        }
        found
    }

    /// The lots that each tape of each side was cut from. Its sides are read one after the other, so that all of it counts as seen together.
    fn strips_with_lots(&self) -> Vec<OfLot> {
        let mut told: Vec<(Uuid, &str)> = Vec::new();
        let mut all = Vec::new();
        for (_, tape) in self.tapes() {
            if told.contains(&(tape.side, tape.tape.as_str())) {
                continue;
            }
            told.push((tape.side, &tape.tape));
            let rolls = self.tape_of(tape.side, &tape.tape).into_iter();
            all.extend(rolls.map(|(entry, tape)| OfLot {
                side: "vehicle".into(),
                film: tape.film,
                called: format!("marking strip on the {}", self.side_name(tape.side)),
                lot: entry.taken.lot.clone(),
            }));
        }
        all
    }

    /// What was cut from different lots and is seen together, in sentences.
    pub fn lots_told(&self) -> Vec<String> {
        let mut told = seen_together(&self.cut_with_lots(None));
        told.extend(seen_together(&self.strips_with_lots()));
        told
    }
}
