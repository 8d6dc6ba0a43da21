//! The vehicle from above, drawn from its own measurements: length from its long sides, width from its ends. It picks the side.
//!
//! Front at the left, the vehicle's right above. What was not measured is guessed and said to be.

use kurbo::{Point, Rect};
use serde::Serialize;
use uuid::Uuid;

use crate::ground::outline::Shape;
use crate::vehicle::side::Side;
use crate::vehicle::side::words::{FrontAt, SideKind};

/// A vehicle is about so many times as long as wide, where nobody measured its ends.
const LENGTH_TO_WIDTH: f64 = 2.9;

/// One side in the plan view.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanSide {
    /// The side's key.
    pub id: Uuid,
    /// Its place: corners in mm, x from the front backwards, y from the middle line to the vehicle's left.
    pub corners: Vec<[f64; 2]>,
}

/// The vehicle from above.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VehiclePlan {
    /// Length as measured or guessed, mm.
    pub length_mm: f64,
    /// Width as measured or guessed, mm.
    pub width_mm: f64,
    /// Whether both were measured.
    pub measured: bool,
    /// Corners of the body in mm.
    pub body: Vec<[f64; 2]>,
    /// The sides that have a place in it.
    pub sides: Vec<PlanSide>,
}

/// Extent along and across the vehicle of a side that faces the sky.
fn along_across(side: &Side, shape: &Shape) -> (f64, f64) {
    let (w, h) = (shape.bounds.width(), shape.bounds.height());
    match side.front {
        FrontAt::Top | FrontAt::Foot => (h, w),
        _ => (w, h),
    }
}

/// Draws the vehicle from above.
///
/// ```
/// # use windrift_core::vehicle::{body::Body, plan_view::plan_view, side::{Side, words::SideKind}, surface::Surface};
/// // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let side = Side::new(SideKind::Left, body, Surface::default());
/// let seen = plan_view(&[(Default::default(), &side)]);
/// assert_eq!(seen.sides.len(), 1);
/// ```
pub fn plan_view(sides: &[(Uuid, &Side)]) -> VehiclePlan {
    let shapes: Vec<(Uuid, &Side, Shape)> =
        sides.iter().map(|(id, s)| (*id, *s, s.outline())).collect();
    let largest = |of: &dyn Fn(&Side, &Shape) -> Option<f64>| {
        shapes
            .iter()
            .filter_map(|(_, s, shape)| of(s, shape))
            .reduce(f64::max)
    };
    let long = largest(&|s, shape| {
        matches!(
            s.kind,
            SideKind::Left | SideKind::Right | SideKind::Port | SideKind::Starboard
        )
        .then_some(shape.bounds.width())
    });
    let on_top = |kinds: &'static [SideKind]| {
        move |s: &Side, shape: &Shape| kinds.contains(&s.kind).then(|| along_across(s, shape))
    };
    let tops = on_top(&[
        SideKind::Hood,
        SideKind::Roof,
        SideKind::Tail,
        SideKind::Deck,
    ]);
    // A car of which only the upper panels were measured: they and the glass between them.
    let stacked: f64 = shapes
        .iter()
        .filter_map(|(_, s, shape)| tops(s, shape))
        .map(|(l, _)| l)
        .sum();
    let ends = largest(&|s, shape| {
        matches!(s.kind, SideKind::Front | SideKind::Rear | SideKind::Transom)
            .then_some(shape.bounds.width())
    });
    let across = ends.or_else(|| largest(&|s, shape| tops(s, shape).map(|(_, w)| w)));
    let other = || largest(&|_, shape| Some(shape.bounds.width())).unwrap_or(4000.0);
    let length = long.unwrap_or_else(|| {
        if stacked > 0.0 {
            stacked * 1.45
        } else {
            other()
        }
    });
    let width = across.unwrap_or(length / LENGTH_TO_WIDTH);
    let boat = shapes.iter().any(|(_, s, _)| {
        matches!(
            s.kind,
            SideKind::Port | SideKind::Starboard | SideKind::Transom
        )
    });
    let half = width / 2.0;
    let body = if boat {
        vec![
            [0.0, 0.0],
            [length * 0.14, -half * 0.62],
            [length * 0.36, -half],
            [length, -half * 0.94],
            [length, half * 0.94],
            [length * 0.36, half],
            [length * 0.14, half * 0.62],
        ]
    } else {
        vec![[0.0, -half], [length, -half], [length, half], [0.0, half]]
    };
    // Edges are bars beside the body, wide enough to be touched.
    let bar = (length / 14.0).max(width / 8.0);
    let gap = bar * 0.25;
    let mut doors = 0.0;
    let mut top_end = 0.0;
    let sides = shapes
        .iter()
        .filter_map(|(id, side, shape)| {
            let rect = match side.kind {
                SideKind::Left | SideKind::Port => {
                    Rect::new(0.0, half + gap, length, half + gap + bar)
                }
                SideKind::Right | SideKind::Starboard => {
                    Rect::new(0.0, -half - gap - bar, length, -half - gap)
                }
                SideKind::Front => Rect::new(-gap - bar, -half, -gap, half),
                SideKind::Rear | SideKind::Transom => {
                    Rect::new(length + gap, -half, length + gap + bar, half)
                }
                SideKind::Hood | SideKind::Roof | SideKind::Tail | SideKind::Deck => {
                    let (l, w) = along_across(side, shape);
                    let (l, w) = (l.min(length), w.min(width) * 0.86);
                    let from = match side.kind {
                        SideKind::Hood => length * 0.02,
                        SideKind::Tail => length * 0.98 - l,
                        SideKind::Roof if l < length * 0.7 => (length - l) * 0.62,
                        _ => (length - l) / 2.0,
                    };
                    top_end = f64::max(top_end, from + l);
                    Rect::new(from, -w / 2.0, from + l, w / 2.0)
                }
                SideKind::Door => {
                    let w = shape.bounds.width().min(length / 3.0);
                    let from = length * 0.3 + doors;
                    doors += w * 1.1;
                    match side.facing {
                        crate::vehicle::side::words::Facing::Right => {
                            Rect::new(from, -half - gap - bar, from + w, -half - gap)
                        }
                        _ => Rect::new(from, half + gap, from + w, half + gap + bar),
                    }
                }
                SideKind::Other => return None,
            };
            let corners = [
                Point::new(rect.x0, rect.y0),
                Point::new(rect.x1, rect.y0),
                Point::new(rect.x1, rect.y1),
                Point::new(rect.x0, rect.y1),
            ];
            Some(PlanSide {
                id: *id,
                corners: corners.map(|p| [p.x, p.y]).to_vec(),
            })
        })
        .collect();
    VehiclePlan {
        length_mm: length,
        width_mm: width,
        measured: long.is_some() && ends.is_some(),
        body,
        sides,
    }
}
