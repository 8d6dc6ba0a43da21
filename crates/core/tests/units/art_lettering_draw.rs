//! `art::lettering::draw` by itself.

use std::sync::Arc;
use windrift_core::art::drawn::Drawn;
use windrift_core::art::lettering::{Bends, Lettering, LetteringError, Size};
use windrift_core::art::typeface::Typefaces;

use windrift_core::art::lettering::Arch;
use windrift_core::art::lettering::SecondColour;
use windrift_core::art::lettering::draw::*;

fn line(text: &str, typeface: &str, size: Size) -> Result<Arc<Drawn>, LetteringError> {
    draw(
        &Lettering {
            size,
            ..Lettering::line(text, typeface, 1.0)
        },
        &Typefaces::default(),
    )
}

#[test]
fn size_is_what_was_asked_for() {
    let tall = line(
        "HAVEN",
        "archivo-black",
        Size::CapitalHeight {
            height_mm: 305.0.into(),
        },
    );
    assert!(
        tall.is_ok_and(|l| (l.bounds.height() - 305.0).abs() < 0.1 && l.bounds.x0.abs() < 1e-9)
    );
    let wide = line(
        "Tern Haven",
        "pacifico",
        Size::OverallWidth {
            width_mm: 1800.0.into(),
        },
    );
    assert!(wide.is_ok_and(|l| (l.bounds.width() - 1800.0).abs() < 1e-6));
    let small = line(
        "x",
        "bitter",
        Size::XHeight {
            height_mm: 120.0.into(),
        },
    );
    assert!(small.is_ok_and(|l| (l.bounds.height() - 120.0).abs() < 0.5));
}

#[test]
fn script_letters_are_welded_and_block_letters_are_not() {
    let size = Size::CapitalHeight {
        height_mm: 200.0.into(),
    };
    let block = line("TIDEWAY", "archivo-black", size).map(|l| l.parts.len());
    assert_eq!(block, Ok(7));
    let script = line("library", "pacifico", size)
        .map(|l| l.parts.iter().map(|p| p.label.clone()).collect::<Vec<_>>());
    assert!(script.is_ok_and(|parts| parts.len() < 7 && parts.concat() == "library"));
}

#[test]
fn what_cannot_be_cut_is_refused_in_words() {
    let size = Size::CapitalHeight {
        height_mm: 200.0.into(),
    };
    let error = |text: &str| line(text, "oswald", size).err();
    assert_eq!(error("  "), Some(LetteringError::NoText));
    assert_eq!(error("A\tB"), Some(LetteringError::Unseen));
    assert_eq!(
        error(&"A".repeat(5000)),
        Some(LetteringError::TooLong(5000))
    );
    assert_eq!(
        error(&"A\n".repeat(13)),
        Some(LetteringError::TooManyLines(14))
    );
    assert_eq!(
        error("Caf\u{4e2d}").map(|e| e.to_string()).as_deref(),
        Some(
            "Oswald Bold has no \u{201c}\u{4e2d}\u{201d}. Choose another typeface or other words."
        )
    );
    for height_mm in [0.0, -4.0, f64::NAN, 1e9] {
        assert!(matches!(
            line(
                "A",
                "oswald",
                Size::CapitalHeight {
                    height_mm: height_mm.into()
                }
            )
            .err(),
            Some(LetteringError::Size(_))
        ));
    }
}

#[test]
fn a_circle_that_is_too_small_says_how_large_it_must_be() {
    let bent = |radius_mm| {
        draw(
            &Lettering {
                arch: Some(Arch {
                    radius_mm,
                    bends: Bends::Up,
                }),
                ..Lettering::line("HARBOUR LIBRARY", "oswald", 100.0)
            },
            &Typefaces::default(),
        )
    };
    let Err(LetteringError::Arch { least_mm, .. }) = bent(40.0.into()) else {
        unreachable!("40 mm is too small");
    };
    assert!(bent(least_mm.into()).is_ok());
}

#[test]
fn a_second_colour_needs_words_that_are_there() {
    let second = |words: &str| Lettering {
        second: Some(SecondColour {
            words: words.into(),
            colour: "#8c1d18".into(),
        }),
        ..Lettering::line("TERN HAVEN", "oswald", 100.0)
    };
    assert!(
        draw(&second("BAY"), &Typefaces::default())
            .is_err_and(|e| e.to_string().contains("not among the words"))
    );
    let drawn = draw(&second("HAVEN"), &Typefaces::default());
    let layers = drawn.map(|d| {
        d.layers
            .iter()
            .map(|l| (l.kind, l.shapes.len()))
            .collect::<Vec<_>>()
    });
    use windrift_core::art::drawn::LayerKind::{Face, SecondColour as Second};
    assert_eq!(layers, Ok(vec![(Face, 4), (Second, 5)]));
}
