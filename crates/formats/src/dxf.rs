//! A side as DXF (release 12, ASCII), full size in mm: the outline, lines and features of a side as polylines and circles on layers
//! of their own. The plainest form of the format, so that anything opens it.

use std::fmt::Write;

use kurbo::Point;
use windrift_core::ground::outline::Shape;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};

/// Writes a side with its pieces. y runs up in DXF: the picture frame is turned over.
pub fn side(plan: &SidePlan) -> String {
    let side = &plan.side;
    let mut out = String::new();
    pair(&mut out, 999, "Windrift side, mm");
    section(&mut out, "HEADER");
    pair(&mut out, 9, "$INSUNITS");
    pair(&mut out, 70, "4");
    pair(&mut out, 0, "ENDSEC");
    section(&mut out, "ENTITIES");
    for contour in &side.outline.contours {
        polyline(&mut out, "OUTLINE", contour, true);
    }
    for line in &side.lines {
        polyline(&mut out, "LINES", &line.points, false);
    }
    for area in &side.areas {
        for contour in &area.outline.contours {
            polyline(&mut out, "FEATURES", contour, true);
        }
    }
    for column in &side.columns {
        for head in &column.heads {
            circle(&mut out, "HEADS", *head, column.head_mm / 2.0);
        }
    }
    for film in plan
        .pieces
        .iter()
        .flat_map(PlannedPiece::film)
        .collect::<Vec<Shape>>()
    {
        for contour in &film.contours {
            polyline(&mut out, "FILM", contour, true);
        }
    }
    pair(&mut out, 0, "ENDSEC");
    pair(&mut out, 0, "EOF");
    out
}

pub(crate) fn pair(out: &mut String, code: u16, value: &str) {
    // Writing to a string cannot fail.
    let _ = write!(out, "{code}\n{value}\n");
}

pub(crate) fn section(out: &mut String, name: &str) {
    pair(out, 0, "SECTION");
    pair(out, 2, name);
}

fn place(out: &mut String, p: Point) {
    pair(out, 10, &format!("{:.4}", p.x));
    pair(out, 20, &format!("{:.4}", -p.y));
    pair(out, 30, "0.0");
}

pub(crate) fn polyline(out: &mut String, layer: &str, points: &[Point], closed: bool) {
    pair(out, 0, "POLYLINE");
    pair(out, 8, layer);
    pair(out, 66, "1");
    place(out, Point::ZERO);
    pair(out, 70, if closed { "1" } else { "0" });
    for p in points {
        pair(out, 0, "VERTEX");
        pair(out, 8, layer);
        place(out, *p);
    }
    pair(out, 0, "SEQEND");
    pair(out, 8, layer);
}

fn circle(out: &mut String, layer: &str, middle: Point, radius: f64) {
    pair(out, 0, "CIRCLE");
    pair(out, 8, layer);
    place(out, middle);
    pair(out, 40, &format!("{radius:.4}"));
}
