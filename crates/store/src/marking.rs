//! Reflective marking: the shop's corrections of figures, and its tape.

use sea_orm::{
    ColumnTrait, ConnectionTrait, DbBackend, EntityTrait, QueryFilter, QueryOrder, QuerySelect,
    Set, Statement, TransactionTrait,
};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::{crew, figure_correction, tape};
use crate::{Store, StoreError};

/// Most tapes that are listed.
pub const MOST_TAPES: u64 = 200;

/// The key of a job's marked vehicle or a side's marking: there is one of each, so that two people who begin it at once meet.
pub fn one_of(parent: Uuid) -> Uuid {
    Uuid::from_u128(parent.as_u128() ^ 0x6d61_726b_0000_0000_0000_0000_0000_0000)
}

impl Store {
    /// Every figure that the shop has corrected.
    pub async fn corrections(&self) -> Result<Vec<figure_correction::Model>, StoreError> {
        Ok(figure_correction::Entity::find()
            .order_by_asc(figure_correction::Column::RuleSet)
            .order_by_asc(figure_correction::Column::Key)
            .all(&self.db)
            .await?)
    }

    /// Puts a figure in place of one that is recalled, or takes it back, if it still stands as the writer saw it.
    ///
    /// Errors: [`StoreError::ChangedSince`] where somebody else changed it.
    pub async fn correct_figure(
        &self,
        rule_set: &str,
        key: &str,
        seen: Option<f64>,
        value: Option<f64>,
        crew: Uuid,
    ) -> Result<(), StoreError> {
        let transaction = self.db.begin().await?;
        // One correction at a time: a row that is not there yet cannot be locked.
        transaction
            .execute_raw(Statement::from_string(
                DbBackend::Postgres,
                "LOCK TABLE figure_correction IN SHARE ROW EXCLUSIVE MODE",
            ))
            .await?;
        let at = (rule_set.to_owned(), key.to_owned());
        let standing = figure_correction::Entity::find_by_id(at.clone())
            .one(&transaction)
            .await?;
        if standing.as_ref().map(|c| c.value) != seen {
            let by = match &standing {
                Some(c) => crew::Entity::find_by_id(c.crew_id)
                    .one(&transaction)
                    .await?
                    .map_or_else(|| "somebody".into(), |c| c.name),
                None => "somebody".into(),
            };
            return Err(StoreError::ChangedSince {
                by,
                what: "figure".into(),
                current: standing.map(|c| c.value.into()),
            });
        }
        figure_correction::Entity::delete_by_id(at)
            .exec(&transaction)
            .await?;
        if let Some(value) = value {
            let row = figure_correction::ActiveModel {
                rule_set: Set(rule_set.into()),
                key: Set(key.into()),
                value: Set(value),
                at: Set(OffsetDateTime::now_utc()),
                crew_id: Set(crew),
            };
            figure_correction::Entity::insert(row)
                .exec_without_returning(&transaction)
                .await?;
        }
        transaction.commit().await?;
        Ok(())
    }

    /// Tape on the shelf, by name.
    pub async fn tapes(&self) -> Result<Vec<tape::Model>, StoreError> {
        Ok(tape::Entity::find()
            .filter(tape::Column::Retired.eq(false))
            .order_by_asc(tape::Column::Name)
            .limit(MOST_TAPES)
            .all(&self.db)
            .await?)
    }

    /// Puts a tape on the shelf. The same id again changes nothing.
    pub async fn keep_tape(
        &self,
        id: Uuid,
        name: &str,
        crew: Uuid,
        spec: Value,
    ) -> Result<(), StoreError> {
        if tape::Entity::find_by_id(id).one(&self.db).await?.is_some() {
            return Ok(());
        }
        let row = tape::ActiveModel {
            id: Set(id),
            name: Set(name.into()),
            at: Set(OffsetDateTime::now_utc()),
            crew_id: Set(crew),
            spec: Set(spec),
            retired: Set(false),
        };
        tape::Entity::insert(row)
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Takes a tape off the shelf; what is laid out with it stays.
    pub async fn retire_tape(&self, id: Uuid) -> Result<(), StoreError> {
        let done = tape::Entity::update_many()
            .col_expr(tape::Column::Retired, true.into())
            .filter(tape::Column::Id.eq(id))
            .exec(&self.db)
            .await?;
        if done.rows_affected == 0 {
            return Err(StoreError::NotFound("tape"));
        }
        Ok(())
    }
}
