//! What lies under film where it is heated: skin, what is behind it, and what is special about the spot; as numbers that heat conduction asks for.
//!
//! Values of materials are handbook figures from memory: density, heat capacity and conductivity of low-carbon steel, aluminium 5052, glass-fibre
//! polyester, plasticised PVC, polypropylene, glass, plywood and rigid foam. The thicknesses are usual ones; a shop's own skin is typed where it differs.

use serde::{Deserialize, Serialize};

use crate::vehicle::surface::{Behind, Material, Surface};

/// A layer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Layer {
    /// How thick, mm.
    pub mm: f64,
    /// Density, kg/m³.
    pub density: f64,
    /// Heat capacity, J/(kg K).
    pub capacity: f64,
    /// Conductivity, W/(m K).
    pub conductivity: f64,
}

/// What is special about the spot.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HeatSpot {
    /// Nothing but the skin.
    Field,
    /// A frame member or the folded flange of a return lies against it: a cold spot.
    Member,
    /// The skin ends within a finger's breadth: a hot spot.
    FreeEdge,
}

/// Film on a skin, with what is behind it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BuildUp {
    /// Film and laminate, mm.
    pub film_mm: f64,
    /// The skin.
    pub skin: Layer,
    /// What lies against it from behind; nothing where air does.
    pub backing: Option<Layer>,
    /// What is special about the spot.
    pub spot: HeatSpot,
}

/// Plasticised PVC film.
const FILM: Layer = layer(0.1, 1350.0, 1000.0, 0.17);
/// Its adhesive, mm; it conducts as film does.
const ADHESIVE_MM: f64 = 0.028;
/// A frame member lies against the skin this far to either side, mm, and is as thick as this (ours).
pub const MEMBER_HALF_MM: f64 = 20.0;
const MEMBER_MM: f64 = 1.5;
/// A free edge lies this far beside the middle of the jet, mm (ours).
pub const FREE_EDGE_MM: f64 = 12.0;
/// Natural convection and radiation of a panel in still air, W/(m² K): 8 to 13 by the handbook's correlations; 10 taken.
pub const STILL_AIR: f64 = 10.0;
/// What conducts better than this is one temperature through its thickness: at 80 W/(m² K) its Biot number is below a hundredth.
const CONDUCTS: f64 = 10.0;

const fn layer(mm: f64, density: f64, capacity: f64, conductivity: f64) -> Layer {
    Layer {
        mm,
        density,
        capacity,
        conductivity,
    }
}

/// What a square metre of film with its adhesive holds where it lies on nothing, J/(m² K).
pub fn film_alone_holds(film_mm: f64) -> f64 {
    let all = Layer {
        mm: film_mm + ADHESIVE_MM,
        ..FILM
    };
    all.holds()
}

/// The usual skin of a material.
pub fn usual_skin(material: Material) -> Layer {
    match material {
        Material::PaintedSteel => layer(0.8, 7850.0, 475.0, 50.0),
        Material::Stainless => layer(0.8, 7900.0, 500.0, 15.0),
        Material::BareAluminium | Material::PaintedAluminium => layer(1.2, 2680.0, 890.0, 138.0),
        Material::Gelcoat => layer(3.0, 1600.0, 1100.0, 0.25),
        Material::Composite => layer(2.0, 1600.0, 1100.0, 0.25),
        Material::LowEnergyPlastic | Material::TexturedPlastic => layer(3.0, 950.0, 1800.0, 0.2),
        Material::Glass => layer(5.0, 2500.0, 840.0, 1.0),
        Material::PaintedWood => layer(15.0, 550.0, 1500.0, 0.12),
    }
}

impl Layer {
    /// What a square metre of it holds, J/(m² K).
    pub fn holds(&self) -> f64 {
        self.mm / 1000.0 * self.density * self.capacity
    }
}

impl BuildUp {
    /// What lies under film of this thickness on a surface; `None` where nobody said what is behind its skin: then nothing is known of how it warms.
    ///
    /// ```
    /// # use windrift_core::floor::heat::panel::{BuildUp, HeatSpot};
    /// # use windrift_core::vehicle::surface::{Behind, Material, Surface};
    /// let mut steel = Surface::of(Material::PaintedSteel);
    /// assert!(BuildUp::of(&steel, 0.1, HeatSpot::Field).is_none());
    /// steel.behind = Some(Behind::Air);
    /// let found = BuildUp::of(&steel, 0.1, HeatSpot::Field).unwrap();
    /// assert!(found.is_one_through() && (found.skin.holds() - 2983.0).abs() < 1.0);
    /// ```
    pub fn of(surface: &Surface, film_mm: f64, spot: HeatSpot) -> Option<BuildUp> {
        let over = (surface.material, surface.behind?, surface.skin_mm);
        Some(BuildUp::over(over, film_mm, spot))
    }

    /// What lies under film of this thickness on a material, with what is behind it and how thick its skin is where that is not usual.
    pub fn over(
        (material, behind, skin_mm): (Material, Behind, Option<f64>),
        film_mm: f64,
        spot: HeatSpot,
    ) -> BuildUp {
        let backing = match behind {
            Behind::Air => None,
            Behind::Foam => Some(layer(25.0, 35.0, 1400.0, 0.03)),
            Behind::Wood => Some(layer(12.0, 550.0, 1500.0, 0.12)),
        };
        let mut skin = usual_skin(material);
        if let Some(mm) = skin_mm {
            skin.mm = mm;
        }
        // What does not conduct along itself has no cold or hot spots of this kind: heat stays within millimetres.
        let spot = if skin.conductivity > CONDUCTS {
            spot
        } else {
            HeatSpot::Field
        };
        BuildUp {
            film_mm,
            skin,
            backing,
            spot,
        }
    }

    /// Whether the skin is one temperature through its thickness.
    pub fn is_one_through(&self) -> bool {
        self.skin.conductivity > CONDUCTS
    }

    /// What film and adhesive put between the jet and the skin, m² K/W.
    pub fn film_resistance(&self) -> f64 {
        (self.film_mm + ADHESIVE_MM) / 1000.0 / FILM.conductivity
    }

    /// What a square metre of film holds, J/(m² K).
    pub fn film_holds(&self) -> f64 {
        Layer {
            mm: self.film_mm,
            ..FILM
        }
        .holds()
    }

    /// What a square metre of a member holds, J/(m² K), and how it conducts along itself, W/K.
    pub fn member(&self) -> (f64, f64) {
        let member = Layer {
            mm: MEMBER_MM,
            ..self.skin
        };
        (member.holds(), member.mm / 1000.0 * self.skin.conductivity)
    }
}
