//! Strips as they were read, beside where they were planned.

use serde::Serialize;

use crate::ground::mm::Mm;
use crate::ground::tape::{Unit, print};
use crate::marking::face_marking::{PlannedStrip, ReadStrip};
use crate::vehicle::side::words::Ends;

/// A strip lies where it was planned if it is read no farther from it than this, mm: 1/8 in (ours).
const THERE_MM: f64 = 3.2;

/// What a reading says of a planned strip.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadAgainst {
    /// What is planned: `4' 0 to 8' 0, upper edge 31 down`; nothing where it was not planned.
    pub planned: Option<String>,
    /// Whether something of it is still to be read.
    pub unread: bool,
    /// What differs from the plan, in sentences.
    pub off: Vec<String>,
}

/// Every strip that is read back, beside its plan.
///
/// ```
/// # use windrift_core::{ground::tape::Unit, vehicle::side::words::Ends};
/// # use windrift_core::marking::{ColourRun, Element, Strip, TapeColour, face_marking::{ReadStrip, Unread}, read_back::against};
/// # let runs = vec![ColourRun { colour: TapeColour::Red, length_mm: 609.6.into() }];
/// let strip = Strip { start_mm: 1219.2.into(), centre_mm: 1000.0.into(), width_mm: 50.8.into(), runs, upright: false, split_mm: None, reflectors: None, element: Element::Line };
/// let mut read = ReadStrip::unread_of(&strip, 2000.0);
/// assert!(against(&[read.clone()], Ends(["front", "rear"]), Unit::InchSixteenth)[0].unread);
/// // Read two inches back of where it was planned.
/// (read.from_mm, read.to_mm, read.unread) = (1270.0.into(), 1879.6.into(), Unread::default());
/// let found = against(&[read], Ends(["front", "rear"]), Unit::InchSixteenth);
/// assert_eq!(found[0].off, ["It begins 2 too near the rear.", "It ends 2 too near the rear."]);
/// ```
pub fn against(read: &[ReadStrip], ends: Ends, unit: Unit) -> Vec<ReadAgainst> {
    // Readings of earlier releases keep no plan beside them: of those nothing is said.
    let begun_with_plan = read.iter().any(|r| r.plan.is_some());
    read.iter()
        .map(|r| match &r.plan {
            Some(plan) => ReadAgainst {
                planned: Some(told(r, plan, unit)),
                unread: r.unread.any() && !r.missing,
                off: off(r, plan, ends, unit),
            },
            None => ReadAgainst {
                planned: None,
                unread: r.unread.any() && !r.missing,
                off: (begun_with_plan.then(|| "It was not planned.".to_owned()))
                    .into_iter()
                    .collect(),
            },
        })
        .collect()
}

/// Where a strip was planned.
fn told(r: &ReadStrip, plan: &PlannedStrip, unit: Unit) -> String {
    let text = |mm: Mm| print(mm.mm(), unit).text;
    let (from, to, at) = (text(plan.from_mm), text(plan.to_mm), text(plan.at_mm));
    if r.upright {
        format!("{from} to {to} above the ground, its edge at {at}")
    } else {
        format!(
            "{from} to {to}, upper edge {at} down, {} first",
            plan.begins.name()
        )
    }
}

/// What of a strip differs from its plan, as far as it has been read.
fn off(r: &ReadStrip, plan: &PlannedStrip, Ends([zero, far]): Ends, unit: Unit) -> Vec<String> {
    if r.missing {
        return vec!["It is not there.".into()];
    }
    let along = [format!("near the {zero}"), format!("near the {far}")];
    let upwards = ["low".to_owned(), "high".to_owned()];
    let downwards = ["high".to_owned(), "low".to_owned()];
    let (start, across) = if r.upright {
        (&upwards, &along)
    } else {
        (&along, &downwards)
    };
    let (what, at_mm) = match r.down_mm {
        Some(down) if !r.upright => ("Its upper edge lies", Some(down)),
        None if !r.upright => ("", None),
        _ => ("Its edge lies", Some(r.at_mm)),
    };
    let read = [
        (
            "It begins",
            Some(r.from_mm),
            plan.from_mm,
            r.unread.from,
            start,
        ),
        ("It ends", Some(r.to_mm), plan.to_mm, r.unread.to, start),
        (what, at_mm, plan.at_mm, r.unread.at, across),
    ];
    let mut off: Vec<String> = (read.into_iter())
        .filter_map(|(what, here, there, unread, ways)| {
            let by = here? - there;
            let way = if by < 0.0 { &ways[0] } else { &ways[1] };
            (!unread && by.abs() > THERE_MM)
                .then(|| format!("{what} {} too {way}.", print(by.abs(), unit).text))
        })
        .collect();
    if !r.unread.any() && r.begins != plan.begins {
        off.push(format!(
            "It begins {} and was planned to begin {}.",
            r.begins.name(),
            plan.begins.name()
        ));
    }
    off
}
