//! Film: rolls by their diameter, prints in panels, pieces on rolls.

mod nesting;
mod offcut;
mod panels;
mod parted;
mod rolls;
mod which;
