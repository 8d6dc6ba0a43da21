//! Strip and Prep as the web application is given them.

use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::floor::heat::Stretch;
use windrift_core::floor::heat::pace::Pace;
use windrift_core::floor::heat::runs::{HeatRun, SealRun};
use windrift_core::floor::prep::clean::{Been, CleanStep};
use windrift_core::floor::prep::gate::{Gate, PanelSpot, ReadBy};
use windrift_core::floor::prep::open_air::{Rain, Sun, Wind};
use windrift_core::floor::prep::promoter::PromoterRun;
use windrift_core::floor::prep::zones::CleanZone;
use windrift_core::floor::strip::method::RemovalPlan;
use windrift_core::floor::strip::old::{ColdCorner, CountedIn, Faced, OldGraphic, OldKind};
use windrift_core::floor::strip::rate::{PatchAs, Phase};
use windrift_core::floor::strip::{Harm, Left};
use windrift_core::floor::wet::{Wet, WetPlace};
use windrift_core::ground::tape::{Length, Unit};
use windrift_core::ground::zone::Zone;
use windrift_core::vehicle::surface::Material;

/// A word to choose from.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Word<T> {
    /// Which.
    pub value: T,
    /// What it is called.
    pub name: &'static str,
}

/// Words of all that may be chosen.
pub fn words<T: Copy, const N: usize>(
    all: [T; N],
    name: impl Fn(T) -> &'static str,
) -> Vec<Word<T>> {
    all.map(|value| Word {
        value,
        name: name(value),
    })
    .into()
}

/// Something wet in the bay.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct WetView {
    /// What.
    pub wet: Wet,
    /// What it is called.
    pub name: &'static str,
    /// Where.
    pub place: String,
    /// When it has flashed off.
    #[serde(with = "time::serde::rfc3339")]
    pub until: OffsetDateTime,
    /// The same by the shop's clock.
    pub until_words: String,
}

impl WetView {
    /// Of a wet place.
    pub fn of(place: &WetPlace, zone: Zone) -> WetView {
        WetView {
            wet: place.wet,
            name: place.wet.name(),
            place: place.place.clone(),
            until: place.until(),
            until_words: zone.in_words(place.until()),
        }
    }
}

/// A bay as both stages show it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct BayView {
    /// What it is called.
    pub name: String,
    /// Whether it is no bay, but a place in the open.
    pub open_air: bool,
    /// All other bays and places.
    pub others: Vec<PlaceView>,
    /// Wind and rain in the open as they were seen last.
    pub weather: Option<WeatherView>,
    /// Winds, by what they move.
    pub winds: Vec<Word<Wind>>,
    /// Whether it rains.
    pub rains: Vec<Word<Rain>>,
    /// What is wet or smoulders in it.
    pub wet: Vec<WetView>,
    /// Why no heat goes on now, in a sentence.
    pub heat_locked: Option<String>,
    /// Whatever can be wet.
    pub wets: Vec<Word<Wet>>,
    /// After how many minutes each of it has flashed off: a device without a signal counts by itself.
    pub dries: Vec<Dries>,
    /// Its sensors.
    pub sensors: Vec<SensorView>,
    /// Its air as it was read last.
    pub air: Option<AirView>,
}

/// Wind and rain as somebody saw them.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct WeatherView {
    /// Wind.
    pub wind: Wind,
    /// Rain.
    pub rain: Rain,
    /// In words, with when.
    pub says: String,
}

/// Where the sun was as somebody saw it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SunView {
    /// Where.
    pub sun: Sun,
    /// In words, with when.
    pub says: String,
}

/// A bay, or a place in the open.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PlaceView {
    /// What it is called.
    pub name: String,
    /// Whether it lies in the open.
    pub open_air: bool,
}

/// How long something stays wet.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Dries {
    /// What.
    pub wet: Wet,
    /// Minutes.
    pub minutes: i64,
}

/// A sensor of the bay.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SensorView {
    /// Its key.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// When it read last, in words.
    pub last: Option<String>,
    /// Why it is not believed, where it is not.
    pub doubt: Option<String>,
}

/// The bay's air.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct AirView {
    /// °C.
    pub celsius: f64,
    /// Percent.
    pub humidity: f64,
    /// The same in words, with its dew point.
    pub says: String,
    /// When, in words.
    pub at: String,
}

/// A part of an old graphic.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CellView {
    /// Its corners in the picture frame, mm.
    pub outline: [[f64; 2]; 4],
    /// Whether its film is off.
    pub film_off: bool,
    /// Whether its adhesive is off too.
    pub clean: bool,
}

/// A timed patch.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PatchView {
    /// Its entry.
    pub id: Uuid,
    /// In words.
    pub says: String,
    /// Who and when.
    pub by: String,
    /// A photo.
    pub photo: Option<Uuid>,
}

/// What one phase of a graphic takes.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct RateView {
    /// Of film or adhesive.
    pub phase: Phase,
    /// Minutes for one as the shop counts: one case of ten at most, half, nine of ten.
    pub minutes: [f64; 3],
    /// The same of Windrift's own figures or the shop's, before anything was timed.
    pub before: [f64; 3],
    /// Whose figures those are, in a sentence.
    pub from: String,
}

/// An old graphic.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct OldView {
    /// The entry that found it.
    pub id: Uuid,
    /// The side that it is on.
    pub side: Uuid,
    /// As it was said.
    pub graphic: OldGraphic,
    /// In a line: what it is, how old, on what.
    pub says: String,
    /// What it is counted in.
    pub counted: CountedIn,
    /// How much there is, in that.
    pub amount: f64,
    /// The same in words.
    pub amount_says: String,
    /// A usual patch, in that.
    pub patch: f64,
    /// So many as the shop counts, feet or square feet, are one of that.
    pub to_one: f64,
    /// What one is called as the shop counts.
    pub unit_one: &'static str,
    /// What several are called.
    pub unit_many: &'static str,
    /// Its cells.
    pub cells: Vec<CellView>,
    /// How it comes off.
    pub plan: RemovalPlan,
    /// Timed patches.
    pub patches: Vec<PatchView>,
    /// A patch that runs.
    pub running: Option<RunningPatch>,
    /// What film and adhesive take.
    pub rates: Vec<RateView>,
    /// Hands-on hours that remain: one case of ten, half, nine of ten.
    pub hours: [f64; 3],
    /// Whether all of it is off.
    pub off: bool,
    /// What is done next at it.
    pub next: NextView,
}

/// A test patch that somebody is timing.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct RunningPatch {
    /// The entry that began it.
    pub id: Uuid,
    /// Since when, RFC 3339.
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String)]
    pub since: OffsetDateTime,
    /// Who began it.
    pub by: String,
    /// What it stands for.
    pub stands_for: PatchAs,
    /// How much it is, in what the graphic is counted in.
    pub amount: f64,
}

/// Harm in the record.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct HarmView {
    /// Its entry.
    pub id: Uuid,
    /// The side.
    pub side: Uuid,
    /// In words: what, where, by whom.
    pub says: String,
    /// Where in the picture, mm.
    pub at: [f64; 2],
    /// Damage of the walk round that lies nearest, where any does within a hand's breadth.
    pub known: Option<String>,
    /// A photo.
    pub photo: Option<Uuid>,
}

/// When it is done.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DoneByView {
    /// In a sentence that names the hour of nine cases in ten.
    pub says: String,
    /// Hands-on hours that remain with these people: one case of ten, half, nine of ten.
    pub hours: [f64; 3],
    /// What the figure follows from, in sentences.
    pub why: Vec<String>,
}

/// What the next thing asks of whoever does it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Asks {
    /// How a cold corner behaves.
    ColdCorner,
    /// A timed patch.
    Patch,
    /// That a part is done.
    Part,
    /// Nothing here.
    Nothing,
}

/// The next thing to do.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct NextView {
    /// In a sentence.
    pub says: String,
    /// And a word more.
    pub detail: Option<String>,
    /// What it asks.
    pub asks: Asks,
    /// Whether it holds the work up.
    pub alarm: bool,
}

/// A ghost or old glue that the walk round noted: old film may be there, or was.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct GhostView {
    /// The side.
    pub side: Uuid,
    /// What it is, with the word about it.
    pub says: String,
    /// Back to its front and down to its top, printed: it was noted by its middle and its largest extent.
    pub back: String,
    /// Down to its top.
    pub drop: String,
    /// How large.
    pub size: String,
}

/// Old film of a job.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct OldFilmView {
    /// Unit of the job's tape.
    pub unit: Unit,
    /// People who work at it.
    pub people: u32,
    /// Its bay.
    pub bay: BayView,
    /// Old graphics of all sides.
    pub old: Vec<OldView>,
    /// Harm that came to light.
    pub harm: Vec<HarmView>,
    /// Ghosts that the walk round noted.
    pub ghosts: Vec<GhostView>,
    /// When it is done; nothing where nothing remains.
    pub done_by: Option<DoneByView>,
    /// Remover for all that remains, in words.
    pub remover: Option<String>,
    /// What is done next.
    pub next: NextView,
    /// Kinds to choose from.
    pub kinds: Vec<Word<OldKind>>,
    /// Ways of facing the weather.
    pub faced: Vec<Word<Faced>>,
    /// How a cold corner behaves.
    pub corners: Vec<Word<ColdCorner>>,
    /// What may lie under it.
    pub materials: Vec<Word<Material>>,
    /// What a patch stands for.
    pub stands_for: Vec<Word<PatchAs>>,
    /// What stays behind.
    pub left: Vec<Word<Left>>,
    /// Kinds of harm.
    pub harms: Vec<Word<Harm>>,
}

/// A step of cleaning, and whether it is done.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StepTick {
    /// What is done.
    #[serde(flatten)]
    pub step: CleanStep,
    /// When it was done, in words.
    pub done: Option<String>,
    /// Why it is to be done again, where it was done too long ago.
    pub again: Option<String>,
    /// Until when what was put on hardens, in words, where it does.
    pub hardens: Option<String>,
    /// Zones of it that are done, and not too long ago, where it goes over all of the surface.
    pub zones: Vec<u32>,
}

/// A run of promoter, and whether it is on.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct RunTick {
    /// Where.
    #[serde(flatten)]
    pub run: PromoterRun,
    /// When it is tacky, where it is on.
    #[serde(with = "time::serde::rfc3339::option")]
    #[schema(value_type = Option<String>)]
    pub tacky: Option<OffsetDateTime>,
}

/// Promoter and cutting tape under one piece.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PieceRuns {
    /// The piece.
    pub piece: Uuid,
    /// What it is called.
    pub called: String,
    /// Runs of promoter.
    pub runs: Vec<RunTick>,
    /// Cutting tape that lies before the film does.
    pub cutting_tape: Length,
    /// Where it lies, from point to point in the picture frame, mm.
    pub tape_lines: Vec<Vec<[f64; 2]>>,
}

/// A surface as it was read.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ReadView {
    /// In words: 64 °F low down, infrared, 9:12.
    pub says: String,
    /// Whether it counts now.
    pub counts: bool,
}

/// When the panel is warm.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct WarmView {
    /// In a sentence with both hours.
    pub says: String,
    /// Whether readings say little yet.
    pub prior_only: bool,
    /// °C from now on, each quarter of an hour: low, middle, high.
    pub path: Vec<[f64; 3]>,
    /// Into this window, °C.
    pub window: [f64; 2],
    /// The dew point that it must stay above, °C from now on, each quarter of an hour; nothing where the air's humidity is none.
    pub dew: Option<Vec<f64>>,
}

/// The preparation of a side.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PrepView {
    /// The side.
    pub side: Uuid,
    /// Unit of the job's tape.
    pub unit: Unit,
    /// Its bay.
    pub bay: BayView,
    /// Where the vehicle has been.
    pub been: Been,
    /// Since when it stands in the hall, in words.
    pub came_in: Option<String>,
    /// Steps of cleaning.
    pub steps: Vec<StepTick>,
    /// Zones that the side is cleaned in, where somebody wants that; none where it is one.
    pub zones: Vec<CleanZone>,
    /// Whether something bare, soft or rough was found where film goes; nothing where nobody said.
    pub repair: Option<bool>,
    /// Promoter and cutting tape, piece by piece.
    pub pieces: Vec<PieceRuns>,
    /// Promoter for all of it, in words.
    pub promoter: Option<String>,
    /// Minutes until promoter is tacky, by the shop's school.
    pub tacky_minutes: f64,
    /// Surface readings of this side, newest first.
    pub readings: Vec<ReadView>,
    /// Whether an infrared thermometer says nothing here.
    pub bright_metal: bool,
    /// Whether film may go on.
    pub gate: Gate,
    /// The lead passed it: who, when, why.
    pub passed: Option<String>,
    /// When the panel is warm.
    pub warm: Option<WarmView>,
    /// Whether hands are clean.
    pub hands: bool,
    /// What is done next.
    pub next: NextView,
    /// What holds for the work where it stands, in sentences.
    pub cautions: Vec<String>,
    /// Spots to read.
    pub spots: Vec<Word<PanelSpot>>,
    /// Ways of reading.
    pub ways: Vec<Word<ReadBy>>,
    /// Where the sun is in the open, as this side saw it last.
    pub sun: Option<SunView>,
    /// Where the sun may be.
    pub suns: Vec<Word<Sun>>,
}

/// A run of heat, and how it stands.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct HeatRunView {
    /// The run.
    #[serde(flatten)]
    pub run: HeatRun,
    /// From its beginning to its end.
    pub stretches: Vec<Stretch>,
    /// The share that is known to have reached, 0 to 1.
    pub share: f64,
    /// Readings along it.
    pub readings: u32,
    /// How it was closed, in words; nothing while it is open.
    pub closed: Option<String>,
    /// The first stretch that is not known to have reached: where it begins, mm.
    pub gap_mm: Option<f64>,
    /// The same in a sentence.
    pub gap: Option<String>,
    /// Where its ceiling was passed, in a sentence.
    pub passed: Option<String>,
    /// How fast it is walked; nothing where nobody said what is behind the skin.
    pub pace: Option<PaceView>,
}

/// How fast a run is walked, in words.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PaceView {
    /// In figures.
    pub pace: Pace,
    /// `4.2 s an inch`.
    pub each: String,
    /// What it promises, in a sentence.
    pub says: String,
    /// Whether it asks for something else than walking.
    pub alarm: bool,
    /// What the edge comes to.
    pub expects: String,
    /// What a stop does.
    pub stop: String,
    /// How fast somebody goes back.
    pub back: String,
    /// What it rests on.
    pub read: String,
    /// For the whole run, minutes.
    pub minutes: f64,
    /// One tick, mm.
    pub tick_mm: f64,
    /// Other spots along it.
    pub spots: Vec<SpotPace>,
}

/// How fast another spot is walked.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SpotPace {
    /// Which.
    pub name: &'static str,
    /// How fast.
    pub says: String,
}

/// A run of sealer, and whether it is on.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SealRunView {
    /// The run.
    #[serde(flatten)]
    pub run: SealRun,
    /// Whether it is sealed.
    pub sealed: bool,
}

/// A piece at Heat & seal.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PieceHeat {
    /// The piece.
    pub piece: Uuid,
    /// What it is called.
    pub called: String,
    /// Whether it lies.
    pub laid: bool,
    /// Runs of heat in walking order.
    pub runs: Vec<HeatRunView>,
    /// Runs of sealer.
    pub seals: Vec<SealRunView>,
    /// What holds for all of it.
    pub says: Vec<String>,
    /// What is done next at it.
    pub next: NextView,
}

/// Heat & seal of a side.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct HeatView {
    /// The side.
    pub side: Uuid,
    /// Unit of the job's tape.
    pub unit: Unit,
    /// Its bay.
    pub bay: BayView,
    /// Its pieces.
    pub pieces: Vec<PieceHeat>,
    /// A reading vouches for so much either way, mm.
    pub vouches_mm: f64,
    /// Where a thermometer reads by itself slips of tape lie so far apart, mm.
    pub mark_mm: f64,
    /// In the middle between two of them a place is known no better than this.
    pub off: Length,
    /// Cautions.
    pub cautions: Vec<&'static str>,
    /// Whether somebody said what lies behind the skin: unsaid, there is no pace.
    pub behind_said: bool,
    /// What the air was taken as, where nobody read it.
    pub air_assumed: Option<String>,
}
