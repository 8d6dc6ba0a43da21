//! The air under a sheet: which of it can still get out while the sheet is pressed on, and where it is shut in.
//!
//! The sheet is a grid of cells: open (air under it), pressed, or no film. Open cells that share an edge are connected unless a
//! wall stands on that edge: a crease until it is set, or the rim of a recess. Air leaves over the sheet's own rim, except where a
//! hinge or tape closes it, and at cut-outs and vents. Air is shut in when the last way out of an open region is pressed shut.
//!
//! What is told to a crew is proven on shapes ([`crate::floor::strokes::columns`]); cells judge strokes that somebody draws, and what
//! happens where a told stroke is run carelessly.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};

use crate::floor::prove::{Ground, Moment, NEVER};
use crate::ground::budget::spend;
use crate::ground::outline::Shape;

/// Most cells of one sheet.
pub const MOST_CELLS: usize = 2_000_000;

/// What a cell of the sheet is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cell {
    /// No film here.
    Outside,
    /// No film here, and no way out for air either: something stands there.
    Blocked,
    /// Film.
    Film,
}

/// Walls on a cell's edges and ways out of it, as bits.
mod bit {
    pub const WALL_RIGHT: u8 = 1;
    pub const WALL_BELOW: u8 = 2;
    /// Air leaves the sheet from this cell.
    pub const EXIT: u8 = 4;
}

/// A sheet as cells, in the frame of the picture turned by nothing: rows downwards, columns to the right.
#[derive(Debug, Clone)]
pub struct Sheet {
    /// Side of a cell, mm.
    pub cell_mm: f64,
    /// Upper left corner of the first cell.
    pub corner: Point,
    /// Cells in a row.
    pub columns: usize,
    /// Rows.
    pub rows: usize,
    cells: Vec<Cell>,
    bits: Vec<u8>,
    has_walls: bool,
}

impl Sheet {
    /// A sheet with no film, big enough for `bounds`, its first cell shifted up and to the left by `shift` cells (0 to 1).
    ///
    /// Cells are made wider where there would be more than [`MOST_CELLS`].
    pub fn over(bounds: Rect, cell_mm: f64, shift: f64) -> Sheet {
        let mut cell_mm = if cell_mm.is_finite() {
            cell_mm.max(0.5)
        } else {
            10.0
        };
        let count = |cell: f64| {
            let along = |mm: f64| (mm / cell + shift).ceil().max(0.0) as usize + 1;
            (along(bounds.width()), along(bounds.height()))
        };
        while count(cell_mm).0.saturating_mul(count(cell_mm).1) > MOST_CELLS {
            cell_mm *= 2.0;
        }
        let (columns, rows) = count(cell_mm);
        Sheet {
            cell_mm,
            corner: Point::new(bounds.x0 - shift * cell_mm, bounds.y0 - shift * cell_mm),
            columns,
            rows,
            cells: vec![Cell::Outside; columns * rows],
            bits: vec![0; columns * rows],
            has_walls: false,
        }
    }

    /// Number of cells.
    pub fn len(&self) -> usize {
        self.cells.len()
    }

    /// Whether the sheet has no cells at all.
    pub fn is_empty(&self) -> bool {
        self.cells.is_empty()
    }

    /// Key of a cell.
    pub fn key(&self, column: usize, row: usize) -> usize {
        row * self.columns + column
    }

    /// Middle of a cell.
    pub fn middle(&self, key: usize) -> Point {
        let (column, row) = (key % self.columns, key / self.columns);
        self.corner
            + kurbo::Vec2::new(
                (column as f64 + 0.5) * self.cell_mm,
                (row as f64 + 0.5) * self.cell_mm,
            )
    }

    /// The cell that holds a point.
    pub fn at(&self, p: Point) -> Option<usize> {
        let at = (p - self.corner) / self.cell_mm;
        let inside =
            at.x >= 0.0 && at.y >= 0.0 && at.x < self.columns as f64 && at.y < self.rows as f64;
        inside.then(|| self.key(at.x as usize, at.y as usize))
    }

    /// What a cell is.
    pub fn cell(&self, key: usize) -> Cell {
        self.cells.get(key).copied().unwrap_or(Cell::Outside)
    }

    /// Whether a cell is film.
    pub fn film(&self, key: usize) -> bool {
        self.cell(key) == Cell::Film
    }

    /// Sets every cell whose middle lies in a shape.
    pub fn fill(&mut self, shape: &Shape, as_cell: Cell) {
        let mut cells = std::mem::take(&mut self.cells);
        self.cells_in(shape, |key| {
            if let Some(cell) = cells.get_mut(key) {
                *cell = as_cell;
            }
        });
        self.cells = cells;
    }

    /// Tells every cell whose middle lies in a shape.
    pub fn cells_in(&self, shape: &Shape, mut tell: impl FnMut(usize)) {
        let bounds = shape.bounds;
        let edges = shape.edges().count() as u64;
        for row in self.rows_within(bounds.y0, bounds.y1) {
            spend(edges + self.columns as u64 / 4);
            let y = self.corner.y + (row as f64 + 0.5) * self.cell_mm;
            let mut crossings: Vec<f64> = shape
                .edges()
                .filter(|(a, b)| (a.y <= y) != (b.y <= y))
                .map(|(a, b)| a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y))
                .collect();
            crossings.sort_by(f64::total_cmp);
            for pair in crossings.chunks_exact(2) {
                let [from, to] = pair else { continue };
                let column =
                    |x: f64| ((x - self.corner.x) / self.cell_mm - 0.5).ceil().max(0.0) as usize;
                for column in column(*from)..column(*to).min(self.columns) {
                    tell(self.key(column, row));
                }
            }
        }
    }

    /// Takes away all film whose cells' middles do not lie in a shape.
    pub fn keep(&mut self, shape: &Shape) {
        let mut within = Sheet {
            cells: vec![Cell::Outside; self.len()],
            bits: Vec::new(),
            ..*self
        };
        within.fill(shape, Cell::Film);
        for (cell, kept) in self.cells.iter_mut().zip(&within.cells) {
            if *kept == Cell::Outside {
                *cell = Cell::Outside;
            }
        }
    }

    fn rows_within(&self, y0: f64, y1: f64) -> std::ops::Range<usize> {
        let row = |y: f64| {
            ((y - self.corner.y) / self.cell_mm - 0.5)
                .ceil()
                .clamp(0.0, self.rows as f64) as usize
        };
        row(y0)..row(y1 + self.cell_mm).min(self.rows)
    }

    /// Puts a wall along a line: no air passes between cells whose middles lie on either side of it. Walls have no gaps at their corners.
    pub fn wall(&mut self, points: &[Point]) {
        self.has_walls = true;
        for pair in points.windows(2) {
            let [a, b] = pair else { continue };
            let line = Rect::from_points(*a, *b).inflate(self.cell_mm, self.cell_mm);
            let column = |x: f64| {
                ((x - self.corner.x) / self.cell_mm).clamp(0.0, self.columns as f64) as usize
            };
            for row in self.rows_within(line.y0 - self.cell_mm, line.y1) {
                // The part of the line that is near this row: a long line has few columns in it.
                let y = self.corner.y + (row as f64 + 0.5) * self.cell_mm;
                let (x0, x1) = near_row(*a, *b, y - self.cell_mm, y + self.cell_mm);
                for column in column(x0 - 2.0 * self.cell_mm)
                    ..(column(x1 + 2.0 * self.cell_mm) + 1).min(self.columns)
                {
                    let key = self.key(column, row);
                    let here = self.middle(key);
                    let right = here + kurbo::Vec2::new(self.cell_mm, 0.0);
                    let below = here + kurbo::Vec2::new(0.0, self.cell_mm);
                    let mut bits = 0;
                    if crosses(here, right, *a, *b) {
                        bits |= bit::WALL_RIGHT;
                    }
                    if crosses(here, below, *a, *b) {
                        bits |= bit::WALL_BELOW;
                    }
                    if let Some(b) = self.bits.get_mut(key) {
                        *b |= bits;
                    }
                }
            }
        }
    }

    /// Opens the sheet's rim, and the rim of every cut-out, except where `closed` says so for a point on it. Blocked cells let no
    /// air out.
    pub fn open_rim(&mut self, closed: impl Fn(Point) -> bool) {
        for key in 0..self.cells.len() {
            if !self.film(key) {
                continue;
            }
            let middle = self.middle(key);
            let half = self.cell_mm / 2.0;
            let out = SIDES.iter().any(|(dx, dy)| {
                let cell = self
                    .beside(key, *dx, *dy)
                    .map_or(Cell::Outside, |k| self.cell(k));
                let edge = middle + kurbo::Vec2::new(f64::from(*dx) * half, f64::from(*dy) * half);
                cell == Cell::Outside && !self.walled(key, *dx, *dy) && !closed(edge)
            });
            if let Some(b) = self.bits.get_mut(key) {
                *b = if out { *b | bit::EXIT } else { *b & !bit::EXIT };
            }
        }
    }

    /// Lets air out at one place: a vent, or where the film was pricked.
    pub fn let_out(&mut self, at: Point) {
        if let Some(b) = self.at(at).and_then(|k| self.bits.get_mut(k)) {
            *b |= bit::EXIT;
        }
    }

    /// Lets air out all along a line: the gap of a door, which film spans.
    pub fn let_out_along(&mut self, points: &[Point]) {
        for pair in points.windows(2) {
            let [a, b] = pair else { continue };
            let steps = (a.distance(*b) / self.cell_mm * 2.0).ceil().max(1.0) as u32;
            for n in 0..=steps {
                self.let_out(a.lerp(*b, f64::from(n) / f64::from(steps)));
            }
        }
    }

    /// Whether air leaves the sheet from this cell.
    pub fn exit(&self, key: usize) -> bool {
        self.bits.get(key).is_some_and(|b| b & bit::EXIT != 0)
    }

    /// The cell beside another, if there is one.
    pub fn beside(&self, key: usize, dx: i32, dy: i32) -> Option<usize> {
        let (column, row) = (key % self.columns, key / self.columns);
        let column = column.checked_add_signed(dx as isize)?;
        let row = row.checked_add_signed(dy as isize)?;
        (column < self.columns && row < self.rows).then(|| self.key(column, row))
    }

    /// Whether a wall stands between a cell and the one beside it.
    pub fn walled(&self, key: usize, dx: i32, dy: i32) -> bool {
        let (owner, wall) = match (dx, dy) {
            (1, _) => (Some(key), bit::WALL_RIGHT),
            (_, 1) => (Some(key), bit::WALL_BELOW),
            (-1, _) => (self.beside(key, -1, 0), bit::WALL_RIGHT),
            _ => (self.beside(key, 0, -1), bit::WALL_BELOW),
        };
        owner.is_some_and(|k| self.bits.get(k).is_some_and(|b| b & wall != 0))
    }

    /// Whether a wall stands between two points that lie within a blade's width of each other.
    fn walls_between(&self, from: Point, to: Point) -> bool {
        if !self.has_walls {
            return false;
        }
        let way = to - from;
        let steps = (way.hypot() / self.cell_mm * 2.0).ceil().max(1.0);
        let cell = |p: Point| {
            let at = (p - self.corner) / self.cell_mm;
            (at.x.floor() as i64, at.y.floor() as i64)
        };
        let key = |(column, row): (i64, i64)| {
            let (column, row) = (usize::try_from(column).ok()?, usize::try_from(row).ok()?);
            (column < self.columns && row < self.rows).then(|| self.key(column, row))
        };
        let crosses = |from: (i64, i64), to: (i64, i64)| {
            let step = ((to.0 - from.0) as i32, (to.1 - from.1) as i32);
            step != (0, 0) && key(from).is_some_and(|k| self.walled(k, step.0, step.1))
        };
        let mut here = cell(from);
        let mut n = 0.0;
        while n < steps {
            n += 1.0;
            let there = cell(from + way * (n / steps));
            // Over a corner where both ways round it are walled, else along either.
            let (by_column, by_row) = ((there.0, here.1), (here.0, there.1));
            if (crosses(here, by_column) || crosses(by_column, there))
                && (crosses(here, by_row) || crosses(by_row, there))
            {
                return true;
            }
            here = there;
        }
        false
    }

    /// The film that a cell is connected to directly.
    pub fn neighbours(&self, key: usize) -> impl Iterator<Item = usize> + '_ {
        SIDES.iter().filter_map(move |(dx, dy)| {
            let other = self.beside(key, *dx, *dy)?;
            (self.film(other) && !self.walled(key, *dx, *dy)).then_some(other)
        })
    }
}

const SIDES: [(i32, i32); 4] = [(1, 0), (-1, 0), (0, 1), (0, -1)];

/// From and to in x of the part of a line between two heights.
fn near_row(a: Point, b: Point, y0: f64, y1: f64) -> (f64, f64) {
    if (b.y - a.y).abs() < 1e-9 {
        return (a.x.min(b.x), a.x.max(b.x));
    }
    let at = |y: f64| {
        let t = ((y - a.y) / (b.y - a.y)).clamp(0.0, 1.0);
        a.x + (b.x - a.x) * t
    };
    let (p, q) = (at(y0), at(y1));
    (p.min(q), p.max(q))
}

/// Whether two lines cross; a point that lies on a line counts as being on its left, so that a wall through cells' middles leaks nowhere.
fn crosses(a: Point, b: Point, c: Point, d: Point) -> bool {
    let left = |from: Point, to: Point, p: Point| (to - from).cross(p - from) >= 0.0;
    left(c, d, a) != left(c, d, b) && left(a, b, c) != left(a, b, d)
}

impl Ground for Sheet {
    fn count(&self) -> usize {
        self.len()
    }

    fn film(&self, key: usize) -> bool {
        Sheet::film(self, key)
    }

    fn exit(&self, key: usize) -> bool {
        Sheet::exit(self, key)
    }

    fn beside(&self, key: usize, tell: &mut dyn FnMut(usize)) {
        self.neighbours(key).for_each(tell);
    }

    fn bounds(&self, key: usize) -> Rect {
        Rect::from_center_size(self.middle(key), (self.cell_mm, self.cell_mm))
    }

    fn place(&self, key: usize) -> Point {
        self.middle(key)
    }

    fn area_mm2(&self, _: usize) -> f64 {
        self.cell_mm * self.cell_mm
    }
}

/// A stroke of the squeegee: its middle line in the order in which it is pressed, and how wide it presses.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Swath {
    /// Points of its middle line in the picture frame, mm.
    pub path: Vec<[f64; 2]>,
    /// Width, mm.
    pub width_mm: f64,
}

/// Presses swaths one after the other: when each cell is first pressed. Along a swath, cells are pressed in steps of one cell.
pub fn press(sheet: &Sheet, swaths: &[Swath]) -> Vec<Moment> {
    let mut pressed = vec![NEVER; sheet.len()];
    for (n, swath) in (1_u32..).zip(swaths) {
        press_one(sheet, swath, n, &mut pressed);
    }
    pressed
}

/// Presses one swath as the `number`-th: what the blade reaches from its middle line. Beyond a crease that is not set yet the film
/// stands off in another plane; it is pressed by a stroke that runs there.
pub fn press_one(sheet: &Sheet, swath: &Swath, number: u32, pressed: &mut [Moment]) {
    let half = (swath.width_mm / 2.0).max(sheet.cell_mm / 2.0);
    let points: Vec<Point> = swath.path.iter().map(|p| Point::new(p[0], p[1])).collect();
    let lines: Vec<(Point, Point)> = match points[..] {
        [only] => vec![(only, only)],
        _ => points.windows(2).map(|p| (p[0], p[1])).collect(),
    };
    let mut before = 0.0;
    for (a, b) in lines {
        let along = b - a;
        let length = along.hypot();
        let reach = Rect::from_points(a, b).inflate(half, half);
        let column = |x: f64| {
            ((x - sheet.corner.x) / sheet.cell_mm).clamp(0.0, sheet.columns as f64) as usize
        };
        for row in sheet.rows_within(reach.y0, reach.y1) {
            let y = sheet.corner.y + (row as f64 + 0.5) * sheet.cell_mm;
            let (x0, x1) = near_row(a, b, y - half, y + half);
            for column in column(x0 - half)..(column(x1 + half) + 1).min(sheet.columns) {
                let key = sheet.key(column, row);
                if !sheet.film(key) {
                    continue;
                }
                let middle = sheet.middle(key);
                let t = if length > 0.0 {
                    ((middle - a).dot(along) / (length * length)).clamp(0.0, 1.0)
                } else {
                    0.0
                };
                let foot = a + along * t;
                if middle.distance(foot) > half + 1e-9 || sheet.walls_between(foot, middle) {
                    continue;
                }
                let moment = (number, ((before + t * length) / sheet.cell_mm) as u32);
                if let Some(p) = pressed.get_mut(key)
                    && moment < *p
                {
                    *p = moment;
                }
            }
        }
        before += length;
    }
}

/// Share of the film that is pressed, 0 to 1.
pub fn share_pressed(sheet: &Sheet, pressed: &[Moment]) -> f64 {
    let film = (0..sheet.len()).filter(|k| sheet.film(*k));
    let (mut all, mut down) = (0_u32, 0_u32);
    for key in film {
        all += 1;
        down += u32::from(pressed.get(key).is_some_and(|m| *m != NEVER));
    }
    if all == 0 {
        0.0
    } else {
        f64::from(down) / f64::from(all)
    }
}
