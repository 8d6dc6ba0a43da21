//! Lengths against the definition of the inch: 25.4 mm exactly (international yard and pound agreement, 1959).

use windrift_core::ground::tape::{Unit, parse, print, print_sixty_fourths};

const SIXTY_FEET_IN_64THS: i64 = 60 * 12 * 64;

#[test]
fn every_sixty_fourth_to_sixty_feet_comes_back() {
    for n in 0..=SIXTY_FEET_IN_64THS {
        // 25.4 mm / 64 = 127/320 mm, so n of them are n * 127 / 320.
        let exact = (n * 127) as f64 / 320.0;
        let printed = print_sixty_fourths(exact);
        assert!(printed.remainder_mm.abs() < 1e-9, "{n}: {printed:?}");
        let read = parse(&printed.text, Unit::InchSixteenth).unwrap();
        assert!(
            (read - exact).abs() < 1e-9,
            "{n}/64 in printed {} read {read}",
            printed.text
        );
        // What a person might write for the same length.
        let (feet, inches, over) = (n / 64 / 12, n / 64 % 12, n % 64);
        for written in [
            format!("{feet}' {inches} {over}/64\""),
            format!("{feet} ft {inches}-{over}/64"),
            format!("{} {over}/64", n / 64),
        ] {
            assert!(
                (parse(&written, Unit::Millimetre).unwrap() - exact).abs() < 1e-9,
                "{written}"
            );
        }
    }
}

#[test]
fn printing_never_moves_a_length_by_more_than_half_a_mark() {
    for (unit, half) in [
        (Unit::InchSixteenth, 25.4 / 32.0),
        (Unit::InchThirtySecond, 25.4 / 64.0),
        (Unit::Millimetre, 0.5),
    ] {
        for n in 0..40_000 {
            let mm = f64::from(n) * 0.417;
            let printed = print(mm, unit);
            assert!((printed.mm - mm).abs() <= half + 1e-5);
            let read = parse(&printed.text, unit).unwrap();
            assert!(
                (read - printed.mm).abs() < 1e-9,
                "{} reads as {read}, not {}",
                printed.text,
                printed.mm
            );
        }
    }
}

#[test]
fn an_inch_is_25_4_mm() {
    for (typed, mm) in [
        ("1 in", 25.4),
        ("1'", 304.8),
        ("53'", 16154.4),
        ("13' 6", 4114.8),
        ("1/64 in", 0.396875),
    ] {
        assert_eq!(parse(typed, Unit::InchSixteenth), Ok(mm), "{typed}");
    }
}

/// A comma before three digits is thousands in one country and decimals in another: it is asked back, never guessed.
#[test]
fn a_comma_that_reads_two_ways_is_asked_back() {
    use windrift_core::ground::tape::{Unit, parse, parse_signed};
    for text in ["5,048", "5,048 mm", " 12,700mm", "1,250 in"] {
        let refused = parse(text, Unit::Millimetre).unwrap_err().to_string();
        assert!(
            refused.contains("thousands or decimals"),
            "{text}: {refused}"
        );
    }
    let refused = parse_signed("-5,048", Unit::Millimetre)
        .unwrap_err()
        .to_string();
    assert!(refused.contains("5048 or 5.048"), "{refused}");
    for (text, mm) in [
        ("5,04", 5.04),
        ("0,125", 0.125),
        ("2,125 m", 2125.0),
        ("70,5 cm", 705.0),
    ] {
        let read = parse(text, Unit::Millimetre).unwrap();
        assert!((read - mm).abs() < 1e-9, "{text}: {read}");
    }
}
