//! A line laid wherever there is room.

use super::colours::fill;
use super::face::MarkSide;
use super::line::free;
use super::strip::Strip;
use crate::ground::mm::Mm;
use crate::marking::laying::{InTheWay, Laying, MarkError, MarkPlan, Order, by, why};

/// Everywhere that there is room: nearest the ends, then most film, then fewest strips, then fewest heads under them.
pub(super) fn best_filled(
    side: &MarkSide,
    laying: &Laying<'_>,
    worth: &[&(f64, Vec<InTheWay>)],
    in_band: bool,
    tried: [u32; 2],
) -> Result<(Order, MarkPlan), MarkError> {
    let stock = laying.stock;
    let shortest = stock
        .pattern
        .iter()
        .map(|r| r.length_mm.mm())
        .fold(f64::INFINITY, f64::min)
        .min(150.0);
    let best = worth
        .iter()
        .map(|(height, set)| {
            let blocked: Vec<(f64, f64)> = (laying.blocked(side, set).iter())
                .map(|b| (b.from_mm, b.to_mm))
                .collect();
            let mut balance = [0.0; 2];
            let strips: Vec<Strip> = free(side.ends_mm, &blocked, shortest)
                .iter()
                .map(|span| Strip {
                    width_mm: (2.0 * laying.half_mm()).into(),
                    split_mm: laying.split_mm.map(Mm::of),
                    ..fill(side, laying.rules, stock, *span, *height, &mut balance)
                })
                .collect();
            let film: f64 = strips.iter().map(Strip::length_mm).sum();
            let ends = strips.first().map_or(0.0, |s| s.start_mm.mm())
                - strips.last().map_or(0.0, Strip::end_mm);
            let under = laying.heads_under(side, &strips);
            // A colour that takes more than its share breaks a clause, which weighs before everything else.
            let most = laying.rules.get("colour_share").unwrap_or(1.0);
            let uneven = balance.iter().any(|mm| *mm > most * film + 1e-6);
            (strips, film, *height, (uneven, ends), under, set)
        })
        .filter(|(strips, ..)| !strips.is_empty())
        .min_by(|a, b| {
            (a.3.0.cmp(&b.3.0))
                .then(by(a.3.1, b.3.1))
                .then(by(b.1, a.1))
                .then(a.0.len().cmp(&b.0.len()))
                .then(a.4.cmp(&b.4))
        });
    let Some((strips, film_mm, centre_mm, _, heads_under, set)) = best else {
        return Err(MarkError::NoRoom(shortest));
    };
    let gaps: Vec<f64> = strips
        .windows(2)
        .map(|w| w[1].start_mm - w[0].end_mm())
        .collect();
    let largest = gaps.iter().copied().fold(0.0, f64::max);
    let mut reasons = vec![format!(
        "{:.0} % of the length: everywhere that there is room. Goals, in this order: nearest ends, most film, fewest strips, fewest rivets.",
        100.0 * film_mm / side.length_mm()
    )];
    reasons.extend(why(side, laying, set, largest, in_band));
    let ends =
        strips.first().map_or(0.0, |s| s.start_mm.mm()) - strips.last().map_or(0.0, Strip::end_mm);
    let order = vec![
        ends.round() as i64,
        -film_mm.round() as i64,
        strips.len() as i64,
    ];
    let plan = MarkPlan {
        set: laying.rules.set,
        centre_mm,
        in_band,
        film_mm,
        largest_gap_mm: largest,
        smallest_gap_mm: gaps.iter().copied().reduce(f64::min).unwrap_or(0.0),
        within_limit: largest <= laying.gap_limit_mm,
        heads_under,
        heads_edged: laying.heads_edged(side, &strips),
        heights: tried,
        reasons,
        strips,
        proven: true,
    };
    Ok(((!in_band, None, order), plan))
}
