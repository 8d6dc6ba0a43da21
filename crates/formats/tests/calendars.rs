//! Dates for the owner as a calendar file and as a page, read back by other libraries.

use ical::IcalParser;
use time::macros::datetime;
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::care::{Pressed, care};
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;
use windrift_formats::calendar::{About, calendar};
use windrift_formats::care_sheet::care_sheet;
use windrift_formats::one_page::PageHeading;
use windrift_formats::packet::Paper;

use crate::files::poppler;

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
            climate: Default::default(),
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

/// As an independent reader sees it, line ends as blanks.
fn words_of(pdf: &[u8]) -> String {
    let text = poppler("pdftotext", &[], pdf);
    text.replace('\n', " ")
}

#[test]
fn the_page_for_the_owner_holds_every_date_on_one_sheet_of_either_paper() {
    let zone = Zone::named("America/Denver").unwrap();
    let piece = |n: u32| Pressed {
        called: format!("a piece with rather a long name, number {n}"),
        at: datetime!(2026-11-27 15:00 UTC),
        film: FilmClass::HullPrint.figures(),
        lies: n > 0,
        lying_years: None,
        climate: Default::default(),
        polish_after_weeks: None,
    };
    let pieces: Vec<Pressed> = (0..40).map(piece).collect();
    let dates = care(&pieces, &[], true, zone, Unit::InchSixteenth);
    assert_eq!(dates.len(), 7);
    let heading = PageHeading {
        shop: "Ternhaven Sign & Film",
        title: "Skiff",
        customer: "A customer",
        at: "27 Nov 2026",
    };
    let also = ["An edge that lifts: ring the shop.".to_owned()];
    for paper in [Paper::Letter, Paper::A4] {
        let page = care_sheet(&heading, &dates, &also, paper).unwrap();
        let text = words_of(&page);
        for words in dates.iter().flat_map(|d| [d.title, d.when.as_str()]) {
            assert!(text.contains(words), "{words}: {text}");
        }
        assert!(
            text.contains("ring the shop") && text.contains("and 38 more"),
            "{text}"
        );
        // One page: a form feed ends it.
        assert!(!text.contains("more stand under") && text.matches('\u{c}').count() == 1);
    }
    // What finds no room is said to be left out.
    let many: Vec<_> = std::iter::repeat_n(dates, 6).flatten().collect();
    let text = words_of(&care_sheet(&heading, &many, &also, Paper::A4).unwrap());
    assert!(text.contains("more stand under Hand over"), "{text}");
}
