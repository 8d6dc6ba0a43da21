//! Pages of the photos that stand in the record.

use crate::packet::told::{Packet, PhotoLine};
use crate::sheet::{FOOT, Face, MARGIN, Sheet, footer, header};

/// Photos on a page, which lies: three across and two down.
const ACROSS: usize = 3;
const DOWN: usize = 2;
const TOP: f32 = 96.0;
/// From one photo to the next, points.
const APART: f32 = 16.0;
/// Room for what is said under a photo, points: four lines.
const SAID: f32 = 50.0;
const SAID_LINES: usize = 4;

/// Photos parted into pages.
pub(super) fn photo_chunks(photos: &[PhotoLine]) -> impl Iterator<Item = &[PhotoLine]> {
    photos.chunks(ACROSS * DOWN)
}

pub(super) fn photo_page(
    sheet: &mut Sheet<'_, '_>,
    packet: &Packet,
    photos: &[PhotoLine],
    size: (f32, f32),
) {
    let heading = format!("Photos in the record, hours of {}", packet.clock);
    header(sheet, &packet.heading(), &heading, size);
    let wide = (size.0 - 2.0 * MARGIN - APART * (ACROSS - 1) as f32) / ACROSS as f32;
    let high = (size.1 - FOOT - TOP) / DOWN as f32;
    for (n, photo) in photos.iter().enumerate() {
        let x = MARGIN + (n % ACROSS) as f32 * (wide + APART);
        let y = TOP + (n / ACROSS) as f32 * high;
        let there = sheet.photo_in(photo.photo, [x, y, x + wide, y + high - SAID - 8.0]);
        let lines = sheet.fonts.lines(Face::Words, 9.0, wide, &photo.says);
        let mut at = y + high - SAID + 6.0;
        for line in lines.iter().take(SAID_LINES) {
            sheet.text(x, at, 9.0, Face::Words, line);
            at += 11.0;
        }
        if !there {
            let gone = "This photo is gone, or cannot be read. Its entry stands in the record.";
            sheet.wrapped([x, y + 20.0], wide, 11.0, 13.0, Face::Bold, gone);
        }
    }
    footer(sheet, &packet.photos_foot, size);
}
