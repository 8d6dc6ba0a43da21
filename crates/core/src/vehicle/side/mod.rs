//! One side of a vehicle as measured: what it is called, which way it faces, its shape, its surface, and the straight references
//! that a tape is read from.
//!
//! The picture frame: mm, x to the right and y down as a person sees the side, origin at the zero of the tape. A side whose
//! front is at the picture's right therefore runs towards negative x.
//!
//! Readings: *back* runs along a datum from its zero, *down* is square to it, a *drop* is plumb.

pub mod levels;
mod names;
pub mod words;

use kurbo::Point;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::datum::Datum;
use crate::ground::measure_error::{HIGHEST_MM, MeasureError, require};
use crate::ground::mm::SignedMm;
use crate::ground::outline::Shape;
use crate::ground::tape::{Unit, print};
use crate::vehicle::body::Body;
use crate::vehicle::feature::Feature;
use crate::vehicle::inside::MOST_OFFERED;
use crate::vehicle::side::words::{Facing, FrontAt, SideKind};
use crate::vehicle::surface::Surface;
use crate::vehicle::underlay::Underlay;

/// Most references on one side beside its rail.
pub const MOST_REFERENCES: usize = 8;

/// Longest name of a side or reference, in characters.
pub const LONGEST_NAME: usize = 40;

/// A straight reference beside the rail, as a fitter measures it: plumb down from the rail at both ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reference {
    /// Its own key, so that rules and features can hang on it.
    pub id: Uuid,
    /// What it is called: `body line`, `panel edge`.
    pub name: String,
    /// Rail to the reference at the rail's front end, plumb, mm; less than 0 above the rail.
    pub front_drop_mm: SignedMm,
    /// Rail to the reference at the rail's rear end, plumb, mm; less than 0 above the rail.
    pub rear_drop_mm: SignedMm,
}

/// A side as measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Side {
    /// Version of this format.
    pub version: u32,
    /// Which side it is.
    pub kind: SideKind,
    /// What the shop calls it, where that is more than its kind: `driver's door`.
    #[serde(default)]
    pub called: Option<String>,
    /// Which way it faces.
    pub facing: Facing,
    /// Where the vehicle's front lies in its picture.
    pub front: FrontAt,
    /// Its shape.
    pub body: Body,
    /// What its straight reference is called: `top rail`, `gunwale`, `upper edge`.
    pub rail: String,
    /// Further straight references.
    #[serde(default)]
    pub references: Vec<Reference>,
    /// What it is made of and how its paint is.
    pub surface: Surface,
    /// Colour of the body as `#rrggbb`, where it is known: contrast is judged by it.
    #[serde(default)]
    pub colour: Option<String>,
    /// A photo under the picture, to trace and check against.
    #[serde(default)]
    pub photo: Option<Underlay>,
    /// Paths of figures that came with a starting shape and that nobody has measured yet: `/body/length_mm`. Sides of earlier releases
    /// have none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub unmeasured: Vec<String>,
    /// What usually stands on a side of its starting shape: offered, not put there.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub offered: Vec<Feature>,
}

/// Most figures of a shape that can be unmeasured.
const MOST_UNMEASURED: usize = 24;

impl Side {
    /// A side of this kind with this shape, facing as such sides usually do.
    pub fn new(kind: SideKind, body: Body, surface: Surface) -> Side {
        let (facing, front) = kind.usual_view();
        let rail = match (&body, kind) {
            (Body::Hull { .. }, _) => "gunwale",
            (Body::Box { .. }, _) => "top rail",
            (Body::TravelTrailer { .. } | Body::Van { .. }, _) => "roof line",
            _ => "upper edge",
        };
        Side {
            version: 1,
            kind,
            called: None,
            facing,
            front,
            body,
            rail: rail.into(),
            references: Vec::new(),
            surface,
            colour: None,
            photo: None,
            unmeasured: Vec::new(),
            offered: Vec::new(),
        }
    }

    /// What is still unmeasured after the side was changed from `before`: a figure that somebody typed anew is measured, and so are all of
    /// them where the outline was taken from readings or a file.
    ///
    /// ```
    /// # use windrift_core::vehicle::{body::Body, side::words::SideKind, start::shapes::StartShape};
    /// let (before, _) = StartShape::BoxBody.start(SideKind::Left);
    /// let mut after = before.clone();
    /// let Body::Box { length_mm, .. } = &mut after.body else { panic!() };
    /// *length_mm = 3657.6.into();
    /// assert_eq!(after.still_unmeasured(&before), ["/body/height_mm", "/body/fall_mm"]);
    /// ```
    pub fn still_unmeasured(&self, before: &Side) -> Vec<String> {
        let (now, then) = (serde_json::to_value(self), serde_json::to_value(before));
        let (Ok(now), Ok(then)) = (now, then) else {
            return Vec::new();
        };
        self.unmeasured
            .iter()
            .filter(|path| now.pointer(path).is_some() && now.pointer(path) == then.pointer(path))
            .cloned()
            .collect()
    }

    /// What is not measured yet, in words: `length`, `height`.
    pub fn unmeasured_names(&self) -> Vec<String> {
        let name = |path: &String| {
            let field = path.rsplit('/').next().unwrap_or_default();
            field.trim_end_matches("_mm").replace('_', " ")
        };
        self.unmeasured.iter().map(name).collect()
    }

    /// The side as seen from the other side of the vehicle: everything measured stays, the front changes ends.
    pub fn mirrored(&self) -> Option<Side> {
        let (facing, front) = match (self.facing, self.front) {
            (Facing::Left, _) => (Facing::Right, FrontAt::Right),
            (Facing::Right, _) => (Facing::Left, FrontAt::Left),
            _ => return None,
        };
        Some(Side {
            kind: self.kind.mirror()?,
            facing,
            front,
            photo: None,
            ..self.clone()
        })
    }

    /// +1 where the tape runs to the picture's right, −1 where it runs to the left (front at the picture's right).
    pub fn direction(&self) -> f64 {
        if self.front == FrontAt::Right {
            -1.0
        } else {
            1.0
        }
    }

    /// Whether the front end of the tape is the vehicle's front.
    pub fn runs_front_to_rear(&self) -> bool {
        matches!(self.front, FrontAt::Left | FrontAt::Right)
    }

    /// Checks that the measurements describe a side. Errors name the field.
    pub fn check(&self) -> Result<(), MeasureError> {
        self.body.check()?;
        let fits = match self.facing {
            Facing::Left => self.front == FrontAt::Left,
            Facing::Right => self.front == FrontAt::Right,
            Facing::Ahead | Facing::Behind => self.front == FrontAt::NotInIt,
            Facing::Up => self.front != FrontAt::NotInIt,
        };
        require(
            fits,
            "front",
            "The front cannot lie there in the picture of a side that faces this way. Choose where the front is again.",
        )?;
        let named = |field: &'static str, name: &str, what: &str| {
            require(
                !name.trim().is_empty() && name.chars().count() <= LONGEST_NAME,
                field,
                format!("{what} needs a name of 1 to {LONGEST_NAME} characters."),
            )
        };
        named("rail", &self.rail, "The reference")?;
        if let Some(called) = &self.called {
            require(
                called.chars().count() <= LONGEST_NAME,
                "called",
                format!("The name of a side may have {LONGEST_NAME} characters. Shorten it."),
            )?;
        }
        require(
            self.references.len() <= MOST_REFERENCES,
            "references",
            format!(
                "A side may have {MOST_REFERENCES} references beside its {}. Remove one.",
                self.rail
            ),
        )?;
        for (n, reference) in self.references.iter().enumerate() {
            named("references", &reference.name, "A reference")?;
            require(
                !self
                    .references
                    .iter()
                    .skip(n + 1)
                    .any(|other| other.id == reference.id),
                "references",
                "Two references have the same key. Remove one and add it again.",
            )?;
            let bounds = self.outline().bounds;
            for (mm, end) in [
                (reference.front_drop_mm, "front"),
                (reference.rear_drop_mm, "rear"),
            ] {
                require(
                    mm.is_finite() && mm.abs() <= HIGHEST_MM,
                    "references",
                    format!(
                        "The {} lies too far from the {} at its {end} end. Measure it again.",
                        reference.name, self.rail
                    ),
                )?;
                let rail = self.datum();
                let at = if end == "front" { 0.0 } else { rail.length_mm };
                let y = rail.at(at, 0.0).y + mm;
                require(
                    (bounds.y0 - 1.0..=bounds.y1 + 1.0).contains(&y),
                    "references",
                    format!(
                        "The {} would leave the side at its {end} end: {} from the {}, where the side ends before that. Measure it again.",
                        reference.name,
                        print(mm.mm(), Unit::InchSixteenth).text,
                        self.rail
                    ),
                )?;
            }
        }
        require(
            self.unmeasured.len() <= MOST_UNMEASURED
                && self.unmeasured.iter().all(|p| p.starts_with("/body/")),
            "unmeasured",
            "Only figures of the side's own shape can be unmeasured.",
        )?;
        require(
            self.offered.len() <= MOST_OFFERED,
            "offered",
            format!("A side offers at most {MOST_OFFERED} things."),
        )?;
        self.surface.check()?;
        self.photo
            .as_ref()
            .map_or(Ok(()), |photo| photo.check(self.direction()))
    }

    /// A point of the run frame in the picture frame.
    pub fn to_picture(&self, run: Point) -> Point {
        Point::new(run.x * self.direction(), run.y)
    }

    /// The rail as a datum, its zero at the front edge.
    pub fn datum(&self) -> Datum {
        let (zero, end) = self.body.rail();
        Datum::between(self.to_picture(zero), self.to_picture(end))
    }

    /// A reference as a datum; the rail where `id` is `None`. `None` where there is no such reference.
    pub fn datum_of(&self, id: Option<Uuid>) -> Option<Datum> {
        let rail = self.datum();
        let Some(id) = id else { return Some(rail) };
        let reference = self.references.iter().find(|r| r.id == id)?;
        Some(Datum::between(
            rail.drop_point(0.0, reference.front_drop_mm.mm()),
            rail.drop_point(rail.length_mm, reference.rear_drop_mm.mm()),
        ))
    }

    /// What a reference is called; the rail's name where `id` is `None` or unknown.
    pub fn datum_name(&self, id: Option<Uuid>) -> &str {
        id.and_then(|id| self.references.iter().find(|r| r.id == id))
            .map_or(&self.rail, |r| &r.name)
    }

    /// The outline in the picture frame.
    pub fn outline(&self) -> Shape {
        let contour = self.body.outline().into_iter().map(|p| self.to_picture(p));
        Shape::new(vec![contour.collect()])
    }
}
