//! By when a job is printed, laminated, cut and rolled up for its fitting, worked out.

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::by_when::{BeforeFitting, ByWhen, Fitting, ToMake, by_when, standing};
use windrift_core::film::classes::Span;
use windrift_core::film::ink::Ink;
use windrift_core::plan::planned::PlannedPiece;
use windrift_formats::photo::dark_share;
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::job_pieces::JobPieces;
use crate::problem::Problem;
use crate::views::{ByWhenView, InkWord, StepView};

/// A print that is darker than this over more than this share mutes reflective film (ours).
const MUCH_DARK: f64 = 0.15;

/// What is settled of a job's fitting, with its revision.
pub(crate) async fn standing_fitting(
    desk: &Desk,
    job: Uuid,
) -> Result<Option<(i32, Fitting)>, Problem> {
    Ok(match desk.fitting(job).await? {
        Some(row) => Some((row.revision, Kind::Fitting.read(&row.spec)?)),
        None => None,
    })
}

/// Film of pieces, as long as they are along a roll: their longer way, one after the other.
fn along<'p>(pieces: impl Iterator<Item = &'p PlannedPiece>) -> f64 {
    pieces
        .map(|p| p.drawn.bounds.width().max(p.drawn.bounds.height()))
        .sum()
}

/// By when everything of a job is made, and how that stands.
pub(crate) async fn made_by(desk: &Desk, id: &str) -> Result<ByWhenView, Problem> {
    let job = JobPieces::of(desk, id).await?;
    let kept = standing_fitting(desk, job.id).await?;
    let zone = job.ways.zone;
    let pieces: Vec<&PlannedPiece> = (job.sides.iter())
        .flat_map(|s| &s.planned.plan.pieces)
        .collect();
    let print = |p: &&&PlannedPiece| matches!(p.piece.art, Art::Panel(_));
    let printed_mm = along(pieces.iter().filter(print).copied());
    let cut_mm = along(pieces.iter().filter(|p| !print(p)).copied());
    let says = for_printer(desk, &job, &pieces).await?;
    // The narrowest window of all films: everything stands in one hall.
    let window = pieces
        .iter()
        .map(|p| p.piece.film_figures())
        .fold(None, |w, f| {
            let (from, to) = (f.fit_from_celsius, f.fit_to_celsius);
            let w = w.unwrap_or(Span { from, to });
            Some(Span {
                from: w.from.max(from),
                to: w.to.min(to),
            })
        });
    let now = OffsetDateTime::now_utc();
    let mut found = ByWhenView {
        revision: kept.as_ref().map_or(0, |(r, _)| *r),
        fit_at: None,
        fit_words: None,
        ink: kept.as_ref().map_or(Ink::EcoSolvent, |(_, f)| f.ink),
        inks: Ink::ALL
            .map(|ink| InkWord {
                ink,
                name: ink.name(),
            })
            .into(),
        prints: printed_mm > 0.0,
        every_ink_waits: job.ways.every_ink_waits,
        zone: zone.name(),
        steps: Vec::new(),
        late: None,
        earliest: None,
        gassed_out: None,
        says,
        nothing: (pieces.is_empty())
            .then(|| "Nothing is laid out yet: lay out a piece first.".into()),
    };
    let Some((_, fitting)) = kept else {
        return Ok(found);
    };
    found.fit_at = Some(zone.on_wall_clock(fitting.fit_at));
    found.fit_words = Some(zone.in_words(fitting.fit_at));
    let prints = || pieces.iter().filter(print).map(|p| &p.piece);
    let said = prints().map(|p| p.outgas_hours(fitting.ink));
    let outgas = fitting.ink.outgassing(job.ways.every_ink_waits, said);
    let mut laminates: Vec<String> = prints()
        .filter_map(|p| Some(p.work.chosen.as_ref()?.film.laminate()?.name.clone()))
        .collect();
    laminates.sort();
    laminates.dedup();
    let make = ToMake {
        fit_at: fitting.fit_at,
        printed_mm,
        outgas,
        laminates,
        cut_mm,
        window: window.filter(|w| w.from <= w.to),
    };
    let steps = match by_when(&make) {
        Ok(steps) => steps,
        Err(error) => {
            found.nothing = Some(error.to_string());
            return Ok(found);
        }
    };
    let done = fitting.done();
    let done_at = |step| done.iter().find(|(s, _)| *s == step).map(|(_, at)| *at);
    let told = standing(&steps, &done, now);
    let next = steps.iter().position(|s| told.next == Some(s.step));
    // What runs or has run by itself is not late because nobody has said so.
    let is_late = |n: usize, s: &ByWhen| match next {
        Some(next) if n == next => told.late.is_some(),
        Some(next) => n > next && done_at(s.step).is_none() && s.latest < now,
        None => false,
    };
    found.steps = (steps.iter().enumerate())
        .map(|(n, s)| StepView {
            step: s.step,
            latest: zone.in_words(s.latest),
            done: done_at(s.step).map(|at| zone.in_words(at)),
            only_waits: s.step.only_waits(),
            next: told.next == Some(s.step),
            late: is_late(n, s),
            takes: s.work.takes(),
            work: s.work.clone(),
        })
        .collect();
    found.late = told.late.map(in_hours);
    found.earliest = (told.earliest_fit > fitting.fit_at).then(|| zone.in_words(told.earliest_fit));
    let wait = outgas.hours;
    found.gassed_out = done_at(BeforeFitting::Print)
        .filter(|_| wait > 0.0)
        .map(|at| zone.in_words(at + Duration::seconds_f64(wait * 3600.0)));
    Ok(found)
}

/// A duration in whole hours, or minutes where it is short.
fn in_hours(late: Duration) -> String {
    match late.whole_hours() {
        0 => format!("{} min", late.whole_minutes().max(1)),
        1 => "1 hour".into(),
        h => format!("{h} hours"),
    }
}

/// Exact sentences for whoever prints and cuts.
async fn for_printer(
    desk: &Desk,
    job: &JobPieces,
    pieces: &[&PlannedPiece],
) -> Result<Vec<String>, Problem> {
    let mut says = Vec::new();
    let prints: Vec<&&PlannedPiece> = (pieces.iter())
        .filter(|p| matches!(p.piece.art, Art::Panel(_)))
        .collect();
    if !prints.is_empty() {
        says.push("Print all of this job on one lot, in one go, with the profile of its film: ink that is laid too heavy stays soft and lifts.".into());
    }
    for p in &prints {
        let Some((photo, _)) = p.drawn.picture else {
            continue;
        };
        if !p.piece.film_figures().layered_reflective {
            continue;
        }
        let jpeg = desk.photo(photo).await?.jpeg;
        let share = desk.compute(move || dark_share(&jpeg)).await?;
        if let Ok(share) = share {
            says.push(format!(
                "{}: {:.0} % of its picture is dark. Dark ink over reflective film mutes it{}.",
                p.piece.called(),
                share * 100.0,
                if share > MUCH_DARK {
                    ": make it lighter, or keep dark for accents"
                } else {
                    "; so little is an accent"
                }
            ));
        }
    }
    let thick = (pieces.iter())
        .map(|p| p.piece.film_figures())
        .filter(|f| f.thickness_mm >= 0.25)
        .map(|f| f.thickness_mm)
        .reduce(f64::max);
    if let Some(mm) = thick {
        says.push(format!(
            "The thickest film is {:.0} mil ({mm:.2} mm): set the blade so that it only marks the liner, and cut a test square first.",
            mm / 0.0254
        ));
    }
    let lots = job.lots_told();
    says.extend(lots);
    Ok(says)
}
