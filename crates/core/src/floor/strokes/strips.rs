//! A sheet as strips, and the order in which they are pressed.

use std::collections::{BTreeMap, VecDeque};

use crate::floor::prove::Ground;
use crate::floor::strokes::columns::Columns;
use crate::floor::strokes::graph::Graph;
use crate::floor::strokes::{SLIT_MM, Strip};
use crate::ground::budget::spend;

/// From and to in x of each flat in each band.
type Extents = BTreeMap<(u32, u32), (f64, f64)>;

fn extents(sheet: &Columns, flat_of: &[u32]) -> Extents {
    let mut extents = Extents::new();
    for n in (0..sheet.count()).filter(|n| sheet.film(*n)) {
        let of = sheet.bounds(n);
        let e = extents
            .entry((sheet.pieces[n].band, flat_of[n]))
            .or_insert((of.x0, of.x1));
        *e = (e.0.min(of.x0), e.1.max(of.x1));
    }
    extents
}

/// Into how many parts either half of a band is pressed: each within an arm's reach. A band that fits one arm's reach is still parted at the
/// middle, so that it is pressed from there outward.
fn parts((from, to): (f64, f64), reach_mm: f64) -> f64 {
    ((to - from) / 2.0 / reach_mm.max(1.0)).ceil().max(1.0)
}

/// A parting is made no nearer than this to where an edge of the film bends, begins or ends: beside it, the strips would leave a sliver, mm.
const SLIVER_MM: f64 = 15.0;

/// Where each flat is parted in each band, mm along.
pub(super) type Cuts = BTreeMap<(u32, u32), Vec<f64>>;

/// Where the bands of a sheet are parted: near the middle and at an arm's reach.
pub(super) fn cuts(sheet: &Columns, reach_mm: f64) -> Cuts {
    let (flat_of, _) = sheet.flats();
    let bends = bends(sheet, &flat_of);
    let parted = |(key, (from, to)): ((u32, u32), (f64, f64))| {
        let bends = bends.get(&key).map_or(&[][..], Vec::as_slice);
        let count = parts((from, to), reach_mm);
        let (middle, half) = (f64::midpoint(from, to), (to - from) / 2.0);
        let wanted = (1 - count as i64..count as i64).map(|n| middle + half * n as f64 / count);
        let cuts = wanted.filter_map(|at| clear_of(bends, at, half / count / 2.0));
        (key, cuts.collect())
    };
    extents(sheet, &flat_of).into_iter().map(parted).collect()
}

/// The place nearest to one wanted that is clear of all bends; nothing where there is none within a distance.
fn clear_of(bends: &[f64], wanted: f64, within_mm: f64) -> Option<f64> {
    let near = |x: f64| {
        let n = bends.partition_point(|b| *b < x);
        let to = |n: Option<usize>| {
            n.and_then(|n| bends.get(n))
                .map_or(f64::INFINITY, |b| (b - x).abs())
        };
        to(Some(n)).min(to(n.checked_sub(1)))
    };
    let beside = bends.iter().flat_map(|b| [b - SLIVER_MM, b + SLIVER_MM]);
    beside
        .chain([wanted])
        .filter(|x| (x - wanted).abs() <= within_mm && near(*x) >= SLIVER_MM - 1e-6)
        .min_by(|a, b| (a - wanted).abs().total_cmp(&(b - wanted).abs()))
}

/// The only one of others that is in the band of a piece.
fn only(sheet: &Columns, n: usize, others: impl Iterator<Item = usize>) -> Option<usize> {
    let band = sheet.pieces[n].band;
    let mut same = others.filter(|o| sheet.pieces[*o].band == band);
    same.next().filter(|_| same.next().is_none())
}

/// Where the edges of each flat bend, begin or end in each band, mm along, from the left.
fn bends(sheet: &Columns, flat_of: &[u32]) -> Cuts {
    let mut bends = Cuts::new();
    for n in (0..sheet.count()).filter(|n| sheet.film(*n)) {
        let piece = &sheet.pieces[n];
        let slope = |n: usize| {
            let p = &sheet.pieces[n];
            let wide = sheet.bounds(n).width();
            [(p.top[1] - p.top[0]) / wide, (p.foot[1] - p.foot[0]) / wide]
        };
        let goes_on = |b: usize| {
            let before = &sheet.pieces[b];
            let jumps = [before.top[1] - piece.top[0], before.foot[1] - piece.foot[0]];
            let (was, is) = (slope(b), slope(n));
            let turns = [was[0] - is[0], was[1] - is[1]];
            jumps.iter().all(|d| d.abs() < 0.1)
                && turns.iter().all(|d| d.abs() < 0.05)
                && before.exits.is_some() == piece.exits.is_some()
                && before.rank == piece.rank
        };
        let of = bends.entry((piece.band, flat_of[n])).or_default();
        let column = piece.column as usize;
        if !only(sheet, n, sheet.to_the_left(n)).is_some_and(goes_on) {
            of.push(sheet.xs[column]);
        }
        if only(sheet, n, sheet.to_the_right(n)).is_none() {
            of.push(sheet.xs[column + 1]);
        }
    }
    for places in bends.values_mut() {
        places.sort_by(f64::total_cmp);
        places.dedup();
    }
    bends
}

/// The strips of a sheet that is cut into bands and at [`cuts`].
pub(super) fn strips(
    sheet: &Columns,
    flat_of: &[u32],
    cuts: &Cuts,
    stage_of: impl Fn(u32) -> u32,
) -> Vec<Strip> {
    let extents = extents(sheet, flat_of);
    // Which part of a band a piece is in, counted from the left.
    let part = |n: usize| {
        cuts.get(&(sheet.pieces[n].band, flat_of[n]))
            .map_or(0, |c| c.partition_point(|x| *x < sheet.place(n).x))
    };
    let alike = |a: usize, b: usize| {
        let (p, q) = (&sheet.pieces[a], &sheet.pieces[b]);
        (p.band, p.rank, flat_of[a]) == (q.band, q.rank, flat_of[b]) && part(a) == part(b)
    };
    let mut strips: Vec<Strip> = Vec::new();
    let mut strip_of = vec![u32::MAX; sheet.count()];
    // Piece after piece: columns from the left, so that what is to the left has its strip already.
    for n in (0..sheet.count()).filter(|n| sheet.film(*n)) {
        spend(4);
        let piece = &sheet.pieces[n];
        let back = only(sheet, n, sheet.to_the_left(n))
            .filter(|b| only(sheet, *b, sheet.to_the_right(*b)).is_some() && alike(*b, n));
        let strip = match back {
            Some(b) => strip_of[b],
            None => {
                strips.push(Strip {
                    pieces: Vec::new(),
                    columns: (piece.column, piece.column),
                    area_mm2: 0.0,
                    flat: flat_of[n],
                    rank: piece.rank,
                    band: piece.band,
                    stage: stage_of(piece.band),
                    off_centre: 0.0,
                    beside: BTreeMap::new(),
                    exits: None,
                    to_mouth: 0,
                    mouth_right: None,
                });
                strips.len() as u32 - 1
            }
        };
        strip_of[n] = strip;
        let strip = &mut strips[strip as usize];
        strip.pieces.push(n as u32);
        strip.columns.1 = piece.column;
        strip.area_mm2 += sheet.area_mm2(n);
    }
    for strip in &mut strips {
        let (from, to) = extents
            .get(&(strip.band, strip.flat))
            .copied()
            .unwrap_or_default();
        let x = |n: u32| sheet.xs.get(n as usize).copied().unwrap_or_default();
        let own = f64::midpoint(x(strip.columns.0), x(strip.columns.1 + 1));
        strip.off_centre = own - f64::midpoint(from, to);
    }
    contacts(sheet, &strip_of, &mut strips);
    mouths(&mut strips);
    strips
}

fn contacts(sheet: &Columns, strip_of: &[u32], strips: &mut [Strip]) {
    let widen = |span: &mut (u32, u32), by: (u32, u32)| {
        *span = (span.0.min(by.0), span.1.max(by.1));
    };
    let mut long: BTreeMap<(u32, u32), f64> = BTreeMap::new();
    let mut out = vec![0.0_f64; strips.len()];
    for n in (0..sheet.count()).filter(|n| sheet.film(*n)) {
        let here = strip_of[n];
        if let Some(exits) = sheet.pieces[n].exits {
            widen(strips[here as usize].exits.get_or_insert(exits), exits);
            out[here as usize] += sheet.pieces[n].exit_mm;
        }
        for (other, span, mm) in sheet.contacts(n) {
            let there = strip_of[other];
            if there != here {
                widen(
                    strips[here as usize].beside.entry(there).or_insert(span),
                    span,
                );
                *long.entry((here.min(there), here.max(there))).or_default() += mm / 2.0;
            }
        }
    }
    let wide = |a: u32, b: u32| {
        long.get(&(a.min(b), a.max(b)))
            .is_some_and(|mm| *mm >= SLIT_MM)
    };
    // What reaches the open air through nothing narrower.
    let mut clear: Vec<bool> = strips
        .iter()
        .zip(&out)
        .map(|(s, mm)| s.exits.is_some() && *mm >= SLIT_MM)
        .collect();
    let mut waiting: Vec<u32> = (0..strips.len() as u32)
        .filter(|n| clear[*n as usize])
        .collect();
    while let Some(n) = waiting.pop() {
        for other in strips[n as usize].beside.keys().copied() {
            if wide(n, other) && !std::mem::replace(&mut clear[other as usize], true) {
                waiting.push(other);
            }
        }
    }
    for (n, strip) in strips.iter_mut().enumerate() {
        if clear[n] && out[n] < SLIT_MM {
            strip.exits = None;
        }
        strip
            .beside
            .retain(|other, _| wide(n as u32, *other) || !(clear[n] && clear[*other as usize]));
    }
}

/// How many strips of a recess lie between each of its strips and its mouth, where film leaves the recess: from the closed wall to the mouth.
fn mouths(strips: &mut [Strip]) {
    let leaves = |n: usize| {
        let of = &strips[n];
        of.exits.is_some() || of.beside.keys().any(|k| strips[*k as usize].rank < of.rank)
    };
    let mut far = vec![u32::MAX; strips.len()];
    let mut waiting: VecDeque<usize> = (0..strips.len())
        .filter(|n| strips[*n].rank > 0 && leaves(*n))
        .collect();
    for n in &waiting {
        far[*n] = 1;
    }
    while let Some(n) = waiting.pop_front() {
        for other in strips[n].beside.keys().map(|k| *k as usize) {
            if strips[other].rank == strips[n].rank && far[other] == u32::MAX {
                far[other] = far[n] + 1;
                waiting.push_back(other);
            }
        }
    }
    let towards: Vec<Option<bool>> = (0..strips.len())
        .map(|n| {
            let of = &strips[n];
            let nearer = of.beside.iter().filter(|(k, _)| {
                let k = **k as usize;
                strips[k].rank < of.rank || far[k] < far[n]
            });
            let spans: Vec<(u32, u32)> = nearer.map(|(_, s)| *s).chain(of.exits).collect();
            let right = spans.iter().any(|s| s.1 == of.last());
            let left = spans.iter().any(|s| s.0 == of.first());
            (of.rank > 0 && right != left).then_some(right)
        })
        .collect();
    for (strip, (far, towards)) in strips.iter_mut().zip(far.into_iter().zip(towards)) {
        strip.to_mouth = if far == u32::MAX { 0 } else { far };
        strip.mouth_right = towards;
    }
}

/// The order of flats: nearest the hinge first, and of those the biggest.
pub(super) fn flat_ranks(strips: &[Strip], flats: u32) -> Vec<u32> {
    let mut nearest = vec![(u32::MAX, 0.0_f64); flats as usize];
    for strip in strips {
        if let Some(f) = nearest.get_mut(strip.flat as usize) {
            f.0 = f.0.min(strip.band);
            f.1 -= strip.area_mm2;
        }
    }
    let mut order: Vec<usize> = (0..flats as usize).collect();
    order.sort_by(|a, b| {
        let (a, b) = (nearest[*a], nearest[*b]);
        a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
    });
    let mut ranks = vec![0; flats as usize];
    for (rank, flat) in order.into_iter().enumerate() {
        ranks[flat] = rank as u32;
    }
    ranks
}

/// The strips in the order in which they are pressed.
pub(super) fn sequence(strips: &[Strip], flat_ranks: &[u32]) -> Vec<usize> {
    let mut preferred: Vec<usize> = (0..strips.len()).collect();
    preferred.sort_by(|a, b| {
        let key = |n: usize| {
            let s = &strips[n];
            (
                s.stage,
                flat_ranks.get(s.flat as usize),
                std::cmp::Reverse(s.rank),
                std::cmp::Reverse(s.to_mouth),
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
