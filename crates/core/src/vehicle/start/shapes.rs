//! Shapes to start from, with what usually stands on them. Sizes are invented, no source.

use serde::{Deserialize, Serialize};

use crate::vehicle::side::words::SideKind;

pub(crate) const INCH: f64 = 25.4;

/// A starting shape of a side.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StartShape {
    /// Box body.
    BoxBody,
    /// Side of a semi-trailer.
    SemiTrailer,
    /// Its rear with two doors.
    RearDoors,
    /// Open utility trailer.
    UtilityTrailer,
    /// Enclosed cargo trailer.
    CargoTrailer,
    /// Travel trailer.
    TravelTrailer,
    /// Step van.
    StepVan,
    /// Panel van with recesses.
    PanelVan,
    /// Pickup's bed side.
    PickupBed,
    /// Pickup's door.
    PickupDoor,
    /// Car's side with two doors and its arches.
    CarSide,
    /// Car's door below its window.
    CarDoor,
    /// Car's hood.
    Hood,
    /// Car's roof.
    CarRoof,
    /// Car's tail.
    Tail,
    /// Bumper, bent in plan: the tape is bent round it.
    Bumper,
    /// Boat's side.
    HullSide,
    /// Boat's transom.
    Transom,
    /// Hopper.
    Hopper,
    /// Tank.
    Tank,
    /// Machine's cowl.
    MachineCowl,
    /// Snow machine's side.
    SnowMachineSide,
    /// Board.
    Board,
    /// Flat panel.
    FlatPanel,
}

impl StartShape {
    /// Every starting shape, in the order in which they are offered.
    pub const ALL: [StartShape; 24] = [
        StartShape::BoxBody,
        StartShape::SemiTrailer,
        StartShape::RearDoors,
        StartShape::UtilityTrailer,
        StartShape::CargoTrailer,
        StartShape::TravelTrailer,
        StartShape::StepVan,
        StartShape::PanelVan,
        StartShape::PickupBed,
        StartShape::PickupDoor,
        StartShape::CarSide,
        StartShape::CarDoor,
        StartShape::Hood,
        StartShape::CarRoof,
        StartShape::Tail,
        StartShape::Bumper,
        StartShape::HullSide,
        StartShape::Transom,
        StartShape::Hopper,
        StartShape::Tank,
        StartShape::MachineCowl,
        StartShape::SnowMachineSide,
        StartShape::Board,
        StartShape::FlatPanel,
    ];

    /// What it is called, and the kind of side it usually is.
    pub fn names(self) -> (&'static str, SideKind) {
        match self {
            StartShape::BoxBody => ("Box body", SideKind::Left),
            StartShape::SemiTrailer => ("Semi-trailer side", SideKind::Left),
            StartShape::RearDoors => ("Rear with two doors", SideKind::Rear),
            StartShape::UtilityTrailer => ("Utility trailer", SideKind::Left),
            StartShape::CargoTrailer => ("Cargo trailer", SideKind::Left),
            StartShape::TravelTrailer => ("Travel trailer", SideKind::Left),
            StartShape::StepVan => ("Step van", SideKind::Left),
            StartShape::PanelVan => ("Panel van with recesses", SideKind::Left),
            StartShape::PickupBed => ("Pickup bed", SideKind::Left),
            StartShape::PickupDoor => ("Pickup door", SideKind::Door),
            StartShape::CarSide => ("Car side", SideKind::Left),
            StartShape::CarDoor => ("Car door", SideKind::Door),
            StartShape::Hood => ("Car hood", SideKind::Hood),
            StartShape::CarRoof => ("Car roof", SideKind::Roof),
            StartShape::Tail => ("Car tail", SideKind::Tail),
            StartShape::Bumper => ("Bumper, tape bent round it", SideKind::Rear),
            StartShape::HullSide => ("Boat hull side", SideKind::Port),
            StartShape::Transom => ("Boat transom", SideKind::Transom),
            StartShape::Hopper => ("Hopper", SideKind::Left),
            StartShape::Tank => ("Tank", SideKind::Left),
            StartShape::MachineCowl => ("Machine cowl", SideKind::Left),
            StartShape::SnowMachineSide => ("Snow machine side", SideKind::Left),
            StartShape::Board => ("Board", SideKind::Other),
            StartShape::FlatPanel => ("Flat panel", SideKind::Other),
        }
    }
}
