//! A side put together from its measurements: every seam, rivet column and piece of hardware in the picture frame.

mod ground;
pub mod measure;
mod names;

use kurbo::Point;
use uuid::Uuid;

use crate::ground::datum::Datum;
use crate::ground::outline::Shape;
use crate::vehicle::feature::kind::{ComesOff, Details, FeatureClass, FeatureKind, LampColour};
use crate::vehicle::side::Side;

/// One line on a side, ready to be drawn and landed on.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredLine {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What it is.
    pub kind: FeatureKind,
    /// What it is called on this side: `seam 3`.
    pub name: String,
    /// Its number among the lines of its name, from the front, from 1.
    pub number: u32,
    /// How far back along the rail it begins, mm.
    pub back_mm: f64,
    /// How deep it is, where somebody has measured it.
    pub details: Option<Details>,
    /// Its points in the picture frame; a closed line repeats its first point.
    pub points: Vec<Point>,
}

/// One column of rivets or fasteners.
#[derive(Debug, Clone, PartialEq)]
pub struct RivetColumn {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What its heads are.
    pub kind: FeatureKind,
    /// Its number on the side, from the front, from 1.
    pub number: u32,
    /// Distance back along the rail, mm.
    pub back_mm: f64,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// How high a head stands, where somebody has measured it.
    pub details: Option<Details>,
    /// Middles of the heads from the top, in the picture frame.
    pub heads: Vec<Point>,
}

/// Something that film keeps off, or a place where film behaves otherwise.
#[derive(Debug, Clone, PartialEq)]
pub struct Area {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What it is.
    pub kind: FeatureKind,
    /// What it is called on this side: `locker door`, `lamp 2`.
    pub name: String,
    /// Its outline in the picture frame.
    pub outline: Shape,
    /// How far film keeps off it, mm.
    pub clearance_mm: f64,
    /// Whether it comes off first.
    pub comes_off: ComesOff,
    /// What else is measured of it.
    pub details: Option<Details>,
}

impl Area {
    /// Lens colour of a lamp.
    pub fn colour(&self) -> Option<LampColour> {
        match self.details {
            Some(Details::Lamp { colour, .. }) => Some(colour),
            _ => None,
        }
    }
}

/// How far what lies below a waterline reaches past the hull, mm.
const UNDER_MM: f64 = 10.0;

/// A side with everything on it in the picture frame.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredSide {
    /// The side as measured.
    pub side: Side,
    /// The rail: the reference for readings unless another is named.
    pub datum: Datum,
    /// The body's outline.
    pub outline: Shape,
    /// Seams, gaps, creases and other lines from the front.
    pub lines: Vec<MeasuredLine>,
    /// Rivet columns from the front.
    pub columns: Vec<RivetColumn>,
    /// What film keeps off, and zones, from the front.
    pub areas: Vec<Area>,
    /// What lies below each waterline: film keeps off it like off hardware.
    pub under_water: Vec<Area>,
}

impl MeasuredSide {
    /// Areas that film keeps off.
    pub fn hardware(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::KeepOff)
            .chain(&self.under_water)
    }

    /// What lies below a waterline, as wide as the side and past its foot.
    fn below(&self, line: &MeasuredLine) -> Area {
        let bounds = self.outline.bounds.inflate(UNDER_MM, UNDER_MM);
        let mut points = line.points.clone();
        points.sort_by(|a, b| a.x.total_cmp(&b.x));
        // It goes on level to both ends of the hull.
        let end = |p: Option<&Point>, x: f64| p.map(|p| Point::new(x, p.y));
        let ends = [
            end(points.first(), bounds.x0),
            end(points.last(), bounds.x1),
        ];
        let [Some(first), Some(last)] = ends else {
            return self.area_of(line, Vec::new());
        };
        let mut contour = vec![first];
        contour.append(&mut points);
        contour.extend([
            last,
            Point::new(bounds.x1, bounds.y1),
            Point::new(bounds.x0, bounds.y1),
        ]);
        self.area_of(line, contour)
    }

    fn area_of(&self, line: &MeasuredLine, contour: Vec<Point>) -> Area {
        Area {
            source: line.source,
            kind: line.kind,
            name: line.name.clone(),
            outline: Shape::new(vec![contour]),
            clearance_mm: 0.0,
            comes_off: ComesOff::Stays,
            details: None,
        }
    }

    /// Places where film behaves otherwise.
    pub fn zones(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::Zone)
    }
}
