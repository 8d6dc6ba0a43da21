//! What each tape of the shelf would give on a face.

use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::ground::tape::print;
use windrift_core::marking::audit::covered_mm;
use windrift_core::marking::{Audited, Element, FaceMarking, Stock, Strip, cut_list};

use crate::views::marking::{MarkingInput, sorted};

/// What a tape of the shelf would give on a face.
#[derive(Debug, Serialize, ToSchema)]
pub struct TapeGives {
    /// The tape.
    pub id: uuid::Uuid,
    /// What it is called.
    pub name: String,
    /// What it gives, in a sentence; or why it cannot be used here.
    pub gives: String,
    /// Whether every clause is kept with it, but for what must be looked at.
    pub keeps: bool,
}

impl MarkingInput {
    /// The layout that another tape would give, in a sentence.
    pub fn gives(&self, id: uuid::Uuid, name: String, stock: Stock) -> TapeGives {
        let marking = FaceMarking {
            stock,
            own: None,
            ..self.marking.clone()
        };
        let input = MarkingInput {
            marking,
            measured: self.measured.clone(),
            film: self.film.clone(),
            vehicle: self.vehicle.clone(),
            corrections: self.corrections.clone(),
            read_back: false,
            ..*self
        };
        let parts = input.parts();
        let refused = parts.elements.iter().find_map(|e| e.refused.clone());
        let failed = parts
            .audit
            .iter()
            .filter(|f| f.audited == Audited::Fail)
            .count();
        let line: Vec<&Strip> = sorted(parts.strips.iter().filter(|s| s.element == Element::Line));
        let heads: u32 = parts.elements.iter().map(|e| e.heads_under).sum();
        let left: f64 = (cut_list(&parts.strips, &input.marking.stock).iter())
            .map(|list| list.waste_mm)
            .sum();
        let gives = match refused {
            Some(why) => why,
            None => format!(
                "{} strips, {} of tape and {} left over, {:.0} % of the length, {heads} rivet heads under it{}.",
                parts.strips.len(),
                print(parts.strips.iter().map(Strip::length_mm).sum(), self.unit).text,
                print(left, self.unit).text,
                100.0 * covered_mm(&line) / parts.side.length_mm().max(1.0),
                match failed {
                    0 => String::new(),
                    1 => "; one clause is not kept".to_owned(),
                    n => format!("; {n} clauses are not kept"),
                }
            ),
        };
        TapeGives {
            id,
            name,
            keeps: failed == 0 && !parts.strips.is_empty(),
            gives,
        }
    }
}
