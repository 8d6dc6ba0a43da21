//! A side with the one that mirrors it.

use std::sync::Arc;

use uuid::Uuid;
use windrift_store::SideRows;

use crate::desk::Desk;
use crate::mirror::mirror_of;
use crate::planned::PlannedSide;
use crate::problem::Problem;
use crate::ways::Ways;

/// A side of a job, planned, with the side that mirrors it.
pub(crate) struct Both {
    pub rows: SideRows,
    pub ways: Ways,
    pub here: Arc<PlannedSide>,
    pub other: Option<(String, Arc<PlannedSide>)>,
}

/// A side with the one that mirrors it, planned.
pub(crate) async fn both(desk: &Desk, side: Uuid) -> Result<Both, Problem> {
    let rows = desk.side(side).await?;
    let ways = desk.ways().await?;
    let job = desk.job(rows.job.id).await?;
    let here = desk.planned(&job, side, &ways).await?;
    let other = match mirror_of(&job.sides, &here.input.side) {
        Some((rows, there)) => {
            let planned = desk.planned(&job, rows.side.id, &ways).await?;
            Some((there.name(ways.side_words), planned))
        }
        None => None,
    };
    Ok(Both {
        rows,
        ways,
        here,
        other,
    })
}
