//! Strokes as they are told, judged by a general geometry library (geo) on 2,000 random sheets: film with leaning edges, recesses, creases,
//! cut-outs and things that stay, every hinge. The library subtracts the polygon of each told stroke from the film, one after the other; at
//! every moment each part of what is left must reach a part of the rim that is open, or belong to what had no way out before the first stroke.
//! It knows nothing of columns, strips or cells.

use geo::{Area, BooleanOps, BoundingRect, Contains, Coord, LineString, MultiPolygon, Polygon};
use kurbo::{Point, Rect};
use proptest::prelude::*;
use proptest::test_runner::RngSeed;
use windrift_core::floor::air::Cell;
use windrift_core::floor::prove::TOLD_MM;
use windrift_core::floor::sheet_plan::SheetPlan;
use windrift_core::floor::strokes::order::order;
use windrift_core::floor::strokes::{CreaseLine, Start, Stroke, StrokeKind, StrokeOrder, Ways};
use windrift_core::ground::outline::Shape;

/// Half the width of a wall as the library sees it, mm.
const WALL: f64 = 0.005;
/// Half the width of a slit beside a wall that counts as no way out, mm.
const SLIT: f64 = 0.06;
/// Parts thinner than this on average hold no air worth a name: film bends up beside what lies, mm.
const NOTHING: f64 = 0.5;

fn polygon(points: &[Point]) -> Polygon {
    let line: Vec<Coord> = points.iter().map(|p| Coord { x: p.x, y: p.y }).collect();
    Polygon::new(LineString::new(line), Vec::new())
}

/// What is left without a polygon. Where the library refuses in an assertion of its own, the polygon is shifted by less than a thousandth of
/// a mm.
fn less(open: &MultiPolygon, corners: &[Point]) -> MultiPolygon {
    (0..8)
        .find_map(|n| {
            let off = kurbo::Vec2::new(f64::from(n) * 1.1e-4, f64::from(n) * -0.7e-4);
            let moved: Vec<Point> = corners.iter().map(|p| *p + off).collect();
            let other = polygon(&moved);
            std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| open.difference(&other))).ok()
        })
        .unwrap()
}

fn contour(shape: &Shape) -> &[Point] {
    &shape.contours[0]
}

/// Air that a stroke shuts in although it could have left, with the strokes so far.
#[derive(Debug, PartialEq)]
struct Shut {
    stroke: u32,
    area: f64,
    part: Vec<(f64, f64)>,
    told: Vec<Vec<[f64; 2]>>,
}

/// A sheet as the library sees it.
struct Judge {
    outline: MultiPolygon,
    things: Vec<(Polygon, Cell)>,
    walls: Vec<(Point, Point)>,
    closed: Vec<Rect>,
    /// Film, parted by its walls.
    open: MultiPolygon,
    /// The same with walls so thick that they close slits.
    narrower: MultiPolygon,
}

impl Judge {
    fn of(plan: &SheetPlan) -> Judge {
        let mut outline = MultiPolygon::new(vec![polygon(contour(&plan.film[0]))]);
        for other in &plan.film[1..] {
            outline = outline.intersection(&polygon(contour(other)));
        }
        let things: Vec<(Polygon, Cell)> = plan
            .things
            .iter()
            .map(|(s, c)| (polygon(contour(s)), *c))
            .collect();
        let film = things
            .iter()
            .fold(outline.clone(), |film, (thing, _)| film.difference(thing));
        let walls: Vec<(Point, Point)> = plan
            .walls
            .iter()
            .flat_map(|w| w.windows(2).map(|p| (p[0], p[1])))
            .filter(|(a, b)| a.distance(*b) > 0.1)
            .collect();
        let parted = |half: f64| {
            walls.iter().fold(film.clone(), |film, (a, b)| {
                let along = (*b - *a).normalize() * half;
                let off = along.turn_90();
                let (a, b) = (*a - along, *b + along);
                film.difference(&polygon(&[a + off, b + off, b - off, a - off]))
            })
        };
        let (open, narrower) = (parted(WALL), parted(SLIT));
        Judge {
            outline,
            things,
            walls,
            closed: plan.closed.clone(),
            open,
            narrower,
        }
    }

    /// Whether air leaves a part somewhere along its rim: a little farther out there is neither film nor a thing that stays, no wall stands
    /// between, and no tape closes it.
    fn leaves(&self, part: &Polygon) -> bool {
        let rings = std::iter::once(part.exterior()).chain(part.interiors());
        rings.flat_map(|r| r.lines()).any(|edge| {
            let (a, b) = (
                Point::new(edge.start.x, edge.start.y),
                Point::new(edge.end.x, edge.end.y),
            );
            let way = b - a;
            if way.hypot() < 0.06 {
                return false;
            }
            let steps = (way.hypot() / 4.0).ceil() as u32;
            let off = way.normalize().turn_90() * 0.05;
            (0..steps).any(|k| {
                let at = a.lerp(b, (f64::from(k) + 0.5) / f64::from(steps));
                // Nearer, too: at the tip of a wedge something else begins a hair farther out.
                [off, off / 10.0, -off, -off / 10.0]
                    .into_iter()
                    .any(|off| self.lets_out(at, at + off))
            })
        })
    }

    fn lets_out(&self, at: Point, beyond: Point) -> bool {
        let there = geo::Point::new(beyond.x, beyond.y);
        let thing = self.things.iter().rfind(|(p, _)| p.contains(&there));
        let nothing = match thing {
            Some((_, cell)) => *cell == Cell::Outside,
            None => !self.outline.contains(&there),
        };
        let through = |(a, b): &(Point, Point)| {
            let left = |from: Point, to: Point, p: Point| (to - from).cross(p - from);
            // The part's own edge stands off a wall by half the wall's width.
            let way = (*b - *a).normalize() * 2.0 * WALL;
            let (a, b) = (*a - way, *b + way);
            left(a, b, at) * left(a, b, beyond) < 0.0
                && left(at, beyond, a) * left(at, beyond, b) < 0.0
        };
        nothing
            && !self.walls.iter().any(through)
            && !self.closed.iter().any(|c| c.inflate(0.4, 0.4).contains(at))
    }

    /// Area that is shut in and could have left, the worst at any moment, with the number of the stroke; and what is left at the end.
    fn run(&self, strokes: &[Stroke]) -> (Option<Shut>, f64) {
        let lost: Vec<Polygon> = self
            .narrower
            .iter()
            .filter(|p| !self.leaves(p))
            .cloned()
            .collect();
        let mut open = self.open.clone();
        let mut worst: Option<Shut> = None;
        for stroke in strokes.iter().filter(|s| !s.shape.is_empty()) {
            let corners: Vec<Point> = stroke
                .shape
                .iter()
                .map(|p| Point::new(p[0], p[1]))
                .collect();
            open = less(&open, &corners);
            for part in &open {
                let of = part.bounding_rect().unwrap();
                let across = of.width().max(of.height());
                let area = part.unsigned_area();
                if across <= TOLD_MM || area / across <= NOTHING || self.leaves(part) {
                    continue;
                }
                let was_lost: f64 = lost
                    .iter()
                    .map(|l| l.intersection(part).unsigned_area())
                    .sum();
                if was_lost < area / 2.0 && worst.as_ref().is_none_or(|w| area > w.area) {
                    let told = strokes.iter().take(stroke.number as usize);
                    worst = Some(Shut {
                        stroke: stroke.number,
                        area,
                        part: part.exterior().coords().map(|c| (c.x, c.y)).collect(),
                        told: told.map(|s| s.shape.clone()).collect(),
                    });
                }
            }
        }
        let left = open
            .iter()
            .filter(|p| {
                let of = p.bounding_rect().unwrap();
                p.unsigned_area() / of.width().max(of.height()) > NOTHING
            })
            .map(Area::unsigned_area)
            .sum();
        (worst, left)
    }
}

/// A quadrangle round a rectangle's middle, turned and leaning.
fn leaning(rect: Rect, turn: f64, lean: f64) -> Shape {
    let c = rect.center();
    let (w, h) = (rect.width() / 2.0, rect.height() / 2.0);
    let at = |x: f64, y: f64| {
        let x = x + lean * y;
        Point::new(
            c.x + x * turn.cos() - y * turn.sin(),
            c.y + x * turn.sin() + y * turn.cos(),
        )
    };
    Shape::new(vec![vec![at(-w, -h), at(w, -h), at(w, h), at(-w, h)]])
}

fn round(rect: Rect, corners: u32) -> Shape {
    let c = rect.center();
    let ring = (0..corners).map(|n| {
        let turn = f64::from(n) / f64::from(corners) * std::f64::consts::TAU + 0.1;
        Point::new(
            c.x + turn.cos() * rect.width() / 2.0,
            c.y + turn.sin() * rect.height() / 2.0,
        )
    });
    Shape::new(vec![ring.collect()])
}

#[derive(Debug, Clone)]
struct Made {
    plan: SheetPlan,
    creases: Vec<CreaseLine>,
    ways: Ways,
}

fn made() -> impl Strategy<Value = Made> {
    let size = (200.0..1600.0_f64, 120.0..900.0_f64);
    (size, 0_usize..8, -0.3..0.3_f64).prop_flat_map(|((w, h), hinge, lean)| {
        let rect = move || {
            (0.0..0.9_f64, 0.0..0.9_f64, 30.0..260.0_f64, 30.0..260.0_f64)
                .prop_map(move |(x, y, a, b)| Rect::new(x * w, y * h, x * w + a, y * h + b))
        };
        let thing = (rect(), 0_u8..4, any::<bool>(), -0.6..0.6_f64, -0.4..0.4_f64).prop_map(
            |(r, form, stays, turn, lean)| {
                let shape = match form {
                    0 => Shape::rectangle(r),
                    1 | 2 => leaning(r, turn, lean),
                    _ => round(r, 24),
                };
                (shape, if stays { Cell::Blocked } else { Cell::Outside })
            },
        );
        // A recess, one of its sides open or none, some of them leaning.
        let recess = (rect(), 0_usize..6, 1_u8..30, -0.5..0.5_f64, any::<bool>()).prop_map(
            |(r, mouth, depth, turn, level)| {
                let shape = leaning(r, if level { 0.0 } else { turn }, 0.0);
                let c = contour(&shape).to_vec();
                let rims: Vec<Vec<Point>> = (0..4)
                    .filter(|n| *n != mouth)
                    .map(|n| vec![c[n], c[(n + 1) % 4]])
                    .collect();
                (shape, depth, rims)
            },
        );
        let crease =
            proptest::collection::vec((-0.2..1.2_f64, -0.2..1.2_f64), 2..4).prop_map(move |at| {
                at.into_iter()
                    .map(|(x, y)| Point::new(x * w, y * h))
                    .collect::<Vec<_>>()
            });
        (
            proptest::collection::vec(thing, 0..4),
            proptest::collection::vec(recess, 0..3),
            proptest::collection::vec(crease, 0..3),
            (
                300.0..1000.0_f64,
                60.0..130.0_f64,
                15.0..40.0_f64,
                any::<bool>(),
            ),
        )
            .prop_map(
                move |(things, recesses, creases, (reach_mm, squeegee_mm, overlap_mm, staged))| {
                    let bounds = Rect::new(0.0, 0.0, w, h);
                    let outline = leaning(bounds, 0.0, if hinge % 2 == 0 { lean } else { 0.0 });
                    let of = outline.bounds;
                    let mut walls: Vec<Vec<Point>> =
                        recesses.iter().flat_map(|r| r.2.clone()).collect();
                    walls.extend(creases.iter().cloned());
                    let top = Rect::new(of.x0, of.y0 - 1.0, of.x1, of.y0 + 1.0);
                    let tab = |from: f64, to: f64| {
                        Rect::new(
                            of.x0 + from * of.width(),
                            of.y0 - 1.0,
                            of.x0 + to * of.width(),
                            of.y0 + 1.0,
                        )
                    };
                    let side = |x: f64| Rect::new(x - 1.0, of.y0, x + 1.0, of.y1);
                    // Every hinge: top, pressed over a waterline, either side, corner tabs, across the middle, up the middle, liner window.
                    let (start, closed) = match hinge {
                        0 | 1 => (Start::Top, vec![top]),
                        2 => (Start::Left, vec![side(of.x0)]),
                        3 => (Start::Right, vec![side(of.x1)]),
                        4 => (Start::Top, vec![tab(0.05, 0.2), tab(0.8, 0.95)]),
                        5 => (
                            Start::Height {
                                y_mm: of.center().y,
                            },
                            Vec::new(),
                        ),
                        6 => (
                            Start::Place {
                                x_mm: of.center().x,
                            },
                            Vec::new(),
                        ),
                        _ => (
                            Start::Height {
                                y_mm: of.y0 + of.height() * 0.3,
                            },
                            Vec::new(),
                        ),
                    };
                    Made {
                        creases: creases
                            .iter()
                            .map(|c| CreaseLine {
                                points: c.iter().map(|p| [p.x, p.y]).collect(),
                            })
                            .collect(),
                        plan: SheetPlan {
                            film: vec![outline, Shape::rectangle(of.inflate(10.0, -2.0))],
                            things,
                            recesses: recesses.iter().map(|r| (r.0.clone(), r.1)).collect(),
                            walls,
                            closed,
                            ..SheetPlan::default()
                        },
                        ways: Ways {
                            start,
                            squeegee_mm,
                            overlap_mm,
                            reach_mm,
                            stage_mm: staged.then_some(450.0),
                        },
                    }
                },
            )
    })
}

fn judged(made: &Made) -> (StrokeOrder, Option<Shut>, f64) {
    let told = order(&made.plan, &made.creases, &made.ways);
    let (worst, left) = Judge::of(&made.plan).run(&told.strokes);
    (told, worst, left)
}

/// What every order must keep.
fn kept(made: &Made) -> Result<(), TestCaseError> {
    let (told, worst, left) = judged(made);
    prop_assert!(
        told.shut_in.iter().all(|r| r.stroke == 0),
        "{:?}",
        told.shut_in
    );
    prop_assert_eq!(worst, None, "a stroke shuts in what could have left");
    prop_assert!(left < 1.0, "{} mm² are pressed by no stroke", left);
    prop_assert!((told.pressed - 1.0).abs() < 1e-9);
    prop_assert!(
        told.strokes
            .iter()
            .map(|s| s.number)
            .eq(1..=told.strokes.len() as u32)
    );
    for stroke in &told.strokes {
        prop_assert!(
            stroke.width_mm <= made.ways.squeegee_mm + 1e-6,
            "no wider than the blade: {:?}",
            stroke
        );
        prop_assert_eq!(stroke.shape.is_empty(), stroke.kind == StrokeKind::Crease);
    }
    Ok(())
}

/// The same sheets every time, so that a run says something about the code alone; another seed gives others.
fn thousand(seed: u64) -> ProptestConfig {
    ProptestConfig {
        cases: 1000,
        max_shrink_iters: 200,
        failure_persistence: None,
        rng_seed: RngSeed::Fixed(
            std::env::var("WINDRIFT_SEED").map_or(seed, |s| seed + 2 * s.parse::<u64>().unwrap()),
        ),
        ..ProptestConfig::default()
    }
}

proptest! {
    #![proptest_config(thousand(1))]

    #[test]
    fn no_told_stroke_shuts_in_what_has_a_way_out_on_a_thousand_sheets(made in made()) {
        kept(&made)?;
    }
}

proptest! {
    #![proptest_config(thousand(2))]

    #[test]
    fn no_told_stroke_shuts_in_what_has_a_way_out_on_another_thousand(made in made()) {
        kept(&made)?;
    }
}
