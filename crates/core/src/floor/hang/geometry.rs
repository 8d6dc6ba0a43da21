//! Tape runs, liner cuts, stay tape and hands of each hinge, in the piece's frame and from there in the picture.

use kurbo::{Point, Rect};

use crate::film::classes::FilmFigures;
use crate::film::work::HingeKind;
use crate::floor::hang::choice;
use crate::floor::hang::words::{
    FIRST_PEEL_PANEL_MM, FIRST_PEEL_SMALL_MM, Helper, MarkLine, TapeRun, WINDOW_MM,
};
use crate::floor::strokes::Start;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Unit, print};
use crate::plan::planned::PlannedPiece;

/// Where tape, cuts and hands go for one hinge.
pub(super) struct Geometry<'a> {
    pub carrier: Rect,
    pub kind: HingeKind,
    pub left: bool,
    pub settings: &'a WorkSettings,
    pub planned: &'a PlannedPiece,
    pub unit: Unit,
    /// Height at which a liner window is cut.
    pub window_y: f64,
}

impl Geometry<'_> {
    fn picture(&self, p: Point) -> [f64; 2] {
        let at = self.planned.placed.to_picture * p;
        [at.x, at.y]
    }

    fn run(&self, what: &'static str, rect: Rect) -> TapeRun {
        let mark = self.unit.mark_mm();
        let long = rect.width().max(rect.height());
        TapeRun {
            what,
            corners: [
                Point::new(rect.x0, rect.y0),
                Point::new(rect.x1, rect.y0),
                Point::new(rect.x1, rect.y1),
                Point::new(rect.x0, rect.y1),
            ]
            .map(|p| self.picture(p)),
            length: print((long / mark - 1e-6).ceil() * mark, self.unit),
        }
    }

    fn line(&self, sentence: String, a: Point, b: Point, from_edge_mm: f64) -> MarkLine {
        MarkLine {
            sentence,
            line: [self.picture(a), self.picture(b)],
            from_edge: print(from_edge_mm, self.unit),
        }
    }

    pub fn tabs(&self) -> [Rect; 2] {
        let (c, half, tab) = (
            self.carrier,
            self.settings.tape_width_mm / 2.0,
            self.settings.tab_length_mm / 2.0,
        );
        [c.x0 + half, c.x1 - half].map(|x| Rect::new(x - half, c.y0 - tab, x + half, c.y0 + tab))
    }

    pub fn tape(&self) -> Vec<TapeRun> {
        let (c, half) = (self.carrier, self.settings.tape_width_mm / 2.0);
        let tabs = self.tabs();
        // Whatever the hinge, two tabs place the piece first; magnets and a float need none.
        let mut runs: Vec<TapeRun> = match self.kind {
            HingeKind::Magnets | HingeKind::Float => Vec::new(),
            _ => tabs.iter().map(|t| self.run("tab", *t)).collect(),
        };
        let mut pieces = |rect: Rect| {
            let (wide, long) = (
                rect.width() >= rect.height(),
                rect.width().max(rect.height()),
            );
            let count = (long / self.settings.tape_piece_mm).ceil().max(1.0);
            for n in 0..count as u32 {
                let (a, b) = (f64::from(n) / count, f64::from(n + 1) / count);
                let piece = if wide {
                    Rect::new(
                        rect.x0 + rect.width() * a,
                        rect.y0,
                        rect.x0 + rect.width() * b,
                        rect.y1,
                    )
                } else {
                    Rect::new(
                        rect.x0,
                        rect.y0 + rect.height() * a,
                        rect.x1,
                        rect.y0 + rect.height() * b,
                    )
                };
                runs.push(self.run("hinge", piece));
            }
        };
        match self.kind {
            HingeKind::Top => pieces(Rect::new(c.x0, c.y0 - half, c.x1, c.y0 + half)),
            HingeKind::Side => {
                let x = if self.left { c.x0 } else { c.x1 };
                pieces(Rect::new(x - half, c.y0, x + half, c.y1));
            }
            HingeKind::Centre => {
                let (x, over) = (c.center().x, self.settings.tab_length_mm);
                pieces(Rect::new(x - half, c.y0 - over, x + half, c.y1 + over));
            }
            HingeKind::CornerTabs
            | HingeKind::LinerWindow
            | HingeKind::Magnets
            | HingeKind::Pressed
            | HingeKind::Float => {}
        }
        runs
    }

    pub fn start(&self) -> Start {
        let c = self.carrier;
        match self.kind {
            HingeKind::Top | HingeKind::CornerTabs | HingeKind::Pressed => Start::Top,
            HingeKind::Side if self.left => Start::Left,
            HingeKind::Side => Start::Right,
            HingeKind::Centre => Start::Place { x_mm: c.center().x },
            HingeKind::LinerWindow => Start::Height {
                y_mm: self.window_y,
            },
            HingeKind::Magnets | HingeKind::Float if c.width() > 2.0 * c.height() => {
                Start::Place { x_mm: c.center().x }
            }
            HingeKind::Magnets | HingeKind::Float => Start::Height { y_mm: c.center().y },
        }
    }

    /// The parts of the rim that tape closes. A liner window, magnets and a float close none; a centre hinge is taken away half way.
    pub fn closed(&self) -> Vec<Rect> {
        let (c, near) = (self.carrier, 1.0);
        let top = Rect::new(c.x0, c.y0 - near, c.x1, c.y0 + near).inflate(near, 0.0);
        match self.kind {
            HingeKind::Top | HingeKind::Pressed => vec![top],
            HingeKind::Side => {
                let x = if self.left { c.x0 } else { c.x1 };
                vec![Rect::new(x - near, c.y0 - near, x + near, c.y1 + near)]
            }
            HingeKind::CornerTabs => self
                .tabs()
                .map(|t| Rect::new(t.x0, c.y0 - near, t.x1, c.y0 + near))
                .to_vec(),
            HingeKind::Centre | HingeKind::LinerWindow | HingeKind::Magnets | HingeKind::Float => {
                Vec::new()
            }
        }
    }

    pub fn liner(&self, film: &FilmFigures) -> Vec<MarkLine> {
        let c = self.carrier;
        let across = |y: f64, what: String| {
            self.line(what, Point::new(c.x0, y), Point::new(c.x1, y), y - c.y0)
        };
        let upright = |x: f64, what: String| {
            let from = if self.left { x - c.x0 } else { c.x1 - x };
            self.line(what, Point::new(x, c.y0), Point::new(x, c.y1), from)
        };
        let small = c.width().max(c.height()) <= choice::SMALL_MM * 2.0 || film.transfer_tape;
        let first = if small {
            FIRST_PEEL_SMALL_MM
        } else {
            FIRST_PEEL_PANEL_MM
        };
        let text = print(first, self.unit).text;
        match self.kind {
            HingeKind::Top | HingeKind::Pressed if c.height() > 1.5 * first => {
                vec![across(c.y0 + first, format!("First peel: fold the liner back {text}, low and flat, and crease it there."))]
            }
            HingeKind::Top | HingeKind::Pressed | HingeKind::CornerTabs => {
                vec![across(c.y1, "The whole liner comes off at once, folded back on itself, low and flat.".into())]
            }
            HingeKind::Side => {
                let x = if self.left { c.x0 + first.min(c.width()) } else { c.x1 - first.min(c.width()) };
                vec![upright(x, format!("First peel: fold the liner back {text} from the hinge and crease it there."))]
            }
            HingeKind::Centre => vec![upright(
                c.center().x,
                "Fold one half over the tape, cut its liner along the tape, and lay that half. Then take the tape away and do the other.".into(),
            )],
            HingeKind::LinerWindow => [(self.window_y - WINDOW_MM / 2.0, "Upper"), (self.window_y + WINDOW_MM / 2.0, "Lower")]
                .map(|(y, which)| across(y, format!("{which} cut of the window, through the liner only: never into the film.")))
                .to_vec(),
            HingeKind::Magnets | HingeKind::Float => {
                vec![across(c.y1, "The whole liner comes off, folded back on itself, low and flat.".into())]
            }
        }
    }

    pub fn stay(&self, stage_mm: Option<f64>) -> Vec<MarkLine> {
        let Some(stage) =
            stage_mm.filter(|_| matches!(self.kind, HingeKind::Top | HingeKind::Pressed))
        else {
            return Vec::new();
        };
        let c = self.carrier;
        let count = (c.height() / stage).round() as u32;
        (1..count)
            .map(|n| {
                let y = c.y0 + stage * f64::from(n);
                let sentence = format!(
                    "Stay tape across, {} down. Lay the band above it, then move the tape down.",
                    print(y - c.y0, self.unit).text
                );
                self.line(sentence, Point::new(c.x0, y), Point::new(c.x1, y), y - c.y0)
            })
            .collect()
    }

    pub fn helper(&self) -> Helper {
        let c = self.carrier;
        let far_right = self.left;
        let rear = if far_right { c.x1 } else { c.x0 };
        let (p, sentence) = match self.kind {
            HingeKind::Side => (
                Point::new(rear, c.center().y),
                "The second person holds the far edge taut and off the surface, and gives way as the squeegee comes.",
            ),
            HingeKind::Centre => (
                Point::new(rear, c.center().y),
                "The second person holds the half that is not being laid, folded back over the tape, and keeps it off the surface.",
            ),
            HingeKind::Float => (
                Point::new(rear, c.center().y),
                "One person at each end: taut, level, off the surface. The one with the squeegee begins in the middle.",
            ),
            HingeKind::LinerWindow => (
                Point::new(c.center().x, c.y1),
                "The second person holds the lower edge off the surface while the liner is drawn down.",
            ),
            _ => (
                Point::new(rear, c.y1),
                "The second person holds the lower rear corner taut and off the surface, and draws the liner down.",
            ),
        };
        Helper {
            at: self.picture(p),
            sentence: sentence.to_owned(),
        }
    }
}
