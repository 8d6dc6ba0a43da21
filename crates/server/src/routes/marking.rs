//! Reflective marking of a side: what is settled, the best layout, the audit of it, of one changed by hand, or of one read back; the
//! report; the record.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{delete, get, post, put};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::mm::printed;
use windrift_core::marking::both_sides::{MarkedSide, differences};
use windrift_core::marking::{FROM_MEMORY, Face, FaceMarking, Stock, VehicleMarking};
use windrift_core::vehicle::side::Side;
use windrift_formats::marking_drawing::{dxf, svg};
use windrift_formats::marking_report::{MarkingHeading, MarkingPaper, write};
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::marking::one_of;
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, NewEntry, RecordEntry};

use crate::desk::Desk;
use crate::editing::{Editing, RowSpec, answered_before, make, spec_of};
use crate::file::{File, paper_of};
use crate::keys::{for_whom, key};
use crate::marked::{
    input_of, marking_paper, sentences, settled, settled_parts, still_unread, suggested,
};
use crate::planned::unit_of;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_typed};
use crate::routes::Answer;
use crate::tape_rolls::lots_of_side;
use crate::views::{MarkingFound, MarkingInput, MarkingView, PartName, TapeGives};

/// A marking that is tried, not kept.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MarkingTry {
    /// What would be settled about the face. Lengths may be typed as text.
    pub marking: FaceMarking,
    /// Whether what was read back is audited rather than the layout.
    #[serde(default)]
    pub read_back: bool,
}

/// An audit that is recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewAudit {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// Whether what was read back is recorded rather than the layout.
    pub read_back: bool,
}

/// The marking of a side.
#[utoipa::path(get, path = "/api/sides/{id}/marking", params(("id" = Uuid, Path), ("read_back" = Option<bool>, Query, description = "Audit what was read back")), responses((status = 200, body = MarkingView)))]
#[get("/sides/<id>/marking?<read_back>")]
pub async fn marking(desk: &Desk, id: &str, read_back: Option<bool>) -> Answer<MarkingView> {
    let rows = desk.side(key(id)?).await?;
    let unit = unit_of(&rows.job.unit)?;
    let marking = settled(&rows)?;
    let found = match input_of(desk, &rows, marking.clone()).await? {
        Some(input) => {
            let input = MarkingInput {
                read_back: read_back.unwrap_or(false),
                ..input
            };
            Some(desk.compute(move || input.found()).await?)
        }
        None => None,
    };
    let like = match &marking {
        Some(_) => None,
        None => {
            let job = desk.job(rows.job.id).await?;
            let other = job.sides.iter().find_map(|s| s.marking.as_ref());
            other.map(|m| Kind::Marking.read(&m.spec)).transpose()?
        }
    };
    let vehicle: Option<VehicleMarking> = rows
        .vehicle
        .as_ref()
        .map(|v| Kind::MarkedVehicle.read(&v.spec))
        .transpose()?;
    let side: Side = Kind::Side.read(&rows.side.spec)?;
    let words = desk.ways().await?.side_words;
    let suggested = suggested(desk, &rows, words).await?;
    Ok(Json(MarkingView {
        said: sentences(&side, vehicle.as_ref(), marking.as_ref(), words, unit),
        side: rows.side.id,
        face: Face::of(side.kind),
        parts: PartName::all(side.ends(words)),
        vehicle_printed: printed(&vehicle.clone().or_else(|| Some(suggested.clone())), unit),
        suggested,
        vehicle,
        vehicle_revision: rows.vehicle.as_ref().map_or(0, |v| v.revision),
        vehicle_id: one_of(rows.job.id),
        printed: printed(&marking, unit),
        revision: rows.marking.as_ref().map_or(0, |m| m.revision),
        id: one_of(rows.side.id),
        marking,
        like,
        found,
        from_memory: FROM_MEMORY,
    }))
}

/// What each tape of the shelf would give on a side.
#[utoipa::path(get, path = "/api/sides/{id}/marking/tapes", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<TapeGives>), (status = 422, body = Problem)))]
#[get("/sides/<id>/marking/tapes")]
pub async fn tapes_give(desk: &Desk, id: &str) -> Answer<Vec<TapeGives>> {
    let rows = desk.side(key(id)?).await?;
    let input = input_of(desk, &rows, settled(&rows)?)
        .await?
        .ok_or_else(no_vehicle)?;
    let shelf: Vec<(Uuid, String, Stock)> = (desk.tapes().await?.into_iter())
        .filter_map(|t| Some((t.id, t.name, Kind::Tape.read(&t.spec).ok()?)))
        .collect();
    let all = desk.compute(move || {
        let given = shelf
            .into_iter()
            .map(|(id, name, stock)| input.gives(id, name, stock));
        given.collect::<Vec<_>>()
    });
    Ok(Json(all.await?))
}

/// What differs between the marking of this side and that of the vehicle's other side.
#[derive(Debug, Serialize, ToSchema)]
pub struct OtherSide {
    /// What the other side is called.
    pub name: String,
    /// What differs, in sentences; nothing where both are alike.
    pub differs: Vec<String>,
}

/// The layout of this side beside those of the other sides that are marked.
#[utoipa::path(get, path = "/api/sides/{id}/marking/other-sides", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<OtherSide>), (status = 422, body = Problem)))]
#[get("/sides/<id>/marking/other-sides")]
pub async fn other_sides(desk: &Desk, id: &str) -> Answer<Vec<OtherSide>> {
    let rows = desk.side(key(id)?).await?;
    let of_side = |rows: &windrift_store::SideRows| -> Result<Side, Problem> {
        Ok(Kind::Side.read(&rows.side.spec)?)
    };
    let side = of_side(&rows)?;
    if Face::of(side.kind) != Face::Side || rows.marking.is_none() {
        return Ok(Json(Vec::new()));
    }
    let words = desk.ways().await?.side_words;
    let (input, here) = settled_parts(desk, &rows, false).await?;
    let mut told = Vec::new();
    for other in &desk.job(rows.job.id).await?.sides {
        let there = of_side(other)?;
        let marked = other.marking.is_some() && other.side.id != rows.side.id;
        if !marked || Face::of(there.kind) != Face::Side {
            continue;
        }
        let name = there.name(words);
        let (_, found) = settled_parts(desk, other, false).await?;
        let differs = differences(
            MarkedSide {
                side: &here.side,
                strips: &here.planned,
            },
            MarkedSide {
                side: &found.side,
                strips: &found.planned,
            },
            &name,
            input.ends(),
            input.unit,
        );
        told.push(OtherSide { name, differs });
    }
    Ok(Json(told))
}

fn checked(marking: &FaceMarking, at: &str) -> Result<(), Problem> {
    Ok(marking.check().map_err(|told| told.within(at))?)
}

/// Tries a marking: what it would be, without keeping it.
#[utoipa::path(post, path = "/api/sides/{id}/marking", params(("id" = Uuid, Path)), request_body = MarkingTry, responses((status = 200, body = MarkingFound), (status = 422, body = Problem)))]
#[post("/sides/<id>/marking", data = "<data>")]
pub async fn try_marking(desk: &Desk, id: &str, data: Data<'_>) -> Answer<MarkingFound> {
    let rows = desk.side(key(id)?).await?;
    let body = read_json(data).await?;
    let tried: MarkingTry = read_typed(body, unit_of(&rows.job.unit)?)?;
    checked(&tried.marking, "/marking")?;
    let input = input_of(desk, &rows, Some(tried.marking))
        .await?
        .ok_or_else(no_vehicle)?;
    let input = MarkingInput {
        read_back: tried.read_back,
        ..input
    };
    Ok(Json(desk.compute(move || input.found()).await?))
}

fn no_vehicle() -> Problem {
    Problem::input(
        "vehicle",
        "Say what vehicle it is first: its kind, width, weight and when it was built, as far as they are known.",
    )
}

/// One edit of a row of which its parent has one: added where there is none, else replaced.
async fn keep_one(
    desk: &Desk,
    caller: &Caller,
    kind: RowKind,
    parent: Uuid,
    there: bool,
    spec: Value,
) -> Editing {
    let seen = caller.seen()?;
    let change = if seen == 0 && !there {
        Change::Add { parent, spec }
    } else {
        Change::Replace { seen, spec }
    };
    make(desk, caller, kind, one_of(parent), change).await
}

/// Settles a side's marking. If-Match is its revision, 0 where there is none yet.
#[utoipa::path(put, path = "/api/sides/{id}/marking", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/sides/<id>/marking", data = "<data>")]
pub async fn keep_marking(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let rows = desk.side(key(id)?).await?;
    let (marking, spec) = spec_of::<FaceMarking>(body, &rows.job, Kind::Marking)?;
    checked(&marking, "/spec")?;
    let there = rows.marking.is_some();
    keep_one(desk, &caller, RowKind::Marking, rows.side.id, there, spec).await
}

/// Removes a side's marking.
#[utoipa::path(delete, path = "/api/sides/{id}/marking", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem)))]
#[delete("/sides/<id>/marking")]
pub async fn remove_marking(desk: &Desk, caller: Caller, id: &str) -> Editing {
    let change = Change::Remove {
        seen: caller.seen()?,
    };
    let row = one_of(key(id)?);
    make(desk, &caller, RowKind::Marking, row, change).await
}

/// Settles the vehicle of a job as the rules of marking see it. If-Match is its revision, 0 where there is none yet.
#[utoipa::path(put, path = "/api/jobs/{id}/marked-vehicle", params(("id" = Uuid, Path)), request_body = RowSpec, responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/jobs/<id>/marked-vehicle", data = "<data>")]
pub async fn keep_vehicle(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Editing {
    let body = read_json(data).await?;
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let job = desk.job(key(id)?).await?;
    let (vehicle, spec) = spec_of::<VehicleMarking>(body, &job.job, Kind::MarkedVehicle)?;
    vehicle.check().map_err(|told| told.within("/spec"))?;
    let there = job.sides.iter().any(|s| s.vehicle.is_some());
    keep_one(
        desk,
        &caller,
        RowKind::MarkedVehicle,
        job.job.id,
        there,
        spec,
    )
    .await
}

/// Records the audit of a side's marking as it stands.
#[utoipa::path(post, path = "/api/sides/{id}/marking/record", params(("id" = Uuid, Path)), request_body = NewAudit, responses((status = 200, body = RecordEntry), (status = 422, body = Problem)))]
#[post("/sides/<id>/marking/record", data = "<data>")]
pub async fn record_audit(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RecordEntry> {
    let crew = caller.writer()?.id;
    let rows = desk.side(key(id)?).await?;
    let new: NewAudit = read_as(read_json(data).await?)?;
    let (input, parts) = settled_parts(desk, &rows, new.read_back).await?;
    let unread = still_unread(&input.marking);
    if new.read_back && unread > 0 {
        return Err(Problem::input(
            "unread",
            format!(
                "{} not read yet. Read each, or say that it is not there; then record the audit.",
                if unread == 1 {
                    "One strip is".to_owned()
                } else {
                    format!("{unread} strips are")
                }
            ),
        ));
    }
    let side: Side = Kind::Side.read(&rows.side.spec)?;
    let words = desk.ways().await?.side_words;
    let body = json!({
        "side": rows.side.id,
        "called": side.called.clone().unwrap_or_else(|| side.kind.name(words).to_owned()),
        "audits": parts.audits,
        "vehicle": input.vehicle,
        "by": parts.rules.as_ref().map(|r| r.set),
        "applies": parts.applies,
        "strips": parts.strips,
        "audit": parts.audit,
        "corrections": input.corrections,
        "marking_revision": rows.marking.as_ref().map(|m| m.revision),
        "from_memory": FROM_MEMORY,
    });
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Marking,
        crew,
        piece: None,
        body,
        read_at: caller.read_at(),
    };
    Ok(Json(desk.append(rows.job.id, entry).await?))
}

/// The audit of a side's marking on one page. It is no approval.
#[utoipa::path(get, path = "/api/sides/{id}/marking.pdf", params(("id" = Uuid, Path), ("paper" = Option<String>, Query, description = "`letter` or `a4`"), ("read_back" = Option<bool>, Query, description = "What was read back")), responses((status = 200, content_type = "application/pdf"), (status = 422, body = Problem)))]
#[get("/sides/<id>/marking.pdf?<paper>&<read_back>")]
pub async fn marking_report(
    desk: &Desk,
    id: &str,
    paper: Option<&str>,
    read_back: Option<bool>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let rows = desk.side(key(id)?).await?;
    let shop = desk.shop().await?.name;
    let zone = desk.ways().await?.zone;
    let lots = lots_of_side(desk, &rows).await?;
    let marked = marking_paper(desk, &rows, read_back.unwrap_or(false), &lots).await?;
    let stated = zone.stated(time::OffsetDateTime::now_utc());
    let heading = MarkingHeading {
        shop: &shop,
        title: &rows.job.title,
        customer: &for_whom(&rows.job),
        at: &stated,
    };
    let bytes = write(&heading, &marked, paper)
        .map_err(|e| Problem::input("marking_report", e.to_string()))?;
    let file = format!("{} {} marking", rows.job.title, marked.side);
    Ok(File::new(bytes, ContentType::PDF, &file, "pdf"))
}

/// The strips of a side as SVG at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/strips.svg", params(("id" = Uuid, Path), ("read_back" = Option<bool>, Query, description = "What was read back")), responses((status = 200, content_type = "image/svg+xml"), (status = 422, body = Problem)))]
#[get("/sides/<id>/strips.svg?<read_back>")]
pub async fn strips_svg(desk: &Desk, id: &str, read_back: Option<bool>) -> Result<File, Problem> {
    let (name, marked) = drawing(desk, id, read_back).await?;
    Ok(File::new(
        svg(&marked).into_bytes(),
        ContentType::SVG,
        &name,
        "svg",
    ))
}

/// The strips of a side as DXF at full size, mm.
#[utoipa::path(get, path = "/api/sides/{id}/strips.dxf", params(("id" = Uuid, Path), ("read_back" = Option<bool>, Query, description = "What was read back")), responses((status = 200, content_type = "image/vnd.dxf"), (status = 422, body = Problem)))]
#[get("/sides/<id>/strips.dxf?<read_back>")]
pub async fn strips_dxf(desk: &Desk, id: &str, read_back: Option<bool>) -> Result<File, Problem> {
    let (name, marked) = drawing(desk, id, read_back).await?;
    let kind = ContentType::new("image", "vnd.dxf");
    Ok(File::new(dxf(&marked).into_bytes(), kind, &name, "dxf"))
}

/// What a drawing of strips is called, and what it shows.
async fn drawing(
    desk: &Desk,
    id: &str,
    read_back: Option<bool>,
) -> Result<(String, MarkingPaper), Problem> {
    let rows = desk.side(key(id)?).await?;
    let lots = lots_of_side(desk, &rows).await?;
    let marked = marking_paper(desk, &rows, read_back.unwrap_or(false), &lots).await?;
    Ok((format!("{} {} strips", rows.job.title, marked.side), marked))
}
