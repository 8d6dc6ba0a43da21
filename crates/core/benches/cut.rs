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
use windrift_core::floor::forming::stretches_as_settled;
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::{Details, FeatureKind, OpenSide};
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::measure::measure;

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
            turn_in_mm: 12.5.into(),
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

/// Where a print over so many recesses stretches.
fn of_forming(c: &mut Criterion) {
    let mut group = c.benchmark_group("forming of a side with recesses");
    for count in [25_u32, 50, 100, 200] {
        let side = shared::side(75);
        let recess = |n: u32| SideFeature {
            id: Uuid::from_u128(u128::from(n) + 1),
            feature: Feature {
                details: Some(Details::Recess {
                    depth_mm: (5.0 + f64::from(n % 20)).into(),
                    wall_degrees: 80.0,
                    open: OpenSide::Enclosed,
                }),
                ..Feature::new(
                    FeatureKind::Recess,
                    Form::Rectangle {
                        back_mm: (300.0 + 150.0 * f64::from(n % 100)).into(),
                        drop_mm: (400.0 + 300.0 * f64::from(n / 100)).into(),
                        to: MeasuredTo::Middle,
                        width_mm: 100.0.into(),
                        height_mm: 100.0.into(),
                        repeat: Repeat::ONCE,
                    },
                )
            },
        };
        let all: Vec<SideFeature> = (0..count).map(recess).collect();
        let side = measure(&side.side, &all).unwrap();
        let print = PrintedPanel {
            name: "side".into(),
            width_mm: 15_500.0.into(),
            height_mm: 2000.0.into(),
            bleed_mm: 0.0.into(),
            bleeds: None,
            colour: "#23405c".into(),
            picture: None,
            keys: Vec::new(),
        };
        let place = PlaceRule::from_front(150.0, LetterEnd::FirstLetter, 150.0);
        let (settings, unit) = (WorkSettings::default(), Unit::InchSixteenth);
        let piece = Piece::new(Art::Panel(print), place);
        let planned = plan_piece(Uuid::nil(), &piece, &side, &settings, unit).unwrap();
        let found = stretches_as_settled(&planned, &side, &settings, unit);
        assert_eq!(found.places.len() as u32, count);
        group.bench_function(BenchmarkId::from_parameter(count), |b| {
            b.iter(|| stretches_as_settled(&planned, &side, &settings, unit));
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

criterion_group!(benches, of_panels, of_nests, of_shapes, of_forming);
criterion_main!(benches);
