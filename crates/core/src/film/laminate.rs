//! What goes over a print: the laminates that belong to a film, as its data sheet names them.

use serde::{Deserialize, Serialize};

/// Most laminates of one film.
pub const MOST_LAMINATES: usize = 8;

/// A laminate that belongs to a film. Its figures are those of film and laminate together, as sheets print them; what it leaves open stays as
/// the film's sheet says it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Laminate {
    /// What the shop calls it.
    pub name: String,
    /// Film, adhesive and laminate together, mm.
    pub thickness_mm: Option<f64>,
    /// Stretch that both are kept under one way, as a share.
    pub stretch: Option<f64>,
    /// Stretch that both are kept under both ways at once, as a share.
    pub two_way_stretch: Option<f64>,
    /// Years upright.
    pub upright_years: Option<f64>,
    /// Years lying, on a hood or a roof.
    pub lying_years: Option<f64>,
}
