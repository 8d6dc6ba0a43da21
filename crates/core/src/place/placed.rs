//! A piece in its place, and what it is placed among.

use std::collections::HashMap;

use kurbo::{Affine, Point};
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::datum::Datum;
use crate::ground::outline::{bounds_of, rect_distance};
use crate::ground::tape::{Unit, print};
use crate::place::error::PlaceError;
use crate::place::fit::Fit;
use crate::place::rules::{Angle, Down, DownTo, Rules};
use crate::vehicle::measured::MeasuredSide;

/// A piece in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// From the piece's own frame to the picture frame: a turn and a shift, never a mirror.
    pub to_picture: Affine,
    /// The reference that it hangs on and is read from.
    pub datum: Datum,
    /// Nearest and farthest film from the zero of the tape, mm along the datum: of a panel or stripe as trimmed.
    pub back_mm: (f64, f64),
    /// Hull of the film in the picture frame.
    pub hull: Vec<Point>,
    /// How it fits its measured points, where it was placed by them.
    pub fit: Option<Fit>,
}

impl Placed {
    /// Degrees by which the piece is turned from its datum: more than 0 where the end towards the rear is lower.
    pub fn degrees(&self, direction: f64) -> f64 {
        let across = self.to_picture * Point::new(1.0, 0.0) - self.to_picture * Point::ORIGIN;
        let along = self.datum.back * direction;
        along.cross(across).atan2(along.dot(across)).to_degrees() * direction
    }
}

/// Where a mirrored piece is to go: figures of the piece on the other side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MirrorFigures {
    /// How far back along its datum the middle of its cap line or upper edge is, mm.
    pub middle_back_mm: f64,
    /// How far down from the datum that is, square to it, mm.
    pub middle_down_mm: f64,
    /// Turned from its datum by so much, more than 0 where the rear end is lower.
    pub degrees: f64,
}

/// What is already placed round a piece.
#[derive(Debug, Clone, Default)]
pub struct Around {
    /// Pieces of the same side: name, drawing and place.
    pub pieces: HashMap<Uuid, (String, std::sync::Arc<Drawn>, Placed)>,
    /// Where pieces of a row with equal gaps begin, mm along their datum.
    pub rows: HashMap<Uuid, f64>,
    /// Pieces of the other side by their key, with the name of the reference that they hang on.
    pub mirrored: HashMap<Uuid, (MirrorFigures, String)>,
}

/// Points whose extent placing refers to: the trimmed box of a panel or a stripe, else the film's hull.
pub(crate) fn extent_points(drawn: &Drawn) -> Vec<Point> {
    let n = drawn.nominal;
    if n == drawn.bounds {
        drawn.hull.clone()
    } else {
        vec![
            Point::new(n.x0, n.y0),
            Point::new(n.x1, n.y0),
            Point::new(n.x1, n.y1),
            Point::new(n.x0, n.y1),
        ]
    }
}

/// Extent of turned film along the datum before it is shifted into place.
pub(crate) fn extent(drawn: &Drawn, turn: Affine, datum: &Datum) -> (f64, f64) {
    extent_points(drawn)
        .iter()
        .map(|p| (turn * *p).to_vec2().dot(datum.back))
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), e| {
            (a.min(e), b.max(e))
        })
}

/// Height in the piece's own frame that a distance down runs to.
pub(crate) fn height_in(drawn: &Drawn, to: DownTo) -> f64 {
    let lettered = drawn.has_letters;
    match to {
        DownTo::CapLine if lettered => 0.0,
        DownTo::Baseline if lettered => drawn.baseline_mm,
        DownTo::Middle if lettered => drawn.baseline_mm / 2.0,
        DownTo::CapLine => drawn.nominal.y0,
        DownTo::Baseline => drawn.nominal.y1,
        DownTo::Middle => drawn.nominal.center().y,
        DownTo::Top => drawn.bounds.y0,
        DownTo::Foot => drawn.bounds.y1,
    }
}

/// The turn of a piece by its angle rule.
pub(crate) fn turn_of(
    rules: &Rules,
    drawn: &Drawn,
    side: &MeasuredSide,
    datum: &Datum,
    unit: Unit,
) -> Result<Affine, PlaceError> {
    let direction = side.side.direction();
    let along_datum = direction * datum.back.y.asin();
    Ok(Affine::rotate(match rules.angle {
        Angle::AlongDatum => along_datum,
        Angle::Level => 0.0,
        Angle::Degrees { degrees } => {
            if !(-180.0..=180.0).contains(&degrees) {
                return Err(PlaceError::Angle(degrees));
            }
            along_datum + direction * degrees.to_radians()
        }
        Angle::AlongLine { feature, number } => {
            let line = side
                .lines
                .iter()
                .find(|l| l.source == (feature, number))
                .ok_or(PlaceError::HeightGone)?;
            let (a, b) = line
                .points
                .first()
                .zip(line.points.last())
                .ok_or(PlaceError::HeightGone)?;
            let run = if b.x >= a.x { *b - *a } else { *a - *b };
            run.y.atan2(run.x)
        }
        Angle::ToDrop { rear_drop_mm } => {
            let Down::FromDatum { distance_mm, .. } = rules.down else {
                return Err(PlaceError::HeightGone);
            };
            let (rise, width) = (rear_drop_mm - distance_mm, drawn.nominal.width());
            if rise.abs() >= width {
                return Err(PlaceError::TooSteep {
                    rise: print(rise.abs(), unit).text,
                    width: print(width, unit).text,
                });
            }
            along_datum + direction * (rise / width).asin()
        }
    }))
}

/// A placed piece's figures for the other side.
pub fn mirror_figures(drawn: &Drawn, placed: &Placed, direction: f64) -> MirrorFigures {
    let middle = Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
    let (middle_back_mm, middle_down_mm) = placed.datum.read(placed.to_picture * middle);
    MirrorFigures {
        middle_back_mm,
        middle_down_mm,
        degrees: placed.degrees(direction),
    }
}

pub(crate) fn settle(
    drawn: &Drawn,
    to_picture: Affine,
    datum: Datum,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let hull: Vec<Point> = drawn.hull.iter().map(|p| to_picture * *p).collect();
    let body = side.outline.bounds;
    let box_round = bounds_of(hull.iter().copied());
    let finite = [box_round.x0, box_round.x1, box_round.y0, box_round.y1]
        .iter()
        .all(|v| v.is_finite());
    if !finite || rect_distance(box_round, body) > 0.0 {
        return Err(PlaceError::OffTheSide {
            length: print(body.width().max(side.datum.length_mm), unit).text,
            height: print(body.height(), unit).text,
        });
    }
    let zero = datum.zero.to_vec2().dot(datum.back);
    let (near, far) = extent(drawn, to_picture, &datum);
    Ok(Placed {
        to_picture,
        datum,
        back_mm: (near - zero, far - zero),
        hull,
        fit: None,
    })
}
