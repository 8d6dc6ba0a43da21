//! How a thing that must hold before film goes on stands.

use serde::{Deserialize, Serialize};

/// How a thing stands. The worse, the greater.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Stands {
    /// It holds.
    In,
    /// Nearly: advice, not a refusal.
    Near,
    /// Nobody knows.
    Unknown,
    /// It does not hold.
    Out,
}
