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
    /// Kept under this stretch both ways at once, as over a rivet or a corner: half of the other, which is ours.
    pub two_way_stretch: f64,
    /// Formed at, °C, where it is formed with heat.
    pub form: Option<Span>,
    /// Heated to once it lies, °C, where it is: recesses, curves, edges and laps.
    pub post_heat: Option<Span>,
    /// Never warmer than this: [`HOTTEST_CELSIUS`] unless its own sheet says less.
    pub ceiling_celsius: f64,
    /// How far one panel laps over the next, mm; nothing where panels butt or none are wanted.
    pub lap_mm: Option<Span>,
    /// Hours until it has set.
    pub sets_hours: f64,
    /// Days until it may be washed first.
    pub first_wash_days: f64,
    /// Its liner mark must point the same way on every piece.
    pub directional: bool,
    /// Whether it comes off cleanly later, where the class says so.
    pub removable: Option<bool>,
    /// Whether it is printed on.
    pub printable: bool,
    /// Whether it may be laid wet.
    pub wet: bool,
    /// Years that it lasts upright, printed where it is a print; nothing where no practice was at hand.
    pub upright_years: Option<f64>,
    /// Whether a coat goes over it once it lies: only where its own sheet says so.
    pub aftercare_coat: bool,
    /// Which figures no practice was at hand for, in words; nothing where all are common practice.
    pub from_memory: Option<&'static str>,
}

/// From and to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Span {
    /// From.
    pub from: f64,
    /// To.
    pub to: f64,
}

/// No film is planned warmer than this, °C (ours): from about 180 it gives off fumes.
pub const HOTTEST_CELSIUS: f64 = 150.0;

/// One inch, mm.
const INCH: f64 = 25.4;

/// Temperatures as the trade tells them, °F.
const fn fahrenheit(from: f64, to: f64) -> Option<Span> {
    Some(Span {
        from: celsius(from),
        to: celsius(to),
    })
}

/// Millimetres from and to.
const fn lap(from: f64, to: f64) -> Option<Span> {
    Some(Span { from, to })
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

    /// Whether it is cut for the colour that it has: a print is of any, a strip for marking is laid out by its rules.
    pub fn is_cut_for_its_colour(self) -> bool {
        !matches!(
            self,
            FilmClass::CastPrint
                | FilmClass::HeatSetPrint
                | FilmClass::HullPrint
                | FilmClass::ConspicuityStrip
        )
    }

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
            two_way_stretch: 0.05,
            form: fahrenheit(120.0, 140.0),
            post_heat: fahrenheit(185.0, 195.0),
            ceiling_celsius: HOTTEST_CELSIUS,
            lap_mm: lap(INCH / 2.0, INCH),
            sets_hours: 48.0,
            first_wash_days: 3.0,
            directional: false,
            removable: None,
            printable: true,
            wet: false,
            upright_years: Some(5.0),
            aftercare_coat: false,
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
                two_way_stretch: 0.025,
                form: None,
                post_heat: fahrenheit(190.0, 190.0),
                lap_mm: None,
                sets_hours: 24.0,
                printable: false,
                wet: true,
                upright_years: Some(8.0),
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
                form: fahrenheit(105.0, 120.0),
                post_heat: fahrenheit(194.0, 194.0),
                lap_mm: lap(20.0, 30.0),
                sets_hours: 24.0,
                from_memory: Some(
                    "The warmest it is fitted at and the hours until it has set are our own figures.",
                ),
                ..plain
            },
            FilmClass::EngineerReflective => FilmFigures {
                name: "engineer-grade reflective",
                thickness_mm: 8.0 * MIL,
                adhesive: Solid,
                stretch: 0.05,
                two_way_stretch: 0.025,
                form: None,
                post_heat: fahrenheit(230.0, 248.0),
                lap_mm: lap(INCH / 4.0, INCH / 2.0),
                sets_hours: 72.0,
                directional: true,
                layered_reflective: true,
                from_memory: Some(
                    "The temperatures it is fitted at and its stretch are our own figures.",
                ),
                ..cool
            },
            FilmClass::RemovableReflective => FilmFigures {
                name: "wrap reflective, removable",
                thickness_mm: 9.9 * MIL,
                form: None,
                post_heat: fahrenheit(175.0, 195.0),
                lap_mm: lap(INCH, INCH),
                sets_hours: 24.0,
                directional: true,
                removable: Some(true),
                layered_reflective: true,
                ..cool
            },
            FilmClass::PermanentReflective => FilmFigures {
                name: "wrap reflective, permanent",
                thickness_mm: 7.7 * MIL,
                form: None,
                post_heat: fahrenheit(175.0, 195.0),
                lap_mm: lap(INCH, INCH),
                sets_hours: 24.0,
                directional: true,
                removable: Some(false),
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
                two_way_stretch: 0.0,
                form: None,
                post_heat: None,
                lap_mm: None,
                sets_hours: 24.0,
                printable: false,
                upright_years: None,
                layered_reflective: true,
                from_memory: Some(
                    "Its thickness is from memory, the hours until it has set are our own figure.",
                ),
                ..plain
            },
            FilmClass::ThickKit => FilmFigures {
                name: "thick laminated kit",
                thickness_mm: 16.0 * MIL,
                adhesive: Solid,
                fit_to_celsius: celsius(80.0),
                stretch: 0.0,
                two_way_stretch: 0.0,
                form: None,
                post_heat: None,
                lap_mm: None,
                sets_hours: 24.0,
                upright_years: None,
                from_memory: Some(
                    "Its thickness is from memory, the temperatures it is fitted at are our own figures.",
                ),
                ..cool
            },
            FilmClass::HullPrint => FilmFigures {
                name: "print for hulls",
                post_heat: fahrenheit(150.0, 180.0),
                sets_hours: 72.0,
                from_memory: Some("The hours before water are our own figure."),
                ..plain
            },
            FilmClass::ColourChange => FilmFigures {
                name: "colour-change cast",
                lap_mm: None,
                printable: false,
                upright_years: Some(8.0),
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
