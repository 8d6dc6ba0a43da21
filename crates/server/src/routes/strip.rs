//! Strip: what old film is on a job's sides, how it comes off, how long it takes, and how far the work is. Everything is an entry of the record.

use std::sync::Arc;

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::strip::old::OldGraphic;
use windrift_core::floor::strip::{StripEntry, check_patch};
use windrift_core::ground::measure_error::MeasureError;
use windrift_store::{EntryKind, JobRows, NewEntry, StoreError};

use crate::desk::Desk;
use crate::earlier::{EarlierView, earlier};
use crate::keys::key;
use crate::planned::{PlannedSide, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_typed};
use crate::routes::Answer;
use crate::strip_view::{MOST_ENTRIES, Stripped, old_film_view, tell_other_jobs};
use crate::views::OldFilmView;

/// An entry to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewStripEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded. Lengths may be typed as text.
    pub entry: StripEntry,
}

/// Old film of a job: what it is, how it comes off, how long that takes.
#[utoipa::path(get, path = "/api/jobs/{id}/strip", params(("id" = Uuid, Path)), responses((status = 200, body = OldFilmView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/strip")]
pub async fn strip(desk: &Desk, id: &str) -> Answer<OldFilmView> {
    let job = desk.job(key(id)?).await?;
    Ok(Json(old_film_view(desk, &job).await?))
}

/// What earlier jobs put on this vehicle, as the old film that comes off now: jobs whose words hold all that is looked for, the customer where nothing is.
#[utoipa::path(get, path = "/api/jobs/{id}/strip/earlier", params(("id" = Uuid, Path), ("find" = Option<String>, Query, description = "Words of the earlier job: customer, vehicle, year or lettering")), responses((status = 200, body = EarlierView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/strip/earlier?<find>")]
pub async fn earlier_film(desk: &Desk, id: &str, find: Option<&str>) -> Answer<EarlierView> {
    let job = desk.job(key(id)?).await?;
    Ok(Json(earlier(desk, &job, find).await?))
}

/// Records something about old film; answers how it stands then.
#[utoipa::path(post, path = "/api/jobs/{id}/strip", params(("id" = Uuid, Path)), request_body = NewStripEntry, responses((status = 200, body = OldFilmView), (status = 422, body = Problem)))]
#[post("/jobs/<id>/strip", data = "<data>")]
pub async fn add_strip_entry(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<OldFilmView> {
    let who = caller.writer()?.id;
    let body = read_json(data).await?;
    let (job, stripped) = tokio::try_join!(
        async { desk.job(key(id)?).await.map_err(Problem::from) },
        Stripped::of(desk, key(id)?),
    )?;
    let unit = unit_of(&job.job.unit)?;
    let mut new: NewStripEntry = read_typed(body, unit)?;
    // A repeat is answered before anything is checked: what it named may be gone since.
    if desk.entry_of_job(job.job.id, new.id).await?.is_some() {
        return Ok(Json(old_film_view(desk, &job).await?));
    }
    let standing = &stripped.standing;
    let refuse =
        |e: MeasureError| Problem::input("measure", e.sentence).at(format!("/entry/{}", e.field));
    new.entry.check().map_err(refuse)?;
    if stripped.entries() >= MOST_ENTRIES {
        return Err(Problem::input(
            "too_many",
            format!("There are {MOST_ENTRIES} entries about old film; that is the most."),
        ));
    }
    let old = |id: Uuid| {
        let found = standing.old.iter().find(|o| o.id == id);
        found.ok_or(Problem::from(StoreError::NotFound("old graphic")))
    };
    match &mut new.entry {
        StripEntry::Found(graphic) => {
            let same = |piece| standing.old.iter().any(|o| o.graphic.piece == Some(piece));
            if graphic.piece.is_some_and(same) {
                return Err(Problem::input(
                    "taken",
                    format!(
                        "\u{201c}{}\u{201d} is among the old film of this job already. It was taken from the earlier job before.",
                        graphic.name
                    ),
                ));
            }
            lies_on(desk, &job, graphic).await?;
        }
        StripEntry::Changed { old: id, graphic } => {
            old(*id)?;
            lies_on(desk, &job, graphic).await?;
        }
        StripEntry::Gone { old: id, .. }
        | StripEntry::PatchBegan { old: id, .. }
        | StripEntry::PatchDropped { old: id }
        | StripEntry::Done { old: id, .. }
        | StripEntry::NotDone { old: id, .. } => {
            old(*id)?;
        }
        StripEntry::Patch(patch) => {
            check_patch(patch, &old(patch.old)?.graphic, unit).map_err(refuse)?;
            photo_of(desk, job.job.id, patch.photo).await?;
        }
        StripEntry::PatchStruck { patch, .. } => {
            let mut all = standing.old.iter().flat_map(|o| &o.patches);
            if !all.any(|(p, _)| p == patch) {
                return Err(StoreError::NotFound("patch").into());
            }
        }
        StripEntry::Harm {
            side,
            back_mm,
            drop_mm,
            photo,
            ..
        } => {
            let planned = planned_side(desk, &job, *side).await?;
            on_it(&planned, back_mm.mm(), drop_mm.mm(), "/entry/back_mm")?;
            photo_of(desk, job.job.id, *photo).await?;
        }
        StripEntry::Hands { .. } => {}
    }
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Strip,
        crew: who,
        piece: None,
        body: serde_json::to_value(&new.entry).map_err(StoreError::from)?,
        read_at: caller.read_at(),
    };
    desk.append(job.job.id, entry).await?;
    tell_other_jobs(job.job.id);
    Ok(Json(old_film_view(desk, &job).await?))
}

async fn photo_of(desk: &Desk, job: Uuid, photo: Option<Uuid>) -> Result<(), Problem> {
    match photo {
        Some(photo) if !desk.has_photo(job, photo).await? => {
            Err(StoreError::NotFound("photo").into())
        }
        _ => Ok(()),
    }
}

async fn planned_side(desk: &Desk, job: &JobRows, side: Uuid) -> Result<Arc<PlannedSide>, Problem> {
    if !job.sides.iter().any(|s| s.side.id == side) {
        return Err(StoreError::NotFound("side").into());
    }
    desk.planned(job, side, &desk.ways().await?).await
}

fn on_it(planned: &PlannedSide, back: f64, down: f64, field: &str) -> Result<(), Problem> {
    let at = planned.input.side.datum().drop_point(back, down);
    let outline = planned.input.side.outline().bounds.inflate(20.0, 20.0);
    if outline.contains(at) {
        return Ok(());
    }
    Err(Problem::input(
        "measure",
        "This place is not on the side. Measure it from the zero of the tape and down from the reference.",
    )
    .at(field))
}

/// An old graphic lies on its side, all of it, and what that is made of is kept with it.
async fn lies_on(desk: &Desk, job: &JobRows, graphic: &mut OldGraphic) -> Result<(), Problem> {
    let planned = planned_side(desk, job, graphic.side).await?;
    let (back, down) = (graphic.back_mm.mm(), graphic.drop_mm.mm());
    let (w, h) = (graphic.width_mm.mm(), graphic.height_mm.mm());
    on_it(&planned, back, down, "/entry/back_mm")?;
    on_it(&planned, back + w, down, "/entry/width_mm")?;
    on_it(&planned, back, down + h, "/entry/height_mm")?;
    graphic.lies_on = Some(planned.input.side.surface.material);
    Ok(())
}
