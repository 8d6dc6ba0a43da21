//! Which film of the shelf for a piece: ranked, with what speaks for each and against it.

use kurbo::Rect;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::art::Art;
use crate::film::classes::{FilmClass, FilmFigures, Span};
use crate::film::stocked::{StockedFilm, degrees};
use crate::ground::climate::Climate;
use crate::ground::tape::{Unit, print};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::feature::kind::FeatureKind;
use crate::vehicle::measured::{Area, MeasuredSide};
use crate::vehicle::side::words::SideKind;
use crate::vehicle::surface::Material;

/// What is asked of the film beside what the piece asks by itself.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct Wanted {
    /// It is to last so many years.
    pub years: Option<f64>,
    /// Where the vehicle stands.
    pub climate: Climate,
    /// It is to come off cleanly later.
    pub removable: bool,
    /// It is to shine back.
    pub reflective: bool,
}

/// A film of the shelf with what is there of it.
#[derive(Debug, Clone, PartialEq)]
pub struct OnShelf {
    /// Its key.
    pub id: Uuid,
    /// The film.
    pub film: StockedFilm,
    /// The widest roll or offcut of it, mm; 0 where there is none.
    pub widest_mm: f64,
    /// Length left on all rolls, mm.
    pub left_mm: f64,
}

/// How a film suits a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Suits {
    /// Nothing speaks against it.
    Yes,
    /// With what is said against it.
    WithCare,
    /// It cannot be used.
    No,
}

/// A film, ranked.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RankedFilm {
    /// Its key.
    pub id: Uuid,
    /// What the shop calls it.
    pub name: String,
    /// Its class.
    pub class: FilmClass,
    /// What its class is called.
    pub class_name: &'static str,
    /// Its colour.
    pub colour: String,
    /// Whether it is of the piece's colour; true of a print's film, which takes any.
    pub own_colour: bool,
    /// How it suits.
    pub suits: Suits,
    /// What speaks for it.
    pub good: Vec<String>,
    /// What speaks against it, worst first.
    pub bad: Vec<String>,
    /// The laminate that all of this is told with, where one of its own goes over it.
    pub laminate: Option<String>,
    /// Its laminates for this piece, the best first; none where nothing is printed.
    pub laminates: Vec<RankedLaminate>,
    /// What they are ranked by; empty where there are none.
    pub laminates_by: String,
}

/// A laminate of a film, ranked for a piece.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RankedLaminate {
    /// What the shop calls it.
    pub name: String,
    /// Its figure that matters here.
    pub figure: String,
}

/// Ranks the films of the shelf for a piece: what cannot be used last, then by how much speaks against and for each.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::cut::which_film::{OnShelf, Suits, Wanted, which_film};
/// # use windrift_core::film::{classes::FilmClass, stocked::StockedFilm};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let planned = plan_piece(Default::default(), &piece, &measured, &WorkSettings::default(), Unit::InchSixteenth).unwrap();
/// # let of = |n: u128, class: FilmClass| OnShelf { id: uuid::Uuid::from_u128(n), film: StockedFilm { name: class.name().into(), class,
/// #     colour: "#14524d".into(), sheet: Default::default(), laminate: None }, widest_mm: 609.6, left_mm: 9000.0 };
/// let shelf = [of(1, FilmClass::ConspicuityStrip), of(2, FilmClass::CutLettering)];
/// let ranked = which_film(&planned, &measured, &shelf, &Wanted::default(), Unit::InchSixteenth);
/// assert_eq!((ranked[0].class, ranked[0].suits), (FilmClass::CutLettering, Suits::Yes));
/// assert_eq!(ranked[1].suits, Suits::No);
/// ```
pub fn which_film(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    shelf: &[OnShelf],
    wanted: &Wanted,
    unit: Unit,
) -> Vec<RankedFilm> {
    let asks = Asks::of(planned, side);
    let mut ranked: Vec<RankedFilm> = (shelf.iter())
        .map(|s| {
            let laminates = asks.laminates(&s.film);
            let mut with = s.clone();
            with.film.laminate = match &planned.piece.work.chosen {
                // What the crew took it with, a laminate or none.
                Some(chosen) if chosen.id == s.id => chosen.film.laminate.clone(),
                _ => laminates.first().map(|l| l.name.clone()),
            };
            RankedFilm {
                laminate: with.film.laminate().map(|l| l.name.clone()),
                laminates_by: match laminates.is_empty() {
                    true => String::new(),
                    false => asks.laminates_by(),
                },
                laminates,
                ..asks.judge(planned, &with, wanted, unit)
            }
        })
        .collect();
    ranked.sort_by(|a, b| {
        a.suits
            .cmp(&b.suits)
            // Another colour is another picture, whatever else speaks for the film.
            .then(b.own_colour.cmp(&a.own_colour))
            .then(a.bad.len().cmp(&b.bad.len()))
            .then(b.good.len().cmp(&a.good.len()))
            .then(a.name.cmp(&b.name))
    });
    ranked
}

/// The film of a piece for the others of its side that have none yet: for prints where it is a print, else for those of the film's colour or of that
/// piece's; for none that it is forbidden for. Each with the film under the laminate that is best there.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::cut::which_film::{OnShelf, Wanted, same_film};
/// # use windrift_core::film::{classes::FilmClass, stocked::StockedFilm};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
/// # use windrift_core::plan::{piece::Piece, plan_piece};
/// # use windrift_core::vehicle::{measured::measure::measure, side::words::SideKind, start::shapes::StartShape};
/// # let (side, _) = StartShape::BoxBody.start(SideKind::Left);
/// # let measured = measure(&side, &[]).unwrap();
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// # let piece = Piece::new(words, PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
/// # let planned = |n| plan_piece(uuid::Uuid::from_u128(n), &piece, &measured, &WorkSettings::default(), Unit::InchSixteenth).unwrap();
/// # let shelf = OnShelf { id: uuid::Uuid::from_u128(9), film: StockedFilm { name: "spruce".into(), class: FilmClass::CutLettering,
/// #     colour: "#14524d".into(), sheet: Default::default(), laminate: None }, widest_mm: 609.6, left_mm: 9000.0 };
/// // Two lines of lettering alike, neither with a film of its own.
/// let pieces = [planned(1), planned(2)];
/// let found = same_film(&pieces, &pieces[0], &measured, &shelf, &Wanted::default(), Unit::InchSixteenth);
/// assert_eq!(found.len(), 1);
/// assert_eq!((found[0].0, found[0].1.name.as_str()), (pieces[1].id, "spruce"));
/// ```
pub fn same_film(
    pieces: &[PlannedPiece],
    like: &PlannedPiece,
    side: &MeasuredSide,
    film: &OnShelf,
    wanted: &Wanted,
    unit: Unit,
) -> Vec<(Uuid, StockedFilm)> {
    let is_print = |p: &PlannedPiece| matches!(p.piece.art, Art::Panel(_));
    let open = (pieces.iter())
        .filter(|p| p.id != like.id && p.piece.work.chosen.is_none())
        .filter(|p| is_print(p) == is_print(like));
    open.filter_map(|p| {
        let ranked = which_film(p, side, std::slice::from_ref(film), wanted, unit).pop()?;
        let alike = p.piece.colour().eq_ignore_ascii_case(like.piece.colour());
        let suits = ranked.suits != Suits::No && (ranked.own_colour || alike);
        let laminate = ranked.laminate;
        suits.then(|| {
            let film = film.film.clone();
            (p.id, StockedFilm { laminate, ..film })
        })
    })
    .collect()
}

/// What a piece asks of its film.
struct Asks<'a> {
    print: bool,
    size: Rect,
    formed: Vec<&'a Area>,
    ghosts: Vec<&'a Area>,
    textured: bool,
    lying: bool,
    material: Material,
    ceiling_celsius: f64,
    colour: &'a str,
}

impl<'a> Asks<'a> {
    fn of(planned: &'a PlannedPiece, side: &'a MeasuredSide) -> Asks<'a> {
        let film = planned
            .placed
            .to_picture
            .transform_rect_bbox(planned.drawn.bounds);
        let under = |a: &&Area| {
            let b = a.outline.bounds;
            b.x0 < film.x1 && b.x1 > film.x0 && b.y0 < film.y1 && b.y1 > film.y0
        };
        let of = |wanted: &[FeatureKind]| -> Vec<&'a Area> {
            (side.areas.iter())
                .filter(|a| wanted.contains(&a.kind))
                .filter(under)
                .collect()
        };
        let surface = &side.side.surface;
        Asks {
            print: matches!(planned.piece.art, Art::Panel(_)),
            size: planned.drawn.bounds,
            formed: of(&[
                FeatureKind::Recess,
                FeatureKind::CurvedZone,
                FeatureKind::ConcaveZone,
            ]),
            ghosts: of(&[FeatureKind::OldFilm]),
            textured: surface.material == Material::TexturedPlastic
                || !of(&[FeatureKind::TexturedZone]).is_empty(),
            lying: matches!(side.side.kind, SideKind::Hood | SideKind::Roof),
            material: surface.material,
            ceiling_celsius: f64::from(surface.ceiling_celsius()),
            colour: planned.piece.colour(),
        }
    }

    fn judge(
        &self,
        planned: &PlannedPiece,
        s: &OnShelf,
        wanted: &Wanted,
        unit: Unit,
    ) -> RankedFilm {
        let f = s.film.figures();
        let text = |mm: f64| print(mm, unit).text;
        let (mut never, mut bad, mut good) = (Vec::new(), Vec::new(), Vec::new());
        if !self.print && self.colour.eq_ignore_ascii_case(&s.film.colour) {
            good.push("It is the colour that the piece is laid out in.".into());
        } else if !self.print && !self.colour.is_empty() {
            bad.push("Its colour is not the one that the piece is laid out in.".into());
        }
        match (self.print, f.printable) {
            (true, false) => never.push("It is not printed on, and this is a print.".to_owned()),
            (true, true) => good.push("It is made to be printed.".to_owned()),
            (false, true) if f.class != FilmClass::ThickKit => bad.push(
                "It is made to be printed; lettering film is thinner and takes less to weed."
                    .to_owned(),
            ),
            _ => {}
        }
        if f.class == FilmClass::ConspicuityStrip {
            never.push("It is marking tape, laid out under Reflective marking.".into());
        }
        if self.textured && f.class != FilmClass::ThickKit {
            never.push("The surface is textured: only film made for texture holds there.".into());
        }
        if !self.textured && f.class == FilmClass::ThickKit {
            bad.push("It is thick, made for textured plastic: on smooth paint its edges stand up and lift.".into());
        }
        if self.textured && f.class == FilmClass::ThickKit {
            good.push("It is made for textured plastic.".into());
        }
        self.size(s, text, &mut never, &mut bad, &mut good);
        self.heat(&f, &mut bad, &mut good);
        if !self.ghosts.is_empty() {
            let name = self.ghosts.first().map_or("", |g| g.name.as_str());
            match s.film.sheet.grey {
                Some(true) => good.push(format!("Its grey adhesive hides the {name} below.")),
                Some(false) => {
                    bad.push(format!("Its adhesive is clear: the {name} shows through."))
                }
                None => bad.push(format!(
                    "It is not known to be grey: the {name} below may show through."
                )),
            }
        }
        if let Some(c) = planned.piece.work.celsius {
            let fit = Span {
                from: f.fit_from_celsius,
                to: f.fit_to_celsius,
            };
            if c < fit.from || c > fit.to {
                bad.push(format!(
                    "It is fitted at {}, and {c:.0} °C was read.",
                    degrees(fit)
                ));
            } else {
                good.push(format!(
                    "{c:.0} °C, as read, is within what it is fitted at."
                ));
            }
        }
        self.years(s, &f, wanted, &mut bad, &mut good);
        match (wanted.removable, f.removable) {
            (true, Some(true)) => good.push("It comes off cleanly later.".into()),
            (true, Some(false)) => never.push("It leaves much adhesive when it comes off.".into()),
            (true, None) => bad.push("Its sheet does not say whether it comes off cleanly.".into()),
            _ => {}
        }
        match (wanted.reflective, f.layered_reflective) {
            (true, true) => good.push("It shines back.".into()),
            (true, false) => never.push("It does not shine back.".into()),
            (false, true) => bad.push(
                "It is reflective: dearer, breaks under a roller at rivets, must not be stretched far."
                    .into(),
            ),
            _ => {}
        }
        if f.directional {
            bad.push(
                "It is directional: its liner mark points the same way on every piece.".into(),
            );
        }
        let suits = match (never.is_empty(), bad.is_empty()) {
            (false, _) => Suits::No,
            (true, false) => Suits::WithCare,
            _ => Suits::Yes,
        };
        never.extend(bad);
        RankedFilm {
            id: s.id,
            name: s.film.name.clone(),
            class: f.class,
            class_name: f.name,
            colour: s.film.colour.clone(),
            own_colour: self.print || self.colour.eq_ignore_ascii_case(&s.film.colour),
            suits,
            good,
            bad: never,
            laminate: None,
            laminates: Vec::new(),
            laminates_by: String::new(),
        }
    }

    /// What laminates are ranked by here.
    fn laminates_by(&self) -> String {
        let recesses = self.recesses();
        if !recesses.is_empty() {
            format!("the thinnest first, for the {}", names(&recesses))
        } else if !self.formed.is_empty() {
            format!("what gives most first, for the {}", names(&self.formed))
        } else {
            "the longest-lived first: nothing under it asks for forming".into()
        }
    }

    /// Where film goes in, not only round.
    fn recesses(&self) -> Vec<&Area> {
        let deep = |a: &&&Area| a.kind != FeatureKind::CurvedZone;
        self.formed.iter().filter(deep).copied().collect()
    }

    /// Laminates of a film for a print: the thinnest first over recesses, the one that gives most over curves, the longest-lived on flats (common
    /// practice, no source).
    fn laminates(&self, film: &StockedFilm) -> Vec<RankedLaminate> {
        if !self.print {
            return Vec::new();
        }
        let lies = if self.lying { "lying" } else { "upright" };
        let mut all: Vec<(&str, FilmFigures, Option<f64>)> = (film.sheet.laminates.iter())
            .map(|l| {
                let with = StockedFilm {
                    laminate: Some(l.name.clone()),
                    ..film.clone()
                };
                let sheet = with.worked();
                let years = if self.lying {
                    sheet.lying_years
                } else {
                    sheet.upright_years
                };
                (l.name.as_str(), with.figures(), years)
            })
            .collect();
        let recesses = self.recesses();
        all.sort_by(|(_, a, x), (_, b, y)| {
            let thinner = a.thickness_mm.total_cmp(&b.thickness_mm);
            let gives = b.stretch.total_cmp(&a.stretch);
            let lasts = y.unwrap_or(0.0).total_cmp(&x.unwrap_or(0.0));
            if !recesses.is_empty() {
                thinner.then(gives).then(lasts)
            } else if !self.formed.is_empty() {
                gives.then(thinner).then(lasts)
            } else {
                lasts.then(thinner).then(gives)
            }
        });
        let told = |f: &FilmFigures, years: Option<f64>| match (recesses.is_empty(), years) {
            (false, _) => format!("{:.2} mm with the film", f.thickness_mm),
            (true, _) if !self.formed.is_empty() => {
                format!("gives {:.0} % one way", f.stretch * 100.0)
            }
            (true, Some(y)) => format!("lasts {y:.0} years {lies} by its sheet"),
            (true, None) => format!("its sheet does not say how long it lasts {lies}"),
        };
        (all.iter())
            .map(|(name, figures, years)| RankedLaminate {
                name: (*name).to_owned(),
                figure: told(figures, *years),
            })
            .collect()
    }

    /// What of it is on the shelf, against the piece's size.
    fn size(
        &self,
        s: &OnShelf,
        text: impl Fn(f64) -> String,
        never: &mut Vec<String>,
        bad: &mut Vec<String>,
        good: &mut Vec<String>,
    ) {
        if s.widest_mm <= 0.0 || s.left_mm <= 0.0 {
            bad.push("None of it is on the shelf: it must be ordered.".into());
            return;
        }
        let (short, long) = (
            self.size.width().min(self.size.height()),
            self.size.width().max(self.size.height()),
        );
        let wide = text(s.widest_mm);
        if short > s.widest_mm && !self.print {
            never.push(format!(
                "The piece is {} across and its widest roll {wide}.",
                text(short)
            ));
        } else if short > s.widest_mm {
            bad.push(format!(
                "Its widest roll is {wide}: the print goes in panels."
            ));
        } else if long > s.left_mm {
            bad.push(format!(
                "{} of it is left, and the piece is {} long.",
                text(s.left_mm),
                text(long)
            ));
        } else {
            good.push(format!(
                "It is on the shelf, {wide} wide, {} left.",
                text(s.left_mm)
            ));
        }
    }

    /// Where film must be formed, what it stands; and what the surface stands.
    fn heat(&self, f: &FilmFigures, bad: &mut Vec<String>, good: &mut Vec<String>) {
        if !self.formed.is_empty() {
            let at = names(&self.formed);
            if f.stretch <= 0.0 {
                bad.push(format!(
                    "It must not be stretched, and the {at} asks for it."
                ));
            } else if f.form.is_none() {
                bad.push(format!(
                    "It is hardly formed with heat, and the {at} asks for it; keep it under {:.0} %.",
                    f.stretch * 100.0
                ));
            } else {
                good.push(format!(
                    "It is formed with heat into the {at}, up to {:.0} % one way and {:.0} % both ways.",
                    f.stretch * 100.0,
                    f.two_way_stretch * 100.0
                ));
            }
        }
        if let Some(post) = f.post_heat
            && post.from > self.ceiling_celsius
        {
            bad.push(format!(
                "Once it lies it is heated to {}, and {} stands {:.0} °C (our figure; the data sheets decide).",
                degrees(post),
                self.material.name(),
                self.ceiling_celsius
            ));
        }
    }

    fn years(
        &self,
        s: &OnShelf,
        f: &FilmFigures,
        wanted: &Wanted,
        bad: &mut Vec<String>,
        good: &mut Vec<String>,
    ) {
        let Some(years) = wanted.years else { return };
        let (lasts, where_) = if self.lying {
            (s.film.worked().lying_years, "lying")
        } else {
            (f.upright_years, "upright")
        };
        match lasts {
            Some(l) => {
                let (here, told) = wanted.climate.years(l, where_);
                if here + 1e-9 >= years {
                    good.push(format!("It lasts {told}."));
                } else {
                    bad.push(format!("It lasts {told}, {years:.0} are wanted."));
                }
            }
            None => bad.push(format!(
                "How long it lasts {where_} is not known: read its sheet."
            )),
        }
    }
}

/// The first three of these, by name.
fn names(areas: &[&Area]) -> String {
    let mut names: Vec<&str> = areas.iter().map(|a| a.name.as_str()).collect();
    names.truncate(3);
    names.join(", ")
}
