//! Drawing files read for their outlines: SVG and DXF at a stated unit, checked against one measured length.
//!
//! What a file holds beside outlines (words, pictures, scripts, references to elsewhere) is never run, followed or fetched; the
//! report says what was not used.

mod dxf_file;
mod join;
pub mod open;
mod svg_file;
pub mod take;

use kurbo::Point;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use windrift_core::art::clean::DrawnAs;
use windrift_core::ground::outline::{Contour, signed_area};
use windrift_core::ground::told::Told;

/// Most shapes in a file.
pub const MOST_SHAPES: usize = 20_000;

/// Most points that all outlines of a file may have, curves flattened.
pub const MOST_FILE_POINTS: usize = 200_000;

/// Farthest that anything in a file may lie from its origin, mm: a kilometre.
pub const FARTHEST_MM: f64 = 1e6;

/// Largest file, bytes.
pub const LARGEST_FILE: usize = 12 * 1024 * 1024;

/// Curves are flattened within this, mm.
const FLATTENING_MM: f64 = 0.05;

/// What one unit of a file is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum FileUnit {
    /// What the file itself says.
    AsTheFileSays,
    /// One millimetre.
    Millimetre,
    /// One centimetre.
    Centimetre,
    /// One metre.
    Metre,
    /// One inch.
    Inch,
    /// One foot.
    Foot,
}

impl FileUnit {
    /// Millimetres in one unit; `None` where the file is to say.
    pub fn mm(self) -> Option<f64> {
        match self {
            FileUnit::AsTheFileSays => None,
            FileUnit::Millimetre => Some(1.0),
            FileUnit::Centimetre => Some(10.0),
            FileUnit::Metre => Some(1000.0),
            FileUnit::Inch => Some(25.4),
            FileUnit::Foot => Some(304.8),
        }
    }
}

/// A file that cannot be used. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum FileError {
    /// Neither SVG nor DXF by its content.
    #[error(
        "This file is neither SVG nor DXF. Save the drawing as one of these and choose it again."
    )]
    NeitherSvgNorDxf,
    /// It cannot be read.
    #[error("The {kind} file cannot be read: {why}. Save it again from the drawing program.")]
    Unreadable {
        /// `SVG` or `DXF`.
        kind: &'static str,
        /// What the reader says.
        why: String,
    },
    /// Too many shapes.
    #[error(
        "The file has {found} shapes; {MOST_SHAPES} is the most. Leave out what is not the outline."
    )]
    TooManyShapes {
        /// How many there are.
        found: usize,
    },
    /// Too many points.
    #[error(
        "The outlines in the file have more than {MOST_FILE_POINTS} points. Simplify its curves in the drawing program, or leave out what is not cut."
    )]
    TooManyPoints,
    /// Something lies too far out.
    #[error(
        "Something in the file lies more than a kilometre out. Check the unit, and take out what lies far from the drawing."
    )]
    TooFar,
    /// The file is made to grow when it is read.
    #[error(
        "The file repeats its {what} so often that it grows beyond what Windrift reads. Save it as plain outlines."
    )]
    Grows {
        /// What is repeated.
        what: &'static str,
    },
    /// The file does not say its unit.
    #[error("The file does not say what one unit is. Choose the unit that it was drawn in.")]
    NoUnit,
    /// No lines at all.
    #[error("There is no line in the file that Windrift can use. {0}")]
    NoLines(String),
    /// Nothing closes.
    #[error(
        "No outline in the file closes: its ends are {gap_mm:.1} mm apart near {x:.0}, {y:.0} mm. Close it and read it in again."
    )]
    NotClosed {
        /// The smallest gap, mm.
        gap_mm: f64,
        /// Where it is, mm in the file.
        x: f64,
        /// Where it is, mm in the file, downwards.
        y: f64,
    },
    /// The outline runs over itself.
    #[error(
        "The outline in the file crosses itself {back} back and {down} down, from the upper front corner of the box round it. Mend it there in the drawing program and read it in again."
    )]
    Crosses {
        /// How far back, as printed.
        back: String,
        /// How far down, as printed.
        down: String,
    },
    /// The measured length does not fit.
    #[error("{0}")]
    Scale(String),
}

impl From<FileError> for Told {
    fn from(error: FileError) -> Told {
        Told::new("outline_file", error.to_string())
    }
}

/// A drawing file after it was read: closed outlines in mm, y down, the largest first.
#[derive(Debug, Clone, PartialEq)]
pub struct Opened {
    /// Closed outlines.
    pub outlines: Vec<Contour>,
    /// How each was drawn: what one path or entity draws belongs together.
    pub drawn: Vec<DrawnAs>,
    /// What was not used, one sentence each.
    pub not_used: Vec<String>,
}

/// Lines as read, before they are joined: mm, y down.
#[derive(Debug, Default)]
struct Lines {
    closed: Vec<(DrawnAs, Contour)>,
    /// Each with how its path is drawn.
    open: Vec<(DrawnAs, Vec<Point>)>,
    not_used: Vec<String>,
    points: usize,
    /// The path that is being read: their numbers count up.
    drawn: DrawnAs,
}

impl Lines {
    /// What is added from here on is of another path, filled with this colour, and film also where it runs over itself, or a hole there.
    fn next_path(&mut self, fill: Option<String>, over_itself: bool) {
        self.drawn = DrawnAs {
            path: self.drawn.path + 1,
            fill,
            over_itself,
        };
    }

    /// Keeps a run of points, if the file may still have so many and none lies too far out.
    fn add(&mut self, run: Vec<Point>, closed: bool) -> Result<(), FileError> {
        self.points += run.len();
        if self.points > MOST_FILE_POINTS {
            return Err(FileError::TooManyPoints);
        }
        // Also refuses what is not a number.
        if !run
            .iter()
            .all(|p| p.x.abs() <= FARTHEST_MM && p.y.abs() <= FARTHEST_MM)
        {
            return Err(FileError::TooFar);
        }
        if run.len() > 1 {
            if closed {
                self.closed.push((self.drawn.clone(), run));
            } else {
                self.open.push((self.drawn.clone(), run));
            }
        }
        Ok(())
    }
}

/// Largest first, by the area within.
fn by_area(mut outlines: Vec<(DrawnAs, Contour)>) -> Vec<(DrawnAs, Contour)> {
    let area = |(_, outline): &(DrawnAs, Contour)| signed_area(outline).abs();
    outlines.sort_by(|a, b| area(b).total_cmp(&area(a)));
    outlines
}

/// `3 words` or `1 word`.
fn counted(n: usize, one: &str, several: &str) -> String {
    if n == 1 {
        format!("1 {one}")
    } else {
        format!("{n} {several}")
    }
}
