//! How a piece is formed: its film, the school, the band.

use crate::film::classes::FilmFigures;
use crate::ground::settings::FormingSchool;
use crate::ground::tape::{Unit, print};
use crate::vehicle::feature::kind::OpenSide;
use crate::vehicle::side::words::Ends;

/// Where a film's sheet does not say what it must never be stretched past, no more than this is planned (ours).
pub const OURS_NEVER_PAST: f64 = 0.30;
/// How a piece is formed.
#[derive(Debug, Clone, Copy)]
pub struct FormingAsk<'a> {
    /// Figures of its film.
    pub film: &'a FilmFigures,
    /// What the film's own sheet says that it must never be stretched past.
    pub never_past: Option<f64>,
    /// Band or bridge.
    pub school: FormingSchool,
    /// How wide a band the shop warms, mm.
    pub band_mm: f64,
    /// What the ends of the side's tape are called.
    pub ends: Ends,
    /// The job's unit.
    pub unit: Unit,
}

impl FormingAsk<'_> {
    pub(super) fn never(&self) -> f64 {
        // Over-stretched layers part or darken for good: there is nothing to go past.
        let ours = if self.film.layered_reflective {
            self.film.stretch
        } else {
            OURS_NEVER_PAST.max(self.film.stretch)
        };
        self.never_past.unwrap_or(ours).max(self.film.stretch)
    }

    pub(super) fn text(&self, mm: f64) -> String {
        print(mm, self.unit).text
    }

    pub(super) fn heat(&self) -> String {
        let span = self.film.post_heat.map(|s| {
            let told = |c: f64| match self.unit {
                Unit::Millimetre => format!("{c:.0}"),
                _ => format!("{:.0}", c * 1.8 + 32.0),
            };
            let unit = match self.unit {
                Unit::Millimetre => "\u{b0}C",
                _ => "\u{b0}F",
            };
            format!("{} to {} {unit}", told(s.from), told(s.to))
        });
        span.unwrap_or_else(|| "what its sheet asks".into())
    }

    pub(super) fn open(&self, open: OpenSide) -> Option<String> {
        let Ends([zero, far]) = self.ends;
        match open {
            OpenSide::Enclosed => None,
            OpenSide::Top => Some("the top".into()),
            OpenSide::Foot => Some("the foot".into()),
            OpenSide::Front => Some(format!("the {zero}")),
            OpenSide::Rear => Some(format!("the {far}")),
        }
    }
}
