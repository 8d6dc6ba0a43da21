//! Tape and strips of it.

use serde::{Deserialize, Serialize};

use crate::ground::mm::{Mm, SignedMm};
use crate::ground::told::Told;
use crate::marking::reflectors::Reflectors;
pub use crate::marking::tape_colour::{ColourRun, TapeColour};
use crate::vehicle::side::words::Ends;

/// Where the approval mark stands along the roll.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Marks {
    /// Middle of the first mark from where the pattern begins, mm.
    pub first_mm: Mm,
    /// From the middle of one mark to the next, mm.
    pub pitch_mm: Mm,
}

/// Tape on the shelf.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stock {
    /// Grade: `C2`, `C3`, `C4`, or `C` under the UN regulations.
    pub grade: String,
    /// Width, mm.
    pub width_mm: Mm,
    /// Colours along the roll, repeated; one module.
    pub pattern: Vec<ColourRun>,
    /// Length of the strips that it comes in; nothing for a roll, mm.
    #[serde(default)]
    pub pre_cut_mm: Option<Mm>,
    /// Where its approval marks stand; nothing where nobody has looked.
    #[serde(default)]
    pub marks: Option<Marks>,
}

impl Stock {
    /// Length of one module, mm.
    pub fn module_mm(&self) -> f64 {
        self.pattern.iter().map(|r| r.length_mm).sum()
    }

    /// The same tape in white alone.
    pub fn in_white(&self) -> Stock {
        Stock {
            pattern: vec![ColourRun {
                colour: TapeColour::White,
                length_mm: self.white_mm().into(),
            }],
            pre_cut_mm: None,
            marks: None,
            ..self.clone()
        }
    }

    /// Length of a white piece: this tape's own white, where it is as long as a corner asks or a little longer; else what is asked.
    pub fn white_mm(&self) -> f64 {
        let white = self
            .pattern
            .iter()
            .filter(|r| r.colour == TapeColour::White);
        white
            .map(|r| r.length_mm.mm())
            .find(|mm| (WHITE_ROLL_MM..=WHITE_ROLL_MM + WHOLE_MM).contains(mm))
            .unwrap_or(WHITE_ROLL_MM)
    }

    /// What is wrong with it, if anything.
    pub fn check(&self) -> Result<(), Told> {
        let odd = |mm: f64| !(mm.is_finite() && (10.0..=5000.0).contains(&mm));
        if self.pattern.is_empty() || self.pattern.iter().any(|r| odd(r.length_mm.mm())) {
            return Err(Told::new(
                "tape",
                "Each colour of the tape's pattern must be at least 10 mm and at most 5 m long.",
            ));
        }
        if self.pattern.len() > 24 || self.module_mm() > 5000.0 {
            return Err(Told::new(
                "tape",
                "A pattern has at most 24 colours and is at most 5 m long.",
            ));
        }
        if !(self.width_mm.is_finite() && (10.0..=300.0).contains(&self.width_mm)) {
            return Err(Told::new(
                "tape",
                "Tape must be between 10 and 300 mm wide.",
            ));
        }
        if let Some(long) = self.pre_cut_mm
            && !(long.is_finite() && long >= self.module_mm() - 0.5 && long <= 5000.0)
        {
            return Err(Told::new(
                "tape",
                "A pre-cut strip is at least as long as one pattern and at most 5 m.",
            ));
        }
        if let Some(marks) = &self.marks
            && !((0.0..=5000.0).contains(&marks.first_mm.mm())
                && (10.0..=5000.0).contains(&marks.pitch_mm.mm()))
        {
            return Err(Told::new(
                "tape",
                "The first mark stands within 5 m of where the pattern begins, and marks are 10 mm to 5 m apart. Measure both on the roll.",
            ));
        }
        Ok(())
    }

    /// What it is called: `C2, 50.8 mm, red 304.8, white 304.8`.
    pub fn name(&self) -> String {
        let colours: Vec<&str> = self.pattern.iter().map(|r| r.colour.name()).collect();
        format!(
            "{}, {:.0} mm wide, {}",
            self.grade,
            self.width_mm.mm(),
            colours.join("/")
        )
    }
}

/// A white piece that is longer than asked by no more than this is laid whole, mm (ours): 12 in where 300 mm are asked.
const WHOLE_MM: f64 = 6.0;

/// White alone has no pattern; a mark stands in every 300 mm of it (49 CFR 571.108 S8.2.1.3, from memory).
pub const WHITE_ROLL_MM: f64 = 300.0;

/// A part of a face that is marked.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default, Serialize, Deserialize,
)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Element {
    /// The line along the side, or low across the rear.
    #[default]
    Line,
    /// The corner at the upper edge where the tape is zero.
    UpperZero,
    /// The upper corner at the far end.
    UpperFar,
    /// The horizontal member of the underride device.
    Underride,
    /// A contour's upper edge.
    Top,
    /// A contour's upright where the tape is zero.
    UprightZero,
    /// A contour's upright at the far end.
    UprightFar,
    /// A tractor's rear strip where the tape is zero.
    TractorZero,
    /// A tractor's rear strip at the far end.
    TractorFar,
}

impl Element {
    /// All of them.
    pub const ALL: [Element; 9] = [
        Element::Line,
        Element::UpperZero,
        Element::UpperFar,
        Element::Underride,
        Element::Top,
        Element::UprightZero,
        Element::UprightFar,
        Element::TractorZero,
        Element::TractorFar,
    ];

    /// What it is called on a face whose tape runs between these ends.
    pub fn name(self, Ends([zero, far]): Ends) -> String {
        match self {
            Element::Line => "line".into(),
            Element::UpperZero => format!("upper {zero} corner"),
            Element::UpperFar => format!("upper {far} corner"),
            Element::Underride => "underride member".into(),
            Element::Top => "upper edge".into(),
            Element::UprightZero => format!("{zero} upright"),
            Element::UprightFar => format!("{far} upright"),
            Element::TractorZero => format!("{zero} strip"),
            Element::TractorFar => format!("{far} strip"),
        }
    }
}

/// A strip of tape, planned or read back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Strip {
    /// Where it begins along the side; an upright one's edge, mm.
    pub start_mm: Mm,
    /// Height of its middle above the ground, mm.
    pub centre_mm: SignedMm,
    /// Width, mm; of both halves and what is between them where it is split.
    pub width_mm: Mm,
    /// Its colours from the front, or from the top.
    pub runs: Vec<ColourRun>,
    /// Whether it runs upwards.
    #[serde(default)]
    pub upright: bool,
    /// Open space between its two halves, where it is split along its length to clear rivet heads, mm.
    #[serde(default)]
    pub split_mm: Option<Mm>,
    /// A row of reflex reflectors in place of tape.
    #[serde(default)]
    pub reflectors: Option<Reflectors>,
    /// Which part of the face it marks.
    #[serde(default)]
    pub element: Element,
}

/// From and to along the side, and above the ground, mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rect {
    /// Along the side.
    pub back_mm: (f64, f64),
    /// Above the ground.
    pub height_mm: (f64, f64),
}

impl Rect {
    /// Whether two share more than an edge.
    pub fn meets(&self, other: &Rect, by_mm: f64) -> bool {
        self.back_mm.0 < other.back_mm.1 - by_mm
            && self.back_mm.1 > other.back_mm.0 + by_mm
            && self.height_mm.0 < other.height_mm.1 - by_mm
            && self.height_mm.1 > other.height_mm.0 + by_mm
    }

    /// How far apart two are, mm.
    pub fn apart_mm(&self, other: &Rect) -> f64 {
        let gap = |a: (f64, f64), b: (f64, f64)| (b.0 - a.1).max(a.0 - b.1).max(0.0);
        gap(self.back_mm, other.back_mm).hypot(gap(self.height_mm, other.height_mm))
    }

    /// The same, larger on every side.
    pub fn grown(&self, mm: f64) -> Rect {
        Rect {
            back_mm: (self.back_mm.0 - mm, self.back_mm.1 + mm),
            height_mm: (self.height_mm.0 - mm, self.height_mm.1 + mm),
        }
    }
}

impl Strip {
    /// Its length, mm.
    pub fn length_mm(&self) -> f64 {
        self.runs.iter().map(|r| r.length_mm).sum()
    }

    /// Where it ends along the side, mm.
    pub fn end_mm(&self) -> f64 {
        self.start_mm
            + if self.upright {
                self.width_mm
            } else {
                self.length_mm().into()
            }
    }

    /// All that it reaches over.
    pub fn rect(&self) -> Rect {
        let half = if self.upright {
            self.length_mm()
        } else {
            self.width_mm.mm()
        } / 2.0;
        Rect {
            back_mm: (self.start_mm.mm(), self.end_mm()),
            height_mm: (self.centre_mm - half, self.centre_mm + half),
        }
    }

    /// Its colours, each with what it covers; a split strip's colours come twice.
    pub fn run_rects(&self) -> Vec<(ColourRun, Rect)> {
        let all = self.rect();
        let mut at = 0.0;
        let mut rects = Vec::new();
        for run in &self.runs {
            let (from, to) = (at, at + run.length_mm);
            at = to;
            if self.upright {
                let height_mm = (all.height_mm.1 - to, all.height_mm.1 - from);
                rects.push((*run, Rect { height_mm, ..all }));
                continue;
            }
            let back_mm = (self.start_mm + from, self.start_mm + to);
            match self.split_mm {
                None => rects.push((*run, Rect { back_mm, ..all })),
                Some(open) => {
                    let half = (self.width_mm - open) / 2.0;
                    for height_mm in [
                        (all.height_mm.1 - half, all.height_mm.1),
                        (all.height_mm.0, all.height_mm.0 + half),
                    ] {
                        rects.push((*run, Rect { back_mm, height_mm }));
                    }
                }
            }
        }
        rects
    }

    /// What its tape covers, all colours together: two halves where it is split.
    pub fn tape_rects(&self) -> Vec<Rect> {
        let all = self.rect();
        let Some(open) = self.split_mm.filter(|_| !self.upright) else {
            return vec![all];
        };
        let half = (self.width_mm - open) / 2.0;
        let (low, high) = all.height_mm;
        [(high - half, high), (low, low + half)]
            .map(|height_mm| Rect { height_mm, ..all })
            .into()
    }

    /// Width of tape that it is made of, mm.
    pub fn tape_mm(&self) -> f64 {
        self.width_mm - self.split_mm.unwrap_or(0.0.into())
    }
}
