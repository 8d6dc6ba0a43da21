//! The job packet as PDF: picture with readings, hinge and cuts, strokes, and the record so far. Readable in black and white.

mod hinge;
mod photos;
mod readings;
mod record;
mod told;
mod worked;

use krilla::Document;

use crate::marking_report::pages as marking_pages;
use crate::picture::picture;
use crate::sheet::{Fonts, MARGIN, header, page};
use crate::stroke_sheet::{Shown, pages as stroke_pages};
use hinge::hinge_pages;
use photos::{photo_chunks, photo_page};
use readings::readings_page;
use record::{record_chunks, record_page};
use worked::{HEATED, Row, WORKED, row_chunks, row_page};

pub use crate::paper::{PacketError, Paper};
pub use crate::picture::{PiecePicture, SidePicture};
pub use told::{HeatLine, Hung, Packet, PacketPiece, PacketSide, PhotoLine, RecordLine};

/// Writes the packet as PDF.
pub fn write(packet: &Packet, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open()
        .ok_or_else(PacketError::typefaces)?
        .with_photos(&packet.photos);
    let mut document = Document::new();
    let size = paper.size();
    for side in &packet.sides {
        for piece in &side.pieces {
            page(&mut document, &fonts, size, |sheet| {
                readings_page(sheet, packet, side, piece, size)
            });
            hinge_pages(&mut document, &fonts, packet, side, piece, size);
            let met: Vec<Row<'_>> = piece.worked.iter().map(Row::from).collect();
            let heated = packet.heat.iter().filter(|h| h.piece == piece.id);
            let heated: Vec<Row<'_>> = heated.map(Row::from).collect();
            let called = format!("{}: \u{201c}{}\u{201d}", side.name, piece.called);
            let mut rows = |rows: &[Row<'_>], about: &str, foot: &str| {
                let heading = format!("{called}, {about}");
                for chunk in row_chunks(&fonts, rows, size) {
                    page(&mut document, &fonts, size, |sheet| {
                        row_page(sheet, packet, &heading, (chunk, foot), size)
                    });
                }
            };
            rows(&met, "what it meets and how that is worked", WORKED);
            rows(
                &heated,
                "what reached its temperature and what is sealed",
                HEATED,
            );
            if let Some(strokes) = &piece.strokes {
                let shown = Shown {
                    called: &format!("{}: \u{201c}{}\u{201d}", side.name, piece.called),
                    piece: piece.id,
                    side: &side.picture,
                    strokes,
                };
                stroke_pages(&mut document, &fonts, &packet.heading(), &shown, size);
            }
            // What was done about it on the floor, as it was recorded.
            let done: Vec<RecordLine> = (packet.record.iter().chain(&packet.since))
                .filter(|line| line.piece == Some(piece.id))
                .cloned()
                .collect();
            let heading = format!(
                "{}: \u{201c}{}\u{201d}, what was done",
                side.name, piece.called
            );
            for lines in record_chunks(&fonts, &done, size) {
                page(&mut document, &fonts, size, |sheet| {
                    record_page(sheet, packet, &heading, lines, size)
                });
            }
        }
        if let Some(marking) = &side.marking {
            marking_pages(&mut document, &fonts, &packet.heading(), marking, size);
        }
        if side.pieces.is_empty() && side.marking.is_none() {
            page(&mut document, &fonts, size, |sheet| {
                header(
                    sheet,
                    &packet.heading(),
                    &format!("{}: as measured", side.name),
                    size,
                );
                picture(
                    sheet,
                    &side.picture,
                    None,
                    [MARGIN, 90.0, size.0 - MARGIN, size.1 - 80.0],
                );
            });
        }
    }
    for photos in photo_chunks(&packet.photographed) {
        page(&mut document, &fonts, size, |sheet| {
            photo_page(sheet, packet, photos, size)
        });
    }
    let parts = [
        ("Record so far", &packet.record),
        ("Recorded since", &packet.since),
    ];
    for (heading, record) in parts {
        let chunks: Vec<&[RecordLine]> = match (record.is_empty(), heading) {
            (true, "Recorded since") => continue,
            (true, _) => vec![&[]],
            (false, _) => record_chunks(&fonts, record, size),
        };
        for lines in chunks {
            page(&mut document, &fonts, size, |sheet| {
                record_page(sheet, packet, heading, lines, size)
            });
        }
    }
    document.finish().map_err(|e| PacketError::writing(&e))
}
