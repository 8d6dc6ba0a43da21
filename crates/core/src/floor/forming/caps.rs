//! Curves, domes, hollows and heads: what bends two ways.

use super::ask::FormingAsk;
use super::place::{Forming, FormingPlace, percent, place};
use super::stretch::{Cap, arc_mm};
use crate::ground::tape::print;
use crate::place::landing::HeadState;
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::{Details, FeatureKind};
use crate::vehicle::measured::{Area, MeasuredSide};

/// A round head rises by this share of its width, where nobody has measured it (ours).
const HEAD_RISES: f64 = 0.25;
/// A dome or a hollow, as a cap over the shorter way across it.
fn capped(area: &Area, height_mm: f64, ask: &FormingAsk<'_>, inwards: bool) -> FormingPlace {
    let b = area.outline.bounds;
    let cap = Cap {
        radius_mm: b.width().min(b.height()) / 2.0,
        height_mm,
    };
    let (bare, over_top) = (cap.stretch(0.0), cap.along_arc());
    let warmed = cap.stretch(ask.band_mm);
    let (aim, never) = (ask.film.two_way_stretch, ask.never());
    let mut why = vec![
        format!(
            "As a cap {} across and {}: at least {} both ways at once, {} along an arc over its middle; this film is kept under {}.",
            ask.text(2.0 * cap.radius_mm),
            ask.text(height_mm),
            percent(bare),
            percent(over_top),
            percent(aim)
        ),
        "Taken as a piece of a ball over the shorter way across; the mean is the least that there can be.".into(),
    ];
    let (forming, line) = if ask.film.stretch <= 0.0 {
        (
            Forming::NotOnThis,
            format!("{} does not bend two ways: keep off it.", ask.film.name),
        )
    } else if bare.max(over_top) <= aim {
        (Forming::Press, pressed(inwards).to_owned())
    } else if warmed <= aim {
        (
            Forming::Warm,
            format!(
                "Warm it and {} round it, then lay it over.",
                ask.text(ask.band_mm)
            ),
        )
    } else if over_top <= never {
        (
            Forming::WarmAndHeat,
            format!(
                "Warm it and {} round it and lay it over; it must reach {} once it lies.",
                ask.text(ask.band_mm),
                ask.heat()
            ),
        )
    } else {
        let pieces = if over_top <= 2.0 * never { 2 } else { 3 };
        // The lap lies on the place itself: its shorter way across is all the room there is.
        why.extend(ask.lap_doubts(2.0 * cap.radius_mm));
        why.push(format!(
            "Its surface is {} more than the flat under it.",
            percent(cap.area_stretch())
        ));
        (
            Forming::TwoPieces,
            format!(
                "{pieces} pieces: the one at the back first, it relieves the stretch of the front{}.",
                ask.lap()
                    .map(|l| format!("; they lap by {}", ask.text(l)))
                    .unwrap_or_default()
            ),
        )
    };
    let reach = (inwards || forming == Forming::WarmAndHeat)
        && !matches!(forming, Forming::NotOnThis | Forming::TwoPieces);
    FormingPlace {
        both_ways: Some(over_top.max(bare)),
        must_reach: reach.then(|| {
            // Round its rim once.
            print(2.0 * (b.width() + b.height()), ask.unit)
        }),
        ..place(area, forming, line, why)
    }
}

fn pressed(inwards: bool) -> &'static str {
    if inwards {
        "Press its middle first, then outwards: bridged, it pulls out."
    } else {
        "Press it from its middle outwards."
    }
}

pub(super) fn curve(
    area: &Area,
    compound: bool,
    rise_mm: f64,
    ask: &FormingAsk<'_>,
) -> FormingPlace {
    if compound {
        return capped(area, rise_mm, ask, false);
    }
    let b = area.outline.bounds;
    let chord = b.width().min(b.height());
    let developed = arc_mm(chord, rise_mm);
    FormingPlace {
        developed: Some(print(developed, ask.unit)),
        straight: Some(0.0),
        ..place(
            area,
            Forming::Press,
            format!(
                "It bends one way: film lies on it without stretch, {} longer than the flat picture shows.",
                ask.text(developed - chord)
            ),
            Vec::new(),
        )
    }
}

pub(super) fn hollow(area: &Area, depth_mm: f64, ask: &FormingAsk<'_>) -> FormingPlace {
    capped(area, depth_mm, ask, true)
}

/// Heads under film, those of one width and one height together.
pub(super) fn heads(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    ask: &FormingAsk<'_>,
) -> Vec<FormingPlace> {
    let mut kinds: Vec<(f64, Option<f64>, u32)> = Vec::new();
    for column in &planned.landing.columns {
        let covered = column.heads.iter().filter(|h| h.state != HeadState::Clear);
        let count = covered.count() as u32;
        if count == 0 {
            continue;
        }
        let measured = side.columns.iter().find(|c| c.number == column.column);
        let high = measured.and_then(|c| match c.details {
            Some(Details::Head { height_mm }) => Some(height_mm.mm()),
            _ => None,
        });
        let known = kinds
            .iter_mut()
            .find(|(w, h, _)| (w - column.head_mm).abs() < 0.5 && *h == high);
        match known {
            Some((_, _, n)) => *n += count,
            None => kinds.push((column.head_mm, high, count)),
        }
    }
    kinds
        .into_iter()
        .map(|(wide, high, count)| head(wide, high, count, ask))
        .collect()
}

fn head(wide: f64, high: Option<f64>, count: u32, ask: &FormingAsk<'_>) -> FormingPlace {
    let cap = Cap {
        radius_mm: wide / 2.0,
        height_mm: high.unwrap_or(wide * HEAD_RISES),
    };
    let (bare, aim) = (cap.stretch(0.0), ask.film.two_way_stretch);
    let ring = cap.ring_mm(aim);
    let (forming, line) = if ask.film.stretch <= 0.0 {
        (
            Forming::NotOnThis,
            "Punch or cut round each head: this film does not form over it.".to_owned(),
        )
    } else if bare <= aim {
        (Forming::Press, "Each is pressed down as it is.".into())
    } else {
        let round = ring.map(|mm| ask.text(mm)).unwrap_or_default();
        (
            Forming::Warm,
            format!(
                "Leave {round} round the middle of each unpressed, prick, a short burst of heat, never above 200 \u{b0}F (93 \u{b0}C), and work it down."
            ),
        )
    };
    let across = ask.text(wide);
    let what = match high {
        Some(high) => format!("{across} across and {} high", ask.text(high)),
        None => format!("{across} across"),
    };
    let rises = match high {
        Some(_) => "Taken as a piece of a ball, as high as it was measured",
        None => "Taken to rise by a quarter of its width (ours)",
    };
    FormingPlace {
        name: match count {
            1 => format!("a head {what}"),
            n => format!("{n} heads {what}"),
        },
        kind: FeatureKind::Rivets,
        number: 0,
        forming,
        line,
        straight: None,
        warmed: None,
        both_ways: Some(cap.along_arc().max(bare)),
        developed: None,
        band: None,
        why: vec![format!(
            "{rises}: {} both ways at once on average, {} over its top; this film is kept under {}.",
            percent(bare),
            percent(cap.along_arc()),
            percent(aim)
        )],
        must_reach: None,
        outlines: Vec::new(),
    }
}
