//! The order in which a sheet is pressed on: outward from the hinge, centre first, so that no air is shut in.
//!
//! The sheet is cut into *strips*: bands of the squeegee's width from the hinge outward, parted where something interrupts them, at
//! the middle and at an arm's reach. Each strip is pressed from one end to the other. A strip may go next only if everything still
//! open keeps a way out without it, and it is pressed towards an end from which air still gets out; as long as a flat has any way
//! out there always is such a strip. Among those, common practice decides (no source): the stage by the stay tape, the flat nearest the
//! hinge, recesses before the flat round them, bands from the hinge outward, the middle before the ends.

mod crease;
mod graph;
pub mod order;

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::floor::air::{Moment, ShutIn};

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
    /// Whether the blade must not reach past this stroke's own band: run at its full width it would close the last way out of air
    /// beside it.
    pub within_band: bool,
    /// Width that is pressed, the overlap with the band before included, mm.
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
    /// When each cell of the sheet is first pressed.
    pub pressed: Vec<Moment>,
    /// What running the order shuts in. Only regions with no way out before anything is pressed can stand here.
    pub shut_in: Vec<ShutIn>,
}

pub(crate) struct Strip {
    runs: Vec<Run>,
    flat: u32,
    rank: u8,
    band: u32,
    stage: u32,
    /// Middle of it and of its flat's band, columns.
    off_centre: f64,
    /// Neighbours with the first and the last column of contact.
    beside: BTreeMap<u32, (u32, u32)>,
    /// Columns with a way out.
    exits: Option<(u32, u32)>,
}

impl Strip {
    fn first(&self) -> u32 {
        self.runs.first().map_or(0, |r| r.column)
    }
    fn last(&self) -> u32 {
        self.runs.last().map_or(0, |r| r.column)
    }
}

/// Cells of one column within a band.
#[derive(Clone, Copy)]
struct Run {
    column: u32,
    from: u32,
    to: u32,
}
