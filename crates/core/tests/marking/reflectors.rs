//! Rows of reflex reflectors in place of sheeting (49 CFR 571.108 S8.2.2, from memory): each fault is told under its own clause alone.

use std::collections::BTreeSet;

use windrift_core::ground::mm::Mm;
use windrift_core::marking::face_marking::{ReadStrip, Unread};
use windrift_core::marking::reflectors::Reflectors;
use windrift_core::marking::{Audited, RuleSet, Strip, TapeColour};

use super::{Case, box_side, marking_of, twelve};

/// Rows in place of every strip of the line of the best layout of a 48 ft side: 4 ft each, 14 reflectors, 93.8 mm apart.
fn rows(asked: &Case, change: impl Fn(&mut Reflectors)) -> Vec<Strip> {
    let mut row = Reflectors {
        count: 14,
        of_a_colour: 2,
        widest_mm: Some(Mm::from(96.0)),
        marked: Some(true),
    };
    change(&mut row);
    (asked.best().into_iter())
        .map(|s| Strip {
            runs: row.runs(s.length_mm(), TapeColour::White, false),
            reflectors: Some(row),
            ..s
        })
        .collect()
}

fn asked(set: RuleSet) -> Case {
    Case::of(box_side(14_630.4), set, marking_of(twelve()))
}

/// Clauses that are not kept, but for those that the best layout does not keep either.
fn failed(asked: &Case, strips: &[Strip]) -> BTreeSet<String> {
    let told = |strips: &[Strip]| -> BTreeSet<String> {
        let found = asked.audit(strips).into_iter();
        let failed = found.filter(|f| matches!(f.audited, Audited::Fail | Audited::ReasonNeeded));
        failed.map(|f| f.key).collect()
    };
    told(strips)
        .difference(&told(&asked.best()))
        .cloned()
        .collect()
}

#[test]
fn rows_that_keep_the_rule_are_kept_and_each_fault_is_told_alone() {
    for set in [RuleSet::UnitedStatesNew, RuleSet::UnitedStatesInUse] {
        let asked = asked(set);
        let only = |key: &str| BTreeSet::from([format!("line.{key}")]);
        assert_eq!(failed(&asked, &rows(&asked, |_| {})), BTreeSet::new());
        // 4 ft over 11 spaces: 110.8 mm.
        assert_eq!(
            failed(&asked, &rows(&asked, |r| r.count = 12)),
            only("reflector_pitch")
        );
        // Even on average, and one space too wide.
        assert_eq!(
            failed(
                &asked,
                &rows(&asked, |r| r.widest_mm = Some(Mm::from(101.0)))
            ),
            only("reflector_pitch")
        );
        // Four of a colour; and one left over at the end.
        for wrong in [
            |r: &mut Reflectors| r.of_a_colour = 4,
            |r: &mut Reflectors| r.count = 15,
        ] {
            assert_eq!(
                failed(&asked, &rows(&asked, wrong)),
                only("reflector_pattern")
            );
        }
        assert_eq!(
            failed(&asked, &rows(&asked, |r| r.marked = Some(false))),
            only("reflector_mark")
        );
        // Half of them gone: the share is not kept.
        let fewer: Vec<Strip> = rows(&asked, |_| {}).into_iter().step_by(2).collect();
        assert!(failed(&asked, &fewer).contains("line.side_share"));
    }
}

#[test]
fn what_nobody_has_looked_at_is_neither_kept_nor_broken() {
    let asked = asked(RuleSet::UnitedStatesNew);
    let strips = rows(&asked, |r| (r.widest_mm, r.marked) = (None, None));
    for key in [
        "line.reflector_pitch",
        "line.reflector_mark",
        "line.reflector_light",
    ] {
        let found = asked.finding(&strips, key);
        assert_eq!(found.audited, Audited::Look, "{key}: {}", found.measured);
    }
    // What is asked of tape is not asked where there is none.
    let keys: Vec<String> = asked.audit(&strips).into_iter().map(|f| f.key).collect();
    for key in ["line.width", "line.segments", "line.colours"] {
        assert!(!keys.iter().any(|k| k == key), "{key}");
    }
}

/// Sheeting and rows on one side: each keeps its own rules, and the side's half is covered by both.
#[test]
fn sheeting_and_rows_are_combined() {
    let asked = asked(RuleSet::UnitedStatesNew);
    let mut both = asked.best();
    let rows = rows(&asked, |_| {});
    for n in [1, 3, 5] {
        both[n] = rows[n].clone();
    }
    assert_eq!(failed(&asked, &both), BTreeSet::new());
    both[0].width_mm = 40.0.into();
    assert_eq!(failed(&asked, &both), BTreeSet::from(["line.width".into()]));
}

/// The UN set knows tape alone: rows are counted for nothing, and that is said.
#[test]
fn rows_count_for_nothing_where_the_set_does_not_know_them() {
    let asked = asked(RuleSet::Unece);
    let strips = rows(&asked, |_| {});
    assert_eq!(
        asked.finding(&strips, "line.reflectors").audited,
        Audited::Look
    );
    let share = asked.finding(&strips, "line.side_share");
    assert!(share.measured.contains(": 0.0 %"), "{}", share.measured);
}

/// 13 reflectors of three and two and so on: the colours change midway, and a row is as long as it was read.
#[test]
fn colours_of_a_row_change_midway() {
    let row = Reflectors {
        count: 7,
        of_a_colour: 3,
        widest_mm: None,
        marked: None,
    };
    let runs: Vec<(TapeColour, f64)> = (row.runs(600.0, TapeColour::Red, false).into_iter())
        .map(|r| (r.colour, r.length_mm.mm()))
        .collect();
    assert_eq!(
        runs,
        [
            (TapeColour::Red, 250.0),
            (TapeColour::White, 300.0),
            (TapeColour::Red, 50.0)
        ]
    );
    for (count, of, widest) in [
        (1, 2, None),
        (12, 0, None),
        (12, 2, Some(Mm::from(f64::NAN))),
    ] {
        let bad = Reflectors {
            count,
            of_a_colour: of,
            widest_mm: widest,
            marked: None,
        };
        assert!(bad.check().is_err());
    }
}

/// What is still unread keeps its number, and so do those after it: an audit names each as the list of readings does.
#[test]
fn readings_keep_their_numbers() {
    let mut asked = asked(RuleSet::UnitedStatesNew);
    let strips = rows(&asked, |r| r.marked = Some(false));
    let mut read: Vec<ReadStrip> = strips.iter().map(ReadStrip::of).collect();
    read[1].unread = Unread::ALL;
    read[2].missing = true;
    asked.marking.read_back = Some(read);
    let numbers = asked.marking.numbers_read();
    assert_eq!(numbers[..3], [1, 4, 5]);
    let found = asked.audit_numbered(&asked.marking.strips_read(), &numbers);
    let mark = found.iter().find(|f| f.key == "line.reflector_mark");
    assert_eq!(mark.map(|f| &f.strips), Some(&numbers));
}
