//! Everything that one face is marked with: which parts the rules ask for, and the best layout of each.

use crate::ground::tape::print;
use crate::marking::applies::{MarkedKind, MarkedVehicle};
use crate::marking::ask::FaceAsk;
use crate::marking::colours::fill;
use crate::marking::corner::corner;
use crate::marking::element_plan::{ElementPlan, SHORTEST_MM, as_obstacle};
use crate::marking::face::{CLEAR_MM, Face, MarkSide, Obstacle};
use crate::marking::face_marking::{FaceMarking, UnderrideMember};
use crate::marking::laying::{GAP_LIMIT_MM, Laying, MarkError, WayOfLaying, least_width};
use crate::marking::line::free;
use crate::marking::plan::plan;
use crate::marking::rules::{RuleSet, Rules};
use crate::marking::strip::{Element, Stock, Strip, TapeColour};
use crate::marking::{contour, tractor};

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

/// The best layout of every part of a face.
///
/// ```
/// # use windrift_core::{ground::tape::Unit, vehicle::side::words::Ends};
/// # use windrift_core::marking::{Audited, ColourRun, Face, FaceAsk, FaceMarking, MarkSide, MarkedKind, MarkedVehicle, RuleSet, Rules, Stock, TapeColour, audit, cut_list, cut_list::all_strips, mark_face};
/// # let pattern = [TapeColour::Red, TapeColour::White].map(|colour| ColourRun { colour, length_mm: 304.8.into() }).to_vec();
/// # let stock = Stock { grade: "C2".into(), width_mm: 50.8.into(), pattern, pre_cut_mm: None, marks: None };
/// # let vehicle = MarkedVehicle { kind: MarkedKind::Trailer, width_mm: Some(2590.8.into()), length_mm: Some(12_192.0.into()),
/// #     mass: Some(windrift_core::marking::Mass::of_kg(30_000.0)), built: None, category: None, living_or_office: false, pole_trailer: false, driveaway: false,
/// #     incomplete_or_tractor: false, open_rear: false, line_only: false };
/// // The side of a 40 ft trailer with nothing on it, 900 to 3900 mm above the ground.
/// let side = MarkSide { face: Face::Side, ends_mm: (0.0, 12_192.0), height_mm: (900.0, 3900.0), obstacles: vec![], heads: vec![] };
/// let (rules, marking) = (Rules::plain(RuleSet::UnitedStatesNew), FaceMarking::of_stock(stock, 1000.0));
/// let ask = FaceAsk { side: &side, rules: &rules, vehicle: &vehicle, marking: &marking, ends: Ends(["front", "rear"]), unit: Unit::Millimetre };
/// let plans = mark_face(&ask);
/// let film: f64 = all_strips(&plans).iter().flat_map(|s| &s.runs).map(|r| r.length_mm.mm()).sum();
/// assert!(film >= 12_192.0 / 2.0);
/// ```
pub fn mark_face(ask: &FaceAsk<'_>) -> Vec<ElementPlan> {
    let mut laid: Vec<ElementPlan> = Vec::new();
    for element in elements(ask.rules, ask.side.face, ask.vehicle, ask.marking) {
        let found = match element {
            Element::Line => line(ask),
            Element::UpperZero | Element::UpperFar => upper_corner(ask, element, &laid),
            Element::Underride => underride(ask),
            Element::Top => contour::top(ask),
            Element::UprightZero | Element::UprightFar => contour::upright(ask, element, &laid),
            Element::TractorZero | Element::TractorFar => tractor::strip(ask, element),
        };
        laid.push(found);
    }
    laid
}

fn laying<'a>(ask: &FaceAsk<'a>, way: WayOfLaying) -> Laying<'a> {
    let stock = &ask.marking.stock;
    let wanted = ask.marking.gap_limit_mm.unwrap_or(GAP_LIMIT_MM.into());
    Laying {
        rules: ask.rules,
        stock,
        way,
        // No gap may be more than a share of the shortest strip beside it, and no strip is shorter than a module.
        gap_limit_mm: match ask.rules.get("gap_share") {
            Some(share) => wanted.min(share * stock.module_mm()),
            None => wanted.mm(),
        },
        strip_mm: ask.marking.strip_mm.map(|mm| mm.mm()),
        spare_mm: ask.marking.spare_mm.map(|mm| mm.mm()),
        split_mm: None,
        unit: ask.unit,
    }
}

/// The line along the side or low across the rear. A rear is filled from edge to edge; so is a UN contour.
fn line(ask: &FaceAsk<'_>) -> ElementPlan {
    let full = ask.side.face == Face::Rear || ask.rules.set == RuleSet::Unece;
    let way = if full {
        WayOfLaying::Continuous
    } else {
        ask.marking.way
    };
    match plan(ask.side, &laying(ask, way)) {
        Ok(found) => ElementPlan::of_line(ask.ends, Element::Line, found),
        Err(error @ (MarkError::NoRoom(_) | MarkError::TooLittle { .. }))
            if way == WayOfLaying::Spaced =>
        {
            // Whole patterns do not come to what is asked: all that fits, cut to the room that there is.
            match plan(ask.side, &laying(ask, WayOfLaying::Continuous)) {
                Ok(mut found) => {
                    let asked = ask.rules.get("side_share").unwrap_or(0.0) * ask.side.length_mm();
                    let enough = found.film_mm >= asked - 0.01;
                    if enough {
                        found.reasons.insert(0, "Whole repeats of the pattern do not come to what is asked between the things in the way: strips are cut to the room that there is.".into());
                    }
                    ElementPlan {
                        refused: (!enough).then(|| error.to_string()),
                        ..ElementPlan::of_line(ask.ends, Element::Line, found)
                    }
                }
                Err(_) => ElementPlan::refused(ask.ends, Element::Line, error.to_string()),
            }
        }
        Err(error) => ElementPlan::refused(ask.ends, Element::Line, error.to_string()),
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
    let stock = corner_stock(ask);
    // A white piece that is a little longer than asked is laid whole.
    let least = ask.rules.get("corner_strip").unwrap_or(300.0);
    let whole = stock.module_mm();
    let length = if ask.rules.set != RuleSet::Unece && whole >= least && whole <= least + 6.0 {
        whole
    } else {
        least
    };
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
            ElementPlan::of(ask.ends, element, found.strips.into(), vec![reason])
        }
        None => ElementPlan::refused(
            ask.ends,
            element,
            format!(
                "No two strips of {} fit at the {}. A lone one, or strips along the perimeter, as close as practicable: lay them by hand and record why.",
                print(length, ask.unit).text,
                element.name(ask.ends)
            ),
        ),
    }
}

/// The member of an underride device, filled from end to end; here alone C2 may be narrower.
fn underride(ask: &FaceAsk<'_>) -> ElementPlan {
    let Some(member) = &ask.marking.underride else {
        return ElementPlan::refused(
            ask.ends,
            Element::Underride,
            "Measure the underride member.".into(),
        );
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
            ask.ends,
            Element::Underride,
            format!(
                "The member is {high:.0} mm high, and tape of grade {} is at least {least:.0} mm wide there. Put a plate on it, and record why.",
                stock.grade
            ),
        );
    }
    let sub = member_face(ask.side, member);
    let blocked: Vec<(f64, f64)> = sub
        .obstacles
        .iter()
        .map(|o| (o.back_mm.0 - CLEAR_MM, o.back_mm.1 + CLEAR_MM))
        .collect();
    let spans = free(sub.ends_mm, &blocked, SHORTEST_MM);
    let centre = (member.top_mm + member.foot_mm) / 2.0;
    let narrow = Stock {
        width_mm: width.into(),
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
    ElementPlan::of(ask.ends, Element::Underride, strips, reasons)
}

/// The member by itself, with what stands before it.
pub(super) fn member_face(side: &MarkSide, member: &UnderrideMember) -> MarkSide {
    let height_mm = (member.foot_mm.mm(), member.top_mm.mm());
    let mut obstacles: Vec<Obstacle> = side
        .obstacles
        .iter()
        .filter(|o| !o.is_edge() && o.height_mm.0 < height_mm.1 && o.height_mm.1 > height_mm.0)
        .cloned()
        .collect();
    obstacles.extend(member.free_of.iter().map(|s| Obstacle {
        name: "what stays free".into(),
        back_mm: (s.from_mm.mm(), s.to_mm.mm()),
        height_mm,
        lamp: None,
        function: Default::default(),
        clear_mm: 0.0,
    }));
    MarkSide {
        face: side.face,
        ends_mm: (member.from_mm.mm(), member.to_mm.mm()),
        height_mm,
        obstacles,
        heads: Vec::new(),
    }
}

/// Colours that are allowed towards a face under a set.
pub fn colours_allowed(set: RuleSet, face: Face) -> &'static [TapeColour] {
    use TapeColour::{Red, White, Yellow};
    match (set, face) {
        (RuleSet::Unece, Face::Side) => &[White, Yellow],
        (RuleSet::Unece, Face::Rear) => &[Red, Yellow],
        (_, Face::Front) => &[White, Yellow],
        // In use, other colours were allowed until 1 June 2009 (49 CFR 393.13(b), from memory).
        (RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse, _) => &[Red, White],
        (RuleSet::Voluntary, _) => &[Red, White, Yellow],
    }
}
