//! The audit of a face's strips against every clause of a set: the best layout's, strips moved by hand, strips read back on the floor.

mod contour;
mod even;
mod line;
mod look;
mod rear;
mod reflectors;

use crate::ground::tape::print;
use crate::marking::ask::FaceAsk;
use crate::marking::element_plan::ElementPlan;
use crate::marking::elements::{colours_allowed, elements};
use crate::marking::face::{Face, MarkSide};
use crate::marking::finding::{Audited, ClauseFinding};
use crate::marking::laying::least_width;
use crate::marking::photometric::judge;
use crate::marking::rules::{Confidence, RuleSet, Rules};
use crate::marking::strip::{Element, Strip};

pub use line::covered_mm;

/// Within a hundredth of a millimetre a figure is kept.
pub(super) const KEPT_MM: f64 = 0.01;

/// A strip that lies this much farther off than it could is not as close as practicable, mm (ours).
pub(super) const CLOSE_MM: f64 = 3.2;

/// What a finding rests on: a figure of the set, or a clause without one.
#[derive(Clone, Copy)]
enum On {
    Figure(&'static str),
    Clause(&'static str),
}

/// An audit under way.
struct Audit<'a> {
    ask: &'a FaceAsk<'a>,
    /// As they are numbered.
    numbered: &'a [Strip],
    /// Their numbers.
    numbers: &'a [usize],
    /// From the zero end.
    strips: Vec<&'a Strip>,
    best: &'a [ElementPlan],
    found: Vec<ClauseFinding>,
}

/// Audits strips on a face. `best` is the best layout: what is "as close as practicable" is judged by it.
///
/// ```
/// # use windrift_core::{ground::tape::Unit, vehicle::side::words::Ends};
/// # use windrift_core::marking::{Audited, ColourRun, Face, FaceAsk, FaceMarking, MarkSide, MarkedKind, MarkedVehicle, RuleSet, Rules, Stock, TapeColour, audit, cut_list, cut_list::all_strips, mark_face};
/// # let pattern = [TapeColour::Red, TapeColour::White].map(|colour| ColourRun { colour, length_mm: 304.8.into() }).to_vec();
/// # let stock = Stock { grade: "C2".into(), width_mm: 50.8.into(), pattern, pre_cut_mm: None, marks: None };
/// # let vehicle = MarkedVehicle { kind: MarkedKind::Trailer, width_mm: Some(2590.8.into()), length_mm: Some(12_192.0.into()),
/// #     mass: Some(windrift_core::marking::Mass::of_kg(30_000.0)), built: None, category: None, living_or_office: false, pole_trailer: false, driveaway: false,
/// #     incomplete_or_tractor: false, open_rear: false, line_only: false };
/// // The side of a 40 ft trailer with nothing on it, 900 to 3900 mm above the ground.
/// let side = MarkSide { face: Face::Side, ends_mm: (0.0, 12_192.0), height_mm: (900.0, 3900.0), obstacles: vec![], heads: vec![] };
/// let (rules, marking) = (Rules::plain(RuleSet::UnitedStatesNew), FaceMarking::of_stock(stock, 1000.0));
/// let ask = FaceAsk { side: &side, rules: &rules, vehicle: &vehicle, marking: &marking, ends: Ends(["front", "rear"]), unit: Unit::Millimetre };
/// let best = mark_face(&ask);
/// let laid = all_strips(&best);
/// assert!(audit(&ask, &laid, &best).iter().all(|f| f.audited != Audited::Fail));
/// // One strip alone leaves most of the side dark.
/// assert!(audit(&ask, &laid[..1], &best).iter().any(|f| f.audited == Audited::Fail));
/// ```
pub fn audit(ask: &FaceAsk<'_>, strips: &[Strip], best: &[ElementPlan]) -> Vec<ClauseFinding> {
    audit_numbered(ask, strips, &(1..=strips.len()).collect::<Vec<_>>(), best)
}

/// The same of strips with these numbers: of those that are read back, some are still unread, and each keeps its own.
pub fn audit_numbered(
    ask: &FaceAsk<'_>,
    strips: &[Strip],
    numbers: &[usize],
    best: &[ElementPlan],
) -> Vec<ClauseFinding> {
    let of_reflectors = matches!(
        ask.rules.set,
        RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse
    );
    let mut sorted: Vec<&Strip> = (strips.iter())
        .filter(|s| of_reflectors || s.reflectors.is_none())
        .collect();
    sorted.sort_by(|a, b| a.start_mm.total_cmp(&b.start_mm));
    let mut audit = Audit {
        ask,
        numbered: strips,
        numbers,
        strips: sorted,
        best,
        found: Vec::new(),
    };
    for element in elements(ask.rules, ask.side.face, ask.vehicle, ask.marking) {
        match element {
            Element::Line => audit.line(),
            Element::UpperZero | Element::UpperFar => audit.corner(element),
            Element::Underride => audit.underride(),
            Element::TractorZero | Element::TractorFar => audit.tractor(element),
            Element::Top => audit.top(),
            Element::UprightZero | Element::UprightFar => audit.upright(element),
        }
    }
    audit.of_all();
    let mut found = audit.found;
    found.extend(judge(
        &ask.marking.readings,
        ask.rules.set,
        &ask.marking.stock.grade,
    ));
    for finding in &mut found {
        let reason = ask
            .marking
            .reasons
            .get(&finding.key)
            .map(|r| r.trim())
            .filter(|r| !r.is_empty());
        if let (Audited::ReasonNeeded, Some(reason)) = (finding.audited, reason) {
            finding.audited = Audited::Reasoned;
            finding.reason = Some(reason.to_owned());
        }
    }
    found
}

/// How sure a clause without a figure is, as recalled.
fn sure_of(clause: &str) -> Confidence {
    match clause {
        c if c.contains("R48 6.21.5") || c.contains("S8.2.2") => Confidence::Lead,
        c if c.contains("393.26") || c.contains("R104") || c.contains("S8.2.4") => {
            Confidence::Probable
        }
        _ => Confidence::Sure,
    }
}

impl<'a> Audit<'a> {
    fn rules(&self) -> &'a Rules {
        self.ask.rules
    }

    fn side(&self) -> &'a MarkSide {
        self.ask.side
    }

    fn of(&self, element: Element) -> Vec<&'a Strip> {
        self.strips
            .iter()
            .copied()
            .filter(|s| s.element == element)
            .collect()
    }

    /// Strips of tape alone, without rows of reflectors. Where nothing but such rows is there, what is asked of tape is not asked.
    fn tape_of(&self, element: Element) -> Option<Vec<&'a Strip>> {
        let all = self.of(element);
        let tape: Vec<&Strip> = (all.iter().copied())
            .filter(|s| s.reflectors.is_none())
            .collect();
        (all.is_empty() || !tape.is_empty()).then_some(tape)
    }

    /// The number of a strip on the picture.
    fn number(&self, strip: &Strip) -> usize {
        self.numbered
            .iter()
            .position(|s| std::ptr::eq(s, strip))
            .and_then(|n| self.numbers.get(n).copied())
            .unwrap_or(0)
    }

    fn best_of(&self, element: Element) -> &'a [Strip] {
        self.best
            .iter()
            .find(|p| p.element == element)
            .map_or(&[], |p| &p.strips)
    }

    fn text(&self, mm: f64) -> String {
        print(mm, self.ask.unit).text
    }

    /// Tells a finding: kept or not by the figure that it rests on.
    fn tell(
        &mut self,
        element: Element,
        key: &str,
        on: On,
        asks: String,
        measured: String,
        kept: bool,
    ) -> &mut ClauseFinding {
        let figure = match on {
            On::Figure(key) => self.rules().figure(key),
            On::Clause(_) => None,
        };
        let clause = match on {
            On::Figure(_) => figure.map_or("", |f| f.clause),
            On::Clause(clause) => clause,
        };
        let lead = figure
            .is_some_and(|f| f.confidence == Confidence::Lead && !self.rules().is_corrected(f.key));
        let name = serde_json::to_value(element)
            .ok()
            .and_then(|v| v.as_str().map(str::to_owned))
            .unwrap_or_default();
        let index = self.found.len();
        self.found.push(ClauseFinding {
            key: format!("{name}.{key}"),
            element,
            clause: clause.to_owned(),
            asks,
            measured: if lead {
                format!(
                    "{measured} {} by this figure.",
                    if kept { "Kept" } else { "Not kept" }
                )
            } else {
                measured
            },
            audited: match (kept, lead) {
                (_, true) => Audited::FigureUncertain,
                (true, _) => Audited::Pass,
                (false, _) => Audited::Fail,
            },
            sure: match figure {
                Some(figure) if self.rules().is_corrected(figure.key) => Confidence::Sure,
                Some(figure) => figure.confidence,
                None => sure_of(clause),
            },
            corrected_from: figure
                .filter(|f| self.ask.rules.get(f.key) != Some(f.value))
                .map(|f| f.value),
            reason: None,
            strips: Vec::new(),
        });
        &mut self.found[index]
    }

    /// A clause that speaks of what is practicable: not kept, it asks for a reason.
    #[allow(clippy::too_many_arguments)]
    fn tell_practicable(
        &mut self,
        element: Element,
        key: &str,
        on: On,
        asks: String,
        measured: String,
        kept: bool,
        possible: bool,
    ) -> &mut ClauseFinding {
        let finding = self.tell(element, key, on, asks, measured, kept);
        if finding.audited == Audited::Fail && possible {
            finding.audited = Audited::ReasonNeeded;
        }
        finding
    }

    /// Width of the tape of a part.
    fn width(&mut self, element: Element, least: f64, key: &'static str) {
        let Some(strips) = self.tape_of(element) else {
            return;
        };
        let narrowest = strips
            .iter()
            .map(|s| s.tape_mm())
            .fold(f64::INFINITY, f64::min);
        let grade = self.ask.marking.stock.grade.clone();
        self.tell(
            element,
            "width",
            On::Figure(key),
            format!("Tape of grade {grade} is at least {least:.0} mm wide."),
            if strips.is_empty() {
                "No strip.".into()
            } else {
                format!("The narrowest is {narrowest:.1} mm.")
            },
            !strips.is_empty() && narrowest >= least - KEPT_MM,
        );
    }

    fn line_width(&mut self, element: Element) {
        let grade = self.ask.marking.stock.grade.as_str();
        let key = match grade {
            "C3" if self.rules().get("tape_width_c3").is_some() => "tape_width_c3",
            "C4" if self.rules().get("tape_width_c4").is_some() => "tape_width_c4",
            _ => "tape_width_c2",
        };
        if self.rules().get(key).is_some() {
            self.width(element, least_width(self.rules(), grade), key);
        }
        self.widest(element);
    }

    /// Tape that is wider than the set's tape may be.
    fn widest(&mut self, element: Element) {
        let Some(most) = self.rules().get("tape_width_most") else {
            return;
        };
        let widest = self
            .of(element)
            .iter()
            .map(|s| s.tape_mm())
            .fold(0.0, f64::max);
        self.tell(
            element,
            "widest",
            On::Figure("tape_width_most"),
            format!("Tape is at most {most:.0} mm wide."),
            format!("The widest is {widest:.1} mm."),
            widest <= most + KEPT_MM,
        );
    }

    /// What holds for all strips together: nothing lies on or past something; no strange strip; what voluntary marking must keep.
    fn of_all(&mut self) {
        self.obscured();
        self.face_colours();
        self.lamps();
        self.marks();
        self.reflectors();
        self.looks();
        if self.rules().set == RuleSet::Voluntary {
            self.judged();
        }
    }

    fn clause_of_set(&self) -> &'static str {
        match self.rules().set {
            RuleSet::UnitedStatesNew => "49 CFR 571.108 S8.2.3",
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(c)",
            RuleSet::Unece => "UN R48 6.21.3",
            RuleSet::Voluntary => "49 CFR 393.26(d), 571.108 S6.2.1",
        }
    }

    fn obscured(&mut self) {
        let side = self.side();
        let mut on: Vec<&str> = Vec::new();
        let mut off = false;
        let mut wrong: Vec<usize> = Vec::new();
        for s in &self.strips {
            let before = (on.len(), off);
            let under = s.element == Element::Underride
                || s.element == Element::TractorZero
                || s.element == Element::TractorFar;
            let rects = s.run_rects();
            for o in &side.obstacles {
                let meets = rects.iter().any(|(_, r)| r.meets(&o.rect(), KEPT_MM));
                if meets && o.is_edge() {
                    off |= !under;
                } else if meets && !on.contains(&o.name.as_str()) {
                    on.push(&o.name);
                }
            }
            let all = s.rect();
            // A member or a flap hangs below the body.
            off |= !under
                && (all.back_mm.0 < side.ends_mm.0 - KEPT_MM
                    || all.back_mm.1 > side.ends_mm.1 + KEPT_MM
                    || all.height_mm.0 < side.height_mm.0 - KEPT_MM
                    || all.height_mm.1 > side.height_mm.1 + KEPT_MM);
            let lies_on = side
                .obstacles
                .iter()
                .any(|o| !o.is_edge() && rects.iter().any(|(_, r)| r.meets(&o.rect(), KEPT_MM)));
            if lies_on || (on.len(), off) != before {
                wrong.push(self.number(s));
            }
        }
        let mut overlapping = None;
        for (n, a) in self.strips.iter().enumerate() {
            let over = self.strips[n + 1..]
                .iter()
                .any(|b| a.rect().meets(&b.rect(), 0.5));
            if over {
                wrong.push(self.number(a));
                overlapping = overlapping.or(Some(a.start_mm));
            }
        }
        let none = self.strips.is_empty();
        let measured = match (on.is_empty(), off, overlapping) {
            _ if none => "No strip.".into(),
            (false, _, _) => format!("A strip lies on: {}.", on.join(", ")),
            (_, true, _) => "A strip stands past the edge of the body.".into(),
            (_, _, Some(at)) => format!(
                "Two strips overlap at {}. Read where each begins and ends again.",
                self.text(at.mm())
            ),
            _ => "Nothing is covered or in the way.".into(),
        };
        let kept = !none && on.is_empty() && !off && overlapping.is_none();
        self.tell(
            Element::Line,
            "obscured",
            On::Clause(self.clause_of_set()),
            "Strips lie on the body and are not hidden by equipment or cargo.".into(),
            measured,
            kept,
        )
        .strips = wrong;
    }

    /// Colours by face: nothing red to the front, what each set allows to the side and the rear.
    fn face_colours(&mut self) {
        let (set, face) = (self.rules().set, self.side().face);
        let allowed = colours_allowed(set, face);
        let mut wrong: Vec<&str> = self
            .strips
            .iter()
            .flat_map(|s| &s.runs)
            .filter(|r| !allowed.contains(&r.colour))
            .map(|r| r.colour.name())
            .collect();
        wrong.sort_unstable();
        wrong.dedup();
        let names: Vec<&str> = allowed.iter().map(|c| c.name()).collect();
        let clause = match set {
            RuleSet::UnitedStatesNew => "49 CFR 571.108 S8.2.1",
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(b)",
            RuleSet::Unece => "UN R48 5.15, UN R104",
            RuleSet::Voluntary => "49 CFR 393.26(d)",
        };
        let towards = match face {
            Face::Side => "to the side",
            Face::Rear => "to the rear",
            Face::Front => "to the front, where nothing is red",
        };
        self.tell(
            Element::Line,
            "face_colours",
            On::Clause(clause),
            format!("Tape is {} {towards}.", names.join(" or ")),
            if self.strips.is_empty() {
                "No strip.".into()
            } else if wrong.is_empty() {
                "No other colour.".into()
            } else {
                format!("There is {} tape.", wrong.join(" and "))
            },
            wrong.is_empty() && !self.strips.is_empty(),
        );
    }

    /// Judgements that no figure settles; a reason settles them.
    fn judged(&mut self) {
        for (key, asks) in [
            (
                "not_alike",
                "Nothing looks like a traffic sign, a light or a device, or makes the vehicle look longer, shorter or narrower.",
            ),
            (
                "not_weakened",
                "The lamps and reflectors that are required are not weakened.",
            ),
        ] {
            self.tell_practicable(
                Element::Line,
                key,
                On::Clause("49 CFR 393.26(d), 571.108 S6.2.1"),
                asks.to_owned(),
                "No figure settles this: look at it, and say what you saw.".into(),
                false,
                true,
            );
        }
    }
}
