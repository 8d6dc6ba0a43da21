//! What a print is printed with, and how long it gasses out before laminate goes on.
//!
//! 24 h for solvent inks is common practice, no source; for latex and UV inks there are two schools, and the shop picks. A film's own data
//! sheet decides where it says so.

use serde::{Deserialize, Serialize};

/// What a print is printed with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Ink {
    /// Solvent.
    Solvent,
    /// Eco-solvent.
    EcoSolvent,
    /// Latex.
    Latex,
    /// Cured by ultraviolet light.
    Uv,
}

/// How long prints gas out before laminate goes on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Outgassing {
    /// Hours.
    pub hours: f64,
    /// Whether a film's own data sheet says so.
    pub by_sheet: bool,
}

impl Ink {
    /// All of them.
    pub const ALL: [Ink; 4] = [Ink::Solvent, Ink::EcoSolvent, Ink::Latex, Ink::Uv];

    /// What it is called.
    pub fn name(self) -> &'static str {
        match self {
            Ink::Solvent => "solvent",
            Ink::EcoSolvent => "eco-solvent",
            Ink::Latex => "latex",
            Ink::Uv => "UV",
        }
    }

    /// Hours that it must gas out where no sheet says: 24 for solvents; for the others none by one school, 24 for every ink by the other.
    pub fn usual_hours(self, every_ink_waits: bool) -> f64 {
        match self {
            Ink::Solvent | Ink::EcoSolvent => 24.0,
            Ink::Latex | Ink::Uv if every_ink_waits => 24.0,
            Ink::Latex | Ink::Uv => 0.0,
        }
    }

    /// How long prints gas out, given what the sheet of each one's film says of this ink, in hours: the longest of them. Where a sheet is silent,
    /// or nobody has chosen a film, the usual hours count for that print.
    ///
    /// ```
    /// use windrift_core::film::{data_sheet::DataSheet, ink::Ink};
    /// let sheet = DataSheet { latex_hours: Some(6.0), ..DataSheet::default() };
    /// let said = Ink::Latex.outgassing(false, [sheet.outgas_hours(Ink::Latex)]);
    /// assert_eq!((said.hours, said.by_sheet), (6.0, true));
    /// // Beside a print whose film says nothing the longer one holds.
    /// let usual = Ink::Latex.outgassing(true, [Some(6.0), None]);
    /// assert_eq!((usual.hours, usual.by_sheet), (24.0, false));
    /// ```
    pub fn outgassing(
        self,
        every_ink_waits: bool,
        said: impl IntoIterator<Item = Option<f64>>,
    ) -> Outgassing {
        let usual = Outgassing {
            hours: self.usual_hours(every_ink_waits),
            by_sheet: false,
        };
        let each = said.into_iter().map(|hours| {
            hours.map_or(usual, |hours| Outgassing {
                hours,
                by_sheet: true,
            })
        });
        each.reduce(|a, b| if b.hours > a.hours { b } else { a })
            .unwrap_or(usual)
    }
}
