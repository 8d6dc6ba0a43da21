//! Exported files opened and measured by readers that are not ours: SVG by usvg, PDF by Debian's poppler tools.

use std::process::Command;

use usvg::{Node, Options, Tree};
use uuid::Uuid;
use windrift_core::art::Art;
use windrift_core::art::lettering::{Lettering, Size};
use windrift_core::art::printed_panel::{Fills, Picture, PrintedPanel};
use windrift_core::ground::settings::WorkSettings;
use windrift_core::ground::tape::Unit;
use windrift_core::place::rules::{LetterEnd, PlaceRule};
use windrift_core::plan::around::JobAround;
use windrift_core::plan::piece::Piece;
use windrift_core::plan::plan_side;
use windrift_core::plan::planned::SidePlan;
use windrift_core::vehicle::body::Body;
use windrift_core::vehicle::feature::form::Form;
use windrift_core::vehicle::feature::kind::FeatureKind;
use windrift_core::vehicle::feature::{Feature, SideFeature};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::surface::Surface;
use windrift_formats::packet::{Packet, PacketSide, Paper, PhotoLine, RecordLine, write};
use windrift_formats::svg;

fn plan(side: SideKind, length_mm: f64) -> SidePlan {
    let rivets = Form::Heads {
        first_mm: 600.0.into(),
        pitch_mm: 610.0.into(),
        columns: (length_mm / 700.0) as u32,
        first_head_mm: 100.0.into(),
        head_pitch_mm: 110.0.into(),
        heads: 18,
        head_mm: 12.0.into(),
    };
    let features = [Feature::new(FeatureKind::Rivets, rivets)];
    let features: Vec<SideFeature> = features
        .into_iter()
        .map(|feature| SideFeature {
            id: Uuid::now_v7(),
            feature,
        })
        .collect();
    let lettering = Lettering {
        size: Size::OverallWidth {
            width_mm: 2500.0.into(),
        },
        ..Lettering::line("TERN & \"SONS\"", "archivo-black", 1.0)
    };
    let end = if side == SideKind::Left {
        LetterEnd::FirstLetter
    } else {
        LetterEnd::LastLetter
    };
    let piece = Piece::new(
        Art::Lettering(lettering),
        PlaceRule::from_front(457.2, end, 704.85),
    );
    let body = Body::Box {
        length_mm: length_mm.into(),
        height_mm: 2184.4.into(),
        fall_mm: 0.0.into(),
    };
    let body = Side::new(side, body, Surface::default());
    let plan = plan_side(
        &body,
        &features,
        &[(Uuid::now_v7(), piece)],
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    assert!(plan.failed.is_empty());
    plan
}

/// One user unit is one mm when the reader is told that a CSS inch is 25.4 of its pixels.
fn open(text: &str) -> Tree {
    Tree::from_str(
        text,
        &Options {
            dpi: 25.4,
            ..Options::default()
        },
    )
    .unwrap()
}

fn film_box(tree: &Tree, colour: (u8, u8, u8)) -> usvg::Rect {
    fn walk(group: &usvg::Group, colour: (u8, u8, u8), found: &mut Vec<usvg::Rect>) {
        for node in group.children() {
            match node {
                Node::Group(g) => walk(g, colour, found),
                Node::Path(p) => {
                    if let Some(usvg::Paint::Color(c)) = p.fill().map(|f| f.paint())
                        && (c.red, c.green, c.blue) == colour
                    {
                        found.push(p.abs_bounding_box());
                    }
                }
                _ => {}
            }
        }
    }
    let mut found = Vec::new();
    walk(tree.root(), colour, &mut found);
    let edge =
        |f: fn(&usvg::Rect) -> f32, g: fn(f32, f32) -> f32| found.iter().map(f).reduce(g).unwrap();
    usvg::Rect::from_ltrb(
        edge(usvg::Rect::left, f32::min),
        edge(usvg::Rect::top, f32::min),
        edge(usvg::Rect::right, f32::max),
        edge(usvg::Rect::bottom, f32::max),
    )
    .unwrap()
}

#[test]
fn a_piece_for_the_cutter_has_its_full_size_in_mm() {
    let plan = plan(SideKind::Left, 7315.2);
    let text = svg::piece(&plan.pieces[0]);
    assert!(text.contains("width=\"2500mm\""), "{}", &text[..300]);
    let tree = open(&text);
    assert!((tree.size().width() - 2500.0).abs() < 0.01);
    let film = film_box(&tree, (0x14, 0x52, 0x4d));
    assert!(
        (film.width() - 2500.0).abs() < 0.01 && film.left().abs() < 0.01,
        "{film:?}"
    );
    let drawn = plan.pieces[0].drawn.bounds;
    assert!((f64::from(film.height()) - drawn.height()).abs() < 0.01);
}

#[test]
fn a_side_at_full_size_has_the_piece_where_the_rule_says_on_either_side() {
    for side in [SideKind::Left, SideKind::Right] {
        let plan = plan(side, 7315.2);
        let tree = open(&svg::side(&plan, "Van <3>, \"left\""));
        // Room of 50 mm round the body; a right side runs to the left of its front.
        assert!((tree.size().width() - 7415.2).abs() < 0.01);
        let film = film_box(&tree, (0x14, 0x52, 0x4d));
        let front_gap = if side == SideKind::Left {
            film.left() - 50.0
        } else {
            7365.2 - film.right()
        };
        assert!((front_gap - 457.2).abs() < 0.01, "{side:?} {front_gap}");
        assert!((film.width() - 2500.0).abs() < 0.01);
    }
}

#[test]
fn film_on_the_screen_is_the_film_that_is_cut_within_its_tolerance() {
    let plan = plan(SideKind::Left, 7315.2);
    let film: Vec<_> = plan.pieces[0].film().collect();
    let (exact, screen) = (svg::path_data(&film), svg::screen_path(&film, 0.25));
    assert!(
        screen.len() * 5 < exact.len(),
        "{} against {}",
        screen.len(),
        exact.len()
    );
    let wrapped = |d: &str| {
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 7400 2200\"><path fill=\"#000000\" d=\"{d}\"/></svg>"
        )
    };
    let (cut, seen) = (
        film_box(&open(&wrapped(&exact)), (0, 0, 0)),
        film_box(&open(&wrapped(&screen)), (0, 0, 0)),
    );
    for edge in [
        usvg::Rect::left,
        usvg::Rect::top,
        usvg::Rect::right,
        usvg::Rect::bottom,
    ] {
        assert!((edge(&cut) - edge(&seen)).abs() < 0.35, "{cut:?} {seen:?}");
    }
}

pub fn poppler(tool: &str, arguments: &[&str], pdf: &[u8]) -> String {
    let file = std::env::temp_dir().join(format!("windrift-{}.pdf", Uuid::now_v7()));
    std::fs::write(&file, pdf).unwrap();
    let path = file.to_str().unwrap();
    let mut all: Vec<&str> = arguments.to_vec();
    all.push(path);
    if tool == "pdftotext" {
        all.push("-");
    }
    let output = Command::new(tool)
        .args(all)
        .output()
        .expect("poppler-utils is installed by ./windrift test");
    std::fs::remove_file(&file).unwrap();
    assert!(
        output.status.success(),
        "{}",
        String::from_utf8_lossy(&output.stderr)
    );
    String::from_utf8_lossy(&output.stdout).into_owned()
}

/// Images as `pdfimages -list` tells them, column by column.
fn images(listed: &str) -> Vec<Vec<&str>> {
    let rows = listed.lines().skip(2);
    rows.map(|l| l.split_whitespace().collect()).collect()
}

fn packet_of(plan: &SidePlan, lines: i64) -> Packet {
    Packet {
        photos: Default::default(),
        shop: "Ternhaven Sign & Film".into(),
        title: "Tideway mobile library".into(),
        customer: "Tideway Library Service".into(),
        issued: "Plan 2, issued 24 Nov 2026 14:05 UTC by Maren".into(),
        printed: "Printed 2 Dec 2026 08:10 UTC".into(),
        clock: "UTC".into(),
        plan_hash: "77".repeat(32),
        sides: vec![PacketSide::of(
            plan,
            &WorkSettings::default(),
            time::Date::from_calendar_date(2026, time::Month::November, 26).unwrap(),
            Unit::InchSixteenth,
        )],
        since: Vec::new(),
        heat: Vec::new(),
        photographed: Vec::new(),
        photos_foot: String::new(),
        latest_entry: lines,
        record: (1..=lines)
            .map(|seq| RecordLine {
                seq,
                at: "24 Nov 2026 14:05".into(),
                who: "Odd".into(),
                what: format!("Read 27 3/4, entry {seq}."),
                piece: None,
            })
            .collect(),
        latest_hash: "40ab3d2311aa".into(),
    }
}

#[test]
fn the_packet_has_its_paper_its_pages_and_its_readings() {
    let plan = plan(SideKind::Left, 7315.2);
    // Sizes: Letter 8 1/2 × 11 in; A4 210 × 297 mm (ISO 216), both landscape, in points.
    for (paper, size) in [
        (Paper::Letter, "792 x 612 pts (letter)"),
        (Paper::A4, "841.89 x 595.28 pts (A4)"),
    ] {
        let pdf = write(&packet_of(&plan, 30), paper).unwrap();
        let info = poppler("pdfinfo", &[], &pdf);
        assert!(info.contains(size), "{info}");
        // Readings, hinge on two pages, strokes by section and what comes before and after, and a record of 30 lines on two.
        assert!(
            info.lines()
                .any(|l| l.starts_with("Pages:") && l.ends_with(" 8")),
            "{info}"
        );
        let text = poppler("pdftotext", &["-layout"], &pdf);
        let readings = &plan.pieces[0].readings;
        for wanted in [
            "Tideway mobile library",
            "Plan 2, issued",
            "27 3/4",
            "First letter, from the front edge",
            readings.flats.rear.back.text.as_str(),
            readings.width.text.as_str(),
            plan.pieces[0].hinge.total.text.as_str(),
            "Knife: cut away from your hand",
            "Chock the vehicle",
            "entry 30",
            "Newest entry: 30 40ab3d2311aa",
            "Plan: 7777777777777777",
            "Printed 2 Dec 2026",
        ] {
            assert!(text.contains(wanted), "{wanted} is missing from\n{text}");
        }
    }
}

/// A print's picture is on every page that shows the side, embedded once, in greys, and paled so that lines over it are read.
#[test]
fn the_picture_of_a_print_is_on_paper() {
    let photo = Uuid::from_u128(7);
    let print = PrintedPanel {
        name: "wrap".into(),
        width_mm: 3000.0.into(),
        height_mm: 1000.0.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: Some(Picture {
            drawn: false,
            photo,
            width_px: 300,
            height_px: 100,
            fills: Fills::Trimmed,
            window: None,
        }),
        keys: Vec::new(),
    };
    let piece = Piece::new(
        Art::Panel(print),
        PlaceRule::from_front(600.0, LetterEnd::FirstLetter, 400.0),
    );
    let body = Body::Box {
        length_mm: 4000.0.into(),
        height_mm: 2000.0.into(),
        fall_mm: 0.0.into(),
    };
    let plan = plan_side(
        &Side::new(SideKind::Left, body, Surface::default()),
        &[],
        &[(Uuid::now_v7(), piece)],
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::Millimetre,
    )
    .unwrap();
    let mut jpeg = Vec::new();
    image::codecs::jpeg::JpegEncoder::new(&mut jpeg)
        .encode_image(&image::RgbImage::from_fn(300, 100, |x, _| {
            image::Rgb(if x < 150 { [220, 40, 40] } else { [20, 20, 90] })
        }))
        .unwrap();
    let grey = windrift_formats::photo::for_paper(&jpeg, 200).unwrap();
    let mut packet = packet_of(&plan, 0);
    assert_eq!(packet.sides[0].photos().collect::<Vec<_>>(), [photo]);
    packet.photos.insert(photo, grey);
    let pdf = write(&packet, Paper::A4).unwrap();
    let listed = poppler("pdfimages", &["-list"], &pdf);
    let rows = images(&listed);
    // Page, number, kind, width, height, colour …, object: where it goes, and on which hinge.
    assert!(rows.len() >= 2, "{listed}");
    for row in &rows {
        assert_eq!((row[3], row[4], row[5]), ("200", "67", "gray"), "{listed}");
        assert_eq!(row[10], rows[0][10], "embedded once: {listed}");
    }
    // A photo that is gone leaves a packet.
    packet.photos.clear();
    assert!(write(&packet, Paper::A4).is_ok());
}

/// Photos of the record on their pages, read by another reader: each is there, in grey, with what its entry says; one that is gone is told.
#[test]
fn photos_of_the_record_are_printed_with_what_their_entries_say() {
    let mut packet = packet_of(&plan(SideKind::Left, 7315.2), 0);
    packet.sides.clear();
    let bare = write(&packet, Paper::Letter).unwrap();
    assert!(!poppler("pdftotext", &["-layout"], &bare).contains("Photos in the record"));
    let jpeg = include_bytes!("data/photos/turned.jpg");
    for n in 1..=8_u8 {
        let key = Uuid::from_u128(u128::from(n));
        if n != 5 {
            // Each its own: the same bytes are embedded once.
            let grey = windrift_formats::photo::for_paper(jpeg, 100 + u32::from(n)).unwrap();
            packet.photos.insert(key, grey);
        }
        packet.photographed.push(PhotoLine {
            photo: key,
            says: format!(
                "{n}. 24 Nov 2026 14:05, Odd: dent number {n}. {}",
                "Many words of it. ".repeat(30)
            ),
        });
    }
    packet.photos_foot = "8 photos stand in the record.".into();
    for paper in [Paper::Letter, Paper::A4] {
        let pdf = write(&packet, paper).unwrap();
        let listed = poppler("pdfimages", &["-list"], &pdf);
        // Six on a page: seven of eight are there, on two pages.
        let rows = images(&listed);
        assert_eq!(rows.len(), 7, "{listed}");
        assert!(rows.iter().all(|r| r[5] == "gray"), "{listed}");
        assert_eq!(
            rows.iter().filter(|r| r[0] == rows[0][0]).count(),
            5,
            "{listed}"
        );
        let text = poppler("pdftotext", &["-layout"], &pdf);
        for n in 1..=8 {
            assert!(text.contains(&format!("dent number {n}.")), "{text}");
        }
        assert!(
            text.contains("This photo is gone") && text.contains("8 photos stand in the record.")
        );
    }
}

#[test]
fn the_packet_uses_no_colour() {
    let pdf = write(&packet_of(&plan(SideKind::Right, 16154.4), 0), Paper::A4).unwrap();
    let file = std::env::temp_dir().join(format!("windrift-{}", Uuid::now_v7()));
    std::fs::write(&file, &pdf).unwrap();
    let output = Command::new("pdftoppm")
        .args(["-r", "40"])
        .arg(&file)
        .output()
        .unwrap();
    std::fs::remove_file(&file).unwrap();
    // Binary PPM pages one after the other: header of three lines, then RGB bytes.
    let mut rest = output.stdout.as_slice();
    let mut ink = 0;
    while !rest.is_empty() {
        let header: Vec<&[u8]> = rest.splitn(4, |b| *b == b'\n').collect();
        let size = String::from_utf8_lossy(header[1]).into_owned();
        let (w, h) = size.split_once(' ').unwrap();
        let pixels = w.parse::<usize>().unwrap() * h.parse::<usize>().unwrap() * 3;
        let (page, after) = header[3].split_at(pixels);
        for rgb in page.chunks(3) {
            assert!(
                rgb[0].abs_diff(rgb[1]) < 3 && rgb[1].abs_diff(rgb[2]) < 3,
                "{rgb:?}"
            );
            ink += usize::from(rgb[0] < 128);
        }
        rest = after;
    }
    assert!(ink > 2000, "something is printed: {ink}");
}

/// Pixels of the first page of a PDF at 254 dots an inch, so that ten are one millimetre: width, and one byte of grey each.
fn first_page(pdf: &[u8]) -> (usize, Vec<u8>) {
    let file = std::env::temp_dir().join(format!("windrift-{}.pdf", Uuid::now_v7()));
    std::fs::write(&file, pdf).unwrap();
    let output = Command::new("pdftoppm")
        .args(["-r", "254", "-gray", "-f", "1", "-l", "1"])
        .arg(&file)
        .output()
        .unwrap();
    std::fs::remove_file(&file).unwrap();
    let header: Vec<&[u8]> = output.stdout.splitn(4, |b| *b == b'\n').collect();
    let size = String::from_utf8_lossy(header[1]).into_owned();
    let width = size.split_once(' ').unwrap().0.parse().unwrap();
    (width, header[3].to_vec())
}

/// The longest dark run of any row between two heights, in points from the top.
fn longest_run(pixels: &[u8], width: usize, from: f64, to: f64) -> usize {
    let row = |points: f64| (points / 72.0 * 254.0) as usize;
    (row(from)..row(to))
        .map(|r| {
            let line = &pixels[r * width..(r + 1) * width];
            line.split(|p| *p > 100).map(<[u8]>::len).max().unwrap_or(0)
        })
        .max()
        .unwrap_or(0)
}

#[test]
fn the_story_strip_is_printed_at_full_size() {
    use windrift_core::plan::story::stories;
    use windrift_formats::story::{StorySheet, strip_pages, write_list, write_strip};
    let plan = plan(SideKind::Left, 7315.2);
    let stories = stories(&plan, &WorkSettings::default(), Unit::InchSixteenth);
    let sheet = |unit| StorySheet {
        shop: "Ternhaven Sign & Film",
        title: "Tideway mobile library",
        customer: "Tideway Library Service",
        side: "street side",
        unit,
        stories: &stories,
    };
    for (paper, height) in [(Paper::Letter, 612.0), (Paper::A4, 595.28)] {
        for (unit, mm) in [(Unit::InchSixteenth, 101.6), (Unit::Millimetre, 100.0)] {
            let pdf = write_strip(&sheet(unit), paper).unwrap();
            let pages = poppler("pdfinfo", &[], &pdf);
            let expected = strip_pages(7315.2, paper);
            assert!(
                pages
                    .lines()
                    .any(|l| l.starts_with("Pages:") && l.ends_with(&format!(" {expected}"))),
                "{pages}"
            );
            let (width, pixels) = first_page(&pdf);
            // The check length runs between the middles of its two end ticks; the run of ink is
            // longer by one tick's thickness, which is under half a millimetre.
            let line = longest_run(&pixels, width, height - 30.0, height - 22.0);
            assert!(
                (0.0..=6.0).contains(&(line as f64 - mm * 10.0)),
                "{line} tenths of a millimetre"
            );
            let text = poppler("pdftotext", &["-layout"], &pdf);
            for wanted in [
                "Strip 1 of",
                "full size (100 %)",
                "first letter",
                "27 3/4 down",
            ] {
                assert!(text.contains(wanted), "{wanted} is missing from\n{text}");
            }
        }
    }
    let list = write_list(&sheet(Unit::InchSixteenth), Paper::Letter).unwrap();
    let text = poppler("pdftotext", &["-layout"], &list);
    for mark in &stories[0].marks {
        assert!(
            text.contains(&mark.running.text),
            "{} is missing from\n{text}",
            mark.running.text
        );
    }
}

#[test]
fn layers_for_the_cutter_carry_the_same_marks() {
    use windrift_core::art::lettering::{OutlineLayer, ShadowLayer};
    let plain = plan(SideKind::Left, 7315.2);
    let mut asked = plain.pieces[0].piece.clone();
    let Art::Lettering(l) = &mut asked.art else {
        panic!()
    };
    l.outline = Some(OutlineLayer {
        out_mm: 8.0.into(),
        colour: "#f4f1e6".into(),
    });
    l.shadow = Some(ShadowLayer {
        right_mm: 12.0.into(),
        down_mm: 12.0.into(),
        colour: "#1a1a1a".into(),
    });
    let planned = windrift_core::plan::plan_piece(
        Uuid::now_v7(),
        &asked,
        &plain.side,
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    let text = windrift_formats::svg::piece(&planned);
    let file = roxmltree::Document::parse(&text).unwrap();
    let groups: Vec<_> = file
        .descendants()
        .filter(|n| n.has_tag_name("g") && n.attribute("id").is_some())
        .collect();
    assert_eq!(
        groups
            .iter()
            .filter_map(|g| g.attribute("id"))
            .collect::<Vec<_>>(),
        ["shadow", "outline", "face"]
    );
    let marks: Vec<_> = groups
        .iter()
        .map(|g| {
            g.children()
                .find(|n| n.attribute("class") == Some("mark"))
                .and_then(|n| n.attribute("d"))
                .unwrap()
        })
        .collect();
    assert!(marks.windows(2).all(|m| m[0] == m[1]) && !marks[0].is_empty());
    // A general reader opens it at full size: film and marks on both sides.
    let tree = open(&text);
    let wide = planned.drawn.bounds.width() + 2.0 * (12.0 + 3.0);
    assert!(
        (f64::from(tree.size().width()) - wide).abs() < 0.2,
        "{}",
        tree.size().width()
    );
}

#[test]
fn the_strokes_are_printed_with_their_numbers_and_what_is_done() {
    use windrift_core::floor::hang::hang;
    use windrift_core::floor::lay_down::lay_down;
    use windrift_formats::stroke_sheet::{StrokeSheet, write};
    let plan = plan(SideKind::Right, 7315.2);
    let settings = WorkSettings::default();
    let piece = &plan.pieces[0];
    let hang = hang(piece, &plan.side, &settings, false, Unit::InchSixteenth);
    let found = lay_down(piece, &plan.side, &hang, &settings, Unit::InchSixteenth);
    let sheet = StrokeSheet {
        shop: "Ternhaven Sign & Film",
        title: "Tideway mobile library",
        customer: "Tideway Library Service",
        plan: &plan,
        piece,
        lay_down: &found,
    };
    let pdf = write(&sheet, Paper::Letter).unwrap();
    let text = poppler("pdftotext", &["-layout"], &pdf);
    for section in &found.sections {
        assert!(
            text.contains(&format!("section {}", section.called)),
            "{text}"
        );
    }
    let strokes: usize = found.sections.iter().map(|s| s.strokes.len()).sum();
    let told = text.matches("towards the front").count() + text.matches("towards the rear").count();
    assert!(told >= strokes, "{told} of {strokes}\n{text}");
    assert!(
        text.contains("Felt edge") && text.contains(found.rivets.caution),
        "{text}"
    );
}

/// Forty pieces among six hundred rivets: no more than 4 MB. The time is said, not judged: a machine's load would decide.
#[test]
fn forty_pieces_among_six_hundred_rivets_are_no_heavy_packet() {
    let rivets = Form::Heads {
        first_mm: 200.0.into(),
        pitch_mm: 400.0.into(),
        columns: 40,
        first_head_mm: 100.0.into(),
        head_pitch_mm: 150.0.into(),
        heads: 15,
        head_mm: 12.0.into(),
    };
    let features = [SideFeature {
        id: Uuid::now_v7(),
        feature: Feature::new(FeatureKind::Rivets, rivets),
    }];
    let pieces: Vec<(Uuid, Piece)> = (0..40)
        .map(|n| {
            let lettering = Lettering {
                size: Size::OverallWidth {
                    width_mm: 1400.0.into(),
                },
                ..Lettering::line(&format!("GREYLAG & SONS {n}"), "archivo-black", 1.0)
            };
            let back = 300.0 + 1600.0 * f64::from(n % 10);
            let down = 200.0 + 500.0 * f64::from(n / 10);
            let place = PlaceRule::from_front(back, LetterEnd::FirstLetter, down);
            (Uuid::now_v7(), Piece::new(Art::Lettering(lettering), place))
        })
        .collect();
    let body = Body::Box {
        length_mm: 16_500.0.into(),
        height_mm: 2700.0.into(),
        fall_mm: 0.0.into(),
    };
    let plan = plan_side(
        &Side::new(SideKind::Left, body, Surface::default()),
        &features,
        &pieces,
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    assert!(
        plan.failed.is_empty()
            && plan
                .side
                .columns
                .iter()
                .map(|c| c.heads.len())
                .sum::<usize>()
                == 600
    );
    let packet = packet_of(&plan, 200);
    let begun = std::time::Instant::now();
    let pdf = write(&packet, Paper::Letter).unwrap();
    println!("{} bytes in {:?}", pdf.len(), begun.elapsed());
    assert!(pdf.len() <= 4_000_000, "{} bytes", pdf.len());
    let info = poppler("pdfinfo", &[], &pdf);
    let pages: usize = info
        .lines()
        .find_map(|l| l.strip_prefix("Pages:"))
        .unwrap()
        .trim()
        .parse()
        .unwrap();
    assert!(pages >= 80, "{pages}");
}

/// A walk round with forty findings of many words, a third of them struck, photos, and a signature under them all.
fn walk_of(plan: &SidePlan, paper: Paper) -> Vec<u8> {
    use windrift_core::vehicle::walk_round::{Damage, DamageKind, SignOff};
    use windrift_formats::walk_sheet::{Finding, WalkSheet, WalkSide, write};
    let photo = Uuid::now_v7();
    let jpeg = include_bytes!("data/photos/turned.jpg").to_vec();
    let long = "Seen in raking light below the third rib, as long as a hand, with a second one beside it that goes through to the metal";
    let findings: Vec<Finding> = (1..=40)
        .map(|number| Finding {
            number,
            damage: Damage {
                side: Uuid::nil(),
                damage: DamageKind::ALL[number as usize % DamageKind::ALL.len()],
                back_mm: (150.0 * f64::from(number)).into(),
                drop_mm: 900.0.into(),
                size_mm: 40.0.into(),
                note: long.into(),
                photo: (number % 4 == 0).then_some(photo),
            },
            back: "13' 0 3/16".into(),
            drop: "35 7/16".into(),
            size: "1 9/16".into(),
            struck: (number % 3 == 0).then(|| "It was mud, and came off with water.".to_owned()),
        })
        .collect();
    let line = |f: &Finding| {
        format!(
            "street side, {}: scratch {}, {} back. {long}",
            f.number, f.size, f.back
        )
    };
    let sheet = WalkSheet {
        shop: "Ternhaven Sign & Film".into(),
        title: "A whole side".into(),
        customer: "Somebody".into(),
        stated: "As recorded on 24 Nov 2026 14:05 UTC.".into(),
        photos: [(photo, jpeg)].into(),
        agreed: findings.iter().map(line).collect(),
        since: vec![format!("Struck: {}", line(&findings[2]))],
        signed: Some((
            SignOff {
                entry: Uuid::nil(),
                name: "Somebody of a very long name indeed, for the owner".into(),
                strokes: Vec::new(),
                typed: true,
                agreed: Vec::new(),
                findings: 40,
                changed_since: 14,
            },
            "24 Nov 2026 14:05 UTC".into(),
        )),
        sides: vec![WalkSide {
            name: "street side".into(),
            plan,
            findings,
            doubts: vec![long.into(); 3],
            surface: vec![long.into(); 4],
            photos: vec![(photo, long.into())],
            hardware: Vec::new(),
        }],
    };
    write(&sheet, paper).unwrap()
}

/// An audit of thirty clauses of many words.
fn marking_of(plan: &SidePlan, paper: Paper) -> Vec<u8> {
    use windrift_formats::marking_report::{MarkingHeading, MarkingPaper, write};
    let long = "The strips must begin and end as close to the ends of the trailer as practicable, and the space between two of them be as even as practicable";
    let marking = MarkingPaper {
        side: "street side".into(),
        audits: "the layout as changed by hand".into(),
        picture: windrift_formats::packet::SidePicture::of(plan),
        strips: Vec::new(),
        facts: vec![long.into(); 6],
        clauses: (0..30)
            .map(|n| ("REASON NEEDED".to_owned(), format!("{long} ({n}). {long}")))
            .collect(),
        tables: vec![windrift_formats::marking_report::PaperTable {
            heading: long.into(),
            columns: vec![
                ("No.".into(), 0.05),
                ("Colours".into(), 0.25),
                ("Goes".into(), 0.7),
            ],
            rows: (0..40)
                .map(|n| {
                    vec![
                        n.to_string(),
                        "red 12, white 12, red 12".into(),
                        long.into(),
                    ]
                })
                .collect(),
        }],
    };
    let heading = MarkingHeading {
        shop: "Ternhaven Sign & Film",
        title: "A whole side",
        customer: "Somebody",
        at: "24 Nov 2026 14:05 UTC",
    };
    write(&heading, &marking, paper).unwrap()
}

type PageWords = ((f64, f64), Vec<([f64; 4], String)>);

/// Boxes of the words of every page, as an independent reader finds them: page size, then left, top, right, foot and the word.
fn words_of(pdf: &[u8]) -> Vec<PageWords> {
    let text = poppler("pdftotext", &["-bbox"], pdf);
    let number = |line: &str, name: &str| -> f64 {
        let from = line.find(&format!("{name}=\"")).unwrap() + name.len() + 2;
        line[from..].split('"').next().unwrap().parse().unwrap()
    };
    let mut pages = Vec::new();
    for line in text.lines().map(str::trim) {
        if line.starts_with("<page ") {
            pages.push(((number(line, "width"), number(line, "height")), Vec::new()));
        } else if line.starts_with("<word ") {
            let at = ["xMin", "yMin", "xMax", "yMax"].map(|n| number(line, n));
            let word = line.split('>').nth(1).unwrap().split('<').next().unwrap();
            let (_, words) = pages.last_mut().unwrap();
            words.push((at, word.to_owned()));
        }
    }
    pages
}

/// No word leaves its page, and none stands on another: with long names, many cuts, unmeasured figures, a print and all that it meets, and a record
/// of long lines.
#[test]
fn nothing_on_paper_overlaps_or_leaves_the_page() {
    let long = "WINTERQUARTERS AND HARBOURMASTERS";
    let lettering = |text: &str, width: f64| Lettering {
        size: Size::OverallWidth {
            width_mm: width.into(),
        },
        ..Lettering::line(text, "barlow-condensed", 300.0)
    };
    let print = PrintedPanel {
        name: "a whole side with a name that goes on and on".into(),
        width_mm: 5000.0.into(),
        height_mm: 1500.0.into(),
        bleed_mm: 0.0.into(),
        bleeds: None,
        colour: "#23405c".into(),
        picture: None,
        keys: Vec::new(),
    };
    let pieces: Vec<(Uuid, Piece)> = [
        (Art::Lettering(lettering(long, 6000.0)), 300.0, 200.0),
        (
            Art::Lettering(lettering("TWO\nLINES OF IT", 1500.0)),
            500.0,
            900.0,
        ),
        (Art::Panel(print), 600.0, 400.0),
    ]
    .into_iter()
    .map(|(art, back, down)| {
        let place = PlaceRule::from_front(back, LetterEnd::FirstLetter, down);
        (Uuid::now_v7(), Piece::new(art, place))
    })
    .collect();
    let gaps = (1..9).map(|n| {
        let form = Form::Upright {
            first_mm: (700.0 * f64::from(n)).into(),
            pitch_mm: 1.0.into(),
            count: 1,
        };
        Feature {
            called: Some(format!("gap of the {n}th door with a long name")),
            ..Feature::new(FeatureKind::DoorGap, form)
        }
    });
    let features: Vec<SideFeature> = gaps
        .map(|feature| SideFeature {
            id: Uuid::now_v7(),
            feature,
        })
        .collect();
    let body = Body::Box {
        length_mm: 7315.2.into(),
        height_mm: 2184.4.into(),
        fall_mm: 0.0.into(),
    };
    let mut side = Side::new(SideKind::Left, body, Surface::default());
    side.unmeasured = ["/body/length_mm", "/body/height_mm", "/body/fall_mm"]
        .map(str::to_owned)
        .to_vec();
    let plan = plan_side(
        &side,
        &features,
        &pieces,
        &JobAround::default(),
        &WorkSettings::default(),
        Unit::InchSixteenth,
    )
    .unwrap();
    assert!(plan.failed.is_empty(), "{:?}", plan.failed);
    let mut packet = packet_of(&plan, 40);
    for line in &mut packet.record {
        line.what = format!(
            "{} Trouble: bubble at the upper rear corner beside the second handle, heated before; pricked at one side and pressed out towards the hole, looked at again in raking light.",
            line.what
        );
        line.who = "Somebody of a very long name".into();
    }
    // The strokes of the print, with all that it meets, and those of the long line.
    let settings = WorkSettings::default();
    let strokes = |piece: &windrift_core::plan::planned::PlannedPiece, paper| {
        let hang = windrift_core::floor::hang::hang(
            piece,
            &plan.side,
            &settings,
            false,
            Unit::InchSixteenth,
        );
        let lay_down = windrift_core::floor::lay_down::lay_down(
            piece,
            &plan.side,
            &hang,
            &settings,
            Unit::InchSixteenth,
        );
        let sheet = windrift_formats::stroke_sheet::StrokeSheet {
            shop: "Ternhaven Sign & Film",
            title: "A whole side",
            customer: "Somebody",
            plan: &plan,
            piece,
            lay_down: &lay_down,
        };
        let numbers: usize = lay_down.sections.iter().map(|s| s.strokes.len()).sum();
        (
            windrift_formats::stroke_sheet::write(&sheet, paper).unwrap(),
            numbers,
        )
    };
    for paper in [Paper::Letter, Paper::A4] {
        // Numbers at the strokes stand where the strokes do.
        let mut pages: Vec<_> = words_of(&write(&packet, paper).unwrap());
        assert!(pages.len() > 9, "{}", pages.len());
        pages.extend(words_of(&walk_of(&plan, paper)));
        pages.extend(words_of(&marking_of(&plan, paper)));
        for piece in &plan.pieces {
            let (pdf, numbers) = strokes(piece, paper);
            let own = words_of(&pdf);
            // Every stroke has its number in the list, left of its words.
            let listed = own
                .iter()
                .flat_map(|(_, words)| words)
                .filter(|(at, word)| {
                    at[1] > 300.0 && word.chars().all(|c| c.is_ascii_digit()) && at[3] - at[1] > 9.0
                });
            assert!(listed.count() >= numbers, "{numbers} strokes");
            pages.extend(own.into_iter().map(|(size, words)| {
                // Numbers at the strokes stand where the strokes do.
                (
                    size,
                    words
                        .into_iter()
                        .filter(|(at, _)| at[1] > 300.0 || at[3] < 92.0)
                        .collect(),
                )
            }));
        }
        for (n, ((wide, high), words)) in pages.iter().enumerate() {
            for (k, ([x0, y0, x1, y1], word)) in words.iter().enumerate() {
                let on = *x0 >= 20.0 && *y0 >= 10.0 && *x1 <= wide - 20.0 && *y1 <= high - 6.0;
                assert!(
                    on,
                    "page {} of {paper:?}: {word} leaves the page: {x0} {y0} {x1} {y1}",
                    n + 1
                );
                for ([a0, b0, a1, b1], other) in &words[k + 1..] {
                    // A box is as high as its letters may be: a line's own leading is less.
                    let across = x1.min(*a1) - x0.max(*a0);
                    let down = y1.min(*b1) - y0.max(*b0);
                    let least = (y1 - y0).min(b1 - b0);
                    assert!(
                        across <= 1.0 || down <= least * 0.45,
                        "page {} of {paper:?}: {word} at {x0:.0} {y0:.0} stands on {other} at {a0:.0} {b0:.0}",
                        n + 1
                    );
                }
            }
        }
    }
}
