//! Rows of reflex reflectors, which stand on some vehicles in place of sheeting.

use serde::{Deserialize, Serialize};

use super::tape_colour::{ColourRun, TapeColour};
use crate::ground::mm::Mm;
use crate::ground::told::Told;

/// A row of reflex reflectors as it was counted and read on the vehicle; it reaches from the centre of the first to the centre of the last.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reflectors {
    /// How many there are, 2 to 400.
    pub count: u32,
    /// How many of one colour stand beside each other before the other colour begins, 1 to 400.
    pub of_a_colour: u32,
    /// The widest distance from one centre to the next, mm; nothing where only the whole row was read.
    #[serde(default)]
    pub widest_mm: Option<Mm>,
    /// Whether each shows its approval mark; nothing where nobody has looked.
    #[serde(default)]
    pub marked: Option<bool>,
}

/// Most reflectors in one row.
const MOST: u32 = 400;

impl Reflectors {
    /// Distance from centre to centre if they are spread evenly over a row of this length, mm.
    ///
    /// ```
    /// # use windrift_core::marking::reflectors::Reflectors;
    /// let row = Reflectors { count: 13, of_a_colour: 2, widest_mm: None, marked: None };
    /// assert_eq!(row.mean_pitch_mm(1200.0), 100.0);
    /// ```
    pub fn mean_pitch_mm(&self, length_mm: f64) -> f64 {
        length_mm / f64::from(self.count.max(2) - 1)
    }

    /// The colours along a row of this length, mm: they change midway between two reflectors.
    pub fn runs(&self, length_mm: f64, begins: TapeColour, alone: bool) -> Vec<ColourRun> {
        let other = match begins {
            TapeColour::White => TapeColour::Red,
            _ => TapeColour::White,
        };
        let pitch = self.mean_pitch_mm(length_mm);
        let group = if alone { self.count } else { self.of_a_colour };
        let mut runs = Vec::new();
        let (mut first, mut at) = (0, 0.0);
        while first < self.count {
            let next = first.saturating_add(group.max(1)).min(self.count);
            let to = if next == self.count {
                length_mm
            } else {
                pitch * (f64::from(next) - 0.5)
            };
            let colour = if runs.len() % 2 == 0 { begins } else { other };
            runs.push(ColourRun {
                colour,
                length_mm: (to - at).into(),
            });
            (first, at) = (next, to);
        }
        runs
    }

    /// What is wrong with it, if anything.
    ///
    /// Errors: a count that no row has; a distance that is none.
    pub fn check(&self) -> Result<(), Told> {
        if !(2..=MOST).contains(&self.count) {
            return Err(Told::new(
                "marking",
                format!("A row has 2 to {MOST} reflectors. Count them again."),
            )
            .at("/count"));
        }
        if !(1..=MOST).contains(&self.of_a_colour) {
            return Err(Told::new(
                "marking",
                format!("1 to {MOST} reflectors of one colour stand beside each other. Count them again."),
            )
            .at("/of_a_colour"));
        }
        if self
            .widest_mm
            .is_some_and(|mm| !(mm.is_finite() && (5.0..=20_000.0).contains(&mm.mm())))
        {
            return Err(Told::new(
                "marking",
                "From one centre to the next it is between 5 mm and 20 m. Measure the widest again.",
            )
            .at("/widest_mm"));
        }
        Ok(())
    }
}
