//! A sensor of the air beside what else was read of the same air: one that drifts goes on sending figures that look right.

use time::{Duration, OffsetDateTime};

use super::prep::gate::AirRead;
use crate::ground::degrees::apart;
use crate::ground::tape::Unit;

/// Readings so far apart in time are of the same air.
const SAME: Duration = Duration::minutes(10);
/// A reading by hand says something of a sensor for so long.
const SAYS_FOR: Duration = Duration::hours(24);
/// Further apart than this, one of both is wrong: °C, and points of humidity (ours; sensors of halls are sold with errors of about half of it).
const APART_CELSIUS: f64 = 2.0;
const APART_HUMIDITY: f64 = 10.0;

/// A sensor beside another reading of the air.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Beside {
    /// By how much the sensor reads more, °C.
    pub celsius: f64,
    /// By how much the sensor reads more, points of humidity.
    pub humidity: f64,
}

impl Beside {
    /// Whether they are too far apart.
    pub fn is_off(&self) -> bool {
        self.celsius.abs() > APART_CELSIUS || self.humidity.abs() > APART_HUMIDITY
    }

    /// What is too far apart, and which way: `7.2 °F more`; degrees as the shop of that tape tells them.
    pub fn in_words(&self, unit: Unit) -> String {
        let way = |more: f64| if more > 0.0 { "more" } else { "less" };
        let mut told = Vec::new();
        if self.celsius.abs() > APART_CELSIUS {
            let degrees = apart(self.celsius.abs(), unit);
            told.push(format!("{degrees} {}", way(self.celsius)));
        }
        if self.humidity.abs() > APART_HUMIDITY {
            let points = self.humidity.abs();
            told.push(format!(
                "{points:.0} points of humidity {}",
                way(self.humidity)
            ));
        }
        told.join(" and ")
    }
}

/// A sensor's readings beside others of the same air, oldest first each, where they were compared last: one that was set right counts again with the next
/// reading. Nothing where none was within the last day.
///
/// ```
/// # use time::{Duration, macros::datetime};
/// # use windrift_core::{floor::{drift::beside, prep::gate::AirRead}, ground::tape::Unit};
/// let start = datetime!(2026-11-27 8:00 UTC);
/// let read = |m: i64, celsius: f64| AirRead { at: start + Duration::minutes(m), celsius, humidity: 50.0 };
/// // It gains half a degree an hour.
/// let sensor: Vec<AirRead> = (0..480).map(|m| read(m, 20.0 + m as f64 / 120.0)).collect();
/// let now = start + Duration::minutes(480);
/// assert!(!beside(&sensor, &[read(60, 20.0)], now).unwrap().is_off());
/// let late = beside(&sensor, &[read(450, 20.0)], now).unwrap();
/// assert!(late.is_off() && (late.celsius - 3.75).abs() < 0.1);
/// assert_eq!(late.in_words(Unit::Millimetre), "3.8 °C more");
/// assert!(beside(&sensor, &[], now).is_none());
/// ```
pub fn beside(sensor: &[AirRead], others: &[AirRead], now: OffsetDateTime) -> Option<Beside> {
    (others.iter().rev())
        .take_while(|o| now - o.at <= SAYS_FOR)
        .find_map(|o| {
            let near = sensor.iter().min_by_key(|s| (s.at - o.at).abs())?;
            ((near.at - o.at).abs() <= SAME).then_some(Beside {
                celsius: near.celsius - o.celsius,
                humidity: near.humidity - o.humidity,
            })
        })
}
