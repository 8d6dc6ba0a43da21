//! Old film off: rates against numerical integration, ranges against made jobs, methods against the facts of the trade.

use proptest::prelude::*;
use serde::Deserialize;
use time::macros::{date, datetime};
use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::floor::strip::finish::{Remains, cases, done_by, shared};
use windrift_core::floor::strip::method::{RemovalWay, removal};
use windrift_core::floor::strip::old::{
    ColdCorner, CountedIn, Faced, MOST_CELLS, OldGraphic, OldKind,
};
use windrift_core::floor::strip::rate::{PatchAs, Phase, Rate, Timed, priors};
use windrift_core::floor::strip::{Left, Patch, ShopJobs, StripEntry, check_patch, rates, stand};
use windrift_core::floor::wet::{Wet, WetPlace, heat_locked};
use windrift_core::ground::hours::ShopHours;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;
use windrift_core::vehicle::surface::{Finish, Material, Surface};

use crate::common::Lcg;

#[derive(Deserialize)]
struct Reference {
    rates: Vec<RateCase>,
}

#[derive(Deserialize)]
struct RateCase {
    prior: f64,
    patches: Vec<[f64; 2]>,
    seconds: [f64; 3],
}

fn old(kind: OldKind, letters: Option<u32>) -> OldGraphic {
    OldGraphic {
        side: Uuid::nil(),
        piece: None,
        name: "old name".into(),
        kind,
        age_years: 4.0,
        faced: Faced::Shade,
        under: None,
        lies_on: None,
        unknown_paint: false,
        cold_corner: ColdCorner::NotTried,
        back_mm: 300.0.into(),
        drop_mm: 400.0.into(),
        width_mm: 2000.0.into(),
        height_mm: 500.0.into(),
        letters,
        own_minutes: None,
    }
}

fn timed(seconds: f64, amount: f64) -> Timed {
    Timed {
        seconds,
        amount,
        stands_for: PatchAs::Typical,
    }
}

#[test]
fn the_update_is_what_integrating_prior_times_likelihood_gives() {
    // Reference: numerical integration with SciPy, tools/reference/floor.py; no conjugate formula in it.
    let data: Reference = serde_json::from_str(include_str!("data/floor.json")).unwrap();
    assert!(data.rates.len() >= 12);
    for case in data.rates {
        let seen: Vec<Timed> = case.patches.iter().map(|p| timed(p[0], p[1])).collect();
        let rate = Rate::prior(case.prior, CountedIn::Letters).with(&seen);
        for (p, wanted) in [0.1, 0.5, 0.9].into_iter().zip(case.seconds) {
            let found = rate.quantile(p);
            assert!(
                (found / wanted - 1.0).abs() < 0.005,
                "{p} of {:?}: {found} for {wanted}",
                case.patches
            );
        }
    }
}

/// How far apart one case in ten and nine in ten lie, as a logarithm.
fn wide(rate: &Rate) -> f64 {
    (rate.quantile(0.9) / rate.quantile(0.1)).ln()
}

proptest! {
    #[test]
    fn patches_that_agree_never_widen_the_range(
        seconds in 2.0..2000.0f64, prior in 5.0..900.0f64, weight in 0.2..3.0f64, many in 1usize..12,
    ) {
        let amount = weight * CountedIn::Metres.patch();
        let same = vec![timed(seconds * amount, amount); many + 1];
        let rate = Rate::prior(prior, CountedIn::Metres);
        prop_assert!(wide(&rate.with(&same)) <= wide(&rate.with(&same[1..])) + 1e-9);
    }

    #[test]
    fn one_at_the_median_never_widens_it(prior in 5.0..900.0f64, weight in 0.2..5.0f64, before in 0.2..5.0f64) {
        let amount = weight * CountedIn::Metres.patch();
        let rate = Rate::prior(prior, CountedIn::Metres).with(&[timed(prior * 1.7 * before, before)]);
        let at_median = timed(rate.quantile(0.5) * amount, amount);
        prop_assert!(wide(&rate.with(&[at_median])) < wide(&rate) * 1.0001);
    }

    #[test]
    fn one_four_times_slower_than_the_first_widens_it(prior in 5.0..900.0f64) {
        let rate = Rate::prior(prior, CountedIn::Letters);
        let first = timed(prior * 5.0, 5.0);
        let second = timed(prior * 20.0, 5.0);
        prop_assert!(wide(&rate.with(&[first, second])) > wide(&rate.with(&[first])));
    }
}

#[test]
fn nine_in_ten_holds_in_two_thousand_made_jobs() {
    let mut random = Lcg(20_261_127);
    let prior = Rate::prior(30.0, CountedIn::Letters);
    let (jobs, mut held) = (2_000, 0);
    for job in 0..jobs {
        // Drawn as the prior says jobs are: variance, mean, then patches and every letter by itself.
        let variance = prior.beta / random.gamma(3);
        let mean = prior.mean + random.normal() * (variance / prior.kappa).sqrt();
        let mut take = |amount: f64| {
            let sd = (variance * CountedIn::Letters.patch() / amount).sqrt();
            amount * (mean + sd * random.normal()).exp()
        };
        let patches: Vec<Timed> = (0..job % 4).map(|_| timed(take(5.0), 5.0)).collect();
        let cells = 40;
        let real: f64 = (0..cells).map(|_| take(1.0)).sum();
        let remains = Remains {
            rate: prior.with(&patches),
            cells: vec![1.0; cells],
        };
        let told = cases(&[remains], job as u64).hands_on();
        held += usize::from(real <= told.ninety);
    }
    let share = held as f64 / jobs as f64;
    assert!((0.87..=0.93).contains(&share), "{share}");
}

#[test]
fn a_shops_own_jobs_become_the_prior_and_say_so_little_where_they_are_few() {
    let ours = Rate::prior(60.0, CountedIn::Metres);
    let slower = 2f64.ln();
    let one = ours.learnt(&[(slower, 0.05)]);
    let ten = ours.learnt(&[(slower, 0.05); 10]);
    assert!(60.0 < one.quantile(0.5) && one.quantile(0.5) < ten.quantile(0.5));
    assert!(ten.quantile(0.5) > 110.0 && ten.quantile(0.5) < 120.0);
    assert!(wide(&ten) < wide(&one) && wide(&one) < wide(&ours));
    // By hand, two normals: shared variance 0.27, between jobs 0.09, the job's own 0.05.
    let precision = 1.0 / 0.27 + 1.0 / 0.14;
    let middle = slower / 0.14 / precision;
    assert!((one.mean - (60f64.ln() + middle)).abs() < 1e-9);
    assert!((0.1225 / one.kappa - (1.0 / precision + 0.09)).abs() < 1e-9);
    // What the shop says of this graphic itself stands before that.
    let mut graphic = old(OldKind::Stripe, None);
    graphic.own_minutes = Some(3.0);
    let found = stand(&[(Uuid::from_u128(1), StripEntry::Found(graphic))]);
    let jobs = ShopJobs::from([(
        (OldKind::Stripe, CountedIn::Metres),
        vec![[Some((slower, 0.05)), None]; 10],
    )]);
    let (film, adhesive) = rates(&found.old[0], Material::PaintedSteel, &jobs);
    assert!((film.quantile(0.5) + adhesive.quantile(0.5) - 180.0).abs() < 1e-6);
}

#[test]
fn what_is_done_counts_once_and_what_is_not_done_is_taken_back() {
    let id = Uuid::from_u128(1);
    let entry = |n: u128, e: StripEntry| (Uuid::from_u128(n), e);
    let done = |phase, cells: &[u32], seconds| StripEntry::Done {
        old: id,
        phase,
        cells: cells.into(),
        seconds,
    };
    let entries = [
        entry(1, StripEntry::Found(old(OldKind::CutLettering, Some(10)))),
        entry(2, done(Phase::Film, &[0, 1, 1, 99], Some(40.0))),
        entry(3, done(Phase::Film, &[1], Some(40.0))),
        entry(4, done(Phase::Adhesive, &[2], None)),
        entry(
            5,
            StripEntry::NotDone {
                old: id,
                phase: Phase::Film,
                cells: vec![0],
            },
        ),
    ];
    let strip = stand(&entries);
    let o = &strip.old[0];
    // 99 is none of it; 2 is clean, and has no film on it either; 0 was taken back.
    assert_eq!(o.film_off.iter().copied().collect::<Vec<_>>(), [1, 2]);
    assert_eq!(o.clean.iter().copied().collect::<Vec<_>>(), [2]);
    // A part that was done already says nothing of how long it takes.
    assert_eq!(o.worked.len(), 1);
    assert_eq!((o.worked[0].1.amount, o.worked[0].1.seconds), (2.0, 40.0));
    let (film, adhesive) = priors(&o.graphic, Material::PaintedSteel);
    let [f, a] = o.remains(film, adhesive);
    assert_eq!((f.cells.len(), a.cells.len()), (8, 9));
    assert!(!o.is_off());
    // Another size is another set of parts.
    let changed = StripEntry::Changed {
        old: id,
        graphic: old(OldKind::CutLettering, Some(12)),
    };
    let mut more = entries.to_vec();
    more.push(entry(6, changed));
    assert!(stand(&more).old[0].film_off.is_empty());
}

#[test]
fn parts_come_to_the_whole_and_never_too_many() {
    for (kind, letters, w, h) in [
        (OldKind::CutLettering, Some(23), 2000.0, 200.0),
        (OldKind::Print, None, 16_000.0, 2_700.0),
        (OldKind::Stripe, None, 12_345.0, 80.0),
        (OldKind::PermanentReflective, None, 390.0, 120.0),
    ] {
        let mut g = old(kind, letters);
        (g.width_mm, g.height_mm) = (w.into(), h.into());
        let cells = g.cells();
        let sum: f64 = cells.iter().map(|c| c.amount).sum();
        assert!((sum - g.amount()).abs() < 1e-6 && cells.len() <= MOST_CELLS);
        let last = cells.last().unwrap();
        assert!((last.back[1] - 300.0 - w).abs() < 1e-6 && (last.down[1] - 400.0 - h).abs() < 1e-6);
    }
}

#[test]
fn how_it_comes_off_follows_the_trade() {
    // Common practice, no source: cold first; young film warm and pulled; old film in chips; glass under a blade and no heat.
    let today = date!(2026 - 11 - 27);
    let ways = |g: &OldGraphic, s: &Surface| -> Vec<RemovalWay> {
        let plan = removal(g, s, 2400.0, today, None, Unit::Millimetre);
        plan.ways.iter().map(|w| w.way).collect()
    };
    let steel = Surface::of(Material::PaintedSteel);
    use RemovalWay::*;
    let mut g = old(OldKind::Print, None);
    assert_eq!(
        ways(&g, &steel),
        [PeelCold, Lamp, WarmAndPull, ChipWarm, Remover]
    );
    g.cold_corner = ColdCorner::Tears;
    assert_eq!(ways(&g, &steel), [Lamp, WarmAndPull, ChipWarm, Remover]);
    g.cold_corner = ColdCorner::Chips;
    assert_eq!(ways(&g, &steel), [ChipWarm, Remover]);
    assert_eq!(
        ways(&g, &Surface::of(Material::Glass)),
        [WetScrape, Remover]
    );
    // 15 years in the sun is brittle before anybody tried; a corner that came whole takes that back.
    let mut aged = old(OldKind::CutLettering, Some(12));
    (aged.age_years, aged.faced) = (15.0, Faced::Sun);
    assert!(aged.brittle());
    aged.cold_corner = ColdCorner::Whole;
    assert!(!aged.brittle());
    // Half the sun's years lying are as old.
    let mut roof = old(OldKind::Print, None);
    (roof.age_years, roof.faced) = (3.0, Faced::Lying);
    assert!(roof.brittle());
}

#[test]
fn no_surface_is_planned_hotter_than_it_stands() {
    let today = date!(2026 - 11 - 27);
    for material in Material::ALL {
        let surface = Surface::of(material);
        let plan = removal(
            &old(OldKind::Print, None),
            &surface,
            2400.0,
            today,
            None,
            Unit::Millimetre,
        );
        let ceiling = f64::from(surface.verdict(today).ceiling_celsius);
        assert!(plan.ceiling_celsius <= ceiling && plan.ceiling_celsius <= 150.0);
        assert!(
            plan.heat
                .contains(&format!("{:.0} °C", plan.ceiling_celsius))
        );
        // A gun's aim is never above the ceiling either.
        for w in plan.ways.iter().filter(|w| w.heat && w.says.contains("°C")) {
            let words = w.says.split_whitespace().collect::<Vec<_>>();
            let at = words.iter().position(|w| w.starts_with("°C")).unwrap();
            let degrees: f64 = words[at - 1].parse().unwrap();
            assert!(degrees <= ceiling, "{material:?}: {}", w.says);
        }
    }
    let fresh = Surface {
        finish: Finish::Resprayed,
        sprayed_on: Some(date!(2026 - 11 - 1)),
        ..Surface::of(Material::PaintedSteel)
    };
    let plan = removal(
        &old(OldKind::Print, None),
        &fresh,
        2400.0,
        today,
        None,
        Unit::Millimetre,
    );
    assert!(plan.never.iter().any(|n| n.contains("not cured")));
    assert!(plan.ceiling_celsius <= 80.0);
    let mut lead = old(OldKind::CutLettering, Some(4));
    lead.unknown_paint = true;
    let plan = removal(
        &lead,
        &Surface::of(Material::PaintedWood),
        2400.0,
        today,
        None,
        Unit::Millimetre,
    );
    assert!(plan.never[0].contains("lead") && plan.never[0].contains("no sanding"));
}

#[test]
fn patches_that_tell_nothing_are_refused() {
    let g = old(OldKind::Print, None);
    let patch = |amount: f64, film_seconds: f64| Patch {
        old: Uuid::nil(),
        stands_for: PatchAs::Worst,
        amount,
        film_seconds,
        adhesive_seconds: None,
        left: Left::None,
        ghost: false,
        photo: None,
    };
    assert!(check_patch(&patch(0.1, 60.0), &g, Unit::Millimetre).is_ok());
    assert!(
        check_patch(&patch(0.001, 60.0), &g, Unit::Millimetre)
            .unwrap_err()
            .sentence
            .contains("tells nothing")
    );
    assert!(
        check_patch(&patch(50.0, 60.0), &g, Unit::Millimetre)
            .unwrap_err()
            .sentence
            .contains("a part of that")
    );
    for (amount, seconds, field) in [
        (0.0, 60.0, "amount"),
        (f64::NAN, 60.0, "amount"),
        (0.1, 0.0, "film_seconds"),
        (0.1, -3.0, "film_seconds"),
        (0.1, f64::INFINITY, "film_seconds"),
    ] {
        let found = StripEntry::Patch(patch(amount, seconds))
            .check()
            .unwrap_err();
        assert_eq!(found.field, field);
    }
    let mut never = g.clone();
    never.age_years = -1.0;
    assert_eq!(
        StripEntry::Found(never).check().unwrap_err().field,
        "age_years"
    );
    let mut letters = g;
    letters.letters = Some(3);
    assert_eq!(
        StripEntry::Found(letters).check().unwrap_err().field,
        "letters"
    );
}

#[test]
fn work_ends_within_the_shops_hours_over_breaks_nights_and_a_clock_change() {
    let hours = ShopHours::default();
    let end = |from: OffsetDateTime, h: f64, zone| done_by(from, h * 3600.0, &hours, zone).unwrap();
    // Tuesday 7:00, an hour: from 7:30.
    let tuesday = datetime!(2026-11-24 7:00 UTC);
    assert_eq!(end(tuesday, 1.0, Zone::UTC), datetime!(2026-11-24 8:30 UTC));
    // Exactly two hours need no break; a minute more has one before it.
    assert_eq!(end(tuesday, 2.0, Zone::UTC), datetime!(2026-11-24 9:30 UTC));
    assert_eq!(
        end(tuesday, 2.0 + 1.0 / 60.0, Zone::UTC),
        datetime!(2026-11-24 9:46 UTC)
    );
    // Nine hours by the clock, four breaks of a quarter: eight of work; the ninth on Wednesday.
    assert_eq!(end(tuesday, 9.0, Zone::UTC), datetime!(2026-11-25 8:30 UTC));
    // Clocks go back on Sunday, 1 November 2026, in Denver: Friday 16:00 there is 22:00 UTC, Monday 7:30 is 14:30 UTC.
    let denver = Zone::named("America/Denver").unwrap();
    let friday = datetime!(2026-10-30 22:00 UTC);
    assert_eq!(end(friday, 1.0, denver), datetime!(2026-11-02 15:00 UTC));
    // Two pairs of hands at four fifths: 1.8 of one.
    assert!((shared(3600.0, 2, 0.8) - 2000.0).abs() < 1e-9);
}

#[test]
fn heat_waits_for_the_last_that_is_wet_and_not_for_a_fire_watch() {
    let at = datetime!(2026-11-27 10:00 UTC);
    let place = |wet, minutes_ago| WetPlace {
        wet,
        place: "bow".into(),
        since: at - Duration::minutes(minutes_ago),
    };
    let wet = [
        place(Wet::Alcohol, 1),
        place(Wet::Remover, 5),
        place(Wet::Flame, 10),
    ];
    assert_eq!(heat_locked(&wet, at).unwrap().wet, Wet::Remover);
    assert!(heat_locked(&wet, at + Duration::minutes(10)).is_none());
    assert_eq!(wet[2].until(), at + Duration::minutes(50));
}
