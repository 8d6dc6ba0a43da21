//! The order of strokes: from the start outwards, so that air always has a way out.

use std::collections::BTreeMap;

use crate::floor::prove::{Ground, NEVER, prove};
use crate::floor::sheet_plan::SheetPlan;
use crate::floor::strokes::careful::warn;
use crate::floor::strokes::columns::Columns;
use crate::floor::strokes::crease::{CreasePart, crease_parts};
use crate::floor::strokes::made::Made;
use crate::floor::strokes::strips::{cuts, flat_ranks, sequence, strips};
use crate::floor::strokes::{CreaseLine, Start, StrokeOrder, Ways};

/// Cells on which carelessness is tried, mm.
const CELL_MM: f64 = 10.0;

/// A band of the squeegee: heights from and to, and its number in the order in which bands are wanted.
pub(super) type Band = (f64, f64, u32);

/// Works out the order of strokes for a sheet. `creases` are pressed once the first flat beside them lies.
///
/// ```
/// # use windrift_core::floor::{sheet_plan::SheetPlan, strokes::{Start, Ways, order::order}};
/// # use windrift_core::ground::outline::Shape;
/// # use kurbo::Rect;
/// let sheet = SheetPlan {
///     film: vec![Shape::rectangle(Rect::new(0.0, 0.0, 600.0, 300.0))],
///     // It hangs by its upper edge: no air leaves there.
///     closed: vec![Rect::new(0.0, -1.0, 600.0, 1.0)],
///     ..SheetPlan::default()
/// };
/// let ways = Ways { start: Start::Top, squeegee_mm: 100.0, overlap_mm: 25.0, reach_mm: 400.0, stage_mm: None };
/// let told = order(&sheet, &[], &ways);
/// assert!(told.shut_in.is_empty() && told.pressed > 0.9999);
/// // Four bands of 75 mm from the top down, the middle first: the first presses from the middle to the left edge.
/// assert_eq!(told.strokes[0].shape, [[0.0, 0.0], [300.0, 0.0], [300.0, 75.0], [0.0, 75.0]]);
/// ```
pub fn order(sheet: &SheetPlan, creases: &[CreaseLine], ways: &Ways) -> StrokeOrder {
    match ways.start {
        Start::Top | Start::Height { .. } => upright(sheet, creases, ways),
        Start::Left | Start::Right | Start::Place { .. } => {
            // The same with across and down exchanged.
            let swap = |p: &[f64; 2]| [p[1], p[0]];
            let creases: Vec<CreaseLine> = creases
                .iter()
                .map(|c| CreaseLine {
                    points: c.points.iter().map(swap).collect(),
                })
                .collect();
            let mut found = upright(&sheet.turned(), &creases, ways);
            for stroke in &mut found.strokes {
                stroke.path = stroke.path.iter().map(swap).collect();
                stroke.shape = stroke.shape.iter().map(swap).collect();
            }
            for s in &mut found.shut_in {
                s.at = swap(&s.at);
                let [x0, y0, x1, y1] = s.bounds;
                s.bounds = [y0, x0, y1, x1];
            }
            found
        }
    }
}

/// Bands from where the pressing begins, in the order in which they are wanted, all of a half equally high.
fn bands(film: kurbo::Rect, ways: &Ways) -> Vec<Band> {
    let most = (ways.squeegee_mm - ways.overlap_mm).max(1.0);
    // From a height so far, towards greater heights or less.
    let part = |from: f64, to: f64, before: u32| -> Vec<Band> {
        let count = ((to - from).abs() / most - 1e-6).ceil().max(0.0) as u32;
        let at = |n: u32| from + (to - from) * f64::from(n) / f64::from(count.max(1));
        (0..count)
            .map(|n| (at(n).min(at(n + 1)), at(n).max(at(n + 1)), before + n))
            .collect()
    };
    match ways.start {
        Start::Top | Start::Left => part(film.y0, film.y1, 0),
        Start::Right => part(film.y1, film.y0, 0),
        Start::Height { y_mm: at } | Start::Place { x_mm: at } => {
            let middle = at.clamp(film.y0, film.y1);
            // One half after the other: the liner of the second stays on meanwhile.
            let mut bands = part(middle, film.y1, 0);
            bands.extend(part(middle, film.y0, bands.len() as u32));
            bands
        }
    }
}

fn upright(plan: &SheetPlan, creases: &[CreaseLine], ways: &Ways) -> StrokeOrder {
    let Some(film) = Columns::of(plan, &[], &[]).film_bounds() else {
        return StrokeOrder {
            strokes: Vec::new(),
            shut_in: Vec::new(),
            pressed: 0.0,
        };
    };
    let bands = bands(film, ways);
    let pitch = bands.first().map_or(1.0, |(a, b, _)| b - a);
    let stage_bands = ways.stage_mm.map(|mm| ((mm / pitch).round() as u32).max(1));
    let stage_of = |band: u32| stage_bands.map_or(0, |s| band / s);
    let cuts = cuts(&Columns::of(plan, &bands, &[]), ways.reach_mm);
    let places: Vec<f64> = cuts.values().flatten().copied().collect();
    let sheet = Columns::of(plan, &bands, &places);
    let (flat_of, flats) = sheet.flats();
    let strips = strips(&sheet, &flat_of, &cuts, stage_of);
    let sequence = sequence(&strips, &flat_ranks(&strips, flats));
    let mut made = Made::new(&sheet, ways.overlap_mm, ways.squeegee_mm);
    let mut waiting = crease_parts(&sheet, &flat_of, creases, stage_of);
    let mut left: BTreeMap<(u32, u32), u32> = BTreeMap::new();
    for strip in &strips {
        *left.entry((strip.stage, strip.flat)).or_default() += 1;
    }
    for n in sequence {
        let strip = &strips[n];
        made.strip(strip);
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
    let shut_in = prove(&sheet, &made.pressed);
    let mut strokes = made.strokes;
    warn(&plan.cells(CELL_MM, 0.0), &mut strokes, ways.overlap_mm);
    let area = |only_pressed: bool| -> f64 {
        (0..sheet.count())
            .filter(|n| sheet.film(*n) && !(only_pressed && made.pressed[*n] == NEVER))
            .map(|n| sheet.area_mm2(n))
            .sum()
    };
    StrokeOrder {
        strokes,
        shut_in,
        pressed: area(true) / area(false).max(f64::MIN_POSITIVE),
    }
}
