//! The line: share, heights, ends, segments, colours, lamps, marks, split strips.

use super::super::colours::{Shows, shows_marks};
use super::super::elements::member_face;
use super::super::face::{Face, keep_off};
use super::super::rules::RuleSet;
use super::super::strip::{Element, Strip, TapeColour};
use super::{Audit, CLOSE_MM, KEPT_MM, On};
use crate::ground::mm::Mm;
use crate::marking::finding::Audited;
use crate::marking::laying::band;
use crate::vehicle::feature::kind::{LampColour, LampFunction};

/// A typed width and a drawn one that differ by more are told, mm: 1 in (ours).
const DIFFERS_MM: f64 = 25.4;

/// Length covered along the side, overlaps counted once, mm. Strips sorted by where they begin.
pub fn covered_mm(strips: &[&Strip]) -> f64 {
    let mut to = f64::NEG_INFINITY;
    let mut sum = 0.0;
    for s in strips {
        sum += (s.end_mm() - s.start_mm.max(to)).max(0.0);
        to = to.max(s.end_mm());
    }
    sum
}

impl Audit<'_> {
    pub(super) fn line(&mut self) {
        self.line_width(Element::Line);
        let rear = self.side().face == Face::Rear;
        match self.rules().set {
            RuleSet::Voluntary => return,
            RuleSet::UnitedStatesNew | RuleSet::UnitedStatesInUse if rear => {
                let whole = self.side().ends_mm;
                self.full_width(Element::Line, whole);
            }
            RuleSet::Unece if rear => self.share("rear_share", "width"),
            _ => self.share("side_share", "length"),
        }
        self.height();
        match self.rules().set {
            RuleSet::UnitedStatesNew => {
                self.ends(Element::Line, self.side().ends_mm);
                self.level(Element::Line);
                if !rear {
                    self.even();
                }
                self.segments(Element::Line);
                self.colours(Element::Line);
                self.split();
            }
            RuleSet::UnitedStatesInUse => {
                self.ends(Element::Line, self.side().ends_mm);
                self.level(Element::Line);
                if !rear {
                    self.even();
                }
                self.red_alone();
                self.split();
            }
            RuleSet::Unece => {
                self.within_ends();
                self.level(Element::Line);
                self.gaps(Element::Line);
            }
            RuleSet::Voluntary => {}
        }
    }

    fn share(&mut self, key: &'static str, of: &str) {
        let least = self.rules().get(key).unwrap_or(0.0);
        let strips = self.of(Element::Line);
        let covered = covered_mm(&strips);
        // A rear's share is of the overall width, where it was typed; as drawn, where not.
        let drawn = self.side().length_mm();
        let typed = (self.ask.vehicle.width_mm.map(Mm::mm)).filter(|_| of == "width");
        let whole = typed.unwrap_or(drawn);
        let got = covered / whole.max(1.0);
        let mut measured = format!(
            "{} of {}: {:.1} %.",
            self.text(covered),
            self.text(whole),
            got * 100.0
        );
        if let Some(typed) = typed.filter(|t| (t - drawn).abs() > DIFFERS_MM) {
            measured.push_str(&format!(
                " The overall width is {} as typed, and {} as this face is drawn: measure which is right.",
                self.text(typed),
                self.text(drawn)
            ));
        }
        self.tell(
            Element::Line,
            key,
            On::Figure(key),
            match self.rules().get("reduced_share") {
                Some(reduced) => format!(
                    "Strips cover at least {:.0} % of the {of}; where that is impossible, {:.0} %, and it is recorded.",
                    least * 100.0,
                    reduced * 100.0
                ),
                None => format!("Strips cover at least {:.0} % of the {of}.", least * 100.0),
            },
            measured,
            got >= least - 1e-9,
        );
    }

    /// From edge to edge, as far as what is in the way lets it.
    pub(super) fn full_width(&mut self, element: Element, ends: (f64, f64)) {
        let strips = self.of(element);
        let covered = covered_mm(&strips);
        let possible: f64 = self.best_of(element).iter().map(Strip::length_mm).sum();
        let whole = ends.1 - ends.0;
        let clause = match (self.rules().set, element) {
            (RuleSet::UnitedStatesInUse, _) => "49 CFR 393.13(c)(2)",
            (_, Element::Underride) => "49 CFR 571.108 S8.2.3.1, element 3",
            _ => "49 CFR 571.108 S8.2.3.1, element 1",
        };
        let kept = covered >= possible.min(whole) - CLOSE_MM && covered > 0.0;
        let measured = format!(
            "{} of {}; {} is possible.",
            self.text(covered),
            self.text(whole),
            self.text(possible)
        );
        self.tell_practicable(
            element,
            "full_width",
            On::Clause(clause),
            "The strip runs over the full width, but for what it need not be put on: hinges, lamps, ribs.".into(),
            measured,
            kept,
            covered > 0.0,
        );
    }

    fn height(&mut self) {
        let (low, high) = band(self.rules());
        let unece = self.rules().set == RuleSet::Unece;
        let strips = self.of(Element::Line);
        let edge = |s: &Strip| if unece { s.width_mm / 2.0 } else { 0.0 };
        let numbers: Vec<usize> = strips
            .iter()
            .filter(|s| {
                s.centre_mm - edge(s) < low - KEPT_MM || s.centre_mm + edge(s) > high + KEPT_MM
            })
            .map(|s| self.number(s))
            .collect();
        let out = !numbers.is_empty();
        let (least, most) = strips
            .iter()
            .map(|s| s.centre_mm)
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), h| {
                (a.min(h.mm()), b.max(h.mm()))
            });
        let measured = if strips.is_empty() {
            "No strip.".into()
        } else {
            format!("Centreline from {least:.0} to {most:.0} mm.")
        };
        let asks = if unece {
            format!("The element lies between {low:.0} and {high:.0} mm above the ground.")
        } else {
            format!(
                "The centreline is as close as practicable to {low:.0} to {high:.0} mm above the road, at curb weight."
            )
        };
        // The United States rule asks for what is practicable; the UN's allows higher where that is technically necessary.
        let reach = self.rules().get("lower_highest").unwrap_or(f64::INFINITY);
        // Where the best layout lies in the band, no reason makes another height as close as practicable.
        let best = self.best_of(Element::Line);
        let in_band = |s: &Strip| {
            s.centre_mm - edge(s) >= low - KEPT_MM && s.centre_mm + edge(s) <= high + KEPT_MM
        };
        let best_is_in = !best.is_empty() && best.iter().all(in_band);
        let possible = !strips.is_empty()
            && (unece || !best_is_in)
            && (!unece || most + 30.0 <= reach && least >= low);
        let measured = match best.first() {
            Some(s) if out && best_is_in => format!(
                "{measured} The best layout lies at {:.0} mm, within that.",
                s.centre_mm.mm()
            ),
            _ => measured,
        };
        self.tell_practicable(
            Element::Line,
            "height",
            On::Figure(if unece { "lower_low" } else { "centre_low" }),
            asks,
            measured,
            !strips.is_empty() && !out,
            possible,
        )
        .strips = numbers;
    }

    /// As near the ends as the best layout comes.
    pub(super) fn ends(&mut self, element: Element, ends: (f64, f64)) {
        let strips = self.of(element);
        let span = |all: &mut dyn Iterator<Item = &Strip>| {
            all.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), s| {
                (a.min(s.start_mm.mm()), b.max(s.end_mm()))
            })
        };
        if strips.is_empty() {
            return;
        }
        let (first, last) = span(&mut strips.iter().copied());
        let best = self.best_of(element);
        let (front, rear) = (first - ends.0, ends.1 - last);
        let mut measured = format!(
            "{} from one end, {} from the other.",
            self.text(front),
            self.text(rear)
        );
        let mut kept = true;
        if !best.is_empty() {
            let (a, b) = span(&mut best.iter());
            let (best_front, best_rear) = (a - ends.0, ends.1 - b);
            kept = front <= best_front + CLOSE_MM && rear <= best_rear + CLOSE_MM;
            if !kept {
                measured.push_str(&format!(
                    " Possible: {} and {}.",
                    self.text(best_front),
                    self.text(best_rear)
                ));
            }
        }
        self.tell_practicable(
            element,
            "ends",
            On::Clause(self.clause_of_set()),
            "Strips begin and end as close to both ends as practicable.".into(),
            measured,
            kept,
            true,
        );
    }

    /// Lengths of colours, but for what is trimmed to clear something or lengthened beside red lamps.
    pub(super) fn segments(&mut self, element: Element) {
        let (least, most) = (
            self.rules().get("segment_least").unwrap_or(0.0),
            self.rules().get("segment_most").unwrap_or(f64::INFINITY),
        );
        let reach = self.rules().get("lamp_distance").unwrap_or(0.0);
        // A member has its own ends and its own things in the way, such as its label.
        let member = match (&self.ask.marking.underride, element) {
            (Some(member), Element::Underride) => Some(member_face(self.side(), member)),
            _ => None,
        };
        let side = member.as_ref().unwrap_or(self.side());
        let mut wrong = Vec::new();
        let mut numbers = Vec::new();
        let Some(tape) = self.tape_of(element) else {
            return;
        };
        let none = tape.is_empty();
        for s in tape {
            let n = self.number(s);
            let runs = s.run_rects();
            let mut at = s.start_mm;
            let count = s.runs.len();
            for (m, run) in s.runs.iter().enumerate() {
                let (from, to) = (at, at + run.length_mm);
                at = to.into();
                // A run at a strip's end that stops at something may be trimmed shorter.
                let trimmed = (m == 0 || m + 1 == count)
                    && side.obstacles.iter().any(|o| {
                        let off = keep_off(o, self.rules(), side.face) + 1.0;
                        // What stands at another height is no reason.
                        let (low, high) = s.rect().height_mm;
                        let beside = o.height_mm.0 - off < high && o.height_mm.1 + off > low;
                        beside
                            && ((o.back_mm.1 - from).abs() <= off
                                || (o.back_mm.0 - to).abs() <= off)
                    });
                let lengthened = run.colour == TapeColour::Red
                    && side.obstacles.iter().any(|o| {
                        o.lamp == Some(LampColour::Red)
                            && runs.iter().any(|(r, rect)| {
                                r.colour == TapeColour::Red
                                    && (rect.back_mm.0 - from).abs() < 1e-6
                                    && rect.apart_mm(&o.rect()) <= reach + 1.0
                            })
                    });
                let short = run.length_mm < least - KEPT_MM && !trimmed;
                let long = run.length_mm > most + KEPT_MM && !lengthened;
                if short || long {
                    wrong.push(format!("strip {n}: {}", self.text(run.length_mm.mm())));
                    numbers.push(n);
                }
            }
        }
        let kept = wrong.is_empty() && !none;
        self.tell(
            element,
            "segments",
            On::Figure("segment_least"),
            format!("Each colour is {least:.0} to {most:.0} mm long, unless trimmed to clear something or lengthened beside red lamps."),
            if none {
                "No strip.".into()
            } else if kept {
                "Every one is.".into()
            } else {
                format!("Not so in {}.", wrong.join(", "))
            },
            kept,
        )
        .strips = numbers;
    }

    /// Red, white and all of these strips, mm.
    fn lengths(strips: &[&Strip]) -> (f64, f64, f64) {
        let of = |colour: Option<TapeColour>| {
            strips
                .iter()
                .flat_map(|s| &s.runs)
                .filter(|r| colour.is_none_or(|c| r.colour == c))
                .map(|r| r.length_mm)
                .sum::<f64>()
        };
        (
            of(Some(TapeColour::Red)),
            of(Some(TapeColour::White)),
            of(None),
        )
    }

    pub(super) fn colours(&mut self, element: Element) {
        let most = self.rules().get("colour_share").unwrap_or(1.0);
        let Some(tape) = self.tape_of(element) else {
            return;
        };
        let (red, white, all) = Self::lengths(&tape);
        let share = |mm: f64| if all > 0.0 { mm / all } else { 0.0 };
        // Across a width each continuous strip is counted by itself, but for what is too short for both colours whole.
        let shortest = 2.0 * self.rules().get("segment_least").unwrap_or(0.0);
        let across = self.side().face == Face::Rear;
        let alone = |s: &&Strip| {
            let most_of = |colour| {
                let runs = s.runs.iter().filter(|r| r.colour == colour);
                runs.map(|r| r.length_mm.mm()).sum::<f64>() / s.length_mm().max(1.0)
            };
            across
                && s.length_mm() >= shortest - KEPT_MM
                && [TapeColour::Red, TapeColour::White]
                    .into_iter()
                    .any(|c| most_of(c) > most + 1e-9)
        };
        let lopsided: Vec<usize> = (tape.iter())
            .filter(|s| alone(s))
            .map(|s| self.number(s))
            .collect();
        let even = lopsided.is_empty();
        let alternate = tape
            .iter()
            .all(|s| s.runs.windows(2).all(|w| w[0].colour != w[1].colour));
        self.tell(
            element,
            "colours",
            On::Figure("colour_share"),
            format!(
                "Red and white alternate; neither is more than {:.1} % of the whole.",
                most * 100.0
            ),
            format!(
                "Red {:.1} %, white {:.1} %{}{}",
                share(red) * 100.0,
                share(white) * 100.0,
                if alternate {
                    "."
                } else {
                    "; two of one colour meet."
                },
                match lopsided.as_slice() {
                    [] => String::new(),
                    n => format!(
                        " By itself, strip {} has more of one colour.",
                        n.iter()
                            .map(usize::to_string)
                            .collect::<Vec<_>>()
                            .join(", ")
                    ),
                }
            ),
            even && all > 0.0
                && alternate
                && share(red) <= most + 1e-9
                && share(white) <= most + 1e-9
                && (red + white - all).abs() < KEPT_MM,
        )
        .strips = lopsided.clone();
    }

    fn red_alone(&mut self) {
        let (red, white, _) = Self::lengths(&self.of(Element::Line));
        let measured = format!("Red {}, white {}.", self.text(red), self.text(white));
        self.tell(
            Element::Line,
            "red_alone",
            On::Clause("49 CFR 393.13(b)"),
            "Red only as part of red and white.".into(),
            measured,
            red + white > KEPT_MM && (red < KEPT_MM || white > KEPT_MM),
        );
    }

    /// Strips split along their length: two of one length and colour, near enough to each other.
    fn split(&mut self) {
        let (Some(half), Some(open)) = (
            self.rules().get("split_width"),
            self.rules().get("split_gap"),
        ) else {
            return;
        };
        let split: Vec<&Strip> = self
            .of(Element::Line)
            .into_iter()
            .filter(|s| s.split_mm.is_some())
            .collect();
        if split.is_empty() {
            return;
        }
        let widest = split
            .iter()
            .filter_map(|s| s.split_mm.map(Mm::mm))
            .fold(0.0, f64::max);
        let narrowest = split
            .iter()
            .map(|s| s.tape_mm() / 2.0)
            .fold(f64::INFINITY, f64::min);
        let measured = format!(
            "{} strips are split: halves of {narrowest:.1} mm, {} apart.",
            split.len(),
            self.text(widest)
        );
        self.tell_practicable(
            Element::Line,
            "split",
            On::Figure("split_gap"),
            format!("A strip split beside rivet heads is two of {half:.0} mm, of one length and colour, no more than {open:.0} mm apart."),
            measured,
            widest <= open + KEPT_MM && narrowest >= half - KEPT_MM,
            false,
        );
        // From memory the rule stands under the side; whether it reaches the rear is not sure.
        if self.side().face == Face::Rear
            && let Some(last) = self.found.last_mut()
        {
            last.audited = Audited::FigureUncertain;
        }
    }

    /// Distance of each colour from required lamps.
    pub(super) fn lamps(&mut self) {
        let (set, face) = (self.rules().set, self.side().face);
        let key = match (set, face) {
            (RuleSet::UnitedStatesNew | RuleSet::Voluntary, _) => "lamp_distance",
            (RuleSet::Unece, Face::Rear) => "stop_lamp",
            _ => return,
        };
        let least = self.rules().get(key).unwrap_or(0.0);
        let matters = |tape: TapeColour, lamp: LampColour| match set {
            RuleSet::UnitedStatesNew => {
                tape == TapeColour::White && lamp != LampColour::White
                    || tape == TapeColour::Red && lamp == LampColour::Amber
            }
            RuleSet::Unece => true,
            _ => !matches!(
                (tape, lamp),
                (TapeColour::Red, LampColour::Red)
                    | (TapeColour::White, LampColour::White)
                    | (TapeColour::Yellow, LampColour::Amber)
            ),
        };
        let mut nearest: Option<(f64, String, TapeColour)> = None;
        let mut numbers: Vec<usize> = Vec::new();
        let too_near = |away: f64| match set {
            RuleSet::Unece => away <= least,
            _ => away < least - KEPT_MM,
        };
        for o in &self.side().obstacles {
            let Some(lamp) = o.lamp else { continue };
            match set {
                RuleSet::Unece if !o.may_stop(face) => continue,
                RuleSet::UnitedStatesNew if o.function == LampFunction::Reflector => continue,
                _ => {}
            }
            for s in &self.strips {
                for (run, rect) in s.run_rects() {
                    let away = rect.apart_mm(&o.rect());
                    if matters(run.colour, lamp) && too_near(away) {
                        numbers.push(self.number(s));
                    }
                    if matters(run.colour, lamp) && nearest.as_ref().is_none_or(|(d, ..)| away < *d)
                    {
                        nearest = Some((away, o.name.clone(), run.colour));
                    }
                }
            }
        }
        let Some((away, name, colour)) = nearest else {
            return;
        };
        let asks = match set {
            RuleSet::UnitedStatesNew => format!(
                "White keeps {least:.0} mm from required red and amber lamps, red from amber ones."
            ),
            RuleSet::Unece => format!(
                "Tape keeps more than {least:.0} mm from stop lamps; a required red lamp of which nobody has said what it is for is taken for one."
            ),
            _ => format!("Tape keeps {least:.0} mm from required lamps of another colour."),
        };
        let measured = format!(
            "Nearest: {}, {} from the {name}.",
            colour.name(),
            self.text(away)
        );
        let kept = !too_near(away);
        self.tell(
            Element::Line,
            "lamps",
            On::Figure(key),
            asks,
            measured,
            kept,
        )
        .strips = numbers;
    }

    /// Whether every colour that was cut still shows its approval mark.
    pub(super) fn marks(&mut self) {
        let clause = match self.rules().set {
            RuleSet::UnitedStatesNew => "49 CFR 571.108 S8.2.1.3",
            RuleSet::Unece => "UN R104",
            _ => return,
        };
        let stock = &self.ask.marking.stock;
        let (mut lost, mut unknown) = (Vec::new(), Vec::new());
        let (mut numbers, mut count) = (Vec::new(), 0);
        for s in self.strips.iter().filter(|s| s.reflectors.is_none()) {
            let n = self.number(s);
            for (run, shows) in s.runs.iter().zip(shows_marks(self.rules(), stock, s)) {
                count += 1;
                let which = || {
                    format!(
                        "{} of {} in strip {n}",
                        self.text(run.length_mm.mm()),
                        run.colour.name()
                    )
                };
                match shows {
                    Shows::Yes => continue,
                    Shows::No => lost.push(which()),
                    Shows::Unknown => unknown.push(which()),
                }
                numbers.push(n);
            }
        }
        if count == 0 {
            return;
        }
        let list = |all: &[String]| {
            let more = all.len().saturating_sub(5);
            let shown = all.iter().take(5).cloned().collect::<Vec<_>>().join(", ");
            if more > 0 {
                format!("{shown} and {more} more")
            } else {
                shown
            }
        };
        let measured = match (lost.is_empty(), unknown.is_empty()) {
            (false, _) => format!(
                "By where the marks stand on this tape, none is left on: {}. Cut those so that a mark stays.",
                list(&lost)
            ),
            (_, false) => format!(
                "Nobody has measured where the marks stand on this tape. Cut, and to be looked at: {}.",
                list(&unknown)
            ),
            _ => format!("All {count} show it."),
        };
        let look = lost.is_empty() && !unknown.is_empty();
        let finding = self.tell(
            Element::Line,
            "marks",
            On::Clause(clause),
            "Every colour, cut or whole, shows its approval mark.".into(),
            measured,
            lost.is_empty(),
        );
        finding.strips = numbers;
        if look {
            finding.audited = Audited::Look;
        }
    }
}
