//! The audit of a side's marking, planned or as read back on the floor, clause by clause. It is no approval.

use serde::{Deserialize, Serialize};

use super::rules::{Confidence, RuleSet, Rules};
use super::side::{MarkSide, Strip, TapeColour, band, keep_off, least_width};
use crate::feature::LampColour;
use crate::tape::{Unit, print};

/// What is said of a clause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Audited {
    /// Kept.
    Pass,
    /// Not kept.
    Fail,
    /// As close as practicable, if a reason is given.
    ReasonNeeded,
    /// The figure itself is not sure enough to say.
    FigureUncertain,
}

/// One clause, judged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClauseFinding {
    /// Where it is written, as recalled.
    pub clause: String,
    /// What it asks, in our words.
    pub asks: String,
    /// What was measured.
    pub measured: String,
    /// What follows.
    pub audited: Audited,
    /// The figure as recalled, where the shop uses another.
    pub corrected_from: Option<f64>,
}

/// The grade and rules that a layout is audited against.
#[derive(Debug, Clone)]
pub struct Against<'a> {
    /// The rules.
    pub rules: &'a Rules,
    /// Grade of the tape.
    pub grade: &'a str,
    /// Where the first and last strip could be at best, mm from each end; nothing where it was not worked out.
    pub best_ends_mm: Option<(f64, f64)>,
    /// The job's unit.
    pub unit: Unit,
}

impl Against<'_> {
    fn finding(&self, key: &str, asks: String, measured: String, kept: bool) -> ClauseFinding {
        let figure = self.rules.figure(key);
        let lead = figure.is_some_and(|f| f.confidence == Confidence::Lead);
        ClauseFinding {
            clause: figure.map_or_else(String::new, |f| f.clause.to_owned()),
            asks,
            measured,
            audited: match (kept, lead) {
                (_, true) => Audited::FigureUncertain,
                (true, _) => Audited::Pass,
                (false, _) => Audited::Fail,
            },
            corrected_from: figure
                .filter(|f| self.rules.get(key) != Some(f.value))
                .map(|f| f.value),
        }
    }

    fn text(&self, mm: f64) -> String {
        print(mm, self.unit).text
    }
}

/// Within a hundredth of a millimetre a figure is kept.
const KEPT_MM: f64 = 0.01;

/// Audits strips on a side against a set of rules.
pub fn audit(side: &MarkSide, strips: &[Strip], against: &Against<'_>) -> Vec<ClauseFinding> {
    let rules = against.rules;
    let mut found = Vec::new();
    let mut sorted: Vec<&Strip> = strips.iter().collect();
    sorted.sort_by(|a, b| a.start_mm.total_cmp(&b.start_mm));
    found.push(width(&sorted, against));
    found.push(share(side, &sorted, against));
    found.push(height(side, &sorted, against));
    found.extend(ends(side, &sorted, against));
    found.push(obscured(side, &sorted, against));
    match rules.set {
        RuleSet::UnitedStatesNew => {
            found.push(segments(side, &sorted, against));
            found.push(colours(&sorted, against));
            found.extend(lamps(side, &sorted, against));
        }
        RuleSet::UnitedStatesInUse => found.push(red_alone(&sorted, against)),
        RuleSet::Unece => {
            found.push(unece_colour(&sorted, against));
            found.push(unece_gaps(&sorted, against));
        }
    }
    found
}

fn width(strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let least = least_width(a.rules, a.grade);
    let narrowest = strips
        .iter()
        .map(|s| s.width_mm)
        .fold(f64::INFINITY, f64::min);
    let key = match a.grade {
        "C3" if a.rules.get("tape_width_c3").is_some() => "tape_width_c3",
        "C4" if a.rules.get("tape_width_c4").is_some() => "tape_width_c4",
        _ => "tape_width_c2",
    };
    a.finding(
        key,
        format!("Tape of grade {} is at least {least:.0} mm wide.", a.grade),
        if strips.is_empty() {
            "No strip.".into()
        } else {
            format!("The narrowest is {narrowest:.1} mm.")
        },
        !strips.is_empty() && narrowest >= least - KEPT_MM,
    )
}

/// Length covered, overlaps counted once, mm.
pub fn covered_mm(strips: &[&Strip]) -> f64 {
    let mut to = f64::NEG_INFINITY;
    let mut sum = 0.0;
    for s in strips {
        sum += (s.end_mm() - s.start_mm.max(to)).max(0.0);
        to = to.max(s.end_mm());
    }
    sum
}

fn share(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let least = a.rules.get("side_share").unwrap_or(0.5);
    let covered = covered_mm(strips);
    let got = covered / side.length_mm().max(1.0);
    a.finding(
        "side_share",
        format!(
            "Strips cover at least {:.0} % of the length.",
            least * 100.0
        ),
        format!(
            "{} of {}: {:.1} %.",
            a.text(covered),
            a.text(side.length_mm()),
            got * 100.0
        ),
        got >= least - 1e-9,
    )
}

fn height(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let (low, high) = band(a.rules);
    let unece = a.rules.set == RuleSet::Unece;
    let out: Vec<&&Strip> = strips
        .iter()
        .filter(|s| {
            let edge = if unece { s.width_mm / 2.0 } else { 0.0 };
            s.centre_mm - edge < low - KEPT_MM || s.centre_mm + edge > high + KEPT_MM
        })
        .collect();
    let key = if unece { "lower_low" } else { "centre_low" };
    let heights = strips.iter().map(|s| s.centre_mm);
    let (least, most) = (
        heights.clone().fold(f64::INFINITY, f64::min),
        heights.fold(f64::NEG_INFINITY, f64::max),
    );
    let mut finding = a.finding(
        key,
        if unece {
            format!("The element lies between {low:.0} and {high:.0} mm above the ground.")
        } else {
            format!("The centreline is as close as practicable to {low:.0} to {high:.0} mm above the road, at curb weight.")
        },
        if strips.is_empty() { "No strip.".into() } else { format!("Centreline from {least:.0} to {most:.0} mm.") },
        !strips.is_empty() && out.is_empty(),
    );
    // Where the body leaves no surface in the band, the rule itself asks for a reason only.
    let no_surface = side.height_mm.0 > high || side.height_mm.1 < low;
    if finding.audited == Audited::Fail && !strips.is_empty() && (no_surface || !unece) {
        finding.audited = Audited::ReasonNeeded;
    }
    finding
}

fn ends(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> Vec<ClauseFinding> {
    let (Some(first), Some(last)) = (
        strips.iter().map(|s| s.start_mm).reduce(f64::min),
        strips.iter().map(|s| s.end_mm()).reduce(f64::max),
    ) else {
        return Vec::new();
    };
    let (front, rear) = (first - side.ends_mm.0, side.ends_mm.1 - last);
    let measured = format!(
        "{} from the front, {} from the rear.",
        a.text(front),
        a.text(rear)
    );
    if let Some(most) = a.rules.get("ends") {
        let mut finding = a.finding(
            "ends",
            format!("The marking reaches to within {most:.0} mm of each end."),
            measured,
            front <= most + KEPT_MM && rear <= most + KEPT_MM,
        );
        if finding.audited == Audited::Fail {
            finding.audited = Audited::ReasonNeeded;
        }
        return vec![finding];
    }
    let mut finding = a.finding(
        "side_share",
        "Strips begin and end as close to the front and rear as practicable.".into(),
        measured,
        true,
    );
    if let Some((best_front, best_rear)) = a.best_ends_mm
        && (front > best_front + 1.0 || rear > best_rear + 1.0)
    {
        finding.audited = Audited::ReasonNeeded;
        finding.measured.push_str(&format!(
            " Possible: {} and {}.",
            a.text(best_front),
            a.text(best_rear)
        ));
    }
    vec![finding]
}

fn obscured(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let mut on: Vec<&str> = Vec::new();
    for s in strips {
        for o in &side.obstacles {
            let half = s.width_mm / 2.0;
            let meets = o.back_mm.0 < s.end_mm() - KEPT_MM
                && o.back_mm.1 > s.start_mm + KEPT_MM
                && o.height_mm.0 < s.centre_mm + half - KEPT_MM
                && o.height_mm.1 > s.centre_mm - half + KEPT_MM;
            if meets && !on.contains(&o.name.as_str()) {
                on.push(&o.name);
            }
        }
    }
    let off = strips
        .iter()
        .any(|s| s.start_mm < side.ends_mm.0 - KEPT_MM || s.end_mm() > side.ends_mm.1 + KEPT_MM);
    let overlapping = strips.windows(2).any(|w| {
        w[1].start_mm < w[0].end_mm() - KEPT_MM
            && (w[1].centre_mm - w[0].centre_mm).abs() < w[0].width_mm
    });
    let measured = match (on.is_empty(), off, overlapping) {
        (false, _, _) => format!("A strip lies on: {}.", on.join(", ")),
        (_, true, _) => "A strip stands past the end of the body.".into(),
        (_, _, true) => "Two strips overlap.".into(),
        _ => "Nothing is covered or in the way.".into(),
    };
    a.finding(
        "side_share",
        "Strips lie on the body and are not hidden by equipment or cargo.".into(),
        measured,
        on.is_empty() && !off && !overlapping,
    )
}

fn segments(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let (least, most) = (
        a.rules.get("segment_least").unwrap_or(0.0),
        a.rules.get("segment_most").unwrap_or(f64::INFINITY),
    );
    let mut wrong = Vec::new();
    for (n, s) in (1..).zip(strips) {
        let mut at = s.start_mm;
        let count = s.runs.len();
        for (m, run) in s.runs.iter().enumerate() {
            let (from, to) = (at, at + run.length_mm);
            at = to;
            // A run at a strip's end that stops at something may be trimmed shorter.
            let trimmed = (m == 0 || m + 1 == count)
                && side.obstacles.iter().any(|o| {
                    let off = keep_off(o, a.rules) + 1.0;
                    (o.back_mm.1 - from).abs() <= off || (o.back_mm.0 - to).abs() <= off
                });
            let short = run.length_mm < least - KEPT_MM && !trimmed;
            if short || run.length_mm > most + KEPT_MM {
                wrong.push(format!("strip {n}: {}", a.text(run.length_mm)));
            }
        }
    }
    a.finding(
        "segment_least",
        format!(
            "Each colour is {least:.0} to {most:.0} mm long, unless trimmed to clear something."
        ),
        if wrong.is_empty() {
            "Every one is.".into()
        } else {
            format!("Not so in {}.", wrong.join(", "))
        },
        wrong.is_empty(),
    )
}

fn lengths(strips: &[&Strip]) -> (f64, f64) {
    let of = |colour| {
        strips
            .iter()
            .flat_map(|s| &s.runs)
            .filter(|r| r.colour == colour)
            .map(|r| r.length_mm)
            .sum::<f64>()
    };
    (of(TapeColour::Red), of(TapeColour::White))
}

fn colours(strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let most = a.rules.get("colour_share").unwrap_or(1.0);
    let (red, white) = lengths(strips);
    let all: f64 = strips.iter().map(|s| s.length_mm()).sum();
    let share = |mm: f64| if all > 0.0 { mm / all } else { 0.0 };
    a.finding(
        "colour_share",
        "Red and white alternate; neither is more than two thirds of the whole.".into(),
        format!(
            "Red {:.1} %, white {:.1} %.",
            share(red) * 100.0,
            share(white) * 100.0
        ),
        all > 0.0
            && share(red) <= most + 1e-9
            && share(white) <= most + 1e-9
            && (red + white - all).abs() < KEPT_MM,
    )
}

fn lamps(side: &MarkSide, strips: &[&Strip], a: &Against<'_>) -> Vec<ClauseFinding> {
    let least = a.rules.get("lamp_distance").unwrap_or(0.0);
    let mut nearest: Option<(f64, String)> = None;
    for o in side.obstacles.iter().filter(|o| o.lamp.is_some()) {
        for s in strips {
            let mut at = s.start_mm;
            for run in &s.runs {
                let (from, to) = (at, at + run.length_mm);
                at = to;
                let white = run.colour == TapeColour::White && o.lamp != Some(LampColour::White);
                let matters =
                    white || run.colour == TapeColour::Red && o.lamp == Some(LampColour::Amber);
                let half = s.width_mm / 2.0;
                let gap = |a0: f64, a1: f64, b0: f64, b1: f64| (b0 - a1).max(a0 - b1).max(0.0);
                let away = gap(from, to, o.back_mm.0, o.back_mm.1).hypot(gap(
                    s.centre_mm - half,
                    s.centre_mm + half,
                    o.height_mm.0,
                    o.height_mm.1,
                ));
                if matters && nearest.as_ref().is_none_or(|(d, _)| away < *d) {
                    nearest = Some((away, o.name.clone()));
                }
            }
        }
    }
    let Some((away, name)) = nearest else {
        return Vec::new();
    };
    vec![a.finding(
        "lamp_distance",
        format!(
            "White keeps {least:.0} mm from required red and amber lamps, red from amber ones."
        ),
        format!("Nearest: {} from the {name}.", a.text(away)),
        away >= least - KEPT_MM,
    )]
}

fn red_alone(strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let (red, white) = lengths(strips);
    a.finding(
        "tape_width_c2",
        "Red on the sides only as part of red and white.".into(),
        format!("Red {}, white {}.", a.text(red), a.text(white)),
        red < KEPT_MM || white > KEPT_MM,
    )
}

fn unece_colour(strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let (red, _) = lengths(strips);
    a.finding(
        "tape_width_c2",
        "White or yellow to the side.".into(),
        if red > KEPT_MM {
            format!("{} of red.", a.text(red))
        } else {
            "No red.".into()
        },
        red < KEPT_MM,
    )
}

fn unece_gaps(strips: &[&Strip], a: &Against<'_>) -> ClauseFinding {
    let share = a.rules.get("gap_share").unwrap_or(0.5);
    let most = a.rules.get("gap_most").unwrap_or(1000.0);
    let mut wide = 0;
    let mut largest: f64 = 0.0;
    for w in strips.windows(2) {
        let gap = w[1].start_mm - w[0].end_mm();
        largest = largest.max(gap);
        if gap > share * w[0].length_mm().min(w[1].length_mm()) + KEPT_MM {
            wide += 1;
        }
    }
    let mut finding = a.finding(
        "gap_share",
        format!("Gaps are at most {:.0} % of the shortest element beside them; where that is impossible, at most {most:.0} mm.", share * 100.0),
        format!("Largest gap {}; {wide} over the share.", a.text(largest)),
        wide == 0,
    );
    if wide > 0 && largest <= most + KEPT_MM {
        finding.audited = Audited::ReasonNeeded;
    }
    finding
}
