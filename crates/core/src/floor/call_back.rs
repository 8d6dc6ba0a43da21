//! What came back: an edge that lifted, film that pulled out of a recess, and why; how often, and what the next plan is told.

use serde::{Deserialize, Serialize};
use statrs::distribution::{Beta, ContinuousCDF};
use uuid::Uuid;

use crate::film::classes::FilmClass;
use crate::ground::measure_error::{MeasureError, require};

/// What somebody came back with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CameBack {
    /// An edge lifted.
    LiftedEdge,
    /// Film pulled out of a recess or a channel.
    PulledOut,
    /// Air round rivets.
    RivetHalo,
    /// Hollow over a concave place.
    Hollow,
    /// Its colour is off.
    Colour,
    /// It faded or cracked.
    Fade,
}

/// Why, as it was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Cause {
    /// It never reached its temperature.
    NotHeated,
    /// It was bridged, or stretched too far.
    Bridged,
    /// No promoter where there should have been some.
    NoPromoter,
    /// The surface was not clean, or its paint let go.
    Surface,
    /// A pressure washer, a scraper, a knock.
    Knocked,
    /// The film itself.
    Film,
    /// Nobody knows.
    NotKnown,
}

impl CameBack {
    /// Every one, in the order in which they are offered.
    pub const ALL: [CameBack; 6] = [
        CameBack::LiftedEdge,
        CameBack::PulledOut,
        CameBack::RivetHalo,
        CameBack::Hollow,
        CameBack::Colour,
        CameBack::Fade,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            CameBack::LiftedEdge => "an edge lifted",
            CameBack::PulledOut => "it pulled out of a recess",
            CameBack::RivetHalo => "air round rivets",
            CameBack::Hollow => "hollow over a concave place",
            CameBack::Colour => "its colour is off",
            CameBack::Fade => "faded or cracked",
        }
    }
}

impl Cause {
    /// Every one, in the order in which they are offered.
    pub const ALL: [Cause; 7] = [
        Cause::NotKnown,
        Cause::NotHeated,
        Cause::Bridged,
        Cause::NoPromoter,
        Cause::Surface,
        Cause::Knocked,
        Cause::Film,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Cause::NotHeated => "it never reached its temperature",
            Cause::Bridged => "bridged, or stretched too far",
            Cause::NoPromoter => "no promoter there",
            Cause::Surface => "the surface under it",
            Cause::Knocked => "pressure washer, scraper or knock",
            Cause::Film => "the film itself",
            Cause::NotKnown => "not known",
        }
    }

    /// What the next plan with such film is told.
    pub fn next_time(self) -> &'static str {
        match self {
            Cause::NotHeated => "read every inch of it behind the heat",
            Cause::Bridged => "press it in from the middle, or lay it in two pieces",
            Cause::NoPromoter => "promoter there, and its wait",
            Cause::Surface => "clean again and read the surface before it goes on",
            Cause::Knocked => "tell the owner about pressure and scrapers",
            Cause::Film => "another lot, or another film",
            Cause::NotKnown => "look twice there",
        }
    }
}

/// What came back. What it is tied to is filled in by the server.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CallBack {
    /// What.
    pub seen: CameBack,
    /// Why.
    pub cause: Cause,
    /// Where on the piece, in words.
    pub place: String,
    /// Its run of heat, where it lies at one.
    #[serde(default)]
    pub run: Option<String>,
    /// Anything else.
    #[serde(default)]
    pub note: String,
    /// A photo of it.
    #[serde(default)]
    pub photo: Option<Uuid>,
    /// The class of its film.
    #[serde(default)]
    pub class: Option<FilmClass>,
    /// What its film is called.
    #[serde(default)]
    pub film: String,
    /// Lots that it was cut from.
    #[serde(default)]
    pub lots: Vec<String>,
    /// Whether the run there, or all of the piece, was known to have reached its temperature; nothing where nobody measured.
    #[serde(default)]
    pub reached: Option<bool>,
    /// Days since it was laid.
    #[serde(default)]
    pub days: Option<u32>,
}

/// Longest place and note, in characters.
const LONGEST: usize = 300;

impl CallBack {
    /// Checks what was said.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        require(
            (2..=LONGEST).contains(&self.place.trim().chars().count()),
            "place",
            "Where on it? In 2 to 300 characters: lower rear corner, recess 1.",
        )?;
        require(
            self.note.chars().count() <= LONGEST,
            "note",
            "That is too long: 300 characters at most.",
        )
    }
}

/// How often something came back.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CameBackRate {
    /// Of what.
    pub of: String,
    /// Pieces that came back.
    pub back: u32,
    /// Pieces in all.
    pub all: u32,
    /// Between these shares in 9 cases of 10.
    pub between: [f64; 2],
    /// In a sentence.
    pub says: String,
}

/// How often, with an honest range: Jeffreys' interval, the 5th and the 95th of a hundred of Beta(back + 1/2, all - back + 1/2); at none and at all its open
/// end is 0 or 1 (Brown, Cai and DasGupta, Statistical Science 2001, from memory).
///
/// ```
/// # use windrift_core::floor::call_back::rate;
/// let none = rate("cast print", 0, 5);
/// // None of five says little: up to a third may come back.
/// assert!(none.between[0] == 0.0 && none.between[1] > 0.2 && none.says.contains("say little"));
/// ```
pub fn rate(of: &str, back: u32, all: u32) -> CameBackRate {
    let back = back.min(all);
    let quantile = |p: f64| {
        Beta::new(f64::from(back) + 0.5, f64::from(all - back) + 0.5)
            .map_or(p, |beta| beta.inverse_cdf(p))
    };
    let low = if back == 0 { 0.0 } else { quantile(0.05) };
    let high = if back == all { 1.0 } else { quantile(0.95) };
    let percent = |share: f64| format!("{:.0}", share * 100.0);
    let says = if all == 0 {
        format!("{of}: none was laid yet.")
    } else {
        format!(
            "{of}: {back} of {all}, between {} and {} % in 9 cases of 10{}",
            percent(low),
            percent(high),
            if high - low > 0.15 {
                "; so few say little."
            } else {
                "."
            }
        )
    };
    CameBackRate {
        of: of.to_owned(),
        back,
        all,
        between: [low, high],
        says,
    }
}
