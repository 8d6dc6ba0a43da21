//! Drawing files and photos against libraries that are not ours: ezdxf, svgelements, shapely, OpenCV and Pillow made the files and
//! figures (tools/reference/drawings.py, photos.py); usvg and the dxf crate read what Windrift writes.

use std::fs;
use std::path::PathBuf;

use image::{ImageFormat, RgbImage};
use kurbo::{Point, Rect};
use serde_json::Value;
use uuid::Uuid;
use windrift_core::ground::homography::Homography;
use windrift_core::ground::outline::signed_area;
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::plan::around::JobAround;
use windrift_core::plan::plan_side;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::square_up::square_up;
use windrift_core::vehicle::surface::Surface;
use windrift_formats::drawing::open::open;
use windrift_formats::drawing::take::take;
use windrift_formats::drawing::{FileError, FileUnit, Opened};
use windrift_formats::{dxf, photo};

fn data(name: &str) -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR"))
        .join("data")
        .join(name)
}

fn read(name: &str, unit: FileUnit) -> Result<Opened, FileError> {
    open(&fs::read(data(&format!("drawings/{name}"))).unwrap(), unit)
}

fn figures() -> Value {
    serde_json::from_slice(&fs::read(data("drawings/figures.json")).unwrap()).unwrap()
}

fn assert_figures(opened: &Opened, figures: &Value, within: f64) {
    let outline = &opened.outlines[0];
    let bounds = windrift_core::ground::outline::bounds_of(outline.iter().copied());
    for (ours, name) in [
        (signed_area(outline).abs(), "area_mm2"),
        (bounds.width(), "width_mm"),
        (bounds.height(), "height_mm"),
    ] {
        let theirs = figures[name].as_f64().unwrap();
        assert!(
            (ours / theirs - 1.0).abs() < within,
            "{name}: {ours} against {theirs}"
        );
    }
}

#[test]
fn dxf_files_of_ezdxf_have_the_areas_that_ezdxf_and_shapely_find() {
    let figures = figures();
    for (name, unit) in [
        ("box-of-lines-inches.dxf", FileUnit::AsTheFileSays),
        ("van-with-bulges-metres.dxf", FileUnit::AsTheFileSays),
        ("hull-with-spline-mm.dxf", FileUnit::AsTheFileSays),
        ("ellipse-no-unit.dxf", FileUnit::Millimetre),
        ("box-release-12.dxf", FileUnit::Inch),
        ("other-things-mm.dxf", FileUnit::AsTheFileSays),
    ] {
        let opened = read(name, unit).unwrap_or_else(|e| panic!("{name}: {e}"));
        assert_figures(&opened, &figures["dxf"][name], 1e-3);
    }
    assert_eq!(
        read("ellipse-no-unit.dxf", FileUnit::AsTheFileSays),
        Err(FileError::NoUnit)
    );
    assert_eq!(
        read("box-release-12.dxf", FileUnit::AsTheFileSays),
        Err(FileError::NoUnit)
    );
}

#[test]
fn svg_files_have_the_areas_that_svgelements_and_shapely_find() {
    let figures = figures();
    for (name, unit, within) in [
        ("door-mm.svg", FileUnit::AsTheFileSays, 1e-3),
        ("inch-view.svg", FileUnit::AsTheFileSays, 1e-3),
        ("panel-pixels.svg", FileUnit::Millimetre, 1e-6),
    ] {
        // svgelements counts CSS pixels where the file gives a size.
        assert_figures(
            &read(name, unit).unwrap_or_else(|e| panic!("{name}: {e}")),
            &figures["svg"][name],
            within,
        );
    }
    assert_eq!(
        read("panel-pixels.svg", FileUnit::AsTheFileSays),
        Err(FileError::NoUnit)
    );
    let inches = read("panel-pixels.svg", FileUnit::Inch).unwrap();
    assert!((signed_area(&inches.outlines[0]).abs() / (1080.0 * 25.4 * 25.4) - 1.0).abs() < 1e-6);
}

/// Colours are told as CSS Color Module Level 3 writes them: by name, rgb, hsl, and as they are inherited.
#[test]
fn an_outline_has_the_colour_that_it_is_seen_in() {
    let svg = br##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 900 900" width="900mm" height="900mm"><style>.b { fill: rgb(0, 0, 255) }</style>
        <g fill="tomato"><rect width="90" height="90"/></g><rect class="b" width="80" height="80"/><rect style="fill:hsl(120,100%,25%)" width="70" height="70"/>
        <rect fill="currentColor" color="#123456" width="60" height="60"/><rect width="50" height="50"/><rect fill="none" stroke="red" width="40" height="40"/>
        <path fill="#0f0" d="M0 0H30V30H0L0 0"/></svg>"##;
    let opened = open(svg, FileUnit::AsTheFileSays).unwrap();
    let fills: Vec<Option<&str>> = opened.drawn.iter().map(|d| d.fill.as_deref()).collect();
    let seen = ["#ff6347", "#0000ff", "#008000", "#123456", "#000000"].map(Some);
    // A bare line has none; what is not closed by a Z is filled all the same.
    let rest = [None, Some("#00ff00")];
    assert_eq!(fills, [&seen[..], &rest[..]].concat());
}

#[test]
fn what_was_not_used_is_told() {
    let told = read("other-things-mm.dxf", FileUnit::AsTheFileSays)
        .unwrap()
        .not_used;
    for word in ["1 MTEXT", "1 HATCH"] {
        assert!(told.iter().any(|t| t.starts_with(word)), "{word}: {told:?}");
    }
    // Of what closes beside the side's own outline and not within it.
    let opened = read("box-of-lines-inches.dxf", FileUnit::AsTheFileSays).unwrap();
    let taken = take(&opened, "box", None, true, Unit::InchSixteenth).unwrap();
    assert_eq!(taken.within.len() + usize::from(taken.beside.is_some()), 1);
    let told = read("panel-pixels.svg", FileUnit::Millimetre)
        .unwrap()
        .not_used;
    assert!(
        told.iter().any(|t| t.contains("1 piece of text")),
        "{told:?}"
    );
}

#[test]
fn scripts_are_never_run_and_nothing_outside_is_fetched() {
    let hostile = r##"<?xml version="1.0"?>
<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="50mm" viewBox="0 0 100 50" onload="steal()">
<script>steal()</script><image xlink:href="http://127.0.0.1:9/a.png" width="5" height="5"/><use href="http://127.0.0.1:9/b.svg#c"/>
<rect width="100" height="50" style="fill:url(http://127.0.0.1:9/d)"/></svg>"##;
    let opened = open(hostile.as_bytes(), FileUnit::AsTheFileSays).unwrap();
    assert_eq!(opened.outlines.len(), 1);
    let told = opened.not_used.join(" ");
    assert!(
        told.contains("2 scripts were") && told.contains("3 references to elsewhere were"),
        "{told}"
    );
}

#[test]
fn bad_files_are_refused_in_words() {
    let says = |bytes: &[u8], unit| open(bytes, unit).unwrap_err().to_string();
    assert!(says(b"%PDF-1.7 not a drawing", FileUnit::Millimetre).contains("neither SVG nor DXF"));
    assert!(
        says(
            b"<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=",
            FileUnit::Millimetre
        )
        .contains("cannot be read")
    );
    assert!(
        says(
            b"0\nSECTION\n2\nENTITIES\n0\nLINE\n10\nx\n",
            FileUnit::Millimetre
        )
        .contains("cannot be read")
    );
    let empty =
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 9 9\"><text>hi</text></svg>";
    assert!(says(empty.as_bytes(), FileUnit::Millimetre).contains("no line in the file"));
    let open_line = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 900 900\"><path fill=\"none\" stroke=\"#000\" d=\"M0 0H800V500H90V40\"/></svg>";
    assert!(says(open_line.as_bytes(), FileUnit::Millimetre).contains("98.5 mm apart"));
    // A hundred thousand lines: counted before they are read.
    let mut many = String::from("0\nSECTION\n2\nENTITIES\n");
    for n in 0..100_000 {
        many += &format!("0\nLINE\n8\n0\n10\n{n}\n20\n0\n11\n{n}\n21\n5\n");
    }
    many += "0\nENDSEC\n0\nEOF\n";
    assert_eq!(
        open(many.as_bytes(), FileUnit::Millimetre),
        Err(FileError::TooManyShapes { found: 100_000 })
    );
    let many = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\">{}</svg>",
        "<path d=\"M0 0h1\"/>".repeat(100_000)
    );
    assert_eq!(
        open(many.as_bytes(), FileUnit::Millimetre),
        Err(FileError::TooManyShapes { found: 100_000 })
    );
}

/// A made-up side with one of each form.
fn side() -> windrift_core::plan::planned::SidePlan {
    let body = Body::Panel {
        top_mm: 2400.0.into(),
        bottom_mm: 2200.0.into(),
        height_mm: 900.0.into(),
        bottom_starts_mm: 100.0.into(),
        corner_mm: 0.0.into(),
        top_bow_mm: 0.0.into(),
        bottom_bow_mm: 0.0.into(),
    };
    let rectangle = Form::Rectangle {
        back_mm: 400.0.into(),
        drop_mm: 200.0.into(),
        to: MeasuredTo::Corner,
        width_mm: 300.0.into(),
        height_mm: 150.0.into(),
        repeat: Repeat {
            count: 2,
            pitch_mm: 600.0.into(),
            ..Repeat::ONCE
        },
    };
    let heads = Form::Heads {
        first_mm: 300.0.into(),
        pitch_mm: 200.0.into(),
        columns: 4,
        first_head_mm: 600.0.into(),
        head_pitch_mm: 100.0.into(),
        heads: 2,
        head_mm: 12.0.into(),
    };
    let seam = Form::Upright {
        first_mm: 1200.0.into(),
        pitch_mm: 0.0.into(),
        count: 1,
    };
    let features: Vec<SideFeature> = [
        (FeatureKind::Handle, rectangle),
        (FeatureKind::Rivets, heads),
        (FeatureKind::PanelSeam, seam),
    ]
    .into_iter()
    .enumerate()
    .map(|(n, (kind, form))| SideFeature {
        id: Uuid::from_u128(n as u128),
        feature: Feature::new(kind, form),
    })
    .collect();
    let side = Side::new(SideKind::Left, body, Surface::default());
    plan_side(
        &side,
        &features,
        &[],
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::Millimetre,
    )
    .unwrap()
}

#[test]
fn a_side_written_as_dxf_is_the_one_that_was_measured_elsewhere() {
    let written = dxf::side(&side());
    let kept = data("drawings/exported.dxf");
    if std::env::var_os("WINDRIFT_WRITE_DXF").is_some() {
        fs::write(&kept, &written).unwrap();
    }
    assert_eq!(
        written,
        fs::read_to_string(&kept).unwrap(),
        "written otherwise than what ezdxf measured: see tools/reference/drawings.py"
    );
    let theirs: Value =
        serde_json::from_slice(&fs::read(data("drawings/exported.json")).unwrap()).unwrap();
    assert_eq!(
        (&theirs["units"], &theirs["errors"]),
        (&4.into(), &0.into())
    );
    let layer = |name: &str, what: &str| theirs["layers"][name][what].as_f64().unwrap();
    assert!((layer("OUTLINE", "area_mm2") - 2300.0 * 900.0).abs() < 1.0);
    assert_eq!(
        (
            layer("OUTLINE", "x0"),
            layer("OUTLINE", "x1"),
            layer("OUTLINE", "y0")
        ),
        (0.0, 2400.0, -900.0)
    );
    assert_eq!(layer("FEATURES", "entities"), 2.0);
    assert!((layer("FEATURES", "area_mm2") - 2.0 * 300.0 * 150.0).abs() < 0.1);
    assert_eq!(layer("HEADS", "entities"), 8.0);
    assert!(
        (layer("HEADS", "x0") - 294.0).abs() < 0.01 && (layer("HEADS", "y1") + 594.0).abs() < 0.01
    );
    assert_eq!(
        (layer("LINES", "x0"), layer("LINES", "x1")),
        (1200.0, 1200.0)
    );
}

#[test]
fn our_own_dxf_comes_back_as_it_went() {
    let plan = side();
    let opened = open(dxf::side(&plan).as_bytes(), FileUnit::AsTheFileSays).unwrap();
    let taken = take(&opened, "own.dxf", Some(2400.0), true, Unit::Millimetre).unwrap();
    assert_eq!(
        taken.fit.as_deref(),
        Some("The file says 2400 mm, and so does the tape.")
    );
    let Body::Drawn { outline, .. } = &taken.body else {
        panic!()
    };
    for corner in [[0.0, 0.0], [2400.0, 0.0], [2300.0, 900.0], [100.0, 900.0]] {
        assert!(
            outline
                .iter()
                .any(|p| (p[0] - corner[0]).hypot(p[1] - corner[1]) < 0.01),
            "{corner:?} {outline:?}"
        );
    }
}

#[test]
fn a_tilted_panel_squares_up_to_the_panel_that_opencv_tilted() {
    let tilted = photo::raster(&fs::read(data("photos/tilted.png")).unwrap()).unwrap();
    let panel = photo::raster(&fs::read(data("photos/panel.png")).unwrap()).unwrap();
    let corners = [(70.0, 60.0), (430.0, 30.0), (410.0, 250.0), (50.0, 210.0)];
    let square = [(0.0, 0.0), (320.0, 0.0), (320.0, 160.0), (0.0, 160.0)];
    let pairs = [0, 1, 2, 3].map(|n| (Point::from(square[n]), Point::from(corners[n])));
    let map = Homography::through(&pairs).unwrap();
    let squared = square_up(&tilted, &map, Rect::new(0.0, 0.0, 320.0, 160.0), 320);
    assert_eq!((squared.width, squared.height), (320, 160));
    // In the middle of every square the colour is that of the panel; at the edges two ways of resampling differ.
    let mut worst = 0;
    for row in 0..8 {
        for column in 0..16 {
            let at = ((row * 20 + 10) * 320 + column * 20 + 10) * 3;
            for n in 0..3 {
                worst = worst.max(squared.rgb[at + n].abs_diff(panel.rgb[at + n]));
            }
        }
    }
    assert!(worst <= 6, "{worst}");
}

#[test]
fn a_photo_is_turned_upright_made_smaller_and_forgets_its_place() {
    let turned = fs::read(data("photos/turned.jpg")).unwrap();
    let has = |bytes: &[u8], word: &[u8]| bytes.windows(word.len()).any(|w| w == word);
    assert!(has(&turned, b"Exif") && has(&turned, b"made-up place"));
    let kept = photo::take(&turned, photo::LONGEST_EDGE).unwrap();
    assert!(!has(&kept.jpeg, b"Exif") && !has(&kept.jpeg, b"made-up place"));
    assert!(!has(&kept.small, b"Exif"));
    // Taken lying, to be turned a quarter clockwise: what was left is up.
    assert_eq!((kept.width, kept.height), (40, 60));
    let upright = photo::raster(&kept.jpeg).unwrap();
    let colour = |x: u32, y: u32| &upright.rgb[((y * 40 + x) * 3) as usize..][..3];
    assert!(
        colour(20, 10)[0] > 180 && colour(20, 10)[2] < 90,
        "{:?}",
        colour(20, 10)
    );
    assert!(colour(20, 50)[2] > 180, "{:?}", colour(20, 50));

    let mut large = std::io::Cursor::new(Vec::new());
    RgbImage::from_fn(3000, 900, |x, y| {
        image::Rgb([(x / 12) as u8, (y / 4) as u8, 90])
    })
    .write_to(&mut large, ImageFormat::Png)
    .unwrap();
    let kept = photo::take(large.get_ref(), photo::LONGEST_EDGE).unwrap();
    assert_eq!((kept.width, kept.height), (2000, 600));
    let small = photo::raster(&kept.small).unwrap();
    assert_eq!((small.width, small.height), (400, 120));
    // Of a whole side more is kept, and on paper less of it.
    let whole = photo::take(large.get_ref(), photo::LARGE_EDGE).unwrap();
    assert_eq!((whole.width, whole.height), (3000, 900));
    let printed = photo::raster(&photo::for_paper(&whole.jpeg, 1500).unwrap()).unwrap();
    assert_eq!((printed.width, printed.height), (1500, 450));
}

#[test]
fn what_is_not_a_photo_is_refused_by_content() {
    let says = |bytes: &[u8]| {
        photo::take(bytes, photo::LONGEST_EDGE)
            .unwrap_err()
            .to_string()
    };
    assert!(says(b"<svg xmlns='http://www.w3.org/2000/svg'/>").contains("not a photo"));
    assert!(says(b"GIF89a............").contains("not a photo"));
    assert!(says(b"").contains("not a photo"));
    let turned = fs::read(data("photos/turned.jpg")).unwrap();
    assert!(
        says(&turned[..turned.len() / 3]).contains("damaged")
            || says(&turned[..200]).contains("damaged")
    );
    assert!(says(&vec![0; 21 * 1024 * 1024]).contains("larger than 20 MB"));
    // A few bytes that claim 60 000 × 60 000 pixels.
    let mut bomb = fs::read(data("photos/panel.png")).unwrap();
    bomb[16..24].copy_from_slice(&[0, 0, 0xea, 0x60, 0, 0, 0xea, 0x60]);
    assert!(says(&bomb).contains("more pixels") || says(&bomb).contains("damaged"));
}

/// A DXF file of these entities and blocks, in millimetres.
fn dxf_of(blocks: &str, entities: &str) -> String {
    format!(
        "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n"
    )
}

fn closed_polyline(points: &[(f64, f64)]) -> String {
    let mut text = format!("0\nLWPOLYLINE\n8\n0\n90\n{}\n70\n1\n", points.len());
    for (x, y) in points {
        text.push_str(&format!("10\n{x}\n20\n{y}\n"));
    }
    text
}

fn insert(name: &str, at: (f64, f64), size: (f64, f64), turned: f64) -> String {
    format!(
        "0\nINSERT\n8\n0\n2\n{name}\n10\n{}\n20\n{}\n41\n{}\n42\n{}\n50\n{turned}\n",
        at.0, at.1, size.0, size.1
    )
}

#[test]
fn blocks_are_taken_apart_where_they_stand() {
    // A window of 2 by 1 about the corner (1, 1) of its own drawing, and a block of that block.
    let window = format!(
        "0\nBLOCK\n8\n0\n2\nWINDOW\n70\n0\n10\n1\n20\n1\n30\n0\n3\nWINDOW\n{}0\nENDBLK\n8\n0\n",
        closed_polyline(&[(1.0, 1.0), (3.0, 1.0), (3.0, 2.0), (1.0, 2.0)])
    );
    let pair = format!(
        "0\nBLOCK\n8\n0\n2\nPAIR\n70\n0\n10\n0\n20\n0\n30\n0\n3\nPAIR\n{}0\nENDBLK\n8\n0\n",
        insert("WINDOW", (0.0, 0.0), (1.0, 1.0), 0.0)
            + &insert("WINDOW", (3.0, 0.0), (1.0, 1.0), 0.0)
    );
    let body = closed_polyline(&[(0.0, 0.0), (4000.0, 0.0), (4000.0, 2000.0), (0.0, 2000.0)]);
    // 600 by 300 at 400, 1000; the pair turned a quarter at 2000, 500, 200 by 100 each before it is turned.
    let placed = insert("WINDOW", (400.0, 1000.0), (300.0, 300.0), 0.0)
        + &insert("PAIR", (2000.0, 500.0), (100.0, 100.0), 90.0);
    let file = dxf_of(&(window + &pair), &(body + &placed));
    let opened = open(file.as_bytes(), FileUnit::AsTheFileSays).unwrap();
    assert_eq!(opened.not_used, Vec::<String>::new());
    let boxes: Vec<[i64; 4]> = opened
        .outlines
        .iter()
        .map(|o| {
            let b = windrift_core::ground::outline::bounds_of(o.iter().copied());
            [b.x0, b.y0, b.width(), b.height()].map(|v| v.round() as i64)
        })
        .collect();
    // y runs down in what was read: what stood at 1000 up ends at −1300.
    assert!(boxes.contains(&[400, -1300, 600, 300]), "{boxes:?}");
    // Turned a quarter to the left, what ran to the right runs up and what ran up runs to the left.
    assert!(boxes.contains(&[1900, -700, 100, 200]), "{boxes:?}");
    assert!(boxes.contains(&[1900, -1000, 100, 200]), "{boxes:?}");
    assert_eq!(boxes.len(), 4);

    let gone = dxf_of(
        "",
        &(closed_polyline(&[(0.0, 0.0), (9.0, 0.0), (9.0, 9.0)])
            + &insert("DOOR", (0.0, 0.0), (1.0, 1.0), 0.0)),
    );
    let told = open(gone.as_bytes(), FileUnit::AsTheFileSays)
        .unwrap()
        .not_used;
    assert!(told[0].contains("1 block was left out"), "{told:?}");
    // A block that holds itself would never end.
    let endless = format!(
        "0\nBLOCK\n8\n0\n2\nSELF\n70\n0\n10\n0\n20\n0\n30\n0\n3\nSELF\n{}0\nENDBLK\n8\n0\n",
        insert("SELF", (1.0, 0.0), (1.0, 1.0), 0.0)
    );
    let endless = dxf_of(&endless, &insert("SELF", (0.0, 0.0), (1.0, 1.0), 0.0));
    assert!(matches!(
        open(endless.as_bytes(), FileUnit::AsTheFileSays),
        Err(FileError::Grows { what: "blocks" })
    ));
}

#[test]
fn what_is_drawn_within_an_outline_is_offered_as_what_it_is() {
    let circle = |x: f64, y: f64, r: f64| format!("0\nCIRCLE\n8\n0\n10\n{x}\n20\n{y}\n40\n{r}\n");
    let rect = |x: f64, y: f64, w: f64, h: f64| {
        closed_polyline(&[(x, y), (x + w, y), (x + w, y + h), (x, y + h)])
    };
    let mut entities = rect(0.0, 0.0, 6000.0, 2400.0);
    // A door, a window in it, a lamp, a socket, three columns of four rivets, and something that is drawn beside the vehicle.
    entities += &rect(4000.0, 150.0, 900.0, 2000.0);
    entities += &rect(4200.0, 1300.0, 500.0, 600.0);
    entities += &rect(60.0, 200.0, 150.0, 60.0);
    entities += &circle(700.0, 400.0, 60.0);
    for column in 0..3 {
        for row in 0..4 {
            entities += &circle(
                1000.0 + 600.0 * f64::from(column),
                400.0 + 500.0 * f64::from(row),
                5.0,
            );
        }
    }
    entities += &rect(8000.0, 0.0, 300.0, 300.0);
    let opened = open(dxf_of("", &entities).as_bytes(), FileUnit::AsTheFileSays).unwrap();
    let taken = take(&opened, "van.dxf", Some(6060.0), true, Unit::Millimetre).unwrap();
    assert!(
        taken
            .beside
            .is_some_and(|b| b.starts_with("1 closed shape beside"))
    );
    let offered = windrift_core::vehicle::inside::offered(&taken.within, taken.size_mm.1);
    let kinds: Vec<FeatureKind> = offered.iter().map(|f| f.kind).collect();
    use FeatureKind::{Glass, Lamp, LockerDoor, Rivets, Socket};
    assert_eq!(kinds, [LockerDoor, Glass, Socket, Lamp, Rivets]);
    // Scaled with the outline to what the tape says: 1 % larger.
    let Form::Heads {
        first_mm,
        pitch_mm,
        columns,
        first_head_mm,
        head_pitch_mm,
        heads,
        head_mm,
    } = offered[4].form
    else {
        panic!("{:?}", offered[4].form)
    };
    assert_eq!((columns, heads), (3, 4));
    for (found, wanted) in [
        (first_mm.mm(), 1010.0),
        (pitch_mm.mm(), 606.0),
        (first_head_mm.mm(), (2400.0 - 1900.0) * 1.01),
        (head_pitch_mm.mm(), 505.0),
        (head_mm.mm(), 10.1),
    ] {
        assert!((found - wanted).abs() <= 0.11, "{found} {wanted}");
    }
    // On a side whose tape runs to the left, the same things from the other end.
    let left = take(&opened, "van.dxf", Some(6060.0), false, Unit::Millimetre).unwrap();
    let door = &windrift_core::vehicle::inside::offered(&left.within, left.size_mm.1)[0];
    assert!((door.form.begins_at().x - (6000.0 - 4900.0) * 1.01).abs() < 0.11);
    // Each of them can be kept on that side: it fits.
    let side = Side::new(SideKind::Left, taken.body, Surface::default());
    let features: Vec<SideFeature> = (1..)
        .map(Uuid::from_u128)
        .zip(offered)
        .map(|(id, feature)| SideFeature { id, feature })
        .collect();
    windrift_core::vehicle::measured::measure::measure(&side, &features).unwrap();
}

#[test]
fn a_wrong_crossing_is_told_where_it_is() {
    // A bow tie: its lines cross in its middle, 30 in back and 10 in down.
    let tie = closed_polyline(&[(0.0, 0.0), (1524.0, 508.0), (1524.0, 0.0), (0.0, 508.0)]);
    let opened = open(dxf_of("", &tie).as_bytes(), FileUnit::AsTheFileSays).unwrap();
    let told = take(&opened, "tie.dxf", None, true, Unit::InchSixteenth)
        .unwrap_err()
        .to_string();
    assert!(
        told.contains("crosses itself 30 back and 10 down"),
        "{told}"
    );
}
