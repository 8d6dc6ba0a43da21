//! The trade's rules and computation: from measurements and words to readings, landings, hinges and moves.
//!
//! No I/O, async, HTTP, SQL, clock or randomness. What people give are [`Mm`](ground::mm::Mm) and [`SignedMm`](ground::mm::SignedMm), what
//! follows from them millimetres in `f64`; [`tape`](ground::tape) reads and prints them. The folders know only what lies below them:
//! `ground`; `vehicle`, `art`, `film`; `place`; `plan`; `floor` and `marking`; `shop`.
//! Start at [`plan::plan_side`]; each module has one obvious entry point.

pub mod art;
pub mod cut;
pub mod film;
pub mod floor;
pub mod ground;
pub mod marking;
pub mod place;
pub mod plan;
pub mod shop;
pub mod vehicle;
