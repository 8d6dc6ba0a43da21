//! Old film off: what is on a side, how it comes off, how long it takes, and how far the work is.
//!
//! Everything is an entry of the job's record and is never overwritten; [`stand`] works out how it stands.

pub mod earlier;
pub mod finish;
pub mod method;
pub mod old;
pub mod rate;

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::floor::strip::finish::Remains;
use crate::floor::strip::old::OldGraphic;
use crate::floor::strip::rate::{PatchAs, Phase, Rate, Timed};
use crate::ground::measure_error::{MeasureError, require};
use crate::ground::mm::SignedMm;
use crate::ground::tape::Unit;

/// How much adhesive stayed behind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Left {
    /// None.
    None,
    /// A smear.
    Smear,
    /// Much.
    Heavy,
}

impl Left {
    /// Every one.
    pub const ALL: [Left; 3] = [Left::None, Left::Smear, Left::Heavy];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Left::None => "no adhesive left",
            Left::Smear => "a smear left",
            Left::Heavy => "much adhesive left",
        }
    }

    /// As a share of the most there can be (ours).
    fn share(self) -> f64 {
        match self {
            Left::None => 0.1,
            Left::Smear => 0.4,
            Left::Heavy => 1.0,
        }
    }
}

/// Harm that came to light, or was done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Harm {
    /// Paint came off with the film.
    PaintLifted,
    /// Gelcoat crazed.
    Crazed,
    /// A scratch.
    Scratched,
    /// A mark of heat.
    HeatMark,
    /// Something else.
    Other,
}

impl Harm {
    /// Every one.
    pub const ALL: [Harm; 5] = [
        Harm::PaintLifted,
        Harm::Crazed,
        Harm::Scratched,
        Harm::HeatMark,
        Harm::Other,
    ];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Harm::PaintLifted => "paint lifted",
            Harm::Crazed => "gelcoat crazed",
            Harm::Scratched => "scratched",
            Harm::HeatMark => "mark of heat",
            Harm::Other => "other harm",
        }
    }
}

/// A timed test patch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Patch {
    /// The old graphic that it was tried on: the entry's id.
    pub old: Uuid,
    /// What it stands for.
    pub stands_for: PatchAs,
    /// How much of it, in letters, metres or square metres.
    pub amount: f64,
    /// How long the film took, seconds.
    pub film_seconds: f64,
    /// How long the adhesive took, seconds, where it was timed.
    #[serde(default)]
    pub adhesive_seconds: Option<f64>,
    /// What stayed behind.
    pub left: Left,
    /// Whether a ghost is left.
    #[serde(default)]
    pub ghost: bool,
    /// A photo of it.
    #[serde(default)]
    pub photo: Option<Uuid>,
}

/// One entry about old film.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum StripEntry {
    /// An old graphic is on it.
    Found(OldGraphic),
    /// It is otherwise than was said.
    Changed {
        /// The entry that found it.
        old: Uuid,
        /// How it is.
        graphic: OldGraphic,
    },
    /// It is not there after all.
    Gone {
        /// The entry that found it.
        old: Uuid,
        /// Why.
        note: String,
    },
    /// Somebody began to time a test patch: whoever looks sees it run, on any device.
    PatchBegan {
        /// The old graphic that it is tried on: the entry's id.
        old: Uuid,
        /// What it stands for.
        stands_for: PatchAs,
        /// How much of it, in letters, metres or square metres.
        amount: f64,
    },
    /// It was given up, or begun by mistake.
    PatchDropped {
        /// The old graphic.
        old: Uuid,
    },
    /// A test patch was timed.
    Patch(Patch),
    /// A test patch was timed wrongly.
    PatchStruck {
        /// The patch's entry.
        patch: Uuid,
        /// Why.
        note: String,
    },
    /// Cells are done.
    Done {
        /// The old graphic.
        old: Uuid,
        /// Of which phase.
        phase: Phase,
        /// Which cells, by their number from 0.
        cells: Vec<u32>,
        /// How long they took, seconds, where a watch ran.
        #[serde(default)]
        seconds: Option<f64>,
    },
    /// Cells are not done after all.
    NotDone {
        /// The old graphic.
        old: Uuid,
        /// Of which phase.
        phase: Phase,
        /// Which cells.
        cells: Vec<u32>,
    },
    /// Harm came to light.
    Harm {
        /// The side.
        side: Uuid,
        /// What.
        harm: Harm,
        /// Where: back along the rail, mm.
        back_mm: SignedMm,
        /// Down from the rail, mm.
        drop_mm: SignedMm,
        /// A word about it.
        #[serde(default)]
        note: String,
        /// A photo of it.
        #[serde(default)]
        photo: Option<Uuid>,
    },
    /// How many people work at it.
    Hands {
        /// People.
        people: u32,
    },
}

/// Longest time that is believed of one patch or of a handful of cells, seconds.
const LONGEST_SECONDS: f64 = 8.0 * 3600.0;
/// A patch smaller than this share of a usual one tells nothing (ours).
const LEAST_PATCH: f64 = 0.2;
/// Longest note, in characters.
const LONGEST_NOTE: usize = 300;

fn seconds_of(seconds: f64, field: &'static str) -> Result<(), MeasureError> {
    require(
        (1.0..=LONGEST_SECONDS).contains(&seconds),
        field,
        "A time is from 1 second to 8 hours. Time it again.",
    )
}

fn amount_of(amount: f64) -> Result<(), MeasureError> {
    require(
        amount.is_finite() && amount > 0.0 && amount <= 1_000.0,
        "amount",
        "How much was the patch? More than 0, in what the graphic is counted in.",
    )
}

fn note_of(note: &str, asked: &str) -> Result<(), MeasureError> {
    require(!note.trim().is_empty(), "note", asked)?;
    require(
        note.chars().count() <= LONGEST_NOTE,
        "note",
        format!("A note may have {LONGEST_NOTE} characters. Shorten it."),
    )
}

impl StripEntry {
    /// Checks what can be checked of it alone.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        match self {
            StripEntry::Found(graphic) | StripEntry::Changed { graphic, .. } => graphic.check(),
            StripEntry::Gone { note, .. } => note_of(
                note,
                "Say why it is not there after all. Both stay in the record.",
            ),
            StripEntry::PatchStruck { note, .. } => note_of(
                note,
                "Say why the patch does not count. Both stay in the record.",
            ),
            StripEntry::PatchBegan { amount, .. } => amount_of(*amount),
            StripEntry::Patch(patch) => {
                amount_of(patch.amount)?;
                seconds_of(patch.film_seconds, "film_seconds")?;
                patch
                    .adhesive_seconds
                    .map_or(Ok(()), |s| seconds_of(s, "adhesive_seconds"))
            }
            StripEntry::Done { cells, seconds, .. } => {
                require(
                    !cells.is_empty() && cells.len() <= old::MOST_CELLS,
                    "cells",
                    "Touch what is done first.",
                )?;
                seconds.map_or(Ok(()), |s| seconds_of(s, "seconds"))
            }
            StripEntry::NotDone { cells, .. } => require(
                !cells.is_empty() && cells.len() <= old::MOST_CELLS,
                "cells",
                "Touch what is not done first.",
            ),
            StripEntry::Harm { note, .. } => require(
                note.chars().count() <= LONGEST_NOTE,
                "note",
                format!("A note may have {LONGEST_NOTE} characters. Shorten it."),
            ),
            StripEntry::PatchDropped { .. } => Ok(()),
            StripEntry::Hands { people } => require(
                (1..=8).contains(people),
                "people",
                "From 1 to 8 people work at one side.",
            ),
        }
    }
}

/// An old graphic as it stands.
#[derive(Debug, Clone, PartialEq)]
pub struct OldStanding {
    /// The entry that found it.
    pub id: Uuid,
    /// How it is.
    pub graphic: OldGraphic,
    /// Patches that count, with their entries.
    pub patches: Vec<(Uuid, Patch)>,
    /// A patch that runs: the entry that began it, what it stands for, and how much it is.
    pub running: Option<(Uuid, PatchAs, f64)>,
    /// Cells whose film is off.
    pub film_off: BTreeSet<u32>,
    /// Cells whose adhesive is off too.
    pub clean: BTreeSet<u32>,
    /// What the work itself took.
    pub worked: Vec<(Phase, Timed)>,
}

/// Harm as it stands in the record.
#[derive(Debug, Clone, PartialEq)]
pub struct HarmFound {
    /// The entry.
    pub id: Uuid,
    /// The side.
    pub side: Uuid,
    /// What.
    pub harm: Harm,
    /// Back along the rail and down from it, mm.
    pub at: [f64; 2],
    /// A word about it.
    pub note: String,
    /// A photo.
    pub photo: Option<Uuid>,
}

/// How the old film of a job stands.
#[derive(Debug, Clone, PartialEq)]
pub struct Strip {
    /// Old graphics in the order in which they were found.
    pub old: Vec<OldStanding>,
    /// Harm.
    pub harm: Vec<HarmFound>,
    /// People who work at it.
    pub people: u32,
}

/// Works out how the old film of a job stands, from its entries in the order of the record. What an entry names that is not there is passed over.
///
/// ```
/// # use uuid::Uuid;
/// # use windrift_core::floor::strip::{StripEntry, stand};
/// # use windrift_core::floor::strip::{old::{Faced, OldGraphic, OldKind}, rate::Phase};
/// let id = Uuid::from_u128(1);
/// let graphic = OldGraphic {
///     side: Uuid::nil(), piece: None, name: "old name".into(), kind: OldKind::CutLettering, age_years: 6.0, faced: Faced::Shade, under: None, lies_on: None,
///     unknown_paint: false, cold_corner: Default::default(), back_mm: 0.0.into(), drop_mm: 0.0.into(), width_mm: 900.0.into(),
///     height_mm: 100.0.into(), letters: Some(9), own_minutes: None,
/// };
/// let done = StripEntry::Done { old: id, phase: Phase::Film, cells: vec![0, 1, 2], seconds: Some(60.0) };
/// let strip = stand(&[(id, StripEntry::Found(graphic)), (Uuid::from_u128(2), done)]);
/// assert_eq!((strip.old[0].film_off.len(), strip.old[0].clean.len()), (3, 0));
/// ```
pub fn stand(entries: &[(Uuid, StripEntry)]) -> Strip {
    let mut strip = Strip::default();
    for (id, entry) in entries {
        strip.take(*id, entry);
    }
    strip
}

impl Default for Strip {
    /// Before anything was said: one person.
    fn default() -> Strip {
        Strip {
            old: Vec::new(),
            harm: Vec::new(),
            people: 1,
        }
    }
}

impl Strip {
    /// How it stands with one entry more, the next of the record.
    pub fn take(&mut self, id: Uuid, entry: &StripEntry) {
        match entry {
            StripEntry::Found(graphic) => self.old.push(OldStanding {
                id,
                graphic: graphic.clone(),
                patches: Vec::new(),
                running: None,
                film_off: BTreeSet::new(),
                clean: BTreeSet::new(),
                worked: Vec::new(),
            }),
            StripEntry::Gone { old, .. } => self.old.retain(|o| o.id != *old),
            StripEntry::PatchStruck { patch, .. } => {
                for o in &mut self.old {
                    o.patches.retain(|(p, _)| p != patch);
                }
            }
            StripEntry::Harm {
                side,
                harm,
                back_mm,
                drop_mm,
                note,
                photo,
            } => self.harm.push(HarmFound {
                id,
                side: *side,
                harm: *harm,
                at: [back_mm.mm(), drop_mm.mm()],
                note: note.clone(),
                photo: *photo,
            }),
            StripEntry::Hands { people } => self.people = *people,
            StripEntry::Changed { old, .. }
            | StripEntry::Patch(Patch { old, .. })
            | StripEntry::PatchBegan { old, .. }
            | StripEntry::PatchDropped { old }
            | StripEntry::Done { old, .. }
            | StripEntry::NotDone { old, .. } => {
                if let Some(o) = self.old.iter_mut().find(|o| o.id == *old) {
                    o.take(id, entry);
                }
            }
        }
    }
}

impl OldStanding {
    fn take(&mut self, id: Uuid, entry: &StripEntry) {
        match entry {
            StripEntry::Changed { graphic, .. } => {
                // Cells of another size are other cells: what was done is done as far as they are the same.
                if graphic.cells().len() != self.graphic.cells().len() {
                    self.film_off.clear();
                    self.clean.clear();
                }
                // What was timed by the letter says nothing of a square metre.
                if graphic.counted() != self.graphic.counted() {
                    self.patches.clear();
                    self.running = None;
                    self.worked.clear();
                }
                self.graphic = graphic.clone();
            }
            StripEntry::PatchBegan {
                stands_for, amount, ..
            } => self.running = Some((id, *stands_for, *amount)),
            StripEntry::PatchDropped { .. } => self.running = None,
            StripEntry::Patch(patch) => {
                self.running = None;
                self.patches.push((id, patch.clone()));
            }
            StripEntry::Done {
                phase,
                cells,
                seconds,
                ..
            } => {
                let all = self.graphic.cells();
                let known: BTreeSet<u32> = cells
                    .iter()
                    .copied()
                    .filter(|n| (*n as usize) < all.len())
                    .collect();
                let before = match phase {
                    Phase::Film => &self.film_off,
                    Phase::Adhesive => &self.clean,
                };
                let amount: f64 = known
                    .difference(before)
                    .map(|n| all[*n as usize].amount)
                    .sum();
                if let Some(seconds) = seconds.filter(|_| amount > 0.0) {
                    let timed = Timed {
                        seconds,
                        amount,
                        stands_for: PatchAs::Typical,
                    };
                    self.worked.push((*phase, timed));
                }
                // What is clean has no film on it either.
                self.film_off.extend(&known);
                if *phase == Phase::Adhesive {
                    self.clean.extend(&known);
                }
            }
            StripEntry::NotDone { phase, cells, .. } => {
                for n in cells {
                    self.clean.remove(n);
                    if *phase == Phase::Film {
                        self.film_off.remove(n);
                    }
                }
            }
            _ => {}
        }
    }

    /// What was timed of one phase: patches, and the work itself.
    pub fn timed(&self, phase: Phase) -> Vec<Timed> {
        let patch = |p: &Patch| {
            let seconds = match phase {
                Phase::Film => Some(p.film_seconds),
                Phase::Adhesive => p.adhesive_seconds,
            };
            seconds.map(|seconds| Timed {
                seconds,
                amount: p.amount,
                stands_for: p.stands_for,
            })
        };
        let patches = self.patches.iter().filter_map(|(_, p)| patch(p));
        let worked = self.worked.iter().filter(|(p, _)| *p == phase);
        patches.chain(worked.map(|(_, t)| *t)).collect()
    }

    /// How heavy the adhesive of its patches was, 0 to 1; nothing where none was made.
    pub fn residue(&self) -> Option<f64> {
        let shares = self.patches.iter().map(|(_, p)| p.left.share());
        (!self.patches.is_empty()).then(|| shares.sum::<f64>() / self.patches.len() as f64)
    }

    /// What remains of both phases, with what is known of their rates: film, adhesive.
    pub fn remains(&self, film: Rate, adhesive: Rate) -> [Remains; 2] {
        let cells = self.graphic.cells();
        let open = |done: &BTreeSet<u32>| -> Vec<f64> {
            let all = (0u32..).zip(&cells);
            all.filter(|(n, _)| !done.contains(n))
                .map(|(_, c)| c.amount)
                .collect()
        };
        [
            Remains {
                rate: film,
                cells: open(&self.film_off),
            },
            Remains {
                rate: adhesive,
                cells: open(&self.clean),
            },
        ]
    }

    /// Whether film and adhesive are off all of it.
    pub fn is_off(&self) -> bool {
        self.clean.len() == self.graphic.cells().len()
    }

    /// By how much, as a logarithm, each phase was slower than a prior, and how sure that is; nothing of what nobody timed.
    pub fn slower(&self, priors: (Rate, Rate)) -> [Option<(f64, f64)>; 2] {
        let of = |phase: Phase, prior: Rate| {
            let timed = self.timed(phase);
            let weight: f64 = timed.iter().map(|t| t.amount / prior.counted.patch()).sum();
            let middle: f64 = timed
                .iter()
                .map(|t| {
                    let y = (t.seconds / t.amount / t.stands_for.times_typical()).ln();
                    y * t.amount / prior.counted.patch()
                })
                .sum::<f64>();
            (weight > 0.0).then(|| {
                (
                    middle / weight - prior.mean,
                    prior.beta / prior.alpha / weight,
                )
            })
        };
        [of(Phase::Film, priors.0), of(Phase::Adhesive, priors.1)]
    }
}

/// Whether a patch is large enough to tell something of its graphic, and no larger than it.
///
/// Errors: the field, and a sentence.
pub fn check_patch(patch: &Patch, graphic: &OldGraphic, unit: Unit) -> Result<(), MeasureError> {
    let counted = graphic.counted();
    let (to_one, _, many) = counted.told(unit);
    let least = counted.patch() * LEAST_PATCH;
    require(
        patch.amount >= least * 0.999,
        "amount",
        format!(
            "A patch of {:.2} {many} tells nothing: take {:.1} or more.",
            patch.amount * to_one,
            least * to_one
        ),
    )?;
    require(
        patch.amount <= graphic.amount() * 1.001,
        "amount",
        format!(
            "The whole of it is {:.2} {many}; a patch is a part of that.",
            graphic.amount() * to_one
        ),
    )
}

/// What a shop's finished jobs say of film and adhesive of one kind: for each job by how much, as a logarithm, it was slower than the prior, and the
/// variance of that.
pub type ShopJobs = BTreeMap<(old::OldKind, old::CountedIn), Vec<[Option<(f64, f64)>; 2]>>;

/// The rates of an old graphic on what lies under it: the prior, what the shop's own finished jobs make of it, and what was timed here.
pub fn rates(
    standing: &OldStanding,
    under: crate::vehicle::surface::Material,
    shop: &ShopJobs,
) -> (Rate, Rate) {
    let graphic = &standing.graphic;
    let (film, adhesive) = rate::priors(graphic, under);
    let jobs = shop.get(&(graphic.kind, graphic.counted()));
    let of = |phase: usize| -> Vec<(f64, f64)> {
        // What the shop says itself of this graphic stands before what its jobs say.
        if graphic.own_minutes.is_some() {
            return Vec::new();
        }
        jobs.into_iter()
            .flatten()
            .filter_map(|job| job[phase])
            .collect()
    };
    (
        film.learnt(&of(0)).with(&standing.timed(Phase::Film)),
        adhesive
            .learnt(&of(1))
            .with(&standing.timed(Phase::Adhesive)),
    )
}
