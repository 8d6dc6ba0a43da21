//! Supplies on the shelf beside film: tapes, liquids, blades, wipes.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{delete, get, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::supply::Supply;
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_typed, wound_lengths};
use crate::routes::Answer;
use crate::views::SuppliesView;
use crate::ways::shop_unit;

/// A supply to be put on the shelf, or what it becomes.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewSupply {
    /// Made by the client, so that a repeated request is kept once.
    pub id: Uuid,
    /// The supply. Lengths may be typed as text.
    pub supply: Supply,
}

async fn view(desk: &Desk) -> Result<SuppliesView, Problem> {
    let unit = shop_unit(&desk.ways().await?);
    Ok(SuppliesView::of(desk.supplies().await?, unit))
}

/// Reads what was sent.
///
/// Errors: what cannot be a supply, with its field.
async fn read(desk: &Desk, data: Data<'_>) -> Result<NewSupply, Problem> {
    let unit = shop_unit(&desk.ways().await?);
    let mut body = read_json(data).await?;
    wound_lengths(&mut body, unit, &["/supply/left_mm"])?;
    let new: NewSupply = read_typed(body, unit)?;
    new.supply.check().map_err(|told| told.within("/supply"))?;
    Ok(new)
}

/// Every supply on the shelf.
#[utoipa::path(get, path = "/api/supplies", responses((status = 200, body = SuppliesView)))]
#[get("/supplies")]
pub async fn supplies(desk: &Desk) -> Answer<SuppliesView> {
    Ok(Json(view(desk).await?))
}

/// Puts a supply on the shelf.
#[utoipa::path(post, path = "/api/supplies", request_body = NewSupply, responses((status = 200, body = SuppliesView), (status = 422, body = Problem)))]
#[post("/supplies", data = "<data>")]
pub async fn add_supply(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<SuppliesView> {
    let who = caller.writer()?.id;
    let new = read(desk, data).await?;
    desk.keep_supply(new.id, who, Kind::Supply.write(&new.supply)?)
        .await?;
    Ok(Json(view(desk).await?))
}

/// Changes a supply, or how much of it is left. If-Match is its revision.
#[utoipa::path(put, path = "/api/supplies/{id}", params(("id" = Uuid, Path)), request_body = NewSupply, responses((status = 200, body = SuppliesView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/supplies/<id>", data = "<data>")]
pub async fn change_supply(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<SuppliesView> {
    let who = caller.writer()?.id;
    let new = read(desk, data).await?;
    let spec = Kind::Supply.write(&new.supply)?;
    desk.change_supply(key(id)?, caller.seen()?, who, spec)
        .await?;
    Ok(Json(view(desk).await?))
}

/// Takes a supply off the shelf.
#[utoipa::path(delete, path = "/api/supplies/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = SuppliesView), (status = 404, body = Problem)))]
#[delete("/supplies/<id>")]
pub async fn remove_supply(desk: &Desk, caller: Caller, id: &str) -> Answer<SuppliesView> {
    caller.writer()?;
    desk.retire_supply(key(id)?).await?;
    Ok(Json(view(desk).await?))
}
