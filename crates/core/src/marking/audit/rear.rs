//! Upper corners, the underride member, a tractor's rear.

use super::super::elements::member_face;
use super::super::rules::RuleSet;
use super::super::strip::{Element, Strip, TapeColour};
use super::super::tractor::heights;
use super::{Audit, CLOSE_MM, KEPT_MM, On};
use crate::marking::face_marking::TractorPlace;

impl Audit<'_> {
    /// Two strips at an upper corner, one level and one upright.
    pub(super) fn corner(&mut self, element: Element) {
        let least = self.rules().get("corner_strip").unwrap_or(300.0);
        let strips = self.of(element);
        let level: Vec<&&Strip> = strips.iter().filter(|s| !s.upright).collect();
        let upright: Vec<&&Strip> = strips.iter().filter(|s| s.upright).collect();
        let shortest = strips
            .iter()
            .map(|s| s.length_mm())
            .fold(f64::INFINITY, f64::min);
        let both = level.len() == 1 && upright.len() == 1;
        let measured = match (level.len(), upright.len()) {
            (0, 0) => "No strip.".into(),
            (l, u) => format!(
                "{l} level, {u} upright; the shortest is {}.",
                self.text(shortest)
            ),
        };
        let unece = self.rules().set == RuleSet::Unece;
        let white = unece
            || strips
                .iter()
                .flat_map(|s| &s.runs)
                .all(|r| r.colour == TapeColour::White);
        let name = element.name(self.ask.ends);
        self.tell_practicable(
            element,
            "corner",
            On::Figure("corner_strip"),
            format!(
                "At the {name}: one level and one upright strip{}, each at least {least:.0} mm long.",
                if unece { "" } else { ", white" }
            ),
            if white {
                measured
            } else {
                format!("{measured} Not all of it is white.")
            },
            both && white && shortest >= least - KEPT_MM,
            // A rear that is no rectangle may have strips along its perimeter.
            white && !strips.is_empty() && shortest >= least - KEPT_MM,
        );
        if strips.is_empty() {
            return;
        }
        let zero = element == Element::UpperZero;
        let (ends, top) = (self.side().ends_mm, self.side().height_mm.1);
        let far = |all: &[&Strip]| {
            all.iter()
                .map(|s| {
                    let r = s.rect();
                    let across = if zero {
                        r.back_mm.0 - ends.0
                    } else {
                        ends.1 - r.back_mm.1
                    };
                    (top - r.height_mm.1) + across
                })
                .sum::<f64>()
        };
        let best: Vec<&Strip> = self.best_of(element).iter().collect();
        let here = far(&strips);
        let possible = if best.is_empty() { here } else { far(&best) };
        let clause = match self.rules().set {
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(c)(3)",
            RuleSet::Unece => "UN R48 6.21.7.2",
            _ => "49 CFR 571.108 S8.2.3.1, element 2",
        };
        let measured = format!(
            "Below the top and in from the edge, both strips together: {}; {} is possible.",
            self.text(here),
            self.text(possible)
        );
        self.tell_practicable(
            element,
            "place",
            On::Clause(clause),
            format!(
                "The strips at the {name} are as close to the top and as far apart as practicable."
            ),
            measured,
            here <= possible + 2.0 * CLOSE_MM,
            true,
        );
    }

    pub(super) fn underride(&mut self) {
        let Some(member) = &self.ask.marking.underride else {
            return;
        };
        let grade = self.ask.marking.stock.grade.as_str();
        let narrow = self.rules().get("underride_tape").filter(|_| grade == "C2");
        match narrow {
            Some(least) => self.width(Element::Underride, least, "underride_tape"),
            None => self.line_width(Element::Underride),
        }
        let ends = member_face(self.side(), member).ends_mm;
        self.full_width(Element::Underride, ends);
        self.segments(Element::Underride);
        self.colours(Element::Underride);
        let strips = self.of(Element::Underride);
        let off = strips.iter().any(|s| {
            let r = s.rect();
            r.height_mm.0 < member.foot_mm - KEPT_MM
                || r.height_mm.1 > member.top_mm + KEPT_MM
                || r.back_mm.0 < member.from_mm - KEPT_MM
                || r.back_mm.1 > member.to_mm + KEPT_MM
        });
        if off {
            self.tell(
                Element::Underride,
                "on_member",
                On::Clause("49 CFR 571.108 S8.2.3.1, element 3"),
                "The strip lies on the horizontal member.".into(),
                "A strip stands past the member.".into(),
                false,
            );
        }
    }

    /// A tractor's rear strip.
    pub(super) fn tractor(&mut self, element: Element) {
        let least = self.rules().get("tractor_strip").unwrap_or(600.0);
        let strips = self.of(element);
        let long: f64 = strips.iter().map(|s| s.length_mm()).sum();
        let measured = if strips.is_empty() {
            "No strip.".into()
        } else {
            self.text(long)
        };
        self.tell(
            element,
            "length",
            On::Figure("tractor_strip"),
            format!(
                "The {} is at least {least:.0} mm long.",
                element.name(self.ask.ends)
            ),
            measured,
            long >= least - KEPT_MM,
        );
        self.line_width(element);
        self.segments(element);
        self.colours(element);
        let Some(rear) = &self.ask.marking.tractor else {
            return;
        };
        let (low, high) = heights(self.rules(), rear);
        let out = strips
            .iter()
            .any(|s| s.rect().height_mm.0 < low - KEPT_MM || s.rect().height_mm.1 > high + KEPT_MM);
        let key = match rear.place {
            TractorPlace::Mudflap => On::Figure("flap_below"),
            TractorPlace::Cab => On::Figure("cab_high"),
            _ => On::Clause("49 CFR 571.108 S8.2.4"),
        };
        self.tell_practicable(
            element,
            "height",
            key,
            format!("The strip lies between {low:.0} and {high:.0} mm above the road: on its surface, above the tyres, not too far below the bracket."),
            if out { "A strip lies outside.".into() } else { "It does.".into() },
            !out && !strips.is_empty(),
            true,
        );
        let outer = if element == Element::TractorZero {
            strips
                .iter()
                .map(|s| s.start_mm - rear.zero.from_mm)
                .reduce(f64::min)
        } else {
            strips
                .iter()
                .map(|s| rear.far.to_mm - s.end_mm())
                .reduce(f64::min)
        };
        if let Some(outer) = outer {
            let measured = format!("{} in from the outer edge.", self.text(outer));
            self.tell_practicable(
                element,
                "edge",
                On::Clause("49 CFR 571.108 S8.2.4"),
                "The strip lies as close to the outer edge as practicable.".into(),
                measured,
                outer <= CLOSE_MM,
                true,
            );
        }
    }
}
