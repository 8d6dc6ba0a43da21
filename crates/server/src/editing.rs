//! What every route that edits rows does: repeats are answered as before, specs read and checked, one edit made.

use rocket::http::{Header, Status};
use rocket::response::Responder;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::place_all::place_all;
use windrift_core::vehicle::measured::measure::measure;
use windrift_formats::drawing::LARGEST_FILE;
use windrift_store::SideRows;
use windrift_store::edits::{Change, Edit, EditedRow, RowKind};
use windrift_store::entity::job;
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::planned::{SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_typed_at};

/// Largest body that a piece may come in, KiB: a kit's drawing is as large as a drawing file.
pub const PIECE_KIB: u64 = LARGEST_FILE as u64 / 1024;

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

/// An edited row, or what went wrong.
pub type Editing = Result<Edited, Problem>;

/// Reads a body's `spec`, with its typed lengths read in the job's unit: as what it is, and as it is kept.
pub fn spec_of<T: serde::de::DeserializeOwned + Serialize>(
    mut body: Value,
    job: &job::Model,
    kind: Kind,
) -> Result<(T, Value), Problem> {
    let spec = body.get_mut("spec").map(Value::take).unwrap_or_default();
    let spec: T = read_typed_at(spec, unit_of(&job.unit)?, "/spec")?;
    let kept = kind.write(&spec)?;
    Ok((spec, kept))
}

pub(crate) fn id_of(body: &Value) -> Result<Uuid, Problem> {
    read_as(body.get("id").cloned().unwrap_or_default())
}

/// What this request left, if it came before: a repeat is answered as the first one was, before anything is checked again.
pub async fn answered_before(desk: &Desk, caller: &Caller) -> Result<Option<Edited>, Problem> {
    caller.writer()?;
    Ok(desk.edit_made(caller.edit_id()?).await?.map(Edited::from))
}

/// Pieces of a side, as they would be, must be such that they can be drawn and placed among the others.
pub async fn check_pieces(
    desk: &Desk,
    rows: &SideRows,
    as_they_would_be: Vec<(Uuid, Piece)>,
) -> Result<(), Problem> {
    let ways = desk.ways().await?;
    let siblings = desk.job(rows.job.id).await?.sides;
    let mut input = SideInput::of(rows)?;
    let own: Vec<Uuid> = as_they_would_be.iter().map(|(id, _)| *id).collect();
    for (id, piece) in as_they_would_be {
        match input.pieces.iter_mut().find(|(p, _)| *p == id) {
            Some((_, known)) => *known = piece,
            None => input.pieces.push((id, piece)),
        }
    }
    desk.compute(move || {
        let input = input.among(&siblings, &ways.faces);
        let side = measure(&input.side, &input.features)?;
        let (_, failed) = place_all(&side, &input.pieces, &input.job, input.unit);
        match failed.into_iter().find(|(p, _)| own.contains(p)) {
            Some((_, error)) => Err(error.into()),
            None => Ok(()),
        }
    })
    .await?
}

/// Refuses one more where there are as many as may be. The store asks again when it writes: somebody may come between.
pub fn require_room(count: usize, most: usize, what: &str) -> Result<(), Problem> {
    if count < most {
        return Ok(());
    }
    Err(Problem::new(
        Status::UnprocessableEntity,
        "too_many",
        format!("There are {count} {what} already; {most} is the most."),
    ))
}

/// Pieces as they become: each with its key and the revision that was seen.
///
/// Errors: one that cannot be written.
pub fn replaced(pieces: Vec<(Uuid, i32, Piece)>) -> Result<Vec<(RowKind, Uuid, Change)>, Problem> {
    let change = |(id, seen, piece)| {
        let spec = Kind::Piece.write(&piece)?;
        Ok((RowKind::Piece, id, Change::Replace { seen, spec }))
    };
    pieces.into_iter().map(change).collect()
}

/// Makes several changes by the caller in one go: all or none, undone together. The first one's id is the id of the whole.
pub async fn make_all(
    desk: &Desk,
    caller: &Caller,
    changes: Vec<(RowKind, Uuid, Change)>,
) -> Editing {
    let crew = caller.writer()?.id;
    let whole = caller.edit_id()?;
    let edit = |(n, (kind, row, change))| Edit {
        id: if n == 0 { whole } else { Uuid::now_v7() },
        crew,
        kind,
        row,
        change,
    };
    let edits = changes.into_iter().enumerate().map(edit).collect();
    Ok(desk.edit_all(edits).await?.into())
}

/// Makes one edit by the caller.
pub async fn make(
    desk: &Desk,
    caller: &Caller,
    kind: RowKind,
    row: Uuid,
    change: Change,
) -> Editing {
    let edit = Edit {
        id: caller.edit_id()?,
        crew: caller.writer()?.id,
        kind,
        row,
        change,
    };
    Ok(desk.edit(edit).await?.into())
}

/// Going on against a surface that refuses film is for the lead to say.
pub fn lead_goes_on(
    caller: &Caller,
    before: Option<&String>,
    next: Option<&String>,
) -> Result<(), Problem> {
    if next.is_none() || next == before || caller.writer()?.role == "lead" {
        return Ok(());
    }
    Err(Problem::new(
        Status::Forbidden,
        "not_the_lead",
        "Only the lead may go on where the surface says no. Ask the lead, or choose the lead at the top.",
    ))
}
