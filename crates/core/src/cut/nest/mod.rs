//! Everything of one film on rolls and offcuts: as short as can be found, beside what no layout can fall below.
//!
//! Along a roll is x, from its free end; across it is y. A piece lies by its outline: rectangles on a skyline, true shapes on a fine grid
//! that errs towards keeping apart. As long as somebody looks ([`Nester::improve`]), other orders of laying are tried; rectangles are laid in many layouts
//! at once, and true shapes moved apart on a roll that is made shorter and shorter, and drawn closer on finer cells once it becomes no shorter.

mod apart;
mod beam;
mod closer;
mod depths;
mod flat;
pub mod problem;
mod random;
pub mod raster;
pub mod skyline;
mod tighter;

pub use depths::overlap_depth_mm;
pub use problem::{Bin, Laid, Nest, NestPiece, Turns};

use apart::Apart;
use beam::Beam;
use depths::Depths;
use random::Random;
use std::sync::Arc;
use thiserror::Error;
use tighter::Tighter;

use crate::ground::outline::bounds_of_shapes;

/// Most pieces that are nested in one go.
pub const MOST_PIECES: usize = 400;

/// Less than this of its box filled, and a piece is nested by its true shape (ours).
const BOXY: f64 = 0.92;

/// Of so many tries at true shapes one is an order of laying.
const ORDER_EACH: u64 = 400;

/// Of two searches the one that found the best layout gets so many times the work of the other (ours).
const LEADS: u64 = 4;

/// So many pairs of pieces are looked at in one go, until it is known how deep all of them overlap: hundredths of a second.
const PAIRS_AT_ONCE: usize = 8;

/// What is known of how deep pieces overlap.
#[derive(Debug, Clone)]
enum Known {
    /// Nobody has asked.
    Nothing,
    /// Some pairs.
    Some(Depths),
    /// All of them.
    All(Arc<Depths>),
    /// It would be too much to keep.
    TooMuch,
}

/// Pieces without room, length of roll, and what is walled in on the way: of layouts as long as each other, the denser one leads on.
type Weight = (usize, f64, f64);

/// No layout yet.
const NONE: Weight = (usize::MAX, f64::INFINITY, f64::INFINITY);

/// What cannot be nested.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum NestError {
    /// A piece that no roll can take.
    #[error("Piece {0} is larger than every roll and offcut of this film that is left.")]
    TooLarge(usize),
    /// Too many.
    #[error("{0} pieces are more than are laid out in one go ({MOST_PIECES}).")]
    TooMany(usize),
}

/// No layout on these rolls is shorter than this, mm: the largest of area over width, the longest piece, and the lengths together of pieces
/// that no two of lie beside each other. What offcuts can take counts for nothing.
pub fn least_mm(pieces: &[NestPiece], bins: &[Bin], gap_mm: f64) -> f64 {
    let rolls = bins.iter().filter(|b| !b.offcut);
    let width = rolls.map(|b| b.width_mm).fold(0.0, f64::max);
    if width <= 0.0 {
        return 0.0;
    }
    let sizes: Vec<(f64, f64, f64)> = (pieces.iter())
        .map(|p| {
            let b = bounds_of_shapes(&p.shapes);
            let (w, h) = (b.width(), b.height());
            // Along the roll, and across it, as it may be turned: the least of both.
            let (along, across) = match p.turns {
                Turns::Quarters if w <= width && h <= width => (w.min(h), w.min(h)),
                // Only the other way fits.
                Turns::Quarters if h > width => (h, w),
                _ => (w, h),
            };
            (along, across, p.area())
        })
        .collect();
    let offcuts: Vec<&Bin> = bins.iter().filter(|b| b.offcut).collect();
    let spare: f64 = offcuts.iter().map(|b| b.width_mm * b.length_mm).sum();
    let whole: f64 = sizes.iter().map(|s| s.2).sum();
    // Whatever the offcuts take at the most is left out; what fits none of them lies on a roll for certain.
    let boxes = skyline::Boxes::of(pieces, gap_mm);
    let on_a_roll = |n: &usize| !offcuts.iter().any(|b| boxes.fits(*n, b));
    let sizes: Vec<(f64, f64, f64)> = (sizes.into_iter().enumerate())
        .filter(|(n, _)| on_a_roll(n))
        .map(|(_, size)| size)
        .collect();
    let area = sizes.iter().map(|s| s.2).sum::<f64>().max(whole - spare) / width;
    let longest = sizes.iter().map(|s| s.0).fold(0.0, f64::max);
    let wide: Vec<f64> = (sizes.iter())
        .filter(|s| 2.0 * s.1 + gap_mm > width)
        .map(|s| s.0)
        .collect();
    // Between pieces on different rolls there is no gap.
    let count = bins.iter().filter(|b| !b.offcut).count();
    let gaps = gap_mm * wide.len().saturating_sub(count) as f64;
    area.max(longest).max(wide.iter().sum::<f64>() + gaps)
}

/// Lays pieces on rolls and goes on improving.
///
/// ```
/// use windrift_core::cut::nest::{Bin, NestPiece, Nester, Turns};
/// // Four panels of 1300 by 600 mm on a roll 1370 wide: each across it, one after the other, 10 mm apart.
/// let pieces: Vec<NestPiece> = (0..4).map(|_| NestPiece::rectangle(600.0, 1300.0, Turns::None)).collect();
/// let roll = Bin { width_mm: 1370.0, length_mm: 20_000.0, offcut: false };
/// let mut nester = Nester::new(pieces, vec![roll], 10.0).unwrap();
/// nester.improve(20);
/// assert!((nester.best().used_mm[0] - 2430.0).abs() < 1e-6);
/// assert!((nester.least_mm() - 2430.0).abs() < 1e-6);
/// ```
#[derive(Debug, Clone)]
pub struct Nester {
    pieces: Vec<NestPiece>,
    bins: Vec<Bin>,
    gap_mm: f64,
    shapes: Option<raster::Raster>,
    boxes: skyline::Boxes,
    order: Vec<usize>,
    /// Orders to begin with that are still to be tried.
    firsts: Vec<Vec<usize>>,
    current: Weight,
    best: Nest,
    best_by: Weight,
    least_mm: f64,
    /// Whether layouts are looked at again by the outlines of their pieces, which are not too many for that.
    looked_at_again: bool,
    /// The search that moves true shapes apart on the longest roll of the best layout.
    apart: Option<Apart>,
    /// What it asks how deep pieces overlap.
    depths: Known,
    /// What draws its layouts closer.
    tighter: Tighter,
    /// The one that lays rectangles in many layouts at once, on the same roll.
    beam: Option<Beam>,
    /// What orders and layouts at once have cost so far.
    work: [u64; 2],
    /// Whether the best layout came of many at once: whichever found it gets most of the time.
    at_once: bool,
    random: Random,
    tried: u64,
}

impl Nester {
    /// Lays them out once, the largest first.
    ///
    /// Errors: too many, or one that no roll can take.
    pub fn new(pieces: Vec<NestPiece>, bins: Vec<Bin>, gap_mm: f64) -> Result<Nester, NestError> {
        if pieces.len() > MOST_PIECES {
            return Err(NestError::TooMany(pieces.len()));
        }
        let boxes = skyline::Boxes::of(&pieces, gap_mm);
        for n in 0..pieces.len() {
            if !bins.iter().any(|b| boxes.fits(n, b)) {
                return Err(NestError::TooLarge(n + 1));
            }
        }
        let filled = |p: &NestPiece| {
            let b = bounds_of_shapes(&p.shapes);
            p.area() / (b.width() * b.height()).max(1e-9)
        };
        let shaped = pieces.iter().any(|p| filled(p) < BOXY);
        let shapes = shaped.then(|| raster::Raster::of(&pieces, &bins, gap_mm));
        let least_mm = least_mm(&pieces, &bins, gap_mm);
        let mut nester = Nester {
            boxes,
            shapes,
            order: Vec::new(),
            firsts: Vec::new(),
            current: NONE,
            best: Nest {
                laid: Vec::new(),
                used_mm: vec![0.0; bins.len()],
                walled_in_mm2: 0.0,
            },
            best_by: NONE,
            least_mm,
            looked_at_again: closer::can_look_at(&pieces),
            apart: None,
            depths: Known::Nothing,
            tighter: Tighter::new(),
            beam: None,
            work: [0; 2],
            at_once: true,
            random: Random::new(0x9E37_79B9_7F4A_7C15),
            tried: 0,
            pieces,
            bins,
            gap_mm,
        };
        nester.firsts = nester.first_orders();
        if let Some(first) = nester.firsts.pop() {
            nester.take(first);
        }
        Ok(nester)
    }

    /// The best layout so far.
    pub fn best(&self) -> &Nest {
        &self.best
    }

    /// Pieces that found no room in it.
    pub fn left_over(&self) -> usize {
        self.best_by.0
    }

    /// No layout is shorter, mm.
    pub fn least_mm(&self) -> f64 {
        self.least_mm
    }

    /// Layouts tried so far.
    pub fn tried(&self) -> u64 {
        self.tried
    }

    /// Whether nothing is left to gain.
    pub fn done(&self) -> bool {
        self.best_by.0 == 0 && self.best_by.1 <= self.least_mm + 1e-6
    }

    /// Pieces as they were given.
    pub fn pieces(&self) -> &[NestPiece] {
        &self.pieces
    }

    /// Space between pieces, mm.
    pub fn gap_mm(&self) -> f64 {
        self.gap_mm
    }

    /// Tries so many more orders of pieces; the best layout is kept, and never becomes worse.
    pub fn improve(&mut self, tries: u32) {
        for _ in 0..tries {
            if self.done() {
                return;
            }
            if let Some(first) = self.firsts.pop() {
                self.take(first);
                continue;
            }
            // True shapes are mostly moved apart; an order of laying is tried now and then, for where it begins from.
            if !self.tried.is_multiple_of(ORDER_EACH) && self.move_apart() {
                continue;
            }
            let [orders, at_once] = self.work;
            let behind = match self.at_once {
                true => at_once <= LEADS * orders,
                false => LEADS * at_once <= orders,
            };
            if behind && self.lay_at_once() {
                continue;
            }
            let mut order = self.order.clone();
            let n = order.len();
            if n < 2 {
                return;
            }
            // Mostly two change places; now and then one moves, or the search begins anew from the best.
            let (a, b) = (self.random.below(n), self.random.below(n));
            match self.random.below(10) {
                0..=6 => order.swap(a, b),
                7 | 8 => {
                    let piece = order.remove(a);
                    order.insert(b.min(order.len()), piece);
                }
                _ => {
                    let (from, to) = (a.min(b), a.max(b));
                    if let Some(part) = order.get_mut(from..=to) {
                        part.reverse();
                    }
                }
            }
            self.take(order);
        }
    }

    /// One round of moving the pieces of the longest roll apart; no where there are none to move: boxes, one piece, offcuts alone.
    fn move_apart(&mut self) -> bool {
        let Some(shapes) = &self.shapes else {
            return false;
        };
        if self.apart.is_none() {
            let (count, again) = (self.pieces.len(), self.looked_at_again);
            self.depths = match std::mem::replace(&mut self.depths, Known::TooMuch) {
                Known::Nothing => {
                    Depths::of(shapes, count, again).map_or(Known::TooMuch, Known::Some)
                }
                Known::Some(mut depths) => match depths.grow(PAIRS_AT_ONCE) {
                    true => Known::All(Arc::new(depths)),
                    false => Known::Some(depths),
                },
                known => known,
            };
            if matches!(self.depths, Known::Some(_)) {
                return true;
            }
            let depths = match &self.depths {
                Known::All(depths) => Some(depths.clone()),
                _ => None,
            };
            self.apart = self
                .longest_roll()
                .and_then(|(n, bin)| Apart::of(shapes, &self.best.laid, n, bin, again, depths));
            self.tighter.forget();
        }
        let cell_mm = shapes.cell_mm();
        let Some(apart) = self.apart.as_mut() else {
            return false;
        };
        self.tried += 1;
        if self.tighter.has_work(apart.stale()) {
            let (pieces, bins) = (&self.pieces, &self.bins);
            let again = self.looked_at_again;
            if let Some(found) = self.tighter.round(pieces, bins, self.gap_mm, again) {
                self.take_apart(found);
            }
        } else if let Some(found) = apart.round()
            && let Some((laid, length_mm)) = self.take_apart(found)
        {
            self.tighter.offer(laid, length_mm, cell_mm);
        }
        true
    }

    /// The roll, no offcut, of which the best layout takes most.
    fn longest_roll(&self) -> Option<(usize, &Bin)> {
        let used = self.best.used_mm.iter().zip(&self.bins).enumerate();
        let rolls = used.filter(|(_, (_, bin))| !bin.offcut);
        let longest = rolls.max_by(|a, b| a.1.0.total_cmp(b.1.0));
        longest.map(|(n, (_, bin))| (n, bin))
    }

    /// One level of many layouts at once for the rectangles of the longest roll, and for what has found no room yet; no where there are true shapes
    /// among them, or too few.
    fn lay_at_once(&mut self) -> bool {
        if self.shapes.is_some() {
            return false;
        }
        if self.beam.is_none() {
            self.beam = self.longest_roll().and_then(|(n, bin)| {
                let mut here = vec![true; self.pieces.len()];
                for laid in self.best.laid.iter().filter(|l| l.bin != n) {
                    if let Some(cell) = here.get_mut(laid.piece) {
                        *cell = false;
                    }
                }
                let pieces: Vec<usize> = (here.iter().enumerate())
                    .filter_map(|(piece, here)| here.then_some(piece))
                    .collect();
                let below = match self.left_over() {
                    0 => *self.best.used_mm.get(n)?,
                    _ => bin.length_mm + 2.0 * skyline::SAME_MM,
                };
                Beam::of(&self.boxes, &pieces, n, bin, below)
            });
        }
        let Some(beam) = self.beam.as_mut() else {
            return false;
        };
        self.tried += 1;
        self.work[1] += beam.work();
        if let Some(found) = beam.level() {
            self.at_once = true;
            self.take_roll(found);
        }
        true
    }

    /// Takes a layout of one roll where it is shorter, looked at again by its outlines; gives it as it was looked at, and how long it is, mm.
    fn take_apart(&mut self, found: Vec<Laid>) -> Option<(Vec<Laid>, f64)> {
        let bin = self.bins.get(found.first()?.bin)?;
        let laid = match self.looked_at_again {
            true => closer::closed_up(&self.pieces, &found, bin, self.gap_mm)?,
            false => found,
        };
        let length_mm = self.take_roll(laid.clone());
        Some((laid, length_mm))
    }

    /// Takes what lies on one roll in place of what lay on it, where that is shorter; how long it is, mm.
    fn take_roll(&mut self, found: Vec<Laid>) -> f64 {
        let Some(n) = found.first().map(|l| l.bin) else {
            return f64::INFINITY;
        };
        let ends = found.iter().filter_map(|l| {
            let size = self.pieces.get(l.piece)?.size(l.quarters);
            Some(l.at.x + size.0)
        });
        let used_mm = ends.fold(0.0, f64::max);
        let others = self.best.laid.iter().filter(|l| l.bin != n).copied();
        let mut nest = Nest {
            laid: others.chain(found).collect(),
            used_mm: self.best.used_mm.clone(),
            walled_in_mm2: 0.0,
        };
        if let Some(used) = nest.used_mm.get_mut(n) {
            *used = used_mm;
        }
        let weight = self.weight(&nest);
        if weight < self.best_by {
            self.best_by = weight;
            self.best = nest;
        }
        used_mm
    }

    fn take(&mut self, order: Vec<usize>) {
        self.tried += 1;
        self.work[0] += (2 * order.len() * order.len()) as u64;
        let by_boxes = self.boxes.lay(&order, &self.bins);
        let mut found = by_boxes;
        if let Some(shapes) = &self.shapes {
            let by_shapes = shapes.lay(&order, &self.bins);
            if self.weight(&by_shapes) < self.weight(&found) {
                found = by_shapes;
            }
        }
        let weight = self.weight(&found);
        // A little worse is taken now and then, so that the search does not stay where it is.
        let slack = if self.random.below(50) == 0 {
            1.002
        } else {
            1.0
        };
        let now = self.current;
        if weight <= now || weight.0 == now.0 && slack > 1.0 && weight.1 <= now.1 * slack {
            self.current = weight;
            self.order = order;
        }
        if weight < self.best_by {
            self.best_by = weight;
            self.best = found;
            self.apart = None;
            self.at_once = false;
            // Of one roll, that takes everything, the search goes on; of several, others may lie on the longest now.
            match (self.beam.as_mut(), self.best.used_mm.as_slice()) {
                (Some(beam), [used]) if weight.0 == 0 => beam.seek_below(*used),
                _ => self.beam = None,
            }
        }
    }

    fn weight(&self, nest: &Nest) -> Weight {
        (
            self.pieces.len() - nest.laid.len(),
            nest.length_mm(&self.bins),
            nest.walled_in_mm2,
        )
    }

    fn first_orders(&self) -> Vec<Vec<usize>> {
        let size = |n: &usize| {
            let b = self.pieces.get(*n).map(|p| bounds_of_shapes(&p.shapes));
            b.map_or((0.0, 0.0), |b| (b.width(), b.height()))
        };
        let by = |key: &dyn Fn((f64, f64)) -> f64| {
            let mut order: Vec<usize> = (0..self.pieces.len()).collect();
            order.sort_by(|a, b| key(size(b)).total_cmp(&key(size(a))));
            order
        };
        // The last one first.
        vec![
            by(&|(w, h)| w + h),
            by(&|(w, h)| w.max(h)),
            by(&|(_, h)| h),
            by(&|(w, _)| w),
            by(&|(w, h)| w * h),
        ]
    }
}
