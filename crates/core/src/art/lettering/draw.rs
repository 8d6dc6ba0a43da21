//! Lettering as film: set, sized, welded, with its layers.

use std::sync::Arc;

use kurbo::{Affine, Vec2};

use crate::art::drawn::{Drawn, StraightEdge};
use crate::art::lettering::check::check;
use crate::art::lettering::set::{Block, Setting};
use crate::art::lettering::{
    Bends, CAPITAL_HEIGHT_MM, LONGEST_MM, Lettering, LetteringError, MOST_POINTS, Size, layers, set,
};
use crate::art::typeface::{Typeface, Typefaces};

type LetteringResult = Result<Arc<Drawn>, LetteringError>;

/// Draws lettering at its size, in one of the typefaces given.
///
/// Errors: text that cannot be set, a face that lacks characters, a size outside [`CAPITAL_HEIGHT_MM`], an arc or a layer that
/// cannot be made.
///
/// ```
/// # use windrift_core::art::{lettering::{Lettering, draw::draw}, typeface::Typefaces};
/// let drawn = draw(&Lettering::line("HI", "oswald", 100.0), &Typefaces::default()).unwrap();
/// assert_eq!(drawn.capital_height_mm, 100.0);
/// assert_eq!(drawn.parts.len(), 2);
/// // A face that is not there is named.
/// let wrong = draw(&Lettering::line("HI", "no-such-face", 100.0), &Typefaces::default()).unwrap_err();
/// assert!(wrong.to_string().contains("no-such-face"));
/// ```
pub fn draw(lettering: &Lettering, typefaces: &Typefaces) -> LetteringResult {
    let face = check(lettering, typefaces)?;
    typefaces.drawn(format!("{lettering:?}"), || draw_anew(lettering, face))
}

fn draw_anew(lettering: &Lettering, face: &Typeface) -> Result<Drawn, LetteringError> {
    let second = lettering.second.as_ref().map_or("", |s| s.words.as_str());
    let mut setting = Setting {
        face,
        text: &lettering.text,
        spacing: lettering.spacing,
        tracking: lettering.tracking_percent / 100.0,
        align: lettering.align,
        leading: lettering.leading_percent / 100.0,
        word_gap: lettering
            .regulated
            .as_ref()
            .and_then(|r| r.word_gap(face, &lettering.text)),
        radius: None,
        second,
    };
    let mut block = set::set(&setting);
    let width = block.bounds.width();
    if width <= 0.0 {
        return Err(LetteringError::NoText);
    }
    let points: usize = (block.parts.iter())
        .flat_map(|p| &p.shapes)
        .flat_map(|s| &s.contours)
        .map(Vec::len)
        .sum();
    // Each layer is drawn, and the film of all of them together.
    let layers =
        1 + usize::from(lettering.outline.is_some()) + 2 * usize::from(lettering.shadow.is_some());
    if points * layers > MOST_POINTS {
        return Err(LetteringError::TooFine(points * layers));
    }
    let scale = match lettering.size {
        Size::CapitalHeight { height_mm } => height_mm / face.capital_height,
        Size::XHeight { height_mm } => height_mm / face.x_height,
        Size::OverallWidth { width_mm } => width_mm / width,
    };
    let capital_height_mm = face.capital_height * scale;
    if !capital_height_mm.is_finite()
        || !CAPITAL_HEIGHT_MM.contains(&capital_height_mm)
        || width * scale > LONGEST_MM
    {
        return Err(LetteringError::Size(capital_height_mm));
    }
    let lines = lettering.text.split('\n').count();
    let depth = (lines - 1) as f64 * setting.leading * face.capital_height;
    if let Some(arch) = lettering.arch {
        // Letters may go three quarters round, and their feet must not meet at the middle.
        let least = (width / (1.5 * std::f64::consts::PI)).max(face.capital_height) + depth;
        let radius = arch.radius_mm / scale;
        // Also refuses what is not a number.
        if !(radius >= least && radius.is_finite()) {
            let least_mm = least * scale;
            return Err(LetteringError::Arch {
                least_mm: least_mm.ceil(),
                least_inches: least_mm / 25.4,
            });
        }
        setting.radius = Some(match arch.bends {
            Bends::Up => radius,
            Bends::Down => -radius,
        });
        block = set::set(&setting);
    }
    Ok(finish(
        lettering,
        &block,
        scale,
        capital_height_mm,
        depth * scale,
    ))
}

fn finish(lettering: &Lettering, block: &Block, scale: f64, cap: f64, depth: f64) -> Drawn {
    let to_piece = Affine::translate(Vec2::new(0.0, cap))
        * Affine::scale(scale)
        * Affine::translate(Vec2::new(-block.bounds.x0, 0.0));
    let parts: Vec<_> = block
        .parts
        .iter()
        .map(|p| p.transformed(to_piece))
        .collect();
    let straight: Vec<_> = block
        .straight
        .iter()
        .map(|(part, e)| {
            let edge = StraightEdge {
                from: to_piece * e.from,
                to: to_piece * e.to,
            };
            (*part, edge)
        })
        .collect();
    let baseline = cap + depth;
    if lettering.outline.is_none() && lettering.shadow.is_none() && lettering.second.is_none() {
        let mut drawn = Drawn::plain(parts, straight, cap, baseline, &lettering.colour);
        drawn.has_letters = true;
        drawn.hull = block.hull.iter().map(|p| to_piece * *p).collect();
        return drawn;
    }
    let mut drawn = layers::build(lettering, parts, &block.second, straight, cap, baseline);
    drawn.has_letters = true;
    drawn
}
