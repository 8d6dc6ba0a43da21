//! Photos of a job, and the shop's own sides to start from.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder,
    QuerySelect, Set, Statement, TransactionTrait,
};
use serde_json::Value;
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{photo, print_art, shop, side_template, typeface};
use crate::record::hex;
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
    ///
    /// Errors: [`StoreError::IdTaken`] where the id stands for another picture or another job.
    pub async fn keep_photo(&self, new: NewPhoto) -> Result<(), StoreError> {
        let (id, job, jpeg) = (new.id, new.job, new.jpeg.clone());
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
        let kept = photo::Entity::insert(row)
            .on_conflict(
                OnConflict::column(photo::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        if kept == 0 {
            let standing = self.photo(id).await?;
            if standing.job_id != job || standing.jpeg != jpeg {
                return Err(StoreError::IdTaken);
            }
        }
        Ok(())
    }

    /// Keeps print art as it was given, beside the picture that is shown of it. The same again changes nothing.
    pub async fn keep_print_art(
        &self,
        photo: Uuid,
        kind: &str,
        bytes: Vec<u8>,
    ) -> Result<(), StoreError> {
        let row = print_art::ActiveModel {
            photo_id: Set(photo),
            kind: Set(kind.to_owned()),
            bytes: Set(bytes),
        };
        print_art::Entity::insert(row)
            .on_conflict(
                OnConflict::column(print_art::Column::PhotoId)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Print art as it was given; nothing where a photo is all that there is.
    pub async fn print_art(&self, photo: Uuid) -> Result<Option<print_art::Model>, StoreError> {
        Ok(print_art::Entity::find_by_id(photo).one(&self.db).await?)
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
    ///
    /// Errors: [`StoreError::IdTaken`] where the id stands for another template.
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
            spec: Set(spec.clone()),
        };
        let kept = side_template::Entity::insert(row)
            .on_conflict(
                OnConflict::column(side_template::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        if kept == 0 && self.template(id).await?.spec != spec {
            return Err(StoreError::IdTaken);
        }
        Ok(())
    }

    /// Removes a template; sides that were started from it stay.
    pub async fn remove_template(&self, id: Uuid) -> Result<(), StoreError> {
        side_template::Entity::delete_by_id(id)
            .exec(&self.db)
            .await?;
        Ok(())
    }

    /// The shop's own typefaces by age, without their files.
    pub async fn typefaces(&self) -> Result<Vec<OwnTypeface>, StoreError> {
        let rows: Vec<(Uuid, String, bool, Vec<u8>)> = typeface::Entity::find()
            .select_only()
            .columns([
                typeface::Column::Id,
                typeface::Column::Name,
                typeface::Column::Retired,
                typeface::Column::Hash,
            ])
            .order_by_asc(typeface::Column::At)
            .into_tuple()
            .all(&self.db)
            .await?;
        Ok(rows
            .into_iter()
            .map(|(id, name, retired, hash)| OwnTypeface {
                id,
                name,
                retired,
                hash: hex(&hash),
            })
            .collect())
    }

    /// The file of one of the shop's own typefaces.
    pub async fn typeface_file(&self, id: Uuid) -> Result<Vec<u8>, StoreError> {
        typeface::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .map(|row| row.file)
            .ok_or(StoreError::NotFound("typeface"))
    }

    /// Keeps a typeface of the shop's own. The same id with the same file again changes nothing.
    ///
    /// Errors: [`StoreError::Full`] where the shop has `most` already; [`StoreError::IdTaken`] where the id stands for another file.
    pub async fn keep_typeface(
        &self,
        id: Uuid,
        name: &str,
        crew: Uuid,
        file: Vec<u8>,
        most: usize,
    ) -> Result<(), StoreError> {
        let hash = Sha256::digest(&file).to_vec();
        let transaction = self.db.begin().await?;
        // One at a time: how many there are must not change meanwhile. The table itself the application may not lock.
        transaction
            .execute_raw(Statement::from_string(
                DbBackend::Postgres,
                "SELECT pg_advisory_xact_lock(hashtext('windrift typefaces'))",
            ))
            .await?;
        if let Some(standing) = typeface::Entity::find_by_id(id).one(&transaction).await? {
            return if standing.hash == hash {
                Ok(())
            } else {
                Err(StoreError::IdTaken)
            };
        }
        if typeface::Entity::find().count(&transaction).await? as usize >= most {
            return Err(StoreError::Full {
                what: "typefaces of the shop's own",
                most,
            });
        }
        let row = typeface::ActiveModel {
            id: Set(id),
            name: Set(name.into()),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(crew),
            file: Set(file),
            retired: Set(false),
            hash: Set(hash),
        };
        typeface::Entity::insert(row)
            .exec_without_returning(&transaction)
            .await?;
        transaction.commit().await?;
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

    /// Replaces the shop's settings, if they still are as the writer saw them. Returns their revision now.
    ///
    /// Errors: [`StoreError::Stale`] with what stands.
    pub async fn set_settings(
        &self,
        seen: i32,
        settings: Value,
        crew: Uuid,
    ) -> Result<i32, StoreError> {
        let done = shop::Entity::update_many()
            .col_expr(shop::Column::Settings, settings.clone().into())
            .col_expr(shop::Column::Revision, (seen + 1).into())
            .col_expr(shop::Column::CrewId, crew.into())
            .filter(shop::Column::Id.eq(1))
            .filter(shop::Column::Revision.eq(seen))
            .exec(&self.db)
            .await?;
        if done.rows_affected == 1 {
            return Ok(seen + 1);
        }
        let standing = self.shop().await?;
        // The same settings by the same person: the answer to the first request was lost.
        if standing.settings == settings && standing.crew_id == Some(crew) {
            return Ok(standing.revision);
        }
        let by = match standing.crew_id {
            Some(id) => Some(self.crew_member(id).await?.name),
            None => None,
        };
        Err(StoreError::Stale {
            revision: standing.revision,
            current: standing.settings,
            by,
        })
    }
}

/// A typeface of the shop's own, without its file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OwnTypeface {
    /// Its key.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// Whether it is no longer offered.
    pub retired: bool,
    /// SHA-256 of its file, hexadecimal.
    pub hash: String,
}
