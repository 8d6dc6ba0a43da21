//! Kit pieces and other drawings: outlines that come from a file, with the point that goes down first, the line to swing to, and
//! how neighbouring pieces meet.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::art::drawn::{Drawn, Part, StraightEdge};
use crate::ground::mm::Mm;
use crate::ground::outline::{Shape, bounds_of, resolve};

/// Most points in one piece.
pub const MOST_POINTS: usize = 20_000;
/// Largest piece, mm.
const LARGEST_MM: f64 = 30_480.0;
/// A straight run of at least this share of a piece's width can be read to with a tape.
const STRAIGHT_SHARE: f64 = 0.02;

/// How a kit piece meets the one laid before it.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "seam", rename_all = "snake_case")]
pub enum Seam {
    /// It stands alone.
    #[default]
    None,
    /// Edge to edge with no gap: fitted first.
    Butt,
    /// It overlaps the other.
    Overlap {
        /// By so much, mm.
        overlap_mm: Mm,
    },
}

/// Where the error should run when a piece does not quite fit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ErrorTo {
    /// Shared evenly by all measured points.
    #[default]
    Evenly,
    /// Away from the piece's own point: that one fits, the rest takes the error.
    AwayFromPoint,
}

/// A drawing as it is laid out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drawing {
    /// What it is called.
    pub name: String,
    /// Closed outlines in mm, x to the right and y down; what lies within one is film, within two a hole.
    pub outlines: Vec<Vec<[f64; 2]>>,
    /// Colour of the film as `#rrggbb`.
    pub colour: String,
    /// The point that is put down first, in the drawing's own mm.
    pub point: [f64; 2],
    /// The line to swing to, in the drawing's own mm.
    pub line: [[f64; 2]; 2],
    /// How it meets the piece before it.
    #[serde(default)]
    pub seam: Seam,
    /// Where the error should run.
    #[serde(default)]
    pub error_to: ErrorTo,
    /// Registration marks in the drawing's own mm, where it carries some.
    #[serde(default)]
    pub marks: Vec<[f64; 2]>,
    /// Cut as wide as this, mm, and as much higher; as wide as it was drawn where nothing is given.
    #[serde(default)]
    pub width_mm: Option<Mm>,
    /// Drawn in mirror image: for the other side of the vehicle. Never set on a drawing that holds words.
    #[serde(default)]
    pub flipped: bool,
}

/// A drawing that cannot be laid out. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum DrawingError {
    /// No film.
    #[error(
        "The drawing holds no closed outline. Close it in the drawing program and read it in again."
    )]
    NoFilm,
    /// Too many points.
    #[error(
        "The drawing has {0} points; {MOST_POINTS} is the most. Simplify it or split it into pieces."
    )]
    TooManyPoints(usize),
    /// Too large.
    #[error("The drawing would be {0:.0} mm across. Check the unit that it was read in.")]
    Size(f64),
    /// The reference line has no length.
    #[error(
        "The line to swing to has both ends at the same place. Choose two places at least 10 mm (3/8 in) apart."
    )]
    NoLine,
    /// The colour is not one.
    #[error("The colour must be written as # and six figures, such as #14524d.")]
    Colour,
}

impl Drawing {
    /// A piece from cleaned film. Its point is that of its own outline nearest to the upper left corner of its box, its line runs from there
    /// to the one nearest to the upper right: both can be found on the film.
    ///
    /// ```
    /// # use windrift_core::{art::kit::Drawing, ground::outline::Shape};
    /// # use kurbo::Point;
    /// // A kite: no corner of its box is film.
    /// let kite = [(100.0, 0.0), (300.0, 80.0), (120.0, 200.0), (0.0, 90.0)].map(Point::from);
    /// let drawing = Drawing::new("kite", &[Shape::new(vec![kite.into()])], "#b3261e");
    /// assert_eq!((drawing.point, drawing.line[1]), ([0.0, 90.0], [300.0, 80.0]));
    /// ```
    pub fn new(name: &str, shapes: &[Shape], colour: &str) -> Drawing {
        let bounds = bounds_of(
            shapes
                .iter()
                .flat_map(|s| s.contours.iter().flatten().copied()),
        );
        let own = |p: Point| [p.x - bounds.x0, p.y - bounds.y0];
        let rim = || shapes.iter().flat_map(|s| s.contours.first()).flatten();
        let nearest = |corner: Point| {
            let by = |a: &&Point, b: &&Point| a.distance(corner).total_cmp(&b.distance(corner));
            rim().min_by(by).copied().unwrap_or(corner)
        };
        let point = nearest(bounds.origin());
        let far = nearest(Point::new(bounds.x1, bounds.y0));
        // Something narrow: along its longest way.
        let farthest = rim().max_by(|a, b| a.distance(point).total_cmp(&b.distance(point)));
        let end = if far.distance(point) < 10.0 {
            farthest.copied().unwrap_or(far)
        } else {
            far
        };
        Drawing {
            name: name.to_owned(),
            outlines: shapes
                .iter()
                .flat_map(|s| &s.contours)
                .map(|c| c.iter().map(|p| own(*p)).collect())
                .collect(),
            colour: colour.to_owned(),
            point: own(point),
            line: [own(point), own(end)],
            seam: Seam::None,
            error_to: ErrorTo::Evenly,
            marks: Vec::new(),
            width_mm: None,
            flipped: false,
        }
    }
}

/// Draws a kit piece.
///
/// Errors: no film, too many points, a size that no vehicle has, a reference line without length.
///
/// ```
/// # use windrift_core::{art::kit::{Drawing, draw}, ground::outline::Shape};
/// # use kurbo::Rect;
/// let flame = Shape::rectangle(Rect::new(0.0, 0.0, 300.0, 120.0));
/// let drawn = draw(&Drawing::new("flame", &[flame], "#b3261e")).unwrap();
/// assert_eq!(drawn.bounds.width(), 300.0);
/// // No outline, no piece.
/// assert!(draw(&Drawing::new("nothing", &[], "#b3261e")).is_err());
/// ```
pub fn draw(drawing: &Drawing) -> Result<Drawn, DrawingError> {
    let points: usize = drawing.outlines.iter().map(Vec::len).sum();
    if points > MOST_POINTS {
        return Err(DrawingError::TooManyPoints(points));
    }
    if !crate::ground::colour::is_colour(&drawing.colour) {
        return Err(DrawingError::Colour);
    }
    let turn = if drawing.flipped { -1.0 } else { 1.0 };
    let as_drawn = bounds_of(
        drawing
            .outlines
            .iter()
            .flatten()
            .map(|p| Point::from((p[0], p[1]))),
    );
    let scale = match drawing.width_mm {
        Some(wanted) if as_drawn.width() > 0.0 => wanted / as_drawn.width(),
        _ => 1.0,
    };
    let own = |p: &[f64; 2]| Point::new(p[0] * turn * scale, p[1] * scale);
    let contours: Vec<Vec<Point>> = drawing
        .outlines
        .iter()
        .filter(|c| c.len() > 2)
        .map(|c| c.iter().map(own).collect())
        .collect();
    let bounds = bounds_of(contours.iter().flatten().copied());
    let across = bounds.width().max(bounds.height());
    if !(0.5..=LARGEST_MM).contains(&across) {
        return Err(if contours.is_empty() {
            DrawingError::NoFilm
        } else {
            DrawingError::Size(across)
        });
    }
    let shift = -bounds.origin().to_vec2();
    let contours: Vec<Vec<Point>> = contours
        .into_iter()
        .map(|c| c.into_iter().map(|p| p + shift).collect())
        .collect();
    let shapes = resolve(&contours);
    if shapes.is_empty() {
        return Err(DrawingError::NoFilm);
    }
    let line = (own(&drawing.line[0]) + shift, own(&drawing.line[1]) + shift);
    if line.0.distance(line.1) < 10.0 {
        return Err(DrawingError::NoLine);
    }
    let least = STRAIGHT_SHARE * bounds.width();
    let straight = shapes
        .iter()
        .flat_map(Shape::edges)
        .filter(|(a, b)| a.distance(*b) > least.max(20.0))
        .map(|(from, to)| (0, StraightEdge { from, to }))
        .collect();
    let mut drawn = Drawn::plain(
        vec![Part::new(drawing.name.clone(), shapes)],
        straight,
        bounds.height(),
        bounds.height(),
        &drawing.colour,
    );
    drawn.point = own(&drawing.point) + shift;
    drawn.line = line;
    drawn.keep_point = drawing.error_to == ErrorTo::AwayFromPoint;
    drawn.marks = drawing.marks.iter().map(|m| own(m) + shift).collect();
    Ok(drawn)
}
