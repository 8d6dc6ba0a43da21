//! Closed shapes within a drawn outline, offered as what they probably are on a vehicle. Sizes that tell one from the other: ours.

use kurbo::{Point, Rect};

use crate::ground::outline::{Contour, Shape, bounds_of, distance_to_segment, signed_area};
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::feature::{Feature, MOST_POINTS};

/// Most things that one outline offers.
pub const MOST_OFFERED: usize = 60;
/// A round thing up to so wide is a head, mm.
const HEAD_MM: f64 = 26.0;
/// A rectangle up to so large is a lamp: width and height, mm.
const LAMP_MM: (f64, f64) = (320.0, 160.0);
/// A rectangle that takes so much of the side's height is a door.
const DOOR_SHARE: f64 = 0.5;
/// Less than this across is no thing but a mark, mm.
const LEAST_MM: f64 = 2.0;
/// How far equal figures may be apart in a drawing, mm.
const ALIKE_MM: f64 = 1.0;
/// Outlines that lie so near within each other are one thing drawn twice, mm.
const TWICE_MM: f64 = 20.0;

/// What the closed shapes within a side probably are, the largest first; heads are told in rows and columns. `shapes` are in the run
/// frame: mm back along the reference, and down from it. A guess: it is offered, and somebody says yes to it.
///
/// ```
/// # use kurbo::Point;
/// # use windrift_core::vehicle::{feature::kind::FeatureKind, inside::offered};
/// # let p = Point::new;
/// let rect = |x: f64, y: f64, w: f64, h: f64| vec![p(x, y), p(x + w, y), p(x + w, y + h), p(x, y + h)];
/// // A window and a lamp on a side 1800 mm high.
/// let found = offered(&[rect(600., 300., 900., 500.), rect(40., 1400., 150., 60.)], 1800.0);
/// assert_eq!(found.iter().map(|f| f.kind).collect::<Vec<_>>(), [FeatureKind::Glass, FeatureKind::Lamp]);
/// ```
pub fn offered(shapes: &[Contour], side_height_mm: f64) -> Vec<Feature> {
    let mut things: Vec<(f64, Feature)> = Vec::new();
    let mut heads: Vec<(Point, f64)> = Vec::new();
    for (n, shape) in shapes.iter().enumerate() {
        let bounds = bounds_of(shape.iter().copied());
        if bounds.width().min(bounds.height()) < LEAST_MM || drawn_twice(shapes, n, bounds) {
            continue;
        }
        let across = (bounds.width() + bounds.height()) / 2.0;
        if is_round(shape, bounds) && across <= HEAD_MM {
            heads.push((bounds.center(), across));
            continue;
        }
        things.push((bounds.area(), thing(shape, bounds, side_height_mm)));
    }
    things.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut found: Vec<Feature> = grids(heads)
        .into_iter()
        .map(|form| Feature::new(FeatureKind::Rivets, form))
        .collect();
    let mut offered: Vec<Feature> = things.into_iter().map(|(_, f)| f).collect();
    offered.append(&mut found);
    offered.truncate(MOST_OFFERED);
    offered
}

/// What is offered and is not there yet: what was kept as it was offered is there, and of two doors that are usual, the nearer one is for a
/// door that was measured otherwise. `said` tells a feature as it is printed: kept figures are rounded ones.
pub fn not_there<'o>(
    offered: &'o [Feature],
    there: &[&Feature],
    said: impl Fn(&Feature) -> String,
) -> Vec<&'o Feature> {
    let mut left: Vec<(&Feature, String)> = offered.iter().map(|o| (o, said(o))).collect();
    let mut otherwise = Vec::new();
    for feature in there {
        let words = said(feature);
        match left
            .iter()
            .position(|(o, w)| o.kind == feature.kind && *w == words)
        {
            Some(n) => drop(left.remove(n)),
            None => otherwise.push(feature),
        }
    }
    for feature in otherwise {
        let at = feature.form.begins_at();
        let nearest = left
            .iter()
            .enumerate()
            .filter(|(_, (o, _))| o.kind == feature.kind)
            .min_by(|(_, (a, _)), (_, (b, _))| {
                let far = |f: &Feature| f.form.begins_at().distance(at);
                far(a).total_cmp(&far(b))
            });
        if let Some((n, _)) = nearest {
            left.remove(n);
        }
    }
    left.into_iter().map(|(o, _)| o).collect()
}

/// Whether the same thing is there already, drawn as a second line a little outside this one.
fn drawn_twice(shapes: &[Contour], n: usize, bounds: Rect) -> bool {
    shapes.iter().take(n).any(|other| {
        let outer = bounds_of(other.iter().copied());
        let out = [
            bounds.x0 - outer.x0,
            bounds.y0 - outer.y0,
            outer.x1 - bounds.x1,
            outer.y1 - bounds.y1,
        ];
        let size = bounds.width().min(bounds.height());
        out.iter()
            .all(|d| (-ALIKE_MM..=TWICE_MM.min(size / 4.0)).contains(d))
    })
}

/// Round within a fiftieth of its radius.
fn is_round(shape: &Contour, bounds: Rect) -> bool {
    let (middle, radius) = (bounds.center(), (bounds.width() + bounds.height()) / 4.0);
    shape.len() >= 8
        && shape
            .iter()
            .all(|p| (p.distance(middle) - radius).abs() <= radius / 50.0 + 0.1)
}

/// An upright rectangle, its corners rounded or not: it fills its box, and every point lies near the box's edge.
fn is_rectangle(shape: &Contour, bounds: Rect) -> bool {
    let rim = Shape::rectangle(bounds);
    let corner = bounds.width().min(bounds.height()) * 0.15;
    signed_area(shape).abs() >= bounds.area() * 0.94
        && shape.iter().all(|p| {
            rim.edges()
                .map(|(a, b)| distance_to_segment(*p, a, b))
                .fold(f64::INFINITY, f64::min)
                <= corner
        })
}

fn tenth(mm: f64) -> f64 {
    (mm * 10.0).round() / 10.0
}

fn thing(shape: &Contour, bounds: Rect, side_height_mm: f64) -> Feature {
    if is_round(shape, bounds) {
        let round = Form::Round {
            back_mm: tenth(bounds.center().x).into(),
            drop_mm: tenth(bounds.center().y).into(),
            across_mm: tenth((bounds.width() + bounds.height()) / 2.0).into(),
            repeat: Repeat::ONCE,
        };
        return Feature::new(FeatureKind::Socket, round);
    }
    if is_rectangle(shape, bounds) {
        let kind = if bounds.height() >= side_height_mm * DOOR_SHARE {
            FeatureKind::LockerDoor
        } else if bounds.width() <= LAMP_MM.0 && bounds.height() <= LAMP_MM.1 {
            FeatureKind::Lamp
        } else {
            FeatureKind::Glass
        };
        let rectangle = Form::Rectangle {
            back_mm: tenth(bounds.x0).into(),
            drop_mm: tenth(bounds.y0).into(),
            to: MeasuredTo::Corner,
            width_mm: tenth(bounds.width()).into(),
            height_mm: tenth(bounds.height()).into(),
            repeat: Repeat::ONCE,
        };
        return Feature::new(kind, rectangle);
    }
    // Every so many points, where there are more than a feature may have: it is an offer, to be measured.
    let every = shape.len().div_ceil(MOST_POINTS / 4).max(1);
    let points = shape
        .iter()
        .step_by(every)
        .map(|p| Reading {
            back_mm: tenth(p.x).into(),
            drop_mm: tenth(p.y).into(),
            rounded: false,
        })
        .collect();
    let tall = bounds.height() >= side_height_mm * DOOR_SHARE;
    let kind = if tall {
        FeatureKind::LockerDoor
    } else {
        FeatureKind::Glass
    };
    Feature::new(
        kind,
        Form::Path {
            points,
            closed: true,
        },
    )
}

/// One row or column of heads.
#[derive(Debug, Clone, Copy)]
struct Run {
    first: Point,
    pitch: f64,
    count: u32,
    across: f64,
}

/// Heads as few grids: by columns or by rows, whichever are fewer.
fn grids(heads: Vec<(Point, f64)>) -> Vec<Form> {
    let swapped: Vec<(Point, f64)> = heads
        .iter()
        .map(|(p, across)| (Point::new(p.y, p.x), *across))
        .collect();
    let columns = joined(runs(heads));
    let rows = joined(runs(swapped));
    let by_rows = rows.len() < columns.len();
    let of = |grid: &(Run, f64, u32)| {
        let (run, step, times) = *grid;
        let (back, drop) = if by_rows {
            (run.first.y, run.first.x)
        } else {
            (run.first.x, run.first.y)
        };
        let (along, down) = if by_rows {
            ((run.pitch, run.count), (step, times))
        } else {
            ((step, times), (run.pitch, run.count))
        };
        Form::Heads {
            first_mm: tenth(back).into(),
            pitch_mm: tenth(along.0).into(),
            columns: along.1,
            first_head_mm: tenth(drop).into(),
            head_pitch_mm: tenth(down.0).into(),
            heads: down.1,
            head_mm: tenth(run.across).into(),
        }
    };
    let chosen = if by_rows { &rows } else { &columns };
    chosen.iter().map(of).collect()
}

/// Upright runs of equal heads at one pitch.
fn runs(mut heads: Vec<(Point, f64)>) -> Vec<Run> {
    let mut found: Vec<Run> = Vec::new();
    heads.sort_by(|a, b| a.0.x.total_cmp(&b.0.x).then(a.0.y.total_cmp(&b.0.y)));
    while let Some((start, across)) = heads.first().copied() {
        let (mut column, rest): (Vec<_>, Vec<_>) = heads.into_iter().partition(|(p, a)| {
            (p.x - start.x).abs() <= ALIKE_MM && (a - across).abs() <= ALIKE_MM / 2.0
        });
        heads = rest;
        column.sort_by(|a, b| a.0.y.total_cmp(&b.0.y));
        let mut run: Option<Run> = None;
        for (p, _) in column {
            let goes_on = run.filter(|r| {
                let step = p.y - (r.first.y + r.pitch * f64::from(r.count - 1));
                r.count == 1 || (step - r.pitch).abs() <= ALIKE_MM
            });
            match goes_on {
                // The pitch is what the whole run says, so that a millimetre does not add up.
                Some(r) => {
                    run = Some(Run {
                        pitch: (p.y - r.first.y) / f64::from(r.count),
                        count: r.count + 1,
                        ..r
                    })
                }
                None => {
                    found.extend(run.take());
                    run = Some(Run {
                        first: p,
                        pitch: 0.0,
                        count: 1,
                        across,
                    });
                }
            }
        }
        found.extend(run);
    }
    found
}

/// Equal runs beside each other at one step, as grids: the first run, the step, how many.
fn joined(runs: Vec<Run>) -> Vec<(Run, f64, u32)> {
    let mut grids: Vec<(Run, f64, u32)> = Vec::new();
    for run in runs {
        let like = |of: &Run| {
            of.count == run.count
                && (of.first.y - run.first.y).abs() <= ALIKE_MM
                && (of.pitch - run.pitch).abs() <= ALIKE_MM / f64::from(run.count)
                && (of.across - run.across).abs() <= ALIKE_MM / 2.0
        };
        let goes_on = grids.iter_mut().rev().find(|(of, step, times)| {
            let next = run.first.x - (of.first.x + step * f64::from(*times - 1));
            like(of) && (*times == 1 || (next - *step).abs() <= ALIKE_MM)
        });
        match goes_on {
            Some((of, step, times)) => {
                *step = (run.first.x - of.first.x) / f64::from(*times);
                *times += 1;
            }
            None => grids.push((run, 0.0, 1)),
        }
    }
    grids
}
