//! Where a piece's film stretches and how its edges end, with its own film or with another one tried.

use rocket::get;
use rocket::serde::json::Json;
use uuid::Uuid;
use windrift_core::film::stocked::StockedFilm;
use windrift_core::floor::edges::edges;
use windrift_core::floor::forming::{Forming, FormingAsk, Stretches, stretches};
use windrift_core::ground::settings::FormingSchool;
use windrift_core::ground::tape::{parse, print};

use crate::called_back::CalledBack;
use crate::desk::Desk;
use crate::floor::Floor;
use crate::keys::key;
use crate::nests::film_of;
use crate::problem::Problem;
use crate::routes::Answer;
use crate::views::{FormingView, OtherFilm};

/// Widest lap that is tried, mm.
const WIDEST_LAP_MM: f64 = 150.0;
/// Widest warm band that is tried, mm.
const WIDEST_BAND_MM: f64 = 300.0;

/// Where a piece stretches, what must reach its temperature, and how every edge ends: with its film, or with another one, school or band.
#[utoipa::path(get, path = "/api/pieces/{id}/forming", params(("id" = Uuid, Path), ("film" = Option<Uuid>, Query, description = "Another film of the shelf"), ("school" = Option<String>, Query, description = "`band` or `bridge`"), ("band" = Option<String>, Query, description = "How wide a band is warmed, as typed"), ("lap" = Option<String>, Query, description = "How far two pieces lap, as typed")), responses((status = 200, body = FormingView), (status = 404, body = Problem), (status = 422, body = Problem)))]
#[get("/pieces/<id>/forming?<film>&<school>&<band>&<lap>")]
pub async fn forming(
    desk: &Desk,
    id: &str,
    film: Option<&str>,
    school: Option<&str>,
    band: Option<&str>,
    lap: Option<&str>,
) -> Answer<FormingView> {
    let floor = Floor::of(desk, id).await?;
    let tried = film.map(key).transpose()?;
    let shelf: Vec<(Uuid, StockedFilm)> = (desk.films().await?.iter())
        .filter_map(|row| Some((row.id, film_of(row)?)))
        .collect();
    let school = match school {
        None => floor.ways.forming,
        Some("band") => FormingSchool::Band,
        Some("bridge") => FormingSchool::Bridge,
        Some(_) => {
            return Err(Problem::input(
                "forming",
                "The band is warmed, or the bridge. Choose one of them.",
            ));
        }
    };
    let band_mm = match band {
        None => floor.ways.warm_band_mm.mm(),
        Some(text) => parse(text, floor.unit)?,
    };
    if !(0.0..=WIDEST_BAND_MM).contains(&band_mm) {
        return Err(Problem::input(
            "forming",
            format!(
                "A warm band is at most {} wide. Give another width.",
                print(WIDEST_BAND_MM, floor.unit).text
            ),
        ));
    }
    let lap_mm = lap.map(|text| parse(text, floor.unit)).transpose()?;
    if lap_mm.is_some_and(|mm| !(1.0..=WIDEST_LAP_MM).contains(&mm)) {
        return Err(Problem::input(
            "forming",
            format!(
                "Two pieces lap by 1 mm to {}. Give another lap.",
                print(WIDEST_LAP_MM, floor.unit).text
            ),
        ));
    }
    let own = floor.piece().piece.work.chosen.as_ref();
    let used: Option<StockedFilm> = match tried {
        Some(id) => {
            let found = shelf.iter().find(|(i, _)| *i == id).map(|(_, f)| f.clone());
            Some(found.ok_or(windrift_store::StoreError::NotFound("film"))?)
        }
        None => own.map(|c| c.film.clone()),
    };
    let called_back = CalledBack::read(desk).await?;
    let view = desk.compute(move || {
        let (planned, side) = (floor.piece(), &floor.plan().side);
        let words = side.side.ends(floor.ways.side_words);
        let with = |film: Option<&StockedFilm>| {
            let figures = match film {
                Some(film) => film.figures(),
                None => planned.piece.film_figures(),
            };
            let ask = FormingAsk {
                film: &figures,
                never_past: film.and_then(|f| f.sheet.stretch_most),
                school,
                band_mm,
                lap_mm,
                ends: words,
                unit: floor.unit,
            };
            (stretches(planned, side, &ask), figures)
        };
        let (mut found, figures) = with(used.as_ref());
        // What came back of such film is told where it is planned.
        found.says.splice(0..0, called_back.of(figures.class));
        FormingView {
            film_name: used.as_ref().map_or_else(
                || planned.piece.film().name().to_owned(),
                |f| f.name.clone(),
            ),
            film: tried,
            assumed: used.is_none(),
            school,
            band: print(band_mm, floor.unit),
            lap: lap_mm
                .or(figures.lap_mm.map(|l| l.to))
                .map(|mm| print(mm, floor.unit)),
            edges: edges(planned, side, &figures, floor.ways.blades, floor.unit),
            others: (shelf.iter())
                .map(|(id, film)| other(*id, film, &with(Some(film)).0))
                .collect(),
            stretches: found,
        }
    });
    Ok(Json(view.await?))
}

/// What another film would do there, in short.
fn other(id: Uuid, film: &StockedFilm, found: &Stretches) -> OtherFilm {
    let worst = found.places.iter().map(|p| p.forming).max();
    OtherFilm {
        id,
        name: film.name.clone(),
        worst: worst.unwrap_or(Forming::Press),
        past_aim: (found.places.iter())
            .filter(|p| p.forming >= Forming::WarmAndHeat)
            .count() as u32,
    }
}
