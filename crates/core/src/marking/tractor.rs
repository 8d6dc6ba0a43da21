//! A truck tractor's rear: two strips at its outer edges.

use super::colours::from_roll;
use super::rules::Rules;
use super::strip::{ColourRun, Element, Strip};
use crate::ground::tape::print;
use crate::marking::ask::FaceAsk;
use crate::marking::element_plan::ElementPlan;
use crate::marking::face_marking::{TractorPlace, TractorRear};

/// One of a tractor's two rear strips (49 CFR 571.108 S8.2.4, from memory).
pub(super) fn strip(ask: &FaceAsk<'_>, element: Element) -> ElementPlan {
    let Some(rear) = &ask.marking.tractor else {
        return ElementPlan::refused(ask.ends,
            element,
            "Measure where the strips can go: fenders, mudflaps, their brackets, or the back of the cab.".into(),
        );
    };
    let stock = &ask.marking.stock;
    let least = ask.rules.get("tractor_strip").unwrap_or(600.0);
    let span = if element == Element::TractorZero {
        rear.zero
    } else {
        rear.far
    };
    let room = span.to_mm - span.from_mm;
    if room < least - 0.01 {
        return ElementPlan::refused(
            ask.ends,
            element,
            format!(
                "The surface is {} wide, and the strip is at least {least:.0} mm long. Choose another place, or a plate on the bracket.",
                print(room, ask.unit).text
            ),
        );
    }
    let half = stock.width_mm / 2.0;
    let (low, high) = heights(ask.rules, rear);
    if high - low < stock.width_mm - 0.01 {
        return ElementPlan::refused(
            ask.ends,
            element,
            format!(
                "Between {low:.0} and {high:.0} mm above the road is no room for tape {:.0} mm wide there. Choose another place.",
                stock.width_mm.mm()
            ),
        );
    }
    // Whole colours, as few as reach the least length; the whole surface where they do not fit.
    let mut length = 0.0;
    let mut runs: Vec<ColourRun> = Vec::new();
    for run in stock.pattern.iter().cycle().take(200) {
        if length >= least - 0.01 {
            break;
        }
        runs.push(*run);
        length += run.length_mm;
    }
    if length > room {
        runs = from_roll(&stock.pattern, 0.0, room);
        length = room;
    }
    let zero = element == Element::TractorZero;
    if !zero {
        // The same colours from both edges inwards.
        runs.reverse();
    }
    let start_mm = if zero {
        span.from_mm
    } else {
        (span.to_mm - length).into()
    };
    let strip = Strip {
        start_mm,
        centre_mm: (high - half).into(),
        width_mm: stock.width_mm,
        runs,
        upright: false,
        split_mm: None,
        reflectors: None,
        element,
    };
    let reason = format!(
        "{} long, at the outer edge, its upper edge {:.0} mm above the road.",
        print(length, ask.unit).text,
        high
    );
    ElementPlan::of(ask.ends, element, vec![strip], vec![reason])
}

/// Lowest and highest edge of the tape on a tractor's rear, mm above the road.
pub(super) fn heights(rules: &Rules, rear: &TractorRear) -> (f64, f64) {
    let (mut low, mut high) = (rear.foot_mm, rear.top_mm);
    match rear.place {
        TractorPlace::Mudflap => {
            let below = rules.get("flap_below").unwrap_or(f64::INFINITY);
            if let Some(bracket) = rear.bracket_mm {
                low = (low.max(bracket - below)).into();
            }
        }
        TractorPlace::Cab => {
            low = low.max(rear.tyre_mm.unwrap_or(low).mm()).into();
            high = (high.min(rules.get("cab_high").unwrap_or(high.mm()))).into();
        }
        TractorPlace::AheadOfAxle => low = low.max(rear.tyre_mm.unwrap_or(low).mm()).into(),
        // On fenders and on flaps' own brackets the tyres' tops do not count.
        TractorPlace::Fender | TractorPlace::Bracket | TractorPlace::BehindAxle => {}
    }
    (low.mm(), high.mm())
}
