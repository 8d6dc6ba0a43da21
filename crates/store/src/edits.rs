//! Edits of sides, features, pieces and markings: compare-and-set on the revision, kept for undo, known again when repeated.

use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseTransaction, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, QueryResult, Statement, TransactionTrait,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

use crate::entity::{crew, edit};
use crate::{Store, StoreError};

/// Kinds of rows that people edit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, utoipa::ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RowKind {
    /// A side of a job.
    Side,
    /// A feature of a side.
    Feature,
    /// A piece on a side.
    Piece,
    /// A job's vehicle as the rules of marking see it.
    MarkedVehicle,
    /// The marking of a side.
    Marking,
}

impl RowKind {
    /// Table and word of this kind.
    pub fn word(self) -> &'static str {
        match self {
            RowKind::Side => "side",
            RowKind::Feature => "feature",
            RowKind::Piece => "piece",
            RowKind::MarkedVehicle => "marked_vehicle",
            RowKind::Marking => "marking",
        }
    }

    fn parent(self) -> &'static str {
        match self {
            RowKind::Side | RowKind::MarkedVehicle => "job",
            RowKind::Feature | RowKind::Piece | RowKind::Marking => "side",
        }
    }

    fn from_word(word: &str) -> RowKind {
        match word {
            "side" => RowKind::Side,
            "feature" => RowKind::Feature,
            "marked_vehicle" => RowKind::MarkedVehicle,
            "marking" => RowKind::Marking,
            _ => RowKind::Piece,
        }
    }
}

/// What an edit does to a row.
#[derive(Debug, Clone)]
pub enum Change {
    /// Adds the row to its side or job.
    Add {
        /// The side, or for a side the job.
        parent: Uuid,
        /// What is kept.
        spec: Value,
    },
    /// Replaces what is kept, if the row still has this revision.
    Replace {
        /// Revision that the writer saw.
        seen: i32,
        /// What is kept.
        spec: Value,
    },
    /// Removes the row, if it still has this revision.
    Remove {
        /// Revision that the writer saw.
        seen: i32,
    },
}

/// An edit to be made.
#[derive(Debug, Clone)]
pub struct Edit {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// Who makes it.
    pub crew: Uuid,
    /// What kind of row it changes.
    pub kind: RowKind,
    /// Which row.
    pub row: Uuid,
    /// What it does.
    pub change: Change,
}

/// A row after an edit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, utoipa::ToSchema)]
pub struct EditedRow {
    /// What kind of row.
    pub kind: RowKind,
    /// Its key.
    pub id: Uuid,
    /// Its revision now.
    pub revision: i32,
    /// What is kept now; nothing where it was removed.
    pub spec: Option<Value>,
}

struct Standing {
    parent: Uuid,
    revision: i32,
    spec: Value,
}

impl Store {
    /// Makes an edit in one transaction.
    ///
    /// Errors: [`StoreError::Stale`] with what stands now where the row has another revision than the writer saw. The same edit
    /// id again changes nothing and returns what that edit left.
    pub async fn edit(&self, wanted: Edit) -> Result<EditedRow, StoreError> {
        let transaction = self.db.begin().await?;
        let row = self.edit_in(&transaction, &wanted, None).await?;
        transaction.commit().await?;
        Ok(row)
    }

    /// Makes several edits in one transaction: all or none. They are undone and redone together. The first one's id is the id of
    /// the whole: sent again, nothing is changed. Returns the first one's row.
    pub async fn edit_all(&self, wanted: Vec<Edit>) -> Result<EditedRow, StoreError> {
        let transaction = self.db.begin().await?;
        let mut edits = wanted.iter();
        let first = edits.next().ok_or(StoreError::NotFound("edit"))?;
        let known = edit::Entity::find_by_id(first.id)
            .one(&transaction)
            .await?
            .is_some();
        let row = self.edit_in(&transaction, first, Some(first.id)).await?;
        if known {
            return Ok(row);
        }
        for edit in edits {
            self.edit_in(&transaction, edit, Some(first.id)).await?;
        }
        transaction.commit().await?;
        Ok(row)
    }

    async fn edit_in(
        &self,
        transaction: &DatabaseTransaction,
        wanted: &Edit,
        batch: Option<Uuid>,
    ) -> Result<EditedRow, StoreError> {
        if let Some(before) = edit::Entity::find_by_id(wanted.id).one(transaction).await? {
            if before.row_id != wanted.row || before.kind != wanted.kind.word() {
                return Err(StoreError::IdTaken);
            }
            return Ok(EditedRow {
                kind: wanted.kind,
                id: wanted.row,
                revision: before.left_revision,
                spec: before.after,
            });
        }
        let standing = standing(transaction, wanted.kind, wanted.row).await?;
        let (parent, before, after, revision) = match (&wanted.change, standing) {
            (Change::Add { parent, spec }, None) => {
                insert(transaction, wanted.kind, wanted.row, *parent, 1, spec).await?;
                (*parent, None, Some(spec.clone()), 1)
            }
            (Change::Add { .. }, Some(_)) => return Err(StoreError::IdTaken),
            (_, None) => return Err(StoreError::NotFound(wanted.kind.word())),
            (Change::Replace { seen, spec }, Some(row)) => {
                self.require_seen(wanted, *seen, &row).await?;
                let revision = row.revision + 1;
                replace(transaction, wanted.kind, wanted.row, spec, revision).await?;
                (row.parent, Some(row.spec), Some(spec.clone()), revision)
            }
            (Change::Remove { seen }, Some(row)) => {
                self.require_seen(wanted, *seen, &row).await?;
                remove(transaction, wanted.kind, wanted.row).await?;
                (row.parent, Some(row.spec), None, row.revision + 1)
            }
        };
        keep(
            transaction,
            wanted,
            parent,
            before,
            after.clone(),
            revision,
            batch,
        )
        .await?;
        Ok(EditedRow {
            kind: wanted.kind,
            id: wanted.row,
            revision,
            spec: after,
        })
    }

    async fn require_seen(
        &self,
        wanted: &Edit,
        seen: i32,
        row: &Standing,
    ) -> Result<(), StoreError> {
        if row.revision == seen {
            return Ok(());
        }
        Err(StoreError::Stale {
            revision: row.revision,
            current: row.spec.clone(),
            by: self.last_writer(wanted.row).await?,
        })
    }

    /// Name of whoever changed a row last.
    pub async fn last_writer(&self, row: Uuid) -> Result<Option<String>, StoreError> {
        let newest = edit::Entity::find()
            .filter(edit::Column::RowId.eq(row))
            .order_by_desc(edit::Column::Number)
            .one(&self.db)
            .await?;
        let Some(newest) = newest else {
            return Ok(None);
        };
        Ok(crew::Entity::find_by_id(newest.crew_id)
            .one(&self.db)
            .await?
            .map(|c| c.name))
    }

    /// Takes back the person's newest edit on a job, if the row still is as that edit left it.
    ///
    /// Errors: [`StoreError::ChangedSince`] naming who changed it; [`StoreError::NothingTo`].
    pub async fn undo(&self, job: Uuid, crew: Uuid) -> Result<EditedRow, StoreError> {
        self.step(job, crew, true).await
    }

    /// Makes the person's newest undone edit again, under the same condition.
    pub async fn redo(&self, job: Uuid, crew: Uuid) -> Result<EditedRow, StoreError> {
        self.step(job, crew, false).await
    }

    async fn step(&self, job: Uuid, crew: Uuid, back: bool) -> Result<EditedRow, StoreError> {
        let transaction = self.db.begin().await?;
        // Undo takes the newest that stands, redo the oldest undone one after it: edits undone before a newer edit are gone.
        let sql = if back {
            "SELECT id FROM edit WHERE job_id = $1 AND crew_id = $2 AND NOT undone ORDER BY number DESC LIMIT 1"
        } else {
            "SELECT id FROM edit WHERE job_id = $1 AND crew_id = $2 AND undone
             AND number > COALESCE((SELECT max(number) FROM edit WHERE job_id = $1 AND crew_id = $2 AND NOT undone), 0)
             ORDER BY number LIMIT 1"
        };
        let found = transaction
            .query_one_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                sql,
                [job.into(), crew.into()],
            ))
            .await?
            .ok_or(StoreError::NothingTo(if back { "undo" } else { "redo" }))?;
        let id: Uuid = found.try_get("", "id")?;
        let chosen = edit::Entity::find_by_id(id)
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound("edit"))?;
        // What was made in one go goes back in one go: the last first, and the first first when it is made again.
        let together = match chosen.batch {
            None => vec![chosen],
            Some(batch) => {
                let of_batch = edit::Entity::find()
                    .filter(edit::Column::Batch.eq(batch))
                    .filter(edit::Column::Undone.eq(!back));
                let ordered = if back {
                    of_batch.order_by_desc(edit::Column::Number)
                } else {
                    of_batch.order_by_asc(edit::Column::Number)
                };
                ordered.all(&transaction).await?
            }
        };
        let mut row = None;
        for edit in &together {
            row = Some(self.step_one(&transaction, edit, crew, back).await?);
        }
        transaction.commit().await?;
        row.ok_or(StoreError::NotFound("edit"))
    }

    async fn step_one(
        &self,
        transaction: &DatabaseTransaction,
        edit: &edit::Model,
        crew: Uuid,
        back: bool,
    ) -> Result<EditedRow, StoreError> {
        let kind = RowKind::from_word(&edit.kind);
        let (expected, target) = if back {
            (&edit.after, &edit.before)
        } else {
            (&edit.before, &edit.after)
        };
        let standing = standing(transaction, kind, edit.row_id).await?;
        let unchanged = match (&standing, expected) {
            (Some(row), Some(_)) => row.revision == edit.left_revision,
            (None, None) => true,
            _ => false,
        };
        if !unchanged {
            let by = self
                .last_writer(edit.row_id)
                .await?
                .unwrap_or_else(|| "somebody".into());
            return Err(StoreError::ChangedSince {
                by,
                what: edit.kind.clone(),
            });
        }
        let revision = edit.left_revision + 1;
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
        // The person's edits of this row, back to the last one by somebody else, now find it at this revision: they are taken
        // back and made again strictly in order, so each still meets what it left.
        run(
            transaction,
            "UPDATE edit SET undone = CASE WHEN id = $2 THEN $3 ELSE undone END, left_revision = $4
             WHERE row_id = $1 AND crew_id = $5
             AND number > COALESCE((SELECT max(number) FROM edit WHERE row_id = $1 AND crew_id <> $5), 0)",
            vec![edit.row_id.into(), edit.id.into(), back.into(), revision.into(), crew.into()],
        )
        .await?;
        Ok(EditedRow {
            kind,
            id: edit.row_id,
            revision,
            spec: target.clone(),
        })
    }
}

async fn run(
    transaction: &DatabaseTransaction,
    sql: &str,
    values: Vec<sea_orm::Value>,
) -> Result<(), StoreError> {
    transaction
        .execute_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            sql,
            values,
        ))
        .await?;
    Ok(())
}

async fn standing(
    transaction: &DatabaseTransaction,
    kind: RowKind,
    row: Uuid,
) -> Result<Option<Standing>, StoreError> {
    let sql = format!(
        "SELECT parent_id, revision, spec FROM {} WHERE id = $1 FOR UPDATE",
        kind.word()
    );
    let read = |found: QueryResult| -> Result<Standing, StoreError> {
        Ok(Standing {
            parent: found.try_get("", "parent_id")?,
            revision: found.try_get("", "revision")?,
            spec: found.try_get("", "spec")?,
        })
    };
    transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            sql,
            [row.into()],
        ))
        .await?
        .map(read)
        .transpose()
}

async fn insert(
    transaction: &DatabaseTransaction,
    kind: RowKind,
    row: Uuid,
    parent: Uuid,
    revision: i32,
    spec: &Value,
) -> Result<(), StoreError> {
    let exists = format!("SELECT 1 AS one FROM {} WHERE id = $1", kind.parent());
    transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            exists,
            [parent.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound(kind.parent()))?;
    let sql = format!(
        "INSERT INTO {} (id, parent_id, revision, spec) VALUES ($1, $2, $3, $4)",
        kind.word()
    );
    run(
        transaction,
        &sql,
        vec![
            row.into(),
            parent.into(),
            revision.into(),
            spec.clone().into(),
        ],
    )
    .await
}

async fn replace(
    transaction: &DatabaseTransaction,
    kind: RowKind,
    row: Uuid,
    spec: &Value,
    revision: i32,
) -> Result<(), StoreError> {
    let sql = format!(
        "UPDATE {} SET spec = $2, revision = $3 WHERE id = $1",
        kind.word()
    );
    run(
        transaction,
        &sql,
        vec![row.into(), spec.clone().into(), revision.into()],
    )
    .await
}

async fn remove(
    transaction: &DatabaseTransaction,
    kind: RowKind,
    row: Uuid,
) -> Result<(), StoreError> {
    let sql = format!("DELETE FROM {} WHERE id = $1", kind.word());
    run(transaction, &sql, vec![row.into()]).await
}

async fn keep(
    transaction: &DatabaseTransaction,
    wanted: &Edit,
    parent: Uuid,
    before: Option<Value>,
    after: Option<Value>,
    revision: i32,
    batch: Option<Uuid>,
) -> Result<(), StoreError> {
    let job = if wanted.kind.parent() == "job" {
        "$4"
    } else {
        "(SELECT parent_id FROM side WHERE id = $4)"
    };
    let sql = format!(
        "INSERT INTO edit (id, job_id, crew_id, kind, row_id, parent_id, before, after, left_revision, batch)
         VALUES ($1, {job}, $2, $3, $5, $4, $6, $7, $8, $9)"
    );
    run(
        transaction,
        &sql,
        vec![
            wanted.id.into(),
            wanted.crew.into(),
            wanted.kind.word().into(),
            parent.into(),
            wanted.row.into(),
            before.into(),
            after.into(),
            revision.into(),
            batch.into(),
        ],
    )
    .await
}
