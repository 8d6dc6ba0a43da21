//! Everything of one film on its rolls, and what is cut.

use std::time::Duration;

use rocket::data::Data;
use rocket::http::Status;
use rocket::post;
use rocket::serde::json::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::cut::nest::Nest;
use windrift_core::ground::tape::print;
use windrift_store::StoreError;
use windrift_store::shelf::{NewRollEntry, RollChange};

use crate::desk::Desk;
use crate::entries::cut::{CutFrom, FilmCut};
use crate::job_pieces::JobPieces;
use crate::nests::{Search, film_of, rolls_of};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::roll_layout::{FilmRolls, lay_out};
use crate::routes::Answer;
use crate::views::NestView;

/// Longest that one answer goes on with a layout.
const LONGEST: Duration = Duration::from_millis(1500);

/// Which film to lay out, and for how long.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NestAsk {
    /// The film.
    pub film: Uuid,
    /// How long to go on, milliseconds; at most 1500.
    #[serde(default)]
    pub milliseconds: u64,
}

/// A layout to be cut.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct CutNest {
    /// Made by the client, so that a repeated request cuts once.
    pub id: Uuid,
    /// The film.
    pub film: Uuid,
    /// The rolls with their revisions, as they were seen.
    pub rolls: Vec<SeenRoll>,
}

/// A roll as it was seen.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeenRoll {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// What is taken of it, as it was seen, mm.
    pub used_mm: f64,
}

/// A film of the shelf with its rolls.
///
/// Errors: a film that is off the shelf by now.
async fn film_rolls(desk: &Desk, film: Uuid) -> Result<FilmRolls, Problem> {
    let films = desk.films().await?;
    let found = films.iter().find(|f| f.id == film).and_then(film_of);
    let found = found.ok_or_else(|| {
        Problem::input(
            "film",
            "This film is no longer on the shelf. Choose another one for its pieces, or put it there again.",
        )
    })?;
    Ok(FilmRolls {
        film,
        name: found.name,
        rolls: rolls_of(desk, film).await?,
    })
}

/// Everything of one film on its rolls; asked again, the search goes on from where it was.
#[utoipa::path(post, path = "/api/jobs/{id}/nest", params(("id" = Uuid, Path)), request_body = NestAsk, responses((status = 200, body = NestView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/nest", data = "<data>")]
pub async fn nest(desk: &Desk, id: &str, data: Data<'_>) -> Answer<NestView> {
    let ask: NestAsk = read_as(read_json(data).await?)?;
    let job = JobPieces::of(desk, id).await?;
    let of = film_rolls(desk, ask.film).await?;
    let time = Duration::from_millis(ask.milliseconds).min(LONGEST);
    let found = desk.compute(move || lay_out(&job, &of, Search::GoOn(time)));
    with_kept(desk, found.await??.view).await
}

/// Says which offcuts were put on the shelf already.
async fn with_kept(desk: &Desk, mut view: NestView) -> Answer<NestView> {
    let offcuts = || view.cut.iter().filter_map(|c| c.offcut.as_ref());
    let known = desk.rolls_known(offcuts().map(|o| o.id).collect()).await?;
    for offcut in view.cut.iter_mut().filter_map(|c| c.offcut.as_mut()) {
        offcut.kept = known.contains(&offcut.id);
    }
    Ok(Json(view))
}

/// The key of what one of several rolls gives to a cut.
fn entry_id(cut: Uuid, n: usize) -> Uuid {
    Uuid::from_u128(cut.as_u128().wrapping_add(n as u128))
}

/// Cuts a layout as it was seen: what it takes is taken from the rolls, and its pieces are cut. Refused where somebody took from one of those
/// rolls since, or where a piece is another by now; a shorter layout that was found meanwhile is no hindrance.
#[utoipa::path(post, path = "/api/jobs/{id}/cut", params(("id" = Uuid, Path)), request_body = CutNest, responses((status = 200, body = NestView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/cut", data = "<data>")]
pub async fn cut(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<NestView> {
    let crew = caller.writer()?.id;
    let new: CutNest = read_as(read_json(data).await?)?;
    let job = JobPieces::of(desk, id).await?;
    let of = film_rolls(desk, new.film).await?;
    let name = of.name.clone();
    // Asked for once more it is cut already.
    if !job.cut.iter().any(|e| e.id == new.id) {
        take(desk, crew, &new, job, of).await?;
    }
    // Into the job's record too, also where the first request got no further than the rolls.
    let job = JobPieces::of(desk, id).await?;
    let entries = (0..).map_while(|n| job.cut.iter().find(|e| e.id == entry_id(new.id, n)));
    let body = FilmCut {
        film: name,
        rolls: entries.map(CutFrom::of).collect(),
    };
    desk.append(job.id, body.entry(new.id, crew)?).await?;
    let of = film_rolls(desk, new.film).await?;
    let found = desk.compute(move || lay_out(&job, &of, Search::GoOn(Duration::ZERO)));
    with_kept(desk, found.await??.view).await
}

/// Takes from the rolls what a layout needs, if it still is the one that was seen.
async fn take(
    desk: &Desk,
    crew: Uuid,
    new: &CutNest,
    job: JobPieces,
    of: FilmRolls,
) -> Result<(), Problem> {
    let (id, unit) = (job.id, job.unit);
    let seen: Vec<f64> = new.rolls.iter().map(|r| r.used_mm).collect();
    // As it was printed, which is what was seen.
    let same = move |used: f64, seen: f64| (print(used, unit).mm - seen).abs() < 0.01;
    let layout = desk.compute(move || {
        let as_seen = |nest: &Nest| {
            let used: Vec<f64> = (nest.used_mm.iter().copied())
                .filter(|mm| *mm > 0.0)
                .collect();
            used.len() == seen.len() && used.iter().zip(&seen).all(|(u, s)| same(*u, *s))
        };
        lay_out(&job, &of, Search::Seen(&as_seen))
    });
    let layout = layout.await??;
    if layout.takes.is_empty() {
        return Err(Problem::input(
            "cut",
            "Nothing of this film is left to cut for this job.",
        ));
    }
    let stands = layout.takes.len() == new.rolls.len()
        && (layout.takes.iter().zip(&new.rolls)).all(|((roll, used, _), seen)| {
            roll.row.id == seen.id
                && roll.row.revision == seen.revision
                && same(*used, seen.used_mm)
        });
    if !stands {
        return Err(Problem::new(
            Status::Conflict,
            "stale",
            "The layout is not the one that you saw: a piece is another by now, or somebody took from a roll. Look at it again, then cut.",
        ));
    }
    let entries = (layout.takes.into_iter().enumerate())
        .map(|(n, (roll, used, taken))| {
            Ok(NewRollEntry {
                id: entry_id(new.id, n),
                roll: roll.row.id,
                seen: roll.row.revision,
                change: RollChange::Take(used),
                job: Some(id),
                crew,
                spec: serde_json::to_value(&taken).map_err(StoreError::from)?,
            })
        })
        .collect::<Result<Vec<_>, StoreError>>()?;
    Ok(desk.enter_rolls(entries).await?)
}
