//! A drawing file opened, whatever its format, as closed outlines in millimetres.

use crate::drawing::{FileError, FileUnit, Opened, dxf_file, join, svg_file};

/// Reads a drawing file by its content.
///
/// Errors: a file that is neither SVG nor DXF, cannot be read, has too many shapes, does not say its unit where it is to say it,
/// or has no closed outline.
pub fn open(bytes: &[u8], unit: FileUnit) -> Result<Opened, FileError> {
    let start: String = String::from_utf8_lossy(bytes.get(..4096).unwrap_or(bytes)).into_owned();
    let lines = if start.contains("<svg")
        || start
            .trim_start_matches('\u{feff}')
            .trim_start()
            .starts_with("<?xml")
    {
        svg_file::read(bytes, unit)?
    } else if dxf_file::looks_like(&start) {
        dxf_file::read(bytes, unit)?
    } else {
        return Err(FileError::NeitherSvgNorDxf);
    };
    join::close(lines)
}
