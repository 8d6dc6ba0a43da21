//! The shelf: films, rolls and offcuts, and what was taken from each.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, DatabaseTransaction, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder,
    QuerySelect, Set, TransactionTrait,
};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{crew, film, roll, roll_entry};
use crate::{Store, StoreError};

/// Most films on the shelf.
pub const MOST_FILMS: u64 = 300;
/// Most rolls and offcuts on the shelf.
pub const MOST_ROLLS: u64 = 1000;
/// Most entries of one roll or job that are listed.
const MOST_ENTRIES: u64 = 500;

/// A film to be put on the shelf.
#[derive(Debug, Clone)]
pub struct NewFilm {
    /// Its key.
    pub id: Uuid,
    /// What it is.
    pub spec: Value,
}

/// A roll or an offcut to be put on the shelf.
#[derive(Debug, Clone)]
pub struct NewRoll {
    /// Its key.
    pub id: Uuid,
    /// Its film.
    pub film: Uuid,
    /// What it is.
    pub spec: Value,
    /// What is on it, mm.
    pub left_mm: f64,
}

/// What a roll loses or is found to have.
#[derive(Debug, Clone)]
pub enum RollChange {
    /// So much was cut off, mm.
    Take(f64),
    /// So much is on it, mm.
    Measured(f64),
}

/// An entry of a roll.
#[derive(Debug, Clone)]
pub struct NewRollEntry {
    /// Made by the client, so that a repeated request is entered once.
    pub id: Uuid,
    /// The roll.
    pub roll: Uuid,
    /// Its revision as the writer saw it.
    pub seen: i32,
    /// What happens to it.
    pub change: RollChange,
    /// The job that it is for.
    pub job: Option<Uuid>,
    /// Who.
    pub crew: Uuid,
    /// What was cut, or how it was measured.
    pub spec: Value,
}

impl Store {
    /// Films on the shelf.
    pub async fn films(&self) -> Result<Vec<film::Model>, StoreError> {
        Ok(film::Entity::find()
            .filter(film::Column::Retired.eq(false))
            .order_by_asc(film::Column::At)
            .limit(MOST_FILMS)
            .all(&self.db)
            .await?)
    }

    /// Rolls and offcuts on the shelf, the oldest first.
    pub async fn rolls(&self) -> Result<Vec<roll::Model>, StoreError> {
        Ok(roll::Entity::find()
            .filter(roll::Column::Retired.eq(false))
            .order_by_asc(roll::Column::At)
            .limit(MOST_ROLLS)
            .all(&self.db)
            .await?)
    }

    /// Entries of the rolls that something was cut from for a job, oldest first.
    pub async fn taken_for(&self, job: Uuid) -> Result<Vec<roll_entry::Model>, StoreError> {
        Ok(roll_entry::Entity::find()
            .filter(roll_entry::Column::JobId.eq(job))
            .order_by_asc(roll_entry::Column::At)
            .limit(MOST_ENTRIES)
            .all(&self.db)
            .await?)
    }

    /// A roll, on the shelf or not.
    pub async fn roll(&self, id: Uuid) -> Result<roll::Model, StoreError> {
        roll::Entity::find_by_id(id)
            .one(&self.db)
            .await?
            .ok_or(StoreError::NotFound("roll"))
    }

    /// Puts a film on the shelf. The same id again changes nothing.
    pub async fn keep_film(&self, id: Uuid, crew: Uuid, spec: Value) -> Result<(), StoreError> {
        let film = NewFilm { id, spec };
        self.keep_on_shelf(crew, vec![film], Vec::new()).await
    }

    /// Changes a film, if it still stands as the writer saw it.
    ///
    /// Errors: [`StoreError::Stale`] where somebody else changed it.
    pub async fn change_film(
        &self,
        id: Uuid,
        seen: i32,
        crew: Uuid,
        spec: Value,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let standing = film::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .ok_or(StoreError::NotFound("film"))?;
        if standing.spec == spec {
            // The same request again.
            return Ok(());
        }
        if standing.revision != seen {
            return Err(StoreError::Stale {
                revision: standing.revision,
                by: name_of(&transaction, standing.crew_id).await?,
                current: standing.spec,
            });
        }
        let row = film::ActiveModel {
            id: Set(id),
            revision: Set(seen + 1),
            spec: Set(spec),
            crew_id: Set(crew),
            ..Default::default()
        };
        film::Entity::update(row).exec(&transaction).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Takes a film off the shelf with its rolls; pieces planned with it keep their copy.
    pub async fn retire_film(&self, id: Uuid) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let done = film::Entity::update_many()
            .col_expr(film::Column::Retired, true.into())
            .filter(film::Column::Id.eq(id))
            .exec(&transaction)
            .await?;
        if done.rows_affected == 0 {
            return Err(StoreError::NotFound("film"));
        }
        roll::Entity::update_many()
            .col_expr(roll::Column::Retired, true.into())
            .filter(roll::Column::FilmId.eq(id))
            .exec(&transaction)
            .await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Which of these rolls were ever on the shelf, used up and taken off ones too.
    pub async fn rolls_known(&self, ids: Vec<Uuid>) -> Result<Vec<Uuid>, StoreError> {
        if ids.is_empty() {
            return Ok(ids);
        }
        let rows = roll::Entity::find()
            .filter(roll::Column::Id.is_in(ids))
            .all(&self.db)
            .await?;
        Ok(rows.into_iter().map(|r| r.id).collect())
    }

    /// Puts a roll or an offcut on the shelf. The same id again changes nothing.
    ///
    /// Errors: no such film.
    pub async fn keep_roll(
        &self,
        id: Uuid,
        film: Uuid,
        crew: Uuid,
        spec: Value,
        left_mm: f64,
    ) -> Result<(), StoreError> {
        let roll = NewRoll {
            id,
            film,
            spec,
            left_mm,
        };
        self.keep_on_shelf(crew, Vec::new(), vec![roll]).await
    }

    /// Puts films, then rolls of them or of others on the shelf: all or none. What is there under an id stays as it is.
    ///
    /// Errors: a roll of no film on the shelf; more than the shelf holds.
    pub async fn keep_on_shelf(
        &self,
        crew: Uuid,
        films: Vec<NewFilm>,
        rolls: Vec<NewRoll>,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let at = OffsetDateTime::now_utc();
        for NewFilm { id, spec } in films {
            let row = film::ActiveModel {
                id: Set(id),
                at: Set(at),
                crew_id: Set(crew),
                revision: Set(1),
                spec: Set(spec),
                retired: Set(false),
            };
            film::Entity::insert(row)
                .on_conflict(OnConflict::column(film::Column::Id).do_nothing().to_owned())
                .exec_without_returning(&transaction)
                .await?;
        }
        for NewRoll {
            id,
            film,
            spec,
            left_mm,
        } in rolls
        {
            let there = film::Entity::find_by_id(film).one(&transaction).await?;
            if there.is_none_or(|f| f.retired) {
                return Err(StoreError::NotFound("film"));
            }
            let row = roll::ActiveModel {
                id: Set(id),
                film_id: Set(film),
                at: Set(at),
                crew_id: Set(crew),
                revision: Set(1),
                spec: Set(spec),
                left_mm: Set(left_mm),
                retired: Set(false),
            };
            roll::Entity::insert(row)
                .on_conflict(OnConflict::column(roll::Column::Id).do_nothing().to_owned())
                .exec_without_returning(&transaction)
                .await?;
        }
        let films = film::Entity::find().filter(film::Column::Retired.eq(false));
        let rolls = roll::Entity::find().filter(roll::Column::Retired.eq(false));
        for (count, most, what) in [
            (
                films.count(&transaction).await?,
                MOST_FILMS,
                "films on the shelf",
            ),
            (
                rolls.count(&transaction).await?,
                MOST_ROLLS,
                "rolls on the shelf",
            ),
        ] {
            if count > most {
                return Err(StoreError::Full {
                    what,
                    most: most as usize,
                });
            }
        }
        transaction.commit().await?;
        Ok(())
    }

    /// Takes a roll off the shelf; what was cut from it stays entered.
    pub async fn retire_roll(&self, id: Uuid) -> Result<(), StoreError> {
        let done = roll::Entity::update_many()
            .col_expr(roll::Column::Retired, true.into())
            .filter(roll::Column::Id.eq(id))
            .exec(&self.db)
            .await?;
        if done.rows_affected == 0 {
            return Err(StoreError::NotFound("roll"));
        }
        Ok(())
    }

    /// Enters what was taken from rolls, or measured on them: all or none. The same ids again change nothing. Rolls are locked one after the
    /// other in the order of their keys, so that two people who take from the same ones wait for each other, and the second is told.
    ///
    /// Errors: [`StoreError::Stale`] where somebody took from a roll since it was seen; [`StoreError::NotFound`] where it is off the shelf.
    pub async fn enter_rolls(&self, mut entries: Vec<NewRollEntry>) -> Result<(), StoreError> {
        entries.sort_by_key(|e| e.roll);
        let transaction = self.db.begin().await?;
        for new in entries {
            let standing = roll::Entity::find_by_id(new.roll)
                .lock_exclusive()
                .one(&transaction)
                .await?
                .ok_or(StoreError::NotFound("roll"))?;
            if let Some(before) = roll_entry::Entity::find_by_id(new.id)
                .one(&transaction)
                .await?
            {
                if before.roll_id != new.roll {
                    return Err(StoreError::IdTaken);
                }
                continue;
            }
            if standing.retired {
                return Err(StoreError::NotFound("roll"));
            }
            let left_mm = match new.change {
                RollChange::Take(mm) => standing.left_mm - mm,
                RollChange::Measured(mm) => mm,
            };
            if standing.revision != new.seen || left_mm < 0.0 {
                return Err(StoreError::Stale {
                    revision: standing.revision,
                    by: last_at(&transaction, standing.id).await?,
                    current: json!({ "left_mm": standing.left_mm }),
                });
            }
            let row = roll_entry::ActiveModel {
                id: Set(new.id),
                roll_id: Set(new.roll),
                job_id: Set(new.job),
                at: Set(OffsetDateTime::now_utc()),
                crew_id: Set(new.crew),
                kind: Set(match new.change {
                    RollChange::Take(_) => "take".into(),
                    RollChange::Measured(_) => "measured".into(),
                }),
                length_mm: Set(match new.change {
                    RollChange::Take(mm) => Some(mm),
                    RollChange::Measured(_) => None,
                }),
                left_mm: Set(left_mm),
                spec: Set(new.spec),
            };
            roll_entry::Entity::insert(row)
                .exec_without_returning(&transaction)
                .await?;
            let row = roll::ActiveModel {
                id: Set(new.roll),
                revision: Set(standing.revision + 1),
                left_mm: Set(left_mm),
                ..Default::default()
            };
            roll::Entity::update(row).exec(&transaction).await?;
        }
        transaction.commit().await?;
        Ok(())
    }
}

/// What somebody of the crew is called.
pub(crate) async fn name_of(
    transaction: &DatabaseTransaction,
    crew: Uuid,
) -> Result<Option<String>, StoreError> {
    let found = crew::Entity::find_by_id(crew).one(transaction).await?;
    Ok(found.map(|c| c.name))
}

/// Who was at a roll last.
async fn last_at(
    transaction: &DatabaseTransaction,
    roll: Uuid,
) -> Result<Option<String>, StoreError> {
    let last = roll_entry::Entity::find()
        .filter(roll_entry::Column::RollId.eq(roll))
        .order_by_desc(roll_entry::Column::At)
        .one(transaction)
        .await?;
    match last {
        Some(entry) => name_of(transaction, entry.crew_id).await,
        None => Ok(None),
    }
}
