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
use crate::ground::outline::Shape;
use crate::ground::tape::{Unit, print};
use crate::vehicle::body::Body;
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
    pub front_drop_mm: f64,
    /// Rail to the reference at the rail's rear end, plumb, mm; less than 0 above the rail.
    pub rear_drop_mm: f64,
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
}

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
        }
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
                        print(mm, Unit::InchSixteenth).text,
                        self.rail
                    ),
                )?;
            }
        }
        self.surface.check()?;
        self.photo.as_ref().map_or(Ok(()), Underlay::check)
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
            rail.drop_point(0.0, reference.front_drop_mm),
            rail.drop_point(rail.length_mm, reference.rear_drop_mm),
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ground::settings::SideWords;

    fn body(kind: SideKind, fall_mm: f64) -> Side {
        let body = Body::Box {
            length_mm: 7315.2,
            height_mm: 2184.4,
            fall_mm,
        };
        Side::new(kind, body, Surface::default())
    }

    #[test]
    fn back_and_down_survive_the_round_trip_on_both_sides_and_with_a_fall() {
        for kind in [SideKind::Left, SideKind::Right] {
            for fall_mm in [-60.0, 0.0, 38.1] {
                let side = body(kind, fall_mm);
                let datum = side.datum();
                let (back, down) = datum.read(datum.at(1234.5, 678.9));
                assert!((back - 1234.5).abs() < 1e-9 && (down - 678.9).abs() < 1e-9);
                let (back, drop) = datum.read_plumb(datum.drop_point(1234.5, 678.9));
                assert!((back - 1234.5).abs() < 1e-9 && (drop - 678.9).abs() < 1e-9);
                assert!(
                    datum.at(100.0, 0.0).x * side.direction() > 0.0,
                    "back runs away from the front"
                );
                assert!(datum.down.y > 0.0);
                assert!((datum.at(7315.2, 0.0).y - fall_mm).abs() < 1e-9);
            }
        }
    }

    #[test]
    fn the_shop_sees_its_own_words() {
        let left = body(SideKind::Left, 0.0);
        assert_eq!(left.name(SideWords::StreetCurbKeepRight), "street side");
        assert_eq!(left.name(SideWords::NearOffKeepLeft), "near side");
        let right = body(SideKind::Right, 0.0);
        assert_eq!(right.name(SideWords::StreetCurbKeepLeft), "street side");
    }

    #[test]
    fn across_the_vehicle_the_ends_are_its_sides() {
        let ends = |kind| {
            let names = body(kind, 0.0).edge_names(SideWords::StreetCurbKeepRight);
            (names.zero, names.far, names.upper, names.lower)
        };
        let told = |a: &str, b: &str, c: &str, d: &str| (a.into(), b.into(), c.into(), d.into());
        assert_eq!(
            ends(SideKind::Right),
            told("front edge", "rear edge", "top rail", "bottom edge")
        );
        // From behind the vehicle's left is at the left, from ahead at the right.
        assert_eq!(ends(SideKind::Rear).0, "street side edge");
        assert_eq!(ends(SideKind::Front).0, "curb side edge");
        // Standing before the hood: its rear edge is the upper one, the vehicle's right at the left hand.
        assert_eq!(
            ends(SideKind::Hood),
            told(
                "curb side edge",
                "street side edge",
                "rear edge",
                "front edge"
            )
        );
        assert_eq!(
            ends(SideKind::Tail),
            told(
                "street side edge",
                "curb side edge",
                "front edge",
                "rear edge"
            )
        );
        // The roof with its front at the left: the vehicle's right lies above.
        assert_eq!(
            ends(SideKind::Roof),
            told(
                "front edge",
                "rear edge",
                "curb side edge",
                "street side edge"
            )
        );
    }

    #[test]
    fn a_body_line_is_told_against_level_and_rail() {
        let mut side = body(SideKind::Left, 12.7);
        side.references.push(Reference {
            id: Uuid::from_u128(7),
            name: "body line".into(),
            front_drop_mm: 900.0,
            rear_drop_mm: 906.35,
        });
        assert_eq!(side.check(), Ok(()));
        let told: Vec<String> = side
            .levels(Unit::InchSixteenth)
            .into_iter()
            .map(|l| l.sentence)
            .collect();
        assert_eq!(told[0], "The top rail falls 1/2 to the rear over 24' 0.");
        assert_eq!(
            told[1],
            "The body line falls 3/4 to the rear over 24' 0. It and the top rail run 1/4 apart."
        );
        side.references[0].rear_drop_mm = 5000.0;
        assert!(
            side.check()
                .is_err_and(|e| e.field == "references" && e.sentence.contains("leave the side"))
        );
    }

    #[test]
    fn a_front_that_cannot_be_there_is_refused() {
        let mut side = body(SideKind::Left, 0.0);
        side.front = FrontAt::Right;
        assert!(side.check().is_err_and(|e| e.field == "front"));
    }

    #[test]
    fn a_mirrored_side_keeps_its_measures_and_turns_round() {
        let left = body(SideKind::Left, 20.0);
        let right = left.mirrored();
        assert!(
            right
                .as_ref()
                .is_some_and(|r| r.check().is_ok() && r.kind == SideKind::Right)
        );
        let end = |side: &Side| side.datum().at(7315.2, 0.0);
        assert!(
            right.is_some_and(
                |r| (end(&r).x + end(&left).x).abs() < 1e-9 && end(&r).y == end(&left).y
            )
        );
        assert_eq!(body(SideKind::Rear, 0.0).mirrored(), None);
    }
}
