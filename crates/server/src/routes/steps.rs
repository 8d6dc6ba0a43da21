//! All steps of a job, from the printer to the final look, as its stages hand them out: what is left, how long it takes, and when it is done.

use std::collections::{BTreeMap, BTreeSet};

use rocket::get;
use rocket::serde::json::Json;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::edges::SealWith;
use windrift_core::floor::final_look::final_look;
use windrift_core::floor::strip::finish::{done_by, shared};
use windrift_core::floor::work::Chain;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::steps::{WorkStep, hours_of, in_words};
use windrift_core::vehicle::feature::kind::ComesOff;
use windrift_core::vehicle::walk_round::HardwareStanding;

use crate::desk::Desk;
use crate::heat_view::view;
use crate::job_pieces::{JobPieces, NamedSide};
use crate::keys::key;
use crate::looked::looked;
use crate::made_by::made_by;
use crate::prep_view::prep_view;
use crate::problem::Problem;
use crate::routes::Answer;
use crate::strip_view::old_film_view;
use crate::views::{OldFilmView, PieceHeat, PrepView};
use crate::walked::{walk_round_of, walked_sides};

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
    let mut rows = BTreeMap::new();
    for side in &pieces.sides {
        rows.insert(side.id, desk.side(side.id).await?);
    }
    let lies = |side: &NamedSide| {
        let laid = &rows[&side.id].laid;
        let mut all = side.planned.plan.pieces.iter();
        all.all(|p| laid.iter().any(|l| l.piece == p.id))
    };
    // What comes before film that lies is not left, whether anybody ticked it or not.
    let all_lie = pieces.sides.iter().all(lies);
    for s in made.steps {
        if s.done.is_some() || !all_lie {
            told.push((s.work, None, s.done.is_some()));
        }
    }
    let made_last = told.last().map(|(w, _, _)| w.key.clone());
    let (mut looks, mut open_looks, mut looked_after) = (0, 0, None);
    for side in &pieces.sides {
        let plan = &side.planned.plan;
        if plan.pieces.is_empty() && !old.old.iter().any(|o| o.side == side.id) {
            continue;
        }
        let prep = prep_view(desk, &job, side.id).await?;
        let heat = view(desk, side.id, false).await?;
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
            lies(side),
        );
        for p in &plan.pieces {
            looks += final_look(p, &plan.side, &pieces.ways, pieces.unit).len();
        }
        // What does not lie has no looks yet: it is open.
        let seen = looked(desk, side.id).await?;
        let waits = seen.pieces.iter().filter(|p| p.looks.is_empty()).count();
        open_looks += seen.open as usize + waits;
        looked_after = chain.last().map(str::to_owned).or(looked_after);
        told.extend(chain.steps().iter().map(|s| {
            let is_done = done.contains(&s.key);
            (s.clone(), Some(side.name.clone()), is_done)
        }));
    }
    if looks > 0 {
        let round = walk_round_of(desk, pieces.id).await?;
        let hardware: Vec<HardwareStanding> = walked_sides(desk, &job, &round, &pieces.ways)
            .await?
            .into_iter()
            .flat_map(|s| s.hardware)
            .filter(|l| l.comes_off == ComesOff::GoesBack)
            .map(|l| l.state)
            .collect();
        let mut end = Chain::after(looked_after.as_deref());
        if !hardware.is_empty() {
            end.back_on(hardware.len());
        }
        let back_on = end.steps().len();
        end.final_look(looks);
        told.extend(end.steps().iter().enumerate().map(|(n, s)| {
            let is_done = match n < back_on {
                true => hardware.iter().all(|h| *h == HardwareStanding::OnAgain),
                false => open_looks == 0,
            };
            (s.clone(), None, is_done)
        }));
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
        left: if told.is_empty() && rows.values().any(|r| r.marking.is_some()) {
            "Marking strip alone: its order of work stands with it, under Lay out.".into()
        } else if told.is_empty() {
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
                takes: work.takes(),
                done,
                work,
            })
            .collect(),
        whose: WHOSE,
    }))
}

/// The steps of a side, and which of them are done. Where all of it lies, what came before and was not ticked is none.
fn of_side(
    side: Uuid,
    (old, prep, heat): (&OldFilmView, &PrepView, &[PieceHeat]),
    after: Option<&str>,
    (areas, tacky_minutes): (Vec<(Uuid, f64)>, f64),
    all_lie: bool,
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
            let is_done = s.done.is_some() && s.again.is_none();
            if all_lie && !is_done {
                continue;
            }
            let from = chain.steps().len();
            chain.clean(&side.to_string(), &s.step, all);
            mark(&chain, from, is_done);
        }
    }
    for p in &prep.pieces {
        let metres: f64 = p.runs.iter().map(|r| r.run.length.mm / 1000.0).sum();
        let is_done = p.runs.iter().all(|r| r.tacky.is_some());
        if metres > 0.0 && (is_done || !all_lie) {
            let from = chain.steps().len();
            chain.promoter(&p.piece.to_string(), &p.called, metres, tacky_minutes);
            mark(&chain, from, is_done);
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
