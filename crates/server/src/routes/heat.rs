//! Heat & seal: what must reach its temperature once film lies, what is known to have reached it, and what is sealed.

use std::collections::BTreeMap;

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::edges::SealWith;
use windrift_core::floor::heat::runs::{AfterLaying, HeatRun, after_laying};
use windrift_core::floor::heat::stream::{Leg, off_by};
use windrift_core::floor::heat::{
    HeatEntry, Heated, Over, Reached, ReadAt, VOUCHES_MM, first_gap, reached_share, stand_with,
};
use windrift_core::ground::degrees::told as degrees;
use windrift_core::ground::tape::{Unit, print, print_move};
use windrift_core::plan::planned::PlannedPiece;
use windrift_store::{EntryKind, NewEntry, RecordEntry, StoreError};

use crate::bay_view::bay_view;
use crate::bays::{Bay, done_at};
use crate::called_back::CalledBack;
use crate::desk::Desk;
use crate::devices::Reads;
use crate::floor::Floor;
use crate::keys::key;
use crate::paces::{AIR_NOT_READ, Calibrates, Gunned};
use crate::planned::{PlannedSide, unit_of};
use crate::problem::Problem;
use crate::request::{Caller, read_json, read_typed};
use crate::routes::Answer;
use crate::streams::{entries_of, kept, legs, windows_of_run};
use crate::views::{Asks, HeatRunView, HeatView, NextView, PaceView, PieceHeat, SealRunView};
use crate::ways::Ways;

/// Most entries of one job's heat.
const MOST_ENTRIES: u64 = 20_000;

/// Cautions where heat goes on.
const CAUTIONS: [&str; 4] = [
    "Burns: the gun, the film, and what is under it. \u{201c}Feel it\u{201d} ends at 50 \u{b0}C (122 \u{b0}F).",
    "No heat near fuel, tanks, vents, wet solvent, air bags, sensors, glass edges or wiring; on boats no vapour in the bilge. No naked flame there at all.",
    "Film that smokes is far too hot: out of the fumes, air through the bay.",
    "After torch work somebody watches for 60 minutes (NFPA 51B).",
];

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
    Ok(Json(view(desk, key(id)?).await?))
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
        return Ok(Json(view(desk, side).await?));
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
    Ok(Json(view(desk, side).await?))
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

async fn entries(desk: &Desk, job: Uuid) -> Result<Vec<(RecordEntry, HeatEntry)>, Problem> {
    let rows = desk
        .record_of_kind(job, EntryKind::Heat, MOST_ENTRIES)
        .await?;
    Ok(entries_of(rows))
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

/// Slips of tape lie so far apart where a thermometer reads by itself, mm: 12 in, or 300 mm (common practice, no source).
fn mark_mm(unit: Unit) -> f64 {
    match unit {
        Unit::Millimetre => 300.0,
        _ => 304.8,
    }
}

/// Readings say something of the gun for so long: then another day or another gun may have begun.
const GUN_KNOWN: Duration = Duration::hours(12);
/// A panel that was heated is warm for so long: what is read where the heat was before says nothing of the gun.
const STAYS_WARM: Duration = Duration::minutes(10);

/// Readings and closings by piece, and what readings of the last hours say of the gun: those on the way forward, over panel that was as cold as the air. Of what a
/// thermometer read by itself it is the middle of each leg: its neighbours say the same again.
fn of_job(
    entries: &[(RecordEntry, HeatEntry)],
    legs: &BTreeMap<Uuid, Leg>,
) -> (BTreeMap<Uuid, Heated>, Vec<Calibrates>) {
    let since = OffsetDateTime::now_utc() - GUN_KNOWN;
    type OfPiece<'e> = Vec<(&'e HeatEntry, &'e [ReadAt])>;
    let mut by_piece: BTreeMap<Uuid, OfPiece<'_>> = BTreeMap::new();
    let mut calibrates = Vec::new();
    // How far along each run somebody has read, and when.
    let mut furthest: BTreeMap<(Uuid, String), (f64, OffsetDateTime)> = BTreeMap::new();
    for (row, entry) in entries {
        let at = done_at(row);
        let Some(piece) = row.piece else {
            continue;
        };
        let leg = legs.get(&row.id);
        let said = match entry {
            HeatEntry::Read {
                run,
                along_mm,
                celsius,
                pace_mm_s,
                over,
            } => Some((run, along_mm, Some(*celsius), *pace_mm_s, over)),
            HeatEntry::Mark {
                run,
                along_mm,
                over,
                ..
            } => Some((
                run,
                along_mm,
                leg.and_then(|l| l.middle_celsius),
                leg.map(|l| l.speed),
                over,
            )),
            _ => None,
        };
        if let Some((run, along_mm, celsius, speed, over)) = said {
            let before = furthest.entry((piece, run.clone())).or_insert((-1.0, at));
            let cold = along_mm.mm() > before.0 || at - before.1 > STAYS_WARM;
            if cold {
                *before = (along_mm.mm(), at);
            }
            if let (true, Some(celsius), Some(speed), Some(over)) =
                (cold && at > since, celsius, speed, over)
            {
                calibrates.push(Calibrates {
                    over: *over,
                    speed,
                    celsius,
                });
            }
        }
        let read = leg.map_or(&[][..], |l| l.readings.as_slice());
        by_piece.entry(piece).or_default().push((entry, read));
    }
    let heated = by_piece
        .into_iter()
        .map(|(piece, entries)| (piece, stand_with(entries)))
        .collect();
    (heated, calibrates)
}

fn of_piece(piece: &PlannedPiece, planned: &PlannedSide, ways: &Ways, unit: Unit) -> AfterLaying {
    let side = &planned.plan.side;
    let face = side.side.surface.verdict(ways.today());
    after_laying(piece, side, &face, ways, unit)
}

async fn view(desk: &Desk, side: Uuid) -> Result<HeatView, Problem> {
    let now = OffsetDateTime::now_utc();
    let rows = desk.side(side).await?;
    let ways = desk.ways().await?;
    let job = desk.job(rows.job.id).await?;
    let planned = desk.planned(&job, side, &ways).await?;
    let unit = unit_of(&job.job.unit)?;
    let entries = entries(desk, job.job.id).await?;
    let (mut heated, calibrates) = of_job(&entries, &legs(desk, &entries).await?);
    let bay = Bay::of(desk, job.job.id, now).await?;
    let air = bay.newest_air().map(|a| a.celsius);
    let bay = bay_view(&bay, now, ways.zone, unit);
    let locked = bay.heat_locked.clone();
    let called_back = CalledBack::read(desk).await?;
    let laid: Vec<Uuid> = rows.laid.iter().map(|l| l.piece).collect();
    let behind_said = planned.plan.side.side.surface.behind.is_some();
    let start = air.unwrap_or(AIR_NOT_READ);
    let pieces = desk
        .compute(move || {
            let gun = Gunned::by(&calibrates);
            let surface = &planned.plan.side.side.surface;
            let pieces = planned.plan.pieces.iter();
            pieces
                .map(|p| {
                    let mut found = of_piece(p, &planned, &ways, unit);
                    found.says.splice(0..0, called_back.of(p.piece.film()));
                    let heated = heated.remove(&p.id).unwrap_or_default();
                    let laid = laid.contains(&p.id);
                    let film_mm = p.piece.film_figures().thickness_mm;
                    let size = p.drawn.bounds.size();
                    let under = (surface, film_mm, size.width * size.height);
                    let pace = |run: &HeatRun| {
                        // A pace is worked out where it is walked.
                        laid.then(|| gun.pace(run, under, start, unit)).flatten()
                    };
                    told(p, found, &heated, laid, locked.as_deref(), &pace, unit)
                })
                .collect()
        })
        .await?;
    Ok(HeatView {
        side,
        unit,
        bay,
        pieces,
        vouches_mm: VOUCHES_MM,
        mark_mm: mark_mm(unit),
        off: print_move(off_by(mark_mm(unit)), unit),
        cautions: CAUTIONS.into(),
        behind_said,
        air_assumed: air.is_none().then(|| {
            format!(
                "Nobody read the air here: {} is taken.",
                degrees(AIR_NOT_READ, unit)
            )
        }),
    })
}

fn told(
    piece: &PlannedPiece,
    found: AfterLaying,
    heated: &Heated,
    laid: bool,
    locked: Option<&str>,
    pace: &dyn Fn(&HeatRun) -> Option<PaceView>,
    unit: Unit,
) -> PieceHeat {
    let at = |mm: f64| print(mm, unit).text;
    let runs: Vec<HeatRunView> = found
        .runs
        .into_iter()
        .map(|run| {
            let stretches = heated.covered(&run);
            let gap = first_gap(&stretches).copied();
            let passed = stretches.iter().find(|s| s.is == Reached::Passed);
            HeatRunView {
                share: reached_share(&stretches),
                readings: heated.readings.get(&run.name).map_or(0, Vec::len) as u32,
                closed: heated.closed.get(&run.name).map(|reason| {
                    reason.as_ref().map_or_else(
                        || "all of it reached".to_owned(),
                        |why| format!("closed without all of it: {}", why.trim()),
                    )
                }),
                gap_mm: gap.map(|g| g.from_mm),
                gap: gap.map(|g| {
                    format!(
                        "From {} to {}: {}.",
                        at(g.from_mm),
                        at(g.to_mm),
                        if g.is == Reached::NotReached {
                            "not reached, go back while it is warm"
                        } else {
                            "not measured"
                        }
                    )
                }),
                passed: passed.map(|p| {
                    format!(
                        "From {} to {} the ceiling was passed: look whether film or paint is marked, and note it under Trouble.",
                        at(p.from_mm),
                        at(p.to_mm)
                    )
                }),
                stretches,
                pace: pace(&run).filter(|_| run.cannot.is_none()),
                run,
            }
        })
        .collect();
    let seals: Vec<SealRunView> = found
        .seals
        .into_iter()
        .map(|run| SealRunView {
            sealed: heated.sealed.contains(&run.name),
            run,
        })
        .collect();
    let called = piece.piece.called();
    PieceHeat {
        piece: piece.id,
        next: next(&called, laid, &runs, &seals, locked),
        called,
        laid,
        runs,
        seals,
        says: found.says,
    }
}

fn next(
    called: &str,
    laid: bool,
    runs: &[HeatRunView],
    seals: &[SealRunView],
    locked: Option<&str>,
) -> NextView {
    let say = |says: String, detail: Option<String>, alarm: bool| NextView {
        says,
        detail,
        asks: Asks::Nothing,
        alarm,
    };
    if !laid {
        return say(
            format!("{called} does not lie yet."),
            Some("Heat goes only over film that lies.".into()),
            false,
        );
    }
    if let Some(open) = runs.iter().find(|r| r.closed.is_none()) {
        if let Some(locked) = locked {
            return say(locked.into(), None, true);
        }
        if let Some(cannot) = &open.run.cannot {
            return say(format!("{}: {cannot}", open.run.name), None, true);
        }
        return match (&open.gap, open.readings) {
            (Some(gap), n) if n > 0 => say(
                format!("{}: {gap}", open.run.name),
                Some(match &open.pace {
                    Some(pace) => format!("{} Walk it at {}.", open.run.says, pace.each),
                    None => open.run.says.clone(),
                }),
                false,
            ),
            (None, _) => say(
                format!("{}: all of it is measured. Close it.", open.run.name),
                open.passed.clone(),
                open.passed.is_some(),
            ),
            _ => say(
                format!(
                    "Walk {}, {}: {}",
                    open.run.name, open.run.length.text, open.run.says
                ),
                None,
                false,
            ),
        };
    }
    if let Some(open) = seals.iter().find(|s| !s.sealed) {
        let (name, long) = (&open.run.name, &open.run.length.text);
        let (says, after) = match open.run.with {
            SealWith::Sealer => (
                format!("Seal {name}, {long}."),
                "Heat is done; no gun on wet sealer.",
            ),
            SealWith::Tape => (format!("Seal tape: {name}, {long}."), open.run.how),
            SealWith::Coat => ("Aftercare coat.".to_owned(), open.run.how),
        };
        return say(says, Some(after.into()), false);
    }
    say(
        format!("{called}: nothing is left to heat or seal."),
        None,
        false,
    )
}
