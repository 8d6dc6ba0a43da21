//! Layouts of a job's pieces on rolls, kept while somebody looks: each time it is asked, the search goes on from where it was.

use std::collections::VecDeque;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use uuid::Uuid;
use windrift_core::cut::nest::{Bin, Nest, NestError, NestPiece, Nester};
use windrift_core::cut::panels::{PanelAsk, panels};
use windrift_core::cut::pieces::{CutPiece, cut_pieces};
use windrift_core::film::roll::Roll;
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

static KEPT: Mutex<VecDeque<(String, Nester)>> = Mutex::new(VecDeque::new());

/// A layout as far as it has come.
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

/// Goes on with the layout of these pieces for so long.
///
/// Errors: too many pieces, or one that no roll can take.
pub fn go_on(
    pieces: &[NestPiece],
    bins: &[Bin],
    gap_mm: f64,
    time: Duration,
) -> Result<Found, NestError> {
    let key = format!("{pieces:?} {bins:?} {gap_mm}");
    let kept = {
        let mut all = KEPT.lock().unwrap_or_else(PoisonError::into_inner);
        let at = all.iter().position(|(k, _)| *k == key);
        at.and_then(|at| all.remove(at))
    };
    let mut nester = match kept {
        Some((_, nester)) => nester,
        None => Nester::new(pieces.to_vec(), bins.to_vec(), gap_mm)?,
    };
    let from = Instant::now();
    while !nester.done() && from.elapsed() < time {
        nester.improve(1);
    }
    let found = Found {
        nest: nester.best().clone(),
        least_mm: nester.least_mm(),
        tried: nester.tried(),
        done: nester.done(),
        left_over: nester.left_over(),
    };
    let mut all = KEPT.lock().unwrap_or_else(PoisonError::into_inner);
    // Somebody else may have looked at the same meanwhile: the better of both is kept, so that nobody sees it become worse.
    let better = |a: &Nester, b: &Nester| {
        let weight = |n: &Nester| (n.left_over(), n.best().length_mm(bins));
        weight(a) <= weight(b)
    };
    match all.iter_mut().find(|(k, _)| *k == key) {
        Some((_, kept)) => {
            if better(&nester, kept) {
                *kept = nester;
            }
        }
        None => {
            if all.len() >= MOST_KEPT {
                all.pop_front();
            }
            all.push_back((key, nester));
        }
    }
    Ok(found)
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
pub fn film_of(row: &film::Model) -> Option<windrift_core::film::stocked::StockedFilm> {
    Kind::Film.read(&row.spec).ok()
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
