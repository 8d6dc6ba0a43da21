//! To begin with: shapes with what usually stands on them, and features where they can be seen. Sizes are invented, no source.

pub mod features;
mod parts;
pub mod shapes;
