//! How long the search for a better spot takes, and how that grows with features and with the window.
//!
//! `cargo bench -p windrift-core-tests --bench spots`
#![allow(clippy::unwrap_used, missing_docs)]

mod shared;

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use shared::{lettering, side};
use windrift_core::ground::tape::Unit;
use windrift_core::ground::weights::Weights;
use windrift_core::place::spots::{Window, search};

fn spots(criterion: &mut Criterion) {
    let weights = Weights::default();
    let mut group = criterion.benchmark_group("search");
    group.sample_size(20);
    for (features, inches) in [
        (150, 3.0),
        (300, 3.0),
        (600, 3.0),
        (1200, 3.0),
        (600, 1.0),
        (600, 2.0),
        (600, 6.0),
    ] {
        let side = side(features);
        let plan = lettering(&side);
        let reach = inches * 25.4;
        let window = Window {
            along_mm: reach.into(),
            down_mm: reach.into(),
        };
        group.bench_function(
            BenchmarkId::from_parameter(format!("{features} features, ±{inches} in")),
            |b| {
                b.iter(|| {
                    search(
                        &[(&plan.drawn, &plan.placed)],
                        &side,
                        window,
                        &weights,
                        Unit::InchSixteenth,
                    )
                })
            },
        );
    }
    group.finish();
}

criterion_group!(benches, spots);
criterion_main!(benches);
