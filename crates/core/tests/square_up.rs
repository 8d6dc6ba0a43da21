//! Squaring up photos against OpenCV's homographies (tools/reference/photos.py).

use kurbo::Point;
use proptest::prelude::*;
use serde_json::Value;
use windrift_core::ground::homography::Homography;

fn points(value: &Value) -> Vec<Point> {
    value
        .as_array()
        .unwrap()
        .iter()
        .map(|p| Point::new(p[0].as_f64().unwrap(), p[1].as_f64().unwrap()))
        .collect()
}

fn through(from: &[Point], to: &[Point]) -> Option<Homography> {
    Homography::through(&[0, 1, 2, 3].map(|n| (from[n], to[n])))
}

#[test]
fn forty_maps_agree_with_opencv() {
    let table: Value = serde_json::from_str(include_str!("data/square_up.json")).unwrap();
    let cases = table["cases"].as_array().unwrap();
    assert_eq!(cases.len(), 40);
    for case in cases {
        let map = through(&points(&case["side"]), &points(&case["seen"])).unwrap();
        for (probe, expected) in points(&case["probes"])
            .into_iter()
            .zip(points(&case["mapped"]))
        {
            let mapped = map.map(probe).unwrap();
            // OpenCV refines its answer until it is within about 1e-3 px.
            assert!(mapped.distance(expected) < 0.01, "{mapped:?} {expected:?}");
        }
    }
}

proptest! {
    #[test]
    fn there_and_back_is_the_same_point(
        corners in proptest::array::uniform4((-0.2..0.2_f64, -0.2..0.2_f64)),
        x in 0.0..1.0_f64,
        y in 0.0..1.0_f64,
    ) {
        let square = [(0.0, 0.0), (4000.0, 0.0), (4000.0, 2000.0), (0.0, 2000.0)].map(|(x, y)| Point::new(x, y));
        let seen: Vec<Point> = square
            .iter()
            .zip(corners)
            .map(|(p, (dx, dy))| Point::new((p.x / 4000.0 + dx) * 1600.0, (p.y / 2000.0 + dy) * 900.0))
            .collect();
        let there = through(&square, &seen).unwrap();
        let back = through(&seen, &square).unwrap();
        let p = Point::new(x * 4000.0, y * 2000.0);
        let again = there.map(p).and_then(|q| back.map(q));
        prop_assert!(again.is_some_and(|q| q.distance(p) < 1e-5));
    }
}
