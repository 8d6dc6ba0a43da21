//! Work in a yard: what wind, sun and rain change of whether film may go on.
//!
//! Wind is told by what it moves, as nobody carries an anemometer to a van. Its speeds are those of the Beaufort scale (World Meteorological Organization,
//! Manual on Codes, No. 306); what a sheet pulls with in it is the drag of a flat plate held across (1.2 in the handbooks, from memory) in the standard
//! atmosphere's air at sea level (ISO 2533, 1.225 kg/m³).

use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

use super::stands::Stands;
use crate::ground::degrees::{apart, told};
use crate::ground::tape::Unit;
use crate::ground::told::first_capital;

/// Wind by what it moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Wind {
    /// Beaufort 0 and 1.
    Calm,
    /// 2.
    Light,
    /// 3.
    Gentle,
    /// 4.
    Moderate,
    /// 5.
    Fresh,
    /// 6.
    Strong,
    /// 7 and more.
    Gale,
}

impl Wind {
    /// Every one, the weakest first.
    pub const ALL: [Wind; 7] = [
        Wind::Calm,
        Wind::Light,
        Wind::Gentle,
        Wind::Moderate,
        Wind::Fresh,
        Wind::Strong,
        Wind::Gale,
    ];

    /// By what it moves.
    pub fn name(self) -> &'static str {
        match self {
            Wind::Calm => "calm: smoke rises or drifts",
            Wind::Light => "leaves rustle, it is felt on the face",
            Wind::Gentle => "leaves and twigs are never still",
            Wind::Moderate => "dust and loose paper fly",
            Wind::Fresh => "small trees sway",
            Wind::Strong => "large branches move, wires whistle",
            Wind::Gale => "whole trees move",
        }
    }

    /// The fastest it is on the average of ten minutes, m/s.
    pub fn fastest(self) -> f64 {
        match self {
            Wind::Calm => 1.5,
            Wind::Light => 3.3,
            Wind::Gentle => 5.4,
            Wind::Moderate => 7.9,
            Wind::Fresh => 10.7,
            Wind::Strong => 13.8,
            Wind::Gale => 17.1,
        }
    }
}

/// Whether it rains.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Rain {
    /// Neither now nor in the next hours.
    Dry,
    /// It may, before the work is done.
    Threatens,
    /// It does.
    Falls,
}

impl Rain {
    /// Every one.
    pub const ALL: [Rain; 3] = [Rain::Dry, Rain::Threatens, Rain::Falls];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Rain::Dry => "dry, and stays so",
            Rain::Threatens => "rain may come",
            Rain::Falls => "it rains",
        }
    }
}

/// Where the sun is, as a side sees it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sun {
    /// Cloud, or shade all round.
    Nowhere,
    /// On another side.
    Elsewhere,
    /// On this one.
    Here,
}

impl Sun {
    /// Every one.
    pub const ALL: [Sun; 3] = [Sun::Nowhere, Sun::Elsewhere, Sun::Here];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Sun::Nowhere => "not on it",
            Sun::Elsewhere => "on another side",
            Sun::Here => "on this side",
        }
    }
}

/// Wind and rain as somebody saw them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WeatherRead {
    /// Wind.
    pub wind: Wind,
    /// Rain.
    pub rain: Rain,
    /// When.
    pub at: OffsetDateTime,
}

/// A side that stands in the open.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OpenAir {
    /// The newest word about wind and rain.
    pub weather: Option<WeatherRead>,
    /// Where the sun is, and when that was seen.
    pub sun: Option<(Sun, OffsetDateTime)>,
    /// The warmest fresh reading of any other side, °C.
    pub elsewhere_celsius: Option<f64>,
    /// The largest sheet that is carried and hung, mm²; 0 where nothing is laid out.
    pub largest_mm2: f64,
}

/// Air, kg/m³ (ISO 2533 at sea level).
const AIR_KG_M3: f64 = 1.225;
/// Drag of a flat plate across the wind (handbook figure, from memory).
const DRAG: f64 = 1.2;
/// What one pair of hands holds steady of a sheet while the other end is laid, newtons (ours).
const HANDS_N: f64 = 40.0;

/// What wind pulls with at a sheet that is held across it, newtons; area in mm², speed in m/s.
///
/// ```
/// # use windrift_core::floor::prep::open_air::pull;
/// // A square metre in 10 m/s: 1.2 of the pressure of 61.25 Pa.
/// assert!((pull(1e6, 10.0) - 73.5).abs() < 1e-9);
/// ```
pub fn pull(area_mm2: f64, speed: f64) -> f64 {
    DRAG * 0.5 * AIR_KG_M3 * speed * speed * area_mm2 * 1e-6
}

/// Sun, wind and rain of a side, as lines of its gate; the coldest of its readings says what its own temperature is.
pub(super) fn lines(
    open: &OpenAir,
    coldest: Option<f64>,
    is_old: impl Fn(OffsetDateTime) -> bool,
    unit: Unit,
    line: &mut impl FnMut(&str, Stands, String),
) {
    match open.weather.filter(|w| !is_old(w.at)) {
        None => line(
            "wind",
            Stands::Unknown,
            "Say the wind and the rain as they are now: nobody has in the last half hour.".into(),
        ),
        Some(weather) => {
            let (stands, says) = wind(weather.wind, open.largest_mm2, unit);
            line("wind", stands, says);
            let (stands, says) = rain(weather.rain);
            line("rain", stands, says.into());
        }
    }
    let (stands, says) = match open.sun.filter(|(_, at)| !is_old(*at)) {
        None => (
            Stands::Unknown,
            "Say where the sun is: nobody has in the last half hour.".into(),
        ),
        Some((Sun::Nowhere, _)) => (Stands::In, "No sun on the vehicle.".into()),
        Some((Sun::Here, _)) => (
            Stands::Near,
            "The sun is on this side: film grabs on a hot panel, and a cloud changes it in minutes. Shade it, or come when it lies in shade; readings count for 10 minutes.".into(),
        ),
        Some((Sun::Elsewhere, _)) => match (open.elsewhere_celsius, coldest) {
            (Some(there), Some(here)) if there > here => (
                Stands::In,
                format!(
                    "This side lies in shade; another one reads {}, {} more. Each side is fitted by its own readings.",
                    told(there, unit),
                    apart(there - here, unit)
                ),
            ),
            (Some(there), _) => (
                Stands::In,
                format!("This side lies in shade; another one reads {}.", told(there, unit)),
            ),
            (None, _) => (
                Stands::Near,
                "The sun is on another side, and nobody has read that one in the last half hour: read both, they are not alike.".into(),
            ),
        },
    };
    line("sun", stands, says);
}

fn wind(wind: Wind, largest_mm2: f64, unit: Unit) -> (Stands, String) {
    let speed = wind.fastest();
    let pull = pull(largest_mm2, speed);
    let by_speed = match wind {
        Wind::Calm | Wind::Light | Wind::Gentle => Stands::In,
        Wind::Moderate => Stands::Near,
        Wind::Fresh | Wind::Strong | Wind::Gale => Stands::Out,
    };
    let hands = (pull / HANDS_N).ceil().max(1.0);
    let by_pull = match hands as u32 {
        0 | 1 => Stands::In,
        2 => Stands::Near,
        _ => Stands::Out,
    };
    let (fast, heavy) = match unit {
        Unit::Millimetre => (
            format!("{speed:.0} m/s"),
            format!("{:.1} kg", pull / 9.806_65),
        ),
        _ => (
            format!("{:.0} mph", speed / 0.447_04),
            format!("{:.0} lb", pull / 4.448_222),
        ),
    };
    let sheet = if largest_mm2 > 0.0 {
        format!(
            " The largest sheet pulls with up to {heavy}{}.",
            match hands as u32 {
                0 | 1 => ", which one holds",
                2 => ": two hold it, and the liner comes off in short lengths",
                _ => ", more than two hold: into a hall, behind a screen, or in smaller sheets",
            }
        )
    } else {
        String::new()
    };
    let dust = match by_speed {
        Stands::In => "",
        _ => " Dust flies into the adhesive: a screen, or wait.",
    };
    let name = first_capital(wind.name());
    (
        by_speed.max(by_pull),
        format!("{name}: up to {fast}.{sheet}{dust}"),
    )
}

fn rain(rain: Rain) -> (Stands, &'static str) {
    match rain {
        Rain::Dry => (Stands::In, "Dry, and it stays so."),
        Rain::Threatens => (
            Stands::Near,
            "Rain may come: begin what is finished, edges sealed, before it does.",
        ),
        Rain::Falls => (
            Stands::Out,
            "It rains: no film. After it gaps and seams are blown dry, and everything is wiped again.",
        ),
    }
}
