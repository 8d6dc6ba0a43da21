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
            sides: 2,
            features: 3,
            ..Done::default()
        }),
        Some(Stage::LayOut)
    );
    assert_eq!(
        now(Done {
            sides: 2,
            features: 3,
            pieces: 2,
            locked: 1,
            ..Done::default()
        }),
        Some(Stage::Hinge)
    );
    assert_eq!(
        now(Done {
            sides: 2,
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 1,
            ..Done::default()
        }),
        Some(Stage::LayDown)
    );
    assert_eq!(
        now(Done {
            sides: 2,
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 2,
            ..Done::default()
        }),
        Some(Stage::HandOver)
    );
    assert_eq!(
        now(Done {
            sides: 2,
            features: 3,
            pieces: 2,
            locked: 2,
            laid: 2,
            issued: 1,
            ..Done::default()
        }),
        None
    );
    // A figure that nobody measured keeps the looking over open, whatever was done after it.
    assert_eq!(
        now(Done {
            sides: 1,
            unmeasured: 1,
            pieces: 2,
            ..Done::default()
        }),
        Some(Stage::LookOver)
    );
    // What is finished is done, though something before it is still open.
    let stages = progress(Done {
        sides: 1,
        unmeasured: 1,
        pieces: 2,
        laid: 2,
        ..Done::default()
    });
    let state = |stage| stages.iter().find(|s| s.stage == stage).map(|s| s.state);
    assert_eq!(state(Stage::LayDown), Some(StageState::Done));
    assert_eq!(state(Stage::HandOver), Some(StageState::Later));
}

#[test]
fn what_stands_over_an_edge_is_not_laid_out() {
    let laid_out = |not_on_it| {
        let done = Done {
            sides: 1,
            pieces: 2,
            not_on_it,
            ..Done::default()
        };
        progress(done)[1].state
    };
    assert_eq!(
        (laid_out(0), laid_out(1)),
        (StageState::Done, StageState::Now)
    );
}
