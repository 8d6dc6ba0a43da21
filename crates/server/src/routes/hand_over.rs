//! Handing over: issuing a plan, the packet as PDF, a side and a piece as SVG.

use rocket::data::Data;
use rocket::http::{ContentType, Header};
use rocket::response::Responder;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::feature::{Feature, SideFeature};
use windrift_core::plan::{JobAround, Piece, SideParts, plan_side};
use windrift_core::settings::WorkSettings;
use windrift_core::side::Side;
use windrift_formats::packet::{self, Packet, PacketSide, Paper, RecordLine};
use windrift_formats::{dxf, svg};
use windrift_store::{JobRows, SideRows, Store};

use super::jobs::key;
use super::record::{entries_in_words, time_in_words};
use super::{Answer, settings};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::views::{SideInput, unit_of};

/// Most entries of the record that a packet prints; the newest are kept.
const PRINTED_ENTRIES: usize = 400;

/// A plan to be issued.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewPlan {
    /// Made by the client, so that a repeated request is known.
    pub id: Uuid,
}

/// An issued plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlanView {
    /// Its key.
    pub id: Uuid,
    /// Its number on the job, from 1.
    pub number: i32,
    /// When it was issued, in words.
    pub at: String,
    /// Who issued it.
    pub by: String,
}

/// A file to be kept or printed.
#[derive(Responder)]
pub struct File {
    bytes: Vec<u8>,
    kind: ContentType,
    name: Header<'static>,
}

impl File {
    /// A file with a name that any system takes: other characters become hyphens.
    pub fn new(bytes: Vec<u8>, kind: ContentType, name: &str, extension: &str) -> File {
        let safe: String = name
            .chars()
            .map(|c| {
                if c.is_ascii_alphanumeric() {
                    c.to_ascii_lowercase()
                } else {
                    '-'
                }
            })
            .collect();
        File {
            bytes,
            kind,
            name: Header::new(
                "Content-Disposition",
                format!("inline; filename=\"{safe}.{extension}\""),
            ),
        }
    }
}

/// The revisions and the specs that a plan is made from.
fn frozen(rows: &JobRows) -> (Value, Value) {
    let side = |s: &SideRows| {
        json!({
            "id": s.side.id, "spec": s.side.spec,
            "features": s.features.iter().map(|f| json!({ "id": f.id, "spec": f.spec })).collect::<Vec<_>>(),
            "pieces": s.pieces.iter().map(|p| json!({ "id": p.id, "spec": p.spec })).collect::<Vec<_>>(),
        })
    };
    let mut revisions = serde_json::Map::new();
    for s in &rows.sides {
        revisions.insert(s.side.id.to_string(), json!(s.side.revision));
        revisions.extend(
            s.features
                .iter()
                .map(|f| (f.id.to_string(), json!(f.revision))),
        );
        revisions.extend(
            s.pieces
                .iter()
                .map(|p| (p.id.to_string(), json!(p.revision))),
        );
    }
    let snapshot =
        json!({ "version": 1, "sides": rows.sides.iter().map(side).collect::<Vec<_>>() });
    (Value::Object(revisions), snapshot)
}

/// A side as it was frozen.
#[derive(Deserialize)]
struct FrozenSide {
    spec: Side,
    features: Vec<Frozen<Feature>>,
    pieces: Vec<Frozen<Piece>>,
}

/// A frozen side as types of the core.
type OpenedSide = (Side, Vec<SideFeature>, Vec<(Uuid, Piece)>);

#[derive(Deserialize)]
struct Frozen<T> {
    id: Uuid,
    spec: T,
}

/// Issues a plan. Where nothing was changed since the newest, that one is answered.
#[utoipa::path(post, path = "/api/jobs/{id}/plans", params(("id" = Uuid, Path)), request_body = NewPlan, responses((status = 200, body = PlanView), (status = 422, body = Problem)))]
#[post("/jobs/<id>/plans", data = "<data>")]
pub async fn issue_plan(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<PlanView> {
    let who = caller.writer()?.id;
    let rows = store.job(key(id)?).await?;
    let new: NewPlan = read_as(read_json(data).await?)?;
    if rows.sides.iter().all(|s| s.pieces.is_empty()) {
        return Err(Problem::input(
            "empty_plan",
            "There is nothing to hand over yet. Lay out a piece first.",
        ));
    }
    let (revisions, snapshot) = frozen(&rows);
    let plan = store
        .issue_plan(new.id, rows.job.id, who, revisions, snapshot)
        .await?;
    let by = store.crew_member(plan.crew_id).await?.name;
    Ok(Json(PlanView {
        id: plan.id,
        number: plan.number,
        at: time_in_words(plan.at),
        by,
    }))
}

/// Reads which paper is wanted; Letter unless said.
pub fn paper_of(word: Option<&str>) -> Result<Paper, Problem> {
    match word {
        Some("a4") => Ok(Paper::A4),
        None | Some("letter") => Ok(Paper::Letter),
        Some(_) => Err(Problem::input("paper", "Choose Letter or A4.").at("/paper")),
    }
}

/// The packet of an issued plan as PDF.
#[utoipa::path(get, path = "/api/plans/{id}/packet.pdf", params(("id" = Uuid, Path), ("paper" = String, Query, description = "letter or a4")), responses((status = 200, content_type = "application/pdf"), (status = 404, body = Problem)))]
#[get("/plans/<id>/packet.pdf?<paper>")]
pub async fn packet_pdf(
    store: &State<Store>,
    id: &str,
    paper: Option<&str>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let plan = store.plan(key(id)?).await?;
    let job = store.job(plan.job_id).await?.job;
    let settings = settings(store).await?;
    let unit = unit_of(&job.unit);
    let frozen: Vec<FrozenSide> = read_as(plan.snapshot.get("sides").cloned().unwrap_or_default())?;
    let frozen: Vec<OpenedSide> = frozen
        .into_iter()
        .map(|side| {
            let feature = |f: Frozen<Feature>| SideFeature {
                id: f.id,
                feature: f.spec,
            };
            (
                side.spec,
                side.features.into_iter().map(feature).collect(),
                side.pieces.into_iter().map(|p| (p.id, p.spec)).collect(),
            )
        })
        .collect();
    let parts: Vec<SideParts<'_>> = frozen
        .iter()
        .map(|(side, features, pieces)| SideParts {
            side,
            features,
            pieces,
        })
        .collect();
    let mut plans = Vec::new();
    for SideParts {
        side,
        features,
        pieces,
    } in parts.iter().filter(|s| !s.pieces.is_empty())
    {
        let around = JobAround::of(side, &parts, unit);
        plans.push((
            side.name(settings.side_words),
            side.edge_names(settings.side_words).zero,
            plan_side(side, features, pieces, &around, &settings, unit)?,
        ));
    }
    let mut entries = Vec::new();
    while let page = store
        .record(
            job.id,
            entries
                .last()
                .map_or(0, |e: &windrift_store::RecordEntry| e.seq),
            500,
        )
        .await?
        && !page.is_empty()
    {
        entries.extend(page);
    }
    let latest_hash = entries.last().map(|e| e.hash.clone()).unwrap_or_default();
    let newest = entries.len().saturating_sub(PRINTED_ENTRIES);
    let record = entries_in_words(store, entries.get(newest..).unwrap_or_default(), unit)
        .await?
        .into_iter()
        .map(|e| RecordLine {
            seq: e.seq,
            at: e.at,
            who: e.who,
            what: e.what,
        })
        .collect();
    let by = store.crew_member(plan.crew_id).await?.name;
    let packet = Packet {
        shop: store.shop().await?.name,
        title: job.title.clone(),
        customer: job.customer,
        issued: format!(
            "Plan {}, issued {} UTC by {by}",
            plan.number,
            time_in_words(plan.at)
        ),
        sides: plans
            .iter()
            .map(|(name, zero_edge, plan)| PacketSide {
                name: name.clone(),
                zero_edge: zero_edge.clone(),
                plan,
            })
            .collect(),
        record,
        latest_hash,
    };
    let bytes =
        packet::write(&packet, paper).map_err(|e| Problem::input("packet", e.to_string()))?;
    Ok(File::new(
        bytes,
        ContentType::PDF,
        &format!("{} plan {}", job.title, plan.number),
        "pdf",
    ))
}

async fn planned(
    store: &Store,
    rows: &SideRows,
) -> Result<(windrift_core::plan::SidePlan, WorkSettings), Problem> {
    let settings = settings(store).await?;
    Ok((
        SideInput::fetch(store, rows).await?.plan(&settings)?,
        settings,
    ))
}

/// A side with its pieces as SVG at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/side.svg", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/svg+xml")))]
#[get("/sides/<id>/side.svg")]
pub async fn side_svg(store: &State<Store>, id: &str) -> Result<File, Problem> {
    let rows = store.side(key(id)?).await?;
    let (plan, settings) = planned(store, &rows).await?;
    let title = format!(
        "{} {}",
        rows.job.title,
        plan.side.side.name(settings.side_words)
    );
    Ok(File::new(
        svg::side(&plan, &title).into_bytes(),
        ContentType::SVG,
        &title,
        "svg",
    ))
}

/// A side with its pieces as DXF at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/side.dxf", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/vnd.dxf")))]
#[get("/sides/<id>/side.dxf")]
pub async fn side_dxf(store: &State<Store>, id: &str) -> Result<File, Problem> {
    let rows = store.side(key(id)?).await?;
    let (plan, settings) = planned(store, &rows).await?;
    let title = format!(
        "{} {}",
        rows.job.title,
        plan.side.side.name(settings.side_words)
    );
    Ok(File::new(
        dxf::side(&plan).into_bytes(),
        ContentType::new("image", "vnd.dxf"),
        &title,
        "dxf",
    ))
}

/// One piece alone for the cutter as SVG at full size, mm.
#[utoipa::path(get, path = "/api/pieces/{id}/piece.svg", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/svg+xml"), (status = 422, body = Problem)))]
#[get("/pieces/<id>/piece.svg")]
pub async fn piece_svg(store: &State<Store>, id: &str) -> Result<File, Problem> {
    let piece = key(id)?;
    let rows = store.side_of_piece(piece).await?;
    let (plan, _) = planned(store, &rows).await?;
    if let Some((_, error)) = plan.failed.iter().find(|(id, _)| *id == piece) {
        return Err(error.clone().into());
    }
    let found = plan
        .pieces
        .iter()
        .find(|p| p.id == piece)
        .ok_or(windrift_store::StoreError::NotFound("piece"))?;
    Ok(File::new(
        svg::piece(found).into_bytes(),
        ContentType::SVG,
        &found.piece.called(),
        "svg",
    ))
}
