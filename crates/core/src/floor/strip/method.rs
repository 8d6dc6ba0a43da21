//! How an old graphic comes off here: what must not be done, the ways in their order with reasons, how hot, with what, and the cautions.
//!
//! Common practice, no source, unless a line says otherwise: a cold corner first; young film is warmed to about 60 °C and pulled at 45°; old film comes in
//! chips under a plastic blade; adhesive that leaves with the film is not scrubbed later. Ceilings of surfaces are Windrift's own.

use serde::Serialize;
use time::Date;

use super::old::{ColdCorner, OldGraphic, OldKind};
use crate::ground::degrees::told;
use crate::ground::tape::Unit;
use crate::vehicle::surface::{Finish, Material, Surface};

/// A way of taking film off.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RemovalWay {
    /// Peeled cold.
    PeelCold,
    /// Warmed and pulled at 45°.
    WarmAndPull,
    /// An infrared lamp warms an area, which is pulled.
    Lamp,
    /// Chipped off warm with a plastic blade.
    ChipWarm,
    /// Scraped with a razor scraper under water and soap: on glass alone.
    WetScrape,
    /// Remover for what stays behind.
    Remover,
}

/// One way, with why and how.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WayStep {
    /// Which.
    pub way: RemovalWay,
    /// What is done, in a sentence that can be called across the shop.
    pub says: String,
    /// Why here.
    pub why: String,
    /// Whether it needs heat.
    pub heat: bool,
}

/// How an old graphic comes off.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RemovalPlan {
    /// What must not be done here. Said first.
    pub never: Vec<String>,
    /// Ways in the order in which they are tried.
    pub ways: Vec<WayStep>,
    /// The surface and the film never get warmer, °C; whose figure stands in the sentence.
    pub ceiling_celsius: f64,
    /// The same in words, with the first setting of the gun and whose figure it is.
    pub heat: String,
    /// In which order over it.
    pub order: String,
    /// Remover for the adhesive, ml, from and to.
    pub remover_ml: [f64; 2],
    /// What follows before new film.
    pub then: Vec<String>,
    /// Cautions that apply here.
    pub cautions: Vec<String>,
}

/// Film that comes off is pulled at this, °C (about 140 °F, common practice).
const PULL_CELSIUS: f64 = 60.0;
/// An area from which a lamp is worth setting up, m² (ours).
const LAMP_M2: f64 = 0.5;
/// What lies higher above the side's foot than this is not worked from the floor, mm (ours): a side's foot hangs lower than a chin.
const REACH_MM: f64 = 1_300.0;
/// No film is planned hotter anywhere (ours; it gives off fumes from about 180).
const FILM_CEILING: f64 = 150.0;

/// How this old graphic comes off what lies under it, on a day. `side_height_mm` is how high the side is; `residue` is how heavy the adhesive of the test patches was, 0 to 1, where any was made.
///
/// ```
/// # use windrift_core::floor::strip::method::{RemovalWay, removal};
/// # use windrift_core::floor::strip::old::{ColdCorner, Faced, OldGraphic, OldKind};
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::vehicle::surface::{Material, Surface};
/// let old = OldGraphic {
///     side: Default::default(), piece: None, name: "old name".into(), kind: OldKind::CutLettering, age_years: 15.0, faced: Faced::Sun, under: None, lies_on: None,
///     unknown_paint: false, cold_corner: ColdCorner::Chips, back_mm: 0.0.into(), drop_mm: 0.0.into(), width_mm: 2000.0.into(),
///     height_mm: 300.0.into(), letters: Some(12), own_minutes: None,
/// };
/// let today = time::Date::from_calendar_date(2026, time::Month::November, 27).unwrap();
/// let plan = removal(&old, &Surface::of(Material::PaintedAluminium), 2400.0, today, None, Unit::Millimetre);
/// // It comes in chips: warm, under a plastic blade, and remover for what stays.
/// assert_eq!((plan.ways[0].way, plan.ways[1].way), (RemovalWay::ChipWarm, RemovalWay::Remover));
/// ```
pub fn removal(
    old: &OldGraphic,
    surface: &Surface,
    side_height_mm: f64,
    today: Date,
    residue: Option<f64>,
    unit: Unit,
) -> RemovalPlan {
    let own = Surface {
        material: old.under.unwrap_or(surface.material),
        ..*surface
    };
    let under = own.material;
    let found = own.verdict(today);
    let ceiling = f64::from(found.ceiling_celsius).min(FILM_CEILING);
    let lifts = own.finish == Finish::Resprayed;
    let metal = matches!(
        under,
        Material::PaintedSteel
            | Material::PaintedAluminium
            | Material::BareAluminium
            | Material::Stainless
    );
    RemovalPlan {
        never: never(old, &own, metal, today),
        ways: ways(old, &own, ceiling, metal, unit),
        ceiling_celsius: ceiling,
        heat: if found.ceiling_sentence.contains("lowest setting") {
            found.ceiling_sentence
        } else {
            format!(
                "Lowest setting first, about 10 seconds, feel, more only if needed. {}",
                found.ceiling_sentence
            )
        },
        order: if old.brittle() {
            "From the top down, so that remover and chips do not run over what is clean; one hand\u{2019}s breadth finished before the next.".into()
        } else if lifts {
            "From the edge of the film inwards, away from edges of the paint: there it lifts first."
                .into()
        } else {
            "From a top corner, low and slowly, always towards what is still warm.".into()
        },
        remover_ml: remover(old, residue),
        then: then(old, &own),
        cautions: cautions(old, &own, side_height_mm),
    }
}

fn never(old: &OldGraphic, under: &Surface, metal: bool, today: Date) -> Vec<String> {
    let mut says = Vec::new();
    if old.unknown_paint {
        says.push("Old or unknown paint may hold lead: no blade, no dry scraping and no sanding on it until it has been tested. The local rules for lead decide.".to_owned());
    }
    if !metal {
        says.push(format!(
            "No torch on {}: it is marked before the film is warm.",
            under.material.name()
        ));
    }
    match under.material {
        Material::Glass => says.push(
            "No heat at the edges of glass, nor on cold glass: it cracks from there.".into(),
        ),
        Material::Gelcoat => says.push(
            "No metal blade on gelcoat, and no heat that stays in one place: it crazes ahead of the heat.".into(),
        ),
        Material::LowEnergyPlastic | Material::TexturedPlastic | Material::Composite => says.push(
            "No remover on plastic or composite before it was tried where nobody sees it: some craze within seconds.".into(),
        ),
        Material::PaintedWood => says.push(
            "Nothing wet is left standing on wood: it creeps under the paint.".into(),
        ),
        Material::PaintedSteel | Material::PaintedAluminium => {
            says.push("No metal blade on paint.".into());
        }
        Material::BareAluminium | Material::Stainless => {}
    }
    if under.paint_is_fresh(today) {
        says.push("This paint has not cured, or nobody knows when it was sprayed: it comes off with the film. Talk to the owner before anything is pulled.".into());
    }
    says
}

fn ways(old: &OldGraphic, under: &Surface, ceiling: f64, metal: bool, unit: Unit) -> Vec<WayStep> {
    let step = |way: RemovalWay, heat: bool, says: String, why: String| WayStep {
        way,
        says,
        why,
        heat,
    };
    let aim = told(PULL_CELSIUS.min(ceiling), unit);
    let mut ways = Vec::new();
    if under.material == Material::Glass {
        ways.push(step(
            RemovalWay::WetScrape,
            false,
            "Soap and water on it, then a fresh razor scraper, flat, away from rubber and heating wires.".into(),
            "Glass takes a blade, not heat. Heating wires on the inside of a rear window take neither.".into(),
        ));
    } else if old.brittle() {
        ways.push(step(
            RemovalWay::ChipWarm,
            true,
            format!("Warm a hand\u{2019}s breadth to about {aim} and push it off with a plastic blade while it is warm."),
            match old.cold_corner {
                ColdCorner::Chips => "Its cold corner broke into chips.".into(),
                _ => format!(
                    "It is {:.0} years old, {}, {:.1} times what such film is made for. Try a cold corner: if it comes whole, say so and this changes.",
                    old.age_years,
                    old.faced.name(),
                    old.worn()
                ),
            },
        ));
    } else {
        let came = old.cold_corner == ColdCorner::Whole;
        let fails = old.cold_corner == ColdCorner::Tears;
        if !fails {
            ways.push(step(
                RemovalWay::PeelCold,
                false,
                "Lift a corner cold and pull slowly, folded back flat on itself.".into(),
                if came {
                    "Its cold corner came in one piece.".into()
                } else {
                    "Always first: what comes cold leaves least behind. If it tears, say so.".into()
                },
            ));
        }
        if metal && old.square_metres() >= LAMP_M2 && old.letters.is_none() {
            ways.push(step(
                RemovalWay::Lamp,
                true,
                format!("Infrared lamp in front of it until it reads {aim}, then pull the warm sheet at 45°."),
                "There is area enough for a lamp: it warms evenly what a gun warms in spots.".into(),
            ));
        }
        ways.push(step(
            RemovalWay::WarmAndPull,
            true,
            format!("Warm it to about {aim} and pull at 45°, steadily: adhesive that leaves with the film is not scrubbed later."),
            if fails {
                "Its cold corner tore.".into()
            } else {
                "Where cold is not enough.".into()
            },
        ));
        ways.push(step(
            RemovalWay::ChipWarm,
            true,
            "What breaks off is pushed off warm with a plastic blade.".into(),
            "For what is left at edges and rivet heads.".into(),
        ));
    }
    ways.push(step(
        RemovalWay::Remover,
        false,
        "Remover on what stayed, left as long as its sheet says, wiped off with a plastic spreader and a cloth; then cleaner.".into(),
        if old.kind.stays_put() {
            "Reflective film with an adhesive that is meant to stay leaves much of it: plan most of the time for this.".into()
        } else {
            "Film and adhesive are two jobs; the patch says how much of the second there is.".into()
        },
    ));
    ways
}

/// Remover by what stayed behind: ml for each m² of film (ours), the range a third either way; the patches replace the guess.
fn remover(old: &OldGraphic, residue: Option<f64>) -> [f64; 2] {
    let heavy = match old.kind {
        OldKind::RemovableReflective => 60.0,
        OldKind::PermanentReflective | OldKind::PrismaticStrip => 250.0,
        _ => 150.0,
    };
    let guess = if old.brittle() { 0.7 } else { 0.4 };
    let middle = heavy * old.square_metres() * residue.unwrap_or(guess);
    [middle * 2.0 / 3.0, middle * 4.0 / 3.0]
}

fn then(old: &OldGraphic, under: &Surface) -> Vec<String> {
    let mut says = vec![
        "Cleaner over all of it, wiped dry, and look along it in raking light: is a ghost left?"
            .to_owned(),
    ];
    if matches!(
        under.material,
        Material::PaintedSteel | Material::PaintedAluminium | Material::Gelcoat
    ) {
        says.push(if under.material == Material::Gelcoat {
            "Polish, no wax, before new film: chalk and ghost hold film badly.".into()
        } else {
            "Polish it before new film where a ghost is left; clean the polish off.".into()
        });
    }
    if old.kind.stays_put() {
        says.push("A required marking that comes off must be replaced before the vehicle goes back on the road.".into());
    }
    says
}

fn cautions(old: &OldGraphic, under: &Surface, side_height_mm: f64) -> Vec<String> {
    let mut says = vec![
        "No gun near fuel, tanks, vents, air bags, or anything wet with solvent; burns; film that smokes is far too hot: out of the fumes.".to_owned(),
        "Remover: its safety sheet, air through the bay, gloves, eyes; rags into a closed metal can.".into(),
        "Blades away from the hand, and never into seals, wiring or air bag covers.".into(),
    ];
    if under.material == Material::Gelcoat {
        says.push("On a boat: tank vent closed and no vapour in the bilge before any heat.".into());
    }
    if under.finish == Finish::Resprayed {
        says.push("Resprays lift with the film: pull slowly and low, stop at the first flake, photograph it, and ask.".into());
    }
    if side_height_mm - old.drop_mm.mm() > REACH_MM {
        says.push(
            "High up: a platform, not a ladder leant on the side; wheels chocked, keys out.".into(),
        );
    }
    if old.unknown_paint {
        says.push("Dust and chips of old paint are caught and not swept.".into());
    }
    says
}
