//! The walk round a vehicle before work: damage, doubts about paint, photos, hardware off and on again, and the customer's word.
//!
//! Everything is an entry of the job's record and is never overwritten: what turns out wrong is struck by a later entry.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::measure_error::{LONGEST_MM, MeasureError, require};
use crate::ground::mm::{Mm, SignedMm};
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::kind::{ComesOff, FeatureClass};

/// Kinds of damage that were there before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DamageKind {
    /// A dent.
    Dent,
    /// A scratch.
    Scratch,
    /// A stone chip.
    Chip,
    /// A crack.
    Crack,
    /// Rust or corrosion.
    Corrosion,
    /// Paint that lifts.
    LiftedPaint,
    /// Glue left by old graphics.
    OldGlue,
    /// The ghost of old graphics.
    Ghost,
    /// A part that is missing.
    MissingPart,
    /// Anything else.
    Other,
}

impl DamageKind {
    /// Every kind.
    pub const ALL: [DamageKind; 10] = [
        DamageKind::Dent,
        DamageKind::Scratch,
        DamageKind::Chip,
        DamageKind::Crack,
        DamageKind::Corrosion,
        DamageKind::LiftedPaint,
        DamageKind::OldGlue,
        DamageKind::Ghost,
        DamageKind::MissingPart,
        DamageKind::Other,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            DamageKind::Dent => "dent",
            DamageKind::Scratch => "scratch",
            DamageKind::Chip => "stone chip",
            DamageKind::Crack => "crack",
            DamageKind::Corrosion => "rust or corrosion",
            DamageKind::LiftedPaint => "lifted paint",
            DamageKind::OldGlue => "glue of old graphics",
            DamageKind::Ghost => "ghost of old graphics",
            DamageKind::MissingPart => "missing part",
            DamageKind::Other => "other damage",
        }
    }
}

/// Damage that was there before.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Damage {
    /// The side that it is on.
    pub side: Uuid,
    /// What it is.
    pub damage: DamageKind,
    /// Back along the rail, mm.
    pub back_mm: SignedMm,
    /// Plumb down from the rail, mm.
    pub drop_mm: SignedMm,
    /// How large, mm.
    pub size_mm: Mm,
    /// A word about it.
    #[serde(default)]
    pub note: String,
    /// A photo of it.
    #[serde(default)]
    pub photo: Option<Uuid>,
}

/// One entry of the walk round.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum WalkEntry {
    /// Damage was found.
    Damage(Damage),
    /// A doubt about the paint or surface of a side.
    PaintDoubt {
        /// The side.
        side: Uuid,
        /// What is doubted.
        note: String,
    },
    /// A photo of a side before work.
    Photo {
        /// The side.
        side: Uuid,
        /// The photo's key.
        photo: Uuid,
        /// What it shows.
        #[serde(default)]
        note: String,
    },
    /// An earlier entry was wrong.
    Struck {
        /// The earlier entry's id.
        entry: Uuid,
        /// Why.
        note: String,
    },
    /// A piece of hardware came off.
    HardwareOff {
        /// Its feature.
        feature: Uuid,
    },
    /// It went back on.
    HardwareOn {
        /// Its feature.
        feature: Uuid,
    },
    /// The customer agrees to what was found.
    SignOff {
        /// The customer's name.
        name: String,
        /// The drawn signature: strokes of points, each 0 to 1 across and down the box.
        strokes: Vec<Vec<[f64; 2]>>,
        /// The name as it was typed stands for the signature; then nothing is drawn.
        #[serde(default)]
        typed: bool,
    },
    /// The customer has the vehicle back, as it was shown to them.
    Received {
        /// The customer's name, as they typed it.
        name: String,
    },
}

/// Longest note, in characters.
pub const LONGEST_NOTE: usize = 300;
/// Most points in a signature.
pub const MOST_SIGNATURE_POINTS: usize = 4_000;

impl WalkEntry {
    /// Checks that the entry can be taken.
    pub fn check(&self) -> Result<(), MeasureError> {
        let note_fits = |note: &str| {
            require(
                note.chars().count() <= LONGEST_NOTE,
                "note",
                format!("A note may have {LONGEST_NOTE} characters. Shorten it."),
            )
        };
        let said = |note: &str, what: &str| {
            require(!note.trim().is_empty(), "note", what)?;
            note_fits(note)
        };
        let signer = |name: &str| {
            require(
                !name.trim().is_empty() && name.chars().count() <= 80,
                "name",
                "Type the name of whoever signs, 1 to 80 characters.",
            )
        };
        match self {
            WalkEntry::Damage(damage) => {
                require(
                    damage.size_mm.is_finite()
                        && damage.size_mm > 0.0
                        && damage.size_mm <= LONGEST_MM,
                    "size_mm",
                    "How large is it? Type its longest extent, more than 0.",
                )?;
                note_fits(&damage.note)
            }
            WalkEntry::PaintDoubt { note, .. } => {
                said(note, "Say what is doubtful about the paint.")
            }
            WalkEntry::Photo { note, .. } => note_fits(note),
            WalkEntry::Struck { note, .. } => said(
                note,
                "Say why the entry was wrong. Both stay in the record.",
            ),
            WalkEntry::HardwareOff { .. } | WalkEntry::HardwareOn { .. } => Ok(()),
            WalkEntry::Received { name } => signer(name),
            WalkEntry::SignOff {
                name,
                strokes,
                typed,
            } => {
                signer(name)?;
                let points: usize = strokes.iter().map(Vec::len).sum();
                require(
                    if *typed { points == 0 } else { points >= 8 },
                    "strokes",
                    if *typed {
                        "Either the typed name or the drawing stands for the signature. Clear the drawing, or sign with it."
                    } else {
                        "There is no signature yet. Draw it in the box, or let the typed name stand for it."
                    },
                )?;
                require(
                    points <= MOST_SIGNATURE_POINTS,
                    "strokes",
                    "The signature has too many points. Clear it and sign again.",
                )?;
                require(
                    strokes
                        .iter()
                        .flatten()
                        .flatten()
                        .all(|v| (0.0..=1.0).contains(v)),
                    "strokes",
                    "The signature leaves its box. Clear it and sign again.",
                )
            }
        }
    }
}

/// The customer's word.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignOff {
    /// The entry's id.
    pub entry: Uuid,
    /// The customer's name.
    pub name: String,
    /// The drawn signature.
    pub strokes: Vec<Vec<[f64; 2]>>,
    /// The name as it was typed stands for it.
    pub typed: bool,
    /// Findings that stood when it was signed: their entries, in the order of the record.
    pub agreed: Vec<Uuid>,
    /// How many those were.
    pub findings: u32,
    /// Findings added or struck since.
    pub changed_since: u32,
}

/// Something found that stands.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Found<T> {
    /// The entry's id.
    pub entry: Uuid,
    /// What was found.
    pub found: T,
}

/// How the walk round stands after all its entries.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct WalkRound {
    /// Damage that stands.
    pub damage: Vec<Found<Damage>>,
    /// Doubts about paint that stand: side and note.
    pub doubts: Vec<Found<(Uuid, String)>>,
    /// Photos that stand: side, photo and note.
    pub photos: Vec<Found<(Uuid, Uuid, String)>>,
    /// Features whose hardware is off now.
    pub off: BTreeSet<Uuid>,
    /// Features whose hardware was off and is on again.
    pub on_again: BTreeSet<Uuid>,
    /// Number of every damage on its side, struck or not: the how-manieth it was there. It never changes.
    pub numbers: BTreeMap<Uuid, u32>,
    /// Damage that was struck.
    pub struck_damage: Vec<Found<Damage>>,
    /// Findings that were struck: the entry and why.
    pub struck: BTreeMap<Uuid, String>,
    /// The newest sign-off.
    pub signed: Option<SignOff>,
    /// Who has the vehicle back, and the entry that says so: the newest.
    pub received: Option<Found<String>>,
}

/// Works out how the walk round stands, from its entries in the order of the record.
///
/// ```
/// # use uuid::Uuid;
/// # use windrift_core::vehicle::walk_round::{WalkEntry, stand};
/// let (side, wrong) = (Uuid::from_u128(1), Uuid::from_u128(2));
/// let doubt = WalkEntry::PaintDoubt { side, note: "chalky".into() };
/// let struck = WalkEntry::Struck { entry: wrong, note: "the other side".into() };
/// let round = stand(&[(wrong, doubt), (Uuid::from_u128(3), struck)]);
/// assert!(round.doubts.is_empty() && round.struck.contains_key(&wrong));
/// ```
pub fn stand(entries: &[(Uuid, WalkEntry)]) -> WalkRound {
    let mut round = WalkRound::default();
    for (id, entry) in entries {
        let mut finding = false;
        match entry {
            WalkEntry::Damage(damage) => {
                finding = true;
                let there = round.damage.iter().chain(&round.struck_damage);
                let number = there.filter(|f| f.found.side == damage.side).count() as u32 + 1;
                round.numbers.insert(*id, number);
                round.damage.push(Found {
                    entry: *id,
                    found: damage.clone(),
                });
            }
            WalkEntry::PaintDoubt { side, note } => {
                finding = true;
                round.doubts.push(Found {
                    entry: *id,
                    found: (*side, note.clone()),
                });
            }
            WalkEntry::Photo { side, photo, note } => {
                round.photos.push(Found {
                    entry: *id,
                    found: (*side, *photo, note.clone()),
                });
            }
            WalkEntry::Struck { entry, note } => {
                let before = round.damage.len() + round.doubts.len();
                let gone = round.damage.iter().find(|f| f.entry == *entry).cloned();
                round.struck_damage.extend(gone);
                round.damage.retain(|f| f.entry != *entry);
                round.doubts.retain(|f| f.entry != *entry);
                round.photos.retain(|f| f.entry != *entry);
                finding = before != round.damage.len() + round.doubts.len();
                round.struck.insert(*entry, note.clone());
            }
            WalkEntry::HardwareOff { feature } => {
                round.off.insert(*feature);
                round.on_again.remove(feature);
            }
            WalkEntry::HardwareOn { feature } => {
                if round.off.remove(feature) {
                    round.on_again.insert(*feature);
                }
            }
            WalkEntry::Received { name } => {
                round.received = Some(Found {
                    entry: *id,
                    found: name.clone(),
                });
            }
            WalkEntry::SignOff {
                name,
                strokes,
                typed,
            } => {
                round.signed = Some(SignOff {
                    entry: *id,
                    name: name.clone(),
                    strokes: strokes.clone(),
                    typed: *typed,
                    agreed: (round.damage.iter().map(|f| f.entry))
                        .chain(round.doubts.iter().map(|f| f.entry))
                        .collect(),
                    findings: (round.damage.len() + round.doubts.len()) as u32,
                    changed_since: 0,
                });
            }
        }
        if finding && let Some(signed) = &mut round.signed {
            signed.changed_since += 1;
        }
    }
    round
}

/// Where a piece of hardware stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HardwareStanding {
    /// It stays where it is.
    Stays,
    /// It is to come off.
    ToComeOff,
    /// It is off for good.
    OffForGood,
    /// It is off and must go back.
    MustGoBack,
    /// It is on again.
    OnAgain,
}

/// One line of the hardware list.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HardwareLine {
    /// Its feature.
    pub feature: Uuid,
    /// What it is called, with how many there are: `8 hinges`.
    pub name: String,
    /// Whether it comes off.
    pub comes_off: ComesOff,
    /// Where it stands.
    pub state: HardwareStanding,
    /// What to do with what stays, which tool takes off the rest.
    pub note: String,
}

/// The hardware list of a side: what comes off, and what stays with its plan.
pub fn hardware_list<'f>(
    features: impl IntoIterator<Item = (Uuid, &'f Feature, usize)>,
    round: &WalkRound,
) -> Vec<HardwareLine> {
    features
        .into_iter()
        .filter(|(_, f, _)| {
            f.kind.class() == FeatureClass::KeepOff
                && f.kind != crate::vehicle::feature::kind::FeatureKind::WheelArch
                || f.comes_off != ComesOff::Stays
        })
        .map(|(id, feature, parts)| {
            let name = match (parts, &feature.called) {
                (1, _) => feature.name().to_owned(),
                (n, Some(called)) => format!("{n} × {called}"),
                (n, None) => format!("{n} {}", feature.kind.names().1),
            };
            let off = round.off.contains(&id);
            let state = match feature.comes_off {
                ComesOff::Stays if off => HardwareStanding::MustGoBack,
                ComesOff::Stays => HardwareStanding::Stays,
                ComesOff::GoesBack if off => HardwareStanding::MustGoBack,
                ComesOff::GoesBack if round.on_again.contains(&id) => HardwareStanding::OnAgain,
                ComesOff::ForGood if off => HardwareStanding::OffForGood,
                _ => HardwareStanding::ToComeOff,
            };
            let note = match (feature.note.trim(), feature.comes_off) {
                ("", ComesOff::Stays) if feature.clearance_mm > 0.0 => {
                    "Film keeps its clearance.".to_owned()
                }
                ("", ComesOff::Stays) => "Cut round it.".to_owned(),
                (note, _) => note.to_owned(),
            };
            HardwareLine {
                feature: id,
                name,
                comes_off: feature.comes_off,
                state,
                note,
            }
        })
        .collect()
}
