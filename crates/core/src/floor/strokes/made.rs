//! Strokes for strips: which way they run and what exactly they press.

use std::collections::BTreeMap;

use crate::floor::air::Cell;
use crate::floor::prove::{Ground, Moment, NEVER, TOLD_MM};
use crate::floor::strokes::columns::Columns;
use crate::floor::strokes::crease::{CreasePart, fewer_points};
use crate::floor::strokes::{SLIT_MM, Strip, Stroke, StrokeKind};

/// A middle line passes no farther off its points than this, mm.
const MIDDLE_MM: f64 = 5.0;
/// A corner that is no farther than this off the line through its neighbours is none, mm.
const CORNER_MM: f64 = 0.001;

/// A way out of a strip.
struct WayOut {
    /// Where along it begins and ends, mm; the same where it is an upright edge.
    from: f64,
    to: f64,
    /// Its length, mm.
    long_mm: f64,
    /// Whether it is an upright edge of the piece to its right.
    of_right: bool,
}

/// Strokes as they are made, one strip after the other.
pub(super) struct Made<'a> {
    sheet: &'a Columns,
    overlap_mm: f64,
    squeegee_mm: f64,
    pub strokes: Vec<Stroke>,
    /// When each piece is pressed.
    pub pressed: Vec<Moment>,
    /// Number of each flat in the order in which they are begun.
    begun: BTreeMap<u32, u32>,
}

impl<'a> Made<'a> {
    pub fn new(sheet: &'a Columns, overlap_mm: f64, squeegee_mm: f64) -> Made<'a> {
        Made {
            sheet,
            overlap_mm,
            squeegee_mm,
            strokes: Vec::new(),
            pressed: vec![NEVER; sheet.count()],
            begun: BTreeMap::new(),
        }
    }

    fn flat(&mut self, flat: u32) -> u32 {
        let next = self.begun.len() as u32 + 1;
        *self.begun.entry(flat).or_insert(next)
    }

    /// Presses a strip towards an end from which air still gets out; from both ends to where it does, if that is in between.
    pub fn strip(&mut self, strip: &Strip) {
        let ways = self.ways_out(strip);
        let all: f64 = ways.iter().map(|w| w.long_mm).sum();
        let need = all.min(SLIT_MM);
        let x = |column: u32| self.sheet.xs[column as usize];
        let (from, to) = (x(strip.columns.0), x(strip.columns.1 + 1));
        let near = |is: &dyn Fn(&WayOut) -> bool| -> bool {
            ways.iter()
                .filter(|w| is(w))
                .map(|w| w.long_mm)
                .sum::<f64>()
                >= need - 1e-9
        };
        // One that reaches the very end, and enough of them near it.
        let right = ways.iter().any(|w| w.to >= to - 1e-9) && near(&|w| w.to >= to - TOLD_MM);
        let left =
            ways.iter().any(|w| w.from <= from + 1e-9) && near(&|w| w.from <= from + TOLD_MM);
        let outward_right = strip.mouth_right.unwrap_or(strip.off_centre >= 0.0);
        let widest = (ways.iter()).max_by(|a, b| a.long_mm.total_cmp(&b.long_mm));
        match widest {
            Some(way) if !right && !left => {
                let at = (strip.pieces)
                    .partition_point(|n| x(self.sheet.pieces[*n as usize].column + 1) <= way.to);
                let (head, tail) = strip.pieces.split_at(at);
                // The part that has no way out of its own first, towards the one that has; then that one, to its very end.
                let parts = if way.of_right {
                    [(head, false), (tail, true)]
                } else {
                    [(tail, true), (head, false)]
                };
                for (part, leftward) in parts {
                    if !part.is_empty() {
                        self.stroke(strip, part, leftward);
                    }
                }
            }
            _ if widest.is_none() || (right && (outward_right || !left)) => {
                self.stroke(strip, &strip.pieces, false);
            }
            _ => self.stroke(strip, &strip.pieces, true),
        }
    }

    /// Where air gets out of a strip now: over the rim, or into film that is not pressed yet.
    fn ways_out(&self, strip: &Strip) -> Vec<WayOut> {
        let x = |half: u32| self.sheet.xs[half.div_ceil(2) as usize];
        let mut ways = Vec::new();
        for n in &strip.pieces {
            let piece = &self.sheet.pieces[*n as usize];
            let own = piece.exits.map(|span| (span, piece.exit_mm));
            let open = (self.sheet.contacts(*n as usize))
                .filter(|(k, _, _)| self.pressed[*k] == NEVER)
                .filter(|(k, _, _)| strip.pieces.binary_search(&(*k as u32)).is_err())
                .map(|(_, span, mm)| (span, mm));
            ways.extend(own.into_iter().chain(open).map(|((a, b), long_mm)| WayOut {
                from: x(a),
                to: x(b),
                long_mm,
                of_right: a == b && a % 2 == 0,
            }));
        }
        ways
    }

    fn stroke(&mut self, strip: &Strip, pieces: &[u32], leftward: bool) {
        let number = self.strokes.len() as u32 + 1;
        let flat = self.flat(strip.flat);
        let (above, below) = self.laps(pieces);
        let (mut upper, mut lower, mut middle) = (Vec::new(), Vec::new(), Vec::new());
        let mut width_mm = 0.0_f64;
        for n in pieces {
            let piece = &self.sheet.pieces[*n as usize];
            let (up, down) = (
                self.free(*n as usize, above, true),
                self.free(*n as usize, below, false),
            );
            for end in [0, 1] {
                let x = self.sheet.xs[piece.column as usize + end];
                let (top, foot) = (piece.top[end] - up, piece.foot[end] + down);
                upper.push([x, top]);
                lower.push([x, foot]);
                middle.push([x, f64::midpoint(top, foot)]);
                width_mm = width_mm.max(foot - top);
            }
        }
        for (step, n) in pieces.iter().enumerate() {
            let step = if leftward {
                pieces.len() - 1 - step
            } else {
                step
            };
            self.pressed[*n as usize] = (number, step as u32);
        }
        if leftward {
            middle.reverse();
        }
        let mut shape = fewer_points(&upper, CORNER_MM);
        lower.reverse();
        shape.extend(fewer_points(&lower, CORNER_MM));
        shape.dedup();
        self.strokes.push(Stroke {
            number,
            kind: if strip.rank > 0 {
                StrokeKind::Recess
            } else {
                StrokeKind::Flat
            },
            stage: strip.stage + 1,
            flat,
            path: fewer_points(&middle, MIDDLE_MM),
            shape,
            within_band: false,
            holds: strip.rank > 0 && strip.to_mouth == 0,
            width_mm,
        });
    }

    /// How far a stroke over these pieces laps over film that lies above and below it: above if any does, else below, and no wider than the
    /// blade.
    fn laps(&self, pieces: &[u32]) -> (f64, f64) {
        let tallest = pieces
            .iter()
            .map(|n| &self.sheet.pieces[*n as usize])
            .flat_map(|p| [p.foot[0] - p.top[0], p.foot[1] - p.top[1]])
            .fold(0.0, f64::max);
        let most = self.overlap_mm.min(self.squeegee_mm - tallest).max(0.0);
        let lies = |up: bool| {
            pieces.iter().any(|n| {
                self.next(*n as usize, up)
                    .is_some_and(|k| self.pressed[k] != NEVER)
            })
        };
        if lies(true) {
            (most, 0.0)
        } else if lies(false) {
            (0.0, most)
        } else {
            (0.0, 0.0)
        }
    }

    /// The piece above or below, where no wall stands between.
    fn next(&self, n: usize, up: bool) -> Option<usize> {
        let piece = self.sheet.pieces.get(n)?;
        let (wall, next) = if up {
            (piece.wall_above, n.checked_sub(1)?)
        } else {
            (piece.wall_below, n + 1)
        };
        let same = self.sheet.in_column(piece.column as usize).contains(&next);
        (same && !wall).then_some(next)
    }

    /// How far, at most, one can go up or down from a piece over nothing but film that lies and places without film, mm.
    fn free(&self, mut n: usize, most: f64, up: bool) -> f64 {
        let mut far = 0.0_f64;
        while far < most {
            let piece = &self.sheet.pieces[n];
            let wall = if up {
                piece.wall_above
            } else {
                piece.wall_below
            };
            let Some(next) = self.next(n, up) else {
                // Beyond the last piece there is nothing.
                return if wall { far } else { most };
            };
            let other = &self.sheet.pieces[next];
            let blank = match other.what {
                Cell::Film => self.pressed[next] != NEVER,
                Cell::Outside => true,
                Cell::Blocked => false,
            };
            if !blank {
                return far;
            }
            far += (other.foot[0] - other.top[0]).min(other.foot[1] - other.top[1]);
            n = next;
        }
        most
    }

    pub fn crease(&mut self, crease: CreasePart, flat: u32) {
        let flat = self.flat(flat);
        self.strokes.push(Stroke {
            number: self.strokes.len() as u32 + 1,
            kind: StrokeKind::Crease,
            stage: crease.stage + 1,
            flat,
            path: crease.points,
            shape: Vec::new(),
            within_band: false,
            holds: false,
            width_mm: self.overlap_mm,
        });
    }
}
