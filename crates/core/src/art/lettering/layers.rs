//! Layers: outline, drop shadow and second colour, each cut from its own film and laid over each other by registration marks.

use kurbo::{Affine, Point, Vec2};

use crate::art::drawn::{
    Drawn, Layer, LayerKind, Part, StraightEdge, marks_beside, parts_by_letter,
};
use crate::art::lettering::Lettering;
use crate::ground::outline::{Corners, Shape, bounds_of_shapes, grow, weld};

/// Builds the layers of lettering whose letters are drawn already. `second` tells which parts are of the second colour.
pub(super) fn build(
    lettering: &Lettering,
    parts: Vec<Part>,
    second: &[bool],
    straight: Vec<(usize, StraightEdge)>,
    cap: f64,
    baseline: f64,
) -> Drawn {
    let of = |wanted: bool| -> Vec<Shape> {
        parts
            .iter()
            .zip(second)
            .filter(|(_, s)| **s == wanted)
            .flat_map(|(p, _)| p.shapes.iter().cloned())
            .collect()
    };
    let letters: Vec<Shape> = parts
        .iter()
        .flat_map(|p| p.shapes.iter().cloned())
        .collect();
    let contours = |shapes: &[Shape]| -> Vec<_> {
        shapes
            .iter()
            .flat_map(|s| s.contours.iter().cloned())
            .collect()
    };
    let mut layers = Vec::new();
    let rim = match &lettering.outline {
        Some(outline) => grow(&letters, outline.out_mm.mm(), Corners::Sharp),
        None => weld(&contours(&letters)),
    };
    let mut film = rim.clone();
    if let Some(shadow) = &lettering.shadow {
        let by = Affine::translate(Vec2::new(shadow.right_mm.mm(), shadow.down_mm.mm()));
        let cast: Vec<Shape> = rim.iter().map(|s| s.transformed(by)).collect();
        film = weld(&[contours(&rim), contours(&cast)].concat());
        layers.push((LayerKind::Shadow, shadow.colour.as_str(), cast));
    }
    if let Some(outline) = &lettering.outline {
        layers.push((LayerKind::Outline, outline.colour.as_str(), rim));
    }
    layers.push((LayerKind::Face, lettering.colour.as_str(), of(false)));
    if let Some(colour) = &lettering.second {
        layers.push((LayerKind::SecondColour, colour.colour.as_str(), of(true)));
    }
    layers.retain(|(_, _, shapes)| !shapes.is_empty());
    let whole = bounds_of_shapes(&film);
    let (letters, film, straight) = match lettering.only {
        None => {
            let edges = shifted(lettering, &parts, straight);
            (parts, film, edges)
        }
        Some(kind) => {
            layers.retain(|(k, _, _)| *k == kind);
            let film = layers.first().map(|l| l.2.clone()).unwrap_or_default();
            let (letters, edges) = of_layer(kind, lettering, &parts, second, straight);
            (letters, film, edges)
        }
    };
    let (parts, part_of) = parts_by_letter(film, &letters);
    // Every layer in the one frame, so that the marks of all lie on each other.
    let to_left = Affine::translate(Vec2::new(-whole.x0, 0.0));
    let move_edge = |e: StraightEdge| StraightEdge {
        from: to_left * e.from,
        to: to_left * e.to,
    };
    let mut drawn = Drawn::layered(
        parts.iter().map(|p| p.transformed(to_left)).collect(),
        straight
            .into_iter()
            .map(|(letter, e)| {
                (
                    part_of.get(letter).copied().unwrap_or_default(),
                    move_edge(e),
                )
            })
            .collect(),
        cap,
        baseline,
        layers
            .into_iter()
            .map(|(kind, colour, shapes)| Layer {
                kind,
                colour: colour.to_owned(),
                shapes: shapes.iter().map(|s| s.transformed(to_left)).collect(),
            })
            .collect(),
    );
    drawn.marks = marks_beside(to_left.transform_rect_bbox(whole));
    drawn
}

/// The letters of one layer where they stand in it, and their straight edges as its film has them.
fn of_layer(
    kind: LayerKind,
    lettering: &Lettering,
    parts: &[Part],
    second: &[bool],
    straight: Vec<(usize, StraightEdge)>,
) -> (Vec<Part>, Vec<(usize, StraightEdge)>) {
    let here = |letter: usize| match kind {
        LayerKind::Face => !second.get(letter).copied().unwrap_or(false),
        LayerKind::SecondColour => second.get(letter).copied().unwrap_or(false),
        LayerKind::Shadow | LayerKind::Outline => true,
    };
    let out = match kind {
        LayerKind::Shadow | LayerKind::Outline => {
            lettering.outline.as_ref().map_or(0.0, |o| o.out_mm.mm())
        }
        LayerKind::Face | LayerKind::SecondColour => 0.0,
    };
    let by = match (&lettering.shadow, kind) {
        (Some(shadow), LayerKind::Shadow) => Vec2::new(shadow.right_mm.mm(), shadow.down_mm.mm()),
        _ => Vec2::ZERO,
    };
    let numbers: Vec<usize> = (0..parts.len()).filter(|n| here(*n)).collect();
    let letters = numbers.iter().filter_map(|n| parts.get(*n));
    let letters = letters.map(|p| p.transformed(Affine::translate(by)));
    let edges = straight.into_iter().filter_map(|(part, edge)| {
        let now = numbers.iter().position(|n| *n == part)?;
        let normal = outward(parts.get(part), &edge) * out + by;
        let edge = StraightEdge {
            from: edge.from + normal,
            to: edge.to + normal,
        };
        Some((now, edge))
    });
    (letters.collect(), edges.collect())
}

/// Straight edges as they lie on the outermost film: an outline carries them outwards, a shadow has a copy of each.
fn shifted(
    lettering: &Lettering,
    parts: &[Part],
    straight: Vec<(usize, StraightEdge)>,
) -> Vec<(usize, StraightEdge)> {
    let out = lettering.outline.as_ref().map_or(0.0, |o| o.out_mm.mm());
    let mut edges: Vec<(usize, StraightEdge)> = straight
        .into_iter()
        .map(|(part, edge)| {
            let normal = outward(parts.get(part), &edge) * out;
            (
                part,
                StraightEdge {
                    from: edge.from + normal,
                    to: edge.to + normal,
                },
            )
        })
        .collect();
    if let Some(shadow) = &lettering.shadow {
        let by = Vec2::new(shadow.right_mm.mm(), shadow.down_mm.mm());
        let cast: Vec<_> = edges
            .iter()
            .map(|(part, e)| {
                (
                    *part,
                    StraightEdge {
                        from: e.from + by,
                        to: e.to + by,
                    },
                )
            })
            .collect();
        edges.extend(cast);
    }
    edges
}

fn outward(part: Option<&Part>, edge: &StraightEdge) -> Vec2 {
    let along = edge.to - edge.from;
    let normal = Vec2::new(-along.y, along.x) / along.hypot().max(1e-9);
    let beside: Point = edge.from.midpoint(edge.to) + normal * 0.05;
    let film_there = part.is_some_and(|p| p.shapes.iter().any(|s| s.contains(beside)));
    if film_there { -normal } else { normal }
}
