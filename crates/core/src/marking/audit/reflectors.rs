//! Rows of reflex reflectors in place of sheeting: how far apart, in which colours, whose mark they show.

use super::super::rules::RuleSet;
use super::super::strip::{Element, Strip};
use super::super::tape_colour::TapeColour;
use super::{Audit, KEPT_MM, On};
use crate::marking::finding::Audited;
use crate::marking::reflectors::Reflectors;

/// Reflectors of a colour that stand beside each other: two or three (49 CFR 571.108 S8.2.2, from memory).
const OF_A_COLOUR: std::ops::RangeInclusive<u32> = 2..=3;

impl Audit<'_> {
    /// What is asked of rows of reflectors; length, height and place are asked of them as of strips.
    pub(super) fn reflectors(&mut self) {
        let clause = match self.rules().set {
            RuleSet::UnitedStatesNew => "49 CFR 571.108 S8.2.2",
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(d)",
            RuleSet::Unece | RuleSet::Voluntary => {
                if self.numbered.iter().any(|s| s.reflectors.is_some()) {
                    self.look(
                        "reflectors",
                        "UN R48 6.21, 49 CFR 393.26(d)",
                        "Rows of reflectors are no tape.",
                        "Not judged by this set, and counted for nothing here: what is read as reflectors is left out.",
                    );
                }
                return;
            }
        };
        let rows: Vec<(usize, &Strip, Reflectors)> = (self.strips.iter())
            .filter_map(|s| Some((self.number(s), *s, s.reflectors?)))
            .collect();
        if rows.is_empty() {
            self.look(
                "reflectors",
                clause,
                "Reflex reflectors may stand in place of sheeting, each no more than 100 mm from the next.",
                "None is read on this face. Where there are some, read them as a row.",
            );
            return;
        }
        self.pitch(&rows);
        self.pattern(clause, &rows);
        self.reflector_mark(clause, &rows);
        self.look(
            "reflector_light",
            clause,
            "At 0.2\u{b0} red gives back at least 300 mcd/lx to 30\u{b0} either way and 75 to 45\u{b0}, white 1250 and 300.",
            "Not measured here. The mark says that their maker certifies it.",
        );
    }

    fn pitch(&mut self, rows: &[(usize, &Strip, Reflectors)]) {
        let most = self.rules().get("reflector_pitch").unwrap_or(100.0);
        let (mut wide, mut unknown, mut told) = (Vec::new(), Vec::new(), Vec::new());
        for (n, s, row) in rows {
            let mean = row.mean_pitch_mm(s.length_mm());
            // The widest is no less than what they are apart on average, whatever was typed.
            let widest = row.widest_mm.map(|mm| mm.mm().max(mean));
            told.push(match widest {
                Some(mm) => format!("row {n}: at most {}", self.text(mm)),
                None => format!("row {n}: {} on average", self.text(mean)),
            });
            if widest.unwrap_or(mean) > most + KEPT_MM {
                wide.push(*n);
            } else if widest.is_none() {
                unknown.push(*n);
            }
        }
        let look = wide.is_empty() && !unknown.is_empty();
        let finding = self.tell(
            Element::Line,
            "reflector_pitch",
            On::Figure("reflector_pitch"),
            format!(
                "The centre of each reflector is at most {most:.0} mm from the centre of the next."
            ),
            format!(
                "From centre to centre, {}.{}",
                told.join(", "),
                if look {
                    " Measure the widest: an average hides it."
                } else {
                    ""
                }
            ),
            wide.is_empty(),
        );
        finding.strips = if look { unknown } else { wide };
        if look && finding.audited == Audited::Pass {
            finding.audited = Audited::Look;
        }
    }

    fn pattern(&mut self, clause: &'static str, rows: &[(usize, &Strip, Reflectors)]) {
        let mut wrong = Vec::new();
        for (n, s, row) in rows {
            // At the upper corners it is white alone; that is for the corner's own clause to say.
            let white = s.runs.iter().all(|r| r.colour == TapeColour::White);
            let corner = matches!(s.element, Element::UpperZero | Element::UpperFar);
            let other =
                (s.runs.iter()).any(|r| !matches!(r.colour, TapeColour::White | TapeColour::Red));
            // One colour alone has no other to alternate with.
            let rest = row.count % row.of_a_colour.max(1);
            let alternates = s.runs.len() > 1
                && OF_A_COLOUR.contains(&row.of_a_colour)
                && (rest == 0 || OF_A_COLOUR.contains(&rest));
            if other || !(corner && white || alternates) {
                wrong.push(*n);
            }
        }
        let measured = if wrong.is_empty() {
            "They do.".to_owned()
        } else {
            let list: Vec<String> = wrong.iter().map(usize::to_string).collect();
            format!("Not so in row {}.", list.join(", "))
        };
        let kept = wrong.is_empty();
        self.tell(
            Element::Line,
            "reflector_pattern",
            On::Clause(clause),
            "Two or three white and two or three red reflectors follow each other; at an upper corner all are white.".into(),
            measured,
            kept,
        )
        .strips = wrong;
    }

    fn reflector_mark(&mut self, clause: &'static str, rows: &[(usize, &Strip, Reflectors)]) {
        let of = |marked: Option<bool>| -> Vec<usize> {
            let rows = rows.iter().filter(|(.., row)| row.marked == marked);
            rows.map(|(n, ..)| *n).collect()
        };
        let (without, unknown) = (of(Some(false)), of(None));
        let list = |all: &[usize]| {
            let all: Vec<String> = all.iter().map(usize::to_string).collect();
            all.join(", ")
        };
        let look = without.is_empty() && !unknown.is_empty();
        let measured = match (without.is_empty(), look) {
            (false, _) => format!("Not in row {}.", list(&without)),
            (_, true) => format!("Nobody has looked in row {}.", list(&unknown)),
            _ => "Every one does.".into(),
        };
        let finding = self.tell(
            Element::Line,
            "reflector_mark",
            On::Clause(clause),
            "Each reflector shows the mark DOT-C, at least 3 mm high.".into(),
            measured,
            without.is_empty(),
        );
        finding.strips = if look { unknown } else { without };
        if look {
            finding.audited = Audited::Look;
        }
    }
}
