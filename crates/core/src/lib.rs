//! The trade's rules and computation: from measurements and words to readings, landings, hinges and moves.
//!
//! No I/O, async, HTTP, SQL, clock or randomness. Lengths are millimetres in `f64`; [`tape`] reads and prints them.
//! Start at [`plan::plan_side`]; each module has one obvious entry point.

pub mod art;
pub mod film;
pub mod floor;
pub mod ground;
pub mod marking;
pub mod place;
pub mod plan;
pub mod shop;
pub mod vehicle;
