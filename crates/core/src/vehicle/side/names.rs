//! What a side and its edges are called in the shop's country.

use crate::ground::settings::SideWords;
use crate::vehicle::side::Side;
use crate::vehicle::side::words::{EdgeNames, Facing, FrontAt};

impl Side {
    /// What it is called in the shop's country.
    pub fn name(&self, words: SideWords) -> String {
        match self.called.as_deref().map(str::trim) {
            Some(called) if !called.is_empty() => called.to_owned(),
            _ => self.kind.name(words).to_owned(),
        }
    }

    /// What its edges are called in the shop's country. Where the tape runs across the vehicle its ends are the vehicle's sides.
    pub fn edge_names(&self, words: SideWords) -> EdgeNames {
        let (left, right) = words.left_right();
        let upper_lower = match (self.facing, self.front) {
            (Facing::Up, FrontAt::Foot) => ("rear edge".into(), "front edge".into()),
            (Facing::Up, FrontAt::Top) => ("front edge".into(), "rear edge".into()),
            (Facing::Up, FrontAt::Left) => (format!("{right} edge"), format!("{left} edge")),
            (Facing::Up, FrontAt::Right) => (format!("{left} edge"), format!("{right} edge")),
            _ => (self.rail.clone(), "bottom edge".to_owned()),
        };
        let (zero, far) = match (self.facing, self.front) {
            (_, FrontAt::Left | FrontAt::Right) => ("front edge".into(), "rear edge".into()),
            // Seen from behind, and from above with the front at the top, the vehicle's left is at the picture's left.
            (Facing::Behind, _) | (_, FrontAt::Top) => {
                (format!("{left} edge"), format!("{right} edge"))
            }
            _ => (format!("{right} edge"), format!("{left} edge")),
        };
        EdgeNames {
            zero,
            far,
            upper: upper_lower.0,
            lower: upper_lower.1,
        }
    }
}
