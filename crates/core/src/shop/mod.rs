//! The shop around the work.

pub mod progress;
