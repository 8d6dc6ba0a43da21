//! What a print meets, and how each thing is worked.

use windrift_core::ground::told::first_capital;
use windrift_core::plan::worked::Worked;

use crate::packet::told::Packet;
use crate::sheet::{FOOT, Face, Fonts, MARGIN, Sheet, by_height, footer, header};

/// What a print meets, parted into pages.
pub(super) fn worked_chunks<'w>(
    fonts: &Fonts,
    worked: &'w [Worked],
    size: (f32, f32),
) -> Vec<&'w [Worked]> {
    let wide = size.0 - 2.0 * MARGIN - 250.0;
    let high = |met: &Worked| {
        let lines = |face, width, text: &str| fonts.lines(face, 11.0, width, text).len();
        let most = lines(Face::Bold, 150.0, &met.name).max(lines(Face::Words, wide, &met.how));
        most as f32 * 13.0 + 9.0
    };
    by_height(worked, size.1 - FOOT - 106.0, high)
}

/// What a print meets, and how each thing is worked.
pub(super) fn worked_page(
    sheet: &mut Sheet<'_, '_>,
    packet: &Packet,
    heading: &str,
    worked: &[Worked],
    size: (f32, f32),
) {
    header(sheet, &packet.heading(), heading, size);
    let mut y = 106.0;
    for met in worked {
        sheet.text(MARGIN + 160.0, y, 11.0, Face::Mono, &met.length.text);
        let wide = size.0 - 2.0 * MARGIN - 250.0;
        let named = sheet.wrapped(
            [MARGIN, y],
            150.0,
            11.0,
            13.0,
            Face::Bold,
            &first_capital(&met.name),
        );
        let told = sheet.wrapped([MARGIN + 250.0, y], wide, 11.0, 13.0, Face::Words, &met.how);
        y = named.max(told) + 9.0;
    }
    footer(
        sheet,
        "Ways of working are common practice, no source; the film's data sheet decides. A blade never touches paint: tape or a guard under every cut. Heat by the film's data sheet, never near solvent.",
        size,
    );
}
