//! Counting what film meets at every move of the window.

use kurbo::{Affine, Point, Rect};
use serde::{Deserialize, Serialize};

use super::grid::{Grid, Row, meets, near_segment};
use crate::art::drawn::Drawn;
use crate::ground::budget::spend;
use crate::ground::outline::{Shape, rect_distance};
use crate::ground::weights::Weights;
use crate::place::landing::{ALONG_SEAM_MM, ALONG_SEAM_RUN_MM, ALONG_SEAM_SINE};
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredLine, MeasuredSide};

/// What film meets at one move.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Counts {
    /// Things that film must keep off and does not, and 1 where it leaves the body. Never traded.
    pub hard: u32,
    /// Heads with a cut edge on them.
    pub edge_on: u32,
    /// Heads under film.
    pub covered: u32,
    /// Lines with a cut edge along them.
    pub along: u32,
    /// Letters across seams, gaps and other lines.
    pub crossed: u32,
    /// Letters across creases and body lines.
    pub creases: u32,
    /// Letters in recesses, hollows, on curves or texture.
    pub zones: u32,
}

impl Counts {
    /// Weighed sum of the soft conflicts.
    pub fn points(&self, w: &Weights) -> f64 {
        f64::from(self.edge_on) * w.edge_on_head
            + f64::from(self.covered) * w.covered_head
            + f64::from(self.along) * w.edge_along_line
            + f64::from(self.crossed) * w.crossed_line
            + f64::from(self.creases) * w.crossed_crease
            + f64::from(self.zones) * w.in_zone
    }
}

/// What film meets at every move, cell by cell, row by row from the top left.
#[derive(Debug, Clone, PartialEq)]
pub struct Map {
    cells: Vec<Counts>,
}

impl Map {
    /// An empty map.
    pub fn new(grid: &Grid) -> Map {
        Map {
            cells: vec![Counts::default(); grid.columns() * grid.rows()],
        }
    }

    /// What film meets at a cell; nothing beyond the map.
    pub fn at(&self, cell: usize) -> Counts {
        self.cells.get(cell).copied().unwrap_or_default()
    }

    /// Every cell, row by row from the top left.
    pub fn cells(&self) -> &[Counts] {
        &self.cells
    }

    fn add(&mut self, grid: &Grid, rows: &Rows, count: impl Fn(&mut Counts)) {
        for (row, bits) in rows.0.iter().enumerate() {
            for column in bits.ones() {
                if let Some(cell) = self.cells.get_mut(grid.cell(column, row)) {
                    count(cell);
                }
            }
        }
    }
}

/// One bit for each move of the window.
struct Rows(Vec<Row>);

impl Rows {
    fn new(grid: &Grid) -> Rows {
        Rows(vec![Row::default(); grid.rows()])
    }

    fn join(&mut self, other: &Rows) {
        for (row, o) in self.0.iter_mut().zip(&other.0) {
            row.join(o);
        }
    }

    fn clear(&mut self) {
        self.0.fill(Row::default());
    }
}

type Edge = (Point, Point);

/// A shape with its edges as a list.
struct FilmShape {
    edges: Vec<Edge>,
    bounds: Rect,
}

/// Film of one letter in the frame of the search.
struct FilmPart {
    shapes: Vec<FilmShape>,
    bounds: Rect,
}

fn shape_of(shape: &Shape) -> FilmShape {
    FilmShape {
        edges: shape.edges().collect(),
        bounds: shape.bounds,
    }
}

/// Whether film must keep clear of a kind: what is cut out round hardware keeps clear of what no cut helps against.
pub(super) fn must_clear(drawn: &Drawn, kind: FeatureKind) -> bool {
    !drawn.cut_round || matches!(kind, FeatureKind::OldFilm | FeatureKind::Waterline)
}

/// Adds what one piece meets at every move. `film` carries its own frame, `still` the picture frame, to the frame of the search.
pub(super) fn piece(
    map: &mut Map,
    grid: &Grid,
    drawn: &Drawn,
    film: &Affine,
    side: &MeasuredSide,
    still: &Affine,
) {
    let parts: Vec<FilmPart> = drawn
        .parts
        .iter()
        .map(|p| {
            let shapes: Vec<FilmShape> = p
                .shapes
                .iter()
                .map(|s| shape_of(&s.transformed(*film)))
                .collect();
            let bounds = shapes
                .iter()
                .map(|s| s.bounds)
                .reduce(|a, b| a.union(b))
                .unwrap_or_default();
            FilmPart { shapes, bounds }
        })
        .collect();
    let whole = parts
        .iter()
        .map(|p| p.bounds)
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    let reach = whole.inflate(grid.reach_x(), grid.reach_y());
    let search = Search {
        grid,
        parts: &parts,
        cut_edges: drawn.stays_clear_mm.is_none(),
    };
    let (mut edge_on, mut inside) = (Rows::new(grid), Rows::new(grid));
    let heads = side
        .columns
        .iter()
        .filter(|_| drawn.stays_clear_mm.is_none());
    for column in heads {
        let radius = column.head_mm / 2.0;
        for head in &column.heads {
            let head = *still * *head;
            if !reach.inflate(radius, radius).contains(head) {
                continue;
            }
            edge_on.clear();
            inside.clear();
            search.head(head, radius, &mut edge_on, &mut inside);
            map.add(grid, &edge_on, |c| c.edge_on += 1);
            for (row, e) in inside.0.iter_mut().zip(&edge_on.0) {
                *row = row.without(e);
            }
            map.add(grid, &inside, |c| c.covered += 1);
        }
    }
    for line in &side.lines {
        search.line(map, line, still, reach);
    }
    for area in side
        .hardware()
        .filter(|h| h.comes_off != ComesOff::ForGood && must_clear(drawn, h.kind))
    {
        // What comes off first and goes back over the film is in nobody's way, unless it must never be covered.
        if area.comes_off == ComesOff::GoesBack && area.kind.never_covered().is_none() {
            continue;
        }
        let mut rows = Rows::new(grid);
        for part in &parts {
            let clearance = area.clearance_mm.max(drawn.stays_clear_mm.unwrap_or(0.0));
            search.area(part, area, still, clearance, &mut rows);
        }
        map.add(grid, &rows, |c| c.hard += 1);
    }
    for zone in side.zones() {
        for part in &parts {
            let mut rows = Rows::new(grid);
            search.area(part, zone, still, 0.0, &mut rows);
            map.add(grid, &rows, |c| c.zones += 1);
        }
    }
    let off = search.off_the_body(drawn, film, &side.outline.transformed(*still));
    map.add(grid, &off, |c| c.hard += 1);
}

struct Search<'f> {
    grid: &'f Grid,
    parts: &'f [FilmPart],
    /// Whether its edges are cut: one along a seam lifts.
    cut_edges: bool,
}

impl Search<'_> {
    /// Moves at which a cut edge lies on a head, and moves at which its middle lies in film.
    fn head(&self, head: Point, radius: f64, edge_on: &mut Rows, inside: &mut Rows) {
        let (rx, ry) = (self.grid.reach_x() + radius, self.grid.reach_y() + radius);
        let around = Rect::new(head.x - rx, head.y - ry, head.x + rx, head.y + ry);
        let mut own = Rows::new(self.grid);
        for part in self.parts.iter().filter(|p| p.bounds.overlaps(around)) {
            for shape in part.shapes.iter().filter(|s| s.bounds.overlaps(around)) {
                spend(shape.edges.len() as u64);
                own.clear();
                for (a, b) in &shape.edges {
                    let (top, foot) = (a.y.min(b.y), a.y.max(b.y));
                    // The film moves down by d where the head moves up by d within it.
                    if a.x.min(b.x) <= around.x1 && a.x.max(b.x) >= around.x0 {
                        for row in self
                            .grid
                            .rows_within(head.y - foot - radius, head.y - top + radius)
                        {
                            let y = head.y - self.grid.down(row);
                            if let Some((low, high)) = near_segment(*a, *b, radius, y) {
                                edge_on.0[row]
                                    .set(self.grid.columns_within(head.x - high, head.x - low));
                            }
                        }
                    }
                    self.crossings(head, *a, *b, &mut own);
                }
                inside.join(&own);
            }
        }
    }

    /// Turns over the moves at which the ray to the right from a still point crosses a moving edge.
    fn crossings(&self, point: Point, a: Point, b: Point, rows: &mut Rows) {
        if a.y == b.y {
            return;
        }
        for row in self
            .grid
            .rows_within(point.y - a.y.max(b.y), point.y - a.y.min(b.y))
        {
            let y = point.y - self.grid.down(row);
            if (a.y > y) != (b.y > y) {
                let x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
                // Crossed where the moved edge lies to the right: right > point.x - x.
                let from = self.grid.columns_within(point.x - x, f64::INFINITY).start;
                rows.0[row].toggle(from..self.grid.columns());
            }
        }
    }

    /// Turns over the moves at which the ray to the right from a moving point crosses a still edge.
    fn crossings_of_moving(&self, point: Point, a: Point, b: Point, rows: &mut Rows) {
        if a.y == b.y {
            return;
        }
        for row in self
            .grid
            .rows_within(a.y.min(b.y) - point.y, a.y.max(b.y) - point.y)
        {
            let y = point.y + self.grid.down(row);
            if (a.y > y) != (b.y > y) {
                let x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
                let to = self.grid.columns_within(f64::NEG_INFINITY, x - point.x).end;
                rows.0[row].toggle(0..to);
            }
        }
    }

    /// Moves at which an edge comes within a clearance of a still segment.
    fn near(&self, edge: Edge, still: Edge, clearance: f64, rows: &mut Rows) {
        let (etop, efoot) = (edge.0.y.min(edge.1.y), edge.0.y.max(edge.1.y));
        let (stop, sfoot) = (still.0.y.min(still.1.y), still.0.y.max(still.1.y));
        let (ex0, ex1) = (edge.0.x.min(edge.1.x), edge.0.x.max(edge.1.x));
        let (sx0, sx1) = (still.0.x.min(still.1.x), still.0.x.max(still.1.x));
        let reach = self.grid.reach_x() + clearance;
        if ex1 + reach < sx0 || ex0 - reach > sx1 {
            return;
        }
        for row in self
            .grid
            .rows_within(stop - efoot - clearance, sfoot - etop + clearance)
        {
            if let Some((low, high)) = meets(edge, still, clearance, self.grid.down(row)) {
                rows.0[row].set(self.grid.columns_within(low, high));
            }
        }
    }

    fn line(&self, map: &mut Map, line: &MeasuredLine, still: &Affine, reach: Rect) {
        let points: Vec<Point> = line.points.iter().map(|p| *still * *p).collect();
        let segments: Vec<Edge> = points
            .iter()
            .copied()
            .zip(points.iter().copied().skip(1))
            .filter(|(a, b)| {
                rect_distance(
                    Rect::from_points(*a, *b),
                    reach.inflate(ALONG_SEAM_MM, ALONG_SEAM_MM),
                ) <= 0.0
            })
            .collect();
        if segments.is_empty() {
            return;
        }
        let window = |r: Rect| {
            r.inflate(
                self.grid.reach_x() + ALONG_SEAM_MM,
                self.grid.reach_y() + ALONG_SEAM_MM,
            )
        };
        let mut along = Rows::new(self.grid);
        let mut runs: Vec<f32> = Vec::new();
        for part in self.parts {
            let near: Vec<Edge> = segments
                .iter()
                .copied()
                .filter(|(a, b)| {
                    rect_distance(Rect::from_points(*a, *b), window(part.bounds)) <= 0.0
                })
                .collect();
            if near.is_empty() {
                continue;
            }
            let mut touching = Rows::new(self.grid);
            runs.clear();
            for still in &near {
                let middle = still.0.midpoint(still.1);
                for shape in &part.shapes {
                    let mut own = Rows::new(self.grid);
                    for edge in &shape.edges {
                        spend(self.grid.rows() as u64 / 2);
                        self.near(*edge, *still, 0.0, &mut touching);
                        self.crossings(middle, edge.0, edge.1, &mut own);
                        if self.cut_edges {
                            self.run(*edge, *still, &mut runs);
                        }
                    }
                    touching.join(&own);
                }
            }
            if !runs.is_empty() {
                for row in 0..self.grid.rows() {
                    for column in 0..self.grid.columns() {
                        if f64::from(runs[self.grid.cell(column, row)]) >= ALONG_SEAM_RUN_MM {
                            along.0[row].mark(column);
                            touching.0[row].mark(column);
                        }
                    }
                }
            }
            let crease = matches!(line.kind, FeatureKind::Crease | FeatureKind::BodyLine);
            map.add(self.grid, &touching, |c| {
                if crease {
                    c.creases += 1
                } else {
                    c.crossed += 1
                }
            });
        }
        map.add(self.grid, &along, |c| c.along += 1);
    }

    /// Adds, for every move, how much of an edge runs along a still segment.
    fn run(&self, edge: Edge, still: Edge, runs: &mut Vec<f32>) {
        let length = still.0.distance(still.1);
        let direction = (still.1 - still.0) / length.max(1e-9);
        let by = |p: Point| ((p - still.0).dot(direction), direction.cross(p - still.0));
        let ((along_a, beside_a), (along_b, beside_b)) = (by(edge.0), by(edge.1));
        if (beside_a - beside_b).abs() > ALONG_SEAM_SINE * edge.0.distance(edge.1) {
            return;
        }
        // Beside after a move by (x, y): beside + direction.x y - direction.y x.
        let (low, high) = (beside_a.min(beside_b), beside_a.max(beside_b));
        for row in 0..self.grid.rows() {
            let y = self.grid.down(row);
            let shift = direction.x * y;
            let columns = if direction.y.abs() < 1e-9 {
                if high + shift > ALONG_SEAM_MM || low + shift < -ALONG_SEAM_MM {
                    continue;
                }
                0..self.grid.columns()
            } else {
                // -M <= low + shift - dy x and high + shift - dy x <= M.
                let (a, b) = (
                    (high + shift - ALONG_SEAM_MM) / direction.y,
                    (low + shift + ALONG_SEAM_MM) / direction.y,
                );
                // Beyond both bounds the two ends lie too far apart for any move.
                if high - low > 2.0 * ALONG_SEAM_MM {
                    continue;
                }
                self.grid.columns_within(a.min(b), a.max(b))
            };
            for column in columns {
                let moved = direction.x * self.grid.right(column) + direction.y * y;
                let (first, last) = (along_a.min(along_b) + moved, along_a.max(along_b) + moved);
                let run = last.min(length) - first.max(0.0);
                if last >= 0.0 && first <= length && run > 0.0 {
                    if runs.is_empty() {
                        runs.resize(self.grid.columns() * self.grid.rows(), 0.0);
                    }
                    runs[self.grid.cell(column, row)] += run as f32;
                }
            }
        }
    }

    /// Moves at which a part comes nearer than a clearance to an area, touches it, lies in it or round it.
    fn area(&self, part: &FilmPart, area: &Area, still: &Affine, clearance: f64, rows: &mut Rows) {
        let outline = shape_of(&area.outline.transformed(*still));
        let reach = part.bounds.inflate(
            self.grid.reach_x() + clearance,
            self.grid.reach_y() + clearance,
        );
        if rect_distance(outline.bounds, reach) > 0.0 {
            return;
        }
        let mut own = Rows::new(self.grid);
        for shape in &part.shapes {
            for edge in &shape.edges {
                spend(outline.edges.len() as u64);
                for segment in &outline.edges {
                    self.near(*edge, *segment, clearance, rows);
                }
            }
            // The first point of each, for the one that lies wholly within the other.
            own.clear();
            if let Some((corner, _)) = outline.edges.first() {
                for (a, b) in &shape.edges {
                    self.crossings(*corner, *a, *b, &mut own);
                }
                rows.join(&own);
            }
            own.clear();
            if let Some((corner, _)) = shape.edges.first() {
                for (a, b) in &outline.edges {
                    self.crossings_of_moving(*corner, *a, *b, &mut own);
                }
                rows.join(&own);
            }
        }
    }

    /// Moves at which some corner of the film's hull lies off the body.
    fn off_the_body(&self, drawn: &Drawn, film: &Affine, body: &Shape) -> Rows {
        let edges: Vec<Edge> = body.edges().collect();
        let mut off = Rows::new(self.grid);
        let mut on = Rows::new(self.grid);
        let everything = {
            let mut row = Row::default();
            row.set(0..self.grid.columns());
            row
        };
        for point in crate::place::placed::extent_points(drawn) {
            on.clear();
            spend(edges.len() as u64 * 8);
            for (a, b) in &edges {
                self.crossings_of_moving(*film * point, *a, *b, &mut on);
            }
            for (off, on) in off.0.iter_mut().zip(&on.0) {
                off.join(&everything.without(on));
            }
        }
        off
    }
}
