//! Relief cuts round what stays on inside a print: where each begins, which way it runs and what it meets, settled before the liner comes off (common practice, no
//! source).

use kurbo::{Point, Rect, Vec2};
use serde::{Deserialize, Serialize};

use crate::art::printed_panel::{PrintedPanel, key_rect};
use crate::ground::outline::{Shape, distance_to_segment};
use crate::ground::tape::{Length, Unit, print};
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::{ComesOff, FeatureClass, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredSide};

/// A cut within an outline ends so far short of it, mm: 1/8 in (ours).
const SHORT_MM: f64 = 3.175;

/// A rivet head nearer to a cut than this beside its own radius is met, mm: 1/8 in (ours).
const HEAD_MM: f64 = 3.175;

/// Less than this of something along a cut is not met, mm.
const LEAST_MM: f64 = 1.0;

/// A relief cut round one thing that stays on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReliefCut {
    /// What it is cut for: `bracket 2`.
    pub name: String,
    /// Where film is cut, in the picture frame: each line from point to point, mm.
    pub lines: Vec<Vec<[f64; 2]>>,
    /// How much of it lies outside the thing’s outline and is closed again behind it; 0 where the cut stays within what is cut away.
    pub shows: Length,
    /// What of it meets something that it had better not, in words.
    pub meets: Vec<String>,
    /// Whether it is cut with the liner still on, before anything is hung; else as film comes down there.
    pub before_the_liner: bool,
    /// How it is cut.
    pub says: String,
}

impl ReliefCut {
    /// How it is cut and what of it meets something, in one.
    pub fn told(&self) -> String {
        let all = std::iter::once(&self.says).chain(&self.meets);
        all.map(String::as_str).collect::<Vec<_>>().join(" ")
    }
}

/// What must stay clear in a print, by name, in its film's frame.
pub fn keys_of(panel: &PrintedPanel, side: &MeasuredSide) -> Vec<(String, Rect)> {
    let front_left = side.side.direction() > 0.0;
    (panel.keys.iter())
        .map(|key| (key.name.clone(), key_rect(panel, key, front_left)))
        .collect()
}

/// A film that is cut. Rectangles in its own frame, mm.
#[derive(Debug, Clone)]
pub struct ReliefAsk<'a> {
    /// The film with its bleed.
    pub film: Rect,
    /// How much of it at each edge is not seen in the end: the next panel lies over it, or it is turned in. Left, top, right, foot.
    pub covered_mm: [f64; 4],
    /// What must stay clear in the picture.
    pub keys: &'a [(String, Rect)],
    /// Whether a cut tears on in it: layered reflective.
    pub layered: bool,
}

/// Which way a cut runs from the thing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Way {
    Down,
    Rear,
    Front,
    Up,
}

impl Way {
    const ALL: [Way; 4] = [Way::Down, Way::Rear, Way::Front, Way::Up];

    /// Along the film's own frame.
    fn step(self, front_left: bool) -> Vec2 {
        let back = if front_left { 1.0 } else { -1.0 };
        match self {
            Way::Down => Vec2::new(0.0, 1.0),
            Way::Up => Vec2::new(0.0, -1.0),
            Way::Rear => Vec2::new(back, 0.0),
            Way::Front => Vec2::new(-back, 0.0),
        }
    }

    fn edge(self) -> &'static str {
        match self {
            Way::Down => "lower edge",
            Way::Up => "upper edge",
            Way::Rear => "rear edge",
            Way::Front => "front edge",
        }
    }

    fn towards(self) -> &'static str {
        match self {
            Way::Down => "straight up",
            Way::Up => "straight down",
            Way::Rear => "straight forwards",
            Way::Front => "straight back",
        }
    }
}

/// Relief cuts for everything that stays on wholly inside a film. What comes off needs none, and what the film’s own edge meets is cut from there.
///
/// What stands on the panel is let through by a cut within its outline, all of it in what is cut away. What reaches past its own outline (a bracket, an arm) needs a cut
/// from an edge, along which film comes round it: of the ways down, back, forwards and up the one that runs through nothing that must stay clear, then through no hardware
/// and nothing formed, then on no rivet head, then the one of which least is seen in the end: what the next panel covers, what is turned in and what is past the body does not count.
///
/// ```
/// # use kurbo::Rect;
/// # use windrift_core::art::{Art, printed_panel::PrintedPanel};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::plan::relief::{ReliefAsk, relief_cuts};
/// # use windrift_core::vehicle::feature::{Feature, SideFeature, form::{Form, MeasuredTo, Repeat}, kind::FeatureKind};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// // An arm 60 by 100 mm, 900 mm back and 250 below the rail.
/// let arm = Form::Rectangle { back_mm: 900.0.into(), drop_mm: 250.0.into(), to: MeasuredTo::Corner, width_mm: 60.0.into(), height_mm: 100.0.into(), repeat: Repeat::ONCE };
/// # let feature = SideFeature { id: uuid::Uuid::from_u128(1), feature: Feature::new(FeatureKind::Bracket, arm) };
/// # let measured = measure(&side, &[feature]).unwrap();
/// # let print = PrintedPanel { name: "side".into(), width_mm: 2000.0.into(), height_mm: 900.0.into(), bleed_mm: 0.0.into(), bleeds: None,
/// #     colour: "#23405c".into(), picture: None, keys: vec![] };
/// // A print from 200 mm back and 200 below the rail.
/// let piece = Piece::new(Art::Panel(print), PlaceRule::from_front(200.0, LetterEnd::FirstLetter, 200.0));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::Millimetre).unwrap();
/// let ask = ReliefAsk { film: planned.drawn.bounds, covered_mm: [0.0; 4], keys: &[], layered: false };
/// let cuts = relief_cuts(&ask, &planned.placed, &measured, Unit::Millimetre);
/// // Its upper edge is nearest: 50 mm.
/// assert_eq!(cuts[0].shows.text, "50 mm");
/// assert!(cuts[0].says.starts_with("With the liner still on, cut from the film\u{2019}s upper edge straight down"));
/// ```
pub fn relief_cuts(
    ask: &ReliefAsk<'_>,
    placed: &Placed,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<ReliefCut> {
    let to_film = placed.to_picture.inverse();
    let here = Here {
        placed,
        outline: side.outline.transformed(to_film),
        front_left: side.side.direction() > 0.0,
        areas: (side.areas.iter())
            .map(|a| (a, a.outline.transformed(to_film)))
            .filter(|(_, s)| s.bounds.overlaps(ask.film))
            .collect(),
        heads: (side.columns.iter())
            .flat_map(|c| c.heads.iter().map(move |h| (to_film * *h, c.head_mm / 2.0)))
            .filter(|(h, _)| ask.film.contains(*h))
            .collect(),
        unit,
    };
    let inside = |r: Rect| {
        r.x0 > ask.film.x0 && r.x1 < ask.film.x1 && r.y0 > ask.film.y0 && r.y1 < ask.film.y1
    };
    (here.areas.iter())
        .filter(|(a, s)| a.comes_off == ComesOff::Stays && inside(s.bounds))
        .filter_map(|(area, shape)| match area.kind {
            FeatureKind::Bracket => Some(from_an_edge(area, shape, ask, &here)),
            FeatureKind::Handle
            | FeatureKind::Hinge
            | FeatureKind::Latch
            | FeatureKind::Lamp
            | FeatureKind::Badge
            | FeatureKind::Socket => Some(within(area, shape, ask, &here)),
            _ => None,
        })
        .collect()
}

/// What lies under a film, in its own frame.
struct Here<'a> {
    placed: &'a Placed,
    outline: Shape,
    front_left: bool,
    areas: Vec<(&'a Area, Shape)>,
    /// Middle and radius of each rivet head.
    heads: Vec<(Point, f64)>,
    unit: Unit,
}

/// A cross over the thing, short of its outline.
fn within(area: &Area, shape: &Shape, ask: &ReliefAsk<'_>, here: &Here<'_>) -> ReliefCut {
    let middle = shape.bounds.center();
    let across = [Vec2::new(1.0, 0.0), Vec2::new(0.0, 1.0)];
    let lines = across.iter().filter_map(|way| {
        let far = shape.bounds.width() + shape.bounds.height();
        let reach = |way: Vec2| {
            first_crossing(middle, way, far, shape.edges()).map(|t| (t - SHORT_MM).max(0.0))
        };
        let (from, to) = (middle - *way * reach(-*way)?, middle + *way * reach(*way)?);
        (from.distance(to) > LEAST_MM).then(|| in_picture(here.placed, &[from, to]))
    });
    let short = print(SHORT_MM, here.unit).text;
    ReliefCut {
        name: area.name.clone(),
        lines: lines.collect(),
        shows: print(0.0, here.unit),
        meets: Vec::new(),
        before_the_liner: false,
        says: if ask.layered {
            format!(
                "Poke a hole over its middle and cut crosswise from it, each cut ending in a J {short} within its outline: a straight one runs on in this film."
            )
        } else {
            format!(
                "Cut crosswise over its middle, to {short} within its outline, as the film comes down there."
            )
        },
    }
}

/// A way that a cut may run.
struct Slit {
    way: Way,
    line: [Point; 2],
    shows_mm: f64,
    keys: Vec<String>,
    things: Vec<String>,
    heads: usize,
}

fn from_an_edge(area: &Area, shape: &Shape, ask: &ReliefAsk<'_>, here: &Here<'_>) -> ReliefCut {
    let all = Way::ALL.map(|way| slit(way, area, shape, ask, here));
    let weight = |s: &Slit| {
        (
            s.keys.len(),
            s.things.len(),
            s.heads,
            s.shows_mm.round() as u32,
            s.way,
        )
    };
    let [first, rest @ ..] = all;
    let best = (rest.into_iter()).fold(
        first,
        |best, s| {
            if weight(&s) < weight(&best) { s } else { best }
        },
    );
    let shows = print(best.shows_mm, here.unit);
    let mut meets: Vec<String> = (best.keys.iter().chain(&best.things))
        .map(|name| format!("It runs through {name}."))
        .collect();
    match best.heads {
        0 => {}
        1 => meets.push("It runs beside a rivet head.".into()),
        n => meets.push(format!("It runs beside {n} rivet heads.")),
    }
    let (edge, towards) = (best.way.edge(), best.way.towards());
    let closed = if best.shows_mm < LEAST_MM {
        "nothing of it is seen in the end".to_owned()
    } else {
        format!(
            "{} of it is closed again behind it, flank to flank",
            shows.text
        )
    };
    let end = if ask.layered {
        "ending in a J within its outline, for a straight cut runs on in this film"
    } else {
        "to its middle"
    };
    ReliefCut {
        name: area.name.clone(),
        lines: vec![in_picture(here.placed, &best.line)],
        shows,
        meets,
        before_the_liner: true,
        says: format!(
            "With the liner still on, cut from the film\u{2019}s {edge} {towards}, {end}. Film comes round it there; {closed}."
        ),
    }
}

fn slit(way: Way, area: &Area, own: &Shape, ask: &ReliefAsk<'_>, here: &Here<'_>) -> Slit {
    let middle = own.bounds.center();
    let step = way.step(here.front_left);
    let [left, top, right, foot] = ask.covered_mm;
    let (far, covered) = match (step.x, step.y) {
        (x, _) if x < 0.0 => (middle.x - ask.film.x0, left),
        (x, _) if x > 0.0 => (ask.film.x1 - middle.x, right),
        (_, y) if y < 0.0 => (middle.y - ask.film.y0, top),
        _ => (ask.film.y1 - middle.y, foot),
    };
    let crossing =
        |edges: &mut dyn Iterator<Item = (Point, Point)>| first_crossing(middle, step, far, edges);
    // To the film's own edge: only there does the cut let go. What is covered, turned in or past the body is not seen in the end.
    let rim = crossing(&mut own.edges()).unwrap_or(0.0);
    let seen = crossing(&mut here.outline.edges()).map_or(far - covered, |t| t.min(far - covered));
    let (from, to) = (middle + step * rim, middle + step * far);
    let line = Rect::from_points(from, to);
    // A line has no area: its ends are compared.
    let keys = (ask.keys.iter())
        .filter(|(_, r)| line.x0 <= r.x1 && line.x1 >= r.x0 && line.y0 <= r.y1 && line.y1 >= r.y0);
    let met = |(a, shape): &&(&Area, Shape)| {
        a.source != area.source
            && a.comes_off != ComesOff::ForGood
            && (a.kind.class() == FeatureClass::KeepOff
                || matches!(
                    a.kind,
                    FeatureKind::Recess | FeatureKind::CurvedZone | FeatureKind::ConcaveZone
                ))
            && a.kind != FeatureKind::LockerDoor
            && runs_through(from, to, shape)
    };
    let heads = (here.heads.iter())
        .filter(|(h, radius)| distance_to_segment(*h, from, to) < radius + HEAD_MM)
        .count();
    Slit {
        way,
        line: [middle, to],
        shows_mm: (seen - rim).max(0.0),
        keys: keys
            .map(|(name, _)| format!("\u{201c}{name}\u{201d} in the picture"))
            .collect(),
        things: (here.areas.iter())
            .filter(met)
            .map(|(a, _)| format!("the {}", a.name))
            .collect(),
        heads,
    }
}

/// Whether a line runs through a shape: it is looked at every millimetre.
fn runs_through(from: Point, to: Point, shape: &Shape) -> bool {
    let line = Rect::from_points(from, to).inflate(LEAST_MM, LEAST_MM);
    if !line.overlaps(shape.bounds) {
        return false;
    }
    let long = from.distance(to);
    let parts = (long / LEAST_MM).ceil().max(1.0);
    (0..=parts as usize).any(|n| shape.contains(from.lerp(to, n as f64 / parts)))
}

/// How far from a point along a way of length 1 the first of these edges is crossed, within `far`.
fn first_crossing(
    from: Point,
    way: Vec2,
    far: f64,
    edges: impl Iterator<Item = (Point, Point)>,
) -> Option<f64> {
    edges
        .filter_map(|(a, b)| {
            let (edge, off) = (b - a, a - from);
            let det = way.cross(edge);
            if det.abs() < 1e-12 {
                return None;
            }
            let (t, s) = (off.cross(edge) / det, off.cross(way) / det);
            ((0.0..=1.0).contains(&s) && t > 1e-9 && t <= far).then_some(t)
        })
        .min_by(f64::total_cmp)
}

fn in_picture(placed: &Placed, points: &[Point]) -> Vec<[f64; 2]> {
    (points.iter())
        .map(|p| placed.to_picture * *p)
        .map(|p| [p.x, p.y])
        .collect()
}
