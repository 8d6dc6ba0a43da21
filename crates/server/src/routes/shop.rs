//! The shop itself: who works there, its typefaces and settings, and reading a typed length.

use rocket::data::Data;
use rocket::http::Status;
use rocket::request::{FromRequest, Outcome, Request};
use rocket::response::content::RawText;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use windrift_core::art::lettering::Lettering;
use windrift_core::art::lettering::draw::draw;
use windrift_core::art::typeface;
use windrift_core::art::typeface::TypefaceInfo;
use windrift_core::ground::outline::{Shape, bounds_of_shapes};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Length, Unit, parse, print};
use windrift_core::plan::kit::{FilmColour, film_colours};
use windrift_core::vehicle::feature::kind::{FeatureClass, FeatureKind};
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start;
use windrift_core::vehicle::start::features::FormKind;
use windrift_core::vehicle::start::shapes::StartShape;
use windrift_core::vehicle::surface::{Behind, Finish, Material};
use windrift_core::vehicle::walk_round::DamageKind;
use windrift_formats::svg::screen_path;

use crate::MetricsKey;
use crate::access::hash_of;
use crate::desk::Desk;
use crate::documents::Documents;
use crate::nests::shop_films;
use crate::problem::Problem;
use crate::request::{read_as, read_json};
use crate::routes::Answer;
use crate::views::{CrewView, PathData, SCREEN_MM};
use crate::watched::Figures;
use crate::ways::own_id;

/// A kind of vehicle to start a job with.
#[derive(Debug, Serialize, ToSchema)]
pub struct VehicleKindView {
    /// Stable name.
    pub kind: VehicleKind,
    /// What it is called.
    pub name: String,
    /// The sides that it starts with.
    pub sides: Vec<SideKind>,
    /// The first of them, to be seen in a list.
    pub picture: ShapePicture,
}

/// A side's outline, to be seen in a list.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShapePicture {
    /// Path in the picture frame.
    pub path: PathData,
    /// Its box: x, y, width, height, mm.
    pub bounds: [f64; 4],
}

impl ShapePicture {
    fn of(side: Option<&Side>) -> ShapePicture {
        let outlines: Vec<Shape> = side.iter().map(|s| s.outline()).collect();
        let bounds = bounds_of_shapes(&outlines);
        ShapePicture {
            path: screen_path(&outlines, SCREEN_MM),
            bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
        }
    }
}

/// A shape to start a side with.
#[derive(Debug, Serialize, ToSchema)]
pub struct StartShapeView {
    /// Stable name.
    pub shape: StartShape,
    /// What it is called.
    pub name: String,
    /// The kind of side that it usually is.
    pub kind: SideKind,
    /// How it looks.
    pub picture: ShapePicture,
}

/// A kind of side with what it is called here.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideKindView {
    /// Stable name.
    pub kind: SideKind,
    /// What it is called here.
    pub name: String,
}

/// A kind of feature, and how it is measured.
#[derive(Debug, Serialize, ToSchema)]
pub struct FeatureKindView {
    /// Stable name.
    pub kind: FeatureKind,
    /// One of it.
    pub name: String,
    /// Several.
    pub several: String,
    /// What it does to film.
    pub class: FeatureClass,
    /// How it is measured, the usual way first.
    pub forms: Vec<FormKind>,
}

/// A word to choose, with its stable name.
#[derive(Debug, Serialize, ToSchema)]
pub struct WordView {
    /// Stable name.
    pub value: String,
    /// What it is called.
    pub name: String,
}

fn word<T: Serialize>(value: T, name: &str) -> WordView {
    WordView {
        value: serde_json::to_value(value)
            .ok()
            .and_then(|v| v.as_str().map(str::to_owned))
            .unwrap_or_default(),
        name: name.into(),
    }
}

/// The shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopView {
    /// Name.
    pub name: String,
    /// Ways of working.
    pub settings: WorkSettings,
    /// Their revision: a change names it (If-Match).
    pub settings_revision: i32,
    /// Crew in the shop's order.
    pub crew: Vec<CrewView>,
    /// Typefaces that lettering can be cut in.
    pub typefaces: Vec<TypefaceInfo>,
    /// Kinds of vehicle.
    pub vehicle_kinds: Vec<VehicleKindView>,
    /// Shapes to start a side with.
    pub start_shapes: Vec<StartShapeView>,
    /// Kinds of sides.
    pub side_kinds: Vec<SideKindView>,
    /// Kinds of features.
    pub feature_kinds: Vec<FeatureKindView>,
    /// What a side is made of.
    pub materials: Vec<WordView>,
    /// How its paint is.
    pub finishes: Vec<WordView>,
    /// What may lie behind its skin.
    pub behind_skins: Vec<WordView>,
    /// Kinds of damage.
    pub damage_kinds: Vec<WordView>,
    /// Colours that film comes in here.
    pub film_colours: Vec<FilmColour>,
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
pub async fn shop(desk: &Desk) -> Answer<ShopView> {
    let name = desk.shop_or_empty().await?.name;
    let crew = desk
        .crew()
        .await?
        .into_iter()
        .map(|c| CrewView {
            id: c.id,
            name: c.name,
            role: c.role,
        })
        .collect();
    let settings = desk.ways().await?;
    let vehicle = |kind: VehicleKind| {
        let sides = kind.sides();
        VehicleKindView {
            kind,
            name: kind.name().into(),
            picture: ShapePicture::of(sides.first().map(|(side, _)| side)),
            sides: sides.iter().map(|(side, _)| side.kind).collect(),
        }
    };
    let shape = |shape: StartShape| {
        let (name, kind) = shape.names();
        StartShapeView {
            shape,
            name: name.into(),
            kind,
            picture: ShapePicture::of(Some(&shape.start(kind).0)),
        }
    };
    let feature = |kind: FeatureKind| FeatureKindView {
        kind,
        name: kind.names().0.into(),
        several: kind.names().1.into(),
        class: kind.class(),
        forms: start::features::forms_of(kind).to_vec(),
    };
    Ok(Json(ShopView {
        name,
        side_kinds: SideKind::ALL
            .map(|kind| SideKindView {
                kind,
                name: kind.name(settings.side_words).into(),
            })
            .into(),
        settings: settings.settings,
        settings_revision: settings.revision,
        crew,
        typefaces: typeface::shipped()
            .iter()
            .map(|f| f.info.clone())
            .chain(
                settings
                    .own
                    .iter()
                    .filter(|o| !o.retired)
                    .filter_map(|o| settings.faces.find(&own_id(o.id)))
                    .map(|f| f.info.clone()),
            )
            .collect(),
        vehicle_kinds: VehicleKind::ALL.map(vehicle).into(),
        start_shapes: StartShape::ALL.map(shape).into(),
        feature_kinds: FeatureKind::ALL.map(feature).into(),
        materials: Material::ALL.map(|m| word(m, m.name())).into(),
        finishes: Finish::ALL.map(|f| word(f, f.name())).into(),
        behind_skins: Behind::ALL.map(|b| word(b, b.name())).into(),
        damage_kinds: DamageKind::ALL.map(|d| word(d, d.name())).into(),
        film_colours: film_colours(&shop_films(desk).await?, None),
    }))
}

/// Words in one typeface.
#[derive(Debug, Serialize, ToSchema)]
pub struct SetWords {
    /// The typeface's id.
    pub typeface: String,
    /// The words as they would be cut, capitals 100 mm high.
    pub path: PathData,
    /// Their box: x, y, width, height, mm.
    pub bounds: [f64; 4],
}

/// Longest sample, characters.
const SAMPLE: usize = 24;

/// The same words in every typeface that lettering can be cut in, so that one is chosen by how it looks. A typeface that lacks one of the
/// characters is left out.
#[utoipa::path(get, path = "/api/typefaces", params(("words" = String, Query, description = "The first 24 characters are set")), responses((status = 200, body = [SetWords])))]
#[get("/typefaces?<words>")]
pub async fn set_words(desk: &Desk, words: &str) -> Answer<Vec<SetWords>> {
    let line = words.lines().next().unwrap_or_default();
    let words: String = line.trim().chars().take(SAMPLE).collect();
    let ways = desk.ways().await?;
    let own = ways.own.iter().filter(|o| !o.retired).map(|o| own_id(o.id));
    let ids: Vec<String> = typeface::shipped()
        .iter()
        .map(|f| f.info.id.clone().into_owned())
        .chain(own)
        .collect();
    let faces = ways.faces.clone();
    let set = desk
        .compute(move || {
            ids.into_iter()
                .filter_map(|id| {
                    let drawn = draw(&Lettering::line(&words, &id, 100.0), &faces).ok()?;
                    let film: Vec<Shape> = drawn.film().cloned().collect();
                    let bounds = bounds_of_shapes(&film);
                    Some(SetWords {
                        typeface: id,
                        path: screen_path(&film, SCREEN_MM),
                        bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
                    })
                })
                .collect()
        })
        .await?;
    Ok(Json(set))
}

/// One of our own shapes as a side of its usual kind.
#[utoipa::path(get, path = "/api/shapes/{shape}", params(("shape" = StartShape, Path)), responses((status = 200, body = Side), (status = 404, body = Problem)))]
#[get("/shapes/<shape>")]
pub fn start_shape(shape: &str) -> Answer<Side> {
    let shape: StartShape =
        serde_json::from_value(serde_json::Value::from(shape)).map_err(|_| {
            Problem::new(
                rocket::http::Status::NotFound,
                "not_found",
                "There is no such shape. Choose one from the list.",
            )
        })?;
    Ok(Json(shape.start(shape.names().1).0))
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
pub async fn health(desk: &Desk) -> Answer<&'static str> {
    desk.ping().await.map_err(|e| match e {
        e @ windrift_store::StoreError::Unreachable(_) => Problem::from(e),
        e => {
            tracing::warn!(%e, "health");
            Problem::from(e)
        }
    })?;
    Ok(Json("ready"))
}

/// Whether this server may be given work: its database answers and has the tables that it needs.
#[utoipa::path(get, path = "/api/ready", responses((status = 200), (status = 503, body = Problem)))]
#[get("/ready")]
pub async fn ready(desk: &Desk) -> Answer<&'static str> {
    desk.ping().await?;
    if !desk.is_up_to_date().await? {
        return Err(Problem::new(
            Status::ServiceUnavailable,
            "not_migrated",
            "The database is not up to date for this Windrift yet. Run its migrations, then it goes on by itself.",
        ));
    }
    Ok(Json("ready"))
}

/// Figures of this server as text, for whoever shows the key that it was started with.
#[utoipa::path(get, path = "/api/metrics", params(("Authorization" = String, Header)), responses((status = 200, content_type = "text/plain"), (status = 404, body = Problem)))]
#[get("/metrics")]
pub fn metrics(
    figures: &State<Figures>,
    key: &State<MetricsKey>,
    shown: Authorization<'_>,
) -> Result<RawText<String>, Problem> {
    let known = key.0.as_ref().map(|k| hash_of(&format!("Bearer {k}")));
    // Compared as hashes: how much of a guess was right takes no time of its own.
    if known.is_none() || known != shown.0.map(hash_of) {
        return Err(Problem::new(
            Status::NotFound,
            "not_found",
            "There is nothing under this address. Go back and look again.",
        ));
    }
    Ok(RawText(figures.told()))
}

/// What a request shows to be let in.
pub struct Authorization<'r>(Option<&'r str>);

#[rocket::async_trait]
impl<'r> FromRequest<'r> for Authorization<'r> {
    type Error = std::convert::Infallible;

    async fn from_request(request: &'r Request<'_>) -> Outcome<Self, Self::Error> {
        Outcome::Success(Authorization(request.headers().get_one("Authorization")))
    }
}

/// This document.
#[utoipa::path(get, path = "/api/openapi.json", responses((status = 200, description = "OpenAPI 3.1")))]
#[get("/openapi.json")]
pub fn api_document(made: &State<Documents>) -> Json<&serde_json::Value> {
    Json(&made.inner().api)
}
