//! What a print meets: when each thing is worked, and what the air under the print knows of it.

use kurbo::Point;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::printed_panel::{Bleeds, Fills, Picture, PrintedPanel};
use windrift_core::floor::air::Cell;
use windrift_core::floor::hang::hang;
use windrift_core::floor::lay_down::sheets::sheets;
use windrift_core::floor::lay_down::{CELL_MM, LayDown, lay_down};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::{ComesOff, FeatureKind};
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

const UNIT: Unit = Unit::Millimetre;

fn rectangle(back: f64, drop: f64, width: f64, height: f64) -> Form {
    Form::Rectangle {
        back_mm: back.into(),
        drop_mm: drop.into(),
        to: MeasuredTo::Corner,
        width_mm: width.into(),
        height_mm: height.into(),
        repeat: Repeat::ONCE,
    }
}

/// A side of 4 by 1.4 m with a door gap, a crease just above the handle, a moulding, a handle that stays, a badge that comes off, a plate and an arch; and a print over all of
/// it that runs past its foot.
fn job() -> (MeasuredSide, PlannedPiece) {
    let body = Body::Box {
        length_mm: 4000.0.into(),
        height_mm: 1400.0.into(),
        fall_mm: 0.0.into(),
    };
    let side = Side::new(SideKind::Left, body, Surface::default());
    let gap = Form::Upright {
        first_mm: 1500.0.into(),
        pitch_mm: 1.0.into(),
        count: 1,
    };
    let arch = Form::Arch {
        centre_mm: 3000.0.into(),
        width_mm: 700.0.into(),
        height_mm: 350.0.into(),
    };
    let mut badge = Feature::new(FeatureKind::Badge, rectangle(2600.0, 300.0, 120.0, 60.0));
    badge.comes_off = ComesOff::GoesBack;
    let features: Vec<SideFeature> = [
        Feature::new(FeatureKind::DoorGap, gap),
        Feature::new(FeatureKind::Moulding, rectangle(900.0, 800.0, 1300.0, 40.0)),
        Feature::new(FeatureKind::Handle, rectangle(1700.0, 450.0, 160.0, 50.0)),
        badge,
        Feature::new(FeatureKind::Plate, rectangle(700.0, 300.0, 120.0, 80.0)),
        Feature::new(FeatureKind::WheelArch, arch),
        // It passes 8 mm above the handle, and does not set it.
        Feature::new(
            FeatureKind::Crease,
            Form::Straight {
                back_mm: 0.0.into(),
                drop_mm: 442.0.into(),
                to_back_mm: 4000.0.into(),
                to_drop_mm: 442.0.into(),
            },
        ),
    ]
    .into_iter()
    .zip(1..)
    .map(|(feature, n)| SideFeature {
        id: Uuid::from_u128(n),
        feature,
    })
    .collect();
    let measured = measure(&side, &features).unwrap();
    let bleeds = Bleeds {
        front_mm: 0.0.into(),
        rear_mm: 0.0.into(),
        top_mm: 0.0.into(),
        foot_mm: 60.0.into(),
    };
    let print = PrintedPanel {
        bleeds: Some(bleeds),
        ..print(3200.0, 1200.0)
    };
    let piece = Piece::new(
        Art::Panel(print),
        PlaceRule::from_front(400.0, LetterEnd::FirstLetter, 200.0),
    );
    let settings = WorkSettings::default();
    let planned = plan_piece(Uuid::nil(), &piece, &measured, &settings, UNIT).unwrap();
    (measured, planned)
}

fn print(width: f64, height: f64) -> PrintedPanel {
    PrintedPanel {
        name: "wrap".into(),
        width_mm: width.into(),
        height_mm: height.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: Vec::new(),
    }
}

fn told(side: &MeasuredSide, planned: &PlannedPiece) -> LayDown {
    let settings = WorkSettings::default();
    let hang = hang(planned, side, &settings, false, UNIT);
    lay_down(planned, side, &hang, &settings, UNIT)
}

/// What stays on at the film's own edge needs no cut within the film, and is told how it is worked all the same.
#[test]
fn what_stays_on_at_the_edge_is_cut_in_to_from_there() {
    let (bare, _) = job();
    let handle = Feature::new(FeatureKind::Handle, rectangle(320.0, 500.0, 160.0, 50.0));
    let feature = SideFeature {
        id: Uuid::from_u128(1),
        feature: handle,
    };
    let side = measure(&bare.side, &[feature]).unwrap();
    let piece = Piece::new(
        Art::Panel(print(3200.0, 1200.0)),
        PlaceRule::from_front(400.0, LetterEnd::FirstLetter, 200.0),
    );
    let planned = plan_piece(Uuid::nil(), &piece, &side, &WorkSettings::default(), UNIT).unwrap();
    let [handle] = &planned.worked[..] else {
        panic!("{:?}", planned.worked)
    };
    assert!(
        handle.relief.is_none() && handle.how.contains("own edge"),
        "{}",
        handle.how
    );
}

/// Common practice, no source: what comes off is off before the film; a relief cut before the film comes down on what stays; gaps cut, arches
/// trimmed and plates freed once it lies.
#[test]
fn each_thing_is_told_at_its_time() {
    let (side, planned) = job();
    let told = told(&side, &planned);
    let has = |list: &[String], word: &str| list.iter().any(|l| l.starts_with(word));
    assert!(
        has(&told.before, "Badge: It comes off"),
        "{:?}",
        told.before
    );
    for word in ["Door gap", "Plate", "Wheel arch"] {
        assert!(
            has(&told.once_it_lies, word),
            "{word} {:?}",
            told.once_it_lies
        );
    }
    let strokes: Vec<_> = told.sections.iter().flat_map(|s| &s.strokes).collect();
    let at: Vec<usize> = (0..strokes.len())
        .filter(|n| has(&strokes[*n].reached, "Handle"))
        .collect();
    assert_eq!(at.len(), 1, "told once");
    // The handle lies 450 down, 1700 to 1860 back. No stroke before that one comes near it; that one does.
    let handle = kurbo::Rect::new(1700.0, 450.0, 1860.0, 500.0);
    let near = |n: usize| {
        let stroke = strokes[n];
        stroke.path.windows(2).any(|p| {
            (0..=200).any(|k| {
                let t = f64::from(k) / 200.0;
                let at = Point::new(p[0][0], p[0][1]).lerp(Point::new(p[1][0], p[1][1]), t);
                let off = Point::new(
                    at.x.clamp(handle.x0, handle.x1),
                    at.y.clamp(handle.y0, handle.y1),
                );
                at.distance(off) < stroke.width_mm / 2.0 - 1.0
            })
        })
    };
    assert!(!(0..at[0]).any(near));
    // Both feet of the moulding are set by strokes of their own, and the first of them says how.
    let feet: Vec<_> = strokes
        .iter()
        .filter(|s| s.kind == windrift_core::floor::strokes::StrokeKind::Crease)
        .collect();
    for foot in [800.0, 840.0] {
        let along = |s: &windrift_core::floor::lay_down::StrokeShown| {
            s.path.iter().all(|p| (p[1] - foot).abs() < 2.0)
        };
        assert!(feet.iter().any(|s| along(s)), "{foot}");
    }
    assert!(feet.iter().any(|s| has(&s.reached, "Moulding")));
    assert!(
        told.sections
            .iter()
            .all(|s| s.shut_in.is_empty() && s.pressed > 0.995)
    );
}

#[test]
fn the_air_knows_gaps_mouldings_and_the_edge_of_the_body() {
    let (side, planned) = job();
    let settings = WorkSettings::default();
    let hang = hang(&planned, &side, &settings, false, UNIT);
    let to_picture = planned.placed.to_picture;
    let mut seen = [0; 4];
    for s in sheets(&planned, &side, &hang, &settings) {
        let sheet = &s.plan.cells(CELL_MM, 0.0);
        for key in 0..sheet.len() {
            let at = to_picture * sheet.middle(key);
            // Beyond the body, in the arch, on the handle and on the plate no film lies.
            let arch = ((at.x - 3000.0) / 350.0).hypot((at.y - 1400.0) / 350.0) < 0.97;
            if at.y > 1405.0 || arch {
                assert_ne!(sheet.cell(key), Cell::Film, "{at:?}");
                seen[0] += 1;
            }
            if !sheet.film(key) {
                continue;
            }
            // Air leaves through the gap of the door, from every cell on it.
            if (at.x - 1500.0).abs() < CELL_MM / 2.0 - 0.1 {
                assert!(sheet.exit(key), "{at:?}");
                seen[1] += 1;
            }
            // No air passes over the moulding's ridge, 820 down, and it does past its ends.
            let over = at.y < 820.0 && at.y > 820.0 - CELL_MM;
            if over && at.x > 910.0 && at.x < 2190.0 {
                assert!(sheet.walled(key, 0, 1), "{at:?}");
                seen[2] += 1;
            }
            if over && (at.x < 890.0 || at.x > 2210.0) {
                assert!(!sheet.walled(key, 0, 1), "{at:?}");
                seen[3] += 1;
            }
        }
    }
    assert!(seen.iter().all(|n| *n > 20), "{seen:?}");
}

#[test]
fn a_picture_that_would_be_stretched_is_told_with_the_height_that_would_not() {
    let with = |fills, bleed: f64| PrintedPanel {
        bleed_mm: bleed.into(),
        picture: Some(Picture {
            drawn: false,
            photo: Uuid::nil(),
            width_px: 3000,
            height_px: 1000,
            fills,
            window: None,
        }),
        ..print(2400.0, 800.0)
    };
    assert_eq!(with(Fills::Trimmed, 50.0).stretch_told(UNIT), None);
    // With its bleed it is 2500 by 900: 3 to 1 would be 833 high.
    let told = with(Fills::WithBleed, 50.0).stretch_told(UNIT).unwrap();
    assert!(
        told.contains("8 % taller") && told.contains("833 mm high"),
        "{told}"
    );
    // 833 with its bleed of 50 on both edges is 733 as trimmed.
    let own = with(Fills::WithBleed, 50.0).own_height_mm().unwrap();
    assert!((own - (2500.0 / 3.0 - 100.0)).abs() < 1e-9, "{own}");
    assert_eq!(with(Fills::Trimmed, 50.0).own_height_mm(), None);
    let wide = PrintedPanel {
        height_mm: 600.0.into(),
        ..with(Fills::Trimmed, 50.0)
    };
    let told = wide.stretch_told(UNIT).unwrap();
    assert!(
        told.contains("33 % wider") && told.contains("800 mm high"),
        "{told}"
    );
}
