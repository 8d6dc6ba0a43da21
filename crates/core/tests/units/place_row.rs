//! `place::row` by itself.

use windrift_core::place::row::*;

#[test]
fn gaps_are_equal_where_nothing_is_between() {
    let places = equal_gaps(&[100.0, 200.0, 300.0], 1000.0, &[], 1.0);
    assert_eq!(places, Some(vec![100.0, 300.0, 600.0]));
    assert_eq!(equal_gaps(&[600.0, 500.0], 1000.0, &[], 1.0), None);
}

#[test]
fn a_keep_out_pushes_pieces_no_more_than_it_must() {
    // Evenly the second piece would stand at 450..550; a door takes 500..700.
    let places = equal_gaps(&[100.0, 100.0, 100.0], 1000.0, &[(500.0, 700.0)], 0.5);
    let places = places.unwrap_or_default();
    assert!(
        places
            .iter()
            .all(|p| *p + 100.0 <= 500.0 + 1e-6 || *p >= 700.0 - 1e-6),
        "{places:?}"
    );
    let found = spread(&[100.0; 3], 1000.0, &places);
    // By hand: pieces at 133.3, 266.7+100, then the third. Brute force over whole mm bounds it.
    let mut least = f64::INFINITY;
    for a in 0..=900 {
        for b in (a + 100)..=900 {
            if b + 100 > 500 && b < 700 || a + 100 > 500 && a < 700 {
                continue;
            }
            for c in (b + 100)..=900 {
                if c + 100 > 500 && c < 700 {
                    continue;
                }
                least = least.min(spread(
                    &[100.0; 3],
                    1000.0,
                    &[f64::from(a), f64::from(b), f64::from(c)],
                ));
            }
        }
    }
    assert!(found <= least + 0.5, "{found} against {least}");
}
