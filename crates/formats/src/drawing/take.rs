//! One outline taken from a drawing for a side: checked against one measured length.

use kurbo::Point;
use windrift_core::ground::budget::spend;
use windrift_core::ground::outline::{Contour, Shape, bounds_of, first_crossing};
use windrift_core::ground::tape::{Unit, print};
use windrift_core::vehicle::body::{Body, MOST_POINTS};

use crate::drawing::{FileError, Opened, counted};

/// An outline taken from a file, with how it fits the measured length.
#[derive(Debug, Clone, PartialEq)]
pub struct Taken {
    /// The outline as a body, its upper front corner of the box round it at the origin of the run frame.
    pub body: Body,
    /// Its width and height in mm, after scaling.
    pub size_mm: (f64, f64),
    /// How the file's length compares with the measured one, in a sentence; nothing where none was given.
    pub fit: Option<String>,
    /// Closed shapes within it, in the run frame.
    pub within: Vec<Contour>,
    /// What lies beside it and is left out, in a sentence.
    pub beside: Option<String>,
}

/// A file may be out by this share against the tape and is then scaled to it.
const SCALED_WITHIN: f64 = 0.03;

/// Takes the largest outline of a file as a side's body. `runs_right` tells whether the tape runs to the picture's right.
///
/// Errors: a measured length that the file cannot mean.
pub fn take(
    opened: &Opened,
    file: &str,
    measured_mm: Option<f64>,
    runs_right: bool,
    unit: Unit,
) -> Result<Taken, FileError> {
    let outline = opened.outlines.first().ok_or_else(|| {
        FileError::NoLines("Draw the outline of the side as one closed line.".into())
    })?;
    let bounds = bounds_of(outline.iter().copied());
    let (factor, fit) = match measured_mm {
        None => (1.0, None),
        Some(measured) => {
            let (factor, sentence) = scale(bounds.width(), measured, unit)?;
            (factor, Some(sentence))
        }
    };
    let run = |p: &Point| {
        let x = if runs_right {
            p.x - bounds.x0
        } else {
            bounds.x1 - p.x
        };
        Point::new(x * factor, (p.y - bounds.y0) * factor)
    };
    let mut points: Vec<[f64; 2]> = outline.iter().map(run).map(|p| [p.x, p.y]).collect();
    if !runs_right {
        // Turned round, so that the outline still runs rail, rear, foot, front.
        points.reverse();
    }
    let mut tolerance = 0.05;
    let mut kept = thin(&points, tolerance);
    while kept.len() > MOST_POINTS && tolerance < 2.0 {
        tolerance *= 2.0;
        kept = thin(&points, tolerance);
    }
    if let Some((a, b)) = first_crossing(
        &kept
            .iter()
            .map(|p| Point::new(p[0], p[1]))
            .collect::<Vec<_>>(),
    ) {
        let [x, y] = meeting(&kept, a, b);
        return Err(FileError::Crosses {
            back: print(x, unit).text,
            down: print(y, unit).text,
        });
    }
    let rim = Shape::new(vec![outline.clone()]);
    let (within, beside): (Vec<_>, Vec<_>) = opened
        .outlines
        .iter()
        .skip(1)
        .partition(|shape| shape.iter().all(|p| rim.contains(*p)));
    Ok(Taken {
        within: within
            .into_iter()
            .map(|shape| shape.iter().map(run).collect())
            .collect(),
        beside: (!beside.is_empty()).then(|| {
            let (one, many) = (
                "closed shape beside the largest was",
                "closed shapes beside the largest were",
            );
            format!(
                "{} left out: the largest is the side.",
                counted(beside.len(), one, many)
            )
        }),
        body: Body::Drawn {
            outline: kept
                .iter()
                .map(|p| p.map(|v| (v * 1000.0).round() / 1000.0))
                .collect(),
            file: file.chars().take(80).collect(),
        },
        size_mm: (bounds.width() * factor, bounds.height() * factor),
        fit,
    })
}

fn scale(drawn: f64, measured: f64, unit: Unit) -> Result<(f64, String), FileError> {
    let ratio = measured / drawn;
    let told = |mm: f64| print(mm, unit).text;
    if (ratio - 1.0).abs() <= SCALED_WITHIN {
        let out = (ratio - 1.0) * 100.0;
        return Ok((
            ratio,
            if out.abs() < 0.05 {
                format!("The file says {}, and so does the tape.", told(drawn))
            } else {
                format!(
                    "The file says {}, the tape {}: scaled by {:+.1} % to the tape.",
                    told(drawn),
                    told(measured),
                    out
                )
            },
        ));
    }
    // A ratio that is a wrong unit: which one?
    let named = [
        (25.4, "inches were read as millimetres: choose inches"),
        (
            1.0 / 25.4,
            "millimetres were read as inches: choose millimetres",
        ),
        (12.0, "feet were read as inches: choose feet"),
        (1.0 / 12.0, "inches were read as feet: choose inches"),
        (
            10.0,
            "centimetres were read as millimetres: choose centimetres",
        ),
        (
            0.1,
            "millimetres were read as centimetres: choose millimetres",
        ),
        (1000.0, "metres were read as millimetres: choose metres"),
        (0.001, "millimetres were read as metres: choose millimetres"),
        (2.54, "inches were read as centimetres: choose inches"),
        (
            1.0 / 2.54,
            "centimetres were read as inches: choose centimetres",
        ),
        (
            96.0 / 72.0,
            "the file was drawn at 72 to the inch and read at 96: scale it in the drawing program",
        ),
        (
            72.0 / 96.0,
            "the file was drawn at 96 to the inch and read at 72: scale it in the drawing program",
        ),
    ];
    let guess = named
        .iter()
        .find(|(r, _)| (ratio / r - 1.0).abs() < 0.02)
        .map_or(
            "check which length was measured, and the unit".to_owned(),
            |(_, why)| format!("perhaps {why}"),
        );
    Err(FileError::Scale(format!(
        "The outline in the file is {} long, the tape says {}: {guess}.",
        told(drawn),
        told(measured)
    )))
}

/// Where two edges of a run of points meet; between them where they only touch along each other.
fn meeting(points: &[[f64; 2]], a: usize, b: usize) -> [f64; 2] {
    let end = |n: usize| points[n % points.len()];
    let (p, q, r, s) = (end(a), end(a + 1), end(b), end(b + 1));
    let (along, other) = ([q[0] - p[0], q[1] - p[1]], [s[0] - r[0], s[1] - r[1]]);
    let cross = along[0] * other[1] - along[1] * other[0];
    if cross.abs() < 1e-12 {
        return q;
    }
    let t = ((r[0] - p[0]) * other[1] - (r[1] - p[1]) * other[0]) / cross;
    let t = t.clamp(0.0, 1.0);
    [p[0] + along[0] * t, p[1] + along[1] * t]
}

/// The points that count: the others lie within `tolerance` of the straight line between their kept neighbours
/// (Ramer-Douglas-Peucker).
fn thin(points: &[[f64; 2]], tolerance: f64) -> Vec<[f64; 2]> {
    if points.len() < 4 {
        return points.to_vec();
    }
    let mut kept = vec![false; points.len()];
    let mut far = 0;
    let first = points[0];
    for (n, p) in points.iter().enumerate() {
        let d = |q: [f64; 2]| (q[0] - first[0]).hypot(q[1] - first[1]);
        if d(*p) > d(points[far]) {
            far = n;
        }
    }
    // Two open runs between the two farthest points; the second ends at the first point again.
    kept[0] = true;
    kept[far] = true;
    let mut runs = vec![(0, far), (far, points.len())];
    while let Some((a, b)) = runs.pop() {
        let (p, q) = (points[a], points[b % points.len()]);
        let along = [q[0] - p[0], q[1] - p[1]];
        let length = along[0].hypot(along[1]).max(1e-12);
        let off =
            |r: [f64; 2]| ((r[0] - p[0]) * along[1] - (r[1] - p[1]) * along[0]).abs() / length;
        spend((b - a) as u64);
        let worst = (a + 1..b).max_by(|m, n| off(points[*m]).total_cmp(&off(points[*n])));
        if let Some(worst) = worst.filter(|w| off(points[*w]) > tolerance) {
            kept[worst] = true;
            runs.push((a, worst));
            runs.push((worst, b));
        }
    }
    points
        .iter()
        .zip(kept)
        .filter(|(_, keep)| *keep)
        .map(|(p, _)| *p)
        .collect()
}

#[cfg(test)]
mod tests {
    use crate::drawing::take::*;

    fn opened(width: f64) -> Opened {
        let p = Point::new;
        Opened {
            outlines: vec![vec![
                p(10.0, 5.0),
                p(10.0 + width, 5.0),
                p(10.0 + width, 105.0),
                p(40.0, 105.0),
                p(10.0, 65.0),
            ]],
            drawn: vec![],
            not_used: vec![],
        }
    }

    fn taken(width: f64, measured: Option<f64>, runs_right: bool) -> Result<Taken, FileError> {
        take(
            &opened(width),
            "van.svg",
            measured,
            runs_right,
            Unit::Millimetre,
        )
    }

    #[test]
    fn the_largest_outline_starts_at_the_zero_of_the_tape() {
        let corner = |runs_right| {
            taken(500.0, None, runs_right).map(|t| match t.body {
                Body::Drawn { outline, .. } => {
                    outline.contains(&[30.0, 100.0])
                        || outline.contains(&[470.0, 100.0]) && !runs_right
                }
                _ => false,
            })
        };
        assert_eq!((corner(true), corner(false)), (Ok(true), Ok(true)));
    }

    #[test]
    fn a_length_that_nearly_fits_scales_and_one_that_does_not_names_the_unit() {
        let fit = taken(500.0, Some(505.0), true);
        assert!(
            fit.as_ref()
                .is_ok_and(|t| (t.size_mm.0 - 505.0).abs() < 1e-9)
        );
        assert!(fit.is_ok_and(|t| t.fit.is_some_and(|f| f.contains("+1.0 %"))));
        let inches = taken(500.0, Some(12_700.0), true)
            .err()
            .map(|e| e.to_string());
        assert!(inches.is_some_and(|e| e.contains("choose inches")));
        let odd = taken(500.0, Some(700.0), true).err().map(|e| e.to_string());
        assert!(odd.is_some_and(|e| e.contains("check which length")));
    }

    #[test]
    fn thinning_stays_within_its_tolerance() {
        let circle: Vec<[f64; 2]> = (0..3600)
            .map(|n| {
                let a = f64::from(n) / 3600.0 * std::f64::consts::TAU;
                [a.cos() * 1000.0, a.sin() * 1000.0]
            })
            .collect();
        let kept = thin(&circle, 0.5);
        assert!(kept.len() < 150 && kept.len() > 60, "{}", kept.len());
        for pair in kept.windows(2) {
            let middle = [
                (pair[0][0] + pair[1][0]) / 2.0,
                (pair[0][1] + pair[1][1]) / 2.0,
            ];
            assert!(1000.0 - middle[0].hypot(middle[1]) <= 0.51);
        }
    }
}
