//! Steps of work in one form: what, by how many hands, how long, what they wait for, where and how warm.

use serde::{Deserialize, Serialize};

use crate::film::classes::Span;

/// A step of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkStep {
    /// Its key among the steps of a job.
    pub key: String,
    /// What is done.
    pub what: String,
    /// By how many people; 0 where it only waits.
    pub hands: u32,
    /// Hours, at least and at most.
    pub hours: Span,
    /// What it waits for, where it waits.
    pub waits: Option<String>,
    /// Where: `printer`, `bench`, `hall`.
    pub place: String,
    /// How warm it must be there, °C.
    pub window: Option<Span>,
    /// The key of the step before it.
    pub after: Option<String>,
}
