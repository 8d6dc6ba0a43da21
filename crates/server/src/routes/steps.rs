//! All steps of a job, from the printer to the final look, as its stages hand them out: what is left, how long it takes, and when it is done.

use std::collections::BTreeSet;

use rocket::get;
use rocket::serde::json::Json;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::film::classes::Span;
use windrift_core::floor::edges::SealWith;
use windrift_core::floor::final_look::final_look;
use windrift_core::floor::strip::finish::{done_by, shared};
use windrift_core::floor::work::Chain;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::steps::{WorkStep, hours_of};
use windrift_core::vehicle::feature::kind::ComesOff;

use crate::desk::Desk;
use crate::heat_view::view;
use crate::job_pieces::JobPieces;
use crate::keys::key;
use crate::made_by::made_by;
use crate::prep_view::prep_view;
use crate::problem::Problem;
use crate::routes::Answer;
use crate::strip_view::old_film_view;
use crate::views::{OldFilmView, PieceHeat, PrepView};

/// Square millimetres of a square metre.
const SQUARE_METRE: f64 = 1e6;

/// A step of a job, and how it stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobStep {
    /// The step.
    #[serde(flatten)]
    pub work: WorkStep,
    /// What its stage is called.
    pub stage_name: &'static str,
    /// The side that it is on; nothing of what is of the whole job.
    pub side: Option<String>,
    /// How long it takes, in words.
    pub takes: String,
    /// Whether it is done, as far as anybody has recorded.
    pub done: bool,
}

/// All steps of a job.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobStepsView {
    /// In their order.
    pub steps: Vec<JobStep>,
    /// What is left, in a sentence.
    pub left: String,
    /// When hands are done, begun now, in a sentence.
    pub done_by: Option<String>,
    /// Whose figures these are.
    pub whose: &'static str,
}

/// Whose hours these are.
const WHOSE: &str = "Strip\u{2019}s hours follow its timed patches; 24 h of gassing out and 24 h in the hall are common practice; all others are Windrift\u{2019}s own, wide on purpose. Waits come on top where nothing else can be done meanwhile.";

/// Every step of a job, from the printer to the final look.
#[utoipa::path(get, path = "/api/jobs/{id}/steps", params(("id" = Uuid, Path)), responses((status = 200, body = JobStepsView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/steps")]
pub async fn job_steps(desk: &Desk, id: &str) -> Answer<JobStepsView> {
    let job = desk.job(key(id)?).await?;
    let pieces = JobPieces::of(desk, id).await?;
    let made = made_by(desk, id).await?;
    let old = old_film_view(desk, &job).await?;
    let mut told: Vec<(WorkStep, Option<String>, bool)> = Vec::new();
    for s in made.steps {
        told.push((s.work, None, s.done.is_some()));
    }
    let made_last = told.last().map(|(w, _, _)| w.key.clone());
    let (mut looks, mut looked_after) = (0, None);
    for side in &pieces.sides {
        let prep = match prep_view(desk, &job, side.id).await {
            Ok(prep) => prep,
            Err(problem) if problem.status < 500 => continue,
            Err(problem) => return Err(problem),
        };
        let heat = view(desk, side.id, false).await?;
        let plan = &side.planned.plan;
        let of_strip = old.old.iter().any(|o| o.side == side.id);
        if plan.pieces.is_empty() && !of_strip {
            continue;
        }
        let area = |p: &PlannedPiece| {
            let b = p.drawn.bounds;
            b.width() * b.height() / SQUARE_METRE
        };
        let areas = plan.pieces.iter().map(|p| (p.id, area(p))).collect();
        let (chain, done) = of_side(
            side.id,
            (&old, &prep, &heat.pieces),
            made_last.as_deref(),
            (areas, pieces.ways.tacky_minutes),
        );
        for p in &plan.pieces {
            looks += final_look(p, &plan.side, &pieces.ways, pieces.unit).len();
        }
        looked_after = chain.last().map(str::to_owned).or(looked_after);
        told.extend(chain.steps().iter().map(|s| {
            let is_done = done.contains(&s.key);
            (s.clone(), Some(side.name.clone()), is_done)
        }));
    }
    let back_on = pieces
        .sides
        .iter()
        .flat_map(|s| s.planned.plan.side.hardware());
    let back_on = back_on
        .filter(|a| a.comes_off == ComesOff::GoesBack)
        .count();
    if looks > 0 {
        let mut end = Chain::after(looked_after.as_deref());
        end.final_look(looks, back_on);
        told.extend(end.steps().iter().map(|s| (s.clone(), None, false)));
    }
    let open = || told.iter().filter(|(_, _, done)| !done).map(|(s, _, _)| s);
    // What printers and hands at the bench do is hands as well.
    let (hands, waits) = hours_of(open());
    let people = old.people;
    let ways = &pieces.ways;
    let now = OffsetDateTime::now_utc();
    let end = |hours: f64| {
        let seconds = shared(hours * 3600.0, people, ways.second_pair);
        done_by(now, seconds, &ways.hours, ways.zone)
    };
    let ends = (end(hands.from), end(hands.to));
    Ok(Json(JobStepsView {
        left: if told.is_empty() {
            "Nothing is laid out yet: lay out a piece first.".into()
        } else if hands.to <= 0.0 {
            "All of it is done, as far as anybody has recorded.".into()
        } else {
            format!(
                "Left: {} of one pair of hands{}.",
                in_words(hands),
                if waits.to > 0.0 {
                    format!(", and waits of {}", in_words(waits))
                } else {
                    String::new()
                }
            )
        },
        done_by: match ends {
            (Some(from), Some(to)) if hands.to > 0.0 => Some(format!(
                "Begun now with {people} {} and never waiting: done between {} and {}, in this shop\u{2019}s hours.",
                if people == 1 { "person" } else { "people" },
                ways.zone.in_words(from),
                ways.zone.in_words(to)
            )),
            _ => None,
        },
        steps: told
            .into_iter()
            .map(|(work, side, done)| JobStep {
                stage_name: work.stage.name(),
                side,
                takes: in_words(work.hours),
                done,
                work,
            })
            .collect(),
        whose: WHOSE,
    }))
}

/// The steps of a side, and which of them are done.
fn of_side(
    side: Uuid,
    (old, prep, heat): (&OldFilmView, &PrepView, &[PieceHeat]),
    after: Option<&str>,
    (areas, tacky_minutes): (Vec<(Uuid, f64)>, f64),
) -> (Chain, BTreeSet<String>) {
    let mut chain = Chain::after(after);
    let mut done = BTreeSet::new();
    let mut mark = |chain: &Chain, from: usize, is: bool| {
        if is {
            done.extend(chain.steps()[from..].iter().map(|s| s.key.clone()));
        }
    };
    for o in old.old.iter().filter(|o| o.side == side) {
        let from = chain.steps().len();
        chain.strip(
            &o.id.to_string(),
            o.graphic.kind.name(),
            [o.hours[0], o.hours[2]],
        );
        mark(&chain, from, o.off);
    }
    let all: f64 = areas.iter().map(|(_, a)| a).sum();
    if all > 0.0 {
        for s in &prep.steps {
            let from = chain.steps().len();
            chain.clean(&side.to_string(), &s.step, all);
            mark(&chain, from, s.done.is_some() && s.again.is_none());
        }
    }
    for p in &prep.pieces {
        let metres: f64 = p.runs.iter().map(|r| r.run.length.mm / 1000.0).sum();
        if metres > 0.0 {
            let from = chain.steps().len();
            chain.promoter(&p.piece.to_string(), &p.called, metres, tacky_minutes);
            mark(&chain, from, p.runs.iter().all(|r| r.tacky.is_some()));
        }
    }
    for p in heat {
        let area = areas.iter().find(|(id, _)| *id == p.piece);
        let from = chain.steps().len();
        chain.lay(
            &p.piece.to_string(),
            &p.called,
            area.map_or(0.0, |(_, a)| *a),
        );
        mark(&chain, from, p.laid);
    }
    for p in heat {
        let (id, called) = (p.piece.to_string(), p.called.as_str());
        if !p.runs.is_empty() {
            let metres: f64 = p.runs.iter().map(|r| r.run.length.mm / 1000.0).sum();
            let from = chain.steps().len();
            chain.heat(&id, called, metres);
            mark(&chain, from, p.runs.iter().all(|r| r.closed.is_some()));
        }
        if !p.seals.is_empty() {
            let metres: f64 = p.seals.iter().map(|s| s.run.length.mm / 1000.0).sum();
            let wet = p.seals.iter().any(|s| s.run.with == SealWith::Sealer);
            let from = chain.steps().len();
            chain.seal(&id, called, metres, wet);
            mark(&chain, from, p.seals.iter().all(|s| s.sealed));
        }
    }
    (chain, done)
}

/// Hours in words: `20 to 45 min`, `1.5 to 4 h`.
fn in_words(hours: Span) -> String {
    let one = |h: f64, minutes: bool| {
        if minutes {
            format!("{:.0}", (h * 60.0).ceil())
        } else {
            let text = format!("{h:.1}");
            text.trim_end_matches('0').trim_end_matches('.').to_owned()
        }
    };
    let minutes = hours.to < 1.0;
    let (from, to) = (one(hours.from, minutes), one(hours.to, minutes));
    let unit = if minutes { "min" } else { "h" };
    if from == to {
        format!("{to} {unit}")
    } else {
        format!("{from} to {to} {unit}")
    }
}
