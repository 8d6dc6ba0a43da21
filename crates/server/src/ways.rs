//! A shop's ways of working: settings and typefaces, as they stand or as a plan froze them.

use std::ops::Deref;

use time::{Date, OffsetDateTime};
use uuid::Uuid;
use windrift_core::art::typeface::Typefaces;
use windrift_core::ground::settings::{SideWords, WorkSettings};
use windrift_core::ground::tape::Unit;
use windrift_store::OwnTypeface;
use windrift_store::stored::Kind;

use crate::problem::Problem;

/// A shop's ways of working and what its lettering is cut in.
#[derive(Debug, Clone)]
pub struct Ways {
    /// Settings, as they stand or as a plan froze them.
    pub settings: WorkSettings,
    /// Their revision.
    pub revision: i32,
    /// Typefaces: shipped ones and the shop's own, those no longer offered too.
    pub faces: Typefaces,
    /// The shop's own typefaces.
    pub own: Vec<OwnTypeface>,
}

impl Ways {
    /// Today by the shop's clock.
    pub fn today(&self) -> Date {
        self.settings.zone.date(OffsetDateTime::now_utc())
    }
}

impl Deref for Ways {
    type Target = WorkSettings;

    fn deref(&self) -> &WorkSettings {
        &self.settings
    }
}

/// Settings as they are kept. A shop that has settled nothing yet works with the core's own.
pub fn settings_of(kept: &serde_json::Value) -> Result<WorkSettings, Problem> {
    let nothing_settled = kept.as_object().is_some_and(serde_json::Map::is_empty);
    if nothing_settled {
        return Ok(WorkSettings::default());
    }
    Ok(Kind::Settings.read(kept)?)
}

/// The stored name of one of the shop's own typefaces.
pub fn own_id(id: Uuid) -> String {
    format!("own-{id}")
}

/// What the shop measures its shelf in.
pub(crate) fn shop_unit(ways: &Ways) -> Unit {
    match ways.side_words {
        SideWords::NearOffKeepLeft => Unit::Millimetre,
        _ => Unit::InchSixteenth,
    }
}
