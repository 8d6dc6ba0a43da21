//! Heat & seal: what must reach its temperature once film lies, what is known to have reached it, and what is sealed.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::heat::runs::AfterLaying;
use windrift_core::floor::heat::{HeatEntry, Heated, Over, Reached, VOUCHES_MM, reached_share};
use windrift_core::ground::tape::{Unit, print};
use windrift_store::{EntryKind, NewEntry, StoreError};

use crate::bays::Bay;
use crate::desk::Desk;
use crate::devices::Reads;
use crate::floor::Floor;
use crate::heat_view::{entries, of_job, of_piece, view};
use crate::keys::key;
use crate::paces::AIR_NOT_READ;
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_typed};
use crate::routes::Answer;
use crate::streams::{kept, legs, windows_of_run};
use crate::views::HeatView;

/// An entry to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewHeatEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded. Lengths may be typed as text.
    pub entry: HeatEntry,
}

/// Heat & seal of a side.
#[utoipa::path(get, path = "/api/sides/{id}/heat", params(("id" = Uuid, Path)), responses((status = 200, body = HeatView), (status = 404, body = Problem)))]
#[get("/sides/<id>/heat")]
pub async fn heat(desk: &Desk, id: &str) -> Answer<HeatView> {
    Ok(Json(view(desk, key(id)?, true).await?))
}

/// Records something of Heat & seal about a piece; answers how its side stands then.
#[utoipa::path(post, path = "/api/pieces/{id}/heat", params(("id" = Uuid, Path)), request_body = NewHeatEntry, responses((status = 200, body = HeatView), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/pieces/<id>/heat", data = "<data>")]
pub async fn add_heat_entry(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<HeatView> {
    let who = caller.writer()?.id;
    let floor = Floor::of(desk, id).await?;
    let (piece, job, side) = (floor.piece().id, floor.rows.job.id, floor.rows.side.id);
    let mut new: NewHeatEntry = read_typed(read_json(data).await?, floor.unit)?;
    if desk.entry_of_job(job, new.id).await?.is_some() {
        return Ok(Json(view(desk, side, true).await?));
    }
    new.entry
        .check()
        .map_err(|e| Problem::input("measure", e.sentence).at(format!("/entry/{}", e.field)))?;
    if !floor.rows.laid.iter().any(|l| l.piece == piece) {
        return Err(Problem::input(
            "not_laid",
            "It does not lie yet, as far as anybody has recorded: heat goes only over film that lies. Say under Lay down that it does.",
        ));
    }
    let before = entries(desk, job).await?;
    let heated = of_job(&before, &legs(desk, &before).await?)
        .0
        .remove(&piece)
        .unwrap_or_default();
    let found = of_piece(floor.piece(), &floor.planned, &floor.ways, floor.unit);
    check_against(&mut new.entry, &found, &heated, floor.unit)?;
    // What it was read over, and what thermometers sent, is what is known here, whatever was sent.
    match &mut new.entry {
        HeatEntry::Read {
            run,
            pace_mm_s,
            over,
            ..
        } => {
            *over = match pace_mm_s {
                Some(_) => read_over(desk, &floor, &found, run).await?,
                None => None,
            };
        }
        HeatEntry::Mark {
            run, device, over, ..
        } => {
            thermometer(desk, *device).await?;
            *over = read_over(desk, &floor, &found, run).await?;
        }
        HeatEntry::Closed { run, raw, .. } => {
            let windows = windows_of_run(&before, piece, run);
            *raw = kept(&desk.heat_readings_settled(&windows).await?);
        }
        HeatEntry::Sealed { .. } => {}
    }
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Heat,
        crew: who,
        piece: Some(piece),
        body: serde_json::to_value(&new.entry).map_err(StoreError::from)?,
        read_at: caller.read_at(),
    };
    desk.append(job, entry).await?;
    Ok(Json(view(desk, side, true).await?))
}

/// A mark is a thermometer's of this shop.
async fn thermometer(desk: &Desk, id: Uuid) -> Result<(), Problem> {
    let all = desk.devices().await?;
    let known = all
        .iter()
        .find(|d| d.id == id && Reads::of(&d.reads) == Reads::Heat);
    match known {
        Some(d) if d.withdrawn => Err(Problem::input(
            "thermometer",
            format!(
                "The key of {} was withdrawn: it sends nothing. Choose another thermometer, or read by hand.",
                d.name
            ),
        )),
        Some(_) => Ok(()),
        None => Err(StoreError::NotFound("thermometer").into()),
    }
}

/// What a reading along a run is taken over; nothing where nobody said what is behind the skin.
async fn read_over(
    desk: &Desk,
    floor: &Floor,
    found: &AfterLaying,
    run: &str,
) -> Result<Option<Over>, Problem> {
    let surface = &floor.planned.plan.side.side.surface;
    let run = found.runs.iter().find(|r| r.name == run);
    let (Some(run), Some(behind)) = (run, surface.behind) else {
        return Ok(None);
    };
    let bay = Bay::of(desk, floor.rows.job.id, OffsetDateTime::now_utc()).await?;
    Ok(Some(Over {
        material: surface.material,
        behind,
        skin_mm: surface.skin_mm,
        film_mm: floor.piece().piece.film_figures().thickness_mm,
        spot: run.spot,
        start_celsius: bay.newest_air().map_or(AIR_NOT_READ, |a| a.celsius),
    }))
}

/// What an entry names must be there, and what it claims must hold.
fn check_against(
    entry: &mut HeatEntry,
    found: &AfterLaying,
    heated: &Heated,
    unit: Unit,
) -> Result<(), Problem> {
    let run = |name: &str| {
        let run = found.runs.iter().find(|r| r.name == name);
        run.ok_or(Problem::from(StoreError::NotFound("run")))
    };
    match entry {
        HeatEntry::Read {
            run: name,
            along_mm,
            ..
        }
        | HeatEntry::Mark {
            run: name,
            along_mm,
            ..
        } => {
            let run = run(name)?;
            if along_mm.mm() > run.length.mm + VOUCHES_MM {
                return Err(Problem::input(
                    "measure",
                    format!(
                        "The run is {} long; {} lies past its end.",
                        run.length.text,
                        print(along_mm.mm(), unit).text
                    ),
                )
                .at("/entry/along_mm"));
            }
        }
        HeatEntry::Closed {
            run: name,
            reason,
            of,
            ..
        } => {
            let run = run(name)?;
            *of = (found.runs.len() + found.seals.len()) as u32;
            let stretches = heated.covered(run);
            let whole = stretches.iter().all(|s| s.is == Reached::Reached);
            if whole {
                // All of it is known to have reached: no reason is wanted, and none is kept.
                *reason = None;
            } else if reason.is_none() {
                return Err(Problem::input(
                    "not_reached",
                    format!(
                        "{:.0} % of it is known to have reached. Read on, or say why it is done all the same.",
                        (reached_share(&stretches) * 100.0).floor()
                    ),
                ));
            }
        }
        HeatEntry::Sealed { run: name } => {
            if !found.seals.iter().any(|s| s.name == *name) {
                return Err(StoreError::NotFound("run").into());
            }
            let open = found
                .runs
                .iter()
                .find(|r| !heated.closed.contains_key(&r.name));
            if let Some(open) = open {
                return Err(Problem::input(
                    "heat_first",
                    format!("Heat first, sealer after: {} is still open.", open.name),
                ));
            }
        }
    }
    Ok(())
}
