//! Regulated marks that lay themselves out and check themselves: small-craft numbers, vessel names, carrier marks.
//!
//! The figures are from memory of the published rules and are shown so: check them against the text in force. The operator and the
//! competent authority have the last word.

use serde::{Deserialize, Serialize};

use crate::drawn::{Drawn, Part};
use crate::elevation::MeasuredSide;
use crate::legibility::MUTCD_RATIO;
use crate::lettering::Lettering;
use crate::outline::bounds_of_shapes;
use crate::placement::{Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Placed, Rules};
use crate::plan::{Art, Piece};
use crate::side::SideKind;
use crate::tape::{Unit, print};
use crate::typeface::{Typeface, Typefaces};

/// Least height of a small-craft number, mm: 3 in (33 CFR 173.27(a)(2)).
pub const BOAT_NUMBER_MM: f64 = 76.2;
/// Least height of a documented vessel's name and hailing port, mm: 4 in (46 CFR 67.123(d)).
pub const VESSEL_NAME_MM: f64 = 101.6;
/// Distance at which a carrier's marks are to be legible, mm: 50 ft (49 CFR 390.21(c)(3)).
pub const CARRIER_DISTANCE_MM: f64 = 15_240.0;
/// Contrast ratio that stands for "contrasts sharply" (ours: no rule gives one; 4.5 is what WCAG 2 asks of body text).
pub const CONTRAST: f64 = 4.5;
/// Drawn and asked heights may differ by this, mm.
const SLACK_MM: f64 = 0.05;

/// Which rule a piece of lettering is to keep.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Regulation {
    /// A small craft's number (33 CFR 173.27).
    BoatNumber,
    /// A documented pleasure vessel's name and hailing port (46 CFR 67.123).
    VesselName,
    /// A carrier's name and number (49 CFR 390.21).
    CarrierMark,
}

/// How a clause is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Kept {
    /// It is kept.
    Yes,
    /// It is not.
    No,
    /// The plan does not tell.
    CannotTell,
}

/// One clause, checked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Which clause: `33 CFR 173.27(a)(2)`.
    pub clause: String,
    /// What it asks, in our words.
    pub asks: String,
    /// What was measured.
    pub measured: String,
    /// Whether it is kept.
    pub kept: Kept,
}

impl Regulation {
    /// Film gap between groups, in font units, where the rule asks for one: as wide as the widest letter or digit of the number
    /// other than I and 1 (33 CFR 173.27(a)(4)).
    pub fn word_gap(&self, face: &Typeface, text: &str) -> Option<f64> {
        match self {
            Regulation::BoatNumber => letter_widths(face, text).into_iter().reduce(f64::max),
            Regulation::VesselName | Regulation::CarrierMark => None,
        }
    }

    /// What the mark is called.
    pub fn name(self) -> &'static str {
        match self {
            Regulation::BoatNumber => "small-craft number",
            Regulation::VesselName => "vessel name and hailing port",
            Regulation::CarrierMark => "carrier name and number",
        }
    }
}

/// Film widths of the letters and digits other than I and 1, font units.
fn letter_widths(face: &Typeface, text: &str) -> Vec<f64> {
    text.chars()
        .filter(|c| c.is_alphanumeric() && !matches!(c, 'I' | '1'))
        .filter_map(|c| face.glyph_of(c))
        .map(|g| bounds_of_shapes(&face.drawing(g).shapes).width())
        .filter(|w| *w > 0.0)
        .collect()
}

/// What the check may know beside the piece itself.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Elsewhere {
    /// Whether the same mark is on the side that mirrors this one; `None` where the job has no such side.
    pub on_other_side: Option<bool>,
}

/// Lays a regulated mark out for a side: its words, its size and its place.
pub fn lay_out(regulation: Regulation, words: &str, side: &MeasuredSide) -> Piece {
    let text = match regulation {
        Regulation::BoatNumber => words.to_uppercase().replace('-', " "),
        Regulation::VesselName | Regulation::CarrierMark => words.to_owned(),
    };
    let (face, least) = match regulation {
        Regulation::BoatNumber => ("archivo-black", BOAT_NUMBER_MM),
        Regulation::VesselName => ("archivo-black", VESSEL_NAME_MM),
        Regulation::CarrierMark => ("barlow-condensed", CARRIER_DISTANCE_MM / MUTCD_RATIO),
    };
    // Up to the next eighth of an inch over what is asked, the shortest letter counted.
    let eighth = 25.4 / 8.0;
    let shortest = Typefaces::default()
        .find(face)
        .map_or(1.0, |f| shortest_share(f, &text));
    let height = (least / shortest / eighth).ceil() * eighth;
    let lettering = Lettering {
        colour: match side.side.colour.as_deref().and_then(luminance) {
            Some(body) if body < 0.18 => "#f4f1e6".to_owned(),
            _ => "#1a1a1a".to_owned(),
        },
        regulated: Some(regulation),
        ..Lettering::line(&text, face, height)
    };
    let down = (side.outline.bounds.height() * 0.3).max(25.4);
    let to = if side.side.direction() > 0.0 {
        LetterEnd::FirstLetter
    } else {
        LetterEnd::LastLetter
    };
    let share = match regulation {
        Regulation::BoatNumber => 0.08,
        Regulation::VesselName | Regulation::CarrierMark => 0.1,
    };
    Piece::new(
        Art::Lettering(lettering),
        PlaceRule::Rules(Rules {
            reference: None,
            along: Along::FromFront {
                distance_mm: round_to(side.datum.length_mm * share, eighth),
                to,
            },
            down: Down::FromDatum {
                distance_mm: round_to(down, eighth),
                to: DownTo::CapLine,
            },
            angle: Angle::AlongDatum,
        }),
    )
}

fn round_to(mm: f64, step: f64) -> f64 {
    (mm / step).round() * step
}

/// Height of the shortest letter or digit over that of a capital H.
fn shortest_share(face: &Typeface, text: &str) -> f64 {
    text.chars()
        .filter(|c| c.is_alphanumeric())
        .filter_map(|c| face.glyph_of(c))
        .map(|g| bounds_of_shapes(&face.drawing(g).shapes).height() / face.capital_height)
        .fold(1.0, f64::min)
}

/// Checks a regulated mark clause by clause. `face` is the typeface that it is cut in.
#[allow(clippy::too_many_arguments)]
pub fn check(
    regulation: Regulation,
    lettering: &Lettering,
    face: Option<&Typeface>,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    match regulation {
        Regulation::BoatNumber => {
            boat_number(lettering, face, drawn, placed, side, elsewhere, unit)
        }
        Regulation::VesselName => vessel_name(lettering, drawn, side, unit),
        Regulation::CarrierMark => carrier_mark(lettering, drawn, side, elsewhere, unit),
    }
}

fn finding(clause: &str, asks: &str, measured: String, kept: Option<bool>) -> Finding {
    Finding {
        clause: clause.to_owned(),
        asks: asks.to_owned(),
        measured,
        kept: match kept {
            Some(true) => Kept::Yes,
            Some(false) => Kept::No,
            None => Kept::CannotTell,
        },
    }
}

/// Least height of a letter or digit, mm; marks such as full stops and hyphens do not count.
fn least_height(drawn: &Drawn) -> f64 {
    drawn
        .parts
        .iter()
        .filter(|p| p.label.chars().all(char::is_alphanumeric))
        .map(|p| p.bounds.height())
        .fold(f64::INFINITY, f64::min)
}

fn height(clause: &str, asks: &str, drawn: &Drawn, least: f64, unit: Unit) -> Finding {
    let found = least_height(drawn);
    let kept = found.is_finite().then_some(found >= least - SLACK_MM);
    finding(
        clause,
        asks,
        format!("shortest letter {}", print(found.min(1e6), unit).text),
        kept,
    )
}

fn contrast_finding(clause: &str, lettering: &Lettering, side: &MeasuredSide) -> Finding {
    let asks = "Contrasts with the background. No rule gives a ratio: Windrift's own stand-in is 4.5 to 1.";
    let ratio = side
        .side
        .colour
        .as_deref()
        .and_then(|body| contrast(&lettering.colour, body));
    match ratio {
        Some(ratio) => finding(
            clause,
            asks,
            format!("{ratio:.1} to 1"),
            Some(ratio >= CONTRAST),
        ),
        None => finding(
            clause,
            asks,
            "the colour of this side is not known; give it under Look over".into(),
            None,
        ),
    }
}

fn other_side(clause: &str, asks: &str, elsewhere: Elsewhere) -> Finding {
    let measured = match elsewhere.on_other_side {
        Some(true) => "the same mark is on the other side",
        Some(false) => "it is not on the other side yet",
        None => "this job has no other side yet",
    };
    finding(clause, asks, measured.into(), elsewhere.on_other_side)
}

fn boat_number(
    lettering: &Lettering,
    face: Option<&Typeface>,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    let half = side.datum.length_mm / 2.0;
    let on_a_side = matches!(
        side.side.kind,
        SideKind::Left | SideKind::Right | SideKind::Port | SideKind::Starboard
    );
    let block = face.and_then(|f| f.info.block);
    let straight = lettering.arch.is_none();
    let gaps = group_gaps(lettering, drawn);
    let scale = face.map_or(1.0, |f| drawn.capital_height_mm / f.capital_height);
    let widths: Vec<f64> = face
        .map_or(Vec::new(), |f| letter_widths(f, &lettering.text))
        .iter()
        .map(|w| w * scale)
        .collect();
    let (narrow, wide) = widths
        .iter()
        .fold((f64::INFINITY, 0.0_f64), |(a, b), w| (a.min(*w), b.max(*w)));
    let printed = |mm: f64| print(mm, unit).text;
    let gaps_kept = (!gaps.is_empty() && narrow.is_finite())
        .then(|| gaps.iter().all(|g| (narrow - 0.5..=wide + 0.5).contains(g)));
    let groups = lettering.text.split_whitespace().collect::<Vec<_>>();
    let formed = match groups.as_slice() {
        [state, number, suffix] => {
            state.chars().all(char::is_alphabetic)
                && number.chars().all(|c| c.is_ascii_digit())
                && suffix.chars().all(char::is_alphabetic)
        }
        _ => false,
    };
    vec![
        finding(
            "33 CFR 173.27(a)(1)",
            "On each side of the forward half of the vessel.",
            format!(
                "reaches {} back; the forward half ends at {}",
                printed(placed.back_mm.1),
                printed(half)
            ),
            Some(on_a_side && placed.back_mm.1 <= half + SLACK_MM),
        ),
        other_side("33 CFR 173.27(a)(1)", "On both sides.", elsewhere),
        height(
            "33 CFR 173.27(a)(2)",
            "Characters at least 3 in (76.2 mm) high.",
            drawn,
            BOAT_NUMBER_MM,
            unit,
        ),
        finding(
            "33 CFR 173.27(a)(2)",
            "Plain vertical block characters: no serifs, slant or script.",
            match (face, block) {
                (Some(f), Some(true)) => format!(
                    "{} is a block face{}",
                    f.info.name,
                    if straight { "" } else { ", but it is bent" }
                ),
                (Some(f), Some(false)) => format!("{} is not a block face", f.info.name),
                _ => "whether this typeface is a block face is not known".into(),
            },
            block.map(|b| b && straight),
        ),
        contrast_finding("33 CFR 173.27(a)(3)", lettering, side),
        finding(
            "33 CFR 173.27(a)(4)",
            "Gaps between the groups as wide as a letter other than I or a digit other than 1.",
            if gaps.is_empty() {
                "there is one group only".into()
            } else {
                format!(
                    "{} between groups; letters are {} to {} wide",
                    gaps.iter()
                        .map(|g| printed(*g))
                        .collect::<Vec<_>>()
                        .join(" and "),
                    printed(narrow),
                    printed(wide)
                )
            },
            gaps_kept.or(Some(false)),
        ),
        finding(
            "33 CFR 173.27(a)(4)",
            "Letters, number, letters: as DC 5678 EF.",
            format!("{} groups", groups.len()),
            Some(formed),
        ),
        finding(
            "33 CFR 173.27(a)(5)",
            "Reads from left to right.",
            "lettering is never mirrored".into(),
            Some(true),
        ),
        finding(
            "33 CFR 173.35",
            "Validation sticker within 6 in (152 mm) of the number. Which side of it differs by state.",
            "not part of the plan: leave room for it".into(),
            None,
        ),
    ]
}

/// Clear gaps between the groups of a line, mm.
fn group_gaps(lettering: &Lettering, drawn: &Drawn) -> Vec<f64> {
    let mut letters = drawn.parts.iter().collect::<Vec<&Part>>();
    letters.sort_by(|a, b| a.bounds.x0.total_cmp(&b.bounds.x0));
    let mut gaps = Vec::new();
    let mut parts = letters.into_iter();
    let mut before: Option<f64> = None;
    for group in lettering.text.split_whitespace() {
        let mut left = group.chars().count();
        let mut first = true;
        while left > 0 {
            let Some(part) = parts.next() else {
                return gaps;
            };
            if first && let Some(end) = before {
                gaps.push(part.bounds.x0 - end);
            }
            first = false;
            before = Some(part.bounds.x1);
            left = left.saturating_sub(part.label.chars().count().max(1));
        }
    }
    gaps
}

fn vessel_name(
    lettering: &Lettering,
    drawn: &Drawn,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<Finding> {
    let lines = lettering
        .text
        .lines()
        .filter(|l| !l.trim().is_empty())
        .count();
    let port = lettering
        .text
        .lines()
        .filter(|l| !l.trim().is_empty())
        .nth(1)
        .unwrap_or_default();
    let latin = lettering
        .text
        .chars()
        .all(|c| c.is_whitespace() || c.is_ascii_alphanumeric() || "'.,&-".contains(c));
    vec![
        finding(
            "46 CFR 67.123(c)",
            "Name and hailing port together, on a clearly visible part of the hull.",
            format!("{lines} line{}", if lines == 1 { "" } else { "s" }),
            Some(lines >= 2),
        ),
        height(
            "46 CFR 67.123(d)",
            "Letters at least 4 in (101.6 mm) high.",
            drawn,
            VESSEL_NAME_MM,
            unit,
        ),
        finding(
            "46 CFR 67.123(d)",
            "Letters of the Latin alphabet, Arabic or Roman numerals.",
            if latin {
                "plain letters and digits".into()
            } else {
                "there are other characters".into()
            },
            Some(latin),
        ),
        finding(
            "46 CFR 67.119",
            "The hailing port names a place and its state or territory.",
            if port.is_empty() {
                "no hailing port on a second line".into()
            } else {
                format!("\u{201c}{port}\u{201d}")
            },
            if port.is_empty() {
                Some(false)
            } else if port.split_whitespace().count() >= 2 {
                Some(true)
            } else {
                Some(false)
            },
        ),
        contrast_finding("46 CFR 67.123(d), clearly legible", lettering, side),
    ]
}

fn carrier_mark(
    lettering: &Lettering,
    drawn: &Drawn,
    side: &MeasuredSide,
    elsewhere: Elsewhere,
    unit: Unit,
) -> Vec<Finding> {
    let number = lettering.text.split_whitespace().collect::<Vec<_>>();
    let at = number.iter().position(|w| w.eq_ignore_ascii_case("USDOT"));
    let followed = at
        .and_then(|n| number.get(n + 1))
        .is_some_and(|w| w.chars().all(|c| c.is_ascii_digit()));
    let named = at != Some(0) && !number.is_empty();
    let least = CARRIER_DISTANCE_MM / MUTCD_RATIO;
    vec![
        finding(
            "49 CFR 390.21(b)(1)",
            "The carrier's legal name or single trade name.",
            if named {
                "a name stands before the number".into()
            } else {
                "no name stands before the number".into()
            },
            Some(named),
        ),
        finding(
            "49 CFR 390.21(b)(2)",
            "The number, preceded by USDOT.",
            if followed {
                "USDOT and a number".into()
            } else {
                "no number after USDOT".into()
            },
            Some(followed),
        ),
        other_side(
            "49 CFR 390.21(c)(1)",
            "On both sides of the vehicle.",
            elsewhere,
        ),
        contrast_finding("49 CFR 390.21(c)(2)", lettering, side),
        height(
            "49 CFR 390.21(c)(3)",
            "Readily legible in daylight from 50 ft. The rule gives no height: 1 in for each 30 ft (MUTCD 2A.13) makes it 1.67 in (42.3 mm).",
            drawn,
            least,
            unit,
        ),
    ]
}

/// Relative luminance of a colour by WCAG 2: 0 is black, 1 white. `None` where it is not written as `#rrggbb`.
pub fn luminance(colour: &str) -> Option<f64> {
    let hex = colour.strip_prefix('#').filter(|h| h.len() == 6)?;
    let channel = |n: usize| -> Option<f64> {
        let value = f64::from(u8::from_str_radix(hex.get(2 * n..2 * n + 2)?, 16).ok()?) / 255.0;
        Some(if value <= 0.040_45 {
            value / 12.92
        } else {
            ((value + 0.055) / 1.055).powf(2.4)
        })
    };
    Some(0.2126 * channel(0)? + 0.7152 * channel(1)? + 0.0722 * channel(2)?)
}

/// Contrast ratio of two colours by WCAG 2, 1 to 21.
pub fn contrast(a: &str, b: &str) -> Option<f64> {
    let (a, b) = (luminance(a)?, luminance(b)?);
    Some((a.max(b) + 0.05) / (a.min(b) + 0.05))
}
