//! What a person is told when something cannot be: one type for everything that core refuses.

use crate::ground::measure_error::MeasureError;
use crate::ground::tape::LengthError;

/// A refusal as it reaches a screen: a code for programs, the field, and words that say what is wrong and what to do about it. Whoever
/// passes it on adds nothing to the words.
///
/// ```
/// # use windrift_core::ground::{tape::{Unit, parse}, told::Told};
/// let told = Told::from(parse("27 3/7", Unit::InchSixteenth).unwrap_err()).at("/spec/body/length_mm");
/// assert_eq!((told.code, told.field.as_deref()), ("length", Some("/spec/body/length_mm")));
/// assert!(told.sentence.contains("A tape has no"));
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Told {
    /// Stable code for programs, such as `length`.
    pub code: &'static str,
    /// The field that it is about, as a path from what was given: `/place/along/distance_mm`.
    pub field: Option<String>,
    /// What is wrong and what to do, for an installer.
    pub sentence: String,
}

impl Told {
    /// A refusal of no field in particular.
    pub fn new(code: &'static str, sentence: impl Into<String>) -> Told {
        Told {
            code,
            field: None,
            sentence: sentence.into(),
        }
    }

    /// The same, about this field.
    pub fn at(self, field: impl Into<String>) -> Told {
        Told {
            field: Some(field.into()),
            ..self
        }
    }

    /// The same, of a part that stands at `path` in something larger.
    pub fn within(self, path: &str) -> Told {
        Told {
            field: self.field.map(|f| format!("{path}{f}")),
            ..self
        }
    }
}

impl From<LengthError> for Told {
    fn from(error: LengthError) -> Told {
        Told::new("length", error.to_string())
    }
}

impl From<MeasureError> for Told {
    fn from(error: MeasureError) -> Told {
        Told::new("measure", error.sentence).at(format!("/{}", error.field))
    }
}

/// `top rail` as the beginning of a sentence.
pub fn first_capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or(String::new(), |first| {
        first.to_uppercase().chain(letters).collect()
    })
}
