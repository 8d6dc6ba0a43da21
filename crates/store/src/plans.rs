//! Issued plans: frozen, numbered, pinned to the revisions that they were made from.

use sea_orm::{
    ActiveModelTrait, ColumnTrait, EntityTrait, QueryFilter, QueryOrder, Set, TransactionTrait,
};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::edits::{again, lock_job};
use crate::entity::plan;
use crate::record::{append_in, hex};
use crate::{EntryKind, NewEntry, Store, StoreError};

/// An issued plan as it is kept.
pub type IssuedPlan = plan::Model;

/// Hash of what a plan froze: SHA-256 (FIPS 180-4) over its JSON with keys in order, as JSONB gives it back.
pub fn snapshot_hash(snapshot: &Value) -> Vec<u8> {
    Sha256::digest(in_order(snapshot).to_string().as_bytes()).to_vec()
}

/// The same value with the keys of every object in order, whatever order a map keeps.
fn in_order(value: &Value) -> Value {
    match value {
        Value::Object(fields) => {
            let mut sorted: Vec<_> = fields.iter().collect();
            sorted.sort_by_key(|(key, _)| key.as_str());
            sorted
                .into_iter()
                .map(|(key, value)| (key.clone(), in_order(value)))
                .collect()
        }
        Value::Array(items) => items.iter().map(in_order).collect(),
        other => other.clone(),
    }
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
        let hash = snapshot_hash(&snapshot);
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
