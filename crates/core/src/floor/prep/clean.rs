//! In what order a side is cleaned, for what it is made of and where it has been.
//!
//! Common practice, no source; how long a cleaner stays on is what its label says, about 45 s where it says nothing.

use serde::{Deserialize, Serialize};

use crate::floor::wet::Wet;
use crate::vehicle::surface::{Finish, Material, Surface};

/// Where the vehicle has been.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Been {
    /// On the road or on the water: the whole sequence.
    #[default]
    OnTheRoad,
    /// Just washed, and nowhere since.
    JustWashed,
    /// New, never on the road.
    New,
}

/// One step of cleaning.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CleanStep {
    /// Its key: the same step has the same one on every side.
    pub key: &'static str,
    /// What is done.
    pub says: String,
    /// Why, where that is not plain.
    pub why: Option<String>,
    /// How long it stays on before it is wiped, seconds.
    pub dwell_seconds: Option<u32>,
    /// What is wet afterwards, where heat must wait for it.
    pub wet: Option<Wet>,
    /// A caution that belongs to it.
    pub caution: Option<&'static str>,
    /// How long it hardens before the next coat or film, hours, where its tin says nothing (ours).
    pub cures_hours: Option<f64>,
    /// Whether it goes over all of the surface, zone by zone where somebody wants that.
    pub by_zone: bool,
}

/// What a side's cleaning follows from.
#[derive(Debug, Clone, Copy, Default)]
pub struct CleanAsk<'a> {
    /// What it is made of.
    pub surface: Surface,
    /// Where the vehicle has been.
    pub been: Been,
    /// Whether its film is laid wet.
    pub wet: bool,
    /// What stands out of the surface and is masked.
    pub masks: &'a [String],
    /// Whether bare or damaged wood, filler or a rough repair was found where film goes; nothing where nobody has looked.
    pub repair: Option<bool>,
    /// Wheel arches that film is trimmed at.
    pub arches: &'a [String],
}

/// The key of the final wipe: with it a side is clean.
pub const FINAL_WIPE: &str = "alcohol";

const SOLVENT: &str = "Flammable vapour: no gun, no flame, air through the bay, gloves and eyes; its safety sheet decides.";
const LIFTED: &str = "On stands, never on the jack alone; wheels chocked, keys out.";
const DUST: &str = "Dust: mask and eyes; not with film open in the next bay.";

/// How a side is cleaned.
///
/// ```
/// # use windrift_core::floor::prep::clean::{Been, CleanAsk, cleaning};
/// # use windrift_core::vehicle::surface::{Material, Surface};
/// let ask = CleanAsk { surface: Surface::of(Material::PaintedSteel), ..CleanAsk::default() };
/// let keys = |ask: &CleanAsk<'_>| cleaning(ask).iter().map(|s| s.key).collect::<Vec<_>>();
/// assert_eq!(keys(&ask), ["wash", "cleaner", "alcohol", "edges"]);
/// // A rough repair is made good first, each coat with its time to harden.
/// let rough = cleaning(&CleanAsk { repair: Some(true), ..ask });
/// assert!(rough.iter().any(|s| s.key == "prime" && s.cures_hours.is_some()));
/// ```
pub fn cleaning(ask: &CleanAsk<'_>) -> Vec<CleanStep> {
    let (surface, been) = (&ask.surface, ask.been);
    let over_all = |s: CleanStep| CleanStep { by_zone: true, ..s };
    let because = |s: CleanStep, why: &str| CleanStep {
        why: Some(why.into()),
        ..s
    };
    let mut steps = Vec::new();
    if surface.protective_skin {
        steps.push(because(
            step(
                "skin",
                "Take the clear protective skin off the new sheet, all of it, round its edges too.",
            ),
            "Film that is laid on it comes off with it.",
        ));
    }
    if !ask.arches.is_empty() {
        let says = format!(
            "Wheels, fenders or shields off, or the wheel turned out of the way: film is trimmed at {}.",
            ask.arches.join(", ")
        );
        steps.push(CleanStep {
            caution: Some(LIFTED),
            ..because(
                step("reach", &says),
                "Where no hand gets in nothing is cleaned, and nothing is pressed.",
            )
        });
    }
    if been == Been::OnTheRoad {
        steps.push(because(
            over_all(step("wash", "Wash with mild detergent, from above the film down, wider than the film, and rinse off every trace of soap. Let it dry, gaps and edges too.")),
            "What is not washed above it drips into it.",
        ));
    }
    if surface.material == Material::PaintedWood && ask.repair.is_none() {
        steps.push(because(
            step("wood", "Look for bare, soft or damaged wood: press with a thumb, look under old paint. Then say below whether there is any."),
            "Bare and rough wood holds no film, and every pore shows through it.",
        ));
    }
    if ask.repair == Some(true) {
        steps.extend(made_good(surface.material));
    }
    if surface.finish == Finish::Oxidised {
        steps.push(because(
            over_all(step(
                "polish",
                "Polish it, no wax, until a white cloth stays white.",
            )),
            "Chalk comes off with the film.",
        ));
    }
    if been == Been::OnTheRoad {
        steps.push(CleanStep {
            dwell_seconds: Some(45),
            wet: Some(Wet::Cleaner),
            by_zone: true,
            caution: Some(SOLVENT),
            ..because(
                step("cleaner", "Tar or adhesive cleaner, left on as long as its label says, then buffed dry with a clean cloth."),
                "Washing leaves tar, wax and the glue of old film.",
            )
        });
    }
    if !ask.masks.is_empty() {
        let says = format!(
            "Mask what stands out, so that film does not grab it: {}.",
            ask.masks.join(", ")
        );
        steps.push(step("mask", &says));
    }
    steps.push(CleanStep {
        wet: Some(Wet::Alcohol),
        caution: Some(SOLVENT),
        by_zone: true,
        ..step(FINAL_WIPE, "Final wipe: 70 % isopropyl alcohol and a clean lint-free cloth, from the top down, turned often; a second one dry after it.")
    });
    steps.push(because(
        CleanStep {
            wet: Some(Wet::Alcohol),
            ..step(
                "edges",
                "Edges, laps and inside lips again, with a fresh cloth.",
            )
        },
        "Edges lift first, and dirt sits there.",
    ));
    if ask.wet {
        steps.push(because(
            over_all(step("fluid", "A last wipe with application fluid.")),
            "It is laid wet.",
        ));
    }
    steps
}

/// A step with nothing else to it.
fn step(key: &'static str, says: &str) -> CleanStep {
    CleanStep {
        key,
        says: says.into(),
        why: None,
        dwell_seconds: None,
        wet: None,
        caution: None,
        cures_hours: None,
        by_zone: false,
    }
}

/// Bare or damaged wood, filler or a rough repair made good, coat by coat.
fn made_good(material: Material) -> Vec<CleanStep> {
    let dusty = |s: CleanStep| CleanStep {
        caution: Some(DUST),
        ..s
    };
    let coat = |s: CleanStep, hours| CleanStep {
        wet: Some(Wet::Coat),
        caution: Some(SOLVENT),
        cures_hours: Some(hours),
        ..s
    };
    let wood = material == Material::PaintedWood;
    let mut steps = vec![
        CleanStep {
            why: Some("Every scratch, pore and edge of filler shows through film.".into()),
            ..dusty(step(
                "sand",
                "Sand back to what holds, and feather its edges.",
            ))
        },
        CleanStep {
            cures_hours: Some(if wood { 4.0 } else { 1.0 }),
            ..dusty(step("fill", "Fill, let it harden, sand it flush."))
        },
    ];
    if wood {
        steps.push(coat(
            step("seal", "Seal the bare wood, end grain twice."),
            4.0,
        ));
    }
    steps.push(coat(
        step("prime", "Prime, let it harden, rub it down."),
        12.0,
    ));
    steps.push(CleanStep {
        why: Some("Film holds badly on matt paint. New paint gasses out for six weeks as a rule; its tin may say less.".into()),
        ..coat(step("gloss", "Gloss or semi-gloss, two thin coats."), 1008.0)
    });
    steps
}
