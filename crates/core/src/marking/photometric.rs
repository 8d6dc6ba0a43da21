//! Readings of a retroreflectometer against the tables of minima.

use serde::Serialize;

use crate::marking::finding::{Audited, ClauseFinding};
use crate::marking::retro_reading::{Observation, RetroReading};
use crate::marking::rules::{Confidence, RuleSet};
use crate::marking::strip::{Element, TapeColour};
use Confidence::{Lead, Probable, Sure};

/// Least coefficient of retroreflection of new sheeting, cd/lx/m², by grade, entrance and observation angle and colour (49 CFR
/// 571.108, table XVI-c as recalled; cells marked a lead are not plain).
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Photometric {
    /// `C2`, `C3` or `C4`.
    pub grade: &'static str,
    /// Entrance angle, degrees.
    pub entrance: i32,
    /// White at 0.2° and 0.5°.
    pub white: [f64; 2],
    /// Red at 0.2° and 0.5°.
    pub red: [f64; 2],
    /// How sure the row is.
    pub confidence: Confidence,
}

pub(crate) const fn row(
    grade: &'static str,
    entrance: i32,
    white: [f64; 2],
    red: [f64; 2],
    confidence: Confidence,
) -> Photometric {
    Photometric {
        grade,
        entrance,
        white,
        red,
        confidence,
    }
}

/// The table of photometric minima.
pub const PHOTOMETRIC: [Photometric; 9] = [
    row("C2", -4, [250.0, 65.0], [60.0, 15.0], Sure),
    row("C2", 30, [250.0, 65.0], [60.0, 15.0], Sure),
    row("C2", 45, [60.0, 15.0], [15.0, 5.0], Lead),
    row("C3", -4, [165.0, 43.0], [40.0, 10.0], Probable),
    row("C3", 30, [165.0, 43.0], [40.0, 10.0], Probable),
    row("C3", 45, [40.0, 10.0], [10.0, 3.0], Lead),
    row("C4", -4, [125.0, 33.0], [30.0, 8.0], Probable),
    row("C4", 30, [125.0, 33.0], [30.0, 8.0], Probable),
    row("C4", 45, [30.0, 8.0], [8.0, 2.0], Lead),
];

/// Least coefficient of class C under UN R104 at 0.33° (20'), cd/lx/m²: colour, entrance angle in degrees, minimum, how sure. As
/// recalled. Another geometry than the United States table: the two cannot be compared.
pub const CLASS_C: [(TapeColour, i32, f64, Confidence); 12] = [
    (TapeColour::White, 5, 450.0, Probable),
    (TapeColour::White, 30, 200.0, Probable),
    (TapeColour::White, 40, 95.0, Lead),
    (TapeColour::White, 60, 16.0, Lead),
    (TapeColour::Yellow, 5, 300.0, Probable),
    (TapeColour::Yellow, 30, 130.0, Probable),
    (TapeColour::Yellow, 40, 75.0, Lead),
    (TapeColour::Yellow, 60, 10.0, Lead),
    (TapeColour::Red, 5, 120.0, Probable),
    (TapeColour::Red, 20, 60.0, Lead),
    (TapeColour::Red, 30, 30.0, Probable),
    (TapeColour::Red, 40, 10.0, Lead),
];

/// Every reading against the table of minima of the grade.
///
/// ```
/// # use windrift_core::marking::{Audited, RuleSet, TapeColour, photometric::judge, retro_reading::{Observation, RetroReading}};
/// let read = |reading| RetroReading { place: "left, 3 m".into(), strip: None, colour: TapeColour::White, observation: Observation::Third, entrance: 5, reading };
/// let found = judge(&[read(460.0), read(440.0)], RuleSet::Unece, "C");
/// assert!(found[0].audited != found[1].audited, "450 are asked for");
/// ```
pub fn judge(readings: &[RetroReading], set: RuleSet, grade: &str) -> Vec<ClauseFinding> {
    let clause = if set == RuleSet::Unece {
        "UN R104, class C"
    } else {
        "49 CFR 571.108, table XVI-c"
    };
    readings
        .iter()
        .enumerate()
        .map(|(n, r)| {
            let at = format!(
                "{}{}, {} at {}, {}°",
                r.strip.map_or(String::new(), |n| format!("strip {n} ")),
                r.place.trim(),
                r.colour.name(),
                r.observation.name(),
                r.entrance
            );
            let (asks, audited) = match r.least(set, grade) {
                None => (
                    format!("{at}: the table of grade {grade} has no minimum there."),
                    Audited::FigureUncertain,
                ),
                Some((least, sure)) => (
                    format!("{at}: new tape of grade {grade} gives at least {least:.0} cd/lx/m²."),
                    match (sure, r.reading >= least) {
                        (Lead, _) => Audited::FigureUncertain,
                        (_, true) => Audited::Pass,
                        // The minima are for new tape: no rule sets one that a meter finds broken on tape in use.
                        (_, false) => Audited::Look,
                    },
                ),
            };
            ClauseFinding {
                key: format!("reading.{n}"),
                element: Element::Line,
                clause: clause.to_owned(),
                asks,
                measured: match audited {
                    Audited::Look => format!(
                        "{:.0} cd/lx/m²: less than new tape gives. No rule sets a limit for tape in use: clean it, read it again, and judge how it is seen at night.",
                        r.reading
                    ),
                    _ => format!(
                        "{:.0} cd/lx/m². The minima are for new tape, not for tape in use.",
                        r.reading
                    ),
                },
                audited,
                sure: r.least(set, grade).map_or(Lead, |(_, sure)| sure),
                corrected_from: None,
                reason: None,
                strips: r.strip.map(|n| n as usize).into_iter().collect(),
            }
        })
        .collect()
}

impl RetroReading {
    /// The least that new tape of a grade gives there, and how sure that is.
    pub(super) fn least(&self, set: RuleSet, grade: &str) -> Option<(f64, Confidence)> {
        if set == RuleSet::Unece {
            return CLASS_C
                .iter()
                .find(|(c, e, ..)| {
                    *c == self.colour
                        && *e == self.entrance
                        && self.observation == Observation::Third
                })
                .map(|(_, _, least, sure)| (*least, *sure));
        }
        let n = match self.observation {
            Observation::Fifth => 0,
            Observation::Half => 1,
            Observation::Third => return None,
        };
        let row = PHOTOMETRIC
            .iter()
            .find(|p| p.grade == grade && p.entrance == self.entrance)?;
        let least = match self.colour {
            TapeColour::White => row.white[n],
            TapeColour::Red => row.red[n],
            TapeColour::Yellow => return None,
        };
        // Of a row that is a lead only its last cell is unsure (red at 0.5°, 45°); the rest are probable.
        let sure = match (row.confidence, self.colour, n) {
            (Lead, TapeColour::Red, 1) => Lead,
            (Lead, ..) => Probable,
            (sure, ..) => sure,
        };
        Some((least, sure))
    }
}
