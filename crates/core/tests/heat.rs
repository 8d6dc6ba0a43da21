//! What must reach its temperature, and what is known to have: against by-hand cases and facts of the trade.

use proptest::prelude::*;
use windrift_core::art::Art;
use windrift_core::art::printed_panel::PrintedPanel;
use windrift_core::film::classes::{FilmClass, Span};
use windrift_core::floor::edges::SealWith;
use windrift_core::floor::heat::runs::{RunOf, after_laying};
use windrift_core::floor::heat::{
    HeatEntry, Reached, ReadAt, VOUCHES_MM, covered, first_gap, reached_share, stand,
};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::{Finish, Material, Surface};

const WANTED: Span = Span {
    from: 85.0,
    to: 90.0,
};

proptest! {
    #[test]
    fn every_place_is_what_the_readings_that_vouch_for_it_say(
        length in 1.0..3000.0f64,
        readings in proptest::collection::vec((0.0..3000.0f64, 20.0..130.0f64), 0..25),
        at in 0.0..1.0f64,
    ) {
        let read: Vec<ReadAt> = readings.iter().map(|(a, c)| ReadAt::seen(*a, *c)).collect();
        let found = covered(length, &read, WANTED, 110.0);
        // From beginning to end, without a gap, no two alike beside each other.
        prop_assert!(found[0].from_mm == 0.0 && (found.last().unwrap().to_mm - length).abs() < 1e-9);
        for w in found.windows(2) {
            prop_assert!((w[0].to_mm - w[1].from_mm).abs() < 1e-9 && w[0].is != w[1].is);
        }
        let mm = at * length;
        let here = found.iter().find(|s| s.from_mm <= mm && mm <= s.to_mm).unwrap();
        let vouch: Vec<f64> = readings.iter().filter(|(a, _)| (a - mm).abs() < VOUCHES_MM).map(|(_, c)| *c).collect();
        let edge = readings.iter().any(|(a, _)| ((a - mm).abs() - VOUCHES_MM).abs() < 1e-6);
        let wanted = match vouch.last() {
            _ if vouch.iter().any(|c| *c > 110.0) => Reached::Passed,
            None => Reached::NotMeasured,
            Some(c) if *c >= 85.0 => Reached::Reached,
            Some(_) => Reached::NotReached,
        };
        prop_assert!(edge || here.is == wanted, "{here:?} for {wanted:?}");
        // Never more is said to have reached than readings can vouch for.
        let most = readings.len() as f64 * 2.0 * VOUCHES_MM / length;
        prop_assert!(reached_share(&found) <= most.min(1.0) + 1e-9);
    }
}

#[test]
fn a_run_is_whole_only_when_it_was_read_everywhere() {
    // 12 in: readings every 2 in vouch for all of it; one left out is a gap of 2 in.
    let every = |n: usize| (n as f64 * 2.0 + 1.0) * 25.4;
    let all: Vec<ReadAt> = (0..6).map(|n| ReadAt::seen(every(n), 88.0)).collect();
    let whole = covered(304.8, &all, WANTED, 110.0);
    assert_eq!((whole.len(), whole[0].is), (1, Reached::Reached));
    assert!(first_gap(&whole).is_none());
    let mut five = all.clone();
    five.remove(3);
    let gap = covered(304.8, &five, WANTED, 110.0);
    let gap = first_gap(&gap).unwrap();
    assert!((gap.from_mm - 6.0 * 25.4).abs() < 1e-9 && (gap.to_mm - 8.0 * 25.4).abs() < 1e-9);
    // Passed once is not made good by a good reading afterwards.
    let mut burnt = all;
    burnt.insert(0, ReadAt::seen(every(2), 140.0));
    let found = covered(304.8, &burnt, WANTED, 110.0);
    assert!(found.iter().any(|s| s.is == Reached::Passed));
}

#[test]
fn a_reading_after_it_was_closed_opens_it_again() {
    let read = HeatEntry::Read {
        run: "recess 1".into(),
        along_mm: 100.0.into(),
        celsius: 60.0,
        pace_mm_s: None,
        over: None,
    };
    let closed = HeatEntry::Closed {
        run: "recess 1".into(),
        reason: Some("the edge is behind a bracket".into()),
        of: 3,
        raw: None,
    };
    let once = stand(&[read.clone(), closed.clone()]);
    assert!(once.closed.contains_key("recess 1") && once.of == 3);
    assert!(stand(&[read.clone(), closed, read]).closed.is_empty());
    for wrong in [
        HeatEntry::Read {
            run: "a".into(),
            along_mm: 10.0.into(),
            celsius: 900.0,
            pace_mm_s: None,
            over: None,
        },
        HeatEntry::Read {
            run: "a".into(),
            along_mm: 10.0.into(),
            celsius: -300.0,
            pace_mm_s: None,
            over: None,
        },
        HeatEntry::Closed {
            run: "a".into(),
            reason: Some(" ".into()),
            of: 0,
            raw: None,
        },
    ] {
        assert!(wrong.check().is_err());
    }
}

fn asks(class: FilmClass, surface: Surface) -> windrift_core::floor::heat::runs::AfterLaying {
    let body = Body::Box {
        length_mm: 6000.0.into(),
        height_mm: 2000.0.into(),
        fall_mm: 0.0.into(),
    };
    let side = Side::new(SideKind::Left, body, surface);
    let measured = measure(&side, &[]).unwrap();
    let print = PrintedPanel {
        name: "side".into(),
        width_mm: 1500.0.into(),
        height_mm: 700.0.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: vec![],
    };
    let place = PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0);
    let mut piece = Piece::new(Art::Panel(print), place);
    piece.work.film = Some(class);
    let settings = WorkSettings::default();
    let planned = plan_piece(
        Default::default(),
        &piece,
        &measured,
        &settings,
        Unit::Millimetre,
    )
    .unwrap();
    let today = time::macros::date!(2026 - 11 - 27);
    after_laying(
        &planned,
        &measured,
        &surface.verdict(today),
        &settings,
        Unit::Millimetre,
    )
}

#[test]
fn what_must_reach_what_follows_the_film_and_never_passes_the_face() {
    // Common practice, no source: prints 185 to 195 °F, engineer-grade 230 to 248 °F, prismatic strip none, heat-set film warmed all over and again.
    let steel = Surface::of(Material::PaintedSteel);
    let cast = asks(FilmClass::CastPrint, steel);
    assert_eq!(cast.runs.len(), 1);
    assert!(
        (cast.runs[0].wanted.from - 85.0).abs() < 0.1
            && (cast.runs[0].wanted.to - 90.6).abs() < 0.1
    );
    assert!(cast.runs[0].cannot.is_none());
    assert!(asks(FilmClass::ConspicuityStrip, steel).runs.is_empty());
    let set = asks(FilmClass::HeatSetPrint, steel);
    assert_eq!(
        (set.runs[0].of, set.runs[0].wanted.from),
        (RunOf::Whole, 40.0)
    );
    let grade = asks(FilmClass::EngineerReflective, steel);
    assert_eq!(grade.runs[0].of, RunOf::Whole);
    assert!((grade.runs[1].wanted.from - 110.0).abs() < 0.1);
    // Sprayed paint stands 80 °C by Windrift's own figure, gelcoat 70: neither a cast print nor engineer-grade film gets its heat there.
    let sprayed = Surface {
        finish: Finish::Resprayed,
        ..steel
    };
    for surface in [
        sprayed,
        Surface::of(Material::Gelcoat),
        Surface::of(Material::Glass),
    ] {
        for run in asks(FilmClass::CastPrint, surface).runs {
            assert!(
                run.cannot.is_some()
                    && run.ceiling_celsius <= 80.0
                    && run.says.starts_with("Not by heat"),
                "{}",
                run.says
            );
        }
    }
    // Its marks do not heal by heat there either: no pass over all of it is asked for that cannot be walked.
    let grade = asks(FilmClass::EngineerReflective, sprayed);
    assert!(grade.runs.iter().all(|r| r.of != RunOf::Whole));
    assert!(grade.says.iter().any(|s| s.contains("leave them")));
    // A hull print is sealed all round, after its heat.
    let hull = asks(FilmClass::HullPrint, Surface::of(Material::Gelcoat));
    let sealed: f64 = hull.seals.iter().map(|s| s.length.mm).sum();
    assert!((sealed - 4400.0).abs() < 1.0);
    assert!(
        hull.says
            .iter()
            .any(|s| s.contains("Heat first, sealer after"))
    );
    assert!(cast.seals.is_empty());
    assert!(
        hull.seals
            .iter()
            .all(|s| s.with == SealWith::Sealer && s.ml > 0.0 && s.how.contains("top rail"))
    );
    // A coat goes over it only where its own sheet has one, after everything else.
    assert!(hull.seals.iter().all(|s| s.with != SealWith::Coat));
    // Nothing anywhere is planned past 150 °C.
    for class in FilmClass::ALL {
        for material in Material::ALL {
            for run in asks(class, Surface::of(material)).runs {
                assert!(run.ceiling_celsius <= 150.0);
            }
        }
    }
}
