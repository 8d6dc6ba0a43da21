//! A print parted at gaps, and relief cuts round what stays on: against the rules read off by hand and tried one by one.

use kurbo::Rect;
use proptest::prelude::*;
use windrift_core::art::Art;
use windrift_core::art::printed_panel::{Bleeds, KeyFeature, PrintedPanel};
use windrift_core::cut::into_pieces::into_pieces;
use windrift_core::cut::panels::{PanelAsk, panels};
use windrift_core::cut::parted::print_gaps;
use windrift_core::film::work::Stand;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_piece;
use windrift_core::plan::planned::PlannedPiece;
use windrift_core::plan::relief::{ReliefAsk, ReliefCut, relief_cuts};
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::shapes::StartShape;

const UNIT: Unit = Unit::Millimetre;
const BACK: f64 = 200.0;
const DOWN: f64 = 200.0;
const SIZE: (f64, f64) = (3600.0, 1000.0);

fn measured(kind: SideKind, features: Vec<(FeatureKind, Form)>) -> MeasuredSide {
    let (side, _) = StartShape::BoxBody.start(kind);
    let features: Vec<SideFeature> = (1..)
        .zip(features)
        .map(|(id, (kind, form))| SideFeature {
            id: uuid::Uuid::from_u128(id),
            feature: Feature::new(kind, form),
        })
        .collect();
    measure(&side, &features).unwrap()
}

fn upright(back: f64) -> (FeatureKind, Form) {
    let form = Form::Upright {
        first_mm: back.into(),
        pitch_mm: 0.0.into(),
        count: 1,
    };
    (FeatureKind::DoorGap, form)
}

fn slanted(from: (f64, f64), to: (f64, f64)) -> (FeatureKind, Form) {
    let form = Form::Straight {
        back_mm: from.0.into(),
        drop_mm: from.1.into(),
        to_back_mm: to.0.into(),
        to_drop_mm: to.1.into(),
    };
    (FeatureKind::DoorGap, form)
}

fn rectangle(kind: FeatureKind, back: f64, drop: f64, size: (f64, f64)) -> (FeatureKind, Form) {
    let form = Form::Rectangle {
        back_mm: back.into(),
        drop_mm: drop.into(),
        to: MeasuredTo::Corner,
        width_mm: size.0.into(),
        height_mm: size.1.into(),
        repeat: Repeat::ONCE,
    };
    (kind, form)
}

fn piece(kind: SideKind, keys: Vec<KeyFeature>) -> Piece {
    let print = PrintedPanel {
        name: "side".into(),
        width_mm: SIZE.0.into(),
        height_mm: SIZE.1.into(),
        bleed_mm: 0.0.into(),
        bleeds: Some(Bleeds {
            front_mm: 0.0.into(),
            rear_mm: 0.0.into(),
            top_mm: 0.0.into(),
            foot_mm: 0.0.into(),
        }),
        colour: "#23405c".into(),
        picture: None,
        keys,
    };
    let end = match kind {
        SideKind::Left => LetterEnd::FirstLetter,
        _ => LetterEnd::LastLetter,
    };
    Piece::new(Art::Panel(print), PlaceRule::from_front(BACK, end, DOWN))
}

fn plan(side: &MeasuredSide, piece: &Piece) -> PlannedPiece {
    plan_piece(
        uuid::Uuid::nil(),
        piece,
        side,
        &WorkSettings::default(),
        UNIT,
    )
    .unwrap()
}

fn ask() -> PanelAsk {
    PanelAsk {
        printable_mm: 1340.0.into(),
        longest_mm: 50_000.0.into(),
        lap_mm: 25.0.into(),
        step_mm: 5.0.into(),
        turn_in_mm: 12.5.into(),
    }
}

/// Two gaps, one of them slanted by 100 mm over the print: three parts, each as wide as its door and what is turned in. Rear parts go on first.
#[test]
fn each_part_reaches_past_its_gap_on_both_sides_of_the_vehicle() {
    for kind in [SideKind::Left, SideKind::Right] {
        let side = measured(
            kind,
            vec![
                upright(1400.0),
                // Past the print at both ends: 2500 at its top, 2600 at its foot.
                slanted((2480.0, DOWN - 200.0), (2620.0, DOWN + SIZE.1 + 200.0)),
            ],
        );
        let mut whole = piece(kind, vec![]);
        let gaps = print_gaps(&plan(&side, &whole), &side);
        assert_eq!(gaps.len(), 2);
        whole.work.parted_at = gaps.iter().map(|g| g.gap).collect();
        let whole = plan(&side, &whole);
        let found = panels(&whole, &side, &ask(), UNIT).unwrap();
        let best = &found.best;
        let lies: Vec<&str> = best
            .parts
            .iter()
            .map(|p| p.lies.as_deref().unwrap())
            .collect();
        assert_eq!(
            lies,
            [
                "behind door gap 2",
                "between door gap 1 and door gap 2",
                "in front of door gap 1"
            ],
            "{kind:?}"
        );
        // By hand: 200 to 1400 and 12.5; 1400 less 12.5 to 2600 and 12.5; 2500 less 12.5 to 3800.
        let width = |n: usize| {
            let of: Vec<_> = (best.panels.iter())
                .filter(|p| (best.parts[n].numbers.0..=best.parts[n].numbers.1).contains(&p.number))
                .collect();
            let (low, high) = of.iter().fold((f64::MAX, f64::MIN), |(l, h), p| {
                (l.min(p.film[0]), h.max(p.film[2]))
            });
            high - low
        };
        let wanted = [3800.0 - 2500.0 + 12.5, 1225.0, 1212.5];
        for (n, wanted) in wanted.into_iter().enumerate() {
            assert!(
                (width(n) - wanted).abs() < 0.1 || n == 1,
                "{kind:?} {n}: {}",
                width(n)
            );
        }
        assert!(
            (width(1) - (2600.0 + 12.5 - 1387.5)).abs() < 0.1,
            "{}",
            width(1)
        );
        // Numbers go on without a break, and every panel can be printed.
        let numbers: Vec<u32> = best.panels.iter().map(|p| p.number).collect();
        assert_eq!(numbers, (1..=numbers.len() as u32).collect::<Vec<_>>());
        assert!(best.says[0].starts_with("Parted at door gap 1, door gap 2"));
        // As pieces they lie where they lay, and what is seen of all of them is the print, once.
        let pieces = into_pieces(&whole, best, &side, &WorkSettings::default(), UNIT).unwrap();
        let mut seen = 0.0;
        for (made, panel) in pieces.iter().zip(&best.panels) {
            assert!(made.work.parted_at.is_empty() && made.work.stand == Some(panel.stand));
            let alone = plan(&side, made);
            let b = alone.drawn.bounds;
            for ((x, y), wanted) in [(b.x0, b.y0), (b.x1, b.y1)]
                .into_iter()
                .zip([panel.corners[0], panel.corners[2]])
            {
                let p = alone.placed.to_picture * kurbo::Point::new(x, y);
                assert!((p.x - wanted[0]).hypot(p.y - wanted[1]) < 0.02, "{kind:?}");
            }
            let Art::Panel(art) = &made.art else { panic!() };
            seen += art.width_mm.mm() * art.height_mm.mm();
            assert!(
                panels(&alone, &side, &ask(), UNIT)
                    .unwrap()
                    .best
                    .panels
                    .len()
                    == 1
            );
        }
        assert!((seen - SIZE.0 * SIZE.1).abs() < 1.0, "{seen}");
    }
}

/// A gap that lies parts a print into a lower and an upper part: the lower goes on first. One that ends within the print parts nothing, nor does one that leaves a strip.
#[test]
fn the_lower_part_goes_on_first_and_only_what_crosses_parts() {
    let across = slanted((0.0, 700.0), (6000.0, 700.0));
    let side = measured(
        SideKind::Left,
        vec![
            across,
            slanted((2000.0, 0.0), (2000.0, 600.0)),
            upright(BACK + 100.0),
        ],
    );
    let mut whole = piece(SideKind::Left, vec![]);
    let gaps = print_gaps(&plan(&side, &whole), &side);
    assert_eq!(gaps.len(), 1, "{gaps:?}");
    whole.work.parted_at = vec![gaps[0].gap];
    let found = panels(&plan(&side, &whole), &side, &ask(), UNIT).unwrap();
    let parts = &found.best.parts;
    assert!(parts[0].lies.as_deref().unwrap().starts_with("below"));
    assert!(parts[1].lies.as_deref().unwrap().starts_with("above"));
    // 500 mm above, 500 below, and what is turned in.
    assert!((found.best.panels[0].film[1] - 487.5).abs() < 1e-6);
    // Not parted any more where the gap is gone: nothing is left half.
    let bare = measured(SideKind::Left, vec![]);
    let one = panels(&plan(&bare, &whole), &bare, &ask(), UNIT).unwrap();
    assert!(one.best.parts.len() == 1 && one.best.parts[0].lies.is_none());
}

fn cut(side: &MeasuredSide, whole: &PlannedPiece, keys: &[(String, Rect)]) -> Vec<ReliefCut> {
    let ask = ReliefAsk {
        film: whole.drawn.bounds,
        covered_mm: [0.0; 4],
        keys,
        layered: false,
    };
    relief_cuts(&ask, &whole.placed, side, UNIT)
}

/// Common practice, no source: the cut is planned before the liner comes off, into a gap where one is near, never through what must stay clear.
#[test]
fn an_arm_is_cut_for_from_where_it_shows_least() {
    let arm = rectangle(FeatureKind::Bracket, 1600.0, 800.0, (60.0, 100.0));
    let bare = measured(SideKind::Left, vec![arm.clone()]);
    let whole = plan(&bare, &piece(SideKind::Left, vec![]));
    // 1200 (the print's foot) less 900 (the arm's): 300 below it; 600 above; 1400 and more at its sides.
    let found = cut(&bare, &whole, &[]);
    assert_eq!(found[0].shows.text, "300 mm");
    assert!(found[0].says.contains("lower edge straight up") && found[0].before_the_liner);
    // In the picture frame: from the arm's middle straight down.
    let [from, to] = [found[0].lines[0][0], found[0].lines[0][1]];
    assert!((from[0] - to[0]).abs() < 1e-6 && (to[1] - from[1] - 350.0).abs() < 1e-6);

    // A gap 100 mm behind it is cut only once the film lies: until then no cut lets go there.
    let gap = measured(SideKind::Left, vec![arm.clone(), upright(1760.0)]);
    let found = cut(&gap, &plan(&gap, &piece(SideKind::Left, vec![])), &[]);
    assert_eq!(found[0].shows.text, "300 mm");
    // Parted there, the film's own edge is: 100 to the middle of the gap is seen, 12.5 more is turned in.
    let mut parted = piece(SideKind::Left, vec![]);
    parted.work.parted_at = vec![print_gaps(&plan(&gap, &parted), &gap)[0].gap];
    let best = panels(&plan(&gap, &parted), &gap, &ask(), UNIT)
        .unwrap()
        .best;
    let [found] = best
        .panels
        .iter()
        .flat_map(|p| &p.relief)
        .collect::<Vec<_>>()[..]
    else {
        panic!()
    };
    assert_eq!(found.shows.text, "100 mm");
    assert!(
        found
            .says
            .contains("the film\u{2019}s rear edge straight forwards"),
        "{}",
        found.says
    );
    assert!(
        (found.lines[0][1][0] - 1772.5).abs() < 0.01
            || (found.lines[0][1][0] - found.lines[0][0][0] - 142.5).abs() < 0.01
    );

    // What must stay clear below it: the next shortest way, upwards.
    let key = ("phone".to_owned(), Rect::new(1300.0, 750.0, 1600.0, 900.0));
    let found = cut(&bare, &whole, std::slice::from_ref(&key));
    assert_eq!(found[0].shows.text, "600 mm");
    assert!(found[0].meets.is_empty());
    // All round: through it, and told.
    let all = ("phone".to_owned(), Rect::new(1000.0, 100.0, 1900.0, 1000.0));
    let found = cut(&bare, &whole, &[all]);
    assert_eq!(
        found[0].meets,
        ["It runs through \u{201c}phone\u{201d} in the picture."]
    );

    // Bleed is cut off: the line runs through it, and it does not count.
    let mut bled = piece(SideKind::Left, vec![]);
    if let Art::Panel(print) = &mut bled.art {
        print.bleeds = print.bleeds.map(|b| Bleeds {
            foot_mm: 50.0.into(),
            ..b
        });
    }
    let worked = plan(&bare, &bled).worked;
    let relief = worked.iter().find_map(|w| w.relief.as_ref()).unwrap();
    assert_eq!(relief.shows.text, "300 mm");
    let [from, to] = [relief.lines[0][0], relief.lines[0][1]];
    assert!((to[1] - from[1] - 400.0).abs() < 1e-6);

    // A row of rivets below it.
    let heads = Form::Heads {
        first_mm: 1630.0.into(),
        pitch_mm: 0.0.into(),
        columns: 1,
        first_head_mm: 950.0.into(),
        head_pitch_mm: 50.0.into(),
        heads: 4,
        head_mm: 12.0.into(),
    };
    let riveted = measured(
        SideKind::Left,
        vec![arm.clone(), (FeatureKind::Rivets, heads)],
    );
    let found = cut(
        &riveted,
        &plan(&riveted, &piece(SideKind::Left, vec![])),
        &[],
    );
    assert_eq!(found[0].shows.text, "600 mm");

    // The next panel lies 25 mm over its foot.
    let ask = ReliefAsk {
        film: whole.drawn.bounds,
        covered_mm: [0.0, 0.0, 0.0, 25.0],
        keys: &[],
        layered: true,
    };
    let found = relief_cuts(&ask, &whole.placed, &bare, UNIT);
    assert_eq!(found[0].shows.text, "275 mm");
    assert!(found[0].says.contains("ending in a J"));

    // A handle is let through within its outline; what comes off, and what the print's own edge meets, needs no cut.
    let handle = rectangle(FeatureKind::Handle, 2000.0, 600.0, (160.0, 50.0));
    let edge = rectangle(FeatureKind::Bracket, 2600.0, 1150.0, (60.0, 100.0));
    let side = measured(SideKind::Left, vec![handle, edge]);
    let found = cut(&side, &plan(&side, &piece(SideKind::Left, vec![])), &[]);
    assert_eq!(found.len(), 1);
    assert_eq!((found[0].shows.mm, found[0].lines.len()), (0.0, 2));
    let long = |n: usize| {
        let l = &found[0].lines[n];
        (l[0][0] - l[1][0]).hypot(l[0][1] - l[1][1])
    };
    // 160 by 50 less an eighth of an inch at each end.
    assert!((long(0) - 153.65).abs() < 0.01 && (long(1) - 43.65).abs() < 0.01);
}

/// In panels each panel is cut by itself, and a cut may end where the next one covers it.
#[test]
fn relief_cuts_are_each_panels_own() {
    let mut found = 0;
    for kind in [SideKind::Left, SideKind::Right] {
        for back in (300..3600).step_by(150) {
            let arm = rectangle(FeatureKind::Bracket, f64::from(back), 650.0, (60.0, 100.0));
            let side = measured(kind, vec![arm]);
            let mut whole = piece(kind, vec![]);
            whole.work.stand = Some(Stand::Upright);
            let plan = panels(&plan(&side, &whole), &side, &ask(), UNIT)
                .unwrap()
                .best;
            assert!(plan.panels.len() >= 3);
            for p in &plan.panels {
                for r in &p.relief {
                    found += 1;
                    // It ends within the panel, in the picture frame.
                    let (a, c) = (p.corners[0], p.corners[2]);
                    let (low, high) = (a[0].min(c[0]) - 1e-6, a[0].max(c[0]) + 1e-6);
                    assert!(
                        r.lines
                            .iter()
                            .flatten()
                            .all(|q| (low..=high).contains(&q[0]))
                    );
                    // Up, 450, is the farthest that it has to run.
                    assert!(r.shows.mm <= 450.0 + 1e-6);
                }
            }
        }
    }
    assert!(found >= 30, "{found}");
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, ..ProptestConfig::default() })]

    /// Against the four ways measured with a ruler: an upright print without a turn, an arm, one thing that must stay clear, and edges that are covered.
    #[test]
    fn no_other_way_is_clearer_or_shorter(
        arm in (400.0..3500.0f64, 400.0..1000.0f64),
        key in (0.0..3000.0f64, 0.0..700.0f64, 50.0..600.0f64, 50.0..300.0f64),
        covered in prop::array::uniform4(0.0..60.0f64),
    ) {
        let size = (60.0, 90.0);
        let side = measured(SideKind::Left, vec![rectangle(FeatureKind::Bracket, arm.0, arm.1, size)]);
        let whole = plan(&side, &piece(SideKind::Left, vec![]));
        let clear = Rect::new(key.0, key.1, key.0 + key.2, key.1 + key.3);
        let ask = ReliefAsk {
            film: whole.drawn.bounds,
            covered_mm: covered,
            keys: &[("7".into(), clear)],
            layered: false,
        };
        let found = relief_cuts(&ask, &whole.placed, &side, UNIT);
        // In the film's frame, by hand: down, back, forwards, up.
        let (x, y) = (arm.0 - BACK, arm.1 - DOWN);
        let (mx, my) = (x + size.0 / 2.0, y + size.1 / 2.0);
        let ways = [
            (Rect::new(mx, y + size.1, mx, SIZE.1), SIZE.1 - y - size.1 - covered[3]),
            (Rect::new(x + size.0, my, SIZE.0, my), SIZE.0 - x - size.0 - covered[2]),
            (Rect::new(0.0, my, x, my), x - covered[0]),
            (Rect::new(mx, 0.0, mx, y), y - covered[1]),
        ];
        let through = |r: &Rect| r.x0 <= clear.x1 && r.x1 >= clear.x0 && r.y0 <= clear.y1 && r.y1 >= clear.y0;
        let best = ways.iter().map(|(r, long)| (through(r), long.round() as i64)).min().unwrap();
        prop_assert_eq!((!found[0].meets.is_empty(), found[0].shows.mm.round() as i64), best);
    }
}
