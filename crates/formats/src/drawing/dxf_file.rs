//! Outlines of a DXF file, read by a general DXF reader: lines, polylines, arcs, circles, ellipses and splines.

use std::collections::BTreeMap;

use dxf::Drawing;
use dxf::entities::{Entity, EntityType, Insert, Spline};
use dxf::enums::Units;
use kurbo::{Affine, Arc, Point, Vec2};

use crate::drawing::{FLATTENING_MM, FileError, FileUnit, Lines, MOST_FILE_POINTS, MOST_SHAPES};

fn unreadable(why: impl ToString) -> FileError {
    FileError::Unreadable {
        kind: "DXF",
        why: why.to_string(),
    }
}

/// Whether a text begins like a DXF file: a group code 0 or 999, then a section.
pub(super) fn looks_like(start: &str) -> bool {
    let mut lines = start
        .trim_start_matches('\u{feff}')
        .lines()
        .map(str::trim)
        .filter(|l| !l.is_empty());
    matches!(
        (lines.next(), lines.next()),
        (Some("0"), Some("SECTION")) | (Some("999"), Some(_))
    )
}

pub(super) fn read(bytes: &[u8], unit: FileUnit) -> Result<Lines, FileError> {
    let named = entity_names(bytes);
    let found = named.values().sum();
    if found > MOST_SHAPES {
        return Err(FileError::TooManyShapes { found });
    }
    let mut from = bytes;
    let drawing = Drawing::load(&mut from).map_err(unreadable)?;
    let scale = match unit.mm() {
        Some(mm) => mm,
        None => said(drawing.header.default_drawing_units).ok_or(FileError::NoUnit)?,
    };
    let mut lines = Lines::default();
    let mut blocks = Blocks {
        drawing: &drawing,
        scale,
        missing: 0,
        shapes: 0,
    };
    for entity in drawing.entities() {
        blocks.add(entity, Affine::IDENTITY, 0, &mut lines)?;
    }
    if blocks.missing > 0 {
        let (one, many) = ("block was", "blocks were");
        lines.not_used.push(format!(
            "{} left out: the file does not hold what they are made of.",
            crate::drawing::counted(blocks.missing, one, many)
        ));
    }
    for (name, n) in named
        .iter()
        .filter(|(name, _)| !USED.contains(&name.as_str()))
    {
        let what = match name.as_str() {
            "TEXT" | "MTEXT" | "ATTRIB" | "ATTDEF" => "text",
            "HATCH" | "SOLID" | "TRACE" => "filling",
            "DIMENSION" | "LEADER" | "MULTILEADER" => "dimension",
            "POINT" => "point",
            "IMAGE" | "WIPEOUT" => "picture",
            _ => "of a kind that is no line here",
        };
        lines
            .not_used
            .push(format!("{n} {name} left out ({what})."));
    }
    Ok(lines)
}

/// Kinds that make lines, with those that belong to them.
const USED: [&str; 10] = [
    "INSERT",
    "LINE",
    "LWPOLYLINE",
    "POLYLINE",
    "VERTEX",
    "SEQEND",
    "CIRCLE",
    "ARC",
    "ELLIPSE",
    "SPLINE",
];

/// How many entities of each name stand in the file's ENTITIES section, those included that the reader does not know.
fn entity_names(bytes: &[u8]) -> BTreeMap<String, usize> {
    let text = String::from_utf8_lossy(bytes);
    let mut lines = text.lines().map(str::trim);
    let mut named = BTreeMap::new();
    let mut section = String::new();
    let mut expects_name = false;
    while let (Some(code), Some(value)) = (lines.next(), lines.next()) {
        match (code, value) {
            ("0", "SECTION") => expects_name = true,
            ("0", "ENDSEC") => section.clear(),
            ("2", name) if expects_name => {
                section = name.to_owned();
                expects_name = false;
            }
            ("0", name) if section == "ENTITIES" => *named.entry(name.to_owned()).or_default() += 1,
            _ => {}
        }
    }
    named
}

/// Millimetres in a unit that the file names.
fn said(units: Units) -> Option<f64> {
    match units {
        Units::Inches => Some(25.4),
        Units::Feet | Units::USSurveyFeet => Some(304.8),
        Units::Yards => Some(914.4),
        Units::Millimeters => Some(1.0),
        Units::Centimeters => Some(10.0),
        Units::Decimeters => Some(100.0),
        Units::Meters => Some(1000.0),
        _ => None,
    }
}

/// In mm, turned so that y runs down.
fn down(x: f64, y: f64, scale: f64) -> Point {
    Point::new(x * scale, -y * scale)
}

/// How deep blocks may stand in blocks.
const DEEPEST: u32 = 8;

/// Takes entities, and the blocks that they insert.
struct Blocks<'d> {
    drawing: &'d Drawing,
    scale: f64,
    /// Blocks that are inserted and not there.
    missing: usize,
    /// Entities taken so far, those of blocks each time.
    shapes: usize,
}

impl Blocks<'_> {
    fn add(
        &mut self,
        entity: &Entity,
        to: Affine,
        depth: u32,
        lines: &mut Lines,
    ) -> Result<(), FileError> {
        self.shapes += 1;
        if self.shapes > MOST_SHAPES {
            return Err(FileError::Grows { what: "blocks" });
        }
        if let EntityType::Insert(insert) = &entity.specific {
            return self.insert(insert, to, depth, lines);
        }
        lines.next_path(None, false);
        match run(entity, self.scale, lines.points)? {
            Some((run, closed)) => lines.add(run.into_iter().map(|p| to * p).collect(), closed),
            None => Ok(()),
        }
    }

    /// A block where it is inserted: as often as it is repeated, scaled, turned and moved.
    fn insert(
        &mut self,
        insert: &Insert,
        to: Affine,
        depth: u32,
        lines: &mut Lines,
    ) -> Result<(), FileError> {
        if depth >= DEEPEST {
            return Err(FileError::Grows { what: "blocks" });
        }
        let drawing = self.drawing;
        let Some(block) = drawing.blocks().find(|b| b.name == insert.name) else {
            self.missing += 1;
            return Ok(());
        };
        let base = down(block.base_point.x, block.base_point.y, self.scale);
        let place = down(insert.location.x, insert.location.y, self.scale);
        // Angles run the other way where y runs down.
        let turned = Affine::rotate(-insert.rotation.to_radians());
        let sized = Affine::scale_non_uniform(insert.x_scale_factor, insert.y_scale_factor);
        for row in 0..insert.row_count.max(1) {
            for column in 0..insert.column_count.max(1) {
                let step = down(
                    f64::from(column) * insert.column_spacing,
                    f64::from(row) * insert.row_spacing,
                    self.scale,
                );
                let there = to
                    * Affine::translate(place.to_vec2())
                    * turned
                    * Affine::translate(step.to_vec2())
                    * sized
                    * Affine::translate(-base.to_vec2());
                for entity in &block.entities {
                    self.add(entity, there, depth + 1, lines)?;
                }
            }
        }
        Ok(())
    }
}

/// What an entity draws, and whether it closes; nothing where it draws no line. `before` is how many points there are already.
fn run(
    entity: &Entity,
    scale: f64,
    before: usize,
) -> Result<Option<(Vec<Point>, bool)>, FileError> {
    Ok(Some(match &entity.specific {
        EntityType::Line(line) => (
            vec![
                down(line.p1.x, line.p1.y, scale),
                down(line.p2.x, line.p2.y, scale),
            ],
            false,
        ),
        EntityType::LwPolyline(poly) => {
            let vertices: Vec<(Point, f64)> = poly
                .vertices
                .iter()
                .map(|v| (down(v.x, v.y, scale), v.bulge))
                .collect();
            (
                polyline(&vertices, poly.is_closed(), before)?,
                poly.is_closed(),
            )
        }
        EntityType::Polyline(poly) => {
            let vertices: Vec<(Point, f64)> = poly
                .vertices()
                .map(|v| (down(v.location.x, v.location.y, scale), v.bulge))
                .collect();
            (
                polyline(&vertices, poly.is_closed(), before)?,
                poly.is_closed(),
            )
        }
        EntityType::Circle(circle) => {
            let centre = down(circle.center.x, circle.center.y, scale);
            let r = circle.radius.abs() * scale;
            (
                arc(centre, Vec2::new(r, r), 0.0, std::f64::consts::TAU, 0.0),
                true,
            )
        }
        EntityType::Arc(a) => {
            let centre = down(a.center.x, a.center.y, scale);
            let r = a.radius.abs() * scale;
            let sweep = (a.end_angle - a.start_angle).rem_euclid(360.0);
            let sweep = if sweep == 0.0 { 360.0 } else { sweep };
            // Angles run the other way where y runs down.
            let run = arc(
                centre,
                Vec2::new(r, r),
                -a.start_angle.to_radians(),
                -sweep.to_radians(),
                0.0,
            );
            (run, sweep >= 360.0)
        }
        EntityType::Ellipse(e) => {
            let centre = down(e.center.x, e.center.y, scale);
            let major = Vec2::new(e.major_axis.x * scale, -e.major_axis.y * scale);
            let sweep = (e.end_parameter - e.start_parameter).rem_euclid(std::f64::consts::TAU);
            let whole = sweep < 1e-9;
            let sweep = if whole { std::f64::consts::TAU } else { sweep };
            let radii = Vec2::new(major.hypot(), major.hypot() * e.minor_axis_ratio.abs());
            (
                arc(centre, radii, -e.start_parameter, -sweep, major.atan2()),
                whole,
            )
        }
        EntityType::Spline(spline) => (spline_run(spline, scale, before)?, spline.is_closed()),
        _ => return Ok(None),
    }))
}

fn arc(centre: Point, radii: Vec2, start: f64, sweep: f64, turned: f64) -> Vec<Point> {
    // As many steps as keep the chord within the tolerance of the arc.
    let largest = radii.x.max(radii.y).max(1e-9);
    let step = 2.0 * (1.0 - (FLATTENING_MM / largest).min(1.0)).acos();
    let steps = (sweep.abs() / step.max(1e-3))
        .ceil()
        .clamp((sweep.abs() * 16.0).max(8.0), 2000.0) as usize;
    let arc = Arc::new(centre, radii, start, sweep, turned);
    (0..=steps)
        .map(|n| kurbo::ParamCurve::eval(&ArcCurve(arc), n as f64 / steps as f64))
        .collect()
}

/// An arc as a curve from 0 to 1.
#[derive(Clone, Copy)]
struct ArcCurve(Arc);

impl kurbo::ParamCurve for ArcCurve {
    fn eval(&self, t: f64) -> Point {
        let angle = self.0.start_angle + self.0.sweep_angle * t;
        let flat = Vec2::new(self.0.radii.x * angle.cos(), self.0.radii.y * angle.sin());
        let (sine, cosine) = self.0.x_rotation.sin_cos();
        self.0.center
            + Vec2::new(
                flat.x * cosine - flat.y * sine,
                flat.x * sine + flat.y * cosine,
            )
    }

    fn subsegment(&self, range: std::ops::Range<f64>) -> Self {
        let Arc {
            sweep_angle,
            start_angle,
            ..
        } = self.0;
        ArcCurve(Arc {
            start_angle: start_angle + sweep_angle * range.start,
            sweep_angle: sweep_angle * (range.end - range.start),
            ..self.0
        })
    }
}

/// Vertices with bulges: a bulge is the tangent of a quarter of the arc's angle, positive to the left as y runs up.
fn polyline(
    vertices: &[(Point, f64)],
    closed: bool,
    before: usize,
) -> Result<Vec<Point>, FileError> {
    let mut run = Vec::new();
    let n = vertices.len();
    for (i, (from, bulge)) in vertices.iter().enumerate() {
        run.push(*from);
        if before + run.len() > MOST_FILE_POINTS {
            return Err(FileError::TooManyPoints);
        }
        let next = if i + 1 < n {
            vertices[i + 1].0
        } else if closed && n > 0 {
            vertices[0].0
        } else {
            break;
        };
        if bulge.abs() > 1e-9 && from.distance(next) > 1e-9 {
            let chord = next - *from;
            let sweep = 4.0 * bulge.atan();
            let radius = chord.hypot() / (2.0 * (sweep / 2.0).sin());
            let middle = from.midpoint(next);
            // From the middle of the chord to the centre; y runs down, so left as drawn is right here.
            let square = Vec2::new(-chord.y, chord.x) / chord.hypot();
            let centre = middle - square * (radius * (sweep / 2.0).cos());
            let start = (*from - centre).atan2();
            let along = arc(
                centre,
                Vec2::new(radius.abs(), radius.abs()),
                start,
                -sweep,
                0.0,
            );
            run.extend(along.iter().skip(1).take(along.len().saturating_sub(2)));
        }
    }
    Ok(run)
}

/// Highest degree of a spline that is followed; drawing programs write 3, some 5.
const HIGHEST_DEGREE: usize = 11;

/// A B-spline (with weights, if any) evaluated by de Boor's algorithm.
fn spline_run(spline: &Spline, scale: f64, before: usize) -> Result<Vec<Point>, FileError> {
    let degree = spline.degree_of_curve.max(1) as usize;
    let control: Vec<[f64; 3]> = spline
        .control_points
        .iter()
        .enumerate()
        .map(|(n, p)| {
            let weight = spline
                .weight_values
                .get(n)
                .copied()
                .filter(|w| *w > 0.0)
                .unwrap_or(1.0);
            let at = down(p.x, p.y, scale);
            [at.x * weight, at.y * weight, weight]
        })
        .collect();
    let knots = &spline.knot_values;
    if control.len() <= degree || knots.len() != control.len() + degree + 1 {
        // Only points on the curve were kept: straight from one to the next.
        return Ok(spline
            .fit_points
            .iter()
            .map(|p| down(p.x, p.y, scale))
            .collect());
    }
    if degree > HIGHEST_DEGREE {
        return Err(FileError::Grows {
            what: "splines of a high degree",
        });
    }
    let (first, last) = (knots[degree], knots[control.len()]);
    let spans = control.len() - degree;
    let steps = (spans * 24).clamp(24, 6000);
    if before + steps > MOST_FILE_POINTS {
        return Err(FileError::TooManyPoints);
    }
    // Knots rise, so the span of one point is that of the point before it or a later one.
    let mut k = degree;
    Ok((0..=steps)
        .map(|n| {
            let u = first + (last - first) * n as f64 / steps as f64;
            while k + 1 < control.len() && knots[k + 1] <= u {
                k += 1;
            }
            let mut d: Vec<[f64; 3]> = (0..=degree).map(|j| control[j + k - degree]).collect();
            for r in 1..=degree {
                for j in (r..=degree).rev() {
                    let (a, b) = (knots[j + k - degree], knots[j + 1 + k - r]);
                    let t = if b > a { (u - a) / (b - a) } else { 0.0 };
                    let before = d[j - 1];
                    d[j] = std::array::from_fn(|i| before[i] * (1.0 - t) + d[j][i] * t);
                }
            }
            let [x, y, w] = d[degree];
            Point::new(x / w, y / w)
        })
        .collect())
}
