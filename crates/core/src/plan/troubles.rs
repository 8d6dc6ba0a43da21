//! What is wrong with a piece, worst first.

use crate::art::Art;
use crate::art::drawn::Drawn;
use crate::ground::tape::{Unit, print};
use crate::place::flats::{Flats, FlatsAt};
use crate::place::landing;
use crate::place::landing::Landing;

pub(crate) fn troubles_of(
    landing: &Landing,
    flats: &Flats,
    art: &Art,
    drawn: &Drawn,
    unit: Unit,
) -> Vec<String> {
    let mut troubles: Vec<String> = landing
        .hardware
        .iter()
        .filter(|h| h.state != landing::HardwareState::ComesOff)
        .map(|h| h.sentence.clone())
        .collect();
    // Bleed and the film that wraps round an end are meant to stand over the edge.
    let meant = match art {
        Art::Panel(p) => p.bleed_mm,
        Art::Stripe(s) => s.wrap_mm,
        _ => 0.0.into(),
    };
    for near in &landing.nearest {
        if near.distance.mm < -meant - 0.1 {
            troubles.push(format!(
                "The piece sticks out past the {} by {}. Move it in.",
                near.to,
                print(-near.distance.mm, unit).text
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
