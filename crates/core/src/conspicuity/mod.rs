//! Reflective marking: whether it is required, where it goes, the best layout, and the audit of any layout.

pub mod applies;
pub mod audit;
pub mod line;
pub mod rules;
pub mod side;

pub use applies::{Applies, MarkedKind, MarkedVehicle, Required, UneceCategory, applies};
pub use audit::{Audited, ClauseFinding, audit};
pub use rules::{Confidence, FROM_MEMORY, RuleSet, Rules};
pub use side::{MarkPlan, MarkSide, Stock, Strip, TapeColour, WayOfLaying, plan};
