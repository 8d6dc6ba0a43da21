//! `floor::hangs_at` by itself.

use windrift_core::ground::tape::{Unit, print};

use windrift_core::floor::hangs_at::*;

fn hangs(x: f64, y: f64) -> HangsAt {
    let length = |mm| print(mm, Unit::InchSixteenth);
    HangsAt {
        wanted: [length(y), length(y)],
        corners: [
            [x, y],
            [x + 900.0, y],
            [x + 900.0, y + 200.0],
            [x, y + 200.0],
        ],
        film_mm2: 90_000.0,
    }
}

#[test]
fn a_move_is_told_as_it_is_seen_from_the_front() {
    let (was, now) = (hangs(-1000.0, 500.0), hangs(-1012.7, 601.6));
    let told = |direction| {
        was.moved_to(&now, direction, Unit::InchSixteenth)
            .map(|m| m.how)
    };
    assert_eq!(told(-1.0).as_deref(), Some("4 down, 1/2 to the rear"));
    assert_eq!(told(1.0).as_deref(), Some("4 down, 1/2 to the front"));
    assert_eq!(
        was.moved_to(&hangs(-1000.05, 500.0), -1.0, Unit::InchSixteenth),
        None
    );
}

#[test]
fn other_words_of_the_same_size_are_other_film() {
    let now = HangsAt {
        film_mm2: 91_000.0,
        ..hangs(0.0, 0.0)
    };
    let moved = hangs(0.0, 0.0).moved_to(&now, 1.0, Unit::Millimetre);
    assert_eq!(moved.map(|m| m.how).as_deref(), Some("with other film"));
}
