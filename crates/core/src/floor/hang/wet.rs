//! Wet or dry, and how long the transfer tape stays on.
//!
//! Common practice, no source: a few drops of dish soap in water; 15 minutes before the transfer tape of something small and warm
//! comes off, 30 to 45 for lettering; never under air channels or on rough surfaces.

use serde::Serialize;

use crate::film::classes::{Adhesive, FilmFigures};
use crate::film::work::{WetOrDry, Work};
use crate::place::landing::HeadState;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::surface::Material;

/// Wet or dry, with why.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WayAdvice {
    /// How it is laid.
    pub way: WetOrDry,
    /// How Windrift would lay it.
    pub advised: WetOrDry,
    /// Why, the weightiest first.
    pub reasons: Vec<String>,
    /// Why wet does harm here; then it is refused.
    pub wet_refused: Option<String>,
    /// Shortest and longest wait before the transfer tape comes off, minutes; 0 where it may come off at once.
    pub dwell_minutes: [u32; 2],
    /// The same in a sentence.
    pub dwell: String,
}

/// Pieces up to this size are small, mm (ours).
const SMALL_MM: f64 = 450.0;

/// From this temperature on it is warm, °C (ours).
const WARM_CELSIUS: f64 = 18.0;

pub(super) fn advise(
    work: &Work,
    film: &FilmFigures,
    planned: &PlannedPiece,
    side: &MeasuredSide,
) -> WayAdvice {
    let textured = side.side.surface.material == Material::TexturedPlastic
        || planned
            .landing
            .zones
            .iter()
            .any(|z| z.kind == FeatureKind::TexturedZone);
    let wet_refused = match film.adhesive {
        Adhesive::AirChannels => Some("Water stays in this film's air channels. Lay it dry."),
        Adhesive::HeatSet => {
            Some("This adhesive is set by heat: water under it boils. Lay it dry.")
        }
        Adhesive::Solid if textured => Some("Water stays in a rough surface. Lay it dry."),
        Adhesive::Solid if film.layered_reflective => {
            Some("Water creeps between the layers at the edges of reflective film. Lay it dry.")
        }
        Adhesive::Solid => None,
    }
    .map(str::to_owned);
    let heads = planned
        .landing
        .columns
        .iter()
        .flat_map(|c| &c.heads)
        .filter(|h| h.state != HeadState::Clear)
        .count();
    let bounds = planned.drawn.bounds;
    let small = bounds.width().max(bounds.height()) <= SMALL_MM;
    let mut reasons = Vec::new();
    let advised = if let Some(why) = &wet_refused {
        reasons.push(why.clone());
        WetOrDry::Dry
    } else if heads > 0 {
        reasons.push(format!(
            "{} under film: water stays round {} and lifts the film later.",
            if heads == 1 {
                "1 rivet head is".to_owned()
            } else {
                format!("{heads} rivet heads are")
            },
            if heads == 1 { "it" } else { "them" }
        ));
        WetOrDry::Dry
    } else if work.celsius.is_some_and(|c| c < 10.0) {
        reasons.push("Below 10 \u{b0}C water does not dry out from under the film.".into());
        WetOrDry::Dry
    } else {
        reasons
            .push("The adhesive takes hold at once; wet, it can still be slid into place.".into());
        reasons.push("No rivet heads under it, and the surface is smooth: water gets out.".into());
        WetOrDry::Wet
    };
    let way = match work.way {
        Some(WetOrDry::Wet) if wet_refused.is_none() => WetOrDry::Wet,
        Some(_) => WetOrDry::Dry,
        None => advised,
    };
    let warm = work.celsius.is_none_or(|c| c >= WARM_CELSIUS);
    let dwell_minutes = match (way, film.transfer_tape) {
        (_, false) | (WetOrDry::Dry, _) => [0, 0],
        (WetOrDry::Wet, true) if small && warm => [15, 15],
        (WetOrDry::Wet, true) if warm => [30, 45],
        (WetOrDry::Wet, true) => [45, 60],
    };
    let dwell = match (dwell_minutes, film.transfer_tape) {
        (_, false) => "There is no transfer tape on it.".to_owned(),
        ([0, _], _) => {
            "Dry, the transfer tape may come off at once, folded back on itself, low and flat."
                .to_owned()
        }
        ([a, b], _) if a == b => {
            format!("Leave the transfer tape on for {a} minutes; less with warm air.")
        }
        ([a, b], _) => {
            format!("Leave the transfer tape on for {a} to {b} minutes; less with warm air.")
        }
    };
    WayAdvice {
        way,
        advised,
        reasons,
        wet_refused,
        dwell_minutes,
        dwell,
    }
}
