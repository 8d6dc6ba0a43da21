//! Adding, changing and removing sides, features and pieces; undo and redo.

use rocket::data::Data;
use rocket::http::Status;
use rocket::{delete, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::settings::SideWords;
use windrift_core::plan::piece::Piece;
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::measured::measure::{check_feature, measure};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;
use windrift_core::vehicle::template::SideTemplate;
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::stored::Kind;
use windrift_store::{JobRows, SideRows};

use crate::desk::Desk;
use crate::editing::{
    Editing, NewRow, PIECE_KIB, RowSpec, answered_before, id_of, lead_goes_on, make, make_all,
    require_room, spec_of,
};
use crate::keys::key;
use crate::layers::{Whole, layers_of};
use crate::names::another_name;
use crate::planned::{SideInput, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_json_up_to, read_typed};

async fn fits_side(desk: &Desk, feature: &Feature, rows: &SideRows) -> Result<(), Problem> {
    let side: Side = Kind::Side.read(&rows.side.spec)?;
    let feature = feature.clone();
    Ok(desk
        .compute(move || check_feature(&side, &feature))
        .await??)
}

/// A piece must be one that can be drawn and placed among the others of its side.
/// A side's new measurements must still carry what is on it, and keep the references that pieces hang on.
fn check_side(side: &Side, rows: &SideRows) -> Result<(), Problem> {
    side.check()?;
    let input = SideInput::of(rows)?;
    measure(side, &input.features).map_err(|e| {
        Problem::input(
            "measure",
            format!(
                "With these measurements something on the side no longer fits. {}",
                e.sentence
            ),
        )
        .at(format!("/spec/{}", e.field))
    })?;
    let lost = input
        .pieces
        .iter()
        .find(|(_, p)| side.datum_of(p.place.reference()).is_none());
    match lost {
        Some((_, piece)) => Err(Problem::input(
            "in_use",
            format!(
                "\u{201c}{}\u{201d} hangs on the {}. Give it another reference under Place first.",
                piece.called(),
                input.side.datum_name(piece.place.reference())
            ),
        )),
        None => Ok(()),
    }
}

/// What a new side starts from.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum SideStart {
    /// One of our own shapes.
    Shape {
        /// Which shape.
        shape: StartShape,
    },
    /// One of the shop's templates.
    Template {
        /// Its key.
        template: Uuid,
    },
    /// The side of this job that it mirrors, with everything on it.
    MirrorOf {
        /// That side.
        side: Uuid,
    },
    /// The side as it is given.
    Spec {
        /// The side. Lengths may be typed as text.
        spec: Box<Side>,
    },
}

/// A side to be added.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewSide {
    /// Made by the client.
    pub id: Uuid,
    /// Which side it is; where nothing is said, what it starts from decides.
    #[serde(default)]
    pub kind: Option<SideKind>,
    /// What the shop calls it.
    #[serde(default)]
    pub called: Option<String>,
    /// What it starts from.
    pub start: SideStart,
}

/// The same side as another kind, facing as that kind does.
fn as_kind(side: Side, kind: Option<SideKind>) -> Side {
    match kind {
        Some(kind) if kind != side.kind => {
            let (facing, front) = kind.usual_view();
            Side {
                kind,
                facing,
                front,
                ..side
            }
        }
        _ => side,
    }
}

async fn started(
    desk: &Desk,
    job: &windrift_store::JobRows,
    new: &NewSide,
) -> Result<(Side, Vec<Feature>), Problem> {
    Ok(match &new.start {
        // What usually stands on such a side is offered there, not put there.
        SideStart::Shape { shape } => {
            let (side, _) = shape.start(new.kind.unwrap_or(shape.names().1));
            (side, Vec::new())
        }
        SideStart::Template { template } => {
            let row = desk.template(*template).await?;
            let template: SideTemplate = Kind::Template.read(&row.spec)?;
            (as_kind(template.side, new.kind), template.features)
        }
        SideStart::MirrorOf { side } => {
            let rows = job
                .sides
                .iter()
                .find(|s| s.side.id == *side)
                .ok_or(windrift_store::StoreError::NotFound("side"))?;
            let input = SideInput::of(rows)?;
            let mirrored = input.side.mirrored().ok_or_else(|| {
                Problem::input(
                    "no_mirror",
                    "This side has no mirror: it faces ahead, behind or up. Start the new one from a shape.",
                )
            })?;
            (
                mirrored,
                input.features.into_iter().map(|f| f.feature).collect(),
            )
        }
        SideStart::Spec { spec } => (as_kind(spec.as_ref().clone(), new.kind), Vec::new()),
    })
}

/// What the job's sides are called, but for one.
fn names_of_sides(
    job: &JobRows,
    but: Option<Uuid>,
    words: SideWords,
) -> Result<Vec<String>, Problem> {
    let others = job.sides.iter().filter(|s| Some(s.side.id) != but);
    let name = |s: &SideRows| Ok(Kind::Side.read::<Side>(&s.side.spec)?.name(words));
    others.map(name).collect()
}

fn name_taken(name: &str) -> Problem {
    let sentence = format!(
        "This job has a side called {name} already. Call this one something else, such as {name} 2."
    );
    Problem::input("called", sentence).at("/called")
}

/// Adds a side to a job, with what is on it; undone in one go.
#[utoipa::path(post, path = "/api/jobs/{id}/sides", params(("id" = Uuid, Path)), request_body = NewSide, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/jobs/<id>/sides", data = "<data>")]
pub async fn add_side(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    caller.writer()?;
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let job = desk.job(key(id)?).await?;
    require_room(job.sides.len(), RowKind::Side.most(), "sides")?;
    let new: NewSide = read_typed(body, unit_of(&job.job.unit)?)?;
    let (mut side, features) = started(desk, &job, &new).await?;
    if new.called.is_some() {
        side.called = new.called.clone();
    }
    let words = desk.ways().await?.side_words;
    let taken = names_of_sides(&job, None, words)?;
    if taken.contains(&side.name(words)) {
        if side.own_name().is_some() {
            return Err(name_taken(&side.name(words)));
        }
        side.called = Some(another_name(&side.name(words), &taken));
    }
    let numbered: Vec<windrift_core::vehicle::feature::SideFeature> = features
        .into_iter()
        .map(|feature| windrift_core::vehicle::feature::SideFeature {
            id: Uuid::now_v7(),
            feature,
        })
        .collect();
    measure(&side, &numbered)?;
    let add = |parent, spec| Change::Add { parent, spec };
    let spec = Kind::Side.write(&side)?;
    let mut changes = vec![(RowKind::Side, new.id, add(job.job.id, spec))];
    for feature in &numbered {
        let spec = Kind::Feature.write(&feature.feature)?;
        changes.push((RowKind::Feature, feature.id, add(new.id, spec)));
    }
    make_all(desk, &caller, changes).await
}

/// Adds a feature to a side.
#[utoipa::path(post, path = "/api/sides/{id}/features", params(("id" = Uuid, Path)), request_body = NewRow, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/features", data = "<data>")]
pub async fn add_feature(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let row = id_of(&body)?;
    require_room(rows.features.len(), RowKind::Feature.most(), "features")?;
    let (feature, spec) = spec_of::<Feature>(body, &rows.job, Kind::Feature)?;
    fits_side(desk, &feature, &rows).await?;
    make(
        desk,
        &caller,
        RowKind::Feature,
        row,
        Change::Add {
            parent: rows.side.id,
            spec,
        },
    )
    .await
}

/// Adds a piece to a side.
#[utoipa::path(post, path = "/api/sides/{id}/pieces", params(("id" = Uuid, Path)), request_body = NewRow, responses((status = 200, body = EditedRow), (status = 422, body = Problem)))]
#[post("/sides/<id>/pieces", data = "<data>")]
pub async fn add_piece(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json_up_to(data, PIECE_KIB).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let row = id_of(&body)?;
    require_room(rows.pieces.len(), RowKind::Piece.most(), "pieces")?;
    let (piece, _) = spec_of::<Piece>(body, &rows.job, Kind::Piece)?;
    lead_goes_on(&caller, None, piece.work.go_on.as_ref())?;
    let mut whole = Whole::default();
    whole.take(&rows, row, piece, None)?;
    whole.make(desk, &caller, &rows).await
}

/// Replaces a side's measurements.
#[utoipa::path(put, path = "/api/sides/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/sides/<id>", data = "<data>")]
pub async fn replace_side(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let (mut side, _) = spec_of::<Side>(body, &rows.job, Kind::Side)?;
    // A figure that is typed anew is measured; one that came with another starting shape is not.
    let before: Side = Kind::Side.read(&rows.side.spec)?;
    let from_shape = StartShape::ALL
        .iter()
        .any(|shape| shape.start(side.kind).0.body == side.body);
    if !from_shape {
        side.unmeasured = side.still_unmeasured(&before);
    }
    let words = desk.ways().await?.side_words;
    let job = desk.job(rows.job.id).await?;
    let name = side.name(words);
    if name != before.name(words)
        && names_of_sides(&job, Some(rows.side.id), words)?.contains(&name)
    {
        return Err(name_taken(&name));
    }
    let spec = Kind::Side.write(&side)?;
    let checked = rows.clone();
    desk.compute(move || check_side(&side, &checked)).await??;
    make(
        desk,
        &caller,
        RowKind::Side,
        rows.side.id,
        Change::Replace {
            seen: caller.seen()?,
            spec,
        },
    )
    .await
}

/// Replaces a feature.
#[utoipa::path(put, path = "/api/features/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/features/<id>", data = "<data>")]
pub async fn replace_feature(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let row = key(id)?;
    let rows = desk.side_of_feature(row).await?;
    let (feature, spec) = spec_of::<Feature>(body, &rows.job, Kind::Feature)?;
    fits_side(desk, &feature, &rows).await?;
    make(
        desk,
        &caller,
        RowKind::Feature,
        row,
        Change::Replace {
            seen: caller.seen()?,
            spec,
        },
    )
    .await
}

/// Replaces a piece.
#[utoipa::path(put, path = "/api/pieces/{id}", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/pieces/<id>", data = "<data>")]
pub async fn replace_piece(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json_up_to(data, PIECE_KIB).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let row = key(id)?;
    let rows = desk.side_of_piece(row).await?;
    let (mut piece, _) = spec_of::<Piece>(body, &rows.job, Kind::Piece)?;
    let mut whole = Whole::default();
    let seen = caller.seen()?;
    let before = rows.pieces.iter().find(|p| p.id == row);
    let before = before.and_then(|p| Kind::Piece.read::<Piece>(&p.spec).ok());
    let stood = before.as_ref().and_then(|b| b.work.go_on.as_ref());
    lead_goes_on(&caller, stood, piece.work.go_on.as_ref())?;
    match before.filter(|b| b.layer().is_some()) {
        // A layer is what its lettering makes it, where that lies: only how it is worked is its own.
        Some(layer) => {
            piece = Piece {
                work: piece.work,
                ..layer
            };
            let spec = Kind::Piece.write(&piece)?;
            whole.pieces.push((row, piece));
            whole.changes.push((row, Change::Replace { seen, spec }));
        }
        None => whole.take(&rows, row, piece, Some(seen))?,
    }
    whole.make(desk, &caller, &rows).await
}

/// Removes a side that nothing is on any more.
#[utoipa::path(delete, path = "/api/sides/{id}", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/sides/<id>")]
pub async fn remove_side(desk: &Desk, caller: Caller, id: &str) -> Editing {
    caller.writer()?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    if let Some(piece) = rows.pieces.first() {
        let called = Kind::Piece.read::<Piece>(&piece.spec).map_or_else(
            |_| "A piece that cannot be read".to_owned(),
            |p| format!("\u{201c}{}\u{201d}", p.called()),
        );
        return Err(Problem::new(
            Status::Conflict,
            "in_use",
            format!("{called} is laid out on this side. Remove it first."),
        ));
    }
    let gone = |kind, row, seen| (kind, row, Change::Remove { seen });
    // Its features and its marking first, in one go with it, so that one undo brings everything back.
    let features = (rows.features.iter()).map(|f| gone(RowKind::Feature, f.id, f.revision));
    let marking = (rows.marking.iter()).map(|m| gone(RowKind::Marking, m.id, m.revision));
    let own = gone(RowKind::Side, rows.side.id, caller.seen()?);
    make_all(
        desk,
        &caller,
        features.chain(marking).chain([own]).collect(),
    )
    .await
}

/// Refuses to remove what other pieces' places are ruled by, and names them.
fn still_hanging(pieces: impl Iterator<Item = impl std::fmt::Display>) -> Result<(), Problem> {
    let hung: Vec<String> = pieces.map(|p| format!("\u{201c}{p}\u{201d}")).collect();
    let (hang, place, need) = match hung.len() {
        0 => return Ok(()),
        1 => ("hangs", "its place is", "that piece needs"),
        _ => ("hang", "their places are", "those pieces need"),
    };
    Err(Problem::new(
        Status::Conflict,
        "in_use",
        format!(
            "{} {hang} on this: {place} ruled by it. Remove it all the same, and {need} a new rule.",
            hung.join(" and ")
        ),
    ))
}

/// Removes a feature. Where the rule of a piece hangs on it, that is said first; `anyway` removes it all the same.
#[utoipa::path(delete, path = "/api/features/{id}", params(("id" = Uuid, Path), ("anyway" = Option<bool>, Query, description = "Even where a piece hangs on it")), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/features/<id>?<anyway>")]
pub async fn remove_feature(
    desk: &Desk,
    caller: Caller,
    id: &str,
    anyway: Option<bool>,
) -> Editing {
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let feature = key(id)?;
    if !anyway.unwrap_or(false)
        && let Ok(rows) = desk.side_of_feature(feature).await
    {
        let input = SideInput::of(&rows)?;
        still_hanging(
            input
                .pieces
                .iter()
                .filter(|(_, p)| p.place.features().contains(&feature))
                .map(|(_, p)| p.called()),
        )?;
    }
    make(
        desk,
        &caller,
        RowKind::Feature,
        feature,
        Change::Remove {
            seen: caller.seen()?,
        },
    )
    .await
}

/// Removes a piece. Where others hang on it, which ones is said first; `anyway` removes it all the same.
#[utoipa::path(delete, path = "/api/pieces/{id}", params(("id" = Uuid, Path), ("anyway" = Option<bool>, Query, description = "Even where other pieces hang on it")), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/pieces/<id>?<anyway>")]
pub async fn remove_piece(desk: &Desk, caller: Caller, id: &str, anyway: Option<bool>) -> Editing {
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    caller.writer()?;
    let piece = key(id)?;
    let rows = desk.side_of_piece(piece).await;
    let mut layers = Vec::new();
    if let Ok(rows) = &rows {
        let own = rows.pieces.iter().find(|p| p.id == piece);
        let own = own.and_then(|p| Kind::Piece.read::<Piece>(&p.spec).ok());
        if let Some(layer) = own.filter(|p| p.layer().is_some()) {
            let sentence = format!(
                "\u{201c}{}\u{201d} is a layer of its lettering. Take it off there, under Words and size.",
                layer.called()
            );
            return Err(Problem::input("layer", sentence));
        }
        layers = layers_of(rows, piece);
    }
    if !anyway.unwrap_or(false)
        && let Ok(rows) = rows
    {
        let job = desk.job(rows.job.id).await?;
        let pieces = job
            .sides
            .iter()
            .filter_map(|s| SideInput::of(s).ok())
            .flat_map(|s| s.pieces);
        still_hanging(
            pieces
                .filter(|(id, p)| p.place.hangs_on(piece) && layers.iter().all(|l| l.0 != *id))
                .map(|(_, p)| p.called()),
        )?;
    }
    let own = (piece, caller.seen()?);
    let with_it = layers.into_iter().map(|(id, seen, _)| (id, seen));
    let gone = |(row, seen)| (RowKind::Piece, row, Change::Remove { seen });
    let changes = std::iter::once(own).chain(with_it).map(gone).collect();
    make_all(desk, &caller, changes).await
}
