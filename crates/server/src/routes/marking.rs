//! Reflective marking of a side: whether it is required, the best layout, the audit of it or of one that was read back.

use rocket::data::Data;
use rocket::serde::json::Json;
use rocket::{State, get, post};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use windrift_core::conspicuity::applies::VOLUNTARY;
use windrift_core::conspicuity::audit::{Against, covered_mm};
use windrift_core::conspicuity::rules::Figure;
use windrift_core::conspicuity::side::GAP_LIMIT_MM;
use windrift_core::conspicuity::{
    Applies, ClauseFinding, FROM_MEMORY, MarkPlan, MarkSide, MarkedVehicle, Required, RuleSet,
    Rules, Stock, Strip, TapeColour, WayOfLaying, applies, audit, plan,
};
use windrift_core::elevation::measure;
use windrift_core::tape::{Length, print};
use windrift_store::Store;

use super::Answer;
use super::jobs::key;
use crate::problem::Problem;
use crate::request::{read_as, read_json, read_lengths};
use crate::views::SideInput;

/// Most strips of a layout that is audited.
const MOST_STRIPS: usize = 200;
/// Most colours in one strip.
const MOST_RUNS: usize = 100;

/// A set of rules with its figures.
#[derive(Debug, Serialize, ToSchema)]
pub struct RuleSetView {
    /// The set.
    pub set: RuleSet,
    /// What it is called.
    pub name: &'static str,
    /// Its figures as recalled.
    pub figures: Vec<Figure>,
    /// What is shown wherever it is used.
    pub from_memory: &'static str,
}

/// What is to be marked, and with what.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct MarkingAsk {
    /// The rules.
    pub set: RuleSet,
    /// The vehicle.
    pub vehicle: MarkedVehicle,
    /// The side's rail above the ground at curb weight, mm; may be typed as text.
    pub ground_mm: f64,
    /// The tape.
    pub stock: Stock,
    /// How it is laid.
    pub way: WayOfLaying,
    /// Largest gap that the shop wants, mm; may be typed as text.
    #[serde(default)]
    pub gap_limit_mm: Option<f64>,
    /// Strips as they were read back or changed by hand; audited in place of the plan's.
    #[serde(default)]
    pub strips: Option<Vec<Strip>>,
}

/// A length of one colour on the picture.
#[derive(Debug, Serialize, ToSchema)]
pub struct RunView {
    /// The colour.
    pub colour: TapeColour,
    /// Its length.
    pub length: Length,
    /// Its corners in the picture frame.
    pub corners: [[f64; 2]; 4],
}

/// A strip with its printed figures.
#[derive(Debug, Serialize, ToSchema)]
pub struct StripView {
    /// Its number from the front.
    pub number: u32,
    /// The strip.
    pub strip: Strip,
    /// Where it begins, along the side.
    pub start: Length,
    /// Where it ends.
    pub end: Length,
    /// Its length.
    pub length: Length,
    /// How far down from the rail its upper edge is.
    pub down: Length,
    /// Its colours.
    pub runs: Vec<RunView>,
}

/// The marking of a side.
#[derive(Debug, Serialize, ToSchema)]
pub struct MarkingView {
    /// Whether it is required.
    pub applies: Applies,
    /// Limits of voluntary marking, where it is not required.
    pub voluntary: Vec<&'static str>,
    /// The best layout; nothing where there is none.
    pub plan: Option<MarkPlan>,
    /// Why there is none, and what to do.
    pub refused: Option<String>,
    /// The strips that are audited, as they are marked out and cut.
    pub strips: Vec<StripView>,
    /// Tape in all.
    pub film: Length,
    /// Clause by clause.
    pub audit: Vec<ClauseFinding>,
    /// What is done, in order.
    pub steps: Vec<String>,
    /// What is shown wherever the rule is used.
    pub from_memory: &'static str,
}

/// Every set of rules with its figures, as recalled.
#[utoipa::path(get, path = "/api/rules", responses((status = 200, body = Vec<RuleSetView>)))]
#[get("/rules")]
pub fn rule_sets() -> Json<Vec<RuleSetView>> {
    Json(
        RuleSet::ALL
            .into_iter()
            .map(|set| RuleSetView {
                set,
                name: set.name(),
                figures: set.figures().to_vec(),
                from_memory: FROM_MEMORY,
            })
            .collect(),
    )
}

fn steps(plan: Option<&MarkPlan>, stock: &Stock) -> Vec<String> {
    let mut steps = vec![
        "Wash, degrease, wipe with alcohol, let it dry. Surface and tape between 10 and 38 \u{b0}C (50 and 100 \u{b0}F).".to_owned(),
        "Mark the centreline from the rail at both ends, and every start and end along it. Chock the vehicle, key out; mind traffic behind you.".to_owned(),
        "Lay each strip from the front, its liner drawn off low and flat; press it once with a firm squeegee.".to_owned(),
        "Cut back 3 mm (1/8 in) from hinges, latches and other hardware, away from your hand.".to_owned(),
    ];
    if let Some(heads) = plan.map(|p| p.heads_under).filter(|n| *n > 0) {
        steps.push(format!("{heads} rivet heads lie under the tape: bridge each, punch or cut round it, press the ring down."));
    }
    steps.push(format!(
        "Look that every colour that was trimmed still shows its mark{}.",
        if stock.grade.starts_with('C') && stock.grade.len() > 1 {
            format!(" (DOT-{})", stock.grade)
        } else {
            String::new()
        }
    ));
    steps
}

/// The marking of a side: whether it is required, the best layout, its audit.
#[utoipa::path(post, path = "/api/sides/{id}/marking", params(("id" = Uuid, Path)), request_body = MarkingAsk, responses((status = 200, body = MarkingView), (status = 422, body = Problem)))]
#[post("/sides/<id>/marking", data = "<data>")]
pub async fn marking(store: &State<Store>, id: &str, data: Data<'_>) -> Answer<MarkingView> {
    let rows = store.side(key(id)?).await?;
    let input = SideInput::of(&rows)?;
    let unit = input.unit;
    let mut body = read_json(data).await?;
    read_lengths(&mut body, unit)?;
    let ask: MarkingAsk = read_as(body)?;
    let strips_make_sense = |strips: &Vec<Strip>| {
        strips.len() <= MOST_STRIPS
            && strips.iter().all(|s| {
                let figures = [s.start_mm, s.centre_mm, s.width_mm];
                s.runs.len() <= MOST_RUNS
                    && figures.iter().all(|v| v.is_finite() && v.abs() < 1e6)
                    && s.width_mm > 0.0
                    && s.runs
                        .iter()
                        .all(|r| r.length_mm.is_finite() && r.length_mm > 0.0)
            })
    };
    if ask.strips.as_ref().is_some_and(|s| !strips_make_sense(s)) {
        return Err(Problem::input("strips", "Each strip needs a start, a height, a width and at least one length of colour. Read it again.").at("/strips"));
    }
    if ask.strips.iter().flatten().any(|s| s.centre_mm <= 0.0) {
        return Err(Problem::input(
            "strips",
            "A strip lies below the ground. Heights are above the road.",
        )
        .at("/strips"));
    }
    if !(ask.ground_mm > 0.0 && ask.ground_mm < 8000.0) {
        return Err(Problem::input(
            "ground_mm",
            "Measure from the rail down to the ground: the height must be between 0 and 8 m.",
        )
        .at("/ground_mm"));
    }
    let measured = measure(&input.side, &input.features)?;
    rocket::tokio::task::spawn_blocking(move || {
        let rules = Rules::plain(ask.set);
        let side = MarkSide::of(&measured, ask.ground_mm);
        let limit = ask.gap_limit_mm.unwrap_or(GAP_LIMIT_MM);
        let found = plan(&side, &rules, &ask.stock, ask.way, limit, unit);
        let (plan, refused) = match found {
            Ok(plan) => (Some(plan), None),
            Err(error) => (None, Some(error.to_string())),
        };
        let strips = ask
            .strips
            .clone()
            .or_else(|| plan.as_ref().map(|p| p.strips.clone()))
            .unwrap_or_default();
        let ends = plan.as_ref().and_then(|p| {
            let (first, last) = (p.strips.first()?, p.strips.last()?);
            Some((
                first.start_mm - side.ends_mm.0,
                side.ends_mm.1 - last.end_mm(),
            ))
        });
        let against = Against {
            rules: &rules,
            grade: &ask.stock.grade,
            best_ends_mm: ends,
            unit,
        };
        let applies = applies(&rules, &ask.vehicle);
        let datum = measured.datum;
        let views = (1..)
            .zip(&strips)
            .map(|(number, strip)| {
                let (top, foot) = (
                    ask.ground_mm - strip.centre_mm - strip.width_mm / 2.0,
                    ask.ground_mm - strip.centre_mm + strip.width_mm / 2.0,
                );
                let mut at = strip.start_mm;
                let runs = strip
                    .runs
                    .iter()
                    .map(|run| {
                        let (from, to) = (at, at + run.length_mm);
                        at = to;
                        RunView {
                            colour: run.colour,
                            length: print(run.length_mm, unit),
                            corners: [(from, top), (to, top), (to, foot), (from, foot)].map(
                                |(back, down)| {
                                    let p = datum.at(back, down);
                                    [p.x, p.y]
                                },
                            ),
                        }
                    })
                    .collect();
                StripView {
                    number,
                    start: print(strip.start_mm, unit),
                    end: print(strip.end_mm(), unit),
                    length: print(strip.length_mm(), unit),
                    down: print(top, unit),
                    runs,
                    strip: strip.clone(),
                }
            })
            .collect();
        let mut sorted: Vec<&Strip> = strips.iter().collect();
        sorted.sort_by(|a, b| a.start_mm.total_cmp(&b.start_mm));
        MarkingView {
            voluntary: if applies.required == Required::No {
                VOLUNTARY.to_vec()
            } else {
                Vec::new()
            },
            applies,
            film: print(covered_mm(&sorted), unit),
            audit: audit(&side, &strips, &against),
            steps: steps(plan.as_ref(), &ask.stock),
            strips: views,
            plan,
            refused,
            from_memory: FROM_MEMORY,
        }
    })
    .await
    .map(Json)
    .map_err(|_| {
        Problem::new(
            rocket::http::Status::InternalServerError,
            "marking",
            "The marking could not be worked out. Try again.",
        )
    })
}
