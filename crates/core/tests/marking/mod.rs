//! Reflective marking: figures, planning, audit, rear and contours.

mod audit;
mod by_hand;
mod clauses;
mod cuts;
mod figures;
mod planning;
mod rear;

use figures::trailer;
use windrift_core::marking::{ColourRun, Face, FaceMarking, MarkSide, Stock, TapeColour};

pub fn runs(lengths: &[(TapeColour, f64)]) -> Vec<ColourRun> {
    lengths
        .iter()
        .map(|(colour, length_mm)| ColourRun {
            colour: *colour,
            length_mm: (*length_mm).into(),
        })
        .collect()
}

/// Twelve inches red, twelve white, 2 in wide.
pub fn twelve() -> Stock {
    Stock {
        grade: "C2".into(),
        width_mm: 50.8.into(),
        pattern: runs(&[(TapeColour::Red, 304.8), (TapeColour::White, 304.8)]),
        pre_cut_mm: None,
        marks: None,
    }
}

pub fn box_side(length_mm: f64) -> MarkSide {
    MarkSide {
        face: Face::Side,
        ends_mm: (0.0, length_mm),
        height_mm: (900.0, 3900.0),
        obstacles: Vec::new(),
        heads: Vec::new(),
    }
}

/// Nothing settled but the tape.
pub fn marking_of(stock: Stock) -> FaceMarking {
    FaceMarking::of_stock(stock, 1000.0)
}
