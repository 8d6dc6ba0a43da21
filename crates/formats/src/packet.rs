//! The job packet as PDF: picture with readings, hinge and cuts, and the record so far. Readable in black and white.

use std::collections::BTreeMap;

use krilla::Document;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use time::Date;
use uuid::Uuid;
use windrift_core::floor::hang::hang;
use windrift_core::floor::verdict::verdict;
use windrift_core::ground::said::plainly;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::ground::told::first_capital;
use windrift_core::place::flats::FlatsAt;
use windrift_core::place::landing::Landing;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_core::plan::readings::Readings;
use windrift_core::plan::top_hinge::TopHinge;
use windrift_core::plan::worked::Worked;

use crate::picture::{OnPaper, draw_side, picture};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, footer, header, page};

pub use crate::picture::{PiecePicture, SidePicture};

/// Paper for the packet, landscape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Paper {
    /// 11 × 8 1/2 in.
    Letter,
    /// 297 × 210 mm (ISO 216).
    A4,
}

impl Paper {
    /// Width and height in points, 1/72 in.
    pub fn size(self) -> (f32, f32) {
        match self {
            Paper::Letter => (792.0, 612.0),
            Paper::A4 => (841.89, 595.28),
        }
    }
}

/// One line of the record, in words.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RecordLine {
    /// Number in the record.
    pub seq: i64,
    /// When, printed.
    pub at: String,
    /// Who.
    pub who: String,
    /// What.
    pub what: String,
}

/// One side in the packet. Made when the plan is issued, and printed from what was kept then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PacketSide {
    /// What the side is called here.
    pub name: String,
    /// What the edge is called from which the tape runs: `front edge`.
    pub zero_edge: String,
    /// How it is drawn.
    pub picture: SidePicture,
    /// Figures of its shape that nobody has measured yet, in words.
    #[serde(default)]
    pub unmeasured: Vec<String>,
    /// Its pieces with their figures.
    pub pieces: Vec<PacketPiece>,
}

/// The figures of one piece in the packet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PacketPiece {
    /// The piece.
    pub id: Uuid,
    /// What it is called.
    pub called: String,
    /// Its rule as it is said. Empty in plans of earlier releases.
    #[serde(default)]
    pub rule: String,
    /// What it is made as, as it is said: of a stripe, a kit piece, a print. Empty in plans of earlier releases.
    #[serde(default)]
    pub made_as: Vec<String>,
    /// What it is read from.
    pub reference: String,
    /// Where the tape is held for each flat, in the picture frame, mm.
    pub held_at: [[f64; 2]; 2],
    /// Whether it has letters.
    pub has_letters: bool,
    /// Its readings.
    pub readings: Readings,
    /// What it lands on.
    pub landing: Landing,
    /// What it meets, and how that is worked, where it is a print.
    pub worked: Vec<Worked>,
    /// Its top hinge.
    pub hinge: TopHinge,
    /// How it is hung: the hinge that was chosen, with its own tape and cuts. Nothing in plans of earlier releases.
    #[serde(default)]
    pub hung: Option<Hung>,
}

/// A hinge as it is told on paper.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Hung {
    /// What it is called: `top hinge`, `liner window`.
    pub name: String,
    /// Why it is used, the crew's own words first.
    pub why: Vec<String>,
    /// The film that it is worked out for.
    pub film: String,
    /// Tape: what it is, its corners in the picture frame, its length as printed.
    pub tape: Vec<(String, [[f64; 2]; 4], String)>,
    /// Liner cuts and stay tape: what it is, in a sentence, and both ends in the picture frame.
    pub lines: Vec<(String, [[f64; 2]; 2])>,
    /// Sections: what is in each, and how wide it is.
    pub sections: Vec<(String, String)>,
    /// All tape.
    pub total: String,
    /// What is done, in order.
    pub steps: Vec<String>,
    /// What is wrong or must be known; what the surface says against it first.
    pub troubles: Vec<String>,
}

impl Hung {
    fn of(
        piece: &PlannedPiece,
        plan: &SidePlan,
        today: Date,
        settings: &WorkSettings,
        unit: Unit,
    ) -> Hung {
        let side = &plan.side;
        let fresh = side.side.surface.paint_is_fresh(today);
        let hang = hang(piece, side, settings, fresh, unit);
        let verdict = verdict(piece, side, today);
        let refused = verdict.refusals.into_iter().map(|r| r.sentence);
        let gone_on = verdict
            .overruled
            .map(|why| format!("Gone on all the same: {why}"));
        let used = hang.ranked.iter().find(|r| r.kind == hang.kind);
        let own = hang
            .own_reason
            .as_ref()
            .map(|why| format!("The crew's own choice: {why}"));
        Hung {
            name: hang.kind.name().to_owned(),
            why: own
                .into_iter()
                .chain(used.into_iter().flat_map(|r| r.reasons.clone()))
                .collect(),
            film: hang.film.name.to_owned(),
            tape: (hang.tape.iter())
                .map(|t| (t.what.to_owned(), t.corners, t.length.text.clone()))
                .collect(),
            lines: (hang.liner.iter().chain(&hang.stay))
                .map(|l| (l.sentence.clone(), l.line))
                .collect(),
            sections: (hang.sections.iter())
                .map(|s| (s.called.clone(), s.width.text.clone()))
                .collect(),
            total: hang.total.text,
            steps: hang.steps,
            troubles: refused.chain(gone_on).chain(hang.troubles).collect(),
        }
    }
}

impl PacketSide {
    /// Photos that are printed on its pieces.
    pub fn photos(&self) -> impl Iterator<Item = Uuid> + '_ {
        let printed = self.picture.pieces.iter().filter_map(|p| p.printed);
        printed.map(|(photo, _)| photo)
    }

    /// A side as it is planned today.
    pub fn of(plan: &SidePlan, settings: &WorkSettings, today: Date, unit: Unit) -> PacketSide {
        let words = settings.side_words;
        let side = &plan.side.side;
        let pieces = plan
            .pieces
            .iter()
            .map(|p| PacketPiece {
                id: p.id,
                called: p.piece.called(),
                rule: plainly(&p.said),
                made_as: p.art_said.iter().map(|said| plainly(said)).collect(),
                reference: side.datum_name(p.piece.place.reference()).to_owned(),
                held_at: [&p.readings.flats.front, &p.readings.flats.rear].map(|flat| {
                    let top = p.placed.datum.at(flat.back_mm, 0.0);
                    [top.x, top.y]
                }),
                has_letters: p.drawn.has_letters,
                readings: p.readings.clone(),
                landing: p.landing.clone(),
                worked: p.worked.clone(),
                hinge: p.hinge.clone(),
                hung: Some(Hung::of(p, plan, today, settings, unit)),
            })
            .collect();
        PacketSide {
            name: side.name(words),
            zero_edge: side.edge_names(words).zero,
            picture: SidePicture::of(plan),
            unmeasured: side.unmeasured_names(),
            pieces,
        }
    }
}

/// Everything that a packet shows.
pub struct Packet {
    /// The shop.
    pub shop: String,
    /// The job.
    pub title: String,
    /// Whom it is for.
    pub customer: String,
    /// `Plan 2, issued 24 Nov 2026 14:05 UTC by …`
    pub issued: String,
    /// `Printed 2 Dec 2026 08:10 UTC`
    pub printed: String,
    /// The time zone whose clock the record's hours are told by: `UTC`.
    pub clock: String,
    /// SHA-256 of what the plan froze, hexadecimal.
    pub plan_hash: String,
    /// Sides with work on them.
    pub sides: Vec<PacketSide>,
    /// Photos that are printed on what is shown, JPEG.
    pub photos: BTreeMap<Uuid, Vec<u8>>,
    /// The record up to the plan, oldest first.
    pub record: Vec<RecordLine>,
    /// What was recorded since.
    pub since: Vec<RecordLine>,
    /// Number of the newest entry of the record, 0 where there is none.
    pub latest_entry: i64,
    /// Hash of that entry, hexadecimal.
    pub latest_hash: String,
}

impl Packet {
    fn heading(&self) -> Heading<'_> {
        Heading {
            title: &self.title,
            shop: &self.shop,
            customer: &self.customer,
            issued: &self.issued,
        }
    }
}

/// The packet could not be written.
#[derive(Debug, Error)]
#[error("The packet could not be written: {0}")]
pub struct PacketError(String);

impl PacketError {
    pub(crate) fn typefaces() -> PacketError {
        PacketError("its typefaces cannot be read".into())
    }

    pub(crate) fn writing(error: &impl std::fmt::Debug) -> PacketError {
        PacketError(format!("{error:?}"))
    }
}

/// Width of a magnified window on the body, mm.
const WINDOW_MM: f64 = 700.0;

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
            for chunk in worked_chunks(&fonts, &piece.worked, size) {
                let heading = format!(
                    "{}: \u{201c}{}\u{201d}, what it meets and how that is worked",
                    side.name, piece.called
                );
                page(&mut document, &fonts, size, |sheet| {
                    worked_page(sheet, packet, &heading, chunk, size)
                });
            }
        }
        if side.pieces.is_empty() {
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

/// Both magnified windows together, points wide.
const WINDOWS_WIDE: f32 = 340.0;

fn readings_page(
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
    row(
        sheet,
        &format!("{reference} to {}", flats.front.to),
        &format!(
            "{}  at {} back",
            flats.front.wanted.text, flats.front.back.text
        ),
    );
    row(
        sheet,
        &format!("{reference} to {}", flats.rear.to),
        &format!(
            "{}  at {} back",
            flats.rear.wanted.text, flats.rear.back.text
        ),
    );
    row(
        sheet,
        &format!("{}, from the {zero}", ends[0]),
        &readings.first_letter.text,
    );
    row(
        sheet,
        &format!("{}, from the {zero}", ends[1]),
        &readings.last_letter.text,
    );
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

/// Where text of a page ends, above its foot.
const FOOT: f32 = 64.0;

/// Entries parted into pages by how high each is, none cut.
fn by_height<T>(entries: &[T], room: f32, high: impl Fn(&T) -> f32) -> Vec<&[T]> {
    let mut pages = Vec::new();
    let (mut from, mut used) = (0, 0.0);
    for (n, entry) in entries.iter().enumerate() {
        if used + high(entry) > room && n > from {
            pages.push(&entries[from..n]);
            (from, used) = (n, 0.0);
        }
        used += high(entry);
    }
    if from < entries.len() {
        pages.push(&entries[from..]);
    }
    pages
}

/// What a print meets, parted into pages.
fn worked_chunks<'w>(fonts: &Fonts, worked: &'w [Worked], size: (f32, f32)) -> Vec<&'w [Worked]> {
    let wide = size.0 - 2.0 * MARGIN - 250.0;
    let high = |met: &Worked| {
        let lines = |face, width, text: &str| fonts.lines(face, 11.0, width, text).len();
        let most = lines(Face::Bold, 150.0, &met.name).max(lines(Face::Words, wide, &met.how));
        most as f32 * 13.0 + 9.0
    };
    by_height(worked, size.1 - FOOT - 106.0, high)
}

/// What a print meets, and how each thing is worked.
fn worked_page(
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

/// The hinge that was chosen, its tape and cuts, and what is done: as many pages as it takes.
fn hinge_pages(
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
        own.map_or(&[], |p| p.film.as_slice()),
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

/// Room for who did it, points wide.
const WHO_WIDE: f32 = 80.0;

fn what_wide(size: (f32, f32)) -> f32 {
    size.0 - 2.0 * MARGIN - 236.0
}

/// A record parted into pages.
fn record_chunks<'r>(
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

fn record_page(
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
