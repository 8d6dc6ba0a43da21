//! A carrier's name and number, clause by clause.

use crate::art::drawn::Drawn;
use crate::art::legibility::{MUTCD_RATIO, threshold};
use crate::art::lettering::Lettering;
use crate::ground::tape::{Unit, print};
use crate::plan::regulated::{
    CARRIER_DISTANCE_MM, Elsewhere, Finding, SLACK_MM, contrast_finding, finding, least_height,
    other_side,
};
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn carrier_mark(
    lettering: &Lettering,
    drawn: &Drawn,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    let text = lettering
        .text
        .split_whitespace()
        .collect::<Vec<_>>()
        .join(" ");
    let upper = text.to_uppercase();
    let at = upper.find("USDOT");
    let followed = at.is_some_and(|n| {
        let rest = upper[n + 5..].trim_start_matches([' ', ':', '#', '-']);
        let rest = rest.strip_prefix("NO.").unwrap_or(rest).trim_start();
        let digits = rest.chars().take_while(char::is_ascii_digit).count();
        (1..=8).contains(&digits) && !rest[digits..].starts_with(|c: char| c.is_alphanumeric())
    });
    let named = at.is_some_and(|n| n > 0) || (at.is_none() && !text.is_empty());
    let operated = upper.find("OPERATED BY");
    let names = (lettering.text.lines())
        .filter(|l| !l.trim().is_empty() && !l.to_uppercase().contains("USDOT"))
        .count();
    vec![
        finding(
            "49 CFR 390.21(b)(1)",
            "The carrier's legal name or single trade name, as on its registration.",
            if named {
                "a name stands before the number".into()
            } else {
                "no name stands before the number".into()
            },
            Some(named),
        ),
        finding(
            "49 CFR 390.21(b)(2)",
            "The number, preceded by USDOT.",
            if followed {
                "USDOT and a number".into()
            } else if upper.contains("US DOT") || upper.contains("U.S. DOT") {
                "USDOT is written as one word".into()
            } else {
                "no number after USDOT".into()
            },
            Some(followed),
        ),
        match operated {
            Some(n) => {
                let then = &upper[n + "OPERATED BY".len()..];
                let carrier = then.split("USDOT").next().unwrap_or_default().trim();
                finding(
                    "49 CFR 390.21(b)(3)",
                    OTHER_NAME,
                    if carrier.is_empty() {
                        "no name follows \u{201c}operated by\u{201d}".into()
                    } else {
                        "\u{201c}operated by\u{201d} stands before the carrier's name".into()
                    },
                    Some(!carrier.is_empty() && then.contains("USDOT")),
                )
            }
            None if names > 1 => finding(
                "49 CFR 390.21(b)(3)",
                OTHER_NAME,
                format!("{names} lines of names, and no \u{201c}operated by\u{201d}"),
                None,
            ),
            None => finding(
                "49 CFR 390.21(b)(3)",
                OTHER_NAME,
                "one name here; another one elsewhere on this side asks for it".into(),
                Some(true),
            ),
        },
        other_side(
            "49 CFR 390.21(c)(1)",
            "On both sides of the vehicle.",
            elsewhere,
        ),
        contrast_finding("49 CFR 390.21(c)(2)", lettering, side),
        legible(drawn, unit),
    ]
}

const OTHER_NAME: &str = "Where another name is displayed, the operating carrier's name and number are preceded by \u{201c}operated by\u{201d}.";

/// A carrier's letters at 50 ft. The rule gives no height: what nobody can read fails, what the published ratio reaches passes, what lies between
/// is looked at.
fn legible(drawn: &Drawn, unit: Unit) -> Finding {
    let high = least_height(drawn);
    let text = print(high.min(1e6), unit).text;
    let (told, kept) = if high >= CARRIER_DISTANCE_MM / MUTCD_RATIO - SLACK_MM {
        (String::new(), Some(true))
    } else if threshold(high) < CARRIER_DISTANCE_MM {
        (
            ": less than 5 minutes of arc, which good eyes just tell apart".to_owned(),
            Some(false),
        )
    } else {
        (": look at it from 50 ft".to_owned(), None)
    };
    finding(
        "49 CFR 390.21(c)(3)",
        "Readily legible in daylight from 50 ft. The rule gives no height: 1 in for each 30 ft (MUTCD 2A.13) makes it 1.67 in (42.3 mm).",
        format!("shortest letter {text}{told}"),
        kept,
    )
}
