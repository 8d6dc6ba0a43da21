//! Lettering against fontTools and HarfBuzz on the same font files (table made by tools/reference/glyphs.py).

use serde_json::Value;
use windrift_core::art::typeface::{self, Typefaces};
use windrift_core::ground::outline::bounds_of_shapes;

fn table() -> Value {
    serde_json::from_str(include_str!("data/glyphs.json")).unwrap()
}

#[test]
fn there_are_at_least_six_faces_and_the_table_covers_them_all() {
    let table = table();
    let ids: Vec<&str> = table["faces"]
        .as_array()
        .unwrap()
        .iter()
        .map(|f| f["id"].as_str().unwrap())
        .collect();
    assert!(ids.len() >= 6);
    let mut shipped: Vec<&str> = typeface::shipped()
        .iter()
        .map(|f| f.info.id.as_ref())
        .collect();
    shipped.sort_unstable();
    assert_eq!(shipped, ids);
}

#[test]
fn extents_and_capital_heights_agree_with_fonttools() {
    for face in table()["faces"].as_array().unwrap() {
        let faces = Typefaces::default();
        let shipped = faces.find(face["id"].as_str().unwrap()).unwrap();
        assert_eq!(shipped.units_per_em, face["units_per_em"].as_f64().unwrap());
        assert_eq!(
            shipped.capital_height,
            face["capital_height"].as_f64().unwrap()
        );
        for (letter, expected) in face["letters"].as_object().unwrap() {
            let glyph = shipped.glyph_of(letter.chars().next().unwrap()).unwrap();
            let drawing = shipped.drawing(glyph);
            let bounds = bounds_of_shapes(&drawing.shapes);
            // Ours is y down, theirs y up. Flattening may cut a curve's summit by up to the tolerance.
            let ours = [bounds.x0, -bounds.y1, bounds.x1, -bounds.y0];
            for (n, theirs) in expected["bounds"].as_array().unwrap().iter().enumerate() {
                let theirs = theirs.as_f64().unwrap();
                assert!(
                    (ours[n] - theirs).abs() < 0.2,
                    "{} {letter} {n}: {} against {theirs}",
                    shipped.info.id,
                    ours[n]
                );
            }
        }
    }
}

#[test]
fn advances_and_kerning_agree_with_harfbuzz() {
    let mut kerned_differ = 0;
    for face in table()["faces"].as_array().unwrap() {
        let faces = Typefaces::default();
        let shipped = faces.find(face["id"].as_str().unwrap()).unwrap();
        for line in face["lines"].as_array().unwrap() {
            let (text, kerned) = (
                line["text"].as_str().unwrap(),
                line["kerned"].as_bool().unwrap(),
            );
            let (glyphs, advance) = shipped.set(text, kerned);
            assert_eq!(
                advance,
                line["advance"].as_f64().unwrap(),
                "{} {text} {kerned}",
                shipped.info.id
            );
            let ours: Vec<(f64, f64)> = glyphs.iter().map(|g| (f64::from(g.glyph), g.x)).collect();
            let theirs: Vec<(f64, f64)> = line["glyphs"]
                .as_array()
                .unwrap()
                .iter()
                .map(|g| (g[0].as_f64().unwrap(), g[1].as_f64().unwrap()))
                .collect();
            assert_eq!(ours, theirs, "{} {text} {kerned}", shipped.info.id);
            kerned_differ += usize::from(kerned && shipped.set(text, false).1 != advance);
        }
    }
    assert!(
        kerned_differ > 8,
        "kerning changed only {kerned_differ} lines"
    );
}

#[test]
fn drawn_lettering_has_the_size_and_area_that_shapely_finds() {
    let table: Value = serde_json::from_str(include_str!("data/landing.json")).unwrap();
    for case in table["cases"].as_array().unwrap() {
        let drawn = crate::common::draw(&crate::common::lettering(
            case["text"].as_str().unwrap(),
            case["typeface"].as_str().unwrap(),
            case["capital_height_mm"].as_f64().unwrap(),
        ))
        .unwrap();
        let ours = [
            drawn.bounds.x0,
            drawn.bounds.y0,
            drawn.bounds.x1,
            drawn.bounds.y1,
        ];
        for (n, theirs) in case["bounds"].as_array().unwrap().iter().enumerate() {
            assert!(
                (ours[n] - theirs.as_f64().unwrap()).abs() < 0.1,
                "{} {n}: {ours:?}",
                case["text"]
            );
        }
        let shapes: Vec<_> = drawn.parts.iter().flat_map(|p| &p.shapes).collect();
        let area: f64 = shapes.iter().map(|s| s.area()).sum();
        let theirs = case["area_mm2"].as_f64().unwrap();
        assert!(
            (area / theirs - 1.0).abs() < 1e-3,
            "{}: {area} against {theirs}",
            case["text"]
        );
        // The same number of islands: what overlaps was welded, and nothing else.
        assert_eq!(
            shapes.len() as u64,
            case["islands"].as_u64().unwrap(),
            "{}",
            case["text"]
        );
    }
}
