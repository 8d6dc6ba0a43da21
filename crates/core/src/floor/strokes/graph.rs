//! Which strip may go next: what is open must keep a way out.

use crate::floor::strokes::Strip;

/// Which strips touch, with one more place for the open air.
pub(super) struct Graph<'a> {
    strips: &'a [Strip],
    /// Whether the strip's region has a way out at all. Those without are pressed as if every strip had one: nothing can be saved.
    lost: Vec<bool>,
}

impl<'a> Graph<'a> {
    pub(super) fn of(strips: &'a [Strip]) -> Graph<'a> {
        let mut lost = vec![true; strips.len()];
        let mut waiting: Vec<usize> = (0..strips.len())
            .filter(|n| strips[*n].exits.is_some())
            .collect();
        for n in &waiting {
            lost[*n] = false;
        }
        while let Some(n) = waiting.pop() {
            for other in strips[n].beside.keys() {
                if std::mem::replace(&mut lost[*other as usize], false) {
                    waiting.push(*other as usize);
                }
            }
        }
        Graph { strips, lost }
    }

    fn outside(&self, n: usize) -> bool {
        self.lost[n] || self.strips[n].exits.is_some()
    }

    /// Whether everything open keeps a way out without this strip: each of its neighbours finds one. Looks only as far as it must.
    pub(super) fn may_go(&self, n: usize, open: &[bool]) -> bool {
        let mut safe: Vec<u32> = Vec::new();
        for start in self.strips[n]
            .beside
            .keys()
            .map(|k| *k as usize)
            .filter(|k| open[*k])
        {
            let mut seen = std::collections::BTreeSet::from([start as u32]);
            let mut waiting = std::collections::VecDeque::from([start]);
            let mut out = false;
            while let Some(here) = waiting.pop_front() {
                if self.outside(here) || safe.contains(&(here as u32)) {
                    out = true;
                    break;
                }
                for other in self.strips[here].beside.keys() {
                    if *other as usize != n && open[*other as usize] && seen.insert(*other) {
                        waiting.push_back(*other as usize);
                    }
                }
            }
            if !out {
                return false;
            }
            safe.push(start as u32);
        }
        true
    }

    /// For each open strip, whether another would be cut off without it: the articulation points of the graph with the open air as
    /// its root (Hopcroft and Tarjan, without recursion).
    pub(super) fn holds_others(&self, open: &[bool]) -> Vec<bool> {
        let count = self.strips.len();
        let air = count;
        let neighbours = |n: usize| -> Vec<usize> {
            if n == air {
                (0..count)
                    .filter(|k| open[*k] && self.outside(*k))
                    .collect()
            } else {
                let own = self.strips[n]
                    .beside
                    .keys()
                    .map(|k| *k as usize)
                    .filter(|k| open[*k]);
                own.chain(self.outside(n).then_some(air)).collect()
            }
        };
        let mut holds = vec![false; count];
        let mut found = vec![0_u32; count + 1];
        let mut low = vec![0_u32; count + 1];
        let mut clock = 1;
        found[air] = clock;
        low[air] = clock;
        let mut path: Vec<(usize, usize, Vec<usize>, usize)> = vec![(air, air, neighbours(air), 0)];
        while let Some((here, from, beside, next)) = path.last_mut() {
            let (here, from) = (*here, *from);
            if let Some(other) = beside.get(*next).copied() {
                *next += 1;
                if found[other] == 0 {
                    clock += 1;
                    found[other] = clock;
                    low[other] = clock;
                    path.push((other, here, neighbours(other), 0));
                } else if other != from {
                    low[here] = low[here].min(found[other]);
                }
            } else {
                path.pop();
                if here != air && from != here {
                    let l = low[here];
                    low[from] = low[from].min(l);
                    if from != air && l >= found[from] {
                        holds[from] = true;
                    }
                }
            }
        }
        holds
    }
}
