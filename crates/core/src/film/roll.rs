//! Rolls and offcuts: whether one can be what it is said to be, and how long it is by its diameter.

use std::f64::consts::PI;

use serde::{Deserialize, Serialize};

use crate::ground::mm::Mm;
use crate::ground::tape::{LONGEST_ROLL_MM, MM_PER_INCH};
use crate::ground::told::Told;

/// A tape held across a roll is read to this, mm: 1/16 in.
const READ_MM: f64 = MM_PER_INCH / 16.0;

/// A roll or an offcut on the shelf.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Roll {
    /// Lot, as it stands on box, bag and core.
    pub lot: String,
    /// Width, mm.
    pub width_mm: Mm,
    /// Length when it came onto the shelf, mm.
    pub length_mm: Mm,
    /// Where it stands.
    #[serde(default)]
    pub place: String,
    /// Whether it is an offcut: a rectangle, offered before any roll.
    #[serde(default)]
    pub offcut: bool,
}

impl Roll {
    /// Whether it can be a roll.
    ///
    /// Errors: the field and what is wrong with it.
    pub fn check(&self) -> Result<(), Told> {
        let wrong = |at: &str, sentence: &str| Err(Told::new("roll", sentence).at(at.to_owned()));
        if !(1..=60).contains(&self.lot.trim().chars().count()) {
            return wrong(
                "/lot",
                "Type the lot as it stands on the box or the core: what is seen together comes from one lot.",
            );
        }
        if !(10.0..=3000.0).contains(&self.width_mm.mm()) {
            return wrong(
                "/width_mm",
                "A roll is between 10 mm and 3 m wide. Measure its width again.",
            );
        }
        if !(10.0..=LONGEST_ROLL_MM).contains(&self.length_mm.mm()) {
            return wrong(
                "/length_mm",
                "A roll is between 10 mm and 200 m long. Measure it again, or work it out from its diameter.",
            );
        }
        if self.place.chars().count() > 60 {
            return wrong("/place", "Say in up to 60 letters where it stands.");
        }
        Ok(())
    }
}

/// What is measured of a roll.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Wound {
    /// Diameter over the film, mm.
    pub outside_mm: Mm,
    /// Outside diameter of the core, mm.
    pub core_mm: Mm,
    /// Thickness of one turn as it is wound: film, adhesive, laminate and liner, mm.
    pub build_mm: f64,
    /// How far off that thickness may be, as a share.
    #[serde(default = "typed_build")]
    pub build_off: f64,
}

/// A thickness off a data sheet is taken to be within 5 % (ours).
fn typed_build() -> f64 {
    0.05
}

/// How much film is on a roll, mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OnIt {
    /// By the figures as typed.
    pub length_mm: f64,
    /// At least.
    pub least_mm: f64,
    /// At most.
    pub most_mm: f64,
}

fn length(outside: f64, core: f64, build: f64) -> f64 {
    PI * (outside * outside - core * core) / (4.0 * build)
}

/// The length on a roll by its diameters: π(D² − d²) / 4t. The range carries a tape read to 1/16 in at both diameters and what the
/// thickness may be off.
///
/// Errors: figures that no roll has.
///
/// ```
/// use windrift_core::film::roll::{Wound, on_it};
/// // 5 7/8 over a 3 in core, turns of 0.2 mm.
/// let roll = Wound { outside_mm: 149.225.into(), core_mm: 76.2.into(), build_mm: 0.2, build_off: 0.05 };
/// let found = on_it(&roll).unwrap();
/// assert!((found.length_mm / 1000.0 - 64.64).abs() < 0.01);
/// assert!(found.least_mm < found.length_mm && found.length_mm < found.most_mm);
/// ```
pub fn on_it(wound: &Wound) -> Result<OnIt, Told> {
    let (outside, core) = (wound.outside_mm.mm(), wound.core_mm.mm());
    let wrong = |at: &str, sentence: &str| Err(Told::new("wound", sentence).at(at.to_owned()));
    if !(10.0..=300.0).contains(&core) {
        return wrong(
            "/core_mm",
            "A core is between 10 and 300 mm across, mostly 3 in. Measure it again.",
        );
    }
    if !(outside > core && outside <= 800.0) {
        return wrong(
            "/outside_mm",
            "The roll is wider across than its core and no more than 800 mm. Measure both again, straight across.",
        );
    }
    if !(wound.build_mm.is_finite() && (0.02..=3.0).contains(&wound.build_mm)) {
        return wrong(
            "/build_mm",
            "One turn, film and liner together, is between 0.02 and 3 mm thick. Type it off the data sheet, or take it from a full roll.",
        );
    }
    if !(0.0..=0.5).contains(&wound.build_off) {
        return wrong(
            "/build_off",
            "The thickness may be off by a share from 0 to 0.5.",
        );
    }
    let t = wound.build_mm;
    let least = length(
        (outside - READ_MM).max(core),
        core + READ_MM,
        t * (1.0 + wound.build_off),
    );
    Ok(OnIt {
        length_mm: length(outside, core, t),
        least_mm: least.max(0.0),
        most_mm: length(
            outside + READ_MM,
            core - READ_MM,
            t * (1.0 - wound.build_off),
        ),
    })
}

/// The thickness of one turn from a full roll of known length, mm: the same formula the other way round.
///
/// Errors: figures that no full roll has.
///
/// ```
/// use windrift_core::film::roll::build_of;
/// // 50 yd on a 3 in core measure 7 1/8 in across.
/// let t = build_of(180.975, 76.2, 45_720.0).unwrap();
/// assert!((t - 0.4629).abs() < 1e-3);
/// ```
pub fn build_of(outside_mm: f64, core_mm: f64, length_mm: f64) -> Result<f64, Told> {
    if !(core_mm >= 10.0 && outside_mm > core_mm && outside_mm <= 800.0) {
        return Err(Told::new(
            "wound",
            "The full roll is wider across than its core and no more than 800 mm. Measure both again.",
        )
        .at("/outside_mm"));
    }
    if !(1000.0..=LONGEST_ROLL_MM).contains(&length_mm) {
        return Err(Told::new(
            "wound",
            "A full roll is between 1 and 200 m long: it stands on its box.",
        )
        .at("/length_mm"));
    }
    Ok(PI * (outside_mm * outside_mm - core_mm * core_mm) / (4.0 * length_mm))
}
