//! The plan of a side: every piece placed, its readings, what it lands on, and its hinge. The one entry point that the server's
//! `evaluate` calls.

pub mod around;
pub mod centre_run;
pub mod first;
pub mod kit;
pub mod order;
pub mod other_sides;
pub mod overlap;
pub mod piece;
pub mod place_all;
pub mod planned;
pub mod readings;
pub mod regulated;
pub mod relief;
pub mod seam;
pub mod several;
pub mod steps;
pub mod story;
pub mod top_hinge;
mod troubles;
pub mod worked;

use std::sync::Arc;

use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::art::weeding::Weeded;
use crate::art::{Art, legibility, weeding};
use crate::ground::measure_error::MeasureError;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Unit, print};
use crate::place::cut_to_side::cut_to_side;
use crate::place::flats::FlatsAt;
use crate::place::placed::{Around, Placed};
use crate::place::rules::PlaceRule;
use crate::place::said::{Names, said};
use crate::place::{flats, key_features, landing, place};
use crate::plan::around::JobAround;
use crate::plan::overlap::overlaps;
use crate::plan::piece::{ArtError, Piece};
use crate::plan::place_all::place_all;
use crate::plan::planned::{PieceError, PlacedFilm, PlannedPiece, SidePlan, SideSketch};
use crate::plan::readings::readings;
use crate::plan::regulated::{Elsewhere, Kept};
use crate::plan::seam::seams;
use crate::plan::troubles::troubles_of;
use crate::plan::worked::worked;
use crate::vehicle::feature::SideFeature;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::measured::measure::measure;
use crate::vehicle::side::Side;

/// Plans a side: measures it, draws, places and reads each piece.
///
/// Errors: a measurement of the side that cannot stand. A piece that cannot be planned does not hold up the others.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_piece, plan_side, around::JobAround, piece::Piece, planned::PlannedPiece};
/// # use windrift_core::vehicle::{body::Body, measured::{MeasuredSide, measure::measure}, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let settings = WorkSettings::default();
/// // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let side = Side::new(SideKind::Left, body, Surface::default());
/// // Letters 10 in high, 18 in from the front, their cap line 2 ft below the rail.
/// let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// let plan = plan_side(&side, &[], &[(Default::default(), piece)], &JobAround::default(), &settings, unit).unwrap();
/// assert_eq!(plan.pieces[0].readings.first_letter.text, "18");
/// assert_eq!(plan.pieces[0].readings.flats.front.wanted.text, "24");
/// assert!(plan.failed.is_empty());
/// ```
pub fn plan_side(
    side: &Side,
    features: &[SideFeature],
    pieces: &[(Uuid, Piece)],
    job: &JobAround,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<SidePlan, MeasureError> {
    plan_some(side, features, pieces, job, settings, unit, |_| true)
}

/// The same for some pieces only: the others are placed, for those that hang on them, and nothing more.
pub fn plan_some(
    side: &Side,
    features: &[SideFeature],
    pieces: &[(Uuid, Piece)],
    job: &JobAround,
    settings: &WorkSettings,
    unit: Unit,
    wanted: impl Fn(Uuid) -> bool,
) -> Result<SidePlan, MeasureError> {
    Ok(sketch_side(side, features, pieces, job, settings, unit, wanted)?.plan)
}

/// A side with all its film in place, of which only some pieces are planned: a picture of it needs no more.
///
/// Errors: as of [`plan_side`].
pub fn sketch_side(
    side: &Side,
    features: &[SideFeature],
    pieces: &[(Uuid, Piece)],
    job: &JobAround,
    settings: &WorkSettings,
    unit: Unit,
    wanted: impl Fn(Uuid) -> bool,
) -> Result<SideSketch, MeasureError> {
    let side = measure(side, features)?;
    let (placed, mut failed) = place_all(&side, pieces, job, unit);
    let mut planned: Vec<PlannedPiece> = Vec::new();
    let mut film = Vec::new();
    let mut not_on_it = failed.len();
    // To a tenth of a millimetre, as it is told.
    let on_it = side.outline.bounds.inflate(0.1, 0.1);
    // In the order given, whatever the order in which they were placed.
    for (id, piece) in pieces {
        let Some((_, drawn, place)) = placed.pieces.get(id) else {
            continue;
        };
        // Bleed and the film that wraps round an end are no part of its nominal box.
        let lies = place.to_picture.transform_rect_bbox(drawn.nominal);
        not_on_it += usize::from(on_it.union(lies) != on_it);
        film.push(PlacedFilm {
            id: *id,
            colour: piece.colour().to_owned(),
            shapes: drawn
                .film()
                .map(|s| s.transformed(place.to_picture))
                .collect(),
        });
        if !wanted(*id) {
            continue;
        }
        let named = |other: Uuid| {
            let known = placed.pieces.get(&other).map(|(name, ..)| name.clone());
            known.unwrap_or_else(|| "another piece".into())
        };
        match plan_placed(*id, piece, drawn, place, &side, job, &named, settings, unit) {
            Ok(piece) => planned.push(piece),
            Err(error) => failed.push((*id, error)),
        }
    }
    failed.retain(|(id, _)| wanted(*id));
    overlaps(&mut planned);
    // While one is tried the others are not planned: what it meets is not known then.
    if planned.len() + failed.len() == pieces.len() {
        seams(&mut planned, unit);
    }
    Ok(SideSketch {
        plan: SidePlan {
            side,
            pieces: planned,
            failed,
        },
        film,
        not_on_it,
    })
}

/// Plans one piece that stands by itself on a measured side, with the typefaces that ship with Windrift.
pub fn plan_piece(
    id: Uuid,
    piece: &Piece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<PlannedPiece, PieceError> {
    let job = JobAround::default();
    let drawn = piece::draw(piece, side, &job.typefaces)?;
    let placed = place(&drawn, &piece.place, id, side, &Around::default(), unit)?;
    let named = |_| "another piece".to_owned();
    plan_placed(
        id, piece, &drawn, &placed, side, &job, &named, settings, unit,
    )
}

#[allow(clippy::too_many_arguments)]
fn plan_placed(
    id: Uuid,
    piece: &Piece,
    drawn: &Arc<Drawn>,
    placed: &Placed,
    side: &MeasuredSide,
    job: &JobAround,
    named: &dyn Fn(Uuid) -> String,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<PlannedPiece, PieceError> {
    let drawn = match &piece.art {
        Art::Stripe(s) => Arc::new(cut_to_side(s, drawn, placed, side).map_err(ArtError::from)?),
        _ => Arc::clone(drawn),
    };
    let names = side.side.edge_names(settings.side_words);
    let ends = side.side.ends(settings.side_words);
    let find = |drawn: &Drawn| flats::find(drawn, placed, &placed.datum, ends, unit);
    let flats = find(&drawn);
    // Where nothing can be read to where it lies, marks are cut with it: a corner of the box is air.
    let (drawn, flats) = match piece.art {
        Art::Lettering(_) | Art::Drawing(_) if flats.at == FlatsAt::BoxCorners => {
            let marked = Arc::new(drawn.with_marks_to_read());
            let flats = find(&marked);
            (marked, flats)
        }
        _ => (drawn, flats),
    };
    let mut landing = landing::report(&drawn, placed, side, &names, unit);
    if matches!(piece.place, PlaceRule::Between { .. }) {
        // It is meant to meet them.
        landing.lines.retain(|l| l.kind != FeatureKind::FilmEdge);
    }
    let hinge = top_hinge::top_hinge(&drawn, placed, side, settings, unit);
    let at = |p| {
        let (back, _) = placed.datum.read(placed.to_picture * p);
        format!("{} back", print(back, unit).text)
    };
    let weeded = match piece.art {
        Art::Lettering(_) => Weeded::Letters,
        Art::Stripe(_) => Weeded::Stripe,
        Art::Drawing(_) => Weeded::Drawing,
        Art::Panel(_) => Weeded::Print,
    };
    let weeding = weeding::report(drawn.thin(), weeded, &at, settings, unit);
    let lettering = piece.lettering();
    let findings = match lettering.and_then(|l| l.regulated.map(|r| (l, r))) {
        Some((lettering, regulation)) => {
            let words = lettering.words();
            let elsewhere = Elsewhere {
                on_other_side: job.words_there.as_ref().map(|there| there.contains(&words)),
            };
            let face = job.typefaces.find(&lettering.typeface).map(Arc::as_ref);
            regulated::check::check(
                regulation, lettering, face, &drawn, placed, side, elsewhere, unit,
            )
        }
        None => Vec::new(),
    };
    let mut troubles: Vec<String> = findings
        .iter()
        .filter(|f| f.kept == Kept::No)
        .map(|f| {
            format!(
                "{} ({}): {}.",
                f.asks.trim_end_matches('.'),
                f.clause,
                f.measured
            )
        })
        .collect();
    if let Art::Panel(panel) = &piece.art {
        troubles.extend(key_features::troubles(panel, placed, side, unit));
    }
    troubles.extend(troubles_of(
        &landing, &flats, &piece.art, &drawn, side, &names, unit,
    ));
    troubles.extend(weeding.troubles.iter().cloned());
    let readings = readings(piece, &drawn, placed, side, &names, flats, unit);
    let said = said(
        &piece.place,
        &Names {
            side,
            edges: &names,
            piece: named,
            lettered: piece.lettering().is_some(),
            unit,
        },
    );
    Ok(PlannedPiece {
        id,
        said,
        art_said: piece.art_said(unit),
        legibility: lettering.map(|l| legibility::report(drawn.capital_height_mm, &l.text, unit)),
        piece: piece.clone(),
        placed: placed.clone(),
        worked: worked(piece, &drawn, placed, side, unit),
        drawn,
        readings,
        landing,
        hinge,
        weeding,
        findings,
        overlaps: Vec::new(),
        seam: None,
        troubles,
    })
}
