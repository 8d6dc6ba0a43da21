//! The walk round: damage, doubts, photos, hardware off and on again, the customer's word. Everything is an entry of the record.

use std::collections::BTreeMap;

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::walk_round::WalkEntry;
use windrift_formats::photo::for_paper;
use windrift_formats::walk_sheet::{Finding, WalkSheet, WalkSide, write};
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, JobRows, NewEntry};

use crate::desk::Desk;
use crate::file::{File, paper_of};
use crate::keys::{for_whom, key};
use crate::links::shared;
use crate::planned::unit_of;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json, read_typed};
use crate::routes::Answer;
use crate::walked::{DamageView, MOST_ENTRIES, WalkRoundView, view, walked, walked_sides};

/// An entry to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewWalkEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded. Lengths may be typed as text.
    pub entry: WalkEntry,
}

/// How the walk round of a job stands.
#[utoipa::path(get, path = "/api/jobs/{id}/walk-round", params(("id" = Uuid, Path)), responses((status = 200, body = WalkRoundView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/walk-round")]
pub async fn walk_round(desk: &Desk, id: &str) -> Answer<WalkRoundView> {
    let job = desk.job(key(id)?).await?;
    Ok(Json(view(desk, &job).await?))
}

/// Whatever an entry names must be of this job; damage must lie on its side.
async fn check_named(desk: &Desk, job: &JobRows, entry: &WalkEntry) -> Result<(), Problem> {
    let side_of = |id: Uuid| {
        job.sides
            .iter()
            .find(|s| s.side.id == id)
            .ok_or(Problem::from(windrift_store::StoreError::NotFound("side")))
    };
    let has_photo = async |photo: Uuid| {
        if desk.has_photo(job.job.id, photo).await? {
            Ok(())
        } else {
            Err(Problem::from(windrift_store::StoreError::NotFound("photo")))
        }
    };
    match entry {
        WalkEntry::Damage(damage) => {
            let side: Side = Kind::Side.read(&side_of(damage.side)?.side.spec)?;
            let at = side
                .datum()
                .drop_point(damage.back_mm.mm(), damage.drop_mm.mm());
            if !side.outline().bounds.inflate(20.0, 20.0).contains(at) {
                return Err(Problem::input(
                    "measure",
                    "This place is not on the side. Measure it from the zero of the tape and down from the reference.",
                )
                .at("/entry/back_mm"));
            }
            if let Some(photo) = damage.photo {
                has_photo(photo).await?;
            }
        }
        WalkEntry::PaintDoubt { side, .. } => {
            side_of(*side)?;
        }
        WalkEntry::Photo { side, photo, .. } => {
            side_of(*side)?;
            has_photo(*photo).await?;
        }
        WalkEntry::HardwareOff { feature } | WalkEntry::HardwareOn { feature } => {
            job.sides
                .iter()
                .flat_map(|s| &s.features)
                .find(|f| f.id == *feature)
                .ok_or(Problem::from(windrift_store::StoreError::NotFound(
                    "feature",
                )))?;
        }
        WalkEntry::Struck { entry, .. } => {
            let own = desk.entry_of_job(job.job.id, *entry).await?;
            if own.is_none_or(|e| e.kind != EntryKind::WalkRound) {
                return Err(windrift_store::StoreError::NotFound("entry").into());
            }
        }
        WalkEntry::SignOff { .. } | WalkEntry::Received { .. } => {}
    }
    Ok(())
}

/// Records something of the walk round; answers how it stands then.
#[utoipa::path(post, path = "/api/jobs/{id}/walk-round", params(("id" = Uuid, Path)), request_body = NewWalkEntry, responses((status = 200, body = WalkRoundView), (status = 422, body = Problem)))]
#[post("/jobs/<id>/walk-round", data = "<data>")]
pub async fn add_entry(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<WalkRoundView> {
    let who = caller.writer()?.id;
    let job = desk.job(key(id)?).await?;
    let body = read_json(data).await?;
    let new: NewWalkEntry = read_typed(body, unit_of(&job.job.unit)?)?;
    // A repeat is answered before anything is checked: what it named may be gone since.
    if desk.entry_of_job(job.job.id, new.id).await?.is_some() {
        return Ok(Json(view(desk, &job).await?));
    }
    keep(desk, &job, new, who, caller.read_at()).await?;
    Ok(Json(view(desk, &job).await?))
}

/// Checks an entry and adds it to the record, in somebody's name.
async fn keep(
    desk: &Desk,
    job: &JobRows,
    new: NewWalkEntry,
    who: Uuid,
    read_at: Option<OffsetDateTime>,
) -> Result<(), Problem> {
    new.entry
        .check()
        .map_err(|e| Problem::input("measure", e.sentence).at(format!("/entry/{}", e.field)))?;
    check_named(desk, job, &new.entry).await?;
    let standing = desk
        .record_of_kind(job.job.id, EntryKind::WalkRound, MOST_ENTRIES)
        .await?;
    if standing.len() as u64 >= MOST_ENTRIES {
        return Err(Problem::input(
            "too_many",
            format!("The walk round has {MOST_ENTRIES} entries; that is the most."),
        ));
    }
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::WalkRound,
        crew: who,
        piece: None,
        body: serde_json::to_value(&new.entry).map_err(windrift_store::StoreError::from)?,
        read_at,
    };
    desk.append(job.job.id, entry).await?;
    Ok(())
}

/// The walk round, for the holder of a link.
#[utoipa::path(get, path = "/api/shared/{token}/walk-round", params(("token" = String, Path)), responses((status = 200, body = WalkRoundView), (status = 404, body = Problem)))]
#[get("/shared/<token>/walk-round")]
pub async fn shared_walk_round(desk: &Desk, token: &str) -> Answer<WalkRoundView> {
    let job = desk.job(shared(desk, token).await?.job_id).await?;
    Ok(Json(view(desk, &job).await?))
}

/// What the holder of a link signs for.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct SharedSignature {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// The name, as it is typed.
    pub name: String,
    /// What is signed for.
    pub what: SharedWhat,
}

/// What may be signed for by a link.
#[derive(Debug, Clone, Copy, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SharedWhat {
    /// What was found before work.
    WalkRound,
    /// That the vehicle is back.
    HandOver,
}

/// The customer signs by a link. It stands in the record under whoever made the link, and says that it came by one.
#[utoipa::path(post, path = "/api/shared/{token}/sign", params(("token" = String, Path)), request_body = SharedSignature, responses((status = 200, body = WalkRoundView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/shared/<token>/sign", data = "<data>")]
pub async fn shared_sign(desk: &Desk, token: &str, data: Data<'_>) -> Answer<WalkRoundView> {
    let link = shared(desk, token).await?;
    let job = desk.job(link.job_id).await?;
    let asked: SharedSignature = read_as(read_json(data).await?)?;
    if desk.entry_of_job(job.job.id, asked.id).await?.is_some() {
        return Ok(Json(view(desk, &job).await?));
    }
    let name = named(&asked.name, 60, "name", "Type your name.")?;
    let signed = format!("{name}, by link");
    let entry = match asked.what {
        SharedWhat::WalkRound => WalkEntry::SignOff {
            name: signed,
            strokes: Vec::new(),
            typed: true,
        },
        SharedWhat::HandOver => WalkEntry::Received { name: signed },
    };
    let new = NewWalkEntry {
        id: asked.id,
        entry,
    };
    keep(desk, &job, new, link.crew_id, None).await?;
    let about = format!("{name} signed by the link for {}", link.whom);
    desk.note_audit("link", None, &about, &desk.address())
        .await?;
    Ok(Json(view(desk, &job).await?))
}

/// Findings that the newest signature stands under, each in a line; where nothing is signed, those that stand. Then what was added or struck
/// since.
fn under_the_signature(shown: &WalkRoundView) -> (Vec<String>, Vec<String>) {
    let agreed = shown.signed.as_ref().map(|s| &s.agreed);
    let (mut under, mut since) = (Vec::new(), Vec::new());
    for side in &shown.sides {
        let mut damage: Vec<&DamageView> = side.damage.iter().chain(&side.struck).collect();
        damage.sort_by_key(|d| d.number);
        for d in damage {
            let line = format!(
                "{}, {}: {} {}, {} back, {} down. {}",
                side.name, d.number, d.name, d.size, d.back, d.drop, d.damage.note
            );
            let line = line.trim_end().to_owned();
            match (agreed, &d.struck) {
                (Some(agreed), struck) if agreed.contains(&d.entry) => {
                    since.extend(struck.as_ref().map(|why| format!("Struck: {line} {why}")));
                    under.push(line);
                }
                (Some(_), None) => since.push(format!("Added: {line}")),
                (None, None) => under.push(line),
                (_, Some(_)) => {}
            }
        }
        for doubt in &side.doubts {
            let line = format!("{}, paint: {}", side.name, doubt.note);
            match agreed {
                Some(agreed) if !agreed.contains(&doubt.entry) => {
                    since.push(format!("Added: {line}"));
                }
                _ => under.push(line),
            }
        }
    }
    (under, since)
}

/// Photos of findings and of sides, made small for paper. One that is gone is left out.
async fn photos_of(desk: &Desk, shown: &WalkRoundView) -> BTreeMap<Uuid, Vec<u8>> {
    let sides = shown.sides.iter();
    let keys: Vec<Uuid> = sides
        .flat_map(|s| {
            let found = s.damage.iter().chain(&s.struck);
            let of_findings = found.filter_map(|d| d.damage.photo);
            of_findings
                .chain(s.photos.iter().map(|p| p.photo))
                .collect::<Vec<_>>()
        })
        .collect();
    let mut photos = BTreeMap::new();
    for key in keys {
        if let Ok(photo) = desk.photo(key).await {
            photos.insert(key, photo.jpeg);
        }
    }
    let small = desk
        .compute(move || {
            let small = photos
                .into_iter()
                .filter_map(|(key, jpeg)| Some((key, for_paper(&jpeg, PRINTED_PHOTO).ok()?)));
            small.collect()
        })
        .await;
    small.unwrap_or_default()
}

/// Longest edge of a photo on this paper, pixels: a third of a page at some 200 to the inch.
const PRINTED_PHOTO: u32 = 700;

/// The walk round and the hardware list as PDF.
#[utoipa::path(get, path = "/api/jobs/{id}/walk-round.pdf", params(("id" = Uuid, Path), ("paper" = Option<String>, Query, description = "letter or a4")), responses((status = 200, content_type = "application/pdf"), (status = 404, body = Problem)))]
#[get("/jobs/<id>/walk-round.pdf?<paper>")]
pub async fn walk_sheet(desk: &Desk, id: &str, paper: Option<&str>) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let job = desk.job(key(id)?).await?;
    let settings = desk.ways().await?;
    let shown = view(desk, &job).await?;
    let walk = walked(desk, job.job.id).await?;
    let today = OffsetDateTime::now_utc();
    let sides = walked_sides(desk, &job, &walk.round, &settings).await?;
    let (agreed, since) = under_the_signature(&shown);
    let photos = photos_of(desk, &shown).await;
    let sheet = WalkSheet {
        shop: desk.shop().await?.name,
        title: job.job.title.clone(),
        customer: for_whom(&job.job),
        stated: format!("As recorded on {}.", settings.zone.stated(today)),
        photos,
        agreed,
        since,
        sides: sides
            .iter()
            .zip(shown.sides)
            .map(|(s, shown)| {
                let verdict = s
                    .planned
                    .input
                    .side
                    .surface
                    .verdict(settings.zone.date(today));
                let mut surface = verdict.film_sentences;
                surface.push(verdict.ceiling_sentence);
                let mut findings: Vec<Finding> = (shown.damage.into_iter())
                    .chain(shown.struck)
                    .map(|d| Finding {
                        number: d.number,
                        damage: d.damage,
                        back: d.back,
                        drop: d.drop,
                        size: d.size,
                        struck: d.struck,
                    })
                    .collect();
                findings.sort_by_key(|f| f.number);
                WalkSide {
                    name: s.name.clone(),
                    plan: &s.planned.plan,
                    findings,
                    doubts: shown.doubts.into_iter().map(|d| d.note).collect(),
                    surface,
                    photos: (shown.photos.into_iter())
                        .map(|p| (p.photo, p.note))
                        .collect(),
                    hardware: shown.hardware,
                }
            })
            .collect(),
        signed: shown
            .signed
            .map(|s| (s, shown.signed_at.unwrap_or_default())),
    };
    let bytes = write(&sheet, paper).map_err(|e| Problem::input("packet", e.to_string()))?;
    Ok(File::new(
        bytes,
        ContentType::PDF,
        &format!("{} walk round", job.job.title),
        "pdf",
    ))
}
