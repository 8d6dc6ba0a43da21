//! How long the order of strokes and its proof take, and how that grows with the sheet and with its cells.
//!
//! `cargo bench -p windrift-core-tests --bench strokes`
#![allow(missing_docs)]

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use kurbo::{Point, Rect};
use windrift_core::floor::air::{Cell, Swath, press};
use windrift_core::floor::prove::prove;
use windrift_core::floor::sheet_plan::SheetPlan;
use windrift_core::floor::strokes::order::order;
use windrift_core::floor::strokes::{CreaseLine, Start, Ways};
use windrift_core::ground::outline::Shape;

/// A sheet hinged along its top, with a crease across its middle and a row of cut-outs.
fn sheet(width: f64, height: f64) -> (SheetPlan, CreaseLine) {
    let mut things = Vec::new();
    let mut x = 900.0;
    while x + 300.0 < width {
        let (y, high) = (height * 0.7, (height / 6.0).min(250.0));
        let window = Shape::rectangle(Rect::new(x, y, x + 180.0, y + high));
        things.push((window, Cell::Outside));
        x += 1600.0;
    }
    let crease = [
        Point::new(0.0, height / 2.0),
        Point::new(width, height / 2.0),
    ];
    let sheet = SheetPlan {
        film: vec![Shape::rectangle(Rect::new(0.0, 0.0, width, height))],
        things,
        walls: vec![crease.to_vec()],
        closed: vec![Rect::new(0.0, -1.0, width, 1.0)],
        ..SheetPlan::default()
    };
    let points = crease.iter().map(|p| [p.x, p.y]).collect();
    (sheet, CreaseLine { points })
}

fn strokes(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("strokes");
    group.sample_size(10);
    for (name, width, height, stage_mm) in [
        ("a letter's section, 600 by 400 mm", 600.0, 400.0, None),
        ("a line of letters, 16 ft by 16 in", 4900.0, 420.0, None),
        (
            "half a side print, 26 ft by 9 ft",
            8077.0,
            2743.0,
            Some(900.0),
        ),
        ("a side print, 53 ft by 9 ft", 16_154.0, 2743.0, Some(900.0)),
    ] {
        let (sheet, crease) = sheet(width, height);
        let ways = Ways {
            start: Start::Top,
            squeegee_mm: 101.6,
            overlap_mm: 25.4,
            reach_mm: 900.0,
            stage_mm,
        };
        group.bench_function(BenchmarkId::from_parameter(name), |b| {
            b.iter(|| order(&sheet, std::slice::from_ref(&crease), &ways))
        });
    }
    group.finish();
    let mut group = criterion.benchmark_group("somebody's own strokes");
    group.sample_size(20);
    for count in [10_u32, 60, 200] {
        let sheet = sheet(4900.0, 420.0).0.cells(10.0, 0.0);
        let own: Vec<Swath> = (0..count)
            .map(|n| {
                let x = f64::from(n % 20) * 240.0;
                let y = 40.0 + f64::from(n / 20) * 40.0;
                Swath {
                    path: vec![[x, y], [x + 300.0, y + 10.0]],
                    width_mm: 101.6,
                }
            })
            .collect();
        group.bench_function(BenchmarkId::from_parameter(count), |b| {
            b.iter(|| prove(&sheet, &press(&sheet, &own)))
        });
    }
    group.finish();
}

criterion_group!(benches, strokes);
criterion_main!(benches);
