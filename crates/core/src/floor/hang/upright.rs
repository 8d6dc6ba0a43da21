//! The upright edge of a first panel: it decides where every later panel falls, so it is trued along its top and down its edge
//! before anything is stuck (common practice, no source).

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::art::Art;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;

/// Where the tape is read at the front edge of a panel.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UprightEdge {
    /// What must be read at its upper corner, back from the zero of the tape.
    pub top: Length,
    /// The same at its lower corner.
    pub foot: Length,
    /// Both places in the picture frame, the upper one first.
    pub at: [[f64; 2]; 2],
}

/// What the two readings of an upright edge say.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UprightAnswer {
    /// How much farther back the foot is than it should be against the top; less than 0 farther forward.
    pub foot_out_by: Length,
    /// Whether both read right.
    pub right: bool,
    /// What to do.
    pub sentence: String,
}

/// Where the upright edge of a panel is read; nothing for other pieces.
pub fn upright_edge(planned: &PlannedPiece, direction: f64, unit: Unit) -> Option<UprightEdge> {
    let Art::Panel(_) = planned.piece.art else {
        return None;
    };
    let box_ = planned.drawn.nominal;
    let x = if direction > 0.0 { box_.x0 } else { box_.x1 };
    let ends =
        [Point::new(x, box_.y0), Point::new(x, box_.y1)].map(|p| planned.placed.to_picture * p);
    let [top, foot] = ends.map(|p| print(planned.placed.datum.read(p).0, unit));
    Some(UprightEdge {
        top,
        foot,
        at: ends.map(|p| [p.x, p.y]),
    })
}

/// Judges both readings, mm back from the zero.
pub fn judge(edge: &UprightEdge, top_mm: f64, foot_mm: f64, unit: Unit) -> UprightAnswer {
    let (top, foot) = (top_mm - edge.top.mm, foot_mm - edge.foot.mm);
    let lean = foot - top;
    let within = unit.tolerance_mm() + 1e-9;
    let text = |mm: f64| print(mm.abs(), unit).text;
    let towards = |mm: f64| if mm > 0.0 { "rear" } else { "front" };
    let (right, sentence) = if lean.abs() > within {
        (
            false,
            format!(
                "The foot stands {} too far to the {} against the top. Turn the panel about its upper corner, then read the upper edge again.",
                text(lean),
                towards(lean)
            ),
        )
    } else if top.abs() > within {
        (
            false,
            format!(
                "The edge is upright, but the panel stands {} too far to the {}. Move it along, then read again.",
                text(top),
                towards(top)
            ),
        )
    } else {
        (
            true,
            "The upright edge is true. Every later panel falls where it should.".to_owned(),
        )
    };
    UprightAnswer {
        foot_out_by: print(lean, unit),
        right,
        sentence,
    }
}
