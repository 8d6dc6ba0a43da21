//! Issued plans: frozen, numbered, pinned to the revisions that they were made from.

use sea_orm::{
    ActiveModelTrait, ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, QuerySelect, Set, Statement, TransactionTrait,
};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::edits::{again, lock_job};
use crate::entity::plan;
use crate::record::{append_in, hex};
use crate::{EntryKind, NewEntry, Store, StoreError};

/// An issued plan as it is kept.
pub type IssuedPlan = plan::Model;

/// Hash of what a plan freezes: SHA-256 (FIPS 180-4) over the text of the JSONB that is kept, by the database itself.
async fn snapshot_hash(db: &impl ConnectionTrait, snapshot: &Value) -> Result<Vec<u8>, StoreError> {
    let found = db
        .query_one_raw(Statement::from_sql_and_values(
            DbBackend::Postgres,
            "SELECT snapshot_hash($1::jsonb) AS hash",
            [snapshot.clone().into()],
        ))
        .await?
        .ok_or(StoreError::NotFound("plan"))?;
    Ok(found.try_get("", "hash")?)
}

impl Store {
    /// Issues a plan: keeps `snapshot` whole with its hash, pins `revisions` and appends an entry to the record, in one transaction.
    ///
    /// The same id again returns the plan that stands. Where nothing was changed since the newest plan, that one is returned and
    /// nothing is written.
    pub async fn issue_plan(
        &self,
        id: Uuid,
        job: Uuid,
        crew: Uuid,
        revisions: Value,
        snapshot: Value,
    ) -> Result<IssuedPlan, StoreError> {
        again(|| async {
            let transaction = self.db.begin().await?;
            lock_job(&transaction, job).await?;
            if let Some(standing) = plan::Entity::find_by_id(id).one(&transaction).await? {
                return if standing.job_id == job {
                    Ok(standing)
                } else {
                    Err(StoreError::IdTaken)
                };
            }
            let hash = snapshot_hash(&transaction, &snapshot).await?;
            let newest = plan::Entity::find()
                .filter(plan::Column::JobId.eq(job))
                .order_by_desc(plan::Column::Number)
                .one(&transaction)
                .await?;
            let number = newest.as_ref().map_or(1, |p| p.number + 1);
            if let Some(newest) = newest.filter(|p| p.hash.as_ref() == Some(&hash)) {
                return Ok(newest);
            }
            let row = plan::ActiveModel {
                id: Set(id),
                job_id: Set(job),
                number: Set(number),
                at: Set(OffsetDateTime::now_utc()),
                crew_id: Set(crew),
                revisions: Set(revisions.clone()),
                snapshot: Set(snapshot.clone()),
                hash: Set(Some(hash.clone())),
            };
            let issued = row.insert(&transaction).await?;
            let entry = NewEntry {
                id,
                kind: EntryKind::Plan,
                crew,
                piece: None,
                body: json!({ "number": number, "revisions": revisions, "hash": hex(&hash) }),
                read_at: None,
            };
            append_in(&transaction, job, &entry).await?;
            transaction.commit().await?;
            Ok(issued)
        })
        .await
    }

    /// Whether a plan's snapshot still is what its hash was made over. Plans of earlier releases have none.
    pub async fn plan_is_whole(&self, id: Uuid) -> Result<bool, StoreError> {
        let found = self
            .db
            .query_one_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "SELECT COALESCE(hash = snapshot_hash(snapshot), true) AS whole FROM plan WHERE id = $1",
                [id.into()],
            ))
            .await?
            .ok_or(StoreError::NotFound("plan"))?;
        Ok(found.try_get("", "whole")?)
    }

    /// One issued plan.
    pub async fn plan(&self, id: Uuid) -> Result<IssuedPlan, StoreError> {
        plan::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("plan"))
    }

    /// The plans of a job, newest first: of each its key, number, hour, who issued it, and the revisions that it was made from.
    pub async fn plans(
        &self,
        job: Uuid,
    ) -> Result<Vec<(Uuid, i32, OffsetDateTime, Uuid, Value)>, StoreError> {
        Ok(plan::Entity::find()
            .select_only()
            .columns([
                plan::Column::Id,
                plan::Column::Number,
                plan::Column::At,
                plan::Column::CrewId,
                plan::Column::Revisions,
            ])
            .filter(plan::Column::JobId.eq(job))
            .order_by_desc(plan::Column::Number)
            .into_tuple()
            .all(&self.db)
            .await?)
    }

    /// The newest plan of a job, if one was issued.
    pub async fn newest_plan(&self, job: Uuid) -> Result<Option<IssuedPlan>, StoreError> {
        Ok(plan::Entity::find()
            .filter(plan::Column::JobId.eq(job))
            .order_by_desc(plan::Column::Number)
            .one(&self.db)
            .await?)
    }
}
