//! Air under a sheet against a general graph library (petgraph) on random sheets and orders; the generated order of strokes by
//! property: it shuts in nothing that had a way out, presses everything, and keeps the rules of order.

use std::collections::{BTreeMap, BTreeSet};

use kurbo::{Point, Rect};
use petgraph::algo::connected_components;
use petgraph::graph::{NodeIndex, UnGraph};
use proptest::prelude::*;
use windrift_core::floor::air::{
    Cell, Moment, NEVER, Sheet, ShutIn, Swath, TOLD_MM, press, prove, share_pressed,
};
use windrift_core::floor::strokes::order::{order, run_as_told};
use windrift_core::floor::strokes::{CreaseLine, Start, StrokeKind, Ways};
use windrift_core::ground::outline::Shape;

/// A rectangle of film with blocked and cut-out rectangles and walls, its rim open except on the given sides.
#[derive(Debug, Clone)]
struct Case {
    width: f64,
    height: f64,
    things: Vec<(Rect, bool)>,
    walls: Vec<(Point, Point)>,
    /// Top, foot, left, right.
    closed: [bool; 4],
}

impl Case {
    fn sheet(&self, cell_mm: f64, shift: f64) -> Sheet {
        let bounds = Rect::new(0.0, 0.0, self.width, self.height);
        let mut sheet = Sheet::over(bounds, cell_mm, shift);
        sheet.fill(&Shape::rectangle(bounds), Cell::Film);
        for (thing, blocked) in &self.things {
            sheet.fill(
                &Shape::rectangle(*thing),
                if *blocked {
                    Cell::Blocked
                } else {
                    Cell::Outside
                },
            );
        }
        for (a, b) in &self.walls {
            sheet.wall(&[*a, *b]);
        }
        let near = cell_mm * 1.01;
        let [top, foot, left, right] = self.closed;
        sheet.open_rim(|p| {
            (top && p.y <= near)
                || (foot && p.y >= self.height - near)
                || (left && p.x <= near)
                || (right && p.x >= self.width - near)
        });
        sheet
    }
}

fn cases() -> impl Strategy<Value = Case> {
    (150.0..900.0_f64, 100.0..600.0_f64).prop_flat_map(|(width, height)| {
        let thing = (
            0.0..0.9_f64,
            0.0..0.9_f64,
            20.0..150.0_f64,
            20.0..150.0_f64,
            any::<bool>(),
        )
            .prop_map(move |(x, y, w, h, b)| {
                (
                    Rect::new(x * width, y * height, x * width + w, y * height + h),
                    b,
                )
            });
        let point = (-0.2..1.2_f64, -0.2..1.2_f64)
            .prop_map(move |(x, y)| Point::new(x * width, y * height));
        let closed = prop_oneof![
            Just([true, false, false, false]),
            Just([false, false, true, false]),
            Just([false; 4]),
            Just([true, false, true, true]),
        ];
        (
            proptest::collection::vec(thing, 0..5),
            proptest::collection::vec((point.clone(), point), 0..4),
            closed,
        )
            .prop_map(move |(things, walls, closed)| Case {
                width,
                height,
                things,
                walls,
                closed,
            })
    })
}

/// Open regions and whether they have a way out, by petgraph.
fn regions(sheet: &Sheet, open: impl Fn(usize) -> bool) -> Vec<(BTreeSet<usize>, bool)> {
    let mut graph: UnGraph<usize, ()> = UnGraph::default();
    let nodes: BTreeMap<usize, NodeIndex> = (0..sheet.len())
        .filter(|k| sheet.film(*k) && open(*k))
        .map(|k| (k, graph.add_node(k)))
        .collect();
    for (key, node) in &nodes {
        for (dx, dy) in [(1, 0), (0, 1)] {
            if let Some(other) = sheet.beside(*key, dx, dy).and_then(|k| nodes.get(&k))
                && !sheet.walled(*key, dx, dy)
            {
                graph.add_edge(*node, *other, ());
            }
        }
    }
    let count = connected_components(&graph);
    let mut sets = petgraph::unionfind::UnionFind::<usize>::new(graph.node_count());
    for edge in graph.edge_indices() {
        let (a, b) = graph.edge_endpoints(edge).unwrap();
        sets.union(a.index(), b.index());
    }
    let mut by_root: BTreeMap<usize, (BTreeSet<usize>, bool)> = BTreeMap::new();
    for (key, node) in &nodes {
        let region = by_root.entry(sets.find(node.index())).or_default();
        region.0.insert(*key);
        region.1 |= sheet.exit(*key);
    }
    assert_eq!(by_root.len(), count);
    by_root.into_values().collect()
}

/// What is shut in, by looking at every moment from the first to the last.
fn forward(sheet: &Sheet, pressed: &[Moment]) -> Vec<(u32, usize)> {
    let mut moments: Vec<Moment> = pressed
        .iter()
        .enumerate()
        .filter(|(k, m)| sheet.film(*k) && **m != NEVER)
        .map(|(_, m)| *m)
        .collect();
    moments.sort_unstable();
    moments.dedup();
    let mut lost: BTreeSet<usize> = BTreeSet::new();
    let mut found = Vec::new();
    for now in std::iter::once((0, 0)).chain(moments) {
        for (cells, out) in regions(sheet, |k| pressed[k] > now) {
            if !out && cells.iter().all(|k| !lost.contains(k)) {
                found.push((now.0, cells.len()));
            }
            if !out {
                lost.extend(cells);
            }
        }
    }
    found.sort_unstable();
    found
}

fn told(found: &[ShutIn], cell_mm: f64) -> Vec<(u32, usize)> {
    let mut told: Vec<(u32, usize)> = found
        .iter()
        .map(|r| (r.stroke, (r.area_mm2 / cell_mm / cell_mm).round() as usize))
        .collect();
    told.sort_unstable();
    told
}

fn ways(start: Start) -> Ways {
    Ways {
        start,
        squeegee_mm: 100.0,
        overlap_mm: 25.0,
        reach_mm: 400.0,
        stage_mm: None,
    }
}

fn starts(case: &Case) -> [Start; 5] {
    [
        Start::Top,
        Start::Left,
        Start::Right,
        Start::Height {
            y_mm: case.height / 2.0,
        },
        Start::Place {
            x_mm: case.width / 2.0,
        },
    ]
}

/// A clock that steps one cell at a time, for comparing sets of cells only.
fn flat_cells(sheet: &Sheet) -> Vec<(BTreeSet<usize>, bool)> {
    regions(sheet, |_| true)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn what_is_shut_in_is_what_a_graph_library_finds_moment_by_moment(
        case in cases(),
        swaths in proptest::collection::vec(
            ((-50.0..950.0_f64, -50.0..650.0_f64), (-50.0..950.0_f64, -50.0..650.0_f64), 20.0..150.0_f64), 1..9),
    ) {
        let sheet = case.sheet(20.0, 0.0);
        let swaths: Vec<Swath> = swaths
            .into_iter()
            .map(|(a, b, width_mm)| Swath { path: vec![[a.0, a.1], [b.0, b.1]], width_mm })
            .collect();
        let pressed = press(&sheet, &swaths);
        prop_assert_eq!(told(&prove(&sheet, &pressed), 20.0), forward(&sheet, &pressed));
    }

    #[test]
    fn the_generated_order_shuts_in_only_what_never_had_a_way_out(case in cases(), which in 0_usize..5) {
        let sheet = case.sheet(10.0, 0.0);
        let made = order(&sheet, &vec![0; sheet.len()], &[], &ways(starts(&case)[which]));
        let none: usize = flat_cells(&sheet).iter().filter(|(_, out)| !out).map(|(c, _)| c.len()).sum();
        let lost: f64 = made.shut_in.iter().map(|r| r.area_mm2 / 100.0).sum();
        prop_assert!(made.shut_in.iter().all(|r| r.stroke == 0), "{:?}", made.shut_in);
        prop_assert_eq!(lost.round() as usize, none);
        // The library agrees, moment by moment.
        prop_assert!(forward(&sheet, &made.pressed).iter().all(|(stroke, _)| *stroke == 0));
        // Everything is pressed, by strokes that are numbered without gaps.
        let film = (0..sheet.len()).filter(|k| sheet.film(*k));
        for key in film {
            prop_assert!(made.pressed[key] != NEVER);
        }
        prop_assert!(made.strokes.iter().map(|s| s.number).eq(1..=made.strokes.len() as u32));
        prop_assert!(made.strokes.is_empty() || share_pressed(&sheet, &made.pressed) == 1.0);
    }

    /// What the crew is told is strokes: run as they are told, as swaths of the squeegee, they shut in nothing either that is worth
    /// telling: as wide as they are shown, but for those that are told to stay within their band.
    #[test]
    fn the_strokes_as_they_are_told_shut_in_nothing_that_had_a_way_out(case in cases(), which in 0_usize..5) {
        let sheet = case.sheet(10.0, 0.0);
        let made = order(&sheet, &vec![0; sheet.len()], &[], &ways(starts(&case)[which]));
        let pressed = run_as_told(&sheet, &made.pressed, &made.strokes);
        let told: Vec<ShutIn> = prove(&sheet, &pressed)
            .into_iter()
            .filter(|r| r.stroke > 0 && r.across_mm() > TOLD_MM)
            .collect();
        prop_assert!(told.is_empty(), "{told:?}");
    }

    /// Regions over 25 mm across are found at 5, 10 and 20 mm and at half-cell shifts. Things stand on a raster of 40 mm, so that
    /// every resolution sees the same sheet.
    #[test]
    fn cells_of_5_10_and_20_mm_and_half_shifts_find_the_same(
        columns in 4_usize..12, rows in 4_usize..10,
        blocks in proptest::collection::btree_set((0_usize..12, 0_usize..10), 0..14),
        bands in proptest::collection::vec((0_usize..10, 0_usize..12, 2_usize..12), 0..5),
    ) {
        // The sheet must be the same to every cell. The round ends of two strokes of one row that touch or lap leave a cusp between them, thinner
        // than any cell; those of two rows beside each other that end no more than a place apart leave a neck of 16.6 mm or none, thinner than the
        // largest.
        let touch = |n: usize, m: usize| {
            let ((r, f, l), (row, from, long)) = (bands[n], bands[m]);
            let apart = f.max(from) as i64 - (f + l).min(from + long) as i64;
            n != m && (r == row && apart <= 1 || r.abs_diff(row) == 1 && (0..=1).contains(&apart))
        };
        let touch = |n: &usize| (0..bands.len()).any(|m| touch(*n, m));
        prop_assume!(!(0..bands.len()).any(|n| touch(&n)));
        let raster = 40.0;
        let case = Case {
            width: columns as f64 * raster,
            height: rows as f64 * raster,
            things: blocks
                .iter()
                .map(|(c, r)| {
                    let (x, y) = (*c as f64 * raster, *r as f64 * raster);
                    (Rect::new(x, y, x + raster, y + raster), true)
                })
                .collect(),
            walls: Vec::new(),
            closed: [true, false, false, false],
        };
        // Strokes along the raster, their ends well within a raster cell and their width one raster row.
        let swaths: Vec<Swath> = bands
            .iter()
            .map(|(row, from, long)| {
                let y = (*row as f64 + 0.5) * raster;
                let x = *from as f64 * raster;
                Swath { path: vec![[x, y], [x + *long as f64 * raster, y]], width_mm: raster }
            })
            .collect();
        let find = |cell: f64, shift: f64| {
            let sheet = case.sheet(cell, shift);
            let pressed = press(&sheet, &swaths);
            let found = prove(&sheet, &pressed);
            found.into_iter().filter(|r| r.across_mm() > 25.0).map(|r| (r.stroke, r)).collect::<Vec<_>>()
        };
        let found = find(10.0, 0.0);
        for (cell, shift) in [(5.0, 0.0), (20.0, 0.0), (5.0, 0.5), (10.0, 0.5)] {
            let other = find(cell, shift);
            let strokes = |f: &[(u32, ShutIn)]| f.iter().map(|(s, _)| *s).collect::<Vec<_>>();
            prop_assert_eq!(strokes(&other), strokes(&found), "cells of {} mm shifted by {}", cell, shift);
            for ((_, a), (_, b)) in found.iter().zip(&other) {
                for (x, y) in a.bounds.iter().zip(&b.bounds) {
                    prop_assert!((x - y).abs() <= 20.0 + 1e-6, "{a:?} {b:?}");
                }
            }
        }
    }
}

fn plain(width: f64, height: f64) -> Case {
    Case {
        width,
        height,
        things: Vec::new(),
        walls: Vec::new(),
        closed: [true, false, false, false],
    }
}

/// Where nothing stands in the way no stroke is told to be careful.
#[test]
fn on_a_plain_sheet_the_blade_may_reach_past_its_band() {
    for start in starts(&plain(900.0, 600.0)) {
        let sheet = plain(900.0, 600.0).sheet(10.0, 0.0);
        let made = order(&sheet, &vec![0; sheet.len()], &[], &ways(start));
        assert!(made.strokes.iter().all(|s| !s.within_band), "{start:?}");
    }
}

/// Outward from the hinge, the middle first (common practice, no source).
#[test]
fn bands_go_outward_from_the_hinge_and_from_the_middle_to_the_ends() {
    let sheet = plain(2000.0, 400.0).sheet(10.0, 0.0);
    let made = order(&sheet, &vec![0; sheet.len()], &[], &ways(Start::Top));
    let mut last_y = 0.0;
    for stroke in &made.strokes {
        let (a, b) = (stroke.path[0], stroke.path[1]);
        assert!(
            (b[0] - 1000.0).abs() > (a[0] - 1000.0).abs(),
            "outward: {stroke:?}"
        );
        assert!(a[1] >= last_y - 1e-6, "from the hinge: {stroke:?}");
        last_y = a[1];
    }
    // The first two begin in the middle.
    assert!(
        made.strokes[..2]
            .iter()
            .all(|s| (s.path[0][0] - 1000.0).abs() < 1e-6)
    );
    assert!(made.shut_in.is_empty());
    // Neighbouring bands overlap by the stated 25 mm.
    let mut heights: Vec<f64> = made.strokes.iter().map(|s| s.path[0][1]).collect();
    heights.dedup_by(|a, b| (*a - *b).abs() < 1.0);
    for (pair, stroke) in heights
        .windows(2)
        .zip(&made.strokes)
        .take(heights.len() - 2)
    {
        assert!(
            stroke.width_mm - (pair[1] - pair[0]) >= 24.9,
            "{pair:?} {stroke:?}"
        );
    }
}

/// A flat is worked up to its crease, then the crease, then the next flat (common practice, no source).
#[test]
fn the_crease_is_set_after_the_flat_before_it_and_before_the_next() {
    let mut case = plain(1000.0, 600.0);
    case.walls = vec![(Point::new(0.0, 303.0), Point::new(1000.0, 303.0))];
    let sheet = case.sheet(10.0, 0.0);
    let crease = CreaseLine {
        points: vec![[-100.0, 303.0], [1100.0, 303.0]],
    };
    let made = order(&sheet, &vec![0; sheet.len()], &[crease], &ways(Start::Top));
    let at = made
        .strokes
        .iter()
        .position(|s| s.kind == StrokeKind::Crease)
        .unwrap();
    assert!(made.strokes[..at].iter().all(|s| s.path[0][1] < 303.0));
    assert!(made.strokes[at + 1..].iter().all(|s| s.path[0][1] > 303.0));
    assert!(at > 0 && at + 1 < made.strokes.len());
    assert!(made.shut_in.is_empty(), "{:?}", made.shut_in);
    let line = &made.strokes[at].path;
    assert!(
        line[0][0] <= 10.0 && line[line.len() - 1][0] >= 990.0,
        "from rim to rim: {line:?}"
    );
}

/// The deepest of a recess first, towards its open side; walled all round, air has no way out (common practice, no source).
#[test]
fn a_recess_goes_before_the_flat_round_it_and_an_enclosed_one_is_told() {
    let recess = Rect::new(400.0, 200.0, 600.0, 320.0);
    let corners = [
        (400.0, 320.0),
        (400.0, 200.0),
        (600.0, 200.0),
        (600.0, 320.0),
    ]
    .map(|(x, y)| Point::new(x, y));
    let mut case = plain(1000.0, 600.0);
    case.walls = corners.windows(2).map(|p| (p[0], p[1])).collect();
    let open = case.sheet(10.0, 0.0);
    let rank: Vec<u8> = (0..open.len())
        .map(|k| u8::from(recess.contains(open.middle(k))) * 12)
        .collect();
    let made = order(&open, &rank, &[], &ways(Start::Top));
    assert!(made.shut_in.is_empty(), "{:?}", made.shut_in);
    let last_in = made
        .strokes
        .iter()
        .rposition(|s| s.kind == StrokeKind::Recess)
        .unwrap();
    let beside: Vec<usize> = made
        .strokes
        .iter()
        .enumerate()
        .filter(|(_, s)| s.kind == StrokeKind::Flat && s.path[0][1] > 330.0)
        .map(|(n, _)| n)
        .collect();
    assert!(
        beside.iter().all(|n| *n > last_in),
        "the recess before the flat under it"
    );
    case.walls.push((corners[3], corners[0]));
    let shut = case.sheet(10.0, 0.0);
    let made = order(&shut, &rank, &[], &ways(Start::Top));
    assert_eq!(made.shut_in.len(), 1);
    assert_eq!(made.shut_in[0].stroke, 0);
    assert!((made.shut_in[0].area_mm2 - 200.0 * 120.0).abs() < 1.0);
    // Pricked where it is told to be, it has a way out.
    let mut pricked = shut.clone();
    pricked.let_out(Point::new(made.shut_in[0].at[0], made.shut_in[0].at[1]));
    assert!(
        order(&pricked, &rank, &[], &ways(Start::Top))
            .shut_in
            .is_empty()
    );
}

/// A ring that is pressed round a place shuts it in; the same strokes towards an open edge do not.
#[test]
fn a_ring_shuts_air_in_and_says_with_which_stroke() {
    let sheet = plain(600.0, 600.0).sheet(10.0, 0.0);
    let line = |a: [f64; 2], b: [f64; 2]| Swath {
        path: vec![a, b],
        width_mm: 60.0,
    };
    let ring = [
        line([150.0, 150.0], [450.0, 150.0]),
        line([450.0, 150.0], [450.0, 450.0]),
        line([450.0, 450.0], [150.0, 450.0]),
        line([150.0, 450.0], [150.0, 150.0]),
    ];
    let found = prove(&sheet, &press(&sheet, &ring));
    let big: Vec<&ShutIn> = found.iter().filter(|r| r.across_mm() > 25.0).collect();
    assert_eq!(big.len(), 1);
    assert_eq!(big[0].stroke, 4);
    assert!(
        (big[0].area_mm2 - 240.0 * 240.0).abs() < 60.0 * 60.0,
        "{:?}",
        big[0]
    );
    assert!(
        prove(&sheet, &press(&sheet, &ring[..3]))
            .iter()
            .all(|r| r.across_mm() <= 25.0)
    );
}

/// Tall sheets go band by band between the stay tapes, 450 to 900 mm (common practice, no source).
#[test]
fn stages_by_the_stay_tape_are_done_one_after_the_other() {
    let sheet = plain(1500.0, 1800.0).sheet(10.0, 0.0);
    let made = order(
        &sheet,
        &vec![0; sheet.len()],
        &[],
        &Ways {
            stage_mm: Some(600.0),
            ..ways(Start::Top)
        },
    );
    assert!(made.strokes.windows(2).all(|p| p[0].stage <= p[1].stage));
    assert_eq!(made.strokes.last().unwrap().stage, 3);
}

/// From a middle hinge one half is laid and then the other (common practice, no source).
#[test]
fn from_the_middle_one_half_goes_before_the_other() {
    let sheet = plain(1000.0, 800.0).sheet(10.0, 0.0);
    for (start, axis) in [
        (Start::Height { y_mm: 400.0 }, 1),
        (Start::Place { x_mm: 500.0 }, 0),
    ] {
        let made = order(&sheet, &vec![0; sheet.len()], &[], &ways(start));
        let middle = [500.0, 400.0][axis];
        let first = made
            .strokes
            .iter()
            .take_while(|s| s.path[0][axis] > middle)
            .count();
        assert!(
            first > 0
                && made.strokes[first..]
                    .iter()
                    .all(|s| s.path[0][axis] < middle)
        );
        assert!(made.shut_in.is_empty());
    }
}
