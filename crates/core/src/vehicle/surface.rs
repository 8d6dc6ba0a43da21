//! What a side is made of and how its paint is, and what follows: do magnets hold, does film hold, how hot may it get.
//!
//! Sources: magnets hold on steel only, textured and low-energy plastics refuse ordinary film, resprays lift, new paint cures at
//! least six weeks before film (common practice, no source). The heat ceilings are Windrift's own cautious figures, not
//! published; the film's and the vehicle's data sheets decide.

use serde::{Deserialize, Serialize};
use time::{Date, Duration};

use crate::ground::measure_error::{MeasureError, require};

/// What a side is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Material {
    /// Painted steel.
    PaintedSteel,
    /// Stainless steel.
    Stainless,
    /// Aluminium without paint.
    BareAluminium,
    /// Painted aluminium.
    PaintedAluminium,
    /// Gelcoat over fibreglass.
    Gelcoat,
    /// Composite panel.
    Composite,
    /// Polyethylene, polypropylene and other low-energy plastics.
    LowEnergyPlastic,
    /// Textured plastic.
    TexturedPlastic,
    /// Glass.
    Glass,
    /// Painted wood.
    PaintedWood,
}

/// How the paint or gelcoat is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Finish {
    /// As the maker left it, or none.
    #[default]
    Original,
    /// Sprayed again.
    Resprayed,
    /// Chalky.
    Oxidised,
}

/// What lies against a skin from behind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Behind {
    /// Nothing: air.
    Air,
    /// Foam, glued to it.
    Foam,
    /// Plywood or another core of wood, glued to it.
    Wood,
}

impl Behind {
    /// Every one, in the order in which they are offered.
    pub const ALL: [Behind; 3] = [Behind::Air, Behind::Foam, Behind::Wood];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Behind::Air => "nothing, air",
            Behind::Foam => "foam, glued on",
            Behind::Wood => "plywood, glued on",
        }
    }

    /// How hot core and glue may get, °C: Windrift's own cautious figure, and why.
    fn ceiling(self) -> Option<(u32, &'static str)> {
        match self {
            Behind::Air => None,
            Behind::Foam => Some((80, "Foam behind the skin and its glue let go")),
            Behind::Wood => Some((90, "The glue of the wood behind the skin lets go")),
        }
    }
}

/// Years in which what stands outside can have been sprayed.
const SPRAYED_YEARS: std::ops::RangeInclusive<i32> = 1950..=2200;

/// Thinnest and thickest skin, mm.
const SKIN_MM: std::ops::RangeInclusive<f64> = 0.3..=30.0;

/// The surface of a side.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Surface {
    /// What it is made of.
    pub material: Material,
    /// How its paint is.
    pub finish: Finish,
    /// The day on which it was sprayed, where it was sprayed again.
    #[serde(default)]
    pub sprayed_on: Option<Date>,
    /// Whether new sheet still carries its clear protective skin.
    #[serde(default)]
    pub protective_skin: bool,
    /// Whether the driver looks through it, where it is glass. Nobody having said so, he does.
    #[serde(default = "looks_through")]
    pub driver_looks_through: bool,
    /// What lies behind its skin; nothing where nobody looked.
    #[serde(default)]
    pub behind: Option<Behind>,
    /// How thick its skin is, mm, where it is not the usual one.
    #[serde(default)]
    pub skin_mm: Option<f64>,
}

fn looks_through() -> bool {
    true
}

impl Default for Surface {
    fn default() -> Self {
        Surface::of(Material::PaintedAluminium)
    }
}

/// Whether film holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FilmHold {
    /// It holds once the surface is clean.
    Holds,
    /// It holds when what is said is done first.
    WithCare,
    /// It does not hold, or must wait.
    No,
}

/// What follows from a surface.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SurfaceVerdict {
    /// Whether magnets hold a piece up here.
    pub magnets: bool,
    /// What to hold it up with, in a sentence.
    pub magnets_sentence: String,
    /// Whether film holds.
    pub film: FilmHold,
    /// Why, and what to do first: one sentence each, the weightiest first.
    pub film_sentences: Vec<String>,
    /// How hot the surface may get, °C. Windrift's own figure.
    pub ceiling_celsius: u32,
    /// How to heat it, in a sentence, with where the figure comes from.
    pub ceiling_sentence: String,
}

/// What is said of glass that the driver looks through: no reason passes it.
pub const DRIVERS_GLASS: &str = "The driver looks through this glass: no film on it. If nobody drives by it, say so under Look over, Surface.";

/// Weeks that new paint cures before film (common practice, no source: at least six).
pub const CURE_WEEKS: i64 = 6;

impl Material {
    /// Every material, in the order in which they are offered.
    pub const ALL: [Material; 10] = [
        Material::PaintedSteel,
        Material::PaintedAluminium,
        Material::BareAluminium,
        Material::Stainless,
        Material::Gelcoat,
        Material::Composite,
        Material::LowEnergyPlastic,
        Material::TexturedPlastic,
        Material::Glass,
        Material::PaintedWood,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Material::PaintedSteel => "painted steel",
            Material::Stainless => "stainless steel",
            Material::BareAluminium => "bare aluminium",
            Material::PaintedAluminium => "painted aluminium",
            Material::Gelcoat => "gelcoat",
            Material::Composite => "composite panel",
            Material::LowEnergyPlastic => "polyethylene or other low-energy plastic",
            Material::TexturedPlastic => "textured plastic",
            Material::Glass => "glass",
            Material::PaintedWood => "painted wood",
        }
    }

    /// How hot it may get, °C: Windrift's own cautious figure, and why.
    fn ceiling(self) -> (u32, &'static str) {
        match self {
            Material::PaintedSteel | Material::PaintedAluminium => {
                (110, "Metal under sound paint stands most heat")
            }
            Material::Stainless | Material::BareAluminium => (120, "Bare metal stands most heat"),
            Material::Gelcoat => (
                70,
                "Gelcoat blisters and marks: lowest setting, about 10 seconds, feel, more only if needed",
            ),
            Material::Composite => (80, "The skin of a panel lets go of its core"),
            Material::LowEnergyPlastic => (70, "Low-energy plastic softens early"),
            Material::TexturedPlastic => (90, "Plastic marks and sags: keep the heat moving"),
            Material::Glass => (60, "Glass cracks from its edges when one place gets hot"),
            Material::PaintedWood => (70, "Wood dries, and its paint lets go"),
        }
    }
}

impl Finish {
    /// Every finish.
    pub const ALL: [Finish; 3] = [Finish::Original, Finish::Resprayed, Finish::Oxidised];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Finish::Original => "original",
            Finish::Resprayed => "sprayed again",
            Finish::Oxidised => "chalky, oxidised",
        }
    }
}

impl Surface {
    /// A sound surface of this material.
    pub fn of(material: Material) -> Surface {
        Surface {
            material,
            finish: Finish::Original,
            sprayed_on: None,
            protective_skin: false,
            driver_looks_through: looks_through(),
            behind: None,
            skin_mm: None,
        }
    }

    /// Checks that the parts fit together.
    pub fn check(&self) -> Result<(), MeasureError> {
        require(
            self.sprayed_on.is_none() || self.finish == Finish::Resprayed,
            "sprayed_on",
            "A day of spraying belongs to paint that was sprayed again. Say so, or leave the day out.",
        )?;
        // A year of one to three digits is one that is still being typed: as an age it would call fresh paint cured.
        require(
            self.sprayed_on == self.day_sprayed(),
            "sprayed_on",
            "This day of spraying is no day of ours. Type its year in four digits, 1950 or later.",
        )?;
        require(
            self.skin_mm.is_none_or(|mm| SKIN_MM.contains(&mm)),
            "skin_mm",
            "A skin is 0.3 to 30 mm thick (about 1/64 to 1 3/16 in). Measure it at an edge or a hole, or leave it out.",
        )
    }

    /// The day of spraying where it can be one.
    fn day_sprayed(&self) -> Option<Date> {
        self.sprayed_on
            .filter(|day| SPRAYED_YEARS.contains(&day.year()))
    }

    /// Whether paint that was sprayed again has not cured yet on a day; an unknown day counts as fresh.
    pub fn paint_is_fresh(&self, today: Date) -> bool {
        let cured = |day: Date| {
            day.checked_add(Duration::weeks(CURE_WEEKS))
                .is_some_and(|ready| today >= ready)
        };
        self.finish == Finish::Resprayed && !self.day_sprayed().is_some_and(cured)
    }

    /// What follows from this surface on a day.
    pub fn verdict(&self, today: Date) -> SurfaceVerdict {
        let magnets = self.material == Material::PaintedSteel;
        let magnets_sentence = if magnets {
            "Magnets hold a piece up here.".to_owned()
        } else {
            format!(
                "No magnet holds on {}. Hold the piece up with tape.",
                self.material.name()
            )
        };
        let (film, film_sentences) = self.film(today);
        let (ceiling, why) = self.ceiling();
        SurfaceVerdict {
            magnets,
            magnets_sentence,
            film,
            film_sentences,
            ceiling_celsius: ceiling,
            ceiling_sentence: format!(
                "{why}. At most {ceiling} °C ({:.0} °F) at the surface: Windrift's own figure, the data sheets decide.",
                f64::from(ceiling) * 1.8 + 32.0
            ),
        }
    }

    /// How hot it may get, °C, and why: one figure for choosing film, stripping and heating alike.
    fn ceiling(&self) -> (u32, &'static str) {
        let own = match self.material.ceiling() {
            (ceiling, _) if self.finish == Finish::Resprayed && ceiling > 80 => {
                (80, "Sprayed paint lifts with the film")
            }
            ceiling => ceiling,
        };
        match self.behind.and_then(Behind::ceiling) {
            Some(behind) if behind.0 < own.0 => behind,
            _ => own,
        }
    }

    /// How hot it may get, °C: Windrift's own cautious figure.
    pub fn ceiling_celsius(&self) -> u32 {
        self.ceiling().0
    }

    /// Whether film holds on a day, and why: the worst, and every reason.
    fn film(&self, today: Date) -> (FilmHold, Vec<String>) {
        let held = self.holds(today);
        let worst = |wanted: FilmHold| held.iter().any(|(hold, _)| *hold == wanted);
        let hold = if worst(FilmHold::No) {
            FilmHold::No
        } else if worst(FilmHold::WithCare) {
            FilmHold::WithCare
        } else {
            FilmHold::Holds
        };
        (hold, held.into_iter().map(|(_, why)| why).collect())
    }

    /// Everything that the surface says to film on a day, each with how it weighs.
    pub fn holds(&self, today: Date) -> Vec<(FilmHold, String)> {
        let mut told: Vec<(FilmHold, String)> = Vec::new();
        let worse = |to: FilmHold, sentence: String, told: &mut Vec<(FilmHold, String)>| {
            told.push((to, sentence));
        };
        if self.protective_skin {
            worse(
                FilmHold::No,
                "The clear protective skin is still on the sheet. Peel it off first.".into(),
                &mut told,
            );
        }
        if self.finish == Finish::Resprayed {
            match self.day_sprayed() {
                None => worse(
                    FilmHold::No,
                    format!(
                        "Nobody knows when it was sprayed. New paint cures at least {CURE_WEEKS} weeks before film: ask for the day."
                    ),
                    &mut told,
                ),
                Some(day) => {
                    let ready = day
                        .checked_add(Duration::weeks(CURE_WEEKS))
                        .unwrap_or(Date::MAX);
                    if today < ready {
                        worse(
                            FilmHold::No,
                            format!(
                                "Sprayed on {day}: no film before {ready}, {CURE_WEEKS} weeks later."
                            ),
                            &mut told,
                        );
                    } else {
                        worse(
                            FilmHold::WithCare,
                            "It was sprayed again, and such paint can lift with the film. Try a corner and tell the owner.".into(),
                            &mut told,
                        );
                    }
                }
            }
        }
        match self.material {
            Material::LowEnergyPlastic => worse(
                FilmHold::No,
                "Film finds no hold on low-energy plastic. Cut short of it, or use a film made for it.".into(),
                &mut told,
            ),
            Material::Glass if self.driver_looks_through => worse(
                FilmHold::No,
                DRIVERS_GLASS.into(),
                &mut told,
            ),
            Material::TexturedPlastic => worse(
                FilmHold::WithCare,
                "Only film made for texture holds here: roller, more heat, two passes.".into(),
                &mut told,
            ),
            Material::PaintedWood if self.finish != Finish::Resprayed => worse(
                FilmHold::WithCare,
                "Film holds on wood only over sealed gloss or semi-gloss paint. Look for bare edges.".into(),
                &mut told,
            ),
            _ => {}
        }
        if self.finish == Finish::Oxidised {
            let what = if self.material == Material::Gelcoat {
                "gelcoat"
            } else {
                "surface"
            };
            worse(
                FilmHold::WithCare,
                format!("The {what} is chalky. Clean and polish it first, no wax."),
                &mut told,
            );
        }
        if told.is_empty() {
            told.push((
                FilmHold::Holds,
                "Film holds here once it is clean and dry.".into(),
            ));
        }
        told
    }
}
