//! Devices that send too often are refused at once, so that nothing else slows.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use rocket::http::Status;

use crate::problem::Problem;

/// Requests of one device in one second.
const MOST: u32 = 30;
/// Devices that are counted at once; above that all counts begin anew.
const COUNTED: usize = 1_000;

/// Since when a device is counted, and how often it has asked since; by the hash of its key.
type Counts = HashMap<Vec<u8>, (Instant, u32)>;

/// Counts what each device sends.
#[derive(Clone, Default)]
pub struct Floods(Arc<Mutex<Counts>>);

impl Floods {
    /// One more request of a device.
    pub fn take(&self, device: &[u8]) -> Result<(), Problem> {
        let mut counts = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if counts.len() >= COUNTED {
            counts.clear();
        }
        let now = Instant::now();
        let (since, count) = counts.entry(device.to_vec()).or_insert((now, 0));
        if now - *since >= Duration::from_secs(1) {
            (*since, *count) = (now, 0);
        }
        *count += 1;
        if *count > MOST {
            return Err(Problem::new(
                Status::TooManyRequests,
                "too_often",
                format!(
                    "More than {MOST} requests a second from one device. Send several readings in one request, or fewer."
                ),
            ));
        }
        Ok(())
    }
}
