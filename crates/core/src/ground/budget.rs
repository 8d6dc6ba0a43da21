//! How much work one computation may be, and how it is broken off.
//!
//! Core has no clock. What may take long counts its steps instead: whoever asks gives a [`Budget`], the loops that can grow call
//! [`spend`], and where the steps are used up, or nobody waits for the answer any more, the computation ends at once and [`within`]
//! says so. Between the two nothing is shared with other threads but the flag that cancels.

use std::cell::RefCell;
use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use thiserror::Error;

/// What a computation may spend.
#[derive(Debug, Clone)]
pub struct Budget {
    steps: u64,
    cancelled: Arc<AtomicBool>,
}

impl Budget {
    /// So many steps. One is about an edge of an outline looked at once: some ten nanoseconds.
    pub fn of_steps(steps: u64) -> Budget {
        Budget {
            steps,
            cancelled: Arc::default(),
        }
    }

    /// What cancels the computation from elsewhere, once it is set.
    pub fn cancel(&self) -> Arc<AtomicBool> {
        Arc::clone(&self.cancelled)
    }
}

/// Why a computation was broken off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum BrokenOff {
    /// Its steps are used up.
    #[error(
        "This is more than can be worked out at once. Use fewer or simpler pieces on this side, or drawings with fewer points."
    )]
    TooMuch,
    /// Nobody waits for it any more.
    #[error("Nobody waits for this any more.")]
    Cancelled,
}

thread_local! {
    static NOW: RefCell<Option<Budget>> = const { RefCell::new(None) };
}

/// Steps between two looks at the flag that cancels.
const LOOK: u64 = 4096;

/// Spends steps of the budget of the computation that runs on this thread. Outside [`within`] it does nothing.
pub fn spend(steps: u64) {
    let broken = NOW.with_borrow_mut(|now| {
        let budget = now.as_mut()?;
        let before = budget.steps;
        budget.steps = before.saturating_sub(steps);
        if before < steps {
            return Some(BrokenOff::TooMuch);
        }
        let looks = before / LOOK != budget.steps / LOOK;
        (looks && budget.cancelled.load(Ordering::Relaxed)).then_some(BrokenOff::Cancelled)
    });
    if let Some(broken) = broken {
        // Unwinds to `within`, past everything that was half done. No panic: nothing is printed, no hook is called.
        resume_unwind(Box::new(broken));
    }
}

/// Runs a computation within a budget.
///
/// ```
/// use windrift_core::ground::budget::{Budget, BrokenOff, spend, within};
/// let counted = |n: u64| within(Budget::of_steps(1000), || (0..n).map(|_| spend(1)).count());
/// assert_eq!(counted(1000), Ok(1000));
/// assert_eq!(counted(1001), Err(BrokenOff::TooMuch));
/// ```
///
/// Errors: [`BrokenOff`]. A panic in the computation goes on as one.
pub fn within<T>(budget: Budget, compute: impl FnOnce() -> T) -> Result<T, BrokenOff> {
    let outer = NOW.replace(Some(budget));
    // What the computation changed is its own: what unwinds leaves nothing behind that anybody sees.
    let done = catch_unwind(AssertUnwindSafe(compute));
    NOW.set(outer);
    done.or_else(|panic| match panic.downcast::<BrokenOff>() {
        Ok(broken) => Err(*broken),
        Err(panic) => resume_unwind(panic),
    })
}
