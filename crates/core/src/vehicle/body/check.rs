//! Whether the measures of a body describe one; errors name the field.

use kurbo::Point;

use crate::ground::measure_error::{HIGHEST_MM, LONGEST_MM, MeasureError, require, require_range};
use crate::ground::outline::{Contour, first_crossing};
use crate::ground::tape::{Unit, print};
use crate::vehicle::body::outline::readings_outline;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::body::{Body, MOST_POINTS};

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
        .map(|p| Point::new(p.back_mm.mm(), p.drop_mm.mm()))
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
    let bounds = crate::ground::outline::bounds_of(contour.iter().copied());
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
                length(length_mm.mm())?;
                height(height_mm.mm())?;
                require(
                    fall_mm.mm() < height_mm.mm() && fall_mm.is_finite(),
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
                length(length_mm.mm())?;
                height(height_mm.mm())?;
                within(
                    "nose_mm",
                    nose_mm.mm(),
                    length_mm * 0.45,
                    "The lean of the nose",
                )?;
                within(
                    "nose_height_mm",
                    nose_height_mm.mm(),
                    height_mm * 0.95,
                    "The height of the nose",
                )?;
                within(
                    "tail_mm",
                    tail_mm.mm(),
                    length_mm * 0.45,
                    "The lean of the tail",
                )?;
                within(
                    "undercut_mm",
                    undercut_mm.mm(),
                    length_mm * 0.45,
                    "The undercut",
                )
            }
            Body::Van {
                length_mm,
                height_mm,
                bonnet_mm,
                bonnet_height_mm,
                screen_mm,
                tail_mm,
            } => {
                length(length_mm.mm())?;
                height(height_mm.mm())?;
                within("bonnet_mm", bonnet_mm.mm(), length_mm * 0.5, "The bonnet")?;
                within(
                    "bonnet_height_mm",
                    bonnet_height_mm.mm(),
                    height_mm.mm(),
                    "The height of the bonnet",
                )?;
                within(
                    "screen_mm",
                    screen_mm.mm(),
                    length_mm * 0.3,
                    "The lean of the screen",
                )?;
                within(
                    "tail_mm",
                    tail_mm.mm(),
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
                require_range(top_mm.mm(), 100.0..=LONGEST_MM, "top_mm", "The upper edge")?;
                require_range(
                    bottom_mm.mm(),
                    100.0..=LONGEST_MM,
                    "bottom_mm",
                    "The lower edge",
                )?;
                height(height_mm.mm())?;
                let most = top_mm.max(bottom_mm.mm());
                require(
                    bottom_starts_mm.is_finite() && bottom_starts_mm.abs() <= most,
                    "bottom_starts_mm",
                    "The lower edge would begin beside the panel. Measure from the upper front corner, along the upper edge.",
                )?;
                let least = top_mm.min(bottom_mm.mm()).min(height_mm.mm());
                within(
                    "corner_mm",
                    corner_mm.mm(),
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
                length(length_mm.mm())?;
                for (field, mm, what) in [
                    ("bow_mm", bow_mm, "The height at the bow"),
                    ("middle_mm", middle_mm, "The height in the middle"),
                    ("stern_mm", stern_mm, "The height at the stern"),
                ] {
                    require_range(mm.mm(), 100.0..=HIGHEST_MM, field, what)?;
                }
                within(
                    "stem_rake_mm",
                    stem_rake_mm.mm(),
                    length_mm * 0.6,
                    "The rake of the stem",
                )?;
                within(
                    "transom_rake_mm",
                    transom_rake_mm.mm(),
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
                    width_mm.mm(),
                    100.0..=LONGEST_MM,
                    "width_mm",
                    "The width of a transom",
                )?;
                within(
                    "chine_width_mm",
                    chine_width_mm.mm(),
                    width_mm * 1.5,
                    "The width at the chines",
                )?;
                require_range(
                    side_height_mm.mm(),
                    100.0..=HIGHEST_MM,
                    "side_height_mm",
                    "The height to the chines",
                )?;
                within("vee_mm", vee_mm.mm(), HIGHEST_MM / 2.0, "The vee")?;
                within("crown_mm", crown_mm.mm(), side_height_mm.mm(), "The crown")
            }
            Body::Tank {
                length_mm,
                height_mm,
                end_mm,
            } => {
                length(length_mm.mm())?;
                height(height_mm.mm())?;
                within(
                    "end_mm",
                    end_mm.mm(),
                    length_mm * 0.45,
                    "The bulge of an end",
                )
            }
            Body::Readings { ref points } => check_readings(points),
            Body::Drawn { ref outline, .. } => check_drawn(outline),
        }
    }
}
