//! The audit of a face's reflective marking on paper: picture, what it was judged by, every clause. It says that it is no approval.

use krilla::Document;
use kurbo::Point;
use serde::{Deserialize, Serialize};
use windrift_core::ground::tape::{Unit, print};
use windrift_core::marking::{
    Applies, Audited, ClauseFinding, ColourRun, Element, FaceMarking, Required, Rules, Strip,
    TapeColour, VehicleMarking, cut_list,
};
use windrift_core::plan::planned::SidePlan;
use windrift_core::vehicle::side::words::Ends;

use crate::paper::{PacketError, Paper};
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{Face, Fonts, Heading, Ink, MARGIN, Sheet, by_height, footer, header, page};

/// What stands at the head of the report.
pub struct MarkingHeading<'a> {
    /// The shop.
    pub shop: &'a str,
    /// The job.
    pub title: &'a str,
    /// Whom it is for.
    pub customer: &'a str,
    /// When, in words.
    pub at: &'a str,
}

/// What an audit is told from.
pub struct MarkingReport<'a> {
    /// The side.
    pub side: &'a str,
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
    /// Their numbers.
    pub numbers: &'a [usize],
    /// Which strips those are, in words.
    pub audits: &'a str,
    /// Clause by clause.
    pub audit: &'a [ClauseFinding],
    /// What is settled about the face, in sentences.
    pub said: &'a [String],
    /// What the ends of its tape are called.
    pub ends: Ends,
    /// Which lots its strips are cut from, in sentences.
    pub lots: &'a [String],
    /// What is done, in order.
    pub steps: &'a [String],
    /// The job's unit.
    pub unit: Unit,
}

/// An audit as paper shows it: what an issued plan keeps, so that it is printed the same whatever computes later.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct MarkingPaper {
    /// The side.
    pub side: String,
    /// Which strips are judged, in words.
    pub audits: String,
    /// How the side is drawn.
    pub picture: SidePicture,
    /// Every colour of every strip with its corners in the picture frame.
    pub strips: Vec<(TapeColour, [[f64; 2]; 4])>,
    /// What it is judged by, in lines.
    pub facts: Vec<String>,
    /// Every clause with its verdict.
    pub clauses: Vec<(String, String)>,
    /// What somebody works from: strips, cuts, order of work. Nothing in plans of earlier releases.
    #[serde(default)]
    pub tables: Vec<PaperTable>,
}

/// A table on paper.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PaperTable {
    /// What it is of.
    pub heading: String,
    /// Its columns, each with its share of the width.
    pub columns: Vec<(String, f32)>,
    /// Its rows.
    pub rows: Vec<Vec<String>>,
}

impl MarkingPaper {
    /// An audit in words and lines.
    pub fn of(report: &MarkingReport<'_>) -> MarkingPaper {
        MarkingPaper {
            side: report.side.to_owned(),
            audits: report.audits.to_owned(),
            picture: SidePicture::of(report.plan),
            strips: corners(report),
            facts: facts(report),
            clauses: (report.audit.iter())
                .map(|f| (verdict(f).to_owned(), clause(f)))
                .collect(),
            tables: tables(report),
        }
    }
}

/// What the page is not, at its head and its foot.
const NO_APPROVAL: &str = "This page is the shop's own check of its work. It is no approval, no certificate and no inspection.";

/// Height of the words of facts and clauses, points.
const WORDS: f32 = 8.5;
/// From one line of them to the next.
const LEADING: f32 = 10.5;
/// Room for a clause's verdict, points.
const VERDICT: f32 = 82.0;

/// A fact, a clause with its verdict, or a row of a table, set in lines.
struct Row {
    /// Cells: how far in, in which face, their lines.
    cells: Vec<(f32, Face, Vec<String>)>,
    ruled: bool,
}

impl Row {
    fn high(&self) -> f32 {
        let between = if self.ruled { 4.0 } else { 1.0 };
        let lines = self
            .cells
            .iter()
            .map(|(_, _, l)| l.len())
            .max()
            .unwrap_or(1);
        lines.max(1) as f32 * LEADING + between
    }
}

/// Writes the report as PDF.
pub fn write(
    heading: &MarkingHeading<'_>,
    marking: &MarkingPaper,
    paper: Paper,
) -> Result<Vec<u8>, PacketError> {
    let fonts = Fonts::open().ok_or_else(PacketError::typefaces)?;
    let mut document = Document::new();
    let heading = Heading {
        title: heading.title,
        shop: heading.shop,
        customer: heading.customer,
        issued: heading.at,
    };
    pages(&mut document, &fonts, &heading, marking, paper.size());
    document.finish().map_err(|e| PacketError::writing(&e))
}

/// The picture and what it was judged by, then every clause, on as many pages as they take.
pub(crate) fn pages(
    document: &mut Document,
    fonts: &Fonts,
    heading: &Heading<'_>,
    marking: &MarkingPaper,
    size: (f32, f32),
) {
    let what = format!(
        "Reflective marking, {}: audit of {}",
        marking.side, marking.audits
    );
    let wide = size.0 - 2.0 * MARGIN;
    let set = |face: Face, width: f32, text: &str| fonts.lines(face, WORDS, width, text);
    let facts = marking.facts.iter().map(|fact| Row {
        cells: vec![(0.0, Face::Words, set(Face::Words, wide, fact))],
        ruled: false,
    });
    let clauses = marking.clauses.iter().map(|(verdict, text)| Row {
        cells: vec![
            (0.0, Face::Bold, vec![verdict.clone()]),
            (VERDICT, Face::Words, set(Face::Words, wide - VERDICT, text)),
        ],
        ruled: true,
    });
    let of_table = |table: &PaperTable| -> Vec<Row> {
        let row = |face: Face, texts: &[String]| {
            let mut from = 0.0;
            let cells = table.columns.iter().zip(texts).map(|((_, share), text)| {
                let own = share * wide;
                let cell = (from, face, set(face, own - 6.0, text));
                from += own;
                cell
            });
            Row {
                cells: cells.collect(),
                ruled: true,
            }
        };
        let names: Vec<String> = table.columns.iter().map(|(name, _)| name.clone()).collect();
        std::iter::once(Row {
            cells: vec![(0.0, Face::Bold, vec![table.heading.clone()])],
            ruled: false,
        })
        .chain(std::iter::once(row(Face::Bold, &names)))
        .chain(table.rows.iter().map(|texts| row(Face::Words, texts)))
        .collect()
    };
    let tables = marking.tables.iter().flat_map(of_table);
    // What somebody works from, then, on pages of its own, what somebody files.
    let mut parts: Vec<Vec<Row>> = vec![facts.chain(tables).collect(), clauses.collect()];
    parts.retain(|rows| !rows.is_empty());
    // The picture stands on the first page, the line to sign on the last.
    let (first_from, next_from) = (250.0, 112.0);
    let to = size.1 - 76.0;
    let mut number = 0;
    let last = parts.len().saturating_sub(1);
    for (part, rows) in parts.iter().enumerate() {
        let mut left = &rows[..];
        let mut first = true;
        while first || !left.is_empty() {
            let from = if number == 0 { first_from } else { next_from };
            let chunk = by_height(left, to - from, Row::high)
                .first()
                .copied()
                .unwrap_or_default();
            left = &left[chunk.len()..];
            page(document, fonts, size, |sheet| {
                let what = match (part, first) {
                    (0, true) => what.clone(),
                    (_, true) => format!("{what}, clause by clause"),
                    _ => format!("{what}, continued"),
                };
                header(sheet, heading, &what, size);
                sheet.text(MARGIN, 98.0, 9.5, Face::Bold, NO_APPROVAL);
                if number == 0 {
                    drawn(
                        sheet,
                        marking,
                        [MARGIN + 4.0, 110.0, size.0 - MARGIN - 4.0, 228.0],
                    );
                }
                let mut y = from;
                for row in chunk {
                    written(sheet, row, y, wide);
                    y += row.high();
                }
                if left.is_empty() && part == last {
                    checked_by(sheet, size.1 - 56.0);
                }
                footer(
                    sheet,
                    "Figures from memory: check them against the text in force. The operator and the competent authority have the last word.",
                    size,
                );
            });
            first = false;
            number += 1;
        }
    }
}

fn written(sheet: &mut Sheet<'_, '_>, row: &Row, y: f32, wide: f32) {
    if row.ruled {
        let above = y - WORDS - 1.0;
        sheet.line([MARGIN, above], [MARGIN + wide, above], Ink::line(150, 0.4));
    }
    for (indent, face, lines) in &row.cells {
        for (n, line) in lines.iter().enumerate() {
            let y = y + n as f32 * LEADING;
            sheet.text(MARGIN + indent, y, WORDS, *face, line);
        }
    }
}

/// What somebody works from: the strips with their running distances, the cuts, the order of work.
fn tables(report: &MarkingReport<'_>) -> Vec<PaperTable> {
    let text = |mm: f64| print(mm, report.unit).text;
    let column = |name: &str, share: f32| (name.to_owned(), share);
    let ground = report.marking.ground_mm.mm();
    let colours = |runs: &[ColourRun]| {
        let told = runs
            .iter()
            .map(|r| format!("{} {}", r.colour.name(), text(r.length_mm.mm())));
        told.collect::<Vec<_>>().join(", ")
    };
    let mut before: Option<f64> = None;
    let strips = (report.numbers.iter()).zip(report.strips).map(|(n, s)| {
        let all = s.rect();
        let gap = match (s.upright || s.element != Element::Line, before) {
            (true, _) => String::new(),
            (false, None) => "\u{2013}".to_owned(),
            (false, Some(to)) => text(s.start_mm.mm() - to),
        };
        if !s.upright && s.element == Element::Line {
            before = Some(s.end_mm());
        }
        vec![
            n.to_string(),
            s.element.name(report.ends),
            if s.upright {
                format!("edge at {}", text(all.back_mm.0))
            } else {
                text(s.start_mm.mm())
            },
            if s.upright {
                "upright".to_owned()
            } else {
                text(s.end_mm())
            },
            text(s.length_mm()),
            gap,
            text(ground - all.height_mm.1),
            match &s.reflectors {
                Some(row) => format!(
                    "{} reflectors, {} of a colour: {}",
                    row.count,
                    row.of_a_colour,
                    colours(&s.runs)
                ),
                None => colours(&s.runs),
            },
        ]
    });
    let mut tables = vec![PaperTable {
        heading: "Strips, as running distances from the zero of the tape".into(),
        columns: vec![
            column("No.", 0.05),
            column("Part", 0.15),
            column("Begins", 0.11),
            column("Ends", 0.11),
            column("Long", 0.09),
            column("Gap before", 0.09),
            column("Upper edge, down", 0.12),
            column("Colours from the zero, or from the top", 0.28),
        ],
        rows: strips.collect(),
    }];
    for list in cut_list(report.strips, &report.marking.stock) {
        let least = if list.waste_mm <= list.least_waste_mm + 0.1 {
            "no order leaves less".to_owned()
        } else {
            format!("no order leaves less than {}", text(list.least_waste_mm))
        };
        tables.push(PaperTable {
            heading: format!(
                "Cut in this order from {}; left over {}, {least}",
                list.name,
                text(list.waste_mm)
            ),
            columns: vec![
                column("For strip", 0.08),
                column("Pass over", 0.09),
                column("Cut", 0.09),
                column("Colours off the roll", 0.30),
                column("Goes", 0.24),
                column("Lies", 0.20),
            ],
            rows: (list.cuts.iter())
                .map(|c| {
                    let skipped = (c.skipped_mm > 0.5).then(|| text(c.skipped_mm));
                    vec![
                        c.strip.to_string(),
                        skipped.unwrap_or_else(|| "\u{2013}".into()),
                        text(c.length_mm),
                        colours(&c.runs),
                        c.goes(report.ends, report.unit),
                        c.lies(),
                    ]
                })
                .collect(),
        });
    }
    tables.push(PaperTable {
        heading: "Order of work".into(),
        columns: vec![column("", 0.05), column("", 0.95)],
        rows: (1..)
            .zip(report.steps)
            .map(|(n, step): (u32, &String)| vec![n.to_string(), step.clone()])
            .collect(),
    });
    tables.retain(|t| !t.rows.is_empty());
    tables
}

fn drawn(sheet: &mut Sheet<'_, '_>, marking: &MarkingPaper, frame: [f32; 4]) {
    // An underride member hangs below the body: the picture reaches over all strips.
    let bounds = (marking.strips.iter())
        .flat_map(|(_, corners)| corners)
        .fold(marking.picture.bounds(), |all, p| {
            all.union_pt(Point::new(p[0], p[1]))
        });
    let on_paper = OnPaper::fit(bounds, frame);
    draw_side(sheet, &marking.picture, None, on_paper);
    strips(sheet, marking, on_paper);
}

fn checked_by(sheet: &mut Sheet<'_, '_>, line: f32) {
    sheet.text(MARGIN, line, 9.0, Face::Words, "Checked by");
    let to_write_on = |sheet: &mut Sheet<'_, '_>, from: f32, to: f32| {
        let (a, b) = ([MARGIN + from, line + 2.0], [MARGIN + to, line + 2.0]);
        sheet.line(a, b, Ink::line(0, 0.5));
    };
    to_write_on(sheet, 52.0, 260.0);
    sheet.text(MARGIN + 280.0, line, 9.0, Face::Words, "on");
    to_write_on(sheet, 298.0, 400.0);
}

/// Every colour of every strip with its corners in the picture frame.
fn corners(report: &MarkingReport<'_>) -> Vec<(TapeColour, [[f64; 2]; 4])> {
    let datum = report.plan.side.datum;
    report
        .strips
        .iter()
        .flat_map(Strip::run_rects)
        .map(|(run, rect)| {
            let ((from, to), (low, high)) = (rect.back_mm, rect.height_mm);
            let at = |back, height: f64| datum.at(back, report.marking.ground_mm - height);
            let corners = [at(from, high), at(to, high), at(to, low), at(from, low)];
            (run.colour, corners.map(|p| [p.x, p.y]))
        })
        .collect()
}

/// The strips on the picture: red dark, yellow grey, white white, all rimmed.
fn strips(sheet: &mut Sheet<'_, '_>, marking: &MarkingPaper, on_paper: OnPaper) {
    for (colour, corners) in &marking.strips {
        let grey = match colour {
            TapeColour::Red => 60,
            TapeColour::Yellow => 170,
            TapeColour::White => 255,
        };
        sheet.polygon(
            &corners.map(|p| on_paper.at(p[0], p[1])),
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
        known(v.mass.as_ref().map(|m| m.typed.clone())),
        known(v.built.map(|d| d.told())),
    )];
    let here = report
        .applies
        .on(windrift_core::marking::Face::of(report.plan.side.side.kind));
    let required = match here {
        Required::No if report.applies.required == Required::Yes => {
            "Required on this vehicle, not on this face."
        }
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
    lines.extend(report.lots.iter().cloned());
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
        Audited::Look => "LOOK",
    }
}

fn clause(finding: &ClauseFinding) -> String {
    let reason = finding
        .reason
        .as_ref()
        .map_or(String::new(), |r| format!(" Reason: {r}"));
    format!(
        "{} ({}, {}) {}{reason}",
        finding.asks,
        finding.clause,
        finding.sure.name(),
        finding.measured
    )
}
