//! The panels of a print on one page: where each stands on the vehicle, its number and size, laps, trim, and what each join meets.

use kurbo::{Point, Rect};
use windrift_core::plan::planned::SidePlan;

use crate::one_page::{PageHeading, one_page};
use crate::packet::Paper;
use crate::paper::PacketError;
use crate::picture::{OnPaper, SidePicture, draw_side};
use crate::sheet::{Face, Ink, MARGIN, Sheet};

/// A panel on the map.
#[derive(Debug, Clone)]
pub struct MappedPanel {
    /// Its number: the order in which panels go on.
    pub number: u32,
    /// Corners in the picture frame, mm.
    pub corners: [[f64; 2]; 4],
    /// Width and height with bleed and lap, as the job's tape reads them.
    pub size: (String, String),
}

/// A panel map.
#[derive(Debug, Clone)]
pub struct PanelMap<'a> {
    /// The side with the print.
    pub plan: &'a SidePlan,
    /// What the print is called, and on which side it goes.
    pub name: String,
    /// Panels in their order.
    pub panels: Vec<MappedPanel>,
    /// Laps: corners in the picture frame, mm.
    pub laps: Vec<[[f64; 2]; 4]>,
    /// Relief cuts: from point to point in the picture frame, mm.
    pub cuts: Vec<Vec<[f64; 2]>>,
    /// The print as trimmed: corners in the picture frame, mm.
    pub trim: [[f64; 2]; 4],
    /// In sentences: how many, why, in which order, what each join meets.
    pub says: Vec<String>,
}

/// Size of words and from one line of them to the next, points.
const WORDS: (f32, f32) = (9.5, 12.0);
/// Where sizes stand in their table, points from the left.
const COLUMNS: [f32; 3] = [0.0, 60.0, 170.0];

/// Writes the map as one page of PDF. What finds no room at its foot is said to be left out, never cut silently.
///
/// Errors: a page that cannot be written.
pub fn panel_map(
    heading: &PageHeading<'_>,
    map: &PanelMap<'_>,
    paper: Paper,
) -> Result<Vec<u8>, PacketError> {
    let what = format!("Panel map: {}", map.name);
    let foot = "Sizes with bleed and lap. The right panel is picked by its number; the set is held against the proof before anything is fixed.";
    one_page(heading, &what, foot, paper, |sheet, size| {
        let foot = drawn(sheet, map, [MARGIN, 96.0, size.0 - MARGIN, 330.0]);
        told(sheet, map, size, foot + 22.0);
    })
}

/// Draws the side with its panels, and gives where the picture ends.
fn drawn(sheet: &mut Sheet<'_, '_>, map: &PanelMap<'_>, frame: [f32; 4]) -> f32 {
    let picture = SidePicture::of(map.plan);
    // A panel may reach past the body: the picture shows all of both.
    let bounds = (map.panels.iter())
        .flat_map(|p| p.corners)
        .fold(picture.bounds(), |all: Rect, [x, y]| {
            all.union_pt(Point::new(x, y))
        });
    // What is long and low leaves its room to the words.
    let [left, top, right, foot] = frame;
    let high = (right - left) * (bounds.height() / bounds.width().max(1.0)) as f32;
    let foot = foot.min(top + high + 24.0);
    let on = OnPaper::fit(bounds, [left, top, right, foot]);
    draw_side(sheet, &picture, None, on);
    let put = |corners: &[[f64; 2]; 4]| corners.map(|[x, y]| on.at(x, y));
    for p in &map.panels {
        sheet.polygon(&put(&p.corners), true, Ink::line(0, 1.2));
    }
    for lap in &map.laps {
        let ink = Ink {
            fill: Some(150),
            ..Ink::line(0, 0.4)
        };
        sheet.polygon(&put(lap), true, ink);
    }
    sheet.polygon(&put(&map.trim), true, Ink::line(0, 0.8).dashed());
    for cut in &map.cuts {
        let line: Vec<[f32; 2]> = cut.iter().map(|[x, y]| on.at(*x, *y)).collect();
        sheet.polygon(&line, false, Ink::line(0, 2.0));
    }
    for p in &map.panels {
        let [x, y] = middle(&put(&p.corners));
        sheet.tag(x, y, 16.0, &p.number.to_string());
    }
    foot
}

fn middle(corners: &[[f32; 2]; 4]) -> [f32; 2] {
    let of = |n: usize| corners.iter().map(|c| c[n]).sum::<f32>() / 4.0;
    [of(0), of(1) + 5.0]
}

fn told(sheet: &mut Sheet<'_, '_>, map: &PanelMap<'_>, size: (f32, f32), mut y: f32) {
    let last = size.1 - 76.0;
    let row = |sheet: &mut Sheet<'_, '_>, y: f32, face: Face, cells: [&str; 3]| {
        for (x, cell) in COLUMNS.iter().zip(cells) {
            sheet.text(MARGIN + x, y, WORDS.0, face, cell);
        }
    };
    row(
        sheet,
        y,
        Face::Bold,
        ["Panel", "Wide", "High, with bleed and lap"],
    );
    // Sentences keep at least a third of what is left.
    let room = y + (last - y) * 2.0 / 3.0;
    let mut left_out = 0;
    for p in &map.panels {
        if y + WORDS.1 > room {
            left_out += 1;
            continue;
        }
        y += WORDS.1;
        let number = p.number.to_string();
        row(sheet, y, Face::Mono, [&number, &p.size.0, &p.size.1]);
    }
    if left_out > 0 {
        y += WORDS.1;
        let more = format!("{left_out} more: their sizes stand under Panels.");
        sheet.text(MARGIN, y, WORDS.0, Face::Words, &more);
    }
    y += 2.0 * WORDS.1;
    let wide = size.0 - 2.0 * MARGIN;
    for (n, sentence) in map.says.iter().enumerate() {
        let high = sheet
            .fonts
            .lines(Face::Words, WORDS.0, wide, sentence)
            .len() as f32
            * WORDS.1;
        if y + high > last {
            let more = format!("{} more sentences stand under Panels.", map.says.len() - n);
            sheet.text(MARGIN, y, WORDS.0, Face::Words, &more);
            return;
        }
        y = sheet.wrapped([MARGIN, y], wide, WORDS.0, WORDS.1, Face::Words, sentence) + 2.0;
    }
}
