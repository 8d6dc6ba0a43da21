//! Colours as `#rrggbb`, and how they stand against each other.

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
