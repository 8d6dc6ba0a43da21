//! Dates as a calendar file, read back by another library.

use ical::IcalParser;
use time::macros::datetime;
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::care::{Pressed, care};
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;
use windrift_formats::calendar::{About, calendar};

#[test]
fn another_reader_finds_each_date_in_three_zones_and_over_a_clock_change() {
    for name in ["America/Denver", "Europe/Oslo", "Pacific/Auckland"] {
        let zone = Zone::named(name).unwrap();
        // Clocks go back in the first two within the three days after.
        let at = zone.at_wall_clock("2026-10-24T14:00").unwrap();
        let film = Pressed {
            called: "a side; with, a comma".into(),
            at,
            film: FilmClass::CastPrint.figures(),
            lies: false,
            lying_years: None,
            polish_after_weeks: None,
        };
        let dates = care(&[film], &[], false, zone, Unit::Millimetre);
        let about = About {
            job: uuid::Uuid::from_u128(7),
            shop: "Ternhaven Sign & Film",
            title: "Van, white; new",
            made: datetime!(2026-11-27 9:00 UTC),
        };
        let text = calendar(&about, &dates, |at| zone.date(at));
        assert!(text.lines().all(|l| l.len() <= 75), "lines are folded");
        let read = IcalParser::new(text.as_bytes()).next().unwrap().unwrap();
        let with_date = dates.iter().filter(|d| d.at.is_some());
        assert_eq!(read.events.len(), with_date.clone().count());
        for (event, date) in read.events.iter().zip(with_date) {
            let property = |name: &str| {
                let found = event.properties.iter().find(|p| p.name == name);
                found.unwrap_or_else(|| panic!("{name} of {date:?}"))
            };
            let value = |name: &str| property(name).value.clone().unwrap();
            let (begins, at) = (value("DTSTART"), date.at.unwrap());
            if date.whole_day {
                assert_eq!(property("DTSTART").params.as_ref().unwrap()[0].1, ["DATE"]);
                assert_eq!(begins, "20311024");
            } else {
                let utc = at.to_offset(time::UtcOffset::UTC);
                let hour = format!(
                    "{:04}{:02}{:02}T{:02}{:02}{:02}Z",
                    utc.year(),
                    u8::from(utc.month()),
                    utc.day(),
                    utc.hour(),
                    utc.minute(),
                    utc.second()
                );
                assert_eq!(begins, hour);
            }
            assert!(value("SUMMARY").contains(date.title));
            assert!(value("UID").ends_with("@windrift") && value("DTSTAMP") == "20261127T090000Z");
        }
        let names: std::collections::BTreeSet<_> = read
            .events
            .iter()
            .map(|e| {
                e.properties
                    .iter()
                    .find(|p| p.name == "UID")
                    .unwrap()
                    .value
                    .clone()
            })
            .collect();
        assert_eq!(names.len(), read.events.len(), "each has a name of its own");
    }
}
