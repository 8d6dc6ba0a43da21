//! What can go wrong between Windrift and its database.

use sea_orm::DbErr;
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
    },
    /// Nothing to undo or to redo.
    #[error("nothing to {0}")]
    NothingTo(&'static str),
    /// A client-made id was used before for something else.
    #[error("this id was used before for something else")]
    IdTaken,
    /// PostgreSQL cannot be reached just now. Nothing was written.
    #[error("the database cannot be reached")]
    Unreachable(#[source] DbErr),
    /// Anything else.
    #[error(transparent)]
    Database(DbErr),
    /// A stored value that cannot be read.
    #[error("a stored value cannot be read: {0}")]
    Unreadable(#[from] serde_json::Error),
}

impl From<DbErr> for StoreError {
    fn from(error: DbErr) -> Self {
        if unreachable(&error) {
            StoreError::Unreachable(error)
        } else {
            StoreError::Database(error)
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
