//! Undo and redo of a person's own edits: acts with an id, by what a row is, never by how it came to be so.

use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, Set, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::edits::{
    EditedRow, RowKind, again, insert, last_revision, last_writer, lock_job, remove, replace, run,
    standing,
};
use crate::entity::{edit, edit_step};
use crate::{Store, StoreError};

/// What is to happen where somebody else's change stands in the way of an undo or a redo.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum InTheWay {
    /// Nothing: it is said whose change it is.
    #[default]
    Ask,
    /// The row becomes what it was all the same; what stands in the way is lost, and can be had back by another undo.
    Over,
    /// This one is left as it is for good, and the one before it is taken.
    Leave,
}

/// An undo or a redo to be made.
#[derive(Debug, Clone, Copy)]
pub struct Step {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// The job.
    pub job: Uuid,
    /// Whose edits.
    pub crew: Uuid,
    /// Undo, or redo.
    pub back: bool,
    /// Where somebody else's change stands in the way.
    pub in_the_way: InTheWay,
}

impl Store {
    /// Takes back the person's newest edit on a job, or makes the newest undone one again, if the row still is as that edit left it.
    ///
    /// Errors: [`StoreError::ChangedSince`] naming whose change stands in the way; [`StoreError::NothingTo`]. The same id again
    /// changes nothing and returns what was answered.
    pub async fn step(&self, mut step: Step) -> Result<EditedRow, StoreError> {
        if step.in_the_way == InTheWay::Leave {
            // Kept whatever comes of the one before, or the same one would be asked about for ever.
            again(|| self.leave(step)).await?;
            step.in_the_way = InTheWay::Ask;
        }
        again(|| async {
            let transaction = self.db.begin().await?;
            lock_job(&transaction, step.job).await?;
            if let Some(answered) = made(&transaction, step.id, &step).await? {
                return Ok(serde_json::from_value(answered)?);
            }
            let mut row = None;
            for edit in newest_to(&transaction, &step).await? {
                row = Some(step_one(&transaction, &edit, &step).await?);
            }
            let row = row.ok_or(StoreError::NotFound("edit"))?;
            note(&transaction, step.id, &step, serde_json::to_value(&row)?).await?;
            transaction.commit().await?;
            Ok(row)
        })
        .await
    }

    /// Passes over what the step would take, once for its id.
    async fn leave(&self, step: Step) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        lock_job(&transaction, step.job).await?;
        // That it was left is noted beside the step itself, under the complement of its id.
        let left = Uuid::from_u128(!step.id.as_u128());
        for id in [step.id, left] {
            if made(&transaction, id, &step).await?.is_some() {
                return Ok(());
            }
        }
        for edit in newest_to(&transaction, &step).await? {
            run(
                &transaction,
                "UPDATE edit SET passed = true WHERE id = $1",
                vec![edit.id.into()],
            )
            .await?;
        }
        note(&transaction, left, &step, json!({ "left": true })).await?;
        Ok(transaction.commit().await?)
    }
}

/// What was answered to this act, where it was made already.
async fn made(
    transaction: &DatabaseTransaction,
    id: Uuid,
    step: &Step,
) -> Result<Option<Value>, StoreError> {
    match edit_step::Entity::find_by_id(id).one(transaction).await? {
        Some(m) if m.job_id != step.job || m.crew_id != step.crew || m.back != step.back => {
            Err(StoreError::IdTaken)
        }
        made => Ok(made.map(|m| m.answered)),
    }
}

async fn note(
    transaction: &DatabaseTransaction,
    id: Uuid,
    step: &Step,
    answered: Value,
) -> Result<(), StoreError> {
    let made = edit_step::ActiveModel {
        id: Set(id),
        job_id: Set(step.job),
        crew_id: Set(step.crew),
        at: Set(OffsetDateTime::now_utc()),
        back: Set(step.back),
        answered: Set(answered),
    };
    edit_step::Entity::insert(made)
        .exec_without_returning(transaction)
        .await?;
    Ok(())
}

/// The edits that an undo or redo is about, in the order in which they are taken: one, or those of one batch.
async fn newest_to(
    transaction: &DatabaseTransaction,
    step: &Step,
) -> Result<Vec<edit::Model>, StoreError> {
    // Undo takes the newest that stands, redo the oldest undone one after it: edits undone before a newer edit are gone.
    let sql = if step.back {
        "SELECT id FROM edit WHERE job_id = $1 AND crew_id = $2 AND NOT undone AND NOT passed ORDER BY number DESC LIMIT 1"
    } else {
        "SELECT id FROM edit WHERE job_id = $1 AND crew_id = $2 AND undone AND NOT passed
         AND number > COALESCE((SELECT max(number) FROM edit WHERE job_id = $1 AND crew_id = $2 AND NOT undone AND NOT passed), 0)
         ORDER BY number LIMIT 1"
    };
    let found = transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            sql,
            [step.job.into(), step.crew.into()],
        ))
        .await?
        .ok_or(StoreError::NothingTo(if step.back {
            "undo"
        } else {
            "redo"
        }))?;
    let id: Uuid = found.try_get("", "id")?;
    let chosen = edit::Entity::find_by_id(id)
        .one(transaction)
        .await?
        .ok_or(StoreError::NotFound("edit"))?;
    // What was made in one go goes back in one go: the last first, and the first first when it is made again.
    let Some(batch) = chosen.batch else {
        return Ok(vec![chosen]);
    };
    let of_batch = edit::Entity::find()
        .filter(edit::Column::Batch.eq(batch))
        .filter(edit::Column::Undone.eq(!step.back))
        .filter(edit::Column::Passed.eq(false));
    let ordered = if step.back {
        of_batch.order_by_desc(edit::Column::Number)
    } else {
        of_batch.order_by_asc(edit::Column::Number)
    };
    Ok(ordered.all(transaction).await?)
}

async fn step_one(
    transaction: &DatabaseTransaction,
    edit: &edit::Model,
    step: &Step,
) -> Result<EditedRow, StoreError> {
    let kind = RowKind::from_word(&edit.kind)?;
    let (expected, target) = if step.back {
        (&edit.after, &edit.before)
    } else {
        (&edit.before, &edit.after)
    };
    let standing = standing(transaction, kind, edit.row_id).await?;
    // What counts is what the row is, not how it came to be so: somebody's change that was taken back again is not in the way.
    let as_left = match (&standing, expected) {
        (Some(row), Some(spec)) => row.spec == *spec,
        (None, None) => true,
        _ => false,
    };
    if !as_left && step.in_the_way != InTheWay::Over {
        let by = last_writer(transaction, edit.row_id)
            .await?
            .unwrap_or_else(|| "somebody".into());
        return Err(StoreError::ChangedSince {
            by,
            what: edit.kind.clone(),
            current: standing.map(|s| s.spec),
        });
    }
    let revision = 1 + last_revision(transaction, edit.row_id)
        .await?
        .max(standing.as_ref().map_or(0, |s| s.revision));
    match (standing.is_some(), target) {
        (true, Some(spec)) => replace(transaction, kind, edit.row_id, spec, revision).await?,
        (true, None) => remove(transaction, kind, edit.row_id).await?,
        (false, Some(spec)) => {
            insert(
                transaction,
                kind,
                edit.row_id,
                edit.parent_id,
                revision,
                spec,
            )
            .await?
        }
        (false, None) => {}
    }
    run(
        transaction,
        "UPDATE edit SET undone = $2, left_revision = $3 WHERE id = $1",
        vec![edit.id.into(), step.back.into(), revision.into()],
    )
    .await?;
    Ok(EditedRow {
        kind,
        id: edit.row_id,
        revision,
        spec: target.clone(),
    })
}
