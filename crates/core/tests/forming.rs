//! Stretch against geometry that is summed numerically; verdicts on features as fitters meet them; edges; by when.

use kurbo::Point;
use proptest::prelude::*;
use time::macros::datetime;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::printed_panel::PrintedPanel;
use windrift_core::cut::by_when::{BeforeFitting, ToMake, by_when, standing};
use windrift_core::film::classes::FilmClass;
use windrift_core::film::ink::Ink;
use windrift_core::floor::edges::{EdgeEnd, Edges, SealWith, edges};
use windrift_core::floor::forming::stretch::{Cap, NoSuchShape, RecessShape, arc_mm};
use windrift_core::floor::forming::{
    Forming, FormingAsk, FormingPlace, Stretches, stretches, stretches_as_settled,
};
use windrift_core::ground::settings::{BladeSchool, FormingSchool, WorkSettings};
use windrift_core::ground::tape::Unit;
use windrift_core::ground::zone::Zone;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::{ComesOff, Details, FeatureKind, OpenSide};
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::side::words::{Ends, SideKind};

fn measured(side: &windrift_core::vehicle::side::Side, features: &[SideFeature]) -> MeasuredSide {
    windrift_core::vehicle::measured::measure::measure(side, features).unwrap()
}

/// Length of a curve through these heights, summed in small steps.
fn arc_length(from: f64, to: f64, height: impl Fn(f64) -> f64) -> f64 {
    let steps = 200_000;
    let at = |n: usize| {
        let x = from + (to - from) * n as f64 / steps as f64;
        Point::new(x, height(x))
    };
    (0..steps).map(|n| at(n).distance(at(n + 1))).sum()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, ..ProptestConfig::default() })]

    /// Down a wall, over the floor and up again: the formula against the length of the profile itself.
    #[test]
    fn developed_length_is_the_profiles_own(mouth in 20.0..500.0_f64, share in 0.01..0.95_f64, angle in 20.0..89.0_f64) {
        let slope = angle.to_radians().tan();
        let depth = share * mouth / 2.0 * slope;
        let shape = RecessShape::new(mouth, depth, angle).unwrap();
        let profile = |x: f64| -depth.min(x * slope).min((mouth - x) * slope);
        let summed = arc_length(0.0, mouth, profile);
        prop_assert!((shape.developed_mm() - summed).abs() < 1e-4 * summed, "{} {summed}", shape.developed_mm());
        prop_assert!((shape.floor_mm() - (mouth - 2.0 * depth / slope)).abs() < 1e-9);
        // Pressing the floor first leaves less film to give.
        prop_assert!(shape.stretch_floor_pressed(shape.floor_mm(), 50.0) >= shape.stretch(50.0));
        prop_assert!((shape.stretch_floor_pressed(0.0, 50.0) - shape.stretch(50.0)).abs() < 1e-12);
    }

    /// A corner that is shut in: the area of both walls and the floor, summed over the mouth.
    #[test]
    fn a_corners_area_is_its_surfaces_own(half in 20.0..200.0_f64, share in 0.05..0.95_f64, angle in 25.0..85.0_f64, band in 0.0..150.0_f64) {
        let slope = angle.to_radians().tan();
        let depth = share * half * slope;
        let shape = RecessShape::new(2.0 * half, depth, angle).unwrap();
        let n = 800;
        let step = half / f64::from(n);
        let mut area = 0.0;
        for i in 0..n {
            for j in 0..n {
                let (x, y) = ((f64::from(i) + 0.5) * step, (f64::from(j) + 0.5) * step);
                let on_wall = x.min(y) * slope < depth;
                let lean = if on_wall { (1.0 + slope * slope).sqrt() } else { 1.0 };
                area += lean * step * step;
            }
        }
        let expected = (1.0 + (area - half * half) / (half + band).powi(2)).sqrt() - 1.0;
        let found = shape.corner_stretch(band);
        prop_assert!((found - expected).abs() < 0.01 * expected.max(0.01), "{found} {expected}");
        // The band that it asks for leaves just so much.
        let most = found * 0.6 + 1e-6;
        let needed = shape.corner_band_mm(most).unwrap();
        prop_assert!(shape.corner_stretch(needed) <= most + 1e-9);
    }

    /// A cap: area against the surface of a ball summed in rings; the arc over its top against its own length; a ring round it.
    #[test]
    fn caps_are_those_of_a_ball(radius in 2.0..200.0_f64, share in 0.02..0.95_f64, most in 0.01..0.3_f64) {
        let height = radius * share;
        let cap = Cap { radius_mm: radius, height_mm: height };
        let ball = (radius * radius + height * height) / (2.0 * height);
        let over = |r: f64| (ball * ball - r * r).max(0.0).sqrt() - (ball - height);
        let n = 20_000;
        let mut area = 0.0;
        for k in 0..n {
            let (a, b) = (radius * f64::from(k) / f64::from(n), radius * f64::from(k + 1) / f64::from(n));
            let slant = Point::new(a, over(a)).distance(Point::new(b, over(b)));
            area += std::f64::consts::PI * (a + b) * slant;
        }
        let flat = std::f64::consts::PI * radius * radius;
        prop_assert!((cap.area_stretch() - (area / flat - 1.0)).abs() < 1e-3, "{} {}", cap.area_stretch(), area / flat - 1.0);
        let arc = arc_length(-radius, radius, over);
        prop_assert!((cap.along_arc() - (arc / (2.0 * radius) - 1.0)).abs() < 1e-4);
        prop_assert!((arc_mm(2.0 * radius, height) - arc).abs() < 1e-3 * arc);
        // A tent from the ring to the top is stretched by just so much.
        let ring = cap.ring_mm(most).unwrap();
        prop_assert!((ring.hypot(height) / ring - 1.0 - most).abs() < 1e-9);
    }

    /// More film that gives never stretches more.
    #[test]
    fn a_wider_band_never_stretches_more(mouth in 20.0..400.0_f64, depth in 1.0..100.0_f64, a in 0.0..200.0_f64, b in 0.0..200.0_f64) {
        let shape = RecessShape::new(mouth, depth, 90.0).unwrap();
        let (less, more) = (a.min(b), a.max(b));
        prop_assert!(shape.stretch(more) <= shape.stretch(less));
        prop_assert!(shape.corner_stretch(more) <= shape.corner_stretch(less));
    }
}

/// Mensuration of the spherical segment: h/a = 0.4 is 10.3 % along the arc, where the mean over the area says 7.7.
#[test]
fn the_mean_over_a_cap_is_only_the_least() {
    let cap = Cap {
        radius_mm: 10.0,
        height_mm: 4.0,
    };
    assert_eq!(
        (
            (cap.stretch(0.0) * 1000.0).round(),
            (cap.along_arc() * 1000.0).round()
        ),
        (77.0, 103.0)
    );
    // Half a ball has twice the area of the circle under it.
    let half = Cap {
        radius_mm: 5.0,
        height_mm: 5.0,
    };
    assert!((half.area_stretch() - 1.0).abs() < 1e-12);
}

#[test]
fn shapes_that_cannot_be_are_refused() {
    assert_eq!(
        RecessShape::new(100.0, 51.0, 45.0),
        Err(NoSuchShape::WallsMeet)
    );
    for (mouth, depth, angle) in [
        (0.0, 5.0, 90.0),
        (100.0, -1.0, 90.0),
        (100.0, 5.0, 0.0),
        (100.0, 5.0, 120.0),
        (f64::NAN, 5.0, 90.0),
    ] {
        assert_eq!(
            RecessShape::new(mouth, depth, angle),
            Err(NoSuchShape::Figures)
        );
    }
    assert_eq!(
        RecessShape::new(100.0, 5.0, 90.0).unwrap().band_mm(0.0),
        None
    );
}

fn zone(kind: FeatureKind, size: (f64, f64), details: Details) -> SideFeature {
    SideFeature {
        id: Uuid::from_u128(7),
        feature: Feature {
            details: Some(details),
            ..Feature::new(
                kind,
                Form::Rectangle {
                    back_mm: 1500.0.into(),
                    drop_mm: 800.0.into(),
                    to: MeasuredTo::Middle,
                    width_mm: size.0.into(),
                    height_mm: size.1.into(),
                    repeat: Repeat::ONCE,
                },
            )
        },
    }
}

fn recess(size: (f64, f64), depth: f64, open: OpenSide) -> SideFeature {
    zone(
        FeatureKind::Recess,
        size,
        Details::Recess {
            depth_mm: depth.into(),
            wall_degrees: 90.0,
            open,
        },
    )
}

/// A print of 2 m by 1 m over the middle of that.
fn print_over(side: &MeasuredSide) -> PlannedPiece {
    print_at(side, (2000.0, 1000.0), (500.0, 300.0))
}

fn print_at(side: &MeasuredSide, size: (f64, f64), at: (f64, f64)) -> PlannedPiece {
    let print = PrintedPanel {
        name: "side".into(),
        width_mm: size.0.into(),
        height_mm: size.1.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: Vec::new(),
    };
    let place = PlaceRule::from_front(at.0, LetterEnd::FirstLetter, at.1);
    plan_piece(
        Uuid::nil(),
        &Piece::new(Art::Panel(print), place),
        side,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap()
}

fn formed(
    features: &[SideFeature],
    class: FilmClass,
    school: FormingSchool,
    never_past: Option<f64>,
) -> Stretches {
    let side = measured(&crate::common::body(SideKind::Left), features);
    let film = class.figures();
    let ask = FormingAsk {
        film: &film,
        never_past,
        school,
        band_mm: 50.8,
        lap_mm: None,
        ends: Ends(["front", "rear"]),
        unit: Unit::InchSixteenth,
    };
    stretches(&print_over(&side), &side, &ask)
}

fn one(features: &[SideFeature], class: FilmClass) -> FormingPlace {
    let found = formed(features, class, FormingSchool::Band, None);
    assert_eq!(found.places.len(), 1, "{:?}", found.places);
    found.places[0].clone()
}

/// The everyday recess, 4 in wide, 3/4 in deep, square walls: 37 % straight in, 19 % with 2 in of warm film on each side, 10 % only with 5 1/2 in.
/// Formable by both schools, and it must be heated.
#[test]
fn the_everyday_recess_is_formable_and_must_be_heated() {
    let everyday = [recess((300.0, 101.6), 19.05, OpenSide::Enclosed)];
    for school in [FormingSchool::Band, FormingSchool::Bridge] {
        let found = formed(&everyday, FilmClass::CastPrint, school, None);
        let place = &found.places[0];
        assert_eq!(place.forming, Forming::WarmAndHeat, "{}", place.line);
        let percent = |share: Option<f64>| (share.unwrap() * 1000.0).round() / 10.0;
        assert_eq!(
            (percent(place.straight), percent(place.warmed)),
            (37.5, 18.8)
        );
        assert!(
            place.why.iter().any(|w| w.contains("5 1/2")),
            "{:?}",
            place.why
        );
        assert!(place.line.contains("185 to 195"), "{}", place.line);
        // Round its rim: 2 (300 + 101.6).
        assert!((place.must_reach.as_ref().unwrap().mm - 803.2).abs() < 0.1);
        assert!(found.says.iter().any(|s| s.contains("packing tape")));
    }
}

#[test]
fn other_films_and_other_recesses_want_other_ways() {
    use FilmClass::{CastPrint, RemovableReflective, ThickKit};
    let everyday = [recess((300.0, 101.6), 19.05, OpenSide::Enclosed)];
    assert_eq!(one(&everyday, ThickKit).forming, Forming::NotOnThis);
    let cut = one(&everyday, RemovableReflective);
    assert_eq!(cut.forming, Forming::ReliefCut);
    assert!(cut.line.contains("poke a hole") && cut.line.contains("in a J"));
    // Open at the foot: 1 1/2 in of slack, no stretch.
    let fed = one(&[recess((300.0, 101.6), 19.05, OpenSide::Foot)], CastPrint);
    assert_eq!(fed.forming, Forming::Feed);
    assert!(
        fed.line.contains("1 1/2 of slack in from the foot"),
        "{}",
        fed.line
    );
    assert!(fed.warmed.is_none() && fed.must_reach.is_some());
    // Shallow and wide: pressed as it is. Deep and small: inlaid. Deep and large: two pieces.
    let of = |size, depth| one(&[recess(size, depth, OpenSide::Enclosed)], CastPrint).forming;
    assert_eq!(of((600.0, 500.0), 3.0), Forming::Press);
    assert_eq!(of((600.0, 300.0), 12.0), Forming::Warm);
    assert_eq!(of((150.0, 150.0), 90.0), Forming::Inlay);
    assert_eq!(of((900.0, 600.0), 300.0), Forming::TwoPieces);
    // A sheet that stops sooner is obeyed.
    let strict = formed(&everyday, CastPrint, FormingSchool::Band, Some(0.12));
    assert_eq!(strict.places[0].forming, Forming::Inlay);
    assert!(strict.never_from_sheet);
    // What cannot be is told, with what to do.
    let steep = zone(
        FeatureKind::Recess,
        (300.0, 100.0),
        Details::Recess {
            depth_mm: 40.0.into(),
            wall_degrees: 30.0,
            open: OpenSide::Enclosed,
        },
    );
    let told = one(&[steep], CastPrint);
    assert!(told.line.contains("measure its depth"), "{}", told.line);
}

#[test]
fn curves_hollows_and_heads() {
    let curve = |compound, rise: f64| {
        zone(
            FeatureKind::CurvedZone,
            (400.0, 400.0),
            Details::Curve {
                compound,
                rise_mm: rise.into(),
            },
        )
    };
    // One way it bends without stretch, and is longer than it looks: 2 · 200 over a rise of 50.
    let bent = one(&[curve(false, 50.0)], FilmClass::CastPrint);
    assert_eq!(bent.forming, Forming::Press);
    let radius: f64 = (200.0_f64.powi(2) + 50.0 * 50.0) / 100.0;
    let arc = 2.0 * radius * (200.0 / radius).asin();
    // As a tape reads it.
    assert!((bent.developed.unwrap().mm - arc).abs() < 0.8);
    // Two ways: h/a = 0.25 is 4.1 % over its top, 0.9 is 55 %.
    let two_ways = |rise| one(&[curve(true, rise)], FilmClass::CastPrint).forming;
    assert_eq!(two_ways(40.0), Forming::Press);
    assert_eq!(two_ways(60.0), Forming::Warm);
    assert_eq!(two_ways(180.0), Forming::TwoPieces);
    // Half an inch to an inch is usual (common practice, no source); another lap is tried and told, and what speaks against it.
    let lapped = |lap_mm: Option<f64>| {
        let side = measured(&crate::common::body(SideKind::Left), &[curve(true, 180.0)]);
        let film = FilmClass::CastPrint.figures();
        let ask = FormingAsk {
            film: &film,
            never_past: None,
            school: FormingSchool::Band,
            band_mm: 50.8,
            lap_mm,
            ends: Ends(["front", "rear"]),
            unit: Unit::InchSixteenth,
        };
        stretches(&print_over(&side), &side, &ask).places[0].clone()
    };
    let usual = lapped(None);
    assert!(
        usual.line.ends_with("they lap by 1.") && usual.why.len() == 3,
        "{usual:?}"
    );
    let scant = lapped(Some(6.35));
    assert!(
        scant.line.ends_with("they lap by 1/4.")
            && scant.why.iter().any(|w| w.contains("opens first")),
        "{scant:?}"
    );
    let wide = lapped(Some(450.0));
    assert!(
        wide.why.iter().any(|w| w.contains("stands over.")),
        "{wide:?}"
    );
    let hollow = zone(
        FeatureKind::ConcaveZone,
        (400.0, 400.0),
        Details::Hollow {
            depth_mm: 20.0.into(),
        },
    );
    let pressed = one(&[hollow], FilmClass::CastPrint);
    assert!(pressed.line.contains("middle first") && pressed.must_reach.is_some());
    // Heads of one width are one place; nothing of a flat stays for them to reach.
    let heads = SideFeature {
        id: Uuid::from_u128(9),
        feature: crate::common::rivets(900.0, 300.0, 3, 500.0, 100.0, 5, 12.7),
    };
    let heads = one(&[heads], FilmClass::CastPrint);
    assert!(heads.name.contains("15 heads") && heads.line.contains("200 \u{b0}F"));
    assert!(heads.must_reach.is_none());
}

/// A body line of two walls of 16, 12 and 20 mm, and heads that were measured: 3 mm high over 10 across, by hand √(1 + (3/5)²) − 1 = 16.6 % on
/// average and θ/sin θ − 1 with θ = 2·atan(0.6) = 22.5 % over the top.
#[test]
fn lines_and_heads_that_were_measured_are_judged_by_their_own_figures() {
    let line = |details| {
        let form = Form::Straight {
            back_mm: 400.0.into(),
            drop_mm: 600.0.into(),
            to_back_mm: 1800.0.into(),
            to_drop_mm: 600.0.into(),
        };
        let mut line = Feature::new(FeatureKind::BodyLine, form);
        line.details = details;
        SideFeature {
            id: Uuid::from_u128(7),
            feature: line,
        }
    };
    let deep = |depth: f64, wide: f64| Details::Fold {
        depth_mm: depth.into(),
        wide_mm: wide.into(),
    };
    let unknown = one(&[line(None)], FilmClass::CastPrint);
    assert_eq!((unknown.forming, unknown.straight), (Forming::Press, None));
    assert!(unknown.why[0].contains("not been measured"));
    // Two walls of 20 over 32: 25 %, more than cast film is kept under; set into the line it is fed 8 mm.
    let sharp = one(&[line(Some(deep(12.0, 32.0)))], FilmClass::CastPrint);
    assert_eq!(sharp.forming, Forming::Feed);
    assert_eq!(sharp.straight, Some(0.25));
    // As a tape reads it.
    assert!((sharp.developed.as_ref().unwrap().mm - 40.0).abs() < 0.8);
    assert!(sharp.line.contains("5/16 of film is fed"), "{}", sharp.line);
    let shallow = one(&[line(Some(deep(3.0, 32.0)))], FilmClass::CastPrint);
    assert_eq!(shallow.forming, Forming::Press);
    assert!((shallow.straight.unwrap() - 0.0174).abs() < 1e-4);

    let heads = |high: Option<f64>| {
        let form = Form::Heads {
            first_mm: 900.0.into(),
            pitch_mm: 100.0.into(),
            columns: 1,
            first_head_mm: 500.0.into(),
            head_pitch_mm: 50.0.into(),
            heads: 3,
            head_mm: 10.0.into(),
        };
        let mut heads = Feature::new(FeatureKind::Rivets, form);
        heads.details = high.map(|h| Details::Head {
            height_mm: h.into(),
        });
        SideFeature {
            id: Uuid::from_u128(8),
            feature: heads,
        }
    };
    let usual = one(&[heads(None)], FilmClass::CastPrint);
    assert!((usual.both_ways.unwrap() - 0.159).abs() < 1e-3 && usual.why[0].contains("(ours)"));
    let high = one(&[heads(Some(3.0))], FilmClass::CastPrint);
    assert!(
        (high.both_ways.unwrap() - 0.225).abs() < 1e-3,
        "{:?}",
        high.both_ways
    );
    assert!(
        high.why[0].contains("17 % both ways at once on average"),
        "{}",
        high.why[0]
    );
    assert!(high.name.contains("1/8 high"), "{}", high.name);
    // Higher than wide it is no head.
    let refused = heads(Some(10.1)).feature.check().unwrap_err().to_string();
    assert!(refused.contains("not higher than it is wide"), "{refused}");
    assert!(heads(Some(10.0)).feature.check().is_ok());
    assert!(line(Some(deep(0.0, 10.0))).feature.check().is_err());
}

/// A print that lies wholly on a recess's floor bridges nothing; what Lay down tells first is what Film tells.
#[test]
fn inside_a_recess_nothing_is_bridged_and_lay_down_tells_the_same() {
    let side = measured(
        &crate::common::body(SideKind::Left),
        &[recess((900.0, 600.0), 19.05, OpenSide::Enclosed)],
    );
    let (settings, unit) = (WorkSettings::default(), Unit::InchSixteenth);
    let small = print_at(&side, (300.0, 200.0), (1350.0, 700.0));
    let found = stretches_as_settled(&small, &side, &settings, unit);
    assert_eq!(found.places[0].forming, Forming::Press);
    assert!(found.before().is_empty() && found.once_it_lies().is_none());
    let planned = print_over(&side);
    let hang = windrift_core::floor::hang::hang(&planned, &side, &settings, false, unit);
    let laid = windrift_core::floor::lay_down::lay_down(&planned, &side, &hang, &settings, unit);
    let told = stretches_as_settled(&planned, &side, &settings, unit);
    assert!(!told.before().is_empty());
    assert!(told.before().iter().all(|s| laid.before.contains(s)));
    assert!(laid.once_it_lies.contains(&told.once_it_lies().unwrap()));
    // Where film cannot be brought in, nobody is told to bridge it.
    let deep = measured(
        &crate::common::body(SideKind::Left),
        &[recess((150.0, 150.0), 90.0, OpenSide::Enclosed)],
    );
    let planned = print_over(&deep);
    let hang = windrift_core::floor::hang::hang(&planned, &deep, &settings, false, unit);
    let laid = windrift_core::floor::lay_down::lay_down(&planned, &deep, &hang, &settings, unit);
    let air: Vec<&str> = (laid.sections.iter())
        .flat_map(|s| &s.shut_in)
        .map(|a| a.sentence.as_str())
        .collect();
    assert_eq!(air.len(), 1, "{air:?}");
    assert!(
        air[0].contains("Inlay") && !air[0].contains("even tension"),
        "{}",
        air[0]
    );
}

/// The deepest is worked first whatever order they were measured in.
#[test]
fn deepest_first() {
    let at = |id: u128, back: f64, depth: f64| {
        let mut f = recess((120.0, 120.0), depth, OpenSide::Foot);
        f.id = Uuid::from_u128(id);
        if let Form::Rectangle { back_mm, .. } = &mut f.feature.form {
            *back_mm = back.into();
        }
        f
    };
    let found = formed(
        &[at(1, 800.0, 5.0), at(2, 1200.0, 25.0), at(3, 1700.0, 12.0)],
        FilmClass::CastPrint,
        FormingSchool::Band,
        None,
    );
    let straight: Vec<f64> = found.places.iter().filter_map(|p| p.straight).collect();
    assert_eq!(straight.len(), 3);
    assert!(straight.windows(2).all(|w| w[0] > w[1]), "{straight:?}");
    let numbers: Vec<u32> = found.places.iter().map(|p| p.number).collect();
    assert_eq!(numbers, [1, 2, 3]);
}

fn ended(class: FilmClass, features: &[SideFeature], size: (f64, f64), at: (f64, f64)) -> Edges {
    let side = measured(&crate::common::body(SideKind::Left), features);
    let planned = print_at(&side, size, at);
    edges(
        &planned,
        &side,
        &class.figures(),
        BladeSchool::Tape,
        Unit::Millimetre,
    )
}

/// Every edge ends somehow: the runs come to the whole outline, whatever it meets.
#[test]
fn edges_come_to_the_whole_outline() {
    let of = |end, edges: &Edges| -> f64 {
        let runs = edges.runs.iter().filter(|r| r.end == end);
        runs.map(|r| r.length.mm).sum()
    };
    let plain = ended(FilmClass::CastPrint, &[], (1200.0, 500.0), (600.0, 300.0));
    assert!((of(EdgeEnd::Flat, &plain) - 3400.0).abs() < 0.1);
    assert!((plain.cutting_tape.mm - 3400.0).abs() < 0.1);
    // Its top at the body's own upper edge: 1200 of it end there.
    let top = ended(FilmClass::CastPrint, &[], (1200.0, 500.0), (600.0, 0.0));
    let at_body = of(EdgeEnd::Body, &top);
    assert!((1200.0..1260.0).contains(&at_body), "{at_body}");
    let all: f64 = top.runs.iter().map(|r| r.length.mm).sum();
    assert!((all - 3400.0).abs() < 0.1);
    assert!(
        top.runs[0].says.contains("leave 6 mm"),
        "{}",
        top.runs[0].says
    );
    // A handle that stays, at its rear edge.
    let handle = zone(
        FeatureKind::Handle,
        (60.0, 200.0),
        Details::Hollow {
            depth_mm: 1.0.into(),
        },
    );
    let mut handle = handle;
    handle.feature.details = None;
    let met = ended(
        FilmClass::CastPrint,
        &[handle.clone()],
        (900.0, 800.0),
        (600.0, 400.0),
    );
    // Half of it lies within the print: 30 + 200 + 30 of its rim, and what of the print's own edge comes near it.
    let round = of(EdgeEnd::Hardware, &met);
    assert!((260.0..300.0).contains(&round), "{round}");
    // Within a print what stays is an edge all round, and the print's own edge is as long as it was.
    let within = ended(
        FilmClass::CastPrint,
        &[handle.clone()],
        (1800.0, 800.0),
        (600.0, 400.0),
    );
    assert!((of(EdgeEnd::Hardware, &within) - 520.0).abs() < 1.0);
    assert!((of(EdgeEnd::Flat, &within) - 5200.0).abs() < 1.0);
    assert!((within.cutting_tape.mm - 5720.0).abs() < 1.0);
    // What comes off first is none.
    let mut off = handle;
    off.feature.comes_off = ComesOff::GoesBack;
    let over = ended(
        FilmClass::CastPrint,
        &[off],
        (1800.0, 800.0),
        (600.0, 400.0),
    );
    assert_eq!(of(EdgeEnd::Hardware, &over), 0.0);
    // A door gap across it parts the film: 800 down one side of the gap and 800 up the other, beside what of the print's own edge comes near it.
    let gap = SideFeature {
        id: Uuid::from_u128(5),
        feature: Feature::new(
            FeatureKind::DoorGap,
            Form::Upright {
                first_mm: 1400.0.into(),
                pitch_mm: 100.0.into(),
                count: 1,
            },
        ),
    };
    let parted = ended(
        FilmClass::CastPrint,
        std::slice::from_ref(&gap),
        (1800.0, 800.0),
        (600.0, 400.0),
    );
    let at_gap = of(EdgeEnd::Gap, &parted);
    assert!((1600.0..1660.0).contains(&at_gap), "{at_gap}");
    // A print that ends at the gap has one edge there, its own.
    let ends = ended(FilmClass::CastPrint, &[gap], (800.0, 800.0), (600.0, 400.0));
    let at_gap = of(EdgeEnd::Gap, &ends);
    assert!((800.0..860.0).contains(&at_gap), "{at_gap}");
    // An arm within the print: 30 + 100 all round it twice over, and the relief cut from it to the nearest edge of the film, its lower one: 800 + 400 less 1060.
    let arm = SideFeature {
        id: Uuid::from_u128(6),
        feature: Feature::new(
            FeatureKind::Bracket,
            Form::Rectangle {
                back_mm: 1400.0.into(),
                drop_mm: 960.0.into(),
                to: MeasuredTo::Corner,
                width_mm: 30.0.into(),
                height_mm: 100.0.into(),
                repeat: Repeat::ONCE,
            },
        ),
    };
    let round = ended(
        FilmClass::CastPrint,
        &[arm],
        (1800.0, 800.0),
        (600.0, 400.0),
    );
    let slit = of(EdgeEnd::Relief, &round);
    assert!((slit - 140.0).abs() <= 10.0, "{slit}");
    let tape = of(EdgeEnd::Flat, &round) + of(EdgeEnd::Hardware, &round);
    assert!(
        (round.cutting_tape.mm - tape).abs() < 1.0,
        "no tape under what is cut on a mat"
    );
    // Thick kit film is cut flush with a bevel; lettering comes cut; film on a hull is sealed all round.
    let thick = ended(FilmClass::ThickKit, &[], (1200.0, 500.0), (600.0, 0.0));
    assert!(thick.says.iter().any(|s| s.contains("bevelled")));
    assert!(thick.runs[0].says.contains("flush"));
    assert_eq!(thick.cutting_tape.mm, 0.0);
    let letters = ended(
        FilmClass::CutLettering,
        &[],
        (1200.0, 500.0),
        (600.0, 300.0),
    );
    assert!(letters.runs.is_empty());
    let hull = ended(FilmClass::HullPrint, &[], (1200.0, 500.0), (600.0, 300.0));
    let sealed: f64 = hull.sealed.iter().map(|s| s.length.mm).sum();
    assert!((sealed - 3400.0).abs() < 0.1);
    assert!(hull.sealed.iter().all(|s| s.with == SealWith::Sealer));
}

/// Common practice, no source: tape half on and half off along rockers and under bumpers, sealer in wheel wells, nothing on the flat of a side.
#[test]
fn edges_at_the_foot_are_taped_and_those_at_wheels_are_sealed() {
    let tall = 86.0 * 25.4;
    let of = |edges: &Edges, with| -> f64 {
        let those = edges.sealed.iter().filter(|s| s.with == with);
        those.map(|s| s.length.mm).sum()
    };
    let flat = ended(FilmClass::CastPrint, &[], (1200.0, 500.0), (600.0, 300.0));
    assert!(flat.sealed.is_empty());
    let top = ended(FilmClass::CastPrint, &[], (1200.0, 500.0), (600.0, 0.0));
    assert!(top.sealed.is_empty(), "the upper edge is no rocker");
    let foot = (600.0, tall - 500.0);
    let low = ended(FilmClass::CastPrint, &[], (1200.0, 500.0), foot);
    let taped = of(&low, SealWith::Tape);
    assert!((1190.0..1260.0).contains(&taped), "{taped}");
    assert_eq!(of(&low, SealWith::Sealer), 0.0);
    // Over the whole side its foot is taped and no upright end is, on either hand.
    let long = 288.0 * 25.4;
    let all = ended(FilmClass::CastPrint, &[], (long, tall), (0.0, 0.0));
    let foot_of_all = of(&all, SealWith::Tape);
    assert!((foot_of_all - long).abs() < 40.0, "{foot_of_all} of {long}");
    // Film that comes off again is not sealed in, nor is strip with edges of its own.
    for class in [FilmClass::RemovableReflective, FilmClass::ConspicuityStrip] {
        assert!(ended(class, &[], (1200.0, 500.0), foot).sealed.is_empty());
    }
    // An arch in the middle of the foot: its rim is sealed, what is left of the foot is taped.
    let mut arch = zone(
        FeatureKind::WheelArch,
        (10.0, 10.0),
        Details::Hollow {
            depth_mm: 1.0.into(),
        },
    );
    arch.feature.details = None;
    arch.feature.form = Form::Arch {
        centre_mm: 1200.0.into(),
        width_mm: 600.0.into(),
        height_mm: 300.0.into(),
    };
    let wheel = ended(FilmClass::CastPrint, &[arch], (1200.0, 500.0), foot);
    // Half a circle of 300: π · 300 = 942 mm of rim, within its chords and where it meets the foot.
    let rim = of(&wheel, SealWith::Sealer);
    assert!((rim - 300.0 * std::f64::consts::PI).abs() < 15.0, "{rim}");
    let left = of(&wheel, SealWith::Tape);
    assert!((left - (taped - 600.0)).abs() < 30.0, "{left} of {taped}");
}

fn made(ink: Ink, printed_mm: f64, cut_mm: f64) -> ToMake {
    ToMake {
        fit_at: datetime!(2026-12-04 08:00 UTC),
        printed_mm,
        outgas: ink.outgassing(false, []),
        laminates: vec![],
        cut_mm,
        window: None,
    }
}

/// Backwards by hand: 24 h in the hall, a quarter of an hour to roll up, 1.5 times the usual for trimming and laminating 8 m, 24 h of gassing out,
/// 1.5 h to print it.
#[test]
fn hours_before_the_fitting_by_hand() {
    let steps = by_when(&made(Ink::Solvent, 8000.0, 0.0)).unwrap();
    let at = |step| steps.iter().find(|s| s.step == step).unwrap().latest;
    assert_eq!(
        at(BeforeFitting::Acclimatise),
        datetime!(2026-12-03 08:00 UTC)
    );
    assert_eq!(at(BeforeFitting::RollUp), datetime!(2026-12-03 07:45 UTC));
    assert_eq!(at(BeforeFitting::Trim), datetime!(2026-12-03 07:00 UTC));
    assert_eq!(at(BeforeFitting::Laminate), datetime!(2026-12-03 06:15 UTC));
    assert_eq!(at(BeforeFitting::Outgas), datetime!(2026-12-02 06:15 UTC));
    assert_eq!(at(BeforeFitting::Print), datetime!(2026-12-02 04:45 UTC));
    // Each begins when the one before it is over.
    assert!(steps.windows(2).all(|w| w[0].over == w[1].latest));
    // Latex: no wait by one school, the same day by the other.
    let latex = by_when(&made(Ink::Latex, 8000.0, 0.0)).unwrap();
    assert!(latex.iter().all(|s| s.step != BeforeFitting::Outgas));
    let every = ToMake {
        outgas: Ink::Latex.outgassing(true, []),
        ..made(Ink::Latex, 8000.0, 0.0)
    };
    assert_eq!(by_when(&every).unwrap().len(), steps.len());
    // A film's sheet decides over either school: 6 h are waited for, and the sheet is named; the laminate that was chosen is too.
    let said = ToMake {
        outgas: Ink::Latex.outgassing(false, [Some(6.0)]),
        laminates: vec!["matt".into()],
        ..made(Ink::Latex, 8000.0, 0.0)
    };
    let by_sheet = by_when(&said).unwrap();
    let step = |step| by_sheet.iter().find(|s| s.step == step).unwrap();
    let (rack, laminate) = (step(BeforeFitting::Outgas), step(BeforeFitting::Laminate));
    assert_eq!(rack.over - rack.latest, time::Duration::hours(6));
    assert!(rack.work.what.contains("data sheet"), "{}", rack.work.what);
    assert_eq!(laminate.work.what, "Laminate it cold, with matt");
    assert!(by_when(&made(Ink::Uv, 0.0, 0.0)).is_err());
    // Lettering alone is cut, weeded, taped, rolled up.
    let letters = by_when(&made(Ink::Uv, 0.0, 5000.0)).unwrap();
    assert_eq!(letters.len(), 5);
}

/// What is late, and what has gassed out meanwhile though nobody said so.
#[test]
fn what_is_late_is_told() {
    let steps = by_when(&made(Ink::Solvent, 8000.0, 0.0)).unwrap();
    let printed = |at| vec![(BeforeFitting::Print, at)];
    // Printed in time: nothing is late, the rack is next.
    let now = standing(
        &steps,
        &printed(datetime!(2026-12-01 16:00 UTC)),
        datetime!(2026-12-01 17:00 UTC),
    );
    assert_eq!((now.next, now.late), (Some(BeforeFitting::Outgas), None));
    // A day later it has gassed out: laminating is next, and there is time.
    let now = standing(
        &steps,
        &printed(datetime!(2026-12-01 16:00 UTC)),
        datetime!(2026-12-02 17:00 UTC),
    );
    assert_eq!((now.next, now.late), (Some(BeforeFitting::Laminate), None));
    // Printed on the eve: a day late, and the fitting moves.
    let now = standing(
        &steps,
        &printed(datetime!(2026-12-03 06:15 UTC)),
        datetime!(2026-12-03 07:00 UTC),
    );
    assert_eq!(now.late, Some(time::Duration::DAY));
    assert_eq!(now.earliest_fit, datetime!(2026-12-05 08:00 UTC));
}

/// Wall clocks over changes of the clock, against another calendar library with its own copy of the IANA database.
#[test]
fn wall_clocks_agree_with_another_calendar() {
    use chrono::TimeZone as _;
    for name in [
        "America/Denver",
        "Europe/Berlin",
        "Australia/Sydney",
        "Asia/Kathmandu",
    ] {
        let (own, other) = (
            Zone::named(name).unwrap(),
            name.parse::<chrono_tz::Tz>().unwrap(),
        );
        let first = chrono::NaiveDate::from_ymd_opt(2026, 1, 1).unwrap();
        for half_hours in (0..2 * 24 * 365).step_by(7) {
            let wall = first.and_hms_opt(0, 0, 0).unwrap()
                + chrono::Duration::minutes(30 * i64::from(half_hours));
            let text = wall.format("%Y-%m-%dT%H:%M").to_string();
            let found = own.at_wall_clock(&text).unwrap();
            // Of an hour that the clock shows twice the first; of one that it skips nothing to hold it against.
            if let Some(there) = other.from_local_datetime(&wall).earliest() {
                assert_eq!(found.unix_timestamp(), there.timestamp(), "{name} {text}");
                assert_eq!(own.on_wall_clock(found), text);
            }
        }
    }
    assert_eq!(Zone::UTC.at_wall_clock("2026-13-40T08:00"), None);
}
