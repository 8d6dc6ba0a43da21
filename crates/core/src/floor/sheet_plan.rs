//! A sheet of film as shapes: where its film lies, what closes air in and where it leaves.

use kurbo::{Point, Rect};

use crate::floor::air::{Cell, Sheet};
use crate::ground::outline::Shape;

/// A sheet as shapes, in the frame in which it is pressed: x to the right and y down, mm.
#[derive(Debug, Clone, Default)]
pub struct SheetPlan {
    /// Film lies where all of these cover.
    pub film: Vec<Shape>,
    /// What film is cut out round, and what stands out of the sheet and lets no air out; of two over each other the later counts.
    pub things: Vec<(Shape, Cell)>,
    /// Recesses, with their depths in mm, rounded up.
    pub recesses: Vec<(Shape, u8)>,
    /// Lines over which no air passes: creases until they are set, rims of recesses, ridges.
    pub walls: Vec<Vec<Point>>,
    /// Where tape closes the rim.
    pub closed: Vec<Rect>,
    /// Lines along which air leaves although film spans them: gaps of doors.
    pub gaps: Vec<Vec<Point>>,
    /// Places where air leaves: vents, or where film was pricked.
    pub vents: Vec<Point>,
}

impl SheetPlan {
    /// The rectangle round its film; empty at the origin where there is none.
    pub fn bounds(&self) -> Rect {
        self.film
            .iter()
            .map(|s| s.bounds)
            .reduce(|a, b| a.intersect(b))
            .unwrap_or_default()
    }

    /// Whether tape closes the rim at a point of it.
    pub fn closed_at(&self, p: Point, within_mm: f64) -> bool {
        self.closed
            .iter()
            .any(|c| c.inflate(within_mm, within_mm).contains(p))
    }

    /// The sheet as cells of `cell_mm`, shifted by a part of a cell.
    pub fn cells(&self, cell_mm: f64, shift: f64) -> Sheet {
        let mut sheet = Sheet::over(self.bounds(), cell_mm, shift);
        if let Some((first, others)) = self.film.split_first() {
            sheet.fill(first, Cell::Film);
            for other in others {
                sheet.keep(other);
            }
        }
        for (thing, cell) in &self.things {
            sheet.fill(thing, *cell);
        }
        for wall in &self.walls {
            sheet.wall(wall);
        }
        let near = sheet.cell_mm;
        sheet.open_rim(|p| self.closed_at(p, near));
        for gap in &self.gaps {
            sheet.let_out_along(gap);
        }
        for vent in &self.vents {
            sheet.let_out(*vent);
        }
        sheet
    }

    /// The sheet with across and down exchanged.
    pub fn turned(&self) -> SheetPlan {
        let swap = kurbo::Affine::new([0.0, 1.0, 1.0, 0.0, 0.0, 0.0]);
        let line = |points: &Vec<Point>| points.iter().map(|p| swap * *p).collect();
        SheetPlan {
            film: self.film.iter().map(|s| s.transformed(swap)).collect(),
            things: self
                .things
                .iter()
                .map(|(s, c)| (s.transformed(swap), *c))
                .collect(),
            recesses: self
                .recesses
                .iter()
                .map(|(s, d)| (s.transformed(swap), *d))
                .collect(),
            walls: self.walls.iter().map(line).collect(),
            closed: self
                .closed
                .iter()
                .map(|r| Rect::new(r.y0, r.x0, r.y1, r.x1))
                .collect(),
            gaps: self.gaps.iter().map(line).collect(),
            vents: self.vents.iter().map(|p| swap * *p).collect(),
        }
    }
}
