//! The shop around the work.

pub mod old_strips;
pub mod progress;
