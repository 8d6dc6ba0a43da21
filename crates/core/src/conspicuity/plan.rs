//! Marking along one line: the best height within the band, strips of a stock along it, where to cut back, what it lands on.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use super::colours::{from_roll, may_redden};
use super::face::{CLEAR_MM, MarkSide, Obstacle, keep_off, keep_off_red};
use super::filled::best_filled;
use super::line::{
    Bound, Budget, FirstGoals, LineLayout, LineProblem, NoLayout, ToBeat, first_goals,
    spaced_within,
};
use super::rules::{RuleSet, Rules};
use super::strip::{Element, Rect, Stock, Strip};
use crate::tape::{Unit, print};

/// Largest gap between strips unless the shop says otherwise, mm (ours: no rule gives one).
pub const GAP_LIMIT_MM: f64 = 1219.2;
/// Shortest pattern that is spaced, mm (ours): 150 mm is the shortest colour, and shorter ones only multiply the ways to part them.
pub const SHORTEST_MODULE_MM: f64 = 200.0;
/// Two heights or lengths nearer than this are alike, mm.
const ALIKE_MM: f64 = 0.5;

/// How strips are laid.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WayOfLaying {
    /// Whole modules at intervals.
    Spaced,
    /// Wherever there is room.
    Continuous,
}

/// A line's plan.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MarkPlan {
    /// The rules that it was made for.
    pub set: RuleSet,
    /// Strips from the front.
    pub strips: Vec<Strip>,
    /// Height of the centreline above the ground, mm.
    pub centre_mm: f64,
    /// Whether the height lies in the rule's band.
    pub in_band: bool,
    /// Film in all, mm.
    pub film_mm: f64,
    /// Largest gap between strips, mm.
    pub largest_gap_mm: f64,
    /// Smallest gap between strips, mm.
    pub smallest_gap_mm: f64,
    /// Whether the largest gap is within the shop's limit.
    pub within_limit: bool,
    /// Rivet heads under the tape: punched.
    pub heads_under: u32,
    /// Heights at which what is in the way changes, tried and left out as no better.
    pub heights: [u32; 2],
    /// What governs, in sentences.
    pub reasons: Vec<String>,
    /// Whether no layout is better by the goals, in their order.
    pub proven: bool,
    /// How good the best could be, where that is not proven.
    pub bound: Option<String>,
}

/// A face that cannot be marked. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum MarkError {
    /// The stock makes no sense.
    #[error("{0}")]
    Stock(String),
    /// The body lies below the ground or has no height.
    #[error(
        "The body's lower edge is {0:.0} mm above the ground. Measure from the {1} to the ground again."
    )]
    Ground(f64, String),
    /// Nothing fits anywhere.
    #[error(
        "Nowhere along this side is a strip's length of {0:.0} mm free. Use a stock with a shorter pattern, or lay it continuously."
    )]
    NoRoom(f64),
    /// Not enough fits.
    #[error(
        "At most {fits_mm:.0} mm of tape fit along one line of this side, and the rule asks for {asked_mm:.0} mm. Record why, and lay what fits, continuously."
    )]
    TooLittle {
        /// What fits, mm.
        fits_mm: f64,
        /// What is asked, mm.
        asked_mm: f64,
    },
}

/// What a line is marked with, and how.
#[derive(Debug, Clone, Copy)]
pub struct Laying<'a> {
    /// The rules.
    pub rules: &'a Rules,
    /// The tape.
    pub stock: &'a Stock,
    /// How it is laid.
    pub way: WayOfLaying,
    /// Largest gap that the shop wants, mm.
    pub gap_limit_mm: f64,
    /// Width of the band that is laid, and what is open in it: a whole strip, or two halves.
    pub split_mm: Option<f64>,
    /// The job's unit, for sentences.
    pub unit: Unit,
}

impl Laying<'_> {
    pub(super) fn half_mm(&self) -> f64 {
        (self.stock.width_mm + self.split_mm.unwrap_or(0.0)) / 2.0
    }

    fn off(&self, side: &MarkSide, o: &Obstacle) -> f64 {
        if self.way == WayOfLaying::Continuous && may_redden(self.rules, self.stock) {
            keep_off_red(o, self.rules, side.face)
        } else {
            keep_off(o, self.rules, side.face)
        }
    }

    /// Which obstacles stand in the way of tape whose centreline is at a height.
    fn in_the_way(&self, side: &MarkSide, centre: f64) -> Vec<usize> {
        let half = self.half_mm();
        side.obstacles
            .iter()
            .enumerate()
            .filter(|(_, o)| {
                let off = self.off(side, o);
                o.height_mm.0 - off < centre + half - 1e-9
                    && o.height_mm.1 + off > centre - half + 1e-9
            })
            .map(|(n, _)| n)
            .collect()
    }

    /// The heights that are worth trying between two: where the set of things in the way changes.
    fn heights(&self, side: &MarkSide, low: f64, high: f64) -> Vec<f64> {
        let half = self.half_mm();
        let mut heights = vec![low, high, (low + high) / 2.0];
        for o in &side.obstacles {
            let off = self.off(side, o);
            heights.push(o.height_mm.0 - off - half);
            heights.push(o.height_mm.1 + off + half);
        }
        for [_, height, radius] in &side.heads {
            heights.push(height - radius - half);
            heights.push(height + radius + half);
            if self.split_mm.is_some() {
                // The row in the open middle.
                heights.push(*height);
            }
        }
        heights.retain(|h| (low..=high).contains(h));
        heights.sort_by(f64::total_cmp);
        heights.dedup_by(|a, b| (*a - *b).abs() < ALIKE_MM);
        heights
    }

    pub(super) fn problem(&self, side: &MarkSide, blocked: &[usize]) -> LineProblem {
        let share = self.rules.get("side_share").unwrap_or(0.0);
        LineProblem {
            ends_mm: side.ends_mm,
            blocked_mm: blocked
                .iter()
                .filter_map(|n| side.obstacles.get(*n))
                .map(|o| {
                    let off = self.off(side, o);
                    (o.back_mm.0 - off, o.back_mm.1 + off)
                })
                .collect(),
            module_mm: self.stock.module_mm(),
            least_film_mm: share * side.length_mm(),
            gap_limit_mm: Some(self.gap_limit_mm),
        }
    }

    pub(super) fn heads_under(&self, side: &MarkSide, strips: &[Strip]) -> u32 {
        let tape: Vec<Rect> = strips
            .iter()
            .flat_map(Strip::run_rects)
            .map(|(_, r)| r)
            .collect();
        side.heads_under(&tape)
    }

    fn strip(&self, start_mm: f64, length_mm: f64, centre_mm: f64) -> Strip {
        Strip {
            start_mm,
            centre_mm,
            width_mm: 2.0 * self.half_mm(),
            runs: from_roll(&self.stock.pattern, 0.0, length_mm),
            upright: false,
            split_mm: self.split_mm,
            element: Element::Line,
        }
    }
}

/// Least width of a grade under a set.
pub(super) fn least_width(rules: &Rules, grade: &str) -> f64 {
    let key = match grade {
        "C3" => "tape_width_c3",
        "C4" => "tape_width_c4",
        _ => "tape_width_c2",
    };
    rules
        .get(key)
        .or_else(|| rules.get("tape_width_c2"))
        .unwrap_or(0.0)
}

/// The band of heights of the rule.
pub(super) fn band(rules: &Rules) -> (f64, f64) {
    let of = |a: &str, b: &str| rules.get(a).or_else(|| rules.get(b));
    (
        of("centre_low", "lower_low").unwrap_or(0.0),
        of("centre_high", "lower_high").unwrap_or(f64::INFINITY),
    )
}

fn check(side: &MarkSide, laying: &Laying<'_>) -> Result<(), MarkError> {
    let stock = laying.stock;
    stock.check().map_err(MarkError::Stock)?;
    let high = side.height_mm.1 - side.height_mm.0;
    if high > 0.0 && 2.0 * laying.half_mm() > high {
        return Err(MarkError::Stock(format!(
            "The tape is {:.0} mm wide and the surface {high:.0} mm high. Use a narrower tape, or put a plate there.",
            2.0 * laying.half_mm()
        )));
    }
    let least = least_width(laying.rules, &stock.grade);
    if stock.width_mm < least {
        return Err(MarkError::Stock(format!(
            "Tape of grade {} must be at least {least:.0} mm wide.",
            stock.grade
        )));
    }
    if !(0.0..6000.0).contains(&side.height_mm.0) || side.height_mm.1 <= side.height_mm.0 {
        return Err(MarkError::Ground(side.height_mm.0, "rail".into()));
    }
    if laying.way == WayOfLaying::Spaced && stock.module_mm() < SHORTEST_MODULE_MM {
        return Err(MarkError::Stock(format!(
            "A pattern shorter than {SHORTEST_MODULE_MM:.0} mm is laid continuously, not at intervals."
        )));
    }
    Ok(())
}

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
        p.strips.first().map_or(0.0, |s| s.start_mm) - p.strips.last().map_or(0.0, Strip::end_mm)
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
fn key(goals: &FirstGoals) -> [f64; 3] {
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

/// The order of two figures; those that are alike are the same.
pub(super) fn by(a: f64, b: f64) -> std::cmp::Ordering {
    if (a - b).abs() <= ALIKE_MM {
        std::cmp::Ordering::Equal
    } else {
        a.total_cmp(&b)
    }
}

/// What governs a line at its height, in sentences.
pub(super) fn why(
    side: &MarkSide,
    laying: &Laying<'_>,
    set: &[usize],
    largest_gap_mm: f64,
    in_band: bool,
) -> Vec<String> {
    let text = |mm: f64| print(mm, laying.unit).text;
    let mut reasons = Vec::new();
    if !in_band {
        reasons.push("The body leaves no surface in the rule's band of heights: this is as close as practicable. Record why.".to_owned());
    }
    if largest_gap_mm > laying.gap_limit_mm + ALIKE_MM && laying.way == WayOfLaying::Spaced {
        reasons.push(format!(
            "A gap of {} cannot be made smaller: something stands there. The limit of {} is ours, no rule gives one.",
            text(largest_gap_mm),
            text(laying.gap_limit_mm)
        ));
    }
    let mut names: Vec<&str> = set
        .iter()
        .filter_map(|n| side.obstacles.get(*n))
        .map(|o| o.name.as_str())
        .collect();
    names.dedup();
    if names.is_empty() {
        reasons.push("Nothing stands in the way at this height.".to_owned());
    } else {
        let more = names.len() > 6;
        names.truncate(6);
        reasons.push(format!(
            "In the way at this height: {}{}.",
            names.join(", "),
            if more { " and others" } else { "" }
        ));
    }
    reasons
}
