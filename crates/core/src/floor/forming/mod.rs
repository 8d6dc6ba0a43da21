//! Where film stretches: every recess, curve, hollow, crease and rivet head under a piece, how far film gives there, and how it is brought in.
//!
//! Two figures of a film decide: *aim under*, past which a place must be heated and a print may whiten, and *never past*, from its own sheet. Film
//! gives where it is warm and not pressed. How wide a band is warmed, and whether the band or the bridge is, is the shop's (two schools, common
//! practice, no source). Even stretch is assumed over what gives; at a corner that is shut in it stretches both ways at once.

mod ask;
mod caps;
mod place;
mod recess;
pub mod stretch;

use crate::ground::outline::{Shape, bounds_of_shapes, overlap};
use crate::ground::settings::{FormingSchool, WorkSettings};
use crate::ground::tape::{Unit, print};
use crate::place::landing::LineState;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{Details, FeatureKind};
use crate::vehicle::measured::MeasuredSide;

pub use ask::{FormingAsk, OURS_NEVER_PAST};
pub use place::{Forming, FormingPlace, Stretches};

use caps::{curve, heads, hollow};
use place::{percent, place};
use recess::recess;
use stretch::Fold;

/// Less of a place under film than this is not met, mm² (ours).
const LEAST_MM2: f64 = 100.0;
/// Every place under a piece where its film stretches.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::forming::{Forming, FormingAsk, stretches};
/// # use windrift_core::ground::{settings::{FormingSchool, WorkSettings}, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::{Ends, SideKind}, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let film = planned.piece.film().figures();
/// let ask = FormingAsk { film: &film, never_past: None, school: FormingSchool::Band, band_mm: 50.8, lap_mm: None, ends: Ends(["front", "rear"]), unit: Unit::Millimetre };
/// // On a bare flat side nothing stretches.
/// assert!(stretches(&planned, &measured, &ask).places.is_empty());
/// ```
pub fn stretches(planned: &PlannedPiece, side: &MeasuredSide, ask: &FormingAsk<'_>) -> Stretches {
    let film: Vec<Shape> = planned.film().collect();
    let reach = bounds_of_shapes(&film);
    let mut places: Vec<(f64, FormingPlace)> = Vec::new();
    for area in &side.areas {
        if !area.outline.bounds.overlaps(reach) {
            continue;
        }
        let (mut met, mut bridged) = (false, false);
        for shape in &film {
            let under = overlap(
                std::slice::from_ref(shape),
                std::slice::from_ref(&area.outline),
            );
            let mm2: f64 = under.iter().map(|s| s.area().abs()).sum();
            met |= mm2 >= LEAST_MM2;
            bridged |= mm2 >= LEAST_MM2 && mm2 < shape.area().abs() - LEAST_MM2;
        }
        if !met {
            continue;
        }
        let found = match area.details {
            Some(Details::Recess { depth_mm, .. }) if !bridged => Some((
                depth_mm.mm(),
                place(
                    area,
                    Forming::Press,
                    "All of it that lies there lies inside: nothing is bridged.".into(),
                    Vec::new(),
                ),
            )),
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                open,
            }) => Some((
                depth_mm.mm(),
                recess(area, (depth_mm.mm(), wall_degrees, open), reach, ask),
            )),
            Some(Details::Curve { compound, rise_mm }) => {
                Some((rise_mm.mm(), curve(area, compound, rise_mm.mm(), ask)))
            }
            Some(Details::Hollow { depth_mm }) => {
                Some((depth_mm.mm(), hollow(area, depth_mm.mm(), ask)))
            }
            _ => None,
        };
        places.extend(found);
    }
    places.extend(heads(planned, side, ask).into_iter().map(|p| (-1.0, p)));
    places.extend(folds(planned, side, ask));
    // Deepest first, then shallower ones, heads and folds; the flat is last in any case.
    places.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut places: Vec<FormingPlace> = places.into_iter().map(|(_, p)| p).collect();
    for (n, place) in (1..).zip(&mut places) {
        place.number = n;
    }
    Stretches {
        says: says(&places, ask),
        aim: ask.film.stretch,
        aim_both_ways: ask.film.two_way_stretch,
        never_past: ask.never(),
        never_from_sheet: ask.never_past.is_some(),
        places,
    }
}

/// The same with the film that is chosen for the piece, as the shop works.
pub fn stretches_as_settled(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Stretches {
    let film = planned.piece.film_figures();
    let chosen = planned.piece.work.chosen.as_ref();
    let ask = FormingAsk {
        film: &film,
        never_past: chosen.and_then(|c| c.film.sheet.stretch_most),
        school: settings.forming,
        band_mm: settings.warm_band_mm.mm(),
        lap_mm: None,
        ends: side.side.ends(settings.side_words),
        unit,
    };
    stretches(planned, side, &ask)
}

fn says(places: &[FormingPlace], ask: &FormingAsk<'_>) -> Vec<String> {
    let mut says = Vec::new();
    let formed = |p: &&FormingPlace| {
        p.kind != FeatureKind::Rivets
            && matches!(
                p.forming,
                Forming::Feed | Forming::Warm | Forming::WarmAndHeat
            )
    };
    if places.iter().filter(formed).count() > 0 {
        says.push("Deepest first, flats last; each is finished before the next, and air always has a way out.".into());
        says.push(match ask.school {
            FormingSchool::Band => format!(
                "The band is warmed, {} back from the rim, and the film is pushed in: what ends up inside is hardly stretched.",
                ask.text(ask.band_mm)
            ),
            FormingSchool::Bridge => "The bridged film itself is warmed until it puckers and smooths, then set down: the flat inside first, just enough to hold it.".into(),
        });
    }
    if places
        .iter()
        .any(|p| p.kind == FeatureKind::Recess && formed(&p))
    {
        says.push("At a recess that is shut in, a strip of packing tape stays under the film at its rim until the end: hot air leaves along it.".into());
    }
    if places.iter().any(|p| p.must_reach.is_some()) {
        says.push(format!(
            "What is stretched past the aim or lies in a recess must reach {} once it lies: it is the first to come out where it did not.",
            ask.heat()
        ));
    }
    says
}

/// Creases and body lines that film goes across, each with how deep it is as far as film's order is concerned: what nobody measured comes last.
fn folds(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    ask: &FormingAsk<'_>,
) -> Vec<(f64, FormingPlace)> {
    let lines = planned.landing.lines.iter();
    lines
        .filter(|l| matches!(l.kind, FeatureKind::Crease | FeatureKind::BodyLine))
        .filter(|l| l.state != LineState::Clear)
        .map(|l| {
            let measured = side.lines.iter().find(|m| m.name == l.name);
            let fold = measured.and_then(|m| match m.details {
                Some(Details::Fold { depth_mm, wide_mm }) => Some(Fold {
                    depth_mm: depth_mm.mm(),
                    wide_mm: wide_mm.mm(),
                }),
                _ => None,
            });
            let depth = fold.map_or(-2.0, |f| f.depth_mm);
            (depth, folded((l.name.clone(), l.kind), fold, ask))
        })
        .collect()
}

fn folded(
    (name, kind): (String, FeatureKind),
    fold: Option<Fold>,
    ask: &FormingAsk<'_>,
) -> FormingPlace {
    let mut line = if ask.film.layered_reflective {
        "Fold it at the line; no corner is wrapped over.".to_owned()
    } else {
        "Set it into the line first, then press away from it on both sides.".to_owned()
    };
    let mut forming = Forming::Press;
    let why = match fold {
        None => vec!["How deep it is has not been measured: a fold stretches nothing.".into()],
        Some(fold) => {
            let more = ask.text(fold.developed_mm() - fold.wide_mm);
            if fold.straight() > ask.film.stretch {
                forming = Forming::Feed;
                line.push_str(&format!(
                    " {more} of film is fed to it from both sides: bridged over it and pushed in, it would stretch by {}.",
                    percent(fold.straight())
                ));
            }
            vec![
                format!(
                    "{} deep and {} across, taken as two straight walls: bridged over it and pushed in, film would stretch by {}; this film is kept under {}.",
                    ask.text(fold.depth_mm),
                    ask.text(fold.wide_mm),
                    percent(fold.straight()),
                    percent(ask.film.stretch)
                ),
                format!(
                    "Set into the line it stretches nothing, but {more} more of it goes across than the flat picture shows: what lies beyond ends that much earlier."
                ),
            ]
        }
    };
    FormingPlace {
        name,
        kind,
        number: 0,
        forming,
        line,
        straight: fold.map(|f| f.straight()),
        warmed: None,
        both_ways: None,
        developed: fold.map(|f| print(f.developed_mm(), ask.unit)),
        band: None,
        why,
        must_reach: None,
        outlines: Vec::new(),
    }
}
