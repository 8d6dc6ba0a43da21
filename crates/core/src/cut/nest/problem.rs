//! What is laid on rolls, and how it lies.

use kurbo::{Affine, Point, Rect, Shape as _};
use serde::{Deserialize, Serialize};

use crate::ground::outline::{Shape, bounds_of_shapes};

/// How a piece may be turned on the roll.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Turns {
    /// Not at all: directional film, panels of one picture.
    None,
    /// Round by half a turn.
    Half,
    /// By quarters.
    Quarters,
}

impl Turns {
    /// Quarter turns that are allowed.
    pub fn quarters(self) -> &'static [u8] {
        match self {
            Turns::None => &[0],
            Turns::Half => &[0, 2],
            Turns::Quarters => &[0, 1, 2, 3],
        }
    }
}

/// A piece to be laid on a roll: rigid, also where it is several outlines, such as a line of lettering.
#[derive(Debug, Clone)]
pub struct NestPiece {
    /// Its film, and what is cut with it, such as a weeding box; mm, in a frame of its own.
    pub shapes: Vec<Shape>,
    /// How it may be turned.
    pub turns: Turns,
}

impl NestPiece {
    /// A rectangle, x along the roll.
    pub fn rectangle(along_mm: f64, across_mm: f64, turns: Turns) -> NestPiece {
        NestPiece {
            shapes: vec![Shape::rectangle(Rect::new(0.0, 0.0, along_mm, across_mm))],
            turns,
        }
    }

    /// From its own frame to where it lies: turned by quarters, the corner of its box at a place.
    pub fn to_roll(&self, at: Point, quarters: u8) -> Affine {
        let by = Affine::rotate(f64::from(quarters) * std::f64::consts::FRAC_PI_2);
        let turned: Vec<Shape> = self.shapes.iter().map(|s| s.transformed(by)).collect();
        let b = bounds_of_shapes(&turned);
        Affine::translate((at.x - b.x0, at.y - b.y0)) * by
    }

    /// Its film turned by quarters, its box beginning at 0, 0.
    pub fn turned(&self, quarters: u8) -> Vec<Shape> {
        let by = self.to_roll(Point::ORIGIN, quarters);
        self.shapes.iter().map(|s| s.transformed(by)).collect()
    }

    /// How long and how wide it is, turned by quarters, mm.
    pub(super) fn size(&self, quarters: u8) -> (f64, f64) {
        let b = bounds_of_shapes(&self.shapes);
        match quarters % 2 {
            0 => (b.width(), b.height()),
            _ => (b.height(), b.width()),
        }
    }

    /// Area of its film, mm².
    pub(super) fn area(&self) -> f64 {
        self.shapes.iter().map(area_of).sum()
    }
}

fn area_of(shape: &Shape) -> f64 {
    shape
        .contours
        .iter()
        .map(|c| {
            let mut path = kurbo::BezPath::new();
            let mut points = c.iter();
            if let Some(first) = points.next() {
                path.move_to(*first);
                points.for_each(|p| path.line_to(*p));
                path.close_path();
            }
            path.area()
        })
        .sum::<f64>()
        .abs()
}

/// A roll or an offcut to lay on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bin {
    /// Width that can be used, mm.
    pub width_mm: f64,
    /// Length that can be used, mm.
    pub length_mm: f64,
    /// An offcut costs nothing: it is filled first.
    pub offcut: bool,
}

/// Where a piece lies.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Laid {
    /// The piece.
    pub piece: usize,
    /// The roll or offcut.
    pub bin: usize,
    /// Corner of its box nearest the roll's free end, along and across, mm.
    pub at: Point,
    /// Quarter turns.
    pub quarters: u8,
}

/// A layout.
#[derive(Debug, Clone, PartialEq)]
pub struct Nest {
    /// Every piece.
    pub laid: Vec<Laid>,
    /// Length used of each roll and offcut, mm.
    pub used_mm: Vec<f64>,
    /// Film that nothing can lie on any more, as far as it is known, mm².
    pub walled_in_mm2: f64,
}

impl Nest {
    /// Length of roll that is used, offcuts apart, mm.
    pub fn length_mm(&self, bins: &[Bin]) -> f64 {
        let rolls = self.used_mm.iter().zip(bins).filter(|(_, b)| !b.offcut);
        rolls.map(|(used, _)| used).sum()
    }
}
