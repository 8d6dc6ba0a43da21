//! Handing over: issuing a plan, the packet as PDF, a side and a piece as SVG.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use rocket::data::Data;
use rocket::http::{ContentType, Cookie, CookieJar, SameSite};
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::around::JobAround;
use windrift_core::plan::other_sides::SideParts;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::vehicle::feature::SideFeature;
use windrift_core::vehicle::side::Side;
use windrift_formats::packet::{Packet, PacketSide, RecordLine};
use windrift_formats::{dxf, packet, photo, svg};
use windrift_store::stored::Kind;
use windrift_store::{JobRows, RecordEntry, SideRows, StoreError, hex};

use crate::desk::Desk;
use crate::entries::entries_in_words;
use crate::file::{File, paper_of};
use crate::keys::{for_whom, key};
use crate::links::shared;
use crate::marked::marking_paper;
use crate::packet_lines::{heat_lines, photographed};
use crate::planned::{PlannedSide, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::tape_rolls::lots_of_side;
use crate::ways::{Ways, own_id};

/// Most entries of the record that a packet prints; the newest are kept.
const PRINTED_ENTRIES: usize = 400;
/// Longest edge of a photo on paper, pixels.
const PRINTED_PHOTO: u32 = 1600;

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
    /// Whether nothing that is laid out was changed since.
    pub stands: bool,
}

/// What a plan froze. What is printed comes from `printed` alone; the rest says what it was made from.
#[derive(Debug, Serialize, Deserialize)]
struct Frozen {
    /// The job's unit.
    #[serde(default)]
    unit: Option<Unit>,
    /// The shop's name.
    #[serde(default)]
    shop: String,
    /// What the job is called.
    #[serde(default)]
    title: String,
    /// Whom it is for.
    #[serde(default)]
    customer: String,
    /// The shop's ways of working.
    #[serde(default)]
    settings: Option<WorkSettings>,
    /// Typefaces of the shop's own, by the hash of their file.
    #[serde(default)]
    typefaces: BTreeMap<String, String>,
    /// Marked vehicle as it was.
    #[serde(default)]
    marked_vehicle: Option<Value>,
    /// The specs of every side.
    sides: Vec<Value>,
    /// Every figure and line that the packet prints; nothing in plans of the first release.
    #[serde(default)]
    printed: Option<Vec<PacketSide>>,
}

/// The revisions of everything that is laid out.
fn revisions_of(rows: &JobRows) -> Value {
    let mut revisions = serde_json::Map::new();
    for s in &rows.sides {
        revisions.insert(s.side.id.to_string(), json!(s.side.revision));
        let features = s.features.iter().map(|f| (f.id, f.revision));
        let pieces = s.pieces.iter().map(|p| (p.id, p.revision));
        let marking = s.marking.iter().map(|m| (m.id, m.revision));
        for (id, revision) in features.chain(pieces).chain(marking) {
            revisions.insert(id.to_string(), json!(revision));
        }
    }
    Value::Object(revisions)
}

/// The revisions that a plan is made from, and what it freezes: specs, settings, unit, words, typefaces by content, marking, and every
/// figure that is printed.
async fn frozen(desk: &Desk, rows: &JobRows) -> Result<(Value, Value), Problem> {
    let ways = desk.ways().await?;
    let mut sides = Vec::new();
    let mut printed = Vec::new();
    for s in &rows.sides {
        sides.push(json!({
            "id": s.side.id, "spec": s.side.spec,
            "features": s.features.iter().map(|f| json!({ "id": f.id, "spec": f.spec })).collect::<Vec<_>>(),
            "pieces": s.pieces.iter().map(|p| json!({ "id": p.id, "spec": p.spec })).collect::<Vec<_>>(),
            "marking": s.marking.as_ref().map(|m| &m.spec),
        }));
        if s.pieces.is_empty() && s.marking.is_none() {
            continue;
        }
        let planned = desk.planned(rows, s.side.id, &ways).await?;
        // A plan is issued whole: what cannot be read or placed would be missing on the paper without a word.
        if let Some(unread) = planned.input.unreadable.first() {
            return Err(StoreError::unreadable(unread.kind.word(), unread.why.clone()).into());
        }
        if let Some((id, error)) = planned.plan.failed.first() {
            let called = planned.input.pieces.iter().find(|(p, _)| p == id);
            return Err(Problem::input(
                "cannot_be_placed",
                format!(
                    "\u{201c}{}\u{201d} on the {} cannot be placed: {error} Mend it under Lay out, then issue the plan.",
                    called.map(|(_, p)| p.called()).unwrap_or_default(),
                    planned.input.side.name(ways.side_words)
                ),
            ));
        }
        let (settings, today) = (ways.settings, ways.today());
        let mut side = desk
            .compute(move || PacketSide::of(&planned.plan, &settings, today, planned.input.unit))
            .await?;
        if s.marking.is_some() && s.vehicle.is_some() {
            let rows = desk.side(s.side.id).await?;
            let lots = lots_of_side(desk, &rows).await?;
            side.marking = Some(marking_paper(desk, &rows, false, &lots).await?);
        }
        printed.push(side);
    }
    let frozen = Frozen {
        unit: Some(unit_of(&rows.job.unit)?),
        shop: desk.shop().await?.name,
        title: rows.job.title.clone(),
        customer: for_whom(&rows.job),
        settings: Some(ways.settings),
        typefaces: ways
            .own
            .iter()
            .map(|o| (own_id(o.id), o.hash.clone()))
            .collect(),
        marked_vehicle: rows
            .sides
            .iter()
            .find_map(|s| s.vehicle.as_ref())
            .map(|v| v.spec.clone()),
        sides,
        printed: Some(printed),
    };
    Ok((revisions_of(rows), Kind::Plan.write(&frozen)?))
}

/// What a plan of the first release, which froze the specs alone, prints: worked out from them with the shop's ways of today.
async fn printed_anew(
    desk: &Desk,
    frozen: &Frozen,
    unit: Unit,
) -> Result<Vec<PacketSide>, Problem> {
    #[derive(Deserialize)]
    struct Row {
        id: Uuid,
        spec: Value,
    }
    #[derive(Deserialize)]
    struct Side1 {
        spec: Value,
        features: Vec<Row>,
        pieces: Vec<Row>,
    }
    type Opened = (Side, Vec<SideFeature>, Vec<(Uuid, Piece)>);
    let mut opened: Vec<Opened> = Vec::new();
    for side in &frozen.sides {
        let side: Side1 = read_as(side.clone())?;
        let features = side
            .features
            .iter()
            .map(|f| {
                let feature = Kind::Feature.read(&f.spec)?;
                Ok(SideFeature { id: f.id, feature })
            })
            .collect::<Result<_, StoreError>>()?;
        let pieces = side
            .pieces
            .iter()
            .map(|p| Ok((p.id, Kind::Piece.read(&p.spec)?)))
            .collect::<Result<_, StoreError>>()?;
        opened.push((Kind::Side.read(&side.spec)?, features, pieces));
    }
    let ways = desk.ways().await?;
    desk.compute(move || {
        let parts: Vec<SideParts<'_>> = opened
            .iter()
            .map(|(side, features, pieces)| SideParts {
                side,
                features,
                pieces,
            })
            .collect();
        parts
            .iter()
            .filter(|s| !s.pieces.is_empty())
            .map(|part| {
                let around = JobAround::of(part.side, &parts, &ways.faces, unit);
                let plan = plan_side(
                    part.side,
                    part.features,
                    part.pieces,
                    &around,
                    &ways.settings,
                    unit,
                )?;
                Ok(PacketSide::of(&plan, &ways.settings, ways.today(), unit))
            })
            .collect()
    })
    .await?
}

/// Issues a plan. Where nothing was changed since the newest, that one is answered.
#[utoipa::path(post, path = "/api/jobs/{id}/plans", params(("id" = Uuid, Path)), request_body = NewPlan, responses((status = 200, body = PlanView), (status = 422, body = Problem)))]
#[post("/jobs/<id>/plans", data = "<data>")]
pub async fn issue_plan(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<PlanView> {
    let who = caller.writer()?.id;
    let rows = desk.job(key(id)?).await?;
    let new: NewPlan = read_as(read_json(data).await?)?;
    if rows
        .sides
        .iter()
        .all(|s| s.pieces.is_empty() && s.marking.is_none())
    {
        return Err(Problem::input(
            "empty_plan",
            "There is nothing to hand over yet. Lay out a piece, or settle the marking, first.",
        ));
    }
    let (revisions, snapshot) = frozen(desk, &rows).await?;
    let plan = desk
        .issue_plan(new.id, rows.job.id, who, revisions, snapshot)
        .await?;
    let by = desk.crew_member(plan.crew_id).await?.name;
    Ok(Json(PlanView {
        id: plan.id,
        number: plan.number,
        at: desk.ways().await?.zone.stated(plan.at),
        by,
        stands: true,
    }))
}

/// The plans that were issued of a job, newest first: each prints the same for good.
#[utoipa::path(get, path = "/api/jobs/{id}/plans", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<PlanView>), (status = 404, body = Problem)))]
#[get("/jobs/<id>/plans")]
pub async fn plans(desk: &Desk, id: &str) -> Answer<Vec<PlanView>> {
    let rows = desk.job(key(id)?).await?;
    let now = revisions_of(&rows);
    let zone = desk.ways().await?.zone;
    let crew: BTreeMap<Uuid, String> = (desk.crew().await?.into_iter())
        .map(|c| (c.id, c.name))
        .collect();
    let plans = desk.plans(rows.job.id).await?.into_iter();
    Ok(Json(
        plans
            .map(|(id, number, at, who, revisions)| PlanView {
                id,
                number,
                at: zone.stated(at),
                by: crew.get(&who).cloned().unwrap_or_default(),
                stands: revisions == now,
            })
            .collect(),
    ))
}

/// What of a plan is printed: the sides and the pieces that were asked for.
fn chosen(
    mut sides: Vec<PacketSide>,
    names: Option<&str>,
    pieces: Option<&str>,
) -> Result<Vec<PacketSide>, Problem> {
    if let Some(names) = names {
        let names: Vec<&str> = names.split(',').map(str::trim).collect();
        sides.retain(|s| names.contains(&s.name.as_str()));
    }
    if let Some(pieces) = pieces {
        let keys: Vec<Uuid> = pieces.split(',').map(key).collect::<Result<_, _>>()?;
        for side in &mut sides {
            side.pieces.retain(|p| keys.contains(&p.id));
            side.marking = None;
        }
        sides.retain(|s| !s.pieces.is_empty());
    }
    if sides.is_empty() {
        return Err(Problem::input(
            "nothing_chosen",
            "None of these is in this plan. It may have been added or renamed since: issue the plan again.",
        ));
    }
    Ok(sides)
}

/// The packet of the newest plan of the job that a link opens.
#[utoipa::path(get, path = "/api/shared/{token}/packet.pdf", params(("token" = String, Path), ("paper" = Option<String>, Query, description = "letter or a4")), responses((status = 200, content_type = "application/pdf"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/shared/<token>/packet.pdf?<paper>")]
pub async fn shared_packet(desk: &Desk, token: &str, paper: Option<&str>) -> Result<File, Problem> {
    let job = shared(desk, token).await?.job_id;
    let plan = desk.newest_plan(job).await?;
    let plan = plan.ok_or(StoreError::NotFound("plan"))?.id.to_string();
    written(desk, &plan, paper, (None, None)).await
}

/// The packet of an issued plan as PDF.
#[utoipa::path(get, path = "/api/plans/{id}/packet.pdf", params(("id" = Uuid, Path), ("paper" = String, Query, description = "letter or a4"), ("sides" = Option<String>, Query, description = "Names of the sides that are printed, one after the other with commas between; all where nothing is said"), ("pieces" = Option<String>, Query, description = "Keys of the pieces that are printed, with commas between; all of those sides where nothing is said"), ("seen" = Option<Uuid>, Query, description = "A key of the page that asks: once the packet is written a cookie `packet-KEY` says so, since a page cannot see what another tab gets")), responses((status = 200, content_type = "application/pdf"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/plans/<id>/packet.pdf?<paper>&<sides>&<pieces>&<seen>")]
pub async fn packet_pdf(
    desk: &Desk,
    cookies: &CookieJar<'_>,
    id: &str,
    paper: Option<&str>,
    sides: Option<&str>,
    pieces: Option<&str>,
    seen: Option<&str>,
) -> Result<File, Problem> {
    let seen = seen.map(key).transpose()?;
    let file = written(desk, id, paper, (sides, pieces)).await;
    if let Some(seen) = seen {
        // Also where it could not be written: then the other tab says why.
        let told = Cookie::build((format!("packet-{seen}"), "written"))
            .path("/")
            .same_site(SameSite::Strict)
            .max_age(time::Duration::minutes(1));
        cookies.add(told);
    }
    file
}

async fn written(
    desk: &Desk,
    id: &str,
    paper: Option<&str>,
    (only_sides, only_pieces): (Option<&str>, Option<&str>),
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let plan = desk.plan(key(id)?).await?;
    if !desk.plan_is_whole(plan.id).await? {
        return Err(StoreError::unreadable(
            "plan",
            "what it froze is not what its hash was made over",
        )
        .into());
    }
    let frozen: Frozen = Kind::Plan.read(&plan.snapshot)?;
    let job = desk.job(plan.job_id).await?.job;
    let unit = match frozen.unit {
        Some(unit) => unit,
        None => unit_of(&job.unit)?,
    };
    let sides = match &frozen.printed {
        Some(printed) => printed.clone(),
        None => printed_anew(desk, &frozen, unit).await?,
    };
    let sides = chosen(sides, only_sides, only_pieces)?;
    // Of a part of a plan the photos of that part.
    let only: Option<BTreeSet<Uuid>> = (only_sides.or(only_pieces))
        .map(|_| sides.iter().flat_map(|s| &s.pieces).map(|p| p.id).collect());
    let mut entries: Vec<RecordEntry> = Vec::new();
    while let page = desk
        .record(job.id, entries.last().map_or(0, |e| e.seq), 500)
        .await?
        && !page.is_empty()
    {
        entries.extend(page);
    }
    let (latest_entry, latest_hash) = entries
        .last()
        .map(|e| (e.seq, e.hash.clone()))
        .unwrap_or_default();
    // What the record said when the plan was issued is part of it and stays so; what came later stands by itself.
    let issued_at = entries.iter().position(|e| e.id == plan.id);
    let (before, since) = entries.split_at(issued_at.map_or(entries.len(), |at| at + 1));
    let newest = |all: &[RecordEntry]| all.len().saturating_sub(PRINTED_ENTRIES);
    let mut lines = Vec::new();
    for part in [before, since] {
        let words = entries_in_words(desk, &part[newest(part)..], unit).await?;
        lines.push(
            words
                .into_iter()
                .map(|e| RecordLine {
                    seq: e.seq,
                    at: e.at,
                    who: e.who,
                    what: e.what,
                    piece: e.piece,
                })
                .collect::<Vec<_>>(),
        );
    }
    let since = lines.pop().unwrap_or_default();
    let record = lines.pop().unwrap_or_default();
    let by = desk.crew_member(plan.crew_id).await?.name;
    let or = |kept: &str, now: &str| if kept.is_empty() { now } else { kept }.to_owned();
    // By the clock as it was set when the plan was issued; the hour of printing by today's.
    let zone = desk.ways().await?.zone;
    let frozen_zone = frozen.settings.map_or(zone, |s| s.zone);
    let (photographed, photos_foot) = photographed(desk, &entries, unit, only.as_ref()).await?;
    let mut photos = BTreeMap::new();
    for key in sides
        .iter()
        .flat_map(PacketSide::photos)
        .collect::<BTreeSet<_>>()
    {
        // One that is gone is not printed; what stands on the side is.
        if let Ok(photo) = desk.photo(key).await {
            photos.insert(key, photo.jpeg);
        }
    }
    // Six on a page, each a third of it wide: the small copy is fine enough there, and sixty whole ones would take half a minute.
    for line in &photographed {
        if let Ok(photo) = desk.photo(line.photo).await {
            photos.entry(line.photo).or_insert(photo.small);
        }
    }
    let mut packet = Packet {
        photos,
        shop: or(&frozen.shop, &desk.shop().await?.name),
        title: or(&frozen.title, &job.title),
        customer: or(&frozen.customer, &for_whom(&job)),
        issued: format!(
            "Plan {}, issued {} by {by}",
            plan.number,
            frozen_zone.stated(plan.at)
        ),
        printed: format!("Printed {}", zone.stated(time::OffsetDateTime::now_utc())),
        plan_hash: plan.hash.map(|h| hex(&h)).unwrap_or_default(),
        clock: zone.name().to_owned(),
        sides,
        record,
        since,
        heat: heat_lines(desk, job.id).await?,
        photographed,
        photos_foot,
        latest_entry,
        latest_hash,
    };
    let name = format!("{} plan {}", packet.title, plan.number);
    let bytes = desk
        .compute(move || {
            packet.photos = std::mem::take(&mut packet.photos)
                .into_iter()
                .filter_map(|(key, jpeg)| Some((key, photo::for_paper(&jpeg, PRINTED_PHOTO).ok()?)))
                .collect();
            packet::write(&packet, paper)
        })
        .await?
        .map_err(|e| Problem::input("packet", e.to_string()))?;
    Ok(File::new(bytes, ContentType::PDF, &name, "pdf"))
}

async fn planned(desk: &Desk, rows: &SideRows) -> Result<(Arc<PlannedSide>, Ways), Problem> {
    let ways = desk.ways().await?;
    let job = desk.job(rows.job.id).await?;
    Ok((desk.planned(&job, rows.side.id, &ways).await?, ways))
}

/// A side with its pieces as SVG at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/side.svg", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/svg+xml")))]
#[get("/sides/<id>/side.svg")]
pub async fn side_svg(desk: &Desk, id: &str) -> Result<File, Problem> {
    let rows = desk.side(key(id)?).await?;
    let (planned, settings) = planned(desk, &rows).await?;
    let plan = &planned.plan;
    let title = format!(
        "{} {}",
        rows.job.title,
        plan.side.side.name(settings.side_words)
    );
    Ok(File::new(
        svg::side(plan, &title).into_bytes(),
        ContentType::SVG,
        &title,
        "svg",
    ))
}

/// A side with its pieces as DXF at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/side.dxf", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/vnd.dxf")))]
#[get("/sides/<id>/side.dxf")]
pub async fn side_dxf(desk: &Desk, id: &str) -> Result<File, Problem> {
    let rows = desk.side(key(id)?).await?;
    let (planned, settings) = planned(desk, &rows).await?;
    let plan = &planned.plan;
    let title = format!(
        "{} {}",
        rows.job.title,
        plan.side.side.name(settings.side_words)
    );
    Ok(File::new(
        dxf::side(plan).into_bytes(),
        ContentType::new("image", "vnd.dxf"),
        &title,
        "dxf",
    ))
}

/// One piece alone for the cutter as SVG at full size, mm.
#[utoipa::path(get, path = "/api/pieces/{id}/piece.svg", params(("id" = Uuid, Path)), responses((status = 200, content_type = "image/svg+xml"), (status = 422, body = Problem)))]
#[get("/pieces/<id>/piece.svg")]
pub async fn piece_svg(desk: &Desk, id: &str) -> Result<File, Problem> {
    let piece = key(id)?;
    let rows = desk.side_of_piece(piece).await?;
    let (planned, _) = planned(desk, &rows).await?;
    let plan = &planned.plan;
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
