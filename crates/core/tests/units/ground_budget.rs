//! `ground::budget` by itself.

use std::sync::atomic::Ordering;

use windrift_core::ground::budget::*;

#[test]
fn a_cancelled_computation_ends_and_one_outside_a_budget_does_not() {
    let budget = Budget::of_steps(u64::MAX);
    budget.cancel().store(true, Ordering::Relaxed);
    let endless = within(budget, || {
        loop {
            spend(1);
        }
    });
    assert_eq!(endless, Err::<(), _>(BrokenOff::Cancelled));
    spend(u64::MAX);
}

#[test]
fn the_budget_around_goes_on_after_the_one_within() {
    let told = within(Budget::of_steps(10), || {
        let inner = within(Budget::of_steps(1), || spend(2));
        spend(10);
        inner
    });
    assert_eq!(told, Ok(Err(BrokenOff::TooMuch)));
}
