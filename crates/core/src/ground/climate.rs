//! Where vehicles stand: film ages faster in strong sun and heat.

use serde::{Deserialize, Serialize};

/// How hard sun and heat are where a shop’s vehicles stand. What film’s life is in each is ours, from memory: a film’s own sheet for that climate decides.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Climate {
    /// Mild: what sheets count with as a rule.
    #[default]
    Mild,
    /// Hot summers and much sun.
    Sunny,
    /// Desert, tropics, high mountains.
    Harsh,
}

impl Climate {
    /// Every climate.
    pub const ALL: [Climate; 3] = [Climate::Mild, Climate::Sunny, Climate::Harsh];

    /// Film lasts this share of its years here (ours, from memory).
    pub fn share_of_life(self) -> f64 {
        match self {
            Climate::Mild => 1.0,
            Climate::Sunny => 0.8,
            Climate::Harsh => 0.6,
        }
    }

    /// Years that film lasts here which lasts so many where it is mild, and what is said of it.
    ///
    /// ```
    /// # use windrift_core::ground::climate::Climate;
    /// assert_eq!(Climate::Mild.years(5.0, "upright"), (5.0, "5 years upright".into()));
    /// let (years, told) = Climate::Harsh.years(5.0, "lying");
    /// assert!((years - 3.0).abs() < 1e-9);
    /// assert_eq!(told, "3 years lying in desert, tropics or mountains (0.6 of 5, ours from memory)");
    /// ```
    pub fn years(self, mild: f64, how: &str) -> (f64, String) {
        let here = mild * self.share_of_life();
        let one = |y: f64| ((y * 10.0).round() / 10.0).to_string();
        let told = match self {
            Climate::Mild => format!("{} years {how}", one(mild)),
            _ => format!(
                "{} years {how} in {} ({} of {}, ours from memory)",
                one(here),
                self.name(),
                self.share_of_life(),
                one(mild)
            ),
        };
        (here, told)
    }

    /// In words.
    pub fn name(self) -> &'static str {
        match self {
            Climate::Mild => "mild country",
            Climate::Sunny => "hot summers and much sun",
            Climate::Harsh => "desert, tropics or mountains",
        }
    }
}
