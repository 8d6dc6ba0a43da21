//! Marking along one line: the best height within the band, strips of a stock along it, where to cut back, what it lands on.

use crate::ground::tape::print;
use crate::marking::face::{CLEAR_MM, MarkSide};
use crate::marking::filled::best_filled;
use crate::marking::laying::{
    ALIKE_MM, Laying, MarkError, MarkPlan, WayOfLaying, band, by, check, why,
};
use crate::marking::line::{
    Bound, Budget, FirstGoals, LineLayout, NoLayout, ToBeat, first_goals, spaced_within,
};
use crate::marking::rules::RuleSet;
use crate::marking::strip::Strip;

/// The best marking of a line along a face with a stock. Where rivet heads would lie under the tape and the rule allows strips to be
/// split, split ones are tried as well, and taken where they spare heads and cost nothing else.
///
/// Errors: a stock that the rule does not allow; a body below the ground; nothing fits, or too little.
pub fn plan(side: &MarkSide, laying: &Laying<'_>, budget: &Budget) -> Result<MarkPlan, MarkError> {
    let whole = plan_one(side, laying, None, budget)?;
    let Some(open) = split_for(side, laying).filter(|_| whole.heads_under > 0) else {
        return Ok(whole);
    };
    let split = Laying {
        split_mm: Some(open),
        ..*laying
    };
    let to_beat = ToBeat {
        pieces: whole.strips.len(),
        largest_gap_mm: whole.largest_gap_mm + ALIKE_MM,
    };
    match plan_one(side, &split, Some(to_beat), budget) {
        Ok(mut other)
            if other.heads_under < whole.heads_under
                && order(&other, &whole, laying.way).is_le() =>
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

/// Which of two plans is better by the goals, heads left out.
fn order(a: &MarkPlan, b: &MarkPlan, way: WayOfLaying) -> std::cmp::Ordering {
    // Spaced, less film is better; laid wherever there is room, more.
    let film = by(a.film_mm, b.film_mm);
    let ends = |p: &MarkPlan| {
        p.strips.first().map_or(0.0, |s| s.start_mm.mm())
            - p.strips.last().map_or(0.0, Strip::end_mm)
    };
    b.in_band
        .cmp(&a.in_band)
        .then(by(ends(a), ends(b)))
        .then(b.within_limit.cmp(&a.within_limit))
        .then(if way == WayOfLaying::Spaced {
            film
        } else {
            film.reverse()
        })
        .then(a.strips.len().cmp(&b.strips.len()))
        .then(by(a.largest_gap_mm, b.largest_gap_mm))
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

fn plan_one(
    side: &MarkSide,
    laying: &Laying<'_>,
    to_beat: Option<ToBeat>,
    budget: &Budget,
) -> Result<MarkPlan, MarkError> {
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
    let candidates: Vec<(f64, Vec<usize>)> = laying
        .heights(side, from, to)
        .into_iter()
        .map(|h| (h, laying.in_the_way(side, h)))
        .collect();
    // A height at which strictly more is in the way is never better.
    let worth: Vec<&(f64, Vec<usize>)> = candidates
        .iter()
        .filter(|(_, set)| {
            !candidates
                .iter()
                .any(|(_, other)| other.len() < set.len() && other.iter().all(|o| set.contains(o)))
        })
        .collect();
    let tried = [worth.len() as u32, (candidates.len() - worth.len()) as u32];
    match laying.way {
        WayOfLaying::Spaced => best_spaced(side, laying, &worth, (in_band, tried), to_beat, budget),
        WayOfLaying::Continuous => best_filled(side, laying, &worth, in_band, tried),
    }
}

/// Goals of a height, smaller is better: ends, gap over the limit, modules; then heads.
pub(crate) fn key(goals: &FirstGoals) -> [f64; 3] {
    [
        goals.front_mm + goals.rear_mm,
        goals.over_limit_mm,
        goals.modules as f64,
    ]
}

fn better(a: &FirstGoals, b: &FirstGoals) -> std::cmp::Ordering {
    let (a, b) = (key(a), key(b));
    a.iter()
        .zip(&b)
        .find(|(x, y)| (*x - *y).abs() > ALIKE_MM)
        .map_or(std::cmp::Ordering::Equal, |(x, y)| x.total_cmp(y))
}

/// The best layout at one height.
struct Answer<'a> {
    height: f64,
    under: u32,
    layout: LineLayout,
    strips: Vec<Strip>,
    set: &'a [usize],
}

/// A height, what is in the way there, and its first goals.
type Ranked<'a> = (f64, &'a Vec<usize>, FirstGoals);

/// First goals of every height at which anything fits. Heights with the same things in the way share their line; only heads differ.
fn rank<'a>(
    side: &MarkSide,
    laying: &Laying<'_>,
    worth: &[&'a (f64, Vec<usize>)],
) -> Result<Vec<Ranked<'a>>, MarkError> {
    let mut most_that_fits: Option<f64> = None;
    let mut known: Vec<(&Vec<usize>, Option<FirstGoals>)> = Vec::new();
    let mut ranked = Vec::new();
    for (height, set) in worth.iter().map(|w| (w.0, &w.1)) {
        let goals = match known.iter().find(|(s, _)| *s == set) {
            Some((_, goals)) => *goals,
            None => {
                let goals = match first_goals(&laying.problem(side, set)) {
                    Ok(goals) => Some(goals),
                    Err(NoLayout::TooLittle(fits)) => {
                        most_that_fits = Some(most_that_fits.unwrap_or(0.0).max(fits));
                        None
                    }
                    Err(NoLayout::NoRoom | NoLayout::NotBetter) => None,
                };
                known.push((set, goals));
                goals
            }
        };
        if let Some(goals) = goals {
            ranked.push((height, set, goals));
        }
    }
    if !ranked.is_empty() {
        return Ok(ranked);
    }
    Err(match most_that_fits {
        Some(fits_mm) => MarkError::TooLittle {
            fits_mm,
            asked_mm: laying.rules.get("side_share").unwrap_or(0.0) * side.length_mm(),
        },
        None => MarkError::NoRoom(laying.stock.module_mm()),
    })
}

fn best_spaced(
    side: &MarkSide,
    laying: &Laying<'_>,
    worth: &[&(f64, Vec<usize>)],
    (in_band, tried): (bool, [u32; 2]),
    mut to_beat: Option<ToBeat>,
    budget: &Budget,
) -> Result<MarkPlan, MarkError> {
    let unit = laying.unit;
    let module = laying.stock.module_mm();
    let ranked = rank(side, laying, worth)?;
    let no_room = || MarkError::NoRoom(module);
    let best = ranked
        .iter()
        .map(|r| r.2)
        .min_by(better)
        .ok_or_else(no_room)?;
    let mut answers: Vec<Answer<'_>> = Vec::new();
    let mut laid: Vec<(&Vec<usize>, Option<LineLayout>)> = Vec::new();
    let mut unproven = None;
    for (height, set, goals) in ranked {
        if better(&goals, &best).is_gt() {
            continue;
        }
        let known = laid.iter().find(|(s, _)| *s == set).map(|(_, l)| l.clone());
        let layout = known.unwrap_or_else(|| {
            let l = spaced_within(&laying.problem(side, set), to_beat, budget).ok();
            if let Some(l) = &l {
                unproven = unproven.or(l.bound);
                to_beat = Some(ToBeat {
                    pieces: l.strips.len(),
                    largest_gap_mm: l.largest_gap_mm + ALIKE_MM,
                });
            }
            laid.push((set, l.clone()));
            l
        });
        let Some(layout) = layout else { continue };
        let strips: Vec<Strip> = layout
            .strips
            .iter()
            .map(|s| laying.strip(s.start_mm, s.modules as f64 * module, height))
            .collect();
        answers.push(Answer {
            height,
            under: laying.heads_under(side, &strips),
            layout,
            strips,
            set,
        });
    }
    // Fewest strips, smallest largest gap, largest smallest gap; of what is alike, the line with fewest heads under it.
    let Answer {
        height,
        under,
        layout,
        strips,
        set,
    } = answers
        .into_iter()
        .min_by(|a, b| {
            let (x, y) = (&a.layout, &b.layout);
            x.strips
                .len()
                .cmp(&y.strips.len())
                .then_with(|| by(x.largest_gap_mm, y.largest_gap_mm))
                .then_with(|| by(y.smallest_gap_mm, x.smallest_gap_mm))
                .then(a.under.cmp(&b.under))
        })
        .ok_or_else(no_room)?;
    let mut reasons = vec![format!(
        "{} strips of whole modules of {}, {:.0} % of the side.",
        strips.len(),
        print(module, unit).text,
        100.0 * layout.modules as f64 * module / side.length_mm()
    )];
    reasons.extend(why(side, laying, set, layout.largest_gap_mm, in_band));
    Ok(MarkPlan {
        set: laying.rules.set,
        film_mm: strips.iter().map(Strip::length_mm).sum(),
        strips,
        centre_mm: height,
        in_band,
        largest_gap_mm: layout.largest_gap_mm,
        smallest_gap_mm: layout.smallest_gap_mm,
        within_limit: layout.within_limit,
        heads_under: under,
        heights: tried,
        reasons,
        proven: unproven.is_none(),
        bound: unproven.map(|b| match b {
            Bound::Pieces(n) => format!("at least {n} strips are needed"),
            Bound::LargestGap(mm) => {
                format!("the largest gap is at least {}", print(mm, unit).text)
            }
            Bound::SmallestGap(mm) => {
                format!("the smallest gap is at most {}", print(mm, unit).text)
            }
        }),
    })
}
