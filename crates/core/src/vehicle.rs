//! Kinds of vehicle and the size that a new job starts from until it is measured.

use serde::{Deserialize, Serialize};

use crate::side::{BoxSide, VehicleSide};

/// A kind of vehicle with a box body.
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
}

impl VehicleKind {
    /// Every kind, in the order of length.
    pub const ALL: [VehicleKind; 3] = [
        VehicleKind::DeliveryBox,
        VehicleKind::BoxTruck,
        VehicleKind::SemiTrailer,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            VehicleKind::DeliveryBox => "Delivery box",
            VehicleKind::BoxTruck => "Box truck",
            VehicleKind::SemiTrailer => "Semi-trailer",
        }
    }

    /// A usual side of this kind, to be replaced by measurements (common practice, no source).
    pub fn usual_side(self, side: VehicleSide) -> BoxSide {
        let (length_mm, height_mm) = match self {
            VehicleKind::DeliveryBox => (144.0 * 25.4, 78.0 * 25.4),
            VehicleKind::BoxTruck => (288.0 * 25.4, 86.0 * 25.4),
            VehicleKind::SemiTrailer => (636.0 * 25.4, 108.0 * 25.4),
        };
        BoxSide {
            side,
            length_mm,
            height_mm,
            fall_mm: 0.0,
        }
    }
}
