//! Layouts of a job's pieces on rolls, kept while somebody looks: each time it is asked, the search goes on from where it was.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, TryLockError};
use std::time::{Duration, Instant};

use uuid::Uuid;
use windrift_core::cut::nest::{Bin, Nest, NestError, NestPiece, Nester};
use windrift_core::cut::panels::{PanelAsk, panels};
use windrift_core::cut::pieces::{CutPiece, cut_pieces};
use windrift_core::film::roll::Roll;
use windrift_core::film::stocked::StockedFilm;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_store::entity::{film, roll};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::problem::Problem;
use crate::ways::Ways;

/// Layouts that are kept, the newest last.
const MOST_KEPT: usize = 16;
/// A panel may be as long as this where no roll of its film is on the shelf, mm: 50 yd.
const NO_ROLL_MM: f64 = 45_720.0;
/// A roll is taken to be so wide where none of its film is on the shelf, mm: 54 in (common practice, no source).
const NO_ROLL_WIDE_MM: f64 = 1371.6;

/// Layouts of one search that were seen and are kept: whoever cuts one cuts what they saw, also when a shorter one was found meanwhile.
const MOST_SEEN: usize = 12;

/// A layout that somebody looks at: the search, and what it was seen to have found.
struct Kept {
    search: Mutex<Nester>,
    seen: Mutex<Seen>,
}

/// What was seen of a layout.
struct Seen {
    now: Found,
    /// The newest last.
    before: VecDeque<Found>,
}

impl Seen {
    /// Sees what was found; one that takes the same of every roll stands for the one before.
    fn see(&mut self, found: Found) {
        let longer = std::mem::replace(&mut self.now, found);
        if longer.nest.used_mm == self.now.nest.used_mm {
            return;
        }
        if self.before.len() >= MOST_SEEN {
            self.before.pop_front();
        }
        self.before.push_back(longer);
    }

    fn get(&self, how: Search<'_>) -> Found {
        let like = match how {
            Search::Seen(is_like) if !is_like(&self.now.nest) => {
                (self.before.iter().rev()).find(|f| is_like(&f.nest))
            }
            _ => None,
        };
        like.unwrap_or(&self.now).clone()
    }
}

/// Which layout is asked for.
#[derive(Clone, Copy)]
pub enum Search<'a> {
    /// The best after so long.
    GoOn(Duration),
    /// The newest that was seen and is like this; where none is, the newest.
    Seen(&'a dyn Fn(&Nest) -> bool),
}

static KEPT: Mutex<VecDeque<(String, Arc<Kept>)>> = Mutex::new(VecDeque::new());

fn locked<T>(of: &Mutex<T>) -> MutexGuard<'_, T> {
    of.lock().unwrap_or_else(PoisonError::into_inner)
}

/// A layout as far as it has come.
#[derive(Clone)]
pub struct Found {
    /// The layout.
    pub nest: Nest,
    /// No layout takes less of the rolls, mm.
    pub least_mm: f64,
    /// Orders of pieces tried so far.
    pub tried: u64,
    /// Whether nothing is left to gain.
    pub done: bool,
    /// Pieces that found no room.
    pub left_over: usize,
}

impl Found {
    fn by(nester: &Nester) -> Found {
        Found {
            nest: nester.best().clone(),
            least_mm: nester.least_mm(),
            tried: nester.tried(),
            done: nester.done(),
            left_over: nester.left_over(),
        }
    }
}

/// Goes on with the layout of these pieces. While somebody else does, and where no time is given, it is as it was seen last: nobody waits, nobody
/// sees it become worse, and what is seen is what is cut.
///
/// Errors: too many pieces, or one that no roll can take.
pub fn go_on(
    pieces: &[NestPiece],
    bins: &[Bin],
    gap_mm: f64,
    how: Search<'_>,
) -> Result<Found, NestError> {
    let kept = kept(pieces, bins, gap_mm)?;
    if let Search::GoOn(time) = how
        && !time.is_zero()
        && let Some(mut nester) = free(&kept.search)
    {
        let from = Instant::now();
        while !nester.done() && from.elapsed() < time {
            nester.improve(1);
        }
        locked(&kept.seen).see(Found::by(&nester));
    }
    Ok(locked(&kept.seen).get(how))
}

/// The search, where nobody else is at it.
fn free(search: &Mutex<Nester>) -> Option<MutexGuard<'_, Nester>> {
    match search.try_lock() {
        Ok(search) => Some(search),
        Err(TryLockError::Poisoned(search)) => Some(search.into_inner()),
        Err(TryLockError::WouldBlock) => None,
    }
}

/// The layout of these pieces that is kept, or a new one.
fn kept(pieces: &[NestPiece], bins: &[Bin], gap_mm: f64) -> Result<Arc<Kept>, NestError> {
    let key = format!("{pieces:?} {bins:?} {gap_mm}");
    let known = |all: &mut VecDeque<(String, Arc<Kept>)>| {
        let at = all.iter().position(|(k, _)| *k == key)?;
        let (key, kept) = all.remove(at)?;
        all.push_back((key, kept.clone()));
        Some(kept)
    };
    if let Some(kept) = known(&mut locked(&KEPT)) {
        return Ok(kept);
    }
    let nester = Nester::new(pieces.to_vec(), bins.to_vec(), gap_mm)?;
    let mut all = locked(&KEPT);
    // Somebody else may have begun with the same meanwhile.
    if let Some(kept) = known(&mut all) {
        return Ok(kept);
    }
    if all.len() >= MOST_KEPT {
        all.pop_front();
    }
    let kept = Arc::new(Kept {
        seen: Mutex::new(Seen {
            now: Found::by(&nester),
            before: VecDeque::new(),
        }),
        search: Mutex::new(nester),
    });
    all.push_back((key.clone(), kept.clone()));
    Ok(kept)
}

/// A roll of the shelf as it stands.
#[derive(Debug, Clone)]
pub struct StandingRoll {
    /// Its row.
    pub row: roll::Model,
    /// What it is.
    pub roll: Roll,
}

/// Rolls of a film that something is left of: offcuts first, the smallest first; then rolls, those nearly empty first.
pub async fn rolls_of(desk: &Desk, film: Uuid) -> Result<Vec<StandingRoll>, Problem> {
    let mut rolls: Vec<StandingRoll> = (desk.rolls().await?.into_iter())
        .filter(|r| r.film_id == film && r.left_mm > 0.0)
        .filter_map(|row| {
            let roll = Kind::Roll.read(&row.spec).ok()?;
            Some(StandingRoll { row, roll })
        })
        .collect();
    rolls.sort_by(|a, b| {
        b.roll
            .offcut
            .cmp(&a.roll.offcut)
            .then(a.row.left_mm.total_cmp(&b.row.left_mm))
    });
    Ok(rolls)
}

/// A film of the shelf as it stands; nothing where it cannot be read.
pub fn film_of(row: &film::Model) -> Option<StockedFilm> {
    Kind::Film.read(&row.spec).ok()
}

/// The films of the shop's shelf; what cannot be read is left out.
pub async fn shop_films(desk: &Desk) -> Result<Vec<StockedFilm>, Problem> {
    Ok(desk.films().await?.iter().filter_map(film_of).collect())
}

/// How long a panel can be, mm: the longest roll.
pub fn longest_of(rolls: &[StandingRoll]) -> f64 {
    let longest = rolls.iter().map(|r| r.row.left_mm).fold(0.0, f64::max);
    if longest > 0.0 { longest } else { NO_ROLL_MM }
}

/// The width that prints are split for, mm: the widest roll, and an offcut only where there is no roll; a common one where there is neither.
pub fn print_width(rolls: &[StandingRoll]) -> f64 {
    let widest = |offcuts: bool| {
        let of = rolls.iter().filter(|r| r.roll.offcut == offcuts);
        of.map(|r| r.roll.width_mm.mm()).reduce(f64::max)
    };
    widest(false).or(widest(true)).unwrap_or(NO_ROLL_WIDE_MM)
}

/// What a print of this film is split by, on a roll so wide.
pub fn panel_ask(planned: &PlannedPiece, width_mm: f64, longest_mm: f64, ways: &Ways) -> PanelAsk {
    let figures = planned.piece.film_figures();
    PanelAsk {
        printable_mm: (width_mm - 2.0 * ways.printer_margin_mm.mm())
            .max(1.0)
            .into(),
        longest_mm: longest_mm.into(),
        lap_mm: figures.lap_mm.map_or(0.0, |l| l.to).into(),
        step_mm: ways.panel_step_mm,
        turn_in_mm: ways.turn_in_mm,
    }
}

/// What is cut for a piece on rolls so wide: its panels where it is a print.
pub fn cut_of(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    width_mm: f64,
    longest_mm: f64,
    ways: &Ways,
    unit: Unit,
) -> Vec<CutPiece> {
    let ask = panel_ask(planned, width_mm, longest_mm, ways);
    let split = panels(planned, side, &ask, unit).ok();
    cut_pieces(planned, split.as_ref(), &ways.settings)
}
