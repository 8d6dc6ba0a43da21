//! A paper that is one page: its head, its foot, and what is drawn between them.

use krilla::Document;

use crate::packet::Paper;
use crate::paper::PacketError;
use crate::sheet::{Fonts, Heading, Sheet, footer, header, page};

/// Who and what stands at its head.
#[derive(Debug, Clone, Copy)]
pub struct PageHeading<'a> {
    /// The shop.
    pub shop: &'a str,
    /// The job.
    pub title: &'a str,
    /// The customer.
    pub customer: &'a str,
    /// When it was printed.
    pub at: &'a str,
}

/// Writes one page of PDF; `draw` is given its size in points.
///
/// Errors: a page that cannot be written.
pub(crate) fn one_page(
    heading: &PageHeading<'_>,
    what: &str,
    foot: &str,
    paper: Paper,
    draw: impl FnOnce(&mut Sheet<'_, '_>, (f32, f32)),
) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let size = paper.size();
    let head = Heading {
        title: heading.title,
        shop: heading.shop,
        customer: heading.customer,
        issued: heading.at,
    };
    page(&mut document, &fonts, size, |sheet| {
        header(sheet, &head, what, size);
        draw(sheet, size);
        footer(sheet, foot, size);
    });
    document.finish().map_err(|e| PacketError::writing(&e))
}
