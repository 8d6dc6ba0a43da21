//! Shapes that a side starts from: our own parametric outlines, an outline typed as readings, or one read from a file.
//!
//! Every shape is drawn in its *run frame*: mm, x along the tape from its zero, y down, the zero of the tape at the origin. The
//! side turns it into the picture frame. Each dimension stays editable; what a shape starts from is common practice, no source.

mod check;
mod outline;
pub mod readings;

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};

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
        length_mm: f64,
        /// Rail to bottom edge at the front.
        height_mm: f64,
        /// How much the rail falls to the rear against level; less than 0 where it rises.
        fall_mm: f64,
    },
    /// A travel trailer: a nose that leans back above, a tail that leans in, an undercut below the nose.
    TravelTrailer {
        /// Foremost to rearmost point.
        length_mm: f64,
        /// Roof to bottom edge.
        height_mm: f64,
        /// How far the top of the nose lies behind its foremost point.
        nose_mm: f64,
        /// Roof down to the foremost point.
        nose_height_mm: f64,
        /// How far the top of the tail lies before its rearmost point.
        tail_mm: f64,
        /// How far the foot of the nose lies behind its foremost point.
        undercut_mm: f64,
    },
    /// A van's side from bumper to rear doors: bonnet, screen, roof.
    Van {
        /// Nose to rear edge.
        length_mm: f64,
        /// Roof to sill.
        height_mm: f64,
        /// Nose to the foot of the screen.
        bonnet_mm: f64,
        /// Sill to the bonnet's edge at the nose.
        bonnet_height_mm: f64,
        /// How far the head of the screen lies behind its foot.
        screen_mm: f64,
        /// How far the roof ends before the rear edge.
        tail_mm: f64,
    },
    /// A panel with four edges, its corners rounded and its upper and lower edge straight or bowed.
    Panel {
        /// Along the upper edge.
        top_mm: f64,
        /// Along the lower edge.
        bottom_mm: f64,
        /// Upper to lower edge.
        height_mm: f64,
        /// How far along the lower edge begins after the upper; less than 0 where it begins before.
        bottom_starts_mm: f64,
        /// Radius of the corners.
        corner_mm: f64,
        /// How far the upper edge bows outwards in its middle; less than 0 inwards.
        top_bow_mm: f64,
        /// How far the lower edge bows outwards in its middle; less than 0 inwards.
        bottom_bow_mm: f64,
    },
    /// A boat's side: sheer, stem, bottom, transom.
    Hull {
        /// Stem head to the upper end of the transom.
        length_mm: f64,
        /// Bottom to the sheer at the bow.
        bow_mm: f64,
        /// Bottom to the sheer in the middle.
        middle_mm: f64,
        /// Bottom to the sheer at the stern.
        stern_mm: f64,
        /// How far the foot of the stem lies behind its head.
        stem_rake_mm: f64,
        /// How far the foot of the transom lies before its head.
        transom_rake_mm: f64,
    },
    /// A boat's transom: crowned above, vee below.
    Transom {
        /// Across the top.
        width_mm: f64,
        /// Across at the chines.
        chine_width_mm: f64,
        /// Top corner to chine.
        side_height_mm: f64,
        /// How far the bottom goes on below the chines in the middle.
        vee_mm: f64,
        /// How far the top rises in the middle.
        crown_mm: f64,
    },
    /// A lying tank: straight above and below, rounded ends.
    Tank {
        /// End to end.
        length_mm: f64,
        /// Top to bottom.
        height_mm: f64,
        /// How far each end bulges.
        end_mm: f64,
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
                (Point::ZERO, Point::new(run, fall_mm))
            }
            Body::Hull {
                length_mm,
                bow_mm,
                stern_mm,
                ..
            } => (Point::ZERO, Point::new(length_mm, bow_mm - stern_mm)),
            Body::TravelTrailer { length_mm, .. }
            | Body::Van { length_mm, .. }
            | Body::Tank { length_mm, .. } => level(length_mm),
            Body::Panel { top_mm, .. } => level(top_mm),
            Body::Transom { width_mm, .. } => level(width_mm),
            Body::Readings { ref points } => {
                level(points.iter().map(|p| p.back_mm).fold(0.0, f64::max))
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ground::tape::Unit;
    use crate::vehicle::body::readings::parse_readings;
    use crate::vehicle::body::readings::print_readings;

    fn sentence(body: Body) -> String {
        body.check().err().map(|e| e.sentence).unwrap_or_default()
    }

    fn readings(points: &[(f64, f64)]) -> Body {
        let points = points
            .iter()
            .map(|(back_mm, drop_mm)| Reading {
                back_mm: *back_mm,
                drop_mm: *drop_mm,
                rounded: false,
            })
            .collect();
        Body::Readings { points }
    }

    #[test]
    fn a_rail_that_leaves_the_side_is_refused() {
        let body = |height_mm, fall_mm| Body::Box {
            length_mm: 20_000.0,
            height_mm,
            fall_mm,
        };
        assert!(sentence(body(900.0, 950.0)).contains("leave the side"));
        assert!(sentence(body(2184.0, 2100.0)).contains("1 in 10"));
        assert_eq!(sentence(body(900.0, 100.0)), "");
    }

    #[test]
    fn readings_that_cross_are_named() {
        let bow_tie = readings(&[(0.0, 0.0), (1000.0, 0.0), (0.0, 800.0), (1000.0, 800.0)]);
        assert_eq!(
            sentence(bow_tie),
            "The outline crosses itself: from reading 2 to 3 it runs over the line from 4 to 1. Check these readings and their order."
        );
        assert!(sentence(readings(&[(0.0, 0.0), (900.0, 0.0)])).contains("at least three"));
        assert!(sentence(readings(&[(0.0, 0.0), (900.0, 0.0), (1800.0, 0.0)])).contains("no room"));
        assert!(sentence(readings(&[(0.0, 0.0), (9e9, 0.0), (5.0, 5.0)])).contains("Reading 2"));
        assert_eq!(
            sentence(readings(&[(0.0, 0.0), (900.0, 10.0), (800.0, 500.0)])),
            ""
        );
    }

    #[test]
    fn a_typed_list_is_read_line_by_line_and_printed_the_same() {
        let list = "0, 0\n6' 2, 0\n\n6' 2; 31 1/2 r\n-2 1/4,\t40";
        let told = |text: &str| {
            parse_readings(text, Unit::InchSixteenth)
                .err()
                .map(|e| e.to_string())
        };
        assert!(told(list).is_some_and(|s| s.starts_with("Line 5 is not two lengths.")));
        let list = list.replace(",\t", ", ");
        let points = parse_readings(&list, Unit::InchSixteenth).unwrap_or_default();
        assert_eq!(points.len(), 4);
        assert!(points[2].rounded && points[2].drop_mm == 800.1 && points[3].back_mm == -57.15);
        let printed = print_readings(&points, Unit::InchSixteenth);
        assert_eq!(parse_readings(&printed, Unit::InchSixteenth), Ok(points));
        assert_eq!(
            told("0, 0\n27 3/0, 5").as_deref(),
            Some("Line 2: A fraction cannot be over 0. Type it like 27 3/4.")
        );
    }

    #[test]
    fn a_rounded_reading_is_passed_through() {
        let mut points = vec![];
        for n in 0..12 {
            let angle = f64::from(n).to_radians() * 30.0;
            points.push(Reading {
                back_mm: 1000.0 + 500.0 * angle.cos(),
                drop_mm: 600.0 + 500.0 * angle.sin(),
                rounded: true,
            });
        }
        let circle = Body::Readings { points };
        assert_eq!(circle.check(), Ok(()));
        for p in circle.outline() {
            let radius = p.distance(Point::new(1000.0, 600.0));
            assert!((radius - 500.0).abs() < 1.0, "{radius}");
        }
    }

    #[test]
    fn bowed_and_rounded_panels_keep_their_corners_within_the_measures() {
        let panel = Body::Panel {
            top_mm: 1200.0,
            bottom_mm: 1400.0,
            height_mm: 900.0,
            bottom_starts_mm: -100.0,
            corner_mm: 60.0,
            top_bow_mm: 40.0,
            bottom_bow_mm: -25.0,
        };
        assert_eq!(panel.check(), Ok(()));
        let bounds = crate::ground::outline::bounds_of(panel.outline());
        assert!(
            (bounds.y0 + 40.0).abs() < 0.5,
            "the bow is the highest: {bounds:?}"
        );
        assert!(bounds.x0 >= -100.0 && bounds.x1 <= 1300.0 && bounds.y1 <= 900.0);
    }
}
