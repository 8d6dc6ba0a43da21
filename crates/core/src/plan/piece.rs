//! A piece of film as it is asked for: what it is made from, where it goes, how it is worked; and its drawing.

use std::sync::Arc;

use serde::de::Error as _;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::art::drawn::{Drawn, LayerKind};
use crate::art::kit::DrawingError;
use crate::art::lettering::{Lettering, LetteringError};
use crate::art::printed_panel::PanelError;
use crate::art::stripe::{Stripe, StripeError};
use crate::art::typeface::Typefaces;
use crate::art::{Art, kit, lettering, printed_panel, said, stripe};
use crate::film::classes::{FilmClass, FilmFigures};
use crate::film::ink::Ink;
use crate::film::work::Work;
use crate::ground::mm::Mm;
use crate::ground::said::Said;
use crate::ground::tape::Unit;
use crate::place::between;
use crate::place::error::PlaceError;
use crate::place::rules::{Along, PlaceRule};
use crate::vehicle::measured::MeasuredSide;

/// Artwork that cannot be made. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ArtError {
    /// Lettering.
    #[error(transparent)]
    Lettering(#[from] LetteringError),
    /// A stripe.
    #[error(transparent)]
    Stripe(#[from] StripeError),
    /// A drawing.
    #[error(transparent)]
    Drawing(#[from] DrawingError),
    /// A panel.
    #[error(transparent)]
    Panel(#[from] PanelError),
    /// Its rule gives it a length that cannot be worked out, or one that it cannot have.
    #[error(transparent)]
    Place(#[from] PlaceError),
}

/// A piece of film as it is asked for: what it is and where it goes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Piece {
    /// What it is made from.
    pub art: Art,
    /// The rules for its place.
    pub place: PlaceRule,
    /// Which goes on first where pieces overlap: the lower number lies under the higher.
    pub order: i32,
    /// Name of the group that it moves with.
    pub group: Option<String>,
    /// How it is worked: film, crew, weather, hinge.
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub work: Work,
}

impl Piece {
    /// A piece on its own.
    pub fn new(art: Art, place: PlaceRule) -> Piece {
        Piece {
            art,
            place,
            order: 0,
            group: None,
            work: Work::default(),
        }
    }

    /// What it is called in lists and sentences.
    pub fn called(&self) -> String {
        match &self.art {
            Art::Lettering(l) => match l.only {
                None | Some(LayerKind::Face) => l.words(),
                Some(layer) => format!("{}, {}", l.words(), layer.name()),
            },
            Art::Stripe(s) => s.name.clone(),
            Art::Drawing(d) => d.name.clone(),
            Art::Panel(p) => p.name.clone(),
        }
    }

    /// The same with a number behind its name where others are called so already: two prints are told apart in lists, on rolls and on paper. Lettering is
    /// called by its words.
    pub fn told_apart_from(mut self, names: &[String]) -> Piece {
        let own = match &mut self.art {
            Art::Lettering(_) => return self,
            Art::Stripe(s) => &mut s.name,
            Art::Drawing(d) => &mut d.name,
            Art::Panel(p) => &mut p.name,
        };
        if names.contains(own) {
            let base = own.clone();
            let mut numbered = (2..).map(|n| format!("{base} {n}"));
            if let Some(free) = numbered.find(|name| !names.contains(name)) {
                *own = free;
            }
        }
        self
    }

    /// The layer of other lettering that it is, where it is one.
    pub fn layer(&self) -> Option<LayerKind> {
        self.lettering()?.only.filter(|k| *k != LayerKind::Face)
    }

    /// The layers of lettering as pieces of work of their own, laid on its registration marks; what lies under goes on first. The piece
    /// itself keeps its face.
    ///
    /// ```
    /// # use windrift_core::art::{Art, lettering::{Lettering, ShadowLayer}};
    /// # use windrift_core::place::rules::{LetterEnd, PlaceRule};
    /// # use windrift_core::plan::piece::Piece;
    /// let shadow = ShadowLayer { right_mm: 12.0.into(), down_mm: 12.0.into(), colour: "#1a1a1a".into() };
    /// let words = Lettering { shadow: Some(shadow), ..Lettering::line("HAVEN", "oswald", 254.0) };
    /// let mut face = Piece::new(Art::Lettering(words), PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6));
    /// let layers = face.part_layers(uuid::Uuid::from_u128(7));
    /// assert_eq!((layers.len(), layers[0].called().as_str()), (1, "HAVEN, shadow"));
    /// assert!(layers[0].order < face.order && face.called() == "HAVEN");
    /// ```
    pub fn part_layers(&mut self, own: Uuid) -> Vec<Piece> {
        let order = self.order;
        let Art::Lettering(words) = &mut self.art else {
            return Vec::new();
        };
        let layers = words.layers();
        words.only = (layers.len() > 1).then_some(LayerKind::Face);
        let words = words.clone();
        let under = [LayerKind::Shadow, LayerKind::Outline];
        layers
            .into_iter()
            .filter(|kind| *kind != LayerKind::Face)
            .map(|kind| {
                let art = Art::Lettering(Lettering {
                    only: Some(kind),
                    ..words.clone()
                });
                let below = under.iter().position(|k| *k == kind);
                Piece {
                    order: order + below.map_or(1, |n| n as i32 - under.len() as i32),
                    group: self.group.clone(),
                    ..Piece::new(art, PlaceRule::Marks { of: own })
                }
            })
            .collect()
    }

    /// Colour of its film.
    pub fn colour(&self) -> &str {
        match &self.art {
            Art::Lettering(l) => match l.only {
                Some(LayerKind::Shadow) => l.shadow.as_ref().map_or(&l.colour, |s| &s.colour),
                Some(LayerKind::Outline) => l.outline.as_ref().map_or(&l.colour, |o| &o.colour),
                Some(LayerKind::SecondColour) => l.second.as_ref().map_or(&l.colour, |c| &c.colour),
                None | Some(LayerKind::Face) => &l.colour,
            },
            Art::Stripe(s) => &s.colour,
            Art::Drawing(d) => &d.colour,
            Art::Panel(p) => &p.colour,
        }
    }

    /// The class of film that it is made of: that of the film chosen for it, or the one that the crew says, or the usual one for its kind.
    pub fn film(&self) -> FilmClass {
        let chosen = self.work.chosen.as_ref().map(|c| c.film.class);
        chosen
            .or(self.work.film)
            .unwrap_or_else(|| usual_film(&self.art))
    }

    /// The figures of its film: those of the film chosen for it, else those of its class.
    pub fn film_figures(&self) -> FilmFigures {
        match &self.work.chosen {
            Some(chosen) => chosen.film.figures(),
            None => self.film().figures(),
        }
    }

    /// Hours that it gasses out in this ink, as the sheet of the film chosen for it says.
    pub fn outgas_hours(&self, ink: Ink) -> Option<f64> {
        let chosen = self.work.chosen.as_ref()?;
        chosen.film.sheet.outgas_hours(ink)
    }

    /// What it is made as, as it is said: the whole first, then each band or what must stay clear. Nothing of lettering.
    pub fn art_said(&self, unit: Unit) -> Vec<Vec<Said>> {
        let by_edges = match &self.place {
            PlaceRule::Rules(rules) => matches!(rules.along, Along::SameGap { .. }),
            _ => false,
        };
        said::said(&self.art, by_edges, unit)
    }

    /// The lettering, where it is lettering.
    pub fn lettering(&self) -> Option<&Lettering> {
        match &self.art {
            Art::Lettering(l) => Some(l),
            _ => None,
        }
    }
}

/// What a piece is made of unless the crew says otherwise.
fn usual_film(art: &Art) -> FilmClass {
    match art {
        Art::Lettering(_) | Art::Stripe(_) | Art::Drawing(_) => FilmClass::CutLettering,
        Art::Panel(_) => FilmClass::CastPrint,
    }
}

/// Draws a piece in its own frame, before it has its place. A stripe's length may follow from its rule and the side; lettering is cut
/// in one of the typefaces given.
pub fn draw(
    piece: &Piece,
    side: &MeasuredSide,
    typefaces: &Typefaces,
) -> Result<Arc<Drawn>, ArtError> {
    let own_width = |what| match &piece.place {
        PlaceRule::Rules(rules) if matches!(rules.along, Along::SameGap { .. }) => {
            Err(PlaceError::WidthTwice(what))
        }
        _ => Ok(()),
    };
    if matches!(piece.place, PlaceRule::Between { .. }) && !matches!(piece.art, Art::Stripe(_)) {
        return Err(PlaceError::OnlyStripes.into());
    }
    match &piece.art {
        Art::Lettering(l) => {
            own_width("the size of its letters")?;
            Ok(lettering::draw::draw(l, typefaces)?)
        }
        Art::Stripe(s)
            if let PlaceRule::Between {
                front,
                rear,
                lap_mm,
            } = &piece.place =>
        {
            let corners = between::corners(*front, *rear, lap_mm.mm(), side)?;
            let front_left = side.side.direction() > 0.0;
            Ok(Arc::new(stripe::draw_between(s, &corners, front_left)?))
        }
        Art::Stripe(s) => {
            let length = stripe_length(s, &piece.place, side)?;
            Ok(Arc::new(stripe::draw(
                s,
                length,
                side.side.direction() > 0.0,
            )?))
        }
        Art::Drawing(d) => {
            own_width("the drawing's own size")?;
            Ok(Arc::new(kit::draw(d)?))
        }
        Art::Panel(p) => {
            own_width("its own width")?;
            let front_left = side.side.direction() > 0.0;
            Ok(Arc::new(printed_panel::draw(p, front_left)?))
        }
    }
}

fn stripe_length(
    stripe: &Stripe,
    place: &PlaceRule,
    side: &MeasuredSide,
) -> Result<f64, PlaceError> {
    let PlaceRule::Rules(rules) = place else {
        return Ok(stripe.length_mm.mm());
    };
    let Along::SameGap { from, to, gap_mm } = &rules.along else {
        return Ok(stripe.length_mm.mm());
    };
    let datum = side
        .side
        .datum_of(rules.reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let edge =
        |e: &crate::place::edges::EdgeRef| e.back_mm(side, &datum).ok_or(PlaceError::EdgeGone);
    let room = (edge(from)? - edge(to)?).abs();
    if room < 1.0 {
        return Err(PlaceError::SameEdge);
    }
    let along = room - 2.0 * gap_mm;
    // Between two heights a stripe is a little longer than its run along the datum.
    match (&rules.angle, &rules.down) {
        (
            crate::place::rules::Angle::ToDrop { rear_drop_mm },
            crate::place::rules::Down::FromDatum { distance_mm, .. },
        ) => Ok(along.hypot(rear_drop_mm - distance_mm)),
        _ => Ok(along),
    }
}

/// A piece as this release stores it.
#[derive(Deserialize)]
struct StoredPiece {
    art: Art,
    place: PlaceRule,
    #[serde(default)]
    order: i32,
    #[serde(default)]
    group: Option<String>,
    #[serde(default)]
    work: Work,
}

/// A piece as the first release stored it: lettering of one line, plain distances.
#[derive(Deserialize)]
struct FirstPiece {
    lettering: FirstLettering,
    place: FirstPlace,
}

#[derive(Deserialize)]
struct FirstLettering {
    text: String,
    typeface: String,
    size: lettering::Size,
    kerned: bool,
    colour: String,
}

#[derive(Deserialize)]
struct FirstPlace {
    #[serde(default)]
    reference: Option<Uuid>,
    along: Along,
    down: FirstDown,
    angle: FirstAngle,
}

#[derive(Deserialize)]
struct FirstDown {
    cap_line_mm: Mm,
}

#[derive(Deserialize)]
#[serde(rename_all = "snake_case")]
enum FirstAngle {
    AlongDatum,
    Level,
}

impl<'de> Deserialize<'de> for Piece {
    fn deserialize<D: serde::Deserializer<'de>>(reader: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(reader)?;
        if value.get("lettering").is_some() {
            return FirstPiece::deserialize(value)
                .map(Piece::from)
                .map_err(D::Error::custom);
        }
        let StoredPiece {
            art,
            place,
            order,
            group,
            work,
        } = StoredPiece::deserialize(value).map_err(D::Error::custom)?;
        Ok(Piece {
            art,
            place,
            order,
            group,
            work,
        })
    }
}

impl From<FirstPiece> for Piece {
    fn from(
        FirstPiece {
            lettering: l,
            place,
        }: FirstPiece,
    ) -> Self {
        use crate::place::rules::{Angle, Down, DownTo, Rules};
        Piece::new(
            Art::Lettering(Lettering {
                size: l.size,
                spacing: if l.kerned {
                    lettering::Spacing::Kerned
                } else {
                    lettering::Spacing::AsDrawn
                },
                colour: l.colour,
                ..Lettering::line(&l.text, &l.typeface, 1.0)
            }),
            PlaceRule::Rules(Rules {
                reference: place.reference,
                along: place.along,
                down: Down::FromDatum {
                    distance_mm: place.down.cap_line_mm,
                    to: DownTo::CapLine,
                },
                angle: match place.angle {
                    FirstAngle::AlongDatum => Angle::AlongDatum,
                    FirstAngle::Level => Angle::Level,
                },
            }),
        )
    }
}
