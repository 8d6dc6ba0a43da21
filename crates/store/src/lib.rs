//! Keeps the shop's work in PostgreSQL: jobs, sides, features, pieces, markings, the record and issued plans.
//!
//! The only crate that knows SQL. Every write is one transaction. Rows that people edit carry a revision, and a write names the
//! revision that it saw. The record is append-only and chained by hash. See docs/DATA.md.

mod chain;
pub mod edits;
pub mod entity;
mod error;
mod library;
pub mod marking;
mod migrations;
mod plans;
mod read;
mod record;

pub use error::StoreError;
pub use library::NewPhoto;
pub use plans::IssuedPlan;
pub use read::{JobRows, NewSide, SideRows};
pub use record::{ChainCheck, EntryKind, NewEntry, RecordEntry};

use std::time::Duration;

use sea_orm::{ConnectOptions, Database, DatabaseConnection};
use sea_orm_migration::MigratorTrait;

/// The shop's database.
#[derive(Clone, Debug)]
pub struct Store {
    db: DatabaseConnection,
}

impl Store {
    /// Connects to PostgreSQL at `url`. The pool opens connections as they are needed and recovers by itself when the server was
    /// away; a request waits at most three seconds for one.
    pub async fn connect(url: &str) -> Result<Store, StoreError> {
        let mut options = ConnectOptions::new(url);
        options
            .max_connections(12)
            .min_connections(1)
            .acquire_timeout(Duration::from_secs(3))
            .connect_timeout(Duration::from_secs(3))
            .sqlx_logging(false);
        Ok(Store {
            db: Database::connect(options).await?,
        })
    }

    /// Brings the tables up to date. Needs the owner's connection, not the application's.
    pub async fn migrate(&self) -> Result<(), StoreError> {
        Ok(migrations::Migrator::up(&self.db, None).await?)
    }

    /// Takes only so many steps of migration: for tests that fill a database as an earlier release left it.
    pub async fn migrate_steps(&self, steps: u32) -> Result<(), StoreError> {
        Ok(migrations::Migrator::up(&self.db, Some(steps)).await?)
    }

    /// Whether the database answers.
    pub async fn ping(&self) -> Result<(), StoreError> {
        Ok(self.db.ping().await?)
    }
}
