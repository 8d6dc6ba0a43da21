//! One case of the search for a better spot as JSON, with what the search finds at every move and how long it takes, for
//! `tools/spots_compare.py`.
//!
//! `cargo run --release -p windrift-core --example spots_case -- FEATURES INCHES`
#![allow(clippy::unwrap_used, clippy::print_stdout, missing_docs)]

#[path = "../benches/shared/mod.rs"]
mod shared;

use std::time::Instant;

use kurbo::Point;
use serde_json::json;
use windrift_core::outline::Shape;
use windrift_core::spots::{Window, search};
use windrift_core::tape::Unit;
use windrift_core::weights::Weights;

fn main() {
    let numbers: Vec<f64> = std::env::args()
        .skip(1)
        .filter_map(|a| a.parse().ok())
        .collect();
    let (features, inches) = match numbers[..] {
        [features, inches] => (features as u32, inches),
        _ => (600, 3.0),
    };
    let side = shared::side(features);
    let plan = shared::lettering(&side);
    let window = Window {
        along_mm: inches * 25.4,
        down_mm: inches * 25.4,
    };
    let weights = Weights::default();
    let mut times = Vec::new();
    let mut found = None;
    for _ in 0..20 {
        let begun = Instant::now();
        found = Some(search(
            &[(&plan.drawn, &plan.placed)],
            &side,
            window,
            &weights,
            Unit::InchSixteenth,
        ));
        times.push(begun.elapsed().as_secs_f64());
    }
    let found = found.unwrap();
    times.sort_by(f64::total_cmp);
    // Along the datum and square to it, in which directions the window is searched.
    let read = |p: Point| {
        let (along, down) = side.datum.read(p);
        [along, down]
    };
    let contours = |s: &Shape| -> Vec<Vec<[f64; 2]>> {
        s.contours
            .iter()
            .map(|c| c.iter().map(|p| read(*p)).collect())
            .collect()
    };
    let letters: Vec<_> = plan
        .drawn
        .parts
        .iter()
        .map(|p| {
            p.shapes
                .iter()
                .map(|s| contours(&s.transformed(plan.placed.to_picture)))
                .collect::<Vec<_>>()
        })
        .collect();
    let heads: Vec<_> = side
        .columns
        .iter()
        .flat_map(|c| {
            c.heads.iter().map(|h| {
                let [x, y] = read(*h);
                [x, y, c.head_mm / 2.0]
            })
        })
        .collect();
    let lines: Vec<Vec<_>> = side
        .lines
        .iter()
        .map(|l| l.points.iter().map(|p| read(*p)).collect())
        .collect();
    let hardware: Vec<_> = side
        .hardware()
        .map(|a| json!({ "outline": contours(&a.outline), "clearance": a.clearance_mm }))
        .collect();
    let counts: Vec<_> = found
        .map
        .cells()
        .iter()
        .map(|c| [c.hard, c.edge_on, c.covered, c.along, c.crossed])
        .collect();
    println!(
        "{}",
        json!({
            "features": heads.len() + lines.len() + hardware.len(),
            "letters": letters, "heads": heads, "lines": lines, "hardware": hardware,
            "body": contours(&side.outline),
            "columns": found.grid.columns(), "rows": found.grid.rows(), "step": found.grid.step_mm,
            "counts": counts, "seconds": times[times.len() / 2],
        })
    );
}
