//! What is cut from which tape, in which order, and what is left over.

use serde::Serialize;

use super::strip::{ColourRun, Element, Stock, Strip};
use crate::marking::element_plan::ElementPlan;

/// One cut from a roll or a pre-cut strip.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cut {
    /// The strip that it is for, numbered as on the picture, from 1.
    pub strip: u32,
    /// Length, mm.
    pub length_mm: f64,
    /// How far into the pattern it begins, mm.
    pub into_pattern_mm: f64,
    /// Tape passed over before it to reach the right colour, mm.
    pub skipped_mm: f64,
    /// Its colours.
    pub runs: Vec<ColourRun>,
    /// Whether it is split along its length.
    pub split: bool,
    /// Width that it is cut down to, where it is narrower than the tape, mm.
    pub cut_down_to_mm: Option<f64>,
}

/// Cuts from one tape.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CutList {
    /// The tape.
    pub stock: Stock,
    /// What it is called.
    pub name: String,
    /// Cuts, in the order in which they waste least that was found (each time the nearest that follows; not proven least).
    pub cuts: Vec<Cut>,
    /// Tape on the vehicle, mm.
    pub used_mm: f64,
    /// Tape left over between the cuts, or of pre-cut strips, mm.
    pub waste_mm: f64,
    /// Pre-cut strips that are needed, where it comes in strips.
    pub pre_cut: Option<u32>,
}

/// Cuts for strips from the tape, and in white for the parts that are white alone. Strips numbered in their order.
///
/// ```
/// # use windrift_core::{ground::tape::Unit, vehicle::side::words::Ends};
/// # use windrift_core::marking::{Audited, ColourRun, Face, FaceAsk, FaceMarking, MarkSide, MarkedKind, MarkedVehicle, RuleSet, Rules, Stock, TapeColour, audit, cut_list, cut_list::all_strips, mark_face};
/// # let pattern = [TapeColour::Red, TapeColour::White].map(|colour| ColourRun { colour, length_mm: 304.8.into() }).to_vec();
/// # let stock = Stock { grade: "C2".into(), width_mm: 50.8.into(), pattern, pre_cut_mm: None };
/// # let vehicle = MarkedVehicle { kind: MarkedKind::Trailer, width_mm: Some(2590.8.into()), length_mm: Some(12_192.0.into()),
/// #     mass_kg: Some(30_000.0), built: None, category: None, living_or_office: false, pole_trailer: false, driveaway: false,
/// #     incomplete_or_tractor: false, open_rear: false, line_only: false };
/// // The side of a 40 ft trailer with nothing on it, 900 to 3900 mm above the ground.
/// let side = MarkSide { face: Face::Side, ends_mm: (0.0, 12_192.0), height_mm: (900.0, 3900.0), obstacles: vec![], heads: vec![] };
/// let (rules, marking) = (Rules::plain(RuleSet::UnitedStatesNew), FaceMarking::of_stock(stock, 1000.0));
/// let ask = FaceAsk { side: &side, rules: &rules, vehicle: &vehicle, marking: &marking, ends: Ends(["front", "rear"]), unit: Unit::Millimetre };
/// let strips = all_strips(&mark_face(&ask));
/// let lists = cut_list(&strips, &marking.stock);
/// assert_eq!(lists.iter().map(|l| l.cuts.len()).sum::<usize>(), strips.len());
/// ```
pub fn cut_list(strips: &[Strip], stock: &Stock) -> Vec<CutList> {
    let white = stock.in_white();
    // A corner's strips are white, unless the tape itself is of one colour.
    let only = match stock.pattern.as_slice() {
        [only] => Some(only.colour),
        _ => None,
    };
    let from_white = |s: &Strip| {
        matches!(s.element, Element::UpperZero | Element::UpperFar)
            && s.runs.iter().any(|r| Some(r.colour) != only)
    };
    let mut lists = Vec::new();
    for (tape, is_white) in [(stock, false), (&white, true)] {
        let wanted: Vec<Cut> = (1..)
            .zip(strips)
            .filter(|(_, s)| from_white(s) == is_white)
            .flat_map(|(number, s)| windows(number, s, tape))
            .collect();
        if !wanted.is_empty() {
            lists.push(in_order(tape, wanted));
        }
    }
    lists
}

/// All strips of a plan, in the order of their parts.
pub fn all_strips(plans: &[ElementPlan]) -> Vec<Strip> {
    plans.iter().flat_map(|p| p.strips.clone()).collect()
}

/// A strip as lengths that follow the tape's pattern: a lengthened colour is pieced together.
fn windows(number: u32, strip: &Strip, stock: &Stock) -> Vec<Cut> {
    let mut pieces: Vec<(ColourRun, f64)> = Vec::new();
    let starts: Vec<(f64, ColourRun)> = stock
        .pattern
        .iter()
        .scan(0.0, |at, r| {
            let from = *at;
            *at += r.length_mm;
            Some((from, *r))
        })
        .collect();
    let single = stock.pattern.len() == 1;
    for run in &strip.runs {
        let Some((from, of)) = starts.iter().find(|(_, r)| r.colour == run.colour) else {
            // A colour that the tape does not have: told by itself.
            pieces.push((*run, 0.0));
            continue;
        };
        let mut left = run.length_mm.mm();
        while left > 1e-6 {
            let length = if single {
                left
            } else {
                left.min(of.length_mm.mm())
            };
            pieces.push((
                ColourRun {
                    colour: run.colour,
                    length_mm: length.into(),
                },
                *from,
            ));
            left -= length;
        }
    }
    let module = stock.module_mm();
    let whole_of = |r: &ColourRun| {
        starts
            .iter()
            .find(|(_, p)| p.colour == r.colour)
            .map_or(r.length_mm, |(_, p)| p.length_mm)
            .mm()
    };
    let mut cuts: Vec<Cut> = Vec::new();
    let narrower = strip.tape_mm() < stock.width_mm - 0.5;
    for (n, (run, from)) in pieces.iter().enumerate() {
        // The first piece of a strip is cut at its beginning, every other at its end.
        let into = if n == 0 && !single && run.length_mm < whole_of(run) {
            from + whole_of(run) - run.length_mm
        } else {
            *from
        };
        let follows = cuts.last().is_some_and(|c: &Cut| {
            let end = (c.into_pattern_mm + c.length_mm).rem_euclid(module);
            let gap = (end - into).abs();
            gap < 1e-3 || (gap - module).abs() < 1e-3
        });
        match cuts.last_mut() {
            Some(last) if follows && !single => {
                last.length_mm += run.length_mm;
                last.runs.push(*run);
            }
            _ => cuts.push(Cut {
                strip: number,
                length_mm: run.length_mm.mm(),
                into_pattern_mm: into.rem_euclid(module),
                skipped_mm: 0.0,
                runs: vec![*run],
                split: strip.split_mm.is_some(),
                cut_down_to_mm: narrower.then(|| strip.tape_mm()),
            }),
        }
    }
    cuts
}

fn in_order(stock: &Stock, mut wanted: Vec<Cut>) -> CutList {
    let module = stock.module_mm();
    let used_mm = wanted.iter().map(|c| c.length_mm).sum();
    let mut list = CutList {
        stock: stock.clone(),
        name: stock.name(),
        cuts: Vec::new(),
        used_mm,
        waste_mm: 0.0,
        pre_cut: None,
    };
    if let Some(long) = stock.pre_cut_mm {
        let mut count = 0;
        for cut in &mut wanted {
            let n = ((cut.into_pattern_mm + cut.length_mm - 1e-6) / long)
                .ceil()
                .max(1.0);
            cut.skipped_mm = cut.into_pattern_mm;
            count += n as u32;
        }
        list.waste_mm = f64::from(count) * long - used_mm;
        list.pre_cut = Some(count);
        list.cuts = wanted;
        return list;
    }
    // White alone is cut anywhere.
    let single = stock.pattern.len() == 1;
    let mut at = 0.0;
    while !wanted.is_empty() {
        let skip = |c: &Cut| {
            let gap = (c.into_pattern_mm - at).rem_euclid(module);
            if single || module - gap < 1e-3 {
                0.0
            } else {
                gap
            }
        };
        let Some(n) = (0..wanted.len()).min_by(|a, b| {
            let of = |n: &usize| wanted.get(*n).map_or(f64::INFINITY, skip);
            of(a).total_cmp(&of(b)).then(a.cmp(b))
        }) else {
            break;
        };
        let mut cut = wanted.remove(n);
        cut.skipped_mm = skip(&cut);
        list.waste_mm += cut.skipped_mm;
        at = (cut.into_pattern_mm + cut.length_mm).rem_euclid(module);
        list.cuts.push(cut);
    }
    list
}
