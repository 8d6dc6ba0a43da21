//! What the owner of a vehicle may do and when, worked out from its record.

use std::collections::BTreeMap;

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::classes::FilmClass;
use windrift_core::floor::bay::BayEntry;
use windrift_core::floor::care::{CareDate, Pressed, care};
use windrift_core::floor::prep::warm::AirAt;
use windrift_core::ground::climate::Climate;
use windrift_core::ground::zone::Zone;
use windrift_core::vehicle::kinds::VehicleKind;
use windrift_core::vehicle::side::words::SideKind;
use windrift_store::EntryKind;

use crate::bays::done_at;
use crate::desk::Desk;
use crate::job_pieces::JobPieces;
use crate::keys::{for_whom, key};
use crate::nests::film_of;
use crate::problem::Problem;
use crate::views::Audits;

/// Most entries of one kind that are looked at.
const MOST: u64 = 4_000;

/// What the owner is told beside the dates.
const ALSO: [&str; 3] = [
    "An edge that lifts, a bubble, a mark: leave it as it is and ring the shop. Soon it is a small matter.",
    "Fuel and oil off at once with water and mild soap.",
    "No stickers over the film, no tape on it, no ice scraper.",
];

/// Looking after a vehicle.
#[derive(Debug, Serialize, ToSchema)]
pub struct CareView {
    /// Pieces that lie, marked sides among them.
    pub lies: u32,
    /// Pieces in all.
    pub of: u32,
    /// Dates, in the order in which they come.
    pub dates: Vec<CareDate>,
    /// What else the owner is told.
    pub also: Vec<String>,
    /// What the dates do not know yet, in a sentence.
    pub but: Option<String>,
    /// The clock that they are told by.
    pub zone: String,
}

/// A job with what its owner is told.
pub struct Cared {
    /// The job.
    pub job: Uuid,
    /// What it is called.
    pub title: String,
    /// Whose it is.
    pub customer: String,
    /// The shop's clock.
    pub zone: Zone,
    /// What is told.
    pub view: CareView,
}

/// Works out what the owner of a job is told.
pub async fn cared(desk: &Desk, id: &str) -> Result<Cared, Problem> {
    let rows = desk.job(key(id)?).await?;
    let (job, customer) = (rows.job.id, for_whom(&rows.job));
    let mut pressed_at: BTreeMap<Uuid, OffsetDateTime> = BTreeMap::new();
    for entry in desk.record_of_kind(job, EntryKind::Laid, MOST).await? {
        if let Some(piece) = entry.piece {
            pressed_at.insert(piece, done_at(&entry));
        }
    }
    let mut air: Vec<AirAt> = desk
        .record_of_kind(job, EntryKind::Bay, MOST)
        .await?
        .into_iter()
        .filter_map(|e| {
            let at = done_at(&e);
            match serde_json::from_value(e.body).ok()? {
                BayEntry::Air { celsius, .. } => Some(AirAt { at, celsius }),
                _ => None,
            }
        })
        .collect();
    air.sort_by_key(|a| a.at);
    let boat = rows.job.vehicle_kind == VehicleKind::Boat.name();
    let pieces = JobPieces::of(desk, id).await?;
    let climate = desk.ways().await?.climate;
    let mut pressed = Vec::new();
    let mut of = 0;
    for side in &pieces.sides {
        let kind = side.planned.plan.side.side.kind;
        for p in &side.planned.plan.pieces {
            of += 1;
            let Some(at) = pressed_at.get(&p.id) else {
                continue;
            };
            let sheet = p.piece.work.chosen.as_ref().map(|c| c.film.worked());
            pressed.push(Pressed {
                called: p.piece.called(),
                at: *at,
                film: p.piece.film_figures(),
                lies: matches!(kind, SideKind::Hood | SideKind::Roof | SideKind::Deck),
                lying_years: sheet.as_ref().and_then(|s| s.lying_years),
                climate,
                polish_after_weeks: sheet.as_ref().and_then(|s| s.polish_after_weeks),
            });
        }
    }
    let marked = marked(desk, job, &pieces, climate).await?;
    of += marked.len() as u32;
    let is_marked = !marked.is_empty();
    pressed.extend(marked.into_iter().flatten());
    let zone = pieces.ways.zone;
    let lies = pressed.len() as u32;
    let but = (lies < of).then(|| match lies {
        0 if is_marked => "Nothing lies yet, as far as anybody has recorded: dates follow from when film is pressed, those of marking strip from its audit as read back.".to_owned(),
        0 => "Nothing lies yet, as far as anybody has recorded: dates follow from when film is pressed.".to_owned(),
        _ => format!("{} of {of} pieces do not lie yet: dates follow from the last.", of - lies),
    });
    let dates = care(&pressed, &air, boat, zone, pieces.unit);
    Ok(Cared {
        job,
        title: pieces.title,
        customer,
        zone,
        view: CareView {
            lies,
            of,
            dates,
            also: ALSO.map(str::to_owned).into(),
            but,
            zone: zone.name().to_owned(),
        },
    })
}

/// Marking strip of each side that has some: it lies from the hour at which its audit was recorded as read back, since nobody records each strip.
async fn marked(
    desk: &Desk,
    job: Uuid,
    pieces: &JobPieces,
    climate: Climate,
) -> Result<Vec<Option<Pressed>>, Problem> {
    let audits = desk.record_of_kind(job, EntryKind::Marking, MOST).await?;
    let shelf = desk.films().await?;
    let mut all = Vec::new();
    for side in &pieces.sides {
        if desk.side(side.id).await?.marking.is_none() {
            continue;
        }
        let read_back = audits.iter().rfind(|e| {
            let of_side = e.body["side"].as_str().and_then(|s| s.parse().ok());
            let audits = serde_json::from_value(e.body["audits"].clone());
            of_side == Some(side.id) && matches!(audits, Ok(Audits::ReadBack))
        });
        // By the sheet of the tape that it was cut from, where that is known.
        let tape = pieces.tapes().find(|(_, t)| t.side == side.id);
        let row = tape.and_then(|(_, t)| shelf.iter().find(|f| f.id == t.film));
        let film = row.and_then(film_of);
        all.push(read_back.map(|entry| Pressed {
            called: format!("marking strip, {}", side.name),
            at: done_at(entry),
            film: film.map_or(FilmClass::ConspicuityStrip.figures(), |f| f.figures()),
            lies: false,
            lying_years: None,
            climate,
            polish_after_weeks: None,
        }));
    }
    Ok(all)
}
