//! Issued plans: frozen, numbered, pinned to the revisions that they were made from.

use sea_orm::{
    ActiveModelTrait, ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, QueryFilter,
    QueryOrder, Set, Statement, TransactionTrait,
};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::plan;
use crate::record::append_in;
use crate::{EntryKind, NewEntry, Store, StoreError};

/// An issued plan as it is kept.
pub type IssuedPlan = plan::Model;

impl Store {
    /// Issues a plan: pins `revisions`, keeps `snapshot` whole and appends an entry to the record, in one transaction.
    ///
    /// Where nothing was changed since the newest plan, that one is returned and nothing is written.
    pub async fn issue_plan(
        &self,
        id: Uuid,
        job: Uuid,
        crew: Uuid,
        revisions: Value,
        snapshot: Value,
    ) -> Result<IssuedPlan, StoreError> {
        let transaction = self.db.begin().await?;
        transaction
            .query_one_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "SELECT job_id FROM job_head WHERE job_id = $1 FOR UPDATE",
                [job.into()],
            ))
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        let newest = plan::Entity::find()
            .filter(plan::Column::JobId.eq(job))
            .order_by_desc(plan::Column::Number)
            .one(&transaction)
            .await?;
        let number = newest.as_ref().map_or(1, |p| p.number + 1);
        if let Some(newest) = newest.filter(|p| p.revisions == revisions) {
            return Ok(newest);
        }
        let row = plan::ActiveModel {
            id: Set(id),
            job_id: Set(job),
            number: Set(number),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(crew),
            revisions: Set(revisions.clone()),
            snapshot: Set(snapshot),
        };
        let issued = row.insert(&transaction).await?;
        let entry = NewEntry {
            id,
            kind: EntryKind::Plan,
            crew,
            piece: None,
            body: json!({ "number": number, "revisions": revisions }),
        };
        append_in(&transaction, job, &entry).await?;
        transaction.commit().await?;
        Ok(issued)
    }

    /// One issued plan.
    pub async fn plan(&self, id: Uuid) -> Result<IssuedPlan, StoreError> {
        plan::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("plan"))
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
