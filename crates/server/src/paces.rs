//! How fast heat is walked, in words; what was solved of a build-up is kept.

use std::cell::RefCell;
use std::collections::VecDeque;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use windrift_core::floor::heat::Over;
use windrift_core::floor::heat::burst::RIVET_CEILING;
use windrift_core::floor::heat::pace::{
    Calibrated, Pace, PacedReading, STOP_S, Sure, Wanted, Warms,
};
use windrift_core::floor::heat::panel::{BuildUp, HeatSpot};
use windrift_core::floor::heat::runs::{HeatRun, RunOf};
use windrift_core::ground::degrees::told;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::surface::Surface;

use crate::views::{PaceView, SpotPace};

/// Build-ups that are kept solved; each takes 2 MB.
const KEPT: usize = 16;
/// Air where none was read, °C.
pub const AIR_NOT_READ: f64 = 20.0;
/// A pass over all of a piece warms a band so wide, mm (ours).
const BAND_MM: f64 = 80.0;

/// What a build-up is told apart by.
type Key = [u64; 5];
/// Build-ups that were solved, the oldest first.
type Solved = Mutex<VecDeque<(Key, Arc<Warms>)>>;

fn key(over: &Over) -> Key {
    [
        over.material as u64,
        over.behind as u64,
        over.skin_mm.unwrap_or(0.0).to_bits(),
        over.film_mm.to_bits(),
        over.spot as u64,
    ]
}

fn solved(over: &Over) -> Arc<Warms> {
    static SOLVED: LazyLock<Solved> = LazyLock::new(Mutex::default);
    let key = key(over);
    let lock = || SOLVED.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some((_, known)) = lock().iter().find(|(k, _)| *k == key) {
        return known.clone();
    }
    // Solved outside the lock: two who ask at once both solve it, and nobody waits for another panel.
    let panel = (over.material, over.behind, over.skin_mm);
    let warms = Arc::new(Warms::of(BuildUp::over(panel, over.film_mm, over.spot)));
    let mut kept = lock();
    kept.push_back((key, warms.clone()));
    while kept.len() > KEPT {
        kept.pop_front();
    }
    warms
}

/// A reading that says something of the gun.
#[derive(Debug, Clone, Copy)]
pub struct Calibrates {
    /// What it was read over.
    pub over: Over,
    /// How fast that was walked, mm/s.
    pub speed: f64,
    /// What it showed, °C.
    pub celsius: f64,
}

/// A gun as the readings of the last hours tell it, and what was worked out of it so far: most runs of a side want the same.
pub struct Gunned {
    gun: Calibrated,
    known: RefCell<Vec<(Key, Wanted, Pace)>>,
}

impl Gunned {
    /// Of readings, the oldest first.
    pub fn by(readings: &[Calibrates]) -> Gunned {
        let over: Vec<(Arc<Warms>, PacedReading)> = readings
            .iter()
            .map(|r| {
                let read = PacedReading {
                    speed: r.speed,
                    celsius: r.celsius,
                    start: r.over.start_celsius,
                };
                (solved(&r.over), read)
            })
            .collect();
        let over: Vec<(&Warms, PacedReading)> =
            over.iter().map(|(w, r)| (w.as_ref(), *r)).collect();
        Gunned {
            gun: Calibrated::by(&over),
            known: RefCell::default(),
        }
    }

    fn known(&self, over: &Over, wanted: &Wanted) -> Pace {
        let key = key(over);
        let same = |k: &&(Key, Wanted, Pace)| k.0 == key && k.1 == *wanted;
        if let Some((_, _, pace)) = self.known.borrow().iter().find(same) {
            return pace.clone();
        }
        let pace = self.gun.pace(&solved(over), wanted);
        self.known.borrow_mut().push((key, *wanted, pace.clone()));
        pace
    }

    /// How long a burst may be over film that does not touch the panel, in words.
    pub fn burst(&self, film_mm: f64, ceiling: f64, start: f64, unit: Unit) -> String {
        let ceiling = ceiling.min(RIVET_CEILING);
        let burst = self.gun.burst(film_mm, start, ceiling);
        let most = told(ceiling, unit);
        if !burst.longest_s.is_finite() {
            return format!("Film off the panel: this gun does not bring it to {most}.");
        }
        if !burst.can_be_done() {
            return format!(
                "Film off the panel, as round a rivet head, may pass {most} before anybody has the gun away: lowest setting, a hand further off, in and out."
            );
        }
        let half = burst.half_s.map_or_else(
            || "most guns never bring it there".to_owned(),
            |s| format!("half of all guns take {s:.1} s to it"),
        );
        format!(
            "A burst over film off the panel, as round a rivet head, is {:.1} s at the most: it keeps {most} in 19 of 20 cases, and {half}. In and out, and wait until it is cool before the next.",
            // Rounded down: it is a limit.
            (burst.longest_s * 10.0).floor() / 10.0
        )
    }

    /// How fast a run is walked; nothing where nobody said what is behind the skin.
    pub fn pace(
        &self,
        run: &HeatRun,
        (surface, film_mm, area_mm2): (&Surface, f64, f64),
        start: f64,
        unit: Unit,
    ) -> Option<PaceView> {
        let behind = surface.behind?;
        let wanted = Wanted {
            celsius: run.wanted.from,
            film_ceiling: run.film_ceiling_celsius,
            face_ceiling: run.face_ceiling_celsius,
            start,
        };
        let at = |spot: HeatSpot| {
            let over = Over {
                material: surface.material,
                behind,
                skin_mm: surface.skin_mm,
                film_mm,
                spot,
                start_celsius: start,
            };
            self.known(&over, &wanted)
        };
        let pace = at(run.spot);
        let metal = BuildUp::of(surface, film_mm, HeatSpot::Field)?.is_one_through();
        let others = [
            (HeatSpot::Member, "over a frame member or a folded flange"),
            (HeatSpot::FreeEdge, "at a free edge of the skin"),
        ];
        let spots = others
            .into_iter()
            .filter(|(spot, _)| metal && *spot != run.spot)
            .map(|(spot, name)| SpotPace {
                name,
                says: each(at(spot).speed, unit),
            })
            .collect();
        let long = match run.of {
            RunOf::Whole => area_mm2 / BAND_MM,
            RunOf::Formed | RunOf::Edge => run.length.mm,
        };
        Some(told_of(pace, run, long, spots, unit))
    }
}

/// One tick of the pace: an inch, or 25 mm.
fn tick_mm(unit: Unit) -> f64 {
    match unit {
        Unit::Millimetre => 25.0,
        _ => 25.4,
    }
}

/// `4.2 s for each inch`.
pub fn each(speed: f64, unit: Unit) -> String {
    let seconds = tick_mm(unit) / speed;
    let shown = if seconds < 1.0 {
        format!("{seconds:.2}")
    } else {
        format!("{seconds:.1}")
    };
    match unit {
        Unit::Millimetre => format!("{shown} s for 25 mm"),
        _ => format!("{shown} s an inch"),
    }
}

fn told_of(pace: Pace, run: &HeatRun, long: f64, spots: Vec<SpotPace>, unit: Unit) -> PaceView {
    let (each_now, wanted) = (each(pace.speed, unit), told(run.wanted.from, unit));
    let lowest = told(run.ceiling_celsius, unit);
    let says = match pace.sure {
        Sure::Begin => format!(
            "Begin at {each_now} and read. Nothing passes its ceiling in 19 of 20 cases; whether it reaches, the thermometer says. From two readings on there is a pace."
        ),
        Sure::TooHot => format!(
            "A gun at full heat passes {lowest} here at any walk. Lowest setting, a hand further off, about {each_now}; read at once, and keep it moving."
        ),
        Sure::Known => format!(
            "{each_now}: reaches {wanted} in 9 of 10 cases, and keeps every ceiling in 19 of 20."
        ),
        Sure::ReadAgain => format!(
            "{each_now} keeps every ceiling. Whether it reaches {wanted} is not sure by what was read: read on, and go back where it did not."
        ),
        Sure::Odd => format!(
            "The last reading does not fit those before it: read that spot again before it counts. Until then {each_now}."
        ),
        Sure::Weak => format!(
            "This gun does not bring it to {wanted}, however slowly: closer, hotter, a second gun, a lamp, or a warmer bay."
        ),
        Sure::Scorches => format!(
            "No walk with this gun brings it to {wanted} without passing {lowest}: a lamp or a steamer, a warmer bay, or a film that asks for less."
        ),
    };
    PaceView {
        alarm: matches!(
            pace.sure,
            Sure::TooHot | Sure::Weak | Sure::Scorches | Sure::Odd
        ),
        each: each_now,
        says,
        minutes: long / pace.speed / 60.0,
        expects: format!(
            "At the edge {} to {} in 8 of 10 cases.",
            told(pace.reaches[0], unit),
            told(pace.reaches[2], unit)
        ),
        stop: format!(
            "A stop of {STOP_S:.0} s takes it to about {}{}",
            told(pace.paused, unit),
            if pace.paused > run.ceiling_celsius {
                ": past the ceiling."
            } else {
                "."
            }
        ),
        back: pace.back.map_or_else(
            || "Let it cool before you go back over it.".into(),
            |back| format!("Going back over it at once: {}.", each(back, unit)),
        ),
        read: format!(
            "{} reading{} of the last 12 hours say{} what this gun does.",
            pace.counted,
            if pace.counted == 1 { "" } else { "s" },
            if pace.counted == 1 { "s" } else { "" }
        ),
        tick_mm: tick_mm(unit),
        spots,
        pace,
    }
}
