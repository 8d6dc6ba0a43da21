//! Colours of a continuous strip: where along the roll it is cut, so that every colour keeps its approval mark, and red beside red lamps.

use super::face::{Face, MarkSide, READ_MM};
use super::rules::{RuleSet, Rules};
use super::strip::{ColourRun, Rect, Stock, Strip, TapeColour, WHITE_ROLL_MM};
use crate::vehicle::feature::kind::LampColour;

/// The approval mark is taken to stand in the middle of each colour, this wide at most, mm (ours: tapes differ, look at the roll).
pub const MARK_MM: f64 = 40.0;

/// Whether a colour cut from one end to this length still shows its mark, taken to stand in its middle.
pub fn keeps_mark(whole_mm: f64, cut_mm: f64) -> bool {
    cut_mm >= (whole_mm + MARK_MM).min(2.0 * whole_mm) / 2.0 - 0.01
}

/// Whether a colour of a strip shows its approval mark.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shows {
    /// A mark stands on it.
    Yes,
    /// None does.
    No,
    /// Nobody has looked where the tape's marks stand, and this colour is cut.
    Unknown,
}

/// Whether the colours of a strip show their marks, in their order. The first colour of a strip is taken to be cut at its beginning, the
/// last at its end, as the cut list says it; white alone is cut so that a mark stays on it.
pub fn shows_marks(rules: &Rules, stock: &Stock, strip: &Strip) -> Vec<Shows> {
    // White alone carries a mark at least once in this length.
    let every = rules.get("mark_every").unwrap_or(WHITE_ROLL_MM);
    let count = strip.runs.len();
    let mut at = 0.0;
    let starts: Vec<(TapeColour, f64, f64)> = (stock.pattern.iter())
        .map(|r| {
            let from = at;
            at += r.length_mm.mm();
            (r.colour, from, r.length_mm.mm())
        })
        .collect();
    let half = MARK_MM / 2.0;
    (strip.runs.iter().enumerate())
        .map(|(n, run)| {
            let length = run.length_mm.mm();
            let Some((_, from, whole)) = starts.iter().find(|(c, ..)| *c == run.colour) else {
                // Of another tape: cut where a mark stays, if it is as long as that tape's pieces.
                return if length >= every - 0.01 {
                    Shows::Yes
                } else {
                    Shows::Unknown
                };
            };
            if length >= whole - 0.01 {
                return Shows::Yes;
            }
            let Some(marks) = &stock.marks else {
                return Shows::Unknown;
            };
            if stock.pattern.len() == 1 {
                // One colour is cut anywhere: round a mark, where it is long enough for one.
                return if length >= MARK_MM {
                    Shows::Yes
                } else {
                    Shows::No
                };
            }
            let (a, b) = if n == 0 && count > 1 {
                (from + whole - length, from + whole)
            } else {
                (*from, from + length)
            };
            let (first, pitch) = (marks.first_mm.mm(), marks.pitch_mm.mm());
            let next = first + ((a + half - first) / pitch).ceil() * pitch;
            if next + half <= b + 0.01 {
                Shows::Yes
            } else {
                Shows::No
            }
        })
        .collect()
}

/// Runs of a length of tape cut from the roll, `from_mm` into the pattern; equal colours that meet are one.
pub fn from_roll(pattern: &[ColourRun], from_mm: f64, length_mm: f64) -> Vec<ColourRun> {
    let module: f64 = pattern.iter().map(|r| r.length_mm).sum();
    let mut skip = from_mm.rem_euclid(module);
    let mut left = length_mm;
    let mut runs: Vec<ColourRun> = Vec::new();
    for run in pattern.iter().cycle() {
        if left <= 1e-6 {
            break;
        }
        if skip >= run.length_mm - 1e-9 {
            skip -= run.length_mm;
            continue;
        }
        let length = (run.length_mm - skip).min(left);
        skip = 0.0;
        left -= length;
        join(&mut runs, run.colour, length);
    }
    runs
}

fn join(runs: &mut Vec<ColourRun>, colour: TapeColour, length_mm: f64) {
    if length_mm <= 1e-6 {
        return;
    }
    match runs.last_mut() {
        Some(last) if last.colour == colour => last.length_mm += length_mm,
        _ => runs.push(ColourRun {
            colour,
            length_mm: length_mm.into(),
        }),
    }
}

/// Red and white in a layout so far, mm: the next strip leans to what there is less of.
pub type Balance = [f64; 2];

fn balance_of(runs: &[ColourRun]) -> Balance {
    let of = |colour| {
        runs.iter()
            .filter(|r| r.colour == colour)
            .map(|r| r.length_mm)
            .sum()
    };
    [of(TapeColour::Red), of(TapeColour::White)]
}

/// Where along the roll a strip can be worth cutting: at a colour's beginning, or so that what is cut off keeps its mark; the same for
/// the strip's other end; so that a white one begins or ends where red lamps let it.
fn starts(stock: &Stock, length_mm: f64, near: &[(f64, f64)]) -> Vec<f64> {
    let module = stock.module_mm();
    let mut starts = Vec::new();
    let mut at = 0.0;
    for run in &stock.pattern {
        let kept = (run.length_mm + MARK_MM) / 2.0;
        starts.extend([at, at + run.length_mm - kept]);
        starts.extend([at - length_mm, at + kept - length_mm]);
        if run.colour == TapeColour::White {
            for (from, to) in near {
                starts.extend([at - to, at + run.length_mm - from]);
            }
        }
        at += run.length_mm;
    }
    starts.iter().map(|s| s.rem_euclid(module)).collect()
}

/// Shortest whole length of a colour in a pattern, mm.
fn whole_of(stock: &Stock, colour: TapeColour) -> f64 {
    let of = stock.pattern.iter().filter(|r| r.colour == colour);
    of.map(|r| r.length_mm.mm()).fold(f64::INFINITY, f64::min)
}

/// Colours of a strip that may have lost their mark.
fn lost_marks(stock: &Stock, runs: &[ColourRun]) -> usize {
    runs.iter()
        .filter(|r| !keeps_mark(whole_of(stock, r.colour), r.length_mm.mm()))
        .count()
}

/// Colours too short at an end where nothing is cleared: only there the rule lets none be shorter.
fn too_short(
    side: &MarkSide,
    stock: &Stock,
    span: (f64, f64),
    runs: &[ColourRun],
    least_mm: f64,
) -> usize {
    let short = |r: Option<&ColourRun>| {
        r.is_some_and(|r| r.length_mm < least_mm.min(whole_of(stock, r.colour)) - 0.01)
    };
    usize::from(span.0 <= side.ends_mm.0 + 1e-6 && short(runs.first()))
        + usize::from(span.1 >= side.ends_mm.1 - 1e-6 && short(runs.last()))
}

/// A strip of tape that fills a span, with its colours: neither above its share so far, fewest too short, fewest that may have lost their mark, then red and white as
/// even as can be over the layout, then fewest colours. Adds its colours to the balance.
pub fn fill(
    side: &MarkSide,
    rules: &Rules,
    stock: &Stock,
    span: (f64, f64),
    centre_mm: f64,
    balance: &mut Balance,
) -> Strip {
    let length = span.1 - span.0;
    let least = rules.get("segment_least").unwrap_or(0.0);
    let strip_from = |start: f64| {
        let strip = Strip {
            start_mm: span.0.into(),
            centre_mm: centre_mm.into(),
            width_mm: stock.width_mm,
            runs: from_roll(&stock.pattern, start, length),
            upright: false,
            split_mm: None,
            reflectors: None,
            element: super::strip::Element::Line,
        };
        redden(side, rules, stock, strip)
    };
    let cost = |strip: &Strip| {
        let [red, white] = balance_of(&strip.runs);
        let (red, white) = (red + balance[0], white + balance[1]);
        let uneven = if red + white > 0.0 {
            (red / (red + white) - 0.5).abs()
        } else {
            0.0
        };
        let most = rules.get("colour_share").unwrap_or(1.0);
        // Across a width each strip that is long enough for both colours is counted by itself.
        let [own_red, own_white] = balance_of(&strip.runs);
        let alone = side.face == Face::Rear
            && length >= 2.0 * least
            && own_red.max(own_white) > most * length + 1e-6;
        // To a twentieth: a little more of one colour is not worth another cut.
        (
            alone,
            red.max(white) > most * (red + white) + 1e-6,
            too_short(side, stock, span, &strip.runs, least),
            lost_marks(stock, &strip.runs),
            (uneven * 20.0).floor() as u32,
            strip.runs.len(),
        )
    };
    let half = stock.width_mm / 2.0;
    let all = Rect {
        back_mm: span,
        height_mm: (centre_mm - half, centre_mm + half),
    };
    // As seen from the strip's beginning.
    let near: Vec<(f64, f64)> = match rules.get("lamp_distance") {
        Some(reach) if may_redden(rules, stock) => near_red_lamps(side, reach + READ_MM, &all)
            .into_iter()
            .map(|(a, b)| (a - span.0, b - span.0))
            .collect(),
        _ => Vec::new(),
    };
    let best = starts(stock, length, &near)
        .into_iter()
        .map(|start| {
            let strip = strip_from(start);
            (cost(&strip), start, strip)
        })
        .min_by(|a, b| a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)))
        .map_or_else(|| strip_from(0.0), |(_, _, strip)| strip);
    let [red, white] = balance_of(&best.runs);
    balance[0] += red;
    balance[1] += white;
    best
}

/// Whether a stock can be red where it must be.
pub(super) fn may_redden(rules: &Rules, stock: &Stock) -> bool {
    matches!(rules.set, RuleSet::UnitedStatesNew)
        && stock.pattern.iter().any(|r| r.colour == TapeColour::Red)
}

/// Spans of a strip's line that lie nearer to a required red lamp than `reach`, as far as the strip goes.
fn near_red_lamps(side: &MarkSide, reach: f64, all: &Rect) -> Vec<(f64, f64)> {
    side.obstacles
        .iter()
        .filter(|o| o.lamp == Some(LampColour::Red))
        .filter_map(|o| {
            let up = (o.height_mm.0 - all.height_mm.1)
                .max(all.height_mm.0 - o.height_mm.1)
                .max(0.0);
            let along = (reach * reach - up * up).max(0.0).sqrt();
            let span = (o.back_mm.0 - along, o.back_mm.1 + along);
            (up < reach && span.1 > all.back_mm.0 && span.0 < all.back_mm.1).then_some(span)
        })
        .collect()
}

/// Red in place of white near red lamps, which is where white may not be and red may (49 CFR 571.108 S8.2.1.4 and S8.2.1.6, from
/// memory): the red beside such a lamp is lengthened. White that is left shorter than a segment beside it becomes red as well.
fn redden(side: &MarkSide, rules: &Rules, stock: &Stock, strip: Strip) -> Strip {
    let (true, Some(reach)) = (may_redden(rules, stock), rules.get("lamp_distance")) else {
        return strip;
    };
    let near = near_red_lamps(side, reach + READ_MM, &strip.rect());
    if near.is_empty() {
        return strip;
    }
    let least = rules.get("segment_least").unwrap_or(0.0);
    let mut edges: Vec<f64> = near.iter().flat_map(|(a, b)| [*a, *b]).collect();
    let mut at = strip.start_mm;
    for run in &strip.runs {
        edges.push(at.mm());
        at += run.length_mm.mm();
    }
    edges.push(at.mm());
    edges.retain(|e| (strip.start_mm..=(at + 1e-9).into()).contains(e));
    edges.sort_by(f64::total_cmp);
    let colour_at = |x: f64| {
        let mut to = strip.start_mm;
        strip
            .runs
            .iter()
            .find(|r| {
                to += r.length_mm.mm();
                x < to
            })
            .map_or(TapeColour::Red, |r| r.colour)
    };
    let is_near = |x: f64| near.iter().any(|(a, b)| x > *a && x < *b);
    let mut runs: Vec<ColourRun> = Vec::new();
    for pair in edges.windows(2) {
        let middle = (pair[0] + pair[1]) / 2.0;
        let colour = if is_near(middle) {
            TapeColour::Red
        } else {
            colour_at(middle)
        };
        join(&mut runs, colour, pair[1] - pair[0]);
    }
    // White left as a sliver between the lengthened red and the next red.
    let mut joined: Vec<ColourRun> = Vec::new();
    let mut from = strip.start_mm.mm();
    for run in &runs {
        let to = from + run.length_mm;
        let beside = near
            .iter()
            .any(|(a, b)| (from - b).abs() < 1e-6 || (to - a).abs() < 1e-6);
        let colour = if run.colour == TapeColour::White && run.length_mm < least - 0.01 && beside {
            TapeColour::Red
        } else {
            run.colour
        };
        join(&mut joined, colour, run.length_mm.mm());
        from = to;
    }
    Strip {
        runs: joined,
        ..strip
    }
}
