//! How far a hand may be off at a spot before something there gets worse.
//!
//! The hand errs by itself along and at each of the two flats. A point of the piece that lies at `u` between the flats (0 at the first, 1
//! at the second, beyond them outside) then moves by at most `t (|1 - u| + |u|)` down; along it moves by `t`, and by what the turn of at
//! most `2 t` over their distance makes at its height. Whatever stands farther off than the diagonal of that box cannot be met: the figure
//! is a bound that holds for every such error, not a sample of some.

use kurbo::{Affine, Point};

use super::count::must_clear;
use crate::art::drawn::Drawn;
use crate::ground::outline::Shape;
use crate::place::flats;
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::ComesOff;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::Ends;

/// More than this is enough, mm.
pub(super) const ENOUGH_MM: f64 = 25.4;

/// The largest error, along and at each flat by itself, at which no head comes under a cut edge that is free of it now, nothing that film
/// keeps off comes nearer than it may, and no film leaves the body, mm; at most an inch. `right` and `down` are the spot's move.
pub fn spare_mm(pieces: &[(&Drawn, &Placed)], side: &MeasuredSide, right: f64, down: f64) -> f64 {
    let mut least = ENOUGH_MM;
    for (drawn, placed) in pieces {
        let datum = placed.datum;
        let by = datum.back * (right * side.side.direction()) + datum.down * down;
        let to_picture = Affine::translate(by) * placed.to_picture;
        let to_piece = to_picture.inverse();
        let read = flats::find(
            drawn,
            placed,
            &datum,
            Ends(["", ""]),
            crate::ground::tape::Unit::Millimetre,
        );
        let (first, second) = (read.front.back_mm, read.rear.back_mm);
        let apart = (second - first).abs().max(1.0);
        let moved = right * side.side.direction();
        // How far film beside a place moves for every mm that the hand errs; `clear` is how far from the place that film is.
        let reach_of = |at: Point, clear: f64| {
            let (back, drop) = datum.read(at);
            let u = (back - moved - first) / apart;
            let swing = (1.0 - u).abs() + u.abs() + 2.0 * clear / apart;
            let height = (drop - down - read.front.down_mm).abs() + clear;
            swing.hypot(1.0 + 2.0 * height / apart)
        };
        for point in &placed.hull {
            let at = *point + by;
            if side.outline.contains(at) {
                let edge = side.outline.distance_to_edge(at);
                least = least.min(edge / reach_of(at, 0.0));
            }
        }
        let near = drawn.bounds.inflate(3.0 * ENOUGH_MM, 3.0 * ENOUGH_MM);
        let heads = side
            .columns
            .iter()
            .filter(|_| drawn.stays_clear_mm.is_none());
        for column in heads {
            for head in &column.heads {
                let own = to_piece * *head;
                if !near.contains(own) {
                    continue;
                }
                let edge = drawn
                    .film()
                    .map(|s| s.distance_to_edge(own))
                    .fold(f64::INFINITY, f64::min);
                let clear = edge - column.head_mm / 2.0;
                // A cut edge lies on it already: it gets no worse.
                if clear > 0.0 {
                    least = least.min(clear / reach_of(*head, edge));
                }
            }
        }
        // What must stay clear in a print is kept clear of lines as well: letters only cross them.
        let lines = side.lines.iter().filter(|_| drawn.stays_clear_mm.is_some());
        for (a, b) in lines.flat_map(|l| l.points.iter().zip(l.points.iter().skip(1))) {
            let line = Shape::new(vec![vec![
                to_piece * *a,
                to_piece * *b,
                to_piece * a.midpoint(*b),
            ]]);
            let reach = ENOUGH_MM * 3.0;
            let clear = drawn.film().fold(reach, |d, s| s.distance_to(&line, d));
            if clear > 0.0 && clear < reach {
                // The farther of the line's places beside the film moves most.
                let ends = [*a, *b].map(|p| near_film(p, *a, *b, &placed.hull, by));
                let most = ends.map(|p| reach_of(p, clear));
                least = least.min(clear / most.into_iter().fold(1.0, f64::max));
            }
        }
        for area in side.hardware().filter(|a| a.comes_off == ComesOff::Stays) {
            let outline = area.outline.transformed(to_piece);
            let clearance = area.clearance_mm.max(drawn.stays_clear_mm.unwrap_or(0.0));
            let reach = ENOUGH_MM * 3.0 + clearance;
            if !outline.bounds.inflate(reach, reach).overlaps(drawn.bounds) {
                continue;
            }
            let distance = drawn.film().fold(reach, |d, s| s.distance_to(&outline, d));
            let clear = distance - clearance;
            // What is cut out round it keeps off by just as much as it may: there is nothing to spare.
            if clear <= 0.0 && !must_clear(drawn, area.kind) {
                least = 0.0;
            }
            if clear > 0.0 {
                let r = area.outline.bounds;
                let corners = [(r.x0, r.y0), (r.x1, r.y0), (r.x0, r.y1), (r.x1, r.y1)];
                let most = corners.map(|c| reach_of(Point::from(c), distance));
                least = least.min(clear / most.into_iter().fold(1.0, f64::max));
            }
        }
    }
    least.max(0.0)
}

/// The end of a line drawn in to where film lies beside it: what is far off along it is met by nothing.
fn near_film(end: Point, a: Point, b: Point, hull: &[Point], by: kurbo::Vec2) -> Point {
    let along = b - a;
    let share = |p: Point| ((p - a).dot(along) / along.hypot2().max(1e-9)).clamp(0.0, 1.0);
    let reach = 3.0 * ENOUGH_MM / along.hypot().max(1e-9);
    let (low, high) = hull
        .iter()
        .map(|p| share(*p + by))
        .fold((1.0_f64, 0.0_f64), |(low, high), s| {
            (low.min(s), high.max(s))
        });
    a + along * share(end).clamp((low - reach).max(0.0), (high + reach).min(1.0))
}
