//! One panel of a print at full size, as SVG and as PDF: the picture as it was given, clipped and not sampled anew, with its lap marked,
//! registration marks and its number outside the trim.

use std::fmt::Write as _;

use krilla::Document;
use kurbo::Rect;

use crate::paper::PacketError;
use crate::print_art::{ArtKind, PrintArt};
use crate::sheet::{ArtOnPage, Face, Fonts, Ink, page};

/// Points in a millimetre.
const POINT: f64 = 72.0 / 25.4;
/// Room outside the panel for marks and words, mm (ours).
const OUTSIDE_MM: f64 = 20.0;
/// Length of a registration mark's arm, mm (ours).
const ARM_MM: f64 = 6.0;
/// A page of PDF is at most this, mm: 200 in (ISO 32000-1, annex C.2, as recalled).
pub const LONGEST_PAGE_MM: f64 = 5080.0;

/// A panel to be printed. Everything in the print's film frame, mm.
#[derive(Debug, Clone)]
pub struct PanelFile<'a> {
    /// What the print is called.
    pub name: &'a str,
    /// The number of the panel, and how many there are.
    pub number: (u32, u32),
    /// The panel with bleed and lap.
    pub panel: Rect,
    /// The print as trimmed.
    pub trim: Rect,
    /// Where laps begin and end within it, as rectangles.
    pub laps: &'a [Rect],
    /// Ground colour as `#rrggbb`.
    pub colour: &'a str,
    /// The print art as it was given, and what it fills.
    pub picture: Option<(PrintArt<'a>, Rect)>,
    /// A line that says what the panel is made from: roll, lap.
    pub told: &'a str,
}

impl PanelFile<'_> {
    /// Page: the panel with room round it.
    fn page(&self) -> Rect {
        self.panel.inflate(OUTSIDE_MM, OUTSIDE_MM)
    }

    fn words(&self) -> String {
        format!(
            "{}, panel {} of {}. {}",
            self.name, self.number.0, self.number.1, self.told
        )
    }

    /// Where marks stand, outside the panel: beside both ends of each lap, and where the print is trimmed.
    fn marks(&self) -> Vec<(f64, f64)> {
        let (p, off) = (self.panel, OUTSIDE_MM / 2.0);
        let mut marks: Vec<(f64, f64)> = Vec::new();
        for lap in self.laps {
            if lap.height() > lap.width() {
                for x in [lap.x0, lap.x1] {
                    marks.extend([(x, p.y0 - off), (x, p.y1 + off)]);
                }
            } else {
                for y in [lap.y0, lap.y1] {
                    marks.extend([(p.x0 - off, y), (p.x1 + off, y)]);
                }
            }
        }
        // Where the print is trimmed, as far as that is on this panel.
        let within = |at: f64, from: f64, to: f64| at > from + 0.5 && at < to - 0.5;
        for x in [self.trim.x0, self.trim.x1] {
            if within(x, p.x0, p.x1) {
                marks.extend([(x, p.y0 - off), (x, p.y1 + off)]);
            }
        }
        for y in [self.trim.y0, self.trim.y1] {
            if within(y, p.y0, p.y1) {
                marks.extend([(p.x0 - off, y), (p.x1 + off, y)]);
            }
        }
        marks
    }

    /// As SVG at full size, mm: the picture stands in it with its own bytes.
    ///
    /// Errors: art that is a PDF, which no SVG can hold; art that cannot be read.
    ///
    /// ```
    /// use kurbo::Rect;
    /// use windrift_formats::panel_files::PanelFile;
    /// let panel = PanelFile { name: "side", number: (2, 4), panel: Rect::new(900.0, 0.0, 2200.0, 1500.0), trim: Rect::new(25.0, 25.0, 4975.0, 1475.0),
    ///     laps: &[Rect::new(2175.0, 0.0, 2200.0, 1500.0)], colour: "#23405c", picture: None, told: "Lap 25 mm." };
    /// let svg = panel.svg().unwrap();
    /// assert!(svg.contains(r#"width="1340mm""#) && svg.contains("panel 2 of 4"));
    /// ```
    pub fn svg(&self) -> Result<String, PacketError> {
        let (page, p) = (self.page(), self.panel);
        let mut svg = format!(
            r#"<svg xmlns="http://www.w3.org/2000/svg" width="{w}mm" height="{h}mm" viewBox="{x} {y} {w} {h}"><defs><clipPath id="panel"><rect {}/></clipPath></defs>"#,
            rect(p),
            x = page.x0,
            y = page.y0,
            w = page.width(),
            h = page.height(),
        );
        let _ = write!(
            svg,
            r#"<rect id="film" {} fill="{}"/>"#,
            rect(p),
            self.colour
        );
        if let Some((art, filled)) = self.picture {
            svg.push_str(&art_in_svg(art, filled)?);
        }
        let _ = write!(
            svg,
            r##"<g id="marks" fill="none" stroke="#000" stroke-width="0.3">"##
        );
        for lap in self.laps {
            let _ = write!(svg, r#"<rect {} stroke-dasharray="6 4"/>"#, rect(*lap));
        }
        for (x, y) in self.marks() {
            let _ = write!(
                svg,
                r#"<path d="M{} {y}H{}M{x} {}V{}"/>"#,
                x - ARM_MM,
                x + ARM_MM,
                y - ARM_MM,
                y + ARM_MM
            );
        }
        let words = self.words().replace('&', "&amp;").replace('<', "&lt;");
        let _ = write!(
            svg,
            r##"</g><text x="{}" y="{}" font-size="8" font-family="sans-serif" fill="#000">{words}</text></svg>"##,
            p.x0 + 12.0,
            p.y1 + OUTSIDE_MM - 3.0,
        );
        Ok(svg)
    }

    /// As one page of PDF at full size.
    ///
    /// Errors: a page that is longer than PDF knows; a picture that cannot be read.
    pub fn pdf(&self) -> Result<Vec<u8>, PacketError> {
        let around = self.page();
        if around.width().max(around.height()) > LONGEST_PAGE_MM {
            return Err(PacketError::too_long());
        }
        let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
        let art = match self.picture {
            Some((art, filled)) => Some((ArtOnPage::of(art)?, filled)),
            None => None,
        };
        let mut document = Document::new();
        let on = |r: Rect| {
            [
                r.x0 - around.x0,
                r.y0 - around.y0,
                r.x1 - around.x0,
                r.y1 - around.y0,
            ]
            .map(|mm| (mm * POINT) as f32)
        };
        let at = |x: f64, y: f64| {
            [
                ((x - around.x0) * POINT) as f32,
                ((y - around.y0) * POINT) as f32,
            ]
        };
        let size = (
            (around.width() * POINT) as f32,
            (around.height() * POINT) as f32,
        );
        page(&mut document, &fonts, size, |sheet| {
            sheet.clip(on(self.panel));
            sheet.ground(on(self.panel), self.colour);
            if let Some((art, filled)) = &art {
                sheet.art_filling(art, on(*filled));
            }
            sheet.unclip();
            for lap in self.laps {
                sheet.rectangle(on(*lap), Ink::line(0, 0.8).dashed());
            }
            for (x, y) in self.marks() {
                sheet.line(at(x - ARM_MM, y), at(x + ARM_MM, y), Ink::line(0, 0.8));
                sheet.line(at(x, y - ARM_MM), at(x, y + ARM_MM), Ink::line(0, 0.8));
            }
            let [x, y] = at(self.panel.x0 + 12.0, self.panel.y1 + OUTSIDE_MM - 3.0);
            sheet.text(x, y, 22.0, Face::Bold, &self.words());
        });
        document.finish().map_err(|e| PacketError::writing(&e))
    }
}

/// Print art within an SVG, filling a rectangle and clipped to the panel.
fn art_in_svg(art: PrintArt<'_>, filled: Rect) -> Result<String, PacketError> {
    let image = |kind: &str| {
        format!(
            r#"<image {} preserveAspectRatio="none" clip-path="url(#panel)" href="data:image/{kind};base64,{}"/>"#,
            rect(filled),
            base64(art.bytes)
        )
    };
    match art.kind {
        ArtKind::Jpeg => Ok(image("jpeg")),
        ArtKind::Png => Ok(image("png")),
        // A picture of its own, so that no name within it meets one of this file.
        ArtKind::Svg => Ok(image("svg+xml")),
        ArtKind::Pdf => Err(PacketError::pdf_in_svg()),
    }
}

fn rect(r: Rect) -> String {
    format!(
        r#"x="{}" y="{}" width="{}" height="{}""#,
        r.x0,
        r.y0,
        r.width(),
        r.height()
    )
}

/// RFC 4648.
fn base64(bytes: &[u8]) -> String {
    use base64::Engine as _;
    base64::engine::general_purpose::STANDARD.encode(bytes)
}
