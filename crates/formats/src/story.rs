//! The story tape on paper: a list of running distances, and a strip at full size to be cut, joined and taped along the datum.

use krilla::Document;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::story::Story;

use crate::paper::{PacketError, Paper};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, footer, header, page};

/// Points in a millimetre.
const POINT: f32 = 72.0 / 25.4;
/// Marks on one page of the list.
const ROWS: usize = 23;
/// How far one length of strip laps over the next, mm.
const LAP_MM: f32 = 15.0;
/// Height of one length of strip, points.
const STRIP: f32 = 150.0;
/// The check length, mm and inches.
const CHECK: (f32, f32) = (100.0, 4.0 * 25.4);

/// What is printed.
pub struct StorySheet<'a> {
    /// The shop.
    pub shop: &'a str,
    /// The job.
    pub title: &'a str,
    /// Whom it is for.
    pub customer: &'a str,
    /// The side.
    pub side: &'a str,
    /// The job's unit.
    pub unit: Unit,
    /// The stories, one for each datum.
    pub stories: &'a [Story],
}

impl StorySheet<'_> {
    fn heading(&self) -> Heading<'_> {
        Heading {
            title: self.title,
            shop: self.shop,
            customer: self.customer,
            issued: "Story tape, as laid out.",
        }
    }
}

/// Writes the list as PDF: every mark with its running distance, the gap before it and what is read down there.
pub fn write_list(story: &StorySheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let size = paper.size();
    for one in story.stories {
        for chunk in one.marks.chunks(ROWS) {
            page(&mut document, &fonts, size, |sheet| {
                let what = format!("{}: running distances along the {}", story.side, one.datum);
                header(sheet, &story.heading(), &what, size);
                let columns = [MARGIN, size.0 - 250.0, size.0 - 170.0, size.0 - 90.0];
                for (x, title) in columns
                    .iter()
                    .zip(["Mark", "Running", "From the last", "Down"])
                {
                    sheet.text(*x, 104.0, 9.0, Face::Bold, title);
                }
                let mut y = 122.0;
                for mark in chunk {
                    let name: String = mark.name.chars().take(46).collect();
                    sheet.text(columns[0], y, 11.0, Face::Words, &name);
                    sheet.text(columns[1], y, 11.0, Face::Mono, &mark.running.text);
                    sheet.text(columns[2], y, 9.0, Face::Mono, &mark.gap.text);
                    let down = mark.down.as_ref().map_or(String::new(), |d| d.text.clone());
                    sheet.text(columns[3], y, 11.0, Face::Mono, &down);
                    sheet.line(
                        [MARGIN, y + 5.0],
                        [size.0 - MARGIN, y + 5.0],
                        Ink::line(190, 0.4),
                    );
                    y += 18.0;
                }
                footer(
                    sheet,
                    "Hold the tape's zero at the first edge and do not move it between marks. Chock the vehicle and take the key; mind steps and traffic.",
                    size,
                );
            });
        }
    }
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// Lengths of strip and how many go on a page for a paper.
struct Strips {
    /// Length of strip that is new on each, points.
    run: f32,
    /// Strips on a page.
    on_page: usize,
    size: (f32, f32),
}

impl Strips {
    fn of(paper: Paper) -> Strips {
        // Pages lie on their side: the long edge carries the tape.
        let (long, short) = paper.size();
        let room = long - 2.0 * MARGIN - LAP_MM * POINT;
        Strips {
            // Whole millimetres, so that a strip begins at a figure that can be checked.
            run: (room / POINT).floor() * POINT,
            on_page: ((short - 120.0) / STRIP).floor().max(1.0) as usize,
            size: (long, short),
        }
    }
}

/// Pages of the strip for a datum of a length, mm.
pub fn strip_pages(length_mm: f64, paper: Paper) -> usize {
    let strips = Strips::of(paper);
    let lengths = (length_mm as f32 * POINT / strips.run).ceil().max(1.0) as usize;
    lengths.div_ceil(strips.on_page)
}

/// Writes the strip as PDF at full size: ticks, marks with their running distance, laps to join by, and a check length on every page.
pub fn write_strip(story: &StorySheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let strips = Strips::of(paper);
    for one in story.stories {
        let length = one.length.mm as f32 * POINT;
        let lengths = (length / strips.run).ceil().max(1.0) as usize;
        let numbers: Vec<usize> = (0..lengths).collect();
        for on_page in numbers.chunks(strips.on_page) {
            page(&mut document, &fonts, strips.size, |sheet| {
                let title = format!(
                    "{}, {}: story strip along the {}",
                    story.title, story.side, one.datum
                );
                sheet.text(MARGIN, 34.0, 12.0, Face::Bold, &title);
                check_length(sheet, story.unit, strips.size);
                for (place, number) in on_page.iter().enumerate() {
                    let top = 66.0 + place as f32 * STRIP;
                    strip(sheet, story.unit, one, &strips, *number, lengths, top);
                }
            });
        }
    }
    document.finish().map_err(|e| PacketError::writing(&e))
}

fn check_length(sheet: &mut Sheet<'_, '_>, unit: Unit, size: (f32, f32)) {
    let (mm, words) = if unit == Unit::Millimetre {
        (
            CHECK.0,
            "This line must measure 100 mm. If it does not, print at full size (100 %).",
        )
    } else {
        (
            CHECK.1,
            "This line must measure 4 in. If it does not, print at full size (100 %).",
        )
    };
    let y = size.1 - 26.0;
    sheet.line([MARGIN, y], [MARGIN + mm * POINT, y], Ink::line(0, 1.2));
    for x in [MARGIN, MARGIN + mm * POINT] {
        sheet.line([x, y - 6.0], [x, y + 6.0], Ink::line(0, 1.2));
    }
    sheet.text(MARGIN + mm * POINT + 10.0, y + 3.0, 9.0, Face::Words, words);
}

/// One length of the strip: from its running distance to the next one's, and the lap.
fn strip(
    sheet: &mut Sheet<'_, '_>,
    unit: Unit,
    story: &Story,
    strips: &Strips,
    number: usize,
    of: usize,
    top: f32,
) {
    let from = number as f32 * strips.run;
    let lap = LAP_MM * POINT;
    let to = (from + strips.run + lap).min(story.length.mm as f32 * POINT + 1.0);
    let x = |run: f32| MARGIN + run - from;
    sheet.text(
        MARGIN,
        top + 10.0,
        9.0,
        Face::Bold,
        &format!("Strip {} of {of}", number + 1),
    );
    let tape = top + 20.0;
    sheet.line([x(from), tape], [x(to), tape], Ink::line(0, 1.4));
    // Ticks of the tape: inches with halves, or centimetres.
    let step = if unit == Unit::Millimetre {
        10.0 * POINT
    } else {
        12.7 * POINT
    };
    let first = (from / step).ceil() as u32;
    for n in first..=(to / step).floor() as u32 {
        let at = x(n as f32 * step);
        let whole = if unit == Unit::Millimetre {
            n % 10 == 0
        } else {
            n % 2 == 0
        };
        sheet.line(
            [at, tape],
            [at, tape + if whole { 10.0 } else { 5.0 }],
            Ink::line(90, 0.6),
        );
        if whole {
            let words = if unit == Unit::Millimetre {
                format!("{}", n * 10)
            } else {
                format!("{}", n / 2)
            };
            sheet.text(at + 1.5, tape + 17.0, 6.0, Face::Mono, &words);
        }
    }
    // Where it laps over the next: the two dashed lines must meet.
    for (run, words) in [
        (from, "lap"),
        (from + strips.run, "lay the next strip's first line here"),
    ] {
        if run > 0.5 && run < story.length.mm as f32 * POINT - 0.5 {
            sheet.line(
                [x(run), top + 12.0],
                [x(run), top + STRIP - 16.0],
                Ink::line(0, 0.7).dashed(),
            );
            if run > from {
                sheet.text(x(run) - 118.0, top + STRIP - 10.0, 7.0, Face::Words, words);
            }
        }
    }
    let here: Vec<_> = story
        .marks
        .iter()
        .filter(|m| {
            let run = m.running.mm as f32 * POINT;
            run >= from - 0.01 && run <= from + strips.run
        })
        .collect();
    for (n, mark) in here.iter().enumerate() {
        let at = x(mark.running.mm as f32 * POINT);
        // Names one under the other, so that marks close together can all be read.
        let y = tape + 34.0 + (n % 5) as f32 * 16.0;
        sheet.line([at, tape - 6.0], [at, y], Ink::line(0, 1.0));
        let down = mark
            .down
            .as_ref()
            .map_or(String::new(), |d| format!(", {} down", d.text));
        let words: String = format!("{}  {}{down}", mark.running.text, mark.name)
            .chars()
            .take(60)
            .collect();
        // Near the right end the words stand to the left of their line.
        let right_edge = strips.size.0 - MARGIN;
        let width = words.chars().count() as f32 * 4.3;
        let left = if at + width > right_edge {
            at - width - 3.0
        } else {
            at + 3.0
        };
        sheet.text(left.max(MARGIN), y, 8.0, Face::Words, &words);
    }
}
