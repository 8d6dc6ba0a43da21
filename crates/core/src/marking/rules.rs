//! The published rules as data: each figure with its clause and how sure it is. Nothing of one set is used by another.
//!
//! All figures are from memory of the published texts: check them against the text in force. A shop may correct a figure; the default
//! stays beside it and the correction is named in every report. The operator and the competent authority have the last word.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

/// What is shown wherever a rule is used.
pub const FROM_MEMORY: &str = "From memory: check against the text in force. The operator and the competent authority have the last word.";

/// A set of rules.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RuleSet {
    /// United States, new vehicles: 49 CFR 571.108 S8.2.
    UnitedStatesNew,
    /// United States, older trailers in use: 49 CFR 393.13.
    UnitedStatesInUse,
    /// UN Regulations 48 and 104.
    Unece,
    /// Marking that no rule asks for, within what is allowed: 49 CFR 393.26(d) and 571.108 S6.2.1.
    Voluntary,
}

/// How sure a recalled figure is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Confidence {
    /// Sure.
    Sure,
    /// Probably right.
    Probable,
    /// A lead only: never a plain pass or fail.
    Lead,
}

impl Confidence {
    /// What it is called: of what is recalled.
    pub fn name(self) -> &'static str {
        match self {
            Confidence::Sure => "recalled as sure",
            Confidence::Probable => "probably right",
            Confidence::Lead => "a lead only",
        }
    }
}

/// What a figure is measured in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measure {
    /// Millimetres.
    Mm,
    /// Kilograms.
    Kg,
    /// A share of a whole, 0 to 1.
    Share,
}

/// One figure of a rule.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Figure {
    /// Its name in code and corrections.
    pub key: &'static str,
    /// Where it is written, as recalled.
    pub clause: &'static str,
    /// What it says, in our words.
    pub says: &'static str,
    /// The figure.
    pub value: f64,
    /// What it is measured in.
    pub measure: Measure,
    /// How sure it is.
    pub confidence: Confidence,
}

const fn figure(
    key: &'static str,
    clause: &'static str,
    says: &'static str,
    value: f64,
    measure: Measure,
    confidence: Confidence,
) -> Figure {
    Figure {
        key,
        clause,
        says,
        value,
        measure,
        confidence,
    }
}

use Confidence::{Lead, Probable, Sure};
use Measure::{Kg, Mm, Share};

const NEW: [Figure; 21] = [
    figure(
        "width",
        "49 CFR 571.108 S8.2",
        "Trailers at least this wide overall",
        2032.0,
        Mm,
        Sure,
    ),
    figure(
        "gvwr",
        "49 CFR 571.108 S8.2",
        "Trailers whose gross vehicle weight rating is over this",
        4536.0,
        Kg,
        Sure,
    ),
    figure(
        "tape_width_c2",
        "49 CFR 571.108 S8.2.1.2",
        "Grade C2 is at least this wide",
        50.0,
        Mm,
        Sure,
    ),
    figure(
        "tape_width_c3",
        "49 CFR 571.108 S8.2.1.2",
        "Grade C3 is at least this wide",
        75.0,
        Mm,
        Sure,
    ),
    figure(
        "tape_width_c4",
        "49 CFR 571.108 S8.2.1.2",
        "Grade C4 is at least this wide",
        100.0,
        Mm,
        Sure,
    ),
    figure(
        "mark_every",
        "49 CFR 571.108 S8.2.1.3",
        "White alone carries its mark at least once in this length",
        300.0,
        Mm,
        Sure,
    ),
    figure(
        "segment_least",
        "49 CFR 571.108 S8.2.1.4",
        "A segment is at least this long, unless trimmed to clear something",
        150.0,
        Mm,
        Sure,
    ),
    figure(
        "segment_most",
        "49 CFR 571.108 S8.2.1.4",
        "A segment is at most this long, unless lengthened beside red lamps",
        450.0,
        Mm,
        Sure,
    ),
    figure(
        "colour_share",
        "49 CFR 571.108 S8.2.1.4",
        "Neither colour is more than this share of the whole",
        2.0 / 3.0,
        Share,
        Sure,
    ),
    figure(
        "lamp_distance",
        "49 CFR 571.108 S8.2.1.6",
        "White keeps this far from red and amber lamps, red from amber lamps",
        75.0,
        Mm,
        Sure,
    ),
    figure(
        "side_share",
        "49 CFR 571.108 S8.2.3.2",
        "Strips cover at least this share of the trailer's length",
        0.5,
        Share,
        Sure,
    ),
    figure(
        "centre_low",
        "49 CFR 571.108 S8.2.3",
        "The strip's centreline is as close as practicable to not less than this above the road",
        375.0,
        Mm,
        Sure,
    ),
    figure(
        "centre_high",
        "49 CFR 571.108 S8.2.3",
        "The strip's centreline is as close as practicable to not more than this above the road",
        1525.0,
        Mm,
        Sure,
    ),
    figure(
        "corner_strip",
        "49 CFR 571.108 S8.2.3.1",
        "Each of the white strips at the upper rear corners is this long",
        300.0,
        Mm,
        Sure,
    ),
    figure(
        "underride_tape",
        "49 CFR 571.108 S8.2.3.1",
        "On the underride device alone, C2 may be this narrow",
        38.0,
        Mm,
        Probable,
    ),
    figure(
        "split_width",
        "49 CFR 571.108 S8.2.3.2",
        "A strip split beside rivet heads is two of this width",
        25.0,
        Mm,
        Sure,
    ),
    figure(
        "split_gap",
        "49 CFR 571.108 S8.2.3.2",
        "The two halves of a split strip are no farther apart than this",
        25.0,
        Mm,
        Sure,
    ),
    figure(
        "tractor_strip",
        "49 CFR 571.108 S8.2.4",
        "Each of a tractor's two rear strips is at least this long",
        600.0,
        Mm,
        Sure,
    ),
    figure(
        "flap_below",
        "49 CFR 571.108 S8.2.4",
        "On mudflaps, no lower than this below the lower edge of their bracket",
        300.0,
        Mm,
        Probable,
    ),
    figure(
        "cab_high",
        "49 CFR 571.108 S8.2.4",
        "On the back of the cab, no higher than this above the road",
        1525.0,
        Mm,
        Probable,
    ),
    figure(
        "reflector_pitch",
        "49 CFR 571.108 S8.2.2",
        "From the centre of a reflector to the centre of the next one it is at most this far",
        100.0,
        Mm,
        Sure,
    ),
];

const VOLUNTARY_FIGURES: [Figure; 1] = [figure(
    "lamp_distance",
    "49 CFR 393.26(d)",
    "At least this far from every required lamp or reflector of another colour",
    76.0,
    Mm,
    Probable,
)];

const IN_USE: [Figure; 10] = [
    figure(
        "width",
        "49 CFR 393.13(a)",
        "Trailers at least this wide overall",
        2032.0,
        Mm,
        Sure,
    ),
    figure(
        "gvwr",
        "49 CFR 393.13(a)",
        "Trailers whose gross vehicle weight rating is at least this",
        4536.0,
        Kg,
        Sure,
    ),
    figure(
        "tape_width_c2",
        "49 CFR 393.13(b)",
        "Sheeting is at least this wide",
        50.0,
        Mm,
        Sure,
    ),
    figure(
        "side_share",
        "49 CFR 393.13(c)(1)",
        "Strips cover at least this share of the trailer's length",
        0.5,
        Share,
        Sure,
    ),
    figure(
        "centre_low",
        "49 CFR 393.13(c)",
        "The strip's centreline is as close as practicable to not less than this above the road",
        375.0,
        Mm,
        Sure,
    ),
    figure(
        "centre_high",
        "49 CFR 393.13(c)",
        "The strip's centreline is as close as practicable to not more than this above the road",
        1525.0,
        Mm,
        Sure,
    ),
    figure(
        "corner_strip",
        "49 CFR 393.13(c)(3)",
        "Each of the white strips at the upper rear corners is this long",
        300.0,
        Mm,
        Sure,
    ),
    figure(
        "split_width",
        "49 CFR 393.13(c)(1)",
        "A strip split beside rivet heads is two of this width",
        25.0,
        Mm,
        Sure,
    ),
    figure(
        "split_gap",
        "49 CFR 393.13(c)(1)",
        "The two halves of a split strip are no farther apart than this",
        25.0,
        Mm,
        Sure,
    ),
    figure(
        "reflector_pitch",
        "49 CFR 393.13(d)",
        "From the centre of a reflector to the centre of the next one it is at most this far",
        100.0,
        Mm,
        Probable,
    ),
];

const UNECE: [Figure; 17] = [
    figure(
        "tape_width_most",
        "UN R104",
        "Tape of class C is at most this wide",
        60.0,
        Mm,
        Lead,
    ),
    figure(
        "width",
        "UN R48 6.21.1.2.1",
        "Rear contour on vehicles wider than this",
        2100.0,
        Mm,
        Sure,
    ),
    figure(
        "length",
        "UN R48 6.21.1.2.2",
        "Side contour on vehicles longer than this",
        6000.0,
        Mm,
        Sure,
    ),
    figure(
        "mass_n2",
        "UN R48 6.21.1.2",
        "Of category N2, those over this mass",
        7500.0,
        Kg,
        Sure,
    ),
    figure(
        "side_share",
        "UN R48 6.21.4.2",
        "Elements together cover at least this share of the length",
        0.7,
        Share,
        Lead,
    ),
    figure(
        "reduced_share",
        "UN R48 6.21.4.2",
        "Where that is impossible, at least this share, and it is recorded",
        0.4,
        Share,
        Lead,
    ),
    figure(
        "rear_share",
        "UN R48 6.21.4.1",
        "Elements together cover at least this share of the width",
        0.7,
        Share,
        Lead,
    ),
    figure(
        "ends",
        "UN R48 6.21.4.2",
        "The marking reaches to within this of each end",
        600.0,
        Mm,
        Probable,
    ),
    figure(
        "lower_low",
        "UN R48 6.21.4.3.1",
        "The lower element is at least this above ground",
        250.0,
        Mm,
        Probable,
    ),
    figure(
        "lower_high",
        "UN R48 6.21.4.3.1",
        "The lower element is at most this above ground",
        1500.0,
        Mm,
        Probable,
    ),
    figure(
        "lower_highest",
        "UN R48 6.21.4.3.1",
        "Where technically necessary the lower element is at most this above ground",
        2500.0,
        Mm,
        Probable,
    ),
    figure(
        "upper_within",
        "UN R48 6.21.4.3.2",
        "The upper contour is within this of the upper edge",
        400.0,
        Mm,
        Probable,
    ),
    figure(
        "gap_share",
        "UN R48 6.21.7.1",
        "A gap is no more than this share of the shortest element beside it",
        0.5,
        Share,
        Probable,
    ),
    figure(
        "gap_most",
        "UN R48 6.21.7.1",
        "Where that is proven impossible, a gap is at most this",
        1000.0,
        Mm,
        Probable,
    ),
    figure(
        "corner_strip",
        "UN R48 6.21.7.2",
        "Each of the two lines at an upper corner is at least this long",
        250.0,
        Mm,
        Sure,
    ),
    figure(
        "stop_lamp",
        "UN R48 6.21.7.3",
        "The rear marking keeps farther than this from stop lamps",
        200.0,
        Mm,
        Sure,
    ),
    figure(
        "tape_width_c2",
        "UN R104",
        "Tape of class C is at least this wide",
        50.0,
        Mm,
        Probable,
    ),
];

impl RuleSet {
    /// Every set.
    pub const ALL: [RuleSet; 4] = [
        RuleSet::UnitedStatesNew,
        RuleSet::UnitedStatesInUse,
        RuleSet::Unece,
        RuleSet::Voluntary,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            RuleSet::UnitedStatesNew => "United States, new (49 CFR 571.108 S8.2)",
            RuleSet::UnitedStatesInUse => "United States, in use (49 CFR 393.13)",
            RuleSet::Unece => "UN Regulations 48 and 104",
            RuleSet::Voluntary => "Voluntary (limits of 49 CFR 393.26(d))",
        }
    }

    /// Its figures as recalled.
    pub fn figures(self) -> &'static [Figure] {
        match self {
            RuleSet::UnitedStatesNew => &NEW,
            RuleSet::UnitedStatesInUse => &IN_USE,
            RuleSet::Unece => &UNECE,
            RuleSet::Voluntary => &VOLUNTARY_FIGURES,
        }
    }
}

/// A shop's corrections of figures, by set and key.
pub type Corrections = BTreeMap<RuleSet, BTreeMap<String, f64>>;

/// A set with the shop's corrections.
#[derive(Debug, Clone)]
pub struct Rules {
    /// The set.
    pub set: RuleSet,
    corrected: BTreeMap<String, f64>,
}

impl Rules {
    /// A set with the corrections that are the shop's.
    pub fn of(set: RuleSet, corrections: &Corrections) -> Rules {
        Rules {
            set,
            corrected: corrections.get(&set).cloned().unwrap_or_default(),
        }
    }

    /// The set as recalled.
    pub fn plain(set: RuleSet) -> Rules {
        Rules {
            set,
            corrected: BTreeMap::new(),
        }
    }

    /// A figure of this set, corrected where the shop has; nothing where the set has no such figure.
    pub fn get(&self, key: &str) -> Option<f64> {
        let figure = self.figure(key)?;
        Some(self.corrected.get(key).copied().unwrap_or(figure.value))
    }

    /// A figure as recalled, with its clause.
    pub fn figure(&self, key: &str) -> Option<&'static Figure> {
        self.set.figures().iter().find(|f| f.key == key)
    }

    /// Whether the shop has put another figure in place of this one.
    pub fn is_corrected(&self, key: &str) -> bool {
        self.corrected.contains_key(key)
    }

    /// Figures that the shop has corrected: the figure as recalled, and what the shop uses.
    pub fn corrections(&self) -> Vec<(&'static Figure, f64)> {
        self.set
            .figures()
            .iter()
            .filter_map(|f| self.corrected.get(f.key).map(|v| (f, *v)))
            .collect()
    }
}
