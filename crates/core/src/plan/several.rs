//! Several pieces laid out in one go: the pieces of a kit as they lie in its file, and one stripe over several body parts.

use kurbo::{Rect, Size};

use crate::art::Art;
use crate::art::kit::Drawing;
use crate::art::stripe::{Stripe, run_over};
use crate::ground::outline::{Shape, bounds_of_shapes};
use crate::place::edges::EdgeRef;
use crate::place::rules::{Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules};
use crate::plan::first::Place;
use crate::plan::piece::Piece;

/// Outlines that are to be one piece of a kit.
#[derive(Debug, Clone)]
pub struct KitFilm {
    /// Islands of film with their holes, in the file's own frame, mm.
    pub shapes: Vec<Shape>,
    /// What they were filled with, `#rrggbb`, where the file says so.
    pub fill: Option<String>,
    /// The film that they are cut from, `#rrggbb`.
    pub colour: String,
}

/// A piece of a kit, with the outlines that it is cut from and what they reach over.
#[derive(Debug, Clone)]
pub struct KitPiece {
    /// The piece, placed as it lies in the file.
    pub piece: Piece,
    /// Its outlines, in the file's own frame, mm.
    pub shapes: Vec<Shape>,
    /// What they reach over, mm.
    pub bounds: Rect,
    /// What they were filled with, `#rrggbb`, where the file says so.
    pub fill: Option<String>,
}

/// The pieces of a kit from the outlines of its file, each group of outlines one piece, the largest first. They lie to each other as in
/// the file; `begins` says where the front upper corner of them all goes, by the size of them all.
///
/// Groups without outlines are left out.
///
/// ```
/// # use windrift_core::{ground::outline::Shape, plan::{first::Place, several::{KitFilm, kit_pieces}}};
/// # use kurbo::Rect;
/// let film = |shapes| KitFilm { shapes, fill: None, colour: "#8c1d18".into() };
/// let small = film(vec![Shape::rectangle(Rect::new(0.0, 0.0, 100.0, 50.0))]);
/// let large = film(vec![Shape::rectangle(Rect::new(200.0, 0.0, 600.0, 300.0))]);
/// let kit = kit_pieces(vec![small, large, film(Vec::new())], "mane", |_| Place { back_mm: 300.0, down_mm: 0.0, runs_right: true });
/// assert_eq!(kit.iter().map(|k| k.piece.called()).collect::<Vec<_>>(), ["mane 1", "mane 2"]);
/// assert_eq!((kit[0].bounds.width(), kit[0].piece.order), (400.0, 1));
/// ```
pub fn kit_pieces(
    groups: Vec<KitFilm>,
    name: &str,
    begins: impl FnOnce(Size) -> Place,
) -> Vec<KitPiece> {
    let area = |g: &KitFilm| g.shapes.iter().map(Shape::area).sum::<f64>();
    let mut groups = groups;
    groups.retain(|g| !g.shapes.is_empty());
    groups.sort_by(|a, b| area(b).total_cmp(&area(a)));
    let all = bounds_of_shapes(groups.iter().flat_map(|g| &g.shapes));
    let Place {
        back_mm: from_back,
        down_mm: from_top,
        runs_right,
    } = begins(all.size());
    let alone = groups.len() == 1;
    // Tenths of a millimetre: what a cutter repeats.
    let to_cutter = |mm: f64| (mm * 10.0).round() / 10.0;
    (1..)
        .zip(groups)
        .map(|(n, film)| {
            let KitFilm {
                shapes,
                fill,
                colour,
            } = film;
            let bounds = bounds_of_shapes(&shapes);
            let called = if alone {
                name.to_owned()
            } else {
                format!("{name} {n}")
            };
            let back = if runs_right {
                bounds.x0 - all.x0
            } else {
                all.x1 - bounds.x1
            };
            let place = PlaceRule::Rules(Rules {
                reference: None,
                along: Along::FromFront {
                    distance_mm: to_cutter(from_back + back).into(),
                    to: if runs_right {
                        LetterEnd::FirstLetter
                    } else {
                        LetterEnd::LastLetter
                    },
                },
                down: Down::FromDatum {
                    distance_mm: to_cutter(from_top + bounds.y0 - all.y0).into(),
                    to: DownTo::Top,
                },
                angle: Angle::AlongDatum,
            });
            let drawing = Drawing::new(&called, &shapes, &colour);
            KitPiece {
                piece: Piece {
                    order: n,
                    ..Piece::new(Art::Drawing(drawing), place)
                },
                shapes,
                bounds,
                fill,
            }
        })
        .collect()
}

/// One stripe laid as one straight line over several body parts: a piece for each, in the order of their lengths along their datums
/// (mm), with the gaps between the parts, from the first part's height at its front to the last one's at its rear. Each keeps `end_gap`
/// to both edges of its part; the gap shortens the line, its ends stay on it.
///
/// ```
/// # use windrift_core::{art::stripe::Stripe, plan::several::stripe_over, place::rules::*};
/// let stripe = Stripe::of_width("swage", "#b3261e", 50.0);
/// let laid = stripe_over(&stripe, &[1000.0, 1000.0], &[10.0], (400.0, 601.0), 5.0);
/// let PlaceRule::Rules(first) = &laid[0].place else { panic!() };
/// // 201 mm down over 2010 mm: a tenth; the first part begins 5 mm in.
/// let Down::FromDatum { distance_mm, .. } = first.down else { panic!() };
/// assert!((distance_mm - 400.5).abs() < 1e-9);
/// ```
pub fn stripe_over(
    stripe: &Stripe,
    lengths_mm: &[f64],
    gaps_mm: &[f64],
    drops_mm: (f64, f64),
    end_gap_mm: f64,
) -> Vec<Piece> {
    let laid = run_over(lengths_mm, gaps_mm, drops_mm.0, drops_mm.1);
    let parts = lengths_mm.iter().zip(laid);
    parts
        .map(|(length, at)| {
            let share = if *length > 0.0 {
                end_gap_mm / length
            } else {
                0.0
            };
            let in_from_the_edge = (at.rear_mm - at.front_mm) * share;
            Piece::new(
                Art::Stripe(stripe.clone()),
                PlaceRule::Rules(Rules {
                    reference: None,
                    along: Along::SameGap {
                        from: EdgeRef::FrontEdge,
                        to: EdgeRef::RearEdge,
                        gap_mm: end_gap_mm.into(),
                    },
                    down: Down::FromDatum {
                        distance_mm: (at.front_mm + in_from_the_edge).into(),
                        to: DownTo::Middle,
                    },
                    angle: Angle::ToDrop {
                        rear_drop_mm: (at.rear_mm - in_from_the_edge).into(),
                    },
                }),
            )
        })
        .collect()
}
