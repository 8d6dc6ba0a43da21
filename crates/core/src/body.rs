//! Shapes that a side starts from: our own parametric outlines, an outline typed as readings, or one read from a file.
//!
//! Every shape is drawn in its *run frame*: mm, x along the tape from its zero, y down, the zero of the tape at the origin. The
//! side turns it into the picture frame. Each dimension stays editable; what a shape starts from is common practice, no source.

use kurbo::{BezPath, PathEl, Point, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::outline::{Contour, first_crossing};
use crate::side::{MeasureError, require, require_range};
use crate::tape::{LengthError, Unit, parse_signed, print};

/// Longest side, mm.
pub const LONGEST_MM: f64 = 20_000.0;
/// Highest side, mm.
pub const HIGHEST_MM: f64 = 5_000.0;
/// Most points in an outline that was typed or read from a file.
pub const MOST_POINTS: usize = 4_000;
/// Curves of a shape are flattened within this, mm.
const FLATTENING_MM: f64 = 0.2;

/// One reading of an outline: so far along the datum, so far plumb down from it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reading {
    /// Along the datum from the zero of the tape, mm.
    pub back_mm: f64,
    /// Plumb down from the datum, mm; less than 0 above it.
    pub drop_mm: f64,
    /// Whether the outline bends round here instead of turning a corner.
    #[serde(default)]
    pub rounded: bool,
}

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
    /// Checks that the dimensions describe a side. Errors name the field.
    pub fn check(&self) -> Result<(), MeasureError> {
        let length =
            |mm| require_range(mm, 100.0..=LONGEST_MM, "length_mm", "The length of a side");
        let height =
            |mm| require_range(mm, 100.0..=HIGHEST_MM, "height_mm", "The height of a side");
        // A dimension that takes its share of a larger one.
        let within = |field: &'static str, mm: f64, whole: f64, what: &str| {
            require(
                mm.is_finite() && (0.0..=whole).contains(&mm),
                field,
                format!(
                    "{what} must be from 0 to {}, or the outline turns inside out. Measure it again.",
                    print(whole, Unit::InchSixteenth).text
                ),
            )
        };
        match *self {
            Body::Box {
                length_mm,
                height_mm,
                fall_mm,
            } => {
                length(length_mm)?;
                height(height_mm)?;
                require(
                    fall_mm < height_mm && fall_mm.is_finite(),
                    "fall_mm",
                    "The top rail would leave the side: it falls by as much as the side is high. Measure the fall again.",
                )?;
                require(
                    fall_mm.abs() <= length_mm / 10.0,
                    "fall_mm",
                    "The top rail would slope by more than 1 in 10. Measure the fall from level again, at both ends.",
                )
            }
            Body::TravelTrailer {
                length_mm,
                height_mm,
                nose_mm,
                nose_height_mm,
                tail_mm,
                undercut_mm,
            } => {
                length(length_mm)?;
                height(height_mm)?;
                within("nose_mm", nose_mm, length_mm * 0.45, "The lean of the nose")?;
                within(
                    "nose_height_mm",
                    nose_height_mm,
                    height_mm * 0.95,
                    "The height of the nose",
                )?;
                within("tail_mm", tail_mm, length_mm * 0.45, "The lean of the tail")?;
                within("undercut_mm", undercut_mm, length_mm * 0.45, "The undercut")
            }
            Body::Van {
                length_mm,
                height_mm,
                bonnet_mm,
                bonnet_height_mm,
                screen_mm,
                tail_mm,
            } => {
                length(length_mm)?;
                height(height_mm)?;
                within("bonnet_mm", bonnet_mm, length_mm * 0.5, "The bonnet")?;
                within(
                    "bonnet_height_mm",
                    bonnet_height_mm,
                    height_mm,
                    "The height of the bonnet",
                )?;
                within(
                    "screen_mm",
                    screen_mm,
                    length_mm * 0.3,
                    "The lean of the screen",
                )?;
                within(
                    "tail_mm",
                    tail_mm,
                    length_mm * 0.15,
                    "The lean of the rear edge",
                )
            }
            Body::Panel {
                top_mm,
                bottom_mm,
                height_mm,
                bottom_starts_mm,
                corner_mm,
                top_bow_mm,
                bottom_bow_mm,
            } => {
                require_range(top_mm, 100.0..=LONGEST_MM, "top_mm", "The upper edge")?;
                require_range(bottom_mm, 100.0..=LONGEST_MM, "bottom_mm", "The lower edge")?;
                height(height_mm)?;
                let most = top_mm.max(bottom_mm);
                require(
                    bottom_starts_mm.is_finite() && bottom_starts_mm.abs() <= most,
                    "bottom_starts_mm",
                    "The lower edge would begin beside the panel. Measure from the upper front corner, along the upper edge.",
                )?;
                let least = top_mm.min(bottom_mm).min(height_mm);
                within(
                    "corner_mm",
                    corner_mm,
                    least * 0.45,
                    "The radius of the corners",
                )?;
                for (field, bow) in [("top_bow_mm", top_bow_mm), ("bottom_bow_mm", bottom_bow_mm)] {
                    require(
                        bow.is_finite() && bow.abs() <= height_mm * 0.45,
                        field,
                        "An edge bows by less than half of the panel's height. Measure the bow from a string between its ends.",
                    )?;
                }
                Ok(())
            }
            Body::Hull {
                length_mm,
                bow_mm,
                middle_mm,
                stern_mm,
                stem_rake_mm,
                transom_rake_mm,
            } => {
                length(length_mm)?;
                for (field, mm, what) in [
                    ("bow_mm", bow_mm, "The height at the bow"),
                    ("middle_mm", middle_mm, "The height in the middle"),
                    ("stern_mm", stern_mm, "The height at the stern"),
                ] {
                    require_range(mm, 100.0..=HIGHEST_MM, field, what)?;
                }
                within(
                    "stem_rake_mm",
                    stem_rake_mm,
                    length_mm * 0.6,
                    "The rake of the stem",
                )?;
                within(
                    "transom_rake_mm",
                    transom_rake_mm,
                    length_mm * 0.3,
                    "The rake of the transom",
                )
            }
            Body::Transom {
                width_mm,
                chine_width_mm,
                side_height_mm,
                vee_mm,
                crown_mm,
            } => {
                require_range(
                    width_mm,
                    100.0..=LONGEST_MM,
                    "width_mm",
                    "The width of a transom",
                )?;
                within(
                    "chine_width_mm",
                    chine_width_mm,
                    width_mm * 1.5,
                    "The width at the chines",
                )?;
                require_range(
                    side_height_mm,
                    100.0..=HIGHEST_MM,
                    "side_height_mm",
                    "The height to the chines",
                )?;
                within("vee_mm", vee_mm, HIGHEST_MM / 2.0, "The vee")?;
                within("crown_mm", crown_mm, side_height_mm, "The crown")
            }
            Body::Tank {
                length_mm,
                height_mm,
                end_mm,
            } => {
                length(length_mm)?;
                height(height_mm)?;
                within("end_mm", end_mm, length_mm * 0.45, "The bulge of an end")
            }
            Body::Readings { ref points } => check_readings(points),
            Body::Drawn { ref outline, .. } => check_drawn(outline),
        }
    }

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

    /// The outline in the run frame, walked round once from the front of the rail.
    pub fn outline(&self) -> Contour {
        let p = Point::new;
        match *self {
            Body::Box { height_mm, .. } => {
                let (_, end) = self.rail();
                vec![Point::ZERO, end, p(end.x, height_mm), p(0.0, height_mm)]
            }
            Body::TravelTrailer {
                length_mm,
                height_mm,
                nose_mm,
                nose_height_mm,
                tail_mm,
                undercut_mm,
            } => vec![
                p(nose_mm, 0.0),
                p(length_mm - tail_mm, 0.0),
                p(length_mm, nose_height_mm),
                p(length_mm, height_mm),
                p(undercut_mm, height_mm),
                p(0.0, nose_height_mm),
            ],
            Body::Van {
                length_mm,
                height_mm,
                bonnet_mm,
                bonnet_height_mm,
                screen_mm,
                tail_mm,
            } => {
                let edge = height_mm - bonnet_height_mm;
                // The bonnet rises a sixth of its length to the foot of the screen, where there is room for that.
                let foot = (edge - bonnet_mm / 6.0).max(edge * 0.5);
                let corners = [
                    (p(bonnet_mm + screen_mm, 0.0), 160.0),
                    (p(length_mm - tail_mm, 0.0), 120.0),
                    (p(length_mm, height_mm * 0.35), 80.0),
                    (p(length_mm, height_mm), 40.0),
                    (p(0.0, height_mm), 60.0),
                    (p(0.0, edge), 120.0),
                    (p(bonnet_mm, foot), 20.0),
                ];
                rounded_corners(&corners)
            }
            Body::Panel {
                top_mm,
                bottom_mm,
                height_mm,
                bottom_starts_mm,
                corner_mm,
                top_bow_mm,
                bottom_bow_mm,
            } => {
                let corners = [
                    p(0.0, 0.0),
                    p(top_mm, 0.0),
                    p(bottom_starts_mm + bottom_mm, height_mm),
                    p(bottom_starts_mm, height_mm),
                ];
                bowed_panel(corners, corner_mm, [top_bow_mm, 0.0, bottom_bow_mm, 0.0])
            }
            Body::Hull {
                length_mm,
                bow_mm,
                middle_mm,
                stem_rake_mm,
                transom_rake_mm,
                ..
            } => {
                let (_, stern) = self.rail();
                let mut path = BezPath::new();
                path.move_to(Point::ZERO);
                // A parabola through the three heights of the sheer.
                let middle = p(length_mm / 2.0, bow_mm - middle_mm);
                path.quad_to(through(Point::ZERO, middle, stern), stern);
                path.line_to(p(length_mm - transom_rake_mm, bow_mm));
                let forefoot = p(stem_rake_mm, bow_mm);
                path.line_to(forefoot + Vec2::new(stem_rake_mm * 0.4, 0.0));
                path.quad_to(
                    p(stem_rake_mm * 0.55, bow_mm),
                    p(stem_rake_mm * 0.45, bow_mm * 0.72),
                );
                path.line_to(Point::ZERO);
                flattened(&path)
            }
            Body::Transom {
                width_mm,
                chine_width_mm,
                side_height_mm,
                vee_mm,
                crown_mm,
            } => {
                let inset = (width_mm - chine_width_mm) / 2.0;
                let mut path = BezPath::new();
                path.move_to(Point::ZERO);
                path.quad_to(p(width_mm / 2.0, -2.0 * crown_mm), p(width_mm, 0.0));
                path.line_to(p(width_mm - inset, side_height_mm));
                path.line_to(p(width_mm / 2.0, side_height_mm + vee_mm));
                path.line_to(p(inset, side_height_mm));
                path.close_path();
                flattened(&path)
            }
            Body::Tank {
                length_mm,
                height_mm,
                end_mm,
            } => {
                let half = height_mm / 2.0;
                let cap = |centre: f64, from: f64| {
                    (0..=32).map(move |n| {
                        let angle = (from + 180.0 * f64::from(n) / 32.0).to_radians();
                        p(centre + end_mm * angle.cos(), half + half * angle.sin())
                    })
                };
                cap(length_mm - end_mm, -90.0)
                    .chain(cap(end_mm, 90.0))
                    .collect()
            }
            Body::Readings { ref points } => readings_outline(points),
            Body::Drawn { ref outline, .. } => outline.iter().map(|[x, y]| p(*x, *y)).collect(),
        }
    }
}

/// A line of typed readings that cannot be read. Says which and why.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ReadingsError {
    /// A line that is not two lengths.
    #[error(
        "Line {0} is not two lengths. Type how far back, a comma, how far down: 6' 2, 31 1/2. An r at the end rounds it."
    )]
    NotTwo(usize),
    /// A length in a line that cannot be read.
    #[error("Line {line}: {why}")]
    Length {
        /// Number of the line, from 1.
        line: usize,
        /// What is wrong with the length.
        why: LengthError,
    },
}

/// Reads an outline typed like a list: on each line how far back, a comma, how far down, and an `r` where it bends round.
/// Empty lines are passed over.
pub fn parse_readings(text: &str, unit: Unit) -> Result<Vec<Reading>, ReadingsError> {
    let mut points = Vec::new();
    for (n, line) in text.lines().enumerate() {
        let line = line.trim();
        if line.is_empty() {
            continue;
        }
        let (line, rounded) = match line.strip_suffix(['r', 'R']) {
            Some(rest) => (rest.trim_end().trim_end_matches([',', ';']), true),
            None => (line, false),
        };
        let mut parts = line.split([',', ';', '\t']).map(str::trim);
        let (Some(back), Some(drop), None) = (parts.next(), parts.next(), parts.next()) else {
            return Err(ReadingsError::NotTwo(n + 1));
        };
        let read = |text: &str| {
            parse_signed(text, unit).map_err(|why| ReadingsError::Length { line: n + 1, why })
        };
        points.push(Reading {
            back_mm: read(back)?,
            drop_mm: read(drop)?,
            rounded,
        });
    }
    Ok(points)
}

/// Readings as the list that [`parse_readings`] reads.
pub fn print_readings(points: &[Reading], unit: Unit) -> String {
    points
        .iter()
        .map(|p| {
            let rounded = if p.rounded { " r" } else { "" };
            format!(
                "{}, {}{rounded}\n",
                print(p.back_mm, unit).text,
                print(p.drop_mm, unit).text
            )
        })
        .collect()
}

/// Control point of the parabola from `a` to `b` that passes `middle` half way along.
fn through(a: Point, middle: Point, b: Point) -> Point {
    (middle.to_vec2() * 2.0 - (a.to_vec2() + b.to_vec2()) / 2.0).to_point()
}

fn flattened(path: &BezPath) -> Contour {
    let mut contour = Contour::new();
    kurbo::flatten(path, FLATTENING_MM, |element| match element {
        PathEl::MoveTo(p) | PathEl::LineTo(p) => contour.push(p),
        _ => {}
    });
    contour.dedup_by(|a, b| a.distance(*b) < 1e-6);
    if contour.len() > 1
        && contour
            .first()
            .zip(contour.last())
            .is_some_and(|(a, b)| a.distance(*b) < 1e-6)
    {
        contour.pop();
    }
    contour
}

/// Corners with a radius each; a radius takes at most 45 % of the shorter edge beside it.
fn rounded_corners(corners: &[(Point, f64)]) -> Contour {
    let n = corners.len();
    let mut path = BezPath::new();
    for (i, (corner, radius)) in corners.iter().enumerate() {
        let before = corners[(i + n - 1) % n].0;
        let after = corners[(i + 1) % n].0;
        let (a, b) = trimmed(*corner, before, after, *radius);
        if i == 0 {
            path.move_to(a);
        } else {
            path.line_to(a);
        }
        path.quad_to(*corner, b);
    }
    path.close_path();
    flattened(&path)
}

/// Where a rounded corner begins and ends on the edges beside it.
fn trimmed(corner: Point, before: Point, after: Point, radius: f64) -> (Point, Point) {
    let cut = |other: Point| {
        let edge = other - corner;
        let length = edge.hypot();
        if length < 1e-9 {
            corner
        } else {
            corner + edge * (radius.min(0.45 * length) / length)
        }
    };
    (cut(before), cut(after))
}

fn bowed_panel(corners: [Point; 4], radius: f64, bows: [f64; 4]) -> Contour {
    let mut path = BezPath::new();
    for i in 0..4 {
        let (corner, before, after) = (corners[i], corners[(i + 3) % 4], corners[(i + 1) % 4]);
        let (_, start) = trimmed(corner, before, after, radius);
        let (end, next) = trimmed(after, corner, corners[(i + 2) % 4], radius);
        if i == 0 {
            path.move_to(start);
        }
        let along = (end - start).normalize();
        // Outwards is to the left of an outline that runs rail, rear, foot, front with y down.
        let outwards = Vec2::new(along.y, -along.x);
        path.quad_to(start.midpoint(end) + outwards * (2.0 * bows[i]), end);
        path.quad_to(after, next);
    }
    path.close_path();
    flattened(&path)
}

/// Handle of a bend at a rounded point: along the line between its neighbours, a third of the segment or of the one on its other
/// side long, whichever is shorter, so that a bend beside a long straight does not swing out.
pub(crate) fn tangent(before: Point, at: Point, after: Point) -> Vec2 {
    let along = after - before;
    let segment = before.distance(at).min(at.distance(after));
    along * (segment / 3.0 / along.hypot().max(1e-9))
}

/// Straight from corner to corner; through rounded points the outline runs in one bend.
fn readings_outline(points: &[Reading]) -> Contour {
    let at = |n: usize| {
        let p = points[n % points.len()];
        Point::new(p.back_mm, p.drop_mm)
    };
    let n = points.len();
    if n < 3 {
        return points
            .iter()
            .map(|p| Point::new(p.back_mm, p.drop_mm))
            .collect();
    }
    let mut path = BezPath::new();
    path.move_to(at(0));
    for i in 0..n {
        let (a, b) = (at(i), at(i + 1));
        let (a_round, b_round) = (points[i].rounded, points[(i + 1) % n].rounded);
        if !a_round && !b_round {
            path.line_to(b);
            continue;
        }
        let before = at(i + n - 1);
        let after = at(i + 2);
        let leave = if a_round {
            tangent(before, a, b)
        } else {
            (b - a) / 3.0
        };
        let arrive = if b_round {
            tangent(a, b, after)
        } else {
            (b - a) / 3.0
        };
        path.curve_to(a + leave, b - arrive, b);
    }
    flattened(&path)
}

fn check_readings(points: &[Reading]) -> Result<(), MeasureError> {
    require(
        points.len() >= 3,
        "points",
        "An outline needs at least three readings. Go on round the edge until it closes.",
    )?;
    require(
        points.len() <= 400,
        "points",
        "An outline may have 400 readings. Take fewer where the edge is straight.",
    )?;
    for (n, p) in points.iter().enumerate() {
        require(
            p.back_mm.is_finite()
                && p.drop_mm.is_finite()
                && p.back_mm.abs() <= LONGEST_MM
                && p.drop_mm.abs() <= HIGHEST_MM,
            "points",
            format!(
                "Reading {} is farther away than any side is large. Measure it again.",
                n + 1
            ),
        )?;
    }
    let corners: Contour = points
        .iter()
        .map(|p| Point::new(p.back_mm, p.drop_mm))
        .collect();
    check_room(&corners, "points")?;
    if let Some((a, b)) = first_crossing(&corners) {
        let next = |n: usize| (n + 1) % points.len() + 1;
        return require(
            false,
            "points",
            format!(
                "The outline crosses itself: from reading {} to {} it runs over the line from {} to {}. Check these readings and their order.",
                a + 1,
                next(a),
                b + 1,
                next(b)
            ),
        );
    }
    require(
        first_crossing(&readings_outline(points)).is_none(),
        "points",
        "The outline crosses itself where it bends round. Make a corner of one of the rounded readings, or take more of them.",
    )
}

fn check_drawn(outline: &[[f64; 2]]) -> Result<(), MeasureError> {
    require(
        outline.len() >= 3,
        "outline",
        "The outline from the file has fewer than three points. Choose another file.",
    )?;
    require(
        outline.len() <= MOST_POINTS,
        "outline",
        format!(
            "The outline from the file has {} points; {MOST_POINTS} is the most. Simplify it.",
            outline.len()
        ),
    )?;
    let contour: Contour = outline.iter().map(|[x, y]| Point::new(*x, *y)).collect();
    check_room(&contour, "outline")?;
    if let Some((a, b)) = first_crossing(&contour) {
        let at = |n: usize| {
            let [x, y] = outline[n];
            format!("{x:.0}, {y:.0} mm")
        };
        return require(
            false,
            "outline",
            format!(
                "The outline from the file crosses itself near {} and {}. Mend it there and read it in again.",
                at(a),
                at(b)
            ),
        );
    }
    Ok(())
}

/// An outline that was typed or read must be a side: some area, and no larger than one.
fn check_room(contour: &Contour, field: &'static str) -> Result<(), MeasureError> {
    let bounds = crate::outline::bounds_of(contour.iter().copied());
    require(
        contour.iter().all(|p| p.is_finite())
            && bounds.width() <= LONGEST_MM
            && bounds.height() <= HIGHEST_MM,
        field,
        format!(
            "The outline is {:.0} × {:.0} mm, larger than any side ({LONGEST_MM:.0} × {HIGHEST_MM:.0} mm). Check the unit.",
            bounds.width(),
            bounds.height()
        ),
    )?;
    require(
        bounds.width() >= 50.0 && bounds.height() >= 50.0,
        field,
        "The outline has no room in it: its readings lie on one line or in one place. Check them.",
    )
}

#[cfg(test)]
mod tests {
    use super::*;

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
        let bounds = crate::outline::bounds_of(panel.outline());
        assert!(
            (bounds.y0 + 40.0).abs() < 0.5,
            "the bow is the highest: {bounds:?}"
        );
        assert!(bounds.x0 >= -100.0 && bounds.x1 <= 1300.0 && bounds.y1 <= 900.0);
    }
}
