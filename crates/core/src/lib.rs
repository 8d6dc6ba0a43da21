//! The trade's rules and computation: from measurements and words to readings, landings, hinges and moves.
//!
//! No I/O, async, HTTP, SQL, clock or randomness. Lengths are millimetres in `f64`; [`tape`] reads and prints them.
//! Start at [`plan::plan_side`]; each module has one obvious entry point.

pub mod air;
pub mod art;
pub mod body;
pub mod budget;
pub mod clean;
pub mod conspicuity;
pub mod drawn;
pub mod elevation;
pub mod feature;
pub mod film;
pub mod flats;
pub mod hang;
pub mod hangs_at;
pub mod hinge;
pub mod kit;
pub mod landing;
pub mod lay_down;
pub mod legibility;
pub mod lettering;
pub mod level;
pub mod order;
pub mod outline;
pub mod placement;
pub mod plan;
pub mod plan_view;
pub mod printed_panel;
pub mod progress;
pub mod regulated;
pub mod settings;
pub mod side;
pub mod snap;
pub mod spots;
pub mod square_up;
pub mod start;
pub mod story;
pub mod stripe;
pub mod strokes;
pub mod surface;
pub mod tape;
pub mod template;
pub mod typeface;
pub mod vehicle;
pub mod walk_round;
pub mod weeding;
pub mod weights;
