//! What a join of two panels costs where it lies: what its lap and a quarter of an inch on both sides of it meet on the vehicle and in the
//! picture.

use kurbo::{Point, Rect};

use crate::art::printed_panel::{PrintedPanel, key_rect};
use crate::cut::split::{COSTS, Cost};
use crate::film::work::Stand;
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::{ComesOff, FeatureClass, FeatureKind};
use crate::vehicle::measured::MeasuredSide;

/// Beside the lap this much counts too, mm: 1/4 in (ours).
pub const BESIDE_MM: f64 = 6.35;

/// A gap or a crease that runs along less of a join than this only crosses it, mm: 2 in (ours).
const ALONG_MM: f64 = 50.8;

/// Something that a join may meet, seen along the direction in which panels follow each other.
#[derive(Debug, Clone)]
struct Met {
    name: String,
    what: What,
    /// Its outline as segments, each (along, across).
    edges: Vec<[(f64, f64); 2]>,
}

/// What it does to a join, worst first. In a gap none is allowed, through what must stay clear none as long as there is another way.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum What {
    /// It must stay clear in the picture.
    Key,
    /// A gap: nothing spans a void, and a join in it hangs in the air.
    Gap,
    /// Hardware that stays or comes off, glass, an arch.
    Hardware,
    /// A recess, a curve: the lap would be stretched.
    Formed,
    /// A crease, a body line, a seam along the join.
    Crease,
    /// A head of a rivet under the exposed edge.
    EdgeOnHead,
    /// A head in the lap.
    Head,
}

impl What {
    /// Its place in a cost; nothing where no join is allowed.
    fn place(self) -> Option<usize> {
        match self {
            What::Gap => None,
            What::Key => Some(0),
            What::Hardware => Some(1),
            What::Formed => Some(2),
            What::Crease => Some(3),
            What::EdgeOnHead => Some(4),
            What::Head => Some(5),
        }
    }
}

/// The print with everything that a join may meet, from the edge that is laid first.
#[derive(Debug, Clone)]
pub struct Joins {
    met: Vec<Met>,
    heads: Vec<(f64, f64)>,
    lap_mm: f64,
}

/// Film frame to (along, across), along from the edge that is laid first.
fn turned(film: Rect, stand: Stand, front_left: bool) -> impl Fn(Point) -> (f64, f64) {
    move |p: Point| match (stand, front_left) {
        (Stand::Upright, true) => (film.x1 - p.x, p.y - film.y0),
        (Stand::Upright, false) => (p.x - film.x0, p.y - film.y0),
        (Stand::Lying, _) => (film.y1 - p.y, p.x - film.x0),
    }
}

impl Joins {
    /// What joins of a print may meet. `film` is the print with its bleed in its own frame.
    pub fn of(
        panel: &PrintedPanel,
        film: Rect,
        placed: &Placed,
        side: &MeasuredSide,
        stand: Stand,
        lap_mm: f64,
    ) -> Joins {
        let front_left = side.side.direction() > 0.0;
        let to_film = placed.to_picture.inverse();
        let along = turned(film, stand, front_left);
        let edge = |a: Point, b: Point| [along(a), along(b)];
        let meets = |edges: &[(Point, Point)]| {
            edges
                .iter()
                .map(|(a, b)| Rect::from_points(to_film * *a, to_film * *b))
                .reduce(|a, b| a.union(b))
                .is_some_and(|r| {
                    r.x0 < film.x1 && r.x1 > film.x0 && r.y0 < film.y1 && r.y1 > film.y0
                })
        };
        let mut met = Vec::new();
        for key in &panel.keys {
            let r = key_rect(panel, key, front_left);
            let corners = [(r.x0, r.y0), (r.x1, r.y0), (r.x1, r.y1), (r.x0, r.y1)].map(Point::from);
            let edges = (0..4).map(|n| edge(corners[n], corners[(n + 1) % 4]));
            met.push(Met {
                name: format!("\u{201c}{}\u{201d} in the picture", key.name),
                what: What::Key,
                edges: edges.collect(),
            });
        }
        let mut take = |name: &str, what: What, edges: Vec<(Point, Point)>| {
            if meets(&edges) {
                met.push(Met {
                    name: name.to_owned(),
                    what,
                    edges: (edges.iter())
                        .map(|(a, b)| edge(to_film * *a, to_film * *b))
                        .collect(),
                });
            }
        };
        for line in &side.lines {
            let what = match line.kind {
                FeatureKind::DoorGap => What::Gap,
                FeatureKind::Crease
                | FeatureKind::BodyLine
                | FeatureKind::PanelSeam
                | FeatureKind::FilmEdge => What::Crease,
                _ => continue,
            };
            let pairs = line.points.windows(2).filter_map(|pair| match pair {
                [a, b] => Some((*a, *b)),
                _ => None,
            });
            take(&line.name, what, pairs.collect());
        }
        for area in &side.areas {
            let what = match (area.kind, area.kind.class()) {
                (FeatureKind::LockerDoor, _) => What::Gap,
                (FeatureKind::Recess | FeatureKind::CurvedZone | FeatureKind::ConcaveZone, _) => {
                    What::Formed
                }
                (_, FeatureClass::Zone) => continue,
                _ if area.comes_off == ComesOff::ForGood => continue,
                _ => What::Hardware,
            };
            take(&area.name, what, area.outline.edges().collect());
        }
        let heads = side.columns.iter().flat_map(|c| {
            let radius = c.head_mm / 2.0;
            c.heads.iter().map(move |h| (*h, radius))
        });
        let heads = heads
            .map(|(h, radius)| (to_film * h, radius))
            .filter(|(h, _)| film.contains(*h))
            .map(|(h, radius)| (along(h).0, radius))
            .collect();
        Joins { met, heads, lap_mm }
    }

    /// What a join costs whose exposed edge lies so far from the edge that is laid first, mm; nothing where none is allowed. Through what must
    /// stay clear one is allowed only where `through_keys` says so.
    pub fn cost(&self, at_mm: f64, through_keys: bool) -> Option<Cost> {
        let mut cost = [0; COSTS];
        for (what, amount, _) in self.meets(at_mm) {
            if what == What::Key && !through_keys {
                return None;
            }
            let place = what.place()?;
            if let Some(sum) = cost.get_mut(place) {
                *sum += amount;
            }
        }
        Some(cost)
    }

    /// The same in words, worst first: what the join meets and how much of it.
    pub fn words(&self, at_mm: f64, text: impl Fn(f64) -> String) -> Vec<String> {
        let mut met = self.meets(at_mm);
        met.sort_by(|a, b| a.0.cmp(&b.0).then(b.1.cmp(&a.1)));
        let mut words: Vec<String> = (met.iter())
            .filter_map(|(what, amount, name)| {
                Some(match what {
                    What::Key => format!("It runs through {}.", name.as_deref()?),
                    What::Gap => format!("It lies in the {}.", name.as_deref()?),
                    What::Hardware => format!("It meets the {}.", name.as_deref()?),
                    What::Formed => format!(
                        "{} of it lies in the {}, where film is formed.",
                        text(f64::from(*amount)),
                        name.as_deref()?
                    ),
                    What::Crease => format!(
                        "{} of it runs along the {}.",
                        text(f64::from(*amount)),
                        name.as_deref()?
                    ),
                    What::EdgeOnHead | What::Head => return None,
                })
            })
            .collect();
        let heads = |wanted: What| met.iter().filter(|(what, ..)| *what == wanted).count();
        match heads(What::EdgeOnHead) {
            0 => {}
            1 => words.push("Its exposed edge lies on a rivet head.".into()),
            n => words.push(format!("Its exposed edge lies on {n} rivet heads.")),
        }
        match heads(What::Head) {
            0 => {}
            1 => words.push("A rivet head lies under its lap.".into()),
            n => words.push(format!("{n} rivet heads lie under its lap.")),
        }
        words
    }

    fn meets(&self, at_mm: f64) -> Vec<(What, u32, Option<String>)> {
        let (from, to) = (at_mm - BESIDE_MM, at_mm + self.lap_mm + BESIDE_MM);
        let mut found = Vec::new();
        for met in &self.met {
            let line = matches!(met.what, What::Gap | What::Crease);
            let Some(within) = within(&met.edges, from, to) else {
                continue;
            };
            let amount = if line {
                within.run
            } else {
                within.reach.1 - within.reach.0
            };
            let amount = amount.round().max(0.0);
            if line && amount < ALONG_MM {
                continue;
            }
            found.push((met.what, amount.max(1.0) as u32, Some(met.name.clone())));
        }
        for (head, radius) in &self.heads {
            if (head - at_mm).abs() < *radius {
                found.push((What::EdgeOnHead, 1, None));
            } else if *head > from - radius && *head < to + radius {
                found.push((What::Head, 1, None));
            }
        }
        found
    }
}

/// What of an outline lies within a band.
struct Within {
    /// How far it reaches across, from and to.
    reach: (f64, f64),
    /// How much of its line runs along the join: what only crosses the band counts nothing.
    run: f64,
}

fn within(edges: &[[(f64, f64); 2]], from: f64, to: f64) -> Option<Within> {
    let mut found: Option<Within> = None;
    for [a, b] in edges {
        let (a, b) = if a.0 <= b.0 { (a, b) } else { (b, a) };
        if b.0 < from || a.0 > to {
            continue;
        }
        let long = b.0 - a.0;
        let at = |along: f64| a.1 + (b.1 - a.1) * ((along - a.0) / long).clamp(0.0, 1.0);
        let (p, q) = if long < 1e-9 {
            (a.1, b.1)
        } else {
            (at(from.max(a.0)), at(to.min(b.0)))
        };
        let (low, high) = (p.min(q), p.max(q));
        found = Some(match found {
            Some(w) => Within {
                reach: (w.reach.0.min(low), w.reach.1.max(high)),
                run: w.run + high - low,
            },
            None => Within {
                reach: (low, high),
                run: high - low,
            },
        });
    }
    found
}
