//! A side as it is drawn: the picture frame in mm, the zero of the tape at the origin, y down.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::outline::{Shape, bounds_of};
use windrift_core::vehicle::feature::kind::{ComesOff, FeatureClass, FeatureKind, LampColour};
use windrift_core::vehicle::measured::{Area, MeasuredLine, MeasuredSide};
use windrift_core::vehicle::side::words::{Facing, FrontAt, SideKind};
use windrift_formats::svg::{path_data, screen_path};

/// How far film on the screen may be from the film that is cut, mm: a quarter of a pixel in the largest magnified window.
pub const SCREEN_MM: f64 = 0.25;

/// An outline as a path in the picture frame, mm: `M0 0L10 0Z`.
pub type PathData = String;

/// A line to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct LineDrawing {
    /// The feature that it comes from.
    pub feature: Uuid,
    /// Number in that feature, from 1.
    pub in_feature: u32,
    /// What it is.
    pub kind: FeatureKind,
    /// What it is called.
    pub name: String,
    /// Its run.
    pub path: PathData,
    /// Its box: x, y, width, height.
    pub bounds: [f64; 4],
}

/// A rivet column to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct ColumnDrawing {
    /// The feature that it comes from.
    pub feature: Uuid,
    /// Number in that feature, from 1.
    pub in_feature: u32,
    /// Number from the front.
    pub number: u32,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// Middles of the heads, mm.
    pub heads: Vec<[f64; 2]>,
}

/// A door, lamp, arch, zone or anything else with an outline, to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct AreaDrawing {
    /// The feature that it comes from.
    pub feature: Uuid,
    /// Number in that feature, from 1.
    pub in_feature: u32,
    /// What it is.
    pub kind: FeatureKind,
    /// Whether film keeps off it or only behaves otherwise in it.
    pub class: FeatureClass,
    /// What it is called.
    pub name: String,
    /// Its outline.
    pub path: PathData,
    /// Its box: x, y, width, height.
    pub bounds: [f64; 4],
    /// Lens colour of a lamp.
    pub colour: Option<LampColour>,
    /// Whether it comes off first.
    pub comes_off: ComesOff,
}

/// A side to be drawn.
#[derive(Debug, Serialize, ToSchema)]
pub struct SideDrawing {
    /// Which side it is.
    pub kind: SideKind,
    /// Which way it faces.
    pub facing: Facing,
    /// Where the vehicle's front lies in the picture.
    pub front: FrontAt,
    /// The body's box: x, y, width, height.
    pub bounds: [f64; 4],
    /// The body's outline.
    pub outline: PathData,
    /// The rail: its front end (the zero of the tape) and its rear end.
    pub datum: [[f64; 2]; 2],
    /// Seams, gaps, creases and other lines from the front.
    pub lines: Vec<LineDrawing>,
    /// Rivet columns from the front.
    pub columns: Vec<ColumnDrawing>,
    /// Hardware and zones from the front.
    pub areas: Vec<AreaDrawing>,
}

/// A run of points as a path; in tenths of a millimetre.
fn run(points: &[kurbo::Point]) -> PathData {
    let mut data = String::new();
    for (n, p) in points.iter().enumerate() {
        data += &format!("{}{:.1} {:.1}", if n == 0 { "M" } else { "L" }, p.x, p.y);
    }
    data
}

/// A box in tenths of a millimetre.
fn rounded(b: kurbo::Rect) -> [f64; 4] {
    [b.x0, b.y0, b.width(), b.height()].map(|v| (v * 10.0).round() / 10.0)
}

fn line(line: &MeasuredLine) -> LineDrawing {
    LineDrawing {
        feature: line.source.0,
        in_feature: line.source.1,
        kind: line.kind,
        name: line.name.clone(),
        path: run(&line.points),
        bounds: rounded(bounds_of(line.points.iter().copied())),
    }
}

fn area(area: &Area) -> AreaDrawing {
    AreaDrawing {
        feature: area.source.0,
        in_feature: area.source.1,
        kind: area.kind,
        class: area.kind.class(),
        name: area.name.clone(),
        path: screen_path([&area.outline], SCREEN_MM),
        bounds: rounded(area.outline.bounds),
        colour: area.colour(),
        comes_off: area.comes_off,
    }
}

impl SideDrawing {
    /// Draws a measured side.
    pub fn of(measured: &MeasuredSide) -> SideDrawing {
        let point = |p: kurbo::Point| [p.x, p.y];
        let bounds = measured.outline.bounds;
        SideDrawing {
            kind: measured.side.kind,
            facing: measured.side.facing,
            front: measured.side.front,
            bounds: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
            outline: outline(&measured.outline),
            datum: [
                point(measured.datum.zero),
                point(measured.datum.at(measured.datum.length_mm, 0.0)),
            ],
            lines: measured.lines.iter().map(line).collect(),
            columns: measured
                .columns
                .iter()
                .map(|c| ColumnDrawing {
                    feature: c.source.0,
                    in_feature: c.source.1,
                    number: c.number,
                    head_mm: c.head_mm,
                    heads: c.heads.iter().copied().map(point).collect(),
                })
                .collect(),
            areas: measured.areas.iter().map(area).collect(),
        }
    }
}

/// A body's outline; curves are thinned for the screen, straight bodies are exact.
fn outline(shape: &Shape) -> PathData {
    if shape.contours.iter().map(Vec::len).sum::<usize>() > 12 {
        screen_path([shape], SCREEN_MM)
    } else {
        path_data([shape])
    }
}
