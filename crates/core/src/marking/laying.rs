//! Ways of laying a line: what is asked, what came out, why it could not be.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::ground::mm::Mm;
use crate::ground::tape::{Unit, print};
use crate::marking::colours::may_redden;
use crate::marking::face::{MarkSide, Obstacle, keep_off, keep_off_red};
use crate::marking::line::{Blocked, Goals, LineHead, LineHeads, LineProblem, Placed};
use crate::marking::rules::{RuleSet, Rules};
use crate::marking::strip::{Element, Rect, Stock, Strip, TapeColour};

/// Two heights or lengths nearer than this are alike, mm.
pub(crate) const ALIKE_MM: f64 = 0.5;

/// Largest gap between strips unless the shop says otherwise, mm (ours: no rule gives one).
pub const GAP_LIMIT_MM: f64 = 1219.2;

/// Shortest pattern that is spaced, mm (ours): 150 mm is the shortest colour, and shorter ones only multiply the ways to part them.
pub const SHORTEST_MODULE_MM: f64 = 200.0;

/// Repeats of the pattern in a strip unless the shop says otherwise (ours: no rule gives one).
pub const REPEATS: f64 = 2.0;

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
    /// Of those, heads with an edge of the tape on them.
    pub heads_edged: u32,
    /// Heights at which what is in the way changes, tried and left out as no better.
    pub heights: [u32; 2],
    /// What governs, in sentences.
    pub reasons: Vec<String>,
    /// Whether no layout is better by the goals, in their order.
    pub proven: bool,
}

/// How good a line is, heads left out: smaller is better. Out of the band first; then a spaced line's goals, or of a filled one how far its
/// ends stand in and how little film there is, mm.
pub(super) type Order = (bool, Option<Goals>, Vec<i64>);

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
    /// Longest strip that the shop lays at intervals, mm; nothing for two repeats of the pattern.
    pub strip_mm: Option<f64>,
    /// Film beyond what is asked, so that a strip can be cut back later, mm; nothing for one pattern.
    pub spare_mm: Option<f64>,
    /// Width of the band that is laid, and what is open in it: a whole strip, or two halves.
    pub split_mm: Option<f64>,
    /// The job's unit, for sentences.
    pub unit: Unit,
}

impl Laying<'_> {
    pub(super) fn half_mm(&self) -> f64 {
        (self.stock.width_mm + self.split_mm.unwrap_or(0.0)) / 2.0
    }

    /// What keeps film off round an obstacle: how far, and the one colour that may come nearer.
    fn zones(&self, side: &MarkSide, o: &Obstacle) -> Vec<(f64, Option<TapeColour>)> {
        let (all, red) = (
            keep_off(o, self.rules, side.face),
            keep_off_red(o, self.rules, side.face),
        );
        match self.way {
            // Filled strips are made red where they must be.
            WayOfLaying::Continuous if may_redden(self.rules, self.stock) => vec![(red, None)],
            WayOfLaying::Spaced if red < all => vec![(red, None), (all, Some(TapeColour::Red))],
            _ => vec![(all, None)],
        }
    }

    /// Which zones of obstacles stand in the way of tape whose centreline is at a height.
    pub(super) fn in_the_way(&self, side: &MarkSide, centre: f64) -> Vec<InTheWay> {
        let half = self.half_mm();
        let mut found = Vec::new();
        for (obstacle, o) in side.obstacles.iter().enumerate() {
            for (zone, (off, _)) in self.zones(side, o).into_iter().enumerate() {
                if o.height_mm.0 - off < centre + half - 1e-9
                    && o.height_mm.1 + off > centre - half + 1e-9
                {
                    found.push(InTheWay { obstacle, zone });
                }
            }
        }
        found
    }

    /// The heights that are worth trying between two: where the set of things in the way changes.
    pub(super) fn heights(&self, side: &MarkSide, low: f64, high: f64) -> Vec<f64> {
        let half = self.half_mm();
        let mut heights = vec![low, high, (low + high) / 2.0];
        for o in &side.obstacles {
            for (off, _) in self.zones(side, o) {
                heights.push(o.height_mm.0 - off - half);
                heights.push(o.height_mm.1 + off + half);
            }
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

    /// What is blocked along the line by what is in the way.
    pub(super) fn blocked(&self, side: &MarkSide, in_the_way: &[InTheWay]) -> Vec<Blocked> {
        (in_the_way.iter())
            .filter_map(|n| {
                let o = side.obstacles.get(n.obstacle)?;
                let (off, but) = self.zones(side, o).into_iter().nth(n.zone)?;
                Some(Blocked {
                    from_mm: o.back_mm.0 - off,
                    to_mm: o.back_mm.1 + off,
                    but,
                })
            })
            .collect()
    }

    /// Modules of the longest strip that is laid at intervals.
    pub(super) fn longest(&self) -> usize {
        let module = self.stock.module_mm().max(1.0);
        let wanted = (self.strip_mm)
            .or(self.stock.pre_cut_mm.map(Mm::mm))
            .unwrap_or(REPEATS * module);
        ((wanted + ALIKE_MM) / module).floor().max(1.0) as usize
    }

    pub(super) fn problem(&self, side: &MarkSide, in_the_way: &[InTheWay]) -> LineProblem {
        let share = self.rules.get("side_share").unwrap_or(0.0);
        LineProblem {
            ends_mm: side.ends_mm,
            blocked_mm: self.blocked(side, in_the_way),
            pattern: self.stock.pattern.clone(),
            least_film_mm: share * side.length_mm(),
            spare_mm: self.spare_mm.unwrap_or(self.stock.module_mm()),
            longest: self.longest(),
            gap_limit_mm: self.gap_limit_mm,
            step_mm: self.unit.step_mm(),
        }
    }

    /// Heads that tape touches whose centreline is at a height.
    pub(super) fn heads_at(&self, side: &MarkSide, centre: f64) -> LineHeads {
        let half = self.half_mm();
        let bands: Vec<(f64, f64)> = match self.split_mm {
            None => vec![(centre - half, centre + half)],
            Some(open) => vec![
                (centre - half, centre - open / 2.0),
                (centre + open / 2.0, centre + half),
            ],
        };
        let heads = side.heads.iter().filter_map(|[at_mm, height, radius]| {
            let away = (bands.iter())
                .map(|(low, high)| (low - height).max(height - high).max(0.0))
                .fold(f64::INFINITY, f64::min);
            if away >= radius - 1e-9 {
                return None;
            }
            let whole = bands
                .iter()
                .any(|(low, high)| height - radius >= low - 1e-9 && height + radius <= high + 1e-9);
            Some(LineHead {
                at_mm: *at_mm,
                reach_mm: (radius * radius - away * away).sqrt(),
                whole_mm: whole.then_some(*radius),
            })
        });
        LineHeads(heads.collect())
    }

    pub(super) fn heads_under(&self, side: &MarkSide, strips: &[Strip]) -> u32 {
        let tape: Vec<Rect> = strips
            .iter()
            .flat_map(Strip::run_rects)
            .map(|(_, r)| r)
            .collect();
        side.heads_under(&tape)
    }

    /// Heads with an edge of these strips on them; where colours meet within a strip is no edge.
    pub(super) fn heads_edged(&self, side: &MarkSide, strips: &[Strip]) -> u32 {
        let tape: Vec<Rect> = strips.iter().flat_map(Strip::tape_rects).collect();
        side.heads_edged(&tape)
    }

    pub(super) fn strip(&self, placed: &Placed, centre_mm: f64) -> Strip {
        Strip {
            start_mm: placed.start_mm.into(),
            centre_mm: centre_mm.into(),
            width_mm: (2.0 * self.half_mm()).into(),
            runs: placed.runs.clone(),
            upright: false,
            split_mm: self.split_mm.map(Mm::of),
            reflectors: None,
            element: Element::Line,
        }
    }
}

/// A zone round an obstacle that stands in the way.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct InTheWay {
    /// Number of the obstacle.
    obstacle: usize,
    /// Number of its zone.
    zone: usize,
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

pub(crate) fn check(side: &MarkSide, laying: &Laying<'_>) -> Result<(), MarkError> {
    let stock = laying.stock;
    stock
        .check()
        .map_err(|told| MarkError::Stock(told.sentence))?;
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
    set: &[InTheWay],
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
        .filter_map(|n| side.obstacles.get(n.obstacle))
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
