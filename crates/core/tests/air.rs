//! Air under a sheet against a general graph library (petgraph) on random sheets and orders; the generated order of strokes by
//! property: it shuts in nothing that had a way out, presses everything, and keeps the rules of order.

use std::collections::{BTreeMap, BTreeSet};

use kurbo::{Point, Rect};
use petgraph::algo::connected_components;
use petgraph::graph::{NodeIndex, UnGraph};
use proptest::prelude::*;
use windrift_core::floor::air::{Cell, Sheet, Swath, press};
use windrift_core::floor::prove::{Moment, NEVER, ShutIn, prove};
use windrift_core::floor::sheet_plan::SheetPlan;
use windrift_core::floor::strokes::order::order;
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
    fn plan(&self) -> SheetPlan {
        let bounds = Rect::new(0.0, 0.0, self.width, self.height);
        let (w, h) = (self.width, self.height);
        let sides = [
            Rect::new(0.0, -0.1, w, 0.1),
            Rect::new(0.0, h - 0.1, w, h + 0.1),
            Rect::new(-0.1, 0.0, 0.1, h),
            Rect::new(w - 0.1, 0.0, w + 0.1, h),
        ];
        SheetPlan {
            film: vec![Shape::rectangle(bounds)],
            things: self
                .things
                .iter()
                .map(|(thing, blocked)| {
                    let cell = if *blocked {
                        Cell::Blocked
                    } else {
                        Cell::Outside
                    };
                    (Shape::rectangle(*thing), cell)
                })
                .collect(),
            walls: self.walls.iter().map(|(a, b)| vec![*a, *b]).collect(),
            closed: sides
                .into_iter()
                .zip(self.closed)
                .filter_map(|(r, closed)| closed.then_some(r))
                .collect(),
            ..SheetPlan::default()
        }
    }

    fn sheet(&self, cell_mm: f64, shift: f64) -> Sheet {
        self.plan().cells(cell_mm, shift)
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
        let made = order(&plain(900.0, 600.0).plan(), &[], &ways(start));
        assert!(made.strokes.iter().all(|s| !s.within_band), "{start:?}");
    }
}

/// Outward from the hinge, the middle first (common practice, no source).
#[test]
fn bands_go_outward_from_the_hinge_and_from_the_middle_to_the_ends() {
    let made = order(&plain(2000.0, 400.0).plan(), &[], &ways(Start::Top));
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
    // Each band below the first laps over the one before by the stated 25 mm, and none over what is still open.
    for stroke in &made.strokes {
        let (top, foot) = (stroke.shape[0][1], stroke.shape[2][1]);
        let band = (foot / (400.0 / 6.0)).round() - 1.0;
        assert!(
            (foot - (band + 1.0) * 400.0 / 6.0).abs() < 1e-6,
            "{stroke:?}"
        );
        let laps = if band == 0.0 { 0.0 } else { 25.0 };
        assert!(
            (top - (band * 400.0 / 6.0 - laps)).abs() < 1e-6,
            "{stroke:?}"
        );
    }
}

/// A flat is worked up to its crease, then the crease, then the next flat (common practice, no source).
#[test]
fn the_crease_is_set_after_the_flat_before_it_and_before_the_next() {
    let mut case = plain(1000.0, 600.0);
    case.walls = vec![(Point::new(0.0, 303.0), Point::new(1000.0, 303.0))];
    let crease = CreaseLine {
        points: vec![[-100.0, 303.0], [1100.0, 303.0]],
    };
    let made = order(&case.plan(), &[crease], &ways(Start::Top));
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
    let with_recess = |case: &Case| SheetPlan {
        recesses: vec![(Shape::rectangle(recess), 12)],
        ..case.plan()
    };
    let made = order(&with_recess(&case), &[], &ways(Start::Top));
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
    let shut = with_recess(&case);
    let made = order(&shut, &[], &ways(Start::Top));
    assert_eq!(made.shut_in.len(), 1);
    assert_eq!(made.shut_in[0].stroke, 0);
    assert!((made.shut_in[0].area_mm2 - 200.0 * 120.0).abs() < 1.0);
    // Pricked where it is told to be, it has a way out.
    let mut pricked = shut.clone();
    pricked
        .vents
        .push(Point::new(made.shut_in[0].at[0], made.shut_in[0].at[1]));
    assert!(order(&pricked, &[], &ways(Start::Top)).shut_in.is_empty());
}

/// In a recess the strokes go from its closed wall to its mouth, and in each of them towards the mouth (common practice, no source).
#[test]
fn a_recess_is_worked_from_its_closed_wall_to_its_mouth() {
    let recess = Rect::new(200.0, 150.0, 700.0, 450.0);
    let c = [
        (200.0, 150.0),
        (700.0, 150.0),
        (700.0, 450.0),
        (200.0, 450.0),
    ]
    .map(|(x, y)| Point::new(x, y));
    // Open above, at the right, below, at the left.
    for open in 0..4 {
        let mut case = plain(1000.0, 600.0);
        case.walls = (0..4)
            .filter(|n| *n != open)
            .map(|n| (c[n], c[(n + 1) % 4]))
            .collect();
        let plan = SheetPlan {
            recesses: vec![(Shape::rectangle(recess), 12)],
            ..case.plan()
        };
        let made = order(&plan, &[], &ways(Start::Top));
        let to_mouth = |p: &[f64; 2]| match open {
            0 => p[1] - recess.y0,
            1 => recess.x1 - p[0],
            2 => recess.y1 - p[1],
            _ => p[0] - recess.x0,
        };
        let within: Vec<_> = (made.strokes.iter())
            .filter(|s| s.kind == StrokeKind::Recess)
            .collect();
        let middle = |s: &&windrift_core::floor::strokes::Stroke| {
            (to_mouth(&s.path[0]) + to_mouth(s.path.last().unwrap())) / 2.0
        };
        assert!(within.len() >= 4);
        for pair in within.windows(2) {
            assert!(
                middle(&pair[0]) >= middle(&pair[1]) - 1.0,
                "{open} {pair:?}"
            );
        }
        for stroke in &within {
            let (from, to) = (&stroke.path[0], stroke.path.last().unwrap());
            assert!(to_mouth(from) >= to_mouth(to) - 1.0, "{open} {stroke:?}");
        }
        let first_flat = |s: &windrift_core::floor::strokes::Stroke| s.number;
        assert!(
            within
                .iter()
                .map(|s| first_flat(s))
                .eq(1..=within.len() as u32)
        );
    }
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
    let made = order(
        &plain(1500.0, 1800.0).plan(),
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
    for (start, axis) in [
        (Start::Height { y_mm: 400.0 }, 1),
        (Start::Place { x_mm: 500.0 }, 0),
    ] {
        let made = order(&plain(1000.0, 800.0).plan(), &[], &ways(start));
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
        assert!(
            made.shut_in.is_empty(),
            "{:?} {:?}",
            made.shut_in,
            made.strokes
        );
    }
}
