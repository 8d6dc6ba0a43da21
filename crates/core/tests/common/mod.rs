//! Pieces and sides for the checks of this folder. All made up.

use std::f64::consts::TAU;

use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::Lettering;
use windrift_core::place::rules::{Along, LetterEnd, PlaceRule, Rules};
use windrift_core::plan::piece::Piece;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;

pub const INCH: f64 = 25.4;

pub fn lettering(text: &str, typeface: &str, height_mm: f64) -> Lettering {
    Lettering::line(text, typeface, height_mm)
}

pub fn rule(distance_mm: f64, cap_line_mm: f64) -> PlaceRule {
    PlaceRule::from_front(distance_mm, LetterEnd::FirstLetter, cap_line_mm)
}

pub fn piece(
    text: &str,
    typeface: &str,
    height_mm: f64,
    distance_mm: f64,
    cap_line_mm: f64,
) -> Piece {
    Piece::new(
        Art::Lettering(lettering(text, typeface, height_mm)),
        rule(distance_mm, cap_line_mm),
    )
}

/// The piece with another rule along.
pub fn along(mut piece: Piece, along: Along) -> Piece {
    rules(&mut piece).along = along;
    piece
}

/// The plain rules of a piece.
pub fn rules(piece: &mut Piece) -> &mut Rules {
    match &mut piece.place {
        PlaceRule::Rules(rules) => rules,
        other => unreachable!("{other:?}"),
    }
}

/// A 24 ft box with five rivet columns, five seams, a locker door, three lamps and a wheel arch.
pub fn body(kind: SideKind) -> Side {
    falling(kind, 0.0)
}

/// The same with a rail that falls to the rear, mm.
pub fn falling(kind: SideKind, fall_mm: f64) -> Side {
    let body = Body::Box {
        length_mm: (288.0 * INCH).into(),
        height_mm: (86.0 * INCH).into(),
        fall_mm: fall_mm.into(),
    };
    Side::new(kind, body, Surface::default())
}

pub fn rivets(
    first_mm: f64,
    pitch_mm: f64,
    columns: u32,
    first_head_mm: f64,
    head_pitch_mm: f64,
    heads: u32,
    head_mm: f64,
) -> Feature {
    Feature::new(
        FeatureKind::Rivets,
        Form::Heads {
            first_mm: first_mm.into(),
            pitch_mm: pitch_mm.into(),
            columns,
            first_head_mm: first_head_mm.into(),
            head_pitch_mm: head_pitch_mm.into(),
            heads,
            head_mm: head_mm.into(),
        },
    )
}

pub fn features() -> Vec<SideFeature> {
    let seams = Form::Upright {
        first_mm: (48.0 * INCH).into(),
        pitch_mm: (48.0 * INCH).into(),
        count: 5,
    };
    let door = Form::Rectangle {
        back_mm: (236.0 * INCH).into(),
        drop_mm: (36.0 * INCH).into(),
        to: MeasuredTo::Corner,
        width_mm: (34.0 * INCH).into(),
        height_mm: (38.0 * INCH).into(),
        repeat: Repeat::ONCE,
    };
    let lamps = Form::Rectangle {
        back_mm: (6.0 * INCH).into(),
        drop_mm: (82.0 * INCH).into(),
        to: MeasuredTo::Middle,
        width_mm: (4.0 * INCH).into(),
        height_mm: (2.0 * INCH).into(),
        repeat: Repeat {
            count: 3,
            pitch_mm: (138.0 * INCH).into(),
            ..Repeat::ONCE
        },
    };
    let arch = Form::Arch {
        centre_mm: (196.0 * INCH).into(),
        width_mm: (38.0 * INCH).into(),
        height_mm: (16.0 * INCH).into(),
    };
    [
        Feature::new(FeatureKind::PanelSeam, seams),
        rivets(
            46.75 * INCH,
            48.0 * INCH,
            5,
            4.0 * INCH,
            6.0 * INCH,
            13,
            0.5 * INCH,
        ),
        Feature::new(FeatureKind::LockerDoor, door),
        Feature::new(FeatureKind::Lamp, lamps),
        Feature {
            clearance_mm: 12.7.into(),
            ..Feature::new(FeatureKind::WheelArch, arch)
        },
    ]
    .into_iter()
    .enumerate()
    .map(|(n, feature)| SideFeature {
        id: Uuid::from_u128(n as u128 + 1),
        feature,
    })
    .collect()
}

/// Draws lettering in a typeface that ships.
pub fn draw(
    lettering: &Lettering,
) -> Result<
    std::sync::Arc<windrift_core::art::drawn::Drawn>,
    windrift_core::art::lettering::LetteringError,
> {
    windrift_core::art::lettering::draw::draw(
        lettering,
        &windrift_core::art::typeface::Typefaces::default(),
    )
}

/// Numbers of our own: nothing of what is tested draws them.
pub struct Lcg(pub u64);

impl Lcg {
    pub fn next(&mut self) -> f64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 11) as f64 + 0.5) / (1u64 << 53) as f64
    }

    pub fn normal(&mut self) -> f64 {
        (-2.0 * self.next().ln()).sqrt() * (TAU * self.next()).cos()
    }

    /// Gamma of a whole shape: the sum of so many exponentials.
    pub fn gamma(&mut self, shape: u32) -> f64 {
        (0..shape).map(|_| -self.next().ln()).sum()
    }
}
