//! A place where film stretches, and how film is brought into it.

use serde::{Deserialize, Serialize};

use crate::ground::tape::Length;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::Area;

/// How film is brought into a place. Worst last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Forming {
    /// Pressed as it is.
    Press,
    /// Slack is fed from an open side.
    Feed,
    /// Warm film round it gives.
    Warm,
    /// The same, past what the film is kept under: it must reach its temperature afterwards.
    WarmAndHeat,
    /// A relief cut lets it in.
    ReliefCut,
    /// A piece of its own is laid in.
    Inlay,
    /// Two pieces that lap.
    TwoPieces,
    /// Not with this film.
    NotOnThis,
}

/// A place where film stretches.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormingPlace {
    /// What it is called on this side: `recess 2`.
    pub name: String,
    /// What it is.
    pub kind: FeatureKind,
    /// Its place in the order of work, from 1: deepest first, flats last.
    pub number: u32,
    /// How.
    pub forming: Forming,
    /// How, in one line.
    pub line: String,
    /// Stretch one way where it is pushed straight in, a share.
    pub straight: Option<f64>,
    /// Stretch one way with the band warm.
    pub warmed: Option<f64>,
    /// Stretch both ways at once, with the band warm: in a corner that is shut in, over a dome or a head.
    pub both_ways: Option<f64>,
    /// Film along what it lies on.
    pub developed: Option<Length>,
    /// How wide a band is warmed.
    pub band: Option<Length>,
    /// What is assumed, and the figures behind the line, in sentences.
    pub why: Vec<String>,
    /// Length of what must reach the film's temperature once it lies; nothing where nothing must.
    pub must_reach: Option<Length>,
    /// Outlines in the picture frame, mm.
    pub outlines: Vec<Vec<[f64; 2]>>,
}

/// Where a piece stretches.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stretches {
    /// Places in the order in which they are worked.
    pub places: Vec<FormingPlace>,
    /// Kept under this one way, a share.
    pub aim: f64,
    /// Kept under this both ways at once.
    pub aim_both_ways: f64,
    /// Never past this.
    pub never_past: f64,
    /// Whether that is the film's own sheet's.
    pub never_from_sheet: bool,
    /// What is done before and in which order, in sentences.
    pub says: Vec<String>,
}

impl Stretches {
    /// What is done at places before and while the film comes down, deepest first; nothing of what is only pressed, nor of heads, which are told by
    /// themselves.
    pub fn before(&self) -> Vec<String> {
        let told = self
            .places
            .iter()
            .filter(|p| p.kind != FeatureKind::Rivets && p.forming != Forming::Press);
        told.map(|p| format!("{}: {}", p.name, p.line)).collect()
    }

    /// What must reach the film's temperature once it lies.
    pub fn once_it_lies(&self) -> Option<String> {
        let reach = self.places.iter().filter_map(|p| {
            let long = p.must_reach.as_ref()?;
            Some(format!("{} ({} round it)", p.name, long.text))
        });
        let all: Vec<String> = reach.collect();
        (!all.is_empty()).then(|| format!("Must reach its temperature: {}.", all.join(", ")))
    }
}

/// A share as percent.
pub(super) fn percent(share: f64) -> String {
    format!("{:.0} %", share * 100.0)
}

pub(super) fn outlines(area: &Area) -> Vec<Vec<[f64; 2]>> {
    let contours = area.outline.contours.iter();
    contours
        .map(|c| c.iter().map(|p| [p.x, p.y]).collect())
        .collect()
}

pub(super) fn place(area: &Area, forming: Forming, line: String, why: Vec<String>) -> FormingPlace {
    FormingPlace {
        name: area.name.clone(),
        kind: area.kind,
        number: 0,
        forming,
        line,
        straight: None,
        warmed: None,
        both_ways: None,
        developed: None,
        band: None,
        why,
        must_reach: None,
        outlines: outlines(area),
    }
}
