//! Marking strips of an earlier job as the old film of this one.

use uuid::Uuid;

use crate::floor::strip::old::{ColdCorner, Faced, OldGraphic, OldKind};
use crate::ground::mm::Mm;
use crate::marking::Strip;

/// A marking strip of an earlier job as old film on a side of this one: where it lies by the tape, from how high the rail stands above the ground.
/// What nobody recorded then, how the side faces the sun and how the strip behaves at a cold corner, is left to be said.
///
/// `number` is the strip's own, `piece` a key that it keeps, `on` the side of this job, `age_years` how long it has been on.
///
/// ```
/// use windrift_core::marking::{ColourRun, Element, Strip, TapeColour};
/// use windrift_core::shop::old_strips::strip_as_old;
/// # let run = |colour| ColourRun { colour, length_mm: 304.8.into() };
/// let strip = Strip { start_mm: 100.0.into(), centre_mm: 1000.0.into(), width_mm: 50.8.into(), runs: vec![run(TapeColour::Red), run(TapeColour::White)],
///     upright: false, split_mm: None, reflectors: None, element: Element::Line };
/// let old = strip_as_old(3, &strip, 3300.0.into(), uuid::Uuid::from_u128(3), uuid::Uuid::nil(), 4.0);
/// // 3300 above the ground less the upper edge at 1025.4; two modules of 12 in long.
/// assert_eq!((old.drop_mm.mm(), old.width_mm.mm()), (2274.6, 609.6));
/// assert!((old.height_mm.mm() - 50.8).abs() < 1e-9);
/// ```
pub fn strip_as_old(
    number: u32,
    strip: &Strip,
    ground_mm: Mm,
    piece: Uuid,
    on: Uuid,
    age_years: f64,
) -> OldGraphic {
    let all = strip.rect();
    let (low, high) = all.height_mm;
    OldGraphic {
        side: on,
        piece: Some(piece),
        name: format!("marking strip {number}"),
        kind: OldKind::PrismaticStrip,
        age_years,
        faced: Faced::Shade,
        under: None,
        lies_on: None,
        unknown_paint: false,
        cold_corner: ColdCorner::NotTried,
        back_mm: all.back_mm.0.into(),
        drop_mm: (ground_mm.mm() - high).into(),
        width_mm: (all.back_mm.1 - all.back_mm.0).into(),
        height_mm: (high - low).into(),
        letters: None,
        own_minutes: None,
    }
}
