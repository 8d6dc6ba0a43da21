//! `ground::tape` by itself.

use proptest::prelude::*;
use windrift_core::ground::tape::*;

#[test]
fn reads_what_installers_write() {
    let inches = |text: &str| parse(text, Unit::InchSixteenth).map(|mm| mm * 5.0 / 127.0);
    for text in [
        "27 3/4",
        "27-3/4",
        "27 3/4\"",
        "27.75",
        "2' 3 3/4\"",
        "2'3-3/4",
        "2 ft 3 3/4 in",
        "2\u{2032} 3\u{be}\u{2033}",
        "27\u{be}",
        "2'-3 3/4''",
        "27,75 in",
    ] {
        assert_eq!(inches(text), Ok(27.75), "{text}");
    }
    assert_eq!(inches("16' 6"), Ok(198.0));
    assert_eq!(inches("16'"), Ok(192.0));
    assert_eq!(inches("3/4"), Ok(0.75));
    assert_eq!(inches(".5"), Ok(0.5));
    for text in ["705mm", "70.5 cm", "0.705 m", "705 MM"] {
        let mm = parse(text, Unit::InchSixteenth);
        assert!(
            mm.as_ref().is_ok_and(|mm| (mm - 705.0).abs() < 1e-9),
            "{text}: {mm:?}"
        );
    }
    assert_eq!(parse("3/4", Unit::Millimetre), Ok(19.05));
    assert_eq!(parse("12", Unit::Millimetre), Ok(12.0));
}

#[test]
fn refuses_with_a_sentence() {
    let fault = |text: &str| parse(text, Unit::InchSixteenth).err();
    assert_eq!(fault("27 3/0"), Some(LengthError::OverZero));
    assert_eq!(fault("abc"), Some(LengthError::NotALength("abc".into())));
    assert_eq!(fault("-3"), Some(LengthError::Negative));
    assert_eq!(fault("10 km"), Some(LengthError::TooLong));
    assert_eq!(fault("27 1/3"), Some(LengthError::NotOnATape("1/3".into())));
    assert_eq!(
        fault("27 5/4"),
        Some(LengthError::ImproperFraction("5/4".into()))
    );
    assert_eq!(
        fault("2' 14"),
        Some(LengthError::TooManyInches("14".into()))
    );
    assert_eq!(fault("  "), Some(LengthError::Empty));
    for text in [
        "1 2 3",
        "5 mm 3",
        "3' 2' 1",
        "27 3/",
        "1/2'",
        "1/2 mm",
        "1e9",
        "27 -",
        "5 parsecs",
        "2.5' 3",
    ] {
        assert!(
            matches!(fault(text), Some(LengthError::NotALength(_))),
            "{text}: {:?}",
            fault(text)
        );
    }
    assert_eq!(parse_signed("-1 1/2", Unit::InchSixteenth), Ok(-38.1));
}

#[test]
fn rounds_half_to_even_and_tells_the_remainder() {
    // 1/32 in lies half way between 0 and 1/16; 3/32 half way between 1/16 and 1/8.
    let at = |thirty_seconds: f64| print(thirty_seconds * MM_PER_INCH / 32.0, Unit::InchSixteenth);
    assert_eq!(at(1.0).text, "0");
    assert_eq!(at(3.0).text, "1/8");
    assert_eq!(at(5.0).text, "1/8");
    assert!((at(1.0).remainder_mm - MM_PER_INCH / 32.0).abs() < 1e-9);
    assert_eq!(print(0.5, Unit::Millimetre).text, "0 mm");
    assert_eq!(print(1.5, Unit::Millimetre).text, "2 mm");
    assert_eq!(
        print(-3.0 * MM_PER_INCH, Unit::InchSixteenth).text,
        "\u{2212}3"
    );
    assert_eq!(
        print(48.5 * MM_PER_INCH, Unit::InchSixteenth).text,
        "4' 0 1/2"
    );
    assert_eq!(print_move(1.4, Unit::Millimetre).text, "1.5 mm");
    assert_eq!(
        print_move(-MM_PER_INCH / 16.0, Unit::InchThirtySecond).text,
        "1/16"
    );
}

proptest! {
    #[test]
    fn anything_typed_is_read_or_refused(text in "\\PC{0,40}") {
        if let Ok(mm) = parse(&text, Unit::InchSixteenth) {
            prop_assert!((0.0..=LONGEST_MM).contains(&mm));
        }
    }

    #[test]
    fn chains_close_on_paper(marks in proptest::collection::vec(0.0..16_000.0_f64, 2..12), metric in any::<bool>()) {
        let unit = if metric { Unit::Millimetre } else { Unit::InchSixteenth };
        let chain = chain(marks.iter().map(|mm| (String::new(), *mm)).collect(), unit);
        let sum: f64 = chain.iter().map(|mark| mark.gap.mm).sum();
        let first = chain.first().map_or(0.0, |m| m.running.mm);
        let last = chain.last().map_or(0.0, |m| m.running.mm);
        prop_assert!((sum - (last - first)).abs() < 1e-6);
        // Every printed gap is exact: nothing is left over that a reader would have to carry.
        prop_assert!(chain.iter().all(|mark| mark.gap.remainder_mm.abs() < 1e-6));
    }
}
