//! The Film stage: which film for which piece, a print in panels, everything of one film on its rolls, what is needed.

use std::sync::Arc;
use std::time::Duration;

use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::into_pieces::into_pieces;
use windrift_core::cut::nest::{Bin, NestError};
use windrift_core::cut::panels::panels;
use windrift_core::cut::pieces::CutPiece;
use windrift_core::cut::which_film::{OnShelf, Wanted, which_film};
use windrift_core::floor::hang::hang;
use windrift_core::ground::outline::bounds_of_shapes;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_formats::panel_files::PanelFile;
use windrift_formats::shelf_csv::needed_csv;
use windrift_formats::svg::screen_path;
use windrift_store::edits::{Change, EditedRow, RowKind};
use windrift_store::entity::roll_entry;
use windrift_store::shelf::{NewRollEntry, RollChange};
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, NewEntry, StoreError, hex};

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, check_pieces, make_all, require_room};
use crate::entries::cut::{CutEntry, CutFrom};
use crate::file::File;
use crate::floor::Floor;
use crate::keys::key;
use crate::nests::{StandingRoll, cut_of, film_of, go_on, panel_ask, rolls_of};
use crate::planned::{PlannedSide, unit_of};
use crate::problem::{Problem, UNREADABLE};
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;
use crate::views::{
    Coarse, CutAlready, FilmedPiece, FilmsView, JobFilm, LaidPiece, LaidRoll, Needed, NestView,
    PanelsView, SCREEN_MM,
};
use crate::ways::Ways;

/// Longest that one answer goes on with a layout.
const LONGEST: Duration = Duration::from_millis(1500);

/// A panel may be as long as this where no roll of its film is on the shelf, mm: 50 yd.
const NO_ROLL_MM: f64 = 45_720.0;
/// A roll is taken to be so wide where none of its film is on the shelf, mm: 54 in (common practice, no source).
const NO_ROLL_WIDE_MM: f64 = 1371.6;

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

/// A job's sides, planned.
struct JobSides {
    id: Uuid,
    unit: Unit,
    title: String,
    ways: Ways,
    sides: Vec<(Uuid, String, Arc<PlannedSide>)>,
    taken: Vec<roll_entry::Model>,
}

impl JobSides {
    async fn of(desk: &Desk, id: &str) -> Result<JobSides, Problem> {
        let ways = desk.ways().await?;
        let job = desk.job(key(id)?).await?;
        let mut sides = Vec::new();
        for side in &job.sides {
            let planned = match desk.planned(&job, side.side.id, &ways).await {
                Ok(planned) => planned,
                // The shop's machine is in trouble, not the side.
                Err(problem) if problem.status >= 500 && problem.code != UNREADABLE => {
                    return Err(problem);
                }
                // A side that cannot be planned is told where the job is; the others go on.
                Err(_) => continue,
            };
            let own = &planned.input.side;
            let name = own
                .called
                .clone()
                .unwrap_or_else(|| own.kind.name(ways.side_words).to_owned());
            sides.push((side.side.id, name, planned));
        }
        Ok(JobSides {
            id: job.job.id,
            unit: unit_of(&job.job.unit)?,
            title: job.job.title.clone(),
            taken: desk.taken_for(job.job.id).await?,
            ways,
            sides,
        })
    }

    fn text(&self, mm: f64) -> String {
        print(mm, self.unit).text
    }

    /// Pieces of a film with the side that they lie on.
    fn of_film(&self, film: Uuid) -> impl Iterator<Item = (&str, &PlannedSide, &PlannedPiece)> {
        let all = self.sides.iter().flat_map(|(_, name, side)| {
            (side.plan.pieces.iter()).map(move |p| (name.as_str(), side.as_ref(), p))
        });
        all.filter(move |(_, _, p)| {
            let chosen = p.piece.work.chosen.as_ref();
            chosen.is_some_and(|c| c.id == film)
        })
    }

    /// What is cut already: piece, panel, lot.
    fn cut(&self) -> Vec<(Uuid, Option<u32>, String)> {
        let of = |entry: &roll_entry::Model| -> Vec<(Uuid, Option<u32>, String)> {
            let taken: Taken = match serde_json::from_value(entry.spec.clone()) {
                Ok(taken) => taken,
                Err(_) => return Vec::new(),
            };
            let lot = taken.lot.clone();
            (taken.pieces.into_iter())
                .map(|p| (p.piece, p.panel, lot.clone()))
                .collect()
        };
        self.taken.iter().flat_map(of).collect()
    }

    /// Pieces of one side and one film that are cut from several lots.
    fn lots(&self) -> Vec<String> {
        let cut = self.cut();
        let mut told = Vec::new();
        for (_, name, side) in &self.sides {
            let mut seen: Vec<(Uuid, String, String)> = Vec::new();
            for p in &side.plan.pieces {
                let Some(film) = p.piece.work.chosen.as_ref().map(|c| c.id) else {
                    continue;
                };
                for (_, panel, lot) in cut.iter().filter(|(id, ..)| *id == p.id) {
                    let called = with_panel(&p.piece.called(), *panel);
                    let other = seen.iter().find(|(f, l, _)| *f == film && l != lot);
                    if let Some((_, other, first)) = other {
                        told.push(format!(
                            "{called} is from lot {lot} and {first} from lot {other}: both are seen together on the {name}."
                        ));
                    }
                    seen.push((film, lot.clone(), called));
                }
            }
        }
        told.dedup();
        told
    }
}

fn with_panel(called: &str, panel: Option<u32>) -> String {
    match panel {
        Some(n) => format!("{called}, panel {n}"),
        None => called.to_owned(),
    }
}

/// A piece of film by what it is made as, wherever it goes.
fn hash_of(art: &Art) -> String {
    let bytes = serde_json::to_vec(art).unwrap_or_default();
    hex(&Sha256::digest(bytes))
}

/// What an entry of a roll says was cut.
#[derive(Debug, Serialize, Deserialize)]
struct Taken {
    lot: String,
    pieces: Vec<TakenPiece>,
}

#[derive(Debug, Serialize, Deserialize)]
struct TakenPiece {
    piece: Uuid,
    called: String,
    panel: Option<u32>,
    /// What it was cut as: another hash, and the film on the roll is no longer the piece.
    #[serde(default)]
    art: Option<String>,
    /// Its box on the roll, from where the roll began at that time: x, y, width, height, mm.
    bounds: [f64; 4],
}

/// Which film each piece of a job has.
#[utoipa::path(get, path = "/api/jobs/{id}/film", params(("id" = Uuid, Path)), responses((status = 200, body = JobFilm)))]
#[get("/jobs/<id>/film")]
pub async fn job_film(desk: &Desk, id: &str) -> Answer<JobFilm> {
    let job = JobSides::of(desk, id).await?;
    let cut = job.cut();
    let was_cut_as: Vec<(Uuid, String)> = (job.taken.iter())
        .filter_map(|e| serde_json::from_value::<Taken>(e.spec.clone()).ok())
        .flat_map(|t| t.pieces)
        .filter_map(|p| Some((p.piece, p.art?)))
        .collect();
    let lots_of = |id: Uuid| {
        let mut lots: Vec<String> = (cut.iter().filter(|(p, ..)| *p == id))
            .map(|(.., lot)| lot.clone())
            .collect();
        lots.dedup();
        lots
    };
    let mut pieces = Vec::new();
    for (side, name, planned) in &job.sides {
        for (id, piece) in &planned.input.pieces {
            let found = planned.plan.pieces.iter().find(|p| p.id == *id);
            let failed = planned.plan.failed.iter().find(|(p, _)| p == id);
            let size = found.map(|p| {
                let b = p.drawn.bounds;
                format!("{} by {}", job.text(b.width()), job.text(b.height()))
            });
            let chosen = piece.work.chosen.as_ref();
            pieces.push(FilmedPiece {
                id: *id,
                side: *side,
                side_name: name.clone(),
                called: piece.called(),
                print: matches!(piece.art, Art::Panel(_)),
                size: size.unwrap_or_default(),
                film: chosen.map(|c| c.id),
                film_name: match chosen {
                    Some(c) => c.film.name.clone(),
                    None => piece.film().name().to_owned(),
                },
                trouble: failed.map(|(_, error)| error.to_string()),
                lots: lots_of(*id),
                changed_since_cut: (was_cut_as.iter().rev())
                    .find(|(p, _)| p == id)
                    .is_some_and(|(_, art)| *art != hash_of(&piece.art)),
            });
        }
    }
    Ok(Json(JobFilm {
        lots: job.lots(),
        pieces,
    }))
}

/// Films of the shelf for a piece, ranked, with what speaks for and against each.
#[utoipa::path(get, path = "/api/pieces/{id}/films", params(("id" = Uuid, Path), ("years" = Option<f64>, Query, description = "Years that it is to last"), ("removable" = Option<bool>, Query, description = "To come off cleanly later"), ("reflective" = Option<bool>, Query, description = "To shine back")), responses((status = 200, body = FilmsView), (status = 404, body = Problem)))]
#[get("/pieces/<id>/films?<years>&<removable>&<reflective>")]
pub async fn films_for(
    desk: &Desk,
    id: &str,
    years: Option<f64>,
    removable: Option<bool>,
    reflective: Option<bool>,
) -> Answer<FilmsView> {
    let floor = Floor::of(desk, id).await?;
    let rolls = desk.rolls().await?;
    let shelf: Vec<OnShelf> = (desk.films().await?.iter())
        .filter_map(|row| {
            let own = rolls
                .iter()
                .filter(|r| r.film_id == row.id && r.left_mm > 0.0);
            let wide = |r: &windrift_store::entity::roll::Model| {
                r.spec.get("width_mm").and_then(serde_json::Value::as_f64)
            };
            let (widest_mm, left_mm) = own.fold((0.0_f64, 0.0), |(widest, left), r| {
                (widest.max(wide(r).unwrap_or(0.0)), left + r.left_mm)
            });
            Some(OnShelf {
                id: row.id,
                film: film_of(row)?,
                widest_mm,
                left_mm,
            })
        })
        .collect();
    let wanted = Wanted {
        years: years.filter(|y| y.is_finite() && (0.0..=50.0).contains(y)),
        removable: removable.unwrap_or(false),
        reflective: reflective.unwrap_or(false),
    };
    let view = desk.compute(move || {
        let piece = floor.piece();
        FilmsView {
            ranked: which_film(piece, &floor.plan().side, &shelf, &wanted, floor.unit),
            chosen: piece.piece.work.chosen.as_ref().map(|c| c.id),
            assumed: piece.piece.film().name(),
        }
    });
    Ok(Json(view.await?))
}

/// A print in panels: on the widest roll of its film, or on one so wide.
#[utoipa::path(get, path = "/api/pieces/{id}/panels", params(("id" = Uuid, Path), ("width_mm" = Option<f64>, Query, description = "Width of the roll, mm")), responses((status = 200, body = PanelsView), (status = 422, body = Problem)))]
#[get("/pieces/<id>/panels?<width_mm>")]
pub async fn piece_panels(desk: &Desk, id: &str, width_mm: Option<f64>) -> Answer<PanelsView> {
    let floor = Floor::of(desk, id).await?;
    let chosen = floor.piece().piece.work.chosen.clone();
    let rolls = match &chosen {
        Some(c) => rolls_of(desk, c.id).await?,
        None => Vec::new(),
    };
    if width_mm.is_some_and(|w| !(w.is_finite() && (10.0..=3000.0).contains(&w))) {
        return Err(Problem::input(
            "panels",
            "A roll is between 10 mm and 3 m wide. Give another width.",
        ));
    }
    let ways = floor.ways.clone();
    let view = desk.compute(move || {
        let unit = floor.unit;
        let mut widths: Vec<f64> = rolls.iter().map(|r| r.roll.width_mm.mm()).collect();
        widths.sort_by(|a, b| b.total_cmp(a));
        widths.dedup();
        let width = width_mm
            .or(widths.first().copied())
            .unwrap_or(NO_ROLL_WIDE_MM);
        let planned = floor.piece();
        let ask = panel_ask(planned, width, longest_of(&rolls), &ways);
        let own_lap = chosen
            .as_ref()
            .is_some_and(|c| c.film.sheet.lap_mm.is_some());
        let found = panels(planned, &floor.plan().side, &ask, unit)
            .map_err(|e| Problem::input("panels", e.to_string()))?;
        Ok::<_, Problem>(PanelsView {
            roll: print(width, unit),
            printable: print(ask.printable_mm.mm(), unit),
            widths: widths.into_iter().map(|w| print(w, unit)).collect(),
            lap: print(ask.lap_mm.mm(), unit),
            coarse: match &planned.piece.art {
                Art::Panel(print) => print.pixels_per_inch().map(|ppi| Coarse {
                    told: format!("{ppi:.0} pixels to the inch at full size"),
                    too_coarse: ppi < ways.least_ppi,
                    least: ways.least_ppi,
                }),
                _ => None,
            },
            lap_from: if own_lap {
                "its data sheet"
            } else {
                "usual for its class (common practice, no source)"
            },
            panels: found,
        })
    });
    Ok(Json(view.await??))
}

/// Makes a print into its panels: each a piece of its own where it lay, in the order in which they go on. Undone in one go. If-Match is the
/// print's revision.
#[utoipa::path(post, path = "/api/pieces/{id}/into-panels", params(("id" = Uuid, Path)), responses((status = 200, body = EditedRow), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/pieces/<id>/into-panels")]
pub async fn into_panels(desk: &Desk, caller: Caller, id: &str) -> Editing {
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let seen = caller.seen()?;
    let floor = Floor::of(desk, id).await?;
    let view = piece_panels(desk, id, None).await?.into_inner();
    let (rows, own) = (floor.rows.clone(), floor.piece().id);
    let panels = desk
        .compute(move || {
            into_pieces(
                floor.piece(),
                &view.panels.best,
                &floor.plan().side,
                &floor.ways.settings,
                floor.unit,
            )
        })
        .await?
        .map_err(|e| Problem::input("into_panels", e.to_string()))?;
    require_room(
        rows.pieces.len() + panels.len() - 1,
        RowKind::Piece.most() + 1,
        "pieces on this side",
    )?;
    let named: Vec<(Uuid, Piece)> = panels.into_iter().map(|p| (Uuid::now_v7(), p)).collect();
    check_pieces(desk, &rows, named.clone()).await?;
    let mut changes = vec![(RowKind::Piece, own, Change::Remove { seen })];
    for (id, piece) in named {
        let spec = Kind::Piece.write(&piece)?;
        let parent = rows.side.id;
        changes.push((RowKind::Piece, id, Change::Add { parent, spec }));
    }
    make_all(desk, &caller, changes).await
}

/// A panel with everything that its file shows.
struct PanelOf {
    name: String,
    number: (u32, u32),
    panel: kurbo::Rect,
    trim: kurbo::Rect,
    laps: Vec<kurbo::Rect>,
    colour: String,
    picture: Option<(Uuid, kurbo::Rect)>,
    told: String,
}

/// One panel of a print at full size, `svg` or `pdf`, with lap, bleed, registration marks and its number outside the trim.
#[utoipa::path(get, path = "/api/pieces/{id}/panels/{number}/{kind}", params(("id" = Uuid, Path), ("number" = u32, Path), ("kind" = String, Path, description = "`svg` or `pdf`"), ("width_mm" = Option<f64>, Query, description = "Width of the roll, mm")), responses((status = 200, content_type = "image/svg+xml"), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/pieces/<id>/panels/<number>/<kind>?<width_mm>")]
pub async fn panel_file(
    desk: &Desk,
    id: &str,
    number: u32,
    kind: &str,
    width_mm: Option<f64>,
) -> Result<File, Problem> {
    let floor = Floor::of(desk, id).await?;
    let view = piece_panels(desk, id, width_mm).await?.into_inner();
    let best = &view.panels.best;
    let planned = floor.piece();
    let (Some(panel), Art::Panel(art)) = (
        best.panels.iter().find(|p| p.number == number),
        &planned.piece.art,
    ) else {
        return Err(StoreError::NotFound("panel").into());
    };
    let front_left = floor.plan().side.side.direction() > 0.0;
    let of = |[x0, y0, x1, y1]: [f64; 4]| kurbo::Rect::new(x0, y0, x1, y1);
    let laps = best
        .joins
        .iter()
        .filter(|j| j.under == number || j.under + 1 == number);
    let made = PanelOf {
        name: planned.piece.called(),
        number: (number, best.panels.len() as u32),
        panel: of(panel.film),
        trim: art.trim(front_left),
        laps: laps.map(|j| of(j.film)).collect(),
        colour: art.colour.clone(),
        picture: planned.drawn.picture,
        told: format!("Roll {} wide, lap {}.", view.roll.text, view.lap.text),
    };
    let jpeg = match made.picture {
        Some((photo, _)) => Some(desk.photo(photo).await?.jpeg),
        None => None,
    };
    let pdf = match kind {
        "svg" => false,
        "pdf" => true,
        _ => return Err(StoreError::NotFound("file").into()),
    };
    let name = format!("{} panel {number}", made.name);
    let bytes = desk.compute(move || {
        let file = PanelFile {
            name: &made.name,
            number: made.number,
            panel: made.panel,
            trim: made.trim,
            laps: &made.laps,
            colour: &made.colour,
            picture: made
                .picture
                .and_then(|(_, filled)| Some((jpeg.as_deref()?, filled))),
            told: &made.told,
        };
        if pdf {
            file.pdf()
                .map_err(|e| Problem::input("panel_file", e.to_string()))
        } else {
            Ok(file.svg().into_bytes())
        }
    });
    let (content, ending) = if pdf {
        (ContentType::PDF, "pdf")
    } else {
        (ContentType::SVG, "svg")
    };
    Ok(File::new(bytes.await??, content, &name, ending))
}

fn longest_of(rolls: &[StandingRoll]) -> f64 {
    let longest = rolls.iter().map(|r| r.row.left_mm).fold(0.0, f64::max);
    if longest > 0.0 { longest } else { NO_ROLL_MM }
}

/// One thing to be cut: which piece it is of, and what it takes.
struct ToCut {
    piece: Uuid,
    called: String,
    side: String,
    colour: String,
    cut: CutPiece,
}

/// A layout with what it is made of.
struct Layout {
    view: NestView,
    takes: Vec<(StandingRoll, f64, Taken)>,
}

/// Lays everything of a film on its rolls. Computes: called where computation is done.
fn lay_out(
    job: &JobSides,
    film: Uuid,
    film_name: String,
    rolls: Vec<StandingRoll>,
    time: Duration,
) -> Result<Layout, Problem> {
    let unit = job.unit;
    let widest = rolls
        .iter()
        .map(|r| r.roll.width_mm.mm())
        .fold(0.0, f64::max);
    let longest = longest_of(&rolls);
    let cut_before = job.cut();
    let mut to_cut: Vec<ToCut> = Vec::new();
    for (side_name, side, piece) in job.of_film(film) {
        let width = if widest > 0.0 {
            widest
        } else {
            NO_ROLL_WIDE_MM
        };
        let (_, cut) = cut_of(piece, &side.plan.side, width, longest, &job.ways, unit);
        let left = cut.into_iter().filter(|c| {
            !(cut_before.iter()).any(|(id, panel, _)| *id == piece.id && *panel == c.panel)
        });
        to_cut.extend(left.map(|cut| ToCut {
            piece: piece.id,
            called: with_panel(&piece.piece.called(), cut.panel),
            side: side_name.to_owned(),
            colour: piece.piece.colour().to_owned(),
            cut,
        }));
    }
    let nest_pieces: Vec<_> = to_cut.iter().map(|c| c.cut.nest.clone()).collect();
    let named = |e: NestError| {
        let sentence = match e {
            NestError::TooLarge(n) => match to_cut.get(n - 1) {
                Some(c) => format!(
                    "{} is larger than every roll and offcut of {film_name} that is left. Put a roll on the shelf, or choose another film.",
                    c.called
                ),
                None => e.to_string(),
            },
            _ => e.to_string(),
        };
        Problem::input("nest", sentence)
    };
    let margin = job.ways.printer_margin_mm.mm();
    let laid = |rolls: &[StandingRoll]| {
        let bins: Vec<Bin> = (rolls.iter())
            .map(|r| Bin {
                width_mm: (r.roll.width_mm.mm() - 2.0 * margin).max(1.0),
                length_mm: r.row.left_mm,
                offcut: r.roll.offcut,
            })
            .collect();
        let gap = job.ways.cut_gap_mm.mm();
        go_on(&nest_pieces, &bins, gap, time).map(|found| (found, bins))
    };
    // One lot for what is seen together: the smallest that has enough; all of them only where none has.
    let mut lots_left: Vec<(&str, f64)> = Vec::new();
    for r in &rolls {
        match lots_left.iter_mut().find(|(lot, _)| *lot == r.roll.lot) {
            Some((_, left)) => *left += r.row.left_mm,
            None => lots_left.push((&r.roll.lot, r.row.left_mm)),
        }
    }
    lots_left.sort_by(|a, b| a.1.total_cmp(&b.1));
    let of_one_lot = lots_left.iter().find_map(|(lot, _)| {
        let own: Vec<StandingRoll> = (rolls.iter().filter(|r| r.roll.lot == *lot))
            .cloned()
            .collect();
        let (found, bins) = laid(&own).ok()?;
        (found.left_over == 0).then_some((own, found, bins))
    });
    let (rolls, found, bins) = match of_one_lot {
        Some(one) => one,
        None => {
            let (found, bins) = laid(&rolls).map_err(named)?;
            (rolls, found, bins)
        }
    };
    let art_of = |id: Uuid| {
        let own = job.of_film(film).find(|(.., p)| p.id == id);
        own.map(|(.., p)| hash_of(&p.piece.art))
    };
    let mut takes = Vec::new();
    let mut laid_rolls = Vec::new();
    let mut lots: Vec<String> = Vec::new();
    let mut first: Vec<(String, String, String)> = Vec::new();
    let (mut area, mut taken_area) = (0.0, 0.0);
    for (n, roll) in rolls.iter().enumerate() {
        let mut pieces: Vec<LaidPiece> = (found.nest.laid.iter())
            .filter(|l| l.bin == n)
            .filter_map(|l| {
                let c = to_cut.get(l.piece)?;
                let at = kurbo::Point::new(l.at.x, l.at.y + margin);
                let film = c.cut.film_at(at, l.quarters);
                let whole: Vec<_> = (c.cut.nest.shapes.iter())
                    .map(|s| s.transformed(c.cut.nest.to_roll(at, l.quarters)))
                    .collect();
                let b = bounds_of_shapes(&whole);
                Some(LaidPiece {
                    piece: c.piece,
                    called: c.called.clone(),
                    panel: c.cut.panel,
                    path: screen_path(&film, SCREEN_MM * 4.0),
                    bounds: [b.x0, b.y0, b.width(), b.height()],
                    from: print(b.x0, unit),
                    colour: c.colour.clone(),
                    turned: l.quarters > 0,
                })
            })
            .collect();
        if pieces.is_empty() {
            continue;
        }
        pieces.sort_by(|a, b| a.bounds[0].total_cmp(&b.bounds[0]));
        let used = found.nest.used_mm.get(n).copied().unwrap_or(0.0);
        area += pieces
            .iter()
            .map(|p| p.bounds[2] * p.bounds[3])
            .sum::<f64>();
        taken_area += used * roll.roll.width_mm.mm();
        for p in &pieces {
            let side = to_cut
                .iter()
                .find(|c| c.piece == p.piece)
                .map(|c| c.side.clone());
            let side = side.unwrap_or_default();
            match first.iter().find(|(s, lot, _)| *s == side && *lot != roll.roll.lot) {
                Some((_, lot, other)) => lots.push(format!(
                    "{} is from lot {} and {other} from lot {lot}: both are seen together on the {side}.",
                    p.called, roll.roll.lot
                )),
                None => first.push((side, roll.roll.lot.clone(), p.called.clone())),
            }
        }
        takes.push((
            roll.clone(),
            used,
            Taken {
                lot: roll.roll.lot.clone(),
                pieces: (pieces.iter())
                    .map(|p| TakenPiece {
                        piece: p.piece,
                        called: p.called.clone(),
                        panel: p.panel,
                        art: art_of(p.piece),
                        bounds: p.bounds,
                    })
                    .collect(),
            },
        ));
        laid_rolls.push(LaidRoll {
            id: roll.row.id,
            revision: roll.row.revision,
            lot: roll.roll.lot.clone(),
            place: roll.roll.place.clone(),
            offcut: roll.roll.offcut,
            width: print(roll.roll.width_mm.mm(), unit),
            left: print(roll.row.left_mm, unit),
            used: print(used, unit),
            stays: print((roll.row.left_mm - used).max(0.0), unit),
            pieces,
        });
    }
    let short = match (rolls.is_empty(), found.left_over) {
        (true, _) if !to_cut.is_empty() => Some(format!(
            "No roll of {film_name} is on the shelf. Put one there, or order it."
        )),
        (_, 0) => None,
        (_, n) => Some(format!(
            "{n} of {} find no room on what is left of {film_name}. Put another roll on the shelf, or order one.",
            to_cut.len()
        )),
    };
    let cut = (job.taken.iter())
        .filter_map(|entry| {
            let taken: Taken = serde_json::from_value(entry.spec.clone()).ok()?;
            let own = taken
                .pieces
                .iter()
                .any(|p| job.of_film(film).any(|(.., o)| o.id == p.piece));
            own.then(|| CutAlready {
                roll: entry.roll_id,
                lot: taken.lot.clone(),
                length: print(entry.length_mm.unwrap_or(0.0), unit),
                at: entry.at,
                pieces: taken.pieces.into_iter().map(|p| p.called).collect(),
            })
        })
        .collect();
    Ok(Layout {
        view: NestView {
            film,
            film_name,
            used: print(found.nest.length_mm(&bins), unit),
            least: print(found.least_mm, unit),
            waste: if taken_area > 0.0 {
                100.0 * (1.0 - area / taken_area)
            } else {
                0.0
            },
            tried: found.tried,
            done: found.done,
            short,
            lots,
            rolls: laid_rolls,
            cut,
        },
        takes,
    })
}

async fn film_name(desk: &Desk, film: Uuid) -> Result<String, Problem> {
    let films = desk.films().await?;
    let found = films.iter().find(|f| f.id == film).and_then(film_of);
    Ok(found.ok_or(StoreError::NotFound("film"))?.name)
}

/// Everything of one film on its rolls; asked again, the search goes on from where it was.
#[utoipa::path(post, path = "/api/jobs/{id}/nest", params(("id" = Uuid, Path)), request_body = NestAsk, responses((status = 200, body = NestView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/nest", data = "<data>")]
pub async fn nest(desk: &Desk, id: &str, data: Data<'_>) -> Answer<NestView> {
    let ask: NestAsk = read_as(read_json(data).await?)?;
    let job = JobSides::of(desk, id).await?;
    let name = film_name(desk, ask.film).await?;
    let rolls = rolls_of(desk, ask.film).await?;
    let time = Duration::from_millis(ask.milliseconds).min(LONGEST);
    let found = desk.compute(move || lay_out(&job, ask.film, name, rolls, time));
    Ok(Json(found.await??.view))
}

/// Cuts a layout as it was seen: what it takes is taken from the rolls, and its pieces are cut. Refused where somebody took from one of those
/// rolls since, or where the layout is another by now.
#[utoipa::path(post, path = "/api/jobs/{id}/cut", params(("id" = Uuid, Path)), request_body = CutNest, responses((status = 200, body = NestView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/jobs/<id>/cut", data = "<data>")]
pub async fn cut(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<NestView> {
    let crew = caller.writer()?.id;
    let new: CutNest = read_as(read_json(data).await?)?;
    let job = JobSides::of(desk, id).await?;
    let name = film_name(desk, new.film).await?;
    let known = |n: usize| Uuid::from_u128(new.id.as_u128().wrapping_add(n as u128));
    // The same request again: it is cut already.
    let repeated = job.taken.iter().any(|e| e.id == known(0));
    if !repeated {
        let rolls = rolls_of(desk, new.film).await?;
        let (again, film_name, film) = (JobSides::of(desk, id).await?, name.clone(), new.film);
        let layout = desk
            .compute(move || lay_out(&again, film, film_name, rolls, Duration::ZERO))
            .await??;
        // As it was printed, which is what was seen.
        let layout_unit = job.unit;
        let seen: Vec<SeenRoll> = (layout.takes.iter())
            .map(|(roll, used, _)| SeenRoll {
                id: roll.row.id,
                revision: roll.row.revision,
                used_mm: print(*used, layout_unit).mm,
            })
            .collect();
        let same = seen.len() == new.rolls.len()
            && seen.iter().zip(&new.rolls).all(|(a, b)| {
                a.id == b.id && a.revision == b.revision && (a.used_mm - b.used_mm).abs() < 0.01
            });
        if layout.takes.is_empty() {
            return Err(Problem::input(
                "cut",
                "Nothing of this film is left to cut for this job.",
            ));
        }
        if !same {
            return Err(Problem::new(
                rocket::http::Status::Conflict,
                "stale",
                "The layout is not the one that you saw: a better one was found, or somebody took from a roll. Look at it again, then cut.",
            ));
        }
        let entries = (layout.takes.into_iter().enumerate())
            .map(|(n, (roll, used, taken))| {
                Ok(NewRollEntry {
                    id: known(n),
                    roll: roll.row.id,
                    seen: roll.row.revision,
                    change: RollChange::Take(used),
                    job: Some(job.id),
                    crew,
                    spec: serde_json::to_value(&taken).map_err(StoreError::from)?,
                })
            })
            .collect::<Result<Vec<_>, StoreError>>()?;
        desk.enter_rolls(entries).await?;
    }
    let job = JobSides::of(desk, id).await?;
    // Into the job's record too, also where the first request got no further than the rolls.
    let mut from = Vec::new();
    for n in 0.. {
        let Some(entry) = job.taken.iter().find(|e| e.id == known(n)) else {
            break;
        };
        let taken: Taken = serde_json::from_value(entry.spec.clone()).map_err(StoreError::from)?;
        from.push(CutFrom {
            lot: taken.lot,
            length_mm: entry.length_mm.unwrap_or(0.0),
            pieces: taken.pieces.into_iter().map(|p| p.called).collect(),
        });
    }
    let body = CutEntry {
        film: name.clone(),
        rolls: from,
    };
    let recorded = NewEntry {
        id: new.id,
        kind: EntryKind::Cut,
        crew,
        piece: None,
        body: serde_json::to_value(&body).map_err(StoreError::from)?,
        read_at: None,
    };
    desk.append(job.id, recorded).await?;
    let rolls = rolls_of(desk, new.film).await?;
    let found = desk.compute(move || lay_out(&job, new.film, name, rolls, Duration::ZERO));
    Ok(Json(found.await??.view))
}

/// What a job needs of the shop, worked out from its plan.
async fn needed(desk: &Desk, id: &str) -> Result<(String, Vec<Needed>), Problem> {
    let job = JobSides::of(desk, id).await?;
    let mut rolls = Vec::new();
    for row in desk.films().await? {
        if let Some(film) = film_of(&row) {
            rolls.push((row.id, film.name, rolls_of(desk, row.id).await?));
        }
    }
    let today = job.ways.today();
    desk.compute(move || {
        let title = job.title.clone();
        let mut list = Vec::new();
        for (film, name, rolls) in rolls {
            let count = job.of_film(film).count();
            if count == 0 {
                continue;
            }
            let why = format!("{count} pieces of this job");
            match lay_out(&job, film, name.clone(), rolls, Duration::from_millis(100)) {
                Ok(found) => list.push(Needed {
                    what: name,
                    amount: found.view.used.text,
                    why,
                    short: found.view.short,
                }),
                Err(problem) => list.push(Needed {
                    what: name,
                    amount: String::new(),
                    why,
                    short: Some(problem.detail.to_string()),
                }),
            }
        }
        let (mut hinge_tape, mut transfer, mut edges) = (0.0, 0.0, 0.0);
        let mut pieces = 0;
        for (_, _, side) in &job.sides {
            for p in &side.plan.pieces {
                pieces += 1;
                let fresh = side.input.side.surface.paint_is_fresh(today);
                let hung = hang(p, &side.plan.side, &job.ways.settings, fresh, job.unit);
                hinge_tape += hung.total.mm;
                if hung.film.transfer_tape {
                    let sheet = p.drawn.carrier(job.ways.carrier_margin_mm.mm());
                    transfer += sheet.area();
                } else {
                    let b = p.drawn.bounds;
                    edges += 2.0 * (b.width() + b.height());
                }
            }
        }
        let mut tell = |what: &str, amount: String, why: String| {
            list.push(Needed {
                what: what.into(),
                amount,
                why,
                short: None,
            });
        };
        if pieces > 0 {
            let wide = job.text(job.ways.tape_width_mm.mm());
            tell(
                &format!("masking tape, {wide} wide"),
                job.text(hinge_tape),
                "hinges, tabs and stay tape of every piece".into(),
            );
        }
        if transfer > 0.0 {
            tell(
                "transfer tape",
                format!("{:.2} m\u{b2}", transfer / 1e6),
                "lettering with its margin".into(),
            );
        }
        if edges > 0.0 {
            tell(
                "edges to heat and look over",
                job.text(edges),
                "the outline of prints and kit pieces".into(),
            );
        }
        Ok((title, list))
    })
    .await?
}

/// What a job needs of the shop.
#[utoipa::path(get, path = "/api/jobs/{id}/to-order", params(("id" = Uuid, Path)), responses((status = 200, body = Vec<Needed>)))]
#[get("/jobs/<id>/to-order")]
pub async fn to_order(desk: &Desk, id: &str) -> Answer<Vec<Needed>> {
    Ok(Json(needed(desk, id).await?.1))
}

/// The same as a table that any spreadsheet opens.
#[utoipa::path(get, path = "/api/jobs/{id}/to-order.csv", params(("id" = Uuid, Path)), responses((status = 200, content_type = "text/csv")))]
#[get("/jobs/<id>/to-order.csv")]
pub async fn to_order_csv(desk: &Desk, id: &str) -> Result<File, Problem> {
    let (title, list) = needed(desk, id).await?;
    let rows = list
        .into_iter()
        .map(|n| [n.what, n.amount, n.why, n.short.unwrap_or_default()]);
    let text = needed_csv(rows).map_err(|e| Problem::input("csv", e.to_string()))?;
    Ok(File::new(
        text,
        ContentType::CSV,
        &format!("{title} to order"),
        "csv",
    ))
}
