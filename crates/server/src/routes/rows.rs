//! Adding, changing and removing sides, features and pieces; undo and redo.

use rocket::data::Data;
use rocket::http::{Header, Status};
use rocket::response::Responder;
use rocket::serde::json::Json;
use rocket::{State, delete, post, put};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::elevation::measure;
use windrift_core::feature::Feature;
use windrift_core::plan::{Piece, plan_piece};
use windrift_core::side::BoxSide;
use windrift_store::edits::{Change, Edit, EditedRow, RowKind};
use windrift_store::{SideRows, Store};

use super::jobs::key;
use super::settings;
use super::sides::MOST_PIECES;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_lengths};
use crate::views::{SideInput, unit_of};

/// Most features on one side.
const MOST_FEATURES: usize = 600;
/// Most sides of one job.
const MOST_SIDES: usize = 12;

/// A new row: a client-made key, and what it is.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewRow {
    /// Made by the client.
    pub id: Uuid,
    /// What it is: a side, a feature or a piece. Lengths may be typed as text.
    pub spec: Value,
}

/// What a row becomes.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct RowSpec {
    /// What it is: a side, a feature or a piece. Lengths may be typed as text.
    pub spec: Value,
}

/// A row after an edit, with its revision as ETag.
#[derive(Responder)]
pub struct Edited {
    row: Json<EditedRow>,
    etag: Header<'static>,
}

impl From<EditedRow> for Edited {
    fn from(row: EditedRow) -> Self {
        Edited {
            etag: Header::new("ETag", format!("\"{}\"", row.revision)),
            row: Json(row),
        }
    }
}

type Editing = Result<Edited, Problem>;

/// Reads a body's `spec`, with its typed lengths read in the job's unit.
fn spec_of<T: serde::de::DeserializeOwned + Serialize>(
    mut body: Value,
    rows: &SideRows,
) -> Result<(T, Value), Problem> {
    read_lengths(&mut body, unit_of(&rows.job.unit))?;
    let spec: T = read_as(body.get_mut("spec").map(Value::take).unwrap_or_default())?;
    let value = serde_json::to_value(&spec).map_err(windrift_store::StoreError::from)?;
    Ok((spec, value))
}

fn id_of(body: &Value) -> Result<Uuid, Problem> {
    read_as(body.get("id").cloned().unwrap_or_default())
}

fn check_feature(feature: &Feature, rows: &SideRows) -> Result<(), Problem> {
    Ok(feature.check(&SideInput::of(rows)?.body)?)
}

async fn check_piece(store: &Store, piece: &Piece, rows: &SideRows) -> Result<(), Problem> {
    let input = SideInput::of(rows)?;
    let side = measure(input.body, &input.features)?;
    plan_piece(
        Uuid::nil(),
        piece,
        &side,
        &settings(store).await?,
        input.unit,
    )?;
    Ok(())
}

/// A side's new measurements must still carry what is on it.
fn check_side(body: &BoxSide, rows: &SideRows) -> Result<(), Problem> {
    body.check()?;
    measure(*body, &SideInput::of(rows)?.features).map_err(|e| {
        Problem::input(
            "measure",
            format!(
                "With these measurements something on the side no longer fits. {}",
                e.sentence
            ),
        )
        .at("/spec/length_mm")
    })?;
    Ok(())
}

fn require_room(count: usize, most: usize, what: &str) -> Result<(), Problem> {
    if count < most {
        return Ok(());
    }
    Err(Problem::new(
        Status::UnprocessableEntity,
        "too_many",
        format!("There are {count} {what} already; {most} is the most."),
    ))
}

async fn make(store: &Store, caller: &Caller, kind: RowKind, row: Uuid, change: Change) -> Editing {
    let edit = Edit {
        id: caller.edit_id()?,
        crew: caller.writer()?.id,
        kind,
        row,
        change,
    };
    Ok(store.edit(edit).await?.into())
}

/// Adds a side to a job.
#[utoipa::path(post, path = "/api/jobs/{id}/sides", params(("id" = Uuid, Path)), request_body = NewRow, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/jobs/<id>/sides", data = "<data>")]
pub async fn add_side(store: &State<Store>, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let job = store.job(key(id)?).await?;
    let mut body = read_json(data).await?;
    require_room(job.sides.len(), MOST_SIDES, "sides")?;
    read_lengths(&mut body, unit_of(&job.job.unit))?;
    let row = id_of(&body)?;
    let side: BoxSide = read_as(body.get_mut("spec").map(Value::take).unwrap_or_default())?;
    side.check()?;
    let spec = serde_json::to_value(side).map_err(windrift_store::StoreError::from)?;
    make(
        store,
        &caller,
        RowKind::Side,
        row,
        Change::Add {
            parent: job.job.id,
            spec,
        },
    )
    .await
}

/// Adds a feature to a side.
#[utoipa::path(post, path = "/api/sides/{id}/features", params(("id" = Uuid, Path)), request_body = NewRow, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/features", data = "<data>")]
pub async fn add_feature(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Editing {
    caller.writer()?;
    let rows = store.side(key(id)?).await?;
    let body = read_json(data).await?;
    let row = id_of(&body)?;
    require_room(rows.features.len(), MOST_FEATURES, "features")?;
    let (feature, spec) = spec_of::<Feature>(body, &rows)?;
    check_feature(&feature, &rows)?;
    make(
        store,
        &caller,
        RowKind::Feature,
        row,
        Change::Add {
            parent: rows.side.id,
            spec,
        },
    )
    .await
}

/// Adds a piece to a side.
#[utoipa::path(post, path = "/api/sides/{id}/pieces", params(("id" = Uuid, Path)), request_body = NewRow, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/pieces", data = "<data>")]
pub async fn add_piece(store: &State<Store>, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let rows = store.side(key(id)?).await?;
    let body = read_json(data).await?;
    let row = id_of(&body)?;
    require_room(rows.pieces.len(), MOST_PIECES, "pieces")?;
    let (piece, spec) = spec_of::<Piece>(body, &rows)?;
    check_piece(store, &piece, &rows).await?;
    make(
        store,
        &caller,
        RowKind::Piece,
        row,
        Change::Add {
            parent: rows.side.id,
            spec,
        },
    )
    .await
}

/// Replaces a side's measurements.
#[utoipa::path(put, path = "/api/sides/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/sides/<id>", data = "<data>")]
pub async fn replace_side(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Editing {
    caller.writer()?;
    let rows = store.side(key(id)?).await?;
    let (body, spec) = spec_of::<BoxSide>(read_json(data).await?, &rows)?;
    check_side(&body, &rows)?;
    make(
        store,
        &caller,
        RowKind::Side,
        rows.side.id,
        Change::Replace {
            seen: caller.seen()?,
            spec,
        },
    )
    .await
}

/// Replaces a feature.
#[utoipa::path(put, path = "/api/features/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/features/<id>", data = "<data>")]
pub async fn replace_feature(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Editing {
    caller.writer()?;
    let row = key(id)?;
    let rows = store.side_of_feature(row).await?;
    let (feature, spec) = spec_of::<Feature>(read_json(data).await?, &rows)?;
    check_feature(&feature, &rows)?;
    make(
        store,
        &caller,
        RowKind::Feature,
        row,
        Change::Replace {
            seen: caller.seen()?,
            spec,
        },
    )
    .await
}

/// Replaces a piece.
#[utoipa::path(put, path = "/api/pieces/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/pieces/<id>", data = "<data>")]
pub async fn replace_piece(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Editing {
    caller.writer()?;
    let row = key(id)?;
    let rows = store.side_of_piece(row).await?;
    let (piece, spec) = spec_of::<Piece>(read_json(data).await?, &rows)?;
    check_piece(store, &piece, &rows).await?;
    make(
        store,
        &caller,
        RowKind::Piece,
        row,
        Change::Replace {
            seen: caller.seen()?,
            spec,
        },
    )
    .await
}

/// Removes a feature.
#[utoipa::path(delete, path = "/api/features/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/features/<id>")]
pub async fn remove_feature(store: &State<Store>, caller: Caller, id: &str) -> Editing {
    make(
        store,
        &caller,
        RowKind::Feature,
        key(id)?,
        Change::Remove {
            seen: caller.seen()?,
        },
    )
    .await
}

/// Removes a piece.
#[utoipa::path(delete, path = "/api/pieces/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/pieces/<id>")]
pub async fn remove_piece(store: &State<Store>, caller: Caller, id: &str) -> Editing {
    make(
        store,
        &caller,
        RowKind::Piece,
        key(id)?,
        Change::Remove {
            seen: caller.seen()?,
        },
    )
    .await
}

/// Takes back the caller's newest edit on a job.
#[utoipa::path(post, path = "/api/jobs/{id}/undo", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[post("/jobs/<id>/undo")]
pub async fn undo(store: &State<Store>, caller: Caller, id: &str) -> Editing {
    Ok(store.undo(key(id)?, caller.writer()?.id).await?.into())
}

/// Makes the caller's newest undone edit again.
#[utoipa::path(post, path = "/api/jobs/{id}/redo", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[post("/jobs/<id>/redo")]
pub async fn redo(store: &State<Store>, caller: Caller, id: &str) -> Editing {
    Ok(store.redo(key(id)?, caller.writer()?.id).await?.into())
}
