//! Seams of a kit, as its pieces are laid out: how far edges that should meet lie apart or over each other.

use kurbo::{Point, Vec2};

use crate::art::Art;
use crate::art::kit::Seam;
use crate::ground::budget::spend;
use crate::ground::outline::{Shape, signed_area};
use crate::ground::tape::{Unit, print};
use crate::plan::planned::{PlannedPiece, SeamAsLaid};

/// A seam is told to be off where it is more than this apart or over, mm (common practice, no source).
pub const SEAM_OFF_MM: f64 = 1.5;
/// Edges face each other across a seam when they lie no farther from where they should meet, mm (ours: half an inch).
const FACING_MM: f64 = 12.7;
/// ... and run within this angle of each other: its sine, about 10 degrees (ours).
const FACING_SINE: f64 = 0.174;
/// Edges that face each other over less than this are a corner that comes near, no seam, mm (ours).
const LEAST_RUN_MM: f64 = 10.0;

/// An edge with film on the left of its direction or on its right, as `film_left` has it.
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

/// What faces each other: the run along which edges do, mm, and from the farthest over to the farthest apart, mm, open positive.
fn facing(own: &[Shape], other: &[Shape], wanted_mm: f64) -> Option<(f64, f64, f64)> {
    let reach = FACING_MM + wanted_mm;
    let bounds = |film: &[Shape]| {
        crate::ground::outline::bounds_of_shapes(film.iter()).inflate(reach, reach)
    };
    let (own, other) = (edges(own, bounds(other)), edges(other, bounds(own)));
    let mut run = 0.0;
    let mut found: Option<(f64, f64)> = None;
    for a in &own {
        spend(other.len() as u64);
        for b in &other {
            // Back to back, within the angle.
            if a.out.dot(b.out) >= 0.0 || a.along.cross(b.along).abs() > FACING_SINE {
                continue;
            }
            let at = |p: Point| ((p - a.from).dot(a.along), (p - a.from).dot(a.out));
            let ((s, gap_s), (t, gap_t)) = (at(b.from), at(b.from + b.along * b.length));
            let (low, high) = (s.min(t).max(0.0), s.max(t).min(a.length));
            if high - low < 1e-3 || (t - s).abs() < 1e-9 {
                continue;
            }
            for x in [low, high] {
                let gap = gap_s + (gap_t - gap_s) * (x - s) / (t - s);
                if gap + wanted_mm > FACING_MM || gap + wanted_mm < -FACING_MM {
                    continue;
                }
                let (over, apart) = found.unwrap_or((gap, gap));
                found = Some((over.min(gap), apart.max(gap)));
                run += (high - low) / 2.0;
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
        let (right, sentence) = told(&other.piece.called(), wanted_mm, over, apart, unit);
        let seam = SeamAsLaid {
            other: other.id,
            run: print(run, unit),
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
fn told(other: &str, wanted_mm: f64, over: f64, apart: f64, unit: Unit) -> (bool, String) {
    let fine = |mm: f64| format!("{:.1} mm", mm.abs());
    let (open, deep) = (apart > SEAM_OFF_MM, -over > SEAM_OFF_MM);
    let how = match (open, deep) {
        (false, false) if wanted_mm > 0.0 => {
            return (
                true,
                format!(
                    "It overlaps \u{201c}{other}\u{201d} by {}, within {} everywhere.",
                    print(wanted_mm, unit).text,
                    fine(apart.max(-over).max(0.1))
                ),
            );
        }
        (false, false) => {
            return (
                true,
                format!(
                    "It meets \u{201c}{other}\u{201d} edge to edge, within {} everywhere.",
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
