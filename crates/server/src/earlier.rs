//! Earlier jobs on the same vehicle: what they put on it, as the old film that comes off now.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::strip::earlier::as_old;
use windrift_core::floor::strip::old::OldGraphic;
use windrift_core::shop::old_strips::strip_as_old;
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, JobRows, RecordEntry};

use crate::bays::done_at;
use crate::desk::Desk;
use crate::marked::{settled, settled_parts};
use crate::problem::Problem;
use crate::strip_view::Stripped;
use crate::views::Audits;

/// Most earlier jobs that are told, the newest ones.
const MOST_JOBS: usize = 6;
/// Most jobs that are looked through for them.
const LOOKED_AT: u64 = 24;
/// Most entries of one record that are looked at.
const MOST_ENTRIES: u64 = 20_000;
/// Seconds of a year.
const YEAR: f64 = 365.25 * 86_400.0;

/// A piece of an earlier job.
#[derive(Debug, Serialize, ToSchema)]
pub struct EarlierPiece {
    /// What it is as old film on this job.
    pub graphic: OldGraphic,
    /// What it is called and where it lies, in words.
    pub says: String,
    /// Whether it is among this job's old film already.
    pub taken: bool,
}

/// An earlier job.
#[derive(Debug, Serialize, ToSchema)]
pub struct EarlierJob {
    /// The job.
    pub id: Uuid,
    /// What it is called.
    pub title: String,
    /// Since when its film lies, in words.
    pub since: String,
    /// Its pieces on sides that this job has too.
    pub pieces: Vec<EarlierPiece>,
    /// What could not be taken over, in words.
    pub left_out: Vec<String>,
}

/// What earlier jobs put on this vehicle.
#[derive(Debug, Serialize, ToSchema)]
pub struct EarlierView {
    /// What was looked for.
    pub find: String,
    /// The newest first.
    pub jobs: Vec<EarlierJob>,
}

/// What earlier jobs put on this vehicle. Jobs that laid nothing and were not finished put nothing on it.
pub(crate) async fn earlier(
    desk: &Desk,
    job: &JobRows,
    find: Option<&str>,
) -> Result<EarlierView, Problem> {
    let typed = find.map(str::trim).filter(|f| !f.is_empty());
    // The same vehicle by its plate, where it has one; the customer's otherwise.
    let own = job.job.plate.as_deref().unwrap_or(&job.job.customer);
    let find: String = typed.unwrap_or(own).chars().take(80).collect();
    let mut sides: BTreeMap<SideKind, Vec<Uuid>> = BTreeMap::new();
    for s in &job.sides {
        let side: Side = Kind::Side.read(&s.side.spec)?;
        sides.entry(side.kind).or_default().push(s.side.id);
    }
    let stripped = Stripped::of(desk, job.job.id).await?;
    let taken: BTreeSet<Uuid> = (stripped.standing.old.iter())
        .filter_map(|o| o.graphic.piece)
        .collect();
    let (found, _) = desk.jobs(0, LOOKED_AT, &find, false).await?;
    let ids: Vec<Uuid> = found.iter().map(|r| r.job.id).collect();
    let finished = desk.finished(&ids).await?;
    let mut jobs = Vec::new();
    // The customer's other vehicles are offered only to whoever looks for them.
    let may_be = |r: &&JobRows| {
        r.job.id != job.job.id && (typed.is_some() || r.job.vehicle_kind == job.job.vehicle_kind)
    };
    for rows in found.iter().filter(may_be) {
        let told = one(desk, rows, finished.get(&rows.job.id), &sides, &taken).await?;
        jobs.extend(told);
        if jobs.len() == MOST_JOBS {
            break;
        }
    }
    Ok(EarlierView { find, jobs })
}

/// One earlier job; nothing where nothing of it is on a side that this job has.
async fn one(
    desk: &Desk,
    rows: &JobRows,
    finished: Option<&OffsetDateTime>,
    sides: &BTreeMap<SideKind, Vec<Uuid>>,
    taken: &BTreeSet<Uuid>,
) -> Result<Option<EarlierJob>, Problem> {
    let ways = desk.ways().await?;
    let mut laid: BTreeMap<Uuid, OffsetDateTime> = BTreeMap::new();
    let entries = desk.record_of_kind(rows.job.id, EntryKind::Laid, MOST_ENTRIES);
    for e in entries.await? {
        if let Some(piece) = e.piece {
            laid.insert(piece, done_at(&e));
        }
    }
    let audits = desk.record_of_kind(rows.job.id, EntryKind::Marking, MOST_ENTRIES);
    let read_back = read_back_at(&audits.await?);
    if laid.is_empty() && read_back.is_empty() && finished.is_none() {
        return Ok(None);
    }
    let (mut pieces, mut left_out, mut since) = (Vec::new(), Vec::new(), None);
    for row in &rows.sides {
        let side: Side = match Kind::Side.read(&row.side.spec) {
            Ok(side) => side,
            Err(_) => continue,
        };
        let name =
            (side.called.clone()).unwrap_or_else(|| side.kind.name(ways.side_words).to_owned());
        let on = match sides.get(&side.kind).map(Vec::as_slice) {
            Some([on]) => *on,
            // Which of several doors it was nobody has written down.
            Some(_) => {
                left_out.push(format!("{name}: this job has several such sides."));
                continue;
            }
            None => {
                if !row.pieces.is_empty() {
                    left_out.push(format!("{name}: this job has no such side."));
                }
                continue;
            }
        };
        if let Some(at) = read_back.get(&row.side.id).or(finished)
            && row.marking.is_some()
        {
            since = since.max(Some(*at));
            let strips = old_strips(desk, row.side.id, on, years_since(*at)).await?;
            pieces.extend(strips.into_iter().map(|graphic| EarlierPiece {
                says: format!("{}, {name}", graphic.kind.name()),
                taken: graphic.piece.is_some_and(|p| taken.contains(&p)),
                graphic,
            }));
        }
        let planned = match desk.planned(rows, row.side.id, &ways).await {
            Ok(planned) => planned,
            Err(problem) if problem.status < 500 => {
                left_out.push(format!("{name}: it cannot be planned any more."));
                continue;
            }
            Err(problem) => return Err(problem),
        };
        for p in &planned.plan.pieces {
            let Some(at) = laid.get(&p.id).or(finished) else {
                continue;
            };
            let graphic = as_old(p, &planned.plan.side, on, years_since(*at));
            // A piece that is too small or too large for Strip is said by hand.
            if let Err(why) = graphic.check() {
                left_out.push(format!("{}: {}", graphic.name, why.sentence));
                continue;
            }
            since = since.max(Some(*at));
            pieces.push(EarlierPiece {
                says: format!("{}, {name}", graphic.kind.name()),
                taken: taken.contains(&p.id),
                graphic,
            });
        }
    }
    if pieces.is_empty() {
        return Ok(None);
    }
    let since = since.map_or(String::new(), |at| ways.zone.in_words(at));
    Ok(Some(EarlierJob {
        id: rows.job.id,
        title: rows.job.title.clone(),
        since: if laid.is_empty() && read_back.is_empty() {
            format!("finished {since}")
        } else {
            format!("laid {since}")
        },
        pieces,
        left_out,
    }))
}

/// How long something has been on, years, to a tenth.
fn years_since(at: OffsetDateTime) -> f64 {
    let years = (OffsetDateTime::now_utc() - at).as_seconds_f64() / YEAR;
    ((years * 10.0).round() / 10.0).clamp(0.0, 60.0)
}

/// Sides whose marking was recorded as read back, each with when that was last.
fn read_back_at(audits: &[RecordEntry]) -> BTreeMap<Uuid, OffsetDateTime> {
    let side_of = |e: &RecordEntry| {
        let audits = serde_json::from_value(e.body["audits"].clone());
        let side = e.body["side"].as_str()?.parse().ok()?;
        matches!(audits, Ok(Audits::ReadBack)).then_some((side, done_at(e)))
    };
    audits.iter().filter_map(side_of).collect()
}

/// The marking strips of a side of an earlier job as old film: as they were read back, else as they were laid out. None where they cannot be worked
/// out any more.
async fn old_strips(
    desk: &Desk,
    of: Uuid,
    on: Uuid,
    age_years: f64,
) -> Result<Vec<OldGraphic>, Problem> {
    let rows = desk.side(of).await?;
    let read_back = settled(&rows)?.is_some_and(|m| m.read_back.is_some());
    let (input, parts) = match settled_parts(desk, &rows, read_back).await {
        Ok(found) => found,
        Err(problem) if problem.status < 500 => return Ok(Vec::new()),
        Err(problem) => return Err(problem),
    };
    // A row of reflectors is no film.
    let strips = (parts.numbers.iter().zip(&parts.strips)).filter(|(_, s)| s.reflectors.is_none());
    let graphics = strips.map(|(n, strip)| {
        // A key that the strip keeps: its side's with its number.
        let piece = Uuid::from_u128(of.as_u128() ^ (*n as u128 + 1));
        let ground = input.marking.ground_mm;
        strip_as_old(*n as u32, strip, ground, piece, on, age_years)
    });
    Ok(graphics.filter(|g| g.check().is_ok()).collect())
}
