//! Steps of work in one form: what, by how many hands, how long, what they wait for, where and how warm. Every stage hands out its own.

use serde::{Deserialize, Serialize};

use crate::film::classes::Span;

/// The stage that hands a step out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WorkStage {
    /// Film: what is printed, laminated, cut and rolled up before the fitting.
    Film,
    /// Old film off.
    Strip,
    /// Cleaned and primed.
    Prep,
    /// Hung and pressed.
    LayDown,
    /// Heated and sealed.
    HeatSeal,
    /// Looked at once more, and its hardware back on.
    HandOver,
}

impl WorkStage {
    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            WorkStage::Film => "Film",
            WorkStage::Strip => "Strip",
            WorkStage::Prep => "Prep",
            WorkStage::LayDown => "Lay down",
            WorkStage::HeatSeal => "Heat & seal",
            WorkStage::HandOver => "Hand over",
        }
    }
}

/// A step of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkStep {
    /// Its key among the steps of a job.
    pub key: String,
    /// The stage that hands it out.
    pub stage: WorkStage,
    /// What is done.
    pub what: String,
    /// By how many people; 0 where it only waits.
    pub hands: u32,
    /// Hours, at least and at most.
    pub hours: Span,
    /// What it waits for, where it waits.
    pub waits: Option<String>,
    /// Where: `printer`, `bench`, `hall`.
    pub place: String,
    /// How warm it must be there, °C.
    pub window: Option<Span>,
    /// The key of the step before it.
    pub after: Option<String>,
}

impl WorkStep {
    /// How long it takes, in words: `20 to 45 min`.
    pub fn takes(&self) -> String {
        in_words(self.hours)
    }
}

/// Hours in words: `20 to 45 min`, `1.5 to 4 h`; minutes where there is no whole hour.
///
/// ```
/// # use windrift_core::{film::classes::Span, plan::steps::in_words};
/// assert_eq!(in_words(Span { from: 0.33, to: 0.75 }), "20 to 45 min");
/// assert_eq!(in_words(Span { from: 0.7, to: 3.96 }), "0.7 to 4 h");
/// assert_eq!(in_words(Span { from: 24.0, to: 24.0 }), "24 h");
/// ```
pub fn in_words(hours: Span) -> String {
    let minutes = hours.to < 1.0;
    let one = |h: f64| {
        let shown = if minutes {
            (h * 60.0).round().max(1.0)
        } else {
            (h * 10.0).round() / 10.0
        };
        shown.to_string()
    };
    let (from, to) = (one(hours.from), one(hours.to));
    let unit = if minutes { "min" } else { "h" };
    match from == to {
        true => format!("{to} {unit}"),
        false => format!("{from} to {to} {unit}"),
    }
}

/// Hands-on hours and hours of waiting of steps, at least and at most each: hours of one pair of hands, not those on a clock.
///
/// ```
/// # use windrift_core::film::classes::Span;
/// # use windrift_core::plan::steps::{WorkStage, WorkStep, hours_of};
/// let step = |hands, from, to| WorkStep { key: String::new(), stage: WorkStage::Film, what: String::new(), hands, hours: Span { from, to },
///     waits: None, place: "bench".into(), window: None, after: None };
/// let (hands, waits) = hours_of(&[step(1, 0.5, 1.0), step(0, 24.0, 24.0), step(2, 1.0, 2.0)]);
/// assert_eq!((hands.from, hands.to, waits.to), (2.5, 5.0, 24.0));
/// ```
pub fn hours_of<'s>(steps: impl IntoIterator<Item = &'s WorkStep>) -> (Span, Span) {
    let none = Span { from: 0.0, to: 0.0 };
    let (mut hands, mut waits) = (none, none);
    for s in steps {
        let (sum, times) = match s.hands {
            0 => (&mut waits, 1.0),
            n => (&mut hands, f64::from(n)),
        };
        sum.from += s.hours.from * times;
        sum.to += s.hours.to * times;
    }
    (hands, waits)
}
