//! Warm, dry and clean: dew points against the psychrometric tables, warming against a general fit and made series, the gate against its rules.

use proptest::prelude::*;
use serde::Deserialize;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};
use windrift_core::film::classes::Span;
use windrift_core::floor::drift::beside;
use windrift_core::floor::prep::clean::{Been, CleanAsk, cleaning};
use windrift_core::floor::prep::dew::dew_point;
use windrift_core::floor::prep::door::{ahead, openings, recovery};
use windrift_core::floor::prep::gate::{
    AirRead, Gate, GateAsk, PanelSpot, ReadBy, Stands, SurfaceRead, gate,
};
use windrift_core::floor::prep::open_air::{OpenAir, Rain, Sun, WeatherRead, Wind, pull};
use windrift_core::floor::prep::warm::{AirAt, PanelAt, warming};
use windrift_core::floor::wet::Wet;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::surface::{Finish, Material, Surface};

use crate::common::Lcg;

#[derive(Deserialize)]
struct Reference {
    dew: Vec<[f64; 3]>,
    warming: Vec<WarmCase>,
    doors: Vec<DoorCase>,
}

#[derive(Deserialize)]
struct DoorCase {
    read: Vec<f64>,
    minutes: f64,
}

#[derive(Deserialize)]
struct WarmCase {
    first: f64,
    air: f64,
    minutes: Vec<f64>,
    read: Vec<f64>,
    after_two_hours: f64,
}

fn reference() -> Reference {
    serde_json::from_str(include_str!("data/floor.json")).unwrap()
}

const NOW: OffsetDateTime = datetime!(2026-11-27 10:00 UTC);
const WINDOW: Span = Span {
    from: 18.0,
    to: 24.0,
};

#[test]
fn dew_points_are_those_of_the_psychrometric_tables() {
    // Hyland and Wexler's saturation pressure, through PsychroLib 2.5.0: tools/reference/floor.py. Over water, off 0 °C.
    let table = reference().dew;
    assert!(table.len() > 200);
    for [celsius, humidity, wanted] in table {
        let found = dew_point(celsius, humidity).unwrap();
        assert!(
            (found - wanted).abs() < 0.1,
            "{celsius} {humidity}: {found} for {wanted}"
        );
    }
    for wrong in [(20.0, 140.0), (20.0, 0.0), (300.0, 50.0), (f64::NAN, 50.0)] {
        assert!(dew_point(wrong.0, wrong.1).is_none());
    }
}

fn series(first: f64, minutes: &[f64], read: &[f64]) -> Vec<PanelAt> {
    let at = |m: f64| NOW + Duration::seconds_f64(m * 60.0);
    let start = PanelAt {
        at: NOW,
        celsius: first,
        error: 0.3,
    };
    let later = minutes.iter().zip(read).map(|(m, c)| PanelAt {
        at: at(*m),
        celsius: *c,
        error: 0.3,
    });
    std::iter::once(start).chain(later).collect()
}

#[test]
fn warming_is_foretold_as_a_general_fit_does() {
    // SciPy's solve_ivp and least_squares with the same prior: tools/reference/floor.py.
    for case in reference().warming {
        let panel = series(case.first, &case.minutes, &case.read);
        let last = panel.last().unwrap().at;
        let air = [AirAt {
            at: NOW,
            celsius: case.air,
        }];
        let found = warming(&air, None, &panel, Material::PaintedSteel, WINDOW, last, 3).unwrap();
        assert!(!found.prior_only);
        // Eight quarters of an hour from the last reading on.
        let [low, middle, high] = found.path[8];
        assert!(
            (middle - case.after_two_hours).abs() < 0.45,
            "{middle} for {}",
            case.after_two_hours
        );
        assert!(low <= middle && middle <= high);
    }
}

#[test]
fn eight_in_ten_holds_on_two_hundred_made_series() {
    let mut random = Lcg(71);
    let (mut held, mut all) = (0, 0);
    for n in 0..200u64 {
        // Drawn round the prior of painted steel, run in steps of one second, read every 20 minutes for two hours and 40 minutes.
        let first = 1.0 + 9.0 * random.next();
        let air = 20.0 + 3.0 * random.next();
        let skin_minutes = (8f64.ln() + 0.5 * random.normal()).exp();
        let body_minutes = (150f64.ln() + 0.6 * random.normal()).exp();
        let share = 1.0 / (1.0 + (-((0.7f64 / 0.3).ln() + 0.6 * random.normal())).exp());
        let (mut skin, mut body) = (first, first + 3.0 * random.normal());
        let reads = [20.0, 40.0, 60.0, 80.0, 100.0, 120.0, 140.0, 160.0];
        let (mut taken, mut came) = (Vec::new(), None);
        for second in 1..(20 * 3600) {
            let target = share * air + (1.0 - share) * body;
            skin += (target - skin) / (skin_minutes * 60.0);
            body += (air - body) / (body_minutes * 60.0);
            let minutes = f64::from(second) / 60.0;
            if taken.len() < reads.len() && minutes >= reads[taken.len()] {
                taken.push(skin + 0.3 * random.normal());
            }
            if came.is_none() && skin >= 18.0 {
                came = Some(minutes);
            }
        }
        let Some(came) = came else { continue };
        // Foretold after as many readings as there are before it comes in.
        let before = reads.iter().filter(|m| **m < came).count();
        let panel = series(
            first + 0.3 * random.normal(),
            &reads[..before],
            &taken[..before],
        );
        let last = panel.last().unwrap().at;
        let air = [AirAt {
            at: NOW,
            celsius: air,
        }];
        let found = warming(&air, None, &panel, Material::PaintedSteel, WINDOW, last, n).unwrap();
        let came = NOW + Duration::seconds_f64(came * 60.0);
        all += 1;
        held += usize::from(
            found.earliest.is_some_and(|e| e <= came) && found.latest.is_none_or(|l| l >= came),
        );
    }
    let share = f64::from(held as u32) / f64::from(all);
    assert!(
        all >= 190 && (0.70..=0.90).contains(&share),
        "{share} of {all}"
    );
}

#[test]
fn a_cold_hall_never_warms_it_and_says_so() {
    let air = [AirAt {
        at: NOW,
        celsius: 12.0,
    }];
    let panel = series(6.0, &[], &[]);
    let found = warming(&air, None, &panel, Material::Gelcoat, WINDOW, NOW, 1).unwrap();
    assert!(found.never && found.prior_only && found.middle.is_none());
    assert!(warming(&[], None, &panel, Material::Gelcoat, WINDOW, NOW, 1).is_none());
    assert!(warming(&air, None, &[], Material::Gelcoat, WINDOW, NOW, 1).is_none());
}

/// Everything as it should be.
fn ready<'a>(surface: &'a [SurfaceRead]) -> GateAsk<'a> {
    GateAsk {
        window: Some(WINDOW),
        film: "cast print",
        surface,
        air: Some(AirRead {
            celsius: 21.0,
            humidity: 45.0,
            at: NOW,
        }),
        bright_metal: false,
        came_in: Some(NOW - Duration::hours(30)),
        open_air: None,
        paint_fresh: false,
        unclean: &[],
        hardens: &[],
        promoter_open: &[],
        promoter_until: None,
        prints: Some(Some(NOW - Duration::hours(1))),
        hands: true,
        still_on: &[],
        refuses: &[],
        now: NOW,
        unit: Unit::Millimetre,
    }
}

fn three(celsius: f64, by: ReadBy) -> Vec<SurfaceRead> {
    PanelSpot::ALL
        .map(|spot| SurfaceRead {
            spot,
            by,
            celsius,
            at: NOW - Duration::minutes(5),
        })
        .into()
}

fn stands(gate: &Gate, key: &str) -> Stands {
    let lines = gate.lines.iter().filter(|l| l.key == key);
    lines.map(|l| l.stands).max().unwrap()
}

/// Something that is not as it should be.
type Change = Box<dyn Fn(&mut GateAsk<'_>)>;

#[test]
fn the_gate_says_yes_only_where_everything_holds() {
    let warm = three(20.0, ReadBy::Infrared);
    assert_eq!(gate(&ready(&warm)).stands, Stands::In);
    let dirty = ["wipe".to_owned()];
    let open = ["edge".to_owned()];
    let refuses = [("Glass that the driver looks through.".to_owned(), true)];
    let changes: Vec<(&str, Change, Stands)> = vec![
        ("air", Box::new(|a| a.air = None), Stands::Unknown),
        (
            "acclimatised",
            Box::new(|a| a.came_in = None),
            Stands::Unknown,
        ),
        (
            "acclimatised",
            Box::new(|a| a.came_in = Some(NOW - Duration::hours(3))),
            Stands::Near,
        ),
        ("paint", Box::new(|a| a.paint_fresh = true), Stands::Out),
        ("hands", Box::new(|a| a.hands = false), Stands::Unknown),
        (
            "prints",
            Box::new(|a| a.prints = Some(None)),
            Stands::Unknown,
        ),
        (
            "prints",
            Box::new(|a| a.prints = Some(Some(NOW + Duration::hours(2)))),
            Stands::Out,
        ),
        (
            "promoter",
            Box::new(|a| a.promoter_until = Some(NOW + Duration::minutes(4))),
            Stands::Out,
        ),
        ("panel", Box::new(|a| a.window = None), Stands::Out),
    ];
    for (key, change, wanted) in changes {
        let mut ask = ready(&warm);
        change(&mut ask);
        let found = gate(&ask);
        assert_eq!(
            (stands(&found, key), found.stands),
            (wanted, wanted),
            "{key}"
        );
        // The worst stands first.
        assert_eq!(found.lines[0].stands, wanted);
    }
    let mut ask = ready(&warm);
    ask.unclean = &dirty;
    assert_eq!(gate(&ask).stands, Stands::Unknown);
    let mut ask = ready(&warm);
    ask.promoter_open = &open;
    assert_eq!(gate(&ask).stands, Stands::Near);
    let mut ask = ready(&warm);
    let soft = ["fill, until 14:20".to_owned()];
    ask.hardens = &soft;
    let found = gate(&ask);
    assert!(found.stands == Stands::Out && found.lines[0].says.contains("until 14:20"));
    let mut ask = ready(&warm);
    ask.refuses = &refuses;
    let found = gate(&ask);
    assert!(found.never && found.stands == Stands::Out && found.lines[0].says.contains("driver"));
}

#[test]
fn bright_metal_lies_and_three_points_are_wanted() {
    // A 9 °C panel in a 21 °C hall reads 20 through an infrared thermometer set for paint: nothing of it is believed.
    let lies = three(20.0, ReadBy::Infrared);
    let mut ask = ready(&lies);
    ask.bright_metal = true;
    let found = gate(&ask);
    assert_eq!(found.stands, Stands::Unknown);
    assert!(found.lines.iter().any(|l| l.says.contains("masking tape")));
    let probed = three(9.0, ReadBy::Probe);
    let mut ask = ready(&probed);
    ask.bright_metal = true;
    assert_eq!(stands(&gate(&ask), "panel"), Stands::Out);
    // Two points, or three of the same kind, or old ones, are not enough.
    let two = &three(20.0, ReadBy::Probe)[..2];
    assert_eq!(stands(&gate(&ready(two)), "panel"), Stands::Unknown);
    let mut same = three(20.0, ReadBy::Probe);
    same.iter_mut().for_each(|r| r.spot = PanelSpot::Field);
    assert_eq!(stands(&gate(&ready(&same)), "panel"), Stands::Unknown);
    let mut stale = three(20.0, ReadBy::Probe);
    stale
        .iter_mut()
        .for_each(|r| r.at = NOW - Duration::hours(1));
    assert_eq!(stands(&gate(&ready(&stale)), "panel"), Stands::Unknown);
    // The coldest of the three decides.
    let mut cold_foot = three(20.0, ReadBy::Probe);
    cold_foot[1].celsius = 14.0;
    assert_eq!(stands(&gate(&ready(&cold_foot)), "panel"), Stands::Out);
}

#[test]
fn the_dew_point_is_kept_off_by_three_degrees() {
    // 21 °C and 90 %: dew point 19.3 °C by the tables. ISO 8502-4 asks 3 °C of paint.
    let warm = three(20.0, ReadBy::Probe);
    let with = |humidity: f64| {
        let mut ask = ready(&warm);
        ask.air = Some(AirRead {
            celsius: 21.0,
            humidity,
            at: NOW,
        });
        gate(&ask)
    };
    assert_eq!(stands(&with(90.0), "dew"), Stands::Out);
    // 80 %: 17.4 °C, 2.6 above: near.
    assert_eq!(stands(&with(80.0), "dew"), Stands::Near);
    assert_eq!(stands(&with(70.0), "dew"), Stands::In);
}

#[test]
fn winds_are_those_of_the_beaufort_scale_and_pull_as_a_plate_is_pulled() {
    // World Meteorological Organization, Manual on Codes, No. 306: the speed of a number is 0.836 of its power of 3/2, m/s; from memory.
    for (n, pair) in (2u32..).zip(Wind::ALL.windows(2)) {
        let middle = 0.836 * f64::from(n).powf(1.5);
        assert!(
            pair[0].fastest() < middle && middle < pair[1].fastest(),
            "{n}"
        );
    }
    // ISO 2533: 61.25 Pa at 10 m/s. Twice the wind pulls four times, twice the sheet twice.
    assert!((pull(1e6, 10.0) / 1.2 - 61.25).abs() < 1e-9);
    assert!((pull(2e6, 20.0) / pull(1e6, 10.0) - 8.0).abs() < 1e-9);
}

/// In a yard: what was seen now.
fn yard(wind: Wind, rain: Rain, sun: Sun) -> OpenAir {
    OpenAir {
        weather: Some(WeatherRead {
            wind,
            rain,
            at: NOW,
        }),
        sun: Some((sun, NOW)),
        elsewhere_celsius: None,
        largest_mm2: 0.5e6,
    }
}

#[test]
fn in_a_yard_wind_rain_and_sun_are_asked_and_no_hall() {
    let surface = three(21.0, ReadBy::Probe);
    let with = |open: OpenAir| {
        let mut ask = ready(&surface);
        (ask.came_in, ask.open_air) = (None, Some(open));
        gate(&ask)
    };
    let calm = yard(Wind::Light, Rain::Dry, Sun::Nowhere);
    // Nobody is asked for a hall; that nothing settles is advice.
    assert_eq!(stands(&with(calm), "acclimatised"), Stands::Near);
    assert_eq!(with(calm).stands, Stands::Near);
    // Dust and loose paper fly from Beaufort 4 on.
    for (wind, wanted) in [
        (Wind::Gentle, Stands::In),
        (Wind::Moderate, Stands::Near),
        (Wind::Fresh, Stands::Out),
        (Wind::Gale, Stands::Out),
    ] {
        let found = with(yard(wind, Rain::Dry, Sun::Nowhere));
        assert_eq!(stands(&found, "wind"), wanted, "{wind:?}");
    }
    // By hand: 1.2 × 0.5 × 1.225 × 5.4² is 21.4 N to the square metre; one holds 40 N, two 80.
    for (square_metres, wanted) in [(1.8, Stands::In), (3.7, Stands::Near), (3.8, Stands::Out)] {
        let found = with(OpenAir {
            largest_mm2: square_metres * 1e6,
            ..yard(Wind::Gentle, Rain::Dry, Sun::Nowhere)
        });
        assert_eq!(stands(&found, "wind"), wanted, "{square_metres}");
    }
    for (rain, wanted) in Rain::ALL
        .into_iter()
        .zip([Stands::In, Stands::Near, Stands::Out])
    {
        let found = with(yard(Wind::Calm, rain, Sun::Nowhere));
        assert_eq!(stands(&found, "rain"), wanted, "{rain:?}");
    }
    // What was seen half an hour ago says nothing of now.
    let mut old = calm;
    old.sun = Some((Sun::Nowhere, NOW - Duration::minutes(31)));
    assert_eq!(stands(&with(old), "sun"), Stands::Unknown);
    old.weather = None;
    assert_eq!(stands(&with(old), "wind"), Stands::Unknown);
}

#[test]
fn in_the_sun_readings_count_for_ten_minutes_and_both_sides_are_read() {
    let mut surface = three(21.0, ReadBy::Probe);
    for read in &mut surface {
        read.at = NOW - Duration::minutes(12);
    }
    let with = |sun: Sun, elsewhere: Option<f64>| {
        let mut ask = ready(&surface);
        ask.open_air = Some(OpenAir {
            elsewhere_celsius: elsewhere,
            ..yard(Wind::Calm, Rain::Dry, sun)
        });
        gate(&ask)
    };
    assert_eq!(stands(&with(Sun::Nowhere, None), "panel"), Stands::In);
    assert_eq!(stands(&with(Sun::Here, None), "panel"), Stands::Unknown);
    assert_eq!(stands(&with(Sun::Here, None), "sun"), Stands::Near);
    assert_eq!(stands(&with(Sun::Elsewhere, None), "sun"), Stands::Near);
    let both = with(Sun::Elsewhere, Some(38.0));
    assert_eq!(stands(&both, "sun"), Stands::In);
    let says = &both.lines.iter().find(|l| l.key == "sun").unwrap().says;
    assert!(says.contains("38 °C, 17.0 °C more"), "{says}");
}

proptest! {
    #[test]
    fn it_never_says_yes_with_something_unknown(
        air in proptest::bool::ANY, hall in proptest::bool::ANY, hands in proptest::bool::ANY,
        prints in proptest::bool::ANY, points in 0usize..4, dirty in proptest::bool::ANY,
        celsius in -5.0..35.0f64, humidity in 5.0..99.0f64, open in proptest::bool::ANY, seen in proptest::bool::ANY,
    ) {
        let surface = three(celsius, ReadBy::Probe);
        let unclean = vec!["wipe".to_owned(); usize::from(dirty)];
        let mut ask = ready(&surface[..points]);
        ask.unclean = &unclean;
        ask.air = air.then_some(AirRead { celsius: 21.0, humidity, at: NOW });
        if !hall { ask.came_in = None; }
        ask.hands = hands;
        if !prints { ask.prints = Some(None); }
        if open {
            let mut yard = yard(Wind::Calm, Rain::Dry, Sun::Nowhere);
            yard.weather = yard.weather.filter(|_| seen);
            ask.open_air = Some(yard);
        }
        let found = gate(&ask);
        let place = if open { seen } else { hall };
        let all = air && place && hands && prints && points == 3 && !dirty;
        prop_assert!(!open || found.stands > Stands::In);
        prop_assert!(all || found.stands > Stands::Near);
        prop_assert_eq!(found.stands, found.lines.iter().map(|l| l.stands).max().unwrap());
        if found.stands == Stands::In {
            prop_assert!((18.0..=24.0).contains(&celsius));
            prop_assert!(celsius - dew_point(21.0, humidity).unwrap() >= 3.0);
        }
    }
}

#[test]
fn cleaning_follows_what_it_is_and_where_it_has_been() {
    // Common practice, no source.
    let keys = |s: &Surface, been, wet| -> Vec<&'static str> {
        let steps = cleaning(&CleanAsk {
            surface: *s,
            been,
            wet,
            ..CleanAsk::default()
        });
        steps.iter().map(|s| s.key).collect()
    };
    let steel = Surface::of(Material::PaintedSteel);
    assert_eq!(
        keys(&steel, Been::OnTheRoad, true),
        ["wash", "cleaner", "alcohol", "edges", "fluid"]
    );
    assert_eq!(keys(&steel, Been::JustWashed, false), ["alcohol", "edges"]);
    let chalky = Surface {
        finish: Finish::Oxidised,
        ..Surface::of(Material::Gelcoat)
    };
    let order = keys(&chalky, Been::OnTheRoad, false);
    // Polish before the solvent that takes the polish off.
    assert_eq!(order, ["wash", "polish", "cleaner", "alcohol", "edges"]);
    let bare = Surface {
        protective_skin: true,
        ..steel
    };
    assert_eq!(keys(&bare, Been::New, false)[0], "skin");
    let steps = cleaning(&CleanAsk {
        surface: steel,
        masks: &["badge".into()],
        ..CleanAsk::default()
    });
    let cleaner = steps.iter().find(|s| s.key == "cleaner").unwrap();
    assert_eq!(
        (cleaner.dwell_seconds, cleaner.wet),
        (Some(45), Some(Wet::Cleaner))
    );
    assert!(
        steps
            .iter()
            .any(|s| s.key == "mask" && s.says.contains("badge"))
    );
}

fn minute_by_minute(read: &[f64]) -> Vec<AirRead> {
    let each = read.iter().zip(0i64..);
    each.map(|(celsius, m)| AirRead {
        celsius: *celsius,
        humidity: 50.0,
        at: NOW + Duration::minutes(m),
    })
    .collect()
}

#[test]
fn a_bay_comes_back_as_soon_as_a_general_fit_says() {
    // SciPy's curve_fit with level, step and time free: tools/reference/floor.py.
    for case in reference().doors {
        let air = minute_by_minute(&case.read);
        let found = openings(&air);
        assert_eq!(found.len(), 1, "{found:?}");
        let minutes = found[0].minutes.unwrap();
        assert!(
            (minutes / case.minutes - 1.0).abs() < 0.2,
            "{minutes} for {}",
            case.minutes
        );
        // One that was read draws what is supposed of any bay most of the way towards it.
        let learnt = recovery(&found);
        assert_eq!(learnt.openings, 1);
        assert!((learnt.minutes / minutes).ln().abs() < (20.0 / minutes).ln().abs() * 0.25 + 1e-9);
        // Opened once more: foretold ten minutes after the door was shut, an hour ahead, from what was learnt the first time.
        let twice: Vec<f64> = case.read.iter().chain(&case.read).copied().collect();
        let shut = found[0].at + Duration::minutes(case.read.len() as i64);
        let until = |minutes: i64| {
            let of = minute_by_minute(&twice).into_iter();
            of.filter(move |a| a.at <= shut + Duration::minutes(minutes))
                .collect::<Vec<AirRead>>()
        };
        let later = ahead(&until(10), shut + Duration::minutes(10)).unwrap();
        // A quick bay has told something of the second time already.
        assert!((1..=2).contains(&later.recovery.openings));
        let then = until(70).last().unwrap().celsius;
        assert!((later.celsius(60.0) - then).abs() < 1.2, "{later:?}");
    }
}

#[test]
fn air_that_changes_slowly_is_no_door_and_stays_as_it_is() {
    // Heating: 4 °C within two hours, with noise.
    let mut random = Lcg(5);
    let read: Vec<f64> = (0..240)
        .map(|m| 16.0 + f64::from(m.min(120)) / 30.0 + 0.15 * random.normal())
        .collect();
    let air = minute_by_minute(&read);
    assert!(openings(&air).is_empty());
    let later = ahead(&air, air[239].at).unwrap();
    assert!(!later.comes_back());
    assert!((later.celsius(600.0) - read[239]).abs() < 1e-9);
    assert_eq!(recovery(&openings(&air)).openings, 0);
    // A sensor that reads every quarter of an hour says nothing of how soon: the step alone is seen, and what is supposed holds.
    let few: Vec<AirRead> = [21.0, 21.0, 14.0, 19.0, 20.9]
        .iter()
        .zip(0i64..)
        .map(|(celsius, n)| AirRead {
            celsius: *celsius,
            humidity: 50.0,
            at: NOW + Duration::minutes(9 * n),
        })
        .collect();
    assert_eq!(openings(&few).len(), 1);
    assert_eq!(recovery(&openings(&few)).openings, 0);
    assert!(ahead(&[], NOW).is_none());
}

#[test]
fn warm_damp_air_that_comes_back_to_a_cold_skin_wets_it() {
    // 21 °C at 60 % before, 12 °C at 50 % now: the dew point rises from 1.9 to 12.9 °C as it comes back (psychrometric tables).
    let air: Vec<AirRead> = (0..45)
        .map(|m| {
            let open = m >= 30;
            AirRead {
                celsius: if open { 12.0 } else { 21.0 },
                humidity: if open { 50.0 } else { 60.0 },
                at: NOW + Duration::minutes(m),
            }
        })
        .collect();
    let later = ahead(&air, air[44].at).unwrap();
    assert!((later.dew(0.0).unwrap() - 1.9).abs() < 0.2);
    assert!((later.dew(600.0).unwrap() - 12.9).abs() < 0.2);
    let warmer = [0.0, 10.0, 20.0, 40.0, 80.0].map(|m| later.dew(m).unwrap());
    assert!(warmer.windows(2).all(|w| w[0] < w[1]));
    // Looked at twenty minutes after it was read last, it is twenty minutes further.
    let late = ahead(&air, air[44].at + Duration::minutes(20)).unwrap();
    assert!((late.celsius(0.0) - later.celsius(20.0)).abs() < 1e-9);
}

#[test]
fn a_sensor_that_drifts_is_told_by_the_next_reading_by_hand() {
    let sensor: Vec<f64> = (0..600).map(|m| 20.0 + f64::from(m) * 0.01).collect();
    let sensor = minute_by_minute(&sensor);
    let by_hand = |m: i64, celsius: f64| AirRead {
        celsius,
        humidity: 50.0,
        at: NOW + Duration::minutes(m),
    };
    let now = NOW + Duration::minutes(600);
    assert!(
        !beside(&sensor, &[by_hand(100, 20.1)], now)
            .unwrap()
            .is_off()
    );
    let off = beside(&sensor, &[by_hand(100, 20.1), by_hand(500, 20.1)], now).unwrap();
    assert!(off.is_off() && (off.celsius - 4.9).abs() < 0.1);
    assert_eq!(off.in_words(Unit::InchSixteenth), "8.8 °F more");
    // Damp air is compared too.
    let damp = AirRead {
        humidity: 75.0,
        ..by_hand(100, 21.0)
    };
    assert!(beside(&sensor, &[damp], now).unwrap().is_off());
    // What was read two days ago says nothing of it, and what was read while it was silent neither.
    assert!(beside(&sensor, &[by_hand(100, 20.1)], now + Duration::days(2)).is_none());
    assert!(beside(&sensor[..60], &[by_hand(500, 20.1)], now).is_none());
}

#[test]
fn rough_repairs_are_made_good_before_anything_is_wiped() {
    // Common practice, no source; hours by the tin, else ours.
    let keys = |material, repair| -> Vec<&'static str> {
        let steps = cleaning(&CleanAsk {
            surface: Surface::of(material),
            repair,
            ..CleanAsk::default()
        });
        steps.iter().map(|s| s.key).collect()
    };
    assert_eq!(
        keys(Material::PaintedWood, Some(true)),
        [
            "wash", "sand", "fill", "seal", "prime", "gloss", "cleaner", "alcohol", "edges"
        ]
    );
    // Whoever looked and found nothing is not asked again.
    assert!(keys(Material::PaintedWood, None).contains(&"wood"));
    assert!(!keys(Material::PaintedWood, Some(false)).contains(&"wood"));
    assert!(!keys(Material::PaintedSteel, Some(true)).contains(&"seal"));
    let steps = cleaning(&CleanAsk {
        surface: Surface::of(Material::PaintedSteel),
        repair: Some(true),
        arches: &["wheel arch 1".into()],
        ..CleanAsk::default()
    });
    let hardens = steps.iter().filter(|s| s.cures_hours.is_some());
    assert_eq!(hardens.count(), 3);
    // Primer and paint are as wet as any solvent: no heat beside them.
    let coats = steps.iter().filter(|s| s.wet == Some(Wet::Coat));
    assert_eq!(coats.map(|s| s.key).collect::<Vec<_>>(), ["prime", "gloss"]);
    assert!(steps[0].key == "reach" && steps[0].says.contains("wheel arch 1"));
    // New paint is as old as any other before film goes on: six weeks.
    let gloss = steps.iter().find(|s| s.key == "gloss").unwrap();
    assert_eq!(gloss.cures_hours, Some(6.0 * 7.0 * 24.0));
}
