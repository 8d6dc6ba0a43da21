//! A sheet cut into pieces with exact edges: upright cuts through every corner and crossing, so that within a column nothing changes but
//! height, and level cuts where the bands of the squeegee meet.
//!
//! A piece is pressed whole. Whether air passes from one to the next, and where it leaves the sheet, follows from their common edges: no
//! grid decides it.

use kurbo::{Point, Rect};

use crate::floor::air::Cell;
use crate::floor::prove::Ground;
use crate::floor::sheet_plan::SheetPlan;
use crate::ground::budget::spend;

/// Places nearer than this count as one, mm: no more, since a steep line climbs much in little.
const SAME_MM: f64 = 1e-6;
/// Lines that lie on each other within this are one, mm.
const ON_EACH_OTHER_MM: f64 = 1e-3;
/// A common edge shorter than this lets no air through, mm.
const WAY_MM: f64 = 0.05;
/// A gap or a vent lets air out however short it is: it counts as this much of an edge, mm.
const WIDE_MM: f64 = 100.0;
/// How near to a closed part of the rim a point of the rim lies on it, mm.
const CLOSED_MM: f64 = 0.5;

/// Half-columns from and to: twice the column for its left edge, one more for its right edge, both for all of it.
pub type Span = (u32, u32);

/// A part of one column between two lines.
#[derive(Debug, Clone)]
pub struct Piece {
    /// The column.
    pub column: u32,
    /// Heights of its upper edge at its left and its right end, mm.
    pub top: [f64; 2],
    /// Heights of its lower edge.
    pub foot: [f64; 2],
    /// What is there.
    pub what: Cell,
    /// How deep it lies in a recess, mm; 0 on a flat.
    pub rank: u8,
    /// Number of its band.
    pub band: u32,
    /// Whether its upper edge is a wall.
    pub wall_above: bool,
    /// Whether its lower edge is a wall.
    pub wall_below: bool,
    /// Where air leaves the sheet from it.
    pub exits: Option<Span>,
    /// Over how much of its edge, mm.
    pub exit_mm: f64,
}

impl Piece {
    fn height(&self) -> f64 {
        (self.foot[0] - self.top[0] + self.foot[1] - self.top[1]) / 2.0
    }

    fn lets_out(&mut self, at: Span, along_mm: f64) {
        self.exit_mm += along_mm;
        let span = self.exits.get_or_insert(at);
        *span = (span.0.min(at.0), span.1.max(at.1));
    }
}

/// A sheet in columns.
#[derive(Debug, Clone, Default)]
pub struct Columns {
    /// Where the columns meet: one more than there are columns, mm.
    pub xs: Vec<f64>,
    /// Pieces, column by column and downwards within each.
    pub pieces: Vec<Piece>,
    /// The first piece of each column, and the number of all.
    first: Vec<usize>,
    /// Film of the next column to which air passes from a piece, and over how much of the common edge, mm.
    right: Vec<Vec<(u32, f64)>>,
    /// Film of the column before.
    left: Vec<Vec<(u32, f64)>>,
}

/// What a line of the plan is.
#[derive(Clone, Copy, PartialEq)]
enum Is {
    /// An edge of a shape, by its place among all shapes.
    Edge(usize),
    Wall,
    Gap,
    /// Cuts, and changes nothing.
    Cut,
}

/// A line from its left to its right end; an upright one from above to below.
#[derive(Clone, Copy)]
struct Line {
    a: Point,
    b: Point,
    is: Is,
}

impl Line {
    fn new(a: Point, b: Point, is: Is) -> Line {
        if (a.x, a.y) <= (b.x, b.y) {
            Line { a, b, is }
        } else {
            Line { a: b, b: a, is }
        }
    }

    fn upright(&self) -> bool {
        self.b.x - self.a.x <= SAME_MM
    }

    fn height_at(&self, x: f64) -> f64 {
        let t = ((x - self.a.x) / (self.b.x - self.a.x)).clamp(0.0, 1.0);
        self.a.y + (self.b.y - self.a.y) * t
    }
}

impl Columns {
    /// Cuts a sheet. `bands` are heights from and to with the band's number; `cuts` are places of further upright cuts, mm.
    pub fn of(plan: &SheetPlan, bands: &[(f64, f64, u32)], cuts: &[f64]) -> Columns {
        let lines = lines(plan, bands);
        let xs = places(&lines, cuts);
        let mut columns = Columns {
            xs,
            ..Columns::default()
        };
        let mut slanted: Vec<&Line> = lines.iter().filter(|l| !l.upright()).collect();
        slanted.sort_by(|a, b| a.a.x.total_cmp(&b.a.x));
        let mut coming = slanted.into_iter().peekable();
        let mut here: Vec<&Line> = Vec::new();
        for column in 0..columns.xs.len().saturating_sub(1) {
            let (from, to) = (columns.xs[column], columns.xs[column + 1]);
            let middle = f64::midpoint(from, to);
            while let Some(line) = coming.next_if(|l| l.a.x <= middle) {
                here.push(line);
            }
            here.retain(|l| l.b.x >= middle);
            spend(here.len() as u64 * 4 + 1);
            columns.first.push(columns.pieces.len());
            columns.stack(plan, bands, column as u32, &here, [from, to]);
        }
        columns.first.push(columns.pieces.len());
        columns.open_rim(plan);
        columns.join(plan, &lines);
        for vent in &plan.vents {
            if let Some(n) = columns.at(*vent) {
                let column = columns.pieces[n].column;
                columns.pieces[n].lets_out((2 * column, 2 * column + 1), WIDE_MM);
            }
        }
        columns
    }

    /// The pieces of a column.
    pub fn in_column(&self, column: usize) -> std::ops::Range<usize> {
        let end = |n: usize| self.first.get(n).copied().unwrap_or(self.pieces.len());
        end(column)..end(column + 1)
    }

    /// The piece that holds a point.
    pub fn at(&self, p: Point) -> Option<usize> {
        let column = self.xs.partition_point(|x| *x <= p.x).checked_sub(1)?;
        let (from, to) = (self.xs[column], *self.xs.get(column + 1)?);
        let t = (p.x - from) / (to - from);
        let height = |edge: [f64; 2]| edge[0] + (edge[1] - edge[0]) * t;
        self.in_column(column).find(|n| {
            let piece = &self.pieces[*n];
            height(piece.top) <= p.y && p.y <= height(piece.foot)
        })
    }

    /// Film to which air passes from a piece: the half-columns of the common edge as this piece sees it, and its length, mm.
    pub fn contacts(&self, n: usize) -> impl Iterator<Item = (usize, Span, f64)> + '_ {
        let c = self.pieces[n].column;
        let all = (2 * c, 2 * c + 1);
        let wide = self.xs[c as usize + 1] - self.xs[c as usize];
        let over = |k: Option<usize>, wall: bool| {
            k.filter(|k| !wall && self.in_column(c as usize).contains(k))
                .filter(|k| self.pieces[*k].what == Cell::Film)
        };
        let above = over(n.checked_sub(1), self.pieces[n].wall_above);
        let below = over(Some(n + 1), self.pieces[n].wall_below);
        above
            .into_iter()
            .chain(below)
            .map(move |k| (k, all, wide))
            .chain(
                self.right[n]
                    .iter()
                    .map(move |(k, mm)| (*k as usize, (2 * c + 1, 2 * c + 1), *mm)),
            )
            .chain(
                self.left[n]
                    .iter()
                    .map(move |(k, mm)| (*k as usize, (2 * c, 2 * c), *mm)),
            )
    }

    /// Film of the next column to which air passes from a piece.
    pub fn to_the_right(&self, n: usize) -> impl Iterator<Item = usize> + '_ {
        self.right
            .get(n)
            .into_iter()
            .flatten()
            .map(|(k, _)| *k as usize)
    }

    /// Film of the column before to which air passes from a piece.
    pub fn to_the_left(&self, n: usize) -> impl Iterator<Item = usize> + '_ {
        self.left
            .get(n)
            .into_iter()
            .flatten()
            .map(|(k, _)| *k as usize)
    }

    /// The flats of the sheet: which one each piece belongs to, and how many there are. What is no film belongs to `u32::MAX`.
    pub fn flats(&self) -> (Vec<u32>, u32) {
        let mut of = vec![u32::MAX; self.pieces.len()];
        let mut count = 0;
        let mut waiting = Vec::new();
        for start in 0..self.pieces.len() {
            if self.pieces[start].what != Cell::Film || of[start] != u32::MAX {
                continue;
            }
            of[start] = count;
            waiting.push(start);
            while let Some(n) = waiting.pop() {
                for (other, _, _) in self.contacts(n) {
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

    /// The rectangle round all film.
    pub fn film_bounds(&self) -> Option<Rect> {
        (0..self.pieces.len())
            .filter(|n| self.film(*n))
            .map(|n| self.bounds(n))
            .reduce(|a, b| a.union(b))
    }

    /// Adds the pieces of one column, from the lines that cross it.
    fn stack(
        &mut self,
        plan: &SheetPlan,
        bands: &[(f64, f64, u32)],
        column: u32,
        here: &[&Line],
        [from, to]: [f64; 2],
    ) {
        let mut at: Vec<([f64; 2], Is)> = here
            .iter()
            .map(|l| ([l.height_at(from), l.height_at(to)], l.is))
            .collect();
        at.sort_by(|a, b| (a.0[0] + a.0[1]).total_cmp(&(b.0[0] + b.0[1])));
        let mut inside = vec![false; shapes(plan).count()];
        let whole = (2 * column, 2 * column + 1);
        let start = self.pieces.len();
        let mut n = 0;
        while n < at.len() {
            // Lines that lie on each other are one.
            let middle = (at[n].0[0] + at[n].0[1]) / 2.0;
            let top = at[n].0;
            let (mut wall, mut gap) = (false, false);
            while n < at.len() && (at[n].0[0] + at[n].0[1]) / 2.0 - middle <= ON_EACH_OTHER_MM {
                match at[n].1 {
                    Is::Edge(shape) => inside[shape] = !inside[shape],
                    Is::Wall => wall = true,
                    Is::Gap => gap = true,
                    Is::Cut => {}
                }
                n += 1;
            }
            if let Some(above) = self.pieces.get_mut(start..).and_then(|p| p.last_mut()) {
                above.foot = top;
                above.wall_below = wall;
                if gap && above.what == Cell::Film {
                    above.lets_out(whole, WIDE_MM);
                }
            }
            let Some((foot, _)) = at.get(n) else { break };
            let (what, rank) = what(plan, &inside);
            let middle = (top[0] + top[1] + foot[0] + foot[1]) / 4.0;
            let band = bands
                .iter()
                .find(|(a, b, _)| *a <= middle && middle < *b)
                .map_or(0, |(_, _, n)| *n);
            let piece = Piece {
                column,
                top,
                foot: *foot,
                what,
                rank,
                band,
                wall_above: wall,
                wall_below: false,
                exits: (gap && what == Cell::Film).then_some(whole),
                exit_mm: if gap { WIDE_MM } else { 0.0 },
            };
            match self.pieces.get_mut(start..).and_then(|p| p.last_mut()) {
                // Nothing changes here.
                Some(above)
                    if !wall
                        && above.what == what
                        && (what != Cell::Film || (above.rank, above.band) == (rank, band)) =>
                {
                    above.foot = *foot;
                }
                _ => self.pieces.push(piece),
            }
        }
    }

    /// Opens the rim above and below where no film lies and nothing closes it.
    fn open_rim(&mut self, plan: &SheetPlan) {
        for n in 0..self.pieces.len() {
            if self.pieces[n].what != Cell::Film {
                continue;
            }
            let column = self.pieces[n].column;
            let all = self.in_column(column as usize);
            let nothing = |k: Option<usize>| {
                k.filter(|k| all.contains(k))
                    .is_none_or(|k| self.pieces[k].what == Cell::Outside)
            };
            let piece = &self.pieces[n];
            let x = self.middle_of(column);
            let shut = |edge: [f64; 2]| {
                plan.closed_at(Point::new(x, (edge[0] + edge[1]) / 2.0), CLOSED_MM)
            };
            let above = !piece.wall_above && nothing(n.checked_sub(1)) && !shut(piece.top);
            let below = !piece.wall_below && nothing(Some(n + 1)) && !shut(piece.foot);
            if above || below {
                let wide = self.xs[column as usize + 1] - self.xs[column as usize];
                self.pieces[n].lets_out((2 * column, 2 * column + 1), wide);
            }
        }
    }

    fn middle_of(&self, column: u32) -> f64 {
        f64::midpoint(self.xs[column as usize], self.xs[column as usize + 1])
    }

    /// Joins the columns along their common edges.
    fn join(&mut self, plan: &SheetPlan, lines: &[Line]) {
        self.right = vec![Vec::new(); self.pieces.len()];
        self.left = vec![Vec::new(); self.pieces.len()];
        let mut upright: Vec<&Line> = lines
            .iter()
            .filter(|l| l.upright() && matches!(l.is, Is::Wall | Is::Gap))
            .collect();
        upright.sort_by(|a, b| a.a.x.total_cmp(&b.a.x));
        for (place, x) in self.xs.clone().into_iter().enumerate() {
            let near = upright.partition_point(|l| l.a.x < x - SAME_MM);
            let here: Vec<&Line> = upright[near..]
                .iter()
                .take_while(|l| l.a.x <= x + SAME_MM)
                .copied()
                .collect();
            let of = |is: Is| -> Vec<(f64, f64)> {
                here.iter()
                    .filter(|l| l.is == is)
                    .map(|l| (l.a.y, l.b.y))
                    .collect()
            };
            let (walls, gaps) = (of(Is::Wall), of(Is::Gap));
            let mut shut = walls.clone();
            shut.extend(
                plan.closed
                    .iter()
                    .map(|r| r.inflate(CLOSED_MM, CLOSED_MM))
                    .filter(|r| r.x0 <= x && x <= r.x1)
                    .map(|r| (r.y0, r.y1)),
            );
            // The edges on both sides: film, blocked, or nothing where no piece is.
            let side = |column: Option<usize>, end: usize| {
                let mut edges: Vec<(f64, f64, Option<usize>)> = Vec::new();
                let mut y = f64::NEG_INFINITY;
                for n in column.map_or(0..0, |c| self.in_column(c)) {
                    let piece = &self.pieces[n];
                    edges.push((y, piece.top[end], None));
                    let blank = piece.what == Cell::Outside;
                    edges.push((piece.top[end], piece.foot[end], (!blank).then_some(n)));
                    y = piece.foot[end];
                }
                edges.push((y, f64::INFINITY, None));
                edges
            };
            let before = side(place.checked_sub(1), 1);
            let after = side((place + 1 < self.xs.len()).then_some(place), 0);
            let (left_end, right_end) = ((2 * place as u32).wrapping_sub(1), 2 * place as u32);
            let (mut l, mut r) = (0, 0);
            while let (Some(a), Some(b)) = (before.get(l), after.get(r)) {
                let (from, to) = (a.0.max(b.0), a.1.min(b.1));
                let film = |n: Option<usize>| n.filter(|n| self.pieces[*n].what == Cell::Film);
                let (was, is) = (film(a.2), film(b.2));
                let (one, other) = (a.2, b.2);
                if a.1 <= b.1 {
                    l += 1;
                } else {
                    r += 1;
                }
                if to - from <= WAY_MM || (was.is_none() && is.is_none()) {
                    continue;
                }
                let touched = |gap: &(f64, f64)| gap.1.min(to) - gap.0.max(from) > WAY_MM;
                let gap = gaps.iter().any(touched);
                match (was, is) {
                    (Some(p), Some(q)) => {
                        let free = longest_left((from, to), &walls);
                        if free > WAY_MM {
                            self.right[p].push((q as u32, free));
                            self.left[q].push((p as u32, free));
                        }
                    }
                    (Some(p), None) => {
                        let free = longest_left((from, to), &shut);
                        if other.is_none() && free > WAY_MM {
                            self.pieces[p].lets_out((left_end, left_end), free);
                        }
                    }
                    (None, Some(q)) => {
                        let free = longest_left((from, to), &shut);
                        if one.is_none() && free > WAY_MM {
                            self.pieces[q].lets_out((right_end, right_end), free);
                        }
                    }
                    (None, None) => {}
                }
                if gap {
                    for (n, end) in [(was, left_end), (is, right_end)] {
                        if let Some(n) = n {
                            self.pieces[n].lets_out((end, end), WIDE_MM);
                        }
                    }
                }
            }
        }
    }
}

/// The longest part of an interval that others leave.
fn longest_left((from, to): (f64, f64), others: &[(f64, f64)]) -> f64 {
    let mut others: Vec<(f64, f64)> = others
        .iter()
        .copied()
        .filter(|(a, b)| *b > from && *a < to)
        .collect();
    others.sort_by(|a, b| a.0.total_cmp(&b.0));
    let (mut at, mut longest) = (from, 0.0_f64);
    for (a, b) in others {
        longest = longest.max(a - at);
        at = at.max(b);
    }
    longest.max(to - at)
}

/// All shapes of a plan, in one order: film, things, recesses.
fn shapes(plan: &SheetPlan) -> impl Iterator<Item = &crate::ground::outline::Shape> {
    plan.film
        .iter()
        .chain(plan.things.iter().map(|(s, _)| s))
        .chain(plan.recesses.iter().map(|(s, _)| s))
}

/// What lies inside of some shapes.
fn what(plan: &SheetPlan, inside: &[bool]) -> (Cell, u8) {
    let (film, rest) = inside.split_at(plan.film.len());
    let (things, recesses) = rest.split_at(plan.things.len());
    if film.is_empty() || !film.iter().all(|i| *i) {
        return (Cell::Outside, 0);
    }
    let thing = plan.things.iter().zip(things).rfind(|(_, i)| **i);
    if let Some(((_, cell), _)) = thing {
        return (*cell, 0);
    }
    let depth = plan.recesses.iter().zip(recesses).filter(|(_, i)| **i);
    (Cell::Film, depth.map(|((_, d), _)| *d).max().unwrap_or(0))
}

fn lines(plan: &SheetPlan, bands: &[(f64, f64, u32)]) -> Vec<Line> {
    let bounds = plan.bounds().inflate(1.0, 1.0);
    let mut lines: Vec<Line> = Vec::new();
    let mut add = |a: Point, b: Point, is: Is| {
        // What passes beside the sheet cuts nothing of it, unless it lies over it from end to end.
        let near = Rect::from_points(a, b);
        let meets = near.x1 >= bounds.x0 && near.x0 <= bounds.x1;
        if meets && (matches!(is, Is::Edge(_)) || near.y1 >= bounds.y0 && near.y0 <= bounds.y1) {
            lines.push(Line::new(a, b, is));
        }
    };
    for (n, shape) in shapes(plan).enumerate() {
        shape.edges().for_each(|(a, b)| add(a, b, Is::Edge(n)));
    }
    for (of, is) in [(&plan.walls, Is::Wall), (&plan.gaps, Is::Gap)] {
        for pair in of.iter().flat_map(|points| points.windows(2)) {
            add(pair[0], pair[1], is);
        }
    }
    for rect in &plan.closed {
        let r = rect.inflate(CLOSED_MM, CLOSED_MM);
        let corners = crate::ground::outline::Shape::rectangle(r);
        corners.edges().for_each(|(a, b)| add(a, b, Is::Cut));
    }
    for (from, to, _) in bands {
        for y in [*from, *to] {
            add(Point::new(bounds.x0, y), Point::new(bounds.x1, y), Is::Cut);
        }
    }
    lines
}

/// Where upright cuts are made: at every end of a line and wherever two cross.
fn places(lines: &[Line], cuts: &[f64]) -> Vec<f64> {
    let mut xs: Vec<f64> = lines
        .iter()
        .flat_map(|l| [l.a.x, l.b.x])
        .chain(cuts.iter().copied())
        .collect();
    let mut sorted: Vec<&Line> = lines.iter().filter(|l| !l.upright()).collect();
    sorted.sort_by(|a, b| a.a.x.total_cmp(&b.a.x));
    for (n, one) in sorted.iter().enumerate() {
        let (low, high) = (one.a.y.min(one.b.y), one.a.y.max(one.b.y));
        let mut looked = 0;
        for other in sorted[n + 1..].iter().take_while(|l| l.a.x <= one.b.x) {
            looked += 1;
            if other.a.y.min(other.b.y) <= high && other.a.y.max(other.b.y) >= low {
                xs.extend(crossing(one, other));
            }
        }
        spend(looked / 4 + 1);
    }
    xs.sort_by(f64::total_cmp);
    xs.dedup_by(|b, a| *b - *a <= SAME_MM);
    xs
}

/// Where two lines cross, mm along.
fn crossing(one: &Line, other: &Line) -> Option<f64> {
    let (u, v) = (one.b - one.a, other.b - other.a);
    let turn = u.cross(v);
    if turn.abs() < 1e-9 {
        return None;
    }
    let between = other.a - one.a;
    let (t, s) = (between.cross(v) / turn, between.cross(u) / turn);
    ((0.0..=1.0).contains(&t) && (0.0..=1.0).contains(&s)).then_some(one.a.x + u.x * t)
}

impl Ground for Columns {
    fn count(&self) -> usize {
        self.pieces.len()
    }

    fn film(&self, n: usize) -> bool {
        self.pieces.get(n).is_some_and(|p| p.what == Cell::Film)
    }

    fn exit(&self, n: usize) -> bool {
        self.pieces.get(n).is_some_and(|p| p.exits.is_some())
    }

    fn beside(&self, n: usize, tell: &mut dyn FnMut(usize)) {
        self.contacts(n).for_each(|(other, _, _)| tell(other));
    }

    fn bounds(&self, n: usize) -> Rect {
        let p = &self.pieces[n];
        let c = p.column as usize;
        Rect::new(
            self.xs[c],
            p.top[0].min(p.top[1]),
            self.xs[c + 1],
            p.foot[0].max(p.foot[1]),
        )
    }

    fn place(&self, n: usize) -> Point {
        let p = &self.pieces[n];
        let y = (p.top[0] + p.top[1] + p.foot[0] + p.foot[1]) / 4.0;
        Point::new(self.middle_of(p.column), y)
    }

    fn area_mm2(&self, n: usize) -> f64 {
        let p = &self.pieces[n];
        let c = p.column as usize;
        p.height() * (self.xs[c + 1] - self.xs[c])
    }
}
