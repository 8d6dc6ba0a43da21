//! Print and laminate by when: from the hour at which the fitting starts backwards to the hour at which the last printer may start.
//!
//! 24 h in the hall with the vehicle are common practice, no source; how long an ink gasses out stands with the inks. All other hours are ours.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use time::{Duration, OffsetDateTime};

use crate::film::classes::Span;
use crate::film::ink::{Ink, Outgassing};
use crate::plan::steps::{WorkStage, WorkStep};

/// A step before the fitting.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BeforeFitting {
    /// Print it.
    Print,
    /// Let it gas out.
    Outgas,
    /// Laminate it cold.
    Laminate,
    /// Trim its panels.
    Trim,
    /// Cut lettering.
    Cut,
    /// Weed it.
    Weed,
    /// Put transfer tape on, pressed on twice.
    TransferTape,
    /// Roll it up.
    RollUp,
    /// Let film and vehicle come to one temperature.
    Acclimatise,
}

impl BeforeFitting {
    /// All of them, in their order.
    pub const ALL: [BeforeFitting; 9] = [
        BeforeFitting::Print,
        BeforeFitting::Outgas,
        BeforeFitting::Laminate,
        BeforeFitting::Trim,
        BeforeFitting::Cut,
        BeforeFitting::Weed,
        BeforeFitting::TransferTape,
        BeforeFitting::RollUp,
        BeforeFitting::Acclimatise,
    ];

    /// Its key.
    pub fn key(self) -> &'static str {
        match self {
            BeforeFitting::Print => "print",
            BeforeFitting::Outgas => "outgas",
            BeforeFitting::Laminate => "laminate",
            BeforeFitting::Trim => "trim",
            BeforeFitting::Cut => "cut",
            BeforeFitting::Weed => "weed",
            BeforeFitting::TransferTape => "transfer_tape",
            BeforeFitting::RollUp => "roll_up",
            BeforeFitting::Acclimatise => "acclimatise",
        }
    }

    /// What it is called in the record.
    pub fn name(self) -> &'static str {
        match self {
            BeforeFitting::Print => "printing",
            BeforeFitting::Outgas => "gassing out",
            BeforeFitting::Laminate => "laminating",
            BeforeFitting::Trim => "trimming the panels",
            BeforeFitting::Cut => "cutting",
            BeforeFitting::Weed => "weeding",
            BeforeFitting::TransferTape => "transfer tape",
            BeforeFitting::RollUp => "rolling up",
            BeforeFitting::Acclimatise => "standing in the hall",
        }
    }

    /// Whether nobody works at it: it passes.
    pub fn only_waits(self) -> bool {
        matches!(self, BeforeFitting::Outgas | BeforeFitting::Acclimatise)
    }
}

/// What is made before the fitting.
#[derive(Debug, Clone, PartialEq)]
pub struct ToMake {
    /// When the fitting starts.
    pub fit_at: OffsetDateTime,
    /// Film to be printed, along its rolls, mm; 0 where nothing is.
    pub printed_mm: f64,
    /// How long its prints gas out.
    pub outgas: Outgassing,
    /// Laminates of the shelf that are chosen for its prints, each once.
    pub laminates: Vec<String>,
    /// Film of lettering and kit pieces to be cut, along its rolls, mm; 0 where nothing is.
    pub cut_mm: f64,
    /// Window of the film's temperature, °C.
    pub window: Option<Span>,
}

/// When a job's fitting starts, and what is done of what comes before it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fitting {
    /// When it starts.
    #[serde(with = "time::serde::rfc3339")]
    pub fit_at: OffsetDateTime,
    /// Ink of its prints.
    pub ink: Ink,
    /// Steps that are done, and when that was said.
    #[serde(default)]
    pub done: Vec<DoneStep>,
}

/// A step that is done.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DoneStep {
    /// Which.
    pub step: BeforeFitting,
    /// When it was over.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// An entry of the record about what comes before the fitting.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum MadeEntry {
    /// When the fitting starts, and the ink of its prints.
    Starts {
        /// When.
        #[serde(with = "time::serde::rfc3339")]
        fit_at: OffsetDateTime,
        /// Ink.
        ink: Ink,
    },
    /// A step is done.
    Done {
        /// Which.
        step: BeforeFitting,
        /// When it was over.
        #[serde(with = "time::serde::rfc3339")]
        at: OffsetDateTime,
    },
    /// It is not done after all.
    NotDone {
        /// Which.
        step: BeforeFitting,
    },
}

impl Fitting {
    /// What changed since an earlier state, as entries of the record.
    ///
    /// ```
    /// # use time::macros::datetime;
    /// # use windrift_core::cut::by_when::{BeforeFitting, DoneStep, Fitting, MadeEntry};
    /// # use windrift_core::film::ink::Ink;
    /// let fit_at = datetime!(2026-12-04 08:00 UTC);
    /// let before = Fitting { fit_at, ink: Ink::Latex, done: vec![] };
    /// let step = BeforeFitting::Print;
    /// let now = Fitting { done: vec![DoneStep { step, at: fit_at }], ..before.clone() };
    /// assert_eq!(now.since(Some(&before)), [MadeEntry::Done { step, at: fit_at }]);
    /// assert_eq!(before.since(Some(&now)), [MadeEntry::NotDone { step }]);
    /// assert_eq!(before.since(None).len(), 1);
    /// ```
    pub fn since(&self, before: Option<&Fitting>) -> Vec<MadeEntry> {
        let mut all = Vec::new();
        if before.is_none_or(|b| b.fit_at != self.fit_at || b.ink != self.ink) {
            all.push(MadeEntry::Starts {
                fit_at: self.fit_at,
                ink: self.ink,
            });
        }
        let was = before.map_or(&[][..], |b| b.done.as_slice());
        for d in self.done.iter().filter(|d| !was.contains(d)) {
            all.push(MadeEntry::Done {
                step: d.step,
                at: d.at,
            });
        }
        for d in was {
            if !self.done.iter().any(|n| n.step == d.step) {
                all.push(MadeEntry::NotDone { step: d.step });
            }
        }
        all
    }

    /// The hours at which steps were done, each once: the last one said.
    pub fn done(&self) -> Vec<(BeforeFitting, OffsetDateTime)> {
        self.done.iter().rev().map(|d| (d.step, d.at)).collect()
    }
}

/// A step with the latest hour at which it begins.
#[derive(Debug, Clone, PartialEq)]
pub struct ByWhen {
    /// Which.
    pub step: BeforeFitting,
    /// What it is.
    pub work: WorkStep,
    /// It begins at the latest then.
    pub latest: OffsetDateTime,
    /// It is over at the latest then.
    pub over: OffsetDateTime,
}

/// What cannot be planned.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum ByWhenError {
    /// Nothing to make.
    #[error("Nothing is left to print or to cut for this job.")]
    Nothing,
    /// A time out of range.
    #[error("That hour is out of range. Say when the fitting starts.")]
    OutOfRange,
}

/// Printed along the roll in an hour, mm (ours).
const PRINTED_PER_HOUR_MM: f64 = 8_000.0;
/// Laminated along the roll in an hour, mm (ours).
const LAMINATED_PER_HOUR_MM: f64 = 20_000.0;
/// Cut along the roll in an hour, mm (ours).
const CUT_PER_HOUR_MM: f64 = 10_000.0;
/// Weeded along the roll in an hour, mm (ours).
const WEEDED_PER_HOUR_MM: f64 = 2_500.0;
/// Hours in the hall with the vehicle (common practice, no source).
const ACCLIMATISE_HOURS: f64 = 24.0;

/// Every step before the fitting, in their order, each with its latest hour. Planned with the longer of its hours.
///
/// ```
/// use time::macros::datetime;
/// use windrift_core::cut::by_when::{BeforeFitting, ToMake, by_when};
/// use windrift_core::film::ink::Ink;
/// let make = ToMake { fit_at: datetime!(2026-12-04 08:00 UTC), printed_mm: 8000.0, outgas: Ink::EcoSolvent.outgassing(false, []), laminates: vec![], cut_mm: 0.0, window: None };
/// let steps = by_when(&make).unwrap();
/// // 24 h in the hall before 08:00 on the 4th; rolled up, trimmed and laminated before that; 24 h of gassing out before those.
/// let at = |step| steps.iter().find(|s| s.step == step).unwrap().latest;
/// assert_eq!(at(BeforeFitting::Acclimatise), datetime!(2026-12-03 08:00 UTC));
/// assert!(at(BeforeFitting::Print) < datetime!(2026-12-02 08:00 UTC));
/// ```
///
/// Errors: nothing to make; an hour out of range.
pub fn by_when(make: &ToMake) -> Result<Vec<ByWhen>, ByWhenError> {
    let with = make.laminates.join(" and ");
    let laminate = match make.laminates.as_slice() {
        [] => "Laminate it cold, with a laminate of its film\u{2019}s family".to_owned(),
        _ => format!("Laminate it cold, with {with}"),
    };
    let mut steps: Vec<(BeforeFitting, Span, &str, &str, Option<&str>)> = Vec::new();
    let hours = |mm: f64, per_hour: f64, least: f64| Span {
        from: (mm / per_hour).max(least) * 0.7,
        to: (mm / per_hour).max(least) * 1.5,
    };
    let exactly = |h: f64| Span { from: h, to: h };
    use BeforeFitting as B;
    if make.printed_mm > 0.0 {
        let mm = make.printed_mm;
        steps.push((
            B::Print,
            hours(mm, PRINTED_PER_HOUR_MM, 0.5),
            "Print it, all of one job on one lot",
            "printer",
            None,
        ));
        let Outgassing {
            hours: wait,
            by_sheet,
        } = make.outgas;
        if wait > 0.0 {
            steps.push((
                B::Outgas,
                exactly(wait),
                if by_sheet {
                    "Let it gas out as long as its film\u{2019}s data sheet says, loose or on a rack, never standing on end or rolled tight"
                } else {
                    "Let it gas out, loose or on a rack, never standing on end or rolled tight"
                },
                "rack",
                Some("its ink"),
            ));
        }
        steps.push((
            B::Laminate,
            hours(mm, LAMINATED_PER_HOUR_MM, 0.5),
            &laminate,
            "laminator",
            None,
        ));
        steps.push((
            B::Trim,
            hours(mm, LAMINATED_PER_HOUR_MM, 0.5),
            "Trim its panels to bleed and lap",
            "bench",
            None,
        ));
    }
    if make.cut_mm > 0.0 {
        let mm = make.cut_mm;
        steps.push((
            B::Cut,
            hours(mm, CUT_PER_HOUR_MM, 0.25),
            "Cut lettering and kit pieces",
            "cutter",
            None,
        ));
        steps.push((
            B::Weed,
            hours(mm, WEEDED_PER_HOUR_MM, 0.25),
            "Weed it",
            "bench",
            None,
        ));
        steps.push((
            B::TransferTape,
            hours(mm, LAMINATED_PER_HOUR_MM, 0.25),
            "Put transfer tape on and press it on twice",
            "bench",
            None,
        ));
    }
    if steps.is_empty() {
        return Err(ByWhenError::Nothing);
    }
    steps.push((
        B::RollUp,
        exactly(0.25),
        "Roll it up, film outwards, not tight",
        "bench",
        None,
    ));
    steps.push((
        B::Acclimatise,
        exactly(ACCLIMATISE_HOURS),
        "Film and vehicle stand in the hall and come to one temperature",
        "hall",
        Some("film and vehicle"),
    ));
    let mut over = make.fit_at;
    let mut told: Vec<ByWhen> = Vec::new();
    for (n, (step, hours, what, place, waits)) in steps.iter().enumerate().rev() {
        let latest = over
            .checked_sub(Duration::seconds_f64(hours.to * 3600.0))
            .ok_or(ByWhenError::OutOfRange)?;
        told.push(ByWhen {
            step: *step,
            work: WorkStep {
                key: step.key().into(),
                stage: WorkStage::Film,
                what: (*what).into(),
                hands: u32::from(!step.only_waits()),
                hours: *hours,
                waits: waits.map(Into::into),
                place: (*place).into(),
                window: make.window.filter(|_| *step == B::Acclimatise),
                after: (n > 0).then(|| steps[n - 1].0.key().to_owned()),
            },
            latest,
            over,
        });
        over = latest;
    }
    told.reverse();
    Ok(told)
}

/// How a plan stands: what is late, and when a print has gassed out.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    /// The first step that is not done.
    pub next: Option<BeforeFitting>,
    /// How late that one is; nothing where there is time.
    pub late: Option<Duration>,
    /// From when the fitting can start, if everything goes on from now without a pause.
    pub earliest_fit: OffsetDateTime,
}

/// How a plan stands at an hour, with the hours at which steps were done.
///
/// ```
/// use time::macros::datetime;
/// use windrift_core::cut::by_when::{ToMake, by_when, standing};
/// use windrift_core::film::ink::Ink;
/// let make = ToMake { fit_at: datetime!(2026-12-04 08:00 UTC), printed_mm: 4000.0, outgas: Ink::Solvent.outgassing(false, []), laminates: vec![], cut_mm: 0.0, window: None };
/// let steps = by_when(&make).unwrap();
/// // The evening before: far too late for a print that must gas out for a day.
/// let now = standing(&steps, &[], datetime!(2026-12-03 20:00 UTC));
/// assert!(now.late.is_some() && now.earliest_fit > datetime!(2026-12-05 20:00 UTC));
/// ```
pub fn standing(
    steps: &[ByWhen],
    done: &[(BeforeFitting, OffsetDateTime)],
    now: OffsetDateTime,
) -> Standing {
    let done_at = |step| done.iter().find(|(s, _)| *s == step).map(|(_, at)| *at);
    let mut at = now;
    let mut next = None;
    let mut late = None;
    let mut before: Option<OffsetDateTime> = None;
    for s in steps {
        if let Some(over) = done_at(s.step) {
            before = Some(over);
            continue;
        }
        let long = Duration::seconds_f64(s.work.hours.to * 3600.0);
        // What only waits began when the step before it was done, whether anybody said so or not.
        let begins = match before.take() {
            Some(over) if s.step.only_waits() => over,
            _ => at,
        };
        let over = begins.saturating_add(long);
        let passed = s.step.only_waits() && over <= now;
        if next.is_none() && !passed {
            next = Some(s.step);
            let behind = begins - s.latest;
            late = (behind > Duration::ZERO).then_some(behind);
        }
        at = over.max(now);
        before = passed.then_some(over);
    }
    Standing {
        next,
        late,
        earliest_fit: at,
    }
}
