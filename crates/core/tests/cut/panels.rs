//! Joins of panels against every set of joins there is, and on real sides: never in a gap, never through what must stay clear.

use proptest::prelude::*;
use windrift_core::cut::split::{Cost, NARROWEST_MM, SplitAsk, SplitError, split};

/// Every set of joins of so many panels: the least cost, then the least sum of squared widths.
fn by_every_join(ask: &SplitAsk, panels: usize, costs: &[Option<Cost>]) -> Option<(Cost, u64)> {
    fn go(
        ask: &SplitAsk,
        costs: &[Option<Cost>],
        left: usize,
        from: usize,
        narrowest: f64,
        so_far: (Cost, u64),
        best: &mut Option<(Cost, u64)>,
    ) {
        let at = from as f64 * ask.step_mm;
        if left == 1 {
            let wide = ask.length_mm - at;
            if wide <= ask.printable_mm + 1e-6 && wide >= narrowest - 1e-6 {
                let steps = (ask.length_mm / ask.step_mm + 1e-9).floor() as u64 - from as u64;
                let all = (so_far.0, so_far.1 + steps * steps);
                if best.is_none_or(|b| all < b) {
                    *best = Some(all);
                }
            }
            return;
        }
        for to in from + 1..costs.len() {
            let wide = (to - from) as f64 * ask.step_mm + ask.lap_mm;
            if wide > ask.printable_mm + 1e-6 {
                break;
            }
            let Some(own) = costs[to] else { continue };
            if wide < narrowest - 1e-6 {
                continue;
            }
            let mut sum = so_far.0;
            for (s, o) in sum.iter_mut().zip(own) {
                *s += o;
            }
            let steps = (to - from) as u64;
            go(
                ask,
                costs,
                left - 1,
                to,
                narrowest,
                (sum, so_far.1 + steps * steps),
                best,
            );
        }
    }
    let narrowest = NARROWEST_MM.min(ask.length_mm / panels as f64);
    let mut best = None;
    go(ask, costs, panels, 0, narrowest, ([0; 7], 0), &mut best);
    best
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(300))]

    #[test]
    fn joins_are_the_best_of_all(
        length in 20_usize..60,
        printable in 9_usize..26,
        lap in 0_usize..3,
        costs in proptest::collection::vec((0_u32..8, 0_u32..3, 0_u32..4), 60),
    ) {
        let step = 50.0;
        let ask = SplitAsk { length_mm: length as f64 * step, printable_mm: printable as f64 * step, lap_mm: lap as f64 * 25.0, step_mm: step };
        let cost = |at: f64| -> Option<Cost> {
            let (kind, a, b) = costs[(at / step).round() as usize];
            (kind > 1).then_some([0, a, 0, b, 0, 0, 0])
        };
        let all: Vec<Option<Cost>> = (0..=length)
            .map(|k| (k > 0 && k < length).then(|| cost(k as f64 * step)).flatten())
            .collect();
        match split(&ask, cost) {
            Ok(found) if found.joins.is_empty() => prop_assert!(length <= printable),
            Ok(found) => {
                let panels = found.joins.len() + 1;
                // Fewer panels have no joins that are allowed.
                for fewer in 2..panels {
                    prop_assert_eq!(by_every_join(&ask, fewer, &all), None);
                }
                let mut wide = 0;
                let mut from = 0;
                for to in found.joins.iter().copied().chain([length]) {
                    wide += (to - from) as u64 * (to - from) as u64;
                    from = to;
                }
                prop_assert_eq!(by_every_join(&ask, panels, &all), Some((found.cost, wide)));
            }
            Err(SplitError::NoJoin) => {
                let fewest = (length as f64 * step - ask.lap_mm) / (ask.printable_mm - ask.lap_mm);
                for panels in 2..=(fewest.ceil() as usize + 3) {
                    prop_assert_eq!(by_every_join(&ask, panels, &all), None);
                }
            }
            Err(other) => prop_assert!(false, "{}", other),
        }
    }
}

#[test]
fn figures_that_leave_no_panel_are_told() {
    let ask = SplitAsk {
        length_mm: 4000.0,
        printable_mm: 1300.0,
        lap_mm: 25.0,
        step_mm: 5.0,
    };
    let free = |_| Some([0; 7]);
    assert_eq!(
        split(
            &SplitAsk {
                lap_mm: 1300.0,
                ..ask
            },
            free
        ),
        Err(SplitError::Lap)
    );
    for bad in [0.0, -5.0, f64::NAN] {
        assert_eq!(
            split(
                &SplitAsk {
                    printable_mm: bad,
                    ..ask
                },
                free
            ),
            Err(SplitError::Figure)
        );
        assert_eq!(
            split(
                &SplitAsk {
                    length_mm: bad,
                    ..ask
                },
                free
            ),
            Err(SplitError::Figure)
        );
    }
    assert_eq!(
        split(
            &SplitAsk {
                lap_mm: -1.0,
                ..ask
            },
            free
        ),
        Err(SplitError::Figure)
    );
    assert_eq!(split(&ask, |_| None), Err(SplitError::NoJoin));
}

use windrift_core::art::Art;
use windrift_core::art::printed_panel::{Bleeds, Fills, KeyFeature, Picture, PrintedPanel};
use windrift_core::cut::into_pieces::into_pieces;
use windrift_core::cut::panels::{PanelAsk, panels};
use windrift_core::film::work::Stand;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{Angle, LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;

fn print(keys: Vec<KeyFeature>) -> PrintedPanel {
    PrintedPanel {
        name: "side".into(),
        width_mm: 4000.0.into(),
        height_mm: 1500.0.into(),
        bleed_mm: 0.0.into(),
        bleeds: Some(Bleeds {
            front_mm: 60.0.into(),
            rear_mm: 40.0.into(),
            top_mm: 0.0.into(),
            foot_mm: 50.0.into(),
        }),
        colour: "#23405c".into(),
        picture: Some(Picture {
            drawn: false,
            photo: uuid::Uuid::from_u128(9),
            width_px: 4000,
            height_px: 1500,
            fills: Fills::Trimmed,
            window: None,
        }),
        keys,
    }
}

fn key(right: f64, wide: f64) -> KeyFeature {
    KeyFeature {
        name: "7".into(),
        right_mm: right.into(),
        down_mm: 200.0.into(),
        width_mm: wide.into(),
        height_mm: 300.0.into(),
    }
}

fn planned(side: &MeasuredSide, print: PrintedPanel, angle: Angle) -> PlannedPiece {
    let to = if side.side.direction() > 0.0 {
        LetterEnd::FirstLetter
    } else {
        LetterEnd::LastLetter
    };
    let mut place = PlaceRule::from_front(400.0, to, 250.0);
    if let PlaceRule::Rules(rules) = &mut place {
        rules.angle = angle;
    }
    let piece = Piece::new(Art::Panel(print), place);
    plan_piece(
        uuid::Uuid::nil(),
        &piece,
        side,
        &WorkSettings::default(),
        Unit::Millimetre,
    )
    .unwrap()
}

fn ask(printable: f64) -> PanelAsk {
    PanelAsk {
        printable_mm: printable.into(),
        longest_mm: 50_000.0.into(),
        lap_mm: 25.0.into(),
        step_mm: 5.0.into(),
        turn_in_mm: 12.5.into(),
    }
}

/// Made into pieces, film and picture lie where they lay in the print: on both sides of the vehicle, level or turned, upright or lying.
#[test]
fn panels_as_pieces_lie_where_the_print_lay() {
    for (kind, angle, printable) in [
        (SideKind::Left, Angle::AlongDatum, 1340.0),
        (SideKind::Right, Angle::AlongDatum, 1340.0),
        (SideKind::Left, Angle::Degrees { degrees: 1.5 }, 1340.0),
        (SideKind::Left, Angle::AlongDatum, 560.0),
        (SideKind::Right, Angle::Degrees { degrees: -2.0 }, 1600.0),
    ] {
        let (side, _) = StartShape::BoxBody.start(kind);
        let side = measure(&side, &[]).unwrap();
        let whole = planned(&side, print(vec![key(300.0, 200.0)]), angle);
        let found = panels(&whole, &side, &ask(printable), Unit::Millimetre).unwrap();
        let plans = std::iter::once(found.best).chain(found.other);
        for plan in plans.filter(|p| p.panels.len() > 1) {
            let pieces = into_pieces(
                &whole,
                &plan,
                &side,
                &WorkSettings::default(),
                Unit::Millimetre,
            )
            .unwrap();
            assert_eq!(pieces.len(), plan.panels.len());
            assert!(pieces.iter().all(|p| p.order == whole.piece.order));
            let mut keys = 0;
            for (piece, panel) in pieces.iter().zip(&plan.panels) {
                let alone = plan_piece(
                    uuid::Uuid::nil(),
                    piece,
                    &side,
                    &WorkSettings::default(),
                    Unit::Millimetre,
                )
                .unwrap();
                let b = alone.drawn.bounds;
                let corners = [(b.x0, b.y0), (b.x1, b.y0), (b.x1, b.y1), (b.x0, b.y1)];
                for ((x, y), wanted) in corners.into_iter().zip(panel.corners) {
                    let p = alone.placed.to_picture * kurbo::Point::new(x, y);
                    assert!(
                        (p.x - wanted[0]).hypot(p.y - wanted[1]) < 0.02,
                        "{kind:?} {:?} {p:?} {wanted:?}",
                        plan.stand
                    );
                }
                let (_, own) = alone.drawn.picture.unwrap();
                let (_, all) = whole.drawn.picture.unwrap();
                let (a, b) = (
                    alone.placed.to_picture * own.origin(),
                    whole.placed.to_picture * all.origin(),
                );
                assert!((a - b).hypot() < 0.02 && (own.width() - all.width()).abs() < 1e-6);
                let Art::Panel(art) = &piece.art else {
                    panic!()
                };
                keys += art.keys.len();
            }
            assert_eq!(keys, 1, "what must stay clear lies on one panel");
        }
    }
}

/// On a real side: no join in a door gap or through what must stay clear; off rivets where there is room.
#[test]
fn joins_keep_off_gaps_keys_and_rivets() {
    let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    let of = |id: u128, kind: FeatureKind, form: Form| SideFeature {
        id: uuid::Uuid::from_u128(id),
        feature: Feature::new(kind, form),
    };
    let heads = Form::Heads {
        first_mm: 700.0.into(),
        pitch_mm: 900.0.into(),
        columns: 5,
        first_head_mm: 100.0.into(),
        head_pitch_mm: 150.0.into(),
        heads: 12,
        head_mm: 12.0.into(),
    };
    let gap = Form::Upright {
        first_mm: 1500.0.into(),
        pitch_mm: 0.0.into(),
        count: 1,
    };
    let features = [
        of(1, FeatureKind::DoorGap, gap),
        of(2, FeatureKind::Rivets, heads),
    ];
    let side = measure(&side, &features).unwrap();
    let whole = planned(&side, print(vec![key(2300.0, 400.0)]), Angle::AlongDatum);
    let found = panels(&whole, &side, &ask(1340.0), Unit::Millimetre).unwrap();
    let upright = [Some(found.best), found.other]
        .into_iter()
        .flatten()
        .find(|p| p.stand == Stand::Upright)
        .unwrap();
    assert!(upright.panels.len() >= 4);
    // Where joins lie from the front of the side: the exposed edge of each, in the picture frame.
    for join in &upright.joins {
        let (a, b) = (join.corners[0][0], join.corners[1][0]);
        let (low, high) = (a.min(b) - 6.35, a.max(b) + 6.35);
        assert!(!(low..high).contains(&1500.0), "in the gap: {join:?}");
        let key = (400.0 + 2300.0, 400.0 + 2700.0);
        assert!(high <= key.0 || low >= key.1, "through the key: {join:?}");
        for column in 0..5 {
            let at = 700.0 + 900.0 * f64::from(column);
            assert!(
                high + 6.0 <= at || low - 6.0 >= at,
                "on a rivet row: {join:?}"
            );
        }
        assert!(join.meets.is_empty());
    }
}

#[test]
fn the_way_that_the_crew_settles_stands() {
    let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    let side = measure(&side, &[]).unwrap();
    let mut whole = planned(&side, print(vec![]), Angle::AlongDatum);
    let by_itself = panels(&whole, &side, &ask(1340.0), Unit::Millimetre).unwrap();
    assert_eq!(by_itself.best.stand, Stand::Lying);
    whole.piece.work.stand = Some(Stand::Upright);
    let settled = panels(&whole, &side, &ask(1340.0), Unit::Millimetre).unwrap();
    assert_eq!(settled.best.stand, Stand::Upright);
    // Where only one way goes it is that one, whatever was settled, and why stands beside it.
    let short = PanelAsk {
        longest_mm: 3000.0.into(),
        ..ask(1340.0)
    };
    whole.piece.work.stand = Some(Stand::Lying);
    let only = panels(&whole, &side, &short, Unit::Millimetre).unwrap();
    assert!(
        only.best.stand == Stand::Upright
            && only.other_refused.unwrap().contains("no roll gives more")
    );
}

/// What must stay clear and is larger than a panel cannot stay in one: the joins run through as little as can be, and it is told.
#[test]
fn what_is_larger_than_a_panel_is_cut_and_told() {
    let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    let side = measure(&side, &[]).unwrap();
    let large = KeyFeature {
        right_mm: 100.0.into(),
        down_mm: 100.0.into(),
        width_mm: 3800.0.into(),
        height_mm: 1300.0.into(),
        ..key(0.0, 1.0)
    };
    let whole = planned(&side, print(vec![large]), Angle::AlongDatum);
    let found = panels(&whole, &side, &ask(700.0), Unit::Millimetre).unwrap();
    assert!(
        found
            .best
            .says
            .iter()
            .any(|s| s.contains("No place is free of what must stay clear"))
    );
    assert!(
        found
            .best
            .joins
            .iter()
            .all(|j| j.meets.iter().any(|m| m.contains("in the picture")))
    );
    // A smaller one has its panel, and nothing of the kind is said.
    let whole = planned(&side, print(vec![key(300.0, 200.0)]), Angle::AlongDatum);
    let found = panels(&whole, &side, &ask(700.0), Unit::Millimetre).unwrap();
    assert!(
        !found
            .best
            .says
            .iter()
            .any(|s| s.contains("No place is free"))
    );
}
