//! Files in one zip, out and in: what comes in is bounded before it is unpacked.

use std::io::{Cursor, Read, Write};

use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// Largest that all files together may be once they are unpacked, bytes.
pub const LARGEST: u64 = 512 * 1024 * 1024;
/// Most files.
pub const MOST_FILES: usize = 5_000;

/// A file in a bundle: its name and its bytes.
pub type Named = (String, Vec<u8>);

/// Why a bundle cannot be opened.
#[derive(Debug, thiserror::Error)]
pub enum BundleError {
    /// It is no zip, or a broken one.
    #[error("This is no job bundle, or the file was cut off on its way: {0}.")]
    NotOne(String),
    /// It would fill the machine.
    #[error(
        "This file unpacks to more than 512 MB or 5000 files: it is not a job bundle that Windrift wrote."
    )]
    TooLarge,
    /// It cannot be written.
    #[error("The bundle could not be written: {0}.")]
    Writing(String),
}

/// Packs files in their order. The same files make the same bytes.
///
/// ```
/// # use windrift_formats::bundle::{pack, unpack};
/// let files = vec![("a.json".to_owned(), b"{}".to_vec())];
/// assert_eq!(unpack(&pack(&files).unwrap()).unwrap(), files);
/// ```
pub fn pack(files: &[Named]) -> Result<Vec<u8>, BundleError> {
    let writing = |e: &dyn std::fmt::Display| BundleError::Writing(e.to_string());
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        // Photos are packed already.
        let method = if name.ends_with(".jpg") {
            CompressionMethod::Stored
        } else {
            CompressionMethod::Deflated
        };
        let how = SimpleFileOptions::default()
            .compression_method(method)
            .last_modified_time(zip::DateTime::default());
        zip.start_file(name, how).map_err(|e| writing(&e))?;
        zip.write_all(bytes).map_err(|e| writing(&e))?;
    }
    Ok(zip.finish().map_err(|e| writing(&e))?.into_inner())
}

/// Unpacks all files, in their order.
///
/// Errors: what is no zip; what unpacks to more than it may, whatever its headers say.
pub fn unpack(bytes: &[u8]) -> Result<Vec<Named>, BundleError> {
    let not = |e: &dyn std::fmt::Display| BundleError::NotOne(e.to_string());
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(|e| not(&e))?;
    if zip.len() > MOST_FILES {
        return Err(BundleError::TooLarge);
    }
    let mut left = LARGEST;
    let mut files = Vec::with_capacity(zip.len());
    for n in 0..zip.len() {
        let file = zip.by_index(n).map_err(|e| not(&e))?;
        let name = file.name().map_err(|e| not(&e))?.into_owned();
        let mut unpacked = Vec::new();
        // One byte more than may be: headers are not believed.
        let read = file
            .take(left + 1)
            .read_to_end(&mut unpacked)
            .map_err(|e| not(&format!("{name}: {e}")))? as u64;
        left = left.checked_sub(read).ok_or(BundleError::TooLarge)?;
        files.push((name, unpacked));
    }
    Ok(files)
}
