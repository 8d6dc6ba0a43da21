//! The walk round on paper: what was found where, the hardware list with boxes to tick, and the customer's signature.

use krilla::Document;
use windrift_core::plan::planned::SidePlan;
use windrift_core::vehicle::walk_round::{Damage, HardwareLine, HardwareStanding, SignOff};

use crate::packet::{PacketError, Paper};
use crate::picture::{SidePicture, picture};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, footer, header, page};

/// One finding, with its length and place as printed.
pub struct Finding {
    /// What was found.
    pub damage: Damage,
    /// How far back, printed.
    pub back: String,
    /// How far down, printed.
    pub drop: String,
    /// How large, printed.
    pub size: String,
}

/// One side of the walk round.
pub struct WalkSide<'a> {
    /// What the side is called here.
    pub name: String,
    /// Its plan, for the picture.
    pub plan: &'a SidePlan,
    /// What was found on it.
    pub findings: Vec<Finding>,
    /// Doubts about its paint.
    pub doubts: Vec<String>,
    /// What follows from its surface: film, magnets, heat.
    pub surface: Vec<String>,
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
    /// The newest sign-off, with when it was signed.
    pub signed: Option<(SignOff, String)>,
}

/// Findings and hardware lines on one page.
const LINES: usize = 14;

/// Writes the sheet as PDF: for each side a page of findings and one of hardware, and a last one to sign.
pub fn write(walk: &WalkSheet<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let size = paper.size();
    let heading = Heading {
        title: &walk.title,
        shop: &walk.shop,
        customer: &walk.customer,
        issued: &walk.stated,
    };
    for side in &walk.sides {
        // A side without findings still has its page: that nothing was found is a finding.
        for (n, chunk) in chunks(&side.findings).into_iter().enumerate() {
            page(&mut document, &fonts, size, |sheet| {
                findings_page(sheet, &heading, side, chunk, n * LINES, size)
            });
        }
        if !side.hardware.is_empty() {
            for chunk in chunks(&side.hardware) {
                page(&mut document, &fonts, size, |sheet| {
                    hardware_page(sheet, &heading, side, chunk, size)
                });
            }
        }
    }
    page(&mut document, &fonts, size, |sheet| {
        sign_page(sheet, &heading, walk, size)
    });
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// Pages of lines; one empty page where there is none.
fn chunks<T>(lines: &[T]) -> Vec<&[T]> {
    if lines.is_empty() {
        vec![&[]]
    } else {
        lines.chunks(LINES).collect()
    }
}

fn findings_page(
    sheet: &mut Sheet<'_, '_>,
    heading: &Heading<'_>,
    side: &WalkSide<'_>,
    findings: &[Finding],
    before: usize,
    size: (f32, f32),
) {
    header(
        sheet,
        heading,
        &format!("{}: what was there before work", side.name),
        size,
    );
    let on_paper = picture(
        sheet,
        &SidePicture::of(side.plan),
        None,
        [MARGIN, 100.0, size.0 - MARGIN, 300.0],
    );
    let datum = side.plan.side.datum;
    for (n, finding) in (before + 1..).zip(findings) {
        let at = datum.drop_point(finding.damage.back_mm.mm(), finding.damage.drop_mm.mm());
        let [x, y] = on_paper.at(at.x, at.y);
        sheet.circle(
            [x, y],
            7.0,
            Ink {
                fill: Some(255),
                ..Ink::line(0, 1.2)
            },
        );
        let wide = if n > 9 { 5.0 } else { 2.6 };
        sheet.text(x - wide, y + 3.2, 9.0, Face::Bold, &n.to_string());
    }
    let mut y = 334.0;
    if findings.is_empty() {
        sheet.text(
            MARGIN,
            y,
            11.0,
            Face::Words,
            "No damage was found on this side.",
        );
        y += 16.0;
    }
    for (n, finding) in (before + 1..).zip(findings) {
        let damage = &finding.damage;
        sheet.text(MARGIN, y, 10.0, Face::Bold, &n.to_string());
        sheet.text(MARGIN + 24.0, y, 10.0, Face::Words, damage.damage.name());
        sheet.text(MARGIN + 160.0, y, 10.0, Face::Mono, &finding.size);
        sheet.text(
            MARGIN + 230.0,
            y,
            10.0,
            Face::Words,
            &format!("{} back, {} down", finding.back, finding.drop),
        );
        let photo = if damage.photo.is_some() {
            " (photo kept)"
        } else {
            ""
        };
        sheet.text(
            MARGIN + 390.0,
            y,
            10.0,
            Face::Words,
            &format!("{}{photo}", damage.note),
        );
        y += 15.0;
    }
    for told in side
        .doubts
        .iter()
        .map(|d| format!("Paint: {d}"))
        .chain(side.surface.iter().cloned())
    {
        if y > size.1 - 56.0 {
            break;
        }
        sheet.text(MARGIN, y, 9.0, Face::Words, &told);
        y += 13.0;
    }
    footer(
        sheet,
        "Chock the vehicle and take the key; mind steps and traffic while you walk round.",
        size,
    );
}

fn hardware_page(
    sheet: &mut Sheet<'_, '_>,
    heading: &Heading<'_>,
    side: &WalkSide<'_>,
    lines: &[HardwareLine],
    size: (f32, f32),
) {
    header(
        sheet,
        heading,
        &format!("{}: hardware, off and on again", side.name),
        size,
    );
    let columns = [MARGIN, MARGIN + 210.0, MARGIN + 260.0, MARGIN + 320.0];
    for (x, word) in columns.into_iter().zip([
        "What",
        "Off",
        "On again",
        "How, and what to do with what stays",
    ]) {
        sheet.text(x, 108.0, 9.0, Face::Bold, word);
    }
    for (n, line) in lines.iter().enumerate() {
        let y = 130.0 + n as f32 * 22.0;
        sheet.text(columns[0], y, 11.0, Face::Words, &line.name);
        let (off, on) = match line.state {
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
        let word = if line.state == HardwareStanding::Stays && line.note.is_empty() {
            "stays"
        } else {
            &line.note
        };
        sheet.text(columns[3], y, 10.0, Face::Words, word);
    }
    footer(
        sheet,
        "Rivets and fasteners that hold the body together stay unless the owner's engineer says otherwise. Every box is ticked before hand-over.",
        size,
    );
}

fn sign_page(
    sheet: &mut Sheet<'_, '_>,
    heading: &Heading<'_>,
    walk: &WalkSheet<'_>,
    size: (f32, f32),
) {
    header(sheet, heading, "The customer\u{2019}s word", size);
    let found: usize = walk
        .sides
        .iter()
        .map(|s| s.findings.len() + s.doubts.len())
        .sum();
    let sentence = match found {
        0 => "Nothing was found that was damaged before work.".to_owned(),
        1 => "One finding was there before work, as listed.".to_owned(),
        n => format!("{n} findings were there before work, as listed."),
    };
    sheet.text(MARGIN, 112.0, 12.0, Face::Words, &sentence);
    let box_ = [MARGIN, 130.0, MARGIN + 360.0, 250.0];
    sheet.rectangle(box_, Ink::line(0, 0.8));
    if let Some((signed, at)) = &walk.signed {
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
            sheet.text(
                MARGIN + 14.0,
                200.0,
                name_size(&signed.name),
                Face::Words,
                &signed.name,
            );
            "; the name as typed stands for the signature"
        } else {
            ""
        };
        sheet.text(
            MARGIN,
            268.0,
            11.0,
            Face::Words,
            &format!("{}, {at}{by}", signed.name),
        );
        if signed.changed_since > 0 {
            sheet.text(
                MARGIN,
                286.0,
                10.0,
                Face::Bold,
                &format!(
                    "{} changed since this was signed. Sign again.",
                    match signed.changed_since {
                        1 => "One finding was".to_owned(),
                        n => format!("{n} findings were"),
                    }
                ),
            );
        }
    } else {
        sheet.text(MARGIN, 268.0, 11.0, Face::Words, "Name, date");
    }
    footer(
        sheet,
        "What was found before work, agreed with the customer.",
        size,
    );
}

/// So large that a name fills its box, and never more than 28 points.
fn name_size(name: &str) -> f32 {
    (560.0 / name.chars().count().max(1) as f32).clamp(6.5, 28.0)
}
