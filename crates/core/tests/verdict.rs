//! A surface that says no is obeyed: one verdict for a piece, whatever the stage (facts of the trade: common practice, no source).

use time::{Date, Month};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::Lettering;
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::verdict::{Verdict, verdict};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::{Details, FeatureClass, FeatureKind, LampColour};
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::{FilmHold, Finish, Material, Surface};

fn today() -> Date {
    Date::from_calendar_date(2026, Month::November, 26).unwrap()
}

fn found(
    surface: Surface,
    features: &[Feature],
    film: Option<FilmClass>,
    why: Option<&str>,
) -> Verdict {
    let body = Body::Box {
        length_mm: 3600.0.into(),
        height_mm: 1500.0.into(),
        fall_mm: 0.0.into(),
    };
    let features: Vec<SideFeature> = (1..)
        .map(Uuid::from_u128)
        .zip(features.iter().cloned())
        .map(|(id, feature)| SideFeature { id, feature })
        .collect();
    let side = measure(&Side::new(SideKind::Left, body, surface), &features).unwrap();
    let mut piece = Piece::new(
        Art::Lettering(Lettering::line("HHHH", "oswald", 300.0)),
        PlaceRule::from_front(400.0, LetterEnd::FirstLetter, 400.0),
    );
    piece.work.film = film;
    piece.work.go_on = why.map(str::to_owned);
    let settings = WorkSettings::default();
    let planned = plan_piece(Uuid::nil(), &piece, &side, &settings, Unit::Millimetre).unwrap();
    verdict(&planned, &side, today())
}

fn stops(surface: Surface, film: Option<FilmClass>, why: Option<&str>) -> bool {
    found(surface, &[], film, why).stops().is_some()
}

/// Every material, finish, day of spraying and skin: what Look over calls *no* stops the work, and nothing else of it does.
#[test]
fn what_look_over_refuses_stops_the_work_until_the_lead_says_why() {
    let days = [
        None,
        Some((2026, Month::November, 1)),
        Some((2026, Month::September, 1)),
    ];
    let mut refused = 0;
    for material in Material::ALL {
        for finish in Finish::ALL {
            for day in days {
                for skin in [false, true] {
                    if day.is_some() && finish != Finish::Resprayed {
                        continue;
                    }
                    let surface = Surface {
                        finish,
                        sprayed_on: day.map(|(y, m, d)| Date::from_calendar_date(y, m, d).unwrap()),
                        protective_skin: skin,
                        ..Surface::of(material)
                    };
                    let no = surface.verdict(today()).film == FilmHold::No;
                    let thick = Some(FilmClass::ThickKit);
                    assert_eq!(stops(surface, thick, None), no, "{surface:?}");
                    // Ordinary film finds no hold on texture.
                    let textured = material == Material::TexturedPlastic;
                    assert_eq!(stops(surface, None, None), no || textured, "{surface:?}");
                    // A reason passes all of it but glass that the driver looks through.
                    assert_eq!(
                        stops(surface, None, Some("owner signed")),
                        material == Material::Glass,
                        "{surface:?}"
                    );
                    refused += u32::from(no);
                }
            }
        }
    }
    assert!(refused > 50, "{refused}");
    let rear = Surface {
        driver_looks_through: false,
        ..Surface::of(Material::Glass)
    };
    assert!(!stops(rear, None, None));
}

/// Every kind of thing that film keeps off, under letters: what no reason passes, and what the lead may pass.
#[test]
fn what_must_never_be_covered_no_reason_passes() {
    // Under the first letter.
    let at = Form::Rectangle {
        back_mm: 380.0.into(),
        drop_mm: 380.0.into(),
        to: MeasuredTo::Corner,
        width_mm: 200.0.into(),
        height_mm: 200.0.into(),
        repeat: Repeat::ONCE,
    };
    let surface = Surface::default();
    let judged = |feature: Feature| {
        let without = found(surface, std::slice::from_ref(&feature), None, None);
        let with = found(surface, &[feature], None, Some("owner signed"));
        (without.stops().is_some(), with.stops().is_some())
    };
    use FeatureKind::{
        AirBag, Exit, Glass, Lamp, Plate, SafetyLabel, Sensor, StructuralFastener, Vent, WheelArch,
    };
    for kind in FeatureKind::ALL {
        if kind.class() != FeatureClass::KeepOff || kind == WheelArch {
            continue;
        }
        let never = matches!(
            kind,
            AirBag | Exit | Glass | Lamp | Plate | SafetyLabel | Sensor | StructuralFastener | Vent
        );
        assert_eq!(
            judged(Feature::new(kind, at.clone())),
            (true, never),
            "{kind:?}"
        );
    }
    let of = |kind, details| Feature {
        details: Some(details),
        ..Feature::new(kind, at.clone())
    };
    let lamp = |required| {
        of(
            Lamp,
            Details::Lamp {
                colour: LampColour::Red,
                required,
                function: Default::default(),
            },
        )
    };
    assert_eq!(judged(lamp(true)), (true, true));
    assert_eq!(judged(lamp(false)), (true, false));
    assert_eq!(
        judged(of(Glass, Details::Glass { driver: false })),
        (true, false)
    );
    // Glass that was measured before anybody asked: the driver looks through it.
    let asked = Feature {
        details: None,
        ..Feature::new(Glass, at.clone())
    };
    assert_eq!(judged(asked), (true, true));
    // Beside the letters nothing is refused.
    let aside = Form::Rectangle {
        back_mm: 3000.0.into(),
        drop_mm: 1000.0.into(),
        to: MeasuredTo::Corner,
        width_mm: 200.0.into(),
        height_mm: 200.0.into(),
        repeat: Repeat::ONCE,
    };
    assert_eq!(judged(Feature::new(Plate, aside)), (false, false));
}
