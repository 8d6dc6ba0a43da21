//! A kit from a drawing file: which pieces are in it, and which film each is cut from.

use rocket::data::Data;
use rocket::post;
use rocket::serde::json::Json;
use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::film::stocked::StockedFilm;
use windrift_core::ground::colour::is_colour;
use windrift_core::ground::tape::print;
use windrift_core::plan::first::{in_film_for, place_of, usual_place};
use windrift_core::plan::kit::{KitColour, film_colours, kit_colours, kit_film, kit_pieces};
use windrift_core::plan::piece::Piece;
use windrift_formats::drawing::LARGEST_FILE;
use windrift_formats::svg::screen_path;
use windrift_store::edits::RowKind;

use crate::desk::Desk;
use crate::editing::require_room;
use crate::keys::key;
use crate::nests::shop_films;
use crate::planned::PlannedSide;
use crate::problem::Problem;
use crate::request::{read_file, unit_of_file, word};
use crate::routes::Answer;
use crate::views::{PathData, SCREEN_MM};
use crate::worker::FilmRead;

/// One piece of a kit that was read from a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct KitPieceView {
    /// The piece, to be added like any other.
    pub piece: Piece,
    /// Its film in the file's frame, mm.
    pub film: PathData,
    /// Its box: x, y, width, height.
    pub bounds: [f64; 4],
    /// Its width and height as printed.
    pub size: [String; 2],
    /// What was cleaned in it, one sentence each.
    pub cleaned: Vec<String>,
    /// What it is filled with in the file, `#rrggbb`.
    pub drawn: Option<String>,
}

/// A kit that was read from a file. Nothing is written yet.
#[derive(Debug, Serialize, ToSchema)]
pub struct KitView {
    /// Its pieces, the biggest first: the order in which they go on.
    pub pieces: Vec<KitPieceView>,
    /// Its colours, that of the biggest piece first.
    pub colours: Vec<KitColour>,
    /// What of the file was not used, one sentence each.
    pub not_used: Vec<String>,
}

/// Reads a kit from an SVG or DXF file: every outline that stands by itself becomes a numbered piece, in the film whose colour is nearest to the
/// one that it is drawn in.
#[utoipa::path(
    post,
    path = "/api/sides/{id}/kit-file",
    params(
        ("id" = Uuid, Path),
        ("unit" = String, Query, description = "as_the_file_says, millimetre, centimetre, metre, inch or foot"),
        ("name" = Option<String>, Query, description = "Name of the kit"),
        ("whole" = Option<bool>, Query, description = "Whether everything in the file is one piece"),
        ("holes" = Option<String>, Query, description = "Colours that are no film but cut out of what they lie on: #rrggbb, one after the other with commas")
    ),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = KitView), (status = 422, body = Problem))
)]
#[post("/sides/<id>/kit-file?<unit>&<name>&<whole>&<holes>", data = "<data>")]
pub async fn kit_file(
    desk: &Desk,
    id: &str,
    unit: &str,
    name: Option<&str>,
    whole: Option<bool>,
    holes: Option<&str>,
    data: Data<'_>,
) -> Answer<KitView> {
    let rows = desk.side(key(id)?).await?;
    let planned = desk.planned_as_it_is(&rows).await?;
    let unit = unit_of_file(unit)?;
    let bytes = read_file(
        data,
        LARGEST_FILE,
        "The file is larger than 12 MB. Leave out what is not cut, then choose it again.",
    )
    .await?;
    let name = word(name.unwrap_or("kit"), 40);
    let whole = whole.unwrap_or(false);
    let holes = holes_of(holes.unwrap_or_default())?;
    let shop = shop_films(desk).await?;
    let read = desk.worker().film(&bytes, unit).await?;
    let view = desk
        .compute(move || kit_of(read, &name, whole, &holes, &shop, &planned))
        .await??;
    Ok(Json(view))
}

/// Most colours that a file's holes may be drawn in.
const MOST_HOLES: usize = 12;

fn holes_of(list: &str) -> Result<Vec<String>, Problem> {
    let holes: Vec<String> = (list.split(',').map(str::trim))
        .filter(|c| !c.is_empty())
        .map(str::to_lowercase)
        .collect();
    if holes.len() > MOST_HOLES || !holes.iter().all(|c| is_colour(c)) {
        return Err(Problem::input(
            "holes",
            "Holes are named by their colours as # and six figures, such as #ffffff, at most twelve. Choose them again.",
        ));
    }
    Ok(holes)
}

fn kit_of(
    read: FilmRead,
    name: &str,
    whole: bool,
    holes: &[String],
    shop: &[StockedFilm],
    planned: &PlannedSide,
) -> Result<KitView, Problem> {
    let PlannedSide { input, plan } = planned;
    let FilmRead {
        islands,
        cleaning,
        not_used,
    } = read;
    let films = film_colours(shop, Some(plan.side.side.surface.material));
    let film = kit_film(islands, whole, holes, &films);
    let kit = kit_pieces(film, name, |size| {
        place_of(&plan.side, &planned.boxes(), size, usual_place(&plan.side)).rounded(input.unit)
    });
    if kit.is_empty() {
        let sentence = if holes.is_empty() {
            "There is no closed outline in the file. Close it in the drawing program and read it in again."
        } else {
            "Nothing of the file is film then. Choose a film for one of its colours."
        };
        return Err(Problem::input("kit_file", sentence));
    }
    require_room(kit.len(), RowKind::Piece.most() + 1, "pieces in this file")?;
    let mut told = cleaning.sentences();
    let colours = kit_colours(&kit, holes, &films);
    let pieces = kit
        .into_iter()
        .map(|k| KitPieceView {
            film: screen_path(&k.shapes, SCREEN_MM),
            bounds: [
                k.bounds.x0,
                k.bounds.y0,
                k.bounds.width(),
                k.bounds.height(),
            ],
            size: [
                print(k.bounds.width(), input.unit).text,
                print(k.bounds.height(), input.unit).text,
            ],
            piece: in_film_for(k.piece, &plan.side),
            cleaned: std::mem::take(&mut told),
            drawn: k.fill,
        })
        .collect();
    Ok(KitView {
        pieces,
        colours,
        not_used,
    })
}
