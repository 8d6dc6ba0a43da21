//! The outline that follows from the measures of a body.

use kurbo::{BezPath, PathEl, Point, Vec2};

use crate::ground::outline::Contour;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::body::{Body, tangent};

/// Curves of a shape are flattened within this, mm.
const FLATTENING_MM: f64 = 0.2;

/// Control point of the parabola from `a` to `b` that passes `middle` half way along.
fn through(a: Point, middle: Point, b: Point) -> Point {
    (middle.to_vec2() * 2.0 - (a.to_vec2() + b.to_vec2()) / 2.0).to_point()
}

fn flattened(path: &BezPath) -> Contour {
    let mut contour = Contour::new();
    kurbo::flatten(path, FLATTENING_MM, |element| match element {
        PathEl::MoveTo(p) | PathEl::LineTo(p) => contour.push(p),
        _ => {}
    });
    contour.dedup_by(|a, b| a.distance(*b) < 1e-6);
    if contour.len() > 1
        && contour
            .first()
            .zip(contour.last())
            .is_some_and(|(a, b)| a.distance(*b) < 1e-6)
    {
        contour.pop();
    }
    contour
}

/// Corners with a radius each; a radius takes at most 45 % of the shorter edge beside it.
fn rounded_corners(corners: &[(Point, f64)]) -> Contour {
    let n = corners.len();
    let mut path = BezPath::new();
    for (i, (corner, radius)) in corners.iter().enumerate() {
        let before = corners[(i + n - 1) % n].0;
        let after = corners[(i + 1) % n].0;
        let (a, b) = trimmed(*corner, before, after, *radius);
        if i == 0 {
            path.move_to(a);
        } else {
            path.line_to(a);
        }
        path.quad_to(*corner, b);
    }
    path.close_path();
    flattened(&path)
}

/// Where a rounded corner begins and ends on the edges beside it.
fn trimmed(corner: Point, before: Point, after: Point, radius: f64) -> (Point, Point) {
    let cut = |other: Point| {
        let edge = other - corner;
        let length = edge.hypot();
        if length < 1e-9 {
            corner
        } else {
            corner + edge * (radius.min(0.45 * length) / length)
        }
    };
    (cut(before), cut(after))
}

fn bowed_panel(corners: [Point; 4], radius: f64, bows: [f64; 4]) -> Contour {
    let mut path = BezPath::new();
    for i in 0..4 {
        let (corner, before, after) = (corners[i], corners[(i + 3) % 4], corners[(i + 1) % 4]);
        let (_, start) = trimmed(corner, before, after, radius);
        let (end, next) = trimmed(after, corner, corners[(i + 2) % 4], radius);
        if i == 0 {
            path.move_to(start);
        }
        let along = (end - start).normalize();
        // Outwards is to the left of an outline that runs rail, rear, foot, front with y down.
        let outwards = Vec2::new(along.y, -along.x);
        path.quad_to(start.midpoint(end) + outwards * (2.0 * bows[i]), end);
        path.quad_to(after, next);
    }
    path.close_path();
    flattened(&path)
}

/// Straight from corner to corner; through rounded points the outline runs in one bend.
pub(crate) fn readings_outline(points: &[Reading]) -> Contour {
    let at = |n: usize| {
        let p = points[n % points.len()];
        Point::new(p.back_mm.mm(), p.drop_mm.mm())
    };
    let n = points.len();
    if n < 3 {
        return points
            .iter()
            .map(|p| Point::new(p.back_mm.mm(), p.drop_mm.mm()))
            .collect();
    }
    let mut path = BezPath::new();
    path.move_to(at(0));
    for i in 0..n {
        let (a, b) = (at(i), at(i + 1));
        let (a_round, b_round) = (points[i].rounded, points[(i + 1) % n].rounded);
        if !a_round && !b_round {
            path.line_to(b);
            continue;
        }
        let before = at(i + n - 1);
        let after = at(i + 2);
        let leave = if a_round {
            tangent(before, a, b)
        } else {
            (b - a) / 3.0
        };
        let arrive = if b_round {
            tangent(a, b, after)
        } else {
            (b - a) / 3.0
        };
        path.curve_to(a + leave, b - arrive, b);
    }
    flattened(&path)
}

impl Body {
    /// The outline in the run frame, walked round once from the front of the rail.
    pub fn outline(&self) -> Contour {
        let p = Point::new;
        match *self {
            Body::Box { height_mm, .. } => {
                let (_, end) = self.rail();
                vec![
                    Point::ZERO,
                    end,
                    p(end.x, height_mm.mm()),
                    p(0.0, height_mm.mm()),
                ]
            }
            Body::TravelTrailer {
                length_mm,
                height_mm,
                nose_mm,
                nose_height_mm,
                tail_mm,
                undercut_mm,
            } => vec![
                p(nose_mm.mm(), 0.0),
                p(length_mm - tail_mm, 0.0),
                p(length_mm.mm(), nose_height_mm.mm()),
                p(length_mm.mm(), height_mm.mm()),
                p(undercut_mm.mm(), height_mm.mm()),
                p(0.0, nose_height_mm.mm()),
            ],
            Body::Van {
                length_mm,
                height_mm,
                bonnet_mm,
                bonnet_height_mm,
                screen_mm,
                tail_mm,
            } => {
                let edge = height_mm - bonnet_height_mm;
                // The bonnet rises a sixth of its length to the foot of the screen, where there is room for that.
                let foot = (edge - bonnet_mm / 6.0).max(edge * 0.5);
                let corners = [
                    (p(bonnet_mm + screen_mm, 0.0), 160.0),
                    (p(length_mm - tail_mm, 0.0), 120.0),
                    (p(length_mm.mm(), height_mm * 0.35), 80.0),
                    (p(length_mm.mm(), height_mm.mm()), 40.0),
                    (p(0.0, height_mm.mm()), 60.0),
                    (p(0.0, edge), 120.0),
                    (p(bonnet_mm.mm(), foot), 20.0),
                ];
                rounded_corners(&corners)
            }
            Body::Panel {
                top_mm,
                bottom_mm,
                height_mm,
                bottom_starts_mm,
                corner_mm,
                top_bow_mm,
                bottom_bow_mm,
            } => {
                let corners = [
                    p(0.0, 0.0),
                    p(top_mm.mm(), 0.0),
                    p(bottom_starts_mm + bottom_mm, height_mm.mm()),
                    p(bottom_starts_mm.mm(), height_mm.mm()),
                ];
                bowed_panel(
                    corners,
                    corner_mm.mm(),
                    [top_bow_mm.mm(), 0.0, bottom_bow_mm.mm(), 0.0],
                )
            }
            Body::Hull {
                length_mm,
                bow_mm,
                middle_mm,
                stem_rake_mm,
                transom_rake_mm,
                ..
            } => {
                let (_, stern) = self.rail();
                let mut path = BezPath::new();
                path.move_to(Point::ZERO);
                // A parabola through the three heights of the sheer.
                let middle = p(length_mm / 2.0, bow_mm - middle_mm);
                path.quad_to(through(Point::ZERO, middle, stern), stern);
                path.line_to(p(length_mm - transom_rake_mm, bow_mm.mm()));
                let forefoot = p(stem_rake_mm.mm(), bow_mm.mm());
                path.line_to(forefoot + Vec2::new(stem_rake_mm * 0.4, 0.0));
                path.quad_to(
                    p(stem_rake_mm * 0.55, bow_mm.mm()),
                    p(stem_rake_mm * 0.45, bow_mm * 0.72),
                );
                path.line_to(Point::ZERO);
                flattened(&path)
            }
            Body::Transom {
                width_mm,
                chine_width_mm,
                side_height_mm,
                vee_mm,
                crown_mm,
            } => {
                let inset = (width_mm - chine_width_mm) / 2.0;
                let mut path = BezPath::new();
                path.move_to(Point::ZERO);
                path.quad_to(p(width_mm / 2.0, -2.0 * crown_mm), p(width_mm.mm(), 0.0));
                path.line_to(p(width_mm - inset, side_height_mm.mm()));
                path.line_to(p(width_mm / 2.0, side_height_mm + vee_mm));
                path.line_to(p(inset, side_height_mm.mm()));
                path.close_path();
                flattened(&path)
            }
            Body::Tank {
                length_mm,
                height_mm,
                end_mm,
            } => {
                let half = height_mm / 2.0;
                let cap = |centre: f64, from: f64| {
                    (0..=32).map(move |n| {
                        let angle = (from + 180.0 * f64::from(n) / 32.0).to_radians();
                        p(centre + end_mm * angle.cos(), half + half * angle.sin())
                    })
                };
                cap(length_mm - end_mm, -90.0)
                    .chain(cap(end_mm.mm(), 90.0))
                    .collect()
            }
            Body::Readings { ref points } => readings_outline(points),
            Body::Drawn { ref outline, .. } => outline.iter().map(|[x, y]| p(*x, *y)).collect(),
        }
    }
}
