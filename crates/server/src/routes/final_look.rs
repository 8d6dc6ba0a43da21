//! The final look of a side.

use rocket::get;
use rocket::serde::json::Json;

use crate::desk::Desk;
use crate::keys::key;
use crate::looked::{FinalLookView, looked};
use crate::problem::Problem;
use crate::routes::Answer;

/// The final look of a side.
#[utoipa::path(get, path = "/api/sides/{id}/final-look", params(("id" = Uuid, Path)), responses((status = 200, body = FinalLookView), (status = 404, body = Problem)))]
#[get("/sides/<id>/final-look")]
pub async fn side_final_look(desk: &Desk, id: &str) -> Answer<FinalLookView> {
    Ok(Json(looked(desk, key(id)?).await?))
}
