//! A side on paper: outline, features, film and datum, in black and white.

use windrift_core::landing::HeadState;
use windrift_core::outline::Shape;
use windrift_core::plan::{PlannedPiece, SidePlan};
use windrift_core::side::FrontAt;

use crate::sheet::{Face, Ink, Sheet};

/// From the picture frame in mm to paper.
#[derive(Clone, Copy)]
pub(crate) struct OnPaper {
    scale: f64,
    from: (f64, f64),
    to: (f64, f64),
}

impl OnPaper {
    /// The largest scale at which `mm` fits into `frame`, centred.
    pub(crate) fn fit(mm: kurbo::Rect, frame: [f32; 4]) -> OnPaper {
        let [x0, y0, x1, y1] = frame.map(f64::from);
        let scale = ((x1 - x0) / mm.width()).min((y1 - y0) / mm.height());
        let centre = mm.center();
        OnPaper {
            scale,
            from: (centre.x, centre.y),
            to: ((x0 + x1) / 2.0, (y0 + y1) / 2.0),
        }
    }

    pub(crate) fn at(self, x: f64, y: f64) -> [f32; 2] {
        [
            (self.to.0 + (x - self.from.0) * self.scale) as f32,
            (self.to.1 + (y - self.from.1) * self.scale) as f32,
        ]
    }

    /// The scale as 1 : n.
    pub(crate) fn ratio(self) -> f64 {
        // One point is 25.4 / 72 mm.
        1.0 / (self.scale * 25.4 / 72.0)
    }
}

/// Draws a side with its features and pieces; returns how it was put on paper.
pub(crate) fn picture(
    sheet: &mut Sheet<'_, '_>,
    plan: &SidePlan,
    of: Option<&PlannedPiece>,
    frame: [f32; 4],
) -> OnPaper {
    let side = &plan.side;
    let on_paper = OnPaper::fit(side.outline.bounds, frame);
    draw_side(sheet, plan, of, on_paper);
    let bounds = side.outline.bounds;
    let word = match side.side.front {
        FrontAt::Left => Some((bounds.x0, bounds.y1, 0.0, 12.0)),
        FrontAt::Right => Some((bounds.x1, bounds.y1, -34.0, 12.0)),
        FrontAt::Top => Some((bounds.center().x, bounds.y0, -17.0, -6.0)),
        FrontAt::Foot => Some((bounds.center().x, bounds.y1, -17.0, 12.0)),
        FrontAt::NotInIt => None,
    };
    if let Some((x, y, right, down)) = word {
        let [x, y] = on_paper.at(x, y);
        sheet.text(x + right, y + down, 9.0, Face::Bold, "FRONT");
    }
    on_paper
}

/// Draws the body, what is on it, and film: that of `of` darker, with the heads that it lands on.
pub(crate) fn draw_side(
    sheet: &mut Sheet<'_, '_>,
    plan: &SidePlan,
    of: Option<&PlannedPiece>,
    on_paper: OnPaper,
) {
    let side = &plan.side;
    let at = |x, y| on_paper.at(x, y);
    for piece in &plan.pieces {
        let film: Vec<Shape> = piece.film().collect();
        let grey = if of.is_none_or(|p| p.id == piece.id) {
            190
        } else {
            235
        };
        sheet.shapes(
            &film,
            at,
            Ink {
                fill: Some(grey),
                ..Ink::line(0, 0.5)
            },
        );
    }
    sheet.shapes([&side.outline], at, Ink::line(0, 1.2));
    for line in &side.lines {
        let points: Vec<[f32; 2]> = line.points.iter().map(|p| at(p.x, p.y)).collect();
        sheet.polygon(&points, false, Ink::line(110, 0.5));
    }
    for zone in side.zones() {
        sheet.shapes([&zone.outline], at, Ink::line(110, 0.7).dashed());
    }
    for hardware in side.hardware() {
        sheet.shapes([&hardware.outline], at, Ink::line(0, 0.9));
    }
    for column in &side.columns {
        for head in &column.heads {
            let radius = (column.head_mm / 2.0 * on_paper.scale).max(0.5) as f32;
            sheet.circle(
                at(head.x, head.y),
                radius,
                Ink {
                    fill: Some(255),
                    ..Ink::line(60, 0.4)
                },
            );
        }
    }
    for piece in plan
        .pieces
        .iter()
        .filter(|p| of.is_none_or(|o| o.id == p.id))
    {
        for (column, head) in piece
            .landing
            .columns
            .iter()
            .flat_map(|c| c.heads.iter().map(move |h| (c, h)))
        {
            let radius = (column.head_mm / 2.0 * on_paper.scale).max(0.8) as f32;
            let [x, y] = at(head.at[0], head.at[1]);
            match head.state {
                HeadState::Clear => {}
                HeadState::Covered => sheet.circle([x, y], radius, Ink::solid(0)),
                HeadState::EdgeOnIt => {
                    let r = radius * 1.6 + 1.0;
                    sheet.line([x - r, y - r], [x + r, y + r], Ink::line(0, 1.0));
                    sheet.line([x - r, y + r], [x + r, y - r], Ink::line(0, 1.0));
                }
            }
        }
    }
    // The datum, and what is read from it.
    let datum = of.map_or(side.datum, |p| p.placed.datum);
    let (a, b) = (datum.at(0.0, 0.0), datum.at(datum.length_mm, 0.0));
    sheet.line(at(a.x, a.y), at(b.x, b.y), Ink::line(0, 2.0));
}
