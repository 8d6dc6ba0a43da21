//! Cleaning of outlines that come from elsewhere: closed, without tiny segments and self-crossings, rims and holes told apart.

use serde::{Deserialize, Serialize};

use crate::ground::outline::{Contour, Shape, first_crossing, overlap, resolve, signed_area};

/// Points nearer to each other than this are one, mm: a cutter's knife is no finer.
pub const TINY_MM: f64 = 0.05;
/// Loops smaller than this are left out, mm².
pub const SPECK_MM2: f64 = 1.0;

/// What was done to outlines.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cleaning {
    /// Tiny segments that were merged into their neighbours.
    pub merged: u32,
    /// Outlines that crossed themselves.
    pub crossing: u32,
    /// Specks that were left out.
    pub specks: u32,
    /// Outlines that ran the wrong way round and were turned.
    pub turned: u32,
    /// Outlines that were drawn more than once and are kept once.
    #[serde(default)]
    pub doubled: u32,
}

impl Cleaning {
    /// What was done, one sentence each; empty where nothing had to be.
    pub fn sentences(&self) -> Vec<String> {
        let mut told = Vec::new();
        let outlines = |n: u32| {
            if n == 1 {
                "1 outline".to_owned()
            } else {
                format!("{n} outlines")
            }
        };
        if self.merged > 0 {
            told.push(format!(
                "{} shorter than {TINY_MM} mm merged into its neighbour.",
                if self.merged == 1 {
                    "1 segment".to_owned()
                } else {
                    format!("{} segments", self.merged)
                }
            ));
        }
        if self.crossing > 0 {
            told.push(format!(
                "{} crossed itself and was cut apart where it did: look at it before it is cut.",
                outlines(self.crossing)
            ));
        }
        if self.specks > 0 {
            told.push(format!(
                "{} smaller than {SPECK_MM2} mm² left out.",
                outlines(self.specks)
            ));
        }
        if self.doubled > 0 {
            told.push(format!(
                "{} drawn more than once kept once.",
                outlines(self.doubled)
            ));
        }
        if self.turned > 0 {
            told.push(format!(
                "{} turned so that the cutter goes round film the same way.",
                outlines(self.turned)
            ));
        }
        told
    }
}

/// Cleans closed contours and resolves them as a drawing program fills them: what lies within one is film, within two a hole. `paths` has
/// the number of the path that each was drawn as; without it all are of one. Pieces of different paths that butt, or lap over each other,
/// stay the pieces that they were drawn as.
///
/// ```
/// # use windrift_core::art::clean::clean;
/// # use kurbo::Point;
/// let square = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)].map(|(x, y)| Point::new(x, y)).to_vec();
/// // Drawn twice: kept once, and said.
/// let (film, cleaning) = clean(&[square.clone(), square], &[]);
/// assert_eq!(film.len(), 1);
/// assert!(!cleaning.sentences().is_empty());
/// // Nothing closed, nothing to cut.
/// assert!(clean(&[], &[]).0.is_empty());
/// ```
pub fn clean(contours: &[Contour], paths: &[u32]) -> (Vec<Shape>, Cleaning) {
    let mut done = Cleaning::default();
    let mut kept: Vec<Contour> = Vec::new();
    let mut path_of: Vec<u32> = Vec::new();
    for (n, contour) in contours.iter().enumerate() {
        let mut merged: Contour = Vec::with_capacity(contour.len());
        for p in contour {
            if !p.x.is_finite()
                || !p.y.is_finite()
                || merged.last().is_some_and(|q| q.distance(*p) < TINY_MM)
            {
                done.merged += 1;
                continue;
            }
            merged.push(*p);
        }
        while merged.len() > 1
            && merged
                .first()
                .zip(merged.last())
                .is_some_and(|(a, b)| a.distance(*b) < TINY_MM)
        {
            merged.pop();
            done.merged += 1;
        }
        let area = signed_area(&merged);
        let crossing = first_crossing(&merged).is_some();
        if merged.len() < 3 || (area.abs() < SPECK_MM2 && !crossing) {
            done.specks += 1;
            continue;
        }
        // Left in, the second would fill the first as a hole does.
        if kept.iter().any(|k| same(k, &merged)) {
            done.doubled += 1;
            continue;
        }
        done.crossing += u32::from(crossing);
        kept.push(merged);
        path_of.push(paths.get(n).copied().unwrap_or_default());
    }
    let mut shapes: Vec<Shape> = apart(&kept, &path_of)
        .into_iter()
        .flat_map(|together| resolve(&together))
        .collect();
    shapes.retain(|s| s.area() >= SPECK_MM2);
    // Count what ran against its neighbours: rims one way, holes the other.
    let rims: Vec<f64> = shapes
        .iter()
        .filter_map(|s| s.contours.first())
        .map(|c| signed_area(c))
        .collect();
    done.turned = kept
        .iter()
        .filter(|c| {
            let start = c.first();
            shapes.iter().zip(&rims).any(|(s, rim)| {
                s.contours
                    .first()
                    .is_some_and(|r| start.is_some_and(|p| r.contains(p)))
                    && signed_area(c) * rim < 0.0
            })
        })
        .count() as u32;
    (shapes, done)
}

/// Whether two contours go through the same points, wherever they begin and whichever way they run.
fn same(a: &Contour, b: &Contour) -> bool {
    let near = |p: &kurbo::Point, q: &kurbo::Point| p.distance(*q) < TINY_MM;
    let n = a.len();
    if n != b.len() {
        return false;
    }
    let Some(start) = b.iter().position(|p| near(&a[0], p)) else {
        return false;
    };
    (0..n).all(|k| near(&a[k], &b[(start + k) % n]))
        || (0..n).all(|k| near(&a[k], &b[(start + n - k) % n]))
}

/// Less of a contour than this share lies beside another that it is a hole or an island of.
const WHOLLY: f64 = 0.999;

/// Contours that belong to each other: one within another is its hole, whoever drew it; those that lie partly over each other only where
/// they are of one path. What only meets another at an edge never does.
fn apart(contours: &[Contour], path_of: &[u32]) -> Vec<Vec<Contour>> {
    let shapes: Vec<Shape> = (contours.iter())
        .map(|c| Shape::new(vec![c.clone()]))
        .collect();
    let mut group: Vec<usize> = (0..shapes.len()).collect();
    for (n, a) in shapes.iter().enumerate() {
        for (m, b) in shapes.iter().enumerate().skip(n + 1) {
            let both = a.bounds.intersect(b.bounds);
            if group[n] == group[m] || both.width() < TINY_MM || both.height() < TINY_MM {
                continue;
            }
            let shared = overlap(std::slice::from_ref(a), std::slice::from_ref(b));
            let shared = shared.iter().map(Shape::area).sum::<f64>();
            let least = if path_of[n] == path_of[m] {
                SPECK_MM2
            } else {
                a.area().min(b.area()) * WHOLLY
            };
            if shared > least {
                let (from, to) = (group[m].max(group[n]), group[m].min(group[n]));
                let joined = group.iter_mut().filter(|g| **g == from);
                joined.for_each(|g| *g = to);
            }
        }
    }
    let firsts = (0..group.len()).filter(|n| group[*n] == *n);
    firsts
        .map(|first| {
            let members = contours.iter().zip(&group).filter(|(_, g)| **g == first);
            members.map(|(c, _)| c.clone()).collect()
        })
        .collect()
}
