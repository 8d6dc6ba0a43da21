//! Panels at full size, read by programs of others: page boxes and embedded pictures of the PDF (poppler), sizes and bytes of the SVG.

use std::process::Command;

use image::ImageEncoder as _;
use kurbo::Rect;
use windrift_formats::panel_files::PanelFile;
use windrift_formats::print_art::{ArtKind, PrintArt, take_art};

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
        picture: picture.map(|bytes| {
            let kind = ArtKind::Jpeg;
            (
                PrintArt { kind, bytes },
                Rect::new(25.0, 25.0, 3975.0, 1475.0),
            )
        }),
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
    let svg = panel(Some(&picture)).svg().unwrap();
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
    assert!(long.svg().unwrap().contains("16040mm"));
}

/// A page of PDF, written by hand: 200 by 100 points of ink in four colours, none of which is red, green or blue.
fn page_of_ink() -> Vec<u8> {
    let ink = "0 1 1 0 k 0 0 200 100 re f";
    let objects = [
        "<< /Type /Catalog /Pages 2 0 R >>".to_owned(),
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>".to_owned(),
        "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 200 100] /Contents 4 0 R /Resources << >> >>"
            .to_owned(),
        format!("<< /Length {} >>\nstream\n{ink}\nendstream", ink.len()),
    ];
    let mut file = String::from("%PDF-1.4\n");
    let mut starts = Vec::new();
    for (n, object) in (1..).zip(&objects) {
        starts.push(file.len());
        file.push_str(&format!("{n} 0 obj\n{object}\nendobj\n"));
    }
    let table = file.len();
    file.push_str("xref\n0 5\n0000000000 65535 f \n");
    for at in starts {
        file.push_str(&format!("{at:010} 00000 n \n"));
    }
    file.push_str(&format!(
        "trailer << /Size 5 /Root 1 0 R >>\nstartxref\n{table}\n%%EOF\n"
    ));
    file.into_bytes()
}

const DRAWN: &str = r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100" width="200" height="100"><rect width="100" height="100" fill="#00ff00"/><image href="file:///etc/hostname" width="10" height="10"/></svg>"##;

/// The colour of a place on a page of PDF, as an independent program draws it; the place as shares of width and height.
fn colour_at(pdf: &[u8], across: f64, down: f64) -> [u8; 3] {
    let drawn = poppler("pdftoppm", &["-r", "5", "-png"], pdf);
    let picture = image::load_from_memory(&drawn).unwrap().into_rgb8();
    let at = |share: f64, of: u32| (share * f64::from(of)) as u32;
    let (x, y) = (at(across, picture.width()), at(down, picture.height()));
    picture.get_pixel(x, y).0
}

/// A print over two panels: each clips the art as it was given.
fn with_art(kind: ArtKind, bytes: &[u8]) -> PanelFile<'_> {
    let whole = Rect::new(0.0, 0.0, 2600.0, 1500.0);
    PanelFile {
        panel: Rect::new(0.0, 0.0, 1300.0, 1500.0),
        trim: whole,
        laps: &[],
        picture: Some((PrintArt { kind, bytes }, whole)),
        ..panel(None)
    }
}

#[test]
fn a_page_of_pdf_is_printed_with_its_own_ink() {
    let art = page_of_ink();
    let taken = take_art(&art, 600).unwrap();
    assert_eq!(taken.kind, Some(ArtKind::Pdf));
    // Twice as wide as high, like the page.
    assert_eq!((taken.shown.width, taken.shown.height), (600, 300));
    let file = with_art(ArtKind::Pdf, &art);
    let pdf = file.pdf().unwrap();
    // Its content stands in the file as it was written: four inks, nothing turned into red, green and blue.
    let streams: Vec<u8> = unpacked(&pdf);
    let there = |needle: &[u8]| streams.windows(needle.len()).any(|w| w == needle);
    assert!(there(b"0 1 1 0 k"), "the ink's own operator");
    let [red, green, blue] = colour_at(&pdf, 0.5, 0.5);
    assert!(red > 180 && green < 80 && blue < 80, "{red} {green} {blue}");
    // Outside the panel nothing of it is seen.
    assert_eq!(colour_at(&pdf, 0.999, 0.5), [255, 255, 255]);
    let refused = file.svg().unwrap_err().to_string();
    assert!(refused.contains("Take the panel as PDF"), "{refused}");
}

/// Every stream of a PDF, unpacked where it is packed (ISO 32000-1, FlateDecode).
fn unpacked(pdf: &[u8]) -> Vec<u8> {
    use std::io::Read;
    let mut all = Vec::new();
    let mut from = 0;
    let find = |needle: &[u8], from: usize| {
        let found = pdf[from..].windows(needle.len()).position(|w| w == needle);
        found.map(|at| at + from)
    };
    while let Some(at) = find(b"stream\n", from) {
        let begin = at + 7;
        let end = find(b"endstream", begin).unwrap_or(pdf.len());
        let mut plain = Vec::new();
        match flate2::read::ZlibDecoder::new(&pdf[begin..end]).read_to_end(&mut plain) {
            Ok(_) => all.extend(plain),
            Err(_) => all.extend(&pdf[begin..end]),
        }
        from = end + 9;
    }
    all
}

#[test]
fn a_drawing_is_printed_as_it_is_drawn_and_fetches_nothing() {
    let taken = take_art(DRAWN.as_bytes(), 400).unwrap();
    assert_eq!((taken.kind, taken.size), (Some(ArtKind::Svg), (400, 200)));
    let file = with_art(ArtKind::Svg, DRAWN.as_bytes());
    let pdf = file.pdf().unwrap();
    let [red, green, blue] = colour_at(&pdf, 0.5, 0.5);
    assert!(green > 200 && red < 90 && blue < 90, "{red} {green} {blue}");
    // In the SVG of the panel it is a picture of its own, with its own bytes.
    let svg = file.svg().unwrap();
    use base64::Engine as _;
    let own = base64::engine::general_purpose::STANDARD.encode(DRAWN);
    assert!(svg.contains(&format!("data:image/svg+xml;base64,{own}")));
}

#[test]
fn a_png_keeps_its_pixels_and_what_cannot_be_printed_is_told() {
    let mut png = Vec::new();
    let pixels = image::RgbImage::from_fn(300, 150, |x, y| image::Rgb([x as u8, y as u8, 7]));
    pixels
        .write_to(&mut std::io::Cursor::new(&mut png), image::ImageFormat::Png)
        .unwrap();
    let taken = take_art(&png, 100).unwrap();
    // What is shown is smaller; what is printed is not.
    assert_eq!(
        (taken.kind, taken.size, taken.shown.width),
        (Some(ArtKind::Png), (300, 150), 100)
    );
    let pdf = with_art(ArtKind::Png, &png).pdf().unwrap();
    let raw = pixels.into_raw();
    let streams = unpacked(&pdf);
    assert!(
        streams.windows(raw.len()).any(|w| w == raw),
        "every pixel as it was"
    );
    for (file, says) in [
        (&b"%PDF-1.4 nothing"[..], "This PDF cannot be read"),
        (&b"<svg broken"[..], "This SVG cannot be read"),
        (&b"hello"[..], "not a photo"),
    ] {
        let told = take_art(file, 100).unwrap_err().to_string();
        assert!(told.contains(says), "{told}");
    }
}

/// A third of it black, a third dark blue, a third light: two thirds are dark. Pixels of both colours are weighed by hand.
#[test]
fn how_much_of_a_picture_is_dark() {
    let of = |stripes: [[u8; 3]; 3]| {
        let picture =
            image::RgbImage::from_fn(300, 100, |x, _| image::Rgb(stripes[(x / 100) as usize]));
        let mut png = Vec::new();
        picture
            .write_to(&mut std::io::Cursor::new(&mut png), image::ImageFormat::Png)
            .unwrap();
        windrift_formats::photo::dark_share(&png).unwrap()
    };
    let share = of([[0, 0, 0], [20, 30, 80], [200, 210, 190]]);
    assert!((share - 2.0 / 3.0).abs() < 1e-9, "{share}");
    // Pure blue weighs 7 % of white, more than the limit of a quarter of its lightness (5 %); half of it less.
    assert_eq!(of([[0, 0, 255]; 3]), 0.0);
    assert_eq!(of([[0, 0, 128]; 3]), 1.0);
    assert!(windrift_formats::photo::dark_share(b"hello").is_err());
}
