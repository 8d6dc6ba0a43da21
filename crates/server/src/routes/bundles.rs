//! A job as one file, out and in.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::bundle::{Verified, take_in, verify, write};
use crate::desk::Desk;
use crate::file::File;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_file};
use crate::routes::Answer;

/// Largest bundle that is taken in, bytes.
const LARGEST_BUNDLE: usize = 200 * 1024 * 1024;
const TOO_LARGE: &str = "A job bundle has 200 MB at most.";

/// A job that was taken in.
#[derive(Debug, Serialize, ToSchema)]
pub struct TakenIn {
    /// Its key.
    pub job: Uuid,
    /// What it is called.
    pub title: String,
}

/// A job as one file: rows, record, sides as SVG, photos.
#[utoipa::path(get, path = "/api/jobs/{id}/bundle.zip", params(("id" = Uuid, Path)), responses((status = 200, content_type = "application/zip"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/bundle.zip")]
pub async fn job_bundle(desk: &Desk, id: &str) -> Result<File, Problem> {
    let job = key(id)?;
    let title = desk.job(job).await?.job.title;
    Ok(File::new(
        write(desk, job).await?,
        ContentType::ZIP,
        &title,
        "zip",
    ))
}

/// Takes a bundle in, whole or not at all.
#[utoipa::path(post, path = "/api/bundles", request_body(content = String, content_type = "application/octet-stream"), responses((status = 200, body = TakenIn), (status = 422, body = Problem)))]
#[post("/bundles", data = "<data>")]
pub async fn take_bundle(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<TakenIn> {
    caller.writer()?;
    let bytes = read_file(data, LARGEST_BUNDLE, TOO_LARGE).await?;
    let (job, title) = take_in(desk, bytes).await?;
    Ok(Json(TakenIn { job, title }))
}

/// Says whether a bundle is whole, and takes nothing in.
#[utoipa::path(post, path = "/api/bundles/verified", request_body(content = String, content_type = "application/octet-stream"), responses((status = 200, body = Verified), (status = 422, body = Problem)))]
#[post("/bundles/verified", data = "<data>")]
pub async fn verify_bundle(desk: &Desk, data: Data<'_>) -> Answer<Verified> {
    let bytes = read_file(data, LARGEST_BUNDLE, TOO_LARGE).await?;
    let found = desk.compute(move || verify(&bytes)).await?;
    Ok(Json(found.map_err(|e| Problem::input("bundle", e))?))
}
