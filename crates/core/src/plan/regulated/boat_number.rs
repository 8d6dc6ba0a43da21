//! The number on a small craft, clause by clause.

use crate::art::drawn::{Drawn, Part};
use crate::art::lettering::Lettering;
use crate::art::regulation::letter_widths;
use crate::art::typeface::Typeface;
use crate::ground::tape::{Unit, print};
use crate::place::placed::Placed;
use crate::plan::regulated::{
    BOAT_NUMBER_MM, Elsewhere, Finding, SLACK_MM, contrast_finding, finding, height, other_side,
};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::SideKind;

pub(crate) fn boat_number(
    lettering: &Lettering,
    face: Option<&Typeface>,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    let half = side.datum.length_mm / 2.0;
    let on_a_side = matches!(
        side.side.kind,
        SideKind::Left | SideKind::Right | SideKind::Port | SideKind::Starboard
    );
    let block = face.and_then(|f| f.info.block);
    let straight = lettering.arch.is_none();
    let gaps = group_gaps(lettering, drawn);
    let scale = face.map_or(1.0, |f| drawn.capital_height_mm / f.capital_height);
    let widths: Vec<f64> = face
        .map_or(Vec::new(), |f| letter_widths(f, &lettering.text))
        .iter()
        .map(|w| w * scale)
        .collect();
    let (narrow, wide) = widths
        .iter()
        .fold((f64::INFINITY, 0.0_f64), |(a, b), w| (a.min(*w), b.max(*w)));
    let printed = |mm: f64| print(mm, unit).text;
    let gaps_kept = (!gaps.is_empty() && narrow.is_finite())
        .then(|| gaps.iter().all(|g| (narrow - 0.5..=wide + 0.5).contains(g)));
    let groups = lettering.text.split_whitespace().collect::<Vec<_>>();
    let formed = match groups.as_slice() {
        [state, number, suffix] => {
            state.chars().all(char::is_alphabetic)
                && number.chars().all(|c| c.is_ascii_digit())
                && suffix.chars().all(char::is_alphabetic)
        }
        _ => false,
    };
    vec![
        finding(
            "33 CFR 173.27(a)(1)",
            "On each side of the forward half of the vessel.",
            format!(
                "reaches {} back; the forward half ends at {}",
                printed(placed.back_mm.1),
                printed(half)
            ),
            Some(on_a_side && placed.back_mm.1 <= half + SLACK_MM),
        ),
        other_side("33 CFR 173.27(a)(1)", "On both sides.", elsewhere),
        height(
            "33 CFR 173.27(a)(2)",
            "Characters at least 3 in (76.2 mm) high.",
            drawn,
            BOAT_NUMBER_MM,
            unit,
        ),
        finding(
            "33 CFR 173.27(a)(2)",
            "Plain vertical block characters: no serifs, slant or script.",
            match (face, block) {
                (Some(f), Some(true)) => format!(
                    "{} is a block face{}",
                    f.info.name,
                    if straight { "" } else { ", but it is bent" }
                ),
                (Some(f), Some(false)) => format!("{} is not a block face", f.info.name),
                _ => "whether this typeface is a block face is not known".into(),
            },
            block.map(|b| b && straight),
        ),
        contrast_finding("33 CFR 173.27(a)(3)", lettering, side),
        finding(
            "33 CFR 173.27(a)(4)",
            "Gaps between the groups as wide as a letter other than I or a digit other than 1.",
            if gaps.is_empty() {
                "there is one group only".into()
            } else {
                format!(
                    "{} between the groups at the least; letters are {} to {} wide",
                    printed(gaps.iter().copied().fold(f64::INFINITY, f64::min)),
                    printed(narrow),
                    printed(wide)
                )
            },
            gaps_kept.or(Some(false)),
        ),
        finding(
            "33 CFR 173.27(a)(4)",
            "Letters, number, letters: as DC 5678 EF.",
            format!("{} groups", groups.len()),
            Some(formed),
        ),
        finding(
            "33 CFR 173.27(a)(5)",
            "Reads from left to right.",
            "lettering is never mirrored".into(),
            Some(true),
        ),
        finding(
            "33 CFR 173.35",
            "Validation sticker within 6 in (152 mm) of the number. Which side of it differs by state.",
            "not part of the plan: leave room for it".into(),
            None,
        ),
    ]
}

/// Clear gaps between the groups of a line, mm.
fn group_gaps(lettering: &Lettering, drawn: &Drawn) -> Vec<f64> {
    let mut letters = drawn.parts.iter().collect::<Vec<&Part>>();
    letters.sort_by(|a, b| a.bounds.x0.total_cmp(&b.bounds.x0));
    let mut gaps = Vec::new();
    let mut parts = letters.into_iter();
    let mut before: Option<f64> = None;
    for group in lettering.text.split_whitespace() {
        let mut left = group.chars().count();
        let mut first = true;
        while left > 0 {
            let Some(part) = parts.next() else {
                return gaps;
            };
            if first && let Some(end) = before {
                gaps.push(part.bounds.x0 - end);
            }
            first = false;
            before = Some(part.bounds.x1);
            left = left.saturating_sub(part.label.chars().count().max(1));
        }
    }
    gaps
}
