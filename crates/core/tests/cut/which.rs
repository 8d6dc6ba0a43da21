//! Which film for a piece: what speaks for and against each follows from the surface, the features under it and what is wanted. Facts of the trade
//! are common practice, no source.

use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::Lettering;
use windrift_core::art::printed_panel::PrintedPanel;
use windrift_core::cut::which_film::{OnShelf, RankedFilm, Suits, Wanted, same_film, which_film};
use windrift_core::film::classes::FilmClass;
use windrift_core::film::data_sheet::DataSheet;
use windrift_core::film::laminate::Laminate;
use windrift_core::film::stocked::ChosenFilm;
use windrift_core::film::stocked::StockedFilm;
use windrift_core::ground::climate::Climate;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;
use windrift_core::vehicle::surface::{Material, Surface};

fn on_shelf(class: FilmClass, sheet: DataSheet) -> OnShelf {
    OnShelf {
        id: Uuid::from_u128(class as u128 + 1),
        film: StockedFilm {
            name: class.name().into(),
            class,
            colour: "#14524d".into(),
            sheet,
            laminate: None,
        },
        widest_mm: 1371.6,
        left_mm: 20_000.0,
    }
}

fn plain(class: FilmClass) -> OnShelf {
    on_shelf(class, DataSheet::default())
}

fn side(material: Material, under: Option<FeatureKind>) -> MeasuredSide {
    let (mut side, _) = StartShape::BoxBody.start(SideKind::Left);
    side.surface = Surface::of(material);
    let form = Form::Rectangle {
        back_mm: 600.0.into(),
        drop_mm: 600.0.into(),
        to: MeasuredTo::Corner,
        width_mm: 400.0.into(),
        height_mm: 300.0.into(),
        repeat: Repeat::ONCE,
    };
    let features: Vec<SideFeature> = (under.into_iter())
        .map(|kind| SideFeature {
            id: Uuid::from_u128(7),
            feature: Feature::new(kind, form.clone()),
        })
        .collect();
    measure(&side, &features).unwrap()
}

fn ranked(art: Art, side: &MeasuredSide, shelf: &[OnShelf], wanted: Wanted) -> Vec<RankedFilm> {
    let piece = Piece::new(
        art,
        PlaceRule::from_front(450.0, LetterEnd::FirstLetter, 500.0),
    );
    let planned = plan_piece(
        Uuid::nil(),
        &piece,
        side,
        &WorkSettings::default(),
        Unit::Millimetre,
    )
    .unwrap();
    which_film(&planned, side, shelf, &wanted, Unit::Millimetre)
}

fn print() -> Art {
    Art::Panel(PrintedPanel {
        name: "side".into(),
        width_mm: 2500.0.into(),
        height_mm: 900.0.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: vec![],
    })
}

fn words() -> Art {
    Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0))
}

fn of(all: &[RankedFilm], class: FilmClass) -> &RankedFilm {
    all.iter().find(|r| r.class == class).unwrap()
}

fn says(all: &[String], what: &str) -> bool {
    all.iter().any(|s| s.contains(what))
}

#[test]
fn a_print_takes_print_film_and_lettering_lettering_film() {
    let shelf: Vec<OnShelf> = FilmClass::ALL.map(plain).into();
    let side = side(Material::PaintedAluminium, None);
    let for_print = ranked(print(), &side, &shelf, Wanted::default());
    assert!(matches!(
        for_print[0].class,
        FilmClass::CastPrint | FilmClass::HeatSetPrint | FilmClass::HullPrint
    ));
    for never in [
        FilmClass::CutLettering,
        FilmClass::ColourChange,
        FilmClass::ConspicuityStrip,
    ] {
        assert_eq!(of(&for_print, never).suits, Suits::No, "{never:?}");
    }
    let for_words = ranked(words(), &side, &shelf, Wanted::default());
    assert!(matches!(
        for_words[0].class,
        FilmClass::CutLettering | FilmClass::ColourChange
    ));
    assert_eq!(for_words[0].suits, Suits::Yes, "{:?}", for_words[0].bad);
    // What cannot be used stands last.
    assert_eq!(for_words.last().unwrap().suits, Suits::No);
    assert!(says(
        &of(&for_words, FilmClass::ThickKit).bad,
        "edges stand up"
    ));
}

#[test]
fn texture_recesses_heat_and_ghosts_are_asked() {
    let shelf: Vec<OnShelf> = FilmClass::ALL.map(plain).into();
    let textured = ranked(
        words(),
        &side(Material::TexturedPlastic, None),
        &shelf,
        Wanted::default(),
    );
    assert!(
        textured
            .iter()
            .all(|r| (r.suits == Suits::No) == (r.class != FilmClass::ThickKit))
    );
    let recess = ranked(
        print(),
        &side(Material::PaintedSteel, Some(FeatureKind::Recess)),
        &shelf,
        Wanted::default(),
    );
    assert!(says(
        &of(&recess, FilmClass::CastPrint).good,
        "formed with heat into the recess"
    ));
    assert!(says(
        &of(&recess, FilmClass::ThickKit).bad,
        "must not be stretched"
    ));
    assert!(says(
        &of(&recess, FilmClass::EngineerReflective).bad,
        "hardly formed"
    ));
    // Gelcoat stands 70 °C (ours), cast print is heated to 85 once it lies.
    let gelcoat = ranked(
        print(),
        &side(Material::Gelcoat, None),
        &shelf,
        Wanted::default(),
    );
    assert!(says(
        &of(&gelcoat, FilmClass::CastPrint).bad,
        "gelcoat stands 70"
    ));
    assert!(!says(&of(&recess, FilmClass::CastPrint).bad, "stands"));
    let with = |grey| {
        let sheet = DataSheet {
            grey,
            ..DataSheet::default()
        };
        let found = ranked(
            print(),
            &side(Material::PaintedSteel, Some(FeatureKind::OldFilm)),
            &[on_shelf(FilmClass::CastPrint, sheet)],
            Wanted::default(),
        );
        (
            says(&found[0].good, "hides"),
            says(&found[0].bad, "shows through"),
            says(&found[0].bad, "may show through"),
        )
    };
    assert_eq!(with(Some(true)), (true, false, false));
    assert_eq!(with(Some(false)), (false, true, false));
    assert_eq!(with(None), (false, false, true));
}

#[test]
fn what_is_wanted_and_what_is_there_is_asked() {
    let side = side(Material::PaintedAluminium, None);
    let shelf = [
        plain(FilmClass::CastPrint),
        plain(FilmClass::RemovableReflective),
        plain(FilmClass::PermanentReflective),
    ];
    let wanted = Wanted {
        years: Some(4.0),
        climate: Climate::Mild,
        removable: true,
        reflective: true,
    };
    let found = ranked(print(), &side, &shelf, wanted);
    assert_eq!(found[0].class, FilmClass::RemovableReflective);
    assert!(
        says(&found[0].good, "comes off cleanly")
            && says(&found[0].good, "shines back")
            && says(&found[0].good, "lasts 5 years")
    );
    assert_eq!(of(&found, FilmClass::CastPrint).suits, Suits::No);
    assert_eq!(of(&found, FilmClass::PermanentReflective).suits, Suits::No);
    // None on the shelf, too narrow, too short.
    let none = OnShelf {
        widest_mm: 0.0,
        left_mm: 0.0,
        ..plain(FilmClass::CutLettering)
    };
    assert!(says(
        &ranked(words(), &side, &[none], Wanted::default())[0].bad,
        "must be ordered"
    ));
    let narrow = OnShelf {
        widest_mm: 100.0,
        ..plain(FilmClass::CutLettering)
    };
    assert_eq!(
        ranked(words(), &side, &[narrow], Wanted::default())[0].suits,
        Suits::No
    );
    let narrow = OnShelf {
        widest_mm: 600.0,
        ..plain(FilmClass::CastPrint)
    };
    assert!(says(
        &ranked(print(), &side, &[narrow], Wanted::default())[0].bad,
        "goes in panels"
    ));
    let short = OnShelf {
        left_mm: 300.0,
        ..plain(FilmClass::CutLettering)
    };
    assert!(says(
        &ranked(words(), &side, &[short], Wanted::default())[0].bad,
        "is left, and the piece is"
    ));
}

/// The thinnest laminate over a recess, the one that gives most over a curve, the longest-lived on a flat (common practice, no source): whichever way
/// round the sheet lists them. Lettering has none.
#[test]
fn a_laminate_follows_from_what_the_print_meets() {
    let laminate = |name: &str, thick: f64, gives: f64, years: f64| Laminate {
        name: name.into(),
        thickness_mm: Some(thick),
        stretch: Some(gives),
        upright_years: Some(years),
        ..Laminate::default()
    };
    let mut all = vec![
        laminate("hard", 0.18, 0.05, 9.0),
        laminate("thin", 0.09, 0.10, 4.0),
        laminate("soft", 0.14, 0.20, 6.0),
    ];
    for _ in 0..2 {
        all.reverse();
        let sheet = DataSheet {
            laminates: all.clone(),
            ..DataSheet::default()
        };
        let shelf = [on_shelf(FilmClass::CastPrint, sheet)];
        for (under, first, stretch) in [
            (Some(FeatureKind::Recess), "thin", "10 %"),
            (Some(FeatureKind::ConcaveZone), "thin", "10 %"),
            (Some(FeatureKind::CurvedZone), "soft", "20 %"),
            (None, "hard", ""),
        ] {
            let side = side(Material::PaintedSteel, under);
            let found = ranked(print(), &side, &shelf, Wanted::default());
            let names: Vec<&str> = (found[0].laminates.iter())
                .map(|l| l.name.as_str())
                .collect();
            assert_eq!((names.len(), names[0]), (3, first), "{under:?}");
            // What is told of the film is told with that laminate.
            assert_eq!(found[0].laminate.as_deref(), Some(first));
            if !stretch.is_empty() {
                assert!(says(&found[0].good, stretch), "{:?}", found[0].good);
            }
        }
        let wanted = Wanted {
            years: Some(5.0),
            ..Wanted::default()
        };
        let recess = side(Material::PaintedSteel, Some(FeatureKind::Recess));
        let found = ranked(print(), &recess, &shelf, wanted);
        assert!(says(&found[0].bad, "4 years"), "{:?}", found[0].bad);
        let words = ranked(
            words(),
            &side(Material::PaintedSteel, None),
            &shelf,
            Wanted::default(),
        );
        assert!(words[0].laminates.is_empty() && words[0].laminate.is_none());
    }
}

/// Film with its laminate is worked by the figures of both; a laminate that its sheet does not know, or two of one name, are refused where they stand.
#[test]
fn film_is_worked_with_its_laminate() {
    let sheet = DataSheet {
        thickness_mm: Some(0.08),
        upright_years: Some(6.0),
        laminates: vec![Laminate {
            name: "gloss".into(),
            thickness_mm: Some(0.13),
            ..Laminate::default()
        }],
        ..DataSheet::default()
    };
    let mut film = on_shelf(FilmClass::CastPrint, sheet).film;
    assert_eq!(film.figures().thickness_mm, 0.08);
    film.laminate = Some("gloss".into());
    film.check().unwrap();
    let figures = film.figures();
    assert_eq!(
        (figures.thickness_mm, figures.upright_years),
        (0.13, Some(6.0))
    );
    assert!(film.called().ends_with("laminate gloss"));
    let refused = |film: &StockedFilm| film.check().unwrap_err().field.unwrap();
    film.laminate = Some("matt".into());
    assert_eq!(refused(&film), "/laminate");
    film.sheet.laminates.push(Laminate {
        name: " Gloss".into(),
        ..Laminate::default()
    });
    assert_eq!(refused(&film), "/sheet/laminates/1/name");
    film.sheet.laminates[1] = Laminate {
        name: "matt".into(),
        stretch: Some(7.0),
        ..Laminate::default()
    };
    assert_eq!(refused(&film), "/sheet/laminates/1/stretch");
}

/// One film for what is left open: what has one keeps it, another colour is another picture, and what is forbidden stays forbidden.
#[test]
fn a_film_is_taken_for_the_others_only_where_it_may_be() {
    let side = side(Material::PaintedAluminium, None);
    let line = |colour: &str| match words() {
        Art::Lettering(mut line) => {
            line.colour = colour.into();
            Art::Lettering(line)
        }
        other => other,
    };
    let letters = plain(FilmClass::CutLettering);
    let arts = [
        line("#AA1100"),
        line("#aa1100"),
        line("#14524d"),
        line("#ffffff"),
        print(),
        line("#aa1100"),
        print(),
    ];
    let mut pieces: Vec<_> = (arts.into_iter().zip(1_u128..))
        .map(|(art, n)| {
            let place = PlaceRule::from_front(450.0, LetterEnd::FirstLetter, 500.0);
            let mut piece = Piece::new(art, place);
            if n == 6 {
                let film = letters.film.clone();
                piece.work.chosen = Some(ChosenFilm {
                    id: Uuid::from_u128(77),
                    film,
                });
            }
            let (id, settings) = (Uuid::from_u128(n), WorkSettings::default());
            plan_piece(id, &piece, &side, &settings, Unit::Millimetre).unwrap()
        })
        .collect();
    let taken = |film: &OnShelf, like: usize, pieces: &[_]| -> Vec<u128> {
        let wanted = Wanted::default();
        let found = same_film(
            pieces,
            &pieces[like],
            &side,
            film,
            &wanted,
            Unit::Millimetre,
        );
        assert!(found.iter().all(|(_, f)| f.name == film.film.name));
        found.into_iter().map(|(id, _)| id.as_u128()).collect()
    };
    // The first is red: the other red one, and the one of the film's own colour.
    assert_eq!(taken(&letters, 0, &pieces), [2, 3]);
    // A print's film goes on prints, of whatever colour; letters that are cut from print film take no print with them.
    let printed = plain(FilmClass::CastPrint);
    assert_eq!(taken(&printed, 4, &pieces), [7]);
    assert_eq!(taken(&printed, 0, &pieces), [2, 3]);
    // No print is cut from lettering film.
    assert!(taken(&letters, 4, &pieces).is_empty());
    pieces.truncate(1);
    assert!(taken(&letters, 0, &pieces).is_empty());
}
