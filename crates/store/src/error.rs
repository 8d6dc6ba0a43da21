//! What can go wrong between Windrift and its database.

use sea_orm::{DbErr, SqlErr};
use serde_json::Value;
use thiserror::Error;

/// A read or write that did not happen.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There is no such row, or somebody removed it.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// The row was changed since the writer saw it.
    #[error("the row was changed by somebody else")]
    Stale {
        /// Revision that stands now.
        revision: i32,
        /// What stands now.
        current: Value,
        /// Who wrote it.
        by: Option<String>,
    },
    /// An undo or redo would run over what somebody changed since.
    #[error("changed since by {by}")]
    ChangedSince {
        /// Who changed it.
        by: String,
        /// What kind of row it is.
        what: String,
        /// What stands now; nothing where it was removed.
        current: Option<Value>,
    },
    /// There are as many as may be.
    #[error("there are {most} {what} already")]
    Full {
        /// What there are so many of.
        what: &'static str,
        /// How many may be.
        most: usize,
    },
    /// Nothing to undo or to redo.
    #[error("nothing to {0}")]
    NothingTo(&'static str),
    /// A client-made id was used before for something else.
    #[error("this id was used before for something else")]
    IdTaken,
    /// Something still belongs to what was to be removed, or what something was to belong to is gone.
    #[error("something belongs to it")]
    InUse,
    /// PostgreSQL cannot be reached just now. Nothing was written.
    #[error("the database cannot be reached")]
    Unreachable(#[source] DbErr),
    /// Anything else.
    #[error(transparent)]
    Database(DbErr),
    /// A stored value that cannot be read.
    #[error("a stored {what} cannot be read: {why}")]
    Unreadable {
        /// What it is.
        what: String,
        /// Why.
        why: String,
    },
}

impl From<serde_json::Error> for StoreError {
    fn from(error: serde_json::Error) -> Self {
        StoreError::unreadable("value", error.to_string())
    }
}

impl StoreError {
    /// A stored value of this kind that cannot be read.
    pub fn unreadable(what: impl Into<String>, why: impl Into<String>) -> StoreError {
        StoreError::Unreadable {
            what: what.into(),
            why: why.into(),
        }
    }

    /// Whether PostgreSQL gave the transaction up for the sake of another one: serialisation failure (SQLSTATE 40001) or deadlock
    /// (40P01). Made again it may well go through.
    pub(crate) fn gave_way(&self) -> bool {
        match self {
            StoreError::Database(error) => {
                let text = format!("{error:?}");
                text.contains("40001") || text.contains("40P01")
            }
            _ => false,
        }
    }
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        match error.sql_err() {
            Some(SqlErr::UniqueConstraintViolation(_)) => StoreError::IdTaken,
            Some(SqlErr::ForeignKeyConstraintViolation(_)) => StoreError::InUse,
            _ if unreachable(&error) => StoreError::Unreachable(error),
            _ => StoreError::Database(error),
        }
    }
}

/// Whether an error means that PostgreSQL is stopped, stopping or starting. The driver wraps these in several ways; their texts
/// and SQLSTATE class 57P (operator intervention) are what they have in common.
fn unreachable(error: &DbErr) -> bool {
    if matches!(error, DbErr::Conn(_) | DbErr::ConnectionAcquire(_)) {
        return true;
    }
    let text = error.to_string();
    [
        "57P0",
        "administrator command",
        "starting up",
        "shutting down",
        "error communicating with database",
        "Connection refused",
        "connection reset",
        "broken pipe",
        "pool timed out",
    ]
    .iter()
    .any(|sign| text.contains(sign))
}
