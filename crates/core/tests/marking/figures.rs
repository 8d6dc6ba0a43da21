//! Every published figure as recalled (from memory; check against the text in force), and whether a rule applies.

use windrift_core::marking::applies::laid_out_by;
use windrift_core::marking::photometric::PHOTOMETRIC;
use windrift_core::marking::rules::{Corrections, Measure};
use windrift_core::marking::{
    Built, Face, MarkedKind, MarkedVehicle, Mass, Required, RuleSet, Rules, UneceCategory, applies,
    binding,
};

/// The American rules are kept in millimetres and kilograms; they are also published in inches and pounds (49 CFR 571.108 S8.2,
/// 393.13, from memory), each rounded by itself to at most 5 mm. A figure of one system that was mistyped is not the other's any more.
#[test]
fn the_american_figures_are_the_same_in_inches_and_pounds() {
    let new = Rules::plain(RuleSet::UnitedStatesNew);
    for (key, inches) in [
        ("width", 80.0),
        ("tape_width_c2", 2.0),
        ("tape_width_c3", 3.0),
        ("tape_width_c4", 4.0),
        ("mark_every", 12.0),
        ("segment_least", 6.0),
        ("segment_most", 18.0),
        ("lamp_distance", 3.0),
        ("centre_low", 15.0),
        ("centre_high", 60.0),
        ("corner_strip", 12.0),
        ("underride_tape", 1.5),
        ("split_width", 1.0),
        ("split_gap", 1.0),
        ("reflector_pitch", 4.0),
        ("tractor_strip", 24.0),
        ("flap_below", 12.0),
        ("cab_high", 60.0),
    ] {
        let mm = new.get(key).unwrap();
        let rounding = if inches > 12.0 { 10.0 } else { 5.0 };
        assert!(
            (mm - inches * 25.4).abs() <= rounding,
            "{key}: {mm} mm is not {inches} in"
        );
        // The rule in use takes its figures from the new one; where it has one it is the same.
        let in_use = Rules::plain(RuleSet::UnitedStatesInUse).get(key);
        assert!(in_use.is_none_or(|f| f == mm), "{key}");
    }
    // 10 000 lb; the international pound is 0.453 592 37 kg exactly (1959).
    assert!((new.get("gvwr").unwrap() - 10_000.0 * 0.453_592_37).abs() < 0.5);
}

/// 49 CFR 571.108 S8.2, 393.13, UN R48 6.21 and R104, as recalled: from memory.
#[test]
fn the_published_figures_are_there() {
    let check = |set: RuleSet, expected: &[(&str, f64)]| {
        let rules = Rules::plain(set);
        for (key, value) in expected {
            assert!(
                (rules.get(key).unwrap() - value).abs() < 1e-9,
                "{set:?} {key}"
            );
        }
        assert_eq!(
            set.figures().len(),
            expected.len(),
            "every figure of {set:?} is checked here"
        );
    };
    check(
        RuleSet::UnitedStatesNew,
        &[
            ("width", 2032.0),
            ("gvwr", 4536.0),
            ("tape_width_c2", 50.0),
            ("tape_width_c3", 75.0),
            ("tape_width_c4", 100.0),
            ("mark_every", 300.0),
            ("segment_least", 150.0),
            ("segment_most", 450.0),
            ("colour_share", 2.0 / 3.0),
            ("lamp_distance", 75.0),
            ("side_share", 0.5),
            ("centre_low", 375.0),
            ("centre_high", 1525.0),
            ("corner_strip", 300.0),
            ("underride_tape", 38.0),
            ("split_width", 25.0),
            ("split_gap", 25.0),
            ("reflector_pitch", 100.0),
            ("tractor_strip", 600.0),
            ("flap_below", 300.0),
            ("cab_high", 1525.0),
        ],
    );
    check(RuleSet::Voluntary, &[("lamp_distance", 76.0)]);
    check(
        RuleSet::UnitedStatesInUse,
        &[
            ("width", 2032.0),
            ("gvwr", 4536.0),
            ("tape_width_c2", 50.0),
            ("side_share", 0.5),
            ("centre_low", 375.0),
            ("centre_high", 1525.0),
            ("corner_strip", 300.0),
            ("split_width", 25.0),
            ("split_gap", 25.0),
            ("reflector_pitch", 100.0),
        ],
    );
    check(
        RuleSet::Unece,
        &[
            ("width", 2100.0),
            ("length", 6000.0),
            ("mass_n2", 7500.0),
            ("side_share", 0.7),
            ("reduced_share", 0.4),
            ("rear_share", 0.7),
            ("ends", 600.0),
            ("lower_low", 250.0),
            ("lower_high", 1500.0),
            ("lower_highest", 2500.0),
            ("upper_within", 400.0),
            ("gap_share", 0.5),
            ("gap_most", 1000.0),
            ("corner_strip", 250.0),
            ("stop_lamp", 200.0),
            ("tape_width_most", 60.0),
            ("tape_width_c2", 50.0),
        ],
    );
    // Nothing of one set is in another: segments and colour shares are the new rule's alone.
    for key in ["segment_least", "colour_share", "lamp_distance"] {
        assert!(
            Rules::plain(RuleSet::UnitedStatesInUse).get(key).is_none()
                && Rules::plain(RuleSet::Unece).get(key).is_none()
        );
    }
    for set in RuleSet::ALL {
        for f in set.figures() {
            assert!(!f.clause.is_empty() && !f.says.is_empty() && f.value > 0.0);
            assert!(f.measure != Measure::Share || f.value <= 1.0);
        }
    }
    // Table XVI-c as recalled: C3 about two thirds, C4 about half of C2.
    assert_eq!(PHOTOMETRIC[0].white, [250.0, 65.0]);
    assert_eq!(PHOTOMETRIC[0].red, [60.0, 15.0]);
    for (n, scale) in [(3, 2.0 / 3.0), (6, 0.5)] {
        for row in 0..2 {
            let (c2, other) = (PHOTOMETRIC[row], PHOTOMETRIC[n + row]);
            assert!(
                (other.white[0] / c2.white[0] - scale).abs() < 0.02
                    && (other.red[0] / c2.red[0] - scale).abs() < 0.02
            );
        }
    }
}

#[test]
fn a_shops_correction_stands_beside_the_default() {
    let mut corrections = Corrections::new();
    corrections
        .entry(RuleSet::Unece)
        .or_default()
        .insert("side_share".into(), 0.8);
    let rules = Rules::of(RuleSet::Unece, &corrections);
    assert_eq!(rules.get("side_share"), Some(0.8));
    assert_eq!(rules.corrections().len(), 1);
    assert_eq!(rules.corrections()[0].0.value, 0.7);
    assert_eq!(
        Rules::of(RuleSet::UnitedStatesNew, &corrections).get("side_share"),
        Some(0.5)
    );
}

pub fn trailer() -> MarkedVehicle {
    MarkedVehicle {
        width_mm: Some(2590.8.into()),
        length_mm: Some(16_154.0.into()),
        mass: Some(Mass::of_kg(30_000.0)),
        built: Some(Built::month(2015, 3)),
        category: Some(UneceCategory::O4),
        ..MarkedVehicle::of(MarkedKind::Trailer)
    }
}

#[test]
fn whether_it_applies_and_what_is_not_known_is_never_no() {
    let ask = |set, v: MarkedVehicle| applies(&Rules::plain(set), &v).required;
    let new = RuleSet::UnitedStatesNew;
    let used = RuleSet::UnitedStatesInUse;
    assert_eq!(ask(new, trailer()), Required::Yes);
    assert_eq!(ask(used, trailer()), Required::No);
    let old = MarkedVehicle {
        built: Some(Built {
            year: 1990,
            month: None,
        }),
        ..trailer()
    };
    assert_eq!(
        (ask(new, old.clone()), ask(used, old)),
        (Required::No, Required::Yes)
    );
    // The edges: 80 in and over 10,000 lb; at least 4536 kg in use.
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                width_mm: Some(2032.0.into()),
                ..trailer()
            }
        ),
        Required::Yes
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                width_mm: Some(2031.0.into()),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass: Some(Mass::of_kg(4536.0)),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            used,
            MarkedVehicle {
                mass: Some(Mass::of_kg(4536.0)),
                built: Some(Built::month(1993, 11)),
                ..trailer()
            }
        ),
        Required::Yes
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: Some(Built::month(1993, 12)),
                ..trailer()
            }
        ),
        Required::Yes
    );
    // Unknown weight or date gives "cannot tell", unless something else settles it.
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass: None,
                ..trailer()
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: None,
                ..trailer()
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                mass: None,
                width_mm: Some(1900.0.into()),
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                living_or_office: true,
                ..trailer()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            used,
            MarkedVehicle {
                pole_trailer: true,
                built: Some(Built {
                    year: 1990,
                    month: None
                }),
                ..trailer()
            }
        ),
        Required::No
    );
    // Tractors by date alone; trucks have no federal duty.
    let tractor = MarkedVehicle {
        kind: MarkedKind::Tractor,
        width_mm: None,
        mass: None,
        ..trailer()
    };
    assert_eq!(ask(new, tractor.clone()), Required::Yes);
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: Some(Built::month(1997, 6)),
                ..tractor.clone()
            }
        ),
        Required::No
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                built: None,
                ..tractor
            }
        ),
        Required::CannotTell
    );
    assert_eq!(
        ask(
            new,
            MarkedVehicle {
                kind: MarkedKind::Truck,
                ..trailer()
            }
        ),
        Required::No
    );
    // UN categories.
    let un = |category, mass: Option<f64>| {
        ask(
            RuleSet::Unece,
            MarkedVehicle {
                category,
                mass: mass.map(Mass::of_kg),
                ..trailer()
            },
        )
    };
    assert_eq!(un(Some(UneceCategory::O4), None), Required::Yes);
    assert_eq!(un(Some(UneceCategory::N2), Some(7500.0)), Required::No);
    assert_eq!(un(Some(UneceCategory::N2), Some(7501.0)), Required::Yes);
    assert_eq!(un(Some(UneceCategory::N2), None), Required::CannotTell);
    assert_eq!(un(Some(UneceCategory::M1), None), Required::Prohibited);
    assert_eq!(un(Some(UneceCategory::N1), None), Required::No);
    assert_eq!(un(None, Some(9000.0)), Required::CannotTell);
    // The rear hangs on the width, the sides on the length: over 2.1 m and 5 m long, the rear alone; of unknown length, its sides cannot be told.
    let faces = |length: Option<f64>| {
        let told = applies(
            &Rules::plain(RuleSet::Unece),
            &MarkedVehicle {
                category: Some(UneceCategory::O4),
                length_mm: length.map(Into::into),
                ..trailer()
            },
        );
        [Face::Rear, Face::Side, Face::Front].map(|face| told.on(face))
    };
    assert_eq!(
        faces(Some(5000.0)),
        [Required::Yes, Required::No, Required::No]
    );
    assert_eq!(
        faces(None),
        [Required::Yes, Required::CannotTell, Required::No]
    );
    assert_eq!(faces(Some(6001.0))[1], Required::Yes);
}

/// The vehicle goes through both sets of the United States: the one that binds is named, whichever was asked about.
#[test]
fn the_set_that_binds_is_named() {
    let (new, used) = (RuleSet::UnitedStatesNew, RuleSet::UnitedStatesInUse);
    let bound = |chosen, built: &str, mass: &str| {
        let vehicle = MarkedVehicle {
            built: Some(Built::read(built).unwrap()),
            mass: (!mass.is_empty()).then(|| Mass::read(mass).unwrap()),
            ..trailer()
        };
        let told = binding(chosen, &Default::default(), &vehicle);
        assert_eq!(told.all.len(), 3);
        (told.binds.set, told.binds.required)
    };
    for chosen in [new, used] {
        assert_eq!(bound(chosen, "2020", "34,000 lb"), (new, Required::Yes));
        assert_eq!(bound(chosen, "1990", "34,000 lb"), (used, Required::Yes));
        assert_eq!(
            bound(chosen, "Nov 1993", "34,000 lb"),
            (used, Required::Yes)
        );
        assert_eq!(bound(chosen, "12/1993", "34,000 lb"), (new, Required::Yes));
        // Pounds as on the plate: over 10,000 lb is 10,001.
        assert_eq!(bound(chosen, "2020", "10,001 lb"), (new, Required::Yes));
        assert_eq!(bound(chosen, "2020", "10,000 lb").1, Required::No);
        assert_eq!(bound(chosen, "2020", "").1, Required::CannotTell);
        // The year alone does not decide in 1993, and what follows is said.
        assert_eq!(
            bound(chosen, "1993", "34,000 lb"),
            (chosen, Required::CannotTell)
        );
    }
    let of_1993 = MarkedVehicle {
        built: Some(Built::read("1993").unwrap()),
        ..trailer()
    };
    let told = binding(new, &Default::default(), &of_1993);
    assert!(
        told.binds
            .reasons
            .iter()
            .any(|r| r.contains("until November") && r.contains("in December")),
        "{:?}",
        told.binds.reasons
    );
}

/// Every figure of every set is used by the code: one that a shop corrects changes what is laid out or found.
#[test]
fn every_figure_that_can_be_corrected_is_used() {
    let mut code = String::new();
    let mut folders =
        vec![std::path::PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../src/marking")];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                folders.push(path);
            } else if path.file_name().is_some_and(|n| n != "rules.rs") {
                code += &std::fs::read_to_string(path).unwrap();
            }
        }
    }
    for set in RuleSet::ALL {
        for figure in set.figures() {
            assert!(
                code.contains(&format!("\"{}\"", figure.key)),
                "{set:?}: {} is used nowhere",
                figure.key
            );
        }
    }
}

#[test]
fn what_is_not_required_is_laid_out_as_voluntary_and_what_is_prohibited_not_at_all() {
    let new = RuleSet::UnitedStatesNew;
    assert_eq!(laid_out_by(new, Required::Yes), Some(new));
    assert_eq!(laid_out_by(new, Required::CannotTell), Some(new));
    assert_eq!(laid_out_by(new, Required::No), Some(RuleSet::Voluntary));
    assert_eq!(
        laid_out_by(RuleSet::Unece, Required::No),
        Some(RuleSet::Unece),
        "optional there, by the same clauses"
    );
    assert_eq!(laid_out_by(RuleSet::Unece, Required::Prohibited), None);
}
