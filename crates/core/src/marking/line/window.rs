//! The largest value within a moving span.

use std::collections::VecDeque;

/// Largest value over the places behind one that lie within a span before it, for places in their order.
pub(super) struct Window<T> {
    kept: VecDeque<(usize, T)>,
    next: usize,
    from: i64,
    to: i64,
}

impl<T: Copy + Ord> Window<T> {
    /// Over the places from `next` on.
    pub(super) fn from(next: usize, from: i64, to: i64) -> Window<T> {
        Window {
            kept: VecDeque::new(),
            next,
            from,
            to,
        }
    }

    pub(super) fn best(
        &mut self,
        at: &[i64],
        here: usize,
        value: impl Fn(usize) -> Option<T>,
    ) -> Option<T> {
        let place = *at.get(here)?;
        while self.next < here && at.get(self.next).is_some_and(|a| *a <= place - self.from) {
            if let Some(v) = value(self.next) {
                while self.kept.back().is_some_and(|(_, b)| *b <= v) {
                    self.kept.pop_back();
                }
                self.kept.push_back((self.next, v));
            }
            self.next += 1;
        }
        while (self.kept.front())
            .is_some_and(|(i, _)| at.get(*i).is_some_and(|a| *a < place - self.to))
        {
            self.kept.pop_front();
        }
        self.kept.front().map(|(_, v)| *v)
    }
}
