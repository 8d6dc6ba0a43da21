//! Rolls that marking strips are cut from.

use rocket::data::Data;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::tape::print;
use windrift_store::StoreError;
use windrift_store::shelf::{NewRollEntry, RollChange};

use crate::desk::Desk;
use crate::entries::cut::{CutFrom, FilmCut};
use crate::job_pieces::JobPieces;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::tape_rolls::{SideCuts, TapeFromRolls, side_cuts, tape_rolls};

/// Strips that are cut from a roll.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct CutTape {
    /// Made by the client, so that a repeated request cuts once.
    pub id: Uuid,
    /// The tape, as the cut list calls it.
    pub tape: String,
    /// The roll.
    pub roll: Uuid,
    /// Its revision, as it was seen.
    pub revision: i32,
    /// What is taken of it, as it was seen, mm.
    pub used_mm: f64,
}

/// The side's strips with their job.
///
/// Errors: no such side; nothing settled about its marking.
async fn strips_of(desk: &Desk, id: &str) -> Result<(JobPieces, SideCuts), Problem> {
    let rows = desk.side(key(id)?).await?;
    let job = JobPieces::of(desk, &rows.job.id.to_string()).await?;
    let name = job.side_name(rows.side.id);
    let cuts = side_cuts(desk, &rows, name).await?.ok_or_else(|| {
        Problem::input(
            "marking",
            "Nothing is settled yet: say what vehicle it is, and measure from the reference to the ground.",
        )
    })?;
    Ok((job, cuts))
}

/// Rolls of the shelf that the strips of a side can be cut from, or were.
#[utoipa::path(get, path = "/api/sides/{id}/marking/tape", params(("id" = Uuid, Path)), responses((status = 200, body = TapeFromRolls), (status = 422, body = Problem)))]
#[get("/sides/<id>/marking/tape")]
pub async fn marking_tape(desk: &Desk, id: &str) -> Answer<TapeFromRolls> {
    let (job, cuts) = strips_of(desk, id).await?;
    let rolls = tape_rolls(desk, job.unit).await?;
    Ok(Json(cuts.view(&job, &rolls)))
}

/// Cuts the strips of one tape from a roll: what they take is taken from it, with its lot. A roll with too little gives the first ones of those that are not cut
/// yet. Refused where somebody took from that roll since, or where the strips are laid out otherwise by now.
#[utoipa::path(post, path = "/api/sides/{id}/marking/tape", params(("id" = Uuid, Path)), request_body = CutTape, responses((status = 200, body = TapeFromRolls), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/sides/<id>/marking/tape", data = "<data>")]
pub async fn cut_tape(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<TapeFromRolls> {
    let crew = caller.writer()?.id;
    let new: CutTape = read_as(read_json(data).await?)?;
    let (job, cuts) = strips_of(desk, id).await?;
    // Asked for once more it is cut already.
    if !job.cut.iter().any(|e| e.id == new.id) {
        take(desk, crew, &new, &job, &cuts).await?;
    }
    // Into the job's record too, also where the first request got no further than the roll.
    let job = JobPieces::of(desk, &job.id.to_string()).await?;
    if let Some((entry, tape)) = job.tapes().find(|(e, _)| e.id == new.id) {
        let body = FilmCut {
            film: tape.film_name.clone(),
            rolls: vec![CutFrom::of(entry)],
        };
        desk.append(job.id, body.entry(new.id, crew)?).await?;
    }
    let rolls = tape_rolls(desk, job.unit).await?;
    Ok(Json(cuts.view(&job, &rolls)))
}

/// Takes from the roll what the strips need, if they still are what was seen.
async fn take(
    desk: &Desk,
    crew: Uuid,
    new: &CutTape,
    job: &JobPieces,
    cuts: &SideCuts,
) -> Result<(), Problem> {
    let stale = || {
        Problem::new(
            Status::Conflict,
            "stale",
            "The strips are not laid out as you saw them, or somebody took from this roll. Look at it again, then cut.",
        )
    };
    let list = cuts.lists.iter().find(|l| l.name == new.tape);
    let rolls = tape_rolls(desk, job.unit).await?;
    let roll = rolls.iter().find(|r| r.view.id == new.roll);
    let (Some(list), Some(roll)) = (list, roll) else {
        return Err(stale());
    };
    let (next, _) = cuts.next(list, job);
    let (given, need) = next.given_by(roll.view.left.mm);
    if roll.view.revision != new.revision {
        return Err(stale());
    }
    if let Some(why) = roll.why_not(&next, job.unit) {
        return Err(Problem::input(
            "tape",
            format!(
                "The strips cannot be cut from lot {}: {why}. Take another roll.",
                roll.view.lot
            ),
        ));
    }
    // As it was printed, which is what was seen.
    let told = print(need, job.unit).mm;
    if (told - new.used_mm).abs() > 0.01 {
        return Err(stale());
    }
    let taken = cuts.taken(list, &next, given, roll);
    let entry = NewRollEntry {
        id: new.id,
        roll: roll.view.id,
        seen: new.revision,
        change: RollChange::Take(need),
        job: Some(job.id),
        crew,
        spec: serde_json::to_value(&taken).map_err(StoreError::from)?,
    };
    Ok(desk.enter_rolls(vec![entry]).await?)
}
