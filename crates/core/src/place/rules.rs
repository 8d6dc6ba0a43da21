//! Rules for a place: one each for along, down and angle, or one for all three.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::mm::{Mm, SignedMm};
use crate::place::edges::{EdgeRef, LevelRef};

/// Which end of a piece a distance runs to. Lettering reads from left to right on either side, so the first letter is the one
/// nearest the front only where the front is at the picture's left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LetterEnd {
    /// Where the film begins at the left: the first letter.
    FirstLetter,
    /// Where it ends at the right: the last letter.
    LastLetter,
}

/// Which way from an edge or a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AheadBehind {
    /// Towards the front.
    Ahead,
    /// Towards the rear.
    Behind,
}

/// Which way from a height or a piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum UpDown {
    /// Over it.
    Above,
    /// Under it.
    Below,
}

/// The rule for where a piece is along the datum.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "rule", rename_all = "snake_case")]
pub enum Along {
    /// So far back from the front edge.
    FromFront {
        /// Distance along the datum, mm.
        distance_mm: Mm,
        /// Which end of the piece it runs to.
        to: LetterEnd,
    },
    /// So far from an edge, to the piece's nearer end.
    FromEdge {
        /// The edge.
        edge: EdgeRef,
        /// Clear distance along the datum, mm.
        distance_mm: Mm,
        /// Which way from the edge the piece lies.
        way: AheadBehind,
    },
    /// In the middle between two upright edges.
    Centred {
        /// One edge.
        from: EdgeRef,
        /// The other.
        to: EdgeRef,
    },
    /// Beside another piece.
    Beside {
        /// The other piece.
        piece: Uuid,
        /// Gap between the two, mm.
        gap_mm: SignedMm,
        /// Which way from the other piece this one lies.
        way: AheadBehind,
    },
    /// In a row with others: the same gap between all of them and to both edges.
    EqualGaps {
        /// Where the row begins.
        from: EdgeRef,
        /// Where it ends.
        to: EdgeRef,
        /// Name of the row.
        row: String,
        /// Number of the piece in the row, from the front, from 1.
        number: u32,
    },
    /// From edge to edge with the same gap at both ends: rules a stripe's length as well.
    SameGap {
        /// One edge.
        from: EdgeRef,
        /// The other.
        to: EdgeRef,
        /// Gap at each end, mm.
        gap_mm: SignedMm,
    },
}

/// Which height of a piece a distance down runs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DownTo {
    /// The cap line of the first line of letters; the upper edge of anything else.
    CapLine,
    /// The baseline of the last line of letters; the lower edge of anything else.
    Baseline,
    /// Half way between these two.
    Middle,
    /// The film's upper edge.
    Top,
    /// The film's lower edge.
    Foot,
}

/// The rule for how far down a piece is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "rule", rename_all = "snake_case")]
pub enum Down {
    /// So far from the datum, square to it.
    FromDatum {
        /// Distance, mm.
        distance_mm: Mm,
        /// What it runs to.
        to: DownTo,
    },
    /// So far from a height on the side.
    FromHeight {
        /// The height.
        height: LevelRef,
        /// Clear distance, mm.
        distance_mm: Mm,
        /// Above or below it.
        way: UpDown,
        /// What it runs to.
        to: DownTo,
    },
    /// Half way between two heights.
    Centred {
        /// One height.
        from: LevelRef,
        /// The other.
        to: LevelRef,
    },
    /// Over or under another piece.
    NextTo {
        /// The other piece.
        piece: Uuid,
        /// Gap between the two, mm.
        gap_mm: SignedMm,
        /// Above or below it.
        way: UpDown,
    },
}

/// The rule for a piece's angle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "rule", rename_all = "snake_case")]
pub enum Angle {
    /// Parallel to the datum.
    AlongDatum,
    /// Level with the ground.
    Level,
    /// Turned by so much from the datum.
    Degrees {
        /// Degrees; more than 0 where the end towards the rear is lower.
        degrees: f64,
    },
    /// Parallel to a line on the side.
    AlongLine {
        /// The feature.
        feature: Uuid,
        /// Number of the line in that feature, from 1.
        number: u32,
    },
    /// From the height that the down rule gives at the front end to this height at the rear end.
    ToDrop {
        /// Distance from the datum at the rear end, mm.
        rear_drop_mm: SignedMm,
    },
}

/// One rule for each freedom.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rules {
    /// The reference that the rules hang on; `None` is the rail.
    #[serde(default)]
    pub reference: Option<Uuid>,
    /// Along the datum.
    pub along: Along,
    /// Down from it.
    pub down: Down,
    /// Angle.
    pub angle: Angle,
}

/// A point of a piece with where it was measured on the side.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PointReading {
    /// The point in the piece's own frame, mm.
    pub at: [f64; 2],
    /// How far back it is to lie along the reference, mm.
    pub back_mm: SignedMm,
    /// How far down, plumb from the reference, mm.
    pub drop_mm: SignedMm,
    /// Whether it must be met exactly, the rest taking the error.
    #[serde(default)]
    pub pinned: bool,
}

/// How a piece gets its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case")]
pub enum PlaceRule {
    /// One rule each for along, down and angle.
    Rules(Rules),
    /// Fitted to two or more measured points.
    Points {
        /// The reference that they were measured from; `None` is the rail.
        #[serde(default)]
        reference: Option<Uuid>,
        /// The points.
        points: Vec<PointReading>,
    },
    /// A section of stripe between the edges of film that stays: its ends are theirs, and so are its widths and its slope.
    Between {
        /// One edge: a feature.
        front: Uuid,
        /// The other.
        rear: Uuid,
        /// How far it laps over each; 0 is edge to edge, less than 0 leaves a gap, mm.
        #[serde(default)]
        lap_mm: SignedMm,
    },
    /// The mirror of a piece on the other side: the same distances from the front and the reference; lettering stays readable.
    Mirrored {
        /// The piece on the other side.
        of: Uuid,
    },
    /// Laid on another piece by its registration marks.
    Marks {
        /// The piece that carries the marks.
        of: Uuid,
    },
}

/// Most measured points of one piece.
pub const MOST_POINTS: usize = 24;

impl PlaceRule {
    /// A piece so far back from the front edge and so far down from the rail, parallel to it.
    pub fn from_front(distance_mm: f64, to: LetterEnd, cap_line_mm: f64) -> PlaceRule {
        PlaceRule::Rules(Rules {
            reference: None,
            along: Along::FromFront {
                distance_mm: distance_mm.into(),
                to,
            },
            down: Down::FromDatum {
                distance_mm: cap_line_mm.into(),
                to: DownTo::CapLine,
            },
            angle: Angle::AlongDatum,
        })
    }

    /// The reference that it hangs on; `None` is the rail.
    pub fn reference(&self) -> Option<Uuid> {
        match self {
            PlaceRule::Rules(rules) => rules.reference,
            PlaceRule::Points { reference, .. } => *reference,
            PlaceRule::Between { .. } | PlaceRule::Mirrored { .. } | PlaceRule::Marks { .. } => {
                None
            }
        }
    }

    /// Every feature that these rules hang on.
    pub fn features(&self) -> Vec<Uuid> {
        let rules = match self {
            PlaceRule::Rules(rules) => rules,
            PlaceRule::Between { front, rear, .. } => return vec![*front, *rear],
            _ => return Vec::new(),
        };
        let along: Vec<Option<Uuid>> = match &rules.along {
            Along::FromFront { .. } | Along::Beside { .. } => Vec::new(),
            Along::FromEdge { edge, .. } => vec![edge.feature()],
            Along::Centred { from, to }
            | Along::EqualGaps { from, to, .. }
            | Along::SameGap { from, to, .. } => {
                vec![from.feature(), to.feature()]
            }
        };
        let down = match &rules.down {
            Down::FromDatum { .. } | Down::NextTo { .. } => Vec::new(),
            Down::FromHeight { height, .. } => vec![height.feature()],
            Down::Centred { from, to } => vec![from.feature(), to.feature()],
        };
        let angle = match rules.angle {
            Angle::AlongLine { feature, .. } => Some(feature),
            _ => None,
        };
        along
            .into_iter()
            .chain(down)
            .chain([angle])
            .flatten()
            .collect()
    }

    /// Pieces of the same side that must be placed before this one, each with the rule that says so.
    pub fn pieces(&self) -> Vec<(Uuid, &'static str)> {
        match self {
            PlaceRule::Rules(rules) => {
                let along = match &rules.along {
                    Along::Beside {
                        piece,
                        way: AheadBehind::Ahead,
                        ..
                    } => Some((*piece, "stands ahead of")),
                    Along::Beside { piece, .. } => Some((*piece, "stands behind")),
                    _ => None,
                };
                let down = match &rules.down {
                    Down::NextTo {
                        piece,
                        way: UpDown::Above,
                        ..
                    } => Some((*piece, "stands above")),
                    Down::NextTo { piece, .. } => Some((*piece, "stands below")),
                    _ => None,
                };
                along.into_iter().chain(down).collect()
            }
            PlaceRule::Marks { of } => vec![(*of, "is laid on the marks of")],
            PlaceRule::Points { .. } | PlaceRule::Between { .. } | PlaceRule::Mirrored { .. } => {
                Vec::new()
            }
        }
    }

    /// Whether its place is ruled by that piece, on its own side or on another.
    pub fn hangs_on(&self, piece: Uuid) -> bool {
        matches!(self, PlaceRule::Mirrored { of } if *of == piece)
            || self.pieces().iter().any(|(of, _)| *of == piece)
    }
}
