//! A kit from a drawing file: what of it is film, in which pieces, from which film each is cut, and where the pieces lie.

use kurbo::{Rect, Size};
use serde::Serialize;

use crate::art::Art;
use crate::art::clean::{Island, SPECK_MM2};
use crate::art::drawn::FIRST_COLOUR;
use crate::art::kit::Drawing;
use crate::film::classes::FilmClass;
use crate::film::stocked::StockedFilm;
use crate::ground::colour::{USUAL_FILMS, film_like};
use crate::ground::outline::{Shape, bounds_of_shapes, cut_out, weld};
use crate::place::rules::{Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules};
use crate::plan::first::Place;
use crate::plan::piece::Piece;
use crate::vehicle::surface::Material;

/// A colour that film comes in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FilmColour {
    /// `#rrggbb`.
    pub value: String,
    /// What it is called.
    pub name: String,
    /// Whether a film of the shop's has it; else it is one that film usually comes in.
    pub own: bool,
}

/// The usual colours of film, then the others of the shop's own films by their names. Films for prints, which are of any colour, and strips for
/// marking are left out; where a material is named, so is what is not for it: kits for textured plastic are cut from film of their own (common
/// practice, no source).
///
/// ```
/// # use windrift_core::{film::{classes::FilmClass, stocked::StockedFilm}, plan::kit::film_colours, vehicle::surface::Material};
/// let film = |name: &str, class, colour: &str| StockedFilm { name: name.into(), class, colour: colour.into(), sheet: Default::default(), laminate: None };
/// let shop = [film("gorse", FilmClass::CutLettering, "#FFD200"), film("dune", FilmClass::ThickKit, "#c9541d")];
/// let names = |material| film_colours(&shop, material).into_iter().filter(|c| c.own).map(|c| c.name).collect::<Vec<_>>();
/// assert_eq!(names(None), ["gorse", "dune"]);
/// assert_eq!(names(Some(Material::PaintedSteel)), ["gorse"]);
/// assert_eq!(names(Some(Material::TexturedPlastic)), ["dune"]);
/// ```
pub fn film_colours(shop: &[StockedFilm], material: Option<Material>) -> Vec<FilmColour> {
    let is_for = |class: FilmClass| {
        let textured = material.map(|m| m == Material::TexturedPlastic);
        class.is_cut_for_its_colour()
            && textured.is_none_or(|textured| textured == (class == FilmClass::ThickKit))
    };
    let mut colours: Vec<FilmColour> = USUAL_FILMS
        .map(|(value, name)| FilmColour {
            value: value.into(),
            name: name.into(),
            own: false,
        })
        .into();
    for film in shop.iter().filter(|f| is_for(f.class)) {
        let value = film.colour.to_lowercase();
        match colours.iter_mut().find(|c| c.value == value) {
            Some(known) => known.own = true,
            None => colours.push(FilmColour {
                value,
                name: film.name.clone(),
                own: true,
            }),
        }
    }
    colours
}

/// The colour of film that a colour of a file is cut from, and why.
fn cut_from(drawn: Option<&str>, films: &[FilmColour]) -> (String, String) {
    let Some(drawn) = drawn else {
        let why = "The file gives it no colour. Choose its film.";
        return (FIRST_COLOUR.into(), why.into());
    };
    let like = film_like(drawn, films.iter().map(|f| f.value.as_str()));
    match like.and_then(|value| films.iter().find(|f| f.value == value)) {
        Some(film) if film.own => (
            film.value.clone(),
            format!("{}, the nearest of this shop’s films.", film.name),
        ),
        Some(film) => (
            film.value.clone(),
            format!(
                "{}, the nearest usual colour. No film of this shop has it.",
                film.name
            ),
        ),
        None => (
            drawn.into(),
            "No film of this shop and no usual colour is like it: it is laid out as it is drawn. Choose one, or order it.".into(),
        ),
    }
}

/// Film less what is drawn over it in the colours that are holes. What is drawn over a hole stays.
fn less_holes(islands: Vec<Island>, holes: &[String]) -> Vec<Island> {
    let is_hole = |i: &Island| i.drawn.fill.as_ref().is_some_and(|f| holes.contains(f));
    let (cut, film): (Vec<Island>, Vec<Island>) = islands.into_iter().partition(is_hole);
    film.into_iter()
        .flat_map(|Island { shape, drawn }| {
            let over = cut.iter().filter(|c| c.drawn.path > drawn.path);
            let over: Vec<Shape> = over.map(|c| c.shape.clone()).collect();
            let left = match over.is_empty() {
                true => vec![shape],
                false => cut_out(&[shape], &over),
            };
            let left = left.into_iter().filter(|s| s.area() >= SPECK_MM2);
            left.map(move |shape| Island {
                shape,
                drawn: drawn.clone(),
            })
        })
        .collect()
}

/// The film of a file as pieces: each island by itself, or, where it is `whole`, all of them one, in the colour of the largest. What is drawn in
/// a colour of `holes` (`#rrggbb`) is no film: it is cut out of what it lies on.
///
/// ```
/// # use windrift_core::{art::clean::{DrawnAs, Island}, ground::outline::Shape, plan::kit::{film_colours, kit_film}};
/// # use kurbo::Rect;
/// let square = |path, fill: &str, from, to| Island {
///     shape: Shape::rectangle(Rect::new(from, from, to, to)),
///     drawn: DrawnAs { path, fill: Some(fill.into()), over_itself: false },
/// };
/// let file = || vec![square(0, "#e30613", 0.0, 100.0), square(1, "#ffffff", 20.0, 80.0), square(2, "#000000", 40.0, 60.0)];
/// let colours = film_colours(&[], None);
/// assert_eq!(kit_film(file(), false, &[], &colours).len(), 3);
/// // The white is a hole in the red; the black that is drawn over it stays.
/// let film = kit_film(file(), false, &["#ffffff".into()], &colours);
/// assert_eq!(film.iter().map(|f| f.shapes[0].area()).collect::<Vec<_>>(), [6400.0, 400.0]);
/// ```
pub fn kit_film(
    islands: Vec<Island>,
    whole: bool,
    holes: &[String],
    films: &[FilmColour],
) -> Vec<KitFilm> {
    let islands = less_holes(islands, holes);
    let pieces: Vec<(Vec<Shape>, Option<String>)> = if whole {
        let area = |i: &&Island| i.shape.area();
        let largest = (islands.iter()).max_by(|a, b| area(a).total_cmp(&area(b)));
        let fill = largest.and_then(|i| i.drawn.fill.clone());
        // Where parts of it lap there is film, once.
        let contours: Vec<_> = (islands.into_iter())
            .flat_map(|i| i.shape.contours)
            .collect();
        vec![(weld(&contours), fill)]
    } else {
        (islands.into_iter())
            .map(|i| (vec![i.shape], i.drawn.fill))
            .collect()
    };
    pieces
        .into_iter()
        .map(|(shapes, fill)| KitFilm {
            shapes,
            colour: cut_from(fill.as_deref(), films).0,
            fill,
        })
        .collect()
}

/// A colour of a file, and the film that it is cut from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KitColour {
    /// As it is drawn, `#rrggbb`; nothing for what the file gives no colour.
    pub drawn: Option<String>,
    /// The film that its pieces are laid out in, `#rrggbb`; nothing where it is no film but a hole.
    pub colour: Option<String>,
    /// How many pieces are of it.
    pub pieces: usize,
    /// Why this film.
    pub sentence: String,
}

/// The colours of a kit, that of its largest piece first, each with its film and why; then those that are holes.
pub fn kit_colours(kit: &[KitPiece], holes: &[String], films: &[FilmColour]) -> Vec<KitColour> {
    let mut colours: Vec<KitColour> = Vec::new();
    for piece in kit {
        if let Some(known) = colours.iter_mut().find(|c| c.drawn == piece.fill) {
            known.pieces += 1;
            continue;
        }
        let (colour, sentence) = cut_from(piece.fill.as_deref(), films);
        colours.push(KitColour {
            drawn: piece.fill.clone(),
            colour: Some(colour),
            pieces: 1,
            sentence,
        });
    }
    colours.extend(holes.iter().map(|hole| KitColour {
        drawn: Some(hole.clone()),
        colour: None,
        pieces: 0,
        sentence: "No film: it is cut out of what it lies on.".into(),
    }));
    colours
}

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
/// # use windrift_core::{ground::outline::Shape, plan::{first::Place, kit::{KitFilm, kit_pieces}}};
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
