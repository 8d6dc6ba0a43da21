//! Whether film goes on here at all: one verdict for a piece, which every stage obeys.
//!
//! What a surface refuses is common practice, no source. What no reason passes: glass that the driver looks through, lamps and reflectors that
//! the law requires, plates, exits, safety labels, sensors, vents.

use serde::{Deserialize, Serialize};
use time::Date;

use crate::art::Art;
use crate::film::classes::FilmClass;
use crate::ground::told::first_capital;
use crate::place::landing::HardwareState;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{Details, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredSide};
use crate::vehicle::surface::{DRIVERS_GLASS, FilmHold, Material};

/// Why film must not go on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Refusal {
    /// What refuses, and what to do.
    pub sentence: String,
    /// No reason passes it.
    pub never: bool,
}

/// What the surface, and what lies under a piece, say to film.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Verdict {
    /// Everything that refuses, what no reason passes first.
    pub refusals: Vec<Refusal>,
    /// Why the lead goes on all the same.
    pub overruled: Option<String>,
}

impl Verdict {
    /// What stops the work: what no reason passes, or anything as long as nobody has given one.
    pub fn stops(&self) -> Option<&Refusal> {
        self.refusals
            .iter()
            .find(|r| r.never || self.overruled.is_none())
    }
}

/// The verdict on a piece on a day.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::floor::verdict::verdict;
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{body::Body, measured::measure::measure, side::{Side, words::SideKind}, surface::{Material, Surface}};
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let today = time::Date::from_calendar_date(2026, time::Month::November, 26).unwrap();
/// // Film finds no hold on a polyethylene tank.
/// let side = measure(&Side::new(SideKind::Left, body, Surface::of(Material::LowEnergyPlastic)), &[]).unwrap();
/// let planned = plan_piece(Default::default(), &piece, &side, &WorkSettings::default(), Unit::InchSixteenth).unwrap();
/// let found = verdict(&planned, &side, today);
/// assert!(found.stops().is_some_and(|r| r.sentence.contains("low-energy plastic") && !r.never));
/// ```
pub fn verdict(planned: &PlannedPiece, side: &MeasuredSide, today: Date) -> Verdict {
    let surface = &side.side.surface;
    let mut refusals: Vec<Refusal> = surface
        .holds(today)
        .into_iter()
        .filter(|(hold, _)| *hold == FilmHold::No)
        .map(|(_, sentence)| Refusal {
            never: sentence == DRIVERS_GLASS,
            sentence,
        })
        .collect();
    if surface.material == Material::TexturedPlastic && planned.piece.film() != FilmClass::ThickKit
    {
        refusals.push(Refusal {
            sentence: format!(
                "{} finds no hold on textured plastic. Take the thick kit film that is made for it, under Hinge.",
                first_capital(planned.piece.film().name())
            ),
            never: false,
        });
    }
    // A print is cut out round what it meets, and a stripe keeps off it.
    if !matches!(planned.piece.art, Art::Panel(_)) {
        let lies_on = |area: &Area| {
            let mut met = planned.landing.hardware.iter();
            met.find(|h| h.name == area.name && h.state == HardwareState::OnIt)
        };
        let refused = side
            .hardware()
            .filter_map(|area| Some(covers(area, &lies_on(area)?.sentence)));
        refusals.extend(refused);
    }
    refusals.sort_by_key(|r| !r.never);
    Verdict {
        refusals,
        overruled: planned.piece.work.go_on.clone(),
    }
}

fn covers(area: &Area, told: &str) -> Refusal {
    let required = match area.details {
        Some(Details::Lamp { required, .. }) => required,
        Some(Details::Glass { driver }) => driver,
        _ => true,
    };
    let never = match area.kind {
        FeatureKind::Lamp | FeatureKind::Glass => required,
        FeatureKind::Rubber | FeatureKind::Waterline => false,
        kind => kind.never_covered().is_some(),
    };
    let why = match area.kind {
        FeatureKind::Glass if never => {
            " The driver looks through it. If nobody drives by it, say so under Look over."
        }
        _ => "",
    };
    Refusal {
        sentence: format!("{told}{why}"),
        never,
    }
}
