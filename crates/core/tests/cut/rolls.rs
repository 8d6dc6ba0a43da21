//! The length on a roll against the spiral itself, summed turn by turn.

use proptest::prelude::*;
use windrift_core::film::classes::{FilmClass, HOTTEST_CELSIUS, Span};
use windrift_core::film::data_sheet::DataSheet;
use windrift_core::film::roll::{Wound, build_of, on_it};
use windrift_core::film::stocked::{Origin, StockedFilm};
use windrift_core::ground::tape::Unit;

/// The length of a spiral that grows by t each turn, in small chords: r = d/2 + t·φ/2π.
fn spiral(outside: f64, core: f64, t: f64) -> f64 {
    let turns = (outside - core) / (2.0 * t);
    let steps = (turns * 400.0).ceil() as usize;
    let at = |n: usize| {
        let part = turns * n as f64 / steps as f64;
        let (angle, radius) = (part * std::f64::consts::TAU, core / 2.0 + t * part);
        (radius * angle.cos(), radius * angle.sin())
    };
    (0..steps)
        .map(|n| {
            let ((a, b), (c, d)) = (at(n), at(n + 1));
            (c - a).hypot(d - b)
        })
        .sum()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn the_length_by_diameter_is_the_spirals(core in 25.0_f64..90.0, over in 1.05_f64..3.0, build in 0.1_f64..0.6) {
        let outside = core * over;
        let roll = Wound { outside_mm: outside.into(), core_mm: core.into(), build_mm: build, build_off: 0.0 };
        let found = on_it(&roll).unwrap();
        let (core, outside) = (roll.core_mm.mm(), roll.outside_mm.mm());
        let summed = spiral(outside, core, build);
        // The closed form takes turns for rings: off by less than one part in two hundred, and a chord is shorter than its arc.
        prop_assert!((found.length_mm - summed).abs() < 0.005 * summed + 1.0, "{} {summed}", found.length_mm);
        prop_assert!(found.least_mm <= found.length_mm && found.length_mm <= found.most_mm);
        // The same formula gives the thickness back.
        if (1000.0..200_000.0).contains(&found.length_mm) {
            let t = build_of(outside, core, found.length_mm).unwrap();
            prop_assert!((t - build).abs() < 1e-9);
        }
    }
}

#[test]
fn a_roll_that_cannot_be_is_told() {
    let wound = |outside: f64, core: f64, build: f64| Wound {
        outside_mm: outside.into(),
        core_mm: core.into(),
        build_mm: build,
        build_off: 0.05,
    };
    assert!(on_it(&wound(70.0, 76.2, 0.2)).is_err());
    assert!(on_it(&wound(150.0, 76.2, 0.0)).is_err());
    assert!(on_it(&wound(150.0, 76.2, f64::NAN)).is_err());
    assert!(on_it(&wound(150.0, 0.0, 0.2)).is_err());
    // An empty core: nothing is on it, and the range does not fall below nothing.
    let nearly = on_it(&wound(76.3, 76.2, 0.2)).unwrap();
    assert!(nearly.least_mm.abs() < 1e-9 && nearly.most_mm > nearly.length_mm);
}

/// Figures of classes as the trade tells them: common practice, no source.
#[test]
fn classes_carry_the_figures_of_the_trade() {
    let cast = FilmClass::CastPrint.figures();
    let warm = |c: f64| (c * 1.8 + 32.0).round();
    let post = cast.post_heat.unwrap();
    assert_eq!((warm(post.from), warm(post.to)), (185.0, 195.0));
    let lap = cast.lap_mm.unwrap();
    assert_eq!((lap.from, lap.to), (12.7, 25.4));
    let heat_set = FilmClass::HeatSetPrint.figures();
    assert_eq!(
        heat_set.lap_mm,
        Some(Span {
            from: 20.0,
            to: 30.0
        })
    );
    for class in FilmClass::ALL {
        let f = class.figures();
        assert!(f.two_way_stretch <= f.stretch, "{}", f.name);
        assert!(
            f.post_heat.is_none_or(|p| p.to < HOTTEST_CELSIUS),
            "{}",
            f.name
        );
    }
    // Reflective in layers is directional; conspicuity strip is butted.
    assert!(FilmClass::RemovableReflective.figures().directional);
    assert!(FilmClass::ConspicuityStrip.figures().lap_mm.is_none());
}

#[test]
fn a_data_sheet_stands_before_its_class_and_says_so() {
    let sheet = DataSheet {
        stretch: Some(0.3),
        polish_after_weeks: Some(0.0),
        ..DataSheet::default()
    };
    let film = StockedFilm {
        name: "deep form".into(),
        class: FilmClass::CastPrint,
        colour: "#ffffff".into(),
        sheet,
        laminate: None,
    };
    film.check().unwrap();
    let told = film.told(Unit::InchSixteenth);
    let of = |key: &str| told.iter().find(|t| t.key == key).unwrap();
    assert_eq!(
        (of("stretch").text.as_str(), of("stretch").from),
        ("30 %", Origin::DataSheet)
    );
    assert_eq!(of("lap_mm").from, Origin::Class);
    assert_eq!(of("polish_after_weeks").text, "never: its sheet forbids it");
    // Nothing is planned above 150 °C, whatever a sheet says.
    let hot = DataSheet {
        ceiling_celsius: Some(190.0),
        ..DataSheet::default()
    };
    let hot = StockedFilm { sheet: hot, ..film };
    assert_eq!(
        hot.check().unwrap_err().field.as_deref(),
        Some("/sheet/ceiling_celsius")
    );
    assert_eq!(hot.figures().ceiling_celsius, HOTTEST_CELSIUS);
}
