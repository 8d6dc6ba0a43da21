//! Photos of a job, and the shop's own sides to start from.

use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect, Set};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{photo, side_template};
use crate::{Store, StoreError};

/// A photo to be kept.
#[derive(Debug, Clone)]
pub struct NewPhoto {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
    /// The job that it belongs to.
    pub job: Uuid,
    /// Who took it.
    pub crew: Uuid,
    /// Pixels across and down.
    pub size: (u32, u32),
    /// The whole photo.
    pub jpeg: Vec<u8>,
    /// A small copy.
    pub small: Vec<u8>,
}

/// Most templates that are listed.
const MOST_TEMPLATES: u64 = 200;

impl Store {
    /// Keeps a photo. The same id again changes nothing.
    pub async fn keep_photo(&self, new: NewPhoto) -> Result<(), StoreError> {
        let row = photo::ActiveModel {
            id: Set(new.id),
            job_id: Set(new.job),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(new.crew),
            width: Set(new.size.0 as i32),
            height: Set(new.size.1 as i32),
            jpeg: Set(new.jpeg),
            small: Set(new.small),
        };
        photo::Entity::insert(row)
            .on_conflict(
                OnConflict::column(photo::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// One photo.
    pub async fn photo(&self, id: Uuid) -> Result<photo::Model, StoreError> {
        photo::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("photo"))
    }

    /// Whether a job has this photo.
    pub async fn has_photo(&self, job: Uuid, id: Uuid) -> Result<bool, StoreError> {
        let found: Option<Uuid> = photo::Entity::find_by_id(id)
            .filter(photo::Column::JobId.eq(job))
            .select_only()
            .column(photo::Column::Id)
            .into_tuple()
            .one(&self.db)
            .await?;
        Ok(found.is_some())
    }

    /// The shop's templates by name.
    pub async fn templates(&self) -> Result<Vec<side_template::Model>, StoreError> {
        Ok(side_template::Entity::find()
            .order_by_asc(side_template::Column::Name)
            .limit(MOST_TEMPLATES)
            .all(&self.db)
            .await?)
    }

    /// One template.
    pub async fn template(&self, id: Uuid) -> Result<side_template::Model, StoreError> {
        side_template::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("template"))
    }

    /// Keeps a template. The same id again changes nothing.
    pub async fn keep_template(
        &self,
        id: Uuid,
        name: &str,
        crew: Uuid,
        spec: Value,
    ) -> Result<(), StoreError> {
        let row = side_template::ActiveModel {
            id: Set(id),
            name: Set(name.into()),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(crew),
            spec: Set(spec),
        };
        side_template::Entity::insert(row)
            .on_conflict(
                OnConflict::column(side_template::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Removes a template; sides that were started from it stay.
    pub async fn remove_template(&self, id: Uuid) -> Result<(), StoreError> {
        side_template::Entity::delete_by_id(id)
            .exec(&self.db)
            .await?;
        Ok(())
    }
}
