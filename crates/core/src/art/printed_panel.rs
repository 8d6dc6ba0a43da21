//! A printed panel as it is laid out: a picture or an area of colour with bleed round it and what must stay clear in it.

use kurbo::{Point, Rect};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

use crate::art::drawn::{Drawn, Part, StraightEdge};
use crate::ground::mm::{Mm, SignedMm};
use crate::ground::outline::Shape;

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
    /// Ground colour as `#rrggbb`.
    pub colour: String,
    /// A photo of the job that stands for the picture.
    #[serde(default)]
    pub picture: Option<Uuid>,
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

/// Draws a panel: its film is the trimmed size with the bleed round it.
///
/// Errors: sizes out of range, key features off the panel.
pub fn draw(panel: &PrintedPanel) -> Result<Drawn, PanelError> {
    let within = |what, mm: f64, least: u32, most: u32| {
        if (f64::from(least)..=f64::from(most)).contains(&mm) {
            Ok(())
        } else {
            Err(PanelError::Size(what, least, most))
        }
    };
    within("The width", panel.width_mm.mm(), 10, 30_480)?;
    within("The height", panel.height_mm.mm(), 10, 6_000)?;
    within("The bleed", panel.bleed_mm.mm(), 0, 300)?;
    if panel.keys.len() > MOST_KEYS {
        return Err(PanelError::TooManyKeys(panel.keys.len()));
    }
    if !crate::ground::colour::is_colour(&panel.colour) {
        return Err(PanelError::Colour);
    }
    let trim = Rect::new(0.0, 0.0, panel.width_mm.mm(), panel.height_mm.mm());
    for key in &panel.keys {
        let rect = key_rect(panel, key);
        let sized = key.width_mm > 0.0 && key.height_mm > 0.0;
        let at = rect - kurbo::Vec2::new(panel.bleed_mm.mm(), panel.bleed_mm.mm());
        if !sized || trim.union(at) != trim {
            return Err(PanelError::KeyOff(key.name.clone()));
        }
    }
    let bleed = panel.bleed_mm;
    let film = Rect::new(
        0.0,
        0.0,
        panel.width_mm + 2.0 * bleed,
        panel.height_mm + 2.0 * bleed,
    );
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
    // It is placed by its trimmed corner: what shows in the end.
    drawn.point = Point::new(bleed.mm(), bleed.mm());
    drawn.nominal =
        Rect::from_origin_size(drawn.point, (panel.width_mm.mm(), panel.height_mm.mm()));
    drawn.line = (drawn.point, Point::new(bleed + panel.width_mm, bleed.mm()));
    Ok(drawn)
}

/// A key feature in the panel's film frame.
pub fn key_rect(panel: &PrintedPanel, key: &KeyFeature) -> Rect {
    Rect::from_origin_size(
        (panel.bleed_mm + key.right_mm, panel.bleed_mm + key.down_mm),
        (key.width_mm.mm(), key.height_mm.mm()),
    )
}
