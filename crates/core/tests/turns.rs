//! The order in which pieces go on, against a general graph library: every lap keeps its direction where that can be, and where
//! panels lap over each other in a round the library finds the same round.

use std::collections::BTreeSet;

use kurbo::Rect;
use petgraph::algo::{is_cyclic_directed, tarjan_scc};
use petgraph::graph::DiGraph;
use proptest::prelude::*;
use uuid::Uuid;
use windrift_core::floor::lay_down::turns::{Turn, Waits, before, sequence};

fn panel(n: usize, bounds: Rect) -> Waits {
    Waits {
        id: Uuid::from_u128(n as u128 + 1),
        called: format!("panel {}", n + 1),
        order: 0,
        panel: true,
        bounds,
    }
}

/// Where each piece stands in the order.
fn places(pieces: &[Waits], turns: &[Turn]) -> Vec<usize> {
    pieces
        .iter()
        .map(|p| turns.iter().position(|t| t.piece == p.id).unwrap())
        .collect()
}

/// Rows of panels like bricks, each lapping its neighbours by 25 mm, x towards the rear.
fn bricks(rows: usize, columns: usize, shift: f64) -> Vec<Waits> {
    (0..rows * columns)
        .map(|n| {
            let (row, column) = (n / columns, n % columns);
            let x0 = column as f64 * 1275.0 + shift * (row % 2) as f64;
            let y0 = row as f64 * 575.0;
            panel(n, Rect::new(x0, y0, x0 + 1300.0, y0 + 600.0))
        })
        .collect()
}

#[test]
fn laps_point_back_and_down_in_rows_like_bricks() {
    for shift in [0.0, 300.0, 637.5, 900.0] {
        let pieces = bricks(4, 6, shift);
        let places = places(&pieces, &sequence(&pieces));
        for (n, a) in pieces.iter().enumerate() {
            for (m, b) in pieces.iter().enumerate() {
                let lap = a.bounds.intersect(b.bounds);
                // Where only corners meet, either lap has one edge that points well and one that does not.
                let corner = lap.width() < 25.5 && lap.height() < 25.5;
                if n == m || lap.area() <= 0.0 || corner {
                    continue;
                }
                let (row, other) = (n / 6, m / 6);
                // What lies over the other was laid later: the forward one of a row, the upper one of two rows.
                let over = if row == other { n < m } else { row < other };
                assert_eq!(places[n] > places[m], over, "shift {shift}: {n} and {m}");
            }
        }
    }
}

/// Four panels round a middle, each lapping the next one's end: none can be first, and the sentence names all four.
#[test]
fn panels_that_lap_in_a_round_are_named() {
    let pieces = [
        panel(0, Rect::new(0.0, 0.0, 2000.0, 1000.0)),
        panel(1, Rect::new(1975.0, 0.0, 2975.0, 2000.0)),
        panel(2, Rect::new(975.0, 1975.0, 2975.0, 2975.0)),
        panel(3, Rect::new(0.0, 975.0, 1000.0, 2975.0)),
    ];
    let turns = sequence(&pieces);
    let graph = graph_of(&pieces);
    if is_cyclic_directed(&graph) {
        assert!(
            (1..=4).all(|n| turns[0].why.contains(&format!("panel {n}"))),
            "{}",
            turns[0].why
        );
    }
    assert_eq!(turns.len(), 4);
}

fn graph_of(pieces: &[Waits]) -> DiGraph<usize, ()> {
    let mut graph = DiGraph::new();
    let nodes: Vec<_> = (0..pieces.len()).map(|n| graph.add_node(n)).collect();
    for (n, a) in pieces.iter().enumerate() {
        for (m, b) in pieces.iter().enumerate() {
            if n != m && before(a, b) == Some(true) {
                graph.add_edge(nodes[n], nodes[m], ());
            }
        }
    }
    graph
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(3_000))]

    #[test]
    fn any_layout_has_an_order_and_only_a_round_breaks_it(
        boxes in prop::collection::vec((0.0..6000.0_f64, 0.0..2500.0_f64, 100.0..1500.0_f64, 100.0..1500.0_f64, 0..3_i32, prop::bool::weighted(0.8)), 0..26),
    ) {
        let pieces: Vec<Waits> = boxes
            .iter()
            .enumerate()
            .map(|(n, (x, y, w, h, order, is_panel))| Waits {
                order: *order / 2,
                panel: *is_panel,
                ..panel(n, Rect::new(*x, *y, x + w, y + h))
            })
            .collect();
        let turns = sequence(&pieces);
        let distinct: BTreeSet<Uuid> = turns.iter().map(|t| t.piece).collect();
        prop_assert_eq!(distinct.len(), pieces.len());
        let places = places(&pieces, &turns);
        let graph = graph_of(&pieces);
        let mut component = vec![0; pieces.len()];
        for (k, members) in tarjan_scc(&graph).into_iter().enumerate() {
            for node in members {
                component[graph[node]] = k;
            }
        }
        for (n, a) in pieces.iter().enumerate() {
            for (m, b) in pieces.iter().enumerate() {
                if n == m { continue; }
                if a.order < b.order {
                    prop_assert!(places[n] < places[m]);
                }
                // Asked the other way round it is the other answer.
                prop_assert_eq!(before(a, b).map(|first| !first), before(b, a));
                if before(a, b) == Some(true) && component[n] != component[m] {
                    prop_assert!(places[n] < places[m], "{} and {}", n, m);
                }
            }
        }
        let rounds = turns.iter().filter(|t| t.why.contains("in a round")).count();
        prop_assert_eq!(rounds > 0, is_cyclic_directed(&graph));
    }
}
