//! The sections of a piece as sheets: where its film lies, what closes air in, and where it leaves.

use kurbo::{Affine, Point};

use crate::art::Art;
use crate::floor::air::Cell;
use crate::floor::hang::is_crease;
use crate::floor::hang::words::Hang;
use crate::floor::sheet_plan::SheetPlan;
use crate::floor::strokes::CreaseLine;
use crate::ground::outline::Shape;
use crate::ground::settings::WorkSettings;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{ComesOff, Details, FeatureKind, OpenSide};
use crate::vehicle::measured::MeasuredSide;

/// A section of a piece as a sheet, in the piece's own frame.
#[derive(Debug, Clone)]
pub struct PressSheet {
    /// What the section is called.
    pub called: String,
    /// Its corners in the picture frame.
    pub corners: [[f64; 2]; 4],
    /// Its shapes.
    pub plan: SheetPlan,
    /// Creases across it.
    pub creases: Vec<CreaseLine>,
    /// From the piece's frame to the picture frame.
    pub to_picture: Affine,
}

/// Steps in which a moulding's ridge is drawn, mm.
const RIDGE_STEP_MM: f64 = 10.0;

/// The sections of a piece as sheets.
pub fn sheets(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    hang: &Hang,
    settings: &WorkSettings,
) -> Vec<PressSheet> {
    let to_picture = planned.placed.to_picture;
    let to_piece = to_picture.inverse();
    let carrier = planned.drawn.carrier(settings.carrier_margin_mm.mm());
    let cut_out = matches!(planned.piece.art, Art::Stripe(_) | Art::Panel(_));
    // A print is worked over what stands out a little.
    let worked_over =
        |kind| kind == FeatureKind::Moulding && matches!(planned.piece.art, Art::Panel(_));
    let near = |shape: &Shape| shape.bounds.overlaps(carrier);
    let body = side.outline.transformed(to_piece);
    let stays = || side.hardware().filter(|h| h.comes_off == ComesOff::Stays);
    let things: Vec<(Shape, Cell)> = stays()
        // Old film is flat: air passes over it as over the body.
        .filter(|h| h.kind != FeatureKind::OldFilm && !worked_over(h.kind))
        .map(|h| {
            let open = cut_out || matches!(h.kind, FeatureKind::Vent | FeatureKind::WheelArch);
            let cell = if open { Cell::Outside } else { Cell::Blocked };
            (h.outline.transformed(to_piece), cell)
        })
        .filter(|(s, _)| near(s))
        .collect();
    let mouldings: Vec<Moulding> = stays()
        .filter(|h| worked_over(h.kind))
        .map(|h| h.outline.transformed(to_piece))
        .filter(near)
        .map(|outline| Moulding::of(&outline, RIDGE_STEP_MM))
        .collect();
    let gaps: Vec<Vec<Point>> = gaps(side)
        .map(|gap| gap.into_iter().map(|p| to_piece * p).collect::<Vec<_>>())
        .filter(|points| line_near(points, carrier))
        .collect();
    let recesses: Vec<(Shape, u8, OpenSide)> = side
        .zones()
        .filter_map(|z| match z.details {
            Some(Details::Recess { depth_mm, open, .. }) => Some((
                z.outline.transformed(to_piece),
                depth_mm.ceil().clamp(1.0, 255.0) as u8,
                open,
            )),
            _ => None,
        })
        .filter(|(s, _, _)| near(s))
        .collect();
    let creases: Vec<Vec<Point>> = side
        .lines
        .iter()
        .filter(|l| is_crease(l.kind))
        .map(|l| {
            l.points
                .iter()
                .map(|p| to_piece * *p)
                .collect::<Vec<Point>>()
        })
        .filter(|points| line_near(points, carrier))
        .collect();
    let set_in = || creases.iter().chain(mouldings.iter().flat_map(|m| &m.feet));
    let mut walls: Vec<Vec<Point>> = recesses
        .iter()
        .flat_map(|(recess, _, open)| rims(recess, *open, side.side.direction()))
        .collect();
    walls.extend(creases.iter().cloned());
    walls.extend(mouldings.iter().map(|m| m.ridge.clone()));
    hang.sections
        .iter()
        .map(|section| {
            let outline = Shape::new(vec![section.in_piece.to_vec()]);
            PressSheet {
                called: section.called.clone(),
                corners: section.corners,
                plan: SheetPlan {
                    // Past the edge of the body film lies on nothing, and air leaves there.
                    film: vec![outline, body.clone()],
                    things: things.clone(),
                    recesses: recesses
                        .iter()
                        .map(|(shape, depth, _)| (shape.clone(), *depth))
                        .collect(),
                    walls: walls.clone(),
                    closed: hang.closed.clone(),
                    gaps: gaps.clone(),
                    vents: Vec::new(),
                },
                creases: set_in()
                    .map(|c| CreaseLine {
                        points: c.iter().map(|p| [p.x, p.y]).collect(),
                    })
                    .collect(),
                to_picture,
            }
        })
        .collect()
}

fn line_near(points: &[Point], carrier: kurbo::Rect) -> bool {
    crate::ground::outline::rect_distance(
        crate::ground::outline::bounds_of(points.iter().copied()),
        carrier,
    ) <= 0.0
}

/// Gaps of the body: film spans them, and air leaves through them for as long as it is not pressed to their edges.
fn gaps(side: &MeasuredSide) -> impl Iterator<Item = Vec<Point>> + '_ {
    let lines = side
        .lines
        .iter()
        .filter(|l| l.kind == FeatureKind::DoorGap)
        .map(|l| l.points.clone());
    let doors = side
        .areas
        .iter()
        .filter(|a| matches!(a.kind, FeatureKind::LockerDoor | FeatureKind::DoorGap))
        .flat_map(|a| {
            a.outline
                .edges()
                .map(|(a, b)| vec![a, b])
                .collect::<Vec<_>>()
        });
    lines.chain(doors)
}

/// A moulding that film is worked over: it touches the moulding's ridge, so that no air passes from one side to the other, and both its
/// feet are set once the flat beside them lies.
struct Moulding {
    ridge: Vec<Point>,
    feet: [Vec<Point>; 2],
}

impl Moulding {
    fn of(outline: &Shape, step_mm: f64) -> Moulding {
        let upright = outline.bounds.height() > outline.bounds.width();
        // Rows and columns exchanged: across is along it.
        let swap = if upright {
            Affine::new([0.0, 1.0, 1.0, 0.0, 0.0, 0.0])
        } else {
            Affine::IDENTITY
        };
        let lying = outline.transformed(swap);
        let (from, long) = (lying.bounds.x0, lying.bounds.width());
        let steps = (long / step_mm).ceil().clamp(1.0, 5_000.0) as u32;
        let mut lines: [Vec<Point>; 3] = Default::default();
        for n in 0..=steps {
            // A hair within both its ends, where the outline has no height to be read.
            let share = (f64::from(n) / f64::from(steps)).clamp(1e-6, 1.0 - 1e-6);
            let x = from + long * share;
            let Some((top, foot)) = lying.span_at(x) else {
                continue;
            };
            for (line, y) in lines.iter_mut().zip([top, (top + foot) / 2.0, foot]) {
                line.push(swap * Point::new(x, y));
            }
        }
        let [top, ridge, foot] = lines;
        Moulding {
            ridge,
            feet: [top, foot],
        }
    }
}

/// The rim of a recess without its open side.
fn rims(recess: &Shape, open: OpenSide, direction: f64) -> Vec<Vec<Point>> {
    let centre = recess.bounds.center();
    let lets_out = |a: Point, b: Point| {
        let normal = (b - a).turn_90();
        let outward = if normal.dot(a.midpoint(b) - centre) < 0.0 {
            -normal
        } else {
            normal
        };
        let (along, down) = (outward.x * direction, outward.y);
        match open {
            OpenSide::Enclosed => false,
            OpenSide::Top => -down > along.abs(),
            OpenSide::Foot => down > along.abs(),
            OpenSide::Front => -along > down.abs(),
            OpenSide::Rear => along > down.abs(),
        }
    };
    recess
        .edges()
        .filter(|(a, b)| !lets_out(*a, *b))
        .map(|(a, b)| vec![a, b])
        .collect()
}
