//! Things of a piece with their length and what is said of each: what a print meets, and what reached its temperature.

use windrift_core::ground::told::first_capital;
use windrift_core::plan::worked::Worked;

use crate::packet::told::{HeatLine, Packet};
use crate::sheet::{FOOT, Face, Fonts, MARGIN, Sheet, by_height, footer, header};

/// How things are worked that a print meets.
pub(super) const WORKED: &str = "Ways of working are common practice, no source; the film's data sheet decides. A blade never touches paint: tape or a guard under every cut. Heat by the film's data sheet, never near solvent.";
/// What is said of heat.
pub(super) const HEATED: &str = "As it stood when this was printed. What nobody measured is not known to have reached; a reading vouches for an inch either way (Windrift's own). The record says who read what and when.";

/// One thing of a piece.
pub(super) struct Row<'t> {
    name: &'t str,
    length: &'t str,
    says: &'t str,
}

impl<'t> From<&'t Worked> for Row<'t> {
    fn from(met: &'t Worked) -> Row<'t> {
        Row {
            name: &met.name,
            length: &met.length.text,
            says: &met.how,
        }
    }
}

impl<'t> From<&'t HeatLine> for Row<'t> {
    fn from(run: &'t HeatLine) -> Row<'t> {
        Row {
            name: &run.name,
            length: &run.length,
            says: &run.says,
        }
    }
}

/// Rows parted into pages.
pub(super) fn row_chunks<'r, 't>(
    fonts: &Fonts,
    rows: &'r [Row<'t>],
    size: (f32, f32),
) -> Vec<&'r [Row<'t>]> {
    let wide = size.0 - 2.0 * MARGIN - 250.0;
    let high = |row: &Row<'_>| {
        let lines = |face, width, text: &str| fonts.lines(face, 11.0, width, text).len();
        let most = lines(Face::Bold, 150.0, row.name).max(lines(Face::Words, wide, row.says));
        most as f32 * 13.0 + 9.0
    };
    by_height(rows, size.1 - FOOT - 106.0, high)
}

/// Rows on a page, with what is said of all of them at its foot.
pub(super) fn row_page(
    sheet: &mut Sheet<'_, '_>,
    packet: &Packet,
    heading: &str,
    (rows, foot): (&[Row<'_>], &str),
    size: (f32, f32),
) {
    header(sheet, &packet.heading(), heading, size);
    let mut y = 106.0;
    for row in rows {
        sheet.text(MARGIN + 160.0, y, 11.0, Face::Mono, row.length);
        let wide = size.0 - 2.0 * MARGIN - 250.0;
        let named = sheet.wrapped(
            [MARGIN, y],
            150.0,
            11.0,
            13.0,
            Face::Bold,
            &first_capital(row.name),
        );
        let told = sheet.wrapped([MARGIN + 250.0, y], wide, 11.0, 13.0, Face::Words, row.says);
        y = named.max(told) + 9.0;
    }
    footer(sheet, foot, size);
}
