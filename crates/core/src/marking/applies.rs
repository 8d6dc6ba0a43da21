//! Whether a set of rules applies to a vehicle. What is not known gives "cannot tell", never "not required".

use serde::{Deserialize, Serialize};

use super::rules::{Corrections, RuleSet, Rules};
use crate::ground::mm::Mm;
use crate::marking::built::Built;
use crate::marking::face::Face;
use crate::marking::mass::Mass;
use crate::vehicle::kinds::VehicleKind;

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
    /// What a job's vehicle is to the rules, until somebody says otherwise.
    pub fn of(kind: VehicleKind) -> MarkedKind {
        match kind {
            VehicleKind::SemiTrailer
            | VehicleKind::UtilityTrailer
            | VehicleKind::CargoTrailer
            | VehicleKind::TravelTrailer => MarkedKind::Trailer,
            VehicleKind::DeliveryBox
            | VehicleKind::BoxTruck
            | VehicleKind::StepVan
            | VehicleKind::PanelVan
            | VehicleKind::Pickup
            | VehicleKind::Car => MarkedKind::Truck,
            VehicleKind::Boat
            | VehicleKind::Hopper
            | VehicleKind::Tank
            | VehicleKind::SnowMachine
            | VehicleKind::Machine
            | VehicleKind::Board => MarkedKind::Equipment,
        }
    }

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
    /// Gross vehicle weight rating or largest mass.
    #[serde(default, alias = "mass_kg")]
    pub mass: Option<Mass>,
    /// When it was built.
    #[serde(default)]
    pub built: Option<Built>,
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

impl MarkedVehicle {
    /// A kind of vehicle of which nothing else is known.
    pub fn of(kind: MarkedKind) -> MarkedVehicle {
        MarkedVehicle {
            kind,
            width_mm: None,
            length_mm: None,
            mass: None,
            built: None,
            category: None,
            living_or_office: false,
            pole_trailer: false,
            driveaway: false,
            incomplete_or_tractor: false,
            open_rear: false,
            line_only: false,
        }
    }
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
    /// Whether it is required on the vehicle.
    pub required: Required,
    /// Whether it is required on its sides.
    pub on_sides: Required,
    /// Whether it is required on its rear.
    pub on_rear: Required,
    /// Why, each with its clause.
    pub reasons: Vec<String>,
    /// What would have to be known.
    pub missing: Vec<&'static str>,
}

impl Applies {
    /// Whether marking is required on a face. No set asks for it on a front.
    pub fn on(&self, face: Face) -> Required {
        match (face, self.required) {
            (Face::Side, _) => self.on_sides,
            (Face::Rear, _) => self.on_rear,
            (Face::Front, Required::Prohibited) => Required::Prohibited,
            (Face::Front, _) => Required::No,
        }
    }
}

/// First day of the rule for new trailers.
const TRAILERS_FROM: Built = Built::month(1993, 12);
/// First day of the rule for truck tractors.
const TRACTORS_FROM: Built = Built::month(1997, 7);

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
            on_sides: required,
            on_rear: required,
            reasons,
            missing: self.missing,
        }
    }
}

/// What has to be known about the day it was built: where the year is known and only the month decides, the month.
fn which_month(v: &MarkedVehicle, from: Built) -> &'static str {
    match v.built {
        Some(built) if built.from(from).is_none() && from.year == 1993 => {
            "in which month of 1993 it was built: until November the rule for trailers in use decides, in December the rule for new ones"
        }
        Some(built) if built.from(from).is_none() => {
            "in which month of 1997 it was built: from July on the rule for new tractors reaches it"
        }
        _ => "in which year it was built (the plate says)",
    }
}

/// The answers of all sets to a vehicle, and the one that binds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Binding {
    /// What binds, or what was chosen where none of its country does.
    pub binds: Applies,
    /// Every set's own answer.
    pub all: Vec<Applies>,
}

/// Goes through all sets. The two of the United States are one country's: which of them binds hangs on when the vehicle was built, not on
/// which was chosen.
///
/// ```
/// # use windrift_core::marking::{MarkedVehicle, Required, RuleSet, applies::binding};
/// let trailer: MarkedVehicle = serde_json::from_value(serde_json::json!({
///     "kind": "trailer", "width_mm": 2590.8, "mass": "34,000 lb", "built": "2020"
/// })).unwrap();
/// // Asked about the rules for trailers in use, a trailer of 2020 is not free: those for new ones bind it.
/// let told = binding(RuleSet::UnitedStatesInUse, &Default::default(), &trailer);
/// assert_eq!((told.binds.set, told.binds.required), (RuleSet::UnitedStatesNew, Required::Yes));
/// ```
pub fn binding(chosen: RuleSet, corrections: &Corrections, vehicle: &MarkedVehicle) -> Binding {
    let all: Vec<Applies> = [
        RuleSet::UnitedStatesNew,
        RuleSet::UnitedStatesInUse,
        RuleSet::Unece,
    ]
    .map(|set| applies(&Rules::of(set, corrections), vehicle))
    .into();
    let own = applies(&Rules::of(chosen, corrections), vehicle);
    let american =
        |a: &&Applies| matches!(a.set, RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse);
    let binds = match chosen {
        RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse => {
            let of = |required| all.iter().filter(american).find(|a| a.required == required);
            // The one chosen first, where neither is sure.
            let own_cannot = Some(&own).filter(|o| o.required == Required::CannotTell);
            of(Required::Yes)
                .or(own_cannot)
                .or_else(|| of(Required::CannotTell))
                .cloned()
                .unwrap_or_else(|| neither(&all, own.clone()))
        }
        RuleSet::Unece | RuleSet::Voluntary => own,
    };
    Binding { binds, all }
}

/// Neither of the two binds: every reason of both, each once.
fn neither(all: &[Applies], own: Applies) -> Applies {
    let mut reasons = own.reasons;
    let american = all
        .iter()
        .filter(|a| a.set != RuleSet::Unece && a.set != own.set);
    for reason in american.flat_map(|a| &a.reasons) {
        if !reasons.contains(reason) {
            reasons.push(reason.clone());
        }
    }
    Applies { reasons, ..own }
}

/// Whether a set applies.
///
/// ```
/// # use windrift_core::marking::{MarkedKind, MarkedVehicle, Required, RuleSet, Rules, applies};
/// # use time::macros::date;
/// let trailer: MarkedVehicle = serde_json::from_value(serde_json::json!({
///     "kind": "trailer", "width_mm": 2590.8, "mass": "30,000 lb", "built": "5/2019"
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
            on_sides: Required::No,
            on_rear: Required::No,
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
    let (trailers_from, tractors_from) = (TRAILERS_FROM.told(), TRACTORS_FROM.told());
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
            w.ask(Some(false), "", format!("{clause} speaks of trailers only; a tractor built from {tractors_from} on keeps the rule for new vehicles."));
            return w.answer(set, String::new());
        }
        w.ask(
            v.built.and_then(|d| d.from(TRACTORS_FROM)),
            which_month(v, TRACTORS_FROM),
            format!("Built before {tractors_from}: {clause} does not reach it."),
        );
        return w.answer(
            set,
            format!(
                "A truck tractor built from {tractors_from} on: its rear is marked ({clause})."
            ),
        );
    }
    if !matches!(v.kind, MarkedKind::Trailer | MarkedKind::BoatTrailer) {
        let of = if new {
            "trailers and truck tractors; this is neither"
        } else {
            "trailers; this is none"
        };
        let told = format!("{clause} speaks of {of}. It may be marked voluntarily.");
        w.ask(Some(false), "", told);
        return w.answer(set, String::new());
    }
    let width = rules.get("width").unwrap_or(f64::INFINITY);
    let mass = rules.get("gvwr").unwrap_or(f64::INFINITY);
    w.ask(
        v.width_mm.map(|mm| mm >= width),
        "its overall width",
        format!("Narrower than {width:.0} mm ({clause})."),
    );
    let heavy = |kg: f64| if new { kg > mass } else { kg >= mass };
    w.ask(
        v.mass.as_ref().map(|m| heavy(m.kg)),
        "its gross vehicle weight rating",
        format!(
            "Its weight rating is not {} {mass:.0} kg ({clause}).",
            if new { "over" } else { "at least" }
        ),
    );
    if new {
        w.ask(
            v.built.and_then(|d| d.from(TRAILERS_FROM)),
            which_month(v, TRAILERS_FROM),
            format!("Built before {trailers_from}: the rule for trailers in use decides."),
        );
    } else {
        w.ask(
            v.built
                .and_then(|d| d.from(TRAILERS_FROM))
                .map(|from| !from),
            which_month(v, TRAILERS_FROM),
            format!("Built from {trailers_from} on: the rule for new trailers must be kept up."),
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
            on_sides: Required::Prohibited,
            on_rear: Required::Prohibited,
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
            v.mass.as_ref().map(|m| m.kg > mass),
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
    let told = w.answer(set, format!("{what} ({clause}.2)."));
    let on = |by: Option<bool>| match (told.required, by) {
        (Required::Yes, Some(false)) => Required::No,
        (Required::Yes, None) => Required::CannotTell,
        (required, _) => required,
    };
    Applies {
        on_sides: on(by_length),
        on_rear: on(by_width),
        ..told
    }
}
