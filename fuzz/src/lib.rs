//! What every target does with its bytes. The tests replay the corpora through the same functions.

use windrift_core::art::clean::clean;
use windrift_core::art::typeface::Typeface;
use windrift_core::ground::budget::{Budget, within};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::{Unit, parse, parse_signed, print};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::vehicle::measured::MeasuredSide;
use windrift_core::vehicle::measured::measure::measure;
use windrift_core::vehicle::side::Side;
use windrift_formats::drawing::FileUnit;
use windrift_formats::drawing::open::open;
use windrift_formats::photo;

/// Lengths as they are typed: whatever is read prints as something that reads as the same.
pub fn lengths(data: &[u8]) {
    let Ok(text) = std::str::from_utf8(data) else {
        return;
    };
    for unit in [
        Unit::InchSixteenth,
        Unit::InchThirtySecond,
        Unit::Millimetre,
    ] {
        let _ = parse_signed(text, unit);
        if let Ok(mm) = parse(text, unit) {
            assert!(mm.is_finite() && mm >= 0.0);
            let printed = print(mm, unit);
            let again = parse(&printed.text, unit).expect("what is printed can be read");
            assert!(
                (again + printed.remainder_mm - mm).abs() < 1e-6,
                "{text:?}: {mm} {printed:?}"
            );
        }
    }
}

fn drawing(data: &[u8]) {
    if let Ok(opened) = open(data, FileUnit::Millimetre) {
        assert!(opened.outlines.iter().flatten().all(|p| p.is_finite()));
        let _ = within(Budget::of_steps(3_000_000), || {
            clean(&opened.outlines, &opened.drawn)
        });
    }
}

/// SVG files, with what a file must begin with put before the bytes.
pub fn svg(data: &[u8]) {
    drawing(data);
}

/// DXF files.
pub fn dxf(data: &[u8]) {
    drawing(data);
}

/// Typeface files: opened, a line set, a few letters drawn.
pub fn font(data: &[u8]) {
    let _ = within(Budget::of_steps(3_000_000), || {
        let Ok(face) = Typeface::open("fuzzed", "fuzzed", data.to_vec()) else {
            return;
        };
        for (set, _) in [face.set("HAVEN fi AV", true), face.set("x", false)] {
            for glyph in set {
                let _ = face.drawing(glyph.glyph);
            }
        }
    });
}

/// Photos.
pub fn image(data: &[u8]) {
    let _ = photo::take(data, photo::LARGE_EDGE);
}

fn side() -> MeasuredSide {
    let side: Side = serde_json::from_value(serde_json::json!({
        "version": 1, "kind": "left", "facing": "left", "front": "left", "rail": "top rail",
        "body": { "shape": "box", "length_mm": 7315.2, "height_mm": 2184.4, "fall_mm": 0.0 },
        "surface": { "material": "painted_aluminium", "finish": "original" },
    }))
    .expect("a side");
    measure(&side, &[]).expect("a side")
}

/// A piece as a client may send it, or a side: read, drawn, placed, planned.
pub fn json(data: &[u8]) {
    if let Ok(piece) = serde_json::from_slice::<Piece>(data) {
        let side = side();
        let rows = [(uuid::Uuid::nil(), piece)];
        let plan = || {
            plan_side(
                &side.side,
                &[],
                &rows,
                &JobAround::default(),
                &WorkSettings::default(),
                Unit::InchSixteenth,
            )
        };
        let _ = within(Budget::of_steps(3_000_000), plan);
    }
    if let Ok(side) = serde_json::from_slice::<Side>(data) {
        let _ = within(Budget::of_steps(3_000_000), || measure(&side, &[]));
    }
}
