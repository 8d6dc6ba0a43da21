//! What else stands on the shelf beside film: tapes, laminates, liquids, blades, wipes; and what a job needs of it.

use serde::{Deserialize, Serialize};

use crate::ground::mm::Mm;
use crate::ground::tape::{MM_PER_INCH, Unit, print};
use crate::ground::told::Told;

/// A US fluid ounce, ml: 231 cubic inches to the gallon of 128 ounces, exactly.
const ML_PER_FLUID_OUNCE: f64 = 231.0 * 16.387_064 / 128.0;
/// Tapes of one width differ by no more than this, mm (ours): 2 in and 50 mm are one.
const ONE_WIDTH_MM: f64 = 2.0;

/// Whether tapes so wide, mm, are of one width: 2 in and 50 mm are, within 2 mm (ours).
///
/// ```
/// use windrift_core::film::supply::is_one_width;
/// assert!(is_one_width(50.0, 50.8) && !is_one_width(50.8, 76.2));
/// ```
pub fn is_one_width(a_mm: f64, b_mm: f64) -> bool {
    (a_mm - b_mm).abs() <= ONE_WIDTH_MM
}

/// What a supply is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SupplyKind {
    /// Masking tape, for hinges and tabs.
    MaskingTape,
    /// Transfer tape, which lettering is carried on.
    TransferTape,
    /// Tape that is laid half on and half off an edge.
    EdgeSealTape,
    /// Thread on a tape that cuts film from below.
    CuttingTape,
    /// Laminate for prints.
    Laminate,
    /// Adhesion promoter.
    Promoter,
    /// Liquid edge sealer.
    EdgeSealer,
    /// Alcohol for the last wipe.
    Alcohol,
    /// Tar, wax or adhesive remover.
    Remover,
    /// Snap blades.
    Blades,
    /// Lint-free wipes.
    Wipes,
}

/// How a supply is counted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Counted {
    /// By length, mm.
    Length,
    /// By length of a width, mm²: sheets of it are cut from a roll.
    Area,
    /// By volume, ml.
    Volume,
    /// One by one.
    Pieces,
}

impl SupplyKind {
    /// All of them.
    pub const ALL: [SupplyKind; 11] = [
        SupplyKind::MaskingTape,
        SupplyKind::TransferTape,
        SupplyKind::EdgeSealTape,
        SupplyKind::CuttingTape,
        SupplyKind::Laminate,
        SupplyKind::Promoter,
        SupplyKind::EdgeSealer,
        SupplyKind::Alcohol,
        SupplyKind::Remover,
        SupplyKind::Blades,
        SupplyKind::Wipes,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            SupplyKind::MaskingTape => "masking tape",
            SupplyKind::TransferTape => "transfer tape",
            SupplyKind::EdgeSealTape => "edge-seal tape",
            SupplyKind::CuttingTape => "cutting tape",
            SupplyKind::Laminate => "laminate",
            SupplyKind::Promoter => "adhesion promoter",
            SupplyKind::EdgeSealer => "edge sealer",
            SupplyKind::Alcohol => "alcohol",
            SupplyKind::Remover => "adhesive remover",
            SupplyKind::Blades => "snap blades",
            SupplyKind::Wipes => "lint-free wipes",
        }
    }

    /// How it is counted.
    pub fn counted(self) -> Counted {
        match self {
            SupplyKind::MaskingTape | SupplyKind::EdgeSealTape | SupplyKind::CuttingTape => {
                Counted::Length
            }
            SupplyKind::TransferTape | SupplyKind::Laminate => Counted::Area,
            SupplyKind::Promoter
            | SupplyKind::EdgeSealer
            | SupplyKind::Alcohol
            | SupplyKind::Remover => Counted::Volume,
            SupplyKind::Blades | SupplyKind::Wipes => Counted::Pieces,
        }
    }
}

/// A supply on the shelf.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Supply {
    /// What it is.
    pub kind: SupplyKind,
    /// What the shop calls it.
    pub name: String,
    /// Width of a tape or a laminate, mm.
    #[serde(default)]
    pub width_mm: Option<Mm>,
    /// What is left of what comes in lengths, mm.
    #[serde(default)]
    pub left_mm: Option<Mm>,
    /// What is left of what is poured, ml, or counted.
    #[serde(default)]
    pub left: Option<f64>,
}

impl Supply {
    /// How much is left: mm, mm², ml or pieces, as its kind is counted.
    ///
    /// ```
    /// # use windrift_core::film::supply::{Supply, SupplyKind};
    /// let tape = Supply { kind: SupplyKind::TransferTape, name: "medium tack".into(), width_mm: Some(300.0.into()), left_mm: Some(2000.0.into()), left: None };
    /// assert_eq!(tape.amount(), 600_000.0);
    /// ```
    pub fn amount(&self) -> f64 {
        let mm = |mm: Option<Mm>| mm.map_or(0.0, |mm| mm.mm());
        match self.kind.counted() {
            Counted::Length => mm(self.left_mm),
            Counted::Area => mm(self.width_mm) * mm(self.left_mm),
            Counted::Volume | Counted::Pieces => self.left.unwrap_or(0.0),
        }
    }

    /// How much is left, told.
    pub fn told(&self, unit: Unit) -> String {
        match (self.kind.counted(), self.left_mm) {
            // A roll is told by its length, whatever is cut from it.
            (Counted::Length | Counted::Area, Some(long)) => print(long.mm(), unit).text,
            (counted, _) => told_amount(counted, self.amount(), unit),
        }
    }

    /// Whether it can stand on a shelf.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        let wrong = |field: &'static str, sentence: &str| {
            Err(Told::new("supply", sentence.to_owned()).at(field))
        };
        if !(1..=80).contains(&self.name.trim().chars().count()) {
            return wrong("/name", "Give it a name of 1 to 80 letters.");
        }
        let within = |mm: Option<Mm>, least: f64, most: f64| {
            mm.is_some_and(|mm| mm.is_finite() && (least..=most).contains(&mm.mm()))
        };
        let counted = self.kind.counted();
        if matches!(counted, Counted::Length | Counted::Area) {
            if !within(self.width_mm, 1.0, 2000.0) {
                return wrong("/width_mm", "How wide it is must be between 1 mm and 2 m.");
            }
            if !within(self.left_mm, 0.0, 500_000.0) {
                return wrong(
                    "/left_mm",
                    "What is left must be between nothing and 500 m.",
                );
            }
            return Ok(());
        }
        let most = 1_000_000.0;
        if !self
            .left
            .is_some_and(|n| n.is_finite() && (0.0..=most).contains(&n))
        {
            return wrong(
                "/left",
                "What is left must be a number from 0 to 1,000,000.",
            );
        }
        Ok(())
    }
}

/// What a job needs of one kind of supply.
#[derive(Debug, Clone, PartialEq)]
pub struct Need {
    /// Of what kind.
    pub kind: SupplyKind,
    /// What the shop calls it, where just that one will do.
    pub name: Option<String>,
    /// How wide, mm, where that matters.
    pub width_mm: Option<f64>,
    /// How much: mm, mm², ml or pieces, as the kind is counted.
    pub amount: f64,
    /// What it follows from.
    pub why: String,
}

impl Need {
    /// What is missing of it on this shelf; 0 where there is enough.
    ///
    /// ```
    /// # use windrift_core::film::supply::{Need, Supply, SupplyKind};
    /// let need = Need { kind: SupplyKind::Promoter, name: None, width_mm: None, amount: 90.0, why: String::new() };
    /// let can = |left| Supply { kind: SupplyKind::Promoter, name: "can".into(), width_mm: None, left_mm: None, left: Some(left) };
    /// assert_eq!((need.missing(&[can(50.0), can(30.0)]), need.missing(&[can(200.0)])), (10.0, 0.0));
    /// ```
    pub fn missing(&self, shelf: &[Supply]) -> f64 {
        let fits = |s: &&Supply| {
            let same = |name: &String| s.name.trim().to_lowercase() == name.trim().to_lowercase();
            s.kind == self.kind
                && self.name.as_ref().is_none_or(same)
                && match (self.width_mm, s.width_mm) {
                    (Some(asked), Some(wide)) => is_one_width(wide.mm(), asked),
                    _ => true,
                }
        };
        let there: f64 = shelf.iter().filter(fits).map(Supply::amount).sum();
        (self.amount - there).max(0.0)
    }
}

/// An amount in a job's own units: lengths as its tape reads them, areas in square feet or metres, liquids in fluid ounces or millilitres.
pub fn told_amount(counted: Counted, amount: f64, unit: Unit) -> String {
    let metric = unit == Unit::Millimetre;
    // 12 in, exactly.
    let foot = 12.0 * MM_PER_INCH;
    match counted {
        Counted::Length => print(amount, unit).text,
        Counted::Area if metric => format!("{:.2} m\u{b2}", amount / 1e6),
        Counted::Area => format!("{:.1} sq ft", amount / (foot * foot)),
        Counted::Volume if metric => format!("{:.0} ml", amount.ceil()),
        Counted::Volume => format!(
            "{:.1} fl oz",
            (amount / ML_PER_FLUID_OUNCE * 10.0).ceil() / 10.0
        ),
        Counted::Pieces => format!("{:.0}", amount.ceil()),
    }
}
