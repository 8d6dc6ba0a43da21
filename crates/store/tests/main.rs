//! The store, on a real PostgreSQL.
#![allow(clippy::panic, clippy::unwrap_used, missing_docs)]

mod readings;
mod record;
mod rows;
mod shelf;
mod together;
mod upgrade;
