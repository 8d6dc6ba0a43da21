//! How a piece is hung: which hinge, where tape, liner cuts and stay tape go, in which sections it is parted, where the second
//! person stands, wet or dry.

pub mod choice;
mod geometry;
pub mod sections;
pub mod upright;
pub mod wet;
pub mod words;

use kurbo::{Point, Rect};

use crate::art::Art;
use crate::film::classes::FilmFigures;
use crate::film::work::{HingeKind, WetOrDry};
use crate::floor::hang::choice::Situation;
use crate::floor::hang::geometry::Geometry;
use crate::floor::hang::sections::Section;
use crate::floor::hang::wet::WayAdvice;
use crate::floor::hang::words::{Hang, MarkLine, STAY_FLAT_MM, STAY_MM};
use crate::ground::outline::Shape;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::SideKind;

/// Why tape on a rectangle of the piece's frame cannot hold: what it would lie on.
fn tape_refused(
    tape: Rect,
    planned: &PlannedPiece,
    side: &MeasuredSide,
    unit: Unit,
) -> Option<String> {
    let shape = Shape::rectangle(tape).transformed(planned.placed.to_picture);
    let over = shape
        .edges()
        .filter_map(|(p, _)| {
            side.outline
                .span_at(p.x)
                .map(|(top, foot)| (top - p.y).max(p.y - foot))
        })
        .fold(f64::NEG_INFINITY, f64::max);
    let outside = shape
        .edges()
        .any(|(p, _)| side.outline.span_at(p.x).is_none());
    if outside {
        return Some(
            "Tape there would stand past the end of the body, with nothing to hold.".into(),
        );
    }
    if over > 0.0 {
        return Some(format!(
            "Tape there would stand {} over the edge of the body, with nothing to hold.",
            print(over, unit).text
        ));
    }
    side.hardware()
        .filter(|h| h.comes_off == ComesOff::Stays)
        .find(|h| shape.distance_to(&h.outline, 1.0) <= 0.0)
        .map(|h| {
            format!(
                "Tape there would lie on the {}, where it cannot hold.",
                h.name
            )
        })
        .or_else(|| {
            side.zones()
                .filter(|z| matches!(z.kind, FeatureKind::TexturedZone | FeatureKind::Recess))
                .find(|z| shape.distance_to(&z.outline, 1.0) <= 0.0)
                .map(|z| {
                    format!(
                        "Tape there would lie on the {}, which gives it no clean flat.",
                        z.name
                    )
                })
        })
}

/// The widest stretch of the carrier between creases that cross its mid-height, of its whole width.
fn widest_flat(carrier: Rect, planned: &PlannedPiece, side: &MeasuredSide) -> f64 {
    let to_piece = planned.placed.to_picture.inverse();
    let y = carrier.center().y;
    let mut stops = vec![carrier.x0, carrier.x1];
    for line in side.lines.iter().filter(|l| is_crease(l.kind)) {
        for pair in line.points.windows(2) {
            let (a, b) = (to_piece * pair[0], to_piece * pair[1]);
            if (a.y <= y) != (b.y <= y) {
                stops.push(a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y));
            }
        }
    }
    stops.retain(|x| (carrier.x0..=carrier.x1).contains(x));
    stops.sort_by(f64::total_cmp);
    let widest = stops.windows(2).map(|p| p[1] - p[0]).fold(0.0, f64::max);
    widest / carrier.width().max(1.0)
}

/// Lines that film must be set into, and that no air passes before.
pub fn is_crease(kind: FeatureKind) -> bool {
    matches!(kind, FeatureKind::Crease | FeatureKind::BodyLine)
}

/// Name of a crease or body line that crosses the carrier near its mid-height, with that height in the piece's frame.
fn line_at_middle(
    carrier: Rect,
    planned: &PlannedPiece,
    side: &MeasuredSide,
) -> Option<(String, f64)> {
    let to_piece = planned.placed.to_picture.inverse();
    let near = carrier.height() / 6.0;
    side.lines
        .iter()
        .filter(|l| is_crease(l.kind))
        .find_map(|l| {
            let points: Vec<Point> = l.points.iter().map(|p| to_piece * *p).collect();
            let (a, b) = (points.first()?, points.last()?);
            let y = (a.y + b.y) / 2.0;
            let along = (b.x - a.x).abs() > 3.0 * (b.y - a.y).abs();
            let over = a.x.max(b.x) > carrier.x0 && a.x.min(b.x) < carrier.x1;
            (along && over && (y - carrier.center().y).abs() <= near).then(|| (l.name.clone(), y))
        })
}

/// Works out how a piece is hung. `fresh_paint` says whether paint that was sprayed again has not cured yet.
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
/// # use windrift_core::floor::hang::hang;
/// let hang = hang(&planned, &measured, &settings, false, unit);
/// assert!(!hang.steps.is_empty() && hang.ranked.iter().any(|r| r.kind == hang.kind));
/// ```
pub fn hang(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    fresh_paint: bool,
    unit: Unit,
) -> Hang {
    let work = &planned.piece.work;
    let film = planned.piece.film_figures();
    let carrier = planned.drawn.carrier(settings.carrier_margin_mm.mm());
    let way = wet::advise(work, &film, planned, side);
    let half = settings.tape_width_mm / 2.0;
    let along_top = Rect::new(carrier.x0, carrier.y0 - half, carrier.x1, carrier.y0);
    let beside = [
        Rect::new(carrier.x0 - half, carrier.y0, carrier.x0, carrier.y1),
        Rect::new(carrier.x1, carrier.y0, carrier.x1 + half, carrier.y1),
    ];
    let sides_refused = beside.map(|r| tape_refused(r, planned, side, unit));
    let middle = carrier.center().x;
    let down_middle = [
        Rect::new(
            middle - half,
            carrier.y0 - settings.tab_length_mm,
            middle + half,
            carrier.y0,
        ),
        Rect::new(
            middle - half,
            carrier.y1,
            middle + half,
            carrier.y1 + settings.tab_length_mm,
        ),
    ];
    let line = line_at_middle(carrier, planned, side);
    let situation = Situation {
        width_mm: carrier.width(),
        height_mm: carrier.height(),
        letters: planned.drawn.has_letters
            || film.transfer_tape && matches!(planned.piece.art, Art::Drawing(_)),
        film,
        crew: work.crew,
        celsius: work.celsius,
        wet: way.way == WetOrDry::Wet,
        magnets: side.side.surface.material == crate::vehicle::surface::Material::PaintedSteel,
        top_refused: tape_refused(along_top, planned, side, unit),
        side_refused: match &sides_refused {
            [Some(why), Some(_)] => Some(why.clone()),
            _ => None,
        },
        middle_refused: down_middle
            .iter()
            .find_map(|r| tape_refused(*r, planned, side, unit)),
        paint_refused: fresh_paint.then(|| {
            "Tape would pull the fresh paint. Wait until it has cured, or use a hinge without tape."
                .to_owned()
        }),
        line_at_middle: line.as_ref().map(|(name, _)| name.clone()),
        widest_flat: widest_flat(carrier, planned, side),
    };
    let ranked = choice::rank(&situation, unit);
    let best = ranked.first().map_or(HingeKind::Top, |r| r.kind);
    // What the surface itself refuses is not used, whatever was typed: paint may have been sprayed since.
    let never = |kind: HingeKind| ranked.iter().any(|r| r.kind == kind && r.never);
    let own = work.hinge.as_ref().filter(|own| !never(own.kind));
    let kind = own.map_or(best, |own| own.kind);
    let mut troubles = Vec::new();
    let refused = ranked
        .iter()
        .find(|r| r.kind == kind)
        .and_then(|r| r.refused.clone());
    let refused_here = refused.is_some();
    if let (Some(wanted), None) = (&work.hinge, own) {
        troubles.push(format!(
            "The {} was chosen, but the paint has not cured: no tape goes on it.",
            wanted.kind.name()
        ));
    }
    troubles.extend(refused.map(|why| match own {
        Some(own) => format!("{why} Taken all the same: {}", own.reason.trim()),
        None => why,
    }));
    if let Some(c) = work.celsius
        && !(film.fit_from_celsius..=film.fit_to_celsius).contains(&c)
    {
        troubles.push(format!(
            "{c:.0} \u{b0}C is outside what {} is fitted at ({:.0} to {:.0} \u{b0}C). Warm or cool the bay and the surface; the film's data sheet decides.",
            film.name, film.fit_from_celsius, film.fit_to_celsius
        ));
    }
    // A side hinge stands at the front end where tape holds there, else at the other.
    let front_left = side.side.direction() > 0.0;
    let left = match (&sides_refused[0], &sides_refused[1]) {
        (None, Some(_)) => true,
        (Some(_), None) => false,
        _ => front_left,
    };
    let geometry = Geometry {
        carrier,
        kind,
        left,
        settings,
        planned,
        unit,
        window_y: line.map_or(carrier.center().y, |(_, y)| y),
    };
    let stage_mm = stage(carrier.height(), side.side.kind, &planned.piece.art);
    let sections = sections::part(planned, side, settings, work.crew, unit);
    let tape = geometry.tape();
    // Where the hinge itself holds, its tabs must too.
    if !refused_here && tape.iter().any(|t| t.what == "tab") {
        let refused = geometry
            .tabs()
            .into_iter()
            .find_map(|t| tape_refused(t, planned, side, unit));
        troubles.extend(refused);
    }
    let stay = geometry.stay(stage_mm);
    let total = print(tape.iter().map(|t| t.length.mm).sum::<f64>(), unit);
    let liner = geometry.liner(&film);
    let helper = (work.crew == 2).then(|| geometry.helper());
    let steps = steps(kind, &way, &sections, &stay, &film, work.crew, &total);
    Hang {
        start: geometry.start(),
        closed: geometry.closed(),
        stage_mm,
        film,
        ranked,
        kind,
        own_reason: own.map(|o| o.reason.clone()),
        way,
        tape,
        liner,
        stay,
        sections,
        then: kind.then(),
        helper,
        total,
        steps,
        troubles,
    }
}

/// Height of a stage: equal bands within the practice's limits, where the sheet is taller than the highest of them.
fn stage(height_mm: f64, kind: SideKind, art: &Art) -> Option<f64> {
    let lying = matches!(kind, SideKind::Hood | SideKind::Roof) && matches!(art, Art::Stripe(_));
    let most = if lying { STAY_FLAT_MM.1 } else { STAY_MM.1 };
    (height_mm > most).then(|| height_mm / (height_mm / most).ceil())
}

pub(crate) fn steps(
    kind: HingeKind,
    way: &WayAdvice,
    sections: &[Section],
    stay: &[MarkLine],
    film: &FilmFigures,
    crew: u8,
    total: &Length,
) -> Vec<String> {
    let mut steps = Vec::new();
    match kind {
        HingeKind::Magnets => steps.push("Magnets at both upper corners and the middle. Read both ends, lock, then pull them one by one as the film goes down.".to_owned()),
        HingeKind::Float => steps.push("Offer the sheet up between two, read both ends, mark them with slips of tape, then take the whole liner off.".to_owned()),
        _ => steps.push(format!("Two tabs at the upper corners, then read both ends. Tape in all: {}.", total.text)),
    }
    match kind {
        HingeKind::Top => steps.push("Tape along the whole upper edge, half on the vehicle, half on the piece. Rub it down hard: if it lets go with the liner off, the piece is lost.".into()),
        HingeKind::Side => steps.push("Tape along the upright edge, half on the vehicle, half on the piece. Rub it down hard.".into()),
        HingeKind::Centre => steps.push("Tape down the middle, over both edges onto the vehicle. Rub it down hard, then let go of the tabs.".into()),
        HingeKind::LinerWindow => steps.push("Cut the window through the liner only, take the strip out, and press the film there with one firm stroke. Then the tabs come off.".into()),
        HingeKind::Pressed => steps.push("Peel the first inch, fold the liner back, and press the upper edge with one firm stroke. Then the tabs come off.".into()),
        HingeKind::CornerTabs | HingeKind::Magnets | HingeKind::Float => {}
    }
    if sections.len() > 1 {
        steps.push(format!(
            "Part it into {} sections at the cuts shown: through the transfer tape and liner only.",
            sections.len()
        ));
    }
    if !stay.is_empty() {
        steps.push(format!(
            "Stay tape {} times on the way down: lay the band above it, move it down, go on.",
            stay.len()
        ));
    }
    steps.push(match way.way {
        WetOrDry::Wet => format!("Wet: surface, adhesive and face. Keep the liner that stays on dry. {}", way.dwell),
        WetOrDry::Dry => "Dry. Mask what stands out so that film does not grab it; run a thumb along edges and gaps first.".into(),
    });
    if film.adhesive == crate::film::classes::Adhesive::Solid && way.way == WetOrDry::Dry {
        steps.push(
            "After the first inch, stop and look: with this adhesive it is the last chance.".into(),
        );
    }
    if crew == 2 {
        steps
            .push("Two people: agree who presses and who holds before the liner comes off.".into());
    }
    steps
}
