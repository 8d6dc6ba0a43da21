//! Artwork that Windrift makes or reads: regulated marks, kits from drawing files, pieces mirrored to the other side, one stripe over
//! several body parts; and the shop's own typefaces and figures.

use rocket::data::Data;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{delete, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::regulation::Regulation;
use windrift_core::art::stripe::Stripe;
use windrift_core::art::typeface::{MOST_OWN, Typeface, TypefaceInfo};
use windrift_core::ground::mm::Mm;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::zone::Zone;
use windrift_core::place::rules::PlaceRule;
use windrift_core::plan::centre_run::{CentreError, along_centre};
use windrift_core::plan::first::{FirstKind, first_piece};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::regulated;
use windrift_core::plan::several::stripe_over;
use windrift_store::StoreError;
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{
    Editing, PIECE_KIB, answered_before, check_pieces, lead_goes_on, make_all, require_room,
};
use crate::keys::key;
use crate::layers::Whole;
use crate::mirror::{mirror_of, no_mirror};
use crate::planned::{PlannedSide, SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_file, read_json, read_json_up_to, read_typed, word};
use crate::routes::Answer;
use crate::ways::own_id;

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
pub async fn regulated_mark(desk: &Desk, id: &str, data: Data<'_>) -> Answer<Piece> {
    let rows = desk.side(key(id)?).await?;
    let wanted: WantedMark = read_as(read_json(data).await?)?;
    if wanted.words.trim().is_empty() {
        return Err(Problem::input("words", "Type what the mark says first.").at("/words"));
    }
    let planned = desk.planned_as_it_is(&rows).await?;
    Ok(Json(regulated::lay_out::lay_out(
        wanted.regulation,
        &wanted.words,
        &planned.plan.side,
        &planned.boxes(),
        planned.input.unit,
    )))
}

/// A piece to be begun.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct WantedFirst {
    /// What it is.
    pub kind: FirstKind,
}

/// What a new piece of this kind would be like on the side: it fits it, and lies where nothing stands yet. Writes nothing: the piece is
/// added like any other.
#[utoipa::path(post, path = "/api/sides/{id}/first-piece", params(("id" = Uuid, Path)), request_body = WantedFirst, responses((status = 200, body = Piece), (status = 422, body = Problem)))]
#[post("/sides/<id>/first-piece", data = "<data>")]
pub async fn first_of_kind(desk: &Desk, id: &str, data: Data<'_>) -> Answer<Piece> {
    let WantedFirst { kind } = read_as(read_json(data).await?)?;
    let rows = desk.side(key(id)?).await?;
    let planned = desk.planned_as_it_is(&rows).await?;
    let piece = desk.compute(move || {
        let PlannedSide { input, plan } = planned.as_ref();
        let names: Vec<String> = plan.pieces.iter().map(|p| p.piece.called()).collect();
        first_piece(kind, &plan.side, &planned.boxes(), input.unit)
            .map(|piece| piece.told_apart_from(&names))
    });
    let piece = piece.await?;
    Ok(Json(
        piece.map_err(|e| Problem::input("first", e.to_string()))?,
    ))
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
pub async fn add_pieces(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json_up_to(data, PIECE_KIB).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let new: NewPieces = read_typed(body, unit_of(&rows.job.unit)?)?;
    for piece in &new.pieces {
        lead_goes_on(&caller, None, piece.spec.work.go_on.as_ref())?;
    }
    require_room(
        rows.pieces.len() + new.pieces.len(),
        RowKind::Piece.most() + 1,
        "pieces on this side",
    )?;
    add_all(desk, &caller, &rows, new.pieces).await
}

async fn add_all(
    desk: &Desk,
    caller: &Caller,
    rows: &windrift_store::SideRows,
    new: Vec<NewPiece>,
) -> Editing {
    if new.is_empty() {
        return Err(Problem::input("pieces", "There is no piece to add."));
    }
    let mut whole = Whole::default();
    for piece in new {
        whole.take(rows, piece.id, piece.spec, None)?;
    }
    whole.make(desk, caller, rows).await
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
pub async fn mirror_pieces(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let asked: MirrorPieces = read_as(read_json(data).await?)?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let job = desk.job(rows.job.id).await?;
    let ways = desk.ways().await?;
    let planned = desk.planned(&job, rows.side.id, &ways).await?;
    let input = &planned.input;
    let (other, _) = mirror_of(&job.sides, &input.side).ok_or_else(no_mirror)?;
    let there = SideInput::of(other)?;
    let mut new = Vec::new();
    for (id, piece) in &input.pieces {
        let chosen = asked.pieces.is_empty() || asked.pieces.contains(id);
        let tied = |p: &Piece| matches!(p.place, PlaceRule::Mirrored { of } if of == *id);
        let back = matches!(piece.place, PlaceRule::Mirrored { .. });
        // A layer comes with its lettering.
        if !chosen || back || piece.layer().is_some() || there.pieces.iter().any(|(_, p)| tied(p)) {
            continue;
        }
        let mut art = piece.art.clone();
        if let Art::Drawing(drawing) = &mut art {
            // A drawing is turned over; letters never are.
            drawing.flipped = !drawing.flipped;
        }
        let drawn = planned.plan.pieces.iter().find(|p| p.id == *id);
        if let (Art::Stripe(stripe), Some(planned)) = (&mut art, drawn) {
            // Its length follows from its own edges; the twin is as long.
            stripe.length_mm = planned.drawn.nominal.width().into();
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
        RowKind::Piece.most() + 1,
        "pieces on the other side",
    )?;
    add_all(desk, &caller, other, new).await
}

/// One stripe over several body parts.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct StripeRun {
    /// The parts from front to rear: hood, roof, tail.
    pub sides: Vec<Uuid>,
    /// Gaps between one part and the next along the run, mm.
    #[serde(default)]
    pub gaps_mm: Vec<Mm>,
    /// Along the vehicle's centreline; the distances down from a reference then say nothing.
    #[serde(default)]
    pub centre: bool,
    /// Where the line begins on the first part, down from its reference, mm.
    #[serde(default)]
    pub first_drop_mm: Mm,
    /// Where it ends on the last part, mm.
    #[serde(default)]
    pub last_drop_mm: Mm,
    /// Gap at both ends of every part, mm.
    pub end_gap_mm: Mm,
    /// The stripe.
    pub stripe: Stripe,
}

/// Lays one stripe over several body parts as one line, with the same margin at both ends of every part; undone in one go.
#[utoipa::path(post, path = "/api/jobs/{id}/stripe-run", params(("id" = Uuid, Path)), request_body = StripeRun, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/jobs/<id>/stripe-run", data = "<data>")]
pub async fn stripe_run(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let job = desk.job(key(id)?).await?;
    let run: StripeRun = read_typed(body, unit_of(&job.job.unit)?)?;
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
    let least = if run.centre { 1 } else { 2 };
    if parts.len() < least {
        return Err(Problem::input(
            "sides",
            "Choose at least two body parts for one line over several, one for a line along the centre.",
        )
        .at("/sides"));
    }
    let inputs: Vec<SideInput> = parts
        .iter()
        .map(|s| SideInput::of(s))
        .collect::<Result<_, _>>()?;
    let lengths: Vec<f64> = inputs.iter().map(|i| i.side.datum().length_mm).collect();
    let gaps: Vec<f64> = run.gaps_mm.iter().map(|g| g.mm()).collect();
    let margin = run.end_gap_mm.mm();
    let laid = if run.centre {
        let words = desk.ways().await?.side_words;
        let names: Vec<String> = inputs.iter().map(|i| i.side.name(words)).collect();
        let named: Vec<_> = inputs
            .iter()
            .zip(&names)
            .map(|(i, n)| (&i.side, n.as_str()))
            .collect();
        let told = |e: CentreError| Problem::input("centre", e.to_string()).at("/sides");
        along_centre(&run.stripe, &named, &gaps, margin).map_err(told)?
    } else {
        let drops = (run.first_drop_mm.mm(), run.last_drop_mm.mm());
        stripe_over(&run.stripe, &lengths, &gaps, drops, margin)
    };
    let mut changes = Vec::new();
    for (rows, piece) in parts.into_iter().zip(laid) {
        let own = Uuid::now_v7();
        check_pieces(desk, rows, vec![(own, piece.clone())]).await?;
        let (parent, spec) = (rows.side.id, Kind::Piece.write(&piece)?);
        changes.push((RowKind::Piece, own, Change::Add { parent, spec }));
    }
    make_all(desk, &caller, changes).await
}

/// Replaces the shop's figures, if they still are as the writer saw them (If-Match).
#[utoipa::path(put, path = "/api/shop/settings", request_body = WorkSettings, responses((status = 200, body = WorkSettings), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/shop/settings", data = "<data>")]
pub async fn replace_settings(desk: &Desk, caller: Caller, data: Data<'_>) -> Answer<WorkSettings> {
    let who = caller.lead()?.id;
    let seen = caller.seen()?;
    let body = read_json(data).await?;
    if let Some(name) = body["zone"].as_str()
        && Zone::named(name).is_none()
    {
        return Err(Problem::input(
            "settings",
            format!("There is no time zone called \u{201c}{name}\u{201d}. Choose one from the list, such as UTC."),
        )
        .at("/zone"));
    }
    let new: WorkSettings = read_typed(body, windrift_core::ground::tape::Unit::InchSixteenth)?;
    new.check()?;
    desk.set_settings(seen, Kind::Settings.write(&new)?, who)
        .await?;
    Ok(Json(new))
}

/// Adds a typeface of the shop's own. The same key with the same file again adds nothing.
#[utoipa::path(
    post,
    path = "/api/shop/typefaces",
    params(
        ("name" = String, Query, description = "What the shop calls it"),
        ("id" = Option<Uuid>, Query, description = "Made by the client, so that a repeated request is known")
    ),
    request_body(content = String, content_type = "application/octet-stream"),
    responses((status = 200, body = TypefaceInfo), (status = 409, body = Problem), (status = 422, body = Problem))
)]
#[post("/shop/typefaces?<name>&<id>", data = "<data>")]
pub async fn add_typeface(
    desk: &Desk,
    caller: Caller,
    name: &str,
    id: Option<&str>,
    data: Data<'_>,
) -> Answer<TypefaceInfo> {
    let who = caller.writer()?.id;
    let name = word(name, 60);
    if name.is_empty() {
        return Err(Problem::input("name", "Say what the typeface is called.").at("/name"));
    }
    let bytes = read_file(
        data,
        LARGEST_FONT,
        "The file is larger than 4 MB. Choose a typeface with fewer alphabets.",
    )
    .await?;
    let id = match id {
        Some(id) => key(id)?,
        None => Uuid::now_v7(),
    };
    // Every letter is tried in a process of its own first: a damaged one breaks there.
    desk.worker().typeface(&bytes).await?;
    let face = Typeface::open(&own_id(id), &name, bytes.clone())
        .map_err(|e| Problem::input("typeface", e.to_string()))?;
    desk.keep_typeface(id, &name, who, bytes, MOST_OWN).await?;
    Ok(Json(face.info))
}

/// Takes one of the shop's own typefaces off the list. Lettering that is cut in it keeps it.
#[utoipa::path(delete, path = "/api/shop/typefaces/{id}", params(("id" = Uuid, Path)), responses((status = 200), (status = 404, body = Problem)))]
#[delete("/shop/typefaces/<id>")]
pub async fn remove_typeface(desk: &Desk, caller: Caller, id: &str) -> Answer<&'static str> {
    caller.lead()?;
    desk.retire_typeface(key(id)?).await?;
    Ok(Json("gone"))
}
