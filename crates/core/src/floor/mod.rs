//! The work at the vehicle: hanging, levelling, laying down.

pub mod ahead;
pub mod air;
pub mod bay;
pub mod call_back;
pub mod care;
pub mod drift;
pub mod edges;
pub mod final_look;
pub mod forming;
pub mod hang;
pub mod hangs_at;
pub mod heat;
pub mod lay_down;
pub mod level;
pub mod materials;
pub mod prep;
pub mod prove;
pub mod sheet_plan;
pub mod strip;
pub mod strokes;
pub mod verdict;
pub mod wet;
pub mod work;
