//! A place that mirrors the other side.

use kurbo::{Affine, Point};

use crate::art::drawn::Drawn;
use crate::ground::tape::Unit;
use crate::place::error::PlaceError;
use crate::place::placed::{MirrorFigures, Placed, height_in, settle};
use crate::place::rules::DownTo;
use crate::vehicle::measured::MeasuredSide;

pub(crate) fn by_mirror(
    drawn: &Drawn,
    figures: &MirrorFigures,
    reference: &str,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let own = side
        .side
        .references
        .iter()
        .find(|r| r.name == reference)
        .map(|r| r.id);
    let datum = side.side.datum_of(own).ok_or(PlaceError::ReferenceGone)?;
    let direction = side.side.direction();
    let turn = Affine::rotate(direction * (datum.back.y.asin() + figures.degrees.to_radians()));
    let middle = turn * Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
    let there = datum.at(figures.middle_back_mm, figures.middle_down_mm);
    settle(
        drawn,
        Affine::translate(there - middle) * turn,
        datum,
        side,
        unit,
    )
}
