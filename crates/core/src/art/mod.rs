//! What film is drawn as: letters, stripes, drawings, panels.

pub mod clean;
pub mod drawn;
pub mod kit;
pub mod legibility;
pub mod lettering;
pub mod printed_panel;
pub mod regulation;
pub mod said;
pub mod stripe;
pub mod typeface;
pub mod weeding;

use serde::{Deserialize, Serialize};

use crate::art::kit::Drawing;
use crate::art::lettering::Lettering;
use crate::art::printed_panel::PrintedPanel;
use crate::art::stripe::Stripe;

/// What a piece is made from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Art {
    /// Letters.
    Lettering(Lettering),
    /// A stripe.
    Stripe(Stripe),
    /// An outline from a file: a kit piece.
    Drawing(Drawing),
    /// A print.
    Panel(PrintedPanel),
}
