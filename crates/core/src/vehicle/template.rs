//! A side with its features as the shop's own template, to start other jobs from and to pass on: an open JSON document.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::measure_error::{MeasureError, require};
use crate::vehicle::feature::{Feature, SideFeature};
use crate::vehicle::measured::measure::measure;
use crate::vehicle::side::Side;

/// What stands in `format`.
pub const FORMAT: &str = "windrift-side-template";
/// Newest version of the format.
pub const VERSION: u32 = 1;
/// Most features in a template.
pub const MOST_FEATURES: usize = 600;

/// A template of a side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SideTemplate {
    /// Always `windrift-side-template`.
    pub format: String,
    /// Version of the format: 1.
    pub version: u32,
    /// What the template is called.
    pub name: String,
    /// The side. All lengths are mm.
    pub side: Side,
    /// What is on it.
    pub features: Vec<Feature>,
}

impl SideTemplate {
    /// A template made from a side; its photo stays behind.
    pub fn new(
        name: &str,
        side: &Side,
        features: impl IntoIterator<Item = Feature>,
    ) -> SideTemplate {
        SideTemplate {
            format: FORMAT.into(),
            version: VERSION,
            name: name.trim().into(),
            side: Side {
                photo: None,
                ..side.clone()
            },
            features: features.into_iter().collect(),
        }
    }

    /// Checks that the template can start a side. Errors name the field.
    pub fn check(&self) -> Result<(), MeasureError> {
        require(
            self.format == FORMAT,
            "format",
            "This is not a side template of Windrift. Choose a file that Windrift wrote.",
        )?;
        require(
            self.version <= VERSION,
            "version",
            format!(
                "This template was written by a newer Windrift (format {}). Bring this one up to date.",
                self.version
            ),
        )?;
        require(
            (1..=80).contains(&self.name.trim().chars().count()),
            "name",
            "A template needs a name of 1 to 80 characters.",
        )?;
        require(
            self.features.len() <= MOST_FEATURES,
            "features",
            format!(
                "A side may have {MOST_FEATURES} features; this template has {}.",
                self.features.len()
            ),
        )?;
        require(
            self.side.photo.is_none(),
            "photo",
            "A template carries no photo. Leave it out.",
        )?;
        let features: Vec<SideFeature> = self
            .features
            .iter()
            .map(|feature| SideFeature {
                id: Uuid::nil(),
                feature: feature.clone(),
            })
            .collect();
        measure(&self.side, &features).map(|_| ())
    }
}
