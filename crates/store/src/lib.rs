//! Keeps the shop's work in PostgreSQL: jobs, sides, features, pieces, markings, the record and issued plans.
//!
//! The only crate that knows SQL. Every write is one transaction. Rows that people edit carry a revision, and a write names the
//! revision that it saw. The record is append-only and chained by hash. See docs/DATA.md.

pub mod archive;
mod chain;
pub mod check;
pub mod devices;
pub mod edits;
pub mod entity;
mod error;
pub mod fitting;
pub mod heat_readings;
mod library;
pub mod links;
pub mod live;
pub mod marking;
mod migrations;
mod plans;
mod read;

mod record;
mod removals;
pub mod shelf;
pub mod sign_in;
pub mod stored;
pub mod supplies;
pub mod undo;
pub mod whole;

pub use error::StoreError;
pub use library::{NewPhoto, OwnTypeface};
pub use plans::IssuedPlan;
pub use read::{JobRows, NewSide, SideRows};
pub use record::{Broken, ChainCheck, EntryKind, LaidPiece, NewEntry, RecordEntry, hex};

use std::time::{Duration, Instant};

use sea_orm::{ConnectOptions, Database, DatabaseConnection};

/// Connections of one server, where nothing else is said.
pub const POOL: u32 = 12;

/// The shop's database.
#[derive(Clone, Debug)]
pub struct Store {
    db: DatabaseConnection,
}

impl Store {
    /// Connects to PostgreSQL at `url`. The pool opens connections as they are needed and recovers by itself when the server was
    /// away; a request waits at most three seconds for one.
    pub async fn connect(url: &str) -> Result<Store, StoreError> {
        Store::connect_with(url, POOL).await
    }

    /// The same with at most so many connections.
    ///
    /// Errors: [`StoreError::Unreachable`] where PostgreSQL does not answer.
    pub async fn connect_with(url: &str, connections: u32) -> Result<Store, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(connections)
            .min_connections(1)
            .acquire_timeout(Duration::from_secs(3))
            .connect_timeout(Duration::from_secs(3))
            // A connection that was used just now is not asked first whether it still is one: no database comes back sooner.
            .test_before_acquire_if_idle_for(Duration::from_millis(100))
            // Nothing that the application asks takes long: what does has gone wrong, and lets go.
            .statement_timeout(Duration::from_secs(15))
            .map_sqlx_postgres_opts(|postgres| {
                postgres.options([
                    ("lock_timeout", "8s"),
                    ("idle_in_transaction_session_timeout", "20s"),
                ])
            })
            .sqlx_logging(false);
        Ok(Store {
            db: Database::connect(options).await?,
        })
    }

    /// Connects as soon as PostgreSQL answers, asking again for at most so long.
    ///
    /// Errors: [`StoreError::Unreachable`] where it does not answer until then.
    pub async fn connect_within(url: &str, patience: Duration) -> Result<Store, StoreError> {
        Store::connect_within_with(url, patience, POOL).await
    }

    /// The same with at most so many connections.
    pub async fn connect_within_with(
        url: &str,
        patience: Duration,
        connections: u32,
    ) -> Result<Store, StoreError> {
        let until = Instant::now() + patience;
        loop {
            match Store::connect_with(url, connections).await {
                Err(StoreError::Unreachable(_)) if Instant::now() < until => {
                    tokio::time::sleep(Duration::from_millis(400)).await;
                }
                other => return other,
            }
        }
    }

    /// Brings the tables up to date. Needs the owner's connection, not the application's.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        Ok(migrations::up(&self.db, None).await?)
    }

    /// Whether the tables are those that this release needs.
    pub async fn is_up_to_date(&self) -> Result<bool, StoreError> {
        Ok(migrations::all_taken(&self.db).await?)
    }

    /// Takes only so many steps of migration: for tests that fill a database as an earlier release left it.
    pub async fn migrate_steps(&self, steps: u32) -> Result<(), StoreError> {
        Ok(migrations::up(&self.db, Some(steps)).await?)
    }

    /// Lets go of every connection: somebody wants to copy or drop the database.
    pub async fn close(self) -> Result<(), StoreError> {
        Ok(self.db.close().await?)
    }

    /// Whether the database answers.
    pub async fn ping(&self) -> Result<(), StoreError> {
        Ok(self.db.ping().await?)
    }
}
