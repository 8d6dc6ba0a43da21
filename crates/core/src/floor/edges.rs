//! How every edge of a piece ends: where it is cut, with what, corners first, turned in or flush.
//!
//! Common practice, no source: two schools of blades; the one that never puts a blade to paint is the default. How near an edge must lie to a thing
//! to end at it is ours. What is sealed with what is common practice, no source: sealer all round on boats and in wheel wells, tape half on and half off under bumpers
//! and along rockers, which here is the body’s lower edge.

use kurbo::{Point, Vec2};
use serde::{Deserialize, Serialize};

use crate::art::Art;
use crate::film::classes::{FilmClass, FilmFigures};
use crate::ground::outline::{Shape, distance_to_segment};
use crate::ground::settings::BladeSchool;
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::body::Body;
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredSide};

/// An edge this near to a thing ends at it, mm (ours): 1/2 in.
const AT_MM: f64 = 12.7;
/// An edge is looked at in steps of this, mm (ours).
const STEP_MM: f64 = 10.0;
/// Most steps that a piece's edges are looked at in: longer ones take longer steps.
const MOST_STEPS: f64 = 4000.0;
/// Film as thick as this is cut with a bevel, mm (ours): 10 mil.
const THICK_MM: f64 = 0.25;
/// Turned in, mm: 1/4 in (common practice, no source).
const TURN_IN_MM: f64 = 6.35;

/// How an edge ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum EdgeEnd {
    /// At the body's own edge.
    Body,
    /// In a door's gap.
    Gap,
    /// Beside rubber.
    Rubber,
    /// Round something that stays on.
    Hardware,
    /// Where a relief cut is closed again behind something that stays on.
    Relief,
    /// Along a seam, a crease or a body line.
    Line,
    /// On the flat.
    Flat,
}

/// What an edge is sealed with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SealWith {
    /// Edge-seal tape, half on the film and half on the panel.
    Tape,
    /// Liquid edge sealer.
    Sealer,
    /// A coat over all of the film, where its own sheet has one.
    Coat,
}

/// Edges that are sealed one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SealedEdge {
    /// With what.
    pub with: SealWith,
    /// What they end at; nothing on the flat.
    pub at: Option<String>,
    /// Their length; of a gap that parts the film both of its sides, though it is cut once.
    pub length: Length,
    /// From point to point in the picture frame, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// Edges that end one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgeRun {
    /// How.
    pub end: EdgeEnd,
    /// What they end at: `door gap 1`; nothing on the flat.
    pub at: Option<String>,
    /// Their length.
    pub length: Length,
    /// What is done, in a sentence.
    pub says: String,
    /// Whether cutting tape lies there before the film does.
    pub cutting_tape: bool,
    /// From point to point in the picture frame, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
}

/// How a piece's edges end.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Edges {
    /// Edges in the order in which they are cut; nothing where a piece comes cut.
    pub runs: Vec<EdgeRun>,
    /// What holds for all, in sentences.
    pub says: Vec<String>,
    /// Cutting tape that lies before the film does.
    pub cutting_tape: Length,
    /// Edges that are sealed.
    pub sealed: Vec<SealedEdge>,
}

/// Edges that end one way, as they are found.
struct Found<E> {
    end: E,
    at: Option<String>,
    mm: f64,
    lines: Vec<Vec<[f64; 2]>>,
}

/// How every edge of a piece ends.
///
/// ```
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::floor::edges::{EdgeEnd, edges};
/// # use windrift_core::ground::{settings::{BladeSchool, WorkSettings}, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 1000.0.into(), height_mm: 600.0.into(), bleed_mm: 10.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// # let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(300.0, LetterEnd::FirstLetter, 300.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let film = planned.piece.film().figures();
/// let found = edges(&planned, &measured, &film, BladeSchool::Tape, Unit::Millimetre);
/// // 1000 by 600 as trimmed, all of it on the flat: 3.2 m of cutting tape.
/// assert_eq!((found.runs.len(), found.runs[0].end), (1, EdgeEnd::Flat));
/// assert!((found.cutting_tape.mm - 3200.0).abs() < 1.0);
/// ```
pub fn edges(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    film: &FilmFigures,
    school: BladeSchool,
    unit: Unit,
) -> Edges {
    let none = print(0.0, unit);
    if film.transfer_tape {
        return Edges {
            runs: Vec::new(),
            says: vec![
                "Its edges come cut; none is cut on the vehicle but where a gap parts it.".into(),
            ],
            cutting_tape: none,
            sealed: Vec::new(),
        };
    }
    let mut runs: Vec<Found<EdgeEnd>> = Vec::new();
    let mut seals: Vec<Found<SealWith>> = Vec::new();
    for contour in contours(planned, side) {
        let whole: f64 = contour.windows(2).map(|w| w[0].distance(w[1])).sum();
        let step = STEP_MM.max(whole / MOST_STEPS);
        let (mut before, mut sealed_before) = (None, None);
        for (a, b) in in_steps(&contour, step) {
            let middle = a.midpoint(b);
            let here = (!is_kept_off(middle, side)).then(|| end_at(middle, side));
            let sealed = (here.as_ref()).and_then(|h| seal_at(film, h, (a, b), side));
            add(&mut runs, here, &mut before, (a, b));
            add(&mut seals, sealed, &mut sealed_before, (a, b));
        }
    }
    let whole = Shape::new(contours(planned, side));
    for area in staying(side) {
        let end = match area.kind {
            FeatureKind::Rubber | FeatureKind::Moulding => EdgeEnd::Rubber,
            _ => EdgeEnd::Hardware,
        };
        let at = Some(area.name.clone());
        let with = rim_sealed(film, area, side);
        for contour in &area.outline.contours {
            let (mut before, mut sealed_before) = (None, None);
            for step in in_steps(&closed(contour), STEP_MM) {
                let is_rim = is_rim(step, area, &whole, side);
                let here = is_rim.then(|| (end, at.clone()));
                let sealed = with.filter(|_| is_rim).map(|w| (w, at.clone()));
                add(&mut runs, here, &mut before, step);
                add(&mut seals, sealed, &mut sealed_before, step);
            }
        }
    }
    // A gap parts the film over all its length: two edges, each turned in on its own side. Down the one and up the other.
    for (name, mut points) in gaps(side) {
        for _ in 0..2 {
            let mut before = None;
            for (a, b) in in_steps(&points, STEP_MM) {
                let middle = a.midpoint(b);
                // Where the film itself ends at the gap its own edge is what is turned in.
                let off = (b - a) * (AT_MM / a.distance(b).max(1e-9));
                let off = Vec2::new(-off.y, off.x);
                let parts = whole.contains(middle - off)
                    && whole.contains(middle + off)
                    && !is_kept_off(middle, side);
                let here = parts.then(|| (EdgeEnd::Gap, Some(name.to_owned())));
                add(&mut runs, here, &mut before, (a, b));
            }
            points.reverse();
        }
    }
    // Both flanks of a relief cut are edges that lie against each other: one walk for both.
    for cut in planned.worked.iter().filter_map(|w| w.relief.as_ref()) {
        for line in &cut.lines {
            let points: Vec<Point> = line.iter().map(|[x, y]| Point::new(*x, *y)).collect();
            let mut before = None;
            for (a, b) in in_steps(&points, STEP_MM) {
                let middle = a.midpoint(b);
                let is = whole.contains(middle)
                    && side.outline.contains(middle)
                    && !is_kept_off(middle, side);
                let here = is.then(|| (EdgeEnd::Relief, Some(cut.name.clone())));
                add(&mut runs, here, &mut before, (a, b));
            }
        }
    }
    // What is hardest is cut first, the flat last.
    runs.sort_by(|a, b| (a.end, &a.at).cmp(&(b.end, &b.at)));
    let thick = film.thickness_mm >= THICK_MM;
    let told: Vec<EdgeRun> = runs
        .into_iter()
        .map(|Found { end, at, mm, lines }| {
            let tape = school == BladeSchool::Tape
                && matches!(end, EdgeEnd::Flat | EdgeEnd::Hardware | EdgeEnd::Line)
                && film.class != FilmClass::ThickKit;
            EdgeRun {
                says: says(end, at.as_deref(), film, thick, tape, unit),
                cutting_tape: tape,
                length: print(mm, unit),
                end,
                at,
                lines,
            }
        })
        .collect();
    let sum = |which: &dyn Fn(&EdgeRun) -> bool| {
        let of = told.iter().filter(|r| which(r));
        print(of.map(|r| r.length.mm).sum(), unit)
    };
    let cutting_tape = sum(&|r| r.cutting_tape);
    seals.sort_by(|a, b| (a.end, &a.at).cmp(&(b.end, &b.at)));
    let sealed: Vec<SealedEdge> = seals
        .into_iter()
        .map(|Found { end, at, mm, lines }| SealedEdge {
            with: end,
            at,
            length: print(mm, unit),
            lines,
        })
        .collect();
    Edges {
        says: of_all(film, thick, school, &told, &sealed),
        cutting_tape,
        sealed,
        runs: told,
    }
}

/// Adds a step of an edge to those that are of its kind; a step beside the one before goes on with its line.
fn add<E: PartialEq + Clone>(
    all: &mut Vec<Found<E>>,
    here: Option<(E, Option<String>)>,
    before: &mut Option<(E, Option<String>)>,
    (a, b): (Point, Point),
) {
    if let Some((end, at)) = &here {
        let same = |r: &Found<E>| r.end == *end && r.at == *at;
        let known = all.iter().position(same).unwrap_or_else(|| {
            all.push(Found {
                end: end.clone(),
                at: at.clone(),
                mm: 0.0,
                lines: Vec::new(),
            });
            all.len() - 1
        });
        let run = &mut all[known];
        run.mm += a.distance(b);
        match run.lines.last_mut() {
            Some(line) if *before == here => line.push([b.x, b.y]),
            _ => run.lines.push(vec![[a.x, a.y], [b.x, b.y]]),
        }
    }
    *before = here;
}

/// What the lower edge of a body is called where film ends at it.
pub const LOWER_EDGE: &str = "lower edge of the body";

/// Whether edges of this film are sealed at wheels and along the foot of this body.
fn sealed_at_wheels(film: &FilmFigures, side: &MeasuredSide) -> bool {
    // A boat is sealed all round; prismatic strip has edges of its own; film that comes off again within months is not sealed in.
    !is_sealed_all_round(film, side)
        && film.class != FilmClass::ConspicuityStrip
        && film.removable != Some(true)
}

fn is_sealed_all_round(film: &FilmFigures, side: &MeasuredSide) -> bool {
    film.class == FilmClass::HullPrint || matches!(side.side.body, Body::Hull { .. })
}

/// What stays on the vehicle and has no film on it. A locker door has: it is parted at its gap.
fn staying(side: &MeasuredSide) -> impl Iterator<Item = &Area> {
    side.hardware()
        .filter(|a| a.comes_off == ComesOff::Stays && a.kind != FeatureKind::LockerDoor)
}

/// Gaps of doors, as lines with what they are called: those that were measured as lines, and round locker doors.
fn gaps(side: &MeasuredSide) -> impl Iterator<Item = (&str, Vec<Point>)> {
    let lines = side.lines.iter().filter(|l| l.kind == FeatureKind::DoorGap);
    let doors = side
        .areas
        .iter()
        .filter(|a| a.kind == FeatureKind::LockerDoor && a.comes_off == ComesOff::Stays);
    let round = doors.flat_map(|a| {
        let contours = a.outline.contours.iter();
        contours.map(|c| (a.name.as_str(), closed(c)))
    });
    lines
        .map(|l| (l.name.as_str(), l.points.clone()))
        .chain(round)
}

/// Whether film keeps off a place because of what stays there: what stays parts the film.
fn is_kept_off(p: Point, side: &MeasuredSide) -> bool {
    staying(side).any(|s| s.outline.contains(p))
}

/// A closed contour with its first point once more.
fn closed(contour: &[Point]) -> Vec<Point> {
    let mut points = contour.to_vec();
    points.extend(contour.first().copied());
    points
}

/// A line in steps of `step` mm at most.
fn in_steps(points: &[Point], step: f64) -> impl Iterator<Item = (Point, Point)> + '_ {
    points.windows(2).flat_map(move |w| {
        let (from, to) = (w[0], w[1]);
        let parts = (from.distance(to) / step).ceil().max(1.0) as usize;
        let at = move |k: usize| from.lerp(to, k as f64 / parts as f64);
        (0..parts).map(move |n| (at(n), at(n + 1)))
    })
}

/// Whether a step of the outline of something that stays is an edge of the film: within the film’s own edge, not where the thing is open at the body’s, and not
/// within another thing that stays.
fn is_rim((a, b): (Point, Point), area: &Area, film: &Shape, side: &MeasuredSide) -> bool {
    let p = a.midpoint(b);
    film.contains(p)
        && side.outline.contains(p)
        && side.outline.distance_to_edge(p) > 1.0
        && !staying(side).any(|s| s.source != area.source && s.outline.contains(p))
}

/// What the rim of something that stays is sealed with; nothing where it is not.
fn rim_sealed(film: &FilmFigures, area: &Area, side: &MeasuredSide) -> Option<SealWith> {
    let wheel = area.kind == FeatureKind::WheelArch && sealed_at_wheels(film, side);
    (wheel || is_sealed_all_round(film, side)).then_some(SealWith::Sealer)
}

/// What an edge is sealed with there; nothing where it is not.
fn seal_at(
    film: &FilmFigures,
    (end, at): &(EdgeEnd, Option<String>),
    (a, b): (Point, Point),
    side: &MeasuredSide,
) -> Option<(SealWith, Option<String>)> {
    let p = a.midpoint(b);
    if is_sealed_all_round(film, side) {
        return Some((SealWith::Sealer, at.clone()));
    }
    if !sealed_at_wheels(film, side) {
        return None;
    }
    let below = Point::new(p.x, p.y + 2.0 * AT_MM);
    let foot = side.outline.bounds.y1 - side.outline.bounds.height() / 4.0;
    let lies = (b.x - a.x).abs() > (b.y - a.y).abs();
    let is_lower = *end == EdgeEnd::Body && lies && p.y > foot && !side.outline.contains(below);
    is_lower.then(|| (SealWith::Tape, Some(LOWER_EDGE.to_owned())))
}

/// Where a piece is cut on the vehicle, in the picture frame: a print at its trim, a kit piece round its film.
fn contours(planned: &PlannedPiece, side: &MeasuredSide) -> Vec<Vec<Point>> {
    if let Art::Panel(print) = &planned.piece.art {
        let t = print.trim(side.side.direction() > 0.0);
        let corners = [
            (t.x0, t.y0),
            (t.x1, t.y0),
            (t.x1, t.y1),
            (t.x0, t.y1),
            (t.x0, t.y0),
        ];
        let put = |(x, y)| planned.placed.to_picture * Point::new(x, y);
        return vec![corners.map(put).into()];
    }
    let shapes: Vec<_> = planned.film().collect();
    (shapes.iter())
        .flat_map(|s| &s.contours)
        .map(|c| {
            let mut closed: Vec<Point> = c.clone();
            closed.extend(c.first());
            closed
        })
        .collect()
}

/// What an edge ends at there.
fn end_at(p: Point, side: &MeasuredSide) -> (EdgeEnd, Option<String>) {
    let near = |area: &&Area| {
        area.outline.bounds.inflate(AT_MM, AT_MM).contains(p)
            && (area.outline.contains(p) || area.outline.distance_to_edge(p) <= AT_MM)
    };
    let stays: Vec<&Area> = side
        .hardware()
        .filter(|a| a.comes_off == ComesOff::Stays)
        .filter(near)
        .collect();
    let rubber = |a: &&&Area| matches!(a.kind, FeatureKind::Rubber | FeatureKind::Moulding);
    if let Some(area) = stays.iter().find(rubber) {
        return (EdgeEnd::Rubber, Some(area.name.clone()));
    }
    let line_at = |kinds: &[FeatureKind]| {
        let found = side.lines.iter().find(|l| {
            kinds.contains(&l.kind)
                && (l.points.windows(2)).any(|w| distance_to_segment(p, w[0], w[1]) <= AT_MM)
        });
        found.map(|l| l.name.clone())
    };
    if let Some(name) = line_at(&[FeatureKind::DoorGap]) {
        return (EdgeEnd::Gap, Some(name));
    }
    let door = side
        .areas
        .iter()
        .find(|a| a.kind == FeatureKind::LockerDoor && a.outline.distance_to_edge(p) <= AT_MM);
    if let Some(door) = door {
        return (EdgeEnd::Gap, Some(door.name.clone()));
    }
    if let Some(area) = stays.first() {
        return (EdgeEnd::Hardware, Some(area.name.clone()));
    }
    if !side.outline.contains(p) || side.outline.distance_to_edge(p) <= AT_MM {
        return (EdgeEnd::Body, None);
    }
    let lines = [
        FeatureKind::PanelSeam,
        FeatureKind::Crease,
        FeatureKind::BodyLine,
        FeatureKind::FilmEdge,
    ];
    match line_at(&lines) {
        Some(name) => (EdgeEnd::Line, Some(name)),
        None => (EdgeEnd::Flat, None),
    }
}

fn says(
    end: EdgeEnd,
    at: Option<&str>,
    film: &FilmFigures,
    thick: bool,
    tape: bool,
    unit: Unit,
) -> String {
    let turned = print(TURN_IN_MM, unit).text;
    let with = if tape {
        "on cutting tape that lies there before the film does"
    } else {
        "with a fresh snap blade, lightly"
    };
    let at = at.unwrap_or("it");
    match end {
        EdgeEnd::Body if thick || film.layered_reflective => {
            "Cut flush at the body\u{2019}s edge; nothing is wrapped over a corner.".into()
        }
        EdgeEnd::Body => format!(
            "Where the far side is reached, leave {turned} and form it round; elsewhere cut flush."
        ),
        EdgeEnd::Gap => format!(
            "Cut down the middle of {at}, on the gap\u{2019}s side, never on the panel; turn in what lies on either side of it."
        ),
        EdgeEnd::Rubber => {
            format!("Cut a hair short of {at}: nothing sticks to it. A small gap, no lap.")
        }
        EdgeEnd::Hardware => format!("Relief cut first, then round {at}, {with}."),
        EdgeEnd::Relief => format!(
            "Bring both flanks together behind {at} and press them: cut before, nothing is cut here."
        ),
        EdgeEnd::Line => format!("Cut along {at}, {with}; stay off its bottom."),
        EdgeEnd::Flat => format!("Cut flush on the flat, {with}."),
    }
}

fn of_all(
    film: &FilmFigures,
    thick: bool,
    school: BladeSchool,
    runs: &[EdgeRun],
    sealed: &[SealedEdge],
) -> Vec<String> {
    if runs.is_empty() {
        return Vec::new();
    }
    let mut all =
        vec!["Corners first, rounded with a finger; then the edges between them.".to_owned()];
    all.push(match school {
        BladeSchool::Tape => "No blade goes to paint: the thread of the cutting tape is pulled flat and square to the cut, about 10\u{b0} off the surface.".into(),
        BladeSchool::Guarded => "A guarded or very light blade on the body: the film is scored, not the paint. Where the paint must not be risked, lay cutting tape.".into(),
    });
    if thick {
        all.push("The blade leans inwards: the edge is bevelled.".into());
    } else {
        all.push("The blade leans away from the edge, so that some film wraps round.".into());
    }
    if film.layered_reflective && school == BladeSchool::Tape {
        all.push("On this film cutting tape is ragged for some: try it on waste first.".into());
    }
    if film.class == FilmClass::HullPrint {
        all.push("All of them are sealed: heat first, sealer after, no heat on wet sealer. Along the top rail a bead of sealant is an accepted other way.".into());
    } else if !sealed.is_empty() {
        all.push("Some of them are sealed once they are heated: tape half on and half off along the lower edge, sealer in wheel wells and on boats.".into());
    }
    all
}
