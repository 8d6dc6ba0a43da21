//! Quick words: every feature is read back from what it says of itself, and lines as fitters call them out give the features that they mean
//! (common practice, no source).

use proptest::prelude::*;
use windrift_core::ground::tape::Unit;
use windrift_core::vehicle::body::readings::Reading;
use windrift_core::vehicle::feature::Feature;
use windrift_core::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use windrift_core::vehicle::feature::kind::{ComesOff, Details, FeatureKind, LampColour, OpenSide};
use windrift_core::vehicle::quick::{completions, read, say};
use windrift_core::vehicle::side::Side;
use windrift_core::vehicle::side::words::SideKind;
use windrift_core::vehicle::start::features::{feature, forms_of};

use super::common::{INCH, body, features};

/// As the tape counts: 25.4 is 127 / 5, multiplied out.
fn inches(n: f64) -> f64 {
    n * 127.0 / 5.0
}

const UNIT: Unit = Unit::InchSixteenth;

fn side() -> Side {
    body(SideKind::Left)
}

fn heard(line: &str) -> Feature {
    let quick = read(line, &side(), UNIT);
    assert_eq!(quick.sentence, None, "{line}: {:?}", quick.parts);
    quick.feature.unwrap()
}

/// A pitch of what stands alone says nothing.
fn plain(mut feature: Feature) -> Feature {
    if let Form::Upright {
        count: 1, pitch_mm, ..
    } = &mut feature.form
    {
        *pitch_mm = 0.0.into();
    }
    if let Form::Rectangle { repeat, .. } | Form::Round { repeat, .. } = &mut feature.form {
        if repeat.count == 1 {
            repeat.pitch_mm = 0.0.into();
        }
        if repeat.rows == 1 {
            repeat.row_pitch_mm = 0.0.into();
        }
    }
    feature
}

/// What a fitter says of a lamp that is taken off: it goes back on afterwards, unless it is off for good.
#[test]
fn what_comes_off_goes_back_unless_it_is_for_good() {
    let lamp = "lamp 20 back 6 down 4 x 3 comes off";
    assert_eq!(heard(lamp).comes_off, ComesOff::GoesBack);
    assert_eq!(
        heard(&format!("{lamp} for good")).comes_off,
        ComesOff::ForGood
    );
    assert_eq!(
        heard("awning arm 88 back 6 down 3 x 5 stays").kind,
        FeatureKind::Bracket
    );
}

#[test]
fn a_gap_that_stands_alone_is_said_without_a_pitch() {
    let gap = heard("door gap 104");
    assert_eq!(say(&gap, &side(), UNIT), "door gap 8' 8");
}

#[test]
fn rivets_are_called_out_as_a_fitter_does() {
    let rivets = heard("rivets 46 3/4 every 4' x5, 6 down every 3 x13 head 3/8");
    assert_eq!(rivets.kind, FeatureKind::Rivets);
    let asked = Form::Heads {
        first_mm: inches(46.75).into(),
        pitch_mm: inches(48.0).into(),
        columns: 5,
        first_head_mm: inches(6.0).into(),
        head_pitch_mm: inches(3.0).into(),
        heads: 13,
        head_mm: inches(0.375).into(),
    };
    assert_eq!(rivets.form, asked);
}

#[test]
fn a_seam_every_four_feet_goes_on_to_the_end_of_the_side() {
    // 24 ft: 4, 8, 12, 16, 20; at 24 ft the side is over.
    let seams = heard("seam every 48").form;
    let asked = |first: f64, count| Form::Upright {
        first_mm: inches(first).into(),
        pitch_mm: inches(48.0).into(),
        count,
    };
    assert_eq!(seams, asked(48.0, 5));
    assert_eq!(heard("seams 40 every 48").form, asked(40.0, 6));
    assert_eq!(heard("Seam 40 every 4' x2").form, asked(40.0, 2));
}

#[test]
fn a_rib_is_measured_as_a_crease_and_stays_called_a_rib() {
    let ribs = heard("ribs 14 every 14 x9");
    assert_eq!(ribs.kind, FeatureKind::Crease);
    assert_eq!(ribs.called.as_deref(), Some("rib"));
    assert_eq!(
        ribs.form,
        Form::Upright {
            first_mm: inches(14.0).into(),
            pitch_mm: inches(14.0).into(),
            count: 9,
        }
    );
    assert_eq!(
        heard("Rib 14 called \"pressed rib\"").called.as_deref(),
        Some("pressed rib")
    );
}

#[test]
fn how_high_heads_stand_and_how_deep_a_line_is() {
    let rivets = heard("rivets 14 every 14 x9, 2 down every 6 x4 head 3/8 1/8 high");
    let high = Details::Head {
        height_mm: inches(0.125).into(),
    };
    assert_eq!(rivets.details, Some(high));
    let line = heard("body line along 12, 30; 40, 33; 1/2 deep 1 1/2 wide");
    let fold = |wide: f64| Details::Fold {
        depth_mm: inches(0.5).into(),
        wide_mm: inches(wide).into(),
    };
    assert_eq!(line.details, Some(fold(1.5)));
    assert_eq!(
        heard("creases 14 every 14 x3 1/2 deep").details,
        Some(fold(1.0))
    );
}

#[test]
fn lamps_doors_and_the_rest_take_their_own_words() {
    let lamp = heard("lamp 6 back 82 down red extra");
    let Form::Rectangle {
        back_mm,
        drop_mm,
        repeat,
        ..
    } = lamp.form
    else {
        panic!()
    };
    assert_eq!(
        (back_mm.mm(), drop_mm.mm(), repeat.count),
        (inches(6.0), inches(82.0), 1)
    );
    assert_eq!(
        lamp.details,
        Some(Details::Lamp {
            colour: LampColour::Red,
            required: false,
            function: Default::default()
        })
    );

    let door = heard("door 19' 8 back, 36 down 34 x 38 called \"battery\" for good");
    let Form::Rectangle {
        width_mm,
        height_mm,
        to,
        ..
    } = door.form
    else {
        panic!()
    };
    assert_eq!(
        (width_mm.mm(), height_mm.mm(), to),
        (inches(34.0), inches(38.0), MeasuredTo::Corner)
    );
    assert_eq!(
        (door.kind, door.called.as_deref(), door.comes_off),
        (FeatureKind::LockerDoor, Some("battery"), ComesOff::ForGood)
    );

    let recess = heard(
        "recess 5' back 20 down to its middle 40 wide 24 high 5/8 deep walls 85 open top keep off 1/4",
    );
    assert_eq!(
        recess.details,
        Some(Details::Recess {
            depth_mm: inches(0.625).into(),
            wall_degrees: 85.0,
            open: OpenSide::Top
        })
    );
    assert_eq!(recess.clearance_mm, inches(0.25));

    let arch = heard("wheel arch 15' 10 back 30 wide 15 high").form;
    assert!(matches!(arch, Form::Arch { centre_mm, .. } if centre_mm == inches(190.0)));

    let crease = heard("crease along 12, 30; 40, 33 r; 7' 6, 30").form;
    let Form::Path {
        points,
        closed: false,
    } = crease
    else {
        panic!()
    };
    assert_eq!(
        points[1],
        Reading {
            back_mm: inches(40.0).into(),
            drop_mm: inches(33.0).into(),
            rounded: true
        }
    );

    let line = heard("body line 0 back 30 down to 24' back 28 down").form;
    assert!(matches!(line, Form::Straight { to_drop_mm, .. } if to_drop_mm == inches(28.0)));
}

#[test]
fn what_is_not_understood_is_told_apart_and_the_rest_stands() {
    let quick = read("rivets 46 3/4 evry 4' x5, 6 down", &side(), UNIT);
    let not: Vec<&str> = quick
        .parts
        .iter()
        .filter(|p| !p.understood)
        .map(|p| p.text.as_str())
        .collect();
    assert_eq!(not.first(), Some(&"evry"));
    assert!(quick.sentence.unwrap().contains("\u{201c}evry\u{201d}"));
    let Form::Heads {
        first_mm,
        first_head_mm,
        ..
    } = quick.feature.unwrap().form
    else {
        panic!()
    };
    assert_eq!(
        (first_mm.mm(), first_head_mm.mm()),
        (inches(46.75), inches(6.0))
    );
    assert_eq!(read("46 3/4", &side(), UNIT).feature, None);
    assert_eq!(read("", &side(), UNIT).feature, None);
}

#[test]
fn every_kind_in_every_way_says_itself_and_is_read_back() {
    let mut tried = 0;
    for unit in [UNIT, Unit::InchThirtySecond, Unit::Millimetre] {
        for kind in FeatureKind::ALL {
            for form in forms_of(kind) {
                let asked = feature(kind, *form, &side(), None, unit);
                let said = say(&asked, &side(), unit);
                let back = read(&said, &side(), unit);
                assert_eq!(back.sentence, None, "{said}");
                assert_eq!(plain(back.feature.unwrap()), plain(asked), "{said}");
                tried += 1;
            }
        }
    }
    assert!(tried > 180);
    for f in features() {
        let said = say(&f.feature, &side(), UNIT);
        assert_eq!(
            plain(read(&said, &side(), UNIT).feature.unwrap()),
            plain(f.feature),
            "{said}"
        );
    }
}

#[test]
fn tab_completes_kinds_and_words() {
    assert!(completions("wh").contains(&"wheel arch"));
    assert_eq!(completions("seam 48 ev"), ["every"]);
    assert!(completions("xyz").is_empty());
    assert!(completions("seam ").is_empty());
}

proptest! {
    #[test]
    fn whatever_was_measured_is_read_back(
        pick in any::<prop::sample::Index>(),
        figures in prop::collection::vec(0_u32..4000, 6),
        counts in (2_u32..9, 1_u32..5),
        metric in any::<bool>(),
        middle in any::<bool>(),
        called in "[a-z ]{0,8}",
        note in "[A-Za-z,.;' ]{0,20}",
    ) {
        let unit = if metric { Unit::Millimetre } else { UNIT };
        let all: Vec<_> = FeatureKind::ALL.iter().flat_map(|k| forms_of(*k).iter().map(|f| (*k, *f))).collect();
        let (kind, form) = all[pick.index(all.len())];
        let mut asked = feature(kind, form, &side(), None, unit);
        // Some stand on the tape's marks, some between them.
        let mm = |n: usize| f64::from(figures[n]) * if metric { 0.7 } else { INCH / 16.0 };
        match &mut asked.form {
            Form::Rectangle { back_mm, drop_mm, to, width_mm, repeat, .. } => {
                *back_mm = mm(0).into();
                // To a millionth of a millimetre: a difference has bits beyond that which no tape has.
                *drop_mm = (((mm(1) - 100.0) * 1e6).round() / 1e6).into();
                *width_mm = mm(2).into();
                *to = if middle { MeasuredTo::Middle } else { MeasuredTo::Corner };
                *repeat = Repeat { count: counts.0, pitch_mm: mm(3).into(), rows: counts.1, row_pitch_mm: mm(4).into() };
            }
            Form::Heads { first_mm, pitch_mm, columns, heads, head_pitch_mm, .. } => {
                *first_mm = mm(0).into();
                *pitch_mm = mm(1).into();
                *head_pitch_mm = mm(2).into();
                (*columns, *heads) = counts;
            }
            Form::Straight { back_mm, drop_mm, to_back_mm, to_drop_mm } => {
                *back_mm = mm(0).into();
                *drop_mm = mm(1).into();
                *to_back_mm = mm(2).into();
                *to_drop_mm = mm(3).into();
            }
            Form::Path { points, .. } => for (n, p) in points.iter_mut().enumerate() {
                p.back_mm = mm(n).into();
                p.drop_mm = mm(n + 1).into();
                p.rounded = n % 2 == 1;
            },
            _ => {}
        }
        if !middle {
            match asked.kind {
                FeatureKind::Rivets | FeatureKind::Fastener => asked.details = Some(Details::Head { height_mm: mm(4).into() }),
                FeatureKind::Crease | FeatureKind::BodyLine => asked.details = Some(Details::Fold { depth_mm: mm(4).into(), wide_mm: mm(5).into() }),
                _ => {}
            }
        }
        asked.clearance_mm = mm(5).into();
        asked.called = Some(called.trim().to_owned()).filter(|c| !c.is_empty());
        asked.note = note.trim().to_owned();
        let said = say(&asked, &side(), unit);
        let back = read(&said, &side(), unit);
        prop_assert_eq!(&back.sentence, &None, "{}", said);
        prop_assert_eq!(plain(back.feature.unwrap()), plain(asked), "{}", said);
        // Nothing of the line is lost between its parts.
        let whole: String = back.parts.iter().map(|p| p.text.as_str()).collect();
        prop_assert_eq!(whole, said);
    }

    #[test]
    fn nothing_that_is_typed_breaks_it(line in "\\PC{0,60}", kind in prop::sample::select(vec!["seam ", "rivets ", "lamp ", "crease along ", "door outline ", ""])) {
        let line = format!("{kind}{line}");
        let quick = read(&line, &side(), UNIT);
        let whole: String = quick.parts.iter().map(|p| p.text.as_str()).collect();
        prop_assert_eq!(whole, line.clone());
        let all_understood = quick.parts.iter().all(|p| p.understood);
        prop_assert_eq!(quick.feature.is_some() && all_understood, quick.sentence.is_none() , "{}", line);
        completions(&line);
    }
}

#[test]
fn the_lines_of_the_help_are_all_understood() {
    let help = include_str!("../../../web/src/job/QuickHelp.tsx");
    let lines: Vec<String> = help
        .lines()
        .filter_map(|l| l.trim().strip_prefix("[\"").or(l.trim().strip_prefix("['")))
        .filter_map(|l| {
            let end = l.find("\", \"").or(l.find("', \""))?;
            Some(l[..end].replace("\\\"", "\"").replace("\\'", "'"))
        })
        .collect();
    assert_eq!(lines.len(), 11, "{lines:?}");
    for line in lines {
        let quick = read(&line, &side(), UNIT);
        assert_eq!(quick.sentence, None, "{line}");
    }
}
