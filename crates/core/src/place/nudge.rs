//! A piece shifted or turned by hand: its rules follow.

use kurbo::Point;
use uuid::Uuid;

use crate::art::drawn::Drawn;
use crate::ground::tape::Unit;
use crate::place::placed::{Placed, height_in};
use crate::place::rules::{
    AheadBehind, Along, Angle, Down, DownTo, LetterEnd, PlaceRule, Rules, UpDown,
};
use crate::vehicle::side::Side;

/// A rule after the piece was moved in the picture by so many mm to the right and down: distances in whole steps of the unit.
///
/// A rule that carries a distance keeps its kind; one that does not (centred, equal gaps, mirrored, by points) becomes plain
/// distances: `placed` says where the piece was.
///
/// ```
/// # use windrift_core::art::{Art, lettering::Lettering};
/// # use windrift_core::ground::{settings::WorkSettings, tape::Unit};
/// # use windrift_core::place::{nudge::nudge, rules::{Along, LetterEnd, PlaceRule}};
/// # use windrift_core::plan::{plan_side, around::JobAround, piece::Piece};
/// # use windrift_core::vehicle::{body::Body, side::{Side, words::SideKind}, surface::Surface};
/// # let unit = Unit::InchSixteenth;
/// # let body = Body::Box { length_mm: 3657.6.into(), height_mm: 1828.8.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// # let words = Art::Lettering(Lettering::line("HAVEN", "oswald", 254.0));
/// let rule = PlaceRule::from_front(457.2, LetterEnd::FirstLetter, 609.6);
/// # let piece = Piece::new(words, rule.clone());
/// # let plan = plan_side(&side, &[], &[(Default::default(), piece)], &JobAround::default(), &WorkSettings::default(), unit).unwrap();
/// # let planned = &plan.pieces[0];
/// // An inch to the right on the left side is an inch further back.
/// let PlaceRule::Rules(moved) = nudge(&rule, &planned.drawn, &planned.placed, &side, 25.4, 0.0, unit) else { panic!() };
/// assert!(matches!(moved.along, Along::FromFront { distance_mm, .. } if (distance_mm - 482.6).abs() < 1e-9));
/// ```
pub fn nudge(
    rule: &PlaceRule,
    drawn: &Drawn,
    placed: &Placed,
    side: &Side,
    right_mm: f64,
    down_mm: f64,
    unit: Unit,
) -> PlaceRule {
    let step = unit.step_mm();
    let stepped = |mm: f64| (mm / step).round() * step;
    let direction = side.direction();
    let back = right_mm * direction;
    let rules = match rule {
        PlaceRule::Rules(rules) => rules.clone(),
        // A section lies where the film lies that it meets.
        PlaceRule::Between { .. } => return rule.clone(),
        _ => as_rules(rule.reference(), drawn, placed, direction),
    };
    let mut moved = rules.clone();
    if right_mm != 0.0 {
        moved.along = match rules.along {
            Along::FromFront { distance_mm, to } => Along::FromFront {
                distance_mm: (stepped(distance_mm + back)).into(),
                to,
            },
            Along::FromEdge {
                edge,
                distance_mm,
                way,
            } => {
                let signed = if way == AheadBehind::Behind {
                    back
                } else {
                    -back
                };
                Along::FromEdge {
                    edge,
                    distance_mm: (stepped(distance_mm + signed)).into(),
                    way,
                }
            }
            Along::Beside { piece, gap_mm, way } => {
                let signed = if way == AheadBehind::Behind {
                    back
                } else {
                    -back
                };
                Along::Beside {
                    piece,
                    gap_mm: (stepped(gap_mm + signed)).into(),
                    way,
                }
            }
            // Its length stays ruled by its edges; there is nothing to move along.
            same @ Along::SameGap { .. } => same,
            Along::Centred { .. } | Along::EqualGaps { .. } => {
                let (near, far) = placed.back_mm;
                let at = if direction > 0.0 { near } else { far };
                Along::FromFront {
                    distance_mm: (stepped(at + back)).into(),
                    to: LetterEnd::FirstLetter,
                }
            }
        };
    }
    if down_mm != 0.0 {
        moved.down = match rules.down {
            Down::FromDatum { distance_mm, to } => {
                if let Angle::ToDrop { rear_drop_mm } = &mut moved.angle {
                    *rear_drop_mm = (stepped(*rear_drop_mm + down_mm)).into();
                }
                Down::FromDatum {
                    distance_mm: (stepped(distance_mm + down_mm)).into(),
                    to,
                }
            }
            Down::FromHeight {
                height,
                distance_mm,
                way,
                to,
            } => {
                let signed = if way == UpDown::Below {
                    down_mm
                } else {
                    -down_mm
                };
                Down::FromHeight {
                    height,
                    distance_mm: (stepped(distance_mm + signed)).into(),
                    way,
                    to,
                }
            }
            Down::NextTo { piece, gap_mm, way } => {
                let signed = if way == UpDown::Below {
                    down_mm
                } else {
                    -down_mm
                };
                Down::NextTo {
                    piece,
                    gap_mm: (stepped(gap_mm + signed)).into(),
                    way,
                }
            }
            Down::Centred { .. } => {
                let at = placed.to_picture
                    * Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
                Down::FromDatum {
                    distance_mm: (stepped(placed.datum.read(at).1 + down_mm)).into(),
                    to: DownTo::CapLine,
                }
            }
        };
    }
    PlaceRule::Rules(moved)
}

/// Plain distances that put a piece where it is.
pub fn as_rules(reference: Option<Uuid>, drawn: &Drawn, placed: &Placed, direction: f64) -> Rules {
    let (near, far) = placed.back_mm;
    let ruled_x = drawn.nominal.x0;
    let at = placed.to_picture * Point::new(ruled_x, height_in(drawn, DownTo::CapLine));
    let degrees = placed.degrees(direction);
    Rules {
        reference,
        along: Along::FromFront {
            distance_mm: if direction > 0.0 {
                near.into()
            } else {
                far.into()
            },
            to: LetterEnd::FirstLetter,
        },
        down: Down::FromDatum {
            distance_mm: placed.datum.read(at).1.into(),
            to: DownTo::CapLine,
        },
        angle: if degrees.abs() < 1e-6 {
            Angle::AlongDatum
        } else {
            Angle::Degrees { degrees }
        },
    }
}
