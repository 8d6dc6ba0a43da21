//! How a piece is hung and laid down: the hinge, the strokes with their proof, somebody's own strokes, troubles, waits.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::classes::{FilmClass, FilmFigures};
use windrift_core::film::work::Work;
use windrift_core::floor::air::Swath;
use windrift_core::floor::final_look::final_look;
use windrift_core::floor::hang::upright::{
    TrueTo, UprightAnswer, UprightEdge, judge, upright_edge,
};
use windrift_core::floor::hang::words::Hang;
use windrift_core::floor::hangs_at::HangsAt;
use windrift_core::floor::lay_down::seen::{Remedy, Seen, remedy};
use windrift_core::floor::lay_down::sheets::sheets;
use windrift_core::floor::lay_down::turns::Turn;
use windrift_core::floor::lay_down::{LayDown, MOST_TRIED, Tried, try_strokes};
use windrift_core::ground::mm::Mm;
use windrift_core::plan::story::{BothSides, both_sides};
use windrift_formats::stroke_sheet::{StrokeSheet, write};
use windrift_store::{EntryKind, NewEntry, RecordEntry, StoreError};

use crate::both::{Both, both};
use crate::desk::Desk;
use crate::entries::floor_note::FloorNote;
use crate::entries::{EntryView, entries_in_words};
use crate::file::{File, paper_of};
use crate::floor::Floor;
use crate::keys::{for_whom, key};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_typed};
use crate::routes::Answer;

/// Most entries of one piece that are shown.
const MOST_ENTRIES: u64 = 200;

/// Widest squeegee that is tried, mm.
const WIDEST_MM: f64 = 400.0;

/// Most points in one stroke that is tried.
const MOST_POINTS: usize = 400;

/// How a piece is hung.
#[derive(Debug, Serialize, ToSchema)]
pub struct HangView {
    /// What the crew has settled.
    pub work: Work,
    /// Film, hinge, tape, cuts, sections.
    pub hang: Hang,
    /// Every film that can be chosen.
    pub films: Vec<FilmFigures>,
    /// Its turn among the pieces of its side.
    pub turn: Option<Turn>,
    /// Pieces on its side.
    pub pieces: u32,
    /// Where the upright edge of a panel is read.
    pub upright: Option<UprightEdge>,
    /// Its figures beside those of its twin on the other side.
    pub twin: Option<BothSides>,
    /// What the other side is called.
    pub other_side: Option<String>,
}

/// Readings of a panel's upright edge.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewUpright {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// Read at the upper corner; may be typed as text.
    pub top_mm: Mm,
    /// Read at the lower corner; may be typed as text.
    pub foot_mm: Mm,
    /// What it is hung by, where its top and its edge contradict each other and somebody has chosen.
    #[serde(default)]
    pub settled: Option<TrueTo>,
}

/// How a piece is laid down.
#[derive(Debug, Serialize, ToSchema)]
pub struct LayDownView {
    /// What the crew has settled.
    pub work: Work,
    /// Name of the hinge.
    pub hinge: &'static str,
    /// Film it is worked out for.
    pub film: FilmFigures,
    /// Sections, strokes, proof, rivets.
    pub lay_down: LayDown,
    /// Its turn among the pieces of its side.
    pub turn: Option<Turn>,
    /// Pieces on its side.
    pub pieces: u32,
    /// Wait before the transfer tape comes off, minutes, and in words.
    pub dwell_minutes: [u32; 2],
    /// The same in a sentence.
    pub dwell: String,
    /// Whether it was laid down.
    pub laid: bool,
    /// When the wait before the transfer tape comes off began: with the last stroke. Nothing while it is not laid, or once the tape is off.
    #[schema(value_type = Option<String>)]
    #[serde(with = "time::serde::rfc3339::option")]
    pub dwell_from: Option<OffsetDateTime>,
    /// Groups of rivet heads that were worked down since it was laid.
    pub rivets_done: Vec<u32>,
    /// What was recorded on the floor about it, newest first.
    pub recorded: Vec<EntryView>,
}

/// Somebody's own strokes on a section.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct OwnStrokes {
    /// The section, from 0.
    pub section: u32,
    /// Strokes in their order, in the picture frame.
    pub strokes: Vec<Swath>,
}

/// An entry of the floor.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct NewFloorEntry {
    /// Made by the client, so that a repeated request is recorded once.
    pub id: Uuid,
    /// What is recorded.
    pub note: FloorNote,
}

/// What can be seen and what to do about it, for the piece's film.
#[derive(Debug, Serialize, ToSchema)]
pub struct Remedies {
    /// Name of the film.
    pub film: &'static str,
    /// One for everything that can be seen.
    pub remedies: Vec<Remedy>,
}

/// How a piece is hung: every hinge ranked, the one that is used, tape, cuts and sections.
#[utoipa::path(get, path = "/api/pieces/{id}/hang", params(("id" = Uuid, Path)), responses((status = 200, body = HangView), (status = 404, body = Problem)))]
#[get("/pieces/<id>/hang")]
pub async fn hang(desk: &Desk, id: &str) -> Answer<HangView> {
    let floor = Floor::of(desk, id).await?;
    let Both { here, other, .. } = both(desk, floor.rows.side.id).await?;
    desk.compute(move || {
        let (other_side, twin) = match other {
            Some((name, there)) => {
                let both = both_sides(&here.plan, &there.plan, &floor.ways, floor.unit);
                let own = both.into_iter().find(|b| b.piece == floor.piece().id);
                (Some(name), own)
            }
            None => (None, None),
        };
        Json(HangView {
            upright: upright_edge(
                floor.piece(),
                &floor.plan().side.side,
                floor.ways.side_words,
                floor.unit,
            ),
            twin,
            other_side,
            work: floor.piece().piece.work.clone(),
            hang: floor.hang(),
            films: FilmClass::ALL.map(FilmClass::figures).to_vec(),
            turn: floor.turn(),
            pieces: floor.plan().pieces.len() as u32,
        })
    })
    .await
}

/// How a piece is laid down: strokes in their order, the proof, rivets.
#[utoipa::path(get, path = "/api/pieces/{id}/lay-down", params(("id" = Uuid, Path)), responses((status = 200, body = LayDownView), (status = 404, body = Problem)))]
#[get("/pieces/<id>/lay-down")]
pub async fn lay_down(desk: &Desk, id: &str) -> Answer<LayDownView> {
    let (floor, hang, found) = Floor::of(desk, id).await?.lay_down(desk).await?;
    let piece = floor.piece().id;
    let entries: Vec<RecordEntry> = desk
        .record_of_piece(piece, MOST_ENTRIES)
        .await?
        .into_iter()
        .filter(|e| matches!(e.kind, EntryKind::Laid | EntryKind::Floor))
        .collect();
    let (dwell_from, rivets_done) = since_it_lies(&entries);
    Ok(Json(LayDownView {
        dwell_from,
        rivets_done,
        work: floor.piece().piece.work.clone(),
        hinge: hang.kind.name(),
        film: hang.film,
        lay_down: found,
        turn: floor.turn(),
        pieces: floor.plan().pieces.len() as u32,
        dwell_minutes: hang.way.dwell_minutes,
        dwell: hang.way.dwell,
        laid: floor.rows.laid.iter().any(|l| l.piece == piece),
        recorded: entries_in_words(desk, &entries, floor.unit).await?,
    }))
}

/// What was done since a piece was laid, from its entries, newest first: when the wait for the transfer tape began, if it is not over, and which
/// groups of rivets were worked down.
fn since_it_lies(entries: &[RecordEntry]) -> (Option<OffsetDateTime>, Vec<u32>) {
    let mut waited = false;
    let mut groups = Vec::new();
    for entry in entries {
        if entry.kind == EntryKind::Laid {
            let from = entry.read_at.unwrap_or(entry.at);
            return ((!waited).then_some(from), groups);
        }
        match serde_json::from_value::<FloorNote>(entry.body.clone()) {
            Ok(FloorNote::Waited { .. }) => waited = true,
            Ok(FloorNote::Rivets { group, .. }) if !groups.contains(&group) => groups.push(group),
            _ => {}
        }
    }
    (None, groups)
}

/// What must be said before something is recorded that the trade would ask about.
fn asked_why(floor: &Floor, note: &FloorNote) -> Result<(), Problem> {
    let said = |why: &Option<String>| why.as_ref().is_some_and(|w| !w.trim().is_empty());
    match note {
        // One that was moved after it was locked is told as moved; it was hung with both ends right.
        FloorNote::Laid { why, .. } if !floor.lock().was_locked() && !said(why) => Err(Problem::input(
            "why_not_locked",
            "Nobody has locked this hinge with both ends right. Lock it under Hinge, or say why it was laid all the same.",
        )
        .at("/note/why")),
        FloorNote::Waited { minutes, why, .. } => {
            let [least, _] = floor.hang().way.dwell_minutes;
            if *minutes < least && !said(why) {
                return Err(Problem::input(
                    "why_short",
                    format!(
                        "The transfer tape should stay on for at least {least} minutes, and {minutes} have passed. Wait, or say why it came off."
                    ),
                )
                .at("/note/why"));
            }
            Ok(())
        }
        _ => Ok(()),
    }
}

/// What is looked at once more is on its list, and lies.
fn on_the_list(floor: &Floor, note: &FloorNote) -> Result<(), Problem> {
    let FloorNote::Looked { look } = note else {
        return Ok(());
    };
    let piece = floor.piece();
    if !floor.rows.laid.iter().any(|l| l.piece == piece.id) {
        return Err(Problem::input(
            "not_laid",
            "It does not lie yet, as far as anybody has recorded. Say under Lay down that it does, then look at it.",
        ));
    }
    let list = final_look(piece, &floor.plan().side, &floor.ways, floor.unit);
    if list.iter().any(|l| l.key == *look) {
        return Ok(());
    }
    Err(Problem::input(
        "look",
        "That is not on the list of this piece any more. Load the page again.",
    )
    .at("/note/look"))
}

/// Judges somebody's own strokes: where air is shut in, and by which stroke.
#[utoipa::path(post, path = "/api/pieces/{id}/press", params(("id" = Uuid, Path)), request_body = OwnStrokes, responses((status = 200, body = Tried), (status = 422, body = Problem)))]
#[post("/pieces/<id>/press", data = "<data>")]
pub async fn press(desk: &Desk, id: &str, data: Data<'_>) -> Answer<Tried> {
    let floor = Floor::of(desk, id).await?;
    let own: OwnStrokes = read_as(read_json(data).await?)?;
    let finite = |s: &Swath| {
        (1.0..=WIDEST_MM).contains(&s.width_mm)
            && s.path
                .iter()
                .flatten()
                .all(|v| v.is_finite() && v.abs() < 1e6)
    };
    if own.strokes.len() > MOST_TRIED
        || own
            .strokes
            .iter()
            .any(|s| s.path.len() > MOST_POINTS || !finite(s))
    {
        return Err(Problem::input(
            "strokes",
            format!(
                "{MOST_TRIED} strokes of {MOST_POINTS} points, up to {WIDEST_MM:.0} mm wide, are the most that can be tried. Start the section again."
            ),
        ));
    }
    let tried = desk
        .compute(move || {
            let hang = floor.hang();
            let all = sheets(floor.piece(), &floor.plan().side, &hang, &floor.ways);
            all.get(own.section as usize)
                .map(|s| try_strokes(s, &own.strokes, &floor.plan().side, &hang, floor.unit))
        })
        .await?;
    tried.map(Json).ok_or_else(|| {
        Problem::input(
            "section",
            "There is no such section any more. Open the piece again.",
        )
    })
}

/// What can be seen while film goes on, where it comes from and what to do.
#[utoipa::path(get, path = "/api/pieces/{id}/remedies", params(("id" = Uuid, Path), ("heated" = Option<bool>, Query)), responses((status = 200, body = Remedies)))]
#[get("/pieces/<id>/remedies?<heated>")]
pub async fn remedies(desk: &Desk, id: &str, heated: Option<bool>) -> Answer<Remedies> {
    let floor = Floor::of(desk, id).await?;
    let film = floor.piece().piece.film();
    Ok(Json(Remedies {
        film: film.name(),
        remedies: Seen::ALL
            .into_iter()
            .filter_map(|seen| remedy(seen, film, heated.unwrap_or(false)))
            .collect(),
    }))
}

/// Records something of the floor.
#[utoipa::path(post, path = "/api/pieces/{id}/floor", params(("id" = Uuid, Path)), request_body = NewFloorEntry, responses((status = 200, body = RecordEntry), (status = 422, body = Problem)))]
#[post("/pieces/<id>/floor", data = "<data>")]
pub async fn floor_entry(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RecordEntry> {
    let who = caller.writer()?.id;
    let piece = key(id)?;
    let new: NewFloorEntry = read_as(read_json(data).await?)?;
    if let FloorNote::Trouble { place, .. } = &new.note
        && place.trim().is_empty()
    {
        return Err(
            Problem::input("place", "Say where it is: a letter, a rivet, a corner.")
                .at("/note/place"),
        );
    }
    if let Some(standing) = desk.entry(new.id).await? {
        return if standing.piece == Some(piece) && standing.kind == new.note.kind() {
            Ok(Json(standing))
        } else {
            Err(StoreError::IdTaken.into())
        };
    }
    let mut body = serde_json::to_value(&new.note).map_err(StoreError::from)?;
    let job = match desk.side_of_piece(piece).await {
        Ok(rows) => {
            let floor = Floor::of(desk, id).await.ok();
            if let Some(floor) = &floor {
                asked_why(floor, &new.note)?;
                on_the_list(floor, &new.note)?;
            }
            // Where it lies is kept with it: whatever changes the plan afterwards does not move what lies.
            if let (FloorNote::Laid { .. }, Some(floor)) = (&new.note, &floor) {
                body["lies_at"] =
                    serde_json::to_value(HangsAt::of(floor.piece())).map_err(StoreError::from)?;
                // What was done is kept, also where it should not have been; and so is what spoke against it.
                let against: Vec<String> = (floor.verdict().refusals.into_iter())
                    .map(|r| r.sentence)
                    .collect();
                if !against.is_empty() {
                    body["against"] = serde_json::to_value(against).map_err(StoreError::from)?;
                }
            }
            rows.job.id
        }
        // Removed while somebody worked at it: what they did is kept all the same.
        Err(StoreError::NotFound(_)) => {
            let was = desk.row_once_was(piece).await?;
            was.ok_or(StoreError::NotFound("piece"))?.job
        }
        Err(error) => return Err(error.into()),
    };
    let entry = NewEntry {
        id: new.id,
        kind: new.note.kind(),
        crew: who,
        piece: Some(piece),
        body,
        read_at: caller.read_at(),
    };
    Ok(Json(desk.append(job, entry).await?))
}

/// Records how a panel's upright edge was read and says what to do.
#[utoipa::path(post, path = "/api/pieces/{id}/upright", params(("id" = Uuid, Path)), request_body = NewUpright, responses((status = 200, body = UprightAnswer), (status = 422, body = Problem)))]
#[post("/pieces/<id>/upright", data = "<data>")]
pub async fn read_upright(
    desk: &Desk,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<UprightAnswer> {
    let who = caller.writer()?.id;
    let floor = Floor::of(desk, id).await?;
    let body = read_json(data).await?;
    let new: NewUpright = read_typed(body, floor.unit)?;
    let edge = upright_edge(
        floor.piece(),
        &floor.plan().side.side,
        floor.ways.side_words,
        floor.unit,
    )
    .ok_or_else(|| Problem::input("upright", "Only a panel has an upright edge to be checked."))?;
    let answer = judge(&edge, new.top_mm.mm(), new.foot_mm.mm(), floor.unit);
    let note = FloorNote::UprightEdge {
        out_by: answer.foot_out_by.text.clone(),
        settled: new.settled,
    };
    let entry = NewEntry {
        id: new.id,
        kind: note.kind(),
        crew: who,
        piece: Some(floor.piece().id),
        body: serde_json::to_value(&note).map_err(StoreError::from)?,
        read_at: caller.read_at(),
    };
    desk.append(floor.rows.job.id, entry).await?;
    Ok(Json(answer))
}

/// The strokes of a piece as a PDF.
#[utoipa::path(get, path = "/api/pieces/{id}/strokes.pdf", params(("id" = Uuid, Path), ("paper" = Option<String>, Query, description = "`letter` or `a4`")), responses((status = 200, content_type = "application/pdf")))]
#[get("/pieces/<id>/strokes.pdf?<paper>")]
pub async fn stroke_sheet(desk: &Desk, id: &str, paper: Option<&str>) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let shop = desk.shop().await?.name;
    let (floor, _, found) = Floor::of(desk, id).await?.lay_down(desk).await?;
    let sheet = StrokeSheet {
        shop: &shop,
        title: &floor.rows.job.title,
        customer: &for_whom(&floor.rows.job),
        plan: floor.plan(),
        piece: floor.piece(),
        lay_down: &found,
    };
    let bytes = write(&sheet, paper).map_err(|e| Problem::input("strokes", e.to_string()))?;
    let name = format!(
        "{} {} strokes",
        floor.rows.job.title,
        floor.piece().piece.called()
    );
    Ok(File::new(bytes, ContentType::PDF, &name, "pdf"))
}
