//! Where a piece goes: the side with its drop lines, what the tape must read, and both places that it is read at, magnified.

use windrift_core::ground::told::first_capital;
use windrift_core::place::flats::FlatsAt;

use crate::packet::told::{Packet, PacketPiece, PacketSide};
use crate::picture::{OnPaper, SidePicture, draw_side, picture};
use crate::sheet::{Face, Ink, MARGIN, Sheet, footer, header};

/// Width of a magnified window on the body, mm.
const WINDOW_MM: f64 = 700.0;
/// Both magnified windows together, points wide.
const WINDOWS_WIDE: f32 = 340.0;

pub(super) fn readings_page(
    sheet: &mut Sheet<'_, '_>,
    packet: &Packet,
    side: &PacketSide,
    piece: &PacketPiece,
    size: (f32, f32),
) {
    header(
        sheet,
        &packet.heading(),
        &format!(
            "{}: \u{201c}{}\u{201d}, where it goes",
            side.name, piece.called
        ),
        size,
    );
    let frame = [MARGIN, 100.0, size.0 - MARGIN, 316.0];
    let on_paper = picture(sheet, &side.picture, Some(piece.id), frame);
    let readings = &piece.readings;
    let flats = &readings.flats;
    let reference = first_capital(&piece.reference);
    let zero = &side.zero_edge;
    let ends = if piece.has_letters {
        ["First letter", "Last letter"]
    } else {
        ["Left end", "Right end"]
    };
    for (flat, top) in [&flats.front, &flats.rear].into_iter().zip(piece.held_at) {
        let (a, b) = (
            on_paper.at(top[0], top[1]),
            on_paper.at(flat.at[0], flat.at[1]),
        );
        sheet.line(a, b, Ink::line(0, 1.0));
        sheet.line([b[0] - 5.0, b[1]], [b[0] + 5.0, b[1]], Ink::line(0, 1.6));
        sheet.tag(a[0], (a[1] + b[1]) / 2.0 + 4.0, 10.0, &flat.wanted.text);
    }
    let ruled = sheet.wrapped(
        [MARGIN, 344.0],
        size.0 - 2.0 * MARGIN,
        9.5,
        11.5,
        Face::Words,
        &piece.rule,
    );
    let left = MARGIN;
    // The windows stand to the right of it.
    let width = size.0 - 2.0 * MARGIN - WINDOWS_WIDE - 14.0;
    let mut y = (ruled + 8.0).max(376.0);
    if !side.unmeasured.is_empty() {
        let told = format!(
            "! Not measured yet: {}. Measure before cutting.",
            side.unmeasured.join(", ")
        );
        y = sheet.wrapped([left, y], width, 9.5, 11.5, Face::Bold, &told) + 4.0;
    }
    let mut row = |sheet: &mut Sheet<'_, '_>, label: &str, value: &str| {
        let after = sheet.wrapped([left, y], 186.0, 9.5, 11.0, Face::Words, label);
        let own = sheet.wrapped(
            [left + 192.0, y],
            width - 192.0,
            9.5,
            11.0,
            Face::Mono,
            value,
        );
        y = after.max(own) + 4.0;
    };
    for flat in [&flats.front, &flats.rear] {
        let wanted = format!("{}  at {} back", flat.wanted.text, flat.back.text);
        row(sheet, &format!("{reference} to {}", flat.to), &wanted);
    }
    for (end, at) in ends
        .into_iter()
        .zip([&readings.first_letter, &readings.last_letter])
    {
        row(sheet, &format!("{end}, from the {zero}"), &at.text);
    }
    row(sheet, "Width", &readings.width.text);
    let height = if piece.has_letters {
        "Capital height"
    } else {
        "Height"
    };
    row(sheet, height, &readings.capital_height.text);
    for near in piece.landing.nearest.iter().take(3) {
        row(
            sheet,
            &format!("Clear to the {}", near.to),
            &near.distance.text,
        );
    }
    for at in &readings.across {
        let told = format!(
            "{} | {} | {}",
            at.left.1.text, at.width.text, at.right.1.text
        );
        let held = format!("Across, {} in from its {} end", at.in_from_end.text, at.end);
        row(sheet, &held, &told);
    }
    let marked = match flats.at {
        FlatsAt::BoxCorners => {
            "It has no flat: mark its upper corners with slips of tape and read to those."
        }
        FlatsAt::Marks => {
            "It has no flat: read to the middles of the two registration marks that are cut beside it."
        }
        FlatsAt::TrimMarks => "Read to two marks on its trim line: draw them before it is hung.",
        FlatsAt::Corners => "Read to its own upper corners: they do not read the same.",
        FlatsAt::Tops | FlatsAt::Feet => "",
    };
    sheet.wrapped([left, y], width, 9.0, 11.0, Face::Words, marked);
    let windows_end = windows(sheet, &side.picture, piece, size, ruled + 4.0);
    made_as(sheet, piece, size, windows_end);
    let landing = &piece.landing;
    footer(
        sheet,
        &format!(
            "Rivet heads in its height: {} clear, {} covered (solid), {} under a cut edge (crossed). Chock the vehicle and take the key; mind steps and traffic.",
            landing.heads_clear, landing.heads_covered, landing.heads_edge_on
        ),
        size,
    );
}

/// What a piece is made as, under the windows: as many lines as there is room for.
fn made_as(sheet: &mut Sheet<'_, '_>, piece: &PacketPiece, size: (f32, f32), from: f32) {
    let lines = sheet
        .fonts
        .lines(Face::Words, 9.0, WINDOWS_WIDE, &piece.made_as.join(" "));
    let left = size.0 - MARGIN - WINDOWS_WIDE;
    let room = ((size.1 - 60.0 - from) / 11.0).max(0.0) as usize;
    for (n, line) in lines.iter().take(room).enumerate() {
        let more = n + 1 == room && lines.len() > room;
        let line = if more {
            format!("{line} \u{2026}")
        } else {
            line.clone()
        };
        sheet.text(left, from + n as f32 * 11.0, 9.0, Face::Words, &line);
    }
}

/// Two magnified windows, one at each flat.
fn windows(
    sheet: &mut Sheet<'_, '_>,
    side: &SidePicture,
    piece: &PacketPiece,
    size: (f32, f32),
    top: f32,
) -> f32 {
    let flats = [&piece.readings.flats.front, &piece.readings.flats.rear];
    // In the order in which they stand on the body as it is seen.
    let ordered = if flats[0].at[0] <= flats[1].at[0] {
        flats
    } else {
        [flats[1], flats[0]]
    };
    let (width, height) = (165.0, 140.0);
    let mut end = top;
    for (n, flat) in ordered.into_iter().enumerate() {
        let x0 = size.0 - MARGIN - (2 - n) as f32 * (width + 10.0) + 10.0;
        let frame = [x0, top, x0 + width, top + height];
        let tall = WINDOW_MM * f64::from(height / width);
        let centre = kurbo::Point::new(flat.at[0], flat.at[1]);
        let on_paper = OnPaper::fit(
            kurbo::Rect::from_center_size(centre, (WINDOW_MM, tall)),
            frame,
        );
        sheet.clip(frame);
        draw_side(sheet, side, Some(piece.id), on_paper);
        let [x, y] = on_paper.at(flat.at[0], flat.at[1]);
        sheet.line([x, frame[1]], [x, y], Ink::line(0, 1.2));
        sheet.line([x - 14.0, y], [x + 14.0, y], Ink::line(0, 2.0));
        sheet.tag(x, frame[1] + 24.0, 12.0, &flat.wanted.text);
        sheet.unclip();
        sheet.rectangle(frame, Ink::line(0, 0.8));
        let told = format!(
            "{}, {} back, 1 : {:.0}",
            flat.to,
            flat.back.text,
            on_paper.ratio()
        );
        let at = [x0, frame[3] + 12.0];
        end = end.max(sheet.wrapped(at, width, 9.0, 11.0, Face::Words, &told));
    }
    end + 4.0
}
