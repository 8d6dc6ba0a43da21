//! What is on a side that matters to film, as a fitter measures it: back along a reference, then plumb down from it (a *drop*).
//!
//! A feature is a *kind* (what it is to film) and a *form* (how it is measured); most forms repeat by pitch.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::body::{HIGHEST_MM, LONGEST_MM, Reading};
use crate::side::{MeasureError, require};
use crate::tape::{Unit, print};

/// Most rivets in one feature and on one side.
pub const MOST_RIVETS: u64 = 5_000;
/// Most parts of one repeated feature.
pub const MOST_PARTS: u32 = 500;
/// Most points in a feature's own outline.
pub const MOST_POINTS: usize = 200;

/// Colour of a lamp's lens.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LampColour {
    /// Amber.
    Amber,
    /// Red.
    Red,
    /// White.
    White,
}

/// Where air can leave a recess.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum OpenSide {
    /// Nowhere: walls all round.
    Enclosed,
    /// Upwards.
    Top,
    /// Downwards.
    Foot,
    /// Towards the zero of the tape.
    Front,
    /// Away from it.
    Rear,
}

/// What a thing on a side is to film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FeatureKind {
    /// Rivets in rows and columns.
    Rivets,
    /// Screws, bolts and other fasteners.
    Fastener,
    /// A seam between panels.
    PanelSeam,
    /// A gap round or beside a door.
    DoorGap,
    /// A crease in the panel.
    Crease,
    /// A body line.
    BodyLine,
    /// The waterline of a boat.
    Waterline,
    /// A door with a gap round it.
    LockerDoor,
    /// A hinge.
    Hinge,
    /// A latch or lock rod.
    Latch,
    /// A handle.
    Handle,
    /// A lamp.
    Lamp,
    /// A badge.
    Badge,
    /// A socket or inlet.
    Socket,
    /// A vent: never covered.
    Vent,
    /// A moulding or rub rail.
    Moulding,
    /// Rubber: nothing sticks.
    Rubber,
    /// Glass.
    Glass,
    /// A number plate or rating plate: never covered.
    Plate,
    /// A safety label: never covered.
    SafetyLabel,
    /// An emergency exit: never covered.
    Exit,
    /// A sensor or camera: never covered.
    Sensor,
    /// A bracket or arm.
    Bracket,
    /// A wheel arch.
    WheelArch,
    /// A recess in the panel.
    Recess,
    /// A place that curves outwards.
    CurvedZone,
    /// A place that curves inwards.
    ConcaveZone,
    /// Textured plastic.
    TexturedZone,
}

/// What a kind of feature does to film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FeatureClass {
    /// Heads that film lies on or beside.
    Heads,
    /// Lines that film crosses or runs along.
    Line,
    /// Things that film keeps off.
    KeepOff,
    /// Places where film behaves otherwise.
    Zone,
}

/// How many of a thing there are, at which pitch.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Repeat {
    /// How many along.
    pub count: u32,
    /// From one to the next along, mm.
    pub pitch_mm: f64,
    /// How many down.
    pub rows: u32,
    /// From one to the next down, mm.
    pub row_pitch_mm: f64,
}

impl Repeat {
    /// One, alone.
    pub const ONCE: Repeat = Repeat {
        count: 1,
        pitch_mm: 0.0,
        rows: 1,
        row_pitch_mm: 0.0,
    };
}

/// Which point of an upright rectangle its measures run to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MeasuredTo {
    /// Its upper corner nearer the zero of the tape.
    Corner,
    /// Its middle.
    Middle,
}

/// How a feature is measured. Distances in mm, back along the reference and plumb down from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "form", rename_all = "snake_case")]
pub enum Form {
    /// Round heads in a grid: a column is a grid one wide, a row one high, a single fastener one by one.
    Heads {
        /// Zero to the middle of the first column.
        first_mm: f64,
        /// Column to column.
        pitch_mm: f64,
        /// How many columns.
        columns: u32,
        /// Reference to the middle of the first head.
        first_head_mm: f64,
        /// Head to head down the column.
        head_pitch_mm: f64,
        /// Heads in each column.
        heads: u32,
        /// Diameter of a head.
        head_mm: f64,
    },
    /// Upright lines over the whole height of the side.
    Upright {
        /// Zero to the first.
        first_mm: f64,
        /// Line to line.
        pitch_mm: f64,
        /// How many.
        count: u32,
    },
    /// A straight line between two readings.
    Straight {
        /// Zero to its beginning.
        back_mm: f64,
        /// Reference to its beginning.
        drop_mm: f64,
        /// Zero to its end.
        to_back_mm: f64,
        /// Reference to its end.
        to_drop_mm: f64,
    },
    /// A line or an outline by readings.
    Path {
        /// The readings in order.
        points: Vec<Reading>,
        /// Whether it closes into an outline.
        closed: bool,
    },
    /// An upright rectangle, or several.
    Rectangle {
        /// Zero to it.
        back_mm: f64,
        /// Reference to it.
        drop_mm: f64,
        /// Which of its points these run to.
        to: MeasuredTo,
        /// Width.
        width_mm: f64,
        /// Height.
        height_mm: f64,
        /// How many, at which pitch.
        repeat: Repeat,
    },
    /// A round thing, or several.
    Round {
        /// Zero to its middle.
        back_mm: f64,
        /// Reference to its middle.
        drop_mm: f64,
        /// Diameter.
        across_mm: f64,
        /// How many, at which pitch.
        repeat: Repeat,
    },
    /// Half an ellipse that stands on the bottom edge.
    Arch {
        /// Zero to its middle.
        centre_mm: f64,
        /// Width at the bottom.
        width_mm: f64,
        /// Height over the bottom edge.
        height_mm: f64,
    },
}

/// What else is measured of some kinds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "of", rename_all = "snake_case")]
pub enum Details {
    /// Of a lamp.
    Lamp {
        /// Colour of its lens.
        colour: LampColour,
        /// Whether the law requires it.
        required: bool,
    },
    /// Of a recess.
    Recess {
        /// How deep, mm.
        depth_mm: f64,
        /// Angle of the walls from the face, degrees: 90 is square.
        wall_degrees: f64,
        /// Where air can leave.
        open: OpenSide,
    },
    /// Of a curved zone.
    Curve {
        /// Whether it bends in two directions.
        compound: bool,
        /// How far it rises over its chord, mm.
        rise_mm: f64,
    },
    /// Of a concave zone.
    Hollow {
        /// How deep at most, mm.
        depth_mm: f64,
    },
}

/// Whether a thing is taken off before film goes on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ComesOff {
    /// It stays.
    #[default]
    Stays,
    /// It comes off and goes back after.
    GoesBack,
    /// It comes off for good.
    ForGood,
}

/// Something on a side, as it is measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Feature {
    /// What it is.
    pub kind: FeatureKind,
    /// What the shop calls it, where that is more than its kind.
    #[serde(default)]
    pub called: Option<String>,
    /// The reference that it is measured from; `None` is the rail.
    #[serde(default)]
    pub reference: Option<Uuid>,
    /// How it is measured.
    pub form: Form,
    /// How far film keeps off it, mm.
    #[serde(default)]
    pub clearance_mm: f64,
    /// Whether it comes off first.
    #[serde(default)]
    pub comes_off: ComesOff,
    /// What else is measured of it.
    #[serde(default)]
    pub details: Option<Details>,
    /// A word about it: what to do where it stays, which tool takes it off.
    #[serde(default)]
    pub note: String,
}

/// A feature with the row that it is kept in.
#[derive(Debug, Clone, PartialEq)]
pub struct SideFeature {
    /// The feature's own key.
    pub id: Uuid,
    /// What was measured.
    pub feature: Feature,
}

impl FeatureKind {
    /// Every kind, in the order in which a fitter walks round.
    pub const ALL: [FeatureKind; 28] = [
        FeatureKind::Rivets,
        FeatureKind::Fastener,
        FeatureKind::PanelSeam,
        FeatureKind::DoorGap,
        FeatureKind::Crease,
        FeatureKind::BodyLine,
        FeatureKind::Waterline,
        FeatureKind::LockerDoor,
        FeatureKind::Hinge,
        FeatureKind::Latch,
        FeatureKind::Handle,
        FeatureKind::Lamp,
        FeatureKind::Badge,
        FeatureKind::Socket,
        FeatureKind::Vent,
        FeatureKind::Moulding,
        FeatureKind::Rubber,
        FeatureKind::Glass,
        FeatureKind::Plate,
        FeatureKind::SafetyLabel,
        FeatureKind::Exit,
        FeatureKind::Sensor,
        FeatureKind::Bracket,
        FeatureKind::WheelArch,
        FeatureKind::Recess,
        FeatureKind::CurvedZone,
        FeatureKind::ConcaveZone,
        FeatureKind::TexturedZone,
    ];

    /// One of it, and several.
    pub fn names(self) -> (&'static str, &'static str) {
        match self {
            FeatureKind::Rivets => ("rivet column", "rivet columns"),
            FeatureKind::Fastener => ("fastener", "fasteners"),
            FeatureKind::PanelSeam => ("seam", "seams"),
            FeatureKind::DoorGap => ("door gap", "door gaps"),
            FeatureKind::Crease => ("crease", "creases"),
            FeatureKind::BodyLine => ("body line", "body lines"),
            FeatureKind::Waterline => ("waterline", "waterlines"),
            FeatureKind::LockerDoor => ("locker door", "locker doors"),
            FeatureKind::Hinge => ("hinge", "hinges"),
            FeatureKind::Latch => ("latch", "latches"),
            FeatureKind::Handle => ("handle", "handles"),
            FeatureKind::Lamp => ("lamp", "lamps"),
            FeatureKind::Badge => ("badge", "badges"),
            FeatureKind::Socket => ("socket", "sockets"),
            FeatureKind::Vent => ("vent", "vents"),
            FeatureKind::Moulding => ("moulding", "mouldings"),
            FeatureKind::Rubber => ("rubber", "rubber strips"),
            FeatureKind::Glass => ("glass", "panes of glass"),
            FeatureKind::Plate => ("plate", "plates"),
            FeatureKind::SafetyLabel => ("safety label", "safety labels"),
            FeatureKind::Exit => ("emergency exit", "emergency exits"),
            FeatureKind::Sensor => ("sensor", "sensors"),
            FeatureKind::Bracket => ("bracket", "brackets"),
            FeatureKind::WheelArch => ("wheel arch", "wheel arches"),
            FeatureKind::Recess => ("recess", "recesses"),
            FeatureKind::CurvedZone => ("curved zone", "curved zones"),
            FeatureKind::ConcaveZone => ("concave zone", "concave zones"),
            FeatureKind::TexturedZone => ("textured zone", "textured zones"),
        }
    }

    /// What it does to film.
    pub fn class(self) -> FeatureClass {
        use FeatureKind::*;
        match self {
            Rivets | Fastener => FeatureClass::Heads,
            PanelSeam | DoorGap | Crease | BodyLine | Waterline => FeatureClass::Line,
            Recess | CurvedZone | ConcaveZone | TexturedZone => FeatureClass::Zone,
            _ => FeatureClass::KeepOff,
        }
    }

    /// Whether film must never lie on it, whatever else speaks for the place, and what to say then.
    pub fn never_covered(self) -> Option<&'static str> {
        match self {
            FeatureKind::Lamp => Some("Never cover a lamp."),
            FeatureKind::Vent => Some("Never cover a vent."),
            FeatureKind::Plate => Some("Never cover a plate: it must stay readable."),
            FeatureKind::SafetyLabel => Some("Never cover a safety label."),
            FeatureKind::Exit => Some("Never cover an emergency exit or its words."),
            FeatureKind::Sensor => Some("Never cover a sensor or camera."),
            FeatureKind::Rubber => Some("Nothing sticks to rubber."),
            _ => None,
        }
    }

    /// How far film keeps off it unless the shop says otherwise, mm (common practice, no source).
    pub fn usual_clearance_mm(self) -> f64 {
        match self {
            FeatureKind::Hinge | FeatureKind::Latch => 3.175,
            FeatureKind::WheelArch => 25.4,
            FeatureKind::Rubber
            | FeatureKind::Moulding
            | FeatureKind::Glass
            | FeatureKind::Badge => 3.175,
            kind if kind.class() == FeatureClass::KeepOff => 12.7,
            _ => 0.0,
        }
    }

    fn details_fit(self, details: Option<&Details>) -> bool {
        match self {
            FeatureKind::Lamp => matches!(details, Some(Details::Lamp { .. })),
            FeatureKind::Recess => matches!(details, Some(Details::Recess { .. })),
            FeatureKind::CurvedZone => matches!(details, Some(Details::Curve { .. })),
            FeatureKind::ConcaveZone => matches!(details, Some(Details::Hollow { .. })),
            _ => details.is_none(),
        }
    }

    fn form_fits(self, form: &Form) -> bool {
        match self.class() {
            FeatureClass::Heads => matches!(form, Form::Heads { .. }),
            FeatureClass::Line => match form {
                Form::Upright { .. } | Form::Straight { .. } | Form::Path { .. } => true,
                // A gap runs all round a door.
                Form::Rectangle { .. } => self == FeatureKind::DoorGap,
                _ => false,
            },
            FeatureClass::KeepOff | FeatureClass::Zone => match form {
                Form::Rectangle { .. } | Form::Round { .. } | Form::Path { closed: true, .. } => {
                    true
                }
                Form::Arch { .. } => self == FeatureKind::WheelArch,
                _ => false,
            },
        }
    }
}

impl Feature {
    /// A feature of this kind with its usual clearance, staying where it is.
    pub fn new(kind: FeatureKind, form: Form) -> Feature {
        Feature {
            kind,
            called: None,
            reference: None,
            form,
            clearance_mm: kind.usual_clearance_mm(),
            comes_off: ComesOff::Stays,
            details: usual_details(kind),
            note: String::new(),
        }
    }

    /// What it is called: the shop's own word, or its kind.
    pub fn name(&self) -> &str {
        match self.called.as_deref().map(str::trim) {
            Some(called) if !called.is_empty() => called,
            _ => self.kind.names().0,
        }
    }

    /// Checks that the feature is whole in itself; [`crate::elevation::measure`] checks that it lies on its side. Errors name
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
                place("first_mm", *first_mm)?;
                place("first_head_mm", *first_head_mm)?;
                count("columns", *columns, "columns")?;
                count("heads", *heads, "heads in a column")?;
                pitch("pitch_mm", *pitch_mm, *columns, several)?;
                pitch("head_pitch_mm", *head_pitch_mm, *heads, "heads")?;
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
                place("first_mm", *first_mm)?;
                count("count", *n, several)?;
                pitch("pitch_mm", *pitch_mm, *n, several)
            }
            Form::Straight {
                back_mm,
                drop_mm,
                to_back_mm,
                to_drop_mm,
            } => {
                place("back_mm", *back_mm)?;
                place("drop_mm", *drop_mm)?;
                place("to_back_mm", *to_back_mm)?;
                place("to_drop_mm", *to_drop_mm)?;
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
                place("back_mm", *back_mm)?;
                place("drop_mm", *drop_mm)?;
                size("width_mm", *width_mm, &format!("The width of the {one}"))?;
                size("height_mm", *height_mm, &format!("The height of the {one}"))?;
                check_repeat(repeat, several)
            }
            Form::Round {
                back_mm,
                drop_mm,
                across_mm,
                repeat,
            } => {
                place("back_mm", *back_mm)?;
                place("drop_mm", *drop_mm)?;
                size(
                    "across_mm",
                    *across_mm,
                    &format!("The diameter of the {one}"),
                )?;
                check_repeat(repeat, several)
            }
            Form::Arch {
                centre_mm,
                width_mm,
                height_mm,
            } => {
                place("centre_mm", *centre_mm)?;
                size("width_mm", *width_mm, "The width of the arch")?;
                size("height_mm", *height_mm, "The height of the arch")
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
            Some(Details::Lamp { .. }) | None => Ok(()),
        }
    }
}

/// Details that a new feature starts from: a typical van recess is 3/4 in deep with near-square walls (common practice, no
/// source).
pub fn usual_details(kind: FeatureKind) -> Option<Details> {
    match kind {
        FeatureKind::Lamp => Some(Details::Lamp {
            colour: LampColour::Amber,
            required: true,
        }),
        FeatureKind::Recess => Some(Details::Recess {
            depth_mm: 19.05,
            wall_degrees: 80.0,
            open: OpenSide::Enclosed,
        }),
        FeatureKind::CurvedZone => Some(Details::Curve {
            compound: false,
            rise_mm: 25.4,
        }),
        FeatureKind::ConcaveZone => Some(Details::Hollow { depth_mm: 12.7 }),
        _ => None,
    }
}

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

fn count(field: &'static str, n: u32, what: &str) -> Result<(), MeasureError> {
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
    pitch("pitch_mm", repeat.pitch_mm, repeat.count, several)?;
    pitch("row_pitch_mm", repeat.row_pitch_mm, repeat.rows, "rows")
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
            .map(|p| kurbo::Point::new(p.back_mm, p.drop_mm))
            .collect();
        if let Some((a, b)) = crate::outline::first_crossing(&corners) {
            let told = |n: usize| {
                let p = points[n];
                format!(
                    "{} back, {} down",
                    print(p.back_mm, Unit::InchSixteenth).text,
                    print(p.drop_mm, Unit::InchSixteenth).text
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
            crate::outline::signed_area(&corners).abs() >= 1.0,
            "points",
            format!("The outline of the {one} has no room in it. Check its readings."),
        )?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn field(feature: Feature) -> Option<&'static str> {
        feature.check().err().map(|e| e.field)
    }

    fn rectangle(width_mm: f64) -> Form {
        Form::Rectangle {
            back_mm: 100.0,
            drop_mm: 100.0,
            to: MeasuredTo::Corner,
            width_mm,
            height_mm: 50.0,
            repeat: Repeat::ONCE,
        }
    }

    #[test]
    fn a_kind_is_measured_in_its_own_ways() {
        for kind in FeatureKind::ALL {
            let form = match kind.class() {
                FeatureClass::Heads => Form::Heads {
                    first_mm: 10.0,
                    pitch_mm: 0.0,
                    columns: 1,
                    first_head_mm: 10.0,
                    head_pitch_mm: 0.0,
                    heads: 1,
                    head_mm: 12.0,
                },
                FeatureClass::Line => Form::Upright {
                    first_mm: 10.0,
                    pitch_mm: 0.0,
                    count: 1,
                },
                FeatureClass::KeepOff | FeatureClass::Zone => rectangle(60.0),
            };
            assert_eq!(field(Feature::new(kind, form)), None, "{kind:?}");
        }
        let upright = Form::Upright {
            first_mm: 10.0,
            pitch_mm: 0.0,
            count: 1,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::Lamp, upright)),
            Some("form")
        );
        let bare = Feature {
            details: None,
            ..Feature::new(FeatureKind::Recess, rectangle(60.0))
        };
        assert_eq!(field(bare), Some("details"));
    }

    #[test]
    fn sizes_and_pitches_of_nothing_are_refused_by_field() {
        assert_eq!(
            field(Feature::new(FeatureKind::Handle, rectangle(0.0))),
            Some("width_mm")
        );
        assert_eq!(
            field(Feature::new(FeatureKind::Handle, rectangle(f64::NAN))),
            Some("width_mm")
        );
        let seams = |pitch_mm, count| Form::Upright {
            first_mm: 10.0,
            pitch_mm,
            count,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::PanelSeam, seams(0.0, 2))),
            Some("pitch_mm")
        );
        assert_eq!(
            field(Feature::new(FeatureKind::PanelSeam, seams(10.0, 0))),
            Some("count")
        );
        let dot = Form::Straight {
            back_mm: 5.0,
            drop_mm: 5.0,
            to_back_mm: 5.0,
            to_drop_mm: 5.0,
        };
        assert_eq!(
            field(Feature::new(FeatureKind::Crease, dot)),
            Some("to_back_mm")
        );
    }

    #[test]
    fn a_zone_that_crosses_itself_is_refused() {
        let reading = |back_mm, drop_mm| Reading {
            back_mm,
            drop_mm,
            rounded: false,
        };
        let points = vec![
            reading(0.0, 0.0),
            reading(100.0, 100.0),
            reading(100.0, 0.0),
            reading(0.0, 100.0),
        ];
        let zone = Feature::new(
            FeatureKind::TexturedZone,
            Form::Path {
                points,
                closed: true,
            },
        );
        assert!(
            zone.check()
                .is_err_and(|e| e.sentence.contains("crosses itself"))
        );
    }
}
