//! A piece of film as it is drawn: outlines in mm in the piece's own frame, whatever it was made from.
//!
//! The frame: x to the right from the film's left end, y down. For lettering y = 0 is the **cap line** of the first line (the top
//! of a capital H); for everything else it is the film's upper edge.

use std::sync::OnceLock;

use kurbo::{Affine, Point, Rect};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::art::weeding;
use crate::art::weeding::Thin;
use crate::ground::outline::{Shape, bounds_of_shapes, convex_hull, weld};

/// What film is drawn in until somebody says which, `#rrggbb`.
pub const FIRST_COLOUR: &str = "#14524d";

/// A straight edge of a glyph's drawing as the designer drew it, never a flattened curve.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StraightEdge {
    /// One end.
    pub from: Point,
    /// The other end.
    pub to: Point,
}

/// A letter, several letters that overlap and are cut as one, or any other run of film that hangs together.
#[derive(Debug, Clone)]
pub struct Part {
    /// The letters of this part as they stand in the text, or what the part is called.
    pub label: String,
    /// Film outlines in the piece's frame.
    pub shapes: Vec<Shape>,
    /// The smallest upright rectangle round them.
    pub bounds: Rect,
    /// Convex hull of the film.
    pub hull: Vec<Point>,
}

impl Part {
    /// A part from its film.
    pub fn new(label: String, shapes: Vec<Shape>) -> Part {
        Part {
            label,
            bounds: bounds_of_shapes(&shapes),
            hull: hull_of(&shapes),
            shapes,
        }
    }

    /// The part moved, turned or scaled.
    pub fn transformed(&self, by: Affine) -> Part {
        let shapes: Vec<Shape> = self.shapes.iter().map(|s| s.transformed(by)).collect();
        Part {
            label: self.label.clone(),
            bounds: bounds_of_shapes(&shapes),
            hull: self.hull.iter().map(|p| by * *p).collect(),
            shapes,
        }
    }
}

/// Which film of a piece a layer is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LayerKind {
    /// The shadow: goes on first.
    Shadow,
    /// The outline round the letters.
    Outline,
    /// The letters, the stripe or the picture itself.
    Face,
    /// Letters in a second colour.
    SecondColour,
}

impl LayerKind {
    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            LayerKind::Shadow => "shadow",
            LayerKind::Outline => "outline",
            LayerKind::Face => "face",
            LayerKind::SecondColour => "second colour",
        }
    }
}

/// One film of a piece: what is cut from one colour.
#[derive(Debug, Clone)]
pub struct Layer {
    /// Which it is.
    pub kind: LayerKind,
    /// Colour as `#rrggbb`.
    pub colour: String,
    /// Film outlines in the piece's frame, without the registration marks.
    pub shapes: Vec<Shape>,
}

/// Size of a registration mark from tip to tip, mm (two small marks carry the second layer to the first; the size is ours).
pub const MARK_MM: f64 = 6.0;

/// A mark stands this far beside the film, mm.
const MARK_BESIDE_MM: f64 = 12.0;

/// A piece of film, drawn.
#[derive(Debug, Clone)]
pub struct Drawn {
    /// All film as it lies on the body in the end, layers laid over each other, from left to right.
    pub parts: Vec<Part>,
    /// Straight edges of the drawing with the part that each belongs to.
    pub straight: Vec<(usize, StraightEdge)>,
    /// Height of a capital H, mm; the height of the film where there are no letters.
    pub capital_height_mm: f64,
    /// Where the last line of letters stands, or the film's lower edge.
    pub baseline_mm: f64,
    /// The smallest upright rectangle round the film. Its left edge is x = 0.
    pub bounds: Rect,
    /// The box that distances refer to: without the bleed of a panel or the wrap of a stripe.
    pub nominal: Rect,
    /// Whether there are letters, so that cap line and baseline mean something.
    pub has_letters: bool,
    /// Convex hull of all film.
    pub hull: Vec<Point>,
    /// What is cut from each film, the one that goes on first first.
    pub layers: Vec<Layer>,
    /// Middles of the registration marks that stand in every layer; none where there is one layer.
    pub marks: Vec<Point>,
    /// The point of the piece that is put down first.
    pub point: Point,
    /// The line of the piece that is swung to.
    pub line: (Point, Point),
    /// Whether the tape is read to its marks: it has no two flats where it lies. They are cut with it.
    pub marks_to_read: bool,
    /// Not film but what must stay clear in a print: it has no cut edges, and keeps so far off hardware, mm.
    pub stays_clear_mm: Option<f64>,
    /// Whether it is cut out round hardware: a stripe keeps off it wherever it lies.
    pub cut_round: bool,
    /// Both ends of its upper edge, where it is a stripe: what is read to when that edge runs along nothing that is measured from.
    pub upper_corners: Option<[Point; 2]>,
    /// The photo that is printed on it, and what of the film it fills.
    pub picture: Option<(Uuid, Rect)>,
    /// Whether its own point must fit exactly when it is placed by points, the rest taking the error.
    pub keep_point: bool,
    thin: OnceLock<Thin>,
}

/// Which of several equal letters, as it is said.
const WHICH: [&str; 10] = [
    "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth",
];

impl Drawn {
    /// The parts line by line, each line from left to right as it is read.
    pub fn lines(&self) -> Vec<Vec<usize>> {
        let at = |n: &usize| {
            self.parts
                .get(*n)
                .map_or(Point::ZERO, |p| p.bounds.center())
        };
        let mut order: Vec<usize> = (0..self.parts.len()).collect();
        order.sort_by(|a, b| at(a).y.total_cmp(&at(b).y));
        // Lines stand farther apart than the letters of one reach up and down.
        let apart = self.capital_height_mm * 0.75;
        let mut lines: Vec<Vec<usize>> = Vec::new();
        for part in order {
            let y = at(&part).y;
            match lines.last_mut() {
                Some(line) if line.first().is_some_and(|f| y - at(f).y < apart) => line.push(part),
                _ => lines.push(vec![part]),
            }
        }
        for line in &mut lines {
            line.sort_by(|a, b| at(a).x.total_cmp(&at(b).x));
        }
        lines
    }

    /// What one of its parts is called: its letters, and which of several equal ones it is, as they are read: `second E`.
    ///
    /// ```
    /// # use windrift_core::art::{lettering::{Lettering, draw::draw}, typeface::Typefaces};
    /// let drawn = draw(&Lettering::line("TEE", "oswald", 100.0), &Typefaces::default()).unwrap();
    /// let names: Vec<String> = drawn.parts.iter().map(|p| drawn.name_of(p)).collect();
    /// assert_eq!(names, ["T", "first E", "second E"]);
    /// ```
    pub fn name_of(&self, part: &Part) -> String {
        let equal: Vec<usize> = self
            .lines()
            .into_iter()
            .flatten()
            .filter(|n| self.parts.get(*n).is_some_and(|p| p.label == part.label))
            .collect();
        let own = equal
            .iter()
            .position(|n| self.parts.get(*n).is_some_and(|p| std::ptr::eq(p, part)));
        match own {
            Some(n) if self.has_letters && equal.len() > 1 => match WHICH.get(n) {
                Some(which) => format!("{which} {}", part.label),
                None => format!("{} number {}", part.label, n + 1),
            },
            _ => part.label.clone(),
        }
    }

    /// A piece of one layer.
    pub fn plain(
        parts: Vec<Part>,
        straight: Vec<(usize, StraightEdge)>,
        capital_height_mm: f64,
        baseline_mm: f64,
        colour: &str,
    ) -> Drawn {
        let shapes = parts.iter().flat_map(|p| p.shapes.clone()).collect();
        let layer = Layer {
            kind: LayerKind::Face,
            colour: colour.to_owned(),
            shapes,
        };
        Drawn::layered(parts, straight, capital_height_mm, baseline_mm, vec![layer])
    }

    /// A piece of several layers; `parts` is all of them together.
    pub fn layered(
        parts: Vec<Part>,
        straight: Vec<(usize, StraightEdge)>,
        capital_height_mm: f64,
        baseline_mm: f64,
        layers: Vec<Layer>,
    ) -> Drawn {
        let bounds = parts
            .iter()
            .map(|p| p.bounds)
            .reduce(|a, b| a.union(b))
            .unwrap_or_default();
        let marks = if layers.len() > 1 {
            marks_beside(bounds)
        } else {
            Vec::new()
        };
        let at_left = Point::new(bounds.x0, 0.0);
        Drawn {
            hull: convex_hull(parts.iter().flat_map(|p| p.hull.iter().copied()).collect()),
            parts,
            straight,
            capital_height_mm,
            baseline_mm,
            bounds,
            nominal: bounds,
            has_letters: false,
            layers,
            marks,
            point: at_left,
            line: (at_left, Point::new(bounds.x1, 0.0)),
            upper_corners: None,
            picture: None,
            keep_point: false,
            marks_to_read: false,
            stays_clear_mm: None,
            cut_round: false,
            thin: OnceLock::new(),
        }
    }

    /// Whether its registration marks are cut with it: they carry its layers onto each other, or the tape is read to them.
    pub fn cuts_marks(&self) -> bool {
        self.layers.len() > 1 || self.marks_to_read || (self.has_letters && !self.marks.is_empty())
    }

    /// The sheet that it is carried on: its film and what is cut with it, and a margin round the film, mm.
    pub fn carrier(&self, margin_mm: f64) -> Rect {
        let sheet = self.bounds.inflate(margin_mm, margin_mm);
        let marks = self.marks.iter().filter(|_| self.cuts_marks());
        marks.fold(sheet, |sheet, m| {
            sheet.union(Rect::from_center_size(*m, (MARK_MM, MARK_MM)))
        })
    }

    /// The same with two marks for the tape, level with each other beside its film; its own where it has two.
    pub fn with_marks_to_read(&self) -> Drawn {
        let marks = if self.marks.len() >= 2 {
            self.marks.clone()
        } else {
            marks_beside(self.bounds)
        };
        Drawn {
            marks,
            marks_to_read: true,
            ..self.clone()
        }
    }

    /// All film outlines in the piece's frame.
    pub fn film(&self) -> impl Iterator<Item = &Shape> {
        self.parts.iter().flat_map(|p| &p.shapes)
    }

    /// The thinnest things of all layers, measured once.
    pub fn thin(&self) -> &Thin {
        self.thin.get_or_init(|| {
            self.layers
                .iter()
                .map(|l| weeding::measure(&l.shapes))
                .reduce(Thin::least)
                .unwrap_or(Thin {
                    stroke: None,
                    gap: None,
                    island: None,
                })
        })
    }

    /// A registration mark as it is cut: a square standing on its tip.
    pub fn mark_shape(at: Point) -> Shape {
        let half = MARK_MM / 2.0;
        Shape::new(vec![vec![
            at + (0.0, -half),
            at + (half, 0.0),
            at + (0.0, half),
            at + (-half, 0.0),
        ]])
    }
}

/// Registration marks at both ends of film.
pub(crate) fn marks_beside(bounds: Rect) -> Vec<Point> {
    let middle = bounds.center().y;
    vec![
        Point::new(bounds.x0 - MARK_BESIDE_MM, middle),
        Point::new(bounds.x1 + MARK_BESIDE_MM, middle),
    ]
}

/// Convex hull of film.
pub fn hull_of(shapes: &[Shape]) -> Vec<Point> {
    let rims = shapes
        .iter()
        .flat_map(|s| s.contours.first().into_iter().flatten().copied());
    convex_hull(rims.collect())
}

/// Sorts film into parts by the letters that stand in it: letters whose film hangs together become one part. Returns the parts and,
/// for each letter, the part that it ended up in.
pub fn parts_by_letter(film: Vec<Shape>, letters: &[Part]) -> (Vec<Part>, Vec<usize>) {
    let mut root: Vec<usize> = (0..letters.len()).collect();
    let mut owner: Vec<Option<usize>> = vec![None; film.len()];
    for (letter, part) in letters.iter().enumerate() {
        for shape in &part.shapes {
            let Some(inside) = shape.contours.first().and_then(|c| c.first()) else {
                continue;
            };
            // A rim point of a letter lies in the film that was grown from it, or on its rim.
            let found = film.iter().position(|f| {
                f.contains(*inside)
                    || f.bounds.inflate(0.01, 0.01).contains(*inside)
                        && f.distance_to_edge(*inside) < 0.01
            });
            let Some(found) = found else { continue };
            match owner.get(found).copied().flatten() {
                None => owner[found] = Some(letter),
                Some(first) => join(&mut root, first, letter),
            }
        }
    }
    let mut groups: Vec<usize> = Vec::new();
    let mut part_of = vec![0; letters.len()];
    for (letter, r) in root.iter().enumerate() {
        let number = groups.iter().position(|g| g == r).unwrap_or_else(|| {
            groups.push(*r);
            groups.len() - 1
        });
        part_of[letter] = number;
    }
    let mut labels = vec![String::new(); groups.len()];
    for (letter, part) in part_of.iter().enumerate() {
        labels[*part] += &letters[letter].label;
    }
    let mut shapes: Vec<Vec<Shape>> = vec![Vec::new(); groups.len()];
    for (shape, owner) in film.into_iter().zip(owner) {
        // Film that belongs to no letter (it cannot be, but would be lost) goes to the first part.
        let part = owner.map_or(0, |letter| part_of[letter]);
        if let Some(shapes) = shapes.get_mut(part) {
            shapes.push(shape);
        }
    }
    let parts = labels
        .into_iter()
        .zip(shapes)
        .map(|(label, shapes)| Part::new(label, shapes))
        .collect();
    (parts, part_of)
}

fn join(root: &mut [usize], a: usize, b: usize) {
    let (from, to) = (root[a].max(root[b]), root[a].min(root[b]));
    for r in root.iter_mut() {
        if *r == from {
            *r = to;
        }
    }
}

/// Joins letters whose film overlaps into one part, welding their outlines. Returns the parts from left to right and the part in
/// which each letter ended up.
pub fn weld_letters(letters: Vec<Part>) -> (Vec<Part>, Vec<usize>) {
    let mut root: Vec<usize> = (0..letters.len()).collect();
    for (i, a) in letters.iter().enumerate() {
        for (j, b) in letters.iter().enumerate().skip(i + 1) {
            if touch(a, b) {
                join(&mut root, i, j);
            }
        }
    }
    let mut groups: Vec<(usize, Vec<usize>)> = Vec::new();
    for (letter, r) in root.iter().enumerate() {
        match groups.iter_mut().find(|(g, _)| g == r) {
            Some((_, members)) => members.push(letter),
            None => groups.push((*r, vec![letter])),
        }
    }
    let mut part_of = vec![0; letters.len()];
    let mut parts = Vec::new();
    for (number, (_, members)) in groups.iter().enumerate() {
        for m in members {
            part_of[*m] = number;
        }
        let label = members.iter().map(|m| letters[*m].label.as_str()).collect();
        let shapes = match members.as_slice() {
            [one] => letters[*one].shapes.clone(),
            many => {
                let contours: Vec<_> = many
                    .iter()
                    .flat_map(|m| &letters[*m].shapes)
                    .flat_map(|s| s.contours.iter().cloned())
                    .collect();
                weld(&contours)
            }
        };
        parts.push(Part::new(label, shapes));
    }
    (parts, part_of)
}

fn touch(a: &Part, b: &Part) -> bool {
    a.bounds.overlaps(b.bounds)
        && a.shapes
            .iter()
            .any(|s| b.shapes.iter().any(|t| s.distance_to(t, 1e-3) < 1e-3))
}
