//! Reflective marking: whether it is required, which parts of a face it goes on, the best layout of each, and the audit of any layout.

pub mod applies;
pub mod ask;
pub mod audit;
pub mod both_sides;
pub mod built;
pub mod colours;
mod contour;
pub mod corner;
pub mod cut_list;
pub mod element_plan;
pub mod elements;
pub mod face;
pub mod face_marking;
mod filled;
pub mod finding;
pub mod laying;
pub mod line;
pub mod mass;
pub mod photometric;
pub mod plan;
pub mod read_back;
pub mod reflectors;
pub mod retro_reading;
pub mod rules;
pub mod said;
pub mod strip;
pub mod tape_colour;
mod tractor;
pub mod work;

pub use applies::{
    Applies, Binding, MarkedKind, MarkedVehicle, Required, UneceCategory, applies, binding,
};
pub use ask::FaceAsk;
pub use audit::{audit, audit_numbered};
pub use built::Built;
pub use cut_list::{CutList, cut_list};
pub use element_plan::ElementPlan;
pub use elements::mark_face;
pub use face::{Face, MarkSide, Obstacle};
pub use face_marking::{FaceMarking, VehicleMarking};
pub use finding::{Audited, ClauseFinding};
pub use laying::{Laying, MarkError, MarkPlan, WayOfLaying};
pub use mass::Mass;
pub use plan::plan;
pub use rules::{Confidence, FROM_MEMORY, RuleSet, Rules};
pub use strip::{ColourRun, Element, Stock, Strip, TapeColour};
