//! A printed panel as it is laid out: a picture or an area of colour with bleed round it and what must stay clear in it.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::art::drawn::{Drawn, Part, StraightEdge};
use crate::ground::mm::{Mm, SignedMm};
use crate::ground::outline::Shape;
use crate::ground::tape::{MM_PER_INCH, Unit, print};

/// Most key features of one picture.
pub const MOST_KEYS: usize = 24;

/// Something in the picture that must stay clear: a face, a number, a digit of a phone number.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KeyFeature {
    /// What it is.
    pub name: String,
    /// From the panel's left trim edge, mm.
    pub right_mm: SignedMm,
    /// From its upper trim edge, mm.
    pub down_mm: SignedMm,
    /// Width, mm.
    pub width_mm: Mm,
    /// Height, mm.
    pub height_mm: Mm,
}

/// Extra print at each edge by itself, mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bleeds {
    /// At the edge nearer the front, or where the tape begins.
    pub front_mm: Mm,
    /// At the other end.
    pub rear_mm: Mm,
    /// Above.
    pub top_mm: Mm,
    /// Below.
    pub foot_mm: Mm,
}

/// What of the print a picture fills.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fills {
    /// The print as trimmed; bleed shows the ground colour.
    #[default]
    Trimmed,
    /// All of the film: the picture was made with its bleed.
    WithBleed,
}

/// The picture of a print.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Picture {
    /// A photo of the job.
    pub photo: Uuid,
    /// Its width, pixels.
    pub width_px: u32,
    /// Its height, pixels.
    pub height_px: u32,
    /// Whether it is drawn rather than made of pixels: sharp at any size.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub drawn: bool,
    /// What it fills.
    #[serde(default)]
    pub fills: Fills,
    /// Where the whole picture lies, where this print is one panel of a larger one: only what of it is on the panel is printed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub window: Option<Window>,
}

/// A picture that reaches past the film that shows a part of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Window {
    /// Its left edge from the film's, mm; less than 0 where it lies outside.
    pub right_mm: SignedMm,
    /// Its upper edge from the film's, mm.
    pub down_mm: SignedMm,
    /// Its whole width, mm.
    pub width_mm: Mm,
    /// Its whole height, mm.
    pub height_mm: Mm,
}

/// How far a picture's proportions may be off before it is told, as a share.
const STRETCHED: f64 = 0.01;

/// A printed panel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PrintedPanel {
    /// What it is called.
    pub name: String,
    /// Width as trimmed, mm.
    pub width_mm: Mm,
    /// Height as trimmed, mm.
    pub height_mm: Mm,
    /// Extra print on every side, to be trimmed, mm.
    pub bleed_mm: Mm,
    /// The same for each edge by itself, where they differ: print that is turned in, or cut off at the body's own edge.
    #[serde(default)]
    pub bleeds: Option<Bleeds>,
    /// Ground colour as `#rrggbb`.
    pub colour: String,
    /// What is printed on it, where that is chosen.
    #[serde(default)]
    pub picture: Option<Picture>,
    /// What must stay clear.
    #[serde(default)]
    pub keys: Vec<KeyFeature>,
}

/// A panel that cannot be laid out. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PanelError {
    /// Width, height or bleed out of range.
    #[error("{0} must be between {1} and {2} mm. Give another figure.")]
    Size(&'static str, u32, u32),
    /// Too many key features.
    #[error("A panel may have {MOST_KEYS} features that must stay clear; this one has {0}.")]
    TooManyKeys(usize),
    /// A key feature lies off the picture.
    #[error(
        "\u{201c}{0}\u{201d} does not lie within the panel. Measure it again from the panel's upper left trim corner."
    )]
    KeyOff(String),
    /// The colour is not one.
    #[error("The colour must be written as # and six figures, such as #14524d.")]
    Colour,
}

impl PrintedPanel {
    /// The bleed of each edge.
    pub fn bleed(&self) -> Bleeds {
        self.bleeds.unwrap_or(Bleeds {
            front_mm: self.bleed_mm,
            rear_mm: self.bleed_mm,
            top_mm: self.bleed_mm,
            foot_mm: self.bleed_mm,
        })
    }

    /// The trimmed panel in its film's frame; `front_left` says whether the front lies to the picture's left.
    pub fn trim(&self, front_left: bool) -> Rect {
        let bleed = self.bleed();
        let left = if front_left {
            bleed.front_mm
        } else {
            bleed.rear_mm
        };
        let corner = (left.mm(), bleed.top_mm.mm());
        Rect::from_origin_size(corner, (self.width_mm.mm(), self.height_mm.mm()))
    }
}

impl PrintedPanel {
    /// The film with its bleed, in its own frame.
    fn film(&self) -> Rect {
        let (trim, bleed) = (self.trim(true), self.bleed());
        Rect::new(
            0.0,
            0.0,
            trim.width() + bleed.front_mm + bleed.rear_mm.mm(),
            trim.height() + bleed.top_mm + bleed.foot_mm.mm(),
        )
    }

    /// What the picture fills, in the film's frame.
    pub fn filled(&self, fills: Fills, front_left: bool) -> Rect {
        match fills {
            Fills::Trimmed => self.trim(front_left),
            Fills::WithBleed => self.film(),
        }
    }

    /// Where the whole of a picture lies, in the film's frame.
    pub fn picture_fills(&self, picture: &Picture, front_left: bool) -> Rect {
        match picture.window {
            None => self.filled(picture.fills, front_left),
            Some(w) => Rect::from_origin_size(
                (w.right_mm.mm(), w.down_mm.mm()),
                (w.width_mm.mm(), w.height_mm.mm()),
            ),
        }
    }

    /// How much too wide the print makes its picture, as a factor: 1 where both have the same proportions. Nothing without a picture.
    pub fn stretched(&self) -> Option<f64> {
        let picture = self.picture.filter(|p| p.width_px > 0 && p.height_px > 0)?;
        let filled = self.picture_fills(&picture, true);
        let own = f64::from(picture.width_px) / f64::from(picture.height_px);
        Some(filled.width() / filled.height() / own)
    }

    /// Pixels to the inch of its picture at full size, the fewer of both ways; nothing without a picture.
    ///
    /// ```
    /// # use windrift_core::art::printed_panel::{Fills, Picture, PrintedPanel};
    /// // 3000 pixels over 1524 mm: 60 in.
    /// let picture = Picture { photo: uuid::Uuid::nil(), width_px: 3000, height_px: 1500, drawn: false, fills: Fills::Trimmed, window: None };
    /// let print = PrintedPanel { name: "side".into(), width_mm: 1524.0.into(), height_mm: 762.0.into(), bleed_mm: 0.0.into(), bleeds: None,
    ///     colour: "#23405c".into(), picture: Some(picture), keys: vec![] };
    /// assert_eq!(print.pixels_per_inch(), Some(50.0));
    /// ```
    pub fn pixels_per_inch(&self) -> Option<f64> {
        let picture = self.picture.filter(|p| !p.drawn)?;
        let whole = self.picture_fills(&picture, true);
        let of = |pixels: u32, mm: f64| f64::from(pixels) / (mm / MM_PER_INCH);
        let (across, down) = (
            of(picture.width_px, whole.width()),
            of(picture.height_px, whole.height()),
        );
        Some(across.min(down)).filter(|ppi| ppi.is_finite())
    }

    /// How high the print would have to be, as trimmed, to show its picture in its own proportions at this width; nothing where it does.
    pub fn own_height_mm(&self) -> Option<f64> {
        let factor = self.stretched().filter(|f| (f - 1.0).abs() > STRETCHED)?;
        let picture = self.picture?;
        let filled = self.picture_fills(&picture, true);
        Some(filled.height() * (factor - 1.0) + self.height_mm.mm()).filter(|mm| *mm >= 10.0)
    }

    /// What is told of a picture that the print would stretch, with the height that would not.
    pub fn stretch_told(&self, unit: Unit) -> Option<String> {
        let factor = self.stretched().filter(|f| (f - 1.0).abs() > STRETCHED)?;
        let picture = self.picture?;
        let filled = self.picture_fills(&picture, true);
        let by = (factor.max(1.0 / factor) - 1.0) * 100.0;
        let what = match picture.fills {
            Fills::Trimmed => "",
            Fills::WithBleed => ", bleed and all,",
        };
        Some(format!(
            "The picture would be stretched {by:.0} % {}: {}{what} is {} high in its own proportions. Change the size, or crop the picture.",
            if factor > 1.0 { "wider" } else { "taller" },
            print(filled.width(), unit).text,
            print(filled.height() * factor, unit).text,
        ))
    }
}

/// Draws a panel: its film is the trimmed size with the bleed round it.
///
/// Errors: sizes out of range, key features off the panel.
///
/// ```
/// # use windrift_core::art::printed_panel::{Bleeds, PrintedPanel, draw};
/// // A side print: 3 in to be turned in at front, rear and foot, none at the roof.
/// let bleeds = Bleeds { front_mm: 76.2.into(), rear_mm: 76.2.into(), top_mm: 0.0.into(), foot_mm: 76.2.into() };
/// let print = PrintedPanel { name: "side".into(), width_mm: 3000.0.into(), height_mm: 900.0.into(), bleed_mm: 0.0.into(),
///     bleeds: Some(bleeds), colour: "#23405c".into(), picture: None, keys: vec![] };
/// let drawn = draw(&print, true).unwrap();
/// assert!((drawn.bounds.width() - 3152.4).abs() < 1e-9 && (drawn.bounds.height() - 976.2).abs() < 1e-9);
/// assert_eq!((drawn.nominal.y0, drawn.nominal.x0), (0.0, 76.2));
/// ```
pub fn draw(panel: &PrintedPanel, front_left: bool) -> Result<Drawn, PanelError> {
    let within = |what, mm: f64, least: u32, most: u32| {
        if (f64::from(least)..=f64::from(most)).contains(&mm) {
            Ok(())
        } else {
            Err(PanelError::Size(what, least, most))
        }
    };
    within("The width", panel.width_mm.mm(), 10, 30_480)?;
    within("The height", panel.height_mm.mm(), 10, 6_000)?;
    let bleed = panel.bleed();
    for mm in [bleed.front_mm, bleed.rear_mm, bleed.top_mm, bleed.foot_mm] {
        within("The bleed", mm.mm(), 0, 300)?;
    }
    if panel.keys.len() > MOST_KEYS {
        return Err(PanelError::TooManyKeys(panel.keys.len()));
    }
    if !crate::ground::colour::is_colour(&panel.colour) {
        return Err(PanelError::Colour);
    }
    let trim = panel.trim(front_left);
    for key in &panel.keys {
        let rect = key_rect(panel, key, front_left);
        let sized = key.width_mm > 0.0 && key.height_mm > 0.0;
        if !sized || trim.inflate(1e-6, 1e-6).union(rect) != trim.inflate(1e-6, 1e-6) {
            return Err(PanelError::KeyOff(key.name.clone()));
        }
    }
    let film = panel.film();
    let edge = |y: f64| StraightEdge {
        from: Point::new(film.x0, y),
        to: Point::new(film.x1, y),
    };
    let mut drawn = Drawn::plain(
        vec![Part::new(panel.name.clone(), vec![Shape::rectangle(film)])],
        vec![(0, edge(film.y0)), (0, edge(film.y1))],
        film.height(),
        film.height(),
        &panel.colour,
    );
    drawn.picture = panel
        .picture
        .map(|p| (p.photo, panel.picture_fills(&p, front_left)));
    // It is placed by its trimmed corner: what shows in the end.
    drawn.point = trim.origin();
    drawn.nominal = trim;
    drawn.line = (trim.origin(), Point::new(trim.x1, trim.y0));
    Ok(drawn)
}

/// A key feature in the panel's film frame.
pub fn key_rect(panel: &PrintedPanel, key: &KeyFeature, front_left: bool) -> Rect {
    let trim = panel.trim(front_left);
    Rect::from_origin_size(
        (trim.x0 + key.right_mm.mm(), trim.y0 + key.down_mm.mm()),
        (key.width_mm.mm(), key.height_mm.mm()),
    )
}
