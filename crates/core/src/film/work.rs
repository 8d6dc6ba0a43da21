//! How a piece is to be worked, as the crew settles it: film, people, weather, wet or dry, hinge.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::film::classes::FilmClass;
use crate::film::stocked::ChosenFilm;
use crate::ground::told::Told;

/// Wet or dry.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WetOrDry {
    /// With application fluid.
    Wet,
    /// Without.
    Dry,
}

/// A way of hinging a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HingeKind {
    /// Tape along the whole upper edge.
    Top,
    /// Tape along one upright edge.
    Side,
    /// Tape down the middle: one half, the tape away, the other half.
    Centre,
    /// A strip of liner cut out of the middle, and the film there stuck down as the hinge.
    LinerWindow,
    /// A tab of tape at each upper corner.
    CornerTabs,
    /// Magnets.
    Magnets,
    /// One firm stroke on exposed adhesive.
    Pressed,
    /// All liner off, two people hold it taut.
    Float,
}

impl HingeKind {
    /// Every hinge.
    pub const ALL: [HingeKind; 8] = [
        HingeKind::Top,
        HingeKind::Side,
        HingeKind::Centre,
        HingeKind::LinerWindow,
        HingeKind::CornerTabs,
        HingeKind::Magnets,
        HingeKind::Pressed,
        HingeKind::Float,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            HingeKind::Top => "top hinge",
            HingeKind::Side => "side hinge",
            HingeKind::Centre => "centre hinge",
            HingeKind::LinerWindow => "liner window",
            HingeKind::CornerTabs => "corner tabs",
            HingeKind::Magnets => "magnets",
            HingeKind::Pressed => "pressed hinge",
            HingeKind::Float => "float by two",
        }
    }

    /// What is done once both ends read right.
    pub fn then(self) -> &'static str {
        match self {
            HingeKind::Top => "Tape the top edge",
            HingeKind::Side => "Tape the upright edge",
            HingeKind::Centre => "Tape it down the middle",
            HingeKind::LinerWindow => "Cut the window, take its liner out and press the strip",
            HingeKind::CornerTabs => "Its tabs hold it",
            HingeKind::Magnets => "Its magnets hold it",
            HingeKind::Pressed => "Press its upper edge with one firm stroke",
            HingeKind::Float => "Take the liner off, two holding it",
        }
    }

    /// Whether it needs tape on the vehicle.
    pub(crate) fn tape(self) -> bool {
        matches!(
            self,
            HingeKind::Top | HingeKind::Side | HingeKind::Centre | HingeKind::CornerTabs
        )
    }
}

/// Which way panels stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Stand {
    /// Upright, side by side: joins run from top to foot.
    Upright,
    /// Lying, one over the other: joins run along the vehicle.
    Lying,
}

/// One line of a feature of a side.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GapAt {
    /// The feature.
    pub feature: Uuid,
    /// Its number in it, from 1.
    pub number: u32,
}

/// Most gaps at which one print is parted.
pub const MOST_GAPS: usize = 12;

/// Somebody's own choice against the ranking, with why.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Overruled {
    /// The hinge that is used.
    pub kind: HingeKind,
    /// Why, as it was typed.
    pub reason: String,
}

/// How a piece is to be worked: settled by the crew for each piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Work {
    /// Film; the usual one for its kind where nothing is said.
    #[serde(default)]
    pub film: Option<FilmClass>,
    /// The film of the shelf that it is made of; its class stands in place of `film`.
    #[serde(default)]
    pub chosen: Option<ChosenFilm>,
    /// Which way the panels of a print stand, where the crew has settled it.
    #[serde(default)]
    pub stand: Option<Stand>,
    /// Gaps at which a print is parted: each part is made in panels by itself.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parted_at: Vec<GapAt>,
    /// People, 1 or 2.
    #[serde(default = "one")]
    pub crew: u8,
    /// Air and surface, °C, where it was read.
    #[serde(default)]
    pub celsius: Option<f64>,
    /// Wet or dry, where the crew has settled it.
    #[serde(default)]
    pub way: Option<WetOrDry>,
    /// A hinge of the crew's own choice.
    #[serde(default)]
    pub hinge: Option<Overruled>,
    /// Why film goes on although the surface refuses it, in the lead's words.
    #[serde(default)]
    pub go_on: Option<String>,
}

pub(crate) fn one() -> u8 {
    1
}

impl Default for Work {
    fn default() -> Self {
        Work {
            film: None,
            chosen: None,
            stand: None,
            parted_at: Vec::new(),
            crew: 1,
            celsius: None,
            way: None,
            hinge: None,
            go_on: None,
        }
    }
}

impl Work {
    /// Whether it can be worked with.
    ///
    /// Errors: the field that cannot, and why.
    pub fn check(&self) -> Result<(), Told> {
        if !(1..=2).contains(&self.crew) {
            return Err(
                Told::new("work", "One or two people work on a piece. Say 1 or 2.").at("/crew"),
            );
        }
        if self.celsius.is_some_and(|c| !(-30.0..=60.0).contains(&c)) {
            return Err(Told::new(
                "work",
                "A temperature from -30 to 60 \u{b0}C can be worked with. Read it again.",
            )
            .at("/celsius"));
        }
        if let Some(chosen) = &self.chosen {
            chosen.film.check().map_err(|told| told.at("/chosen"))?;
        }
        if self.parted_at.len() > MOST_GAPS {
            return Err(Told::new(
                "work",
                format!("A print is parted at {MOST_GAPS} gaps at most. Lay it out as two."),
            )
            .at("/parted_at"));
        }
        let few = |text: &str| !(3..=300).contains(&text.trim().chars().count());
        if self.go_on.as_deref().is_some_and(few) {
            return Err(Told::new(
                "work",
                "Say in a few words why film goes on all the same: it stays with the piece and in the record.",
            )
            .at("/go_on"));
        }
        if let Some(own) = &self.hinge {
            let words = own.reason.trim().chars().count();
            if !(3..=300).contains(&words) {
                return Err(Told::new(
                    "work",
                    "Say in a few words why this hinge is used: it stays with the piece.",
                )
                .at("/reason"));
            }
        }
        Ok(())
    }
}
