//! The audit of a face's reflective marking on one page: picture, what it was judged by, every clause. It says that it is no approval.

use krilla::Document;
use kurbo::Point;
use windrift_core::ground::tape::{Unit, print};
use windrift_core::marking::{
    Applies, Audited, ClauseFinding, FaceMarking, Required, Rules, Strip, TapeColour,
    VehicleMarking,
};
use windrift_core::plan::planned::SidePlan;

use crate::packet::{PacketError, Paper};
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, footer, header, page};

/// What is printed.
pub struct MarkingReport<'a> {
    /// The shop.
    pub shop: &'a str,
    /// The job.
    pub title: &'a str,
    /// Whom it is for.
    pub customer: &'a str,
    /// The side.
    pub side: &'a str,
    /// When, in words.
    pub at: &'a str,
    /// The side's plan, for the picture.
    pub plan: &'a SidePlan,
    /// The vehicle.
    pub vehicle: &'a VehicleMarking,
    /// What is settled about the face.
    pub marking: &'a FaceMarking,
    /// Whether marking is required.
    pub applies: &'a Applies,
    /// The rules that it is judged by.
    pub rules: Option<&'a Rules>,
    /// The strips.
    pub strips: &'a [Strip],
    /// Which strips those are, in words.
    pub audits: &'a str,
    /// Clause by clause.
    pub audit: &'a [ClauseFinding],
    /// What is settled about the face, in sentences.
    pub said: &'a [String],
    /// The job's unit.
    pub unit: Unit,
}

/// What the page is not, at its head and its foot.
const NO_APPROVAL: &str = "This page is the shop's own check of its work. It is no approval, no certificate and no inspection.";

/// Widest line of words, in characters of 1 pt of height for each point of width; the typeface's usual letter is 0.5 em.
fn fits(width: f32, size: f32) -> usize {
    (width / (size * 0.47)) as usize
}

/// Lines of at most so many characters, broken between words.
fn wrapped(text: &str, most: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        match lines.last_mut() {
            Some(line) if line.chars().count() + word.chars().count() < most => {
                line.push(' ');
                line.push_str(word);
            }
            _ => lines.push(word.to_owned()),
        }
    }
    lines
}

/// Writes the page as PDF.
pub fn write(report: &MarkingReport<'_>, paper: Paper) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let size = paper.size();
    page(&mut document, &fonts, size, |sheet| {
        let heading = Heading {
            title: report.title,
            shop: report.shop,
            customer: report.customer,
            issued: report.at,
        };
        let what = format!(
            "Reflective marking, {}: audit of {}",
            report.side, report.audits
        );
        header(sheet, &heading, &what, size);
        let right = size.0 - MARGIN;
        sheet.text(MARGIN, 98.0, 9.5, Face::Bold, NO_APPROVAL);
        let frame = [MARGIN + 4.0, 110.0, right - 4.0, 228.0];
        // An underride member hangs below the body: the picture reaches over all strips.
        let bounds = corners(report)
            .iter()
            .flat_map(|(_, corners)| corners)
            .fold(report.plan.side.outline.bounds, |all, p| all.union_pt(*p));
        let on_paper = OnPaper::fit(bounds, frame);
        draw_side(sheet, &SidePicture::of(report.plan), None, on_paper);
        strips(sheet, report, on_paper);
        let mut y = 250.0;
        for line in facts(report) {
            for text in wrapped(&line, fits(right - MARGIN, 8.5)) {
                sheet.text(MARGIN, y, 8.5, Face::Words, &text);
                y += 10.5;
            }
        }
        clauses(sheet, report.audit, [MARGIN, y + 6.0, right, size.1 - 76.0]);
        let line = size.1 - 56.0;
        sheet.text(MARGIN, line, 9.0, Face::Words, "Checked by");
        sheet.line(
            [MARGIN + 52.0, line + 2.0],
            [MARGIN + 260.0, line + 2.0],
            Ink::line(0, 0.5),
        );
        sheet.text(MARGIN + 280.0, line, 9.0, Face::Words, "on");
        sheet.line(
            [MARGIN + 298.0, line + 2.0],
            [MARGIN + 400.0, line + 2.0],
            Ink::line(0, 0.5),
        );
        footer(
            sheet,
            "Figures from memory: check them against the text in force. The operator and the competent authority have the last word.",
            size,
        );
    });
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// Every colour of every strip with its corners in the picture frame.
fn corners(report: &MarkingReport<'_>) -> Vec<(TapeColour, [Point; 4])> {
    let datum = report.plan.side.datum;
    report
        .strips
        .iter()
        .flat_map(Strip::run_rects)
        .map(|(run, rect)| {
            let ((from, to), (low, high)) = (rect.back_mm, rect.height_mm);
            let at = |back, height: f64| datum.at(back, report.marking.ground_mm - height);
            let corners = [at(from, high), at(to, high), at(to, low), at(from, low)];
            (run.colour, corners)
        })
        .collect()
}

/// The strips on the picture: red dark, yellow grey, white white, all rimmed.
fn strips(sheet: &mut Sheet<'_, '_>, report: &MarkingReport<'_>, on_paper: OnPaper) {
    for (colour, corners) in corners(report) {
        let grey = match colour {
            TapeColour::Red => 60,
            TapeColour::Yellow => 170,
            TapeColour::White => 255,
        };
        sheet.polygon(
            &corners.map(|p| on_paper.at(p.x, p.y)),
            true,
            Ink {
                fill: Some(grey),
                ..Ink::line(0, 0.5)
            },
        );
    }
}

fn facts(report: &MarkingReport<'_>) -> Vec<String> {
    let text = |mm| print(mm, report.unit).text;
    let v = &report.vehicle.vehicle;
    let known = |figure: Option<String>| figure.unwrap_or_else(|| "not known".into());
    let mut lines = vec![format!(
        "Vehicle: {}, {} wide, weight rating {}, built {}.",
        v.kind.name(),
        known(v.width_mm.map(|mm| text(mm.mm()))),
        known(v.mass_kg.map(|kg| format!("{kg:.0} kg"))),
        known(v.built.map(|d| d.to_string())),
    )];
    let required = match report.applies.required {
        Required::Yes => "Required.",
        Required::No => "Not required; it is voluntary.",
        Required::CannotTell => "It cannot be told whether it is required.",
        Required::Prohibited => "Prohibited.",
    };
    lines.push(format!("{required} {}", report.applies.reasons.join(" ")));
    if let Some(rules) = report.rules {
        lines.push(format!("Judged by: {}.", rules.set.name()));
        for (figure, used) in rules.corrections() {
            lines.push(format!(
                "The shop uses {used} in place of {} ({}: {}).",
                figure.value, figure.clause, figure.says
            ));
        }
    }
    let film: f64 = report.strips.iter().map(Strip::length_mm).sum();
    lines.push(format!(
        "{} strips, {} in all, of {}.",
        report.strips.len(),
        text(film),
        report.marking.stock.name(),
    ));
    lines.extend(report.said.iter().cloned());
    lines
}

fn verdict(finding: &ClauseFinding) -> &'static str {
    match finding.audited {
        Audited::Pass => "KEPT",
        Audited::Fail => "NOT KEPT",
        Audited::ReasonNeeded => "REASON NEEDED",
        Audited::Reasoned => "PRACTICABLE",
        Audited::FigureUncertain => "UNCERTAIN",
    }
}

/// Every clause, as large as the page lets it.
fn clauses(sheet: &mut Sheet<'_, '_>, audit: &[ClauseFinding], [x0, y0, x1, y1]: [f32; 4]) {
    let column = 78.0;
    let rows_of = |size: f32| -> Vec<(&ClauseFinding, Vec<String>)> {
        let most = fits(x1 - x0 - column, size);
        audit
            .iter()
            .map(|f| {
                let reason = f
                    .reason
                    .as_ref()
                    .map_or(String::new(), |r| format!(" Reason: {r}"));
                let text = format!("{} ({}) {}{reason}", f.asks, f.clause, f.measured);
                (f, wrapped(&text, most))
            })
            .collect()
    };
    let height = |size: f32| {
        rows_of(size)
            .iter()
            .map(|(_, lines)| lines.len() as f32 * size * 1.2 + 3.0)
            .sum::<f32>()
    };
    let size = [10.0, 9.5, 9.0, 8.5, 8.0, 7.5, 7.0, 6.5, 6.0, 5.5, 5.0]
        .into_iter()
        .find(|s| height(*s) <= y1 - y0)
        .unwrap_or(4.5);
    let mut y = y0 + size;
    for (finding, lines) in rows_of(size) {
        sheet.line(
            [x0, y - size - 1.0],
            [x1, y - size - 1.0],
            Ink::line(150, 0.4),
        );
        sheet.text(x0, y, size, Face::Bold, verdict(finding));
        for line in lines {
            sheet.text(x0 + column, y, size, Face::Words, &line);
            y += size * 1.2;
        }
        y += 3.0;
    }
}
