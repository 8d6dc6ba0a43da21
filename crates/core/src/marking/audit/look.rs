//! Clauses that nothing measured here settles: each is told with what to look at, so that none is taken for kept.

use super::super::face::Face;
use super::super::rules::RuleSet;
use super::super::strip::Element;
use super::{Audit, On};
use crate::marking::applies::MarkedKind;
use crate::marking::face_marking::TractorPlace;
use crate::marking::finding::Audited;

impl Audit<'_> {
    /// What must be looked at.
    pub(super) fn looks(&mut self) {
        let (set, face) = (self.rules().set, self.side().face);
        let grade = self.ask.marking.stock.grade.clone();
        match set {
            RuleSet::UnitedStatesNew => {
                self.look(
                    "material",
                    "49 CFR 571.108 S8.2.1.1, S8.2.1.2",
                    "The sheeting is of the kind that the rule names, optics not exposed, with the photometry of its grade.",
                    &format!("Not measured here. Its mark DOT-{grade} says that its maker certifies it: look for it on the roll."),
                );
                self.look(
                    "mark_size",
                    "49 CFR 571.108 S8.2.1.3",
                    "Marks are at least 3 mm high and cannot be wiped off.",
                    "Not measured here: look at one.",
                );
                self.cargo("49 CFR 571.108 S8.2.3, 393.9(b)");
            }
            RuleSet::UnitedStatesInUse => {
                self.cargo("49 CFR 393.13(c), 393.9(b)");
            }
            RuleSet::Unece => {
                self.look(
                    "visible",
                    "UN R48 6.21.5",
                    "The marking is seen from planes 25 m away.",
                    "Planes of visibility are not judged here: look from there, and mind what hangs or opens in front of it.",
                );
                if face == Face::Rear {
                    self.look(
                        "plates",
                        "UN R48 6.21.7.4",
                        "Rear marking plates may count towards the length.",
                        "Plates are not judged here, tape alone.",
                    );
                }
            }
            RuleSet::Voluntary => {}
        }
        if set == RuleSet::UnitedStatesNew && face == Face::Rear {
            if self.ask.marking.underride.is_some() {
                self.look(
                    "device_label",
                    "49 CFR 571.223",
                    "The underride device's own label stays readable.",
                    "Look: nothing lies over it.",
                );
            }
            let cab = |t: &crate::marking::face_marking::TractorRear| t.place == TractorPlace::Cab;
            if self.ask.vehicle.kind == MarkedKind::Tractor {
                let on_cab = self.ask.marking.tractor.as_ref().is_some_and(cab);
                self.look(
                    "hidden_share",
                    "49 CFR 571.108 S8.2.4",
                    if on_cab {
                        "Seen straight from behind, at most a quarter of the strips and of the white pairs on the cab is hidden."
                    } else {
                        "Seen straight from behind, at most a quarter of the white pairs on the cab is hidden."
                    },
                    "Not measured here: look from behind, with the fifth wheel and its hoses as they are on the road.",
                );
            }
        }
    }

    fn cargo(&mut self, clause: &'static str) {
        self.look(
            "cargo",
            clause,
            "No load, cover, open door or hose hides a strip.",
            "What is on the side is judged under \u{201c}not hidden by equipment\u{201d}; a load or a cover is not: look.",
        );
    }

    pub(super) fn look(&mut self, key: &str, clause: &'static str, asks: &str, what: &str) {
        self.tell(
            Element::Line,
            key,
            On::Clause(clause),
            asks.to_owned(),
            what.to_owned(),
            true,
        )
        .audited = Audited::Look;
    }
}
