//! A feature said in quick words.

use crate::ground::tape::{Unit, parse_signed, print};
use crate::vehicle::body::readings::Reading;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::form::{Form, MeasuredTo, Repeat};
use crate::vehicle::feature::kind::{ComesOff, Details, usual_details};
use crate::vehicle::quick::words::{COLOURS, FUNCTIONS, OPEN};
use crate::vehicle::side::Side;
use crate::vehicle::start::features::usual_comes_off;

/// A length so that it is read back as the same: as the tape shows it where that is exact, else in millimetres.
fn length(mm: f64, unit: Unit) -> String {
    let told = print(mm, unit).text;
    match parse_signed(&told, unit) {
        Ok(back) if back == mm => told,
        _ => format!("{mm} mm"),
    }
}

/// Says a feature in quick words, so that [`read`](super::read) gives the same feature back.
///
/// ```
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::vehicle::{body::Body, feature::{Feature, form::Form, kind::FeatureKind}, quick::say, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 7315.2.into(), height_mm: 2438.4.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// let form = Form::Upright { first_mm: 1219.2.into(), pitch_mm: 1219.2.into(), count: 5 };
/// let seams = Feature::new(FeatureKind::PanelSeam, form);
/// assert_eq!(say(&seams, &side, Unit::InchSixteenth), "seam 4' 0 every 4' 0 x5");
/// ```
pub fn say(feature: &Feature, side: &Side, unit: Unit) -> String {
    let mm = |mm: f64| length(mm, unit);
    let mut said = format!("{} {}", feature.kind.names().0, form(&feature.form, &mm));
    let mut add = |words: String| {
        said.push(' ');
        said.push_str(&words);
    };
    if feature.details != usual_details(feature.kind) {
        match feature.details {
            Some(Details::Lamp {
                colour,
                required,
                function,
            }) => {
                for (word, _) in COLOURS.iter().filter(|(_, c)| *c == colour) {
                    add((*word).to_owned());
                }
                add(if required { "required" } else { "extra" }.to_owned());
                for (word, _) in FUNCTIONS.iter().filter(|(_, f)| *f == function) {
                    add((*word).to_owned());
                }
            }
            Some(Details::Recess {
                depth_mm,
                wall_degrees,
                open,
            }) => {
                add(format!("{} deep walls {wall_degrees}", mm(depth_mm.mm())));
                for (word, _) in OPEN.iter().filter(|(_, o)| *o == open) {
                    add((*word).to_owned());
                }
            }
            Some(Details::Curve { compound, rise_mm }) => {
                add(format!("rises {}", mm(rise_mm.mm())));
                add(if compound { "two ways" } else { "one way" }.to_owned());
            }
            Some(Details::Hollow { depth_mm }) => add(format!("{} deep", mm(depth_mm.mm()))),
            Some(Details::Head { height_mm }) => add(format!("{} high", mm(height_mm.mm()))),
            Some(Details::Fold { depth_mm, wide_mm }) => add(format!(
                "{} deep {} wide",
                mm(depth_mm.mm()),
                mm(wide_mm.mm())
            )),
            Some(Details::Glass { driver }) => {
                add(if driver { "driver" } else { "no driver" }.to_owned())
            }
            None => {}
        }
    }
    if feature.clearance_mm != feature.kind.usual_clearance_mm() {
        add(format!("keep off {}", mm(feature.clearance_mm.mm())));
    }
    if feature.comes_off != usual_comes_off(feature.kind) {
        add(match feature.comes_off {
            ComesOff::Stays => "stays",
            ComesOff::GoesBack => "goes back",
            ComesOff::ForGood => "for good",
        }
        .to_owned());
    }
    let quoted = |text: &str| text.replace(['"', '\u{201c}', '\u{201d}'], "'");
    if let Some(reference) = side
        .references
        .iter()
        .find(|r| Some(r.id) == feature.reference)
    {
        add(format!("from \"{}\"", quoted(&reference.name)));
    }
    if let Some(called) = feature.called.as_deref().filter(|c| !c.is_empty()) {
        add(format!("called \"{}\"", quoted(called)));
    }
    if !feature.note.is_empty() {
        add(format!("note \"{}\"", quoted(&feature.note)));
    }
    said
}

fn form(form: &Form, mm: &impl Fn(f64) -> String) -> String {
    match form {
        Form::Heads {
            first_mm,
            pitch_mm,
            columns,
            first_head_mm,
            head_pitch_mm,
            heads,
            head_mm,
        } => format!(
            "{} every {} x{columns}, {} down every {} x{heads} head {}",
            mm(first_mm.mm()),
            mm(pitch_mm.mm()),
            mm(first_head_mm.mm()),
            mm(head_pitch_mm.mm()),
            mm(head_mm.mm())
        ),
        Form::Upright {
            first_mm,
            pitch_mm,
            count,
        } => match count {
            // What stands alone has no distance to a next one.
            1 => mm(first_mm.mm()),
            _ => format!("{} every {} x{count}", mm(first_mm.mm()), mm(pitch_mm.mm())),
        },
        Form::Straight {
            back_mm,
            drop_mm,
            to_back_mm,
            to_drop_mm,
        } => format!(
            "{} back {} down to {} back {} down",
            mm(back_mm.mm()),
            mm(drop_mm.mm()),
            mm(to_back_mm.mm()),
            mm(to_drop_mm.mm())
        ),
        Form::Path { points, closed } => {
            let point = |p: &Reading| {
                let round = if p.rounded { " r" } else { "" };
                format!("{}, {}{round}", mm(p.back_mm.mm()), mm(p.drop_mm.mm()))
            };
            let points: Vec<String> = points.iter().map(point).collect();
            let word = if *closed { "outline" } else { "along" };
            format!("{word} {};", points.join("; "))
        }
        Form::Rectangle {
            back_mm,
            drop_mm,
            to,
            width_mm,
            height_mm,
            repeat,
        } => {
            let middle = match to {
                MeasuredTo::Corner => "",
                MeasuredTo::Middle => " to its middle",
            };
            format!(
                "{} back {} down{middle} {} wide {} high{}",
                mm(back_mm.mm()),
                mm(drop_mm.mm()),
                mm(width_mm.mm()),
                mm(height_mm.mm()),
                repeated(repeat, mm)
            )
        }
        Form::Round {
            back_mm,
            drop_mm,
            across_mm,
            repeat,
        } => format!(
            "{} back {} down {} across{}",
            mm(back_mm.mm()),
            mm(drop_mm.mm()),
            mm(across_mm.mm()),
            repeated(repeat, mm)
        ),
        Form::Arch {
            centre_mm,
            width_mm,
            height_mm,
        } => format!(
            "{} back {} wide {} high",
            mm(centre_mm.mm()),
            mm(width_mm.mm()),
            mm(height_mm.mm())
        ),
    }
}

/// How it is repeated; nothing where it stands alone, whatever its pitch would be.
fn repeated(repeat: &Repeat, mm: &impl Fn(f64) -> String) -> String {
    let mut said = String::new();
    if repeat.count > 1 {
        said.push_str(&format!(
            " every {} x{}",
            mm(repeat.pitch_mm.mm()),
            repeat.count
        ));
    }
    if repeat.rows > 1 {
        said.push_str(&format!(
            " rows {} x{}",
            mm(repeat.row_pitch_mm.mm()),
            repeat.rows
        ));
    }
    said
}
