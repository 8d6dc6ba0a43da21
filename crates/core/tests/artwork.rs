//! Artwork against something outside: set lines against HarfBuzz and fontTools, layers, strokes and cleaned outlines against
//! shapely, rigid fits against numpy (table made by tools/reference/artwork.py); regulated marks against the published rules;
//! legibility against the published ratio.

use std::sync::Arc;

use crate::common::{INCH, body, draw, features, lettering};
use kurbo::Point;
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::clean::{DrawnAs, clean};
use windrift_core::art::drawn::{Drawn, LayerKind};
use windrift_core::art::kit::{self, Drawing, DrawingError};
use windrift_core::art::legibility;
use windrift_core::art::lettering::{
    Align, Arch, Bends, Lettering, OutlineLayer, ShadowLayer, Spacing,
};
use windrift_core::art::printed_panel::{KeyFeature, PanelError, PrintedPanel};
use windrift_core::art::regulation::Regulation;
use windrift_core::art::stripe::{Band, Stripe, StripeError, run_over};
use windrift_core::art::typeface::{Typeface, Typefaces};
use windrift_core::art::weeding::{self, Weeded};
use windrift_core::ground::colour::contrast;
use windrift_core::ground::outline::Shape;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::fit::rigid;
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::regulated::lay_out::lay_out;
use windrift_core::plan::regulated::{Finding, Kept};
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

fn table() -> Value {
    serde_json::from_str(include_str!("data/artwork.json")).unwrap()
}

fn cases(name: &str) -> Vec<Value> {
    table()[name].as_array().unwrap().clone()
}

fn number(value: &Value) -> f64 {
    value.as_f64().unwrap()
}

fn words(value: &Value) -> &str {
    value.as_str().unwrap()
}

fn points(value: &Value) -> Vec<Point> {
    let point = |p: &Value| Point::new(number(&p[0]), number(&p[1]));
    value.as_array().unwrap().iter().map(point).collect()
}

fn area(shapes: &[Shape]) -> f64 {
    shapes.iter().map(Shape::area).sum()
}

#[test]
fn lines_are_as_wide_as_harfbuzz_and_fonttools_set_them() {
    for case in cases("sets") {
        let lines: Vec<&str> = case["lines"]
            .as_array()
            .unwrap()
            .iter()
            .map(words)
            .collect();
        let cap = number(&case["capital_height_mm"]);
        let spacing = if case["kerned"] == json!(true) {
            Spacing::Kerned
        } else {
            Spacing::AsDrawn
        };
        for align in [Align::Left, Align::Centre, Align::Right] {
            let asked = Lettering {
                spacing,
                align,
                ..lettering(&lines.join("\n"), words(&case["typeface"]), cap)
            };
            let drawn = draw(&asked).unwrap();
            let widths: Vec<f64> = case["widths"]
                .as_array()
                .unwrap()
                .iter()
                .map(number)
                .collect();
            let widest = widths.iter().copied().fold(0.0, f64::max);
            assert!((drawn.bounds.width() - widest).abs() < 0.1, "{lines:?}");
            // Letters by the line that they stand on: lines are 160 % of a capital apart unless said.
            let line_of = |p: &windrift_core::art::drawn::Part| {
                (p.bounds.center().y / (1.6 * cap)).floor().max(0.0) as usize
            };
            for (n, width) in widths.iter().enumerate() {
                let on_line: Vec<_> = drawn.parts.iter().filter(|p| line_of(p) == n).collect();
                let left = on_line
                    .iter()
                    .map(|p| p.bounds.x0)
                    .fold(f64::INFINITY, f64::min);
                let right = on_line.iter().map(|p| p.bounds.x1).fold(0.0, f64::max);
                assert!(
                    (right - left - width).abs() < 0.1,
                    "{lines:?} line {n}: {} against {width}",
                    right - left
                );
                let free = widest - width;
                let expected = match align {
                    Align::Left => 0.0,
                    Align::Centre => free / 2.0,
                    Align::Right => free,
                };
                assert!((left - expected).abs() < 0.1, "{align:?} line {n}");
            }
        }
        let small = draw(&Lettering {
            spacing,
            ..lettering("x", words(&case["typeface"]), cap)
        })
        .unwrap();
        assert!((cap - small.bounds.y0 - number(&case["x_height_mm"])).abs() < 0.1);
    }
}

#[test]
fn tracking_is_added_once_between_letters() {
    for case in cases("sets").iter().filter(|c| c["kerned"] == json!(false)) {
        let first = words(&case["lines"][0]);
        let cap = number(&case["capital_height_mm"]);
        let asked = Lettering {
            spacing: Spacing::AsDrawn,
            tracking_percent: 25.0,
            ..lettering(first, words(&case["typeface"]), cap)
        };
        let drawn = draw(&asked).unwrap();
        let starts: Vec<f64> = case["starts"]
            .as_array()
            .unwrap()
            .iter()
            .map(number)
            .collect();
        let gaps_before = |n: usize| {
            // Spaces carry tracking as letters do.
            first
                .char_indices()
                .filter(|(_, c)| !c.is_whitespace())
                .map(|(at, _)| at)
                .nth(n)
                .unwrap()
        };
        for (n, (part, start)) in drawn.parts.iter().zip(&starts).enumerate() {
            let expected = start + 0.25 * cap * gaps_before(n) as f64;
            assert!(
                (part.bounds.x0 - expected).abs() < 0.1,
                "{first} letter {n}: {} against {expected}",
                part.bounds.x0
            );
        }
    }
}

#[test]
fn outlines_and_shadows_cover_what_shapely_finds() {
    for case in cases("layers") {
        let colour = || "#1a1a1a".to_owned();
        let shadow = points(&json!([case["shadow_mm"]]))[0];
        let asked = Lettering {
            outline: Some(OutlineLayer {
                out_mm: (number(&case["out_mm"])).into(),
                colour: colour(),
            }),
            shadow: Some(ShadowLayer {
                right_mm: shadow.x.into(),
                down_mm: shadow.y.into(),
                colour: colour(),
            }),
            ..lettering(
                words(&case["text"]),
                words(&case["typeface"]),
                number(&case["capital_height_mm"]),
            )
        };
        let drawn = draw(&asked).unwrap();
        let of =
            |kind: LayerKind| area(&drawn.layers.iter().find(|l| l.kind == kind).unwrap().shapes);
        let near = |ours: f64, theirs: &Value, within: f64, what: &str| {
            let theirs = number(theirs);
            assert!(
                (ours / theirs - 1.0).abs() < within,
                "{} {what}: {ours} against {theirs}",
                case["text"]
            );
        };
        near(of(LayerKind::Face), &case["face_area"], 1e-3, "face");
        near(
            of(LayerKind::Outline),
            &case["outline_area"],
            2e-3,
            "outline",
        );
        near(of(LayerKind::Shadow), &case["outline_area"], 2e-3, "shadow");
        // Never less than a round pen would leave.
        assert!(of(LayerKind::Outline) > number(&case["least_area"]));
        let whole: Vec<Shape> = drawn.film().cloned().collect();
        near(area(&whole), &case["whole_area"], 2e-3, "everything");
        assert_eq!(
            whole.len() as u64,
            case["islands"].as_u64().unwrap(),
            "{}",
            case["text"]
        );
        // Every layer carries the same two marks, clear of all film.
        assert_eq!(drawn.marks.len(), 2);
        for mark in &drawn.marks {
            let mark = Drawn::mark_shape(*mark);
            assert!(whole.iter().all(|s| mark.distance_to(s, 50.0) > 1.0));
        }
        assert!(drawn.bounds.x0.abs() < 1e-9, "the film begins at 0");
    }
}

#[test]
fn the_thinnest_stroke_is_where_a_disc_no_longer_passes() {
    for case in cases("strokes") {
        let drawn = draw(&lettering(
            words(&case["text"]),
            words(&case["typeface"]),
            number(&case["capital_height_mm"]),
        ))
        .unwrap();
        let ours = drawn.thin().stroke.unwrap().0;
        let theirs = number(&case["stroke_mm"]);
        assert!(
            (ours - theirs).abs() < 0.1,
            "{}: {ours} against {theirs}",
            case["text"]
        );
        let settings = WorkSettings {
            thinnest_stroke_mm: (theirs + 1.0).into(),
            ..WorkSettings::default()
        };
        let at = |_| "somewhere".to_owned();
        let report = |settings: &WorkSettings, unit| {
            weeding::report(drawn.thin(), Weeded::Letters, &at, settings, unit).troubles
        };
        let told = report(&settings, Unit::InchSixteenth);
        assert!(
            told.iter().any(|t| t.contains("thinnest stroke")),
            "{told:?}"
        );
        assert!(report(&WorkSettings::default(), Unit::Millimetre).is_empty());
        // Less by less than the tape shows: never said to be what it falls short of.
        let settings = WorkSettings {
            thinnest_stroke_mm: (ours + 0.01).into(),
            ..WorkSettings::default()
        };
        let told = report(&settings, Unit::InchSixteenth);
        let (stroke, limit) = told[0].split_once("; this shop weeds down to ").unwrap();
        let limit = limit.split(". ").next().unwrap();
        assert!(!stroke.ends_with(&format!("is {limit}")), "{told:?}");
    }
}

#[test]
fn rigid_fits_are_those_of_the_singular_value_decomposition() {
    for case in cases("fits") {
        let (own, there) = (points(&case["own"]), points(&case["there"]));
        let fitted = rigid(&own, &there, None);
        for (n, expected) in points(&case["fitted"]).iter().enumerate() {
            let ours = fitted * own[n];
            assert!(
                ours.distance(*expected) < 1e-6,
                "{ours:?} against {expected:?}"
            );
            assert!((ours.distance(there[n]) - number(&case["off"][n])).abs() < 1e-6);
        }
        // A turn and a shift: nothing is stretched or mirrored.
        assert!((fitted.determinant() - 1.0).abs() < 1e-9);
    }
}

#[test]
fn cleaned_outlines_hold_the_film_that_a_drawing_program_fills() {
    let mut crossing = 0;
    for case in cases("cleaned") {
        let outlines: Vec<Vec<Point>> = case["outlines"]
            .as_array()
            .unwrap()
            .iter()
            .map(points)
            .collect();
        let (islands, done) = clean(&outlines, &[]);
        let shapes: Vec<Shape> = islands.into_iter().map(|i| i.shape).collect();
        let theirs = number(&case["area"]);
        assert!(
            (area(&shapes) - theirs).abs() < theirs * 1e-4 + 3.0,
            "{} against {theirs}",
            area(&shapes)
        );
        for contour in shapes.iter().flat_map(|s| &s.contours) {
            // The resolver may leave corners that touch; nothing crosses.
            assert!(contour.len() >= 3);
        }
        crossing += done.crossing;
        if done.crossing > 0 {
            assert!(
                done.sentences()
                    .iter()
                    .any(|s| s.contains("crossed itself"))
            );
        }
    }
    assert!(crossing > 10, "random rings cross themselves: {crossing}");
    let square = |x: f64, s: f64| {
        vec![
            Point::new(x, 0.0),
            Point::new(x + s, 0.0),
            Point::new(x + s, 0.01),
            Point::new(x + s, s),
            Point::new(x, s),
        ]
    };
    let (islands, done) = clean(&[square(0.0, 100.0), square(300.0, 0.5)], &[]);
    assert_eq!((islands.len(), done.merged > 0, done.specks), (1, true, 1));
    assert_eq!(done.sentences().len(), 2);
}

/// Mean space between two neighbours over the height of both, as far as the eye sees into them, measured on their own film.
fn space_between(
    a: &windrift_core::art::drawn::Part,
    b: &windrift_core::art::drawn::Part,
    cap: f64,
) -> f64 {
    let across = |shapes: &[Shape], y: f64| -> Option<(f64, f64)> {
        let xs: Vec<f64> = shapes
            .iter()
            .flat_map(|s| s.edges().collect::<Vec<_>>())
            .filter(|(p, q)| (p.y > y) != (q.y > y))
            .map(|(p, q)| p.x + (q.x - p.x) * (y - p.y) / (q.y - p.y))
            .collect();
        Some((
            xs.iter().copied().reduce(f64::min)?,
            xs.iter().copied().reduce(f64::max)?,
        ))
    };
    let depth = 0.18 * cap;
    let (mut sum, lines) = (0.0, 400);
    let top = a.bounds.y0.min(b.bounds.y0).max(0.0);
    for n in 0..lines {
        let y = top + (cap - top) * (f64::from(n) + 0.5) / f64::from(lines);
        let into_a = across(&a.shapes, y).map_or(depth, |(_, x1)| (a.bounds.x1 - x1).min(depth));
        let into_b = across(&b.shapes, y).map_or(depth, |(x0, _)| (x0 - b.bounds.x0).min(depth));
        sum += b.bounds.x0 - a.bounds.x1 + into_a + into_b;
    }
    sum / f64::from(lines)
}

#[test]
fn optical_spacing_leaves_the_same_area_between_neighbours() {
    let cap = 300.0;
    for face in ["oswald", "archivo-black", "barlow-condensed", "bitter"] {
        let spaces = |text: &str, spacing| {
            let drawn = draw(&Lettering {
                spacing,
                ..lettering(text, face, cap)
            })
            .unwrap();
            drawn
                .parts
                .windows(2)
                .map(|p| space_between(&p[0], &p[1], cap))
                .collect::<Vec<f64>>()
        };
        let usual = spaces("HH", Spacing::AsDrawn)[0];
        let optical = spaces("HARBOUR", Spacing::Optical);
        let worst = |spaces: &[f64]| spaces.iter().map(|s| (s - usual).abs()).fold(0.0, f64::max);
        assert!(
            worst(&optical) < 0.02 * cap,
            "{face}: {optical:?} against {usual}"
        );
        assert!(
            worst(&optical) < worst(&spaces("HARBOUR", Spacing::AsDrawn)),
            "{face}"
        );
    }
}

#[test]
fn letters_on_an_arc_stand_square_to_it() {
    for (bends, sign) in [(Bends::Up, 1.0), (Bends::Down, -1.0)] {
        let radius = 900.0;
        let asked = Lettering {
            arch: Some(Arch {
                radius_mm: radius.into(),
                bends,
            }),
            ..lettering("IIIII", "archivo-black", 200.0)
        };
        let bent = draw(&asked).unwrap();
        let straight = draw(&lettering("IIIII", "archivo-black", 200.0)).unwrap();
        // Nothing is stretched.
        let areas = |d: &Drawn| d.parts.iter().map(|p| area(&p.shapes)).collect::<Vec<_>>();
        for (a, b) in areas(&bent).iter().zip(areas(&straight)) {
            assert!((a - b).abs() < 0.01 * b);
        }
        // The middles of the feet lie on the circle: its centre is below a bridge and above a bowl.
        let middle = bent.bounds.center().x;
        let centre = Point::new(middle, 200.0 + sign * radius);
        for part in &bent.parts {
            let mut corners = part.hull.clone();
            corners.sort_by(|a, b| {
                (a.distance(centre) - radius)
                    .abs()
                    .total_cmp(&(b.distance(centre) - radius).abs())
            });
            let foot = corners[0].midpoint(corners[1]);
            assert!((foot.distance(centre) - radius).abs() < 3.0, "{bends:?}");
        }
    }
}

fn skiff(kind: SideKind) -> Side {
    let hull = Body::Box {
        length_mm: 5200.0.into(),
        height_mm: 620.0.into(),
        fall_mm: 0.0.into(),
    };
    let mut side = Side::new(kind, hull, Surface::default());
    side.colour = Some("#f4f1e6".into());
    side
}

fn findings(piece: Piece, side: &Side, there: Option<Vec<String>>) -> Vec<Finding> {
    let around = JobAround {
        words_there: there,
        ..JobAround::default()
    };
    let id = Uuid::from_u128(1);
    let plan = plan_side(
        side,
        &[],
        &[(id, piece)],
        &around,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    assert!(plan.failed.is_empty(), "{:?}", plan.failed);
    plan.pieces[0].findings.clone()
}

fn kept(findings: &[Finding], clause: &str, asks: &str) -> Kept {
    findings
        .iter()
        .find(|f| f.clause == clause && f.asks.contains(asks))
        .unwrap_or_else(|| panic!("{clause} {asks}: {findings:#?}"))
        .kept
}

fn altered(piece: &Piece, change: impl FnOnce(&mut Lettering)) -> Piece {
    let mut piece = piece.clone();
    let Art::Lettering(l) = &mut piece.art else {
        unreachable!()
    };
    change(l);
    piece
}

/// 33 CFR 173.27 (from memory): each side of the forward half, plain vertical block characters of at least 3 in, contrast, gaps
/// as wide as a letter other than I, read from left to right.
#[test]
fn a_small_craft_number_lays_itself_out_and_fails_where_the_rule_says() {
    for kind in [SideKind::Left, SideKind::Right] {
        let side = skiff(kind);
        let measured = measure(&side, &[]).unwrap();
        let piece = lay_out(
            Regulation::BoatNumber,
            "OY-4471-KB",
            &measured,
            &[],
            Unit::InchSixteenth,
        );
        let there = Some(vec!["OY 4471 KB".to_owned()]);
        let all = findings(piece.clone(), &side, there.clone());
        let bad: Vec<_> = all.iter().filter(|f| f.kept == Kept::No).collect();
        assert!(bad.is_empty(), "{bad:#?}");
        let a2 = "33 CFR 173.27(a)(2)";
        let low = altered(&piece, |l| {
            l.size = windrift_core::art::lettering::Size::CapitalHeight {
                height_mm: 76.0.into(),
            }
        });
        assert_eq!(
            kept(&findings(low, &side, there.clone()), a2, "3 in"),
            Kept::No
        );
        let script = altered(&piece, |l| l.typeface = "pacifico".into());
        assert_eq!(
            kept(&findings(script, &side, there.clone()), a2, "block"),
            Kept::No
        );
        let bent = altered(&piece, |l| {
            l.arch = Some(Arch {
                radius_mm: 2000.0.into(),
                bends: Bends::Up,
            })
        });
        assert_eq!(
            kept(&findings(bent, &side, there.clone()), a2, "block"),
            Kept::No
        );
        let pale = altered(&piece, |l| l.colour = "#e4e0d0".into());
        assert_eq!(
            kept(
                &findings(pale, &side, there.clone()),
                "33 CFR 173.27(a)(3)",
                "Contrasts"
            ),
            Kept::No
        );
        let plain = altered(&piece, |l| l.regulated = None);
        assert!(findings(plain, &side, there.clone()).is_empty());
        let joined = altered(&piece, |l| l.text = "OY4471KB".into());
        assert_eq!(
            kept(
                &findings(joined, &side, there.clone()),
                "33 CFR 173.27(a)(4)",
                "Gaps"
            ),
            Kept::No
        );
        assert_eq!(
            kept(
                &findings(piece.clone(), &side, Some(vec![])),
                "33 CFR 173.27(a)(1)",
                "both sides"
            ),
            Kept::No
        );
        assert_eq!(
            kept(
                &findings(piece.clone(), &side, None),
                "33 CFR 173.27(a)(1)",
                "both sides"
            ),
            Kept::CannotTell
        );
        let mut aft = piece.clone();
        crate::common::rules(&mut aft).along = windrift_core::place::rules::Along::FromFront {
            distance_mm: 2700.0.into(),
            to: windrift_core::place::rules::LetterEnd::FirstLetter,
        };
        assert_eq!(
            kept(
                &findings(aft, &side, there),
                "33 CFR 173.27(a)(1)",
                "forward half"
            ),
            Kept::No
        );
    }
}

/// The gap is as wide as a letter of the number itself, measured on the film.
#[test]
fn gaps_of_a_small_craft_number_are_as_wide_as_its_widest_letter() {
    for face in ["archivo-black", "barlow-condensed", "oswald"] {
        let asked = Lettering {
            regulated: Some(Regulation::BoatNumber),
            ..lettering("OY 4471 KB", face, 80.0)
        };
        let drawn = draw(&asked).unwrap();
        let x = |n: usize| (drawn.parts[n].bounds.x0, drawn.parts[n].bounds.x1);
        assert_eq!(drawn.parts.len(), 8);
        let widest = (0..8)
            .filter(|n| drawn.parts[*n].label != "1")
            .map(|n| x(n).1 - x(n).0)
            .fold(0.0, f64::max);
        for gap in [x(2).0 - x(1).1, x(6).0 - x(5).1] {
            assert!(
                (gap - widest).abs() < 0.05,
                "{face}: {gap} against {widest}"
            );
        }
        // Letters within a group stand as the typeface sets them.
        let plain = draw(&lettering("4471", face, 80.0)).unwrap();
        let pitch = |d: &Drawn, n: usize, m: usize| d.parts[m].bounds.x0 - d.parts[n].bounds.x0;
        assert!((pitch(&drawn, 2, 5) - pitch(&plain, 0, 3)).abs() < 0.05);
    }
}

/// 46 CFR 67.123 and 49 CFR 390.21 (from memory): letters of at least 4 in, name and port together; name and USDOT number, both
/// sides, legible from 50 ft, which the MUTCD ratio of 30 ft to the inch makes 1.67 in.
#[test]
fn vessel_names_and_carrier_marks_check_themselves() {
    let side = skiff(SideKind::Left);
    let measured = measure(&side, &[]).unwrap();
    let name = lay_out(
        Regulation::VesselName,
        "SALT MEADOW\nTernhaven XY",
        &measured,
        &[],
        Unit::InchSixteenth,
    );
    let all = findings(name.clone(), &side, None);
    assert!(all.iter().all(|f| f.kept == Kept::Yes), "{all:#?}");
    let low = altered(&name, |l| {
        l.size = windrift_core::art::lettering::Size::CapitalHeight {
            height_mm: 100.0.into(),
        }
    });
    assert_eq!(
        kept(&findings(low, &side, None), "46 CFR 67.123(d)", "4 in"),
        Kept::No
    );
    let alone = altered(&name, |l| l.text = "SALT MEADOW".into());
    assert_eq!(
        kept(
            &findings(alone, &side, None),
            "46 CFR 67.123(c)",
            "together"
        ),
        Kept::No
    );

    let mark = lay_out(
        Regulation::CarrierMark,
        "HARBOUR BAY FREIGHT\nUSDOT 0000000",
        &measured,
        &[],
        Unit::InchSixteenth,
    );
    let words = vec!["HARBOUR BAY FREIGHT USDOT 0000000".to_owned()];
    let all = findings(mark.clone(), &side, Some(words.clone()));
    assert!(all.iter().all(|f| f.kept == Kept::Yes), "{all:#?}");
    let low = altered(&mark, |l| {
        l.size = windrift_core::art::lettering::Size::CapitalHeight {
            height_mm: 42.0.into(),
        }
    });
    // The rule gives no height: under the ratio it is looked at, under 22.2 mm (5 minutes of arc at 50 ft, computed) nobody can read it.
    let legible = |piece| {
        kept(
            &findings(piece, &side, Some(words.clone())),
            "49 CFR 390.21(c)(3)",
            "50 ft",
        )
    };
    assert_eq!(legible(low), Kept::CannotTell);
    let tiny = altered(&mark, |l| {
        l.size = windrift_core::art::lettering::Size::CapitalHeight {
            height_mm: 21.0.into(),
        }
    });
    assert_eq!(legible(tiny), Kept::No);
    // 390.21(b)(2) and (b)(3), from memory.
    for (text, clause, is) in [
        ("HARBOUR BAY FREIGHT\nUSDOT0000000", "(b)(2)", Kept::Yes),
        (
            "HARBOUR BAY FREIGHT\nUSDOT No. 0000000",
            "(b)(2)",
            Kept::Yes,
        ),
        ("HARBOUR BAY FREIGHT\nUS DOT 0000000", "(b)(2)", Kept::No),
        ("HARBOUR BAY FREIGHT\nUSDOT 00A0", "(b)(2)", Kept::No),
        ("HARBOUR BAY FREIGHT\nUSDOT 0000000", "(b)(3)", Kept::Yes),
        (
            "QUAY MOVERS\nHARBOUR BAY FREIGHT\nUSDOT 0000000",
            "(b)(3)",
            Kept::CannotTell,
        ),
        (
            "QUAY MOVERS\noperated by HARBOUR BAY FREIGHT\nUSDOT 0000000",
            "(b)(3)",
            Kept::Yes,
        ),
        (
            "QUAY MOVERS\noperated by\nUSDOT 0000000",
            "(b)(3)",
            Kept::No,
        ),
    ] {
        let piece = altered(&mark, |l| l.text = text.into());
        let all = findings(piece, &side, Some(words.clone()));
        let found = all.iter().find(|f| f.clause.ends_with(clause)).unwrap();
        assert_eq!(found.kept, is, "{text}: {found:?}");
    }
    // A place of two words has no state yet.
    for (port, is) in [
        ("NEW QUAY", Kept::CannotTell),
        ("NEW QUAY XY", Kept::Yes),
        ("NEW QUAY, X.Y.", Kept::Yes),
        ("QUAY", Kept::No),
    ] {
        let piece = altered(&name, |l| l.text = format!("SALT MEADOW\n{port}"));
        let all = findings(piece, &side, None);
        let found = all.iter().find(|f| f.clause == "46 CFR 67.119").unwrap();
        assert_eq!(found.kept, is, "{port}: {found:?}");
    }
    let nameless = altered(&mark, |l| l.text = "USDOT 0000000".into());
    assert_eq!(
        kept(
            &findings(nameless, &side, Some(words)),
            "49 CFR 390.21(b)(1)",
            "legal name"
        ),
        Kept::No
    );
}

/// MUTCD 2A.13: 1 in of letter height for each 30 ft. Threshold of 5 minutes of arc, computed: 14.5 mm at 10 m, 22.2 mm at 50 ft.
#[test]
fn legibility_follows_the_published_ratio() {
    let feet = |inches: f64| {
        legibility::report(inches * INCH, "TERN", Unit::InchSixteenth).legible_m / 0.3048
    };
    assert!((feet(1.0) - 30.0).abs() < 1e-9 && (feet(6.0) - 180.0).abs() < 1e-9);
    for (height, distance) in [(14.5, 10_000.0), (22.2, 15_240.0), (72.7, 50_000.0)] {
        assert!(
            (legibility::threshold(height) / distance - 1.0).abs() < 0.005,
            "{height}"
        );
    }
    // A phone number of 1 in letters is not read at 55 mph; a word of 12 in letters is at 30 mph.
    let small = legibility::report(
        INCH,
        "call five five five zero one four two today",
        Unit::InchSixteenth,
    );
    assert!(small.passing.iter().all(|p| p.seconds < p.needed));
    let large = legibility::report(12.0 * INCH, "LIBRARY", Unit::InchSixteenth);
    assert!(large.passing.iter().all(|p| p.seconds > p.needed));
}

/// WCAG 2: black on white is 21 to 1, a colour on itself 1 to 1, #777777 on white 4.48 to 1.
#[test]
fn contrast_is_that_of_wcag() {
    assert!((contrast("#000000", "#ffffff").unwrap() - 21.0).abs() < 1e-9);
    assert!((contrast("#8c1d18", "#8c1d18").unwrap() - 1.0).abs() < 1e-9);
    assert!((contrast("#777777", "#ffffff").unwrap() - 4.48).abs() < 0.005);
    assert_eq!(contrast("red", "#ffffff"), None);
}

fn stripe(bands: &[(f64, f64, f64)]) -> Stripe {
    let band = |b: &(f64, f64, f64)| Band {
        gap_mm: b.0.into(),
        front_width_mm: b.1.into(),
        rear_width_mm: b.2.into(),
    };
    Stripe {
        name: "stripe".into(),
        bands: bands.iter().map(band).collect(),
        colour: "#8c1d18".into(),
        length_mm: 2000.0.into(),
        parted: true,
        margin_mm: 3.0.into(),
        clearance_mm: 6.0.into(),
        wrap_mm: 0.0.into(),
    }
}

fn usual_side() -> MeasuredSide {
    measure(&body(SideKind::Left), &features()).unwrap()
}

#[test]
fn a_tapered_pair_has_the_area_of_its_bands() {
    use windrift_core::art::stripe::draw;
    let pair = stripe(&[(0.0, 100.0, 40.0), (20.0, 30.0, 30.0)]);
    for front_left in [true, false] {
        let drawn = draw(&pair, 1000.0, front_left).unwrap();
        let whole: Vec<Shape> = drawn.film().cloned().collect();
        assert!((area(&whole) - (70.0 * 1000.0 + 30.0 * 1000.0)).abs() < 1e-6);
        // The wider end lies at the front.
        let tall = |x: f64| {
            drawn.parts[0].shapes[0]
                .span_at(x)
                .map(|(a, b)| b - a)
                .unwrap()
        };
        let (left, right) = (tall(0.5), tall(999.5));
        assert_eq!(left > right, front_left);
    }
    assert!(matches!(
        draw(&stripe(&[]), 500.0, true),
        Err(StripeError::NoBand)
    ));
    assert!(matches!(
        draw(&stripe(&[(0.0, 0.0, 5.0)]), 500.0, true),
        Err(StripeError::Width(1))
    ));
    assert!(matches!(
        draw(&stripe(&[(0.0, 9.0, 5.0)]), 1e9, true),
        Err(StripeError::Length(_))
    ));
}

/// A cut-out that comes near an edge of the stripe leaves a sliver: that is a question of cutting, told where it is.
#[test]
fn a_sliver_beside_a_cut_out_is_told_where_it_is_and_what_helps() {
    use windrift_core::place::rules::{LetterEnd, PlaceRule};
    // A handle 30 across, kept off by 6: its hole is 42 across and ends 1 mm above the stripe's foot.
    let handle = |down: f64| Form::Round {
        back_mm: 1000.0.into(),
        drop_mm: down.into(),
        across_mm: 30.0.into(),
        repeat: Repeat::ONCE,
    };
    let told = |down: f64| {
        let feature = Feature {
            clearance_mm: 6.0.into(),
            ..Feature::new(FeatureKind::Handle, handle(down))
        };
        let on_it = [SideFeature {
            id: Uuid::from_u128(5),
            feature,
        }];
        let side = measure(&body(SideKind::Left), &on_it).unwrap();
        let piece = Piece::new(
            Art::Stripe(stripe(&[(0.0, 76.2, 76.2)])),
            PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0),
        );
        windrift_core::plan::plan_piece(
            Uuid::nil(),
            &piece,
            &side,
            &WorkSettings::default(),
            Unit::Millimetre,
        )
        .unwrap()
        .weeding
        .troubles
    };
    let sliver = told(300.0 + 76.2 - 1.0 - 21.0);
    assert!(
        sliver[0].starts_with("It is only ") && sliver[0].contains("stop it short"),
        "{sliver:?}"
    );
    let back: f64 = sliver[0]
        .split("mm wide ")
        .nth(1)
        .and_then(|s| s.split(" mm back").next())
        .and_then(|s| s.parse().ok())
        .unwrap();
    assert!((back - 1000.0).abs() < 15.0, "{back}");
    assert!(
        !sliver
            .iter()
            .any(|t| t.contains("letters") || t.contains("typeface")),
        "{sliver:?}"
    );
    assert!(told(300.0 + 38.1).is_empty());
}

#[test]
fn a_stripe_is_cut_out_round_what_stays() {
    use windrift_core::place::edges::EdgeRef;
    use windrift_core::place::rules::{Along, Angle, Down, DownTo, PlaceRule, Rules};
    let side = usual_side();
    let rules = Rules {
        reference: None,
        along: Along::SameGap {
            from: EdgeRef::FrontEdge,
            to: EdgeRef::RearEdge,
            gap_mm: 50.8.into(),
        },
        down: Down::FromDatum {
            distance_mm: (50.0 * INCH).into(),
            to: DownTo::Top,
        },
        angle: Angle::AlongDatum,
    };
    let piece = Piece::new(
        Art::Stripe(stripe(&[(0.0, 76.2, 76.2)])),
        PlaceRule::Rules(rules),
    );
    let planned = windrift_core::plan::plan_piece(
        Uuid::nil(),
        &piece,
        &side,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    // The same margin at both ends, of the whole side.
    let (near, far) = planned.placed.back_mm;
    assert!((near - 50.8).abs() < 1e-6 && (288.0 * INCH - far - 50.8).abs() < 1e-6);
    // It passes through the locker door (34 in wide): that and the clearance on both sides are missing.
    let film: Vec<Shape> = planned.film().collect();
    let door = side.hardware().find(|h| h.name == "locker door").unwrap();
    let keep_off = door.clearance_mm.max(6.0);
    let missing = 76.2 * (288.0 * INCH - 101.6) - area(&film);
    assert!(
        (missing - 76.2 * (34.0 * INCH + 2.0 * keep_off)).abs() < 30.0,
        "{missing}"
    );
    let clear = film
        .iter()
        .map(|s| s.distance_to(&door.outline, 100.0))
        .fold(f64::INFINITY, f64::min);
    assert!((clear - keep_off).abs() < 0.05, "{clear}");
    assert_eq!(planned.drawn.parts.len(), 2);
    assert!(
        planned.landing.hardware.is_empty(),
        "{:?}",
        planned.landing.hardware
    );
}

proptest! {
    #[test]
    fn a_line_over_several_parts_is_one_line(
        lengths in proptest::collection::vec(300.0..3000.0_f64, 2..5),
        gaps in proptest::collection::vec(0.0..60.0_f64, 4),
        first in 0.0..500.0_f64,
        last in 0.0..500.0_f64,
    ) {
        let parts = run_over(&lengths, &gaps, first, last);
        prop_assert_eq!(parts.len(), lengths.len());
        prop_assert!((parts[0].front_mm - first).abs() < 1e-9);
        prop_assert!((parts.last().unwrap().rear_mm - last).abs() < 1e-9);
        let total: f64 = lengths.iter().sum::<f64>() + gaps.iter().take(lengths.len() - 1).sum::<f64>();
        let slope = (last - first) / total;
        for (n, part) in parts.iter().enumerate() {
            prop_assert!(((part.rear_mm - part.front_mm) / lengths[n] - slope).abs() < 1e-9, "every part has the slope of the whole");
            if let Some(next) = parts.get(n + 1) {
                prop_assert!((next.front_mm - part.rear_mm - slope * gaps[n]).abs() < 1e-9, "and begins where the line goes on");
            }
        }
    }
}

#[test]
fn kit_pieces_that_cannot_be_laid_out_say_why() {
    let square = vec![[0.0, 0.0], [100.0, 0.0], [100.0, 60.0], [0.0, 60.0]];
    let hole = vec![[20.0, 20.0], [40.0, 20.0], [40.0, 40.0], [20.0, 40.0]];
    let drawing = Drawing {
        outlines: vec![square.clone(), hole],
        ..Drawing::new("fin", &[], "#14524d")
    };
    let with_line = Drawing {
        line: [[0.0, 0.0], [100.0, 0.0]],
        ..drawing
    };
    let drawn = kit::draw(&with_line).unwrap();
    assert!(
        (area(&drawn.film().cloned().collect::<Vec<_>>()) - 5600.0).abs() < 1e-6,
        "a hole is a hole"
    );
    // Cut half as wide it is half as high, and so are its holes and its line.
    let half = kit::draw(&Drawing {
        width_mm: Some(50.0.into()),
        ..with_line.clone()
    })
    .unwrap();
    assert!((area(&half.film().cloned().collect::<Vec<_>>()) - 1400.0).abs() < 1e-6);
    assert_eq!((half.bounds.height(), half.line.1.x), (30.0, 50.0));
    let flipped = kit::draw(&Drawing {
        flipped: true,
        ..with_line.clone()
    })
    .unwrap();
    assert_eq!(
        flipped.point.x, 100.0,
        "its point goes over to the other end"
    );
    let error = |d: Drawing| kit::draw(&d).unwrap_err();
    assert_eq!(
        error(Drawing {
            outlines: vec![],
            ..with_line.clone()
        }),
        DrawingError::NoFilm
    );
    assert_eq!(
        error(Drawing {
            line: [[5.0, 5.0]; 2],
            ..with_line.clone()
        }),
        DrawingError::NoLine
    );
    let many = vec![square[0]; 20_001];
    assert!(matches!(
        error(Drawing {
            outlines: vec![many],
            ..with_line.clone()
        }),
        DrawingError::TooManyPoints(_)
    ));
    let vast = square.iter().map(|p| [p[0] * 1e6, p[1]]).collect();
    assert!(matches!(
        error(Drawing {
            outlines: vec![vast],
            ..with_line
        }),
        DrawingError::Size(_)
    ));
}

#[test]
fn what_matters_in_a_picture_stays_clear_of_gaps_and_hardware() {
    let key = |right_mm: f64, width_mm: f64| KeyFeature {
        name: "phone number".into(),
        right_mm: right_mm.into(),
        down_mm: 100.0.into(),
        width_mm: width_mm.into(),
        height_mm: 80.0.into(),
    };
    let panel = |keys: Vec<KeyFeature>| PrintedPanel {
        name: "panel".into(),
        width_mm: 2000.0.into(),
        height_mm: 500.0.into(),
        bleed_mm: 50.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys,
    };
    let side = usual_side();
    let troubles = |keys: Vec<KeyFeature>| {
        let piece = Piece::new(Art::Panel(panel(keys)), crate::common::rule(600.0, 700.0));
        let plan = windrift_core::plan::plan_piece(
            Uuid::nil(),
            &piece,
            &side,
            &WorkSettings::default(),
            Unit::InchSixteenth,
        )
        .unwrap();
        assert!(
            (plan.placed.back_mm.0 - 600.0).abs() < 1e-6
                && (plan.placed.back_mm.1 - 2600.0).abs() < 1e-6,
            "placed by its trim"
        );
        assert!(
            (plan.drawn.bounds.width() - 2100.0).abs() < 1e-6,
            "film with its bleed"
        );
        plan.troubles
    };
    // Seam 1 is 1219.2 mm back: 619.2 mm into the panel.
    assert!(
        troubles(vec![key(560.0, 120.0)])
            .iter()
            .any(|t| t.contains("seam 1 runs through"))
    );
    assert!(
        !troubles(vec![key(100.0, 300.0)])
            .iter()
            .any(|t| t.contains("phone number"))
    );
    let error = |p: PrintedPanel| windrift_core::art::printed_panel::draw(&p, true).unwrap_err();
    assert_eq!(
        error(panel(vec![key(1900.0, 200.0)])),
        PanelError::KeyOff("phone number".into())
    );
    assert_eq!(
        error(PrintedPanel {
            width_mm: f64::NAN.into(),
            ..panel(vec![])
        }),
        PanelError::Size("The width", 10, 30_480)
    );
}

#[test]
fn pieces_stored_by_the_first_release_are_read_as_they_were() {
    let stored = json!({
        "lettering": { "text": "HAVEN", "typeface": "oswald", "size": { "by": "capital_height", "height_mm": 200.0 }, "kerned": false, "colour": "#14524d" },
        "place": { "along": { "rule": "from_front", "distance_mm": 457.2, "to": "first_letter" }, "down": { "cap_line_mm": 304.8 }, "angle": "level" }
    });
    let piece: Piece = serde_json::from_value(stored).unwrap();
    let Art::Lettering(l) = &piece.art else {
        panic!()
    };
    assert_eq!((l.spacing, l.text.as_str()), (Spacing::AsDrawn, "HAVEN"));
    // And written as this release does, they are the same again.
    let again: Piece = serde_json::from_value(serde_json::to_value(&piece).unwrap()).unwrap();
    assert_eq!(again, piece);
    let wrong: Result<Piece, _> = serde_json::from_value(json!({ "art": { "is": "balloon" } }));
    assert!(wrong.is_err_and(|e| e.to_string().contains("balloon")));
}

#[test]
fn typefaces_of_the_shop_are_checked_before_they_are_opened() {
    let shipped = include_bytes!("../fonts/oswald.ttf").to_vec();
    assert!(
        Typeface::open("own-none", "none", b"not a font".to_vec())
            .is_err_and(|e| e.to_string().contains(".ttf or .otf"))
    );
    assert!(Typeface::open("own-cut", "cut", shipped[..shipped.len() / 3].to_vec()).is_err());
    // Embedding: fsType 2 in OS/2 (eight bytes into the table) says restricted (OpenType specification).
    let mut restricted = shipped.clone();
    let tables = usize::from(u16::from_be_bytes([shipped[4], shipped[5]]));
    let os2 = (0..tables)
        .map(|n| 12 + 16 * n)
        .find(|at| &shipped[*at..at + 4] == b"OS/2")
        .map(|at| u32::from_be_bytes(shipped[at + 8..at + 12].try_into().unwrap()) as usize)
        .unwrap();
    restricted[os2 + 8..os2 + 10].copy_from_slice(&[0, 2]);
    assert!(
        Typeface::open("own-no", "no", restricted)
            .is_err_and(|e| e.to_string().contains("licence"))
    );
    let own = Arc::new(Typeface::open("own-yes", "Our Oswald", shipped).unwrap());
    assert_eq!(
        (own.info.name.as_ref(), own.info.block),
        ("Our Oswald", None)
    );
    own.try_all().unwrap();
    let faces = Typefaces::with_own(vec![own]);
    let same = |face| {
        windrift_core::art::lettering::draw::draw(&lettering("TERN", face, 100.0), &faces)
            .unwrap()
            .bounds
    };
    assert_eq!(same("own-yes"), same("oswald"));
    // Nothing of it is anybody else's.
    assert!(Typefaces::default().find("own-yes").is_none());
}

/// A kit as it is drawn: two pieces that butt, a third that laps over the second by 10 mm, a vent's hole in the first and an island in that.
#[test]
fn pieces_that_butt_or_lap_come_in_as_they_were_drawn() {
    let rect = |x0: f64, y0: f64, x1: f64, y1: f64| {
        [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
            .map(Point::from)
            .to_vec()
    };
    let drawn = [
        rect(0.0, 0.0, 400.0, 300.0),
        rect(100.0, 100.0, 200.0, 200.0),
        rect(140.0, 140.0, 160.0, 160.0),
        rect(400.0, 0.0, 700.0, 300.0),
        rect(690.0, 20.0, 900.0, 280.0),
    ];
    let by_path = |fills: [Option<&str>; 5]| -> Vec<DrawnAs> {
        (0..)
            .zip(fills)
            .map(|(path, fill)| DrawnAs {
                path,
                fill: fill.map(str::to_owned),
                over_itself: false,
            })
            .collect()
    };
    let film = |as_drawn: &[DrawnAs]| {
        let (islands, _) = clean(&drawn, as_drawn);
        let mut film: Vec<(f64, Option<String>)> = (islands.into_iter())
            .map(|i| (i.shape.area().round(), i.drawn.fill))
            .collect();
        film.sort_by(|a, b| a.0.total_cmp(&b.0));
        film
    };
    let areas = |as_drawn: &[DrawnAs]| film(as_drawn).iter().map(|f| f.0).collect::<Vec<f64>>();
    let lines = by_path([None; 5]);
    let red = Some("#8c1d18");
    for alike in [&lines, &by_path([red; 5])] {
        assert_eq!(areas(alike), [400.0, 54_600.0, 90_000.0, 110_000.0]);
    }
    // As one path the strip of 10 × 260 mm is within two, and so a hole in both.
    assert_eq!(areas(&[]), [400.0, 52_000.0, 87_400.0, 110_000.0]);
    // What lies within in another colour is film on film; a bare line within is still a hole, of the colour that it is cut from.
    let white = Some("#f4f1e6");
    let colours = film(&by_path([red, white, None, red, white]));
    let told: Vec<(f64, Option<&str>)> = colours.iter().map(|(a, f)| (*a, f.as_deref())).collect();
    assert_eq!(
        told,
        [
            (9_600.0, white),
            (54_600.0, white),
            (90_000.0, red),
            (120_000.0, red)
        ]
    );
}

/// Drawn twice over itself, a line round a filled shape: kept once, and in the colour that is seen.
#[test]
fn a_line_round_what_is_filled_is_no_second_piece() {
    let square: Vec<Point> = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)]
        .map(Point::from)
        .to_vec();
    let filled = |path, fill: Option<&str>| DrawnAs {
        path,
        fill: fill.map(str::to_owned),
        over_itself: true,
    };
    for (fills, seen) in [
        ([Some("#8c1d18"), None], "#8c1d18"),
        ([None, Some("#8c1d18")], "#8c1d18"),
        ([Some("#8c1d18"), Some("#f4f1e6")], "#f4f1e6"),
    ] {
        let drawn = [filled(0, fills[0]), filled(1, fills[1])];
        let (islands, done) = clean(&[square.clone(), square.clone()], &drawn);
        assert_eq!((islands.len(), done.doubled), (1, 1));
        assert_eq!(islands[0].drawn.fill.as_deref(), Some(seen));
    }
}

/// A star drawn in one stroke: filled by the non-zero rule it is one star, by the even-odd rule five points round a hole. The areas follow from
/// where its lines cross.
#[test]
fn a_star_in_one_stroke_is_cut_as_it_is_filled() {
    let at = |radius: f64, turn: f64| {
        let angle = (turn * 36.0 - 90.0).to_radians();
        Point::new(radius * angle.cos(), radius * angle.sin())
    };
    // The inner corners lie on the lines from tip to tip but one.
    let inner = 100.0 * 18.0_f64.to_radians().sin() / 54.0_f64.to_radians().sin();
    let outline: Vec<Point> = (0..10)
        .map(|n| at(if n % 2 == 0 { 100.0 } else { inner }, f64::from(n)))
        .collect();
    let middle: Vec<Point> = (0..5).map(|n| at(inner, f64::from(2 * n + 1))).collect();
    let [star, hole] = [outline, middle].map(|c| Shape::new(vec![c]).area());
    let stroke: Vec<Point> = (0..5).map(|n| at(100.0, f64::from(4 * n))).collect();
    for (over_itself, area, pieces) in [(true, star, 1), (false, star - hole, 5)] {
        let drawn = DrawnAs {
            path: 0,
            fill: Some("#b8860b".into()),
            over_itself,
        };
        let (islands, done) = clean(std::slice::from_ref(&stroke), &[drawn]);
        let ours: f64 = islands.iter().map(|i| i.shape.area()).sum();
        assert_eq!(islands.len(), pieces);
        assert!((ours - area).abs() < 0.5, "{ours} against {area}");
        assert_eq!(
            (done.welded, done.crossing),
            if over_itself { (1, 0) } else { (0, 1) }
        );
        assert_eq!(done.sentences().len(), 1, "{:?}", done.sentences());
    }
    // Once more as a bare line over it, and once more in gold: still one star, in what is seen.
    let as_drawn = |path, fill: Option<&str>| DrawnAs {
        path,
        fill: fill.map(str::to_owned),
        over_itself: fill.is_some(),
    };
    let drawn = [
        as_drawn(2, Some("#b8860b")),
        as_drawn(0, Some("#1a1a1a")),
        as_drawn(1, None),
    ];
    let (islands, done) = clean(&[stroke.clone(), stroke.clone(), stroke], &drawn);
    assert_eq!((islands.len(), done.doubled, done.welded), (1, 2, 1));
    assert!((islands[0].shape.area() - star).abs() < 0.5);
    assert_eq!(islands[0].drawn, drawn[0]);
}
