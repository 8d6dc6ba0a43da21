//! What is cut from which tape, in which order, and what is left over.

use serde::Serialize;

use super::strip::{ColourRun, Element, Stock, Strip};
use crate::film::supply::is_one_width;
use crate::ground::tape::{Unit, print};
use crate::marking::element_plan::ElementPlan;
use crate::vehicle::side::words::Ends;

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
    /// Its colours, as they come off the roll.
    pub runs: Vec<ColourRun>,
    /// Whether it is turned round: the end that comes off the roll last lies at the zero of the tape, or at the top.
    pub turned: bool,
    /// The part of the face that it goes on.
    pub element: Element,
    /// Where it begins: along the side, or of an upright one how high its upper end is, mm.
    pub at_mm: f64,
    /// Whether it runs upwards.
    pub upright: bool,
    /// Whether it is split along its length.
    pub split: bool,
    /// Width that it is cut down to, where it is narrower than the tape, mm.
    pub cut_down_to_mm: Option<f64>,
}

impl Cut {
    /// Where it goes: `line, from 4' 0`.
    pub fn goes(&self, ends: Ends, unit: Unit) -> String {
        format!(
            "{}, {} {}",
            self.element.name(ends),
            if self.upright { "its top at" } else { "from" },
            print(self.at_mm, unit).text
        )
    }

    /// Which end of it lies at the zero of the tape, or at the top.
    pub fn lies(&self) -> String {
        let end = if self.turned {
            self.runs.last()
        } else {
            self.runs.first()
        };
        let colour = end.map_or("", |r| r.colour.name());
        let place = if self.upright { "at the top" } else { "first" };
        if self.turned {
            format!("{colour} end {place}: turn it round")
        } else {
            format!("{colour} end {place}")
        }
    }
}

/// Cuts from one tape.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CutList {
    /// The tape.
    pub stock: Stock,
    /// What it is called.
    pub name: String,
    /// Cuts, in the order in which they waste least that was found.
    pub cuts: Vec<Cut>,
    /// Tape on the vehicle, mm.
    pub used_mm: f64,
    /// Tape left over between the cuts, or of pre-cut strips, mm.
    pub waste_mm: f64,
    /// No order wastes less than this, mm: where it is what is wasted, the order is proven least.
    pub least_waste_mm: f64,
    /// Pre-cut strips that are needed, where it comes in strips.
    pub pre_cut: Option<u32>,
}

impl CutList {
    /// What it takes of a roll, mm: what is on the vehicle, and what is passed over between cuts.
    pub fn taken_mm(&self) -> f64 {
        self.used_mm + self.waste_mm
    }

    /// How many of its cuts, from the first on, a roll with so much left gives, and what they take of it, mm. Pre-cut strips are given all or none.
    pub fn given_by(&self, left_mm: f64) -> (usize, f64) {
        let whole = self.taken_mm();
        if left_mm + 1e-6 >= whole {
            return (self.cuts.len(), whole);
        }
        let takes = self.cuts.iter().filter(|_| self.pre_cut.is_none());
        let ends = takes.scan(0.0, |at, c| {
            *at += c.skipped_mm + c.length_mm;
            (*at <= left_mm + 1e-6).then_some(*at)
        });
        ends.fold((0, 0.0), |(n, _), end| (n + 1, end))
    }

    /// What is still to be cut once these are, by their places in this list: in an order of its own, since another roll begins with its pattern.
    pub fn without(&self, cut: &[usize]) -> CutList {
        let left = self.cuts.iter().enumerate();
        let left = left.filter(|(n, _)| !cut.contains(n));
        let fresh = left.map(|(_, c)| Cut {
            skipped_mm: 0.0,
            ..c.clone()
        });
        in_order(&self.stock, fresh.collect())
    }

    /// Where a cut stands in this list.
    pub fn place_of(&self, cut: &Cut) -> Option<usize> {
        let same = |c: &Cut| c.strip == cut.strip && (c.at_mm - cut.at_mm).abs() < 1e-6;
        self.cuts.iter().position(same)
    }

    /// Why nothing of it can be cut from a roll so wide with so much left, mm; nothing where something can.
    pub fn why_not_from(&self, width_mm: f64, left_mm: f64, unit: Unit) -> Option<String> {
        let text = |mm: f64| print(mm, unit).text;
        let wide = self.stock.width_mm.mm();
        if !is_one_width(width_mm, wide) {
            return Some(format!("it is {} wide, not {}", text(width_mm), text(wide)));
        }
        let least = match (self.pre_cut, self.cuts.first()) {
            (None, Some(first)) => first.skipped_mm + first.length_mm,
            _ => self.taken_mm(),
        };
        (self.given_by(left_mm).0 == 0).then(|| format!("{} are needed at the least", text(least)))
    }
}

/// Cuts for strips from the tape, and in white for the parts that are white alone. Strips numbered in their order.
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
/// let strips = all_strips(&mark_face(&ask));
/// let lists = cut_list(&strips, &marking.stock);
/// assert_eq!(lists.iter().map(|l| l.cuts.len()).sum::<usize>(), strips.len());
/// // A roll of 50 mm is as wide as one of 2 in; with too little left on it for the first cut, that is said.
/// assert_eq!(lists[0].why_not_from(50.0, lists[0].taken_mm(), Unit::Millimetre), None);
/// assert!(lists[0].why_not_from(50.8, 100.0, Unit::Millimetre).unwrap().ends_with("are needed at the least"));
/// // A roll that is nearly used up gives the first cuts; the others come from another one, none twice.
/// let (given, mm) = lists[0].given_by(0.6 * lists[0].taken_mm());
/// let rest = lists[0].without(&(0..given).collect::<Vec<_>>());
/// assert!(given > 0 && mm <= 0.6 * lists[0].taken_mm() && given + rest.cuts.len() == lists[0].cuts.len());
/// assert!(rest.cuts.iter().all(|c| lists[0].place_of(c).unwrap() >= given));
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

/// A strip as lengths that follow the tape's pattern: turned round where that takes fewer, a lengthened colour pieced together.
fn windows(number: u32, strip: &Strip, stock: &Stock) -> Vec<Cut> {
    let straight = windows_of(number, strip, stock);
    let mut runs = strip.runs.clone();
    runs.reverse();
    let turned = Strip {
        runs,
        ..strip.clone()
    };
    let mut other = windows_of(number, &turned, stock);
    let begins_late = |cuts: &[Cut]| cuts.iter().map(|c| c.into_pattern_mm).sum::<f64>();
    let fewer = other.len() < straight.len()
        || other.len() == straight.len() && begins_late(&other) < begins_late(&straight) - 1e-6;
    if !fewer {
        return straight;
    }
    // As it lies, the last cut comes first.
    let mut at = strip.start_mm.mm()
        + if strip.upright {
            0.0
        } else {
            strip.length_mm()
        };
    let mut top = strip.rect().height_mm.0;
    for cut in &mut other {
        cut.turned = true;
        if strip.upright {
            top += cut.length_mm;
            cut.at_mm = top;
        } else {
            at -= cut.length_mm;
            cut.at_mm = at;
        }
    }
    other
}

fn windows_of(number: u32, strip: &Strip, stock: &Stock) -> Vec<Cut> {
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
    let mut done = 0.0;
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
                turned: false,
                element: strip.element,
                at_mm: if strip.upright {
                    strip.rect().height_mm.1 - done
                } else {
                    strip.start_mm + done
                },
                upright: strip.upright,
                strip: number,
                length_mm: run.length_mm.mm(),
                into_pattern_mm: into.rem_euclid(module),
                skipped_mm: 0.0,
                runs: vec![*run],
                split: strip.split_mm.is_some(),
                cut_down_to_mm: narrower.then(|| strip.tape_mm()),
            }),
        }
        done += run.length_mm.mm();
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
        least_waste_mm: 0.0,
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
        list.least_waste_mm = list.waste_mm;
        list.pre_cut = Some(count);
        list.cuts = wanted;
        return list;
    }
    // White alone is cut anywhere.
    if stock.pattern.len() == 1 {
        list.cuts = wanted;
        return list;
    }
    let ends: Vec<(i64, i64)> = (wanted.iter())
        .map(|c| {
            let end = (c.into_pattern_mm + c.length_mm).rem_euclid(module);
            (
                tenths(c.into_pattern_mm),
                tenths(end).rem_euclid(tenths(module)),
            )
        })
        .collect();
    let (order, least) = least_waste(&ends, tenths(module));
    let mut at = 0.0;
    for n in order {
        let Some(mut cut) = wanted.get(n).cloned() else {
            continue;
        };
        let skip = (cut.into_pattern_mm - at).rem_euclid(module);
        cut.skipped_mm = if module - skip < 1e-3 { 0.0 } else { skip };
        list.waste_mm += cut.skipped_mm;
        at = (cut.into_pattern_mm + cut.length_mm).rem_euclid(module);
        list.cuts.push(cut);
    }
    list.least_waste_mm = (least as f64 / 10.0).min(list.waste_mm);
    list
}

/// Tenths of a millimetre: finer than any knife, and the places in a pattern that are one are one.
fn tenths(mm: f64) -> i64 {
    (mm * 10.0).round() as i64
}

/// Most ways in which kinds of cuts can be left over that are looked through.
const MOST_LEFT: usize = 200_000;

/// An order of cuts from a roll whose pattern repeats, each given by where in the pattern it begins and ends, and the least that any order
/// can waste. Exact where the cuts are of few kinds; else each time the nearest that follows, beside a bound: what flows round the pattern
/// from ends to beginnings, no matter which to which.
pub fn least_waste(cuts: &[(i64, i64)], module: i64) -> (Vec<usize>, i64) {
    let mut kinds: Vec<((i64, i64), Vec<usize>)> = Vec::new();
    for (n, cut) in cuts.iter().enumerate() {
        match kinds.iter_mut().find(|(kind, _)| kind == cut) {
            Some((_, of)) => of.push(n),
            None => kinds.push((*cut, vec![n])),
        }
    }
    let states = kinds
        .iter()
        .try_fold(1_usize, |all, (_, of)| all.checked_mul(of.len() + 1))
        .unwrap_or(usize::MAX);
    if states.saturating_mul(kinds.len()) <= MOST_LEFT {
        return exact(&kinds, module);
    }
    let mut left: Vec<usize> = (0..cuts.len()).collect();
    let (mut order, mut at, mut waste) = (Vec::new(), 0, 0);
    while let Some((slot, skip)) = (left.iter().enumerate())
        .filter_map(|(slot, n)| Some((slot, (cuts.get(*n)?.0 - at).rem_euclid(module))))
        .min_by_key(|(_, skip)| *skip)
    {
        let n = left.remove(slot);
        waste += skip;
        at = cuts.get(n).map_or(0, |c| c.1);
        order.push(n);
    }
    (order, flow(cuts, module).min(waste))
}

/// Every way in which kinds of cuts can be left over, from none left backwards.
fn exact(kinds: &[((i64, i64), Vec<usize>)], module: i64) -> (Vec<usize>, i64) {
    let sizes: Vec<usize> = kinds.iter().map(|(_, of)| of.len() + 1).collect();
    let states: usize = sizes.iter().product();
    // What is left, and the kind that was cut last: the least waste from there, and which kind is cut next.
    let mut best = vec![vec![(i64::MAX, 0_usize); kinds.len() + 1]; states];
    let strides: Vec<usize> = sizes
        .iter()
        .scan(1, |stride, size| {
            let own = *stride;
            *stride *= size;
            Some(own)
        })
        .collect();
    for state in 0..states {
        for last in 0..=kinds.len() {
            let at = kinds.get(last).map_or(0, |(kind, _)| kind.1);
            let mut found = if state == 0 { (0, 0) } else { (i64::MAX, 0) };
            for (n, (kind, _)) in kinds.iter().enumerate() {
                let (Some(stride), Some(size)) = (strides.get(n), sizes.get(n)) else {
                    continue;
                };
                if (state / stride) % size == 0 {
                    continue;
                }
                let rest = best
                    .get(state - stride)
                    .and_then(|row| row.get(n))
                    .map_or(i64::MAX, |b| b.0);
                let waste = rest.saturating_add((kind.0 - at).rem_euclid(module));
                if waste < found.0 {
                    found = (waste, n);
                }
            }
            if let Some(cell) = best.get_mut(state).and_then(|row| row.get_mut(last)) {
                *cell = found;
            }
        }
    }
    let mut left: Vec<std::slice::Iter<'_, usize>> =
        kinds.iter().map(|(_, of)| of.iter()).collect();
    let (mut order, mut state, mut last) = (Vec::new(), states.saturating_sub(1), kinds.len());
    let least = best
        .get(state)
        .and_then(|row| row.get(last))
        .map_or(0, |b| b.0);
    while state > 0 {
        let Some((_, n)) = best.get(state).and_then(|row| row.get(last)).copied() else {
            break;
        };
        order.extend(left.get_mut(n).and_then(Iterator::next));
        state -= strides.get(n).copied().unwrap_or(state);
        last = n;
    }
    (order, least)
}

/// The least that flows round a pattern from where cuts end, and the roll begins, to where cuts begin, one end left over.
fn flow(cuts: &[(i64, i64)], module: i64) -> i64 {
    let mut places: Vec<i64> = cuts.iter().flat_map(|c| [c.0, c.1]).chain([0]).collect();
    places.sort_unstable();
    places.dedup();
    let of_left = |left: i64| {
        let mut flows = Vec::new();
        let mut sum = 0_i64;
        for (n, place) in places.iter().enumerate() {
            let ends =
                cuts.iter().filter(|c| c.1 == *place).count() as i64 + i64::from(*place == 0);
            let begins = cuts.iter().filter(|c| c.0 == *place).count() as i64;
            sum += ends - begins - i64::from(*place == left);
            let next = places
                .get(n + 1)
                .copied()
                .unwrap_or(module + places.first().copied().unwrap_or(0));
            flows.push((sum, next - place));
        }
        let lowest = flows.iter().map(|f| f.0).min().unwrap_or(0);
        flows
            .iter()
            .map(|(f, long)| (f - lowest) * long)
            .sum::<i64>()
    };
    let mut ends: Vec<i64> = cuts.iter().map(|c| c.1).collect();
    ends.push(0);
    ends.sort_unstable();
    ends.dedup();
    ends.into_iter().map(of_left).min().unwrap_or(0)
}
