//! The shop itself: who works there, its typefaces and settings, and reading a typed length.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::settings::WorkSettings;
use windrift_core::tape::{Length, Unit, parse, print};
use windrift_core::typeface::{self, TypefaceInfo};
use windrift_core::vehicle::VehicleKind;
use windrift_store::Store;

use super::Answer;
use crate::openapi;
use crate::problem::Problem;
use crate::request::{read_as, read_json};

/// A member of the crew.
#[derive(Debug, Serialize, ToSchema)]
pub struct CrewView {
    /// Key.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// `lead`, `fitter` or `viewer`.
    pub role: String,
}

/// A kind of vehicle to start a job with.
#[derive(Debug, Serialize, ToSchema)]
pub struct VehicleKindView {
    /// Stable name.
    pub kind: VehicleKind,
    /// What it is called.
    pub name: String,
    /// Usual length, printed.
    pub usual_length: String,
}

/// The shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopView {
    /// Name.
    pub name: String,
    /// Ways of working.
    pub settings: WorkSettings,
    /// Crew in the shop's order.
    pub crew: Vec<CrewView>,
    /// Typefaces that lettering can be cut in.
    pub typefaces: Vec<TypefaceInfo>,
    /// Kinds of vehicle.
    pub vehicle_kinds: Vec<VehicleKindView>,
}

/// A length that was typed.
#[derive(Debug, Deserialize, ToSchema)]
pub struct TypedLength {
    /// As it was typed.
    pub text: String,
    /// The job's unit.
    pub unit: Unit,
}

/// The shop, its crew, its typefaces.
#[utoipa::path(get, path = "/api/shop", responses((status = 200, body = ShopView)))]
#[get("/shop")]
pub async fn shop(store: &State<Store>) -> Answer<ShopView> {
    let shop = store.shop().await?;
    let crew = store
        .crew()
        .await?
        .into_iter()
        .map(|c| CrewView {
            id: c.id,
            name: c.name,
            role: c.role,
        })
        .collect();
    let kind = |kind: VehicleKind| VehicleKindView {
        kind,
        name: kind.name().into(),
        usual_length: print(
            kind.usual_side(windrift_core::side::VehicleSide::Left)
                .length_mm,
            Unit::InchSixteenth,
        )
        .text,
    };
    Ok(Json(ShopView {
        name: shop.name,
        settings: serde_json::from_value(shop.settings).unwrap_or_default(),
        crew,
        typefaces: typeface::all().iter().map(|f| f.info).collect(),
        vehicle_kinds: VehicleKind::ALL.map(kind).into(),
    }))
}

/// Reads a typed length and prints it back, or says what is wrong with it.
#[utoipa::path(post, path = "/api/lengths", request_body = TypedLength, responses((status = 200, body = Length), (status = 422, body = Problem)))]
#[post("/lengths", data = "<data>")]
pub async fn read_length(data: Data<'_>) -> Answer<Length> {
    let typed: TypedLength = read_as(read_json(data).await?)?;
    let mm = parse(&typed.text, typed.unit).map_err(|e| Problem::from(e).at("/text"))?;
    Ok(Json(print(mm, typed.unit)))
}

/// Whether Windrift and its database answer.
#[utoipa::path(get, path = "/api/health", responses((status = 200), (status = 503, body = Problem)))]
#[get("/health")]
pub async fn health(store: &State<Store>) -> Answer<&'static str> {
    store.ping().await.map_err(|e| match e {
        e @ windrift_store::StoreError::Unreachable(_) => Problem::from(e),
        e => {
            tracing::warn!(%e, "health");
            Problem::from(e)
        }
    })?;
    Ok(Json("ready"))
}

/// This document.
#[utoipa::path(get, path = "/api/openapi.json", responses((status = 200, description = "OpenAPI 3.1")))]
#[get("/openapi.json")]
pub fn api_document() -> Json<serde_json::Value> {
    Json(openapi::document())
}
