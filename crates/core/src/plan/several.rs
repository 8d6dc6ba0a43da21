//! One stripe over several body parts, laid out in one go.

use crate::art::Art;
use crate::art::stripe::{Stripe, run_over};
use crate::place::edges::EdgeRef;
use crate::place::rules::{Along, Angle, Down, DownTo, PlaceRule, Rules};
use crate::plan::piece::Piece;

/// One stripe laid as one straight line over several body parts: a piece for each, in the order of their lengths along their datums
/// (mm), with the gaps between the parts, from the first part's height at its front to the last one's at its rear. Each keeps `end_gap`
/// to both edges of its part; the gap shortens the line, its ends stay on it.
///
/// ```
/// # use windrift_core::{art::stripe::Stripe, plan::several::stripe_over, place::rules::*};
/// let stripe = Stripe::of_width("swage", "#b3261e", 50.0);
/// let laid = stripe_over(&stripe, &[1000.0, 1000.0], &[10.0], (400.0, 601.0), 5.0);
/// let PlaceRule::Rules(first) = &laid[0].place else { panic!() };
/// // 201 mm down over 2010 mm: a tenth; the first part begins 5 mm in.
/// let Down::FromDatum { distance_mm, .. } = first.down else { panic!() };
/// assert!((distance_mm - 400.5).abs() < 1e-9);
/// ```
pub fn stripe_over(
    stripe: &Stripe,
    lengths_mm: &[f64],
    gaps_mm: &[f64],
    drops_mm: (f64, f64),
    end_gap_mm: f64,
) -> Vec<Piece> {
    let laid = run_over(lengths_mm, gaps_mm, drops_mm.0, drops_mm.1);
    let parts = lengths_mm.iter().zip(laid);
    parts
        .map(|(length, at)| {
            let share = if *length > 0.0 {
                end_gap_mm / length
            } else {
                0.0
            };
            let in_from_the_edge = (at.rear_mm - at.front_mm) * share;
            Piece::new(
                Art::Stripe(stripe.clone()),
                PlaceRule::Rules(Rules {
                    reference: None,
                    along: Along::SameGap {
                        from: EdgeRef::FrontEdge,
                        to: EdgeRef::RearEdge,
                        gap_mm: end_gap_mm.into(),
                    },
                    down: Down::FromDatum {
                        distance_mm: (at.front_mm + in_from_the_edge).into(),
                        to: DownTo::Middle,
                    },
                    angle: Angle::ToDrop {
                        rear_drop_mm: (at.rear_mm - in_from_the_edge).into(),
                    },
                }),
            )
        })
        .collect()
}
