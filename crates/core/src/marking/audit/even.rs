//! Evenness and level: what no figure of the rules settles is held against the best that is possible, by a measure of our own.

use super::super::strip::{Element, Strip};
use super::{Audit, On};
use crate::marking::rules::RuleSet;

/// Gaps that differ from the best possible by no more than this are as even as practicable, mm: 2 in (ours).
const EVEN_MM: f64 = 50.8;
/// Strips whose middles lie within this height are level, mm: 1/2 in (ours).
const LEVEL_MM: f64 = 12.7;

/// Gaps between strips that follow each other along a line, mm.
fn gaps<'s>(strips: impl Iterator<Item = &'s Strip>) -> Vec<f64> {
    let mut all: Vec<&Strip> = strips.collect();
    all.sort_by(|a, b| a.start_mm.total_cmp(&b.start_mm));
    let mut to: Option<f64> = None;
    let mut gaps = Vec::new();
    for s in all {
        if let Some(to) = to {
            gaps.push((s.start_mm.mm() - to).max(0.0));
        }
        to = Some(to.unwrap_or(f64::NEG_INFINITY).max(s.end_mm()));
    }
    gaps
}

fn largest(gaps: &[f64]) -> f64 {
    gaps.iter().copied().fold(0.0, f64::max)
}

fn spread(gaps: &[f64]) -> f64 {
    largest(gaps) - gaps.iter().copied().reduce(f64::min).unwrap_or(0.0)
}

impl Audit<'_> {
    /// Spaces along a side are as even as practicable: neither the largest nor the difference between them is more than the best
    /// layout's by more than 2 in.
    pub(super) fn even(&mut self) {
        let here = gaps(self.of(Element::Line).into_iter());
        let best = gaps(self.best_of(Element::Line).iter());
        if self.of(Element::Line).is_empty() {
            return;
        }
        let kept =
            largest(&here) <= largest(&best) + EVEN_MM && spread(&here) <= spread(&best) + EVEN_MM;
        let told = |audit: &Self, gaps: &[f64]| {
            let smallest = gaps.iter().copied().reduce(f64::min).unwrap_or(0.0);
            match gaps {
                [] => "one strip, no spaces".to_owned(),
                _ => format!("{} to {}", audit.text(smallest), audit.text(largest(gaps))),
            }
        };
        let measured = format!(
            "Spaces: {}; the best layout's: {}. No figure settles this: within {} of the best is our measure.",
            told(self, &here),
            told(self, &best),
            self.text(EVEN_MM)
        );
        let clause = match self.rules().set {
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(c)(1)",
            _ => "49 CFR 571.108 S8.2.3.2",
        };
        self.tell_practicable(
            Element::Line,
            "even",
            On::Clause(clause),
            "The spaces between strips are as even as practicable.".into(),
            measured,
            kept,
            true,
        );
    }

    /// The line is as horizontal as practicable.
    pub(super) fn level(&mut self, element: Element) {
        let strips = self.of(element);
        if strips.is_empty() {
            return;
        }
        let heights = strips.iter().map(|s| s.centre_mm.mm());
        let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), h| {
            (a.min(h), b.max(h))
        });
        let best = self.best_of(element).iter().map(|s| s.centre_mm.mm());
        let (best_low, best_high) = best.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), h| {
            (a.min(h), b.max(h))
        });
        let possible = (best_high - best_low).max(0.0);
        let middle = (low + high) / 2.0;
        let numbers: Vec<usize> = strips
            .iter()
            .filter(|s| (s.centre_mm.mm() - middle).abs() > LEVEL_MM / 2.0)
            .map(|s| self.number(s))
            .collect();
        let kept = high - low <= possible + LEVEL_MM;
        let measured = format!(
            "Middles within {} of each other. No figure settles this: {} is our measure.",
            self.text(high - low),
            self.text(LEVEL_MM)
        );
        let clause = match self.rules().set {
            RuleSet::UnitedStatesInUse => "49 CFR 393.13(c)",
            RuleSet::Unece => "UN R48 6.21.3",
            _ => "49 CFR 571.108 S8.2.3",
        };
        let finding = self.tell_practicable(
            element,
            "level",
            On::Clause(clause),
            "Strips lie as horizontal as practicable.".into(),
            measured,
            kept,
            true,
        );
        if !kept {
            finding.strips = numbers;
        }
    }
}
