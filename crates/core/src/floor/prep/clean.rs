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
}

/// The key of the final wipe: with it a side is clean.
pub const FINAL_WIPE: &str = "alcohol";

const SOLVENT: &str = "Flammable vapour: no gun, no flame, air through the bay, gloves and eyes; its safety sheet decides.";
const DUST: &str = "Dust: mask and eyes; not with film open in the next bay.";

/// How a side is cleaned. `wet` says whether its film is laid wet, `masks` what stands out of the surface and is masked.
///
/// ```
/// # use windrift_core::floor::prep::clean::{Been, cleaning};
/// # use windrift_core::vehicle::surface::{Material, Surface};
/// let steps = cleaning(&Surface::of(Material::PaintedSteel), Been::OnTheRoad, false, &[]);
/// let keys: Vec<&str> = steps.iter().map(|s| s.key).collect();
/// assert_eq!(keys, ["wash", "cleaner", "alcohol", "edges"]);
/// ```
pub fn cleaning(surface: &Surface, been: Been, wet: bool, masks: &[String]) -> Vec<CleanStep> {
    let step = |key, says: &str| CleanStep {
        key,
        says: says.into(),
        why: None,
        dwell_seconds: None,
        wet: None,
        caution: None,
    };
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
    if been != Been::New && !(been == Been::JustWashed) {
        steps.push(because(
            step("wash", "Wash with mild detergent, from above the film down, wider than the film, and rinse off every trace of soap. Let it dry, gaps and edges too."),
            "What is not washed above it drips into it.",
        ));
    }
    if surface.material == Material::PaintedWood {
        steps.push(CleanStep {
            caution: Some(DUST),
            ..because(
                step("wood", "Look for bare or damaged wood: sand, fill, let the filler harden, seal, prime, gloss or semi-gloss; each coat as long as its tin says."),
                "Bare and rough wood holds no film, and every pore shows through it.",
            )
        });
    }
    if surface.finish == Finish::Oxidised {
        steps.push(because(
            step(
                "polish",
                "Polish it, no wax, until a white cloth stays white.",
            ),
            "Chalk comes off with the film.",
        ));
    }
    if been == Been::OnTheRoad {
        steps.push(CleanStep {
            dwell_seconds: Some(45),
            wet: Some(Wet::Cleaner),
            caution: Some(SOLVENT),
            ..because(
                step("cleaner", "Tar or adhesive cleaner, left on as long as its label says, then buffed dry with a clean cloth."),
                "Washing leaves tar, wax and the glue of old film.",
            )
        });
    }
    if !masks.is_empty() {
        let says = format!(
            "Mask what stands out, so that film does not grab it: {}.",
            masks.join(", ")
        );
        steps.push(step("mask", &says));
    }
    steps.push(CleanStep {
        wet: Some(Wet::Alcohol),
        caution: Some(SOLVENT),
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
    if wet {
        steps.push(because(
            step("fluid", "A last wipe with application fluid."),
            "It is laid wet.",
        ));
    }
    steps
}
