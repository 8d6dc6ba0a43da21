//! The strips of a face as a drawing at full size in mm: SVG and DXF, each colour by itself.

use std::fmt::Write;

use kurbo::Point;
use windrift_core::marking::TapeColour;

use crate::dxf::{pair, polyline, section};
use crate::marking_report::MarkingPaper;

/// Room round the body, mm.
const ROOM_MM: f64 = 50.0;

fn points(corners: &[[f64; 2]]) -> Vec<Point> {
    corners.iter().map(|[x, y]| Point::new(*x, *y)).collect()
}

/// Writes the face's outline and every colour of every strip as SVG, 1 unit being 1 mm.
pub fn svg(marking: &MarkingPaper) -> String {
    let (outline, bounds) = drawn(marking);
    let bounds = bounds.inflate(ROOM_MM, ROOM_MM);
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w:.3}mm\" height=\"{h:.3}mm\" viewBox=\"{x:.3} {y:.3} {w:.3} {h:.3}\">\n",
        w = bounds.width(),
        h = bounds.height(),
        x = bounds.x0,
        y = bounds.y0
    );
    let mut polygon = |points: &[Point], fill: &str, class: &str| {
        let list: Vec<String> = points
            .iter()
            .map(|p| format!("{:.3},{:.3}", p.x, p.y))
            .collect();
        // Writing to a string cannot fail.
        let _ = writeln!(
            out,
            "<polygon class=\"{class}\" points=\"{}\" fill=\"{fill}\" stroke=\"#000000\" stroke-width=\"1\"/>",
            list.join(" ")
        );
    };
    for contour in &outline {
        polygon(contour, "none", "outline");
    }
    for (colour, corners) in &marking.strips {
        let fill = match colour {
            TapeColour::Red => "#b3261e",
            TapeColour::White => "#ffffff",
            TapeColour::Yellow => "#f2c230",
        };
        polygon(&points(corners), fill, colour.name());
    }
    out.push_str("</svg>\n");
    out
}

/// Writes the same as DXF (release 12, ASCII): each colour on a layer of its own.
pub fn dxf(marking: &MarkingPaper) -> String {
    let (outline, _) = drawn(marking);
    let mut out = String::new();
    pair(&mut out, 999, "Windrift marking, mm");
    section(&mut out, "HEADER");
    pair(&mut out, 9, "$INSUNITS");
    pair(&mut out, 70, "4");
    pair(&mut out, 0, "ENDSEC");
    section(&mut out, "ENTITIES");
    for contour in &outline {
        polyline(&mut out, "OUTLINE", contour, true);
    }
    for (colour, corners) in &marking.strips {
        let layer = format!("STRIP_{}", colour.name().to_uppercase());
        polyline(&mut out, &layer, &points(corners), true);
    }
    pair(&mut out, 0, "ENDSEC");
    pair(&mut out, 0, "EOF");
    out
}

/// The outline, and what it and the strips reach over.
fn drawn(marking: &MarkingPaper) -> (Vec<Vec<Point>>, kurbo::Rect) {
    let outline: Vec<Vec<Point>> = marking.picture.outline().map(points).collect();
    let strips = marking
        .strips
        .iter()
        .flat_map(|(_, corners)| points(corners));
    let all = strips.chain(outline.iter().flatten().copied());
    let bounds = all
        .map(|p| kurbo::Rect::from_points(p, p))
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    (outline, bounds)
}
