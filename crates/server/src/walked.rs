//! The walk round of a job as it stands, for the stages that ask what was there before.

use uuid::Uuid;
use windrift_core::vehicle::walk_round::{WalkEntry, WalkRound, stand};
use windrift_store::EntryKind;

use crate::desk::Desk;
use crate::problem::Problem;

/// Most entries of one walk round.
pub(crate) const MOST_ENTRIES: u64 = 3_000;

/// How the walk round of a job stands.
pub(crate) async fn walk_round_of(desk: &Desk, job: Uuid) -> Result<WalkRound, Problem> {
    let entries = desk
        .record_of_kind(job, EntryKind::WalkRound, MOST_ENTRIES)
        .await?;
    let read: Vec<(Uuid, WalkEntry)> = entries
        .into_iter()
        .filter_map(|e| Some((e.id, serde_json::from_value(e.body).ok()?)))
        .collect();
    Ok(stand(&read))
}
