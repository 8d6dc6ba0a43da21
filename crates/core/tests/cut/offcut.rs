//! What is left beside what was cut, against every rectangle there could be.

use proptest::prelude::*;
use windrift_core::cut::offcut::largest_free;

/// The largest free rectangle of whole units, by trying all of them.
fn by_hand(long: usize, wide: usize, taken: &[[usize; 4]], least: usize) -> usize {
    let covered = |x: usize, y: usize| {
        let over =
            |t: &[usize; 4]| (t[0]..t[0] + t[2]).contains(&x) && (t[1]..t[1] + t[3]).contains(&y);
        taken.iter().any(over)
    };
    let mut best = 0;
    for x0 in 0..long {
        for y0 in 0..wide {
            for x1 in x0 + least..=long {
                for y1 in y0 + least..=wide {
                    let free = (x0..x1).all(|x| (y0..y1).all(|y| !covered(x, y)));
                    if free {
                        best = best.max((x1 - x0) * (y1 - y0));
                    }
                }
            }
        }
    }
    best
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn none_is_larger_and_it_lies_on_nothing(
        long in 3usize..9, wide in 3usize..8,
        pieces in proptest::collection::vec((0usize..8, 0usize..7, 1usize..4, 1usize..4), 0..6),
    ) {
        // One unit is 160 mm: each is worth keeping by itself.
        const UNIT: f64 = 160.0;
        let taken: Vec<[usize; 4]> = pieces
            .into_iter()
            .filter(|(x, y, w, h)| x + w <= long && y + h <= wide)
            .map(|(x, y, w, h)| [x, y, w, h])
            .collect();
        let boxes: Vec<[f64; 4]> = taken.iter().map(|t| t.map(|n| n as f64 * UNIT)).collect();
        let found = largest_free(long as f64 * UNIT, wide as f64 * UNIT, &boxes, 0.0);
        let wanted = by_hand(long, wide, &taken, 1);
        let area = found.map_or(0.0, |r| r[2] * r[3] / UNIT / UNIT);
        prop_assert!((area - wanted as f64).abs() < 1e-6, "{area} for {wanted}: {taken:?}");
        if let Some([x, y, w, h]) = found {
            prop_assert!(x >= 0.0 && y >= 0.0 && x + w <= long as f64 * UNIT && y + h <= wide as f64 * UNIT);
            for t in boxes {
                prop_assert!(x + w <= t[0] || t[0] + t[2] <= x || y + h <= t[1] || t[1] + t[3] <= y);
            }
        }
    }
}

#[test]
fn a_gap_is_kept_and_strips_are_not_worth_it() {
    // 1200 by 900, a piece of 1200 by 600 with 10 mm kept off it: 290 by 1200.
    let one = [[0.0, 0.0, 1200.0, 600.0]];
    assert_eq!(
        largest_free(1200.0, 900.0, &one, 10.0),
        Some([0.0, 610.0, 1200.0, 290.0])
    );
    assert_eq!(largest_free(1200.0, 760.0, &one, 10.0), None);
    assert_eq!(
        largest_free(1200.0, 900.0, &[], 10.0),
        Some([0.0, 0.0, 1200.0, 900.0])
    );
    assert_eq!(largest_free(0.0, 900.0, &[], 10.0), None);
}
