//! What the owner may do and when, on one page in the owner's words.

use windrift_core::floor::care::CareDate;

use crate::one_page::{PageHeading, one_page};
use crate::packet::Paper;
use crate::paper::PacketError;
use crate::sheet::{FOOT, Face, MARGIN, Sheet};

/// Size of a title, of words, of reasons; and from one line of them to the next, points.
const TITLE: (f32, f32) = (12.5, 16.0);
const WORDS: (f32, f32) = (10.5, 13.0);
const REASON: (f32, f32) = (8.5, 10.5);
/// Between the two columns, and between what stands under one another, points.
const GAP: (f32, f32) = (28.0, 9.0);
/// Where columns begin, points from above.
const TOP: f32 = 106.0;

/// Writes the page in two columns. What finds no room is said to be left out, never cut silently.
///
/// Errors: a page that cannot be written.
pub fn care_sheet(
    heading: &PageHeading<'_>,
    dates: &[CareDate],
    also: &[String],
    paper: Paper,
) -> Result<Vec<u8>, PacketError> {
    let foot = "Hours by the shop's clock. The film's own sheet and the product's safety sheet decide where they say otherwise.";
    one_page(heading, "Looking after it", foot, paper, |sheet, size| {
        let wide = (size.0 - 2.0 * MARGIN - GAP.0) / 2.0;
        let mut columns = Columns {
            wide,
            last: size.1 - FOOT - 8.0,
            at: [MARGIN, TOP],
        };
        let of_date = |d: &CareDate| {
            let words = vec![(WORDS, d.says.clone()), (REASON, d.why.clone())];
            (d.title, d.when.clone(), words)
        };
        let besides = also.iter().map(|s| (WORDS, s.clone())).collect();
        let mut items: Vec<_> = dates.iter().map(of_date).collect();
        items.push(("Besides", String::new(), besides));
        for (n, (title, when, words)) in items.iter().enumerate() {
            let lines = |size: f32, text: &str| sheet.fonts.lines(Face::Words, size, wide, text);
            let high = words
                .iter()
                .map(|((size, step), text)| lines(*size, text).len() as f32 * step)
                .sum::<f32>();
            if !columns.has_room(TITLE.1 + high) {
                let more = format!("{} more stand under Hand over.", items.len() - n);
                columns.put(sheet, WORDS, &more);
                return;
            }
            let [x, y] = columns.at;
            sheet.text(x, y, TITLE.0, Face::Bold, title);
            let from = x + wide - sheet.fonts.width(Face::Bold, TITLE.0, when);
            sheet.text(from, y, TITLE.0, Face::Bold, when);
            columns.at[1] += TITLE.1;
            for (size, text) in words {
                columns.put(sheet, *size, text);
            }
            columns.at[1] += GAP.1;
        }
    })
}

/// Where the next line goes.
struct Columns {
    wide: f32,
    last: f32,
    at: [f32; 2],
}

impl Columns {
    /// Whether something so high goes here, or into the next column; moves there.
    fn has_room(&mut self, high: f32) -> bool {
        if self.at[1] + high <= self.last {
            return true;
        }
        let next = MARGIN + self.wide + GAP.0;
        if self.at[0] >= next || TOP + high > self.last {
            return false;
        }
        self.at = [next, TOP];
        true
    }

    fn put(&mut self, sheet: &mut Sheet<'_, '_>, (size, step): (f32, f32), text: &str) {
        self.at[1] = sheet.wrapped(self.at, self.wide, size, step, Face::Words, text);
    }
}
