//! Kinds of vehicle, and the sides that a new job starts from until they are measured.

use serde::{Deserialize, Serialize};

use crate::vehicle::feature::Feature;
use crate::vehicle::side::Side;
use crate::vehicle::side::words::SideKind;
use crate::vehicle::start::shapes::StartShape;

/// A kind of vehicle, boat or machine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum VehicleKind {
    /// A short box on a van or small truck.
    DeliveryBox,
    /// A box body on a truck.
    BoxTruck,
    /// A long box on a semi-trailer.
    SemiTrailer,
    /// An open utility trailer.
    UtilityTrailer,
    /// An enclosed cargo trailer.
    CargoTrailer,
    /// A travel trailer.
    TravelTrailer,
    /// A step van.
    StepVan,
    /// A panel van.
    PanelVan,
    /// A pickup.
    Pickup,
    /// A car.
    Car,
    /// A boat.
    Boat,
    /// A hopper or spreader.
    Hopper,
    /// A tank.
    Tank,
    /// A snow machine.
    SnowMachine,
    /// A machine.
    Machine,
    /// A board or a sign.
    Board,
}

impl VehicleKind {
    /// Every kind, in the order in which they are offered.
    pub const ALL: [VehicleKind; 16] = [
        VehicleKind::DeliveryBox,
        VehicleKind::BoxTruck,
        VehicleKind::SemiTrailer,
        VehicleKind::UtilityTrailer,
        VehicleKind::CargoTrailer,
        VehicleKind::TravelTrailer,
        VehicleKind::StepVan,
        VehicleKind::PanelVan,
        VehicleKind::Pickup,
        VehicleKind::Car,
        VehicleKind::Boat,
        VehicleKind::Hopper,
        VehicleKind::Tank,
        VehicleKind::SnowMachine,
        VehicleKind::Machine,
        VehicleKind::Board,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            VehicleKind::DeliveryBox => "Delivery box",
            VehicleKind::BoxTruck => "Box truck",
            VehicleKind::SemiTrailer => "Semi-trailer",
            VehicleKind::UtilityTrailer => "Utility trailer",
            VehicleKind::CargoTrailer => "Cargo trailer",
            VehicleKind::TravelTrailer => "Travel trailer",
            VehicleKind::StepVan => "Step van",
            VehicleKind::PanelVan => "Panel van",
            VehicleKind::Pickup => "Pickup",
            VehicleKind::Car => "Car",
            VehicleKind::Boat => "Boat",
            VehicleKind::Hopper => "Hopper or spreader",
            VehicleKind::Tank => "Tank",
            VehicleKind::SnowMachine => "Snow machine",
            VehicleKind::Machine => "Machine",
            VehicleKind::Board => "Board or sign",
        }
    }

    /// The sides that a job of this kind starts with.
    pub fn sides(self) -> Vec<(Side, Vec<Feature>)> {
        use SideKind::*;
        let both = |shape: StartShape| [shape.start(Left), shape.start(Right)];
        match self {
            VehicleKind::DeliveryBox => {
                let mut sides = both(StartShape::BoxBody).to_vec();
                for (side, _) in &mut sides {
                    side.body = crate::vehicle::body::Body::Box {
                        length_mm: (144.0 * 25.4).into(),
                        height_mm: (78.0 * 25.4).into(),
                        fall_mm: 0.0.into(),
                    };
                }
                sides
            }
            VehicleKind::BoxTruck => both(StartShape::BoxBody).to_vec(),
            VehicleKind::SemiTrailer => {
                let [left, right] = both(StartShape::SemiTrailer);
                vec![left, right, StartShape::RearDoors.start(Rear)]
            }
            VehicleKind::UtilityTrailer => both(StartShape::UtilityTrailer).to_vec(),
            VehicleKind::CargoTrailer => {
                let [left, right] = both(StartShape::CargoTrailer);
                vec![left, right, StartShape::RearDoors.start(Rear)]
            }
            VehicleKind::TravelTrailer => both(StartShape::TravelTrailer).to_vec(),
            VehicleKind::StepVan => both(StartShape::StepVan).to_vec(),
            VehicleKind::PanelVan => both(StartShape::PanelVan).to_vec(),
            VehicleKind::Pickup => {
                let [left, right] = both(StartShape::PickupBed);
                let (driver, handle) = StartShape::PickupDoor.start(Door);
                let driver = Side {
                    called: Some("left door".into()),
                    ..driver
                };
                let other = Side {
                    called: Some("right door".into()),
                    ..driver.mirrored().unwrap_or_else(|| driver.clone())
                };
                vec![left, right, (driver, handle.clone()), (other, handle)]
            }
            VehicleKind::Car => vec![
                StartShape::CarSide.start(Left),
                StartShape::CarSide.start(Right),
                StartShape::Hood.start(Hood),
                StartShape::CarRoof.start(Roof),
                StartShape::Tail.start(Tail),
            ],
            VehicleKind::Boat => vec![
                StartShape::HullSide.start(Port),
                StartShape::HullSide.start(Starboard),
                StartShape::Transom.start(Transom),
            ],
            VehicleKind::Hopper => {
                let [left, right] = both(StartShape::Hopper);
                vec![left, right, StartShape::FlatPanel.start(Rear)]
            }
            VehicleKind::Tank => both(StartShape::Tank).to_vec(),
            VehicleKind::SnowMachine => both(StartShape::SnowMachineSide).to_vec(),
            VehicleKind::Machine => both(StartShape::MachineCowl).to_vec(),
            VehicleKind::Board => {
                let (face, features) = StartShape::Board.start(Left);
                let called = Some("face".into());
                vec![(Side { called, ..face }, features)]
            }
        }
    }
}
