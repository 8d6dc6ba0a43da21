//! The window that is searched: a grid of moves, and exact spans of it, row by row.

use kurbo::Point;

/// Most moves on each side of the wanted place, along or down: a row fits into four words.
pub const MOST_STEPS: u32 = 127;

/// A grid of moves round the wanted place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grid {
    /// Moves to each side along.
    pub half_columns: u32,
    /// Moves up and down.
    pub half_rows: u32,
    /// One move, mm.
    pub step_mm: f64,
}

impl Grid {
    /// Moves in a row.
    pub fn columns(&self) -> usize {
        2 * self.half_columns as usize + 1
    }

    /// Rows of moves.
    pub fn rows(&self) -> usize {
        2 * self.half_rows as usize + 1
    }

    /// Number of the cell at a column and a row.
    pub fn cell(&self, column: usize, row: usize) -> usize {
        row * self.columns() + column
    }

    /// Move to the right of a column, mm.
    pub fn right(&self, column: usize) -> f64 {
        (column as f64 - f64::from(self.half_columns)) * self.step_mm
    }

    /// Move down of a row, mm.
    pub fn down(&self, row: usize) -> f64 {
        (row as f64 - f64::from(self.half_rows)) * self.step_mm
    }

    /// Farthest move along, mm.
    pub fn reach_x(&self) -> f64 {
        f64::from(self.half_columns) * self.step_mm
    }

    /// Farthest move up or down, mm.
    pub fn reach_y(&self) -> f64 {
        f64::from(self.half_rows) * self.step_mm
    }

    /// Rows whose move down lies within a span.
    pub fn rows_within(&self, low: f64, high: f64) -> std::ops::Range<usize> {
        let (first, last) = self.within(low, high, self.half_rows);
        first..last
    }

    /// Columns whose move lies within a span.
    pub fn columns_within(&self, low: f64, high: f64) -> std::ops::Range<usize> {
        let (first, last) = self.within(low, high, self.half_columns);
        first..last
    }

    fn within(&self, low: f64, high: f64, half: u32) -> (usize, usize) {
        let half = f64::from(half);
        let first = (low / self.step_mm + half)
            .ceil()
            .clamp(0.0, 2.0 * half + 1.0);
        let last = (high / self.step_mm + half).floor().clamp(-1.0, 2.0 * half) + 1.0;
        (first as usize, (last as usize).max(first as usize))
    }
}

/// One bit for each move of a row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Row([u64; 4]);

impl Row {
    fn span(columns: std::ops::Range<usize>) -> Row {
        let mut row = Row::default();
        for (n, word) in row.0.iter_mut().enumerate() {
            let from = columns.start.max(64 * n);
            let to = columns.end.min(64 * n + 64);
            if from < to {
                let length = to - from;
                let ones = if length == 64 {
                    u64::MAX
                } else {
                    (1 << length) - 1
                };
                *word = ones << (from - 64 * n);
            }
        }
        row
    }

    /// Sets the moves of a range.
    pub fn set(&mut self, columns: std::ops::Range<usize>) {
        let span = Row::span(columns);
        for (word, s) in self.0.iter_mut().zip(span.0) {
            *word |= s;
        }
    }

    /// Turns the moves of a range over.
    pub fn toggle(&mut self, columns: std::ops::Range<usize>) {
        let span = Row::span(columns);
        for (word, s) in self.0.iter_mut().zip(span.0) {
            *word ^= s;
        }
    }

    /// Sets what is set in the other.
    pub fn join(&mut self, other: &Row) {
        for (word, o) in self.0.iter_mut().zip(other.0) {
            *word |= o;
        }
    }

    /// What is set here and not in the other.
    pub fn without(&self, other: &Row) -> Row {
        let mut row = *self;
        for (word, o) in row.0.iter_mut().zip(other.0) {
            *word &= !o;
        }
        row
    }

    /// Sets one move.
    pub fn mark(&mut self, column: usize) {
        if let Some(word) = self.0.get_mut(column / 64) {
            *word |= 1 << (column % 64);
        }
    }

    /// Every move that is set.
    pub fn ones(self) -> impl Iterator<Item = usize> {
        self.0.into_iter().enumerate().flat_map(|(n, mut word)| {
            std::iter::from_fn(move || {
                if word == 0 {
                    return None;
                }
                let at = word.trailing_zeros() as usize;
                word &= word - 1;
                Some(64 * n + at)
            })
        })
    }

    /// Whether nothing is set.
    pub fn is_empty(&self) -> bool {
        self.0 == [0; 4]
    }
}

/// From where to where points of the level line at `y` are nearer than `radius` to a segment; `None` where none is.
pub fn near_segment(a: Point, b: Point, radius: f64, y: f64) -> Option<(f64, f64)> {
    let mut span: Option<(f64, f64)> = None;
    let mut add = |x0: f64, x1: f64| {
        span = Some(span.map_or((x0, x1), |(low, high)| (low.min(x0), high.max(x1))));
    };
    for end in [a, b] {
        let dy = y - end.y;
        if dy.abs() < radius {
            let half = (radius * radius - dy * dy).sqrt();
            add(end.x - half, end.x + half);
        }
    }
    let along = b - a;
    let length = along.hypot();
    if length > 1e-12 && radius > 0.0 {
        let n = kurbo::Vec2::new(-along.y, along.x) * (radius / length);
        if let Some((low, high)) = slice(&[a + n, b + n, b - n, a - n], y) {
            add(low, high);
        }
    }
    span
}

/// From where to where the level line at `y` lies within a convex four-cornered outline; `None` where it passes by.
pub fn slice(corners: &[Point; 4], y: f64) -> Option<(f64, f64)> {
    let mut span: Option<(f64, f64)> = None;
    for n in 0..4 {
        let (a, b) = (corners[n], corners[(n + 1) % 4]);
        let (low, high) = (a.y.min(b.y), a.y.max(b.y));
        if y < low || y > high {
            continue;
        }
        let mut add =
            |x: f64| span = Some(span.map_or((x, x), |(l, h): (f64, f64)| (l.min(x), h.max(x))));
        if high - low < 1e-12 {
            add(a.x);
            add(b.x);
        } else {
            add(a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y));
        }
    }
    span
}

/// Moves of an edge by which it comes nearer than `clearance` to a still segment, on the row whose move down is `down`: from where
/// to where, to the right. They form a rounded parallelogram, the sum of the segment and the edge turned round.
pub fn meets(
    edge: (Point, Point),
    still: (Point, Point),
    clearance: f64,
    down: f64,
) -> Option<(f64, f64)> {
    let corners = [
        (still.0 - edge.0).to_point(),
        (still.1 - edge.0).to_point(),
        (still.1 - edge.1).to_point(),
        (still.0 - edge.1).to_point(),
    ];
    let mut span = slice(&corners, down);
    if clearance > 0.0 {
        for n in 0..4 {
            if let Some((low, high)) =
                near_segment(corners[n], corners[(n + 1) % 4], clearance, down)
            {
                span = Some(span.map_or((low, high), |(l, h)| (l.min(low), h.max(high))));
            }
        }
    }
    span
}
