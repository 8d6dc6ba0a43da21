//! Film: rolls by their diameter, prints in panels, pieces on rolls.

mod nesting;
mod panels;
mod rolls;
mod which;
