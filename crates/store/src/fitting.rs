//! When a job's fitting starts, and what is done of what comes before it.

use sea_orm::{EntityTrait, QuerySelect, Set, TransactionTrait};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{fitting, job};
use crate::record::{NewEntry, append_in};
use crate::shelf::name_of;
use crate::{Store, StoreError};

impl Store {
    /// What is settled of a job's fitting; nothing where nothing is.
    pub async fn fitting(&self, job: Uuid) -> Result<Option<fitting::Model>, StoreError> {
        Ok(fitting::Entity::find_by_id(job).one(&self.db).await?)
    }

    /// Settles it, if it still stands as the writer saw it: 0 where nothing stood yet. What that is in the record is written with it or not at all.
    ///
    /// Errors: no such job; [`StoreError::Stale`] where somebody else changed it.
    pub async fn settle_fitting(
        &self,
        job: Uuid,
        seen: i32,
        who: Uuid,
        spec: Value,
        entries: &[NewEntry],
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        // The job's own row is held, so that two who settle the first one meet.
        job::Entity::find_by_id(job)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound("job"))?;
        let standing = fitting::Entity::find_by_id(job).one(&transaction).await?;
        if standing.as_ref().is_some_and(|s| s.spec == spec) {
            // The same request again.
            return Ok(());
        }
        let revision = standing.as_ref().map_or(0, |s| s.revision);
        if let Some(standing) = standing.as_ref().filter(|_| revision != seen) {
            return Err(StoreError::Stale {
                revision,
                by: name_of(&transaction, standing.crew_id).await?,
                current: standing.spec.clone(),
            });
        }
        let row = fitting::ActiveModel {
            job_id: Set(job),
            revision: Set(revision + 1),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(who),
            spec: Set(spec),
        };
        if standing.is_some() {
            fitting::Entity::update(row).exec(&transaction).await?;
        } else {
            fitting::Entity::insert(row)
                .exec_without_returning(&transaction)
                .await?;
        }
        for entry in entries {
            append_in(&transaction, job, entry).await?;
        }
        transaction.commit().await?;
        Ok(())
    }
}
