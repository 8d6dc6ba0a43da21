//! Lettering: from text and a typeface to film outlines in mm, line by line and layer by layer.
//!
//! The piece's own frame: x to the right from the film's left end, y down from the **cap line** of the first line (the top of a
//! capital H), so that the first baseline is at y = capital height.

mod layers;
mod set;

use std::sync::Arc;

use kurbo::{Affine, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::drawn::Drawn;
use crate::regulated::Regulation;
use crate::typeface::{StraightEdge, Typeface, Typefaces};
use set::{Block, Setting};

/// Longest line of lettering, in characters.
pub const LONGEST_LINE: usize = 120;
/// Most lines of one piece.
pub const MOST_LINES: usize = 12;
/// Smallest and largest capital height, mm. Below it nothing can be weeded; above it no vehicle is tall enough.
pub const CAPITAL_HEIGHT_MM: std::ops::RangeInclusive<f64> = 5.0..=3000.0;
/// Most points that the outlines of one piece of lettering may have: some 300 letters with an outline and a shadow.
pub const MOST_POINTS: usize = 60_000;
/// Longest line of lettering, mm.
pub const LONGEST_MM: f64 = 30_480.0;
/// Widest outline and farthest shadow, mm.
const WIDEST_LAYER_MM: f64 = 300.0;

/// What drives the size of lettering.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case")]
pub enum Size {
    /// Height of a capital H above the baseline.
    CapitalHeight {
        /// Height in mm.
        height_mm: f64,
    },
    /// Height of a small x above the baseline.
    XHeight {
        /// Height in mm.
        height_mm: f64,
    },
    /// Width of the widest line's letters from end to end, before they are bent or outlined.
    OverallWidth {
        /// Width in mm.
        width_mm: f64,
    },
}

/// How letters are spaced.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Spacing {
    /// Each letter's own width, nothing else.
    AsDrawn,
    /// As the typeface asks, pair by pair.
    #[default]
    Kerned,
    /// Equal area between neighbours: that between two capital H.
    Optical,
}

/// How lines stand under each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Align {
    /// Left ends under each other.
    #[default]
    Left,
    /// Middles under each other.
    Centre,
    /// Right ends under each other.
    Right,
}

/// Letters on a circle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Arch {
    /// Radius of the first baseline, mm.
    pub radius_mm: f64,
    /// Which way it bends.
    pub bends: Bends,
}

/// Which way an arc bends.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Bends {
    /// Like a bridge: the middle is highest.
    Up,
    /// Like a bowl: the middle is lowest.
    Down,
}

/// An outline round the letters.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OutlineLayer {
    /// How far it stands out round the letters, mm.
    pub out_mm: f64,
    /// Colour of its film as `#rrggbb`.
    pub colour: String,
}

/// A drop shadow.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShadowLayer {
    /// To the picture's right, mm; less than 0 is to the left.
    pub right_mm: f64,
    /// Down, mm; less than 0 is up.
    pub down_mm: f64,
    /// Colour of its film as `#rrggbb`.
    pub colour: String,
}

/// Words in a second colour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SecondColour {
    /// The words or letters, as they stand in the text.
    pub words: String,
    /// Colour of their film as `#rrggbb`.
    pub colour: String,
}

/// Lettering as it is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lettering {
    /// The words; a line break begins a new line.
    pub text: String,
    /// Name of the typeface.
    pub typeface: String,
    /// What drives the size.
    pub size: Size,
    /// How letters are spaced.
    #[serde(default)]
    pub spacing: Spacing,
    /// Extra space between letters, per cent of the capital height.
    #[serde(default)]
    pub tracking_percent: f64,
    /// How lines stand under each other.
    #[serde(default)]
    pub align: Align,
    /// Baseline to baseline, per cent of the capital height.
    #[serde(default = "usual_leading")]
    pub leading_percent: f64,
    /// Letters on a circle.
    #[serde(default)]
    pub arch: Option<Arch>,
    /// Colour of the film as `#rrggbb`.
    pub colour: String,
    /// An outline round the letters.
    #[serde(default)]
    pub outline: Option<OutlineLayer>,
    /// A drop shadow.
    #[serde(default)]
    pub shadow: Option<ShadowLayer>,
    /// Words in a second colour.
    #[serde(default)]
    pub second: Option<SecondColour>,
    /// The rule that this lettering is to keep, where it is a regulated mark.
    #[serde(default)]
    pub regulated: Option<Regulation>,
}

/// Line space of 60 % of the letter height, in the middle of what changeable signs use (MUTCD 2L.04, from memory: 50 to 75 %).
fn usual_leading() -> f64 {
    160.0
}

impl Lettering {
    /// One plain line in capitals of a height.
    pub fn line(text: &str, typeface: &str, height_mm: f64) -> Lettering {
        Lettering {
            text: text.to_owned(),
            typeface: typeface.to_owned(),
            size: Size::CapitalHeight { height_mm },
            spacing: Spacing::default(),
            tracking_percent: 0.0,
            align: Align::default(),
            leading_percent: usual_leading(),
            arch: None,
            colour: "#14524d".to_owned(),
            outline: None,
            shadow: None,
            second: None,
            regulated: None,
        }
    }

    /// The words on one line, for lists.
    pub fn words(&self) -> String {
        self.text.split_whitespace().collect::<Vec<_>>().join(" ")
    }
}

/// Lettering that cannot be made. The text says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum LetteringError {
    /// Nothing to cut.
    #[error("There is nothing to cut. Type the words.")]
    NoText,
    /// Too many characters.
    #[error(
        "A line may have {LONGEST_LINE} characters; this one has {0}. Break it into lines or split it into several pieces."
    )]
    TooLong(usize),
    /// Too many lines.
    #[error("A piece may have {MOST_LINES} lines; this one has {0}. Split it into several pieces.")]
    TooManyLines(usize),
    /// Tabs and other characters that cannot be seen.
    #[error("The words hold a tab or another character that cannot be seen. Type them again.")]
    Unseen,
    /// No such typeface.
    #[error("Windrift has no typeface called \u{201c}{0}\u{201d}. Choose one from the list.")]
    NoTypeface(String),
    /// The typeface lacks characters.
    #[error("{name} has no {characters}. Choose another typeface or other words.")]
    Missing {
        /// Name of the face.
        name: String,
        /// The characters, quoted.
        characters: String,
    },
    /// Letters of an unusable size.
    #[error(
        "Capitals must be between 5 mm (3/16 in) and 3000 mm (9' 10) high; these would be {0:.0} mm."
    )]
    Size(f64),
    /// The colour is not one.
    #[error("The colour must be written as # and six figures, such as #14524d.")]
    Colour,
    /// Tracking or leading out of range.
    #[error(
        "{what} must be between {least} and {most} % of the capital height; this is {given:.0} %."
    )]
    Percent {
        /// Which of them.
        what: &'static str,
        /// What was given.
        given: f64,
        /// Least.
        least: f64,
        /// Most.
        most: f64,
    },
    /// The circle is too small for the words.
    #[error(
        "These words would go more than once round a circle of that radius. Give a radius of at least {least_mm:.0} mm ({least_inches:.1} in)."
    )]
    Arch {
        /// The smallest radius, mm.
        least_mm: f64,
        /// The same in inches.
        least_inches: f64,
    },
    /// An outline or a shadow of an unusable size.
    #[error(
        "{what} must be between {least} and 300 mm (11 13/16 in); this is {given:.1} mm. Give another width."
    )]
    Layer {
        /// Which of them.
        what: &'static str,
        /// The least.
        least: &'static str,
        /// What was given.
        given: f64,
    },
    /// The second colour is for words that are not there.
    #[error(
        "\u{201c}{0}\u{201d} is not among the words, so nothing can have the second colour. Type the letters as they stand in the text."
    )]
    NotAmongWords(String),
    /// More outline than can be worked with at once.
    #[error(
        "These letters have {0} points in their outlines; {MOST_POINTS} is the most for one piece. Use fewer letters in it, or a plainer typeface."
    )]
    TooFine(usize),
}

type LetteringResult = Result<Arc<Drawn>, LetteringError>;

/// Draws lettering at its size, in one of the typefaces given.
///
/// Errors: text that cannot be set, a face that lacks characters, a size outside [`CAPITAL_HEIGHT_MM`], an arc or a layer that
/// cannot be made.
pub fn draw(lettering: &Lettering, typefaces: &Typefaces) -> LetteringResult {
    let face = check(lettering, typefaces)?;
    typefaces.drawn(format!("{lettering:?}"), || draw_anew(lettering, face))
}

fn draw_anew(lettering: &Lettering, face: &Typeface) -> Result<Drawn, LetteringError> {
    let second = lettering.second.as_ref().map_or("", |s| s.words.as_str());
    let mut setting = Setting {
        face,
        text: &lettering.text,
        spacing: lettering.spacing,
        tracking: lettering.tracking_percent / 100.0,
        align: lettering.align,
        leading: lettering.leading_percent / 100.0,
        word_gap: lettering
            .regulated
            .as_ref()
            .and_then(|r| r.word_gap(face, &lettering.text)),
        radius: None,
        second,
    };
    let mut block = set::set(&setting);
    let width = block.bounds.width();
    if width <= 0.0 {
        return Err(LetteringError::NoText);
    }
    let points: usize = (block.parts.iter())
        .flat_map(|p| &p.shapes)
        .flat_map(|s| &s.contours)
        .map(Vec::len)
        .sum();
    // Each layer is drawn, and the film of all of them together.
    let layers =
        1 + usize::from(lettering.outline.is_some()) + 2 * usize::from(lettering.shadow.is_some());
    if points * layers > MOST_POINTS {
        return Err(LetteringError::TooFine(points * layers));
    }
    let scale = match lettering.size {
        Size::CapitalHeight { height_mm } => height_mm / face.capital_height,
        Size::XHeight { height_mm } => height_mm / face.x_height,
        Size::OverallWidth { width_mm } => width_mm / width,
    };
    let capital_height_mm = face.capital_height * scale;
    if !capital_height_mm.is_finite()
        || !CAPITAL_HEIGHT_MM.contains(&capital_height_mm)
        || width * scale > LONGEST_MM
    {
        return Err(LetteringError::Size(capital_height_mm));
    }
    let lines = lettering.text.split('\n').count();
    let depth = (lines - 1) as f64 * setting.leading * face.capital_height;
    if let Some(arch) = lettering.arch {
        // Letters may go three quarters round, and their feet must not meet at the middle.
        let least = (width / (1.5 * std::f64::consts::PI)).max(face.capital_height) + depth;
        let radius = arch.radius_mm / scale;
        // Also refuses what is not a number.
        if !(radius >= least && radius.is_finite()) {
            let least_mm = least * scale;
            return Err(LetteringError::Arch {
                least_mm: least_mm.ceil(),
                least_inches: least_mm / 25.4,
            });
        }
        setting.radius = Some(match arch.bends {
            Bends::Up => radius,
            Bends::Down => -radius,
        });
        block = set::set(&setting);
    }
    Ok(finish(
        lettering,
        &block,
        scale,
        capital_height_mm,
        depth * scale,
    ))
}

fn finish(lettering: &Lettering, block: &Block, scale: f64, cap: f64, depth: f64) -> Drawn {
    let to_piece = Affine::translate(Vec2::new(0.0, cap))
        * Affine::scale(scale)
        * Affine::translate(Vec2::new(-block.bounds.x0, 0.0));
    let parts: Vec<_> = block
        .parts
        .iter()
        .map(|p| p.transformed(to_piece))
        .collect();
    let straight: Vec<_> = block
        .straight
        .iter()
        .map(|(part, e)| {
            let edge = StraightEdge {
                from: to_piece * e.from,
                to: to_piece * e.to,
            };
            (*part, edge)
        })
        .collect();
    let baseline = cap + depth;
    if lettering.outline.is_none() && lettering.shadow.is_none() && lettering.second.is_none() {
        let mut drawn = Drawn::plain(parts, straight, cap, baseline, &lettering.colour);
        drawn.has_letters = true;
        drawn.hull = block.hull.iter().map(|p| to_piece * *p).collect();
        return drawn;
    }
    let mut drawn = layers::build(lettering, parts, &block.second, straight, cap, baseline);
    drawn.has_letters = true;
    drawn
}

fn check<'t>(
    lettering: &Lettering,
    typefaces: &'t Typefaces,
) -> Result<&'t Typeface, LetteringError> {
    let text = &lettering.text;
    if text.trim().is_empty() {
        return Err(LetteringError::NoText);
    }
    let longest = text
        .split('\n')
        .map(|l| l.chars().count())
        .max()
        .unwrap_or(0);
    if longest > LONGEST_LINE {
        return Err(LetteringError::TooLong(longest));
    }
    let lines = text.split('\n').count();
    if lines > MOST_LINES {
        return Err(LetteringError::TooManyLines(lines));
    }
    if text.chars().any(|c| c.is_control() && c != '\n') {
        return Err(LetteringError::Unseen);
    }
    let colours = [
        Some(&lettering.colour),
        lettering.outline.as_ref().map(|o| &o.colour),
        lettering.shadow.as_ref().map(|s| &s.colour),
        lettering.second.as_ref().map(|s| &s.colour),
    ];
    if !colours.into_iter().flatten().all(|c| is_colour(c)) {
        return Err(LetteringError::Colour);
    }
    percent(
        "Extra space between letters",
        lettering.tracking_percent,
        -15.0,
        200.0,
    )?;
    percent("Line to line", lettering.leading_percent, 80.0, 500.0)?;
    check_layers(lettering)?;
    let face = typefaces
        .find(&lettering.typeface)
        .ok_or_else(|| LetteringError::NoTypeface(lettering.typeface.chars().take(40).collect()))?;
    let missing = face.missing(&text.replace('\n', ""));
    if !missing.is_empty() {
        let characters = missing
            .iter()
            .take(8)
            .map(|c| format!("\u{201c}{c}\u{201d}"))
            .collect::<Vec<_>>()
            .join(", ");
        return Err(LetteringError::Missing {
            name: face.info.name.to_string(),
            characters,
        });
    }
    Ok(face)
}

fn check_layers(lettering: &Lettering) -> Result<(), LetteringError> {
    let fits = |what, least, given: f64, range: std::ops::RangeInclusive<f64>| {
        if range.contains(&given) {
            Ok(())
        } else {
            Err(LetteringError::Layer { what, least, given })
        }
    };
    if let Some(outline) = &lettering.outline {
        fits("The outline", "0.5", outline.out_mm, 0.5..=WIDEST_LAYER_MM)?;
    }
    if let Some(shadow) = &lettering.shadow {
        fits(
            "The shadow",
            "-300",
            shadow.right_mm,
            -WIDEST_LAYER_MM..=WIDEST_LAYER_MM,
        )?;
        fits(
            "The shadow",
            "-300",
            shadow.down_mm,
            -WIDEST_LAYER_MM..=WIDEST_LAYER_MM,
        )?;
    }
    match &lettering.second {
        Some(second)
            if second.words.trim().is_empty() || !lettering.text.contains(&second.words) =>
        {
            Err(LetteringError::NotAmongWords(second.words.clone()))
        }
        _ => Ok(()),
    }
}

fn percent(what: &'static str, given: f64, least: f64, most: f64) -> Result<(), LetteringError> {
    if (least..=most).contains(&given) {
        Ok(())
    } else {
        Err(LetteringError::Percent {
            what,
            given,
            least,
            most,
        })
    }
}

/// Whether a colour is written as `#rrggbb`.
pub fn is_colour(text: &str) -> bool {
    let hex = text.strip_prefix('#').unwrap_or_default();
    hex.len() == 6 && hex.chars().all(|c| c.is_ascii_hexdigit())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(text: &str, typeface: &str, size: Size) -> LetteringResult {
        draw(
            &Lettering {
                size,
                ..Lettering::line(text, typeface, 1.0)
            },
            &Typefaces::default(),
        )
    }

    #[test]
    fn size_is_what_was_asked_for() {
        let tall = line(
            "HAVEN",
            "archivo-black",
            Size::CapitalHeight { height_mm: 305.0 },
        );
        assert!(
            tall.is_ok_and(|l| (l.bounds.height() - 305.0).abs() < 0.1 && l.bounds.x0.abs() < 1e-9)
        );
        let wide = line(
            "Tern Haven",
            "pacifico",
            Size::OverallWidth { width_mm: 1800.0 },
        );
        assert!(wide.is_ok_and(|l| (l.bounds.width() - 1800.0).abs() < 1e-6));
        let small = line("x", "bitter", Size::XHeight { height_mm: 120.0 });
        assert!(small.is_ok_and(|l| (l.bounds.height() - 120.0).abs() < 0.5));
    }

    #[test]
    fn script_letters_are_welded_and_block_letters_are_not() {
        let size = Size::CapitalHeight { height_mm: 200.0 };
        let block = line("TIDEWAY", "archivo-black", size).map(|l| l.parts.len());
        assert_eq!(block, Ok(7));
        let script = line("library", "pacifico", size)
            .map(|l| l.parts.iter().map(|p| p.label.clone()).collect::<Vec<_>>());
        assert!(script.is_ok_and(|parts| parts.len() < 7 && parts.concat() == "library"));
    }

    #[test]
    fn what_cannot_be_cut_is_refused_in_words() {
        let size = Size::CapitalHeight { height_mm: 200.0 };
        let error = |text: &str| line(text, "oswald", size).err();
        assert_eq!(error("  "), Some(LetteringError::NoText));
        assert_eq!(error("A\tB"), Some(LetteringError::Unseen));
        assert_eq!(
            error(&"A".repeat(5000)),
            Some(LetteringError::TooLong(5000))
        );
        assert_eq!(
            error(&"A\n".repeat(13)),
            Some(LetteringError::TooManyLines(14))
        );
        assert_eq!(
            error("Caf\u{4e2d}").map(|e| e.to_string()).as_deref(),
            Some(
                "Oswald Bold has no \u{201c}\u{4e2d}\u{201d}. Choose another typeface or other words."
            )
        );
        for height_mm in [0.0, -4.0, f64::NAN, 1e9] {
            assert!(matches!(
                line("A", "oswald", Size::CapitalHeight { height_mm }).err(),
                Some(LetteringError::Size(_))
            ));
        }
    }

    #[test]
    fn a_circle_that_is_too_small_says_how_large_it_must_be() {
        let bent = |radius_mm| {
            draw(
                &Lettering {
                    arch: Some(Arch {
                        radius_mm,
                        bends: Bends::Up,
                    }),
                    ..Lettering::line("HARBOUR LIBRARY", "oswald", 100.0)
                },
                &Typefaces::default(),
            )
        };
        let Err(LetteringError::Arch { least_mm, .. }) = bent(40.0) else {
            unreachable!("40 mm is too small");
        };
        assert!(bent(least_mm).is_ok());
    }

    #[test]
    fn a_second_colour_needs_words_that_are_there() {
        let second = |words: &str| Lettering {
            second: Some(SecondColour {
                words: words.into(),
                colour: "#8c1d18".into(),
            }),
            ..Lettering::line("TERN HAVEN", "oswald", 100.0)
        };
        assert!(
            draw(&second("BAY"), &Typefaces::default())
                .is_err_and(|e| e.to_string().contains("not among the words"))
        );
        let drawn = draw(&second("HAVEN"), &Typefaces::default());
        let layers = drawn.map(|d| {
            d.layers
                .iter()
                .map(|l| (l.kind, l.shapes.len()))
                .collect::<Vec<_>>()
        });
        use crate::drawn::LayerKind::{Face, SecondColour as Second};
        assert_eq!(layers, Ok(vec![(Face, 4), (Second, 5)]));
    }
}
