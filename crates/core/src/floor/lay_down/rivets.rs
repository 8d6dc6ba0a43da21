//! What is done at rivet heads once the flat round them lies: the way that suits the film, in handy groups.
//!
//! Common practice, no source: heat and roll; prick round and brush, the only way for layered reflective; punch or cut round for
//! conspicuity strip; take the fastener out and put it back through the film where that is safe and allowed.

use serde::Serialize;

use crate::film::classes::{FilmClass, FilmFigures};
use crate::ground::tape::Length;
use crate::plan::planned::PlannedPiece;

/// How film is worked down at a head.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RivetWay {
    /// Prick round, a short burst of heat, circle with a rivet brush.
    Brush,
    /// Heat and roll with a rivet roller.
    Roll,
    /// Punch or cut round the head, press the ring down.
    Punch,
    /// Take the fastener out, lay the film, put it back.
    Refit,
}

/// Rivet heads that are worked in one go.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RivetGroup {
    /// Its number, in the order in which it is worked, from 1.
    pub number: u32,
    /// First column of heads, from the front.
    pub from_column: u32,
    /// Last column.
    pub to_column: u32,
    /// How far back the group begins.
    pub from: Length,
    /// How far back it ends.
    pub to: Length,
    /// Heads under film: bridged by the flat strokes, then worked down.
    pub bridged: u32,
    /// Heads with a cut edge on them.
    pub edge_on: u32,
    /// Middles of its heads in the picture frame.
    pub heads: Vec<[f64; 2]>,
    /// What is done, in a sentence.
    pub sentence: String,
}

/// The rivet work of a piece.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RivetWork {
    /// How.
    pub way: RivetWay,
    /// How, in sentences.
    pub how: Vec<String>,
    /// The heads in groups, in order.
    pub groups: Vec<RivetGroup>,
    /// All heads under film or under its edge.
    pub heads: u32,
    /// The caution that belongs to it.
    pub caution: &'static str,
}

impl RivetWork {
    /// What is done at the heads before the first stroke.
    pub(super) fn before(&self) -> Option<String> {
        (self.way == RivetWay::Refit && self.heads > 0).then(|| {
            format!(
                "{}: this film does not form over them. Take out what may come out, and keep it in order. {}",
                counted(self.heads),
                self.caution
            )
        })
    }

    /// What is done at the heads once the film lies: those with a cut edge on them first, then group by group.
    pub(super) fn once_it_lies(&self) -> Option<String> {
        let edges: u32 = self.groups.iter().map(|g| g.edge_on).sum();
        let first = match edges {
            0 => String::new(),
            1 => " First the one with a cut edge on it: press the edge down all round.".into(),
            n => format!(" First the {n} with a cut edge on them: press the edges down all round."),
        };
        let how = match self.way {
            RivetWay::Brush => "prick, warm briefly, circle with the brush",
            RivetWay::Roll => "warm and roll",
            RivetWay::Punch => "punch or cut round, press the ring down",
            RivetWay::Refit => "put what came out back through the film; cut round what stays",
        };
        let groups = match self.groups.len() {
            1 => "in one go".to_owned(),
            n => format!("in {n} groups, from the front"),
        };
        (self.heads > 0).then(|| {
            format!(
                "{}, {groups}: {how}.{first} {}",
                counted(self.heads),
                self.caution
            )
        })
    }
}

fn counted(heads: u32) -> String {
    match heads {
        1 => "1 rivet head".to_owned(),
        n => format!("{n} rivet heads"),
    }
}

/// Columns of heads no farther apart than this are worked without moving, mm: an arm's reach (ours).
const GROUP_MM: f64 = 900.0;

/// Which way suits a film.
pub fn way(film: FilmClass) -> RivetWay {
    let figures: FilmFigures = film.figures();
    match film {
        FilmClass::ConspicuityStrip => RivetWay::Punch,
        FilmClass::ThickKit => RivetWay::Refit,
        _ if figures.layered_reflective => RivetWay::Brush,
        _ => RivetWay::Roll,
    }
}

/// Works out the rivet work of a piece.
pub fn work(planned: &PlannedPiece, film: FilmClass) -> RivetWork {
    let way = way(film);
    let columns: Vec<_> = planned
        .landing
        .columns
        .iter()
        .filter(|c| c.covered + c.edge_on > 0)
        .collect();
    let mut groups: Vec<RivetGroup> = Vec::new();
    for column in columns {
        let heads = column
            .heads
            .iter()
            .filter(|h| h.state != crate::place::landing::HeadState::Clear)
            .map(|h| h.at);
        match groups
            .last_mut()
            .filter(|g| column.back.mm - g.from.mm <= GROUP_MM)
        {
            Some(group) => {
                group.to_column = column.column;
                group.to = column.back.clone();
                group.bridged += column.covered;
                group.edge_on += column.edge_on;
                group.heads.extend(heads);
            }
            None => groups.push(RivetGroup {
                number: groups.len() as u32 + 1,
                from_column: column.column,
                to_column: column.column,
                from: column.back.clone(),
                to: column.back.clone(),
                bridged: column.covered,
                edge_on: column.edge_on,
                heads: heads.collect(),
                sentence: String::new(),
            }),
        }
    }
    for group in &mut groups {
        let count = group.bridged + group.edge_on;
        let what = if count == 1 {
            "1 head".to_owned()
        } else {
            format!("{count} heads")
        };
        let edges = match group.edge_on {
            0 => String::new(),
            1 => {
                " The one with a cut edge on it first: press the edge down all round it.".to_owned()
            }
            n => format!(
                " The {n} with a cut edge on them first: press the edge down all round them."
            ),
        };
        group.sentence = match way {
            RivetWay::Brush => {
                format!("{what}: prick, warm briefly, circle with the brush.{edges}")
            }
            RivetWay::Roll => {
                format!("{what}: warm and roll, from the foot of each outward.{edges}")
            }
            RivetWay::Punch => format!("{what}: punch or cut round, press the ring down.{edges}"),
            RivetWay::Refit => {
                format!("{what}: take out, lay, put back through the film, or cut round.{edges}")
            }
        };
    }
    let how = match way {
        RivetWay::Brush => vec![
            "Layered reflective: only the brush. A roller parts its layers.".to_owned(),
            "Prick round the head, a short burst of heat, not above 93 \u{b0}C (200 \u{b0}F), then circle with the rivet brush.".into(),
        ],
        RivetWay::Roll => vec![
            "The flat strokes bridge the heads. Afterwards warm each and roll it down with a small hard or rivet roller.".to_owned(),
            "One hole at its foot lets the air out; some prick all round, some not at all.".into(),
        ],
        RivetWay::Punch => vec!["Lay the strip, bridge the head, punch or cut round it, press the ring down.".to_owned()],
        RivetWay::Refit => vec![
            "This film does not form: take the fastener out, lay the film, put it back through the film.".to_owned(),
            "Structural rivets and fasteners stay in unless the owner's engineer says otherwise; then cut round the head.".into(),
        ],
    };
    let caution = match way {
        RivetWay::Punch => "Knife and punch: away from your hand, not into the paint.",
        RivetWay::Refit => {
            "Never take out a fastener that carries load without the owner's engineer."
        }
        _ => {
            "Hot air burns and lights solvent: no remover open nearby, gloves, keep it moving. The film's sheet decides how hot."
        }
    };
    RivetWork {
        way,
        how,
        heads: groups.iter().map(|g| g.bridged + g.edge_on).sum(),
        groups,
        caution,
    }
}
