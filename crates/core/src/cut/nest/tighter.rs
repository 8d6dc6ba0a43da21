//! The last of a layout's length: what was found on coarse cells is drawn closer on fine ones, where pieces leave little more than the gap between
//! them. Only once a layout has become no shorter for a while, since it takes seconds.

use super::apart::Apart;
use super::problem::{Bin, Laid, NestPiece};
use super::raster::Raster;

/// So many times finer than the cells of the search.
const FINER: f64 = 6.0;
/// Tries given up until a layout is drawn closer, and until that is left.
const SETTLED: u32 = 12;
const LEFT: u32 = 24;

/// What waits to be drawn closer, and what is.
#[derive(Debug, Clone)]
pub struct Tighter {
    fine: Option<Raster>,
    /// With its length, mm.
    waiting: Option<(f64, Vec<Laid>)>,
    running: Option<Apart>,
    /// The shortest layout that was drawn closer so far, as it was before, mm.
    shortest_mm: f64,
}

impl Tighter {
    /// Nothing waits.
    pub fn new() -> Tighter {
        Tighter {
            fine: None,
            waiting: None,
            running: None,
            shortest_mm: f64::INFINITY,
        }
    }

    /// What lay on the roll counts no more.
    pub fn forget(&mut self) {
        self.waiting = None;
        self.running = None;
        self.shortest_mm = f64::INFINITY;
    }

    /// A layout of one roll that was found: one hardly longer than those before may become shorter than they did.
    pub fn offer(&mut self, laid: Vec<Laid>, length_mm: f64, cell_mm: f64) {
        let shorter = self.waiting.as_ref().is_none_or(|w| length_mm < w.0);
        if shorter && length_mm < self.shortest_mm + cell_mm {
            self.shortest_mm = self.shortest_mm.min(length_mm);
            self.waiting = Some((length_mm, laid));
        }
    }

    /// Whether it has work, where the search has given up so many tries since it found something.
    pub fn has_work(&self, stale: u32) -> bool {
        self.running.is_some() || (self.waiting.is_some() && stale >= SETTLED)
    }

    /// One round; the layout, where it became shorter.
    pub fn round(
        &mut self,
        pieces: &[NestPiece],
        bins: &[Bin],
        gap_mm: f64,
        looked_at_again: bool,
    ) -> Option<Vec<Laid>> {
        if let Some((_, laid)) = self.waiting.take() {
            let fine =
                (self.fine).get_or_insert_with(|| Raster::finer(pieces, bins, gap_mm, FINER));
            let bin = laid.first()?.bin;
            let apart = Apart::of(fine, &laid, bin, bins.get(bin)?, looked_at_again, None);
            self.running = apart.map(Apart::only_closer);
        }
        let running = self.running.as_mut()?;
        let found = running.round();
        if running.stale() > LEFT {
            self.running = None;
        }
        found
    }
}
