//! Pages of the record.

use crate::packet::told::{Packet, RecordLine};
use crate::sheet::{FOOT, Face, Fonts, MARGIN, Sheet, by_height, footer, header};

/// Room for who did it, points wide.
const WHO_WIDE: f32 = 80.0;

fn what_wide(size: (f32, f32)) -> f32 {
    size.0 - 2.0 * MARGIN - 236.0
}

/// A record parted into pages.
pub(super) fn record_chunks<'r>(
    fonts: &Fonts,
    record: &'r [RecordLine],
    size: (f32, f32),
) -> Vec<&'r [RecordLine]> {
    let high = |line: &RecordLine| {
        let lines = |width, text: &str| fonts.lines(Face::Words, 9.0, width, text).len();
        let most = lines(WHO_WIDE, &line.who).max(lines(what_wide(size), &line.what));
        most as f32 * 11.0 + 5.0
    };
    by_height(record, size.1 - FOOT - 104.0, high)
}

pub(super) fn record_page(
    sheet: &mut Sheet<'_, '_>,
    packet: &Packet,
    heading: &str,
    lines: &[RecordLine],
    size: (f32, f32),
) {
    let heading = format!("{heading}, hours of {}", packet.clock);
    header(sheet, &packet.heading(), &heading, size);
    if lines.is_empty() {
        sheet.text(
            MARGIN,
            110.0,
            11.0,
            Face::Words,
            "Nothing has been recorded yet.",
        );
    }
    let mut y = 104.0;
    for line in lines {
        sheet.text(MARGIN, y, 9.0, Face::Mono, &line.seq.to_string());
        sheet.text(MARGIN + 32.0, y, 9.0, Face::Words, &line.at);
        let who = sheet.wrapped(
            [MARGIN + 150.0, y],
            WHO_WIDE,
            9.0,
            11.0,
            Face::Words,
            &line.who,
        );
        let wide = what_wide(size);
        let what = sheet.wrapped(
            [MARGIN + 236.0, y],
            wide,
            9.0,
            11.0,
            Face::Words,
            &line.what,
        );
        y = who.max(what) + 5.0;
    }
    footer(
        sheet,
        &format!(
            "{}. Newest entry: {} {}. Plan: {}",
            packet.printed,
            packet.latest_entry,
            packet.latest_hash,
            packet.plan_hash.get(..16).unwrap_or_default()
        ),
        size,
    );
}
