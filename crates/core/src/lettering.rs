//! One line of lettering: from text and a typeface to film outlines in mm.
//!
//! The piece's own frame: x to the right from the film's left end, y down from the **cap line** (the top of a capital H), so
//! that the baseline is at y = capital height.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock, RwLock};

use kurbo::{Affine, Point, Rect, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::outline::{Shape, bounds_of_shapes, convex_hull, weld};
use crate::typeface::{self, StraightEdge, Typeface};

/// Longest line of lettering, in characters.
pub const LONGEST_TEXT: usize = 120;
/// Smallest and largest capital height, mm. Below it nothing can be weeded; above it no vehicle is tall enough.
pub const CAPITAL_HEIGHT_MM: std::ops::RangeInclusive<f64> = 5.0..=3000.0;
/// Longest line of lettering, mm.
pub const LONGEST_MM: f64 = 30_480.0;

/// What drives the size of a line of lettering.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case")]
pub enum Size {
    /// Height of a capital H above the baseline.
    CapitalHeight {
        /// Height in mm.
        height_mm: f64,
    },
    /// Width of the film from its left end to its right end.
    OverallWidth {
        /// Width in mm.
        width_mm: f64,
    },
}

/// A line of lettering as it is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lettering {
    /// The words, one line.
    pub text: String,
    /// Name of the typeface.
    pub typeface: String,
    /// What drives the size.
    pub size: Size,
    /// Whether the typeface's kerning pairs are used.
    pub kerned: bool,
    /// Colour of the film as `#rrggbb`.
    pub colour: String,
}

/// Lettering that cannot be made. The text says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum LetteringError {
    /// Nothing to cut.
    #[error("There is nothing to cut. Type the words.")]
    NoText,
    /// Too many characters.
    #[error(
        "A line may have {LONGEST_TEXT} characters; this one has {0}. Split it into several pieces."
    )]
    TooLong(usize),
    /// Line breaks and other characters that cannot be seen.
    #[error("The words must be one line without tabs or line breaks.")]
    NotOneLine,
    /// No such typeface.
    #[error("Windrift has no typeface called \u{201c}{0}\u{201d}. Choose one from the list.")]
    NoTypeface(String),
    /// The typeface lacks characters.
    #[error("{name} has no {characters}. Choose another typeface or other words.")]
    Missing {
        /// Name of the face.
        name: &'static str,
        /// The characters, quoted.
        characters: String,
    },
    /// Letters of an unusable size.
    #[error(
        "Capitals must be between 5 mm (3/16 in) and 3000 mm (9' 10) high; these would be {0:.0} mm."
    )]
    Size(f64),
    /// The colour is not one.
    #[error("The colour must be written as # and six figures, such as #14524d.")]
    Colour,
}

/// A letter, or several letters that overlap and are cut as one.
#[derive(Debug, Clone)]
pub struct Part {
    /// The letters of this part as they stand in the text.
    pub label: String,
    /// Film outlines in the piece's frame.
    pub shapes: Vec<Shape>,
    /// The smallest upright rectangle round them.
    pub bounds: Rect,
    /// Convex hull of the film.
    pub hull: Vec<Point>,
}

impl Part {
    fn new(label: String, shapes: Vec<Shape>) -> Part {
        let rims = shapes
            .iter()
            .flat_map(|s| s.contours.first().into_iter().flatten().copied());
        Part {
            label,
            bounds: bounds_of_shapes(&shapes),
            hull: convex_hull(rims.collect()),
            shapes,
        }
    }

    fn transformed(&self, by: Affine) -> Part {
        let shapes: Vec<Shape> = self.shapes.iter().map(|s| s.transformed(by)).collect();
        Part {
            label: self.label.clone(),
            bounds: bounds_of_shapes(&shapes),
            hull: self.hull.iter().map(|p| by * *p).collect(),
            shapes,
        }
    }
}

/// A line of lettering, drawn: film in mm in the piece's own frame.
#[derive(Debug, Clone)]
pub struct DrawnLettering {
    /// Letters from left to right; welded letters are one part.
    pub parts: Vec<Part>,
    /// Straight edges of the drawing with the part that each belongs to.
    pub straight: Vec<(usize, StraightEdge)>,
    /// Height of a capital H, mm.
    pub capital_height_mm: f64,
    /// The smallest upright rectangle round the film. Its left edge is x = 0.
    pub bounds: Rect,
    /// Convex hull of all film.
    pub hull: Vec<Point>,
}

/// A line set in font units, the same whatever its size.
struct SetLine {
    parts: Vec<Part>,
    straight: Vec<(usize, StraightEdge)>,
    bounds: Rect,
    hull: Vec<Point>,
}

/// Draws a line of lettering at its size.
///
/// Errors: text that cannot be set, a face that lacks characters, or a size outside [`CAPITAL_HEIGHT_MM`].
pub fn draw(lettering: &Lettering) -> Result<DrawnLettering, LetteringError> {
    let face = check(lettering)?;
    let line = set_line(face, &lettering.text, lettering.kerned);
    if line.bounds.width() <= 0.0 {
        return Err(LetteringError::NoText);
    }
    let scale = match lettering.size {
        Size::CapitalHeight { height_mm } => height_mm / face.capital_height,
        Size::OverallWidth { width_mm } => width_mm / line.bounds.width(),
    };
    let capital_height_mm = face.capital_height * scale;
    if !capital_height_mm.is_finite()
        || !CAPITAL_HEIGHT_MM.contains(&capital_height_mm)
        || line.bounds.width() * scale > LONGEST_MM
    {
        return Err(LetteringError::Size(capital_height_mm));
    }
    let to_piece = Affine::translate(Vec2::new(0.0, capital_height_mm))
        * Affine::scale(scale)
        * Affine::translate(Vec2::new(-line.bounds.x0, 0.0));
    let parts: Vec<Part> = line
        .parts
        .iter()
        .map(|part| part.transformed(to_piece))
        .collect();
    let straight = line
        .straight
        .iter()
        .map(|(part, e)| {
            (
                *part,
                StraightEdge {
                    from: to_piece * e.from,
                    to: to_piece * e.to,
                },
            )
        })
        .collect();
    let bounds = parts
        .iter()
        .map(|p| p.bounds)
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    Ok(DrawnLettering {
        parts,
        straight,
        capital_height_mm,
        bounds,
        hull: line.hull.iter().map(|p| to_piece * *p).collect(),
    })
}

fn check(lettering: &Lettering) -> Result<&'static Typeface, LetteringError> {
    let text = &lettering.text;
    let length = text.chars().count();
    if text.trim().is_empty() {
        return Err(LetteringError::NoText);
    }
    if length > LONGEST_TEXT {
        return Err(LetteringError::TooLong(length));
    }
    if text.chars().any(char::is_control) {
        return Err(LetteringError::NotOneLine);
    }
    let hex = lettering.colour.strip_prefix('#').unwrap_or_default();
    if hex.len() != 6 || !hex.chars().all(|c| c.is_ascii_hexdigit()) {
        return Err(LetteringError::Colour);
    }
    let face = typeface::find(&lettering.typeface)
        .ok_or_else(|| LetteringError::NoTypeface(lettering.typeface.chars().take(40).collect()))?;
    let missing = face.missing(text);
    if !missing.is_empty() {
        let characters = missing
            .iter()
            .take(8)
            .map(|c| format!("\u{201c}{c}\u{201d}"))
            .collect::<Vec<_>>()
            .join(", ");
        return Err(LetteringError::Missing {
            name: face.info.name,
            characters,
        });
    }
    Ok(face)
}

type LineKey = (&'static str, String, bool);
/// Lines that were set lately, so that a piece being dragged is not set anew at each step.
static LINES: LazyLock<RwLock<HashMap<LineKey, Arc<SetLine>>>> = LazyLock::new(RwLock::default);
const LINES_KEPT: usize = 512;

fn set_line(face: &'static Typeface, text: &str, kerned: bool) -> Arc<SetLine> {
    let key = (face.info.id, text.to_owned(), kerned);
    if let Some(line) = LINES.read().ok().and_then(|lines| lines.get(&key).cloned()) {
        return line;
    }
    let line = Arc::new(set_line_anew(face, text, kerned));
    if let Ok(mut lines) = LINES.write() {
        if lines.len() >= LINES_KEPT {
            lines.clear();
        }
        lines.insert(key, Arc::clone(&line));
    }
    line
}

fn set_line_anew(face: &Typeface, text: &str, kerned: bool) -> SetLine {
    let (glyphs, _) = face.set(text, kerned);
    let mut starts: Vec<usize> = glyphs.iter().map(|g| g.at_byte).collect();
    starts.push(text.len());
    starts.sort_unstable();
    starts.dedup();
    let mut letters = Vec::new();
    let mut straight = Vec::new();
    for set in &glyphs {
        let drawing = face.drawing(set.glyph);
        if drawing.shapes.is_empty() {
            continue; // a space
        }
        let place = Affine::translate(Vec2::new(set.x, set.y));
        let end = starts
            .iter()
            .find(|s| **s > set.at_byte)
            .copied()
            .unwrap_or(text.len());
        let shapes: Vec<Shape> = drawing
            .shapes
            .iter()
            .map(|s| s.transformed(place))
            .collect();
        for e in &drawing.straight {
            straight.push((
                letters.len(),
                StraightEdge {
                    from: place * e.from,
                    to: place * e.to,
                },
            ));
        }
        letters.push(Part::new(
            text.get(set.at_byte..end)
                .unwrap_or_default()
                .trim()
                .to_owned(),
            shapes,
        ));
    }
    let (parts, part_of) = weld_letters(letters);
    for (part, _) in &mut straight {
        *part = part_of.get(*part).copied().unwrap_or_default();
    }
    let bounds = parts
        .iter()
        .map(|p| p.bounds)
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    let hull = convex_hull(parts.iter().flat_map(|p| p.hull.iter().copied()).collect());
    SetLine {
        parts,
        straight,
        bounds,
        hull,
    }
}

/// Joins letters whose film overlaps into one part, welding their outlines. Returns the parts from left to right and the
/// part in which each letter ended up.
fn weld_letters(letters: Vec<Part>) -> (Vec<Part>, Vec<usize>) {
    let mut root: Vec<usize> = (0..letters.len()).collect();
    for (i, a) in letters.iter().enumerate() {
        for (j, b) in letters.iter().enumerate().skip(i + 1) {
            if touch(a, b) {
                let (from, to) = (root[j].max(root[i]), root[j].min(root[i]));
                for r in &mut root {
                    if *r == from {
                        *r = to;
                    }
                }
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
    if a.bounds.overlaps(b.bounds) {
        a.shapes
            .iter()
            .any(|s| b.shapes.iter().any(|t| s.distance_to(t, 1e-3) < 1e-3))
    } else {
        false
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(text: &str, typeface: &str, size: Size) -> Result<DrawnLettering, LetteringError> {
        draw(&Lettering {
            text: text.into(),
            typeface: typeface.into(),
            size,
            kerned: true,
            colour: "#14524d".into(),
        })
    }

    #[test]
    fn size_is_what_was_asked_for() {
        let tall = line(
            "HAVEN",
            "archivo-black",
            Size::CapitalHeight { height_mm: 305.0 },
        );
        assert!(
            tall.is_ok_and(|l| (l.bounds.height() - 305.0).abs() < 0.1 && l.bounds.x0.abs() < 1e-9)
        );
        let wide = line(
            "Tern Haven",
            "pacifico",
            Size::OverallWidth { width_mm: 1800.0 },
        );
        assert!(wide.is_ok_and(|l| (l.bounds.width() - 1800.0).abs() < 1e-6));
    }

    #[test]
    fn script_letters_are_welded_and_block_letters_are_not() {
        let size = Size::CapitalHeight { height_mm: 200.0 };
        let block = line("TIDEWAY", "archivo-black", size).map(|l| l.parts.len());
        assert_eq!(block, Ok(7));
        let script = line("library", "pacifico", size)
            .map(|l| l.parts.iter().map(|p| p.label.clone()).collect::<Vec<_>>());
        assert!(script.is_ok_and(|parts| parts.len() < 7 && parts.concat() == "library"));
    }

    #[test]
    fn what_cannot_be_cut_is_refused_in_words() {
        let size = Size::CapitalHeight { height_mm: 200.0 };
        assert_eq!(
            line("  ", "oswald", size).err(),
            Some(LetteringError::NoText)
        );
        assert_eq!(
            line("A\nB", "oswald", size).err(),
            Some(LetteringError::NotOneLine)
        );
        assert_eq!(
            line(&"A".repeat(121), "oswald", size).err(),
            Some(LetteringError::TooLong(121))
        );
        let missing = line("Caf\u{4e2d}", "oswald", size)
            .err()
            .map(|e| e.to_string());
        assert_eq!(
            missing.as_deref(),
            Some(
                "Oswald Bold has no \u{201c}\u{4e2d}\u{201d}. Choose another typeface or other words."
            )
        );
        for height_mm in [0.0, -4.0, f64::NAN, 1e9] {
            assert!(matches!(
                line("A", "oswald", Size::CapitalHeight { height_mm }).err(),
                Some(LetteringError::Size(_))
            ));
        }
    }
}
