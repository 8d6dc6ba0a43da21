//! What is looked at once more before a vehicle leaves, worked out from what lies on it: nothing on the list is silently skipped.
//!
//! Common practice, no source: several angles, raking light, edges pressed a second time, the whole surface with heat for hidden bubbles; every rivet, lap and corner.

use serde::Serialize;

use crate::art::Art;
use crate::film::classes::FilmClass;
use crate::floor::forming::stretches_as_settled;
use crate::floor::lay_down::rivets::work;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::Unit;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::MeasuredSide;

/// Something that is looked at.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Look {
    /// Its name, the same at every look: `corners`, `recess 1`.
    pub key: String,
    /// What is looked at.
    pub what: String,
    /// What it should be like, and what is done there.
    pub how: String,
}

/// Everything that is looked at on a piece, in walking order.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::final_look::final_look;
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let (settings, unit) = (WorkSettings::default(), Unit::Millimetre);
/// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// let keys: Vec<String> = final_look(&planned, &measured, &settings, unit).into_iter().map(|l| l.key).collect();
/// assert_eq!(keys, ["angles", "edges", "corners", "laps", "warm pass"]);
/// ```
pub fn final_look(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Vec<Look> {
    let film = planned.piece.film_figures();
    let mut list = Vec::new();
    let mut look = |key: &str, what: &str, how: String| {
        list.push(Look {
            key: key.into(),
            what: what.into(),
            how,
        });
    };
    look(
        "angles",
        "From several angles, and in raking light",
        "Bubbles, dirt and lines show from the side; square on they hide.".into(),
    );
    if film.layered_reflective || film.class == FilmClass::ConspicuityStrip {
        look(
            "by a lamp",
            "By a lamp held beside the eye",
            "One brightness all over: darker bands were stretched, and turned pieces shine otherwise.".into(),
        );
    }
    look(
        "edges",
        "Every edge, pressed a second time",
        "A finger along it: nothing lifts, no fibre, no dirt under it.".into(),
    );
    look(
        "corners",
        "Every corner and end",
        "Down and, where the film is thick, rounded.".into(),
    );
    let formed = stretches_as_settled(planned, side, settings, unit).places;
    // Heads are looked at as rivets.
    for place in formed.iter().filter(|p| p.kind != FeatureKind::Rivets) {
        look(
            &place.name,
            &format!("The film at {}", place.name),
            "It lies on the ground of it everywhere: a fingernail finds no hollow and no bridge."
                .into(),
        );
    }
    for cut in (planned.worked.iter())
        .filter_map(|w| w.relief.as_ref())
        .filter(|c| c.shows.mm > 0.0)
    {
        look(
            &format!("relief cut at {}", cut.name),
            &format!("The relief cut at {}", cut.name),
            "Its flanks lie against each other all along and are pressed; it has run no farther."
                .into(),
        );
    }
    let rivets = work(planned, film.class);
    if rivets.heads > 0 {
        look(
            "rivets",
            &format!("Every rivet head: {} of them", rivets.heads),
            "No ring of air, no tear, the puncture closed.".into(),
        );
    }
    if matches!(planned.piece.art, Art::Panel(_)) {
        look(
            "laps",
            "Every lap, and the picture across it",
            "It runs on without a step, and the lap is pressed to its last inch.".into(),
        );
    }
    if film.post_heat.is_some() && film.class != FilmClass::ConspicuityStrip {
        look(
            "warm pass",
            "All of it, warmed once more",
            "Hidden bubbles rise when it is warm. Mind what it may stand under Heat & seal.".into(),
        );
    }
    list
}
