//! A line made ready: where strips may begin, and how good the line can be before rivets.

use std::cmp::Ordering;
use std::ops::RangeInclusive;

use super::problem::{
    Goals, HALF_INCH, INCH, LineProblem, MOST_MODULES, NoLayout, Spans, UM, free_for, um,
};
use super::window::Window;
use crate::marking::strip::{ColourRun, TapeColour};

/// Modules so far where a strip begins at each place of a span: `[modules - low][place - span.0]`.
struct Layer {
    span: (usize, usize),
    low: usize,
    rows: Vec<Vec<Option<usize>>>,
}

/// A line made ready.
pub struct Line {
    pub(super) ends: (i64, i64),
    module: i64,
    /// Places where a strip may begin, in their order.
    pub(super) at: Vec<i64>,
    /// Ways in which a strip of so many modules can be cut: its colours.
    pub(super) cuts: Vec<Vec<Vec<ColourRun>>>,
    /// Which of them fits at each place, 0 being as it comes off the roll: `[modules - 1][place]`.
    pub(super) fits: Vec<Vec<Option<u8>>>,
    least: usize,
    with_spare: usize,
    pub(super) gap_limit: i64,
    /// What fits in whole modules, mm.
    fits_mm: f64,
    /// Where tape of each colour may lie.
    pub(super) of_colour: Vec<(TapeColour, Spans)>,
}

impl Line {
    /// A line's places and what may begin there.
    ///
    /// Errors: nowhere a module's length free; less film fits than is asked.
    pub fn of(p: &LineProblem) -> Result<Line, NoLayout> {
        let module: i64 = p.pattern.iter().map(|r| um(r.length_mm.mm())).sum();
        let ends = (um(p.ends_mm.0), um(p.ends_mm.1));
        let of_colour: Vec<(TapeColour, Spans)> = (p.pattern.iter())
            .map(|r| (r.colour, free_for(p.ends_mm, &p.blocked_mm, Some(r.colour))))
            .collect();
        let most_modules = ((ends.1 - ends.0) / module.max(1)).max(0) as usize;
        let longest = p.longest.clamp(1, MOST_MODULES).min(most_modules.max(1));
        let cuts: Vec<Vec<Vec<ColourRun>>> = (1..=longest).map(|k| cuts(&p.pattern, k)).collect();
        let at = places(p, ends, module, longest, &of_colour);
        let lies = |start: i64, runs: &[ColourRun]| lies(&of_colour, start, runs);
        let fits: Vec<Vec<Option<u8>>> = cuts
            .iter()
            .map(|ways| {
                at.iter()
                    .map(|start| {
                        ways.iter()
                            .position(|runs| lies(*start, runs))
                            .map(|n| n as u8)
                    })
                    .collect()
            })
            .collect();
        if fits.iter().flatten().all(Option::is_none) {
            return Err(NoLayout::NoRoom);
        }
        let modules = |mm: f64| ((um(mm) + module - 1) / module).max(1) as usize;
        let mut line = Line {
            ends,
            module,
            at,
            cuts,
            fits,
            least: modules(p.least_film_mm),
            with_spare: modules(p.least_film_mm + p.spare_mm),
            gap_limit: um(p.gap_limit_mm.max(0.0)),
            fits_mm: 0.0,
            of_colour: Vec::new(),
        };
        line.of_colour = of_colour;
        let whole = ends.1 - ends.0;
        let most = line.most_modules(None, whole).unwrap_or(0);
        line.fits_mm = most as f64 * module as f64 / UM;
        if most < line.least || line.least > MOST_MODULES {
            return Err(NoLayout::TooLittle(line.fits_mm));
        }
        Ok(line)
    }

    /// What fits along the line in whole modules, mm.
    pub fn fits_mm(&self) -> f64 {
        self.fits_mm
    }

    pub(super) fn long(&self, modules: usize) -> i64 {
        modules as i64 * self.module
    }

    pub(super) fn front(&self, i: usize) -> i64 {
        self.at.get(i).map_or(i64::MAX, |a| a - self.ends.0)
    }

    pub(super) fn rear(&self, i: usize, modules: usize) -> i64 {
        self.at
            .get(i)
            .map_or(i64::MAX, |a| self.ends.1 - a - self.long(modules))
    }

    pub(super) fn fits(&self, modules: usize, i: usize) -> bool {
        self.fits
            .get(modules - 1)
            .and_then(|f| f.get(i))
            .is_some_and(Option::is_some)
    }

    /// Every place where a strip of so many modules fits.
    pub(super) fn starts(&self, modules: usize) -> impl Iterator<Item = usize> + '_ {
        (0..self.at.len()).filter(move |i| self.fits(modules, *i))
    }

    pub(super) fn modules(&self) -> RangeInclusive<usize> {
        1..=self.cuts.len()
    }

    /// Whether a strip at a place may be the first, and the last, where ends are counted in half inches; any where nothing is said.
    pub(super) fn begins(&self, ends: Option<(i64, i64)>, i: usize) -> bool {
        ends.is_none_or(|(front, _)| self.front(i) / HALF_INCH == front)
    }

    pub(super) fn closes(&self, ends: Option<(i64, i64)>, i: usize, modules: usize) -> bool {
        ends.is_none_or(|(_, rear)| self.rear(i, modules) / HALF_INCH == rear)
    }

    /// Every strip of any line of strips with no gap over `most`, one pass from the front: its modules, its place, and the most modules that
    /// a line comes to with it as its last.
    fn sweep(&self, front: Option<i64>, most: i64, mut each: impl FnMut(usize, usize, usize)) {
        let mut rows: Vec<Vec<Option<usize>>> =
            self.modules().map(|_| vec![None; self.at.len()]).collect();
        let mut windows: Vec<Window<usize>> = (self.modules())
            .map(|k| Window::from(0, self.long(k), self.long(k) + most))
            .collect();
        for j in 0..self.at.len() {
            let mut before = None;
            for (window, row) in windows.iter_mut().zip(&rows) {
                before = before.max(window.best(&self.at, j, |i| row.get(i).copied().flatten()));
            }
            let begins = front.is_none_or(|front| self.front(j) / HALF_INCH == front);
            let Some(before) = before.max(begins.then_some(0)) else {
                continue;
            };
            for (k, row) in self.modules().zip(&mut rows) {
                if self.fits(k, j)
                    && let Some(cell) = row.get_mut(j)
                {
                    *cell = Some(before + k);
                    each(k, j, before + k);
                }
            }
        }
    }

    /// Most modules in any number of strips with no gap over `most`.
    fn most_modules(&self, ends: Option<(i64, i64)>, most: i64) -> Option<usize> {
        let mut best = None;
        self.sweep(ends.map(|e| e.0), most, |k, j, modules| {
            if self.closes(ends, j, k) {
                best = best.max(Some(modules));
            }
        });
        best
    }

    /// How near the rear a line that begins so near the front, and comes to so many modules, can end, in half inches.
    fn nearest_rear(&self, front: i64, modules: usize) -> Option<i64> {
        let mut nearest: Option<i64> = None;
        self.sweep(Some(front), self.ends.1 - self.ends.0, |k, j, there| {
            let rear = self.rear(j, k) / HALF_INCH;
            if there >= modules && nearest.is_none_or(|n| rear < n) {
                nearest = Some(rear);
            }
        });
        nearest
    }

    /// The places where each of so many strips can begin at all, by what lies before it and after it: from, to.
    pub(super) fn spans(
        &self,
        ends: (i64, i64),
        strips: usize,
        gaps: &RangeInclusive<i64>,
        within: &RangeInclusive<usize>,
    ) -> Vec<(usize, usize)> {
        let (low, high) = (self.long(*within.start()), self.long(*within.end()));
        let (near, far) = (low + gaps.start(), high + gaps.end());
        let first = self.ends.0 + ends.0 * HALF_INCH;
        let last = self.ends.1 - ends.1 * HALF_INCH;
        (0..strips as i64)
            .map(|n| {
                let after = strips as i64 - 1 - n;
                let from = (first + n * near).max(last - HALF_INCH - high - after * far);
                let to = (first + HALF_INCH + n * far).min(last - low - after * near);
                let span = (
                    self.at.partition_point(|a| *a < from),
                    self.at.partition_point(|a| *a <= to),
                );
                (span.0, span.1.max(span.0))
            })
            .collect()
    }

    /// Whether so many strips within these lengths, with gaps within these, come to the film that is needed.
    fn possible(
        &self,
        of: &Needs,
        strips: usize,
        gaps: RangeInclusive<i64>,
        within: &RangeInclusive<usize>,
    ) -> bool {
        let mut layer: Option<Layer> = None;
        for span in self.spans(of.ends, strips, &gaps, within) {
            layer = Some(match layer {
                None => self.first_layer(of.ends, span, within),
                Some(before) => self.next_layer(&before, span, &gaps, within),
            });
        }
        layer.is_some_and(|l| self.closed(&l, of.ends) >= of.modules)
    }

    fn first_layer(
        &self,
        ends: (i64, i64),
        span: (usize, usize),
        within: &RangeInclusive<usize>,
    ) -> Layer {
        let row = |k: usize| {
            (span.0..span.1)
                .map(|i| (self.fits(k, i) && self.begins(Some(ends), i)).then_some(k))
                .collect()
        };
        Layer {
            span,
            low: *within.start(),
            rows: within.clone().map(row).collect(),
        }
    }

    fn next_layer(
        &self,
        before: &Layer,
        span: (usize, usize),
        gaps: &RangeInclusive<i64>,
        within: &RangeInclusive<usize>,
    ) -> Layer {
        let mut windows: Vec<Window<usize>> = within
            .clone()
            .map(|k| {
                Window::from(
                    before.span.0,
                    self.long(k) + gaps.start(),
                    self.long(k) + gaps.end(),
                )
            })
            .collect();
        let mut rows = vec![vec![None; span.1 - span.0]; windows.len()];
        for j in span.0..span.1 {
            let mut most = None;
            for (window, row) in windows.iter_mut().zip(&before.rows) {
                let value = |i: usize| row.get(i - before.span.0).copied().flatten();
                most = most.max(window.best(&self.at, j, value));
            }
            let Some(most) = most else { continue };
            for (k, row) in within.clone().zip(&mut rows) {
                if self.fits(k, j)
                    && let Some(cell) = row.get_mut(j - span.0)
                {
                    *cell = Some(most + k);
                }
            }
        }
        Layer {
            span,
            low: *within.start(),
            rows,
        }
    }

    /// Most modules of a layer whose strips may be the last.
    fn closed(&self, layer: &Layer, ends: (i64, i64)) -> usize {
        let mut best = 0;
        for (k, row) in (layer.low..).zip(&layer.rows) {
            for (i, value) in (layer.span.0..).zip(row) {
                if let Some(value) = value
                    && self.closes(Some(ends), i, k)
                {
                    best = best.max(*value);
                }
            }
        }
        best
    }

    /// Fewest strips with no gap over `most`.
    fn fewest(&self, of: &Needs, most: i64) -> Option<usize> {
        let (within, all) = (self.modules(), (0, self.at.len()));
        let mut layer = self.first_layer(of.ends, all, &within);
        for strips in 1..=MOST_MODULES {
            if self.closed(&layer, of.ends) >= of.modules {
                return Some(strips);
            }
            // What lies behind the first place that is reached is never reached again.
            let reached = |i: &usize| {
                layer
                    .rows
                    .iter()
                    .any(|r| r.get(i - layer.span.0).is_some_and(Option::is_some))
            };
            let from = (layer.span.0..layer.span.1).find(reached)?;
            // Nor does the next strip begin farther than the longest strip and gap from where the last of these does.
            let last = (from..layer.span.1).rev().find(reached)?;
            let farthest = self.at.get(last)? + self.long(self.cuts.len()) + most;
            let to = self.at.partition_point(|a| *a <= farthest);
            layer = self.next_layer(&layer, (from, to), &(0..=most), &within);
        }
        None
    }

    /// The nearest ends at which the film that is needed still fits, with and then without what is wanted to spare.
    fn needs(&self) -> Option<Needs> {
        let starts = || {
            self.modules()
                .flat_map(|k| self.starts(k).map(move |i| (k, i)))
        };
        let mut fronts: Vec<i64> = starts().map(|(_, i)| self.front(i) / HALF_INCH).collect();
        fronts.sort_unstable();
        fronts.dedup();
        let nearest = starts().map(|(k, i)| self.rear(i, k) / HALF_INCH).min()?;
        [(self.with_spare, false), (self.least, true)]
            .into_iter()
            // More than fits anywhere need not be looked for from every place.
            .filter(|(modules, _)| *modules as f64 * self.module as f64 / UM <= self.fits_mm + 1e-6)
            .find_map(|(modules, no_spare)| {
                let mut best: Option<(i64, i64)> = None;
                for front in &fronts {
                    // No line that begins farther in comes up to the best.
                    if best.is_some_and(|(f, r)| front + nearest >= f + r) {
                        break;
                    }
                    let found = self
                        .nearest_rear(*front, modules)
                        .map(|rear| (*front, rear));
                    best = match (best, found) {
                        (Some(b), Some(f)) if f.0 + f.1 >= b.0 + b.1 => Some(b),
                        (best, found) => found.or(best),
                    };
                }
                best.map(|ends| Needs {
                    ends,
                    modules,
                    no_spare,
                })
            })
    }

    /// How good the line can be, before rivets.
    ///
    /// Errors: less film fits than is asked.
    pub fn goals(&self) -> Result<(Needs, Goals), NoLayout> {
        self.goals_beside(None)
            .ok_or(NoLayout::TooLittle(self.fits_mm))
    }

    /// The same beside the best of other lines: given up as soon as this one cannot come up to it.
    pub(in crate::marking) fn goals_beside(&self, best: Option<&Goals>) -> Option<(Needs, Goals)> {
        let needs = self.needs()?;
        let mut goals = Goals {
            no_spare: needs.no_spare,
            ends: needs.ends.0 + needs.ends.1,
            over_limit: 0,
            strips: 0,
            largest: 0,
            spread: 0,
            strip_spread: 0,
        };
        // What is known so far against the same of the best: worse, the same, or better.
        let against = |goals: &Goals| {
            let known = |g: &Goals| (g.no_spare, g.ends, g.over_limit, g.strips);
            best.map_or(Ordering::Less, |b| known(goals).cmp(&known(b)))
        };
        if against(&goals).is_gt() {
            return None;
        }
        let whole = self.ends.1 - self.ends.0;
        let enough = |gap: i64| {
            self.most_modules(Some(needs.ends), gap)
                .is_some_and(|m| m >= needs.modules)
        };
        // Within the limit, or as little over it as can be.
        if !enough(self.gap_limit) {
            goals.over_limit = least(1, whole / INCH + 1, |n| enough(self.gap_limit + n * INCH));
        }
        if against(&goals).is_gt() {
            return None;
        }
        let most = self.gap_limit + goals.over_limit * INCH;
        goals.strips = self.fewest(&needs, most)?;
        let beside = match against(&goals) {
            Ordering::Greater => return None,
            Ordering::Equal => best,
            Ordering::Less => None,
        };
        if goals.strips == 1 {
            return Some((needs, goals));
        }
        let (strips, all) = (goals.strips, self.modules());
        let within = |n: i64| self.possible(&needs, strips, 0..=(n * INCH).min(most), &all);
        let high = match beside {
            Some(b) if !within(b.largest) => return None,
            Some(b) => b.largest,
            None => most / INCH + 1,
        };
        goals.largest = least(0, high, within);
        let beside = beside.filter(|b| b.largest == goals.largest);
        let to = (goals.largest * INCH).min(most);
        let from = |n: i64| ((goals.largest - n) * INCH).min(to);
        // The largest smallest gap is the least difference to the largest that still goes.
        let apart = |n: i64| self.possible(&needs, strips, from(n)..=to, &all);
        let high = match beside {
            Some(b) if !apart(b.spread) => return None,
            Some(b) => b.spread,
            None => goals.largest,
        };
        goals.spread = least(0, high, apart);
        let gaps = from(goals.spread)..=to;
        let longest = self.cuts.len();
        goals.strip_spread = (0..longest)
            .find(|d| {
                (1..=longest - d).any(|k| self.possible(&needs, strips, gaps.clone(), &(k..=k + d)))
            })
            .unwrap_or(longest - 1);
        Some((needs, goals))
    }
}

/// Ends, and the modules that are needed between them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Needs {
    /// Distances from the front and from the rear, in half inches.
    pub(super) ends: (i64, i64),
    pub(super) modules: usize,
    pub(super) no_spare: bool,
}

/// The least number from `low` to `high` for which something holds that goes on holding; `high` where it holds for none.
fn least(mut low: i64, mut high: i64, holds: impl Fn(i64) -> bool) -> i64 {
    while low < high {
        let middle = (low + high) / 2;
        if holds(middle) {
            high = middle;
        } else {
            low = middle + 1;
        }
    }
    low
}

/// Whether runs that begin at a place lie where their colours may.
pub(super) fn lies(of_colour: &[(TapeColour, Spans)], start: i64, runs: &[ColourRun]) -> bool {
    let mut from = start;
    runs.iter().all(|r| {
        let to = from + um(r.length_mm.mm());
        let free = of_colour.iter().find(|(c, _)| *c == r.colour);
        let inside = free.is_some_and(|(_, spans)| {
            let n = spans.partition_point(|(a, _)| *a <= from);
            n.checked_sub(1)
                .and_then(|n| spans.get(n))
                .is_some_and(|(_, b)| *b >= to)
        });
        from = to;
        inside
    })
}

/// How so many modules can be cut, each way once: as they come off the roll first, then begun at another colour, then turned round.
fn cuts(pattern: &[ColourRun], modules: usize) -> Vec<Vec<ColourRun>> {
    let mut found: Vec<Vec<ColourRun>> = Vec::new();
    for from in 0..pattern.len() {
        let runs: Vec<ColourRun> = (pattern.iter().cycle().skip(from))
            .take(pattern.len() * modules)
            .copied()
            .collect();
        let turned = runs.iter().rev().copied().collect();
        for way in [runs, turned] {
            if !found.contains(&way) {
                found.push(way);
            }
        }
    }
    found
}

/// Where strips may begin: every step of the tape, and where what is in the way begins and ends.
fn places(
    p: &LineProblem,
    ends: (i64, i64),
    module: i64,
    longest: usize,
    of_colour: &[(TapeColour, Spans)],
) -> Vec<i64> {
    let step = um(p.step_mm).max(100);
    let mut at: Vec<i64> = (0..)
        .map(|n| ends.0 + n * step)
        .take_while(|a| *a <= ends.1 - module)
        .collect();
    // Whole colours before what a colour keeps off, and after it.
    let mut offsets = vec![0];
    for run in &p.pattern {
        offsets.push(offsets.last().copied().unwrap_or(0) + um(run.length_mm.mm()));
    }
    for (from, to) in of_colour.iter().flat_map(|(_, spans)| spans) {
        for k in 0..=longest as i64 {
            for offset in &offsets {
                at.push(from - k * module - offset);
                at.push(to - k * module - offset);
            }
        }
    }
    at.retain(|a| (ends.0..=ends.1 - module).contains(a));
    at.sort_unstable();
    at.dedup();
    at
}
