//! What a piece lands on: every rivet head, seam, door and lamp under or near the film.
//!
//! The worst is a cut edge on a rivet head: it lifts there first. A head well under film can be worked down; a head in a
//! counter or a space is clear.

use kurbo::{Affine, Point};
use serde::{Deserialize, Serialize};

use crate::elevation::{HardwareKind, MeasuredSide, Seam};
use crate::lettering::{DrawnLettering, Part};
use crate::outline::{Shape, rect_distance};
use crate::placement::Placed;
use crate::tape::{Length, Unit, print};

/// An upright cut edge this near a seam runs along it, mm (common practice, no source).
const ALONG_SEAM_MM: f64 = 2.0;
/// Shortest run of cut edge along a seam that is worth a word, mm.
const ALONG_SEAM_RUN_MM: f64 = 10.0;
/// An edge leans off a seam by less than this when it runs along it: sine of 3°.
const ALONG_SEAM_SINE: f64 = 0.0523;
/// Clear distances beyond this are not looked for, mm.
const FARTHEST_MM: f64 = 60_000.0;

/// How a rivet head lies under the film.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HeadState {
    /// No film touches it: beside the piece, in a counter or in a space.
    Clear,
    /// Film covers it whole.
    Covered,
    /// A cut edge lies on it.
    EdgeOnIt,
}

/// One rivet head under or within the box of a piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeadLanding {
    /// Its number in the column, from the top, from 1.
    pub number: u32,
    /// How it lies.
    pub state: HeadState,
    /// The letter on it.
    pub letter: Option<String>,
    /// How far down from the datum.
    pub down: Length,
    /// Its middle in the picture frame, mm.
    pub at: [f64; 2],
}

/// One rivet column that a piece crosses, with every head in the piece's height.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColumnLanding {
    /// Number of the column from the front.
    pub column: u32,
    /// How far back it is at the rail.
    pub back: Length,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// Heads from the top.
    pub heads: Vec<HeadLanding>,
    /// Heads that no film touches.
    pub clear: u32,
    /// Heads under film.
    pub covered: u32,
    /// Heads with a cut edge on them.
    pub edge_on: u32,
}

/// How film lies at a seam.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SeamState {
    /// The seam passes through a space or a counter.
    Clear,
    /// Film goes across the seam.
    Crossed,
    /// A cut edge runs along the seam: water gets in under it there.
    EdgeAlong,
}

/// One seam within the width of a piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeamLanding {
    /// Number of the seam from the front.
    pub seam: u32,
    /// How far back it is at the rail.
    pub back: Length,
    /// How film lies at it.
    pub state: SeamState,
    /// Letters that touch it.
    pub letters: Vec<String>,
}

/// How film lies at a door, a lamp or an arch.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HardwareState {
    /// Nearer than its clearance.
    TooClose,
    /// Film lies on it.
    OnIt,
}

/// A piece of hardware that film lies on, or too near.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HardwareLanding {
    /// What it is called.
    pub name: String,
    /// How film lies at it.
    pub state: HardwareState,
    /// Clear distance.
    pub distance: Length,
    /// Clearance that it wants.
    pub clearance: Length,
    /// One sentence for the installer.
    pub sentence: String,
}

/// Clear distance from a piece to something near it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearDistance {
    /// What lies at the other end: `locker door`, `rear edge`.
    pub to: String,
    /// Distance; less than 0 where film sticks out past an edge of the body.
    pub distance: Length,
}

/// Everything a piece lands on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Landing {
    /// Every rivet column the piece crosses, counters and spaces included.
    pub columns: Vec<ColumnLanding>,
    /// Every seam within its width.
    pub seams: Vec<SeamLanding>,
    /// Hardware that it lies on or too near.
    pub hardware: Vec<HardwareLanding>,
    /// The nearest things, nearest first.
    pub nearest: Vec<ClearDistance>,
    /// Heads that no film touches, in all columns.
    pub heads_clear: u32,
    /// Heads under film, in all columns.
    pub heads_covered: u32,
    /// Heads with a cut edge on them, in all columns.
    pub heads_edge_on: u32,
}

/// How a disc lies on film: exact for the polygon. `letter` is the part that touches it.
pub fn head_state(parts: &[Part], middle: Point, radius: f64) -> (HeadState, Option<&Part>) {
    for part in parts {
        if !part.bounds.inflate(radius, radius).contains(middle) {
            continue;
        }
        for shape in &part.shapes {
            if !shape.bounds.inflate(radius, radius).contains(middle) {
                continue;
            }
            if shape.distance_to_edge(middle) < radius {
                return (HeadState::EdgeOnIt, Some(part));
            }
            if shape.contains(middle) {
                return (HeadState::Covered, Some(part));
            }
        }
    }
    (HeadState::Clear, None)
}

/// Reports what a placed line of lettering lands on.
pub fn report(
    lettering: &DrawnLettering,
    placed: &Placed,
    side: &MeasuredSide,
    unit: Unit,
) -> Landing {
    let to_piece = placed.to_picture.inverse();
    let columns = columns(lettering, side, to_piece, unit);
    let total = |count: fn(&ColumnLanding) -> u32| columns.iter().map(count).sum();
    let (hardware, nearest) = near(lettering, placed, side, to_piece, unit);
    Landing {
        heads_clear: total(|c| c.clear),
        heads_covered: total(|c| c.covered),
        heads_edge_on: total(|c| c.edge_on),
        seams: seams(lettering, side, to_piece, unit),
        columns,
        hardware,
        nearest,
    }
}

fn columns(
    lettering: &DrawnLettering,
    side: &MeasuredSide,
    to_piece: Affine,
    unit: Unit,
) -> Vec<ColumnLanding> {
    let mut crossed = Vec::new();
    for column in &side.columns {
        let radius = column.head_mm / 2.0;
        let box_round = lettering.bounds.inflate(radius, radius);
        let mut landing = ColumnLanding {
            column: column.number,
            back: print(column.back_mm, unit),
            head_mm: column.head_mm,
            heads: Vec::new(),
            clear: 0,
            covered: 0,
            edge_on: 0,
        };
        for (number, head) in (1..).zip(&column.heads) {
            let middle = to_piece * *head;
            if !box_round.contains(middle) {
                continue;
            }
            let (state, part) = head_state(&lettering.parts, middle, radius);
            match state {
                HeadState::Clear => landing.clear += 1,
                HeadState::Covered => landing.covered += 1,
                HeadState::EdgeOnIt => landing.edge_on += 1,
            }
            landing.heads.push(HeadLanding {
                number,
                state,
                letter: part.map(|p| p.label.clone()),
                down: print(side.datum.read(*head).1, unit),
                at: [head.x, head.y],
            });
        }
        if !landing.heads.is_empty() {
            crossed.push(landing);
        }
    }
    crossed
}

fn seams(
    lettering: &DrawnLettering,
    side: &MeasuredSide,
    to_piece: Affine,
    unit: Unit,
) -> Vec<SeamLanding> {
    let mut found = Vec::new();
    for seam in &side.seams {
        let line = (to_piece * seam.line.0, to_piece * seam.line.1);
        let bounds = lettering.bounds.inflate(ALONG_SEAM_MM, 0.0);
        let (left, right) = (line.0.x.min(line.1.x), line.0.x.max(line.1.x));
        if right < bounds.x0 || left > bounds.x1 || line.1.y < bounds.y0 || line.0.y > bounds.y1 {
            continue;
        }
        found.push(seam_landing(lettering, seam, line, unit));
    }
    found
}

fn seam_landing(
    lettering: &DrawnLettering,
    seam: &Seam,
    line: (Point, Point),
    unit: Unit,
) -> SeamLanding {
    let along = (line.1 - line.0).normalize();
    let offset = |p: Point| along.cross(p - line.0);
    let mut state = SeamState::Clear;
    let mut letters = Vec::new();
    for part in &lettering.parts {
        if part.bounds.x0 - ALONG_SEAM_MM > line.0.x.max(line.1.x)
            || part.bounds.x1 + ALONG_SEAM_MM < line.0.x.min(line.1.x)
        {
            continue;
        }
        let mut run = 0.0;
        let mut crossed = false;
        for (a, b) in part.shapes.iter().flat_map(Shape::edges) {
            let (at_a, at_b) = (offset(a), offset(b));
            if at_a.abs().max(at_b.abs()) <= ALONG_SEAM_MM
                && (at_a - at_b).abs() <= ALONG_SEAM_SINE * a.distance(b)
            {
                run += a.distance(b);
            }
            crossed |= (at_a > 0.0) != (at_b > 0.0);
        }
        if run >= ALONG_SEAM_RUN_MM {
            state = SeamState::EdgeAlong;
        } else if crossed && state == SeamState::Clear {
            state = SeamState::Crossed;
        }
        if crossed || run >= ALONG_SEAM_RUN_MM {
            letters.push(part.label.clone());
        }
    }
    SeamLanding {
        seam: seam.number,
        back: print(seam.back_mm, unit),
        state,
        letters,
    }
}

fn near(
    lettering: &DrawnLettering,
    placed: &Placed,
    side: &MeasuredSide,
    to_piece: Affine,
    unit: Unit,
) -> (Vec<HardwareLanding>, Vec<ClearDistance>) {
    let mut too_near = Vec::new();
    let mut nearest: Vec<(String, f64)> = edge_distances(placed, side);
    for hardware in &side.hardware {
        let outline = hardware.outline.transformed(to_piece);
        let mut parts: Vec<&Part> = lettering.parts.iter().collect();
        parts.sort_by(|a, b| {
            rect_distance(a.bounds, outline.bounds)
                .total_cmp(&rect_distance(b.bounds, outline.bounds))
        });
        let mut distance = FARTHEST_MM;
        for shape in parts.iter().flat_map(|p| &p.shapes) {
            distance = outline.distance_to(shape, distance);
        }
        if distance < hardware.clearance_mm || distance <= 0.0 {
            let on_it = distance <= 0.0;
            let printed = print(distance, unit);
            let clearance = print(hardware.clearance_mm, unit);
            let warning = match hardware.kind {
                HardwareKind::Lamp if on_it => " Never cover a lamp.",
                _ => "",
            };
            let sentence = if on_it {
                format!(
                    "Film lies on the {}. Move the piece clear of it.{warning}",
                    hardware.name
                )
            } else {
                format!(
                    "Only {} clear of the {}; it wants {}. Move the piece away from it.",
                    printed.text, hardware.name, clearance.text
                )
            };
            too_near.push(HardwareLanding {
                name: hardware.name.clone(),
                state: if on_it {
                    HardwareState::OnIt
                } else {
                    HardwareState::TooClose
                },
                distance: printed,
                clearance,
                sentence,
            });
        }
        nearest.push((hardware.name.clone(), distance));
    }
    nearest.sort_by(|a, b| a.1.total_cmp(&b.1));
    let nearest = nearest
        .into_iter()
        .map(|(to, distance)| ClearDistance {
            to,
            distance: print(distance, unit),
        })
        .collect();
    (too_near, nearest)
}

/// Distance from the film to each edge of the body, less than 0 where it sticks out past it.
fn edge_distances(placed: &Placed, side: &MeasuredSide) -> Vec<(String, f64)> {
    let Some(rim) = side.outline.contours.first() else {
        return Vec::new();
    };
    let names = ["top rail", "rear edge", "bottom edge", "front edge"];
    let edges = rim.iter().zip(rim.iter().cycle().skip(1)).zip(names);
    edges
        .map(|((a, b), name)| {
            // Inwards is to the right of the outline where back runs to the right, to the left elsewhere.
            let along = (*b - *a).normalize();
            let inwards = |p: &Point| along.cross(*p - *a) * side.body.side.direction();
            (
                name.to_owned(),
                placed
                    .hull
                    .iter()
                    .map(inwards)
                    .fold(f64::INFINITY, f64::min),
            )
        })
        .collect()
}
