//! A piece with its side as planned: what every floor route works at.

use std::sync::Arc;

use windrift_core::floor::hang::hang as work_out;
use windrift_core::floor::hang::words::Hang;
use windrift_core::floor::lay_down::turns::{Turn, turns};
use windrift_core::floor::lay_down::{LayDown, lay_down as laid_down};
use windrift_core::floor::verdict::{Verdict, verdict};
use windrift_core::ground::tape::Unit;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_store::{SideRows, StoreError};

use crate::desk::Desk;
use crate::keys::key;
use crate::planned::PlannedSide;
use crate::problem::Problem;
use crate::views::{LockState, lock_state};
use crate::ways::Ways;

/// A piece with its side as planned.
pub(crate) struct Floor {
    pub rows: SideRows,
    pub unit: Unit,
    pub ways: Ways,
    pub planned: Arc<PlannedSide>,
    at: usize,
}

impl Floor {
    pub async fn of(desk: &Desk, id: &str) -> Result<Floor, Problem> {
        let piece = key(id)?;
        let rows = desk.side_of_piece(piece).await?;
        let ways = desk.ways().await?;
        let job = desk.job(rows.job.id).await?;
        let planned = desk.planned(&job, rows.side.id, &ways).await?;
        let PlannedSide { input, plan } = planned.as_ref();
        if let Some((_, error)) = plan.failed.iter().find(|(p, _)| *p == piece) {
            return Err(error.clone().into());
        }
        if let Some(unread) = input.unreadable.iter().find(|u| u.id == piece) {
            return Err(StoreError::unreadable("piece", unread.why.clone()).into());
        }
        let at = plan
            .pieces
            .iter()
            .position(|p| p.id == piece)
            .ok_or(StoreError::NotFound("piece"))?;
        Ok(Floor {
            unit: input.unit,
            rows,
            ways,
            planned,
            at,
        })
    }

    pub fn plan(&self) -> &SidePlan {
        &self.planned.plan
    }

    pub fn piece(&self) -> &PlannedPiece {
        &self.plan().pieces[self.at]
    }

    /// Whether it is locked where it hangs.
    pub fn lock(&self) -> LockState {
        lock_state(&self.rows, self.piece(), &self.planned.input)
    }

    pub fn hang(&self) -> Hang {
        let side = &self.plan().side;
        let fresh = side.side.surface.paint_is_fresh(self.ways.today());
        work_out(self.piece(), side, &self.ways, fresh, self.unit)
    }

    /// Whether film goes on here at all, today.
    pub fn verdict(&self) -> Verdict {
        verdict(self.piece(), &self.plan().side, self.ways.today())
    }

    pub fn turn(&self) -> Option<Turn> {
        turns(&self.plan().pieces, self.plan().side.side.direction())
            .into_iter()
            .find(|t| t.piece == self.piece().id)
    }

    pub async fn lay_down(self, desk: &Desk) -> Result<(Floor, Hang, LayDown), Problem> {
        desk.compute(move || {
            let hang = self.hang();
            let found = laid_down(
                self.piece(),
                &self.plan().side,
                &hang,
                &self.ways,
                self.unit,
            );
            (self, hang, found)
        })
        .await
    }
}
