//! What is wrong with a piece, worst first.

use crate::art::Art;
use crate::art::drawn::Drawn;
use crate::ground::tape::{Unit, print};
use crate::place::flats::{Flats, FlatsAt};
use crate::place::landing;
use crate::place::landing::Landing;
use crate::vehicle::measured::MeasuredSide;
use crate::vehicle::side::words::EdgeNames;

pub(crate) fn troubles_of(
    landing: &Landing,
    flats: &Flats,
    art: &Art,
    drawn: &Drawn,
    side: &MeasuredSide,
    names: &EdgeNames,
    unit: Unit,
) -> Vec<String> {
    let mut troubles: Vec<String> = landing
        .hardware
        .iter()
        // What a print meets is worked, not kept clear of.
        .filter(|_| !matches!(art, Art::Panel(_)))
        .filter(|h| h.state != landing::HardwareState::ComesOff)
        .map(|h| h.sentence.clone())
        .collect();
    if let Art::Panel(panel) = art {
        troubles.extend(panel.stretch_told(unit));
    }
    // Bleed and the film that wraps round an end are meant to stand over the edge.
    let meant = |edge: &str| match art {
        Art::Panel(p) => {
            let bleed = p.bleed();
            let of_edge = [
                (&names.zero, bleed.front_mm),
                (&names.far, bleed.rear_mm),
                (&names.upper, bleed.top_mm),
                (&names.lower, bleed.foot_mm),
            ];
            let own = of_edge.iter().find(|(name, _)| *name == edge);
            own.map_or(p.bleed_mm.mm(), |(_, mm)| mm.mm())
        }
        Art::Stripe(s) => s.wrap_mm.mm(),
        Art::Lettering(_) | Art::Drawing(_) => 0.0,
    };
    for near in &landing.nearest {
        if near.distance.mm < -meant(&near.to) - 0.1 {
            let out = print(-near.distance.mm, unit).text;
            let what_to_do = remedy(art, drawn, side, unit);
            troubles.push(format!(
                "It stands over the {} by {out}. {what_to_do}",
                near.to
            ));
        }
    }
    match landing.heads_edge_on {
        0 => {}
        1 => troubles.push("1 rivet head has a cut edge on it. It lifts there first.".into()),
        n => troubles.push(format!(
            "{n} rivet heads have a cut edge on them. It lifts there first."
        )),
    }
    troubles.extend(stems(landing));
    for line in landing
        .lines
        .iter()
        .filter(|s| s.state == landing::LineState::EdgeAlong)
    {
        troubles.push(format!(
            "A cut edge of {} runs along the {}. Shift it off.",
            line.letters.join(" and "),
            line.name
        ));
    }
    if flats.at == FlatsAt::BoxCorners && drawn.has_letters {
        troubles.push(
            "These letters have no two flats to read to. Mark the upper corners of the lettering with slips of tape and read to those."
                .into(),
        );
    }
    troubles
}

/// Stems that are narrower than the heads under them: the narrowest is named.
fn stems(landing: &Landing) -> Option<String> {
    let narrow = (landing.columns.iter())
        .flat_map(|c| c.heads.iter().map(move |h| (c.column, h)))
        .filter_map(|(column, head)| Some((head.stem.as_ref()?, column, head)));
    let (stem, column, head) = narrow.min_by(|a, b| a.0.mm.total_cmp(&b.0.mm))?;
    let of = match &head.letter {
        Some(letter) => format!("{letter} at column {column}, head {}", head.number),
        None => format!("column {column}, head {}", head.number),
    };
    Some(match landing.heads_under_stems {
        1 => format!(
            "Film is narrower than the head that it lies on, with nothing beside it to hold: {of}, {} across.",
            stem.text
        ),
        n => format!(
            "At {n} heads film is narrower than the head that it lies on, with nothing beside it to hold; the narrowest: {of}, {} across.",
            stem.text
        ),
    })
}

/// What to do about a piece that stands over the edge: moving it in helps only where it is smaller than the side.
fn remedy(art: &Art, drawn: &Drawn, side: &MeasuredSide, unit: Unit) -> String {
    let size = drawn.nominal.size();
    let there = side.outline.bounds.size();
    let larger = [
        ("wide", size.width, there.width.max(side.datum.length_mm)),
        ("high", size.height, there.height),
    ]
    .into_iter()
    .find(|(_, own, side)| own > side);
    let Some((way, own, side)) = larger else {
        return match art {
            Art::Stripe(_) => "Trim it to the edge, or lay it short of it.",
            Art::Panel(_) => "Trim it to the edge, or turn it in.",
            Art::Lettering(_) | Art::Drawing(_) => "Move it in.",
        }
        .into();
    };
    let smaller = match art {
        Art::Lettering(_) => "Make the letters smaller, or choose a narrower typeface",
        Art::Stripe(_) => "Make the stripe shorter or narrower",
        Art::Drawing(_) => "Give the drawing a smaller width",
        Art::Panel(_) => "Make the print smaller, or trim it to the edge",
    };
    format!(
        "It is {} {way} and the side {}. {smaller}; or correct the side, if it is larger.",
        print(own, unit).text,
        print(side, unit).text
    )
}
