//! What weighs how much when a better spot is looked for. A shop may change the weights; hard conflicts have none: nothing is ever
//! traded against them.

use serde::{Deserialize, Serialize};

/// Weights of soft conflicts, in points. Defaults are Windrift's, no source; each says why.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Weights {
    /// A cut edge on a rivet head: it lifts there first.
    pub edge_on_head: f64,
    /// A head under film: it must be worked down by heat and brush.
    pub covered_head: f64,
    /// An upright cut edge along a seam: water gets in under it.
    pub edge_along_line: f64,
    /// Film across a seam or door gap: it must be cut and turned in there.
    pub crossed_line: f64,
    /// A letter that crosses a crease: the film bridges it and pulls off later.
    pub crossed_crease: f64,
    /// A letter in a recess, a hollow or on texture.
    pub in_zone: f64,
}

impl Default for Weights {
    fn default() -> Self {
        Weights {
            edge_on_head: 20.0,
            covered_head: 2.0,
            edge_along_line: 15.0,
            crossed_line: 3.0,
            crossed_crease: 6.0,
            in_zone: 5.0,
        }
    }
}

impl Weights {
    /// Whether every weight can be used: 0 to 1000.
    pub fn check(&self) -> Result<(), &'static str> {
        let all = [
            self.edge_on_head,
            self.covered_head,
            self.edge_along_line,
            self.crossed_line,
            self.crossed_crease,
            self.in_zone,
        ];
        if all.iter().all(|w| (0.0..=1000.0).contains(w)) {
            Ok(())
        } else {
            Err("A weight must be between 0 and 1000 points. 0 leaves the thing out of account.")
        }
    }
}
