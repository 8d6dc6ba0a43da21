//! The two strips at an upper corner: one level, one upright, as near the top and the edge as they can be.

use super::face::{CLEAR_MM, MarkSide, Obstacle, keep_off};
use super::rules::Rules;
use super::strip::{Element, Rect, Stock, Strip};

/// Obstacles farther from the corner than this do not matter, mm: both strips lie well within.
const REACH_MM: f64 = 1500.0;

/// A corner's strips, and how far each is below the top and in from the edge, mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Corner {
    /// The level strip, then the upright one.
    pub strips: [Strip; 2],
    /// Below the top and in from the edge.
    pub level: [f64; 2],
    /// The same for the upright one.
    pub upright: [f64; 2],
}

/// A place for a strip: below the top, in from the edge.
type Place = [f64; 2];
/// What stands in the way as seen from the corner: from and to below the top, from and to in from the edge.
type Seen = ((f64, f64), (f64, f64));

/// The best corner: least distance below the top and in from the edge, both strips together; then least below the top. Every best
/// place touches the top or what is above it, and the edge or what is beyond it, so that no other places need be tried.
pub fn corner(
    side: &MarkSide,
    taken: &[Obstacle],
    rules: &Rules,
    stock: &Stock,
    length_mm: f64,
    element: Element,
) -> Option<Corner> {
    let zero = element == Element::UpperZero;
    // Seen from the corner: down from the top and in from the edge.
    let seen = |r: Rect, off: f64| -> Seen {
        let r = r.grown(off);
        let across = if zero {
            (r.back_mm.0 - side.ends_mm.0, r.back_mm.1 - side.ends_mm.0)
        } else {
            (side.ends_mm.1 - r.back_mm.1, side.ends_mm.1 - r.back_mm.0)
        };
        let down = (
            side.height_mm.1 - r.height_mm.1,
            side.height_mm.1 - r.height_mm.0,
        );
        (down, across)
    };
    let (deep, wide) = (
        side.height_mm.1 - side.height_mm.0,
        // Each pair stays in its own half.
        side.length_mm() / 2.0,
    );
    let things: Vec<Seen> = side
        .obstacles
        .iter()
        .map(|o| seen(o.rect(), keep_off(o, rules, side.face)))
        .chain(taken.iter().map(|o| seen(o.rect(), CLEAR_MM)))
        .filter(|(down, across)| down.0 < REACH_MM && across.0 < REACH_MM)
        .collect();
    let mut downs: Vec<f64> = things
        .iter()
        .map(|(d, _)| d.1)
        .filter(|d| *d > 0.0)
        .collect();
    let mut ins: Vec<f64> = things
        .iter()
        .map(|(_, a)| a.1)
        .filter(|a| *a > 0.0)
        .collect();
    downs.push(0.0);
    ins.push(0.0);
    let clear = |at: Place, size: [f64; 2], more: &[Seen]| {
        at[0] + size[0] <= deep + 1e-6
            && at[1] + size[1] <= wide + 1e-6
            && things.iter().chain(more).all(|(down, across)| {
                down.0 >= at[0] + size[0] - 1e-6
                    || down.1 <= at[0] + 1e-6
                    || across.0 >= at[1] + size[1] - 1e-6
                    || across.1 <= at[1] + 1e-6
            })
    };
    let level = [stock.width_mm.mm(), length_mm];
    let upright = [length_mm, stock.width_mm.mm()];
    let sorted = |size: [f64; 2]| {
        let mut places: Vec<Place> = downs
            .iter()
            .flat_map(|d| ins.iter().map(move |i| [*d, *i]))
            .filter(|at| clear(*at, size, &[]))
            .collect();
        places.sort_by(|a, b| {
            (a[0] + a[1])
                .total_cmp(&(b[0] + b[1]))
                .then(a[0].total_cmp(&b[0]))
        });
        places
    };
    // One strip at its best place, the other as near as that leaves; and the other way about. Where one of the two is at a place that
    // only the other makes worth while, it touches that other: those places are added.
    let mut best: Option<(f64, Place, Place)> = None;
    let cost = |a: Place, b: Place| a[0] + a[1] + b[0] + b[1];
    let mut pair = |first: &[Place], one: [f64; 2], other: [f64; 2], swap: bool| {
        for a in first {
            if best.as_ref().is_some_and(|(c, ..)| a[0] + a[1] >= *c) {
                break;
            }
            let here = ((a[0], a[0] + one[0]), (a[1], a[1] + one[1]));
            let mut with_downs = downs.clone();
            let mut with_ins = ins.clone();
            with_downs.push(here.0.1);
            with_ins.push(here.1.1);
            for d in &with_downs {
                for i in &with_ins {
                    let b = [*d, *i];
                    let c = cost(*a, b);
                    let (l, u) = if swap { (b, *a) } else { (*a, b) };
                    let wins = best.as_ref().is_none_or(|(k, bl, _)| {
                        c < k - 1e-6 || (c < k + 1e-6 && l[0] < bl[0] - 1e-6)
                    });
                    if wins && clear(b, other, &[here]) {
                        best = Some((c, l, u));
                    }
                }
            }
        }
    };
    pair(&sorted(level), level, upright, false);
    pair(&sorted(upright), upright, level, true);
    let (_, l, u) = best?;
    let strip = |at: Place, size: [f64; 2], is_upright: bool| Strip {
        start_mm: if zero {
            (side.ends_mm.0 + at[1]).into()
        } else {
            (side.ends_mm.1 - at[1] - size[1]).into()
        },
        centre_mm: (side.height_mm.1 - at[0] - size[0] / 2.0).into(),
        width_mm: stock.width_mm,
        runs: super::colours::from_roll(&stock.pattern, 0.0, length_mm),
        upright: is_upright,
        split_mm: None,
        reflectors: None,
        element,
    };
    Some(Corner {
        strips: [strip(l, level, false), strip(u, upright, true)],
        level: l,
        upright: u,
    })
}
