//! Whether a feature is whole in itself; errors name the field.

use crate::ground::measure_error::{HIGHEST_MM, LONGEST_MM, MeasureError, require};
use crate::ground::tape::{Unit, print};
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::form::{Form, Repeat};
use crate::vehicle::feature::kind::Details;
use crate::vehicle::feature::{Feature, MOST_PARTS, MOST_POINTS, MOST_RIVETS};

fn place(field: &'static str, mm: f64) -> Result<(), MeasureError> {
    require(
        mm.is_finite() && mm.abs() <= LONGEST_MM,
        field,
        "This is farther away than any side is long. Measure it again.",
    )
}

fn size(field: &'static str, mm: f64, what: &str) -> Result<(), MeasureError> {
    require(
        mm.is_finite() && mm >= 1.0,
        field,
        format!("{what} must be more than 0."),
    )?;
    require(
        mm <= LONGEST_MM,
        field,
        format!("{what} would be larger than any side. Measure it again."),
    )
}

pub(crate) fn count(field: &'static str, n: u32, what: &str) -> Result<(), MeasureError> {
    require(
        (1..=MOST_PARTS).contains(&n),
        field,
        format!("There must be 1 to {MOST_PARTS} {what}."),
    )
}

fn pitch(field: &'static str, mm: f64, n: u32, what: &str) -> Result<(), MeasureError> {
    require(
        mm.is_finite() && mm.abs() <= LONGEST_MM && (n == 1 || mm > 0.0),
        field,
        format!("The distance between {what} must be more than 0."),
    )
}

fn check_repeat(repeat: &Repeat, several: &str) -> Result<(), MeasureError> {
    count("count", repeat.count, several)?;
    count("rows", repeat.rows, "rows")?;
    require(
        u64::from(repeat.count) * u64::from(repeat.rows) <= u64::from(MOST_PARTS),
        "rows",
        format!("There may be {MOST_PARTS} {several} in all; check how many there are."),
    )?;
    pitch("pitch_mm", repeat.pitch_mm.mm(), repeat.count, several)?;
    pitch(
        "row_pitch_mm",
        repeat.row_pitch_mm.mm(),
        repeat.rows,
        "rows",
    )
}

fn check_path(points: &[Reading], closed: bool, one: &str) -> Result<(), MeasureError> {
    let least = if closed { 3 } else { 2 };
    require(
        (least..=MOST_POINTS).contains(&points.len()),
        "points",
        format!("The {one} needs {least} to {MOST_POINTS} readings. Take another, or fewer."),
    )?;
    require(
        points.iter().all(|p| {
            p.back_mm.is_finite()
                && p.drop_mm.is_finite()
                && p.back_mm.abs() <= LONGEST_MM
                && p.drop_mm.abs() <= HIGHEST_MM
        }),
        "points",
        format!("A reading of the {one} is farther away than any side is large. Measure it again."),
    )?;
    if closed {
        let corners: Vec<kurbo::Point> = points
            .iter()
            .map(|p| kurbo::Point::new(p.back_mm.mm(), p.drop_mm.mm()))
            .collect();
        if let Some((a, b)) = crate::ground::outline::first_crossing(&corners) {
            let told = |n: usize| {
                let p = points[n];
                format!(
                    "{} back, {} down",
                    print(p.back_mm.mm(), Unit::InchSixteenth).text,
                    print(p.drop_mm.mm(), Unit::InchSixteenth).text
                )
            };
            return require(
                false,
                "points",
                format!(
                    "The outline of the {one} crosses itself behind reading {} ({}) and reading {} ({}). Check their order.",
                    a + 1,
                    told(a),
                    b + 1,
                    told(b)
                ),
            );
        }
        require(
            crate::ground::outline::signed_area(&corners).abs() >= 1.0,
            "points",
            format!("The outline of the {one} has no room in it. Check its readings."),
        )?;
    }
    Ok(())
}

impl Feature {
    /// Checks that the feature is whole in itself; [`crate::vehicle::measured::measure::measure`] checks that it lies on its side. Errors name
    /// the field.
    pub fn check(&self) -> Result<(), MeasureError> {
        let (one, several) = self.kind.names();
        require(
            self.kind.form_fits(&self.form),
            "form",
            format!("A {one} is not measured like this. Choose another way of measuring it."),
        )?;
        require(
            self.kind.details_fit(self.details.as_ref()),
            "details",
            format!(
                "What else is measured of a {one} is missing or belongs to something else. Add the {one} again."
            ),
        )?;
        require(
            (0.0..=500.0).contains(&self.clearance_mm),
            "clearance_mm",
            "The clearance must be from 0 to 500 mm.",
        )?;
        require(
            self.called.as_ref().is_none_or(|c| c.chars().count() <= 40),
            "called",
            "A name may have 40 characters. Shorten it.",
        )?;
        require(
            self.note.chars().count() <= 200,
            "note",
            "A word about it may have 200 characters. Shorten it.",
        )?;
        self.check_details()?;
        match &self.form {
            Form::Heads {
                first_mm,
                pitch_mm,
                columns,
                first_head_mm,
                head_pitch_mm,
                heads,
                head_mm,
            } => {
                place("first_mm", first_mm.mm())?;
                place("first_head_mm", first_head_mm.mm())?;
                count("columns", *columns, "columns")?;
                count("heads", *heads, "heads in a column")?;
                pitch("pitch_mm", pitch_mm.mm(), *columns, several)?;
                pitch("head_pitch_mm", head_pitch_mm.mm(), *heads, "heads")?;
                require(
                    u64::from(*columns) * u64::from(*heads) <= MOST_RIVETS,
                    "heads",
                    format!("A side may have {MOST_RIVETS} rivets; check how many there are."),
                )?;
                require(
                    (1.0..=100.0).contains(head_mm),
                    "head_mm",
                    "A head must be from 1 to 100 mm (4 in) across.",
                )
            }
            Form::Upright {
                first_mm,
                pitch_mm,
                count: n,
            } => {
                place("first_mm", first_mm.mm())?;
                count("count", *n, several)?;
                pitch("pitch_mm", pitch_mm.mm(), *n, several)
            }
            Form::Straight {
                back_mm,
                drop_mm,
                to_back_mm,
                to_drop_mm,
            } => {
                place("back_mm", back_mm.mm())?;
                place("drop_mm", drop_mm.mm())?;
                place("to_back_mm", to_back_mm.mm())?;
                place("to_drop_mm", to_drop_mm.mm())?;
                require(
                    (to_back_mm - back_mm).hypot(to_drop_mm - drop_mm) >= 1.0,
                    "to_back_mm",
                    format!(
                        "The {one} has no length: it ends where it begins. Measure its other end."
                    ),
                )
            }
            Form::Path { points, closed } => check_path(points, *closed, one),
            Form::Rectangle {
                back_mm,
                drop_mm,
                width_mm,
                height_mm,
                repeat,
                ..
            } => {
                place("back_mm", back_mm.mm())?;
                place("drop_mm", drop_mm.mm())?;
                size(
                    "width_mm",
                    width_mm.mm(),
                    &format!("The width of the {one}"),
                )?;
                size(
                    "height_mm",
                    height_mm.mm(),
                    &format!("The height of the {one}"),
                )?;
                check_repeat(repeat, several)
            }
            Form::Round {
                back_mm,
                drop_mm,
                across_mm,
                repeat,
            } => {
                place("back_mm", back_mm.mm())?;
                place("drop_mm", drop_mm.mm())?;
                size(
                    "across_mm",
                    across_mm.mm(),
                    &format!("The diameter of the {one}"),
                )?;
                check_repeat(repeat, several)
            }
            Form::Arch {
                centre_mm,
                width_mm,
                height_mm,
            } => {
                place("centre_mm", centre_mm.mm())?;
                size("width_mm", width_mm.mm(), "The width of the arch")?;
                size("height_mm", height_mm.mm(), "The height of the arch")
            }
        }
    }

    fn check_details(&self) -> Result<(), MeasureError> {
        match self.details {
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                ..
            }) => {
                require(
                    (0.5..=300.0).contains(&depth_mm),
                    "depth_mm",
                    "A recess is from 0.5 to 300 mm (12 in) deep. Measure its depth again.",
                )?;
                require(
                    (10.0..=90.0).contains(&wall_degrees),
                    "wall_degrees",
                    "The walls of a recess lean by 10 to 90 degrees from the face; 90 is square.",
                )
            }
            Some(Details::Curve { rise_mm, .. }) => require(
                (0.0..=1_500.0).contains(&rise_mm),
                "rise_mm",
                "A curve rises by 0 to 1500 mm over its chord. Measure it from a straight edge.",
            ),
            Some(Details::Hollow { depth_mm }) => require(
                (0.0..=500.0).contains(&depth_mm),
                "depth_mm",
                "A hollow is at most 500 mm deep. Measure it from a straight edge.",
            ),
            Some(Details::Head { height_mm }) => {
                require(
                    (0.1..=100.0).contains(&height_mm),
                    "height_mm",
                    "A head stands up by 0.1 to 100 mm. Measure it from the panel again.",
                )?;
                let wide = match &self.form {
                    Form::Heads { head_mm, .. } => head_mm.mm(),
                    _ => f64::INFINITY,
                };
                require(
                    height_mm.mm() <= wide,
                    "height_mm",
                    "A head is not higher than it is wide. Measure its height and its width again.",
                )
            }
            Some(Details::Fold { depth_mm, wide_mm }) => {
                require(
                    (0.1..=150.0).contains(&depth_mm),
                    "depth_mm",
                    "A line is from 0.1 to 150 mm (6 in) deep. Measure its depth again.",
                )?;
                require(
                    (1.0..=1_000.0).contains(&wide_mm),
                    "wide_mm",
                    "A line is from 1 mm to 1 m across. Measure from where it leaves the panel to where it is back.",
                )
            }
            Some(Details::Lamp { .. } | Details::Glass { .. }) | None => Ok(()),
        }
    }
}
