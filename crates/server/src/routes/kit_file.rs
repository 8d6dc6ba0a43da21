//! A kit from a drawing file: which pieces are in it, and which film each is cut from.

use rocket::data::Data;
use rocket::post;
use rocket::serde::json::Json;
use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::art::clean::{Island, SPECK_MM2};
use windrift_core::art::drawn::FIRST_COLOUR;
use windrift_core::ground::colour::{film_like, is_colour};
use windrift_core::ground::outline::{Shape, cut_out, weld};
use windrift_core::ground::tape::print;
use windrift_core::plan::first::{in_film_for, place_of, usual_place};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::several::{KitFilm, KitPiece, kit_pieces};
use windrift_formats::drawing::{FileUnit, LARGEST_FILE};
use windrift_formats::svg::screen_path;
use windrift_store::edits::RowKind;

use crate::desk::Desk;
use crate::editing::require_room;
use crate::film_colours::{FilmColourView, film_colours};
use crate::keys::key;
use crate::planned::PlannedSide;
use crate::problem::Problem;
use crate::request::{read_file, word};
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

/// A colour of the file, and the film that it is cut from.
#[derive(Debug, Serialize, ToSchema)]
pub struct KitColour {
    /// As it is drawn, `#rrggbb`; nothing for what the file gives no colour.
    pub drawn: Option<String>,
    /// The film that its pieces are laid out in, `#rrggbb`; nothing where it is no film but a hole.
    pub colour: Option<String>,
    /// How many pieces are of it.
    pub pieces: usize,
    /// Why this film.
    pub sentence: String,
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

fn unit_of_file(word: &str) -> Result<FileUnit, Problem> {
    serde_json::from_value(serde_json::Value::from(word)).map_err(|_| {
        Problem::input("unit", "Choose the unit that the file was drawn in.").at("/unit")
    })
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
    let films = film_colours(desk).await?;
    let read = desk.worker().film(&bytes, unit).await?;
    let view = desk
        .compute(move || kit_of(read, &name, whole, &holes, &films, &planned))
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

/// The film that is like a colour of the file, and why it is taken.
fn film_for(drawn: Option<&str>, films: &[FilmColourView]) -> (String, String) {
    let name = |value: &str| films.iter().find(|f| f.value == value).map(|f| &f.name);
    let Some(drawn) = drawn else {
        let sentence = "The file gives it no colour. Choose its film.";
        return (FIRST_COLOUR.to_owned(), sentence.into());
    };
    let like = film_like(drawn, films.iter().map(|f| f.value.as_str()));
    match like.and_then(|film| Some((film, name(film)?))) {
        Some((film, name)) => (film.to_owned(), format!("{name}, the film nearest to it.")),
        None => (
            drawn.to_owned(),
            "No film here is like it: it is laid out as it is drawn. Choose one, or order it."
                .into(),
        ),
    }
}

/// Film less what is drawn over it in the colours that are holes. What is drawn over a hole stays.
fn less_holes(islands: Vec<Island>, holes: &[String]) -> Vec<Island> {
    let is_hole = |i: &Island| i.drawn.fill.as_ref().is_some_and(|f| holes.contains(f));
    let (cut, film): (Vec<Island>, Vec<Island>) = islands.into_iter().partition(is_hole);
    film.into_iter()
        .flat_map(|i| {
            let over = cut.iter().filter(|c| c.drawn.path > i.drawn.path);
            let over: Vec<Shape> = over.map(|c| c.shape.clone()).collect();
            let left = match over.is_empty() {
                true => vec![i.shape],
                false => cut_out(&[i.shape], &over),
            };
            let left = left.into_iter().filter(|s| s.area() >= SPECK_MM2);
            left.map(move |shape| Island {
                shape,
                drawn: i.drawn.clone(),
            })
        })
        .collect()
}

/// Pieces of film as they are to be: each island by itself, or all of them one.
fn groups_of(islands: Vec<Island>, whole: bool, films: &[FilmColourView]) -> Vec<KitFilm> {
    let groups: Vec<(Vec<Shape>, Option<String>)> = if whole {
        // One piece of film: where parts of it lap there is film, once. The largest says its colour.
        let largest = islands
            .iter()
            .max_by(|a, b| a.shape.area().total_cmp(&b.shape.area()));
        let fill = largest.and_then(|i| i.drawn.fill.clone());
        let contours: Vec<_> = (islands.into_iter())
            .flat_map(|i| i.shape.contours)
            .collect();
        vec![(weld(&contours), fill)]
    } else {
        (islands.into_iter())
            .map(|i| (vec![i.shape], i.drawn.fill))
            .collect()
    };
    groups
        .into_iter()
        .map(|(shapes, fill)| KitFilm {
            shapes,
            colour: film_for(fill.as_deref(), films).0,
            fill,
        })
        .collect()
}

/// The colours of a kit, each with its film and why, then those that are holes.
fn colours_of(kit: &[KitPiece], holes: &[String], films: &[FilmColourView]) -> Vec<KitColour> {
    let mut colours: Vec<KitColour> = Vec::new();
    for piece in kit {
        if let Some(known) = colours.iter_mut().find(|c| c.drawn == piece.fill) {
            known.pieces += 1;
            continue;
        }
        let (colour, sentence) = film_for(piece.fill.as_deref(), films);
        colours.push(KitColour {
            drawn: piece.fill.clone(),
            colour: Some(colour),
            pieces: 1,
            sentence,
        });
    }
    let cut = holes.iter().map(|hole| KitColour {
        drawn: Some(hole.clone()),
        colour: None,
        pieces: 0,
        sentence: "No film: it is cut out of what it lies on.".into(),
    });
    colours.extend(cut);
    colours
}

fn kit_of(
    read: FilmRead,
    name: &str,
    whole: bool,
    holes: &[String],
    films: &[FilmColourView],
    planned: &PlannedSide,
) -> Result<KitView, Problem> {
    let PlannedSide { input, plan } = planned;
    let FilmRead {
        islands,
        cleaning,
        not_used,
    } = read;
    let material = plan.side.side.surface.material;
    let films: Vec<FilmColourView> = (films.iter())
        .filter(|f| f.is_for(material))
        .cloned()
        .collect();
    let groups = groups_of(less_holes(islands, holes), whole, &films);
    let kit = kit_pieces(groups, name, |size| {
        place_of(&plan.side, &planned.boxes(), size, usual_place(&plan.side)).rounded(input.unit)
    });
    if kit.is_empty() {
        return Err(Problem::input(
            "kit_file",
            "There is no closed outline in the file. Close it in the drawing program and read it in again.",
        ));
    }
    require_room(kit.len(), RowKind::Piece.most() + 1, "pieces in this file")?;
    let mut told = cleaning.sentences();
    let colours = colours_of(&kit, holes, &films);
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
