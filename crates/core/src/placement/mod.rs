//! Where a piece goes, by rule: one rule each for along, down and angle, or one rule for all three (measured points, the other
//! side's mirror, another piece's registration marks). A piece cannot be given two rules for one freedom; rules that lead back to
//! themselves, and rows that disagree, are named with both.

mod edges;
pub mod fit;
pub mod row;

use std::collections::HashMap;

use kurbo::{Affine, Point, Vec2};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

pub use edges::{EdgePart, EdgeRef, LevelPart, LevelRef};
use fit::{Fit, Miss, rigid};

use crate::drawn::Drawn;
use crate::elevation::MeasuredSide;
use crate::outline::{bounds_of, rect_distance};
use crate::side::{Datum, Side};
use crate::tape::{Unit, print};

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
        distance_mm: f64,
        /// Which end of the piece it runs to.
        to: LetterEnd,
    },
    /// So far from an edge, to the piece's nearer end.
    FromEdge {
        /// The edge.
        edge: EdgeRef,
        /// Clear distance along the datum, mm.
        distance_mm: f64,
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
        gap_mm: f64,
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
        gap_mm: f64,
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
        distance_mm: f64,
        /// What it runs to.
        to: DownTo,
    },
    /// So far from a height on the side.
    FromHeight {
        /// The height.
        height: LevelRef,
        /// Clear distance, mm.
        distance_mm: f64,
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
        gap_mm: f64,
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
        rear_drop_mm: f64,
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
    pub back_mm: f64,
    /// How far down, plumb from the reference, mm.
    pub drop_mm: f64,
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

/// A rule that cannot be followed. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PlaceError {
    /// The piece is wider than the side.
    #[error(
        "The piece is {width} wide and the side only {side}. Make it smaller or choose a narrower typeface."
    )]
    WiderThanSide {
        /// Width of the film, printed.
        width: String,
        /// Length of the side, printed.
        side: String,
    },
    /// The rule hangs on something that is gone.
    #[error(
        "The edge that this piece is placed by is no longer there. Choose another edge or give a distance from the front."
    )]
    EdgeGone,
    /// The rule hangs on a height that is gone or does not reach there.
    #[error(
        "The height that this piece is placed by is not there, or does not reach as far as the piece. Choose another height or give a distance down."
    )]
    HeightGone,
    /// The rule hangs on a reference that is gone.
    #[error(
        "The reference that this piece hangs on is no longer there. Choose another one under Place."
    )]
    ReferenceGone,
    /// The rule hangs on a piece that is gone.
    #[error(
        "The piece that this one is placed by is no longer there, or cannot be placed itself. Choose another rule under Place."
    )]
    PieceGone,
    /// Both edges are the same.
    #[error(
        "Both edges are at the same place, so there is nothing to centre between. Choose two different edges."
    )]
    SameEdge,
    /// The piece would lie off the side altogether.
    #[error(
        "The piece would be off the side. Bring it back: 0 to {length} from the front, 0 to {height} down."
    )]
    OffTheSide {
        /// Length of the side, printed.
        length: String,
        /// Height of the side, printed.
        height: String,
    },
    /// An angle that nothing is laid at.
    #[error("An angle must be between -180 and 180 degrees; this is {0}.")]
    Angle(f64),
    /// The two ends of a piece cannot be so far apart in height.
    #[error(
        "The rear end would have to lie {rise} from the front end's height, more than the piece is long ({width}). Give another distance."
    )]
    TooSteep {
        /// Difference in height, printed.
        rise: String,
        /// Length of the piece, printed.
        width: String,
    },
    /// Rules that lead back to themselves.
    #[error(
        "{0}, and {1}. One must be placed first: give one of them a rule that does not lead back."
    )]
    Cycle(String, String),
    /// Two rules of a row that disagree.
    #[error("{0}, but {1}. Give both the same edges, or rows of different names.")]
    RowDisagrees(String, String),
    /// Two pieces in one place of a row.
    #[error("{0} and {1} are both number {2} of the row. Give each its own number.")]
    SameNumber(String, String, u32),
    /// The row has no room.
    #[error(
        "The pieces of this row are {widths} wide together; between the edges there is {room}{between}. Make them smaller or take one out."
    )]
    RowFull {
        /// Their widths together, printed.
        widths: String,
        /// The room, printed.
        room: String,
        /// What takes room between.
        between: String,
    },
    /// One freedom ruled twice.
    #[error(
        "The width is ruled twice: by {0}, and by the same gap at both ends. Keep one: centre it between the edges instead."
    )]
    WidthTwice(&'static str),
    /// Too few or too many points.
    #[error("Measure two to {MOST_POINTS} points of the piece; there {0}.")]
    Points(String),
    /// The marks do not match.
    #[error(
        "This piece has {own} registration marks and \u{201c}{other_name}\u{201d} has {other}. Both need the same two or more."
    )]
    Marks {
        /// Marks of this piece.
        own: usize,
        /// Marks of the other.
        other: usize,
        /// Name of the other.
        other_name: String,
    },
    /// The mirrored piece is not known.
    #[error(
        "The piece that this one mirrors is not on the other side, or cannot be placed there. Choose another rule under Place."
    )]
    MirrorGone,
}

impl PlaceRule {
    /// A piece so far back from the front edge and so far down from the rail, parallel to it.
    pub fn from_front(distance_mm: f64, to: LetterEnd, cap_line_mm: f64) -> PlaceRule {
        PlaceRule::Rules(Rules {
            reference: None,
            along: Along::FromFront { distance_mm, to },
            down: Down::FromDatum {
                distance_mm: cap_line_mm,
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
            PlaceRule::Mirrored { .. } | PlaceRule::Marks { .. } => None,
        }
    }

    /// Every feature that these rules hang on.
    pub fn features(&self) -> Vec<Uuid> {
        let PlaceRule::Rules(rules) = self else {
            return Vec::new();
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
            PlaceRule::Points { .. } | PlaceRule::Mirrored { .. } => Vec::new(),
        }
    }

    /// Whether its place is ruled by that piece, on its own side or on another.
    pub fn hangs_on(&self, piece: Uuid) -> bool {
        matches!(self, PlaceRule::Mirrored { of } if *of == piece)
            || self.pieces().iter().any(|(of, _)| *of == piece)
    }
}

/// A piece in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// From the piece's own frame to the picture frame: a turn and a shift, never a mirror.
    pub to_picture: Affine,
    /// The reference that it hangs on and is read from.
    pub datum: Datum,
    /// Nearest and farthest film from the zero of the tape, mm along the datum: of a panel or stripe as trimmed.
    pub back_mm: (f64, f64),
    /// Hull of the film in the picture frame.
    pub hull: Vec<Point>,
    /// How it fits its measured points, where it was placed by them.
    pub fit: Option<Fit>,
}

impl Placed {
    /// Degrees by which the piece is turned from its datum: more than 0 where the end towards the rear is lower.
    pub fn degrees(&self, direction: f64) -> f64 {
        let across = self.to_picture * Point::new(1.0, 0.0) - self.to_picture * Point::ORIGIN;
        let along = self.datum.back * direction;
        along.cross(across).atan2(along.dot(across)).to_degrees() * direction
    }
}

/// Where a mirrored piece is to go: figures of the piece on the other side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MirrorFigures {
    /// How far back along its datum the middle of its cap line or upper edge is, mm.
    pub middle_back_mm: f64,
    /// How far down from the datum that is, square to it, mm.
    pub middle_down_mm: f64,
    /// Turned from its datum by so much, more than 0 where the rear end is lower.
    pub degrees: f64,
}

/// What is already placed round a piece.
#[derive(Debug, Clone, Default)]
pub struct Around {
    /// Pieces of the same side: name, drawing and place.
    pub pieces: HashMap<Uuid, (String, std::sync::Arc<Drawn>, Placed)>,
    /// Where pieces of a row with equal gaps begin, mm along their datum.
    pub rows: HashMap<Uuid, f64>,
    /// Pieces of the other side by their key, with the name of the reference that they hang on.
    pub mirrored: HashMap<Uuid, (MirrorFigures, String)>,
}

/// Points whose extent placing refers to: the trimmed box of a panel or a stripe, else the film's hull.
pub(crate) fn extent_points(drawn: &Drawn) -> Vec<Point> {
    let n = drawn.nominal;
    if n == drawn.bounds {
        drawn.hull.clone()
    } else {
        vec![
            Point::new(n.x0, n.y0),
            Point::new(n.x1, n.y0),
            Point::new(n.x1, n.y1),
            Point::new(n.x0, n.y1),
        ]
    }
}

/// Extent of turned film along the datum before it is shifted into place.
pub(crate) fn extent(drawn: &Drawn, turn: Affine, datum: &Datum) -> (f64, f64) {
    extent_points(drawn)
        .iter()
        .map(|p| (turn * *p).to_vec2().dot(datum.back))
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), e| {
            (a.min(e), b.max(e))
        })
}

/// Height in the piece's own frame that a distance down runs to.
fn height_in(drawn: &Drawn, to: DownTo) -> f64 {
    let lettered = drawn.has_letters;
    match to {
        DownTo::CapLine if lettered => 0.0,
        DownTo::Baseline if lettered => drawn.baseline_mm,
        DownTo::Middle if lettered => drawn.baseline_mm / 2.0,
        DownTo::CapLine => drawn.nominal.y0,
        DownTo::Baseline => drawn.nominal.y1,
        DownTo::Middle => drawn.nominal.center().y,
        DownTo::Top => drawn.bounds.y0,
        DownTo::Foot => drawn.bounds.y1,
    }
}

/// The turn of a piece by its angle rule.
pub(crate) fn turn_of(
    rules: &Rules,
    drawn: &Drawn,
    side: &MeasuredSide,
    datum: &Datum,
    unit: Unit,
) -> Result<Affine, PlaceError> {
    let direction = side.side.direction();
    let along_datum = direction * datum.back.y.asin();
    Ok(Affine::rotate(match rules.angle {
        Angle::AlongDatum => along_datum,
        Angle::Level => 0.0,
        Angle::Degrees { degrees } => {
            if !(-180.0..=180.0).contains(&degrees) {
                return Err(PlaceError::Angle(degrees));
            }
            along_datum + direction * degrees.to_radians()
        }
        Angle::AlongLine { feature, number } => {
            let line = side
                .lines
                .iter()
                .find(|l| l.source == (feature, number))
                .ok_or(PlaceError::HeightGone)?;
            let (a, b) = line
                .points
                .first()
                .zip(line.points.last())
                .ok_or(PlaceError::HeightGone)?;
            let run = if b.x >= a.x { *b - *a } else { *a - *b };
            run.y.atan2(run.x)
        }
        Angle::ToDrop { rear_drop_mm } => {
            let Down::FromDatum { distance_mm, .. } = rules.down else {
                return Err(PlaceError::HeightGone);
            };
            let (rise, width) = (rear_drop_mm - distance_mm, drawn.nominal.width());
            if rise.abs() >= width {
                return Err(PlaceError::TooSteep {
                    rise: print(rise.abs(), unit).text,
                    width: print(width, unit).text,
                });
            }
            along_datum + direction * (rise / width).asin()
        }
    }))
}

/// Puts a piece on a side by its rules.
///
/// Errors: a piece wider than the side, a rule hung on something that is gone, or a place off the side.
pub fn place(
    drawn: &Drawn,
    rule: &PlaceRule,
    own: Uuid,
    side: &MeasuredSide,
    around: &Around,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    match rule {
        PlaceRule::Rules(rules) => by_rules(drawn, rules, own, side, around, unit),
        PlaceRule::Points { reference, points } => by_points(drawn, *reference, points, side, unit),
        PlaceRule::Mirrored { of } => {
            let (figures, reference) = around.mirrored.get(of).ok_or(PlaceError::MirrorGone)?;
            by_mirror(drawn, figures, reference, side, unit)
        }
        PlaceRule::Marks { of } => {
            let (name, other, placed) = around.pieces.get(of).ok_or(PlaceError::PieceGone)?;
            let (own, other) = (&drawn.marks, &other.marks);
            if own.len() != other.len() || own.len() < 2 {
                return Err(PlaceError::Marks {
                    own: own.len(),
                    other: other.len(),
                    other_name: name.clone(),
                });
            }
            let to: Vec<Point> = other.iter().map(|m| placed.to_picture * *m).collect();
            let fitted = rigid(own, &to, None);
            let mut done = settle(drawn, fitted, placed.datum, side, unit)?;
            done.fit = Some(told_fit(own, &to, None, fitted, &placed.datum, unit));
            Ok(done)
        }
    }
}

fn by_rules(
    drawn: &Drawn,
    rules: &Rules,
    own: Uuid,
    side: &MeasuredSide,
    around: &Around,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let width = drawn.nominal.width();
    let body = side.outline.bounds;
    let longest = body.width().max(side.datum.length_mm);
    if width > longest + 1e-6 {
        return Err(PlaceError::WiderThanSide {
            width: print(width, unit).text,
            side: print(longest, unit).text,
        });
    }
    let datum = side
        .side
        .datum_of(rules.reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let direction = side.side.direction();
    let turn = turn_of(rules, drawn, side, &datum, unit)?;
    let (near, far) = extent(drawn, turn, &datum);
    // The film's left end is the nearer one where back runs to the right.
    let (first, last) = if direction > 0.0 {
        (near, far)
    } else {
        (far, near)
    };
    let edge = |e: &EdgeRef| e.back_mm(side, &datum).ok_or(PlaceError::EdgeGone);
    let nominal = drawn.nominal;
    let middle = nominal.center().x;
    let front_x = if direction > 0.0 {
        nominal.x0
    } else {
        nominal.x1
    };
    let (shift_back, mut ruled_x) = match &rules.along {
        Along::FromFront {
            distance_mm,
            to: LetterEnd::FirstLetter,
        } => (distance_mm - first, nominal.x0),
        Along::FromFront {
            distance_mm,
            to: LetterEnd::LastLetter,
        } => (distance_mm - last, nominal.x1),
        Along::FromEdge {
            edge: e,
            distance_mm,
            way: AheadBehind::Behind,
        } => (edge(e)? + distance_mm - near, middle),
        Along::FromEdge {
            edge: e,
            distance_mm,
            way: AheadBehind::Ahead,
        } => (edge(e)? - distance_mm - far, middle),
        Along::Centred { from, to } => {
            let (a, b) = (edge(from)?, edge(to)?);
            if (a - b).abs() < 1.0 {
                return Err(PlaceError::SameEdge);
            }
            ((a + b) / 2.0 - (near + far) / 2.0, middle)
        }
        Along::SameGap { from, to, .. } => {
            let (a, b) = (edge(from)?, edge(to)?);
            ((a + b) / 2.0 - (near + far) / 2.0, middle)
        }
        Along::Beside { piece, gap_mm, way } => {
            let (_, other, placed) = around.pieces.get(piece).ok_or(PlaceError::PieceGone)?;
            let (a, b) = extent(other, placed.to_picture, &datum);
            let zero = datum.zero.to_vec2().dot(datum.back);
            match way {
                AheadBehind::Behind => (b - zero + gap_mm - near, middle),
                AheadBehind::Ahead => (a - zero - gap_mm - far, middle),
            }
        }
        Along::EqualGaps { .. } => {
            let at = around.rows.get(&own).ok_or(PlaceError::PieceGone)?;
            (at - near, middle)
        }
    };
    if matches!(rules.angle, Angle::ToDrop { .. }) {
        ruled_x = front_x;
    }
    let (down, to_y) = down_of(
        drawn,
        rules,
        side,
        &datum,
        around,
        shift_back + (near + far) / 2.0,
        turn,
    )?;
    let at_ruled = (turn * Point::new(ruled_x, to_y)).to_vec2().dot(datum.down);
    let shift: Vec2 =
        datum.zero.to_vec2() + datum.back * shift_back + datum.down * (down - at_ruled);
    settle(drawn, Affine::translate(shift) * turn, datum, side, unit)
}

/// How far down from the datum which height of the piece's own frame is to lie.
fn down_of(
    drawn: &Drawn,
    rules: &Rules,
    side: &MeasuredSide,
    datum: &Datum,
    around: &Around,
    back_mm: f64,
    turn: Affine,
) -> Result<(f64, f64), PlaceError> {
    let level = |h: &LevelRef| {
        h.down_mm(side, datum, back_mm)
            .ok_or(PlaceError::HeightGone)
    };
    Ok(match &rules.down {
        Down::FromDatum { distance_mm, to } => (*distance_mm, height_in(drawn, *to)),
        Down::FromHeight {
            height,
            distance_mm,
            way,
            to,
        } => {
            let at = level(height)?;
            let signed = if *way == UpDown::Below {
                *distance_mm
            } else {
                -*distance_mm
            };
            (at + signed, height_in(drawn, *to))
        }
        Down::Centred { from, to } => {
            let (a, b) = (level(from)?, level(to)?);
            ((a + b) / 2.0, height_in(drawn, DownTo::Middle))
        }
        Down::NextTo { piece, gap_mm, way } => {
            let (_, other, placed) = around.pieces.get(piece).ok_or(PlaceError::PieceGone)?;
            let (top, foot) = other
                .hull
                .iter()
                .map(|p| datum.read(placed.to_picture * *p).1)
                .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), d| {
                    (a.min(d), b.max(d))
                });
            // Own film square to the datum, relative to the middle of the piece.
            let at_middle = |y: f64| {
                (turn * Point::new(drawn.nominal.center().x, y))
                    .to_vec2()
                    .dot(datum.down)
            };
            let own = drawn
                .hull
                .iter()
                .map(|p| (turn * *p).to_vec2().dot(datum.down));
            match way {
                UpDown::Below => {
                    let own_top = own.fold(f64::INFINITY, f64::min);
                    (foot + gap_mm + at_middle(0.0) - own_top, 0.0)
                }
                UpDown::Above => {
                    let own_foot = own.fold(f64::NEG_INFINITY, f64::max);
                    (top - gap_mm + at_middle(0.0) - own_foot, 0.0)
                }
            }
        }
    })
}

fn by_points(
    drawn: &Drawn,
    reference: Option<Uuid>,
    points: &[PointReading],
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    if !(2..=MOST_POINTS).contains(&points.len()) {
        return Err(PlaceError::Points(match points.len() {
            1 => "is one".to_owned(),
            n => format!("are {n}"),
        }));
    }
    let from: Vec<Point> = points
        .iter()
        .map(|p| Point::new(p.at[0], p.at[1]))
        .collect();
    let apart = bounds_of(from.iter().copied());
    if apart.width().hypot(apart.height()) < 10.0 {
        return Err(PlaceError::Points(
            "are points, but all at one place of the piece: choose them far apart".to_owned(),
        ));
    }
    let datum = side
        .side
        .datum_of(reference)
        .ok_or(PlaceError::ReferenceGone)?;
    let to: Vec<Point> = points
        .iter()
        .map(|p| datum.drop_point(p.back_mm, p.drop_mm))
        .collect();
    let own_point = || {
        let at = |p: &Point| p.distance(drawn.point) < 0.5;
        drawn.keep_point.then(|| from.iter().position(at)).flatten()
    };
    let pinned = points.iter().position(|p| p.pinned).or_else(own_point);
    let fitted = rigid(&from, &to, pinned);
    let mut placed = settle(drawn, fitted, datum, side, unit)?;
    placed.fit = Some(told_fit(&from, &to, pinned, fitted, &datum, unit));
    Ok(placed)
}

fn told_fit(
    from: &[Point],
    to: &[Point],
    pinned: Option<usize>,
    fitted: Affine,
    datum: &Datum,
    unit: Unit,
) -> Fit {
    let misses: Vec<Miss> = (1..)
        .zip(from.iter().zip(to))
        .map(|(number, (p, q))| {
            let off = fitted * *p - *q;
            Miss {
                number,
                off: print(off.hypot(), unit),
                back: print(off.dot(datum.back), unit),
                down: print(off.dot(datum.down), unit),
            }
        })
        .collect();
    let worst = misses.iter().max_by(|a, b| a.off.mm.total_cmp(&b.off.mm));
    let (number, off) = worst.map_or((1, String::new()), |m| (m.number, m.off.text.clone()));
    let sentence = match (from, to, pinned) {
        ([a, b], [c, d], None) => format!(
            "Two points: what is left over is only that they are {} apart on the piece and {} on the body, shared by both. A third point would tell more.",
            print(a.distance(*b), unit).text,
            print(c.distance(*d), unit).text
        ),
        (_, _, Some(pin)) => format!(
            "Point {} fits exactly; the error runs away from it, {off} at point {number}.",
            pin + 1
        ),
        _ => format!(
            "Fitted to {} points, the error shared evenly; most is {off} at point {number}.",
            from.len()
        ),
    };
    Fit { misses, sentence }
}

fn by_mirror(
    drawn: &Drawn,
    figures: &MirrorFigures,
    reference: &str,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let own = side
        .side
        .references
        .iter()
        .find(|r| r.name == reference)
        .map(|r| r.id);
    let datum = side.side.datum_of(own).ok_or(PlaceError::ReferenceGone)?;
    let direction = side.side.direction();
    let turn = Affine::rotate(direction * (datum.back.y.asin() + figures.degrees.to_radians()));
    let middle = turn * Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
    let there = datum.at(figures.middle_back_mm, figures.middle_down_mm);
    settle(
        drawn,
        Affine::translate(there - middle) * turn,
        datum,
        side,
        unit,
    )
}

/// A placed piece's figures for the other side.
pub fn mirror_figures(drawn: &Drawn, placed: &Placed, direction: f64) -> MirrorFigures {
    let middle = Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
    let (middle_back_mm, middle_down_mm) = placed.datum.read(placed.to_picture * middle);
    MirrorFigures {
        middle_back_mm,
        middle_down_mm,
        degrees: placed.degrees(direction),
    }
}

fn settle(
    drawn: &Drawn,
    to_picture: Affine,
    datum: Datum,
    side: &MeasuredSide,
    unit: Unit,
) -> Result<Placed, PlaceError> {
    let hull: Vec<Point> = drawn.hull.iter().map(|p| to_picture * *p).collect();
    let body = side.outline.bounds;
    let box_round = bounds_of(hull.iter().copied());
    let finite = [box_round.x0, box_round.x1, box_round.y0, box_round.y1]
        .iter()
        .all(|v| v.is_finite());
    if !finite || rect_distance(box_round, body) > 0.0 {
        return Err(PlaceError::OffTheSide {
            length: print(body.width().max(side.datum.length_mm), unit).text,
            height: print(body.height(), unit).text,
        });
    }
    let zero = datum.zero.to_vec2().dot(datum.back);
    let (near, far) = extent(drawn, to_picture, &datum);
    Ok(Placed {
        to_picture,
        datum,
        back_mm: (near - zero, far - zero),
        hull,
        fit: None,
    })
}

/// A rule after the piece was moved in the picture by so many mm to the right and down: distances in whole steps of the unit.
///
/// A rule that carries a distance keeps its kind; one that does not (centred, equal gaps, mirrored, by points) becomes plain
/// distances: `placed` says where the piece was.
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
        _ => as_rules(rule.reference(), drawn, placed, direction),
    };
    let mut moved = rules.clone();
    if right_mm != 0.0 {
        moved.along = match rules.along {
            Along::FromFront { distance_mm, to } => Along::FromFront {
                distance_mm: stepped(distance_mm + back),
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
                    distance_mm: stepped(distance_mm + signed),
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
                    gap_mm: stepped(gap_mm + signed),
                    way,
                }
            }
            // Its length stays ruled by its edges; there is nothing to move along.
            same @ Along::SameGap { .. } => same,
            Along::Centred { .. } | Along::EqualGaps { .. } => {
                let (near, far) = placed.back_mm;
                let at = if direction > 0.0 { near } else { far };
                Along::FromFront {
                    distance_mm: stepped(at + back),
                    to: LetterEnd::FirstLetter,
                }
            }
        };
    }
    if down_mm != 0.0 {
        moved.down = match rules.down {
            Down::FromDatum { distance_mm, to } => {
                if let Angle::ToDrop { rear_drop_mm } = &mut moved.angle {
                    *rear_drop_mm = stepped(*rear_drop_mm + down_mm);
                }
                Down::FromDatum {
                    distance_mm: stepped(distance_mm + down_mm),
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
                    distance_mm: stepped(distance_mm + signed),
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
                    gap_mm: stepped(gap_mm + signed),
                    way,
                }
            }
            Down::Centred { .. } => {
                let at = placed.to_picture
                    * Point::new(drawn.nominal.center().x, height_in(drawn, DownTo::CapLine));
                Down::FromDatum {
                    distance_mm: stepped(placed.datum.read(at).1 + down_mm),
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
            distance_mm: if direction > 0.0 { near } else { far },
            to: LetterEnd::FirstLetter,
        },
        down: Down::FromDatum {
            distance_mm: placed.datum.read(at).1,
            to: DownTo::CapLine,
        },
        angle: if degrees.abs() < 1e-6 {
            Angle::AlongDatum
        } else {
            Angle::Degrees { degrees }
        },
    }
}
