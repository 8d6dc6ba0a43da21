//! What is asked of a face: its side, its rules, its stock, what the crew settled.

use crate::ground::tape::Unit;
use crate::marking::applies::MarkedVehicle;
use crate::marking::face::MarkSide;
use crate::marking::face_marking::FaceMarking;
use crate::marking::rules::Rules;
use crate::vehicle::side::words::Ends;

/// What a face is marked by.
#[derive(Debug, Clone, Copy)]
pub struct FaceAsk<'a> {
    /// The face.
    pub side: &'a MarkSide,
    /// The rules.
    pub rules: &'a Rules,
    /// The vehicle.
    pub vehicle: &'a MarkedVehicle,
    /// What is settled.
    pub marking: &'a FaceMarking,
    /// What the ends of its tape are called.
    pub ends: Ends,
    /// The job's unit, for sentences.
    pub unit: Unit,
}
