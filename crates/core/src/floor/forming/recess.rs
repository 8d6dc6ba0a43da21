//! Recesses: pressed, fed, warmed, or another way.

use kurbo::Rect;

use super::ask::FormingAsk;
use super::place::{Forming, FormingPlace, percent, place};
use super::stretch::RecessShape;
use crate::ground::settings::FormingSchool;
use crate::ground::tape::print;
use crate::vehicle::feature::kind::OpenSide;
use crate::vehicle::measured::Area;

/// A place that is larger than this both ways is made in two pieces rather than inlaid, mm (ours).
const INLAY_MM: f64 = 300.0;

/// What is done where film may not be stretched so far.
fn otherwise(area: &Area, ask: &FormingAsk<'_>) -> (Forming, String) {
    let b = area.outline.bounds;
    if ask.film.layered_reflective {
        return (
            Forming::ReliefCut,
            "Relief cut, shut in: poke a hole inside and cut on the far side of it, or run it in a J into the waste, so that it does not run into the film.".into(),
        );
    }
    if b.width().min(b.height()) > INLAY_MM {
        let lap = ask.lap().map(|l| ask.text(l));
        return (
            Forming::TwoPieces,
            format!(
                "Two pieces: one inside, one outside, the lap{} on the flat beside its rim.",
                lap.map(|l| format!(" of {l}")).unwrap_or_default()
            ),
        );
    }
    (
        Forming::Inlay,
        "Inlay: a piece of its own for the inside, laid first; the film outside is cut at the rim."
            .into(),
    )
}

pub(super) fn recess(
    area: &Area,
    (depth_mm, wall_degrees, open): (f64, f64, OpenSide),
    reach: Rect,
    ask: &FormingAsk<'_>,
) -> FormingPlace {
    let b = area.outline.bounds;
    let (mouth, long) = (b.width().min(b.height()), b.width().max(b.height()));
    let shape = match RecessShape::new(mouth, depth_mm, wall_degrees) {
        Ok(shape) => shape,
        Err(error) => {
            return place(
                area,
                Forming::NotOnThis,
                format!("{} cannot be as it is measured: {error}.", area.name),
                Vec::new(),
            );
        }
    };
    // No more film gives than there is between the rim and the film's edge.
    let room = [
        b.x0 - reach.x0,
        reach.x1 - b.x1,
        b.y0 - reach.y0,
        reach.y1 - b.y1,
    ]
    .into_iter()
    .filter(|mm| *mm > 0.0)
    .fold(f64::INFINITY, f64::min);
    let band = ask.band_mm.min(room);
    let (aim, aim_both, never) = (ask.film.stretch, ask.film.two_way_stretch, ask.never());
    let straight = shape.stretch(0.0);
    let (warmed, corner) = (shape.stretch(band), shape.corner_stretch(band));
    let mut why = vec![format!(
        "{} of film go down, across and up over a mouth of {}: {} where it is pushed straight in.",
        ask.text(shape.developed_mm()),
        ask.text(mouth),
        percent(straight)
    )];
    let shut_in = ask.open(open).is_none();
    if shut_in {
        why.push(format!(
            "With {} warm on each side {} one way, and {} both ways at once in its corners; this film is kept under {} and {}.",
            ask.text(band),
            percent(warmed),
            percent(corner),
            percent(aim),
            percent(aim_both)
        ));
        if warmed > aim && ask.film.printable {
            why.push(format!("Past {} a print may whiten.", percent(aim)));
        }
        if let Some(needed) = shape.band_mm(aim).filter(|mm| *mm > band) {
            why.push(format!(
                "{} on each side would keep it under {}.",
                ask.text(needed),
                percent(aim)
            ));
        }
    }
    let rim = 2.0 * (mouth + long);
    let within_aim = warmed <= aim && corner <= aim_both;
    let (forming, line) = if ask.film.stretch <= 0.0 {
        (
            Forming::NotOnThis,
            format!(
                "{} does not stretch: leave it out, or cut round it at the rim.",
                ask.film.name
            ),
        )
    } else if let Some(from) = ask.open(open) {
        (
            Forming::Feed,
            format!(
                "Feed {} of slack in from {from}, without tension; the closed wall first.",
                ask.text(shape.slack_mm())
            ),
        )
    } else if straight <= aim && shape.corner_stretch(0.0) <= aim_both {
        (Forming::Press, "Press it in as it is.".into())
    } else if within_aim {
        (Forming::Warm, warm_line(ask, band))
    } else if warmed <= never && corner <= never {
        (
            Forming::WarmAndHeat,
            format!(
                "{} It goes past the aim: it must reach {} once it lies.",
                warm_line(ask, band),
                ask.heat()
            ),
        )
    } else {
        otherwise(area, ask)
    };
    if forming == Forming::TwoPieces {
        why.extend(ask.lap_doubts(room));
    }
    let formed = !matches!(
        forming,
        Forming::NotOnThis | Forming::ReliefCut | Forming::Inlay | Forming::TwoPieces
    );
    let shown = |share: f64| (shut_in && formed).then_some(share);
    FormingPlace {
        straight: Some(straight),
        warmed: shown(warmed),
        both_ways: shown(corner),
        developed: Some(print(shape.developed_mm(), ask.unit)),
        band: (matches!(forming, Forming::Warm | Forming::WarmAndHeat))
            .then(|| print(band, ask.unit)),
        must_reach: formed.then(|| print(rim, ask.unit)),
        ..place(area, forming, line, why)
    }
}

fn warm_line(ask: &FormingAsk<'_>, band_mm: f64) -> String {
    match ask.school {
        FormingSchool::Band => format!(
            "Warm {} all round its rim, then push it in.",
            ask.text(band_mm)
        ),
        FormingSchool::Bridge => format!(
            "Bridge it, warm the bridge and {} round it, set the flat inside, then the deepest line.",
            ask.text(band_mm)
        ),
    }
}
