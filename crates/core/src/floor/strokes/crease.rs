//! Creases under a sheet, cut where the stages change.

use crate::floor::prove::Ground;
use crate::floor::strokes::CreaseLine;
use crate::floor::strokes::columns::Columns;

/// Steps in which a crease is walked, mm.
const STEP_MM: f64 = 5.0;
/// How far beside a crease its flats are looked for, mm.
const BESIDE_MM: f64 = 3.0;

/// A part of a crease within one stage.
pub(super) struct CreasePart {
    pub points: Vec<[f64; 2]>,
    pub stage: u32,
    pub flats: Vec<u32>,
}

/// The part of each crease under the sheet, cut where the stages change, with the flats beside it.
pub(super) fn crease_parts(
    sheet: &Columns,
    flat_of: &[u32],
    creases: &[CreaseLine],
    stage_of: impl Fn(u32) -> u32,
) -> Vec<CreasePart> {
    let mut parts: Vec<CreasePart> = Vec::new();
    for crease in creases {
        let mut current: Option<CreasePart> = None;
        for pair in crease.points.windows(2) {
            let (a, b) = (
                kurbo::Point::new(pair[0][0], pair[0][1]),
                kurbo::Point::new(pair[1][0], pair[1][1]),
            );
            let steps = ((b - a).hypot() / STEP_MM).ceil().max(1.0) as u32;
            let normal = (b - a).normalize().turn_90() * BESIDE_MM;
            for step in 0..=steps {
                let at = a.lerp(b, f64::from(step) / f64::from(steps));
                let beside: Vec<(usize, u32)> = [at + normal, at - normal]
                    .into_iter()
                    .filter_map(|p| sheet.at(p))
                    .filter(|k| sheet.film(*k))
                    .map(|k| (k, flat_of[k]))
                    .collect();
                let stage = beside.first().map(|(k, _)| stage_of(sheet.pieces[*k].band));
                if current.as_ref().map(|c| c.stage) != stage {
                    parts.extend(current.take());
                }
                let Some(stage) = stage else { continue };
                let part = current.get_or_insert(CreasePart {
                    points: Vec::new(),
                    stage,
                    flats: Vec::new(),
                });
                part.points.push([at.x, at.y]);
                for (_, flat) in beside {
                    if !part.flats.contains(&flat) {
                        part.flats.push(flat);
                    }
                }
            }
        }
        parts.extend(current);
    }
    parts.retain(|p| p.points.len() > 1);
    for part in &mut parts {
        part.points = fewer_points(&part.points, STEP_MM / 2.0);
    }
    parts
}

/// A line through fewer of its points, none of the others farther off it than `within` (Douglas and Peucker).
pub(super) fn fewer_points(points: &[[f64; 2]], within: f64) -> Vec<[f64; 2]> {
    let (Some(first), Some(last)) = (points.first(), points.last()) else {
        return Vec::new();
    };
    let (dx, dy) = (last[0] - first[0], last[1] - first[1]);
    let length = dx.hypot(dy);
    let off = |p: &[f64; 2]| {
        let (x, y) = (p[0] - first[0], p[1] - first[1]);
        if length > 0.0 {
            (dx * y - dy * x).abs() / length
        } else {
            x.hypot(y)
        }
    };
    let farthest = points
        .iter()
        .enumerate()
        .map(|(n, p)| (n, off(p)))
        .max_by(|a, b| a.1.total_cmp(&b.1))
        .filter(|(_, d)| *d > within);
    match farthest {
        Some((n, _)) => {
            let mut head = fewer_points(points.get(..=n).unwrap_or_default(), within);
            head.pop();
            head.extend(fewer_points(points.get(n..).unwrap_or_default(), within));
            head
        }
        None => vec![*first, *last],
    }
}
