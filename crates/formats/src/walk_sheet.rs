//! The walk round on paper: what was found where, the hardware list with boxes to tick, and the customer's signature.

use std::collections::BTreeMap;

use krilla::Document;
use uuid::Uuid;
use windrift_core::plan::planned::SidePlan;
use windrift_core::vehicle::walk_round::{Damage, HardwareLine, HardwareStanding, SignOff};

use crate::paper::{PacketError, Paper};
use crate::picture::{SidePicture, picture};
use crate::sheet::{
    FOOT, Face, Fonts, Heading, Ink, MARGIN, Sheet, by_height, footer, header, page,
};

/// One finding, with its length and place as printed.
pub struct Finding {
    /// Its number on this side. It never changes, whatever is struck.
    pub number: u32,
    /// What was found.
    pub damage: Damage,
    /// How far back, printed.
    pub back: String,
    /// How far down, printed.
    pub drop: String,
    /// How large, printed.
    pub size: String,
    /// Why it was struck; nothing where it stands.
    pub struck: Option<String>,
}

/// One side of the walk round.
pub struct WalkSide<'a> {
    /// What the side is called here.
    pub name: String,
    /// Its plan, for the picture.
    pub plan: &'a SidePlan,
    /// What was found on it, in the order of its numbers; struck ones too.
    pub findings: Vec<Finding>,
    /// Doubts about its paint.
    pub doubts: Vec<String>,
    /// What follows from its surface: film, magnets, heat.
    pub surface: Vec<String>,
    /// Photos of the side before work, with what each shows.
    pub photos: Vec<(Uuid, String)>,
    /// Its hardware.
    pub hardware: Vec<HardwareLine>,
}

/// Everything that the sheet shows.
pub struct WalkSheet<'a> {
    /// The shop.
    pub shop: String,
    /// The job.
    pub title: String,
    /// Whom it is for.
    pub customer: String,
    /// `As recorded on 24 Nov 2026 14:05 UTC.`
    pub stated: String,
    /// The sides.
    pub sides: Vec<WalkSide<'a>>,
    /// Photos of findings and sides, JPEG.
    pub photos: BTreeMap<Uuid, Vec<u8>>,
    /// The newest sign-off, with when it was signed.
    pub signed: Option<(SignOff, String)>,
    /// Each finding that the signature stands under, in a line; where nothing is signed, each that stands.
    pub agreed: Vec<String>,
    /// What was added or struck since it was signed, in lines.
    pub since: Vec<String>,
}

/// Writes the sheet as PDF: for each side what was found, its photos and its hardware, and a last page to sign.
pub fn write(walk: &WalkSheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open()
        .ok_or_else(PacketError::typefaces)?
        .with_photos(&walk.photos);
    let mut document = Document::new();
    let size = paper.size();
    let heading = Heading {
        title: &walk.title,
        shop: &walk.shop,
        customer: &walk.customer,
        issued: &walk.stated,
    };
    for side in &walk.sides {
        findings_pages(&mut document, &fonts, &heading, side, size);
        photo_pages(&mut document, &fonts, &heading, side, size);
        let rows: Vec<HardwareRow<'_>> = (side.hardware.iter())
            .map(|line| HardwareRow::of(&fonts, line, size))
            .collect();
        for chunk in by_height(&rows, size.1 - FOOT - HARDWARE_FROM, HardwareRow::high) {
            page(&mut document, &fonts, size, |sheet| {
                hardware_page(sheet, &heading, side, chunk, size)
            });
        }
    }
    sign_pages(&mut document, &fonts, &heading, walk, size);
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// From one line to the next, points.
const LEADING: f32 = 12.0;
/// Columns of a finding: number, what, how large, where, a word about it.
const COLUMNS: [f32; 5] = [0.0, 24.0, 150.0, 225.0, 400.0];

/// A row of the list of findings, its cells set in lines.
struct Row {
    number: Option<u32>,
    cells: Vec<(f32, Face, Vec<String>)>,
    struck: bool,
}

impl Row {
    fn of(fonts: &Fonts, finding: &Finding, wide: f32) -> Row {
        let place = format!("{} back, {} down", finding.back, finding.drop);
        let mut note = finding.damage.note.clone();
        if finding.damage.photo.is_some() {
            note = format!("{note} (photo {})", finding.number)
                .trim()
                .to_owned();
        }
        let words = [
            (Face::Bold, finding.number.to_string()),
            (Face::Words, finding.damage.damage.name().to_owned()),
            (Face::Mono, finding.size.clone()),
            (Face::Words, place),
            (Face::Words, note),
        ];
        let mut cells: Vec<(f32, Face, Vec<String>)> = Vec::new();
        for (n, (face, text)) in words.into_iter().enumerate() {
            let to = COLUMNS.get(n + 1).copied().unwrap_or(wide);
            let lines = fonts.lines(face, 10.0, to - COLUMNS[n] - 8.0, &text);
            cells.push((COLUMNS[n], face, lines));
        }
        if let Some(why) = &finding.struck {
            let told = format!("Struck: {why}");
            let lines = fonts.lines(Face::Words, 9.0, wide - COLUMNS[4], &told);
            if let Some((_, _, note)) = cells.last_mut() {
                note.extend(lines);
            }
        }
        Row {
            number: Some(finding.number),
            cells,
            struck: finding.struck.is_some(),
        }
    }

    fn told(fonts: &Fonts, text: &str, wide: f32) -> Row {
        Row {
            number: None,
            cells: vec![(0.0, Face::Words, fonts.lines(Face::Words, 10.0, wide, text))],
            struck: false,
        }
    }

    fn high(&self) -> f32 {
        let lines = self.cells.iter().map(|(_, _, l)| l.len()).max();
        lines.unwrap_or(1).max(1) as f32 * LEADING + 4.0
    }

    fn draw(&self, sheet: &mut Sheet<'_, '_>, y: f32) {
        for (n, (x, face, lines)) in self.cells.iter().enumerate() {
            for (k, line) in lines.iter().enumerate() {
                let (x, y) = (MARGIN + x, y + k as f32 * LEADING);
                sheet.text(x, y, 10.0, *face, line);
                // What is struck stays to be read; only why it was struck is not struck.
                if self.struck && (n < 4 || !line.starts_with("Struck:")) && k == 0 {
                    let wide = sheet.fonts.width(*face, 10.0, line);
                    sheet.line([x, y - 3.2], [x + wide, y - 3.2], Ink::line(0, 0.8));
                }
            }
        }
    }
}

fn findings_pages(
    document: &mut Document,
    fonts: &Fonts,
    heading: &Heading<'_>,
    side: &WalkSide<'_>,
    size: (f32, f32),
) {
    const FROM: f32 = 334.0;
    let wide = size.0 - 2.0 * MARGIN;
    let mut rows: Vec<Row> = (side.findings.iter())
        .map(|f| Row::of(fonts, f, wide))
        .collect();
    if side.findings.iter().all(|f| f.struck.is_some()) {
        rows.insert(
            0,
            Row::told(fonts, "No damage was found on this side.", wide),
        );
    }
    let told = side.doubts.iter().map(|d| format!("Paint: {d}"));
    rows.extend(
        told.chain(side.surface.iter().cloned())
            .map(|text| Row::told(fonts, &text, wide)),
    );
    for chunk in by_height(&rows, size.1 - FOOT - FROM, Row::high) {
        page(document, fonts, size, |sheet| {
            let what = format!("{}: what was there before work", side.name);
            header(sheet, heading, &what, size);
            let frame = [MARGIN, 100.0, size.0 - MARGIN, 300.0];
            let on_paper = picture(sheet, &SidePicture::of(side.plan), None, frame);
            let datum = side.plan.side.datum;
            for finding in (side.findings.iter())
                .filter(|f| f.struck.is_none() && chunk.iter().any(|r| r.number == Some(f.number)))
            {
                let damage = &finding.damage;
                let at = datum.drop_point(damage.back_mm.mm(), damage.drop_mm.mm());
                let [x, y] = on_paper.at(at.x, at.y);
                let white = Ink {
                    fill: Some(255),
                    ..Ink::line(0, 1.2)
                };
                sheet.circle([x, y], 7.0, white);
                let number = finding.number.to_string();
                let half = sheet.fonts.width(Face::Bold, 9.0, &number) / 2.0;
                sheet.text(x - half, y + 3.2, 9.0, Face::Bold, &number);
            }
            let mut y = FROM;
            for row in chunk {
                row.draw(sheet, y);
                y += row.high();
            }
            footer(
                sheet,
                "Chock the vehicle and take the key; mind steps and traffic while you walk round.",
                size,
            );
        });
    }
}

/// Photos of findings, with their numbers, and of the side: six on a page.
fn photo_pages(
    document: &mut Document,
    fonts: &Fonts,
    heading: &Heading<'_>,
    side: &WalkSide<'_>,
    size: (f32, f32),
) {
    let of_findings = side.findings.iter().filter_map(|f| {
        let struck = if f.struck.is_some() { ", struck" } else { "" };
        let told = format!("{}: {}{struck}", f.number, f.damage.damage.name());
        Some((f.damage.photo?, told))
    });
    let photos: Vec<(Uuid, String)> = of_findings.chain(side.photos.iter().cloned()).collect();
    for chunk in photos.chunks(6) {
        page(document, fonts, size, |sheet| {
            header(sheet, heading, &format!("{}: photos", side.name), size);
            let wide = (size.0 - 2.0 * MARGIN) / 3.0;
            let high = (size.1 - FOOT - 96.0) / 2.0;
            for (n, (photo, told)) in chunk.iter().enumerate() {
                let (x, y) = (MARGIN + wide * (n % 3) as f32, 96.0 + high * (n / 3) as f32);
                if !sheet.photo_in(*photo, [x, y, x + wide - 12.0, y + high - 34.0]) {
                    sheet.text(x, y + 14.0, 10.0, Face::Words, "This photo is gone.");
                }
                sheet.wrapped(
                    [x, y + high - 20.0],
                    wide - 12.0,
                    9.0,
                    11.0,
                    Face::Words,
                    told,
                );
            }
            footer(sheet, "Taken before work.", size);
        });
    }
}

/// Where the hardware list begins, points down the page.
const HARDWARE_FROM: f32 = 130.0;
/// Its columns.
const HARDWARE_COLUMNS: [f32; 4] = [MARGIN, MARGIN + 210.0, MARGIN + 260.0, MARGIN + 320.0];

struct HardwareRow<'a> {
    line: &'a HardwareLine,
    name: Vec<String>,
    note: Vec<String>,
}

impl<'a> HardwareRow<'a> {
    fn of(fonts: &Fonts, line: &'a HardwareLine, size: (f32, f32)) -> HardwareRow<'a> {
        let word = if line.state == HardwareStanding::Stays && line.note.is_empty() {
            "stays"
        } else {
            &line.note
        };
        let to_the_edge = size.0 - MARGIN - HARDWARE_COLUMNS[3];
        HardwareRow {
            line,
            name: fonts.lines(Face::Words, 11.0, 200.0, &line.name),
            note: fonts.lines(Face::Words, 10.0, to_the_edge, word),
        }
    }

    fn high(&self) -> f32 {
        self.name.len().max(self.note.len()).max(1) as f32 * 13.0 + 9.0
    }
}

fn hardware_page(
    sheet: &mut Sheet<'_, '_>,
    heading: &Heading<'_>,
    side: &WalkSide<'_>,
    rows: &[HardwareRow<'_>],
    size: (f32, f32),
) {
    header(
        sheet,
        heading,
        &format!("{}: hardware, off and on again", side.name),
        size,
    );
    let columns = HARDWARE_COLUMNS;
    for (x, word) in columns.into_iter().zip([
        "What",
        "Off",
        "On again",
        "How, and what to do with what stays",
    ]) {
        sheet.text(x, 108.0, 9.0, Face::Bold, word);
    }
    let mut y = HARDWARE_FROM;
    for row in rows {
        for (n, text) in row.name.iter().enumerate() {
            sheet.text(columns[0], y + n as f32 * 13.0, 11.0, Face::Words, text);
        }
        let (off, on) = match row.line.state {
            HardwareStanding::Stays => (None, None),
            HardwareStanding::ToComeOff => (Some(false), Some(false)),
            HardwareStanding::OffForGood => (Some(true), None),
            HardwareStanding::MustGoBack => (Some(true), Some(false)),
            HardwareStanding::OnAgain => (Some(true), Some(true)),
        };
        for (x, ticked) in [(columns[1], off), (columns[2], on)] {
            if let Some(ticked) = ticked {
                sheet.rectangle([x, y - 10.0, x + 12.0, y + 2.0], Ink::line(0, 1.0));
                if ticked {
                    sheet.line([x + 2.0, y - 4.0], [x + 5.0, y], Ink::line(0, 1.6));
                    sheet.line([x + 5.0, y], [x + 11.0, y - 9.0], Ink::line(0, 1.6));
                }
            }
        }
        for (n, text) in row.note.iter().enumerate() {
            sheet.text(columns[3], y + n as f32 * 13.0, 10.0, Face::Words, text);
        }
        y += row.high();
    }
    footer(
        sheet,
        "Rivets and fasteners that hold the body together stay unless the owner's engineer says otherwise. Every box is ticked before hand-over.",
        size,
    );
}

/// What the customer signs, exactly: every finding in a line, the signature under them, and below it what changed since.
fn sign_pages(
    document: &mut Document,
    fonts: &Fonts,
    heading: &Heading<'_>,
    walk: &WalkSheet<'_>,
    size: (f32, f32),
) {
    const FROM: f32 = 112.0;
    let wide = size.0 - 2.0 * MARGIN;
    let sentence = match walk.agreed.len() {
        0 => "Nothing was found that was damaged before work.".to_owned(),
        1 => "One finding was there before work:".to_owned(),
        n => format!("{n} findings were there before work:"),
    };
    let lines: Vec<Row> = std::iter::once(&sentence)
        .chain(&walk.agreed)
        .map(|text| Row::told(fonts, text, wide))
        .collect();
    let since: Vec<String> = match &walk.signed {
        Some((signed, _)) if signed.changed_since > 0 => {
            let many = match signed.changed_since {
                1 => "One finding was".to_owned(),
                n => format!("{n} findings were"),
            };
            std::iter::once(format!("{many} changed since this was signed. Sign again."))
                .chain(walk.since.iter().cloned())
                .collect()
        }
        _ => Vec::new(),
    };
    let below: f32 = since.iter().map(|t| Row::told(fonts, t, wide).high()).sum();
    // The signature stands on the page of the last finding, or on one of its own under none of them.
    let room = size.1 - FOOT - FROM;
    let signing = (150.0 + below).min(room);
    let mut pages = by_height(&lines, room, Row::high);
    let last: f32 = pages.last().map_or(0.0, |p| p.iter().map(Row::high).sum());
    if last + signing > room {
        pages.push(&[]);
    }
    let count = pages.len();
    for (n, rows) in pages.into_iter().enumerate() {
        page(document, fonts, size, |sheet| {
            header(sheet, heading, "The customer\u{2019}s word", size);
            let mut y = FROM;
            for row in rows {
                row.draw(sheet, y);
                y += row.high();
            }
            if n + 1 == count {
                signature(sheet, walk, y + 4.0);
                let mut y = y + 162.0;
                for (k, text) in since.iter().enumerate() {
                    let face = if k == 0 { Face::Bold } else { Face::Words };
                    y = sheet.wrapped([MARGIN, y], wide, 10.0, LEADING, face, text) + 4.0;
                }
            }
            footer(
                sheet,
                "What was found before work, agreed with the customer.",
                size,
            );
        });
    }
}

fn signature(sheet: &mut Sheet<'_, '_>, walk: &WalkSheet<'_>, top: f32) {
    let box_ = [MARGIN, top, MARGIN + 360.0, top + 120.0];
    sheet.rectangle(box_, Ink::line(0, 0.8));
    let line = box_[3] + 16.0;
    let Some((signed, at)) = &walk.signed else {
        sheet.text(MARGIN, line, 11.0, Face::Words, "Name, date");
        return;
    };
    for stroke in &signed.strokes {
        let points: Vec<[f32; 2]> = stroke
            .iter()
            .map(|[x, y]| {
                [
                    box_[0] + (box_[2] - box_[0]) * *x as f32,
                    box_[1] + (box_[3] - box_[1]) * *y as f32,
                ]
            })
            .collect();
        sheet.polygon(&points, false, Ink::line(0, 1.4));
    }
    let by = if signed.typed {
        let size = name_size(&signed.name);
        sheet.text(MARGIN + 14.0, top + 70.0, size, Face::Words, &signed.name);
        "; the name as typed stands for the signature"
    } else {
        ""
    };
    let told = format!("{}, {at}{by}", signed.name);
    sheet.text(MARGIN, line, 11.0, Face::Words, &told);
}

/// So large that a name fills its box, and never more than 28 points.
fn name_size(name: &str) -> f32 {
    (560.0 / name.chars().count().max(1) as f32).clamp(6.5, 28.0)
}
