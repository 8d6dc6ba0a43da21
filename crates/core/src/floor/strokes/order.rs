//! The order of strokes: from the start outwards, so that air always has a way out.

use std::collections::BTreeMap;

use crate::floor::air::{Moment, NEVER, Sheet, Swath, TOLD_MM, press_one, prove};
use crate::floor::strokes::crease::{CreasePart, crease_parts, fewer_points};
use crate::floor::strokes::graph::Graph;
use crate::floor::strokes::{CreaseLine, Run, Start, Strip, Stroke, StrokeKind, StrokeOrder, Ways};
use crate::ground::budget::spend;

/// Works out the order of strokes for a sheet. `rank` tells for each cell how deep it lies in a recess: 0 on a flat, higher the
/// deeper. `creases` are pressed once the first flat beside them lies.
///
/// ```
/// # use windrift_core::floor::{air::{Cell, Sheet}, strokes::{Start, Ways, order::order}};
/// # use windrift_core::ground::outline::Shape;
/// # use kurbo::Rect;
/// let bounds = Rect::new(0.0, 0.0, 600.0, 300.0);
/// let mut sheet = Sheet::over(bounds, 10.0, 0.0);
/// sheet.fill(&Shape::rectangle(bounds), Cell::Film);
/// // It hangs by its upper edge: no air leaves there.
/// sheet.open_rim(|p| p.y <= 10.0);
/// let ways = Ways { start: Start::Top, squeegee_mm: 100.0, overlap_mm: 25.0, reach_mm: 400.0, stage_mm: None };
/// let told = order(&sheet, &vec![0; sheet.len()], &[], &ways);
/// assert!(told.shut_in.is_empty());
/// // From the top down, the middle first.
/// assert!(told.strokes[0].path[0][1] < 100.0);
/// ```
pub fn order(sheet: &Sheet, rank: &[u8], creases: &[CreaseLine], ways: &Ways) -> StrokeOrder {
    match ways.start {
        Start::Top | Start::Height { .. } => upright(sheet, rank, creases, ways),
        Start::Left | Start::Right | Start::Place { .. } => {
            // The same with rows and columns exchanged.
            let turned = sheet.turned();
            let turned_rank: Vec<u8> = (0..sheet.columns)
                .flat_map(|c| (0..sheet.rows).map(move |r| (c, r)))
                .map(|(c, r)| rank.get(sheet.key(c, r)).copied().unwrap_or(0))
                .collect();
            let swap = |p: &[f64; 2]| [p[1], p[0]];
            let creases: Vec<CreaseLine> = creases
                .iter()
                .map(|c| CreaseLine {
                    points: c.points.iter().map(swap).collect(),
                })
                .collect();
            let mut found = upright(&turned, &turned_rank, &creases, ways);
            for stroke in &mut found.strokes {
                stroke.path = stroke.path.iter().map(swap).collect();
            }
            let mut pressed = vec![NEVER; sheet.len()];
            for (key, p) in pressed.iter_mut().enumerate() {
                let (column, row) = (key % sheet.columns, key / sheet.columns);
                *p = found
                    .pressed
                    .get(turned.key(row, column))
                    .copied()
                    .unwrap_or(NEVER);
            }
            found.pressed = pressed;
            for s in &mut found.shut_in {
                s.at = swap(&s.at);
                let [x0, y0, x1, y1] = s.bounds;
                s.bounds = [y0, x0, y1, x1];
            }
            found
        }
    }
}

/// Bands of rows from where the pressing begins, in the order in which they are wanted: (first row, after the last, number).
fn bands(sheet: &Sheet, ways: &Ways) -> Vec<(usize, usize, u32)> {
    let pitch = ((ways.squeegee_mm - ways.overlap_mm) / sheet.cell_mm)
        .round()
        .max(1.0) as usize;
    let row_of = |y: f64| {
        ((y - sheet.corner.y) / sheet.cell_mm)
            .round()
            .clamp(0.0, sheet.rows as f64) as usize
    };
    let downward = |from: usize| {
        (from..sheet.rows)
            .step_by(pitch)
            .zip(0..)
            .map(move |(r, n)| (r, (r + pitch).min(sheet.rows), n))
    };
    let upward = |from: usize| {
        (0..from.div_ceil(pitch)).map(move |n| {
            let end = from - n * pitch;
            (end.saturating_sub(pitch), end, n as u32)
        })
    };
    match ways.start {
        Start::Top | Start::Left => {
            let first = (0..sheet.len())
                .find(|k| sheet.film(*k))
                .map_or(0, |k| k / sheet.columns);
            downward(first).collect()
        }
        Start::Right => {
            let last = (0..sheet.len())
                .rev()
                .find(|k| sheet.film(*k))
                .map_or(sheet.rows, |k| k / sheet.columns + 1);
            upward(last).collect()
        }
        Start::Height { y_mm: at } | Start::Place { x_mm: at } => {
            let middle = row_of(at);
            // One half after the other: the liner of the second stays on meanwhile.
            let below: Vec<_> = downward(middle).collect();
            let after = below.len() as u32;
            let above: Vec<_> = upward(middle)
                .map(|(from, to, n)| (from, to, n + after))
                .collect();
            below.into_iter().chain(above).collect()
        }
    }
}

fn upright(sheet: &Sheet, rank: &[u8], creases: &[CreaseLine], ways: &Ways) -> StrokeOrder {
    let (flat_of, flats) = sheet.flats();
    let stage_bands = ways.stage_mm.map(|mm| {
        ((mm / (ways.squeegee_mm - ways.overlap_mm).max(sheet.cell_mm)).round() as u32).max(1)
    });
    let bands = bands(sheet, ways);
    let (mut strips, strip_of) = strips(sheet, rank, &flat_of, &bands, stage_bands, ways);
    contacts(sheet, &strip_of, &mut strips);
    let ranks = flat_ranks(&strips, flats);
    let sequence = sequence(&strips, &ranks);
    let mut made = Made {
        sheet,
        ways,
        strokes: Vec::new(),
        pressed: vec![NEVER; sheet.len()],
        begun: BTreeMap::new(),
    };
    let mut waiting = crease_parts(sheet, &flat_of, creases, &bands, stage_bands);
    let mut left: BTreeMap<(u32, u32), u32> = BTreeMap::new();
    for strip in &strips {
        *left.entry((strip.stage, strip.flat)).or_default() += 1;
    }
    let mut open = vec![true; strips.len()];
    for n in sequence {
        open[n] = false;
        let strip = &strips[n];
        made.strip(strip, &open);
        if let Some(count) = left.get_mut(&(strip.stage, strip.flat)) {
            *count -= 1;
            if *count == 0 {
                let (now, later): (Vec<_>, Vec<_>) =
                    waiting.into_iter().partition(|c: &CreasePart| {
                        c.stage == strip.stage && c.flats.contains(&strip.flat)
                    });
                waiting = later;
                for crease in now {
                    made.crease(crease, strip.flat);
                }
            }
        }
    }
    for crease in waiting {
        let flat = crease.flats.first().copied().unwrap_or(0);
        made.crease(crease, flat);
    }
    let shut_in = prove(sheet, &made.pressed);
    keep_within(sheet, &made.pressed, &mut made.strokes, ways.overlap_mm);
    StrokeOrder {
        strokes: made.strokes,
        pressed: made.pressed,
        shut_in,
    }
}

/// What is told are strokes of a blade, which reaches a little past the strip that it is meant for. They are run here as they are told;
/// where one shuts in what had a way out, it is told to stay within its band. When every stroke does, the strips are what is run.
fn keep_within(sheet: &Sheet, strips: &[Moment], strokes: &mut [Stroke], overlap_mm: f64) {
    loop {
        let pressed = run_as_told(sheet, strips, strokes);
        let closing: Vec<usize> = prove(sheet, &pressed)
            .into_iter()
            .filter(|r| r.across_mm() > TOLD_MM)
            .filter_map(|r| r.stroke.checked_sub(1))
            // Whichever reached out before it has its share: the nearest that still does.
            .filter_map(|n| {
                (0..=n as usize)
                    .rev()
                    .find(|n| strokes.get(*n).is_some_and(|s| !s.within_band))
            })
            .collect();
        if closing.is_empty() {
            return;
        }
        // All of them at once: each round is a pass over the whole sheet.
        for n in closing {
            if let Some(stroke) = strokes.get_mut(n)
                && !stroke.within_band
            {
                stroke.within_band = true;
                if stroke.kind != StrokeKind::Crease {
                    stroke.width_mm -= overlap_mm;
                }
            }
        }
    }
}

/// When each cell is first pressed by strokes as they are told: at the blade's full width, or within the strip.
pub fn run_as_told(sheet: &Sheet, strips: &[Moment], strokes: &[Stroke]) -> Vec<Moment> {
    let mut pressed: Vec<Moment> = strips
        .iter()
        .map(|m| {
            let stroke = m.0.checked_sub(1).and_then(|n| strokes.get(n as usize));
            if stroke.is_some_and(|s| s.within_band) {
                *m
            } else {
                NEVER
            }
        })
        .collect();
    for stroke in strokes.iter().filter(|s| !s.within_band) {
        let swath = Swath {
            path: stroke.path.clone(),
            width_mm: stroke.width_mm,
        };
        press_one(sheet, &swath, stroke.number, &mut pressed);
    }
    pressed
}

fn strips(
    sheet: &Sheet,
    rank: &[u8],
    flat_of: &[u32],
    bands: &[(usize, usize, u32)],
    stage_bands: Option<u32>,
    ways: &Ways,
) -> (Vec<Strip>, Vec<u32>) {
    let mut strips: Vec<Strip> = Vec::new();
    let mut strip_of = vec![u32::MAX; sheet.len()];
    let reach = (ways.reach_mm / sheet.cell_mm).round().max(1.0);
    let rank_at = |key: usize| rank.get(key).copied().unwrap_or(0);
    for (row0, row1, band) in bands {
        // Where the middle of each flat lies in this band.
        let mut extents: BTreeMap<u32, (u32, u32)> = BTreeMap::new();
        for row in *row0..*row1 {
            for column in 0..sheet.columns {
                let key = sheet.key(column, row);
                if sheet.film(key) {
                    let e = extents
                        .entry(flat_of[key])
                        .or_insert((column as u32, column as u32));
                    *e = (e.0.min(column as u32), e.1.max(column as u32));
                }
            }
        }
        // Which part of a band a column is in, counted from the middle outward on either side.
        let part = |flat: u32, column: u32| -> i64 {
            let (a, b) = extents.get(&flat).copied().unwrap_or((0, 0));
            let middle = f64::from(a + b + 1) / 2.0;
            let off = f64::from(column) + 0.5 - middle;
            let half = (f64::from(b - a + 1) / 2.0).max(0.5);
            let parts = (half / reach).ceil().max(1.0);
            let n = (off.abs() / (half / parts)).floor().min(parts - 1.0) as i64;
            // A strip that fits one arm's reach is still parted at the middle, so that it is pressed from there outward.
            if off < 0.0 { -1 - n } else { n }
        };
        let mut before: Vec<(Run, usize)> = Vec::new();
        for column in 0..sheet.columns {
            let mut runs: Vec<Run> = Vec::new();
            let mut row = *row0;
            while row < *row1 {
                let key = sheet.key(column, row);
                if !sheet.film(key) {
                    row += 1;
                    continue;
                }
                let mut end = row + 1;
                while end < *row1 {
                    let above = sheet.key(column, end - 1);
                    let here = sheet.key(column, end);
                    if !sheet.film(here)
                        || sheet.walled(above, 0, 1)
                        || rank_at(here) != rank_at(above)
                    {
                        break;
                    }
                    end += 1;
                }
                runs.push(Run {
                    column: column as u32,
                    from: row as u32,
                    to: end as u32,
                });
                row = end;
            }
            let links = |a: &Run, b: &Run| {
                (a.from.max(b.from)..a.to.min(b.to))
                    .any(|row| !sheet.walled(sheet.key(a.column as usize, row as usize), 1, 0))
            };
            let mut now: Vec<(Run, usize)> = Vec::new();
            for run in &runs {
                let key = sheet.key(run.column as usize, run.from as usize);
                let (flat, depth) = (flat_of[key], rank_at(key));
                let mut back = before.iter().filter(|(b, _)| links(b, run));
                let only = match (back.next(), back.next()) {
                    (Some(one), None) => Some(*one),
                    _ => None,
                };
                let goes_on = only.filter(|(b, n)| {
                    let forward = runs.iter().filter(|r| links(b, r)).count();
                    let strip = &strips[*n];
                    forward == 1
                        && strip.rank == depth
                        && strip.flat == flat
                        && part(flat, run.column) == part(flat, b.column)
                });
                let n = match goes_on {
                    Some((_, n)) => n,
                    None => {
                        strips.push(Strip {
                            runs: Vec::new(),
                            flat,
                            rank: depth,
                            band: *band,
                            stage: stage_bands.map_or(0, |s| band / s),
                            off_centre: 0.0,
                            beside: BTreeMap::new(),
                            exits: None,
                        });
                        strips.len() - 1
                    }
                };
                strips[n].runs.push(*run);
                for row in run.from..run.to {
                    strip_of[sheet.key(run.column as usize, row as usize)] = n as u32;
                }
                now.push((*run, n));
            }
            before = now;
        }
        for strip in strips.iter_mut().rev() {
            if strip.off_centre != 0.0 || strip.band != *band {
                break;
            }
            let (a, b) = extents.get(&strip.flat).copied().unwrap_or((0, 0));
            let middle = f64::from(a + b + 1) / 2.0;
            let (first, last) = (f64::from(strip.first()), f64::from(strip.last()) + 1.0);
            let off = (first + last) / 2.0 - middle;
            strip.off_centre = if off == 0.0 { 1e-9 } else { off };
        }
    }
    (strips, strip_of)
}

fn contacts(sheet: &Sheet, strip_of: &[u32], strips: &mut [Strip]) {
    for key in 0..sheet.len() {
        let here = strip_of[key];
        if here == u32::MAX {
            continue;
        }
        let column = (key % sheet.columns) as u32;
        let widen = |span: &mut (u32, u32)| *span = (span.0.min(column), span.1.max(column));
        if sheet.exit(key) {
            widen(strips[here as usize].exits.get_or_insert((column, column)));
        }
        for other in sheet.neighbours(key) {
            let there = strip_of[other];
            if there != here && there != u32::MAX {
                widen(
                    strips[here as usize]
                        .beside
                        .entry(there)
                        .or_insert((column, column)),
                );
            }
        }
    }
}

/// The order of flats: nearest the hinge first, and of those the biggest.
fn flat_ranks(strips: &[Strip], flats: u32) -> Vec<u32> {
    let mut nearest = vec![(u32::MAX, 0_i64); flats as usize];
    for strip in strips {
        let cells: i64 = strip.runs.iter().map(|r| i64::from(r.to - r.from)).sum();
        if let Some(f) = nearest.get_mut(strip.flat as usize) {
            f.0 = f.0.min(strip.band);
            f.1 -= cells;
        }
    }
    let mut order: Vec<usize> = (0..flats as usize).collect();
    order.sort_by_key(|f| nearest[*f]);
    let mut ranks = vec![0; flats as usize];
    for (rank, flat) in order.into_iter().enumerate() {
        ranks[flat] = rank as u32;
    }
    ranks
}

/// The strips in the order in which they are pressed.
fn sequence(strips: &[Strip], flat_ranks: &[u32]) -> Vec<usize> {
    let mut preferred: Vec<usize> = (0..strips.len()).collect();
    preferred.sort_by(|a, b| {
        let key = |n: usize| {
            let s = &strips[n];
            (
                s.stage,
                flat_ranks.get(s.flat as usize),
                std::cmp::Reverse(s.rank),
                s.band,
            )
        };
        key(*a)
            .cmp(&key(*b))
            .then(
                strips[*a]
                    .off_centre
                    .abs()
                    .total_cmp(&strips[*b].off_centre.abs()),
            )
            .then(strips[*a].off_centre.total_cmp(&strips[*b].off_centre))
    });
    let graph = Graph::of(strips);
    let mut open = vec![true; strips.len()];
    let mut order = Vec::with_capacity(strips.len());
    while !preferred.is_empty() {
        spend(preferred.len() as u64 / 8 + 1);
        // In the usual case the first that practice wants may go: ask for it alone before looking at all.
        let first = preferred[0];
        let next = if graph.may_go(first, &open) {
            0
        } else {
            spend(strips.len() as u64 * 8);
            let holds = graph.holds_others(&open);
            preferred.iter().position(|n| !holds[*n]).unwrap_or(0)
        };
        let strip = preferred.remove(next);
        open[strip] = false;
        order.push(strip);
    }
    order
}

struct Made<'a> {
    sheet: &'a Sheet,
    ways: &'a Ways,
    strokes: Vec<Stroke>,
    pressed: Vec<Moment>,
    /// Number of each flat in the order in which they are begun.
    begun: BTreeMap<u32, u32>,
}

impl Made<'_> {
    fn flat(&mut self, flat: u32) -> u32 {
        let next = self.begun.len() as u32 + 1;
        *self.begun.entry(flat).or_insert(next)
    }

    /// Presses a strip towards an end from which air still gets out; from both ends to where it does, if that is in between.
    fn strip(&mut self, strip: &Strip, open: &[bool]) {
        let (first, last) = (strip.first(), strip.last());
        let ways_out: Vec<(u32, u32)> = strip
            .beside
            .iter()
            .filter(|(n, _)| open[**n as usize])
            .map(|(_, span)| *span)
            .chain(strip.exits)
            .collect();
        let right = ways_out.iter().any(|(_, b)| *b == last);
        let left = ways_out.iter().any(|(a, _)| *a == first);
        let outward_right = strip.off_centre >= 0.0;
        if ways_out.is_empty() || (right && (outward_right || !left)) {
            self.stroke(strip, &strip.runs, false);
        } else if left {
            self.stroke(strip, &strip.runs, true);
        } else {
            let goal = ways_out.first().map_or(last, |(a, _)| *a);
            let at = strip.runs.partition_point(|r| r.column <= goal);
            let (head, tail) = strip.runs.split_at(at);
            // The far part first, towards the way out; then the near part, which holds it, to its very end.
            if !tail.is_empty() {
                self.stroke(strip, tail, true);
            }
            self.stroke(strip, head, false);
        }
    }

    fn stroke(&mut self, strip: &Strip, runs: &[Run], leftward: bool) {
        let number = self.strokes.len() as u32 + 1;
        let flat = self.flat(strip.flat);
        let cell = self.sheet.cell_mm;
        let mut columns: Vec<&Run> = runs.iter().collect();
        if leftward {
            columns.reverse();
        }
        let mut points: Vec<[f64; 2]> = Vec::with_capacity(columns.len() + 2);
        let ahead = if leftward { -cell / 2.0 } else { cell / 2.0 };
        for (n, run) in columns.iter().enumerate() {
            for row in run.from..run.to {
                let key = self.sheet.key(run.column as usize, row as usize);
                if let Some(p) = self.pressed.get_mut(key) {
                    *p = (number, n as u32);
                }
            }
            let x = self.sheet.corner.x + (f64::from(run.column) + 0.5) * cell;
            let y = self.sheet.corner.y + f64::from(run.from + run.to) / 2.0 * cell;
            if n == 0 {
                points.push([x - ahead, y]);
            }
            points.push([x, y]);
            if n + 1 == columns.len() {
                points.push([x + ahead, y]);
            }
        }
        let tallest = columns.iter().map(|r| r.to - r.from).max().unwrap_or(1);
        self.strokes.push(Stroke {
            number,
            kind: if strip.rank > 0 {
                StrokeKind::Recess
            } else {
                StrokeKind::Flat
            },
            stage: strip.stage + 1,
            flat,
            path: fewer_points(&points, cell),
            within_band: false,
            width_mm: f64::from(tallest) * cell + self.ways.overlap_mm,
        });
    }

    fn crease(&mut self, crease: CreasePart, flat: u32) {
        let flat = self.flat(flat);
        self.strokes.push(Stroke {
            number: self.strokes.len() as u32 + 1,
            kind: StrokeKind::Crease,
            stage: crease.stage + 1,
            flat,
            path: crease.points,
            within_band: false,
            width_mm: self.ways.overlap_mm,
        });
    }
}
