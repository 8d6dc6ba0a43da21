//! Parting a line of letters into sections: no wider than the crew handles, letters over the worst rivets by themselves.

use kurbo::Point;
use serde::Serialize;

use crate::art::drawn::Drawn;
use crate::ground::settings::WorkSettings;
use crate::ground::tape::{Length, Unit, print};
use crate::place::landing::{HeadState, head_state};
use crate::plan::planned::PlannedPiece;
use crate::vehicle::measured::MeasuredSide;

/// Widest section that one and two people handle, mm (ours).
pub const HANDLED_MM: [f64; 2] = [1219.2, 2438.4];

/// A part of the carrier that is laid by itself.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Section {
    /// Its letters, or what the piece is called.
    pub called: String,
    /// Its corners in the picture frame, from the upper left clockwise.
    pub corners: [[f64; 2]; 4],
    /// Its width at half its height.
    pub width: Length,
    /// Why it is by itself, or wider than the crew handles.
    pub note: Option<String>,
    /// Heads with a cut edge of it on them.
    pub heads_edge_on: u32,
    /// The same corners in the piece's frame.
    #[serde(skip)]
    pub in_piece: [Point; 4],
}

/// Parts a piece into its sections, from left to right as it reads.
pub fn part(
    planned: &PlannedPiece,
    side: &MeasuredSide,
    settings: &WorkSettings,
    crew: u8,
    unit: Unit,
) -> Vec<Section> {
    let carrier = planned.drawn.carrier(settings.carrier_margin_mm.mm());
    let to_picture = planned.placed.to_picture;
    let to_piece = to_picture.inverse();
    let ends = [
        [
            Point::new(carrier.x0, carrier.y0),
            Point::new(carrier.x0, carrier.y1),
        ],
        [
            Point::new(carrier.x1, carrier.y0),
            Point::new(carrier.x1, carrier.y1),
        ],
    ];
    let mut order: Vec<usize> = (0..planned.drawn.parts.len()).collect();
    order.sort_by(|a, b| {
        let x = |n: &usize| {
            planned
                .drawn
                .parts
                .get(*n)
                .map_or(0.0, |p| p.bounds.center().x)
        };
        x(a).total_cmp(&x(b))
    });
    let labels: Vec<&str> = order
        .iter()
        .filter_map(|n| planned.drawn.parts.get(*n))
        .map(|p| p.label.as_str())
        .collect();
    let edge_on: Vec<u32> = order
        .iter()
        .filter_map(|n| planned.drawn.parts.get(*n))
        .map(|part| {
            let heads = side
                .columns
                .iter()
                .flat_map(|c| c.heads.iter().map(|h| (to_piece * *h, c.head_mm / 2.0)));
            heads
                .filter(|(p, r)| {
                    head_state(std::slice::from_ref(part), *p, *r).0 == HeadState::EdgeOnIt
                })
                .count() as u32
        })
        .collect();
    let cuts: Vec<Option<[Point; 2]>> = planned
        .hinge
        .cuts
        .iter()
        .map(|c| {
            c.line
                .map(|line| line.map(|p| to_piece * Point::new(p[0], p[1])))
        })
        .collect();
    let middle = |line: &[Point; 2]| (line[0].x + line[1].x) / 2.0;
    let most = HANDLED_MM[usize::from(crew.clamp(1, 2) - 1)];
    let many = labels.len() > 1 && planned.drawn.has_letters;
    // Cuts that are wanted whatever the width: both sides of a letter with cut edges on rivet heads.
    let wanted: Vec<bool> = (0..cuts.len())
        .map(|n| {
            edge_on.get(n).copied().unwrap_or(0) > 0 || edge_on.get(n + 1).copied().unwrap_or(0) > 0
        })
        .collect();
    let mut lines: Vec<(usize, [Point; 2])> = Vec::new();
    if many {
        let mut from = ends[0];
        let mut possible: Option<(usize, [Point; 2])> = None;
        for (n, cut) in cuts.iter().enumerate() {
            let Some(line) = cut else { continue };
            if middle(line) - middle(&from) > most
                && let Some(earlier) = possible.take()
            {
                lines.push(earlier);
                from = earlier.1;
            }
            if wanted.get(n).copied().unwrap_or(false) {
                lines.push((n, *line));
                from = *line;
                possible = None;
            } else {
                possible = Some((n, *line));
            }
        }
        if middle(&ends[1]) - middle(&from) > most
            && let Some(earlier) = possible
        {
            lines.push(earlier);
        }
    }
    let mut sections = Vec::new();
    let mut first = 0;
    let mut left = ends[0];
    for (after, right) in lines
        .into_iter()
        .map(|(n, l)| (n + 1, l))
        .chain([(labels.len(), ends[1])])
    {
        let letters = line_by_line(&planned.drawn, order.get(first..after).unwrap_or_default());
        let heads: u32 = edge_on.get(first..after).unwrap_or_default().iter().sum();
        let width_mm = middle(&right) - middle(&left);
        let note = if many && after - first == 1 && heads > 0 {
            Some(format!(
                "By itself: {heads} rivet {} under its cut edges.",
                if heads == 1 { "head is" } else { "heads are" }
            ))
        } else if many && width_mm > most {
            Some(format!(
                "Wider than {} handle: no straight cut passes within it. Take a second pair of hands.",
                if crew == 1 {
                    "one pair of hands can"
                } else {
                    "two people can"
                }
            ))
        } else {
            None
        };
        let in_piece = [left[0], right[0], right[1], left[1]];
        sections.push(Section {
            called: if many {
                letters
            } else {
                planned.piece.called()
            },
            corners: in_piece.map(|p| {
                let at = to_picture * p;
                [at.x, at.y]
            }),
            width: print(width_mm, unit),
            note,
            heads_edge_on: heads,
            in_piece,
        });
        first = after;
        left = right;
    }
    sections
}

/// The letters of some parts as they are read: line by line, each from left to right; which of several equal ones it is, where it is one alone.
fn line_by_line(drawn: &Drawn, parts: &[usize]) -> String {
    if let [one] = parts {
        return drawn
            .parts
            .get(*one)
            .map_or_else(String::new, |p| drawn.name_of(p));
    }
    let read = |line: Vec<usize>| {
        let own = line.into_iter().filter(|n| parts.contains(n));
        own.filter_map(|n| drawn.parts.get(n))
            .map(|p| p.label.as_str())
            .collect::<String>()
    };
    let lines: Vec<String> = drawn.lines().into_iter().map(read).collect();
    let told: Vec<&str> = lines
        .iter()
        .filter(|l| !l.is_empty())
        .map(String::as_str)
        .collect();
    told.join(" / ")
}
