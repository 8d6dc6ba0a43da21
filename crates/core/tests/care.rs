//! Dates for the owner, by hand over a clock change, and the hours that adhesive really had.

use time::macros::datetime;
use time::{Duration, OffsetDateTime};
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::call_back::rate;
use windrift_core::floor::care::{CareDate, CareWhat, Pressed, care, takes_hold_above};
use windrift_core::floor::prep::warm::AirAt;
use windrift_core::ground::climate::Climate;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;

fn pressed(class: FilmClass, at: OffsetDateTime) -> Pressed {
    Pressed {
        called: "side".into(),
        at,
        film: class.figures(),
        lies: false,
        lying_years: None,
        climate: Default::default(),
        polish_after_weeks: None,
    }
}

fn of(dates: &[CareDate], what: CareWhat) -> &CareDate {
    dates.iter().find(|d| d.what == what).unwrap()
}

#[test]
fn hours_pass_as_hours_over_a_clock_change() {
    // Pressed at 14:00 on the Saturday before clocks go back in Denver: 72 hours later it is 13:00 there.
    let zone = Zone::named("America/Denver").unwrap();
    let at = zone.at_wall_clock("2026-10-31T14:00").unwrap();
    let dates = care(
        &[pressed(FilmClass::CutLettering, at)],
        &[],
        false,
        zone,
        Unit::InchSixteenth,
    );
    assert_eq!(of(&dates, CareWhat::Wash).when, "3 Nov 2026 13:00");
    assert_eq!(of(&dates, CareWhat::Out).when, "1 Nov 2026 13:00");
    // Eight years for cut lettering, upright (common practice).
    assert_eq!(of(&dates, CareWhat::RemoveBy).when, "31 Oct 2034");
    // In Auckland it was the day after already.
    let there = care(
        &[pressed(FilmClass::CutLettering, at)],
        &[],
        false,
        Zone::named("Pacific/Auckland").unwrap(),
        Unit::Millimetre,
    );
    assert_eq!(of(&there, CareWhat::RemoveBy).when, "1 Nov 2034");
    assert!(
        of(&there, CareWhat::Out).says.contains("15 \u{b0}C")
            && of(&dates, CareWhat::Out).says.contains("59 \u{b0}F")
    );
}

#[test]
fn only_warm_hours_count_and_hours_that_nobody_read_are_said() {
    let start = datetime!(2026-11-27 8:00 UTC);
    let film = pressed(FilmClass::RemovableReflective, start);
    let warm = takes_hold_above(FilmClass::RemovableReflective) + 5.0;
    let every_hour = |celsius: &dyn Fn(i64) -> f64| -> Vec<AirAt> {
        (0..60)
            .map(|h| AirAt {
                at: start + Duration::hours(h),
                celsius: celsius(h),
            })
            .collect()
    };
    let holds = |air: &[AirAt]| {
        let dates = care(
            std::slice::from_ref(&film),
            air,
            false,
            Zone::UTC,
            Unit::Millimetre,
        );
        let d = of(&dates, CareWhat::Holds).clone();
        (d.at.unwrap() - start, d.says.contains("if it is kept"))
    };
    // 24 hours for this class: all of them warm.
    assert_eq!(holds(&every_hour(&|_| warm)), (Duration::hours(24), false));
    // Nine hours of a cold night do not count.
    let night = |h: i64| if (10..19).contains(&h) { 4.0 } else { warm };
    assert_eq!(holds(&every_hour(&night)), (Duration::hours(33), false));
    // Never read: as if it were warm, and said.
    assert_eq!(holds(&[]), (Duration::hours(24), true));
    // Read for six hours, cold for two of them; the rest is not known.
    let part: Vec<AirAt> = every_hour(&|h| if h < 2 { 3.0 } else { warm })[..6].to_vec();
    assert_eq!(holds(&part), (Duration::hours(26), true));
    // A reading holds for an hour: two that lie a day apart say little.
    let far = [
        AirAt {
            at: start,
            celsius: warm,
        },
        AirAt {
            at: start + Duration::hours(23),
            celsius: warm,
        },
    ];
    assert_eq!(holds(&far), (Duration::hours(24), true));
}

/// The shares are ours, from memory; whole months, rounded down. The reason says whose figure that is.
#[test]
fn film_in_harsh_sun_comes_off_sooner_and_says_why() {
    let start = datetime!(2026-02-28 12:00 UTC);
    let mild = pressed(FilmClass::CutLettering, start);
    let years = mild.film.upright_years.unwrap();
    let harsh = Pressed {
        climate: Climate::Harsh,
        ..mild.clone()
    };
    let by = |p: Pressed| {
        let dates = care(&[p], &[], false, Zone::UTC, Unit::Millimetre);
        of(&dates, CareWhat::RemoveBy).clone()
    };
    let days = |d: &CareDate| (d.at.unwrap() - start).as_seconds_f64() / 86_400.0 / 365.25;
    assert!((days(&by(mild)) - years).abs() < 0.01);
    let sooner = by(harsh);
    assert!((days(&sooner) - 0.6 * years).abs() < 0.1, "{sooner:?}");
    assert!(sooner.why.contains("ours from memory"), "{}", sooner.why);
}

#[test]
fn the_strictest_piece_decides_and_what_is_not_known_is_said() {
    let start = datetime!(2026-02-28 12:00 UTC);
    let lying = Pressed {
        called: "roof".into(),
        lies: true,
        ..pressed(FilmClass::CastPrint, start)
    };
    let kit = pressed(FilmClass::CutLettering, start - Duration::hours(5));
    let dates = care(
        &[kit.clone(), lying.clone()],
        &[],
        true,
        Zone::UTC,
        Unit::Millimetre,
    );
    let by = of(&dates, CareWhat::RemoveBy);
    assert!(
        by.when == "28 Feb 2034"
            && by
                .says
                .contains("No figure is at hand for \u{201c}roof\u{201d}")
    );
    assert_eq!(
        of(&dates, CareWhat::Water).at,
        Some(start + Duration::hours(72))
    );
    assert_eq!(of(&dates, CareWhat::Polish).when, "ask first");
    // Its own sheet: two and a half years lying, and no polish, whatever the other allows.
    let sheet = Pressed {
        lying_years: Some(2.5),
        polish_after_weeks: Some(0.0),
        ..lying
    };
    let other = Pressed {
        polish_after_weeks: Some(3.0),
        ..kit
    };
    let dates = care(
        &[other.clone(), sheet],
        &[],
        false,
        Zone::UTC,
        Unit::Millimetre,
    );
    assert_eq!(of(&dates, CareWhat::RemoveBy).when, "28 Aug 2028");
    assert_eq!(of(&dates, CareWhat::Polish).when, "never");
    assert!(dates.iter().all(|d| d.what != CareWhat::Water));
    let alone = care(
        std::slice::from_ref(&other),
        &[],
        false,
        Zone::UTC,
        Unit::Millimetre,
    );
    assert_eq!(
        of(&alone, CareWhat::Polish).at,
        Some(other.at + Duration::weeks(3))
    );
    // From a leap day to a year without one.
    let leap = pressed(FilmClass::CastPrint, datetime!(2028-02-29 9:00 UTC));
    let dates = care(&[leap], &[], false, Zone::UTC, Unit::Millimetre);
    assert_eq!(of(&dates, CareWhat::RemoveBy).when, "28 Feb 2033");
}

#[test]
fn how_often_film_comes_back_is_told_as_a_statistics_library_tells_it() {
    // Jeffreys' intervals by SciPy (tools/reference/floor.py).
    #[derive(serde::Deserialize)]
    struct Case {
        back: u32,
        all: u32,
        low: f64,
        high: f64,
    }
    #[derive(serde::Deserialize)]
    struct Data {
        came_back: Vec<Case>,
    }
    let data: Data = serde_json::from_str(include_str!("data/floor.json")).unwrap();
    assert!(data.came_back.len() > 5);
    for c in data.came_back {
        let found = rate("it", c.back, c.all).between;
        assert!(
            (found[0] - c.low).abs() < 1e-6 && (found[1] - c.high).abs() < 1e-6,
            "{found:?}"
        );
    }
    assert_eq!(rate("it", 0, 0).says, "it: none was laid yet.");
}
