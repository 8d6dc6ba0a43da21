//! The strokes of a piece on paper: each section with its numbered strokes and what is done, the rivet work, what to know first.

use krilla::Document;
use windrift_core::floor::lay_down::{LayDown, SectionStrokes, StrokeShown};
use windrift_core::floor::strokes::StrokeKind;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};

use crate::paper::{PacketError, Paper};
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{
    FOOT, Face, Fonts, Heading, Ink, MARGIN, Sheet, by_height, footer, header, page,
};

/// Where the list of strokes begins, points down the page.
const LISTED: f32 = 322.0;
/// Room for a stroke's number, points.
const NUMBER: f32 = 30.0;
/// From one line of a stroke to the next, points.
const LEADING: f32 = 12.0;
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
    let parted = strokes.lay_down.sections.len() > 1;
    for section in &strokes.lay_down.sections {
        let what = if parted {
            format!("{called}: section {}", section.called)
        } else {
            called.clone()
        };
        let wide = (size.0 - 2.0 * MARGIN) / COLUMNS as f32;
        let entries: Vec<Entry> = (section.strokes.iter())
            .map(|stroke| Entry::of(&fonts, stroke, wide - NUMBER - 8.0))
            .collect();
        let columns = by_height(&entries, size.1 - FOOT - LISTED, Entry::high);
        let mut first = 0;
        for beside in columns.chunks(COLUMNS) {
            let shown: usize = beside.iter().map(|c| c.len()).sum();
            page(&mut document, &fonts, size, |sheet| {
                header(sheet, &heading, &what, size);
                let frame = [MARGIN, 96.0, size.0 - MARGIN, LISTED - 22.0];
                drawn(sheet, strokes, section, first..first + shown, frame);
                for (n, column) in beside.iter().enumerate() {
                    let x = MARGIN + wide * n as f32;
                    let mut y = LISTED;
                    for entry in *column {
                        sheet.text(x, y, 10.0, Face::Mono, &format!("{:>3}", entry.number));
                        for (k, (face, line)) in entry.lines.iter().enumerate() {
                            sheet.text(x + NUMBER, y + k as f32 * LEADING, 10.0, *face, line);
                        }
                        y += entry.high();
                    }
                }
                footer(sheet, &section.proof, size);
            });
            first += shown;
        }
    }
    let wide = size.0 - 2.0 * MARGIN;
    let told: Vec<Vec<String>> = told(strokes, parted)
        .map(|line| fonts.lines(Face::Words, 11.0, wide, &line))
        .collect();
    let high = |lines: &Vec<String>| lines.len() as f32 * 13.0 + 4.0;
    for chunk in by_height(&told, size.1 - FOOT - 106.0, high) {
        page(&mut document, &fonts, size, |sheet| {
            let what = format!("{called}: before the first stroke, afterwards, and rivets");
            header(sheet, &heading, &what, size);
            let mut y = 106.0;
            for lines in chunk {
                for (n, line) in lines.iter().enumerate() {
                    sheet.text(MARGIN, y + n as f32 * 13.0, 11.0, Face::Words, line);
                }
                y += high(lines);
            }
            footer(sheet, strokes.lay_down.rivets.caution, size);
        });
    }
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// A stroke in the list: what is met there first, then what is done.
struct Entry {
    number: u32,
    lines: Vec<(Face, String)>,
}

impl Entry {
    fn of(fonts: &Fonts, stroke: &StrokeShown, wide: f32) -> Entry {
        let met = stroke
            .reached
            .iter()
            .map(|r| (Face::Bold, format!("! {r}")));
        let lines = met
            .chain([(Face::Words, stroke.sentence.clone())])
            .flat_map(|(face, text)| {
                let lines = fonts.lines(face, 10.0, wide, &text);
                lines.into_iter().map(move |line| (face, line))
            })
            .collect();
        Entry {
            number: stroke.number,
            lines,
        }
    }

    fn high(&self) -> f32 {
        self.lines.len().max(1) as f32 * LEADING + 2.0
    }
}

/// What is told beside the strokes: air that has no way out, what comes before, what afterwards, the rivets.
fn told<'s>(strokes: &'s StrokeSheet<'_>, parted: bool) -> impl Iterator<Item = String> + 's {
    let told = strokes.lay_down;
    let air = told.sections.iter().flat_map(move |s| {
        let of = if parted {
            format!("Section {}: ", s.called)
        } else {
            String::new()
        };
        (s.shut_in.iter()).map(move |a| format!("! {of}{}", a.sentence))
    });
    let once = told
        .once_it_lies
        .iter()
        .map(|o| format!("Once it lies. {o}"));
    let groups = told.rivets.groups.iter().map(|g| {
        format!(
            "{}. Columns {} to {}: {}",
            g.number, g.from_column, g.to_column, g.sentence
        )
    });
    air.chain(told.before.iter().cloned())
        .chain(once)
        .chain(told.rivets.how.iter().cloned())
        .chain(groups)
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
    let strokes_here = section.strokes.get(which).unwrap_or_default();
    // What each presses, which is what the proof below is about.
    for stroke in strokes_here.iter().filter(|s| !s.shape.is_empty()) {
        let corners: Vec<[f32; 2]> = stroke.shape.iter().map(|p| at(*p)).collect();
        sheet.polygon(&corners, true, Ink::line(110, 0.4));
    }
    for stroke in strokes_here {
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
