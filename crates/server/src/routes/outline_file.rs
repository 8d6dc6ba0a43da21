//! An outline from a drawing file: read at a stated unit, checked against one measured length, reported. Nothing is written; the
//! outline is saved like any other shape.

use rocket::data::Data;
use rocket::post;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use windrift_core::ground::tape::{Unit, parse, print};
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::body::readings::parse_readings;
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::inside::{MOST_OFFERED, offered};
use windrift_core::vehicle::quick::say;
use windrift_formats::drawing;
use windrift_formats::drawing::LARGEST_FILE;

use crate::desk::Desk;
use crate::keys::key;
use crate::planned::SideInput;
use crate::problem::Problem;
use crate::request::{read_as, read_file, read_json, unit_of_file, word};
use crate::routes::Answer;
use crate::views::SideDrawing;

/// An outline that was read from a file.
#[derive(Debug, Serialize, ToSchema)]
pub struct OutlineFile {
    /// The shape, to be saved as the side's body.
    pub body: Body,
    /// Its length and height as printed.
    pub size: [String; 2],
    /// How the file's length compares with the measured one.
    pub fit: Option<String>,
    /// What was not used, one sentence each.
    pub not_used: Vec<String>,
    /// Closed shapes within it as what they probably are: to be saved with the side, which then offers them.
    pub offered: Vec<Feature>,
    /// The same in quick words.
    pub within: Vec<String>,
    /// How the side would be drawn.
    pub drawing: SideDrawing,
}

/// Reads an outline from an SVG or DXF file.
#[utoipa::path(
    post,
    path = "/api/sides/{id}/outline-file",
    params(
        ("id" = uuid::Uuid, Path),
        ("unit" = String, Query, description = "as_the_file_says, millimetre, centimetre, metre, inch or foot"),
        ("name" = Option<String>, Query, description = "Name of the file"),
        ("measured" = Option<String>, Query, description = "Length of the side as the tape says; may be typed as text")
    ),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = OutlineFile), (status = 422, body = Problem))
)]
#[post("/sides/<id>/outline-file?<unit>&<name>&<measured>", data = "<data>")]
pub async fn outline_file(
    desk: &Desk,
    id: &str,
    unit: &str,
    name: Option<&str>,
    measured: Option<&str>,
    data: Data<'_>,
) -> Answer<OutlineFile> {
    let rows = desk.side(key(id)?).await?;
    let input = SideInput::of(&rows)?;
    let unit = unit_of_file(unit)?;
    let measured = match measured.map(str::trim) {
        None | Some("") => None,
        Some(text) => Some(parse(text, input.unit).map_err(|e| Problem::from(e).at("/measured"))?),
    };
    let refusal =
        "The file is larger than 12 MB. Leave out what is not the outline, then choose it again.";
    let bytes = read_file(data, LARGEST_FILE, refusal).await?;
    let name = word(name.unwrap_or("file"), 80);
    let runs_right = input.side.direction() > 0.0;
    let opened = desk.worker().outlines(&bytes, unit).await?;
    let side = input.side;
    desk.compute(move || {
        let taken = drawing::take::take(&opened, &name, measured, runs_right, input.unit)?;
        outline_of(taken, opened.not_used, side, input.unit)
    })
    .await?
    .map(Json)
}

fn outline_of(
    taken: drawing::take::Taken,
    not_used: Vec<String>,
    side: windrift_core::vehicle::side::Side,
    unit: Unit,
) -> Result<OutlineFile, Problem> {
    let with_it = windrift_core::vehicle::side::Side {
        body: taken.body.clone(),
        references: Vec::new(),
        photo: None,
        ..side
    };
    let measured = windrift_core::vehicle::measured::measure::measure(&with_it, &[])?;
    let printed = |mm: f64| print(mm, unit).text;
    let offered = offered(&taken.within, taken.size_mm.1);
    let left = taken.within.len().saturating_sub(MOST_OFFERED);
    let too_many = (offered.len() >= MOST_OFFERED && left > 0)
        .then(|| format!("The {MOST_OFFERED} largest of the closed shapes within it are offered."));
    Ok(OutlineFile {
        within: offered.iter().map(|f| say(f, &with_it, unit)).collect(),
        offered,
        size: [printed(taken.size_mm.0), printed(taken.size_mm.1)],
        fit: taken.fit,
        not_used: not_used
            .into_iter()
            .chain(taken.beside)
            .chain(too_many)
            .collect(),
        drawing: SideDrawing::of(&measured),
        body: taken.body,
    })
}

/// An outline typed like a list.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct TypedReadings {
    /// Lines: how far back, a comma, how far down, and an `r` where it bends round.
    pub lines: Vec<String>,
}

/// An outline typed like a list, as it would be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct ReadingsView {
    /// The shape, to be saved as the side's body.
    pub body: Body,
    /// How the side would be drawn; nothing while it does not close yet.
    pub drawing: Option<SideDrawing>,
    /// What is wrong with it so far, or what is missing.
    pub sentence: Option<String>,
}

/// Reads an outline typed like a list. Writes nothing: the shape appears as it is typed.
#[utoipa::path(post, path = "/api/sides/{id}/readings", params(("id" = uuid::Uuid, Path)), request_body = TypedReadings, responses((status = 200, body = ReadingsView), (status = 422, body = Problem)))]
#[post("/sides/<id>/readings", data = "<data>")]
pub async fn typed_readings(desk: &Desk, id: &str, data: Data<'_>) -> Answer<ReadingsView> {
    let rows = desk.side(key(id)?).await?;
    let input = SideInput::of(&rows)?;
    let typed: TypedReadings = read_as(read_json(data).await?)?;
    let points = parse_readings(&typed.lines.join("\n"), input.unit)
        .map_err(|e| Problem::input("readings", e.to_string()))?;
    let body = Body::Readings { points };
    let with_it = windrift_core::vehicle::side::Side {
        body: body.clone(),
        references: Vec::new(),
        photo: None,
        ..input.side
    };
    Ok(Json(
        match windrift_core::vehicle::measured::measure::measure(&with_it, &[]) {
            Ok(measured) => ReadingsView {
                drawing: Some(SideDrawing::of(&measured)),
                sentence: None,
                body,
            },
            Err(e) => ReadingsView {
                drawing: None,
                sentence: Some(e.sentence),
                body,
            },
        },
    ))
}
