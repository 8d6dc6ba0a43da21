//! A vessel's name and hailing port, clause by clause.

use crate::art::drawn::Drawn;
use crate::art::lettering::Lettering;
use crate::ground::tape::Unit;
use crate::plan::regulated::{Finding, VESSEL_NAME_MM, contrast_finding, finding, height};
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn vessel_name(
    lettering: &Lettering,
    drawn: &Drawn,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<Finding> {
    let lines = lettering
        .text
        .lines()
        .filter(|l| !l.trim().is_empty())
        .count();
    let port = lettering
        .text
        .lines()
        .filter(|l| !l.trim().is_empty())
        .nth(1)
        .unwrap_or_default();
    let latin = lettering
        .text
        .chars()
        .all(|c| c.is_whitespace() || c.is_ascii_alphanumeric() || "'.,&-".contains(c));
    let (told, state) = hailing_port(port);
    vec![
        finding(
            "46 CFR 67.123(c)",
            "Name and hailing port together, on a clearly visible part of the hull.",
            format!("{lines} line{}", if lines == 1 { "" } else { "s" }),
            Some(lines >= 2),
        ),
        height(
            "46 CFR 67.123(d)",
            "Letters at least 4 in (101.6 mm) high.",
            drawn,
            VESSEL_NAME_MM,
            unit,
        ),
        finding(
            "46 CFR 67.123(d)",
            "Letters of the Latin alphabet, Arabic or Roman numerals.",
            if latin {
                "plain letters and digits".into()
            } else {
                "there are other characters".into()
            },
            Some(latin),
        ),
        finding(
            "46 CFR 67.119",
            "The hailing port names a place and its state or territory.",
            told,
            state,
        ),
        contrast_finding("46 CFR 67.123(d), clearly legible", lettering, side),
    ]
}

/// Whether a hailing port names a place and its state: the last word may be a state's two letters; a place of two words has none yet.
fn hailing_port(port: &str) -> (String, Option<bool>) {
    let words: Vec<&str> = port
        .split(|c: char| c.is_whitespace() || c == ',')
        .filter(|w| !w.is_empty())
        .collect();
    let two_letters =
        |w: &str| w.replace('.', "").len() == 2 && w.chars().all(|c| c.is_alphabetic() || c == '.');
    match words[..] {
        [] => ("no hailing port on a second line".into(), Some(false)),
        [_] => (
            format!("\u{201c}{port}\u{201d}: a place alone, without its state"),
            Some(false),
        ),
        [.., last] if two_letters(last) => (format!("\u{201c}{port}\u{201d}"), Some(true)),
        _ => (
            format!(
                "\u{201c}{port}\u{201d}: if its last words are not the state spelled out, add the state's two letters"
            ),
            None,
        ),
    }
}
