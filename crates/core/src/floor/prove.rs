//! The proof of an order of pressing, on whatever a sheet is cut into.
//!
//! [`prove`] runs an order of pressing *backwards*: what is pressed is opened again from the last to the first and joined by
//! union-find, so that the whole order is judged in one pass. Air is shut in when the last way out of an open region is pressed shut.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};

/// Regions smaller than this across are not told: an ordinary squeegee pushes them out, mm.
pub const TOLD_MM: f64 = 25.0;

/// A sheet cut into parts, each of which is pressed at one moment: cells of a grid, or pieces with exact edges.
pub trait Ground {
    /// Number of parts.
    fn count(&self) -> usize;
    /// Whether a part is film.
    fn film(&self, part: usize) -> bool;
    /// Whether air leaves the sheet from it.
    fn exit(&self, part: usize) -> bool;
    /// Tells the film to which air passes from it directly.
    fn beside(&self, part: usize, tell: &mut dyn FnMut(usize));
    /// Its rectangle, mm.
    fn bounds(&self, part: usize) -> Rect;
    /// A place within it.
    fn place(&self, part: usize) -> Point;
    /// Its area, mm².
    fn area_mm2(&self, part: usize) -> f64;
}

/// A region that air cannot leave.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShutIn {
    /// Number of the stroke that shut it in, from 1; 0 where it has no way out before anything is pressed.
    pub stroke: u32,
    /// Area when it was shut in, mm².
    pub area_mm2: f64,
    /// Its rectangle in the picture frame when it was shut in: left, top, right, foot, mm.
    pub bounds: [f64; 4],
    /// A place within it.
    pub at: [f64; 2],
}

impl ShutIn {
    /// Its larger extent, mm.
    pub fn across_mm(&self) -> f64 {
        let [x0, y0, x1, y1] = self.bounds;
        (x1 - x0).max(y1 - y0)
    }
}

/// When a part is pressed: by which stroke (from 1) and how far along it. Never pressed: [`NEVER`].
pub type Moment = (u32, u32);
/// A part that no stroke presses.
pub const NEVER: Moment = (u32::MAX, u32::MAX);

#[derive(Clone, Copy)]
struct Region {
    parent: u32,
    area_mm2: f64,
    bounds: Rect,
    exit: bool,
    opened: bool,
    /// The step at which it was last noted as joined to another.
    noted: u32,
}

/// Runs an order of pressing and returns every region that air is shut in by it, the earliest first; small ones too.
///
/// `pressed` holds, for every part, when it is first pressed.
///
/// ```
/// # use windrift_core::{floor::air::{Cell, Sheet, Swath, press}, floor::prove::prove, ground::outline::Shape};
/// # use kurbo::Rect;
/// // A sheet of 400 × 400 mm, open all round.
/// let bounds = Rect::new(0.0, 0.0, 400.0, 400.0);
/// let mut sheet = Sheet::over(bounds, 10.0, 0.0);
/// sheet.fill(&Shape::rectangle(bounds), Cell::Film);
/// sheet.open_rim(|_| false);
/// // A ring round its middle: the fourth stroke closes it.
/// let ring = [[100.0, 100.0], [300.0, 100.0], [300.0, 300.0], [100.0, 300.0], [100.0, 100.0]];
/// let strokes: Vec<Swath> = ring.windows(2).map(|p| Swath { path: p.to_vec(), width_mm: 60.0 }).collect();
/// let shut_in = prove(&sheet, &press(&sheet, &strokes));
/// assert_eq!((shut_in.len(), shut_in[0].stroke), (1, 4));
/// // Three sides of it shut in nothing.
/// assert!(prove(&sheet, &press(&sheet, &strokes[..3])).is_empty());
/// ```
pub fn prove(sheet: &impl Ground, pressed: &[Moment]) -> Vec<ShutIn> {
    let moment = |key: usize| pressed.get(key).copied().unwrap_or(NEVER);
    let mut order: Vec<u32> = (0..sheet.count())
        .filter(|k| sheet.film(*k))
        .map(|k| k as u32)
        .collect();
    order.sort_unstable_by_key(|k| std::cmp::Reverse(moment(*k as usize)));
    let mut regions: Vec<Region> = (0..sheet.count())
        .map(|key| Region {
            parent: key as u32,
            area_mm2: sheet.area_mm2(key),
            bounds: sheet.bounds(key),
            exit: sheet.exit(key),
            opened: false,
            noted: u32::MAX,
        })
        .collect();
    let mut found: Vec<ShutIn> = Vec::new();
    // Regions that were there, without a way out, before the cells of one moment were opened, and were joined to others by them.
    let mut joined: Vec<(u32, Region)> = Vec::new();
    let mut beside: Vec<usize> = Vec::new();
    let mut n = 0;
    while n < order.len() {
        let now = moment(order[n] as usize);
        let mut end = n;
        while end < order.len() && moment(order[end] as usize) == now {
            regions[order[end] as usize].opened = true;
            end += 1;
        }
        joined.clear();
        for key in &order[n..end] {
            let key = *key as usize;
            beside.clear();
            sheet.beside(key, &mut |other| beside.push(other));
            for other in beside.iter().copied().filter(|o| *o != key) {
                if !regions[other].opened {
                    continue;
                }
                let (a, b) = (
                    root(&mut regions, key as u32),
                    root(&mut regions, other as u32),
                );
                if a == b {
                    continue;
                }
                for side in [a, b] {
                    let region = regions[side as usize];
                    // A region made of cells of this very moment alone was not there before.
                    if !region.exit && moment(side as usize) > now && region.noted != n as u32 {
                        regions[side as usize].noted = n as u32;
                        joined.push((side, region));
                    }
                }
                unite(&mut regions, a, b, |k| moment(k as usize));
            }
        }
        for (was, region) in &joined {
            let root = root(&mut regions, *was);
            if regions[root as usize].exit {
                found.push(told(sheet, *region, *was, now.0));
            }
        }
        n = end;
    }
    let mut roots: Vec<u32> = Vec::new();
    for key in order {
        let root = root(&mut regions, key);
        if root == key && !regions[root as usize].exit {
            roots.push(root);
        }
    }
    found.extend(
        roots
            .into_iter()
            .map(|r| told(sheet, regions[r as usize], r, 0)),
    );
    found.sort_by(|a, b| {
        a.stroke
            .cmp(&b.stroke)
            .then(b.area_mm2.total_cmp(&a.area_mm2))
    });
    found
}

fn root(regions: &mut [Region], mut key: u32) -> u32 {
    while regions[key as usize].parent != key {
        let up = regions[key as usize].parent;
        regions[key as usize].parent = regions[up as usize].parent;
        key = up;
    }
    key
}

/// Joins two regions. The root is the cell that is pressed last, so that a root tells whether the region was there at a moment.
fn unite(regions: &mut [Region], a: u32, b: u32, moment: impl Fn(u32) -> Moment) {
    let (root, under) = if moment(a) >= moment(b) {
        (a, b)
    } else {
        (b, a)
    };
    let (r, u) = (regions[root as usize], regions[under as usize]);
    regions[under as usize].parent = root;
    regions[root as usize] = Region {
        parent: root,
        area_mm2: r.area_mm2 + u.area_mm2,
        bounds: r.bounds.union(u.bounds),
        exit: r.exit || u.exit,
        opened: true,
        noted: r.noted,
    };
}

fn told(sheet: &impl Ground, region: Region, part: u32, stroke: u32) -> ShutIn {
    let at = sheet.place(part as usize);
    let of = region.bounds;
    ShutIn {
        stroke,
        area_mm2: region.area_mm2,
        bounds: [of.x0, of.y0, of.x1, of.y1],
        at: [at.x, at.y],
    }
}
