//! A place by measured points: the best fit, and by how much each misses.

use kurbo::{Affine, Point};
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::datum::Datum;
use crate::ground::outline::bounds_of;
use crate::ground::tape::{Unit, print};
use crate::place::error::PlaceError;
use crate::place::fit::{Fit, Miss, rigid};
use crate::place::placed::{Placed, settle};
use crate::place::rules::{MOST_POINTS, PointReading};
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn by_points(
    drawn: &Drawn,
    reference: Option<Uuid>,
    points: &[PointReading],
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    if !(2..=MOST_POINTS).contains(&points.len()) {
        return Err(PlaceError::Points(match points.len() {
            1 => "is one".to_owned(),
            n => format!("are {n}"),
        }));
    }
    let from: Vec<Point> = points
        .iter()
        .map(|p| Point::new(p.at[0], p.at[1]))
        .collect();
    let apart = bounds_of(from.iter().copied());
    if apart.width().hypot(apart.height()) < 10.0 {
        return Err(PlaceError::Points(
            "are points, but all at one place of the piece: choose them far apart".to_owned(),
        ));
    }
    let datum = side
        .side
        .datum_of(reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let to: Vec<Point> = points
        .iter()
        .map(|p| datum.drop_point(p.back_mm.mm(), p.drop_mm.mm()))
        .collect();
    let own_point = || {
        let at = |p: &Point| p.distance(drawn.point) < 0.5;
        drawn.keep_point.then(|| from.iter().position(at)).flatten()
    };
    let pinned = points.iter().position(|p| p.pinned).or_else(own_point);
    let fitted = rigid(&from, &to, pinned);
    let mut placed = settle(drawn, fitted, datum, side, unit)?;
    placed.fit = Some(told_fit(&from, &to, pinned, fitted, &datum, unit));
    Ok(placed)
}

pub(crate) fn told_fit(
    from: &[Point],
    to: &[Point],
    pinned: Option<usize>,
    fitted: Affine,
    datum: &Datum,
    unit: Unit,
) -> Fit {
    let misses: Vec<Miss> = (1..)
        .zip(from.iter().zip(to))
        .map(|(number, (p, q))| {
            let off = fitted * *p - *q;
            Miss {
                number,
                off: print(off.hypot(), unit),
                back: print(off.dot(datum.back), unit),
                down: print(off.dot(datum.down), unit),
            }
        })
        .collect();
    let worst = misses.iter().max_by(|a, b| a.off.mm.total_cmp(&b.off.mm));
    let (number, off) = worst.map_or((1, String::new()), |m| (m.number, m.off.text.clone()));
    let sentence = match (from, to, pinned) {
        ([a, b], [c, d], None) => format!(
            "Two points: what is left over is only that they are {} apart on the piece and {} on the body, shared by both. A third point would tell more.",
            print(a.distance(*b), unit).text,
            print(c.distance(*d), unit).text
        ),
        (_, _, Some(pin)) => format!(
            "Point {} fits exactly; the error runs away from it, {off} at point {number}.",
            pin + 1
        ),
        _ => format!(
            "Fitted to {} points, the error shared evenly; most is {off} at point {number}.",
            from.len()
        ),
    };
    Fit { misses, sentence }
}
