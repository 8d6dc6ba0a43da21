//! Outlines of an SVG file, read by a general SVG reader. Scripts are never run, nothing outside the file is ever fetched.

use std::collections::HashMap;

use kurbo::{Affine, BezPath, PathEl, Point};
use usvg::tiny_skia_path::PathSegment;
use usvg::{FillRule, Group, ImageHrefResolver, Node, Options, Paint, Tree};

use crate::drawing::{
    FARTHEST_MM, FLATTENING_MM, FileError, FileUnit, Lines, MOST_FILE_POINTS, MOST_SHAPES, counted,
};

fn unreadable(why: impl ToString) -> FileError {
    FileError::Unreadable {
        kind: "SVG",
        why: why.to_string(),
    }
}

pub(super) fn read(bytes: &[u8], unit: FileUnit) -> Result<Lines, FileError> {
    let text = std::str::from_utf8(bytes).map_err(|_| unreadable("it is not text in UTF-8"))?;
    entities(text)?;
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
    grows(&document)?;
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
    collect(tree.root(), scale, &mut lines)?;
    Ok(lines)
}

/// Most characters that entities of a file may add to it.
const MOST_ENTITY_TEXT: usize = 2 * 1024 * 1024;
/// Most elements that a file may have once what it repeats is written out.
const MOST_WRITTEN_OUT: u64 = 100_000;
/// Most pairs of a style's rule and an element that are compared.
const MOST_STYLED: usize = 20_000_000;

/// Refuses a file whose entities would blow it up: an entity that names another, or text that grows too long by them.
fn entities(text: &str) -> Result<(), FileError> {
    let grown = FileError::Grows { what: "entities" };
    let mut added = 0_usize;
    for declared in text.split("<!ENTITY").skip(1).take(1000) {
        let declared = declared.split('>').next().unwrap_or_default();
        let Some(name) = declared.split_whitespace().next() else {
            continue;
        };
        if declared.contains('&') {
            return Err(grown);
        }
        let named = text.matches(&format!("&{name};")).count();
        added = added.saturating_add(named.saturating_mul(declared.len()));
    }
    if added > MOST_ENTITY_TEXT {
        return Err(grown);
    }
    Ok(())
}

/// Refuses a file that grows when what it repeats is written out: copies of copies, markers at every corner, styles by the thousand.
fn grows(document: &roxmltree::Document<'_>) -> Result<(), FileError> {
    let elements = document.descendants().filter(|n| n.is_element()).count();
    let rules: usize = document
        .descendants()
        .filter(|n| n.has_tag_name("style") || n.tag_name().name() == "style")
        .filter_map(|n| n.text())
        .map(|t| t.matches(['{', ',']).count())
        .sum();
    if rules.saturating_mul(elements) > MOST_STYLED {
        return Err(FileError::Grows { what: "styles" });
    }
    // Before the reader works with it: an arc of a size without sense keeps it busy for ever.
    let drawn = [
        "d",
        "points",
        "transform",
        "viewBox",
        "r",
        "rx",
        "ry",
        "x",
        "y",
        "width",
        "height",
    ];
    let senseless = document
        .descendants()
        .flat_map(|n| n.attributes())
        .filter(|a| drawn.contains(&a.name()))
        .any(|a| largest(a.value()) > LARGEST_NUMBER);
    if senseless {
        return Err(FileError::TooFar);
    }
    let by_id: HashMap<&str, roxmltree::Node<'_, '_>> = document
        .descendants()
        .filter_map(|n| Some((n.attribute("id")?, n)))
        .collect();
    let mut known = HashMap::new();
    let mut depth = 0;
    let plain: u64 = (document.descendants())
        .filter(|n| n.is_element())
        .map(|n| weight(&n))
        .sum();
    let size = written_out(document.root_element(), &by_id, &mut known, &mut depth);
    if size > MOST_WRITTEN_OUT + 4 * plain {
        return Err(FileError::Grows { what: "parts" });
    }
    Ok(())
}

/// Largest number in a drawing that has any sense, in whatever unit it is drawn.
const LARGEST_NUMBER: f64 = 1e8;

/// The largest number in a list of numbers and letters, as SVG writes them one after the other.
fn largest(text: &str) -> f64 {
    let bytes = text.as_bytes();
    let is_part = |n: usize| match bytes[n] {
        b'0'..=b'9' | b'.' => true,
        b'e' | b'E' => true,
        b'+' | b'-' => n > 0 && matches!(bytes[n - 1], b'e' | b'E'),
        _ => false,
    };
    let mut most = 0.0_f64;
    let mut start = None;
    for n in 0..=bytes.len() {
        let part = n < bytes.len() && is_part(n);
        match (part, start) {
            (true, None) => start = Some(n),
            (false, Some(from)) => {
                let number = text.get(from..n).unwrap_or_default();
                // What is no number by itself (`1.2.3`, `e5`) is taken by the figures before its exponent.
                let value = number.parse::<f64>().unwrap_or_else(|_| {
                    let exponent = number.rsplit(['e', 'E']).next().unwrap_or_default();
                    exponent.parse::<i32>().map_or(0.0, |e| 10_f64.powi(e))
                });
                most = most.max(value.abs());
                start = None;
            }
            _ => {}
        }
    }
    most
}

/// What an element costs to draw: itself, and its points.
fn weight(node: &roxmltree::Node<'_, '_>) -> u64 {
    1 + corners(node) / 4
}

/// Deepest nesting that is followed.
const DEEPEST: usize = 200;

/// Elements under a node once every copy and every marker is written out.
fn written_out<'d>(
    node: roxmltree::Node<'d, '_>,
    by_id: &HashMap<&str, roxmltree::Node<'d, '_>>,
    known: &mut HashMap<roxmltree::NodeId, u64>,
    depth: &mut usize,
) -> u64 {
    if let Some(size) = known.get(&node.id()) {
        return *size;
    }
    if *depth > DEEPEST {
        return MOST_WRITTEN_OUT + 1;
    }
    *depth += 1;
    // A copy of itself comes round to here: the reader breaks such a ring.
    known.insert(node.id(), 1);
    let mut size = weight(&node);
    for child in node.children().filter(roxmltree::Node::is_element) {
        size = size.saturating_add(written_out(child, by_id, known, depth));
    }
    for attribute in node.attributes() {
        let value = attribute.value().trim();
        let copied = match attribute.name() {
            "href" => value.strip_prefix('#').map(|id| (id, 1)),
            "marker" | "marker-start" | "marker-mid" | "marker-end" | "style" | "fill"
            | "stroke" | "clip-path" | "mask" => value
                .split("url(")
                .nth(1)
                .and_then(|v| v.trim_matches(['"', '\'', ' ']).strip_prefix('#'))
                .and_then(|v| v.split(')').next())
                .map(|id| (id, corners(&node))),
            _ => None,
        };
        if let Some((target, times)) = copied.and_then(|(id, n)| Some((by_id.get(id)?, n))) {
            let each = written_out(*target, by_id, known, depth);
            size = size.saturating_add(each.saturating_mul(times));
        }
    }
    *depth -= 1;
    known.insert(node.id(), size);
    size
}

/// About how many corners a path has: at each a marker may stand.
fn corners(node: &roxmltree::Node<'_, '_>) -> u64 {
    let drawn = node.attribute("d").or(node.attribute("points"));
    drawn.map_or(1, |d| d.len() as u64 / 4 + 1)
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

/// The colour that a path is filled with; of a run of colours the first.
fn fill_of(path: &usvg::Path) -> Option<String> {
    let colour = match path.fill()?.paint() {
        Paint::Color(colour) => *colour,
        Paint::LinearGradient(run) => run.stops().first()?.color(),
        Paint::RadialGradient(run) => run.stops().first()?.color(),
        Paint::Pattern(_) => return None,
    };
    let usvg::Color { red, green, blue } = colour;
    Some(format!("#{red:02x}{green:02x}{blue:02x}"))
}

fn collect(group: &Group, scale: f64, lines: &mut Lines) -> Result<(), FileError> {
    for node in group.children() {
        match node {
            Node::Group(inner) => collect(inner, scale, lines)?,
            Node::Path(path) => {
                let t = path.abs_transform();
                let to_page = Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from));
                let to_mm = Affine::scale(scale) * to_page;
                // Looked at before any curve is flattened: how many points a curve has follows from how far it reaches.
                let far = |p: Point| !(p.x.abs() <= FARTHEST_MM && p.y.abs() <= FARTHEST_MM);
                let mut bez = BezPath::new();
                let p = |q: usvg::tiny_skia_path::Point| {
                    to_mm * Point::new(f64::from(q.x), f64::from(q.y))
                };
                for segment in path.data().segments() {
                    match segment {
                        PathSegment::MoveTo(a) => bez.move_to(p(a)),
                        PathSegment::LineTo(a) => bez.line_to(p(a)),
                        PathSegment::QuadTo(a, b) => bez.quad_to(p(a), p(b)),
                        PathSegment::CubicTo(a, b, c) => bez.curve_to(p(a), p(b), p(c)),
                        PathSegment::Close => bez.close_path(),
                    }
                }
                if bez.elements().iter().any(|el| match el {
                    PathEl::MoveTo(a) | PathEl::LineTo(a) => far(*a),
                    PathEl::QuadTo(a, b) => far(*a) || far(*b),
                    PathEl::CurveTo(a, b, c) => far(*a) || far(*b) || far(*c),
                    PathEl::ClosePath => false,
                }) {
                    return Err(FileError::TooFar);
                }
                let over_itself = path.fill().is_some_and(|f| f.rule() == FillRule::NonZero);
                lines.next_path(fill_of(path), over_itself);
                flatten(&bez, lines)?;
            }
            Node::Image(_) | Node::Text(_) => {}
        }
    }
    Ok(())
}

/// Flattens a path piece by piece, so that too many points are noticed before they are made.
fn flatten(path: &BezPath, lines: &mut Lines) -> Result<(), FileError> {
    let mut run: Vec<Point> = Vec::new();
    let mut start = Point::ZERO;
    for element in path.elements() {
        let last = run.last().copied();
        match *element {
            PathEl::MoveTo(p) => {
                lines.add(std::mem::take(&mut run), false)?;
                start = p;
                run.push(p);
            }
            PathEl::ClosePath => lines.add(std::mem::take(&mut run), true)?,
            // After a path has closed it goes on from where it began.
            drawn => {
                let from = last.unwrap_or(start);
                if run.is_empty() {
                    run.push(from);
                }
                kurbo::flatten([PathEl::MoveTo(from), drawn], FLATTENING_MM, |el| {
                    if let PathEl::LineTo(p) = el {
                        run.push(p);
                    }
                });
                if lines.points + run.len() > MOST_FILE_POINTS {
                    return Err(FileError::TooManyPoints);
                }
            }
        }
    }
    lines.add(run, false)
}
