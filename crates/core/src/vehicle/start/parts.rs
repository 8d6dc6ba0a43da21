//! What each starting shape is made of. Sizes are invented, no source.

use crate::vehicle::body::Body;
use crate::vehicle::body::readings::Reading;
use crate::vehicle::dimensions::of_side;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::feature::kind::{Details, FeatureKind, LampColour, LampFunction, OpenSide};
use crate::vehicle::side::Side;
use crate::vehicle::side::words::SideKind;
use crate::vehicle::start::shapes::{INCH, StartShape};
use crate::vehicle::surface::{Material, Surface};

impl Side {
    /// The same side of another vehicle: nobody has held a tape to any of its body.
    ///
    /// ```
    /// # use windrift_core::vehicle::side::words::SideKind;
    /// # use windrift_core::vehicle::start::shapes::StartShape;
    /// let (side, _) = StartShape::BoxBody.start(SideKind::Left);
    /// assert_eq!(side.not_measured().unmeasured.len(), 3);
    /// ```
    pub fn not_measured(self) -> Side {
        Side {
            unmeasured: of_side(&self).into_iter().map(|d| d.at).collect(),
            ..self
        }
    }
}

impl StartShape {
    /// A side of this shape as this kind, with what usually is on it.
    pub fn start(self, kind: SideKind) -> (Side, Vec<Feature>) {
        let (body, material, features) = parts(self);
        let side = Side::new(kind, body, Surface::of(material));
        let side = Side {
            offered: features.clone(),
            ..side.not_measured()
        };
        (side, features)
    }
}

/// The shape's body, what it usually is made of, and what usually stands on it.
fn parts(shape: StartShape) -> (Body, Material, Vec<Feature>) {
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
    match shape {
        StartShape::UtilityTrailer => (
            boxed(144.0 * INCH, 16.0 * INCH),
            Material::BareAluminium,
            vec![
                heads(3.0, 3.0, 47, 1.0, 14.0, 2),
                arch(96.0 * INCH, 36.0 * INCH, 8.0 * INCH),
            ],
        ),
        StartShape::CargoTrailer => (
            boxed(168.0 * INCH, 72.0 * INCH),
            Material::PaintedAluminium,
            vec![
                heads(24.0, 24.0, 6, 2.0, 4.0, 17),
                arch(104.0 * INCH, 66.0 * INCH, 14.0 * INCH),
            ],
        ),
        StartShape::CarSide => (
            van(182.0, 46.0, 42.0, 28.0, 30.0, 24.0),
            Material::PaintedSteel,
            car_side(),
        ),
        StartShape::CarDoor => (
            panel(
                (42.0 * INCH).into(),
                (38.0 * INCH).into(),
                (25.0 * INCH).into(),
                (2.0 * INCH).into(),
                (2.0 * INCH).into(),
                0.0.into(),
                (0.5 * INCH).into(),
            ),
            Material::PaintedSteel,
            vec![rectangle(
                FeatureKind::Handle,
                32.0 * INCH,
                3.0 * INCH,
                8.0 * INCH,
                1.5 * INCH,
                Repeat::ONCE,
            )],
        ),
        StartShape::Bumper => (
            panel(
                (70.0 * INCH).into(),
                (66.0 * INCH).into(),
                (14.0 * INCH).into(),
                (2.0 * INCH).into(),
                (2.0 * INCH).into(),
                (0.5 * INCH).into(),
                (1.0 * INCH).into(),
            ),
            // Painted: film meets the paint, whatever lies under it.
            Material::PaintedSteel,
            vec![rectangle(
                FeatureKind::Plate,
                29.0 * INCH,
                4.0 * INCH,
                12.0 * INCH,
                6.0 * INCH,
                Repeat::ONCE,
            )],
        ),
        StartShape::MachineCowl => (
            panel(
                (40.0 * INCH).into(),
                (44.0 * INCH).into(),
                (26.0 * INCH).into(),
                (-2.0 * INCH).into(),
                (3.0 * INCH).into(),
                (1.0 * INCH).into(),
                0.0.into(),
            ),
            Material::PaintedSteel,
            vec![rectangle(
                FeatureKind::Vent,
                26.0 * INCH,
                6.0 * INCH,
                10.0 * INCH,
                8.0 * INCH,
                Repeat::ONCE,
            )],
        ),
        StartShape::SnowMachineSide => (
            panel(
                1000.0.into(),
                1100.0.into(),
                450.0.into(),
                (-60.0).into(),
                60.0.into(),
                30.0.into(),
                20.0.into(),
            ),
            Material::TexturedPlastic,
            vec![rectangle(
                FeatureKind::Vent,
                620.0,
                120.0,
                160.0,
                90.0,
                Repeat::ONCE,
            )],
        ),
        StartShape::Board => (
            boxed(48.0 * INCH, 24.0 * INCH),
            Material::PaintedWood,
            vec![],
        ),
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
            function: LampFunction::Unknown,
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

/// Rivets in a grid: first column, pitch, columns; first head, pitch, heads; in inches.
fn heads(first: f64, pitch: f64, columns: u32, down: f64, head_pitch: f64, heads: u32) -> Feature {
    Feature::new(
        FeatureKind::Rivets,
        Form::Heads {
            first_mm: (first * INCH).into(),
            pitch_mm: (pitch * INCH).into(),
            columns,
            first_head_mm: (down * INCH).into(),
            head_pitch_mm: (head_pitch * INCH).into(),
            heads,
            head_mm: (0.375 * INCH).into(),
        },
    )
}

/// Two doors with their gaps, handles and windows, the moulding that guards them, arches.
fn car_side() -> Vec<Feature> {
    let at = |kind, back: f64, drop: f64, width: f64, height: f64| {
        rectangle(
            kind,
            back * INCH,
            drop * INCH,
            width * INCH,
            height * INCH,
            Repeat::ONCE,
        )
    };
    vec![
        at(FeatureKind::DoorGap, 62.0, 4.0, 40.0, 38.0),
        at(FeatureKind::DoorGap, 103.0, 4.0, 32.0, 38.0),
        at(FeatureKind::Glass, 70.0, 5.0, 30.0, 12.0),
        at(FeatureKind::Glass, 105.0, 5.0, 26.0, 12.0),
        at(FeatureKind::Handle, 93.0, 21.0, 7.0, 1.5),
        at(FeatureKind::Handle, 126.0, 21.0, 7.0, 1.5),
        at(FeatureKind::Moulding, 62.0, 31.0, 73.0, 1.5),
        arch(34.0 * INCH, 30.0 * INCH, 14.0 * INCH),
        arch(146.0 * INCH, 30.0 * INCH, 14.0 * INCH),
    ]
}
