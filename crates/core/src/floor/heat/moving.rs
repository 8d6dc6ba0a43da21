//! Film and panel under a jet of hot air that walks along: conduction with losses, in the frame that walks with the jet.
//!
//! `holds * speed * dT/ds = conduction + U(s, y) (jet - T) - losses`, by finite volumes, central differences and one direct solution. Metal is one temperature
//! through its thickness and conducts along and across the walk; what conducts badly is resolved along the walk and through its thickness, and spreads
//! sideways by less than a millimetre or two while it warms. All temperatures are shares: 0 is the air and the panel before, 1 the jet.
//!
//! A backing behind metal takes heat as a half-space does under a steady rise: `4 / (3 sqrt(pi)) * effusivity * sqrt(time)` for each degree (Carslaw & Jaeger,
//! from memory), the time being that under the jet.

use crate::floor::heat::banded::Banded;
use crate::floor::heat::panel::{BuildUp, FREE_EDGE_MM, HeatSpot, MEMBER_HALF_MM, STILL_AIR};

/// The jet reaches this far beside and along its middle before it has fallen to 1/e, mm: a nozzle at 1 to 3 in whose air spreads over the skin. At 80 W/(m² K) and
/// 240 K that is 150 W, a tenth of a gun's power (ours).
pub const SPREAD_MM: f64 = 50.0;
/// At a free edge the jet goes round and warms the skin from behind as well: by so much more (ours).
const GOES_ROUND: f64 = 1.4;

/// How fast the jet is walked, mm/s, and how it heats: W/(m² K) at a place of the skin, mm along and across from its middle, behind it counted positive.
pub struct Walk<'j> {
    /// mm/s.
    pub speed: f64,
    /// W/(m² K).
    pub jet: &'j dyn Fn(f64, f64) -> f64,
    /// How many times finer than what ships the grid is.
    pub finer: usize,
}

/// A jet that falls off as a bell does.
pub fn bell(coefficient: f64) -> impl Fn(f64, f64) -> f64 {
    move |s, y| coefficient * (-(s * s + y * y) / (SPREAD_MM * SPREAD_MM)).exp()
}

/// Cells across the walk, or through the thickness: what each holds and conducts for each metre along.
struct Cells {
    /// Middle beside the jet's, mm; 0 for all where they lie one under the other.
    at_mm: Vec<f64>,
    /// J/(m K).
    holds: Vec<f64>,
    /// Along the walk, W m/K.
    along: Vec<f64>,
    /// To the next cell, W/(m K).
    across: Vec<f64>,
    /// Share of its width that the jet sees, m; 0 where it sees none.
    seen: Vec<f64>,
    /// W/(m K).
    loses: Vec<f64>,
    /// Between the jet and the middle of the outermost cell, m² K/W.
    to_middle: f64,
    /// Between film and skin, and that middle.
    to_bond: f64,
    /// The cell at the line that is walked.
    line: usize,
}

/// Widths that grow from `first` by `ratio` until they cover `length`, fitted to it.
fn growing(first: f64, ratio: f64, length: f64) -> Vec<f64> {
    let mut widths = vec![first.min(length)];
    let mut sum = widths[0];
    while sum < length * (1.0 - 1e-9) {
        let next = widths[widths.len() - 1] * ratio;
        widths.push(next);
        sum += next;
    }
    for w in &mut widths {
        *w *= length / sum;
    }
    widths
}

impl Cells {
    fn of(panel: &BuildUp, speed: f64, finer: usize) -> Cells {
        if panel.is_one_through() {
            Cells::across_metal(panel, speed, finer)
        } else {
            Cells::through(panel, finer)
        }
    }

    /// Beside the line in thin metal; the other side is the same, or is not there.
    fn across_metal(panel: &BuildUp, speed: f64, finer: usize) -> Cells {
        // A member, and what goes round an edge, end within a few steps: those must be short.
        let (parts, steps) = match panel.spot {
            HeatSpot::Member | HeatSpot::FreeEdge => (12.0, 9),
            HeatSpot::Field => (4.0, 8),
        };
        let fine = SPREAD_MM / parts / finer as f64;
        let mut at_mm: Vec<f64> = (0..=steps * finer).map(|n| n as f64 * fine).collect();
        for step in growing(fine, 1.0 + 0.4 / finer as f64, 450.0) {
            at_mm.push(at_mm[at_mm.len() - 1] + step);
        }
        let free = panel.spot == HeatSpot::FreeEdge;
        if free {
            let more = (FREE_EDGE_MM / fine).ceil();
            let before = (0..more as usize).map(|n| -FREE_EDGE_MM * (1.0 - n as f64 / more));
            at_mm = before.chain(at_mm).collect();
        }
        let n = at_mm.len();
        // Each value stands for half of what lies to its neighbours.
        let wide = |k: usize| {
            let to = |other: usize| (at_mm[k] - at_mm[other]).abs() / 2000.0;
            (if k > 0 { to(k - 1) } else { 0.0 }) + (if k + 1 < n { to(k + 1) } else { 0.0 })
        };
        let (member_holds, member_along) = panel.member();
        let backing = panel.backing.map_or(0.0, |b| {
            let under_jet = 2.0 * SPREAD_MM / speed;
            let effusivity = (b.density * b.capacity * b.conductivity).sqrt();
            (4.0 / (3.0 * std::f64::consts::PI.sqrt()) * effusivity * under_jet.sqrt())
                .min(b.holds())
        });
        let skin_along = panel.skin.mm / 1000.0 * panel.skin.conductivity;
        // The share of a stretch across that lies within so much of the line.
        let within = |from: f64, to: f64, half: f64| {
            ((to.min(half) - from.max(-half)) / (to - from)).max(0.0)
        };
        let is_member = panel.spot == HeatSpot::Member;
        let member = |from: f64, to: f64| match is_member {
            true => within(from, to, MEMBER_HALF_MM),
            false => 0.0,
        };
        // What a value stands for, from and to.
        let reach = |k: usize| {
            let y = at_mm[k];
            let from = if k > 0 { (at_mm[k - 1] + y) / 2.0 } else { y };
            let to = at_mm.get(k + 1).map_or(y, |next| (y + next) / 2.0);
            (from, to)
        };
        let holds = |k: usize| {
            let (from, to) = reach(k);
            let behind = member(from, to);
            let own = panel.skin.holds() + panel.film_holds() + backing;
            (
                own + member_holds * behind,
                skin_along + member_along * behind,
            )
        };
        let losses = match panel.backing {
            Some(_) => STILL_AIR,
            None => 2.0 * STILL_AIR,
        };
        Cells {
            holds: (0..n).map(|k| holds(k).0 * wide(k)).collect(),
            along: (0..n).map(|k| holds(k).1 * wide(k)).collect(),
            across: (0..n - 1)
                .map(|k| {
                    let (a, b) = (at_mm[k], at_mm[k + 1]);
                    (skin_along + member_along * member(a, b)) / ((b - a) / 1000.0)
                })
                .collect(),
            seen: (0..n)
                .map(|k| {
                    let (from, to) = reach(k);
                    let round = if free {
                        within(from, to, FREE_EDGE_MM)
                    } else {
                        0.0
                    };
                    wide(k) * (1.0 + (GOES_ROUND - 1.0) * round)
                })
                .collect(),
            loses: (0..n).map(|k| losses * wide(k)).collect(),
            to_middle: panel.film_resistance(),
            to_bond: 0.0,
            line: at_mm.iter().position(|y| *y >= 0.0).unwrap_or(0),
            at_mm,
        }
    }

    /// Through the thickness of what conducts badly, for a strip of one metre width.
    fn through(panel: &BuildUp, finer: usize) -> Cells {
        let ratio = 1.0 + 0.3 / finer as f64;
        let first = 0.06 / finer as f64;
        let skin = growing(first, ratio, panel.skin.mm);
        let mut layers: Vec<(f64, _)> = skin.iter().map(|w| (*w, panel.skin)).collect();
        if let Some(backing) = panel.backing {
            let from = skin.last().copied().unwrap_or(first);
            layers.extend(
                growing(from, ratio, backing.mm)
                    .iter()
                    .map(|w| (*w, backing)),
            );
        }
        let n = layers.len();
        let metres = |k: usize| layers[k].0 / 1000.0;
        let mut holds: Vec<f64> = (0..n)
            .map(|k| metres(k) * layers[k].1.density * layers[k].1.capacity)
            .collect();
        holds[0] += panel.film_holds();
        let mut seen = vec![0.0; n];
        seen[0] = 1.0;
        let mut loses = vec![0.0; n];
        loses[0] = STILL_AIR;
        loses[n - 1] += STILL_AIR;
        let half = |k: usize| metres(k) / 2.0 / layers[k].1.conductivity;
        Cells {
            at_mm: vec![0.0; n],
            holds,
            along: (0..n)
                .map(|k| metres(k) * layers[k].1.conductivity)
                .collect(),
            across: (0..n - 1).map(|k| 1.0 / (half(k) + half(k + 1))).collect(),
            seen,
            loses,
            to_middle: panel.film_resistance() + half(0),
            to_bond: half(0),
            line: 0,
        }
    }

    fn len(&self) -> usize {
        self.holds.len()
    }

    /// What goes from the jet to the middle of a cell, W/(m K) for each metre along.
    fn gains(&self, walk: &Walk<'_>, s_mm: f64, cell: usize) -> f64 {
        if self.seen[cell] == 0.0 {
            return 0.0;
        }
        let h = (walk.jet)(s_mm, self.at_mm[cell]);
        self.seen[cell] * h / (1.0 + h * self.to_middle)
    }
}

/// How warm it is around a jet that walks steadily; shares of the jet's excess over the air.
pub struct Field {
    s_mm: Vec<f64>,
    width: Vec<f64>,
    cells: Cells,
    share: Vec<f64>,
    /// The most between film and skin at the line that is walked.
    pub line_bond: f64,
    /// The most between film and skin anywhere.
    pub hottest_bond: f64,
    /// The most at the outside of the film anywhere.
    pub hottest_film: f64,
    /// Taken from the jet, W for each degree of its excess.
    pub taken: f64,
    /// Carried away behind and lost to the air, the same.
    pub given: f64,
}

/// Where the grid ends behind: what is seen this long after the jet, s.
const BEHIND_S: f64 = 45.0;

/// Widths along the walk, mm, and where they begin.
fn along(panel: &BuildUp, speed: f64, finer: usize) -> (f64, Vec<f64>) {
    let fine = SPREAD_MM / 6.0 / finer as f64;
    let reach = 3.0 * SPREAD_MM;
    let ratio = 1.0 + 0.3 / finer as f64;
    // Heat that runs ahead dies away over this length.
    let spreads = panel.skin.conductivity / (panel.skin.density * panel.skin.capacity) * 1e6;
    let carried = speed / (2.0 * spreads);
    let losing = 20.0 / (panel.skin.holds() * spreads);
    let ahead = 7.0 / (carried + (carried * carried + losing).sqrt());
    let before: Vec<f64> = growing(fine, ratio, ahead.clamp(fine, 600.0));
    let mut widths: Vec<f64> = before.iter().rev().copied().collect();
    widths.extend(vec![fine; (2.0 * reach / fine).round() as usize]);
    let behind = (speed * BEHIND_S - reach).max(200.0);
    widths.extend(growing(fine, 1.0 + 0.16 / finer as f64, behind));
    (-reach - before.iter().sum::<f64>(), widths)
}

/// The field around a jet.
///
/// ```
/// # use windrift_core::floor::heat::moving::{Walk, bell, steady};
/// # use windrift_core::floor::heat::panel::{BuildUp, HeatSpot};
/// # use windrift_core::vehicle::surface::{Behind, Material, Surface};
/// let mut steel = Surface::of(Material::PaintedSteel);
/// steel.behind = Some(Behind::Air);
/// let panel = BuildUp::of(&steel, 0.1, HeatSpot::Field).unwrap();
/// let jet = bell(80.0);
/// let slow = steady(&panel, &Walk { speed: 2.0, jet: &jet, finer: 1 });
/// let quick = steady(&panel, &Walk { speed: 6.0, jet: &jet, finer: 1 });
/// assert!(slow.hottest_bond > quick.hottest_bond);
/// // Film under the jet is warmer than the skin under it.
/// assert!(slow.hottest_film > slow.hottest_bond);
/// // What the jet gives is carried away or lost.
/// assert!((slow.taken - slow.given).abs() < 0.005 * slow.taken);
/// ```
pub fn steady(panel: &BuildUp, walk: &Walk<'_>) -> Field {
    let cells = Cells::of(panel, walk.speed, walk.finer);
    let (begins, widths_mm) = along(panel, walk.speed, walk.finer);
    let mut edge = begins;
    let mut s_mm = Vec::with_capacity(widths_mm.len());
    for w in &widths_mm {
        s_mm.push(edge + w / 2.0);
        edge += w;
    }
    let width: Vec<f64> = widths_mm.iter().map(|w| w / 1000.0).collect();
    let speed = walk.speed / 1000.0;
    let (matrix, gains) = assemble(&cells, &s_mm, &width, walk, speed);
    let mut share = gains.clone();
    matrix.split().solve(&mut share);
    let (n, m) = (s_mm.len(), cells.len());
    let mut taken = 0.0;
    let mut given = 0.0;
    for (i, wide) in width.iter().enumerate() {
        for j in 0..m {
            let k = i * m + j;
            taken += gains[k] * (1.0 - share[k]);
            given += cells.loses[j] * wide * share[k];
        }
    }
    for j in 0..m {
        given += speed * cells.holds[j] * share[(n - 1) * m + j];
        // What leaves against the walk at the front of the grid.
        given += cells.along[j] / (width[0] / 2.0) * share[j];
    }
    let mut field = Field {
        s_mm,
        width,
        cells,
        share,
        line_bond: 0.0,
        hottest_bond: 0.0,
        hottest_film: 0.0,
        taken,
        given,
    };
    (field.line_bond, field.hottest_bond, field.hottest_film) = field.peaks(walk);
    field
}

/// The most at the outside of the film after the jet has stood still for some seconds in the middle of a steady walk, a share.
pub fn paused(panel: &BuildUp, walk: &Walk<'_>, seconds: f64) -> f64 {
    let mut field = steady(panel, walk);
    let (n, m) = (field.s_mm.len(), field.cells.len());
    let (mut matrix, gains) = assemble(&field.cells, &field.s_mm, &field.width, walk, 0.0);
    let step = seconds / PAUSE_STEPS as f64;
    let mut keeps = vec![0.0; n * m];
    for (k, keep) in keeps.iter_mut().enumerate() {
        *keep = field.cells.holds[k % m] * field.width[k / m] / step;
        matrix.add(k, k, *keep);
    }
    let split = matrix.split();
    for _ in 0..PAUSE_STEPS {
        for (k, share) in field.share.iter_mut().enumerate() {
            *share = *share * keeps[k] + gains[k];
        }
        split.solve(&mut field.share);
    }
    field.peaks(walk).2
}

/// Steps of time in a pause.
const PAUSE_STEPS: usize = 40;

/// The system of a jet that walks at a speed, m/s, and what it gives to each cell, W/K.
fn assemble(
    cells: &Cells,
    s_mm: &[f64],
    width: &[f64],
    walk: &Walk<'_>,
    speed: f64,
) -> (Banded, Vec<f64>) {
    let (n, m) = (s_mm.len(), cells.len());
    let mut matrix = Banded::new(n * m, m);
    let mut gains = vec![0.0; n * m];
    for i in 0..n {
        for j in 0..m {
            let k = i * m + j;
            let gain = cells.gains(walk, s_mm[i], j) * width[i];
            gains[k] = gain;
            matrix.add(k, k, gain + cells.loses[j] * width[i]);
            if j + 1 < m {
                let c = cells.across[j] * width[i];
                matrix.add(k, k, c);
                matrix.add(k, k + 1, -c);
                matrix.add(k + 1, k + 1, c);
                matrix.add(k + 1, k, -c);
            }
            let carries = speed * cells.holds[j];
            if i + 1 < n {
                // Through the face to the next: conduction, and what is carried, by the value at the face.
                let c = cells.along[j] / ((width[i] + width[i + 1]) / 2.0);
                let here = width[i + 1] / (width[i] + width[i + 1]);
                matrix.add(k, k, c + carries * here);
                matrix.add(k, k + m, -c + carries * (1.0 - here));
                matrix.add(k + m, k + m, c - carries * (1.0 - here));
                matrix.add(k + m, k, -c - carries * here);
            } else {
                matrix.add(k, k, carries);
            }
            if i == 0 {
                // Cold panel comes in: its share is 0.
                matrix.add(k, k, cells.along[j] / (width[0] / 2.0));
            }
        }
    }
    (matrix, gains)
}

impl Field {
    fn at(&self, i: usize, j: usize) -> f64 {
        self.share[i * self.cells.len() + j]
    }

    /// The most between film and skin at the line, anywhere, and at the outside of the film anywhere.
    fn peaks(&self, walk: &Walk<'_>) -> (f64, f64, f64) {
        let mut most = (0.0f64, 0.0f64, 0.0f64);
        for i in 0..self.s_mm.len() {
            for (j, seen) in self.cells.seen.iter().enumerate() {
                if *seen == 0.0 {
                    continue;
                }
                let at = self.at(i, j);
                let flows = self.cells.gains(walk, self.s_mm[i], j) / seen * (1.0 - at);
                let bond = at + flows * self.cells.to_bond;
                if j == self.cells.line {
                    most.0 = most.0.max(bond);
                }
                most.1 = most.1.max(bond);
                most.2 = most.2.max(at + flows * self.cells.to_middle);
            }
        }
        most
    }

    /// How warm the line is so long after the jet's middle has passed it, s.
    pub fn after(&self, speed: f64, seconds: f64) -> f64 {
        let s = speed * seconds;
        let n = self.s_mm.partition_point(|x| *x < s);
        let j = self.cells.line;
        if n == 0 {
            return self.at(0, j);
        }
        if n == self.s_mm.len() {
            return self.at(n - 1, j);
        }
        let share = (s - self.s_mm[n - 1]) / (self.s_mm[n] - self.s_mm[n - 1]);
        self.at(n - 1, j) * (1.0 - share) + self.at(n, j) * share
    }
}
