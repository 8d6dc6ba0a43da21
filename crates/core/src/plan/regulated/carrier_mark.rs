//! A carrier's name and number, clause by clause.

use crate::art::drawn::Drawn;
use crate::art::legibility::MUTCD_RATIO;
use crate::art::lettering::Lettering;
use crate::ground::tape::Unit;
use crate::plan::regulated::{
    CARRIER_DISTANCE_MM, Elsewhere, Finding, contrast_finding, finding, height, other_side,
};
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn carrier_mark(
    lettering: &Lettering,
    drawn: &Drawn,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    let number = lettering.text.split_whitespace().collect::<Vec<_>>();
    let at = number.iter().position(|w| w.eq_ignore_ascii_case("USDOT"));
    let followed = at
        .and_then(|n| number.get(n + 1))
        .is_some_and(|w| w.chars().all(|c| c.is_ascii_digit()));
    let named = at != Some(0) && !number.is_empty();
    let least = CARRIER_DISTANCE_MM / MUTCD_RATIO;
    vec![
        finding(
            "49 CFR 390.21(b)(1)",
            "The carrier's legal name or single trade name.",
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
            } else {
                "no number after USDOT".into()
            },
            Some(followed),
        ),
        other_side(
            "49 CFR 390.21(c)(1)",
            "On both sides of the vehicle.",
            elsewhere,
        ),
        contrast_finding("49 CFR 390.21(c)(2)", lettering, side),
        height(
            "49 CFR 390.21(c)(3)",
            "Readily legible in daylight from 50 ft. The rule gives no height: 1 in for each 30 ft (MUTCD 2A.13) makes it 1.67 in (42.3 mm).",
            drawn,
            least,
            unit,
        ),
    ]
}
