//! The work at the vehicle: hanging, levelling, laying down.

pub mod air;
pub mod edges;
pub mod forming;
pub mod hang;
pub mod hangs_at;
pub mod lay_down;
pub mod level;
pub mod materials;
pub mod prove;
pub mod sheet_plan;
pub mod strokes;
pub mod verdict;
