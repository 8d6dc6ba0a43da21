//! Outlines of an SVG file, read by a general SVG reader. Scripts are never run, nothing outside the file is ever fetched.

use kurbo::{Affine, BezPath, PathEl, Point};
use usvg::tiny_skia_path::PathSegment;
use usvg::{Group, ImageHrefResolver, Node, Options, Tree};

use super::{FLATTENING_MM, FileError, FileUnit, Lines, MOST_SHAPES, counted};

fn unreadable(why: impl ToString) -> FileError {
    FileError::Unreadable {
        kind: "SVG",
        why: why.to_string(),
    }
}

pub(super) fn read(bytes: &[u8], unit: FileUnit) -> Result<Lines, FileError> {
    let text = std::str::from_utf8(bytes).map_err(|_| unreadable("it is not text in UTF-8"))?;
    let options = roxmltree::ParsingOptions {
        allow_dtd: true,
        nodes_limit: 400_000,
        ..roxmltree::ParsingOptions::default()
    };
    let document = roxmltree::Document::parse_with_options(text, options).map_err(unreadable)?;
    let seen = Seen::of(&document);
    if seen.shapes > MOST_SHAPES {
        return Err(FileError::TooManyShapes { found: seen.shapes });
    }
    let nothing = ImageHrefResolver {
        resolve_data: Box::new(|_, _, _| None),
        resolve_string: Box::new(|_, _| None),
    };
    // A CSS inch is 25.4 of its pixels here, so that physical lengths come out in mm.
    let options = Options {
        dpi: 25.4,
        image_href_resolver: nothing,
        ..Options::default()
    };
    let tree = Tree::from_xmltree(&document, &options).map_err(unreadable)?;
    let scale = to_mm(&document, &tree, unit)?;
    let mut lines = Lines {
        not_used: seen.report(),
        ..Lines::default()
    };
    collect(tree.root(), scale, &mut lines);
    Ok(lines)
}

/// What stands in a file beside its shapes.
#[derive(Default)]
struct Seen {
    shapes: usize,
    words: usize,
    pictures: usize,
    scripts: usize,
    outside: usize,
    clips: usize,
}

impl Seen {
    fn of(document: &roxmltree::Document<'_>) -> Seen {
        let mut seen = Seen::default();
        for node in document.descendants().filter(|n| n.is_element()) {
            match node.tag_name().name() {
                "path" | "rect" | "circle" | "ellipse" | "line" | "polyline" | "polygon" => {
                    seen.shapes += 1
                }
                "text" => seen.words += 1,
                "image" => seen.pictures += 1,
                "script" | "foreignObject" => seen.scripts += 1,
                "clipPath" | "mask" => seen.clips += 1,
                _ => {}
            }
            for attribute in node.attributes() {
                let name = attribute.name();
                if name.len() > 2 && name.starts_with("on") {
                    seen.scripts += 1;
                }
                let value = attribute.value().trim_start();
                let link = name == "href" && !value.starts_with('#') && !value.starts_with("data:");
                if link
                    || value.contains("url(http")
                    || value.contains("url(//")
                    || value.contains("url(file")
                {
                    seen.outside += 1;
                }
            }
        }
        seen
    }

    fn report(&self) -> Vec<String> {
        let mut told = Vec::new();
        let mut tell = |n: usize, one: &str, several: &str, why: &str| {
            if n > 0 {
                told.push(format!("{} {why}", counted(n, one, several)));
            }
        };
        tell(
            self.scripts,
            "script was",
            "scripts were",
            "left out: Windrift never runs them.",
        );
        tell(
            self.outside,
            "reference to elsewhere was",
            "references to elsewhere were",
            "left out: Windrift never fetches them.",
        );
        tell(
            self.words,
            "piece of text was",
            "pieces of text were",
            "left out: turn text into outlines in the drawing program.",
        );
        tell(
            self.pictures,
            "picture was",
            "pictures were",
            "left out: only lines make an outline.",
        );
        tell(
            self.clips,
            "clip or mask was",
            "clips or masks were",
            "not applied.",
        );
        told
    }
}

/// Millimetres in one unit of the tree.
fn to_mm(
    document: &roxmltree::Document<'_>,
    tree: &Tree,
    unit: FileUnit,
) -> Result<f64, FileError> {
    let root = document.root_element();
    let view: Vec<f64> = root
        .attribute("viewBox")
        .unwrap_or_default()
        .split(|c: char| c.is_whitespace() || c == ',')
        .filter_map(|v| v.parse().ok())
        .collect();
    let size = tree.size();
    let fitted = match view.as_slice() {
        // The whole view is fitted into the size, so the smaller ratio counts.
        [_, _, w, h] if *w > 0.0 && *h > 0.0 => {
            Some((f64::from(size.width()) / w).min(f64::from(size.height()) / h))
        }
        _ => None,
    };
    match (unit.mm(), fitted) {
        (Some(mm), Some(fitted)) => Ok(mm / fitted),
        (Some(mm), None) => Ok(mm),
        (None, fitted) => {
            // Only a physical width says what the unit is.
            let width = root.attribute("width").unwrap_or_default().trim();
            let physical = ["mm", "cm", "in", "pt", "pc", "Q"]
                .iter()
                .any(|u| width.ends_with(u));
            match (physical, fitted) {
                (true, Some(_)) => Ok(1.0),
                // Without a view a unit is a CSS pixel, 96 to the inch.
                (true, None) => Ok(25.4 / 96.0),
                (false, _) => Err(FileError::NoUnit),
            }
        }
    }
}

fn collect(group: &Group, scale: f64, lines: &mut Lines) {
    for node in group.children() {
        match node {
            Node::Group(inner) => collect(inner, scale, lines),
            Node::Path(path) => {
                let t = path.abs_transform();
                let to_page = Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from));
                let mut bez = BezPath::new();
                let p = |q: usvg::tiny_skia_path::Point| Point::new(f64::from(q.x), f64::from(q.y));
                for segment in path.data().segments() {
                    match segment {
                        PathSegment::MoveTo(a) => bez.move_to(p(a)),
                        PathSegment::LineTo(a) => bez.line_to(p(a)),
                        PathSegment::QuadTo(a, b) => bez.quad_to(p(a), p(b)),
                        PathSegment::CubicTo(a, b, c) => bez.curve_to(p(a), p(b), p(c)),
                        PathSegment::Close => bez.close_path(),
                    }
                }
                flatten(&(Affine::scale(scale) * to_page * bez), lines);
            }
            Node::Image(_) | Node::Text(_) => {}
        }
    }
}

fn flatten(path: &BezPath, lines: &mut Lines) {
    let mut run: Vec<Point> = Vec::new();
    let end = |run: &mut Vec<Point>, closed: bool, lines: &mut Lines| {
        if run.len() > 1 {
            let run = std::mem::take(run);
            if closed {
                lines.closed.push(run);
            } else {
                lines.open.push(run);
            }
        }
        run.clear();
    };
    kurbo::flatten(path, FLATTENING_MM, |element| match element {
        PathEl::MoveTo(p) => {
            end(&mut run, false, lines);
            run.push(p);
        }
        PathEl::LineTo(p) => run.push(p),
        PathEl::ClosePath => end(&mut run, true, lines),
        PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
    });
    end(&mut run, false, lines);
}
