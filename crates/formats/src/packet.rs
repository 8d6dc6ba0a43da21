//! The job packet as PDF: picture with readings, hinge and cuts, and the record so far. Readable in black and white.

use std::collections::BTreeMap;

use krilla::Document;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;
use windrift_core::ground::said::plainly;
use windrift_core::ground::settings::SideWords;
use windrift_core::ground::told::first_capital;
use windrift_core::place::flats::FlatsAt;
use windrift_core::place::landing::Landing;
use windrift_core::plan::planned::SidePlan;
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
}

impl PacketSide {
    /// Photos that are printed on its pieces.
    pub fn photos(&self) -> impl Iterator<Item = Uuid> + '_ {
        let printed = self.picture.pieces.iter().filter_map(|p| p.printed);
        printed.map(|(photo, _)| photo)
    }

    /// A side as it is planned now.
    pub fn of(plan: &SidePlan, words: SideWords) -> PacketSide {
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

const RECORD_LINES: usize = 26;
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
            page(&mut document, &fonts, size, |sheet| {
                hinge_page(sheet, packet, side, piece, size)
            });
            for chunk in piece.worked.chunks(WORKED_LINES) {
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
            (false, _) => record.chunks(RECORD_LINES).collect(),
        };
        for lines in chunks {
            page(&mut document, &fonts, size, |sheet| {
                record_page(sheet, packet, heading, lines, size)
            });
        }
    }
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// Characters of a line under the picture that the paper holds.
const RULE_LINE: usize = 130;

/// Characters of a line under the windows.
const MADE_LINE: usize = 76;

/// Text in lines of at most so many characters, broken between words.
fn lines_of(text: &str, most: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        match lines.last_mut() {
            Some(line) if line.chars().count() + 1 + word.chars().count() <= most => {
                line.push(' ');
                line.push_str(word);
            }
            _ => lines.push(word.to_owned()),
        }
    }
    lines
}

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
    let frame = [MARGIN, 104.0, size.0 - MARGIN, 330.0];
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
    for (n, line) in lines_of(&piece.rule, RULE_LINE).iter().take(2).enumerate() {
        sheet.text(MARGIN, 345.0 + n as f32 * 12.0, 10.0, Face::Words, line);
    }
    let left = MARGIN;
    let mut y = 376.0;
    if !side.unmeasured.is_empty() {
        let told = format!(
            "! Not measured yet: {}. Measure before cutting.",
            side.unmeasured.join(", ")
        );
        sheet.text(left, y, 10.0, Face::Bold, &told);
        y += 16.0;
    }
    let mut row = |sheet: &mut Sheet<'_, '_>, label: &str, value: &str| {
        sheet.text(left, y, 10.0, Face::Words, label);
        sheet.text(left + 196.0, y, 10.0, Face::Mono, value);
        y += 16.0;
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
    sheet.text(left, y, 9.0, Face::Words, marked);
    made_as(sheet, piece, size);
    windows(sheet, &side.picture, piece, size);
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
fn made_as(sheet: &mut Sheet<'_, '_>, piece: &PacketPiece, size: (f32, f32)) {
    let lines = lines_of(&piece.made_as.join(" "), MADE_LINE);
    let (left, from) = (size.0 - MARGIN - 340.0, 528.0);
    let room = ((size.1 - 50.0 - from) / 11.0).max(0.0) as usize;
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
fn windows(sheet: &mut Sheet<'_, '_>, side: &SidePicture, piece: &PacketPiece, size: (f32, f32)) {
    let flats = [&piece.readings.flats.front, &piece.readings.flats.rear];
    // In the order in which they stand on the body as it is seen.
    let ordered = if flats[0].at[0] <= flats[1].at[0] {
        flats
    } else {
        [flats[1], flats[0]]
    };
    let (width, height) = (165.0, 150.0);
    for (n, flat) in ordered.into_iter().enumerate() {
        let x0 = size.0 - MARGIN - (2 - n) as f32 * (width + 10.0) + 10.0;
        let frame = [x0, 352.0, x0 + width, 352.0 + height];
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
        let which = &flat.to;
        sheet.text(
            x0,
            frame[3] + 12.0,
            9.0,
            Face::Words,
            &format!(
                "{which}, {} back, 1 : {:.0}",
                flat.back.text,
                on_paper.ratio()
            ),
        );
    }
}

/// Lines of what a print meets on one page.
const WORKED_LINES: usize = 16;

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
        sheet.text(MARGIN, y, 11.0, Face::Bold, &first_capital(&met.name));
        sheet.text(MARGIN + 160.0, y, 11.0, Face::Mono, &met.length.text);
        for line in lines_of(&met.how, 84) {
            sheet.text(MARGIN + 240.0, y, 11.0, Face::Words, &line);
            y += 13.0;
        }
        y += 13.0;
    }
    footer(
        sheet,
        "Ways of working are common practice, no source; the film's data sheet decides. A blade never touches paint: tape or a guard under every cut. Heat by the film's data sheet, never near solvent.",
        size,
    );
}

fn hinge_page(
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
            "{}: \u{201c}{}\u{201d}, top hinge and parting cuts",
            side.name, piece.called
        ),
        size,
    );
    let hinge = &piece.hinge;
    let points = hinge
        .carrier
        .iter()
        .chain(&hinge.tape)
        .chain(hinge.tabs.iter().flatten());
    let around = points
        .map(|p| kurbo::Rect::from_points((p[0], p[1]), (p[0], p[1])))
        .reduce(|a, b| a.union(b))
        .unwrap_or_default();
    let on_paper = OnPaper::fit(
        around.inflate(30.0, 30.0),
        [MARGIN, 100.0, size.0 - MARGIN, 330.0],
    );
    let corners = |c: &[[f64; 2]; 4]| c.map(|p| on_paper.at(p[0], p[1]));
    sheet.polygon(
        &corners(&hinge.tape),
        true,
        Ink {
            fill: Some(222),
            ..Ink::line(120, 0.5)
        },
    );
    for tab in &hinge.tabs {
        sheet.polygon(
            &corners(tab),
            true,
            Ink {
                fill: Some(205),
                ..Ink::line(60, 0.6)
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
    for (n, cut) in (1..).zip(hinge.cuts.iter().filter(|c| c.line.is_some())) {
        if let Some([a, b]) = cut.line {
            let (a, b) = (on_paper.at(a[0], a[1]), on_paper.at(b[0], b[1]));
            sheet.line(a, b, Ink::line(0, 1.2));
            sheet.text(b[0] - 3.0, b[1] + 11.0, 9.0, Face::Bold, &n.to_string());
        }
    }
    let mut y = 366.0;
    let mut row = |sheet: &mut Sheet<'_, '_>, label: &str, value: String| {
        sheet.text(MARGIN, y, 10.0, Face::Words, label);
        sheet.text(MARGIN + 170.0, y, 11.0, Face::Mono, &value);
        y += 16.0;
    };
    row(sheet, "Tape along the top edge", hinge.run.text.clone());
    row(
        sheet,
        "In pieces",
        format!("{} of {}", hinge.pieces, hinge.piece.text),
    );
    row(
        sheet,
        "Tape width, half on the piece",
        hinge.tape_width.text.clone(),
    );
    row(
        sheet,
        "Upper edge of the tape, down",
        hinge.tape_top.text.clone(),
    );
    row(sheet, "Corner tabs", format!("2 of {}", hinge.tab.text));
    row(sheet, "Tape in all", hinge.total.text.clone());
    for trouble in hinge.troubles.iter().take(3) {
        sheet.text(MARGIN, y, 9.0, Face::Bold, trouble);
        y += 13.0;
    }
    let mut number = 0;
    let told = hinge.cuts.iter().filter(|c| !c.sentence.is_empty());
    for (n, cut) in told.take(24).enumerate() {
        let (column, line) = (n / 12, n % 12);
        let label = if cut.line.is_some() {
            number += 1;
            format!("{number}.  {}", cut.sentence)
        } else {
            format!("\u{2013}  {}", cut.sentence)
        };
        sheet.text(
            MARGIN + 300.0 + column as f32 * 215.0,
            366.0 + line as f32 * 14.0,
            8.0,
            Face::Words,
            &label,
        );
    }
    footer(
        sheet,
        "Knife: cut away from your hand, through the transfer tape only, never into paint. Lock the hinge before the liner comes off.",
        size,
    );
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
    for (n, line) in lines.iter().enumerate() {
        let y = 104.0 + n as f32 * 16.0;
        sheet.text(MARGIN, y, 9.0, Face::Mono, &line.seq.to_string());
        sheet.text(MARGIN + 32.0, y, 9.0, Face::Words, &line.at);
        sheet.text(MARGIN + 150.0, y, 9.0, Face::Words, &line.who);
        sheet.text(MARGIN + 230.0, y, 9.0, Face::Words, &line.what);
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
