//! Laying a piece down: its sheets as cells, the order of strokes on each with its proof, and what to do where air has no way out.

pub mod rivets;
pub mod seen;
pub mod sheets;
pub mod turns;

use kurbo::Point;
use serde::Serialize;

use crate::film::classes::Adhesive;
use crate::film::work::WetOrDry;
use crate::floor::air::{Swath, press, share_pressed};
use crate::floor::forming::{Forming, FormingPlace, Stretches, stretches_as_settled};
use crate::floor::hang::words::Hang;
use crate::floor::prove::{Moment, ShutIn, TOLD_MM, prove};
use crate::floor::strokes::order::order;
use crate::floor::strokes::{Start, Stroke, StrokeKind, StrokeOrder, Ways};
use crate::ground::outline::segment_distance;
use crate::ground::settings::{SideWords, WorkSettings};
use crate::ground::tape::{Unit, print};
use crate::ground::told::first_capital;
use crate::plan::planned::PlannedPiece;
use crate::plan::worked::{When, Worked};
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::{Area, MeasuredSide};
use crate::vehicle::side::words::Ends;
use rivets::RivetWork;
use sheets::{PressSheet, sheets};

/// Cells on which somebody's own strokes are judged, mm.
pub const CELL_MM: f64 = 10.0;
/// Width of a squeegee, mm: 4 in (ours).
pub const SQUEEGEE_MM: f64 = 101.6;
/// Overlap of a stroke with the one before, mm: a quarter of the squeegee (ours).
pub const OVERLAP_MM: f64 = 25.4;
/// Longest stroke without moving the feet, mm (ours).
pub const REACH_MM: f64 = 900.0;

/// One stroke in the picture frame.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StrokeShown {
    /// Its number within the section, from 1.
    pub number: u32,
    /// What it does.
    pub kind: StrokeKind,
    /// The stage by the stay tape, from 1.
    pub stage: u32,
    /// The flat that it is on, from 1.
    pub flat: u32,
    /// Its middle line from where it begins to where it ends, mm.
    pub path: Vec<[f64; 2]>,
    /// What it presses, as corners; nothing for a crease, which is set along its line.
    pub shape: Vec<[f64; 2]>,
    /// Width that is pressed at the widest, mm.
    pub width_mm: f64,
    /// What is done, in a sentence.
    pub sentence: String,
    /// What a print meets here for the first time, and how it is worked before or with this stroke.
    pub reached: Vec<String>,
}

/// Air that cannot get out, with what to do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AirShutIn {
    /// Number of the stroke that shuts it in; 0 where it has no way out from the beginning.
    pub stroke: u32,
    /// Corners of its rectangle in the picture frame.
    pub corners: [[f64; 2]; 4],
    /// Where it is pricked, if it is.
    pub prick: [f64; 2],
    /// Area in cm².
    pub area_cm2: f64,
    /// Whether the film's channels let it be pressed out by hand.
    pub can_be_pressed_out: bool,
    /// Why it is shut in and what to do.
    pub sentence: String,
}

/// The strokes of one section.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SectionStrokes {
    /// What the section is called.
    pub called: String,
    /// Its corners in the picture frame.
    pub corners: [[f64; 2]; 4],
    /// Strokes in their order.
    pub strokes: Vec<StrokeShown>,
    /// What is done after the last stroke, in order.
    pub then: Vec<String>,
    /// Where air has no way out.
    pub shut_in: Vec<AirShutIn>,
    /// Flats that the section lies on.
    pub flats: u32,
    /// Share of the film that the strokes press, 0 to 1.
    pub pressed: f64,
    /// What the proof says, in a sentence.
    pub proof: String,
}

/// How a piece is laid down.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayDown {
    /// Sections in their order.
    pub sections: Vec<SectionStrokes>,
    /// What is done at rivet heads, afterwards.
    pub rivets: RivetWork,
    /// What must be known before the first stroke.
    pub before: Vec<String>,
    /// What is cut, trimmed and turned in once it lies.
    pub once_it_lies: Vec<String>,
    /// The answer in a sentence.
    pub sentence: String,
}

/// How the strokes run for a hinge.
pub fn ways(hang: &Hang) -> Ways {
    Ways {
        start: hang.start,
        squeegee_mm: SQUEEGEE_MM,
        overlap_mm: OVERLAP_MM,
        reach_mm: REACH_MM,
        stage_mm: hang.stage_mm,
    }
}

/// Works out how a piece is laid down.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_piece, plan_side, around::JobAround, piece::Piece, planned::PlannedPiece};
/// # use windrift_core::vehicle::{body::Body, measured::{MeasuredSide, measure::measure}, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let settings = WorkSettings::default();
/// # // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # // Letters 10 in high, 18 in from the front, their cap line 2 ft below the rail.
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let measured = measure(&side, &[]).unwrap();
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// # use windrift_core::floor::{hang::hang, lay_down::lay_down};
/// let hang = hang(&planned, &measured, &settings, false, unit);
/// let told = lay_down(&planned, &measured, &hang, &settings, unit);
/// assert!(told.sections.iter().all(|s| s.shut_in.is_empty() && s.pressed == 1.0));
/// ```
pub fn lay_down(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    hang: &Hang,
    settings: &WorkSettings,
    unit: Unit,
) -> LayDown {
    let ways = ways(hang);
    let mut sections: Vec<SectionStrokes> = sheets(planned, side, hang, settings)
        .iter()
        .map(|s| {
            let order = order(&s.plan, &s.creases, &ways);
            shown(s, &order, side, hang, (settings.side_words, unit))
        })
        .collect();
    let formed = stretches_as_settled(planned, side, settings, unit);
    never_bridged(&mut sections, &formed, side);
    come_to(&mut sections, &planned.worked);
    let strokes: usize = sections.iter().map(|s| s.strokes.len()).sum();
    let shut: usize = sections.iter().map(|s| s.shut_in.len()).sum();
    let sentence = match (sections.len(), shut) {
        (1, 0) => format!(
            "{strokes} strokes from the {}, and no air is shut in.",
            hang.kind.name()
        ),
        (n, 0) => format!(
            "{n} sections, {strokes} strokes from the {}, and no air is shut in.",
            hang.kind.name()
        ),
        (_, 1) => {
            format!("{strokes} strokes; at one place air has no way out. See what to do there.")
        }
        (_, n) => {
            format!("{strokes} strokes; at {n} places air has no way out. See what to do there.")
        }
    };
    let rivets = rivets::work(planned, hang.film.class);
    LayDown {
        before: rivets
            .before()
            .into_iter()
            .chain(told_at(&planned.worked, When::Before))
            .chain(formed.before())
            .chain(before(hang))
            .collect(),
        once_it_lies: rivets
            .once_it_lies()
            .into_iter()
            .chain(told_at(&planned.worked, When::Once))
            .chain(formed.once_it_lies())
            .collect(),
        rivets,
        sections,
        sentence,
    }
}

/// What of the things that a print meets is done at one time.
fn told_at(worked: &[Worked], when: When) -> impl Iterator<Item = String> + '_ {
    worked
        .iter()
        .filter(move |w| w.when == when)
        .map(|w| format!("{}: {}", first_capital(&w.name), w.how))
}

/// Tells each thing at the stroke whose blade first comes to it, over all sections in their order; what is set by strokes of its own, at
/// the first of those.
fn come_to(sections: &mut [SectionStrokes], worked: &[Worked]) {
    for met in worked.iter().filter(|w| w.when == When::AsReached) {
        let mut strokes: Vec<&mut StrokeShown> =
            sections.iter_mut().flat_map(|s| &mut s.strokes).collect();
        // A crease that only passes near a thing does not set it: what is freed before film comes down must not be told late.
        let sets = |s: &StrokeShown| s.kind == StrokeKind::Crease && near(s, met, ALONG_MM, true);
        let reaches = |s: &StrokeShown| near(s, met, s.width_mm / 2.0, false);
        let first = strokes.iter().position(|s| sets(s));
        let first = first.or_else(|| strokes.iter().position(|s| reaches(s)));
        if let Some(stroke) = first.and_then(|n| strokes.get_mut(n)) {
            stroke
                .reached
                .push(format!("{}: {}", first_capital(&met.name), met.how));
        }
    }
}

/// A stroke whose points all lie so near a thing's line runs along it, mm.
const ALONG_MM: f64 = 2.0;

/// Whether a stroke comes within a distance of what is met: anywhere, or with every point of it.
fn near(stroke: &StrokeShown, met: &Worked, within_mm: f64, all_of_it: bool) -> bool {
    let point = |p: &[f64; 2]| Point::new(p[0], p[1]);
    let meets = |a: Point, b: Point| {
        met.lines.iter().any(|of| {
            of.windows(2)
                .any(|c| segment_distance(a, b, point(&c[0]), point(&c[1])) <= within_mm)
        })
    };
    if all_of_it {
        stroke.path.iter().all(|p| meets(point(p), point(p)))
    } else {
        stroke
            .path
            .windows(2)
            .any(|p| meets(point(&p[0]), point(&p[1])))
    }
}

fn before(hang: &Hang) -> Vec<String> {
    let mut before =
        vec!["Felt edge at about 45\u{b0}, firm, strokes overlapping by a quarter.".to_owned()];
    if hang.film.transfer_tape {
        before.push("On transfer tape the bare edge; felt once the tape is off.".into());
    }
    if hang.film.adhesive == Adhesive::Solid && hang.way.way == WetOrDry::Wet {
        before.push(
            "Wet, it can still be slid: check both ends before the water is pressed out.".into(),
        );
    } else if hang.film.adhesive == Adhesive::Solid {
        before.push("After the first inch, stop and check both ends: with this adhesive it is the last chance.".into());
    } else {
        before.push(
            "This film still lifts: a stroke that went wrong is undone before the next.".into(),
        );
    }
    before.push(
        "Steps and platforms: stand where the next stroke ends, never lean out sideways.".into(),
    );
    before
}

/// What is done after the last stroke of a section: film that is set by heat is warmed and pressed once more, and what was bridged over a recess
/// without a way out is let down (common practice, no source).
fn then(hang: &Hang, s: &PressSheet, shut_in: &[ShutIn], side: &MeasuredSide) -> Vec<String> {
    let mut then = Vec::new();
    let mut names: Vec<&str> = Vec::new();
    for air in shut_in
        .iter()
        .filter(|a| a.stroke == 0 && a.across_mm() >= TOLD_MM)
    {
        let [x0, y0, x1, y1] = air.bounds;
        let middle = s.to_picture * Point::new((x0 + x1) / 2.0, (y0 + y1) / 2.0);
        if let Some(recess) = recess_at(middle, side).filter(|r| !names.contains(&r.name.as_str()))
        {
            names.push(&recess.name);
            then.push(format!(
                "{}: warm the bridged film briefly and press it in, deepest line first; pull out the strip of tape at its rim and follow with the felt. Where none was left, prick at the mark and push from the far side towards the hole. {HOT_AIR}",
                first_capital(&recess.name)
            ));
        }
    }
    if hang.film.adhesive == Adhesive::HeatSet {
        then.push(format!(
            "Set it: warm all of it evenly to 40 to 50 \u{b0}C (105 to 120 \u{b0}F), then press every stroke again in the same order. {HOT_AIR}"
        ));
    }
    then
}

/// The caution that belongs to warming film on the vehicle.
const HOT_AIR: &str = "Hot air burns and lights solvent: none open nearby, gloves, keep it moving; the film's sheet decides how hot.";

fn shown(
    s: &PressSheet,
    order: &StrokeOrder,
    side: &MeasuredSide,
    hang: &Hang,
    (words, unit): (SideWords, Unit),
) -> SectionStrokes {
    let flats = order.strokes.iter().map(|st| st.flat).max().unwrap_or(0);
    let picture = |p: &[f64; 2]| {
        let at = s.to_picture * Point::new(p[0], p[1]);
        [at.x, at.y]
    };
    let mut last: Option<(u32, u32)> = None;
    // From the middle, one half goes before the other.
    let half = |st: &Stroke| {
        let middle = st.path.get(st.path.len() / 2).copied().unwrap_or_default();
        match hang.start {
            Start::Height { y_mm } => Some(middle[1] > y_mm),
            Start::Place { x_mm } => Some(middle[0] > x_mm),
            _ => None,
        }
    };
    let first_half = order.strokes.first().and_then(half);
    let mut on_first = true;
    let strokes = order
        .strokes
        .iter()
        .map(|st| {
            let path: Vec<[f64; 2]> = st.path.iter().map(picture).collect();
            let new_stage = last.is_none_or(|(stage, _)| stage != st.stage);
            let new_flat = last.is_none_or(|(_, flat)| flat != st.flat);
            last = Some((st.stage, st.flat));
            let other_half = on_first && st.kind != StrokeKind::Crease && half(st) != first_half;
            on_first &= !other_half;
            let turn_over = match (other_half, hang.kind.tape()) {
                (true, true) => "The first half lies: take the tape away and peel the other half. ",
                (true, false) => "The first half lies: peel the other half. ",
                _ => "",
            };
            StrokeShown {
                number: st.number,
                kind: st.kind,
                stage: st.stage,
                flat: st.flat,
                sentence: turn_over.to_owned()
                    + &stroke_sentence(
                        st,
                        &path,
                        (side.side.direction(), side.side.ends(words)),
                        new_stage.then_some(st.stage),
                        new_flat.then_some(st.flat),
                        flats,
                        hang,
                    ),
                path,
                shape: st.shape.iter().map(picture).collect(),
                width_mm: st.width_mm,
                reached: Vec::new(),
            }
        })
        .collect();
    let shut_in: Vec<AirShutIn> = told(&order.shut_in, s, side, hang, unit);
    let proof = if shut_in.is_empty() {
        "Proven stroke by stroke, for the shapes as they are shown: at every moment all air that is left has a way out."
    } else {
        "Proven stroke by stroke, for the shapes as they are shown: only the places shown keep air, because they have no way out from the beginning."
    };
    SectionStrokes {
        called: s.called.clone(),
        corners: s.corners,
        strokes,
        then: then(hang, s, &order.shut_in, side),
        shut_in,
        flats,
        pressed: order.pressed,
        proof: proof.to_owned(),
    }
}

#[allow(clippy::too_many_arguments)]
fn stroke_sentence(
    stroke: &Stroke,
    path: &[[f64; 2]],
    (direction, Ends([zero, far])): (f64, Ends),
    stage: Option<u32>,
    flat: Option<u32>,
    flats: u32,
    hang: &Hang,
) -> String {
    let (a, b) = match (path.first(), path.last()) {
        (Some(a), Some(b)) => (a, b),
        _ => return String::new(),
    };
    let (dx, dy) = ((b[0] - a[0]) * direction, b[1] - a[1]);
    let towards = if dx.abs() >= dy.abs() {
        format!("towards the {}", if dx >= 0.0 { far } else { zero })
    } else if dy >= 0.0 {
        "downwards".to_owned()
    } else {
        "upwards".to_owned()
    };
    let mut words = Vec::new();
    if let Some(stage) = stage.filter(|n| *n > 1 && hang.stage_mm.is_some()) {
        let middle = stroke.path.get(stroke.path.len() / 2).map_or(0.0, |p| p[1]);
        let way = match hang.start {
            Start::Height { y_mm } if middle < y_mm => "up",
            _ => "down",
        };
        words.push(format!("Stage {stage}: move the stay tape {way}."));
    }
    match stroke.kind {
        StrokeKind::Crease => words.push(
            "Set the crease: thumb or felt along it, the film pushed in, nothing bridged."
                .to_owned(),
        ),
        StrokeKind::Recess if stroke.holds => words.push(format!(
            "On the flat inside the recess, {towards}, just enough to hold: the film bridges its walls until the end."
        )),
        StrokeKind::Recess => {
            words.push(format!("Into the recess, {towards}, deepest first, warm."))
        }
        StrokeKind::Flat if stroke.number == 1 => words.push(format!(
            "First stroke at the {}, {towards}.",
            hang.kind.name()
        )),
        StrokeKind::Flat => {
            if let Some(flat) = flat.filter(|_| flats > 1) {
                words.push(format!("Flat {flat} of {flats}."));
            }
            words.push(format!("Press {towards}."));
        }
    }
    if stroke.within_band {
        let words_of_care = if stroke.kind == StrokeKind::Crease {
            "Along the crease only: wider it would close the way out beside it."
        } else {
            "Keep the blade inside this band: past its edge it would close the way out beside it."
        };
        words.push(words_of_care.to_owned());
    }
    words.join(" ")
}

/// What is shut in, worth telling, with what to do.
pub fn told(
    shut_in: &[ShutIn],
    s: &PressSheet,
    side: &MeasuredSide,
    hang: &Hang,
    unit: Unit,
) -> Vec<AirShutIn> {
    shut_in
        .iter()
        .filter(|r| r.across_mm() >= TOLD_MM)
        .map(|r| {
            let [x0, y0, x1, y1] = r.bounds;
            let picture = |x: f64, y: f64| {
                let at = s.to_picture * Point::new(x, y);
                [at.x, at.y]
            };
            let middle = s.to_picture * Point::new((x0 + x1) / 2.0, (y0 + y1) / 2.0);
            let area_cm2 = r.area_mm2 / 100.0;
            let channels = hang.film.adhesive != Adhesive::Solid;
            let size = format!(
                "{} by {}",
                print(x1 - x0, unit).text,
                print(y1 - y0, unit).text
            );
            AirShutIn {
                stroke: r.stroke,
                corners: [
                    picture(x0, y0),
                    picture(x1, y0),
                    picture(x1, y1),
                    picture(x0, y1),
                ],
                prick: picture(r.at[0], r.at[1]),
                area_cm2,
                can_be_pressed_out: channels && r.stroke > 0,
                sentence: if r.stroke == 0 {
                    no_way_out(recess_at(middle, side), &size)
                } else {
                    shut_by(r.stroke, &size, channels)
                },
            }
        })
        .collect()
}

/// Where film does not go into a recess at all, air under it is not told how to be let out: film is not bridged there.
fn never_bridged(sections: &mut [SectionStrokes], formed: &Stretches, side: &MeasuredSide) {
    let air = sections.iter_mut().flat_map(|s| &mut s.shut_in);
    for air in air.filter(|a| a.stroke == 0) {
        let [a, _, c, _] = air.corners.map(|[x, y]| Point::new(x, y));
        let recess = recess_at(a.midpoint(c), side);
        let place = recess.and_then(|r| {
            let other = |p: &&FormingPlace| p.name == r.name && p.forming >= Forming::ReliefCut;
            formed.places.iter().find(other)
        });
        if let Some(place) = place {
            air.sentence = format!(
                "Bridged over the {}, film would shut air in, and it does not reach its floor. {}",
                place.name, place.line
            );
        }
    }
}

fn recess_at(p: Point, side: &MeasuredSide) -> Option<&Area> {
    side.zones()
        .find(|z| z.kind == FeatureKind::Recess && z.outline.contains(p))
}

fn no_way_out(recess: Option<&Area>, size: &str) -> String {
    match recess {
        Some(r) => format!(
            "The {} is walled all round, so air in it ({size}) has no way out. Bridge it with even tension, press the flat inside it just enough to hold, and leave a strip of tape under the film at its rim until the end to let the air out; or prick it at the mark and push from the far side towards the hole.",
            r.name
        ),
        None => format!(
            "Air here ({size}) has no way out: tape, creases or something that stands out close it in on every side. Prick it at the mark and push from the far side towards the hole, make a relief cut in the waste, or choose a hinge that leaves this edge open."
        ),
    }
}

fn shut_by(stroke: u32, size: &str, channels: bool) -> String {
    if channels {
        format!(
            "Stroke {stroke} closes the last way out of {size} of air. This film's channels let it out: press it by hand towards the nearest edge, or undo the stroke while the film still lifts."
        )
    } else {
        format!(
            "Stroke {stroke} closes the last way out of {size} of air. Undo it while the film still lifts, or prick it at the mark and push from the far side towards the hole."
        )
    }
}

/// What somebody's own strokes do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Tried {
    /// Number of the last stroke that was judged.
    pub last: u32,
    /// Where air is shut in by it.
    pub shut_in: Vec<AirShutIn>,
    /// Share of the film that is pressed, 0 to 1.
    pub pressed: f64,
    /// What is to be known, in a sentence.
    pub sentence: String,
}

/// Most strokes that are tried on one section.
pub const MOST_TRIED: usize = 2000;

/// Judges somebody's own strokes on a section, given in the picture frame.
pub fn try_strokes(
    s: &PressSheet,
    swaths: &[Swath],
    side: &MeasuredSide,
    hang: &Hang,
    unit: Unit,
) -> Tried {
    let to_piece = s.to_picture.inverse();
    let own: Vec<Swath> = swaths
        .iter()
        .map(|w| Swath {
            width_mm: w.width_mm,
            path: w
                .path
                .iter()
                .map(|p| {
                    let at = to_piece * Point::new(p[0], p[1]);
                    [at.x, at.y]
                })
                .collect(),
        })
        .collect();
    let sheet = s.plan.cells(CELL_MM, 0.0);
    let pressed: Vec<Moment> = press(&sheet, &own);
    let shut_in: Vec<AirShutIn> = told(&prove(&sheet, &pressed), s, side, hang, unit);
    let share = share_pressed(&sheet, &pressed);
    let by_strokes = shut_in.iter().filter(|a| a.stroke > 0).count();
    let sentence = match by_strokes {
        0 if share > 0.995 => "All down, and no air shut in.".to_owned(),
        0 => format!("{:.0} % down, no air shut in so far.", share * 100.0),
        1 => "Air is shut in at one place.".to_owned(),
        n => format!("Air is shut in at {n} places."),
    };
    Tried {
        last: swaths.len() as u32,
        shut_in,
        pressed: share,
        sentence,
    }
}
