//! Outlines: closed polygons of film, carrier and body parts, and the few questions asked of them.
//!
//! Points are mm (or a typeface's own units where said), x to the right and y down, as the side is seen. Curves have been
//! flattened before they come here; what is asked of a flattened curve is exact for the polygon.

use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::float::simplify::SimplifyShape;
use i_overlay::float::single::SingleFloatOverlay;
use i_overlay::mesh::outline::offset::OutlineOffset;
use i_overlay::mesh::style::{LineJoin, OutlineStyle};
use kurbo::{Affine, Point, Rect, Vec2};

use crate::ground::budget::spend;

/// A closed run of points, first point not repeated.
pub type Contour = Vec<Point>;

/// One island of film with its counters: the first contour is the rim, the others are holes in it.
#[derive(Debug, Clone, PartialEq)]
pub struct Shape {
    /// Rim first, then holes.
    pub contours: Vec<Contour>,
    /// The smallest upright rectangle round the rim.
    pub bounds: Rect,
}

impl Shape {
    /// A shape from its contours, rim first.
    pub fn new(contours: Vec<Contour>) -> Self {
        let bounds = bounds_of(contours.iter().flatten().copied());
        Shape { contours, bounds }
    }

    /// An upright rectangle as a shape.
    pub fn rectangle(rect: Rect) -> Self {
        Shape::new(vec![vec![
            Point::new(rect.x0, rect.y0),
            Point::new(rect.x1, rect.y0),
            Point::new(rect.x1, rect.y1),
            Point::new(rect.x0, rect.y1),
        ]])
    }

    /// The shape moved, turned or scaled.
    pub fn transformed(&self, by: Affine) -> Self {
        Shape::new(
            self.contours
                .iter()
                .map(|c| c.iter().map(|p| by * *p).collect())
                .collect(),
        )
    }

    /// Every edge, as its two ends.
    pub fn edges(&self) -> impl Iterator<Item = (Point, Point)> + '_ {
        self.contours.iter().flat_map(|c| edges_of(c))
    }

    /// Area of film, holes taken off, in square units.
    pub fn area(&self) -> f64 {
        self.contours
            .iter()
            .map(|c| signed_area(c))
            .sum::<f64>()
            .abs()
    }

    /// Whether the point lies on film (even-odd rule; the rim itself may fall either way).
    pub fn contains(&self, point: Point) -> bool {
        if !self.bounds.contains(point) {
            return false;
        }
        self.spend_edges();
        self.edges()
            .filter(|(a, b)| crosses_to_the_right(point, *a, *b))
            .count()
            % 2
            == 1
    }

    fn spend_edges(&self) {
        spend(self.contours.iter().map(Vec::len).sum::<usize>() as u64 / 8 + 1);
    }

    /// Distance from the point to the nearest cut edge, whichever side of it the point is on.
    pub fn distance_to_edge(&self, point: Point) -> f64 {
        self.spend_edges();
        self.edges()
            .map(|(a, b)| distance_squared_to_segment(point, a, b))
            .fold(f64::INFINITY, f64::min)
            .sqrt()
    }

    /// The highest and the lowest place where an upright line at `x` meets an edge; `None` where it passes beside the shape.
    pub fn span_at(&self, x: f64) -> Option<(f64, f64)> {
        let mut span: Option<(f64, f64)> = None;
        let mut meet = |y: f64| {
            span = Some(span.map_or((y, y), |(top, foot)| (top.min(y), foot.max(y))));
        };
        for (a, b) in self.edges() {
            if (a.x.min(b.x)..=a.x.max(b.x)).contains(&x) {
                if a.x == b.x {
                    meet(a.y);
                    meet(b.y);
                } else {
                    meet(a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x));
                }
            }
        }
        span
    }

    /// Clear distance between two shapes: 0 where they touch, overlap or one lies in the other. Distances of `limit` or
    /// more are not looked for: the answer is then `limit`.
    pub fn distance_to(&self, other: &Shape, limit: f64) -> f64 {
        if rect_distance(self.bounds, other.bounds) >= limit {
            return limit;
        }
        let inside = |a: &Shape, b: &Shape| {
            a.contours
                .first()
                .and_then(|rim| rim.first())
                .is_some_and(|p| b.contains(*p))
        };
        if inside(self, other) || inside(other, self) {
            return 0.0;
        }
        let mut best = limit;
        let others: Vec<(Point, Point)> = other.edges().collect();
        for (a, b) in self.edges() {
            let near = Rect::from_points(a, b);
            if rect_distance(near, other.bounds) >= best {
                continue;
            }
            spend(others.len() as u64 / 4 + 1);
            for &(c, d) in &others {
                if rect_distance(near, Rect::from_points(c, d)) < best {
                    best = best.min(segment_distance(a, b, c, d));
                }
            }
        }
        best
    }
}

type Plain = Vec<Vec<[f64; 2]>>;

fn plain<'c>(contours: impl IntoIterator<Item = &'c Contour>) -> Plain {
    contours
        .into_iter()
        .map(|c| c.iter().map(|p| [p.x, p.y]).collect())
        .collect()
}

fn shapes_of(plain: Vec<Plain>) -> Vec<Shape> {
    plain
        .into_iter()
        .map(|contours| {
            Shape::new(
                contours
                    .into_iter()
                    .map(|c| c.into_iter().map(|[x, y]| Point::new(x, y)).collect())
                    .collect(),
            )
        })
        .collect()
}

/// Spends what welding or cutting these contours may cost: their edges, and the crossings that the boxes of two edges let fear. Counted
/// before any is worked out, because crossings take up memory as well.
fn spend_on<'c>(contours: impl IntoIterator<Item = &'c Contour>) {
    let mut boxes: Vec<Rect> = contours
        .into_iter()
        .flat_map(|c| edges_of(c))
        .map(|(a, b)| Rect::from_points(a, b))
        .collect();
    spend(EDGE_STEPS * boxes.len() as u64);
    boxes.sort_by(|a, b| a.x0.total_cmp(&b.x0));
    for (n, a) in boxes.iter().enumerate() {
        let beside = boxes[n + 1..].iter().take_while(|b| b.x0 <= a.x1);
        let (looked, met) = beside.fold((0, 0_u64), |(looked, met), b| {
            (looked + 1, met + u64::from(b.y0 <= a.y1 && a.y0 <= b.y1))
        });
        // The next edge of the same contour always meets this one.
        spend(looked / 4 + CROSSING_STEPS * met.saturating_sub(1));
    }
}

/// Steps for an edge of what is welded, and for two edges whose boxes meet: measured on letters and on rectangles laid over each other.
const EDGE_STEPS: u64 = 30;
const CROSSING_STEPS: u64 = 40;

/// Welds contours that overlap into film outlines without overlaps (non-zero rule, as typefaces are drawn).
pub fn weld(contours: &[Contour]) -> Vec<Shape> {
    spend_on(contours);
    shapes_of(plain(contours).simplify_shape(FillRule::NonZero))
}

/// Resolves contours as a drawing program fills them (even-odd rule): what lies within one is film, within two a hole.
pub fn resolve(contours: &[Contour]) -> Vec<Shape> {
    spend_on(contours);
    shapes_of(plain(contours).simplify_shape(FillRule::EvenOdd))
}

/// How grown film goes round a corner.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Corners {
    /// Sharp, unless the corner is so narrow that it would run out into a needle.
    Sharp,
    /// Round.
    Round,
}

/// Film grown outwards by so many mm on every edge, holes narrowed by as much; less than 0 shrinks it. What meets is welded.
pub fn grow(shapes: &[Shape], by_mm: f64, corners: Corners) -> Vec<Shape> {
    let join = match corners {
        // A corner of less than about 29 degrees is cut off, as pens do.
        Corners::Sharp => LineJoin::Miter(0.5),
        Corners::Round => LineJoin::Round(0.1),
    };
    let style = OutlineStyle {
        outer_offset: by_mm,
        inner_offset: by_mm,
        join,
    };
    spend_on(shapes.iter().flat_map(|s| &s.contours));
    // Each island in its own right, then all welded: islands that grow into each other become one.
    let islands: Vec<Plain> = shapes.iter().map(|s| plain(&s.contours)).collect();
    shapes_of(islands.outline(&style))
}

/// Film less what the others cover.
pub fn cut_out(shapes: &[Shape], others: &[Shape]) -> Vec<Shape> {
    spend_on(shapes.iter().chain(others).flat_map(|s| &s.contours));
    let subject: Vec<Plain> = shapes.iter().map(|s| plain(&s.contours)).collect();
    let clip: Vec<Plain> = others.iter().map(|s| plain(&s.contours)).collect();
    shapes_of(subject.overlay(&clip, OverlayRule::Difference, FillRule::NonZero))
}

/// Film that lies on both.
pub fn overlap(shapes: &[Shape], others: &[Shape]) -> Vec<Shape> {
    spend_on(shapes.iter().chain(others).flat_map(|s| &s.contours));
    let subject: Vec<Plain> = shapes.iter().map(|s| plain(&s.contours)).collect();
    let clip: Vec<Plain> = others.iter().map(|s| plain(&s.contours)).collect();
    shapes_of(subject.overlay(&clip, OverlayRule::Intersect, FillRule::NonZero))
}

/// The smallest upright rectangle round the points; empty at the origin when there are none.
pub fn bounds_of(points: impl IntoIterator<Item = Point>) -> Rect {
    points
        .into_iter()
        .map(|p| Rect::from_points(p, p))
        .reduce(|a, b| a.union(b))
        .unwrap_or_default()
}

/// The smallest upright rectangle round all shapes.
pub fn bounds_of_shapes<'a>(shapes: impl IntoIterator<Item = &'a Shape>) -> Rect {
    shapes
        .into_iter()
        .map(|s| s.bounds)
        .reduce(|a, b| a.union(b))
        .unwrap_or_default()
}

/// Clear distance between two upright rectangles, 0 where they meet.
pub fn rect_distance(a: Rect, b: Rect) -> f64 {
    let dx = (a.x0 - b.x1).max(b.x0 - a.x1).max(0.0);
    let dy = (a.y0 - b.y1).max(b.y0 - a.y1).max(0.0);
    dx.hypot(dy)
}

/// The convex hull of the points, counter-clockwise in a y-up frame (monotone chain).
pub fn convex_hull(mut points: Vec<Point>) -> Vec<Point> {
    points.sort_by(|a, b| a.x.total_cmp(&b.x).then(a.y.total_cmp(&b.y)));
    points.dedup();
    let half = |points: &mut dyn Iterator<Item = Point>| {
        let mut hull: Vec<Point> = Vec::new();
        for p in points {
            while let [.., a, b] = hull.as_slice() {
                if (*b - *a).cross(p - *a) > 0.0 {
                    break;
                }
                hull.pop();
            }
            hull.push(p);
        }
        hull.pop();
        hull
    };
    let mut hull = half(&mut points.iter().copied());
    hull.extend(half(&mut points.iter().rev().copied()));
    if hull.is_empty() { points } else { hull }
}

/// The first two edges of a closed run of points that cross or touch without being neighbours, by the numbers of the points they
/// begin at, from 0. Neighbours that double back on each other count too.
pub fn first_crossing(contour: &[Point]) -> Option<(usize, usize)> {
    let edges: Vec<(Point, Point)> = edges_of(contour).collect();
    let n = edges.len();
    for (i, (a, b)) in edges.iter().enumerate() {
        let near = Rect::from_points(*a, *b);
        spend((n - i) as u64 / 2);
        for (j, (c, d)) in edges.iter().enumerate().skip(i + 1) {
            if rect_distance(near, Rect::from_points(*c, *d)) > 0.0 {
                continue;
            }
            if j == i + 1 || (i == 0 && j == n - 1) {
                // Neighbours share a point; they cross only by running back over each other.
                let (one, other) = if j == i + 1 {
                    (*a - *b, *d - *c)
                } else {
                    (*b - *a, *c - *d)
                };
                let turned_back = one.cross(other).abs() <= 1e-9 * one.hypot() * other.hypot()
                    && one.dot(other) > 0.0;
                if turned_back && n > 2 {
                    return Some((i, j));
                }
            } else if segment_distance(*a, *b, *c, *d) <= 1e-9 {
                return Some((i, j));
            }
        }
    }
    None
}

fn edges_of(contour: &[Point]) -> impl Iterator<Item = (Point, Point)> + '_ {
    contour
        .iter()
        .copied()
        .zip(contour.iter().copied().cycle().skip(1))
}

/// Area within a closed run of points in square units: positive where it runs clockwise as seen (y down).
pub fn signed_area(contour: &[Point]) -> f64 {
    edges_of(contour)
        .map(|(a, b)| a.to_vec2().cross(b.to_vec2()))
        .sum::<f64>()
        / 2.0
}

fn crosses_to_the_right(p: Point, a: Point, b: Point) -> bool {
    (a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x
}

/// Distance from a point to a straight run between two others.
pub fn distance_to_segment(p: Point, a: Point, b: Point) -> f64 {
    distance_squared_to_segment(p, a, b).sqrt()
}

fn distance_squared_to_segment(p: Point, a: Point, b: Point) -> f64 {
    let (ab, ap) = (b - a, p - a);
    let length_squared = ab.hypot2();
    let along = if length_squared > 0.0 {
        (ap.dot(ab) / length_squared).clamp(0.0, 1.0)
    } else {
        0.0
    };
    (ap - ab * along).hypot2()
}

pub(crate) fn segment_distance(a: Point, b: Point, c: Point, d: Point) -> f64 {
    let side = |o: Point, along: Vec2, p: Point| along.cross(p - o);
    let (ab, cd) = (b - a, d - c);
    if side(a, ab, c) * side(a, ab, d) < 0.0 && side(c, cd, a) * side(c, cd, b) < 0.0 {
        return 0.0;
    }
    [
        distance_squared_to_segment(a, c, d),
        distance_squared_to_segment(b, c, d),
        distance_squared_to_segment(c, a, b),
        distance_squared_to_segment(d, a, b),
    ]
    .into_iter()
    .fold(f64::INFINITY, f64::min)
    .sqrt()
}

/// What of a segment lies within a rectangle; nothing where none does.
pub fn segment_within(r: Rect, a: Point, b: Point) -> Option<(Point, Point)> {
    let d = b - a;
    let (mut from, mut to) = (0.0_f64, 1.0_f64);
    for (start, step, low, high) in [(a.x, d.x, r.x0, r.x1), (a.y, d.y, r.y0, r.y1)] {
        if step.abs() < 1e-12 {
            if start < low || start > high {
                return None;
            }
            continue;
        }
        let (s, t) = ((low - start) / step, (high - start) / step);
        from = from.max(s.min(t));
        to = to.min(s.max(t));
    }
    (from < to).then(|| (a + d * from, a + d * to))
}
