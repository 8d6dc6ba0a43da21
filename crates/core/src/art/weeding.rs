//! Can it be cut and weeded: the thinnest stroke, the narrowest gap and the smallest island of a drawing.
//!
//! What a shop can weed is the shop's own figure; the defaults are Windrift's, no source.

use kurbo::{Point, Rect, Vec2};
use serde::{Deserialize, Serialize};

use crate::ground::budget::spend;
use crate::ground::outline::{Shape, rect_distance, signed_area};
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};

/// Samples along an edge are this share of the drawing's height apart, but never nearer than 0.5 mm.
const SAMPLE_SHARE: f64 = 1.0 / 80.0;
/// Two edges are the two sides of one stroke when they face each other within 45 degrees.
const FACING: f64 = std::f64::consts::FRAC_1_SQRT_2;

/// The thinnest things of a drawing, mm, each with where it is in the piece's frame.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thin {
    /// Thinnest stroke and its middle.
    pub stroke: Option<(f64, Point)>,
    /// Narrowest gap or counter and its middle.
    pub gap: Option<(f64, Point)>,
    /// Smallest piece of film: the side of a square of the same area, and its middle.
    pub island: Option<(f64, Point)>,
}

impl Thin {
    /// The thinner of each of two drawings.
    pub fn least(self, other: Thin) -> Thin {
        let less = |a: Option<(f64, Point)>, b: Option<(f64, Point)>| match (a, b) {
            (Some(a), Some(b)) => Some(if b.0 < a.0 { b } else { a }),
            (a, b) => a.or(b),
        };
        Thin {
            stroke: less(self.stroke, other.stroke),
            gap: less(self.gap, other.gap),
            island: less(self.island, other.island),
        }
    }
}

/// What weeding will be like.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Weeding {
    /// Thinnest stroke; `None` where no two edges face each other.
    pub stroke: Option<Length>,
    /// Narrowest gap between two edges.
    pub gap: Option<Length>,
    /// Smallest piece of film, as the side of a square of the same area.
    pub island: Option<Length>,
    /// What the shop says it cannot do, one sentence each; none where all is well.
    pub troubles: Vec<String>,
}

/// Measures the film of one layer.
pub fn measure(shapes: &[Shape]) -> Thin {
    let height = shapes.iter().map(|s| s.bounds.height()).fold(0.0, f64::max);
    let step = (height * SAMPLE_SHARE).max(0.5);
    let mut thin = Thin {
        stroke: None,
        gap: None,
        island: None,
    };
    for shape in shapes {
        let area = shape.area();
        keep(&mut thin.island, area.sqrt(), shape.bounds.center());
        let edges = Edges::of(shape);
        // Film lies to one side of every edge of a contour; which one follows from how the contour runs.
        let mut edge = 0;
        for (number, contour) in shape.contours.iter().enumerate() {
            let clockwise = signed_area(contour) > 0.0;
            let film_right = clockwise == (number == 0);
            for _ in contour {
                let (a, b) = edges.all[edge];
                edge += 1;
                let length = a.distance(b);
                if length < 1e-6 {
                    continue;
                }
                let along = (b - a) / length;
                // y runs down, so what lies to the right of the way is along turned clockwise.
                let right = Vec2::new(-along.y, along.x);
                let inward = if film_right { right } else { -right };
                let samples = (length / step).ceil().max(1.0);
                for n in 0..samples as u32 {
                    let from = a + along * (length * (f64::from(n) + 0.5) / samples);
                    if let Some(across) = edges.facing(edge - 1, from, inward, thin.stroke) {
                        keep(&mut thin.stroke, across, from + inward * (across / 2.0));
                    }
                    if let Some(across) = edges.facing(edge - 1, from, -inward, thin.gap) {
                        keep(&mut thin.gap, across, from - inward * (across / 2.0));
                    }
                }
            }
        }
    }
    thin
}

fn keep(least: &mut Option<(f64, Point)>, value: f64, at: Point) {
    if least.is_none_or(|(known, _)| value < known) {
        *least = Some((value, at));
    }
}

/// The edges of a shape, with those that pass through each cell of a grid over it: a look across a stroke asks only the cells that
/// it passes.
struct Edges {
    all: Vec<(Point, Point)>,
    bounds: Rect,
    cell: f64,
    columns: usize,
    rows: usize,
    cells: Vec<Vec<u32>>,
}

/// Most cells along one direction of the grid.
const MOST_CELLS: f64 = 400.0;

impl Edges {
    fn of(shape: &Shape) -> Edges {
        let all: Vec<(Point, Point)> = shape.edges().collect();
        let bounds = shape.bounds;
        // About as many cells as edges.
        let cell = (bounds.area() / all.len().max(1) as f64)
            .sqrt()
            .max(bounds.width().max(bounds.height()) / MOST_CELLS)
            .max(1e-3);
        let count = |length: f64| (length / cell).ceil().clamp(1.0, MOST_CELLS + 1.0) as usize;
        let (columns, rows) = (count(bounds.width()), count(bounds.height()));
        let mut edges = Edges {
            cells: vec![Vec::new(); columns * rows],
            all,
            bounds,
            cell,
            columns,
            rows,
        };
        for n in 0..edges.all.len() {
            let (a, b) = edges.all[n];
            for cell in edges.cells_of(Rect::from_points(a, b)) {
                edges.cells[cell].push(n as u32);
            }
        }
        edges
    }

    /// The cells that a box meets; none where it lies beside the grid.
    fn cells_of(&self, near: Rect) -> impl Iterator<Item = usize> + use<> {
        let at = |v: f64, from: f64, most: usize| {
            (((v - from) / self.cell).floor().max(0.0) as usize).min(most - 1)
        };
        let b = self.bounds;
        let beside = near.x1 < b.x0 || near.x0 > b.x1 || near.y1 < b.y0 || near.y0 > b.y1;
        let rows = at(near.y0, b.y0, self.rows)..=at(near.y1, b.y0, self.rows);
        let (c0, c1) = (
            at(near.x0, b.x0, self.columns),
            at(near.x1, b.x0, self.columns),
        );
        let columns = self.columns;
        rows.filter(move |_| !beside)
            .flat_map(move |row| (c0..=c1).map(move |column| row * columns + column))
    }

    /// How far it is from an edge, square to it, to the next edge of the shape, where that one faces it; `None` also where it is no
    /// less than what is known already.
    fn facing(
        &self,
        own: usize,
        from: Point,
        towards: Vec2,
        known: Option<(f64, Point)>,
    ) -> Option<f64> {
        let limit = known
            .map_or(f64::INFINITY, |(least, _)| least)
            .min(self.bounds.width() + self.bounds.height());
        let (mut nearest, mut faces) = (limit, false);
        let mut walked = 0.0;
        while walked < nearest {
            let (start, end) = (
                from + towards * walked,
                from + towards * (walked + self.cell),
            );
            let near = Rect::from_points(start, end);
            if rect_distance(near, self.bounds) > 0.0 {
                break;
            }
            walked += self.cell;
            for cell in self.cells_of(near) {
                spend(1 + self.cells[cell].len() as u64);
                for n in &self.cells[cell] {
                    if *n as usize == own {
                        continue;
                    }
                    let (a, b) = self.all[*n as usize];
                    let ab = b - a;
                    let denominator = towards.cross(ab);
                    if denominator.abs() < 1e-12 {
                        continue;
                    }
                    let t = (a - from).cross(ab) / denominator;
                    let u = (a - from).cross(towards) / denominator;
                    if t > 1e-6 && t < nearest && (0.0..=1.0).contains(&u) {
                        nearest = t;
                        faces = (ab.cross(towards) / ab.hypot()).abs() > FACING;
                    }
                }
            }
        }
        faces.then_some(nearest)
    }
}

/// What is weeded: what helps where it is too thin depends on that.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Weeded {
    /// Letters.
    Letters,
    /// A stripe: it is thin beside what is cut out of it.
    Stripe,
    /// A drawing.
    Drawing,
    /// A print: it is trimmed, not weeded.
    Print,
}

/// What the thinnest things mean for a shop; `at` says where a place of the piece is.
pub fn report(
    thin: &Thin,
    what: Weeded,
    at: &dyn Fn(Point) -> String,
    settings: &WorkSettings,
    unit: Unit,
) -> Weeding {
    let fine = |mm: f64| {
        if unit == Unit::Millimetre {
            format!("{mm:.1} mm")
        } else {
            format!("{} in", print(mm, unit).text)
        }
    };
    let mut troubles = Vec::new();
    let (thinnest, smallest) = (
        fine(settings.thinnest_stroke_mm.mm()),
        fine(settings.smallest_island_mm.mm()),
    );
    // Less by less than the tape shows it would be printed as the limit itself.
    let under = |mm: f64, limit: &str| match fine(mm) {
        same if same == limit => format!("just under {limit}"),
        less => less,
    };
    let stroke = thin
        .stroke
        .filter(|(mm, _)| *mm < settings.thinnest_stroke_mm);
    if let Some((mm, place)) = stroke {
        let mm = under(mm, &thinnest);
        troubles.extend(match what {
            Weeded::Letters => Some(format!(
                "The thinnest stroke is {mm}; this shop weeds down to {thinnest}. Make the letters larger or choose a heavier typeface."
            )),
            Weeded::Stripe => Some(format!(
                "It is only {mm} wide {}; this shop cuts down to {thinnest}. Beside something that is cut out stop it short or widen the hole: let it keep farther off hardware. Elsewhere make the band wider.",
                at(place)
            )),
            Weeded::Drawing => Some(format!(
                "Its thinnest part is {mm}, {}; this shop weeds down to {thinnest}. Cut it larger, or draw it thicker there.",
                at(place)
            )),
            Weeded::Print => None,
        });
    }
    let island = thin
        .island
        .filter(|(mm, _)| *mm < settings.smallest_island_mm);
    if let Some((mm, place)) = island {
        let mm = under(mm, &smallest);
        troubles.extend(match what {
            Weeded::Stripe => Some(format!(
                "A piece of film about {mm} across would be left, {}. Stop the stripe short of what is cut out there.",
                at(place)
            )),
            Weeded::Letters | Weeded::Drawing => Some(format!(
                "The smallest piece of film is about {mm} across; this shop weeds down to {smallest}. It gets lost in weeding."
            )),
            Weeded::Print => None,
        });
    }
    let printed = |found: Option<(f64, Point)>| found.map(|(mm, _)| print(mm, unit));
    Weeding {
        stroke: printed(thin.stroke),
        gap: printed(thin.gap),
        island: printed(thin.island),
        troubles,
    }
}
