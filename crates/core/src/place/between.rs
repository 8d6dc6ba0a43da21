//! A section of stripe between the edges of film that stays on both sides of it: its ends are theirs.

use kurbo::{Affine, Point, Vec2};
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::art::stripe::Corners;
use crate::ground::tape::{Unit, print};
use crate::place::error::PlaceError;
use crate::place::fit::Fit;
use crate::place::placed::{Placed, settle};
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::{MeasuredLine, MeasuredSide};

/// Edges of film that stays, on a side.
pub fn edges(side: &MeasuredSide) -> impl Iterator<Item = &MeasuredLine> {
    side.lines
        .iter()
        .filter(|l| l.kind == FeatureKind::FilmEdge)
}

/// Upper and lower end of an edge.
fn ends(line: &MeasuredLine) -> Option<[Point; 2]> {
    let (a, b) = (*line.points.first()?, *line.points.last()?);
    Some(if a.y <= b.y { [a, b] } else { [b, a] })
}

/// The corners of a section between two edges, longer by `lap_mm` at each end along its own upper and lower edge.
///
/// Errors: an edge that is gone, or twice the same.
///
/// ```
/// # use uuid::Uuid;
/// # use windrift_core::place::between::corners;
/// # use windrift_core::vehicle::{body::Body, feature::{Feature, SideFeature, form::Form, kind::FeatureKind}};
/// # use windrift_core::vehicle::{measured::measure::measure, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 4000.0.into(), height_mm: 1800.0.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// let edge = |n: u128, back: f64, top: f64, foot: f64| SideFeature { id: Uuid::from_u128(n), feature: Feature::new(FeatureKind::FilmEdge,
///     Form::Straight { back_mm: back.into(), drop_mm: top.into(), to_back_mm: back.into(), to_drop_mm: foot.into() }) };
/// // What stays is 100 wide at the front and 90 at the rear, 800 apart.
/// let side = measure(&side, &[edge(1, 1000.0, 700.0, 800.0), edge(2, 1800.0, 720.0, 810.0)]).unwrap();
/// let section = corners(Uuid::from_u128(1), Uuid::from_u128(2), 0.0, &side).unwrap();
/// assert_eq!((section.left[0].y, section.left[1].y, section.right[0].y, section.right[1].y), (700.0, 800.0, 720.0, 810.0));
/// ```
pub fn corners(
    front: Uuid,
    rear: Uuid,
    lap_mm: f64,
    side: &MeasuredSide,
) -> Result<Corners, PlaceError> {
    let of = |feature: Uuid| {
        edges(side)
            .find(|l| l.source.0 == feature)
            .and_then(ends)
            .ok_or(PlaceError::FilmEdgeGone)
    };
    let (a, b) = (of(front)?, of(rear)?);
    let middle = |[top, foot]: [Point; 2]| top.midpoint(foot).x;
    let (left, right) = if middle(a) <= middle(b) {
        (a, b)
    } else {
        (b, a)
    };
    // Neither may they cross: a section has room above and below.
    if front == rear || (0..2).any(|n| right[n].x - left[n].x < 1.0) {
        return Err(PlaceError::FilmEdgesCross);
    }
    let out = |from: Point, to: Point| -> Vec2 { (to - from).normalize() * lap_mm };
    let (upper, lower) = (out(left[0], right[0]), out(left[1], right[1]));
    Ok(Corners {
        left: [left[0] - upper, left[1] - lower],
        right: [right[0] + upper, right[1] + lower],
    })
}

/// Where a section lies: it was drawn where it is.
pub(crate) fn by_edges(
    drawn: &Drawn,
    corners: &Corners,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let to_picture = Affine::translate(corners.origin().to_vec2());
    let mut placed = settle(drawn, to_picture, side.datum, side, unit)?;
    placed.fit = Some(Fit {
        misses: Vec::new(),
        sentence: told(corners, side, unit),
    });
    Ok(placed)
}

/// What the two ends are, so that it can be held against what stays before anything is cut.
fn told(corners: &Corners, side: &MeasuredSide, unit: Unit) -> String {
    let says = |mm: f64| print(mm, unit).text;
    let wide = |[top, foot]: [Point; 2]| top.distance(foot);
    let (front, rear) = if side.side.direction() > 0.0 {
        (corners.left, corners.right)
    } else {
        (corners.right, corners.left)
    };
    let [above, below] = [0, 1].map(|n| corners.left[n].distance(corners.right[n]));
    let leans = |[top, foot]: [Point; 2]| (top.x - foot.x).abs();
    let ends = match leans(front).max(leans(rear)) {
        lean if lean < unit.mark_mm() => "both ends plumb",
        _ => "its ends sloped as the edges are",
    };
    let fall = (rear[0].y - front[0].y, rear[1].y - front[1].y);
    let run = |fall: f64| match fall {
        f if f.abs() < unit.mark_mm() => "level".to_owned(),
        f if f > 0.0 => format!("falls {}", says(f)),
        f => format!("rises {}", says(-f)),
    };
    format!(
        "{} wide at the front end and {} at the rear, {} long above and {} below, {ends}; to the rear its upper edge {} and its lower edge {}. Hold it up against both before the tape comes off.",
        says(wide(front)),
        says(wide(rear)),
        says(above),
        says(below),
        run(fall.0),
        run(fall.1),
    )
}
