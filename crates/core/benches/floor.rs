//! How long the range of old film takes after a tap, and how long it takes to foretell a panel.
//!
//! `cargo bench -p windrift-core-tests --bench floor`
#![allow(clippy::unwrap_used, missing_docs)]

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use time::Duration;
use time::macros::datetime;
use windrift_core::film::classes::Span;
use windrift_core::floor::heat::pace::{PacedReading, Wanted, Warms, pace};
use windrift_core::floor::heat::panel::{BuildUp, HeatSpot};
use windrift_core::floor::prep::warm::{AirAt, PanelAt, warming};
use windrift_core::floor::strip::finish::{Remains, cases};
use windrift_core::floor::strip::old::CountedIn;
use windrift_core::floor::strip::rate::{PatchAs, Rate, Timed};
use windrift_core::vehicle::surface::{Behind, Material};

/// So many cells in ten graphics, fifty patches on them.
fn ranges(c: &mut Criterion) {
    let mut group = c.benchmark_group("old film that remains");
    for cells in [125, 250, 500, 1000] {
        group.bench_function(BenchmarkId::from_parameter(cells), |b| {
            b.iter(|| {
                let remains: Vec<Remains> = (0..10)
                    .map(|n| {
                        let patches = [Timed {
                            seconds: 60.0 + f64::from(n),
                            amount: 1.0,
                            stands_for: PatchAs::Typical,
                        }; 5];
                        Remains {
                            rate: Rate::prior(90.0, CountedIn::Metres).with(&patches),
                            cells: vec![0.4; cells / 10],
                        }
                    })
                    .collect();
                cases(&remains, 7).hands_on()
            });
        });
    }
    group.finish();
}

/// A panel that was read so often in four hours.
fn warm(c: &mut Criterion) {
    let mut group = c.benchmark_group("when the panel is warm");
    let start = datetime!(2026-11-27 8:00 UTC);
    for readings in [3, 12, 48, 120] {
        let panel: Vec<PanelAt> = (0..readings)
            .map(|n| {
                let minutes = 240.0 * f64::from(n) / f64::from(readings);
                PanelAt {
                    at: start + Duration::seconds_f64(minutes * 60.0),
                    celsius: 20.0 - 15.0 * (-minutes / 90.0).exp(),
                    error: 0.5,
                }
            })
            .collect();
        let air = [AirAt {
            at: start,
            celsius: 21.0,
        }];
        let now = panel.last().unwrap().at;
        group.bench_function(BenchmarkId::from_parameter(readings), |b| {
            b.iter(|| {
                let window = Span {
                    from: 18.0,
                    to: 24.0,
                };
                warming(&air, None, &panel, Material::PaintedSteel, window, now, 1)
            });
        });
    }
    group.finish();
}

/// A build-up solved cold; and a pace anew after so many readings.
fn heat(c: &mut Criterion) {
    let mut group = c.benchmark_group("how fast to walk the heat");
    group.sample_size(10);
    let over = |material, spot| BuildUp::over((material, Behind::Air, None), 0.1, spot);
    for (name, panel) in [
        ("steel", over(Material::PaintedSteel, HeatSpot::Field)),
        (
            "steel over a member",
            over(Material::PaintedSteel, HeatSpot::Member),
        ),
        ("fibreglass", over(Material::Gelcoat, HeatSpot::Field)),
    ] {
        group.bench_function(BenchmarkId::new("solved cold", name), |b| {
            b.iter(|| Warms::of(panel));
        });
    }
    let warms = Warms::of(over(Material::PaintedSteel, HeatSpot::Field));
    let wanted = Wanted {
        celsius: 85.0,
        film_ceiling: 150.0,
        face_ceiling: 110.0,
        start: 20.0,
    };
    let read = PacedReading {
        speed: 5.0,
        celsius: 84.0,
        start: 20.0,
    };
    for readings in [0, 2, 12, 40] {
        let read = vec![read; readings];
        group.bench_function(BenchmarkId::new("after readings", readings), |b| {
            b.iter(|| pace(&warms, &read, &wanted));
        });
    }
    group.finish();
}

criterion_group!(floor, ranges, warm, heat);
criterion_main!(floor);
