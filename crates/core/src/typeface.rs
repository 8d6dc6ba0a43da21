//! The typefaces that ship with Windrift and what is read from them: outlines, advances, kerning and capital height.
//!
//! Shaping is done by a general OpenType shaper, outlines by a general font reader. Lengths here are font units, x to the
//! right and y *down* from the baseline.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock, RwLock};

use kurbo::{BezPath, ParamCurve, PathEl, PathSeg, Point};
use rustybuzz::ttf_parser::{self, GlyphId, OutlineBuilder};
use rustybuzz::{Direction, Face, Feature, UnicodeBuffer};
use serde::Serialize;
use thiserror::Error;

use crate::outline::{Contour, Shape, weld};

/// Flattened curves stay within this share of an em of the true curve: 0.02 mm on letters with 12 in capitals.
const FLATTENING: f64 = 1.0 / 20_000.0;

/// A typeface as it is offered for choice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TypefaceInfo {
    /// Stable name used in stored lettering.
    pub id: &'static str,
    /// Name of the face.
    pub name: &'static str,
    /// What it is like, in a word or two.
    pub character: &'static str,
    /// Whether it is a plain block face: upright, without serifs or script. `None` where nobody has said.
    pub block: Option<bool>,
}

/// One glyph set in a line, in font units.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SetGlyph {
    /// Glyph number in the face.
    pub glyph: u16,
    /// Byte in the text at which the letters of this glyph begin.
    pub at_byte: usize,
    /// Where the glyph's own origin stands on the baseline, kerning included.
    pub x: f64,
    /// Offset from the baseline, down positive.
    pub y: f64,
}

/// A straight edge of a glyph's drawing as the designer drew it, never a flattened curve.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StraightEdge {
    /// One end.
    pub from: Point,
    /// The other end.
    pub to: Point,
}

/// What a glyph looks like: its welded outlines and its straight edges, in font units.
#[derive(Debug, Clone, Default)]
pub struct GlyphDrawing {
    /// Film outlines, overlapping contours welded.
    pub shapes: Vec<Shape>,
    /// Straight edges as drawn, collinear neighbours joined.
    pub straight: Vec<StraightEdge>,
}

/// A typeface that is open for use.
pub struct Typeface {
    /// How it is offered.
    pub info: TypefaceInfo,
    /// Font units in one em.
    pub units_per_em: f64,
    /// Height of a capital H above the baseline, in font units: what "capital height" means throughout.
    pub capital_height: f64,
    /// Height of a small x above the baseline, in font units; half the capital height where the face has no x.
    pub x_height: f64,
    face: Face<'static>,
    drawings: RwLock<HashMap<u16, Arc<GlyphDrawing>>>,
}

macro_rules! shipped {
    ($($id:literal, $name:literal, $character:literal, $block:literal;)*) => {
        [$((
            TypefaceInfo { id: $id, name: $name, character: $character, block: Some($block) },
            include_bytes!(concat!("../fonts/", $id, ".ttf")) as &[u8],
        )),*]
    };
}

static TYPEFACES: LazyLock<Vec<Typeface>> = LazyLock::new(|| {
    shipped! {
        "barlow-condensed", "Barlow Condensed SemiBold", "condensed", true;
        "oswald", "Oswald Bold", "condensed, bold", true;
        "archivo-black", "Archivo Black", "heavy", true;
        "alfa-slab-one", "Alfa Slab One", "heavy, slab", false;
        "bitter", "Bitter Bold", "serif", false;
        "saira-stencil-one", "Saira Stencil One", "stencil", false;
        "kaushan-script", "Kaushan Script", "brush script", false;
        "pacifico", "Pacifico", "script", false;
    }
    .into_iter()
    .filter_map(|(info, bytes)| Typeface::open(info, bytes))
    .collect()
});

/// Every typeface that ships with Windrift.
pub fn all() -> &'static [Typeface] {
    &TYPEFACES
}

/// The typeface of that name, or `None` when Windrift has no such face.
pub fn find(id: &str) -> Option<&'static Typeface> {
    TYPEFACES
        .iter()
        .find(|face| face.info.id == id)
        .or_else(|| {
            let own = OWN.read().ok()?;
            own.iter()
                .find(|(face, _)| face.info.id == id)
                .map(|(face, _)| *face)
        })
}

/// Most typefaces of a shop's own: each stays in memory until the server ends.
pub const MOST_OWN: usize = 40;

/// The shop's own typefaces, each with whether it is still offered. A face is never taken out: lettering may be cut in it.
static OWN: RwLock<Vec<(&'static Typeface, bool)>> = RwLock::new(Vec::new());

/// The shop's own typefaces that are offered for choice.
pub fn own() -> Vec<TypefaceInfo> {
    OWN.read()
        .map(|own| {
            own.iter()
                .filter(|(_, offered)| *offered)
                .map(|(f, _)| f.info)
                .collect()
        })
        .unwrap_or_default()
}

/// A typeface file that cannot be used. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum FontError {
    /// Not a typeface file.
    #[error(
        "This is not a TrueType or OpenType file, or it is damaged. Choose a .ttf or .otf file."
    )]
    NotAFont,
    /// Its maker forbids it.
    #[error(
        "This typeface's maker does not allow its outlines to be embedded (its licence bits say restricted). Ask the maker for a licence that does, or choose another."
    )]
    Restricted,
    /// It cannot be sized.
    #[error(
        "This typeface has no capital H, so that nothing tells how high its capitals are. Choose another."
    )]
    NoCapitals,
    /// Too many.
    #[error("The shop has {MOST_OWN} typefaces of its own already; that is the most.")]
    TooMany,
}

/// Opens a typeface of the shop's own under a stable name. The same name again answers what is there.
///
/// Errors: a file that is not a typeface, may not be embedded (OpenType OS/2 `fsType`), or has no capitals.
pub fn add(id: &str, name: &str, file: Vec<u8>) -> Result<TypefaceInfo, FontError> {
    if let Some(known) = find(id) {
        return Ok(known.info);
    }
    {
        let face = ttf_parser::Face::parse(&file, 0).map_err(|_| FontError::NotAFont)?;
        let may = face.permissions() != Some(ttf_parser::Permissions::Restricted);
        // A file without the table says nothing, and nothing forbids it.
        let outlines = face.tables().os2.is_none() || face.is_outline_embedding_allowed();
        if !may || !outlines {
            return Err(FontError::Restricted);
        }
        let capital = face
            .glyph_index('H')
            .and_then(|h| face.glyph_bounding_box(h));
        if capital.is_none_or(|b| b.y_max <= 0) || face.units_per_em() == 0 {
            return Err(FontError::NoCapitals);
        }
    }
    let mut own = OWN.write().map_err(|_| FontError::TooMany)?;
    if own.len() >= MOST_OWN {
        return Err(FontError::TooMany);
    }
    // Kept for good: outlines are asked for as long as the server runs.
    let leaked = |text: &str| -> &'static str { Box::leak(text.to_owned().into_boxed_str()) };
    let info = TypefaceInfo {
        id: leaked(id),
        name: leaked(name),
        character: "the shop's own",
        block: None,
    };
    let face =
        Typeface::open(info, Box::leak(file.into_boxed_slice())).ok_or(FontError::NotAFont)?;
    own.push((Box::leak(Box::new(face)), true));
    Ok(info)
}

/// Whether a typeface of the shop's own is open already.
pub fn is_open(id: &str) -> bool {
    find(id).is_some()
}

/// Takes a typeface of the shop's own off the list.
pub fn retire(id: &str) {
    if let Ok(mut own) = OWN.write() {
        for (face, offered) in own.iter_mut() {
            if face.info.id == id {
                *offered = false;
            }
        }
    }
}

impl Typeface {
    fn open(info: TypefaceInfo, bytes: &'static [u8]) -> Option<Typeface> {
        let face = Face::from_slice(bytes, 0)?;
        let capital_h = face.glyph_index('H')?;
        let bounds = face.glyph_bounding_box(capital_h)?;
        Some(Typeface {
            info,
            units_per_em: f64::from(face.units_per_em()),
            capital_height: f64::from(bounds.y_max),
            x_height: face
                .glyph_index('x')
                .and_then(|x| face.glyph_bounding_box(x))
                .map_or(f64::from(bounds.y_max) / 2.0, |b| f64::from(b.y_max)),
            face,
            drawings: RwLock::default(),
        })
    }

    /// The plain glyph of a character, before any shaping; `None` where the face has none.
    pub fn glyph_of(&self, c: char) -> Option<u16> {
        self.face.glyph_index(c).map(|g| g.0)
    }

    /// Characters of `text` that this face cannot draw, each once, in order.
    pub fn missing(&self, text: &str) -> Vec<char> {
        let mut missing = Vec::new();
        for c in text.chars() {
            if self.face.glyph_index(c).is_none() && !missing.contains(&c) {
                missing.push(c);
            }
        }
        missing
    }

    /// Sets a line of text from left to right with the face's own advances and, where `kerned`, its kerning pairs.
    ///
    /// Returns the glyphs and the advance of the whole line, in font units.
    pub fn set(&self, text: &str, kerned: bool) -> (Vec<SetGlyph>, f64) {
        let mut buffer = UnicodeBuffer::new();
        buffer.push_str(text);
        buffer.set_direction(Direction::LeftToRight);
        buffer.guess_segment_properties();
        let kern = Feature::new(ttf_parser::Tag::from_bytes(b"kern"), u32::from(kerned), ..);
        let shaped = rustybuzz::shape(&self.face, &[kern], buffer);
        let mut pen = 0.0;
        let glyphs = shaped
            .glyph_infos()
            .iter()
            .zip(shaped.glyph_positions())
            .map(|(info, position)| {
                let set = SetGlyph {
                    glyph: info.glyph_id as u16,
                    at_byte: info.cluster as usize,
                    x: pen + f64::from(position.x_offset),
                    y: -f64::from(position.y_offset),
                };
                pen += f64::from(position.x_advance);
                set
            })
            .collect();
        (glyphs, pen)
    }

    /// The drawing of one glyph. Kept once made: a glyph is the same wherever it stands.
    pub fn drawing(&self, glyph: u16) -> Arc<GlyphDrawing> {
        if let Some(known) = self
            .drawings
            .read()
            .ok()
            .and_then(|d| d.get(&glyph).cloned())
        {
            return known;
        }
        let drawing = Arc::new(self.draw(glyph));
        if let Ok(mut drawings) = self.drawings.write() {
            drawings.insert(glyph, Arc::clone(&drawing));
        }
        drawing
    }

    fn draw(&self, glyph: u16) -> GlyphDrawing {
        let mut pen = Pen(BezPath::new());
        if self.face.outline_glyph(GlyphId(glyph), &mut pen).is_none() {
            return GlyphDrawing::default();
        }
        let tolerance = self.units_per_em * FLATTENING;
        GlyphDrawing {
            shapes: weld(&flatten(&pen.0, tolerance)),
            straight: straight_edges(&pen.0),
        }
    }
}

/// Takes a glyph's drawing commands, turning y down.
struct Pen(BezPath);

impl OutlineBuilder for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.0.move_to(down(x, y));
    }
    fn line_to(&mut self, x: f32, y: f32) {
        self.0.line_to(down(x, y));
    }
    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        self.0.quad_to(down(x1, y1), down(x, y));
    }
    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        self.0.curve_to(down(x1, y1), down(x2, y2), down(x, y));
    }
    fn close(&mut self) {
        self.0.close_path();
    }
}

fn down(x: f32, y: f32) -> Point {
    Point::new(f64::from(x), -f64::from(y))
}

fn flatten(path: &BezPath, tolerance: f64) -> Vec<Contour> {
    let mut contours: Vec<Contour> = Vec::new();
    kurbo::flatten(path, tolerance, |el| match el {
        PathEl::MoveTo(p) => contours.push(vec![p]),
        PathEl::LineTo(p) => {
            if let Some(contour) = contours.last_mut() {
                contour.push(p);
            }
        }
        _ => {}
    });
    for contour in &mut contours {
        if contour.len() > 1 && contour.first() == contour.last() {
            contour.pop();
        }
    }
    contours.retain(|c| c.len() > 2);
    contours
}

/// Straight edges as drawn; neighbours that go on in the same direction are joined into one.
fn straight_edges(path: &BezPath) -> Vec<StraightEdge> {
    let mut edges: Vec<StraightEdge> = Vec::new();
    for segment in path.segments() {
        let PathSeg::Line(line) = segment else {
            continue;
        };
        let (from, to) = (line.start(), line.end());
        if from == to {
            continue;
        }
        if let Some(before) = edges.last_mut().filter(|before| before.to == from) {
            let (a, b) = (before.to - before.from, to - from);
            if a.dot(b) > 0.0 && a.cross(b).abs() <= 0.002 * a.hypot() * b.hypot() {
                before.to = to;
                continue;
            }
        }
        edges.push(StraightEdge { from, to });
    }
    edges
}
