//! Heat & seal of a side as it stands: what must reach its temperature, what is known to have, and what is sealed.

use std::collections::BTreeMap;

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::floor::edges::SealWith;
use windrift_core::floor::heat::runs::{AfterLaying, HeatRun, after_laying};
use windrift_core::floor::heat::stream::{Leg, off_by};
use windrift_core::floor::heat::{
    HeatEntry, Heated, Reached, ReadAt, VOUCHES_MM, first_gap, reached_share, stand_with,
};
use windrift_core::ground::degrees::told as degrees;
use windrift_core::ground::tape::{Unit, print, print_move};
use windrift_core::plan::planned::PlannedPiece;
use windrift_store::{EntryKind, RecordEntry};

use crate::bay_view::bay_view;
use crate::bays::{Bay, done_at};
use crate::called_back::CalledBack;
use crate::desk::Desk;
use crate::paces::{AIR_NOT_READ, Calibrates, Gunned};
use crate::planned::{PlannedSide, unit_of};
use crate::problem::Problem;
use crate::streams::{entries_of, legs};
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

/// Entries of Heat & seal of a job, those that can be read.
pub async fn entries(desk: &Desk, job: Uuid) -> Result<Vec<(RecordEntry, HeatEntry)>, Problem> {
    let rows = desk
        .record_of_kind(job, EntryKind::Heat, MOST_ENTRIES)
        .await?;
    Ok(entries_of(rows))
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
pub fn of_job(
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

/// What a piece asks for once it lies.
pub fn of_piece(
    piece: &PlannedPiece,
    planned: &PlannedSide,
    ways: &Ways,
    unit: Unit,
) -> AfterLaying {
    let side = &planned.plan.side;
    let face = side.side.surface.verdict(ways.today());
    after_laying(piece, side, &face, ways, unit)
}

/// How a side stands. A pace is worked out only where somebody walks by it.
pub async fn view(desk: &Desk, side: Uuid, paces: bool) -> Result<HeatView, Problem> {
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
                    if let Some(ceiling) = found.film_ceiling()
                        && paces
                        && laid.contains(&p.id)
                    {
                        let film_mm = p.piece.film_figures().thickness_mm;
                        found.says.push(gun.burst(film_mm, ceiling, start, unit));
                    }
                    let heated = heated.remove(&p.id).unwrap_or_default();
                    let laid = laid.contains(&p.id);
                    let film_mm = p.piece.film_figures().thickness_mm;
                    let size = p.drawn.bounds.size();
                    let under = (surface, film_mm, size.width * size.height);
                    let pace = |run: &HeatRun| {
                        // A pace is worked out where it is walked.
                        (laid && paces)
                            .then(|| gun.pace(run, under, start, unit))
                            .flatten()
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
        if open.run.cannot.is_some() {
            return say(
                format!("{}: not by heat here.", open.run.name),
                Some("Why, and what else, stands with it.".into()),
                true,
            );
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
