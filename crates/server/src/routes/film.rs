//! The Film stage: which film each piece of a job has, which of the shelf would suit, what the job needs.

use std::collections::BTreeMap;
use std::time::Duration;

use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::which_film::{OnShelf, Wanted, same_film as take_same_film, which_film};
use windrift_core::film::stocked::{ChosenFilm, StockedFilm};
use windrift_core::film::supply::{Need, Supply, SupplyKind, told_amount};
use windrift_core::floor::hang::hang;
use windrift_core::floor::materials::Materials;
use windrift_core::ground::climate::Climate;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::plan::planned::PlannedPiece;
use windrift_formats::shelf_csv::needed_csv;
use windrift_store::entity::{film, roll};
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::editing::{Editing, answered_before, make_all, replaced};
use crate::file::File;
use crate::floor::Floor;
use crate::job_pieces::JobPieces;
use crate::nests::{Search, film_of, rolls_of};
use crate::problem::Problem;
use crate::request::Caller;
use crate::roll_layout::{FilmRolls, lay_out};
use crate::routes::Answer;
use crate::tape_rolls::{side_cuts, tape_rolls};
use crate::views::{FilmedPiece, FilmsView, JobFilm, Needed};

/// How long a layout is sought for a list of what is needed.
const SHORT: Duration = Duration::from_millis(100);

/// Which film each piece of a job has.
#[utoipa::path(get, path = "/api/jobs/{id}/film", params(("id" = Uuid, Path)), responses((status = 200, body = JobFilm)))]
#[get("/jobs/<id>/film")]
pub async fn job_film(desk: &Desk, id: &str) -> Answer<JobFilm> {
    let job = JobPieces::of(desk, id).await?;
    let shelf = on_shelf(desk).await?;
    let (job, for_more) = desk
        .compute(move || {
            let found = film_for_more(&job, &shelf);
            (job, found)
        })
        .await?;
    let mut pieces = Vec::new();
    for side in &job.sides {
        let plan = &side.planned.plan;
        for (id, piece) in &side.planned.input.pieces {
            let found = plan.pieces.iter().find(|p| p.id == *id);
            let failed = plan.failed.iter().find(|(p, _)| p == id);
            let size = found.map(|p| {
                let b = p.drawn.bounds;
                format!("{} by {}", job.text(b.width()), job.text(b.height()))
            });
            let chosen = piece.work.chosen.as_ref();
            pieces.push(FilmedPiece {
                id: *id,
                side: side.id,
                side_name: side.name.clone(),
                called: piece.called(),
                print: matches!(piece.art, Art::Panel(_)),
                size: size.unwrap_or_default(),
                film: chosen.map(|c| c.id),
                film_name: match chosen {
                    Some(c) => c.film.called(),
                    None => piece.film().name().to_owned(),
                },
                film_for_more: for_more.get(id).copied().unwrap_or(0),
                trouble: failed.map(|(_, error)| error.to_string()),
                lots: job.lots_of(*id),
                changed_since_cut: job.changed_since_cut(*id, &piece.art),
            });
        }
    }
    Ok(Json(JobFilm {
        lots: job.lots_told(),
        pieces,
    }))
}

/// How many others can take the film of each piece that has one. Pieces of one colour and film have the same answer.
fn film_for_more(job: &JobPieces, shelf: &[OnShelf]) -> BTreeMap<Uuid, usize> {
    let wanted = wanted_at(job.ways.climate);
    let mut found = BTreeMap::new();
    for side in &job.sides {
        let plan = &side.planned.plan;
        let mut known: BTreeMap<(Uuid, String), usize> = BTreeMap::new();
        for p in &plan.pieces {
            let Some(chosen) = &p.piece.work.chosen else {
                continue;
            };
            let Some(film) = shelf.iter().find(|f| f.id == chosen.id) else {
                continue;
            };
            let key = (chosen.id, p.piece.colour().to_lowercase());
            let count = known.entry(key).or_insert_with(|| {
                take_same_film(&plan.pieces, p, &plan.side, film, &wanted, job.unit).len()
            });
            found.insert(p.id, *count);
        }
    }
    found
}

/// Nothing but what the pieces ask by themselves.
fn wanted_at(climate: Climate) -> Wanted {
    Wanted {
        climate,
        ..Wanted::default()
    }
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
    let shelf = on_shelf(desk).await?;
    let wanted = Wanted {
        years: years.filter(|y| y.is_finite() && (0.0..=50.0).contains(y)),
        climate: floor.ways.climate,
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

/// All films with what is there of each.
async fn on_shelf(desk: &Desk) -> Result<Vec<OnShelf>, Problem> {
    let rolls = desk.rolls().await?;
    let films = desk.films().await?;
    let one = |row: &film::Model| {
        let own = (rolls.iter()).filter(|r| r.film_id == row.id && r.left_mm > 0.0);
        let wide = |r: &roll::Model| r.spec.get("width_mm").and_then(serde_json::Value::as_f64);
        let (widest_mm, left_mm) = own.fold((0.0_f64, 0.0), |(widest, left), r| {
            (widest.max(wide(r).unwrap_or(0.0)), left + r.left_mm)
        });
        Some(OnShelf {
            id: row.id,
            film: film_of(row)?,
            widest_mm,
            left_mm,
        })
    };
    Ok(films.iter().filter_map(one).collect())
}

/// The film of a piece for every other piece of its side that has none yet, is of its colour and can take it: one edit, taken back by one undo.
#[utoipa::path(post, path = "/api/pieces/{id}/same-film", params(("id" = Uuid, Path)), responses((status = 200, body = windrift_store::edits::EditedRow), (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/pieces/<id>/same-film")]
pub async fn same_film(desk: &Desk, caller: Caller, id: &str) -> Editing {
    if let Some(done) = answered_before(desk, &caller).await? {
        return Ok(done);
    }
    let floor = Floor::of(desk, id).await?;
    let chosen = floor.piece().piece.work.chosen.clone();
    let chosen = chosen.ok_or_else(|| {
        Problem::input(
            "same_film",
            "This piece has no film yet: choose one for it first.",
        )
    })?;
    let shelf = on_shelf(desk).await?;
    let film = shelf
        .into_iter()
        .find(|f| f.id == chosen.id)
        .ok_or_else(|| {
            let told = format!(
                "{} is no longer on the shelf. Choose another film.",
                chosen.film.called()
            );
            Problem::input("same_film", told)
        })?;
    let seen: BTreeMap<Uuid, i32> = (floor.rows.pieces.iter())
        .map(|row| (row.id, row.revision))
        .collect();
    let wanted = wanted_at(floor.ways.climate);
    let changed = desk.compute(move || {
        let plan = floor.plan();
        let like = floor.piece();
        let found = take_same_film(&plan.pieces, like, &plan.side, &film, &wanted, floor.unit);
        let with = |(id, film): (Uuid, StockedFilm)| {
            let mut piece = plan.pieces.iter().find(|p| p.id == id)?.piece.clone();
            piece.work.chosen = Some(ChosenFilm {
                id: chosen.id,
                film,
            });
            Some((id, *seen.get(&id)?, piece))
        };
        found.into_iter().filter_map(with).collect::<Vec<_>>()
    });
    let changes = replaced(changed.await?)?;
    if changes.is_empty() {
        return Err(Problem::input(
            "same_film",
            "No other piece of this side is without film, of this colour, and can take it. Choose the film of each.",
        ));
    }
    make_all(desk, &caller, changes).await
}

/// What a job needs of the shop, worked out from its plan; its title.
async fn needed(desk: &Desk, id: &str) -> Result<(String, Vec<Needed>), Problem> {
    let job = JobPieces::of(desk, id).await?;
    let mut shelf = Vec::new();
    for row in desk.films().await? {
        if let Some(film) = film_of(&row) {
            shelf.push(FilmRolls {
                film: row.id,
                name: film.name,
                rolls: rolls_of(desk, row.id).await?,
            });
        }
    }
    let supplies: Vec<Supply> = (desk.supplies().await?.iter())
        .filter_map(|row| Kind::Supply.read(&row.spec).ok())
        .collect();
    let today = job.ways.today();
    let tape = tape_needed(desk, &job).await?;
    desk.compute(move || {
        let (mut list, laminates) = films_needed(&job, &shelf);
        list.extend(tape);
        let mut all = Materials::default();
        for side in &job.sides {
            let fresh = side.planned.input.side.surface.paint_is_fresh(today);
            for p in &side.planned.plan.pieces {
                let hung = hang(
                    p,
                    &side.planned.plan.side,
                    &job.ways.settings,
                    fresh,
                    job.unit,
                );
                all.add(p, &side.planned.plan.side, &hung, &job.ways.settings);
            }
        }
        let needs = laminates.into_iter().chain(all.needs(&job.ways.settings));
        list.extend(needs.map(|need| needed_of(&need, &supplies, job.unit)));
        (job.title.clone(), list)
    })
    .await
}

/// Marking tape that is still to be cut, each tape of each side against the rolls of the shelf.
async fn tape_needed(desk: &Desk, job: &JobPieces) -> Result<Vec<Needed>, Problem> {
    let rolls = tape_rolls(desk, job.unit).await?;
    let mut list = Vec::new();
    for side in &job.sides {
        let rows = desk.side(side.id).await?;
        let Some(cuts) = side_cuts(desk, &rows, side.name.clone()).await? else {
            continue;
        };
        let tapes = cuts.view(job, &rolls).lists.into_iter();
        list.extend(tapes.filter(|t| !t.whole).map(|t| Needed {
            what: t.name,
            amount: t.long.text,
            why: format!("marking strips of the {}, what is not cut yet", side.name),
            short: t.short,
        }));
    }
    Ok(list)
}

/// Film that is still to be cut, against the shelf; and pieces for which no film of the shelf is chosen.
fn films_needed(job: &JobPieces, shelf: &[FilmRolls]) -> (Vec<Needed>, Vec<Need>) {
    let mut list = Vec::new();
    // By the laminate that was chosen; of prints for which none was, together.
    let mut laminates: BTreeMap<Option<String>, f64> = BTreeMap::new();
    let told = |n: usize| match n {
        1 => "one piece of this job".to_owned(),
        n => format!("{n} pieces of this job"),
    };
    for of in shelf {
        let count = job.of_film(of.film).count();
        if count == 0 {
            continue;
        }
        let (amount, short) = match lay_out(job, of, Search::GoOn(SHORT)) {
            Ok(found) => {
                let print = |p: &PlannedPiece| matches!(p.piece.art, Art::Panel(_));
                let prints: Vec<&PlannedPiece> = (job.of_film(of.film))
                    .map(|(_, p)| p)
                    .filter(|p| print(p))
                    .collect();
                if !prints.is_empty() {
                    let taken = found.takes.iter();
                    let from_shelf = taken.map(|(roll, used, _)| roll.roll.width_mm.mm() * used);
                    let ordered = found.view.new_roll.as_ref();
                    let film_mm2 = match ordered {
                        Some(new) => new.wide.mm * new.long.mm,
                        None => from_shelf.sum::<f64>(),
                    };
                    // Its waste is shared as its prints are large.
                    let all_mm2: f64 = prints.iter().map(|p| p.drawn.bounds.area()).sum();
                    for p in prints {
                        let chosen = p.piece.work.chosen.as_ref();
                        let laminate = chosen.and_then(|c| c.film.laminate());
                        let share = p.drawn.bounds.area() / all_mm2.max(1e-9);
                        *(laminates
                            .entry(laminate.map(|l| l.name.clone()))
                            .or_default()) += film_mm2 * share;
                    }
                }
                // What is not there yet is ordered whole: what is seen together comes from one lot.
                let amount = found.view.new_roll.map_or(found.view.used, |new| new.long);
                (amount.text, found.view.short)
            }
            Err(problem) => (String::new(), Some(problem.detail)),
        };
        list.push(Needed {
            what: of.name.clone(),
            amount,
            why: format!("{}, what is not cut yet", told(count)),
            short,
        });
    }
    let pieces = job.sides.iter().flat_map(|s| &s.planned.plan.pieces);
    let chosen = |p: &PlannedPiece| {
        let chosen = p.piece.work.chosen.as_ref();
        chosen.is_some_and(|c| shelf.iter().any(|s| s.film == c.id))
    };
    let without = pieces.filter(|p| !chosen(p)).count();
    if without > 0 {
        list.push(Needed {
            what: "film".into(),
            amount: String::new(),
            why: told(without),
            short: Some("No film of the shelf is chosen here yet. Choose one: then how much it takes is worked out.".into()),
        });
    }
    let needs = laminates.into_iter().filter(|(_, mm2)| *mm2 > 0.0);
    let needs = needs.map(|(name, mm2)| Need {
        kind: SupplyKind::Laminate,
        width_mm: None,
        amount: mm2,
        why: match name {
            Some(_) => "over its prints, as long as their film and as wide",
            None => "over every print, as long as its film and as wide",
        }
        .into(),
        name,
    });
    (list, needs.collect())
}

/// What is needed of a supply, against the shelf.
fn needed_of(need: &Need, shelf: &[Supply], unit: Unit) -> Needed {
    let counted = need.kind.counted();
    let wide = (need.width_mm).map(|mm| format!(", {} wide", print(mm, unit).text));
    let named = (need.name.as_ref()).map_or(String::new(), |name| format!(", {name}"));
    let missing = need.missing(shelf);
    Needed {
        what: format!("{}{named}{}", need.kind.name(), wide.unwrap_or_default()),
        amount: told_amount(counted, need.amount, unit),
        why: need.why.clone(),
        short: (missing > 0.0).then(|| {
            format!(
                "{} more than the shelf has.",
                told_amount(counted, missing, unit)
            )
        }),
    }
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
