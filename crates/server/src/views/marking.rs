//! The marking of a face as the web application is given it: the best layout, the strips that are audited, cuts, clauses.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use windrift_core::ground::said::Said;
use windrift_core::ground::settings::SideWords;
use windrift_core::ground::tape::{Length, Unit, print};
use windrift_core::marking::applies::{Binding, VOLUNTARY, binding, laid_out_by};
use windrift_core::marking::audit::covered_mm;
use windrift_core::marking::cut_list::all_strips;
use windrift_core::marking::face::CLEAR_MM;
use windrift_core::marking::face_marking::ReadStrip;
use windrift_core::marking::read_back::{ReadAgainst, against};
use windrift_core::marking::rules::Corrections;
use windrift_core::marking::{
    Applies, ClauseFinding, CutList, Element, ElementPlan, Face, FaceAsk, FaceMarking, MarkSide,
    Required, RuleSet, Rules, Strip, TapeColour, VehicleMarking, audit_numbered, cut_list, work,
};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::side::words::Ends;

use crate::views::kept_layouts::best_of;

/// Which strips are audited.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Audits {
    /// The best layout.
    Best,
    /// The layout as it was changed by hand.
    Own,
    /// The strips as they were read back on the floor.
    ReadBack,
}

/// A length of one colour on the picture.
#[derive(Debug, Serialize, ToSchema)]
pub struct RunView {
    /// The colour.
    pub colour: TapeColour,
    /// Its length.
    pub length: Length,
    /// Its corners in the picture frame.
    pub corners: [[f64; 2]; 4],
}

/// A strip with its printed figures.
#[derive(Debug, Serialize, ToSchema)]
pub struct StripView {
    /// Its number.
    pub number: u32,
    /// The strip.
    pub strip: Strip,
    /// The part that it marks, in words.
    pub part: String,
    /// Where it begins, along the side.
    pub start: Length,
    /// Where it ends.
    pub end: Length,
    /// Its length.
    pub length: Length,
    /// Its middle above the ground.
    pub centre: Length,
    /// How far down from the reference its upper edge is.
    pub down: Length,
    /// Its colours.
    pub runs: Vec<RunView>,
    /// Where it is cut back, and from what.
    pub cut_back: Vec<String>,
}

/// A cut with its printed length.
#[derive(Debug, Serialize, ToSchema)]
pub struct CutView {
    /// The strip that it is for.
    pub strip: u32,
    /// Length.
    pub length: Length,
    /// Its colours with their lengths: `red 12, white 12`.
    pub colours: String,
    /// Where it goes: `line, from 4' 0`.
    pub goes: String,
    /// Which end of it lies first: `red end first`, with a word where it is turned round.
    pub way: String,
    /// Tape passed over before it.
    pub skipped: Option<Length>,
    /// What is done to it: split along its length, cut down.
    pub done: Option<String>,
}

/// Cuts from one tape.
#[derive(Debug, Serialize, ToSchema)]
pub struct CutsView {
    /// The tape.
    pub name: String,
    /// Cuts in order.
    pub cuts: Vec<CutView>,
    /// Tape on the vehicle.
    pub used: Length,
    /// Tape left over.
    pub waste: Length,
    /// Whether no order of cuts leaves less.
    pub proven: bool,
    /// No order leaves less than this.
    pub least_waste: Length,
    /// Pre-cut strips that are needed.
    pub pre_cut: Option<u32>,
}

/// A figure that the shop uses in place of the one recalled.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CorrectedView {
    /// What the figure says.
    pub says: &'static str,
    /// Its clause.
    pub clause: &'static str,
    /// As recalled.
    pub recalled: f64,
    /// What the shop uses.
    pub used: f64,
}

/// The ground below a face, on the picture.
#[derive(Debug, Serialize, ToSchema)]
pub struct GroundView {
    /// Its line in the picture frame.
    pub line: [[f64; 2]; 2],
    /// How far below the body the picture must reach to show it, mm; 0 where nothing is marked below the body.
    pub below_mm: f64,
}

/// What a set of rules says of a vehicle.
#[derive(Debug, Serialize, ToSchema)]
pub struct SetAnswer {
    /// What the set is called.
    pub name: &'static str,
    /// Its answer.
    pub answer: Applies,
}

/// What was worked out for a face.
#[derive(Debug, Serialize, ToSchema)]
pub struct MarkingFound {
    /// Whether it is required on this face.
    pub here: Required,
    /// Whether it is required: the answer of the set that binds.
    pub applies: Applies,
    /// Every set's own answer, with what it is called.
    pub sets: Vec<SetAnswer>,
    /// The rules that it is laid out and audited by; nothing where marking is prohibited.
    pub by: Option<RuleSet>,
    /// What those are called.
    pub by_name: Option<&'static str>,
    /// Limits of voluntary marking, where it is not required.
    pub voluntary: Vec<&'static str>,
    /// Each part with its best layout.
    pub elements: Vec<ElementPlan>,
    /// Whether every part is proven best.
    pub proven: bool,
    /// Which strips are shown and audited.
    pub audits: Audits,
    /// Those strips.
    pub strips: Vec<StripView>,
    /// Where strips are planned, as corners in the picture frame: shown beside what is read back.
    pub planned: Vec<[[f64; 2]; 4]>,
    /// What a reading back begins with: every planned strip, unread.
    pub to_read: Vec<ReadStrip>,
    /// What is read back so far, beside its plan.
    pub read: Vec<ReadAgainst>,
    /// Tape in all.
    pub film: Length,
    /// Share of the length that the line covers, 0 to 100.
    pub share: f64,
    /// What is cut from which tape.
    pub cuts: Vec<CutsView>,
    /// Clause by clause.
    pub audit: Vec<ClauseFinding>,
    /// What is done, in order.
    pub steps: Vec<String>,
    /// Figures of these rules that the shop has corrected.
    pub corrected: Vec<CorrectedView>,
    /// The ground.
    pub ground: GroundView,
    /// Corners of the underride member in the picture frame.
    pub member: Option<[[f64; 2]; 4]>,
}

/// The marking of a face.
#[derive(Debug, Serialize, ToSchema)]
pub struct MarkingView {
    /// The side.
    pub side: uuid::Uuid,
    /// Which face of the vehicle it is.
    pub face: Face,
    /// What its parts are called.
    pub parts: Vec<PartName>,
    /// What is settled about this face, as it is said: the whole, then its underride member or its two places at a tractor's rear.
    pub said: Vec<Vec<Said>>,
    /// The vehicle, where it is settled.
    pub vehicle: Option<VehicleMarking>,
    /// What the job says of it, until somebody settles it.
    pub suggested: VehicleMarking,
    /// Its lengths as printed, by path of the field.
    pub vehicle_printed: BTreeMap<String, String>,
    /// Its revision; 0 where there is none.
    pub vehicle_revision: i32,
    /// Key of the vehicle's row.
    pub vehicle_id: uuid::Uuid,
    /// What is settled about this face.
    pub marking: Option<FaceMarking>,
    /// Its lengths as printed, by path of the field.
    pub printed: BTreeMap<String, String>,
    /// Its revision; 0 where there is none.
    pub revision: i32,
    /// Key of its row.
    pub id: uuid::Uuid,
    /// The marking of another face of this job, to begin alike.
    pub like: Option<FaceMarking>,
    /// What was worked out; nothing until vehicle and face are settled.
    pub found: Option<MarkingFound>,
    /// What is shown wherever the rule is used.
    pub from_memory: &'static str,
}

/// What a part of a face is called.
#[derive(Debug, Serialize, ToSchema)]
pub struct PartName {
    /// The part.
    pub element: Element,
    /// Its name on this face: `upper curb corner`.
    pub name: String,
}

impl PartName {
    /// Of every part, on a face whose tape runs between these ends.
    pub fn all(ends: Ends) -> Vec<PartName> {
        let named = |element: Element| PartName {
            element,
            name: element.name(ends),
        };
        Element::ALL.map(named).into()
    }
}

/// What a marking is worked out from.
pub struct MarkingInput {
    /// The side as measured.
    pub measured: MeasuredSide,
    /// Film that is laid out on the side: what it is called, its box in the picture frame.
    pub film: Vec<(String, kurbo::Rect)>,
    /// The vehicle.
    pub vehicle: VehicleMarking,
    /// What is settled about the face.
    pub marking: FaceMarking,
    /// Figures that the shop has corrected.
    pub corrections: Corrections,
    /// What the shop's country calls the sides of a vehicle.
    pub words: SideWords,
    /// The job's unit.
    pub unit: Unit,
    /// Whether what was read back is audited rather than the layout.
    pub read_back: bool,
}

/// What was worked out, as types of the core: for the report and the record.
pub struct MarkingParts {
    /// Whether it is required: the answer of the set that binds.
    pub applies: Applies,
    /// Every set's own answer.
    pub all: Vec<Applies>,
    /// The rules that it is laid out by.
    pub rules: Option<Rules>,
    /// The face.
    pub side: MarkSide,
    /// Each part.
    pub elements: Vec<ElementPlan>,
    /// Which strips are audited.
    pub audits: Audits,
    /// Those strips.
    pub strips: Vec<Strip>,
    /// Their numbers.
    pub numbers: Vec<usize>,
    /// The layout: the best, or as it was changed by hand.
    pub planned: Vec<Strip>,
    /// Clause by clause.
    pub audit: Vec<ClauseFinding>,
}

impl MarkingInput {
    /// What the ends of its tape are called.
    pub fn ends(&self) -> Ends {
        self.measured.side.ends(self.words)
    }

    /// Works it out.
    pub fn parts(&self) -> MarkingParts {
        let Binding {
            binds: applies,
            all,
        } = binding(self.vehicle.set, &self.corrections, &self.vehicle.vehicle);
        let rules =
            laid_out_by(applies.set, applies.required).map(|set| Rules::of(set, &self.corrections));
        let ground_mm = self.marking.ground_mm;
        let side = MarkSide::of(&self.measured, ground_mm.mm()).beside_film(
            &self.measured,
            ground_mm.mm(),
            self.film.iter().map(|(name, r)| (name.as_str(), *r)),
        );
        let mut parts = MarkingParts {
            applies,
            all,
            rules,
            side,
            elements: Vec::new(),
            audits: Audits::Best,
            strips: Vec::new(),
            numbers: Vec::new(),
            planned: Vec::new(),
            audit: Vec::new(),
        };
        let Some(rules) = &parts.rules else {
            return parts;
        };
        let ask = FaceAsk {
            side: &parts.side,
            rules,
            vehicle: &self.vehicle.vehicle,
            marking: &self.marking,
            ends: self.ends(),
            unit: self.unit,
        };
        parts.elements = best_of(&ask);
        (parts.audits, parts.strips) = match (&self.marking.read_back, &self.marking.own) {
            _ if self.read_back => (Audits::ReadBack, self.marking.strips_read()),
            (_, Some(own)) => (Audits::Own, own.clone()),
            _ => (Audits::Best, all_strips(&parts.elements)),
        };
        parts.planned = match &self.marking.own {
            Some(own) => own.clone(),
            None => all_strips(&parts.elements),
        };
        parts.numbers = match parts.audits {
            Audits::ReadBack => self.marking.numbers_read(),
            _ => (1..=parts.strips.len()).collect(),
        };
        parts.audit = audit_numbered(&ask, &parts.strips, &parts.numbers, &parts.elements);
        parts
    }

    /// Works it out, for the web application.
    pub fn found(&self) -> MarkingFound {
        let parts = self.parts();
        let set = parts.rules.as_ref().map(|r| r.set);
        let line: Vec<&Strip> = sorted(parts.strips.iter().filter(|s| s.element == Element::Line));
        let share = 100.0 * covered_mm(&line) / parts.side.length_mm().max(1.0);
        let heads = parts.elements.iter().map(|e| e.heads_under).sum();
        MarkingFound {
            by: set,
            by_name: set.map(RuleSet::name),
            voluntary: if parts.applies.required == Required::No {
                VOLUNTARY.to_vec()
            } else {
                Vec::new()
            },
            proven: parts.elements.iter().all(|e| e.proven),
            film: print(parts.strips.iter().map(Strip::length_mm).sum(), self.unit),
            share,
            cuts: cut_list(&parts.strips, &self.marking.stock)
                .iter()
                .map(|list| self.cuts(list))
                .collect(),
            ground: self.ground(&parts.side),
            member: self.marking.underride.as_ref().map(|u| {
                self.corners(
                    (u.from_mm.mm(), u.to_mm.mm()),
                    (u.foot_mm.mm(), u.top_mm.mm()),
                )
            }),
            steps: work::steps(heads, &self.marking, &parts.strips),
            corrected: corrected(parts.rules.as_ref()),
            strips: (parts.numbers.iter())
                .zip(&parts.strips)
                .map(|(n, s)| self.strip(*n as u32, s, &parts.side))
                .collect(),
            sets: (parts.all.into_iter())
                .map(|answer| SetAnswer {
                    name: answer.set.name(),
                    answer,
                })
                .collect(),
            planned: if self.read_back {
                (parts.planned.iter())
                    .map(|s| self.corners(s.rect().back_mm, s.rect().height_mm))
                    .collect()
            } else {
                Vec::new()
            },
            to_read: (parts.planned.iter())
                .map(|s| ReadStrip::unread_of(s, self.marking.ground_mm.mm()))
                .collect(),
            read: against(
                self.marking.read_back.as_deref().unwrap_or_default(),
                self.ends(),
                self.unit,
            ),
            here: parts.applies.on(parts.side.face),
            applies: parts.applies,
            elements: parts.elements,
            audits: parts.audits,
            audit: parts.audit,
        }
    }

    /// Corners in the picture frame of what lies between two places along the side and two heights above the ground.
    fn corners(&self, back_mm: (f64, f64), height_mm: (f64, f64)) -> [[f64; 2]; 4] {
        let ((from, to), (low, high)) = (back_mm, height_mm);
        let (top, foot) = (self.marking.ground_mm - high, self.marking.ground_mm - low);
        [(from, top), (to, top), (to, foot), (from, foot)].map(|(back, down)| {
            let p = self.measured.datum.at(back, down);
            [p.x, p.y]
        })
    }

    fn ground(&self, side: &MarkSide) -> GroundView {
        let [a, b, ..] = self.corners(side.ends_mm, (0.0, 0.0));
        let hangs_below = self.marking.underride.is_some() || self.marking.tractor.is_some();
        GroundView {
            line: [a, b],
            below_mm: if hangs_below {
                side.height_mm.0.max(0.0)
            } else {
                0.0
            },
        }
    }

    fn strip(&self, number: u32, strip: &Strip, side: &MarkSide) -> StripView {
        let all = strip.rect();
        let text = |mm| print(mm, self.unit);
        let runs = strip
            .run_rects()
            .into_iter()
            .map(|(run, r)| RunView {
                colour: run.colour,
                length: text(run.length_mm.mm()),
                corners: self.corners(r.back_mm, r.height_mm),
            })
            .collect();
        let near = all.grown(CLEAR_MM + 0.5);
        let mut cut_back: Vec<String> = side
            .obstacles
            .iter()
            .filter(|o| !o.is_edge() && o.rect().meets(&near, 0.0))
            .map(|o| {
                let at = if o.back_mm.1 <= all.back_mm.0 {
                    o.back_mm.1
                } else {
                    o.back_mm.0
                };
                format!("{} at {}", o.name, text(at).text)
            })
            .collect();
        cut_back.dedup();
        StripView {
            number,
            part: strip.element.name(self.ends()),
            start: text(strip.start_mm.mm()),
            end: text(strip.end_mm()),
            length: text(strip.length_mm()),
            centre: text(strip.centre_mm.mm()),
            down: text(self.marking.ground_mm - all.height_mm.1),
            runs,
            cut_back,
            strip: strip.clone(),
        }
    }

    fn cuts(&self, list: &CutList) -> CutsView {
        let text = |mm| print(mm, self.unit);
        CutsView {
            name: list.name.clone(),
            cuts: list
                .cuts
                .iter()
                .map(|c| CutView {
                    strip: c.strip,
                    length: text(c.length_mm),
                    colours: c
                        .runs
                        .iter()
                        .map(|r| format!("{} {}", r.colour.name(), text(r.length_mm.mm()).text))
                        .collect::<Vec<_>>()
                        .join(", "),
                    goes: c.goes(self.ends(), self.unit),
                    way: c.lies(),
                    skipped: (c.skipped_mm > 0.5).then(|| text(c.skipped_mm)),
                    done: match (c.split, c.cut_down_to_mm) {
                        (true, _) => Some("split along its middle".into()),
                        (_, Some(mm)) => Some(format!("cut down to {mm:.0} mm wide")),
                        _ => None,
                    },
                })
                .collect(),
            used: text(list.used_mm),
            waste: text(list.waste_mm),
            proven: list.waste_mm <= list.least_waste_mm + 0.1,
            least_waste: text(list.least_waste_mm),
            pre_cut: list.pre_cut,
        }
    }
}

/// Strips from the zero of the tape.
pub(super) fn sorted<'a>(strips: impl Iterator<Item = &'a Strip>) -> Vec<&'a Strip> {
    let mut all: Vec<&Strip> = strips.collect();
    all.sort_by(|a, b| a.start_mm.total_cmp(&b.start_mm));
    all
}

/// Figures that the shop has corrected, with what was recalled.
pub fn corrected(rules: Option<&Rules>) -> Vec<CorrectedView> {
    rules
        .map(Rules::corrections)
        .unwrap_or_default()
        .into_iter()
        .map(|(figure, used)| CorrectedView {
            says: figure.says,
            clause: figure.clause,
            recalled: figure.value,
            used,
        })
        .collect()
}
