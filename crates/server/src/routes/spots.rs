//! The better spot for a piece or several, and moving them there.

use std::collections::BTreeSet;

use rocket::data::Data;
use rocket::post;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::mm::SignedMm;
use windrift_core::place::key_features::looked_for;
use windrift_core::place::nudge::nudge;
use windrift_core::place::spots::{Movable, Spot, WIDEST_MM, Window, search, try_spot};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::place_all::place_all;
use windrift_core::vehicle::measured::measure::measure;
use windrift_store::StoreError;

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, make_all, replaced};
use crate::keys::key;
use crate::planned::{SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_typed};
use crate::routes::Answer;

/// Where to look.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Search {
    /// Pieces that move together; one for itself.
    pub pieces: Vec<Uuid>,
    /// How far they may be moved. 0 locks a direction.
    pub window: Window,
    /// A place on the map that was touched: column and row.
    #[serde(default)]
    pub touched: Option<[u32; 2]>,
}

/// What was found.
#[derive(Debug, Serialize, ToSchema)]
pub struct SpotsView {
    /// Columns of the map.
    pub columns: u32,
    /// Rows of the map.
    pub rows: u32,
    /// From one place of the map to the next, mm.
    pub step_mm: f64,
    /// Points of every place, row by row from the upper left: less is better; less than 0 where something hard is met.
    pub points: Vec<f64>,
    /// The wanted spot.
    pub wanted: Spot,
    /// The best others, best first.
    pub best: Vec<Spot>,
    /// The spot that was touched.
    pub touched: Option<Spot>,
    /// The answer in a sentence.
    pub sentence: String,
}

/// Searches the window round the place of one piece, or of several that keep their spacing. Writes nothing.
#[utoipa::path(post, path = "/api/sides/{id}/spots", params(("id" = Uuid, Path)), request_body = Search, responses((status = 200, body = SpotsView), (status = 422, body = Problem)))]
#[post("/sides/<id>/spots", data = "<data>")]
pub async fn spots(desk: &Desk, id: &str, data: Data<'_>) -> Answer<SpotsView> {
    let rows = desk.side(key(id)?).await?;
    let settings = desk.ways().await?;
    let body = read_json(data).await?;
    let asked: Search = read_typed(body, unit_of(&rows.job.unit)?)?;
    for (field, mm) in [
        ("along_mm", asked.window.along_mm.mm()),
        ("down_mm", asked.window.down_mm.mm()),
    ] {
        if !(0.0..=WIDEST_MM).contains(&mm) {
            return Err(Problem::input(
                "window",
                "Look at most 200 mm (7 7/8 in) to each side. Give a smaller window.",
            )
            .at(format!("/window/{field}")));
        }
    }
    let mut asked = asked;
    // A piece that is named twice moves once.
    let mut named = BTreeSet::new();
    asked.pieces.retain(|id| named.insert(*id));
    let input = SideInput::fetch(desk, &rows, &settings.faces).await?;
    let view = desk
        .compute(move || {
            let side = measure(&input.side, &input.features)?;
            let (around, failed) = place_all(&side, &input.pieces, &input.job, input.unit);
            if let Some((_, error)) = failed.into_iter().find(|(f, _)| asked.pieces.contains(f)) {
                return Err(Problem::from(error));
            }
            let looked: Vec<_> = asked
                .pieces
                .iter()
                .filter_map(|id| {
                    let (_, drawn, placed) = around.pieces.get(id)?;
                    let (_, piece) = input.pieces.iter().find(|(p, _)| p == id)?;
                    Some(looked_for(&piece.art, drawn, placed, &side))
                })
                .collect();
            let movable: Vec<Movable<'_>> = looked
                .iter()
                .map(|(drawn, placed)| (drawn.as_ref(), placed))
                .collect();
            if movable.is_empty() || movable.len() != asked.pieces.len() {
                return Err(StoreError::NotFound("piece").into());
            }
            let found = search(&movable, &side, asked.window, &settings.weights, input.unit);
            let touched = asked.touched.and_then(|[column, row]| {
                try_spot(
                    &found,
                    &movable,
                    column as usize,
                    row as usize,
                    &settings.weights,
                    &side,
                    input.unit,
                )
            });
            Ok(SpotsView {
                columns: found.grid.columns() as u32,
                rows: found.grid.rows() as u32,
                step_mm: found.grid.step_mm,
                points: found
                    .map
                    .cells()
                    .iter()
                    .map(|c| {
                        if c.hard > 0 {
                            -f64::from(c.hard)
                        } else {
                            c.points(&settings.weights)
                        }
                    })
                    .collect(),
                wanted: found.wanted,
                best: found.best,
                touched,
                sentence: found.sentence,
            })
        })
        .await??;
    Ok(Json(view))
}

/// A piece with the revision at which it was seen.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SeenPiece {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
}

/// A move of several pieces.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MoveTogether {
    /// The pieces.
    pub pieces: Vec<SeenPiece>,
    /// To the picture's right, mm.
    pub right_mm: SignedMm,
    /// Down, mm.
    pub down_mm: SignedMm,
}

/// Moves pieces together by whole steps; undone in one go.
#[utoipa::path(post, path = "/api/sides/{id}/pieces/move", params(("id" = Uuid, Path)), request_body = MoveTogether, responses((status = 200, body = windrift_store::edits::EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/sides/<id>/pieces/move", data = "<data>")]
pub async fn move_together(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let asked: MoveTogether = read_typed(body, unit_of(&rows.job.unit)?)?;
    let ways = desk.ways().await?;
    let input = SideInput::fetch(desk, &rows, &ways.faces).await?;
    let moved = desk.compute(move || moved(&input, &asked)).await??;
    let changes = replaced(moved)?;
    if changes.is_empty() {
        return Err(Problem::input(
            "move",
            "There is nothing to move. Choose a piece first.",
        ));
    }
    make_all(desk, &caller, changes).await
}

/// The pieces that are moved, each with the revision that was seen of it and its new rule.
fn moved(input: &SideInput, asked: &MoveTogether) -> Result<Vec<(Uuid, i32, Piece)>, Problem> {
    let side = measure(&input.side, &input.features)?;
    let (around, _) = place_all(&side, &input.pieces, &input.job, input.unit);
    let mut moved_to = input.pieces.clone();
    let mut moved = Vec::new();
    let mut named = BTreeSet::new();
    for seen in asked.pieces.iter().filter(|p| named.insert(p.id)) {
        let (Some((_, drawn, placed)), Some((_, piece))) = (
            around.pieces.get(&seen.id),
            moved_to.iter_mut().find(|(p, _)| *p == seen.id),
        ) else {
            return Err(StoreError::NotFound("piece").into());
        };
        // A piece that is placed by another that moves as well goes with it by its own rule.
        let follows = piece
            .place
            .pieces()
            .iter()
            .any(|(other, _)| asked.pieces.iter().any(|p| p.id == *other));
        if follows {
            continue;
        }
        if piece.layer().is_some() {
            let sentence = format!(
                "\u{201c}{}\u{201d} goes with its lettering. Move that.",
                piece.called()
            );
            return Err(Problem::input("layer", sentence));
        }
        piece.place = nudge(
            &piece.place,
            drawn,
            placed,
            &input.side,
            asked.right_mm.mm(),
            asked.down_mm.mm(),
            input.unit,
        );
        moved.push((seen.id, seen.revision, piece.clone()));
    }
    let (_, failed) = place_all(&side, &moved_to, &input.job, input.unit);
    match failed
        .into_iter()
        .find(|(f, _)| asked.pieces.iter().any(|p| p.id == *f))
    {
        Some((_, error)) => Err(error.into()),
        None => Ok(moved),
    }
}
