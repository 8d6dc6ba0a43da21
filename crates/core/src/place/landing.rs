//! What a piece lands on: every rivet head, seam, door and lamp under or near the film.
//!
//! The worst is a cut edge on a rivet head: it lifts there first. A head well under film can be worked down; a head in a
//! counter or a space is clear.

use kurbo::{Affine, Point, Rect};
use serde::{Deserialize, Serialize};

use crate::art::drawn::{Drawn, Part};
use crate::ground::outline::{Shape, rect_distance};
use crate::ground::tape::{Length, Unit, print};
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::{ComesOff, Details, FeatureKind, OpenSide};
use crate::vehicle::measured::{Area, MeasuredLine, MeasuredSide};
use crate::vehicle::side::words::EdgeNames;

/// An upright cut edge this near a seam runs along it, mm (ours).
pub(crate) const ALONG_SEAM_MM: f64 = 2.0;
/// Shortest run of cut edge along a seam that is worth a word, mm (ours).
pub(crate) const ALONG_SEAM_RUN_MM: f64 = 10.0;
/// An edge leans off a seam by less than this when it runs along it: sine of 3°.
pub(crate) const ALONG_SEAM_SINE: f64 = 0.0523;
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
    /// How wide the film is across its middle, where that is less than the head: both cut edges lie on it.
    #[serde(default)]
    pub stem: Option<Length>,
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
    /// Of those, heads that are wider than the film across them.
    #[serde(default)]
    pub stems: u32,
}

/// How film lies at a seam, a gap, a crease or another line.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LineState {
    /// The line passes through a space or a counter.
    Clear,
    /// Film goes across it.
    Crossed,
    /// A cut edge runs along it: water gets in under it there.
    EdgeAlong,
}

/// One line within the box of a piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LineLanding {
    /// What it is called: `seam 3`.
    pub name: String,
    /// What it is.
    pub kind: FeatureKind,
    /// How far back along the rail it begins.
    pub back: Length,
    /// How film lies at it.
    pub state: LineState,
    /// Letters that touch it.
    pub letters: Vec<String>,
}

/// Letters that lie in a recess, on a curve, in a hollow or on texture.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ZoneLanding {
    /// What it is called.
    pub name: String,
    /// What it is.
    pub kind: FeatureKind,
    /// Letters that lie in it.
    pub letters: Vec<String>,
    /// One sentence for the installer.
    pub sentence: String,
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
    /// Film lies on it or too near, but it comes off first.
    ComesOff,
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
    /// Every seam, gap, crease or other line within its box.
    pub lines: Vec<LineLanding>,
    /// Recesses, curves, hollows and texture that it lies in.
    pub zones: Vec<ZoneLanding>,
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
    /// Of those, heads that are wider than the film across them, in all columns.
    #[serde(default)]
    pub heads_under_stems: u32,
}

/// Directions in which a stem's width is looked for, over half a turn.
const STEM_DIRECTIONS: u32 = 32;

/// How wide the film is across a head's middle in the narrowest of 32 directions, mm, where both of its cut edges lie on the head: a stem
/// that is narrower than the head has nothing beside it to hold it down. `None` where the middle is bare, or film reaches past the head
/// on either side.
pub fn stem_across(parts: &[Part], middle: Point, radius: f64) -> Option<f64> {
    let shape = (parts.iter().flat_map(|p| &p.shapes))
        .find(|s| s.bounds.contains(middle) && s.contains(middle))?;
    let near: Vec<(Point, Point)> = shape
        .edges()
        .filter(|(a, b)| crate::ground::outline::distance_to_segment(middle, *a, *b) < radius)
        .collect();
    (0..STEM_DIRECTIONS)
        .filter_map(|n| {
            let turn = f64::from(n) * std::f64::consts::PI / f64::from(STEM_DIRECTIONS);
            let along = kurbo::Vec2::from_angle(turn);
            let (mut ahead, mut behind) = (f64::INFINITY, f64::INFINITY);
            for (a, b) in &near {
                // Where the edge meets the line: how far along the line from the middle.
                let (from, to) = (along.cross(*a - middle), along.cross(*b - middle));
                if (from > 0.0) == (to > 0.0) {
                    continue;
                }
                let at = along.dot(a.lerp(*b, from / (from - to)) - middle);
                if at >= 0.0 {
                    ahead = ahead.min(at);
                } else {
                    behind = behind.min(-at);
                }
            }
            (ahead < radius && behind < radius).then_some(ahead + behind)
        })
        .min_by(f64::total_cmp)
}

/// How a disc lies on film: exact for the polygon. A cut edge anywhere on it outweighs film over it. The part is the one that
/// touches it.
pub fn head_state(parts: &[Part], middle: Point, radius: f64) -> (HeadState, Option<&Part>) {
    let mut covering = None;
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
                covering = Some(part);
            }
        }
    }
    match covering {
        Some(part) => (HeadState::Covered, Some(part)),
        None => (HeadState::Clear, None),
    }
}

/// Reports what a placed line of lettering lands on.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_piece, plan_side, around::JobAround, piece::Piece, planned::PlannedPiece};
/// # use windrift_core::vehicle::{body::Body, measured::{MeasuredSide, measure::measure}, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let settings = WorkSettings::default();
/// # // The left side of a 12 ft trailer, 6 ft high, its rail level.
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # // Letters 10 in high, 18 in from the front, their cap line 2 ft below the rail.
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let measured = measure(&side, &[]).unwrap();
/// # let planned = plan_piece(Default::default(), &piece, &measured, &settings, unit).unwrap();
/// # use windrift_core::{ground::settings::SideWords, place::landing};
/// let names = side.edge_names(SideWords::StreetCurbKeepRight);
/// let landing = landing::report(&planned.drawn, &planned.placed, &measured, &names, unit);
/// // Nothing is on this side: no head is covered, and what is nearest are its edges.
/// assert_eq!((landing.heads_covered, landing.heads_edge_on), (0, 0));
/// assert!(landing.nearest.iter().any(|n| n.to == "front edge"));
/// ```
pub fn report(
    lettering: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    names: &EdgeNames,
    unit: Unit,
) -> Landing {
    let to_piece = placed.to_picture.inverse();
    let columns = columns(lettering, placed, side, to_piece, unit);
    let total = |count: fn(&ColumnLanding) -> u32| columns.iter().map(count).sum();
    let (hardware, nearest) = near(lettering, placed, side, names, to_piece, unit);
    Landing {
        heads_clear: total(|c| c.clear),
        heads_covered: total(|c| c.covered),
        heads_edge_on: total(|c| c.edge_on),
        heads_under_stems: total(|c| c.stems),
        lines: lines(lettering, side, to_piece, unit),
        zones: zones(lettering, side, to_piece, unit),
        columns,
        hardware,
        nearest,
    }
}

fn columns(
    lettering: &Drawn,
    placed: &Placed,
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
            stems: 0,
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
            let stem = (state == HeadState::EdgeOnIt)
                .then(|| stem_across(&lettering.parts, middle, radius))
                .flatten();
            landing.stems += u32::from(stem.is_some());
            landing.heads.push(HeadLanding {
                number,
                state,
                letter: part.map(|p| lettering.name_of(p)),
                stem: stem.map(|mm| print(mm, unit)),
                down: print(placed.datum.read(*head).1, unit),
                at: [head.x, head.y],
            });
        }
        if !landing.heads.is_empty() {
            crossed.push(landing);
        }
    }
    crossed
}

fn lines(lettering: &Drawn, side: &MeasuredSide, to_piece: Affine, unit: Unit) -> Vec<LineLanding> {
    let reach = lettering.bounds.inflate(ALONG_SEAM_MM, ALONG_SEAM_MM);
    side.lines
        .iter()
        .filter_map(|line| {
            let points: Vec<Point> = line.points.iter().map(|p| to_piece * *p).collect();
            let near = |a: Point, b: Point| rect_distance(Rect::from_points(a, b), reach) <= 0.0;
            let segments: Vec<(Point, Point)> = points
                .iter()
                .copied()
                .zip(points.iter().copied().skip(1))
                .filter(|(a, b)| near(*a, *b))
                .collect();
            (!segments.is_empty()).then(|| line_landing(lettering, line, &segments, unit))
        })
        .collect()
}

fn line_landing(
    lettering: &Drawn,
    line: &MeasuredLine,
    segments: &[(Point, Point)],
    unit: Unit,
) -> LineLanding {
    let mut state = LineState::Clear;
    let mut letters = Vec::new();
    for part in &lettering.parts {
        let mut run = 0.0;
        let mut crossed = false;
        for (from, to) in segments {
            let reach = Rect::from_points(*from, *to).inflate(ALONG_SEAM_MM, ALONG_SEAM_MM);
            if rect_distance(reach, part.bounds) > 0.0 {
                continue;
            }
            let length = from.distance(*to);
            let along = (*to - *from) / length.max(1e-9);
            // Where a point lies by the line: along it and beside it.
            let by = |p: Point| ((p - *from).dot(along), along.cross(p - *from));
            for (a, b) in part.shapes.iter().flat_map(Shape::edges) {
                let ((along_a, beside_a), (along_b, beside_b)) = (by(a), by(b));
                if along_a.max(along_b) < 0.0 || along_a.min(along_b) > length {
                    continue;
                }
                if beside_a.abs().max(beside_b.abs()) <= ALONG_SEAM_MM
                    && (beside_a - beside_b).abs() <= ALONG_SEAM_SINE * a.distance(b)
                {
                    run += along_a.max(along_b).min(length) - along_a.min(along_b).max(0.0);
                }
                if (beside_a > 0.0) != (beside_b > 0.0) {
                    let at = along_a + (along_b - along_a) * beside_a / (beside_a - beside_b);
                    crossed |= (0.0..=length).contains(&at);
                }
            }
            // A line that ends within film crosses no edge of it.
            crossed = crossed || part.shapes.iter().any(|s| s.contains(from.midpoint(*to)));
        }
        if run >= ALONG_SEAM_RUN_MM {
            state = LineState::EdgeAlong;
        } else if crossed && state == LineState::Clear {
            state = LineState::Crossed;
        }
        if crossed || run >= ALONG_SEAM_RUN_MM {
            letters.push(lettering.name_of(part));
        }
    }
    LineLanding {
        name: line.name.clone(),
        kind: line.kind,
        back: print(line.back_mm, unit),
        state,
        letters,
    }
}

fn zones(lettering: &Drawn, side: &MeasuredSide, to_piece: Affine, unit: Unit) -> Vec<ZoneLanding> {
    side.zones()
        .filter_map(|zone| {
            let outline = zone.outline.transformed(to_piece);
            if rect_distance(outline.bounds, lettering.bounds) > 0.0 {
                return None;
            }
            let letters: Vec<String> = lettering
                .parts
                .iter()
                .filter(|p| {
                    p.shapes
                        .iter()
                        .any(|s| s.distance_to(&outline, 1e-3) <= 0.0)
                })
                .map(|p| lettering.name_of(p))
                .collect();
            (!letters.is_empty()).then(|| ZoneLanding {
                name: zone.name.clone(),
                kind: zone.kind,
                sentence: zone_sentence(zone, &letters, unit),
                letters,
            })
        })
        .collect()
}

fn zone_sentence(zone: &Area, letters: &[String], unit: Unit) -> String {
    let (who, lie) = match letters {
        [one] => (one.clone(), "lies"),
        [first, .., last] => (format!("{first} to {last}"), "lie"),
        [] => (String::new(), "lies"),
    };
    let what = match zone.details {
        Some(Details::Recess { depth_mm, open, .. }) => {
            let depth = print(depth_mm.mm(), unit).text;
            match open {
                OpenSide::Enclosed => {
                    format!("{depth} deep with walls all round: form it warm, deepest line first")
                }
                _ => format!("{depth} deep and open at one side: feed slack in from there"),
            }
        }
        Some(Details::Curve {
            compound: true,
            rise_mm,
        }) => {
            format!(
                "which bends two ways and rises {}: the film must stretch",
                print(rise_mm.mm(), unit).text
            )
        }
        Some(Details::Curve { rise_mm, .. }) => {
            format!(
                "which bends one way and rises {}: the film follows",
                print(rise_mm.mm(), unit).text
            )
        }
        Some(Details::Hollow { depth_mm }) => {
            format!(
                "{} deep: film pulls out of a hollow later",
                print(depth_mm.mm(), unit).text
            )
        }
        _ => "where only film made for texture holds".to_owned(),
    };
    format!("{who} {lie} in the {}, {what}.", zone.name)
}

fn near(
    lettering: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    names: &EdgeNames,
    to_piece: Affine,
    unit: Unit,
) -> (Vec<HardwareLanding>, Vec<ClearDistance>) {
    let mut too_near = Vec::new();
    let mut nearest: Vec<(String, f64)> = edge_distances(placed, side, names);
    for hardware in side.hardware().filter(|h| h.comes_off != ComesOff::ForGood) {
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
            let never = hardware.kind.never_covered();
            let comes_off = hardware.comes_off == ComesOff::GoesBack && never.is_none();
            let name = &hardware.name;
            let sentence = if comes_off {
                format!("The {name} comes off first and goes back over the film.")
            } else if on_it && hardware.kind == FeatureKind::OldFilm {
                format!(
                    "Film lies on the {name}, and would lift with it. Strip that first, or move the piece clear of it."
                )
            } else if on_it && hardware.kind == FeatureKind::Waterline {
                format!(
                    "Film lies below the {name}, where water works under every edge. Move it up."
                )
            } else if on_it {
                let warning = never.map(|n| format!(" {n}")).unwrap_or_default();
                format!("Film lies on the {name}. Move the piece clear of it.{warning}")
            } else {
                format!(
                    "Only {} clear of the {name}; it wants {}. Move the piece away from it.",
                    printed.text, clearance.text
                )
            };
            let state = match (comes_off, on_it) {
                (true, _) => HardwareState::ComesOff,
                (_, true) => HardwareState::OnIt,
                _ => HardwareState::TooClose,
            };
            too_near.push(HardwareLanding {
                name: hardware.name.clone(),
                state,
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

/// Distance from the film to each edge of the body, less than 0 where it sticks out past it. Edges of the outline are told apart by
/// the way they face.
fn edge_distances(placed: &Placed, side: &MeasuredSide, names: &EdgeNames) -> Vec<(String, f64)> {
    let Some(rim) = side.outline.contours.first() else {
        return Vec::new();
    };
    let turn = crate::ground::outline::signed_area(rim).signum();
    let edges: Vec<(Point, Point, usize)> = rim
        .iter()
        .zip(rim.iter().cycle().skip(1))
        .map(|(a, b)| {
            let along = *b - *a;
            let outwards = kurbo::Vec2::new(along.y, -along.x) * turn;
            let faces = if outwards.y.abs() >= outwards.x.abs() {
                usize::from(outwards.y > 0.0)
            } else {
                2 + usize::from(outwards.x * side.side.direction() > 0.0)
            };
            (*a, *b, faces)
        })
        .collect();
    let mut nearest = [f64::INFINITY; 4];
    let mut farthest_out = [0.0_f64; 4];
    for p in &placed.hull {
        let at = |edge: &(Point, Point, usize)| {
            crate::ground::outline::distance_to_segment(*p, edge.0, edge.1)
        };
        if side.outline.contains(*p) {
            for edge in &edges {
                nearest[edge.2] = nearest[edge.2].min(at(edge));
            }
        } else if let Some(edge) = edges.iter().min_by(|a, b| at(a).total_cmp(&at(b))) {
            farthest_out[edge.2] = farthest_out[edge.2].max(at(edge));
        }
    }
    [&names.upper, &names.lower, &names.zero, &names.far]
        .into_iter()
        .enumerate()
        .filter_map(|(n, name)| {
            let distance = if farthest_out[n] > 0.0 {
                -farthest_out[n]
            } else {
                nearest[n]
            };
            distance.is_finite().then(|| (name.clone(), distance))
        })
        .collect()
}
