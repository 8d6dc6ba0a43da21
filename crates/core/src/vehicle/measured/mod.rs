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
}

impl MeasuredSide {
    /// Areas that film keeps off.
    pub fn hardware(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::KeepOff)
    }

    /// Places where film behaves otherwise.
    pub fn zones(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::Zone)
    }
}
