//! What came back, tied to what was read, heated and cut there; how often, and what the next plan is told.

use std::collections::{BTreeMap, BTreeSet};

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::call_back::{CallBack, CameBack, CameBackRate, Cause, rate};
use windrift_core::floor::heat::{HeatEntry, Heated, stand};
use windrift_store::{EntryKind, NewEntry, RecordEntry, StoreError};

use crate::bays::done_at;
use crate::desk::Desk;
use crate::floor::Floor;
use crate::job_pieces::JobPieces;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::views::{Word, words};

/// So far back is looked, and at most at so many entries of one kind.
const LOOK_BACK: Duration = Duration::days(5 * 366);
const MOST: u64 = 20_000;

/// A call-back to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewCallBack {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What came back.
    pub call_back: CallBack,
}

/// A call-back in words.
#[derive(Debug, Serialize, ToSchema)]
pub struct CallBackView {
    /// Its entry.
    pub id: Uuid,
    /// The piece.
    pub piece: Uuid,
    /// What, where, why, and what is known of that spot.
    pub says: String,
    /// A photo of it.
    pub photo: Option<Uuid>,
}

/// What came back of a job, and how often it does in this shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct CallBacksView {
    /// Of this job, oldest first.
    pub of_job: Vec<CallBackView>,
    /// Of the shop in five years, as shares of the pieces that were laid.
    pub rates: Vec<CameBackRate>,
    /// What can be seen.
    pub seen: Vec<Word<CameBack>>,
    /// What it can come from.
    pub causes: Vec<Word<Cause>>,
}

fn read(entry: &RecordEntry) -> Option<CallBack> {
    serde_json::from_value(entry.body.clone()).ok()
}

/// What came back of a job.
#[utoipa::path(get, path = "/api/jobs/{id}/call-backs", params(("id" = Uuid, Path)), responses((status = 200, body = CallBacksView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/call-backs")]
pub async fn call_backs(desk: &Desk, id: &str) -> Answer<CallBacksView> {
    let job = desk.job(key(id)?).await?.job.id;
    Ok(Json(view(desk, job).await?))
}

/// Records what came back of a piece; answers how its job stands then.
#[utoipa::path(post, path = "/api/pieces/{id}/call-backs", params(("id" = Uuid, Path)), request_body = NewCallBack, responses((status = 200, body = CallBacksView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/pieces/<id>/call-backs", data = "<data>")]
pub async fn add_call_back(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<CallBacksView> {
    let who = caller.writer()?.id;
    let floor = Floor::of(desk, id).await?;
    let (piece, job) = (floor.piece().id, floor.rows.job.id);
    let new: NewCallBack = read_as(read_json(data).await?)?;
    if desk.entry_of_job(job, new.id).await?.is_some() {
        return Ok(Json(view(desk, job).await?));
    }
    let mut call_back = new.call_back;
    if let Some(photo) = call_back.photo
        && !desk.has_photo(job, photo).await?
    {
        return Err(StoreError::NotFound("photo").into());
    }
    call_back
        .check()
        .map_err(|e| Problem::input("measure", e.sentence).at(format!("/call_back/{}", e.field)))?;
    let laid = desk.record_of_kind(job, EntryKind::Laid, MOST).await?;
    let laid = laid.iter().rfind(|e| e.piece == Some(piece));
    let Some(laid) = laid else {
        return Err(Problem::input(
            "not_laid",
            "It does not lie yet, as far as anybody has recorded: what does not lie does not come back.",
        ));
    };
    let days = (OffsetDateTime::now_utc() - done_at(laid)).whole_days();
    call_back.days = u32::try_from(days).ok();
    let planned = &floor.piece().piece;
    call_back.class = Some(planned.film());
    call_back.film = match &planned.work.chosen {
        Some(chosen) => chosen.film.name.clone(),
        None => planned.film_figures().name.to_owned(),
    };
    let heat = desk.record_of_kind(job, EntryKind::Heat, MOST).await?;
    let heated = heated_of(heat.iter().filter(|e| e.piece == Some(piece)));
    call_back.reached = match &call_back.run {
        Some(run) => heated.closed.get(run).map(Option::is_none),
        None => reached(&heated),
    };
    call_back.lots = JobPieces::of(desk, &job.to_string())
        .await?
        .cut
        .iter()
        .filter(|c| c.taken.pieces.iter().any(|p| p.piece == piece))
        .map(|c| c.taken.lot.clone())
        .collect();
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::CallBack,
        crew: who,
        piece: Some(piece),
        body: serde_json::to_value(&call_back).map_err(StoreError::from)?,
        read_at: caller.read_at(),
    };
    desk.append(job, entry).await?;
    Ok(Json(view(desk, job).await?))
}

fn heated_of<'e>(entries: impl Iterator<Item = &'e RecordEntry>) -> Heated {
    let entries: Vec<HeatEntry> = entries
        .filter_map(|e| serde_json::from_value(e.body.clone()).ok())
        .collect();
    stand(&entries)
}

/// Whether every run that was closed is known to have reached; nothing where none was.
fn reached(heated: &Heated) -> Option<bool> {
    (!heated.closed.is_empty()).then(|| heated.closed.values().all(Option::is_none))
}

async fn view(desk: &Desk, job: Uuid) -> Result<CallBacksView, Problem> {
    let since = OffsetDateTime::now_utc() - LOOK_BACK;
    let own = desk.record_of_kind(job, EntryKind::CallBack, MOST).await?;
    let of_job = own
        .iter()
        .filter_map(|e| {
            let said = read(e)?;
            Some(CallBackView {
                id: e.id,
                piece: e.piece?,
                says: crate::entries::call_back_in_words(&said),
                photo: said.photo,
            })
        })
        .collect();
    let laid = desk.record_since(EntryKind::Laid, since, MOST).await?;
    let laid: BTreeSet<Uuid> = laid.iter().filter_map(|(_, e)| e.piece).collect();
    let back = desk.record_since(EntryKind::CallBack, since, MOST).await?;
    let back: Vec<(Uuid, CallBack)> = back
        .iter()
        .filter_map(|(_, e)| Some((e.piece?, read(e)?)))
        .collect();
    let heat = desk.record_since(EntryKind::Heat, since, MOST).await?;
    let mut by_piece: BTreeMap<Uuid, Vec<&RecordEntry>> = BTreeMap::new();
    for (_, e) in &heat {
        if let Some(piece) = e.piece {
            by_piece.entry(piece).or_default().push(e);
        }
    }
    let state: BTreeMap<Uuid, Option<bool>> = by_piece
        .into_iter()
        .map(|(piece, all)| (piece, reached(&heated_of(all.into_iter()))))
        .collect();
    let pieces = |which: &dyn Fn(&CallBack) -> bool| -> BTreeSet<Uuid> {
        back.iter()
            .filter(|(_, c)| which(c))
            .map(|(p, _)| *p)
            .collect()
    };
    let count = |set: &BTreeSet<Uuid>| set.len() as u32;
    let any = pieces(&|_| true);
    let mut rates = vec![rate("All that was laid", count(&any), count(&laid))];
    for (of, is) in [
        ("Known to have reached its temperature", Some(true)),
        (
            "Closed without all of it known to have reached",
            Some(false),
        ),
        ("Never measured behind the heat", None),
    ] {
        let all: BTreeSet<Uuid> = laid
            .iter()
            .filter(|p| state.get(p).copied().flatten() == is)
            .copied()
            .collect();
        rates.push(rate(of, any.intersection(&all).count() as u32, count(&all)));
    }
    for cause in Cause::ALL {
        let back = pieces(&|c| c.cause == cause);
        if !back.is_empty() {
            rates.push(rate(
                &format!("Because of: {}", cause.name()),
                count(&back),
                count(&laid),
            ));
        }
    }
    Ok(CallBacksView {
        of_job,
        rates,
        seen: words(CameBack::ALL, CameBack::name),
        causes: words(Cause::ALL, Cause::name),
    })
}
