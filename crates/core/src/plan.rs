//! The plan of a side: every piece placed, its readings, what it lands on, and its hinge. The one entry point that the server's
//! `evaluate` calls.

use std::sync::Arc;

use kurbo::Point;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::art::{self, ArtError};
pub use crate::art::{Art, Piece};
use crate::drawn::Drawn;
use crate::elevation::{MeasuredSide, measure};
use crate::feature::SideFeature;
use crate::flats::{self, Flats, FlatsAt};
use crate::hinge::{self, TopHinge};
use crate::landing::{self, Landing};
use crate::legibility::{self, Legibility};
use crate::level::Hanging;
use crate::order;
use crate::outline::Shape;
use crate::placement::{Along, Around, LetterEnd, PlaceError, PlaceRule, Placed, place};
use crate::printed_panel;
use crate::regulated::{self, Elsewhere, Finding, Kept};
use crate::settings::WorkSettings;
use crate::side::{EdgeNames, MeasureError, Side};
use crate::stripe;
use crate::tape::{ChainMark, Length, Unit, chain, print};
use crate::typeface::Typefaces;
use crate::weeding::{self, Weeding};

/// A piece that cannot be made or placed.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PieceError {
    /// The artwork cannot be made.
    #[error(transparent)]
    Art(#[from] ArtError),
    /// It cannot be placed by its rule.
    #[error(transparent)]
    Place(#[from] PlaceError),
    /// The side's own measurements do not stand.
    #[error(transparent)]
    Side(#[from] MeasureError),
}

/// The readings of one piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Readings {
    /// The two flats and what the tape must read at them.
    pub flats: Flats,
    /// Datum to the cap line at the ruled end.
    pub cap_line: Length,
    /// Height of a capital.
    pub capital_height: Length,
    /// Film from end to end.
    pub width: Length,
    /// Front edge to the first letter, along the datum.
    pub first_letter: Length,
    /// Front edge to the last letter, along the datum.
    pub last_letter: Length,
    /// The chain of running distances from the front edge past this piece to the rear edge; its gaps close on paper.
    pub chain: Vec<ChainMark>,
    /// Level less parallel to the datum over the piece's width: how far one end would differ if it were hung the other way.
    pub level_difference: Length,
}

/// Two pieces whose film overlaps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Overlap {
    /// The other piece.
    pub other: Uuid,
    /// Whether this piece lies over the other; `None` where both have the same order.
    pub over: Option<bool>,
    /// One sentence for the fitter.
    pub sentence: String,
}

/// One piece, planned.
#[derive(Debug, Clone)]
pub struct PlannedPiece {
    /// The piece's row.
    pub id: Uuid,
    /// The piece as asked for.
    pub piece: Piece,
    /// The piece in its own frame.
    pub drawn: Arc<Drawn>,
    /// Where it is.
    pub placed: Placed,
    /// Its readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// Whether it can be cut and weeded.
    pub weeding: Weeding,
    /// From how far it is read, where it is lettering.
    pub legibility: Option<Legibility>,
    /// The rule that it is to keep, clause by clause, where it is a regulated mark.
    pub findings: Vec<Finding>,
    /// Pieces that its film overlaps.
    pub overlaps: Vec<Overlap>,
    /// What is wrong with it, worst first, one sentence each.
    pub troubles: Vec<String>,
}

impl PlannedPiece {
    /// Film outlines in the picture frame, mm.
    pub fn film(&self) -> impl Iterator<Item = Shape> + '_ {
        self.drawn
            .film()
            .map(|s| s.transformed(self.placed.to_picture))
    }

    /// What hangs by two tapes. Wanted readings are the printed ones: what the screen asks for is what is levelled to.
    pub fn hanging(&self) -> Hanging {
        let flats = &self.readings.flats;
        Hanging {
            flats: [&flats.front, &flats.rear].map(|f| (f.back_mm, f.wanted.mm)),
            tapes: self.hinge.holds.map(|h| (h.back_mm, h.down_mm)),
        }
    }
}

/// A side, planned: the measured side and every piece that could be, beside those that could not.
#[derive(Debug, Clone)]
pub struct SidePlan {
    /// The side with everything on it.
    pub side: MeasuredSide,
    /// Pieces that could be planned, in the order given.
    pub pieces: Vec<PlannedPiece>,
    /// Pieces that could not, with the sentence that says why.
    pub failed: Vec<(Uuid, PieceError)>,
}

/// What a side's plan needs to know of the rest of the job.
#[derive(Debug, Clone, Default)]
pub struct JobAround {
    /// Figures of pieces on the side that mirrors this one, by their key, with the name of their reference.
    pub mirrored: std::collections::HashMap<Uuid, (crate::placement::MirrorFigures, String)>,
    /// Pieces of that side that mirror a piece of this one, by their key, with what they are called.
    pub mirroring: std::collections::HashMap<Uuid, String>,
    /// Words of the lettering on that side; `None` where the job has no such side.
    pub words_there: Option<Vec<String>>,
    /// What lettering may be cut in.
    pub typefaces: Typefaces,
}

/// A side as it is stored, with what is on it.
#[derive(Debug, Clone, Copy)]
pub struct SideParts<'s> {
    /// The side.
    pub side: &'s Side,
    /// Its features.
    pub features: &'s [SideFeature],
    /// Its pieces.
    pub pieces: &'s [(Uuid, Piece)],
}

impl JobAround {
    /// What a side needs to know of the other sides of its job: the figures of the side that mirrors it.
    pub fn of(
        side: &Side,
        others: &[SideParts<'_>],
        typefaces: &Typefaces,
        unit: Unit,
    ) -> JobAround {
        let alone = JobAround {
            typefaces: typefaces.clone(),
            ..JobAround::default()
        };
        let there = others
            .iter()
            .find(|o| side.kind.mirror() == Some(o.side.kind) && o.side.facing != side.facing);
        let Some(there) = there else {
            return alone;
        };
        let mut around = JobAround {
            words_there: Some(
                there
                    .pieces
                    .iter()
                    .filter_map(|(_, p)| p.lettering())
                    .map(|l| l.words())
                    .collect(),
            ),
            ..alone.clone()
        };
        let Ok(measured) = measure(there.side, there.features) else {
            return around;
        };
        let (placed, _) = place_all(&measured, there.pieces, &alone, unit);
        for (id, piece) in there.pieces {
            if let PlaceRule::Mirrored { .. } = piece.place {
                around.mirroring.insert(*id, piece.called());
            }
            if let Some((_, drawn, place)) = placed.pieces.get(id) {
                let figures =
                    crate::placement::mirror_figures(drawn, place, there.side.direction());
                let reference = there.side.datum_name(piece.place.reference()).to_owned();
                around.mirrored.insert(*id, (figures, reference));
            }
        }
        around
    }
}

/// Plans a side: measures it, draws, places and reads each piece.
///
/// Errors: a measurement of the side that cannot stand. A piece that cannot be planned does not hold up the others.
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
    let side = measure(side, features)?;
    let (placed, mut failed) = place_all(&side, pieces, job, unit);
    let mut planned: Vec<PlannedPiece> = Vec::new();
    // In the order given, whatever the order in which they were placed.
    for (id, piece) in pieces.iter().filter(|(id, _)| wanted(*id)) {
        let Some((_, drawn, place)) = placed.pieces.get(id) else {
            continue;
        };
        match plan_placed(*id, piece, drawn, place, &side, job, settings, unit) {
            Ok(piece) => planned.push(piece),
            Err(error) => failed.push((*id, error)),
        }
    }
    failed.retain(|(id, _)| wanted(*id));
    overlaps(&mut planned);
    Ok(SidePlan {
        side,
        pieces: planned,
        failed,
    })
}

/// Draws and places every piece of a side. Returns what is placed, and the pieces that cannot be with the reason.
pub fn place_all(
    side: &MeasuredSide,
    pieces: &[(Uuid, Piece)],
    job: &JobAround,
    unit: Unit,
) -> (Around, Vec<(Uuid, PieceError)>) {
    let mut failed: Vec<(Uuid, PieceError)> = Vec::new();
    let mut drawn: Vec<order::DrawnPiece<'_>> = Vec::new();
    for (id, piece) in pieces {
        match art::draw(piece, side, &job.typefaces) {
            Ok(art) => drawn.push((*id, piece, art)),
            Err(error) => failed.push((*id, error.into())),
        }
    }
    let (rows, wrong) = order::rows(&drawn, side, unit);
    failed.extend(wrong.into_iter().map(|(id, e)| (id, e.into())));
    let (sequence, round) = order::sequence(pieces);
    failed.extend(round.into_iter().map(|(n, e)| (pieces[n].0, e.into())));
    let mut around = Around {
        rows,
        mirrored: job.mirrored.clone(),
        ..Around::default()
    };
    for n in sequence {
        let (id, piece) = &pieces[n];
        if failed.iter().any(|(f, _)| f == id) {
            continue;
        }
        let Some((_, _, art)) = drawn.iter().find(|(d, _, _)| d == id) else {
            continue;
        };
        if let PlaceRule::Mirrored { of } = piece.place
            && let Some(there) = job.mirroring.get(&of)
        {
            let this = piece.called();
            let told = |a: &str, b: &str| {
                format!("\u{201c}{a}\u{201d} mirrors \u{201c}{b}\u{201d} on the other side")
            };
            failed.push((
                *id,
                PlaceError::Cycle(told(&this, there), told(there, &this)).into(),
            ));
            continue;
        }
        match place(art, &piece.place, *id, side, &around, unit) {
            Ok(placed) => {
                around
                    .pieces
                    .insert(*id, (piece.called(), Arc::clone(art), placed));
            }
            Err(error) => failed.push((*id, error.into())),
        }
    }
    (around, failed)
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
    let drawn = art::draw(piece, side, &job.typefaces)?;
    let placed = place(&drawn, &piece.place, id, side, &Around::default(), unit)?;
    plan_placed(id, piece, &drawn, &placed, side, &job, settings, unit)
}

#[allow(clippy::too_many_arguments)]
fn plan_placed(
    id: Uuid,
    piece: &Piece,
    drawn: &Arc<Drawn>,
    placed: &Placed,
    side: &MeasuredSide,
    job: &JobAround,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<PlannedPiece, PieceError> {
    let drawn = match &piece.art {
        Art::Stripe(s) => {
            Arc::new(stripe::cut_to_side(s, drawn, placed, side).map_err(ArtError::from)?)
        }
        _ => Arc::clone(drawn),
    };
    let names = side.side.edge_names(settings.side_words);
    let flats = flats::find(&drawn, placed, &placed.datum, unit);
    let landing = landing::report(&drawn, placed, side, &names, unit);
    let hinge = hinge::top_hinge(&drawn, placed, side, settings, unit);
    let weeding = weeding::report(drawn.thin(), settings, unit);
    let lettering = piece.lettering();
    let findings = match lettering.and_then(|l| l.regulated.map(|r| (l, r))) {
        Some((lettering, regulation)) => {
            let words = lettering.words();
            let elsewhere = Elsewhere {
                on_other_side: job.words_there.as_ref().map(|there| there.contains(&words)),
            };
            let face = job.typefaces.find(&lettering.typeface).map(Arc::as_ref);
            regulated::check(
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
        troubles.extend(printed_panel::troubles(panel, placed, side, unit));
    }
    troubles.extend(troubles_of(&landing, &flats, &piece.art, &drawn, unit));
    troubles.extend(weeding.troubles.iter().cloned());
    let readings = readings(piece, &drawn, placed, side, &names, flats, unit);
    Ok(PlannedPiece {
        id,
        legibility: lettering.map(|l| legibility::report(drawn.capital_height_mm, &l.text, unit)),
        piece: piece.clone(),
        placed: placed.clone(),
        drawn,
        readings,
        landing,
        hinge,
        weeding,
        findings,
        overlaps: Vec::new(),
        troubles,
    })
}

/// Finds pieces whose film overlaps and says which lies on top.
fn overlaps(pieces: &mut [PlannedPiece]) {
    let mut found: Vec<(usize, Overlap, bool)> = Vec::new();
    for (n, a) in pieces.iter().enumerate() {
        for (m, b) in pieces.iter().enumerate().skip(n + 1) {
            let near = |p: &PlannedPiece| crate::outline::bounds_of(p.placed.hull.iter().copied());
            if !near(a).overlaps(near(b)) || !film_meets(a, b) {
                continue;
            }
            let order = a.piece.order.cmp(&b.piece.order);
            for (own, of, other, over) in [(n, a, b, order.is_gt()), (m, b, a, order.is_lt())] {
                let (this, that) = (of.piece.called(), other.piece.called());
                let (over, sentence) = if order.is_eq() {
                    (
                        None,
                        format!(
                            "\u{201c}{this}\u{201d} and \u{201c}{that}\u{201d} overlap, and nothing says which goes on first. Give one a higher order, or move it."
                        ),
                    )
                } else if over {
                    (
                        Some(true),
                        format!("Lies over \u{201c}{that}\u{201d}: lay that one first."),
                    )
                } else {
                    (
                        Some(false),
                        format!("Lies under \u{201c}{that}\u{201d}: lay this one first."),
                    )
                };
                let by_marks = matches!(&of.piece.place, PlaceRule::Marks { of } if *of == other.id)
                    || matches!(&other.piece.place, PlaceRule::Marks { of: base } if *base == of.id);
                found.push((
                    own,
                    Overlap {
                        other: other.id,
                        over,
                        sentence,
                    },
                    by_marks,
                ));
            }
        }
    }
    for (n, overlap, by_marks) in found {
        if overlap.over.is_none() && !by_marks {
            pieces[n].troubles.insert(0, overlap.sentence.clone());
        }
        pieces[n].overlaps.push(overlap);
    }
}

fn film_meets(a: &PlannedPiece, b: &PlannedPiece) -> bool {
    let theirs: Vec<Shape> = b.film().collect();
    a.film().any(|s| {
        theirs
            .iter()
            .any(|t| s.bounds.overlaps(t.bounds) && s.distance_to(t, 0.01) <= 0.0)
    })
}

fn readings(
    piece: &Piece,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    names: &EdgeNames,
    flats: Flats,
    unit: Unit,
) -> Readings {
    let (near, far) = placed.back_mm;
    let datum = &placed.datum;
    let (first, last) = if side.side.direction() > 0.0 {
        (near, far)
    } else {
        (far, near)
    };
    let ends = match piece.art {
        Art::Lettering(_) => ["first letter", "last letter"],
        _ if side.side.direction() > 0.0 => ["its front end", "its rear end"],
        _ => ["its rear end", "its front end"],
    };
    let mut marks = vec![
        (names.zero.clone(), 0.0),
        (ends[0].to_owned(), first),
        (ends[1].to_owned(), last),
        (names.far.clone(), datum.length_mm),
    ];
    // Hardware that stands beside the piece, at the piece's height, belongs in its chain.
    let (top, foot) = placed
        .hull
        .iter()
        .map(|p| p.y)
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), y| {
            (a.min(y), b.max(y))
        });
    for hardware in side.hardware() {
        let bounds = hardware.outline.bounds;
        if bounds.y1 < top || bounds.y0 > foot {
            continue;
        }
        let at = |x: f64| datum.read(Point::new(x, bounds.center().y)).0;
        let (a, b) = (
            at(bounds.x0).min(at(bounds.x1)),
            at(bounds.x0).max(at(bounds.x1)),
        );
        if b <= near || a >= far {
            marks.push((format!("{}, front", hardware.name), a));
            marks.push((format!("{}, rear", hardware.name), b));
        }
    }
    let at_ruled_end = match &piece.place {
        PlaceRule::Rules(rules) => match rules.along {
            Along::FromFront {
                to: LetterEnd::LastLetter,
                ..
            } => drawn.nominal.x1,
            Along::FromFront { .. } => drawn.nominal.x0,
            _ => drawn.nominal.center().x,
        },
        _ => drawn.nominal.center().x,
    };
    let upper = if drawn.has_letters {
        0.0
    } else {
        drawn.nominal.y0
    };
    let cap_line = datum
        .read(placed.to_picture * Point::new(at_ruled_end, upper))
        .1;
    // What one end would differ by if it were hung level instead of as it is, or along the datum instead of level.
    let slope = datum.back.y / datum.back.x.abs();
    let turned = placed.degrees(side.side.direction());
    let level = (turned.to_radians().tan() + slope).abs() < 1e-6 && slope != 0.0;
    let level_difference = if level {
        -slope * (far - near)
    } else {
        slope * (far - near)
    };
    Readings {
        cap_line: print(cap_line, unit),
        capital_height: print(drawn.capital_height_mm, unit),
        width: print(drawn.nominal.width(), unit),
        first_letter: print(first, unit),
        last_letter: print(last, unit),
        chain: chain(marks, unit),
        level_difference: print(level_difference, unit),
        flats,
    }
}

fn troubles_of(
    landing: &Landing,
    flats: &Flats,
    art: &Art,
    drawn: &Drawn,
    unit: Unit,
) -> Vec<String> {
    let mut troubles: Vec<String> = landing
        .hardware
        .iter()
        .filter(|h| h.state != landing::HardwareState::ComesOff)
        .map(|h| h.sentence.clone())
        .collect();
    // Bleed and the film that wraps round an end are meant to stand over the edge.
    let meant = match art {
        Art::Panel(p) => p.bleed_mm,
        Art::Stripe(s) => s.wrap_mm,
        _ => 0.0,
    };
    for near in &landing.nearest {
        if near.distance.mm < -meant - 0.1 {
            troubles.push(format!(
                "The piece sticks out past the {} by {}. Move it in.",
                near.to,
                print(-near.distance.mm, unit).text
            ));
        }
    }
    match landing.heads_edge_on {
        0 => {}
        1 => troubles.push("1 rivet head has a cut edge on it. It lifts there first.".into()),
        n => troubles.push(format!(
            "{n} rivet heads have a cut edge on them. It lifts there first."
        )),
    }
    for line in landing
        .lines
        .iter()
        .filter(|s| s.state == landing::LineState::EdgeAlong)
    {
        troubles.push(format!(
            "A cut edge of {} runs along the {}. Shift it off.",
            line.letters.join(" and "),
            line.name
        ));
    }
    if flats.at == FlatsAt::BoxCorners && drawn.has_letters {
        troubles.push(
            "These letters have no two flats to read to. Mark the upper corners of the lettering with slips of tape and read to those."
                .into(),
        );
    }
    troubles
}
