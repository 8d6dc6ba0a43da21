//! Kinds of features: what they are called, how near film may come, whether they come off.

use serde::{Deserialize, Serialize};

use crate::ground::mm::Mm;
use crate::vehicle::feature::form::Form;

/// Colour of a lamp's lens.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LampColour {
    /// Amber.
    Amber,
    /// Red.
    Red,
    /// White.
    White,
}

/// What a lamp is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LampFunction {
    /// Nobody has said. A red one at the rear may be a stop lamp.
    #[default]
    Unknown,
    /// Brakes.
    Stop,
    /// Tail or position.
    Tail,
    /// Turn signal.
    Turn,
    /// Side marker, clearance or identification.
    Marker,
    /// Reversing.
    Reverse,
    /// Lights the number plate.
    Plate,
    /// A reflex reflector: no lamp.
    Reflector,
}

/// Where air can leave a recess.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum OpenSide {
    /// Nowhere: walls all round.
    Enclosed,
    /// Upwards.
    Top,
    /// Downwards.
    Foot,
    /// Towards the zero of the tape.
    Front,
    /// Away from it.
    Rear,
}

/// What a thing on a side is to film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FeatureKind {
    /// Rivets in rows and columns.
    Rivets,
    /// Screws, bolts and other fasteners.
    Fastener,
    /// A seam between panels.
    PanelSeam,
    /// A gap round or beside a door.
    DoorGap,
    /// A crease in the panel.
    Crease,
    /// A body line.
    BodyLine,
    /// The waterline of a boat.
    Waterline,
    /// The edge of film that stays, where a new section meets it.
    FilmEdge,
    /// A door with a gap round it.
    LockerDoor,
    /// A hinge.
    Hinge,
    /// A latch or lock rod.
    Latch,
    /// A handle.
    Handle,
    /// A lamp.
    Lamp,
    /// A badge.
    Badge,
    /// A socket or inlet.
    Socket,
    /// A vent: never covered.
    Vent,
    /// A moulding or rub rail.
    Moulding,
    /// Rubber: nothing sticks.
    Rubber,
    /// Glass.
    Glass,
    /// A number plate or rating plate: never covered.
    Plate,
    /// A safety label: never covered.
    SafetyLabel,
    /// An emergency exit: never covered.
    Exit,
    /// A sensor or camera: never covered.
    Sensor,
    /// The cover or the seam of an air bag: never covered, taped or warmed.
    AirBag,
    /// A fastener that carries load: never covered.
    StructuralFastener,
    /// A bracket or arm.
    Bracket,
    /// Film of before that is still on, or the ghost of it: film laid over it lifts with it.
    OldFilm,
    /// A wheel arch.
    WheelArch,
    /// A recess in the panel.
    Recess,
    /// A place that curves outwards.
    CurvedZone,
    /// A place that curves inwards.
    ConcaveZone,
    /// Textured plastic.
    TexturedZone,
}

/// What a kind of feature does to film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FeatureClass {
    /// Heads that film lies on or beside.
    Heads,
    /// Lines that film crosses or runs along.
    Line,
    /// Things that film keeps off.
    KeepOff,
    /// Places where film behaves otherwise.
    Zone,
}

/// What else is measured of some kinds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "of", rename_all = "snake_case")]
pub enum Details {
    /// Of a lamp.
    Lamp {
        /// Colour of its lens.
        colour: LampColour,
        /// Whether the law requires it.
        required: bool,
        /// What it is for. Lamps of earlier releases have none.
        #[serde(default)]
        function: LampFunction,
    },
    /// Of a recess.
    Recess {
        /// How deep, mm.
        depth_mm: Mm,
        /// Angle of the walls from the face, degrees: 90 is square.
        wall_degrees: f64,
        /// Where air can leave.
        open: OpenSide,
    },
    /// Of a curved zone.
    Curve {
        /// Whether it bends in two directions.
        compound: bool,
        /// How far it rises over its chord, mm.
        rise_mm: Mm,
    },
    /// Of a concave zone.
    Hollow {
        /// How deep at most, mm.
        depth_mm: Mm,
    },
    /// Of rivets and fasteners, where somebody has measured it.
    Head {
        /// How far a head stands up from the panel, mm.
        height_mm: Mm,
    },
    /// Of a crease or a body line, where somebody has measured it.
    Fold {
        /// From the panel to its bottom or its top, mm.
        depth_mm: Mm,
        /// Across it, from where it leaves the panel to where it is back, mm.
        wide_mm: Mm,
    },
    /// Of glass. Glass of earlier releases has none: the driver looks through it.
    Glass {
        /// Whether the driver looks through it.
        driver: bool,
    },
}

/// Whether a thing is taken off before film goes on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ComesOff {
    /// It stays.
    #[default]
    Stays,
    /// It comes off and goes back after.
    GoesBack,
    /// It comes off for good.
    ForGood,
}

impl FeatureKind {
    /// Every kind, in the order in which a fitter walks round.
    pub const ALL: [FeatureKind; 32] = [
        FeatureKind::Rivets,
        FeatureKind::Fastener,
        FeatureKind::PanelSeam,
        FeatureKind::DoorGap,
        FeatureKind::Crease,
        FeatureKind::BodyLine,
        FeatureKind::Waterline,
        FeatureKind::FilmEdge,
        FeatureKind::LockerDoor,
        FeatureKind::Hinge,
        FeatureKind::Latch,
        FeatureKind::Handle,
        FeatureKind::Lamp,
        FeatureKind::Badge,
        FeatureKind::Socket,
        FeatureKind::Vent,
        FeatureKind::Moulding,
        FeatureKind::Rubber,
        FeatureKind::Glass,
        FeatureKind::Plate,
        FeatureKind::SafetyLabel,
        FeatureKind::Exit,
        FeatureKind::Sensor,
        FeatureKind::AirBag,
        FeatureKind::StructuralFastener,
        FeatureKind::Bracket,
        FeatureKind::OldFilm,
        FeatureKind::WheelArch,
        FeatureKind::Recess,
        FeatureKind::CurvedZone,
        FeatureKind::ConcaveZone,
        FeatureKind::TexturedZone,
    ];

    /// One of it, and several.
    pub fn names(self) -> (&'static str, &'static str) {
        match self {
            FeatureKind::Rivets => ("rivet column", "rivet columns"),
            FeatureKind::Fastener => ("fastener", "fasteners"),
            FeatureKind::PanelSeam => ("seam", "seams"),
            FeatureKind::DoorGap => ("door gap", "door gaps"),
            FeatureKind::Crease => ("crease", "creases"),
            FeatureKind::BodyLine => ("body line", "body lines"),
            FeatureKind::Waterline => ("waterline", "waterlines"),
            FeatureKind::FilmEdge => ("film edge", "film edges"),
            FeatureKind::LockerDoor => ("locker door", "locker doors"),
            FeatureKind::Hinge => ("hinge", "hinges"),
            FeatureKind::Latch => ("latch", "latches"),
            FeatureKind::Handle => ("handle", "handles"),
            FeatureKind::Lamp => ("lamp", "lamps"),
            FeatureKind::Badge => ("badge", "badges"),
            FeatureKind::Socket => ("socket", "sockets"),
            FeatureKind::Vent => ("vent", "vents"),
            FeatureKind::Moulding => ("moulding", "mouldings"),
            FeatureKind::Rubber => ("rubber", "rubber strips"),
            FeatureKind::Glass => ("glass", "panes of glass"),
            FeatureKind::Plate => ("plate", "plates"),
            FeatureKind::SafetyLabel => ("safety label", "safety labels"),
            FeatureKind::Exit => ("emergency exit", "emergency exits"),
            FeatureKind::Sensor => ("sensor", "sensors"),
            FeatureKind::AirBag => ("air bag cover", "air bag covers"),
            FeatureKind::StructuralFastener => ("structural fastener", "structural fasteners"),
            FeatureKind::Bracket => ("bracket", "brackets"),
            FeatureKind::OldFilm => ("old film", "places of old film"),
            FeatureKind::WheelArch => ("wheel arch", "wheel arches"),
            FeatureKind::Recess => ("recess", "recesses"),
            FeatureKind::CurvedZone => ("curved zone", "curved zones"),
            FeatureKind::ConcaveZone => ("concave zone", "concave zones"),
            FeatureKind::TexturedZone => ("textured zone", "textured zones"),
        }
    }

    /// What it does to film.
    pub fn class(self) -> FeatureClass {
        use FeatureKind::*;
        match self {
            Rivets | Fastener => FeatureClass::Heads,
            PanelSeam | DoorGap | Crease | BodyLine | Waterline | FilmEdge => FeatureClass::Line,
            Recess | CurvedZone | ConcaveZone | TexturedZone => FeatureClass::Zone,
            _ => FeatureClass::KeepOff,
        }
    }

    /// Whether film must never lie on it, whatever else speaks for the place, and what to say then.
    pub fn never_covered(self) -> Option<&'static str> {
        match self {
            FeatureKind::Lamp => Some("Never cover a lamp."),
            FeatureKind::Vent => Some("Never cover a vent."),
            FeatureKind::Plate => Some("Never cover a plate: it must stay readable."),
            FeatureKind::SafetyLabel => Some("Never cover a safety label."),
            FeatureKind::Exit => Some("Never cover an emergency exit or its words."),
            FeatureKind::Sensor => Some("Never cover a sensor or camera."),
            FeatureKind::AirBag => {
                Some("Never cover, tape or warm the cover or the seam of an air bag.")
            }
            FeatureKind::StructuralFastener => {
                Some("Never cover a fastener that carries load: it must be seen and tightened.")
            }
            FeatureKind::Rubber => Some("Nothing sticks to rubber."),
            FeatureKind::Waterline => Some("Below the waterline water works under every edge."),
            _ => None,
        }
    }

    /// How far film keeps off it unless the shop says otherwise, mm. An eighth of an inch at hardware is common practice (no source), the others
    /// are ours.
    pub fn usual_clearance_mm(self) -> f64 {
        match self {
            FeatureKind::Hinge | FeatureKind::Latch => 3.175,
            FeatureKind::WheelArch => 25.4,
            FeatureKind::OldFilm => 0.0,
            FeatureKind::Rubber
            | FeatureKind::Moulding
            | FeatureKind::Glass
            | FeatureKind::Badge => 3.175,
            kind if kind.class() == FeatureClass::KeepOff => 12.7,
            _ => 0.0,
        }
    }

    pub(super) fn details_fit(self, details: Option<&Details>) -> bool {
        match self {
            FeatureKind::Lamp => matches!(details, Some(Details::Lamp { .. })),
            FeatureKind::Recess => matches!(details, Some(Details::Recess { .. })),
            FeatureKind::CurvedZone => matches!(details, Some(Details::Curve { .. })),
            FeatureKind::ConcaveZone => matches!(details, Some(Details::Hollow { .. })),
            FeatureKind::Rivets | FeatureKind::Fastener => {
                matches!(details, None | Some(Details::Head { .. }))
            }
            FeatureKind::Crease | FeatureKind::BodyLine => {
                matches!(details, None | Some(Details::Fold { .. }))
            }
            FeatureKind::Glass => matches!(details, None | Some(Details::Glass { .. })),
            _ => details.is_none(),
        }
    }

    pub(super) fn form_fits(self, form: &Form) -> bool {
        match self.class() {
            FeatureClass::Heads => matches!(form, Form::Heads { .. }),
            FeatureClass::Line => match form {
                // Where a section meets it, an edge is straight from its upper corner to its lower.
                Form::Straight { .. } => true,
                _ if self == FeatureKind::FilmEdge => false,
                Form::Upright { .. } | Form::Path { .. } => true,
                // A gap runs all round a door.
                Form::Rectangle { .. } => self == FeatureKind::DoorGap,
                _ => false,
            },
            FeatureClass::KeepOff | FeatureClass::Zone => match form {
                Form::Rectangle { .. } | Form::Round { .. } | Form::Path { closed: true, .. } => {
                    true
                }
                Form::Arch { .. } => self == FeatureKind::WheelArch,
                _ => false,
            },
        }
    }
}

/// Details that a new feature starts from: a typical van recess is 3/4 in deep with near-square walls (common practice, no
/// source).
pub fn usual_details(kind: FeatureKind) -> Option<Details> {
    match kind {
        FeatureKind::Lamp => Some(Details::Lamp {
            colour: LampColour::Amber,
            required: true,
            function: LampFunction::Unknown,
        }),
        FeatureKind::Recess => Some(Details::Recess {
            depth_mm: 19.05.into(),
            wall_degrees: 80.0,
            open: OpenSide::Enclosed,
        }),
        FeatureKind::CurvedZone => Some(Details::Curve {
            compound: false,
            rise_mm: 25.4.into(),
        }),
        FeatureKind::Glass => Some(Details::Glass { driver: true }),
        FeatureKind::ConcaveZone => Some(Details::Hollow {
            depth_mm: 12.7.into(),
        }),
        _ => None,
    }
}
