//! The air under a sheet: which of it can still get out while the sheet is pressed on, and where it is shut in.
//!
//! The sheet is a grid of cells: open (air under it), pressed, or no film. Open cells that share an edge are connected unless a
//! wall stands on that edge: a crease until it is set, or the rim of a recess. Air leaves over the sheet's own rim, except where a
//! hinge or tape closes it, and at cut-outs and vents. Air is shut in when the last way out of an open region is pressed shut.
//!
//! [`prove`] runs an order of pressing *backwards*: cells are opened again from the last to the first and joined by union-find, so
//! that the whole order is judged in one pass over the cells.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};

use crate::ground::budget::spend;
use crate::ground::outline::Shape;

/// Regions smaller than this across are not told: an ordinary squeegee pushes them out, mm.
pub const TOLD_MM: f64 = 25.0;
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
                    let key = self.key(column, row);
                    if let Some(cell) = self.cells.get_mut(key) {
                        *cell = as_cell;
                    }
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

    /// The sheet with its rows and columns exchanged: what was down is to the right.
    pub fn turned(&self) -> Sheet {
        let mut turned = Sheet {
            cell_mm: self.cell_mm,
            corner: Point::new(self.corner.y, self.corner.x),
            columns: self.rows,
            rows: self.columns,
            cells: Vec::with_capacity(self.len()),
            bits: Vec::with_capacity(self.len()),
            has_walls: self.has_walls,
        };
        for column in 0..self.columns {
            for row in 0..self.rows {
                let key = self.key(column, row);
                let bits = self.bits.get(key).copied().unwrap_or(0);
                let walls = [
                    (bit::WALL_RIGHT, bit::WALL_BELOW),
                    (bit::WALL_BELOW, bit::WALL_RIGHT),
                    (bit::EXIT, bit::EXIT),
                ];
                turned.cells.push(self.cell(key));
                turned.bits.push(
                    walls
                        .iter()
                        .filter(|(from, _)| bits & from != 0)
                        .map(|(_, to)| to)
                        .sum(),
                );
            }
        }
        turned
    }

    /// The flats of the sheet: which one each cell belongs to, and how many there are. Cells without film belong to `u32::MAX`.
    pub fn flats(&self) -> (Vec<u32>, u32) {
        let mut of = vec![u32::MAX; self.len()];
        let mut count = 0;
        let mut waiting = Vec::new();
        for start in 0..self.len() {
            if !self.film(start) || of[start] != u32::MAX {
                continue;
            }
            of[start] = count;
            waiting.push(start);
            while let Some(key) = waiting.pop() {
                for other in self.neighbours(key) {
                    if of[other] == u32::MAX {
                        of[other] = count;
                        waiting.push(other);
                    }
                }
            }
            count += 1;
        }
        (of, count)
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

/// A region that air cannot leave.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShutIn {
    /// Number of the stroke that shut it in, from 1; 0 where it has no way out before anything is pressed.
    pub stroke: u32,
    /// Area when it was shut in, mm².
    pub area_mm2: f64,
    /// Its rectangle in the picture frame when it was shut in: left, top, right, foot, mm.
    pub bounds: [f64; 4],
    /// A place within it.
    pub at: [f64; 2],
}

impl ShutIn {
    /// Its larger extent, mm.
    pub fn across_mm(&self) -> f64 {
        let [x0, y0, x1, y1] = self.bounds;
        (x1 - x0).max(y1 - y0)
    }
}

/// When a cell is pressed: by which stroke (from 1) and how far along it. Never pressed: [`NEVER`].
pub type Moment = (u32, u32);
/// A cell that no stroke presses.
pub const NEVER: Moment = (u32::MAX, u32::MAX);

#[derive(Clone, Copy)]
struct Region {
    parent: u32,
    cells: u32,
    /// Columns and rows: from, to.
    columns: (u32, u32),
    rows: (u32, u32),
    exit: bool,
    opened: bool,
    /// The step at which it was last noted as joined to another.
    noted: u32,
}

/// Runs an order of pressing and returns every region that air is shut in by it, the earliest first; small ones too.
///
/// `pressed` holds, for every cell, when it is first pressed.
///
/// ```
/// # use windrift_core::{floor::air::{Cell, Sheet, Swath, press, prove}, ground::outline::Shape};
/// # use kurbo::Rect;
/// // A sheet of 400 × 400 mm, open all round.
/// let bounds = Rect::new(0.0, 0.0, 400.0, 400.0);
/// let mut sheet = Sheet::over(bounds, 10.0, 0.0);
/// sheet.fill(&Shape::rectangle(bounds), Cell::Film);
/// sheet.open_rim(|_| false);
/// // A ring round its middle: the fourth stroke closes it.
/// let ring = [[100.0, 100.0], [300.0, 100.0], [300.0, 300.0], [100.0, 300.0], [100.0, 100.0]];
/// let strokes: Vec<Swath> = ring.windows(2).map(|p| Swath { path: p.to_vec(), width_mm: 60.0 }).collect();
/// let shut_in = prove(&sheet, &press(&sheet, &strokes));
/// assert_eq!((shut_in.len(), shut_in[0].stroke), (1, 4));
/// // Three sides of it shut in nothing.
/// assert!(prove(&sheet, &press(&sheet, &strokes[..3])).is_empty());
/// ```
pub fn prove(sheet: &Sheet, pressed: &[Moment]) -> Vec<ShutIn> {
    let moment = |key: usize| pressed.get(key).copied().unwrap_or(NEVER);
    let mut order: Vec<u32> = (0..sheet.len())
        .filter(|k| sheet.film(*k))
        .map(|k| k as u32)
        .collect();
    order.sort_unstable_by_key(|k| std::cmp::Reverse(moment(*k as usize)));
    let mut regions: Vec<Region> = (0..sheet.len())
        .map(|key| {
            let (column, row) = ((key % sheet.columns) as u32, (key / sheet.columns) as u32);
            Region {
                parent: key as u32,
                cells: 1,
                columns: (column, column),
                rows: (row, row),
                exit: sheet.exit(key),
                opened: false,
                noted: u32::MAX,
            }
        })
        .collect();
    let mut found: Vec<ShutIn> = Vec::new();
    // Regions that were there, without a way out, before the cells of one moment were opened, and were joined to others by them.
    let mut joined: Vec<(u32, Region)> = Vec::new();
    let mut n = 0;
    while n < order.len() {
        let now = moment(order[n] as usize);
        let mut end = n;
        while end < order.len() && moment(order[end] as usize) == now {
            regions[order[end] as usize].opened = true;
            end += 1;
        }
        joined.clear();
        for key in &order[n..end] {
            let key = *key as usize;
            for other in sheet.neighbours(key) {
                if !regions[other].opened {
                    continue;
                }
                let (a, b) = (
                    root(&mut regions, key as u32),
                    root(&mut regions, other as u32),
                );
                if a == b {
                    continue;
                }
                for side in [a, b] {
                    let region = regions[side as usize];
                    // A region made of cells of this very moment alone was not there before.
                    if !region.exit && moment(side as usize) > now && region.noted != n as u32 {
                        regions[side as usize].noted = n as u32;
                        joined.push((side, region));
                    }
                }
                unite(&mut regions, a, b, |k| moment(k as usize));
            }
        }
        for (was, region) in &joined {
            let root = root(&mut regions, *was);
            if regions[root as usize].exit {
                found.push(told(sheet, *region, *was, now.0));
            }
        }
        n = end;
    }
    let mut roots: Vec<u32> = Vec::new();
    for key in order {
        let root = root(&mut regions, key);
        if root == key && !regions[root as usize].exit {
            roots.push(root);
        }
    }
    found.extend(
        roots
            .into_iter()
            .map(|r| told(sheet, regions[r as usize], r, 0)),
    );
    found.sort_by(|a, b| {
        a.stroke
            .cmp(&b.stroke)
            .then(b.area_mm2.total_cmp(&a.area_mm2))
    });
    found
}

fn root(regions: &mut [Region], mut key: u32) -> u32 {
    while regions[key as usize].parent != key {
        let up = regions[key as usize].parent;
        regions[key as usize].parent = regions[up as usize].parent;
        key = up;
    }
    key
}

/// Joins two regions. The root is the cell that is pressed last, so that a root tells whether the region was there at a moment.
fn unite(regions: &mut [Region], a: u32, b: u32, moment: impl Fn(u32) -> Moment) {
    let (root, under) = if moment(a) >= moment(b) {
        (a, b)
    } else {
        (b, a)
    };
    let (r, u) = (regions[root as usize], regions[under as usize]);
    regions[under as usize].parent = root;
    regions[root as usize] = Region {
        parent: root,
        cells: r.cells + u.cells,
        columns: (r.columns.0.min(u.columns.0), r.columns.1.max(u.columns.1)),
        rows: (r.rows.0.min(u.rows.0), r.rows.1.max(u.rows.1)),
        exit: r.exit || u.exit,
        opened: true,
        noted: r.noted,
    };
}

fn told(sheet: &Sheet, region: Region, cell: u32, stroke: u32) -> ShutIn {
    let x = |column: u32| sheet.corner.x + f64::from(column) * sheet.cell_mm;
    let y = |row: u32| sheet.corner.y + f64::from(row) * sheet.cell_mm;
    let at = sheet.middle(cell as usize);
    ShutIn {
        stroke,
        area_mm2: f64::from(region.cells) * sheet.cell_mm * sheet.cell_mm,
        bounds: [
            x(region.columns.0),
            y(region.rows.0),
            x(region.columns.1 + 1),
            y(region.rows.1 + 1),
        ],
        at: [at.x, at.y],
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
