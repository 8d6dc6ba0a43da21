//! How long the panels of a long side take, and how good a layout on a roll becomes with the time it is given.
//!
//! `cargo bench -p windrift-core-tests --bench cut`
#![allow(clippy::unwrap_used, dead_code, missing_docs)]

#[path = "shared/mod.rs"]
mod shared;

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use kurbo::Point;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::printed_panel::PrintedPanel;
use windrift_core::cut::nest::{Bin, NestPiece, Nester, Turns};
use windrift_core::cut::panels::{PanelAsk, panels};
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;

/// A print over the whole of a 53 ft side, 9 ft high, with so many features under it.
fn of_panels(c: &mut Criterion) {
    let mut group = c.benchmark_group("panels of a 53 ft side");
    for features in [75, 150, 300, 600] {
        let side = shared::side(features);
        let print = PrintedPanel {
            name: "side".into(),
            width_mm: 16_100.0.into(),
            height_mm: 2700.0.into(),
            bleed_mm: 25.0.into(),
            bleeds: None,
            colour: "#23405c".into(),
            picture: None,
            keys: vec![],
        };
        let piece = Piece::new(
            Art::Panel(print),
            PlaceRule::from_front(25.0, LetterEnd::FirstLetter, 20.0),
        );
        let settings = WorkSettings::default();
        let unit = Unit::InchSixteenth;
        let planned = plan_piece(Uuid::nil(), &piece, &side, &settings, unit).unwrap();
        let ask = PanelAsk {
            printable_mm: 1341.6.into(),
            longest_mm: 45_720.0.into(),
            lap_mm: 25.4.into(),
            step_mm: 6.35.into(),
        };
        group.bench_function(BenchmarkId::from_parameter(features), |b| {
            b.iter(|| panels(&planned, &side, &ask, unit).unwrap());
        });
    }
    group.finish();
}

/// One order of pieces laid on a roll.
fn of_nests(c: &mut Criterion) {
    let mut group = c.benchmark_group("one layout on a roll");
    for count in [25_u32, 50, 100, 200] {
        let pieces: Vec<NestPiece> = (0..count)
            .map(|n| {
                let at = |by: f64| (f64::from(n) * by).fract();
                NestPiece::rectangle(
                    80.0 + 400.0 * at(0.618_034),
                    60.0 + 300.0 * at(0.414_214),
                    Turns::Quarters,
                )
            })
            .collect();
        let roll = Bin {
            width_mm: 1341.6,
            length_mm: 200_000.0,
            offcut: false,
        };
        let nester = Nester::new(pieces, vec![roll], 10.0).unwrap();
        group.bench_function(BenchmarkId::from_parameter(count), |b| {
            b.iter_batched(
                || nester.clone(),
                |mut n| n.improve(1),
                criterion::BatchSize::SmallInput,
            );
        });
    }
    group.finish();
}

/// One order of true shapes laid on a roll.
fn of_shapes(c: &mut Criterion) {
    let mut group = c.benchmark_group("one layout of triangles on a roll");
    group.sample_size(10);
    for count in [25_u32, 100, 400] {
        let pieces: Vec<NestPiece> = (0..count)
            .map(|n| {
                let at = |by: f64| (f64::from(n) * by).fract();
                let (l, h) = (100.0 + 500.0 * at(0.618_034), 80.0 + 400.0 * at(0.414_214));
                let corners = vec![Point::ZERO, Point::new(l, 0.0), Point::new(0.0, h)];
                NestPiece {
                    shapes: vec![Shape::new(vec![corners])],
                    turns: Turns::Quarters,
                }
            })
            .collect();
        let roll = Bin {
            width_mm: 1341.6,
            length_mm: 200_000.0,
            offcut: false,
        };
        let nester = Nester::new(pieces, vec![roll], 10.0).unwrap();
        group.bench_function(BenchmarkId::from_parameter(count), |b| {
            b.iter_batched(
                || nester.clone(),
                |mut n| n.improve(1),
                criterion::BatchSize::SmallInput,
            );
        });
    }
    group.finish();
}

criterion_group!(benches, of_panels, of_nests, of_shapes);
criterion_main!(benches);
