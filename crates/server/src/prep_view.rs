//! The preparation of a side, worked out from its record and its bay.

use std::sync::Arc;

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::cut::by_when::{BeforeFitting, Fitting};
use windrift_core::film::classes::Span;
use windrift_core::film::work::WetOrDry;
use windrift_core::floor::edges::edges;
use windrift_core::floor::forming::stretches_as_settled;
use windrift_core::floor::prep::clean::{CleanAsk, CleanStep, cleaning};
use windrift_core::floor::prep::gate::{
    Gate, GateAsk, PanelSpot, ReadBy, Stands, SurfaceRead, gate, reading_counts_for,
};
use windrift_core::floor::prep::open_air::{OpenAir, Sun};
use windrift_core::floor::prep::promoter::promoter;
use windrift_core::floor::prep::zones::{CleanZone, zones};
use windrift_core::floor::prep::{Prep, PrepEntry, stand};
use windrift_core::floor::verdict::verdict;
use windrift_core::ground::degrees::told;
use windrift_core::ground::outline::bounds_of_shapes;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::surface::Material;
use windrift_core::vehicle::walk_round::{HardwareStanding, hardware_list};
use windrift_store::stored::Kind;
use windrift_store::{EntryKind, JobRows};

use crate::bay_view::{bay_view, clock};
use crate::bays::{Bay, done_at};
use crate::desk::Desk;
use crate::planned::{PlannedSide, unit_of};
use crate::prep_warm::{WarmAsk, warm_view};
use crate::problem::Problem;
use crate::views::{
    Asks, NextView, PieceRuns, PrepView, ReadView, RunTick, StepTick, SunView, WarmView, parts_of,
    words,
};
use crate::walked::walk_round_of;
use crate::ways::Ways;

/// Most entries of one job's preparation.
const MOST_ENTRIES: u64 = 6_000;
/// The final wipe is done again after so long (ours): what falls on it is not seen.
const WIPE_LASTS: Duration = Duration::hours(2);
/// Readings that are shown.
const SHOWN: usize = 12;

/// What a side's preparation is worked out from.
struct Asked {
    side: Uuid,
    planned: Arc<PlannedSide>,
    ways: Ways,
    unit: Unit,
    prep: Prep,
    bay: Bay,
    prints: Option<Option<OffsetDateTime>>,
    still_on: Vec<String>,
    passed: Option<String>,
    now: OffsetDateTime,
}

/// The preparation of a side of a job.
pub(crate) async fn prep_view(desk: &Desk, job: &JobRows, side: Uuid) -> Result<PrepView, Problem> {
    let now = OffsetDateTime::now_utc();
    let ways = desk.ways().await?;
    let planned = desk.planned(job, side, &ways).await?;
    let entries = desk
        .record_of_kind(job.job.id, EntryKind::Prep, MOST_ENTRIES)
        .await?;
    let read: Vec<(Uuid, OffsetDateTime, PrepEntry)> = entries
        .iter()
        .filter_map(|e| {
            let entry = serde_json::from_value(e.body.clone()).ok()?;
            Some((e.id, done_at(e), entry))
        })
        .collect();
    let prep = stand(&read);
    let passed = match prep.passed.get(&side) {
        None => None,
        Some((id, at, reason)) => {
            let who = entries.iter().find(|e| e.id == *id).map(|e| e.crew);
            let crew = desk.crew().await?;
            let name = crew.iter().find(|c| Some(c.id) == who);
            Some(format!(
                "{} let it pass, {}: {}",
                name.map_or("Somebody", |c| c.name.as_str()),
                ways.zone.in_words(*at),
                reason.trim()
            ))
        }
    };
    let asked = Asked {
        side,
        prints: prints(desk, job.job.id, &planned, &ways).await?,
        still_on: still_on(desk, job.job.id, &planned).await?,
        bay: Bay::of(desk, job.job.id, now).await?,
        unit: unit_of(&job.job.unit)?,
        planned,
        ways,
        prep,
        passed,
        now,
    };
    desk.compute(move || asked.view()).await
}

/// When the prints of a side have gassed out.
async fn prints(
    desk: &Desk,
    job: Uuid,
    planned: &PlannedSide,
    ways: &Ways,
) -> Result<Option<Option<OffsetDateTime>>, Problem> {
    let print = |p: &PlannedPiece| matches!(p.piece.art, Art::Panel(_));
    if !planned.plan.pieces.iter().any(&print) {
        return Ok(None);
    }
    let Some(row) = desk.fitting(job).await? else {
        return Ok(Some(None));
    };
    let fitting: Fitting = Kind::Fitting.read(&row.spec)?;
    let printed = fitting
        .done()
        .into_iter()
        .find(|(step, _)| *step == BeforeFitting::Print);
    let said = (planned.plan.pieces.iter())
        .filter(|p| print(p))
        .map(|p| p.piece.outgas_hours(fitting.ink));
    let wait = fitting.ink.outgassing(ways.every_ink_waits, said).hours;
    Ok(Some(
        printed.map(|(_, at)| at + Duration::seconds_f64(wait * 3600.0)),
    ))
}

/// Hardware of a side that is to come off and is on.
async fn still_on(desk: &Desk, job: Uuid, planned: &PlannedSide) -> Result<Vec<String>, Problem> {
    let round = walk_round_of(desk, job).await?;
    let features = planned
        .input
        .features
        .iter()
        .map(|f| (f.id, &f.feature, parts_of(&planned.plan, f.id)));
    Ok(hardware_list(features, &round)
        .into_iter()
        .filter(|l| l.state == HardwareStanding::ToComeOff)
        .map(|l| l.name)
        .collect())
}

/// A step by its first words.
fn in_short(step: &CleanStep) -> String {
    let says = step.says.split([',', '.', ':']).next();
    says.unwrap_or_default().to_lowercase()
}

/// Where a piece's film lies on its side.
fn on_side(piece: &PlannedPiece) -> kurbo::Rect {
    bounds_of_shapes(&piece.film().collect::<Vec<_>>())
}

impl Asked {
    fn material(&self) -> Material {
        self.planned.input.side.surface.material
    }

    fn bright(&self) -> bool {
        matches!(
            self.material(),
            Material::BareAluminium | Material::Stainless
        )
    }

    /// Temperatures at which all films of this side are fitted, and whose they are.
    fn window(&self) -> (Option<Span>, String) {
        let pieces = &self.planned.plan.pieces;
        let films = pieces.iter().map(|p| p.piece.film_figures());
        let all = films.fold(None, |w: Option<Span>, f| {
            let (from, to) = (f.fit_from_celsius, f.fit_to_celsius);
            let w = w.unwrap_or(Span { from, to });
            Some(Span {
                from: w.from.max(from),
                to: w.to.min(to),
            })
        });
        let mut names: Vec<String> = pieces
            .iter()
            .map(|p| match &p.piece.work.chosen {
                Some(chosen) => chosen.film.name.clone(),
                None => p.piece.film().name().to_owned(),
            })
            .collect();
        names.sort();
        names.dedup();
        match all {
            // 65 to 75 °F: most films, where nothing is laid out yet.
            None => (
                Some(Span {
                    from: 18.3,
                    to: 23.9,
                }),
                "most film".into(),
            ),
            Some(w) => (
                (w.from <= w.to).then_some(w),
                if names.len() == 1 {
                    names.remove(0)
                } else {
                    "its film".into()
                },
            ),
        }
    }

    fn steps(&self) -> Vec<StepTick> {
        let side = &self.planned.plan.side;
        let wet = (self.planned.plan.pieces.iter())
            .any(|p| p.piece.work.way == Some(WetOrDry::Wet) && p.piece.film_figures().wet);
        let masks: Vec<String> = side
            .hardware()
            .filter(|a| !a.outline.contours.is_empty() && a.clearance_mm > 0.0)
            .map(|a| a.name.clone())
            .take(8)
            .collect();
        let arches = self.arches();
        let steps = cleaning(&CleanAsk {
            surface: side.side.surface,
            been: self.prep.been,
            wet,
            masks: &masks,
            repair: self.prep.repair.get(&self.side).copied(),
            arches: &arches,
        });
        let zones = self.zones().len() as u32;
        steps
            .into_iter()
            .map(|mut step| {
                let key = (self.side, step.key.to_owned());
                let cleaned = self.prep.cleaned.get(&key);
                let parts = if step.by_zone { zones } else { 1 };
                let at = cleaned.and_then(|c| c.all(parts));
                let wipe = matches!(step.key, "alcohol" | "edges" | "fluid");
                let is_old = |at: OffsetDateTime| wipe && self.now - at > WIPE_LASTS;
                let old = at.filter(|at| is_old(*at));
                if let Some(hours) = self.prep.cures.get(&key) {
                    step.cures_hours = Some(*hours);
                }
                let hard = (at.zip(step.cures_hours))
                    .map(|(at, hours)| at + Duration::seconds_f64(hours * 3600.0));
                StepTick {
                    done: at.map(|at| self.ways.zone.in_words(at)),
                    again: old.map(|at| {
                        format!(
                            "Wiped {} h ago: wipe again before film goes on.",
                            (self.now - at).whole_hours()
                        )
                    }),
                    hardens: hard
                        .filter(|until| *until > self.now)
                        .map(|until| self.ways.zone.in_words(until)),
                    zones: (1..=parts)
                        .filter(|_| step.by_zone)
                        .filter(|n| {
                            let at = cleaned.and_then(|c| c.zone(*n));
                            at.is_some_and(|at| !is_old(at))
                        })
                        .collect(),
                    step,
                }
            })
            .collect()
    }

    /// Zones over the film of this side.
    fn zones(&self) -> Vec<CleanZone> {
        let plan = &self.planned.plan;
        let film: Vec<kurbo::Rect> = plan.pieces.iter().map(on_side).collect();
        zones(&film, plan.side.outline.bounds)
    }

    /// Wheel arches that film is trimmed at: it comes as near as film keeps off them.
    fn arches(&self) -> Vec<String> {
        let plan = &self.planned.plan;
        let arches = (plan.side.areas.iter()).filter(|a| a.kind == FeatureKind::WheelArch);
        let met = arches.filter(|a| {
            let reach = a.clearance_mm + 1.0;
            (plan.pieces.iter())
                .flat_map(PlannedPiece::film)
                .any(|s| s.distance_to(&a.outline, reach) < reach)
        });
        met.map(|a| a.name.clone()).take(8).collect()
    }

    fn pieces(&self) -> Vec<PieceRuns> {
        let plan = &self.planned.plan;
        let mut all = Vec::new();
        for p in &plan.pieces {
            let stretch = stretches_as_settled(p, &plan.side, &self.ways, self.unit);
            let runs = promoter(p, &plan.side, &stretch, &self.ways, self.unit);
            let ended = edges(
                p,
                &plan.side,
                &p.piece.film_figures(),
                self.ways.blades,
                self.unit,
            );
            if runs.is_empty() && ended.cutting_tape.mm <= 0.0 {
                continue;
            }
            all.push(PieceRuns {
                piece: p.id,
                called: p.piece.called(),
                runs: runs
                    .into_iter()
                    .map(|run| RunTick {
                        tacky: (self.prep.promoted.get(&(p.id, run.name.clone())))
                            .map(|at| *at + Duration::seconds_f64(self.ways.tacky_minutes * 60.0)),
                        run,
                    })
                    .collect(),
                cutting_tape: ended.cutting_tape,
                tape_lines: (ended.runs.into_iter())
                    .filter(|r| r.cutting_tape)
                    .flat_map(|r| r.lines)
                    .collect(),
            });
        }
        all
    }

    /// Whether it was read or seen where the vehicle stands now: a hall says nothing of a yard.
    fn is_of_here(&self, at: OffsetDateTime) -> bool {
        self.bay.since.is_none_or(|since| at >= since)
    }

    /// Readings of this side, where it stands now.
    fn surface(&self) -> Vec<SurfaceRead> {
        let all = self.prep.surface.get(&self.side).into_iter().flatten();
        all.filter(|r| self.is_of_here(r.at)).copied().collect()
    }

    /// Where the sun was, as this side saw it last.
    fn sun(&self) -> Option<(Sun, OffsetDateTime)> {
        let seen = self.prep.sun.get(&self.side).copied();
        seen.filter(|(_, at)| self.is_of_here(*at))
    }

    /// What a side in the open sees; nothing in a hall.
    fn open_air(&self) -> Option<OpenAir> {
        let others = self.prep.surface.iter().filter(|(s, _)| **s != self.side);
        let fresh = others.flat_map(|(_, read)| read).filter(|r| {
            let lies = self.bright() && r.by == ReadBy::Infrared;
            !lies && self.is_of_here(r.at) && self.now - r.at <= reading_counts_for(None)
        });
        let pieces = self.planned.plan.pieces.iter();
        self.bay.open_air.then(|| OpenAir {
            weather: self.bay.weather,
            sun: self.sun(),
            elsewhere_celsius: fresh.map(|r| r.celsius).reduce(f64::max),
            largest_mm2: pieces.map(|p| on_side(p).area()).fold(0.0, f64::max),
        })
    }

    fn gate(&self, steps: &[StepTick], pieces: &[PieceRuns]) -> Gate {
        let (window, film) = self.window();
        let unclean: Vec<String> = steps
            .iter()
            .filter(|s| s.done.is_none() || s.again.is_some())
            .map(|s| in_short(&s.step))
            .collect();
        let hardens: Vec<String> = (steps.iter())
            .filter_map(|s| {
                Some(format!(
                    "{}, until {}",
                    in_short(&s.step),
                    s.hardens.as_ref()?
                ))
            })
            .collect();
        let mut open = Vec::new();
        let mut tacky = None;
        for p in pieces {
            for r in &p.runs {
                match r.tacky {
                    None => open.push(format!("{}, {}", p.called, r.run.name)),
                    Some(at) => tacky = tacky.max(Some(at)),
                }
            }
        }
        let today = self.ways.today();
        let mut refuses: Vec<(String, bool)> = Vec::new();
        for p in &self.planned.plan.pieces {
            let found = verdict(p, &self.planned.plan.side, today);
            if let Some(r) = found.stops()
                && !refuses.iter().any(|(s, _)| *s == r.sentence)
            {
                refuses.push((r.sentence.clone(), r.never));
            }
        }
        gate(&GateAsk {
            window,
            film: &film,
            surface: &self.surface(),
            air: self.bay.newest_air(),
            bright_metal: self.bright(),
            came_in: self.prep.came_in,
            open_air: self.open_air(),
            paint_fresh: self.planned.input.side.surface.paint_is_fresh(today),
            unclean: &unclean,
            hardens: &hardens,
            promoter_open: &open,
            promoter_until: tacky,
            prints: self.prints,
            hands: self.prep.hands_clean(self.now),
            still_on: &self.still_on,
            refuses: &refuses,
            now: self.now,
            unit: self.unit,
        })
    }

    fn warm(&self) -> Option<WarmView> {
        // Sun and cloud change a panel within minutes: nothing here foretells them.
        if self.bay.open_air {
            return None;
        }
        let bright = self.bright();
        let mut surface = self.surface();
        surface.retain(|r| !(bright && r.by == ReadBy::Infrared));
        warm_view(&WarmAsk {
            surface: &surface,
            bay: &self.bay,
            came_in: self.prep.came_in,
            material: self.material(),
            window: self.window().0?,
            now: self.now,
            seed: self.side.as_u128() as u64,
            zone: self.ways.zone,
            unit: self.unit,
        })
    }

    fn view(self) -> PrepView {
        let steps = self.steps();
        let pieces = self.pieces();
        let gate = self.gate(&steps, &pieces);
        let ml: f64 = pieces.iter().flat_map(|p| &p.runs).map(|r| r.run.ml).sum();
        let bay = bay_view(&self.bay, self.now, self.ways.zone, self.unit);
        let next = self.next(&steps, &pieces, &gate);
        PrepView {
            side: self.side,
            unit: self.unit,
            been: self.prep.been,
            zones: self.zones(),
            repair: self.prep.repair.get(&self.side).copied(),
            came_in: self.prep.came_in.map(|at| self.ways.zone.in_words(at)),
            tacky_minutes: self.ways.tacky_minutes,
            promoter: (ml > 0.0).then(|| {
                format!(
                    "{ml:.0} ml of promoter in all, {} ml to the metre (ours). Generous, not dripping; never film on it while it is wet.",
                    self.ways.promoter_ml_per_m
                )
            }),
            readings: self.readings(),
            bright_metal: self.bright(),
            warm: self.warm(),
            hands: self.prep.hands_clean(self.now),
            passed: self.passed.clone(),
            sun: self.sun().map(|(sun, at)| SunView {
                sun,
                says: format!(
                    "Sun: {}; seen {}.",
                    sun.name(),
                    clock(self.ways.zone.in_words(at))
                ),
            }),
            suns: words(Sun::ALL, Sun::name),
            cautions: [
                "Solvents: flammable vapour, air through the bay low down, gloves, eyes; their safety sheets decide. No heat while anything within reach is wet.",
                "Platform, not a ladder leant on the side; wheels chocked, keys out.",
                "In a yard: cones and a vest where anything drives; wind throws ladders and sheets; no work from a platform in more wind than its maker allows.",
            ]
            .into_iter()
            .filter(|c| self.bay.open_air || !c.starts_with("In a yard"))
            .map(str::to_owned)
            .collect(),
            spots: words(PanelSpot::ALL, PanelSpot::name),
            ways: words(ReadBy::ALL, ReadBy::name),
            bay,
            steps,
            pieces,
            gate,
            next,
        }
    }

    fn readings(&self) -> Vec<ReadView> {
        let zone = self.ways.zone;
        let bright = self.bright();
        let counts_for = reading_counts_for(self.open_air());
        let mut all = self.surface();
        all.reverse();
        all.iter()
            .take(SHOWN)
            .map(|r| {
                let lies = bright && r.by == ReadBy::Infrared;
                let old = self.now - r.at > counts_for;
                ReadView {
                    says: format!(
                        "{} {}, {}, {}{}",
                        told(r.celsius, self.unit),
                        r.spot.name(),
                        r.by.name(),
                        clock(zone.in_words(r.at)),
                        if lies {
                            ": bright metal shows the hall, not the panel".to_owned()
                        } else if old {
                            format!(": older than {} min", counts_for.whole_minutes())
                        } else {
                            String::new()
                        }
                    ),
                    counts: !lies && !old,
                }
            })
            .collect()
    }

    fn next(&self, steps: &[StepTick], pieces: &[PieceRuns], gate: &Gate) -> NextView {
        let say = |says: String, detail: Option<String>, alarm: bool| NextView {
            says,
            detail,
            asks: Asks::Nothing,
            alarm,
        };
        if gate.never {
            return say(
                gate.lines.first().map_or(String::new(), |l| l.says.clone()),
                None,
                true,
            );
        }
        let open = |s: &&StepTick| s.done.is_none() || s.again.is_some();
        // Nothing goes on what is not hard yet: no coat, and no solvent either.
        let hardens = steps.iter().rposition(|s| s.hardens.is_some());
        let first = steps.iter().position(|s| open(&s));
        if let Some(at) = hardens
            && first.is_none_or(|n| n > at)
            && let Some((step, until)) = steps.get(at).and_then(|s| Some((s, s.hardens.clone()?)))
        {
            return say(
                format!("It hardens until {until}."),
                Some(step.step.says.clone()),
                false,
            );
        }
        if let Some(step) = steps.iter().find(open) {
            return say(step.step.says.clone(), step.again.clone(), false);
        }
        let tape = pieces.iter().find(|p| p.cutting_tape.mm > 0.0);
        let open = pieces
            .iter()
            .find_map(|p| Some((p, p.runs.iter().find(|r| r.tacky.is_none())?)));
        if let Some((p, r)) = open {
            return say(
                format!(
                    "Promoter: {}, {}, {}.",
                    p.called, r.run.name, r.run.length.text
                ),
                Some("Generous, not dripping. Tacky in about 10 minutes.".into()),
                false,
            );
        }
        match gate.stands {
            Stands::In => say(
                "Ready to fit.".into(),
                tape.map(|p| format!("Cutting tape first: {}, {}.", p.called, p.cutting_tape.text)),
                false,
            ),
            _ if self.passed.is_some() => say(
                "Passed by the lead, against what is said.".into(),
                self.passed.clone(),
                true,
            ),
            stands => say(
                gate.lines.first().map_or(String::new(), |l| l.says.clone()),
                Some(
                    match stands {
                        Stands::Near => "Nearly ready: that is advice.",
                        Stands::Unknown => "Not ready: something is not known.",
                        _ => "Not ready.",
                    }
                    .into(),
                ),
                stands == Stands::Out,
            ),
        }
    }
}
