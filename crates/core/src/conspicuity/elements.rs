//! Everything that one face is marked with: which parts the rules ask for, and the best layout of each.

use serde::Serialize;

use super::applies::{MarkedKind, MarkedVehicle};
use super::colours::fill;
use super::corner::corner;
use super::face::{CLEAR_MM, Face, MarkSide, Obstacle};
use super::line::{Budget, LineProblem, free};
use super::marking::{FaceMarking, TractorPlace, TractorRear, UnderrideMember};
use super::plan::{GAP_LIMIT_MM, Laying, MarkError, MarkPlan, WayOfLaying, least_width, plan};
use super::rules::{RuleSet, Rules};
use super::strip::{ColourRun, Element, Stock, Strip, TapeColour};
use crate::tape::{Unit, print};

/// Contour uprights are looked for this far from the edge, mm (ours).
const UPRIGHT_WITHIN_MM: f64 = 400.0;
/// Shortest piece that an upright or an underride member is marked with, mm (ours).
const SHORTEST_MM: f64 = 150.0;

/// One part's layout.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ElementPlan {
    /// Which part.
    pub element: Element,
    /// What it is called.
    pub name: &'static str,
    /// Its strips.
    pub strips: Vec<Strip>,
    /// What governs, in sentences.
    pub reasons: Vec<String>,
    /// Which clause cannot be met and why, and what to do; the strips are then the nearest that can be.
    pub refused: Option<String>,
    /// Whether no layout is better by the goals.
    pub proven: bool,
    /// How good the best could be, where that is not proven.
    pub bound: Option<String>,
    /// Heights tried, and left out as no better.
    pub heights: [u32; 2],
    /// Rivet heads under the tape.
    pub heads_under: u32,
}

impl ElementPlan {
    fn of(element: Element, strips: Vec<Strip>, reasons: Vec<String>) -> ElementPlan {
        ElementPlan {
            element,
            name: element.name(),
            strips: strips.into_iter().map(|s| Strip { element, ..s }).collect(),
            reasons,
            refused: None,
            proven: true,
            bound: None,
            heights: [0, 0],
            heads_under: 0,
        }
    }

    fn of_line(element: Element, plan: MarkPlan) -> ElementPlan {
        ElementPlan {
            proven: plan.proven,
            bound: plan.bound,
            heights: plan.heights,
            heads_under: plan.heads_under,
            ..ElementPlan::of(element, plan.strips, plan.reasons)
        }
    }

    fn refused(element: Element, sentence: String) -> ElementPlan {
        ElementPlan {
            refused: Some(sentence),
            ..ElementPlan::of(element, Vec::new(), Vec::new())
        }
    }
}

/// Which parts of a face a set asks for on a vehicle.
pub fn elements(
    rules: &Rules,
    face: Face,
    vehicle: &MarkedVehicle,
    marking: &FaceMarking,
) -> Vec<Element> {
    use Element::{
        Line, Top, TractorFar, TractorZero, Underride, UpperFar, UpperZero, UprightFar, UprightZero,
    };
    match (rules.set, face) {
        (RuleSet::Voluntary, Face::Front) => vec![Line],
        (_, Face::Front) => Vec::new(),
        (RuleSet::UnitedStatesNew, Face::Rear) if vehicle.kind == MarkedKind::Tractor => {
            vec![TractorZero, TractorFar, UpperZero, UpperFar]
        }
        (RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse, Face::Rear) => {
            let mut all = vec![Line];
            if !vehicle.open_rear {
                all.extend([UpperZero, UpperFar]);
            }
            if rules.set == RuleSet::UnitedStatesNew && marking.underride.is_some() {
                all.push(Underride);
            }
            all
        }
        (RuleSet::UnitedStatesNew, Face::Side) if vehicle.kind == MarkedKind::Tractor => Vec::new(),
        (RuleSet::Unece, _) if vehicle.line_only => vec![Line],
        (RuleSet::Unece, Face::Rear) => vec![Line, Top, UprightZero, UprightFar],
        (RuleSet::Unece, Face::Side) => vec![Line, UpperZero, UpperFar],
        (_, Face::Side) | (RuleSet::Voluntary, Face::Rear) => vec![Line],
    }
}

/// What a face is marked by.
#[derive(Debug, Clone, Copy)]
pub struct FaceAsk<'a> {
    /// The face.
    pub side: &'a MarkSide,
    /// The rules.
    pub rules: &'a Rules,
    /// The vehicle.
    pub vehicle: &'a MarkedVehicle,
    /// What is settled.
    pub marking: &'a FaceMarking,
    /// The job's unit, for sentences.
    pub unit: Unit,
}

/// The best layout of every part of a face.
pub fn mark_face(ask: &FaceAsk<'_>, budget: &Budget) -> Vec<ElementPlan> {
    let mut laid: Vec<ElementPlan> = Vec::new();
    for element in elements(ask.rules, ask.side.face, ask.vehicle, ask.marking) {
        let found = match element {
            Element::Line => line(ask, budget),
            Element::UpperZero | Element::UpperFar => upper_corner(ask, element, &laid),
            Element::Underride => underride(ask),
            Element::Top => top(ask),
            Element::UprightZero | Element::UprightFar => upright(ask, element, &laid),
            Element::TractorZero | Element::TractorFar => tractor(ask, element),
        };
        laid.push(found);
    }
    laid
}

fn laying<'a>(ask: &FaceAsk<'a>, way: WayOfLaying) -> Laying<'a> {
    let stock = &ask.marking.stock;
    let wanted = ask.marking.gap_limit_mm.unwrap_or(GAP_LIMIT_MM);
    Laying {
        rules: ask.rules,
        stock,
        way,
        // No gap may be more than a share of the shortest strip beside it, and no strip is shorter than a module.
        gap_limit_mm: match ask.rules.get("gap_share") {
            Some(share) => wanted.min(share * stock.module_mm()),
            None => wanted,
        },
        split_mm: None,
        unit: ask.unit,
    }
}

/// The line along the side or low across the rear. A rear is filled from edge to edge; so is a UN contour.
fn line(ask: &FaceAsk<'_>, budget: &Budget) -> ElementPlan {
    let full = ask.side.face == Face::Rear || ask.rules.set == RuleSet::Unece;
    let way = if full {
        WayOfLaying::Continuous
    } else {
        ask.marking.way
    };
    match plan(ask.side, &laying(ask, way), budget) {
        Ok(found) => ElementPlan::of_line(Element::Line, found),
        Err(error @ (MarkError::NoRoom(_) | MarkError::TooLittle { .. }))
            if way == WayOfLaying::Spaced =>
        {
            // The nearest that can be: all that fits.
            match plan(ask.side, &laying(ask, WayOfLaying::Continuous), budget) {
                Ok(found) => ElementPlan {
                    refused: Some(error.to_string()),
                    ..ElementPlan::of_line(Element::Line, found)
                },
                Err(_) => ElementPlan::refused(Element::Line, error.to_string()),
            }
        }
        Err(error) => ElementPlan::refused(Element::Line, error.to_string()),
    }
}

/// The colour and stock of an upper corner: white under the United States rules, the stock's own under the UN's.
fn corner_stock(ask: &FaceAsk<'_>) -> Stock {
    if ask.rules.set == RuleSet::Unece {
        ask.marking.stock.clone()
    } else {
        ask.marking.stock.in_white()
    }
}

fn upper_corner(ask: &FaceAsk<'_>, element: Element, laid: &[ElementPlan]) -> ElementPlan {
    let length = ask.rules.get("corner_strip").unwrap_or(300.0);
    let stock = corner_stock(ask);
    let taken: Vec<Obstacle> = laid
        .iter()
        .flat_map(|p| &p.strips)
        .map(as_obstacle)
        .collect();
    match corner(ask.side, &taken, ask.rules, &stock, length, element) {
        Some(found) => {
            let text = |mm| print(mm, ask.unit).text;
            let reason = format!(
                "Two strips of {}: {} below the top and {} in from the edge for the level one, {} and {} for the upright one.",
                text(length),
                text(found.level[0]),
                text(found.level[1]),
                text(found.upright[0]),
                text(found.upright[1])
            );
            ElementPlan::of(element, found.strips.into(), vec![reason])
        }
        None => ElementPlan::refused(
            element,
            format!(
                "No two strips of {} fit at the {}. A lone one, or strips along the perimeter, as close as practicable: lay them by hand and record why.",
                print(length, ask.unit).text,
                element.name()
            ),
        ),
    }
}

fn as_obstacle(strip: &Strip) -> Obstacle {
    let rect = strip.rect();
    Obstacle {
        name: "tape".into(),
        back_mm: rect.back_mm,
        height_mm: rect.height_mm,
        lamp: None,
        clear_mm: 0.0,
    }
}

/// The member of an underride device, filled from end to end; here alone C2 may be narrower.
fn underride(ask: &FaceAsk<'_>) -> ElementPlan {
    let Some(member) = &ask.marking.underride else {
        return ElementPlan::refused(Element::Underride, "Measure the underride member.".into());
    };
    let stock = &ask.marking.stock;
    let high = member.top_mm - member.foot_mm;
    let least = match (stock.grade.as_str(), ask.rules.get("underride_tape")) {
        ("C2", Some(narrow)) => narrow,
        _ => least_width(ask.rules, &stock.grade),
    };
    let width = stock.width_mm.min(high);
    if width < least - 0.01 {
        return ElementPlan::refused(
            Element::Underride,
            format!(
                "The member is {high:.0} mm high, and tape of grade {} is at least {least:.0} mm wide there. Put a plate on it, and record why.",
                stock.grade
            ),
        );
    }
    let sub = member_face(ask.side, member);
    let blocked = sub
        .obstacles
        .iter()
        .map(|o| (o.back_mm.0 - CLEAR_MM, o.back_mm.1 + CLEAR_MM))
        .collect();
    let spans = free(&LineProblem {
        ends_mm: sub.ends_mm,
        blocked_mm: blocked,
        module_mm: SHORTEST_MM,
        least_film_mm: 0.0,
        gap_limit_mm: None,
    });
    let centre = (member.top_mm + member.foot_mm) / 2.0;
    let narrow = Stock {
        width_mm: width,
        ..stock.clone()
    };
    let mut balance = [0.0; 2];
    let strips: Vec<Strip> = spans
        .iter()
        .map(|span| fill(&sub, ask.rules, &narrow, *span, centre, &mut balance))
        .collect();
    let film: f64 = strips.iter().map(Strip::length_mm).sum();
    let mut reasons = vec![format!(
        "{} of the member's {}.",
        print(film, ask.unit).text,
        print(sub.length_mm(), ask.unit).text
    )];
    if width < stock.width_mm {
        reasons.push(format!(
            "Cut down to {width:.0} mm: here alone C2 may be as narrow as {least:.0} mm."
        ));
    }
    reasons.push("Leave the device's own label readable.".into());
    ElementPlan::of(Element::Underride, strips, reasons)
}

/// The member by itself, with what stands before it.
pub(super) fn member_face(side: &MarkSide, member: &UnderrideMember) -> MarkSide {
    let height_mm = (member.foot_mm, member.top_mm);
    let mut obstacles: Vec<Obstacle> = side
        .obstacles
        .iter()
        .filter(|o| !o.is_edge() && o.height_mm.0 < height_mm.1 && o.height_mm.1 > height_mm.0)
        .cloned()
        .collect();
    obstacles.extend(member.free_of.iter().map(|s| Obstacle {
        name: "what stays free".into(),
        back_mm: (s.from_mm, s.to_mm),
        height_mm,
        lamp: None,
        clear_mm: 0.0,
    }));
    MarkSide {
        face: side.face,
        ends_mm: (member.from_mm, member.to_mm),
        height_mm,
        obstacles,
        heads: Vec::new(),
    }
}

/// A contour's upper edge: as high as can be, within the rule's distance of the top.
fn top(ask: &FaceAsk<'_>) -> ElementPlan {
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
            ElementPlan::of(Element::Top, strips, vec![reason])
        }
        None => ElementPlan::refused(
            Element::Top,
            format!(
                "Nothing fits within {within:.0} mm of the upper edge. A line marking instead, where the body makes a contour impossible: record why."
            ),
        ),
    }
}

/// A contour's upright: as near the edge as can be, from the lower line to the upper.
fn upright(ask: &FaceAsk<'_>, element: Element, laid: &[ElementPlan]) -> ElementPlan {
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
                    start_mm: s.centre_mm - half,
                    centre_mm: s.start_mm + s.length_mm() / 2.0,
                    upright: true,
                    runs: s.runs.iter().rev().copied().collect(),
                    ..s.clone()
                })
                .collect();
            let reason = format!(
                "{} in from the edge, {} of tape.",
                print(
                    (lines.first().map_or(edge, |s| s.centre_mm) - edge).abs() - half,
                    ask.unit
                )
                .text,
                print(strips.iter().map(Strip::length_mm).sum(), ask.unit).text
            );
            ElementPlan::of(element, strips, vec![reason])
        }
        None => ElementPlan::refused(
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

/// Strips along a line beside an edge: the nearest place to it whose gaps the rule allows, else the one with most tape.
fn along(ask: &FaceAsk<'_>, face: &MarkSide, edge_mm: f64, inwards: f64) -> Option<Vec<Strip>> {
    let stock = &ask.marking.stock;
    let half = stock.width_mm / 2.0;
    let off = |o: &Obstacle| {
        if o.name == "tape" {
            0.0
        } else {
            super::face::keep_off(o, ask.rules, face.face)
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
    let mut best: Option<(f64, Vec<Strip>)> = None;
    for place in places {
        let blocked = face
            .obstacles
            .iter()
            .filter(|o| {
                o.height_mm.0 - off(o) < place + half - 1e-9
                    && o.height_mm.1 + off(o) > place - half + 1e-9
            })
            .map(|o| (o.back_mm.0 - off(o), o.back_mm.1 + off(o)))
            .collect();
        let mut balance = [0.0; 2];
        let strips: Vec<Strip> = free(&LineProblem {
            ends_mm: face.ends_mm,
            blocked_mm: blocked,
            module_mm: SHORTEST_MM,
            least_film_mm: 0.0,
            gap_limit_mm: None,
        })
        .iter()
        .map(|span| fill(face, ask.rules, stock, *span, place, &mut balance))
        .collect();
        let even = strips.windows(2).all(|w| {
            w[1].start_mm - w[0].end_mm() <= share * w[0].length_mm().min(w[1].length_mm())
        });
        if even && !strips.is_empty() {
            return Some(strips);
        }
        let film: f64 = strips.iter().map(Strip::length_mm).sum();
        if best.as_ref().is_none_or(|(f, _)| film > *f) && !strips.is_empty() {
            best = Some((film, strips));
        }
    }
    best.map(|(_, strips)| strips)
}

/// One of a tractor's two rear strips (49 CFR 571.108 S8.2.4, from memory).
fn tractor(ask: &FaceAsk<'_>, element: Element) -> ElementPlan {
    let Some(rear) = &ask.marking.tractor else {
        return ElementPlan::refused(
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
            element,
            format!(
                "The surface is {} wide, and the strip is at least {least:.0} mm long. Choose another place, or a plate on the bracket.",
                print(room, ask.unit).text
            ),
        );
    }
    let half = stock.width_mm / 2.0;
    let (low, high) = tractor_heights(ask.rules, rear);
    if high - low < stock.width_mm - 0.01 {
        return ElementPlan::refused(
            element,
            format!(
                "Between {low:.0} and {high:.0} mm above the road is no room for tape {:.0} mm wide there. Choose another place.",
                stock.width_mm
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
        runs = super::colours::from_roll(&stock.pattern, 0.0, room);
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
        span.to_mm - length
    };
    let strip = Strip {
        start_mm,
        centre_mm: high - half,
        width_mm: stock.width_mm,
        runs,
        upright: false,
        split_mm: None,
        element,
    };
    let reason = format!(
        "{} long, at the outer edge, its upper edge {:.0} mm above the road.",
        print(length, ask.unit).text,
        high
    );
    ElementPlan::of(element, vec![strip], vec![reason])
}

/// Lowest and highest edge of the tape on a tractor's rear, mm above the road.
pub(super) fn tractor_heights(rules: &Rules, rear: &TractorRear) -> (f64, f64) {
    let (mut low, mut high) = (rear.foot_mm, rear.top_mm);
    match rear.place {
        TractorPlace::Mudflap => {
            let below = rules.get("flap_below").unwrap_or(f64::INFINITY);
            if let Some(bracket) = rear.bracket_mm {
                low = low.max(bracket - below);
            }
        }
        TractorPlace::Cab => {
            low = low.max(rear.tyre_mm.unwrap_or(low));
            high = high.min(rules.get("cab_high").unwrap_or(high));
        }
        TractorPlace::Bracket => low = low.max(rear.tyre_mm.unwrap_or(low)),
        TractorPlace::Fender => {}
    }
    (low, high)
}

/// Colours that are allowed towards a face under a set.
pub fn colours_allowed(set: RuleSet, face: Face) -> &'static [TapeColour] {
    use TapeColour::{Red, White, Yellow};
    match (set, face) {
        (RuleSet::Unece, Face::Side) => &[White, Yellow],
        (RuleSet::Unece, Face::Rear) => &[Red, Yellow],
        (_, Face::Front) => &[White, Yellow],
        (RuleSet::UnitedStatesNew, _) => &[Red, White],
        (RuleSet::UnitedStatesInUse | RuleSet::Voluntary, _) => &[Red, White, Yellow],
    }
}
