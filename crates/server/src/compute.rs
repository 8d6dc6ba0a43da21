//! Computation, off the threads that answer: so many at once, one for each client, each within a budget, and broken off when nobody
//! waits for it any more.

use std::collections::HashMap;
use std::sync::atomic::Ordering;
use std::sync::{Arc, Mutex, PoisonError, Weak};
use std::time::Duration;

use rocket::http::Status;
use rocket::tokio::sync::{Semaphore, watch};
use rocket::tokio::task::spawn_blocking;
use rocket::tokio::time::timeout;
use windrift_core::ground::budget::{BrokenOff, Budget, within};

use crate::problem::{Problem, broken};

/// Steps that one answer may cost: about three seconds of one core.
pub const STEPS: u64 = 300_000_000;
/// How long a client waits for an answer, waiting for its turn included.
const PATIENCE: Duration = Duration::from_secs(20);
/// Clients that may wait for their turn.
const MOST_CLIENTS: usize = 500;

/// Where computation is done.
#[derive(Debug, Clone)]
pub struct Compute {
    free: Arc<Semaphore>,
    /// One turn for each client, as long as it asks.
    turns: Arc<Mutex<HashMap<String, Weak<Semaphore>>>>,
}

impl Compute {
    /// With so many computations at once.
    pub fn new(at_once: usize) -> Compute {
        Compute {
            free: Arc::new(Semaphore::new(at_once)),
            turns: Arc::default(),
        }
    }

    /// Computes, in a client's turn. One client has one computation at a time, so that nobody's many keep another's one waiting.
    ///
    /// Errors: what cannot be worked out within its steps; a server that is too busy.
    pub async fn run<T: Send + 'static>(
        &self,
        client: &str,
        gone: Option<watch::Receiver<bool>>,
        compute: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let turn = self.turn_of(client).ok_or_else(busy)?;
        let budget = Budget::of_steps(STEPS);
        // Set when this future is dropped or gives up: the computation then ends at its next look.
        let cancel = CancelWhenDropped(budget.cancel());
        let work = async {
            let own = turn.acquire_owned().await.map_err(|_| busy())?;
            let free = Arc::clone(&self.free);
            let one = free.acquire_owned().await.map_err(|_| busy())?;
            spawn_blocking(move || {
                let done = within(budget, compute);
                // Held until the work has really ended, whoever still waits.
                drop((own, one));
                done
            })
            .await
            .map_err(|_| broken())?
            .map_err(broken_off)
        };
        let left = async {
            match gone {
                Some(mut gone) => {
                    let _ = gone.wait_for(|gone| *gone).await;
                }
                None => std::future::pending().await,
            }
        };
        let done = rocket::tokio::select! {
            done = timeout(PATIENCE, work) => done.map_err(|_| busy()).flatten(),
            () = left => Err(busy()),
        };
        drop(cancel);
        done
    }

    fn turn_of(&self, client: &str) -> Option<Arc<Semaphore>> {
        let mut turns = self.turns.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(turn) = turns.get(client).and_then(Weak::upgrade) {
            return Some(turn);
        }
        turns.retain(|_, turn| turn.strong_count() > 0);
        if turns.len() >= MOST_CLIENTS {
            return None;
        }
        let turn = Arc::new(Semaphore::new(1));
        turns.insert(client.to_owned(), Arc::downgrade(&turn));
        Some(turn)
    }
}

struct CancelWhenDropped(Arc<std::sync::atomic::AtomicBool>);

impl Drop for CancelWhenDropped {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

fn broken_off(why: BrokenOff) -> Problem {
    match why {
        BrokenOff::TooMuch => Problem::input("too_much", why.to_string()),
        BrokenOff::Cancelled => busy(),
    }
}

fn busy() -> Problem {
    Problem::new(
        Status::ServiceUnavailable,
        "busy",
        "Windrift is busy with other work just now. Try again in a moment: nothing is written twice.",
    )
}
