//! A side on paper: outline, features, film and datum, in black and white.

use kurbo::Point;
use serde::{Deserialize, Serialize};
use uuid::Uuid;
use windrift_core::art::drawn::Drawn;
use windrift_core::ground::datum::Datum;
use windrift_core::ground::outline::Shape;
use windrift_core::place::landing::{HeadState, Landing};
use windrift_core::plan::planned::{PlannedPiece, SidePlan};
use windrift_core::vehicle::side::words::FrontAt;

use crate::sheet::{Face, Ink, Sheet};

/// Contours of film or of a thing on the body, mm.
pub type Contours = Vec<Vec<[f64; 2]>>;

/// Everything of a side that paper shows: what an issued plan keeps, so that it is drawn the same whatever computes later.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SidePicture {
    /// Where the vehicle's front lies.
    pub front: FrontAt,
    /// The body's outline.
    pub outline: Contours,
    /// Seams, gaps, creases.
    pub lines: Vec<Vec<[f64; 2]>>,
    /// Places where film behaves otherwise.
    pub zones: Vec<Contours>,
    /// What film keeps off.
    pub hardware: Vec<Contours>,
    /// Heads of rivets: middle and diameter.
    pub heads: Vec<([f64; 2], f64)>,
    /// Both ends of the reference that is read from.
    pub datum: [[f64; 2]; 2],
    /// Film of the pieces.
    pub pieces: Vec<PiecePicture>,
}

/// A piece of a side as paper shows it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct PiecePicture {
    /// The piece.
    pub id: Uuid,
    /// Its film.
    pub film: Contours,
    /// What is printed on it: the photo, and three corners of what it fills: upper left, upper right, lower left.
    #[serde(default)]
    pub printed: Option<(Uuid, [[f64; 2]; 3])>,
    /// Both ends of the reference that it is read from.
    pub datum: [[f64; 2]; 2],
    /// Heads under it or at its edge: middle, diameter and how it lies.
    pub heads: Vec<([f64; 2], f64, HeadState)>,
}

/// To a hundredth of a millimetre: finer than any paper.
fn rounded(p: Point) -> [f64; 2] {
    [p.x, p.y].map(|v| (v * 100.0).round() / 100.0)
}

fn contours<'s>(shapes: impl IntoIterator<Item = &'s Shape>) -> Contours {
    shapes
        .into_iter()
        .flat_map(|s| &s.contours)
        .map(|c| c.iter().map(|p| rounded(*p)).collect())
        .collect()
}

fn ends(datum: &Datum) -> [[f64; 2]; 2] {
    [
        rounded(datum.at(0.0, 0.0)),
        rounded(datum.at(datum.length_mm, 0.0)),
    ]
}

fn met(landing: &Landing) -> Vec<([f64; 2], f64, HeadState)> {
    landing
        .columns
        .iter()
        .flat_map(|c| {
            let head = |h: &windrift_core::place::landing::HeadLanding| (h.at, c.head_mm, h.state);
            c.heads.iter().map(head).collect::<Vec<_>>()
        })
        .collect()
}

impl SidePicture {
    /// A side as it is planned.
    pub fn of(plan: &SidePlan) -> SidePicture {
        let side = &plan.side;
        SidePicture {
            front: side.side.front,
            outline: contours([&side.outline]),
            lines: side
                .lines
                .iter()
                .map(|l| l.points.iter().map(|p| rounded(*p)).collect())
                .collect(),
            zones: side.zones().map(|z| contours([&z.outline])).collect(),
            hardware: side.hardware().map(|h| contours([&h.outline])).collect(),
            heads: side
                .columns
                .iter()
                .flat_map(|c| c.heads.iter().map(|h| (rounded(*h), c.head_mm)))
                .collect(),
            datum: ends(&side.datum),
            pieces: plan.pieces.iter().map(PiecePicture::of).collect(),
        }
    }

    /// Contours of the body.
    pub(crate) fn outline(&self) -> impl Iterator<Item = &[[f64; 2]]> {
        self.outline.iter().map(Vec::as_slice)
    }

    /// The smallest upright rectangle round the body.
    pub(crate) fn bounds(&self) -> kurbo::Rect {
        bounds(&self.outline)
    }
}

impl PiecePicture {
    fn of(piece: &PlannedPiece) -> PiecePicture {
        // Marks that the tape is read to are cut with it, and seen with it.
        let read_to = piece
            .drawn
            .marks
            .iter()
            .filter(|_| piece.drawn.marks_to_read);
        let marks = read_to.map(|m| Drawn::mark_shape(*m).transformed(piece.placed.to_picture));
        let film: Vec<Shape> = piece.film().chain(marks).collect();
        PiecePicture {
            id: piece.id,
            film: contours(&film),
            printed: piece.drawn.picture.map(|(photo, r)| {
                let corner = |x, y| rounded(piece.placed.to_picture * Point::new(x, y));
                (
                    photo,
                    [corner(r.x0, r.y0), corner(r.x1, r.y0), corner(r.x0, r.y1)],
                )
            }),
            datum: ends(&piece.placed.datum),
            heads: met(&piece.landing),
        }
    }
}

fn bounds(contours: &Contours) -> kurbo::Rect {
    windrift_core::ground::outline::bounds_of(
        contours.iter().flatten().map(|p| Point::new(p[0], p[1])),
    )
}

/// Points of a contour nearer to each other than this are one, points of paper: as thin as the thinnest line that is drawn.
pub(crate) const NEAREST: f64 = 0.4;
/// The same for pieces that a page is not about: they are there to be recognised.
const NEAREST_OF_OTHERS: f64 = 1.4;

/// From the picture frame in mm to paper.
#[derive(Clone, Copy)]
pub(crate) struct OnPaper {
    scale: f64,
    from: (f64, f64),
    to: (f64, f64),
    /// What can be seen in the frame, mm.
    shows: kurbo::Rect,
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
            shows: kurbo::Rect::from_center_size(centre, ((x1 - x0) / scale, (y1 - y0) / scale)),
        }
    }

    pub(crate) fn at(self, x: f64, y: f64) -> [f32; 2] {
        [
            (self.to.0 + (x - self.from.0) * self.scale) as f32,
            (self.to.1 + (y - self.from.1) * self.scale) as f32,
        ]
    }

    /// Contours of which something can be seen, without points that no eye tells from those before them.
    pub(crate) fn seen(self, contours: &Contours, nearest: f64) -> Contours {
        let nearest = nearest / self.scale;
        let seen = contours
            .iter()
            .filter(|c| self.sees(c.iter().map(|p| Point::new(p[0], p[1]))));
        seen.map(|contour| {
            let mut kept: Vec<[f64; 2]> = Vec::with_capacity(contour.len());
            for p in contour {
                let far = |k: &[f64; 2]| (k[0] - p[0]).hypot(k[1] - p[1]) >= nearest;
                if kept.last().is_none_or(far) {
                    kept.push(*p);
                }
            }
            if kept.len() < 3 {
                contour.clone()
            } else {
                kept
            }
        })
        .collect()
    }

    fn sees(self, points: impl IntoIterator<Item = Point>) -> bool {
        let of = windrift_core::ground::outline::bounds_of(points).inflate(1.0, 1.0);
        of.overlaps(self.shows)
    }

    fn sees_round(self, at: [f64; 2], across: f64) -> bool {
        self.shows
            .inflate(across, across)
            .contains(Point::new(at[0], at[1]))
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
    side: &SidePicture,
    of: Option<Uuid>,
    frame: [f32; 4],
) -> OnPaper {
    let bounds = side.bounds();
    let on_paper = OnPaper::fit(bounds, frame);
    draw_side(sheet, side, of, on_paper);
    let word = match side.front {
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
    side: &SidePicture,
    of: Option<Uuid>,
    on_paper: OnPaper,
) {
    let at = |x, y| on_paper.at(x, y);
    for piece in &side.pieces {
        let grey = if of.is_none_or(|p| p == piece.id) {
            190
        } else {
            235
        };
        let nearest = if of.is_none_or(|p| p == piece.id) {
            NEAREST
        } else {
            NEAREST_OF_OTHERS
        };
        let film = on_paper.seen(&piece.film, nearest);
        if film.is_empty() {
            continue;
        }
        let ink = Ink {
            fill: Some(grey),
            ..Ink::line(0, 0.5)
        };
        sheet.contours(&film, at, ink);
        if let Some((photo, corners)) = &piece.printed {
            // Of a picture that reaches past its film only what lies on it.
            let on = film.iter().flatten().map(|p| at(p[0], p[1]));
            let bounds = on.fold([f32::MAX, f32::MAX, f32::MIN, f32::MIN], |b, [x, y]| {
                [b[0].min(x), b[1].min(y), b[2].max(x), b[3].max(y)]
            });
            sheet.clip(bounds);
            sheet.photo(*photo, corners.map(|[x, y]| at(x, y)));
            sheet.unclip();
        }
    }
    sheet.contours(&side.outline, at, Ink::line(0, 1.2));
    for line in &side.lines {
        if on_paper.sees(line.iter().map(|p| Point::new(p[0], p[1]))) {
            let points: Vec<[f32; 2]> = line.iter().map(|p| at(p[0], p[1])).collect();
            sheet.polygon(&points, false, Ink::line(110, 0.5));
        }
    }
    for zone in &side.zones {
        sheet.contours(
            &on_paper.seen(zone, NEAREST),
            at,
            Ink::line(110, 0.7).dashed(),
        );
    }
    for hardware in &side.hardware {
        sheet.contours(&on_paper.seen(hardware, NEAREST), at, Ink::line(0, 0.9));
    }
    let heads = side
        .heads
        .iter()
        .filter(|(head, across)| on_paper.sees_round(*head, *across));
    let heads = heads.map(|(head, across)| {
        let radius = (across / 2.0 * on_paper.scale).max(0.5) as f32;
        (at(head[0], head[1]), radius)
    });
    let ink = Ink {
        fill: Some(255),
        ..Ink::line(60, 0.4)
    };
    sheet.circles(heads, ink);
    let own = || side.pieces.iter().filter(|p| of.is_none_or(|o| o == p.id));
    let met = || {
        let heads = own().flat_map(|p| &p.heads);
        heads.filter(|(head, across, _)| on_paper.sees_round(*head, *across))
    };
    let radius = |across: &f64| (across / 2.0 * on_paper.scale).max(0.8) as f32;
    let covered = met().filter(|(_, _, state)| *state == HeadState::Covered);
    let covered = covered.map(|(head, across, _)| (at(head[0], head[1]), radius(across)));
    sheet.circles(covered, Ink::solid(0));
    for (head, across, _) in met().filter(|(_, _, state)| *state == HeadState::EdgeOnIt) {
        let [x, y] = at(head[0], head[1]);
        let r = radius(across) * 1.6 + 1.0;
        sheet.line([x - r, y - r], [x + r, y + r], Ink::line(0, 1.0));
        sheet.line([x - r, y + r], [x + r, y - r], Ink::line(0, 1.0));
    }
    // The datum, and what is read from it.
    let [a, b] = of
        .and_then(|_| own().next())
        .map_or(side.datum, |p| p.datum);
    sheet.line(at(a[0], a[1]), at(b[0], b[1]), Ink::line(0, 2.0));
}
