//! Shapes that a side starts from: our own parametric outlines, an outline typed as readings, or one read from a file.
//!
//! Every shape is drawn in its *run frame*: mm, x along the tape from its zero, y down, the zero of the tape at the origin. The
//! side turns it into the picture frame. Each dimension stays editable; what a shape starts from is common practice, no source.

mod check;
mod outline;
pub mod readings;

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};

use crate::ground::mm::{Mm, SignedMm};
use crate::vehicle::body::readings::Reading;

/// Most points in an outline that was typed or read from a file.
pub const MOST_POINTS: usize = 4_000;

/// The shape of a side with its dimensions in mm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "shape", rename_all = "snake_case")]
pub enum Body {
    /// A box body: straight rail, plumb ends.
    Box {
        /// Along the top rail.
        length_mm: Mm,
        /// Rail to bottom edge at the front.
        height_mm: Mm,
        /// How much the rail falls to the rear against level; less than 0 where it rises.
        fall_mm: SignedMm,
    },
    /// A travel trailer: a nose that leans back above, a tail that leans in, an undercut below the nose.
    TravelTrailer {
        /// Foremost to rearmost point.
        length_mm: Mm,
        /// Roof to bottom edge.
        height_mm: Mm,
        /// How far the top of the nose lies behind its foremost point.
        nose_mm: Mm,
        /// Roof down to the foremost point.
        nose_height_mm: Mm,
        /// How far the top of the tail lies before its rearmost point.
        tail_mm: Mm,
        /// How far the foot of the nose lies behind its foremost point.
        undercut_mm: Mm,
    },
    /// A van's side from bumper to rear doors: bonnet, screen, roof.
    Van {
        /// Nose to rear edge.
        length_mm: Mm,
        /// Roof to sill.
        height_mm: Mm,
        /// Nose to the foot of the screen.
        bonnet_mm: Mm,
        /// Sill to the bonnet's edge at the nose.
        bonnet_height_mm: Mm,
        /// How far the head of the screen lies behind its foot.
        screen_mm: Mm,
        /// How far the roof ends before the rear edge.
        tail_mm: Mm,
    },
    /// A panel with four edges, its corners rounded and its upper and lower edge straight or bowed.
    Panel {
        /// Along the upper edge.
        top_mm: Mm,
        /// Along the lower edge.
        bottom_mm: Mm,
        /// Upper to lower edge.
        height_mm: Mm,
        /// How far along the lower edge begins after the upper; less than 0 where it begins before.
        bottom_starts_mm: SignedMm,
        /// Radius of the corners.
        corner_mm: Mm,
        /// How far the upper edge bows outwards in its middle; less than 0 inwards.
        top_bow_mm: SignedMm,
        /// How far the lower edge bows outwards in its middle; less than 0 inwards.
        bottom_bow_mm: SignedMm,
    },
    /// A boat's side: sheer, stem, bottom, transom.
    Hull {
        /// Stem head to the upper end of the transom.
        length_mm: Mm,
        /// Bottom to the sheer at the bow.
        bow_mm: Mm,
        /// Bottom to the sheer in the middle.
        middle_mm: Mm,
        /// Bottom to the sheer at the stern.
        stern_mm: Mm,
        /// How far the foot of the stem lies behind its head.
        stem_rake_mm: Mm,
        /// How far the foot of the transom lies before its head.
        transom_rake_mm: Mm,
    },
    /// A boat's transom: crowned above, vee below.
    Transom {
        /// Across the top.
        width_mm: Mm,
        /// Across at the chines.
        chine_width_mm: Mm,
        /// Top corner to chine.
        side_height_mm: Mm,
        /// How far the bottom goes on below the chines in the middle.
        vee_mm: Mm,
        /// How far the top rises in the middle.
        crown_mm: Mm,
    },
    /// A lying tank: straight above and below, rounded ends.
    Tank {
        /// End to end.
        length_mm: Mm,
        /// Top to bottom.
        height_mm: Mm,
        /// How far each end bulges.
        end_mm: Mm,
    },
    /// An outline typed as readings along a datum, walked round once.
    Readings {
        /// The readings in the order in which the outline runs.
        points: Vec<Reading>,
    },
    /// An outline that was read from a drawing file.
    Drawn {
        /// Points of the outline in mm along and down, as read.
        outline: Vec<[f64; 2]>,
        /// Name of the file, for the record.
        file: String,
    },
}

impl Body {
    /// Where the straight reference begins and ends in the run frame: the rail, the gunwale from end to end, the upper edge.
    pub fn rail(&self) -> (Point, Point) {
        let level = |length: f64| (Point::ZERO, Point::new(length, 0.0));
        match *self {
            Body::Box {
                length_mm, fall_mm, ..
            } => {
                let run = (length_mm * length_mm - fall_mm * fall_mm).max(0.0).sqrt();
                (Point::ZERO, Point::new(run, fall_mm.mm()))
            }
            Body::Hull {
                length_mm,
                bow_mm,
                stern_mm,
                ..
            } => (Point::ZERO, Point::new(length_mm.mm(), bow_mm - stern_mm)),
            Body::TravelTrailer { length_mm, .. }
            | Body::Van { length_mm, .. }
            | Body::Tank { length_mm, .. } => level(length_mm.mm()),
            Body::Panel { top_mm, .. } => level(top_mm.mm()),
            Body::Transom { width_mm, .. } => level(width_mm.mm()),
            Body::Readings { ref points } => {
                level(points.iter().map(|p| p.back_mm.mm()).fold(0.0, f64::max))
            }
            Body::Drawn { ref outline, .. } => {
                level(outline.iter().map(|p| p[0]).fold(0.0, f64::max))
            }
        }
    }
}

/// Handle of a bend at a rounded point: along the line between its neighbours, a third of the segment or of the one on its other
/// side long, whichever is shorter, so that a bend beside a long straight does not swing out.
pub(crate) fn tangent(before: Point, at: Point, after: Point) -> Vec2 {
    let along = after - before;
    let segment = before.distance(at).min(at.distance(after));
    along * (segment / 3.0 / along.hypot().max(1e-9))
}
