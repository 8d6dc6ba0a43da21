//! Reading both flats, what to move, and locking the hinge. Everything read goes into the record.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::flats::Flat;
use windrift_core::level::{Advice, RoundOfReadings, advise};
use windrift_core::plan::PlannedPiece;
use windrift_core::tape::{Length, Unit, print};
use windrift_store::{EntryKind, NewEntry, RecordEntry, SideRows, Store};

use super::Answer;
use super::work::Floor;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_lengths};
use crate::views::{lock_state, unit_of};

/// Readings that look back no farther than this many entries.
const ENTRIES: u64 = 60;

/// What was read at both flats, the one nearer the front first.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewReading {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// Read at the front flat; may be typed as text.
    pub front_mm: f64,
    /// Read at the rear flat; may be typed as text.
    pub rear_mm: f64,
}

/// A lock to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewLock {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
}

/// One end as it was read.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EndReading {
    /// The letter of the flat; nothing for a corner of the box.
    pub letter: Option<String>,
    /// What the tape should read.
    pub wanted: Length,
    /// What was read.
    pub read: Length,
}

/// A round of readings as it is kept in the record.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct RoundView {
    /// Number of the round, from 1.
    pub round: u32,
    /// Rounds of moves made before it.
    pub rounds_moved: u32,
    /// Nearer the front.
    pub front: EndReading,
    /// Nearer the rear.
    pub rear: EndReading,
    /// What to do; nothing where the readings contradict each other.
    pub advice: Option<Advice>,
    /// What Windrift said, whole.
    pub sentence: String,
    /// Revision of the piece that was read.
    pub piece_revision: i32,
    /// Revision of its side.
    pub side_revision: i32,
}

/// Where the hinge of a piece stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct HingeState {
    /// The piece.
    pub piece: Uuid,
    /// Rounds of readings at the revisions that stand, newest first.
    pub rounds: Vec<RoundView>,
    /// Whether the hinge is locked.
    pub locked: bool,
    /// Whether it was locked and the piece or side was changed since.
    pub lock_lost: bool,
}

struct Hung {
    rows: SideRows,
    planned: PlannedPiece,
    piece_revision: i32,
}

/// A first round in which both ends read as they are wanted.
pub(crate) fn first_round(
    piece: &PlannedPiece,
    unit: Unit,
    piece_revision: i32,
    side_revision: i32,
) -> RoundView {
    let flats = &piece.readings.flats;
    let end = |flat: &Flat| EndReading {
        letter: flat.letter.clone(),
        wanted: flat.wanted.clone(),
        read: flat.wanted.clone(),
    };
    let read = RoundOfReadings {
        read_mm: [flats.front.wanted.mm, flats.rear.wanted.mm],
        asked_again_mm: None,
        rounds_moved: 0,
    };
    let advice = advise(&piece.hanging(), &read, unit).ok();
    RoundView {
        round: 1,
        rounds_moved: 0,
        front: end(&flats.front),
        rear: end(&flats.rear),
        sentence: advice
            .as_ref()
            .map_or_else(String::new, |a| a.sentence().to_owned()),
        advice,
        piece_revision,
        side_revision,
    }
}

async fn hung(store: &Store, id: &str) -> Result<Hung, Problem> {
    let floor = Floor::of(store, id).await?;
    let planned = floor.piece().clone();
    let rows = floor.rows;
    let piece = planned.id;
    let piece_revision = rows
        .pieces
        .iter()
        .find(|p| p.id == piece)
        .map_or(0, |p| p.revision);
    Ok(Hung {
        rows,
        planned,
        piece_revision,
    })
}

impl Hung {
    /// Rounds at the revisions that stand, newest first. A lock ends them: whoever reads again after one starts anew.
    async fn rounds(&self, store: &Store) -> Result<Vec<RoundView>, Problem> {
        let entries = store.record_of_piece(self.planned.id, ENTRIES).await?;
        Ok(entries
            .into_iter()
            .take_while(|e| e.kind != EntryKind::Lock || self.locked())
            .filter(|e| e.kind == EntryKind::Reading)
            .filter_map(|e| serde_json::from_value::<RoundView>(e.body).ok())
            .take_while(|r| {
                r.piece_revision == self.piece_revision
                    && r.side_revision == self.rows.side.revision
            })
            .collect())
    }

    fn locked(&self) -> bool {
        lock_state(&self.rows, self.planned.id, self.piece_revision).0
    }
}

/// Where the hinge of a piece stands.
#[utoipa::path(get, path = "/api/pieces/{id}/hinge", params(("id" = Uuid, Path)), responses((status = 200, body = HingeState), (status = 404, body = Problem)))]
#[get("/pieces/<id>/hinge")]
pub async fn hinge_state(store: &State<Store>, id: &str) -> Answer<HingeState> {
    let hung = hung(store, id).await?;
    let (locked, lock_lost) = lock_state(&hung.rows, hung.planned.id, hung.piece_revision);
    Ok(Json(HingeState {
        piece: hung.planned.id,
        rounds: hung.rounds(store).await?,
        locked,
        lock_lost,
    }))
}

/// Records what was read at both flats and says what to do.
#[utoipa::path(post, path = "/api/pieces/{id}/readings", params(("id" = Uuid, Path)), request_body = NewReading, responses((status = 200, body = RoundView), (status = 422, body = Problem)))]
#[post("/pieces/<id>/readings", data = "<data>")]
pub async fn read_ends(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RoundView> {
    let who = caller.writer()?.id;
    let hung = hung(store, id).await?;
    let unit = unit_of(&hung.rows.job.unit);
    let mut body = read_json(data).await?;
    read_lengths(&mut body, unit)?;
    let new: NewReading = read_as(body)?;
    if let Some(standing) = store.entry(new.id).await? {
        return answer_again(standing, hung.planned.id);
    }
    let before = hung.rounds(store).await?;
    let rounds_moved = before
        .iter()
        .filter(|r| matches!(r.advice, Some(Advice::Move { .. })))
        .count() as u32;
    let asked_again_mm = before
        .first()
        .filter(|r| !matches!(r.advice, Some(Advice::Move { .. } | Advice::Lock { .. })))
        .map(|r| [r.front.read.mm, r.rear.read.mm]);
    let round = RoundOfReadings {
        read_mm: [new.front_mm, new.rear_mm],
        asked_again_mm,
        rounds_moved,
    };
    let advice = advise(&hung.planned.hanging(), &round, unit);
    let sentence = match &advice {
        Ok(advice) => advice.sentence().to_owned(),
        Err(error) => error.to_string(),
    };
    let flats = &hung.planned.readings.flats;
    let end = |flat: &Flat, mm: f64| EndReading {
        letter: flat.letter.clone(),
        wanted: flat.wanted.clone(),
        read: print(mm, unit),
    };
    let view = RoundView {
        round: before.len() as u32 + 1,
        rounds_moved,
        front: end(&flats.front, new.front_mm),
        rear: end(&flats.rear, new.rear_mm),
        advice: advice.as_ref().ok().cloned(),
        sentence,
        piece_revision: hung.piece_revision,
        side_revision: hung.rows.side.revision,
    };
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Reading,
        crew: who,
        piece: Some(hung.planned.id),
        body: serde_json::to_value(&view).map_err(windrift_store::StoreError::from)?,
    };
    store.append(hung.rows.job.id, entry).await?;
    // Contradicting readings are kept like any others, and move nothing.
    advice?;
    Ok(Json(view))
}

fn answer_again(standing: RecordEntry, piece: Uuid) -> Answer<RoundView> {
    if standing.piece != Some(piece) || standing.kind != EntryKind::Reading {
        return Err(windrift_store::StoreError::IdTaken.into());
    }
    let view: RoundView = read_as(standing.body)?;
    if view.advice.is_none() {
        return Err(Problem::input("readings_contradict", view.sentence));
    }
    Ok(Json(view))
}

/// Locks the hinge, if the newest readings of both ends are inside tolerance.
#[utoipa::path(post, path = "/api/pieces/{id}/lock", params(("id" = Uuid, Path)), request_body = NewLock, responses((status = 200, body = RecordEntry), (status = 422, body = Problem)))]
#[post("/pieces/<id>/lock", data = "<data>")]
pub async fn lock_hinge(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RecordEntry> {
    let who = caller.writer()?.id;
    let hung = hung(store, id).await?;
    let new: NewLock = read_as(read_json(data).await?)?;
    if let Some(standing) = store.entry(new.id).await? {
        return if standing.piece == Some(hung.planned.id) {
            Ok(Json(standing))
        } else {
            Err(windrift_store::StoreError::IdTaken.into())
        };
    }
    let rounds = hung.rounds(store).await?;
    let Some(newest) = rounds
        .first()
        .filter(|r| matches!(r.advice, Some(Advice::Lock { .. })))
    else {
        return Err(Problem::input(
            "not_level",
            "The hinge cannot be locked yet: read both ends, and lock when both read right.",
        ));
    };
    let body: Value = json!({
        "front": newest.front, "rear": newest.rear, "rounds": newest.round,
        "piece_revision": hung.piece_revision, "side_revision": hung.rows.side.revision,
    });
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Lock,
        crew: who,
        piece: Some(hung.planned.id),
        body,
    };
    Ok(Json(
        store
            .append_lock(
                hung.rows.job.id,
                entry,
                hung.piece_revision,
                hung.rows.side.revision,
            )
            .await?,
    ))
}
