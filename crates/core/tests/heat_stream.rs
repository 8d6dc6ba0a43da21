//! A thermometer that reads on by itself: nothing is said to have reached that nobody measured, and no cold spot is walked over.
//!
//! Walks are made up here with a hand that is uneven and a panel that is known; what is told is held against that panel. How far a reading vouches and how uneven a
//! hand is are Windrift's own.

use proptest::prelude::*;
use windrift_core::film::classes::Span;
use windrift_core::floor::heat::stream::{MarkAt, RawReading, TRAILS_S, is_believed, leg, off_by};
use windrift_core::floor::heat::{Reached, Stretch, VOUCHES_MM, covered, first_gap};

const WANTED: Span = Span {
    from: 85.0,
    to: 90.0,
};
const FOOT: f64 = 304.8;

/// Marks at each foot and readings of a hand that swings by `uneven` about its pace between each two of them.
fn walked(
    length: f64,
    pace: f64,
    uneven: f64,
    hertz: f64,
    panel: impl Fn(f64) -> f64,
) -> (Vec<MarkAt>, Vec<RawReading>) {
    // The last one lies at the end, not nearer than a quarter foot to the one before.
    let feet = ((length / FOOT - 0.25).ceil() as usize).max(1);
    let slips: Vec<f64> = (0..feet).map(|n| n as f64 * FOOT).chain([length]).collect();
    // Within a foot the place swings once about the even pace: by at most `uneven` of the way to the nearer mark.
    let place = |seconds: f64| {
        let even = seconds * pace;
        let last = slips.windows(2).rposition(|w| w[0] <= even).unwrap_or(0);
        let (from, way) = (slips[last], slips[last + 1] - slips[last]);
        let u = ((even - from) / way).clamp(0.0, 1.0);
        from + way * (u + uneven * u.min(1.0 - u) * (9.0 * u).sin())
    };
    let marks = slips.iter().map(|mm| MarkAt {
        at_s: mm / pace,
        along_mm: *mm,
    });
    let raw = (0..((length / pace + 3.0) * hertz) as usize).map(|n| {
        let at_s = n as f64 / hertz;
        RawReading {
            at_s,
            celsius: panel(place((at_s - TRAILS_S).max(0.0))),
        }
    });
    (marks.collect(), raw.collect())
}

fn told(length: f64, marks: &[MarkAt], raw: &[RawReading]) -> Vec<Stretch> {
    let legs = marks.windows(2).filter_map(|w| leg(w[0], w[1], raw));
    let read: Vec<_> = legs.flat_map(|l| l.readings).collect();
    covered(length, &read, WANTED, 110.0)
}

proptest! {
    #[test]
    fn no_cold_spot_is_walked_over_and_nothing_hot_is_made_up(
        feet in 1.0..6.0f64,
        pace in 2.0..20.0f64,
        uneven in -0.1..0.1f64,
        cold in (0.0..1.0f64, 10.0..200.0f64),
    ) {
        let length = feet * FOOT;
        let (middle, wide) = (cold.0 * length, cold.1);
        let panel = |mm: f64| if (mm - middle).abs() < wide / 2.0 { 70.0 } else { 88.0 };
        let (marks, raw) = walked(length, pace, uneven, 10.0, panel);
        let found = told(length, &marks, &raw);
        let slack = VOUCHES_MM + off_by(FOOT) + 12.7;
        for s in &found {
            let all = |is: &dyn Fn(f64) -> bool| (0..=20).map(|n| s.from_mm + (s.to_mm - s.from_mm) * f64::from(n) / 20.0).all(is);
            match s.is {
                // Wherever it is said to have reached, something so near was hot.
                Reached::Reached => prop_assert!(all(&|mm| (mm - middle).abs() > wide / 2.0 - slack)),
                Reached::NotReached => prop_assert!(all(&|mm| (mm - middle).abs() < wide / 2.0 + slack)),
                Reached::NotMeasured => prop_assert!(false, "read ten times a second, and not measured: {s:?}"),
                Reached::Passed => prop_assert!(false, "nothing was so hot"),
            }
        }
        // A spot of an inch or more within the run is never missed.
        if wide > 26.0 && middle > 40.0 && middle < length - 40.0 {
            prop_assert!(first_gap(&found).is_some());
        }
    }

    #[test]
    fn whatever_is_sent_is_no_reason_to_fall_over(
        marks in proptest::collection::vec((-1e4..1e4f64, 0.0..5e3f64), 2..6),
        raw in proptest::collection::vec((-1e4..1e4f64, -20.0..400.0f64), 0..60),
    ) {
        let marks: Vec<MarkAt> = marks.iter().map(|(at_s, along_mm)| MarkAt { at_s: *at_s, along_mm: *along_mm }).collect();
        let raw: Vec<RawReading> = raw.iter().map(|(at_s, celsius)| RawReading { at_s: *at_s, celsius: *celsius }).collect();
        let found = told(2000.0, &marks, &raw);
        prop_assert!((found.last().unwrap().to_mm - 2000.0).abs() < 1e-9);
    }
}

#[test]
fn what_nobody_read_is_not_measured() {
    let warm = |_: f64| 88.0;
    // Marks four feet apart: in the middle nobody knows the place well enough.
    let (_, raw) = walked(4.0 * FOOT, 5.0, 0.0, 10.0, warm);
    let far = [0.0, 4.0 * FOOT].map(|mm| MarkAt {
        at_s: mm / 5.0,
        along_mm: mm,
    });
    let found = told(4.0 * FOOT, &far, &raw);
    let gap = first_gap(&found).unwrap();
    assert_eq!(gap.is, Reached::NotMeasured);
    assert!((gap.from_mm..gap.to_mm).contains(&(2.0 * FOOT)));
    // The thermometer falls silent after half a foot: an inch past that is vouched for, and no more.
    let (marks, mut raw) = walked(FOOT, 5.0, 0.0, 10.0, warm);
    raw.retain(|r| (r.at_s - TRAILS_S) * 5.0 < FOOT / 2.0);
    let gap = *first_gap(&told(FOOT, &marks, &raw)).unwrap();
    assert!(gap.from_mm > FOOT / 2.0 && gap.from_mm <= FOOT / 2.0 + VOUCHES_MM);
    assert!((gap.to_mm - FOOT).abs() < 1e-9);
    // Walked back from the far mark, the places are the same.
    let (marks, raw) = walked(
        FOOT,
        5.0,
        0.0,
        10.0,
        |mm| if mm < 60.0 { 70.0 } else { 88.0 },
    );
    let back: Vec<MarkAt> = marks
        .iter()
        .map(|m| MarkAt {
            along_mm: FOOT - m.along_mm,
            ..*m
        })
        .collect();
    let found = told(FOOT, &back, &raw);
    assert_eq!(found.last().unwrap().is, Reached::NotReached);
    // One that jumps is one reading of a stretch, and passes its ceiling there.
    let (marks, mut raw) = walked(FOOT, 5.0, 0.0, 10.0, warm);
    raw[300].celsius = 130.0;
    let found = told(FOOT, &marks, &raw);
    assert_eq!(found.iter().filter(|s| s.is == Reached::Passed).count(), 1);
}

#[test]
fn a_thermometer_that_jumps_is_not_believed_and_nobody_walks_backwards_in_time() {
    let at = |at_s, celsius| RawReading { at_s, celsius };
    assert!(!is_believed(Some(at(0.0, 80.0)), at(0.9, 290.0)));
    assert!(!is_believed(Some(at(0.0, 250.0)), at(0.1, 20.0)));
    assert!(is_believed(Some(at(0.0, 80.0)), at(1.5, 290.0)));
    let mark = |at_s, along_mm| MarkAt { at_s, along_mm };
    for (from, to) in [
        (mark(10.0, 0.0), mark(10.0, 300.0)),
        (mark(10.0, 0.0), mark(5.0, 300.0)),
        (mark(0.0, 0.0), mark(1.0, 5000.0)),
        (mark(0.0, 0.0), mark(9000.0, 300.0)),
        (mark(0.0, 50.0), mark(60.0, 50.0)),
    ] {
        assert_eq!(leg(from, to, &[at(12.0, 80.0)]), None);
    }
}
