//! A feature on the side that it is measured on: its reading becomes points of the picture, or a sentence says which is off.

use kurbo::{Ellipse, Point, Rect, Shape as _, Vec2};
use uuid::Uuid;

use crate::ground::datum::Datum;
use crate::ground::measure_error::{MeasureError, require};
use crate::ground::outline::{Contour, Shape};
use crate::ground::tape::{Unit, print};
use crate::vehicle::body::readings::Reading;
use crate::vehicle::body::{Body, tangent};
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::measured::{Area, MeasuredLine, RivetColumn};
use crate::vehicle::side::Side;

/// A feature on the side that it is measured on.
pub(crate) struct Ground<'s> {
    pub(super) side: &'s Side,
    pub(super) outline: &'s Shape,
    pub(super) datum: Datum,
    pub(super) feature: &'s Feature,
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

    pub(super) fn columns(&self, id: Uuid) -> Result<Vec<RivetColumn>, MeasureError> {
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
                    head_mm: head_mm.mm(),
                    details: self.feature.details,
                    heads,
                })
            })
            .collect()
    }

    pub(super) fn lines(&self, id: Uuid) -> Result<Vec<MeasuredLine>, MeasureError> {
        let kind = self.feature.kind;
        let line = |n: u32, points: Vec<Point>| MeasuredLine {
            source: (id, n + 1),
            kind,
            name: self.feature.name().to_owned(),
            number: 0,
            back_mm: points.first().map_or(0.0, |p| self.back_of(*p)),
            details: self.feature.details,
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
                    self.point(back_mm.mm(), drop_mm.mm()),
                    self.point(to_back_mm.mm(), to_drop_mm.mm()),
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

    pub(super) fn areas(&self, id: Uuid) -> Result<Vec<Area>, MeasureError> {
        let area = |n: u32, outline: Shape| Area {
            source: (id, n + 1),
            kind: self.feature.kind,
            name: self.feature.name().to_owned(),
            outline,
            clearance_mm: self.feature.clearance_mm.mm(),
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
                self.repeated(back_mm.mm(), drop_mm.mm(), repeat, fields, |n, at| {
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
            } => self.repeated(back_mm.mm(), drop_mm.mm(), repeat, fields, |n, at| {
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
                let at = self.point(centre_mm.mm(), 0.0);
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
                    middle - Vec2::new(0.0, height_mm.mm()),
                    &which(["height_mm"; 4]),
                )?;
                require(
                    *width_mm <= b.width(),
                    "width_mm",
                    format!("The {} would be wider than the side.", self.feature.name()),
                )?;
                Ok(vec![area(
                    0,
                    half_ellipse(middle, width_mm / 2.0, height_mm.mm()),
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
            let at = self.point(reading.back_mm.mm(), reading.drop_mm.mm());
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
        let here = Point::new(p.back_mm.mm(), p.drop_mm.mm());
        if n == 0 || !bends {
            there.push(here);
            continue;
        }
        let at = |m: usize| {
            let q = points[m.min(points.len() - 1)];
            Point::new(q.back_mm.mm(), q.drop_mm.mm())
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

pub(crate) fn round(middle: Point, radius: f64) -> Shape {
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
