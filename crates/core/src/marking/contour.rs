//! A contour under the UN regulations: its upper edge and its uprights.

use super::colours::fill;
use super::face::{MarkSide, Obstacle, keep_off};
use super::line::free;
use super::strip::{Element, Strip};
use crate::ground::tape::print;
use crate::marking::ask::FaceAsk;
use crate::marking::element_plan::{ElementPlan, LAID, SHORTEST_MM, as_obstacle};

/// Contour uprights are looked for this far from the edge, mm (ours).
const UPRIGHT_WITHIN_MM: f64 = 400.0;

/// A contour's upper edge: as high as can be, within the rule's distance of the top.
pub(super) fn top(ask: &FaceAsk<'_>) -> ElementPlan {
    let within = ask.rules.get("upper_within").unwrap_or(f64::INFINITY);
    let band = MarkSide {
        height_mm: (
            (ask.side.height_mm.1 - within).max(ask.side.height_mm.0),
            ask.side.height_mm.1,
        ),
        ..ask.side.clone()
    };
    match along(ask, &band, band.height_mm.1, -1.0) {
        Some(strips) => {
            let reason = format!(
                "As high as it can lie, within {within:.0} mm of the upper edge: {} of tape.",
                print(strips.iter().map(Strip::length_mm).sum(), ask.unit).text
            );
            ElementPlan::of(ask.ends, Element::Top, strips, vec![reason])
        }
        None => ElementPlan::refused(
            ask.ends,
            Element::Top,
            format!(
                "Nothing fits within {within:.0} mm of the upper edge. A line marking instead, where the body makes a contour impossible: record why."
            ),
        ),
    }
}

/// A contour's upright: as near the edge as can be, from the lower line to the upper.
pub(super) fn upright(ask: &FaceAsk<'_>, element: Element, laid: &[ElementPlan]) -> ElementPlan {
    let turned = turned(ask.side, laid);
    let half = ask.marking.stock.width_mm / 2.0;
    let (edge, inwards) = if element == Element::UprightZero {
        (ask.side.ends_mm.0, 1.0)
    } else {
        (ask.side.ends_mm.1, -1.0)
    };
    match along(ask, &turned, edge, inwards) {
        Some(lines) => {
            // Turned back: along becomes upwards.
            let strips: Vec<Strip> = lines
                .iter()
                .map(|s| Strip {
                    start_mm: (s.centre_mm - half).into(),
                    centre_mm: (s.start_mm + s.length_mm() / 2.0).into(),
                    upright: true,
                    runs: s.runs.iter().rev().copied().collect(),
                    ..s.clone()
                })
                .collect();
            let reason = format!(
                "{} in from the edge, {} of tape.",
                print(
                    (lines.first().map_or(edge, |s| s.centre_mm.mm()) - edge).abs() - half,
                    ask.unit
                )
                .text,
                print(strips.iter().map(Strip::length_mm).sum(), ask.unit).text
            );
            ElementPlan::of(ask.ends, element, strips, vec![reason])
        }
        None => ElementPlan::refused(
            ask.ends,
            element,
            format!(
                "Nothing fits within {UPRIGHT_WITHIN_MM:.0} mm of that edge (our own limit). Lay it by hand as near as practicable, and record why."
            ),
        ),
    }
}

/// The face with along and upwards exchanged, and tape that is laid already in the way.
fn turned(side: &MarkSide, laid: &[ElementPlan]) -> MarkSide {
    let tape = laid.iter().flat_map(|p| &p.strips).map(as_obstacle);
    MarkSide {
        face: side.face,
        ends_mm: side.height_mm,
        height_mm: side.ends_mm,
        obstacles: side
            .obstacles
            .iter()
            .cloned()
            .chain(tape)
            .map(|o| Obstacle {
                back_mm: o.height_mm,
                height_mm: o.back_mm,
                ..o
            })
            .collect(),
        heads: side.heads.iter().map(|[b, h, r]| [*h, *b, *r]).collect(),
    }
}

/// Strips along a line beside an edge: the nearest place to it where enough fits and the rule allows the gaps, else the one with most
/// tape.
fn along(ask: &FaceAsk<'_>, face: &MarkSide, edge_mm: f64, inwards: f64) -> Option<Vec<Strip>> {
    let stock = &ask.marking.stock;
    let half = stock.width_mm / 2.0;
    let off = |o: &Obstacle| {
        if o.name == LAID {
            0.0
        } else {
            keep_off(o, ask.rules, face.face)
        }
    };
    let mut places = vec![edge_mm + inwards * half];
    for o in &face.obstacles {
        places.push(o.height_mm.0 - off(o) - half);
        places.push(o.height_mm.1 + off(o) + half);
    }
    let depth = |place: f64| (place - edge_mm) * inwards;
    places.retain(|p| depth(*p) >= half - 1e-6 && depth(*p) <= UPRIGHT_WITHIN_MM);
    places.sort_by(|a, b| depth(*a).total_cmp(&depth(*b)));
    places.dedup_by(|a, b| (*a - *b).abs() < 0.5);
    let share = ask.rules.get("gap_share").unwrap_or(f64::INFINITY);
    let enough = ask.rules.get("rear_share").unwrap_or(0.0) * (face.ends_mm.1 - face.ends_mm.0);
    let mut best: Option<(f64, Vec<Strip>)> = None;
    for place in places {
        let blocked: Vec<(f64, f64)> = face
            .obstacles
            .iter()
            .filter(|o| {
                o.height_mm.0 - off(o) < place + half - 1e-9
                    && o.height_mm.1 + off(o) > place - half + 1e-9
            })
            .map(|o| (o.back_mm.0 - off(o), o.back_mm.1 + off(o)))
            .collect();
        let mut balance = [0.0; 2];
        let strips: Vec<Strip> = free(face.ends_mm, &blocked, SHORTEST_MM)
            .iter()
            .map(|span| fill(face, ask.rules, stock, *span, place, &mut balance))
            .collect();
        let even = strips.windows(2).all(|w| {
            w[1].start_mm - w[0].end_mm() <= share * w[0].length_mm().min(w[1].length_mm())
        });
        let film: f64 = strips.iter().map(Strip::length_mm).sum();
        if even && film >= enough && !strips.is_empty() {
            return Some(strips);
        }
        if best.as_ref().is_none_or(|(f, _)| film > *f) && !strips.is_empty() {
            best = Some((film, strips));
        }
    }
    best.map(|(_, strips)| strips)
}
