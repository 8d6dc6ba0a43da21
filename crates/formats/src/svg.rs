//! SVG: outlines as path data, a side at full size in mm, and a piece alone for the cutter.

use std::fmt::Write;

use kurbo::Point;
use windrift_core::art::drawn::Drawn;
use windrift_core::ground::outline::{Shape, bounds_of_shapes};
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_core::vehicle::measured::MeasuredSide;

/// Room round the body in a side's drawing, mm.
const ROOM_MM: f64 = 50.0;

/// SVG path data of shapes: absolute coordinates in the shapes' own unit, three decimals, counters by the even-odd rule.
pub fn path_data<'a>(shapes: impl IntoIterator<Item = &'a Shape>) -> String {
    let mut data = String::new();
    for contour in shapes.into_iter().flat_map(|s| &s.contours) {
        for (n, p) in contour.iter().enumerate() {
            let command = if n == 0 { "M" } else { "L" };
            // Writing to a string cannot fail.
            let _ = write!(data, "{command}{} {}", decimal(p.x), decimal(p.y));
        }
        data.push('Z');
    }
    data
}

/// SVG path data for the screen: the same outlines thinned to within `tolerance` (in the shapes' own unit) and written in tenths,
/// each point relative to the one before it. A tenth of the size of [`path_data`]; never for cutting.
pub fn screen_path<'a>(shapes: impl IntoIterator<Item = &'a Shape>, tolerance: f64) -> String {
    let mut data = String::new();
    for contour in shapes.into_iter().flat_map(|s| &s.contours) {
        let mut at: Option<(i64, i64)> = None;
        for p in thinned(contour, tolerance) {
            let (x, y) = ((p.x * 10.0).round() as i64, (p.y * 10.0).round() as i64);
            match at {
                None => {
                    data.push('M');
                    tenths(&mut data, x);
                    data.push(' ');
                    tenths(&mut data, y);
                    data.push('l');
                }
                Some((x0, y0)) => {
                    tenths(&mut data, x - x0);
                    data.push(if y < y0 { '-' } else { ' ' });
                    tenths(&mut data, (y - y0).abs());
                    data.push(' ');
                }
            }
            at = Some((x, y));
        }
        data.push('Z');
    }
    data
}

/// Writes a whole number of tenths: `-12.5`, `.3`, `0`. By hand, because a side has tens of thousands of them.
fn tenths(out: &mut String, value: i64) {
    if value < 0 {
        out.push('-');
    }
    let (mut whole, tenth) = (value.unsigned_abs() / 10, (value.unsigned_abs() % 10) as u8);
    let mut digits = [0_u8; 20];
    let mut first = digits.len();
    while whole > 0 {
        first -= 1;
        digits[first] = b'0' + (whole % 10) as u8;
        whole /= 10;
    }
    out.extend(digits[first..].iter().map(|d| char::from(*d)));
    if tenth > 0 {
        out.push('.');
        out.push(char::from(b'0' + tenth));
    } else if first == digits.len() {
        out.push('0');
    }
}

/// The points of a contour without those that lie within `tolerance` of the straight line between the kept ones around them.
fn thinned(contour: &[Point], tolerance: f64) -> Vec<Point> {
    let mut kept: Vec<Point> = Vec::with_capacity(contour.len() / 2);
    let mut from = 0;
    let Some(first) = contour.first() else {
        return kept;
    };
    kept.push(*first);
    for to in 2..contour.len() {
        let (Some(a), Some(b)) = (contour.get(from), contour.get(to)) else {
            break;
        };
        let chord = *b - *a;
        let length = chord.hypot();
        let far = contour
            .get(from + 1..to)
            .unwrap_or_default()
            .iter()
            .any(|p| {
                let off = *p - *a;
                let along = off.dot(chord);
                along < 0.0
                    || along > length * length
                    || off.cross(chord).abs() > tolerance * length
            });
        if far && let Some(last) = contour.get(to - 1) {
            kept.push(*last);
            from = to - 1;
        }
    }
    kept.extend(contour.last().filter(|_| contour.len() > 1));
    kept
}

/// A number with at most three decimals and nothing that does not count.
fn decimal(value: f64) -> String {
    let text = format!("{value:.3}");
    let text = text.trim_end_matches('0').trim_end_matches('.');
    if text == "-0" {
        "0".into()
    } else {
        text.into()
    }
}

fn escape(text: &str) -> String {
    text.replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
        .replace('"', "&quot;")
}

fn open(width: f64, height: f64, x: f64, y: f64, title: &str) -> String {
    format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}mm\" height=\"{h}mm\" viewBox=\"{x} {y} {w} {h}\">\n<title>{}</title>\n",
        escape(title),
        w = decimal(width),
        h = decimal(height),
        x = decimal(x),
        y = decimal(y),
    )
}

/// A side with its features and pieces at full size: one user unit is one mm, the zero of the tape is the origin.
pub fn side(plan: &SidePlan, title: &str) -> String {
    let side = &plan.side;
    let film: Vec<Shape> = plan.pieces.iter().flat_map(PlannedPiece::film).collect();
    let bounds = film
        .iter()
        .map(|s| s.bounds)
        .fold(side.outline.bounds, |a, b| a.union(b))
        .inflate(ROOM_MM, ROOM_MM);
    let mut out = open(bounds.width(), bounds.height(), bounds.x0, bounds.y0, title);
    body(&mut out, side);
    for piece in &plan.pieces {
        let carrier: Vec<String> = piece
            .hinge
            .carrier
            .iter()
            .map(|p| format!("{},{}", decimal(p[0]), decimal(p[1])))
            .collect();
        let _ = writeln!(
            out,
            "<g id=\"piece-{}\"><title>{}</title>\n<polygon class=\"carrier\" points=\"{}\" fill=\"none\" stroke=\"#777\" stroke-width=\"1\" stroke-dasharray=\"12 8\"/>",
            piece.id,
            escape(&piece.piece.called()),
            carrier.join(" "),
        );
        for layer in &piece.drawn.layers {
            let film: Vec<Shape> = layer
                .shapes
                .iter()
                .map(|s| s.transformed(piece.placed.to_picture))
                .collect();
            let _ = writeln!(
                out,
                "<path class=\"film\" fill=\"{}\" fill-rule=\"evenodd\" d=\"{}\"/>",
                escape(&layer.colour),
                path_data(&film),
            );
        }
        out.push_str("</g>\n");
    }
    out.push_str("</svg>\n");
    out
}

fn body(out: &mut String, side: &MeasuredSide) {
    let _ = writeln!(
        out,
        "<path id=\"body\" fill=\"none\" stroke=\"#000\" stroke-width=\"2\" d=\"{}\"/>",
        path_data([&side.outline])
    );
    out.push_str("<g id=\"lines\" fill=\"none\" stroke=\"#555\" stroke-width=\"1\">\n");
    for line in &side.lines {
        let points: Vec<String> = line
            .points
            .iter()
            .map(|p| format!("{},{}", decimal(p.x), decimal(p.y)))
            .collect();
        let _ = writeln!(
            out,
            "<polyline points=\"{}\"><title>{}</title></polyline>",
            points.join(" "),
            escape(&line.name)
        );
    }
    out.push_str("</g>\n<g id=\"rivets\" fill=\"none\" stroke=\"#555\" stroke-width=\"1\">\n");
    for column in &side.columns {
        for head in &column.heads {
            let _ = writeln!(
                out,
                "<circle cx=\"{}\" cy=\"{}\" r=\"{}\"/>",
                decimal(head.x),
                decimal(head.y),
                decimal(column.head_mm / 2.0)
            );
        }
    }
    out.push_str("</g>\n<g id=\"hardware\" fill=\"none\" stroke=\"#000\" stroke-width=\"1.5\">\n");
    for area in &side.areas {
        let _ = writeln!(
            out,
            "<path d=\"{}\"><title>{}</title></path>",
            path_data([&area.outline]),
            escape(&area.name)
        );
    }
    out.push_str("</g>\n");
}

/// One piece alone for the cutter: film outlines at full size, upright. Each layer is a group of its own with its registration
/// marks, to be cut from its own film; a piece of one layer has marks only where the tape is read to them.
pub fn piece(piece: &PlannedPiece) -> String {
    let drawn = &piece.drawn;
    let marks: Vec<Shape> = if drawn.cuts_marks() {
        drawn.marks.iter().map(|m| Drawn::mark_shape(*m)).collect()
    } else {
        Vec::new()
    };
    let bounds = bounds_of_shapes(drawn.film().chain(&marks));
    let mut out = open(
        bounds.width(),
        bounds.height(),
        bounds.x0,
        bounds.y0,
        &piece.piece.called(),
    );
    if let [layer] = drawn.layers.as_slice() {
        for part in &drawn.parts {
            let _ = writeln!(
                out,
                "<path fill=\"{}\" fill-rule=\"evenodd\" d=\"{}\"><title>{}</title></path>",
                escape(&layer.colour),
                path_data(&part.shapes),
                escape(&part.label)
            );
        }
        if !marks.is_empty() {
            let colour = escape(&layer.colour);
            let d = path_data(&marks);
            let _ = writeln!(out, "<path class=\"mark\" fill=\"{colour}\" d=\"{d}\"/>");
        }
    } else {
        for layer in &drawn.layers {
            let _ = writeln!(
                out,
                "<g id=\"{}\"><title>{}</title>\n<path fill=\"{colour}\" fill-rule=\"evenodd\" d=\"{}\"/>\n<path class=\"mark\" fill=\"{colour}\" d=\"{}\"/></g>",
                layer.kind.name().replace(' ', "-"),
                layer.kind.name(),
                path_data(&layer.shapes),
                path_data(&marks),
                colour = escape(&layer.colour),
            );
        }
    }
    out.push_str("</svg>\n");
    out
}
