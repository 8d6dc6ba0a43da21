//! Keys in addresses, and words that are kept.

use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_store::entity::job;

use crate::problem::Problem;

/// The stored word of a unit.
pub fn unit_word(unit: Unit) -> String {
    serde_json::to_value(unit)
        .ok()
        .and_then(|v| v.as_str().map(str::to_owned))
        .unwrap_or_default()
}

/// Whom a job is for, as papers say it: with the plate of the vehicle, where it has one.
pub fn for_whom(job: &job::Model) -> String {
    match &job.plate {
        Some(plate) => format!("{}, {plate}", job.customer),
        None => job.customer.clone(),
    }
}

/// Reads a key from a path.
pub fn key(text: &str) -> Result<Uuid, Problem> {
    text.parse().map_err(|_| {
        Problem::new(
            rocket::http::Status::NotFound,
            "not_found",
            "There is nothing under this address. Go back and look again.",
        )
    })
}
