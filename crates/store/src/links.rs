//! Links by which a job is shared read-only: made, opened, withdrawn.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Set,
};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::link;
use crate::{Store, StoreError};

/// Most links of one job, withdrawn ones included.
pub const MOST_LINKS: u64 = 100;
/// Most rows of the list of all links.
const MOST_LISTED: u64 = 500;

impl Store {
    /// Keeps a link.
    ///
    /// Errors: more than there may be for one job.
    pub async fn make_link(&self, new: link::Model) -> Result<(), StoreError> {
        let of_job = link::Entity::find().filter(link::Column::JobId.eq(new.job_id));
        if of_job.count(&self.db).await? >= MOST_LINKS {
            return Err(StoreError::Full {
                what: "links",
                most: MOST_LINKS as usize,
            });
        }
        let row: link::ActiveModel = new.into();
        link::Entity::insert(row)
            .on_conflict(OnConflict::column(link::Column::Id).do_nothing().to_owned())
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Links, the newest first: of one job, or of all.
    pub async fn links(&self, job: Option<Uuid>) -> Result<Vec<link::Model>, StoreError> {
        let mut all = link::Entity::find().order_by_desc(link::Column::At);
        if let Some(job) = job {
            all = all.filter(link::Column::JobId.eq(job));
        }
        Ok(all.limit(MOST_LISTED).all(&self.db).await?)
    }

    /// Withdraws a link for good.
    ///
    /// Errors: there is none.
    pub async fn withdraw_link(&self, id: Uuid) -> Result<link::Model, StoreError> {
        let found = link::Entity::find_by_id(id).one(&self.db).await?;
        found.ok_or(StoreError::NotFound("link"))?;
        let row = link::ActiveModel {
            id: Set(id),
            withdrawn: Set(true),
            ..Default::default()
        };
        Ok(link::Entity::update(row).exec(&self.db).await?)
    }

    /// The link whose token has this hash, while it lasts. That it was opened is kept.
    pub async fn link_of(&self, token_hash: &[u8]) -> Result<Option<link::Model>, StoreError> {
        let now = OffsetDateTime::now_utc();
        let found = link::Entity::find()
            .filter(link::Column::TokenHash.eq(token_hash.to_vec()))
            .filter(link::Column::Withdrawn.eq(false))
            .filter(link::Column::Expires.gt(now))
            .one(&self.db)
            .await?;
        if let Some(found) = &found
            && found.opened.is_none()
        {
            let row = link::ActiveModel {
                id: Set(found.id),
                opened: Set(Some(now)),
                ..Default::default()
            };
            link::Entity::update(row).exec(&self.db).await?;
        }
        Ok(found)
    }
}
