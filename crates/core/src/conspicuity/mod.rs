//! Reflective marking: whether it is required, which parts of a face it goes on, the best layout of each, and the audit of any layout.

pub mod applies;
pub mod audit;
pub mod colours;
mod contour;
pub mod corner;
pub mod cut_list;
pub mod elements;
pub mod face;
mod filled;
pub mod line;
pub mod marking;
pub mod photometric;
pub mod plan;
pub mod rules;
pub mod strip;
mod tractor;

pub use applies::{Applies, MarkedKind, MarkedVehicle, Required, UneceCategory, applies};
pub use audit::{Audited, ClauseFinding, audit};
pub use cut_list::{CutList, cut_list};
pub use elements::{ElementPlan, FaceAsk, mark_face};
pub use face::{Face, MarkSide, Obstacle};
pub use line::Budget;
pub use marking::{FaceMarking, VehicleMarking};
pub use plan::{Laying, MarkError, MarkPlan, WayOfLaying, plan};
pub use rules::{Confidence, FROM_MEMORY, RuleSet, Rules};
pub use strip::{ColourRun, Element, Stock, Strip, TapeColour};
