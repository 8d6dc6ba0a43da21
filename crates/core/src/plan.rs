//! The plan of a side: every piece placed, its readings, what it lands on, and its hinge. The one entry point that the server's
//! `evaluate` calls.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::elevation::{MeasuredSide, measure};
use crate::feature::SideFeature;
use crate::flats::{self, Flats, FlatsAt};
use crate::hinge::{self, TopHinge};
use crate::landing::{self, Landing};
use crate::lettering::{self, DrawnLettering, Lettering, LetteringError};
use crate::level::Hanging;
use crate::outline::Shape;
use crate::placement::{Angle, LetterEnd, PlaceError, PlaceRule, Placed, place};
use crate::settings::WorkSettings;
use crate::side::{EdgeNames, MeasureError, Side};
use crate::tape::{ChainMark, Length, Unit, chain, print};

/// A piece of film as it is asked for: what it says and where it goes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Piece {
    /// The lettering.
    pub lettering: Lettering,
    /// The rules for its place.
    pub place: PlaceRule,
}

/// A piece that cannot be made or placed.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PieceError {
    /// The lettering cannot be made.
    #[error(transparent)]
    Lettering(#[from] LetteringError),
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

/// One piece, planned.
#[derive(Debug, Clone)]
pub struct PlannedPiece {
    /// The piece's row.
    pub id: Uuid,
    /// The piece as asked for.
    pub piece: Piece,
    /// The lettering in its own frame.
    pub drawn: DrawnLettering,
    /// Where it is.
    pub placed: Placed,
    /// Its readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// What is wrong with it, worst first, one sentence each.
    pub troubles: Vec<String>,
}

impl PlannedPiece {
    /// Film outlines in the picture frame, mm.
    pub fn film(&self) -> impl Iterator<Item = Shape> + '_ {
        self.drawn
            .parts
            .iter()
            .flat_map(|p| &p.shapes)
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

/// Plans a side: measures it and plans each piece.
///
/// Errors: a measurement of the side that cannot stand. A piece that cannot be planned does not hold up the others.
pub fn plan_side(
    side: &Side,
    features: &[SideFeature],
    pieces: &[(Uuid, Piece)],
    settings: &WorkSettings,
    unit: Unit,
) -> Result<SidePlan, MeasureError> {
    let side = measure(side, features)?;
    let mut plan = SidePlan {
        side,
        pieces: Vec::new(),
        failed: Vec::new(),
    };
    for (id, piece) in pieces {
        match plan_piece(*id, piece, &plan.side, settings, unit) {
            Ok(planned) => plan.pieces.push(planned),
            Err(error) => plan.failed.push((*id, error)),
        }
    }
    Ok(plan)
}

/// Plans one piece on a measured side.
pub fn plan_piece(
    id: Uuid,
    piece: &Piece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    unit: Unit,
) -> Result<PlannedPiece, PieceError> {
    let drawn = lettering::draw(&piece.lettering)?;
    let placed = place(&drawn, &piece.place, side, unit)?;
    let names = side.side.edge_names(settings.side_words);
    let flats = flats::find(&drawn, &placed, &placed.datum, unit);
    let landing = landing::report(&drawn, &placed, side, &names, unit);
    let hinge = hinge::top_hinge(&drawn, &placed, side, settings, unit);
    let troubles = troubles(&landing, &flats, unit);
    let readings = readings(piece, &drawn, &placed, side, &names, flats, unit);
    Ok(PlannedPiece {
        id,
        piece: piece.clone(),
        drawn,
        placed,
        readings,
        landing,
        hinge,
        troubles,
    })
}

fn readings(
    piece: &Piece,
    drawn: &DrawnLettering,
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
    let mut marks = vec![
        (names.zero.clone(), 0.0),
        ("first letter".to_owned(), first),
        ("last letter".to_owned(), last),
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
    let at_ruled_end = match piece.place.along {
        crate::placement::Along::FromFront {
            to: LetterEnd::LastLetter,
            ..
        } => drawn.bounds.x1,
        crate::placement::Along::FromFront { .. } => 0.0,
        crate::placement::Along::Centred { .. } => drawn.bounds.x1 / 2.0,
    };
    let cap_line = datum
        .read(placed.to_picture * Point::new(at_ruled_end, 0.0))
        .1;
    let slope = datum.back.y / datum.back.x.abs();
    let level_difference = match piece.place.angle {
        Angle::AlongDatum => slope * (far - near),
        Angle::Level => -slope * (far - near),
    };
    Readings {
        cap_line: print(cap_line, unit),
        capital_height: print(drawn.capital_height_mm, unit),
        width: print(drawn.bounds.width(), unit),
        first_letter: print(first, unit),
        last_letter: print(last, unit),
        chain: chain(marks, unit),
        level_difference: print(level_difference, unit),
        flats,
    }
}

fn troubles(landing: &Landing, flats: &Flats, unit: Unit) -> Vec<String> {
    let mut troubles: Vec<String> = landing
        .hardware
        .iter()
        .filter(|h| h.state != landing::HardwareState::ComesOff)
        .map(|h| h.sentence.clone())
        .collect();
    for near in &landing.nearest {
        if near.distance.mm < 0.0 {
            troubles.push(format!(
                "The lettering sticks out past the {} by {}. Move it in.",
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
    if flats.at == FlatsAt::BoxCorners {
        troubles.push(
            "These letters have no two flats to read to. Mark the upper corners of the lettering with slips of tape and read to those."
                .into(),
        );
    }
    troubles
}
