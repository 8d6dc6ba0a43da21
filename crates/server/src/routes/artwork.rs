//! Artwork that Windrift makes or reads: regulated marks, kits from drawing files, pieces mirrored to the other side, one stripe over
//! several body parts; and the shop's own typefaces and figures.

use rocket::data::Data;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, delete, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::clean::clean;
use windrift_core::elevation::measure;
use windrift_core::kit::Drawing;
use windrift_core::outline::{Shape, bounds_of_shapes};
use windrift_core::placement::{Along, Angle, Down, DownTo, EdgeRef, LetterEnd, PlaceRule, Rules};
use windrift_core::plan::{Art, Piece, place_all};
use windrift_core::regulated::{self, Regulation};
use windrift_core::settings::WorkSettings;
use windrift_core::side::Side;
use windrift_core::stripe::{Stripe, run_over};
use windrift_core::tape::print;
use windrift_core::typeface::{self, TypefaceInfo};
use windrift_formats::drawing::{self, FileUnit, LARGEST_FILE};
use windrift_formats::svg::screen_path;
use windrift_store::edits::{Change, Edit, EditedRow, RowKind};
use windrift_store::{Store, StoreError};

use super::jobs::key;
use super::rows::{Editing, require_room};
use super::sides::MOST_PIECES;
use super::{Answer, settings};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_file, read_json, read_lengths};
use crate::views::{PathData, SCREEN_MM, SideInput, stored, unit_of};

/// Largest typeface file, bytes.
const LARGEST_FONT: usize = 4 * 1024 * 1024;

/// A regulated mark to be laid out.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct WantedMark {
    /// Which rule it is to keep.
    pub regulation: Regulation,
    /// The words; a line break begins a new line.
    pub words: String,
}

/// Lays a regulated mark out for a side. Writes nothing: the piece is added like any other.
#[utoipa::path(post, path = "/api/sides/{id}/regulated", params(("id" = Uuid, Path)), request_body = WantedMark, responses((status = 200, body = Piece), (status = 422, body = Problem)))]
#[post("/sides/<id>/regulated", data = "<data>")]
pub async fn regulated_mark(store: &State<Store>, id: &str, data: Data<'_>) -> Answer<Piece> {
    let rows = store.side(key(id)?).await?;
    let wanted: WantedMark = read_as(read_json(data).await?)?;
    if wanted.words.trim().is_empty() {
        return Err(Problem::input("words", "Type what the mark says first.").at("/words"));
    }
    let input = SideInput::of(&rows)?;
    let side = measure(&input.side, &input.features)?;
    Ok(Json(regulated::lay_out(
        wanted.regulation,
        &wanted.words,
        &side,
    )))
}

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
}

/// A kit that was read from a file. Nothing is written yet.
#[derive(Debug, Serialize, ToSchema)]
pub struct KitView {
    /// Its pieces, the biggest first: the order in which they go on.
    pub pieces: Vec<KitPieceView>,
    /// What of the file was not used, one sentence each.
    pub not_used: Vec<String>,
}

fn unit_of_file(word: &str) -> Result<FileUnit, Problem> {
    serde_json::from_value(serde_json::Value::from(word)).map_err(|_| {
        Problem::input("unit", "Choose the unit that the file was drawn in.").at("/unit")
    })
}

/// Reads a kit from an SVG or DXF file: every outline that stands by itself becomes a numbered piece.
#[utoipa::path(
    post,
    path = "/api/sides/{id}/kit-file",
    params(
        ("id" = Uuid, Path),
        ("unit" = String, Query, description = "as_the_file_says, millimetre, centimetre, metre, inch or foot"),
        ("name" = Option<String>, Query, description = "Name of the kit"),
        ("whole" = Option<bool>, Query, description = "Whether everything in the file is one piece")
    ),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = KitView), (status = 422, body = Problem))
)]
#[post("/sides/<id>/kit-file?<unit>&<name>&<whole>", data = "<data>")]
pub async fn kit_file(
    store: &State<Store>,
    id: &str,
    unit: &str,
    name: Option<&str>,
    whole: Option<bool>,
    data: Data<'_>,
) -> Answer<KitView> {
    let rows = store.side(key(id)?).await?;
    let input = SideInput::of(&rows)?;
    let unit = unit_of_file(unit)?;
    let bytes = read_file(
        data,
        LARGEST_FILE,
        "The file is larger than 12 MB. Leave out what is not cut, then choose it again.",
    )
    .await?;
    let name: String = name.unwrap_or("kit").chars().take(40).collect();
    let whole = whole.unwrap_or(false);
    let view = rocket::tokio::task::spawn_blocking(move || {
        let opened = drawing::open(&bytes, unit)?;
        let (shapes, cleaning) = clean(&opened.outlines);
        let mut groups: Vec<Vec<Shape>> = if whole {
            vec![shapes]
        } else {
            shapes.into_iter().map(|s| vec![s]).collect()
        };
        let area = |g: &[Shape]| g.iter().map(Shape::area).sum::<f64>();
        groups.sort_by(|a, b| area(b).total_cmp(&area(a)));
        let all = bounds_of_shapes(groups.iter().flatten());
        if groups.is_empty() {
            return Err(Problem::input(
                "kit_file",
                "There is no closed outline in the file. Close it in the drawing program and read it in again.",
            ));
        }
        require_room(groups.len(), MOST_PIECES + 1, "pieces in this file")?;
        let mut told = cleaning.sentences();
        let pieces = groups
            .iter()
            .enumerate()
            .map(|(n, group)| {
                let bounds = bounds_of_shapes(group);
                let called = if groups.len() == 1 { name.clone() } else { format!("{name} {}", n + 1) };
                let drawing = Drawing::new(&called, group, "#14524d");
                // As they lie to each other in the file, beginning a foot from the front and down.
                let place = PlaceRule::Rules(Rules {
                    reference: None,
                    along: Along::FromFront {
                        distance_mm: round(304.8 + if input.side.direction() > 0.0 { bounds.x0 - all.x0 } else { all.x1 - bounds.x1 }),
                        to: if input.side.direction() > 0.0 { LetterEnd::FirstLetter } else { LetterEnd::LastLetter },
                    },
                    down: Down::FromDatum { distance_mm: round(304.8 + bounds.y0 - all.y0), to: DownTo::Top },
                    angle: Angle::AlongDatum,
                });
                KitPieceView {
                    piece: Piece {
                        order: n as i32 + 1,
                        group: None,
                        ..Piece::new(Art::Drawing(drawing), place)
                    },
                    film: screen_path(group, SCREEN_MM),
                    bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
                    size: [print(bounds.width(), input.unit).text, print(bounds.height(), input.unit).text],
                    cleaned: std::mem::take(&mut told),
                }
            })
            .collect();
        Ok(KitView { pieces, not_used: opened.not_used })
    })
    .await
    .map_err(|_| Problem::input("kit_file", "The file cannot be read. Save it again from the drawing program."))??;
    Ok(Json(view))
}

/// Tenths of a millimetre: what a cutter repeats.
fn round(mm: f64) -> f64 {
    (mm * 10.0).round() / 10.0
}

/// Several pieces to be added in one go.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewPieces {
    /// Each with a client-made key.
    pub pieces: Vec<NewPiece>,
}

/// A piece with its client-made key.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewPiece {
    /// Made by the client.
    pub id: Uuid,
    /// The piece.
    pub spec: Piece,
}

/// Adds several pieces to a side; undone in one go.
#[utoipa::path(post, path = "/api/sides/{id}/pieces/several", params(("id" = Uuid, Path)), request_body = NewPieces, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/pieces/several", data = "<data>")]
pub async fn add_pieces(store: &State<Store>, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let rows = store.side(key(id)?).await?;
    let bytes = read_file(
        data,
        LARGEST_FILE,
        "These pieces are larger than 12 MB together. Add them in several goes.",
    )
    .await?;
    let mut body: serde_json::Value = serde_json::from_slice(&bytes).map_err(|_| {
        Problem::input(
            "request",
            "The request could not be read. Load the page again and repeat it.",
        )
    })?;
    read_lengths(&mut body, unit_of(&rows.job.unit))?;
    let new: NewPieces = read_as(body)?;
    require_room(
        rows.pieces.len() + new.pieces.len(),
        MOST_PIECES + 1,
        "pieces on this side",
    )?;
    add_all(store, &caller, &rows, new.pieces).await
}

async fn add_all(
    store: &Store,
    caller: &Caller,
    rows: &windrift_store::SideRows,
    new: Vec<NewPiece>,
) -> Editing {
    let who = caller.writer()?.id;
    let mut input = SideInput::of(rows)?.among(&store.job(rows.job.id).await?.sides);
    let own: Vec<Uuid> = new.iter().map(|p| p.id).collect();
    input
        .pieces
        .extend(new.iter().map(|p| (p.id, p.spec.clone())));
    let side = measure(&input.side, &input.features)?;
    let (_, failed) = place_all(&side, &input.pieces, &input.job, input.unit);
    if let Some((_, error)) = failed.into_iter().find(|(f, _)| own.contains(f)) {
        return Err(error.into());
    }
    let mut edits = Vec::new();
    for (n, piece) in new.into_iter().enumerate() {
        edits.push(Edit {
            id: if n == 0 {
                caller.edit_id()?
            } else {
                Uuid::now_v7()
            },
            crew: who,
            kind: RowKind::Piece,
            row: piece.id,
            change: Change::Add {
                parent: rows.side.id,
                spec: serde_json::to_value(&piece.spec).map_err(StoreError::from)?,
            },
        });
    }
    if edits.is_empty() {
        return Err(Problem::input("pieces", "There is no piece to add."));
    }
    Ok(store.edit_all(edits).await?.into())
}

/// Pieces of this side to be laid out on the side that mirrors it.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MirrorPieces {
    /// Which pieces; all where none is named.
    #[serde(default)]
    pub pieces: Vec<Uuid>,
}

/// Lays pieces out on the side that mirrors this one: the same place from the front and the datum, lettering readable; undone in one
/// go. They stay tied: move the first and its mirror follows.
#[utoipa::path(post, path = "/api/sides/{id}/pieces/mirror", params(("id" = Uuid, Path)), request_body = MirrorPieces, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/pieces/mirror", data = "<data>")]
pub async fn mirror_pieces(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Editing {
    let rows = store.side(key(id)?).await?;
    let asked: MirrorPieces = read_as(read_json(data).await?)?;
    let input = SideInput::of(&rows)?;
    let job = store.job(rows.job.id).await?;
    let other = job
        .sides
        .iter()
        .find(|s| {
            stored::<Side>(&s.side.spec).is_ok_and(|o| {
                input.side.kind.mirror() == Some(o.kind) && o.facing != input.side.facing
            })
        })
        .ok_or_else(|| {
            Problem::input(
                "no_mirror",
                "This job has no side that mirrors this one. Add it under Look over first.",
            )
        })?;
    let there = SideInput::of(other)?;
    let side = measure(&input.side, &input.features)?;
    let (around, _) = place_all(&side, &input.pieces, &input.job, input.unit);
    let mut new = Vec::new();
    for (id, piece) in &input.pieces {
        let chosen = asked.pieces.is_empty() || asked.pieces.contains(id);
        let tied = |p: &Piece| matches!(p.place, PlaceRule::Mirrored { of } if of == *id);
        let back = matches!(piece.place, PlaceRule::Mirrored { .. });
        if !chosen || back || there.pieces.iter().any(|(_, p)| tied(p)) {
            continue;
        }
        let mut art = piece.art.clone();
        if let Art::Drawing(drawing) = &mut art {
            // A drawing is turned over; letters never are.
            drawing.flipped = !drawing.flipped;
        }
        if let (Art::Stripe(stripe), Some((_, drawn, _))) = (&mut art, around.pieces.get(id)) {
            // Its length follows from its own edges; the twin is as long.
            stripe.length_mm = drawn.nominal.width();
        }
        new.push(NewPiece {
            id: Uuid::now_v7(),
            spec: Piece {
                order: piece.order,
                group: piece.group.clone(),
                ..Piece::new(art, PlaceRule::Mirrored { of: *id })
            },
        });
    }
    if new.is_empty() {
        return Err(Problem::new(
            Status::UnprocessableEntity,
            "nothing_to_mirror",
            "Every piece of this side is on the other side already.",
        ));
    }
    require_room(
        other.pieces.len() + new.len(),
        MOST_PIECES + 1,
        "pieces on the other side",
    )?;
    add_all(store, &caller, other, new).await
}

/// One stripe over several body parts.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct StripeRun {
    /// The parts from front to rear: hood, roof, tail.
    pub sides: Vec<Uuid>,
    /// Gaps between one part and the next along the run, mm.
    #[serde(default)]
    pub gaps_mm: Vec<f64>,
    /// Where the line begins on the first part, down from its reference, mm.
    pub first_drop_mm: f64,
    /// Where it ends on the last part, mm.
    pub last_drop_mm: f64,
    /// Gap at both ends of every part, mm.
    pub end_gap_mm: f64,
    /// The stripe.
    pub stripe: Stripe,
}

/// Lays one stripe over several body parts as one line, with the same margin at both ends of every part; undone in one go.
#[utoipa::path(post, path = "/api/jobs/{id}/stripe-run", params(("id" = Uuid, Path)), request_body = StripeRun, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/jobs/<id>/stripe-run", data = "<data>")]
pub async fn stripe_run(store: &State<Store>, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let who = caller.writer()?.id;
    let job = store.job(key(id)?).await?;
    let mut body = read_json(data).await?;
    read_lengths(&mut body, unit_of(&job.job.unit))?;
    let run: StripeRun = read_as(body)?;
    let parts: Vec<_> = run
        .sides
        .iter()
        .map(|side| {
            job.sides
                .iter()
                .find(|s| s.side.id == *side)
                .ok_or(StoreError::NotFound("side"))
        })
        .collect::<Result<_, _>>()?;
    if parts.len() < 2 {
        return Err(Problem::input(
            "sides",
            "Choose at least two body parts for one line over several.",
        )
        .at("/sides"));
    }
    let inputs: Vec<SideInput> = parts
        .iter()
        .map(|s| SideInput::of(s))
        .collect::<Result<_, _>>()?;
    let lengths: Vec<f64> = inputs.iter().map(|i| i.side.datum().length_mm).collect();
    let laid = run_over(&lengths, &run.gaps_mm, run.first_drop_mm, run.last_drop_mm);
    let mut edits = Vec::new();
    for (n, ((rows, mut input), at)) in parts.into_iter().zip(inputs).zip(laid).enumerate() {
        let length = input.side.datum().length_mm;
        let share = |gap: f64| if length > 0.0 { gap / length } else { 0.0 };
        let slope = at.rear_mm - at.front_mm;
        // The margin shortens the line; its ends stay on it.
        let piece = Piece::new(
            Art::Stripe(run.stripe.clone()),
            PlaceRule::Rules(Rules {
                reference: None,
                along: Along::SameGap {
                    from: EdgeRef::FrontEdge,
                    to: EdgeRef::RearEdge,
                    gap_mm: run.end_gap_mm,
                },
                down: Down::FromDatum {
                    distance_mm: at.front_mm + slope * share(run.end_gap_mm),
                    to: DownTo::Middle,
                },
                angle: Angle::ToDrop {
                    rear_drop_mm: at.rear_mm - slope * share(run.end_gap_mm),
                },
            }),
        );
        let own = Uuid::now_v7();
        input.pieces.push((own, piece.clone()));
        let side = measure(&input.side, &input.features)?;
        let (_, failed) = place_all(&side, &input.pieces, &input.job, input.unit);
        if let Some((_, error)) = failed.into_iter().find(|(f, _)| *f == own) {
            return Err(error.into());
        }
        edits.push(Edit {
            id: if n == 0 {
                caller.edit_id()?
            } else {
                Uuid::now_v7()
            },
            crew: who,
            kind: RowKind::Piece,
            row: own,
            change: Change::Add {
                parent: rows.side.id,
                spec: serde_json::to_value(&piece).map_err(StoreError::from)?,
            },
        });
    }
    Ok(store.edit_all(edits).await?.into())
}

/// Replaces the shop's figures.
#[utoipa::path(put, path = "/api/shop/settings", request_body = WorkSettings, responses((status = 200, body = WorkSettings), (status = 422, body = Problem)))]
#[put("/shop/settings", data = "<data>")]
pub async fn replace_settings(
    store: &State<Store>,
    caller: Caller,
    data: Data<'_>,
) -> Answer<WorkSettings> {
    caller.lead()?;
    let mut body = read_json(data).await?;
    read_lengths(&mut body, windrift_core::tape::Unit::InchSixteenth)?;
    let new: WorkSettings = read_as(body)?;
    new.check()
        .map_err(|sentence| Problem::input("settings", sentence))?;
    store
        .set_settings(serde_json::to_value(new).map_err(StoreError::from)?)
        .await?;
    Ok(Json(settings(store).await?))
}

/// Adds a typeface of the shop's own.
#[utoipa::path(
    post,
    path = "/api/shop/typefaces",
    params(("name" = String, Query, description = "What the shop calls it")),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = TypefaceInfo), (status = 422, body = Problem))
)]
#[post("/shop/typefaces?<name>", data = "<data>")]
pub async fn add_typeface(
    store: &State<Store>,
    caller: Caller,
    name: &str,
    data: Data<'_>,
) -> Answer<TypefaceInfo> {
    let who = caller.writer()?.id;
    let name: String = name.trim().chars().take(60).collect();
    if name.is_empty() {
        return Err(Problem::input("name", "Say what the typeface is called.").at("/name"));
    }
    require_room(
        store.typefaces().await?.len(),
        typeface::MOST_OWN,
        "typefaces of the shop's own",
    )?;
    let bytes = read_file(
        data,
        LARGEST_FONT,
        "The file is larger than 4 MB. Choose a typeface with fewer alphabets.",
    )
    .await?;
    let id = Uuid::now_v7();
    let info = typeface::add(&own_id(id), &name, bytes.clone())
        .map_err(|e| Problem::input("typeface", e.to_string()))?;
    store.keep_typeface(id, &name, who, bytes).await?;
    Ok(Json(info))
}

/// The stored name of one of the shop's own typefaces.
pub fn own_id(id: Uuid) -> String {
    format!("own-{id}")
}

/// Takes one of the shop's own typefaces off the list. Lettering that is cut in it keeps it.
#[utoipa::path(delete, path = "/api/shop/typefaces/{id}", params(("id" = Uuid, Path)), responses((status = 200), (status = 404, body = Problem)))]
#[delete("/shop/typefaces/<id>")]
pub async fn remove_typeface(
    store: &State<Store>,
    caller: Caller,
    id: &str,
) -> Answer<&'static str> {
    caller.lead()?;
    let id = key(id)?;
    store.retire_typeface(id).await?;
    typeface::retire(&own_id(id));
    Ok(Json("gone"))
}
