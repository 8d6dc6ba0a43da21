//! Edits of sides, features, pieces and markings: compare-and-set on the revision, kept for [`crate::undo`], known again when repeated.
//!
//! Whoever writes to a job locks the job's row first and its other rows after it, so that two writers follow each other and none
//! waits for the other in a circle. Within a transaction nothing is asked of the pool.

use std::future::Future;

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

    /// Most rows of this kind under one side or job.
    pub const fn most(self) -> usize {
        match self {
            RowKind::Side => 24,
            RowKind::Feature => 600,
            RowKind::Piece => 60,
            RowKind::MarkedVehicle | RowKind::Marking => 1,
        }
    }

    fn several(self) -> &'static str {
        match self {
            RowKind::Side => "sides",
            RowKind::Feature => "features",
            RowKind::Piece => "pieces",
            RowKind::MarkedVehicle => "marked vehicles",
            RowKind::Marking => "markings",
        }
    }

    pub(crate) fn from_word(word: &str) -> Result<RowKind, StoreError> {
        Ok(match word {
            "side" => RowKind::Side,
            "feature" => RowKind::Feature,
            "piece" => RowKind::Piece,
            "marked_vehicle" => RowKind::MarkedVehicle,
            "marking" => RowKind::Marking,
            other => {
                return Err(StoreError::unreadable(
                    "edit",
                    format!("it changes a \u{201c}{other}\u{201d}"),
                ));
            }
        })
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

/// A row as it stands.
pub(crate) struct Standing {
    pub(crate) parent: Uuid,
    pub(crate) revision: i32,
    pub(crate) spec: Value,
}

/// How often a transaction is tried again that PostgreSQL gave up for the sake of another one (SQLSTATE 40001, 40P01).
const TRIES: usize = 5;

/// Makes a transaction, again where it was given up for another's sake.
pub(crate) async fn again<T, F: Future<Output = Result<T, StoreError>>>(
    mut make: impl FnMut() -> F,
) -> Result<T, StoreError> {
    let mut tries = 1;
    loop {
        match make().await {
            Err(error) if tries < TRIES && error.gave_way() => tries += 1,
            other => return other,
        }
    }
}

impl Store {
    /// Makes an edit in one transaction.
    ///
    /// Errors: [`StoreError::Stale`] with what stands now where the row has another revision than the writer saw;
    /// [`StoreError::Full`] where there are as many as may be. The same edit id again changes nothing and returns what that edit
    /// left.
    pub async fn edit(&self, wanted: Edit) -> Result<EditedRow, StoreError> {
        again(|| async {
            let transaction = self.db.begin().await?;
            if let Some(row) = known(&transaction, &wanted).await? {
                return Ok(row);
            }
            lock_job_of(&transaction, &wanted).await?;
            let row = edit_in(&transaction, &wanted, None).await?;
            transaction.commit().await?;
            Ok(row)
        })
        .await
    }

    /// Makes several edits of one job in one transaction: all or none. They are undone and redone together. The first one's id is
    /// the id of the whole: sent again, nothing is changed. Returns the first one's row.
    pub async fn edit_all(&self, wanted: Vec<Edit>) -> Result<EditedRow, StoreError> {
        let first = wanted.first().ok_or(StoreError::NotFound("edit"))?;
        again(|| async {
            let transaction = self.db.begin().await?;
            if let Some(row) = known(&transaction, first).await? {
                return Ok(row);
            }
            lock_job_of(&transaction, first).await?;
            let mut row = None;
            for edit in &wanted {
                let edited = edit_in(&transaction, edit, Some(first.id)).await?;
                row.get_or_insert(edited);
            }
            transaction.commit().await?;
            row.ok_or(StoreError::NotFound("edit"))
        })
        .await
    }

    /// What an edit left, if an edit with this id was made: for requests that are repeated.
    pub async fn edit_made(&self, id: Uuid) -> Result<Option<EditedRow>, StoreError> {
        let Some(before) = edit::Entity::find_by_id(id).one(&self.db).await? else {
            return Ok(None);
        };
        Ok(Some(EditedRow {
            kind: RowKind::from_word(&before.kind)?,
            id: before.row_id,
            revision: before.left_revision,
            spec: before.after,
        }))
    }

    /// Name of whoever changed a row last, of the changes that stand.
    pub async fn last_writer(&self, row: Uuid) -> Result<Option<String>, StoreError> {
        last_writer(&self.db, row).await
    }

    /// The job that a row belongs to or belonged to, what it was called there last, and who removed it if it is gone.
    pub async fn row_once_was(&self, row: Uuid) -> Result<Option<RowOnceWas>, StoreError> {
        let newest = edit::Entity::find()
            .filter(edit::Column::RowId.eq(row))
            .order_by_desc(edit::Column::Number)
            .one(&self.db)
            .await?;
        let Some(newest) = newest else {
            return Ok(None);
        };
        let who = crew::Entity::find_by_id(newest.crew_id)
            .one(&self.db)
            .await?;
        Ok(Some(RowOnceWas {
            job: newest.job_id,
            spec: newest.before.or(newest.after),
            by: who.map_or_else(|| "somebody".into(), |c| c.name),
        }))
    }
}

/// A row that may be gone.
#[derive(Debug, Clone)]
pub struct RowOnceWas {
    /// The job that it belongs to.
    pub job: Uuid,
    /// What was kept last.
    pub spec: Option<Value>,
    /// Who changed it last.
    pub by: String,
}

/// What an edit left, if it was made before.
async fn known(
    transaction: &DatabaseTransaction,
    wanted: &Edit,
) -> Result<Option<EditedRow>, StoreError> {
    let Some(before) = edit::Entity::find_by_id(wanted.id).one(transaction).await? else {
        return Ok(None);
    };
    if before.row_id != wanted.row || before.kind != wanted.kind.word() {
        return Err(StoreError::IdTaken);
    }
    Ok(Some(EditedRow {
        kind: wanted.kind,
        id: wanted.row,
        revision: before.left_revision,
        spec: before.after,
    }))
}

async fn edit_in(
    transaction: &DatabaseTransaction,
    wanted: &Edit,
    batch: Option<Uuid>,
) -> Result<EditedRow, StoreError> {
    // Asked again under the lock: the same request may have come twice at once.
    if let Some(row) = known(transaction, wanted).await? {
        return Ok(row);
    }
    let standing = standing(transaction, wanted.kind, wanted.row).await?;
    let (parent, before, after, revision) = match (&wanted.change, standing) {
        (Change::Add { parent, spec }, None) => {
            let revision = 1 + last_revision(transaction, wanted.row).await?;
            insert(
                transaction,
                wanted.kind,
                wanted.row,
                *parent,
                revision,
                spec,
            )
            .await?;
            (*parent, None, Some(spec.clone()), revision)
        }
        (Change::Add { .. }, Some(_)) => return Err(StoreError::IdTaken),
        (_, None) => return Err(StoreError::NotFound(wanted.kind.word())),
        (Change::Replace { seen, spec }, Some(row)) => {
            require_seen(transaction, wanted, *seen, &row).await?;
            let revision = row.revision + 1;
            replace(transaction, wanted.kind, wanted.row, spec, revision).await?;
            (row.parent, Some(row.spec), Some(spec.clone()), revision)
        }
        (Change::Remove { seen }, Some(row)) => {
            require_seen(transaction, wanted, *seen, &row).await?;
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
    transaction: &DatabaseTransaction,
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
        by: last_writer(transaction, wanted.row).await?,
    })
}

pub(crate) async fn last_writer(
    db: &impl ConnectionTrait,
    row: Uuid,
) -> Result<Option<String>, StoreError> {
    let newest = edit::Entity::find()
        .filter(edit::Column::RowId.eq(row))
        .filter(edit::Column::Undone.eq(false))
        .order_by_desc(edit::Column::Number)
        .one(db)
        .await?;
    let Some(newest) = newest else {
        return Ok(None);
    };
    Ok(crew::Entity::find_by_id(newest.crew_id)
        .one(db)
        .await?
        .map(|c| c.name))
}

/// The highest revision that a row ever had; 0 for one that never was. A row that comes back goes on from there.
pub(crate) async fn last_revision(
    transaction: &DatabaseTransaction,
    row: Uuid,
) -> Result<i32, StoreError> {
    let found = transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT COALESCE(max(left_revision), 0) AS last FROM edit WHERE row_id = $1",
            [row.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("edit"))?;
    Ok(found.try_get("", "last")?)
}

/// Locks a job's row: the first lock of everything that writes to a job.
pub(crate) async fn lock_job(
    transaction: &DatabaseTransaction,
    job: Uuid,
) -> Result<(), StoreError> {
    transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT 1 AS one FROM job WHERE id = $1 FOR NO KEY UPDATE",
            [job.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("job"))?;
    Ok(())
}

async fn lock_job_of(transaction: &DatabaseTransaction, wanted: &Edit) -> Result<(), StoreError> {
    let (parent, kind) = (wanted.kind.parent(), wanted.kind.word());
    let (key, sql) = match (&wanted.change, parent) {
        (Change::Add { parent, .. }, "job") => return lock_job(transaction, *parent).await,
        (Change::Add { parent, .. }, _) => (
            *parent,
            "SELECT parent_id AS job FROM side WHERE id = $1".to_owned(),
        ),
        (_, "job") => (
            wanted.row,
            format!("SELECT parent_id AS job FROM {kind} WHERE id = $1"),
        ),
        _ => (
            wanted.row,
            format!(
                "SELECT side.parent_id AS job FROM {kind} JOIN side ON side.id = {kind}.parent_id WHERE {kind}.id = $1"
            ),
        ),
    };
    let missing = match wanted.change {
        Change::Add { .. } => parent,
        _ => kind,
    };
    let found = transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            sql,
            [key.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound(missing))?;
    lock_job(transaction, found.try_get("", "job")?).await
}

pub(crate) async fn run(
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

pub(crate) async fn standing(
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

pub(crate) async fn insert(
    transaction: &DatabaseTransaction,
    kind: RowKind,
    row: Uuid,
    parent: Uuid,
    revision: i32,
    spec: &Value,
) -> Result<(), StoreError> {
    let standing = format!(
        "SELECT (SELECT count(*) FROM {} WHERE parent_id = $1) AS others FROM {} WHERE id = $1",
        kind.word(),
        kind.parent()
    );
    let found = transaction
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            standing,
            [parent.into()],
        ))
        .await?
        .ok_or(StoreError::NotFound(kind.parent()))?;
    let others: i64 = found.try_get("", "others")?;
    if others as usize >= kind.most() {
        // Of what there is one only, whoever came second meets the first.
        return Err(match kind.most() {
            1 => StoreError::IdTaken,
            most => StoreError::Full {
                what: kind.several(),
                most,
            },
        });
    }
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

pub(crate) async fn replace(
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

pub(crate) async fn remove(
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
