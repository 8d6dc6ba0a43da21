//! The one reader of everything that is kept as JSON: it knows every version that a release ever wrote.
//!
//! What is written carries `version`; what has none is from before that was so. Nothing unreadable becomes a default or vanishes: the reader
//! says what cannot be read and why, and whoever shows it shows the value as it is kept.

use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

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
    /// A film on the shelf.
    Film,
    /// A roll on the shelf.
    Roll,
    /// A tape, liquid, blade or wipe on the shelf.
    Supply,
    /// When a job's fitting starts, and what is done before it.
    Fitting,
    /// A side to start from.
    Template,
    /// The shop's settings.
    Settings,
    /// What an issued plan froze.
    Plan,
}

impl Kind {
    /// Every kind.
    pub const ALL: [Kind; 13] = [
        Kind::Side,
        Kind::Feature,
        Kind::Piece,
        Kind::MarkedVehicle,
        Kind::Marking,
        Kind::Tape,
        Kind::Film,
        Kind::Roll,
        Kind::Supply,
        Kind::Fitting,
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
            Kind::Film => "film",
            Kind::Roll => "roll",
            Kind::Supply => "supply",
            Kind::Fitting => "fitting",
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
            None => 0,
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

    /// Takes a value from one version to the next. What has no version is of one of the first five releases, which did not write one.
    fn brought_up(self, value: &mut Value, from: u64) {
        match (self, from) {
            (Kind::Side, 0) if value.get("side").is_some() => *value = side_of_first_release(value),
            (Kind::Feature, 0) if value.get("form").is_none() => {
                *value = feature_of_first_release(value);
            }
            // A plan of version 1 froze the specs alone: what is not there stays away, and its reader says so.
            _ => {}
        }
    }
}

/// The first release knew box bodies alone, by their four figures.
fn side_of_first_release(was: &Value) -> Value {
    json!({
        "version": 1,
        "kind": was["side"], "facing": was["side"], "front": was["side"], "rail": "top rail",
        "body": { "shape": "box", "length_mm": was["length_mm"], "height_mm": was["height_mm"], "fall_mm": was["fall_mm"] },
        "surface": { "material": "painted_aluminium", "finish": "original" },
    })
}

/// The first release knew five kinds of features, each with figures of its own.
fn feature_of_first_release(was: &Value) -> Value {
    let clearance = was
        .get("clearance_mm")
        .cloned()
        .unwrap_or_else(|| json!(0.0));
    let rectangle = |to: &str, count: &Value, pitch: &Value| {
        json!({
            "form": "rectangle", "back_mm": was.get("back_mm").or(was.get("first_mm")), "drop_mm": was["drop_mm"], "to": to,
            "width_mm": was["width_mm"], "height_mm": was["height_mm"],
            "repeat": { "count": count, "pitch_mm": pitch, "rows": 1, "row_pitch_mm": 0.0 },
        })
    };
    let (kind, form) = match was["kind"].as_str().unwrap_or_default() {
        "panel_seams" => (
            "panel_seam",
            json!({ "form": "upright", "first_mm": was["first_mm"], "pitch_mm": was["pitch_mm"], "count": was["count"] }),
        ),
        "rivet_columns" => (
            "rivets",
            json!({
                "form": "heads", "first_mm": was["first_mm"], "pitch_mm": was["pitch_mm"], "columns": was["count"],
                "first_head_mm": was["first_rivet_mm"], "head_pitch_mm": was["rivet_pitch_mm"], "heads": was["rivets"],
                "head_mm": was["head_mm"],
            }),
        ),
        "lamp_row" => ("lamp", rectangle("middle", &was["count"], &was["pitch_mm"])),
        "wheel_arch" => (
            "wheel_arch",
            json!({ "form": "arch", "centre_mm": was["centre_mm"], "width_mm": was["width_mm"], "height_mm": was["height_mm"] }),
        ),
        "locker_door" => ("locker_door", rectangle("corner", &json!(1), &json!(0.0))),
        // Of no kind that any release wrote: left as it is, to be shown as it is.
        _ => return was.clone(),
    };
    let mut feature = json!({ "kind": kind, "form": form, "clearance_mm": clearance });
    if let Some(colour) = was.get("colour") {
        feature["details"] = json!({ "of": "lamp", "colour": colour, "required": true });
    }
    feature
}
