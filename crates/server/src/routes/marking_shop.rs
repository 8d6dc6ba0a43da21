//! What a shop keeps for marking: its corrections of figures, its reflective tape.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{delete, get, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::photometric::{CLASS_C, PHOTOMETRIC, Photometric};
use windrift_core::marking::rules::{Figure, Measure};
use windrift_core::marking::{Confidence, FROM_MEMORY, RuleSet, Rules, Stock, TapeColour};
use windrift_store::StoreError;
use windrift_store::stored::Kind;

use crate::corrections::corrections;
use crate::desk::Desk;
use crate::editing::require_room;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_typed};
use crate::routes::Answer;

/// A figure, and what the shop uses in its place.
#[derive(Debug, Serialize, ToSchema)]
pub struct FigureView {
    /// As recalled.
    pub figure: Figure,
    /// What the shop uses, where it has corrected it.
    pub used: Option<f64>,
}

/// A set of rules with its figures.
#[derive(Debug, Serialize, ToSchema)]
pub struct RuleSetView {
    /// The set.
    pub set: RuleSet,
    /// What it is called.
    pub name: &'static str,
    /// Its figures.
    pub figures: Vec<FigureView>,
    /// What is shown wherever it is used.
    pub from_memory: &'static str,
}

/// A minimum of class C under UN R104, at 0.33°.
#[derive(Debug, Serialize, ToSchema)]
pub struct ClassC {
    /// The colour.
    pub colour: TapeColour,
    /// Entrance angle, degrees.
    pub entrance: i32,
    /// Least, cd/lx/m².
    pub least: f64,
    /// How sure it is.
    pub confidence: Confidence,
}

/// Every set of rules, and the tables of photometric minima.
#[derive(Debug, Serialize, ToSchema)]
pub struct RulesView {
    /// The sets.
    pub sets: Vec<RuleSetView>,
    /// Minima of the United States grades.
    pub photometric: Vec<Photometric>,
    /// Minima of class C.
    pub class_c: Vec<ClassC>,
}

/// A figure to be corrected.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct Correction {
    /// What the writer saw in its place; nothing where it stood as recalled.
    #[serde(default)]
    pub seen: Option<f64>,
    /// What the shop uses from now on; nothing goes back to what is recalled.
    #[serde(default)]
    pub value: Option<f64>,
}

/// Tape on the shelf.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeView {
    /// Its key.
    pub id: Uuid,
    /// What the shop calls it.
    pub name: String,
    /// The tape.
    pub stock: Stock,
}

/// Tape to be put on the shelf.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewTape {
    /// Made by the client, so that a repeated request is kept once.
    pub id: Uuid,
    /// What the shop calls it.
    pub name: String,
    /// The tape. Lengths may be typed as text.
    pub stock: Stock,
}

async fn rules_view(desk: &Desk) -> Result<RulesView, Problem> {
    let corrections = corrections(desk).await?;
    let set_view = |set: RuleSet| {
        let rules = Rules::of(set, &corrections);
        RuleSetView {
            set,
            name: set.name(),
            figures: set
                .figures()
                .iter()
                .map(|figure| FigureView {
                    figure: *figure,
                    used: rules
                        .is_corrected(figure.key)
                        .then(|| rules.get(figure.key))
                        .flatten(),
                })
                .collect(),
            from_memory: FROM_MEMORY,
        }
    };
    Ok(RulesView {
        sets: RuleSet::ALL.into_iter().map(set_view).collect(),
        photometric: PHOTOMETRIC.to_vec(),
        class_c: CLASS_C
            .iter()
            .map(|(colour, entrance, least, confidence)| ClassC {
                colour: *colour,
                entrance: *entrance,
                least: *least,
                confidence: *confidence,
            })
            .collect(),
    })
}

/// Every set of rules with its figures, as recalled and as the shop uses them.
#[utoipa::path(get, path = "/api/rules", responses((status = 200, body = RulesView)))]
#[get("/rules")]
pub async fn rule_sets(desk: &Desk) -> Answer<RulesView> {
    Ok(Json(rules_view(desk).await?))
}

/// Corrects a figure, or takes the correction back. The lead alone may.
#[utoipa::path(put, path = "/api/rules/{set}/{figure}", params(("set" = RuleSet, Path), ("figure" = String, Path)), request_body = Correction, responses((status = 200, body = RulesView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/rules/<set>/<figure>", data = "<data>")]
pub async fn correct_figure(
    desk: &Desk,
    caller: Caller,
    set: &str,
    figure: &str,
    data: Data<'_>,
) -> Answer<RulesView> {
    let who = caller.lead()?.id;
    let rules: RuleSet = read_as(serde_json::Value::from(set))?;
    let known = Rules::plain(rules)
        .figure(figure)
        .ok_or(StoreError::NotFound("figure"))?;
    let new: Correction = read_as(read_json(data).await?)?;
    if let Some(value) = new.value {
        let (least, most) = match known.measure {
            Measure::Mm => (0.1, 100_000.0),
            Measure::Kg => (1.0, 100_000.0),
            Measure::Share => (0.01, 1.0),
        };
        if !(value.is_finite() && (least..=most).contains(&value)) {
            return Err(Problem::input(
                "correction",
                match known.measure {
                    Measure::Share => "A share lies between 0.01 and 1: 70 % is 0.7.",
                    _ => "The figure must be more than 0, in millimetres or kilograms as it stands beside it.",
                },
            )
            .at("/value"));
        }
    }
    desk.correct_figure(set, figure, new.seen, new.value, who)
        .await?;
    Ok(Json(rules_view(desk).await?))
}

async fn shelf(desk: &Desk) -> Result<Vec<TapeView>, Problem> {
    // A tape that cannot be read does not take the others off the shelf.
    Ok(desk
        .tapes()
        .await?
        .into_iter()
        .filter_map(|t| match Kind::Tape.read(&t.spec) {
            Ok(stock) => Some(TapeView {
                id: t.id,
                name: t.name,
                stock,
            }),
            Err(error) => {
                tracing::error!(%error, name = t.name, "a tape");
                None
            }
        })
        .collect())
}

/// Reflective tape on the shelf.
#[utoipa::path(get, path = "/api/tapes", responses((status = 200, body = Vec<TapeView>)))]
#[get("/tapes")]
pub async fn tapes(desk: &Desk) -> Answer<Vec<TapeView>> {
    Ok(Json(shelf(desk).await?))
}

/// Puts a tape on the shelf.
#[utoipa::path(post, path = "/api/tapes", request_body = NewTape, responses((status = 200, body = Vec<TapeView>), (status = 422, body = Problem)))]
#[post("/tapes", data = "<data>")]
pub async fn add_tape(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<Vec<TapeView>> {
    let who = caller.writer()?.id;
    let body = read_json(data).await?;
    let new: NewTape = read_typed(body, Unit::InchSixteenth)?;
    new.stock.check().map_err(|told| told.at("/stock"))?;
    let name: String = new.name.trim().chars().take(80).collect();
    let name = if name.is_empty() {
        new.stock.name()
    } else {
        name
    };
    require_room(
        desk.tapes().await?.len(),
        windrift_store::marking::MOST_TAPES as usize,
        "tapes on the shelf",
    )?;
    let spec = Kind::Tape.write(&new.stock)?;
    desk.keep_tape(new.id, &name, who, spec).await?;
    Ok(Json(shelf(desk).await?))
}

/// Takes a tape off the shelf. What is laid out with it stays.
#[utoipa::path(delete, path = "/api/tapes/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<TapeView>), (status = 404, body = Problem)))]
#[delete("/tapes/<id>")]
pub async fn remove_tape(desk: &Desk, caller: Caller, id: &str) -> Answer<Vec<TapeView>> {
    caller.writer()?;
    desk.retire_tape(key(id)?).await?;
    Ok(Json(shelf(desk).await?))
}
