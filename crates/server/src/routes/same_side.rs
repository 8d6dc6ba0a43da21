//! A side that is like the one across the vehicle.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::vehicle::feature::SideFeature;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::same_side::{
    Difference, MissingFeature, differences, missing, missing_said, with_shape,
};
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, make_all, require_room};
use crate::keys::key;
use crate::mirror::{as_measured_there, mirror_of, no_mirror};
use crate::planned::SideInput;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;

/// How a side differs from the one across the vehicle.
#[derive(Debug, Serialize, ToSchema)]
pub struct SameSideView {
    /// What the other side is called.
    pub other: String,
    /// Whether figures of the other side are still those of a starting shape.
    pub unmeasured_there: usize,
    /// Shape and surface.
    pub differences: Vec<Difference>,
    /// What the other side has and this one has not.
    pub missing: Vec<MissingFeature>,
    /// What this one has and the other has not, in quick words.
    pub only_here: Vec<MissingFeature>,
}

/// What is taken over from the side across the vehicle.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct TakeOver {
    /// The shape with its references.
    #[serde(default)]
    pub shape: bool,
    /// The surface.
    #[serde(default)]
    pub surface: bool,
    /// Features, by their keys on the other side.
    #[serde(default)]
    pub features: Vec<Uuid>,
}

/// How the side differs from the one across the vehicle.
#[utoipa::path(get, path = "/api/sides/{id}/same", params(("id" = Uuid, Path)), responses((status = 200, body = SameSideView), (status = 422, body = Problem)))]
#[get("/sides/<id>/same")]
pub async fn same_side(desk: &Desk, id: &str) -> Answer<SameSideView> {
    let rows = desk.side(key(id)?).await?;
    let job = desk.job(rows.job.id).await?;
    let here = SideInput::of(&rows)?;
    let (other, _) = mirror_of(&job.sides, &here.side).ok_or_else(no_mirror)?;
    let there = SideInput::of(other)?;
    let words = desk.ways().await?.side_words;
    Ok(Json(SameSideView {
        other: there.side.name(words),
        unmeasured_there: there.side.unmeasured.len(),
        differences: differences(&here.side, &there.side, here.unit),
        missing: missing_said(&here.features, &there.features, &there.side, here.unit),
        only_here: missing_said(&there.features, &here.features, &here.side, here.unit),
    }))
}

/// Takes shape, surface and features over from the side across the vehicle; undone in one go.
#[utoipa::path(post, path = "/api/sides/{id}/same", params(("id" = Uuid, Path)), request_body = TakeOver, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/same", data = "<data>")]
pub async fn take_over(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let asked: TakeOver = read_as(read_json(data).await?)?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let job = desk.job(rows.job.id).await?;
    let here = SideInput::of(&rows)?;
    let (other, _) = mirror_of(&job.sides, &here.side).ok_or_else(no_mirror)?;
    let there = SideInput::of(other)?;
    let mut side = here.side.clone();
    if asked.shape {
        side = with_shape(&side, &there.side);
    }
    if asked.surface {
        side.surface = there.side.surface;
    }
    let mut features: Vec<SideFeature> = here.features.clone();
    let mut changes = Vec::new();
    if side != here.side {
        let spec = Kind::Side.write(&side)?;
        let seen = rows.side.revision;
        changes.push((RowKind::Side, rows.side.id, Change::Replace { seen, spec }));
    }
    for f in missing(&here.features, &there.features).filter(|f| asked.features.contains(&f.id)) {
        let feature = as_measured_there(&f.feature, &there.side, &side)?;
        let spec = Kind::Feature.write(&feature)?;
        let (id, parent) = (Uuid::now_v7(), rows.side.id);
        changes.push((RowKind::Feature, id, Change::Add { parent, spec }));
        features.push(SideFeature { id, feature });
    }
    if changes.is_empty() {
        return Err(Problem::input(
            "nothing_to_take",
            "There is nothing to take over: both sides are the same in what was chosen.",
        ));
    }
    require_room(features.len(), RowKind::Feature.most() + 1, "features")?;
    measure(&side, &features)?;
    make_all(desk, &caller, changes).await
}
