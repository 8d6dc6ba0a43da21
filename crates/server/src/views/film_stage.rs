//! The Film stage as the web application is given it: which film each piece has, panels, rolls with what lies on them.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::cut::by_when::BeforeFitting;
use windrift_core::cut::panels::Panels;
use windrift_core::cut::parted::PrintGap;
use windrift_core::cut::which_film::RankedFilm;
use windrift_core::film::ink::Ink;
use windrift_core::floor::edges::Edges;
use windrift_core::floor::forming::{Forming, Stretches};
use windrift_core::ground::settings::FormingSchool;
use windrift_core::ground::tape::Length;
use windrift_core::plan::steps::WorkStep;

use crate::views::PathData;

/// A piece of a job with its film.
#[derive(Debug, Serialize, ToSchema)]
pub struct FilmedPiece {
    /// Its key.
    pub id: Uuid,
    /// Its side.
    pub side: Uuid,
    /// What that is called.
    pub side_name: String,
    /// What the piece is called.
    pub called: String,
    /// Whether it is a print, which goes in panels where it is wider than a roll.
    pub print: bool,
    /// Its film as it is cut, `3' 2 by 1' 4`.
    pub size: String,
    /// The film of the shelf that is chosen for it.
    pub film: Option<Uuid>,
    /// What that is called; where none is chosen, the class that is worked with.
    pub film_name: String,
    /// How many other pieces of its side have no film yet, are of its colour and can take its film too.
    pub film_for_more: usize,
    /// Why it cannot be planned.
    pub trouble: Option<String>,
    /// Whether it was made otherwise since it was cut: the film on the roll is no longer the piece.
    pub changed_since_cut: bool,
    /// Lots that it is cut from so far.
    pub lots: Vec<String>,
}

/// The films of a job.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobFilm {
    /// Every piece of every side.
    pub pieces: Vec<FilmedPiece>,
    /// Pieces that are seen together and come from different lots, in sentences.
    pub lots: Vec<String>,
}

/// Films of the shelf for a piece, ranked.
#[derive(Debug, Serialize, ToSchema)]
pub struct FilmsView {
    /// Ranked, the best first.
    pub ranked: Vec<RankedFilm>,
    /// The film that is chosen.
    pub chosen: Option<Uuid>,
    /// The class that is worked with as long as none is chosen.
    pub assumed: &'static str,
}

/// A print in panels on a roll so wide.
#[derive(Debug, Serialize, ToSchema)]
pub struct PanelsView {
    /// Width of the roll.
    pub roll: Length,
    /// What of that is printed.
    pub printable: Length,
    /// Widths of rolls that are on the shelf, the widest first.
    pub widths: Vec<Length>,
    /// How far panels lap.
    pub lap: Length,
    /// Whether that is the film's own figure, or usual for its class.
    pub lap_from: &'static str,
    /// How fine its picture is; nothing where it has none.
    pub coarse: Option<Coarse>,
    /// Gaps of doors that it crosses from edge to edge, at which it can be parted.
    pub gaps: Vec<PrintGap>,
    /// The panels.
    pub panels: Panels,
}

/// How fine a picture is at full size.
#[derive(Debug, Serialize, ToSchema)]
pub struct Coarse {
    /// Its pixels to the inch, in words.
    pub told: String,
    /// Whether they are fewer than the shop prints.
    pub too_coarse: bool,
    /// What the shop prints at least.
    pub least: f64,
}

/// A piece as it lies on a roll.
#[derive(Debug, Serialize, ToSchema)]
pub struct LaidPiece {
    /// The piece.
    pub piece: Uuid,
    /// What it is called, with the number of its panel.
    pub called: String,
    /// Number of its panel.
    pub panel: Option<u32>,
    /// Its film on the roll: x along it, y across, mm.
    pub path: PathData,
    /// Its box on the roll: x, y, width, height, mm.
    pub bounds: [f64; 4],
    /// Whether it takes all of its box: others may lie within the box of an odd shape.
    pub boxed: bool,
    /// Where it begins along the roll.
    pub from: Length,
    /// Colour of its film.
    pub colour: String,
    /// Whether it is turned.
    pub turned: bool,
}

/// A roll with what lies on it.
#[derive(Debug, Serialize, ToSchema)]
pub struct LaidRoll {
    /// Its key.
    pub id: Uuid,
    /// Its revision.
    pub revision: i32,
    /// Its lot.
    pub lot: String,
    /// Where it stands.
    pub place: String,
    /// Whether it is an offcut.
    pub offcut: bool,
    /// Its width.
    pub width: Length,
    /// What is left on it.
    pub left: Length,
    /// What this job takes.
    pub used: Length,
    /// What stays.
    pub stays: Length,
    /// What lies on it, in the order in which it is cut.
    pub pieces: Vec<LaidPiece>,
}

/// Everything of one film on its rolls.
#[derive(Debug, Serialize, ToSchema)]
pub struct NestView {
    /// The film.
    pub film: Uuid,
    /// What it is called.
    pub film_name: String,
    /// Rolls that something lies on.
    pub rolls: Vec<LaidRoll>,
    /// Length of rolls that is taken, offcuts apart.
    pub used: Length,
    /// No layout takes less.
    pub least: Length,
    /// Film of what is taken that is beside the pieces, by their outlines, 0 to 100.
    pub waste: f64,
    /// Orders of pieces tried so far.
    pub tried: u64,
    /// Whether nothing is left to gain.
    pub done: bool,
    /// What finds no room, in a sentence with what to do.
    pub short: Option<String>,
    /// Where something is short: what all of it takes of a roll that is not there yet.
    pub new_roll: Option<RollToOrder>,
    /// Pieces on different lots that are seen together, in sentences.
    pub lots: Vec<String>,
    /// Pieces of this film that are cut already.
    pub cut: Vec<CutAlready>,
}

/// What a roll that is not there yet must have, from one lot.
#[derive(Debug, Serialize, ToSchema)]
pub struct RollToOrder {
    /// As wide as the film's others; a common width where there is none.
    pub wide: Length,
    /// What is to be cut takes so much of it.
    pub long: Length,
}

/// What was cut from a roll for a job.
#[derive(Debug, Serialize, ToSchema)]
pub struct CutAlready {
    /// The roll.
    pub roll: Uuid,
    /// Its lot.
    pub lot: String,
    /// Length that was taken.
    pub length: Length,
    /// When.
    #[schema(value_type = String)]
    #[serde(with = "time::serde::rfc3339")]
    pub at: time::OffsetDateTime,
    /// What it was.
    pub pieces: Vec<String>,
    /// The largest rectangle that is left beside it, where one is worth keeping.
    pub offcut: Option<OffcutView>,
}

/// What is left beside what was cut.
#[derive(Debug, Serialize, ToSchema)]
pub struct OffcutView {
    /// The key that it has on the shelf, whoever puts it there.
    pub id: Uuid,
    /// How long it is.
    pub length: Length,
    /// How wide it is.
    pub width: Length,
    /// Whether it was put on the shelf.
    pub kept: bool,
}

/// One thing that a job needs of the shop.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Needed {
    /// What it is.
    pub what: String,
    /// How much.
    pub amount: String,
    /// What it follows from.
    pub why: String,
    /// What is short, where the shelf has too little.
    pub short: Option<String>,
}

/// What another film of the shelf would do at the same places.
#[derive(Debug, Serialize, ToSchema)]
pub struct OtherFilm {
    /// Its key.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// The worst way of all places.
    pub worst: Forming,
    /// Places that go past what it is kept under.
    pub past_aim: u32,
}

/// Where a piece stretches and how its edges end.
#[derive(Debug, Serialize, ToSchema)]
pub struct FormingView {
    /// The film that it is worked out for.
    pub film_name: String,
    /// The film that is tried; nothing for the piece's own.
    pub film: Option<Uuid>,
    /// Whether no film of the shelf is chosen: the figures are those of the class that is usual for it.
    pub assumed: bool,
    /// Band or bridge.
    pub school: FormingSchool,
    /// How wide a band is warmed.
    pub band: Length,
    /// How far two pieces lap; nothing where such film is never lapped.
    pub lap: Option<Length>,
    /// Where it stretches.
    pub stretches: Stretches,
    /// How its edges end.
    pub edges: Edges,
    /// Films of the shelf at the same places.
    pub others: Vec<OtherFilm>,
}

/// An ink, to choose from.
#[derive(Debug, Serialize, ToSchema)]
pub struct InkWord {
    /// Which.
    pub ink: Ink,
    /// What it is called.
    pub name: &'static str,
}

/// A step before the fitting, by the shop's clock.
#[derive(Debug, Serialize, ToSchema)]
pub struct StepView {
    /// Which.
    pub step: BeforeFitting,
    /// What it is, how long, by how many.
    pub work: WorkStep,
    /// How long it takes, in words.
    pub takes: String,
    /// It begins at the latest then.
    pub latest: String,
    /// When it was over, where it is done.
    pub done: Option<String>,
    /// Whether nobody works at it.
    pub only_waits: bool,
    /// Whether it is the next one.
    pub next: bool,
    /// Whether its latest hour has passed and it is not done.
    pub late: bool,
}

/// By when everything is made for the fitting.
#[derive(Debug, Serialize, ToSchema)]
pub struct ByWhenView {
    /// Revision of what is settled; 0 where nothing is.
    pub revision: i32,
    /// When the fitting starts, by the shop's wall clock as a form keeps it.
    pub fit_at: Option<String>,
    /// The same in words.
    pub fit_words: Option<String>,
    /// Ink of its prints.
    pub ink: Ink,
    /// Every ink, to choose from.
    pub inks: Vec<InkWord>,
    /// Whether the job has prints.
    pub prints: bool,
    /// Whether latex and UV wait too in this shop.
    pub every_ink_waits: bool,
    /// The shop's time zone.
    pub zone: &'static str,
    /// Steps in their order.
    pub steps: Vec<StepView>,
    /// How late the next step is; nothing where there is time.
    pub late: Option<String>,
    /// When the fitting could start at the earliest, where that is later than it is to.
    pub earliest: Option<String>,
    /// When its prints have gassed out, where they are printed and wait.
    pub gassed_out: Option<String>,
    /// What whoever prints and cuts must know.
    pub says: Vec<String>,
    /// Why there is nothing to plan, where there is not.
    pub nothing: Option<String>,
}
