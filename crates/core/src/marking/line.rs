//! Whole modules of a stock spaced along one line, proven best.
//!
//! Goals in strict order: the first strip as near the front and the last as near the rear as they can be; the largest gap within
//! the limit, or as little over it as can be; least film; fewest pieces; smallest largest gap; largest smallest gap.
//!
//! Nothing is sampled: for a number of modules and pieces, the places where the last strip can end are kept as exact spans. A gap is
//! found to a thousandth of a millimetre. The search may be given a budget of work: where it runs out, what is best so far is returned
//! with how good the best could be.

/// Two places nearer than this are one, mm.
const SAME_MM: f64 = 1e-6;
/// A best gap is found to this, mm.
const FINE_MM: f64 = 1e-3;
/// Gaps that differ by less than this are alike, mm.
const ALIKE_MM: f64 = 1e-4;
/// Most modules on one line: 53 ft in modules of 6 in are 107.
pub const MOST_MODULES: usize = 400;

/// A line on which strips are spaced. Lengths in mm along it.
#[derive(Debug, Clone, PartialEq)]
pub struct LineProblem {
    /// Where the surface begins and ends.
    pub ends_mm: (f64, f64),
    /// Where no film may lie, clearances included; in any order, overlapping or not.
    pub blocked_mm: Vec<(f64, f64)>,
    /// Length of a module.
    pub module_mm: f64,
    /// Least film, all strips together.
    pub least_film_mm: f64,
    /// Largest gap that is wanted; nothing where none is.
    pub gap_limit_mm: Option<f64>,
}

/// Work that a search may do, counted in steps from strip to strip. Core has no clock.
#[derive(Debug, Clone)]
pub struct Budget(std::cell::Cell<u64>);

impl Budget {
    /// So many steps.
    pub fn of(steps: u64) -> Budget {
        Budget(std::cell::Cell::new(steps))
    }

    /// As many as it takes.
    pub fn whole() -> Budget {
        Budget::of(u64::MAX)
    }

    /// Steps that are left.
    pub fn left(&self) -> u64 {
        self.0.get()
    }

    /// Whether there is work left.
    fn lasts(&self) -> bool {
        self.0.get() > 0
    }

    fn spend(&self) {
        self.0.set(self.0.get().saturating_sub(1));
    }
}

/// How good a layout could be at best, where the proof was not finished.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Bound {
    /// At least so many strips are needed.
    Pieces(usize),
    /// The largest gap is at least this, mm.
    LargestGap(f64),
    /// The smallest gap is at most this, mm.
    SmallestGap(f64),
}

/// A strip: where it begins and of how many modules it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Placed {
    /// Where it begins, mm.
    pub start_mm: f64,
    /// Modules in it.
    pub modules: usize,
}

/// The best layout of a line, with its goals.
#[derive(Debug, Clone, PartialEq)]
pub struct LineLayout {
    /// Strips from the front.
    pub strips: Vec<Placed>,
    /// From the surface's beginning to the first strip, mm.
    pub front_mm: f64,
    /// From the last strip to the surface's end, mm.
    pub rear_mm: f64,
    /// Modules in all.
    pub modules: usize,
    /// Largest gap between strips, mm; 0 for one strip.
    pub largest_gap_mm: f64,
    /// Smallest gap between strips, mm.
    pub smallest_gap_mm: f64,
    /// Whether the largest gap is within the limit that was wanted.
    pub within_limit: bool,
    /// Nothing where the layout is proven best; else how good the best could be.
    pub bound: Option<Bound>,
}

/// Why a line has no layout.
#[derive(Debug, Clone, PartialEq)]
pub enum NoLayout {
    /// Nowhere is a module's length free.
    NoRoom,
    /// Less film fits than is asked: what fits, mm.
    TooLittle(f64),
    /// Another line is better.
    NotBetter,
}

/// A layout of another line with the same first goals, which a layout must at least come up to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ToBeat {
    /// Its strips.
    pub pieces: usize,
    /// Its largest gap and what may be taken for the same, mm.
    pub largest_gap_mm: f64,
}

/// Spans, sorted and apart.
type Spans = Vec<(f64, f64)>;

fn tidy(mut spans: Spans) -> Spans {
    spans.retain(|(a, b)| b - a >= -SAME_MM);
    spans.sort_by(|p, q| p.0.total_cmp(&q.0));
    let mut out: Spans = Vec::with_capacity(spans.len());
    for (a, b) in spans {
        match out.last_mut() {
            Some(last) if a <= last.1 + SAME_MM => last.1 = last.1.max(b),
            _ => out.push((a, b.max(a))),
        }
    }
    out
}

/// The free spans of a line in which at least one module fits, from the front.
pub fn free(p: &LineProblem) -> Spans {
    let blocked = tidy(
        p.blocked_mm
            .iter()
            .map(|(a, b)| (a.min(*b), a.max(*b)))
            .collect(),
    );
    let mut free = Vec::new();
    let mut from = p.ends_mm.0;
    for (a, b) in blocked {
        free.push((from, a.min(p.ends_mm.1)));
        from = from.max(b);
    }
    free.push((from, p.ends_mm.1));
    free.retain(|(a, b)| b - a >= p.module_mm - SAME_MM);
    free
}

struct Line<'a> {
    budget: &'a Budget,
    free: &'a [(f64, f64)],
    module: f64,
    first: f64,
    last: f64,
}

impl Line<'_> {
    /// Most modules that one strip can have.
    fn longest(&self) -> usize {
        let most = self
            .free
            .iter()
            .map(|(a, b)| ((b - a + SAME_MM) / self.module).floor() as usize)
            .max();
        most.unwrap_or(0)
    }

    /// Where the first strip of `k` modules ends.
    fn begin(&self, k: usize) -> Spans {
        let long = k as f64 * self.module;
        match self.free.first() {
            Some((a, b)) if a + long <= b + SAME_MM => vec![(a + long, a + long)],
            _ => Vec::new(),
        }
    }

    /// Where a strip of `k` modules can end that begins after a gap between `least` and `most` from one of `ends`.
    fn step(&self, ends: &[(f64, f64)], k: usize, least: f64, most: f64) -> Spans {
        let long = k as f64 * self.module;
        let mut out = Vec::new();
        for (lo, hi) in ends {
            let (from, to) = (lo + least, hi + most);
            // Free spans are sorted: the first that ends after `from`.
            let start = self
                .free
                .partition_point(|(_, b)| b - long < from - SAME_MM);
            for (a, b) in self.free.get(start..).unwrap_or_default() {
                if *a > to + SAME_MM {
                    break;
                }
                let (s, e) = (a.max(from), (b - long).min(to));
                if e - s >= -SAME_MM {
                    out.push((s + long, e.max(s) + long));
                }
            }
        }
        tidy(out)
    }

    fn ends_there(&self, ends: &[(f64, f64)]) -> bool {
        ends.iter()
            .any(|(a, b)| *a <= self.last + SAME_MM && *b >= self.last - SAME_MM)
    }

    /// Fewest modules, at least `least`, with which the last strip ends at the last place, no gap larger than `gap`.
    fn fewest_modules(&self, least: usize, gap: f64) -> Option<usize> {
        let mut ends = self.begin(1);
        for n in 1..=MOST_MODULES {
            if ends.is_empty() {
                return None;
            }
            if n >= least && self.ends_there(&ends) {
                return Some(n);
            }
            ends = self.step(&ends, 1, 0.0, gap);
        }
        None
    }

    /// The places where one strip of `n` modules can end, by `n`.
    fn first_row(&self, modules: usize) -> Vec<Spans> {
        (0..=modules)
            .map(|n| if n == 0 { Vec::new() } else { self.begin(n) })
            .collect()
    }

    /// The same for one strip more than `before`, which is of `p` strips.
    fn next_row(&self, before: &[Spans], p: usize, least: f64, most: f64) -> Vec<Spans> {
        let modules = before.len() - 1;
        let longest = self.longest().min(modules);
        let mut row: Vec<Spans> = vec![Vec::new(); modules + 1];
        for (n, ends) in row.iter_mut().enumerate().skip(p + 1) {
            let mut all = Vec::new();
            for k in 1..=longest.min(n - p) {
                if let Some(from) = before.get(n - k).filter(|b| !b.is_empty()) {
                    self.budget.spend();
                    all.extend(self.step(from, k, least, most));
                }
            }
            *ends = tidy(all);
        }
        row
    }

    /// The places where the last of `p` strips of `n` modules together can end: `[p][n]`, from one strip on.
    fn table(&self, modules: usize, pieces: usize, least: f64, most: f64) -> Vec<Vec<Spans>> {
        let mut table: Vec<Vec<Spans>> = Vec::with_capacity(pieces);
        table.push(self.first_row(modules));
        for p in 1..pieces {
            let row = self.next_row(&table[p - 1], p, least, most);
            table.push(row);
        }
        table
    }

    /// Fewest strips of so many modules; where the work runs out, as many as modules, and how many are needed at least.
    fn fewest_pieces(&self, modules: usize, gap: f64) -> (usize, Option<Bound>) {
        let mut row = self.first_row(modules);
        for p in 1..=modules {
            if row.get(modules).is_some_and(|e| self.ends_there(e)) {
                return (p, None);
            }
            if !self.budget.lasts() {
                return (modules, Some(Bound::Pieces(p + 1)));
            }
            row = self.next_row(&row, p, 0.0, gap);
        }
        (modules, None)
    }

    fn possible(&self, modules: usize, pieces: usize, least: f64, most: f64) -> bool {
        let table = self.table(modules, pieces, least, most);
        table
            .last()
            .and_then(|r| r.get(modules))
            .is_some_and(|e| self.ends_there(e))
    }

    /// The strips of a layout that is known to be possible, from the last back to the first.
    fn strips(&self, modules: usize, pieces: usize, least: f64, most: f64) -> Option<Vec<Placed>> {
        let table = self.table(modules, pieces, least, most);
        let mut strips = Vec::new();
        let (mut end, mut n) = (self.last, modules);
        for p in (0..pieces).rev() {
            if p == 0 {
                strips.push(Placed {
                    start_mm: self.first,
                    modules: n,
                });
                break;
            }
            let found = (1..=n - p).find_map(|k| {
                let start = end - k as f64 * self.module;
                let fits = self
                    .free
                    .iter()
                    .any(|(a, b)| start >= a - SAME_MM && end <= b + SAME_MM);
                let before = table[p - 1].get(n - k).filter(|_| fits)?;
                let (from, to) = (start - most, start - least);
                let at = before
                    .iter()
                    .find(|(a, b)| *a <= to + SAME_MM && *b >= from - SAME_MM)?;
                // As near the middle of what is possible as can be.
                Some((
                    k,
                    start,
                    ((at.0.max(from) + at.1.min(to)) / 2.0).clamp(at.0, at.1),
                ))
            });
            let (k, start, before) = found?;
            strips.push(Placed {
                start_mm: start,
                modules: k,
            });
            end = before;
            n -= k;
        }
        strips.reverse();
        Some(strips)
    }
}

/// The least value for which `holds`, between one for which it does not and one for which it does; then the largest known not to
/// hold. Stops early when `go_on` says so.
fn least_that_holds(
    mut no: f64,
    mut yes: f64,
    go_on: impl Fn() -> bool,
    holds: impl Fn(f64) -> bool,
) -> (f64, f64) {
    while yes - no > FINE_MM / 4.0 && go_on() {
        let middle = (no + yes) / 2.0;
        if holds(middle) {
            yes = middle;
        } else {
            no = middle;
        }
    }
    (yes, no)
}

/// The largest gap that the limit leaves, and the fewest modules within it.
fn modules_within(line: &Line<'_>, p: &LineProblem, least: usize) -> Option<(usize, f64, bool)> {
    let whole = p.ends_mm.1 - p.ends_mm.0;
    let wanted = p.gap_limit_mm.unwrap_or(whole).max(0.0);
    if let Some(n) = line.fewest_modules(least, wanted) {
        return Some((n, wanted, true));
    }
    line.fewest_modules(least, whole)?;
    // Cheap beside the rest: never cut short.
    let (gap, _) = least_that_holds(
        wanted,
        whole,
        || true,
        |gap| line.fewest_modules(least, gap).is_some(),
    );
    Some((line.fewest_modules(least, gap)?, gap, false))
}

/// The line's best first goals alone: front, rear, whether the gap's limit holds and by how much not, modules, pieces. Much cheaper
/// than [`spaced`], for choosing among heights.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FirstGoals {
    /// From the surface's beginning to the first strip, mm.
    pub front_mm: f64,
    /// From the last strip to the surface's end, mm.
    pub rear_mm: f64,
    /// How much the largest gap must exceed the limit, mm.
    pub over_limit_mm: f64,
    /// Modules.
    pub modules: usize,
}

fn line_of<'a>(
    p: &LineProblem,
    free: &'a [(f64, f64)],
    budget: &'a Budget,
) -> Result<(Line<'a>, usize), NoLayout> {
    let (Some(first), Some(last)) = (free.first(), free.last()) else {
        return Err(NoLayout::NoRoom);
    };
    let fits: usize = free
        .iter()
        .map(|(a, b)| ((b - a + SAME_MM) / p.module_mm).floor() as usize)
        .sum();
    let least = ((p.least_film_mm - SAME_MM) / p.module_mm).ceil().max(1.0) as usize;
    if fits < least || least > MOST_MODULES {
        return Err(NoLayout::TooLittle(fits as f64 * p.module_mm));
    }
    Ok((
        Line {
            budget,
            free,
            module: p.module_mm,
            first: first.0,
            last: last.1,
        },
        least,
    ))
}

/// The first goals of a line.
pub fn first_goals(p: &LineProblem) -> Result<FirstGoals, NoLayout> {
    let free = free(p);
    let budget = Budget::whole();
    let (line, least) = line_of(p, &free, &budget)?;
    let (modules, gap, _) = modules_within(&line, p, least).ok_or(NoLayout::NoRoom)?;
    Ok(FirstGoals {
        front_mm: line.first - p.ends_mm.0,
        rear_mm: p.ends_mm.1 - line.last,
        over_limit_mm: p.gap_limit_mm.map_or(0.0, |limit| (gap - limit).max(0.0)),
        modules,
    })
}

/// The best layout of whole modules along a line, proven.
///
/// Errors: nowhere a module's length free; less film fits than is asked.
pub fn spaced(p: &LineProblem) -> Result<LineLayout, NoLayout> {
    spaced_within(p, None, &Budget::whole())
}

/// The best layout of whole modules along a line that a budget of work finds; `bound` says what was not proven.
///
/// Errors: nowhere a module's length free; less film fits than is asked; not as good as what is to be beaten, which is found out long
/// before the best is.
pub fn spaced_within(
    p: &LineProblem,
    to_beat: Option<ToBeat>,
    budget: &Budget,
) -> Result<LineLayout, NoLayout> {
    let free = free(p);
    let (line, least) = line_of(p, &free, budget)?;
    let (modules, gap, within_limit) = modules_within(&line, p, least).ok_or(NoLayout::NoRoom)?;
    let (pieces, mut bound) = line.fewest_pieces(modules, gap);
    let mut gap = gap;
    if let Some(other) = to_beat {
        if pieces > other.pieces {
            return Err(NoLayout::NotBetter);
        }
        if pieces == other.pieces && bound.is_none() && other.largest_gap_mm < gap {
            if !line.possible(modules, pieces, 0.0, other.largest_gap_mm) {
                return Err(NoLayout::NotBetter);
            }
            gap = other.largest_gap_mm;
        }
    }
    let (mut most, mut smallest) = (gap, 0.0);
    if pieces > 1 && bound.is_none() {
        // No layout has a smaller largest gap than one whose gaps are all alike: that is asked first, and settles both goals at once.
        let open = line.last - line.first - modules as f64 * p.module_mm;
        let even = (open / (pieces - 1) as f64).max(0.0);
        let alike = (even - ALIKE_MM).max(0.0)..=even + ALIKE_MM;
        if line.possible(modules, pieces, *alike.start(), *alike.end()) {
            most = *alike.end();
            smallest = *alike.start();
            let strips = line
                .strips(modules, pieces, smallest, most)
                .ok_or(NoLayout::NoRoom)?;
            return Ok(layout_of(p, &line, modules, within_limit, None, strips));
        }
        let unproven;
        (most, unproven) = least_that_holds(
            even.min(gap),
            gap,
            || budget.lasts(),
            |gap| line.possible(modules, pieces, 0.0, gap),
        );
        if !budget.lasts() {
            bound = Some(Bound::LargestGap(unproven));
        } else if line.possible(modules, pieces, most, most) {
            smallest = most;
        } else {
            // The largest smallest gap: the least *shortfall* from the largest that still holds.
            let (shortfall, too_little) = least_that_holds(
                0.0,
                most,
                || budget.lasts(),
                |s| line.possible(modules, pieces, most - s, most),
            );
            smallest = most - shortfall;
            if !budget.lasts() {
                bound = Some(Bound::SmallestGap(most - too_little));
            }
        }
    }
    let strips = line
        .strips(modules, pieces, smallest, most)
        .ok_or(NoLayout::NoRoom)?;
    Ok(layout_of(p, &line, modules, within_limit, bound, strips))
}

fn layout_of(
    p: &LineProblem,
    line: &Line<'_>,
    modules: usize,
    within_limit: bool,
    bound: Option<Bound>,
    strips: Vec<Placed>,
) -> LineLayout {
    let gaps: Vec<f64> = strips
        .windows(2)
        .map(|w| w[1].start_mm - w[0].start_mm - w[0].modules as f64 * p.module_mm)
        .collect();
    LineLayout {
        front_mm: line.first - p.ends_mm.0,
        rear_mm: p.ends_mm.1 - line.last,
        modules,
        largest_gap_mm: gaps.iter().copied().fold(0.0, f64::max),
        smallest_gap_mm: gaps.iter().copied().reduce(f64::min).unwrap_or(0.0),
        within_limit,
        bound,
        strips,
    }
}
