//! What happens where a told stroke is run carelessly: on a grid of cells, which may only add a warning.

use kurbo::Point;

use crate::floor::air::{Cell, Sheet, Swath, press_one};
use crate::floor::prove::{Moment, NEVER, TOLD_MM, prove};
use crate::floor::strokes::{Stroke, StrokeKind};
use crate::ground::outline::Shape;

/// A blade reaches a little past the shape that it is meant for. The strokes are run here at so much more than their width; where one shuts
/// in what had a way out, it is told to keep to its shape. When every stroke does, the shapes are what is run, and those are proven.
pub(super) fn warn(sheet: &Sheet, strokes: &mut [Stroke], overlap_mm: f64) {
    let shapes = run_shapes(sheet, strokes);
    loop {
        let pressed = run_loosely(sheet, &shapes, strokes, overlap_mm);
        let closing: Vec<usize> = prove(sheet, &pressed)
            .into_iter()
            .filter(|r| r.across_mm() > TOLD_MM)
            .filter_map(|r| r.stroke.checked_sub(1))
            // Whichever reached out before it has its share: the nearest that still does.
            .filter_map(|n| {
                (0..=n as usize)
                    .rev()
                    .find(|n| strokes.get(*n).is_some_and(|s| !s.within_band))
            })
            .collect();
        if closing.is_empty() {
            return;
        }
        // All of them at once: each round is a pass over the whole sheet.
        for n in closing {
            if let Some(stroke) = strokes.get_mut(n) {
                stroke.within_band = true;
            }
        }
    }
}

/// When each cell is first pressed by the shapes.
fn run_shapes(sheet: &Sheet, strokes: &[Stroke]) -> Vec<Moment> {
    let mut pressed = vec![NEVER; sheet.len()];
    for stroke in strokes.iter().filter(|s| !s.shape.is_empty()) {
        let corners = stroke.shape.iter().map(|p| Point::new(p[0], p[1]));
        let shape = Shape::new(vec![corners.collect()]);
        sheet.cells_in(&shape, |key| {
            if sheet.cell(key) == Cell::Film && pressed[key] == NEVER {
                pressed[key] = (stroke.number, 0);
            }
        });
    }
    pressed
}

/// When each cell is first pressed: by the shapes of strokes that are told to keep to them, and by a blade that reaches past them.
fn run_loosely(
    sheet: &Sheet,
    shapes: &[Moment],
    strokes: &[Stroke],
    overlap_mm: f64,
) -> Vec<Moment> {
    let kept = |m: &Moment| {
        m.0.checked_sub(1)
            .and_then(|n| strokes.get(n as usize))
            .is_some_and(|s| s.within_band)
    };
    let mut pressed: Vec<Moment> = shapes
        .iter()
        .map(|m| if kept(m) { *m } else { NEVER })
        .collect();
    for stroke in strokes.iter().filter(|s| !s.within_band) {
        let more = if stroke.kind == StrokeKind::Crease {
            0.0
        } else {
            overlap_mm
        };
        let swath = Swath {
            path: stroke.path.clone(),
            width_mm: stroke.width_mm + more,
        };
        press_one(sheet, &swath, stroke.number, &mut pressed);
    }
    pressed
}
