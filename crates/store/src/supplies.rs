//! Supplies beside film: tapes, liquids, blades, wipes, and how much of each is left.

use sea_orm::sea_query::OnConflict;
use sea_orm::{
    ColumnTrait, EntityTrait, PaginatorTrait, QueryFilter, QueryOrder, QuerySelect, Set,
    TransactionTrait,
};
use serde_json::Value;
use uuid::Uuid;

use crate::entity::supply;
use crate::shelf::name_of;
use crate::{Store, StoreError};

/// Most supplies on the shelf.
pub const MOST_SUPPLIES: u64 = 300;

impl Store {
    /// Supplies on the shelf, the oldest first.
    pub async fn supplies(&self) -> Result<Vec<supply::Model>, StoreError> {
        Ok(supply::Entity::find()
            .filter(supply::Column::Retired.eq(false))
            .order_by_asc(supply::Column::At)
            .limit(MOST_SUPPLIES)
            .all(&self.db)
            .await?)
    }

    /// Puts a supply on the shelf. The same id again changes nothing.
    ///
    /// Errors: more than the shelf holds.
    pub async fn keep_supply(&self, id: Uuid, who: Uuid, spec: Value) -> Result<(), StoreError> {
        let all = supply::Entity::find();
        let same = all.clone().filter(supply::Column::Id.eq(id));
        if same.count(&self.db).await? > 0 {
            return Ok(());
        }
        let there = all.filter(supply::Column::Retired.eq(false));
        if there.count(&self.db).await? >= MOST_SUPPLIES {
            return Err(StoreError::Full {
                what: "tapes and liquids on the shelf",
                most: MOST_SUPPLIES as usize,
            });
        }
        let row = supply::ActiveModel {
            id: Set(id),
            crew_id: Set(who),
            spec: Set(spec),
            ..Default::default()
        };
        supply::Entity::insert(row)
            .on_conflict(
                OnConflict::column(supply::Column::Id)
                    .do_nothing()
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Changes a supply, if it still stands as the writer saw it.
    ///
    /// Errors: [`StoreError::Stale`] where somebody else changed it.
    pub async fn change_supply(
        &self,
        id: Uuid,
        seen: i32,
        who: Uuid,
        spec: Value,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        let standing = supply::Entity::find_by_id(id)
            .lock_exclusive()
            .one(&transaction)
            .await?
            .filter(|s| !s.retired)
            .ok_or(StoreError::NotFound("supply"))?;
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
        let row = supply::ActiveModel {
            id: Set(id),
            revision: Set(seen + 1),
            spec: Set(spec),
            crew_id: Set(who),
            ..Default::default()
        };
        supply::Entity::update(row).exec(&transaction).await?;
        transaction.commit().await?;
        Ok(())
    }

    /// Takes a supply off the shelf.
    pub async fn retire_supply(&self, id: Uuid) -> Result<(), StoreError> {
        let done = supply::Entity::update_many()
            .col_expr(supply::Column::Retired, true.into())
            .filter(supply::Column::Id.eq(id))
            .exec(&self.db)
            .await?;
        if done.rows_affected == 0 {
            return Err(StoreError::NotFound("supply"));
        }
        Ok(())
    }
}
