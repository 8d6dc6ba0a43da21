//! Photos of a job, and the shop's own sides to start from.

use sea_orm::sea_query::OnConflict;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter, QueryOrder, QuerySelect, Set};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{photo, shop, side_template, typeface};
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

    /// The shop's own typefaces by age: key, name, whether it is no longer offered.
    pub async fn typefaces(&self) -> Result<Vec<(Uuid, String, bool)>, StoreError> {
        Ok(typeface::Entity::find()
            .select_only()
            .columns([
                typeface::Column::Id,
                typeface::Column::Name,
                typeface::Column::Retired,
            ])
            .order_by_asc(typeface::Column::At)
            .into_tuple()
            .all(&self.db)
            .await?)
    }

    /// The file of one of the shop's own typefaces.
    pub async fn typeface_file(&self, id: Uuid) -> Result<Vec<u8>, StoreError> {
        typeface::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .map(|row| row.file)
            .ok_or(StoreError::NotFound("typeface"))
    }

    /// Keeps a typeface of the shop's own.
    pub async fn keep_typeface(
        &self,
        id: Uuid,
        name: &str,
        crew: Uuid,
        file: Vec<u8>,
    ) -> Result<(), StoreError> {
        let row = typeface::ActiveModel {
            id: Set(id),
            name: Set(name.into()),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(crew),
            file: Set(file),
            retired: Set(false),
        };
        typeface::Entity::insert(row)
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Takes a typeface off the list; lettering that is cut in it keeps it.
    pub async fn retire_typeface(&self, id: Uuid) -> Result<(), StoreError> {
        let done = typeface::Entity::update_many()
            .col_expr(typeface::Column::Retired, true.into())
            .filter(typeface::Column::Id.eq(id))
            .exec(&self.db)
            .await?;
        if done.rows_affected == 0 {
            return Err(StoreError::NotFound("typeface"));
        }
        Ok(())
    }

    /// Replaces the shop's settings.
    pub async fn set_settings(&self, settings: Value) -> Result<(), StoreError> {
        shop::Entity::update_many()
            .col_expr(shop::Column::Settings, settings.into())
            .filter(shop::Column::Id.eq(1))
            .exec(&self.db)
            .await?;
        Ok(())
    }
}
