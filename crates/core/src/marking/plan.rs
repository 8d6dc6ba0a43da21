//! Marking along one line: the best height within the band, strips of a stock along it, where to cut back, what it lands on.

use crate::ground::tape::print;
use crate::marking::face::{CLEAR_MM, Face, MarkSide};
use crate::marking::filled::best_filled;
use crate::marking::laying::{
    InTheWay, Laying, MarkError, MarkPlan, Order, WayOfLaying, band, check, why,
};
use crate::marking::line::{Goals, Line, LineLayout, LineProblem, Needs, NoLayout};
use crate::marking::rules::RuleSet;
use crate::marking::strip::Strip;

/// The best marking of a line along a face with a stock. Where rivet heads would lie under the tape and the rule allows strips to be
/// split, split ones are tried as well, and taken where they spare heads and cost nothing else.
///
/// Errors: a stock that the rule does not allow; a body below the ground; nothing fits, or too little.
pub fn plan(side: &MarkSide, laying: &Laying<'_>) -> Result<MarkPlan, MarkError> {
    let (order, whole) = plan_one(side, laying)?;
    if laying.rules.set == RuleSet::Unece {
        return Ok(higher(side, laying, whole));
    }
    let Some(open) = split_for(side, laying).filter(|_| whole.heads_under > 0) else {
        return Ok(whole);
    };
    let split = Laying {
        split_mm: Some(open),
        ..*laying
    };
    match plan_one(side, &split) {
        Ok((other_order, mut other))
            if other.heads_under < whole.heads_under && other_order <= order =>
        {
            other.reasons.push(format!(
                "Each strip is split along its length into two of {}, {} apart, with the rivet row between: {} heads under the tape instead of {}.",
                print((other.strips.first().map_or(0.0, Strip::tape_mm)) / 2.0, laying.unit).text,
                print(open, laying.unit).text,
                other.heads_under,
                whole.heads_under
            ));
            Ok(other)
        }
        _ => Ok(whole),
    }
}

/// Open space of a split strip that clears this face's rivet heads, where the rule allows one and the heads are small enough.
fn split_for(side: &MarkSide, laying: &Laying<'_>) -> Option<f64> {
    let rules = laying.rules;
    let (half, most) = (rules.get("split_width")?, rules.get("split_gap")?);
    // The rule speaks of 50 mm tape in two halves of 25 mm.
    if laying.stock.width_mm < 2.0 * half - 0.01 || laying.stock.width_mm > 2.0 * half + 5.0 {
        return None;
    }
    let largest = side.heads.iter().map(|h| h[2]).fold(0.0, f64::max);
    let open = 2.0 * (largest + CLEAR_MM / 2.0);
    (largest > 0.0 && open <= most).then_some(open)
}

fn plan_one(side: &MarkSide, laying: &Laying<'_>) -> Result<(Order, MarkPlan), MarkError> {
    check(side, laying)?;
    let half = laying.half_mm();
    let (foot, top) = (side.height_mm.0 + half, side.height_mm.1 - half);
    let (low, high) = band(laying.rules);
    // The rule's band speaks of the centreline (United States) or of the element itself (UN).
    let edge = if laying.rules.set == RuleSet::Unece {
        half
    } else {
        0.0
    };
    let (from, to) = ((low + edge).max(foot), (high - edge).min(top));
    let in_band = from <= to;
    let (from, to) = if in_band {
        (from, to)
    } else {
        // As close as practicable: the body's nearest edge to the band.
        let nearest = if foot > high { foot } else { top };
        (nearest, nearest)
    };
    let candidates: Vec<(f64, Vec<InTheWay>)> = laying
        .heights(side, from, to)
        .into_iter()
        .map(|h| (h, laying.in_the_way(side, h)))
        .collect();
    // A height at which strictly more is in the way is never better.
    let worth: Vec<&(f64, Vec<InTheWay>)> = candidates
        .iter()
        .filter(|(_, set)| {
            !candidates
                .iter()
                .any(|(_, other)| other.len() < set.len() && other.iter().all(|o| set.contains(o)))
        })
        .collect();
    let tried = [worth.len() as u32, (candidates.len() - worth.len()) as u32];
    match laying.way {
        WayOfLaying::Spaced => best_spaced(side, laying, &worth, in_band, tried),
        WayOfLaying::Continuous => best_filled(side, laying, &worth, in_band, tried),
    }
}

/// A UN line that comes to less than its share within the usual heights, laid higher, where that is allowed if technically necessary and
/// comes to more; else the same with a word that it was tried.
fn higher(side: &MarkSide, laying: &Laying<'_>, usual: MarkPlan) -> MarkPlan {
    let rear = side.face == Face::Rear;
    let key = if rear { "rear_share" } else { "side_share" };
    let (Some(share), Some(highest)) = (laying.rules.get(key), laying.rules.get("lower_highest"))
    else {
        return usual;
    };
    let share_of = |plan: &MarkPlan| plan.film_mm / side.length_mm().max(1.0);
    if share_of(&usual) >= share {
        return usual;
    }
    let half = laying.half_mm();
    let (from, to) = (
        usual.centre_mm,
        (highest - half).min(side.height_mm.1 - half),
    );
    let candidates: Vec<(f64, Vec<InTheWay>)> = laying
        .heights(side, from, to)
        .into_iter()
        .map(|h| (h, laying.in_the_way(side, h)))
        .collect();
    let worth: Vec<&(f64, Vec<InTheWay>)> = candidates.iter().collect();
    let least = format!("{:.0} %", share * 100.0);
    match best_filled(side, laying, &worth, false, [worth.len() as u32, 0]) {
        Ok((_, found)) if found.film_mm > usual.film_mm + 1.0 => {
            let mut reasons = vec![format!(
                "Within the usual heights only {:.0} % fits, and {least} is asked: laid at {:.0} mm, which is allowed up to {highest:.0} mm where it is technically necessary. Record why.",
                share_of(&usual) * 100.0,
                found.centre_mm
            )];
            reasons.extend(found.reasons);
            MarkPlan { reasons, ..found }
        }
        _ => {
            let mut plan = usual;
            plan.reasons.push(format!(
                "{least} is asked. Heights up to {highest:.0} mm were tried as well: none has room for more."
            ));
            plan
        }
    }
}

/// A line made ready, and the best that it can come to before rivets.
struct Ready {
    line: Line,
    needs: Needs,
    goals: Goals,
}

fn ready(problem: &LineProblem) -> Result<Ready, NoLayout> {
    let line = Line::of(problem)?;
    let (needs, goals) = line.goals()?;
    Ok(Ready { line, needs, goals })
}

/// The best layout at one height.
struct Answer<'a> {
    height: f64,
    layout: LineLayout,
    set: &'a [InTheWay],
}

fn best_spaced(
    side: &MarkSide,
    laying: &Laying<'_>,
    worth: &[&(f64, Vec<InTheWay>)],
    in_band: bool,
    tried: [u32; 2],
) -> Result<(Order, MarkPlan), MarkError> {
    let module = laying.stock.module_mm();
    let mut fits: Option<f64> = None;
    // Heights with the same things in the way share their line; only heads differ. A line is given up when it cannot come up to the best.
    let mut lines: Vec<(&[InTheWay], Option<Ready>)> = Vec::new();
    let mut best: Option<Goals> = None;
    for (_, set) in worth {
        if lines.iter().any(|(known, _)| known == set) {
            continue;
        }
        let found = match Line::of(&laying.problem(side, set)) {
            Ok(line) => {
                let ready = line.goals_beside(best.as_ref());
                if ready.is_none() && best.is_none() {
                    fits = Some(fits.unwrap_or(0.0).max(line.fits_mm()));
                }
                ready.map(|(needs, goals)| Ready { line, needs, goals })
            }
            Err(NoLayout::TooLittle(mm)) => {
                fits = Some(fits.unwrap_or(0.0).max(mm));
                None
            }
            Err(NoLayout::NoRoom) => None,
        };
        best = best
            .into_iter()
            .chain(found.as_ref().map(|r| r.goals))
            .min();
        lines.push((set, found));
    }
    let best = best.ok_or_else(|| match fits {
        Some(fits_mm) => MarkError::TooLittle {
            fits_mm,
            asked_mm: laying.rules.get("side_share").unwrap_or(0.0) * side.length_mm(),
        },
        None => MarkError::NoRoom(module),
    })?;
    // Of the heights whose line comes to the best: fewest heads, then film, as it is laid. Those that can have fewest come first.
    let mut heights = Vec::new();
    for (height, set) in worth {
        let ready = lines.iter().find(|(known, _)| known == set);
        let Some(ready) = ready
            .and_then(|(_, r)| r.as_ref())
            .filter(|r| r.goals == best)
        else {
            continue;
        };
        let heads = laying.heads_at(side, *height);
        // The same heads under the same line are the same answer.
        if heights
            .iter()
            .any(|(_, _, s, h, _)| *s == set && *h == heads)
        {
            continue;
        }
        let least = ready.line.least_heads(&ready.needs, &best, &heads);
        heights.push((least, *height, set, heads, ready));
    }
    heights.sort_by_key(|(least, ..)| *least);
    let mut answer: Option<Answer<'_>> = None;
    for (least, height, set, heads, ready) in &heights {
        let beaten = |a: &Answer<'_>| {
            let there = (a.layout.cost.edges, a.layout.cost.under);
            *least > there || *least == there && a.layout.cost.turned == 0
        };
        if answer.as_ref().is_some_and(beaten) {
            break;
        }
        let layout = laid(ready, &laying.problem(side, set), heads);
        let better = answer.as_ref().is_none_or(|a| {
            (layout.strips.is_empty(), layout.cost) < (a.layout.strips.is_empty(), a.layout.cost)
        });
        if better {
            answer = Some(Answer {
                height: *height,
                layout,
                set,
            });
        }
    }
    let Answer {
        height,
        layout,
        set,
    } = answer.ok_or(MarkError::NoRoom(module))?;
    let strips: Vec<Strip> = layout
        .strips
        .iter()
        .map(|s| laying.strip(s, height))
        .collect();
    let gaps: Vec<f64> = (strips.windows(2))
        .map(|w| w[1].start_mm.mm() - w[0].end_mm())
        .collect();
    let largest_gap_mm = gaps.iter().copied().fold(0.0, f64::max);
    let mut reasons = told(laying, side, &strips, &best, &layout);
    reasons.extend(why(side, laying, set, largest_gap_mm, in_band));
    let plan = MarkPlan {
        set: laying.rules.set,
        film_mm: strips.iter().map(Strip::length_mm).sum(),
        strips,
        centre_mm: height,
        in_band,
        largest_gap_mm,
        smallest_gap_mm: gaps.iter().copied().reduce(f64::min).unwrap_or(0.0),
        within_limit: best.over_limit == 0,
        heads_under: layout.cost.under,
        heads_edged: layout.cost.edges,
        heights: tried,
        reasons,
        proven: layout.weighed,
    };
    Ok(((!in_band, Some(best), Vec::new()), plan))
}

/// The layout over every place of the tape; where that is too many ways to mix strips, over coarser places, and then it is not proven.
fn laid(
    ready: &Ready,
    problem: &LineProblem,
    heads: &crate::marking::line::LineHeads,
) -> LineLayout {
    let found = ready.line.layout(&ready.needs, &ready.goals, heads);
    if !found.strips.is_empty() {
        return found;
    }
    let mut coarser = problem.clone();
    for _ in 0..5 {
        coarser.step_mm *= 2.0;
        if let Ok(again) = self::ready(&coarser) {
            let found = again.line.layout(&again.needs, &again.goals, heads);
            if !found.strips.is_empty() {
                return LineLayout {
                    weighed: false,
                    ..found
                };
            }
        }
    }
    found
}

/// What came out, in sentences: strips and share, to spare, ends that are turned, rivets.
fn told(
    laying: &Laying<'_>,
    side: &MarkSide,
    strips: &[Strip],
    goals: &Goals,
    layout: &LineLayout,
) -> Vec<String> {
    let cost = &layout.cost;
    let text = |mm: f64| print(mm, laying.unit).text;
    let film: f64 = strips.iter().map(Strip::length_mm).sum();
    let asked = laying.rules.get("side_share").unwrap_or(0.0) * side.length_mm();
    let lengths = strips.iter().map(Strip::length_mm);
    let (shortest, longest) =
        lengths.fold((f64::INFINITY, 0.0_f64), |(a, b), l| (a.min(l), b.max(l)));
    let long = if longest - shortest < 0.5 {
        format!("of {}", text(longest))
    } else {
        format!("of {} to {}", text(shortest), text(longest))
    };
    let repeats = match laying.longest() {
        1 => "one repeat".to_owned(),
        n => format!("{n} repeats"),
    };
    let mut told = vec![format!(
        "{} {} {long}, {:.0} % of the side; no strip is longer than {repeats} of the pattern.",
        strips.len(),
        if strips.len() == 1 { "strip" } else { "strips" },
        100.0 * film / side.length_mm(),
    )];
    if asked > 0.0 {
        told.push(if goals.no_spare {
            format!(
                "{} more than is asked: too little to spare for one strip to be cut back.",
                text(film - asked)
            )
        } else {
            format!(
                "{} more than is asked, so that a strip can be cut back later.",
                text(film - asked)
            )
        });
    }
    if cost.turned > 0 {
        told.push(match cost.turned {
            1 => "One strip begins at another colour, so that red stands beside a red lamp: see the cut list.".to_owned(),
            n => format!("{n} strips begin at another colour, so that red stands beside red lamps: see the cut list."),
        });
    }
    match (cost.edges, cost.under) {
        (_, 0) => {}
        (0, under) => told.push(format!(
            "{under} rivet heads under the tape, none under an edge of it."
        )),
        (edges, under) => told.push(format!(
            "{under} rivet heads under the tape, {edges} of them under an edge of it{}.",
            if layout.weighed {
                ": no place along this line has fewer"
            } else {
                ""
            }
        )),
    }
    if layout.weighed {
        told.push(format!(
            "Goals, in this order, over every {}: film and what is to spare, nearest ends, gaps within the limit, fewest strips, even gaps, strips alike, fewest rivets, least film.",
            text(laying.unit.step_mm())
        ));
    }
    told
}
