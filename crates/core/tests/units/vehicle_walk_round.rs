//! `vehicle::walk_round` by itself.

use uuid::Uuid;
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::feature::kind::ComesOff;

use windrift_core::vehicle::feature::form::{Form, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::walk_round::*;

fn id(n: u128) -> Uuid {
    Uuid::from_u128(n)
}

fn dent(n: u128) -> (Uuid, WalkEntry) {
    let damage = Damage {
        side: id(900),
        damage: DamageKind::Dent,
        back_mm: 1000.0.into(),
        drop_mm: 500.0.into(),
        size_mm: 30.0.into(),
        note: String::new(),
        photo: None,
    };
    (id(n), WalkEntry::Damage(damage))
}

fn signed(n: u128) -> (Uuid, WalkEntry) {
    let strokes = vec![(0..10).map(|k| [f64::from(k) / 10.0, 0.5]).collect()];
    (
        id(n),
        WalkEntry::SignOff {
            name: "A. Customer".into(),
            strokes,
            typed: false,
        },
    )
}

#[test]
fn what_was_struck_no_longer_stands_and_a_signature_knows_what_came_after() {
    let strike = (
        id(5),
        WalkEntry::Struck {
            entry: id(1),
            note: "a shadow".into(),
        },
    );
    let round = stand(&[dent(1), dent(2), signed(3), dent(4), strike]);
    assert_eq!(
        round.damage.iter().map(|f| f.entry).collect::<Vec<_>>(),
        [id(2), id(4)]
    );
    assert!(
        round
            .signed
            .is_some_and(|s| s.findings == 2 && s.changed_since == 2)
    );
    assert_eq!(
        stand(&[dent(1), signed(2)]).signed.map(|s| s.changed_since),
        Some(0)
    );
}

#[test]
fn hardware_goes_off_and_on_again() {
    let form = Form::Round {
        back_mm: 100.0.into(),
        drop_mm: 100.0.into(),
        across_mm: 30.0.into(),
        repeat: Repeat::ONCE,
    };
    let feature = Feature {
        comes_off: ComesOff::GoesBack,
        ..Feature::new(FeatureKind::Badge, form)
    };
    let state = |entries: &[(Uuid, WalkEntry)]| {
        hardware_list([(id(7), &feature, 1)], &stand(entries))
            .first()
            .map(|l| l.state)
    };
    let off = (id(1), WalkEntry::HardwareOff { feature: id(7) });
    let on = (id(2), WalkEntry::HardwareOn { feature: id(7) });
    assert_eq!(state(&[]), Some(HardwareStanding::ToComeOff));
    assert_eq!(
        state(std::slice::from_ref(&off)),
        Some(HardwareStanding::MustGoBack)
    );
    assert_eq!(
        state(&[off.clone(), on.clone()]),
        Some(HardwareStanding::OnAgain)
    );
    assert_eq!(
        state(&[off.clone(), on, (id(3), off.1)]),
        Some(HardwareStanding::MustGoBack)
    );
}

#[test]
fn empty_words_and_signatures_are_refused() {
    let field = |entry: WalkEntry| entry.check().err().map(|e| e.field);
    assert_eq!(
        field(WalkEntry::PaintDoubt {
            side: id(1),
            note: " ".into()
        }),
        Some("note")
    );
    assert_eq!(
        field(WalkEntry::SignOff {
            name: String::new(),
            strokes: vec![],
            typed: true,
        }),
        Some("name")
    );
    assert_eq!(
        field(WalkEntry::SignOff {
            name: "A".into(),
            strokes: vec![vec![[0.1, 0.1]]],
            typed: false,
        }),
        Some("strokes")
    );
    let wild = vec![vec![[0.1, 7.0]; 9]];
    assert_eq!(
        field(WalkEntry::SignOff {
            name: "A".into(),
            strokes: wild,
            typed: false,
        }),
        Some("strokes")
    );
    // A typed name stands for a signature by itself; nothing drawn is dropped in silence.
    let typed = |strokes| WalkEntry::SignOff {
        name: "A".into(),
        strokes,
        typed: true,
    };
    assert_eq!(field(typed(vec![])), None);
    assert_eq!(field(typed(vec![vec![[0.1, 0.1]; 9]])), Some("strokes"));
    assert_eq!(field(signed(1).1), None);
    assert_eq!(field(dent(1).1), None);
}
