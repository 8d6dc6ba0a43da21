//! What the tape reads at a piece.

use kurbo::Point;
use serde::{Deserialize, Serialize};

use crate::art::Art;
use crate::art::drawn::Drawn;
use crate::ground::tape::{ChainMark, Length, Unit, chain, print};
use crate::place::edges::EdgeRef;
use crate::place::flats::Flats;
use crate::place::placed::Placed;
use crate::place::rules::{Along, LetterEnd, PlaceRule};
use crate::plan::centre_run::{Across, across};
use crate::plan::piece::Piece;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::EdgeNames;

/// The readings of one piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Readings {
    /// The two flats and what the tape must read at them.
    pub flats: Flats,
    /// Datum to the cap line at the ruled end.
    pub cap_line: Length,
    /// Height of a capital.
    pub capital_height: Length,
    /// Film from end to end.
    pub width: Length,
    /// Front edge to the first letter, along the datum.
    pub first_letter: Length,
    /// Front edge to the last letter, along the datum.
    pub last_letter: Length,
    /// The chain of running distances from the front edge past this piece to the rear edge; its gaps close on paper.
    pub chain: Vec<ChainMark>,
    /// What a tape across the vehicle reads at both ends of a stripe that runs along it.
    #[serde(default)]
    pub across: Vec<Across>,
    /// Level less parallel to the datum over the piece's width: how far one end would differ if it were hung the other way.
    pub level_difference: Length,
}

pub(crate) fn readings(
    piece: &Piece,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    names: &EdgeNames,
    flats: Flats,
    unit: Unit,
) -> Readings {
    let (near, far) = placed.back_mm;
    let datum = &placed.datum;
    let (first, last) = if side.side.direction() > 0.0 {
        (near, far)
    } else {
        (far, near)
    };
    let [zero, end] = names.ends.each_ref().map(|e| format!("its {e} end"));
    let ends = match piece.art {
        Art::Lettering(_) => ["first letter".to_owned(), "last letter".to_owned()],
        _ if side.side.direction() > 0.0 => [zero, end],
        _ => [end, zero],
    };
    let mut marks = vec![
        (names.zero.clone(), 0.0),
        (ends[0].clone(), first),
        (ends[1].clone(), last),
        // Where the rules see it: a side may end before its reference does.
        (
            names.far.clone(),
            EdgeRef::RearEdge
                .back_mm(side, datum)
                .unwrap_or(datum.length_mm),
        ),
    ];
    // Hardware that stands beside the piece, at the piece's height, belongs in its chain.
    let (top, foot) = placed
        .hull
        .iter()
        .map(|p| p.y)
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), y| {
            (a.min(y), b.max(y))
        });
    for hardware in side.hardware() {
        let bounds = hardware.outline.bounds;
        if bounds.y1 < top || bounds.y0 > foot {
            continue;
        }
        let at = |x: f64| datum.read(Point::new(x, bounds.center().y)).0;
        let (a, b) = (
            at(bounds.x0).min(at(bounds.x1)),
            at(bounds.x0).max(at(bounds.x1)),
        );
        if b <= near || a >= far {
            marks.push((format!("{}, {}", hardware.name, names.ends[0]), a));
            marks.push((format!("{}, {}", hardware.name, names.ends[1]), b));
        }
    }
    let at_ruled_end = match &piece.place {
        PlaceRule::Rules(rules) => match rules.along {
            Along::FromFront {
                to: LetterEnd::LastLetter,
                ..
            } => drawn.nominal.x1,
            Along::FromFront { .. } => drawn.nominal.x0,
            _ => drawn.nominal.center().x,
        },
        _ => drawn.nominal.center().x,
    };
    let upper = if drawn.has_letters {
        0.0
    } else {
        drawn.nominal.y0
    };
    let cap_line = datum
        .read(placed.to_picture * Point::new(at_ruled_end, upper))
        .1;
    // What one end would differ by if it were hung level instead of as it is, or along the datum instead of level.
    let slope = datum.back.y / datum.back.x.abs();
    let turned = placed.degrees(side.side.direction());
    let level = (turned.to_radians().tan() + slope).abs() < 1e-6 && slope != 0.0;
    let level_difference = if level {
        -slope * (far - near)
    } else {
        slope * (far - near)
    };
    Readings {
        cap_line: print(cap_line, unit),
        capital_height: print(drawn.capital_height_mm, unit),
        width: print(drawn.nominal.width(), unit),
        first_letter: print(first, unit),
        last_letter: print(last, unit),
        chain: chain(marks, unit),
        across: across(piece, drawn, placed, side, names, unit),
        level_difference: print(level_difference, unit),
        flats,
    }
}

/// A figure that stands in the picture and can be typed over.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "figure", rename_all = "snake_case")]
pub enum TapeFigure {
    /// What the tape reads at the front flat.
    FrontFlat,
    /// What it reads at the rear flat.
    RearFlat,
    /// A gap of the chain, by its number from the zero of the tape, from 1.
    Gap {
        /// Its number.
        number: usize,
    },
}

/// How far a piece moves, back along its reference and down from it in mm, so that a figure of its readings becomes `mm`. Nothing where
/// no move changes it: a gap that does not end at the piece.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{plan_side, around::JobAround, piece::Piece, readings::{TapeFigure, move_to_read}};
/// # use windrift_core::vehicle::{body::Body, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let plan = plan_side(&side, &[], &[(Default::default(), piece)], &JobAround::default(), &WorkSettings::default(), Unit::InchSixteenth).unwrap();
/// let readings = &plan.pieces[0].readings;
/// // It reads 24 at the front flat and 18 before the first letter; typed over with 25 and 20.
/// let (back, down) = move_to_read(readings, TapeFigure::FrontFlat, 635.0).unwrap();
/// assert!(back == 0.0 && (down - 25.4).abs() < 1e-9);
/// let (back, _) = move_to_read(readings, TapeFigure::Gap { number: 1 }, 508.0).unwrap();
/// assert!((back - 50.8).abs() < 1e-9);
/// // The letters themselves are not moved by typing how long they are.
/// assert_eq!(move_to_read(readings, TapeFigure::Gap { number: 2 }, 508.0), None);
/// ```
pub fn move_to_read(readings: &Readings, figure: TapeFigure, mm: f64) -> Option<(f64, f64)> {
    match figure {
        TapeFigure::FrontFlat => Some((0.0, mm - readings.flats.front.wanted.mm)),
        TapeFigure::RearFlat => Some((0.0, mm - readings.flats.rear.wanted.mm)),
        TapeFigure::Gap { number } => {
            let before = readings.chain.get(number.checked_sub(1)?)?;
            let mark = readings.chain.get(number)?;
            let ends = [readings.first_letter.mm, readings.last_letter.mm];
            let (near, far) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
            let by = mm - mark.gap.mm;
            if mark.running.mm == near {
                Some((by, 0.0))
            } else if before.running.mm == far {
                Some((-by, 0.0))
            } else {
                None
            }
        }
    }
}
