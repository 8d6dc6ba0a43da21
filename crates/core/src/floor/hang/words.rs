//! What a hang is told in: tape runs, lines to mark, where the second person stands.

use kurbo::Rect;
use serde::Serialize;

use crate::film::classes::FilmFigures;
use crate::film::work::HingeKind;
use crate::floor::hang::choice::RankedHinge;
use crate::floor::hang::sections::Section;
use crate::floor::hang::wet::WayAdvice;
use crate::floor::strokes::Start;
use crate::ground::tape::Length;

/// Lowest and highest band between stay tapes on a tall sheet, mm: 18 to 36 in (common practice, no source).
pub const STAY_MM: (f64, f64) = (457.2, 914.4);

/// The same on a hood or roof, mm: 12 to 18 in (common practice, no source).
pub const STAY_FLAT_MM: (f64, f64) = (304.8, 457.2);

/// First peel of a printed panel, mm: about 12 in (common practice, no source).
pub const FIRST_PEEL_PANEL_MM: f64 = 304.8;

/// First peel of a small decal, mm: about 6 in (common practice, no source).
pub const FIRST_PEEL_SMALL_MM: f64 = 152.4;

/// Strip of film that is stuck down in a liner window, mm (ours).
pub const WINDOW_MM: f64 = 50.8;

/// A piece of tape on the picture.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TapeRun {
    /// What it is: `hinge`, `tab`, `stay tape`.
    pub what: &'static str,
    /// Corners in the picture frame.
    pub corners: [[f64; 2]; 4],
    /// Length, rounded up to a mark.
    pub length: Length,
}

/// A line on the picture.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MarkLine {
    /// What it is, in a sentence.
    pub sentence: String,
    /// Both ends in the picture frame.
    pub line: [[f64; 2]; 2],
    /// Where it is: down from the piece's upper edge, or from its front end where it is upright.
    pub from_edge: Length,
}

/// Where the second person is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Helper {
    /// In the picture frame.
    pub at: [f64; 2],
    /// What that person does.
    pub sentence: String,
}

/// How a piece is hung.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Hang {
    /// The film that it is worked out for.
    pub film: FilmFigures,
    /// Every hinge, the best first.
    pub ranked: Vec<RankedHinge>,
    /// The hinge that is used.
    pub kind: HingeKind,
    /// Why the crew uses another than the best.
    pub own_reason: Option<String>,
    /// Wet or dry.
    pub way: WayAdvice,
    /// Tape on the vehicle.
    pub tape: Vec<TapeRun>,
    /// Where the liner is cut or folded back first.
    pub liner: Vec<MarkLine>,
    /// Where stay tape holds the sheet meanwhile, from the hinge outward.
    pub stay: Vec<MarkLine>,
    /// Sections in their order.
    pub sections: Vec<Section>,
    /// What is done once both ends read right: `Tape the top edge`.
    pub then: &'static str,
    /// The second person, where there is one.
    pub helper: Option<Helper>,
    /// All tape.
    pub total: Length,
    /// What is done, in order.
    pub steps: Vec<String>,
    /// What is wrong, or must be known, one sentence each.
    pub troubles: Vec<String>,
    /// Where pressing begins, in the piece's frame.
    #[serde(skip)]
    pub start: Start,
    /// Height of a stage, mm.
    #[serde(skip)]
    pub stage_mm: Option<f64>,
    /// Parts of the carrier's rim that tape closes, in the piece's frame.
    #[serde(skip)]
    pub closed: Vec<Rect>,
}
