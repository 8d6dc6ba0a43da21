//! Loads the made-up shop of the demo: open JSON files, through the same checks as anybody's work.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use rocket::http::{ContentType, Header, Status};
use rocket::local::asynchronous::Client;
use serde::Deserialize;
use serde_json::{Value, json};
use thiserror::Error;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::art::typeface::Typefaces;
use windrift_core::cut::by_when::Fitting;
use windrift_core::film::ink::Ink;
use windrift_core::film::roll::Roll;
use windrift_core::film::stocked::StockedFilm;
use windrift_core::film::supply::Supply;
use windrift_core::floor::bay::BayEntry;
use windrift_core::floor::call_back::CallBack;
use windrift_core::floor::hangs_at::HangsAt;
use windrift_core::floor::heat::HeatEntry;
use windrift_core::floor::prep::PrepEntry;
use windrift_core::floor::strip::StripEntry;
use windrift_core::ground::mm::Mm;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::{FaceMarking, Stock, VehicleMarking};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::other_sides::SideParts;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::walk_round::WalkEntry;
use windrift_store::edits::{Change, Edit, RowKind};
use windrift_store::entity::{crew, job};
use windrift_store::marking::one_of;
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, NewEntry, NewSide, Store, StoreError};

use crate::Setup;
use crate::entries::floor_note::FloorNote;
use crate::entries::round::first_round;
use crate::keys::unit_word;
use crate::problem::Problem;
use crate::request::{read_typed, wound_lengths};

/// The demo could not be loaded.
#[derive(Debug, Error)]
pub enum DemoError {
    /// A file is missing or cannot be read.
    #[error("the demo's file {0} cannot be read: {1}")]
    File(String, String),
    /// The database refused.
    #[error(transparent)]
    Store(#[from] StoreError),
}

fn told(problem: Problem) -> String {
    format!("{} {}", problem.field.unwrap_or_default(), problem.detail)
}

#[derive(Deserialize)]
struct DemoShop {
    name: String,
    settings: WorkSettings,
    crew: Vec<DemoCrew>,
    tapes: Vec<Value>,
    #[serde(default)]
    films: Vec<Value>,
    supplies: Vec<Value>,
    jobs: Vec<String>,
}

#[derive(Deserialize)]
struct DemoTape {
    id: Uuid,
    name: String,
    stock: Stock,
}

#[derive(Deserialize)]
struct DemoSupply {
    id: Uuid,
    supply: Supply,
}

#[derive(Deserialize)]
struct DemoFilm {
    id: Uuid,
    film: StockedFilm,
    rolls: Vec<DemoRoll>,
}

#[derive(Deserialize)]
struct DemoRoll {
    id: Uuid,
    roll: Roll,
    /// What is left of it, where some was used.
    #[serde(default)]
    left_mm: Option<Mm>,
}

#[derive(Deserialize)]
struct DemoCrew {
    id: Uuid,
    name: String,
    role: String,
}

#[derive(Deserialize)]
struct DemoJob {
    id: Uuid,
    customer: String,
    title: String,
    #[serde(default)]
    plate: Option<String>,
    vehicle_kind: String,
    unit: Unit,
    sides: Vec<Value>,
    #[serde(default)]
    marked_vehicle: Option<Value>,
    /// Whether its plan is issued.
    #[serde(default)]
    issued: bool,
    /// When its fitting starts and how it is printed.
    #[serde(default)]
    fitting: Option<DemoFitting>,
    #[serde(default)]
    walk_round: Vec<Value>,
    #[serde(default)]
    floor: Vec<DemoFloor>,
    /// What was done at Strip and Prep, and what came back.
    #[serde(default)]
    stages: Vec<Value>,
    /// Started so many days before the demo was loaded.
    #[serde(default)]
    days_ago: i64,
    /// Whether it is handed over and out of the yard.
    #[serde(default)]
    finished: bool,
}

/// Something of Strip, Prep, the bay or Heat & seal, so many minutes before the demo was loaded.
#[derive(Deserialize)]
struct DemoStage {
    id: Uuid,
    crew: Uuid,
    minutes_ago: i64,
    /// The piece that it is about, where it is about one.
    #[serde(default)]
    piece: Option<Uuid>,
    #[serde(flatten)]
    did: DemoStageDid,
}

#[derive(Deserialize)]
#[serde(rename_all = "snake_case")]
enum DemoStageDid {
    Strip(StripEntry),
    Prep(PrepEntry),
    Bay(BayEntry),
    Heat(HeatEntry),
    CallBack(CallBack),
}

/// A fitting so many hours after the demo was loaded: one that is too near is late already.
#[derive(Deserialize)]
struct DemoFitting {
    in_hours: i64,
    ink: Ink,
}

/// Something that the floor did to a piece.
#[derive(Deserialize)]
struct DemoFloor {
    id: Uuid,
    piece: Uuid,
    crew: Uuid,
    /// So many days before the demo was loaded; just now where nothing is said.
    #[serde(default)]
    days_ago: Option<i64>,
    #[serde(flatten)]
    did: DemoDid,
}

#[derive(Deserialize)]
#[serde(rename_all = "snake_case")]
enum DemoDid {
    /// Read both ends as wanted and locked the hinge.
    Locked(Uuid),
    /// Something else of the floor.
    Note(FloorNote),
}

#[derive(Deserialize)]
struct DemoSide {
    id: Uuid,
    side: Side,
    features: Vec<DemoRow<Feature>>,
    pieces: Vec<DemoRow<Piece>>,
    #[serde(default)]
    marking: Option<FaceMarking>,
}

#[derive(Deserialize)]
struct DemoEntry {
    id: Uuid,
    entry: WalkEntry,
}

#[derive(Deserialize)]
struct DemoRow<T> {
    id: Uuid,
    spec: T,
}

/// Loads the demo from its folder. What is there already stays as it is.
pub async fn load(store: &Store, folder: &Path) -> Result<(), DemoError> {
    let shop: DemoShop = read(folder, "shop.json")?;
    store
        .set_up_shop(&shop.name, Kind::Settings.write(&shop.settings)?)
        .await?;
    // Nothing in it is anybody's: whoever has no passphrase comes in with one press.
    store.open_to_all().await?;
    for (position, member) in (0..).zip(&shop.crew) {
        store
            .add_crew(crew::Model {
                id: member.id,
                name: member.name.clone(),
                role: member.role.clone(),
                position,
            })
            .await?;
    }
    let lead = shop.crew.first().map(|c| c.id).unwrap_or_default();
    for tape in shop.tapes {
        let tape: DemoTape = read_typed(tape, Unit::InchSixteenth)
            .map_err(|p| DemoError::File("shop.json".into(), told(p)))?;
        let spec = Kind::Tape.write(&tape.stock)?;
        store.keep_tape(tape.id, &tape.name, lead, spec).await?;
    }
    for mut film in shop.films {
        for n in 0..film["rolls"].as_array().map_or(0, Vec::len) {
            let places = ["roll/length_mm", "left_mm"].map(|field| format!("/rolls/{n}/{field}"));
            let places: Vec<&str> = places.iter().map(String::as_str).collect();
            wound_lengths(&mut film, Unit::InchSixteenth, &places)
                .map_err(|p| DemoError::File("shop.json".into(), told(p)))?;
        }
        let film: DemoFilm = read_typed(film, Unit::InchSixteenth)
            .map_err(|p| DemoError::File("shop.json".into(), told(p)))?;
        let spec = Kind::Film.write(&film.film)?;
        store.keep_film(film.id, lead, spec).await?;
        for DemoRoll { id, roll, left_mm } in film.rolls {
            let left = left_mm.unwrap_or(roll.length_mm).mm();
            let spec = Kind::Roll.write(&roll)?;
            store.keep_roll(id, film.id, lead, spec, left).await?;
        }
    }
    for mut supply in shop.supplies {
        wound_lengths(&mut supply, Unit::InchSixteenth, &["/supply/left_mm"])
            .map_err(|p| DemoError::File("shop.json".into(), told(p)))?;
        let supply: DemoSupply = read_typed(supply, Unit::InchSixteenth)
            .map_err(|p| DemoError::File("shop.json".into(), told(p)))?;
        let spec = Kind::Supply.write(&supply.supply)?;
        store.keep_supply(supply.id, lead, spec).await?;
    }
    for file in &shop.jobs {
        if let Some(job) = load_job(store, folder, file, lead, &shop.settings).await? {
            let who = shop.crew.first().map_or("", |c| &c.name);
            issue(store, folder, job, (who, lead))
                .await
                .map_err(|e| DemoError::File(file.clone(), e))?;
        }
    }
    Ok(())
}

/// Issues a job's plan as a press does: through the server's own routes, so that it freezes what a person would have frozen.
async fn issue(
    store: &Store,
    folder: &Path,
    job: Uuid,
    (who, lead): (&str, Uuid),
) -> Result<(), String> {
    let setup = Setup::local(0, folder.to_path_buf(), PathBuf::new());
    let client = Client::tracked(crate::build(store.clone(), setup))
        .await
        .map_err(|e| e.to_string())?;
    let at = format!("/api/jobs/{job}/plans");
    for (path, body) in [
        ("/api/sign-in", json!({ "name": who })),
        // One plan, however often the demo is loaded.
        (&at, json!({ "id": Uuid::from_u128(job.as_u128() + 1) })),
    ] {
        let answer = client
            .post(path.to_owned())
            .header(ContentType::JSON)
            .header(Header::new("Crew-Id", lead.to_string()))
            .body(body.to_string())
            .dispatch()
            .await;
        if answer.status() != Status::Ok {
            return Err(answer.into_string().await.unwrap_or_default());
        }
    }
    Ok(())
}

fn read<T: serde::de::DeserializeOwned>(folder: &Path, name: &str) -> Result<T, DemoError> {
    let wrong = |e: String| DemoError::File(name.into(), e);
    let text = std::fs::read_to_string(folder.join(name)).map_err(|e| wrong(e.to_string()))?;
    serde_json::from_str(&text).map_err(|e| wrong(e.to_string()))
}

/// Loads a job; answers it where its plan is to be issued.
async fn load_job(
    store: &Store,
    folder: &Path,
    file: &str,
    lead: Uuid,
    settings: &WorkSettings,
) -> Result<Option<Uuid>, DemoError> {
    let wrong = |e: String| DemoError::File(file.into(), e);
    let job: DemoJob = read(folder, file)?;
    if store.job(job.id).await.is_ok() {
        return Ok(None);
    }
    let mut sides: Vec<DemoSide> = Vec::new();
    let mut planned = Vec::new();
    for side in job.sides {
        let side: DemoSide = read_typed(side, job.unit).map_err(|p| wrong(told(p)))?;
        let features: Vec<SideFeature> = side
            .features
            .iter()
            .map(|f| SideFeature {
                id: f.id,
                feature: f.spec.clone(),
            })
            .collect();
        let pieces: Vec<(Uuid, Piece)> =
            side.pieces.iter().map(|p| (p.id, p.spec.clone())).collect();
        planned.push((side.side.clone(), features, pieces));
        sides.push(side);
    }
    let parts: Vec<SideParts<'_>> = planned
        .iter()
        .map(|(side, features, pieces)| SideParts {
            side,
            features,
            pieces,
        })
        .collect();
    let mut hanging = BTreeMap::new();
    for SideParts {
        side,
        features,
        pieces,
    } in &parts
    {
        let around = JobAround::of(side, &parts, &Typefaces::default(), job.unit);
        let plan = plan_side(side, features, pieces, &around, settings, job.unit)
            .map_err(|e| wrong(e.to_string()))?;
        if let Some((_, error)) = plan.failed.first() {
            return Err(wrong(error.to_string()));
        }
        hanging.extend(plan.pieces.into_iter().map(|p| (p.id, p)));
    }
    let row = job::Model {
        id: job.id,
        revision: 1,
        customer: job.customer,
        title: job.title,
        vehicle_kind: job.vehicle_kind,
        unit: unit_word(job.unit),
        created_at: OffsetDateTime::now_utc() - Duration::days(job.days_ago),
        created_by: lead,
        plate: job.plate,
    };
    let bodies = sides
        .iter()
        .map(|s| {
            Ok(NewSide {
                id: s.id,
                spec: Kind::Side.write(&s.side)?,
                features: Vec::new(),
            })
        })
        .collect::<Result<_, StoreError>>();
    store.start_job(row, bodies?).await?;
    if let Some(DemoFitting { in_hours, ink }) = job.fitting {
        let hour = OffsetDateTime::now_utc().unix_timestamp() / 3600 + in_hours;
        let fit_at =
            OffsetDateTime::from_unix_timestamp(hour * 3600).map_err(|e| wrong(e.to_string()))?;
        let done = Vec::new();
        let spec = Kind::Fitting.write(&Fitting { fit_at, ink, done })?;
        store.settle_fitting(job.id, 0, lead, spec, &[]).await?;
    }
    if let Some(vehicle) = job.marked_vehicle {
        let vehicle: VehicleMarking = read_typed(vehicle, job.unit).map_err(|p| wrong(told(p)))?;
        vehicle.check().map_err(|t| wrong(told(t.into())))?;
        let (kind, row) = (RowKind::MarkedVehicle, one_of(job.id));
        let spec = Kind::MarkedVehicle.write(&vehicle);
        add(store, lead, kind, job.id, row, spec).await?;
    }
    for side in &sides {
        if let Some(marking) = &side.marking {
            marking.check().map_err(|t| wrong(told(t.into())))?;
            let (kind, row) = (RowKind::Marking, one_of(side.id));
            let spec = Kind::Marking.write(marking);
            add(store, lead, kind, side.id, row, spec).await?;
        }
        for feature in &side.features {
            add(
                store,
                lead,
                RowKind::Feature,
                side.id,
                feature.id,
                Kind::Feature.write(&feature.spec),
            )
            .await?;
        }
        for piece in &side.pieces {
            add(
                store,
                lead,
                RowKind::Piece,
                side.id,
                piece.id,
                Kind::Piece.write(&piece.spec),
            )
            .await?;
        }
    }
    for entry in job.walk_round {
        let entry: DemoEntry = read_typed(entry, job.unit).map_err(|p| wrong(told(p)))?;
        entry.entry.check().map_err(|e| wrong(e.to_string()))?;
        let new = NewEntry {
            id: entry.id,
            kind: EntryKind::WalkRound,
            crew: lead,
            piece: None,
            body: serde_json::to_value(&entry.entry).map_err(StoreError::from)?,
            read_at: None,
        };
        store.append(job.id, new).await?;
    }
    for stage in job.stages {
        let stage: DemoStage = read_typed(stage, job.unit).map_err(|p| wrong(told(p)))?;
        let (kind, checked, body) = match &stage.did {
            DemoStageDid::Strip(e) => (EntryKind::Strip, e.check(), serde_json::to_value(e)),
            DemoStageDid::Prep(e) => (EntryKind::Prep, e.check(), serde_json::to_value(e)),
            DemoStageDid::Bay(e) => (EntryKind::Bay, e.check(), serde_json::to_value(e)),
            DemoStageDid::Heat(e) => (EntryKind::Heat, e.check(), serde_json::to_value(e)),
            DemoStageDid::CallBack(e) => (EntryKind::CallBack, e.check(), serde_json::to_value(e)),
        };
        checked.map_err(|e| wrong(e.to_string()))?;
        let new = NewEntry {
            id: stage.id,
            kind,
            crew: stage.crew,
            piece: stage.piece,
            body: body.map_err(StoreError::from)?,
            read_at: Some(OffsetDateTime::now_utc() - Duration::minutes(stage.minutes_ago)),
        };
        store.append(job.id, new).await?;
    }
    for done in job.floor {
        match done.did {
            DemoDid::Locked(reading) => {
                let piece = hanging
                    .get(&done.piece)
                    .ok_or_else(|| wrong("a piece that is locked is not there".into()))?;
                lock(store, job.id, job.unit, &done, reading, piece).await?;
            }
            DemoDid::Note(note) => {
                let mut body = serde_json::to_value(&note).map_err(StoreError::from)?;
                if let (FloorNote::Laid { .. }, Some(piece)) = (&note, hanging.get(&done.piece)) {
                    body["lies_at"] =
                        serde_json::to_value(HangsAt::of(piece)).map_err(StoreError::from)?;
                }
                let new = NewEntry {
                    id: done.id,
                    kind: note.kind(),
                    crew: done.crew,
                    piece: Some(done.piece),
                    body,
                    read_at: done
                        .days_ago
                        .map(|days| OffsetDateTime::now_utc() - Duration::days(days)),
                };
                store.append(job.id, new).await?;
            }
        }
    }
    if job.finished {
        store.finish_job(job.id, lead).await?;
    }
    Ok(job.issued.then_some(job.id))
}

/// Reads both ends as they are wanted, and locks.
async fn lock(
    store: &Store,
    job: Uuid,
    unit: Unit,
    done: &DemoFloor,
    reading: Uuid,
    piece: &PlannedPiece,
) -> Result<(), DemoError> {
    let round = first_round(piece, unit, 1, 1);
    let entry = |id, kind, body: Result<Value, serde_json::Error>| {
        Ok::<_, StoreError>(NewEntry {
            id,
            kind,
            crew: done.crew,
            piece: Some(done.piece),
            body: body?,
            read_at: None,
        })
    };
    let read = entry(reading, EntryKind::Reading, serde_json::to_value(&round))?;
    store.append(job, read).await?;
    let body = serde_json::json!({
        "front": round.front, "rear": round.rear, "rounds": 1, "piece_revision": 1, "side_revision": 1,
    });
    store
        .append_lock(
            job,
            entry(done.id, EntryKind::Lock, Ok(body))?,
            serde_json::to_value(HangsAt::of(piece)).map_err(StoreError::from)?,
            1,
            1,
        )
        .await?;
    Ok(())
}

async fn add(
    store: &Store,
    crew: Uuid,
    kind: RowKind,
    parent: Uuid,
    row: Uuid,
    spec: Result<Value, StoreError>,
) -> Result<(), DemoError> {
    let spec = spec?;
    store
        .edit(Edit {
            id: Uuid::now_v7(),
            crew,
            kind,
            row,
            change: Change::Add { parent, spec },
        })
        .await?;
    Ok(())
}
