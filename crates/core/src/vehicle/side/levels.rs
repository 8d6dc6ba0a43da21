//! How the references of a side lie against level, and against its rail.

use serde::Serialize;
use uuid::Uuid;

use crate::ground::tape::{Length, Unit, print};
use crate::vehicle::side::Side;

/// How a reference lies against level.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LevelReport {
    /// The reference; `None` is the rail.
    pub id: Option<Uuid>,
    /// What it is called.
    pub name: String,
    /// Its two ends in the picture frame, mm.
    pub line: [[f64; 2]; 2],
    /// How far it falls over its length.
    pub fall: Length,
    /// One sentence: `The body line falls 1/2 to the rear over 22' 6; the top rail is level.`
    pub sentence: String,
}

impl Side {
    /// How each reference lies against level, and against the rail.
    pub fn levels(&self, unit: Unit) -> Vec<LevelReport> {
        let ids = std::iter::once(None).chain(self.references.iter().map(|r| Some(r.id)));
        ids.filter_map(|id| {
            let datum = self.datum_of(id)?;
            let name = self.datum_name(id).to_owned();
            let end = datum.at(datum.length_mm, 0.0);
            let fall = print(datum.fall_mm(), unit);
            let to = if self.runs_front_to_rear() {
                "to the rear"
            } else {
                "to its far end"
            };
            let lies = |mm: f64| {
                let printed = print(mm.abs(), unit);
                if printed.mm == 0.0 {
                    "is level".to_owned()
                } else {
                    let way = if mm > 0.0 { "falls" } else { "rises" };
                    format!("{way} {} {to}", printed.text)
                }
            };
            let over = print(datum.length_mm, unit).text;
            let mut sentence = format!("The {name} {} over {over}.", lies(datum.fall_mm()));
            if id.is_some() {
                let against = datum.fall_mm() - self.datum().fall_mm();
                let printed = print(against.abs(), unit);
                sentence += &if printed.mm == 0.0 {
                    format!(" It runs parallel to the {}.", self.rail)
                } else {
                    let way = if against > 0.0 { "apart" } else { "together" };
                    format!(" It and the {} run {} {way}.", self.rail, printed.text)
                };
            }
            Some(LevelReport {
                id,
                name,
                line: [[datum.zero.x, datum.zero.y], [end.x, end.y]],
                fall,
                sentence,
            })
        })
        .collect()
    }
}
