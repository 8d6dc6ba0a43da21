//! A planned piece as it lies on a roll: what is cut in one, and how it may be turned.

use kurbo::{Affine, Point, Rect};

use crate::art::Art;
use crate::cut::nest::{NestPiece, Turns};
use crate::cut::panels::Panels;
use crate::film::work::Stand;
use crate::ground::outline::Shape;
use crate::ground::settings::WorkSettings;
use crate::plan::planned::PlannedPiece;

/// Something that is cut in one.
#[derive(Debug, Clone)]
pub struct CutPiece {
    /// Number of the panel, where it is one of a print.
    pub panel: Option<u32>,
    /// What it takes of the roll.
    pub nest: NestPiece,
    /// Its film, in the frame of `nest`.
    pub film: Vec<Shape>,
}

/// What is cut for a piece: each panel of a print as it lies, never turned, so that the direction is the same on all; lettering with its weeding
/// box, rigid; everything else by its true shape. Directional film is not turned.
///
/// Panels lie with their printed width across the roll.
pub fn cut_pieces(
    planned: &PlannedPiece,
    panels: Option<&Panels>,
    settings: &WorkSettings,
) -> Vec<CutPiece> {
    let directional = planned.piece.film_figures().directional;
    let film: Vec<Shape> = planned.drawn.film().cloned().collect();
    match (&planned.piece.art, panels) {
        (Art::Panel(_), Some(panels)) => (panels.best.panels.iter())
            .map(|p| {
                let [x0, y0, x1, y1] = p.film;
                let along_roll = match p.stand {
                    // The upper edge leads.
                    Stand::Upright => Affine::new([0.0, -1.0, 1.0, 0.0, 0.0, 0.0]),
                    Stand::Lying => Affine::IDENTITY,
                };
                let shape = Shape::rectangle(Rect::new(x0, y0, x1, y1)).transformed(along_roll);
                CutPiece {
                    panel: (panels.best.panels.len() > 1).then_some(p.number),
                    nest: NestPiece {
                        shapes: vec![shape.clone()],
                        turns: Turns::None,
                    },
                    film: vec![shape],
                }
            })
            .collect(),
        (art, _) => {
            let margin = settings.weeding_margin_mm.mm();
            let shapes = match art {
                Art::Lettering(_) => vec![Shape::rectangle(planned.drawn.carrier(margin))],
                _ => film.clone(),
            };
            let turns = match (directional, art) {
                (true, _) => Turns::None,
                (_, Art::Panel(_)) => Turns::Half,
                _ => Turns::Quarters,
            };
            vec![CutPiece {
                panel: None,
                nest: NestPiece { shapes, turns },
                film,
            }]
        }
    }
}

impl CutPiece {
    /// Its film where it lies on the roll: x along it, y across.
    pub fn film_at(&self, at: Point, quarters: u8) -> Vec<Shape> {
        let by = self.nest.to_roll(at, quarters);
        self.film.iter().map(|s| s.transformed(by)).collect()
    }
}
