//! The trade's rules and computation: from measurements and words to readings, landings, hinges and moves.
//!
//! No I/O, async, HTTP, SQL, clock or randomness. Lengths are millimetres in `f64`; [`tape`] reads and prints them.
//! Start at [`plan::plan_side`]; each module has one obvious entry point.

pub mod body;
pub mod elevation;
pub mod feature;
pub mod flats;
pub mod hinge;
pub mod landing;
pub mod lettering;
pub mod level;
pub mod outline;
pub mod placement;
pub mod plan;
pub mod plan_view;
pub mod progress;
pub mod settings;
pub mod side;
pub mod snap;
pub mod square_up;
pub mod start;
pub mod surface;
pub mod tape;
pub mod template;
pub mod typeface;
pub mod vehicle;
pub mod walk_round;
