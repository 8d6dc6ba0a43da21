//! Tape arithmetic: lengths as installers write and read them.
//!
//! Inside Windrift every length is millimetres in an `f64`. At the edges it is what a tape shows: an
//! exact fraction of an inch, feet and inches, or whole millimetres.
//!
//! Source: 1 in = 25.4 mm exactly (international yard and pound agreement, 1959).

use serde::{Deserialize, Serialize};
use thiserror::Error;

/// Millimetres in one inch, exactly.
pub const MM_PER_INCH: f64 = 25.4;
/// The longest length that is read off one tape: 100 ft. Longer input is a slip of the keys.
pub const LONGEST_MM: f64 = 1200.0 * MM_PER_INCH;

/// The longest roll, mm (ours).
pub const LONGEST_ROLL_MM: f64 = 200_000.0;
/// Inches from which a length is printed in feet and inches.
const FEET_FROM_INCHES: i64 = 48;

/// How a job reads its tape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    /// Inches to the sixteenth.
    InchSixteenth,
    /// Inches to the thirty-second.
    InchThirtySecond,
    /// Whole millimetres.
    Millimetre,
}

impl Unit {
    /// The smallest mark that is read in this unit, in mm.
    pub fn mark_mm(self) -> f64 {
        match self {
            Unit::InchSixteenth => MM_PER_INCH / 16.0,
            Unit::InchThirtySecond => MM_PER_INCH / 32.0,
            Unit::Millimetre => 1.0,
        }
    }

    /// One step of a piece that is nudged by keys or dragged: 1/16 in, or 1 mm.
    pub fn step_mm(self) -> f64 {
        match self {
            Unit::InchSixteenth | Unit::InchThirtySecond => MM_PER_INCH / 16.0,
            Unit::Millimetre => 1.0,
        }
    }

    /// How far out a flat may read and still count as right: 1/32 in, or 1 mm (common practice, no source).
    pub fn tolerance_mm(self) -> f64 {
        match self {
            Unit::InchSixteenth | Unit::InchThirtySecond => MM_PER_INCH / 32.0,
            Unit::Millimetre => 1.0,
        }
    }

    fn denominator(self) -> Option<i64> {
        match self {
            Unit::InchSixteenth => Some(16),
            Unit::InchThirtySecond => Some(32),
            Unit::Millimetre => None,
        }
    }
}

/// A length that could not be read. The text says what is wrong and what to type instead.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum LengthError {
    /// Nothing was typed.
    #[error("Type a length, such as 27 3/4, 2' 3 3/4\" or 705 mm.")]
    Empty,
    /// Not a length at all.
    #[error("\u{201c}{0}\u{201d} is not a length. Type it like 27 3/4, 2' 3 3/4\" or 705 mm.")]
    NotALength(String),
    /// A comma before three digits: thousands or decimals.
    #[error(
        "\u{201c}{0}\u{201d} may be thousands or decimals. Type it without a comma, or with a point: {1} or {2}."
    )]
    CommaTwoWays(String, String, String),
    /// A fraction over zero.
    #[error("A fraction cannot be over 0. Type it like 27 3/4.")]
    OverZero,
    /// A fraction that no tape shows.
    #[error("A tape has no {0}. Use halves, quarters, eighths, 16ths, 32nds or 64ths.")]
    NotOnATape(String),
    /// A fraction of a whole inch or more.
    #[error("{0} is a whole inch or more. Add it to the whole inches, like 1 1/4.")]
    ImproperFraction(String),
    /// Twelve inches or more behind a number of feet.
    #[error("{0} inches after the feet is a foot or more. Check the feet.")]
    TooManyInches(String),
    /// A length below zero.
    #[error("A length cannot be less than 0. Leave out the minus sign.")]
    Negative,
    /// Longer than any vehicle.
    #[error("That is longer than 100 ft (30 480 mm). Check the unit and the figures.")]
    TooLong,
    /// Longer than any roll.
    #[error(
        "That is longer than 200 m (218 yd), longer than any roll. Check the unit and the figures."
    )]
    TooLongForARoll,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Measure {
    Feet,
    Inches,
    Metric(i64), // micrometres in one
}

/// One number with its unit, as typed.
struct Term {
    /// The number's text, for messages.
    text: String,
    whole: f64,
    fraction: Option<(i64, i64)>,
    decimal: bool,
    measure: Option<Measure>,
}

impl Term {
    fn inches(&self) -> f64 {
        let (n, d) = self.fraction.unwrap_or((0, 1));
        // Sixty-fourths are whole numbers here, so that a typed fraction is exact.
        (self.whole * 64.0 + n as f64 * (64 / d) as f64) / 64.0
    }

    fn inches_in_mm(&self) -> f64 {
        mm_of_inches(self.inches())
    }
}

/// 25.4 is 127 / 5: multiplied out, so that the result is the nearest number to the exact one.
fn mm_of_inches(inches: f64) -> f64 {
    inches * 127.0 / 5.0
}

/// Reads a length in any of the ways installers write it: `27 3/4`, `27-3/4"`, `2' 3 3/4"`, `16 ft 6`, `705mm`, `70.5 cm`.
///
/// A bare number takes the job's `unit`; a fraction is inches. Returns mm, 0 to [`LONGEST_MM`].
///
/// ```
/// use windrift_core::ground::tape::{Unit, parse};
/// assert_eq!(parse("27 3/4", Unit::Millimetre).unwrap(), 704.85);
/// assert_eq!(parse("2' 3 3/4\"", Unit::InchSixteenth).unwrap(), 704.85);
/// assert_eq!(parse("705", Unit::Millimetre).unwrap(), 705.0);
/// ```
pub fn parse(text: &str, unit: Unit) -> Result<f64, LengthError> {
    if text.trim_start().starts_with(['-', '\u{2212}']) {
        return Err(LengthError::Negative);
    }
    parse_terms(text, unit, LONGEST_MM)
}

/// As [`parse`], for what is wound on a roll: up to [`LONGEST_ROLL_MM`], and yards too.
///
/// ```
/// # use windrift_core::ground::tape::{Unit, parse_wound};
/// assert_eq!(parse_wound("50 yd", Unit::InchSixteenth), Ok(45_720.0));
/// assert_eq!(parse_wound("71' 6", Unit::InchSixteenth), Ok(21_793.2));
/// assert!(parse_wound("900 yd", Unit::InchSixteenth).is_err());
/// ```
pub fn parse_wound(text: &str, unit: Unit) -> Result<f64, LengthError> {
    if text.trim_start().starts_with(['-', '\u{2212}']) {
        return Err(LengthError::Negative);
    }
    let yards = text
        .trim()
        .trim_end_matches(|c: char| c == '.' || c.is_alphabetic());
    let word = text.trim().get(yards.len()..).unwrap_or_default();
    if !matches!(word.trim_end_matches('.'), "yd" | "yds" | "yard" | "yards") {
        return parse_terms(text, unit, LONGEST_ROLL_MM).map_err(|e| match e {
            LengthError::TooLong => LengthError::TooLongForARoll,
            other => other,
        });
    }
    // A yard is 36 in: what stands before the word is read as inches.
    let mm = 36.0 * parse_terms(&format!("{yards} in"), unit, LONGEST_ROLL_MM)?;
    if mm > LONGEST_ROLL_MM {
        return Err(LengthError::TooLongForARoll);
    }
    Ok(mm)
}

/// As [`parse`], but a leading minus is allowed: a rail that rises to the rear falls by less than 0.
pub fn parse_signed(text: &str, unit: Unit) -> Result<f64, LengthError> {
    match text.trim_start().strip_prefix(['-', '\u{2212}']) {
        Some(rest) => parse_terms(rest, unit, LONGEST_MM).map(|mm| -mm),
        None => parse_terms(text, unit, LONGEST_MM),
    }
}

fn parse_terms(text: &str, unit: Unit, most_mm: f64) -> Result<f64, LengthError> {
    let shown: String = text.trim().chars().take(24).collect();
    if shown.is_empty() {
        return Err(LengthError::Empty);
    }
    let not_a_length = || LengthError::NotALength(shown.clone());
    if text.len() > 64 {
        return Err(not_a_length());
    }
    if let Some((thousands, decimals)) = comma_two_ways(text) {
        return Err(LengthError::CommaTwoWays(shown, thousands, decimals));
    }
    let terms = read_terms(&plain(text)).ok_or_else(not_a_length)?;
    for term in &terms {
        check_fraction(term)?;
    }
    let mm = match terms.as_slice() {
        [one] => match one.measure {
            Some(Measure::Feet) if one.fraction.is_none() => mm_of_inches(one.whole * 12.0),
            Some(Measure::Feet) => return Err(not_a_length()),
            Some(Measure::Inches) => one.inches_in_mm(),
            Some(Measure::Metric(micrometres)) if one.fraction.is_none() => {
                one.whole * micrometres as f64 / 1000.0
            }
            Some(Measure::Metric(_)) => return Err(not_a_length()),
            None if one.fraction.is_some() || unit != Unit::Millimetre => one.inches_in_mm(),
            None => one.whole,
        },
        [feet, inches]
            if feet.measure == Some(Measure::Feet)
                && feet.fraction.is_none()
                && !feet.decimal
                && matches!(inches.measure, None | Some(Measure::Inches)) =>
        {
            if inches.inches() >= 12.0 {
                return Err(LengthError::TooManyInches(inches.text.clone()));
            }
            mm_of_inches(feet.whole * 12.0 + inches.inches())
        }
        _ => return Err(not_a_length()),
    };
    if mm > most_mm {
        return Err(LengthError::TooLong);
    }
    Ok(mm)
}

/// Both ways to read a number whose only comma stands before three digits: `5,048`. In metres nobody means thousands.
fn comma_two_ways(text: &str) -> Option<(String, String)> {
    let (before, after) = text.split_once(',')?;
    let digits = |c: char| c.is_ascii_digit();
    let whole = before.len() - before.trim_end_matches(digits).len();
    let tail = after.trim_start_matches(digits);
    let metres = tail.trim().eq_ignore_ascii_case("m");
    let two_ways = (1..=3).contains(&whole)
        && after.len() - tail.len() == 3
        && !tail.starts_with([',', '.'])
        && before.trim_start().len() == whole
        && !before.trim_start().starts_with('0')
        && !metres;
    two_ways.then(|| {
        (
            format!("{before}{after}").trim().to_owned(),
            format!("{before}.{after}").trim().to_owned(),
        )
    })
}

/// The text with typographic marks and one-character fractions written plainly.
fn plain(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.trim().chars() {
        match c {
            '\u{2032}' | '\u{2018}' | '\u{2019}' => out.push('\''),
            '\u{2033}' | '\u{201c}' | '\u{201d}' => out.push('"'),
            '\u{2044}' => out.push('/'),
            '\u{2013}' | '\u{2011}' => out.push('-'),
            '\u{a0}' | '\u{2009}' | '\u{202f}' => out.push(' '),
            '\u{bd}' => out.push_str(" 1/2"),
            '\u{bc}' => out.push_str(" 1/4"),
            '\u{be}' => out.push_str(" 3/4"),
            '\u{215b}' => out.push_str(" 1/8"),
            '\u{215c}' => out.push_str(" 3/8"),
            '\u{215d}' => out.push_str(" 5/8"),
            '\u{215e}' => out.push_str(" 7/8"),
            ',' => out.push('.'),
            _ => out.extend(c.to_lowercase()),
        }
    }
    out
}

fn check_fraction(term: &Term) -> Result<(), LengthError> {
    let Some((n, d)) = term.fraction else {
        return Ok(());
    };
    if d == 0 {
        return Err(LengthError::OverZero);
    }
    if !matches!(d, 2 | 4 | 8 | 16 | 32 | 64) {
        return Err(LengthError::NotOnATape(format!("{n}/{d}")));
    }
    if n >= d {
        return Err(LengthError::ImproperFraction(format!("{n}/{d}")));
    }
    Ok(())
}

fn read_terms(text: &str) -> Option<Vec<Term>> {
    let mut rest = text.trim();
    let mut terms = Vec::new();
    while !rest.is_empty() {
        let (term, after) = read_term(rest)?;
        terms.push(term);
        if terms.len() > 2 {
            return None;
        }
        rest = after.trim_start();
        // A dash may stand between feet and inches.
        if let Some(after_dash) = rest.strip_prefix('-') {
            rest = after_dash.trim_start();
            if rest.is_empty() {
                return None;
            }
        }
    }
    Some(terms)
}

fn digits(text: &str) -> (&str, &str) {
    let end = text
        .find(|c: char| !c.is_ascii_digit())
        .unwrap_or(text.len());
    text.split_at(end)
}

fn read_term(text: &str) -> Option<(Term, &str)> {
    let (first, mut rest) = digits(text);
    if first.is_empty() && !rest.starts_with('.') {
        return None;
    }
    let mut term = Term {
        text: first.to_owned(),
        whole: 0.0,
        fraction: None,
        decimal: false,
        measure: None,
    };
    if let Some(after_slash) = rest.trim_start().strip_prefix('/') {
        let (below, after) = digits(after_slash.trim_start());
        term.fraction = Some((first.parse().ok()?, below.parse().ok()?));
        rest = after;
    } else if let Some(after_point) = rest.strip_prefix('.') {
        let (behind, after) = digits(after_point);
        if behind.is_empty() {
            return None;
        }
        term.whole = format!("0{first}.{behind}").parse().ok()?;
        term.decimal = true;
        rest = after;
    } else {
        term.whole = first.parse().ok()?;
        let gap = rest.trim_start_matches([' ', '-']);
        if gap.len() < rest.len() {
            let (above, after) = digits(gap);
            if let Some(after_slash) = after
                .trim_start()
                .strip_prefix('/')
                .filter(|_| !above.is_empty())
            {
                let (below, after) = digits(after_slash.trim_start());
                term.fraction = Some((above.parse().ok()?, below.parse().ok()?));
                rest = after;
            }
        }
    }
    let (measure, rest) = read_measure(rest)?;
    term.measure = measure;
    Some((term, rest))
}

fn read_measure(rest: &str) -> Option<(Option<Measure>, &str)> {
    let at = rest.trim_start();
    if let Some(after) = at.strip_prefix("''") {
        return Some((Some(Measure::Inches), after));
    }
    if let Some(after) = at.strip_prefix('\'') {
        return Some((Some(Measure::Feet), after));
    }
    if let Some(after) = at.strip_prefix('"') {
        return Some((Some(Measure::Inches), after));
    }
    let end = at.find(|c: char| !c.is_alphabetic()).unwrap_or(at.len());
    let (word, after) = at.split_at(end);
    let after = after.strip_prefix('.').unwrap_or(after);
    let measure = match word {
        "" => return Some((None, rest)),
        "ft" | "feet" | "foot" => Measure::Feet,
        "in" | "inch" | "inches" => Measure::Inches,
        "mm" => Measure::Metric(1_000),
        "cm" => Measure::Metric(10_000),
        "m" => Measure::Metric(1_000_000),
        "km" => Measure::Metric(1_000_000_000),
        _ => return None,
    };
    Some((Some(measure), after))
}

/// A length as it is printed: the words a tape gives, and what the rounding left over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Length {
    /// The printed value in mm: what the text says, exactly.
    pub mm: f64,
    /// As a tape reads: `27 3/4`, `16' 2`, `706 mm`.
    pub text: String,
    /// Exact value less printed value, mm.
    pub remainder_mm: f64,
}

/// Rounds to the nearest whole number, halves to even. Values within a millionth of a half count as halves, so that an
/// exact half of a mark is not tipped over by the last bit of a division.
fn round_half_even(value: f64) -> i64 {
    let floor = value.floor();
    let part = value - floor;
    let floor = floor as i64;
    if (part - 0.5).abs() < 1e-6 {
        floor + (floor & 1)
    } else if part < 0.5 {
        floor
    } else {
        floor + 1
    }
}

/// Prints `mm` in the job's unit, rounded half to even at its smallest mark.
///
/// ```
/// use windrift_core::ground::tape::{Unit, print};
/// assert_eq!(print(27.75 * 25.4, Unit::InchSixteenth).text, "27 3/4");
/// assert_eq!(print(194.0 * 25.4, Unit::InchSixteenth).text, "16' 2");
/// assert_eq!(print(705.6, Unit::Millimetre).text, "706 mm");
/// ```
pub fn print(mm: f64, unit: Unit) -> Length {
    match unit.denominator() {
        Some(denominator) => print_over(mm, denominator),
        None => {
            let whole = round_half_even(mm);
            Length {
                mm: whole as f64,
                text: format!("{} mm", sign(whole)),
                remainder_mm: mm - whole as f64,
            }
        }
    }
}

/// Prints a small move of a tape: inches to 1/32 or half millimetres, without a sign.
pub fn print_move(mm: f64, unit: Unit) -> Length {
    match unit.denominator() {
        Some(_) => print_over(mm.abs(), 32),
        None => {
            let halves = round_half_even(mm.abs() * 2.0);
            let text = if halves % 2 == 0 {
                format!("{} mm", halves / 2)
            } else {
                format!("{}.5 mm", halves / 2)
            };
            let shown = halves as f64 / 2.0;
            Length {
                mm: shown,
                text,
                remainder_mm: mm.abs() - shown,
            }
        }
    }
}

/// Prints a very small move, to 1/64 in, without a sign.
pub fn print_sixty_fourths(mm: f64) -> Length {
    print_over(mm.abs(), 64)
}

fn sign(whole: i64) -> String {
    if whole < 0 {
        format!("\u{2212}{}", -whole)
    } else {
        whole.to_string()
    }
}

fn print_over(mm: f64, denominator: i64) -> Length {
    // 25.4 = 127 / 5: multiplied out so that marks stay whole numbers as long as possible.
    let marks = round_half_even(mm * (5 * denominator) as f64 / 127.0);
    let shown = marks as f64 * 127.0 / (5 * denominator) as f64;
    let (inches, over) = (marks.abs() / denominator, marks.abs() % denominator);
    let mut text = String::new();
    if marks < 0 {
        text.push('\u{2212}');
    }
    let rest = if inches >= FEET_FROM_INCHES {
        text.push_str(&format!("{}' ", inches / 12));
        inches % 12
    } else {
        inches
    };
    if over == 0 {
        text.push_str(&rest.to_string());
    } else {
        let shared = greatest_common_divisor(over, denominator);
        if rest > 0 || inches >= FEET_FROM_INCHES {
            text.push_str(&format!("{rest} "));
        }
        text.push_str(&format!("{}/{}", over / shared, denominator / shared));
    }
    Length {
        mm: shown,
        text,
        remainder_mm: mm - shown,
    }
}

fn greatest_common_divisor(a: i64, b: i64) -> i64 {
    if b == 0 {
        a
    } else {
        greatest_common_divisor(b, a % b)
    }
}

/// One mark of a chain: where it is and how far it is from the mark before it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChainMark {
    /// What the mark is, in words: `front edge`, `first letter`.
    pub name: String,
    /// Running distance from the zero of the tape, printed.
    pub running: Length,
    /// Distance from the mark before it, printed; zero at the first.
    pub gap: Length,
}

/// A chain of running distances that closes on paper: the running distances are rounded, and every gap is the difference of
/// the two rounded figures, so that the printed gaps add up to the printed total.
///
/// `marks` are (name, running distance in mm); they are put in order of distance.
pub fn chain(mut marks: Vec<(String, f64)>, unit: Unit) -> Vec<ChainMark> {
    marks.sort_by(|a, b| a.1.total_cmp(&b.1));
    let mut before: Option<f64> = None;
    marks
        .into_iter()
        .map(|(name, mm)| {
            let running = print(mm, unit);
            let gap = print(before.map_or(0.0, |b| running.mm - b), unit);
            before = Some(running.mm);
            ChainMark { name, running, gap }
        })
        .collect()
}
