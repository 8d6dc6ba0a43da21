//! What sides and their edges are called, which way they face, and where the front lies in their picture.

use serde::{Deserialize, Serialize};

use crate::ground::settings::SideWords;

/// Kinds of sides. Left and right are the vehicle's own, as somebody sitting in it and facing forward says it; what is shown
/// depends on the country.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SideKind {
    /// The vehicle's left: street or curb side by country.
    Left,
    /// The vehicle's right.
    Right,
    /// Seen from ahead.
    Front,
    /// Seen from behind.
    Rear,
    /// Hood or bonnet.
    Hood,
    /// Roof.
    Roof,
    /// Tail gate or boot lid.
    Tail,
    /// A door.
    Door,
    /// A boat's left.
    Port,
    /// A boat's right.
    Starboard,
    /// A boat's stern.
    Transom,
    /// A boat's deck.
    Deck,
    /// Anything else.
    Other,
}

/// Which way a side faces.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Facing {
    /// To the vehicle's left.
    Left,
    /// To its right.
    Right,
    /// Ahead.
    Ahead,
    /// Behind.
    Behind,
    /// To the sky.
    Up,
}

/// Where the vehicle's front lies in the picture of a side.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FrontAt {
    /// At the picture's left.
    Left,
    /// At its right.
    Right,
    /// At its top.
    Top,
    /// At its foot.
    Foot,
    /// In front of the picture or behind it: sides that face ahead or behind.
    NotInIt,
}

impl SideKind {
    /// Every kind, in the order in which they are offered.
    pub const ALL: [SideKind; 13] = [
        SideKind::Left,
        SideKind::Right,
        SideKind::Front,
        SideKind::Rear,
        SideKind::Hood,
        SideKind::Roof,
        SideKind::Tail,
        SideKind::Door,
        SideKind::Port,
        SideKind::Starboard,
        SideKind::Transom,
        SideKind::Deck,
        SideKind::Other,
    ];

    /// What this kind is called in the shop's country.
    pub fn name(self, words: SideWords) -> &'static str {
        let (left, right) = words.left_right();
        match self {
            SideKind::Left => left,
            SideKind::Right => right,
            SideKind::Front => "front",
            SideKind::Rear => "rear",
            SideKind::Hood => "hood",
            SideKind::Roof => "roof",
            SideKind::Tail => "tail",
            SideKind::Door => "door",
            SideKind::Port => "port",
            SideKind::Starboard => "starboard",
            SideKind::Transom => "transom",
            SideKind::Deck => "deck",
            SideKind::Other => "other",
        }
    }

    /// What the vehicle's left and right are called: a boat's are port and starboard everywhere.
    pub fn left_right(self, words: SideWords) -> (&'static str, &'static str) {
        if self.is_boats() {
            ("port", "starboard")
        } else {
            words.left_right()
        }
    }

    /// What the vehicle's two ends are called.
    pub fn front_rear(self) -> (&'static str, &'static str) {
        if self.is_boats() {
            ("bow", "stern")
        } else {
            ("front", "rear")
        }
    }

    fn is_boats(self) -> bool {
        matches!(
            self,
            SideKind::Port | SideKind::Starboard | SideKind::Transom | SideKind::Deck
        )
    }

    /// How such a side usually faces, and where the vehicle's front then lies in its picture.
    pub fn usual_view(self) -> (Facing, FrontAt) {
        match self {
            SideKind::Left | SideKind::Port | SideKind::Door | SideKind::Other => {
                (Facing::Left, FrontAt::Left)
            }
            SideKind::Right | SideKind::Starboard => (Facing::Right, FrontAt::Right),
            SideKind::Front => (Facing::Ahead, FrontAt::NotInIt),
            SideKind::Rear | SideKind::Transom => (Facing::Behind, FrontAt::NotInIt),
            // As somebody sees them who stands before the hood, behind the tail, beside the roof or deck.
            SideKind::Hood => (Facing::Up, FrontAt::Foot),
            SideKind::Tail => (Facing::Up, FrontAt::Top),
            SideKind::Roof | SideKind::Deck => (Facing::Up, FrontAt::Left),
        }
    }

    /// The kind on the other side of the vehicle that mirrors this one, where there is one.
    pub fn mirror(self) -> Option<SideKind> {
        match self {
            SideKind::Left => Some(SideKind::Right),
            SideKind::Right => Some(SideKind::Left),
            SideKind::Port => Some(SideKind::Starboard),
            SideKind::Starboard => Some(SideKind::Port),
            SideKind::Door => Some(SideKind::Door),
            _ => None,
        }
    }
}

/// What the edges of a side are called.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgeNames {
    /// Where the tape begins: `front edge`.
    pub zero: String,
    /// Where it ends: `rear edge`.
    pub far: String,
    /// The upper edge, and the reference on it: `top rail`.
    pub upper: String,
    /// The lower edge.
    pub lower: String,
    /// The ends of the tape, the one where it begins first: `front`, `rear`.
    pub ends: [String; 2],
}

/// What the two ends of a tape are called, the one where it begins first: front and rear, street and curb, bow and stern.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Ends(pub [&'static str; 2]);
