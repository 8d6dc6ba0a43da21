//! Films and rolls as a table of comma-separated values (RFC 4180), lengths in millimetres.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use windrift_core::film::classes::FilmClass;
use windrift_core::film::roll::Roll;
use windrift_core::film::stocked::StockedFilm;

/// A roll with its film, as one line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Row {
    /// What the shop calls the film.
    pub film: String,
    /// Its class, as in the API: `cast_print`.
    pub class: FilmClass,
    /// Its colour as `#rrggbb`.
    pub colour: String,
    /// Lot.
    pub lot: String,
    /// Width, mm.
    pub width_mm: f64,
    /// What is left, mm.
    pub left_mm: f64,
    /// Where it stands.
    #[serde(default)]
    pub place: String,
    /// Whether it is an offcut.
    #[serde(default)]
    pub offcut: bool,
}

/// A table that cannot be read or written.
#[derive(Debug, Error)]
pub enum CsvError {
    /// A line of it.
    #[error(
        "The table cannot be read: {0}. Its columns are film, class, colour, lot, width_mm, left_mm, place, offcut."
    )]
    Line(String),
    /// Nothing in it.
    #[error(
        "There is no roll in this table. Its columns are film, class, colour, lot, width_mm, left_mm, place, offcut."
    )]
    Empty,
}

/// Most lines that are read.
const MOST_LINES: usize = 1000;

impl Row {
    /// The film and the roll of a line.
    pub fn split(self) -> (StockedFilm, Roll) {
        let film = StockedFilm {
            name: self.film.trim().to_owned(),
            class: self.class,
            colour: self.colour,
            sheet: Default::default(),
            laminate: None,
        };
        let roll = Roll {
            lot: self.lot.trim().to_owned(),
            width_mm: self.width_mm.into(),
            length_mm: self.left_mm.into(),
            place: self.place,
            offcut: self.offcut,
        };
        (film, roll)
    }
}

/// Writes a table, its names in the first line. A text that a spreadsheet would take for a formula is written with an apostrophe before it.
///
/// ```
/// use windrift_core::film::classes::FilmClass;
/// use windrift_formats::shelf_csv::{Row, read, write};
/// let row = Row { film: "white, gloss".into(), class: FilmClass::CastPrint, colour: "#ffffff".into(), lot: "K-118".into(),
///     width_mm: 1371.6, left_mm: 21_793.0, place: "rack 2".into(), offcut: false };
/// let text = write([row.clone()]).unwrap();
/// assert_eq!(read(&text).unwrap(), [row]);
/// ```
pub fn write(rows: impl IntoIterator<Item = Row>) -> Result<Vec<u8>, CsvError> {
    let wrong = |e: &dyn std::fmt::Display| CsvError::Line(e.to_string());
    let mut table = csv::WriterBuilder::new()
        .terminator(csv::Terminator::CRLF)
        .has_headers(false)
        .from_writer(Vec::new());
    table
        .write_record([
            "film", "class", "colour", "lot", "width_mm", "left_mm", "place", "offcut",
        ])
        .map_err(|e| wrong(&e))?;
    for row in rows {
        let row = Row {
            film: plain(row.film),
            lot: plain(row.lot),
            place: plain(row.place),
            ..row
        };
        table.serialize(row).map_err(|e| wrong(&e))?;
    }
    table.into_inner().map_err(|e| wrong(&e))
}

/// A list of what a job needs: what, how much, what for, what is short.
pub fn needed_csv(rows: impl IntoIterator<Item = [String; 4]>) -> Result<Vec<u8>, CsvError> {
    let wrong = |e: &dyn std::fmt::Display| CsvError::Line(e.to_string());
    let mut table = csv::WriterBuilder::new()
        .terminator(csv::Terminator::CRLF)
        .from_writer(Vec::new());
    table
        .write_record(["what", "how much", "for", "short"])
        .map_err(|e| wrong(&e))?;
    for row in rows {
        table.write_record(row.map(plain)).map_err(|e| wrong(&e))?;
    }
    table.into_inner().map_err(|e| wrong(&e))
}

/// No formula to a spreadsheet.
fn plain(text: String) -> String {
    match text.chars().next() {
        Some('=' | '+' | '-' | '@') => format!("'{text}"),
        _ => text,
    }
}

/// Reads a table.
///
/// Errors: no table, no line in it, or a line that cannot be read.
pub fn read(file: &[u8]) -> Result<Vec<Row>, CsvError> {
    let file = file.strip_prefix(b"\xef\xbb\xbf").unwrap_or(file);
    let mut table = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .from_reader(file);
    let rows: Vec<Row> = (table.deserialize())
        .take(MOST_LINES + 1)
        .collect::<Result<_, _>>()
        .map_err(|e: csv::Error| CsvError::Line(e.to_string()))?;
    match rows.len() {
        0 => Err(CsvError::Empty),
        n if n > MOST_LINES => Err(CsvError::Line(format!("more than {MOST_LINES} lines"))),
        _ => Ok(rows),
    }
}
