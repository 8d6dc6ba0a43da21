//! How long a side takes to be planned, and how that grows with pieces and rivets.
//!
//! `cargo bench -p windrift-core-tests --bench evaluate`
#![allow(clippy::unwrap_used, missing_docs)]

use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::{Lettering, Size};
use windrift_core::art::typeface;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

/// A 53 ft side with this many rivets in columns of 30, and lines of 20 letters all over it, every typeface in turn.
fn side(pieces: u32, rivets: u32) -> (Side, Vec<SideFeature>, Vec<(Uuid, Piece)>) {
    let body = Body::Box {
        length_mm: 16_154.4.into(),
        height_mm: 2743.2.into(),
        fall_mm: 19.05.into(),
    };
    let body = Side::new(SideKind::Left, body, Surface::default());
    let columns = rivets / 30;
    let rows = Form::Heads {
        first_mm: 200.0.into(),
        pitch_mm: (15_500.0 / f64::from(columns)).into(),
        columns,
        first_head_mm: 60.0.into(),
        head_pitch_mm: 85.0.into(),
        heads: 30,
        head_mm: 12.0.into(),
    };
    let seams = Form::Upright {
        first_mm: 1219.2.into(),
        pitch_mm: 1219.2.into(),
        count: 12,
    };
    let features = [(FeatureKind::Rivets, rows), (FeatureKind::PanelSeam, seams)]
        .map(|(kind, form)| SideFeature {
            id: Uuid::now_v7(),
            feature: Feature::new(kind, form),
        })
        .to_vec();
    let pieces = (0..pieces)
        .map(|n| {
            let face = &typeface::shipped()[n as usize % typeface::shipped().len()]
                .info
                .id;
            let place = PlaceRule::from_front(
                200.0 + f64::from(n % 5) * 3000.0,
                LetterEnd::FirstLetter,
                200.0 + f64::from(n / 5) * 290.0,
            );
            let lettering = Lettering {
                size: Size::OverallWidth {
                    width_mm: 2600.0.into(),
                },
                ..Lettering::line(&format!("Harbour Bay Freight {n}"), face, 1.0)
            };
            (Uuid::now_v7(), Piece::new(Art::Lettering(lettering), place))
        })
        .collect();
    (body, features, pieces)
}

fn evaluate(criterion: &mut Criterion) {
    let settings = WorkSettings::default();
    // As a server has it: what was drawn lately is kept with the typefaces.
    let around = JobAround::default();
    let mut group = criterion.benchmark_group("plan_side");
    group.sample_size(20);
    for (pieces, rivets) in [(1, 600), (10, 600), (40, 150), (40, 600), (40, 2400)] {
        let (body, features, pieces_on_it) = side(pieces, rivets);
        let plan = plan_side(
            &body,
            &features,
            &pieces_on_it,
            &around,
            &settings,
            Unit::InchSixteenth,
        )
        .unwrap();
        assert!(plan.failed.is_empty());
        group.bench_function(
            BenchmarkId::from_parameter(format!("{pieces} pieces, {rivets} rivets")),
            |b| {
                b.iter(|| {
                    plan_side(
                        &body,
                        &features,
                        &pieces_on_it,
                        &around,
                        &settings,
                        Unit::InchSixteenth,
                    )
                    .unwrap()
                });
            },
        );
    }
    group.finish();
}

criterion_group!(benches, evaluate);
criterion_main!(benches);
