//! By when film comes off, of all vehicles at once.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
    Set, Statement,
};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{job, removal};
use crate::{Store, StoreError};

/// Most vehicles in the list.
const MOST: u64 = 1_000;

impl Store {
    /// Jobs whose film lies otherwise than when it was worked out last by when it comes off, each with its newest entry of that; at most so many.
    pub async fn removals_to_work_out(&self, most: u64) -> Result<Vec<(Uuid, i64)>, StoreError> {
        let rows = self
            .db
            .query_all_raw(Statement::from_sql_and_values(
                DbBackend::Postgres,
                "SELECT l.job_id, l.seq FROM (SELECT job_id, max(seq) AS seq FROM record WHERE kind = 'laid' GROUP BY job_id) l
                    LEFT JOIN removal r ON r.job_id = l.job_id WHERE r.seq IS DISTINCT FROM l.seq ORDER BY l.job_id LIMIT $1",
                [(most as i64).into()],
            ))
            .await?;
        rows.into_iter()
            .map(|r| Ok((r.try_get("", "job_id")?, r.try_get("", "seq")?)))
            .collect()
    }

    /// Keeps by when the film of a job comes off. What was said to be off lies again.
    pub async fn keep_removal(&self, new: removal::Model) -> Result<(), StoreError> {
        let row: removal::ActiveModel = new.into();
        removal::Entity::insert(row)
            .on_conflict(
                OnConflict::column(removal::Column::JobId)
                    .update_columns([
                        removal::Column::Seq,
                        removal::Column::Due,
                        removal::Column::Says,
                        removal::Column::Why,
                        removal::Column::OffAt,
                        removal::Column::OffBy,
                    ])
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Vehicles with film that has a day by which it comes off, the first day first.
    pub async fn removals(&self) -> Result<Vec<(removal::Model, job::Model)>, StoreError> {
        let rows = removal::Entity::find()
            .filter(removal::Column::OffAt.is_null())
            .filter(removal::Column::Due.is_not_null())
            .order_by_asc(removal::Column::Due)
            .limit(MOST)
            .all(&self.db)
            .await?;
        let keys: Vec<Uuid> = rows.iter().map(|r| r.job_id).collect();
        let jobs = job::Entity::find()
            .filter(job::Column::Id.is_in(keys))
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .filter_map(|r| {
                let job = jobs.iter().find(|j| j.id == r.job_id)?.clone();
                Some((r, job))
            })
            .collect())
    }

    /// Somebody says that the film of a job is off. The same again changes nothing.
    ///
    /// Errors: [`StoreError::NotFound`] where nothing of it lies.
    pub async fn film_is_off(&self, job: Uuid, who: Uuid) -> Result<(), StoreError> {
        let found = removal::Entity::find_by_id(job).one(&self.db).await?;
        if found
            .ok_or(StoreError::NotFound("film that lies"))?
            .off_at
            .is_none()
        {
            let row = removal::ActiveModel {
                job_id: Set(job),
                off_at: Set(Some(OffsetDateTime::now_utc())),
                off_by: Set(Some(who)),
                ..Default::default()
            };
            removal::Entity::update(row).exec(&self.db).await?;
        }
        Ok(())
    }
}
