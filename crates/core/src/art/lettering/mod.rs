//! Lettering: from text and a typeface to film outlines in mm, line by line and layer by layer.
//!
//! The piece's own frame: x to the right from the film's left end, y down from the **cap line** of the first line (the top of a
//! capital H), so that the first baseline is at y = capital height.

mod check;
pub mod draw;
mod layers;
mod set;

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::art::drawn::FIRST_COLOUR;
use crate::art::drawn::LayerKind;
use crate::art::regulation::Regulation;
use crate::ground::mm::{Mm, SignedMm};

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
        height_mm: Mm,
    },
    /// Height of a small x above the baseline.
    XHeight {
        /// Height in mm.
        height_mm: Mm,
    },
    /// Width of the widest line's letters from end to end, before they are bent or outlined.
    OverallWidth {
        /// Width in mm.
        width_mm: Mm,
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
    pub radius_mm: Mm,
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
    pub out_mm: Mm,
    /// Colour of its film as `#rrggbb`.
    pub colour: String,
}

/// A drop shadow.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShadowLayer {
    /// To the picture's right, mm; less than 0 is to the left.
    pub right_mm: SignedMm,
    /// Down, mm; less than 0 is up.
    pub down_mm: SignedMm,
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
    /// Only this film of it: its layers are pieces of work of their own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub only: Option<LayerKind>,
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
            size: Size::CapitalHeight {
                height_mm: height_mm.into(),
            },
            spacing: Spacing::default(),
            tracking_percent: 0.0,
            align: Align::default(),
            leading_percent: usual_leading(),
            arch: None,
            colour: FIRST_COLOUR.to_owned(),
            outline: None,
            shadow: None,
            second: None,
            only: None,
            regulated: None,
        }
    }

    /// The films that it is cut from, the one that goes on first first.
    pub fn layers(&self) -> Vec<LayerKind> {
        let there = [
            (LayerKind::Shadow, self.shadow.is_some()),
            (LayerKind::Outline, self.outline.is_some()),
            (LayerKind::Face, true),
            (LayerKind::SecondColour, self.second.is_some()),
        ];
        let present = there.into_iter().filter(|(_, there)| *there);
        present.map(|(kind, _)| kind).collect()
    }

    /// As its rule has it, whatever was typed: a small-craft number is in capitals (33 CFR 173.27(a)(1), from memory: vertical block
    /// letters and Arabic numerals).
    ///
    /// ```
    /// # use windrift_core::art::{lettering::Lettering, regulation::Regulation};
    /// let mut number = Lettering { regulated: Some(Regulation::BoatNumber), ..Lettering::line("oy 4471 kb", "archivo-black", 80.0) };
    /// number.keep_to_rule();
    /// assert_eq!(number.text, "OY 4471 KB");
    /// ```
    pub fn keep_to_rule(&mut self) {
        if self.regulated == Some(Regulation::BoatNumber) {
            self.text = self.text.to_uppercase();
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
