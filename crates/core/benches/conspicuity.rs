//! How long the best marking of a side takes, and how that grows with what is in the way.
//!
//! `cargo bench -p windrift-core --bench conspicuity`
#![allow(missing_docs)]

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use windrift_core::conspicuity::side::{ColourRun, GAP_LIMIT_MM, Obstacle};
use windrift_core::conspicuity::{MarkSide, RuleSet, Rules, Stock, TapeColour, WayOfLaying, plan};
use windrift_core::tape::Unit;

/// A 53 ft side with so many things in the band of heights, scattered by a fixed rule.
fn side(things: u32) -> MarkSide {
    let length = 16_154.4;
    let at = |n: u32, by: f64| (f64::from(n) * by).fract();
    MarkSide {
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
                    lamp: None,
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

fn marking(criterion: &mut Criterion) {
    let run = |colour, length_mm| ColourRun { colour, length_mm };
    let rules = Rules::plain(RuleSet::UnitedStatesNew);
    let mut group = criterion.benchmark_group("marking");
    group.sample_size(10);
    for (name, inches) in [("12/12", 12.0), ("6/6", 6.0)] {
        let stock = Stock {
            grade: "C2".into(),
            width_mm: 50.8,
            pattern: vec![
                run(TapeColour::Red, inches * 25.4),
                run(TapeColour::White, inches * 25.4),
            ],
        };
        for things in [30, 60, 120, 240] {
            let side = side(things);
            let found = plan(
                &side,
                &rules,
                &stock,
                WayOfLaying::Spaced,
                GAP_LIMIT_MM,
                Unit::Millimetre,
            );
            assert!(found.is_ok_and(|p| p.proven), "there is a plan to be found");
            group.bench_function(
                BenchmarkId::from_parameter(format!("{name}, {things} things")),
                |b| {
                    b.iter(|| {
                        plan(
                            &side,
                            &rules,
                            &stock,
                            WayOfLaying::Spaced,
                            GAP_LIMIT_MM,
                            Unit::Millimetre,
                        )
                    })
                },
            );
        }
    }
    group.finish();
}

criterion_group!(benches, marking);
criterion_main!(benches);
