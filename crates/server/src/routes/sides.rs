//! A side with its plan, and the evaluation of pieces while they are moved.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::mm::SignedMm;
use windrift_core::place::nudge::nudge;
use windrift_core::place::place;
use windrift_core::place::rules::PlaceRule;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::place_all::place_all;
use windrift_core::plan::plan_some;
use windrift_core::plan::readings::{TapeFigure, move_to_read};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_store::SideRows;
use windrift_store::edits::RowKind;

use crate::desk::Desk;
use crate::editing::PIECE_KIB;
use crate::keys::key;
use crate::planned::{SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{read_json_up_to, read_typed};
use crate::routes::Answer;
use crate::views::{Evaluation, SideView, evaluation, side_view};
use crate::ways::Ways;

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
    /// Moved so that a figure in the picture reads as it was typed.
    #[serde(default)]
    pub typed: Option<TypedFigure>,
}

/// A figure that was typed over where it stands in the picture.
#[derive(Debug, Clone, Copy, Serialize, Deserialize, ToSchema)]
pub struct TypedFigure {
    /// Which figure.
    pub which: TapeFigure,
    /// What it is to read, mm.
    pub reads_mm: SignedMm,
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
pub async fn side(desk: &Desk, id: &str) -> Answer<SideView> {
    let rows = desk.side(key(id)?).await?;
    let job = desk.job(rows.job.id).await?;
    let ways = desk.ways().await?;
    let planned = desk.planned(&job, rows.side.id, &ways).await?;
    Ok(Json(side_view(&rows, &job.sides, &planned, &ways)?))
}

/// Plans the side with pieces as they would be. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/evaluate", params(("id" = Uuid, Path)), request_body = Evaluate, responses((status = 200, body = Evaluation), (status = 422, body = Problem)))]
#[post("/sides/<id>/evaluate", data = "<data>")]
pub async fn evaluate(desk: &Desk, id: &str, data: Data<'_>) -> Answer<Evaluation> {
    let rows = desk.side(key(id)?).await?;
    let ways = desk.ways().await?;
    let body = read_json_up_to(data, PIECE_KIB).await?;
    let asked: Evaluate = read_typed(body, unit_of(&rows.job.unit)?)?;
    let most = RowKind::Piece.most();
    if rows.pieces.len() + asked.pieces.len() > 2 * most {
        return Err(Problem::input(
            "too_many",
            format!("A side may have {most} pieces."),
        ));
    }
    let input = SideInput::fetch(desk, &rows, &ways.faces).await?;
    desk.compute(move || evaluated(input, asked, &rows, &ways))
        .await?
        .map(Json)
}

fn evaluated(
    mut input: SideInput,
    asked: Evaluate,
    rows: &SideRows,
    ways: &Ways,
) -> Result<Evaluation, Problem> {
    let tried: Vec<Uuid> = asked.pieces.iter().map(|p| p.id).collect();
    let mut moves = Vec::new();
    let mut typed = Vec::new();
    for tried in asked.pieces {
        moves.extend(tried.nudge.map(|by| (tried.id, by)));
        typed.extend(tried.typed.map(|figure| (tried.id, figure)));
        match input.pieces.iter_mut().find(|(id, _)| *id == tried.id) {
            Some((_, piece)) => *piece = tried.spec,
            None => input.pieces.push((tried.id, tried.spec)),
        }
    }
    let typed_ids: Vec<Uuid> = typed.iter().map(|(id, _)| *id).collect();
    if !typed.is_empty() {
        let plan = plan_some(
            &input.side,
            &input.features,
            &input.pieces,
            &input.job,
            &ways.settings,
            input.unit,
            |id| typed_ids.contains(&id),
        )?;
        for (id, figure) in typed {
            let piece = plan.pieces.iter().find(|p| p.id == id);
            let by =
                piece.and_then(|p| move_to_read(&p.readings, figure.which, figure.reads_mm.mm()));
            let Some((back, down)) = by else {
                return Err(Problem::input(
                    "figure",
                    "No move of this piece changes that figure. Change what stands beside it, or its words.",
                ));
            };
            moves.push((
                id,
                Nudge {
                    right_mm: back * input.side.direction(),
                    down_mm: down,
                },
            ));
        }
    }
    if !moves.is_empty() {
        let side = measure(&input.side, &input.features)?;
        for (id, by) in moves {
            let before = place_of(&input, id);
            move_piece(&mut input, &side, id, by);
            // What was typed and cannot be had is said; a drag that meets the edge just stops there.
            let wanted = by.right_mm.hypot(by.down_mm) > SEEN_MM;
            if wanted && typed_ids.contains(&id) && place_of(&input, id) == before {
                return Err(Problem::input(
                    "figure",
                    "It cannot be moved so that the tape reads this: its rule holds it where it is, or the side ends there. Change its rule under Place.",
                ));
            }
        }
    }
    let plan = plan_some(
        &input.side,
        &input.features,
        &input.pieces,
        &input.job,
        &ways.settings,
        input.unit,
        |id| !asked.only_tried || tried.contains(&id),
    )?;
    Ok(evaluation(&plan, &input, rows, &ways.settings))
}

/// Less than this is no move, mm: half of the finest mark that is read.
const SEEN_MM: f64 = 0.4;

fn place_of(input: &SideInput, id: Uuid) -> Option<PlaceRule> {
    let found = input.pieces.iter().find(|(p, _)| *p == id);
    found.map(|(_, piece)| piece.place.clone())
}

/// Moves a piece in whole steps of the unit. A move that would leave the side is not made: the piece stays where it last could be.
fn move_piece(input: &mut SideInput, side: &MeasuredSide, id: Uuid, by: Nudge) {
    let (around, _) = place_all(side, &input.pieces, &input.job, input.unit);
    let Some((_, drawn, placed)) = around.pieces.get(&id) else {
        return;
    };
    let Some((_, piece)) = input.pieces.iter_mut().find(|(p, _)| *p == id) else {
        return;
    };
    let moved = nudge(
        &piece.place,
        drawn,
        placed,
        &input.side,
        by.right_mm,
        by.down_mm,
        input.unit,
    );
    if place(drawn, &moved, id, side, &around, input.unit).is_ok() {
        piece.place = moved;
    }
}
