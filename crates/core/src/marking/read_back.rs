//! Strips as they were read, beside where they were planned.

use serde::Serialize;

use crate::ground::tape::{Unit, print};
use crate::marking::face_marking::ReadStrip;
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
/// let strip = Strip { start_mm: 1219.2.into(), centre_mm: 1000.0.into(), width_mm: 50.8.into(), runs, upright: false, split_mm: None, element: Element::Line };
/// let mut read = ReadStrip::unread_of(&strip, 2000.0);
/// assert!(against(&[read.clone()], Ends(["front", "rear"]), Unit::InchSixteenth)[0].unread);
/// // Read two inches back of where it was planned.
/// (read.from_mm, read.to_mm, read.unread) = (1270.0.into(), 1879.6.into(), Unread::default());
/// let found = against(&[read], Ends(["front", "rear"]), Unit::InchSixteenth);
/// assert_eq!(found[0].off, ["It begins 2 too near the rear.", "It ends 2 too near the rear."]);
/// ```
pub fn against(read: &[ReadStrip], Ends([zero, far]): Ends, unit: Unit) -> Vec<ReadAgainst> {
    let text = |mm: f64| print(mm, unit).text;
    read.iter()
        .map(|r| {
            let Some(plan) = &r.plan else {
                return ReadAgainst {
                    planned: None,
                    unread: r.unread.any(),
                    off: vec!["It was not planned.".into()],
                };
            };
            let planned = if r.upright {
                format!(
                    "{} to {} above the ground, its edge at {}",
                    text(plan.from_mm.mm()),
                    text(plan.to_mm.mm()),
                    text(plan.at_mm.mm())
                )
            } else {
                format!(
                    "{} to {}, upper edge {} down, {} first",
                    text(plan.from_mm.mm()),
                    text(plan.to_mm.mm()),
                    text(plan.at_mm.mm()),
                    plan.begins.name()
                )
            };
            let mut off = Vec::new();
            if r.missing {
                off.push("It is not there.".to_owned());
            }
            let (back, forth) = if r.upright {
                ("low", "high")
            } else {
                (zero, far)
            };
            let mut compare =
                |what: &str, here: f64, there: f64, unread: bool, ways: [&str; 2], near: bool| {
                    let by = here - there;
                    if unread || r.missing || by.abs() <= THERE_MM {
                        return;
                    }
                    let way = if by < 0.0 { ways[0] } else { ways[1] };
                    off.push(if near {
                        format!("{what} {} too near the {way}.", text(by.abs()))
                    } else {
                        format!("{what} {} too {way}.", text(by.abs()))
                    });
                };
            let level = !r.upright;
            compare(
                "It begins",
                r.from_mm.mm(),
                plan.from_mm.mm(),
                r.unread.from,
                [back, forth],
                level,
            );
            compare(
                "It ends",
                r.to_mm.mm(),
                plan.to_mm.mm(),
                r.unread.to,
                [back, forth],
                level,
            );
            if r.upright {
                compare(
                    "Its edge lies",
                    r.at_mm.mm(),
                    plan.at_mm.mm(),
                    r.unread.at,
                    [zero, far],
                    true,
                );
            } else if let Some(down) = r.down_mm {
                compare(
                    "Its upper edge lies",
                    down.mm(),
                    plan.at_mm.mm(),
                    r.unread.at,
                    ["high", "low"],
                    false,
                );
            }
            if !r.missing && !r.unread.any() && r.begins != plan.begins {
                off.push(format!(
                    "It begins {} and was planned to begin {}.",
                    r.begins.name(),
                    plan.begins.name()
                ));
            }
            ReadAgainst {
                planned: Some(planned),
                unread: r.unread.any() && !r.missing,
                off,
            }
        })
        .collect()
}
