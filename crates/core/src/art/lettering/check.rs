//! Whether lettering can be cut; errors say what is wrong and what to do.

use crate::art::lettering::{LONGEST_LINE, Lettering, LetteringError, MOST_LINES, WIDEST_LAYER_MM};
use crate::art::typeface::{Typeface, Typefaces};
use crate::ground::colour::is_colour;

pub(crate) fn check<'t>(
    lettering: &Lettering,
    typefaces: &'t Typefaces,
) -> Result<&'t Typeface, LetteringError> {
    let text = &lettering.text;
    if text.trim().is_empty() {
        return Err(LetteringError::NoText);
    }
    let longest = text
        .split('\n')
        .map(|l| l.chars().count())
        .max()
        .unwrap_or(0);
    if longest > LONGEST_LINE {
        return Err(LetteringError::TooLong(longest));
    }
    let lines = text.split('\n').count();
    if lines > MOST_LINES {
        return Err(LetteringError::TooManyLines(lines));
    }
    if text.chars().any(|c| c.is_control() && c != '\n') {
        return Err(LetteringError::Unseen);
    }
    let colours = [
        Some(&lettering.colour),
        lettering.outline.as_ref().map(|o| &o.colour),
        lettering.shadow.as_ref().map(|s| &s.colour),
        lettering.second.as_ref().map(|s| &s.colour),
    ];
    if !colours.into_iter().flatten().all(|c| is_colour(c)) {
        return Err(LetteringError::Colour);
    }
    percent(
        "Extra space between letters",
        lettering.tracking_percent,
        -15.0,
        200.0,
    )?;
    percent("Line to line", lettering.leading_percent, 80.0, 500.0)?;
    check_layers(lettering)?;
    let face = typefaces
        .find(&lettering.typeface)
        .ok_or_else(|| LetteringError::NoTypeface(lettering.typeface.chars().take(40).collect()))?;
    let missing = face.missing(&text.replace('\n', ""));
    if !missing.is_empty() {
        let characters = missing
            .iter()
            .take(8)
            .map(|c| format!("\u{201c}{c}\u{201d}"))
            .collect::<Vec<_>>()
            .join(", ");
        return Err(LetteringError::Missing {
            name: face.info.name.to_string(),
            characters,
        });
    }
    Ok(face)
}

fn check_layers(lettering: &Lettering) -> Result<(), LetteringError> {
    let fits = |what, least, given: f64, range: std::ops::RangeInclusive<f64>| {
        if range.contains(&given) {
            Ok(())
        } else {
            Err(LetteringError::Layer { what, least, given })
        }
    };
    if let Some(outline) = &lettering.outline {
        fits(
            "The outline",
            "0.5",
            outline.out_mm.mm(),
            0.5..=WIDEST_LAYER_MM,
        )?;
    }
    if let Some(shadow) = &lettering.shadow {
        fits(
            "The shadow",
            "-300",
            shadow.right_mm.mm(),
            -WIDEST_LAYER_MM..=WIDEST_LAYER_MM,
        )?;
        fits(
            "The shadow",
            "-300",
            shadow.down_mm.mm(),
            -WIDEST_LAYER_MM..=WIDEST_LAYER_MM,
        )?;
    }
    match &lettering.second {
        Some(second)
            if second.words.trim().is_empty() || !lettering.text.contains(&second.words) =>
        {
            Err(LetteringError::NotAmongWords(second.words.clone()))
        }
        _ => Ok(()),
    }
}

fn percent(what: &'static str, given: f64, least: f64, most: f64) -> Result<(), LetteringError> {
    if (least..=most).contains(&given) {
        Ok(())
    } else {
        Err(LetteringError::Percent {
            what,
            given,
            least,
            most,
        })
    }
}
