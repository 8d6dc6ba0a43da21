//! `shop::progress` by itself.

use windrift_core::shop::progress::*;

fn now(done: Done) -> Option<Stage> {
    progress(done)
        .iter()
        .find(|s| s.state == StageState::Now)
        .map(|s| s.stage)
}

#[test]
fn one_stage_is_next() {
    assert_eq!(now(Done::default()), Some(Stage::LookOver));
    assert_eq!(
        now(Done {
            features: 3,
            ..Done::default()
        }),
        Some(Stage::LayOut)
    );
    assert_eq!(
        now(Done {
            features: 3,
            pieces: 2,
            locked: 1,
            laid: 0,
            issued: 0
        }),
        Some(Stage::Hinge)
    );
    assert_eq!(
        now(Done {
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 1,
            issued: 0
        }),
        Some(Stage::LayDown)
    );
    assert_eq!(
        now(Done {
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 2,
            issued: 0
        }),
        Some(Stage::HandOver)
    );
    assert_eq!(
        now(Done {
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 2,
            issued: 1
        }),
        None
    );
}
