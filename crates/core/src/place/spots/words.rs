//! What is said of a spot.

use super::count::Counts;
use super::spare;
use crate::ground::tape::{Length, Unit, print};

/// A move in words: `1 3/8 back, 1/2 up`.
pub(super) fn moved(back_mm: f64, down_mm: f64, unit: Unit) -> String {
    let length = |mm: f64| -> Length { print(mm.abs(), unit) };
    let part = |mm: f64, more: &str, less: &str| {
        (mm.abs() > 1e-6)
            .then(|| format!("{} {}", length(mm).text, if mm > 0.0 { more } else { less }))
    };
    match (
        part(back_mm, "back", "forward"),
        part(down_mm, "down", "up"),
    ) {
        (Some(a), Some(b)) => format!("{a}, {b}"),
        (Some(one), None) | (None, Some(one)) => one,
        (None, None) => "as wanted".to_owned(),
    }
}

/// What a spot gains and costs against another, in plain words; `keys` speaks of what must stay clear in a print, not of letters.
pub(super) fn compare(wanted: &Counts, there: &Counts, keys: bool) -> (Vec<String>, Vec<String>) {
    let (mut gains, mut costs) = (Vec::new(), Vec::new());
    let mut told = |before: u32, after: u32, one: &str, many: &str| {
        let (n, list, less) = if after < before {
            (before - after, &mut gains, "fewer")
        } else if after > before {
            (after - before, &mut costs, "more")
        } else {
            return;
        };
        let none_left = if after == 0 { ": none left" } else { "" };
        list.push(format!(
            "{n} {less} {}{none_left}",
            if n == 1 { one } else { many }
        ));
    };
    if keys {
        told(
            wanted.hard,
            there.hard,
            "key feature of the picture on hardware or off the body",
            "key features of the picture on hardware or off the body",
        );
        let joints = |c: &Counts| c.crossed + c.creases;
        told(
            joints(wanted),
            joints(there),
            "key feature across a gap, seam or line",
            "key features across gaps, seams or lines",
        );
        told(
            wanted.zones,
            there.zones,
            "key feature in a recess or rough place",
            "key features in recesses or rough places",
        );
        return (gains, costs);
    }
    told(
        wanted.hard,
        there.hard,
        "thing that film must keep off",
        "things that film must keep off",
    );
    told(
        wanted.edge_on,
        there.edge_on,
        "rivet head under a cut edge",
        "rivet heads under a cut edge",
    );
    told(
        wanted.along,
        there.along,
        "seam with a cut edge along it",
        "seams with a cut edge along them",
    );
    told(
        wanted.creases,
        there.creases,
        "letter across a crease",
        "letters across a crease",
    );
    told(
        wanted.zones,
        there.zones,
        "letter in a recess or rough place",
        "letters in recesses or rough places",
    );
    told(
        wanted.crossed,
        there.crossed,
        "letter across a seam or gap",
        "letters across seams or gaps",
    );
    told(
        wanted.covered,
        there.covered,
        "rivet head to work down",
        "rivet heads to work down",
    );
    (gains, costs)
}

/// What a spot meets, without what it does not meet; what must never be met first.
pub(super) fn meets(counts: &Counts, keys: bool) -> String {
    let letters = if keys {
        ("key feature", "key features")
    } else {
        ("letter", "letters")
    };
    let mut told = Vec::new();
    let mut tell = |n: u32, (one, many): (&str, &str), what: &str| {
        if n > 0 {
            told.push(format!("{n} {}{what}", if n == 1 { one } else { many }));
        }
    };
    let heads = ("rivet head", "rivet heads");
    tell(counts.edge_on, heads, " under a cut edge");
    tell(counts.covered, heads, " to work down");
    tell(counts.along, ("seam", "seams"), " along a cut edge");
    let lines = counts.crossed + counts.creases;
    tell(
        lines,
        letters,
        if lines == 1 {
            " across a line"
        } else {
            " across lines"
        },
    );
    tell(counts.zones, letters, " in a recess or rough place");
    let hard = match (counts.hard, keys) {
        (0, _) => None,
        (1, false) => Some("On or too near 1 thing that film must keep off".to_owned()),
        (n, false) => Some(format!("On or too near {n} things that film must keep off")),
        (_, true) => Some("A key feature on hardware or off the body".to_owned()),
    };
    match (hard, told.is_empty()) {
        (Some(hard), true) => format!("\u{2297} {hard}."),
        (Some(hard), false) => format!("\u{2297} {hard}. {}.", told.join(", ")),
        (None, true) => "It meets nothing.".to_owned(),
        (None, false) => format!("{}.", told.join(", ")),
    }
}

/// What there is to spare at a spot; nothing where something must not be met and is.
pub(super) fn spare_said(counts: &Counts, spare_mm: f64, keys: bool, unit: Unit) -> Option<String> {
    if counts.hard > 0 {
        return None;
    }
    let spare = told_spare(spare_mm, unit).text;
    let more = if spare_mm >= spare::ENOUGH_MM {
        " or more"
    } else {
        ""
    };
    let before = if keys {
        "a key feature comes too near to hardware, onto a gap or line that it is clear of now, or off the body"
    } else {
        "a cut edge comes onto a head that is free of one now, or film too near to something or off the body"
    };
    Some(format!(
        "{spare}{more} to spare: so far a hand may be off, along and at each flat, before {before}."
    ))
}

/// In whole marks and never more than there is: what is told must hold.
pub(super) fn told_spare(mm: f64, unit: Unit) -> Length {
    print((mm / unit.mark_mm()).floor() * unit.mark_mm(), unit)
}
