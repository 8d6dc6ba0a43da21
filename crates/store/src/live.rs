//! What other people and other servers change, as PostgreSQL tells it (LISTEN and NOTIFY), and who is where.

use sea_orm::sea_query::OnConflict;
use sea_orm::sqlx::postgres::PgListener;
use sea_orm::{ColumnTrait, EntityTrait, QueryFilter, QueryOrder, Set};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::entity::presence;
use crate::{Store, StoreError};

/// Somebody who was not heard of for so long is not there.
pub const HERE_FOR: Duration = Duration::seconds(40);

/// Hears what changes, over a connection of its own.
pub struct Listener(PgListener);

impl Store {
    /// Listens to what changes from now on.
    ///
    /// Errors: PostgreSQL does not answer.
    pub async fn listen(&self) -> Result<Listener, StoreError> {
        let pool = self.db.get_postgres_connection_pool();
        let away = |e: sea_orm::sqlx::Error| {
            StoreError::from(sea_orm::DbErr::Conn(sea_orm::RuntimeErr::SqlxError(
                std::sync::Arc::new(e),
            )))
        };
        let mut listener = PgListener::connect_with(pool).await.map_err(away)?;
        listener.listen("windrift").await.map_err(away)?;
        Ok(Listener(listener))
    }

    /// Somebody is at a side of a job, on this device.
    pub async fn is_here(&self, at: presence::Model) -> Result<(), StoreError> {
        let row = presence::ActiveModel {
            session_id: Set(at.session_id),
            crew_id: Set(at.crew_id),
            job_id: Set(at.job_id),
            side_id: Set(at.side_id),
            stage: Set(at.stage),
            at: Set(at.at),
        };
        presence::Entity::insert(row)
            .on_conflict(
                OnConflict::columns([presence::Column::SessionId, presence::Column::CrewId])
                    .update_columns([
                        presence::Column::JobId,
                        presence::Column::SideId,
                        presence::Column::Stage,
                        presence::Column::At,
                    ])
                    .to_owned(),
            )
            .exec_without_returning(&self.db)
            .await?;
        Ok(())
    }

    /// Nobody of this device is at a job any more.
    pub async fn has_left(&self, session: Uuid) -> Result<(), StoreError> {
        presence::Entity::delete_many()
            .filter(presence::Column::SessionId.eq(session))
            .exec(&self.db)
            .await?;
        Ok(())
    }

    /// Who is at a job now, whoever came last first.
    pub async fn who_is_at(&self, job: Uuid) -> Result<Vec<presence::Model>, StoreError> {
        Ok(presence::Entity::find()
            .filter(presence::Column::JobId.eq(job))
            .filter(presence::Column::At.gt(OffsetDateTime::now_utc() - HERE_FOR))
            .order_by_desc(presence::Column::At)
            .all(&self.db)
            .await?)
    }
}

impl Listener {
    /// The next change as it was told; nothing where the connection was lost meanwhile and is there again, so that something may have
    /// been missed.
    ///
    /// Errors: PostgreSQL is away.
    pub async fn next(&mut self) -> Result<Option<String>, StoreError> {
        match self.0.try_recv().await {
            Ok(heard) => Ok(heard.map(|n| n.payload().to_owned())),
            Err(e) => Err(StoreError::from(sea_orm::DbErr::Conn(
                sea_orm::RuntimeErr::SqlxError(std::sync::Arc::new(e)),
            ))),
        }
    }
}
