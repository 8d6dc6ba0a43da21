//! Who works here.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// A member of the crew.
#[derive(Debug, Serialize, ToSchema)]
pub struct CrewView {
    /// Key.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// `lead`, `fitter` or `viewer`.
    pub role: String,
}
