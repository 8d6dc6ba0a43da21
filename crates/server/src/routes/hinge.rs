//! Reading both flats, what to move, and locking the hinge. Everything read goes into the record.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::ahead::{Ahead, ahead};
use windrift_core::floor::hangs_at::{HangsAt, Moved};
use windrift_core::floor::level::{Advice, Hanging, RoundOfReadings, advise};
use windrift_core::ground::mm::Mm;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, NewEntry, RecordEntry};

use crate::desk::Desk;
use crate::entries::round::{EndReading, RoundView};
use crate::floor::Floor;
use crate::keys::key;
use crate::planned::unit_of;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_typed};
use crate::routes::Answer;
use crate::views::LockState;

/// Readings that look back no farther than this many entries.
const ENTRIES: u64 = 60;

/// What was read at both flats, the one nearer the front first.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewReading {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// Read at the front flat; may be typed as text.
    pub front_mm: Mm,
    /// Read at the rear flat; may be typed as text.
    pub rear_mm: Mm,
    /// What the screen asked for at both flats when this was read, mm. Where it is something else now, the piece was moved meanwhile:
    /// the readings are kept as they were read, and judge nothing.
    #[serde(default)]
    pub asked_mm: Option<[f64; 2]>,
}

/// A lock to be recorded.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewLock {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
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
    /// Whether it was locked and has been moved since.
    pub lock_lost: bool,
    /// How it was moved since it was locked; where it lies, how the plan differs from where it lies.
    pub moved: Option<Moved>,
}

struct Hung {
    floor: Floor,
    piece_revision: i32,
    lock: LockState,
    hangs_at: HangsAt,
}

async fn hung(desk: &Desk, id: &str) -> Result<Hung, Problem> {
    let floor = Floor::of(desk, id).await?;
    let piece = floor.piece().id;
    Ok(Hung {
        piece_revision: (floor.rows.pieces.iter())
            .find(|p| p.id == piece)
            .map_or(0, |p| p.revision),
        lock: floor.lock(),
        hangs_at: HangsAt::of(floor.piece()),
        floor,
    })
}

impl Hung {
    fn piece(&self) -> &PlannedPiece {
        self.floor.piece()
    }

    async fn keep(
        &self,
        desk: &Desk,
        caller: &Caller,
        who: Uuid,
        id: Uuid,
        view: &RoundView,
    ) -> Result<RecordEntry, Problem> {
        let job = self.floor.rows.job.id;
        keep(desk, caller, who, job, id, self.piece().id, view).await
    }

    /// Rounds since the piece hangs where it does, newest first. A lock ends them: whoever reads again after one starts anew.
    async fn rounds(&self, desk: &Desk) -> Result<Vec<RoundView>, Problem> {
        let entries = desk.record_of_piece(self.piece().id, ENTRIES).await?;
        let direction = self.floor.planned.input.side.direction();
        let here = |r: &RoundView| match &r.hangs_at {
            Some(then) => then
                .moved_to(&self.hangs_at, direction, self.floor.unit)
                .is_none(),
            None => {
                r.piece_revision == self.piece_revision
                    && r.side_revision == self.floor.rows.side.revision
            }
        };
        Ok(entries
            .into_iter()
            .take_while(|e| e.kind != EntryKind::Lock || self.lock.locked)
            .filter(|e| e.kind == EntryKind::Reading)
            .filter_map(|e| serde_json::from_value::<RoundView>(e.body).ok())
            // Read while it was moved: kept, and of no use for where it hangs now.
            .filter(|r| r.round > 0)
            .take_while(here)
            .collect())
    }
}

/// Where the hinge of a piece stands.
#[utoipa::path(get, path = "/api/pieces/{id}/hinge", params(("id" = Uuid, Path)), responses((status = 200, body = HingeState), (status = 404, body = Problem)))]
#[get("/pieces/<id>/hinge")]
pub async fn hinge_state(desk: &Desk, id: &str) -> Answer<HingeState> {
    let hung = hung(desk, id).await?;
    Ok(Json(HingeState {
        piece: hung.piece().id,
        rounds: hung.rounds(desk).await?,
        locked: hung.lock.locked,
        lock_lost: hung.lock.lost,
        moved: hung.lock.moved,
    }))
}

/// What every pair of readings near what is wanted will say: kept on a phone, it answers where there is no signal.
#[utoipa::path(get, path = "/api/pieces/{id}/readings-ahead", params(("id" = Uuid, Path)), responses((status = 200, body = Ahead), (status = 404, body = Problem)))]
#[get("/pieces/<id>/readings-ahead")]
pub async fn readings_ahead(desk: &Desk, id: &str) -> Answer<Ahead> {
    let hung = hung(desk, id).await?;
    let rounds = hung.rounds(desk).await?;
    let moved = rounds.iter().filter(|r| is_move(r)).count() as u32;
    let (hanging, unit) = (Hanging::of(hung.piece()), hung.floor.unit);
    Ok(Json(
        desk.compute(move || ahead(&hanging, moved, unit)).await?,
    ))
}

/// Whether something was moved after a round.
fn is_move(round: &RoundView) -> bool {
    matches!(round.advice, Some(Advice::Move { .. }))
}

/// Records what was read at both flats and says what to do.
#[utoipa::path(post, path = "/api/pieces/{id}/readings", params(("id" = Uuid, Path)), request_body = NewReading, responses((status = 200, body = RoundView), (status = 422, body = Problem)))]
#[post("/pieces/<id>/readings", data = "<data>")]
pub async fn read_ends(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<RoundView> {
    let who = caller.writer()?.id;
    let body = read_json(data).await?;
    let hung = match hung(desk, id).await {
        Ok(hung) => hung,
        Err(problem) if problem.status == 404 => {
            return kept_of_removed(desk, who, &caller, id, body).await;
        }
        Err(problem) => return Err(problem),
    };
    let unit = hung.floor.unit;
    let new = reading_of(body, unit)?;
    if let Some(standing) = desk.entry(new.id).await? {
        return answer_again(standing, hung.piece().id);
    }
    let flats = &hung.piece().readings.flats;
    let wanted = [flats.front.wanted.mm, flats.rear.wanted.mm];
    let end = |letter: &Option<String>, wanted: f64, read: f64| {
        EndReading::judged(letter.clone(), wanted, read, unit)
    };
    let letters = [&flats.front.letter, &flats.rear.letter];
    if let Some(asked) = new.asked_mm
        && asked
            .iter()
            .zip(wanted)
            .any(|(a, w)| (a - w).abs() > SAME_MM)
    {
        let sentence = format!(
            "The piece was moved while this was read: {} and {} were wanted then, {} and {} are wanted now. What was read is kept; read both ends again.",
            print(asked[0], unit).text,
            print(asked[1], unit).text,
            print(wanted[0], unit).text,
            print(wanted[1], unit).text,
        );
        let view = set_aside(&new, letters.map(Clone::clone), sentence, unit);
        hung.keep(desk, &caller, who, new.id, &view).await?;
        return Ok(Json(view));
    }
    let before = hung.rounds(desk).await?;
    let rounds_moved = before.iter().filter(|r| is_move(r)).count() as u32;
    let asked_again_mm = before
        .first()
        .filter(|r| !matches!(r.advice, Some(Advice::Move { .. } | Advice::Lock { .. })))
        .map(|r| [r.front.read.mm, r.rear.read.mm]);
    let round = RoundOfReadings {
        read_mm: [new.front_mm.mm(), new.rear_mm.mm()],
        asked_again_mm,
        rounds_moved,
    };
    let advice = advise(&Hanging::of(hung.piece()), &round, unit);
    let sentence = match &advice {
        Ok(advice) => advice.sentence().to_owned(),
        Err(error) => error.to_string(),
    };
    let view = RoundView {
        round: before.len() as u32 + 1,
        rounds_moved,
        front: end(letters[0], wanted[0], new.front_mm.mm()),
        rear: end(letters[1], wanted[1], new.rear_mm.mm()),
        advice: advice.as_ref().ok().cloned(),
        sentence,
        piece_revision: hung.piece_revision,
        side_revision: hung.floor.rows.side.revision,
        hangs_at: Some(hung.hangs_at.clone()),
    };
    hung.keep(desk, &caller, who, new.id, &view).await?;
    // Contradicting readings are kept like any others, and move nothing.
    advice?;
    Ok(Json(view))
}

/// What was asked for may differ by this from what is wanted and be the same figure, mm.
const SAME_MM: f64 = 0.05;

fn reading_of(body: Value, unit: Unit) -> Result<NewReading, Problem> {
    read_typed(body, unit)
}

async fn keep(
    desk: &Desk,
    caller: &Caller,
    who: Uuid,
    job: Uuid,
    id: Uuid,
    piece: Uuid,
    view: &RoundView,
) -> Result<RecordEntry, Problem> {
    let entry = NewEntry {
        id,
        kind: EntryKind::Reading,
        crew: who,
        piece: Some(piece),
        body: serde_json::to_value(view).map_err(windrift_store::StoreError::from)?,
        read_at: caller.read_at(),
    };
    Ok(desk.append(job, entry).await?)
}

/// A round that is kept as it was read and judges nothing: the piece hangs elsewhere by now, or is gone.
fn set_aside(
    new: &NewReading,
    letters: [Option<String>; 2],
    sentence: String,
    unit: Unit,
) -> RoundView {
    let read = [new.front_mm, new.rear_mm];
    let asked = new.asked_mm.unwrap_or(read.map(Mm::mm));
    let [front, rear] = letters;
    let end = |letter, n: usize| EndReading::judged(letter, asked[n], read[n].mm(), unit);
    RoundView {
        round: 0,
        rounds_moved: 0,
        front: end(front, 0),
        rear: end(rear, 1),
        advice: None,
        sentence,
        piece_revision: 0,
        side_revision: 0,
        hangs_at: None,
    }
}

/// Readings of a piece that somebody removed while they were typed: they are kept in the record, and both are told.
async fn kept_of_removed(
    desk: &Desk,
    who: Uuid,
    caller: &Caller,
    id: &str,
    body: Value,
) -> Answer<RoundView> {
    let piece = key(id)?;
    let gone = || Problem::from(windrift_store::StoreError::NotFound("piece"));
    let was = desk.row_once_was(piece).await?.ok_or_else(gone)?;
    let unit = unit_of(&desk.job(was.job).await?.job.unit)?;
    let new = reading_of(body, unit)?;
    if let Some(standing) = desk.entry(new.id).await? {
        return answer_again(standing, piece);
    }
    let called = was
        .spec
        .and_then(|spec| Kind::Piece.read::<Piece>(&spec).ok())
        .map_or_else(
            || "The piece".to_owned(),
            |p| format!("\u{201c}{}\u{201d}", p.called()),
        );
    let sentence = format!(
        "{called} was removed by {} while it was read. The readings are kept in the record; talk to {}, who can bring it back with undo.",
        was.by, was.by
    );
    let view = set_aside(&new, [None, None], sentence, unit);
    keep(desk, caller, who, was.job, new.id, piece, &view).await?;
    Ok(Json(view))
}

fn answer_again(standing: RecordEntry, piece: Uuid) -> Answer<RoundView> {
    if standing.piece != Some(piece) || standing.kind != EntryKind::Reading {
        return Err(windrift_store::StoreError::IdTaken.into());
    }
    let view: RoundView = read_as(standing.body)?;
    if view.advice.is_none() && view.round > 0 {
        return Err(Problem::input("readings_contradict", view.sentence));
    }
    Ok(Json(view))
}

/// Locks the hinge, if the newest readings of both ends are inside tolerance.
#[utoipa::path(post, path = "/api/pieces/{id}/lock", params(("id" = Uuid, Path)), request_body = NewLock, responses((status = 200, body = RecordEntry), (status = 422, body = Problem)))]
#[post("/pieces/<id>/lock", data = "<data>")]
pub async fn lock_hinge(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RecordEntry> {
    let who = caller.writer()?.id;
    let hung = hung(desk, id).await?;
    let new: NewLock = read_as(read_json(data).await?)?;
    let piece = hung.piece().id;
    if let Some(standing) = desk.entry(new.id).await? {
        return if standing.piece == Some(piece) && standing.kind == EntryKind::Lock {
            Ok(Json(standing))
        } else {
            Err(windrift_store::StoreError::IdTaken.into())
        };
    }
    if let Some(refusal) = hung.floor.verdict().stops() {
        return Err(Problem::input("refused", refusal.sentence.clone()));
    }
    let rounds = hung.rounds(desk).await?;
    let Some(newest) = rounds
        .first()
        .filter(|r| matches!(r.advice, Some(Advice::Lock { .. })))
    else {
        return Err(Problem::input(
            "not_level",
            "The hinge cannot be locked yet: read both ends, and lock when both read right.",
        ));
    };
    let side_revision = hung.floor.rows.side.revision;
    let body: Value = json!({
        "front": newest.front, "rear": newest.rear, "rounds": newest.round,
        "piece_revision": hung.piece_revision, "side_revision": side_revision, "hangs_at": hung.hangs_at,
    });
    let entry = NewEntry {
        id: new.id,
        kind: EntryKind::Lock,
        crew: who,
        piece: Some(piece),
        body,
        read_at: caller.read_at(),
    };
    let hangs_at =
        serde_json::to_value(&hung.hangs_at).map_err(windrift_store::StoreError::from)?;
    Ok(Json(
        desk.append_lock(
            hung.floor.rows.job.id,
            entry,
            hangs_at,
            hung.piece_revision,
            side_revision,
        )
        .await?,
    ))
}
