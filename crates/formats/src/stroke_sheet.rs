//! The strokes of a piece on paper: each section with its numbered strokes and what is done, the rivet work, what to know first.

use krilla::Document;
use serde::{Deserialize, Serialize};
use uuid::Uuid;
use windrift_core::floor::lay_down::{LayDown, SectionStrokes};
use windrift_core::floor::strokes::StrokeKind;
use windrift_core::plan::planned::{PlannedPiece, SidePlan};

use crate::paper::{PacketError, Paper};
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{
    FOOT, Face, Fonts, Heading, Ink, MARGIN, Sheet, by_height, footer, header, page, tag_box,
};

/// Where the list of strokes begins, points down the page.
const LISTED: f32 = 322.0;
/// Room for a stroke's number, points.
const NUMBER: f32 = 30.0;
/// From one line of a stroke to the next, points.
const LEADING: f32 = 12.0;
/// Columns of a page.
const COLUMNS: usize = 2;
/// Size of a stroke's number at its line, points.
const TAG: f32 = 7.0;
/// Places along a stroke where its number may stand.
const PLACES: usize = 8;

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

/// The strokes of a piece as they are told on paper: made when the plan is issued, and printed from what was kept then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct StrokesPaper {
    sections: Vec<SectionPaper>,
    /// Air that has no way out, what comes before, what afterwards, the rivets.
    told: Vec<String>,
    caution: String,
}

#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
struct SectionPaper {
    called: String,
    corners: [[f64; 2]; 4],
    strokes: Vec<StrokePaper>,
    proof: String,
}

#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
struct StrokePaper {
    number: u32,
    /// Pressed into a crease.
    crease: bool,
    /// From where it begins, in the picture frame, mm.
    path: Vec<[f64; 2]>,
    /// What it presses, in the picture frame, mm.
    shape: Vec<[f64; 2]>,
    /// What is met there.
    reached: Vec<String>,
    /// What is done.
    sentence: String,
}

impl StrokesPaper {
    /// What paper tells of how a piece is laid down.
    pub fn of(lay_down: &LayDown) -> StrokesPaper {
        StrokesPaper {
            sections: lay_down.sections.iter().map(SectionPaper::of).collect(),
            told: told(lay_down).collect(),
            caution: lay_down.rivets.caution.to_owned(),
        }
    }
}

impl SectionPaper {
    fn of(section: &SectionStrokes) -> SectionPaper {
        // A tenth of a millimetre is finer than paper shows.
        let at = |points: &[[f64; 2]]| -> Vec<[f64; 2]> {
            points
                .iter()
                .map(|p| p.map(|v| (v * 10.0).round() / 10.0))
                .collect()
        };
        SectionPaper {
            called: section.called.clone(),
            corners: section.corners,
            strokes: (section.strokes.iter())
                .map(|s| StrokePaper {
                    number: s.number,
                    crease: s.kind == StrokeKind::Crease,
                    path: at(&s.path),
                    shape: at(&s.shape),
                    reached: s.reached.clone(),
                    sentence: s.sentence.clone(),
                })
                .collect(),
            proof: section.proof.clone(),
        }
    }
}

/// Writes the sheet as PDF: for each section its picture and strokes, and a last page for rivets.
pub fn write(strokes: &StrokeSheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let heading = Heading {
        title: strokes.title,
        shop: strokes.shop,
        customer: strokes.customer,
        issued: "Strokes, as laid out.",
    };
    let shown = Shown {
        called: &strokes.piece.piece.called(),
        piece: strokes.piece.id,
        side: &SidePicture::of(strokes.plan),
        strokes: &StrokesPaper::of(strokes.lay_down),
    };
    pages(&mut document, &fonts, &heading, &shown, paper.size());
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// The strokes of a piece with the side that they are drawn on.
pub(crate) struct Shown<'a> {
    /// What the piece is called.
    pub called: &'a str,
    /// The piece.
    pub piece: Uuid,
    /// How the side is drawn.
    pub side: &'a SidePicture,
    /// Its strokes.
    pub strokes: &'a StrokesPaper,
}

/// Each section with its picture and strokes, and a last page for what comes before and after, and the rivets.
pub(crate) fn pages(
    document: &mut Document,
    fonts: &Fonts,
    heading: &Heading<'_>,
    shown: &Shown<'_>,
    size: (f32, f32),
) {
    let parted = shown.strokes.sections.len() > 1;
    let called = shown.called;
    let wide = (size.0 - 2.0 * MARGIN) / COLUMNS as f32;
    let room = size.1 - FOOT - LISTED;
    let list = |sheet: &mut Sheet<'_, '_>, column: usize, entries: &[Entry]| {
        let x = MARGIN + wide * column as f32;
        let mut y = LISTED;
        for entry in entries {
            sheet.text(x, y, 10.0, Face::Mono, &format!("{:>3}", entry.number));
            for (k, (face, line)) in entry.lines.iter().enumerate() {
                sheet.text(x + NUMBER, y + k as f32 * LEADING, 10.0, *face, line);
            }
            y += entry.high();
        }
    };
    let mut rest = shown.strokes.sections.iter().peekable();
    while let Some(section) = rest.next() {
        let entries = |section: &SectionPaper| -> Vec<Entry> {
            (section.strokes.iter())
                .map(|stroke| Entry::of(fonts, stroke, wide - NUMBER - 8.0))
                .collect()
        };
        let own = entries(section);
        let short = |entries: &[Entry]| entries.iter().map(Entry::high).sum::<f32>() <= room;
        // Two short sections that follow each other share a page, where the same is proven for both.
        let beside = rest
            .next_if(|next| short(&own) && short(&entries(next)) && next.proof == section.proof);
        if let Some(next) = beside {
            let what = format!(
                "{called}: strokes of section {}, and of section {}",
                section.called, next.called
            );
            page(document, fonts, size, |sheet| {
                header(sheet, heading, &what, size);
                for (n, section) in [section, next].into_iter().enumerate() {
                    let x = MARGIN + wide * n as f32;
                    let frame = [x, 96.0, x + wide - 12.0, LISTED - 22.0];
                    drawn(sheet, shown, section, 0..section.strokes.len(), frame);
                    list(sheet, n, &entries(section));
                }
                footer(sheet, &section.proof, size);
            });
            continue;
        }
        let what = if parted {
            format!("{called}: strokes of section {}", section.called)
        } else {
            format!("{called}: strokes")
        };
        let columns = by_height(&own, room, Entry::high);
        let mut first = 0;
        for beside in columns.chunks(COLUMNS) {
            let here: usize = beside.iter().map(|c| c.len()).sum();
            page(document, fonts, size, |sheet| {
                header(sheet, heading, &what, size);
                let frame = [MARGIN, 96.0, size.0 - MARGIN, LISTED - 22.0];
                drawn(sheet, shown, section, first..first + here, frame);
                for (n, column) in beside.iter().enumerate() {
                    list(sheet, n, column);
                }
                footer(sheet, &section.proof, size);
            });
            first += here;
        }
    }
    let wide = size.0 - 2.0 * MARGIN;
    let told: Vec<Vec<String>> = (shown.strokes.told.iter())
        .map(|line| fonts.lines(Face::Words, 11.0, wide, line))
        .collect();
    let high = |lines: &Vec<String>| lines.len() as f32 * 13.0 + 4.0;
    for chunk in by_height(&told, size.1 - FOOT - 106.0, high) {
        page(document, fonts, size, |sheet| {
            let what = format!("{called}: before the first stroke, afterwards, and rivets");
            header(sheet, heading, &what, size);
            let mut y = 106.0;
            for lines in chunk {
                for (n, line) in lines.iter().enumerate() {
                    sheet.text(MARGIN, y + n as f32 * 13.0, 11.0, Face::Words, line);
                }
                y += high(lines);
            }
            footer(sheet, &shown.strokes.caution, size);
        });
    }
}

/// A stroke in the list: what is met there first, then what is done.
struct Entry {
    number: u32,
    lines: Vec<(Face, String)>,
}

impl Entry {
    fn of(fonts: &Fonts, stroke: &StrokePaper, wide: f32) -> Entry {
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
fn told(lay_down: &LayDown) -> impl Iterator<Item = String> + '_ {
    let parted = lay_down.sections.len() > 1;
    let air = lay_down.sections.iter().flat_map(move |s| {
        let of = if parted {
            format!("Section {}: ", s.called)
        } else {
            String::new()
        };
        (s.shut_in.iter()).map(move |a| format!("! {of}{}", a.sentence))
    });
    let once = lay_down
        .once_it_lies
        .iter()
        .map(|o| format!("Once it lies. {o}"));
    let groups = lay_down.rivets.groups.iter().map(|g| {
        format!(
            "{}. Columns {} to {}: {}",
            g.number, g.from_column, g.to_column, g.sentence
        )
    });
    air.chain(lay_down.before.iter().cloned())
        .chain(once)
        .chain(lay_down.rivets.how.iter().cloned())
        .chain(groups)
}

/// The section with its strokes: arrows from where each begins, numbered where it begins.
fn drawn(
    sheet: &mut Sheet<'_, '_>,
    shown: &Shown<'_>,
    section: &SectionPaper,
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
    draw_side(sheet, shown.side, Some(shown.piece), on_paper);
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
        let width = if stroke.crease { 2.0 } else { 1.0 };
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
    // Each number at the first place along its stroke where it lies on no other: nearest to where the stroke begins.
    let mut taken: Vec<[f32; 4]> = Vec::new();
    for stroke in strokes_here {
        let [Some(first), Some(last)] = [stroke.path.first(), stroke.path.last()] else {
            continue;
        };
        let label = stroke.number.to_string();
        let ([x0, y0], [x1, y1]) = (at(*first), at(*last));
        let place = (0..PLACES).find_map(|n| {
            let along = n as f32 / PLACES as f32;
            let (x, y) = (x0 + (x1 - x0) * along, y0 + (y1 - y0) * along + 3.0);
            let own = tag_box(x, y, TAG, &label);
            let free = taken.iter().all(|t| apart(own, *t));
            free.then_some((x, y, own))
        });
        if let Some((x, y, own)) = place {
            taken.push(own);
            sheet.tag(x, y, TAG, &label);
        }
    }
}

/// Whether two boxes share nothing.
fn apart(a: [f32; 4], b: [f32; 4]) -> bool {
    a[2] <= b[0] || b[2] <= a[0] || a[3] <= b[1] || b[3] <= a[1]
}
