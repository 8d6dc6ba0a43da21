//! A rule as it is said across the shop: one sentence whose figures and choices stand where a fitter would say them.
//!
//! The same parts are the fields of the screen, the plain text that is read out, and what is printed. Every rule is said this way: for a
//! place, a feature, a stripe, a kit piece, a print, the marking of a face.

use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::ground::tape::{Unit, print};

/// A word that can stand in place of another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Offered {
    /// What is kept when it is chosen.
    pub value: Value,
    /// The words.
    pub text: String,
}

/// Words that open: what is kept, and what is said of it.
pub fn offered<V: Into<Value>, T: Into<String>>(
    all: impl IntoIterator<Item = (V, T)>,
) -> Vec<Offered> {
    let offer = |(value, text): (V, T)| Offered {
        value: value.into(),
        text: text.into(),
    };
    all.into_iter().map(offer).collect()
}

/// A name as the beginning of a field's own.
pub fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters
        .next()
        .map_or_else(String::new, |c| c.to_uppercase().chain(letters).collect())
}

/// A part of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "part", rename_all = "snake_case")]
pub enum Said {
    /// Words that only join.
    Words {
        /// The words.
        text: String,
    },
    /// A length that is typed; where it stands in what is edited.
    Length {
        /// Path of the field: `/place/along/distance_mm`.
        at: String,
        /// As the tape shows it; nothing where nothing is given.
        text: String,
        /// What the field is called. Empty where the screen has its own word for it.
        #[serde(default)]
        label: String,
        /// What is said where nothing is given; empty where something must be.
        #[serde(default)]
        without: String,
    },
    /// A number that is typed.
    Number {
        /// Path of the field.
        at: String,
        /// As it is written.
        text: String,
        /// What the field is called. Empty where the screen has its own word for it.
        #[serde(default)]
        label: String,
        /// Whether it counts: no fractions.
        #[serde(default)]
        whole: bool,
    },
    /// Words that open into others; what they choose.
    Choice {
        /// Path of what is chosen: `/place/along/to`, or the rule itself: `/place/along`.
        at: String,
        /// The words that stand.
        text: String,
        /// What is chosen. Empty where the screen has its own word for it.
        #[serde(default)]
        label: String,
        /// What it can be. Empty where the screen knows what is there to choose from.
        #[serde(default)]
        options: Vec<Offered>,
    },
}

impl Said {
    fn text(&self) -> &str {
        match self {
            Said::Length { text, without, .. } if text.is_empty() => without,
            Said::Words { text }
            | Said::Length { text, .. }
            | Said::Number { text, .. }
            | Said::Choice { text, .. } => text,
        }
    }
}

/// A sentence without its fields, as it is spoken and printed.
///
/// ```
/// # use windrift_core::ground::{said::{Saying, plainly}, tape::Unit};
/// let mut said = Saying::new(Unit::InchSixteenth);
/// said.words("It hangs").length("/place/down/distance_mm", 704.85, "Down").words("below the rail,");
/// said.choice("/place/angle", "level").words(".");
/// assert_eq!(plainly(&said.done()), "It hangs 27 3/4 below the rail, level.");
/// ```
pub fn plainly(said: &[Said]) -> String {
    let mut plain = String::new();
    for part in said {
        let text = part.text();
        if !plain.is_empty() && !text.starts_with([',', '.', ';']) {
            plain.push(' ');
        }
        plain.push_str(text);
    }
    plain
}

/// A sentence under way, its lengths in one unit.
#[derive(Debug, Clone)]
pub struct Saying {
    unit: Unit,
    said: Vec<Said>,
}

impl Saying {
    /// Nothing said yet.
    pub fn new(unit: Unit) -> Saying {
        Saying {
            unit,
            said: Vec::new(),
        }
    }

    /// Words that only join.
    pub fn words(&mut self, text: &str) -> &mut Saying {
        self.said.push(Said::Words {
            text: text.to_owned(),
        });
        self
    }

    /// A length, mm.
    pub fn length(&mut self, at: &str, mm: f64, label: impl Into<String>) -> &mut Saying {
        self.length_or(at, Some(mm), label, "")
    }

    /// A length that may be left away, mm, and what is said then.
    pub fn length_or(
        &mut self,
        at: &str,
        mm: Option<f64>,
        label: impl Into<String>,
        without: &str,
    ) -> &mut Saying {
        self.said.push(Said::Length {
            at: at.to_owned(),
            text: mm.map_or_else(String::new, |mm| print(mm, self.unit).text),
            label: label.into(),
            without: without.to_owned(),
        });
        self
    }

    /// A count.
    pub fn count(&mut self, at: &str, count: u32, label: &str) -> &mut Saying {
        self.number_as(at, count.to_string(), label, true)
    }

    /// A number with fractions.
    pub fn number(&mut self, at: &str, number: f64, label: &str) -> &mut Saying {
        self.number_as(at, number.to_string(), label, false)
    }

    fn number_as(&mut self, at: &str, text: String, label: &str, whole: bool) -> &mut Saying {
        self.said.push(Said::Number {
            at: at.to_owned(),
            text,
            label: label.to_owned(),
            whole,
        });
        self
    }

    /// Words that open, where the screen knows into what.
    pub fn choice(&mut self, at: &str, text: impl Into<String>) -> &mut Saying {
        self.said.push(Said::Choice {
            at: at.to_owned(),
            text: text.into(),
            label: String::new(),
            options: Vec::new(),
        });
        self
    }

    /// Words that open into these. What stands is the words of what is kept now.
    pub fn one_of(
        &mut self,
        at: &str,
        now: impl Serialize,
        label: &str,
        options: Vec<Offered>,
    ) -> &mut Saying {
        let now = serde_json::to_value(now).unwrap_or_default();
        let text = options
            .iter()
            .find(|o| o.value == now)
            .map_or_else(String::new, |o| o.text.clone());
        self.said.push(Said::Choice {
            at: at.to_owned(),
            text,
            label: label.to_owned(),
            options,
        });
        self
    }

    /// What was said.
    pub fn done(self) -> Vec<Said> {
        self.said
    }
}
