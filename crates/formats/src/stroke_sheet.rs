//! The strokes of a piece on paper: each section with its numbered strokes and what is done, the rivet work, what to know first.

use krilla::Document;
use windrift_core::floor::lay_down::{LayDown, SectionStrokes};
use windrift_core::floor::strokes::StrokeKind;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};

use crate::packet::{PacketError, Paper};
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, footer, header, page};

/// Lines in one column of a page.
const ROWS: usize = 15;
/// Columns of a page.
const COLUMNS: usize = 2;

/// What is printed.
pub struct StrokeSheet<'a> {
    /// The shop.
    pub shop: &'a str,
    /// The job.
    pub title: &'a str,
    /// Whom it is for.
    pub customer: &'a str,
    /// The side's plan, for the picture.
    pub plan: &'a SidePlan,
    /// The piece.
    pub piece: &'a PlannedPiece,
    /// How it is laid down.
    pub lay_down: &'a LayDown,
}

/// Writes the sheet as PDF: for each section its picture and strokes, and a last page for rivets.
pub fn write(strokes: &StrokeSheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let size = paper.size();
    let called = strokes.piece.piece.called();
    let heading = Heading {
        title: strokes.title,
        shop: strokes.shop,
        customer: strokes.customer,
        issued: "Strokes, as laid out.",
    };
    for section in &strokes.lay_down.sections {
        for (n, chunk) in section.strokes.chunks(ROWS * COLUMNS).enumerate() {
            page(&mut document, &fonts, size, |sheet| {
                let what = if strokes.lay_down.sections.len() > 1 {
                    format!("{called}: section {}", section.called)
                } else {
                    called.clone()
                };
                header(sheet, &heading, &what, size);
                drawn(
                    sheet,
                    strokes,
                    section,
                    n * ROWS * COLUMNS..n * ROWS * COLUMNS + chunk.len(),
                    [MARGIN, 96.0, size.0 - MARGIN, 300.0],
                );
                let wide = (size.0 - 2.0 * MARGIN) / COLUMNS as f32;
                for (row, stroke) in chunk.iter().enumerate() {
                    let x = MARGIN + wide * (row / ROWS) as f32;
                    let y = 322.0 + 14.0 * (row % ROWS) as f32;
                    sheet.text(x, y, 10.0, Face::Mono, &format!("{:>3}", stroke.number));
                    let words: String = stroke.sentence.chars().take(66).collect();
                    sheet.text(x + 30.0, y, 10.0, Face::Words, &words);
                }
                let mut foot = section.proof.clone();
                if let Some(air) = section.shut_in.first() {
                    foot = air.sentence.chars().take(150).collect();
                }
                footer(sheet, &foot, size);
            });
        }
    }
    page(&mut document, &fonts, size, |sheet| {
        header(
            sheet,
            &heading,
            &format!("{called}: before the first stroke, and rivets"),
            size,
        );
        let mut y = 106.0;
        let rivets = &strokes.lay_down.rivets;
        let groups = rivets.groups.iter().map(|g| {
            format!(
                "{}. Columns {} to {}: {}",
                g.number, g.from_column, g.to_column, g.sentence
            )
        });
        let sections = &strokes.lay_down.sections;
        let parted = sections.len() > 1;
        let reached = sections.iter().flat_map(|s| {
            let of = if parted {
                format!(" of section {}", s.called)
            } else {
                String::new()
            };
            s.strokes
                .iter()
                .flat_map(|st| {
                    st.reached
                        .iter()
                        .map(|r| (st.number, r))
                        .collect::<Vec<_>>()
                })
                .map(move |(n, r)| format!("At stroke {n}{of}. {r}"))
        });
        let once = strokes.lay_down.once_it_lies.iter();
        let lines = strokes
            .lay_down
            .before
            .iter()
            .cloned()
            .chain(reached)
            .chain(once.map(|o| format!("Once it lies. {o}")))
            .chain(rivets.how.iter().cloned())
            .chain(groups);
        for line in lines.take(26) {
            let words: String = line.chars().take(130).collect();
            sheet.text(MARGIN, y, 11.0, Face::Words, &words);
            y += 16.0;
        }
        footer(sheet, rivets.caution, size);
    });
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// The section with its strokes: arrows from where each begins, numbered where it begins.
fn drawn(
    sheet: &mut Sheet<'_, '_>,
    strokes: &StrokeSheet<'_>,
    section: &SectionStrokes,
    which: std::ops::Range<usize>,
    frame: [f32; 4],
) {
    let corners = section.corners.map(|[x, y]| kurbo::Point::new(x, y));
    let bounds = corners
        .iter()
        .fold(kurbo::Rect::from_points(corners[0], corners[2]), |r, p| {
            r.union_pt(*p)
        })
        .inflate(20.0, 20.0);
    let on_paper = OnPaper::fit(bounds, frame);
    let at = |[x, y]: [f64; 2]| on_paper.at(x, y);
    sheet.clip(frame);
    draw_side(
        sheet,
        &SidePicture::of(strokes.plan),
        Some(strokes.piece.id),
        on_paper,
    );
    sheet.unclip();
    sheet.polygon(&section.corners.map(at), true, Ink::line(0, 0.8).dashed());
    for stroke in section.strokes.get(which).unwrap_or_default() {
        let points: Vec<[f32; 2]> = stroke.path.iter().map(|p| at(*p)).collect();
        let width = if stroke.kind == StrokeKind::Crease {
            2.0
        } else {
            1.0
        };
        sheet.polygon(&points, false, Ink::line(0, width));
        if let [.., before, last] = points[..] {
            let (dx, dy) = (last[0] - before[0], last[1] - before[1]);
            let long = dx.hypot(dy).max(0.1);
            let (ux, uy) = (dx / long * 5.0, dy / long * 5.0);
            let head = [
                last,
                [last[0] - ux - uy * 0.5, last[1] - uy + ux * 0.5],
                [last[0] - ux + uy * 0.5, last[1] - uy - ux * 0.5],
            ];
            sheet.polygon(&head, true, Ink::solid(0));
        }
    }
    for stroke in section.strokes.iter() {
        if let (true, Some(first)) = (section.strokes.len() <= 60, stroke.path.first()) {
            let [x, y] = at(*first);
            sheet.tag(x, y + 3.0, 7.0, &stroke.number.to_string());
        }
    }
}
