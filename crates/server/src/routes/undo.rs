//! Undo and redo of a person's own edits.

use rocket::post;
use serde_json::Value;
use windrift_store::edits::EditedRow;
use windrift_store::undo::{InTheWay, Step};

use crate::desk::Desk;
use crate::editing::Editing;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_as};

/// Takes back the caller's newest edit on a job. The same Edit-Id again takes back nothing more.
#[utoipa::path(post, path = "/api/jobs/{id}/undo", params(("id" = uuid::Uuid, Path), ("in_the_way" = Option<InTheWay>, Query, description = "What is to happen where somebody else's change stands in the way")), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[post("/jobs/<id>/undo?<in_the_way>")]
pub async fn undo(desk: &Desk, caller: Caller, id: &str, in_the_way: Option<&str>) -> Editing {
    step(desk, &caller, id, in_the_way, true).await
}

/// Makes the caller's newest undone edit again. The same Edit-Id again makes nothing more.
#[utoipa::path(post, path = "/api/jobs/{id}/redo", params(("id" = uuid::Uuid, Path), ("in_the_way" = Option<InTheWay>, Query, description = "What is to happen where somebody else's change stands in the way")), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[post("/jobs/<id>/redo?<in_the_way>")]
pub async fn redo(desk: &Desk, caller: Caller, id: &str, in_the_way: Option<&str>) -> Editing {
    step(desk, &caller, id, in_the_way, false).await
}

async fn step(
    desk: &Desk,
    caller: &Caller,
    id: &str,
    in_the_way: Option<&str>,
    back: bool,
) -> Editing {
    let step = Step {
        id: caller.edit_id()?,
        job: key(id)?,
        crew: caller.writer()?.id,
        back,
        in_the_way: match in_the_way {
            None => InTheWay::Ask,
            Some(word) => read_as(Value::from(word))?,
        },
    };
    Ok(desk.step(step).await?.into())
}
