//! Print art as it is given: JPEG, PNG, PDF or SVG, taken by content whatever its name says; what is shown of it on screens and paper is a picture
//! made of it, what is printed is the file itself with its bytes, its colour space and its profile.

use std::sync::Arc;

use hayro::hayro_interpret::InterpreterSettings;
use hayro::hayro_syntax::Pdf;
use hayro::vello_cpu::color::palette::css::WHITE;
use hayro::{RenderCache, RenderSettings, render};
use image::{DynamicImage, RgbImage};
use resvg::tiny_skia::{Color, Pixmap, Transform};
use usvg::{ImageHrefResolver, Options, Tree};

use crate::photo::{Kept, PhotoError, kept_of, needs_turning, take};

/// Longest edge of what is shown of drawn art, pixels: what is printed is the drawing itself.
const DRAWN_EDGE: u32 = 3000;

/// What a file of print art is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ArtKind {
    /// JPEG.
    Jpeg,
    /// PNG.
    Png,
    /// One page of PDF.
    Pdf,
    /// SVG.
    Svg,
}

impl ArtKind {
    /// All of them.
    pub const ALL: [ArtKind; 4] = [ArtKind::Jpeg, ArtKind::Png, ArtKind::Pdf, ArtKind::Svg];

    /// Its word, as it is kept.
    pub fn word(self) -> &'static str {
        match self {
            ArtKind::Jpeg => "jpeg",
            ArtKind::Png => "png",
            ArtKind::Pdf => "pdf",
            ArtKind::Svg => "svg",
        }
    }

    /// The kind of a word.
    pub fn of_word(word: &str) -> Option<ArtKind> {
        ArtKind::ALL.into_iter().find(|k| k.word() == word)
    }

    /// Whether it is drawn rather than made of pixels: sharp at any size.
    pub fn drawn(self) -> bool {
        matches!(self, ArtKind::Pdf | ArtKind::Svg)
    }

    /// What a file is by its content; nothing where it is none of these.
    ///
    /// ```
    /// use windrift_formats::print_art::ArtKind;
    /// assert_eq!(ArtKind::of(b"%PDF-1.7 ..."), Some(ArtKind::Pdf));
    /// assert_eq!(ArtKind::of(b"hello"), None);
    /// ```
    pub fn of(bytes: &[u8]) -> Option<ArtKind> {
        let head = bytes.get(..1024.min(bytes.len()))?;
        let has = |needle: &[u8]| head.windows(needle.len()).any(|w| w == needle);
        if bytes.starts_with(b"\xff\xd8\xff") {
            Some(ArtKind::Jpeg)
        } else if bytes.starts_with(b"\x89PNG") {
            Some(ArtKind::Png)
        } else if has(b"%PDF-") {
            Some(ArtKind::Pdf)
        } else if has(b"<svg") {
            Some(ArtKind::Svg)
        } else {
            None
        }
    }
}

/// Print art: a file and what it is.
#[derive(Debug, Clone, Copy)]
pub struct PrintArt<'a> {
    /// What it is.
    pub kind: ArtKind,
    /// The file.
    pub bytes: &'a [u8],
}

/// Print art that was taken.
#[derive(Debug, Clone)]
pub struct TakenArt {
    /// What is shown of it.
    pub shown: Kept,
    /// Pixels of the file itself across and down; of what is drawn, those of what is shown.
    pub size: (u32, u32),
    /// What the file is, where it can be printed as it is. A picture that its camera turned is printed as it is shown.
    pub kind: Option<ArtKind>,
}

/// Takes print art. `edge` is the longest edge of what is shown of it, pixels.
///
/// Errors: no picture by its content; a PDF of several pages or one that cannot be read; an SVG that cannot be read; too many pixels.
pub fn take_art(bytes: &[u8], edge: u32) -> Result<TakenArt, PhotoError> {
    let kind = ArtKind::of(bytes);
    let edge = match kind {
        Some(kind) if kind.drawn() => edge.min(DRAWN_EDGE),
        _ => edge,
    };
    match kind {
        Some(ArtKind::Pdf) => taken(&pdf_picture(bytes, edge)?, edge, kind),
        Some(ArtKind::Svg) => taken(&svg_picture(bytes, edge)?, edge, kind),
        _ => {
            let shown = take(bytes, edge)?;
            let turned = needs_turning(bytes)?;
            let size = image::ImageReader::new(std::io::Cursor::new(bytes))
                .with_guessed_format()
                .ok()
                .and_then(|r| r.into_dimensions().ok())
                .filter(|_| !turned)
                .unwrap_or((shown.width, shown.height));
            Ok(TakenArt {
                size,
                shown,
                kind: kind.filter(|_| !turned),
            })
        }
    }
}

fn taken(picture: &RgbImage, edge: u32, kind: Option<ArtKind>) -> Result<TakenArt, PhotoError> {
    let shown = kept_of(DynamicImage::ImageRgb8(picture.clone()), edge)?;
    Ok(TakenArt {
        size: (shown.width, shown.height),
        shown,
        kind,
    })
}

/// How large a page is shown: its longest edge comes to `edge` pixels.
fn scale(width: f32, height: f32, edge: u32) -> Option<f32> {
    let longest = width.max(height);
    let shortest = width.min(height);
    // A page that is nearly a line has no picture.
    (longest.is_finite() && shortest > 0.0 && longest / shortest < 400.0)
        .then(|| edge as f32 / longest)
}

/// The page of a PDF: its only one.
///
/// Errors: no PDF; several pages.
fn pdf_of(bytes: &[u8]) -> Result<Arc<Pdf>, PhotoError> {
    let pdf = Pdf::new(bytes.to_vec()).map_err(|_| PhotoError::NoPdf)?;
    match pdf.pages().len() {
        1 => Ok(Arc::new(pdf)),
        n => Err(PhotoError::Pages(n)),
    }
}

fn pdf_picture(bytes: &[u8], edge: u32) -> Result<RgbImage, PhotoError> {
    let pdf = pdf_of(bytes)?;
    let page = pdf.pages().first().ok_or(PhotoError::NoPdf)?;
    let (width, height) = page.render_dimensions();
    let scale = scale(width, height, edge).ok_or(PhotoError::NoPdf)?;
    let settings = RenderSettings {
        x_scale: scale,
        y_scale: scale,
        bg_color: WHITE,
        ..RenderSettings::default()
    };
    let made = render(
        page,
        &RenderCache::new(),
        &InterpreterSettings::default(),
        &settings,
    );
    let (width, height) = (u32::from(made.width()), u32::from(made.height()));
    let pixels = made.data_as_u8_slice();
    over_white(pixels, width, height).ok_or(PhotoError::NoPdf)
}

/// An SVG, without anything that lies outside its own file.
///
/// Errors: no SVG.
pub(crate) fn svg_of(bytes: &[u8]) -> Result<Tree, PhotoError> {
    let within = ImageHrefResolver {
        resolve_data: ImageHrefResolver::default_data_resolver(),
        resolve_string: Box::new(|_, _| None),
    };
    let options = Options {
        image_href_resolver: within,
        ..Options::default()
    };
    Tree::from_data(bytes, &options).map_err(|_| PhotoError::NoSvg)
}

fn svg_picture(bytes: &[u8], edge: u32) -> Result<RgbImage, PhotoError> {
    let tree = svg_of(bytes)?;
    let size = tree.size();
    let scale = scale(size.width(), size.height(), edge).ok_or(PhotoError::NoSvg)?;
    let pixels = |mm: f32| ((mm * scale).round() as u32).max(1);
    let (width, height) = (pixels(size.width()), pixels(size.height()));
    let mut map = Pixmap::new(width, height).ok_or(PhotoError::NoSvg)?;
    map.fill(Color::WHITE);
    resvg::render(
        &tree,
        Transform::from_scale(scale, scale),
        &mut map.as_mut(),
    );
    over_white(map.data(), width, height).ok_or(PhotoError::NoSvg)
}

/// Pixels of red, green, blue and how much they cover, each multiplied by that, over white.
fn over_white(rgba: &[u8], width: u32, height: u32) -> Option<RgbImage> {
    let rgb: Vec<u8> = rgba
        .chunks_exact(4)
        .flat_map(|p| {
            let white = 255 - p[3];
            [0, 1, 2].map(|n| p[n].saturating_add(white))
        })
        .collect();
    RgbImage::from_raw(width, height, rgb)
}

/// The document of a page to be printed.
///
/// Errors: it cannot be read.
pub(crate) fn page_of(bytes: &[u8]) -> Result<krilla::pdf::PdfDocument, PhotoError> {
    Ok(krilla::pdf::PdfDocument::new(pdf_of(bytes)?))
}
