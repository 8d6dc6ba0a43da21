//! How a piece is hung and laid down: the hinge, the strokes with their proof, somebody's own strokes, troubles, waits.

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::air::Swath;
use windrift_core::film::{FilmClass, FilmFigures};
use windrift_core::hang::upright::{UprightAnswer, UprightEdge, judge, upright_edge};
use windrift_core::hang::{Hang, Work, hang as work_out};
use windrift_core::lay_down::seen::{Remedy, Seen, remedy};
use windrift_core::lay_down::{
    CELL_MM, LayDown, MOST_TRIED, Tried, Turn, lay_down as laid_down, sheets, try_strokes, turns,
};
use windrift_core::plan::{PlannedPiece, SidePlan};
use windrift_core::settings::WorkSettings;
use windrift_core::story::{BothSides, both_sides};
use windrift_core::tape::Unit;
use windrift_formats::stroke_sheet::{StrokeSheet, write};
use windrift_store::{EntryKind, NewEntry, RecordEntry, SideRows, Store, StoreError};

use super::hand_over::{File, paper_of};
use super::jobs::key;
use super::record::{EntryView, entries_in_words};
use super::{Answer, settings};
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json, read_lengths};
use crate::views::SideInput;

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
    pub top_mm: f64,
    /// Read at the lower corner; may be typed as text.
    pub foot_mm: f64,
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

/// What is recorded on the floor about a piece.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum FloorNote {
    /// The piece was laid down.
    Laid {
        /// Strokes that were made.
        strokes: u32,
    },
    /// A wait that has ended.
    Waited {
        /// Minutes.
        minutes: u32,
        /// For what.
        reason: String,
    },
    /// Something went wrong.
    Trouble {
        /// What was seen.
        seen: Seen,
        /// Where, as it was typed.
        place: String,
        /// Whether the film had been heated.
        heated: bool,
        /// What came of it.
        outcome: String,
    },
    /// The upright edge of a first panel was checked.
    UprightEdge {
        /// What it is out by over its height, as it was typed.
        out_by: String,
    },
}

impl FloorNote {
    /// The kind of its entry in the record.
    pub fn kind(&self) -> EntryKind {
        match self {
            FloorNote::Laid { .. } => EntryKind::Laid,
            _ => EntryKind::Floor,
        }
    }
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

/// A piece with its side as planned.
pub(super) struct Floor {
    pub rows: SideRows,
    unit: Unit,
    settings: WorkSettings,
    plan: SidePlan,
    at: usize,
}

impl Floor {
    pub async fn of(store: &Store, id: &str) -> Result<Floor, Problem> {
        let piece = key(id)?;
        let rows = store.side_of_piece(piece).await?;
        let settings = settings(store).await?;
        let input = SideInput::fetch(store, &rows).await?;
        let plan = input.plan(&settings)?;
        if let Some((_, error)) = plan.failed.iter().find(|(p, _)| *p == piece) {
            return Err(error.clone().into());
        }
        let at = plan
            .pieces
            .iter()
            .position(|p| p.id == piece)
            .ok_or(StoreError::NotFound("piece"))?;
        Ok(Floor {
            unit: input.unit,
            rows,
            settings,
            plan,
            at,
        })
    }

    pub fn piece(&self) -> &PlannedPiece {
        &self.plan.pieces[self.at]
    }

    fn hang(&self) -> Hang {
        let fresh = self
            .plan
            .side
            .side
            .surface
            .paint_is_fresh(OffsetDateTime::now_utc().date());
        work_out(
            self.piece(),
            &self.plan.side,
            &self.settings,
            fresh,
            self.unit,
        )
    }

    fn turn(&self) -> Option<Turn> {
        turns(&self.plan.pieces, self.plan.side.side.direction())
            .into_iter()
            .find(|t| t.piece == self.piece().id)
    }

    /// What is worked out with a good many cells, off the threads that answer others.
    async fn lay_down(self) -> Result<(Floor, Hang, LayDown), Problem> {
        rocket::tokio::task::spawn_blocking(move || {
            let hang = self.hang();
            let found = laid_down(
                self.piece(),
                &self.plan.side,
                &hang,
                &self.settings,
                self.unit,
            );
            (self, hang, found)
        })
        .await
        .map_err(|_| {
            Problem::new(
                rocket::http::Status::InternalServerError,
                "strokes",
                "The strokes could not be worked out. Try again.",
            )
        })
    }
}

/// How a piece is hung: every hinge ranked, the one that is used, tape, cuts and sections.
#[utoipa::path(get, path = "/api/pieces/{id}/hang", params(("id" = Uuid, Path)), responses((status = 200, body = HangView), (status = 404, body = Problem)))]
#[get("/pieces/<id>/hang")]
pub async fn hang(store: &State<Store>, id: &str) -> Answer<HangView> {
    let floor = Floor::of(store, id).await?;
    let (_, input, here, other) =
        super::story::plans(store, &floor.rows.side.id.to_string()).await?;
    let (other_side, twin) = match other {
        Some((name, there)) => {
            let both = both_sides(&here, &there, &floor.settings, input.unit);
            let own = both.into_iter().find(|b| b.piece == floor.piece().id);
            (Some(name), own)
        }
        None => (None, None),
    };
    Ok(Json(HangView {
        upright: upright_edge(floor.piece(), floor.plan.side.side.direction(), floor.unit),
        twin,
        other_side,
        work: floor.piece().piece.work.clone(),
        hang: floor.hang(),
        films: FilmClass::ALL.map(FilmClass::figures).to_vec(),
        turn: floor.turn(),
        pieces: floor.plan.pieces.len() as u32,
    }))
}

/// How a piece is laid down: strokes in their order, the proof, rivets.
#[utoipa::path(get, path = "/api/pieces/{id}/lay-down", params(("id" = Uuid, Path)), responses((status = 200, body = LayDownView), (status = 404, body = Problem)))]
#[get("/pieces/<id>/lay-down")]
pub async fn lay_down(store: &State<Store>, id: &str) -> Answer<LayDownView> {
    let (floor, hang, found) = Floor::of(store, id).await?.lay_down().await?;
    let piece = floor.piece().id;
    let entries: Vec<RecordEntry> = store
        .record_of_piece(piece, MOST_ENTRIES)
        .await?
        .into_iter()
        .filter(|e| matches!(e.kind, EntryKind::Laid | EntryKind::Floor))
        .collect();
    Ok(Json(LayDownView {
        work: floor.piece().piece.work.clone(),
        hinge: hang.kind.name(),
        film: hang.film,
        lay_down: found,
        turn: floor.turn(),
        pieces: floor.plan.pieces.len() as u32,
        dwell_minutes: hang.way.dwell_minutes,
        dwell: hang.way.dwell,
        laid: floor.rows.laid.contains(&piece),
        recorded: entries_in_words(store, &entries, floor.unit).await?,
    }))
}

/// Judges somebody's own strokes: where air is shut in, and by which stroke.
#[utoipa::path(post, path = "/api/pieces/{id}/press", params(("id" = Uuid, Path)), request_body = OwnStrokes, responses((status = 200, body = Tried), (status = 422, body = Problem)))]
#[post("/pieces/<id>/press", data = "<data>")]
pub async fn press(store: &State<Store>, id: &str, data: Data<'_>) -> Answer<Tried> {
    let floor = Floor::of(store, id).await?;
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
    let tried = rocket::tokio::task::spawn_blocking(move || {
        let hang = floor.hang();
        let all = sheets(
            floor.piece(),
            &floor.plan.side,
            &hang,
            &floor.settings,
            CELL_MM,
            0.0,
        );
        all.get(own.section as usize)
            .map(|s| try_strokes(s, &own.strokes, &floor.plan.side, &hang, floor.unit))
    })
    .await
    .ok()
    .flatten();
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
pub async fn remedies(store: &State<Store>, id: &str, heated: Option<bool>) -> Answer<Remedies> {
    let floor = Floor::of(store, id).await?;
    let film = floor.piece().piece.film();
    Ok(Json(Remedies {
        film: film.name(),
        remedies: Seen::ALL
            .map(|seen| remedy(seen, film, heated.unwrap_or(false)))
            .to_vec(),
    }))
}

/// Records something of the floor.
#[utoipa::path(post, path = "/api/pieces/{id}/floor", params(("id" = Uuid, Path)), request_body = NewFloorEntry, responses((status = 200, body = RecordEntry), (status = 422, body = Problem)))]
#[post("/pieces/<id>/floor", data = "<data>")]
pub async fn floor_entry(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<RecordEntry> {
    let who = caller.writer()?.id;
    let piece = key(id)?;
    let new: NewFloorEntry = read_as(read_json(data).await?)?;
    let job = store.side_of_piece(piece).await?.job.id;
    if let FloorNote::Trouble { place, .. } = &new.note
        && place.trim().is_empty()
    {
        return Err(
            Problem::input("place", "Say where it is: a letter, a rivet, a corner.")
                .at("/note/place"),
        );
    }
    let entry = NewEntry {
        id: new.id,
        kind: new.note.kind(),
        crew: who,
        piece: Some(piece),
        body: serde_json::to_value(&new.note).map_err(StoreError::from)?,
    };
    Ok(Json(store.append(job, entry).await?))
}

/// Records how a panel's upright edge was read and says what to do.
#[utoipa::path(post, path = "/api/pieces/{id}/upright", params(("id" = Uuid, Path)), request_body = NewUpright, responses((status = 200, body = UprightAnswer), (status = 422, body = Problem)))]
#[post("/pieces/<id>/upright", data = "<data>")]
pub async fn read_upright(
    store: &State<Store>,
    caller: Caller,
    id: &str,
    data: Data<'_>,
) -> Answer<UprightAnswer> {
    let who = caller.writer()?.id;
    let floor = Floor::of(store, id).await?;
    let mut body = read_json(data).await?;
    read_lengths(&mut body, floor.unit)?;
    let new: NewUpright = read_as(body)?;
    let edge = upright_edge(floor.piece(), floor.plan.side.side.direction(), floor.unit)
        .ok_or_else(|| {
            Problem::input("upright", "Only a panel has an upright edge to be checked.")
        })?;
    let answer = judge(&edge, new.top_mm, new.foot_mm, floor.unit);
    let note = FloorNote::UprightEdge {
        out_by: answer.foot_out_by.text.clone(),
    };
    let entry = NewEntry {
        id: new.id,
        kind: note.kind(),
        crew: who,
        piece: Some(floor.piece().id),
        body: serde_json::to_value(&note).map_err(StoreError::from)?,
    };
    store.append(floor.rows.job.id, entry).await?;
    Ok(Json(answer))
}

/// The strokes of a piece as a PDF.
#[utoipa::path(get, path = "/api/pieces/{id}/strokes.pdf", params(("id" = Uuid, Path), ("paper" = Option<String>, Query, description = "`letter` or `a4`")), responses((status = 200, content_type = "application/pdf")))]
#[get("/pieces/<id>/strokes.pdf?<paper>")]
pub async fn stroke_sheet(
    store: &State<Store>,
    id: &str,
    paper: Option<&str>,
) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let shop = store.shop().await?.name;
    let (floor, _, found) = Floor::of(store, id).await?.lay_down().await?;
    let sheet = StrokeSheet {
        shop: &shop,
        title: &floor.rows.job.title,
        customer: &floor.rows.job.customer,
        plan: &floor.plan,
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

/// An entry in words, for the record.
pub fn in_words(body: &Value) -> String {
    match serde_json::from_value::<FloorNote>(body.clone()) {
        Ok(FloorNote::Laid { strokes }) => format!("Laid down with {strokes} strokes."),
        Ok(FloorNote::Waited { minutes, reason }) => format!(
            "Waited {minutes} minutes: {}.",
            reason.trim_end_matches('.')
        ),
        Ok(FloorNote::Trouble {
            seen,
            place,
            heated,
            outcome,
        }) => {
            let heat = if heated { ", heated before" } else { "" };
            let outcome = if outcome.trim().is_empty() {
                String::new()
            } else {
                format!(" {}.", outcome.trim().trim_end_matches('.'))
            };
            format!(
                "Trouble: {} at {}{heat}.{outcome}",
                seen.name(),
                place.trim().trim_end_matches('.')
            )
        }
        Ok(FloorNote::UprightEdge { out_by }) => {
            format!("Upright edge of the panel checked: out by {out_by}.")
        }
        Err(_) => "Something of the floor.".into(),
    }
}
