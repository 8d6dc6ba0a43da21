//! Cleaning of outlines that come from elsewhere: closed, without tiny segments and self-crossings, rims and holes told apart.

use serde::{Deserialize, Serialize};

use crate::ground::outline::{Contour, Shape, first_crossing, overlap, resolve, signed_area, weld};

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
    /// Outlines that crossed themselves and are one, as they are filled.
    #[serde(default)]
    pub welded: u32,
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
        if self.welded > 0 {
            told.push(format!(
                "{} crossed itself and is one piece of film, as it is filled in the file.",
                outlines(self.welded)
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

/// How a contour was drawn: what one path draws belongs together, and is of one colour.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct DrawnAs {
    /// The number of its path: what is drawn later lies above.
    pub path: u32,
    /// What it is filled with, `#rrggbb`; nothing where it is a bare line, or no single colour.
    #[serde(default)]
    pub fill: Option<String>,
    /// Whether it is film also where it runs over itself (non-zero rule); else that is a hole (even-odd rule).
    #[serde(default)]
    pub over_itself: bool,
}

/// An island of film with its holes.
#[derive(Debug, Clone)]
pub struct Island {
    /// Its rim and its holes.
    pub shape: Shape,
    /// How it was drawn: as its largest contour.
    pub drawn: DrawnAs,
}

/// Cleans closed contours and resolves them as a drawing program fills them: what lies within one is film, within two a hole. `drawn` says
/// how each was drawn; without it all are of one path and without a colour. Pieces of different paths that butt, or lap over each other,
/// stay the pieces that they were drawn as, and so does what lies within another in another colour: film on film, no hole.
///
/// ```
/// # use windrift_core::art::clean::{DrawnAs, clean};
/// # use kurbo::Point;
/// let square = |from: f64, to: f64| [(from, from), (to, from), (to, to), (from, to)].map(Point::from).to_vec();
/// // Drawn twice: kept once, and said.
/// let (film, cleaning) = clean(&[square(0.0, 100.0), square(0.0, 100.0)], &[]);
/// assert_eq!(film.len(), 1);
/// assert!(!cleaning.sentences().is_empty());
/// // Bare lines: the inner one is a hole. In two colours: two films.
/// let drawn = [square(0.0, 100.0), square(20.0, 80.0)];
/// assert_eq!(clean(&drawn, &[]).0.len(), 1);
/// let filled = |path, fill: &str| DrawnAs { path, fill: Some(fill.into()), over_itself: false };
/// assert_eq!(clean(&drawn, &[filled(0, "#8c1d18"), filled(1, "#f4f1e6")]).0.len(), 2);
/// // Nothing closed, nothing to cut.
/// assert!(clean(&[], &[]).0.is_empty());
/// ```
pub fn clean(contours: &[Contour], drawn: &[DrawnAs]) -> (Vec<Island>, Cleaning) {
    let mut done = Cleaning::default();
    let mut kept: Vec<(Contour, bool, DrawnAs)> = Vec::new();
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
        let own = drawn.get(n).cloned().unwrap_or_default();
        // Left in, the second would fill the first as a hole does. What is drawn last is seen, a bare line shows what is under it.
        if let Some((_, _, first)) = kept.iter_mut().find(|(k, ..)| same(k, &merged)) {
            done.doubled += 1;
            if own.fill.is_some() && (first.fill.is_none() || own.path > first.path) {
                *first = own;
            }
            continue;
        }
        kept.push((merged, crossing, own));
    }
    let (kept, drawn_as): (Vec<Contour>, Vec<DrawnAs>) = kept
        .into_iter()
        .flat_map(|(contour, crossing, own)| {
            let as_filled = if crossing && own.over_itself {
                done.welded += 1;
                let film = weld(&[contour]).into_iter();
                film.flat_map(|s| s.contours).collect()
            } else {
                done.crossing += u32::from(crossing);
                vec![contour]
            };
            as_filled.into_iter().map(move |c| (c, own.clone()))
        })
        .unzip();
    let mut islands: Vec<Island> = apart(&kept, &drawn_as)
        .into_iter()
        .flat_map(|(together, drawn)| {
            let shapes = resolve(&together).into_iter();
            shapes.map(move |shape| Island {
                shape,
                drawn: drawn.clone(),
            })
        })
        .collect();
    islands.retain(|i| i.shape.area() >= SPECK_MM2);
    let shapes = || islands.iter().map(|i| &i.shape);
    // Count what ran against its neighbours: rims one way, holes the other.
    let rims: Vec<f64> = shapes()
        .filter_map(|s| s.contours.first())
        .map(|c| signed_area(c))
        .collect();
    done.turned = kept
        .iter()
        .filter(|c| {
            let start = c.first();
            shapes().zip(&rims).any(|(s, rim)| {
                s.contours
                    .first()
                    .is_some_and(|r| start.is_some_and(|p| r.contains(p)))
                    && signed_area(c) * rim < 0.0
            })
        })
        .count() as u32;
    (islands, done)
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
/// they are of one path. What only meets another at an edge never does, nor what is filled with another colour. Each group comes with
/// how its largest contour is drawn.
fn apart(contours: &[Contour], drawn: &[DrawnAs]) -> Vec<(Vec<Contour>, DrawnAs)> {
    let shapes: Vec<Shape> = (contours.iter())
        .map(|c| Shape::new(vec![c.clone()]))
        .collect();
    let shared = |n: usize, m: usize| -> f64 {
        let both = shapes[n].bounds.intersect(shapes[m].bounds);
        if both.width() < TINY_MM || both.height() < TINY_MM {
            return 0.0;
        }
        let (a, b) = (&shapes[n..=n], &shapes[m..=m]);
        overlap(a, b).iter().map(Shape::area).sum()
    };
    let areas: Vec<f64> = shapes.iter().map(Shape::area).collect();
    // A bare line is a hole in the smallest filled contour that it lies within.
    let fills: Vec<Option<&String>> = (0..shapes.len())
        .map(|n| {
            let round_it =
                (0..shapes.len()).filter(|m| drawn[*m].fill.is_some() && areas[*m] > areas[n]);
            drawn[n].fill.as_ref().or_else(|| {
                round_it
                    .filter(|m| shared(n, *m) > areas[n] * WHOLLY)
                    .min_by(|a, b| areas[*a].total_cmp(&areas[*b]))
                    .and_then(|m| drawn[m].fill.as_ref())
            })
        })
        .collect();
    let mut group: Vec<usize> = (0..shapes.len()).collect();
    for n in 0..shapes.len() {
        for m in n + 1..shapes.len() {
            if fills[n] != fills[m] || group[n] == group[m] {
                continue;
            }
            let least = if drawn[n].path == drawn[m].path {
                SPECK_MM2
            } else {
                areas[n].min(areas[m]) * WHOLLY
            };
            if shared(n, m) > least {
                let (from, to) = (group[m].max(group[n]), group[m].min(group[n]));
                let joined = group.iter_mut().filter(|g| **g == from);
                joined.for_each(|g| *g = to);
            }
        }
    }
    let firsts = (0..group.len()).filter(|n| group[*n] == *n);
    firsts
        .map(|first| {
            let members = || (0..group.len()).filter(|n| group[*n] == first);
            let largest = members().max_by(|a, b| areas[*a].total_cmp(&areas[*b]));
            let drawn_as = DrawnAs {
                fill: fills[first].cloned(),
                ..drawn[largest.unwrap_or(first)].clone()
            };
            (members().map(|n| contours[n].clone()).collect(), drawn_as)
        })
        .collect()
}
