//! What came out for one part of a face, or why nothing did.

use serde::Serialize;

use crate::marking::face::Obstacle;
use crate::marking::laying::MarkPlan;
use crate::marking::strip::{Element, Strip};
use crate::vehicle::side::words::Ends;

/// Shortest piece that an upright or an underride member is marked with, mm (ours).
pub(super) const SHORTEST_MM: f64 = 150.0;

/// One part's layout.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ElementPlan {
    /// Which part.
    pub element: Element,
    /// What it is called.
    pub name: String,
    /// Its strips.
    pub strips: Vec<Strip>,
    /// What governs, in sentences.
    pub reasons: Vec<String>,
    /// Which clause cannot be met and why, and what to do; the strips are then the nearest that can be.
    pub refused: Option<String>,
    /// Whether no layout is better by the goals.
    pub proven: bool,
    /// Heights tried, and left out as no better.
    pub heights: [u32; 2],
    /// Rivet heads under the tape.
    pub heads_under: u32,
    /// Of those, heads with an edge of the tape on them.
    pub heads_edged: u32,
}

impl ElementPlan {
    pub(super) fn of(
        ends: Ends,
        element: Element,
        strips: Vec<Strip>,
        reasons: Vec<String>,
    ) -> ElementPlan {
        ElementPlan {
            element,
            name: element.name(ends),
            strips: strips.into_iter().map(|s| Strip { element, ..s }).collect(),
            reasons,
            refused: None,
            proven: true,
            heights: [0, 0],
            heads_under: 0,
            heads_edged: 0,
        }
    }

    pub(super) fn of_line(ends: Ends, element: Element, plan: MarkPlan) -> ElementPlan {
        ElementPlan {
            proven: plan.proven,
            heights: plan.heights,
            heads_under: plan.heads_under,
            heads_edged: plan.heads_edged,
            ..ElementPlan::of(ends, element, plan.strips, plan.reasons)
        }
    }

    pub(super) fn refused(ends: Ends, element: Element, sentence: String) -> ElementPlan {
        ElementPlan {
            refused: Some(sentence),
            ..ElementPlan::of(ends, element, Vec::new(), Vec::new())
        }
    }
}

/// Name of tape that is laid already.
pub(super) const LAID: &str = "tape that is laid already";

/// Tape that is laid already is in the way of what is laid after it.
pub(super) fn as_obstacle(strip: &Strip) -> Obstacle {
    let rect = strip.rect();
    Obstacle {
        name: LAID.into(),
        back_mm: rect.back_mm,
        height_mm: rect.height_mm,
        lamp: None,
        function: Default::default(),
        clear_mm: 0.0,
    }
}
