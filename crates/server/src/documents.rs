//! The documents that the server answers about itself: made from the routes when it is put together, so that no route needs them all.

use serde_json::Value;

/// Documents as they are answered.
pub struct Documents {
    /// OpenAPI 3.1.
    pub api: Value,
    /// JSON Schema of a side template.
    pub template: Value,
    /// JSON Schema of a film with its data sheet.
    pub film: Value,
}
