//! The shelf: films with their data sheets, rolls and offcuts, how much is on each.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{State, delete, get, post, put};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::roll::{Roll, Wound, build_of, on_it};
use windrift_core::film::stocked::StockedFilm;
use windrift_core::ground::mm::Mm;
use windrift_formats::shelf_csv;
use windrift_store::shelf::{
    NewFilm as NewFilmRow, NewRoll as NewRollRow, NewRollEntry, RollChange,
};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::documents::Documents;
use crate::file::File;
use crate::keys::key;
use crate::nests::film_of;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_file, read_json, read_typed, wound_lengths};
use crate::routes::Answer;
use crate::views::{OnItView, ShelfView};
use crate::ways::shop_unit;

/// Largest file of films and rolls, bytes.
const LARGEST_CSV: usize = 512 * 1024;

/// A film to be put on the shelf, or what it becomes.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewFilm {
    /// Made by the client, so that a repeated request is kept once.
    pub id: Uuid,
    /// The film.
    pub film: StockedFilm,
}

/// A roll to be put on the shelf.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewRoll {
    /// Made by the client, so that a repeated request is kept once.
    pub id: Uuid,
    /// Its film.
    pub film: Uuid,
    /// The roll. Lengths may be typed as text.
    pub roll: Roll,
}

/// How much is on a roll, measured.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MeasuredRoll {
    /// Made by the client, so that a repeated request is entered once.
    pub id: Uuid,
    /// The roll's revision as it was seen.
    pub seen: i32,
    /// What is left, where it was measured along the film. May be typed as text.
    #[serde(default)]
    pub left_mm: Option<Mm>,
    /// Its diameters, where it was measured by those.
    #[serde(default)]
    pub wound: Option<Wound>,
}

async fn view(desk: &Desk) -> Result<ShelfView, Problem> {
    let unit = shop_unit(&desk.ways().await?);
    Ok(ShelfView::of(
        desk.films().await?,
        desk.rolls().await?,
        unit,
    ))
}

/// Everything on the shelf.
#[utoipa::path(get, path = "/api/shelf", responses((status = 200, body = ShelfView)))]
#[get("/shelf")]
pub async fn shelf(desk: &Desk) -> Answer<ShelfView> {
    Ok(Json(view(desk).await?))
}

/// Puts a film on the shelf.
#[utoipa::path(post, path = "/api/films", request_body = NewFilm, responses((status = 200, body = ShelfView), (status = 422, body = Problem)))]
#[post("/films", data = "<data>")]
pub async fn add_film(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<ShelfView> {
    let who = caller.writer()?.id;
    let new: NewFilm = read_as(read_json(data).await?)?;
    new.film.check().map_err(|told| told.within("/film"))?;
    desk.keep_film(new.id, who, Kind::Film.write(&new.film)?)
        .await?;
    Ok(Json(view(desk).await?))
}

/// Changes a film. If-Match is its revision. What was planned with it keeps what it was planned with.
#[utoipa::path(put, path = "/api/films/{id}", params(("id" = Uuid, Path)), request_body = NewFilm, responses((status = 200, body = ShelfView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/films/<id>", data = "<data>")]
pub async fn change_film(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<ShelfView> {
    let who = caller.writer()?.id;
    let new: NewFilm = read_as(read_json(data).await?)?;
    new.film.check().map_err(|told| told.within("/film"))?;
    let spec = Kind::Film.write(&new.film)?;
    desk.change_film(key(id)?, caller.seen()?, who, spec)
        .await?;
    Ok(Json(view(desk).await?))
}

/// Takes a film off the shelf with its rolls.
#[utoipa::path(delete, path = "/api/films/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = ShelfView), (status = 404, body = Problem)))]
#[delete("/films/<id>")]
pub async fn remove_film(desk: &Desk, caller: Caller, id: &str) -> Answer<ShelfView> {
    caller.writer()?;
    desk.retire_film(key(id)?).await?;
    Ok(Json(view(desk).await?))
}

/// A film's data sheet, as an open file.
#[utoipa::path(get, path = "/api/films/{id}/sheet.json", params(("id" = Uuid, Path)), responses((status = 200, content_type = "application/json"), (status = 404, body = Problem)))]
#[get("/films/<id>/sheet.json")]
pub async fn film_sheet(desk: &Desk, id: &str) -> Result<File, Problem> {
    let id = key(id)?;
    let films = desk.films().await?;
    let film = films.iter().find(|f| f.id == id).and_then(film_of);
    let film = film.ok_or(windrift_store::StoreError::NotFound("film"))?;
    let text = serde_json::to_vec_pretty(&film).map_err(windrift_store::StoreError::from)?;
    Ok(File::new(text, ContentType::JSON, &film.name, "json"))
}

/// The JSON Schema of such a file.
#[utoipa::path(get, path = "/api/schemas/film.json", responses((status = 200, description = "JSON Schema 2020-12")))]
#[get("/schemas/film.json")]
pub fn film_schema(made: &State<Documents>) -> Json<&serde_json::Value> {
    Json(&made.inner().film)
}

/// Puts a roll or an offcut on the shelf.
#[utoipa::path(post, path = "/api/rolls", request_body = NewRoll, responses((status = 200, body = ShelfView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/rolls", data = "<data>")]
pub async fn add_roll(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<ShelfView> {
    let who = caller.writer()?.id;
    let unit = shop_unit(&desk.ways().await?);
    let mut body = read_json(data).await?;
    wound_lengths(&mut body, unit, &["/roll/length_mm"])?;
    let new: NewRoll = read_typed(body, unit)?;
    new.roll.check().map_err(|told| told.within("/roll"))?;
    let spec = Kind::Roll.write(&new.roll)?;
    desk.keep_roll(new.id, new.film, who, spec, new.roll.length_mm.mm())
        .await?;
    Ok(Json(view(desk).await?))
}

/// Takes a roll off the shelf.
#[utoipa::path(delete, path = "/api/rolls/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = ShelfView), (status = 404, body = Problem)))]
#[delete("/rolls/<id>")]
pub async fn remove_roll(desk: &Desk, caller: Caller, id: &str) -> Answer<ShelfView> {
    caller.writer()?;
    desk.retire_roll(key(id)?).await?;
    Ok(Json(view(desk).await?))
}

/// How much is on a roll by its diameters, without keeping it.
#[utoipa::path(post, path = "/api/rolls/wound", request_body = Wound, responses((status = 200, body = OnItView), (status = 422, body = Problem)))]
#[post("/rolls/wound", data = "<data>")]
pub async fn wound(desk: &Desk, data: Data<'_>) -> Answer<OnItView> {
    let unit = shop_unit(&desk.ways().await?);
    let wound: Wound = read_typed(read_json(data).await?, unit)?;
    Ok(Json(OnItView::of(on_it(&wound)?, unit)))
}

/// A full roll of known length, from which the thickness of one turn follows.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct FullRoll {
    /// Diameter over the film. May be typed as text.
    pub outside_mm: Mm,
    /// Outside diameter of the core. May be typed as text.
    pub core_mm: Mm,
    /// Its length, as it stands on the box. May be typed as text, yards too.
    pub length_mm: Mm,
}

/// How thick one turn is.
#[derive(Debug, Serialize, ToSchema)]
pub struct OneTurn {
    /// Film, adhesive, laminate and liner, mm.
    pub build_mm: f64,
}

/// How thick one turn is, from a full roll of known length.
#[utoipa::path(post, path = "/api/rolls/full", request_body = FullRoll, responses((status = 200, body = OneTurn), (status = 422, body = Problem)))]
#[post("/rolls/full", data = "<data>")]
pub async fn full_roll(desk: &Desk, data: Data<'_>) -> Answer<OneTurn> {
    let unit = shop_unit(&desk.ways().await?);
    let mut body = read_json(data).await?;
    wound_lengths(&mut body, unit, &["/length_mm"])?;
    let full: FullRoll = read_typed(body, unit)?;
    let build_mm = build_of(full.outside_mm.mm(), full.core_mm.mm(), full.length_mm.mm())?;
    Ok(Json(OneTurn { build_mm }))
}

/// Enters how much is on a roll.
#[utoipa::path(post, path = "/api/rolls/{id}/measured", params(("id" = Uuid, Path)), request_body = MeasuredRoll, responses((status = 200, body = ShelfView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/rolls/<id>/measured", data = "<data>")]
pub async fn measured_roll(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<ShelfView> {
    let crew = caller.writer()?.id;
    let unit = shop_unit(&desk.ways().await?);
    let mut body = read_json(data).await?;
    wound_lengths(&mut body, unit, &["/left_mm"])?;
    let new: MeasuredRoll = read_typed(body, unit)?;
    let left_mm = match (new.left_mm, &new.wound) {
        (Some(left), None) => left.mm(),
        (None, Some(wound)) => OnItView::of(on_it(wound)?, unit).length.mm,
        _ => {
            return Err(Problem::input(
                "roll",
                "Say how much is left, or how wide the roll is across: one of the two.",
            ));
        }
    };
    if !(0.0..=200_000.0).contains(&left_mm) {
        return Err(Problem::input(
            "roll",
            "Between nothing and 200 m is left on a roll. Measure it again.",
        )
        .at("/left_mm"));
    }
    let entry = NewRollEntry {
        id: new.id,
        roll: key(id)?,
        seen: new.seen,
        change: RollChange::Measured(left_mm),
        job: None,
        crew,
        spec: json!({ "wound": new.wound, "left_mm": left_mm }),
    };
    desk.enter_rolls(vec![entry]).await?;
    Ok(Json(view(desk).await?))
}

/// Films and rolls as a table that any spreadsheet opens.
#[utoipa::path(get, path = "/api/shelf.csv", responses((status = 200, content_type = "text/csv")))]
#[get("/shelf.csv")]
pub async fn shelf_as_csv(desk: &Desk) -> Result<File, Problem> {
    let view = view(desk).await?;
    let rows = view.films.iter().flat_map(|f| {
        f.rolls.iter().map(|r| shelf_csv::Row {
            film: f.film.name.clone(),
            class: f.film.class,
            colour: f.film.colour.clone(),
            lot: r.roll.lot.clone(),
            width_mm: r.width.mm,
            left_mm: r.left.mm,
            place: r.roll.place.clone(),
            offcut: r.roll.offcut,
        })
    });
    let text = shelf_csv::write(rows).map_err(|e| Problem::input("csv", e.to_string()))?;
    Ok(File::new(text, ContentType::CSV, "shelf", "csv"))
}

/// Puts every roll of a table on the shelf, with its film where there is none of that name: all or, with what is wrong and where, none. The same table
/// again puts nothing more there.
#[utoipa::path(post, path = "/api/shelf.csv", request_body(content = String, content_type = "text/csv"), responses((status = 200, body = ShelfView), (status = 422, body = Problem)))]
#[post("/shelf.csv", data = "<data>")]
pub async fn shelf_from_csv(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<ShelfView> {
    let who = caller.writer()?.id;
    let file = read_file(
        data,
        LARGEST_CSV,
        "A table of rolls is smaller than 512 KiB. Split it.",
    )
    .await?;
    let rows = shelf_csv::read(&file).map_err(|e| Problem::input("csv", e.to_string()))?;
    let mut known: Vec<(String, Uuid)> = (desk.films().await?.iter())
        .filter_map(|row| Some((film_of(row)?.name, row.id)))
        .collect();
    let (mut films, mut rolls) = (Vec::new(), Vec::new());
    for (line, row) in (2_u32..).zip(rows) {
        let at = |told: windrift_core::ground::told::Told| {
            Problem::input("csv", format!("Line {line}: {}", told.sentence))
        };
        // Keys follow from the file: sent again, it puts nothing more on the shelf.
        let id_of = |what: &str| {
            let hash = Sha256::new()
                .chain_update(&file)
                .chain_update(what)
                .chain_update(line.to_be_bytes());
            let mut bytes = [0; 16];
            bytes.copy_from_slice(&hash.finalize()[..16]);
            uuid::Builder::from_random_bytes(bytes).into_uuid()
        };
        let (film, roll) = row.split();
        film.check().map_err(at)?;
        roll.check().map_err(at)?;
        let of = known.iter().find(|(name, _)| *name == film.name);
        let of = match of {
            Some((_, id)) => *id,
            None => {
                let id = id_of("film");
                known.push((film.name.clone(), id));
                films.push(NewFilmRow {
                    id,
                    spec: Kind::Film.write(&film)?,
                });
                id
            }
        };
        rolls.push(NewRollRow {
            id: id_of("roll"),
            film: of,
            left_mm: roll.length_mm.mm(),
            spec: Kind::Roll.write(&roll)?,
        });
    }
    desk.keep_on_shelf(who, films, rolls).await?;
    Ok(Json(view(desk).await?))
}
