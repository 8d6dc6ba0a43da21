//! The hinge that was chosen, its tape and cuts, and what is done.

use krilla::Document;

use crate::packet::told::{Packet, PacketPiece, PacketSide};
use crate::picture::{NEAREST, OnPaper};
use crate::sheet::{FOOT, Face, Fonts, Ink, MARGIN, Sheet, footer, header, page};

/// The hinge that was chosen, its tape and cuts, and what is done: as many pages as it takes.
pub(super) fn hinge_pages(
    document: &mut Document,
    fonts: &Fonts,
    packet: &Packet,
    side: &PacketSide,
    piece: &PacketPiece,
    size: (f32, f32),
) {
    let name = (piece.hung.as_ref()).map_or("top hinge", |h| h.name.as_str());
    let heading = format!(
        "{}: \u{201c}{}\u{201d}, {name}, tape and cuts",
        side.name, piece.called
    );
    const LEADING: f32 = 11.5;
    let column = MARGIN + 270.0;
    let beside = size.0 - MARGIN - column;
    let paragraphs = hinge_notes(piece);
    let set = |width: f32, from: usize, room: usize| -> (Vec<(Face, String)>, usize) {
        let mut lines: Vec<(Face, String)> = Vec::new();
        for (n, (face, text)) in paragraphs.iter().enumerate().skip(from) {
            let own = fonts.lines(*face, 9.0, width, text);
            if lines.len() + own.len() > room && !lines.is_empty() {
                return (lines, n);
            }
            lines.extend(own.into_iter().map(|line| (*face, line)));
        }
        (lines, paragraphs.len())
    };
    let room = |from: f32| ((size.1 - FOOT - from) / LEADING) as usize;
    let write = |sheet: &mut Sheet<'_, '_>, x: f32, from: f32, lines: &[(Face, String)]| {
        for (n, (face, line)) in lines.iter().enumerate() {
            sheet.text(x, from + n as f32 * LEADING, 9.0, *face, line);
        }
    };
    let foot = "Knife: cut away from your hand, through the transfer tape only, never into paint. Lock the hinge before the liner comes off.";
    let (lines, mut next) = set(beside, 0, room(330.0));
    page(document, fonts, size, |sheet| {
        header(sheet, &packet.heading(), &heading, size);
        hinge_drawn(sheet, side, piece, [MARGIN, 100.0, size.0 - MARGIN, 300.0]);
        hinge_rows(sheet, piece);
        write(sheet, column, 330.0, &lines);
        footer(sheet, foot, size);
    });
    while next < paragraphs.len() {
        let (lines, after) = set(size.0 - 2.0 * MARGIN, next, room(106.0));
        next = after;
        page(document, fonts, size, |sheet| {
            header(
                sheet,
                &packet.heading(),
                &format!("{heading}, continued"),
                size,
            );
            write(sheet, MARGIN, 106.0, &lines);
            footer(sheet, foot, size);
        });
    }
}

/// What is told about a hinge beside its figures, the weightiest first.
fn hinge_notes(piece: &PacketPiece) -> Vec<(Face, String)> {
    let mut told: Vec<(Face, String)> = Vec::new();
    let words = |text: &String| (Face::Words, text.clone());
    let troubles = piece
        .hung
        .as_ref()
        .map_or(&piece.hinge.troubles, |h| &h.troubles);
    told.extend(troubles.iter().map(|t| (Face::Bold, format!("! {t}"))));
    if let Some(hung) = &piece.hung {
        told.extend(hung.why.iter().map(words));
        told.extend(
            (1..)
                .zip(&hung.steps)
                .map(|(n, step)| (Face::Words, format!("{n}. {step}"))),
        );
        told.extend(hung.lines.iter().map(|(sentence, _)| words(sentence)));
        if hung.sections.len() > 1 {
            told.push((Face::Bold, "Sections in their order".into()));
            told.extend(
                (1..).zip(&hung.sections).map(|(n, (called, width))| {
                    (Face::Words, format!("{n}. {called}, {width} wide"))
                }),
            );
        }
    }
    let cuts: Vec<_> = (piece.hinge.cuts.iter())
        .filter(|c| !c.sentence.is_empty())
        .collect();
    if !cuts.is_empty() {
        told.push((Face::Bold, "Parting cuts, numbered as drawn".into()));
    }
    let mut number = 0;
    for cut in cuts {
        let label = if cut.line.is_some() {
            number += 1;
            format!("{number}.")
        } else {
            "\u{2013}".to_owned()
        };
        told.push((Face::Words, format!("{label} {}", cut.sentence)));
    }
    told
}

/// Figures of the tape, one below the other at the left.
fn hinge_rows(sheet: &mut Sheet<'_, '_>, piece: &PacketPiece) {
    let hinge = &piece.hinge;
    let mut rows: Vec<(String, String)> = Vec::new();
    match &piece.hung {
        Some(hung) => {
            rows.push(("Film".into(), hung.film.clone()));
            for what in ["hinge", "tab", "stay tape"] {
                let mut lengths: Vec<&str> = (hung.tape.iter())
                    .filter(|(w, ..)| w == what)
                    .map(|(_, _, length)| length.as_str())
                    .collect();
                let label = match what {
                    "hinge" => "Hinge tape, half on the piece",
                    "tab" => "Corner tabs",
                    _ => "Stay tape",
                };
                while let Some(length) = lengths.first().copied() {
                    let alike = lengths.iter().filter(|l| **l == length).count();
                    lengths.retain(|l| *l != length);
                    rows.push((label.into(), format!("{alike} of {length}")));
                }
            }
            if hung.name == "top hinge" {
                rows.push((
                    "Upper edge of the tape, down".into(),
                    hinge.tape_top.text.clone(),
                ));
            }
            rows.push(("Tape width".into(), hinge.tape_width.text.clone()));
            rows.push(("Tape in all".into(), hung.total.clone()));
        }
        None => rows.extend([
            ("Tape along the top edge".into(), hinge.run.text.clone()),
            (
                "In pieces".into(),
                format!("{} of {}", hinge.pieces, hinge.piece.text),
            ),
            (
                "Tape width, half on the piece".into(),
                hinge.tape_width.text.clone(),
            ),
            (
                "Upper edge of the tape, down".into(),
                hinge.tape_top.text.clone(),
            ),
            ("Corner tabs".into(), format!("2 of {}", hinge.tab.text)),
            ("Tape in all".into(), hinge.total.text.clone()),
        ]),
    }
    let mut y = 330.0;
    for (label, value) in rows {
        let named = sheet.wrapped([MARGIN, y], 138.0, 9.5, 11.0, Face::Words, &label);
        let own = sheet.wrapped([MARGIN + 144.0, y], 112.0, 9.5, 11.0, Face::Mono, &value);
        y = named.max(own) + 5.0;
    }
}

/// The piece with its tape, liner cuts and parting cuts.
fn hinge_drawn(sheet: &mut Sheet<'_, '_>, side: &PacketSide, piece: &PacketPiece, frame: [f32; 4]) {
    let hinge = &piece.hinge;
    let top: Vec<(String, [[f64; 2]; 4])> = std::iter::once(("hinge".to_owned(), hinge.tape))
        .chain(hinge.tabs.map(|t| ("tab".to_owned(), t)))
        .collect();
    let tape: Vec<(String, [[f64; 2]; 4])> = match &piece.hung {
        Some(hung) => (hung.tape.iter())
            .map(|(what, at, _)| (what.clone(), *at))
            .collect(),
        None => top,
    };
    let points = hinge.carrier.iter().chain(tape.iter().flat_map(|(_, c)| c));
    let around = points
        .map(|p| kurbo::Rect::from_points((p[0], p[1]), (p[0], p[1])))
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    let on_paper = OnPaper::fit(around.inflate(30.0, 30.0), frame);
    let corners = |c: &[[f64; 2]; 4]| c.map(|p| on_paper.at(p[0], p[1]));
    for (what, at) in &tape {
        let grey = if what == "hinge" { 222 } else { 205 };
        sheet.polygon(
            &corners(at),
            true,
            Ink {
                fill: Some(grey),
                ..Ink::line(90, 0.6)
            },
        );
    }
    let own = side.picture.pieces.iter().find(|p| p.id == piece.id);
    sheet.contours(
        &own.map_or(Vec::new(), |p| on_paper.seen(&p.film, NEAREST)),
        |x, y| on_paper.at(x, y),
        Ink {
            fill: Some(190),
            ..Ink::line(0, 0.5)
        },
    );
    sheet.polygon(&corners(&hinge.carrier), true, Ink::line(0, 0.8).dashed());
    for (_, [a, b]) in piece.hung.iter().flat_map(|h| &h.lines) {
        sheet.line(
            on_paper.at(a[0], a[1]),
            on_paper.at(b[0], b[1]),
            Ink::line(0, 0.9).dashed(),
        );
    }
    for (n, cut) in (1..).zip(hinge.cuts.iter().filter(|c| c.line.is_some())) {
        if let Some([a, b]) = cut.line {
            let (a, b) = (on_paper.at(a[0], a[1]), on_paper.at(b[0], b[1]));
            sheet.line(a, b, Ink::line(0, 1.2));
            sheet.text(b[0] - 3.0, b[1] + 11.0, 9.0, Face::Bold, &n.to_string());
        }
    }
}
