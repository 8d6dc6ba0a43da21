//! How far a job has come through its nine stages.

use serde::{Deserialize, Serialize};

/// The stages of a job in the order of the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// What it is, how big, what is in the way.
    LookOver,
    /// Where each piece goes.
    LayOut,
    /// Which film from which roll.
    Film,
    /// How the old film comes off.
    Strip,
    /// Clean, prime, acclimatise.
    Prep,
    /// Hang it, read both ends, lock.
    Hinge,
    /// Press it without shutting in air.
    LayDown,
    /// Heat and seal the edges.
    HeatAndSeal,
    /// Proof and papers.
    HandOver,
}

/// Where a stage stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StageState {
    /// Finished as far as Windrift can tell.
    Done,
    /// The next thing to do.
    Now,
    /// Later in the job.
    Later,
}

/// One stage with its state.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StageProgress {
    /// The stage.
    pub stage: Stage,
    /// Where it stands.
    pub state: StageState,
}

/// What has been done on a job, counted from its rows and its record.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Done {
    /// Features measured on its sides.
    pub features: u64,
    /// Its sides.
    pub sides: u64,
    /// Figures of its sides that nobody has measured yet.
    pub unmeasured: u64,
    /// Pieces laid out.
    pub pieces: u64,
    /// Of these, pieces that cannot be placed or stand over an edge.
    pub not_on_it: u64,
    /// Pieces for which a film of the shelf is chosen.
    pub filmed: u64,
    /// Old graphics that are on it or were.
    pub old: u64,
    /// Of these, those that are off, adhesive too.
    pub off: u64,
    /// Sides with pieces.
    pub worked_sides: u64,
    /// Of these, sides whose final wipe is done.
    pub wiped_sides: u64,
    /// Pieces whose hinge is locked.
    pub locked: u64,
    /// Pieces laid down.
    pub laid: u64,
    /// Pieces that lie whose heat is closed and whose sealer is on.
    pub heated: u64,
    /// Plans issued after the last lock.
    pub issued: u64,
}

/// Where each of the nine stages stands, in order. One stage at most is *now*.
///
/// ```
/// # use windrift_core::shop::progress::{Done, Stage, StageState, progress};
/// let stages = progress(Done { sides: 2, features: 3, pieces: 2, ..Done::default() });
/// assert_eq!(stages.len(), 9);
/// assert_eq!((stages[0].stage, stages[0].state), (Stage::LookOver, StageState::Done));
/// ```
pub fn progress(done: Done) -> [StageProgress; 9] {
    let mut now_given = false;
    let mut state = |finished: bool| {
        if finished {
            StageState::Done
        } else if now_given {
            StageState::Later
        } else {
            now_given = true;
            StageState::Now
        }
    };
    // Done when every figure is measured, never because the job was started.
    let look_over = state(done.sides > 0 && done.unmeasured == 0);
    // What stands over an edge is not laid out yet.
    let lay_out = state(done.pieces > 0 && done.not_on_it == 0);
    // Never the next thing by itself: where no film is chosen the usual class is worked with, and said.
    let film = if done.pieces > 0 && done.filmed >= done.pieces {
        StageState::Done
    } else {
        StageState::Later
    };
    // Only where somebody said that there is old film.
    let strip = if done.old == 0 {
        StageState::Later
    } else {
        state(done.off >= done.old)
    };
    // Never the next thing by itself: a shop that ticks nothing goes on all the same.
    let prep = if done.worked_sides > 0 && done.wiped_sides >= done.worked_sides {
        StageState::Done
    } else {
        StageState::Later
    };
    // A piece that lies needs its lock no more.
    let hinge = state(done.pieces > 0 && done.locked.max(done.laid) >= done.pieces);
    let lay_down = state(done.pieces > 0 && done.laid >= done.pieces);
    // Never the next thing by itself: what asks for no heat has no run to close.
    let heat_and_seal = if done.laid > 0 && done.heated >= done.laid {
        StageState::Done
    } else {
        StageState::Later
    };
    // Nothing is handed over before it lies.
    let lies = done.pieces > 0 && done.laid >= done.pieces;
    let hand_over = state(done.issued > 0 && lies);
    [
        (Stage::LookOver, look_over),
        (Stage::LayOut, lay_out),
        (Stage::Film, film),
        (Stage::Strip, strip),
        (Stage::Prep, prep),
        (Stage::Hinge, hinge),
        (Stage::LayDown, lay_down),
        (Stage::HeatAndSeal, heat_and_seal),
        (Stage::HandOver, hand_over),
    ]
    .map(|(stage, state)| StageProgress { stage, state })
}
