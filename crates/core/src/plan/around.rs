//! What a side needs to know of its job.

use uuid::Uuid;

use crate::art::typeface::Typefaces;

/// What a side's plan needs to know of the rest of the job.
#[derive(Debug, Clone, Default)]
pub struct JobAround {
    /// Figures of pieces on the side that mirrors this one, by their key, with the name of their reference.
    pub mirrored: std::collections::HashMap<Uuid, (crate::place::placed::MirrorFigures, String)>,
    /// Pieces of that side that mirror a piece of this one, by their key, with what they are called.
    pub mirroring: std::collections::HashMap<Uuid, String>,
    /// Words of the lettering on that side; `None` where the job has no such side.
    pub words_there: Option<Vec<String>>,
    /// What lettering may be cut in.
    pub typefaces: Typefaces,
}
