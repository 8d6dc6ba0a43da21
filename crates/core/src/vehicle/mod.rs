//! The vehicle as it was measured: sides, bodies, what is on them.

pub mod body;
pub mod dimensions;
pub mod feature;
pub mod inside;
pub mod kinds;
pub mod measured;
pub mod plan_view;
pub mod quick;
pub mod same_side;
pub mod side;
pub mod snap;
pub mod square_up;
pub mod start;
pub mod surface;
pub mod template;
pub mod underlay;
pub mod walk_round;
