//! Old film of a job, worked out from its record, its sides and the shop's other jobs.

use std::collections::BTreeMap;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};
use std::time::Instant;

use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_core::floor::strip::finish::{Cases, cases, done_by, shared};
use windrift_core::floor::strip::method::removal;
use windrift_core::floor::strip::old::{ColdCorner, CountedIn, Faced, OldKind};
use windrift_core::floor::strip::rate::{PatchAs, Phase, Rate, priors};
use windrift_core::floor::strip::{
    Harm, Left, OldStanding, ShopJobs, Strip, StripEntry, rates, stand,
};
use windrift_core::ground::tape::{Unit, print};
use windrift_core::vehicle::surface::Material;
use windrift_core::vehicle::walk_round::{Damage, DamageKind};
use windrift_store::{EntryKind, JobRows, RecordEntry};

use crate::bay_view::{bay_view, clock};
use crate::bays::{Bay, done_at};
use crate::desk::Desk;
use crate::planned::{PlannedSide, unit_of};
use crate::problem::{Problem, UNREADABLE};
use crate::views::{
    Asks, CellView, DoneByView, GhostView, HarmView, NextView, OldFilmView, OldView, PatchView,
    RateView, RunningPatch, words,
};
use crate::walked::walk_round_of;
use crate::ways::Ways;

/// Most entries about old film of one job.
pub(crate) const MOST_ENTRIES: u64 = 4_000;
/// The shop's own finished jobs teach for so long.
const TEACHES: Duration = Duration::days(3 * 365);
/// Most entries of earlier jobs that are looked through.
const MOST_BEFORE: u64 = 20_000;
/// Harm within this of damage that was noted before is named with it, mm (ours): a hand's breadth.
const SAME_PLACE_MM: f64 = 100.0;

/// A patch that runs for so long was forgotten: no longer one is kept.
const FORGOTTEN: Duration = Duration::hours(8);

/// What a job's record says of its old film.
#[derive(Clone, Default)]
pub(crate) struct Stripped {
    /// Who wrote each entry, and when that was done.
    written: BTreeMap<Uuid, (Uuid, OffsetDateTime)>,
    /// The newest entry: its number in the record, and which it is.
    newest: Option<(i64, Uuid)>,
    /// How it stands.
    pub standing: Strip,
}

/// Jobs whose old film is kept as it was read.
const MOST_READ: usize = 100;
static READ: LazyLock<Mutex<BTreeMap<Uuid, Arc<Stripped>>>> = LazyLock::new(Mutex::default);

impl Stripped {
    /// Of this job. The record only grows: what was read of it stands, and only what is newer is read, so that a tap costs the same at the end of a day as at
    /// its beginning.
    pub async fn of(desk: &Desk, job: Uuid) -> Result<Arc<Stripped>, Problem> {
        let lock = || READ.lock().unwrap_or_else(PoisonError::into_inner);
        let known = lock().get(&job).cloned().unwrap_or_default();
        let read = known.and_newer(desk, job).await?;
        let mut all = lock();
        if all.len() >= MOST_READ {
            all.clear();
        }
        all.insert(job, read.clone());
        Ok(read)
    }

    /// Entries that were read.
    pub fn entries(&self) -> u64 {
        self.written.len() as u64
    }

    async fn and_newer(
        mut self: Arc<Self>,
        desk: &Desk,
        job: Uuid,
    ) -> Result<Arc<Stripped>, Problem> {
        // One more than there may be, so that nothing is missed where the newest is asked for again.
        let after = |seq| desk.record_of_kind_after(job, EntryKind::Strip, seq, MOST_ENTRIES + 1);
        let mut found = Vec::new();
        if let Some((seq, id)) = self.newest {
            // In a database that was restored there may be another in its place.
            found = after(seq - 1).await?;
            if found.first().is_some_and(|e| e.id == id) {
                found.remove(0);
            } else {
                (self, found) = (Arc::default(), Vec::new());
            }
        }
        if self.newest.is_none() {
            found = after(0).await?;
        }
        if !found.is_empty() {
            let read = Arc::make_mut(&mut self);
            found.iter().for_each(|e| read.take(e));
        }
        Ok(self)
    }

    fn take(&mut self, entry: &RecordEntry) {
        self.written.insert(entry.id, (entry.crew, done_at(entry)));
        self.newest = Some((entry.seq, entry.id));
        if let Ok(read) = serde_json::from_value(entry.body.clone()) {
            self.standing.take(entry.id, &read);
        }
    }
}

/// What the shop's other jobs say is looked at again after so long: with every tap it would be all old film of three years.
const KNOWN_FOR: std::time::Duration = std::time::Duration::from_secs(60);
/// Jobs for which it is kept.
const MOST_KEPT: usize = 50;
type Known = BTreeMap<Uuid, (Instant, Arc<ShopJobs>)>;
static KNOWN: LazyLock<Mutex<Known>> = LazyLock::new(Mutex::default);

/// What the shop's other jobs say, of graphics that are off to the last cell.
async fn shop_jobs(desk: &Desk, own: Uuid, now: OffsetDateTime) -> Result<Arc<ShopJobs>, Problem> {
    let known = |all: &Known| {
        let (at, jobs) = all.get(&own)?;
        (at.elapsed() < KNOWN_FOR).then(|| jobs.clone())
    };
    if let Some(jobs) = known(&KNOWN.lock().unwrap_or_else(PoisonError::into_inner)) {
        return Ok(jobs);
    }
    let jobs = Arc::new(read_shop_jobs(desk, own, now).await?);
    let mut all = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    if all.len() >= MOST_KEPT {
        all.clear();
    }
    all.insert(own, (Instant::now(), jobs.clone()));
    Ok(jobs)
}

/// What one job says of old film is news to all others.
pub(crate) fn tell_other_jobs(of: Uuid) {
    let mut all = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    all.retain(|job, _| *job == of);
}

async fn read_shop_jobs(desk: &Desk, own: Uuid, now: OffsetDateTime) -> Result<ShopJobs, Problem> {
    let before = desk
        .record_since(EntryKind::Strip, now - TEACHES, MOST_BEFORE)
        .await?;
    let mut by_job: BTreeMap<Uuid, Vec<(Uuid, StripEntry)>> = BTreeMap::new();
    for (job, e) in before {
        if job != own
            && let Ok(entry) = serde_json::from_value(e.body)
        {
            by_job.entry(job).or_default().push((e.id, entry));
        }
    }
    let mut jobs = ShopJobs::new();
    for entries in by_job.values() {
        for old in stand(entries).old.iter().filter(|o| o.is_off()) {
            let under = (old.graphic.under)
                .or(old.graphic.lies_on)
                .unwrap_or(Material::PaintedSteel);
            let kind = (old.graphic.kind, old.graphic.counted());
            let slower = old.slower(priors(&old.graphic, under));
            jobs.entry(kind).or_default().push(slower);
        }
    }
    Ok(jobs)
}

/// An amount in words, as the shop counts: `12 letters`, `11.2 feet`, `2.61 square metres`.
fn amount(counted: CountedIn, n: f64, unit: Unit) -> String {
    let (to_one, one, many) = counted.told(unit);
    match counted {
        CountedIn::Letters if n.round() == 1.0 => format!("1 {one}"),
        CountedIn::Letters => format!("{n:.0} {many}"),
        CountedIn::Metres => format!("{:.1} {many}", n * to_one),
        CountedIn::SquareMetres => format!("{:.2} {many}", n * to_one),
    }
}

/// Hours in words: minutes where they are few.
fn hours(h: f64) -> String {
    if h < 1.0 {
        format!("{:.0} min", (h * 60.0).max(1.0))
    } else {
        format!("{h:.1} h")
    }
}

/// Old film of a job: what it is, how it comes off, how long that takes.
pub(crate) async fn old_film_view(desk: &Desk, job: &JobRows) -> Result<OldFilmView, Problem> {
    let now = OffsetDateTime::now_utc();
    let (id, unit) = (job.job.id, unit_of(&job.job.unit)?);
    // None of these waits for another: somebody stands there with a finger on the picture.
    let (ways, stripped, shop, bay, crew, round) = tokio::try_join!(
        desk.ways(),
        Stripped::of(desk, id),
        shop_jobs(desk, id, now),
        Bay::of(desk, id, now),
        async { desk.crew().await.map_err(Problem::from) },
        walk_round_of(desk, id),
    )?;
    let Stripped {
        written, standing, ..
    } = stripped.as_ref();
    let crew: BTreeMap<Uuid, String> = crew.into_iter().map(|c| (c.id, c.name)).collect();
    let name = |who: &Uuid| crew.get(who).map_or("somebody", String::as_str);
    let by = |entry: Uuid| {
        written.get(&entry).map_or(String::new(), |(who, at)| {
            format!("{}, {}", name(who), ways.zone.in_words(*at))
        })
    };
    let mut planned: BTreeMap<Uuid, Arc<PlannedSide>> = BTreeMap::new();
    for side in &job.sides {
        match desk.planned(job, side.side.id, &ways).await {
            Ok(found) => {
                planned.insert(side.side.id, found);
            }
            Err(problem) if problem.status >= 500 && problem.code != UNREADABLE => {
                return Err(problem);
            }
            // A side that cannot be planned is told where the job is.
            Err(_) => {}
        }
    }
    let mut remains = Cases::default();
    let mut old = Vec::new();
    let mut remover = [0.0; 2];
    for o in &standing.old {
        let Some(side) = planned.get(&o.graphic.side) else {
            continue;
        };
        let mut shown = one(o, side, &shop, &ways, &by, unit);
        shown.0.running = o.running.and_then(|(id, stands_for, amount)| {
            let (who, since) = written.get(&id)?;
            (now - *since <= FORGOTTEN).then(|| RunningPatch {
                id,
                since: *since,
                by: name(who).to_owned(),
                stands_for,
                amount,
            })
        });
        if !o.is_off() {
            let cells = shown.0.cells.len() as f64;
            let open = (cells - o.clean.len() as f64) / cells;
            remover[0] += shown.0.plan.remover_ml[0] * open;
            remover[1] += shown.0.plan.remover_ml[1] * open;
        }
        remains.add(&shown.1);
        old.push(shown.0);
    }
    let done = when_done(standing, &remains, &ways, now);
    let damage: Vec<Damage> = round.damage.into_iter().map(|f| f.found).collect();
    let harm = (standing.harm.iter())
        .filter_map(|h| {
            let datum = planned.get(&h.side)?.input.side.datum();
            let at = datum.drop_point(h.at[0], h.at[1]);
            let near = damage.iter().find(|d| {
                let apart = (d.back_mm.mm() - h.at[0]).hypot(d.drop_mm.mm() - h.at[1]);
                d.side == h.side && apart <= SAME_PLACE_MM
            });
            let note = if h.note.trim().is_empty() {
                String::new()
            } else {
                format!(": {}", h.note.trim())
            };
            Some(HarmView {
                id: h.id,
                side: h.side,
                says: format!(
                    "{}, {} back, {} down{note}. {}",
                    h.harm.name(),
                    print(h.at[0], unit).text,
                    print(h.at[1], unit).text,
                    by(h.id)
                ),
                at: [at.x, at.y],
                known: near
                    .map(|d| format!("The walk round had noted there: {}.", d.damage.name())),
                photo: h.photo,
            })
        })
        .collect();
    let bay_words = bay_view(&bay, now, ways.zone, unit);
    for o in &mut old {
        o.next = next_at(o, standing.people, bay_words.heat_locked.as_deref());
    }
    Ok(OldFilmView {
        unit,
        people: standing.people,
        next: next(&old),
        bay: bay_words,
        old,
        harm,
        ghosts: ghosts(&damage, unit),
        done_by: done,
        remover: (remover[1] >= 1.0).then(|| {
            format!(
                "Remover for what remains: {:.0} to {:.0} ml (ours; the patches sharpen it).",
                remover[0].max(1.0),
                remover[1]
            )
        }),
        kinds: words(OldKind::ALL, OldKind::name),
        faced: words(Faced::ALL, Faced::name),
        corners: words(ColdCorner::ALL, ColdCorner::name),
        materials: words(Material::ALL, Material::name),
        stands_for: words(PatchAs::ALL, PatchAs::name),
        left: words(Left::ALL, Left::name),
        harms: words(Harm::ALL, Harm::name),
    })
}

/// One graphic in words, and how long what remains of it may take.
fn one(
    o: &OldStanding,
    side: &PlannedSide,
    shop: &ShopJobs,
    ways: &Ways,
    by: &dyn Fn(Uuid) -> String,
    unit: Unit,
) -> (OldView, Cases) {
    let g = &o.graphic;
    let surface = &side.input.side.surface;
    let under = g.under.unwrap_or(surface.material);
    let counted = g.counted();
    let known = rates(o, under, shop);
    let bare = OldStanding {
        patches: Vec::new(),
        worked: Vec::new(),
        ..o.clone()
    };
    let before = rates(&bare, under, shop);
    let (to_one, unit_one, unit_many) = counted.told(unit);
    let three = |r: &Rate| [0.1, 0.5, 0.9].map(|p| r.quantile(p) / 60.0 / to_one);
    let jobs = shop.get(&(g.kind, counted));
    let from = |phase: usize| {
        let n = jobs.map_or(0, |j| j.iter().filter(|j| j[phase].is_some()).count());
        match (g.own_minutes, n) {
            (Some(own), _) => format!(
                "as this shop says: {:.2} min for each {unit_one}",
                own / to_one
            ),
            (None, 0) => {
                "Windrift\u{2019}s own figures, no source; test patches replace them".into()
            }
            (None, 1) => {
                "from 1 finished job of this shop and Windrift\u{2019}s own figures".into()
            }
            (None, n) => format!("from {n} finished jobs of this shop"),
        }
    };
    let datum = side.input.side.datum();
    let cells: Vec<CellView> = (0u32..)
        .zip(g.cells())
        .map(|(n, c)| {
            let at = |b: usize, d: usize| {
                let p = datum.drop_point(c.back[b], c.down[d]);
                // Tenths of a millimetre: 500 cells go over the air with every tap.
                [p.x, p.y].map(|mm| (mm * 10.0).round() / 10.0)
            };
            CellView {
                outline: [at(0, 0), at(1, 0), at(1, 1), at(0, 1)],
                film_off: o.film_off.contains(&n),
                clean: o.clean.contains(&n),
            }
        })
        .collect();
    let height = side.input.side.outline().bounds.height();
    let plan = removal(g, surface, height, ways.today(), o.residue(), unit);
    let remains = cases(&o.remains(known.0, known.1), seed(o.id));
    let hands_on = remains.hands_on();
    let rate = |phase, known: &Rate, before: &Rate, n| RateView {
        phase,
        minutes: three(known),
        before: three(before),
        from: from(n),
    };
    let view = OldView {
        id: o.id,
        side: g.side,
        says: format!(
            "{}, {:.0} {}, {}, on {}{}",
            g.kind.name(),
            g.age_years,
            if g.age_years == 1.0 { "year" } else { "years" },
            g.faced.name(),
            under.name(),
            if g.unknown_paint {
                ", paint old or unknown"
            } else {
                ""
            }
        ),
        counted,
        amount: g.amount(),
        amount_says: format!(
            "{}, {} by {}",
            amount(counted, g.amount(), unit),
            print(g.width_mm.mm(), unit).text,
            print(g.height_mm.mm(), unit).text
        ),
        patch: counted.patch(),
        to_one,
        unit_one,
        unit_many,
        patches: o
            .patches
            .iter()
            .map(|(id, p)| PatchView {
                id: *id,
                says: format!(
                    "{}, {}: film {}{}; {}{}",
                    p.stands_for.name(),
                    amount(counted, p.amount, unit),
                    minutes(p.film_seconds),
                    p.adhesive_seconds
                        .map_or(String::new(), |s| format!(", adhesive {}", minutes(s))),
                    p.left.name(),
                    if p.ghost { ", a ghost is left" } else { "" }
                ),
                by: by(*id),
                photo: p.photo,
            })
            .collect(),
        running: None,
        rates: vec![
            rate(Phase::Film, &known.0, &before.0, 0),
            rate(Phase::Adhesive, &known.1, &before.1, 1),
        ],
        hours: [hands_on.tenth, hands_on.half, hands_on.ninety].map(|s| s / 3600.0),
        off: o.is_off(),
        // Told once the whole job is known.
        next: NextView {
            says: String::new(),
            detail: None,
            asks: Asks::Nothing,
            alarm: false,
        },
        graphic: g.clone(),
        cells,
        plan,
    };
    (view, remains)
}

/// Seconds as a watch shows them.
fn minutes(seconds: f64) -> String {
    let s = seconds.round() as u64;
    format!("{}:{:02}", s / 60, s % 60)
}

/// The same cases for the same graphic: its range does not tremble from one look to the next.
fn seed(id: Uuid) -> u64 {
    id.as_u128() as u64
}

fn when_done(
    standing: &Strip,
    remains: &Cases,
    ways: &Ways,
    now: OffsetDateTime,
) -> Option<DoneByView> {
    if standing.old.iter().all(OldStanding::is_off) {
        return None;
    }
    let whole = remains.hands_on();
    let people = standing.people;
    let with = [whole.tenth, whole.half, whole.ninety].map(|s| shared(s, people, ways.second_pair));
    let ends = with.map(|s| done_by(now, s, &ways.hours, ways.zone));
    let late = ends[2]?;
    let by = ways.zone.in_words(late);
    let today = ways.zone.date(late) == ways.zone.date(now);
    let said = if today { clock(by) } else { by };
    let open = || standing.old.iter().filter(|o| !o.is_off());
    let timed = open().filter(|o| !o.patches.is_empty() || !o.worked.is_empty());
    let (timed, of) = (timed.count(), open().count());
    let clock_words = |minutes: u32| format!("{}:{:02}", minutes / 60, minutes % 60);
    Some(DoneByView {
        says: format!("Done by {said} in 9 cases of 10, begun now."),
        hours: with.map(|s| s / 3600.0),
        why: vec![
            format!(
                "Hands-on {} to {} with {people} {}; half of all cases under {}.",
                hours(with[0] / 3600.0),
                hours(with[2] / 3600.0),
                if people == 1 { "person" } else { "people" },
                hours(with[1] / 3600.0)
            ),
            format!(
                "Work from {} to {}, a break of {} min after every {} min{}.",
                clock_words(ways.hours.from_minutes),
                clock_words(ways.hours.to_minutes),
                ways.hours.break_minutes,
                ways.hours.break_every_minutes,
                if ways.hours.saturdays {
                    ", Saturdays too"
                } else {
                    ", Monday to Friday"
                }
            ),
            if timed == of {
                "From what was timed here.".into()
            } else if timed > 0 {
                format!("{timed} of {of} old graphics were timed here; the others by their prior.")
            } else {
                "Nothing was timed here yet: a patch in the worst place tells more than any table."
                    .into()
            },
        ],
    })
}

/// Ghosts and old glue of it, as they would be said as old film: by the front and the top of what was noted by its middle.
fn ghosts(damage: &[Damage], unit: Unit) -> Vec<GhostView> {
    let old = damage
        .iter()
        .filter(|d| matches!(d.damage, DamageKind::Ghost | DamageKind::OldGlue));
    old.map(|d| {
        let half = d.size_mm.mm() / 2.0;
        GhostView {
            side: d.side,
            says: format!("{} {}", d.damage.name(), d.note).trim().to_owned(),
            back: print(d.back_mm.mm() - half, unit).text,
            drop: print(d.drop_mm.mm(), unit).text,
            size: print(d.size_mm.mm(), unit).text,
        }
    })
    .collect()
}

/// What is done next where nothing is picked.
fn next(old: &[OldView]) -> NextView {
    let open = old.iter().filter(|o| !o.off).count();
    let (says, detail) = match (old.len(), open) {
        (0, _) => (
            "Is there old film on it? Say what is on it.".to_owned(),
            "Where nothing old is on it, go on to Prep.",
        ),
        (_, 0) => (
            "All old film is off.".to_owned(),
            "Look along it in raking light, then Prep.",
        ),
        (_, 1) => (
            "One old graphic is still on it.".to_owned(),
            "Choose it, or its side.",
        ),
        (_, n) => (
            format!("{n} old graphics are still on it."),
            "Choose one, or its side.",
        ),
    };
    NextView {
        says,
        detail: Some(detail.into()),
        asks: Asks::Nothing,
        alarm: false,
    }
}

/// What is done next at one old graphic.
fn next_at(open: &OldView, people: u32, locked: Option<&str>) -> NextView {
    let name = open.graphic.name.trim();
    let say = |says: String, detail: Option<String>, asks: Asks| NextView {
        says,
        detail,
        asks,
        alarm: false,
    };
    if open.off {
        return say(format!("{name} is off."), None, Asks::Nothing);
    }
    if let Some(patch) = &open.running {
        return say(
            format!(
                "{name}: {} times a test patch. Press when the film is off.",
                patch.by
            ),
            None,
            Asks::Patch,
        );
    }
    let film_left = open.cells.iter().any(|c| !c.film_off);
    let way = open.plan.ways.first();
    if open.graphic.cold_corner == ColdCorner::NotTried && film_left {
        let says = format!("{name}: lift a cold corner. How does it come?");
        return say(says, None, Asks::ColdCorner);
    }
    let hot = film_left && way.is_some_and(|w| w.heat);
    if hot && let Some(locked) = locked {
        return NextView {
            alarm: true,
            ..say(locked.into(), None, Asks::Part)
        };
    }
    if open.patches.is_empty() && film_left {
        return say(
            format!("{name}: time a test patch in the worst place."),
            Some("Then hours can be promised.".into()),
            Asks::Patch,
        );
    }
    let people = match people {
        1 => "1 person at it.".to_owned(),
        n => format!("{n} people at it."),
    };
    let says = if film_left {
        format!("{name}: {}", way.map_or("", |w| w.says.as_str()))
    } else {
        format!("{name}: the film is off, now its adhesive.")
    };
    say(says, Some(people), Asks::Part)
}
