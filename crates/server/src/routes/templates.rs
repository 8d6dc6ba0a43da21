//! The shop's own sides to start from: kept, listed, passed on as JSON documents, read in again.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{State, delete, get, post};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::vehicle::template::SideTemplate;
use windrift_store::StoreError;
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::documents::Documents;
use crate::file::File;
use crate::keys::key;
use crate::names::another_name;
use crate::planned::SideInput;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_json_up_to};
use crate::routes::Answer;

/// Largest template document, KiB.
const LARGEST_KIB: u64 = 2048;

/// A template in the shop's list.
#[derive(Debug, Serialize, ToSchema)]
pub struct TemplateView {
    /// Its key.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// How many features are on it.
    pub features: usize,
}

/// A template to be kept from a side.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewTemplate {
    /// Made by the client.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
}

/// A template document to be read in.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct TemplateDocument {
    /// Made by the client.
    pub id: Uuid,
    /// The document.
    pub template: SideTemplate,
}

/// What the shop's other templates are called.
async fn names_but(desk: &Desk, id: Uuid) -> Result<Vec<String>, Problem> {
    let others = desk.templates().await?.into_iter().filter(|t| t.id != id);
    Ok(others.map(|t| t.name).collect())
}

async fn keep(
    desk: &Desk,
    caller: &Caller,
    id: Uuid,
    template: &SideTemplate,
) -> Answer<TemplateView> {
    let who = caller.writer()?.id;
    template.check()?;
    let spec = serde_json::to_value(template).map_err(StoreError::from)?;
    desk.keep_template(id, &template.name, who, spec).await?;
    Ok(Json(TemplateView {
        id,
        name: template.name.clone(),
        features: template.features.len(),
    }))
}

/// The shop's templates by name.
#[utoipa::path(get, path = "/api/templates", responses((status = 200, body = Vec<TemplateView>)))]
#[get("/templates")]
pub async fn templates(desk: &Desk) -> Answer<Vec<TemplateView>> {
    let mut views = Vec::new();
    for row in desk.templates().await? {
        // One that cannot be read is listed with what it is called: nothing can be started from it, and it can be removed.
        let features = Kind::Template
            .read::<SideTemplate>(&row.spec)
            .map_or(0, |t| t.features.len());
        views.push(TemplateView {
            id: row.id,
            name: row.name,
            features,
        });
    }
    Ok(Json(views))
}

/// Keeps a side with its features as a template.
#[utoipa::path(post, path = "/api/sides/{id}/template", params(("id" = Uuid, Path)), request_body = NewTemplate, responses((status = 200, body = TemplateView), (status = 422, body = Problem)))]
#[post("/sides/<id>/template", data = "<data>")]
pub async fn keep_template(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<TemplateView> {
    caller.writer()?;
    let rows = desk.side(key(id)?).await?;
    let new: NewTemplate = read_as(read_json(data).await?)?;
    let input = SideInput::of(&rows)?;
    let features = input.features.into_iter().map(|f| f.feature);
    let name = new.name.trim();
    if names_but(desk, new.id).await?.iter().any(|n| n == name) {
        let sentence =
            format!("The shop has a template called {name} already. Give this one another name.");
        return Err(Problem::input("name", sentence).at("/name"));
    }
    let template = SideTemplate::new(name, &input.side, features);
    keep(desk, &caller, new.id, &template).await
}

/// Reads in a template document.
#[utoipa::path(post, path = "/api/templates", request_body = TemplateDocument, responses((status = 200, body = TemplateView), (status = 422, body = Problem)))]
#[post("/templates", data = "<data>")]
pub async fn read_template(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<TemplateView> {
    caller.writer()?;
    let document = read_json_up_to(data, LARGEST_KIB).await?;
    let id: Uuid = read_as(document.get("id").cloned().unwrap_or_default())?;
    let body = document.get("template").cloned().unwrap_or_default();
    let mut template: SideTemplate = serde_json::from_value(body).map_err(|e| {
        Problem::input(
            "template",
            format!("This is not a side template that Windrift can read: {e}. Choose a file that Windrift wrote."),
        )
    })?;
    // A document that comes in is told apart from what is there by a number.
    template.name = another_name(template.name.trim(), &names_but(desk, id).await?);
    keep(desk, &caller, id, &template).await
}

/// A template as a JSON document.
#[utoipa::path(get, path = "/api/templates/{id}/template.json", params(("id" = Uuid, Path)), responses((status = 200, body = SideTemplate), (status = 404, body = Problem)))]
#[get("/templates/<id>/template.json")]
pub async fn template_file(desk: &Desk, id: &str) -> Result<File, Problem> {
    let row = desk.template(key(id)?).await?;
    let bytes = serde_json::to_vec_pretty(&row.spec).map_err(StoreError::from)?;
    Ok(File::new(bytes, ContentType::JSON, &row.name, "json"))
}

/// Removes a template; sides that were started from it stay.
#[utoipa::path(delete, path = "/api/templates/{id}", params(("id" = Uuid, Path)), responses((status = 200), (status = 404, body = Problem)))]
#[delete("/templates/<id>")]
pub async fn remove_template(desk: &Desk, caller: Caller, id: &str) -> Answer<&'static str> {
    caller.writer()?;
    let template = desk.template(key(id)?).await?;
    desk.remove_template(template.id).await?;
    Ok(Json("removed"))
}

/// The JSON Schema of a template document.
#[utoipa::path(get, path = "/api/schemas/side-template.json", responses((status = 200, description = "JSON Schema 2020-12")))]
#[get("/schemas/side-template.json")]
pub fn template_schema(made: &State<Documents>) -> Json<&Value> {
    Json(&made.inner().template)
}
