//! An old graphic on a side: what it is, how old, how it faced the weather, what lies under it, how it behaved at a cold corner.

use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::ground::measure_error::{MeasureError, require, require_range};
use crate::ground::mm::{Mm, SignedMm};
use crate::ground::tape::Unit;
use crate::vehicle::surface::Material;

/// What an old graphic is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum OldKind {
    /// Cut lettering.
    CutLettering,
    /// A print under laminate.
    Print,
    /// A stripe.
    Stripe,
    /// Reflective film with removable adhesive.
    RemovableReflective,
    /// Reflective film with permanent adhesive.
    PermanentReflective,
    /// Prismatic strip.
    PrismaticStrip,
    /// A thick kit.
    ThickKit,
}

/// How it faced the weather.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Faced {
    /// Upright, off the sun.
    Shade,
    /// Upright, on the sunny side.
    Sun,
    /// Lying: a hood, a roof.
    Lying,
}

/// How it behaved where a corner was lifted cold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ColdCorner {
    /// Nobody tried yet.
    #[default]
    NotTried,
    /// It came in one piece.
    Whole,
    /// It tears after a hand's breadth.
    Tears,
    /// It breaks into chips.
    Chips,
}

/// What the amount of an old graphic is counted in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CountedIn {
    /// By the letter.
    Letters,
    /// By the metre.
    Metres,
    /// By the square metre.
    SquareMetres,
}

impl CountedIn {
    /// What one timed patch is as a rule, in this unit: 5 letters, 1 m, 0.1 m² (ours).
    pub fn patch(self) -> f64 {
        match self {
            CountedIn::Letters => 5.0,
            CountedIn::Metres => 1.0,
            CountedIn::SquareMetres => 0.1,
        }
    }

    /// How a shop with this tape counts it: so many of its own to one of ours (a letter, a metre, a square metre), what one is called, and several.
    ///
    /// ```
    /// # use windrift_core::floor::strip::old::CountedIn;
    /// # use windrift_core::ground::tape::Unit;
    /// assert_eq!(CountedIn::Metres.told(Unit::Millimetre), (1.0, "metre", "metres"));
    /// assert!((CountedIn::SquareMetres.told(Unit::InchSixteenth).0 - 10.764).abs() < 0.001);
    /// ```
    pub fn told(self, unit: Unit) -> (f64, &'static str, &'static str) {
        const FEET: f64 = 1000.0 / 304.8;
        match (self, unit) {
            (CountedIn::Letters, _) => (1.0, "letter", "letters"),
            (CountedIn::Metres, Unit::Millimetre) => (1.0, "metre", "metres"),
            (CountedIn::Metres, _) => (FEET, "foot", "feet"),
            (CountedIn::SquareMetres, Unit::Millimetre) => (1.0, "square metre", "square metres"),
            (CountedIn::SquareMetres, _) => (FEET * FEET, "square foot", "square feet"),
        }
    }
}

/// An old graphic on a side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OldGraphic {
    /// The side that it is on.
    pub side: Uuid,
    /// The piece of an earlier job that it is, where it was taken from there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<Uuid>,
    /// What it is called, so that it is found again.
    pub name: String,
    /// What it is.
    pub kind: OldKind,
    /// Years that it has been on.
    pub age_years: f64,
    /// How it faced the weather.
    pub faced: Faced,
    /// What lies under it, where that is not what the side is made of.
    #[serde(default)]
    pub under: Option<Material>,
    /// What the side was made of when it was found. The server fills it in.
    #[serde(default)]
    pub lies_on: Option<Material>,
    /// The paint under it is old or unknown and may hold lead.
    #[serde(default)]
    pub unknown_paint: bool,
    /// How it behaved at a cold corner.
    #[serde(default)]
    pub cold_corner: ColdCorner,
    /// From the zero of the tape back to its front edge, mm.
    pub back_mm: SignedMm,
    /// From the rail plumb down to its top, mm.
    pub drop_mm: SignedMm,
    /// How long it is, mm.
    pub width_mm: Mm,
    /// How high it is, mm.
    pub height_mm: Mm,
    /// How many letters, where lettering is taken off letter by letter.
    #[serde(default)]
    pub letters: Option<u32>,
    /// What this shop says one letter, metre or square metre takes, film and adhesive, minutes; nothing takes Windrift's own figures.
    #[serde(default)]
    pub own_minutes: Option<f64>,
}

/// A part of an old graphic that is done at once: its corners in the tape's own frame (back, down), mm, and its amount.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cell {
    /// From the zero of the tape back to its front and its rear edge.
    pub back: [f64; 2],
    /// Down from the rail to its top and its foot.
    pub down: [f64; 2],
    /// How much it is, in what the graphic is counted in.
    pub amount: f64,
}

/// A cell is about this wide and high, mm (ours): what a hand takes off before it moves on.
const CELL_MM: f64 = 400.0;
/// Most cells of one graphic; a larger one has larger cells.
pub const MOST_CELLS: usize = 500;
/// Most letters of one graphic.
const MOST_LETTERS: u32 = 400;

impl OldKind {
    /// Every kind.
    pub const ALL: [OldKind; 7] = [
        OldKind::CutLettering,
        OldKind::Print,
        OldKind::Stripe,
        OldKind::RemovableReflective,
        OldKind::PermanentReflective,
        OldKind::PrismaticStrip,
        OldKind::ThickKit,
    ];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            OldKind::CutLettering => "cut lettering",
            OldKind::Print => "print",
            OldKind::Stripe => "stripe",
            OldKind::RemovableReflective => "reflective, removable adhesive",
            OldKind::PermanentReflective => "reflective, permanent adhesive",
            OldKind::PrismaticStrip => "prismatic strip",
            OldKind::ThickKit => "thick kit",
        }
    }

    /// Years after which it is old, upright and off the sun. Prints 5, cast lettering 8, reflective 5 to 7 (common practice, no source); strips and
    /// kits ours.
    pub fn life_years(self) -> f64 {
        match self {
            OldKind::CutLettering | OldKind::Stripe => 8.0,
            OldKind::Print | OldKind::RemovableReflective | OldKind::ThickKit => 5.0,
            OldKind::PermanentReflective => 7.0,
            OldKind::PrismaticStrip => 10.0,
        }
    }

    /// Whether it is reflective film with an adhesive that is meant to stay.
    pub fn stays_put(self) -> bool {
        matches!(self, OldKind::PermanentReflective | OldKind::PrismaticStrip)
    }
}

impl Faced {
    /// Every way.
    pub const ALL: [Faced; 3] = [Faced::Shade, Faced::Sun, Faced::Lying];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Faced::Shade => "upright, off the sun",
            Faced::Sun => "upright, in the sun",
            Faced::Lying => "lying",
        }
    }

    /// A year of it ages film like so many off the sun (ours; that lying film lasts far less is common practice).
    fn ages(self) -> f64 {
        match self {
            Faced::Shade => 1.0,
            Faced::Sun => 1.3,
            Faced::Lying => 2.0,
        }
    }
}

impl ColdCorner {
    /// Every behaviour.
    pub const ALL: [ColdCorner; 4] = [
        ColdCorner::NotTried,
        ColdCorner::Whole,
        ColdCorner::Tears,
        ColdCorner::Chips,
    ];

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            ColdCorner::NotTried => "not tried yet",
            ColdCorner::Whole => "came in one piece",
            ColdCorner::Tears => "tears",
            ColdCorner::Chips => "breaks into chips",
        }
    }
}

impl OldGraphic {
    /// Checks that its figures can be worked with.
    ///
    /// Errors: the field, and a sentence.
    pub fn check(&self) -> Result<(), MeasureError> {
        require(
            (1..=80).contains(&self.name.trim().chars().count()),
            "name",
            "Say what it is called, 1 to 80 characters: the old name, the stripe.",
        )?;
        require(
            self.age_years.is_finite() && (0.0..=60.0).contains(&self.age_years),
            "age_years",
            "How many years has it been on? From 0 to 60.",
        )?;
        require_range(self.width_mm.mm(), 5.0..=20_000.0, "width_mm", "Its length")?;
        require_range(
            self.height_mm.mm(),
            2.0..=5_000.0,
            "height_mm",
            "Its height",
        )?;
        require(
            self.letters.is_none_or(|n| (1..=MOST_LETTERS).contains(&n)),
            "letters",
            format!("From 1 to {MOST_LETTERS} letters; more are two pieces of lettering."),
        )?;
        require(
            self.letters.is_none() || self.kind == OldKind::CutLettering,
            "letters",
            "Only cut lettering is counted by the letter. Leave the letters out.",
        )?;
        require(
            self.own_minutes.is_none_or(|m| (0.01..=600.0).contains(&m)),
            "own_minutes",
            "Minutes for one of it: from 0.01 to 600. Leave it empty for Windrift\u{2019}s own figure.",
        )
    }

    /// What its amount is counted in: metres for what is long and narrow, letters where they are counted, area else.
    pub fn counted(&self) -> CountedIn {
        match (self.kind, self.letters) {
            (OldKind::CutLettering, Some(_)) => CountedIn::Letters,
            (OldKind::Stripe | OldKind::PrismaticStrip, _) => CountedIn::Metres,
            _ => CountedIn::SquareMetres,
        }
    }

    /// How much of it there is, in what it is counted in.
    pub fn amount(&self) -> f64 {
        match self.counted() {
            CountedIn::Letters => f64::from(self.letters.unwrap_or(1)),
            CountedIn::Metres => self.width_mm.mm() / 1000.0,
            CountedIn::SquareMetres => self.square_metres(),
        }
    }

    /// Its area, m².
    pub fn square_metres(&self) -> f64 {
        self.width_mm.mm() * self.height_mm.mm() / 1e6
    }

    /// How old it is against what it was made for: 1 is at the end of its life.
    pub fn worn(&self) -> f64 {
        self.age_years * self.faced.ages() / self.kind.life_years()
    }

    /// Whether it comes in chips rather than in sheets: as it behaved, or past its life where nobody tried.
    pub fn brittle(&self) -> bool {
        match self.cold_corner {
            ColdCorner::Chips => true,
            ColdCorner::Whole => false,
            ColdCorner::Tears => self.worn() > 1.5,
            ColdCorner::NotTried => self.worn() > 1.0,
        }
    }

    /// Its cells, from its top row down and from its front back; their amounts come to its own.
    pub fn cells(&self) -> Vec<Cell> {
        let (w, h) = (self.width_mm.mm(), self.height_mm.mm());
        let (mut columns, mut rows) = match self.counted() {
            CountedIn::Letters => (self.letters.unwrap_or(1) as usize, 1),
            CountedIn::Metres => ((w / CELL_MM).ceil().max(1.0) as usize, 1),
            CountedIn::SquareMetres => (
                (w / CELL_MM).ceil().max(1.0) as usize,
                (h / CELL_MM).ceil().max(1.0) as usize,
            ),
        };
        while columns * rows > MOST_CELLS {
            columns = columns.div_ceil(2);
            rows = rows.div_ceil(2);
        }
        let amount = self.amount() / (columns * rows) as f64;
        let (back, down) = (self.back_mm.mm(), self.drop_mm.mm());
        let at = |from: f64, whole: f64, n: usize, of: usize| from + whole * n as f64 / of as f64;
        (0..rows)
            .flat_map(|r| (0..columns).map(move |c| (r, c)))
            .map(|(r, c)| Cell {
                back: [at(back, w, c, columns), at(back, w, c + 1, columns)],
                down: [at(down, h, r, rows), at(down, h, r + 1, rows)],
                amount,
            })
            .collect()
    }
}
