//! A side with its plan, and the evaluation of pieces while they are moved.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::elevation::measure;
use windrift_core::lettering::draw;
use windrift_core::placement::{nudge, place};
use windrift_core::plan::{Piece, PieceError, plan_side};
use windrift_store::Store;

use super::jobs::key;
use super::{Answer, settings};
use crate::problem::Problem;
use crate::request::{read_as, read_json, read_lengths};
use crate::views::{Evaluation, SideInput, SideView, evaluation, side_view, unit_of};

/// Most pieces on one side.
pub const MOST_PIECES: usize = 60;

/// A move in the picture, mm.
#[derive(Debug, Clone, Copy, Serialize, Deserialize, ToSchema)]
pub struct Nudge {
    /// To the picture's right.
    pub right_mm: f64,
    /// Down.
    pub down_mm: f64,
}

/// A piece as it would be: saved pieces may be changed and new ones added, nothing is written.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct TriedPiece {
    /// The piece's key.
    pub id: Uuid,
    /// What it would be.
    pub spec: Piece,
    /// Moved by so much, in whole steps of the unit; the answer's `spec` then carries the new rule.
    #[serde(default)]
    pub nudge: Option<Nudge>,
}

/// What to evaluate.
#[derive(Debug, Default, Serialize, Deserialize, ToSchema)]
pub struct Evaluate {
    /// Pieces as they would be.
    #[serde(default)]
    pub pieces: Vec<TriedPiece>,
    /// Evaluate only these pieces instead of the whole side.
    #[serde(default)]
    pub only_tried: bool,
}

/// One side with everything on it, planned.
#[utoipa::path(get, path = "/api/sides/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = SideView), (status = 404, body = Problem)))]
#[get("/sides/<id>")]
pub async fn side(store: &State<Store>, id: &str) -> Answer<SideView> {
    let rows = store.side(key(id)?).await?;
    let job = store.job(rows.job.id).await?;
    Ok(Json(side_view(&rows, &job.sides, &settings(store).await?)?))
}

/// Plans the side with pieces as they would be. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/evaluate", params(("id" = Uuid, Path)), request_body = Evaluate, responses((status = 200, body = Evaluation), (status = 422, body = Problem)))]
#[post("/sides/<id>/evaluate", data = "<data>")]
pub async fn evaluate(store: &State<Store>, id: &str, data: Data<'_>) -> Answer<Evaluation> {
    let rows = store.side(key(id)?).await?;
    let settings = settings(store).await?;
    let mut body = read_json(data).await?;
    read_lengths(&mut body, unit_of(&rows.job.unit))?;
    let asked: Evaluate = read_as(body)?;
    let mut input = SideInput::of(&rows)?;
    if input.pieces.len() + asked.pieces.len() > 2 * MOST_PIECES {
        return Err(Problem::input(
            "too_many",
            format!("A side may have {MOST_PIECES} pieces."),
        ));
    }
    if asked.only_tried {
        input.pieces.clear();
    }
    let side = measure(&input.side, &input.features)?;
    for tried in asked.pieces {
        let mut spec = tried.spec;
        if let Some(by) = tried.nudge {
            let drawn = draw(&spec.lettering).map_err(PieceError::from)?;
            // A move that would leave the side is not made: the piece stays where it last could be.
            if let Ok(placed) = place(&drawn, &spec.place, &side, input.unit) {
                let moved = nudge(
                    &spec.place,
                    &placed,
                    &input.side,
                    by.right_mm,
                    by.down_mm,
                    input.unit,
                );
                if place(&drawn, &moved, &side, input.unit).is_ok() {
                    spec.place = moved;
                }
            }
        }
        match input.pieces.iter_mut().find(|(id, _)| *id == tried.id) {
            Some((_, piece)) => *piece = spec,
            None => input.pieces.push((tried.id, spec)),
        }
    }
    let plan = plan_side(
        &input.side,
        &input.features,
        &input.pieces,
        &settings,
        input.unit,
    )?;
    Ok(Json(evaluation(&plan, &input, &rows)))
}
