//! Marking one side: the best height within the band, strips of a stock along it, where to cut back, what it lands on.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use thiserror::Error;

use super::line::{FirstGoals, LineLayout, LineProblem, NoLayout, first_goals, free, spaced};
use super::rules::{RuleSet, Rules};
use crate::elevation::MeasuredSide;
use crate::feature::{ComesOff, Details, LampColour};
use crate::tape::{Unit, print};

/// Film is cut back this far from hinges, latches and other hardware, mm: 1/8 in (common practice, no source).
pub const CLEAR_MM: f64 = 3.175;
/// Largest gap between strips unless the shop says otherwise, mm (ours: no rule gives one).
pub const GAP_LIMIT_MM: f64 = 1219.2;
/// Shortest pattern that is spaced, mm (ours): 150 mm is the shortest colour, and shorter ones only multiply the ways to part them.
pub const SHORTEST_MODULE_MM: f64 = 200.0;
/// Two heights or lengths nearer than this are alike, mm.
const ALIKE_MM: f64 = 0.5;

/// Colour of tape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TapeColour {
    /// Red.
    Red,
    /// White.
    White,
    /// Yellow.
    Yellow,
}

/// A length of one colour.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColourRun {
    /// The colour.
    pub colour: TapeColour,
    /// Length, mm.
    pub length_mm: f64,
}

/// Tape on the shelf.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stock {
    /// Grade: `C2`, `C3`, `C4`, or `C` under the UN regulations.
    pub grade: String,
    /// Width, mm.
    pub width_mm: f64,
    /// Colours along the roll, repeated; one module.
    pub pattern: Vec<ColourRun>,
}

impl Stock {
    /// Length of one module, mm.
    pub fn module_mm(&self) -> f64 {
        self.pattern.iter().map(|r| r.length_mm).sum()
    }
}

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

/// Something that film keeps off.
#[derive(Debug, Clone, PartialEq)]
pub struct Obstacle {
    /// What it is called.
    pub name: String,
    /// From and to along the side, mm.
    pub back_mm: (f64, f64),
    /// From and to above the ground, mm.
    pub height_mm: (f64, f64),
    /// Its lens, where it is a lamp.
    pub lamp: Option<LampColour>,
}

/// A side as the marking sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct MarkSide {
    /// The body's ends along the side, mm.
    pub ends_mm: (f64, f64),
    /// The body's foot and top above the ground, mm.
    pub height_mm: (f64, f64),
    /// What film keeps off.
    pub obstacles: Vec<Obstacle>,
    /// Rivet heads: along, above the ground, radius.
    pub heads: Vec<[f64; 3]>,
}

/// A strip of tape, planned or read back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Strip {
    /// Where it begins along the side, mm.
    pub start_mm: f64,
    /// Height of its centreline above the ground, mm.
    pub centre_mm: f64,
    /// Width, mm.
    pub width_mm: f64,
    /// Its colours from the front.
    pub runs: Vec<ColourRun>,
}

impl Strip {
    /// Its length, mm.
    pub fn length_mm(&self) -> f64 {
        self.runs.iter().map(|r| r.length_mm).sum()
    }

    /// Where it ends, mm.
    pub fn end_mm(&self) -> f64 {
        self.start_mm + self.length_mm()
    }
}

/// A side's plan.
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
}

/// A side that cannot be marked. Says what is wrong and what to do.
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

impl MarkSide {
    /// A measured side whose reference lies `ground_mm` above the ground.
    pub fn of(side: &MeasuredSide, ground_mm: f64) -> MarkSide {
        let datum = side.datum;
        let read = |p: Point| {
            let (back, down) = datum.read(p);
            (back, ground_mm - down)
        };
        let spans = |points: &mut dyn Iterator<Item = Point>| {
            points.map(read).fold(
                (
                    (f64::INFINITY, f64::NEG_INFINITY),
                    (f64::INFINITY, f64::NEG_INFINITY),
                ),
                |(b, h), (back, height)| {
                    (
                        (b.0.min(back), b.1.max(back)),
                        (h.0.min(height), h.1.max(height)),
                    )
                },
            )
        };
        let (ends_mm, height_mm) = spans(&mut side.outline.contours.iter().flatten().copied());
        let obstacles = side
            .hardware()
            .filter(|h| h.comes_off == ComesOff::Stays)
            .map(|h| {
                let (back_mm, height_mm) = spans(&mut h.outline.contours.iter().flatten().copied());
                let lamp = match h.details {
                    Some(Details::Lamp {
                        colour,
                        required: true,
                    }) => Some(colour),
                    _ => None,
                };
                Obstacle {
                    name: h.name.clone(),
                    back_mm,
                    height_mm,
                    lamp,
                }
            })
            .collect();
        let heads = side
            .columns
            .iter()
            .flat_map(|c| {
                c.heads.iter().map(move |h| {
                    let (back, height) = read(*h);
                    [back, height, c.head_mm / 2.0]
                })
            })
            .collect();
        MarkSide {
            ends_mm,
            height_mm,
            obstacles,
            heads,
        }
    }

    /// Length of the side, mm.
    pub fn length_mm(&self) -> f64 {
        self.ends_mm.1 - self.ends_mm.0
    }
}

/// How far tape of a stock keeps from an obstacle, mm.
pub(super) fn keep_off(obstacle: &Obstacle, rules: &Rules) -> f64 {
    match obstacle.lamp {
        // White keeps off red and amber, red off amber: a strip of both keeps off both.
        Some(LampColour::Amber | LampColour::Red) => {
            rules.get("lamp_distance").unwrap_or(CLEAR_MM).max(CLEAR_MM)
        }
        _ => CLEAR_MM,
    }
}

/// Which obstacles stand in the way of tape whose centreline is at a height.
fn in_the_way(side: &MarkSide, rules: &Rules, centre: f64, half: f64) -> Vec<usize> {
    side.obstacles
        .iter()
        .enumerate()
        .filter(|(_, o)| {
            let off = keep_off(o, rules);
            o.height_mm.0 - off < centre + half - 1e-9 && o.height_mm.1 + off > centre - half + 1e-9
        })
        .map(|(n, _)| n)
        .collect()
}

/// The heights that are worth trying between two: where the set of things in the way changes.
fn heights(side: &MarkSide, rules: &Rules, low: f64, high: f64, half: f64) -> Vec<f64> {
    let mut heights = vec![low, high, (low + high) / 2.0];
    for o in &side.obstacles {
        let off = keep_off(o, rules);
        heights.push(o.height_mm.0 - off - half);
        heights.push(o.height_mm.1 + off + half);
    }
    for [_, height, radius] in &side.heads {
        heights.push(height - radius - half);
        heights.push(height + radius + half);
    }
    heights.retain(|h| (low..=high).contains(h));
    heights.sort_by(f64::total_cmp);
    heights.dedup_by(|a, b| (*a - *b).abs() < ALIKE_MM);
    heights
}

fn problem(
    side: &MarkSide,
    rules: &Rules,
    blocked: &[usize],
    stock: &Stock,
    gap_limit_mm: f64,
) -> LineProblem {
    let share = rules.get("side_share").unwrap_or(0.5);
    LineProblem {
        ends_mm: side.ends_mm,
        blocked_mm: blocked
            .iter()
            .filter_map(|n| side.obstacles.get(*n))
            .map(|o| {
                let off = keep_off(o, rules);
                (o.back_mm.0 - off, o.back_mm.1 + off)
            })
            .collect(),
        module_mm: stock.module_mm(),
        least_film_mm: share * side.length_mm(),
        gap_limit_mm: Some(gap_limit_mm),
    }
}

fn heads_under(side: &MarkSide, strips: &[Strip]) -> u32 {
    side.heads
        .iter()
        .filter(|[back, height, radius]| {
            strips.iter().any(|s| {
                (height - s.centre_mm).abs() < s.width_mm / 2.0 + radius
                    && *back > s.start_mm - radius
                    && *back < s.end_mm() + radius
            })
        })
        .count() as u32
}

fn check(side: &MarkSide, rules: &Rules, stock: &Stock) -> Result<(), MarkError> {
    let wrong = |sentence: String| Err(MarkError::Stock(sentence));
    if stock.pattern.is_empty()
        || stock
            .pattern
            .iter()
            .any(|r| !(r.length_mm.is_finite() && r.length_mm >= 10.0))
    {
        return wrong("Each colour of the tape's pattern must be at least 10 mm long.".into());
    }
    if stock.pattern.len() > 24 || stock.module_mm() > 5000.0 {
        return wrong("A pattern has at most 24 colours and is at most 5 m long.".into());
    }
    let least = least_width(rules, &stock.grade);
    if !(stock.width_mm.is_finite() && stock.width_mm <= 300.0) || stock.width_mm < least {
        return wrong(format!(
            "Tape of grade {} must be at least {least:.0} mm wide and at most 300 mm.",
            stock.grade
        ));
    }
    if !(0.0..6000.0).contains(&side.height_mm.0) || side.height_mm.1 <= side.height_mm.0 {
        return Err(MarkError::Ground(side.height_mm.0, "rail".into()));
    }
    Ok(())
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
        .unwrap_or(50.0)
}

/// The band of heights of the rule.
pub(super) fn band(rules: &Rules) -> (f64, f64) {
    let of = |a: &str, b: &str| rules.get(a).or_else(|| rules.get(b));
    (
        of("centre_low", "lower_low").unwrap_or(0.0),
        of("centre_high", "lower_high").unwrap_or(f64::INFINITY),
    )
}

/// The best marking of a side with a stock.
///
/// Errors: a stock that the rule does not allow; a body below the ground; nothing fits, or too little.
pub fn plan(
    side: &MarkSide,
    rules: &Rules,
    stock: &Stock,
    way: WayOfLaying,
    gap_limit_mm: f64,
    unit: Unit,
) -> Result<MarkPlan, MarkError> {
    check(side, rules, stock)?;
    if way == WayOfLaying::Spaced && stock.module_mm() < SHORTEST_MODULE_MM {
        return Err(MarkError::Stock(format!(
            "A pattern shorter than {SHORTEST_MODULE_MM:.0} mm is laid continuously, not at intervals."
        )));
    }
    let half = stock.width_mm / 2.0;
    let (foot, top) = (side.height_mm.0 + half, side.height_mm.1 - half);
    let (low, high) = band(rules);
    // The rule's band speaks of the centreline (United States) or of the element itself (UN).
    let edge = if rules.set == RuleSet::Unece {
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
    let candidates: Vec<(f64, Vec<usize>)> = heights(side, rules, from, to, half)
        .into_iter()
        .map(|h| (h, in_the_way(side, rules, h, half)))
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
    match way {
        WayOfLaying::Spaced => best_spaced(
            side,
            rules,
            stock,
            gap_limit_mm,
            &worth,
            in_band,
            tried,
            unit,
        ),
        WayOfLaying::Continuous => {
            best_continuous(side, rules, stock, gap_limit_mm, &worth, in_band, tried)
        }
    }
}

fn cut(
    pattern: &[ColourRun],
    start_mm: f64,
    length_mm: f64,
    centre_mm: f64,
    width_mm: f64,
) -> Strip {
    let mut runs: Vec<ColourRun> = Vec::new();
    let mut left = length_mm;
    for run in pattern.iter().cycle() {
        if left <= 1e-6 {
            break;
        }
        let length = run.length_mm.min(left);
        runs.push(ColourRun {
            colour: run.colour,
            length_mm: length,
        });
        left -= length;
    }
    Strip {
        start_mm,
        centre_mm,
        width_mm,
        runs,
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

/// The best layout at one height.
struct Answer<'a> {
    height: f64,
    under: u32,
    layout: LineLayout,
    strips: Vec<Strip>,
    set: &'a [usize],
}

#[allow(clippy::too_many_arguments)]
fn best_spaced(
    side: &MarkSide,
    rules: &Rules,
    stock: &Stock,
    gap_limit_mm: f64,
    worth: &[&(f64, Vec<usize>)],
    in_band: bool,
    tried: [u32; 2],
    unit: Unit,
) -> Result<MarkPlan, MarkError> {
    let mut first: Option<NoLayout> = None;
    // Heights with the same things in the way share their line; only the heads differ.
    let mut known: Vec<(&Vec<usize>, Option<FirstGoals>)> = Vec::new();
    let mut ranked: Vec<(f64, &Vec<usize>, FirstGoals)> = Vec::new();
    for (height, set) in worth.iter().map(|w| (w.0, &w.1)) {
        let goals = match known.iter().find(|(s, _)| *s == set) {
            Some((_, goals)) => *goals,
            None => {
                let goals = match first_goals(&problem(side, rules, set, stock, gap_limit_mm)) {
                    Ok(goals) => Some(goals),
                    Err(error) => {
                        first = Some(match (first, error) {
                            (Some(NoLayout::TooLittle(a)), NoLayout::TooLittle(b)) => {
                                NoLayout::TooLittle(a.max(b))
                            }
                            (Some(NoLayout::TooLittle(a)), _) => NoLayout::TooLittle(a),
                            (_, e) => e,
                        });
                        None
                    }
                };
                known.push((set, goals));
                goals
            }
        };
        if let Some(goals) = goals {
            ranked.push((height, set, goals));
        }
    }
    let better = |a: &FirstGoals, b: &FirstGoals| {
        let (a, b) = (key(a), key(b));
        a.iter()
            .zip(&b)
            .find(|(x, y)| (*x - *y).abs() > ALIKE_MM)
            .map_or(std::cmp::Ordering::Equal, |(x, y)| x.total_cmp(y))
    };
    let Some(best) = ranked.iter().map(|r| r.2).min_by(better) else {
        return Err(match first {
            Some(NoLayout::TooLittle(fits_mm)) => MarkError::TooLittle {
                fits_mm,
                asked_mm: rules.get("side_share").unwrap_or(0.5) * side.length_mm(),
            },
            _ => MarkError::NoRoom(stock.module_mm()),
        });
    };
    let mut answers: Vec<Answer<'_>> = Vec::new();
    let mut laid: Vec<(&Vec<usize>, LineLayout)> = Vec::new();
    for (height, set, goals) in ranked {
        if better(&goals, &best).is_gt() {
            continue;
        }
        let layout = match laid.iter().find(|(s, _)| *s == set) {
            Some((_, l)) => l.clone(),
            None => {
                let Ok(l) = spaced(&problem(side, rules, set, stock, gap_limit_mm)) else {
                    continue;
                };
                laid.push((set, l.clone()));
                l
            }
        };
        let module = stock.module_mm();
        let strips: Vec<Strip> = layout
            .strips
            .iter()
            .map(|s| {
                cut(
                    &stock.pattern,
                    s.start_mm,
                    s.modules as f64 * module,
                    height,
                    stock.width_mm,
                )
            })
            .collect();
        answers.push(Answer {
            height,
            under: heads_under(side, &strips),
            layout,
            strips,
            set,
        });
    }
    // Fewest strips, smallest largest gap, largest smallest gap; of what is alike, the line with fewest heads under it.
    let found = answers.into_iter().min_by(|a, b| {
        let (x, y) = (&a.layout, &b.layout);
        x.strips
            .len()
            .cmp(&y.strips.len())
            .then_with(|| by(x.largest_gap_mm, y.largest_gap_mm))
            .then_with(|| by(y.smallest_gap_mm, x.smallest_gap_mm))
            .then(a.under.cmp(&b.under))
    });
    let Some(Answer {
        height,
        under,
        layout,
        strips,
        set,
    }) = found
    else {
        return Err(MarkError::NoRoom(stock.module_mm()));
    };
    let mut reasons = vec![format!(
        "{} strips of whole modules of {}, {:.0} % of the side.",
        strips.len(),
        print(stock.module_mm(), unit).text,
        100.0 * layout.modules as f64 * stock.module_mm() / side.length_mm()
    )];
    reasons.extend(why(side, set, &layout, gap_limit_mm, in_band, unit));
    Ok(MarkPlan {
        set: rules.set,
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
        proven: true,
    })
}

fn by(a: f64, b: f64) -> std::cmp::Ordering {
    if (a - b).abs() <= ALIKE_MM {
        std::cmp::Ordering::Equal
    } else {
        a.total_cmp(&b)
    }
}

fn why(
    side: &MarkSide,
    set: &[usize],
    layout: &LineLayout,
    gap_limit_mm: f64,
    in_band: bool,
    unit: Unit,
) -> Vec<String> {
    let mut reasons = Vec::new();
    if !in_band {
        reasons.push("The body leaves no surface in the rule's band of heights: this is as close as practicable. Record why.".to_owned());
    }
    if !layout.within_limit {
        reasons.push(format!(
            "A gap of {} cannot be made smaller: something stands there. The limit of {} is ours, no rule gives one.",
            print(layout.largest_gap_mm, unit).text,
            print(gap_limit_mm, unit).text
        ));
    }
    let names: Vec<&str> = set
        .iter()
        .filter_map(|n| side.obstacles.get(*n))
        .map(|o| o.name.as_str())
        .take(6)
        .collect();
    if names.is_empty() {
        reasons.push("Nothing stands in the way at this height.".to_owned());
    } else {
        reasons.push(format!(
            "In the way at this height: {}{}.",
            names.join(", "),
            if set.len() > names.len() {
                " and others"
            } else {
                ""
            }
        ));
    }
    reasons
}

fn best_continuous(
    side: &MarkSide,
    rules: &Rules,
    stock: &Stock,
    gap_limit_mm: f64,
    worth: &[&(f64, Vec<usize>)],
    in_band: bool,
    tried: [u32; 2],
) -> Result<MarkPlan, MarkError> {
    let shortest = stock
        .pattern
        .iter()
        .map(|r| r.length_mm)
        .fold(f64::INFINITY, f64::min)
        .min(150.0);
    let best = worth
        .iter()
        .map(|(height, set)| {
            let line = LineProblem {
                module_mm: shortest,
                ..problem(side, rules, set, stock, gap_limit_mm)
            };
            let strips: Vec<Strip> = free(&line)
                .iter()
                .map(|(a, b)| cut(&stock.pattern, *a, b - a, *height, stock.width_mm))
                .collect();
            let film: f64 = strips.iter().map(Strip::length_mm).sum();
            (strips, film, *height)
        })
        .filter(|(strips, _, _)| !strips.is_empty())
        .min_by(|a, b| {
            by(b.1, a.1)
                .then(a.0.len().cmp(&b.0.len()))
                .then(heads_under(side, &a.0).cmp(&heads_under(side, &b.0)))
        });
    let Some((strips, film_mm, centre_mm)) = best else {
        return Err(MarkError::NoRoom(shortest));
    };
    let gaps: Vec<f64> = strips
        .windows(2)
        .map(|w| w[1].start_mm - w[0].end_mm())
        .collect();
    let largest = gaps.iter().copied().fold(0.0, f64::max);
    Ok(MarkPlan {
        set: rules.set,
        centre_mm,
        in_band,
        film_mm,
        largest_gap_mm: largest,
        smallest_gap_mm: gaps.iter().copied().reduce(f64::min).unwrap_or(0.0),
        within_limit: largest <= gap_limit_mm,
        heads_under: heads_under(side, &strips),
        heights: tried,
        reasons: vec![format!(
            "{:.0} % of the side: everywhere that there is room.",
            100.0 * film_mm / side.length_mm()
        )],
        strips,
        proven: true,
    })
}
