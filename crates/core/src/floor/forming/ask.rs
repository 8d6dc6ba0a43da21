//! How a piece is formed: its film, the school, the band.

use crate::film::classes::FilmFigures;
use crate::ground::degrees::span;
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
    /// How far two pieces lap, mm, where somebody tries another lap than the film's own.
    pub lap_mm: Option<f64>,
    /// What the ends of the side's tape are called.
    pub ends: Ends,
    /// The job's unit.
    pub unit: Unit,
}

impl FormingAsk<'_> {
    /// How far two pieces lap, mm: what is tried, or the most that is usual for the film.
    pub(super) fn lap(&self) -> Option<f64> {
        self.lap_mm.or(self.film.lap_mm.map(|l| l.to))
    }

    /// What speaks against a lap where there is so much room for it: beside a rim, or across a dome.
    pub(super) fn lap_doubts(&self, room_mm: f64) -> Vec<String> {
        let Some(lap) = self.lap() else {
            return Vec::new();
        };
        let mut doubts = Vec::new();
        if let Some(usual) = self.film.lap_mm.filter(|l| lap < l.from - 0.05) {
            doubts.push(format!(
                "A lap of {} is less than the {} that such film is lapped by: it opens first.",
                self.text(lap),
                self.text(usual.from)
            ));
        }
        if lap > room_mm + 0.05 {
            doubts.push(format!(
                "There is room for {} only: a lap of {} stands over.",
                self.text(room_mm),
                self.text(lap)
            ));
        }
        doubts
    }

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
        let heat = self.film.post_heat;
        heat.map_or_else(
            || "what its sheet asks".into(),
            |s| span(s.from, s.to, self.unit),
        )
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
