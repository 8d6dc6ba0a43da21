//! Colours as `#rrggbb`, how they stand against each other, and which film is like what was drawn.

use palette::color_difference::Ciede2000;
use palette::{FromColor, Lab, Srgb};

/// Whether a colour is written as `#rrggbb`.
pub fn is_colour(text: &str) -> bool {
    let hex = text.strip_prefix('#').unwrap_or_default();
    hex.len() == 6 && hex.chars().all(|c| c.is_ascii_hexdigit())
}

/// Relative luminance of a colour by WCAG 2: 0 is black, 1 white. `None` where it is not written as `#rrggbb`.
pub fn luminance(colour: &str) -> Option<f64> {
    let hex = colour.strip_prefix('#').filter(|h| h.len() == 6)?;
    let channel = |n: usize| -> Option<f64> {
        let value = f64::from(u8::from_str_radix(hex.get(2 * n..2 * n + 2)?, 16).ok()?) / 255.0;
        Some(if value <= 0.040_45 {
            value / 12.92
        } else {
            ((value + 0.055) / 1.055).powf(2.4)
        })
    };
    Some(0.2126 * channel(0)? + 0.7152 * channel(1)? + 0.0722 * channel(2)?)
}

/// Contrast ratio of two colours by WCAG 2, 1 to 21.
pub fn contrast(a: &str, b: &str) -> Option<f64> {
    let (a, b) = (luminance(a)?, luminance(b)?);
    Some((a.max(b) + 0.05) / (a.min(b) + 0.05))
}

/// Colours of film that most shops have, each with what it is called.
pub const USUAL_FILMS: [(&str, &str); 7] = [
    ("#14524d", "spruce"),
    ("#23405c", "harbour blue"),
    ("#8c1d18", "signal red"),
    ("#5b3f7a", "heather"),
    ("#1a1a1a", "black"),
    ("#b8860b", "gold"),
    ("#f4f1e6", "white"),
];

/// How far colours may lie apart and still be meant for the same film (CIEDE2000). The pure red of a screen lies 23 from a film's dark red, a
/// screen's green 27 from a blue-green that nobody would take for it. The figure is ours.
pub const MEANT_ALIKE: f64 = 24.0;

fn lab(colour: &str) -> Option<Lab> {
    let screen: Srgb<u8> = is_colour(colour).then(|| colour.parse().ok())??;
    Some(Lab::from_color(screen.into_format::<f32>()))
}

/// How far two colours lie apart as they are seen, CIEDE2000 (ISO/CIE 11664-6) of sRGB: 0 is the same, 100 black beside white. `None` where one is
/// not written as `#rrggbb`.
pub fn difference(a: &str, b: &str) -> Option<f64> {
    Some(f64::from(lab(a)?.difference(lab(b)?)))
}

/// The film whose colour is nearest to a drawn one, where one is meant: the first of several equally near.
///
/// ```
/// # use windrift_core::ground::colour::film_like;
/// let films = ["#8c1d18", "#1a1a1a", "#f4f1e6"];
/// assert_eq!(film_like("#ffffff", films), Some("#f4f1e6"));
/// // Nothing yellow is there.
/// assert_eq!(film_like("#ffd400", films), None);
/// ```
pub fn film_like<'f>(drawn: &str, films: impl IntoIterator<Item = &'f str>) -> Option<&'f str> {
    films
        .into_iter()
        .filter_map(|film| Some((film, difference(drawn, film)?)))
        .min_by(|a, b| a.1.total_cmp(&b.1))
        .filter(|(_, by)| *by <= MEANT_ALIKE)
        .map(|(film, _)| film)
}
