//! A bay in words.

use time::OffsetDateTime;
use windrift_core::floor::prep::dew::dew_point;
use windrift_core::floor::prep::open_air::{Rain, Wind};
use windrift_core::floor::wet::Wet;
use windrift_core::ground::degrees::told;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::told::first_capital;
use windrift_core::ground::zone::Zone;

use crate::bays::Bay;
use crate::views::{AirView, BayView, Dries, PlaceView, SensorView, WeatherView, WetView, words};

/// A bay as both floor stages show it.
pub fn bay_view(bay: &Bay, now: OffsetDateTime, zone: Zone, unit: Unit) -> BayView {
    BayView {
        name: bay.name.clone(),
        open_air: bay.open_air,
        others: (bay.others.iter())
            .map(|(name, open_air)| PlaceView {
                name: name.clone(),
                open_air: *open_air,
            })
            .collect(),
        weather: bay.weather.map(|w| WeatherView {
            wind: w.wind,
            rain: w.rain,
            says: format!(
                "{}; {}; seen {}.",
                first_capital(w.wind.name()),
                w.rain.name(),
                clock(zone.in_words(w.at))
            ),
        }),
        winds: words(Wind::ALL, Wind::name),
        rains: words(Rain::ALL, Rain::name),
        wet: bay.wet.iter().map(|w| WetView::of(w, zone)).collect(),
        heat_locked: bay.heat_locked(now).map(|w| {
            format!(
                "No heat until {}: {} {} has not flashed off.",
                clock(zone.in_words(w.until())),
                w.wet.name(),
                if w.place.trim().is_empty() {
                    "in this bay".to_owned()
                } else {
                    format!("at {}", w.place.trim())
                }
            )
        }),
        wets: words(Wet::ALL, Wet::name),
        dries: Wet::ALL
            .map(|wet| Dries {
                wet,
                minutes: wet.minutes(),
            })
            .into(),
        sensors: bay
            .sensors
            .iter()
            .map(|s| SensorView {
                id: s.id,
                name: s.name.clone(),
                last: s.last.map(|at| zone.in_words(at)),
                doubt: s.doubt.as_ref().map(|d| d.says(unit)),
            })
            .collect(),
        air: bay.newest_air().map(|a| AirView {
            celsius: a.celsius,
            humidity: a.humidity,
            says: format!(
                "{}, {:.0} %{}",
                told(a.celsius, unit),
                a.humidity,
                dew_point(a.celsius, a.humidity)
                    .map_or(String::new(), |d| format!(", dew point {}", told(d, unit)))
            ),
            at: zone.in_words(a.at),
        }),
    }
}

/// The hour of a moment in words: `27 Nov 2026 14:05` is `14:05`.
pub fn clock(words: String) -> String {
    words.rsplit(' ').next().unwrap_or_default().to_owned()
}
