//! A side put together from its measurements: every seam, rivet column and piece of hardware in the picture frame.

use kurbo::{Ellipse, Point, Rect, Shape as _, Vec2};
use uuid::Uuid;

use crate::body::{Body, Reading, tangent};
use crate::feature::{
    ComesOff, Details, Feature, FeatureClass, FeatureKind, Form, LampColour, MOST_RIVETS,
    MeasuredTo, Repeat, SideFeature,
};
use crate::outline::{Contour, Shape};
use crate::side::{Datum, MeasureError, Side, require};
use crate::tape::{Unit, print};

/// One line on a side, ready to be drawn and landed on.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredLine {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What it is.
    pub kind: FeatureKind,
    /// What it is called on this side: `seam 3`.
    pub name: String,
    /// Its number among the lines of its name, from the front, from 1.
    pub number: u32,
    /// How far back along the rail it begins, mm.
    pub back_mm: f64,
    /// Its points in the picture frame; a closed line repeats its first point.
    pub points: Vec<Point>,
}

/// One column of rivets or fasteners.
#[derive(Debug, Clone, PartialEq)]
pub struct RivetColumn {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What its heads are.
    pub kind: FeatureKind,
    /// Its number on the side, from the front, from 1.
    pub number: u32,
    /// Distance back along the rail, mm.
    pub back_mm: f64,
    /// Diameter of a head, mm.
    pub head_mm: f64,
    /// Middles of the heads from the top, in the picture frame.
    pub heads: Vec<Point>,
}

/// Something that film keeps off, or a place where film behaves otherwise.
#[derive(Debug, Clone, PartialEq)]
pub struct Area {
    /// The feature that it comes from, and its number in it from 1.
    pub source: (Uuid, u32),
    /// What it is.
    pub kind: FeatureKind,
    /// What it is called on this side: `locker door`, `lamp 2`.
    pub name: String,
    /// Its outline in the picture frame.
    pub outline: Shape,
    /// How far film keeps off it, mm.
    pub clearance_mm: f64,
    /// Whether it comes off first.
    pub comes_off: ComesOff,
    /// What else is measured of it.
    pub details: Option<Details>,
}

impl Area {
    /// Lens colour of a lamp.
    pub fn colour(&self) -> Option<LampColour> {
        match self.details {
            Some(Details::Lamp { colour, .. }) => Some(colour),
            _ => None,
        }
    }
}

/// A side with everything on it in the picture frame.
#[derive(Debug, Clone, PartialEq)]
pub struct MeasuredSide {
    /// The side as measured.
    pub side: Side,
    /// The rail: the reference for readings unless another is named.
    pub datum: Datum,
    /// The body's outline.
    pub outline: Shape,
    /// Seams, gaps, creases and other lines from the front.
    pub lines: Vec<MeasuredLine>,
    /// Rivet columns from the front.
    pub columns: Vec<RivetColumn>,
    /// What film keeps off, and zones, from the front.
    pub areas: Vec<Area>,
}

impl MeasuredSide {
    /// Areas that film keeps off.
    pub fn hardware(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::KeepOff)
    }

    /// Places where film behaves otherwise.
    pub fn zones(&self) -> impl Iterator<Item = &Area> {
        self.areas
            .iter()
            .filter(|a| a.kind.class() == FeatureClass::Zone)
    }
}

/// Puts a side together from its measurements: every line, column and area in the picture frame, numbered from the front.
///
/// Errors: the first measurement that cannot stand.
pub fn measure(side: &Side, features: &[SideFeature]) -> Result<MeasuredSide, MeasureError> {
    side.check()?;
    let mut measured = MeasuredSide {
        datum: side.datum(),
        outline: side.outline(),
        side: side.clone(),
        lines: Vec::new(),
        columns: Vec::new(),
        areas: Vec::new(),
    };
    for SideFeature { id, feature } in features {
        add(&mut measured, *id, feature)?;
    }
    number(&mut measured);
    Ok(measured)
}

/// Checks one feature on its side without the others.
pub fn check_feature(side: &Side, feature: &Feature) -> Result<(), MeasureError> {
    let alone = SideFeature {
        id: Uuid::nil(),
        feature: feature.clone(),
    };
    measure(side, &[alone]).map(|_| ())
}

fn add(measured: &mut MeasuredSide, id: Uuid, feature: &Feature) -> Result<(), MeasureError> {
    feature.check()?;
    let datum = measured.side.datum_of(feature.reference).ok_or_else(|| MeasureError {
        field: "reference",
        sentence: format!(
            "The reference that the {} is measured from is no longer there. Measure it from the {} instead.",
            feature.name(),
            measured.side.rail
        ),
    })?;
    let there = Ground {
        side: &measured.side,
        outline: &measured.outline,
        datum,
        feature,
    };
    match feature.kind.class() {
        FeatureClass::Heads => {
            let columns = there.columns(id)?;
            measured.columns.extend(columns);
            let heads: usize = measured.columns.iter().map(|c| c.heads.len()).sum();
            require(
                heads as u64 <= MOST_RIVETS,
                "heads",
                format!(
                    "A side may have {MOST_RIVETS} rivets; with these there would be {heads}. Check how many there are."
                ),
            )
        }
        FeatureClass::Line => {
            let lines = there.lines(id)?;
            measured.lines.extend(lines);
            Ok(())
        }
        FeatureClass::KeepOff | FeatureClass::Zone => {
            let areas = there.areas(id)?;
            measured.areas.extend(areas);
            Ok(())
        }
    }
}

/// A feature on the side that it is measured on.
struct Ground<'s> {
    side: &'s Side,
    outline: &'s Shape,
    datum: Datum,
    feature: &'s Feature,
}

impl Ground<'_> {
    /// A reading as a point of the picture.
    fn point(&self, back: f64, drop: f64) -> Point {
        self.datum.drop_point(back, drop)
    }

    /// How far back along the rail a point is.
    fn back_of(&self, point: Point) -> f64 {
        self.side.datum().read_plumb(point).0
    }

    /// Whether a point lies on the side's box; if not, which field is wrong and why.
    fn require_on(&self, at: Point, which: &Which) -> Result<(), MeasureError> {
        let b = self.outline.bounds;
        let what = which.name(self.feature);
        let shown = |mm: f64| print(mm, Unit::InchSixteenth).text;
        let both = |mm: f64| format!("{} in ({mm:.0} mm)", shown(mm));
        let back = (at.x - self.side.datum().zero.x) * self.side.direction();
        let (near, far) = if self.side.runs_front_to_rear() {
            ("front", "rear")
        } else {
            ("near", "far")
        };
        let run = |x: f64| (x - self.side.datum().zero.x) * self.side.direction();
        let (first, last) = (run(b.x0).min(run(b.x1)), run(b.x0).max(run(b.x1)));
        require(
            back >= first - SLACK_MM,
            which.along_field(),
            format!("{what} would be off the side, before the {near} edge. Measure it again."),
        )?;
        require(
            back <= last + SLACK_MM,
            which.along_field(),
            format!(
                "{what} would be {} back, past the {far} edge. Check {}.",
                both(back),
                if which.along > 0 {
                    "the pitch and how many there are"
                } else {
                    "the distance"
                }
            ),
        )?;
        require(
            (b.y0 - SLACK_MM..=b.y1 + SLACK_MM).contains(&at.y),
            which.down_field(),
            format!(
                "{what} would be off the side: it is {} high. Check {}.",
                both(b.height()),
                if which.down > 0 {
                    "the pitch and how many there are"
                } else {
                    "the distance down"
                }
            ),
        )
    }

    fn columns(&self, id: Uuid) -> Result<Vec<RivetColumn>, MeasureError> {
        let Form::Heads {
            first_mm,
            pitch_mm,
            columns,
            first_head_mm,
            head_pitch_mm,
            heads,
            head_mm,
        } = self.feature.form
        else {
            return Ok(Vec::new());
        };
        let fields = ["first_mm", "pitch_mm", "first_head_mm", "head_pitch_mm"];
        (0..columns)
            .map(|n| {
                let back = first_mm + pitch_mm * f64::from(n);
                let heads: Vec<Point> = (0..heads)
                    .map(|r| self.point(back, first_head_mm + head_pitch_mm * f64::from(r)))
                    .collect();
                for (r, head) in (0..).zip(&heads) {
                    self.require_on(
                        *head,
                        &Which {
                            fields,
                            along: n,
                            down: r,
                        },
                    )?;
                }
                Ok(RivetColumn {
                    source: (id, n + 1),
                    kind: self.feature.kind,
                    number: 0,
                    back_mm: heads.first().map_or(back, |p| self.back_of(*p)),
                    head_mm,
                    heads,
                })
            })
            .collect()
    }

    fn lines(&self, id: Uuid) -> Result<Vec<MeasuredLine>, MeasureError> {
        let kind = self.feature.kind;
        let line = |n: u32, points: Vec<Point>| MeasuredLine {
            source: (id, n + 1),
            kind,
            name: self.feature.name().to_owned(),
            number: 0,
            back_mm: points.first().map_or(0.0, |p| self.back_of(*p)),
            points,
        };
        match &self.feature.form {
            Form::Upright {
                first_mm,
                pitch_mm,
                count,
            } => {
                let fields = ["first_mm", "pitch_mm", "first_mm", "first_mm"];
                (0..*count)
                    .map(|n| {
                        let foot = self.point(first_mm + pitch_mm * f64::from(n), 0.0);
                        let which = Which {
                            fields,
                            along: n,
                            down: 0,
                        };
                        let b = self.outline.bounds;
                        self.require_on(Point::new(foot.x, b.center().y), &which)?;
                        // From the rail where it is a box, from edge to edge elsewhere.
                        let (top, bottom) = self.outline.span_at(foot.x).unwrap_or((b.y0, b.y1));
                        Ok(line(
                            n,
                            vec![Point::new(foot.x, top), Point::new(foot.x, bottom)],
                        ))
                    })
                    .collect()
            }
            Form::Straight {
                back_mm,
                drop_mm,
                to_back_mm,
                to_drop_mm,
            } => {
                let ends = [
                    self.point(*back_mm, *drop_mm),
                    self.point(*to_back_mm, *to_drop_mm),
                ];
                let first = ["back_mm", "back_mm", "drop_mm", "drop_mm"];
                let last = ["to_back_mm", "to_back_mm", "to_drop_mm", "to_drop_mm"];
                for (end, fields) in ends.iter().zip([first, last]) {
                    self.require_on(
                        *end,
                        &Which {
                            fields,
                            along: 0,
                            down: 0,
                        },
                    )?;
                }
                Ok(vec![line(0, ends.to_vec())])
            }
            Form::Path { points, closed } => {
                let mut run = self.path(points, *closed)?;
                if *closed && let Some(first) = run.first().copied() {
                    run.push(first);
                }
                Ok(vec![line(0, run)])
            }
            Form::Rectangle { .. } => Ok(self
                .areas(id)?
                .into_iter()
                .map(|area| {
                    let mut points = area.outline.contours.into_iter().next().unwrap_or_default();
                    points.extend(points.first().copied());
                    line(area.source.1 - 1, points)
                })
                .collect()),
            _ => Ok(Vec::new()),
        }
    }

    fn areas(&self, id: Uuid) -> Result<Vec<Area>, MeasureError> {
        let area = |n: u32, outline: Shape| Area {
            source: (id, n + 1),
            kind: self.feature.kind,
            name: self.feature.name().to_owned(),
            outline,
            clearance_mm: self.feature.clearance_mm,
            comes_off: self.feature.comes_off,
            details: self.feature.details,
        };
        let fields = ["back_mm", "pitch_mm", "drop_mm", "row_pitch_mm"];
        match &self.feature.form {
            Form::Rectangle {
                back_mm,
                drop_mm,
                to,
                width_mm,
                height_mm,
                repeat,
            } => {
                let half = Vec2::new(self.side.direction() * width_mm / 2.0, height_mm / 2.0);
                let offset = if *to == MeasuredTo::Corner {
                    half
                } else {
                    Vec2::ZERO
                };
                self.repeated(*back_mm, *drop_mm, repeat, fields, |n, at| {
                    let middle = at + offset;
                    let rect = Rect::from_points(middle - half, middle + half);
                    area(n, Shape::rectangle(rect))
                })
            }
            Form::Round {
                back_mm,
                drop_mm,
                across_mm,
                repeat,
            } => self.repeated(*back_mm, *drop_mm, repeat, fields, |n, at| {
                area(n, round(at, across_mm / 2.0))
            }),
            Form::Path { points, .. } => {
                Ok(vec![area(0, Shape::new(vec![self.path(points, true)?]))])
            }
            Form::Arch {
                centre_mm,
                width_mm,
                height_mm,
            } => {
                let at = self.point(*centre_mm, 0.0);
                let b = self.outline.bounds;
                let (_, bottom) = self.outline.span_at(at.x).unwrap_or((b.y0, b.y1));
                let middle = Point::new(at.x, bottom);
                let which = |fields| Which {
                    fields,
                    along: 0,
                    down: 0,
                };
                self.require_on(middle, &which(["centre_mm"; 4]))?;
                self.require_on(
                    middle - Vec2::new(0.0, *height_mm),
                    &which(["height_mm"; 4]),
                )?;
                require(
                    *width_mm <= b.width(),
                    "width_mm",
                    format!("The {} would be wider than the side.", self.feature.name()),
                )?;
                Ok(vec![area(
                    0,
                    half_ellipse(middle, width_mm / 2.0, *height_mm),
                )])
            }
            _ => Ok(Vec::new()),
        }
    }

    fn repeated(
        &self,
        back: f64,
        drop: f64,
        repeat: &Repeat,
        fields: [&'static str; 4],
        make: impl Fn(u32, Point) -> Area,
    ) -> Result<Vec<Area>, MeasureError> {
        let mut made = Vec::new();
        for row in 0..repeat.rows {
            for n in 0..repeat.count {
                let at = self.point(
                    back + repeat.pitch_mm * f64::from(n),
                    drop + repeat.row_pitch_mm * f64::from(row),
                );
                let area = make(row * repeat.count + n, at);
                let which = Which {
                    fields,
                    along: n,
                    down: row,
                };
                self.require_on(area.outline.bounds.center(), &which)?;
                require(
                    self.outline.distance_to(&area.outline, 1.0) < 1.0,
                    which.along_field(),
                    format!(
                        "{} would hang in the air beside the side's outline. Measure it again.",
                        which.name(self.feature)
                    ),
                )?;
                made.push(area);
            }
        }
        Ok(made)
    }

    fn path(&self, points: &[Reading], closed: bool) -> Result<Vec<Point>, MeasureError> {
        let fields = ["points"; 4];
        for reading in points {
            let at = self.point(reading.back_mm, reading.drop_mm);
            self.require_on(
                at,
                &Which {
                    fields,
                    along: 0,
                    down: 0,
                },
            )?;
        }
        // Bends are worked out in readings, then every point is found on the side as a reading is.
        let run: Contour = if closed {
            Body::Readings {
                points: points.to_vec(),
            }
            .outline()
        } else {
            open_run(points)
        };
        Ok(run.into_iter().map(|p| self.point(p.x, p.y)).collect())
    }
}

/// An open line through readings: there and back along itself as an outline bends wrongly at the ends, so the ends are doubled.
fn open_run(points: &[Reading]) -> Contour {
    let mut there = Vec::new();
    let bends = points.iter().any(|p| p.rounded);
    for (n, p) in points.iter().enumerate() {
        let here = Point::new(p.back_mm, p.drop_mm);
        if n == 0 || !bends {
            there.push(here);
            continue;
        }
        let at = |m: usize| {
            let q = points[m.min(points.len() - 1)];
            Point::new(q.back_mm, q.drop_mm)
        };
        let (a, b) = (at(n - 1), here);
        let leave = if points[n - 1].rounded {
            tangent(at(n.saturating_sub(2)), a, b)
        } else {
            (b - a) / 3.0
        };
        let arrive = if p.rounded {
            tangent(a, b, at(n + 1))
        } else {
            (b - a) / 3.0
        };
        const STEPS: i32 = 12;
        for step in 1..=STEPS {
            let t = f64::from(step) / f64::from(STEPS);
            let curve = kurbo::CubicBez::new(a, a + leave, b - arrive, b);
            there.push(kurbo::ParamCurve::eval(&curve, t));
        }
    }
    there
}

/// A point may lie this far outside the body's box: hardware sits on its very edge, mm.
const SLACK_MM: f64 = 1.0;

/// Which part of a repeated feature is meant, and the fields that its place comes from: back, pitch, drop, pitch down.
struct Which {
    fields: [&'static str; 4],
    along: u32,
    down: u32,
}

impl Which {
    fn along_field(&self) -> &'static str {
        if self.along > 0 {
            self.fields[1]
        } else {
            self.fields[0]
        }
    }

    fn down_field(&self) -> &'static str {
        if self.down > 0 {
            self.fields[3]
        } else {
            self.fields[2]
        }
    }

    fn name(&self, feature: &Feature) -> String {
        if self.along == 0 && self.down == 0 {
            return format!("The {}", feature.name());
        }
        let several = match &feature.called {
            Some(called) if !called.trim().is_empty() => called.clone(),
            _ => feature.kind.names().1.to_owned(),
        };
        if self.along > 0 {
            format!("Number {} of these {several}", self.along + 1)
        } else {
            format!("Number {} down of these {several}", self.down + 1)
        }
    }
}

/// Numbers everything from the front. A name that stands there once carries no number.
fn number(side: &mut MeasuredSide) {
    let datum = side.datum;
    side.lines.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    let names: Vec<String> = side.lines.iter().map(|l| l.name.clone()).collect();
    for (line, (number, name)) in side.lines.iter_mut().zip(numbered(&names)) {
        line.number = number;
        line.name = name;
    }
    side.columns.sort_by(|a, b| a.back_mm.total_cmp(&b.back_mm));
    for (n, column) in (1..).zip(&mut side.columns) {
        column.number = n;
    }
    let place = |a: &Area| datum.read(a.outline.bounds.center());
    side.areas.sort_by(|a, b| {
        let (a, b) = (place(a), place(b));
        // To the tenth of a millimetre: a row that is plumb is numbered downwards.
        ((a.0 * 10.0).round(), a.1)
            .partial_cmp(&((b.0 * 10.0).round(), b.1))
            .unwrap_or(std::cmp::Ordering::Equal)
    });
    let names: Vec<String> = side.areas.iter().map(|a| a.name.clone()).collect();
    for (area, (_, name)) in side.areas.iter_mut().zip(numbered(&names)) {
        area.name = name;
    }
}

/// The number of each name among its equals, from 1, and the name with its number where there are several.
fn numbered(names: &[String]) -> Vec<(u32, String)> {
    let mut totals = std::collections::HashMap::<&str, u32>::new();
    for name in names {
        *totals.entry(name).or_default() += 1;
    }
    let mut so_far = std::collections::HashMap::<&str, u32>::new();
    names
        .iter()
        .map(|name| {
            let n = so_far.entry(name).or_default();
            *n += 1;
            match totals.get(name.as_str()) {
                Some(1) => (1, name.clone()),
                _ => (*n, format!("{name} {n}")),
            }
        })
        .collect()
}

fn round(middle: Point, radius: f64) -> Shape {
    let mut contour = Contour::new();
    let circle = Ellipse::new(middle, (radius, radius), 0.0);
    kurbo::flatten(circle.path_elements(0.02), 0.02, |element| {
        if let kurbo::PathEl::LineTo(p) | kurbo::PathEl::MoveTo(p) = element {
            contour.push(p);
        }
    });
    contour.dedup_by(|a, b| a.distance(*b) < 1e-6);
    if contour.len() > 1
        && contour
            .first()
            .zip(contour.last())
            .is_some_and(|(a, b)| a.distance(*b) < 1e-6)
    {
        contour.pop();
    }
    Shape::new(vec![contour])
}

fn half_ellipse(middle: Point, half_width: f64, height: f64) -> Shape {
    const STEPS: i32 = 48;
    Shape::new(vec![
        (0..=STEPS)
            .map(|n| {
                let angle = std::f64::consts::PI * f64::from(n) / f64::from(STEPS);
                Point::new(
                    middle.x - half_width * angle.cos(),
                    middle.y - height * angle.sin(),
                )
            })
            .collect(),
    ])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::side::SideKind;
    use crate::surface::Surface;

    fn side(kind: SideKind) -> Side {
        let body = Body::Box {
            length_mm: 7315.2,
            height_mm: 2184.4,
            fall_mm: 0.0,
        };
        Side::new(kind, body, Surface::default())
    }

    fn on(side: &Side, feature: Feature) -> Result<MeasuredSide, MeasureError> {
        measure(
            side,
            &[SideFeature {
                id: Uuid::nil(),
                feature,
            }],
        )
    }

    fn columns(first_mm: f64, pitch_mm: f64, columns: u32, heads: u32) -> Feature {
        Feature::new(
            FeatureKind::Rivets,
            Form::Heads {
                first_mm,
                pitch_mm,
                columns,
                first_head_mm: 100.0,
                head_pitch_mm: 150.0,
                heads,
                head_mm: 12.7,
            },
        )
    }

    fn lamps(rows: u32) -> Feature {
        let form = Form::Rectangle {
            back_mm: 150.0,
            drop_mm: 2000.0,
            to: MeasuredTo::Middle,
            width_mm: 100.0,
            height_mm: 50.0,
            repeat: Repeat {
                count: 3,
                pitch_mm: 3400.0,
                rows,
                row_pitch_mm: 80.0,
            },
        };
        Feature::new(FeatureKind::Lamp, form)
    }

    #[test]
    fn hardware_is_numbered_from_the_front_and_downwards() {
        let names = |rows| {
            on(&side(SideKind::Right), lamps(rows)).map(|s| {
                s.areas
                    .iter()
                    .map(|a| {
                        (
                            a.name.clone(),
                            a.outline.bounds.center().x.round(),
                            a.outline.bounds.center().y.round(),
                        )
                    })
                    .collect::<Vec<_>>()
            })
        };
        let lamp = |n: u32, x: f64, y: f64| (format!("lamp {n}"), x, y);
        assert_eq!(
            names(1),
            Ok(vec![
                lamp(1, -150.0, 2000.0),
                lamp(2, -3550.0, 2000.0),
                lamp(3, -6950.0, 2000.0)
            ])
        );
        assert_eq!(
            names(2).map(|n| n[..3].to_vec()),
            Ok(vec![
                lamp(1, -150.0, 2000.0),
                lamp(2, -150.0, 2080.0),
                lamp(3, -3550.0, 2000.0)
            ])
        );
    }

    #[test]
    fn features_off_the_side_are_refused_by_field() {
        let field = |f: Feature| on(&side(SideKind::Left), f).err().map(|e| e.field);
        assert_eq!(field(columns(1200.0, 1220.0, 5, 13)), None);
        assert_eq!(field(columns(1200.0, 1220.0, 7, 13)), Some("pitch_mm"));
        assert_eq!(field(columns(9000.0, 0.0, 1, 13)), Some("first_mm"));
        assert_eq!(field(columns(1200.0, 1220.0, 5, 20)), Some("head_pitch_mm"));
        assert_eq!(field(columns(1200.0, 0.0, 5, 13)), Some("pitch_mm"));
        assert_eq!(field(lamps(4)), Some("row_pitch_mm"));
    }

    #[test]
    fn a_sentence_says_which_one_is_off_and_where() {
        let told = on(&side(SideKind::Left), columns(1200.0, 1220.0, 7, 13))
            .err()
            .map(|e| e.sentence);
        assert_eq!(
            told.as_deref(),
            Some(
                "Number 7 of these rivet columns would be 27' 11 7/16 in (8520 mm) back, past the rear edge. Check the pitch and how many there are."
            )
        );
    }

    #[test]
    fn what_hangs_in_the_air_beside_a_bonnet_is_refused() {
        let body = Body::Van {
            length_mm: 6000.0,
            height_mm: 2400.0,
            bonnet_mm: 900.0,
            bonnet_height_mm: 1100.0,
            screen_mm: 700.0,
            tail_mm: 60.0,
        };
        let van = Side::new(SideKind::Left, body, Surface::default());
        let handle = |back_mm| {
            let form = Form::Round {
                back_mm,
                drop_mm: 300.0,
                across_mm: 40.0,
                repeat: Repeat::ONCE,
            };
            on(&van, Feature::new(FeatureKind::Socket, form))
                .err()
                .map(|e| e.sentence)
        };
        assert!(handle(300.0).is_some_and(|s| s.contains("in the air")));
        assert_eq!(handle(3000.0), None);
    }

    #[test]
    fn a_seam_runs_from_edge_to_edge_of_any_outline() {
        let body = Body::Tank {
            length_mm: 4000.0,
            height_mm: 1800.0,
            end_mm: 400.0,
        };
        let tank = Side::new(SideKind::Left, body, Surface::default());
        let seam = Form::Upright {
            first_mm: 2000.0,
            pitch_mm: 0.0,
            count: 1,
        };
        let line = on(&tank, Feature::new(FeatureKind::PanelSeam, seam))
            .map(|s| s.lines[0].points.clone());
        assert_eq!(
            line,
            Ok(vec![Point::new(2000.0, 0.0), Point::new(2000.0, 1800.0)])
        );
    }

    #[test]
    fn a_feature_hangs_on_the_reference_that_it_was_measured_from() {
        let mut side = side(SideKind::Left);
        let id = Uuid::from_u128(5);
        side.references.push(crate::side::Reference {
            id,
            name: "body line".into(),
            front_drop_mm: 1000.0,
            rear_drop_mm: 1100.0,
        });
        let handle = Feature {
            reference: Some(id),
            ..Feature::new(
                FeatureKind::Handle,
                Form::Round {
                    back_mm: side.datum_of(Some(id)).map_or(0.0, |d| d.length_mm),
                    drop_mm: -50.0,
                    across_mm: 40.0,
                    repeat: Repeat::ONCE,
                },
            )
        };
        let at = on(&side, handle.clone()).map(|s| s.areas[0].outline.bounds.center());
        assert!(at.is_ok_and(|p| p.distance(Point::new(7315.2, 1050.0)) < 0.1));
        side.references.clear();
        assert!(
            on(&side, handle)
                .is_err_and(|e| e.field == "reference" && e.sentence.contains("no longer there"))
        );
    }
}
