//! The last stage: rivets, film, turned strips and evenness, over every place.

use std::ops::RangeInclusive;

use super::made::{Line, Needs, lies};
use super::problem::{Cost, Goals, HALF_INCH, INCH, LineHeads, LineLayout, Placed, UM, um};
use super::window::Window;
use crate::marking::strip::ColourRun;

/// Most states that the last stage keeps: beyond it rivets are not weighed.
const MOST_STATES: usize = 6_000_000;

impl Line {
    /// Heads with an edge on them, and heads under the tape, that no layout with these goals has fewer of: each strip by itself at its best.
    pub(in crate::marking) fn least_heads(
        &self,
        needs: &Needs,
        goals: &Goals,
        heads: &LineHeads,
    ) -> (u32, u32) {
        if heads.0.is_empty() {
            return (0, 0);
        }
        let costs = self.costs(heads);
        let gaps = self.gaps(goals);
        let spans = self.spans(needs.ends, goals.strips, &gaps, &self.modules());
        spans
            .into_iter()
            .fold((0, 0), |(edges, under), (from, to)| {
                let all = self.modules().zip(&costs).flat_map(|(k, row)| {
                    let here = row.iter().enumerate().take(to).skip(from);
                    here.filter(move |(i, _)| self.fits(k, *i)).map(|(_, c)| *c)
                });
                let least = all.fold((u32::MAX, u32::MAX), |(e, u), c| (e.min(c.0), u.min(c.1)));
                (edges.saturating_add(least.0), under.saturating_add(least.1))
            })
    }

    fn gaps(&self, goals: &Goals) -> RangeInclusive<i64> {
        let to = (goals.largest * INCH).min(self.gap_limit + goals.over_limit * INCH);
        ((goals.largest - goals.spread) * INCH).min(to)..=to
    }

    /// The best layout that comes to these goals, with rivet heads, film, turned strips and evenness weighed over every place.
    pub fn layout(&self, needs: &Needs, goals: &Goals, heads: &LineHeads) -> LineLayout {
        let gaps = self.gaps(goals);
        let longest = self.cuts.len();
        let ways =
            (1..=longest - goals.strip_spread.min(longest - 1)).map(|k| k..=k + goals.strip_spread);
        let ways = ways.filter(|within| *within.end() <= longest);
        ways.filter_map(|within| {
            let last = Last {
                line: self,
                needs,
                strips: goals.strips,
                gaps: gaps.clone(),
                within,
                costs: self.costs(heads),
            };
            last.best()
        })
        .max_by_key(|(value, _)| *value)
        .map_or_else(
            || LineLayout {
                strips: Vec::new(),
                cost: Cost::default(),
                weighed: false,
            },
            |(_, layout)| self.evened(&layout, heads, &gaps).unwrap_or(layout),
        )
    }

    /// The same strips at gaps that are exactly alike and exactly at the ends, between the places of the tape; nothing where that is not
    /// possible, or costs more.
    fn evened(
        &self,
        layout: &LineLayout,
        heads: &LineHeads,
        gaps: &RangeInclusive<i64>,
    ) -> Option<LineLayout> {
        let [first, .., last] = layout.strips.as_slice() else {
            return None;
        };
        let film: i64 = layout.strips.iter().map(|s| self.long(s.modules)).sum();
        // The first begins as near the front as it can, the last ends as near the rear.
        let from = *self.at.get(self.starts(first.modules).next()?)?;
        let nearest = |i: &usize| self.rear(*i, last.modules);
        let end = self
            .at
            .get(self.starts(last.modules).min_by_key(nearest)?)?
            + self.long(last.modules);
        let open = end - from - film;
        let count = layout.strips.len() as i64 - 1;
        let (mut at, mut cost) = (
            from,
            Cost {
                modules: layout.cost.modules,
                turned: layout.cost.turned,
                ..Cost::default()
            },
        );
        let mut strips = Vec::with_capacity(layout.strips.len());
        for (n, strip) in (1..).zip(&layout.strips) {
            let long = self.long(strip.modules);
            if !lies(&self.of_colour, at, &strip.runs) {
                return None;
            }
            for head in &heads.0 {
                let (middle, reach) = (um(head.at_mm), um(head.reach_mm));
                let under = at - reach < middle && middle < at + long + reach;
                let whole = head
                    .whole_mm
                    .map(um)
                    .is_some_and(|w| at + w <= middle && middle <= at + long - w);
                cost.under += u32::from(under);
                cost.edges += u32::from(under && !whole);
            }
            strips.push(Placed {
                start_mm: at as f64 / UM,
                ..strip.clone()
            });
            let next = from
                + layout
                    .strips
                    .iter()
                    .take(n as usize)
                    .map(|s| self.long(s.modules))
                    .sum::<i64>()
                + open * n / count;
            if n <= count && !gaps.contains(&(next - at - long)) {
                return None;
            }
            at = next;
        }
        (cost <= layout.cost).then_some(LineLayout {
            strips,
            cost,
            weighed: layout.weighed,
        })
    }

    /// Heads with an edge on them and heads under a strip of so many modules at each place.
    fn costs(&self, heads: &LineHeads) -> Vec<Vec<(u32, u32)>> {
        self.modules()
            .map(|k| {
                let long = self.long(k);
                let mut change = vec![(0_i32, 0_i32); self.at.len() + 1];
                let mut add = |from: i64, to: i64, edges: i32, under: i32| {
                    let (a, b) = (
                        self.at.partition_point(|p| *p < from),
                        self.at.partition_point(|p| *p <= to),
                    );
                    if a >= b {
                        return;
                    }
                    for (n, sign) in [(a, 1), (b, -1)] {
                        if let Some(c) = change.get_mut(n) {
                            c.0 += sign * edges;
                            c.1 += sign * under;
                        }
                    }
                };
                for head in &heads.0 {
                    let (at, reach) = (um(head.at_mm), um(head.reach_mm));
                    add(at - long - reach + 1, at + reach - 1, 1, 1);
                    if let Some(whole) = head.whole_mm.map(um) {
                        add(at - long + whole, at - whole, -1, 0);
                    }
                }
                let (mut edges, mut under) = (0, 0);
                change
                    .iter()
                    .take(self.at.len())
                    .map(|(e, u)| {
                        edges += e;
                        under += u;
                        (edges.max(0) as u32, under.max(0) as u32)
                    })
                    .collect()
            })
            .collect()
    }
}

/// The last stage: rivets, film, turned strips and evenness, over every place.
struct Last<'a> {
    line: &'a Line,
    needs: &'a Needs,
    strips: usize,
    gaps: RangeInclusive<i64>,
    within: RangeInclusive<usize>,
    costs: Vec<Vec<(u32, u32)>>,
}

/// Values are sums of penalties, each kind in its own digits; larger is better.
const EDGE: i128 = 1 << 90;
const UNDER: i128 = 1 << 74;
const MODULE: i128 = 1 << 60;
const TURNED: i128 = 1 << 48;
/// Nothing reaches there.
const NEVER: i128 = i128::MIN;

impl Last<'_> {
    fn penalty(&self, k: usize, i: usize) -> i128 {
        let (edges, under) = self
            .costs
            .get(k - 1)
            .and_then(|c| c.get(i))
            .copied()
            .unwrap_or((0, 0));
        let turned = self
            .line
            .fits
            .get(k - 1)
            .and_then(|f| f.get(i))
            .copied()
            .flatten()
            != Some(0);
        i128::from(edges) * EDGE
            + i128::from(under) * UNDER
            + k as i128 * MODULE
            + i128::from(turned) * TURNED
    }

    /// Modules beyond the least that so many strips need.
    fn need(&self) -> usize {
        self.needs
            .modules
            .saturating_sub(self.strips * self.within.start())
    }

    /// The layout with its value, or nothing where these lengths come to no layout, or to more states than are kept.
    fn best(&self) -> Option<(i128, LineLayout)> {
        let line = self.line;
        let (low, high) = (*self.within.start(), *self.within.end());
        let (kinds, need) = (high - low + 1, self.need());
        if need > self.strips * (high - low) {
            return None;
        }
        let spans = line.spans(self.needs.ends, self.strips, &self.gaps, &self.within);
        let states: usize = spans.iter().map(|(a, b)| b.saturating_sub(*a)).sum();
        if states * kinds * (need + 1) > MOST_STATES {
            return None;
        }
        let even = self.even();
        let mut layers: Vec<Reached> = Vec::with_capacity(self.strips);
        for span in spans {
            let mut layer = Reached::nothing(span, low, kinds, need);
            match layers.last() {
                None => {
                    for k in low..=high {
                        for i in layer
                            .places()
                            .filter(|i| line.fits(k, *i) && line.begins(Some(self.needs.ends), *i))
                        {
                            let value = -self.penalty(k, i) - 2 * i128::from(line.front(i));
                            layer.raise((k - low).min(need), k, i, value);
                        }
                    }
                }
                Some(before) => self.step(before, &mut layer, even),
            }
            layers.push(layer);
        }
        // The last strip.
        let last = layers.last()?;
        let (mut value, mut state) = (NEVER, None);
        for k in low..=high {
            for i in last
                .places()
                .filter(|i| line.closes(Some(self.needs.ends), *i, k))
            {
                if let Some(here) = last.get(need, k, i) {
                    let here = here - 2 * i128::from(line.rear(i, k));
                    if here > value {
                        (value, state) = (here, Some((need, k, i)));
                    }
                }
            }
        }
        let (mut x, mut k, mut i) = state?;
        let mut chosen = vec![(k, i)];
        for pair in layers.windows(2).rev() {
            let [before, here] = pair else { break };
            (x, k, i) = self.before(before, here.get(x, k, i)?, (x, k, i), even)?;
            chosen.push((k, i));
        }
        chosen.reverse();
        let mut cost = Cost::default();
        let strips = chosen
            .iter()
            .filter_map(|(k, i)| {
                let way = line.fits.get(k - 1)?.get(*i).copied().flatten()?;
                let (edges, under) = self.costs.get(k - 1)?.get(*i).copied()?;
                cost.edges += edges;
                cost.under += under;
                cost.modules += *k as u32;
                cost.turned += u32::from(way != 0);
                Some(Placed {
                    start_mm: *line.at.get(*i)? as f64 / UM,
                    modules: *k,
                    runs: joined(line.cuts.get(k - 1)?.get(usize::from(way))?),
                    turned: way != 0,
                })
            })
            .collect();
        let layout = LineLayout {
            strips,
            cost,
            weighed: true,
        };
        Some((value, layout))
    }

    /// What every gap would be if all were alike.
    fn even(&self) -> i64 {
        let line = self.line;
        let film = line.long((self.strips * self.within.start()).max(self.needs.modules));
        let open =
            line.ends.1 - line.ends.0 - (self.needs.ends.0 + self.needs.ends.1) * HALF_INCH - film;
        let gaps = (self.strips as i64 - 1).max(1);
        (open / gaps).clamp(*self.gaps.start(), *self.gaps.end())
    }

    /// What is reached by one strip more.
    fn step(&self, before: &Reached, layer: &mut Reached, even: i64) {
        let line = self.line;
        let need = self.need();
        for x in 0..=need {
            for kind in self.within.clone() {
                let long = line.long(kind);
                let mut nearer: Window<i128> =
                    Window::from(before.span.0, long + self.gaps.start(), long + even);
                let mut farther: Window<i128> =
                    Window::from(before.span.0, long + even, long + self.gaps.end());
                let value = |i: usize, sign: i128| {
                    let at = line.at.get(i).copied().unwrap_or(0);
                    before.get(x, kind, i).map(|v| v + sign * i128::from(at))
                };
                let apart = i128::from(long + even);
                for j in layer.places() {
                    let here = i128::from(line.at.get(j).copied().unwrap_or(0));
                    let a = nearer
                        .best(&line.at, j, |i| value(i, -1))
                        .map(|v| v + here - apart);
                    let b = farther
                        .best(&line.at, j, |i| value(i, 1))
                        .map(|v| v - here + apart);
                    let Some(v) = a.max(b) else { continue };
                    for k in self.within.clone().filter(|k| line.fits(*k, j)) {
                        let more = (x + k - self.within.start()).min(need);
                        layer.raise(more, k, j, v - self.penalty(k, j));
                    }
                }
            }
        }
    }

    /// The strip before one, by which its value came about.
    fn before(
        &self,
        layer: &Reached,
        value: i128,
        (x, k, j): (usize, usize, usize),
        even: i64,
    ) -> Option<(usize, usize, usize)> {
        let line = self.line;
        let need = self.need();
        let here = *line.at.get(j)?;
        let penalty = self.penalty(k, j);
        for kind in self.within.clone() {
            let long = line.long(kind);
            for i in layer.places() {
                let gap = here - line.at.get(i)? - long;
                if !self.gaps.contains(&gap) {
                    continue;
                }
                let apart = i128::from((gap - even).abs());
                let found = (0..=need).find(|y| {
                    (y + k - self.within.start()).min(need) == x
                        && layer
                            .get(*y, kind, i)
                            .is_some_and(|v| v - apart - penalty == value)
                });
                if let Some(y) = found {
                    return Some((y, kind, i));
                }
            }
        }
        None
    }
}

/// The best values of the states that one strip can be in: modules beyond the least so far, its own modules, where it begins.
struct Reached {
    span: (usize, usize),
    low: usize,
    kinds: usize,
    values: Vec<i128>,
}

impl Reached {
    fn nothing(span: (usize, usize), low: usize, kinds: usize, need: usize) -> Reached {
        let places = span.1.saturating_sub(span.0);
        Reached {
            span,
            low,
            kinds,
            values: vec![NEVER; places * kinds * (need + 1)],
        }
    }

    fn places(&self) -> std::ops::Range<usize> {
        self.span.0..self.span.1.max(self.span.0)
    }

    fn index(&self, x: usize, k: usize, i: usize) -> Option<usize> {
        let places = self.places();
        (places.contains(&i))
            .then(|| (x * self.kinds + (k - self.low)) * places.len() + i - self.span.0)
    }

    fn get(&self, x: usize, k: usize, i: usize) -> Option<i128> {
        let value = self.values.get(self.index(x, k, i)?).copied()?;
        (value > NEVER).then_some(value)
    }

    fn raise(&mut self, x: usize, k: usize, i: usize, value: i128) {
        if let Some(cell) = self.index(x, k, i).and_then(|n| self.values.get_mut(n)) {
            *cell = (*cell).max(value);
        }
    }
}

/// Runs with equal neighbours joined.
fn joined(runs: &[ColourRun]) -> Vec<ColourRun> {
    let mut out: Vec<ColourRun> = Vec::new();
    for run in runs {
        match out.last_mut() {
            Some(last) if last.colour == run.colour => last.length_mm += run.length_mm.mm(),
            _ => out.push(*run),
        }
    }
    out
}
