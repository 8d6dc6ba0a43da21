//! Places that cannot be worked out, told to the installer.

use thiserror::Error;

use crate::place::rules::MOST_POINTS;

/// A rule that cannot be followed. Says what is wrong and what to do.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum PlaceError {
    /// The rule hangs on something that is gone.
    #[error(
        "The edge that this piece is placed by is no longer there. Choose another edge or give a distance from the front."
    )]
    EdgeGone,
    /// An edge of film that a section meets is gone.
    #[error(
        "The film edge that this section meets is no longer there. Measure it again under Look over, or choose another one under Place."
    )]
    FilmEdgeGone,
    /// Both edges are one, or cross each other.
    #[error(
        "The two film edges stand at the same place or cross each other, so there is no room for a section between them. Measure both again under Look over, or choose two others."
    )]
    FilmEdgesCross,
    /// Only a stripe is made to fit between two edges.
    #[error(
        "Only a stripe can be made to fit between two film edges. Give this piece another rule under Place."
    )]
    OnlyStripes,
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
