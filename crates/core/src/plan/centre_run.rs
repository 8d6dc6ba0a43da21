//! Stripes along the vehicle's centreline over hood, roof and tail, as one line.
//!
//! *Along* is along the vehicle on every part, whichever way its tape runs. A pair is one piece of two bands, so that its middle is the
//! centreline and the same gap is left to both sides.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::art::Art;
use crate::art::drawn::Drawn;
use crate::art::stripe::{Band, Stripe};
use crate::ground::outline::Shape;
use crate::ground::tape::{Length, Unit, print};
use crate::place::edges::EdgeRef;
use crate::place::placed::Placed;
use crate::place::rules::{Along, Angle, Down, DownTo, PlaceRule, Rules};
use crate::plan::piece::Piece;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::Side;
use crate::vehicle::side::words::{EdgeNames, Facing, FrontAt};

/// A part that has no centreline. Says what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum CentreError {
    /// It does not face the sky.
    #[error(
        "The {0} has no centreline: it does not face the sky. Take hood, roof, tail or deck, or lay the line by its distance from a rail."
    )]
    NotAbove(String),
    /// The margins leave nothing.
    #[error("The margins leave nothing of the stripe on the {0}. Make them smaller.")]
    NothingLeft(String),
}

/// Where an edge is bowed a reading nearer to it than this says nothing, mm.
const LEAST_BESIDE_MM: f64 = 25.4;

/// A body part along the centreline: how long it is there, and where the middle of that lies, mm in the picture.
struct Part {
    long_mm: f64,
    middle: Point,
}

fn part(side: &Side, name: &str) -> Result<Part, CentreError> {
    let shape = side.outline();
    let middle = shape.bounds.center();
    if side.facing != Facing::Up {
        return Err(CentreError::NotAbove(name.to_owned()));
    }
    Ok(match side.front {
        FrontAt::Top | FrontAt::Foot => {
            let (top, foot) = shape
                .span_at(middle.x)
                .unwrap_or((shape.bounds.y0, shape.bounds.y1));
            Part {
                long_mm: foot - top,
                middle: Point::new(middle.x, (top + foot) / 2.0),
            }
        }
        _ => {
            let (from, to) =
                level_span(&shape, middle.y).unwrap_or((shape.bounds.x0, shape.bounds.x1));
            Part {
                long_mm: to - from,
                middle: Point::new((from + to) / 2.0, middle.y),
            }
        }
    })
}

/// From where to where a level line crosses an outline.
fn level_span(shape: &Shape, y: f64) -> Option<(f64, f64)> {
    let at = shape.edges().filter_map(|(a, b)| {
        let crosses = (a.y <= y) != (b.y <= y);
        crosses.then(|| a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y))
    });
    at.fold(None, |span, x| {
        Some(span.map_or((x, x), |(low, high): (f64, f64)| (low.min(x), high.max(x))))
    })
}

/// One stripe, or a pair as bands of one, along the centreline over parts from front to rear (each with its name), with these gaps
/// between them, `margin_mm` in from both ends of every part. The bands' widths are those at the very front and the very rear; between
/// them the taper is even over the whole run, gaps included.
///
/// Errors: a part that does not face the sky; margins that leave nothing.
///
/// ```
/// # use windrift_core::art::{Art, stripe::Stripe};
/// # use windrift_core::plan::centre_run::along_centre;
/// # use windrift_core::vehicle::{body::Body, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 1400.0.into(), height_mm: 1000.0.into(), fall_mm: 0.0.into() };
/// let [hood, tail] = [SideKind::Hood, SideKind::Tail].map(|kind| Side::new(kind, body.clone(), Surface::default()));
/// let mut stripe = Stripe::of_width("stripe", "#8c1d18", 200.0);
/// stripe.bands[0].rear_width_mm = 100.0.into();
/// let laid = along_centre(&stripe, &[(&hood, "hood"), (&tail, "tail")], &[0.0], 0.0).unwrap();
/// // Half of the taper lies behind the hood's rear edge.
/// let Art::Stripe(on_hood) = &laid[0].art else { panic!() };
/// assert_eq!((on_hood.length_mm.mm(), on_hood.bands[0].rear_width_mm.mm()), (1000.0, 150.0));
/// ```
pub fn along_centre(
    stripe: &Stripe,
    sides: &[(&Side, &str)],
    gaps_mm: &[f64],
    margin_mm: f64,
) -> Result<Vec<Piece>, CentreError> {
    let parts = sides
        .iter()
        .map(|(side, name)| part(side, name))
        .collect::<Result<Vec<_>, _>>()?;
    let gap = |n: usize| gaps_mm.get(n).copied().unwrap_or(0.0);
    let between = (0..parts.len().saturating_sub(1)).map(gap).sum::<f64>();
    let total = parts.iter().map(|p| p.long_mm).sum::<f64>() + between;
    let mut run = 0.0;
    let mut pieces = Vec::new();
    for (n, ((side, name), part)) in sides.iter().zip(&parts).enumerate() {
        let length = part.long_mm - 2.0 * margin_mm;
        if length < 10.0 {
            return Err(CentreError::NothingLeft((*name).to_owned()));
        }
        let width = |band: &Band, at: f64| {
            band.front_width_mm.mm() + (band.rear_width_mm - band.front_width_mm) * (at / total)
        };
        let (from, to) = (run + margin_mm, run + part.long_mm - margin_mm);
        let bands = stripe.bands.iter().map(|band| Band {
            front_width_mm: width(band, from).into(),
            rear_width_mm: width(band, to).into(),
            ..*band
        });
        let art = Stripe {
            bands: bands.collect(),
            length_mm: length.into(),
            ..stripe.clone()
        };
        let (_, down) = side.datum().read(part.middle);
        let rules = Rules {
            reference: None,
            along: Along::Centred {
                from: EdgeRef::FrontEdge,
                to: EdgeRef::RearEdge,
            },
            down: Down::FromDatum {
                distance_mm: down.max(0.0).into(),
                to: DownTo::Middle,
            },
            // The stripe's own front end goes to the vehicle's front.
            angle: match side.front {
                FrontAt::Top => Angle::Degrees { degrees: 90.0 },
                FrontAt::Foot => Angle::Degrees { degrees: -90.0 },
                _ => Angle::AlongDatum,
            },
        };
        pieces.push(Piece {
            group: Some(stripe.name.clone()),
            ..Piece::new(Art::Stripe(art), PlaceRule::Rules(rules))
        });
        run += part.long_mm + gap(n);
    }
    Ok(pieces)
}

/// How a stripe along the vehicle lies between the edges beside it, at one of its ends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Across {
    /// Which end: `front`, `rear`.
    pub end: String,
    /// How far in from that end the tape is held.
    pub in_from_end: Length,
    /// The edge on the picture's left, or above, and the clear distance to it.
    pub left: (String, Length),
    /// Width of all of it there.
    pub width: Length,
    /// The edge on the other side and the clear distance to it.
    pub right: (String, Length),
}

/// What a tape held across the vehicle reads at both ends of a stripe that runs along it: the same gap left and right is proven by it.
/// Nothing for any other piece.
pub fn across(
    piece: &Piece,
    drawn: &Drawn,
    placed: &Placed,
    side: &MeasuredSide,
    names: &EdgeNames,
    unit: Unit,
) -> Vec<Across> {
    let Art::Stripe(stripe) = &piece.art else {
        return Vec::new();
    };
    if side.side.facing != Facing::Up {
        return Vec::new();
    }
    // Where the tape of the part runs across the vehicle, what runs along it stands square to that.
    let across_tape = matches!(side.side.front, FrontAt::Top | FrontAt::Foot);
    let turned = placed.degrees(side.side.direction()).abs();
    let off = if across_tape { turned - 90.0 } else { turned };
    if off.abs() >= 20.0 {
        return Vec::new();
    }
    let names = if across_tape {
        (&names.zero, &names.far)
    } else {
        (&names.upper, &names.lower)
    };
    let front_left = side.side.direction() > 0.0;
    let (front, rear) = stripe.height_mm();
    let long = drawn.nominal.width();
    let middle = (drawn.bounds.y0 + drawn.bounds.y1) / 2.0;
    // At the very end a bowed edge and round corners leave nothing to hold a tape to: further in, as far as it takes.
    let read = |end: &str, from_front: f64, in_mm: f64| -> Option<Across> {
        let share = from_front / long;
        let high = front + (rear - front) * share;
        let x = if front_left {
            drawn.nominal.x0 + from_front
        } else {
            drawn.nominal.x1 - from_front
        };
        let [a, b] =
            [-0.5, 0.5].map(|half| placed.to_picture * Point::new(x, middle + half * high));
        let film = Rect::from_points(a, b);
        let (span, own) = if across_tape {
            (
                level_span(&side.outline, film.center().y)?,
                (film.x0, film.x1),
            )
        } else {
            (side.outline.span_at(film.center().x)?, (film.y0, film.y1))
        };
        let (first, second) = (own.0 - span.0, span.1 - own.1);
        (first > LEAST_BESIDE_MM && second > LEAST_BESIDE_MM).then(|| Across {
            end: end.to_owned(),
            in_from_end: print(in_mm, unit),
            left: (names.0.clone(), print(first, unit)),
            width: print(own.1 - own.0, unit),
            right: (names.1.clone(), print(second, unit)),
        })
    };
    let steps = || (15..=40).map(|n| long * f64::from(n) / 100.0);
    [
        steps().find_map(|mm| read("front", mm, mm)),
        steps().find_map(|mm| read("rear", long - mm, mm)),
    ]
    .into_iter()
    .flatten()
    .collect()
}
