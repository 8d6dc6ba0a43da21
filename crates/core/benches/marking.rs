//! How long the best marking of a side and of a rear takes, and how that grows with what is in the way.
//!
//! `cargo bench -p windrift-core-tests --bench conspicuity`
#![allow(missing_docs)]

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use windrift_core::ground::tape::Unit;
use windrift_core::marking::face_marking::UnderrideMember;
use windrift_core::marking::laying::GAP_LIMIT_MM;
use windrift_core::marking::{
    ColourRun, Face, FaceAsk, FaceMarking, Laying, MarkSide, MarkedKind, MarkedVehicle, Obstacle,
    RuleSet, Rules, Stock, TapeColour, WayOfLaying, mark_face, plan,
};
use windrift_core::vehicle::feature::kind::LampColour;

/// A face with so many things in the band of heights, scattered by a fixed rule.
fn face(face: Face, length: f64, things: u32, lamp: Option<LampColour>) -> MarkSide {
    let at = |n: u32, by: f64| (f64::from(n) * by).fract();
    MarkSide {
        face,
        ends_mm: (0.0, length),
        height_mm: (450.0, 4000.0),
        obstacles: (0..things)
            .map(|n| {
                let back = at(n, 0.618_034) * length;
                let low = 400.0 + at(n, 0.414_214) * 1150.0;
                Obstacle {
                    name: format!("thing {n}"),
                    back_mm: (back, back + 20.0 + at(n, 0.732_051) * 100.0),
                    height_mm: (low, low + 20.0 + at(n, 0.236_068) * 80.0),
                    lamp: lamp.filter(|_| n % 5 == 0),
                    function: Default::default(),
                    clear_mm: 0.0,
                }
            })
            .collect(),
        heads: (0..600)
            .map(|n| {
                [
                    at(n, 0.618_034) * length,
                    500.0 + f64::from(n % 20) * 55.0,
                    6.0,
                ]
            })
            .collect(),
    }
}

fn stock(inches: f64) -> Stock {
    let run = |colour| ColourRun {
        colour,
        length_mm: (inches * 25.4).into(),
    };
    Stock {
        grade: "C2".into(),
        width_mm: 50.8.into(),
        pattern: vec![run(TapeColour::Red), run(TapeColour::White)],
        pre_cut_mm: None,
        marks: None,
    }
}

fn marking(criterion: &mut Criterion) {
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    let mut group = criterion.benchmark_group("marking");
    group.sample_size(10);
    for (name, inches) in [("12/12", 12.0), ("6/6", 6.0)] {
        let stock = stock(inches);
        let laying = Laying {
            rules: &rules,
            stock: &stock,
            way: WayOfLaying::Spaced,
            gap_limit_mm: GAP_LIMIT_MM,
            strip_mm: None,
            spare_mm: None,
            split_mm: None,
            unit: Unit::Millimetre,
        };
        for things in [30, 60, 120, 240] {
            // 53 ft.
            let side = face(Face::Side, 16_154.4, things, None);
            let found = plan(&side, &laying);
            assert!(found.is_ok_and(|p| p.proven), "there is a plan to be found");
            group.bench_function(
                BenchmarkId::from_parameter(format!("{name}, {things} things")),
                |b| b.iter(|| plan(&side, &laying)),
            );
        }
    }
    group.finish();
}

fn rear(criterion: &mut Criterion) {
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    let vehicle = MarkedVehicle {
        width_mm: Some(2590.8.into()),
        ..MarkedVehicle::of(MarkedKind::Trailer)
    };
    let marking = FaceMarking {
        way: WayOfLaying::Continuous,
        underride: Some(UnderrideMember {
            from_mm: 100.0.into(),
            to_mm: 2500.0.into(),
            foot_mm: 480.0.into(),
            top_mm: 580.0.into(),
            free_of: Vec::new(),
        }),
        ..FaceMarking::of_stock(stock(6.0), 4000.0)
    };
    let mut group = criterion.benchmark_group("marking a rear");
    group.sample_size(10);
    for things in [30, 60, 120] {
        let mut side = face(Face::Rear, 2590.8, things, Some(LampColour::Red));
        // Half of them at the upper corners.
        for o in side.obstacles.iter_mut().step_by(2) {
            o.height_mm = (o.height_mm.0 + 2300.0, o.height_mm.1 + 2300.0);
        }
        let ask = FaceAsk {
            ends: windrift_core::vehicle::side::words::Ends(["front", "rear"]),
            side: &side,
            rules: &rules,
            vehicle: &vehicle,
            marking: &marking,
            unit: Unit::Millimetre,
        };
        group.bench_function(
            BenchmarkId::from_parameter(format!("{things} hinges, rods and lamps")),
            |b| b.iter(|| mark_face(&ask)),
        );
    }
    group.finish();
}

criterion_group!(benches, marking, rear);
criterion_main!(benches);
