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
    /// What is still taken of a roll, what is passed over between cuts counted; where all is cut, what cutting it once more takes.
    pub long: Length,
    /// What it was cut from, the newest first: several where one roll had too little.
    pub cut: Vec<TapeCutView>,
    /// Whether all of it is cut, as it is laid out now.
    pub whole: bool,
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
    /// What it gives of what is still to be cut.
    pub gives: Option<TapeGivenView>,
    /// Why the strips cannot be cut from it.
    pub why_not: Option<String>,
}

/// What a roll gives of a tape's cuts.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct TapeGivenView {
    /// How many cuts, from the first on.
    pub cuts: u32,
    /// Of so many.
    pub of: u32,
    /// What they take of it.
    pub long: Length,
}

/// What a tape's strips were cut from.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeCutView {
    /// The entry of the roll.
    pub id: Uuid,
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
                    gives: None,
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
    /// What was cut of one of its tapes.
    fn cut(&self, list: &CutList, job: &JobPieces) -> Vec<TapeCutView> {
        let hash = hash_of(list);
        let rolls = job.tape_of(self.side, &list.name).into_iter();
        let told = rolls.map(|(entry, tape)| TapeCutView {
            id: entry.id,
            film: tape.film_name.clone(),
            lot: entry.taken.lot.clone(),
            length: print(entry.length_mm, job.unit),
            changed: tape.cuts != hash,
        });
        told.collect()
    }

    /// What is cut next of one of its tapes, and whether all of it is cut as it is laid out now: then that is all of it, once more.
    pub fn next(&self, list: &CutList, job: &JobPieces) -> (CutList, bool) {
        let hash = hash_of(list);
        let rolls = job.tape_of(self.side, &list.name);
        let mut done = Vec::new();
        for (_, tape) in rolls.iter().filter(|(_, t)| t.cuts == hash) {
            match &tape.places {
                Some(places) => done.extend(places),
                None => done.extend(0..list.cuts.len()),
            }
        }
        let rest = list.without(&done);
        match (done.is_empty(), rest.cuts.is_empty()) {
            (false, true) => (list.clone(), true),
            (false, false) => (rest, false),
            (true, _) => (list.clone(), false),
        }
    }

    /// Lots of its strips, one sentence for each roll.
    pub fn lots(&self, job: &JobPieces) -> Vec<String> {
        let told = |list: &CutList| {
            let cut = self.cut(list, job).into_iter().map(|cut| {
                if cut.changed {
                    format!(
                        "{}: {} of lot {} ({}) was cut for an earlier layout.",
                        list.name, cut.length.text, cut.lot, cut.film
                    )
                } else {
                    format!(
                        "{}: cut from lot {} ({}), {} of it.",
                        list.name, cut.lot, cut.film, cut.length.text
                    )
                }
            });
            cut.collect::<Vec<_>>()
        };
        self.lists.iter().flat_map(told).collect()
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
        let (next, whole) = self.next(list, job);
        let of = next.cuts.len();
        let mut found: Vec<(usize, TapeRollView)> = (rolls.iter())
            .map(|r| {
                let why_not = r.why_not(&next, job.unit);
                let (cuts, long) = next.given_by(r.view.left.mm);
                let gives = why_not.is_none().then(|| TapeGivenView {
                    cuts: cuts as u32,
                    of: of as u32,
                    long: print(long, job.unit),
                });
                let view = TapeRollView {
                    gives,
                    why_not,
                    ..r.view.clone()
                };
                (cuts, view)
            })
            .collect();
        // Those that give all of it, then those that give most.
        found.sort_by_key(|(cuts, r)| (r.why_not.is_some(), of - cuts.min(&of)));
        // What all of them together do not give.
        let mut rest = next.clone();
        for (_, r) in found.iter().filter(|(_, r)| r.why_not.is_none()) {
            let (given, _) = rest.given_by(r.left.mm);
            rest = rest.without(&(0..given).collect::<Vec<_>>());
        }
        let missing = (!rest.cuts.is_empty()).then(|| {
            let wide = text(list.stock.width_mm.mm());
            let needed = text(rest.taken_mm());
            if rest.cuts.len() == of {
                format!("No roll of marking tape {wide} wide with enough left for a strip is on the shelf: {needed} are needed. Put one there under Shelf, or order it.")
            } else {
                format!("The rolls on the shelf give {} of {of} cuts: {needed} more of marking tape {wide} wide are needed.", of - rest.cuts.len())
            }
        });
        TapeListView {
            name: list.name.clone(),
            long: print(next.taken_mm(), job.unit),
            cut: self.cut(list, job),
            whole,
            short: missing,
            rolls: found.into_iter().map(|(_, r)| r).collect(),
        }
    }

    /// What is taken of a roll for one of its tapes: so many of the cuts that come next, of the list as it is laid out.
    pub fn taken(&self, list: &CutList, next: &CutList, cuts: usize, roll: &TapeRoll) -> Taken {
        let mut at = 0.0;
        let given = next.cuts.get(..cuts).unwrap_or(&next.cuts);
        let pieces = given.iter().map(|c: &Cut| {
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
        let places: Vec<usize> = given.iter().filter_map(|c| list.place_of(c)).collect();
        Taken {
            lot: roll.view.lot.clone(),
            width_mm: Some(roll.width_mm),
            pieces: pieces.collect(),
            tape: Some(TapeTaken {
                side: self.side,
                tape: list.name.clone(),
                film: roll.film,
                film_name: roll.view.film.clone(),
                cuts: hash_of(list),
                places: (places.len() < list.cuts.len()).then_some(places),
            }),
        }
    }
}
