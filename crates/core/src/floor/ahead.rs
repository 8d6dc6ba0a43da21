//! What a pair of readings will say, worked out before it is read: where no signal reaches the tape, the answer is already there.
//!
//! Every mark near what is wanted at one flat with every mark at the other, for the rounds that are to come. It is what [`advise`] says of
//! the same readings, word for word; what lies farther off is asked for again in any case.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::floor::level::{Advice, Hanging, RoundOfReadings, advise};
use crate::ground::tape::{MM_PER_INCH, Unit, parse, print};

/// Marks so far from what is wanted are worked out: as far as a reading is believed at once.
const NEAR_MM: f64 = 0.75 * MM_PER_INCH;
/// Rounds that are worked out after those that were read.
const ROUNDS: u32 = 3;

/// What is to be done, without its figures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AheadDo {
    /// Read again.
    ReadAgain,
    /// Move a tape.
    Move,
    /// Lock.
    Lock,
}

/// One answer.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AheadAnswer {
    /// What is to be done.
    #[serde(rename = "do")]
    pub what: AheadDo,
    /// What to say across the shop.
    pub sentence: String,
}

/// Answers of one round.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AheadRound {
    /// Rounds of moves that were made before.
    pub rounds_moved: u32,
    /// By the front mark and then the rear one: the number of its answer.
    pub says: Vec<Vec<u32>>,
}

/// Answers to what will be read at both flats.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ahead {
    /// What is wanted at both flats, mm: where the piece is moved, these answers are none.
    pub asked_mm: [f64; 2],
    /// Marks at both flats from the smallest figure to the largest, each in the ways in which it is typed.
    pub marks: [Vec<Vec<String>>; 2],
    /// Round by round.
    pub rounds: Vec<AheadRound>,
    /// All answers, each once.
    pub answers: Vec<AheadAnswer>,
}

/// Works out what every pair of marks near what is wanted will say, for the rounds after `rounds_moved`.
///
/// ```
/// # use windrift_core::{floor::{ahead::{AheadDo, ahead}, level::Hanging}, ground::tape::Unit};
/// let hanging = Hanging { flats: [(457.2, 609.6), (2438.4, 609.6)], tapes: [(400.0, 560.0), (2500.0, 560.0)], ends: ["front", "rear"].map(Into::into) };
/// let told = ahead(&hanging, 0, Unit::InchSixteenth);
/// let mark = |end: usize, text: &str| told.marks[end].iter().position(|m| m.iter().any(|t| t == text)).unwrap();
/// let answer = |front: &str, rear: &str| &told.answers[told.rounds[0].says[mark(0, front)][mark(1, rear)] as usize];
/// assert_eq!(answer("24", "24").what, AheadDo::Lock);
/// assert_eq!(answer("24", "24 1/4").what, AheadDo::Move);
/// ```
pub fn ahead(hanging: &Hanging, rounds_moved: u32, unit: Unit) -> Ahead {
    let wanted = hanging.flats.map(|f| f.1);
    let mark = unit.mark_mm();
    let near = (NEAR_MM / mark + 1e-9).floor() as i64;
    let at = |end: usize, step: i64| {
        // As a tape shows it: what is wanted lies on a mark. Read back from its words, it is to the last bit what somebody types.
        let mm = ((wanted[end] / mark).round() + step as f64) * mark;
        parse(&print(mm, unit).text, unit).unwrap_or(mm)
    };
    let steps = || -near..=near;
    let marks = [0, 1].map(|end| {
        steps()
            .map(|step| typed(at(end, step), unit))
            .collect::<Vec<_>>()
    });
    let mut answers: BTreeMap<AheadAnswer, u32> = BTreeMap::new();
    let rounds = (rounds_moved..=rounds_moved + ROUNDS)
        .map(|rounds_moved| AheadRound {
            rounds_moved,
            says: steps()
                .map(|front| {
                    steps()
                        .map(|rear| {
                            let round = RoundOfReadings {
                                read_mm: [at(0, front), at(1, rear)],
                                asked_again_mm: None,
                                rounds_moved,
                            };
                            let answer = answer(hanging, &round, unit);
                            let next = answers.len() as u32;
                            *answers.entry(answer).or_insert(next)
                        })
                        .collect()
                })
                .collect(),
        })
        .collect();
    let mut by_number: Vec<(u32, AheadAnswer)> = answers.into_iter().map(|(a, n)| (n, a)).collect();
    by_number.sort_by_key(|(n, _)| *n);
    Ahead {
        asked_mm: wanted,
        marks,
        rounds,
        answers: by_number.into_iter().map(|(_, a)| a).collect(),
    }
}

fn answer(hanging: &Hanging, round: &RoundOfReadings, unit: Unit) -> AheadAnswer {
    match advise(hanging, round, unit) {
        Ok(advice) => AheadAnswer {
            what: match &advice {
                Advice::ReadAgain { .. } => AheadDo::ReadAgain,
                Advice::Move { .. } => AheadDo::Move,
                Advice::Lock { .. } => AheadDo::Lock,
            },
            sentence: advice.sentence().to_owned(),
        },
        // Readings that contradict each other are read again.
        Err(error) => AheadAnswer {
            what: AheadDo::ReadAgain,
            sentence: error.to_string(),
        },
    }
}

/// The ways in which a mark is typed: as the tape is printed, in inches alone, with decimals.
fn typed(mm: f64, unit: Unit) -> Vec<String> {
    let plain = |value: f64| {
        let text = format!("{value:.5}");
        text.trim_end_matches('0').trim_end_matches('.').to_owned()
    };
    let mut all = vec![print(mm, unit).text];
    if let Unit::Millimetre = unit {
        all.push(plain(mm));
    } else {
        let inches = mm / MM_PER_INCH;
        all.push(plain(inches));
        let sixty_fourths = (inches * 64.0).round() as i64;
        let (whole, mut part, mut of) = (sixty_fourths / 64, sixty_fourths % 64, 64);
        while part != 0 && part % 2 == 0 {
            (part, of) = (part / 2, of / 2);
        }
        all.push(match (whole, part) {
            (w, 0) => format!("{w}"),
            (0, p) => format!("{p}/{of}"),
            (w, p) => format!("{w} {p}/{of}"),
        });
        let feet = whole / 12;
        if feet > 0 {
            let rest = match (whole % 12, part) {
                (w, 0) => format!("{w}"),
                (0, p) => format!("{p}/{of}"),
                (w, p) => format!("{w} {p}/{of}"),
            };
            all.push(format!("{feet}' {rest}"));
            if rest == "0" {
                all.push(format!("{feet}'"));
            }
        }
    }
    all.sort();
    all.dedup();
    all
}
