//! `vehicle::surface` by itself.

use time::Date;

use time::macros::date;
use windrift_core::vehicle::surface::*;

const TODAY: Date = date!(2026 - 11 - 24);

#[test]
fn magnets_hold_on_painted_steel_only() {
    // Common practice, no source: steel yes; aluminium, stainless and fibreglass no.
    for material in Material::ALL {
        let verdict = Surface::of(material).verdict(TODAY);
        assert_eq!(
            verdict.magnets,
            material == Material::PaintedSteel,
            "{material:?}"
        );
    }
}

#[test]
fn new_paint_waits_six_weeks() {
    // Common practice, no source.
    let sprayed = |day| Surface {
        finish: Finish::Resprayed,
        sprayed_on: Some(day),
        ..Surface::of(Material::PaintedSteel)
    };
    assert_eq!(
        sprayed(date!(2026 - 10 - 14)).verdict(TODAY).film,
        FilmHold::No
    );
    assert!(sprayed(date!(2026 - 10 - 14)).verdict(TODAY).film_sentences[0].contains("2026-11-25"));
    assert_eq!(
        sprayed(date!(2026 - 10 - 13)).verdict(TODAY).film,
        FilmHold::WithCare
    );
    assert_eq!(
        sprayed(date!(2026 - 10 - 13))
            .verdict(TODAY)
            .ceiling_celsius,
        80
    );
}

#[test]
fn what_film_does_not_hold_on_is_said() {
    // Common practice, no source.
    assert_eq!(
        Surface::of(Material::LowEnergyPlastic).verdict(TODAY).film,
        FilmHold::No
    );
    assert_eq!(
        Surface::of(Material::TexturedPlastic).verdict(TODAY).film,
        FilmHold::WithCare
    );
    assert_eq!(
        Surface::of(Material::PaintedAluminium).verdict(TODAY).film,
        FilmHold::Holds
    );
    let skin = Surface {
        protective_skin: true,
        ..Surface::of(Material::BareAluminium)
    };
    assert_eq!(skin.verdict(TODAY).film, FilmHold::No);
    let chalky = Surface {
        finish: Finish::Oxidised,
        ..Surface::of(Material::Gelcoat)
    };
    assert!(chalky.verdict(TODAY).film_sentences[0].contains("no wax"));
    let both = Surface {
        protective_skin: true,
        ..chalky
    };
    assert_eq!(
        both.verdict(TODAY).film,
        FilmHold::No,
        "a later sentence never makes it better"
    );
}

#[test]
fn a_day_of_spraying_needs_sprayed_paint() {
    let odd = Surface {
        sprayed_on: Some(TODAY),
        ..Surface::default()
    };
    assert!(odd.check().is_err_and(|e| e.field == "sprayed_on"));
}

#[test]
fn half_a_year_is_no_day_of_spraying_and_never_makes_paint_old() {
    let half = Surface {
        finish: Finish::Resprayed,
        sprayed_on: Some(date!(0002 - 01 - 15)),
        ..Surface::default()
    };
    assert!(half.check().is_err_and(|e| e.field == "sprayed_on"));
    assert!(half.paint_is_fresh(TODAY));
    assert_eq!(half.verdict(TODAY).film, FilmHold::No);
}
