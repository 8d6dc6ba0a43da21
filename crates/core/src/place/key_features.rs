//! Whether what matters in a print stays clear of hardware, gaps and edges.

use std::sync::Arc;

use kurbo::Rect;

use crate::art::Art;
use crate::art::drawn::{Drawn, Part};
use crate::art::printed_panel::{KeyFeature, PrintedPanel, key_rect};
use crate::ground::outline::{Shape, rect_distance};
use crate::ground::tape::{Unit, print};
use crate::place::placed::Placed;
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::measured::MeasuredSide;

/// A key feature keeps this far off handles, gaps and arches, mm (ours).
const KEY_CLEAR_MM: f64 = 25.4;

/// What a better spot is looked for with: of a print what must stay clear in it, for its film is worked over what it meets; of a stripe its film,
/// which is cut out round hardware; of anything else its film.
pub fn looked_for(
    art: &Art,
    drawn: &Arc<Drawn>,
    placed: &Placed,
    side: &MeasuredSide,
) -> (Arc<Drawn>, Placed) {
    let panel = match art {
        Art::Panel(panel) => panel,
        Art::Stripe(_) => {
            let mut stripe = Drawn::clone(drawn);
            stripe.cut_round = true;
            return (Arc::new(stripe), placed.clone());
        }
        Art::Lettering(_) | Art::Drawing(_) => return (drawn.clone(), placed.clone()),
    };
    let front_left = side.side.direction() > 0.0;
    let part = |key: &KeyFeature| {
        let rect: Rect = key_rect(panel, key, front_left);
        Part::new(key.name.clone(), vec![Shape::rectangle(rect)])
    };
    let parts = panel.keys.iter().map(part).collect();
    let height = drawn.capital_height_mm;
    let mut keys = Drawn::plain(parts, Vec::new(), height, drawn.baseline_mm, &panel.colour);
    keys.stays_clear_mm = Some(KEY_CLEAR_MM);
    let placed = Placed {
        hull: keys.hull.iter().map(|p| placed.to_picture * *p).collect(),
        ..placed.clone()
    };
    (Arc::new(keys), placed)
}

/// Key features that do not stay clear of hardware, gaps, arches and edges, one sentence each.
pub fn troubles(
    panel: &PrintedPanel,
    placed: &Placed,
    side: &MeasuredSide,
    unit: Unit,
) -> Vec<String> {
    let mut troubles = Vec::new();
    let printed = |mm: f64| print(mm.max(0.0), unit).text;
    for key in &panel.keys {
        let shape = Shape::rectangle(key_rect(panel, key, side.side.direction() > 0.0))
            .transformed(placed.to_picture);
        for area in side.hardware().filter(|h| h.comes_off != ComesOff::ForGood) {
            let distance = shape.distance_to(&area.outline, KEY_CLEAR_MM);
            if distance < KEY_CLEAR_MM {
                troubles.push(format!(
                    "\u{201c}{}\u{201d} in the picture lies {} from the {}. Move the panel so that it stays clear.",
                    key.name, printed(distance), area.name
                ));
            }
        }
        let gaps = side.lines.iter().filter(|l| {
            matches!(
                l.kind,
                FeatureKind::DoorGap | FeatureKind::PanelSeam | FeatureKind::Crease
            )
        });
        for line in gaps {
            let touches = line.points.windows(2).any(|pair| match pair {
                [a, b] => {
                    rect_distance(Rect::from_points(*a, *b), shape.bounds) <= 0.0
                        && Shape::new(vec![vec![*a, *b, a.midpoint(*b)]]).distance_to(&shape, 1e-3)
                            <= 0.0
                }
                _ => false,
            });
            if touches {
                troubles.push(format!(
                    "The {} runs through \u{201c}{}\u{201d} in the picture. Move the panel so that it stays clear.",
                    line.name, key.name
                ));
            }
        }
        let body = &side.outline;
        if shape.edges().any(|(p, _)| !body.contains(p)) {
            troubles.push(format!(
                "\u{201c}{}\u{201d} in the picture runs off the body. Move the panel in.",
                key.name
            ));
        }
    }
    troubles
}
