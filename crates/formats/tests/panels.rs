//! Panels at full size, read by programs of others: page boxes and embedded pictures of the PDF (poppler), sizes and bytes of the SVG.

use std::process::Command;

use image::ImageEncoder as _;
use kurbo::Rect;
use windrift_formats::panel_files::PanelFile;

fn jpeg() -> Vec<u8> {
    let pixels: Vec<u8> = (0..400 * 150)
        .flat_map(|n: u32| [(n % 251) as u8, (n / 400) as u8, 90])
        .collect();
    let mut file = Vec::new();
    image::codecs::jpeg::JpegEncoder::new(&mut file)
        .write_image(&pixels, 400, 150, image::ExtendedColorType::Rgb8)
        .unwrap();
    file
}

const LAPS: [Rect; 1] = [Rect::new(1200.0, 0.0, 1225.4, 1500.0)];

fn panel<'a>(picture: Option<&'a [u8]>) -> PanelFile<'a> {
    PanelFile {
        name: "side & rear",
        number: (2, 3),
        panel: Rect::new(1200.0, 0.0, 2500.0, 1500.0),
        trim: Rect::new(25.0, 25.0, 3975.0, 1475.0),
        laps: &LAPS,
        colour: "#23405c",
        picture: picture.map(|p| (p, Rect::new(25.0, 25.0, 3975.0, 1475.0))),
        told: "Lap 25 mm.",
    }
}

fn poppler(program: &str, args: &[&str], pdf: &[u8]) -> Vec<u8> {
    let file = std::env::temp_dir().join(format!("windrift-panel-{}.pdf", uuid::Uuid::now_v7()));
    std::fs::write(&file, pdf).unwrap();
    let out = Command::new(program)
        .args(args)
        .arg(&file)
        .output()
        .unwrap();
    std::fs::remove_file(&file).unwrap();
    assert!(
        out.status.success(),
        "{program}: {}",
        String::from_utf8_lossy(&out.stderr)
    );
    out.stdout
}

#[test]
fn a_panels_pdf_is_at_full_size_and_its_picture_is_the_one_that_was_given() {
    let picture = jpeg();
    let pdf = panel(Some(&picture)).pdf().unwrap();
    let told = String::from_utf8(poppler("pdfinfo", &[], &pdf)).unwrap();
    let size = told.lines().find(|l| l.starts_with("Page size")).unwrap();
    let points: Vec<f64> = size
        .split_whitespace()
        .filter_map(|w| w.parse().ok())
        .collect();
    // 1300 by 1500 mm and 20 mm round it.
    assert!(
        (points[0] - 1340.0 / 25.4 * 72.0).abs() < 0.1
            && (points[1] - 1540.0 / 25.4 * 72.0).abs() < 0.1,
        "{size}"
    );
    let list = String::from_utf8(poppler("pdfimages", &["-list"], &pdf)).unwrap();
    let row: Vec<&str> = list.lines().nth(2).unwrap().split_whitespace().collect();
    // Its own pixels in their own coding, not sampled anew.
    assert_eq!((row[3], row[4], row[8]), ("400", "150", "jpeg"), "{list}");
    let at = |needle: &[u8]| pdf.windows(needle.len()).any(|w| w == needle);
    assert!(at(&picture), "the picture stands in the file byte by byte");
    let file = std::env::temp_dir().join(format!("windrift-panel-{}.pdf", uuid::Uuid::now_v7()));
    std::fs::write(&file, &pdf).unwrap();
    let words = Command::new("pdftotext")
        .arg(&file)
        .arg("-")
        .output()
        .unwrap();
    std::fs::remove_file(&file).unwrap();
    assert!(String::from_utf8_lossy(&words.stdout).contains("side & rear, panel 2 of 3"));
}

#[test]
fn a_panels_svg_is_at_full_size_and_holds_the_picture() {
    let picture = jpeg();
    let svg = panel(Some(&picture)).svg();
    let document = roxmltree::Document::parse(&svg).unwrap();
    let root = document.root_element();
    assert_eq!(
        (root.attribute("width"), root.attribute("height")),
        (Some("1340mm"), Some("1540mm"))
    );
    let tree = usvg::Tree::from_str(&svg, &usvg::Options::default()).unwrap();
    // 96 to the inch, as that reader takes millimetres.
    assert!((f64::from(tree.size().width()) - 1340.0 / 25.4 * 96.0).abs() < 0.1);
    let film = document
        .descendants()
        .find(|n| n.attribute("id") == Some("film"))
        .unwrap();
    assert_eq!(
        (film.attribute("x"), film.attribute("width")),
        (Some("1200"), Some("1300"))
    );
    // A mark beside each end of both edges of its lap, and where its top and foot are trimmed.
    let marks = document
        .descendants()
        .find(|n| n.attribute("id") == Some("marks"))
        .unwrap();
    let paths = marks.children().filter(|n| n.has_tag_name("path")).count();
    assert_eq!(paths, 4 + 4);
    let text: String = document
        .descendants()
        .filter(|n| n.is_text())
        .filter_map(|n| n.text())
        .collect();
    assert!(text.contains("side & rear, panel 2 of 3"));
}

#[test]
fn a_panel_longer_than_a_page_of_pdf_is_told() {
    let long = PanelFile {
        panel: Rect::new(0.0, 0.0, 16_000.0, 1300.0),
        ..panel(None)
    };
    assert!(long.pdf().unwrap_err().to_string().contains("Take the SVG"));
    assert!(long.svg().contains("16040mm"));
}
