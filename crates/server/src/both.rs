//! A side with the one that mirrors it.

use std::sync::Arc;

use uuid::Uuid;
use windrift_core::vehicle::side::Side;
use windrift_store::SideRows;
use windrift_store::stored::Kind;

use crate::desk::Desk;
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
    let mut other = None;
    for sibling in &job.sides {
        // A sibling that cannot be read is no mirror of anything.
        let Ok(there) = Kind::Side.read::<Side>(&sibling.side.spec) else {
            continue;
        };
        if here.input.side.kind.mirror() == Some(there.kind)
            && there.facing != here.input.side.facing
        {
            let planned = desk.planned(&job, sibling.side.id, &ways).await?;
            other = Some((there.name(ways.side_words), planned));
            break;
        }
    }
    Ok(Both {
        rows,
        ways,
        here,
        other,
    })
}
