//! Photos of a job, and a photo squared up under the picture of a side.

use rocket::data::Data;
use rocket::http::{ContentType, Header};
use rocket::response::Responder;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::vehicle::square_up::square_up;
use windrift_formats::photo::{self as files, LARGE_EDGE, LARGEST_PHOTO, LONGEST_EDGE};
use windrift_formats::print_art::{ArtKind, TakenArt};
use windrift_store::{NewPhoto, StoreError};

use crate::desk::Desk;
use crate::keys::key;
use crate::links::shared;
use crate::planned::SideInput;
use crate::problem::Problem;
use crate::request::{Caller, read_file};
use crate::routes::Answer;

/// Fewest and most pixels across of a squared-up photo: as many as the photo itself has, within these.
const UNDERLAY_PIXELS: (u32, u32) = (1600, LARGE_EDGE);

/// A photo that was taken in.
#[derive(Debug, Serialize, ToSchema)]
pub struct PhotoView {
    /// Its key.
    pub id: Uuid,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Whether it is drawn, sharp at any size: PDF or SVG to be printed.
    pub drawn: bool,
}

/// A JPEG that never changes under its address.
#[derive(Responder)]
pub struct Jpeg {
    bytes: Vec<u8>,
    kind: ContentType,
    keep: Header<'static>,
}

impl Jpeg {
    fn new(bytes: Vec<u8>) -> Jpeg {
        Jpeg {
            bytes,
            kind: ContentType::JPEG,
            keep: Header::new("Cache-Control", "private, max-age=31536000, immutable"),
        }
    }
}

/// Takes in a photo: decided by content, turned upright, made smaller, its place dropped.
#[utoipa::path(
    post,
    path = "/api/jobs/{id}/photos",
    params(("id" = Uuid, Path), ("photo" = Uuid, Query, description = "Key of the photo, made by the client"), ("large" = Option<bool>, Query, description = "Of a whole side: more pixels are kept"), ("print" = Option<bool>, Query, description = "To be printed: the file is kept as it is, beside the picture that is shown of it; PDF and SVG are taken too")),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = PhotoView), (status = 422, body = Problem))
)]
#[post("/jobs/<id>/photos?<photo>&<large>&<print>", data = "<data>")]
pub async fn keep_photo(
    desk: &Desk,
    caller: Caller,
    id: &str,
    photo: &str,
    large: Option<bool>,
    print: Option<bool>,
    data: Data<'_>,
) -> Answer<PhotoView> {
    let who = caller.writer()?.id;
    let job = desk.job(key(id)?).await?.job.id;
    let photo = key(photo)?;
    let bytes = read_file(
        data,
        LARGEST_PHOTO,
        &files::PhotoError::TooLarge.to_string(),
    )
    .await?;
    let edge = if large.unwrap_or(false) {
        LARGE_EDGE
    } else {
        LONGEST_EDGE
    };
    let taken = if print.unwrap_or(false) {
        desk.worker().art(&bytes, LARGE_EDGE).await?
    } else {
        let shown = desk.worker().photo(&bytes, edge).await?;
        TakenArt {
            size: (shown.width, shown.height),
            shown,
            kind: None,
        }
    };
    let (shown, (width, height)) = (taken.shown, taken.size);
    desk.keep_photo(NewPhoto {
        id: photo,
        job,
        crew: who,
        size: (shown.width, shown.height),
        jpeg: shown.jpeg,
        small: shown.small,
    })
    .await?;
    if let Some(kind) = taken.kind {
        desk.keep_print_art(photo, kind.word(), bytes).await?;
    }
    Ok(Json(PhotoView {
        id: photo,
        width,
        height,
        drawn: taken.kind.is_some_and(ArtKind::drawn),
    }))
}

/// A photo, whole or small.
#[utoipa::path(get, path = "/api/photos/{id}", params(("id" = Uuid, Path), ("small" = Option<bool>, Query, description = "The small copy")), responses((status = 200, content_type = "image/jpeg"), (status = 404, body = Problem)))]
#[get("/photos/<id>?<small>")]
pub async fn photo(desk: &Desk, id: &str, small: Option<bool>) -> Result<Jpeg, Problem> {
    let photo = desk.photo(key(id)?).await?;
    Ok(Jpeg::new(if small.unwrap_or(false) {
        photo.small
    } else {
        photo.jpeg
    }))
}

/// A photo of the job that a link opens, small.
#[utoipa::path(get, path = "/api/shared/{token}/photos/{id}", params(("token" = String, Path), ("id" = Uuid, Path)), responses((status = 200, content_type = "image/jpeg"), (status = 404, body = Problem)))]
#[get("/shared/<token>/photos/<id>")]
pub async fn shared_photo(desk: &Desk, token: &str, id: &str) -> Result<Jpeg, Problem> {
    let (job, id) = (shared(desk, token).await?.job_id, key(id)?);
    if !desk.has_photo(job, id).await? {
        return Err(StoreError::NotFound("photo").into());
    }
    Ok(Jpeg::new(desk.photo(id).await?.small))
}

/// The photo under a side's picture, squared up from its four known points.
#[utoipa::path(get, path = "/api/sides/{id}/underlay.jpg", params(("id" = Uuid, Path), ("revision" = Option<i32>, Query, description = "The side's revision, so that it is fetched anew after a change")), responses((status = 200, content_type = "image/jpeg"), (status = 404, body = Problem)))]
#[get("/sides/<id>/underlay.jpg?<revision>")]
pub async fn underlay(desk: &Desk, id: &str, revision: Option<i32>) -> Result<Jpeg, Problem> {
    let _ = revision;
    let rows = desk.side(key(id)?).await?;
    let side = SideInput::of(&rows)?.side;
    let underlay = side.photo.clone().ok_or(StoreError::NotFound("photo"))?;
    underlay.check(side.direction())?;
    let photo = desk.photo(underlay.photo).await?;
    let jpeg = desk
        .compute(move || {
            let raster = files::raster(&photo.jpeg)?;
            let to_photo = underlay
                .to_photo(&side, raster.width, raster.height)
                .ok_or(files::PhotoError::Damaged)?;
            let area = crate::views::underlay_area(&side.outline());
            let (fewest, most) = UNDERLAY_PIXELS;
            let across = raster.width.clamp(fewest, most);
            files::write(square_up(&raster, &to_photo, area, across))
        })
        .await??;
    Ok(Jpeg::new(jpeg))
}
