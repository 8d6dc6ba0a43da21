//! A placed stripe, cut out round what stays on the body and parted at door gaps.

use kurbo::Point;

use crate::art::drawn::{Drawn, Part};
use crate::art::stripe::{Stripe, StripeError, long_edges};
use crate::ground::outline::{Corners, Shape, cut_out, grow, overlap};
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::MeasuredSide;

/// Pieces of stripe smaller than this are left off, mm².
const SCRAP_MM2: f64 = 100.0;

/// What is left of a stripe beside a cut-out and thinner than this goes with the cut-out, mm: it cannot be weeded or laid.
const SLIVER_MM: f64 = 3.0;

/// Cut-outs are larger than the clearance by this, mm: rounding must not leave film too near.
const ROUNDING_MM: f64 = 0.02;

/// Cuts a placed stripe out round what stays on the body and parts it at door gaps.
///
/// Errors: nothing is left.
pub fn cut_to_side(
    stripe: &Stripe,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
) -> Result<Drawn, StripeError> {
    let to_piece = placed.to_picture.inverse();
    let mut away: Vec<Shape> = Vec::new();
    for area in side.hardware().filter(|h| h.comes_off == ComesOff::Stays) {
        let clear = stripe.clearance_mm.max(area.clearance_mm) + ROUNDING_MM;
        let outline = area.outline.transformed(to_piece);
        if !outline.bounds.inflate(clear, clear).overlaps(drawn.bounds) {
            continue;
        }
        let grown = if clear > 0.0 {
            grow(
                &crate::ground::outline::weld(&outline.contours),
                clear,
                Corners::Round,
            )
        } else {
            vec![outline]
        };
        away.extend(grown);
    }
    if stripe.parted {
        for line in side.lines.iter().filter(|l| l.kind == FeatureKind::DoorGap) {
            for pair in line.points.windows(2) {
                if let [a, b] = pair {
                    let (a, b) = (to_piece * *a, to_piece * *b);
                    // A gap along the stripe does not part it.
                    if (b.y - a.y).abs() > (b.x - a.x).abs() {
                        away.push(round_line(a, b, stripe.margin_mm.max(0.5)));
                    }
                }
            }
        }
    }
    if away.is_empty() {
        return Ok(drawn.clone());
    }
    let whole: Vec<Shape> = drawn.film().cloned().collect();
    if !whole
        .iter()
        .any(|s| away.iter().any(|a| a.bounds.overlaps(s.bounds)))
    {
        return Ok(drawn.clone());
    }
    let mut parts = Vec::new();
    let mut straight = Vec::new();
    for part in &drawn.parts {
        let mut left = without_slivers(cut_out(&part.shapes, &away));
        left.retain(|s| s.area() > SCRAP_MM2);
        left.sort_by(|a, b| a.bounds.x0.total_cmp(&b.bounds.x0));
        let several = left.len() > 1;
        for (n, shape) in (1..).zip(left) {
            let label = if several {
                format!("{}, part {n}", part.label)
            } else {
                part.label.clone()
            };
            straight.extend(long_edges(&shape).map(|e| (parts.len(), e)));
            parts.push(Part::new(label, vec![shape]));
        }
    }
    if parts.is_empty() {
        return Err(StripeError::NothingLeft);
    }
    let mut cut = Drawn::plain(
        parts,
        straight,
        drawn.capital_height_mm,
        drawn.baseline_mm,
        &stripe.colour,
    );
    // Its place was found with its whole length: the frame stays.
    cut.point = drawn.point;
    cut.line = drawn.line;
    cut.nominal = drawn.nominal;
    // A corner that was cut away is no place to read to.
    let is_there = |p: &Point| cut.film().any(|s| s.distance_to_edge(*p) < 0.5);
    cut.upper_corners = drawn.upper_corners.filter(|both| both.iter().all(is_there));
    Ok(cut)
}

/// Film without what is thinner than [`SLIVER_MM`]: shrunk by half of it and grown again, within what was there.
fn without_slivers(film: Vec<Shape>) -> Vec<Shape> {
    let opened = grow(
        &grow(&film, -SLIVER_MM / 2.0, Corners::Sharp),
        SLIVER_MM / 2.0,
        Corners::Sharp,
    );
    overlap(&film, &opened)
}

fn round_line(a: Point, b: Point, margin: f64) -> Shape {
    let along = (b - a) / a.distance(b).max(1e-9);
    let beside = kurbo::Vec2::new(-along.y, along.x) * margin;
    Shape::new(vec![vec![a + beside, b + beside, b - beside, a - beside]])
}
