//! What the owner may do and when, on one page in the owner's words.

use krilla::Document;
use windrift_core::floor::care::CareDate;

use crate::packet::Paper;
use crate::panel_map::MapHeading;
use crate::paper::PacketError;
use crate::sheet::{Face, Fonts, Heading, MARGIN, footer, header, page};

/// Size of words and from one line of them to the next, points.
const WORDS: (f32, f32) = (11.0, 14.0);

/// Writes the page.
///
/// Errors: a page that cannot be written.
pub fn care_sheet(
    heading: &MapHeading<'_>,
    dates: &[CareDate],
    also: &[String],
    paper: Paper,
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
        header(sheet, &head, "Looking after it", size);
        let wide = size.0 - 2.0 * MARGIN;
        let mut y = 108.0;
        for date in dates {
            sheet.text(MARGIN, y, 13.0, Face::Bold, date.title);
            sheet.text(MARGIN + 190.0, y, 13.0, Face::Mono, &date.when);
            y += WORDS.1 + 1.0;
            y = sheet.wrapped([MARGIN, y], wide, WORDS.0, WORDS.1, Face::Words, &date.says);
            y = sheet.wrapped([MARGIN, y], wide, 9.0, 11.5, Face::Words, &date.why) + 9.0;
        }
        for sentence in also {
            y = sheet.wrapped([MARGIN, y], wide, WORDS.0, WORDS.1, Face::Words, sentence) + 3.0;
        }
        footer(
            sheet,
            "Hours by the shop's clock. The film's own sheet and the product's safety sheet decide where they say otherwise.",
            size,
        );
    });
    document.finish().map_err(|e| PacketError::writing(&e))
}
