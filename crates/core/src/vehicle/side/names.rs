//! What a side and its edges are called in the shop's country.

use crate::ground::settings::SideWords;
use crate::vehicle::side::Side;
use crate::vehicle::side::words::{EdgeNames, Ends, Facing, FrontAt};

impl Side {
    /// What it is called in the shop's country.
    pub fn name(&self, words: SideWords) -> String {
        self.own_name()
            .unwrap_or_else(|| self.kind.name(words))
            .to_owned()
    }

    /// What the shop itself calls it, where it does.
    pub fn own_name(&self) -> Option<&str> {
        let called = self.called.as_deref().map(str::trim);
        called.filter(|called| !called.is_empty())
    }

    /// What its edges are called in the shop's country. Where the tape runs across the vehicle its ends are the vehicle's sides.
    pub fn edge_names(&self, words: SideWords) -> EdgeNames {
        let edge = |of: &str| format!("{of} edge");
        let (left, right) = self.kind.left_right(words);
        let (front, rear) = self.kind.front_rear();
        let (upper, lower) = match (self.facing, self.front) {
            (Facing::Up, FrontAt::Foot) => (edge(rear), edge(front)),
            (Facing::Up, FrontAt::Top) => (edge(front), edge(rear)),
            (Facing::Up, FrontAt::Left) => (edge(right), edge(left)),
            (Facing::Up, FrontAt::Right) => (edge(left), edge(right)),
            _ => (self.rail.clone(), "bottom edge".to_owned()),
        };
        let (zero, far) = self.along(left, right);
        EdgeNames {
            zero: edge(zero),
            far: edge(far),
            upper,
            lower,
            ends: self.ends(words).0.map(str::to_owned),
        }
    }

    /// What the ends of its tape are called: a rear has a street and a curb end, a transom port and starboard.
    ///
    /// ```
    /// # use windrift_core::ground::settings::SideWords;
    /// # use windrift_core::vehicle::{body::Body, side::{Side, words::SideKind}, surface::Surface};
    /// # let body = Body::Box { length_mm: 2438.4.into(), height_mm: 2438.4.into(), fall_mm: 0.0.into() };
    /// let rear = Side::new(SideKind::Rear, body, Surface::default());
    /// assert_eq!(rear.ends(SideWords::StreetCurbKeepRight).0, ["street", "curb"]);
    /// ```
    pub fn ends(&self, words: SideWords) -> Ends {
        let (left, right) = self.kind.left_right(words);
        let (zero, far) = self.along(left, right);
        Ends([zero, far].map(|of| of.strip_suffix(" side").unwrap_or(of)))
    }

    /// What lies where the tape begins and where it ends.
    fn along<'w>(&self, left: &'w str, right: &'w str) -> (&'w str, &'w str) {
        match (self.facing, self.front) {
            (_, FrontAt::Left | FrontAt::Right) => self.kind.front_rear(),
            // Seen from behind, and from above with the front at the top, the vehicle's left is at the picture's left.
            (Facing::Behind, _) | (_, FrontAt::Top) => (left, right),
            _ => (right, left),
        }
    }
}
