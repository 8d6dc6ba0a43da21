//! A side that is like the one across the vehicle: what differs between the two, and what is taken over.

use serde::Serialize;
use serde_json::Value;
use uuid::Uuid;

use crate::ground::tape::{Unit, print};
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::feature::{Feature, SideFeature};
use crate::vehicle::quick::say;
use crate::vehicle::side::Side;

/// Measures nearer than this are the same, mm.
const SAME_MM: f64 = 0.5;

/// What differs between two sides.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Difference {
    /// What it is: `length`, `surface`.
    pub what: String,
    /// On this side.
    pub here: String,
    /// On the other.
    pub there: String,
}

/// Something that the other side has and this one has not.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MissingFeature {
    /// Its key on the other side.
    pub id: Uuid,
    /// It in quick words.
    pub said: String,
}

/// How two sides differ in shape, references and surface.
///
/// ```
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::vehicle::{body::Body, same_side::differences, side::{Side, words::SideKind}, surface::Surface};
/// # let body = |long: f64| Body::Box { length_mm: long.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// let street = Side::new(SideKind::Left, body(3657.6), Surface::default());
/// let curb = Side::new(SideKind::Right, body(3606.8), Surface::default());
/// let differ = differences(&curb, &street, Unit::InchSixteenth);
/// assert_eq!((differ[0].what.as_str(), differ[0].here.as_str(), differ[0].there.as_str()), ("length", "11' 10", "12' 0"));
/// ```
pub fn differences(here: &Side, there: &Side, unit: Unit) -> Vec<Difference> {
    let json = |side: &Side| serde_json::to_value(&side.body).unwrap_or_default();
    let (a, b) = (json(here), json(there));
    let mut found = Vec::new();
    let shape = |v: &Value| v["shape"].as_str().unwrap_or_default().replace('_', " ");
    if shape(&a) != shape(&b) {
        found.push(Difference {
            what: "shape".into(),
            here: shape(&a),
            there: shape(&b),
        });
    } else if let (Some(a), Some(b)) = (a.as_object(), b.as_object()) {
        for (field, here) in a {
            let (Some(here), Some(there)) = (here.as_f64(), b.get(field).and_then(Value::as_f64))
            else {
                continue;
            };
            if (here - there).abs() > SAME_MM {
                found.push(Difference {
                    what: field.trim_end_matches("_mm").replace('_', " "),
                    here: print(here, unit).text,
                    there: print(there, unit).text,
                });
            }
        }
        if found.is_empty() && !same(&json(here), &json(there)) {
            found.push(Difference {
                what: "outline".into(),
                here: "as it was read here".into(),
                there: "as it was read there".into(),
            });
        }
    }
    let surface = |side: &Side| serde_json::to_value(side.surface).unwrap_or_default();
    let references = |side: &Side| {
        let named = side.references.iter().map(|r| {
            let drop = |mm: f64| print(mm, unit).text;
            let (front, rear) = (r.front_drop_mm.mm(), r.rear_drop_mm.mm());
            format!("{} {} to {} down", r.name, drop(front), drop(rear))
        });
        match named.collect::<Vec<_>>().join(", ") {
            none if none.is_empty() => "none beside the rail".to_owned(),
            some => some,
        }
    };
    if references(here) != references(there) {
        found.push(Difference {
            what: "references".into(),
            here: references(here),
            there: references(there),
        });
    }
    if surface(here) != surface(there) {
        let told = |side: &Side| {
            let value = surface(side);
            let of = |key: &str| value[key].as_str().unwrap_or_default().replace('_', " ");
            format!("{}, {}", of("material"), of("finish"))
        };
        found.push(Difference {
            what: "surface".into(),
            here: told(here),
            there: told(there),
        });
    }
    found
}

/// The side with the shape of the other: its body, its references, and which of its figures nobody has measured.
pub fn with_shape(here: &Side, there: &Side) -> Side {
    Side {
        body: there.body.clone(),
        rail: there.rail.clone(),
        references: there.references.clone(),
        unmeasured: there.unmeasured.clone(),
        ..here.clone()
    }
}

/// What the other side has and this one has not, as far as it belongs to the body: there is one waterline, whatever it was called.
pub fn missing<'t>(
    here: &[SideFeature],
    there: &'t [SideFeature],
) -> impl Iterator<Item = &'t SideFeature> {
    let form = |f: &Feature| serde_json::to_value(&f.form).unwrap_or_default();
    let forms: Vec<(FeatureKind, Value)> = here
        .iter()
        .map(|f| (f.feature.kind, form(&f.feature)))
        .collect();
    there.iter().filter(move |f| {
        let kind = f.feature.kind;
        let own = form(&f.feature);
        !forms
            .iter()
            .any(|(k, shape)| *k == kind && (kind == FeatureKind::Waterline || same(shape, &own)))
    })
}

/// The same, in words.
pub fn missing_said(
    here: &[SideFeature],
    there: &[SideFeature],
    side: &Side,
    unit: Unit,
) -> Vec<MissingFeature> {
    missing(here, there)
        .map(|f| MissingFeature {
            id: f.id,
            said: say(&f.feature, side, unit),
        })
        .collect()
}

/// Whether two measured things are the same within what a tape tells apart.
fn same(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(k, v)| b.get(k).is_some_and(|w| same(v, w)))
        }
        (Value::Array(a), Value::Array(b)) => {
            a.len() == b.len() && a.iter().zip(b).all(|(v, w)| same(v, w))
        }
        (Value::Number(a), Value::Number(b)) => {
            let mm = |n: &serde_json::Number| n.as_f64().unwrap_or(f64::NAN);
            (mm(a) - mm(b)).abs() <= SAME_MM
        }
        (a, b) => a == b,
    }
}
