//! Files that are answered, and the paper they are printed on.

use rocket::http::{ContentType, Header};
use rocket::response::Responder;
use windrift_formats::packet::Paper;

use crate::problem::Problem;

/// A file to be kept or printed.
#[derive(Responder)]
pub struct File {
    bytes: Vec<u8>,
    kind: ContentType,
    name: Header<'static>,
}

impl File {
    /// A file with a name that any system takes: other characters become hyphens.
    pub fn new(bytes: Vec<u8>, kind: ContentType, name: &str, extension: &str) -> File {
        let safe: String = name
            .chars()
            .map(|c| {
                if c.is_ascii_alphanumeric() {
                    c.to_ascii_lowercase()
                } else {
                    '-'
                }
            })
            .collect();
        File {
            bytes,
            kind,
            name: Header::new(
                "Content-Disposition",
                format!("inline; filename=\"{safe}.{extension}\""),
            ),
        }
    }
}

/// Reads which paper is wanted; Letter unless said.
pub fn paper_of(word: Option<&str>) -> Result<Paper, Problem> {
    match word {
        Some("a4") => Ok(Paper::A4),
        None | Some("letter") => Ok(Paper::Letter),
        Some(_) => Err(Problem::input("paper", "Choose Letter or A4.").at("/paper")),
    }
}
