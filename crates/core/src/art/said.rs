//! What a stripe, a kit piece and a print are, as it is said: their figures and choices in sentences, one for each part of them.

use crate::art::Art;
use crate::art::kit::{Drawing, ErrorTo, Seam};
use crate::art::printed_panel::{Fills, PrintedPanel};
use crate::art::stripe::Stripe;
use crate::ground::said::{Said, Saying, offered};
use crate::ground::tape::Unit;

/// Says what film is drawn as. The first sentence is of the whole; of a stripe one follows for each band, of a print one for each thing that
/// must stay clear. Lettering has a sheet of its own and says nothing here. `given_length` tells that the rule for its place gives a
/// stripe its length.
///
/// ```
/// # use windrift_core::{art::{Art, said::said, stripe::Stripe}, ground::{said::plainly, tape::Unit}};
/// let stripe = Art::Stripe(Stripe::of_width("beltline", "#14524d", 101.6));
/// let said = said(&stripe, true, Unit::InchSixteenth);
/// assert_eq!(plainly(&said[1]), "Band 1 lies 0 below the stripe's upper edge, 4 wide at the front and 4 at the rear.");
/// ```
pub fn said(art: &Art, given_length: bool, unit: Unit) -> Vec<Vec<Said>> {
    match art {
        Art::Lettering(_) => Vec::new(),
        Art::Stripe(stripe) => stripe_said(stripe, given_length, unit),
        Art::Drawing(drawing) => vec![drawing_said(drawing, unit)],
        Art::Panel(panel) => panel_said(panel, unit),
    }
}

fn stripe_said(stripe: &Stripe, given_length: bool, unit: Unit) -> Vec<Vec<Said>> {
    let mut whole = Saying::new(unit);
    whole.words("It");
    if !given_length {
        whole
            .words("is")
            .length("/art/length_mm", stripe.length_mm.mm(), "Length")
            .words("long,");
    }
    whole
        .words("keeps off hardware by")
        .length(
            "/art/clearance_mm",
            stripe.clearance_mm.mm(),
            "Keeps off hardware by",
        )
        .words(", goes round each end by")
        .length(
            "/art/wrap_mm",
            stripe.wrap_mm.mm(),
            "Goes round each end by",
        )
        .words(", to be trimmed inside the edge, and")
        .one_of(
            "/art/parted",
            stripe.parted,
            "At door gaps",
            offered([
                (false, "runs over door gaps"),
                (true, "is parted at door gaps"),
            ]),
        );
    if stripe.parted {
        whole
            .words(",")
            .length(
                "/art/margin_mm",
                stripe.margin_mm.mm(),
                "Margin on each side of a gap",
            )
            .words("short of each side of a gap");
    }
    whole.words(".");
    let bands = (0..).zip(&stripe.bands).map(|(n, band)| {
        let at = |field: &str| format!("/art/bands/{n}/{field}");
        let mut said = Saying::new(unit);
        said.words(&format!("Band {} lies", n + 1));
        let (label, under) = if n == 0 {
            (
                "Gap above band 1".to_owned(),
                "below the stripe's upper edge,".to_owned(),
            )
        } else {
            (format!("Gap to band {n}"), format!("below band {n},"))
        };
        said.length(&at("gap_mm"), band.gap_mm.mm(), label)
            .words(&under)
            .length(
                &at("front_width_mm"),
                band.front_width_mm.mm(),
                "Width at the front",
            )
            .words("wide at the front and")
            .length(
                &at("rear_width_mm"),
                band.rear_width_mm.mm(),
                "Width at the rear",
            )
            .words("at the rear.");
        said.done()
    });
    std::iter::once(whole.done()).chain(bands).collect()
}

fn drawing_said(drawing: &Drawing, unit: Unit) -> Vec<Said> {
    let mut said = Saying::new(unit);
    said.words("It is cut")
        .length_or(
            "/art/width_mm",
            drawing.width_mm.map(|w| w.mm()),
            "Width, where it is not as drawn",
            "as wide as drawn",
        )
        .words(if drawing.width_mm.is_some() {
            "wide,"
        } else {
            ","
        })
        .one_of(
            "/art/flipped",
            drawing.flipped,
            "Which way it is cut",
            offered([
                (false, "the way it was drawn"),
                (true, "turned over, for the other side"),
            ]),
        )
        .words(". It");
    // What the file leaves away stands alone: the tag is what is chosen.
    let seam = match drawing.seam {
        Seam::None => "none",
        Seam::Butt => "butt",
        Seam::Overlap { .. } => "overlap",
    };
    said.one_of(
        "/art/seam/seam",
        seam,
        "Meets the piece before it",
        offered([
            ("none", "stands alone"),
            ("butt", "meets the piece before it edge to edge, no gap"),
            ("overlap", "overlaps the piece before it"),
        ]),
    );
    if let Seam::Overlap { overlap_mm } = drawing.seam {
        said.words("by")
            .length("/art/seam/overlap_mm", overlap_mm.mm(), "Overlaps by");
    }
    said.words(". If it does not quite fit, the error").one_of(
        "/art/error_to",
        match drawing.error_to {
            ErrorTo::Evenly => "evenly",
            ErrorTo::AwayFromPoint => "away_from_point",
        },
        "If it does not quite fit, the error",
        offered([
            ("evenly", "is shared by all points"),
            ("away_from_point", "runs away from its point"),
        ]),
    );
    said.words(".");
    said.done()
}

fn panel_said(panel: &PrintedPanel, unit: Unit) -> Vec<Vec<Said>> {
    let mut whole = Saying::new(unit);
    whole
        .words("As trimmed it is")
        .length("/art/width_mm", panel.width_mm.mm(), "Width as trimmed")
        .words("wide and")
        .length("/art/height_mm", panel.height_mm.mm(), "Height as trimmed")
        .words("high, and its bleed is");
    match &panel.bleeds {
        None => {
            whole
                .length("/art/bleed_mm", panel.bleed_mm.mm(), "Bleed on every side")
                .words("on")
                .choice("/art/bleeds", "every side");
        }
        Some(b) => {
            whole
                .length(
                    "/art/bleeds/front_mm",
                    b.front_mm.mm(),
                    "Bleed at the front",
                )
                .words("at the front,")
                .length("/art/bleeds/rear_mm", b.rear_mm.mm(), "Bleed at the rear")
                .words("at the rear,")
                .length("/art/bleeds/top_mm", b.top_mm.mm(), "Bleed above")
                .words("above and")
                .length("/art/bleeds/foot_mm", b.foot_mm.mm(), "Bleed below")
                .words("below,")
                .choice("/art/bleeds", "each edge by itself");
        }
    }
    if let Some(picture) = &panel.picture {
        whole.words(". Its picture fills").one_of(
            "/art/picture/fills",
            match picture.fills {
                Fills::Trimmed => "trimmed",
                Fills::WithBleed => "with_bleed",
            },
            "Its picture fills",
            offered([
                ("trimmed", "the print as trimmed"),
                ("with_bleed", "the print with its bleed"),
            ]),
        );
    }
    whole.words(".");
    let keys = (0..).zip(&panel.keys).map(|(n, key)| {
        let at = |field: &str| format!("/art/keys/{n}/{field}");
        let mut said = Saying::new(unit);
        said.words(&format!("\u{201c}{}\u{201d} is", key.name))
            .length(&at("width_mm"), key.width_mm.mm(), "Width")
            .words("wide and")
            .length(&at("height_mm"), key.height_mm.mm(), "Height")
            .words("high,")
            .length(&at("right_mm"), key.right_mm.mm(), "From the left trim")
            .words("from the left trim edge and")
            .length(&at("down_mm"), key.down_mm.mm(), "From the top trim")
            .words("from the top one, and must stay clear.");
        said.done()
    });
    std::iter::once(whole.done()).chain(keys).collect()
}
