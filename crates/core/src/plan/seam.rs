//! Seams of a kit, as its pieces are laid out: how far edges that should meet lie apart or over each other.

use kurbo::{Point, Vec2};

use crate::art::Art;
use crate::art::kit::Seam;
use crate::ground::budget::spend;
use crate::ground::outline::{Shape, bounds_of_shapes, signed_area};
use crate::ground::tape::{Length, Unit, print};
use crate::plan::planned::{PlannedPiece, SeamAsLaid};

/// A seam is told to be off where it is more than this apart or over, mm (common practice, no source).
pub const SEAM_OFF_MM: f64 = 1.5;
/// Edges face each other across a seam when they lie no farther from where they should meet, mm (ours: half an inch).
const FACING_MM: f64 = 12.7;
/// ... and run within this angle of each other: its sine, about 10 degrees (ours).
const FACING_SINE: f64 = 0.174;
/// Edges that face each other over less than this are a corner that comes near, no seam, mm (ours).
const LEAST_RUN_MM: f64 = 10.0;

/// Edges nearer than this meet: what lies between them is neither film nor air, mm.
const MEET_MM: f64 = 0.1;

/// An edge of film.
struct Edge {
    from: Point,
    along: Vec2,
    length: f64,
    /// Away from the film.
    out: Vec2,
}

fn edges(film: &[Shape], near: kurbo::Rect) -> Vec<Edge> {
    let mut edges = Vec::new();
    for shape in film {
        let turned: f64 = shape.contours.iter().map(|c| signed_area(c)).sum();
        for (a, b) in shape.edges() {
            let length = a.distance(b);
            let bounds = kurbo::Rect::from_points(a, b);
            if length < 1e-6
                || !near
                    .inflate(1e-6, 1e-6)
                    .overlaps(bounds.inflate(1e-6, 1e-6))
            {
                continue;
            }
            let along = (b - a) / length;
            let side = Vec2::new(along.y, -along.x);
            edges.push(Edge {
                from: a,
                along,
                length,
                out: if turned > 0.0 { side } else { -side },
            });
        }
    }
    edges
}

/// What faces each other: the run along which edges do, mm, and from the farthest over to the farthest apart, mm, open positive. What gapes
/// farther than edges face each other counts as far as they do.
fn facing(own: &[Shape], other: &[Shape], wanted_mm: f64) -> Option<(f64, f64, f64)> {
    let reach = FACING_MM + wanted_mm;
    let near = |film: &[Shape]| bounds_of_shapes(film.iter()).inflate(reach, reach);
    let within = |film: &[Shape], p: Point| film.iter().any(|s| s.contains(p));
    let others = edges(other, near(own));
    let mut run = 0.0;
    let mut found: Option<(f64, f64)> = None;
    for a in &edges(own, near(other)) {
        spend(others.len() as u64);
        for b in &others {
            // Back to back, within the angle.
            if a.out.dot(b.out) >= 0.0 || a.along.cross(b.along).abs() > FACING_SINE {
                continue;
            }
            let at = |p: Point| ((p - a.from).dot(a.along), (p - a.from).dot(a.out));
            let ((s, gap_s), (t, gap_t)) = (at(b.from), at(b.from + b.along * b.length));
            let (mut low, mut high) = (s.min(t).max(0.0), s.max(t).min(a.length));
            if (t - s).abs() < 1e-9 {
                continue;
            }
            let slope = (gap_t - gap_s) / (t - s);
            let gap = |x: f64| gap_s + slope * (x - s);
            // As far as they lie near enough to where they should meet.
            let (least, most) = (-FACING_MM - wanted_mm, FACING_MM - wanted_mm);
            if slope.abs() > 1e-12 {
                let ends = [least, most].map(|g| s + (g - gap_s) / slope);
                low = low.max(ends[0].min(ends[1]));
                high = high.min(ends[0].max(ends[1]));
            } else if !(least..=most).contains(&gap_s) {
                continue;
            }
            if high - low < 1e-3 {
                continue;
            }
            // Over: each lies in the other's film. Open: between them lies none. Else they are the far edges of something thin.
            let x = (low + high) / 2.0;
            let (at_a, at_b) = (a.from + a.along * x, a.from + a.along * x + a.out * gap(x));
            let middle = at_a.midpoint(at_b);
            let real = if gap(x) < -MEET_MM {
                within(other, at_a) && within(own, at_b)
            } else if gap(x) > MEET_MM {
                !within(own, middle) && !within(other, middle)
            } else {
                true
            };
            if !real {
                continue;
            }
            run += high - low;
            for gap in [gap(low), gap(high)] {
                let (over, apart) = found.unwrap_or((gap, gap));
                found = Some((over.min(gap), apart.max(gap)));
            }
        }
    }
    found
        .filter(|_| run >= LEAST_RUN_MM)
        .map(|(over, apart)| (run, over, apart))
}

/// Holds the seam of every kit piece against what lies beside it and goes on before it.
pub(crate) fn seams(pieces: &mut [PlannedPiece], unit: Unit) {
    let film: Vec<Vec<Shape>> = pieces.iter().map(|p| p.film().collect()).collect();
    for n in 0..pieces.len() {
        let Some(own) = pieces.get(n) else { continue };
        let Art::Drawing(drawing) = &own.piece.art else {
            continue;
        };
        let wanted_mm = match drawing.seam {
            Seam::None => continue,
            Seam::Butt => 0.0,
            Seam::Overlap { overlap_mm } => overlap_mm.mm(),
        };
        let before = pieces.iter().enumerate().filter(|(m, p)| {
            *m != n
                && p.piece.order < own.piece.order
                && matches!(p.piece.art, Art::Drawing(_))
                && p.piece.group == own.piece.group
        });
        let met = before
            .filter_map(|(m, p)| {
                let (run, over, apart) = facing(film.get(n)?, film.get(m)?, wanted_mm)?;
                Some((p, run, over + wanted_mm, apart + wanted_mm))
            })
            .max_by(|a, b| a.1.total_cmp(&b.1));
        let Some((other, run, over, apart)) = met else {
            let sentence = "Its seam meets nothing: no piece that goes on before it lies beside it. Bring it there, or let it stand alone.";
            if let Some(p) = pieces.get_mut(n) {
                p.troubles.push(sentence.to_owned());
            }
            continue;
        };
        let run = print(run, unit);
        let (right, sentence) = told(&other.piece.called(), wanted_mm, &run, over, apart, unit);
        let seam = SeamAsLaid {
            other: other.id,
            run,
            apart: print(apart, unit),
            over: print(-over, unit),
            right,
            sentence,
        };
        if let Some(p) = pieces.get_mut(n) {
            if !seam.right {
                p.troubles.push(seam.sentence.clone());
            }
            p.seam = Some(seam);
        }
    }
}

/// Whether a seam is right, and what is said of it. In tenths of a millimetre where it is finer than a mark: 1.5 mm is.
fn told(
    other: &str,
    wanted_mm: f64,
    run: &Length,
    over: f64,
    apart: f64,
    unit: Unit,
) -> (bool, String) {
    let fine = |mm: f64| {
        let more = if mm.abs() > FACING_MM - MEET_MM {
            " or more"
        } else {
            ""
        };
        format!("{:.1} mm{more}", mm.abs())
    };
    let (open, deep) = (apart > SEAM_OFF_MM, -over > SEAM_OFF_MM);
    let how = match (open, deep) {
        (false, false) if wanted_mm > 0.0 => {
            return (
                true,
                format!(
                    "It overlaps \u{201c}{other}\u{201d} by {} over a length of {}, within {}.",
                    print(wanted_mm, unit).text,
                    run.text,
                    fine(apart.max(-over).max(0.1))
                ),
            );
        }
        (false, false) => {
            return (
                true,
                format!(
                    "It meets \u{201c}{other}\u{201d} edge to edge over a length of {}, within {}.",
                    run.text,
                    fine(apart.max(-over).max(0.1))
                ),
            );
        }
        (true, false) => format!("up to {} open", fine(apart)),
        (false, true) => format!("up to {} over", fine(over)),
        (true, true) => format!("up to {} open and {} over", fine(apart), fine(over)),
    };
    let than = if wanted_mm > 0.0 {
        format!(
            " beside the {} that it should overlap",
            print(wanted_mm, unit).text
        )
    } else {
        String::new()
    };
    (
        false,
        format!(
            "The seam to \u{201c}{other}\u{201d} is {how}{than}. Measure its points again, or move it."
        ),
    )
}
