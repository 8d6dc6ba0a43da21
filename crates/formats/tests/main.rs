//! Open formats in and out.
#![allow(clippy::expect_used, clippy::panic, clippy::unwrap_used, missing_docs)]

mod calendars;
mod drawings;
mod files;
mod panels;
mod readers;
mod replay;
