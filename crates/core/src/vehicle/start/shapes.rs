//! Shapes to start from, with what usually stands on them. Sizes are invented, no source.

use serde::{Deserialize, Serialize};

use crate::vehicle::body::Body;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::dimensions::of_side;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::feature::kind::{Details, FeatureKind, LampColour, OpenSide};
use crate::vehicle::side::Side;
use crate::vehicle::side::words::SideKind;
use crate::vehicle::surface::{Material, Surface};

pub(crate) const INCH: f64 = 25.4;

/// A starting shape of a side.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StartShape {
    /// Box body.
    BoxBody,
    /// Side of a semi-trailer.
    SemiTrailer,
    /// Its rear with two doors.
    RearDoors,
    /// Travel trailer.
    TravelTrailer,
    /// Step van.
    StepVan,
    /// Panel van with recesses.
    PanelVan,
    /// Pickup's bed side.
    PickupBed,
    /// Pickup's door.
    PickupDoor,
    /// Car's hood.
    Hood,
    /// Car's roof.
    CarRoof,
    /// Car's tail.
    Tail,
    /// Boat's side.
    HullSide,
    /// Boat's transom.
    Transom,
    /// Hopper.
    Hopper,
    /// Tank.
    Tank,
    /// Flat panel.
    FlatPanel,
}

impl StartShape {
    /// Every starting shape, in the order in which they are offered.
    pub const ALL: [StartShape; 16] = [
        StartShape::BoxBody,
        StartShape::SemiTrailer,
        StartShape::RearDoors,
        StartShape::TravelTrailer,
        StartShape::StepVan,
        StartShape::PanelVan,
        StartShape::PickupBed,
        StartShape::PickupDoor,
        StartShape::Hood,
        StartShape::CarRoof,
        StartShape::Tail,
        StartShape::HullSide,
        StartShape::Transom,
        StartShape::Hopper,
        StartShape::Tank,
        StartShape::FlatPanel,
    ];

    /// What it is called, and the kind of side it usually is.
    pub fn names(self) -> (&'static str, SideKind) {
        match self {
            StartShape::BoxBody => ("Box body", SideKind::Left),
            StartShape::SemiTrailer => ("Semi-trailer side", SideKind::Left),
            StartShape::RearDoors => ("Rear with two doors", SideKind::Rear),
            StartShape::TravelTrailer => ("Travel trailer", SideKind::Left),
            StartShape::StepVan => ("Step van", SideKind::Left),
            StartShape::PanelVan => ("Panel van with recesses", SideKind::Left),
            StartShape::PickupBed => ("Pickup bed", SideKind::Left),
            StartShape::PickupDoor => ("Pickup door", SideKind::Door),
            StartShape::Hood => ("Car hood", SideKind::Hood),
            StartShape::CarRoof => ("Car roof", SideKind::Roof),
            StartShape::Tail => ("Car tail", SideKind::Tail),
            StartShape::HullSide => ("Boat hull side", SideKind::Port),
            StartShape::Transom => ("Boat transom", SideKind::Transom),
            StartShape::Hopper => ("Hopper", SideKind::Left),
            StartShape::Tank => ("Tank", SideKind::Left),
            StartShape::FlatPanel => ("Flat panel", SideKind::Other),
        }
    }

    /// A side of this shape as this kind, with what usually is on it.
    pub fn start(self, kind: SideKind) -> (Side, Vec<Feature>) {
        let (body, material, features) = self.parts();
        let side = Side::new(kind, body, Surface::of(material));
        // Nobody has held a tape to any of it.
        let unmeasured = of_side(&side).into_iter().map(|d| d.at).collect();
        let side = Side {
            unmeasured,
            offered: features.clone(),
            ..side
        };
        (side, features)
    }

    fn parts(self) -> (Body, Material, Vec<Feature>) {
        let panel = |top, bottom, height, starts, corner, top_bow, bottom_bow| Body::Panel {
            top_mm: top,
            bottom_mm: bottom,
            height_mm: height,
            bottom_starts_mm: starts,
            corner_mm: corner,
            top_bow_mm: top_bow,
            bottom_bow_mm: bottom_bow,
        };
        let boxed = |length_mm: f64, height_mm: f64| Body::Box {
            length_mm: length_mm.into(),
            height_mm: height_mm.into(),
            fall_mm: 0.0.into(),
        };
        match self {
            StartShape::BoxBody => (
                boxed(288.0 * INCH, 86.0 * INCH),
                Material::PaintedAluminium,
                vec![],
            ),
            StartShape::SemiTrailer => (
                boxed(636.0 * INCH, 108.0 * INCH),
                Material::PaintedAluminium,
                vec![],
            ),
            StartShape::RearDoors => (
                boxed(98.0 * INCH, 108.0 * INCH),
                Material::PaintedAluminium,
                rear_doors(),
            ),
            StartShape::TravelTrailer => (
                Body::TravelTrailer {
                    length_mm: (264.0 * INCH).into(),
                    height_mm: (84.0 * INCH).into(),
                    nose_mm: (26.0 * INCH).into(),
                    nose_height_mm: (46.0 * INCH).into(),
                    tail_mm: (8.0 * INCH).into(),
                    undercut_mm: (18.0 * INCH).into(),
                },
                Material::Composite,
                vec![arch(150.0 * INCH, 60.0 * INCH, 16.0 * INCH)],
            ),
            StartShape::StepVan => (
                van(270.0, 100.0, 34.0, 46.0, 10.0, 0.0),
                Material::PaintedAluminium,
                vec![
                    arch(46.0 * INCH, 36.0 * INCH, 18.0 * INCH),
                    arch(192.0 * INCH, 38.0 * INCH, 18.0 * INCH),
                ],
            ),
            StartShape::PanelVan => (
                van(236.0, 96.0, 36.0, 44.0, 30.0, 3.0),
                Material::PaintedSteel,
                panel_van(),
            ),
            StartShape::PickupBed => (
                panel(
                    (78.0 * INCH).into(),
                    (78.0 * INCH).into(),
                    (22.0 * INCH).into(),
                    0.0.into(),
                    (1.0 * INCH).into(),
                    0.0.into(),
                    0.0.into(),
                ),
                Material::PaintedSteel,
                vec![arch(39.0 * INCH, 36.0 * INCH, 13.0 * INCH)],
            ),
            StartShape::PickupDoor => (
                panel(
                    (40.0 * INCH).into(),
                    (37.0 * INCH).into(),
                    (28.0 * INCH).into(),
                    (2.0 * INCH).into(),
                    (2.0 * INCH).into(),
                    0.0.into(),
                    0.0.into(),
                ),
                Material::PaintedSteel,
                vec![rectangle(
                    FeatureKind::Handle,
                    30.0 * INCH,
                    4.0 * INCH,
                    8.0 * INCH,
                    2.0 * INCH,
                    Repeat::ONCE,
                )],
            ),
            StartShape::Hood => (
                panel(
                    (52.0 * INCH).into(),
                    (46.0 * INCH).into(),
                    (42.0 * INCH).into(),
                    (3.0 * INCH).into(),
                    (3.0 * INCH).into(),
                    (-2.0 * INCH).into(),
                    (3.0 * INCH).into(),
                ),
                Material::PaintedSteel,
                vec![],
            ),
            StartShape::CarRoof => (
                panel(
                    (58.0 * INCH).into(),
                    (58.0 * INCH).into(),
                    (46.0 * INCH).into(),
                    0.0.into(),
                    (3.0 * INCH).into(),
                    (1.0 * INCH).into(),
                    (1.0 * INCH).into(),
                ),
                Material::PaintedSteel,
                vec![],
            ),
            StartShape::Tail => (
                panel(
                    (48.0 * INCH).into(),
                    (50.0 * INCH).into(),
                    (22.0 * INCH).into(),
                    (-INCH).into(),
                    (3.0 * INCH).into(),
                    (1.0 * INCH).into(),
                    (1.0 * INCH).into(),
                ),
                Material::PaintedSteel,
                vec![],
            ),
            StartShape::HullSide => (
                Body::Hull {
                    length_mm: (216.0 * INCH).into(),
                    bow_mm: (38.0 * INCH).into(),
                    middle_mm: (30.0 * INCH).into(),
                    stern_mm: (29.0 * INCH).into(),
                    stem_rake_mm: (30.0 * INCH).into(),
                    transom_rake_mm: (4.0 * INCH).into(),
                },
                Material::Gelcoat,
                hull_lines(216.0 * INCH, 38.0 * INCH, 29.0 * INCH),
            ),
            StartShape::Transom => (
                Body::Transom {
                    width_mm: (78.0 * INCH).into(),
                    chine_width_mm: (66.0 * INCH).into(),
                    side_height_mm: (20.0 * INCH).into(),
                    vee_mm: (8.0 * INCH).into(),
                    crown_mm: (2.0 * INCH).into(),
                },
                Material::Gelcoat,
                vec![],
            ),
            StartShape::Hopper => (
                panel(
                    (108.0 * INCH).into(),
                    (54.0 * INCH).into(),
                    (48.0 * INCH).into(),
                    (27.0 * INCH).into(),
                    0.0.into(),
                    0.0.into(),
                    0.0.into(),
                ),
                Material::PaintedSteel,
                vec![Feature::new(
                    FeatureKind::Crease,
                    Form::Upright {
                        first_mm: (36.0 * INCH).into(),
                        pitch_mm: (18.0 * INCH).into(),
                        count: 3,
                    },
                )],
            ),
            StartShape::Tank => (
                Body::Tank {
                    length_mm: (180.0 * INCH).into(),
                    height_mm: (66.0 * INCH).into(),
                    end_mm: (12.0 * INCH).into(),
                },
                Material::Stainless,
                vec![],
            ),
            StartShape::FlatPanel => (
                panel(
                    (48.0 * INCH).into(),
                    (48.0 * INCH).into(),
                    (24.0 * INCH).into(),
                    0.0.into(),
                    0.0.into(),
                    0.0.into(),
                    0.0.into(),
                ),
                Material::PaintedAluminium,
                vec![],
            ),
        }
    }
}

fn van(length: f64, height: f64, bonnet: f64, bonnet_height: f64, screen: f64, tail: f64) -> Body {
    Body::Van {
        length_mm: (length * INCH).into(),
        height_mm: (height * INCH).into(),
        bonnet_mm: (bonnet * INCH).into(),
        bonnet_height_mm: (bonnet_height * INCH).into(),
        screen_mm: (screen * INCH).into(),
        tail_mm: (tail * INCH).into(),
    }
}

fn rectangle(
    kind: FeatureKind,
    back_mm: f64,
    drop_mm: f64,
    width_mm: f64,
    height_mm: f64,
    repeat: Repeat,
) -> Feature {
    Feature::new(
        kind,
        Form::Rectangle {
            back_mm: back_mm.into(),
            drop_mm: drop_mm.into(),
            to: MeasuredTo::Corner,
            width_mm: width_mm.into(),
            height_mm: height_mm.into(),
            repeat,
        },
    )
}

fn arch(centre_mm: f64, width_mm: f64, height_mm: f64) -> Feature {
    Feature::new(
        FeatureKind::WheelArch,
        Form::Arch {
            centre_mm: centre_mm.into(),
            width_mm: width_mm.into(),
            height_mm: height_mm.into(),
        },
    )
}

/// Two doors: the gap between them, four hinges at each edge, two lock rods to a door, red lamps below.
fn rear_doors() -> Vec<Feature> {
    let gap = Form::Upright {
        first_mm: (49.0 * INCH).into(),
        pitch_mm: 0.0.into(),
        count: 1,
    };
    let hinges = Repeat {
        count: 2,
        pitch_mm: (92.0 * INCH).into(),
        rows: 4,
        row_pitch_mm: (28.0 * INCH).into(),
    };
    let rods = |back| {
        rectangle(
            FeatureKind::Latch,
            back * INCH,
            2.0 * INCH,
            1.25 * INCH,
            98.0 * INCH,
            Repeat {
                count: 2,
                pitch_mm: (14.0 * INCH).into(),
                ..Repeat::ONCE
            },
        )
    };
    let lamps = Feature {
        details: Some(Details::Lamp {
            colour: LampColour::Red,
            required: true,
        }),
        ..rectangle(
            FeatureKind::Lamp,
            6.0 * INCH,
            102.0 * INCH,
            6.0 * INCH,
            3.0 * INCH,
            Repeat {
                count: 2,
                pitch_mm: (80.0 * INCH).into(),
                ..Repeat::ONCE
            },
        )
    };
    vec![
        Feature::new(FeatureKind::DoorGap, gap),
        rectangle(
            FeatureKind::Hinge,
            1.0 * INCH,
            8.0 * INCH,
            4.0 * INCH,
            5.0 * INCH,
            hinges,
        ),
        rods(28.0),
        rods(54.0),
        lamps,
    ]
}

/// Two recessed panels behind the door, the slider's rail, arches, the door's gap and handle.
fn panel_van() -> Vec<Feature> {
    let recess = |back, width| {
        let open = OpenSide::Enclosed;
        Feature {
            details: Some(Details::Recess {
                depth_mm: (0.75 * INCH).into(),
                wall_degrees: 80.0,
                open,
            }),
            ..rectangle(
                FeatureKind::Recess,
                back * INCH,
                18.0 * INCH,
                width * INCH,
                26.0 * INCH,
                Repeat::ONCE,
            )
        }
    };
    let gap = rectangle(
        FeatureKind::DoorGap,
        64.0 * INCH,
        12.0 * INCH,
        40.0 * INCH,
        70.0 * INCH,
        Repeat::ONCE,
    );
    vec![
        gap,
        rectangle(
            FeatureKind::Glass,
            70.0 * INCH,
            16.0 * INCH,
            30.0 * INCH,
            22.0 * INCH,
            Repeat::ONCE,
        ),
        rectangle(
            FeatureKind::Handle,
            96.0 * INCH,
            46.0 * INCH,
            7.0 * INCH,
            2.5 * INCH,
            Repeat::ONCE,
        ),
        recess(110.0, 46.0),
        recess(162.0, 58.0),
        Feature::new(
            FeatureKind::BodyLine,
            Form::Straight {
                back_mm: (66.0 * INCH).into(),
                drop_mm: (50.0 * INCH).into(),
                to_back_mm: (232.0 * INCH).into(),
                to_drop_mm: (50.0 * INCH).into(),
            },
        ),
        arch(40.0 * INCH, 34.0 * INCH, 17.0 * INCH),
        arch(186.0 * INCH, 34.0 * INCH, 17.0 * INCH),
    ]
}

/// Chine and waterline of a hull, from the gunwale's chord.
fn hull_lines(length: f64, bow: f64, stern: f64) -> Vec<Feature> {
    let fall = bow - stern;
    // Plumb below the chord, which falls from bow to stern.
    let at = |share: f64, height_over_bottom: f64, rounded: bool| Reading {
        back_mm: ((length * length + fall * fall).sqrt() * share).into(),
        drop_mm: (bow - fall * share - height_over_bottom).into(),
        rounded,
    };
    let chine = vec![
        at(0.16, 17.0 * INCH, true),
        at(0.4, 10.0 * INCH, true),
        at(0.7, 7.0 * INCH, true),
        at(0.97, 6.0 * INCH, true),
    ];
    let water = vec![at(0.12, 12.0 * INCH, false), at(0.975, 12.0 * INCH, false)];
    vec![
        Feature {
            called: Some("chine".into()),
            ..Feature::new(
                FeatureKind::Crease,
                Form::Path {
                    points: chine,
                    closed: false,
                },
            )
        },
        Feature::new(
            FeatureKind::Waterline,
            Form::Path {
                points: water,
                closed: false,
            },
        ),
    ]
}
