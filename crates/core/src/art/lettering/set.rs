//! Setting text: lines, spacing, alignment and arcs, in font units with y down from the first line's baseline.

use kurbo::{Affine, Point, Rect, Vec2};

use crate::art::drawn::{Part, StraightEdge, weld_letters};
use crate::art::lettering::{Align, Spacing};
use crate::art::typeface::{GlyphDrawing, Typeface};
use crate::ground::outline::{Shape, bounds_of_shapes, convex_hull};

/// Scanlines between the cap line and the baseline at which the space between two letters is measured.
const SCANLINES: usize = 64;
/// The space that counts reaches this far into a letter, as a share of the capital height: the eye does not see into a deep C.
const DEPTH: f64 = 0.18;
/// Letters come no nearer to each other than this share of the usual space.
const NEAREST: f64 = 0.35;

/// What is set.
pub(super) struct Setting<'s> {
    pub face: &'s Typeface,
    pub text: &'s str,
    pub spacing: Spacing,
    /// Extra space between letters, share of the capital height.
    pub tracking: f64,
    pub align: Align,
    /// Baseline to baseline, share of the capital height.
    pub leading: f64,
    /// Film gap between words, font units, where a rule asks for one.
    pub word_gap: Option<f64>,
    /// Radius of the first baseline in font units; negative where letters hang in a bowl. `None` is straight.
    pub radius: Option<f64>,
    /// Words that are cut from the second colour.
    pub second: &'s str,
}

/// One letter, set.
struct Letter {
    part: Part,
    straight: Vec<StraightEdge>,
    second: bool,
}

/// Text, set: the same whatever its size.
pub(super) struct Block {
    /// Letters; welded letters of one colour are one part.
    pub parts: Vec<Part>,
    /// Whether each part is of the second colour.
    pub second: Vec<bool>,
    pub straight: Vec<(usize, StraightEdge)>,
    pub bounds: Rect,
    pub hull: Vec<Point>,
}

/// A glyph on its line.
struct OnLine<'t> {
    drawing: std::sync::Arc<GlyphDrawing>,
    label: &'t str,
    at: Vec2,
    second: bool,
    bounds: Rect,
}

/// Sets text. A line without film keeps its height.
pub(super) fn set(setting: &Setting<'_>) -> Block {
    let cap = setting.face.capital_height;
    let lines: Vec<Vec<OnLine<'_>>> = setting
        .text
        .split('\n')
        .map(|l| set_line(setting, l))
        .collect();
    let extents: Vec<Option<(f64, f64)>> = lines
        .iter()
        .map(|line| {
            line.iter()
                .map(|g| (g.bounds.x0, g.bounds.x1))
                .reduce(|a, b| (a.0.min(b.0), a.1.max(b.1)))
        })
        .collect();
    let width = extents
        .iter()
        .flatten()
        .map(|(a, b)| b - a)
        .fold(0.0, f64::max);
    let mut letters = Vec::new();
    for (number, (line, extent)) in lines.into_iter().zip(extents).enumerate() {
        let Some((x0, x1)) = extent else { continue };
        let free = width - (x1 - x0);
        let left = match setting.align {
            Align::Left => 0.0,
            Align::Centre => free / 2.0,
            Align::Right => free,
        };
        let down = number as f64 * setting.leading * cap;
        for glyph in line {
            let straight_place = Affine::translate(glyph.at + Vec2::new(left - x0, down));
            let place = match setting.radius {
                None => straight_place,
                Some(radius) => {
                    let middle = glyph.bounds.center().x + left - x0;
                    bend(radius, down, middle - width / 2.0, width / 2.0) * straight_place
                }
            };
            letters.push(Letter {
                part: Part::new(
                    glyph.label.to_owned(),
                    glyph
                        .drawing
                        .shapes
                        .iter()
                        .map(|s| s.transformed(place))
                        .collect(),
                ),
                straight: glyph
                    .drawing
                    .straight
                    .iter()
                    .map(|e| StraightEdge {
                        from: place * e.from,
                        to: place * e.to,
                    })
                    .collect(),
                second: glyph.second,
            });
        }
    }
    weld_block(letters)
}

/// The turn and shift that carry a letter from its straight baseline, whose middle is at `middle`, onto the arc.
fn bend(radius: f64, down: f64, from_middle: f64, middle: f64) -> Affine {
    // Lines below the first lie on circles with the same centre.
    let own = radius - down;
    let angle = from_middle / own;
    let centre = Point::new(middle, radius);
    let straight = Point::new(middle + from_middle, down);
    let bent = centre + Vec2::new(angle.sin(), -angle.cos()) * own;
    Affine::translate(bent.to_vec2())
        * Affine::rotate(angle)
        * Affine::translate(-straight.to_vec2())
}

fn weld_block(letters: Vec<Letter>) -> Block {
    let mut block = Block {
        parts: Vec::new(),
        second: Vec::new(),
        straight: Vec::new(),
        bounds: Rect::ZERO,
        hull: Vec::new(),
    };
    for second in [false, true] {
        let of_colour: Vec<&Letter> = letters.iter().filter(|l| l.second == second).collect();
        let (parts, part_of) = weld_letters(of_colour.iter().map(|l| l.part.clone()).collect());
        let before = block.parts.len();
        for (letter, part) in of_colour.iter().zip(part_of) {
            block
                .straight
                .extend(letter.straight.iter().map(|e| (before + part, *e)));
        }
        block.second.extend(parts.iter().map(|_| second));
        block.parts.extend(parts);
    }
    block.bounds = bounds_of_shapes(block.parts.iter().flat_map(|p| &p.shapes));
    block.hull = convex_hull(
        block
            .parts
            .iter()
            .flat_map(|p| p.hull.iter().copied())
            .collect(),
    );
    block
}

fn set_line<'t>(setting: &Setting<'t>, line: &'t str) -> Vec<OnLine<'t>> {
    let face = setting.face;
    let (glyphs, _) = face.set(line, setting.spacing == Spacing::Kerned);
    let mut starts: Vec<usize> = glyphs.iter().map(|g| g.at_byte).collect();
    starts.push(line.len());
    starts.sort_unstable();
    starts.dedup();
    let seconds = second_ranges(line, setting.second);
    let mut set: Vec<OnLine<'t>> = Vec::new();
    // Letters of the text before a glyph, so that tracking is added once a letter, not once a mark over it.
    let mut spaces_before = false;
    for glyph in &glyphs {
        let drawing = face.drawing(glyph.glyph);
        if drawing.shapes.is_empty() {
            spaces_before = true; // a space
            continue;
        }
        let letter = starts.partition_point(|s| *s <= glyph.at_byte) - 1;
        let end = starts.get(letter + 1).copied().unwrap_or(line.len());
        let track = letter as f64 * setting.tracking * face.capital_height;
        let mut at = Vec2::new(glyph.x + track, glyph.y);
        let own = bounds_of_shapes(&drawing.shapes);
        if let (Some(before), Some(gap)) = (set.last(), setting.word_gap.filter(|_| spaces_before))
        {
            at.x = before.bounds.x1 + gap - own.x0;
        } else if let Some(before) = set.last() {
            if setting.spacing == Spacing::Optical {
                let space = if spaces_before {
                    advance_of_space(face)
                } else {
                    0.0
                };
                let clear = optical_gap(face, &before.drawing, &drawing);
                at.x = before.bounds.x1 + clear + space + setting.tracking * face.capital_height
                    - own.x0;
            } else if setting.word_gap.is_some() {
                // The group stands where its first letter was put: its letters keep their distance from each other.
                let as_set = glyph.x
                    - glyphs
                        .iter()
                        .take_while(|g| g.at_byte < glyph.at_byte)
                        .last()
                        .map_or(glyph.x, |g| g.x);
                at.x = before.at.x + as_set + setting.tracking * face.capital_height;
            }
        }
        set.push(OnLine {
            bounds: own + at,
            label: line.get(glyph.at_byte..end).unwrap_or_default().trim(),
            second: seconds
                .iter()
                .any(|(a, b)| (*a..*b).contains(&glyph.at_byte)),
            drawing,
            at,
        });
        spaces_before = false;
    }
    set
}

fn second_ranges(line: &str, words: &str) -> Vec<(usize, usize)> {
    if words.is_empty() {
        return Vec::new();
    }
    line.match_indices(words)
        .map(|(at, found)| (at, at + found.len()))
        .collect()
}

fn advance_of_space(face: &Typeface) -> f64 {
    face.set(" ", false).1
}

/// Clear distance between the nearest film of two neighbours at which the space between them has the usual area: that between
/// two capital H as the face sets them.
fn optical_gap(face: &Typeface, left: &GlyphDrawing, right: &GlyphDrawing) -> f64 {
    let Some(h) = face.glyph_of('H').map(|h| face.drawing(h)) else {
        return 0.0;
    };
    // The clear distance between two H, and how deep the eye sees into them: a slab face has room beside its stems.
    let usual = face.set("H", false).1 - bounds_of_shapes(&h.shapes).width();
    let (usual_depth, _) = depth_between(face, &h, &h);
    let (depth, nearest) = depth_between(face, left, right);
    (usual + usual_depth - depth).max(NEAREST * usual - nearest)
}

/// How deep the eye sees into two neighbours between their outermost film, on average over their height, and the least that both
/// stand back together on one level.
fn depth_between(face: &Typeface, left: &GlyphDrawing, right: &GlyphDrawing) -> (f64, f64) {
    let cap = face.capital_height;
    let (a, b) = (
        bounds_of_shapes(&left.shapes),
        bounds_of_shapes(&right.shapes),
    );
    let (top, foot) = (a.y0.min(b.y0).max(-cap), 0.0);
    let mut sum = 0.0;
    let mut nearest = f64::INFINITY;
    for n in 0..SCANLINES {
        let y = top + (foot - top) * (n as f64 + 0.5) / SCANLINES as f64;
        let into_left = reach(&left.shapes, y).map_or(f64::INFINITY, |(_, x1)| a.x1 - x1);
        let into_right = reach(&right.shapes, y).map_or(f64::INFINITY, |(x0, _)| x0 - b.x0);
        nearest = nearest.min(into_left + into_right);
        sum += into_left.min(DEPTH * cap) + into_right.min(DEPTH * cap);
    }
    (sum / SCANLINES as f64, nearest)
}

/// From where to where film lies on a level line.
fn reach(shapes: &[Shape], y: f64) -> Option<(f64, f64)> {
    let mut span: Option<(f64, f64)> = None;
    for (a, b) in shapes.iter().flat_map(Shape::edges) {
        if (a.y > y) != (b.y > y) {
            let x = a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y);
            span = Some(span.map_or((x, x), |(x0, x1)| (x0.min(x), x1.max(x))));
        }
    }
    span
}
