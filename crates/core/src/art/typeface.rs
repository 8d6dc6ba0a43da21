//! The typefaces that ship with Windrift and what is read from them: outlines, advances, kerning and capital height.
//!
//! Shaping is done by a general OpenType shaper, outlines by a general font reader. Lengths here are font units, x to the
//! right and y *down* from the baseline.

use std::borrow::Cow;
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, OnceLock, PoisonError};

use kurbo::{BezPath, ParamCurve, PathEl, PathSeg, Point};
use rustybuzz::ttf_parser::{GlyphId, OutlineBuilder};
use rustybuzz::{Direction, Face, Feature, UnicodeBuffer, ttf_parser};
use serde::Serialize;
use thiserror::Error;

use crate::art::drawn::{Drawn, StraightEdge};
use crate::ground::budget::spend;
use crate::ground::outline::{Contour, Shape, weld};

/// Flattened curves stay within this share of an em of the true curve: 0.02 mm on letters with 12 in capitals.
const FLATTENING: f64 = 1.0 / 20_000.0;

/// Most points that one glyph may have.
const MOST_GLYPH_POINTS: usize = 20_000;

/// A typeface as it is offered for choice.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TypefaceInfo {
    /// Stable name used in stored lettering.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub id: Cow<'static, str>,
    /// Name of the face.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub name: Cow<'static, str>,
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
    file: Cow<'static, [u8]>,
    drawings: Vec<OnceLock<Arc<GlyphDrawing>>>,
}

impl std::fmt::Debug for Typeface {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Typeface({})", self.info.id)
    }
}

macro_rules! shipped {
    ($($id:literal, $name:literal, $character:literal, $block:literal;)*) => {
        [$((
            TypefaceInfo { id: Cow::Borrowed($id), name: Cow::Borrowed($name), character: $character, block: Some($block) },
            include_bytes!(concat!("../../fonts/", $id, ".ttf")) as &[u8],
        )),*]
    };
}

static SHIPPED: LazyLock<Vec<Arc<Typeface>>> = LazyLock::new(|| {
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
    .filter_map(|(info, bytes)| Typeface::read(info, Cow::Borrowed(bytes)).ok())
    .map(Arc::new)
    .collect()
});

/// Every typeface that ships with Windrift.
pub fn shipped() -> &'static [Arc<Typeface>] {
    &SHIPPED
}

/// The typefaces that lettering may be cut in: those that ship with Windrift, and the shop's own. Handed in by whoever asks; cheap
/// to clone.
///
/// ```
/// use windrift_core::art::typeface::Typefaces;
/// let faces = Typefaces::default();
/// assert!(faces.find("oswald").is_some());
/// assert!(faces.find("somebody-elses").is_none());
/// ```
#[derive(Debug, Clone, Default)]
pub struct Typefaces {
    own: Arc<[Arc<Typeface>]>,
    drawn: Arc<Mutex<Kept>>,
}

/// Lettering that was drawn lately, so that a piece being dragged is not drawn anew at each step.
#[derive(Debug, Default)]
struct Kept(HashMap<String, Arc<Drawn>>);

/// How many pieces of lettering are kept.
const MOST_KEPT: usize = 256;

impl Typefaces {
    /// The shipped typefaces and these.
    pub fn with_own(own: Vec<Arc<Typeface>>) -> Typefaces {
        Typefaces {
            own: own.into(),
            drawn: Arc::default(),
        }
    }

    /// The typeface of that name, or `None` where there is no such face.
    pub fn find(&self, id: &str) -> Option<&Arc<Typeface>> {
        SHIPPED
            .iter()
            .chain(self.own.iter())
            .find(|face| face.info.id == id)
    }

    /// What was drawn under this key, or what is drawn now.
    pub(crate) fn drawn<E>(
        &self,
        key: String,
        draw: impl FnOnce() -> Result<Drawn, E>,
    ) -> Result<Arc<Drawn>, E> {
        // Nothing that can fail happens while this is held: a lock left behind by a panic elsewhere is as good as any.
        let kept = || self.drawn.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = kept().0.get(&key) {
            return Ok(Arc::clone(known));
        }
        let drawn = Arc::new(draw()?);
        let mut kept = kept();
        if kept.0.len() >= MOST_KEPT {
            kept.0.clear();
        }
        kept.0.insert(key, Arc::clone(&drawn));
        Ok(drawn)
    }
}

/// Most typefaces of a shop's own.
pub const MOST_OWN: usize = 40;

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
    /// A letter that no cutter follows.
    #[error(
        "A letter of this typeface has more than {MOST_GLYPH_POINTS} points, more than can be cut. Choose a plainer one."
    )]
    TooFine,
}

impl Typeface {
    /// Opens a typeface of the shop's own under a stable name.
    ///
    /// Errors: a file that is not a typeface, may not be embedded (OpenType OS/2 `fsType`), or has no capitals.
    pub fn open(id: &str, name: &str, file: Vec<u8>) -> Result<Typeface, FontError> {
        {
            let face = ttf_parser::Face::parse(&file, 0).map_err(|_| FontError::NotAFont)?;
            let may = face.permissions() != Some(ttf_parser::Permissions::Restricted);
            // A file without the table says nothing, and nothing forbids it.
            let outlines = face.tables().os2.is_none() || face.is_outline_embedding_allowed();
            if !may || !outlines {
                return Err(FontError::Restricted);
            }
        }
        let info = TypefaceInfo {
            id: Cow::Owned(id.to_owned()),
            name: Cow::Owned(name.to_owned()),
            character: "the shop's own",
            block: None,
        };
        Typeface::read(info, Cow::Owned(file))
    }

    fn read(info: TypefaceInfo, file: Cow<'static, [u8]>) -> Result<Typeface, FontError> {
        let (units, capital, x, glyphs) = {
            let face = Face::from_slice(&file, 0).ok_or(FontError::NotAFont)?;
            let height = |c| {
                let glyph = face.glyph_index(c)?;
                Some(f64::from(face.glyph_bounding_box(glyph)?.y_max))
            };
            let capital = height('H').filter(|h| *h > 0.0);
            let capital = capital.ok_or(FontError::NoCapitals)?;
            let x = height('x').filter(|h| *h > 0.0).unwrap_or(capital / 2.0);
            let units = f64::from(face.units_per_em());
            (units, capital, x, face.number_of_glyphs())
        };
        if units <= 0.0 {
            return Err(FontError::NotAFont);
        }
        Ok(Typeface {
            info,
            units_per_em: units,
            capital_height: capital,
            x_height: x,
            file,
            drawings: std::iter::repeat_with(OnceLock::new)
                .take(usize::from(glyphs))
                .collect(),
        })
    }

    /// Sets and draws everything that lettering can ask of this typeface: where a file would break off later, it does so here. Slow;
    /// meant for a process of its own, before the file is taken.
    ///
    /// Errors: a glyph with more points than can be cut.
    pub fn try_all(&self) -> Result<(), FontError> {
        let all: Vec<char> = (' '..='\u{24f}').filter(|c| !c.is_control()).collect();
        for line in all.chunks(40) {
            let text: String = line.iter().collect();
            for (glyph, _) in [true, false].map(|kerned| self.set(&text, kerned)) {
                for set in glyph {
                    let drawing = self.drawing(set.glyph);
                    let points: usize = drawing
                        .shapes
                        .iter()
                        .flat_map(|s| &s.contours)
                        .map(Vec::len)
                        .sum();
                    if points > MOST_GLYPH_POINTS {
                        return Err(FontError::TooFine);
                    }
                }
            }
        }
        Ok(())
    }

    /// The file opened: cheap, its tables are read as they are asked for.
    fn face(&self) -> Option<Face<'_>> {
        Face::from_slice(&self.file, 0)
    }

    /// The plain glyph of a character, before any shaping; `None` where the face has none.
    pub fn glyph_of(&self, c: char) -> Option<u16> {
        self.face()?.glyph_index(c).map(|g| g.0)
    }

    /// Characters of `text` that this face cannot draw, each once, in order.
    pub fn missing(&self, text: &str) -> Vec<char> {
        let face = self.face();
        let has = |c| face.as_ref().and_then(|f| f.glyph_index(c)).is_some();
        let mut missing = Vec::new();
        for c in text.chars() {
            if !has(c) && !missing.contains(&c) {
                missing.push(c);
            }
        }
        missing
    }

    /// Sets a line of text from left to right with the face's own advances and, where `kerned`, its kerning pairs.
    ///
    /// Returns the glyphs and the advance of the whole line, in font units.
    pub fn set(&self, text: &str, kerned: bool) -> (Vec<SetGlyph>, f64) {
        let Some(face) = self.face() else {
            return (Vec::new(), 0.0);
        };
        spend(1000 + 200 * text.len() as u64);
        let mut buffer = UnicodeBuffer::new();
        buffer.push_str(text);
        buffer.set_direction(Direction::LeftToRight);
        buffer.guess_segment_properties();
        let kern = Feature::new(ttf_parser::Tag::from_bytes(b"kern"), u32::from(kerned), ..);
        let shaped = rustybuzz::shape(&face, &[kern], buffer);
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
        match self.drawings.get(usize::from(glyph)) {
            Some(kept) => Arc::clone(kept.get_or_init(|| Arc::new(self.draw(glyph)))),
            None => Arc::default(),
        }
    }

    fn draw(&self, glyph: u16) -> GlyphDrawing {
        let mut pen = Pen(BezPath::new());
        let outlined = self
            .face()
            .and_then(|face| face.outline_glyph(GlyphId(glyph), &mut pen));
        if outlined.is_none() {
            return GlyphDrawing::default();
        }
        let tolerance = self.units_per_em * FLATTENING;
        GlyphDrawing {
            shapes: weld(&flatten(&pen.0, tolerance)),
            straight: straight_edges(&pen.0),
        }
    }
}

/// Takes a glyph's drawing commands, turning y down. A file may draw on after a contour has closed, or before one is begun: that goes
/// on from where the last one began.
struct Pen(BezPath);

impl Pen {
    fn begun(&mut self) {
        let elements = self.0.elements();
        match elements.last() {
            None => self.0.move_to(Point::ZERO),
            Some(PathEl::ClosePath) => {
                let start = elements.iter().rev().find_map(|el| match el {
                    PathEl::MoveTo(p) => Some(*p),
                    _ => None,
                });
                self.0.move_to(start.unwrap_or(Point::ZERO));
            }
            Some(_) => {}
        }
    }
}

impl OutlineBuilder for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.0.move_to(down(x, y));
    }
    fn line_to(&mut self, x: f32, y: f32) {
        self.begun();
        self.0.line_to(down(x, y));
    }
    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        self.begun();
        self.0.quad_to(down(x1, y1), down(x, y));
    }
    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        self.begun();
        self.0.curve_to(down(x1, y1), down(x2, y2), down(x, y));
    }
    fn close(&mut self) {
        self.begun();
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
