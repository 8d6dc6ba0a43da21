//! Layers: outline, drop shadow and second colour, each cut from its own film and laid over each other by registration marks.

use kurbo::{Affine, Point, Vec2};

use crate::art::drawn::{Drawn, Layer, LayerKind, Part, StraightEdge, parts_by_letter};
use crate::art::lettering::Lettering;
use crate::ground::outline::{Corners, Shape, grow, weld};

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
    let straight = shifted(lettering, &parts, straight);
    let (parts, part_of) = parts_by_letter(film, &parts);
    let to_left = Affine::translate(Vec2::new(
        -parts
            .iter()
            .map(|p| p.bounds.x0)
            .fold(f64::INFINITY, f64::min),
        0.0,
    ));
    let move_edge = |e: StraightEdge| StraightEdge {
        from: to_left * e.from,
        to: to_left * e.to,
    };
    Drawn::layered(
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
    )
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
