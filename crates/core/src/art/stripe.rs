//! Stripes: one band or several, straight or tapered, parted at door gaps with the same margin at both ends of every part, and cut
//! out round what stays on the body.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::art::drawn::{Drawn, Part, StraightEdge};
use crate::ground::mm::{Mm, SignedMm};
use crate::ground::outline::{Shape, bounds_of};

/// Most bands of one stripe.
pub const MOST_BANDS: usize = 8;

/// Longest stripe, mm.
const LONGEST_MM: f64 = 30_480.0;

/// One band of a stripe.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Band {
    /// Gap to the band above, mm; of the first band, to the stripe's upper edge.
    pub gap_mm: SignedMm,
    /// Width at the front end, mm.
    pub front_width_mm: Mm,
    /// Width at the rear end, mm.
    pub rear_width_mm: Mm,
}

/// A stripe as it is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stripe {
    /// What it is called.
    pub name: String,
    /// Its bands from the top.
    pub bands: Vec<Band>,
    /// Colour of the film as `#rrggbb`.
    pub colour: String,
    /// Length where the rule for its place does not give one, mm.
    pub length_mm: Mm,
    /// Whether it is parted at door gaps.
    #[serde(default)]
    pub parted: bool,
    /// Margin on each side of a door gap at which it is parted, mm.
    #[serde(default)]
    pub margin_mm: Mm,
    /// How far it keeps off what stays on the body, mm; a feature's own clearance holds where it is more.
    #[serde(default)]
    pub clearance_mm: Mm,
    /// Extra film at each end, to go round the edge and be trimmed inside, mm.
    #[serde(default)]
    pub wrap_mm: Mm,
}

/// A stripe that cannot be made. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum StripeError {
    /// No band.
    #[error("The stripe has no band. Give it at least one.")]
    NoBand,
    /// Too many bands.
    #[error(
        "A stripe may have {MOST_BANDS} bands; this one has {0}. Lay the others out as a second stripe."
    )]
    TooManyBands(usize),
    /// A width or gap that cannot be cut.
    #[error(
        "Band {0} must be between 1 mm (1/16 in) and 3000 mm (9' 10) wide at both ends. Give another width."
    )]
    Width(usize),
    /// Bands run into each other.
    #[error("The gap above band {0} must be between 0 and 3000 mm (9' 10). Give another gap.")]
    Gap(usize),
    /// A length that cannot be laid.
    #[error(
        "The stripe would be {0:.0} mm long. Give it a length between 10 mm (3/8 in) and 100 ft, or smaller gaps at its ends."
    )]
    Length(f64),
    /// Margins, clearances or wraps out of range.
    #[error("{0} must be between 0 and 300 mm (11 13/16 in).")]
    Allowance(&'static str),
    /// The colour is not one.
    #[error("The colour must be written as # and six figures, such as #14524d.")]
    Colour,
    /// Nothing of it is left.
    #[error(
        "Nothing of the stripe is left between what it keeps off. Move it or give it less clearance."
    )]
    NothingLeft,
}

impl Stripe {
    /// A plain stripe of one band, as wide at its rear as at its front, mm; its length is left to the rule for its place.
    pub fn of_width(name: &str, colour: &str, width_mm: f64) -> Stripe {
        Stripe {
            name: name.to_owned(),
            bands: vec![Band {
                gap_mm: SignedMm::ZERO,
                front_width_mm: width_mm.into(),
                rear_width_mm: width_mm.into(),
            }],
            colour: colour.to_owned(),
            length_mm: 1000.0.into(),
            parted: false,
            margin_mm: Mm::ZERO,
            clearance_mm: Mm::ZERO,
            wrap_mm: Mm::ZERO,
        }
    }

    fn check(&self, length_mm: f64) -> Result<(), StripeError> {
        if self.bands.is_empty() {
            return Err(StripeError::NoBand);
        }
        if self.bands.len() > MOST_BANDS {
            return Err(StripeError::TooManyBands(self.bands.len()));
        }
        for (n, band) in (1..).zip(&self.bands) {
            let fits = |mm: f64| (1.0..=3000.0).contains(&mm);
            if !fits(band.front_width_mm.mm()) || !fits(band.rear_width_mm.mm()) {
                return Err(StripeError::Width(n));
            }
            if !(0.0..=3000.0).contains(&band.gap_mm) {
                return Err(StripeError::Gap(n));
            }
        }
        for (what, mm) in [
            ("The margin at a door gap", self.margin_mm),
            ("The clearance", self.clearance_mm),
            ("The film to wrap round an end", self.wrap_mm),
        ] {
            if !(0.0..=300.0).contains(&mm) {
                return Err(StripeError::Allowance(what));
            }
        }
        if !crate::ground::colour::is_colour(&self.colour) {
            return Err(StripeError::Colour);
        }
        if (10.0..=LONGEST_MM).contains(&length_mm) {
            Ok(())
        } else {
            Err(StripeError::Length(length_mm))
        }
    }

    /// Height of the whole stripe at its front end and at its rear end, mm.
    pub fn height_mm(&self) -> (f64, f64) {
        self.bands.iter().fold((0.0, 0.0), |(front, rear), b| {
            (
                front + b.gap_mm + b.front_width_mm,
                rear + b.gap_mm + b.rear_width_mm,
            )
        })
    }
}

/// Draws a stripe of a length, without cut-outs: they are made once it has its place. `front_left` tells whether the front lies to
/// the picture's left. The film to wrap round is beyond the length at both ends.
///
/// Errors: widths, gaps or lengths that cannot be cut.
///
/// ```
/// # use windrift_core::art::stripe::{Stripe, draw};
/// let stripe = Stripe::of_width("swage", "#b3261e", 50.0);
/// let drawn = draw(&stripe, 2000.0, true).unwrap();
/// assert_eq!((drawn.bounds.width(), drawn.bounds.height()), (2000.0, 50.0));
/// // A stripe without a band is none.
/// let none = Stripe { bands: Vec::new(), ..stripe };
/// assert!(draw(&none, 2000.0, true).unwrap_err().to_string().contains("no band"));
/// ```
pub fn draw(stripe: &Stripe, length_mm: f64, front_left: bool) -> Result<Drawn, StripeError> {
    stripe.check(length_mm)?;
    let ends = stripe.height_mm();
    let (left, right) = if front_left { ends } else { (ends.1, ends.0) };
    // A tapered stripe runs to both sides of its middle line, so that its middle follows the datum.
    let tallest = left.max(right);
    let (mut at_left, mut at_right) = ((tallest - left) / 2.0, (tallest - right) / 2.0);
    let mut parts = Vec::new();
    let mut straight = Vec::new();
    let total = length_mm + 2.0 * stripe.wrap_mm;
    for (number, band) in (1..).zip(&stripe.bands) {
        let (width_left, width_right) = if front_left {
            (band.front_width_mm, band.rear_width_mm)
        } else {
            (band.rear_width_mm, band.front_width_mm)
        };
        at_left += band.gap_mm;
        at_right += band.gap_mm;
        let corners = [
            Point::new(0.0, at_left),
            Point::new(total, at_right),
            Point::new(total, at_right + width_right),
            Point::new(0.0, at_left + width_left),
        ];
        let edge = |a: usize, b: usize| StraightEdge {
            from: corners[a],
            to: corners[b],
        };
        straight.push((parts.len(), edge(0, 1)));
        straight.push((parts.len(), edge(2, 3)));
        let label = if stripe.bands.len() == 1 {
            "stripe".to_owned()
        } else {
            format!("band {number}")
        };
        parts.push(Part::new(label, vec![Shape::new(vec![corners.to_vec()])]));
        at_left += width_left;
        at_right += width_right;
    }
    let mut drawn = Drawn::plain(parts, straight, tallest, tallest, &stripe.colour);
    if let Some((_, upper)) = drawn.straight.first() {
        let at = |x: f64| upper.from.lerp(upper.to, x / total);
        drawn.upper_corners = Some([at(stripe.wrap_mm.mm()), at(total - stripe.wrap_mm.mm())]);
    }
    drawn.nominal = Rect::new(
        stripe.wrap_mm.mm(),
        drawn.bounds.y0,
        drawn.bounds.x1 - stripe.wrap_mm,
        drawn.bounds.y1,
    );
    Ok(drawn)
}

/// The four corners of a section in the picture frame.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Corners {
    /// Upper and lower corner of the end that lies left in the picture.
    pub left: [Point; 2],
    /// Upper and lower corner of the other end.
    pub right: [Point; 2],
}

impl Corners {
    /// The upper left corner of the box round them: where the section's own frame begins.
    pub fn origin(&self) -> Point {
        let all = [self.left[0], self.left[1], self.right[0], self.right[1]];
        bounds_of(all).origin()
    }
}

/// Draws a section between four corners, as they lie. Its bands keep their shares of the stripe's whole width at either end.
///
/// Errors: bands that cannot be cut.
pub fn draw_between(
    stripe: &Stripe,
    corners: &Corners,
    front_left: bool,
) -> Result<Drawn, StripeError> {
    let length = corners.left[0]
        .distance(corners.right[0])
        .max(corners.left[1].distance(corners.right[1]));
    stripe.check(length)?;
    let origin = corners.origin().to_vec2();
    let (front, rear) = stripe.height_mm();
    let mut at = (0.0, 0.0);
    let mut parts = Vec::new();
    let mut straight = Vec::new();
    for (number, band) in (1..).zip(&stripe.bands) {
        at.0 += band.gap_mm.mm();
        at.1 += band.gap_mm.mm();
        let upper = (at.0 / front, at.1 / rear);
        at.0 += band.front_width_mm.mm();
        at.1 += band.rear_width_mm.mm();
        let lower = (at.0 / front, at.1 / rear);
        let on = |end: [Point; 2], share: f64| end[0].lerp(end[1], share) - origin;
        let (left, right) = if front_left {
            ((upper.0, lower.0), (upper.1, lower.1))
        } else {
            ((upper.1, lower.1), (upper.0, lower.0))
        };
        let own = [
            on(corners.left, left.0),
            on(corners.right, right.0),
            on(corners.right, right.1),
            on(corners.left, left.1),
        ];
        let widths = [own[0].distance(own[3]), own[1].distance(own[2])];
        if !widths.iter().all(|w| (1.0..=3000.0).contains(w)) {
            return Err(StripeError::Width(number));
        }
        for (a, b) in [(0, 1), (2, 3)] {
            straight.push((
                parts.len(),
                StraightEdge {
                    from: own[a],
                    to: own[b],
                },
            ));
        }
        let label = if stripe.bands.len() == 1 {
            "stripe".to_owned()
        } else {
            format!("band {number}")
        };
        parts.push(Part::new(label, vec![Shape::new(vec![own.to_vec()])]));
    }
    let high = parts
        .iter()
        .map(|p| p.bounds)
        .reduce(|a, b| a.union(b))
        .unwrap_or_default()
        .height();
    let mut drawn = Drawn::plain(parts, straight, high, high, &stripe.colour);
    drawn.upper_corners = drawn
        .straight
        .first()
        .map(|(_, upper)| [upper.from, upper.to]);
    Ok(drawn)
}

pub(crate) fn long_edges(shape: &Shape) -> impl Iterator<Item = StraightEdge> + '_ {
    shape
        .edges()
        .filter(|(a, b)| (b.x - a.x).abs() > 20.0 && (b.x - a.x).abs() > 4.0 * (b.y - a.y).abs())
        .map(|(from, to)| StraightEdge { from, to })
}

/// One line over several body parts: where it lies at both ends of each part.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RunPart {
    /// At the part's front end, mm from its reference.
    pub front_mm: f64,
    /// At its rear end, mm.
    pub rear_mm: f64,
}

/// Runs a line over body parts of these lengths, front to rear, with these gaps between them: straight on the whole run from
/// `first_mm` at its front to `last_mm` at its rear, so that neighbouring ends lie on one line.
///
/// Shapes: one more length than gaps. Missing gaps count as 0.
pub fn run_over(lengths_mm: &[f64], gaps_mm: &[f64], first_mm: f64, last_mm: f64) -> Vec<RunPart> {
    let total: f64 = lengths_mm.iter().sum::<f64>()
        + gaps_mm
            .iter()
            .take(lengths_mm.len().saturating_sub(1))
            .sum::<f64>();
    let at =
        |run: f64| first_mm + (last_mm - first_mm) * if total > 0.0 { run / total } else { 0.0 };
    let mut run = 0.0;
    lengths_mm
        .iter()
        .enumerate()
        .map(|(n, length)| {
            let part = RunPart {
                front_mm: at(run),
                rear_mm: at(run + length),
            };
            run += length + gaps_mm.get(n).copied().unwrap_or(0.0);
            part
        })
        .collect()
}
