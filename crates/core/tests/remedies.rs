//! What to do about what is seen: every film × every trouble × before and after heat (common practice, no source).

use windrift_core::film::classes::{Adhesive, FilmClass};
use windrift_core::floor::lay_down::seen::{Remedy, Seen, remedy};

fn all() -> impl Iterator<Item = (Seen, FilmClass, bool, Option<Remedy>)> {
    Seen::ALL.into_iter().flat_map(|seen| {
        FilmClass::ALL.into_iter().flat_map(move |film| {
            [false, true].map(|heated| (seen, film, heated, remedy(seen, film, heated)))
        })
    })
}

/// Whether a step tells somebody to do it: what is not to be done is said too.
fn tells(text: &str, verbs: &[&str]) -> bool {
    let text = text.to_lowercase();
    let negated = [
        "do not lift",
        "not lifted",
        "never lifted",
        "never warmed",
        "not warmed",
        "not moved",
        "is not lifted",
    ];
    let plain = negated.iter().fold(text, |t, n| t.replace(n, " "));
    plain
        .split(|c: char| !c.is_alphabetic())
        .any(|w| verbs.contains(&w))
}

/// Which film can show what: written out, so that a change of a film's figures is seen here.
#[test]
fn no_film_is_asked_about_what_it_cannot_show() {
    use FilmClass::{
        CastPrint, ColourChange, ConspicuityStrip, CutLettering, EngineerReflective, HeatSetPrint,
        HullPrint, PermanentReflective, RemovableReflective, ThickKit,
    };
    let only = |seen: Seen| -> Vec<FilmClass> {
        FilmClass::ALL
            .into_iter()
            .filter(|film| remedy(seen, *film, false).is_some())
            .collect()
    };
    assert_eq!(
        only(Seen::DarkReflective),
        [EngineerReflective, RemovableReflective, PermanentReflective]
    );
    assert_eq!(
        only(Seen::Whitening),
        [
            CutLettering,
            CastPrint,
            HeatSetPrint,
            HullPrint,
            ColourChange
        ]
    );
    assert_eq!(
        only(Seen::LiftLine),
        [
            CastPrint,
            HeatSetPrint,
            RemovableReflective,
            PermanentReflective,
            HullPrint,
            ColourChange
        ]
    );
    assert!(
        !only(Seen::RegisterDrifts)
            .iter()
            .any(|f| [CutLettering, ConspicuityStrip, ThickKit].contains(f))
    );
    for seen in [
        Seen::Bubble,
        Seen::LightWrinkle,
        Seen::Pinch,
        Seen::Dirt,
        Seen::Tear,
        Seen::KnifeCut,
        Seen::LiftingEdge,
        Seen::PullsOut,
        Seen::TapeLetGo,
    ] {
        assert_eq!(only(seen).len(), FilmClass::ALL.len(), "{seen:?}");
    }
}

#[test]
fn remedies_fit_the_film_and_what_was_done_to_it() {
    let mut judged = 0;
    for (seen, film, heated, found) in all() {
        let Some(found) = found else { continue };
        judged += 1;
        let case = format!("{seen:?} {film:?} heated {heated}: {found:#?}");
        let adhesive = film.figures().adhesive;
        assert!(!found.steps.is_empty() && !found.cause.is_empty(), "{case}");
        for step in &found.steps {
            let warms = tells(step.text, &["warm", "warmed", "heat"])
                && !step.text.contains("after heat")
                || step.text.starts_with("Heat it");
            let lifts = tells(step.text, &["lift", "lifts"]);
            if film == FilmClass::ConspicuityStrip {
                assert!(!warms, "prismatic strip is never warmed: {case}");
            }
            if film == FilmClass::ThickKit && heated {
                assert!(!lifts, "a thick kit is never moved after heat: {case}");
            }
            if adhesive == Adhesive::Solid && film != FilmClass::ThickKit {
                assert!(!lifts, "a solid adhesive is not lifted back: {case}");
            }
            if adhesive == Adhesive::HeatSet && heated {
                assert!(!lifts, "what heat has set is not lifted: {case}");
            }
            if adhesive != Adhesive::AirChannels || heated {
                assert!(
                    !step.text.contains("channels let"),
                    "channels are promised to no other film: {case}"
                );
            }
            if film.figures().stretch == 0.0 {
                assert!(
                    !step.text.contains("form it again"),
                    "it does not form: {case}"
                );
            }
            // Its caution stands in the same step.
            let caution = step.caution.unwrap_or_default();
            let pricks = tells(step.text, &["prick", "cut", "knife"]);
            let wipes = step.text.contains("alcohol");
            assert_eq!(
                caution.starts_with("Hot air"),
                warms,
                "{} | {case}",
                step.text
            );
            assert_eq!(
                caution.starts_with("Knife"),
                pricks,
                "{} | {case}",
                step.text
            );
            assert_eq!(
                caution.starts_with("Alcohol"),
                wipes,
                "{} | {case}",
                step.text
            );
        }
    }
    assert!(judged > 200, "{judged}");
}

/// A wrinkle in ordinary reflective never heals; in the removable class it often does.
#[test]
fn what_can_be_saved_is_said() {
    let saved = |seen, film, heated| remedy(seen, film, heated).unwrap().can_be_saved;
    assert!(!saved(
        Seen::LightWrinkle,
        FilmClass::EngineerReflective,
        false
    ));
    assert!(!saved(
        Seen::LightWrinkle,
        FilmClass::PermanentReflective,
        false
    ));
    assert!(saved(
        Seen::LightWrinkle,
        FilmClass::RemovableReflective,
        false
    ));
    assert!(!saved(Seen::Pinch, FilmClass::ThickKit, true));
    assert!(saved(Seen::Pinch, FilmClass::ThickKit, false));
    assert!(!saved(
        Seen::RegisterDrifts,
        FilmClass::EngineerReflective,
        false
    ));
    assert!(saved(Seen::RegisterDrifts, FilmClass::CastPrint, false));
    assert!(!saved(Seen::Tear, FilmClass::CutLettering, false));
}
