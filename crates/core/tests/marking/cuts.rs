//! Cut lists: the order that wastes least against every order there is, and where each cut goes.

use proptest::prelude::*;
use windrift_core::marking::cut_list::{CutList, cut_list, least_waste};
use windrift_core::marking::{Strip, TapeColour};

use super::{runs, twelve};

/// The least that any order of all wastes.
fn by_every_order(cuts: &[(i64, i64)], left: &mut Vec<usize>, at: i64, module: i64) -> i64 {
    if left.is_empty() {
        return 0;
    }
    (0..left.len())
        .map(|slot| {
            let n = left.remove(slot);
            let (from, to) = cuts[n];
            let waste = (from - at).rem_euclid(module) + by_every_order(cuts, left, to, module);
            left.insert(slot, n);
            waste
        })
        .min()
        .unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn small_lists_waste_least_and_the_bound_holds(
        cuts in proptest::collection::vec((0_i64..12, 0_i64..12), 1..7),
        scale in 1_i64..3,
    ) {
        let module = 12 * scale;
        let cuts: Vec<(i64, i64)> = cuts.into_iter().map(|(a, b)| (a * scale, b * scale)).collect();
        let (order, least) = least_waste(&cuts, module);
        let mut sorted = order.clone();
        sorted.sort_unstable();
        prop_assert_eq!(sorted, (0..cuts.len()).collect::<Vec<_>>());
        let mut at = 0;
        let mut waste = 0;
        for n in order {
            waste += (cuts[n].0 - at).rem_euclid(module);
            at = cuts[n].1;
        }
        let all = by_every_order(&cuts, &mut (0..cuts.len()).collect(), 0, module);
        prop_assert_eq!((waste, least), (all, all));
        // Many at once are ordered by the nearest that follows; what they are told to waste at least is never more than they do.
        let many: Vec<(i64, i64)> = (0..40).map(|n| { let c = cuts[n % cuts.len()]; (c.0, (c.1 + n as i64) % module) }).collect();
        let (order, bound) = least_waste(&many, module);
        let (mut at, mut waste) = (0, 0);
        for n in order {
            waste += (many[n].0 - at).rem_euclid(module);
            at = many[n].1;
        }
        prop_assert!(bound <= waste, "{bound} {waste}");
    }
}

/// Orders of cuts as a general integer-programming solver finds them (HiGHS; `tools/reference/cuts.py`).
#[test]
fn orders_of_cuts_waste_what_a_general_solver_says() {
    #[derive(serde::Deserialize)]
    struct Case {
        module: i64,
        cuts: Vec<(i64, i64)>,
        least: i64,
    }
    #[derive(serde::Deserialize)]
    struct File {
        cases: Vec<Case>,
    }
    let file: File = serde_json::from_str(include_str!("../data/cuts.json")).unwrap();
    assert!(file.cases.len() >= 100);
    for case in file.cases {
        let (_, least) = least_waste(&case.cuts, case.module);
        assert_eq!(least, case.least, "{:?} of {}", case.cuts, case.module);
    }
}

fn strip(start: f64, colours: &[(TapeColour, f64)]) -> Strip {
    Strip {
        start_mm: start.into(),
        centre_mm: 1000.0.into(),
        width_mm: 50.8.into(),
        runs: runs(colours),
        upright: false,
        split_mm: None,
        reflectors: None,
        element: Default::default(),
    }
}

/// What comes off the roll, laid in the order of the list and each the way it says, is the layout: white never lies where red was planned.
fn laid(list: &CutList) -> Vec<(f64, Vec<(TapeColour, f64)>)> {
    let mut at = 0.0;
    let module = list.stock.module_mm();
    let mut all: Vec<(f64, Vec<(TapeColour, f64)>)> = (list.cuts.iter())
        .map(|c| {
            at += c.skipped_mm;
            assert!(
                (at.rem_euclid(module) - c.into_pattern_mm.rem_euclid(module)).abs() < 1e-6
                    || (at.rem_euclid(module) - module).abs() < 1e-6
            );
            at += c.length_mm;
            let mut runs: Vec<(TapeColour, f64)> = c
                .runs
                .iter()
                .map(|r| (r.colour, r.length_mm.mm()))
                .collect();
            if c.turned {
                runs.reverse();
            }
            (c.at_mm, runs)
        })
        .collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    all
}

#[test]
fn a_strip_that_begins_at_the_other_colour_is_turned_round_and_wastes_nothing() {
    use TapeColour::{Red, White};
    let strips = [
        strip(0.0, &[(Red, 304.8), (White, 304.8)]),
        strip(1500.0, &[(White, 304.8), (Red, 304.8)]),
        strip(3000.0, &[(Red, 304.8), (White, 304.8)]),
    ];
    let lists = cut_list(&strips, &twelve());
    assert_eq!(lists.len(), 1);
    assert!(
        lists[0].waste_mm.abs() < 1e-6 && lists[0].least_waste_mm.abs() < 1e-6,
        "{lists:?}"
    );
    let turned: Vec<u32> = lists[0]
        .cuts
        .iter()
        .filter(|c| c.turned)
        .map(|c| c.strip)
        .collect();
    assert_eq!(turned, [2]);
    let found = laid(&lists[0]);
    for (strip, (at, runs)) in strips.iter().zip(found) {
        assert!((strip.start_mm.mm() - at).abs() < 1e-6);
        let wanted: Vec<(TapeColour, f64)> = strip
            .runs
            .iter()
            .map(|r| (r.colour, r.length_mm.mm()))
            .collect();
        assert_eq!(runs, wanted);
    }
}
