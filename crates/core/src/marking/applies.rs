//! Whether a set of rules applies to a vehicle. What is not known gives "cannot tell", never "not required".

use serde::{Deserialize, Serialize};
use time::Date;
use time::macros::date;

use super::rules::{RuleSet, Rules};
use crate::ground::mm::Mm;

/// What kind of vehicle it is to the rules.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MarkedKind {
    /// A trailer or semitrailer.
    Trailer,
    /// A truck tractor.
    Tractor,
    /// A truck with its own body.
    Truck,
    /// A bus.
    Bus,
    /// A boat's trailer.
    BoatTrailer,
    /// A machine or other equipment.
    Equipment,
}

impl MarkedKind {
    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            MarkedKind::Trailer => "trailer",
            MarkedKind::Tractor => "truck tractor",
            MarkedKind::Truck => "truck",
            MarkedKind::Bus => "bus",
            MarkedKind::BoatTrailer => "boat's trailer",
            MarkedKind::Equipment => "equipment",
        }
    }
}

/// Category under the UN regulations.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "UPPERCASE")]
#[allow(missing_docs)]
pub enum UneceCategory {
    M1,
    M2,
    M3,
    N1,
    N2,
    N3,
    O1,
    O2,
    O3,
    O4,
}

/// What the rules ask of a vehicle. Whatever is not known is left out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MarkedVehicle {
    /// What kind.
    pub kind: MarkedKind,
    /// Overall width, mm.
    #[serde(default)]
    pub width_mm: Option<Mm>,
    /// Overall length, drawbar included for the UN regulations, mm.
    #[serde(default)]
    pub length_mm: Option<Mm>,
    /// Gross vehicle weight rating or largest mass, kg.
    #[serde(default)]
    pub mass_kg: Option<f64>,
    /// When it was built.
    #[serde(default)]
    pub built: Option<Date>,
    /// Category under the UN regulations.
    #[serde(default)]
    pub category: Option<UneceCategory>,
    /// Used only for living or as an office.
    #[serde(default)]
    pub living_or_office: bool,
    /// A pole trailer.
    #[serde(default)]
    pub pole_trailer: bool,
    /// On its own wheels to be delivered.
    #[serde(default)]
    pub driveaway: bool,
    /// Chassis-cab, incomplete, or a tractor for semitrailers.
    #[serde(default)]
    pub incomplete_or_tractor: bool,
    /// A container chassis, or a platform without a bulkhead: no strips at the upper rear (United States).
    #[serde(default)]
    pub open_rear: bool,
    /// Shape, structure or operation makes a contour impossible: a line instead (UN regulations).
    #[serde(default)]
    pub line_only: bool,
}

/// The answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Required {
    /// Marking is required.
    Yes,
    /// Marking is not required; voluntary marking has limits.
    No,
    /// Something that decides is not known.
    CannotTell,
    /// Marking is not allowed on this category.
    Prohibited,
}

/// The answer with its reasons.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Applies {
    /// Which set.
    pub set: RuleSet,
    /// Whether it is required.
    pub required: Required,
    /// Why, each with its clause.
    pub reasons: Vec<String>,
    /// What would have to be known.
    pub missing: Vec<&'static str>,
}

/// First day of the rule for new trailers.
const TRAILERS_FROM: Date = date!(1993 - 12 - 01);
/// First day of the rule for truck tractors.
const TRACTORS_FROM: Date = date!(1997 - 07 - 01);

/// Limits of marking that is not required (49 CFR 393.26(d) and 571.108 S6.2.1, as recalled).
pub const VOLUNTARY: [&str; 4] = [
    "No red towards the front.",
    "Nothing that looks like a traffic sign, a light or a device, or makes the vehicle look longer, shorter or narrower.",
    "At least 76 mm (3 in) from every required lamp or reflector of another colour.",
    "It must not weaken the lamps and reflectors that are required.",
];

struct Weighing {
    reasons: Vec<String>,
    missing: Vec<&'static str>,
    out: bool,
}

impl Weighing {
    /// A condition: met, not met, or not known.
    fn ask(&mut self, met: Option<bool>, what: &'static str, not: String) {
        match met {
            Some(true) => {}
            Some(false) => {
                self.out = true;
                self.reasons.push(not);
            }
            None => self.missing.push(what),
        }
    }

    fn answer(self, set: RuleSet, yes: String) -> Applies {
        // One condition that is surely not met settles it, whatever else is not known.
        let required = if self.out {
            Required::No
        } else if self.missing.is_empty() {
            Required::Yes
        } else {
            Required::CannotTell
        };
        let mut reasons = self.reasons;
        match required {
            Required::Yes => reasons.push(yes),
            Required::CannotTell => {
                reasons.push(format!("Find out first: {}.", self.missing.join(", ")))
            }
            _ => {}
        }
        Applies {
            set,
            required,
            reasons,
            missing: self.missing,
        }
    }
}

/// Whether a set applies.
///
/// ```
/// # use windrift_core::marking::{MarkedKind, MarkedVehicle, Required, RuleSet, Rules, applies};
/// # use time::macros::date;
/// let trailer: MarkedVehicle = serde_json::from_value(serde_json::json!({
///     "kind": "trailer", "width_mm": 2590.8, "mass_kg": 13600.0, "built": "2019-05-02"
/// })).unwrap();
/// let told = applies(&Rules::plain(RuleSet::UnitedStatesNew), &trailer);
/// assert_eq!(told.required, Required::Yes);
/// // What is not known is never a no.
/// let unknown = MarkedVehicle { width_mm: None, ..trailer };
/// assert_ne!(applies(&Rules::plain(RuleSet::UnitedStatesNew), &unknown).required, Required::No);
/// ```
pub fn applies(rules: &Rules, v: &MarkedVehicle) -> Applies {
    match rules.set {
        RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse => united_states(rules, v),
        RuleSet::Unece => unece(rules, v),
        RuleSet::Voluntary => Applies {
            set: RuleSet::Voluntary,
            required: Required::No,
            reasons: vec![
                "Chosen as voluntary: whether a rule asks for marking is not looked at.".into(),
            ],
            missing: Vec::new(),
        },
    }
}

/// The rules that marking is laid out and audited by: those chosen; where a United States rule does not ask for marking, the limits of
/// voluntary marking. Nothing where marking is prohibited.
pub fn laid_out_by(chosen: RuleSet, required: Required) -> Option<RuleSet> {
    match (chosen, required) {
        (_, Required::Prohibited) => None,
        (RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse, Required::No) => {
            Some(RuleSet::Voluntary)
        }
        (chosen, _) => Some(chosen),
    }
}

fn united_states(rules: &Rules, v: &MarkedVehicle) -> Applies {
    let set = rules.set;
    let new = set == RuleSet::UnitedStatesNew;
    let clause = if new {
        "49 CFR 571.108 S8.2"
    } else {
        "49 CFR 393.13(a)"
    };
    let mut w = Weighing {
        reasons: Vec::new(),
        missing: Vec::new(),
        out: false,
    };
    if v.kind == MarkedKind::Tractor {
        if !new {
            w.ask(Some(false), "", format!("{clause} speaks of trailers only; a tractor built from {TRACTORS_FROM} on keeps the rule for new vehicles."));
            return w.answer(set, String::new());
        }
        w.ask(
            v.built.map(|d| d >= TRACTORS_FROM),
            "when it was built",
            format!("Built before {TRACTORS_FROM}: {clause} does not reach it."),
        );
        return w.answer(
            set,
            format!(
                "A truck tractor built from {TRACTORS_FROM} on: its rear is marked ({clause})."
            ),
        );
    }
    let trailer = matches!(v.kind, MarkedKind::Trailer | MarkedKind::BoatTrailer);
    w.ask(Some(trailer), "", format!("{clause} speaks of trailers and truck tractors; this is neither. It may be marked voluntarily."));
    let width = rules.get("width").unwrap_or(f64::INFINITY);
    let mass = rules.get("gvwr").unwrap_or(f64::INFINITY);
    w.ask(
        v.width_mm.map(|mm| mm >= width),
        "its overall width",
        format!("Narrower than {width:.0} mm ({clause})."),
    );
    let heavy = |kg: f64| if new { kg > mass } else { kg >= mass };
    w.ask(
        v.mass_kg.map(heavy),
        "its gross vehicle weight rating",
        format!(
            "Its weight rating is not {} {mass:.0} kg ({clause}).",
            if new { "over" } else { "at least" }
        ),
    );
    if new {
        w.ask(
            v.built.map(|d| d >= TRAILERS_FROM),
            "when it was built",
            format!("Built before {TRAILERS_FROM}: the rule for trailers in use decides."),
        );
    } else {
        w.ask(
            v.built.map(|d| d < TRAILERS_FROM),
            "when it was built",
            format!("Built from {TRAILERS_FROM} on: the rule for new trailers must be kept up."),
        );
    }
    w.ask(
        Some(!v.living_or_office),
        "",
        format!("Used only for living or as an office ({clause})."),
    );
    if !new {
        w.ask(
            Some(!v.pole_trailer),
            "",
            format!("A pole trailer ({clause})."),
        );
        w.ask(
            Some(!v.driveaway),
            "",
            format!("Being delivered on its own wheels ({clause})."),
        );
    }
    w.answer(set, format!("A trailer at least {width:.0} mm wide with a weight rating {} {mass:.0} kg: both sides and the rear are marked ({clause}).", if new { "over" } else { "of at least" }))
}

fn unece(rules: &Rules, v: &MarkedVehicle) -> Applies {
    use UneceCategory::{M1, N2, N3, O1, O3, O4};
    let set = rules.set;
    let clause = "UN R48 6.21.1";
    if matches!(v.category, Some(M1 | O1)) {
        return Applies {
            set,
            required: Required::Prohibited,
            reasons: vec![format!("Prohibited on categories M1 and O1 ({clause}.1).")],
            missing: Vec::new(),
        };
    }
    let mut w = Weighing {
        reasons: Vec::new(),
        missing: Vec::new(),
        out: false,
    };
    let mass = rules.get("mass_n2").unwrap_or(f64::INFINITY);
    match v.category {
        None => w.missing.push("its category (N2, N3, O3, O4 …)"),
        Some(N2) => w.ask(
            v.mass_kg.map(|kg| kg > mass),
            "its largest mass",
            format!("Of category N2, but not over {mass:.0} kg ({clause}.2)."),
        ),
        Some(N3 | O3 | O4) => {}
        Some(_) => w.ask(
            Some(false),
            "",
            format!("Optional on this category ({clause}.3)."),
        ),
    }
    w.ask(Some(!v.incomplete_or_tractor), "", format!("Chassis-cabs, incomplete vehicles and tractors for semitrailers are left out ({clause}.2)."));
    let (wide, long) = (
        rules.get("width").unwrap_or(f64::INFINITY),
        rules.get("length").unwrap_or(f64::INFINITY),
    );
    // The rear hangs on the width, the sides on the length: either is enough.
    let (by_width, by_length) = (
        v.width_mm.map(|mm| mm > wide),
        v.length_mm.map(|mm| mm > long),
    );
    let either = match (by_width, by_length) {
        (Some(true), _) | (_, Some(true)) => Some(true),
        (Some(false), Some(false)) => Some(false),
        _ => None,
    };
    w.ask(
        either,
        "its width and length",
        format!("Neither wider than {wide:.0} mm nor longer than {long:.0} mm ({clause}.2)."),
    );
    let what = match (by_width, by_length) {
        (Some(true), Some(true)) => "The rear has a full contour, the sides a partial one",
        (Some(true), _) => "The rear has a full contour",
        _ => "The sides have a partial contour",
    };
    w.answer(set, format!("{what} ({clause}.2)."))
}
