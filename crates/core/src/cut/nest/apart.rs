//! Shorter than any order of laying gives: the roll is made a little shorter than the best layout, so that pieces lie over each other, and they
//! are moved apart one by one to where they overlap least. Pairs that go on overlapping weigh more and more, until they part (guided local search).
//!
//! How deep two overlap is looked up ([`super::depths`]), or told by the cells that they have in common where no table is kept.
//! Pieces are the masks of [`super::raster`]. By the centres of cells, what does not overlap there keeps its gap to about a cell: it is spread and
//! closed up by its outlines afterwards ([`super::closer`]). Where a layout becomes no shorter for long, pieces are laid anew: the shortest one is kept.

use std::sync::Arc;

use super::depths::{Depths, View};
use super::flat::{Flat, common};
use super::problem::{Bin, Laid};
use super::random::Random;
use super::raster::Raster;

/// Places tried anywhere on the roll for a piece that overlaps.
const ANYWHERE: usize = 40;
/// Places tried near where it lies.
const NEAR: usize = 20;
/// The best of them that are followed to where they overlap least.
const FOLLOWED: usize = 3;
/// Rounds without less overlap after which a layout is given up.
const PATIENCE: u32 = 60;
/// The first try at a shorter roll, as a share of it; halved when it fails.
const FIRST_SHARE: f64 = 0.02;
/// So many tries given up in a row, and pieces are laid anew, anywhere on a longer roll: the search has come to an end there.
const STALE: u32 = 120;
/// How much longer than the shortest layout a roll is that pieces are laid anew on.
const ANEW: f64 = 1.05;
/// The least that a roll is shortened by, as a share: about one cell.
const LEAST_SHARE: f64 = 0.001;
/// The same where pieces are only drawn closer: the first try, the last, and how far from where it lies a piece is looked for, cells.
const CLOSER_SHARES: (f64, f64) = (0.004, 0.0002);
const CLOSER_REACH: usize = 12;

/// Where a piece lies: which way round, and the cell of its corner.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Place {
    way: usize,
    x: usize,
    y: usize,
}

/// Another piece as one that is moved sees it.
struct Other<'a> {
    flat: &'a Flat,
    /// Cells that it lies in, along and across.
    from: (i32, i32),
    to: (i32, i32),
    /// How much overlapping with it weighs.
    weight: f64,
    /// Where both are looked up, by the ways round of the one that is moved.
    views: [View; 4],
}

/// The search on one roll.
#[derive(Debug, Clone)]
pub struct Apart {
    bin: usize,
    on: Bin,
    cell_mm: f64,
    /// Cells across the roll.
    wide: usize,
    /// Pieces on it, each with its ways round.
    pieces: Vec<usize>,
    ways: Vec<Vec<Flat>>,
    /// How deep they overlap; nothing, and their cells are compared.
    depths: Option<Arc<Depths>>,
    /// Pieces are looked for near where they lie only: the layout stays as it is and is drawn closer.
    closer: bool,
    /// The shortest layout without any overlap, and its length, mm.
    best: Vec<Place>,
    best_mm: f64,
    /// The shortest layout of all that were begun, mm.
    shortest_mm: f64,
    /// Tries given up since a layout became shorter.
    stale: u32,
    /// What is worked on, for a roll so long, mm.
    now: Vec<Place>,
    wanted_mm: f64,
    share: f64,
    weights: Vec<f64>,
    least: f64,
    patience: u32,
    random: Random,
}

impl Apart {
    /// From a layout on one roll, for layouts that are looked at again by their outlines or not; nothing where fewer than two pieces lie on it.
    pub fn of(
        raster: &Raster,
        laid: &[Laid],
        bin: usize,
        on: &Bin,
        looked_at_again: bool,
        depths: Option<Arc<Depths>>,
    ) -> Option<Apart> {
        let wide = raster.cells_across(on);
        let (mut pieces, mut ways, mut best) = (Vec::new(), Vec::new(), Vec::new());
        let cell_mm = raster.cell_mm();
        let mut best_mm: f64 = 0.0;
        for l in laid.iter().filter(|l| l.bin == bin) {
            let own: Vec<Flat> = raster
                .masks_of(l.piece, looked_at_again)
                .iter()
                .map(Flat::of)
                .collect();
            // A way round that looks like another one is kept once.
            let way = own.iter().position(|f| f.mask.quarters == l.quarters);
            let way = way.unwrap_or(0);
            let flat = own.get(way)?;
            let inset = flat.mask.inset_mm;
            if flat.across > wide && inset.1 > 1e-9 {
                // It takes the whole width, and would not lie where its cells say.
                return None;
            }
            let cell = |mm: f64| (mm / cell_mm).round().max(0.0) as usize;
            best.push(Place {
                way,
                x: cell(l.at.x - inset.0),
                y: cell(l.at.y - inset.1).min(wide.saturating_sub(flat.across)),
            });
            best_mm = best_mm.max(l.at.x + flat.mask.along_mm);
            pieces.push(l.piece);
            ways.push(own);
        }
        let n = pieces.len();
        (n >= 2).then(|| Apart {
            bin,
            on: *on,
            cell_mm,
            wide,
            pieces,
            ways,
            depths,
            closer: false,
            now: best.clone(),
            best,
            best_mm,
            shortest_mm: best_mm,
            stale: 0,
            wanted_mm: best_mm,
            share: FIRST_SHARE,
            weights: vec![1.0; n * n],
            least: f64::INFINITY,
            patience: 0,
            random: Random::new(0x2545_F491_4F6C_DD1D),
        })
    }

    /// Only draws the layout closer.
    pub fn only_closer(mut self) -> Apart {
        self.closer = true;
        self.share = CLOSER_SHARES.0;
        self
    }

    /// Tries given up since a layout became shorter.
    pub fn stale(&self) -> u32 {
        self.stale
    }

    /// One round: every piece that overlaps is moved once. Where none does any more, the shorter layout, and the next shorter one is begun.
    pub fn round(&mut self) -> Option<Vec<Laid>> {
        if self.wanted_mm >= self.best_mm {
            self.shorten();
        }
        let n = self.now.len();
        let mut order: Vec<usize> = (0..n).filter(|i| self.overlaps(*i)).collect();
        for i in (1..order.len()).rev() {
            order.swap(i, self.random.below(i + 1));
        }
        for i in order {
            self.move_one(i);
        }
        let total = self.weigh();
        if total == 0.0 {
            self.best.clone_from(&self.now);
            self.best_mm = self.length_mm(&self.now);
            self.stale = 0;
            // What is a little longer may be shorter once it is closed up.
            let near = self.best_mm < self.shortest_mm + 2.0 * self.cell_mm;
            self.shortest_mm = self.shortest_mm.min(self.best_mm);
            return near.then(|| self.laid());
        }
        if total < self.least * 0.995 {
            self.least = total;
            self.patience = 0;
        } else {
            self.patience += 1;
        }
        if self.patience > PATIENCE {
            self.give_up();
        }
        None
    }

    /// The layout, as it lies on the roll.
    fn laid(&self) -> Vec<Laid> {
        let places = self.best.iter().zip(&self.pieces).zip(&self.ways);
        places
            .filter_map(|((p, piece), ways)| {
                let mask = &ways.get(p.way)?.mask;
                Some(Laid {
                    piece: *piece,
                    bin: self.bin,
                    at: mask.at(p.x, p.y, self.cell_mm, &self.on),
                    quarters: mask.quarters,
                })
            })
            .collect()
    }

    fn length_mm(&self, places: &[Place]) -> f64 {
        (places.iter().zip(&self.ways))
            .filter_map(|(p, ways)| {
                let mask = &ways.get(p.way)?.mask;
                Some(p.x as f64 * self.cell_mm + mask.inset_mm.0 + mask.along_mm)
            })
            .fold(0.0, f64::max)
    }

    /// Begins a roll that is shorter by the share: what lies past a place somewhere on it is moved towards the free end.
    fn shorten(&mut self) {
        self.wanted_mm = self.best_mm * (1.0 - self.share);
        self.now.clone_from(&self.best);
        let by = ((self.best_mm - self.wanted_mm) / self.cell_mm).ceil() as usize;
        let columns = (self.best_mm / self.cell_mm) as usize;
        let cut = self.random.below(columns.max(1));
        for p in &mut self.now {
            if p.x > cut {
                p.x = p.x.saturating_sub(by);
            }
        }
        self.begin();
    }

    /// The next step is smaller; after the smallest, the first one again.
    fn smaller_step(&mut self) {
        let (first, least) = match self.closer {
            true => CLOSER_SHARES,
            false => (FIRST_SHARE, LEAST_SHARE),
        };
        self.share *= 0.6;
        if self.share < least {
            self.share = first;
        }
    }

    /// Gave up on a length: another step, from the best layout with some of its pieces elsewhere, now and then from none at all.
    fn give_up(&mut self) {
        self.stale += 1;
        if self.closer {
            self.smaller_step();
            self.shorten();
            return;
        }
        if !self.best_mm.is_finite() {
            // Not even on the longer roll.
            self.wanted_mm *= 1.01;
            self.begin();
            return;
        }
        if self.stale > STALE {
            self.stale = 0;
            self.best_mm = f64::INFINITY;
            self.wanted_mm = self.shortest_mm * ANEW;
            self.share = FIRST_SHARE;
            for i in 0..self.now.len() {
                self.put_anywhere(i);
            }
            self.begin();
            return;
        }
        self.smaller_step();
        self.shorten();
        let n = self.now.len();
        match self.random.below(24) {
            0 => {
                for i in 0..n {
                    self.put_anywhere(i);
                }
            }
            1..=4 => {
                for _ in 0..1 + n / 6 {
                    let i = self.random.below(n);
                    self.put_anywhere(i);
                }
            }
            _ => {
                for _ in 0..1 + self.random.below(2) {
                    self.change_places();
                }
            }
        }
        self.begin();
    }

    /// Two pieces in each other's place: a large one and one that is about as large.
    fn change_places(&mut self) {
        let n = self.now.len();
        let cells = |i: usize| self.flat(i, 0).map_or(0.0, |f| f.cells);
        let mut order: Vec<usize> = (0..n).collect();
        order.sort_by(|a, b| cells(*b).total_cmp(&cells(*a)));
        // The largest most often.
        let first = self.random.below(n).min(self.random.below(n));
        let second = (first + 1 + self.random.below(n / 3 + 1)) % n;
        let (Some(a), Some(b)) = (order.get(first), order.get(second)) else {
            return;
        };
        if let (Some(p), Some(q)) = (self.now.get(*a).copied(), self.now.get(*b).copied()) {
            for (i, at) in [(*a, q), (*b, p)] {
                if let Some(own) = self.now.get_mut(i) {
                    (own.x, own.y) = (at.x, at.y);
                }
            }
        }
    }

    /// A piece anywhere on the roll, any way round.
    fn put_anywhere(&mut self, i: usize) {
        let ways = self.ways.get(i).map_or(0, Vec::len);
        let way = self.random.below(ways);
        let Some((x, y)) = self.room(i, way) else {
            return;
        };
        let place = Place {
            way,
            x: self.random.below(x + 1),
            y: self.random.below(y + 1),
        };
        if let Some(own) = self.now.get_mut(i) {
            *own = place;
        }
    }

    /// Weights of a new try, and everything within the roll.
    fn begin(&mut self) {
        self.weights.fill(1.0);
        self.least = f64::INFINITY;
        self.patience = 0;
        for i in 0..self.now.len() {
            let Some(p) = self.now.get(i).copied() else {
                continue;
            };
            if let Some((x, y)) = self.room(i, p.way)
                && let Some(own) = self.now.get_mut(i)
            {
                (own.x, own.y) = (p.x.min(x), p.y.min(y));
            }
        }
    }

    /// The last cell along and across at which a piece is on the roll, that way round; nothing where it is too large.
    fn room(&self, i: usize, way: usize) -> Option<(usize, usize)> {
        let flat = self.ways.get(i)?.get(way)?;
        let x = flat.mask.last_along(self.wanted_mm, self.cell_mm)?;
        let y = self.wide.checked_sub(flat.across);
        // Its film fits, and only the space round it reaches past the edge of the roll.
        let lies = self.now.get(i).is_some_and(|p| p.way == way);
        Some((x, y.or(lies.then_some(0))?))
    }

    fn flat(&self, i: usize, way: usize) -> Option<&Flat> {
        self.ways.get(i)?.get(way)
    }

    /// The other pieces as this one sees them, those first with which overlapping weighs most: what costs too much is soon left.
    fn others(&self, i: usize) -> Vec<Other<'_>> {
        let n = self.now.len();
        let mut others: Vec<Other> = (0..n).filter_map(|j| self.other(i, j)).collect();
        others.sort_by(|a, b| b.weight.total_cmp(&a.weight));
        others
    }

    fn other(&self, i: usize, j: usize) -> Option<Other<'_>> {
        let q = self.now.get(j).filter(|_| i != j)?;
        let flat = self.flat(j, q.way)?;
        let mut views = [View::default(); 4];
        if let Some(depths) = &self.depths {
            let (own, other) = (*self.pieces.get(i)?, *self.pieces.get(j)?);
            for (view, way) in views.iter_mut().zip(self.ways.get(i)?) {
                *view = depths.view((own, way.mask.quarters), (other, flat.mask.quarters));
            }
        }
        let from = (q.x as i32, q.y as i32);
        let to = (from.0 + flat.along as i32, from.1 + flat.across as i32);
        let weight = self.weights.get(i * self.now.len() + j);
        Some(Other {
            flat,
            from,
            to,
            weight: weight.copied().unwrap_or(1.0),
            views,
        })
    }

    /// How deep a piece overlaps another one, cells: how far it has to be moved; without a table, their common cells over the root of the smaller one's.
    fn depth(&self, own: &Flat, at: Place, other: &Other) -> f64 {
        let (x, y) = (at.x as i32, at.y as i32);
        let (to_x, to_y) = (x + own.along as i32, y + own.across as i32);
        if x >= other.to.0 || other.from.0 >= to_x || y >= other.to.1 || other.from.1 >= to_y {
            return 0.0;
        }
        match (&self.depths, other.views.get(at.way)) {
            (Some(depths), Some(view)) => depths.depth(*view, (other.from.0 - x, other.from.1 - y)),
            _ => {
                let there = (other.from.0 as usize, other.from.1 as usize);
                let cells = common(own, (at.x, at.y), other.flat, there);
                f64::from(cells) / own.root.min(other.flat.root)
            }
        }
    }

    fn overlaps(&self, i: usize) -> bool {
        let Some(at) = self.now.get(i).copied() else {
            return false;
        };
        let Some(own) = self.flat(i, at.way) else {
            return false;
        };
        (0..self.now.len())
            .filter_map(|j| self.other(i, j))
            .any(|other| self.depth(own, at, &other) > 0.0)
    }

    /// Weighed overlap of a piece at a place; no more than `most` is counted out.
    fn cost(&self, i: usize, at: Place, others: &[Other], most: f64) -> f64 {
        let Some(own) = self.flat(i, at.way) else {
            return f64::INFINITY;
        };
        let mut sum = 0.0;
        for other in others {
            sum += self.depth(own, at, other) * other.weight;
            if sum > most {
                return sum;
            }
        }
        sum
    }

    /// Moves a piece to where it overlaps least of what is tried.
    fn move_one(&mut self, i: usize) {
        let Some(at) = self.now.get(i).copied() else {
            return;
        };
        let mut random = self.random.clone();
        let to = self.least_of(i, at, &mut random);
        self.random = random;
        if let Some(own) = self.now.get_mut(i) {
            *own = to;
        }
    }

    fn least_of(&self, i: usize, at: Place, random: &mut Random) -> Place {
        let others = self.others(i);
        let mut found = vec![(self.cost(i, at, &others, f64::INFINITY), at)];
        let ways = self.ways.get(i).map_or(0, Vec::len);
        let rooms: Vec<Option<(usize, usize)>> = (0..ways).map(|w| self.room(i, w)).collect();
        let (anywhere, reach) = match self.closer {
            true => (0, CLOSER_REACH),
            false => (ANYWHERE, 12 + self.wide / 20),
        };
        for n in 0..anywhere + NEAR {
            let (way, near) = if n < anywhere {
                (random.below(ways), false)
            } else {
                (at.way, true)
            };
            let Some((x, y)) = rooms.get(way).copied().flatten() else {
                continue;
            };
            let place = if near {
                let mut around = |from: usize, most: usize| {
                    (from + random.below(2 * reach + 1))
                        .saturating_sub(reach)
                        .min(most)
                };
                Place {
                    way,
                    x: around(at.x, x),
                    y: around(at.y, y),
                }
            } else {
                Place {
                    way,
                    x: random.below(x + 1),
                    y: random.below(y + 1),
                }
            };
            let most = found.get(FOLLOWED).map_or(f64::INFINITY, |f| f.0);
            let cost = self.cost(i, place, &others, most);
            if cost < most {
                let before = found.partition_point(|f| f.0 <= cost);
                found.insert(before, (cost, place));
                found.truncate(FOLLOWED + 1);
            }
            if cost == 0.0 {
                break;
            }
        }
        let mut best = (f64::INFINITY, at);
        for (cost, place) in found {
            let room = rooms.get(place.way).copied().flatten();
            let followed = match room {
                Some(room) => self.follow(i, place, cost, &others, room),
                None => (cost, place),
            };
            if followed.0 < best.0 {
                best = followed;
            }
            if best.0 == 0.0 {
                break;
            }
        }
        best.1
    }

    /// Follows a place to where it overlaps least round about: along and across, in steps that become smaller.
    fn follow(
        &self,
        i: usize,
        from: Place,
        cost: f64,
        others: &[Other],
        (x, y): (usize, usize),
    ) -> (f64, Place) {
        let (mut best, mut at) = (cost, from);
        let mut step = (self.wide / 32).max(2) as isize;
        while step >= 1 && best > 0.0 {
            let mut better = false;
            for (dx, dy) in [
                (-step, 0),
                (0, step),
                (0, -step),
                (step, 0),
                (-step, step),
                (-step, -step),
            ] {
                let to = Place {
                    way: at.way,
                    x: at.x.saturating_add_signed(dx).min(x),
                    y: at.y.saturating_add_signed(dy).min(y),
                };
                if to == at {
                    continue;
                }
                let cost = self.cost(i, to, others, best);
                if cost < best {
                    (best, at, better) = (cost, to, true);
                }
            }
            if !better {
                step /= 2;
            }
        }
        (best, at)
    }

    /// Weighs pairs by how deep they overlap, and gives the sum of it, unweighed.
    fn weigh(&mut self) -> f64 {
        let n = self.now.len();
        let mut depths = vec![0.0; n * n];
        let (mut sum, mut deepest) = (0.0, 0.0_f64);
        for i in 0..n {
            let Some(at) = self.now.get(i).copied() else {
                continue;
            };
            let Some(own) = self.flat(i, at.way) else {
                continue;
            };
            for j in i + 1..n {
                let other = self.other(i, j);
                let depth = other.map_or(0.0, |other| self.depth(own, at, &other));
                for k in [i * n + j, j * n + i] {
                    if let Some(d) = depths.get_mut(k) {
                        *d = depth;
                    }
                }
                sum += depth;
                deepest = deepest.max(depth);
            }
        }
        for (weight, depth) in self.weights.iter_mut().zip(depths) {
            *weight = if depth > 0.0 {
                *weight * (1.2 + 0.8 * depth / deepest)
            } else {
                (*weight * 0.95).max(1.0)
            };
        }
        sum
    }
}
