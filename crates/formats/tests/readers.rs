//! The file readers by property: what is drawn comes back with its size, and nothing that is thrown at them does more than be refused.

use kurbo::Rect;
use proptest::prelude::*;
use windrift_core::ground::outline::signed_area;
use windrift_formats::drawing::open::open;
use windrift_formats::drawing::{FileUnit, MOST_FILE_POINTS};

fn rects() -> impl Strategy<Value = Vec<Rect>> {
    let one = (
        0.0..4000.0_f64,
        0.0..2000.0_f64,
        5.0..900.0_f64,
        5.0..900.0_f64,
    );
    // Side by side, so that none lies on another.
    proptest::collection::vec(one, 1..6).prop_map(|all| {
        all.into_iter()
            .enumerate()
            .map(|(n, (x, y, w, h))| {
                let x = x / 10.0 + n as f64 * 1500.0;
                Rect::new(x, y, x + w, y + h)
            })
            .collect()
    })
}

/// Each rectangle as one of the ways in which SVG can say it.
fn svg(rects: &[Rect], ways: &[u8]) -> String {
    let bodies: String = rects
        .iter()
        .zip(ways.iter().cycle())
        .map(|(r, way)| {
            let (x, y, w, h) = (r.x0, r.y0, r.width(), r.height());
            match way % 4 {
                0 => format!("<rect x='{x}' y='{y}' width='{w}' height='{h}'/>"),
                1 => format!("<path d='M{x} {y}h{w}v{h}h-{w}z'/>"),
                2 => format!(
                    "<polygon points='{x},{y} {},{y} {},{} {x},{}'/>",
                    x + w,
                    x + w,
                    y + h,
                    y + h
                ),
                _ => format!(
                    "<g transform='translate({x} {y})'><path d='M0 0L{w} 0L{w} {h}L0 {h}Z'/></g>"
                ),
            }
        })
        .collect();
    format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9000 3000'>{bodies}</svg>")
}

/// Lines that close a rectangle, in any direction and order, as DXF entities.
fn dxf(rects: &[Rect], turn: usize) -> String {
    let mut text = String::from("0\nSECTION\n2\nENTITIES\n");
    for r in rects {
        let corners = [(r.x0, r.y0), (r.x1, r.y0), (r.x1, r.y1), (r.x0, r.y1)];
        for n in 0..4 {
            let (a, b) = (corners[(n + turn) % 4], corners[(n + turn + 1) % 4]);
            let (a, b) = if (n + turn).is_multiple_of(3) {
                (b, a)
            } else {
                (a, b)
            };
            text += &format!(
                "0\nLINE\n8\n0\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n",
                a.0, a.1, b.0, b.1
            );
        }
    }
    text + "0\nENDSEC\n0\nEOF\n"
}

fn areas(bytes: &[u8]) -> Vec<f64> {
    let opened = open(bytes, FileUnit::Millimetre).unwrap();
    let mut areas: Vec<f64> = opened
        .outlines
        .iter()
        .map(|c| signed_area(c).abs())
        .collect();
    areas.sort_by(f64::total_cmp);
    areas
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn rectangles_come_back_with_their_areas(rects in rects(), ways in proptest::collection::vec(any::<u8>(), 1..6), turn in 0_usize..12) {
        let mut wanted: Vec<f64> = rects.iter().map(Rect::area).collect();
        wanted.sort_by(f64::total_cmp);
        for found in [areas(svg(&rects, &ways).as_bytes()), areas(dxf(&rects, turn).as_bytes())] {
            prop_assert_eq!(found.len(), wanted.len());
            for (a, b) in found.iter().zip(&wanted) {
                // Single precision within the general SVG reader.
                prop_assert!((a - b).abs() <= b * 1e-4 + 1.0, "{} {}", a, b);
            }
        }
    }

    /// Inches are 25.4 times as long (exactly), so their areas are 645.16 times as large.
    #[test]
    fn the_unit_is_the_one_that_was_said(rects in rects()) {
        let file = dxf(&rects, 0);
        let area = |unit| open(file.as_bytes(), unit).unwrap().outlines.iter().map(|c| signed_area(c).abs()).sum::<f64>();
        let ratio = area(FileUnit::Inch) / area(FileUnit::Millimetre);
        prop_assert!((ratio - 645.16).abs() < 1e-3, "{}", ratio);
    }

    /// A file with bytes changed, cut off or doubled: refused in words, or read within the limits.
    #[test]
    fn a_spoiled_file_is_refused_or_read_within_the_limits(
        rects in rects(), as_dxf in any::<bool>(), cut in 0.0..1.0_f64, spoil in proptest::collection::vec((any::<u16>(), any::<u8>()), 0..12),
    ) {
        let mut file = if as_dxf { dxf(&rects, 1) } else { svg(&rects, &[0, 1, 2, 3]) }.into_bytes();
        for (at, byte) in spoil {
            let at = usize::from(at) % file.len();
            file[at] = byte;
        }
        file.truncate((file.len() as f64 * (0.3 + cut)) as usize);
        match open(&file, FileUnit::Millimetre) {
            Ok(opened) => {
                let points: usize = opened.outlines.iter().map(Vec::len).sum();
                prop_assert!(points <= MOST_FILE_POINTS);
                prop_assert!(opened.outlines.iter().flatten().all(|p| p.x.is_finite() && p.y.is_finite()));
            }
            Err(error) => prop_assert!(error.to_string().len() > 20 && error.to_string().contains('.')),
        }
    }

    #[test]
    fn anything_at_all_is_answered(bytes in proptest::collection::vec(any::<u8>(), 0..4000)) {
        if let Err(error) = open(&bytes, FileUnit::Millimetre) {
            prop_assert!(error.to_string().ends_with('.'));
        }
    }
}
