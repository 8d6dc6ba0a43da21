//! The upright edge of a first panel: it decides where every later panel falls, so it is trued along its top and down its edge
//! before anything is stuck (common practice, no source).

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::art::Art;
use crate::ground::settings::SideWords;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::side::Side;

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
    /// What the ends of the tape are called, the one where it begins first: front and rear, bow and stern.
    pub ends: [String; 2],
    /// How wide the panel is.
    pub wide: Length,
    /// How high it is.
    pub high: Length,
}

/// What a panel is hung by where its top and its upright edge contradict each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TrueTo {
    /// Its top.
    Top,
    /// Its upright edge.
    Edge,
    /// Half and half.
    Share,
}

impl TrueTo {
    /// How much of the lean is taken out by turning the panel, 0 to 1.
    fn turned(self) -> f64 {
        match self {
            TrueTo::Top => 0.0,
            TrueTo::Edge => 1.0,
            TrueTo::Share => 0.5,
        }
    }

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            TrueTo::Top => "true to the top",
            TrueTo::Edge => "true to the edge",
            TrueTo::Share => "shared between both",
        }
    }
}

/// One way to settle a top and an upright edge that contradict each other, with what it does at the far corners.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UprightChoice {
    /// What it is hung by.
    pub to: TrueTo,
    /// How far the foot of the edge then stands back of where it should; less than 0 forward of it.
    pub foot_out_by: Length,
    /// How far the upper corner at the other end then hangs below where it should; less than 0 above it.
    pub far_corner_low_by: Length,
    /// The same in a sentence.
    pub sentence: String,
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
    /// Where the edge leans: how top and edge are settled if the top reads right as it hangs, because the panel or the body is not square.
    #[serde(default)]
    pub choices: Vec<UprightChoice>,
}

/// Where the upright edge of a panel is read; nothing for other pieces.
pub fn upright_edge(
    planned: &PlannedPiece,
    side: &Side,
    words: SideWords,
    unit: Unit,
) -> Option<UprightEdge> {
    let Art::Panel(_) = planned.piece.art else {
        return None;
    };
    let box_ = planned.drawn.nominal;
    let x = if side.direction() > 0.0 {
        box_.x0
    } else {
        box_.x1
    };
    let ends =
        [Point::new(x, box_.y0), Point::new(x, box_.y1)].map(|p| planned.placed.to_picture * p);
    let [top, foot] = ends.map(|p| print(planned.placed.datum.read(p).0, unit));
    Some(UprightEdge {
        top,
        foot,
        at: ends.map(|p| [p.x, p.y]),
        ends: side.ends(words).0.map(str::to_owned),
        wide: print(box_.width(), unit),
        high: print(box_.height(), unit),
    })
}

/// Judges both readings, mm back from the zero.
pub fn judge(edge: &UprightEdge, top_mm: f64, foot_mm: f64, unit: Unit) -> UprightAnswer {
    let (top, foot) = (top_mm - edge.top.mm, foot_mm - edge.foot.mm);
    let lean = foot - top;
    let within = unit.tolerance_mm() + 1e-9;
    let text = |mm: f64| print(mm.abs(), unit).text;
    let [zero, far] = &edge.ends;
    let towards = |mm: f64| if mm > 0.0 { far } else { zero };
    let (right, sentence) = if lean.abs() > within {
        (
            false,
            format!(
                "The foot stands {} too far to the {} against the top. Turn the panel about its upper corner, then read the upper edge again. If the top reads right as it hangs, the panel or the body is not square: choose.",
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
    let choices = if lean.abs() > within {
        [TrueTo::Top, TrueTo::Edge, TrueTo::Share]
            .map(|to| choice(edge, lean, to, unit))
            .to_vec()
    } else {
        Vec::new()
    };
    UprightAnswer {
        foot_out_by: print(lean, unit),
        right,
        sentence,
        choices,
    }
}

/// What a panel that leans by so much over its height does at its far corners. Turned about its upper front corner so that the foot comes forward,
/// its other end sinks by as much for each mm of width.
fn choice(edge: &UprightEdge, lean: f64, to: TrueTo, unit: Unit) -> UprightChoice {
    let foot = lean * (1.0 - to.turned());
    let low = lean * to.turned() * edge.wide.mm / edge.high.mm.max(1.0);
    let stays = |mm: f64| {
        let [zero, far] = &edge.ends;
        let towards = if mm > 0.0 { far } else { zero };
        format!(
            "the foot stays {} to the {towards}",
            print(mm.abs(), unit).text
        )
    };
    let hangs = |mm: f64| {
        let side = if mm > 0.0 { "low" } else { "high" };
        format!("the far end {} too {side}", print(mm.abs(), unit).text)
    };
    let sentence = match to {
        TrueTo::Top => format!("The top stays level as it hangs; {}.", stays(foot)),
        TrueTo::Edge => format!("The edge stands true; {}.", hangs(low)),
        TrueTo::Share => format!("Turned by half: {}, {}.", stays(foot), hangs(low)),
    };
    UprightChoice {
        to,
        foot_out_by: print(foot, unit),
        far_corner_low_by: print(low, unit),
        sentence,
    }
}
