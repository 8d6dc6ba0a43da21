//! The one reader of everything that is kept as JSON: it knows every version that a release ever wrote.
//!
//! What is written carries `version`; what has none is of the first. Nothing unreadable becomes a default or vanishes: the reader
//! says what cannot be read and why, and whoever shows it shows the value as it is kept.

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::StoreError;

/// A kind of stored value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A side as measured.
    Side,
    /// A feature.
    Feature,
    /// A piece.
    Piece,
    /// A job's vehicle as the rules of marking see it.
    MarkedVehicle,
    /// The marking of a side.
    Marking,
    /// A tape on the shelf.
    Tape,
    /// A side to start from.
    Template,
    /// The shop's settings.
    Settings,
    /// What an issued plan froze.
    Plan,
}

impl Kind {
    /// Every kind.
    pub const ALL: [Kind; 9] = [
        Kind::Side,
        Kind::Feature,
        Kind::Piece,
        Kind::MarkedVehicle,
        Kind::Marking,
        Kind::Tape,
        Kind::Template,
        Kind::Settings,
        Kind::Plan,
    ];

    /// What it is called.
    pub fn word(self) -> &'static str {
        match self {
            Kind::Side => "side",
            Kind::Feature => "feature",
            Kind::Piece => "piece",
            Kind::MarkedVehicle => "marked vehicle",
            Kind::Marking => "marking",
            Kind::Tape => "tape",
            Kind::Template => "template",
            Kind::Settings => "settings",
            Kind::Plan => "plan",
        }
    }

    /// The version that is written now. A kind whose shape changes in a way that its type cannot read by itself gets the next one and a
    /// step in [`Kind::brought_up`].
    pub fn version(self) -> u64 {
        match self {
            // Version 2 froze the answers too.
            Kind::Plan => 2,
            _ => 1,
        }
    }

    /// A value as it is kept.
    ///
    /// Errors: a value that is no JSON object.
    pub fn write(self, value: &impl Serialize) -> Result<Value, StoreError> {
        let mut value = serde_json::to_value(value)?;
        let fields = value
            .as_object_mut()
            .ok_or_else(|| StoreError::unreadable(self.word(), "it is no object"))?;
        fields.insert("version".into(), self.version().into());
        Ok(value)
    }

    /// Reads a kept value of any version so far.
    ///
    /// ```
    /// use serde_json::{Value, json};
    /// use windrift_store::stored::Kind;
    /// assert!(Kind::Piece.read::<Value>(&json!({ "art": 1 })).is_ok());
    /// let newer = Kind::Piece.read::<Value>(&json!({ "version": 99 })).unwrap_err();
    /// assert!(newer.to_string().contains("newer"));
    /// ```
    ///
    /// Errors: [`StoreError::Unreadable`], also for a version that this release does not know.
    pub fn read<T: DeserializeOwned>(self, kept: &Value) -> Result<T, StoreError> {
        let version = match kept.get("version") {
            None => 1,
            Some(v) => v.as_u64().ok_or_else(|| {
                StoreError::unreadable(self.word(), "its version is no whole number")
            })?,
        };
        if version > self.version() {
            return Err(StoreError::unreadable(
                self.word(),
                format!(
                    "a newer Windrift wrote it (version {version}; this one reads up to {})",
                    self.version()
                ),
            ));
        }
        let mut value = kept.clone();
        for from in version..self.version() {
            self.brought_up(&mut value, from);
        }
        serde_json::from_value(value)
            .map_err(|e| StoreError::unreadable(self.word(), e.to_string()))
    }

    /// Takes a value from one version to the next.
    fn brought_up(self, value: &mut Value, from: u64) {
        if let (Kind::Plan, 1, Some(fields)) = (self, from, value.as_object_mut()) {
            // Nothing was frozen but the specs: what is not there stays away, and the reader says so.
            fields.insert("version".into(), 2.into());
        }
    }
}
