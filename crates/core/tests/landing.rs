//! What film lands on, against shapely (table made by tools/reference/landing.py, from the font files alone) and against brute
//! force with the general geometry library geo on random heads.

use crate::common::{INCH, body, draw, features, lettering, piece};
use geo::line_intersection::{LineIntersection, line_intersection};
use geo::{Contains, Distance, Euclidean, Line, LineString, MultiPolygon, Polygon};
use kurbo::Point;
use proptest::prelude::*;
use serde_json::Value;
use uuid::Uuid;
use windrift_core::art::drawn::Drawn;
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::landing::{HeadState, LineState, head_state, stem_across};
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::words::SideKind;

#[test]
fn heads_and_clear_distances_agree_with_shapely() {
    let table: Value = serde_json::from_str(include_str!("data/landing.json")).unwrap();
    let mut seen = [0; 3];
    for case in table["cases"].as_array().unwrap() {
        let drawn = draw(&lettering(
            case["text"].as_str().unwrap(),
            case["typeface"].as_str().unwrap(),
            case["capital_height_mm"].as_f64().unwrap(),
        ))
        .unwrap();
        for head in case["heads"].as_array().unwrap() {
            let number = |n: usize| head[n].as_f64().unwrap();
            let (state, _) = head_state(&drawn.parts, Point::new(number(0), number(1)), number(2));
            let expected: HeadState = serde_json::from_value(head[3].clone()).unwrap();
            assert_eq!(state, expected, "{} {head}", case["text"]);
            seen[expected as usize] += 1;
        }
        for door in case["boxes"].as_array().unwrap() {
            let number = |n: usize| door[n].as_f64().unwrap();
            let outline =
                Shape::rectangle(kurbo::Rect::new(number(0), number(1), number(2), number(3)));
            let ours = drawn
                .parts
                .iter()
                .flat_map(|p| &p.shapes)
                .fold(1e9, |d: f64, s| outline.distance_to(s, d));
            assert!(
                (ours - number(4)).abs() < 0.1,
                "{}: {ours} against {}",
                case["text"],
                number(4)
            );
        }
    }
    assert!(
        seen.iter().all(|n| *n > 100),
        "every state is well covered: {seen:?}"
    );
}

fn to_geo(drawn: &Drawn) -> MultiPolygon {
    let ring = |c: &Vec<Point>| LineString::from(c.iter().map(|p| (p.x, p.y)).collect::<Vec<_>>());
    drawn
        .parts
        .iter()
        .flat_map(|p| &p.shapes)
        .map(|s| {
            Polygon::new(
                ring(&s.contours[0]),
                s.contours[1..].iter().map(ring).collect(),
            )
        })
        .collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn heads_agree_with_brute_force(
        text in "[A-Z]{1,3}[a-z]{0,6}[0-9&]{0,2}",
        face in 0_usize..8,
        heads in proptest::collection::vec((-0.1..1.1_f64, -0.3..1.5_f64, 1.0..16.0_f64), 40),
    ) {
        let drawn = draw(&lettering(&text, &windrift_core::art::typeface::shipped()[face].info.id, 250.0)).unwrap();
        let film = to_geo(&drawn);
        for (x, y, radius) in heads {
            let middle = Point::new(x * drawn.bounds.width(), y * 250.0);
            let point = geo::Point::new(middle.x, middle.y);
            let to_edge = film
                .iter()
                .flat_map(|p| std::iter::once(p.exterior()).chain(p.interiors()))
                .map(|ring| Euclidean.distance(&point, ring))
                .fold(f64::INFINITY, f64::min);
            if (to_edge - radius).abs() < 1e-6 { continue; }
            let expected = if to_edge < radius { HeadState::EdgeOnIt } else if film.contains(&point) { HeadState::Covered } else { HeadState::Clear };
            prop_assert_eq!(head_state(&drawn.parts, middle, radius).0, expected);
        }
    }
}

/// How wide film is across a middle in the narrowest of 32 directions, where both cuts lie within the radius: every edge of the film met by
/// the geometry library with the line.
fn stem_by_geo(film: &MultiPolygon, middle: geo::Point, radius: f64) -> Option<f64> {
    let film = film.iter().find(|p| p.contains(&middle))?;
    let widths = (0..32).filter_map(|n| {
        let turn = f64::from(n) * std::f64::consts::PI / 32.0;
        let (sine, cosine) = turn.sin_cos();
        let end = |to: f64| geo::coord! { x: middle.x() + to * cosine, y: middle.y() + to * sine };
        let met = |to: f64| {
            std::iter::once(film.exterior())
                .chain(film.interiors())
                .flat_map(|ring| ring.lines().collect::<Vec<_>>())
                .filter_map(|edge| line_intersection(Line::new(middle.0, end(to)), edge))
                .map(|meet| match meet {
                    LineIntersection::SinglePoint { intersection, .. } => {
                        Euclidean.distance(&middle, &geo::Point(intersection))
                    }
                    LineIntersection::Collinear { .. } => 0.0,
                })
                .fold(f64::INFINITY, f64::min)
        };
        let (ahead, behind) = (met(radius), met(-radius));
        (ahead < radius && behind < radius).then_some(ahead + behind)
    });
    widths.min_by(f64::total_cmp)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// A stem that is narrower than the head under it is a finding of its own.
    #[test]
    fn stems_narrower_than_heads_agree_with_the_geometry_library(
        text in "[A-Z]{1,3}[a-z]{0,6}[0-9&]{0,2}",
        face in 0_usize..8,
        heads in proptest::collection::vec((0.003..0.997_f64, 0.003..1.2_f64, 5.0..30.0_f64), 60),
    ) {
        let drawn = draw(&lettering(&text, &windrift_core::art::typeface::shipped()[face].info.id, 250.0)).unwrap();
        let film = to_geo(&drawn);
        for (x, y, radius) in heads {
            let middle = Point::new(x * drawn.bounds.width(), y * 250.0);
            let ours = stem_across(&drawn.parts, middle, radius);
            let theirs = stem_by_geo(&film, geo::Point::new(middle.x, middle.y), radius);
            // An edge that ends just where the head does may be counted or not.
            let near = ours.or(theirs).is_some_and(|w| w > 1.9 * radius);
            prop_assert!(
                near || ours.is_some() == theirs.is_some() && (ours.unwrap_or(0.0) - theirs.unwrap_or(0.0)).abs() < 1e-6,
                "{text} at {middle:?} radius {radius}: {ours:?} against {theirs:?}"
            );
        }
    }
}

/// An I that is a quarter of its head wide is told beside the cut edges; a broad one is not.
#[test]
fn a_stem_narrower_than_its_head_is_a_finding_of_its_own() {
    let told = |high: f64| {
        let side = measure(&body(SideKind::Left), &features()).unwrap();
        let row = side.columns[1].heads[4];
        let (back, down) = side.datum.read(row);
        let half = draw(&lettering("I", "oswald", high))
            .unwrap()
            .bounds
            .width()
            / 2.0;
        let i = piece("I", "oswald", high, back - half, down - high / 2.0);
        plan_piece(
            Uuid::nil(),
            &i,
            &side,
            &WorkSettings::default(),
            Unit::InchSixteenth,
        )
        .unwrap()
    };
    let thin = told(40.0);
    assert_eq!(
        thin.landing.heads_under_stems, 1,
        "{:?}",
        thin.landing.columns
    );
    assert!(
        thin.troubles
            .iter()
            .any(|t| t.contains("narrower than the head") && t.contains("I at column 2")),
        "{:?}",
        thin.troubles
    );
    let broad = told(250.0);
    assert_eq!(broad.landing.heads_under_stems, 0);
    assert!(!broad.troubles.iter().any(|t| t.contains("narrower")));
}

fn planned(side: SideKind, text: &str, back: f64, down: f64) -> PlannedPiece {
    let side = measure(&body(side), &features()).unwrap();
    plan_piece(
        Uuid::nil(),
        &piece(text, "archivo-black", 14.0 * INCH, back * INCH, down * INCH),
        &side,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap()
}

#[test]
fn every_column_that_the_piece_crosses_is_reported_with_every_head_in_its_height() {
    let plan = planned(SideKind::Left, "TIDEWAY BOOKS", 18.0, 27.75);
    let columns: Vec<(u32, usize)> = plan
        .landing
        .columns
        .iter()
        .map(|c| (c.column, c.heads.len()))
        .collect();
    // 14 in capitals from 27 3/4 down, rivets at 4, 10, 16 … in: 28, 34 and 40 in are within the height.
    assert!(columns.iter().all(|(_, heads)| *heads == 3), "{columns:?}");
    assert_eq!(
        columns.iter().map(|c| c.0).collect::<Vec<_>>(),
        (1..=columns.len() as u32).collect::<Vec<_>>()
    );
    for column in &plan.landing.columns {
        assert_eq!(column.clear + column.covered + column.edge_on, 3);
        for head in &column.heads {
            // Counters and spaces are clear and carry no letter; whatever film touches does.
            assert_eq!(head.letter.is_none(), head.state == HeadState::Clear);
        }
    }
}

#[test]
fn film_on_a_lamp_is_refused_in_words_and_film_over_the_edge_is_told() {
    let on_lamp = planned(SideKind::Left, "AMBER", 2.0, 70.0);
    assert!(
        on_lamp
            .troubles
            .iter()
            .any(|t| t.contains("lamp 1") && t.contains("Never cover a lamp")),
        "{:?}",
        on_lamp.troubles
    );
    let over = planned(SideKind::Left, "TIDEWAY BOOKS", 150.0, 20.0);
    assert!(
        over.troubles.iter().any(|t| t.contains("rear edge")),
        "{:?}",
        over.troubles
    );
}

#[test]
fn seams_in_a_letter_are_crossed_and_seams_in_a_space_are_clear() {
    let side = measure(&body(SideKind::Left), &features()).unwrap();
    let settings = WorkSettings::default();
    let at = |back_mm: f64| {
        let plan = plan_piece(
            Uuid::nil(),
            &piece("I I", "archivo-black", 355.6, back_mm, 700.0),
            &side,
            &settings,
            Unit::InchSixteenth,
        )
        .unwrap();
        plan.landing
            .lines
            .iter()
            .find(|s| s.name == "seam 1")
            .map(|s| s.state)
    };
    let first = draw(&lettering("I I", "archivo-black", 355.6))
        .unwrap()
        .parts[0]
        .bounds
        .width();
    let seam = 48.0 * INCH;
    assert_eq!(at(seam - first / 2.0), Some(LineState::Crossed));
    assert_eq!(at(seam - first - 30.0), Some(LineState::Clear));
    assert_eq!(at(seam - first - 1.0), Some(LineState::EdgeAlong));
}
