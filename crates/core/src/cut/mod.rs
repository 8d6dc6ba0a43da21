//! From the plan to the rolls: a print in panels, everything of one film laid on rolls and offcuts.

pub mod by_when;
pub mod into_pieces;
pub mod join_cost;
pub mod lots;
pub mod nest;
pub mod offcut;
pub mod panels;
pub mod parted;
pub mod pieces;
pub mod split;
pub mod which_film;
