//! Many layouts of boxes at once: a beam search on skylines. Level by level each layout that is kept takes one more piece into its lowest notch; of all
//! that come of it, those that waste least and lay large pieces first are kept, more of them each time the search begins again.

use std::collections::HashSet;
use std::hash::{DefaultHasher, Hash, Hasher};

use kurbo::Point;

use super::problem::{Bin, Laid};
use super::random::Random;
use super::skyline::{Boxes, SAME_MM, Step, lowest, raise, walls};

/// Of so many layouts that come of a level the best are looked for at once: what memory takes is bounded.
const AT_ONCE: usize = 200_000;
/// More than this is not looked at in one level: somebody waits to be told how far it is.
const MOST_OF_A_LEVEL: usize = 1_500_000;
/// So many layouts are kept with the known guides at the most, and so many with others at the least.
const KNOWN: usize = 512;
const FEW: f64 = 128.0;
/// A notch that something fits is left empty only where that wastes no more than this share of a mean piece.
const SKIPPED: f64 = 0.25;
/// What of a layout speaks for keeping it; each is tried in turn (ours, found by trying on rectangles cut up).
const GUIDES: [Guide; 3] = [
    Guide {
        first: 0.06,
        size: 0.5,
        steps: 3e-4,
    },
    Guide {
        first: 0.1,
        size: 0.5,
        steps: 0.0,
    },
    Guide {
        first: 0.06,
        size: 0.3,
        steps: 2e-4,
    },
];

/// How layouts are weighed: the share that is wasted, by how large the pieces are that lie already.
#[derive(Debug, Clone, Copy)]
struct Guide {
    /// Counts as wasted before anything is: the more, the earlier large pieces come.
    first: f64,
    /// Power of the mean area of what is laid.
    size: f64,
    /// What one more step of the skyline counts.
    steps: f64,
}

impl Guide {
    /// The less, the better.
    fn weigh(&self, waste: f64, area: f64, larger: f64, steps: usize) -> f64 {
        let share = waste / (area + waste).max(SAME_MM);
        (self.first + share + self.steps * steps as f64) * larger
    }

    /// The power of an area that is larger by a share: by its series, where that is small.
    fn larger_by(&self, share: f64) -> f64 {
        let s = self.size;
        if share > 0.2 {
            return (1.0 + share).powf(-s);
        }
        1.0 - s * share * (1.0 - (s + 1.0) * share / 2.0 * (1.0 - (s + 2.0) * share / 3.0))
    }
}

/// Boxes that are alike.
#[derive(Debug, Clone)]
struct Kind {
    pieces: Vec<usize>,
    /// Along and across, with the quarter turns.
    ways: Vec<(f64, f64, u8)>,
    /// The narrowest way across.
    across: f64,
    area: f64,
}

/// The front of a layout, and what is walled in behind it, mm².
#[derive(Debug, Clone)]
struct Front {
    line: Vec<Step>,
    waste: f64,
}

impl Front {
    /// Fills the lowest notch up to its lower wall; nothing where it has none.
    fn wall_in(&mut self) -> Option<()> {
        let (at, low) = lowest(&self.line)?;
        let [before, after] = walls(&self.line, at);
        let to = before.min(after);
        if !to.is_finite() {
            return None;
        }
        self.waste += low.wide * (to - low.x);
        raise(&mut self.line, at, low.y, low.wide, to);
        Some(())
    }

    /// Fills notches that are narrower than anything that is left.
    fn wall_in_below(&mut self, least: f64) {
        while let Some((_, low)) = lowest(&self.line) {
            if low.wide >= least - SAME_MM || self.wall_in().is_none() {
                return;
            }
        }
    }
}

/// A layout on its way.
#[derive(Debug, Clone)]
struct Node {
    front: Front,
    /// Of each kind, how many are still to be laid.
    left: Vec<u16>,
    /// What is laid, mm².
    area: f64,
    /// How far it reaches, with the gap.
    reach: f64,
    came: Option<u32>,
}

/// How a layout came to be: what was laid last, and after what.
#[derive(Debug, Clone, Copy)]
struct Came {
    after: Option<u32>,
    kind: u16,
    quarters: u8,
    at: Point,
}

/// What may come of a layout.
#[derive(Debug, Clone, Copy)]
struct Child {
    weight: f64,
    node: u32,
    kind: u16,
    way: u8,
    /// The lowest notch is filled up first.
    skips: bool,
    /// On the far side of its notch.
    far: bool,
}

/// Searches for a shorter layout of these pieces on one roll.
#[derive(Debug, Clone)]
pub(super) struct Beam {
    kinds: Vec<Kind>,
    bin: usize,
    gap_mm: f64,
    /// Width of the roll with a gap, mm.
    width: f64,
    /// A layout is sought that reaches less far than this, with a gap.
    below: f64,
    total: f64,
    count: usize,
    nodes: Vec<Node>,
    came: Vec<Came>,
    children: Vec<Child>,
    laid: usize,
    keep: usize,
    guide: Guide,
    begun: usize,
    random: Random,
}

impl Beam {
    /// A search for these pieces; nothing where there are not two of them.
    pub fn of(
        boxes: &Boxes,
        pieces: &[usize],
        number: usize,
        bin: &Bin,
        below_mm: f64,
    ) -> Option<Beam> {
        let mut kinds: Vec<Kind> = Vec::new();
        for piece in pieces {
            let ways = boxes.ways(*piece);
            match kinds.iter_mut().find(|k| k.ways == ways) {
                Some(kind) => kind.pieces.push(*piece),
                None => kinds.push(Kind {
                    pieces: vec![*piece],
                    ways: ways.to_vec(),
                    across: ways.iter().map(|w| w.1).fold(f64::INFINITY, f64::min),
                    area: ways.first().map_or(0.0, |w| w.0 * w.1),
                }),
            }
        }
        kinds.sort_by(|a, b| a.across.total_cmp(&b.across));
        let total = kinds.iter().map(|k| k.area * k.pieces.len() as f64).sum();
        let mut beam = Beam {
            kinds,
            bin: number,
            gap_mm: boxes.gap_mm(),
            width: bin.width_mm + boxes.gap_mm(),
            below: below_mm + boxes.gap_mm(),
            total,
            count: pieces.len(),
            nodes: Vec::new(),
            came: Vec::new(),
            children: Vec::new(),
            laid: 0,
            keep: 1,
            guide: GUIDES[0],
            begun: 0,
            random: Random::new(0x2545_F491_4F6C_DD1D),
        };
        beam.begin();
        (pieces.len() > 1).then_some(beam)
    }

    /// Something shorter was found elsewhere.
    pub fn seek_below(&mut self, mm: f64) {
        self.below = self.below.min(mm + self.gap_mm);
    }

    /// What one level costs, about as many looks at a piece and a notch.
    pub fn work(&self) -> u64 {
        let ways: usize = self.kinds.iter().map(|k| k.ways.len()).sum();
        (self.nodes.len() * (2 * ways + 100)) as u64
    }

    /// Lays one more piece in each layout that is kept; all pieces, where the last one was laid and it is shorter than any before.
    pub fn level(&mut self) -> Option<Vec<Laid>> {
        // The same memory each time: a level asks for much of it.
        let mut children = std::mem::take(&mut self.children);
        self.look(&mut children);
        keep_best(&mut children, 2 * self.keep);
        children.sort_unstable_by(|a, b| a.weight.total_cmp(&b.weight));
        let mut seen = HashSet::new();
        let mut next: Vec<Node> = Vec::with_capacity(self.keep);
        for child in &children {
            if next.len() >= self.keep {
                break;
            }
            if let Some(node) = self.grown(child)
                && seen.insert(node.mark())
            {
                next.push(node);
            }
        }
        self.nodes = next;
        children.clear();
        self.children = children;
        self.laid += 1;
        if self.laid < self.count && !self.nodes.is_empty() {
            return None;
        }
        let found = (self.nodes.iter()).min_by(|a, b| a.reach.total_cmp(&b.reach));
        let found = found.filter(|n| n.reach < self.below - SAME_MM).cloned();
        let laid = found.map(|node| {
            self.below = node.reach;
            self.told(&node)
        });
        self.begin();
        laid
    }

    /// Begins again: as many layouts kept with each guide, then twice as many; then guides are made up.
    fn begin(&mut self) {
        let ways: usize = self.kinds.iter().map(|k| k.ways.len()).sum();
        let most = (MOST_OF_A_LEVEL / (2 * ways).max(1)).max(1);
        let (turn, times) = (self.begun % GUIDES.len(), self.begun / GUIDES.len());
        let wanted = 1_usize.checked_shl(times as u32).unwrap_or(most);
        // Known guides first, with few layouts kept; then any, with few or many.
        let known = wanted <= KNOWN.min(most);
        let any: [f64; 4] =
            std::array::from_fn(|_| f64::from(self.random.below(1000) as u32) / 1000.0);
        self.guide = match GUIDES.get(turn).filter(|_| known) {
            Some(guide) => *guide,
            None => Guide {
                first: 0.02 * 10_f64.powf(any[0]),
                size: 0.1 + 0.8 * any[1],
                steps: 1e-3 * any[2] * any[2],
            },
        };
        self.keep = match known {
            true => wanted,
            false => (FEW * (most as f64 / FEW).powf(any[3])) as usize,
        };
        self.keep = self.keep.clamp(1, most);
        self.begun += 1;
        self.laid = 0;
        self.came.clear();
        self.nodes = vec![Node {
            front: Front {
                line: vec![Step {
                    y: 0.0,
                    wide: self.width,
                    x: 0.0,
                }],
                waste: 0.0,
            },
            left: self.kinds.iter().map(|k| k.pieces.len() as u16).collect(),
            area: 0.0,
            reach: 0.0,
            came: None,
        }];
    }

    /// The narrowest that is left, and the next one after a piece of it was taken.
    fn least(&self, left: &[u16]) -> (f64, usize, f64) {
        let mut some = (left.iter().zip(&self.kinds).enumerate()).filter(|(_, (n, _))| **n > 0);
        let Some((first, (n, kind))) = some.next() else {
            return (f64::INFINITY, 0, f64::INFINITY);
        };
        let next = match *n > 1 {
            true => kind.across,
            false => some.next().map_or(f64::INFINITY, |(_, (_, k))| k.across),
        };
        (kind.across, first, next)
    }

    /// No layout with so much walled in is shorter.
    fn bound(&self, waste: f64) -> f64 {
        (self.total + waste) / self.width
    }

    fn look(&self, children: &mut Vec<Child>) {
        for (n, node) in self.nodes.iter().enumerate() {
            let least = self.least(&node.left);
            self.fit_notch(n, node, &node.front, least, false, children);
            // Or nothing goes into the lowest notch, although something would.
            let mut front = node.front.clone();
            let mean = (self.total - node.area) / (self.count - self.laid).max(1) as f64;
            if front.wall_in().is_some() && front.waste - node.front.waste < SKIPPED * mean {
                front.wall_in_below(least.0);
                self.fit_notch(n, node, &front, least, true, children);
            }
            if children.len() > AT_ONCE.max(4 * self.keep) {
                keep_best(children, 2 * self.keep);
            }
        }
    }

    /// Whatever fits the lowest notch of this front.
    fn fit_notch(
        &self,
        n: usize,
        node: &Node,
        front: &Front,
        (least, narrowest, next): (f64, usize, f64),
        skips: bool,
        children: &mut Vec<Child>,
    ) {
        let Some((at, low)) = lowest(&front.line) else {
            return;
        };
        if self.bound(front.waste) >= self.below {
            return;
        }
        let walls = walls(&front.line, at);
        // Beside the higher wall, so that the notch that is left is open.
        let far = walls[1] > walls[0];
        let (beside, other) = if far {
            (walls[1], walls[0])
        } else {
            (walls[0], walls[1])
        };
        // The first one is weighed as if something small lay already.
        let from = node.area.max(1.0);
        let base = (from / (self.laid + 1) as f64).powf(-self.guide.size);
        for (k, (left, kind)) in node.left.iter().zip(&self.kinds).enumerate() {
            if *left == 0 {
                continue;
            }
            // No kind after this one is narrower.
            if kind.across > low.wide + SAME_MM {
                break;
            }
            for (way, (along, across, _)) in kind.ways.iter().enumerate() {
                let end = low.x + along;
                if *across > low.wide + SAME_MM || end >= self.below - SAME_MM {
                    continue;
                }
                let level = |wall: f64| usize::from((wall - end).abs() < SAME_MM);
                let rest = low.wide - across;
                let least = if k == narrowest { next } else { least };
                let (mut waste, mut steps) = (front.waste, front.line.len() + 1 - level(beside));
                if rest < SAME_MM {
                    steps -= 1 + level(other);
                } else if rest < least {
                    // Nothing will go in beside it.
                    waste += rest * (end.min(other) - low.x);
                    steps -= 1 + level(other);
                }
                if self.bound(waste).max(end) >= self.below - SAME_MM {
                    continue;
                }
                let larger = base * self.guide.larger_by(kind.area / from);
                let weight = (self.guide).weigh(waste, node.area + kind.area, larger, steps);
                children.push(Child {
                    weight,
                    node: n as u32,
                    kind: k as u16,
                    way: way as u8,
                    skips,
                    far,
                });
            }
        }
    }

    fn grown(&mut self, child: &Child) -> Option<Node> {
        let mut node = self.nodes.get(child.node as usize)?.clone();
        let kind = self.kinds.get(usize::from(child.kind))?;
        let (along, across, quarters) = *kind.ways.get(usize::from(child.way))?;
        if child.skips {
            let least = self.least(&node.left).0;
            node.front.wall_in()?;
            node.front.wall_in_below(least);
        }
        let (at, low) = lowest(&node.front.line)?;
        let y = if child.far {
            low.y + low.wide - across
        } else {
            low.y
        };
        raise(&mut node.front.line, at, y, across, low.x + along);
        *node.left.get_mut(usize::from(child.kind))? -= 1;
        node.area += kind.area;
        node.reach = node.reach.max(low.x + along);
        node.front.wall_in_below(self.least(&node.left).0);
        self.came.push(Came {
            after: node.came,
            kind: child.kind,
            quarters,
            at: Point::new(low.x, y),
        });
        node.came = u32::try_from(self.came.len() - 1).ok();
        Some(node)
    }

    /// Where each piece lies in a layout.
    fn told(&self, node: &Node) -> Vec<Laid> {
        let mut pieces: Vec<Vec<usize>> = self.kinds.iter().map(|k| k.pieces.clone()).collect();
        let mut laid = Vec::new();
        let mut at = node.came;
        while let Some(came) = at.and_then(|n| self.came.get(n as usize)) {
            if let Some(piece) = pieces.get_mut(usize::from(came.kind)).and_then(Vec::pop) {
                laid.push(Laid {
                    piece,
                    bin: self.bin,
                    at: came.at,
                    quarters: came.quarters,
                });
            }
            at = came.after;
        }
        laid.reverse();
        laid
    }
}

impl Node {
    /// Two layouts with the same front and the same pieces left are one.
    fn mark(&self) -> u64 {
        let mut hasher = DefaultHasher::new();
        for step in &self.front.line {
            ((step.y * 1e3).round() as i64, (step.x * 1e3).round() as i64).hash(&mut hasher);
        }
        self.left.hash(&mut hasher);
        hasher.finish()
    }
}

fn keep_best(children: &mut Vec<Child>, most: usize) {
    if children.len() > most {
        children.select_nth_unstable_by(most, |a, b| a.weight.total_cmp(&b.weight));
        children.truncate(most);
    }
}
