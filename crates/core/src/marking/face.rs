//! A face of the vehicle as marking sees it: its surface, what film keeps off, rivet heads.

use kurbo::Point;
use serde::{Deserialize, Serialize};

use super::rules::{RuleSet, Rules};
use super::strip::Rect;
use crate::vehicle::feature::kind::{ComesOff, Details, FeatureKind, LampColour, LampFunction};
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::SideKind;

/// Film is cut back this far from hinges, latches and other hardware, mm: 1/8 in (common practice, no source).
pub const CLEAR_MM: f64 = 3.175;
/// What is planned keeps this much more from lamps than the rule asks, mm: half a sixteenth of an inch, by which a printed place is rounded
/// and a tape is read (ours).
pub const READ_MM: f64 = 25.4 / 32.0;
/// A bent outline is seen in bands of this height, mm (ours): within a band the narrowest counts.
const BAND_MM: f64 = 25.0;
/// Less than this beyond the outline is no corner, mm (ours).
const OUTSIDE_MM: f64 = 4.0;

/// Which face of the vehicle it is to the rules.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Face {
    /// Either side.
    Side,
    /// Seen from behind.
    Rear,
    /// Seen from ahead.
    Front,
}

impl Face {
    /// The face that a kind of side is.
    pub fn of(kind: SideKind) -> Face {
        match kind {
            SideKind::Rear | SideKind::Tail | SideKind::Transom => Face::Rear,
            SideKind::Front => Face::Front,
            _ => Face::Side,
        }
    }
}

/// Something that film keeps off.
#[derive(Debug, Clone, PartialEq)]
pub struct Obstacle {
    /// What it is called.
    pub name: String,
    /// From and to along the side, mm.
    pub back_mm: (f64, f64),
    /// From and to above the ground, mm.
    pub height_mm: (f64, f64),
    /// Its lens, where it is a lamp that the rules ask for.
    pub lamp: Option<LampColour>,
    /// What it is for, where it is such a lamp.
    pub function: LampFunction,
    /// Clear space that the crew wants round it, mm.
    pub clear_mm: f64,
}

impl Obstacle {
    /// What it covers.
    pub fn rect(&self) -> Rect {
        Rect {
            back_mm: self.back_mm,
            height_mm: self.height_mm,
        }
    }

    /// Whether it is a stop lamp, or a red lamp at the rear of which nobody has said what it is for.
    pub fn may_stop(&self, face: Face) -> bool {
        face == Face::Rear
            && self.lamp == Some(LampColour::Red)
            && matches!(self.function, LampFunction::Stop | LampFunction::Unknown)
    }

    /// Whether it is where the body ends rather than something on it: tape may reach the edge itself.
    pub fn is_edge(&self) -> bool {
        self.name == BODY_EDGE
    }
}

/// Name of what lies beyond a bent outline.
const BODY_EDGE: &str = "body's edge";

/// A face as the marking sees it.
#[derive(Debug, Clone, PartialEq)]
pub struct MarkSide {
    /// Which face.
    pub face: Face,
    /// The body's ends along the side, mm.
    pub ends_mm: (f64, f64),
    /// The body's foot and top above the ground, mm.
    pub height_mm: (f64, f64),
    /// What film keeps off.
    pub obstacles: Vec<Obstacle>,
    /// Rivet heads: along, above the ground, radius.
    pub heads: Vec<[f64; 3]>,
}

impl MarkSide {
    /// A measured side whose reference lies `ground_mm` above the ground.
    pub fn of(side: &MeasuredSide, ground_mm: f64) -> MarkSide {
        let datum = side.datum;
        let read = |p: Point| {
            let (back, down) = datum.read(p);
            (back, ground_mm - down)
        };
        let spans = |points: &mut dyn Iterator<Item = Point>| {
            points.map(read).fold(
                (
                    (f64::INFINITY, f64::NEG_INFINITY),
                    (f64::INFINITY, f64::NEG_INFINITY),
                ),
                |(b, h), (back, height)| {
                    (
                        (b.0.min(back), b.1.max(back)),
                        (h.0.min(height), h.1.max(height)),
                    )
                },
            )
        };
        let (ends_mm, height_mm) = spans(&mut side.outline.contours.iter().flatten().copied());
        let mut obstacles: Vec<Obstacle> = side
            .hardware()
            // What goes back afterwards hides tape under it, and a lamp keeps its distances.
            .filter(|h| h.comes_off != ComesOff::ForGood)
            .map(|h| {
                let (back_mm, height_mm) = spans(&mut h.outline.contours.iter().flatten().copied());
                let (lamp, function) = match h.details {
                    Some(Details::Lamp {
                        colour,
                        required: true,
                        function,
                    }) => (Some(colour), function),
                    _ => (None, LampFunction::Unknown),
                };
                Obstacle {
                    name: h.name.clone(),
                    back_mm,
                    height_mm,
                    lamp,
                    function,
                    clear_mm: h.clearance_mm,
                }
            })
            .collect();
        // Tape is parted at door gaps and at outside ribs: a surface that goes on behind them is another one.
        obstacles.extend(
            side.lines
                .iter()
                .filter(|l| matches!(l.kind, FeatureKind::DoorGap | FeatureKind::Crease))
                .map(|l| {
                    let (back_mm, height_mm) = spans(&mut l.points.iter().copied());
                    Obstacle {
                        name: l.name.clone(),
                        back_mm,
                        height_mm,
                        lamp: None,
                        function: LampFunction::Unknown,
                        clear_mm: 0.0,
                    }
                }),
        );
        let outline: Vec<Vec<(f64, f64)>> = side
            .outline
            .contours
            .iter()
            .map(|c| c.iter().map(|p| read(*p)).collect())
            .collect();
        obstacles.extend(beyond(&outline, ends_mm, height_mm));
        let heads = side
            .columns
            .iter()
            .flat_map(|c| {
                c.heads.iter().map(move |h| {
                    let (back, height) = read(*h);
                    [back, height, c.head_mm / 2.0]
                })
            })
            .collect();
        MarkSide {
            face: Face::of(side.side.kind),
            ends_mm,
            height_mm,
            obstacles,
            heads,
        }
    }

    /// The same with film that is laid out on the side: tape keeps off it. Each with what it is called and its box in the picture
    /// frame.
    pub fn beside_film<'f>(
        mut self,
        side: &MeasuredSide,
        ground_mm: f64,
        film: impl IntoIterator<Item = (&'f str, kurbo::Rect)>,
    ) -> MarkSide {
        for (name, r) in film {
            let corners = [(r.x0, r.y0), (r.x1, r.y0), (r.x1, r.y1), (r.x0, r.y1)]
                .map(|(x, y)| side.datum.read(Point::new(x, y)));
            let of = |pick: fn(&(f64, f64)) -> f64| {
                corners
                    .iter()
                    .map(pick)
                    .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), v| {
                        (a.min(v), b.max(v))
                    })
            };
            let down = of(|c| c.1);
            self.obstacles.push(Obstacle {
                name: name.to_owned(),
                back_mm: of(|c| c.0),
                height_mm: (ground_mm - down.1, ground_mm - down.0),
                lamp: None,
                function: LampFunction::Unknown,
                clear_mm: 0.0,
            });
        }
        self
    }

    /// Length of the side, mm.
    pub fn length_mm(&self) -> f64 {
        self.ends_mm.1 - self.ends_mm.0
    }

    /// Rivet heads under tape.
    pub fn heads_under(&self, tape: &[Rect]) -> u32 {
        self.heads
            .iter()
            .filter(|[back, height, radius]| {
                tape.iter().any(|r| {
                    let (x, y) = (
                        back.clamp(r.back_mm.0, r.back_mm.1),
                        height.clamp(r.height_mm.0, r.height_mm.1),
                    );
                    (back - x).hypot(height - y) < radius - 1e-9
                })
            })
            .count() as u32
    }
}

impl MarkSide {
    /// Rivet heads with an edge of tape on them: touched by it, and not covered whole by any run of it.
    pub fn heads_edged(&self, tape: &[Rect]) -> u32 {
        let whole = |[back, height, radius]: &[f64; 3]| {
            tape.iter().any(|r| {
                back - radius >= r.back_mm.0 - 1e-9
                    && back + radius <= r.back_mm.1 + 1e-9
                    && height - radius >= r.height_mm.0 - 1e-9
                    && height + radius <= r.height_mm.1 + 1e-9
            })
        };
        let covered = self.heads.iter().filter(|h| whole(h)).count() as u32;
        self.heads_under(tape).saturating_sub(covered)
    }
}

/// Where the surface ends within its own extent: rounded corners, wheel arches, a raked end; as plain rectangles, band by band.
pub fn beyond(
    outline: &[Vec<(f64, f64)>],
    ends_mm: (f64, f64),
    height_mm: (f64, f64),
) -> Vec<Obstacle> {
    let mut found: Vec<Obstacle> = Vec::new();
    let bands = ((height_mm.1 - height_mm.0) / BAND_MM)
        .ceil()
        .clamp(1.0, 400.0) as usize;
    let step = (height_mm.1 - height_mm.0) / bands as f64;
    for n in 0..bands {
        let (low, high) = (
            height_mm.0 + n as f64 * step,
            height_mm.0 + (n + 1) as f64 * step,
        );
        let mut inside = vec![ends_mm];
        for share in [0.02, 0.5, 0.98] {
            inside = both(&inside, &row(outline, low + share * step));
        }
        let mut from = ends_mm.0;
        let mut out = Vec::new();
        for (a, b) in inside {
            out.push((from, a));
            from = b;
        }
        out.push((from, ends_mm.1));
        for back_mm in out.into_iter().filter(|(a, b)| b - a > OUTSIDE_MM) {
            // A band that is as the one below it only makes that one higher.
            let same = found.iter_mut().rev().find(|o| {
                (o.height_mm.1 - low).abs() < 1e-6
                    && (o.back_mm.0 - back_mm.0).abs() < 1.0
                    && (o.back_mm.1 - back_mm.1).abs() < 1.0
            });
            match same {
                Some(o) => o.height_mm.1 = high,
                None => found.push(Obstacle {
                    name: BODY_EDGE.into(),
                    back_mm,
                    height_mm: (low, high),
                    lamp: None,
                    function: LampFunction::Unknown,
                    clear_mm: 0.0,
                }),
            }
        }
    }
    found
}

/// What lies inside an outline along one height, by the even-odd rule.
fn row(outline: &[Vec<(f64, f64)>], height: f64) -> Vec<(f64, f64)> {
    let mut crossings = Vec::new();
    for contour in outline {
        for (a, b) in contour.iter().zip(contour.iter().cycle().skip(1)) {
            if (a.1 <= height) != (b.1 <= height) {
                crossings.push(a.0 + (height - a.1) / (b.1 - a.1) * (b.0 - a.0));
            }
        }
    }
    crossings.sort_by(f64::total_cmp);
    crossings
        .chunks_exact(2)
        .map(|pair| (pair[0], pair[1]))
        .collect()
}

/// What lies in both of two rows of spans.
fn both(one: &[(f64, f64)], other: &[(f64, f64)]) -> Vec<(f64, f64)> {
    let mut out = Vec::new();
    for a in one {
        for b in other {
            let span = (a.0.max(b.0), a.1.min(b.1));
            if span.1 > span.0 {
                out.push(span);
            }
        }
    }
    out
}

/// How far tape that may be of every colour keeps from an obstacle, mm.
pub(super) fn keep_off(obstacle: &Obstacle, rules: &Rules, face: Face) -> f64 {
    if obstacle.is_edge() {
        return 0.0;
    }
    let clear = CLEAR_MM.max(obstacle.clear_mm);
    let of = |key: &str| (rules.get(key).unwrap_or(0.0) + READ_MM).max(clear);
    match (rules.set, obstacle.lamp) {
        (RuleSet::Unece, _) if obstacle.may_stop(face) => of("stop_lamp"),
        (RuleSet::Unece | RuleSet::UnitedStatesInUse, _) | (_, None) => clear,
        // The rule for new vehicles speaks of lamps; a reflector is none.
        (RuleSet::UnitedStatesNew, _) if obstacle.function == LampFunction::Reflector => clear,
        // White keeps off red and amber, red off amber: a strip of both keeps off both.
        (RuleSet::UnitedStatesNew, Some(LampColour::Amber | LampColour::Red)) => {
            of("lamp_distance")
        }
        (RuleSet::UnitedStatesNew, Some(LampColour::White)) => clear,
        (RuleSet::Voluntary, Some(_)) => of("lamp_distance"),
    }
}

/// How near a red end of a strip may come to an obstacle, mm: a red lamp asks no distance of red.
pub(super) fn keep_off_red(obstacle: &Obstacle, rules: &Rules, face: Face) -> f64 {
    match (rules.set, obstacle.lamp) {
        (RuleSet::UnitedStatesNew | RuleSet::Voluntary, Some(LampColour::Red)) => {
            CLEAR_MM.max(obstacle.clear_mm)
        }
        _ => keep_off(obstacle, rules, face),
    }
}
