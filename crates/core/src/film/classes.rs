//! Film classes: how each sticks, what it stands, how it is pressed at rivets.
//!
//! Figures are common practice, no source, unless [`FilmFigures::from_memory`] names them; a film's own data sheet decides.

use serde::{Deserialize, Serialize};

/// How an adhesive takes hold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Adhesive {
    /// At once, wherever it touches: no air channels, no way back after the first inch.
    Solid,
    /// By pressure, with channels that let air out: slides and lifts until it is pressed.
    AirChannels,
    /// By heat: slides and lifts until it is warmed.
    HeatSet,
}

/// A class of film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FilmClass {
    /// Cut lettering vinyl on transfer tape.
    CutLettering,
    /// Cast print under cast laminate, with air channels.
    CastPrint,
    /// Cast print whose adhesive is set by heat.
    HeatSetPrint,
    /// Printable engineer-grade reflective.
    EngineerReflective,
    /// Wrap reflective, removable adhesive.
    RemovableReflective,
    /// Wrap reflective, permanent adhesive.
    PermanentReflective,
    /// Prismatic conspicuity strip.
    ConspicuityStrip,
    /// Thick laminated kit for textured plastic.
    ThickKit,
    /// Print for hulls.
    HullPrint,
    /// Colour-change cast film.
    ColourChange,
}

/// What a film class stands. Temperatures in °C, lengths in mm, stretch as a fraction.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FilmFigures {
    /// The class.
    pub class: FilmClass,
    /// What it is called.
    pub name: &'static str,
    /// Film and laminate together, mm.
    pub thickness_mm: f64,
    /// How it sticks.
    pub adhesive: Adhesive,
    /// Coldest at which it is fitted.
    pub fit_from_celsius: f64,
    /// Warmest at which it is fitted.
    pub fit_to_celsius: f64,
    /// It is kept under this stretch; 0 where it must not be stretched at all.
    pub stretch: f64,
    /// Whether it comes on transfer tape.
    pub transfer_tape: bool,
    /// Whether it is reflective in layers, which a roller at a rivet breaks.
    pub layered_reflective: bool,
    /// Which figures no practice was at hand for, in words; nothing where all are common practice.
    pub from_memory: Option<&'static str>,
}

const fn celsius(fahrenheit: f64) -> f64 {
    (fahrenheit - 32.0) / 1.8
}

/// One thousandth of an inch, mm.
const MIL: f64 = 0.0254;

impl FilmClass {
    /// Every class, in the order in which they are offered.
    pub const ALL: [FilmClass; 10] = [
        FilmClass::CutLettering,
        FilmClass::CastPrint,
        FilmClass::HeatSetPrint,
        FilmClass::EngineerReflective,
        FilmClass::RemovableReflective,
        FilmClass::PermanentReflective,
        FilmClass::ConspicuityStrip,
        FilmClass::ThickKit,
        FilmClass::HullPrint,
        FilmClass::ColourChange,
    ];

    /// What it stands.
    pub fn figures(self) -> FilmFigures {
        use Adhesive::{AirChannels, HeatSet, Solid};
        let plain = FilmFigures {
            class: self,
            name: "",
            thickness_mm: 4.0 * MIL,
            adhesive: AirChannels,
            fit_from_celsius: celsius(65.0),
            fit_to_celsius: celsius(75.0),
            stretch: 0.10,
            transfer_tape: false,
            layered_reflective: false,
            from_memory: None,
        };
        let cool = FilmFigures {
            fit_from_celsius: celsius(60.0),
            ..plain
        };
        match self {
            FilmClass::CutLettering => FilmFigures {
                name: "cut lettering vinyl",
                thickness_mm: 2.0 * MIL,
                adhesive: Solid,
                fit_from_celsius: celsius(50.0),
                fit_to_celsius: celsius(90.0),
                stretch: 0.05,
                transfer_tape: true,
                ..plain
            },
            FilmClass::CastPrint => FilmFigures {
                name: "cast print with air channels",
                ..plain
            },
            FilmClass::HeatSetPrint => FilmFigures {
                name: "cast print, set by heat",
                adhesive: HeatSet,
                fit_from_celsius: 15.0,
                fit_to_celsius: celsius(90.0),
                from_memory: Some("The warmest it is fitted at is our own figure."),
                ..plain
            },
            FilmClass::EngineerReflective => FilmFigures {
                name: "engineer-grade reflective",
                thickness_mm: 8.0 * MIL,
                adhesive: Solid,
                stretch: 0.05,
                layered_reflective: true,
                from_memory: Some(
                    "The temperatures it is fitted at and its stretch are our own figures.",
                ),
                ..cool
            },
            FilmClass::RemovableReflective => FilmFigures {
                name: "wrap reflective, removable",
                thickness_mm: 9.9 * MIL,
                layered_reflective: true,
                ..cool
            },
            FilmClass::PermanentReflective => FilmFigures {
                name: "wrap reflective, permanent",
                thickness_mm: 7.7 * MIL,
                layered_reflective: true,
                ..cool
            },
            FilmClass::ConspicuityStrip => FilmFigures {
                name: "prismatic conspicuity strip",
                thickness_mm: 14.0 * MIL,
                adhesive: Solid,
                fit_from_celsius: celsius(50.0),
                fit_to_celsius: celsius(100.0),
                stretch: 0.0,
                layered_reflective: true,
                from_memory: Some("Its thickness is from memory."),
                ..plain
            },
            FilmClass::ThickKit => FilmFigures {
                name: "thick laminated kit",
                thickness_mm: 16.0 * MIL,
                adhesive: Solid,
                fit_to_celsius: celsius(80.0),
                stretch: 0.0,
                from_memory: Some(
                    "Its thickness is from memory, the temperatures it is fitted at are our own figures.",
                ),
                ..cool
            },
            FilmClass::HullPrint => FilmFigures {
                name: "print for hulls",
                ..plain
            },
            FilmClass::ColourChange => FilmFigures {
                name: "colour-change cast",
                thickness_mm: 3.5 * MIL,
                ..plain
            },
        }
    }

    /// What it is called.
    pub fn name(self) -> &'static str {
        self.figures().name
    }
}
