//! Rolls of marking tape: which of the shelf the strips of a side can be cut from, and which they were cut from.

use serde::Serialize;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::classes::FilmClass;
use windrift_core::film::roll::Roll;
use windrift_core::ground::tape::{Length, Unit, print};
use windrift_core::marking::cut_list::Cut;
use windrift_core::marking::{CutList, cut_list};
use windrift_store::stored::Kind;
use windrift_store::{SideRows, hex};

use crate::desk::Desk;
use crate::job_pieces::{JobPieces, Taken, TakenPiece, TapeTaken};
use crate::marked::{input_of, settled};
use crate::nests::film_of;
use crate::problem::Problem;

/// What the strips of a side are cut from.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeFromRolls {
    /// For each tape, in the order of the cut list.
    pub lists: Vec<TapeListView>,
    /// What comes from different lots and is seen together.
    pub lots: Vec<String>,
}

/// One tape of a side's cut list, with the rolls of the shelf.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeListView {
    /// What the tape is called.
    pub name: String,
    /// What is taken of a roll, what is passed over between cuts counted.
    pub long: Length,
    /// What it was cut from; nothing where it was not cut yet.
    pub cut: Option<TapeCutView>,
    /// Rolls that it can be cut from, the best first, then those that it cannot.
    pub rolls: Vec<TapeRollView>,
    /// What to do where no roll will do.
    pub short: Option<String>,
}

/// A roll of marking tape.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct TapeRollView {
    /// Its key.
    pub id: Uuid,
    /// Its revision, as seen.
    pub revision: i32,
    /// What the shop calls its film.
    pub film: String,
    /// Its lot.
    pub lot: String,
    /// Where it stands.
    pub place: String,
    /// What is left of it.
    pub left: Length,
    /// Why the strips cannot be cut from it.
    pub why_not: Option<String>,
}

/// What a tape's strips were cut from.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeCutView {
    /// What the shop calls the film.
    pub film: String,
    /// The lot.
    pub lot: String,
    /// How much of it was taken.
    pub length: Length,
    /// Whether the strips were laid out otherwise since.
    pub changed: bool,
}

/// Strips of a side, as they are cut.
pub(crate) struct SideCuts {
    pub side: Uuid,
    pub name: String,
    pub lists: Vec<CutList>,
}

/// The strips of a side as they are planned, not as they were read back; nothing where no marking is settled.
pub(crate) async fn side_cuts(
    desk: &Desk,
    rows: &SideRows,
    name: String,
) -> Result<Option<SideCuts>, Problem> {
    let Some(input) = input_of(desk, rows, settled(rows)?).await? else {
        return Ok(None);
    };
    let side = rows.side.id;
    let cuts = desk.compute(move || SideCuts {
        side,
        name,
        lists: cut_list(&input.parts().strips, &input.marking.stock),
    });
    Ok(Some(cuts.await?))
}

/// Which lots the strips of a side are cut from, in sentences.
pub(crate) async fn lots_of_side(desk: &Desk, rows: &SideRows) -> Result<Vec<String>, Problem> {
    let job = JobPieces::of(desk, &rows.job.id.to_string()).await?;
    let cuts = side_cuts(desk, rows, job.side_name(rows.side.id)).await?;
    Ok(cuts.map(|c| c.lots(&job)).unwrap_or_default())
}

/// A cut list by what is cut: another hash, and what was cut is no longer what is laid out.
fn hash_of(list: &CutList) -> String {
    hex(&Sha256::digest(
        serde_json::to_vec(&list.cuts).unwrap_or_default(),
    ))
}

/// A roll of marking tape on the shelf.
pub(crate) struct TapeRoll {
    pub view: TapeRollView,
    pub film: Uuid,
    pub width_mm: f64,
}

/// All rolls of marking tape on the shelf.
pub(crate) async fn tape_rolls(desk: &Desk, unit: Unit) -> Result<Vec<TapeRoll>, Problem> {
    let films = desk.films().await?;
    let tape = |id| {
        let row = films.iter().find(|f| f.id == id)?;
        film_of(row).filter(|f| f.class == FilmClass::ConspicuityStrip)
    };
    let rolls = desk.rolls().await?.into_iter();
    Ok(rolls
        .filter_map(|row| {
            let film = tape(row.film_id)?;
            let roll: Roll = Kind::Roll.read(&row.spec).ok()?;
            Some(TapeRoll {
                film: row.film_id,
                width_mm: roll.width_mm.mm(),
                view: TapeRollView {
                    id: row.id,
                    revision: row.revision,
                    film: film.name,
                    lot: roll.lot,
                    place: roll.place,
                    left: print(row.left_mm, unit),
                    why_not: None,
                },
            })
        })
        .collect())
}

impl TapeRoll {
    /// Why a cut list cannot be cut from it.
    pub fn why_not(&self, list: &CutList, unit: Unit) -> Option<String> {
        list.why_not_from(self.width_mm, self.view.left.mm, unit)
    }
}

impl SideCuts {
    /// What was cut of one of its tapes last.
    fn cut(&self, list: &CutList, job: &JobPieces) -> Option<TapeCutView> {
        let own = |t: &TapeTaken| t.side == self.side && t.tape == list.name;
        let (entry, tape) = job.tapes().find(|(_, t)| own(t))?;
        Some(TapeCutView {
            film: tape.film_name.clone(),
            lot: entry.taken.lot.clone(),
            length: print(entry.length_mm, job.unit),
            changed: tape.cuts != hash_of(list),
        })
    }

    /// Lots of its strips, one sentence for each tape.
    pub fn lots(&self, job: &JobPieces) -> Vec<String> {
        let told = |list: &CutList| {
            let cut = self.cut(list, job)?;
            Some(if cut.changed {
                format!(
                    "{}: {} of lot {} ({}) was cut for an earlier layout.",
                    list.name, cut.length.text, cut.lot, cut.film
                )
            } else {
                format!(
                    "{}: cut from lot {} ({}), {} of it.",
                    list.name, cut.lot, cut.film, cut.length.text
                )
            })
        };
        self.lists.iter().filter_map(told).collect()
    }

    /// Its tapes with the rolls of the shelf.
    pub fn view(&self, job: &JobPieces, rolls: &[TapeRoll]) -> TapeFromRolls {
        let lots: Vec<&str> = job.tapes().map(|(e, _)| e.taken.lot.as_str()).collect();
        let mut rolls: Vec<&TapeRoll> = rolls.iter().collect();
        // What this job has been cut from already, so that it is of one lot; then what is nearly used up.
        rolls.sort_by(|a, b| {
            let other = |r: &TapeRoll| !lots.contains(&r.view.lot.as_str());
            (other(a).cmp(&other(b))).then(a.view.left.mm.total_cmp(&b.view.left.mm))
        });
        let lists = self.lists.iter().map(|list| self.list(list, job, &rolls));
        TapeFromRolls {
            lists: lists.collect(),
            lots: job.lots_told(),
        }
    }

    fn list(&self, list: &CutList, job: &JobPieces, rolls: &[&TapeRoll]) -> TapeListView {
        let text = |mm: f64| print(mm, job.unit).text;
        let mut found: Vec<TapeRollView> = (rolls.iter())
            .map(|r| TapeRollView {
                why_not: r.why_not(list, job.unit),
                ..r.view.clone()
            })
            .collect();
        found.sort_by_key(|r| r.why_not.is_some());
        let none = found.iter().all(|r| r.why_not.is_some());
        TapeListView {
            name: list.name.clone(),
            long: print(list.taken_mm(), job.unit),
            cut: self.cut(list, job),
            short: none.then(|| {
                format!(
                    "No roll of marking tape {} wide with {} left is on the shelf. Put one there under Shelf, or order it.",
                    text(list.stock.width_mm.mm()),
                    text(list.taken_mm())
                )
            }),
            rolls: found,
        }
    }

    /// What is taken of a roll for one of its tapes.
    pub fn taken(&self, list: &CutList, roll: &TapeRoll) -> Taken {
        let mut at = 0.0;
        let pieces = list.cuts.iter().map(|c: &Cut| {
            at += c.skipped_mm;
            let from = at;
            at += c.length_mm;
            TakenPiece {
                piece: self.side,
                called: format!("strip {} on the {}, {}", c.strip, self.name, list.name),
                panel: Some(c.strip),
                art: None,
                bounds: [from, 0.0, c.length_mm, roll.width_mm],
            }
        });
        Taken {
            lot: roll.view.lot.clone(),
            width_mm: Some(roll.width_mm),
            tape: Some(TapeTaken {
                side: self.side,
                tape: list.name.clone(),
                film: roll.film,
                film_name: roll.view.film.clone(),
                cuts: hash_of(list),
            }),
            pieces: pieces.collect(),
        }
    }
}
