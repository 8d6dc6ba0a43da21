//! In which order the pieces of a side go on.
//!
//! What must come before what is a graph: a panel before the one that laps over it. The order is the graph's, never a comparison of
//! two panels taken alone, which in brick-like rows runs in circles.

use kurbo::Rect;
use serde::Serialize;
use uuid::Uuid;

use crate::art::Art;
use crate::plan::planned::PlannedPiece;

/// Panels whose boxes come nearer than this lap over each other or butt, mm (ours).
const NEIGHBOURS_MM: f64 = 30.0;

/// In which order the pieces of a side go on, and why.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Turn {
    /// The piece.
    pub piece: Uuid,
    /// Its turn, from 1.
    pub turn: u32,
    /// Why it has this turn.
    pub why: String,
}

/// What decides a piece's turn.
#[derive(Debug, Clone)]
pub struct Waits {
    /// The piece.
    pub id: Uuid,
    /// What it is called.
    pub called: String,
    /// Its order for the fitter: what lies under has the lower number.
    pub order: i32,
    /// Whether it is a panel, which laps over its neighbours.
    pub panel: bool,
    /// The box round its film, x towards the rear and y down, mm.
    pub bounds: Rect,
}

/// The turns of a side's pieces: what lies under goes first; panels like shingles, from the rear forward and from the foot up; of the
/// rest the biggest first (common practice, no source).
pub fn turns(pieces: &[PlannedPiece], direction: f64) -> Vec<Turn> {
    let waits: Vec<Waits> = pieces
        .iter()
        .map(|p| {
            let b = p.placed.to_picture.transform_rect_bbox(p.drawn.bounds);
            Waits {
                id: p.id,
                called: p.piece.called(),
                order: p.piece.order,
                panel: matches!(p.piece.art, Art::Panel(_)),
                bounds: Rect::new(b.x0 * direction, b.y0, b.x1 * direction, b.y1).abs(),
            }
        })
        .collect();
    sequence(&waits)
}

/// Whether panel `a` goes on before its neighbour `b`; `None` where they do not meet. Panels that stand over each other go from the
/// foot up, panels beside each other from the rear forward, so that laps point down and backwards.
pub fn before(a: &Waits, b: &Waits) -> Option<bool> {
    let (p, q) = (a.bounds, b.bounds);
    let across = p.x1.min(q.x1) - p.x0.max(q.x0);
    let down = p.y1.min(q.y1) - p.y0.max(q.y0);
    if !a.panel || !b.panel || a.order != b.order || across.min(down) < -NEIGHBOURS_MM {
        return None;
    }
    let share = |overlap: f64, one: f64, other: f64| overlap / one.min(other).max(1e-9);
    let over = share(across, p.width(), q.width()) >= share(down, p.height(), q.height());
    let (c, d) = (p.center(), q.center());
    let (first, second) = if over {
        (c.y - d.y, c.x - d.x)
    } else {
        (c.x - d.x, c.y - d.y)
    };
    Some(
        first
            .total_cmp(&0.0)
            .then(second.total_cmp(&0.0))
            .then(b.id.cmp(&a.id))
            .is_gt(),
    )
}

/// The turns of pieces. Of those that wait for nothing the first by order, panels before the rest, panels from the rear and the foot,
/// others by size. Where panels lap over each other in a round there is no first: the sentence names them.
///
/// ```
/// use kurbo::Rect;
/// use uuid::Uuid;
/// use windrift_core::floor::lay_down::turns::{Waits, sequence};
/// let panel = |n: u128, x0: f64| Waits {
///     id: Uuid::from_u128(n), called: format!("panel {n}"), order: 0, panel: true,
///     bounds: Rect::new(x0, 0.0, x0 + 1300.0, 2000.0),
/// };
/// // The rear panel first: the one before it laps over it, and the lap points backwards.
/// let turns = sequence(&[panel(1, 0.0), panel(2, 1275.0)]);
/// assert_eq!(turns[0].piece, Uuid::from_u128(2));
/// ```
pub fn sequence(pieces: &[Waits]) -> Vec<Turn> {
    let mut after: Vec<Vec<usize>> = vec![Vec::new(); pieces.len()];
    let mut waits_for = vec![0_u32; pieces.len()];
    for (n, a) in pieces.iter().enumerate() {
        for (m, b) in pieces.iter().enumerate().skip(n + 1) {
            if let Some(first) = before(a, b) {
                let (first, then) = if first { (n, m) } else { (m, n) };
                after[first].push(then);
                waits_for[then] += 1;
            }
        }
    }
    let size = |p: &Waits| {
        if p.panel {
            p.bounds.x1
        } else {
            p.bounds.area()
        }
    };
    let rank = |n: &usize, m: &usize| {
        let (a, b) = (&pieces[*n], &pieces[*m]);
        (a.order.cmp(&b.order))
            .then(b.panel.cmp(&a.panel))
            .then(size(b).total_cmp(&size(a)))
            .then(b.bounds.y1.total_cmp(&a.bounds.y1))
            .then(a.id.cmp(&b.id))
    };
    let mut left: Vec<usize> = (0..pieces.len()).collect();
    left.sort_by(rank);
    let mut turns = Vec::with_capacity(pieces.len());
    while let Some(first) = left.first().copied() {
        // What has a higher order waits for all of the lower one.
        let order = pieces[first].order;
        let free = left
            .iter()
            .position(|n| pieces[*n].order == order && waits_for[*n] == 0);
        let (at, round) = match free {
            Some(at) => (at, None),
            None => {
                let alike: Vec<usize> = (left.iter().copied())
                    .filter(|n| pieces[*n].order == order)
                    .collect();
                let round = a_round(&alike, &after);
                let start = round.iter().copied().min_by(rank).unwrap_or(first);
                let at = left.iter().position(|n| *n == start).unwrap_or_default();
                (at, Some(round))
            }
        };
        let n = left.remove(at);
        for then in &after[n] {
            waits_for[*then] = waits_for[*then].saturating_sub(1);
        }
        waits_for[n] = 0;
        turns.push(Turn {
            piece: pieces[n].id,
            turn: turns.len() as u32 + 1,
            why: match round {
                Some(round) => in_a_round(pieces, &round),
                None => why(&pieces[n]),
            },
        });
    }
    turns
}

fn why(piece: &Waits) -> String {
    if piece.panel {
        "Panels from the rear forward and from the foot up, so that the laps point backwards and down.".into()
    } else if piece.order != 0 {
        "What lies under goes on first.".into()
    } else {
        "The biggest first, then what is keyed to it.".into()
    }
}

fn in_a_round(pieces: &[Waits], round: &[usize]) -> String {
    let names: Vec<String> = round
        .iter()
        .map(|n| format!("\u{201c}{}\u{201d}", pieces[*n].called))
        .collect();
    format!(
        "{} lap over each other in a round, so that none can be first. Begin here and leave its last lap open to be tucked under, or join them elsewhere.",
        names.join(", ")
    )
}

/// Pieces that wait for each other in a round and for nobody else, among those that are left: where all wait there are such.
fn a_round(left: &[usize], after: &[Vec<usize>]) -> Vec<usize> {
    let waited_for = |from: usize| {
        let mut known = vec![];
        let mut next = vec![from];
        while let Some(at) = next.pop() {
            let before = left.iter().copied().filter(|n| after[*n].contains(&at));
            for n in before {
                if !known.contains(&n) {
                    known.push(n);
                    next.push(n);
                }
            }
        }
        known
    };
    // Whoever waits for the fewest waits in a round that nothing comes before.
    left.iter()
        .map(|n| waited_for(*n))
        .min_by_key(Vec::len)
        .unwrap_or_default()
}
