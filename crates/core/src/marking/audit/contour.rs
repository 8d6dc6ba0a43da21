//! UN contours: ends, gaps, the upper edge, uprights.

use super::super::strip::{Element, Strip};
use super::{Audit, KEPT_MM, On};
use crate::marking::finding::Audited;

impl Audit<'_> {
    /// The line reaches near enough to both ends.
    pub(super) fn within_ends(&mut self) {
        let Some(most) = self.rules().get("ends") else {
            return;
        };
        let strips = self.of(Element::Line);
        let ends = self.side().ends_mm;
        let front = strips.iter().map(|s| s.start_mm - ends.0).reduce(f64::min);
        let rear = strips.iter().map(|s| ends.1 - s.end_mm()).reduce(f64::min);
        let (Some(front), Some(rear)) = (front, rear) else {
            return;
        };
        let measured = format!(
            "{} from one end, {} from the other.",
            self.text(front),
            self.text(rear)
        );
        self.tell_practicable(
            Element::Line,
            "ends",
            On::Figure("ends"),
            format!("The marking reaches to within {most:.0} mm of each end."),
            measured,
            front <= most + KEPT_MM && rear <= most + KEPT_MM,
            true,
        );
    }

    /// Gaps against the shortest strip beside them.
    pub(super) fn gaps(&mut self, element: Element) {
        let share = self.rules().get("gap_share").unwrap_or(0.5);
        let most = self.rules().get("gap_most").unwrap_or(1000.0);
        let mut strips = self.of(element);
        let upwards = strips.first().is_some_and(|s| s.upright);
        if upwards {
            strips.sort_by(|a, b| a.rect().height_mm.0.total_cmp(&b.rect().height_mm.0));
        }
        let gap = |a: &Strip, b: &Strip| {
            if upwards {
                b.rect().height_mm.0 - a.rect().height_mm.1
            } else {
                b.start_mm - a.end_mm()
            }
        };
        let mut wide = 0;
        let mut largest: f64 = 0.0;
        for w in strips.windows(2) {
            let open = gap(w[0], w[1]);
            largest = largest.max(open);
            if open > share * w[0].length_mm().min(w[1].length_mm()) + KEPT_MM {
                wide += 1;
            }
        }
        let measured = format!("Largest gap {}; {wide} over the share.", self.text(largest));
        self.tell_practicable(
            element,
            "gaps",
            On::Figure("gap_share"),
            format!("Gaps are at most {:.0} % of the shortest element beside them; where that is proven impossible, at most {most:.0} mm.", share * 100.0),
            measured,
            wide == 0 && !strips.is_empty(),
            largest <= most + KEPT_MM,
        );
    }

    /// The upper edge of a contour.
    pub(super) fn top(&mut self) {
        let within = self.rules().get("upper_within").unwrap_or(400.0);
        let strips = self.of(Element::Top);
        let top = self.side().height_mm.1;
        let lowest = strips
            .iter()
            .map(|s| top - s.rect().height_mm.1)
            .reduce(f64::max);
        let measured = lowest.map_or("No strip.".into(), |mm| {
            format!("{} below the upper edge.", self.text(mm))
        });
        self.tell_practicable(
            Element::Top,
            "within",
            On::Figure("upper_within"),
            format!("The upper contour is as high as practicable, within {within:.0} mm of the upper edge."),
            measured,
            lowest.is_some_and(|mm| mm <= within + KEPT_MM),
            lowest.is_some(),
        );
        self.gaps(Element::Top);
    }

    /// An upright of a contour.
    pub(super) fn upright(&mut self, element: Element) {
        let strips = self.of(element);
        let ends = self.side().ends_mm;
        let edge = |s: &Strip| {
            if element == Element::UprightZero {
                s.start_mm - ends.0
            } else {
                ends.1 - s.end_mm()
            }
        };
        let here = strips.iter().map(|s| edge(s)).reduce(f64::max);
        let best = self.best_of(element).iter().map(edge).reduce(f64::max);
        let measured = match (here, best) {
            (None, _) => "No strip.".to_owned(),
            (Some(mm), Some(possible)) if mm > possible + super::CLOSE_MM => format!(
                "{} in from the edge; {} is possible.",
                self.text(mm),
                self.text(possible)
            ),
            (Some(mm), _) => format!("{} in from the edge.", self.text(mm)),
        };
        let kept = here.is_some_and(|mm| best.is_none_or(|b| mm <= b + super::CLOSE_MM));
        self.tell_practicable(
            element,
            "edge",
            On::Clause("UN R48 6.21.4.1"),
            format!(
                "The {} is as close to the edge as practicable.",
                element.name(self.ask.ends)
            ),
            measured,
            kept,
            here.is_some(),
        );
        if here.is_some() {
            self.gaps(element);
        } else if let Some(last) = self.found.last_mut() {
            last.audited = Audited::Fail;
        }
    }
}
