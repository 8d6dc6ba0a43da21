//! A printed page: text, lines and shapes in points (1/72 in), origin at the upper left.

use std::collections::BTreeMap;

use krilla::Document;
use krilla::color::{luma, rgb};
use krilla::geom::{Path, PathBuilder, Point, Size, Transform};
use krilla::image::Image;
use krilla::num::NormalizedF32;
use krilla::page::PageSettings;
use krilla::paint::{Fill, FillRule, LineCap, LineJoin, Stroke, StrokeDash};
use krilla::pdf::PdfDocument;
use krilla::surface::Surface;
use krilla::text::{Font, TextDirection};
use krilla_svg::{SurfaceExt, SvgSettings};
use rustybuzz::ttf_parser::Face as Metrics;
use usvg::Tree;
use uuid::Uuid;
use windrift_core::ground::outline::Shape;

use crate::paper::PacketError;
use crate::photo::PhotoError;
use crate::print_art::{ArtKind, PrintArt, page_of, svg_of};

/// Room round a page, points.
pub(crate) const MARGIN: f32 = 40.0;

/// What stands at the head of every page.
pub(crate) struct Heading<'a> {
    pub title: &'a str,
    pub shop: &'a str,
    pub customer: &'a str,
    pub issued: &'a str,
}

pub(crate) fn header(
    sheet: &mut Sheet<'_, '_>,
    heading: &Heading<'_>,
    what: &str,
    size: (f32, f32),
) {
    sheet.text(MARGIN, 46.0, 18.0, Face::Bold, heading.title);
    sheet.text(MARGIN, 64.0, 12.0, Face::Words, what);
    sheet.text(
        MARGIN,
        78.0,
        9.0,
        Face::Words,
        &format!(
            "{} for {}. {}",
            heading.shop, heading.customer, heading.issued
        ),
    );
    sheet.line([MARGIN, 84.0], [size.0 - MARGIN, 84.0], Ink::line(0, 0.8));
}

/// What stands at the foot of every page: up to three lines of it.
pub(crate) fn footer(sheet: &mut Sheet<'_, '_>, text: &str, size: (f32, f32)) {
    let lines = sheet
        .fonts
        .lines(Face::Words, 9.0, size.0 - 2.0 * MARGIN, text);
    let rise = 10.0 * (lines.len().clamp(1, 3) - 1) as f32;
    let top = size.1 - 46.0 - rise / 2.0;
    sheet.line([MARGIN, top], [size.0 - MARGIN, top], Ink::line(0, 0.5));
    for (n, line) in lines.iter().take(3).enumerate() {
        sheet.text(MARGIN, top + 13.0 + 10.0 * n as f32, 9.0, Face::Words, line);
    }
}

/// Advance of one letter of the readings' typeface, in ems: it is monospaced.
const MONO_ADVANCE: f32 = 0.63;

/// The typefaces of a packet, and its photos.
pub(crate) struct Fonts {
    words: Font,
    bold: Font,
    mono: Font,
    /// The same three, to measure text by.
    measured: [Metrics<'static>; 3],
    photos: BTreeMap<Uuid, Image>,
}

const WORDS: &[u8] = include_bytes!("../fonts/overpass.ttf");
const BOLD: &[u8] = include_bytes!("../fonts/overpass-bold.ttf");
const MONO: &[u8] = include_bytes!("../fonts/b612-mono-bold.ttf");

impl Fonts {
    pub(crate) fn open() -> Option<Fonts> {
        let font = |bytes: &'static [u8]| Font::new(bytes.to_vec().into(), 0);
        let measured = |bytes| Metrics::parse(bytes, 0).ok();
        Some(Fonts {
            words: font(WORDS)?,
            bold: font(BOLD)?,
            mono: font(MONO)?,
            measured: [measured(WORDS)?, measured(BOLD)?, measured(MONO)?],
            photos: BTreeMap::new(),
        })
    }

    /// Width of a line of text, points.
    pub(crate) fn width(&self, face: Face, size: f32, text: &str) -> f32 {
        let [words, bold, mono] = &self.measured;
        let metrics = match face {
            Face::Words => words,
            Face::Bold => bold,
            Face::Mono => mono,
        };
        let units: u32 = text
            .chars()
            .filter_map(|c| metrics.glyph_index(c))
            .filter_map(|g| metrics.glyph_hor_advance(g))
            .map(u32::from)
            .sum();
        units as f32 * size / f32::from(metrics.units_per_em())
    }

    /// Text in lines no wider than `width` points, broken between words; a word that is wider alone is broken where it must be.
    pub(crate) fn lines(&self, face: Face, size: f32, width: f32, text: &str) -> Vec<String> {
        let fits = |line: &str| self.width(face, size, line) <= width;
        let mut lines: Vec<String> = Vec::new();
        for word in text.split_whitespace() {
            if let Some(line) = lines.last_mut() {
                let longer = format!("{line} {word}");
                if fits(&longer) {
                    *line = longer;
                    continue;
                }
            }
            let mut rest = word;
            while !fits(rest) {
                let cut = rest
                    .char_indices()
                    .map(|(n, _)| n)
                    .take_while(|n| fits(&rest[..*n]))
                    .last()
                    .filter(|n| *n > 0);
                let Some(cut) = cut else { break };
                lines.push(rest[..cut].to_owned());
                rest = &rest[cut..];
            }
            lines.push(rest.to_owned());
        }
        lines
    }

    /// The same with photos (JPEG), each embedded once however often it is drawn. One that cannot be read is left out.
    pub(crate) fn with_photos(mut self, photos: &BTreeMap<Uuid, Vec<u8>>) -> Fonts {
        self.photos = photos
            .iter()
            .filter_map(|(key, jpeg)| {
                let image = Image::from_jpeg(jpeg.clone().into(), true).ok()?;
                Some((*key, image))
            })
            .collect();
        self
    }
}

/// Print art, opened.
pub(crate) enum ArtOnPage {
    /// Pixels, as they stand in its file.
    Image(Image),
    /// A page of PDF.
    Page(PdfDocument),
    /// A drawing.
    Drawing(Box<Tree>),
}

impl ArtOnPage {
    /// Opens it.
    ///
    /// Errors: art that cannot be read.
    pub(crate) fn of(art: PrintArt<'_>) -> Result<ArtOnPage, PacketError> {
        let wrong = |e: PhotoError| PacketError::art(&e);
        let bytes = || art.bytes.to_vec().into();
        let image = |made: Result<Image, String>| {
            made.map(ArtOnPage::Image)
                .map_err(|_| wrong(PhotoError::Damaged))
        };
        match art.kind {
            ArtKind::Jpeg => image(Image::from_jpeg(bytes(), true)),
            ArtKind::Png => image(Image::from_png(bytes(), true)),
            ArtKind::Pdf => Ok(ArtOnPage::Page(page_of(art.bytes).map_err(wrong)?)),
            ArtKind::Svg => Ok(ArtOnPage::Drawing(Box::new(
                svg_of(art.bytes).map_err(wrong)?,
            ))),
        }
    }
}

/// How much of a photo is covered with white, so that lines and figures over it are read in black and white.
const PALED: f32 = 0.55;

/// How text is set.
#[derive(Clone, Copy)]
pub(crate) enum Face {
    Words,
    Bold,
    /// Readings.
    Mono,
}

/// How a line or shape is drawn. Greys are 0 black to 255 white, so that a packet reads in black and white.
#[derive(Clone, Copy)]
pub(crate) struct Ink {
    pub fill: Option<u8>,
    pub stroke: Option<u8>,
    pub width: f32,
    pub dashed: bool,
}

impl Ink {
    pub(crate) const fn line(grey: u8, width: f32) -> Ink {
        Ink {
            fill: None,
            stroke: Some(grey),
            width,
            dashed: false,
        }
    }
    pub(crate) const fn solid(grey: u8) -> Ink {
        Ink {
            fill: Some(grey),
            stroke: None,
            width: 0.0,
            dashed: false,
        }
    }
    pub(crate) const fn dashed(self) -> Ink {
        Ink {
            dashed: true,
            ..self
        }
    }
}

/// To a twentieth of a point, 0.02 mm: finer than any printer, and a third of the bytes.
fn fine(v: f32) -> f32 {
    (v * 20.0).round() / 20.0
}

/// One page being drawn.
pub(crate) struct Sheet<'a, 'b> {
    pub surface: &'a mut Surface<'b>,
    pub fonts: &'a Fonts,
}

impl Sheet<'_, '_> {
    pub(crate) fn text(&mut self, x: f32, y: f32, size: f32, face: Face, text: &str) {
        self.ink(Ink::solid(0));
        let font = match face {
            Face::Words => &self.fonts.words,
            Face::Bold => &self.fonts.bold,
            Face::Mono => &self.fonts.mono,
        };
        self.surface.draw_text(
            Point::from_xy(x, y),
            font.clone(),
            size,
            text,
            false,
            TextDirection::LeftToRight,
        );
    }

    /// Text in lines no wider than `width`, each `leading` below the one before; the height of the line that would follow.
    #[allow(clippy::too_many_arguments)]
    pub(crate) fn wrapped(
        &mut self,
        [x, y]: [f32; 2],
        width: f32,
        size: f32,
        leading: f32,
        face: Face,
        text: &str,
    ) -> f32 {
        let mut y = y;
        for line in self.fonts.lines(face, size, width, text) {
            self.text(x, y, size, face, &line);
            y += leading;
        }
        y
    }

    /// A reading in a white box with a black rim, its middle at x.
    pub(crate) fn tag(&mut self, x: f32, y: f32, size: f32, text: &str) {
        let frame = tag_box(x, y, size, text);
        self.rectangle(
            frame,
            Ink {
                fill: Some(255),
                ..Ink::line(0, 0.8)
            },
        );
        self.text(frame[0] + 4.0, y, size, Face::Mono, text);
    }

    /// A photo as large as it can be in a rectangle; whether there was one.
    pub(crate) fn photo_in(&mut self, photo: Uuid, [x0, y0, x1, y1]: [f32; 4]) -> bool {
        let Some(image) = self.fonts.photos.get(&photo) else {
            return false;
        };
        let (wide, high) = (image.size().0 as f32, image.size().1 as f32);
        let scale = ((x1 - x0) / wide).min((y1 - y0) / high);
        let Some(size) = Size::from_wh(wide * scale, high * scale) else {
            return false;
        };
        self.surface
            .push_transform(&Transform::from_translate(x0, y0));
        self.surface.draw_image(image.clone(), size);
        self.surface.pop();
        true
    }

    /// Print art that fills a rectangle, in its own colours: what is printed, not what is written over.
    pub(crate) fn art_filling(&mut self, art: &ArtOnPage, [x0, y0, x1, y1]: [f32; 4]) {
        let Some(size) = Size::from_wh(x1 - x0, y1 - y0) else {
            return;
        };
        self.surface
            .push_transform(&Transform::from_translate(x0, y0));
        match art {
            ArtOnPage::Image(image) => self.surface.draw_image(image.clone(), size),
            ArtOnPage::Page(pdf) => self.surface.draw_pdf_page(pdf, size, 0),
            ArtOnPage::Drawing(tree) => {
                let settings = SvgSettings {
                    embed_text: false,
                    ..SvgSettings::default()
                };
                // What cannot be drawn stays away; the file was drawn once when it was taken.
                let _ = self.surface.draw_svg(tree, size, settings);
            }
        }
        self.surface.pop();
    }

    /// A rectangle of a colour, `#rrggbb`.
    pub(crate) fn ground(&mut self, [x0, y0, x1, y1]: [f32; 4], colour: &str) {
        let part = |from: usize| {
            let hex = colour.get(from..from + 2);
            hex.and_then(|h| u8::from_str_radix(h, 16).ok())
                .unwrap_or(255)
        };
        if let Some(path) = box_path([x0, y0, x1, y1]) {
            self.surface.set_stroke(None);
            self.surface.set_fill(Some(Fill {
                paint: rgb::Color::new(part(1), part(3), part(5)).into(),
                opacity: NormalizedF32::ONE,
                rule: FillRule::NonZero,
            }));
            self.surface.draw_path(&path);
        }
    }

    /// A photo between three corners: upper left, upper right, lower left. Paled, because lines and figures stand over it.
    pub(crate) fn photo(&mut self, photo: Uuid, [o, across, down]: [[f32; 2]; 3]) {
        let Some(image) = self.fonts.photos.get(&photo) else {
            return;
        };
        let Some(one) = Size::from_wh(1.0, 1.0) else {
            return;
        };
        let to = Transform::from_row(
            across[0] - o[0],
            across[1] - o[1],
            down[0] - o[0],
            down[1] - o[1],
            o[0],
            o[1],
        );
        self.surface.push_transform(&to);
        self.surface.draw_image(image.clone(), one);
        self.surface.pop();
        let far = [across[0] + down[0] - o[0], across[1] + down[1] - o[1]];
        let mut path = PathBuilder::new();
        path.move_to(o[0], o[1]);
        path.line_to(across[0], across[1]);
        path.line_to(far[0], far[1]);
        path.line_to(down[0], down[1]);
        path.close();
        if let Some(path) = path.finish() {
            self.surface.set_stroke(None);
            self.surface.set_fill(Some(Fill {
                paint: luma::Color::new(255).into(),
                opacity: NormalizedF32::new(PALED).unwrap_or(NormalizedF32::ONE),
                rule: FillRule::NonZero,
            }));
            self.surface.draw_path(&path);
        }
    }

    pub(crate) fn line(&mut self, from: [f32; 2], to: [f32; 2], ink: Ink) {
        self.polygon(&[from, to], false, ink);
    }

    pub(crate) fn rectangle(&mut self, [x0, y0, x1, y1]: [f32; 4], ink: Ink) {
        self.polygon(&[[x0, y0], [x1, y0], [x1, y1], [x0, y1]], true, ink);
    }

    pub(crate) fn polygon(&mut self, points: &[[f32; 2]], closed: bool, ink: Ink) {
        let mut path = PathBuilder::new();
        for (n, [x, y]) in points.iter().enumerate() {
            let (x, y) = (fine(*x), fine(*y));
            if n == 0 {
                path.move_to(x, y)
            } else {
                path.line_to(x, y)
            }
        }
        if closed {
            path.close();
        }
        self.draw(path, ink);
    }

    /// Shapes in mm, put on paper by `to_paper`.
    pub(crate) fn contours(
        &mut self,
        contours: &[Vec<[f64; 2]>],
        to_paper: impl Fn(f64, f64) -> [f32; 2],
        ink: Ink,
    ) {
        let shape = Shape::new(
            contours
                .iter()
                .map(|c| c.iter().map(|p| kurbo::Point::new(p[0], p[1])).collect())
                .collect(),
        );
        self.shapes([&shape], to_paper, ink);
    }

    pub(crate) fn shapes<'s>(
        &mut self,
        shapes: impl IntoIterator<Item = &'s Shape>,
        to_paper: impl Fn(f64, f64) -> [f32; 2],
        ink: Ink,
    ) {
        let mut path = PathBuilder::new();
        for contour in shapes.into_iter().flat_map(|s| &s.contours) {
            for (n, p) in contour.iter().enumerate() {
                let [x, y] = to_paper(p.x, p.y).map(fine);
                if n == 0 {
                    path.move_to(x, y)
                } else {
                    path.line_to(x, y)
                }
            }
            path.close();
        }
        self.draw(path, ink);
    }

    pub(crate) fn circle(&mut self, [x, y]: [f32; 2], radius: f32, ink: Ink) {
        self.circles([([x, y], radius)], ink);
    }

    /// Many circles as one path; tiny ones as squares on their corners, which no eye tells from them.
    pub(crate) fn circles(&mut self, circles: impl IntoIterator<Item = ([f32; 2], f32)>, ink: Ink) {
        const ROUND: f32 = 0.5523;
        const TINY: f32 = 1.2;
        let mut path = PathBuilder::new();
        for ([x, y], r) in circles {
            let (x, y, r, c) = (fine(x), fine(y), fine(r), fine(r * ROUND));
            path.move_to(fine(x + r), y);
            if r < TINY {
                path.line_to(x, fine(y + r));
                path.line_to(fine(x - r), y);
                path.line_to(x, fine(y - r));
            } else {
                path.cubic_to(
                    fine(x + r),
                    fine(y + c),
                    fine(x + c),
                    fine(y + r),
                    x,
                    fine(y + r),
                );
                path.cubic_to(
                    fine(x - c),
                    fine(y + r),
                    fine(x - r),
                    fine(y + c),
                    fine(x - r),
                    y,
                );
                path.cubic_to(
                    fine(x - r),
                    fine(y - c),
                    fine(x - c),
                    fine(y - r),
                    x,
                    fine(y - r),
                );
                path.cubic_to(
                    fine(x + c),
                    fine(y - r),
                    fine(x + r),
                    fine(y - c),
                    fine(x + r),
                    y,
                );
            }
            path.close();
        }
        self.draw(path, ink);
    }

    fn draw(&mut self, path: PathBuilder, ink: Ink) {
        if let Some(path) = path.finish() {
            self.ink(ink);
            self.surface.draw_path(&path);
        }
    }

    fn ink(&mut self, ink: Ink) {
        self.surface.set_fill(ink.fill.map(|grey| Fill {
            paint: luma::Color::new(grey).into(),
            opacity: NormalizedF32::ONE,
            rule: FillRule::EvenOdd,
        }));
        self.surface.set_stroke(ink.stroke.map(|grey| Stroke {
            paint: luma::Color::new(grey).into(),
            width: ink.width,
            miter_limit: 4.0,
            line_cap: LineCap::Butt,
            line_join: LineJoin::Miter,
            opacity: NormalizedF32::ONE,
            dash: ink.dashed.then(|| StrokeDash {
                array: vec![4.0, 3.0],
                offset: 0.0,
            }),
        }));
    }

    /// Draws only within a rectangle until [`Sheet::unclip`].
    pub(crate) fn clip(&mut self, [x0, y0, x1, y1]: [f32; 4]) {
        if let Some(path) = box_path([x0, y0, x1, y1]) {
            self.surface.push_clip_path(&path, &FillRule::NonZero);
        }
    }

    pub(crate) fn unclip(&mut self) {
        self.surface.pop();
    }
}

fn box_path([x0, y0, x1, y1]: [f32; 4]) -> Option<Path> {
    let mut path = PathBuilder::new();
    path.move_to(x0, y0);
    path.line_to(x1, y0);
    path.line_to(x1, y1);
    path.line_to(x0, y1);
    path.close();
    path.finish()
}

/// Adds a page of this size in points and lets `draw` fill it.
pub(crate) fn page(
    document: &mut Document,
    fonts: &Fonts,
    (width, height): (f32, f32),
    draw: impl FnOnce(&mut Sheet<'_, '_>),
) {
    let Some(settings) = PageSettings::from_wh(width, height) else {
        return;
    };
    let mut page = document.start_page_with(settings);
    let mut surface = page.surface();
    draw(&mut Sheet {
        surface: &mut surface,
        fonts,
    });
    surface.finish();
    page.finish();
}

/// Where text of a page ends, above its foot.
pub(crate) const FOOT: f32 = 64.0;

/// The frame of a tag: see [`Sheet::tag`].
pub(crate) fn tag_box(x: f32, y: f32, size: f32, text: &str) -> [f32; 4] {
    let half = (text.chars().count() as f32 * MONO_ADVANCE * size) / 2.0 + 4.0;
    [x - half, y - size, x + half, y + 4.0]
}

/// Entries parted into pages by how high each is, none cut.
pub(crate) fn by_height<T>(entries: &[T], room: f32, high: impl Fn(&T) -> f32) -> Vec<&[T]> {
    let mut pages = Vec::new();
    let (mut from, mut used) = (0, 0.0);
    for (n, entry) in entries.iter().enumerate() {
        if used + high(entry) > room && n > from {
            pages.push(&entries[from..n]);
            (from, used) = (n, 0.0);
        }
        used += high(entry);
    }
    if from < entries.len() {
        pages.push(&entries[from..]);
    }
    pages
}
