//! Reflective marking: figures, planning, audit, audit_numbered, rear and contours.

mod audit;
mod by_hand;
mod clauses;
mod cuts;
mod faults;
mod figures;
mod planning;
mod rear;
mod reflectors;

use figures::trailer;
use windrift_core::ground::tape::Unit;
use windrift_core::marking::audit::{audit, audit_numbered};
use windrift_core::marking::cut_list::all_strips;
use windrift_core::marking::{
    Audited, ClauseFinding, ColourRun, Face, FaceAsk, FaceMarking, MarkSide, MarkedVehicle,
    RuleSet, Rules, Stock, Strip, TapeColour, mark_face,
};
use windrift_core::vehicle::side::words::Ends;

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

/// A face of a trailer, to be laid out and audited.
pub struct Case {
    pub side: MarkSide,
    pub rules: Rules,
    pub vehicle: MarkedVehicle,
    pub marking: FaceMarking,
}

impl Case {
    pub fn of(side: MarkSide, set: RuleSet, marking: FaceMarking) -> Case {
        Case {
            side,
            rules: Rules::plain(set),
            vehicle: trailer(),
            marking,
        }
    }

    pub fn ask(&self) -> FaceAsk<'_> {
        FaceAsk {
            ends: Ends(["front", "rear"]),
            side: &self.side,
            rules: &self.rules,
            vehicle: &self.vehicle,
            marking: &self.marking,
            unit: Unit::Millimetre,
        }
    }

    pub fn best(&self) -> Vec<Strip> {
        all_strips(&mark_face(&self.ask()))
    }

    pub fn audit(&self, strips: &[Strip]) -> Vec<ClauseFinding> {
        audit(&self.ask(), strips, &mark_face(&self.ask()))
    }

    pub fn audit_numbered(&self, strips: &[Strip], numbers: &[usize]) -> Vec<ClauseFinding> {
        audit_numbered(&self.ask(), strips, numbers, &mark_face(&self.ask()))
    }

    pub fn finding(&self, strips: &[Strip], key: &str) -> ClauseFinding {
        let found = self.audit(strips);
        let of = found.iter().find(|f| f.key == key);
        of.unwrap_or_else(|| panic!("{key}: {found:#?}")).clone()
    }

    pub fn says(&self, strips: &[Strip], key: &str) -> Audited {
        self.finding(strips, key).audited
    }
}
