//! The order in which a sheet is pressed on: outward from the hinge, centre first, so that no air is shut in.
//!
//! The sheet is cut into *strips*: bands of the squeegee's width from the hinge outward, parted where something interrupts them, at
//! the middle and at an arm's reach. They have the edges of the film itself, leaning ones too, not those of a grid. Each strip is pressed
//! from one end to the other. A strip may go next only if everything still open keeps a way out without it, and it is pressed towards an
//! end from which air still gets out; as long as a flat has any way out there always is such a strip. A stroke laps over what lies, never
//! over what does not yet. Among those, common practice decides (no source): the stage by the stay tape, the flat nearest the
//! hinge, recesses before the flat round them and in each from its closed wall to its mouth, bands from the hinge outward, the middle before the ends.

mod careful;
pub mod columns;
mod crease;
mod graph;
mod made;
pub mod order;
mod strips;

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::floor::prove::ShutIn;

/// Where the pressing begins.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "from", rename_all = "snake_case")]
pub enum Start {
    /// The upper edge, downward.
    Top,
    /// The left edge, to the right.
    Left,
    /// The right edge, to the left.
    Right,
    /// A height, mm in the sheet's frame, down from it and then up from it.
    Height {
        /// The height.
        y_mm: f64,
    },
    /// A place along, mm in the sheet's frame, to the right from it and then to the left.
    Place {
        /// The place.
        x_mm: f64,
    },
}

/// What a stroke does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StrokeKind {
    /// Presses film onto a flat.
    Flat,
    /// Presses film into a recess.
    Recess,
    /// Sets a crease, once the flat before it lies.
    Crease,
}

/// One stroke of the squeegee, in the sheet's frame.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stroke {
    /// Its number, from 1.
    pub number: u32,
    /// What it does.
    pub kind: StrokeKind,
    /// The stage by the stay tape, from 1.
    pub stage: u32,
    /// The flat that it is on, from 1 in the order in which they are begun.
    pub flat: u32,
    /// Its middle line from where it begins to where it ends, mm.
    pub path: Vec<[f64; 2]>,
    /// What it presses, as corners: the strip that it is meant for, and what it laps over of the film that lies before it. The proof is
    /// about this shape. Nothing for a crease, which is set along its line.
    pub shape: Vec<[f64; 2]>,
    /// Whether the blade must keep strictly to that shape: a little past it, it would close the last way out of air beside it.
    pub within_band: bool,
    /// Whether it presses the flat inside a recess without a way out: just enough to hold the film, which bridges the walls until the end.
    pub holds: bool,
    /// Width that is pressed at the widest, the overlap with what lies before included, mm.
    pub width_mm: f64,
}

/// A line that film must be pressed into once the flat before it lies.
#[derive(Debug, Clone, PartialEq)]
pub struct CreaseLine {
    /// Its points in the sheet's frame.
    pub points: Vec<[f64; 2]>,
}

/// What the order is made for.
#[derive(Debug, Clone)]
pub struct Ways {
    /// Where it begins.
    pub start: Start,
    /// Width of the squeegee, mm.
    pub squeegee_mm: f64,
    /// How much of a band is pressed again with the next, mm.
    pub overlap_mm: f64,
    /// Longest stroke without moving the feet, mm.
    pub reach_mm: f64,
    /// Height of a stage by the stay tape, mm; nothing where all is done in one.
    pub stage_mm: Option<f64>,
}

/// An order of pressing, with its proof.
#[derive(Debug, Clone)]
pub struct StrokeOrder {
    /// The strokes in their order.
    pub strokes: Vec<Stroke>,
    /// What running the strokes' shapes shuts in. Only regions with no way out before anything is pressed can stand here.
    pub shut_in: Vec<ShutIn>,
    /// Share of the film that the strokes press, 0 to 1.
    pub pressed: f64,
}

/// A way out or an edge between two strips that is shorter than this is counted on only where there is no other, mm (ours): bands and
/// partings leave slits beside what leans.
const SLIT_MM: f64 = 2.0;

/// Pieces beside each other that are pressed in one go.
struct Strip {
    /// Its pieces from the left to the right, one in each column.
    pieces: Vec<u32>,
    /// Its first and its last column.
    columns: (u32, u32),
    area_mm2: f64,
    flat: u32,
    rank: u8,
    band: u32,
    stage: u32,
    /// From the middle of its flat's band to its own, mm.
    off_centre: f64,
    /// Neighbours with the half-columns of contact.
    beside: BTreeMap<u32, (u32, u32)>,
    /// Half-columns with a way out.
    exits: Option<(u32, u32)>,
    /// In a recess with a mouth: how many strips off the mouth it lies, from 1.
    to_mouth: u32,
    /// Whether its mouth lies at its right end alone, or at its left end alone.
    mouth_right: Option<bool>,
}

impl Strip {
    fn first(&self) -> u32 {
        2 * self.columns.0
    }
    fn last(&self) -> u32 {
        2 * self.columns.1 + 1
    }
}
