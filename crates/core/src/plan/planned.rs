//! A piece and a side as planned: every figure that a screen or a paper shows.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::art::legibility::Legibility;
use crate::art::lettering::LetteringError;
use crate::art::weeding::Weeding;
use crate::ground::measure_error::MeasureError;
use crate::ground::outline::Shape;
use crate::ground::said::Said;
use crate::ground::tape::Length;
use crate::ground::told::Told;
use crate::place::error::PlaceError;
use crate::place::landing::Landing;
use crate::place::placed::Placed;
use crate::plan::piece::{ArtError, Piece};
use crate::plan::readings::Readings;
use crate::plan::regulated::Finding;
use crate::plan::top_hinge::TopHinge;
use crate::plan::worked::Worked;
use crate::vehicle::measured::MeasuredSide;

/// A seam as it is laid out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeamAsLaid {
    /// The piece that it meets.
    pub other: Uuid,
    /// How long the edges run beside each other.
    pub run: Length,
    /// Farthest that it is open, beyond what it should be; less than 0 where it is over everywhere.
    pub apart: Length,
    /// Farthest that it is over, beyond what it should be; less than 0 where it is open everywhere.
    pub over: Length,
    /// Whether it is right within 1.5 mm wherever the edges run beside each other.
    pub right: bool,
    /// One sentence for the fitter.
    pub sentence: String,
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
    /// Its rule as it is said.
    pub said: Vec<Said>,
    /// What it is made as, as it is said: [`Piece::art_said`].
    pub art_said: Vec<Vec<Said>>,
    /// Its readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// What a print meets, and how that is worked.
    pub worked: Vec<Worked>,
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
    /// Its seam to the piece before it as it is laid out, where it is a kit piece that has one.
    pub seam: Option<SeamAsLaid>,
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

/// Film of a piece where it lies.
#[derive(Debug, Clone)]
pub struct PlacedFilm {
    /// The piece's row.
    pub id: Uuid,
    /// Colour of its face, `#rrggbb`.
    pub colour: String,
    /// Its outlines in the picture frame, mm.
    pub shapes: Vec<Shape>,
}

/// A side with all its film in place, of which some pieces are planned.
#[derive(Debug, Clone)]
pub struct SideSketch {
    /// The measured side, and the pieces that were to be planned.
    pub plan: SidePlan,
    /// All the film that could be placed.
    pub film: Vec<PlacedFilm>,
    /// Pieces that cannot be placed, or stand over the side's edge by more than they are meant to.
    pub not_on_it: usize,
}

impl From<PieceError> for Told {
    fn from(error: PieceError) -> Told {
        let sentence = error.to_string();
        let (code, field) = match &error {
            PieceError::Side(error) => return error.clone().into(),
            PieceError::Art(ArtError::Lettering(error)) => (
                "lettering",
                match error {
                    LetteringError::NoTypeface(_) => "/art/typeface",
                    LetteringError::Size(_) => "/art/size",
                    LetteringError::Colour => "/art/colour",
                    LetteringError::Arch { .. } => "/art/arch",
                    LetteringError::NotAmongWords(_) => "/art/second",
                    LetteringError::Layer { .. } => "/art/outline",
                    LetteringError::Percent { .. } => "/art/tracking_percent",
                    _ => "/art/text",
                },
            ),
            PieceError::Art(ArtError::Place(_)) => ("place", "/place"),
            PieceError::Art(ArtError::Stripe(_)) => ("stripe", "/art"),
            PieceError::Art(ArtError::Drawing(_)) => ("drawing", "/art"),
            PieceError::Art(ArtError::Panel(_)) => ("panel", "/art"),
            PieceError::Place(_) => ("place", "/place"),
        };
        Told::new(code, sentence).at(field)
    }
}
